//! One text in a workspace of its own, as tests edit it: the same workspace as the program's, one view, no files.

use snarvel_core::bookmarks::Bookmarks;
use snarvel_core::changes::saved_diff::SavedDiff;
use snarvel_core::cursors::CursorSet;
use snarvel_core::folds::Folds;
use snarvel_core::history::{History, StepId};
use snarvel_core::languages::Language;
use snarvel_core::languages::lexical::LexicalView;
use snarvel_core::text::Text;
use snarvel_core::units::Span;
use snarvel_core::verbs::clipboard::clip::{Clip, Shelf};
use snarvel_core::verbs::scene::{Scene, TextSettings};
use snarvel_files::load::{Encoding, Loaded};
use snarvel_workspace::buffer::defaults::EditorDefaults;
use snarvel_workspace::buffer::{Buffer, Origin};
use snarvel_workspace::command::{Command, Done};
use snarvel_workspace::editing::Effects;
use snarvel_workspace::project::Project;
use snarvel_workspace::registry::Verb;
use snarvel_workspace::workspace::Workspace;
use std::path::Path;
use std::sync::Arc;

/// A text under edit.
pub struct Editor {
    pub workspace: Workspace,
}

/// How a verb is called.
#[derive(Clone, Copy)]
pub struct Call<'a> {
    pub verb: &'static Verb,
    pub argument: &'a str,
    pub times: u32,
    pub clip: &'a Clip,
    pub now_ms: u64,
}

impl Editor {
    /// `text` in `language`, by the scanner alone.
    pub fn new(text: Text, language: Arc<Language>) -> Editor {
        Editor::with_defaults(text, language, EditorDefaults::default())
    }

    /// The same where something else holds.
    #[allow(clippy::needless_pass_by_value, reason = "who calls it has just looked the language up")]
    pub fn with_defaults(text: Text, language: Arc<Language>, defaults: EditorDefaults) -> Editor {
        let mut workspace = Workspace::new(Project { defaults, ..Project::in_folder(Path::new("/")) });
        let loaded = Loaded { text, encoding: Encoding::default(), read_only: false };
        let name = language
            .extensions
            .first()
            .map_or_else(|| language.files.first().cloned().unwrap_or_default(), |ending| format!("a.{ending}"));
        // The name tells the language's own layout; the language itself is set whatever it tells.
        let mut buffer = Buffer::new(loaded, Origin::File(name.into()), defaults, None);
        buffer.origin = Origin::Pipe;
        buffer.set_language(&language, None);
        workspace.show_buffer(buffer);
        Editor { workspace }
    }

    /// The same with a parser, whose structure is known.
    #[allow(clippy::needless_pass_by_value, reason = "who calls it has just looked the language up")]
    pub fn parsed(text: Text, language: Arc<Language>) -> Editor {
        let mut editor = Editor::new(text, language.clone());
        let id = editor.workspace.active().id;
        let sink = editor.workspace.parse_sink(id);
        editor.workspace.active_mut().set_language(&language, Some(sink));
        editor.workspace.settle_structure();
        editor
    }

    pub fn run(&mut self, call: Call) -> Effects {
        let command = match Command::read(call.verb, call.argument) {
            Ok(command) => Command { count: Some(call.times), ..command },
            Err(wrong) => return Effects::saying(wrong.to_string()),
        };
        self.workspace.shelf = Shelf::default();
        self.workspace.shelf.put(call.clip.clone());
        self.workspace.now_ms = call.now_ms;
        let done = self.workspace.run(&command);
        self.workspace.settle();
        match done {
            Done::Edited(effects) => effects,
            Done::Asked(action, _) => panic!("{} asks for {action:?}", call.verb.name),
        }
    }

    fn buffer(&self) -> &Buffer {
        self.workspace.active()
    }

    pub fn text(&self) -> &Text {
        self.buffer().text()
    }

    pub fn cursors(&self) -> &CursorSet {
        self.workspace.view().cursors()
    }

    pub fn set_cursors(&mut self, cursors: CursorSet) {
        let (buffer, view) = self.workspace.active_pair_mut();
        view.set_cursors(buffer, cursors);
    }

    pub fn pins(&self) -> &[Span] {
        self.workspace.view().pins(self.buffer())
    }

    pub fn folds(&self) -> &Folds {
        self.workspace.view().folds()
    }

    pub fn set_folds(&mut self, folds: &Folds) {
        let (buffer, view) = self.workspace.active_pair_mut();
        view.set_folds(buffer, folds);
    }

    pub fn bookmarks(&self) -> Bookmarks {
        self.buffer().bookmarks()
    }

    pub fn set_bookmarks(&mut self, bookmarks: &Bookmarks) {
        self.workspace.active_mut().set_bookmarks(bookmarks);
    }

    pub fn history(&self) -> &History {
        self.buffer().history()
    }

    pub fn language(&self) -> &Arc<Language> {
        self.buffer().language()
    }

    pub fn settings(&self) -> &TextSettings {
        self.buffer().settings()
    }

    pub fn syntax(&self) -> LexicalView<'_> {
        self.buffer().parsing.kinds(self.text())
    }

    pub fn since_saved(&self) -> &SavedDiff {
        &self.buffer().saved.diff
    }

    pub fn is_modified(&self) -> bool {
        self.buffer().is_modified()
    }

    pub fn mark_saved(&mut self) {
        self.workspace.active_mut().mark_saved();
    }

    pub fn go_to_step(&mut self, id: StepId) -> bool {
        self.workspace.go_to_step(id)
    }

    /// The text as it was, with the cursors of then.
    pub fn at_step(&self, id: StepId) -> (String, CursorSet) {
        let (buffer, cursors) = self.buffer().at_step(id);
        (buffer.text().to_string(), cursors.unwrap_or_else(|| self.cursors().clone()))
    }

    pub fn with_scene<T>(&self, look: impl FnOnce(&Scene) -> T) -> T {
        self.workspace.view().with_scene(self.buffer(), look)
    }

    pub fn assert_invariants(&self) {
        self.workspace.view().assert_invariants(self.buffer());
    }
}
