//! Opening, saving, closing: what goes on with the files of buffers.

use crate::arrival::Arrival;
use crate::ask::{Ask, PendingExit};
use crate::buffer::{Buffer, Completeness, Origin};
use crate::compared::{Other, Purpose};
use crate::editing;
use crate::event::{Payload, Source};
use crate::ids::BufferId;
use crate::meaning::formatted::AfterFormat;
use crate::project::Writing;
use crate::state::files::{Load, Save};
use crate::tasks::{About, TaskHandle};
use crate::view::View;
use crate::workspace::Workspace;
use snarvel_core::text::Text;
use snarvel_core::text::place::Place;
use snarvel_core::verbs::scene::counted;
use snarvel_files::FileError;
use snarvel_files::load::{Encoding, Loaded};
use snarvel_files::loading::{LoadStep, Opened, load_in_background};
use snarvel_files::save::{Layer, Rights, Written};
use snarvel_files::saving::{Overwrite, SaveDone, SaveRequest, Saved, save_in_background};
use snarvel_task::waits;
use std::path::{Path, PathBuf};
use std::time::Instant;

/// What is said of a save until it is done.
const UNDER_WAY: &str = "being written …";

/// How much of a file is there.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Progress {
    /// Bytes that are there.
    pub done: u64,
    /// Bytes that there will be; 0 where that is not known yet.
    pub size: u64,
    /// Bytes a second.
    pub rate: f64,
}

impl Workspace {
    /// Opens the file at `path`, or shows it where it is open already. What of it is there at once is seen; the rest comes.
    pub fn open(&mut self, path: &Path) -> BufferId {
        self.project.note_opened(&self.project.folder.join(path));
        self.open_unnoted(path)
    }

    /// The same, for a file that is not opened to be worked on alone: it is not among the files of lately.
    pub(crate) fn open_unnoted(&mut self, path: &Path) -> BufferId {
        let path = self.project.folder.join(path);
        if let Some(id) = self.buffers.iter().find(|buffer| buffer.is_of(&path)).map(|buffer| buffer.id) {
            self.show(id);
            return id;
        }
        let came_from = self.active().id;
        let others = self.buffers.iter().filter_map(|buffer| buffer.path().map(Path::to_owned)).collect();
        let (mut buffer, load) = self.begin_load(&path, others, About::new("opening a file").awaited(waits::OPEN));
        buffer.saved.read_only = true;
        let id = self.show_buffer(buffer);
        self.files.loads.push(Load { buffer: id, task: load, size: 0, began: Instant::now(), came_from });
        id
    }

    /// A buffer for the file at `path`, of which nothing was read yet, and the task that reads it, unless it is another name of one
    /// of `others`.
    pub fn begin_load(&mut self, path: &Path, others: Vec<PathBuf>, about: About) -> (Buffer, TaskHandle) {
        let empty = Loaded { text: Text::default(), encoding: Encoding::default(), read_only: true };
        let mut buffer = Buffer::new(empty, Origin::File(path.to_owned()), self.project.defaults, None);
        buffer.extend_loaded(Text::default(), Completeness::Partial);
        let path = path.to_owned();
        let load =
            self.tasks.start(about.of(buffer.id), Payload::Loading, |sink| load_in_background(&path, others, sink));
        (buffer, load)
    }

    /// Takes a buffer of a file that was read at once.
    pub fn take_buffer(&mut self, path: &Path, opened: Opened) -> BufferId {
        let empty = Loaded { text: Text::default(), encoding: Encoding::default(), read_only: true };
        let mut buffer = Buffer::new(empty, Origin::File(path.to_owned()), self.project.defaults, None);
        let sink = self.parse_sink(buffer.id);
        buffer.take_opened(opened, Some(sink));
        self.show_buffer(buffer)
    }

    /// How much is there of a file that is being read.
    #[must_use]
    pub fn progress(&self, buffer: BufferId) -> Option<Progress> {
        let load = self.files.loads.iter().find(|load| load.buffer == buffer)?;
        let done = self.buffer(buffer)?.text().len() as u64;
        let seconds = load.began.elapsed().as_secs_f64().max(0.001);
        Some(Progress { done, size: load.size, rate: done as f64 / seconds })
    }

