//! Two forms of one text: what a buffer holds, and what its file does or what a crash left for it. Both may be large, so they
//! are compared in the background; what follows is decided when that is done, and anew where the text has changed meanwhile.

use crate::ask::{Ask, AskAbout, Choice, Comparison, PendingExit};
use crate::buffer::Buffer;
use crate::buffer::saved::DiskStatus;
use crate::compared::{Compared, Found, LeftWork, Moment, Other, Own, Purpose, Sameness};
use crate::differences::{self, Row};
use crate::event::Payload;
use crate::ids::BufferId;
use crate::tasks::About;
use crate::workspace::Workspace;
use snarvel_core::changes::{Change, Edit};
use snarvel_core::text::Text;
use snarvel_core::verbs::scene::counted;
use snarvel_files::journal::OrphanedJournal;
use snarvel_files::load::Loaded;
use snarvel_files::outside::{self, DiskNews};
use snarvel_files::save::Rights;
use snarvel_files::saving::Overwrite;
use snarvel_files::stamp::Stamp;
use snarvel_task::waits;
use std::path::{Path, PathBuf};
use std::time::{SystemTime, UNIX_EPOCH};

impl Workspace {
    /// Asks whether a file is to be written that its rights protect.
    pub(crate) fn ask_write_through(&mut self, id: BufferId, then: Option<PendingExit>) {
        let name = self.buffer(id).map(Buffer::name).unwrap_or_default();
        let title = format!("{name} is read-only: its rights say that nobody writes it");
        self.ask(Ask::Compare(Comparison { about: AskAbout::ReadOnly(id), then, title, rows: Vec::new() }));
    }

    pub(crate) fn moment_of(&self, id: BufferId) -> Option<Moment> {
        let buffer = self.buffer(id)?;
        let is_being_saved = self.files.saves.iter().any(|save| save.buffer == id);
        Some(Moment { revision: buffer.revision(), stamp: buffer.saved.stamp, is_being_saved })
    }

    /// The text of a buffer in all forms that are known here.
    pub(crate) fn own_forms(&self, id: BufferId) -> Option<Own> {
        let buffer = self.buffer(id)?;
        let written = self.files.saves.iter().find(|save| save.buffer == id).map(|save| save.request.text.clone());
        Some(Own { text: buffer.text().clone(), on_disk: buffer.saved.on_disk.clone(), written })
    }

    /// Compares a buffer's text with another form of it, in the background.
    pub(crate) fn compare(&mut self, id: BufferId, other: Other, purpose: Purpose) {
        let (Some(moment), Some(own)) = (self.moment_of(id), self.own_forms(id)) else { return };
        let work = move || {
            let found = other.compared(&own, purpose);
            Box::new(Compared { other, purpose, moment, found })
        };
        let about = About::new("comparing two forms of a text").of(id).awaited(waits::COMPARED);
        // It goes on whatever becomes of the handle.
        let _ = self.tasks.start(about, Payload::Compared, |sink| {
            snarvel_task::spawn(sink, move |context| context.send(work())).detached()
        });
    }

    /// Takes in what a comparison has found.
    pub(crate) fn take_compared(&mut self, id: BufferId, compared: Compared) {
        let Some(now) = self.moment_of(id) else { return };
        let Compared { other, purpose, moment, found } = compared;
        if now != moment {
            self.compare(id, other, purpose);
            return;
        }
        match (other, purpose) {
            (Other::Disk(loaded, stamp), Purpose::Decide) => self.take_outside(id, (*loaded, stamp), found),
            (Other::Disk(loaded, stamp), Purpose::Take) => {
                let places = self.take_from_disk(id, (*loaded, stamp), found.change);
                self.say(format!("{places} as the file holds them; yours is one Ctrl+Z away"));
            }
            (Other::Disk(loaded, stamp), Purpose::Show) => self.tell_differences(id, found, (*loaded, stamp)),
            (Other::Unreadable(why), _) => self.say(why),
            (Other::InTheWay { path, there, stamp, then }, _) => {
                self.ask_about_other(id, (path, there, stamp), found.rows, then);
            }
            (Other::Left(left), Purpose::Decide | Purpose::Show) => self.tell_left(left, found),
            (Other::Left(left), Purpose::Take) => self.take_left(left, found.change),
        }
    }

    /// Takes in what another program has done to a file.
    pub(crate) fn take_disk_news(&mut self, news: DiskNews) {
        let Some(buffer) = self.buffers.iter_mut().find(|buffer| buffer.is_of(&news.path)) else { return };
        match news.status {
            outside::DiskStatus::Gone => {
                buffer.saved.status = Some(DiskStatus::Gone);
                let name = buffer.name();
                self.say(format!("{name} is gone from the disk: Ctrl+S writes it again"));
            }
            outside::DiskStatus::Changed(loaded, stamp) => {
                let id = buffer.id;
                self.compare(id, Other::Disk(loaded, stamp), Purpose::Decide);
            }
        }
    }

    /// The file of a buffer was written; `found` compares what it holds with the text.
    fn take_outside(&mut self, id: BufferId, (loaded, stamp): (Loaded, Stamp), found: Found) {
        let Some(buffer) = self.buffer_mut(id) else { return };
        let name = buffer.name();
        if found.sameness == Sameness::OnDisk {
            // Written again with the same characters, perhaps by ourselves; perhaps in another encoding.
            buffer.saved.stamp = Some(stamp);
            buffer.saved.status = None;
            buffer.saved.take_encoding(loaded.encoding);
        } else if found.sameness == Sameness::Text {
            buffer.is_on_disk(loaded, Some(stamp));
            self.begin_anew_with_disk(id);
        } else if found.sameness == Sameness::Written {
            // Written by ourselves just now; that is told in its own way.
        } else if !buffer.is_modified() {
            let places = self.take_from_disk(id, (loaded, stamp), found.change);
            self.say(format!("{name} was changed by another program: {places} taken over, Ctrl+Z shows it as it was"));
        } else {
            buffer.saved.status = Some(DiskStatus::Changed(Box::new(loaded), stamp));
            self.say(format!("{name} was changed by another program, too: Ctrl+S shows both"));
        }
    }

