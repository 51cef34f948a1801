//! Recipes: all that there are, the chosen one beside the list to be read and edited, what it would do to the text above; playing
//! it here or over the project, naming it, binding it to a key.
//!
//! What is edited and not kept is a draft, from the first letter on: no edit is lost by leaving the panel.

mod ahead;
mod asking;
mod draw;
mod over_project;
mod question;
mod text;

use super::chooser::{Chooser, Order, Pressed};
use super::painter::{KeysGo, Painter};
use super::panel::{Panel, PanelAction, TextBeside, list_rows};
use crate::context::Context;
use crate::keys::Key;
use crate::palette::Role;
use crate::screen::marks::TextMarks;
use ahead::Ahead;
use crossterm::event::{KeyCode, KeyModifiers};
use over_project::OverProject;
use question::Asking;
use ratatui::buffer::Buffer as Grid;
use snarvel_core::units::Span;
use snarvel_workspace::command::Command;
use snarvel_workspace::event::{Event, Payload};
use snarvel_workspace::notice::Notice;
use snarvel_workspace::operations::FileOperation;
use snarvel_workspace::project::Trust;
use snarvel_workspace::recipes::book::{ENDING, Entry, From, Known};
use std::borrow::Cow;
use text::RecipeText;

/// All recipes, and the chosen one.
#[derive(Debug)]
pub struct RecipesPanel {
    entries: Vec<Entry>,
    chooser: Chooser,
    /// The chosen one as a text.
    text: Option<RecipeText>,
    keys: KeysGo,
    asking: Asking,
    /// What the chosen one would do to the text above.
    ahead: Ahead,
    /// The chosen one over all files of the project.
    over: Option<OverProject>,
    /// How many recipes of the project are not listed because it is not trusted.
    untrusted: usize,
}

impl RecipesPanel {
    /// The recipes that are known in `context`.
    #[must_use]
    pub fn of(context: &Context) -> RecipesPanel {
        let recipes = context.workspace.recipes();
        let mut panel = RecipesPanel {
            entries: recipes.entries().collect(),
            chooser: Chooser::new(Order::AsListed),
            text: None,
            keys: KeysGo::ToList,
            asking: Asking::Nothing,
            ahead: Ahead::default(),
            over: None,
            untrusted: recipes.book.untrusted,
        };
        panel.filter_names();
        panel
    }

    fn filter_names(&mut self) {
        self.chooser.filter(self.entries.iter().map(|entry| Cow::Borrowed(entry.known.name.as_str())));
    }

    /// The chosen recipe.
    fn chosen(&self) -> Option<&Entry> {
        self.chooser.index().map(|index| &self.entries[index])
    }

    /// Lists what is known now, with the same recipe chosen where it is still there.
    fn list_again(&mut self, context: &mut Context) {
        let chosen = self.chosen().map(|entry| entry.known.name.clone());
        let recipes = context.workspace.recipes();
        self.entries = recipes.entries().collect();
        self.untrusted = recipes.book.untrusted;
        self.filter_names();
        let same = self.entries.iter().position(|entry| Some(&entry.known.name) == chosen.as_ref());
        same.into_iter().for_each(|index| self.chooser.choose(index));
        self.show(context);
    }

    /// Shows the chosen recipe, and what it would do.
    fn show(&mut self, context: &mut Context) {
        let source = self.chosen().map(|entry| entry.known.source.clone());
        if source.as_deref() != self.text.as_ref().map(RecipeText::source).as_deref() {
            self.text = source.as_deref().map(RecipeText::of);
        }
        self.ahead.look(source.as_deref(), context);
    }

    /// Takes over what was edited: it is a draft, unless it is what the file of that name holds.
    fn take_over_edit(&mut self, context: &mut Context) {
        let (Some(index), Some(text)) = (self.chooser.index(), &self.text) else { return };
        let source = text.source();
        let entry = &mut self.entries[index];
        if entry.known.source == source {
            return;
        }
        entry.known.source = source;
        let recipes = context.workspace.recipes_mut();
        let kept = recipes.book.entries.iter().find(|each| each.known == entry.known);
        entry.from = kept.map_or(From::Draft, |kept| kept.from);
        match entry.from {
            From::Draft => recipes.unfiled.put(entry.known.clone()),
            _ => recipes.unfiled.take_out(&entry.known.name),
        }
        self.ahead.look(Some(&entry.known.source), context);
    }

