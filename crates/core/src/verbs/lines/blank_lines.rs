//! The blank lines between functions, rules and sections, as they should be after a verb of lines.

use super::line_edit::{LineEdit, composed};
use super::looked::Lines;
use crate::changes::{Bias, Change, ChangeBuilder, Mapper};
use crate::languages::Language;
use crate::languages::lexical::Lexical;
use crate::text::Text;
use crate::units::{Byte, Cell, Line, Span};
use crate::verbs::scene::{Outcome, Run, Scene};
use std::sync::Arc;

/// Whether the lines of `run` are something over several lines that begins and ends there: a function, a rule, a section.
fn is_construct(lines: &Lines, run: &Run, language: &Arc<Language>) -> bool {
    let full = |line: &Line| lines.is_full(*line);
    let (Some(first), Some(last)) = (run.lines().find(full), run.lines().rfind(full)) else { return false };
    if !language.heading.is_empty() {
        return lines.text.content(first).starts_with(&language.heading);
    }
    let depth = lines.depth(first);
    if last == first || lines.closes(first) || run.lines().any(|line| lines.is_full(line) && lines.depth(line) < depth)
    {
        return false;
    }
    let ends = language.offside || lines.closes(last) || is_second_part(lines, last);
    let starts = run.lines().filter(|line| lines.is_full(*line) && lines.depth(*line) == depth);
    let heads: Vec<Line> = starts.filter(|line| !lines.closes(*line) && !is_second_part(lines, *line)).collect();
    let code = lines.code(first);
    let word: String = code.trim_start().chars().take_while(|c| c.is_alphanumeric() || *c == '_').collect();
    // A rule of a style sheet begins with the same mark as a decorator.
    let opens_body = |line: Line| {
        let code = lines.code(line);
        code.trim_end().ends_with('{') && !code.trim_end().ends_with("({")
    };
    let is_attribute =
        |line: &Line| lines.text.content(*line).trim_start().starts_with(['@', '#', '[']) && !opens_body(*line);
    // One head, with decorators and attributes above it, and a brace alone on the line below it.
    let is_one = heads.iter().filter(|line| !is_attribute(line) && lines.code(**line).trim() != "{").count() == 1;
    let is_loop =
        ["if", "for", "while", "switch", "try", "match", "else", "with", "do", "loop", "case", "return", "unsafe"]
            .contains(&word.as_str());
    // Inside of a function a value over several lines is a statement among others.
    let is_value = depth > Cell(0) && code.split('(').next().is_some_and(|head| head.contains('='));
    ends && is_one
        && !is_loop
        && !is_value
        && !code.trim_end().ends_with(['(', '[', ','])
        && !lines.code(last).trim_end().ends_with(',')
}

fn is_second_part(lines: &Lines, line: Line) -> bool {
    let code = lines.code(line);
    let word: String = code.trim_start().chars().take_while(|c| c.is_alphanumeric() || *c == '_').collect();
    matches!(
        word.as_str(),
        "end"
            | "else"
            | "catch"
            | "finally"
            | "rescue"
            | "ensure"
            | "elif"
            | "elsif"
            | "elseif"
            | "except"
            | "fi"
            | "done"
            | "esac"
    )
}

/// Blank lines right above and right below a stretch of lines, and whether a neighbour is beyond them.
fn blanks_beside(lines: &Lines, [first, last]: [Line; 2], depth: Cell) -> [(usize, bool); 2] {
    let text = lines.text;
    let above = (0..first.0).rev().map(Line).take_while(|line| text.is_blank(*line)).count();
    let below = (last.0 + 1..text.real_line_count()).map(Line).take_while(|line| text.is_blank(*line)).count();
    let is_beside = |line: Option<Line>| line.is_some_and(|line| lines.depth(line) >= depth);
    let over = first.0.checked_sub(above + 1).map(Line);
    let under = Some(Line(last.0 + below + 1)).filter(|line| line.0 < text.real_line_count());
    let closes =
        under.is_some_and(|line| lines.closes(line) || (is_second_part(lines, line) && lines.depth(line) < depth));
    [(above, is_beside(over)), (below, is_beside(under) && !closes)]
}

/// Whether `head` is a key with its value behind it or below it.
fn is_key(head: &str) -> bool {
    head.split_once(':').is_some_and(|(key, _)| !key.trim().contains([' ', '(']))
}

