//! Moves in wrapped lines against a plain model: rows as strings, the caret as a row and a column.

use proptest::prelude::*;
use snarvel_core::cursors::CursorSet;
use snarvel_core::text::Text;
use snarvel_core::units::Byte;
use snarvel_files::load::{Encoding, Loaded};
use snarvel_workspace::buffer::Origin;
use snarvel_workspace::command::Command;
use snarvel_workspace::project::{Project, Writing};
use snarvel_workspace::registry::by_name;
use snarvel_workspace::workspace::Workspace;
use std::path::Path;

/// A row of the model: where its text begins and ends, how far it is in, and whether its line ends with it.
#[derive(Clone, Debug)]
struct PlainRow {
    start: usize,
    end: usize,
    indent: usize,
    ends: bool,
}

/// The rows of a text of letters and spaces, by trying each length.
fn plain_rows(text: &str, width: usize) -> Vec<PlainRow> {
    let mut rows = Vec::new();
    let mut line_start = 0;
    for line in text.split('\n') {
        let own = line.len() - line.trim_start_matches(' ').len();
        let further = if width < 12 { 0 } else { own.min(width).min(width / 2) + 2 };
        let mut at = 0;
        loop {
            let indent = if at == 0 { 0 } else { further };
            let room = width.saturating_sub(indent).max(1);
            let rest = &line[at..];
            if rest.len() <= room {
                rows.push(PlainRow { start: line_start + at, end: line_start + line.len(), indent, ends: true });
                break;
            }
            // The last place up to the room that a word begins at after a space.
            let bytes = rest.as_bytes();
            let at_word = (1..=room).rev().find(|cut| bytes[cut - 1] == b' ' && bytes[*cut] != b' ');
            let length = at_word.unwrap_or(room);
            rows.push(PlainRow { start: line_start + at, end: line_start + at + length, indent, ends: false });
            at += length;
        }
        line_start += line.len() + 1;
    }
    rows
}

/// The caret of the model, and the column that it would like to have.
#[derive(Clone, Debug)]
struct Plain {
    rows: Vec<PlainRow>,
    at: usize,
    goal: Option<usize>,
}

impl Plain {
    fn row(&self) -> usize {
        let holds = |row: &PlainRow| row.start <= self.at && (self.at < row.end || (row.ends && self.at == row.end));
        self.rows.iter().position(holds).unwrap()
    }

    fn column(&self) -> usize {
        let row = &self.rows[self.row()];
        row.indent + self.at - row.start
    }

    fn go(&mut self, row: usize) {
        let wanted = self.goal.unwrap_or_else(|| self.column());
        let to = &self.rows[row];
        let last = if to.ends { to.end } else { to.end - 1 };
        self.at = (to.start + wanted.saturating_sub(to.indent)).min(last);
        self.goal = Some(wanted).filter(|wanted| *wanted != self.column());
    }

    fn press(&mut self, key: &str, text: &str) {
        let row = self.row();
        let here = self.rows[row].clone();
        let begins = row == 0 || self.rows[row - 1].ends;
        let line_start = text[..self.at].rfind('\n').map_or(0, |at| at + 1);
        let line_end = text[self.at..].find('\n').map_or(text.len(), |at| self.at + at);
        match key {
            "line-up" if row > 0 => return self.go(row - 1),
            "line-down" if row + 1 < self.rows.len() => return self.go(row + 1),
            "line-up" | "line-down" => return,
            "char-right" if self.at < text.len() => self.at += 1,
            "line-start" if !begins && self.at != here.start => self.at = here.start,
            "line-start" => {
                let indentation = line_start + text[line_start..line_end].len()
                    - text[line_start..line_end].trim_start_matches(' ').len();
                self.at = if self.at == indentation { line_start } else { indentation };
            }
            "line-end" if !here.ends && self.at != here.end - 1 => self.at = here.end - 1,
            "line-end" => self.at = line_end,
            _ => {}
        }
        self.goal = None;
    }
}

proptest! {
    #[test]
    fn moves_go_by_rows(
        text in "[ab ]{0,30}(\n[ab ]{0,60}){0,3}",
        width in 1_usize..24,
        at in 0_usize..120,
        keys in prop::collection::vec(prop::sample::select(vec!["line-up", "line-down", "char-right", "line-start", "line-end"]), 1..12),
    ) {
        let at = at % (text.len() + 1);
        let mut workspace = Workspace::new(Project { writing: Writing::Nothing, ..Project::in_folder(Path::new("/sound")) });
        let loaded = Loaded { text: Text::from(text.as_str()), encoding: Encoding::default(), read_only: false };
        let buffer = workspace.make_buffer(loaded, Origin::File("/sound/tide.txt".into()));
        workspace.show_buffer(buffer);
        let (buffer, view) = workspace.active_pair_mut();
        (view.layout.cols, view.layout.wraps) = (width as u32, Some(true));
        view.set_cursors(buffer, CursorSet::caret(Byte(at)));
        let mut plain = Plain { rows: plain_rows(&text, width), at, goal: None };
        for key in keys {
            let verb = by_name(key).unwrap_or_else(|| panic!("no verb is called {key}"));
            workspace.run(&Command::plain(verb));
            let before = plain.clone();
            plain.press(key, &text);
            let head = workspace.view().cursors().primary().head.0;
            prop_assert_eq!(head, plain.at, "{} from {:?}", key, before);
        }
    }
}
