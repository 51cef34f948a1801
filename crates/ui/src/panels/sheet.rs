//! The name of the file for a sheet: what is drawn is asked for, and drawn in the background.

use super::line::{Entry, InputLine};
use super::painter::Painter;
use super::panel::{Panel, PanelAction};
use crate::context::Context;
use crate::keys::Key;
use crate::keys::keymap::Keymap;
use crate::keys::layer::Layer;
use crate::learning::spelled_in;
use crate::sheets::edit::{State, sides};
use crate::sheets::{self, listing};
use crossterm::event::{KeyCode, KeyModifiers};
use ratatui::buffer::Buffer as Grid;
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::folds::Folds;
use snarvel_core::history::StepId;
use snarvel_core::units::Line;
use snarvel_draw::edit::{Cap, EditSheet};
use snarvel_draw::listing::Listing;
use snarvel_draw::{Drawing, Paper};
use snarvel_ledger::Report;
use snarvel_workspace::buffer::Buffer;
use snarvel_workspace::coloured::coloured;
use snarvel_workspace::project::Writing;
use snarvel_workspace::registry::by_name;
use std::ops::RangeInclusive;
use std::path::Path;

/// What is drawn.
#[derive(Debug)]
pub enum SheetOf {
    /// The keyboard.
    Keys,
    /// What became of the text between two states of its history.
    Edit([StepId; 2]),
    /// The text, or what is selected of it.
    Listing,
    /// The ledger.
    Ledger(Box<Report>),
}

/// The file for a sheet.
#[derive(Debug)]
pub struct SheetPanel {
    what: SheetOf,
    /// The path so far.
    pub line: InputLine,
}

/// Draws the pages, away from the keys.
type Draw = Box<dyn FnOnce() -> Vec<Drawing> + Send>;

impl SheetPanel {
    /// Asks for the file of a drawing of the keyboard.
    #[must_use]
    pub fn of_keys() -> SheetPanel {
        SheetPanel { what: SheetOf::Keys, line: InputLine::holding("keys.pdf") }
    }

    /// Asks for the file of a drawing of the text.
    #[must_use]
    pub fn of_text(context: &Context) -> SheetPanel {
        SheetPanel { what: SheetOf::Listing, line: InputLine::holding(named(context, "")) }
    }

    /// Asks for the file of a drawing of the ledger.
    #[must_use]
    pub fn of_ledger(report: Report) -> SheetPanel {
        SheetPanel { what: SheetOf::Ledger(Box::new(report)), line: InputLine::holding("ledger.pdf") }
    }

    /// Asks for the file of a drawing of what lies between two states.
    #[must_use]
    pub fn of_states(context: &Context, states: [StepId; 2]) -> SheetPanel {
        SheetPanel { what: SheetOf::Edit(states), line: InputLine::holding(named(context, "-edit")) }
    }

    /// The same, of the last steps, so many.
    #[must_use]
    pub fn of_steps(context: &Context, count: u32) -> SheetPanel {
        let history = context.workspace.active().history();
        let here = history.here();
        let mut from = here;
        for _ in 0..count {
            let Some(step) = history.step(from) else { break };
            from = step.parent();
        }
        SheetPanel::of_states(context, [from, here])
    }

    fn drawing(&self, context: &mut Context) -> Draw {
        match &self.what {
            SheetOf::Keys => {
                let keymap = context.keyboard.keymap.clone();
                Box::new(move || vec![sheets::keys::key_sheet(&keymap).drawing(Paper::A4)])
            }
            SheetOf::Ledger(report) => {
                let report = report.clone();
                Box::new(move || vec![sheets::ledger::drawing(&report, Paper::A4)])
            }
            SheetOf::Listing => {
                let (buffer, view) = (context.workspace.active(), context.workspace.view());
                let lines = listing::touched(buffer, Some(view.cursors().primary().span()));
                let (copy, folds, name) = (buffer.copy_to_look_at(), view.folds().clone(), buffer.name());
                Box::new(move || pages_of((coloured(copy), folds), name, lines))
            }
            SheetOf::Edit(states) => edit_sheet(context, *states),
        }
    }

