//! What is asked of a person about language servers: whether one may be started, what it asks, whether it may rename and delete files,
//! whether a command may lay texts out. Letters go to the text: answers are digits, and any other key goes on without an answer.

use super::painter::Painter;
use super::panel::{Panel, PanelAction};
use crate::asked::Asked;
use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::screen::canvas::{harmless, put};
use crossterm::event::KeyCode;
use ratatui::buffer::Buffer as Grid;
use snarvel_servers::news::FileStep;
use snarvel_workspace::meaning::trusting::Say;

/// A question about servers.
#[derive(Debug)]
pub struct ServerQuestion {
    /// What is asked.
    pub asked: Asked,
}

impl ServerQuestion {
    fn text(&self, context: &Context) -> String {
        let project = &context.workspace.project.name;
        match &self.asked {
            Asked::MayServe(candidate) => {
                let profile = &candidate.launch.profile;
                format!(
                    "Start {} for {} in {project}? It reads the files here and tells what they mean.",
                    profile.name, candidate.language
                )
            }
            Asked::Question { message, .. } => harmless(message),
            Asked::MayChangeFiles(steps) => {
                let told = |step: &FileStep| match step {
                    FileStep::Create(path) => format!("create {}", path.display()),
                    FileStep::Rename(from, to) => format!("rename {} to {}", from.display(), to.display()),
                    FileStep::Delete(path) => format!("put {} into the trash", path.display()),
                };
                let all: Vec<String> = steps.iter().map(told).collect();
                format!("The server wants to {}. Do it? It cannot be undone here.", harmless(&all.join(", ")))
            }
            Asked::MayRunHere(command) => {
                format!("Run commands in {project}? Files and tasks of this folder run then.  {}", harmless(command))
            }
            Asked::MayFormat(command) => {
                format!("This command is new in {project}. Lay the text out with it?  {}", harmless(command))
            }
        }
    }

    fn keys(&self) -> Vec<(String, String)> {
        let pairs: Vec<(&str, &str)> = match &self.asked {
            Asked::MayServe(_) => {
                vec![("1", "this time"), ("2", "always here"), ("3", "never here"), ("Esc", "not now")]
            }
            Asked::Question { choices, .. } => {
                let digit = |(index, choice): (usize, &String)| ((index + 1).to_string(), harmless(choice));
                let mut keys: Vec<(String, String)> = choices.iter().take(9).enumerate().map(digit).collect();
                keys.push(("Esc".to_owned(), "no answer".to_owned()));
                return keys;
            }
            Asked::MayChangeFiles(_) => vec![("1", "do it"), ("Esc", "leave them")],
            Asked::MayRunHere(_) => vec![("1", "always here"), ("2", "this time"), ("Esc", "not now")],
            Asked::MayFormat(_) => vec![("1", "do it, and do not ask again here"), ("Esc", "leave it")],
        };
        pairs.into_iter().map(|(key, does)| (key.to_owned(), does.to_owned())).collect()
    }

    fn answer(&mut self, digit: usize, context: &mut Context) {
        match &mut self.asked {
            Asked::MayServe(candidate) => {
                let say = [Say::Once, Say::Always, Say::Never][digit.min(2)];
                context.workspace.consent(candidate, say);
            }
            Asked::Question { server, number, choices, .. } => {
                context.workspace.answer_server(*server, *number, choices.get(digit).cloned());
            }
            Asked::MayChangeFiles(steps) => context.workspace.change_files_for_server(std::mem::take(steps)),
            Asked::MayRunHere(_) => {
                let effects = context.workspace.allow_runs(if digit == 0 { Say::Always } else { Say::Once });
                context.follow(effects);
            }
            Asked::MayFormat(command) => {
                let effects = context.workspace.allow_format(command);
                context.follow(effects);
            }
        }
    }

    /// It is left without an answer.
    fn leave(&self, context: &mut Context) {
        match &self.asked {
            Asked::Question { server, number, .. } => context.workspace.answer_server(*server, *number, None),
            Asked::MayServe(candidate) => {
                context.workspace.consent(candidate, Say::Later);
                context.say(format!(
                    "{} is asked about again at the next start: restart-servers asks now",
                    candidate.launch.profile.name
                ));
            }
            Asked::MayRunHere(_) => context.say("not run"),
            Asked::MayChangeFiles(_) | Asked::MayFormat(_) => context.say("left: nothing has changed"),
        }
    }

    fn digits(&self) -> usize {
        match &self.asked {
            Asked::MayServe(_) => 3,
            Asked::Question { choices, .. } => choices.len().min(9),
            Asked::MayRunHere(_) => 2,
            Asked::MayChangeFiles(_) | Asked::MayFormat(_) => 1,
        }
    }
}

impl Panel for ServerQuestion {
    fn rows(&self, _context: &Context) -> u16 {
        2
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        let digit = key.typed().and_then(|c| c.to_digit(10)).map(|digit| digit as usize);
        match (key.code, digit) {
            (_, Some(digit @ 1..)) if digit <= self.digits() => {
                self.answer(digit - 1, context);
                PanelAction::Close
            }
            (KeyCode::Esc, _) => {
                self.leave(context);
                PanelAction::Close
            }
            _ => {
                self.leave(context);
                PanelAction::PassOn(key)
            }
        }
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        put(grid, (painter.row(0), 1), &self.text(painter.context), painter.style(Role::Raised));
        let keys = self.keys();
        let keys: Vec<(&str, &str)> = keys.iter().map(|(key, does)| (key.as_str(), does.as_str())).collect();
        painter.keys(&keys, grid);
    }
}
