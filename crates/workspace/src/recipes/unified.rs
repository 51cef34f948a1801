//! What a run changed in a file, as a unified diff that `patch` and `git apply` take.
//!
//! The form is that of POSIX `diff -u` (IEEE Std 1003.1, "Diff -u Output Format"), with three lines of context. Only what a run has
//! touched is compared, so that the same run gives the same bytes on every machine. Cost: linear in the lines that were touched, and in
//! the square of those that differ in one stretch, up to [`MOST_COMPARED`].

use super::applying::Applied;
use similar::{Algorithm, DiffOp, DiffTag, capture_diff_slices};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Line, Span};
use snarvel_files::load::{Encoding, encode};
use std::ops::Range;

/// Lines shown before and after what differs.
const CONTEXT: usize = 3;

/// A stretch with more lines, of before and of now, is shown as a whole.
const MOST_COMPARED: usize = 4_000;

/// A run of lines that were replaced: those of before, those of now.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Replaced {
    before: Range<usize>,
    now: Range<usize>,
}

/// The runs of lines that a run has changed, in order.
#[must_use]
pub fn replaced(applied: &Applied) -> Vec<Replaced> {
    replaced_in(applied.before(), applied.now().text(), applied.differing().map(|each| (each.now, each.before)))
}

/// The runs of lines that differ from `before` to `now`, which differ in these stretches at most: where each is now, and was before.
#[must_use]
pub fn replaced_in(before: &Text, now: &Text, differing: impl Iterator<Item = (Span, Span)>) -> Vec<Replaced> {
    let mut regions: Vec<Replaced> = Vec::new();
    for (is, was) in differing {
        let region = Replaced { before: lines_of(before, was), now: lines_of(now, is) };
        match regions.last_mut() {
            Some(last) if region.before.start <= last.before.end || region.now.start <= last.now.end => {
                last.before.end = last.before.end.max(region.before.end);
                last.now.end = last.now.end.max(region.now.end);
            }
            _ => regions.push(region),
        }
    }
    regions.iter().flat_map(|region| compared(before, now, region)).collect()
}

/// The lines in which `span` begins and ends, and those between.
fn lines_of(text: &Text, span: Span) -> Range<usize> {
    let real = text.lines_in_file();
    let [first, last] = [span.start, span.end].map(|at| text.line_of(at).0);
    first.min(real)..(last + 1).min(real)
}

/// The runs that differ within a region.
fn compared(before: &Text, now: &Text, region: &Replaced) -> Vec<Replaced> {
    let lines = |text: &Text, range: &Range<usize>| -> Vec<String> {
        range.clone().map(|line| text.slice(text.line_span(Line(line))).into_owned()).collect()
    };
    let (old, new) = (lines(before, &region.before), lines(now, &region.now));
    let start = old.iter().zip(&new).take_while(|(one, other)| one == other).count();
    let [old_rest, new_rest] = [&old[start..], &new[start..]];
    let end = old_rest.iter().rev().zip(new_rest.iter().rev()).take_while(|(one, other)| one == other).count();
    let [old_part, new_part] = [&old_rest[..old_rest.len() - end], &new_rest[..new_rest.len() - end]];
    let at = |op: &DiffOp| {
        let from = |base: usize, range: Range<usize>| base + start + range.start..base + start + range.end;
        Replaced { before: from(region.before.start, op.old_range()), now: from(region.now.start, op.new_range()) }
    };
    if old_part.is_empty() && new_part.is_empty() {
        return Vec::new();
    }
    if old_part.len() + new_part.len() > MOST_COMPARED {
        return vec![at(&DiffOp::Replace {
            old_index: 0,
            old_len: old_part.len(),
            new_index: 0,
            new_len: new_part.len(),
        })];
    }
    let mut runs: Vec<Replaced> = Vec::new();
    for op in capture_diff_slices(Algorithm::Myers, old_part, new_part).iter().filter(|op| op.tag() != DiffTag::Equal) {
        let run = at(op);
        match runs.last_mut() {
            Some(last) if last.before.end == run.before.start && last.now.end == run.now.start => {
                (last.before.end, last.now.end) = (run.before.end, run.now.end);
            }
            _ => runs.push(run),
        }
    }
    runs
}

