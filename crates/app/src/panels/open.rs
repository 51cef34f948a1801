//! A file to open, by a few letters of its name: of the project, open and recent ones first, or of any other folder by its
//! path.

use super::Answer;
use super::chooser::{Chooser, Order, Pressed};
use crate::document::{Document, Home};
use crate::keys::Key;
use crate::wake::Waker;
use crossterm::event::{KeyCode, KeyModifiers};
use snarvel_core::editor::Manner;
use snarvel_files::errand::Errand;
use snarvel_files::folder::{Entry, FileWalk, Which, inside};
use snarvel_files::load::{Loaded, decode};
use std::io::Read;
use std::path::{Path, PathBuf};
use std::time::Duration;

/// A file to choose.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Offered {
    /// Its path from the project's folder, or from the root.
    pub path: PathBuf,
    /// What it is beside a file of the project.
    pub note: Note,
}

/// What a file is beside one of the project.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Note {
    /// Nothing.
    None,
    /// Open.
    Open,
    /// Opened of late.
    Recent,
    /// A folder.
    Folder,
}

/// A file to open.
#[derive(Debug)]
pub struct Opening {
    /// The project's folder.
    pub folder: PathBuf,
    /// All files to choose from.
    pub files: Vec<Offered>,
    /// The letters so far, and what they leave to choose from.
    pub chooser: Chooser,
    /// Which files of the project are offered.
    pub which: Which,
    /// The start of the chosen file.
    pub preview: Option<(PathBuf, Box<Document>)>,
    /// The folder whose files are offered, where it is another one.
    elsewhere: Option<PathBuf>,
    first: Vec<Offered>,
    project: Vec<Offered>,
    walk: Option<FileWalk>,
    /// What lies in `elsewhere`, while that is read.
    listing: Option<Errand<Vec<Entry>>>,
    /// Which of those opened of late are gone, while that is found out.
    gone: Option<Errand<Vec<PathBuf>>>,
    /// The start of a file, while that is read.
    start: Option<(PathBuf, Errand<Option<Loaded>>)>,
    waker: Waker,
    manner: Manner,
}

/// How many files are gathered: more than anybody would look through.
pub const MOST_FILES: usize = 200_000;

/// How long the start of a file is waited for: that of most is there by then.
const PATIENCE_FOR_START: Duration = Duration::from_millis(20);

/// How long the files of the project are waited for before the panel shows: those of most are there by then.
const PATIENCE: Duration = Duration::from_millis(40);

/// Bytes of a file that are shown before it is opened.
const BYTES_SHOWN: u64 = 32 << 10;

impl Opening {
    /// The files below `folder`; `first` come before the others. `waker` is woken when more is known of them.
    pub fn of(folder: &Path, first: Vec<Offered>, walk: FileWalk, (manner, waker): (Manner, Waker)) -> Opening {
        let (root, of_late) = (folder.to_owned(), first.clone());
        let gone = waker.errand(move || {
            let recent = of_late.into_iter().filter(|each| each.note == Note::Recent).map(|each| each.path);
            recent.filter(|path| !root.join(path).is_file()).collect()
        });
        let mut opening = Opening {
            folder: folder.to_owned(),
            files: first.clone(),
            chooser: Chooser::new(Order::BestFirst),
            which: Which::Usual,
            preview: None,
            elsewhere: None,
            first,
            project: Vec::new(),
            walk: Some(walk),
            listing: None,
            gone: Some(gone),
            start: None,
            waker,
            manner,
        };
        opening.gather(PATIENCE);
        opening
    }

    /// Takes in what was found meanwhile.
    pub fn gather(&mut self, patience: Duration) {
        let gone = Errand::taken(&mut self.gone, self.waker.patience(patience)).unwrap_or_default();
        self.first.retain(|each| !gone.contains(&each.path));
        let mut is_news = !gone.is_empty();
        if let Some(walk) = &self.walk {
            let (found, is_over) = walk.gather(patience);
            if is_over {
                self.walk = None;
            }
            let is_first = |path: &PathBuf| self.first.iter().any(|each| each.path == *path);
            let others: Vec<PathBuf> = found.into_iter().filter(|path| !is_first(path)).collect();
            self.project.extend(others.into_iter().map(|path| Offered { path, note: Note::None }));
            is_news = true;
        }
        if is_news && self.elsewhere.is_none() {
            let chosen = self.chosen_path();
            self.offer();
            if let Some(at) = chosen.and_then(|path| self.files.iter().position(|each| each.path == path)) {
                self.chooser.choose(at);
            }
        }
        self.gather_listing(patience);
        self.gather_start(Duration::ZERO);
    }

    /// Whether files are still being found.
    pub fn is_looking(&self) -> bool {
        self.walk.is_some() || self.listing.is_some()
    }

    fn chosen_path(&self) -> Option<PathBuf> {
        self.chooser.index().map(|index| self.files[index].path.clone())
    }

