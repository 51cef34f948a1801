//! What whole lines leave to be put right when they are copied, moved, deleted or put in: commas between elements, and the blank
//! lines between functions, rules and sections.
//!
//! It goes by the lines around those that the verb has changed: an element begins at the indentation of the list, the last one is
//! followed by a closer or by a line further out. Cost: the lines of the elements beside those that changed.

use super::blank_lines::with_blank_lines;
pub use super::line_edit::LineEdit;
use super::line_edit::composed;
use super::looked::{LineElement, Lines, elements_around};
use crate::changes::{Bias, Change, ChangeBuilder, Mapper};
use crate::languages::Language;
use crate::languages::lexical::Lexical;
use crate::text::Text;
use crate::units::{Byte, Cell, Line, Span};
use crate::verbs::scene::{Outcome, Run, Scene};

/// With more runs than this nothing is put right: that many are no elements that a person looks at.
const MOST_RUNS: usize = 64;

/// The outcome of a verb of whole lines, with separators and blank lines as they should be.
#[must_use]
pub fn mended(scene: &Scene, done: LineEdit, outcome: Outcome) -> Outcome {
    if outcome.change.is_empty() || outcome.change.edits().len() > MOST_RUNS * 4 {
        return outcome;
    }
    let runs = match done {
        LineEdit::Opened => scene.runs_with_last(),
        _ => scene.runs(),
    };
    if runs.len() > MOST_RUNS
        || scene.language_at(runs.first().map_or(Byte(0), |run| run.start)).prose && scene.language.heading.is_empty()
    {
        return outcome;
    }
    let outcome = with_separators(scene, done, &runs, outcome);
    saying_of_brackets(scene, done, &runs, with_blank_lines(scene, done, &runs, outcome))
}

/// With more lines than this nothing is said of their brackets.
const MOST_LINES: usize = 400;

/// `outcome`, and that a bracket has no partner now, where the lines that went or were copied hold only one of two.
fn saying_of_brackets(scene: &Scene, done: LineEdit, runs: &[Run], outcome: Outcome) -> Outcome {
    let said = match done {
        LineEdit::Deleted => "a bracket lost its partner",
        LineEdit::CopiedAbove | LineEdit::CopiedBelow => "a bracket is there without its partner",
        LineEdit::Rearranged => "the other bracket of a pair stays where it is",
        LineEdit::PutIn | LineEdit::Opened => return outcome,
    };
    let lines = Lines { text: scene.text, syntax: scene.syntax, tabs: scene.settings.tabs };
    let all = || runs.iter().flat_map(Run::lines);
    let is_in = |line: Line| runs.iter().any(|run| run.first <= line && line <= run.last);
    let parts = |line: Line| lines.partner(line).is_some_and(|partner| !is_in(partner));
    if all().take(MOST_LINES + 1).count() > MOST_LINES || !all().any(parts) {
        return outcome;
    }
    let message = outcome.message.as_ref().map(|message| format!("{message}; {said}"));
    Outcome { message, ..outcome }
}

/// What follows the last element of a list.
#[derive(Clone, Copy)]
enum Terminator {
    /// The last element is not near, so that it stays as it is.
    Unknown,
    Nothing,
    Mark(char),
}

/// What is known of the list that a run is in, before the verb.
struct ListStyle {
    depth: Cell,
    /// What follows the last element.
    terminator: Terminator,
    /// Whether each element but the last has a comma.
    is_required: bool,
}

impl ListStyle {
    /// What should follow an element.
    fn end_of(&self, element: &LineElement, done: LineEdit) -> Terminator {
        match element.is_final {
            false => Terminator::Mark(','),
            true if done == LineEdit::Opened => Terminator::Mark(','),
            true => self.terminator,
        }
    }
}

/// The list whose elements the lines of `run` are.
fn style_of(lines: &Lines, run: &Run, language: &Language) -> Option<ListStyle> {
    let first = (run.first.0..=run.last.0).map(Line).find(|line| lines.is_full(*line))?;
    let depth = lines.depth(first);
    if lines.closes(first) {
        return None;
    }
    let open: i32 = run.lines().map(|line| lines.open_brackets(line)).sum();
    let elements = elements_around(lines, [run.first, run.last], depth);
    let ends: Vec<(Option<char>, bool)> =
        elements.iter().map(|element| (lines.end(element.last).0, element.is_final)).collect();
    let commas = ends.iter().filter(|(end, _)| *end == Some(',')).count();
    let before = lines.above(run.first);
    let opener = before
        .filter(|above| lines.depth(*above) < depth)
        .and_then(|above| lines.code(above).trim_end().chars().next_back());
    let is_only = elements.len() == 1 && elements[0].is_final;
    let is_bracketed = matches!(opener, Some('(' | '[')) || (opener == Some('{') && language.data);
    let is_list = commas > 0 || (is_only && is_bracketed);
    // Statements, and lines that go on with an expression, are none.
    let has_statement = ends.iter().any(|(end, is_final)| *end == Some(';') && !is_final);
    let before_goes_on = before.filter(|above| lines.depth(*above) == depth && !elements.is_empty());
    let is_apart = before_goes_on
        .is_none_or(|above| lines.end(above).0 == Some(',') || lines.code(above).trim_end().ends_with('}'));
    if open != 0 || !is_list || has_statement || !is_apart {
        return None;
    }
    let is_required = ends.iter().all(|(end, is_final)| *end == Some(',') || *is_final);
    let others_end_with_brace = elements.iter().zip(&ends).all(|(element, (end, is_final))| {
        *end == Some(',') || *is_final || lines.code(element.last).trim_end().ends_with('}')
    });
    let terminator = match ends.iter().find(|(_, is_final)| *is_final) {
        None => Terminator::Unknown,
        Some((end, _)) => end.map_or(Terminator::Nothing, Terminator::Mark),
    };
    others_end_with_brace.then_some(ListStyle { depth, terminator, is_required })
}

