//! What keeps work safe: the journal of each text, work that was left behind, files that others change.

use super::App;
use crate::differences;
use crate::document::{Document, Home};
use crate::panels::diff::{About, Choice, DiffPanel};
use crate::panels::{Matter, Panel};
use crate::session::{Keeper, Kept};
use snarvel_core::editor::Noted;
use snarvel_core::text::Text;
use snarvel_core::verbs::scene::counted;
use snarvel_files::journal::{Base, Beside, Journals, Left};
use snarvel_files::outside::{Fate, News, Watch};
use snarvel_files::save::Rights;
use snarvel_files::saving::Over;
use snarvel_files::stamp::Stamp;
use std::hash::{DefaultHasher, Hash, Hasher};
use std::path::{Path, PathBuf};
use std::time::Duration;

/// The longest that a key waits for the disk; where that stalls, for once.
const LONGEST_WAIT: Duration = Duration::from_millis(10);

/// What keeps work safe; nothing of it where nothing is to be kept.
#[derive(Debug, Default)]
pub struct Safety {
    journals: Option<Journals>,
    watch: Option<Watch>,
    /// Another file that the current text may be written over.
    over: Option<PathBuf>,
    /// Writes the session and the bookmarks.
    keeper: Option<Keeper>,
    /// What of them was handed over last.
    kept: u64,
    /// Work that was left behind and waits for an answer, with the document that it belongs to.
    waiting: Vec<(u64, Left, Text)>,
}

impl Safety {
    /// Whether anything is kept: then there is a screen that can wait for a file, too.
    pub(super) fn is_kept(&self) -> bool {
        self.watch.is_some()
    }
}

impl App {
    /// From now on edits are noted in journals in `folder`, and what others do to files is noticed.
    ///
    /// # Errors
    /// The folder cannot be made: then edits are not noted.
    pub fn keep_safe(&mut self, folder: &Path) -> std::io::Result<()> {
        let waker = self.waker.clone();
        self.safety.watch = Some(Watch::start(move || waker.wake()));
        let journals = Journals::in_folder(folder.to_owned());
        self.safety.journals = journals.as_ref().ok().cloned();
        for mut document in std::mem::take(&mut self.documents) {
            self.begin_journal(&mut document);
            self.documents.push(document);
        }
        journals.map(drop)
    }

    /// Keeps the session and the bookmarks, where something of them is new, so that a program that is killed leaves them.
    pub(super) fn keep_up(&mut self) {
        let Some(store) = self.store.as_ref().filter(|_| self.safety.is_kept()) else { return };
        let mut hasher = DefaultHasher::new();
        for document in &self.documents {
            (document.id, document.editor.bookmarks().len(), document.editor.folds().list().len()).hash(&mut hasher);
        }
        (self.document().id, self.recent.first(), self.sifted.patterns.first()).hash(&mut hasher);
        let now = hasher.finish();
        if now != self.safety.kept {
            let kept = Kept::of(store, self);
            self.safety.kept = now;
            self.safety.keeper.get_or_insert_with(Keeper::start).keep(kept);
        }
    }

    /// Waits until what was kept meanwhile is written: the end writes it anew.
    pub fn end_keeping(&mut self) {
        self.safety.keeper.take().into_iter().for_each(Keeper::end);
    }

    /// The journals, for who has to see that they are written.
    pub fn journals(&self) -> Option<&Journals> {
        self.safety.journals.as_ref()
    }

    /// Waits until what was edited stands in the journals, so that the end of this program does not take it: not for long,
    /// where the disk stalls. Says whether it stands there.
    #[must_use]
    pub fn settle_journals(&self) -> bool {
        self.safety.journals.as_ref().is_none_or(|journals| journals.settle(LONGEST_WAIT))
    }

    /// Begins the journal of `document`, which was just opened, and offers what was left behind.
    pub(super) fn begin_journal(&mut self, document: &mut Document) {
        if let (Some(watch), Home::File(path)) = (&self.safety.watch, &document.home) {
            watch.know(path, document.stamp);
        }
        let Some(journals) = &self.safety.journals else { return };
        let (journal, Beside { left, other }) = journals.begin(&base_of(document));
        document.journal = Some(journal);
        document.editor.note_changes();
        if let Some(process) = other {
            document.warning = Some(format!(
                "another Snarvel (process {process}) has {} open: what one saves, the other one will ask about",
                document.name()
            ));
        }
        let text = document.editor.text();
        for left in left {
            match left.recovered(text, document.stamp) {
                Some(recovered) if recovered.text != *text => {
                    self.safety.waiting.push((document.id, left, recovered.text));
                }
                // What was edited is what the file holds, or nothing can be made of it.
                _ => left.drop_it(),
            }
        }
    }

