//! What journals keep, and what they give back.

use super::record::{self, Record};
use super::*;
use crate::stamp::Stamp;
use proptest::prelude::*;
use snarvel_core::changes::ChangeBuilder;
use snarvel_core::units::{Byte, Span};
use std::fs::{self, File};
use std::os::unix::fs::PermissionsExt;
use std::path::Path;

fn stamp(seconds: u64) -> Stamp {
    Stamp { len: 3, modified_ns: u128::from(seconds), changed_ns: 0, inode: 1 }
}

fn base(text: &str, at: u64) -> Base {
    Base { text: Text::from(text), file: Some((PathBuf::from("/sound/gauges.rs"), Some(stamp(at)))) }
}

/// Journals in a folder, and what they tell.
struct Live {
    journals: Journals,
    news: Receiver<Report<JournalNews>>,
}

impl Live {
    fn of(folder: PathBuf) -> Live {
        let (sender, news) = channel();
        // Whoever listened may be gone.
        let journals = Journals::in_folder(folder, move |report| drop(sender.send(report)));
        Live { journals, news }
    }

    /// Begins a journal; gives it and what was there.
    fn begin(&self, base: &Base) -> (Journal, ExistingJournals) {
        let journal = self.journals.begin(base, None);
        self.journals.flush();
        let is_of_it = |news: &JournalNews| news.journal == journal.number();
        let told = self.news.try_iter().find_map(|report| match report {
            Report::News(news) if is_of_it(&news) => match news.what {
                JournalEvent::Existing(existing) => Some(existing),
                _ => None,
            },
            _ => None,
        });
        (journal, told.unwrap_or_default())
    }
}

fn replaced(text: &mut Text, from: usize, to: usize, with: &str) -> Arc<Change> {
    let mut builder = ChangeBuilder::new(text);
    builder.replace(Span::new(Byte(from), Byte(to)), with);
    let change = Arc::new(builder.finish());
    text.apply(&change);
    change
}

/// A journal with some edits, as a program that was killed leaves it: in a folder that no program has open.
fn left(folder: &Path, text: &str, edits: &[(usize, usize, &str)]) -> Text {
    let journals = Live::of(folder.join("live"));
    let mut now = Text::from(text);
    let (mut journal, _) = journals.begin(&base(text, 7));
    for (from, to, with) in edits {
        let change = replaced(&mut now, *from, *to, with);
        journal.note(&[change], &now);
    }
    journals.journals.flush();
    for entry in fs::read_dir(folder.join("live")).unwrap().flatten() {
        assert_eq!(entry.metadata().unwrap().permissions().mode() & 0o777, 0o600);
        fs::copy(entry.path(), folder.join(entry.file_name())).unwrap();
    }
    now
}

/// The journals of a program that has put "x" in before "ebb", on the disk.
fn edited(folder: &Path) -> (Live, Journal, Text) {
    let journals = Live::of(folder.to_owned());
    let (mut journal, _) = journals.begin(&base("ebb", 7));
    let mut text = Text::from("ebb");
    let change = replaced(&mut text, 0, 0, "x");
    journal.note(&[change], &text);
    journals.journals.flush();
    (journals, journal, text)
}

fn found(folder: &Path) -> Vec<OrphanedJournal> {
    let journals = Live::of(folder.to_owned());
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
    lefts.into_iter().for_each(OrphanedJournal::discard);
    assert!(found(folder.path()).is_empty());
}

#[test]
fn what_was_left_is_thrown_away_once_another_journal_holds_it() {
    let folder = tempfile::tempdir().unwrap();
    let now = left(folder.path(), "ebb flow", &[(0, 3, "tide")]);
    let journals = Live::of(folder.path().to_owned());
    let (mut journal, existing) = journals.begin(&base("ebb flow", 7));
    let left = existing.left.into_iter().next().unwrap();
    let path = left.path.clone();
    journal.note_whole(&now);
    journal.take_over(left);
    journals.journals.flush();
    assert!(!path.exists());
    // It is in the other one.
    let other = fs::read_dir(folder.path()).unwrap().flatten().find(|entry| entry.path().is_file()).unwrap();
    let records = record::read(&fs::read(other.path()).unwrap()).records;
    assert!(matches!(&records[..], [Record::Whole(text)] if *text == now.to_string()));
}

