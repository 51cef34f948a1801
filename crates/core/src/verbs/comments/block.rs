//! Block comments: wrapped round a selection or a line's content, and taken off again.
//!
//! Inside a comment toggling always takes off, so that nothing is doubled by accident. What is wrapped is
//! `escaped_marks`, so that wrapping and unwrapping give back the text. Each selection is decided by itself.

use super::children::{self, Widened};
use super::edges::{no_mark_at, two_languages};
use super::escaping;
use super::found::{Block, holds, outer_block};
use crate::changes::{Bias, Change, ChangeBuilder, Mapper};
use crate::cursors::{CursorSet, Selection};
use crate::languages::scanner::Form;
use crate::languages::{BlockMarks, Language};
use crate::text::Text;
use crate::units::{Byte, Direction, Line, Span};
use crate::verbs::scene::{Outcome, Run, Scene, counted};

/// What is done.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum BlockMarking {
    /// Off inside a comment, else on.
    Toggle,
    /// On, also where it is one.
    On,
    /// Off, where it is one.
    Off,
}

/// What becomes of one selection.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum BlockEdit {
    Wrap(Span),
    /// The same with the marks for what is between tags.
    WrapChildren(Span),
    Unwrap(Block),
    Nothing,
}

/// Carries `wish` out on every selection, each in the language in which it begins.
pub fn blocks(scene: &Scene, wish: BlockMarking) -> Outcome {
    if scene.reach > 1 && scene.cursors.iter().all(Selection::is_caret) {
        return around_lines(scene, wish);
    }
    let has_marks = |each: Selection| !scene.language_at(each.start()).block.is_empty();
    if !scene.cursors.iter().any(has_marks) {
        return without_block_marks(scene, wish);
    }
    let is_blank = |each: Selection| {
        let selected = scene.text.slice(each.span());
        selected.contains('\n') && selected.trim().is_empty()
    };
    if scene.cursors.iter().all(is_blank) {
        return Outcome::nothing("nothing but blank lines is selected");
    }
    let mut edits: Vec<BlockEdit> = Vec::new();
    for each in scene.cursors.iter().filter(|each| has_marks(*each) && !is_blank(*each)) {
        let edit = edit_for(scene, each, wish);
        match edit {
            BlockEdit::Wrap(span) | BlockEdit::WrapChildren(span) if let Some(what) = no_mark_at(scene, span) => {
                return Outcome::nothing(format!("the selection {what}, where marks are only text"));
            }
            BlockEdit::Wrap(span) if super::around::has_code_tag(scene, span) => {
                return Outcome::nothing("a tag around code is selected: between comment marks it would still end it");
            }
            BlockEdit::Wrap(span) if super::around::has_lone_code_element(scene, span) => {
                return Outcome::nothing(super::around::LONE_TAG);
            }
            BlockEdit::Wrap(span) if let Some([first, other]) = two_languages(scene, span) => {
                let why = "the selection begins in";
                return Outcome::nothing(format!("{why} {first} and reaches into {other}, whose comments are others"));
            }
            BlockEdit::Wrap(span) if overlaps_in_part(scene, span) && !disarms_whole(scene, span) => {
                return Outcome::nothing("a comment that lies in part in the selection would be left open");
            }
            _ => {}
        }
        edits.push(edit);
    }
    carry_out(scene, &distinct(scene.text, edits))
}

/// One comment round each run of as many lines as the count says; the carets stay.
fn around_lines(scene: &Scene, wish: BlockMarking) -> Outcome {
    let text = scene.text;
    let content = |run: &Run| {
        let start = text.indentation_span(run.first).end;
        Selection::over(Span::new(start, text.content_span(run.last).end.max(start)), Direction::Forward)
    };
    let selected: Vec<Selection> = scene.runs().iter().map(content).collect();
    if selected.is_empty() {
        return Outcome::nothing("no line here");
    }
    let cursors = &CursorSet::of(selected, 0);
    let outcome = blocks(&Scene { cursors, reach: 1, ..*scene }, wish);
    let cursors = scene.remap(&outcome.change, |_| [Bias::After; 2]);
    Outcome { cursors: Some(cursors), ..outcome }
}

/// The marks that are put on at `at`: only asked for where the language has some.
fn marks_at(language: &Language) -> &BlockMarks {
    &language.block[0]
}

