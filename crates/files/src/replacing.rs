//! Replacing in many files in the background: each of them as a whole or not at all, and only where it still holds what was
//! found; and taking that back.

use crate::FileError;
use crate::load::Encoding;
use crate::loading::Opened;
use crate::save::{FileLayer, Layer, Rights};
use crate::saving::{Overwrite, SaveRequest, Saved};
use crate::search::language_of;
use crate::stamp::Stamp;
use snarvel_core::changes::Change;
use snarvel_core::languages::Language;
use snarvel_core::search::pattern::Pattern;
use snarvel_core::search::replacement::Replacement;
use snarvel_core::text::{LineEnd, Text};
use snarvel_core::units::Span;
use snarvel_task::{Context, Report, Task};
use std::path::PathBuf;
use std::sync::Arc;

/// What is put in the place of what.
#[derive(Clone, Debug)]
pub struct Rule {
    /// What was looked for.
    pub pattern: Arc<Pattern>,
    /// What comes in its place.
    pub replacement: Replacement,
}

impl Rule {
    /// What replaces `hits` in `text`, which is in `language`; none where one of them is no hit any more. Line ends of the
    /// replacement are written as `line_end`.
    #[must_use]
    pub fn change(&self, text: &Text, language: &Language, hits: &[Span], line_end: LineEnd) -> Option<Change> {
        let now = self.pattern.all(text, text.span(), language.word_rule());
        let is_as_found = hits.iter().all(|hit| now.binary_search(hit).is_ok());
        is_as_found.then(|| self.replacement.change(text, &self.pattern, hits, line_end))
    }
}

/// A file in which something was replaced.
#[derive(Clone, Debug)]
pub struct Replaced {
    /// Which file.
    pub path: PathBuf,
    /// How many places of it.
    pub places: usize,
    encoding: Encoding,
    before: Text,
    after: Text,
    stamp: Option<Stamp>,
}

/// Why a file is as it was.
#[derive(Debug, thiserror::Error)]
pub enum Kept {
    /// It cannot be read or written.
    #[error(transparent)]
    Failed(#[from] FileError),
    /// It cannot be put back now: that may be tried again.
    #[error("{0}")]
    NotBack(FileError, Box<Replaced>),
    /// It holds something else now.
    #[error("{0} has changed since")]
    Changed(PathBuf),
}

/// What has become of a file. One in which there is nothing to change counts as replaced at no place.
pub type ReplaceOutcome = Result<Replaced, Kept>;

/// Begins to replace in `files`, each with its hits, and reports the outcome of each, in order. It goes on to its end whatever
/// becomes of the handle.
pub fn replace_in_background(
    rule: Rule,
    files: Vec<(PathBuf, Vec<Span>)>,
    layer: Layer,
    sink: impl Fn(Report<ReplaceOutcome>) + Send + 'static,
) -> Task {
    let work = move |context: &Context<ReplaceOutcome>| {
        for (path, hits) in files {
            context.send(rule.replaced_in(path, &hits, &*layer));
        }
    };
    snarvel_task::spawn(sink, work).detached()
}

/// Begins to write what was planned, in the files that still are as they were read, and reports the outcome of each.
pub fn write_in_background(
    planned: Vec<Replaced>,
    layer: Layer,
    sink: impl Fn(Report<ReplaceOutcome>) + Send + 'static,
) -> Task {
    let work = move |context: &Context<ReplaceOutcome>| {
        for each in planned {
            context.send(each.written(&*layer));
        }
    };
    snarvel_task::spawn(sink, work).detached()
}

/// Begins to take back what was replaced, in the files that still are as they became, and reports the outcome of each.
pub fn take_back_in_background(
    replaced: Vec<Replaced>,
    layer: Layer,
    sink: impl Fn(Report<ReplaceOutcome>) + Send + 'static,
) -> Task {
    let work = move |context: &Context<ReplaceOutcome>| {
        for each in replaced {
            let as_it_is = Box::new(each.clone());
            context.send(each.reversed().and_then(|request| request.written(&*layer)).map_err(|why| match why {
                Kept::Failed(error) => Kept::NotBack(error, as_it_is),
                why => why,
            }));
        }
    };
    snarvel_task::spawn(sink, work).detached()
}

impl Rule {
    fn replaced_in(&self, path: PathBuf, hits: &[Span], layer: &dyn FileLayer) -> ReplaceOutcome {
        let opened = Opened::read(&path)?;
        let Some(loaded) = opened.loaded else { return Err(Kept::Changed(path)) };
        let (before, mut after) = (loaded.text.clone(), loaded.text);
        let line_end = opened.layout.0.line_end.unwrap_or_else(|| LineEnd::most_frequent(&before));
        let change = self.change(&before, &language_of(&path, &before), hits, line_end);
        let Some(change) = change else { return Err(Kept::Changed(path)) };
        let places = change.edits().len();
        after.apply(&change);
        let result = Replaced { path, places, encoding: loaded.encoding, before, after, stamp: opened.stamp };
        if places == 0 { Ok(result) } else { result.written(layer) }
    }
}

impl Replaced {
    /// What a file at so many places is to become: from the first of `texts` to the second. Nothing is written yet.
    #[must_use]
    pub fn planned(
        (path, places): (PathBuf, usize),
        [before, after]: [Text; 2],
        encoding: Encoding,
        stamp: Option<Stamp>,
    ) -> Replaced {
        Replaced { path, places, encoding, before, after, stamp }
    }

