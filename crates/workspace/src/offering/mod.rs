//! Offers: what can be put at the caret, chosen and put in at every cursor.
//!
//! Sources answer in the background ([`answering`]); whatever answers comes in at [`Workspace::take_answer`]. A list belongs to one
//! question: what is typed asks anew, everything else that is done puts the list away.

pub mod answering;
mod asking;
pub mod seen;
pub mod settings;
mod taking;
mod templates;

use crate::command::Command;
use crate::editing::Effects;
use crate::state::offering::{About, Called, Offers};
use crate::workspace::Workspace;
use answering::{Answer, MOST_ROWS, Turn};
use settings::When;
use snarvel_core::offers::matching::Letters;
use snarvel_core::offers::{Candidate, Nearness, Source, joined, ranked};
use snarvel_core::units::{Direction, Span};
use snarvel_task::waits;

pub use templates::Told;

impl Workspace {
    /// What is offered at the caret now.
    #[must_use]
    pub fn offers(&self) -> Option<&Offers> {
        self.past.offering.shown.as_ref()
    }

    /// Whether sources were asked for what can be put at the caret as it is.
    #[must_use]
    pub fn has_asked_for_offers(&self) -> bool {
        self.past.offering.asked.is_some()
    }

    /// Whether sources were asked and have not answered yet.
    #[must_use]
    pub fn awaits_offers(&self) -> bool {
        self.past.offering.asked.as_ref().is_some_and(|asked| asked.is_pending)
    }

    /// A command was run: offers go along with what is typed, and are put away by all else.
    pub(crate) fn follow_offers(&mut self, command: &Command) {
        if command.verb.name == "delete-back" && self.past.offering.put_away.is_some() {
            // What is typed where nothing is left of a word is another one.
            let letters = asking::Around::of(self.active(), self.view()).letters;
            self.past.offering.put_away.take_if(|_| letters.is_empty());
        }
        let goes_on = match command.verb.name {
            "type-text" => command.values.text(0).is_some_and(|typed| self.belongs_to_word(typed)),
            "delete-back" => self.has_asked_for_offers(),
            "offers" | "surround-with" | "fixes" => return,
            _ => false,
        };
        if self.offer_choice() {
            return;
        }
        if goes_on {
            return self.ask_by_typing();
        }
        self.drop_offers();
        if let Some(typed) = command.values.text(0).filter(|_| command.verb.name == "type-text") {
            let typed = typed.to_owned();
            self.offer_after(&typed);
        }
    }

    /// Whether what was typed goes on with the word, or with the path, before the caret.
    fn belongs_to_word(&self, typed: &str) -> bool {
        let is_path = self.offers().is_some_and(|shown| shown.about == About::Path);
        let language = self.language_here();
        let rule = language.word_rule();
        let is_part =
            |c: char| rule.class(c).is_word() || (is_path && !c.is_whitespace() && !matches!(c, '"' | '\'' | '/'));
        let mut letters = typed.chars();
        letters.next().is_some_and(is_part) && letters.next().is_none()
    }

    /// Nothing is offered any more.
    pub(crate) fn drop_offers(&mut self) {
        let offering = &mut self.past.offering;
        (offering.shown, offering.asked, offering.queued) = (None, None, None);
    }

    /// Puts the offers away until the next word; false where there are none.
    pub fn put_offers_away(&mut self) -> bool {
        if self.past.offering.shown.is_none() {
            return false;
        }
        let letters = asking::Around::of(self.active(), self.view()).letters;
        self.past.offering.put_away = Some((self.active().id, letters.start));
        self.drop_offers();
        true
    }

    /// The number of the question that is open: a source answers it by that. None where nothing is asked.
    #[must_use]
    pub fn open_question(&self) -> Option<u64> {
        Some(self.past.offering.asked.as_ref()?.number)
    }

    /// Takes in what a source offers; an answer to a question before is stale. Cost: linear in what is shown.
    pub fn take_answer(&mut self, answer: Answer) {
        let offering = &mut self.past.offering;
        let Some(asked) = offering.asked.as_mut().filter(|asked| asked.number == answer.number) else { return };
        let is_first = answer.turn == Turn::First;
        if asked.is_pending && !is_first {
            asked.early.extend(answer.candidates.iter().cloned());
        }
        asked.is_pending &= !is_first;
        let early = if is_first { std::mem::take(&mut asked.early) } else { Vec::new() };
        let shown = offering.shown.take();
        let is_chosen = asked.called == Called::Chosen;
        let (list, chosen) = match shown {
            Some(shown) if !is_first || is_chosen => {
                let list = joined(shown.list, answer.candidates, &asked.letters, shown.chosen);
                (list, shown.chosen)
            }
            _ => (joined(answer.candidates, early, &asked.letters, 0), 0),
        };
        if list.is_empty() {
            if asked.called == Called::ByKey && !asked.is_pending {
                self.say("nothing is known that could be put here");
            }
            return;
        }
        let (called, about, letters) = (asked.called, asked.about, asked.letters.clone());
        let list: Vec<Candidate> = list.into_iter().take(MOST_ROWS).collect();
        offering.shown = Some(Offers { chosen: chosen.min(list.len() - 1), list, called, about, letters });
        self.ask_for_rest();
    }

