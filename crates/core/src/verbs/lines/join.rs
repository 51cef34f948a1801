//! Joining lines: one space for the line ends and white space between them, and what comments and strings need.
//!
//! Each run of at least two lines becomes one line; a single line takes the next along. Empty lines drop out.
//! Cost: linear in the lines joined.

use crate::changes::{Bias, ChangeBuilder, build_parallel};
use crate::folds::Folds;
use crate::languages::lexical::{Block, Piece, Scanned, Syntax};
use crate::languages::scanner::{Form, Kind};
use crate::languages::{BrokenString, Escape};
use crate::text::Text;
use crate::text::indent::leading_len;
use crate::units::{Byte, Line, Span};
use crate::verbs::comments::marks::whole_mark;
use crate::verbs::lines::code::code_in;
use crate::verbs::lines::joinable::refusal;
use crate::verbs::lines::merging::{JoinedPart, Merging};
use crate::verbs::scene::{Outcome, Run, Scene, counted};
use std::borrow::Cow;

/// What comes between two joined lines.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Between {
    /// One space, where the neighbours do not forbid it.
    Space,
    /// Nothing.
    Nothing,
}

/// With more runs than this it is not looked at what they join.
const MOST_LOOKED_AT: usize = 200;

const NO_SPACE_BEFORE: &[char] = &[')', ']', '}', ',', ';', '.'];
const NO_SPACE_AFTER: &[char] = &['(', '[', '{'];

/// Joins the lines of every run.
pub fn join(scene: &Scene, between: Between) -> Outcome {
    // A header takes in the next line, not all that is folded under it.
    let folds = Folds::default();
    let scene = &Scene { folds: &folds, ..*scene };
    let runs = joined_runs(scene);
    let block = |run: &Run| Block { first: run.first, start: run.start, count: run.len() };
    let scanned = scene.syntax.scanned(&runs.iter().map(block).collect::<Vec<_>>());
    // Where the lines of each run begin among all of them.
    let firsts: Vec<usize> =
        runs.iter().scan(0, |next, run| Some(std::mem::replace(next, *next + run.len()))).collect();
    if runs.len() <= MOST_LOOKED_AT
        && let Some(why) =
            firsts.iter().zip(&runs).find_map(|(first, run)| refusal(scene, &scanned[*first..][..run.len()]))
    {
        return Outcome::nothing(why);
    }
    let (text, syntax) = (scene.text, scene.syntax);
    let (change, parts) = build_parallel(text, runs.len(), |builder, part| {
        let merging = Merging::new(text, syntax);
        let mut joining = Joining { text, syntax, builder, between, edits: Vec::new(), merging, open_comment: None };
        part.into_iter().try_for_each(|index| joining.run(&scanned[firsts[index]..][..runs[index].len()]))
    });
    if let Some(line) = parts.iter().find_map(|part| part.made.err()) {
        return Outcome::nothing(format!(
            "the comment on line {} would swallow what is joined after it, and {} has no block comments",
            line.0 + 1,
            scene.language_at(text.line_start(line)).title
        ));
    }
    if change.is_empty() {
        return Outcome::nothing("no line below to join with");
    }
    let cursors = scene.remap(&change, |_| [Bias::Before; 2]);
    let joints = scanned.len() - runs.len();
    Outcome::edit(change, cursors).saying(format!("joined {}", counted(joints + 1, "line")))
}

/// The runs, those of a single line with the line after it; runs that grow together are one.
fn joined_runs(scene: &Scene) -> Vec<Run> {
    let last_real = scene.text.real_line_count().saturating_sub(1);
    let mut runs: Vec<Run> = Vec::new();
    for mut run in scene.runs() {
        if run.len() == 1 {
            run.last = Line((run.last.0 + 1).min(last_real));
        }
        match runs.last_mut() {
            Some(before) if run.first <= before.last => {
                before.last = before.last.max(run.last);
                before.cursors.end = run.cursors.end;
            }
            _ => runs.push(run),
        }
    }
    runs.retain(|run| run.len() > 1);
    runs
}

