//! Breaking string literals in two: what is left says the same as before.

use crate::languages::lexical::Piece;
use crate::languages::scanner::{Kind, next_hole};
use crate::languages::{BlockMarks, BrokenString, Escape, Language, Shape, StringForm};
use crate::structure::Roles;
use crate::text::Text;
use crate::units::{Byte, Line, Span};
use crate::verbs::scene::Scene;
use std::borrow::Cow;

/// How many lines up an opening bracket is looked for: statements are shorter.
const BRACKET_LINES: usize = 200;

/// What a line break at a place removes and puts in.
pub struct Break {
    /// What goes.
    pub gap: Span,
    /// What comes.
    pub with: String,
    /// Where in `with` the caret goes.
    pub caret: usize,
    /// Where in `with` a caret goes that stays before the line end.
    pub split_caret: usize,
    /// The expression that needs brackets around it to go on in the next line.
    pub brackets: Option<Span>,
}

/// The literal that is broken: its piece of the line, its form, and the language that it is in.
pub struct Literal<'a> {
    /// Where it is.
    pub piece: Piece,
    /// What begins and ends it.
    pub form: &'a StringForm,
    /// Its language.
    pub language: &'a Language,
}

/// How the literal is broken at `at`. None where a plain line end is right: where it may span lines and
/// nothing in the language keeps the line end out of it.
pub fn broken_literal(scene: &Scene, at: Span, literal: &Literal) -> Option<Break> {
    let Literal { piece, form, language } = *literal;
    let (text, broken) = (scene.text, language.broken_strings);
    if !can_be_broken(scene, literal) {
        return None;
    }
    let inside = Span::new(piece.span.start + form.open.len(), Byte(piece.span.end.0 - form.close.len()));
    if at.start < inside.start || at.end > inside.end {
        return None;
    }
    let rest = text.slice(Span::new(at.end, inside.end));
    let blanks = rest.len() - rest.trim_start_matches([' ', '\t']).len();
    let both_sides = at.start > inside.start && at.end + blanks < inside.end;
    if form.lines && !both_sides {
        return None;
    }
    // White space stays in the first piece, and an escape stays whole.
    let escaped = usize::from(ends_in_half_an_escape(text, inside.start, at.start, form));
    let kept = rest[..blanks].to_owned() + &rest[blanks..blanks + escaped];
    let gap = Span::new(at.start, at.end + kept.len());
    let line = text.line_of(at.start);
    let indentation = text.slice(text.indentation_span(line)).into_owned() + &scene.settings.unit.text();
    let end = scene.settings.line_end.as_str();
    let prefix = prefix_before(text, piece.span.start);
    // In a shell, letters before a literal are a part of the same word.
    let prefix = if broken == Some(BrokenString::FirstColumn) { String::new() } else { prefix };
    let (close, open) = (form.close.as_str(), prefix + &form.open);
    let bracketed = (broken == Some(BrokenString::Brackets)).then(|| expression_around(scene, literal));
    let with = match (broken, &bracketed) {
        (Some(BrokenString::Inside), _) => format!("{kept}\\{end}{indentation}"),
        (Some(BrokenString::FirstColumn), _) => format!("{kept}{close}\\{end}{open}"),
        (Some(BrokenString::Backslash), _) | (_, Some(Around::Continued)) => {
            format!("{kept}{close} \\{end}{indentation}{open}")
        }
        _ => {
            let operator = language.concatenation.as_deref().unwrap_or("");
            let operator = if operator.is_empty() { String::new() } else { format!(" {operator}") };
            format!("{kept}{close}{operator}{end}{indentation}{open}")
        }
    };
    let brackets = match bracketed {
        Some(Around::Expression(span)) => Some(span),
        _ => None,
    };
    Some(Break { gap, caret: with.len(), with, split_caret: 0, brackets })
}

/// Whether the form of the literal is one that is closed and opened again.
fn can_be_broken(scene: &Scene, literal: &Literal) -> bool {
    let Literal { piece, form, language } = literal;
    let can_go_on = language.concatenation.is_some() || language.broken_strings.is_some();
    let is_on_one_line = piece.token.opens && piece.token.closes && piece.token.kind == Kind::String;
    let stays_a_value = match form.lines {
        false => language.concatenation.is_some(),
        true => form.close == "\"" || form.close == "'",
    };
    let is_plain = form.shape == Shape::Plain && !form.comment;
    let length = form.open.len() + form.close.len();
    // A string that its line's end cut off has no closing quote.
    let is_whole = || piece.span.len() >= length && scene.text.slice(piece.span).ends_with(&form.close);
    can_go_on && is_on_one_line && stays_a_value && is_plain && is_whole()
}

