//! The outline: functions, types, headings, tables of a text, each by the line with which it begins; and what can be
//! folded under a line.
//!
//! By the structure where it is known, else by indentation: a line of code that deeper lines follow begins something.
//! Cost: the whole tree, or all lines.

use crate::languages::scanner::Kind;
use crate::structure::{Node, Roles};
use crate::units::{Byte, Line, Span};
use crate::verbs::scene::Scene;

/// Something that a text consists of.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Entry {
    /// The line with which it begins.
    pub line: Line,
    /// How many others it lies in.
    pub depth: usize,
    /// What is written of it there: without the indentation, and without what only opens its body.
    pub head: Span,
}

/// What a text is gone by.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum By {
    /// The grammar's tree.
    Structure,
    /// The depth of its lines.
    Indentation,
}

/// By indentation, entries deeper than this many others are left out: without a grammar each `if` is one.
const DEEPEST: usize = 2;

/// What the text of `scene` consists of, in order, and what that was told by.
#[must_use]
pub fn outline(scene: &Scene) -> (Vec<Entry>, By) {
    let nodes = scene.structure.structure().map(|structure| structure.all(Roles::ENTRY)).unwrap_or_default();
    if nodes.is_empty() {
        return (by_indentation(scene), By::Indentation);
    }
    let mut entries: Vec<Entry> = Vec::with_capacity(nodes.len());
    let mut around: Vec<Span> = Vec::new();
    for node in nodes.into_iter().filter(|node| is_named_there(scene, *node)) {
        while around.pop_if(|outer| outer.end <= node.span.start).is_some() {}
        let line = scene.text.line_of(behind_attached(scene, node.span));
        // Something wrapped in something else of the same line is one entry.
        if entries.last().is_none_or(|last| last.line != line) {
            entries.push(Entry { line, depth: around.len(), head: head(scene, node.span, line) });
            around.push(node.span);
        }
    }
    (entries, By::Structure)
}

/// Whether `node` is more than a mention of something, a function without a name, or the file itself.
fn is_named_there(scene: &Scene, node: Node) -> bool {
    let text = scene.text.slice(node.span);
    let line = scene.text.line_start(scene.text.line_of(node.span.start));
    (!node.is(Roles::ENTRY_BY_WORD) || text.starts_with("module"))
        && (!node.is(Roles::ENTRY_WITH_BODY) || text.contains('{'))
        && (!node.is(Roles::ENTRY_IF_NAMED)
            || scene.text.slice(Span::new(line, node.span.start)).trim_end().ends_with(['=', ':']))
}

/// Where something begins after the attributes and decorators that its grammar takes into it.
fn behind_attached(scene: &Scene, span: Span) -> Byte {
    let text = scene.text;
    let mut at = span.start;
    let ends_here = |at: Byte| {
        scene.find_having(Roles::ATTACHED, Span::at(at), |visited| {
            let own = visited.node.span;
            (own.start == at && own.end < span.end).then_some(own.end)
        })
    };
    while let Some(end) = ends_here(at) {
        let rest = text.slice(Span::new(end, span.end));
        at = end + (rest.len() - rest.trim_start().len());
    }
    at
}

/// What is written of something that begins on `line`: up to the line's end or what opens its body.
fn head(scene: &Scene, span: Span, line: Line) -> Span {
    let content = scene.text.content_span(line);
    let start = scene.text.indentation_span(line).end;
    let written = scene.text.slice(Span::new(start, content.end.min(span.end.max(start))));
    let kept = written.trim_end_matches(|c: char| c.is_whitespace() || matches!(c, '{' | '(' | ':' | ';' | '='));
    Span::new(start, start + if kept.is_empty() { written.len() } else { kept.len() })
}

fn by_indentation(scene: &Scene) -> Vec<Entry> {
    let text = scene.text;
    let mut entries: Vec<Entry> = Vec::new();
    let mut around: Vec<u32> = Vec::new();
    let mut full = (0..text.line_count()).map(Line).filter(|line| !text.is_blank(*line)).peekable();
    while let Some(line) = full.next() {
        let cell = depth(scene, line);
        while around.pop_if(|outer| *outer >= cell).is_some() {}
        let is_header = full.peek().is_some_and(|next| depth(scene, *next) > cell);
        if is_header && around.len() <= DEEPEST && begins_in_code(scene, line) {
            entries.push(Entry { line, depth: around.len(), head: head(scene, text.content_span(line), line) });
            around.push(cell);
        }
    }
    entries
}

