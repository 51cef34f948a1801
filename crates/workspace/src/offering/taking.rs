//! Puts in what was chosen, at every cursor, as one step.

use super::asking::LONGEST_PATH;
use crate::editing::{EditCall, Effects};
use crate::recipes::recording::Moment;
use crate::state::meaning::{Given, OfferPut};
use crate::state::offering::{About, Offers};
use crate::today::today;
use crate::workspace::{StructureWait, Workspace};
use snarvel_core::cursors::CursorSet;
use snarvel_core::languages::Language;
use snarvel_core::languages::lexical::Syntax;
use snarvel_core::offers::Candidate;
use snarvel_core::offers::matching::Letters;
use snarvel_core::offers::paths::typed_path;
use snarvel_core::templates::variables::Facts;
use snarvel_core::templates::{Body, Template};
use snarvel_core::units::{Byte, Direction, Span};
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_core::verbs::scene::{Outcome, Scene};
use snarvel_core::verbs::text::putting::{self, Put, letters_before};
use snarvel_core::verbs::text::typing;
use std::sync::Arc;

impl Workspace {
    /// Puts in the offer of a row, at every cursor; none where there is no such row.
    pub fn take_offer(&mut self, index: usize) -> Option<Effects> {
        let shown = self.past.offering.shown.take()?;
        let Some(candidate) = shown.list.get(index).cloned() else {
            self.past.offering.shown = Some(shown);
            return None;
        };
        self.drop_offers();
        let before = self.moment();
        let fix = match self.given(&candidate) {
            Some(Given::Fix(offered)) => Some((**offered).clone()),
            _ => None,
        };
        if let Some(fix) = fix {
            return Some(self.put_fix(&fix));
        }
        let effects = match shown.about {
            About::Fixes => Effects::default(),
            About::Choice => self.put_choice(&candidate),
            About::Around => self.put_around(&candidate),
            About::Word | About::Path => self.put_offer(&shown, &candidate),
        };
        self.note_offer(&shown, &candidate, before);
        if shown.about == About::Choice {
            self.step_stop(Direction::Forward);
        } else {
            self.offer_choice();
        }
        Some(effects)
    }

    /// Puts in the offers of several rows, one after the other: templates, methods and the like each on a line of its own.
    pub fn take_offers(&mut self, rows: &[usize]) -> Option<Effects> {
        let [first, others @ ..] = rows else { return None };
        let shown = self.offers()?;
        if shown.about == About::Around || shown.about == About::Choice || others.is_empty() {
            return self.take_offer(*first);
        }
        let chosen: Vec<Candidate> = rows.iter().filter_map(|row| shown.list.get(*row)).cloned().collect();
        let are_members = chosen.iter().all(|each| each.template.is_some() || is_member(each.kind));
        let between = if are_members { "\n" } else { " " };
        let body = Body::joined(chosen.iter().map(body_of), between);
        let shown = self.past.offering.shown.take()?;
        self.drop_offers();
        let before = self.moment();
        let facts = self.facts();
        let letters = shown.letters.clone();
        let fits = |typed: &str| typed == letters.as_str();
        let effects = self.put("offers", &|scene| {
            putting::put(scene, &Put { body: &body, letters: &word_before, fits: &fits, facts: &facts })
        });
        self.note_other_step("several offers were taken", before);
        Some(effects)
    }

    fn put_offer(&mut self, shown: &Offers, candidate: &Candidate) -> Effects {
        let facts = self.facts();
        let (body, around) = match self.given(candidate) {
            Some(Given::Offer { offer, around, .. }) => (Workspace::body_of_offer(offer), *around),
            _ => (body_of(candidate), [0, 0]),
        };
        let extra = self.extra_of(candidate);
        let late = candidate.ticket.filter(|_| self.rest_is_late(candidate));
        let before = self.active().revision();
        let letters = |scene: &Scene, at: Byte| reach_of(letters_of(shown.about, scene, at), around, scene.text.end());
        let fits = |typed: &str| fits(candidate, typed, around);
        let effects = self.put("offers", &|scene| {
            let outcome = putting::put(scene, &Put { body: &body, letters: &letters, fits: &fits, facts: &facts });
            putting::with_edits(scene, outcome, &extra)
        });
        if let Some(ticket) = late {
            let buffer = self.active();
            let of = OfferPut { buffer: buffer.id, before, step: buffer.history().here() };
            self.ask_late(ticket, of);
        }
        effects
    }

    /// Puts a word in at every place of the stop that the cursors are at.
    fn put_choice(&mut self, candidate: &Candidate) -> Effects {
        let (buffer, view) = self.active_pair_mut();
        let places = view.stops().here(view.id, buffer);
        let primary = view.cursors().primary().head;
        let first = places.iter().position(|place| place.start <= primary && primary <= place.end).unwrap_or(0);
        let cursors = CursorSet::of(putting::selected(&places), first);
        view.set_cursors(buffer, cursors);
        let text = candidate.text.clone();
        self.put("offers", &|scene| typing::put_in_place(scene, std::slice::from_ref(&text)))
    }

    fn put_around(&mut self, candidate: &Candidate) -> Effects {
        match candidate.template.clone() {
            Some(template) => self.surround_by(&template),
            None => Effects::default(),
        }
    }

