//! What the lines of comments, documentation strings and prose consist of, as reflowing sees them.
//!
//! Some lines have a form of their own: fences and what is between them, tables, headings, indented code, examples of a session.
//! Others begin an item: of a list, of tags (`@param`, `:param`, `\param`), of names with a colon in a documentation string.

use super::marks::whole_mark;
use crate::languages::lexical::Piece;
use crate::languages::scanner::{Form, Kind};
use crate::units::{Line, Span};
use crate::verbs::lines::literals::is_inside_brackets;
use crate::verbs::scene::{Run, Scene};

/// How far around a caret lines are read, to find out what they belong to.
const FARTHEST: usize = 500;

/// A line that is indented so much further than the text, in cells, is code.
const CODE_DEPTH: usize = 4;

/// What a line is.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(super) enum Row {
    /// It has no words, or a form of its own.
    Apart,
    /// Words of a paragraph.
    Words(Words),
}

/// A line of a paragraph.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(super) struct Words {
    /// Indentation, mark, spacing.
    pub lead: String,
    /// The mark alone: paragraphs do not go over from one mark to another.
    pub mark: String,
    /// The rest, without white space at the end.
    pub said: String,
    /// What makes it the first line of an item, with the white space after that; nothing where it is none.
    pub item: String,
    /// Whether it is under an item.
    pub hangs: bool,
    /// Whether it asks for a line break at its end.
    pub breaks: bool,
}

impl Words {
    /// Whether it begins further in.
    pub fn is_deeper_than(&self, other: &Words) -> bool {
        self.lead.chars().count() > other.lead.chars().count()
    }
}

/// What kind of text a line is in.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Text {
    Comment,
    Documentation,
    Prose,
}

/// A line before it is known what is around it.
struct Raw {
    text: Text,
    /// Bytes of the indentation, the mark, and the white space after it.
    indentation: usize,
    mark: usize,
    spacing: usize,
    content: String,
}

impl Raw {
    fn words(&self) -> &str {
        self.content[self.indentation + self.mark + self.spacing..].trim_end()
    }

    fn mark(&self) -> &str {
        &self.content[self.indentation..self.indentation + self.mark]
    }

    /// How far in its words begin: after the mark, or in the line where there is none.
    fn depth(&self) -> usize {
        if self.mark > 0 { self.spacing } else { self.indentation }
    }
}

/// The lines of `run`, and those around it that belong to the same comment or text; those after it where `and_below` says so.
pub(super) fn rows_around(scene: &Scene, run: &Run, and_below: bool) -> Vec<(Line, Row)> {
    let (mut first, mut last) = (run.first, run.last);
    let is_one = |line: Line| raw(scene, line).is_some();
    while let Some(above) = first.previous().filter(|above| run.first.0 - above.0 <= FARTHEST && is_one(*above)) {
        first = above;
    }
    while and_below && last < scene.text.last_line() && last.0 - run.last.0 <= FARTHEST && is_one(last.next()) {
        last = last.next();
    }
    let lines: Vec<Line> = (first.0..=last.0).map(Line).collect();
    let raws: Vec<Option<Raw>> = lines.iter().map(|line| raw(scene, *line)).collect();
    let mut reading = Reading::default();
    let below = raws.iter().skip(1).map(Option::as_ref).chain([None]);
    let rows: Vec<Row> = raws.iter().zip(below).map(|(raw, below)| reading.row(scene, raw.as_ref(), below)).collect();
    lines.into_iter().zip(rows).collect()
}

/// What was read of the lines above.
#[derive(Default)]
struct Reading {
    fence: Option<String>,
    /// How far in the text before the last blank line begins.
    depth: Option<usize>,
    is_after_blank: bool,
    is_in_code: bool,
    item: Option<usize>,
}