fn without_block_marks(scene: &Scene, wish: BlockMarking) -> Outcome {
    let lines = match wish {
        BlockMarking::Toggle => super::LineMarking::Toggle,
        BlockMarking::On => super::LineMarking::On,
        BlockMarking::Off => super::LineMarking::Off,
    };
    let outcome = super::lines(scene, lines);
    let said = outcome.message.clone().unwrap_or_default();
    let language = scene.language_at(scene.cursors.primary().head);
    if language.line.is_empty() {
        return outcome;
    }
    outcome.saying(format!("{said} ({} has line comments only)", language.title))
}

/// Several carets in one line or comment count once.
fn distinct(text: &Text, edits: Vec<BlockEdit>) -> Vec<BlockEdit> {
    let mut kept: Vec<BlockEdit> = Vec::new();
    let mut reach = Byte(0);
    for edit in edits {
        let span = match edit {
            BlockEdit::Wrap(span) | BlockEdit::WrapChildren(span) => span,
            BlockEdit::Unwrap(block) => with_blanks(text, block.span),
            BlockEdit::Nothing => continue,
        };
        // Equal ones are neighbours, or begin before where one has ended.
        if kept.last() == Some(&edit) || span.start < reach {
            continue;
        }
        reach = span.end;
        kept.push(edit);
    }
    kept
}

/// `span` with the white space on its lines beside it: a line that holds only a mark goes with all of it.
fn with_blanks(text: &Text, span: Span) -> Span {
    let before = Span::new(text.line_start(text.line_of(span.start)), span.start);
    let behind = Span::new(span.end, text.line_span(text.line_of(span.end)).end);
    let blanks_before = text.slice(before).len() - text.slice(before).trim_end().len();
    let blanks_behind = text.slice(behind).len() - text.slice(behind).trim_start().len();
    Span::new(Byte(span.start.0 - blanks_before), span.end + blanks_behind)
}

fn edit_for(scene: &Scene, each: Selection, wish: BlockMarking) -> BlockEdit {
    let span = wanted_span(scene, each);
    let at_caret = || each.is_caret().then(|| block_around(scene, each.span())).flatten();
    let around = if wish == BlockMarking::On { None } else { at_caret().or_else(|| block_around(scene, span)) };
    match (around, wish) {
        (Some(block), _) => BlockEdit::Unwrap(block),
        (None, BlockMarking::Off) => BlockEdit::Nothing,
        (None, _) => match children::widened(scene, span) {
            Widened::To(elements) => BlockEdit::WrapChildren(elements),
            Widened::NoChildren | Widened::NotPossible => BlockEdit::Wrap(span),
        },
    }
}

/// What a selection would have wrapped: itself; the contents where it is whole lines; a caret's line.
fn wanted_span(scene: &Scene, each: Selection) -> Span {
    let text = scene.text;
    let content_of = |first: Line, last: Line| {
        let start = text.indentation_span(first).end;
        let content = text.content_span(last);
        let kept = text.slice(content).trim_end().len();
        Span::new(start, (content.start + kept).max(start))
    };
    let [first, last] = scene.touched(each);
    if each.is_caret() {
        return content_of(first, first);
    }
    let full = |line: &Line| !text.is_blank(*line);
    let lines = || (first.0..=last.0).map(Line);
    let (Some(first), Some(last)) = (lines().find(full), lines().rfind(full)) else { return each.span() };
    // Marks go on the first and the last line that is not blank.
    let each = Selection::over(
        Span::new(each.start().max(text.line_start(first)), each.end().min(text.line_span(last).end).max(each.start())),
        each.direction(),
    );
    let starts_line = each.start() <= text.indentation_span(first).end;
    let ends_line = each.end() >= text.content_span(last).end;
    let spans_lines = text.line_of(each.start()) != text.line_of(each.end());
    if starts_line && ends_line && spans_lines { content_of(first, last) } else { within_lines(text, each.span()) }
}

/// `span` without line ends, and white space beside them, at its edges.
fn within_lines(text: &Text, span: Span) -> Span {
    let content = text.slice(span);
    let head = content.len() - content.trim_start().len();
    let tail = content.trim_end().len();
    if head >= tail {
        return span;
    }
    let start = if content[..head].contains('\n') { head } else { 0 };
    let end = if content[tail..].contains('\n') { tail } else { content.len() };
    Span::new(span.start + start, span.start + end)
}

