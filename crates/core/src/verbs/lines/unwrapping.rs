//! Taking away what is around a caret, an element or a construct, and keeping what is in it.
//!
//! Elements are told by the tree; a construct is a line that opens a block, the deeper lines below it, and the line that closes it.
//! Cost: the lines of the construct.

use crate::changes::{Bias, ChangeBuilder};
use crate::structure::Roles;
use crate::units::{Byte, Cell, Line, Span};
use crate::verbs::lines::code::code_of;
use crate::verbs::scene::{Outcome, Scene, counted};

/// Lines in each direction in which the edges of a construct are looked for.
const REACH: usize = 5_000;

/// What is taken away around a body.
struct Wrapping {
    /// What goes before and after the body.
    gone: [Span; 2],
    /// The lines of the body, where it has lines of its own, and how far they move out.
    body: Option<([Line; 2], Cell)>,
}

/// The construct or element around each caret goes; its body stays, at the depth of what is gone.
pub fn unwrap(scene: &Scene) -> Outcome {
    let text = scene.text;
    let mut found: Vec<Wrapping> = Vec::new();
    let mut why = "nothing around here that can be taken away";
    for each in scene.cursors.iter() {
        let wrapping = match element_around(scene, each.head) {
            Some(wrapping) => Ok(wrapping),
            None => construct_around(scene, text.line_of(each.head)),
        };
        match wrapping {
            Ok(wrapping) if found.last().is_none_or(|last| last.gone[1].end <= wrapping.gone[0].start) => {
                found.push(wrapping);
            }
            Ok(_) => {}
            Err(reason) => why = reason,
        }
    }
    if found.is_empty() {
        return Outcome::nothing(why);
    }
    let mut builder = ChangeBuilder::new(text);
    let (settings, count) = (scene.settings, found.len());
    for Wrapping { gone: [before, after], body } in found {
        builder.remove(before);
        if let Some(([first, last], shift)) = body {
            for line in (first.0..=last.0).map(Line).filter(|line| !text.is_blank(*line)) {
                if scene.syntax.kind_before_line(line) == crate::languages::scanner::Kind::String {
                    continue;
                }
                let depth = text.depth_of(line, settings.tabs).0.saturating_sub(shift.0);
                builder.replace(text.indentation_span(line), &settings.unit.fill(Cell(depth), settings.tabs));
            }
        }
        builder.remove(after);
    }
    let change = builder.finish();
    let cursors = scene.remap(&change, |_| [Bias::After; 2]);
    Outcome::edit(change, cursors).saying(format!("took {} away", counted(count, "construct")))
}

/// The element with tags around `at`.
fn element_around(scene: &Scene, at: Byte) -> Option<Wrapping> {
    let text = scene.text;
    scene.find_around(Span::at(at), |visited| {
        if !text.has_at(visited.node.span.start, "<") || visited.node.is(Roles::TAG | Roles::STRING) {
            return None;
        }
        let children = (visited.children)();
        let named: Vec<_> = children.iter().filter(|child| child.is_named).collect();
        let [first, .., last] = named[..] else { return None };
        let is_pair = text.has_at(first.span.start, "<") && text.has_at(last.span.start, "</");
        if !is_pair || first.span.end > last.span.start {
            return None;
        }
        let (open, close) = (first.span, text.trimmed(last.span));
        let lines = [text.line_of(open.end), text.line_of(close.start)];
        let is_alone = |span: Span, line: Line| text.trimmed(text.content_span(line)).end <= span.end;
        let ends_line = is_alone(open, lines[0]);
        let begins_line = text.indentation_span(lines[1]).end == close.start;
        let begins = text.indentation_span(text.line_of(open.start)).end == open.start;
        if !(ends_line && begins_line && begins && lines[0] < lines[1] && is_alone(close, lines[1])) {
            return Some(Wrapping { gone: [open, close], body: None });
        }
        Some(of_lines(scene, [text.line_of(open.start), lines[0]], [lines[1], text.line_of(close.end)]))
    })
}

/// What is around a body whose edges are whole lines.
fn of_lines(scene: &Scene, [head, head_end]: [Line; 2], [close, close_end]: [Line; 2]) -> Wrapping {
    let text = scene.text;
    let depth = |line: Line| text.depth_of(line, scene.settings.tabs);
    let body = [head_end.next(), Line(close.0.saturating_sub(1))];
    let inner = (body[0].0..=body[1].0).map(Line).filter(|line| !text.is_blank(*line)).map(depth).min();
    let shift = Cell(inner.map_or(0, |inner| inner.0.saturating_sub(depth(head).0)));
    let before = Span::new(text.line_start(head), text.line_span(head_end).end);
    let start = text.line_start(close);
    let end = text.line_span(close_end).end;
    // A last line without an end leaves none behind.
    let is_unended = text.line_end(close_end).is_none() && start > before.end;
    let after = if is_unended { Span::new(text.content_span(body[1]).end, end) } else { Span::new(start, end) };
    Wrapping { gone: [before, after], body: (body[0] <= body[1]).then_some((body, shift)) }
}

/// The construct whose body or edge `line` is.
fn construct_around(scene: &Scene, line: Line) -> Result<Wrapping, &'static str> {
    let text = scene.text;
    let depth = |line: Line| text.depth_of(line, scene.settings.tabs);
    let full = |line: &Line| !text.is_blank(*line);
    let mut at = (0..=line.0).rev().map(Line).find(full).ok_or("nothing around here")?;
    if closes(scene, at) {
        at = above(scene, at, |above| depth(above) <= depth(line) && full(&above) && !closes(scene, above))
            .ok_or("nothing around here")?;
    }
    for _ in 0..100 {
        // A brace on a line of its own belongs to the head above it.
        let above_brace = above(scene, at, |above| full(&above))
            .filter(|above| code_of(scene, at).trim() == "{" && depth(*above) == depth(at) && is_head(scene, *above));
        let head = above_brace.unwrap_or(at);
        if opens(scene, head) && !is_definition(scene, head) {
            return construct_of(scene, head);
        }
        let own = depth(at);
        at = above(scene, at, |above| full(&above) && depth(above) < own && !closes(scene, above))
            .ok_or("nothing around here that can be taken away")?;
    }
    Err("nothing around here that can be taken away")
}