    /// Offers what belongs to the letters so far: files of the project, or of the folder that was typed.
    fn offer(&mut self) {
        let typed = self.chooser.line.text.clone();
        match folder_typed(&typed) {
            Some((folder, _)) => {
                if self.elsewhere.as_ref() != Some(&folder) {
                    let (whole, which) = (self.folder.join(&folder), self.which);
                    self.listing = Some(self.waker.errand(move || inside(&whole, which)));
                    self.files.clear();
                    self.elsewhere = Some(folder);
                    self.gather_listing(self.waker.patience(PATIENCE));
                }
            }
            None => {
                (self.elsewhere, self.listing) = (None, None);
                self.files = self.first.iter().chain(&self.project).cloned().collect();
            }
        }
        self.filter();
    }

    fn filter(&mut self) {
        match folder_typed(&self.chooser.line.text) {
            // Of the path only what stands behind the folder is for choosing.
            Some((_, name)) => {
                let names = self.files.iter().map(|each| each.path.file_name().unwrap_or_default().to_string_lossy());
                self.chooser.filter_by(&name, names);
            }
            None => self.chooser.filter(self.files.iter().map(|each| each.path.to_string_lossy())),
        }
        self.look();
    }

    /// Takes in what lies in another folder.
    fn gather_listing(&mut self, patience: Duration) {
        if let Some(entries) = Errand::taken(&mut self.listing, patience) {
            let note = |entry: &Entry| if entry.is_folder { Note::Folder } else { Note::None };
            self.files = entries.into_iter().map(|each| Offered { note: note(&each), path: each.path }).collect();
            self.filter();
        }
    }

    /// Reads the start of the chosen file; where that of another one is still being read, behind that.
    fn look(&mut self) {
        let chosen = self.chooser.index().map(|index| self.files[index].clone());
        let Some(file) = chosen.filter(|file| file.note != Note::Folder) else {
            self.preview = None;
            return;
        };
        if self.preview.as_ref().is_none_or(|(shown, _)| *shown != file.path) {
            self.preview = None;
            if self.start.is_none() {
                let whole = self.folder.join(&file.path);
                self.start = Some((file.path, self.waker.errand(move || start_of(&whole))));
                self.gather_start(self.waker.patience(PATIENCE_FOR_START));
            }
        }
    }

    /// Takes in the start of a file, and reads that of the chosen one where that is another by now.
    fn gather_start(&mut self, patience: Duration) {
        let Some((path, start)) = self.start.take() else { return };
        let mut slot = Some(start);
        let loaded = Errand::taken(&mut slot, patience).flatten();
        if let Some(start) = slot {
            self.start = Some((path, start));
        } else if self.chosen_path().as_ref() == Some(&path) {
            let home = Home::File(self.folder.join(&path));
            let document = loaded.map(|loaded| Document::of(loaded, home, self.manner));
            self.preview = document.map(|document| (path, Box::new(document)));
        } else {
            self.look();
        }
    }

    /// What Enter opens: the chosen file, else the path that was typed.
    pub fn target(&self) -> Option<PathBuf> {
        match self.chooser.index() {
            Some(index) => Some(self.files[index].path.clone()),
            None if self.chooser.line.text.is_empty() => None,
            None => Some(at_home(&self.chooser.line.text)),
        }
    }

    /// Takes the chosen name over into the letters; a folder is gone into.
    fn take_over(&mut self) {
        let Some(index) = self.chooser.index() else { return };
        let file = &self.files[index];
        let mut path = file.path.to_string_lossy().into_owned();
        if file.note == Note::Folder {
            path.push('/');
        }
        self.chooser.line.set(path);
        self.offer();
    }

    /// Takes a key.
    pub(super) fn press(&mut self, key: Key) -> Answer {
        let is_folder = self.chooser.index().is_some_and(|index| self.files[index].note == Note::Folder);
        match key.code {
            KeyCode::Tab => self.take_over(),
            KeyCode::Enter if key.mods == KeyModifiers::ALT && !self.chooser.line.text.is_empty() => {
                return Answer::Open(at_home(&self.chooser.line.text));
            }
            KeyCode::Enter if is_folder => self.take_over(),
            KeyCode::Enter => return self.target().map_or(Answer::None, Answer::Open),
            KeyCode::Char('a') if key.mods == KeyModifiers::ALT => {
                self.which = if self.which == Which::Usual { Which::All } else { Which::Usual };
                (self.elsewhere, self.project) = (None, Vec::new());
                return Answer::Walk(self.which);
            }
            _ => match self.chooser.press(key) {
                Pressed::Typed => self.offer(),
                Pressed::Moved => self.look(),
                Pressed::Nothing => {}
            },
        }
        Answer::None
    }

    /// Takes the files that another walk finds.
    pub fn walk_anew(&mut self, walk: FileWalk) {
        self.walk = Some(walk);
        self.gather(PATIENCE);
    }

    /// Takes pasted text.
    pub(super) fn paste(&mut self, typed: &str) {
        self.chooser.line.insert(typed);
        self.offer();
    }
}

