//! Line breaks: with the right indentation, and inside comments and strings with what keeps them whole.

use crate::changes::{Bias, Change, ChangeBuilder, Mapper};
use crate::cursors::{CursorSet, Selection};
use crate::history::Grouping;
use crate::languages::lexical::Piece;
use crate::languages::scanner::{Form, Kind};
use crate::units::{Byte, Line, Span};
use crate::verbs::comments::marks::whole_mark;
use crate::verbs::comments::open::open_comment;
use crate::verbs::lines::indent::indentation_behind;
use crate::verbs::lines::literals::{Break, Literal, broken_literal, is_in_hole};
use crate::verbs::scene::{Outcome, Scene};
use crate::verbs::text::replaced::saying_what_went;
use std::collections::BTreeSet;

/// A line end at every cursor; the next line gets the indentation, one unit more after an opener, and a
/// closer that follows goes on a line of its own.
pub fn line_break(scene: &Scene) -> Outcome {
    let breaks = |each: Selection| {
        if let Some(made) = literal_break(scene, each) {
            return made;
        }
        let gap = without_blanks(scene, each.span());
        let end = scene.settings.line_end.as_str();
        let outer = scene.text.slice(scene.text.indentation_span(scene.text.line_of(gap.start))).into_owned();
        let inner = indentation_behind(scene, gap.start);
        let first = format!("{end}{inner}");
        let closes = closes_pair(scene, gap) && inner != outer;
        // A bracket that closes what an earlier line, or this one, opens goes to the depth of that.
        let first = match opened_at(scene, gap.end).filter(|_| !closes_pair(scene, gap)) {
            Some(opener) => format!("{end}{}", scene.text.slice(scene.text.indentation_span(opener))),
            None => first,
        };
        let with = if closes { format!("{first}{end}{outer}") } else { first.clone() };
        Break { gap, with, caret: first.len(), split_caret: 0, brackets: None }
    };
    let (change, heads) = break_lines(scene, breaks);
    let cursors = with_heads(scene, &heads, |_, head| head);
    saying_what_went(scene, Outcome::edit(change, cursors).grouped(Grouping::LineEnd))
}

/// A line end after every caret, which stays before it; the rest keeps the indentation. A selection stays,
/// and is split at its head.
pub fn split_line(scene: &Scene) -> Outcome {
    let (change, heads) = break_lines(scene, |each| {
        if let Some(made) = literal_break(scene, Selection::caret(each.head)) {
            return Break { caret: made.split_caret, ..made };
        }
        let gap = without_blanks(scene, Span::at(each.head));
        let line = scene.text.line_of(gap.start);
        let nothing_left = gap.end == scene.text.content_span(line).end;
        let indentation = scene.text.slice(scene.text.indentation_span(line)).into_owned();
        let end = scene.settings.line_end.as_str();
        let with = if nothing_left { end.to_owned() } else { format!("{end}{indentation}") };
        Break { gap, with, caret: 0, split_caret: 0, brackets: None }
    });
    let mut mapper = Mapper::new(&change);
    let cursors = with_heads(scene, &heads, |each, head| match each.is_caret() {
        true => head,
        false => mapper.map(each.anchor, Bias::Before),
    });
    Outcome::edit(change, cursors).saying("split the line")
}

/// Carries the breaks out; gives the change and where each caret goes.
fn break_lines(scene: &Scene, breaks: impl Fn(Selection) -> Break) -> (Change, Vec<Byte>) {
    let mut builder = ChangeBuilder::new(scene.text);
    let (mut reach, mut heads) = (Byte(0), Vec::with_capacity(scene.cursors.len()));
    let made: Vec<Break> = scene.cursors.iter().map(breaks).collect();
    // Several literals of one expression need one pair of brackets.
    let expressions: BTreeSet<Span> = made.iter().filter_map(|each| each.brackets).collect();
    let mut brackets: Vec<(Byte, &str)> =
        expressions.iter().flat_map(|span| [(span.start, "("), (span.end, ")")]).collect();
    brackets.sort_by_key(|(at, _)| *at);
    let mut brackets = brackets.into_iter().peekable();
    for each in made {
        let gap = Span::new(each.gap.start.max(reach), each.gap.end.max(reach));
        while let Some((at, bracket)) = brackets.next_if(|(at, _)| *at <= gap.start) {
            builder.replace(Span::at(at), bracket);
        }
        reach = gap.end;
        heads.push(builder.now(gap.start) + each.caret);
        builder.replace(gap, &each.with);
    }
    brackets.for_each(|(at, bracket)| builder.replace(Span::at(at), bracket));
    (builder.finish(), heads)
}