    /// Takes in what has come of a file that is being read.
    pub(crate) fn take_load(&mut self, id: BufferId, step: LoadStep) {
        let at = self.files.loads.iter().position(|load| load.buffer == id);
        match step {
            LoadStep::Size(size) => {
                self.files.loads.iter_mut().filter(|load| load.buffer == id).for_each(|load| load.size = size);
            }
            LoadStep::More(text) => {
                self.buffer_mut(id)
                    .into_iter()
                    .for_each(|buffer| buffer.extend_loaded(text.clone(), Completeness::Partial));
            }
            LoadStep::All(opened) => {
                at.into_iter().for_each(|at| drop(self.files.loads.remove(at)));
                let sink = self.parse_sink(id);
                self.buffer_mut(id).into_iter().take(1).for_each(|buffer| buffer.saved.read_only = false);
                if let Some(buffer) = self.buffer_mut(id) {
                    buffer.take_opened(*opened, Some(sink));
                }
                self.all_is_there(id);
            }
            LoadStep::Same(path) => {
                at.into_iter().for_each(|at| drop(self.files.loads.remove(at)));
                self.show_by_other_name(id, &path);
            }
            LoadStep::Failed(error) => {
                // A part of a file is nothing to save over it.
                let came_from = at.map(|at| self.files.loads.remove(at).came_from);
                self.drop_buffer(id);
                came_from.filter(|id| self.buffer(*id).is_some()).into_iter().for_each(|id| self.show(id));
                self.say(error.to_string());
            }
        }
    }

    /// The file of a buffer is open by another name already: that one is shown in its place.
    fn show_by_other_name(&mut self, id: BufferId, path: &Path) {
        let Some(other) = self.buffers.iter().find(|buffer| buffer.is_of(path)).map(|buffer| buffer.id) else { return };
        let name = self.buffer(id).map(Buffer::name).unwrap_or_default();
        let goes = self.views.iter_mut().find_map(|view| view.go_when_loaded.take_if(|_| view.buffer == id));
        self.drop_buffer(id);
        self.show(other);
        let (buffer, view) = self.active_pair_mut();
        goes.into_iter().for_each(|arrival| view.go(buffer, arrival));
        let other = buffer.name();
        self.say(format!("{name} is another name of {other}, which is open"));
    }

    /// All of a file is there: now it can be edited.
    fn all_is_there(&mut self, id: BufferId) {
        self.mark_again(id);
        self.begin_journal(id);
        let Some(buffer) = self.buffer(id) else { return };
        let what = match buffer.saved.stamp {
            None => "a new file".to_owned(),
            Some(_) => counted(buffer.text().real_line_count(), "line"),
        };
        // What went wrong with another file stays to be read.
        let is_told = self.told.message.is_some();
        let usual = (!is_told).then(|| format!("{}: {what}", buffer.name()));
        buffer.warning.clone().or(usual).into_iter().for_each(|said| self.say(said));
        self.place_runs_in(id);
        self.find_past(id);
        self.arrive(id);
    }

    /// Puts the caret of a buffer that is all there now where it was asked for.
    fn arrive(&mut self, id: BufferId) {
        let waiting: Vec<_> = self
            .views
            .iter()
            .filter(|view| view.buffer == id && view.go_when_loaded.is_some())
            .map(|view| view.id)
            .collect();
        for waiting_view in waiting {
            let (buffer, view) = self.pair_mut(waiting_view);
            view.catch_up(buffer);
            let Some(arrival) = view.go_when_loaded.take() else { continue };
            let is_back = matches!(arrival, Arrival::Back(_));
            view.go(buffer, arrival);
            if is_back && self.views.focus() == waiting_view {
                self.say_place();
            }
        }
    }

    /// Puts a single caret of the view with the keys at `place`; where the text is not all there yet, once it is.
    pub fn go_to_place(&mut self, place: Place) {
        let (buffer, view) = self.active_pair_mut();
        view.go(buffer, Arrival::Place(place));
    }

