//! `snarvel trust`: what was said of commands and servers, folder by folder.

use crate::state;
use anyhow::{Context, Result, bail};
use snarvel_ui::screen::canvas::harmless;
use snarvel_workspace::kept::Store;
use std::path::{Path, PathBuf};

/// Lists what is trusted, or forgets what was said of a folder.
///
/// # Errors
/// There is no home folder; nothing was said of the folder.
pub fn told(forget: Option<&Path>) -> Result<String> {
    let store = Store::at(state::folder().context("nothing is kept: there is no home folder")?);
    let Some(folder) = forget else {
        let all = store.all_trust();
        if all.is_empty() {
            return Ok(
                "nothing is trusted yet: each folder is asked about when a server or a command is to be started in it\n".to_owned(),
            );
        }
        let line = |(folder, what): (PathBuf, String)| harmless(&format!("{}: {what}", folder.display())) + "\n";
        return Ok(all.into_iter().map(line).collect::<String>());
    };
    let folder = std::path::absolute(folder).unwrap_or_else(|_| folder.to_owned());
    if !store.forget_trust(&folder)? {
        bail!("nothing was said of {}: snarvel trust lists the folders", folder.display());
    }
    Ok(format!("{}: all that was said of it is forgotten\n", harmless(&folder.display().to_string())))
}