/// Whether `head` is nothing but a name before a brace: a value of that type, or a call with a closure. Rules of style sheets begin
/// with a mark.
fn is_name(head: &str) -> bool {
    let name = head.strip_suffix('{').map(str::trim_end).unwrap_or_default();
    !name.is_empty()
        && name.chars().all(|c| c.is_alphanumeric() || "_:!".contains(c))
        && name.contains(|c: char| c.is_uppercase() || c == '!')
}

/// Lines that are looked at above and below for a gap between siblings.
const GAP_LINES: usize = 300;

/// The blank lines after the nearest thing over several lines beside these lines, where a sibling follows it.
fn gap_of_siblings(lines: &Lines, [first, last]: [Line; 2], depth: Cell) -> Option<usize> {
    let is_inside = |line: &Line| !lines.is_full(*line) || lines.depth(*line) >= depth;
    let gap_after = |[line, next]: [Line; 2]| {
        let ends = lines.depth(line) > depth || lines.closes(line);
        let begins = lines.depth(next) == depth
            && !lines.closes(next)
            && !is_second_part(lines, next)
            && lines.code(next).trim() != "{";
        let blank = (line.0 + 1..next.0).map(Line).take_while(|line| lines.text.is_blank(*line));
        (ends && begins).then(|| blank.count())
    };
    let is_full = |line: &Line| lines.is_full(*line);
    let above: Vec<Line> = (0..first.0).rev().map(Line).take(GAP_LINES).take_while(is_inside).filter(is_full).collect();
    let end = lines.text.real_line_count();
    let below: Vec<Line> = (last.0 + 1..end).map(Line).take(GAP_LINES).take_while(is_inside).filter(is_full).collect();
    let gap_above = above.windows(2).find_map(|pair| gap_after([pair[1], pair[0]]));
    gap_above.or_else(|| below.windows(2).find_map(|pair| gap_after([pair[0], pair[1]])))
}

/// `outcome` with the blank lines that the neighbours of what it changed need.
pub fn with_blank_lines(scene: &Scene, done: LineEdit, runs: &[Run], outcome: Outcome) -> Outcome {
    let old = Lines { text: scene.text, syntax: scene.syntax, tabs: scene.settings.tabs };
    let language = scene.language_at(runs.first().map_or(Byte(0), |run| run.start));
    let after = scene.text.applied(&outcome.change);
    let end = scene.settings.line_end.as_str();
    let mut builder = ChangeBuilder::new(&after);
    let mut reach = Byte(0);
    for run in runs {
        if done == LineEdit::PutIn {
            let own = Pasted { old: &old, after: &after, run, change: &outcome.change, language: &language };
            own.blank_lines(scene, &mut builder);
            continue;
        }
        if matches!(done, LineEdit::Rearranged | LineEdit::Opened) || !is_construct(&old, run, &language) {
            continue;
        }
        let Some(first_full) = run.lines().find(|line| old.is_full(*line)) else { continue };
        let depth = old.depth(first_full);
        let [(above, has_above), (below, has_below)] = blanks_beside(&old, [run.first, run.last], depth);
        let share = match (has_below, has_above) {
            (true, _) => below,
            (false, true) => above,
            (false, false) => 0,
        };
        let edges_are_blank = old.text.is_blank(run.first) || old.text.is_blank(run.last);
        let start = Mapper::new(&outcome.change).map(run.start, Bias::Before);
        let behind = Mapper::new(&outcome.change).map(scene.text.line_span(run.last).end, Bias::Before);
        let (span, with) = match done {
            _ if edges_are_blank => continue,
            LineEdit::CopiedBelow => (Span::at(with_line_end(&after, behind)), end.repeat(share)),
            LineEdit::CopiedAbove => {
                let at = Mapper::new(&outcome.change).map(run.start, Bias::After);
                (Span::at(at), end.repeat(share))
            }
            LineEdit::Deleted => {
                let line = after.line_of(start.min(after.end()));
                match (has_below, has_above) {
                    (true, _) if below > 0 => (
                        Span::new(start, after.line_start(Line((line.0 + below).min(after.last_line().0)))),
                        String::new(),
                    ),
                    (false, true) if above > 0 => {
                        let from = after.line_start(Line(line.0.saturating_sub(above)));
                        (Span::new(from, start), String::new())
                    }
                    _ => continue,
                }
            }
            LineEdit::Rearranged | LineEdit::PutIn | LineEdit::Opened => continue,
        };
        if span.start >= reach && after.slice(span).trim().is_empty() {
            reach = span.end;
            builder.replace(span, &with);
        }
    }
    let second = builder.finish();
    composed(scene, outcome, &second, "")
}

