//! What keeps work safe: the journal of each text, work that was left behind, files that others change, what is kept between
//! starts.

use crate::ask::{Ask, AskAbout, Choice, Comparison};
use crate::buffer::saved::DiskStatus;
use crate::buffer::{Buffer, Origin};
use crate::differences;
use crate::event::Payload;
use crate::ids::BufferId;
use crate::kept::{Marked, Store, found_again, marked_in};
use crate::state::keeping::{JournalLink, Keeper, Keeping, Orphan};
use crate::tasks::About;
use crate::workspace::Workspace;
use snarvel_core::changes::Change;
use snarvel_core::changes::feed::Since;
use snarvel_core::cursors::CursorSet;
use snarvel_core::text::Text;
use snarvel_core::units::Line;
use snarvel_core::verbs::scene::counted;
use snarvel_files::journal::{Base, JournalNews, Journals, OrphanedJournal};
use snarvel_files::outside::{self, DiskNews, Watch};
use snarvel_files::save::{Disk, Rights};
use snarvel_files::saving::Overwrite;
use snarvel_files::stamp::Stamp;
use snarvel_task::waits;
use std::hash::{DefaultHasher, Hash, Hasher};
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// Changes of more bytes in memory are not noted one by one: the whole text is.
const MOST_NOTED: usize = 1 << 20;

impl Keeping {
    /// Remembers the bookmarks of a file that is closed.
    pub(crate) fn note_marks(&mut self, closed: &Buffer) {
        // Those of a text that is still being read are not known yet.
        let Some(path) = closed.path().filter(|_| !closed.is_partial()) else { return };
        self.closed.retain(|(each, _)| each != path);
        self.closed.push((path.to_owned(), marked_in(closed)));
    }
}

impl Workspace {
    /// From now on edits are noted in journals in `folder`, and what others do to files is noticed.
    ///
    /// # Errors
    /// The folder cannot be made: then edits are not noted.
    pub fn keep_safe(&mut self, folder: &Path) -> std::io::Result<()> {
        let watching = self.tasks.worker_sink(About::new("watching files"), Payload::Disk);
        self.keeping.watch = Some(Watch::start(watching));
        self.write_by(Arc::new(Disk::with_journals_in(folder.to_owned())));
        let noting = self.tasks.worker_sink(About::new("the journals"), Payload::Journals);
        let journals = Journals::in_folder(folder.to_owned(), noting);
        self.keeping.journals = journals.as_ref().ok().cloned();
        let ids: Vec<BufferId> =
            self.buffers.iter().filter(|buffer| !buffer.is_partial()).map(|buffer| buffer.id).collect();
        ids.into_iter().for_each(|id| self.begin_journal(id));
        journals.map(drop)
    }

    /// Keeps sessions and bookmarks in `store` from now on. The bookmarks are read once, in the background.
    pub fn keep_in(&mut self, store: Store) {
        let reader = store.clone();
        let about = About::new("reading bookmarks").awaited(waits::OPEN);
        self.keeping.reading_marks = Some(self.tasks.run(about, Payload::Bookmarks, move || reader.all_marked()));
        self.keeping.store = Some(store);
    }

    /// Where sessions and bookmarks are kept.
    #[must_use]
    pub fn store(&self) -> Option<&Store> {
        self.keeping.store.as_ref()
    }

    /// Takes the bookmarks of all files as they were kept.
    pub(crate) fn take_bookmarks(&mut self, marked: Vec<Marked>) {
        self.keeping.marked = Some(marked);
        let whole: Vec<BufferId> =
            self.buffers.iter().filter(|buffer| !buffer.is_partial()).map(|buffer| buffer.id).collect();
        whole.into_iter().for_each(|id| self.mark_again(id));
    }

    /// Gives a file that is opened the bookmarks that it had: when it was closed in this run, else when the program was left.
    pub(crate) fn mark_again(&mut self, id: BufferId) {
        let Some(buffer) = self.buffers.iter_mut().find(|buffer| buffer.id == id) else { return };
        let Some(path) = buffer.path().map(Path::to_owned) else { return };
        let known =
            self.keeping.closed.iter().chain(self.keeping.marked.iter().flatten()).find(|(each, _)| *each == path);
        if let Some((_, lines)) = known.filter(|_| buffer.bookmarks().is_empty()) {
            let bookmarks = found_again(lines, buffer.text());
            buffer.set_bookmarks(&bookmarks);
        }
    }

