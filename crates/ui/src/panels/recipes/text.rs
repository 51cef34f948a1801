//! The chosen recipe as a text that is edited with the keys of any text.

use crate::context::Context;
use crate::keys::Key;
use crate::keys::keymap::Meaning;
use crate::keys::layer::Layer;
use snarvel_core::languages::by_name;
use snarvel_core::text::Text;
use snarvel_files::load::{Encoding, Loaded};
use snarvel_workspace::buffer::{Buffer, Origin};
use snarvel_workspace::command::{Command, Done};
use snarvel_workspace::project::{Project, Writing};
use snarvel_workspace::registry::verb::Does;
use snarvel_workspace::view::{Room, View};
use snarvel_workspace::workspace::Workspace;
use std::path::Path;

/// A recipe as a text, in a workspace of its own: every verb that edits works in it, and its undo is its own.
#[derive(Debug)]
pub struct RecipeText {
    workspace: Box<Workspace>,
}

impl RecipeText {
    /// Of a recipe that holds `source`.
    pub fn of(source: &str) -> RecipeText {
        let project = Project { writing: Writing::Nothing, ..Project::in_folder(Path::new(".")) };
        let mut workspace = Workspace::new(project);
        let loaded = Loaded { text: Text::from(source), encoding: Encoding::default(), read_only: false };
        let mut buffer = workspace.make_buffer(loaded, Origin::None);
        if let Some(language) = by_name("recipe") {
            buffer.set_language(&language, None);
        }
        workspace.show_buffer(buffer);
        RecipeText { workspace: Box::new(workspace) }
    }

    /// What the recipe holds now.
    pub fn source(&self) -> String {
        self.workspace.active().text().to_string()
    }

    /// The text and the view of it.
    pub fn pair(&self) -> (&Buffer, &View) {
        self.workspace.pair(self.workspace.views.focus())
    }

    /// Does what a key does in Write. What opens a panel or works on files does nothing here, and that is said.
    pub fn press(&mut self, key: Key, context: &mut Context) {
        let command = match context.keyboard.keymap.meaning(key, Layer::Write) {
            Some(Meaning::Verb(verb)) => Command::plain(verb),
            Some(Meaning::Call(verb, argument)) => match Command::read(verb, &argument) {
                Ok(command) => command,
                Err(wrong) => return context.say(wrong.to_string()),
            },
            Some(Meaning::Insert(text)) => Command::typing(&text),
            Some(Meaning::Text(c)) => Command::typing(c.encode_utf8(&mut [0; 4])),
            Some(Meaning::Digit(_)) | None => return context.say(format!("{key} has no verb here")),
        };
        let verb = command.verb;
        let is_elsewhere = matches!(verb.does, Does::Ask(_) | Does::Replay(_)) || verb.name == "record";
        if is_elsewhere || (verb.asks && command.values.is_empty()) {
            return context.say(format!("{} is not for the text of a recipe: Esc goes back to the list", verb.name));
        }
        self.workspace.now_ms = context.workspace.now_ms;
        if verb.reads_clipboard() {
            context.look_at_clipboard();
            self.workspace.shelf.put(context.workspace.shelf.newest().clone());
        }
        if let Done::Edited(effects) = self.workspace.run(&command) {
            // A layer is of the keyboard, not of this text.
            let layer = context.keyboard.layer;
            context.follow(effects);
            context.keyboard.layer = layer;
        }
        self.workspace.settle();
    }

    /// Puts in what the terminal has pasted.
    pub fn paste(&mut self, typed: &str) {
        self.workspace.paste_text(typed);
        self.workspace.settle();
    }

    /// Brings the caret into view.
    pub fn settle(&mut self, room: Room) {
        let (buffer, view) = self.workspace.active_pair_mut();
        view.layout.rows = usize::from(room.rows);
        view.follow_caret(buffer, room);
    }
}
