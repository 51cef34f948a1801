//! Whether two lines may become one: not where a line end is all that parts two statements, keys or elements.
//!
//! The tree tells where a statement ends and the next begins; the table of languages whether a line end is what parts them. Cost: the
//! nodes around each joint.

use crate::languages::Language;
use crate::languages::lexical::Scanned;
use crate::languages::scanner::Kind;
use crate::structure::Roles;
use crate::units::{Byte, Line, Span};
use crate::verbs::lines::code::{code_of, is_comment_in};
use crate::verbs::lines::line_words::leaves_block_open;
use crate::verbs::scene::Scene;

/// With more joints than this nothing is looked at: they are no statements that a person reads.
const MOST_JOINTS: usize = 2_000;

/// Why the lines of a run cannot become one.
#[must_use]
pub fn refusal(scene: &Scene, lines: &[Scanned]) -> Option<String> {
    // What a comment is between is joined all the same.
    let is_full = |line: &Line| !scene.text.is_blank(*line) && !is_comment_in((scene.text, scene.syntax), *line);
    let full: Vec<Line> = lines.iter().map(|line| line.line).filter(is_full).collect();
    if full.len() > MOST_JOINTS {
        return None;
    }
    let stops = |pair: &&[Line]| parts_statements(scene, pair[0], pair[1]);
    let pair = full.windows(2).find(stops)?;
    let title = &scene.language_at(scene.text.line_start(pair[0])).title;
    Some(format!(
        "lines {} and {} need their line ends: joined, they would be no valid {title}",
        pair[0].0 + 1,
        pair[1].0 + 1
    ))
}

/// Whether the line end between two lines parts statements, keys or elements.
fn parts_statements(scene: &Scene, left: Line, right: Line) -> bool {
    let text = scene.text;
    let (left_code, right_code) = (code_of(scene, left), code_of(scene, right));
    let (before, after) = (left_code.trim(), right_code.trim());
    let language = scene.language_at(text.indentation_span(right).end);
    // The line of a key whose text is below it.
    if language.block_scalars && [": |", ": >", "- |", "- >"].iter().any(|header| ends_with_header(before, header)) {
        return true;
    }
    if before.is_empty() || after.is_empty() || language.prose || scene.syntax.kind_before_line(right) != Kind::Code {
        return false;
    }
    let start = text.indentation_span(right).end;
    let end = text.content_span(left).start + left_code.trim_end().len();
    parts_keys(scene, &language, (before, after), start)
        || parts_closer(&language, before, after)
        || parts_header(&language, before, after)
        || parts_second_part(&language, before, after)
        || is_directive(&language, before)
        || is_directive(&language, after)
        || leaves_block(scene, &language, (before, after), right)
        || is_between_siblings(scene, &language, [end, start])
}

/// Whether `line` ends with `header`, which a digit and a sign may follow (YAML 1.2, 8.1.1).
fn ends_with_header(line: &str, header: &str) -> bool {
    line.trim_end_matches(|c: char| c.is_ascii_digit() || "+-".contains(c)).ends_with(header)
}

/// Whether two siblings of a holder meet between `end` and `start` with nothing to part them but the line end.
fn is_between_siblings(scene: &Scene, language: &Language, [end, start]: [Byte; 2]) -> bool {
    let text = scene.text;
    if language.statements_adjoin || end.0 == 0 {
        return false;
    }
    let last = text.char_before(end);
    let is_parted = matches!(last, Some(';' | ',')) || (last == Some('}') && !language.line_ends_statements);
    if is_parted {
        return false;
    }
    let span = Span::new(text.previous_boundary(end), text.next_boundary(start));
    let meets = scene.find_around(span, |holder| {
        if holder.node.is(Roles::TAG | Roles::MARKUP | Roles::MARKUP_ELEMENT | Roles::STRING | Roles::PROSE) {
            return Some(false);
        }
        // Where a line ends a statement, what follows a word that opens a branch is a list of statements, too.
        let may_hold =
            holder.node.is(Roles::HOLDER) || (language.line_ends_statements && holder.node.is(Roles::HEADED));
        if !may_hold {
            return holder.node.is(Roles::VALUE).then_some(false);
        }
        let children = (holder.children)();
        let is_element = |node: &&crate::structure::Node| {
            node.is_named
                && !node.is(Roles::FURNITURE | Roles::ATTACHED | Roles::MARKUP)
                && !text.trimmed(node.span).is_empty()
        };
        let ends = children.iter().filter(is_element).any(|node| text.trimmed(node.span).end == end);
        let begins = children.iter().filter(is_element).any(|node| node.span.start == start);
        (ends && begins).then_some(true)
    });
    meets == Some(true)
}