impl Reading {
    fn row(&mut self, scene: &Scene, raw: Option<&Raw>, below: Option<&Raw>) -> Row {
        let Some(raw) = raw else {
            *self = Reading::default();
            return Row::Apart;
        };
        let words = raw.words();
        let fence = ["```", "~~~"].into_iter().find(|fence| words.starts_with(fence));
        match (&self.fence, fence) {
            (Some(open), Some(fence)) if open == fence => {
                self.fence = None;
                return Row::Apart;
            }
            (None, Some(fence)) => {
                self.fence = Some(fence.to_owned());
                return Row::Apart;
            }
            (Some(_), _) => return Row::Apart,
            (None, None) => {}
        }
        if words.is_empty() {
            (self.is_after_blank, self.item) = (true, None);
            return Row::Apart;
        }
        let depth = raw.depth();
        let is_code = match self.depth {
            Some(text) if self.is_after_blank || self.is_in_code => depth >= text + CODE_DEPTH,
            // Before anything else, indentation is where the text begins; after a mark it is code.
            None => raw.mark > 0 && depth > CODE_DEPTH,
            Some(_) => false,
        };
        self.is_in_code = is_code;
        let is_first = std::mem::replace(&mut self.is_after_blank, false);
        if is_code || has_own_form(raw, below) {
            self.item = None;
            return Row::Apart;
        }
        let item = item_of(raw.text, words).to_owned();
        if is_first || self.depth.is_none() || depth < self.depth.unwrap_or(0) {
            self.depth = Some(depth);
        }
        let hangs = item.is_empty() && self.item.is_some_and(|item| depth > item);
        if !item.is_empty() {
            self.item = Some(depth);
        } else if !hangs {
            self.item = None;
        }
        let breaks = raw.text == Text::Prose
            && scene.language.name == "markdown"
            && (raw.content.ends_with("  ") || raw.content.ends_with('\\'));
        Row::Words(Words {
            lead: raw.content[..raw.indentation + raw.mark + raw.spacing].to_owned(),
            mark: raw.mark().to_owned(),
            said: words.to_owned(),
            item,
            hangs,
            breaks,
        })
    }
}

/// Whether a line is no part of a paragraph, whatever is around it.
fn has_own_form(raw: &Raw, below: Option<&Raw>) -> bool {
    let words = raw.words();
    let underlines = |words: &str| {
        let first = words.chars().next();
        first.is_some_and(|c| "=-~^*_".contains(c) && words.len() >= 3 && words.chars().all(|other| other == c))
    };
    let heading = words.trim_start_matches('#');
    let is_heading = heading.len() < words.len() && (heading.is_empty() || heading.starts_with(' '));
    let is_markup = raw.text == Text::Prose && words.starts_with(['>', '<', '='])
        || (words.starts_with('<') && words.ends_with('>'));
    let is_session = words.starts_with(">>> ") || words.starts_with("... ");
    let is_underlined = below.is_some_and(|below| underlines(below.words()) && !words.contains(' '));
    words.starts_with('|') || is_heading || is_markup || is_session || underlines(words) || is_underlined
}

/// What `words` begin with if they begin an item, the white space after it included; nothing where they do not.
fn item_of(text: Text, words: &str) -> &str {
    let list = list_mark(words);
    if !list.is_empty() || text == Text::Prose {
        return list;
    }
    let tag = tag_mark(words);
    if !tag.is_empty() || text == Text::Comment {
        return tag;
    }
    definition_mark(words)
}

/// The mark of a list item: `-`, `*`, `+`, `1.` or `1)`.
fn list_mark(words: &str) -> &str {
    let digits = words.len() - words.trim_start_matches(|c: char| c.is_ascii_digit()).len();
    let behind = if digits > 0 { digits + 1 } else { 1 };
    let is_mark = match words[digits..].chars().next() {
        Some('.' | ')') => digits > 0,
        Some('-' | '*' | '+') => digits == 0,
        _ => false,
    };
    if is_mark && words[behind..].starts_with(' ') { &words[..=behind] } else { "" }
}

