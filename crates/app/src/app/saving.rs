//! Saving, and what is to come behind it: files are written behind the screen, so that a disk may take its time.

use super::App;
use crate::document::{Document, Home};
use crate::panels::{Matter, Panel, Question, SaveAs};
use snarvel_core::text::Text;
use snarvel_core::verbs::scene::counted;
use snarvel_files::FileError;
use snarvel_files::save::{Rights, Written};
use snarvel_files::saving::{Order, Over, Saved, Saving};
use std::path::Path;
use std::time::Duration;

/// A save under way.
#[derive(Debug)]
pub(super) struct Save {
    document: u64,
    pub(super) order: Order,
    saving: Saving,
    /// What comes behind it.
    then: Option<Matter>,
    /// Whether what was edited meanwhile is to be saved behind it, too.
    again: bool,
}

/// How long a key waits for its save: most are done by then, and the text is seen as saved at once.
const PATIENCE: Duration = Duration::from_millis(30);

/// What is said of a save until it is done.
const UNDER_WAY: &str = "being written …";

impl Save {
    /// Whether it writes `text`, from `document`.
    pub(super) fn is_of(&self, document: &Document, text: &Text) -> bool {
        self.document == document.id && self.order.text == *text
    }
}

impl App {
    pub(super) fn save(&mut self, then: Option<Matter>) {
        if self.document().editor.is_growing() {
            self.say("the file is still being read: nothing of it has changed");
            return;
        }
        match self.document().home.clone() {
            Home::File(path) => self.save_to(&path, then),
            Home::None => self.ask_name(then),
            Home::Pipe => {
                self.document_mut().editor.mark_saved();
                self.say("the text goes to standard output at the end");
            }
        }
    }

    pub(super) fn ask_name(&mut self, then: Option<Matter>) {
        self.panel = Some(Panel::SaveAs(SaveAs { then, ..SaveAs::default() }));
    }

    /// Writes the current text to `path`, unless somebody else's stands there: then it asks.
    pub(super) fn save_to(&mut self, path: &Path, then: Option<Matter>) {
        if !self.writes {
            self.document_mut().editor.mark_saved();
            self.say("not written: only played");
            return;
        }
        let document = self.document();
        let is_home = document.home == Home::File(path.to_owned());
        let over = if is_home { Over::Known(document.stamp, document.on_disk.clone()) } else { Over::Nothing };
        self.write_to(path, then, over, Rights::Minded);
    }

    /// Writes the current text to `path`, over what `over` says, and minding the rights of the file or not.
    pub(super) fn write_to(&mut self, path: &Path, then: Option<Matter>, over: Over, rights: Rights) {
        let (id, name) = (self.document().id, self.document().name());
        if let Some(save) = self.saves.iter_mut().find(|save| save.document == id) {
            if save.order.path == path {
                save.again = true;
                save.then = then.or(save.then);
                self.say(format!("{name} is still being written; it is saved again behind that"));
            } else {
                self.say(format!("{name} is still being written: save it elsewhere once that is done"));
            }
            return;
        }
        let (now_ms, usual) = (self.now_ms, self.settings.tidy);
        let order = self.document_mut().begin_save(path, usual, now_ms);
        let order = Order { over, rights, ..order };
        let waker = self.waker.clone();
        let saving = Saving::start(order.clone(), self.disk.clone(), move || waker.wake());
        self.saves.push(Save { document: id, order, saving, then, again: false });
        // Who has waited for one file does not wait for each.
        let patience = self.waker.patience(if self.saves.len() == 1 { PATIENCE } else { Duration::ZERO });
        self.say(format!("{name} {UNDER_WAY}"));
        self.end_saves(patience);
    }

    /// Takes in which saves are done, waiting for the newest.
    pub(super) fn end_saves(&mut self, patience: Duration) {
        let mut at = 0;
        while at < self.saves.len() {
            let is_newest = at + 1 == self.saves.len();
            match self.saves[at].saving.gather(if is_newest { patience } else { Duration::ZERO }) {
                Some(saved) => {
                    let save = self.saves.remove(at);
                    self.end_save(&save, saved);
                }
                None => at += 1,
            }
        }
    }