    /// The active text is written as UTF-8 from now on.
    pub fn make_utf8(&mut self) {
        let now_ms = self.now_ms;
        let (buffer, view) = self.active_pair_mut();
        let said = match buffer.make_utf8(&view.shared_cursors(), now_ms) {
            true => "the next save writes it as UTF-8",
            false => "it is UTF-8 already",
        };
        self.say(said);
    }

    /// Saves the buffer known by `id`, then does what comes after it. Where texts are laid out on saving, it is laid out first.
    pub fn save(&mut self, id: BufferId, then: Option<PendingExit>) {
        let lays_out = self.project.saving.formats && self.buffer(id).is_some_and(Buffer::is_modified);
        if lays_out && self.begin_format(id, None, AfterFormat::Save(then)).is_some() {
            return;
        }
        self.save_as_it_is(id, then);
    }

    /// Saves the buffer known by `id` as it is, then does what comes after it.
    pub(crate) fn save_as_it_is(&mut self, id: BufferId, then: Option<PendingExit>) {
        let Some(buffer) = self.buffer_mut(id) else { return };
        if buffer.is_partial() {
            self.say("the file is still being read: nothing of it has changed");
            return;
        }
        match buffer.origin.clone() {
            Origin::File(path) => self.save_to(id, &path, then),
            Origin::None => self.ask(Ask::Name(id, then)),
            Origin::Pipe => {
                buffer.mark_saved();
                self.say("the text goes to standard output at the end");
            }
        }
    }

    /// Writes a buffer to `path`, unless another file is there: then it asks.
    pub fn save_to(&mut self, id: BufferId, path: &Path, then: Option<PendingExit>) {
        let writes = self.project.writing == Writing::Files;
        let Some(buffer) = self.buffer_mut(id) else { return };
        if !writes {
            buffer.mark_saved();
            self.say("not written: only played");
            return;
        }
        let over = match buffer.is_of(path) {
            true => Overwrite::Known(buffer.saved.stamp, buffer.saved.on_disk.clone()),
            false => Overwrite::Nothing,
        };
        self.write_to(id, path, (over, Rights::Minded), then);
    }

    /// Writes a buffer to `path`, over what is allowed.
    pub(crate) fn write_to(
        &mut self,
        id: BufferId,
        path: &Path,
        (over, rights): (Overwrite, Rights),
        then: Option<PendingExit>,
    ) {
        let Some(name) = self.buffer(id).map(Buffer::name) else { return };
        if let Some(save) = self.files.saves.iter_mut().find(|save| save.buffer == id) {
            if save.request.path == path {
                save.again = true;
                save.then = then.or(save.then);
                self.say(format!("{name} is still being written; it is saved again after that"));
            } else {
                self.say(format!("{name} is still being written: save it elsewhere once that is done"));
            }
            return;
        }
        self.tidy(id);
        let Some(buffer) = self.buffer_mut(id) else { return };
        let request = SaveRequest { over, rights, ..buffer.begin_save(path) };
        // What waits for one file does not wait for each.
        let wait = if self.files.saves.is_empty() { waits::SAVE } else { std::time::Duration::ZERO };
        let about = About::new("saving").of(id).awaited(wait);
        let (disk, written) = (self.files.disk.clone(), request.clone());
        let task = self.tasks.start(about, Payload::Saved, |sink| save_in_background(written, disk, sink));
        self.files.saves.push(Save { buffer: id, request, task, then, again: false });
        self.say(format!("{name} {UNDER_WAY}"));
    }

    /// Puts a text in order before a save, as a step of its own.
    fn tidy(&mut self, id: BufferId) {
        let (usual, now_ms) = (self.project.tidy, self.now_ms);
        let change = self.buffer(id).map(|buffer| buffer.tidying(usual));
        change.into_iter().for_each(|change| self.commit_step(id, "save", change, now_ms));
    }

    /// Changes a buffer as a step of its own; the cursors of the view that shows it stay with what they are at.
    pub fn commit_step(
        &mut self,
        id: BufferId,
        verb: &'static str,
        change: snarvel_core::changes::Change,
        now_ms: u64,
    ) {
        let view = self.view_of(id);
        let (buffer, view) = self.pair_mut(view);
        view.catch_up(buffer);
        editing::commit((buffer, view), (verb, None), change, now_ms);
    }

