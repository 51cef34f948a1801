//! The settings file: `settings.toml` in the configuration folder, read once at the start.
//!
//! Every setting is by itself: one that is wrong is passed over, says in which line and what is allowed, and
//! leaves the others in force. Nothing in it can keep the program from starting.

pub mod file;
pub mod known;

use crate::keys::keyboard::Keyboard;
use crate::size::DeckSize;
use snarvel_core::languages::Language;
use snarvel_shell::runners::Table;
use snarvel_workspace::buffer::defaults::{EditorDefaults, Tidy};
use snarvel_workspace::offering::settings::When;
use snarvel_workspace::project::{FILTER_LIMIT, PastRules};
use std::time::Duration;

/// In the place of the name of a theme: the one that goes with the terminal's background.
pub const AUTO: &str = "auto";

/// How lines are numbered.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Numbers {
    /// From the file's start.
    #[default]
    Absolute,
    /// From the primary cursor's line, which keeps its own number.
    Relative,
}

/// What a person has settled.
#[derive(Clone, Debug)]
#[allow(clippy::struct_excessive_bools, reason = "each is a setting of its own that is on or off")]
pub struct Settings {
    /// The name of the theme, or [`AUTO`].
    pub theme: String,
    /// What holds where neither a text nor `.editorconfig` says anything.
    pub defaults: EditorDefaults,
    /// What a save puts in order where `.editorconfig` says nothing.
    pub tidy: Tidy,
    /// How large the deck is at first, in Write and in Shape.
    pub decks: [DeckSize; 2],
    /// How lines are numbered.
    pub numbers: Numbers,
    /// Whether the clip shelf is kept from one start to the next.
    pub keeps_shelf: bool,
    /// Whether copies go to the system clipboard, and pastes come from it.
    pub shares_clipboard: bool,
    /// Whether the roster comes by itself when there are several cursors.
    pub shows_roster: bool,
    /// Which letters the keys bear.
    pub keyboard: Keyboard,
    /// Whether what was open in a folder comes back with it.
    pub keeps_session: bool,
    /// How long a command may run that text goes through.
    pub filter_limit: Duration,
    /// When offers come.
    pub offers: When,
    /// Whether language servers are started, where that is trusted.
    pub starts_servers: bool,
    /// Whether texts are laid out on saving.
    pub formats_on_save: bool,
    /// Whether places are offered after two edits that are alike.
    pub echoes: bool,
    /// Whether what is used is counted, for the person only.
    pub keeps_ledger: bool,
    /// Whether the coach says which shorter ways there are.
    pub coaches: bool,
    /// What is kept of the past of files.
    pub past: PastRules,
    /// Whether what is changed is saved before it is run.
    pub saves_before_runs: bool,
    /// Runners and tasks beside the shipped ones.
    pub runners: Table,
    /// Languages that the table lacks, or has otherwise.
    pub languages: Vec<Language>,
    /// The names of the settings that the file has.
    pub given: Vec<&'static str>,
}

impl Default for Settings {
    fn default() -> Settings {
        Settings {
            theme: "night".to_owned(),
            defaults: EditorDefaults::default(),
            tidy: Tidy::default(),
            decks: [DeckSize::Small, DeckSize::Full],
            numbers: Numbers::Absolute,
            keeps_shelf: false,
            shares_clipboard: true,
            shows_roster: true,
            keyboard: Keyboard::Qwerty,
            keeps_session: true,
            filter_limit: FILTER_LIMIT,
            offers: When::Auto,
            starts_servers: true,
            formats_on_save: false,
            echoes: true,
            keeps_ledger: true,
            coaches: true,
            past: PastRules::default(),
            saves_before_runs: true,
            runners: Table::default(),
            languages: Vec::new(),
            given: Vec::new(),
        }
    }
}
