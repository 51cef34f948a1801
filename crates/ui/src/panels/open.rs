//! A file to open, by a few letters of its name: of the project, open and recent ones first, or of any other folder by its
//! path.

use super::chooser::{Chooser, Order, Pressed};
use super::painter::Painter;
use super::panel::{Panel, PanelAction, TextBeside, list_rows};
use super::start::StartOfFile;
use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::screen::canvas::{Area, put, width};
use crossterm::event::{KeyCode, KeyModifiers};
use ratatui::buffer::Buffer as Grid;
use ratatui::style::Style;
use snarvel_core::text::place::{Place, name_and_place};
use snarvel_files::folder::{Entry, Which, inside, walk_in_background};
use snarvel_task::waits;
use snarvel_workspace::buffer::Buffer;
use snarvel_workspace::event::{Event, Payload};
use snarvel_workspace::ids::TaskId;
use snarvel_workspace::tasks::{About, TaskHandle};
use snarvel_workspace::workspace::Workspace;
use std::path::{Path, PathBuf};

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
    /// Opened lately.
    Recent,
    /// A folder.
    Folder,
}

/// What is being found out in the background.
#[derive(Debug, Default)]
struct Tasks {
    /// The files of the project.
    walk: Option<TaskHandle>,
    /// What is in another folder.
    listing: Option<TaskHandle>,
    /// Which of those opened lately are gone.
    missing: Option<TaskHandle>,
}

impl Tasks {
    /// The task has ended.
    fn end(&mut self, task: TaskId) {
        for slot in [&mut self.walk, &mut self.listing, &mut self.missing] {
            slot.take_if(|handle| handle.id == task);
        }
    }
}

/// A file to open.
#[derive(Debug)]
pub struct OpenPanel {
    /// The project's folder.
    folder: PathBuf,
    /// All files to choose from.
    pub files: Vec<Offered>,
    /// The letters so far, and what they leave to choose from.
    pub chooser: Chooser,
    /// Which files of the project are offered.
    which: Which,
    /// The start of the chosen file.
    start: StartOfFile,
    /// The folder whose files are offered, where it is another one.
    elsewhere: Option<PathBuf>,
    /// What is offered first.
    first: Vec<Offered>,
    project: Vec<Offered>,
    tasks: Tasks,
}

/// How many files are gathered: more than anybody would look through.
const MOST_FILES: usize = 200_000;

impl OpenPanel {
    /// The files of the project; those that are open and those opened lately first.
    #[must_use]
    pub fn of(workspace: &Workspace) -> OpenPanel {
        let first = first_offered(workspace);
        let mut panel = OpenPanel {
            folder: workspace.project.folder.clone(),
            files: first.clone(),
            chooser: Chooser::new(Order::BestFirst),
            which: Which::Usual,
            start: StartOfFile::default(),
            elsewhere: None,
            first,
            project: Vec::new(),
            tasks: Tasks::default(),
        };
        panel.filter();
        panel
    }

    fn walk(&mut self, context: &mut Context) {
        let about = About::new("looking for files").awaited(waits::FOLDER);
        let tasks = &mut context.workspace.tasks;
        let start = |sink| walk_in_background(&self.folder, self.which, MOST_FILES, sink);
        self.tasks.walk = Some(tasks.start(about, Payload::Walked, start));
    }

    /// Finds out which of the files opened lately are gone.
    fn find_missing(&mut self, context: &mut Context) {
        let recent = self.first.iter().filter(|each| each.note == Note::Recent);
        let (folder, recent): (_, Vec<PathBuf>) = (self.folder.clone(), recent.map(|each| each.path.clone()).collect());
        let about = About::new("looking for files").awaited(waits::FOLDER);
        let find = move || recent.into_iter().filter(|path| !folder.join(path).is_file()).collect();
        self.tasks.missing = Some(context.workspace.tasks.run(about, Payload::Missing, find));
    }

    fn chosen_path(&self) -> Option<PathBuf> {
        self.chooser.index().map(|index| self.files[index].path.clone())
    }

    /// The letters of a name, and where in the file to go. A star stands for what may be left out anyway.
    fn asked(&self) -> (String, Option<Place>) {
        let (name, place) = name_and_place(&self.chooser.line.text);
        (name.replace('*', ""), place)
    }