#[test]
fn what_was_left_stays_where_no_journal_can_be_written() {
    let folder = tempfile::tempdir().unwrap();
    let now = left(folder.path(), "ebb flow", &[(0, 3, "tide")]);
    let left = found(folder.path()).remove(0);
    let path = left.path.clone();
    let elsewhere = folder.path().join("gone");
    let journals = Live::of(elsewhere.clone());
    let (mut journal, _) = journals.begin(&base("ebb flow", 7));
    journals.journals.flush();
    fs::remove_dir_all(&elsewhere).unwrap();
    fs::write(&elsewhere, "in the way").unwrap();
    journal.note_whole(&now);
    journal.take_over(left);
    journals.journals.flush();
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
    journal.restart(&base("xebb", 8), None);
    let change = replaced(&mut text, 0, 0, "y");
    journal.note(&[change], &text);
    journals.journals.flush();
    assert_eq!(fs::read(&path).unwrap(), was);
    // Once it can, it goes on.
    fs::remove_dir_all(path.with_extension("new")).unwrap();
    journal.note_whole(&text);
    journals.journals.flush();
    let records = record::read(&fs::read(&path).unwrap()).records;
    assert!(matches!(&records[..], [Record::Whole(whole)] if *whole == text.to_string()));
}

#[test]
fn what_is_settled_stands_in_the_file_without_a_flush() {
    let folder = tempfile::tempdir().unwrap();
    let journals = Live::of(folder.path().to_owned());
    let (mut journal, _) = journals.begin(&base("ebb", 7));
    let mut text = Text::from("ebb");
    for word in ["flow", "tide", "swell"] {
        let change = replaced(&mut text, 0, 0, word);
        journal.note(&[change], &text);
        assert!(journals.journals.settle(Duration::MAX));
        let path = fs::read_dir(folder.path()).unwrap().flatten().next().unwrap().path();
        let record::Contents { header, records, .. } = record::read(&fs::read(&path).unwrap());
        let left =
            OrphanedJournal { path: path.clone(), header: header.unwrap(), records, _lock: File::open(path).unwrap() };
        assert_eq!(left.recovered(&Text::from("ebb"), Some(stamp(7))).unwrap().text, text);
    }
}

#[test]
fn who_gave_up_waiting_does_not_wait_again_before_that_is_there() {
    // Nobody writes here until this test does.
    let (orders, taken) = writer::JournalWriter::to_nobody();
    orders.send(JournalOrder::End { id: 1 });
    assert!(!orders.settle(Duration::ZERO));
    assert!(!orders.settle(Duration::MAX), "what was given up is still not there");
    taken.one_more();
    assert!(orders.settle(Duration::MAX));
}

#[test]
fn a_live_program_is_noticed_and_its_work_is_left_alone() {
    let folder = tempfile::tempdir().unwrap();
    let (journals, journal, _) = edited(folder.path());
    // A lock of this very process does not count as another program; its work is not taken for what a crash left either.
    let (_second, existing) = journals.begin(&base("ebb", 7));
    assert!(existing.left.is_empty() && existing.other.is_none());
    journal.end();
    journals.journals.flush();
    assert_eq!(fs::read_dir(folder.path()).unwrap().count(), 1);
}