fn with_separators(scene: &Scene, done: LineEdit, runs: &[Run], outcome: Outcome) -> Outcome {
    let old = Lines { text: scene.text, syntax: scene.syntax, tabs: scene.settings.tabs };
    let language = scene.language_at(runs.first().map_or(Byte(0), |run| run.start));
    if language.blanks_separate || !runs.iter().any(|run| looks_like_list(&old, run)) {
        return outcome;
    }
    let after = scene.text.applied(&outcome.change);
    let lexical = Lexical::new(&language);
    let view = lexical.of(&after);
    let new = Lines { text: &after, syntax: &view, tabs: scene.settings.tabs };
    let mut edits: Vec<(Span, &'static str)> = Vec::new();
    for run in runs {
        // What goes in is among the elements beside it.
        let Some(style) = style_of(&old, run, &language).or_else(|| style_beside(&old, run, &language, done)) else {
            continue;
        };
        let [first, last] = lines_after(scene, &outcome.change, run, &after);
        if done == LineEdit::PutIn && is_no_element(&new, [first, last]) {
            continue;
        }
        let elements = elements_around(&new, [first, last], style.depth);
        // Where the constant with the semicolon of an enum went, the one before it gets that.
        let took_end = done == LineEdit::Deleted && old.end(run.last).0 == Some(';');
        let now_last =
            elements.iter().filter(|element| took_end && element.last < first).map(|each| each.last).next_back();
        for element in &elements {
            let (end, at) = new.end(element.last);
            let element = LineElement { is_final: element.is_final || now_last == Some(element.last), ..*element };
            let wanted = match style.end_of(&element, done) {
                Terminator::Unknown => continue,
                Terminator::Nothing => None,
                Terminator::Mark(mark) => Some(mark),
            };
            let is_brace = new.code(element.last).trim_end().ends_with('}');
            if is_brace
                && end.is_none()
                && !language.arm.is_empty()
                && is_arm(&new, element.last, (style.depth, &language.arm))
            {
                continue;
            }
            if end == wanted
                || (!style.is_required && (is_brace || element.is_final))
                || wanted == Some(';') && end.is_some() && end != Some(',')
            {
                continue;
            }
            let span = Span::new(at, at + end.map_or(0, char::len_utf8));
            let with = wanted.map_or("", |mark| if mark == ',' { "," } else { ";" });
            edits.push((span, with));
        }
    }
    edits.sort_unstable_by_key(|(span, _)| *span);
    edits.dedup_by_key(|(span, _)| *span);
    let mut builder = ChangeBuilder::new(&after);
    edits.iter().for_each(|(span, with)| builder.replace(*span, with));
    let puts_in = edits.iter().any(|(_, with)| !with.is_empty());
    let said = if puts_in { "comma put in" } else { "comma taken out" };
    composed(scene, outcome, &builder.finish(), said)
}

/// Whether lines that were put in are a statement or an attribute, which lists can hold beside their elements.
fn is_no_element(lines: &Lines, [first, last]: [Line; 2]) -> bool {
    let mut full = (first.0..=last.0).map(Line).filter(|line| lines.is_full(*line));
    let (begin, end) = (full.next(), full.next_back());
    let is_attribute = begin.is_some_and(|line| lines.text.content(line).trim_start().starts_with(['#', '@']));
    let code = end.or(begin).map(|line| lines.code(line)).unwrap_or_default();
    code.trim_end().ends_with(';') || (is_attribute && code.trim_end().ends_with([']', ')']))
}

/// Whether the element that ends with `last` is an arm.
fn is_arm(lines: &Lines, last: Line, (depth, arm): (Cell, &str)) -> bool {
    lines.start_of(last, depth).is_some_and(|first| lines.code(first).contains(arm))
        || lines.closes(last) && lines.above(last).is_some_and(|above| is_arm(lines, above, (depth, arm)))
}

/// The list that lines which go in above `run` are put into: `run` closes it.
fn style_beside(lines: &Lines, run: &Run, language: &Language, done: LineEdit) -> Option<ListStyle> {
    if !matches!(done, LineEdit::PutIn | LineEdit::Opened) {
        return None;
    }
    let above = lines.above(run.first)?;
    let depth = lines.depth(above);
    let start = lines.start_of(above, depth)?;
    style_of(lines, &Run { first: start, last: above, start: lines.text.line_start(start), cursors: 0..0 }, language)
}

/// A glance at the lines at the edges of a run: whether they could be elements of a list.
fn looks_like_list(lines: &Lines, run: &Run) -> bool {
    let ends =
        |line: Option<Line>, marks: &[char]| line.is_some_and(|line| lines.code(line).trim_end().ends_with(marks));
    let above = lines.above(run.first);
    lines.closes(run.first)
        || ends(above, &[',', '(', '[', '{'])
        || ends(Some(run.last), &[','])
        || (ends(above, &['}']) && ends(lines.from(run.last.next()), &[',']))
}

/// The lines of the changed text that `run` has become, or that are where it was.
fn lines_after(scene: &Scene, change: &Change, run: &Run, after: &Text) -> [Line; 2] {
    let end = scene.text.line_span(run.last).end;
    let mut mapper = Mapper::new(change);
    let first = mapper.map(run.start, Bias::Before);
    let last = Mapper::new(change).map(end, Bias::After);
    let last_line = after.line_of(last.min(after.end()));
    let is_start = after.line_start(last_line) == last && last > first;
    [after.line_of(first.min(after.end())), if is_start { Line(last_line.0 - 1) } else { last_line }]
}