    /// Puts the template called `name` around the lines that the cursors touch.
    pub fn surround_with(&mut self, name: &str) -> Effects {
        let language = self.language_here();
        let templates = self.templates_of(&language);
        if name.starts_with('<') {
            return self.surround_with_tag(name, &language);
        }
        let named = |template: &&Arc<Template>| template.name == name;
        let by_word = |template: &&Arc<Template>| template.words.iter().any(|word| word == name);
        let around = || templates.iter().filter(|template| template.is_around);
        match around().find(named).or_else(|| around().find(by_word)).cloned() {
            Some(template) => {
                let before = self.moment();
                let effects = self.surround_by(&template);
                self.note_other_step("a template was put around lines", before);
                effects
            }
            None => {
                let names: Vec<&str> = around().map(|template| template.name.as_str()).collect();
                let why = match names.is_empty() {
                    true => format!("no template of {} goes around lines", language.title),
                    false => format!("no template {name:?} goes around lines: {} do", names.join(", ")),
                };
                Effects { is_refused: true, ..Effects::saying(why) }
            }
        }
    }

    /// Puts an element around the lines: `tag` is its opening tag, with attributes or not.
    fn surround_with_tag(&mut self, tag: &str, language: &Language) -> Effects {
        let inner = tag.trim_start_matches('<').trim_end().trim_end_matches(['>', '/']).trim_end();
        let name: String = inner.chars().take_while(|c| !c.is_whitespace()).collect();
        let has_tags = language.has_tags();
        if name.is_empty() || !has_tags {
            let why = format!("no element goes around lines of {}: its name is <{name}>", language.title);
            return Effects { is_refused: true, ..Effects::saying(why) };
        }
        let escaped = inner.replace('\\', "\\\\").replace('$', "\\$").replace('}', "\\}");
        let name = name.replace('$', "\\$");
        let body = format!("<{escaped}>\n\t${{TM_SELECTED_TEXT:$0}}\n</{name}>");
        match snarvel_core::templates::parse::parse(&body) {
            Ok(body) => {
                let before = self.moment();
                let facts = self.facts();
                let effects = self.put("surround-with", &|scene| putting::surround_lines(scene, (&body, &facts)));
                self.drop_offers();
                self.note_other_step("an element was put around lines", before);
                effects
            }
            Err(why) => Effects { is_refused: true, ..Effects::saying(format!("{tag}: {}", why.why)) },
        }
    }

    fn surround_by(&mut self, template: &Template) -> Effects {
        let facts = self.facts();
        let effects = self.put("surround-with", &|scene| putting::surround_lines(scene, (&template.body, &facts)));
        self.drop_offers();
        self.offer_choice();
        effects
    }

    fn put(&mut self, name: &'static str, function: &dyn Fn(&Scene) -> Outcome) -> Effects {
        let clip = Clip::default();
        let call = EditCall::once(name, function, (&clip, self.now_ms));
        let watched = self.watch();
        let effects = self.run_edit(&call, StructureWait::None);
        self.note_by_hand(watched);
        effects
    }

    /// What templates are told beside the text.
    pub(super) fn facts(&self) -> Facts {
        let path = self.active().path().map(|path| path.to_string_lossy().into_owned());
        Facts { path, today: today() }
    }

    /// The language at the primary caret.
    pub(crate) fn language_here(&self) -> Arc<Language> {
        let (buffer, view) = (self.active(), self.view());
        buffer.parsing.kinds(buffer.text()).language_at(view.cursors().primary().head)
    }

    /// Notes for a recording what was put in: letters that were taken back, and the text. A template is no text that could be typed.
    fn note_offer(&mut self, shown: &Offers, candidate: &Candidate, before: Moment) {
        let is_text = candidate.template.is_none() && matches!(shown.about, About::Word | About::Path);
        let letters = shown.letters.as_str();
        match is_text {
            true => self.note_replaced(letters.chars().count(), &candidate.text, before),
            false => self.note_other_step("a template was put in", before),
        }
    }
}

/// The letters before a caret that an offer takes the place of.
pub(super) fn letters_of(about: About, scene: &Scene, at: Byte) -> Span {
    if about == About::Path { name_before(scene, at) } else { word_before(scene, at) }
}

/// The letters with what a server's offer takes the place of beside them: so many bytes before, so many after the caret.
pub(super) fn reach_of(letters: Span, [before, after]: [usize; 2], end: Byte) -> Span {
    Span::new(Byte(letters.start.0.saturating_sub(before)), (letters.end + after).min(end))
}

/// Whether an offer fits what is before and after a caret, of which so many bytes are no letters.
pub(super) fn fits(candidate: &Candidate, typed: &str, [before, after]: [usize; 2]) -> bool {
    let to = typed.len().saturating_sub(after);
    let Some(letters) = typed.get(before.min(to)..to) else { return false };
    candidate.fits(&Letters::of(letters)).is_some()
}

/// The letters of the word before a caret.
fn word_before(scene: &Scene, at: Byte) -> Span {
    letters_before(scene.text, at, scene.language_at(at).word_rule())
}

/// What was typed of the name of a file before a caret.
fn name_before(scene: &Scene, at: Byte) -> Span {
    let line = scene.text.line_start(scene.text.line_of(at));
    let start = scene.text.snap_back(line.max(Byte(at.0.saturating_sub(LONGEST_PATH))));
    let before = scene.text.slice(Span::new(start, at));
    let length = typed_path(&before).map_or(0, |path| path.name.len());
    Span::new(at - length, at)
}

/// What is put in for an offer.
fn body_of(candidate: &Candidate) -> Body {
    candidate.template.as_ref().map_or_else(|| Body::plain(&candidate.text), |template| template.body.clone())
}

fn is_member(kind: &str) -> bool {
    matches!(kind, "method" | "property" | "field" | "function" | "constructor")
}