/// Whether `at` is in code inside the literal.
#[must_use]
pub fn is_in_hole(scene: &Scene, at: Byte, literal: &Literal) -> bool {
    let Literal { piece, form, .. } = literal;
    if let Some(structure) = scene.structure.structure().filter(|structure| structure.covers(piece.span)) {
        let mut found = false;
        structure.visit_around(Span::at(at), Some(Roles::HOLE), &mut |visited| {
            let hole = visited.node.span;
            found |= piece.span.start <= hole.start && hole.end <= piece.span.end && hole.start < at && at < hole.end;
            std::ops::ControlFlow::Continue(())
        });
        return found;
    }
    let content = scene.text.slice(piece.span);
    let prefix = prefix_before(scene.text, piece.span.start);
    let has_prefixed = literal.language.prefixed_holes.chars().any(|letter| prefix.contains(letter));
    let braces = BlockMarks { open: "{".to_owned(), close: "}".to_owned() };
    let prefixed = StringForm { interpolations: vec![braces], ..(*form).clone() };
    let form = if has_prefixed { &prefixed } else { *form };
    let mut from = form.open.len();
    let offset = at.0 - piece.span.start.0;
    while let Some(hole) = next_hole(&content, from, form).filter(|hole| hole.start < offset) {
        if offset < hole.end {
            return true;
        }
        from = hole.end;
    }
    false
}

/// Whether what is before `at`, from `from` on, ends with the first half of an escape.
fn ends_in_half_an_escape(text: &Text, from: Byte, at: Byte, form: &StringForm) -> bool {
    let sign = match form.escape {
        Escape::Backslash => '\\',
        Escape::Backtick => '`',
        Escape::None | Escape::Doubled => return false,
    };
    let before = text.slice(Span::new(from, at));
    let signs = before.len() - before.trim_end_matches(sign).len();
    signs % 2 == 1
}

/// What the statement of a literal looks like around it, in a language where brackets let a statement go on.
enum Around {
    /// Brackets are around it already.
    Brackets,
    /// It is on a line of a statement that goes on by backslashes.
    Continued,
    /// This expression is the outermost.
    Expression(Span),
}

/// Words that a statement may begin with before an expression.
const BEFORE_EXPRESSIONS: &[&str] =
    &["return", "yield", "raise", "assert", "if", "elif", "while", "for", "match", "case", "with", "del"];

/// Words whose statement has a block: its expression ends at the colon.
const WITH_BLOCK: &[&str] = &["if", "elif", "while", "for", "match", "case", "with"];

fn expression_around(scene: &Scene, literal: &Literal) -> Around {
    let (text, at) = (scene.text, literal.piece.span.start);
    let line = text.line_of(at);
    let pieces = scene.syntax.pieces(line);
    if is_inside_brackets(scene, at) {
        return Around::Brackets;
    }
    let content = text.content_span(line);
    let code_end = pieces.iter().find(|piece| piece.token.kind == Kind::Comment).map_or(content.end, |c| c.span.start);
    let goes_on = |line: Line| text.content(line).trim_end().ends_with('\\');
    if goes_on(line) || line.previous().is_some_and(goes_on) {
        return Around::Continued;
    }
    let code = Code { line: &text.slice(content), from: content.start, pieces: &pieces };
    let (start, word) = code.expression_start(at);
    let mut end = code.expression_end(literal.piece.span.end, &word).min(code_end);
    while text.char_before(end).is_some_and(|c| c == ' ' || c == '\t') {
        end = end - 1;
    }
    Around::Expression(Span::new(start, end))
}

/// A line, and what of it is no code.
struct Code<'a> {
    line: &'a str,
    from: Byte,
    pieces: &'a [Piece],
}

