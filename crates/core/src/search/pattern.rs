//! What a person looks for: a literal or a regular expression, with case and whole words.
//!
//! Expressions have the syntax of the `regex` crate. `^` and `$` are at line edges, `.` is nothing of a line end, and
//! `\n` is any line end, LF or CR LF. Hits do not overlap; an expression may find places without any text.
//!
//! Cost: a literal is one pass of memmem. An expression that can find no line end is looked for stretch by stretch; any
//! other one takes a copy of what is searched.

use super::literal::all_within;
use crate::languages::lexical::{Syntax, kind_among};
use crate::languages::scanner::Kind;
use crate::parallel::span_in_halves;
use crate::text::Text;
use crate::text::words::WordRule;
use crate::units::{Byte, Span};
use regex_automata::Input;
use regex_automata::meta::Regex;
use regex_automata::util::syntax;
use regex_syntax::ast::{self, Ast, ClassSetItem, Visitor};
use regex_syntax::hir::{Class, Hir, HirKind, Look};
use serde::{Deserialize, Serialize};
use std::borrow::Cow;
use std::ops::Range;

/// How what is typed is read.
#[derive(Clone, Copy, Debug, Default, Deserialize, PartialEq, Eq, Serialize)]
pub enum Form {
    /// As it is.
    #[default]
    Literal,
    /// As a regular expression.
    Expression,
}

/// Whether upper and lower case are two things.
#[derive(Clone, Copy, Debug, Default, Deserialize, PartialEq, Eq, Serialize)]
pub enum Case {
    /// Only from the first upper-case letter on that is typed.
    #[default]
    Smart,
    /// Always.
    Exact,
    /// Never.
    Either,
}

/// Where a hit may begin and end.
#[derive(Clone, Copy, Debug, Default, Deserialize, PartialEq, Eq, Serialize)]
pub enum Edges {
    /// Anywhere.
    #[default]
    Anywhere,
    /// Where a word does.
    WholeWords,
}

/// What is looked for, as a person says it.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Query {
    /// What was typed.
    pub what: String,
    /// How it is read.
    pub form: Form,
    /// Upper and lower case.
    pub case: Case,
    /// Whole words.
    pub edges: Edges,
}

/// An expression that is none: where, and why.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("character {place}: {why}")]
pub struct WrongPattern {
    /// The character of what was typed, from 1.
    pub place: usize,
    /// What is wrong there.
    pub why: String,
}

/// What is looked for, ready to look.
#[derive(Clone, Debug)]
pub struct Pattern {
    wish: Query,
    /// The characters themselves, where nothing else is asked for.
    pub(super) needle: Option<String>,
    pub(super) regex: Regex,
    /// Whether each hit lies in one line and asks for nothing outside it.
    is_of_line: bool,
    /// Whether it finds upper case too because nothing of it is upper case.
    pub(super) is_smart: bool,
    /// Whether a line end is written in it.
    pub names_line_end: bool,
}

/// Bytes of text searched in one go: a few milliseconds of work.
const STRETCH: usize = 4 << 20;

