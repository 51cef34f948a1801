//! What whole lines leave to be put right when they are copied, moved, deleted or put in: commas between elements, and the blank
//! lines between functions, rules and sections.
//!
//! It goes by the lines around those that the verb has changed: an element begins at the indentation of the list, the last one is
//! followed by a closer or by a line further out. Cost: the lines of the elements beside those that changed.

use crate::changes::{Bias, Change, ChangeBuilder, Mapper};
use crate::languages::Language;
use crate::languages::lexical::{Lexical, Syntax};
use crate::text::Text;
use crate::text::cells::TabWidth;
use crate::units::{Byte, Cell, Line, Span};
use crate::verbs::lines::code::{code_in, is_comment_in};
use crate::verbs::scene::{Outcome, Run, Scene};
use std::sync::Arc;

/// What a verb has done with whole lines.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum LineEdit {
    /// A copy of each run is above it.
    CopiedAbove,
    /// A copy of each run is below it.
    CopiedBelow,
    /// The runs are gone.
    Deleted,
    /// Lines are in another order, or some of them are gone.
    Rearranged,
    /// Lines were put in.
    PutIn,
    /// An empty line was opened below each run.
    Opened,
}

/// With more runs than this nothing is put right: that many are no elements that a person looks at.
const MOST_RUNS: usize = 64;

/// Lines that are looked at in each direction for where an element begins or ends.
const REACH: usize = 400;

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
    if runs.len() > MOST_RUNS || scene.language_at(runs.first().map_or(Byte(0), |run| run.start)).prose && scene.language.heading.is_empty() {
        return outcome;
    }
    let outcome = with_separators(scene, done, &runs, outcome);
    with_blank_lines(scene, done, &runs, outcome)
}

/// A text whose lines are looked at.
struct Lines<'a> {
    text: &'a Text,
    syntax: &'a dyn Syntax,
    tabs: TabWidth,
}

