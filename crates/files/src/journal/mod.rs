//! The journal: what was edited since the last save, so that a crash loses no work.
//!
//! Each open text has a file of its own in the state folder, for its owner's eyes only. It begins with what the text was
//! ([`Base`]) and goes on with each change. A thread writes what it is handed at once, so that a program that is killed has
//! lost nothing, and flushes it to the disk within a second, for a machine that loses power. The file is locked while its
//! program lives: who finds one that is not has found work that was left behind ([`Left`]).

mod record;
mod writer;

use crate::stamp::{Stamp, number_of};
use record::{Header, Record};
use snarvel_core::changes::Change;
use snarvel_core::text::Text;
use std::fs::{self, File, TryLockError};
use std::path::{Path, PathBuf};
use std::sync::atomic::{AtomicU64, Ordering};
use std::sync::mpsc::{Receiver, channel};
use std::time::Duration;
use writer::{Order, Orders};

/// What a text was when its journal began: the file's contents, as they were loaded or saved.
#[derive(Clone, Debug)]
pub struct Base {
    /// The text.
    pub text: Text,
    /// The file that held it, and how that looked; none for a text without a file.
    pub file: Option<(PathBuf, Option<Stamp>)>,
}

/// All journals of a program.
#[derive(Clone, Debug)]
pub struct Journals {
    folder: PathBuf,
    orders: Orders,
}

/// The journal of one text. Dropping it leaves the file: only [`Journal::end`] says that nothing is to be kept.
#[derive(Debug)]
pub struct Journal {
    id: u64,
    orders: Orders,
    written: usize,
}

/// What opening a journal found beside.
#[derive(Debug, Default)]
pub struct Beside {
    /// Work that was left behind, the newest last.
    pub left: Vec<Left>,
    /// Another program that has the same file open.
    pub other: Option<u32>,
}

/// Work that was left behind.
#[derive(Debug)]
pub struct Left {
    path: PathBuf,
    header: Header,
    records: Vec<Record>,
    /// Held so that no other program takes it, too.
    _lock: File,
}

/// What became of work that was left behind.
#[derive(Debug)]
pub struct Recovered {
    /// The text as it was left.
    pub text: Text,
    /// Whether the file has changed since, so that it holds something else than what was edited.
    pub is_stale: bool,
}

/// A text up to this many bytes is kept whole with its journal, so that its edits are of use even when the file changes.
const LARGEST_BASE: usize = 4 << 20;

/// A journal that has grown by so many bytes begins anew with the whole text, unless that is larger.
const LARGEST_JOURNAL: usize = 16 << 20;

impl Journals {
    /// In `folder`, which is made where it is missing; starts the thread that writes.
    ///
    /// # Errors
    /// What the system says.
    pub fn in_folder(folder: PathBuf) -> std::io::Result<Journals> {
        use std::os::unix::fs::DirBuilderExt;
        fs::DirBuilder::new().recursive(true).mode(0o700).create(&folder)?;
        Ok(Journals { folder, orders: Orders::to_a_thread() })
    }

    /// Begins the journal of a text, and says what is there already for its file.
    pub fn begin(&self, base: &Base) -> (Journal, Beside) {
        static NEXT: AtomicU64 = AtomicU64::new(0);
        let id = NEXT.fetch_add(1, Ordering::Relaxed);
        let file = base.file.as_ref().map(|(path, _)| path.as_path());
        let beside = file.map(|file| self.beside(&prefix_of(file))).unwrap_or_default();
        let prefix = file.map_or_else(|| UNNAMED.to_owned(), prefix_of);
        let path = self.folder.join(format!("{prefix}{}-{id}.journal", std::process::id()));
        let journal = Journal { id, orders: self.orders.clone(), written: 0 };
        self.orders.send(Order::Begin { id, path, base: base.clone() });
        (journal, beside)
    }

    /// Texts without a file that were left behind.
    pub fn unnamed(&self) -> Vec<Left> {
        self.beside(UNNAMED).left
    }

