//! What is on lines: which of them are comments, and where their text begins.

use super::escaping;
use super::style::Style;
use crate::languages::{BlockMarks, Fixed, Language};
use crate::text::Text;
use crate::text::cells::{TabWidth, width};
use crate::text::indent::{leading_len, spaces_len};
use crate::text::reader::Reader;
use crate::units::{Byte, Cell, Line, Span};
use std::ops::Range;

/// The marks of a line that is a comment, in bytes of its content.
#[derive(Clone, Copy)]
pub(super) struct Marked {
    /// The opening or only mark.
    pub open: Span,
    /// The closing mark of a wrapped line.
    pub close: Option<Span>,
}

/// What is on a line.
pub(super) struct Looked {
    pub marked: Option<Marked>,
    /// The column at which its text begins, and whether only spaces are before it.
    pub depth: Cell,
    pub is_spaced: bool,
    pub is_blank: bool,
}

/// A line that is looked at.
#[derive(Clone, Copy)]
pub(super) struct Here<'a> {
    pub text: &'a Text,
    pub tabs: TabWidth,
    pub line: Line,
    pub start: Byte,
    /// Without its line end.
    pub content: &'a str,
}

/// Hands each of `lines` of the text that is read to `see`. Neighbouring ones are read together: asking for each would cost
/// more than looking.
pub(super) fn each(reader: &mut Reader, tabs: TabWidth, lines: Range<usize>, mut see: impl FnMut(Here)) {
    let Some(last) = lines.end.checked_sub(1).filter(|last| *last >= lines.start) else { return };
    let text = reader.text();
    let mut here =
        Here { text, tabs, line: Line(lines.start), start: reader.line_start(Line(lines.start)), content: "" };
    let last = reader.line_span(Line(last));
    let whole = Span::new(here.start, last.end);
    let mut next = |content: &str, len: usize| {
        see(Here { content, ..here });
        (here.line, here.start) = (here.line.next(), here.start + len);
    };
    reader.each_stretch(whole, &mut |together, _| {
        let mut from = 0;
        for end in memchr::memchr_iter(b'\n', together.as_bytes()) {
            let content = &together[from..end];
            next(content.strip_suffix('\r').unwrap_or(content), end + 1 - from);
            from = end + 1;
        }
        // The last line of a text has no line end.
        if from < together.len() {
            next(&together[from..], together.len() - from);
        }
    });
    // After the last line end is nothing to be read, but a line.
    if last.is_empty() {
        next("", 0);
    }
}

impl Here<'_> {
    /// What is here, if lines are marked as `style` says in `language`.
    pub fn looked(self, style: &Style, language: &Language) -> Looked {
        let (indentation, rest) = self.content.split_at(leading_len(self.content));
        let by_line = |longest: usize| {
            let start = Byte(indentation.len());
            Marked { open: Span::new(start, start + longest), close: None }
        };
        let marked = match style {
            Style::Mark(marks, None) => longest_mark(rest, marks.iter()).map(by_line),
            Style::Mark(marks, Some(fixed)) => self
                .marked_in_column(fixed)
                .or_else(|| longest_mark(rest, marks.iter().filter(|mark| !fixed.marks.contains(mark))).map(by_line)),
            Style::Wrap(marks) => marked_by_wrap(self.content, marks, language.nests),
        };
        let is_spaced = spaces_len(indentation) == indentation.len();
        let depth = if is_spaced { Cell(indentation.len() as u32) } else { width(indentation, self.tabs) };
        Looked { marked, depth, is_spaced, is_blank: rest.is_empty() }
    }

    /// The mark of a line that has one in the column where alone it counts.
    fn marked_in_column(self, fixed: &Fixed) -> Option<Marked> {
        let place = self.text.place_at(self.line, Cell(fixed.column), self.tabs);
        let is_there = self.text.cell_of(place.at, self.tabs) == Cell(fixed.column);
        let marks = fixed.marks.iter().filter(|mark| is_there && self.text.has_at(place.at, mark));
        let longest = marks.map(String::len).max()?;
        let at = Byte(place.at - self.start);
        Some(Marked { open: Span::new(at, at + longest), close: None })
    }

    /// Whether a space belongs to the opening marks, and one to the closing ones: it does where it is there, or nothing does.
    pub fn spaced(self, marked: Marked) -> [bool; 2] {
        let inner = self.inner(marked);
        let has = |at: usize| inner.is_empty() || self.content.as_bytes().get(at) == Some(&b' ');
        [has(inner.start.0), has(inner.end.0.saturating_sub(1))]
    }

    /// How many spaces are after the mark of a line that has it in the first column; 1 where it is elsewhere, or ends the line.
    pub fn spaces_after(self, marked: Marked) -> u32 {
        let rest = &self.content[marked.open.end.0..];
        let spaces = spaces_len(rest);
        if marked.close.is_some() || marked.open.start.0 > 0 || spaces == rest.len() || spaces == 0 {
            1
        } else {
            spaces as u32
        }
    }

    /// What the marks hold.
    pub fn inner(self, marked: Marked) -> Span {
        let end = marked.close.map_or(self.content.len(), |close| close.start.0);
        Span::new(marked.open.end, Byte(end).max(marked.open.end))
    }
}

/// The length of the longest of `marks` that `rest` begins with. A mark of letters ends a word.
fn longest_mark<'m>(rest: &str, marks: impl Iterator<Item = &'m String>) -> Option<usize> {
    let first = rest.bytes().next()?;
    let goes_on = |mark: &str| rest[mark.len()..].starts_with(|c: char| c.is_alphanumeric() || c == '_');
    let fits = |mark: &&String| {
        let head = rest.as_bytes().get(..mark.len());
        head.is_some_and(|head| head.eq_ignore_ascii_case(mark.as_bytes()))
            && !(mark.ends_with(char::is_alphanumeric) && goes_on(mark))
    };
    // Most lines have no mark: their first byte says so.
    let may_fit = |mark: &&String| mark.bytes().next().is_some_and(|byte| byte.eq_ignore_ascii_case(&first));
    marks.filter(may_fit).filter(fits).map(String::len).max()
}

/// Whether `content` is, apart from white space, one whole block comment.
pub(super) fn marked_by_wrap(content: &str, marks: &BlockMarks, nests: bool) -> Option<Marked> {
    let start = leading_len(content);
    let end = content.trim_end().len();
    let body = content.get(start..end)?;
    let inner = body.strip_prefix(marks.open.as_str())?.strip_suffix(marks.close.as_str())?;
    let is_one = if nests { escaping::is_balanced(inner, marks) } else { !inner.contains(marks.close.as_str()) };
    is_one.then(|| Marked {
        open: Span::new(Byte(start), Byte(start + marks.open.len())),
        close: Some(Span::new(Byte(end - marks.close.len()), Byte(end))),
    })
}
