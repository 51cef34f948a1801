//! Lookup: a verb by everyday words, by its name or by its key; what it does; running it; binding it to a key.

use super::argument::{ArgumentPanel, AskedBy};
use super::chooser::{Chooser, Order, Pressed};
use super::line::InputLine;
use super::painter::Painter;
use super::panel::{Panel, PanelAction, TextBeside, list_rows};
use super::rehearsal::rehearsal_marks;
use super::settings::SettingsPanel;
use crate::context::Context;
use crate::keys::Key;
use crate::keys::bindings::{Binding, KeyAction, never_arrives, of_deck};
use crate::keys::keymap::Keymap;
use crate::palette::Role;
use crate::screen::canvas::{Area, put, width, wrapped};
use crate::screen::marks::TextMarks;
use crate::settings::known::KNOWN;
use crossterm::event::{KeyCode, KeyModifiers};
use ratatui::buffer::Buffer as Grid;
use ratatui::style::Style;
use snarvel_core::languages;
use snarvel_core::units::Span;
use snarvel_workspace::command::Command;
use snarvel_workspace::example::example;
use snarvel_workspace::ids::BufferId;
use snarvel_workspace::registry::by_name;
use snarvel_workspace::registry::lookup::{Described, likelihood};
use snarvel_workspace::registry::verb::Does;
use snarvel_workspace::registry::{VERBS, Verb};
use std::cmp::Reverse;

/// What is being asked about keys.
#[derive(Clone, Debug, PartialEq)]
pub enum KeyQuestion {
    /// Nothing.
    Nothing,
    /// For a key that is to run the chosen verb; and what was wrong with the last one.
    Which(Option<String>),
    /// Whether the key may be taken from what it does now.
    TakeOver(Key, String),
    /// Whether the chosen verb is to lose its keys.
    Unbind(Vec<Key>),
    /// Whether all keys are to be as shipped.
    Reset,
}

/// Something beside verbs that can be looked up.
#[derive(Debug)]
pub struct Other {
    /// Its name.
    name: String,
    /// What is said of it.
    about: String,
    /// What it leads to.
    leads_to: LeadsTo,
}

/// What something beside verbs leads to.
#[derive(Debug)]
enum LeadsTo {
    /// The settings, at one of them.
    Setting(String),
    /// The file in another language.
    Language(String),
    /// An open file.
    File(BufferId),
}

/// In a larger text, in bytes, what a verb would do is not shown while verbs are looked through.
const LARGEST_REHEARSED: usize = 4 << 20;

/// What is said of a verb whose result the text shows.
const SHOWN_ON_TEXT: &str = "as the text shows";

/// The same for more cursors.
const MOST_REHEARSED: usize = 1_000;

/// A verb to look up.
#[derive(Debug)]
pub struct LookupPanel {
    /// What can be found beside verbs.
    others: Vec<Other>,
    /// The verb that was run last from here, as a place in the registry: it is the first where nothing is typed.
    last: Option<usize>,
    /// The letters so far, and the verbs that they may mean, as places in the registry.
    pub chooser: Chooser,
    /// The key that was pressed to ask for what it does, and whether it does anything.
    pub pressed: Option<(Key, bool)>,
    /// What is being asked about keys.
    pub asking: KeyQuestion,
    /// What the chosen verb would do to the text, which is shown there; none where that cannot be shown.
    here: Option<String>,
}

/// What is added to the likelihood of a verb that is called just as was typed.
const VERB_FIRST: u32 = 100_000;

impl LookupPanel {
    /// All verbs, and all else that `context` has to be found.
    #[must_use]
    pub fn of(context: &Context) -> LookupPanel {
        let last = context.keyboard.looked_up.as_ref().map(|command| command.verb.name);
        let mut panel = LookupPanel {
            others: others(context),
            last: last.and_then(|name| VERBS.iter().position(|verb| verb.name == name)),
            chooser: Chooser::new(Order::AsListed),
            pressed: None,
            asking: KeyQuestion::Nothing,
            here: None,
        };
        panel.filter();
        panel
    }

    fn filter(&mut self) {
        self.pressed = None;
        self.chooser.chosen = 0;
        let asked = self.chooser.line.text.clone();
        if asked.trim().is_empty() {
            let first = self.last.into_iter();
            self.chooser.shown = first.chain((0..VERBS.len()).filter(|index| Some(*index) != self.last)).collect();
            return;
        }
        // A verb that is called just so comes before a setting of that name.
        let is_named = |verb: &Verb| verb.name == asked.trim();
        let verbs =
            VERBS.iter().map(|verb| likelihood(verb.described(), &asked) + VERB_FIRST * u32::from(is_named(verb)));
        let others = self.others.iter().map(|other| {
            likelihood(Described { name: &other.name, label: "", phrases: &[], sentence: &other.about }, &asked)
        });
        let mut found: Vec<(u32, usize)> = verbs
            .chain(others)
            .enumerate()
            .map(|(index, score)| (score, index))
            .filter(|(score, _)| *score > 0)
            .collect();
        found.sort_by_key(|(score, index)| (Reverse(*score), *index));
        self.chooser.shown = found.into_iter().map(|(_, index)| index).collect();
    }

