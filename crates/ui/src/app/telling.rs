//! What the workspace tells and asks, and what happens in the background.

use super::App;
use crate::asked::Asked;
use crate::panels::difference::DifferencePanel;
use crate::panels::may_run::MayRun;
use crate::panels::news::News;
use crate::panels::panel::PanelAction;
use crate::panels::question::Question;
use crate::panels::save_as::SaveAs;
use crate::panels::server::ServerQuestion;
use snarvel_workspace::ask::Ask;
use snarvel_workspace::event::{Event as TaskEvent, Payload};
use snarvel_workspace::notice::Notice;

impl App {
    /// Takes an event to whom it is for.
    pub(super) fn dispatch(&mut self, event: TaskEvent) {
        let Some(event) = self.context.workspace.take(event) else { return };
        let event = match event.payload {
            Payload::Tried(index) => return self.take_tried(index),
            Payload::Ledger(news) => match self.take_ledger(*news) {
                Some(news) => TaskEvent { payload: Payload::Ledger(Box::new(news)), ..event },
                None => return,
            },
            Payload::Ended => {
                self.context.learning.take_end(event.source.task);
                TaskEvent { payload: Payload::Ended, ..event }
            }
            payload => TaskEvent { payload, ..event },
        };
        self.with_panel(|panel, context| panel.take(event, context));
    }

    /// Tells the panel what has happened to the workspace; what it has no use for is said.
    pub(super) fn take_notices(&mut self) {
        for notice in std::mem::take(&mut self.context.workspace.told.notices) {
            let mut left = Some(notice);
            self.with_panel(|panel, context| match left.take() {
                Some(notice) => {
                    let (unused, action) = panel.notice(notice, context);
                    left = unused;
                    action
                }
                None => PanelAction::Stay,
            });
            match left {
                Some(Notice::Replaced(said) | Notice::Operated(_, said)) => self.context.say(said),
                Some(Notice::Created(path)) => self.context.say(format!("{} is there now", path.display())),
                Some(Notice::MayRun(command)) => self.open(MayRun { command }),
                Some(Notice::Failed { what, lines }) => self.tell_failure(&what, lines),
                Some(Notice::MayServe(candidate)) => self.ask_of_server(Asked::MayServe(candidate)),
                Some(Notice::MayRunHere(command)) => self.ask_of_server(Asked::MayRunHere(command)),
                Some(Notice::MayFormat(command)) => self.ask_of_server(Asked::MayFormat(command)),
                Some(Notice::MayChangeFiles(steps)) => self.ask_of_server(Asked::MayChangeFiles(steps)),
                Some(Notice::ServerAsks { server, number, message, choices }) => {
                    self.ask_of_server(Asked::Question { server, number, message, choices });
                }
                Some(
                    Notice::Parsed(_)
                    | Notice::Recipes
                    | Notice::Found(_)
                    | Notice::Names(..)
                    | Notice::Faults
                    | Notice::Shell(_)
                    | Notice::Servers,
                )
                | None => {}
            }
        }
    }

    /// Asks something about a server; while a panel is open that waits.
    fn ask_of_server(&mut self, asked: Asked) {
        if self.panel.is_none() {
            self.open(ServerQuestion { asked });
        } else {
            self.context.asked_later.push(asked);
        }
    }

    /// Asks what had to wait for a panel.
    pub(super) fn ask_what_waited(&mut self) {
        if self.panel.is_none() && !self.context.asked_later.is_empty() {
            let asked = self.context.asked_later.remove(0);
            self.open(ServerQuestion { asked });
        }
    }

    /// Tells that a command has failed: in the status line where one line says all.
    fn tell_failure(&mut self, what: &str, lines: Vec<String>) {
        match &lines[..] {
            [only] => self.context.say(format!("nothing has changed: {what}: {only}")),
            _ if self.panel.is_some() => self.context.say(format!("nothing has changed: {what} has failed")),
            _ => self.open(News { title: format!("nothing has changed: {what}"), lines }),
        }
    }

    /// Asks what the workspace wants to know, one after the other.
    pub(super) fn take_asks(&mut self) {
        while let Some(ask) = self.context.workspace.told.asks.pop_front() {
            if self.panel.is_none() {
                self.ask(ask);
                continue;
            }
            let name = self.context.workspace.active().name();
            match ask.said_instead(&name) {
                Some(said) => self.context.say(said),
                None => {
                    self.context.workspace.told.asks.push_front(ask);
                    return;
                }
            }
        }
    }

    pub(super) fn ask(&mut self, ask: Ask) {
        match ask {
            Ask::Compare(asked) => self.open(DifferencePanel { asked, top: 0 }),
            Ask::Unsaved { exit, names } => self.open(Question { exit, names }),
            Ask::Name(buffer, then) => self.open(SaveAs::of(&self.context.workspace, buffer, then)),
        }
    }
}
