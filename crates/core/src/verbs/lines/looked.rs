//! A text as its lines look: how far in they are, what ends them, and which of them are an element of a list.

use crate::languages::lexical::Syntax;
use crate::text::Text;
use crate::text::cells::TabWidth;
use crate::units::{Byte, Cell, Line};
use crate::verbs::lines::code::{code_in, is_comment_in};

/// Lines that are looked at in each direction for where an element begins or ends.
const REACH: usize = 400;

/// A text whose lines are looked at.
pub struct Lines<'a> {
    pub text: &'a Text,
    pub syntax: &'a dyn Syntax,
    pub tabs: TabWidth,
}

impl Lines<'_> {
    pub fn depth(&self, line: Line) -> Cell {
        self.text.depth_of(line, self.tabs)
    }

    pub fn code(&self, line: Line) -> String {
        code_in((self.text, self.syntax), line)
    }

    /// How many brackets `line` opens more than it closes.
    pub fn open_brackets(&self, line: Line) -> i32 {
        self.code(line).chars().map(|c| i32::from("([{".contains(c)) - i32::from(")]}".contains(c))).sum()
    }

    /// The same of braces and square brackets, and of parentheses that end a line or begin one: a shell has others without a partner.
    pub fn open_pairs(&self, line: Line) -> i32 {
        let code = self.code(line);
        let code = code.trim();
        let braces = code.chars().map(|c| i32::from("[{".contains(c)) - i32::from("]}".contains(c))).sum::<i32>();
        braces + i32::from(code.ends_with('(')) - i32::from(code.starts_with(')'))
    }

    /// The line that closes what `line` opens, or opens what it closes: the next one that is no deeper.
    pub fn partner(&self, line: Line) -> Option<Line> {
        let (pairs, depth) = (self.open_pairs(line), self.depth(line));
        let is_shallow = |other: &Line| self.is_full(*other) && self.depth(*other) <= depth;
        let found = match pairs.cmp(&0) {
            std::cmp::Ordering::Equal => None,
            std::cmp::Ordering::Greater => {
                let below = (line.0 + 1..self.text.real_line_count()).take(REACH).map(Line).find(is_shallow);
                below.filter(|below| self.closes(*below))
            }
            std::cmp::Ordering::Less => {
                let above = (0..line.0).rev().take(REACH).map(Line).find(is_shallow);
                above.filter(|above| self.open_pairs(*above) > 0)
            }
        };
        found.filter(|found| self.depth(*found) == depth)
    }

    /// Whether a line has something that is no comment.
    pub fn is_full(&self, line: Line) -> bool {
        !self.text.is_blank(line) && !is_comment_in((self.text, self.syntax), line)
    }

    pub fn closes(&self, line: Line) -> bool {
        self.code(line).trim_start().starts_with([')', ']', '}'])
    }

    /// Whether `line` is a comment, an attribute or a decorator: it belongs to what is below it.
    pub fn is_attached(&self, line: Line) -> bool {
        !self.is_full(line) || self.text.content(line).trim_start().starts_with(['@', '#'])
    }

    /// Whether `line`, which is beside a stretch that is `depth` deep, is of something over several lines: the end of it, its head, or
    /// what is attached to its head.
    pub fn is_beside_construct(&self, line: Line, depth: Cell) -> bool {
        let below = (line.0 + 1..self.text.real_line_count()).map(Line).find(|below| self.is_full(*below));
        let opens = below.is_some_and(|below| self.depth(below) > self.depth(line));
        self.depth(line) > depth || self.closes(line) || opens || self.is_attached(line)
    }

    /// The full line nearest above `line`.
    pub fn above(&self, line: Line) -> Option<Line> {
        (0..line.0).rev().take(REACH).map(Line).find(|line| self.is_full(*line))
    }

    /// The full line nearest from `line` on.
    pub fn from(&self, line: Line) -> Option<Line> {
        (line.0..self.text.real_line_count()).take(REACH).map(Line).find(|line| self.is_full(*line))
    }

    /// The line at which the element begins whose last line is `line`; none where that is further out than `depth`.
    pub fn start_of(&self, line: Line, depth: Cell) -> Option<Line> {
        let mut at = line;
        loop {
            match self.depth(at).cmp(&depth) {
                std::cmp::Ordering::Less => return None,
                std::cmp::Ordering::Equal if !self.closes(at) => return Some(at),
                _ => at = self.above(at).filter(|above| line.0 - above.0 < REACH)?,
            }
        }
    }

    /// What ends the code of `line`: a comma, a semicolon, or something else; and where that begins, or would.
    pub fn end(&self, line: Line) -> (Option<char>, Byte) {
        let code = self.code(line);
        let trimmed = code.trim_end();
        let end = self.text.content_span(line).start + trimmed.len();
        match trimmed.chars().next_back() {
            Some(c @ (',' | ';')) => (Some(c), end - 1),
            _ => (None, end),
        }
    }
}

/// An element of a list that has lines of its own.
#[derive(Clone, Copy, Debug)]
pub struct LineElement {
    /// Its last line with code.
    pub last: Line,
    /// Whether none follows it.
    pub is_final: bool,
}

/// The elements at `depth` whose lines touch those from `first` to `last`, with one before and one after them.
pub fn elements_around(lines: &Lines, [first, last]: [Line; 2], depth: Cell) -> Vec<LineElement> {
    let mut start = first;
    if let Some(begin) = lines.above(first).and_then(|above| lines.start_of(above, depth)) {
        start = begin;
    }
    let mut found: Vec<LineElement> = Vec::new();
    let mut end: Option<Line> = None;
    let mut at = lines.from(start);
    let mut after = 0;
    while let Some(line) = at {
        let own = lines.depth(line);
        if own < depth || (own == depth && lines.closes(line) && end.is_none_or(|end| !opens_deeper(lines, end, line)))
        {
            found.extend(end.take().map(|last| LineElement { last, is_final: true }));
            return found;
        }
        if own == depth && !lines.closes(line) {
            // What follows the constants of an enum is no element of it.
            if let Some(last) = end.filter(|end| *end >= last && lines.end(*end).0 == Some(';'))
                && found.last().is_some_and(|before| matches!(lines.end(before.last).0, Some(',' | ';')))
            {
                found.push(LineElement { last, is_final: true });
                return found;
            }
            found.extend(end.take().map(|last| LineElement { last, is_final: false }));
            after += usize::from(line > last);
            if after > 1 {
                return found;
            }
        }
        end = Some(line);
        at = lines.from(line.next());
    }
    // The text ends: nothing closes the list.
    found.extend(end.map(|last| LineElement { last, is_final: false }));
    found
}

/// Whether a closer at `line` answers what the element that `before` is a line of opens.
fn opens_deeper(lines: &Lines, before: Line, line: Line) -> bool {
    let mut depth = 0i32;
    let mut at = Some(before);
    while let Some(above) = at.filter(|above| line.0 - above.0 < REACH) {
        depth += lines.open_brackets(above);
        if lines.depth(above) == lines.depth(line) {
            return depth > 0;
        }
        at = lines.above(above);
    }
    false
}
