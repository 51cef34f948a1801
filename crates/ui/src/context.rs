//! What panels and the screen are given: the workspace, the keyboard, the look, the settings.

use crate::keys::keyboarding::Keyboarding;
use crate::keys::keymap::Keymap;
use crate::keys::layer::{Layer, Protocol};
use crate::palette::Palette;
use crate::settings::Settings;
use crate::size::{DeckSize, Size};
use crate::system_clipboard::Clipboard;
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_workspace::command::{Command, Done};
use snarvel_workspace::editing::Effects;
use snarvel_workspace::registry::action::Action;
use snarvel_workspace::view::Room;
use snarvel_workspace::workspace::Workspace;
use std::sync::Arc;

/// How everything looks.
#[derive(Debug)]
pub struct Look {
    /// The colours.
    pub palette: Palette,
    /// The size of the screen.
    pub size: Size,
    /// How large the deck is in Write and in Shape.
    pub decks: [DeckSize; 2],
    /// Whether nothing but the text and the status line is shown.
    pub is_full_view: bool,
    /// The room that panels have for texts.
    pub rooms: Rooms,
    /// Whether every key is followed by a frame: colours are asked for then, else when a frame is wanted.
    pub is_drawn: bool,
}

/// The room that panels have for texts.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Rooms {
    /// For the text of the view with the keys, as far as no panel covers it.
    pub seen: Room,
    /// For a text beside a panel's list.
    pub beside: Room,
}

/// What the terminal is to do beside drawing.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum TerminalOrder {
    /// Hand this to the system clipboard.
    Clipboard(String),
}

/// What panels and the screen are given.
#[derive(Debug)]
pub struct Context {
    /// The texts and all around them.
    pub workspace: Workspace,
    /// The keyboard.
    pub keyboard: Keyboarding,
    /// The look.
    pub look: Look,
    /// What the person has set.
    pub settings: Settings,
    /// Where other programs leave what they copied; none where nothing of theirs is looked at.
    pub clipboard: Option<Box<dyn Clipboard>>,
    /// What the terminal is to do.
    pub orders: Vec<TerminalOrder>,
}

impl Context {
    /// With `workspace`, the shipped keys and settings.
    #[must_use]
    pub fn new(workspace: Workspace, palette: Palette, size: Size) -> Context {
        let keymap = Keymap::shipped(Protocol::Plain);
        Context {
            workspace,
            keyboard: Keyboarding { keymap, layer: Layer::Write, count: None, looked_up: None, file: None },
            look: Look {
                palette,
                size,
                decks: [DeckSize::Small, DeckSize::Full],
                is_full_view: false,
                rooms: Rooms::default(),
                is_drawn: true,
            },
            settings: Settings::default(),
            clipboard: None,
            orders: Vec::new(),
        }
    }

    /// The size of the deck now.
    #[must_use]
    pub fn deck_size(&self) -> DeckSize {
        self.look.decks[self.keyboard.layer.index()]
    }

    /// Says something in the status line.
    pub fn say(&mut self, message: impl Into<String>) {
        self.workspace.say(message);
    }

    /// Runs a command as far as no application is needed for it; gives what is asked of that, and how many times.
    pub fn run(&mut self, command: &Command) -> Option<(Action, u32)> {
        match self.workspace.run(command) {
            Done::Edited(effects) => {
                self.follow(effects);
                None
            }
            Done::Asked(action, times) => Some((action, times)),
        }
    }

    /// Takes over what an edit did beside the text.
    pub fn follow(&mut self, effects: Effects) {
        let Effects { message, clip, starts_typing } = effects;
        if let Some(message) = message {
            self.say(message);
        }
        if let Some(clip) = clip {
            self.copy(clip);
        }
        if starts_typing {
            self.keyboard.layer = Layer::Write;
        }
    }

    /// What another program has copied since is the newest clip.
    pub fn look_at_clipboard(&mut self) {
        let text = self.clipboard.as_mut().and_then(|clipboard| clipboard.read());
        let shelf = &mut self.workspace.shelf;
        if let Some(text) = text.filter(|text| !text.is_empty() && *text != shelf.newest().joined()) {
            shelf.put(Clip::of_text(&text));
        }
    }

    /// Copies: onto the shelf, and for other programs.
    pub fn copy(&mut self, clip: impl Into<Arc<Clip>>) {
        let clip = clip.into();
        self.orders.push(TerminalOrder::Clipboard(clip.joined()));
        self.workspace.shelf.put(clip);
    }
}
