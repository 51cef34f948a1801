//! What keeps work safe: the journal of each text, work left by a crash, files that others change, what is kept between
//! starts.

use crate::buffer::{Buffer, Origin};
use crate::compared::LeftWork;
use crate::differences;
use crate::event::Payload;
use crate::ids::BufferId;
use crate::kept::{Marked, MarkedLine, Store, found_again, marked_in};
use crate::project::Trust;
use crate::state::keeping::{JournalLink, Keeper, Keeping};
use crate::tasks::About;
use crate::workspace::Workspace;
use snarvel_core::changes::Change;
use snarvel_core::changes::feed::Since;
use snarvel_core::cursors::CursorSet;
use snarvel_core::text::Text;
use snarvel_core::units::Line;
use snarvel_files::journal::{Base, ExistingJournals, JournalEvent, JournalNews, Journals, OrphanedJournal};
use snarvel_files::outside::Watch;
use snarvel_files::save::Disk;
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
        self.replace_marks(path, marked_in(closed));
    }

    /// Remembers `lines` as the bookmarks of the closed file at `path`.
    pub(crate) fn replace_marks(&mut self, path: &Path, lines: Vec<MarkedLine>) {
        self.closed.retain(|(each, _)| each != path);
        self.closed.push((path.to_owned(), lines));
    }
}

impl Workspace {
    /// From now on edits are noted in journals in `folder`, and what others do to files is noticed.
    pub fn keep_safe(&mut self, folder: &Path) {
        let watching = self.tasks.worker_sink(About::new("watching files"), Payload::Disk);
        self.keeping.watch = Some(Watch::start(watching));
        self.write_by(Arc::new(Disk::with_journals_in(folder.to_owned())));
        let noting = self.tasks.worker_sink(About::new("the journals"), Payload::Journals);
        self.keeping.journals = Some(Journals::in_folder(folder.to_owned(), noting));
        let ids: Vec<BufferId> =
            self.buffers.iter().filter(|buffer| !buffer.is_partial()).map(|buffer| buffer.id).collect();
        ids.into_iter().for_each(|id| self.begin_journal(id));
    }

    /// Keeps sessions, bookmarks and recipes without a file in `store` from now on. The bookmarks are read once, in the background.
    pub fn keep_in(&mut self, store: Store) {
        let reader = store.clone();
        let about = About::new("reading bookmarks").awaited(waits::OPEN);
        self.keeping.reading_marks = Some(self.tasks.run(about, Payload::Bookmarks, move || reader.all_marked()));
        self.past.recipes.unfiled = store.unfiled();
        self.past.signs.recent = store.signs();
        self.past.filtering.allowed = store.commands(&self.project.folder);
        let consents = store.consents().into_iter().filter(|consent| consent.folder == self.project.folder);
        self.past.meaning.consents.said = consents.map(|consent| (consent.server, consent.may_start)).collect();
        if store.trusts(&self.project.folder) {
            self.project.trust = Trust::Folder;
        }
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
        for buffer in self.buffers.iter() {
            (buffer.id, buffer.bookmarks().len()).hash(&mut hasher);
        }
        for (path, lines) in &self.keeping.closed {
            (path, lines.len()).hash(&mut hasher);
        }
        self.views.iter().for_each(|view| view.folds().list().len().hash(&mut hasher));
        (self.active().id, self.project.recent.first(), self.searches.past.first().map(|search| &search.pattern))
            .hash(&mut hasher);
        (self.past.recipes.unfiled.changes(), self.past.signs.changes).hash(&mut hasher);
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

    /// Begins the journal of a buffer that was just opened; what a crash left for it is offered when it is found.
    pub(crate) fn begin_journal(&mut self, id: BufferId) {
        let Some(buffer) = self.buffers.iter().find(|buffer| buffer.id == id) else { return };
        if let (Some(watch), Origin::File(path)) = (&self.keeping.watch, &buffer.origin) {
            watch.know(path, buffer.saved.stamp);
        }
        let Some(journals) = &self.keeping.journals else { return };
        let journal = journals.begin(&base_of(buffer), unsaved(buffer));
        self.keeping.links.insert(id, JournalLink { journal, revision: buffer.revision(), stopped: None });
    }

    /// Takes in what has happened to a journal.
    pub(crate) fn take_journals(&mut self, news: JournalNews) {
        let mut links = self.keeping.links.iter_mut();
        let Some((id, link)) = links.find(|(_, link)| link.journal.number() == news.journal) else { return };
        match news.what {
            JournalEvent::Existing(existing) => {
                let id = *id;
                self.take_existing(id, existing);
            }
            JournalEvent::Stopped(why) => {
                link.stopped = Some(why);
                let buffer = self.buffers.iter().find(|buffer| buffer.id == *id);
                buffer.and_then(unsaved).into_iter().for_each(|text| link.journal.note_whole(text));
            }
            JournalEvent::GoesOn => link.stopped = None,
        }
    }

    /// Why edits are not noted anywhere, so that a crash would lose them; none while they are.
    #[must_use]
    pub fn why_unkept(&self) -> Option<&str> {
        self.keeping.links.values().find_map(|link| link.stopped.as_deref())
    }

    /// Takes in which journals were there already when the one of a buffer began.
    fn take_existing(&mut self, id: BufferId, existing: ExistingJournals) {
        let Some(buffer) = self.buffers.iter().find(|buffer| buffer.id == id) else { return };
        if let Some(process) = existing.other {
            let name = buffer.name();
            self.told.message = Some(format!(
                "another Snarvel (process {process}) has {name} open: what one saves, the other one will ask about"
            ));
        }
        if let Some(damaged) = existing.damaged.first() {
            self.told.message =
                Some(format!("a journal of {} cannot be read; it is kept: {}", buffer.name(), damaged.display()));
        }
        let (on_disk, stamp) = (buffer.saved.on_disk.clone(), buffer.saved.stamp);
        let left = existing.left.into_iter();
        let left = left.map(|journal| LeftWork { buffer: id, journal, on_disk: on_disk.clone(), stamp });
        self.keeping.left.extend(left);
        self.ask_about_left(id);
    }

    /// Opens texts without a file that a crash of the program left in this folder.
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
    pub(crate) fn take_over(&mut self, id: BufferId, journal: OrphanedJournal) {
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
            match changes.filter(|changes| link.stopped.is_none() && held(changes) <= MOST_NOTED) {
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
            // The old one goes once the new one holds all.
            self.begin_journal(id);
            link.journal.end();
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
    }

    /// The file of a buffer holds what is taken for that: its journal begins there.
    pub(crate) fn begin_anew_with_disk(&mut self, id: BufferId) {
        let Some(buffer) = self.buffers.iter().find(|buffer| buffer.id == id) else { return };
        if let (Some(watch), Origin::File(path)) = (&self.keeping.watch, &buffer.origin) {
            watch.know(path, buffer.saved.stamp);
        }
        if let Some(link) = self.keeping.links.get_mut(&id) {
            link.journal.restart(&base_of(buffer), unsaved(buffer));
            link.revision = buffer.revision();
        }
    }

    /// Nothing of a buffer is to be kept: it is closed.
    pub(crate) fn end_journal(&mut self, id: BufferId) {
        self.keeping.left.retain(|left| left.buffer != id);
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

    /// Puts a single caret of a view of the buffer at the first character of `line`.
    pub fn go_to_line(&mut self, id: BufferId, line: Line) {
        self.places.is_asked_for = true;
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

/// The text of `buffer`, where that is not what its file holds.
fn unsaved(buffer: &Buffer) -> Option<&Text> {
    buffer.is_modified().then(|| buffer.text())
}
