//! What a panel is: a state, what a key does to it, how it is drawn, what it shows on the text. None knows the application.

use crate::context::Context;
use crate::keys::Key;
use crate::panels::painter::Painter;
use crate::screen::marks::TextMarks;
use ratatui::buffer::Buffer as Grid;
use snarvel_core::units::Span;
use snarvel_workspace::command::Command;
use snarvel_workspace::event::Event;
use snarvel_workspace::notice::Notice;
use std::any::Any;
use std::fmt::Debug;

/// What becomes of a panel after it took something in.
#[derive(Debug)]
pub enum PanelAction {
    /// It stays open.
    Stay,
    /// It closes.
    Close,
    /// It closes, then this command runs.
    Run(Command),
    /// It closes, then the key does what it would have done without it.
    PassOn(Key),
}

/// Whether a panel shows a text beside its list.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum TextBeside {
    /// It does not.
    None,
    /// It does, where there is room for both.
    Beside,
    /// Keys go to that text: it is there whether there is room for both or not.
    Inside,
}

/// Where a panel is on the screen.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Dock {
    /// It rises from below.
    Below,
    /// It is beside the text, at the right.
    Right,
}

/// A panel.
pub trait Panel: Debug + Any {
    /// How many rows it would like, its line of keys included.
    fn rows(&self, context: &Context) -> u16;

    /// Where it is.
    fn dock(&self) -> Dock {
        Dock::Below
    }

    /// It has just been opened: what there is to begin is begun.
    fn begin(&mut self, _context: &mut Context) {}

    /// Takes a key.
    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction;

    /// Takes a line of pasted text.
    fn paste(&mut self, _typed: &str, _context: &mut Context) -> PanelAction {
        PanelAction::Stay
    }

    /// Takes in something that has happened in the background.
    fn take(&mut self, _event: Event, _context: &mut Context) -> PanelAction {
        PanelAction::Stay
    }

    /// Takes in what has happened to the workspace; gives back what it has no use for.
    fn notice(&mut self, notice: Notice, _context: &mut Context) -> (Option<Notice>, PanelAction) {
        (Some(notice), PanelAction::Stay)
    }

    /// Brings into view what it shows; the room for it is in the context.
    fn settle(&mut self, _context: &mut Context) {}

    /// Whether it shows a text beside its list.
    fn text_beside(&self) -> TextBeside {
        TextBeside::None
    }

    /// What it shows on the text that is in `span`.
    fn marks(&self, _context: &Context, _span: Span) -> TextMarks {
        TextMarks::default()
    }

    /// What the overview ruler shows of it, in order.
    fn ruler(&self) -> &[Span] {
        &[]
    }

    /// Draws it.
    fn draw(&self, painter: &Painter, grid: &mut Grid);
}

/// How many rows a panel with a list takes.
#[must_use]
pub fn list_rows(context: &Context) -> u16 {
    (context.look.size.rows / 3).max(8)
}