fn begins_in_code(scene: &Scene, line: Line) -> bool {
    let first = scene.text.indentation_span(line).end;
    scene.syntax.kind_before_line(line) == Kind::Code
        && scene.syntax.kind_at(scene.text.next_boundary(first)) != Kind::Comment
}

fn depth(scene: &Scene, line: Line) -> u32 {
    scene.cell(scene.text.indentation_span(line).end).0
}

/// The last line of what begins on `line` and can be folded under it.
#[must_use]
pub fn last_line_under(scene: &Scene, line: Line) -> Option<Line> {
    if scene.text.is_blank(line) {
        return None;
    }
    let content = scene.text.content_span(line);
    let first = scene.text.indentation_span(line).end;
    let before_last = scene.text.previous_boundary(scene.text.trimmed(content).end).max(first);
    let (mut is_known, mut last) = (false, None);
    for at in [first, before_last] {
        scene.find_around(Span::at(at), |visited| {
            is_known = true;
            // Those around it begin no later.
            let begins_above = visited.node.span.start < content.start;
            if !begins_above && visited.node.span.start <= content.end {
                last = last.max(last_line_of(scene, visited.node));
            }
            begins_above.then_some(())
        });
    }
    if is_known { last } else { last_deeper_line(scene, line) }
}

/// The last line that folding `node` would hide; none where it has no more than one.
fn last_line_of(scene: &Scene, node: Node) -> Option<Line> {
    let text = scene.text;
    let is_bracketed = text.char_at(node.span.start).is_some_and(|c| "([{<".contains(c));
    if !node.is_named || node.span == text.span() || (node.is_container() && !is_bracketed) {
        return None;
    }
    let end = text.trimmed(node.span).end;
    let (first, last) = (text.line_of(node.span.start), text.line_of(end));
    // What else is on its last line stays in view.
    let rest = text.slice(Span::new(end, text.content_span(last).end.max(end)));
    let last = if rest.contains(char::is_alphanumeric) { last.previous()? } else { last };
    (last > first).then_some(last)
}

/// The last of the lines below `line` that are deeper, with the closing line after them.
fn last_deeper_line(scene: &Scene, line: Line) -> Option<Line> {
    let text = scene.text;
    let own = depth(scene, line);
    let below = (line.0 + 1..text.line_count()).map(Line).filter(|below| !text.is_blank(*below));
    let mut last = None;
    for below in below {
        if depth(scene, below) > own {
            last = Some(below);
            continue;
        }
        let content = text.content(below);
        let word = content.trim_start().split(|c: char| !c.is_alphanumeric()).next().unwrap_or("");
        let is_closing = content.trim_start().starts_with([')', ']', '}'])
            || scene.language.structure.iter().flat_map(|words| &words.closes).any(|closer| closer == word);
        return last.map(|last| if is_closing && depth(scene, below) == own { below } else { last });
    }
    last
}

/// The header of the smallest thing around `line` that can be folded under a line above it. `last_under` is [`last_line_under`], for
/// callers that remember what it gave.
#[must_use]
pub fn header_above(scene: &Scene, line: Line, mut last_under: impl FnMut(Line) -> Option<Line>) -> Option<Line> {
    let text = scene.text;
    let mut holds = |above: &Line| *above < line && last_under(*above).is_some_and(|last| last >= line);
    let (mut is_known, mut looked_at) = (false, None);
    let found = scene.find_around(Span::at(text.indentation_span(line).end), |visited| {
        is_known = true;
        let above = text.line_of(visited.node.span.start);
        let is_new = looked_at.replace(above) != Some(above);
        (is_new && holds(&above)).then_some(above)
    });
    if is_known {
        return found;
    }
    let mut own = if text.is_blank(line) { u32::MAX } else { depth(scene, line) };
    for above in (0..line.0).rev().map(Line).filter(|above| !text.is_blank(*above)) {
        // Nothing is less deep.
        if own == 0 {
            break;
        }
        if depth(scene, above) < own {
            own = depth(scene, above);
            if holds(&above) {
                return Some(above);
            }
        }
    }
    None
}