    /// Asks what is to become of work that was left behind for the current text.
    pub(super) fn ask_about_left(&mut self) {
        let id = self.document().id;
        let Some((_, left, text)) = self.safety.waiting.iter().rfind(|(document, ..)| *document == id) else { return };
        let document = self.document();
        let recovered = left.recovered(document.editor.text(), document.stamp);
        let is_stale = recovered.is_some_and(|recovered| recovered.is_stale);
        let rows = differences::rows(document.editor.text(), text);
        let age = left.written_at().map(told_age).unwrap_or_default();
        let title = match is_stale {
            false => format!("{} was edited and not saved{age}: + is what was left", document.name()),
            true => format!(
                "{} was edited and not saved{age}, and the file has changed since: + is what was left",
                document.name()
            ),
        };
        self.panel = Some(Panel::Diff(DiffPanel { about: About::Recovery { is_stale }, title, rows, top: 0 }));
    }

    /// Asks about the current text, where something waits and nothing else is asked.
    pub fn ask_again(&mut self) {
        if self.panel.is_none() {
            self.ask_about_left();
        }
    }

    /// Opens texts without a file that were left behind by a program in this folder.
    pub fn open_left(&mut self) {
        let Some(journals) = self.safety.journals.clone() else { return };
        let folder = self.folder.clone();
        for left in journals.unnamed().into_iter().filter(|left| left.folder() == folder) {
            let text = left.recovered(&Text::default(), None).map(|recovered| recovered.text);
            if let Some(text) = text.filter(|text| !text.is_empty()) {
                let mut document = Document::untitled(self.settings.manner);
                self.begin_journal(&mut document);
                let change = differences::change(document.editor.text(), &text);
                document.editor.carry("recover", change, self.now_ms);
                self.show_document(document);
                self.say("a text without a name was left behind: here it is");
                self.take_over(left);
            } else {
                left.drop_it();
            }
        }
    }

    /// The current text holds `left` now.
    fn take_over(&mut self, left: Left) {
        self.note_changes();
        if let Some(journal) = &self.document().journal {
            journal.take_over(left);
        }
    }

    /// Hands what was edited to the journals.
    pub(super) fn note_changes(&mut self) {
        for document in &mut self.documents {
            let Some(journal) = &mut document.journal else { continue };
            match document.editor.take_noted() {
                Noted::Changes(changes) => journal.note(&changes, document.editor.text()),
                Noted::Whole => journal.note_whole(document.editor.text()),
            }
        }
    }

    /// The text of `index` has another home now: its journal is one of that file.
    pub(super) fn move_journal(&mut self, index: usize) {
        let mut document = std::mem::replace(&mut self.documents[index], Document::untitled(self.settings.manner));
        if let Some(journal) = document.journal.take() {
            journal.end();
            self.begin_journal(&mut document);
        }
        self.documents[index] = document;
    }

    /// The file of `index` is called `path` now.
    pub(super) fn move_home(&mut self, index: usize, path: PathBuf) {
        let document = &mut self.documents[index];
        if let (Some(watch), Home::File(old)) = (&self.safety.watch, &document.home) {
            watch.forget(old);
        }
        document.home = Home::File(path);
        self.move_journal(index);
        let document = &mut self.documents[index];
        if let Some(journal) = document.journal.as_mut().filter(|_| document.editor.is_modified()) {
            journal.note_whole(document.editor.text());
        }
    }

    /// The file of `index` holds what the document takes for that: its journal begins there.
    pub(super) fn settle_with_disk(&mut self, index: usize) {
        let document = &mut self.documents[index];
        // What was edited before is of the past.
        let _ = document.editor.take_noted();
        if let (Some(watch), Home::File(path)) = (&self.safety.watch, &document.home) {
            watch.know(path, document.stamp);
        }
        let base = base_of(document);
        let Some(journal) = &mut document.journal else { return };
        journal.restart(&base);
        // What was edited while the file was written.
        if document.editor.is_modified() {
            journal.note_whole(document.editor.text());
        }
    }

