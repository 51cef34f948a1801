//! The clip shelf: the clips on the left, the chosen one as a text on the right.

use super::Painter;
use crate::palette::Role;
use crate::panels::shelf::ShelfPanel;
use crate::screen::layout::Area;
use crate::screen::{put, width};
use ratatui::buffer::Buffer;
use snarvel_core::verbs::clip::Clip;
use snarvel_core::verbs::scene::counted;

impl Painter<'_> {
    pub(super) fn shelf(&self, shelf: &ShelfPanel, preview: Area, buffer: &mut Buffer) {
        match shelf.is_inside {
            true => self.line_at_rest("paste", &shelf.chooser.line, buffer),
            false => self.line("paste", &shelf.chooser.line, buffer),
        }
        self.count(shelf.chooser.shown.len(), shelf.clips.len(), buffer);
        let cols = if preview.cols > 0 { preview.x.saturating_sub(1) } else { self.area.cols };
        let mut number = 0;
        self.list(&shelf.chooser, cols, buffer, |clip, room, style, buffer| {
            number = shelf.chooser.shown.iter().position(|&each| each == clip).unwrap_or(number) + 1;
            let clip = &shelf.clips[clip];
            let quiet = self.over(style, Role::RaisedQuiet);
            let size = size_of(clip);
            let size_x = room.cols.saturating_sub(width(&size));
            let key = if number <= 9 { format!("{number} ") } else { "  ".to_owned() };
            let x = put(buffer, room, 0, &key, self.over(style, Role::KeyCap));
            let words = Area { cols: size_x.saturating_sub(1), ..room };
            put(buffer, words, x, first_words(clip), style);
            put(buffer, room, size_x, &size, quiet);
        });
        if shelf.chooser.shown.is_empty() {
            put(buffer, self.row(1), 3, "no clip holds that", self.style(Role::RaisedQuiet));
        }
        self.beside(shelf, preview, buffer);
        let keys: &[(&str, &str)] = match shelf.is_inside {
            true => &[
                ("Shift+arrows", "select a part"),
                ("Enter", "paste it"),
                ("Ctrl+C", "copy it"),
                ("Tab Esc", "back to the list"),
            ],
            false => &[
                ("1-9", "paste"),
                ("↑ ↓", "choose"),
                ("Enter", "paste"),
                ("Tab", "take a part"),
                ("Ctrl+C", "copy again"),
                ("Del", "drop"),
                ("Esc", "leave"),
            ],
        };
        self.keys(keys, buffer);
    }

    /// The chosen clip.
    fn beside(&self, shelf: &ShelfPanel, area: Area, buffer: &mut Buffer) {
        if let Some(preview) = shelf.preview.as_ref().filter(|_| area.cols > 0) {
            self.text_beside(preview, area, shelf.is_inside, buffer);
        }
    }
}

/// The first line of `clip` that is not blank.
fn first_words(clip: &Clip) -> &str {
    let lines = || clip.pieces.iter().flat_map(|piece| piece.text.lines());
    lines().map(str::trim).find(|line| !line.is_empty()).unwrap_or("(white space)")
}

fn size_of(clip: &Clip) -> String {
    let lines: usize = clip.pieces.iter().map(|piece| piece.text.lines().count().max(1)).sum();
    match (clip.pieces.len(), clip.lines) {
        (_, true) => counted(lines, "line"),
        (1, false) if lines > 1 => counted(lines, "line"),
        (1, false) => counted(clip.pieces[0].text.chars().count(), "char"),
        (pieces, false) => counted(pieces, "piece"),
    }
}
