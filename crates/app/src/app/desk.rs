//! What lies around the text: opening by name, the folder's files, verbs looked up, keys bound, the key sheet.

use super::App;
use crate::document::{Document, Home};
use crate::keys::bindings::{self, Binding, Deed as KeyDeed};
use crate::panels::files::{Deed, FilesPanel};
use crate::panels::open::{MOST_FILES, Note, Offered, Opening};
use crate::panels::{Argument, Line as InputLine, Panel};
use crate::sheet;
use snarvel_core::bookmarks::Bookmarks;
use snarvel_core::units::Line;
use snarvel_core::verbs::by_name;
use snarvel_files::errand::Errand;
use snarvel_files::folder::{FileWalk, Which};
use snarvel_files::private;
use std::path::{Path, PathBuf};
use std::time::Duration;

/// How long a key waits for what it does to a file.
const PATIENCE: Duration = Duration::from_millis(40);

/// What is being done to a file, or drawn into one, and what there is to say of it.
#[derive(Debug)]
pub(super) struct Doing {
    deed: Option<Deed>,
    errand: Errand<Result<String, String>>,
    /// Whether the program ends behind it.
    pub then_quit: bool,
}

impl App {
    /// Offers the files of the folder, those that are open and those opened of late first.
    pub fn ask_for_file(&mut self) {
        let walk = self.walk(Which::Usual);
        let opening = Opening::of(&self.folder, self.first_offered(), walk, (self.settings.manner, self.waker.clone()));
        self.panel = Some(Panel::Open(Box::new(opening)));
    }

    fn walk(&self, which: Which) -> FileWalk {
        let waker = self.waker.clone();
        FileWalk::start(&self.folder, which, MOST_FILES, move || waker.wake())
    }

    /// Files opened of late, the latest first, the one in view last.
    fn first_offered(&self) -> Vec<Offered> {
        let path_of = |document: &Document| match &document.home {
            Home::File(path) => Some(path.clone()),
            Home::Pipe | Home::None => None,
        };
        let here = path_of(self.document());
        let open: Vec<PathBuf> = self.documents.iter().filter_map(path_of).collect();
        let mut offered: Vec<Offered> = Vec::new();
        for path in self.recent.iter().chain(&open).filter(|path| Some(*path) != here.as_ref()).chain(&here) {
            let note = if open.contains(path) { Note::Open } else { Note::Recent };
            let shown = path.strip_prefix(&self.folder).unwrap_or(path).to_owned();
            if !offered.iter().any(|each| each.path == shown) {
                offered.push(Offered { path: shown, note });
            }
        }
        offered
    }

    /// Remembers that `path` was opened.
    pub(super) fn note_opened(&mut self, path: &Path) {
        self.recent.retain(|each| each != path);
        self.recent.insert(0, path.to_owned());
        self.recent.truncate(MOST_RECENT);
    }

    /// Takes other files to choose from.
    pub(super) fn walk_anew(&mut self, which: Which) {
        let walk = self.walk(which);
        if let Some(Panel::Open(opening)) = &mut self.panel {
            opening.walk_anew(walk);
        }
    }

    /// Takes in files that were found meanwhile.
    pub(super) fn gather_files(&mut self) {
        if let Some(Panel::Open(opening)) = &mut self.panel {
            opening.gather(Duration::ZERO);
        }
        if let Some(Panel::Files(files)) = &mut self.panel {
            files.gather(Duration::ZERO);
        }
        self.gather_doing(Duration::ZERO);
    }

    /// Waits for all files that there are to choose from.
    pub(super) fn settle_files(&mut self) {
        if let Some(Panel::Open(opening)) = &mut self.panel {
            while opening.is_looking() {
                opening.gather(Duration::from_millis(50));
            }
        }
    }

    /// Shows the folder as a tree.
    pub(super) fn show_files(&mut self) {
        let here = match &self.document().home {
            Home::File(path) => Some(path.clone()),
            Home::Pipe | Home::None => None,
        };
        self.panel = Some(Panel::Files(Box::new(FilesPanel::of(&self.folder, here.as_deref(), self.waker.clone()))));
    }