impl Code<'_> {
    /// The characters that are code and in no bracket, from `from` on, with where they are.
    fn outside(&self, from: Byte) -> impl Iterator<Item = (Byte, char)> {
        let mut depth = 0;
        let all = self.line.char_indices().map(|(at, c)| (self.from + at, c)).filter(move |(at, _)| *at >= from);
        let is_code = |at: Byte| !self.pieces.iter().any(|piece| piece.span.start <= at && at < piece.span.end);
        all.filter(move |(at, _)| is_code(*at)).filter(move |(_, c)| {
            let was = depth;
            depth += i32::from("([{".contains(*c)) - i32::from(")]}".contains(*c));
            was == 0 && depth == 0
        })
    }

    /// Where the outermost expression begins that `at` is in, and the word that its statement begins with.
    fn expression_start(&self, at: Byte) -> (Byte, String) {
        let (mut start, mut word) = (self.from, self.word_at(self.from));
        let code: Vec<(Byte, char)> = self.outside(self.from).take_while(|(place, _)| *place < at).collect();
        for (index, (place, c)) in code.iter().enumerate() {
            let neighbour = |step: isize| index.checked_add_signed(step).and_then(|i| code.get(i)).map(|(_, c)| *c);
            let before = neighbour(-1).unwrap_or(' ');
            let is_assignment = *c == '='
                && neighbour(1) != Some('=')
                && !"=!:".contains(before)
                && (!"<>".contains(before) || neighbour(-2) == Some(before));
            let is_block = *c == ':' && neighbour(1) != Some('=') && WITH_BLOCK.contains(&word.as_str());
            if is_assignment || (*c == ',' && word == "assert") {
                start = *place + 1;
            } else if *c == ';' || is_block {
                start = *place + 1;
                word = self.word_at(start);
            }
        }
        if BEFORE_EXPRESSIONS.contains(&word.as_str()) {
            let behind = self.between(start, at);
            let skipped = behind.len() - behind.trim_start().len();
            if behind[skipped..].starts_with(&word) {
                start += skipped + word.len();
            }
            if word == "for" {
                let within = self.between(start, at);
                start += within.find(" in ").map_or(0, |found| found + 3);
            }
        }
        let behind = self.between(start, at);
        (start + (behind.len() - behind.trim_start().len()), word)
    }

    /// Where the expression ends that goes on from `at`.
    fn expression_end(&self, at: Byte, word: &str) -> Byte {
        let ends = |c: char| match c {
            ';' => true,
            ':' => WITH_BLOCK.contains(&word),
            ',' => word == "assert",
            _ => false,
        };
        self.outside(at).find(|(_, c)| ends(*c)).map_or(self.from + self.line.len(), |(place, _)| place)
    }

    fn between(&self, start: Byte, end: Byte) -> &str {
        &self.line[start.0 - self.from.0..end.0 - self.from.0]
    }

    fn word_at(&self, from: Byte) -> String {
        let rest = self.line[from.0 - self.from.0..].trim_start();
        rest.chars().take_while(|c| c.is_alphanumeric() || *c == '_').collect()
    }
}

/// Whether a bracket is open at `at`, so that its statement goes on.
#[must_use]
pub fn is_inside_brackets(scene: &Scene, at: Byte) -> bool {
    let (text, here) = (scene.text, scene.text.line_of(at));
    bracket_is_open(text, at, (here.0.saturating_sub(BRACKET_LINES)..=here.0).rev().map(Line), |line| {
        Cow::Owned(scene.syntax.pieces(line))
    })
}

/// The bracket before `at` that is open there, looked for some thousand lines up.
#[must_use]
pub fn open_bracket_before(scene: &Scene, at: Byte) -> Option<Byte> {
    /// Blocks are seldom longer.
    const LINES: usize = 2_000;
    let here = scene.text.line_of(at);
    let lines = (here.0.saturating_sub(LINES)..=here.0).rev().map(Line);
    open_bracket(scene.text, at, lines, |line| Cow::Owned(scene.syntax.pieces(line)))
}

/// Whether a bracket before `at` is open there; `lines` are those that are looked through, the last one first, and `pieces`
/// tells what is on each.
pub fn bracket_is_open<'p>(
    text: &Text,
    at: Byte,
    lines: impl Iterator<Item = Line>,
    pieces: impl Fn(Line) -> Cow<'p, [Piece]>,
) -> bool {
    open_bracket(text, at, lines, pieces).is_some()
}

fn open_bracket<'p>(
    text: &Text,
    at: Byte,
    lines: impl Iterator<Item = Line>,
    pieces: impl Fn(Line) -> Cow<'p, [Piece]>,
) -> Option<Byte> {
    let mut depth = 0i32;
    for line in lines {
        let span = text.content_span(line);
        let on_line = pieces(line);
        for (offset, c) in text.slice(Span::new(span.start, span.end.min(at))).char_indices().rev() {
            let place = span.start + offset;
            if on_line.iter().any(|piece| piece.span.start <= place && place < piece.span.end) {
                continue;
            }
            depth += i32::from(")]}".contains(c)) - i32::from("([{".contains(c));
            if depth < 0 {
                return Some(place);
            }
        }
    }
    None
}

/// Letters right before a literal: what makes it another kind of literal.
#[must_use]
pub fn prefix_before(text: &Text, at: Byte) -> String {
    let mut start = at;
    while text.char_before(start).is_some_and(|c| c.is_ascii_alphanumeric() || c == '_' || c == '$') {
        start = start - 1;
    }
    text.slice(Span::new(start, at)).into_owned()
}
