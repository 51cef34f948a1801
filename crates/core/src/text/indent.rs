//! Indentation: the unit that a text uses, the white space before a line, and its depth in cells.

use super::Text;
use super::cells::{TabWidth, width};
use super::reader::Reader;
use crate::units::{Cell, Line, Span};

/// One step of indentation.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum IndentUnit {
    /// A tab character.
    Tab,
    /// That many spaces.
    Spaces(u32),
}

impl IndentUnit {
    /// Its characters.
    #[must_use]
    pub fn text(self) -> String {
        match self {
            IndentUnit::Tab => "\t".to_owned(),
            IndentUnit::Spaces(count) => " ".repeat(count as usize),
        }
    }

    /// Its width in cells.
    #[must_use]
    pub fn cells(self, tabs: TabWidth) -> u32 {
        match self {
            IndentUnit::Tab => tabs.0.max(1),
            IndentUnit::Spaces(count) => count.max(1),
        }
    }

    /// White space that reaches from column 0 to `depth`.
    #[must_use]
    pub fn fill(self, depth: Cell, tabs: TabWidth) -> String {
        match self {
            IndentUnit::Spaces(_) => " ".repeat(depth.0 as usize),
            IndentUnit::Tab => {
                let width = tabs.0.max(1);
                "\t".repeat((depth.0 / width) as usize) + &" ".repeat((depth.0 % width) as usize)
            }
        }
    }

    /// The white space `white` moved by `cells` to the right, or to the left where negative. What stands behind whole tabs, to set
    /// a line under something, stays.
    #[must_use]
    pub fn moved(self, white: &str, cells: i64, tabs: TabWidth) -> String {
        let steps = cells.unsigned_abs() as usize / tabs.0.max(1) as usize;
        if self == IndentUnit::Tab && cells % i64::from(tabs.0.max(1)) == 0 {
            if cells > 0 {
                return "\t".repeat(steps) + white;
            }
            if let Some(rest) = white.strip_prefix("\t".repeat(steps).as_str()) {
                return rest.to_owned();
            }
        }
        let depth = (i64::from(width(white, tabs).0) + cells).max(0);
        self.fill(Cell(depth as u32), tabs)
    }
}

/// How many lines are read to find out the unit: far more than a person would look at, and quick in a file
/// of any size.
const LINES_READ: usize = 20_000;

/// The unit that `text` uses: the most frequent step inward between neighbouring lines that are not blank,
/// of 1 tab or 2, 3, 4 or 8 spaces; the kind is that of most indented lines, a tie goes to the smaller step.
/// Steps after a line that opens a block count alone where there are any: others may be lines that go on.
/// None when the text has no such step.
#[must_use]
pub fn unit_of(text: &Text, tabs: TabWidth) -> Option<IndentUnit> {
    let steps = Steps::of(text, tabs);
    if steps.tabbed > steps.spaced {
        return (steps.tabs > 0).then_some(IndentUnit::Tab);
    }
    let [in_blocks, anywhere] = [steps.in_blocks, steps.anywhere].map(|steps| steps.iter().sum::<usize>());
    // In prose and markup a colon now and then ends a line that opens nothing.
    let spaces = if in_blocks * FEWEST_BLOCKS > anywhere { steps.in_blocks } else { steps.anywhere };
    let most = (2..=8u32).rev().max_by_key(|&step| spaces[step as usize])?;
    (spaces[most as usize] > 0).then_some(IndentUnit::Spaces(most))
}

/// In code at least one of so many steps inward is that of a block.
const FEWEST_BLOCKS: usize = 20;

/// The number of spaces that every block of `text` is indented by. None where it has no block, or several of different steps.
#[must_use]
pub fn spaces_of_blocks(text: &Text, tabs: TabWidth) -> Option<u32> {
    let steps = Steps::of(text, tabs);
    let mut found = (2..=8u32).filter(|&step| steps.in_blocks[step as usize] > 0);
    let step = found.next()?;
    (found.next().is_none() && steps.tabbed == 0).then_some(step)
}

/// How lines of a text are indented against each other.
#[derive(Debug, Default)]
struct Steps {
    /// Lines that begin with a tab.
    tabbed: usize,
    /// Lines that begin with two spaces.
    spaced: usize,
    /// Steps inward by tabs.
    tabs: usize,
    /// Steps inward by spaces, by their number.
    anywhere: [usize; 9],
    /// Those after a line that opens a block.
    in_blocks: [usize; 9],
}

