//! The name of the file that a text is saved to: it begins with the one it has, and Tab completes the path.

use super::line::{Entry, InputLine};
use super::painter::Painter;
use super::panel::{Panel, PanelAction};
use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::screen::canvas::{put, width};
use crossterm::event::KeyCode;
use ratatui::buffer::Buffer as Grid;
use snarvel_files::folder::{Entry as FolderEntry, Which, inside};
use snarvel_task::waits;
use snarvel_workspace::ask::PendingExit;
use snarvel_workspace::buffer::name_of;
use snarvel_workspace::event::{Event, Payload};
use snarvel_workspace::ids::BufferId;
use snarvel_workspace::tasks::{About, TaskHandle};
use snarvel_workspace::workspace::Workspace;
use std::path::PathBuf;

/// A name to save under.
#[derive(Debug)]
pub struct SaveAs {
    /// The text.
    buffer: BufferId,
    /// The path so far, from the folder of the project.
    pub line: InputLine,
    /// What is to happen afterwards.
    then: Option<PendingExit>,
    folder: PathBuf,
    /// The names that what is typed can become.
    offered: Vec<String>,
    listing: Option<TaskHandle>,
    /// Whether the name is the one that it began with, so that what is typed takes its place.
    is_as_offered: bool,
}

impl SaveAs {
    /// Asks for the name of the text known by `buffer`, beginning with the one that it has.
    #[must_use]
    pub fn of(workspace: &Workspace, buffer: BufferId, then: Option<PendingExit>) -> SaveAs {
        let folder = workspace.project.folder.clone();
        let path = workspace.buffer(buffer).and_then(|buffer| buffer.path());
        let shown = path.map(|path| path.strip_prefix(&folder).unwrap_or(path).display().to_string());
        let line = InputLine::holding(shown.unwrap_or_default());
        SaveAs { buffer, line, then, folder, offered: Vec::new(), listing: None, is_as_offered: true }
    }

    /// The folder that is typed, and what is typed after it.
    fn typed(&self) -> (PathBuf, &str) {
        let (folder, name) = self
            .line
            .text
            .rsplit_once('/')
            .map_or(("", self.line.text.as_str()), |(folder, name)| (&self.line.text[..=folder.len()], name));
        let home = folder.strip_prefix("~/").and_then(|rest| Some(etcetera::home_dir().ok()?.join(rest)));
        (home.unwrap_or_else(|| self.folder.join(folder)), name)
    }

    fn complete(&mut self, context: &mut Context) {
        let folder = self.typed().0;
        let about = About::new("reading a folder").awaited(waits::FOLDER);
        let list = context.workspace.tasks.run(about, Payload::Listed, move || inside(&folder, Which::All));
        self.listing = Some(list);
    }

    /// Takes as much as all names have in common that begin with what is typed; says which those are where there are several.
    fn take_names(&mut self, entries: &[FolderEntry]) {
        let typed = self.typed().1.to_owned();
        let name = |entry: &FolderEntry| name_of(&entry.path) + if entry.is_folder { "/" } else { "" };
        let names: Vec<String> = entries.iter().map(name).filter(|name| name.starts_with(&typed)).collect();
        let Some(first) = names.first() else {
            self.offered = vec![format!("nothing there begins with {typed}")];
            return;
        };
        let is_common = |length: &usize| names.iter().all(|name| name.get(..*length) == first.get(..*length));
        let common = (0..=first.len()).rev().filter(|at| first.is_char_boundary(*at)).find(is_common).unwrap_or(0);
        self.line.set(self.line.text.clone());
        self.line.insert(&first[typed.len().min(common)..common]);
        self.offered = if names.len() > 1 { names } else { Vec::new() };
    }
}

impl Panel for SaveAs {
    fn rows(&self, _context: &Context) -> u16 {
        4
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        let was_offered = std::mem::replace(&mut self.is_as_offered, false);
        if was_offered && (key.typed().is_some() || key.code == KeyCode::Backspace) {
            self.line.set("");
        }
        if key.code == KeyCode::Tab {
            self.complete(context);
            return PanelAction::Stay;
        }
        match self.line.enter(key) {
            Entry::Typing => {
                self.offered.clear();
                return PanelAction::Stay;
            }
            Entry::Left => {}
            Entry::Given => {
                let (folder, name) = self.typed();
                context.workspace.save_to(self.buffer, &folder.join(name), self.then);
            }
        }
        PanelAction::Close
    }

    fn paste(&mut self, typed: &str, _context: &mut Context) -> PanelAction {
        if std::mem::replace(&mut self.is_as_offered, false) {
            self.line.set("");
        }
        self.line.insert(typed);
        PanelAction::Stay
    }

    fn take(&mut self, event: Event, _context: &mut Context) -> PanelAction {
        if self.listing.as_ref().is_some_and(|listing| listing.id == event.source.task) {
            match event.payload {
                Payload::Listed(entries) => self.take_names(&entries),
                Payload::Ended => self.listing = None,
                _ => {}
            }
        }
        PanelAction::Stay
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        const LABEL: &str = "save as";
        painter.line(LABEL, &self.line, grid);
        if self.is_as_offered {
            let style = painter.over(painter.style(Role::Selection), Role::Raised);
            put(grid, (painter.row(0), width(LABEL) + 2), &self.line.text, style);
        }
        let whole = format!("in {}", self.typed().0.display());
        put(grid, (painter.row(1), 1), &whole, painter.style(Role::RaisedQuiet));
        put(grid, (painter.row(2), 1), &self.offered.join("   "), painter.style(Role::Raised));
        let keys = [("Tab", "complete"), ("Enter", "save"), ("Ctrl+U", "empty the line"), ("Esc", "leave it")];
        painter.keys(&keys, grid);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use snarvel_workspace::project::Project;
    use std::path::Path;

    #[test]
    fn names_are_completed_as_far_as_they_agree() {
        let mut workspace = Workspace::new(Project::in_folder(Path::new("/skerry")));
        let id = workspace.active().id;
        let mut panel = SaveAs::of(&workspace, id, None);
        let entry = |name: &str, is_folder| FolderEntry { path: PathBuf::from("/skerry/log").join(name), is_folder };
        panel.line.set("log/ti");
        assert!(panel.typed().0.ends_with("skerry/log"));
        panel.take_names(&[entry("tides.py", false), entry("tides.rs", false), entry("ebb", true)]);
        assert_eq!((panel.line.text.as_str(), panel.offered.len()), ("log/tides.", 2));
        panel.line.set("log/e");
        panel.take_names(&[entry("tides.py", false), entry("ebb", true)]);
        assert_eq!((panel.line.text.as_str(), panel.offered.len()), ("log/ebb/", 0));
        panel.line.set("log/x");
        panel.take_names(&[entry("ebb", true)]);
        assert_eq!((panel.line.text.as_str(), panel.offered.len()), ("log/x", 1));
        workspace.settle();
    }
}
