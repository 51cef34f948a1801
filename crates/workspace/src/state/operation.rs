//! What is done to files by themselves.

use crate::buffer::name_of;
use crate::tasks::TaskHandle;
use std::fmt::Display;
use std::path::{Path, PathBuf};

/// What is done to a file.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum FileOperation {
    /// Make an empty file.
    CreateFile(PathBuf),
    /// Make a folder.
    CreateFolder(PathBuf),
    /// Give the first another name.
    Rename(PathBuf, PathBuf),
    /// Put it into the trash.
    Trash(PathBuf),
}

impl FileOperation {
    /// What it makes, moves to or takes away.
    #[must_use]
    pub fn path(&self) -> &Path {
        match self {
            FileOperation::CreateFile(path)
            | FileOperation::CreateFolder(path)
            | FileOperation::Rename(_, path)
            | FileOperation::Trash(path) => path,
        }
    }

    /// Does it; gives what there is to say of it.
    ///
    /// # Errors
    /// What the system says; then all is as it was.
    pub fn carry_out(&self) -> Result<String, String> {
        let failed = |path: &Path, error: &dyn Display| format!("{}: {error}", path.display());
        match self {
            FileOperation::CreateFile(path) => {
                let folder = path.parent().unwrap_or(path);
                std::fs::create_dir_all(folder).map_err(|error| failed(folder, &error))?;
                let made = std::fs::OpenOptions::new().write(true).create_new(true).open(path);
                made.map_err(|error| failed(path, &error))?;
                Ok(format!("{} is there now", path.display()))
            }
            FileOperation::CreateFolder(path) => {
                std::fs::create_dir_all(path).map_err(|error| failed(path, &error))?;
                Ok(format!("{} is there now", path.display()))
            }
            FileOperation::Rename(from, to) => {
                if to.symlink_metadata().is_ok() {
                    return Err(format!("{} is there already", to.display()));
                }
                std::fs::rename(from, to).map_err(|error| failed(from, &error))?;
                Ok(format!("{} is {} now", name_of(from), name_of(to)))
            }
            FileOperation::Trash(path) => {
                trash::delete(path).map_err(|error| failed(path, &error))?;
                Ok(format!("{} is in the trash", name_of(path)))
            }
        }
    }
}

/// What is being done to a file, or drawn into one.
#[derive(Debug)]
pub(crate) struct Operation {
    pub(crate) what: Option<FileOperation>,
    pub(crate) task: TaskHandle,
    pub(crate) result: Option<Result<String, String>>,
    /// Whether the program ends after it.
    pub(crate) then_quit: bool,
}