    /// Waits until the sources have answered: for scripts and tests, which act as a person does after seeing the offers.
    pub fn settle_offers(&mut self) {
        self.ask_queued();
        let mut others = Vec::new();
        while self.awaits_offers() {
            let Some(event) = self.tasks.receive(waits::FOR_SCRIPTS) else { break };
            others.extend(self.take(event));
            self.ask_queued();
        }
        self.tasks.put_back(others);
    }

    /// Chooses the next row or the one before.
    pub fn choose_offer(&mut self, direction: Direction) {
        let Some(Offers { chosen, list, .. }) = self.offers() else { return };
        self.choose_offer_at(match direction {
            Direction::Forward => (chosen + 1) % list.len(),
            Direction::Back => (chosen + list.len() - 1) % list.len(),
        });
    }

    /// Chooses the row at `index`.
    pub fn choose_offer_at(&mut self, index: usize) {
        if let Some(shown) = self.past.offering.shown.as_mut().filter(|shown| index < shown.list.len()) {
            shown.chosen = index;
            shown.called = Called::Chosen;
            self.past.offering.asked.iter_mut().for_each(|asked| asked.called = Called::Chosen);
            self.ask_for_rest();
        }
    }

    /// Goes to the next stop of the template that is being filled in, or to the one before; false where there is none.
    pub fn step_stop(&mut self, direction: Direction) -> bool {
        let (buffer, view) = self.active_pair_mut();
        let stepped = view.step_stop(buffer, direction);
        if stepped {
            self.drop_offers();
            self.offer_choice();
        }
        stepped
    }

    /// Whether the primary cursor is at the stop that the template being filled in is at.
    #[must_use]
    pub fn is_at_stop(&self) -> bool {
        let (buffer, view) = (self.active(), self.view());
        let primary = view.cursors().primary();
        let is_here = |place: &Span| place.start <= primary.start() && primary.end() <= place.end;
        view.stops().is_open() && view.stops().here(view.id, buffer).iter().any(is_here)
    }

    /// Offers the words of a choice, where the cursors are at one; false where they are not.
    fn offer_choice(&mut self) -> bool {
        let (buffer, view) = (self.active(), self.view());
        let Some(words) = view.stops().choice().filter(|_| self.project.offers != When::Off) else { return false };
        let head = view.cursors().primary().head;
        let is_at = |span: &&Span| span.start <= head && head <= span.end;
        let places = view.stops().here(view.id, buffer);
        let Some(place) = places.iter().find(is_at) else { return false };
        let text = buffer.text().slice(*place);
        let is_word = words.iter().any(|word| *word == text);
        let letters = if is_word { Letters::default() } else { Letters::of(&text) };
        let candidate = |(order, word): (usize, &String)| Candidate {
            order,
            kind: "choice",
            ..Candidate::of(Source::Template, word.clone(), Nearness::Elsewhere)
        };
        let list = ranked(words.iter().enumerate().map(candidate).collect(), &letters);
        let chosen = list.iter().position(|each| each.text == text).unwrap_or(0);
        let is_any = !list.is_empty();
        self.drop_offers();
        self.past.offering.shown =
            is_any.then_some(Offers { list, chosen, called: Called::ByTyping, about: About::Choice, letters });
        is_any
    }

    /// Offers the templates that can go around the lines.
    pub fn offer_around(&mut self) -> Effects {
        let language = self.language_here();
        let templates = self.templates_of(&language);
        let around = templates.iter().filter(|template| template.is_around).cloned();
        let candidate = |(order, template)| Candidate { order, ..Candidate::of_template(template) };
        let list: Vec<Candidate> = around.enumerate().map(candidate).collect();
        self.drop_offers();
        if list.is_empty() {
            let title = &language.title;
            let why = format!("no template of {title} goes around lines: docs/templates.md says how to write one");
            return Effects { is_refused: true, ..Effects::saying(why) };
        }
        let (called, letters) = (Called::ByKey, Letters::default());
        self.past.offering.shown = Some(Offers { list, chosen: 0, called, about: About::Around, letters });
        Effects::saying("around what? Tab takes the chosen one, Down chooses, Ctrl+K shows all of it")
    }
}
