//! The files in which a person says how the program is to be: changed in place, comments and all.

use snarvel_files::{private, reading};
use std::fmt::Display;
use std::io::ErrorKind;
use std::path::Path;

/// Changes the file at `path`, which may not be there yet.
///
/// # Errors
/// It cannot be read or written, or `change` refuses: the name of the file, and why.
pub fn changed(path: &Path, change: impl FnOnce(&str) -> Result<String, String>) -> Result<(), String> {
    let named = |error: &dyn Display| format!("{}: {error}", path.display());
    let text = match reading::read(path, reading::SETTINGS) {
        Ok(bytes) => String::from_utf8(bytes).map_err(|error| named(&error))?,
        Err(error) if error.kind() == ErrorKind::NotFound => String::new(),
        Err(error) => return Err(named(&error)),
    };
    let changed = change(&text).map_err(|error| named(&error))?;
    private::write(path, changed.as_bytes()).map_err(|error| named(&error))
}