/// The folder that a typed path leads to, and what stands behind it; none where it begins like a name.
fn folder_typed(typed: &str) -> Option<(PathBuf, String)> {
    let leads_away = ["/", "~/", "./", "../"].iter().any(|start| typed.starts_with(start));
    let (folder, name) = typed.rsplit_once('/').filter(|_| leads_away)?;
    let folder = if folder.is_empty() { PathBuf::from("/") } else { at_home(folder) };
    Some((folder, name.to_owned()))
}

/// A path as it was typed, with `~` for the person's home.
fn at_home(typed: &str) -> PathBuf {
    let home = etcetera::home_dir().ok();
    match (typed.strip_prefix('~'), home) {
        (Some(rest), Some(home)) if rest.is_empty() || rest.starts_with('/') => home.join(rest.trim_start_matches('/')),
        _ => PathBuf::from(typed),
    }
}

/// The start of the file at `path`; none for what is no file or cannot be read.
fn start_of(path: &Path) -> Option<Loaded> {
    let file = std::fs::metadata(path).ok()?.is_file().then(|| std::fs::File::open(path).ok())??;
    let mut bytes = Vec::new();
    file.take(BYTES_SHOWN).read_to_end(&mut bytes).ok()?;
    let (text, encoding) = decode(&bytes);
    Some(Loaded { text, encoding, read_only: true })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::keys::keymap::Keymap;
    use crate::panels::Panel;

    fn panel(folder: &Path, names: &[&str], first: &[&str]) -> Panel {
        for name in names {
            std::fs::write(folder.join(name), "tide\n").unwrap();
        }
        let first = first.iter().map(|name| Offered { path: name.into(), note: Note::Recent }).collect();
        let walk = FileWalk::start(folder, Which::Usual, 100, || ());
        let mut opening = Opening::of(folder, first, walk, (Manner::default(), Waker::default()));
        while opening.is_looking() {
            opening.gather(Duration::from_millis(10));
        }
        Panel::Open(Box::new(opening))
    }

    fn pressed(panel: &mut Panel, keys: &str) -> Answer {
        let keymap = Keymap::shipped(false);
        let mut last = Answer::None;
        for key in keys.split(' ') {
            last = panel.press(Key::parse(key).unwrap(), &keymap);
        }
        last
    }

    #[test]
    fn letters_find_files_and_a_new_name_is_taken_as_it_is() {
        let folder = tempfile::tempdir().unwrap();
        let mut panel = panel(folder.path(), &["berths.ts", "board.html", "gauges.rs", "tides.py"], &[]);
        assert_eq!(pressed(&mut panel, "g s enter"), Answer::Open("gauges.rs".into()));
        assert_eq!(pressed(&mut panel, "z z . t x t enter"), Answer::Open("gszz.txt".into()));
        assert_eq!(pressed(&mut panel, "esc"), Answer::Left);
    }

    #[test]
    fn recent_files_come_first_and_other_folders_by_their_path() {
        let folder = tempfile::tempdir().unwrap();
        std::fs::create_dir(folder.path().join("sub")).unwrap();
        std::fs::write(folder.path().join("sub/buoys.lua"), "").unwrap();
        let mut panel = panel(folder.path(), &["a.rs", "b.rs"], &["b.rs"]);
        assert_eq!(pressed(&mut panel, "enter"), Answer::Open("b.rs".into()));
        assert_eq!(pressed(&mut panel, ". / s u enter"), Answer::None);
        let Answer::Open(path) = pressed(&mut panel, "enter") else { panic!("nothing is opened") };
        assert!(path.ends_with("sub/buoys.lua"), "{path:?}");
    }

    #[test]
    fn a_slow_disk_is_asked_for_one_start_at_a_time_and_the_one_that_is_chosen_by_then_is_shown() {
        let folder = tempfile::tempdir().unwrap();
        let names = ["a.rs", "b.rs", "c.rs"];
        let Panel::Open(mut opening) = panel(folder.path(), &names, &[]) else { panic!("it is one") };
        assert_eq!(opening.preview.as_ref().unwrap().0, Path::new("a.rs"));
        let waker = Waker::default();
        let (go, may_go) = std::sync::mpsc::channel::<()>();
        opening.start = Some(("a.rs".into(), waker.errand(move || may_go.recv().ok().and(None))));
        for _ in 0..2 {
            opening.press(Key::parse("down").unwrap());
            assert!(opening.preview.is_none(), "nothing waits for what is not wanted any more");
        }
        opening.gather(Duration::ZERO);
        assert!(opening.preview.is_none());
        go.send(()).unwrap();
        opening.gather_start(Duration::MAX);
        assert_eq!(opening.preview.as_ref().unwrap().0, Path::new("c.rs"));
    }

    #[test]
    fn recent_files_that_are_gone_are_not_offered() {
        let folder = tempfile::tempdir().unwrap();
        let Panel::Open(opening) = panel(folder.path(), &["a.rs", "b.rs"], &["gone.rs", "b.rs"]) else {
            panic!("it is one")
        };
        let offered: Vec<&Path> = opening.files.iter().map(|each| each.path.as_path()).collect();
        assert_eq!(offered, ["b.rs", "a.rs"].map(Path::new));
    }
}