    /// The verb that is chosen.
    #[must_use]
    pub fn verb(&self) -> Option<&'static Verb> {
        self.chooser.index().and_then(|index| VERBS.get(index))
    }

    /// What else is chosen.
    fn other(&self) -> Option<&Other> {
        self.chooser.index()?.checked_sub(VERBS.len()).and_then(|index| self.others.get(index))
    }

    /// Shows on the text what Enter would do, where the verb takes nothing and the text is not large.
    fn rehearse(&mut self, context: &mut Context) {
        context.workspace.end_rehearsal();
        let is_small = context.workspace.active().text().len() <= LARGEST_REHEARSED
            && context.workspace.view().cursors().len() <= MOST_REHEARSED;
        let verb = self.verb().filter(|verb| is_small && verb.arguments.is_none() && !verb.asks);
        let rehearsal = verb.and_then(|verb| context.workspace.rehearse(&Command::plain(verb)));
        self.here = rehearsal.map(|rehearsal| match rehearsal.is_nothing {
            true if rehearsal.message.is_empty() => "nothing".to_owned(),
            true => rehearsal.message,
            false => SHOWN_ON_TEXT.to_owned(),
        });
    }

    /// What Enter leads to.
    fn given(&self, context: &mut Context) -> PanelAction {
        if let Some(verb) = self.verb() {
            // A verb that asks in a panel of its own is not asked about here.
            let asks_itself = matches!(verb.does, Does::OfWorkspaceOrAsk(..)) && !verb.asks;
            return match verb.arguments.is_none() || asks_itself {
                true => PanelAction::Run(Command::plain(verb)),
                false => PanelAction::Open(Box::new(ArgumentPanel {
                    verb,
                    count: None,
                    line: InputLine::default(),
                    asked_by: AskedBy::Lookup,
                })),
            };
        }
        match self.other().map(|other| &other.leads_to) {
            None => PanelAction::Stay,
            Some(LeadsTo::Setting(name)) => PanelAction::Open(Box::new(SettingsPanel::at(context, name))),
            Some(LeadsTo::File(id)) => {
                context.workspace.show(*id);
                PanelAction::Close
            }
            Some(LeadsTo::Language(name)) => {
                let command = by_name("language-of-file").and_then(|verb| Command::read(verb, name).ok());
                command.map_or(PanelAction::Stay, PanelAction::Run)
            }
        }
    }

    /// What the key that answers a question does.
    fn answer(&mut self, asking: KeyQuestion, key: Key, context: &mut Context) {
        match asking {
            // Esc steps back, so that it is never a key to bind.
            _ if key.code == KeyCode::Esc => {}
            KeyQuestion::Which(_) => self.key_for(key, context),
            _ if key.typed() != Some('y') => {}
            KeyQuestion::TakeOver(taken, _) => self.bind(taken, context),
            KeyQuestion::Unbind(keys) => {
                let bound = keys.into_iter().map(|key| Binding { key, action: KeyAction::Nothing });
                context.keyboard.bind(bound.collect(), &mut context.workspace);
            }
            KeyQuestion::Reset => context.keyboard.reset(&mut context.workspace),
            KeyQuestion::Nothing => {}
        }
    }

    fn bind(&mut self, key: Key, context: &mut Context) {
        let Some(verb) = self.verb() else { return };
        let bound = vec![Binding { key, action: KeyAction::Verb(verb, String::new()) }];
        context.keyboard.bind(bound, &mut context.workspace);
    }

    /// A key that was pressed to be bound.
    fn key_for(&mut self, key: Key, context: &mut Context) {
        if let Some(why) = never_arrives(key) {
            self.asking = KeyQuestion::Which(Some(format!("{key} cannot be bound: {why}")));
            return;
        }
        let key = of_deck(key);
        match context.keyboard.keymap.action(key) {
            Some(KeyAction::Verb(other, _)) if Some(other.name) != self.verb().map(|verb| verb.name) => {
                self.asking = KeyQuestion::TakeOver(key, other.name.to_owned());
            }
            Some(KeyAction::Text(text)) => self.asking = KeyQuestion::TakeOver(key, format!("the text {text:?}")),
            _ => self.bind(key, context),
        }
    }

    fn choose(&mut self, key: Key, context: &mut Context) -> PanelAction {
        let keymap = &context.keyboard.keymap.clone();
        let ctrl = |c: char| key.code == KeyCode::Char(c) && key.mods == KeyModifiers::CONTROL;
        let is_empty = self.chooser.line.text.is_empty();
        match key.code {
            KeyCode::Esc => return PanelAction::Close,
            KeyCode::Enter => return self.given(context),
            KeyCode::Delete if is_empty || self.chooser.line.parts().1.is_empty() => self.ask_unbind(keymap),
            _ if ctrl('k') && self.verb().is_some() => self.asking = KeyQuestion::Which(None),
            _ if ctrl('r') => self.asking = KeyQuestion::Reset,
            _ if is_asked_for(key) && (is_empty || !(ctrl('u') || ctrl('w'))) => self.find_key(key, keymap),
            _ => {
                if self.chooser.press(key) == Pressed::Typed {
                    self.filter();
                }
            }
        }
        PanelAction::Stay
    }

    fn ask_unbind(&mut self, keymap: &Keymap) {
        let keys = self.verb().map(|verb| keymap.keys_of(verb)).unwrap_or_default();
        if !keys.is_empty() {
            self.asking = KeyQuestion::Unbind(keys);
        }
    }

    /// Shows what a key does.
    fn find_key(&mut self, key: Key, keymap: &Keymap) {
        self.chooser.line.set("");
        let verb = match keymap.action(key) {
            Some(KeyAction::Verb(verb, _)) => VERBS.iter().position(|other| other.name == verb.name),
            _ => None,
        };
        match verb {
            Some(index) => {
                self.filter();
                self.chooser.choose(index);
            }
            None => self.chooser.shown = Vec::new(),
        }
        self.pressed = Some((key, verb.is_some()));
    }

    /// What is being asked about keys.
    fn asked(&self) -> Option<String> {
        let verb = self.verb().map_or("", |verb| verb.name);
        match &self.asking {
            KeyQuestion::Nothing => None,
            KeyQuestion::Which(None) => Some(format!("press the key that is to run {verb}")),
            KeyQuestion::Which(Some(why)) => Some(format!("{why}; another key for {verb}?")),
            KeyQuestion::TakeOver(key, other) => Some(format!("{key} runs {other}; take it over for {verb}?")),
            KeyQuestion::Unbind(keys) => {
                let keys: Vec<String> = keys.iter().map(ToString::to_string).collect();
                Some(format!("take {} away from {verb}?", keys.join(", ")))
            }
            KeyQuestion::Reset => Some("all keys as shipped? yours are lost".to_owned()),
        }
    }

    fn keys(&self) -> &'static [(&'static str, &'static str)] {
        match &self.asking {
            KeyQuestion::Nothing => &[
                ("↑ ↓", "choose"),
                ("Enter", "run it"),
                ("a key", "what it does"),
                ("Ctrl+K", "bind to a key"),
                ("Del", "take its keys"),
                ("Ctrl+R", "keys as shipped"),
                ("Esc", "leave"),
            ],
            KeyQuestion::Which(_) => &[("the key", "that is to run it"), ("Esc", "leave it")],
            KeyQuestion::TakeOver(..) => &[("y", "take it over"), ("n", "leave it")],
            KeyQuestion::Unbind(_) => &[("y", "take away"), ("n", "leave it")],
            KeyQuestion::Reset => &[("y", "as shipped"), ("n", "leave them")],
        }
    }
}

