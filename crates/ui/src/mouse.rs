//! The mouse: what it does becomes a command, like a key.

use snarvel_core::cursors::Selection;
use snarvel_core::text::place::Place;
use snarvel_core::units::Byte;
use snarvel_workspace::command::Command;
use snarvel_workspace::registry::arguments::Value;
use snarvel_workspace::registry::by_name;

/// How many lines the wheel turns by.
const WHEEL_LINES: i64 = 3;

/// What the mouse does.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Gesture {
    /// Presses, this many times in a row.
    Press(u8),
    /// Moves while pressed.
    Drag,
    /// Turns its wheel, up where negative.
    Wheel(i8),
}

/// What the mouse does, and where.
#[derive(Clone, Copy, Debug)]
pub struct Mouse {
    /// What.
    pub gesture: Gesture,
    /// The cell, column then row.
    pub cell: [u16; 2],
    /// Whether Alt is held.
    pub alt: bool,
    /// Whether Shift is held.
    pub shift: bool,
    /// Whether Ctrl is held.
    pub ctrl: bool,
}

impl Mouse {
    /// How many lines the wheel scrolls by, if that is what it does.
    #[must_use]
    pub fn wheel(&self) -> Option<i64> {
        if let Gesture::Wheel(turns) = self.gesture { Some(i64::from(turns) * WHEEL_LINES) } else { None }
    }

    /// Whether it presses.
    #[must_use]
    pub fn is_press(&self) -> bool {
        matches!(self.gesture, Gesture::Press(_))
    }

    /// Whether it presses once with Ctrl held: what is there is gone to.
    #[must_use]
    pub fn asks_for_definition(&self) -> bool {
        self.gesture == Gesture::Press(1) && self.ctrl
    }

    /// Whether it presses once, and no key is held.
    #[must_use]
    pub fn is_plain_click(&self) -> bool {
        self.gesture == Gesture::Press(1) && !self.alt && !self.shift && !self.ctrl
    }
}

/// Where the mouse was pressed.
#[derive(Clone, Copy, Debug, Default)]
pub struct MouseState {
    from: Option<Byte>,
}

impl MouseState {
    /// The text may be another one: a drag goes on from the primary cursor.
    pub fn forget(&mut self) {
        self.from = None;
    }

    /// The command for what the mouse does at a place of the text, where `primary` is the primary selection.
    pub fn command(&mut self, mouse: Mouse, at: Byte, primary: Selection) -> Command {
        let anchor = self.from.unwrap_or(primary.anchor);
        let (verb, places) = match (mouse.gesture, mouse.alt, mouse.shift) {
            (Gesture::Press(1), true, _) => ("cursor-at", vec![at]),
            (Gesture::Press(1), false, true) => ("select-to", vec![at]),
            (Gesture::Press(2), ..) => ("select-word-at", vec![at]),
            (Gesture::Press(3), ..) => ("select-line-at", vec![at]),
            (Gesture::Drag, true, _) => ("column-between", vec![anchor, at]),
            (Gesture::Drag, false, _) => ("select-between", vec![anchor, at]),
            _ => ("caret-at", vec![at]),
        };
        if mouse.is_press() {
            self.from = Some(if mouse.shift { primary.anchor } else { at });
        }
        let values = places.into_iter().map(|place| Value::Place(Place::Byte(place)));
        by_name(verb).map_or_else(|| Command::named(verb), |verb| Command::with(verb, values))
    }
}
