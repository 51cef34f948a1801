//! The files of the folder as a tree: open, create, rename, delete, by the keyboard.

use super::chooser::{Chooser, Order, Pressed};
use super::line::InputLine;
use super::painter::Painter;
use super::panel::{Panel, PanelAction, TextBeside, list_rows};
use super::start::StartOfFile;
use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::screen::canvas::{put, width};
use crossterm::event::{KeyCode, KeyModifiers};
use ratatui::buffer::Buffer as Grid;
use snarvel_files::folder::{Entry, Which, inside};
use snarvel_task::waits;
use snarvel_workspace::buffer::name_of;
use snarvel_workspace::event::{Event, Payload, TreeEntry};
use snarvel_workspace::notice::Notice;
use snarvel_workspace::operations::FileOperation;
use snarvel_workspace::tasks::{About, TaskHandle};
use snarvel_workspace::workspace::Workspace;
use std::borrow::Cow;
use std::collections::BTreeSet;
use std::path::{Path, PathBuf};

/// What is being asked.
#[derive(Debug, PartialEq, Eq)]
pub enum FileQuestion {
    /// Nothing.
    Nothing,
    /// The name of a new file, or of a folder where it ends in a slash.
    Create(InputLine),
    /// Another name for the chosen one.
    Rename(InputLine),
    /// Whether the chosen one is to go to the trash.
    Delete,
}

/// The files of the folder.
#[derive(Debug)]
pub struct FilesPanel {
    /// The folder.
    folder: PathBuf,
    /// What is shown of it, in order.
    pub entries: Vec<TreeEntry>,
    /// The letters so far, and what they leave to choose from.
    pub chooser: Chooser,
    /// What is being asked.
    pub asking: FileQuestion,
    /// What went wrong, or what was done.
    pub said: Option<String>,
    which: Which,
    open: BTreeSet<PathBuf>,
    /// What is to be shown, while that is read.
    reading: Option<TaskHandle>,
    /// What is to be chosen then.
    wanted: Option<PathBuf>,
    /// The start of the chosen file.
    start: StartOfFile,
}

impl FilesPanel {
    /// The files of the project; the way to the active one is shown, and it is chosen.
    #[must_use]
    pub fn of(workspace: &Workspace) -> FilesPanel {
        let folder = workspace.project.folder.clone();
        let current = workspace.active().path();
        let way = current.into_iter().flat_map(Path::ancestors).skip(1).filter(|each| each.starts_with(&folder));
        FilesPanel {
            open: way.map(Path::to_owned).collect(),
            wanted: current.map(Path::to_owned),
            folder,
            entries: Vec::new(),
            chooser: Chooser::new(Order::AsListed),
            asking: FileQuestion::Nothing,
            said: None,
            which: Which::Usual,
            reading: None,
            start: StartOfFile::default(),
        }
    }

    /// Reads the folders again; `chosen` is chosen if it is there.
    fn refresh(&mut self, chosen: Option<&Path>, context: &mut Context) {
        self.wanted = chosen.map(Path::to_owned).or_else(|| self.entry().map(|entry| entry.path.clone()));
        let (folder, which, open) = (self.folder.clone(), self.which, self.open.clone());
        let about = About::new("reading a folder").awaited(waits::FOLDER);
        let read = move || read(&folder, 0, which, &open);
        self.reading = Some(context.workspace.tasks.run(about, Payload::Tree, read));
    }

    fn filter(&mut self) {
        let names: Vec<String> = self.entries.iter().map(|entry| name_of(&entry.path)).collect();
        self.chooser.filter(names.into_iter().map(Cow::Owned));
    }

    /// The chosen one.
    #[must_use]
    pub fn entry(&self) -> Option<&TreeEntry> {
        self.chooser.index().map(|index| &self.entries[index])
    }

    /// The chosen one, where it is a file.
    fn chosen_file(&self) -> Option<PathBuf> {
        self.entry().filter(|entry| !entry.is_folder).map(|entry| entry.path.clone())
    }

    /// The folder in which something new would be made: the chosen one, or that of the chosen file.
    fn here(&self) -> PathBuf {
        match self.entry() {
            Some(entry) if entry.is_folder && entry.is_open => entry.path.clone(),
            Some(entry) => entry.path.parent().unwrap_or(&self.folder).to_owned(),
            None => self.folder.clone(),
        }
    }

