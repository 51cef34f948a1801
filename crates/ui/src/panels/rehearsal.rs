//! Rehearsal: the next verb is shown before it is done.

use super::line::InputLine;
use super::painter::Painter;
use super::panel::{Panel, PanelAction};
use crate::context::Context;
use crate::keys::Key;
use crate::keys::keymap::Meaning;
use crate::keys::layer::Layer;
use crate::palette::Role;
use crate::screen::canvas::put;
use crate::screen::marks::TextMarks;
use crossterm::event::{KeyCode, KeyModifiers};
use ratatui::buffer::Buffer as Grid;
use snarvel_core::units::Span;
use snarvel_workspace::command::Command;
use snarvel_workspace::registry::Verb;

/// What is rehearsed.
#[derive(Debug)]
pub struct RehearsalPanel {
    /// How often the next verb would run.
    count: Option<u32>,
    /// What is shown, and the key that was pressed for it.
    shown: Option<(Command, Option<Key>)>,
    /// A verb that asks, and what is typed for it.
    asking: Option<(&'static Verb, InputLine)>,
    said: String,
}

/// So often a verb runs at most.
const MOST_TIMES: u32 = 1_000_000;

impl RehearsalPanel {
    /// Of the next verb, which would run so often.
    #[must_use]
    pub fn of(count: Option<u32>) -> RehearsalPanel {
        RehearsalPanel { count, shown: None, asking: None, said: String::new() }
    }

    /// Shows what `command` would do; no where that cannot be shown.
    fn rehearse(&mut self, (command, key): (Command, Option<Key>), context: &mut Context) -> bool {
        let command = Command { count: self.count, ..command };
        let Some(rehearsal) = context.workspace.rehearse(&command) else { return false };
        let name = command.verb.name.replace('-', " ");
        self.said = match (rehearsal.is_nothing, rehearsal.message.is_empty()) {
            (true, true) => format!("{name} would change nothing"),
            (true, false) => format!("{name} would change nothing: {}", rehearsal.message),
            (false, true) => format!("{name} would do this"),
            (false, false) => format!("{name} would do this: {}", rehearsal.message),
        };
        context.say(self.said.clone());
        self.shown = Some((command, key));
        true
    }

    fn close(context: &mut Context, then: PanelAction) -> PanelAction {
        context.workspace.end_rehearsal();
        then
    }

    fn carry_out(&mut self, context: &mut Context) -> PanelAction {
        match self.shown.take() {
            Some((command, _)) => RehearsalPanel::close(context, PanelAction::Run(command)),
            None => PanelAction::Stay,
        }
    }

    fn take_verb(&mut self, verb: &'static Verb, argument: &str, (key, context): (Key, &mut Context)) -> PanelAction {
        if self.shown.as_ref().is_some_and(|(_, shown_by)| *shown_by == Some(key)) {
            return self.carry_out(context);
        }
        if verb.asks && argument.is_empty() {
            context.workspace.end_rehearsal();
            (self.shown, self.said) = (None, String::new());
            self.asking = Some((verb, InputLine::default()));
            return PanelAction::Stay;
        }
        let command = Command::read(verb, argument).unwrap_or_else(|_| Command::plain(verb));
        if self.rehearse((command, Some(key)), context) {
            self.asking = None;
            return PanelAction::Stay;
        }
        RehearsalPanel::close(context, PanelAction::PassOn(key))
    }

    /// What is typed for a verb that asks is rehearsed as it is typed.
    fn take_answer(&mut self, key: Key, context: &mut Context) -> PanelAction {
        let Some((verb, line)) = &mut self.asking else { return PanelAction::Stay };
        let verb = *verb;
        if !line.press(key) {
            return PanelAction::Stay;
        }
        let typed = line.text.clone();
        match Command::read(verb, &typed) {
            Ok(command) => {
                self.rehearse((command, None), context);
            }
            Err(wrong) => {
                context.workspace.end_rehearsal();
                (self.shown, self.said) = (None, wrong.to_string());
            }
        }
        PanelAction::Stay
    }
}

impl Panel for RehearsalPanel {
    fn rows(&self, _context: &Context) -> u16 {
        3
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        match key.code {
            KeyCode::Esc => return RehearsalPanel::close(context, PanelAction::Close),
            KeyCode::Enter => return self.carry_out(context),
            _ if self.asking.is_some() => return self.take_answer(key, context),
            _ => {}
        }
        let keyboard = &context.keyboard;
        match keyboard.keymap.meaning(key, keyboard.layer) {
            Some(Meaning::Verb(verb)) => self.take_verb(verb, "", (key, context)),
            Some(Meaning::Call(verb, argument)) => self.take_verb(verb, &argument, (key, context)),
            Some(Meaning::Digit(digit)) if self.shown.is_none() => {
                let count = self.count.unwrap_or(0).saturating_mul(10).saturating_add(digit).min(MOST_TIMES);
                self.count = (count > 0).then_some(count);
                PanelAction::Stay
            }
            _ => RehearsalPanel::close(context, PanelAction::PassOn(key)),
        }
    }

    fn paste(&mut self, typed: &str, context: &mut Context) -> PanelAction {
        for c in typed.chars() {
            self.take_answer(Key::new(KeyCode::Char(c), KeyModifiers::NONE), context);
        }
        PanelAction::Stay
    }

    fn rehearses(&self) -> bool {
        true
    }

    fn marks(&self, context: &Context, _span: Span) -> TextMarks {
        rehearsal_marks(context)
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        let times = self.count.map(|count| format!("{count} × ")).unwrap_or_default();
        match &self.asking {
            Some((verb, line)) => painter.line(&format!("rehearsal: {times}{}", verb.label), line, grid),
            None if self.shown.is_none() => {
                let layer =
                    if painter.context.keyboard.layer == Layer::Write { "Alt and its letter" } else { "its key" };
                let said = format!("rehearsal: {times}press a verb by {layer}, and see what it would do");
                put(grid, (painter.row(0), 1), &said, painter.style(Role::RaisedQuiet));
            }
            None => {
                let name = self.shown.as_ref().map_or("", |(command, _)| command.verb.label);
                put(grid, (painter.row(0), 1), &format!("rehearsal: {times}{name}"), painter.style(Role::Raised));
            }
        }
        if self.asking.is_some() {
            put(grid, (painter.row(1), 1), &self.said, painter.style(Role::RaisedQuiet));
        }
        let keys: &[(&str, &str)] = match self.shown.is_some() {
            true => &[("Enter", "do it"), ("same key", "do it"), ("another verb", "see that"), ("Esc", "leave")],
            false => &[("Esc", "leave")],
        };
        painter.keys(keys, grid);
    }
}

/// What would go and what would come, on the text that is rehearsed on.
#[must_use]
pub fn rehearsal_marks(context: &Context) -> TextMarks {
    let overlay = context.workspace.overlay(context.workspace.views.focus());
    let Some(overlay) = overlay.filter(|_| context.workspace.rehearsed().is_some()) else {
        return TextMarks::default();
    };
    let gone = overlay.gone.iter().map(|span| (*span, Role::Gone));
    let mut overlays: Vec<_> = gone.chain(overlay.come.iter().map(|span| (*span, Role::Come))).collect();
    overlays.retain(|(span, _)| !span.is_empty());
    overlays.sort_by_key(|(span, _)| span.start);
    TextMarks { overlays, ..TextMarks::default() }
}