/// The cursors with their heads at `heads`; `anchor` says where each one's anchor goes.
fn with_heads(scene: &Scene, heads: &[Byte], mut anchor: impl FnMut(Selection, Byte) -> Byte) -> CursorSet {
    let mut heads = heads.iter().copied();
    scene.cursors.map(|each| {
        let head = heads.next().unwrap_or(each.head);
        Selection::new(anchor(each, head), head)
    })
}

/// `span` and the white space on both sides of it, within its lines.
fn without_blanks(scene: &Scene, span: Span) -> Span {
    let text = scene.text;
    let is_blank = |c: Option<char>| c.is_some_and(|c| c == ' ' || c == '\t');
    let (mut start, mut end) = (span.start, span.end);
    while is_blank(text.char_before(start)) {
        start = start - 1;
    }
    while is_blank(text.char_at(end)) {
        end += 1;
    }
    Span::new(start, end)
}

/// Whether a closer is right after `gap` that answers the opener before it.
fn closes_pair(scene: &Scene, gap: Span) -> bool {
    let pair = (scene.text.char_before(gap.start), scene.text.char_at(gap.end));
    matches!(pair, (Some('('), Some(')')) | (Some('['), Some(']')) | (Some('{'), Some('}')))
        && scene.syntax.kind_at(gap.start) == Kind::Code
}

/// The line of the bracket that the closer at `at` answers; none where no closer is there.
fn opened_at(scene: &Scene, at: Byte) -> Option<Line> {
    let is_closer = scene.text.char_at(at).is_some_and(|c| ")]}".contains(c));
    if !is_closer || scene.syntax.kind_at(scene.text.next_boundary(at)) != Kind::Code {
        return None;
    }
    let open = crate::verbs::lines::literals::open_bracket_before(scene, at)?;
    Some(scene.text.line_of(open))
}

/// The break inside a comment or a string, where one needs more than a line end.
fn literal_break(scene: &Scene, each: Selection) -> Option<Break> {
    let at = each.start();
    let line = scene.text.line_of(at);
    if each.end() > scene.text.content_span(line).end {
        return None;
    }
    let pieces = scene.syntax.pieces(line);
    let piece = *pieces.iter().rev().find(|piece| piece.span.start < at && each.end() <= piece.span.end)?;
    match piece.token.form {
        Form::Line(_) => line_comment_break(scene, each, piece),
        Form::Block(_) => star_break(scene, each, piece),
        Form::Text(form) => {
            let language = scene.language_at(piece.span.start);
            let literal = Literal { piece, form: language.strings.get(usize::from(form))?, language: &language };
            if is_in_hole(scene, at, &literal) {
                return None;
            }
            broken_literal(scene, each.span(), &literal).or_else(|| kept_line_end(scene, each))
        }
        Form::Here | Form::Document | Form::Scalar | Form::Regex => None,
    }
}

/// A line end in a literal takes nothing of it away; the next line gets the indentation.
fn kept_line_end(scene: &Scene, each: Selection) -> Option<Break> {
    let text = scene.text;
    let line = text.line_of(each.start());
    let before = text.slice(Span::new(text.content_span(line).start, each.start()));
    if before.trim().is_empty() || scene.syntax.kind_at(each.start()) != Kind::String {
        return None;
    }
    let indentation = text.slice(text.indentation_span(line)).into_owned();
    let with = format!("{}{indentation}", scene.settings.line_end.as_str());
    Some(Break { gap: each.span(), caret: with.len(), with, split_caret: 0, brackets: None })
}

