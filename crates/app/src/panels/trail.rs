//! The trail: every step of the history, the newest first, with its branches as lanes. Moving through it shows the
//! text as it was; Enter goes there, on whatever branch it is.

use super::Answer;
use super::chooser::{Chooser, Order, Pressed};
use crate::document::Document;
use crate::keys::Key;
use crossterm::event::KeyCode;
use snarvel_core::history::{Extent, History, StepId};
use std::borrow::Cow;
use std::fmt::Write;

/// A state of the text: the one behind a step, or the start.
#[derive(Debug)]
pub struct Row {
    /// Which.
    pub id: StepId,
    /// What led to it.
    pub verb: String,
    /// How much that changed.
    pub extent: Option<Extent>,
    /// A few characters of what that put in or took out.
    pub glimpse: String,
    /// How long ago.
    pub age: String,
    /// Where the branches run, a sign a lane.
    pub lanes: String,
    /// Whether the file holds it.
    pub is_saved: bool,
    /// Whether the text stands there.
    pub is_here: bool,
    parent: Option<StepId>,
}

/// The history, to be gone through.
#[derive(Debug)]
pub struct TrailPanel {
    /// All states, the newest first.
    pub rows: Vec<Row>,
    /// The letters so far, and what they leave to choose from.
    pub chooser: Chooser,
    /// The text as it was at the chosen state; none where it is the present one.
    pub then: Option<Document>,
}

impl TrailPanel {
    /// The history of `document`, with ages counted to `now_ms`; the present state is chosen.
    pub fn of(document: &Document, now_ms: u64) -> TrailPanel {
        let rows = rows_of(document.editor.history(), now_ms);
        let here = rows.iter().position(|row| row.is_here).unwrap_or(0);
        let mut panel = TrailPanel { rows, chooser: Chooser::new(Order::AsListed), then: None };
        panel.filter();
        panel.chooser.choose(here);
        panel
    }

    /// The chosen state.
    pub fn chosen(&self) -> Option<&Row> {
        self.chooser.index().map(|index| &self.rows[index])
    }

    fn filter(&mut self) {
        self.chooser.filter(self.rows.iter().map(|row| Cow::Owned(format!("{} {}", row.verb, row.glimpse))));
    }

    fn look(&self) -> Answer {
        self.chosen().map_or(Answer::None, |row| Answer::Look(row.id))
    }

    /// Takes a key.
    pub(super) fn press(&mut self, key: Key) -> Answer {
        let along = match key.code {
            KeyCode::Enter => return self.chosen().map_or(Answer::None, |row| Answer::GoToStep(row.id)),
            KeyCode::Left => {
                self.chosen().and_then(|row| self.rows.iter().position(|other| Some(other.id) == row.parent))
            }
            // The newest of what followed; rows are newest first.
            KeyCode::Right => {
                self.chosen().and_then(|row| self.rows.iter().position(|other| other.parent == Some(row.id)))
            }
            _ => {
                return match self.chooser.press(key) {
                    Pressed::Nothing => Answer::None,
                    Pressed::Moved => self.look(),
                    Pressed::Typed => {
                        self.filter();
                        self.look()
                    }
                };
            }
        };
        along.map_or(Answer::None, |index| {
            self.chooser.choose(index);
            self.look()
        })
    }

    /// Takes pasted text.
    pub(super) fn paste(&mut self, typed: &str) {
        self.chooser.line.insert(typed);
        self.filter();
    }
}

/// How many characters of a step are shown.
const GLIMPSE: usize = 40;

fn rows_of(history: &History, now_ms: u64) -> Vec<Row> {
    let mut lanes = Lanes::of(history);
    let mut rows: Vec<Row> = history
        .steps()
        .rev()
        .map(|(id, step)| Row {
            id,
            verb: step.verb().replace('-', " "),
            extent: Some(step.extent()),
            glimpse: step.glimpse(GLIMPSE).split_whitespace().collect::<Vec<_>>().join(" "),
            age: age(now_ms.saturating_sub(step.at_ms())),
            lanes: lanes.pass(id, Some(step.parent())),
            is_saved: history.saved() == Some(id),
            is_here: history.here() == id,
            parent: Some(step.parent()),
        })
        .collect();
    rows.push(Row {
        id: StepId::START,
        verb: "as it was opened".to_owned(),
        extent: None,
        glimpse: String::new(),
        age: String::new(),
        lanes: lanes.pass(StepId::START, None),
        is_saved: history.saved() == Some(StepId::START),
        is_here: history.here() == StepId::START,
        parent: None,
    });
    rows
}

/// "now", "12 s ago", "3 min ago", "2 h ago".
fn age(ms: u64) -> String {
    match ms / 1000 {
        0 => "now".to_owned(),
        seconds @ 1..60 => format!("{seconds} s ago"),
        seconds @ 60..3600 => format!("{} min ago", seconds / 60),
        seconds => format!("{} h ago", seconds / 3600),
    }
}

/// How an extent is told: "+12 −3, 2 places".
pub fn told(extent: Extent) -> String {
    let mut told = String::new();
    for (sign, bytes) in [('+', extent.added), ('−', extent.removed)] {
        if bytes > 0 {
            let _ = write!(told, "{}{sign}{bytes}", if told.is_empty() { "" } else { " " });
        }
    }
    if extent.places > 1 {
        let _ = write!(told, " at {}", extent.places);
    }
    told
}

/// The branches while rows are drawn from the newest to the oldest: each lane waits for a state.
struct Lanes {
    waiting: Vec<Option<StepId>>,
}

/// More branches than this side by side share the last lane.
const MOST_LANES: usize = 8;

impl Lanes {
    /// The branch on which the text stands has the first lane.
    fn of(history: &History) -> Lanes {
        let mut tip = history.here();
        // A step that follows comes later: the last one found on the way up is the newest tip.
        for (id, step) in history.steps() {
            if step.parent() == tip && history.is_newest_child(id) {
                tip = id;
            }
        }
        Lanes { waiting: vec![Some(tip)] }
    }

    /// The signs of the row of `id`, whose lane then waits for `parent`.
    fn pass(&mut self, id: StepId, parent: Option<StepId>) -> String {
        let own = self.waiting.iter().position(|lane| *lane == Some(id)).unwrap_or_else(|| self.free());
        self.waiting[own] = Some(id);
        let last_joined = self.waiting.iter().rposition(|lane| *lane == Some(id)).unwrap_or(own);
        let mut signs = String::new();
        for (lane, waits_for) in self.waiting.iter().enumerate() {
            let joins = *waits_for == Some(id) && lane > own;
            signs.push(match waits_for {
                _ if lane == own => '●',
                _ if joins && lane == last_joined => '╯',
                _ if joins => '┴',
                Some(_) => '│',
                None if lane > own && lane < last_joined => '─',
                None => ' ',
            });
            signs.push(if lane >= own && lane < last_joined { '─' } else { ' ' });
        }
        for lane in self.waiting.iter_mut().filter(|lane| **lane == Some(id)) {
            *lane = None;
        }
        self.waiting[own] = parent;
        while self.waiting.len() > 1 && self.waiting.last() == Some(&None) {
            self.waiting.pop();
        }
        signs
    }

    fn free(&mut self) -> usize {
        if let Some(free) = self.waiting.iter().skip(1).position(Option::is_none) {
            return free + 1;
        }
        if self.waiting.len() < MOST_LANES {
            self.waiting.push(None);
        }
        self.waiting.len() - 1
    }
}
