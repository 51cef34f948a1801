//! The files of the folder as a tree: open, create, rename, delete, by the keyboard.

use super::chooser::{Chooser, Order, Pressed};
use super::{Answer, Line as InputLine};
use crate::document::name_of;
use crate::keys::Key;
use crate::wake::Waker;
use crossterm::event::{KeyCode, KeyModifiers};
use snarvel_files::errand::Errand;
use snarvel_files::folder::{Entry, Which, inside};
use std::borrow::Cow;
use std::collections::BTreeSet;
use std::path::{Path, PathBuf};
use std::time::Duration;

/// A file or folder in the tree.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Node {
    /// Its path, from the root.
    pub path: PathBuf,
    /// Whether it is a folder.
    pub is_folder: bool,
    /// Whether it is a folder whose inside is shown.
    pub is_open: bool,
    /// How many folders it lies in.
    pub depth: usize,
}

/// What is being asked.
#[derive(Debug, PartialEq, Eq)]
pub enum Asking {
    /// Nothing.
    Nothing,
    /// The name of a new file, or of a folder where it ends in a slash.
    Create(InputLine),
    /// Another name for the chosen one.
    Rename(InputLine),
    /// Whether the chosen one is to go to the trash.
    Delete,
}

/// What is done to files.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Deed {
    /// Make an empty file.
    CreateFile(PathBuf),
    /// Make a folder.
    CreateFolder(PathBuf),
    /// Give the first another name.
    Rename(PathBuf, PathBuf),
    /// Put it into the trash.
    Trash(PathBuf),
}

impl Deed {
    /// What it makes, moves to or takes away.
    pub fn path(&self) -> &Path {
        match self {
            Deed::CreateFile(path) | Deed::CreateFolder(path) | Deed::Rename(_, path) | Deed::Trash(path) => path,
        }
    }

    /// Does it; what there is to say of it.
    ///
    /// # Errors
    /// What the system says; then all is as it was.
    pub fn done(&self) -> Result<String, String> {
        let failed = |path: &Path, error: &dyn std::fmt::Display| format!("{}: {error}", path.display());
        match self {
            Deed::CreateFile(path) => {
                let folder = path.parent().unwrap_or(path);
                std::fs::create_dir_all(folder).map_err(|error| failed(folder, &error))?;
                let made = std::fs::OpenOptions::new().write(true).create_new(true).open(path);
                made.map_err(|error| failed(path, &error))?;
                Ok(format!("{} is there now", path.display()))
            }
            Deed::CreateFolder(path) => {
                std::fs::create_dir_all(path).map_err(|error| failed(path, &error))?;
                Ok(format!("{} is there now", path.display()))
            }
            Deed::Rename(from, to) => {
                if to.symlink_metadata().is_ok() {
                    return Err(format!("{} is there already", to.display()));
                }
                std::fs::rename(from, to).map_err(|error| failed(from, &error))?;
                Ok(format!("{} is {} now", name_of(from), name_of(to)))
            }
            Deed::Trash(path) => {
                trash::delete(path).map_err(|error| failed(path, &error))?;
                Ok(format!("{} is in the trash", name_of(path)))
            }
        }
    }
}

/// The files of the folder.
#[derive(Debug)]
pub struct FilesPanel {
    /// The folder.
    pub folder: PathBuf,
    /// What is shown of it, in order.
    pub nodes: Vec<Node>,
    /// The letters so far, and what they leave to choose from.
    pub chooser: Chooser,
    /// What is being asked.
    pub asking: Asking,
    /// What went wrong, or what was done.
    pub said: Option<String>,
    which: Which,
    open: BTreeSet<PathBuf>,
    /// What is to be shown, while that is read.
    reading: Option<Errand<Vec<Node>>>,
    /// What is to be chosen then.
    wanted: Option<PathBuf>,
    waker: Waker,
}

/// How long the folder is waited for: most are read by then, and nothing flickers.
const PATIENCE: Duration = Duration::from_millis(40);

