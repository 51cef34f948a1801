//! What holds for texts where neither they nor `.editorconfig` say anything.

use snarvel_core::history::USUAL_LIMIT;
use snarvel_core::languages::Language;
use snarvel_core::text::cells::TabWidth;
use snarvel_core::text::indent::{IndentUnit, unit_of};
use snarvel_core::text::{LineEnd, Text};
use snarvel_core::verbs::scene::TextSettings;

/// Which texts have their lines wrapped at the edge of the view.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Wraps {
    /// None: long lines go on beyond the edge.
    #[default]
    Never,
    /// All.
    Always,
    /// Those in languages for people.
    Prose,
}

/// What holds where nothing else says anything.
#[derive(Clone, Copy, Debug)]
pub struct EditorDefaults {
    /// The distance between tab stops.
    pub tabs: TabWidth,
    /// One step of indentation.
    pub unit: IndentUnit,
    /// Whether brackets and quotes close themselves.
    pub closes_pairs: bool,
    /// The width of text, in cells.
    pub text_width: u32,
    /// Which texts have their lines wrapped.
    pub wraps: Wraps,
    /// What the history of a text may hold, in bytes.
    pub history_bytes: usize,
}

impl Default for EditorDefaults {
    /// The design's figures.
    fn default() -> EditorDefaults {
        EditorDefaults {
            tabs: TabWidth(4),
            unit: IndentUnit::Spaces(4),
            closes_pairs: true,
            text_width: 80,
            wraps: Wraps::Never,
            history_bytes: USUAL_LIMIT,
        }
    }
}

/// What is put in order before a save.
#[derive(Clone, Copy, Debug, Default)]
pub struct Tidy {
    /// White space at line ends goes.
    pub trims: bool,
    /// The last line gets a line end.
    pub ends_last_line: bool,
}

/// Lines in view until a screen says how many it has.
pub const VIEW_LINES: usize = 35;

impl EditorDefaults {
    /// How `text` in `language` is laid out, as it shows it or, where it does not, as the defaults say.
    #[must_use]
    pub fn settings_for(&self, text: &Text, language: &Language) -> TextSettings {
        let fallback = if language.tabs { IndentUnit::Tab } else { self.unit };
        TextSettings {
            tabs: self.tabs,
            unit: unit_of(text, self.tabs).unwrap_or(fallback),
            line_end: LineEnd::most_frequent(text),
            view_lines: VIEW_LINES,
            closes_pairs: self.closes_pairs,
            text_width: self.text_width,
            wrap: None,
        }
    }
}