/// What can be found beside verbs: settings, languages, open files.
fn others(context: &Context) -> Vec<Other> {
    let settings = KNOWN.iter().map(|setting| Other {
        name: setting.name.replace('_', " "),
        about: format!("setting: {}", setting.about),
        leads_to: LeadsTo::Setting(setting.name.replace('_', " ")),
    });
    let languages = languages::all().iter().map(|language| Other {
        name: format!("language {}", language.title),
        about: format!("takes this file for one in {}", language.title),
        leads_to: LeadsTo::Language(language.name.clone()),
    });
    let files = context.workspace.buffers().iter().map(|buffer| Other {
        name: format!("file {}", buffer.name()),
        about: "shows this open file".to_owned(),
        leads_to: LeadsTo::File(buffer.id),
    });
    settings.chain(files).chain(languages).collect()
}

/// Whether a key asks for what it does, rather than typing or moving in the list.
fn is_asked_for(key: Key) -> bool {
    let held = key.mods.intersects(KeyModifiers::ALT | KeyModifiers::CONTROL);
    held || matches!(key.code, KeyCode::F(_))
}

impl Panel for LookupPanel {
    fn rows(&self, context: &Context) -> u16 {
        list_rows(context)
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        let action = match std::mem::replace(&mut self.asking, KeyQuestion::Nothing) {
            KeyQuestion::Nothing => self.choose(key, context),
            asking => {
                self.answer(asking, key, context);
                PanelAction::Stay
            }
        };
        match action {
            PanelAction::Stay => self.rehearse(context),
            _ => context.workspace.end_rehearsal(),
        }
        action
    }