    /// Does to a file what was asked for, behind the screen; the panel says what came of it.
    pub(super) fn do_to_file(&mut self, deed: Deed) {
        if !self.saves.is_empty() {
            // A file that is written and renamed at the same time would be there twice.
            self.say_of_files("a file is still being written: once more when that is done");
        } else if self.writes {
            let todo = deed.clone();
            self.begin_doing(Some(deed), move || todo.done());
        } else {
            self.say_of_files("not done: only played");
        }
    }

    /// Does `work` behind the screen, one at a time.
    fn begin_doing(&mut self, deed: Option<Deed>, work: impl FnOnce() -> Result<String, String> + Send + 'static) {
        if self.doing.is_some() {
            self.say_of_files("what was asked for before is still being done");
            return;
        }
        self.doing = Some(Doing { deed, errand: self.waker.errand(work), then_quit: false });
        self.gather_doing(self.waker.patience(PATIENCE));
        if self.doing.is_some() {
            self.say_of_files("being done …");
        }
    }

    /// Takes in what was done to a file.
    fn gather_doing(&mut self, patience: Duration) {
        let Some(Doing { deed, errand, then_quit }) = self.doing.take() else { return };
        let mut slot = Some(errand);
        let result = Errand::taken(&mut slot, patience);
        if let Some(errand) = slot {
            self.doing = Some(Doing { deed, errand, then_quit });
            return;
        }
        let result = result.unwrap_or_else(|| Err("it broke off".to_owned()));
        if result.is_ok()
            && let Some(Deed::Rename(from, to)) = &deed
        {
            self.follow_rename(from, to);
        }
        let is_seen = matches!(self.panel, Some(Panel::Files(_)));
        if let (Some(Deed::CreateFile(path)), Ok(_), true) = (&deed, &result, is_seen) {
            self.panel = None;
            self.open(path);
            self.quit_behind_the_last(then_quit);
            return;
        }
        let said = result.unwrap_or_else(|why| why);
        match (&mut self.panel, deed) {
            (Some(Panel::Files(files)), Some(deed)) => {
                files.refresh(Some(deed.path()));
                files.said = Some(said);
            }
            _ => self.say(said),
        }
        self.quit_behind_the_last(then_quit);
    }

    /// Says something where the files are shown.
    fn say_of_files(&mut self, said: &str) {
        match &mut self.panel {
            Some(Panel::Files(files)) => files.said = Some(said.to_owned()),
            _ => self.say(said),
        }
    }

    /// What is open of a file or folder that has another name now lives there, and so does its journal.
    fn follow_rename(&mut self, from: &Path, to: &Path) {
        for index in 0..self.documents.len() {
            let Home::File(path) = &self.documents[index].home else { continue };
            let Ok(rest) = path.strip_prefix(from) else { continue };
            let moved = if rest.as_os_str().is_empty() { to.to_owned() } else { to.join(rest) };
            self.move_home(index, moved);
        }
    }

    /// Takes the bookmark off `line`.
    pub(super) fn clear_bookmark(&mut self, line: Line) {
        let editor = &mut self.document_mut().editor;
        let text = editor.text();
        let others: Vec<Line> = editor.bookmarks().lines(text).filter(|each| *each != line).collect();
        let marks = Bookmarks::on(text, others);
        editor.set_bookmarks(marks);
    }

    pub(super) fn show_lookup(&mut self) {
        self.panel = Some(Panel::Lookup(Box::default()));
    }

    /// Runs a verb by its name, asking for its argument where it needs one.
    pub(super) fn run_named(&mut self, name: &str) {
        let Some(verb) = by_name(name) else { return };
        if verb.asks {
            self.panel = Some(Panel::Argument(Argument { verb, line: InputLine::default() }));
        } else {
            self.run(verb, "");
        }
    }