/// A tag of documentation: `@param`, `\param`, `:param x:`.
fn tag_mark(words: &str) -> &str {
    let Some(sign) = words.chars().next().filter(|c| "@:\\".contains(*c)) else { return "" };
    let name = words[1..].chars().take_while(|c| c.is_alphanumeric() || *c == '-' || *c == '_').map(char::len_utf8);
    let name: usize = name.sum();
    if name == 0 {
        return "";
    }
    let behind = &words[1 + name..];
    if sign == ':' {
        let Some(colon) = behind.find(':') else { return "" };
        return up_to_text(words, 1 + name + colon + 1);
    }
    if behind.is_empty() || behind.starts_with([' ', '[', '{']) { up_to_text(words, 1 + name) } else { "" }
}

/// A name that is told about in a documentation string: `level: …`, `level (int): …`, `level : int`.
fn definition_mark(words: &str) -> &str {
    let name: usize = words.chars().take_while(|c| c.is_alphanumeric() || "_*.".contains(*c)).map(char::len_utf8).sum();
    let behind = words[name..].trim_start();
    let behind = match behind.strip_prefix('(').and_then(|rest| rest.split_once(')')) {
        Some((_, rest)) => rest.trim_start(),
        None => behind,
    };
    let is_one = name > 0 && behind.starts_with(':') && !behind.starts_with("::");
    if is_one { "    ".get(..4.min(words.len())).unwrap_or("") } else { "" }
}

/// `words` up to `at`, with the white space after that.
fn up_to_text(words: &str, at: usize) -> &str {
    let rest = &words[at..];
    &words[..at + (rest.len() - rest.trim_start().len())]
}

/// What `line` consists of; none where it is code, or holds the marks of a block comment.
fn raw(scene: &Scene, line: Line) -> Option<Raw> {
    let text = scene.text;
    let content = text.content(line).into_owned();
    let indentation = content.len() - content.trim_start().len();
    let start = text.line_start(line) + indentation;
    let pieces = scene.syntax.pieces(line);
    let split = |text: Text, mark: usize| {
        let behind = &content[indentation + mark..];
        let spacing = behind.len() - behind.trim_start().len();
        Raw { text, indentation, mark, spacing, content: content.clone() }
    };
    match pieces.first().filter(|piece| piece.token.kind != Kind::Code && piece.span.start <= start) {
        Some(piece) if matches!(piece.token.form, Form::Line(_)) => {
            let language = scene.language_at(piece.span.start);
            let mark = whole_mark(&content[indentation..], &language);
            (mark > 0).then(|| split(Text::Comment, mark))
        }
        Some(piece) if piece.token.opens || piece.token.closes => None,
        Some(piece) if piece.token.kind == Kind::Comment => {
            Some(split(Text::Comment, usize::from(content[indentation..].starts_with('*'))))
        }
        Some(_) => is_documentation(scene, line).then(|| split(Text::Documentation, 0)),
        None if indentation == content.len() && scene.syntax.kind_before_line(line) != Kind::Code => {
            // A blank line in a comment or a string.
            Some(split(Text::Comment, 0))
        }
        None if scene.language_at(start).prose && pieces.is_empty() => Some(split(Text::Prose, 0)),
        None => None,
    }
}

/// Whether the string that `line` begins in is a statement of its own: nothing is before it, and no bracket is open around it.
fn is_documentation(scene: &Scene, line: Line) -> bool {
    let text = scene.text;
    let opens = |above: &Line| {
        let pieces = scene.syntax.pieces(*above);
        pieces.last().copied().filter(|piece: &Piece| piece.token.opens && !piece.token.closes)
    };
    let near = (line.0.saturating_sub(FARTHEST)..line.0).rev().map(Line);
    let Some((above, piece)) = near.into_iter().find_map(|above| Some((above, opens(&above)?))) else { return false };
    let before = text.slice(Span::new(text.line_start(above), piece.span.start));
    let before = before.trim();
    let is_prefix = before.chars().all(char::is_alphabetic) && before.len() <= 2;
    let is_named = before.starts_with("@doc") || before.starts_with("@moduledoc") || before.starts_with("@typedoc");
    (is_prefix || is_named) && !is_inside_brackets(scene, piece.span.start)
}