    /// Takes a key while something is asked.
    fn answer(&mut self, asking: FileQuestion, key: Key, context: &mut Context) {
        if key.code == KeyCode::Esc {
            return;
        }
        let chosen = self.entry().map(|entry| entry.path.clone());
        match asking {
            FileQuestion::Create(mut line) if key.code != KeyCode::Enter => {
                line.press(key);
                self.asking = FileQuestion::Create(line);
            }
            FileQuestion::Rename(mut line) if key.code != KeyCode::Enter => {
                line.press(key);
                self.asking = FileQuestion::Rename(line);
            }
            FileQuestion::Create(line) if !line.text.trim().is_empty() => {
                let path = self.here().join(line.text.trim_end_matches('/'));
                context.workspace.operate(match line.text.ends_with('/') {
                    true => FileOperation::CreateFolder(path),
                    false => FileOperation::CreateFile(path),
                });
            }
            FileQuestion::Rename(line) if !line.text.trim().is_empty() => {
                let renamed = chosen.map(|path| FileOperation::Rename(path.clone(), path.with_file_name(line.text)));
                renamed.into_iter().for_each(|operation| context.workspace.operate(operation));
            }
            FileQuestion::Delete if key.typed() == Some('y') => {
                chosen.into_iter().for_each(|path| context.workspace.operate(FileOperation::Trash(path)));
            }
            _ => {}
        }
    }

    fn choose(&mut self, key: Key, context: &mut Context) -> PanelAction {
        let entry = self.entry().cloned();
        match (key.code, entry) {
            (KeyCode::Esc, _) => return PanelAction::Close,
            (KeyCode::Enter, Some(entry)) if !entry.is_folder => {
                context.workspace.open(&entry.path);
                return PanelAction::Close;
            }
            (KeyCode::Enter, Some(entry)) => self.turn(&entry, context),
            (KeyCode::Right, Some(entry)) if entry.is_folder && !entry.is_open => self.turn(&entry, context),
            (KeyCode::Right, Some(entry)) if entry.is_folder => {
                self.chooser.press(Key::new(KeyCode::Down, KeyModifiers::NONE));
            }
            (KeyCode::Left, Some(entry)) if entry.is_open => self.turn(&entry, context),
            (KeyCode::Left, Some(entry)) => {
                let above = entry.path.parent();
                let above = above.and_then(|path| self.entries.iter().position(|each| each.path == path));
                above.into_iter().for_each(|index| self.chooser.choose(index));
            }
            (KeyCode::Delete, Some(_)) => self.asking = FileQuestion::Delete,
            (KeyCode::F(2), Some(entry)) => {
                self.asking = FileQuestion::Rename(InputLine::holding(name_of(&entry.path)));
            }
            (KeyCode::Char('a'), _) if key.mods == KeyModifiers::ALT => {
                self.which = if self.which == Which::Usual { Which::All } else { Which::Usual };
                self.refresh(None, context);
            }
            (KeyCode::Char('n'), _) if key.mods == KeyModifiers::CONTROL => {
                self.asking = FileQuestion::Create(InputLine::default());
            }
            _ => {
                if self.chooser.press(key) == Pressed::Typed {
                    self.filter();
                }
            }
        }
        PanelAction::Stay
    }

    /// Shows the inside of a folder, or no longer.
    fn turn(&mut self, entry: &TreeEntry, context: &mut Context) {
        if !self.open.remove(&entry.path) {
            self.open.insert(entry.path.clone());
        }
        self.refresh(Some(&entry.path), context);
    }

    fn keys(&self, painter: &Painter, grid: &mut Grid) {
        let row = painter.row(painter.area.rows.saturating_sub(1));
        if self.asking == FileQuestion::Delete {
            let name = self.entry().map(|entry| name_of(&entry.path)).unwrap_or_default();
            let mut x = put(grid, (row, 1), &format!("move {name} to the trash?"), painter.style(Role::Changed)) + 3;
            for (key, meaning) in [("y", "move it"), ("n", "leave it")] {
                x = put(grid, (row, x), key, painter.style(Role::KeyCap)) + 1;
                x = put(grid, (row, x), meaning, painter.style(Role::Raised)) + 3;
            }
            return;
        }
        let keys: &[(&str, &str)] = match self.asking {
            FileQuestion::Create(_) | FileQuestion::Rename(_) => &[("Enter", "do it"), ("Esc", "leave it")],
            _ => &[
                ("↑ ↓", "choose"),
                ("← →", "close, open a folder"),
                ("Enter", "open"),
                ("Ctrl+N", "new"),
                ("F2", "rename"),
                ("Del", "to the trash"),
                ("Alt+A", "all files"),
                ("Esc", "leave"),
            ],
        };
        painter.keys(keys, grid);
        if let Some(said) = &self.said {
            let x = painter.area.cols.saturating_sub(width(said) + 14);
            put(grid, (painter.row(0), x), said, painter.style(Role::Changed));
        }
    }
}

impl Panel for FilesPanel {
    fn rows(&self, context: &Context) -> u16 {
        list_rows(context)
    }