    /// Makes what the file holds, which looks like `stamp`, the text of a buffer by `change`, as a step; says how much that was.
    fn take_from_disk(&mut self, id: BufferId, (loaded, stamp): (Loaded, Stamp), change: Change) -> String {
        let now_ms = self.now_ms;
        let places = counted(change.edits().len(), "place");
        self.commit_step(id, "reload", change, now_ms);
        if let Some(buffer) = self.buffer_mut(id) {
            buffer.is_on_disk(loaded, Some(stamp));
        }
        self.begin_anew_with_disk(id);
        places
    }

    /// Asks what is to become of a text that was to be written to a path where another file is.
    fn ask_about_other(
        &mut self,
        id: BufferId,
        (path, there, stamp): (PathBuf, Box<Loaded>, Stamp),
        rows: Vec<Row>,
        then: Option<PendingExit>,
    ) {
        let Some(buffer) = self.buffer_mut(id) else { return };
        let (about, title) = if buffer.is_of(&path) {
            buffer.saved.status = Some(DiskStatus::Changed(there, stamp));
            let said = "was changed by another program since it was opened: − is yours, + what the file holds";
            (AskAbout::Outside(id), format!("{} {said}", buffer.name()))
        } else {
            let title = format!("{} is there already: − is yours, + what it holds", path.display());
            (AskAbout::Over(id, path), title)
        };
        self.ask(Ask::Compare(Comparison { about, then, title, rows }));
    }

    /// Asks which of two forms it is to be: what the text is, or what its file holds.
    pub(crate) fn ask_about_disk(&mut self, id: BufferId, title: String, rows: Vec<Row>) {
        self.ask(Ask::Compare(Comparison { about: AskAbout::Outside(id), then: None, title, rows }));
    }

    /// Asks what is to become of work left by a crash for a buffer, once it is compared with its text.
    pub fn ask_about_left(&mut self, id: BufferId) {
        if let Some(left) = self.take_last_left(id) {
            self.compare(id, Other::Left(left), Purpose::Decide);
        }
    }

    fn take_last_left(&mut self, id: BufferId) -> Option<LeftWork> {
        let at = self.keeping.left.iter().rposition(|left| left.buffer == id)?;
        Some(self.keeping.left.remove(at))
    }

    /// Work left by a crash is compared: it is asked about, unless it is what the file holds or nothing can be made of it.
    fn tell_left(&mut self, left: LeftWork, found: Found) {
        let id = left.buffer;
        if found.other.is_none() {
            self.open_pieces(id, left.journal);
            self.ask_about_left(id);
            return;
        }
        if found.sameness == Sameness::OnDisk {
            left.journal.discard();
            self.ask_about_left(id);
            return;
        }
        let age = left.journal.written_at().map(told_age).unwrap_or_default();
        let since = if found.is_stale { ", and the file has changed since" } else { "" };
        let name = self.buffer(id).map(Buffer::name).unwrap_or_default();
        let title = match left.journal.is_copy() {
            true => format!("a save of {name} was cut off{age}: + is what it held before"),
            false => format!("{name} was edited and not saved{age}{since}: + is what was left"),
        };
        // The last one is the one that is asked about.
        self.keeping.left.push(left);
        self.ask(Ask::Compare(Comparison { about: AskAbout::Recovery(id), then: None, title, rows: found.rows }));
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

    /// Takes work left by a crash, as a step.
    fn take_left(&mut self, left: LeftWork, change: Change) {
        let id = left.buffer;
        let (now_ms, first) = (self.now_ms, change.edits().first().map(Edit::start));
        self.commit_step(id, "recover", change, now_ms);
        if let (Some(first), Some(buffer)) = (first, self.buffer(id)) {
            let line = buffer.text().line_of(first);
            self.go_to_line(id, line);
        }
        self.take_over(id, left.journal);
        self.say("what was left behind is here, not saved yet; Ctrl+Z takes it back");
        self.ask_about_left(id);
    }

    /// Does what was chosen.
    pub fn choose(&mut self, asked: &Comparison, choice: Choice) {
        let id = asked.about.buffer();
        match (&asked.about, choice) {
            (AskAbout::Recovery(_), Choice::Take) => {
                if let Some(left) = self.take_last_left(id) {
                    self.compare(id, Other::Left(left), Purpose::Take);
                }
            }
            (AskAbout::Recovery(_), _) => {
                if let Some(left) = self.take_last_left(id) {
                    left.journal.discard();
                    self.say("what was left behind is thrown away");
                }
                self.ask_about_left(id);
            }
            (AskAbout::Outside(_), Choice::Take) => {
                let status = self.buffer_mut(id).and_then(|buffer| buffer.saved.status.take());
                if let Some(DiskStatus::Changed(loaded, stamp)) = status {
                    self.compare(id, Other::Disk(loaded, stamp), Purpose::Take);
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
}

/// How long ago that was.
fn told_age(written_at: u64) -> String {
    let now = SystemTime::now().duration_since(UNIX_EPOCH).map_or(0, |time| time.as_secs());
    let seconds = now.saturating_sub(written_at);
    match seconds {
        0..60 => " a moment ago".to_owned(),
        60..7200 => format!(" {} minutes ago", seconds / 60),
        7200..172_800 => format!(" {} hours ago", seconds / 3600),
        _ => format!(" {} days ago", seconds / 86_400),
    }
}