    /// Hands the session and the bookmarks to the keeper, where something of them is new, so that a program that is killed leaves
    /// them.
    pub fn keep_up(&mut self) {
        let Some(store) = self.keeping.store.as_ref().filter(|_| self.keeping.watch.is_some()) else { return };
        let mut hasher = DefaultHasher::new();
        for buffer in &self.buffers {
            (buffer.id, buffer.bookmarks().len()).hash(&mut hasher);
        }
        self.views.iter().for_each(|view| view.folds().list().len().hash(&mut hasher));
        (self.active().id, self.project.recent.first(), self.searches.patterns.first()).hash(&mut hasher);
        let now = hasher.finish();
        if now != self.keeping.handed_over {
            let kept = self.kept_in(store);
            self.keeping.handed_over = now;
            self.keeping.keeper.get_or_insert_with(Keeper::start).worker.give(kept);
        }
    }

    /// Waits until what was kept meanwhile is written, and writes what is kept at the end.
    ///
    /// # Errors
    /// The folder cannot be made, or a file not written.
    pub fn end_keeping(&mut self) -> anyhow::Result<()> {
        if let Some(Keeper { worker, ended }) = self.keeping.keeper.take() {
            drop(worker);
            // One that panicked has nothing more to write.
            let _ = ended.recv();
        }
        match &self.keeping.store {
            Some(store) => self.kept_in(store).write(),
            None => Ok(()),
        }
    }

    /// The journals, for whoever has to see that they are written.
    #[must_use]
    pub fn journals(&self) -> Option<&Journals> {
        self.keeping.journals.as_ref()
    }

    /// Waits until what was edited is in the journals, so that the end of this program does not take it: not for long, where the
    /// disk stalls. Says whether it is there.
    #[must_use]
    pub fn settle_journals(&self) -> bool {
        self.keeping.journals.as_ref().is_none_or(|journals| journals.settle(waits::JOURNAL))
    }

    /// Begins the journal of a buffer that was just opened; what was left behind for it is offered when it is found.
    pub(crate) fn begin_journal(&mut self, id: BufferId) {
        let Some(buffer) = self.buffers.iter().find(|buffer| buffer.id == id) else { return };
        if let (Some(watch), Origin::File(path)) = (&self.keeping.watch, &buffer.origin) {
            watch.know(path, buffer.saved.stamp);
        }
        let Some(journals) = &self.keeping.journals else { return };
        let journal = journals.begin(&base_of(buffer));
        self.keeping.links.insert(id, JournalLink { journal, revision: buffer.revision() });
    }

    /// Takes in which journals were there already when one began.
    pub(crate) fn take_journals(&mut self, news: JournalNews) {
        let link = self.keeping.links.iter().find(|(_, link)| link.journal.number() == news.journal);
        let Some(id) = link.map(|(id, _)| *id) else { return };
        let Some(buffer) = self.buffers.iter().find(|buffer| buffer.id == id) else { return };
        if let Some(process) = news.existing.other {
            let name = buffer.name();
            self.told.message = Some(format!(
                "another Snarvel (process {process}) has {name} open: what one saves, the other one will ask about"
            ));
        }
        if let Some(damaged) = news.existing.damaged.first() {
            self.told.message =
                Some(format!("a journal of {} cannot be read; it is kept: {}", buffer.name(), damaged.display()));
        }
        let mut lost = Vec::new();
        for journal in news.existing.left {
            match journal.recovered(&buffer.saved.on_disk, buffer.saved.stamp) {
                Some(recovered) if recovered.text != buffer.saved.on_disk => {
                    self.keeping.orphans.push(Orphan { buffer: id, journal, text: recovered.text });
                }
                // What was edited is what the file holds.
                Some(_) => journal.discard(),
                None => lost.push(journal),
            }
        }
        lost.into_iter().for_each(|journal| self.open_pieces(id, journal));
        self.ask_about_left(id);
    }

