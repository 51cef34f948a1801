//! Pins: places set aside, which become cursors when wanted. They move with the text; what is typed at their
//! edge stays outside.

use crate::cursors::{CursorSet, Selection};
use crate::units::Direction;
use crate::verbs::scene::{Outcome, PinsAfter, Scene, counted};

/// Pins every selection, or takes the pin away where one is already.
pub fn pin(scene: &Scene) -> Outcome {
    let old: Vec<Selection> = (scene.remembered.pins)().iter().flat_map(CursorSet::iter).collect();
    let same = |a: Selection, b: Selection| a.span() == b.span();
    let cursors = scene.cursors.list();
    let kept = old.iter().copied().filter(|pin| !cursors.iter().any(|each| same(*each, *pin)));
    let added = cursors.iter().copied().filter(|each| !old.iter().any(|pin| same(*each, *pin)));
    let list: Vec<Selection> = kept.chain(added.map(Selection::unwanting)).collect();
    let pins = if list.is_empty() { None } else { Some(CursorSet::of(list, 0)) };
    let message = match pins.as_ref().map_or(0, CursorSet::len) {
        0 => "no pins left".to_owned(),
        count => counted(count, "pin"),
    };
    Outcome { pins: Some(PinsAfter::Are(pins)), ..Outcome::already(message) }
}

/// The pins become the cursors, and text is typed next.
pub fn take(scene: &Scene) -> Outcome {
    match (scene.remembered.pins)() {
        None => Outcome::default().then_typing(),
        Some(pins) => {
            let set = pins.leading(pins.len() - 1);
            let message = format!("{} became cursors", counted(set.len(), "pin"));
            Outcome { pins: Some(PinsAfter::Are(None)), ..Outcome::cursors(set).saying(message).then_typing() }
        }
    }
}

/// The pins are added to the cursors.
pub fn add(scene: &Scene) -> Outcome {
    let Some(pins) = (scene.remembered.pins)() else { return no_pins() };
    let set = scene.cursors.with(pins.list());
    // A selection that a pin has become a part of runs as that one does: it was added last.
    let set = set.map(|each| {
        let inside = pins.list().partition_point(|pin| pin.end() <= each.end());
        let pin = pins.list()[..inside].last().filter(|pin| !pin.is_caret() && pin.start() >= each.start());
        pin.map_or(each, |pin| Selection::over(each.span(), pin.direction()))
    });
    let message = counted(set.len(), "cursor");
    Outcome::cursors(set).saying(message)
}

/// Whether the cursors that the pins cover are dropped, or are the only ones kept.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Covered {
    /// They go.
    Dropped,
    /// Only they stay.
    Kept,
}

/// Drops the cursors that the pins cover, or all others.
pub fn thin(scene: &Scene, covered: Covered) -> Outcome {
    let Some(pins) = (scene.remembered.pins)() else { return no_pins() };
    let is_covered = |each: Selection| {
        let near = pins.list().partition_point(|pin| pin.end() < each.end());
        pins.list()[near..].iter().take(2).any(|pin| pin.start() <= each.start() && each.end() <= pin.end())
    };
    match scene.cursors.retaining(|_, each| is_covered(each) == (covered == Covered::Kept)) {
        None => Outcome::nothing("no cursor would be left"),
        Some(set) if set.len() == scene.cursors.len() => Outcome::already("every cursor stays"),
        Some(set) => {
            let message = format!("{} left", counted(set.len(), "cursor"));
            Outcome::cursors(set).saying(message)
        }
    }
}

/// Drops all pins. The same key as for dropped cursors recalls them.
pub fn clear(scene: &Scene) -> Outcome {
    let Some(pins) = (scene.remembered.pins)() else { return no_pins() };
    let message = format!("dropped {}", counted(pins.len(), "pin"));
    Outcome { pins: Some(PinsAfter::Dropped), ..Outcome::already(message) }
}

/// Moves to the next or the previous pin, around the file: the only cursor is at it, or selects what it covers.
pub fn go(scene: &Scene, direction: Direction) -> Outcome {
    let Some(pins) = (scene.remembered.pins)() else { return no_pins() };
    let here = scene.cursors.primary().span();
    let spans: Vec<_> = pins.iter().map(Selection::span).collect();
    let index = match direction {
        Direction::Forward => spans.iter().position(|pin| *pin > here).unwrap_or(0),
        Direction::Back => spans.iter().rposition(|pin| *pin < here).unwrap_or(spans.len() - 1),
    };
    let pin = pins.list()[index].unwanting();
    Outcome::cursors(CursorSet::one(pin)).saying(format!("pin {} of {}", index + 1, spans.len()))
}

fn no_pins() -> Outcome {
    Outcome::nothing("there are no pins: Space in Shape sets them")
}