impl Pattern {
    /// Reads `wish`.
    ///
    /// # Errors
    /// An expression that is none. Nothing typed is one, too.
    pub fn new(wish: Query) -> Result<Pattern, WrongPattern> {
        let wrong = |place: usize, why: String| WrongPattern { place, why };
        if wish.what.is_empty() {
            return Err(wrong(1, "nothing is looked for yet".to_owned()));
        }
        let (source, has_upper) = match wish.form {
            Form::Literal => (escaped(&wish.what), wish.what.chars().any(char::is_uppercase)),
            Form::Expression => read(&wish.what).map_err(|error| told(&wish.what, &error))?,
        };
        let either = wish.case == Case::Either || (wish.case == Case::Smart && !has_upper);
        let hir = regex_syntax::ParserBuilder::new()
            .multi_line(true)
            .crlf(true)
            .case_insensitive(either)
            .build()
            .parse(&source)
            .map_err(|error| told(&wish.what, &error))?;
        let config = syntax::Config::new().multi_line(true).crlf(true).case_insensitive(either);
        let limits = Regex::config().nfa_size_limit(Some(LARGEST));
        let regex = Regex::builder().syntax(config).configure(limits).build(&source);
        let regex = regex.map_err(|_| wrong(1, "the expression is too large".to_owned()))?;
        let has_case = wish.what.chars().any(|c| c.is_lowercase() || c.is_uppercase());
        let needle = (wish.form == Form::Literal && (!either || !has_case)).then(|| wish.what.clone());
        let looks = hir.properties().look_set();
        let is_of_line = !finds_line_end(&hir) && !looks.contains(Look::Start) && !looks.contains(Look::End);
        let is_smart = either && wish.case == Case::Smart;
        let names_line_end = source.contains(LINE_END) || needle.as_ref().is_some_and(|needle| needle.contains('\n'));
        Ok(Pattern { wish, needle, regex, is_of_line, is_smart, names_line_end })
    }

    /// What was asked for.
    #[must_use]
    pub fn wish(&self) -> &Query {
        &self.wish
    }

    /// Whether a text that is stored as `bytes` can have a hit: no is sure, yes is not.
    #[must_use]
    pub fn may_be_in(&self, bytes: &[u8]) -> bool {
        match &self.needle {
            // A line end and what is no UTF-8 are stored otherwise.
            Some(needle) if needle.bytes().all(|byte| (b' '..=b'~').contains(&byte)) => {
                memchr::memmem::find(bytes, needle.as_bytes()).is_some()
            }
            Some(_) => true,
            None => self.regex.is_match(bytes) || std::str::from_utf8(bytes).is_err(),
        }
    }

    /// Whether each hit lies in one line and asks for nothing outside it.
    pub fn is_within_lines(&self) -> bool {
        self.needle.is_some() || self.is_of_line
    }

    /// How many groups an expression has, the whole one not counted.
    #[must_use]
    pub fn groups(&self) -> usize {
        if self.wish.form == Form::Literal { 0 } else { self.regex.captures_len() - 1 }
    }

    /// The number of the group called `name`.
    #[must_use]
    pub fn group(&self, name: &str) -> Option<usize> {
        self.regex.group_info().to_index(regex_automata::PatternID::ZERO, name)
    }

    /// Where the search of `within`, which has come to `from`, is to go next: looking for a while, no longer.
    #[must_use]
    pub fn stretch(&self, text: &Text, from: Byte, within: Span) -> Span {
        if !self.is_within_lines() || within.end - from <= STRETCH {
            return Span::new(from, within.end);
        }
        // A hit may not lie across an edge, so that one is between two lines. A literal over lines may begin before it.
        let line = text.line_of(from + STRETCH);
        let edge = text.line_start(line);
        let end = if edge > from { edge } else { text.line_span(line).end };
        Span::new(from, end.min(within.end))
    }

    /// Where the search is to go on after `stretch`, which had `hits`: a literal over lines may reach out of it.
    #[must_use]
    pub fn behind(stretch: Span, hits: &[Span]) -> Byte {
        hits.last().map_or(stretch.end, |last| last.end.max(stretch.end))
    }

    /// The hits that begin in `stretch` and lie within `within`, in order. `rule` says what a word is.
    #[must_use]
    pub fn hits(&self, text: &Text, stretch: Span, within: Span, rule: WordRule) -> Vec<Span> {
        if let Some(needle) = &self.needle {
            let reach = Span::new(stretch.start, (stretch.end + (needle.len() - 1)).min(within.end));
            let mut free = stretch.start;
            let mut hits = all_within(text, needle, reach);
            hits.retain(|&hit| {
                let counts = hit.start >= free && self.may_stand(text, hit, rule);
                free = if counts { hit.end } else { free };
                counts
            });
            return hits;
        }
        if !self.is_of_line {
            return self.found(text, stretch, within, rule);
        }
        // No hit lies across the start of a line.
        let edge = |at: Byte| match at == stretch.start || at == stretch.end {
            true => at,
            false => text.line_start(text.line_of(at)).max(stretch.start),
        };
        let halves =
            span_in_halves(stretch, |half| self.found(text, Span::new(edge(half.start), edge(half.end)), within, rule));
        halves.concat()
    }