impl Lines<'_> {
    fn depth(&self, line: Line) -> Cell {
        self.text.depth_of(line, self.tabs)
    }

    fn code(&self, line: Line) -> String {
        code_in((self.text, self.syntax), line)
    }

    /// Whether a line has something that is no comment.
    fn is_full(&self, line: Line) -> bool {
        !self.text.is_blank(line) && !is_comment_in((self.text, self.syntax), line)
    }

    fn closes(&self, line: Line) -> bool {
        self.code(line).trim_start().starts_with([')', ']', '}'])
    }

    /// Whether `line`, which is beside a stretch that is `depth` deep, is of something over several lines: the end of it, its head, or
    /// what is attached to its head.
    fn is_beside_construct(&self, line: Line, depth: Cell) -> bool {
        let below = (line.0 + 1..self.text.real_line_count()).map(Line).find(|below| self.is_full(*below));
        let opens = below.is_some_and(|below| self.depth(below) > self.depth(line));
        let is_attached = !self.is_full(line) || self.text.content(line).trim_start().starts_with(['@', '#']);
        self.depth(line) > depth || self.closes(line) || opens || is_attached
    }

    /// The full line nearest above `line`.
    fn above(&self, line: Line) -> Option<Line> {
        (0..line.0).rev().take(REACH).map(Line).find(|line| self.is_full(*line))
    }

    /// The full line nearest from `line` on.
    fn from(&self, line: Line) -> Option<Line> {
        (line.0..self.text.real_line_count()).take(REACH).map(Line).find(|line| self.is_full(*line))
    }

    /// The line at which the element begins whose last line is `line`; none where that is further out than `depth`.
    fn start_of(&self, line: Line, depth: Cell) -> Option<Line> {
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
    fn end(&self, line: Line) -> (Option<char>, Byte) {
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
struct LineElement {
    /// Its last line with code.
    last: Line,
    /// Whether none follows it.
    is_final: bool,
}

/// The elements at `depth` whose lines touch those from `first` to `last`, with one before and one after them.
fn elements_around(lines: &Lines, [first, last]: [Line; 2], depth: Cell) -> Vec<LineElement> {
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
        if own < depth || (own == depth && lines.closes(line) && end.is_none_or(|end| !opens_deeper(lines, end, line))) {
            found.extend(end.take().map(|last| LineElement { last, is_final: true }));
            return found;
        }
        if own == depth && !lines.closes(line) {
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
        for c in lines.code(above).chars() {
            depth += i32::from("([{".contains(c)) - i32::from(")]}".contains(c));
        }
        if lines.depth(above) == lines.depth(line) {
            return depth > 0;
        }
        at = lines.above(above);
    }
    false
}

/// What is known of the list that a run is in, before the verb.
struct ListStyle {
    depth: Cell,
    /// What follows the last element; none where the last element is not near, so that it stays as it is.
    terminator: Option<Option<char>>,
    /// Whether each element but the last has a comma.
    is_required: bool,
}

/// The list whose elements the lines of `run` are.
fn style_of(lines: &Lines, run: &Run, language: &Language) -> Option<ListStyle> {
    let first = (run.first.0..=run.last.0).map(Line).find(|line| lines.is_full(*line))?;
    let depth = lines.depth(first);
    if lines.closes(first) {
        return None;
    }
    let mut open = 0i32;
    for line in run.lines() {
        open += lines.code(line).chars().map(|c| i32::from("([{".contains(c)) - i32::from(")]}".contains(c))).sum::<i32>();
    }
    let elements = elements_around(lines, [run.first, run.last], depth);
    let ends: Vec<(Option<char>, bool)> =
        elements.iter().map(|element| (lines.end(element.last).0, element.is_final)).collect();
    let commas = ends.iter().filter(|(end, _)| *end == Some(',')).count();
    let before = lines.above(run.first);
    let opener = before.filter(|above| lines.depth(*above) < depth).and_then(|above| lines.code(above).trim_end().chars().next_back());
    let is_only = elements.len() == 1 && elements[0].is_final;
    let is_bracketed = matches!(opener, Some('(' | '[')) || (opener == Some('{') && language.data);
    let is_list = commas > 0 || (is_only && is_bracketed);
    // Statements, and lines that go on with an expression, are none.
    let has_statement = ends.iter().any(|(end, is_final)| *end == Some(';') && !is_final);
    let before_goes_on = before.filter(|above| lines.depth(*above) == depth && !elements.is_empty());
    let is_apart = before_goes_on.is_none_or(|above| lines.end(above).0 == Some(',') || lines.code(above).trim_end().ends_with('}'));
    if open != 0 || !is_list || has_statement || !is_apart {
        return None;
    }
    let is_required = ends.iter().all(|(end, is_final)| *end == Some(',') || *is_final);
    let others_end_with_brace = elements.iter().zip(&ends).all(|(element, (end, is_final))| {
        *end == Some(',') || *is_final || lines.code(element.last).trim_end().ends_with('}')
    });
    let terminator = ends.iter().find(|(_, is_final)| *is_final).map(|(end, _)| *end);
    others_end_with_brace.then_some(ListStyle { depth, terminator, is_required })
}

fn with_separators(scene: &Scene, done: LineEdit, runs: &[Run], outcome: Outcome) -> Outcome {
    let old = Lines { text: scene.text, syntax: scene.syntax, tabs: scene.settings.tabs };
    let language = scene.language_at(runs.first().map_or(Byte(0), |run| run.start));
    if !runs.iter().any(|run| looks_like_list(&old, run)) {
        return outcome;
    }
    let after = scene.text.applied(&outcome.change);
    let lexical = Lexical::new(&language);
    let view = lexical.of(&after);
    let new = Lines { text: &after, syntax: &view, tabs: scene.settings.tabs };
    let mut edits: Vec<(Span, &'static str)> = Vec::new();
    for run in runs {
        // What goes in is among the elements beside it.
        let Some(style) = style_of(&old, run, &language).or_else(|| style_beside(&old, run, &language, done)) else { continue };
        let [first, last] = lines_after(scene, &outcome.change, run, &after);
        let elements = elements_around(&new, [first, last], style.depth);
        for element in &elements {
            let (end, at) = new.end(element.last);
            let wanted = match (element.is_final, style.terminator) {
                (true, _) if done == LineEdit::Opened => Some(','),
                (true, None) => continue,
                (true, Some(terminator)) => terminator,
                (false, _) => Some(','),
            };
            let is_brace = new.code(element.last).trim_end().ends_with('}');
            if is_brace && end.is_none() && !language.arm.is_empty() && is_arm(&new, element.last, (style.depth, &language.arm)) {
                continue;
            }
            if end == wanted || (!style.is_required && (is_brace || element.is_final)) || wanted == Some(';') && end.is_some() && end != Some(',') {
                continue;
            }
            let span = Span::new(at, at + end.map_or(0, char::len_utf8));
            edits.push((span, match wanted {
                Some(',') => ",",
                Some(_) => ";",
                None => "",
            }));
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
    let ends = |line: Option<Line>, marks: &[char]| line.is_some_and(|line| lines.code(line).trim_end().ends_with(marks));
    let above = lines.above(run.first);
    lines.closes(run.first) || ends(above, &[',', '(', '[', '{']) || ends(Some(run.last), &[',']) || (ends(above, &['}']) && ends(lines.from(run.last.next()), &[',']))
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

/// `outcome` and then `second`, as one change.
fn composed(scene: &Scene, outcome: Outcome, second: &Change, said: &str) -> Outcome {
    if second.is_empty() {
        return outcome;
    }
    let change = outcome.change.then(scene.text, second);
    let cursors = outcome.cursors.map(|cursors| {
        let mapped = cursors.mapped_each(second, Bias::Before);
        let list = cursors.iter().zip(mapped).map(|(old, new)| crate::cursors::Selection { goal_anchor: old.goal_anchor, goal_head: old.goal_head, ..new });
        crate::cursors::CursorSet::of(list.collect(), cursors.primary_index()).taking_as(&cursors)
    });
    let message = outcome.message.map(|message| if said.is_empty() { message } else { format!("{message}; {said}") });
    // Lines that a verb goes on with are those of these cursors.
    let kept_lines = outcome.kept_lines.zip(cursors.as_ref()).map(|(kept, after)| crate::verbs::scene::KeptLines { after: after.clone(), ..kept });
    Outcome { change, cursors, message, kept_lines, ..outcome }
}

/// Whether the lines of `run` are something over several lines that begins and ends there: a function, a rule, a section.
fn is_construct(lines: &Lines, run: &Run, language: &Arc<Language>) -> bool {
    let full = |line: &Line| lines.is_full(*line);
    let (Some(first), Some(last)) = (run.lines().find(full), run.lines().rfind(full)) else { return false };
    if !language.heading.is_empty() {
        return lines.text.content(first).starts_with(&language.heading);
    }
    let depth = lines.depth(first);
    if last == first || lines.closes(first) || run.lines().any(|line| lines.is_full(line) && lines.depth(line) < depth) {
        return false;
    }
    let starts = run.lines().filter(|line| lines.is_full(*line) && lines.depth(*line) == depth);
    let heads: Vec<Line> = starts.filter(|line| !lines.closes(*line) && !is_second_part(lines, *line)).collect();
    let code = lines.code(first);
    let word: String = code.trim_start().chars().take_while(|c| c.is_alphanumeric() || *c == '_').collect();
    let is_attribute = |line: &Line| lines.text.content(*line).trim_start().starts_with(['@', '#', '[']);
    // One head, with decorators and attributes above it, and a brace alone on the line below it.
    let is_one = heads.iter().filter(|line| !is_attribute(line) && lines.code(**line).trim() != "{").count() == 1;
    let is_loop = ["if", "for", "while", "switch", "try", "match", "else", "with", "do", "loop", "case", "return"].contains(&word.as_str());
    is_one && !is_loop && !code.trim_end().ends_with(['(', '[', ',']) && !lines.code(last).trim_end().ends_with(',')
}

fn is_second_part(lines: &Lines, line: Line) -> bool {
    let code = lines.code(line);
    let word: String = code.trim_start().chars().take_while(|c| c.is_alphanumeric() || *c == '_').collect();
    matches!(word.as_str(), "end" | "else" | "catch" | "finally" | "rescue" | "ensure" | "elif" | "except")
}

/// Blank lines right above and right below a stretch of lines, and whether a neighbour is beyond them.
fn blanks_beside(lines: &Lines, [first, last]: [Line; 2], depth: Cell) -> [(usize, bool); 2] {
    let text = lines.text;
    let above = (0..first.0).rev().map(Line).take_while(|line| text.is_blank(*line)).count();
    let below = (last.0 + 1..text.real_line_count()).map(Line).take_while(|line| text.is_blank(*line)).count();
    let is_beside = |line: Option<Line>| line.is_some_and(|line| lines.depth(line) >= depth);
    let over = first.0.checked_sub(above + 1).map(Line);
    let under = Some(Line(last.0 + below + 1)).filter(|line| line.0 < text.real_line_count());
    let closes = under.is_some_and(|line| lines.closes(line) || (is_second_part(lines, line) && lines.depth(line) < depth));
    [(above, is_beside(over)), (below, is_beside(under) && !closes)]
}

fn with_blank_lines(scene: &Scene, done: LineEdit, runs: &[Run], outcome: Outcome) -> Outcome {
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
                    (true, _) if below > 0 => (Span::new(start, after.line_start(Line((line.0 + below).min(after.last_line().0)))), String::new()),
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
        let (Some(first), Some(last)) = (inside().next(), inside().last()) else { return };
        let run = Run { first, last, start: self.after.line_start(first), cursors: 0..0 };
        if first == last || !is_construct(&new, &run, self.language) {
            return;
        }
        let depth = new.depth(first);
        let [(above, has_above), (below, has_below)] = blanks_beside(&new, [first, last], depth);
        let there = self.old.text.is_blank(self.run.first);
        let [(old_above, old_has_above), (old_below, old_has_below)] =
            blanks_beside(self.old, [self.run.first, self.run.first], depth);
        let usual = if depth == Cell(0) { self.language.top_level_blanks.max(1) } else { 1 };
        let wanted = match there {
            true if old_has_above && old_has_below => old_above + 1 + old_below,
            false if old_has_above => old_above,
            _ => usual,
        };
        let end = scene.settings.line_end.as_str();
        let beside = |line: Option<Line>| line.is_some_and(|line| new.is_beside_construct(line, depth));
        let over = (0..first.0).rev().map(Line).find(is_full);
        let under = (last.0 + 1..self.after.real_line_count()).map(Line).find(is_full);
        if has_above && beside(over) {
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