    /// The file of a buffer has changed so that what was edited cannot be made in it any more: what was typed is given a text of
    /// its own.
    fn open_pieces(&mut self, of: BufferId, journal: OrphanedJournal) {
        let name = self.buffer(of).map(Buffer::name).unwrap_or_default();
        let pieces = journal.pieces();
        if pieces.is_empty() {
            // Only deletions: nothing that could be lost.
            journal.discard();
            return;
        }
        let id = self.new_text();
        let change = differences::change(self.active().text(), &Text::from((pieces.join("\n") + "\n").as_str()));
        let now_ms = self.now_ms;
        self.commit_step(id, "recover", change, now_ms);
        self.take_over(id, journal);
        self.say(format!("{name} has changed since it was edited: what was typed then is here, in a text of its own"));
    }

    /// Asks what is to become of work that was left behind for a buffer.
    pub fn ask_about_left(&mut self, id: BufferId) {
        let Some(orphan) = self.keeping.orphans.iter().rfind(|orphan| orphan.buffer == id) else { return };
        let Some(buffer) = self.buffers.iter().find(|buffer| buffer.id == id) else { return };
        let recovered = orphan.journal.recovered(&buffer.saved.on_disk, buffer.saved.stamp);
        let is_stale = recovered.is_some_and(|recovered| recovered.is_stale);
        let rows = differences::rows(buffer.text(), &orphan.text);
        let age = orphan.journal.written_at().map(told_age).unwrap_or_default();
        let since = if is_stale { ", and the file has changed since" } else { "" };
        let name = buffer.name();
        let title = match orphan.journal.is_copy() {
            true => format!("a save of {name} was cut off{age}: + is what it held before"),
            false => format!("{name} was edited and not saved{age}{since}: + is what was left"),
        };
        self.ask(Ask::Compare(Comparison { about: AskAbout::Recovery(id), then: None, title, rows }));
    }

    /// Opens texts without a file that were left behind by a program in this folder.
    pub fn open_left(&mut self) {
        let Some(journals) = self.keeping.journals.clone() else { return };
        let folder = self.project.folder.clone();
        for journal in journals.unnamed().into_iter().filter(|journal| journal.folder() == folder) {
            let text = journal.recovered(&Text::default(), None).map(|recovered| recovered.text);
            let Some(text) = text.filter(|text| !text.is_empty()) else {
                journal.discard();
                continue;
            };
            let id = self.new_text();
            let change = differences::change(self.active().text(), &text);
            let now_ms = self.now_ms;
            self.commit_step(id, "recover", change, now_ms);
            self.say("a text without a name was left behind: here it is");
            self.take_over(id, journal);
        }
    }

    /// The buffer holds what `journal` does: that is thrown away once the buffer's own journal has it.
    fn take_over(&mut self, id: BufferId, journal: OrphanedJournal) {
        self.note_changes();
        if let Some(link) = self.keeping.links.get(&id) {
            link.journal.take_over(journal);
        }
    }

    /// Lets the journals read what was changed.
    pub(crate) fn note_changes(&mut self) {
        for (id, link) in &mut self.keeping.links {
            let Some(buffer) = self.buffers.iter().find(|buffer| buffer.id == *id) else { continue };
            if link.revision == buffer.revision() {
                continue;
            }
            let changes: Option<Vec<Arc<Change>>> = match buffer.feed().since(link.revision) {
                Since::Changes(entries) => Some(entries.iter().map(|entry| entry.change.clone()).collect()),
                Since::Lost => None,
            };
            let held = |changes: &Vec<Arc<Change>>| changes.iter().map(|change| change.heap_bytes()).sum::<usize>();
            match changes.filter(|changes| held(changes) <= MOST_NOTED) {
                Some(changes) => link.journal.note(&changes, buffer.text()),
                None => link.journal.note_whole(buffer.text()),
            }
            link.revision = buffer.revision();
        }
    }

    /// Notes what was just changed in several buffers as one step of their journals.
    pub(crate) fn note_transaction(&mut self, changed: &[(BufferId, Vec<Arc<Change>>)]) {
        let Some(journals) = self.keeping.journals.clone() else { return };
        let buffers = &self.buffers;
        let mut parts = Vec::new();
        for (id, link) in &mut self.keeping.links {
            let own = changed.iter().find(|(other, _)| other == id);
            if let (Some((_, changes)), Some(buffer)) = (own, buffers.iter().find(|buffer| buffer.id == *id)) {
                link.revision = buffer.revision();
                parts.push((&mut link.journal, changes.clone()));
            }
        }
        journals.note_transaction(parts);
    }

