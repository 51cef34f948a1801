//! A recipe or a key script over one file: read, run, and told or written.

use super::by_keys;
use snarvel_core::languages::Language;
use snarvel_core::recipes::Rigour;
use snarvel_files::gather::{Gathered, How as Reached, is_binary};
use snarvel_files::loading::Opened;
use snarvel_files::save::{Disk, FileLayer};
use snarvel_files::saving::Saved;
use snarvel_ui::keys::script::ScriptStep;
use snarvel_workspace::recipes::applying::{Applied, apply};
use snarvel_workspace::recipes::unified::{replaced, unified};
use snarvel_workspace::recipes::{Ended, Program};
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::path::Path;
use std::sync::Arc;

/// What is done with each file.
pub enum Work {
    /// A recipe, the files taken as in this language.
    Recipe(Program, Option<Arc<Language>>),
    /// A key script, the same.
    Keys(Vec<ScriptStep>, Option<Arc<Language>>),
}

/// How what was done is told.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum How {
    /// As a diff.
    Diff,
    /// By the names of the files.
    Names,
    /// By the names of the files, with how many places changed; the files are written.
    Write,
}

/// What was done with a file.
#[derive(Default)]
pub struct FileResult {
    /// What goes to standard output.
    pub told: Vec<u8>,
    /// What went wrong.
    pub complaints: Vec<String>,
    /// How many runs of lines changed.
    pub places: usize,
    /// How many steps could not be done.
    pub not_done: usize,
    /// Whether the file could not be done.
    pub has_failed: bool,
    /// Whether it is no file to be worked on: a binary one in a folder, or one that is gone.
    pub is_passed_over: bool,
}

impl FileResult {
    fn failed(why: impl Into<String>) -> FileResult {
        FileResult { complaints: vec![why.into()], has_failed: true, ..FileResult::default() }
    }
}

impl Work {
    /// Whether nothing is written where a step cannot be done.
    pub fn is_strict(&self) -> bool {
        matches!(self, Work::Recipe(program, _) if program.rigour == Rigour::Strict)
    }

    /// Why a step cannot be done in a file, for recipes that are strict.
    pub fn refusal(&self, file: &Gathered) -> Option<String> {
        match self.run(file) {
            Err(Trouble::Ended(ended)) => Some(ended.to_string()),
            // What cannot be read is told when it is carried out.
            Ok(_) | Err(Trouble::PassedOver | Trouble::Unreadable(_)) => None,
        }
    }

    /// Does it with one file.
    pub fn carry_out(&self, file: &Gathered, how: How) -> FileResult {
        let applied = match self.run(file) {
            Ok(Some(applied)) => applied,
            Ok(None) | Err(Trouble::PassedOver) => return FileResult { is_passed_over: true, ..FileResult::default() },
            Err(Trouble::Unreadable(why)) => return FileResult::failed(why),
            Err(Trouble::Ended(ended)) => return FileResult::failed(format!("{ended}: it stays as it was")),
        };
        let mut result = FileResult { not_done: applied.not_done, ..FileResult::default() };
        result.complaints.extend(applied.failed.iter().cloned());
        if applied.is_too_large {
            result
                .complaints
                .push("too large for its structure: blocks and the like went by brackets and lines".to_owned());
        }
        if !applied.has_changed() {
            return result;
        }
        let runs = replaced(&applied);
        result.places = runs.len().max(1);
        let name = file.path.to_string_lossy();
        match how {
            How::Diff => result.told = unified(&applied, diff_name(&name), &runs),
            How::Names => result.told = format!("{name}\n").into_bytes(),
            How::Write => write((&applied, &file.path), &Disk::default(), &mut result),
        }
        result
    }