    /// A view of the buffer known by `id`: the one with the keys if it is of it, else any.
    ///
    /// # Panics
    /// If there is no such buffer: each has a view.
    pub(crate) fn view_of(&self, id: BufferId) -> crate::ids::ViewId {
        let is_of = |view: &&View| view.buffer == id;
        let here = Some(self.view()).filter(is_of);
        here.or_else(|| self.views.iter().find(is_of)).map(|view| view.id).expect("each buffer has a view")
    }

    /// Takes in what a save has come to.
    pub(crate) fn take_saved(&mut self, id: BufferId, saved: Saved) {
        let Some(at) = self.files.saves.iter().position(|save| save.buffer == id) else { return };
        let save = self.files.saves.remove(at);
        // Whoever closed it meanwhile wanted nothing of it.
        if self.buffer(id).is_none() {
            return;
        }
        match saved {
            Saved::Written(done) => self.finish_save(id, &save, *done),
            Saved::Other(other, stamp) => {
                self.abandon_save(id);
                let path = save.request.path;
                self.compare(id, Other::InTheWay { path, there: other, stamp, then: save.then }, Purpose::Decide);
            }
            Saved::Failed(FileError::ReadOnly(_)) => {
                self.abandon_save(id);
                self.ask_write_through(id, save.then);
            }
            Saved::Failed(error) => {
                self.abandon_save(id);
                self.say(error.to_string());
            }
        }
        if self.files.saves.is_empty() {
            self.files.batch = 0;
        }
        self.run_after_save(id);
    }

    fn abandon_save(&mut self, id: BufferId) {
        self.buffer_mut(id).into_iter().for_each(Buffer::abandon_save);
    }

    fn finish_save(&mut self, id: BufferId, save: &Save, done: SaveDone) {
        let how = if done.how == Written::InPlace { ", in place" } else { "" };
        let sink = self.parse_sink(id);
        let hash = done.hash;
        let Some(buffer) = self.buffer_mut(id) else { return };
        let is_moved = buffer.finish_save(&save.request, done, Some(sink));
        let name = buffer.name();
        if is_moved {
            self.move_journal(id);
        }
        self.tell_saved(id);
        self.keep_past(id, hash);
        self.begin_anew_with_disk(id);
        // What was said since the key is what the user reads now.
        if self.told.message.as_ref().is_none_or(|message| message.ends_with(UNDER_WAY)) {
            let bytes = counted(save.request.text.len(), "byte");
            let left = self.files.saves.len();
            self.say(match (self.files.batch, left) {
                (0 | 1, _) => format!("saved {name}: {bytes}{how}"),
                (files, 0) => format!("saved {}", counted(files, "file")),
                (files, _) => format!("{} {UNDER_WAY}", counted(files, "file")),
            });
        }
        if save.again && self.buffer(id).is_some_and(Buffer::is_unsaved) {
            self.save(id, save.then);
        } else if let Some(exit) = save.then {
            self.go_on_after(exit);
        }
    }

    /// Saves every text that has changed.
    pub fn save_all(&mut self) {
        let unsaved = self.unsaved(PendingExit::Quit);
        if unsaved.is_empty() {
            self.say(format!("saved {}", counted(0, "file")));
            return;
        }
        self.save_each(&unsaved, None);
    }

    fn save_each(&mut self, ids: &[BufferId], then: Option<PendingExit>) {
        let before = self.files.saves.len();
        ids.iter().for_each(|id| self.save(*id, then));
        self.files.batch = self.files.saves.len() - before;
        if self.files.batch > 1 {
            self.say(format!("{} {UNDER_WAY}", counted(self.files.batch, "file")));
        }
    }

    /// From now on files are written by `layer`.
    pub fn write_by(&mut self, layer: Layer) {
        self.files.disk = layer;
    }

    /// How many saves are under way.
    #[must_use]
    pub fn saves_under_way(&self) -> usize {
        self.files.saves.len()
    }