    /// Plays the chosen recipe in the text above.
    fn play(&mut self, context: &mut Context) -> PanelAction {
        let Some(known) = self.chosen().map(|entry| entry.known.clone()) else { return PanelAction::Stay };
        let is_fine = context.workspace.read_recipe(&known.source).is_ok();
        if is_fine {
            context.workspace.active_pair_mut().1.preview = None;
        }
        let effects = context.workspace.play_source(&known, "play-recipe", 1);
        context.follow(effects);
        if is_fine { PanelAction::Close } else { PanelAction::Stay }
    }

    /// Looks what the chosen recipe makes of the files of the project.
    fn play_over_project(&mut self, context: &mut Context) {
        let Some(known) = self.chosen().map(|entry| entry.known.clone()) else { return };
        match context.workspace.read_recipe(&known.source) {
            Ok(program) => {
                context.workspace.active_pair_mut().1.preview = None;
                self.over = Some(OverProject::begin(known.name, context.workspace.apply_to_project(program)));
            }
            Err(_) => context.say("it has mistakes: Tab goes into its text"),
        }
    }

    /// Keeps the chosen recipe under `name`.
    fn keep(&mut self, name: &str, context: &mut Context) {
        let Some(entry) = self.chosen().cloned() else { return };
        let known = Known { name: name.to_owned(), source: entry.known.source };
        if let Err(why) = context.workspace.keep_recipe(known) {
            context.say(why);
            return;
        }
        if entry.from == From::Draft && entry.known.name != name {
            context.workspace.recipes_mut().unfiled.take_out(&entry.known.name);
        }
        self.list_again(context);
        let kept = self.entries.iter().position(|entry| entry.known.name == name);
        kept.into_iter().for_each(|index| self.chooser.choose(index));
        self.show(context);
    }

    /// Takes the chosen recipe away: a draft is dropped, a file of the person goes into the trash.
    fn drop_chosen(&mut self, context: &mut Context) {
        let Some(Entry { known, from }) = self.chosen().cloned() else { return };
        match (from, context.workspace.project.recipes.clone()) {
            (From::Draft, _) => {
                context.workspace.recipes_mut().unfiled.take_out(&known.name);
                self.list_again(context);
            }
            (From::Person, Some(folder)) => {
                context.workspace.operate(FileOperation::Trash(folder.join(format!("{}.{ENDING}", known.name))));
            }
            _ => {}
        }
    }

    /// Whether there is something here that only a trusted folder does.
    fn may_trust(&self, context: &Context) -> bool {
        let runs_commands = self.chosen().is_some_and(|entry| entry.known.source.contains("filter-through"));
        context.workspace.project.trust == Trust::Asks && (self.untrusted > 0 || runs_commands)
    }

    fn choose(&mut self, key: Key, context: &mut Context) -> PanelAction {
        let ctrl = |c: char| key.code == KeyCode::Char(c) && key.mods == KeyModifiers::CONTROL;
        match key.code {
            KeyCode::Esc => return PanelAction::Close,
            KeyCode::Enter if key.mods == KeyModifiers::ALT => self.play_over_project(context),
            // Some terminals keep Alt+Enter for themselves.
            _ if ctrl('a') => self.play_over_project(context),
            KeyCode::Enter => return self.play(context),
            KeyCode::Tab if self.text.is_some() => self.keys = KeysGo::ToText,
            KeyCode::Delete if self.chooser.line.parts().1.is_empty() => self.ask_drop(context),
            _ if ctrl('s') => self.ask_name(),
            _ if ctrl('k') => self.ask_key(context),
            _ if ctrl('t') && self.may_trust(context) => {
                context.workspace.trust_project();
                self.untrusted = 0;
            }
            _ if ctrl('z') => {
                context.workspace.active_pair_mut().1.preview = None;
                context.run(&Command::named("undo"));
                self.show(context);
            }
            _ => match self.chooser.press(key) {
                Pressed::Typed => {
                    self.filter_names();
                    self.show(context);
                }
                Pressed::Moved => self.show(context),
                Pressed::Nothing => {}
            },
        }
        PanelAction::Stay
    }

