//! What taking the chosen offer would do at the cursors: it is seen before it is done.

use super::taking::{fits, letters_of, reach_of};
use crate::state::meaning::Given;
use crate::state::offering::About;
use crate::workspace::Workspace;
use snarvel_core::templates::variables::value_of;
use snarvel_core::templates::{Body, Setting, Template};
use snarvel_core::units::{Byte, Span};
use snarvel_core::verbs::text::putting::tail_of;

/// What would come at a cursor.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Seen {
    /// Where it would be.
    pub at: Byte,
    /// The letters that would go.
    pub gone: Span,
    /// What would come after them: its first line.
    pub come: String,
}

impl Workspace {
    /// What is seen in the text at the primary caret, before it is taken.
    #[must_use]
    pub fn offer_in_text(&self) -> Option<Seen> {
        let head = self.view().cursors().primary().head;
        let is_word = self.offers().is_some_and(|shown| matches!(shown.about, About::Word | About::Path));
        self.offer_seen(Span::at(head)).into_iter().find(|seen| is_word && seen.at == head)
    }

    /// What would come at the cursors of the view with the keys that are within `span`, in order. Cost: linear in those cursors and
    /// the letters before each.
    #[must_use]
    pub fn offer_seen(&self, span: Span) -> Vec<Seen> {
        let Some(shown) = self.offers().filter(|shown| shown.about != About::Around) else { return Vec::new() };
        let Some(candidate) = shown.chosen() else { return Vec::new() };
        let (buffer, view) = (self.active(), self.view());
        let text = match (&candidate.template, self.given(candidate)) {
            (_, Some(Given::Fix(offered))) => return self.fix_seen(&offered.fix, span),
            (_, Some(Given::Offer { offer, .. })) => first_of(&self.body_text(&Workspace::body_of_offer(offer))),
            (Some(template), _) => first_of(&self.template_text(template)),
            (None, _) => candidate.text.clone(),
        };
        let list = view.cursors().list();
        let first = list.partition_point(|each| each.end() < span.start);
        let in_view = list[first..].iter().take_while(|each| each.start() <= span.end);
        let around = match self.given(candidate) {
            Some(Given::Offer { around, .. }) => *around,
            _ => [0, 0],
        };
        if shown.about == About::Choice {
            let is_other = |gone: Span| *buffer.text().slice(gone) != text;
            let places = view.stops().here(view.id, buffer).into_iter();
            let seen = places.filter(|place| span.start <= place.end && place.start <= span.end && is_other(*place));
            return seen.map(|gone| Seen { at: gone.end, gone, come: text.clone() }).collect();
        }
        view.with_scene(buffer, |scene| {
            let seen = |at: Byte| {
                let letters = reach_of(letters_of(shown.about, scene, at), around, scene.text.end());
                let typed = scene.text.slice(letters);
                let fits = typed.is_empty() || fits(candidate, &typed, around);
                // Only what goes on with what was typed, letter by letter, reads as one word with it.
                let goes_on = text.strip_prefix(&*typed).filter(|_| fits)?;
                let come = goes_on.strip_suffix(&*tail_of(scene, letters.end, &text)).unwrap_or(goes_on);
                (!come.is_empty()).then(|| Seen { at, gone: Span::at(at), come: come.to_owned() })
            };
            in_view.filter(|each| each.is_caret()).filter_map(|each| seen(each.head)).collect()
        })
    }

    /// The text of a template as it would be at the primary caret.
    #[must_use]
    pub fn template_text(&self, template: &Template) -> String {
        self.body_text(&template.body)
    }

    fn body_text(&self, body: &Body) -> String {
        let (buffer, view) = (self.active(), self.view());
        let facts = self.facts();
        let at = view.cursors().primary().head;
        let variable = |name: &str| value_of(name, (&facts, None), (buffer.text(), at), buffer.language().word_rule());
        let settings = view.settings(buffer);
        let setting = Setting {
            indentation: "",
            unit: settings.unit,
            line_end: snarvel_core::text::LineEnd::Lf,
            at_last_stop: None,
            variable: &variable,
        };
        body.fill(&setting).text
    }
}

/// The first line of a text, and that more comes after it.
fn first_of(text: &str) -> String {
    let mut lines = text.lines();
    let first = lines.next().unwrap_or_default().to_owned();
    if lines.next().is_some() { first + " …" } else { first }
}
