//! How a file is written, where languages leave that open: looked at once, around the primary cursor.

use super::plan::MOST_LINES;
use crate::languages::scanner::Kind;
use crate::units::Line;
use crate::verbs::lines::code::code_of;
use crate::verbs::scene::Scene;
use std::cell::OnceCell;

/// Longer lines tell nothing of how a person writes.
const LONGEST: usize = 1_000;

/// How a file is written.
pub struct Habits<'a> {
    /// What is being finished.
    pub scene: &'a Scene<'a>,
    leaves_out: OnceCell<bool>,
    declares: OnceCell<bool>,
    braces_apart: OnceCell<bool>,
}

impl<'a> Habits<'a> {
    /// Of the file of `scene`.
    pub fn of(scene: &'a Scene<'a>) -> Habits<'a> {
        Habits { scene, leaves_out: OnceCell::new(), declares: OnceCell::new(), braces_apart: OnceCell::new() }
    }

    fn lines(&self) -> impl Iterator<Item = Line> + '_ {
        let primary = self.scene.text.line_of(self.scene.cursors.primary().head);
        let first = primary.0.saturating_sub(MOST_LINES);
        let is_short = |line: &Line| self.scene.text.content_span(*line).len() <= LONGEST;
        let lines = (first..self.scene.text.line_count()).take(2 * MOST_LINES).map(Line);
        lines.filter(move |line| *line != primary).filter(is_short)
    }

    /// Whether terminators are left out that may be: more lines of code end without one.
    pub fn leave_out(&self, terminator: &str) -> bool {
        *self.leaves_out.get_or_init(|| {
            let (mut with, mut without) = (0, 0);
            for line in self.lines().filter(|line| self.scene.syntax.kind_before_line(*line) == Kind::Code) {
                let code = code_of(self.scene, line);
                let code = code.trim_end();
                if code.ends_with(terminator) {
                    with += 1;
                } else if code.ends_with(|c: char| c.is_alphanumeric() || matches!(c, ')' | ']' | '"' | '_')) {
                    without += 1;
                }
            }
            without > with
        })
    }

    /// Whether functions are declared, and their bodies left to others: more of them end with a semicolon than open a block.
    pub fn declare_functions(&self) -> bool {
        *self.declares.get_or_init(|| {
            let (mut declared, mut defined) = (0, 0);
            for line in self.lines() {
                let content = self.scene.text.content(line);
                let is_outside = content.starts_with(|c: char| c.is_alphanumeric() || c == '_');
                match content.trim_end() {
                    line if is_outside && line.ends_with(");") => declared += 1,
                    line if (is_outside && line.ends_with('{')) || line == "{" => defined += 1,
                    _ => {}
                }
            }
            declared > defined
        })
    }

    /// Whether opening braces are on lines of their own.
    pub fn have_braces_apart(&self) -> bool {
        *self.braces_apart.get_or_init(|| {
            let (mut apart, mut beside) = (0, 0);
            for line in self.lines() {
                let content = self.scene.text.content(line);
                match content.trim() {
                    "{" => apart += 1,
                    content if content.ends_with('{') => beside += 1,
                    _ => {}
                }
            }
            apart > beside
        })
    }
}