    fn end_save(&mut self, save: &Save, saved: Saved) {
        // Who closed it meanwhile wanted nothing of it.
        let Some(index) = self.documents.iter().position(|document| document.id == save.document) else { return };
        let document = &mut self.documents[index];
        match saved {
            Saved::Written(done) => {
                let how = if done.how == Written::InPlace { ", in place" } else { "" };
                let is_elsewhere = document.path() != Some(&save.order.path);
                document.end_save(&save.order, *done);
                let name = document.name();
                if is_elsewhere {
                    self.move_journal(index);
                }
                self.settle_with_disk(index);
                // What was said since the key is what somebody reads now.
                if self.message.as_ref().is_none_or(|message| message.ends_with(UNDER_WAY)) {
                    self.say(format!("saved {name}: {}{how}", counted(save.order.text.len(), "byte")));
                }
                if save.again && self.documents[index].is_unsaved() {
                    self.with_document(index, |app| app.save(save.then));
                } else if let Some(matter) = save.then.filter(|_| self.panel.is_none()) {
                    self.with_document(index, |app| app.go_on_behind(matter));
                }
            }
            Saved::Other(other, stamp) => {
                document.give_up_save();
                self.ask_or_say(index, "another program has written there, too", |app| {
                    app.ask_about_other(&save.order.path, (other, stamp), save.then);
                });
            }
            Saved::Failed(FileError::ReadOnly(_)) => {
                document.give_up_save();
                self.ask_or_say(index, "its rights say that nobody writes it", |app| app.ask_write_through(save.then));
            }
            Saved::Failed(error) => {
                document.give_up_save();
                self.say(error.to_string());
            }
        }
    }

    /// Asks something about the text of `index`; where another panel is open, only says why it is not saved.
    fn ask_or_say(&mut self, index: usize, why: &str, ask: impl FnOnce(&mut App)) {
        if self.panel.is_some() {
            self.say(format!("{} is not saved: {why}; Ctrl+S asks", self.documents[index].name()));
            return;
        }
        self.current = index;
        ask(self);
    }

    /// Does something with another document, and comes back, unless there is something to answer.
    fn with_document(&mut self, index: usize, doing: impl FnOnce(&mut App)) {
        let (here, had_panel) = (self.document().id, self.panel.is_some());
        self.current = index;
        doing(self);
        let back = self.documents.iter().position(|document| document.id == here);
        if let Some(back) = back.filter(|_| had_panel || self.panel.is_none()) {
            self.current = back;
        }
    }

    pub(super) fn save_all(&mut self) {
        let here = self.current;
        let mut saved = 0;
        for index in self.unsaved(Matter::Quit) {
            self.current = index;
            self.save(None);
            if self.is_stuck(index) {
                return;
            }
            saved += 1;
        }
        self.current = here;
        let files = counted(saved, "file");
        self.say(if self.saves.is_empty() { format!("saved {files}") } else { format!("{files} {UNDER_WAY}") });
    }

    /// Whether the text of `index` needs an answer, or failed, before it is saved.
    fn is_stuck(&self, index: usize) -> bool {
        self.panel.is_some() || (self.documents[index].is_unsaved() && !self.is_being_saved(index))
    }

    /// Whether the text of `index` as it is is being written.
    fn is_being_saved(&self, index: usize) -> bool {
        self.documents[index].editor.history().is_being_saved()
    }

    /// Which texts a matter would lose something of.
    fn unsaved(&self, matter: Matter) -> Vec<usize> {
        let counts = |index: &usize| matter == Matter::Quit || *index == self.current;
        (0..self.documents.len()).filter(counts).filter(|&index| self.documents[index].is_unsaved()).collect()
    }

    /// Closes or quits, once nothing would be lost by it.
    pub(super) fn go_on(&mut self, matter: Matter) {
        if matter == Matter::Quit && self.quits_behind_files() {
            return;
        }
        let unsaved = self.unsaved(matter);
        if unsaved.is_empty() {
            self.leave(matter);
            return;
        }
        let names: Vec<String> = unsaved.iter().map(|&index| self.documents[index].name()).collect();
        let ids: Vec<u64> = unsaved.iter().map(|&index| self.documents[index].id).collect();
        if unsaved.iter().all(|&index| self.is_being_saved(index)) {
            let saves = self.saves.iter_mut().filter(|save| ids.contains(&save.document));
            let is_known: Vec<bool> = saves.map(|save| save.then.replace(matter) == Some(matter)).collect();
            if is_known.contains(&false) {
                self.say(format!("{} is still being written: it ends then; the same key again asks", names.join(", ")));
                return;
            }
        }
        self.panel = Some(Panel::Question(Question { matter, names }));
    }

    /// Goes on behind a save; where others are under way, behind the last of them.
    fn go_on_behind(&mut self, matter: Matter) {
        let unsaved = self.unsaved(matter);
        if unsaved.is_empty() || !unsaved.iter().all(|&index| self.is_being_saved(index)) {
            self.go_on(matter);
        }
    }

