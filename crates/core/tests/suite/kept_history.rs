//! Histories that are kept: what is read again leads to all the same texts, and what does not fit is refused.

use proptest::prelude::*;
use snarvel_core::changes::{Change, ChangeBuilder};
use snarvel_core::cursors::CursorSet;
use snarvel_core::history::kept::Kept;
use snarvel_core::history::{Grouping, History, NewStep, StepId, Travel};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Span};
use std::sync::Arc;

/// A text and its history.
#[derive(Clone, Default)]
struct Edited {
    text: Text,
    history: History,
}

/// What is done to it.
#[derive(Clone, Debug)]
enum Act {
    Replace(usize, usize, String),
    Undo,
    Redo,
    Save,
}

fn act() -> impl Strategy<Value = Act> {
    prop_oneof![
        4 => (0..40_usize, 0..5_usize, "[a-cé潮\n]{0,4}").prop_map(|(at, length, with)| Act::Replace(at, length, with)),
        2 => Just(Act::Undo),
        1 => Just(Act::Redo),
        1 => Just(Act::Save),
    ]
}

impl Edited {
    fn of(text: &str) -> Edited {
        Edited { text: Text::from(text), history: History::default() }
    }

    fn travel(&mut self, travel: Option<Travel>) {
        travel.into_iter().flat_map(|travel| travel.changes).for_each(|change| self.text.apply(&change));
    }

    fn act(&mut self, act: &Act, now_ms: u64) {
        match act {
            Act::Replace(at, length, with) => {
                let place = |at: usize| self.text.snap_back(Byte(at.min(self.text.len())));
                let span = Span::new(place(*at), place(at + length));
                let mut builder = ChangeBuilder::new(&self.text);
                builder.replace(span, with);
                let change = Arc::new(builder.finish());
                if change.is_empty() {
                    return;
                }
                let before = Arc::new(CursorSet::caret(span.start));
                self.text.apply(&change);
                let after = Arc::new(CursorSet::caret(span.start + with.len()));
                let step = NewStep {
                    verb: "type-text",
                    group: None,
                    changes: vec![change],
                    before,
                    after,
                    grouping: Grouping::Alone,
                    amount: None,
                };
                self.history.record(step, now_ms);
            }
            Act::Undo => {
                let travel = self.history.undo();
                self.travel(travel);
            }
            Act::Redo => {
                let travel = self.history.redo();
                self.travel(travel);
            }
            Act::Save => self.save(now_ms),
        }
    }

    fn save(&mut self, at: u64) {
        self.history.begin_save();
        self.history.finish_save();
        self.history.note_save(hash(&self.text), at.cast_signed());
    }

    /// The text at each state, the start first.
    fn texts(&self) -> Vec<String> {
        let ids: Vec<StepId> = self.history.steps().map(|(id, _)| id).collect();
        [StepId::START].into_iter().chain(ids).map(|id| self.text_at(id)).collect()
    }

    fn text_at(&self, id: StepId) -> String {
        let mut copy = self.clone();
        let travel = copy.history.go_to(id);
        copy.travel(travel);
        copy.text.to_string()
    }
}

fn hash(text: &Text) -> u128 {
    text.to_string().bytes().fold(7, |hash, byte| hash * 31 % 1_000_003 + u128::from(byte))
}

fn between(one: &Text, other: &Text) -> Change {
    let mut builder = ChangeBuilder::new(one);
    builder.replace(one.span(), &other.to_string());
    builder.finish()
}

/// The history as it is after a restart, when the file holds `now`.
fn again(kept: Kept, last: &str, now: &str) -> Edited {
    let (last, text) = (Text::from(last), Text::from(now));
    let fitting = kept.fitting((&last, &text, hash(&text)), between, |_| "edit", (5, 1_000)).unwrap();
    let mut edited = Edited { text, history: History::default() };
    edited.history.precede(fitting);
    edited.history.assert_invariants();
    edited
}