struct Joining<'t, 'b> {
    text: &'t Text,
    syntax: &'b dyn Syntax,
    builder: &'b mut ChangeBuilder<'t>,
    between: Between,
    /// What the run's joints replace: a comment that must be closed is found out only after it.
    edits: Vec<(Span, Cow<'static, str>)>,
    merging: Merging<'t, 'b>,
    /// A line comment that the joined line ends with so far.
    open_comment: Option<Piece>,
}

impl<'t> Joining<'t, '_> {
    /// Joins the lines of a run.
    fn run(&mut self, lines: &[Scanned]) -> Result<(), Line> {
        let [Scanned { content, .. }, .., last_line] = lines else { return Ok(()) };
        let parts: Vec<JoinedPart> = lines.iter().filter_map(|line| self.part(line)).collect();
        match parts.first() {
            None => self.drop_blank_lines(content.start, last_line),
            Some(first) => {
                self.replace(Span::new(content.start, first.line.content.start), "");
                self.open_comment = trailing_comment(first);
            }
        }
        for pair in parts.windows(2) {
            self.joint(&pair[0], &pair[1])?;
        }
        if let Some(last) = parts.last().filter(|last| last.line.line < last_line.line) {
            self.drop_blank_lines(last.body.end, last_line);
        }
        for bracket in self.merging.needless_brackets(Span::new(content.start, last_line.content.end)) {
            self.replace(bracket, "");
        }
        self.edits.sort_by_key(|(span, _)| *span);
        self.edits.drain(..).for_each(|(span, with)| self.builder.replace(span, &with));
        Ok(())
    }

    fn replace(&mut self, span: Span, with: impl Into<Cow<'static, str>>) {
        if !span.is_empty() {
            self.edits.push((span, with.into()));
        }
    }