    /// The text of a buffer is of another file now: its journal is one of that file.
    pub(crate) fn move_journal(&mut self, id: BufferId) {
        if let Some(link) = self.keeping.links.remove(&id) {
            link.journal.end();
            self.begin_journal(id);
        }
    }

    /// The file of a buffer is called `path` now.
    pub(crate) fn move_to(&mut self, id: BufferId, path: PathBuf) {
        let Some(buffer) = self.buffers.iter_mut().find(|buffer| buffer.id == id) else { return };
        if let (Some(watch), Origin::File(old)) = (&self.keeping.watch, &buffer.origin) {
            watch.forget(old);
        }
        buffer.origin = Origin::File(path);
        self.move_journal(id);
        self.note_whole_if_modified(id);
    }

    fn note_whole_if_modified(&mut self, id: BufferId) {
        let Some(buffer) = self.buffers.iter().find(|buffer| buffer.id == id) else { return };
        if let Some(link) = self.keeping.links.get_mut(&id) {
            link.revision = buffer.revision();
            if buffer.is_modified() {
                link.journal.note_whole(buffer.text());
            }
        }
    }

    /// The file of a buffer holds what is taken for that: its journal begins there.
    pub(crate) fn begin_anew_with_disk(&mut self, id: BufferId) {
        let Some(buffer) = self.buffers.iter().find(|buffer| buffer.id == id) else { return };
        if let (Some(watch), Origin::File(path)) = (&self.keeping.watch, &buffer.origin) {
            watch.know(path, buffer.saved.stamp);
        }
        let base = base_of(buffer);
        if let Some(link) = self.keeping.links.get_mut(&id) {
            link.journal.restart(&base);
        }
        // What was edited while the file was written.
        self.note_whole_if_modified(id);
    }

    /// Nothing of a buffer is to be kept: it is closed.
    pub(crate) fn end_journal(&mut self, id: BufferId) {
        self.keeping.orphans.retain(|orphan| orphan.buffer != id);
        let path = self.buffers.iter().find(|buffer| buffer.id == id).and_then(Buffer::path);
        if let (Some(watch), Some(path)) = (&self.keeping.watch, path) {
            watch.forget(path);
        }
        self.keeping.links.remove(&id).into_iter().for_each(|link| link.journal.end());
    }

    /// Ends all journals: the program ends as its person wants, and nothing is to be kept.
    pub fn end_journals(&mut self) {
        self.keeping.links.drain().for_each(|(_, link)| link.journal.end());
        self.keeping.journals.iter().for_each(Journals::flush);
    }

    /// Looks whether others have changed the files that are open.
    pub fn look_outside(&self) {
        self.keeping.watch.iter().for_each(Watch::look);
    }

    /// Takes in what another program has done to a file.
    pub(crate) fn take_disk_news(&mut self, news: DiskNews) {
        let Some(buffer) = self.buffers.iter_mut().find(|buffer| buffer.is_of(&news.path)) else { return };
        let (id, name) = (buffer.id, buffer.name());
        let (loaded, stamp) = match news.status {
            outside::DiskStatus::Gone => {
                buffer.saved.status = Some(DiskStatus::Gone);
                self.say(format!("{name} is gone from the disk: Ctrl+S writes it again"));
                return;
            }
            outside::DiskStatus::Changed(loaded, stamp) => (loaded, stamp),
        };
        if loaded.text == buffer.saved.on_disk {
            // Written again with the same bytes, perhaps by ourselves.
            buffer.saved.stamp = Some(stamp);
            buffer.saved.status = None;
        } else if loaded.text == *buffer.text() && !buffer.history().is_being_saved() {
            buffer.is_on_disk(loaded.text, Some(stamp));
            self.begin_anew_with_disk(id);
        } else if self.is_saving(id, &loaded.text) {
            // Written by ourselves just now; that is told in its own way.
        } else if self.buffer(id).is_some_and(|buffer| !buffer.is_modified()) {
            let places = self.take_from_disk(id, &loaded.text, stamp);
            // It may have been written in another encoding: as it is now, so it is saved.
            self.buffer_mut(id).into_iter().for_each(|buffer| buffer.saved.encoding = loaded.encoding);
            self.say(format!("{name} was changed by another program: {places} taken over, Ctrl+Z shows it as it was"));
        } else {
            let changed = DiskStatus::Changed(loaded.text, stamp);
            self.buffer_mut(id).into_iter().take(1).for_each(|buffer| buffer.saved.status = None);
            if let Some(buffer) = self.buffer_mut(id) {
                buffer.saved.status = Some(changed);
            }
            self.say(format!("{name} was changed by another program, too: Ctrl+S shows both"));
        }
    }

