//! What a panel is: a state, what a key does to it, how it is drawn, what it shows on the text. None knows the application.

use crate::context::Context;
use crate::keys::Key;
use crate::mouse::Mouse;
use crate::panels::painter::Painter;
use crate::screen::marks::TextMarks;
use crossterm::event::KeyCode;
use ratatui::buffer::Buffer as Grid;
use snarvel_core::changes::feed::Since;
use snarvel_core::changes::{Bias, Mapper};
use snarvel_core::units::Span;
use snarvel_workspace::command::Command;
use snarvel_workspace::event::Event;
use snarvel_workspace::ids::BufferId;
use snarvel_workspace::notice::Notice;
use snarvel_workspace::workspace::Workspace;
use std::any::Any;
use std::fmt::Debug;

/// What becomes of a panel after it took something in.
#[derive(Debug)]
pub enum PanelAction {
    /// It stays open.
    Stay,
    /// It closes.
    Close,
    /// It closes, and this takes the keys that follow, as long as it has a use for them.
    CloseThen(Box<dyn NextKeys>),
    /// It closes, then this command runs.
    Run(Command),
    /// It closes, and this one is opened.
    Open(Box<dyn Panel>),
    /// It closes, then the key does what it would have done without it.
    PassOn(Key),
}

/// What became of a key that something was waiting for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum NextKey {
    /// It was used, and further keys are waited for.
    Taken,
    /// It was used, and nothing is waited for any more.
    TakenAsLast,
    /// It does what it always does, and further keys are waited for.
    Left,
    /// It does what it always does, and nothing is waited for any more.
    LeftAsLast,
}

/// What takes the keys that follow, after a panel has closed or while a name is typed.
pub trait NextKeys: Debug {
    /// Takes a key.
    fn press(&mut self, key: Key, context: &mut Context) -> NextKey;

    /// Takes in what has changed: called after each key and each event.
    fn settle(&mut self, _context: &mut Context) {}
}

/// Time after a panel has closed by itself in which Enter is still meant for it, in milliseconds.
const MEANT_FOR_PANEL_MS: u64 = 500;

/// Swallows the Enter that ends what was typed into a panel, where the panel took one character and has closed by itself.
#[derive(Debug)]
pub struct SwallowedEnter {
    until_ms: u64,
}

impl SwallowedEnter {
    /// For a panel that closes now.
    #[must_use]
    pub fn now(context: &Context) -> SwallowedEnter {
        SwallowedEnter { until_ms: context.workspace.now_ms + MEANT_FOR_PANEL_MS }
    }
}

impl NextKeys for SwallowedEnter {
    fn press(&mut self, key: Key, context: &mut Context) -> NextKey {
        // Only the first one.
        match key.code == KeyCode::Enter && context.workspace.now_ms < self.until_ms {
            true => NextKey::TakenAsLast,
            false => NextKey::LeftAsLast,
        }
    }
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

/// The text that a panel has read its places from, as of one revision.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct SeenText {
    buffer: BufferId,
    revision: u64,
}

impl SeenText {
    /// The active text as it is now.
    #[must_use]
    pub fn active(workspace: &Workspace) -> SeenText {
        let buffer = workspace.active();
        SeenText { buffer: buffer.id, revision: buffer.revision() }
    }

    /// Whether the active text is still this one, unchanged.
    #[must_use]
    pub fn is_active(self, workspace: &Workspace) -> bool {
        self == SeenText::active(workspace)
    }

    /// Moves places of this text to where they are in the text of now; none where that cannot be told.
    #[must_use]
    pub fn moved(self, places: &[Span], workspace: &Workspace) -> Option<Vec<Span>> {
        let buffer = workspace.buffer(self.buffer)?;
        let Since::Changes(entries) = buffer.feed().since(self.revision) else { return None };
        let mut places = places.to_vec();
        for entry in entries {
            let mut mapper = Mapper::new(&entry.change);
            for place in &mut places {
                let start = mapper.map(place.start, Bias::Before);
                *place = Span::new(start, mapper.map(place.end, Bias::After).max(start));
            }
        }
        Some(places)
    }
}

/// A panel.
pub trait Panel: Debug + Any {
    /// How many rows it would like, its line of keys included.
    fn rows(&self, context: &Context) -> u16;

    /// Where it is.
    fn dock(&self) -> Dock {
        Dock::Below
    }

    /// Whether it is about drills: its keys are none of a drill's.
    fn is_of_drill(&self) -> bool {
        false
    }

    /// It has just been opened: what there is to begin is begun.
    fn begin(&mut self, _context: &mut Context) {}

    /// A text may have changed since the panel was asked last: what it remembers of it follows, or is dropped. Called before
    /// anything else is asked of it and before it is drawn.
    fn follow(&mut self, _context: &mut Context) {}

    /// Takes a key.
    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction;

    /// Whether what is pasted may be more than one line.
    fn takes_lines(&self) -> bool {
        false
    }

    /// Takes pasted text: its first line only, where the panel takes no more.
    fn paste(&mut self, _typed: &str, _context: &mut Context) -> PanelAction {
        PanelAction::Stay
    }

    /// Takes the mouse at a cell of its own, column and row.
    fn point(&mut self, _mouse: Mouse, _cell: [u16; 2], _context: &mut Context) -> PanelAction {
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

    /// Whether it shows on the text what a verb would do: without such a panel the text is shown as it is.
    fn rehearses(&self) -> bool {
        false
    }

    /// Whether what is offered is seen in the text while it is open.
    fn shows_offers(&self) -> bool {
        false
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