/// The innermost block comment that `span`, white space apart, is or lies in; both its edges count.
fn block_around(scene: &Scene, span: Span) -> Option<Block> {
    let text = scene.text;
    let content = text.slice(span);
    let start = span.start + (content.len() - content.trim_start().len());
    let core =
        if content.trim().is_empty() { Span::at(span.start) } else { Span::new(start, start + content.trim().len()) };
    let Some(outer) = outer_block(scene, core) else { return block_in_hole(scene, core) };
    if !scene.language_at(outer.span.start).nests {
        return Some(outer);
    }
    nested_blocks(scene, outer).into_iter().filter(|block| holds(block.span, core)).min_by_key(|block| block.span.len())
}

/// The comment around `core` in code inside of a string, which the scanner takes for a part of that: by its marks on the line.
fn block_in_hole(scene: &Scene, core: Span) -> Option<Block> {
    let text = scene.text;
    let line = text.line_of(core.start);
    let pieces = scene.syntax.pieces(line);
    let piece = pieces.iter().find(|piece| piece.span.start < core.start && core.end < piece.span.end)?;
    let Form::Text(form) = piece.token.form else { return None };
    let language = scene.language_at(piece.span.start);
    let holes = &language.strings.get(usize::from(form))?.interpolations;
    let marks = language.block.first()?;
    let content = text.slice(piece.span);
    let at = core.start - piece.span.start;
    let open = content[..(at + marks.open.len()).min(content.len())].rfind(marks.open.as_str())?;
    let close = open + content[open..].find(marks.close.as_str())? + marks.close.len();
    let span = Span::new(piece.span.start + open, piece.span.start + close);
    let is_code = holes.iter().any(|hole| content[..open].contains(hole.open.as_str()));
    (is_code && holds(span, core)).then_some(Block { span, pair: 0 })
}

/// The comments inside `outer`, it among them, by their marks.
fn nested_blocks(scene: &Scene, outer: Block) -> Vec<Block> {
    let language = scene.language_at(outer.span.start);
    let marks = marks_at(&language);
    let content = scene.text.slice(outer.span);
    let (mut open, mut found, mut at) = (Vec::new(), Vec::new(), 0);
    while at < content.len() {
        let rest = &content[at..];
        if rest.starts_with(&marks.open) {
            open.push(at);
            at += marks.open.len();
        } else if rest.starts_with(&marks.close) {
            at += marks.close.len();
            if let Some(start) = open.pop() {
                let pair = if open.is_empty() { outer.pair } else { 0 };
                found.push(Block { span: Span::new(outer.span.start + start, outer.span.start + at), pair });
            }
        } else {
            at += rest.chars().next().map_or(1, char::len_utf8);
        }
    }
    found
}

/// Whether a block comment has one end inside `span` and one outside.
fn overlaps_in_part(scene: &Scene, span: Span) -> bool {
    [span.start, span.end].into_iter().any(|edge| {
        let line = scene.text.line_of(edge);
        scene.syntax.pieces(line).iter().any(|piece| {
            let inside = piece.span.start < edge && edge < piece.span.end;
            let cuts = inside
                || (edge == piece.span.end && !piece.token.closes)
                || (edge == piece.span.start && !piece.token.opens);
            matches!(piece.token.form, Form::Block(_)) && cuts
        })
    })
}

/// Whether disarming leaves no mark in `span` that a comment outside it would miss.
fn disarms_whole(scene: &Scene, span: Span) -> bool {
    let language = scene.language_at(span.start);
    let marks = marks_at(&language);
    let content = scene.text.slice(span);
    !content.contains(marks.close.as_str()) && !content.contains(marks.open.as_str())
}