proptest! {
    #[test]
    fn every_state_is_there_again(
        first in "[a-c\n]{0,20}",
        acts in prop::collection::vec(act(), 1..40),
        later in prop::collection::vec(act(), 0..10),
        outside in prop::option::of("[a-c\n]{0,10}"),
    ) {
        let mut edited = Edited::of(&first);
        acts.iter().enumerate().for_each(|(at, act)| edited.act(act, at as u64));
        edited.save(99);
        let saved = edited.text.to_string();
        let kept = edited.history.kept((100, 2_000)).unwrap();
        let now = outside.clone().unwrap_or_else(|| saved.clone());
        let mut restarted = again(kept, &saved, &now);
        let states = edited.texts();
        prop_assert_eq!(&restarted.texts()[..states.len()], &states[..]);
        prop_assert_eq!(restarted.history.saves().count(), edited.history.saves().count());
        // What came between is one step, which is taken back like any other.
        if now != saved {
            prop_assert_eq!(restarted.history.steps().len(), states.len());
            let travel = restarted.history.undo();
            restarted.travel(travel);
            prop_assert_eq!(restarted.text.to_string(), saved.clone());
            let travel = restarted.history.redo();
            restarted.travel(travel);
        }
        prop_assert_eq!(restarted.text.to_string(), now.clone());
        // What is done before it is found comes after it.
        let mut early = Edited::of(&now);
        later.iter().enumerate().for_each(|(at, act)| early.act(act, at as u64));
        let (text, own) = (early.text.to_string(), early.texts());
        let kept = edited.history.kept((100, 2_000)).unwrap();
        let (last, opened) = (Text::from(saved.as_str()), Text::from(now.as_str()));
        let fitting = kept.fitting((&last, &opened, hash(&opened)), between, |_| "edit", (5, 1_000)).unwrap();
        early.history.precede(fitting);
        early.history.assert_invariants();
        prop_assert_eq!(early.text.to_string(), text);
        let all = early.texts();
        prop_assert_eq!(&all[all.len() - (own.len() - 1)..], &own[1..]);
        while early.history.can_undo() {
            let travel = early.history.undo();
            early.travel(travel);
        }
        prop_assert_eq!(early.text.to_string(), first);
    }

    #[test]
    fn less_room_keeps_the_newest(first in "[a-c\n]{0,20}", acts in prop::collection::vec(act(), 1..40), room in 0_usize..2_000) {
        let mut edited = Edited::of(&first);
        acts.iter().enumerate().for_each(|(at, act)| edited.act(act, at as u64));
        edited.save(99);
        let saved = edited.text.to_string();
        let kept = edited.history.kept((100, 2_000)).unwrap().within(room);
        let restarted = again(kept, &saved, &saved);
        let states = edited.texts();
        prop_assert!(restarted.texts().iter().all(|text| states.contains(text)));
        prop_assert_eq!(restarted.text.to_string(), saved);
    }

    #[test]
    fn what_does_not_fit_is_refused(first in "[a-c]{1,20}", acts in prop::collection::vec(act(), 1..20), at in 0_usize..4_000, byte in any::<u8>()) {
        let mut edited = Edited::of(&first);
        acts.iter().enumerate().for_each(|(at, act)| edited.act(act, at as u64));
        edited.save(99);
        let saved = edited.text.to_string();
        let kept = edited.history.kept((100, 2_000)).unwrap();
        let mut written = serde_json::to_string(&kept).unwrap().into_bytes();
        let at = at % written.len();
        written[at] = byte;
        let Ok(damaged) = serde_json::from_slice::<Kept>(&written) else { return Ok(()) };
        let (last, text) = (Text::from(saved.as_str()), Text::from(saved.as_str()));
        if let Ok(fitting) = damaged.fitting((&last, &text, hash(&text)), between, |_| "edit", (5, 1_000)) {
            let mut edited = Edited { text, history: History::default() };
            edited.history.precede(fitting);
            edited.texts();
        }
    }
}

#[test]
fn a_save_that_the_file_has_again_is_one_step_away() {
    let mut edited = Edited::of("ebb\n");
    let type_in = |text: &str| Act::Replace(0, 0, text.to_owned());
    edited.act(&type_in("a"), 0);
    edited.act(&Act::Save, 1);
    edited.act(&type_in("b"), 2);
    edited.act(&type_in("c"), 3);
    edited.act(&Act::Save, 4);
    let kept = edited.history.kept((10, 1_000)).unwrap();
    let mut restarted = again(kept, "cbaebb\n", "aebb\n");
    let (_, last) = restarted.history.steps().last().unwrap();
    assert_eq!((last.verb(), last.extent().removed, last.at_ms()), ("edit", 2, 5));
    let travel = restarted.history.undo();
    restarted.travel(travel);
    assert_eq!(restarted.text.to_string(), "cbaebb\n");
    // Times go on by the clock of the day.
    let (_, first) = restarted.history.steps().next().unwrap();
    assert_eq!(first.at_ms(), 5 - 10);
}