/// Whether a line of a language of keys goes on with a key or an item.
fn parts_keys(scene: &Scene, language: &Language, (before, after): (&str, &str), start: Byte) -> bool {
    let is_section = before.starts_with('[') && before.ends_with(']');
    if is_section && language.structure.as_ref().is_some_and(|words| words.sections) && after.contains('=') {
        return true;
    }
    if !language.block_scalars {
        return false;
    }
    let is_flow = scene.find_around(Span::at(start), |visited| {
        let first = scene.text.char_at(visited.node.span.start);
        (matches!(first, Some('[' | '{')) && visited.node.span.start < start).then_some(())
    });
    let is_item = after == "-" || after.starts_with("- ");
    let is_key = after.ends_with(':') || after.contains(": ");
    is_flow.is_none() && (is_item || is_key || before == "---")
}

/// Whether what closes a block needs something between it and the statement before it.
fn parts_closer(language: &Language, before: &str, after: &str) -> bool {
    let Some(structure) = language.structure.as_ref().filter(|_| language.closers_are_words) else { return false };
    let word: String = after.chars().take_while(|c| c.is_alphanumeric() || *c == '_').collect();
    let closes = after.starts_with('}') || structure.closes.contains(&word) || word == "else" || word == "elif";
    let last: String = before.chars().rev().take_while(|c| c.is_alphanumeric()).collect();
    let last: String = last.chars().rev().collect();
    let opens = before.ends_with(['{', ';', '&', '|', '(']) || ["do", "then", "else"].contains(&last.as_str());
    closes && !opens
}

/// Whether the end of the line is what ends the condition or the name of a header, where no brace or word does.
fn parts_header(language: &Language, before: &str, after: &str) -> bool {
    let Some(structure) = language.structure.as_ref().filter(|_| language.line_ends_headers) else { return false };
    let last = before.rsplit(|c: char| !c.is_alphanumeric() && c != '_').next().unwrap_or_default();
    let is_ended = before.ends_with(['|', ';', '{']) || matches!(last, "do" | "then" | "else" | "begin" | "ensure");
    let goes_on = before.ends_with([',', '(', '[', '+', '-', '*', '/', '&', '=', '.', '\\', ':', '<'])
        || before.ends_with(" ?")
        || after.starts_with(['.', '&', '|', '+', '*', '?', ':', ')', ']', '}'])
        || matches!(after.split(' ').next(), Some("then" | "do" | "and" | "or"));
    !is_ended && !goes_on && leaves_block_open(structure, before)
}

/// Whether a header would take in the first of several lines of its block, or another header.
fn leaves_block(scene: &Scene, language: &Language, (before, after): (&str, &str), right: Line) -> bool {
    if !language.offside || language.openers.is_empty() {
        return false;
    }
    let opens = |code: &str| language.openers.iter().any(|opener| code.ends_with(opener.as_str()));
    let text = scene.text;
    let below = (right.0 + 1..text.line_count()).map(Line).find(|line| !text.is_blank(*line));
    let depth = |line: Line| text.depth_of(line, scene.settings.tabs);
    let goes_on =
        below.is_some_and(|below| depth(below) >= depth(right) && scene.syntax.kind_before_line(below) == Kind::Code);
    opens(before)
        && !after.starts_with([')', ']', '}'])
        && (opens(after) || goes_on)
        && scene.structure.structure().is_some()
}

/// Whether `code` is a line for the preprocessor, which ends with it.
fn is_directive(language: &Language, code: &str) -> bool {
    let mark = language.structure.as_ref().map_or("", |structure| structure.directive.as_str());
    !mark.is_empty() && code.starts_with(mark)
}

/// Whether the line end parts a decorator from what it belongs to, or a body from the second part of its statement, where indentation
/// tells blocks.
fn parts_second_part(language: &Language, before: &str, after: &str) -> bool {
    if !language.offside || language.openers.is_empty() {
        return false;
    }
    let word: String = after.chars().take_while(|c| c.is_alphanumeric()).collect();
    let opens = language.openers.iter().any(|opener| after.ends_with(opener.as_str()));
    let is_second = opens && matches!(word.as_str(), "else" | "elif" | "except" | "finally" | "case");
    is_second || (before.starts_with('@') && (opens || after.starts_with('@') || word == "def" || word == "class"))
}