    /// Nothing of `document` is to be kept: it is closed.
    pub(super) fn end_journal(&mut self, document: &mut Document) {
        self.safety.waiting.retain(|(id, ..)| *id != document.id);
        if let (Some(watch), Home::File(path)) = (&self.safety.watch, &document.home) {
            watch.forget(path);
        }
        document.journal.take().into_iter().for_each(snarvel_files::journal::Journal::end);
    }

    /// Ends all journals: the program ends as its person wants, and nothing is to be kept.
    pub fn end_journals(&mut self) {
        for document in &mut self.documents {
            document.journal.take().into_iter().for_each(snarvel_files::journal::Journal::end);
        }
        self.safety.journals.iter().for_each(Journals::flush);
    }

    /// Looks whether others have changed the files that are open.
    pub fn look_outside_files(&self) {
        self.safety.watch.iter().for_each(Watch::look);
    }

    /// Takes in what others have done to files.
    pub(super) fn gather_news(&mut self) {
        let news = self.safety.watch.as_ref().map(Watch::gather).unwrap_or_default();
        for News { path, fate } in news {
            let index = self.documents.iter().position(|document| document.home == Home::File(path.clone()));
            if let Some(index) = index {
                self.take_in_fate(index, fate);
            }
        }
    }

    fn take_in_fate(&mut self, index: usize, fate: Fate) {
        let document = &mut self.documents[index];
        let name = document.name();
        match fate {
            Fate::Gone => {
                document.fate = Some(crate::document::Fate::Gone);
                self.say(format!("{name} is gone from the disk: Ctrl+S writes it again"));
            }
            Fate::Changed(loaded, stamp) if loaded.text == document.on_disk => {
                // Written again with the same bytes, perhaps by ourselves.
                document.stamp = Some(stamp);
                document.fate = None;
            }
            Fate::Changed(loaded, _) if self.saves.iter().any(|save| save.is_of(document, &loaded.text)) => {
                // Written by ourselves just now; that is told in its own way.
            }
            Fate::Changed(loaded, stamp) if loaded.text == *document.editor.text() => {
                document.holds_now(loaded.text, Some(stamp));
                self.settle_with_disk(index);
            }
            Fate::Changed(loaded, stamp) if !document.editor.is_modified() => {
                let lines = self.take_from_disk(index, loaded.text, stamp);
                self.say(format!(
                    "{name} was changed by another program: {lines} taken over, Ctrl+Z shows it as it was"
                ));
            }
            Fate::Changed(loaded, stamp) => {
                document.fate = Some(crate::document::Fate::Changed(loaded.text, stamp));
                self.say(format!("{name} was changed by another program, too: Ctrl+S shows both"));
            }
        }
    }

    /// Makes `text`, which the file holds that looks like `stamp`, the text of a document, as a step; says how much that was.
    fn take_from_disk(&mut self, index: usize, text: Text, stamp: Stamp) -> String {
        let now_ms = self.now_ms;
        let document = &mut self.documents[index];
        let change = differences::change(document.editor.text(), &text);
        let places = counted(change.edits().len(), "place");
        document.editor.carry("reload", change, now_ms);
        document.holds_now(text, Some(stamp));
        self.settle_with_disk(index);
        places
    }

    /// Asks what is to become of the current text, which was to be written to `path`, where somebody else's stands.
    pub(super) fn ask_about_other(&mut self, path: &Path, (other, stamp): (Text, Stamp), then: Option<Matter>) {
        let document = self.document_mut();
        let rows = differences::rows(document.editor.text(), &other);
        let (about, title) = if document.home == Home::File(path.to_owned()) {
            document.fate = Some(crate::document::Fate::Changed(other, stamp));
            let name = document.name();
            let said = "was changed by another program since it was opened: − is yours, + what the file holds";
            (About::Outside(then), format!("{name} {said}"))
        } else {
            self.safety.over = Some(path.to_owned());
            (About::Over(then), format!("{} is there already: − is yours, + what it holds", path.display()))
        };
        self.panel = Some(Panel::Diff(DiffPanel { about, title, rows, top: 0 }));
    }

    /// Asks whether a file is to be written that its rights protect.
    pub(super) fn ask_write_through(&mut self, then: Option<Matter>) {
        let title = format!("{} is read-only: its rights say that nobody writes it", self.document().name());
        let about = About::ReadOnly(then);
        self.panel = Some(Panel::Diff(DiffPanel { about, title, rows: Vec::new(), top: 0 }));
    }

