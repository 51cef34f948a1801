//! Where Snarvel's own files are (the XDG base directory specification 0.8), and what is kept there between starts.

use anyhow::{Context, Result};
use etcetera::BaseStrategy;
use etcetera::base_strategy::Xdg;
use serde::{Deserialize, Serialize};
use snarvel_core::verbs::clipboard::clip::{Clip, Shelf};
use snarvel_files::{private, reading};
use snarvel_ui::app::App;
use snarvel_ui::settings::Settings;
use snarvel_ui::size::DeckSize;
use std::path::{Path, PathBuf};

/// The name of the program's folders.
const NAME: &str = "snarvel";

/// The settings file; none where the person has no home.
#[must_use]
pub fn settings_file() -> Option<PathBuf> {
    Some(Xdg::new().ok()?.config_dir().join(NAME).join("settings.toml"))
}

/// The keys file; none where the person has no home.
#[must_use]
pub fn keys_file() -> Option<PathBuf> {
    Some(settings_file()?.with_file_name("keys.toml"))
}

/// The folder of the person's own recipes; none where the person has no home.
#[must_use]
pub fn recipes_folder() -> Option<PathBuf> {
    Some(settings_file()?.with_file_name("recipes"))
}

/// The person's own servers; none where the person has no home.
#[must_use]
pub fn servers_file() -> Option<PathBuf> {
    Some(settings_file()?.with_file_name("servers.toml"))
}

/// The file in which the names of the project in `folder` are kept; none where the person has no home.
#[must_use]
pub fn names_file(project: &Path) -> Option<PathBuf> {
    let name = project.file_name().unwrap_or_default().to_string_lossy().into_owned();
    Some(folder()?.join("names").join(format!("{name}-{:016x}.sqlite", snarvel_files::stamp::number_of(project))))
}

/// The ledger; none where the person has no home.
#[must_use]
pub fn ledger_file() -> Option<PathBuf> {
    Some(folder()?.join("ledger.sqlite"))
}

/// The folder of the person's own templates; none where the person has no home.
#[must_use]
pub fn templates_folder() -> Option<PathBuf> {
    Some(settings_file()?.with_file_name("templates"))
}

/// The folder for the pasts of files; none where the person has no home.
#[must_use]
pub fn pasts_folder() -> Option<PathBuf> {
    Some(folder()?.join("past"))
}

/// The folder of the person's own themes; none where the person has no home.
#[must_use]
pub fn themes_folder() -> Option<PathBuf> {
    Some(settings_file()?.with_file_name("themes"))
}

/// The folder for what is kept between starts; none where the person has no home.
#[must_use]
pub fn folder() -> Option<PathBuf> {
    Some(Xdg::new().ok()?.state_dir()?.join(NAME))
}

fn shelf_file() -> Option<PathBuf> {
    Some(folder()?.join("shelf.json"))
}

/// The shelf that was kept. One that cannot be read is an empty one: nothing hangs on it.
#[must_use]
pub fn kept_shelf() -> Shelf {
    let bytes = shelf_file().and_then(|file| reading::read_own(&file, reading::KEPT).ok()).unwrap_or_default();
    let clips: Vec<Clip> = serde_json::from_slice(&bytes).unwrap_or_default();
    clips.into_iter().collect()
}

/// Keeps the shelf if the settings say so, readable only by its owner.
///
/// # Errors
/// The folder cannot be made, or the file not written.
pub fn keep_shelf(app: &App) -> Result<()> {
    let Some(file) = shelf_file().filter(|_| app.context.settings.keeps_shelf) else { return Ok(()) };
    let clips: Vec<&Clip> = app.context.workspace.shelf.clips().map(AsRef::as_ref).collect();
    let bytes = serde_json::to_vec(&clips).context("the clip shelf")?;
    private::write(&file, &bytes).with_context(|| format!("the clip shelf is not kept: {}", file.display()))
}

/// What of the screen is kept from one start to the next, without a settings file.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[serde(default)]
pub struct KeptScreen {
    /// The size of the deck in Write and in Shape: full, small, off.
    decks: Option<[KeptDeck; 2]>,
    /// The theme that was chosen last.
    pub theme: Option<String>,
    /// Whether hits are looked for in the whole project.
    pub finds_in_project: bool,
    /// How many times it was said what Shape is.
    pub shape_told: u32,
}

/// The size of a deck, as it is kept.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
enum KeptDeck {
    Full,
    Small,
    Off,
}

impl KeptScreen {
    /// The sizes of the decks: those that the settings file has, else those chosen last.
    #[must_use]
    pub fn decks_beside(&self, settings: &Settings) -> [DeckSize; 2] {
        let size = |deck: KeptDeck| match deck {
            KeptDeck::Full => DeckSize::Full,
            KeptDeck::Small => DeckSize::Small,
            KeptDeck::Off => DeckSize::Off,
        };
        let Some(kept) = self.decks else { return settings.decks };
        let one = |index: usize, name: &str| match settings.given.contains(&name) {
            true => settings.decks[index],
            false => size(kept[index]),
        };
        [one(0, "deck_in_write"), one(1, "deck_in_shape")]
    }

    /// What is to be kept of `app`.
    #[must_use]
    pub fn of(app: &App) -> KeptScreen {
        let look = &app.context.look;
        let deck = |size: DeckSize| match size {
            DeckSize::Full => KeptDeck::Full,
            DeckSize::Small => KeptDeck::Small,
            DeckSize::Off => KeptDeck::Off,
        };
        KeptScreen {
            decks: Some(look.decks.map(deck)),
            theme: Some(app.context.settings.theme.clone()),
            finds_in_project: app.context.workspace.searches.is_in_project,
            shape_told: look.shape_told,
        }
    }
}

fn screen_file() -> Option<PathBuf> {
    Some(folder()?.join("screen.json"))
}

/// How the screen was left. What cannot be read is as it is at the first start: nothing hangs on it.
#[must_use]
pub fn kept_screen() -> KeptScreen {
    let bytes = screen_file().and_then(|file| reading::read_own(&file, reading::KEPT).ok()).unwrap_or_default();
    serde_json::from_slice(&bytes).unwrap_or_default()
}

/// Keeps how the screen is left.
///
/// # Errors
/// The folder cannot be made, or the file not written.
pub fn keep_screen(app: &App) -> Result<()> {
    let Some(file) = screen_file() else { return Ok(()) };
    let bytes = serde_json::to_vec(&KeptScreen::of(app)).context("the screen")?;
    private::write(&file, &bytes).with_context(|| format!("the deck and the palette are not kept: {}", file.display()))
}

fn tour_file() -> Option<PathBuf> {
    Some(folder()?.join("tour.json"))
}

/// The step of the tour at which it was left; the first one where nothing is known.
#[must_use]
pub fn kept_tour() -> usize {
    let bytes = tour_file().and_then(|file| reading::read_own(&file, reading::KEPT).ok()).unwrap_or_default();
    serde_json::from_slice(&bytes).unwrap_or_default()
}

/// Keeps at which step the tour is left.
///
/// # Errors
/// The folder cannot be made, or the file not written.
pub fn keep_tour(step: usize) -> Result<()> {
    let Some(file) = tour_file() else { return Ok(()) };
    let bytes = serde_json::to_vec(&step).context("the tour")?;
    private::write(&file, &bytes).with_context(|| format!("the tour is not kept: {}", file.display()))
}