    fn may_stand(&self, text: &Text, hit: Span, rule: WordRule) -> bool {
        self.wish.edges == Edges::Anywhere || text.is_whole_word(hit, rule)
    }

    /// The hits of an expression that begin in `stretch`.
    fn found(&self, text: &Text, stretch: Span, within: Span, rule: WordRule) -> Vec<Span> {
        let mut hits = Vec::new();
        let (hay, base) = self.hay(text, stretch);
        let range = stretch.start - base..stretch.end - base;
        for found in self.regex.find_iter(Input::new(hay.as_ref()).range(range)) {
            let hit = Span::new(base + found.start(), base + found.end());
            // A place without text at the end of a stretch is found again at the start of the next one.
            let is_twice = hit.is_empty() && hit.start == stretch.end && stretch.end < within.end;
            if !is_twice && self.may_stand(text, hit, rule) {
                hits.push(hit);
            }
        }
        hits
    }

    /// All hits within `within`.
    #[must_use]
    pub fn all(&self, text: &Text, within: Span, rule: WordRule) -> Vec<Span> {
        let mut hits = Vec::new();
        let mut from = within.start;
        loop {
            let stretch = self.stretch(text, from, within);
            hits.extend(self.hits(text, stretch, within, rule));
            from = Pattern::behind(stretch, &hits);
            if from >= within.end {
                return hits;
            }
        }
    }

    /// What an expression looks at for `stretch`, and where that begins: whole lines, so that their edges are seen, or
    /// everything.
    pub(super) fn hay<'a>(&self, text: &'a Text, stretch: Span) -> (Cow<'a, str>, Byte) {
        if !self.is_of_line {
            return (text.slice(text.span()), Byte(0));
        }
        let start = text.line_start(text.line_of(stretch.start));
        let end = text.line_span(text.line_of(stretch.end)).end;
        (text.slice(Span::new(start, end)), start)
    }
}

/// Any line end, as it is looked for.
const LINE_END: &str = r"(?:\r?\n)";

/// Bytes that an expression may take.
const LARGEST: usize = 32 << 20;

/// What the text is at a hit: by the place inside it, so that a whole literal counts as one.
#[must_use]
pub fn kind_of(text: &Text, syntax: &dyn Syntax, hit: Span) -> Kind {
    let inside = if hit.is_empty() { hit.start } else { text.next_boundary(hit.start).min(hit.end) };
    syntax.kind_at(inside)
}

/// The same for `hits`, which are in order: each line is looked at once, however many it has.
#[must_use]
pub fn kinds_of(text: &Text, syntax: &dyn Syntax, hits: &[Span]) -> Vec<Kind> {
    let mut kinds = Vec::with_capacity(hits.len());
    let (mut line, mut pieces) = (Span::at(Byte(0)), Vec::new());
    for &hit in hits {
        let inside = if hit.is_empty() { hit.start } else { text.next_boundary(hit.start).min(hit.end) };
        if inside >= line.end || inside < line.start || line.is_empty() {
            let number = text.line_of(inside);
            line = text.line_span(number);
            pieces = syntax.pieces(number);
        }
        kinds.push(kind_among(&pieces, inside));
    }
    kinds
}

fn escaped(literal: &str) -> String {
    let mut out = String::with_capacity(literal.len());
    regex_syntax::escape_into(literal, &mut out);
    out
}

/// An expression with each line end in it as any line end, and whether an upper-case letter is in it.
fn read(expression: &str) -> Result<(String, bool), Box<regex_syntax::Error>> {
    let tree = ast::parse::Parser::new().parse(expression).map_err(|error| Box::new(error.into()))?;
    let letters = ast::visit(&tree, Letters::default()).unwrap_or_default();
    let mut source = String::with_capacity(expression.len());
    let mut at = 0;
    for end in &letters.line_ends {
        source.push_str(&expression[at..end.start]);
        source.push_str(LINE_END);
        at = end.end;
    }
    source.push_str(&expression[at..]);
    Ok((source, letters.has_upper))
}