    /// Makes `text`, which the file holds that looks like `stamp`, the text of a buffer, as a step; says how much that was.
    fn take_from_disk(&mut self, id: BufferId, text: &Text, stamp: Stamp) -> String {
        let now_ms = self.now_ms;
        let Some(buffer) = self.buffer(id) else { return String::new() };
        let change = differences::change(buffer.text(), text);
        let places = counted(change.edits().len(), "place");
        self.commit_step(id, "reload", change, now_ms);
        self.buffer_mut(id).into_iter().for_each(|buffer| buffer.is_on_disk(text.clone(), Some(stamp)));
        self.begin_anew_with_disk(id);
        places
    }

    /// Does what was chosen.
    pub fn choose(&mut self, asked: &Comparison, choice: Choice) {
        let id = asked.about.buffer();
        match (&asked.about, choice) {
            (AskAbout::Recovery(_), Choice::Take) => self.take_left(id),
            (AskAbout::Recovery(_), _) => {
                if let Some(orphan) = self.take_orphan(id) {
                    orphan.journal.discard();
                    self.say("what was left behind is thrown away");
                }
                self.ask_about_left(id);
            }
            (AskAbout::Outside(_), Choice::Take) => {
                let status = self.buffer_mut(id).and_then(|buffer| buffer.saved.status.take());
                if let Some(DiskStatus::Changed(text, stamp)) = status {
                    let places = self.take_from_disk(id, &text, stamp);
                    self.say(format!("{places} as the file holds them; yours is one Ctrl+Z away"));
                }
            }
            (AskAbout::Outside(_), _) => self.write_over(id, Rights::Minded, asked),
            (AskAbout::ReadOnly(_), _) => self.write_over(id, Rights::Passed, asked),
            (AskAbout::Over(_, path), _) => {
                self.write_to(id, path, (Overwrite::Anything, Rights::Minded), asked.then);
            }
        }
    }

    fn write_over(&mut self, id: BufferId, rights: Rights, asked: &Comparison) {
        if let Some(path) = self.buffer(id).and_then(Buffer::path).map(Path::to_owned) {
            self.write_to(id, &path, (Overwrite::Anything, rights), asked.then);
        }
    }

    fn take_orphan(&mut self, id: BufferId) -> Option<Orphan> {
        let at = self.keeping.orphans.iter().rposition(|orphan| orphan.buffer == id)?;
        Some(self.keeping.orphans.remove(at))
    }

    /// Takes work that was left behind, as a step.
    fn take_left(&mut self, id: BufferId) {
        let Some(Orphan { journal, text, .. }) = self.take_orphan(id) else { return };
        let now_ms = self.now_ms;
        let Some(buffer) = self.buffer(id) else { return };
        let line = differences::first_line(buffer.text(), &text);
        let change = differences::change(buffer.text(), &text);
        self.commit_step(id, "recover", change, now_ms);
        self.go_to_line(id, line);
        self.take_over(id, journal);
        self.say("what was left behind is here, not saved yet; Ctrl+Z takes it back");
        self.ask_about_left(id);
    }

    /// Puts a single caret of a view of the buffer at the first character of `line`.
    pub fn go_to_line(&mut self, id: BufferId, line: Line) {
        let view = self.view_of(id);
        let (buffer, view) = self.pair_mut(view);
        view.catch_up(buffer);
        let line = line.min(buffer.text().last_line());
        let at = buffer.text().indentation_span(line).end;
        view.set_cursors(buffer, CursorSet::caret(at));
    }
}

/// What the journal of `buffer` begins with.
fn base_of(buffer: &Buffer) -> Base {
    let file = buffer.path().map(|path| (path.to_owned(), buffer.saved.stamp));
    Base { text: buffer.saved.on_disk.clone(), file }
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