impl FilesPanel {
    /// The files of `folder`; the way to `current` is shown, and it is chosen. `waker` is woken when they are read.
    pub fn of(folder: &Path, current: Option<&Path>, waker: Waker) -> FilesPanel {
        let mut panel = FilesPanel {
            folder: folder.to_owned(),
            nodes: Vec::new(),
            chooser: Chooser::new(Order::AsListed),
            asking: Asking::Nothing,
            said: None,
            which: Which::Usual,
            open: BTreeSet::new(),
            reading: None,
            wanted: None,
            waker,
        };
        let way = current.into_iter().flat_map(Path::ancestors).skip(1).filter(|each| each.starts_with(folder));
        panel.open.extend(way.map(Path::to_owned));
        panel.refresh(current);
        panel
    }

    /// Reads the folders again; `chosen` is chosen if it is there.
    pub fn refresh(&mut self, chosen: Option<&Path>) {
        self.wanted = chosen.map(Path::to_owned).or_else(|| self.node().map(|node| node.path.clone()));
        let (folder, which, open) = (self.folder.clone(), self.which, self.open.clone());
        self.reading = Some(self.waker.errand(move || read(&folder, 0, which, &open)));
        self.gather(self.waker.patience(PATIENCE));
    }

    /// Takes in what was read.
    pub fn gather(&mut self, patience: Duration) {
        let Some(nodes) = Errand::taken(&mut self.reading, patience) else { return };
        self.nodes = nodes;
        self.filter();
        let wanted = self.wanted.take();
        if let Some(index) = wanted.and_then(|path| self.nodes.iter().position(|node| node.path == path)) {
            self.chooser.choose(index);
        }
    }

    /// Whether the folders are being read.
    pub fn is_reading(&self) -> bool {
        self.reading.is_some()
    }

    fn filter(&mut self) {
        let name = |node: &Node| node.path.file_name().unwrap_or_default().to_string_lossy().into_owned();
        let names: Vec<String> = self.nodes.iter().map(name).collect();
        self.chooser.filter(names.into_iter().map(Cow::Owned));
    }

    /// The chosen one.
    pub fn node(&self) -> Option<&Node> {
        self.chooser.index().map(|index| &self.nodes[index])
    }

    /// The folder in which something new would be made: the chosen one, or that of the chosen file.
    fn here(&self) -> PathBuf {
        match self.node() {
            Some(node) if node.is_folder && node.is_open => node.path.clone(),
            Some(node) => node.path.parent().unwrap_or(&self.folder).to_owned(),
            None => self.folder.clone(),
        }
    }

    /// Takes a key.
    pub(super) fn press(&mut self, key: Key) -> Answer {
        self.said = None;
        match std::mem::replace(&mut self.asking, Asking::Nothing) {
            Asking::Nothing => self.choose(key),
            _ if key.code == KeyCode::Esc => Answer::None,
            Asking::Create(mut line) if key.code != KeyCode::Enter => {
                line.press(key);
                self.asking = Asking::Create(line);
                Answer::None
            }
            Asking::Rename(mut line) if key.code != KeyCode::Enter => {
                line.press(key);
                self.asking = Asking::Rename(line);
                Answer::None
            }
            Asking::Create(line) if !line.text.trim().is_empty() => {
                let path = self.here().join(line.text.trim_end_matches('/'));
                Answer::Files(if line.text.ends_with('/') { Deed::CreateFolder(path) } else { Deed::CreateFile(path) })
            }
            Asking::Rename(line) if !line.text.trim().is_empty() => match self.node() {
                Some(node) => Answer::Files(Deed::Rename(node.path.clone(), node.path.with_file_name(line.text))),
                None => Answer::None,
            },
            Asking::Delete if key.typed() == Some('y') => match self.node() {
                Some(node) => Answer::Files(Deed::Trash(node.path.clone())),
                None => Answer::None,
            },
            _ => Answer::None,
        }
    }