    /// Binds keys, here and in the keys file.
    pub(super) fn bind(&mut self, bound: Vec<Binding>) {
        let mut own = self.keymap.own().to_vec();
        let told: Vec<String> = bound
            .iter()
            .map(|binding| match &binding.deed {
                KeyDeed::Verb(verb, _) => format!("{} runs {}", binding.key, verb.name),
                KeyDeed::Text(text) => format!("{} types {text:?}", binding.key),
                KeyDeed::Nothing => format!("{} runs nothing", binding.key),
            })
            .collect();
        for binding in bound {
            own.retain(|each| each.key != binding.key);
            own.push(binding);
        }
        let written = self.write_keys(|text| {
            own.iter().try_fold(text.to_owned(), |text, each| bindings::with(&text, each.key, Some(&each.deed)))
        });
        self.keymap = self.keymap.with_own(&own);
        self.say(match written {
            Ok(true) => told.join(", ") + " now",
            Ok(false) => told.join(", ") + " until the end",
            Err(why) => format!("{} until the end: {why}", told.join(", ")),
        });
    }

    /// All keys as shipped.
    pub(super) fn reset_keys(&mut self) {
        let own = self.keymap.own().to_vec();
        let written = self.write_keys(|text| {
            own.iter().try_fold(text.to_owned(), |text, each| bindings::with(&text, each.key, None))
        });
        self.keymap = self.keymap.with_own(&[]);
        self.say(match written {
            Ok(_) => "all keys are as shipped".to_owned(),
            Err(why) => format!("all keys are as shipped until the end: {why}"),
        });
    }

    /// Changes the keys file; false where there is none to change.
    fn write_keys(&self, change: impl FnOnce(&str) -> Result<String, String>) -> Result<bool, String> {
        let Some(file) = self.keys_file.as_ref().filter(|_| self.writes) else { return Ok(false) };
        let named = |error: &dyn std::fmt::Display| format!("{}: {error}", file.display());
        let text = match std::fs::read_to_string(file) {
            Ok(text) => text,
            Err(error) if error.kind() == std::io::ErrorKind::NotFound => String::new(),
            Err(error) => return Err(named(&error)),
        };
        let changed = change(&text).map_err(|error| named(&error))?;
        private::write(file, changed.as_bytes()).map_err(|error| named(&error))?;
        Ok(true)
    }

    /// Asks for the name of the file that the key sheet goes to.
    pub(super) fn ask_sheet(&mut self) {
        self.panel = Some(Panel::Sheet(InputLine::holding("keys.pdf")));
    }

    /// Draws the keys into the file at `path`.
    pub(super) fn draw_sheet(&mut self, path: &Path) {
        let path = self.folder.join(path);
        if !self.writes {
            self.say("not drawn: only played");
            return;
        }
        let keymap = self.keymap.clone();
        let draw = move || match sheet::write_keys(&keymap, &path, sheet::Paper::A4) {
            Ok(()) => Ok(format!("the keys are drawn in {}", path.display())),
            Err(error) => Err(format!("{error:#}")),
        };
        self.begin_doing(None, draw);
    }
}

/// How many files are remembered as opened of late.
const MOST_RECENT: usize = 200;

#[cfg(test)]
mod tests {
    use crate::app::slow::Bench;
    use std::sync::mpsc::channel;

    #[test]
    fn ending_waits_for_what_is_done_to_a_file_and_the_same_key_again_ends() {
        for again in [false, true] {
            let mut bench = Bench::with(&["a"]);
            let (go, may_go) = channel::<()>();
            bench
                .app
                .begin_doing(None, move || may_go.recv().map(|()| "done".to_owned()).map_err(|why| why.to_string()));
            assert_eq!(bench.message(), "being done …");
            bench.app.begin_doing(None, || Ok("another".to_owned()));
            assert!(bench.message().contains("still being done"), "one at a time");
            bench.press("ctrl+q");
            assert!(!bench.app.done && bench.message().contains("it ends then"), "{}", bench.message());
            if again {
                bench.press("ctrl+q");
            } else {
                go.send(()).unwrap();
                bench.until(|app| app.done);
                assert_eq!(bench.message(), "done");
            }
            assert!(bench.app.done);
        }
    }
}
