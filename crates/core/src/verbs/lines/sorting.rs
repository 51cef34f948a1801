//! Lines in another order, or fewer of them: sorting, dropping repeated ones, turning them round.
//!
//! Runs act by themselves; a line keeps the line end of its place. What is in brackets over several lines goes with the line that
//! opens them, as one. Cost: O(n log n) in the lines of a run.

use crate::changes::{Bias, ChangeBuilder};
use crate::cursors::{CursorSet, Selection};
use crate::text::LineEnd;
use crate::units::{Byte, Line, Span};
use crate::verbs::lines::code::code_of;
use crate::verbs::scene::{Outcome, Run, Scene, counted};
use regex::Regex;
use std::cmp::Ordering;
use std::collections::HashMap;
use std::ops::Range;

/// What is done to the lines of a run, or to the groups of lines that stay together: gives, for each place in the new order, which old line goes there, and
/// for each old line that is dropped the one that stays for it.
struct Ordered {
    order: Vec<usize>,
    /// For each old line, which old line its cursors go along with.
    kept: Vec<usize>,
}

/// Sorts each run by `rule`.
pub fn sort(scene: &Scene, rule: &SortRule) -> Outcome {
    rearrange(scene, "sorted", |lines| {
        let mut order: Vec<usize> = (0..lines.len()).collect();
        order.sort_by(|a, b| rule.compare(&lines[*a], &lines[*b]));
        Ordered { order, kept: (0..lines.len()).collect() }
    })
}

/// Drops lines that are in their run already; the first stays.
pub fn unique(scene: &Scene) -> Outcome {
    rearrange(scene, "dropped", |lines| {
        let mut first: HashMap<&str, usize> = HashMap::new();
        let kept: Vec<usize> = lines.iter().enumerate().map(|(at, line)| *first.entry(line).or_insert(at)).collect();
        Ordered { order: (0..lines.len()).filter(|&at| kept[at] == at).collect(), kept }
    })
}

/// Turns each run round.
pub fn reverse(scene: &Scene) -> Outcome {
    rearrange(scene, "reversed", |lines| Ordered {
        order: (0..lines.len()).rev().collect(),
        kept: (0..lines.len()).collect(),
    })
}

fn rearrange(scene: &Scene, what: &str, by: impl Fn(&[String]) -> Ordered) -> Outcome {
    let text = scene.text;
    let mut builder = ChangeBuilder::new(text);
    let mut list: Vec<Option<Selection>> = vec![None; scene.cursors.len()];
    let mut changed = 0;
    for run in scene.runs() {
        let lines: Vec<String> = run.lines().map(|line| text.content(line).into_owned()).collect();
        let groups = groups_of(scene, &run, &lines);
        let texts: Vec<String> = groups.iter().map(|group| lines[group.clone()].join("\n")).collect();
        let texts = without_separators(texts);
        let ordered = by(&texts).of_lines(&groups);
        if ordered.order.iter().enumerate().all(|(place, old)| place == *old) && ordered.order.len() == lines.len() {
            continue;
        }
        changed += if ordered.order.len() < lines.len() { lines.len() - ordered.order.len() } else { lines.len() };
        let placed = Placed::put(scene, &mut builder, &run, (&lines, &ordered));
        for index in run.cursors.clone() {
            let each = scene.cursors.list()[index];
            list[index] = Some(placed.cursor(scene, each, &run, &ordered));
        }
    }
    let change = builder.finish();
    if change.is_empty() {
        return Outcome::already("nothing to change in the touched lines");
    }
    let elsewhere = scene.cursors.mapped_each(&change, Bias::After);
    let list = list.iter().zip(elsewhere).map(|(own, other)| own.unwrap_or(other)).collect();
    let message = format!("{what} {}", counted(changed, "line"));
    Outcome::edit(change, CursorSet::of(list, scene.cursors.primary_index())).saying(message)
}

/// The texts of a list's elements without the commas that part them, where the last one has none: it is compared with the others.
fn without_separators(texts: Vec<String>) -> Vec<String> {
    let ends = |text: &String| text.trim_end().ends_with(',');
    let is_list = texts.len() > 1 && texts[..texts.len() - 1].iter().all(ends) && !texts.last().is_some_and(ends);
    if !is_list {
        return texts;
    }
    let bare = |text: String| text.trim_end().strip_suffix(',').map_or_else(|| text.clone(), str::to_owned);
    texts.into_iter().map(bare).collect()
}

impl Ordered {
    /// The same of the lines that `groups` consist of.
    fn of_lines(self, groups: &[Range<usize>]) -> Ordered {
        let order = self.order.iter().flat_map(|group| groups[*group].clone()).collect();
        let kept = groups.iter().zip(&self.kept).flat_map(|(group, kept)| {
            let first = groups[*kept].start;
            (0..group.len()).map(move |offset| first + offset)
        });
        Ordered { kept: kept.collect(), order }
    }
}

/// The lines of a run that stay together: one by one, or those in brackets with the line that opens them, where every bracket of
/// the run is closed in it.
fn groups_of(scene: &Scene, run: &Run, lines: &[String]) -> Vec<Range<usize>> {
    let single = || (0..lines.len()).map(|line| line..line + 1).collect();
    if scene.language_at(run.start).prose || !lines.iter().any(|line| line.ends_with(['(', '[', '{', ','])) {
        return single();
    }
    let mut groups: Vec<Range<usize>> = Vec::new();
    let mut depth = 0i32;
    for (index, line) in run.lines().enumerate() {
        match groups.last_mut() {
            Some(group) if depth > 0 => group.end = index + 1,
            _ => groups.push(index..index + 1),
        }
        for c in code_of(scene, line).chars() {
            depth += i32::from("([{".contains(c)) - i32::from(")]}".contains(c));
            if depth < 0 {
                return single();
            }
        }
    }
    if depth == 0 { groups } else { single() }
}