    fn choose(&mut self, key: Key) -> Answer {
        let ctrl = |c: char| key.code == KeyCode::Char(c) && key.mods == KeyModifiers::CONTROL;
        let node = self.node().cloned();
        match (key.code, node) {
            (KeyCode::Esc, _) => return Answer::Left,
            (KeyCode::Enter, Some(node)) if !node.is_folder => return Answer::Open(node.path),
            (KeyCode::Enter, Some(node)) => self.turn(&node),
            (KeyCode::Right, Some(node)) if node.is_folder && !node.is_open => self.turn(&node),
            (KeyCode::Right, Some(node)) if node.is_folder => drop(self.chooser.press(down())),
            (KeyCode::Left, Some(node)) if node.is_open => self.turn(&node),
            (KeyCode::Left, Some(node)) => {
                let above = node.path.parent().and_then(|path| self.nodes.iter().position(|each| each.path == path));
                above.into_iter().for_each(|index| self.chooser.choose(index));
            }
            (KeyCode::Delete, Some(_)) => self.asking = Asking::Delete,
            (KeyCode::F(2), Some(node)) => {
                let name = node.path.file_name().unwrap_or_default().to_string_lossy();
                self.asking = Asking::Rename(InputLine::holding(name));
            }
            (KeyCode::Char('a'), _) if key.mods == KeyModifiers::ALT => {
                self.which = if self.which == Which::Usual { Which::All } else { Which::Usual };
                self.refresh(None);
            }
            _ if ctrl('n') => self.asking = Asking::Create(InputLine::default()),
            _ => {
                if self.chooser.press(key) == Pressed::Typed {
                    self.filter();
                }
            }
        }
        Answer::None
    }

    /// Shows the inside of a folder, or no longer.
    fn turn(&mut self, node: &Node) {
        if !self.open.remove(&node.path) {
            self.open.insert(node.path.clone());
        }
        self.refresh(Some(&node.path));
    }

    /// Takes pasted text.
    pub(super) fn paste(&mut self, typed: &str) {
        match &mut self.asking {
            Asking::Create(line) | Asking::Rename(line) => line.insert(typed),
            Asking::Nothing => {
                self.chooser.line.insert(typed);
                self.filter();
            }
            Asking::Delete => {}
        }
    }
}

/// What lies in `folder`, which lies `depth` folders deep, with the insides of `open` folders.
fn read(folder: &Path, depth: usize, which: Which, open: &BTreeSet<PathBuf>) -> Vec<Node> {
    let mut nodes = Vec::new();
    for Entry { path, is_folder } in inside(folder, which) {
        let is_open = is_folder && open.contains(&path);
        let within = if is_open { read(&path, depth + 1, which, open) } else { Vec::new() };
        nodes.push(Node { path, is_folder, is_open, depth });
        nodes.extend(within);
    }
    nodes
}

fn down() -> Key {
    Key::new(KeyCode::Down, KeyModifiers::NONE)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_tree_is_walked_and_what_is_done_is_asked_for_first() {
        let folder = tempfile::tempdir().unwrap();
        let root = folder.path();
        std::fs::create_dir(root.join("sub")).unwrap();
        for name in ["a.rs", "sub/b.rs"] {
            std::fs::write(root.join(name), "").unwrap();
        }
        let mut panel = FilesPanel::of(root, None, Waker::default());
        let press = |panel: &mut FilesPanel, keys: &str| {
            let mut last = Answer::None;
            keys.split(' ').for_each(|key| last = panel.press(Key::parse(key).unwrap()));
            last
        };
        assert_eq!(panel.nodes.len(), 2);
        press(&mut panel, "right");
        assert_eq!(panel.nodes.len(), 3);
        assert_eq!(press(&mut panel, "down enter"), Answer::Open(root.join("sub/b.rs")));
        let renamed = Deed::Rename(root.join("sub/b.rs"), root.join("sub/c"));
        assert_eq!(press(&mut panel, "f2 ctrl+u c enter"), Answer::Files(renamed));
        assert_eq!(press(&mut panel, "delete n"), Answer::None);
        assert_eq!(press(&mut panel, "delete y"), Answer::Files(Deed::Trash(root.join("sub/b.rs"))));
        assert_eq!(press(&mut panel, "ctrl+n x enter"), Answer::Files(Deed::CreateFile(root.join("sub/x"))));
        press(&mut panel, "left left");
        assert_eq!(panel.nodes.len(), 2);
        assert_eq!(press(&mut panel, "ctrl+n y / enter"), Answer::Files(Deed::CreateFolder(root.join("y"))));
        assert_eq!(press(&mut panel, "a . enter"), Answer::Open(root.join("a.rs")));
        assert_eq!(FilesPanel::of(root, Some(&root.join("sub/b.rs")), Waker::default()).nodes.len(), 3);
    }
}
