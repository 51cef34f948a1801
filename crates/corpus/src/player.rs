//! Plays keys on a text in the real application, as `snarvel play` does.

use crate::sources::Source;
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Span};
use snarvel_files::load::{Encoding, Loaded};
use snarvel_ui::app::App;
use snarvel_ui::keys::script;
use snarvel_ui::palette::theme::Theme;
use snarvel_ui::palette::{Depth, Palette};
use snarvel_ui::size::Size;
use snarvel_workspace::buffer::Origin;
use snarvel_workspace::project::{Project, Writing};
use snarvel_workspace::workspace::Workspace;
use std::path::Path;
use unicode_segmentation::UnicodeSegmentation;

/// An application with one text.
pub struct Player {
    app: App,
    /// The keys so far.
    script: String,
}

/// More steps than any edit of a family makes.
const MOST_STEPS: usize = 20;

impl Player {
    /// Opens `text` as the file of `source`.
    #[must_use]
    pub fn open(source: &Source, text: &str) -> Player {
        let project = Project { writing: Writing::Nothing, ..Project::in_folder(Path::new("/")) };
        let mut workspace = Workspace::new(project);
        let loaded = Loaded { text: Text::from(text), encoding: Encoding::default(), read_only: false };
        let name = source.path.file_name().unwrap_or_default();
        let mut buffer = workspace.make_buffer(loaded, Origin::File(Path::new("/").join(name)));
        buffer.origin = Origin::Pipe;
        workspace.show_buffer(buffer);
        let palette = Palette::new(&Theme::night(), Depth::True);
        Player { app: App::new(workspace, palette, Size::REFERENCE), script: String::new() }
    }

    /// Selects `span`.
    pub fn select(&mut self, span: Span) {
        let text = self.app.context.workspace.active().text();
        let place = |at: Byte| {
            let line = text.line_of(at);
            let before = text.slice(Span::new(text.line_start(line), at)).into_owned();
            format!("{}:{}", line.0 + 1, before.graphemes(true).count() + 1)
        };
        let keys = match span.is_empty() {
            true => format!("@{}", place(span.start)),
            false => format!("@{}-{}", place(span.start), place(span.end)),
        };
        self.play(&keys);
    }

    /// Plays `keys`.
    ///
    /// # Panics
    /// If they are no script: families write them.
    pub fn play(&mut self, keys: &str) {
        for step in script::parse(keys).expect("a family writes scripts that can be read") {
            self.app.prepare(&step);
            self.app.act(&step);
        }
        if !self.script.is_empty() {
            self.script.push(' ');
        }
        self.script.push_str(keys);
    }

    /// The script so far.
    #[must_use]
    pub fn script(&self) -> &str {
        &self.script
    }

    /// The text as it is.
    #[must_use]
    pub fn text(&self) -> String {
        self.app.context.workspace.active().text().to_string()
    }

    /// What was said last.
    #[must_use]
    pub fn message(&self) -> &str {
        self.app.message().unwrap_or_default()
    }

    /// The cursors.
    #[must_use]
    pub fn cursors(&self) -> CursorSet {
        self.app.context.workspace.view().cursors().clone()
    }

    /// What the first cursor selects.
    #[must_use]
    pub fn selected(&self) -> Span {
        self.app
            .context
            .workspace
            .view()
            .cursors()
            .iter()
            .next()
            .map_or(Span::at(Byte(0)), |each: Selection| each.span())
    }

    /// Takes back everything. What is wrong about that.
    ///
    /// # Errors
    /// The text or the cursors are not those from before.
    pub fn take_back(&mut self, text: &str, cursors: &CursorSet) -> Result<(), String> {
        for _ in 0..MOST_STEPS {
            self.play("ctrl+z");
            if self.message().contains("nothing to undo") {
                break;
            }
        }
        if self.text() != text {
            return Err("undo does not bring the text back".to_owned());
        }
        let is_same = self.cursors().iter().map(Selection::span).eq(cursors.iter().map(Selection::span));
        if is_same { Ok(()) } else { Err("undo does not bring the cursors back".to_owned()) }
    }
}