    /// Runs it; nothing where the file is gone since it was found.
    fn run(&self, file: &Gathered) -> Result<Option<Applied>, Trouble> {
        let path = &file.path;
        match (is_binary(path), file.how) {
            (Ok(false), _) => {}
            (Ok(true), Reached::Found) => return Err(Trouble::PassedOver),
            (Ok(true), Reached::Named) => return Err(Trouble::Unreadable("it is binary".to_owned())),
            (Err(error), Reached::Found) if error.kind() == std::io::ErrorKind::NotFound => return Ok(None),
            (Err(error), _) => return Err(Trouble::Unreadable(error.to_string())),
        }
        let opened = Opened::read(path).map_err(|error| Trouble::Unreadable(error.to_string()))?;
        if opened.loaded.is_none() {
            return Ok(None);
        }
        let ran = catch_unwind(AssertUnwindSafe(|| match self {
            Work::Recipe(program, language) => apply(program, path, opened, language.as_ref()),
            Work::Keys(steps, language) => Ok(by_keys::apply(steps, path, opened, language.as_ref())),
        }));
        match ran {
            Ok(Ok(applied)) => Ok(Some(applied)),
            Ok(Err(ended)) => Err(Trouble::Ended(ended)),
            Err(_) => Err(Trouble::Unreadable(
                "a fault of Snarvel's ended it: please report it; the file stays as it was".to_owned(),
            )),
        }
    }
}

/// Why there is nothing to be told of a file.
enum Trouble {
    PassedOver,
    Unreadable(String),
    Ended(Ended),
}

/// A name after `a/`: without what a diff is not applied with.
fn diff_name(name: &str) -> &str {
    name.trim_start_matches("./").trim_start_matches('/')
}

fn write((applied, path): (&Applied, &Path), layer: &dyn FileLayer, result: &mut FileResult) {
    let places = result.places;
    let fail = |result: &mut FileResult, why: String| {
        (result.places, result.has_failed) = (0, true);
        result.complaints.push(why);
    };
    match applied.save_request(path).carry_out(layer) {
        Saved::Written(_) => {
            let what = snarvel_core::verbs::scene::counted(places, "place");
            result.told = format!("{}: {what}\n", path.to_string_lossy()).into_bytes();
        }
        Saved::Other(..) => fail(result, "it was changed by another program meanwhile: it is not written".to_owned()),
        Saved::Failed(error) => fail(result, format!("{error}: it is not written")),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use snarvel_files::save::Fresh;
    use snarvel_workspace::recipes::read;
    use std::fs;

    /// A disk on which nothing more fits.
    #[derive(Debug)]
    struct Full;

    impl FileLayer for Full {
        fn write_beside(&self, _: &Path, _: &[u8], _: Option<&fs::Metadata>) -> std::io::Result<Fresh> {
            Err(std::io::ErrorKind::StorageFull.into())
        }
    }

    #[test]
    fn a_file_is_written_whole_or_stays_and_that_is_told() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("tide.txt");
        let file = Gathered { path: path.clone(), how: Reached::Named };
        let work = Work::Recipe(read("type \"low \"").unwrap(), None);
        let written = |layer: &dyn FileLayer, meanwhile: Option<&str>| {
            fs::write(&path, "tide\n").unwrap();
            let Ok(Some(applied)) = work.run(&file) else { panic!("it can be done") };
            meanwhile.into_iter().for_each(|now| fs::write(&path, now).unwrap());
            let mut result = FileResult { places: 1, ..FileResult::default() };
            write((&applied, &path), layer, &mut result);
            let complaint = result.complaints.first().cloned().unwrap_or_default();
            (fs::read_to_string(&path).unwrap(), result.has_failed, result.places, complaint)
        };
        assert_eq!(written(&Disk::default(), None), ("low tide\n".to_owned(), false, 1, String::new()));
        let (text, has_failed, places, why) = written(&Full, None);
        assert_eq!((text.as_str(), has_failed, places), ("tide\n", true, 0));
        assert!(why.contains("it is not written") && why.contains("tide.txt"), "{why}");
        let changed = written(&Disk::default(), Some("high tide\n"));
        let why = "it was changed by another program meanwhile: it is not written";
        assert_eq!(changed, ("high tide\n".to_owned(), true, 0, why.to_owned()));
        // One that is gone since it was found is no failure.
        fs::remove_file(&path).unwrap();
        let found = Gathered { path: path.clone(), how: Reached::Found };
        assert!(work.carry_out(&found, How::Write).is_passed_over);
        assert!(work.carry_out(&file, How::Write).has_failed);
    }
}