/// What is looked for in the letters of an expression.
#[derive(Default)]
struct Letters {
    has_upper: bool,
    line_ends: Vec<Range<usize>>,
}

impl Visitor for Letters {
    type Output = Letters;
    type Err = ();

    fn finish(self) -> Result<Letters, ()> {
        Ok(self)
    }

    fn visit_pre(&mut self, tree: &Ast) -> Result<(), ()> {
        if let Ast::Literal(literal) = tree {
            self.has_upper |= literal.c.is_uppercase();
            if literal.c == '\n' {
                self.line_ends.push(literal.span.start.offset..literal.span.end.offset);
            }
        }
        Ok(())
    }

    fn visit_class_set_item_pre(&mut self, item: &ClassSetItem) -> Result<(), ()> {
        self.has_upper |= match item {
            ClassSetItem::Literal(literal) => literal.c.is_uppercase(),
            ClassSetItem::Range(range) => range.start.c.is_uppercase() || range.end.c.is_uppercase(),
            _ => false,
        };
        Ok(())
    }
}

fn told(typed: &str, error: &regex_syntax::Error) -> WrongPattern {
    let (offset, why) = match error {
        regex_syntax::Error::Parse(error) => (error.span().start.offset, error.kind().to_string()),
        regex_syntax::Error::Translate(error) => (error.span().start.offset, error.kind().to_string()),
        _ => (0, "it is no expression".to_owned()),
    };
    let place = typed[..typed.floor_char_boundary(offset)].chars().count() + 1;
    WrongPattern { place, why }
}