/// The diff of the file called `name`, in the file's own bytes.
#[must_use]
pub fn unified(applied: &Applied, name: &str, runs: &[Replaced]) -> Vec<u8> {
    let encoding = applied.now().saved.encoding;
    let [old_name, new_name] = ["a/", "b/"].map(|side| quoted(&format!("{side}{name}")));
    if matches!(encoding, Encoding::Utf16Little | Encoding::Utf16Big) {
        return format!("Files {old_name} and {new_name} differ: UTF-16 is not shown in a diff\n").into_bytes();
    }
    let mut out = format!("--- {old_name}\n+++ {new_name}\n").into_bytes();
    let [before, now] = [applied.before(), applied.now().text()].map(|text| Side { text, encoding });
    let mut rest = runs;
    while !rest.is_empty() {
        let near = |pair: &[Replaced]| pair[1].before.start - pair[0].before.end <= 2 * CONTEXT;
        let count = 1 + rest.windows(2).take_while(|pair| near(pair)).count();
        hunk(&mut out, [&before, &now], &rest[..count]);
        rest = &rest[count..];
    }
    out
}

fn hunk(out: &mut Vec<u8>, [before, now]: [&Side; 2], runs: &[Replaced]) {
    let [first, last] = [&runs[0], &runs[runs.len() - 1]];
    let head = first.before.start.min(CONTEXT);
    let tail = (before.text.lines_in_file() - last.before.end).min(CONTEXT);
    let old = first.before.start - head..last.before.end + tail;
    let new = first.now.start - head..last.now.end + tail;
    out.extend(format!("@@ -{} +{} @@\n", shown(&old), shown(&new)).bytes());
    let mut at = old.start;
    for run in runs {
        (at..run.before.start).for_each(|line| before.put(out, b' ', line));
        run.before.clone().for_each(|line| before.put(out, b'-', line));
        run.now.clone().for_each(|line| now.put(out, b'+', line));
        at = run.before.end;
    }
    (at..old.end).for_each(|line| before.put(out, b' ', line));
}

/// A range of lines as the head of a hunk says it: an empty one is after the line before it.
fn shown(range: &Range<usize>) -> String {
    match range.len() {
        0 => format!("{},0", range.start),
        1 => format!("{}", range.start + 1),
        len => format!("{},{len}", range.start + 1),
    }
}

/// One of the two texts.
struct Side<'t> {
    text: &'t Text,
    encoding: Encoding,
}

impl Side<'_> {
    fn put(&self, out: &mut Vec<u8>, sign: u8, line: usize) {
        out.push(sign);
        let span = self.text.line_span(Line(line));
        let content = Text::from(&*self.text.slice(span));
        let is_marked = self.encoding == Encoding::Utf8Marked;
        if is_marked && span.start == Byte(0) {
            out.extend("\u{FEFF}".bytes());
        }
        out.extend(encode(&content, if is_marked { Encoding::Utf8 } else { self.encoding }));
        if !out.ends_with(b"\n") {
            out.extend(b"\n\\ No newline at end of file\n");
        }
    }
}

/// A name as diffs have it: with control characters, quotes or backslashes between double quotes; with white space before a tab, which
/// ends it.
fn quoted(name: &str) -> String {
    let is_odd = |c: char| c.is_control() || matches!(c, '"' | '\\');
    if !name.contains(is_odd) {
        return if name.contains(' ') { format!("{name}\t") } else { name.to_owned() };
    }
    let mut out = String::from("\"");
    for c in name.chars() {
        match c {
            '"' | '\\' => out.extend(['\\', c]),
            '\n' => out.push_str("\\n"),
            '\t' => out.push_str("\\t"),
            c if c.is_control() => out.extend(format!("\\{:03o}", u32::from(c)).chars()),
            c => out.push(c),
        }
    }
    out.push('"');
    out
}
