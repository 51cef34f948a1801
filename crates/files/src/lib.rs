//! Files: any bytes in, the same bytes out; a save is whole or not at all.
//!
//! Knows nothing of verbs or screens. Costs are one pass over the file's bytes.

mod attributes;
pub mod commands;
pub mod folder;
pub mod gather;
pub mod journal;
pub mod layout;
mod links;
pub mod load;
pub mod loading;
pub mod memory;
pub mod outside;
pub mod past;
pub mod private;
pub mod reading;
pub mod replacing;
pub mod save;
pub mod saving;
pub mod search;
pub mod stamp;
pub mod tree_watch;
mod walks;

use std::path::PathBuf;

/// What can go wrong with a file, and where.
#[derive(Debug, thiserror::Error)]
pub enum FileError {
    /// It is a folder.
    #[error("{0} is a folder: name a file in it")]
    Folder(PathBuf),
    /// It is a device, a socket or a pipe.
    #[error("{0} is no ordinary file: give its contents on standard input instead")]
    Special(PathBuf),
    /// It could not be read.
    #[error("{path} cannot be read: {source}")]
    Read {
        /// Which file.
        path: PathBuf,
        /// What the system says.
        source: std::io::Error,
    },
    /// There is not enough memory for it.
    #[error("{path} has {} MB, and {} MB of memory are free: open a part of it, or free some", size.div_ceil(1_000_000), free / 1_000_000)]
    NoMemory {
        /// Which file.
        path: PathBuf,
        /// Its size in bytes.
        size: u64,
        /// How many bytes are free.
        free: usize,
    },
    /// Its rights say that it is not to be written.
    #[error("{0} is read-only: change its rights, or save under another name")]
    ReadOnly(PathBuf),
    /// A character of it has no bytes in its encoding.
    #[error(
        "{path} is in {encoding}, which has no {character:?} (line {line}): take it out, or make it UTF-8 with the verb to-utf-8"
    )]
    Unwritable {
        /// Which file.
        path: PathBuf,
        /// The character.
        character: char,
        /// Its line, from 1.
        line: usize,
        /// The encoding.
        encoding: &'static str,
    },
    /// It could not be written; what it held before is still there.
    #[error("{path} cannot be written: {source}; the file is as it was")]
    Write {
        /// Which file.
        path: PathBuf,
        /// What the system says.
        source: std::io::Error,
    },
    /// It had to be written in place, and that broke off.
    #[error("{path} was written in part only: {source}; its old contents are in {backup}")]
    Torn {
        /// Which file.
        path: PathBuf,
        /// Where the old contents are.
        backup: PathBuf,
        /// What the system says.
        source: std::io::Error,
    },
}