    /// The texts of which `exit` would lose something.
    fn unsaved(&self, exit: PendingExit) -> Vec<BufferId> {
        let counts = |id: BufferId| match exit {
            PendingExit::Quit => true,
            PendingExit::Close(closed) => closed == id,
        };
        self.buffers.iter().filter(|buffer| counts(buffer.id) && buffer.is_unsaved()).map(|buffer| buffer.id).collect()
    }

    fn is_being_saved(&self, id: BufferId) -> bool {
        self.buffer(id).is_some_and(|buffer| buffer.history().is_being_saved())
    }

    /// Closes or quits, once nothing would be lost by it.
    pub fn go_on(&mut self, exit: PendingExit) {
        if exit == PendingExit::Quit && self.quits_after_files() {
            return;
        }
        let unsaved = self.unsaved(exit);
        if unsaved.is_empty() {
            self.leave(exit);
            return;
        }
        let names: Vec<String> = unsaved.iter().filter_map(|id| self.buffer(*id)).map(Buffer::name).collect();
        if unsaved.iter().all(|id| self.is_being_saved(*id)) {
            let saves = self.files.saves.iter_mut().filter(|save| unsaved.contains(&save.buffer));
            let is_known: Vec<bool> = saves.map(|save| save.then.replace(exit) == Some(exit)).collect();
            if is_known.contains(&false) {
                self.say(format!("{} is still being written: it ends then; the same key again asks", names.join(", ")));
                return;
            }
        }
        self.ask(Ask::Unsaved { exit, names });
    }

    /// Goes on after a save; where others are under way, after the last of them, and not over something that is asked.
    pub(crate) fn go_on_after(&mut self, exit: PendingExit) {
        let unsaved = self.unsaved(exit);
        let waits = !unsaved.is_empty() && unsaved.iter().all(|id| self.is_being_saved(*id));
        if !waits && self.told.asks.is_empty() && !self.told.is_asking {
            self.go_on(exit);
        }
    }

    /// Saves what is unsaved, then goes on.
    pub fn save_and(&mut self, exit: PendingExit) {
        let unsaved = self.unsaved(exit);
        self.save_each(&unsaved, Some(exit));
    }

    /// Closes or quits; what is not saved is lost.
    pub fn leave(&mut self, exit: PendingExit) {
        match exit {
            PendingExit::Close(id) if self.buffer(id).is_some_and(|buffer| buffer.origin != Origin::Pipe) => {
                self.close(id);
            }
            _ => self.told.is_done = true,
        }
    }

    /// Takes a buffer off the desk; places in it and its bookmarks are remembered.
    fn close(&mut self, id: BufferId) {
        if self.active().id == id {
            self.remember_here();
        }
        if let Some(buffer) = self.buffers.iter().find(|buffer| buffer.id == id) {
            self.places.closed(buffer);
            self.keeping.note_marks(buffer);
        }
        self.files.loads.retain(|load| load.buffer != id);
        self.drop_buffer(id);
    }

    /// The rest of a file will not come, or a save will not: its task has ended without a word.
    pub(crate) fn take_end(&mut self, source: &Source, buffer: Option<BufferId>) {
        self.take_used_end(source.task);
        self.take_edits_end(source.task);
        self.take_past_end(source.task);
        let Some(id) = buffer else {
            self.take_replacing_end(source.task);
            self.take_operation_end(source.task);
            return;
        };
        let saves = &mut self.files.saves;
        if let Some(at) = saves.iter().position(|save| save.buffer == id && save.task.id == source.task) {
            let save = saves.remove(at);
            self.abandon_save(id);
            self.say(format!(
                "{} cannot be written: it was not finished; the file is as it was",
                save.request.path.display()
            ));
        }
        if self.files.loads.iter().any(|load| load.buffer == id && load.task.id == source.task) {
            let path = self.buffer(id).and_then(Buffer::path).unwrap_or(Path::new("")).to_owned();
            let source = std::io::Error::other("reading it broke off");
            self.take_load(id, LoadStep::Failed(FileError::Read { path, source }));
        }
    }
}
