//! What panels and the screen are given: the workspace, the keyboard, the look, the settings.

use crate::asked::Asked;
use crate::drilling::Drilling;
use crate::drills::Drill;
use crate::keys::keyboarding::Keyboarding;
use crate::keys::keymap::Keymap;
use crate::keys::layer::{Layer, Protocol};
use crate::learning::Learning;
use crate::palette::Palette;
use crate::palette::theme::{Ground, Theme};
use crate::presenting::Presenting;
use crate::settings::{AUTO, Numbers, Settings};
use crate::size::{DeckSize, Size};
use crate::system_clipboard::Clipboard;
use crate::tour::Tour;
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_workspace::command::{Command, Done};
use snarvel_workspace::editing::Effects;
use snarvel_workspace::registry::action::Action;
use snarvel_workspace::view::Room;
use snarvel_workspace::workspace::Workspace;
use std::path::PathBuf;
use std::sync::Arc;

/// How everything looks.
#[derive(Debug)]
pub struct Look {
    /// The colours.
    pub palette: Palette,
    /// The themes that there are.
    pub themes: Themes,
    /// The size of the screen.
    pub size: Size,
    /// How large the deck is in Write and in Shape.
    pub decks: [DeckSize; 2],
    /// Which face the full deck shows, in Write and in Shape.
    pub faces: [usize; 2],
    /// How many times it was said what Shape is.
    pub shape_told: u32,
    /// Whether nothing but the text and the status line is shown.
    pub is_full_view: bool,
    /// The room that panels have for texts.
    pub rooms: Rooms,
    /// What is shown to an audience.
    pub presenting: Presenting,
    /// Whether every key is followed by a frame: then what is seen in it is waited for before the next key of a script.
    pub is_drawn: bool,
}

/// The themes that there are.
#[derive(Clone, Debug)]
pub struct Themes {
    /// Those that are shipped and those that the person has made.
    pub list: Vec<Theme>,
    /// Whether the terminal's own background is dark or light, where it has told.
    pub terminal: Option<Ground>,
}

impl Default for Themes {
    fn default() -> Themes {
        Themes { list: Theme::shipped(), terminal: None }
    }
}

impl Themes {
    /// The theme called `name`, which may be [`AUTO`].
    #[must_use]
    pub fn find(&self, name: &str) -> Option<&Theme> {
        let name = match (name, self.terminal) {
            (AUTO, Some(Ground::Light)) => "day",
            (AUTO, _) => "night",
            (name, _) => name,
        };
        self.list.iter().find(|theme| theme.name == name)
    }
}

/// The room that panels have for texts.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Rooms {
    /// For the text of the view with the keys, as far as no panel covers it.
    pub seen: Room,
    /// For a text beside a panel's list.
    pub beside: Room,
}

/// What a panel wants to be done about drills.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum DrillOrder {
    /// Begin these, one after the other.
    Begin(Vec<&'static Drill>),
    /// Begin the same one again.
    Again,
    /// Begin the next one, or leave.
    Next,
    /// Play the shortest way.
    Replay,
    /// Leave.
    Leave,
}

/// So many times it is said what Shape is.
pub const TIMES_TOLD: u32 = 10;

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
    /// Where that is kept; none where nothing is.
    pub settings_file: Option<PathBuf>,
    /// What is learned from keys.
    pub learning: Learning,
    /// The drill that is being done.
    pub drill: Option<Box<Drilling>>,
    /// What a panel wants to be done about drills, once it is closed.
    pub drill_order: Option<DrillOrder>,
    /// The tour that is being taken.
    pub tour: Option<Tour>,
    /// Where other programs leave what they copied; none where nothing of theirs is looked at.
    pub clipboard: Option<Box<dyn Clipboard>>,
    /// What the terminal is to do.
    pub orders: Vec<TerminalOrder>,
    /// What is asked about servers once the open panel is closed.
    pub asked_later: Vec<Asked>,
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
                themes: Themes::default(),
                size,
                decks: [DeckSize::Small, DeckSize::Full],
                faces: [0; 2],
                shape_told: TIMES_TOLD,
                is_full_view: false,
                rooms: Rooms::default(),
                presenting: Presenting::default(),
                is_drawn: true,
            },
            settings: Settings::default(),
            settings_file: None,
            learning: Learning::default(),
            drill: None,
            drill_order: None,
            tour: None,
            clipboard: None,
            orders: Vec::new(),
            asked_later: Vec::new(),
        }
    }

    /// Takes over what a person has set, for what is open too.
    pub fn take_settings(&mut self, settings: Settings) {
        let keyboard = &mut self.keyboard;
        if settings.keyboard != keyboard.keymap.keyboard() {
            keyboard.keymap = keyboard.keymap.on_keyboard(settings.keyboard);
        }
        if settings.decks != self.settings.decks {
            self.look.decks = settings.decks;
        }
        if settings.theme != self.settings.theme {
            self.use_theme(&settings.theme);
        }
        let project = &mut self.workspace.project;
        (project.tidy, project.keeps_session) = (settings.tidy, settings.keeps_session);
        (project.filter_limit, project.offers) = (settings.filter_limit, settings.offers);
        project.saving.formats = settings.formats_on_save;
        project.saving.before_runs = settings.saves_before_runs;
        project.saving.past.clone_from(&settings.past);
        self.workspace.use_runners(settings.runners.clone());
        match settings.echoes {
            true => self.workspace.start_echo(),
            false => self.workspace.stop_echo(),
        }
        self.workspace.take_defaults(settings.defaults);
        self.settings = settings;
    }

    /// The other layer of the keyboard. What Shape is is said the first times that it begins.
    pub fn change_layer(&mut self) {
        self.keyboard.layer = self.keyboard.layer.other();
        if self.keyboard.layer == Layer::Shape && self.look.shape_told < TIMES_TOLD {
            self.look.shape_told += 1;
            self.say("Shape: each letter runs a verb, as the keys below say; Esc goes back to typing");
        }
    }

    /// Everything is in the colours of the theme called `name`; where there is none, nothing happens.
    pub fn use_theme(&mut self, name: &str) {
        if let Some(theme) = self.look.themes.find(name) {
            self.look.palette = self.look.palette.of_theme(theme);
            name.clone_into(&mut self.settings.theme);
        }
    }

    /// Dark becomes light, and light dark; until that is changed again.
    pub fn toggle_palette(&mut self) {
        let (name, said) = match self.look.palette.ground() {
            Ground::Dark => ("day", "changed to the light palette"),
            Ground::Light => ("night", "changed to the dark palette"),
        };
        self.use_theme(name);
        self.say(said);
    }

    /// Line numbers from the file's start become numbers from the cursor, and the other way round.
    pub fn toggle_numbers(&mut self) {
        let numbers = &mut self.settings.numbers;
        *numbers = if *numbers == Numbers::Absolute { Numbers::Relative } else { Numbers::Absolute };
        let said = match numbers {
            Numbers::Absolute => "lines are numbered from the start of the file",
            Numbers::Relative => "lines are numbered from the cursor",
        };
        self.say(said);
    }

    /// The size of the deck now.
    #[must_use]
    pub fn deck_size(&self) -> DeckSize {
        self.look.decks[self.keyboard.layer.index()]
    }

    /// Hands what was counted and is not written yet to the ledger.
    pub fn write_counts(&mut self) {
        let rest = self.learning.counting.rest();
        if !rest.is_empty() {
            self.workspace.add_to_ledger(rest);
        }
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
        let Effects { message, clip, starts_typing, .. } = effects;
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
