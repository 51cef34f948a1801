//! A scene of a text by itself: for computations that look at a text which is in no view.

use crate::bookmarks::Bookmarks;
use crate::cursors::CursorSet;
use crate::folds::Folds;
use crate::languages::Language;
use crate::languages::lexical::Lexical;
use crate::structure::{Known, Remembering};
use crate::text::cells::TabWidth;
use crate::text::indent::{IndentUnit, unit_of};
use crate::text::{LineEnd, Text};
use crate::units::Byte;
use crate::verbs::clipboard::clip::Clip;
use crate::verbs::scene::{Memory, Remembered, Scene, TextSettings};
use std::sync::Arc;

/// Gives `look` a scene of `text`, in which nothing is selected, folded or remembered.
pub fn with_bare_scene<T>(
    (text, language): (&Text, &Arc<Language>),
    structure: Known,
    look: impl FnOnce(&Scene) -> T,
) -> T {
    let remembering = structure.structure().map(Remembering::new);
    let structure = remembering.as_ref().map_or(structure, |structure| Known::Parsed(structure));
    let tabs = TabWidth(4);
    let settings = TextSettings {
        tabs,
        unit: unit_of(text, tabs).unwrap_or(IndentUnit::Spaces(4)),
        line_end: LineEnd::most_frequent(text),
        view_lines: 1,
        closes_pairs: false,
        text_width: 80,
        wrap: None,
    };
    let lexical = Lexical::new(language);
    let remembered = Remembered {
        pins: &|| None,
        pairs: &[],
        dropped_pins: &|| None,
        dropped_cursors: &|| None,
        changed_lines: &Vec::new,
    };
    look(&Scene {
        text,
        cursors: &CursorSet::caret(Byte(0)),
        syntax: &lexical.of(text),
        structure,
        folds: &Folds::default(),
        bookmarks: &Bookmarks::default(),
        language,
        settings: &settings,
        clip: &Clip::default(),
        memory: &Memory::default(),
        remembered,
        reach: 1,
    })
}