    /// Does what was chosen.
    pub(super) fn choose(&mut self, about: About, choice: Choice) {
        match (about, choice) {
            (About::Recovery { .. }, Choice::Take) => self.take_left(),
            (About::Recovery { .. }, _) => {
                if let Some((left, _)) = self.take_waiting() {
                    left.drop_it();
                    self.say("what was left behind is thrown away");
                }
                self.ask_about_left();
            }
            (About::Outside(_), Choice::Take) => {
                let index = self.current;
                if let Some(crate::document::Fate::Changed(text, stamp)) = self.document_mut().fate.take() {
                    let places = self.take_from_disk(index, text, stamp);
                    self.say(format!("{places} as the file holds them; yours is one Ctrl+Z away"));
                }
            }
            (About::Outside(then), _) => self.write_over(then, Rights::Minded),
            (About::ReadOnly(then), _) => self.write_over(then, Rights::Passed),
            (About::Over(then), _) => {
                if let Some(path) = self.safety.over.take() {
                    self.write_to(&path, then, Over::Anything, Rights::Minded);
                }
            }
        }
    }

    fn write_over(&mut self, then: Option<Matter>, rights: Rights) {
        if let Home::File(path) = self.document().home.clone() {
            self.write_to(&path, then, Over::Anything, rights);
        }
    }

    fn take_waiting(&mut self) -> Option<(Left, Text)> {
        let id = self.document().id;
        let at = self.safety.waiting.iter().rposition(|(document, ..)| *document == id)?;
        let (_, left, text) = self.safety.waiting.remove(at);
        Some((left, text))
    }

    /// Takes work that was left behind, as a step; it is thrown away once this program's journal holds it.
    fn take_left(&mut self) {
        let Some((left, text)) = self.take_waiting() else { return };
        let now_ms = self.now_ms;
        let editor = &mut self.document_mut().editor;
        let line = differences::first_line(editor.text(), &text);
        let change = differences::change(editor.text(), &text);
        editor.carry("recover", change, now_ms);
        self.go_to(line);
        self.take_over(left);
        self.say("what was left behind is here, not saved yet; Ctrl+Z takes it back");
        self.ask_about_left();
    }
}

/// What the journal of `document` begins with.
fn base_of(document: &Document) -> Base {
    let file = match &document.home {
        Home::File(path) => Some((path.clone(), document.stamp)),
        Home::Pipe | Home::None => None,
    };
    Base { text: document.on_disk.clone(), file }
}

/// How long ago that was.
fn told_age(written_at: u64) -> String {
    let now = std::time::SystemTime::now().duration_since(std::time::UNIX_EPOCH).map_or(0, |time| time.as_secs());
    let seconds = now.saturating_sub(written_at);
    match seconds {
        0..60 => " a moment ago".to_owned(),
        60..7200 => format!(" {} minutes ago", seconds / 60),
        7200..172_800 => format!(" {} hours ago", seconds / 3600),
        _ => format!(" {} days ago", seconds / 86_400),
    }
}

#[cfg(test)]
mod tests {
    use crate::app::App;
    use crate::palette::{Depth, Palette, Tide};
    use crate::panels::Panel;
    use crate::panels::files::Deed;
    use crate::screen::layout::Size;
    use std::fs;
    use std::path::Path;
    use std::time::{Duration, Instant};

    #[test]
    fn what_was_edited_of_a_file_that_has_another_name_now_is_left_under_that() {
        let folder = tempfile::tempdir().unwrap();
        let (work, state) = (folder.path().join("work"), folder.path().join("state"));
        fs::create_dir(&work).unwrap();
        fs::write(work.join("a.py"), "ebb = 1\n").unwrap();
        let started = |name: &str| {
            let mut app = App::new(Vec::new(), work.clone(), Palette::new(Tide::Night, Depth::True), Size::REFERENCE);
            app.keep_safe(&state).unwrap();
            app.open(Path::new(name));
            app
        };
        let mut app = started("a.py");
        app.paste("x");
        app.do_to_file(Deed::Rename(work.join("a.py"), work.join("b.py")));
        assert_eq!(app.document().path(), Some(work.join("b.py").as_path()));
        app.journals().unwrap().flush();
        // As if it was killed: its journal stays, and nobody holds it.
        drop(app);
        let mut again = started("b.py");
        let until = Instant::now() + Duration::from_secs(20);
        while again.panel.is_none() {
            assert!(Instant::now() < until, "nothing was left behind");
            again = started("b.py");
        }
        assert!(matches!(again.panel, Some(Panel::Diff(_))));
    }
}