    /// Offers what belongs to the letters so far: files of the project, or of the folder that was typed.
    fn offer(&mut self, context: &mut Context) {
        match folder_typed(&self.asked().0) {
            Some((folder, _)) if self.elsewhere.as_ref() == Some(&folder) => {}
            Some((folder, _)) => {
                let (whole, which) = (self.folder.join(&folder), self.which);
                let about = About::new("reading a folder").awaited(waits::FOLDER);
                let list = context.workspace.tasks.run(about, Payload::Listed, move || inside(&whole, which));
                (self.tasks.listing, self.elsewhere) = (Some(list), Some(folder));
                self.files.clear();
            }
            None => {
                (self.elsewhere, self.tasks.listing) = (None, None);
                self.files = self.first.iter().chain(&self.project).cloned().collect();
            }
        }
        self.filter();
        self.look(context);
    }

    /// Offers the files of the project anew; what is chosen stays.
    fn offer_again(&mut self, context: &mut Context) {
        if self.elsewhere.is_none() {
            let chosen = self.chosen_path().filter(|_| self.chooser.chosen > 0);
            self.offer(context);
            if let Some(at) = chosen.and_then(|path| self.files.iter().position(|each| each.path == path)) {
                self.chooser.choose(at);
                self.look(context);
            }
        }
    }

    fn filter(&mut self) {
        let (asked, _) = self.asked();
        match folder_typed(&asked) {
            // Of the path only what is after the folder is for choosing.
            Some((_, name)) => {
                let names = self.files.iter().map(|each| each.path.file_name().unwrap_or_default().to_string_lossy());
                self.chooser.filter_by(&name, names);
            }
            None => self.chooser.filter_by(&asked, self.files.iter().map(|each| each.path.to_string_lossy())),
        }
    }

    /// Reads the start of the chosen file.
    fn look(&mut self, context: &mut Context) {
        let chosen = self.chosen_file();
        self.start.look(chosen, context);
    }

    /// The chosen file, by its whole path; none where it is a folder.
    fn chosen_file(&self) -> Option<PathBuf> {
        let file = &self.files[self.chooser.index()?];
        (file.note != Note::Folder).then(|| self.folder.join(&file.path))
    }

    /// What Enter opens: the chosen file, else the path that was typed.
    fn target(&self) -> Option<PathBuf> {
        match self.chooser.index() {
            Some(index) => Some(self.files[index].path.clone()),
            None if self.chooser.line.text.is_empty() => None,
            None => Some(at_home(name_and_place(&self.chooser.line.text).0)),
        }
    }

    /// Takes the chosen name over into the letters; a folder is gone into.
    fn take_over(&mut self, context: &mut Context) {
        let Some(index) = self.chooser.index() else { return };
        let file = &self.files[index];
        let mut path = file.path.to_string_lossy().into_owned();
        if file.note == Note::Folder {
            path.push('/');
        }
        self.chooser.line.set(path);
        self.offer(context);
    }

    fn is_looking(&self) -> bool {
        self.tasks.walk.is_some() || self.tasks.listing.is_some()
    }

    fn row(&self, painter: &Painter, file: usize, (room, style): (Area, Style), grid: &mut Grid) {
        let offered = &self.files[file];
        let note = match offered.note {
            Note::None => "",
            Note::Open => "open",
            Note::Recent => "recent",
            Note::Folder => "folder",
        };
        let note_x = room.cols.saturating_sub(width(note));
        let path = offered.path.to_string_lossy();
        // Of a path that is too long its end tells more.
        let names = Area { cols: note_x.saturating_sub(1), ..room };
        let skipped = usize::from(width(&path).saturating_sub(names.cols));
        let shown: String = path.chars().skip(if skipped > 0 { skipped + 1 } else { 0 }).collect();
        let shown = if skipped > 0 { format!("…{shown}") } else { shown };
        let (folder, name) = shown
            .rsplit_once('/')
            .map_or(("", shown.as_str()), |(folder, _)| (&shown[..=folder.len()], &shown[folder.len() + 1..]));
        let x = put(grid, (names, 0), folder, painter.over(style, Role::RaisedQuiet));
        put(grid, (names, x), name, style);
        put(grid, (room, note_x), note, painter.over(style, Role::RaisedQuiet));
    }
}

/// Files opened lately, the latest first, the one in view last.
fn first_offered(workspace: &Workspace) -> Vec<Offered> {
    let here = workspace.active().path();
    let open: Vec<&Path> = workspace.buffers().iter().filter_map(Buffer::path).collect();
    let recent = workspace.project.recent.iter().map(PathBuf::as_path);
    let mut offered: Vec<Offered> = Vec::new();
    for path in recent.chain(open.iter().copied()).filter(|path| Some(*path) != here).chain(here) {
        let note = if open.contains(&path) { Note::Open } else { Note::Recent };
        let shown = path.strip_prefix(&workspace.project.folder).unwrap_or(path).to_owned();
        if !offered.iter().any(|each| each.path == shown) {
            offered.push(Offered { path: shown, note });
        }
    }
    offered
}