#[test]
fn a_saved_text_leaves_nothing_and_large_ones_begin_anew() {
    let folder = tempfile::tempdir().unwrap();
    assert!(left(folder.path(), "ebb", &[]).len() == 3 && found(folder.path()).is_empty());
    let live = Live::of(folder.path().join("again"));
    let mut text = Text::from("ebb");
    let (mut journal, _) = live.begin(&base("ebb", 7));
    let change = replaced(&mut text, 0, 3, "flow");
    journal.note(&[change], &text);
    journal.restart(&Base { text: text.clone(), ..base("", 9) }, None);
    live.journals.flush();
    let size = |folder: &Path| {
        let sizes = fs::read_dir(folder).unwrap().flatten().map(|entry| entry.metadata().unwrap().len());
        sizes.sum::<u64>()
    };
    let empty = size(&folder.path().join("again"));
    for _ in 0..50 {
        journal.note_whole(&text);
    }
    live.journals.flush();
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
fn a_journal_with_a_damaged_header_is_read_all_the_same_and_one_that_is_garbage_is_kept() {
    let folder = tempfile::tempdir().unwrap();
    left(folder.path(), "ebb", &[(0, 3, "one"), (3, 3, " two")]);
    let path = fs::read_dir(folder.path()).unwrap().flatten().map(|entry| entry.path()).find(|path| path.is_file());
    let path = path.unwrap();
    let whole = fs::read(&path).unwrap();
    let header = 9 + u32::from_le_bytes(whole[1..5].try_into().unwrap()) as usize;
    // One byte of the header after the other, the kind, the length and the checksum among them.
    for at in 0..header {
        let mut damaged = whole.clone();
        damaged[at] ^= 0x55;
        fs::write(&path, &damaged).unwrap();
        let lefts = found(folder.path());
        let text = lefts[0].recovered(&Text::from("ebb"), Some(stamp(7))).unwrap().text;
        assert_eq!(
            (text.to_string().as_str(), lefts[0].pieces()),
            ("one two", vec!["one two".to_owned()]),
            "byte {at}"
        );
    }
    fs::write(&path, [0xAA; 3_000]).unwrap();
    let existing = super::existing::look(folder.path(), "");
    assert!(existing.left.is_empty());
    assert_eq!(fs::read(&existing.damaged[0]).unwrap(), [0xAA; 3_000]);
}

#[test]
fn a_step_of_several_changes_comes_back_whole_or_not_at_all() {
    let folder = tempfile::tempdir().unwrap();
    let journals = Live::of(folder.path().join("live"));
    let mut now = Text::from("ebb");
    let (mut journal, _) = journals.begin(&base("ebb", 7));
    let first = replaced(&mut now, 3, 3, " tide");
    journal.note(&[first], &now);
    let changes = ["flow", "swell", "fog"].map(|word| replaced(&mut now, 0, 1, word));
    journal.note(&changes, &now);
    journals.journals.flush();
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

#[test]
fn a_transaction_is_in_all_its_journals_or_in_none_whenever_it_is_killed() {
    let folder = tempfile::tempdir().unwrap();
    let files = ["/sound/gauges.rs", "/sound/tides.py"];
    let base = |file: &str| Base { text: Text::from("ebb"), file: Some((PathBuf::from(file), Some(stamp(7)))) };
    let live = Live::of(folder.path().join("live"));
    let [mut one, mut other] = files.map(|file| live.begin(&base(file)).0);
    // Each has an edit of its own before.
    let mut texts = [Text::from("ebb"), Text::from("ebb")];
    for (journal, text) in [&mut one, &mut other].into_iter().zip(&mut texts) {
        let change = replaced(text, 0, 0, "x");
        journal.note(&[change], text);
    }
    live.journals.flush();
    let read = || {
        let entries = fs::read_dir(folder.path().join("live")).unwrap().flatten();
        let is_journal = |name: &str| !name.starts_with("transaction");
        let mut found: Vec<(String, Vec<u8>)> = entries
            .map(|entry| (entry.file_name().to_string_lossy().into_owned(), fs::read(entry.path()).unwrap()))
            .filter(|(name, _)| is_journal(name))
            .collect();
        found.sort();
        found
    };
    let before = read();
    let changes = texts.each_mut().map(|text| vec![replaced(text, 1, 4, "flow")]);
    let [first, second] = changes;
    live.journals.note_transaction(vec![(&mut one, first), (&mut other, second)]);
    live.journals.flush();
    let after = read();
    let added = |index: usize| after[index].1[before[index].1.len()..].to_vec();
    let whole = record::transaction_file(&[0, 1].map(|index| (after[index].0.clone(), added(index))));
    // What a kill leaves: first the transaction's own file is written, then one journal, then the other.
    let mut states: Vec<(usize, usize, usize)> = (0..=whole.len()).map(|len| (len, 0, 0)).collect();
    states.extend((0..=added(0).len()).map(|len| (whole.len(), len, 0)));
    states.extend((0..=added(1).len()).map(|len| (whole.len(), added(0).len(), len)));
    let mut seen = Vec::new();
    for (transaction, one, other) in states {
        let killed = tempfile::tempdir().unwrap();
        fs::write(killed.path().join("transaction-1-1.journal"), &whole[..transaction]).unwrap();
        for (index, len) in [one, other].into_iter().enumerate() {
            let bytes = [&before[index].1[..], &added(index)[..len]].concat();
            fs::write(killed.path().join(&before[index].0), bytes).unwrap();
        }
        let live = Live::of(killed.path().to_owned());
        let texts = files.map(|file| {
            let left = live.begin(&base(file)).1.left;
            left[0].recovered(&Text::from("ebb"), Some(stamp(7))).unwrap().text.to_string()
        });
        assert_eq!(texts[0], texts[1], "killed after {transaction}, {one} and {other} bytes");
        seen.push(texts[0].clone());
    }
    seen.dedup();
    assert_eq!(seen, ["xebb", "xflow"]);
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

/// The newest text of `of` that a journal in `folder` would give back.
fn kept(folder: &Path, base: &Base) -> Option<String> {
    let left = existing::look(folder, &base::prefix_of(&base.file.as_ref()?.0)).left;
    let stamp = base.file.as_ref()?.1;
    left.last().map(|left| left.recovered(&base.text, stamp).unwrap().text.to_string())
}

#[test]
fn a_journal_that_cannot_be_written_is_told_and_begins_again_with_the_whole_text() {
    let folder = tempfile::tempdir().unwrap();
    // A file where the folder is to be.
    let [state, other] = ["state", "copy"].map(|name| folder.path().join(name));
    fs::write(&state, "in the way").unwrap();
    let live = Live::of(state.join("journals"));
    let mut journal = live.journals.begin(&base("ebb", 7), None);
    let mut text = Text::from("ebb");
    let next = |what: &str| match live.news.recv_timeout(Duration::from_secs(20)) {
        Ok(Report::News(JournalNews { what: event, .. })) => match (&event, what) {
            (JournalEvent::Stopped(why), "stopped") => assert_eq!(why, "no folder for journals, not a directory"),
            (JournalEvent::GoesOn, "goes on") => {}
            _ => panic!("{event:?}, not {what}"),
        },
        other => panic!("{other:?}"),
    };
    next("stopped");
    // Changes that come before the news of it is read, and after that the whole text.
    let change = replaced(&mut text, 0, 0, "low ");
    journal.note(&[change], &text);
    journal.note_whole(&text);
    live.journals.flush();
    fs::remove_file(&state).unwrap();
    live.journals.flush();
    next("goes on");
    let change = replaced(&mut text, 0, 0, "very ");
    journal.note(&[change], &text);
    live.journals.flush();
    fs::create_dir(&other).unwrap();
    for entry in fs::read_dir(state.join("journals")).unwrap().flatten() {
        fs::copy(entry.path(), other.join(entry.file_name())).unwrap();
    }
    assert_eq!(kept(&other, &base("ebb", 7)).as_deref(), Some("very low ebb"));
}

#[test]
fn a_journal_of_a_changed_text_is_never_without_its_changes() {
    let folder = tempfile::tempdir().unwrap();
    let (live, mut journal, text) = edited(folder.path());
    let copied = |name: &str| {
        let copy = folder.path().join(name);
        fs::create_dir(&copy).unwrap();
        for entry in fs::read_dir(folder.path()).unwrap().flatten().filter(|entry| entry.path().is_file()) {
            fs::copy(entry.path(), copy.join(entry.file_name())).unwrap();
        }
        kept(&copy, &base("eb", 8))
    };
    // Saved while it was edited: settled is as far as a frame waits.
    journal.restart(&base("eb", 8), Some(&text));
    assert!(live.journals.settle(Duration::from_secs(20)));
    assert_eq!(copied("saved").as_deref(), Some("xebb"));
    let other = live.journals.begin(&base("eb", 8), Some(&text));
    journal.end();
    assert!(live.journals.settle(Duration::from_secs(20)));
    assert_eq!(copied("moved").as_deref(), Some("xebb"));
    drop(other);
}

#[test]
fn names_of_journals_do_not_come_again_with_the_number_of_a_process() {
    let folder = tempfile::tempdir().unwrap();
    let live = Live::of(folder.path().to_owned());
    let _journal = live.begin(&base("ebb", 7));
    let name = fs::read_dir(folder.path()).unwrap().flatten().next().unwrap().file_name();
    let name = name.to_string_lossy().into_owned();
    let run = name.split('-').nth(2).unwrap();
    assert_eq!(u64::from_str_radix(run, 16).unwrap(), *base::RUN, "{name}");
}