fn above(scene: &Scene, line: Line, is_it: impl Fn(Line) -> bool) -> Option<Line> {
    let _ = scene;
    (0..line.0).rev().take(REACH).map(Line).find(|above| is_it(*above))
}

/// The construct whose head is `head`.
fn construct_of(scene: &Scene, head: Line) -> Result<Wrapping, &'static str> {
    let text = scene.text;
    let depth = |line: Line| text.depth_of(line, scene.settings.tabs);
    let language = scene.language_at(text.indentation_span(head).end);
    let full = |line: &Line| !text.is_blank(*line);
    let below = || (head.0 + 1..text.real_line_count()).take(REACH).map(Line).filter(full);
    // A brace on a line of its own, and a head over several lines.
    let opener = below().next().filter(|line| code_of(scene, *line).trim() == "{" && depth(*line) == depth(head));
    let head_end = opener.unwrap_or(head);
    let mut head_start = head;
    while closes(scene, head_start) {
        head_start = above(scene, head_start, |above| full(&above) && depth(above) <= depth(head_start))
            .ok_or("nothing around here")?;
    }
    let end = (head_end.0 + 1..text.real_line_count())
        .take(REACH)
        .map(Line)
        .filter(full)
        .find(|line| depth(*line) <= depth(head));
    if language.offside {
        let last = end.map_or(text.real_line_count(), |end| end.0);
        let goes_on = end.is_some_and(|end| depth(end) == depth(head) && is_second_part(scene, end));
        if goes_on || is_second_part(scene, head) {
            return Err("it has a second part, such as else: only what has one body is taken away");
        }
        let mut body_end = last;
        while body_end > head_end.0 + 1 && text.is_blank(Line(body_end - 1)) {
            body_end -= 1;
        }
        let made = of_lines(scene, [head_start, head_end], [Line(body_end), Line(body_end)]);
        let at = if body_end < text.line_count() { text.line_start(Line(body_end)) } else { text.end() };
        return Ok(Wrapping { gone: [made.gone[0], Span::at(at)], ..made });
    }
    let Some(close) = end.filter(|end| closes(scene, *end) && depth(*end) == depth(head)) else {
        return Err("nothing around here that can be taken away");
    };
    let code = code_of(scene, close);
    let rest = code.trim().trim_start_matches(['}', ')', ';', ',', ']']).trim();
    if is_second_part(scene, close) || rest.ends_with('{') || is_second_part(scene, head) {
        return Err("it has a second part, such as else: only what has one body is taken away");
    }
    Ok(of_lines(scene, [head_start, head_end], [close, close]))
}

fn word_of(code: &str) -> String {
    code.trim_start_matches(['}', ' ', '\t']).chars().take_while(|c| c.is_alphanumeric() || *c == '_').collect()
}

fn is_second_part(scene: &Scene, line: Line) -> bool {
    let code = code_of(scene, line);
    matches!(
        word_of(&code).as_str(),
        "else" | "elif" | "elsif" | "elseif" | "catch" | "except" | "finally" | "rescue" | "ensure"
    )
}

/// Whether what `line` opens is a function, a type or the like.
fn is_definition(scene: &Scene, line: Line) -> bool {
    let start = scene.text.indentation_span(line).end;
    let is_here = |at: Byte| at == start || scene.text.line_of(at) == line;
    let block =
        scene.find_having(Roles::BLOCK, Span::at(start), |visited| is_here(visited.node.span.start).then_some(()));
    // What declares something without a head: a property with its accessors.
    let property = scene.find_having(Roles::DECLARES, Span::at(start), |visited| {
        let node = visited.node;
        (node.span.start == start && !node.is(Roles::HEADED) && scene.text.line_of(node.span.end) > line).then_some(())
    });
    block.is_some() || property.is_some()
}

/// Whether `line` can be the end of a head whose brace is on the line below it.
fn is_head(scene: &Scene, line: Line) -> bool {
    let code = code_of(scene, line);
    !code.trim().is_empty() && !code.trim_end().ends_with([';', '{', '}', ',', ':'])
}

fn closes(scene: &Scene, line: Line) -> bool {
    let code = code_of(scene, line);
    let code = code.trim();
    let word: String = code.chars().take_while(|c| c.is_alphanumeric() || *c == '_').collect();
    let language = scene.language_at(scene.text.indentation_span(line).end);
    let by_word = language.structure.as_ref().is_some_and(|structure| structure.closes.contains(&word));
    code.starts_with([')', ']', '}']) || (by_word && !word.is_empty())
}

/// Whether `line` opens a block.
fn opens(scene: &Scene, line: Line) -> bool {
    let code = code_of(scene, line);
    let code = code.trim_end();
    let language = scene.language_at(scene.text.indentation_span(line).end);
    let by_word = language
        .structure
        .as_ref()
        .is_some_and(|structure| crate::verbs::lines::line_words::leaves_block_open(structure, code));
    let below = scene.text.content(Line((line.0 + 1).min(scene.text.last_line().0)));
    code.ends_with('{')
        || (below.trim() == "{" && line < scene.text.last_line())
        || by_word
        || (language.offside && language.openers.iter().any(|opener| code.ends_with(opener.as_str())))
}