    fn beside(&self, prefix: &str) -> Beside {
        let mut found = Beside::default();
        let entries = fs::read_dir(&self.folder).into_iter().flatten().flatten();
        let mut paths: Vec<PathBuf> = entries
            .map(|entry| entry.path())
            .filter(|path| path.file_name().is_some_and(|name| name.to_string_lossy().starts_with(prefix)))
            .collect();
        paths.sort_by_key(|path| fs::metadata(path).and_then(|meta| meta.modified()).ok());
        for path in paths {
            let Ok(file) = File::options().read(true).write(true).open(&path) else { continue };
            let is_locked = matches!(file.try_lock(), Err(TryLockError::WouldBlock));
            let content = fs::read(&path).unwrap_or_default();
            let (header, records) = record::read(&content);
            match (is_locked, header) {
                (true, header) => {
                    let other = header.map_or(0, |header| header.process);
                    found.other = Some(other).filter(|other| *other != std::process::id()).or(found.other);
                }
                (false, Some(header)) if !records.is_empty() => {
                    found.left.push(Left { path, header, records, _lock: file });
                }
                // Nothing was edited, or nothing of it can be read.
                (false, _) => drop(fs::remove_file(&path)),
            }
        }
        found
    }

    /// Waits until everything that was handed over stands in its file, on the disk.
    pub fn flush(&self) {
        let (done, wait): (_, Receiver<()>) = channel();
        self.orders.send(Order::Flush(done));
        // Nobody answers where the thread is gone.
        let _ = wait.recv();
    }

    /// Waits until what was handed over stands in its files, so that the end of this program does not take it: for `longest`
    /// at most, and not at all while what an earlier call gave up waiting for is still not there, so that a disk that stalls
    /// holds nobody up twice. A whole text waits for the next flush and is not waited for. Says whether all is there.
    #[must_use]
    pub fn settle(&self, longest: Duration) -> bool {
        self.orders.settle(longest)
    }
}

/// How journals of texts without a file begin.
const UNNAMED: &str = "unnamed-";

/// How the journals of `file` begin.
fn prefix_of(file: &Path) -> String {
    format!("{:016x}-", number_of(file))
}

impl Journal {
    /// Notes what changed the text in one step, in order; it is `after` now.
    pub fn note(&mut self, changes: &[Change], after: &Text) {
        if changes.is_empty() {
            return;
        }
        let bytes = record::step(changes);
        self.written += bytes.len();
        if self.written > LARGEST_JOURNAL.max(2 * after.len()) {
            self.note_whole(after);
        } else {
            self.orders.send(Order::Change { id: self.id, bytes });
        }
    }

    /// Notes that the text is `after` now, by whatever changes.
    pub fn note_whole(&mut self, after: &Text) {
        self.written = 0;
        self.orders.send(Order::Whole { id: self.id, text: after.clone() });
    }

    /// Begins anew: the text was saved, or loaded again.
    pub fn restart(&mut self, base: &Base) {
        self.written = 0;
        self.orders.send(Order::Restart { id: self.id, base: base.clone() });
    }

    /// What was left behind is in the text now, which was noted: it is thrown away once this journal stands on the disk, and
    /// stays where that cannot be.
    pub fn take_over(&self, left: Left) {
        self.orders.send(Order::TakeOver { id: self.id, left });
    }

    /// Ends it: nothing is to be kept.
    pub fn end(self) {
        self.orders.send(Order::End { id: self.id });
    }
}

impl Left {
    /// The text as it was left; none where it cannot be made from `now`, what the file holds, which looks as `stamp` says.
    #[must_use]
    pub fn recovered(&self, now: &Text, stamp: Option<Stamp>) -> Option<Recovered> {
        let is_same = self.header.stamp == stamp;
        let base = self.records.iter().find_map(|record| match record {
            Record::Base(text) => Some(Text::from(text.as_str())),
            _ => None,
        });
        let is_stale = !is_same && base.as_ref().is_none_or(|base| base != now);
        let mut text = base.or_else(|| is_same.then(|| now.clone()));
        for record in &self.records {
            match record {
                Record::Base(_) => {}
                Record::Whole(whole) => text = Some(Text::from(whole.as_str())),
                Record::Change(edits) => text = Some(record::apply(edits, &text?)?),
            }
        }
        Some(Recovered { text: text?, is_stale })
    }