impl Steps {
    fn of(text: &Text, tabs: TabWidth) -> Steps {
        let (mut steps, mut previous) = (Steps::default(), Cell(0));
        let (mut opens_block, mut outer): (bool, Vec<Cell>) = (false, Vec::new());
        let mut reader = Reader::new(text);
        for line in (0..text.line_count().min(LINES_READ)).map(Line) {
            let content = reader.content(line);
            let Some(indentation) = leading(&content) else { continue };
            steps.tabbed += usize::from(indentation.starts_with('\t'));
            // The lines of a comment with stars have one space before each of them.
            steps.spaced += usize::from(indentation.starts_with("  "));
            let depth = width(indentation, tabs);
            let step = depth.0.saturating_sub(previous.0);
            // The head of a block may be on several lines: what counts is the last line that is further out.
            while outer.last().is_some_and(|last| *last >= depth) {
                outer.pop();
            }
            let from_head = depth.0 - outer.last().map_or(0, |last| last.0);
            outer.push(depth);
            if indentation.contains('\t') {
                steps.tabs += usize::from(step > 0);
            } else {
                steps.anywhere[counted(step)] += 1;
                steps.in_blocks[counted(if opens_block { from_head } else { 0 })] += 1;
            }
            previous = depth;
            opens_block = opens_statements(content.trim_end());
        }
        (steps.anywhere[0], steps.in_blocks[0]) = (0, 0);
        steps
    }
}

/// Whether `line` opens a block of statements: some formatters indent what is between the braces of a value by another step.
fn opens_statements(line: &str) -> bool {
    let value = ["=", "(", ",", "[", "{", "return", "&&", "||"];
    line.ends_with(':')
        || line.strip_suffix('{').is_some_and(|head| !value.iter().any(|end| head.trim_end().ends_with(end)))
}

/// A number of spaces that is a step of indentation in some style; 0 for others.
fn counted(spaces: u32) -> usize {
    if matches!(spaces, 2 | 3 | 4 | 8) { spaces as usize } else { 0 }
}

/// The white space before the first character of `content` that is none; nothing for a blank line.
#[must_use]
pub fn leading(content: &str) -> Option<&str> {
    let len = leading_len(content);
    (len < content.len()).then(|| &content[..len])
}

/// How many bytes of white space `content` begins with; all of a blank line.
#[must_use]
pub fn leading_len(content: &str) -> usize {
    let spaces = spaces_len(content);
    match content.as_bytes().get(spaces) {
        Some(b'!'..=b'~') | None => spaces,
        _ => content.len() - content[spaces..].trim_start().len(),
    }
}

/// How many spaces `content` begins with. They are counted by eights: it is asked of every line that a verb touches.
#[must_use]
pub fn spaces_len(content: &str) -> usize {
    const SPACES: u64 = u64::from_le_bytes([b' '; 8]);
    let (eights, rest) = content.as_bytes().as_chunks::<8>();
    for (index, eight) in eights.iter().enumerate() {
        let differs = u64::from_le_bytes(*eight) ^ SPACES;
        if differs != 0 {
            return index * 8 + differs.trailing_zeros() as usize / 8;
        }
    }
    eights.len() * 8 + rest.iter().take_while(|byte| **byte == b' ').count()
}

/// So many bytes of a line are looked at first for where its text begins.
const FIRST_LOOK: usize = 512;

impl Text {
    /// The white space at the start of `line`; all of a blank line. Cost: linear in it.
    #[must_use]
    pub fn indentation_span(&self, line: Line) -> Span {
        let span = self.content_span(line);
        let mut looked = FIRST_LOOK;
        loop {
            let mut end = span.end.min(span.start + looked);
            while !self.is_char_edge(end) {
                end = end - 1;
            }
            let content = self.slice(Span::new(span.start, end));
            let len = leading_len(&content);
            if len < content.len() || end == span.end {
                return Span::new(span.start, span.start + len);
            }
            looked *= 2;
        }
    }

    /// Whether `line` has nothing but white space. Cost: linear in the white space that it begins with.
    #[must_use]
    pub fn is_blank(&self, line: Line) -> bool {
        self.indentation_span(line).end == self.content_span(line).end
    }

    /// The column at which the text of `line` begins.
    #[must_use]
    pub fn depth_of(&self, line: Line, tabs: TabWidth) -> Cell {
        width(&self.slice(self.indentation_span(line)), tabs)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn units_are_found_from_steps_inward() {
        let rows: &[(&str, Option<IndentUnit>)] = &[
            ("a\nb\n", None),
            ("a\n  b\n    c\n  d\n", Some(IndentUnit::Spaces(2))),
            ("a\n\n    b\na\n    b\n  c", Some(IndentUnit::Spaces(4))),
            ("a\n\tb\n\t\tc\n", Some(IndentUnit::Tab)),
            ("a\n   b\na\n  b\n", Some(IndentUnit::Spaces(2))),
            ("  a\n", Some(IndentUnit::Spaces(2))),
        ];
        for (text, unit) in rows {
            assert_eq!(unit_of(&Text::from(*text), TabWidth(4)), *unit, "{text:?}");
        }
    }
}