    fn paste(&mut self, typed: &str, context: &mut Context) -> PanelAction {
        self.chooser.line.insert(typed);
        self.filter();
        self.rehearse(context);
        PanelAction::Stay
    }

    fn rehearses(&self) -> bool {
        true
    }

    fn marks(&self, context: &Context, _span: Span) -> TextMarks {
        rehearsal_marks(context)
    }

    fn text_beside(&self) -> TextBeside {
        TextBeside::Beside
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        let label = self.pressed.map_or("what do you want to do?".to_owned(), |(key, _)| format!("what {key} does"));
        match self.asked() {
            Some(question) => drop(put(grid, (painter.row(0), 1), &question, painter.style(Role::Changed))),
            None => {
                painter.line(&label, &self.chooser.line, grid);
                painter.count(self.chooser.shown.len(), VERBS.len() + self.others.len(), grid);
            }
        }
        painter.list(&self.chooser, grid, |index, room, style, grid| {
            let Some(verb) = VERBS.get(index) else {
                let other = &self.others[index - VERBS.len()];
                put(grid, (room, 0), &other.name, style);
                return;
            };
            let keys = keys_told(&painter.context.keyboard.keymap, verb);
            let keys_x = room.cols.saturating_sub(width(&keys));
            let names = Area { cols: keys_x.saturating_sub(1), ..room };
            put(grid, (names, 0), verb.name, style);
            put(grid, (room, keys_x), &keys, painter.over(style, Role::KeyCap));
        });
        if self.chooser.shown.is_empty() {
            let hint = match self.pressed {
                Some((key, _)) => format!("{key} runs no verb: type what you want to do, or Ctrl+K on a verb binds it"),
                None => "no verb answers to these words: try others, as you would say it".to_owned(),
            };
            painter.hint(&hint, grid);
        }
        if let Some(verb) = self.verb() {
            told(painter, (verb, self.here.as_deref()), grid);
        } else if let Some(other) = self.other() {
            painter.edge(grid);
            let room = painter.beside.cols.saturating_sub(2);
            for (y, line) in wrapped(&other.about, room).into_iter().enumerate().take(usize::from(painter.beside.rows))
            {
                put(
                    grid,
                    (Area { y: painter.beside.y + y as u16, rows: 1, ..painter.beside }, 1),
                    &line,
                    painter.style(Role::Raised),
                );
            }
        }
        painter.keys(self.keys(), grid);
    }
}

/// The shortest keys of `verb`.
fn keys_told(keymap: &Keymap, verb: &Verb) -> String {
    let keys = keymap.spelled(verb);
    let mut told: Vec<String> = keys.write.first().cloned().into_iter().collect();
    told.extend(keys.shape.first().filter(|key| !keys.write.contains(key)).cloned());
    told.join("  ")
}

/// What `verb` does, beside the list: its sentence, its keys in both layers, words that find it, and an example.
fn told(painter: &Painter, (verb, here): (&'static Verb, Option<&str>), grid: &mut Grid) {
    let area = painter.beside;
    if area.cols == 0 {
        return;
    }
    painter.edge(grid);
    let keys = painter.context.keyboard.keymap.spelled(verb);
    let spelled = |keys: &[String]| match keys.is_empty() {
        true => "no key".to_owned(),
        false => keys.iter().take(4).cloned().collect::<Vec<_>>().join("  "),
    };
    let [quiet, plain, cap, sample] =
        [Role::RaisedQuiet, Role::Raised, Role::KeyCap, Role::String].map(|role| painter.style(role));
    let mut rows: Vec<(&str, String, Style)> = Vec::new();
    for (index, line) in wrapped(verb.sentence, area.cols.saturating_sub(12)).into_iter().enumerate() {
        rows.push((if index == 0 { "does" } else { "" }, line, plain));
    }
    if !verb.arguments.is_none() {
        rows.push(("takes", verb.arguments.shown(), plain));
    }
    rows.extend(here.map(|here| ("here", here.to_owned(), sample)));
    // The text itself is the better example, where something is to be seen on it.
    if let Some(example) = example(verb).filter(|_| here != Some(SHOWN_ON_TEXT)) {
        rows.push(("before", example.before, sample));
        rows.push(("after", example.after, sample));
    }
    rows.push(("Write", spelled(&keys.write), cap));
    rows.push(("Shape", spelled(&keys.shape), cap));
    rows.push(("words", verb.words.join(", "), quiet));
    for (y, (label, text, style)) in rows.iter().take(usize::from(area.rows)).enumerate() {
        let row = Area { y: area.y + y as u16, rows: 1, ..area };
        put(grid, (row, 1), label, quiet);
        put(grid, (row, 9), text, *style);
    }
}