    fn begin(&mut self, context: &mut Context) {
        let wanted = self.wanted.clone();
        self.refresh(wanted.as_deref(), context);
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        self.said = None;
        match std::mem::replace(&mut self.asking, FileQuestion::Nothing) {
            FileQuestion::Nothing => {
                let action = self.choose(key, context);
                let chosen = self.chosen_file();
                self.start.look(chosen, context);
                action
            }
            asking => {
                self.answer(asking, key, context);
                PanelAction::Stay
            }
        }
    }

    fn paste(&mut self, typed: &str, _context: &mut Context) -> PanelAction {
        match &mut self.asking {
            FileQuestion::Create(line) | FileQuestion::Rename(line) => line.insert(typed),
            FileQuestion::Nothing => {
                self.chooser.line.insert(typed);
                self.filter();
            }
            FileQuestion::Delete => {}
        }
        PanelAction::Stay
    }

    fn take(&mut self, mut event: Event, context: &mut Context) -> PanelAction {
        let chosen = self.chosen_file();
        self.start.take(&mut event, chosen, context);
        if let Payload::Ended = event.payload {
            self.start.end(event.source.task);
        }
        if self.reading.as_ref().is_none_or(|reading| reading.id != event.source.task) {
            return PanelAction::Stay;
        }
        match event.payload {
            Payload::Tree(entries) => {
                self.entries = entries;
                self.filter();
                let wanted = self.wanted.take();
                let at = wanted.and_then(|path| self.entries.iter().position(|entry| entry.path == path));
                at.into_iter().for_each(|index| self.chooser.choose(index));
                let chosen = self.chosen_file();
                self.start.look(chosen, context);
            }
            Payload::Ended => self.reading = None,
            _ => {}
        }
        PanelAction::Stay
    }

    fn settle(&mut self, context: &mut Context) {
        self.start.settle(context);
    }

    fn text_beside(&self) -> TextBeside {
        self.start.text_beside()
    }

    fn notice(&mut self, notice: Notice, context: &mut Context) -> (Option<Notice>, PanelAction) {
        match notice {
            Notice::Created(path) => {
                context.workspace.open(&path);
                (None, PanelAction::Close)
            }
            Notice::Operated(path, said) => {
                if let Some(path) = path {
                    self.refresh(Some(&path), context);
                }
                self.said = Some(said);
                (None, PanelAction::Stay)
            }
            other => (Some(other), PanelAction::Stay),
        }
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        match &self.asking {
            FileQuestion::Create(line) => painter.line("new file, or folder/ with a slash", line, grid),
            FileQuestion::Rename(line) => painter.line("other name", line, grid),
            FileQuestion::Nothing | FileQuestion::Delete => painter.line("files", &self.chooser.line, grid),
        }
        painter.count(self.chooser.shown.len(), self.entries.len(), grid);
        let is_whole = self.chooser.line.text.is_empty();
        painter.list(&self.chooser, grid, |index, room, style, grid| {
            let entry = &self.entries[index];
            let x = if is_whole { entry.depth * LEVEL } else { 0 } as u16;
            let sign = match (entry.is_folder, entry.is_open) {
                (false, _) => " ",
                (true, false) => "▹",
                (true, true) => "▿",
            };
            let x = put(grid, (room, x), sign, painter.over(style, Role::RaisedQuiet)) + 1;
            let role = if entry.is_folder { Role::Function } else { Role::Raised };
            let after = put(grid, (room, x), &name_of(&entry.path), painter.over(style, role));
            if let Some(state) = state_of(&painter.context.workspace, entry) {
                put(grid, (room, after + 2), state, painter.over(style, Role::RaisedQuiet));
            }
        });
        if self.chooser.shown.is_empty() {
            painter.hint(
                match (self.reading.is_some(), is_whole) {
                    (true, _) => "reading the folder …",
                    (false, true) => "nothing is here yet: Ctrl+N makes a file",
                    (false, false) => "nothing that is shown is called that",
                },
                grid,
            );
        }
        self.start.draw(painter, grid);
        self.keys(painter, grid);
    }
}

/// Cells for each level.
const LEVEL: usize = 2;

/// Whether a file is open, and whether it is saved.
fn state_of(workspace: &Workspace, entry: &TreeEntry) -> Option<&'static str> {
    let buffer = workspace.buffers().iter().find(|buffer| buffer.is_of(&entry.path))?;
    Some(if buffer.is_unsaved() { "● open, not saved" } else { "open" })
}

/// What is in `folder`, which is `depth` folders deep, with the insides of `open` folders.
fn read(folder: &Path, depth: usize, which: Which, open: &BTreeSet<PathBuf>) -> Vec<TreeEntry> {
    let mut entries = Vec::new();
    for Entry { path, is_folder } in inside(folder, which) {
        let is_open = is_folder && open.contains(&path);
        let within = if is_open { read(&path, depth + 1, which, open) } else { Vec::new() };
        entries.push(TreeEntry { path, is_folder, is_open, depth });
        entries.extend(within);
    }
    entries
}