    fn part<'p>(&mut self, line: &'p Scanned) -> Option<JoinedPart<'p>>
    where
        't: 'p,
    {
        let content = self.builder.reader().slice(line.content);
        let start = line.content.start + leading_len(&content);
        let text = match content {
            Cow::Borrowed(content) => Cow::Borrowed(content.trim()),
            Cow::Owned(content) => Cow::Owned(content.trim().to_owned()),
        };
        if text.is_empty() {
            return None;
        }
        let body = Span::new(start, start + text.len());
        Some(JoinedPart { line, text, body })
    }

    /// What is left of blank lines up to `last` goes, from `start` on; the line end of `last` stays.
    fn drop_blank_lines(&mut self, start: Byte, last: &Scanned) {
        self.replace(Span::new(start, last.content.end), "");
    }

    /// Joins `right` to `left`.
    fn joint(&mut self, left: &JoinedPart, right: &JoinedPart) -> Result<(), Line> {
        let mut gap = Span::new(left.body.end, right.body.start);
        if let Some(mark) = self.continued_comment(right) {
            gap.end = mark.min(right.body.end);
            self.put(gap, left, right);
            return Ok(());
        }
        if let Some(comment) = self.open_comment.take() {
            self.close_comment(comment, left.line.line, gap)?;
            self.open_comment = trailing_comment(right);
            return Ok(());
        }
        if let Some(merged) = self.continued_string(left, right).or_else(|| self.merging.merged(left, right)) {
            self.replace(merged, "");
        } else {
            gap.start = left.end_without_backslash(self.syntax);
            if left.text.ends_with(',') && right.text.starts_with([')', ']', '}']) && !self.is_single(right.body.start)
            {
                gap.start = gap.start - 1;
            }
            self.put(gap, left, right);
        }
        self.open_comment = trailing_comment(right);
        Ok(())
    }

    /// What takes a line end out of a literal that goes on after a backslash at it: the backslash, the line end, and the white space
    /// after it where that is none of the value either.
    fn continued_string(&self, left: &JoinedPart, right: &JoinedPart) -> Option<Span> {
        let is_odd = left.text.bytes().rev().take_while(|byte| *byte == b'\\').count() % 2 == 1;
        let piece =
            left.pieces().last().filter(|piece| is_odd && piece.span.end >= left.body.end && !piece.token.closes)?;
        let Form::Text(form) = piece.token.form else { return None };
        let language = self.syntax.language_at(piece.span.start);
        let escapes = language.strings.get(usize::from(form)).is_some_and(|form| form.escape == Escape::Backslash);
        let is_gone = language.broken_strings == Some(BrokenString::Inside);
        let end = if is_gone { right.body.start } else { right.line.content.start };
        escapes.then(|| Span::new(left.body.end - 1, end))
    }

    /// Whether a comma before the bracket that closes at `close` makes a tuple of what is in it: it is the only one, and the brackets
    /// are no call's.
    fn is_single(&self, close: Byte) -> bool {
        /// Lines above that are read for the bracket that opens.
        const LINES: usize = 200;
        if self.text.char_at(close) != Some(')') {
            return false;
        }
        let line = self.text.line_of(close);
        let (mut depth, mut commas) = (0i32, 0);
        for above in (line.0.saturating_sub(LINES)..=line.0).rev().map(Line) {
            let content = self.text.content_span(above);
            let code = code_in((self.text, self.syntax), above);
            for (offset, c) in code.char_indices().rev().filter(|(offset, _)| content.start + *offset < close) {
                depth += i32::from(")]}".contains(c)) - i32::from("([{".contains(c));
                commas += usize::from(c == ',' && depth == 0);
                if depth < 0 {
                    let before = code[..offset].chars().next_back();
                    let is_call = before.is_some_and(|c| c.is_alphanumeric() || "_)]!>".contains(c));
                    return commas == 1 && !is_call;
                }
            }
        }
        false
    }

    fn put(&mut self, gap: Span, left: &JoinedPart, right: &JoinedPart) {
        let before = left.text[..gap.start - left.body.start].chars().next_back();
        let after = right.text[gap.end - right.body.start..].chars().next();
        let closes_tag = after == Some('>') && self.is_tag_end(right.body.start);
        let forbids = closes_tag
            || before.is_none_or(|c| NO_SPACE_AFTER.contains(&c) || c.is_whitespace())
            || after.is_none_or(|c| NO_SPACE_BEFORE.contains(&c));
        let space = if self.between == Between::Nothing || forbids { "" } else { " " };
        self.replace(gap, space);
    }

    /// Whether the bracket at `at` ends a tag.
    fn is_tag_end(&self, at: Byte) -> bool {
        let language = self.syntax.language_at(at);
        let has_tags = language.has_tags();
        has_tags && self.text.char_at(at + 1).is_none_or(|c| !c.is_whitespace() && c != '=' || c == '\n' || c == '\r')
    }

    /// Where `right`'s comment mark ends, if it is a comment line that goes on with a comment before it.
    fn continued_comment(&self, right: &JoinedPart) -> Option<Byte> {
        let text = self.text;
        let skip_space = |at: Byte| at + leading_len(&text.slice(Span::new(at, right.body.end.max(at))));
        if self.open_comment.is_some() {
            let mark = right.pieces().iter().find(|piece| piece.span.start == right.body.start)?;
            let Form::Line(_) = mark.token.form else { return None };
            return Some(skip_space(mark.span.start + self.longest_mark(mark.span)));
        }
        let began_above = right.pieces().first().is_some_and(|piece| {
            piece.token.kind == Kind::Comment && piece.span.start <= right.body.start && !piece.token.opens
        });
        if !began_above {
            return None;
        }
        let starred = right.text.starts_with('*') && !right.text.starts_with("*/");
        starred.then(|| skip_space(right.body.start + 1))
    }

    /// A line comment before code becomes a block comment.
    fn close_comment(&mut self, comment: Piece, line: Line, gap: Span) -> Result<(), Line> {
        let language = self.syntax.language_at(comment.span.start);
        let Some(marks) = language.block.first() else { return Err(line) };
        let inner = Span::new(comment.span.start + self.longest_mark(comment.span), gap.start);
        let has_close = self.text.slice(inner).contains(marks.close.as_str());
        if has_close {
            return Err(line);
        }
        self.replace(Span::new(comment.span.start, inner.start), marks.open.clone());
        let space = if self.between == Between::Nothing { "" } else { " " };
        self.replace(gap, format!(" {}{space}", marks.close));
        Ok(())
    }

    /// The length of the whole mark that the comment at `span` begins with.
    fn longest_mark(&self, span: Span) -> usize {
        whole_mark(&self.text.slice(span), &self.syntax.language_at(span.start))
    }
}

/// The line comment that `part` ends with.
fn trailing_comment(part: &JoinedPart) -> Option<Piece> {
    part.pieces().last().copied().filter(|piece| matches!(piece.token.form, Form::Line(_)))
}