    /// Saves what is unsaved, then goes on.
    pub(super) fn save_and(&mut self, matter: Matter) {
        if matter == Matter::Close {
            self.save(Some(matter));
            return;
        }
        for index in self.unsaved(matter) {
            self.current = index;
            self.save(None);
            if self.is_stuck(index) {
                return;
            }
        }
        self.go_on(matter);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::app::slow::Bench;
    use std::io;

    #[test]
    fn work_goes_on_while_a_slow_disk_writes_and_what_came_meanwhile_is_not_saved() {
        let mut bench = Bench::with(&["a"]);
        bench.press("x ctrl+s y");
        assert!(bench.message().is_empty() && bench.app.document().is_unsaved());
        assert_eq!(bench.app.document().editor.text().to_string(), "xyebb\n");
        assert_eq!(bench.file("a"), "ebb\n");
        bench.disk_goes_on(Ok(()));
        assert_eq!((bench.file("a").as_str(), bench.message()), ("xebb\n", "saved a: 5 bytes"));
        assert!(bench.app.document().is_unsaved());
        bench.press("ctrl+z");
        assert!(!bench.app.document().is_unsaved(), "back at what was written");
        assert!(bench.app.document().editor.since_saved().is_empty(), "nothing is shown as changed");
    }

    #[test]
    fn what_was_said_meanwhile_stays_to_be_read() {
        let mut bench = Bench::with(&["a"]);
        bench.press("x ctrl+s alt+d");
        let said = bench.message().to_owned();
        assert!(said.contains("duplicated"), "{said}");
        bench.disk_goes_on(Ok(()));
        assert_eq!(bench.message(), said);
    }

    #[test]
    fn saving_again_meanwhile_writes_the_newest_behind_it() {
        let mut bench = Bench::with(&["a"]);
        bench.press("x ctrl+s y ctrl+s");
        bench.disk_goes_on(Ok(()));
        assert_eq!(bench.file("a"), "xebb\n");
        bench.disk_goes_on(Ok(()));
        assert_eq!(bench.file("a"), "xyebb\n");
        assert!(!bench.app.document().is_unsaved());
    }

    #[test]
    fn elsewhere_is_not_written_at_the_same_time() {
        let mut bench = Bench::with(&["a"]);
        bench.press("x ctrl+s");
        let elsewhere = bench.folder.path().join("b");
        bench.app.save_to(&elsewhere, None);
        assert!(bench.message().contains("save it elsewhere"), "{}", bench.message());
        bench.disk_goes_on(Ok(()));
        bench.app.save_to(&elsewhere, None);
        bench.disk_goes_on(Ok(()));
        assert_eq!((bench.file("b").as_str(), bench.app.document().name().as_str()), ("xebb\n", "b"));
    }

    #[test]
    fn a_save_that_fails_leaves_the_text_unsaved_and_says_why() {
        let mut bench = Bench::with(&["a"]);
        bench.press("x ctrl+s");
        bench.disk_goes_on(Err(io::ErrorKind::StorageFull.into()));
        assert_eq!(bench.file("a"), "ebb\n");
        assert!(
            bench.app.document().is_unsaved() && bench.message().contains("no storage space"),
            "{}",
            bench.message()
        );
        bench.press("ctrl+s");
        bench.disk_goes_on(Ok(()));
        assert_eq!(bench.file("a"), "xebb\n");
    }

    #[test]
    fn ending_waits_for_what_is_being_written_and_the_same_key_again_asks() {
        let mut bench = Bench::with(&["a", "b"]);
        bench.press("x ctrl+s ctrl+q");
        assert!(!bench.app.done && bench.app.panel.is_none() && bench.message().contains("still being written"));
        bench.disk_goes_on(Ok(()));
        assert!(bench.app.done);
        // A disk that does not come back does not hold anybody for ever.
        let mut bench = Bench::with(&["a"]);
        bench.press("x ctrl+s ctrl+q ctrl+q");
        assert!(matches!(bench.app.panel, Some(Panel::Question(_))));
        // What is edited meanwhile is asked about.
        let mut bench = Bench::with(&["a"]);
        bench.press("x ctrl+s y ctrl+q");
        assert!(matches!(bench.app.panel, Some(Panel::Question(_))));
    }

    #[test]
    fn saving_all_and_ending_writes_each_file() {
        let mut bench = Bench::with(&["a", "b"]);
        bench.press("x");
        bench.app.current = 0;
        bench.press("y ctrl+q s");
        bench.disk_goes_on(Ok(()));
        assert!(!bench.app.done);
        bench.disk_goes_on(Ok(()));
        assert!(bench.app.done);
        assert_eq!((bench.file("a").as_str(), bench.file("b").as_str()), ("yebb\n", "xebb\n"));
    }

    #[test]
    fn what_another_program_writes_meanwhile_is_asked_about() {
        let mut bench = Bench::with(&["a"]);
        bench.press("x ctrl+s");
        std::fs::write(bench.folder.path().join("a"), "flow\n").unwrap();
        bench.disk_goes_on(Ok(()));
        assert_eq!(bench.file("a"), "flow\n");
        assert!(bench.app.document().is_unsaved());
        bench.press("ctrl+s");
        while bench.app.panel.is_none() {
            bench.woken.recv_timeout(Duration::from_secs(20)).unwrap();
            bench.app.gather();
        }
        assert!(matches!(bench.app.panel, Some(Panel::Diff(_))));
        assert_eq!(bench.file("a"), "flow\n");
    }
}
