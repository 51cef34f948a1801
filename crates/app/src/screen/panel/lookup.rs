//! Lookup: verbs with their keys on the left, what the chosen one does on the right.

use super::{Painter, wrapped};
use crate::palette::Role;
use crate::panels::lookup::{Asking, LookupPanel};
use crate::screen::layout::Area;
use crate::screen::{put, width};
use ratatui::buffer::Buffer;
use ratatui::style::Style;
use snarvel_core::verbs::Verb;
use snarvel_core::verbs::examples::example;
use snarvel_core::verbs::table::VERBS;

impl Painter<'_> {
    pub(super) fn lookup(&self, lookup: &LookupPanel, beside: Area, buffer: &mut Buffer) {
        let label = lookup.pressed.map_or("what do you want to do?".to_owned(), |(key, _)| format!("what {key} does"));
        match Self::asked(lookup) {
            Some(question) => drop(put(buffer, self.row(0), 1, &question, self.style(Role::Changed))),
            None => {
                self.line(&label, &lookup.chooser.line, buffer);
                self.count(lookup.chooser.shown.len(), VERBS.len(), buffer);
            }
        }
        let cols = if beside.cols > 0 { beside.x.saturating_sub(1) } else { self.area.cols };
        self.list(&lookup.chooser, cols, buffer, |index, room, style, buffer| {
            let verb = &VERBS[index];
            let keys = self.keys_told(verb);
            let keys_x = room.cols.saturating_sub(width(&keys));
            let names = Area { cols: keys_x.saturating_sub(1), ..room };
            put(buffer, names, 0, verb.name, style);
            put(buffer, room, keys_x, &keys, self.over(style, Role::KeyCap));
        });
        if lookup.chooser.shown.is_empty() {
            let hint = match lookup.pressed {
                Some((key, _)) => format!("{key} runs no verb: type what you want to do, or Ctrl+K on a verb binds it"),
                None => "no verb answers to these words: try others, as you would say it".to_owned(),
            };
            put(buffer, self.row(1), 3, &hint, self.style(Role::RaisedQuiet));
        }
        if let Some(verb) = lookup.verb() {
            self.told(verb, beside, buffer);
        }
        self.lookup_keys(lookup, buffer);
    }

    /// The shortest keys of `verb`.
    fn keys_told(&self, verb: &Verb) -> String {
        let keys = self.app.keymap.spelled(verb);
        let mut told: Vec<String> = keys.write.first().cloned().into_iter().collect();
        told.extend(keys.shape.first().filter(|key| !keys.write.contains(key)).cloned());
        told.join("  ")
    }

    /// What `verb` does: its sentence, its keys in both layers, words that find it, and an example.
    fn told(&self, verb: &'static Verb, area: Area, buffer: &mut Buffer) {
        if area.cols == 0 {
            return;
        }
        for y in 0..area.rows {
            let edge = Area { x: area.x.saturating_sub(1), y: area.y + y, cols: 1, rows: 1 };
            put(buffer, edge, 0, "│", self.style(Role::Edge));
        }
        let keys = self.app.keymap.spelled(verb);
        let spelled = |keys: &[String]| match keys.is_empty() {
            true => "no key".to_owned(),
            false => keys.iter().take(4).cloned().collect::<Vec<_>>().join("  "),
        };
        let (quiet, plain, cap) = (self.style(Role::RaisedQuiet), self.style(Role::Raised), self.style(Role::KeyCap));
        let mut rows: Vec<(&str, String, Style)> = Vec::new();
        for (index, line) in wrapped(verb.sentence, area.cols.saturating_sub(12)).into_iter().enumerate() {
            rows.push((if index == 0 { "does" } else { "" }, line, plain));
        }
        if !verb.argument.is_empty() {
            rows.push(("takes", verb.argument.to_owned(), plain));
        }
        if let Some(example) = example(verb) {
            rows.push(("before", example.before, self.style(Role::String)));
            rows.push(("after", example.after, self.style(Role::String)));
        }
        rows.push(("Write", spelled(&keys.write), cap));
        rows.push(("Shape", spelled(&keys.shape), cap));
        rows.push(("words", verb.words.join(", "), quiet));
        for (y, (label, text, style)) in rows.iter().take(usize::from(area.rows)).enumerate() {
            let row = Area { y: area.y + y as u16, rows: 1, ..area };
            put(buffer, row, 1, label, quiet);
            put(buffer, row, 9, text, *style);
        }
    }

    /// What is being asked about keys.
    fn asked(lookup: &LookupPanel) -> Option<String> {
        let verb = lookup.verb().map_or("", |verb| verb.name);
        match &lookup.asking {
            Asking::Nothing => None,
            Asking::Which(None) => Some(format!("press the key that is to run {verb}")),
            Asking::Which(Some(why)) => Some(format!("{why}; another key for {verb}?")),
            Asking::TakeOver(key, other) => Some(format!("{key} runs {other}; take it over for {verb}?")),
            Asking::Unbind(keys) => {
                let keys: Vec<String> = keys.iter().map(ToString::to_string).collect();
                Some(format!("take {} away from {verb}?", keys.join(", ")))
            }
            Asking::Reset => Some("all keys as shipped? yours are lost".to_owned()),
        }
    }

    fn lookup_keys(&self, lookup: &LookupPanel, buffer: &mut Buffer) {
        let keys: &[(&str, &str)] = match &lookup.asking {
            Asking::Nothing => &[
                ("↑ ↓", "choose"),
                ("Enter", "run it"),
                ("a key", "what it does"),
                ("Ctrl+K", "bind to a key"),
                ("Del", "take its keys"),
                ("Ctrl+R", "keys as shipped"),
                ("Esc", "leave"),
            ],
            Asking::Which(_) => &[("any key", "is taken"), ("Esc", "leave it")],
            Asking::TakeOver(..) => &[("y", "take it over"), ("n", "leave it")],
            Asking::Unbind(_) => &[("y", "take away"), ("n", "leave it")],
            Asking::Reset => &[("y", "as shipped"), ("n", "leave them")],
        };
        self.keys(keys, buffer);
    }
}
