//! What was used, counted until it is written into the ledger.

use snarvel_core::units::Line;
use snarvel_ledger::{Amounts, Batch, Habit, Used};
use snarvel_workspace::ids::BufferId;
use snarvel_workspace::today::today;

/// What is counted is written after so many uses.
const WRITE_AFTER: u32 = 100;

/// And after so many milliseconds, at the next key.
const WRITE_AFTER_MS: u64 = 30_000;

/// The day is looked up so often.
const DAY_MS: u64 = 60_000;

/// What was counted since the last write.
#[derive(Debug, Default)]
pub struct Counting {
    counted: Batch,
    uses: u32,
    written_ms: u64,
    /// The use that an undo right after would take back.
    last: Option<Used>,
    /// The line of the primary caret at the last change, and how many lines that changed.
    lines: Option<(BufferId, (Line, u64))>,
    /// The day, and when it was looked up.
    today: Option<(String, u64)>,
}

impl Counting {
    /// The day.
    pub fn today(&mut self, now_ms: u64) -> String {
        match &self.today {
            Some((day, at)) if now_ms.saturating_sub(*at) < DAY_MS => day.clone(),
            _ => {
                let day = today();
                self.today = Some((day.clone(), now_ms));
                day
            }
        }
    }

    /// Counts a use.
    pub fn count(&mut self, used: Used, amounts: Amounts) {
        self.uses += 1;
        self.last = Some(used.clone());
        self.counted.add(used, amounts);
    }

    /// One more key of what was used last.
    pub fn count_key(&mut self) {
        if let Some(used) = self.last.clone() {
            self.counted.add(used, Amounts { keys: 1, ..Amounts::default() });
        }
    }

    /// What was used last was taken back right after.
    pub fn count_undone(&mut self) {
        if let Some(used) = self.last.take() {
            self.counted.add(used, Amounts { undone: 1, ..Amounts::default() });
        }
    }

    /// Counts a long way that would have been `saved` keys shorter.
    pub fn count_habit(&mut self, habit: Habit, saved: u64) {
        self.counted.add_habit(habit, saved);
    }

    /// Whether the change before was of as many lines with the caret in the same one, too; from now on it was.
    pub fn were_changed_last(&mut self, buffer: BufferId, lines: (Line, u64)) -> bool {
        lines.1 > 0 && self.lines.replace((buffer, lines)) == Some((buffer, lines))
    }

    /// What was counted, where it is to be written now.
    pub fn to_write(&mut self, now_ms: u64) -> Option<Batch> {
        let is_due = self.uses >= WRITE_AFTER || now_ms.saturating_sub(self.written_ms) >= WRITE_AFTER_MS;
        (is_due && !self.counted.is_empty()).then(|| {
            (self.uses, self.written_ms) = (0, now_ms);
            std::mem::take(&mut self.counted)
        })
    }

    /// All that was counted and is not written.
    pub fn rest(&mut self) -> Batch {
        std::mem::take(&mut self.counted)
    }
}