fn open(path: &Path, context: &mut Context) -> PanelAction {
    context.workspace.open(path);
    PanelAction::Close
}

impl Panel for OpenPanel {
    fn rows(&self, context: &Context) -> u16 {
        list_rows(context)
    }

    fn begin(&mut self, context: &mut Context) {
        self.find_missing(context);
        self.walk(context);
        self.look(context);
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        let is_folder = self.chooser.index().is_some_and(|index| self.files[index].note == Note::Folder);
        match key.code {
            KeyCode::Esc => return PanelAction::Close,
            KeyCode::Tab => self.take_over(context),
            KeyCode::Enter if key.mods == KeyModifiers::ALT && !self.chooser.line.text.is_empty() => {
                return open(&at_home(&self.chooser.line.text), context);
            }
            KeyCode::Enter if is_folder => self.take_over(context),
            KeyCode::Enter => {
                let Some(path) = self.target() else { return PanelAction::Stay };
                let action = open(&path, context);
                if let (_, Some(place)) = self.asked() {
                    context.workspace.go_to_place(place);
                }
                return action;
            }
            KeyCode::Char('a') if key.mods == KeyModifiers::ALT => {
                self.which = if self.which == Which::Usual { Which::All } else { Which::Usual };
                (self.elsewhere, self.project) = (None, Vec::new());
                self.offer(context);
                self.walk(context);
            }
            _ => match self.chooser.press(key) {
                Pressed::Typed => self.offer(context),
                Pressed::Moved => self.look(context),
                Pressed::Nothing => {}
            },
        }
        PanelAction::Stay
    }

    fn paste(&mut self, typed: &str, context: &mut Context) -> PanelAction {
        self.chooser.line.insert(typed);
        self.offer(context);
        PanelAction::Stay
    }

    fn take(&mut self, mut event: Event, context: &mut Context) -> PanelAction {
        let chosen = self.chosen_file();
        self.start.take(&mut event, chosen, context);
        let task = event.source.task;
        let is_of = |slot: &Option<TaskHandle>| slot.as_ref().is_some_and(|handle| handle.id == task);
        match event.payload {
            Payload::Walked(found) if is_of(&self.tasks.walk) => {
                let is_first = |path: &PathBuf| self.first.iter().any(|each| each.path == *path);
                let others: Vec<PathBuf> = found.into_iter().filter(|path| !is_first(path)).collect();
                self.project.extend(others.into_iter().map(|path| Offered { path, note: Note::None }));
                self.offer_again(context);
            }
            Payload::Missing(gone) if is_of(&self.tasks.missing) && !gone.is_empty() => {
                self.first.retain(|each| !gone.contains(&each.path));
                self.offer_again(context);
            }
            Payload::Listed(entries) if is_of(&self.tasks.listing) => {
                let note = |entry: &Entry| if entry.is_folder { Note::Folder } else { Note::None };
                self.files = entries.into_iter().map(|each| Offered { note: note(&each), path: each.path }).collect();
                self.filter();
                self.look(context);
            }
            Payload::Ended => {
                self.tasks.end(task);
                self.start.end(task);
            }
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

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        painter.line("open", &self.chooser.line, grid);
        painter.count(self.chooser.shown.len(), self.files.len(), grid);
        painter.list(&self.chooser, grid, |file, room, style, grid| self.row(painter, file, (room, style), grid));
        if self.chooser.shown.is_empty() {
            let hint = match (self.chooser.line.text.is_empty(), self.is_looking()) {
                (_, true) => "looking for files …".to_owned(),
                (true, false) => "no files here: type the path of one".to_owned(),
                (false, false) => format!("no such file: Enter begins {}", self.chooser.line.text),
            };
            painter.hint(&hint, grid);
        }
        self.start.draw(painter, grid);
        let which = match self.which {
            Which::Usual => "also hidden and ignored",
            Which::All => "without hidden and ignored",
        };
        let keys = [
            ("↑ ↓", "choose"),
            ("Enter", "open"),
            ("/ ~/ ../", "other folders"),
            ("Tab", "take name"),
            ("Alt+Enter", "as typed"),
            ("Alt+A", which),
            ("Esc", "leave"),
        ];
        painter.keys(&keys, grid);
    }
}

/// The folder that a typed path leads to, and what is after it; none where it begins like a name.
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