/// Lines that were put in where a run is.
struct Pasted<'a> {
    old: &'a Lines<'a>,
    after: &'a Text,
    run: &'a Run,
    change: &'a Change,
    language: &'a Arc<Language>,
}

impl Pasted<'_> {
    /// Puts in the blank lines that what was pasted lacks between it and its neighbours, where it is a function or the like.
    fn blank_lines(&self, scene: &Scene, builder: &mut ChangeBuilder) {
        let lexical = Lexical::new(self.language);
        let view = lexical.of(self.after);
        let new = Lines { text: self.after, syntax: &view, tabs: scene.settings.tabs };
        let Some(span) = self.put_in() else { return };
        let is_full = |line: &Line| !self.after.is_blank(*line);
        let all = || (self.after.line_of(span.start).0..=self.after.line_of(span.end).0).map(Line);
        let inside = || all().filter(|line| is_full(line) && self.after.line_start(*line) < span.end);
        let (Some(first), Some(last)) = (inside().next(), inside().next_back()) else { return };
        let run = Run { first, last, start: self.after.line_start(first), cursors: 0..0 };
        if first == last || !is_construct(&new, &run, self.language) {
            return;
        }
        let depth = new.depth(first);
        let [(above, has_above), (below, has_below)] = blanks_beside(&new, [first, last], depth);
        let there = self.old.text.is_blank(self.run.first);
        let [(old_above, old_has_above), (old_below, old_has_below)] =
            blanks_beside(self.old, [self.run.first, self.run.first], depth);
        let (head, end) = (new.code(first), new.code(last));
        // A value, a property or a call has gaps only where its siblings have.
        let is_value = head.rsplit_once(" = ").is_some_and(|(_, value)| !value.contains(')'))
            || head.trim_start().starts_with(['"', '\'', '-'])
            || (self.language.offside && is_key(head.trim()))
            || (depth > Cell(0) && is_name(head.trim()))
            || end.contains(')')
            || (new.closes(last) && end.trim().len() > 2);
        let usual = gap_of_siblings(&new, [first, last], depth).unwrap_or(match () {
            () if is_value => 0,
            () if depth == Cell(0) => self.language.top_level_blanks.max(1),
            () => 1,
        });
        if is_value && there {
            // It was put at a line that was made for it.
            return;
        }
        let wanted = match there {
            true if old_has_above && old_has_below => {
                // A line that was made in the gap to paste at is none of it.
                (old_above + 1 + old_below).min(usual.max(old_above).max(old_below))
            }
            false if old_has_above => old_above,
            _ => usual,
        };
        let end = scene.settings.line_end.as_str();
        let directive = self.language.structure.as_ref().map_or("", |structure| structure.directive.as_str());
        let is_directive = |line: Line| !directive.is_empty() && self.after.content(line).starts_with(directive);
        let beside =
            |line: Option<Line>| line.is_some_and(|line| new.is_beside_construct(line, depth) && !is_directive(line));
        let over = (0..first.0).rev().map(Line).find(is_full);
        let under = (last.0 + 1..self.after.real_line_count()).map(Line).find(is_full);
        // A comment or an attribute right above belongs to what was put in.
        let is_own = above == 0 && over.is_some_and(|line| new.is_attached(line));
        if has_above && !is_own && beside(over) {
            builder.insert(self.after.line_start(first), &end.repeat(wanted.saturating_sub(above)));
        }
        if has_below && beside(under) {
            builder.insert(self.after.line_span(last).end, &end.repeat(wanted.saturating_sub(below)));
        }
    }

    /// What was put in at the run.
    fn put_in(&self) -> Option<Span> {
        let own = Span::new(self.run.start, self.old.text.line_span(self.run.last).end);
        let edit = self.change.edits().iter().find(|edit| own.start <= edit.start() && edit.end() <= own.end)?;
        let start = Mapper::new(self.change).map(edit.start(), Bias::Before);
        Some(Span::new(start, start + edit.inserted_len()))
    }
}

/// `at`, or behind the line end that is put in right there before a copy of an unterminated line.
fn with_line_end(text: &Text, at: Byte) -> Byte {
    let is_start = text.line_start(text.line_of(at)) == at;
    if is_start { at } else { text.line_span(text.line_of(at)).end }
}
