//! Opening: the files on the left, what they are beside them, the start of the chosen one on the right.

use super::Painter;
use crate::palette::Role;
use crate::panels::open::{Note, Opening};
use crate::screen::layout::Area;
use crate::screen::{put, width};
use ratatui::buffer::Buffer;
use snarvel_files::folder::Which;

impl Painter<'_> {
    pub(super) fn opening(&self, opening: &Opening, preview: Area, buffer: &mut Buffer) {
        self.line("open", &opening.chooser.line, buffer);
        self.count(opening.chooser.shown.len(), opening.files.len(), buffer);
        let cols = if preview.cols > 0 { preview.x.saturating_sub(1) } else { self.area.cols };
        self.list(&opening.chooser, cols, buffer, |file, room, style, buffer| {
            let offered = &opening.files[file];
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
            let x = put(buffer, names, 0, folder, self.over(style, Role::RaisedQuiet));
            put(buffer, names, x, name, style);
            put(buffer, room, note_x, note, self.over(style, Role::RaisedQuiet));
        });
        if opening.chooser.shown.is_empty() {
            let hint = match (opening.chooser.line.text.is_empty(), opening.is_looking()) {
                (_, true) => "looking for files …".to_owned(),
                (true, false) => "no files here: type the path of one".to_owned(),
                (false, false) => format!("no such file: Enter begins {}", opening.chooser.line.text),
            };
            put(buffer, self.row(1), 3, &hint, self.style(Role::RaisedQuiet));
        }
        if let Some((_, document)) = opening.preview.as_ref().filter(|_| preview.cols > 0) {
            self.text_beside(document, preview, false, buffer);
        }
        let which = match opening.which {
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
        self.keys(&keys, buffer);
    }
}
