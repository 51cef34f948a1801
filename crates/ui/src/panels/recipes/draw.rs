//! How the panel is drawn.

use super::RecipesPanel;
use super::ahead::Said;
use super::question::Asking;
use crate::keys::bindings::KeyAction;
use crate::palette::Role;
use crate::panels::painter::{KeysGo, Painter};
use crate::screen::canvas::{Area, put, width};
use ratatui::buffer::Buffer as Grid;
use ratatui::style::Style;
use snarvel_workspace::recipes::book::{Entry, From};

impl RecipesPanel {
    pub(super) fn draw_all(&self, painter: &Painter, grid: &mut Grid) {
        match (&self.asking, self.question(), self.keys) {
            (Asking::Name(line, wrong), ..) => {
                painter.line("keep it as", line, grid);
                wrong.iter().for_each(|wrong| painter.said(("keep it as", line), (wrong, Role::Changed), grid));
            }
            (_, Some(question), _) => drop(put(grid, (painter.row(0), 1), &question, painter.style(Role::Changed))),
            (_, None, KeysGo::ToText) => painter.line_at_rest("recipe", &self.chooser.line, grid),
            (_, None, KeysGo::ToList) => painter.line("recipe", &self.chooser.line, grid),
        }
        if matches!(self.asking, Asking::Nothing) {
            match &self.ahead.said {
                Said::Nothing => {}
                Said::Plain(said) => painter.said(("recipe", &self.chooser.line), (said, Role::RaisedQuiet), grid),
                Said::Wrong(said) => painter.said(("recipe", &self.chooser.line), (said, Role::Changed), grid),
            }
        }
        painter.list(&self.chooser, grid, |index, room, style, grid| {
            row(painter, &self.entries[index], (room, style), grid);
        });
        if self.chooser.shown.is_empty() {
            painter.hint("no recipe is called that", grid);
        }
        if let Some(text) = &self.text {
            painter.text_beside(text.pair(), (self.keys, None), grid);
        }
        self.draw_keys(painter, grid);
    }

    fn draw_keys(&self, painter: &Painter, grid: &mut Grid) {
        let trust = match self.untrusted {
            0 => "trust this folder".to_owned(),
            1 => "trust this folder, which has one".to_owned(),
            more => format!("trust this folder, which has {more}"),
        };
        let list = [
            ("Ctrl+T", trust.as_str()),
            ("Enter", "play"),
            ("Tab", "edit"),
            ("Alt+Enter", "over the project"),
            ("Ctrl+S", "name and keep"),
            ("Ctrl+K", "bind to a key"),
            ("Del", "drop"),
            ("Ctrl+Z", "take back"),
            ("Esc", "leave"),
        ];
        let keys: &[(&str, &str)] = match (&self.asking, self.keys) {
            (Asking::Nothing, KeysGo::ToText) => {
                &[("Ctrl+S", "name and keep"), ("Ctrl+Z", "undo in it"), ("Esc", "back to the list")]
            }
            (Asking::Nothing, KeysGo::ToList) => &list[usize::from(!self.may_trust(painter.context))..],
            (Asking::Name(..), _) => &[("Enter", "keep"), ("Esc", "leave it")],
            (Asking::Key(_), _) => &[("the key", "that is to play it"), ("Esc", "leave it")],
            (Asking::TakeOver(..), _) => &[("y", "take it over"), ("n", "leave it")],
            (Asking::Drop, _) => &[("y", "yes"), ("n", "leave it")],
        };
        painter.keys(keys, grid);
    }
}

fn row(painter: &Painter, entry: &Entry, (room, style): (Area, Style), grid: &mut Grid) {
    let from = entry.from.name();
    let from_x = room.cols.saturating_sub(width(from));
    let role = if entry.from == From::Draft { Role::Changed } else { Role::RaisedQuiet };
    let names = Area { cols: from_x.saturating_sub(1), ..room };
    let x = put(grid, (names, 0), &entry.known.name, style);
    if let Some(key) = key_of(painter, &entry.known.name) {
        put(grid, (names, x + 2), &key, painter.over(style, Role::KeyCap));
    }
    put(grid, (room, from_x), from, painter.over(style, role));
}

/// The key that plays the recipe of that name.
fn key_of(painter: &Painter, name: &str) -> Option<String> {
    let own = painter.context.keyboard.keymap.own();
    let plays = |action: &KeyAction| matches!(action, KeyAction::Verb(verb, argument) if verb.name == "play-recipe" && argument == name);
    own.iter().find(|binding| plays(&binding.action)).map(|binding| binding.key.to_string())
}