    fn edit(&mut self, key: Key, context: &mut Context) {
        match key.code {
            KeyCode::Esc => self.keys = KeysGo::ToList,
            KeyCode::Char('s') if key.mods == KeyModifiers::CONTROL => self.ask_name(),
            _ => {
                if let Some(text) = &mut self.text {
                    text.press(key, context);
                }
                self.take_over_edit(context);
            }
        }
    }

    fn press_over_project(&mut self, key: Key, context: &mut Context) -> PanelAction {
        let Some(over) = &mut self.over else { return PanelAction::Stay };
        if key.code == KeyCode::Esc && over.keys == KeysGo::ToList {
            self.over = None;
            self.show(context);
            return PanelAction::Stay;
        }
        over.press(key, context)
    }
}

impl Panel for RecipesPanel {
    fn rows(&self, context: &Context) -> u16 {
        list_rows(context)
    }

    fn begin(&mut self, context: &mut Context) {
        context.workspace.read_recipes();
        self.show(context);
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        if self.over.is_some() {
            return self.press_over_project(key, context);
        }
        if !matches!(self.asking, Asking::Nothing) {
            self.answer(key, context);
            return PanelAction::Stay;
        }
        match self.keys {
            KeysGo::ToText => {
                self.edit(key, context);
                PanelAction::Stay
            }
            KeysGo::ToList => self.choose(key, context),
        }
    }

    fn takes_lines(&self) -> bool {
        self.keys == KeysGo::ToText
    }

    fn paste(&mut self, typed: &str, context: &mut Context) -> PanelAction {
        match (&mut self.asking, self.keys, &mut self.text) {
            (Asking::Name(line, _), ..) => line.insert(typed),
            (Asking::Nothing, KeysGo::ToText, Some(text)) => {
                text.paste(typed);
                self.take_over_edit(context);
            }
            (Asking::Nothing, KeysGo::ToList, _) => {
                self.chooser.line.insert(typed);
                self.filter_names();
                self.show(context);
            }
            _ => {}
        }
        PanelAction::Stay
    }

    fn take(&mut self, event: Event, context: &mut Context) -> PanelAction {
        if let Some(over) = self.over.as_mut().filter(|over| over.is_task(event.source.task)) {
            over.take(event.payload);
        } else if let Payload::WouldDo(found) = event.payload {
            self.ahead.take(event.source.task, found, context);
        }
        PanelAction::Stay
    }

    fn notice(&mut self, notice: Notice, context: &mut Context) -> (Option<Notice>, PanelAction) {
        match notice {
            Notice::Recipes if self.over.is_none() && self.keys == KeysGo::ToList => {
                self.list_again(context);
                (None, PanelAction::Stay)
            }
            // A recipe was kept or thrown away.
            Notice::Operated(..) => {
                context.workspace.read_recipes();
                (Some(notice), PanelAction::Stay)
            }
            other => (Some(other), PanelAction::Stay),
        }
    }

    fn settle(&mut self, context: &mut Context) {
        if let Some(text) = &mut self.text {
            text.settle(context.look.rooms.beside);
        }
        if let Some(over) = &mut self.over {
            over.settle(context.look.rooms.beside);
        }
    }

    fn text_beside(&self) -> TextBeside {
        let keys = self.over.as_ref().map_or(self.keys, |over| over.keys);
        if keys == KeysGo::ToText { TextBeside::Inside } else { TextBeside::Beside }
    }

    fn marks(&self, context: &Context, _span: Span) -> TextMarks {
        let here = context.workspace.views.focus();
        let come = context.workspace.overlay(here).into_iter().flat_map(|overlay| overlay.come.iter());
        TextMarks { overlays: come.map(|span| (*span, Role::Come)).collect(), ..TextMarks::default() }
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        match &self.over {
            Some(over) => over.draw(painter, grid),
            None => self.draw_all(painter, grid),
        }
    }
}