fn carry_out(scene: &Scene, edits: &[BlockEdit]) -> Outcome {
    let mut builder = ChangeBuilder::new(scene.text);
    let (mut on, mut off) = (0, 0);
    for edit in edits {
        match edit {
            BlockEdit::Wrap(span) => {
                wrap(scene, &mut builder, *span);
                on += 1;
            }
            BlockEdit::WrapChildren(span) => {
                children::wrap(scene, *span).into_iter().for_each(|(place, mark)| builder.replace(place, &mark));
                on += 1;
            }
            BlockEdit::Unwrap(block) => {
                match children::comment_around(scene, block.span.start) {
                    Some(whole) => {
                        let marks = children::unwrap(scene, whole);
                        marks.into_iter().for_each(|(place, mark)| builder.replace(place, &mark));
                    }
                    None => unwrap(scene, &mut builder, *block),
                }
                off += 1;
            }
            BlockEdit::Nothing => {}
        }
    }
    let change = builder.finish();
    if change.is_empty() {
        return Outcome::nothing("no block comment here");
    }
    let message = match (on, off) {
        (0, off) => format!("took {} off", counted(off, "block comment")),
        (on, 0) => format!("put {} on", counted(on, "block comment")),
        (on, off) => format!("put {} on, took {off} off", counted(on, "block comment")),
    };
    let cursors = cursors_after(scene, &change, edits);
    Outcome::edit(change, cursors).saying(message)
}

/// Cursors stay on their characters; in a pair of marks around nothing the caret goes between.
fn cursors_after(scene: &Scene, change: &Change, edits: &[BlockEdit]) -> CursorSet {
    let wrapped = |edit: &BlockEdit| if let BlockEdit::Wrap(span) = edit { Some(*span) } else { None };
    let wraps: Vec<Span> = edits.iter().filter_map(wrapped).collect();
    let wraps_at = |at: Byte| {
        let first = wraps.partition_point(|span| span.end < at);
        wraps.get(first).copied().filter(|span| span.start <= at)
    };
    let set = scene.remap(change, |index| {
        let each = scene.cursors.list()[index];
        let at_end =
            wraps_at(each.head).is_some_and(|span| each.is_caret() && !span.is_empty() && each.head == span.end);
        [if at_end { Bias::Before } else { Bias::After }, Bias::Before]
    });
    if set.len() != scene.cursors.len() {
        return set;
    }
    let (mut index, mut mapper) = (0, Mapper::new(change));
    set.map(|each| {
        let old = scene.cursors.list()[index];
        index += 1;
        match wraps_at(old.head).filter(|span| span.is_empty() && old.is_caret()) {
            Some(span) => {
                let open = marks_at(&scene.language_at(span.start)).open.len();
                Selection::caret(mapper.map(span.start, Bias::Before) + open + 1)
            }
            None => each,
        }
    })
}

fn wrap(scene: &Scene, builder: &mut ChangeBuilder, span: Span) {
    let language = scene.language_at(span.start);
    let marks = marks_at(&language);
    let gap = if forms_mark(scene, span.start, &language, marks) { " " } else { "" };
    let content = scene.text.slice(span);
    if content.is_empty() {
        builder.insert(span.start, &format!("{gap}{}  {}", marks.open, marks.close));
        return;
    }
    builder.insert(span.start, &format!("{gap}{} ", marks.open));
    for place in escaping::places_to_escape(&content, marks, escaping::Nesting::of(&language)) {
        builder.insert(span.start + place, "\\");
    }
    builder.insert(span.end, &format!(" {}", marks.close));
}

/// Whether the character before `at` and the opening mark would form another mark.
fn forms_mark(scene: &Scene, at: Byte, language: &Language, marks: &BlockMarks) -> bool {
    let Some(before) = scene.text.char_before(at) else { return false };
    let joined = format!("{before}{}", marks.open);
    let opens = language.block.iter().map(|pair| &pair.open);
    language.line.iter().chain(opens).any(|mark| joined.starts_with(mark.as_str()))
}

fn unwrap(scene: &Scene, builder: &mut ChangeBuilder, block: Block) {
    let text = scene.text;
    let language = scene.language_at(block.span.start);
    let marks = &language.block[block.pair];
    let inner = Span::new(block.span.start + marks.open.len(), block.span.end - marks.close.len());
    if let Some(stars) = Stars::of(scene, block.span, inner).filter(|_| marks.open.ends_with('*')) {
        stars.unwrap(scene, builder, block.span, inner);
        return;
    }
    let content = text.slice(inner);
    let head = usize::from(content.starts_with(' '));
    let tail = usize::from(content.len() > head && content.ends_with(' '));
    let head_only = content[head..].split('\n').next().is_some_and(|line| line.trim().is_empty());
    let spans_lines = content.contains('\n');
    let start = match () {
        () if gap_before(scene, block.span.start, &language, marks) => block.span.start - 1,
        () => block.span.start,
    };
    let (open_end, close_start) = (inner.start + head, inner.end - tail);
    let first = if spans_lines && head_only { own_line(scene, block.span.start, Direction::Forward) } else { None };
    let last = last_line_is_bare(&content).then(|| own_line(scene, block.span.end, Direction::Back)).flatten();
    let body_start = first.map_or(open_end, |span| span.end);
    // A first and a last line that hold only marks share the line end between them.
    let body_end = last.map_or(close_start, |span| span.start).max(body_start);
    builder.remove(first.unwrap_or(Span::new(start, open_end)));
    let characters = text.slice(Span::new(body_start, body_end));
    for place in escaping::places_to_unescape(&characters, marks, escaping::Nesting::of(&language)) {
        builder.remove(Span::new(body_start + place, body_start + place + 1));
    }
    builder.remove(Span::new(body_end, last.map_or(block.span.end, |span| span.end)));
}