    /// When the last of it was written, in seconds since 1970.
    #[must_use]
    pub fn written_at(&self) -> Option<u64> {
        let modified = fs::metadata(&self.path).and_then(|meta| meta.modified()).ok()?;
        modified.duration_since(std::time::UNIX_EPOCH).ok().map(|time| time.as_secs())
    }

    /// The folder that a text without a file belonged to.
    #[must_use]
    pub fn folder(&self) -> PathBuf {
        self.header.folder()
    }

    /// Throws it away.
    pub fn drop_it(self) {
        let _ = fs::remove_file(&self.path);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use snarvel_core::changes::ChangeBuilder;
    use snarvel_core::units::{Byte, Span};
    use std::os::unix::fs::PermissionsExt;

    fn stamp(seconds: u64) -> Stamp {
        Stamp { len: 3, modified_ns: u128::from(seconds), inode: 1 }
    }

    fn base(text: &str, at: u64) -> Base {
        Base { text: Text::from(text), file: Some((PathBuf::from("/sound/gauges.rs"), Some(stamp(at)))) }
    }

    fn replaced(text: &mut Text, from: usize, to: usize, with: &str) -> Change {
        let mut builder = ChangeBuilder::new(text);
        builder.replace(Span::new(Byte(from), Byte(to)), with);
        let change = builder.finish();
        text.apply(&change);
        change
    }

    /// A journal with some edits, as a program that was killed leaves it: in a folder that no program has open.
    fn left(folder: &Path, text: &str, edits: &[(usize, usize, &str)]) -> Text {
        let journals = Journals::in_folder(folder.join("live")).unwrap();
        let mut now = Text::from(text);
        let (mut journal, _) = journals.begin(&base(text, 7));
        for (from, to, with) in edits {
            let change = replaced(&mut now, *from, *to, with);
            journal.note(&[change], &now);
        }
        journals.flush();
        for entry in fs::read_dir(folder.join("live")).unwrap().flatten() {
            assert_eq!(entry.metadata().unwrap().permissions().mode() & 0o777, 0o600);
            fs::copy(entry.path(), folder.join(entry.file_name())).unwrap();
        }
        now
    }

    /// The journals of a program that has put "x" in before "ebb", on the disk.
    fn edited(folder: &Path) -> (Journals, Journal, Text) {
        let journals = Journals::in_folder(folder.to_owned()).unwrap();
        let (mut journal, _) = journals.begin(&base("ebb", 7));
        let mut text = Text::from("ebb");
        let change = replaced(&mut text, 0, 0, "x");
        journal.note(&[change], &text);
        journals.flush();
        (journals, journal, text)
    }

    fn found(folder: &Path) -> Vec<Left> {
        let journals = Journals::in_folder(folder.to_owned()).unwrap();
        journals.begin(&base("", 7)).1.left
    }

    #[test]
    fn what_was_left_is_found_and_comes_back() {
        let folder = tempfile::tempdir().unwrap();
        let now = left(folder.path(), "ebb flow", &[(0, 3, "tide"), (4, 4, "\u{F7FF}é"), (0, 1, "")]);
        let lefts = found(folder.path());
        let recovered = lefts[0].recovered(&Text::from("ebb flow"), Some(stamp(7))).unwrap();
        assert_eq!((recovered.text, recovered.is_stale), (now.clone(), false));
        // The file has changed since: what was left is known still, and told to be of another text.
        let recovered = lefts[0].recovered(&Text::from("other"), Some(stamp(8))).unwrap();
        assert_eq!((recovered.text, recovered.is_stale), (now, true));
        lefts.into_iter().for_each(Left::drop_it);
        assert!(found(folder.path()).is_empty());
    }

    #[test]
    fn what_was_left_is_thrown_away_once_another_journal_holds_it() {
        let folder = tempfile::tempdir().unwrap();
        let now = left(folder.path(), "ebb flow", &[(0, 3, "tide")]);
        let journals = Journals::in_folder(folder.path().to_owned()).unwrap();
        let (mut journal, beside) = journals.begin(&base("ebb flow", 7));
        let left = beside.left.into_iter().next().unwrap();
        let path = left.path.clone();
        journal.note_whole(&now);
        journal.take_over(left);
        journals.flush();
        assert!(!path.exists());
        // It is in the other one.
        let other = fs::read_dir(folder.path()).unwrap().flatten().find(|entry| entry.path().is_file()).unwrap();
        let (_, records) = record::read(&fs::read(other.path()).unwrap());
        assert!(matches!(&records[..], [Record::Whole(text)] if *text == now.to_string()));
    }

    #[test]
    fn what_was_left_stays_where_no_journal_can_be_written() {
        let folder = tempfile::tempdir().unwrap();
        let now = left(folder.path(), "ebb flow", &[(0, 3, "tide")]);
        let left = found(folder.path()).remove(0);
        let path = left.path.clone();
        let elsewhere = folder.path().join("gone");
        let journals = Journals::in_folder(elsewhere.clone()).unwrap();
        let (mut journal, _) = journals.begin(&base("ebb flow", 7));
        journals.flush();
        fs::remove_dir_all(elsewhere).unwrap();
        journal.note_whole(&now);
        journal.take_over(left);
        journals.flush();
        assert!(path.exists());
    }

    #[test]
    fn a_journal_that_cannot_begin_anew_takes_nothing_more() {
        let folder = tempfile::tempdir().unwrap();
        let (journals, mut journal, mut text) = edited(folder.path());
        let path = fs::read_dir(folder.path()).unwrap().flatten().next().unwrap().path();
        let was = fs::read(&path).unwrap();
        // A folder in the way of the new file.
        fs::create_dir_all(path.with_extension("new").join("in the way")).unwrap();
        journal.restart(&base("xebb", 8));
        let change = replaced(&mut text, 0, 0, "y");
        journal.note(&[change], &text);
        journals.flush();
        assert_eq!(fs::read(&path).unwrap(), was);
        // Once it can, it goes on.
        fs::remove_dir_all(path.with_extension("new")).unwrap();
        journal.note_whole(&text);
        journals.flush();
        let (_, records) = record::read(&fs::read(&path).unwrap());
        assert!(matches!(&records[..], [Record::Whole(whole)] if *whole == text.to_string()));
    }

    #[test]
    fn what_is_settled_stands_in_the_file_without_a_flush() {
        let folder = tempfile::tempdir().unwrap();
        let journals = Journals::in_folder(folder.path().to_owned()).unwrap();
        let (mut journal, _) = journals.begin(&base("ebb", 7));
        let mut text = Text::from("ebb");
        for word in ["flow", "tide", "swell"] {
            let change = replaced(&mut text, 0, 0, word);
            journal.note(&[change], &text);
            assert!(journals.settle(Duration::MAX));
            let path = fs::read_dir(folder.path()).unwrap().flatten().next().unwrap().path();
            let (header, records) = record::read(&fs::read(&path).unwrap());
            let left = Left { path: path.clone(), header: header.unwrap(), records, _lock: File::open(path).unwrap() };
            assert_eq!(left.recovered(&Text::from("ebb"), Some(stamp(7))).unwrap().text, text);
        }
    }

    #[test]
    fn who_gave_up_waiting_does_not_wait_again_before_that_is_there() {
        // Nobody writes here until this test does.
        let (orders, taken) = writer::Orders::to_nobody();
        orders.send(Order::End { id: 1 });
        assert!(!orders.settle(Duration::ZERO));
        assert!(!orders.settle(Duration::MAX), "what was given up is still not there");
        taken.one_more();
        assert!(orders.settle(Duration::MAX));
    }

    #[test]
    fn a_live_program_is_noticed_and_its_work_is_left_alone() {
        let folder = tempfile::tempdir().unwrap();
        let (journals, journal, _) = edited(folder.path());
        // A lock of this very process does not count as another program; its work is not taken for left behind either.
        let (_second, beside) = journals.begin(&base("ebb", 7));
        assert!(beside.left.is_empty() && beside.other.is_none());
        journal.end();
        journals.flush();
        assert_eq!(fs::read_dir(folder.path()).unwrap().count(), 1);
    }

    #[test]
    fn a_saved_text_leaves_nothing_and_large_ones_begin_anew() {
        let folder = tempfile::tempdir().unwrap();
        assert!(left(folder.path(), "ebb", &[]).len() == 3 && found(folder.path()).is_empty());
        let live = Journals::in_folder(folder.path().join("again")).unwrap();
        let mut text = Text::from("ebb");
        let (mut journal, _) = live.begin(&base("ebb", 7));
        let change = replaced(&mut text, 0, 3, "flow");
        journal.note(&[change], &text);
        journal.restart(&Base { text: text.clone(), ..base("", 9) });
        live.flush();
        let size = |folder: &Path| {
            let sizes = fs::read_dir(folder).unwrap().flatten().map(|entry| entry.metadata().unwrap().len());
            sizes.sum::<u64>()
        };
        let empty = size(&folder.path().join("again"));
        for _ in 0..50 {
            journal.note_whole(&text);
        }
        live.flush();
        assert!(size(&folder.path().join("again")) < empty + 100);
    }

    #[test]
    fn a_journal_that_was_torn_gives_what_was_whole_of_it() {
        let folder = tempfile::tempdir().unwrap();
        left(folder.path(), "ebb", &[(0, 3, "one"), (0, 3, "two"), (0, 3, "six")]);
        let path = fs::read_dir(folder.path()).unwrap().flatten().map(|entry| entry.path()).find(|path| path.is_file());
        let path = path.unwrap();
        let whole = fs::read(&path).unwrap();
        let mut seen = Vec::new();
        for len in 0..whole.len() {
            fs::write(&path, &whole[..len]).unwrap();
            let lefts = found(folder.path());
            let text = lefts.first().and_then(|left| left.recovered(&Text::from("ebb"), Some(stamp(7))));
            seen.push(text.map_or("ebb".to_owned(), |recovered| recovered.text.to_string()));
        }
        seen.dedup();
        assert_eq!(seen, ["ebb", "one", "two"]);
    }

    #[test]
    fn a_step_of_several_changes_comes_back_whole_or_not_at_all() {
        let folder = tempfile::tempdir().unwrap();
        let journals = Journals::in_folder(folder.path().join("live")).unwrap();
        let mut now = Text::from("ebb");
        let (mut journal, _) = journals.begin(&base("ebb", 7));
        let first = replaced(&mut now, 3, 3, " tide");
        journal.note(&[first], &now);
        let changes = ["flow", "swell", "fog"].map(|word| replaced(&mut now, 0, 1, word));
        journal.note(&changes, &now);
        journals.flush();
        let live = fs::read_dir(folder.path().join("live")).unwrap().flatten().next().unwrap();
        let (path, whole) = (folder.path().join(live.file_name()), fs::read(live.path()).unwrap());
        let mut seen = Vec::new();
        for len in 0..=whole.len() {
            fs::write(&path, &whole[..len]).unwrap();
            let lefts = found(folder.path());
            let text = lefts.first().and_then(|left| left.recovered(&Text::from("ebb"), Some(stamp(7))));
            seen.push(text.map_or("ebb".to_owned(), |recovered| recovered.text.to_string()));
        }
        seen.dedup();
        assert_eq!(seen, ["ebb", "ebb tide", &now.to_string()]);
    }

    proptest! {
        #[test]
        fn broken_bytes_never_panic(bytes in proptest::collection::vec(any::<u8>(), 0..200), cut in 0usize..400, with: u8) {
            let folder = tempfile::tempdir().unwrap();
            left(folder.path(), "ebb flow", &[(0, 3, "tide"), (1, 2, "é")]);
            let path = fs::read_dir(folder.path()).unwrap().flatten().map(|entry| entry.path()).find(|path| path.is_file());
            let path = path.unwrap();
            let mut whole = fs::read(&path).unwrap();
            let at = cut % whole.len();
            whole[at] ^= with;
            whole.extend(bytes);
            fs::write(&path, whole).unwrap();
            for left in found(folder.path()) {
                let _ = left.recovered(&Text::from("ebb flow"), Some(stamp(7)));
                let _ = left.recovered(&Text::from("é"), None);
            }
        }
    }
}