/// The next line gets the mark with its spacing. A mark with nothing after it goes instead.
fn line_comment_break(scene: &Scene, each: Selection, piece: Piece) -> Option<Break> {
    let text = scene.text;
    let line = text.line_of(each.start());
    let comment = text.slice(piece.span);
    let language = scene.language_at(piece.span.start);
    let mark = Some(whole_mark(&comment, &language)).filter(|mark| *mark > 0)?;
    let spacing = comment[mark..].len() - comment[mark..].trim_start_matches([' ', '\t']).len();
    let is_alone = text.indentation_span(line).end == piece.span.start;
    let gap = without_blanks(scene, each.span());
    let rest = text.slice(Span::new(gap.end, text.content_span(line).end.max(gap.end)));
    if each.start() < piece.span.start + mark || (!is_alone && rest.trim().is_empty()) {
        return None;
    }
    if is_alone && comment[mark..].trim().is_empty() {
        let content = text.content_span(line);
        return Some(Break { gap: content, with: String::new(), caret: 0, split_caret: 0, brackets: None });
    }
    let indentation = text.slice(text.indentation_span(line)).into_owned();
    let end = scene.settings.line_end.as_str();
    // What is after a mark that was typed just now was no comment before, and is none after this.
    let was_code = |typed: &Span| typed.start <= piece.span.start && typed.end == each.start();
    if is_alone && scene.memory.typed.iter().any(was_code) && !rest.trim().is_empty() {
        let with = format!("{end}{indentation}");
        return Some(Break { gap, caret: with.len(), with, split_caret: 0, brackets: None });
    }
    let with = format!("{end}{indentation}{}", &comment[..mark + spacing]);
    let gap = Span::new(gap.start.max(piece.span.start + mark), gap.end);
    Some(Break { gap, caret: with.len(), with, split_caret: 0, brackets: None })
}

/// The next line of a comment that uses stars gets one.
fn star_break(scene: &Scene, each: Selection, piece: Piece) -> Option<Break> {
    let text = scene.text;
    let line = text.line_of(each.start());
    let body = text.content(line);
    let body = body.trim_start();
    let below = Some(line.next()).filter(|next| *next <= text.last_line()).map(|next| text.content(next));
    let star = if piece.token.opens {
        let goes_on = below.is_some_and(|below| below.trim_start().starts_with('*'));
        let is_inside =
            each.start() >= piece.span.start + 2 && (!piece.token.closes || each.end() + 2 <= piece.span.end);
        (is_inside && (text.slice(piece.span).starts_with("/**") || goes_on)).then_some(" * ")?
    } else {
        body.starts_with('*').then_some("* ")?
    };
    if piece.token.closes && each.end() + 1 >= piece.span.end {
        return None;
    }
    let gap = without_blanks(scene, each.span());
    let indentation = text.slice(text.indentation_span(line)).into_owned();
    let end = scene.settings.line_end.as_str();
    let language = scene.language_at(piece.span.start);
    // A documentation comment that begins here gets its end, and what follows it stays outside.
    let is_begun = text.slice(Span::new(piece.span.start, gap.start.max(piece.span.start))) == "/**";
    if let Some(marks) = open_comment(scene, each.start(), &language).filter(|_| piece.token.opens && is_begun) {
        let rest = text.slice(Span::new(gap.end, text.content_span(line).end.max(gap.end)));
        let first = format!("{end}{indentation} * ");
        let behind = if rest.trim().is_empty() { String::new() } else { format!("{end}{indentation}") };
        let with = format!("{first}{end}{indentation} {}{behind}", marks.close);
        return Some(Break { gap, caret: first.len(), with, split_caret: 0, brackets: None });
    }
    let rest_closes = text.has_at(gap.end, "*/");
    let star = if rest_closes {
        star.trim_end_matches(['*', ' ']).to_owned() + if piece.token.opens { " " } else { "" }
    } else {
        star.to_owned()
    };
    let with = format!("{}{indentation}{star}", scene.settings.line_end.as_str());
    Some(Break { gap, caret: with.len(), with, split_caret: 0, brackets: None })
}