fn last_line_is_bare(content: &str) -> bool {
    content.rsplit_once('\n').is_some_and(|(_, last)| last.trim().is_empty())
}

/// The line of `at` with one of its line ends, if nothing but a mark is on it: with the end after it for
/// the first line of a comment, with the one before it for the last.
fn own_line(scene: &Scene, at: Byte, side: Direction) -> Option<Span> {
    let text = scene.text;
    let line = text.line_of(at);
    let content = text.content_span(line);
    let beside = match side {
        Direction::Forward => Span::new(content.start, at),
        Direction::Back => Span::new(at, content.end),
    };
    if !text.slice(beside).trim().is_empty() {
        return None;
    }
    match side {
        Direction::Forward => Some(text.line_span(line)),
        Direction::Back => Some(Span::new(text.content_span(line.previous()?).end, content.end)),
    }
}

/// Whether the space before `at` was put there to keep the mark apart.
fn gap_before(scene: &Scene, at: Byte, language: &Language, marks: &BlockMarks) -> bool {
    let text = scene.text;
    text.char_before(at) == Some(' ') && at.0 > 1 && forms_mark(scene, at - 1, language, marks)
}

/// A comment each of whose lines begins with a star.
struct Stars {
    lines: Vec<Line>,
}

impl Stars {
    /// The lines after the first, where every one of them begins with a star, below that of the opening mark: what begins
    /// with one elsewhere is text.
    fn of(scene: &Scene, whole: Span, inner: Span) -> Option<Stars> {
        let text = scene.text;
        let below = scene.cell(whole.start + 1);
        let (first, last) = (text.line_of(inner.start), text.line_of(inner.end));
        let lines: Vec<Line> = (first.0 + 1..=last.0).map(Line).collect();
        let is_starred = |line: &Line| {
            let content = text.content(*line);
            content.trim_start().starts_with('*') && text.depth_of(*line, scene.settings.tabs) == below
        };
        (!lines.is_empty() && lines.iter().all(is_starred)).then_some(Stars { lines })
    }

    /// Takes marks and stars off; lines that hold only a mark go.
    fn unwrap(&self, scene: &Scene, builder: &mut ChangeBuilder, whole: Span, inner: Span) {
        let text = scene.text;
        let first = text.line_of(whole.start);
        let depth = text.slice(text.indentation_span(first)).into_owned();
        let rest = text.slice(Span::new(inner.start, text.content_span(first).end));
        let head = rest.len() - rest.trim_start_matches('*').trim_start().len();
        let first_is_bare = rest[head..].is_empty() && text.indentation_span(first).end == whole.start;
        if first_is_bare {
            builder.remove(text.line_span(first));
        } else {
            builder.remove(Span::new(whole.start, inner.start + head));
        }
        for &line in &self.lines {
            let content = text.content_span(line);
            let indentation = text.indentation_span(line);
            let is_last = content.end >= whole.end;
            let body = text.slice(Span::new(indentation.end, if is_last { inner.end } else { content.end }));
            let kept = body.strip_prefix('*').unwrap_or(&body);
            let kept_start = body.len() - kept.strip_prefix(' ').unwrap_or(kept).len();
            if is_last
                && body[kept_start..].trim().is_empty()
                && let Some(span) = own_line(scene, whole.end, Direction::Back)
            {
                builder.remove(span);
                continue;
            }
            builder.replace(Span::new(content.start, indentation.end + kept_start), &depth);
            if is_last {
                let tail = body.len() - body.trim_end().len();
                builder.remove(Span::new(inner.end - tail.min(1), whole.end));
            }
        }
    }
}