    fn draw_into(&self, context: &mut Context, printed: bool) {
        if context.workspace.project.writing == Writing::Nothing {
            context.say("not drawn: only played");
            return;
        }
        let path = context.workspace.project.folder.join(&self.line.text);
        let draw = self.drawing(context);
        let work = move || match printed {
            true => sheets::print(&draw()).map(|()| "handed to the printer".to_owned()),
            false => sheets::write(&draw(), &path).map(|()| format!("drawn in {}", path.display())),
        };
        context.workspace.begin_operation(None, move || work().map_err(|error| format!("{error:#}")));
    }

    fn label(&self) -> &'static str {
        match self.what {
            SheetOf::Keys => "draw the keys into",
            SheetOf::Edit(_) => "draw what was done into",
            SheetOf::Listing => "draw the text into",
            SheetOf::Ledger(_) => "draw the ledger into",
        }
    }
}

/// The name of a drawing of the active text: beside it, with `suffix`.
fn named(context: &Context, suffix: &str) -> String {
    let name = context.workspace.active().name();
    let stem = Path::new(&name).file_stem().map_or("text".into(), |stem| stem.to_string_lossy());
    let is_plain = stem.chars().all(|c| c.is_alphanumeric() || "-_. ".contains(c));
    format!("{}{suffix}.pdf", if is_plain { &stem } else { "text" })
}

fn pages_of((buffer, folds): (Buffer, Folds), name: String, lines: Option<RangeInclusive<Line>>) -> Vec<Drawing> {
    let mut listing = Listing::default();
    listing.files.push(listing::listed((&buffer, &folds), name, lines, listing.cells()));
    listing.pages()
}

/// Draws what became of the active text between two states, with the steps in between as keys.
fn edit_sheet(context: &Context, [from, to]: [StepId; 2]) -> Draw {
    let buffer = context.workspace.active();
    let at = |id: StepId| {
        let (then, cursors) = buffer.at_step(id);
        // Where the history leads nowhere, it is the present state.
        let cursors = cursors.unwrap_or_else(|| context.workspace.view().cursors().clone());
        let end = then.text().end();
        let spans: Vec<_> = cursors.iter().map(Selection::span).collect();
        let inside = spans.iter().all(|span| span.end <= end);
        (then.text().clone(), if inside { cursors } else { CursorSet::caret(end) })
    };
    let states = [at(from), at(to)];
    let history = buffer.history();
    let mut keys = Vec::new();
    let mut here = to;
    while here != from {
        let Some(step) = history.step(here) else { break };
        keys.push(cap(step.verb(), &context.keyboard.keymap));
        here = step.parent();
    }
    keys.reverse();
    let (title, tabs) = (buffer.name(), buffer.settings().tabs);
    Box::new(move || {
        let [before, after] = &states;
        let states = [before, after].map(|(text, cursors)| State { text, cursors });
        let (sides, bands) = sides(states, tabs);
        vec![EditSheet { title, sides, bands, keys, ..EditSheet::default() }.drawing()]
    })
}

/// A step as a key: that of its verb, where it has one.
fn cap(verb: &str, keymap: &Keymap) -> Cap {
    let known = by_name(verb);
    let key = known.and_then(|verb| spelled_in(verb, (keymap, Layer::Write)));
    let label = known.map_or(verb, |verb| verb.label);
    match key {
        Some(key) => Cap { key, did: label.to_owned() },
        None => Cap { key: label.to_owned(), did: String::new() },
    }
}

impl Panel for SheetPanel {
    fn rows(&self, _context: &Context) -> u16 {
        2
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        let prints = key.code == KeyCode::Char('p') && key.mods == KeyModifiers::CONTROL;
        if prints {
            self.draw_into(context, true);
            return PanelAction::Close;
        }
        match self.line.enter(key) {
            Entry::Typing => return PanelAction::Stay,
            Entry::Left => {}
            Entry::Given => self.draw_into(context, false),
        }
        PanelAction::Close
    }

    fn paste(&mut self, typed: &str, _context: &mut Context) -> PanelAction {
        self.line.insert(typed);
        PanelAction::Stay
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        painter.line(self.label(), &self.line, grid);
        let keys = [
            ("Enter", "draw: .svg or .pdf"),
            ("Ctrl+P", "print it instead"),
            ("Ctrl+U", "empty the line"),
            ("Esc", "leave it"),
        ];
        painter.keys(&keys, grid);
    }
}