/// Where the lines of a run went.
struct Placed {
    /// For each old line that stays, where it begins now.
    starts: HashMap<usize, Byte>,
    /// The whole run now.
    whole: Span,
    /// Where it ends without its last line end.
    content_end: Byte,
}

impl Placed {
    fn put(scene: &Scene, builder: &mut ChangeBuilder, run: &Run, (lines, ordered): (&[String], &Ordered)) -> Placed {
        let text = scene.text;
        let span = Span::new(text.line_start(run.first), text.line_span(run.last).end);
        let start = builder.now(span.start);
        let mut out = String::with_capacity(span.len());
        let mut starts = HashMap::new();
        let (drops, is_unended) = (ordered.order.len() < run.len(), text.line_end(run.last).is_none());
        for (place, &old) in ordered.order.iter().enumerate() {
            starts.insert(old, start + out.len());
            if old != place {
                builder.note_move(text.content_span(Line(run.first.0 + old)), start + out.len());
            }
            out.push_str(&lines[old]);
            // Contents change places, ends stay; but lines that are dropped take theirs along. The last place keeps the
            // run's last line end, so that a last line without one keeps being one.
            let is_last = place + 1 == ordered.order.len();
            let end_of = match () {
                () if is_last && (!drops || is_unended) => run.last,
                () if drops => Line(run.first.0 + old),
                () => Line(run.first.0 + place),
            };
            out.push_str(text.line_end(end_of).map_or("", LineEnd::as_str));
        }
        builder.replace(span, &out);
        let last_end = if out.ends_with("\r\n") { 2 } else { usize::from(out.ends_with('\n')) };
        Placed { starts, whole: Span::new(start, start + out.len()), content_end: start + (out.len() - last_end) }
    }

    /// A caret goes with its line, a selection over the run covers the run again.
    fn cursor(&self, scene: &Scene, each: Selection, run: &Run, ordered: &Ordered) -> Selection {
        let place = |at: Byte| {
            let line = scene.text.line_of(at);
            if line > run.last {
                return self.whole.end;
            }
            let offset = at - scene.text.line_start(line);
            self.starts.get(&ordered.kept[line.0 - run.first.0]).map_or(self.whole.start, |start| *start + offset)
        };
        let is_one_line = scene.text.line_of(each.start()) == scene.text.line_of(each.end());
        if each.is_caret() || is_one_line {
            return Selection::new(place(each.anchor), place(each.head)).aged(each.born);
        }
        let takes_last_end = each.end() > scene.text.content_span(run.last).end;
        let end = if takes_last_end { self.whole.end } else { self.content_end };
        Selection::over(Span::new(self.whole.start, end), each.direction()).aged(each.born)
    }
}

/// How lines are compared.
#[derive(Clone, Debug, Default)]
pub struct SortRule {
    /// The last comes first.
    pub descending: bool,
    /// By code points, upper case before lower case, digits one by one.
    pub by_code_points: bool,
    /// What of a line is compared: its first match of this.
    pub key: Option<Regex>,
}

impl SortRule {
    /// What of a line is compared: the pattern's first group, else all that it matches, else the line.
    fn key<'l>(&self, line: &'l str) -> &'l str {
        let Some(found) = self.key.as_ref().and_then(|key| key.captures(line)) else { return line };
        found.get(1).or(found.get(0)).map_or(line, |group| group.as_str())
    }

    fn compare(&self, a: &str, b: &str) -> Ordering {
        let (a, b) = (self.key(a), self.key(b));
        let order = if self.by_code_points { a.cmp(b) } else { natural(a, b) };
        if self.descending { order.reverse() } else { order }
    }
}

/// A part of a line as natural order sees it.
#[derive(Debug, PartialEq, Eq, PartialOrd, Ord)]
enum KeyPart {
    /// A number: how long it is without its leading zeros, and its digits.
    Number(usize, String),
    /// Any other character, in lower case.
    Other(char),
}

fn parts(line: &str) -> Vec<KeyPart> {
    let mut parts = Vec::new();
    let lower: String = line.to_lowercase();
    let mut rest = lower.as_str();
    while let Some(c) = rest.chars().next() {
        let digits = rest.len() - rest.trim_start_matches(|c: char| c.is_ascii_digit()).len();
        if digits > 0 {
            let value = rest[..digits].trim_start_matches('0');
            parts.push(KeyPart::Number(value.len(), value.to_owned()));
            rest = &rest[digits..];
        } else {
            parts.push(KeyPart::Other(c));
            rest = &rest[c.len_utf8()..];
        }
    }
    parts
}

/// Lower-cased text by code points with runs of digits by value; then lower case first, then fewer zeros.
fn natural(a: &str, b: &str) -> Ordering {
    let by_part = |a: &KeyPart, b: &KeyPart| match (a, b) {
        (KeyPart::Other(c), KeyPart::Number(..)) => c.cmp(&'0'),
        (KeyPart::Number(..), KeyPart::Other(c)) => '0'.cmp(c),
        _ => a.cmp(b),
    };
    let (left, right) = (parts(a), parts(b));
    let different = left.iter().zip(&right).map(|(a, b)| by_part(a, b)).find(|order| order.is_ne());
    different
        .unwrap_or_else(|| left.len().cmp(&right.len()))
        .then_with(|| lower_first(a, b))
        .then_with(|| a.len().cmp(&b.len()))
}

fn lower_first(a: &str, b: &str) -> Ordering {
    let letters = |line: &str| line.chars().filter(|c| c.is_alphabetic()).map(char::is_uppercase).collect::<Vec<_>>();
    letters(a).cmp(&letters(b))
}
