//! The folder's files: a tree, each folder with a sign for whether its inside is shown.

use super::Painter;
use crate::document::{Home, name_of};
use crate::palette::Role;
use crate::panels::files::{Asking, FilesPanel, Node};
use crate::screen::{put, width};
use ratatui::buffer::Buffer;

/// Cells for each level.
const LEVEL: usize = 2;

impl Painter<'_> {
    pub(super) fn files(&self, files: &FilesPanel, buffer: &mut Buffer) {
        match &files.asking {
            Asking::Create(line) => self.line("new file, or folder/ with a slash", line, buffer),
            Asking::Rename(line) => self.line("other name", line, buffer),
            Asking::Nothing | Asking::Delete => self.line("files", &files.chooser.line, buffer),
        }
        self.count(files.chooser.shown.len(), files.nodes.len(), buffer);
        let is_whole = files.chooser.line.text.is_empty();
        self.list(&files.chooser, self.area.cols, buffer, |index, room, style, buffer| {
            let node = &files.nodes[index];
            let x = if is_whole { node.depth * LEVEL } else { 0 } as u16;
            let sign = match (node.is_folder, node.is_open) {
                (false, _) => " ",
                (true, false) => "▹",
                (true, true) => "▿",
            };
            let x = put(buffer, room, x, sign, self.over(style, Role::RaisedQuiet)) + 1;
            let role = if node.is_folder { Role::Function } else { Role::Raised };
            let behind = put(buffer, room, x, &name_of(&node.path), self.over(style, role));
            if let Some(state) = self.state_of(node) {
                put(buffer, room, behind + 2, state, self.over(style, Role::RaisedQuiet));
            }
        });
        if files.chooser.shown.is_empty() {
            let hint = if files.is_reading() {
                "reading the folder …"
            } else if is_whole {
                "nothing is here yet: Ctrl+N makes a file"
            } else {
                "nothing that is shown is called that"
            };
            put(buffer, self.row(1), 3, hint, self.style(Role::RaisedQuiet));
        }
        self.files_keys(files, buffer);
    }

    fn state_of(&self, node: &Node) -> Option<&'static str> {
        let is_it = |home: &Home| *home == Home::File(node.path.clone());
        let document = self.app.documents.iter().find(|document| is_it(&document.home))?;
        Some(if document.is_unsaved() { "● open, not saved" } else { "open" })
    }

    fn files_keys(&self, files: &FilesPanel, buffer: &mut Buffer) {
        let row = self.row(self.area.rows.saturating_sub(1));
        if files.asking == Asking::Delete {
            let name = files.node().map(|node| name_of(&node.path)).unwrap_or_default();
            let mut x = put(buffer, row, 1, &format!("move {name} to the trash?"), self.style(Role::Changed)) + 3;
            for (key, meaning) in [("y", "move it"), ("n", "leave it")] {
                x = put(buffer, row, x, key, self.style(Role::KeyCap)) + 1;
                x = put(buffer, row, x, meaning, self.style(Role::Raised)) + 3;
            }
            return;
        }
        let keys: &[(&str, &str)] = match files.asking {
            Asking::Create(_) | Asking::Rename(_) => &[("Enter", "do it"), ("Esc", "leave it")],
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
        self.keys(keys, buffer);
        if let Some(said) = &files.said {
            let x = self.area.cols.saturating_sub(width(said) + 14);
            put(buffer, self.row(0), x, said, self.style(Role::Changed));
        }
    }
}