    /// The same backwards.
    fn reversed(self) -> ReplaceOutcome {
        if Stamp::of(&self.path).is_none() {
            // A file that was deleted since is nothing to be brought back.
            return Err(Kept::Changed(self.path));
        }
        Ok(Replaced { before: self.after, after: self.before, ..self })
    }

    /// Writes what comes after, unless something else is there than what was before.
    fn written(self, layer: &dyn FileLayer) -> ReplaceOutcome {
        let request = SaveRequest {
            path: self.path.clone(),
            text: self.after.clone(),
            encoding: self.encoding,
            over: Overwrite::Known(self.stamp, self.before.clone()),
            rights: Rights::Minded,
            is_elsewhere: false,
        };
        match request.carry_out(layer) {
            Saved::Written(done) => Ok(Replaced { stamp: done.stamp, ..self }),
            Saved::Other(..) => Err(Kept::Changed(self.path)),
            Saved::Failed(error) => Err(error.into()),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::save::{Disk, Fresh};
    use snarvel_core::search::pattern::Query;
    use std::fs;
    use std::path::Path;
    use std::sync::mpsc::channel;

    /// A disk on which nothing more fits.
    #[derive(Debug)]
    struct Full;

    impl FileLayer for Full {
        fn write_beside(&self, _: &Path, _: &[u8], _: Option<&fs::Metadata>) -> std::io::Result<Fresh> {
            Err(std::io::ErrorKind::StorageFull.into())
        }
    }

    fn rule(what: &str, with: &str) -> Rule {
        let pattern = Pattern::new(Query { what: what.to_owned(), ..Query::default() }).unwrap();
        let replacement = Replacement::new(with, &pattern, snarvel_core::search::replacement::HitShape::Given).unwrap();
        Rule { pattern: Arc::new(pattern), replacement }
    }

    /// The hits of `what` in the file at `path`.
    fn found(path: &Path, what: &str) -> (PathBuf, Vec<Span>) {
        let text = Opened::read(path).unwrap().loaded.unwrap().text;
        let rule = rule(what, "");
        (path.to_owned(), rule.pattern.all(&text, text.span(), language_of(path, &text).word_rule()))
    }

    /// All outcomes of what `start` starts.
    fn outcomes(start: impl FnOnce(Box<dyn Fn(Report<ReplaceOutcome>) + Send>) -> Task) -> Vec<ReplaceOutcome> {
        let (sender, told) = channel();
        let _task = start(Box::new(move |report| drop(sender.send(report))));
        let outcome = |report| if let Report::News(outcome) = report { Some(outcome) } else { None };
        told.iter().map_while(outcome).collect()
    }

    fn told(outcomes: Vec<ReplaceOutcome>) -> Vec<Result<usize, String>> {
        outcomes.into_iter().map(|each| each.map(|each| each.places).map_err(|why| why.to_string())).collect()
    }

    #[test]
    fn files_are_replaced_in_where_they_hold_what_was_found_and_taken_back_where_they_are_as_they_became() {
        let folder = tempfile::tempdir().unwrap();
        let path = |name: &str| folder.path().join(name);
        let files: [(&str, &[u8]); 5] = [
            ("a.py", b"tide = 1\r\ntide = 2"),
            ("b.txt", b"\xFF\xFEt\0i\0d\0e\0"),
            ("c.txt", b"raw \xFF tide"),
            ("d.txt", b"tide"),
            ("e.txt", b"tide"),
        ];
        files.iter().for_each(|(name, content)| fs::write(path(name), content).unwrap());
        let mut found: Vec<_> = files.iter().map(|(name, _)| found(&path(name), "tide")).collect();
        found.push((path("f.txt"), Vec::new()));
        fs::write(path("d.txt"), "a tide").unwrap();
        fs::set_permissions(path("e.txt"), std::os::unix::fs::PermissionsExt::from_mode(0o444)).unwrap();
        let fates = outcomes(|sink| replace_in_background(rule("tide", "ebb"), found, Arc::new(Disk::default()), sink));
        let (done, kept): (Vec<_>, Vec<_>) = fates.into_iter().partition(Result::is_ok);
        let done: Vec<Replaced> = done.into_iter().map(Result::unwrap).collect();
        assert_eq!(done.iter().map(|each| each.places).collect::<Vec<_>>(), [2, 1, 1]);
        let kept: Vec<String> = kept.into_iter().map(|each| each.unwrap_err().to_string()).collect();
        assert!(
            kept[0].ends_with("d.txt has changed since") && kept[2].ends_with("f.txt has changed since"),
            "{kept:?}"
        );
        assert!(kept[1].contains("e.txt is read-only"), "{kept:?}");
        assert_eq!(fs::read(path("a.py")).unwrap(), b"ebb = 1\r\nebb = 2");
        assert_eq!(fs::read(path("b.txt")).unwrap(), b"\xFF\xFEe\0b\0b\0");
        assert_eq!(fs::read(path("c.txt")).unwrap(), b"raw \xFF ebb");
        assert_eq!(fs::read(path("d.txt")).unwrap(), b"a tide");
        // What cannot be put back now is kept for another try.
        let mut fates = outcomes(|sink| take_back_in_background(done[..1].to_vec(), Arc::new(Full), sink));
        let Some(Err(Kept::NotBack(_, again))) = fates.pop() else { panic!("the disk is full") };
        assert_eq!(fs::read(path("a.py")).unwrap(), b"ebb = 1\r\nebb = 2");
        let done = [vec![*again], done[1..].to_vec()].concat();
        fs::write(path("b.txt"), "of somebody else").unwrap();
        fs::remove_file(path("c.txt")).unwrap();
        let back = told(outcomes(|sink| take_back_in_background(done, Arc::new(Disk::default()), sink)));
        assert!(back[0] == Ok(2) && back[1].is_err() && back[2].is_err(), "{back:?}");
        assert_eq!(fs::read(path("a.py")).unwrap(), files[0].1);
        assert_eq!(fs::read(path("b.txt")).unwrap(), b"of somebody else");
        assert!(!path("c.txt").exists());
    }

    #[test]
    fn what_an_encoding_cannot_write_leaves_the_file_and_nothing_to_do_writes_nothing() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("latin.txt");
        let german = "Der diensthabende Lotse prüft täglich die Pegelstände für die Fähre über die Förde: tide.\n";
        let (was, ..) = encoding_rs::WINDOWS_1252.encode(german);
        fs::write(&path, &was).unwrap();
        let fate = told(outcomes(|sink| {
            replace_in_background(rule("tide", "潮"), vec![found(&path, "tide")], Arc::new(Disk::default()), sink)
        }));
        assert!(fate[0].as_ref().unwrap_err().contains("has no '潮'"), "{fate:?}");
        assert_eq!(fs::read(&path).unwrap(), *was);
        let stamp = Stamp::of(&path);
        let fate = told(outcomes(|sink| {
            replace_in_background(rule("tide", "tide"), vec![found(&path, "tide")], Arc::new(Disk::default()), sink)
        }));
        assert_eq!((fate, Stamp::of(&path)), (vec![Ok(0)], stamp));
    }
}