/// Whether a hit can hold a line end.
fn finds_line_end(hir: &Hir) -> bool {
    match hir.kind() {
        HirKind::Empty | HirKind::Look(_) => false,
        HirKind::Literal(literal) => literal.0.contains(&b'\n'),
        HirKind::Class(Class::Unicode(class)) => {
            class.ranges().iter().any(|range| (range.start()..=range.end()).contains(&'\n'))
        }
        HirKind::Class(Class::Bytes(class)) => {
            class.ranges().iter().any(|range| (range.start()..=range.end()).contains(&b'\n'))
        }
        HirKind::Repetition(repetition) => finds_line_end(&repetition.sub),
        HirKind::Capture(capture) => finds_line_end(&capture.sub),
        HirKind::Concat(parts) | HirKind::Alternation(parts) => parts.iter().any(finds_line_end),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::languages;
    use proptest::prelude::*;

    fn found(wish: Query, text: &str) -> Vec<String> {
        let text = Text::from(text);
        let language = languages::plain();
        let pattern = Pattern::new(wish).unwrap();
        let hits = pattern.all(&text, text.span(), language.word_rule());
        hits.iter().map(|hit| format!("{}:{}", hit.start.0, text.slice(*hit))).collect()
    }

    fn literal(what: &str) -> Query {
        Query { what: what.to_owned(), ..Query::default() }
    }

    fn expression(what: &str) -> Query {
        Query { form: Form::Expression, ..literal(what) }
    }

    #[test]
    fn case_counts_from_the_first_upper_case_letter_on() {
        assert_eq!(found(literal("tide"), "Tide tide TIDE"), ["0:Tide", "5:tide", "10:TIDE"]);
        assert_eq!(found(literal("Tide"), "Tide tide TIDE"), ["0:Tide"]);
        assert_eq!(found(Query { case: Case::Exact, ..literal("tide") }, "Tide tide"), ["5:tide"]);
        assert_eq!(found(Query { case: Case::Either, ..literal("TIDE") }, "Tide tide"), ["0:Tide", "5:tide"]);
        // The letter of an escape is not typed as a letter.
        assert_eq!(found(expression(r"\Wtide"), " Tide"), ["0: Tide"]);
        assert_eq!(found(expression(r"[A-Z]ide"), "tide Tide"), ["5:Tide"]);
        assert_eq!(found(literal("ÉBB"), "ébb ÉBB"), ["5:ÉBB"]);
    }

    #[test]
    fn line_edges_and_line_ends_are_those_of_the_text() {
        assert_eq!(found(expression("^."), "ab\r\ncd\nef"), ["0:a", "4:c", "7:e"]);
        assert_eq!(found(expression(".$"), "ab\r\ncd\nef"), ["1:b", "5:d", "8:f"]);
        assert_eq!(found(expression(r"b\nc"), "ab\r\ncd"), ["1:b\r\nc"]);
        assert_eq!(found(expression(r"b\nc"), "ab\ncd"), ["1:b\nc"]);
        assert_eq!(found(expression(r"\Aa"), "a\na"), ["0:a"]);
        assert_eq!(found(expression("^"), "a\nb"), ["0:", "2:"]);
        assert_eq!(found(literal("a\nb"), "a\nb"), ["0:a\nb"]);
    }

    #[test]
    fn whole_words_and_no_overlaps() {
        let words = |what: &str| Query { edges: Edges::WholeWords, ..literal(what) };
        assert_eq!(found(words("level"), "level level_mm sublevel level"), ["0:level", "24:level"]);
        assert_eq!(found(literal("aa"), "aaaaa"), ["0:aa", "2:aa"]);
    }

    #[test]
    fn a_wrong_expression_says_where() {
        let wrong = |what: &str| Pattern::new(expression(what)).unwrap_err();
        assert_eq!(wrong("é(a").place, 2);
        assert_eq!(wrong("a{2,1}").place, 2);
        assert_eq!(wrong(r"é\p{Tidal}").place, 2);
        assert!(Pattern::new(literal("")).is_err());
        assert!(Pattern::new(expression("(a{1000}){1000}")).is_err());
    }

    #[test]
    fn a_selection_is_searched_as_if_it_stood_in_its_line() {
        let text = Text::from("tide tide tide");
        let language = languages::plain();
        let within = Span::new(Byte(5), Byte(9));
        let all = |what: &str| Pattern::new(expression(what)).unwrap().all(&text, within, language.word_rule());
        assert_eq!(all("^tide"), []);
        assert_eq!(all(".*"), [within]);
        assert_eq!(all(r"\btide\b"), [within]);
    }

    #[test]
    fn stretches_find_what_the_whole_finds() {
        let many = |line: &str| Text::from(line.repeat(2 * STRETCH / line.len() + 3).as_str());
        let text = many("the duty pilot reads the gauge\r\n");
        let language = languages::plain();
        for (wish, text) in [
            (literal("pilot"), &text),
            (literal("e\r\nthe"), &text),
            (expression("^the|gauge$"), &text),
            (expression("$"), &text),
            (expression("x*"), &text),
            // One that lies over the edge of a stretch goes on into the next of its kind.
            (Query { case: Case::Exact, ..literal("ebb\nebb\nebb") }, &many("ebb\n")),
        ] {
            let pattern = Pattern::new(wish.clone()).unwrap();
            let by_stretches = pattern.all(text, text.span(), language.word_rule());
            let whole = text.to_string();
            let by_regex: Vec<Span> =
                pattern.regex.find_iter(&whole).map(|hit| Span::new(Byte(hit.start()), Byte(hit.end()))).collect();
            assert!(by_stretches == by_regex, "{wish:?}: {} and {}", by_stretches.len(), by_regex.len());
        }
    }

    proptest! {
        #[test]
        fn a_literal_is_found_like_its_escaped_expression(text in "[abA.\\n]{0,60}", what in "[abA.]{1,3}", either: bool) {
            let case = if either { Case::Either } else { Case::Exact };
            let as_literal = found(Query { case, ..literal(&what) }, &text);
            let as_expression = found(Query { case, ..expression(&escaped(&what)) }, &text);
            prop_assert_eq!(as_literal, as_expression);
        }
    }
}
