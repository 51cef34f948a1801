//! What the panel asks: the name of a recipe, the key that is to play it, whether one is to be dropped.

use super::RecipesPanel;
use super::question::Asking;
use crate::context::Context;
use crate::keys::Key;
use crate::keys::bindings::{Binding, KeyAction, never_arrives, of_deck};
use crate::panels::line::{Entry as Typed, InputLine};
use crossterm::event::KeyCode;
use snarvel_workspace::recipes::book::{From, RECORDED, check_name};
use snarvel_workspace::registry::by_name;

impl RecipesPanel {
    pub(super) fn ask_name(&mut self) {
        let Some(entry) = self.chosen() else { return };
        let name = if entry.known.name == RECORDED { "" } else { &entry.known.name };
        self.asking = Asking::Name(InputLine::holding(name), None);
    }

    pub(super) fn ask_key(&mut self, context: &mut Context) {
        match self.chosen().map(|entry| entry.from) {
            None => {}
            Some(From::Draft) => context.say("a key plays a recipe by its name: Ctrl+S names this one first"),
            Some(_) => self.asking = Asking::Key(None),
        }
    }

    pub(super) fn ask_drop(&mut self, context: &mut Context) {
        match self.chosen().map(|entry| entry.from) {
            None => {}
            Some(From::Draft | From::Person) => self.asking = Asking::Drop,
            Some(From::Project) => context.say("it is a file of the project: delete it there"),
            Some(From::Shipped) => context.say("it comes with the program, and stays"),
        }
    }

    /// Takes the key that answers.
    pub(super) fn answer(&mut self, key: Key, context: &mut Context) {
        let is_yes = key.typed() == Some('y');
        match std::mem::replace(&mut self.asking, Asking::Nothing) {
            Asking::Name(line, wrong) => self.answer_name((line, wrong), key, context),
            _ if key.code == KeyCode::Esc => {}
            Asking::Key(_) => self.answer_key(key, context),
            Asking::TakeOver(taken, _) if is_yes => self.bind(taken, context),
            Asking::Drop if is_yes => self.drop_chosen(context),
            _ => {}
        }
    }

    fn answer_name(&mut self, (mut line, wrong): (InputLine, Option<String>), key: Key, context: &mut Context) {
        let before = line.text.clone();
        match line.enter(key) {
            Typed::Left => {}
            Typed::Typing => {
                let wrong = wrong.filter(|_| line.text == before);
                self.asking = Asking::Name(line, wrong);
            }
            Typed::Given => {
                let name = line.text.trim().to_owned();
                let own = self.chosen().is_some_and(|entry| entry.known.name == name);
                let is_taken = self.entries.iter().any(|each| each.from == From::Person && each.known.name == name);
                match check_name(&name) {
                    Err(why) => self.asking = Asking::Name(line, Some(why)),
                    // The second Enter is meant.
                    Ok(()) if is_taken && !own && wrong.is_none() => {
                        let why = format!("{name} is there already: Enter again writes over it");
                        self.asking = Asking::Name(line, Some(why));
                    }
                    Ok(()) => self.keep(&name, context),
                }
            }
        }
    }

    fn answer_key(&mut self, key: Key, context: &mut Context) {
        if let Some(why) = never_arrives(key) {
            self.asking = Asking::Key(Some(format!("{key} cannot be bound: {why}")));
            return;
        }
        let key = of_deck(key);
        match context.keyboard.keymap.action(key) {
            Some(KeyAction::Verb(other, argument)) if Some(argument) != self.chosen().map(|each| &each.known.name) => {
                self.asking = Asking::TakeOver(key, other.name.to_owned());
            }
            Some(KeyAction::Text(text)) => self.asking = Asking::TakeOver(key, format!("the text {text:?}")),
            _ => self.bind(key, context),
        }
    }

    fn bind(&mut self, key: Key, context: &mut Context) {
        let (Some(entry), Some(verb)) = (self.chosen(), by_name("play-recipe")) else { return };
        let action = KeyAction::Verb(verb, entry.known.name.clone());
        context.keyboard.bind(vec![Binding { key, action }], &mut context.workspace);
    }

    /// What is asked, in one line.
    pub(super) fn question(&self) -> Option<String> {
        let name = self.chosen().map_or("", |entry| entry.known.name.as_str());
        match &self.asking {
            Asking::Nothing | Asking::Name(_, None) => None,
            Asking::Name(_, Some(wrong)) => Some(wrong.clone()),
            Asking::Key(None) => Some(format!("press the key that is to play {name}")),
            Asking::Key(Some(why)) => Some(format!("{why}; another key for {name}?")),
            Asking::TakeOver(key, other) => Some(format!("{key} runs {other}; take it over for {name}?")),
            Asking::Drop => Some(match self.chosen().map(|entry| entry.from) {
                Some(From::Person) => format!("put {name} into the trash?"),
                _ => format!("drop the draft {name}?"),
            }),
        }
    }
}
