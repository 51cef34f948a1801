//! Where Snarvel's own files are (the XDG base directory specification 0.8), and what is kept there between starts.

use anyhow::{Context, Result};
use etcetera::BaseStrategy;
use etcetera::base_strategy::Xdg;
use snarvel_core::verbs::clipboard::clip::{Clip, Shelf};
use snarvel_files::{private, reading};
use snarvel_ui::app::App;
use std::path::PathBuf;

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
