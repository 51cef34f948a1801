//! Two string literals that only the language's concatenation joins become one, where their lines are joined.

use crate::languages::lexical::{Piece, Scanned, Syntax};
use crate::languages::scanner::{Form, Kind};
use crate::languages::{BrokenString, Language, StringForm};
use crate::text::Text;
use crate::units::{Byte, Line, Span};
use crate::verbs::lines::literals::{bracket_is_open, prefix_before};
use std::borrow::Cow;

/// How many lines up an opening bracket is looked for: statements are shorter.
const BRACKET_LINES: usize = 200;

/// A full line on its way into the joined one.
pub struct JoinedPart<'a> {
    /// The line, and what is on it.
    pub line: &'a Scanned,
    /// Its characters without the white space around them.
    pub text: Cow<'a, str>,
    /// Its content without the white space around it.
    pub body: Span,
}

impl<'a> JoinedPart<'a> {
    /// Its comments and literals.
    #[must_use]
    pub fn pieces(&self) -> &'a [Piece] {
        &self.line.pieces
    }

    /// Whether a backslash at its end says that its statement goes on.
    #[must_use]
    pub fn is_continued(&self, syntax: &dyn Syntax) -> bool {
        self.text.ends_with('\\')
            && syntax.language_at(self.body.start).backslash_continues
            && self.pieces().last().is_none_or(|piece| piece.span.end < self.body.end)
    }

    /// Where it ends, less a backslash that continues it.
    #[must_use]
    pub fn end_without_backslash(&self, syntax: &dyn Syntax) -> Byte {
        match self.is_continued(syntax) {
            true => self.body.start + self.text[..self.text.len() - 1].trim_end().len(),
            false => self.body.end,
        }
    }
}

/// Literals that became one.
struct Chain {
    /// From the first one's prefix to the last one's closing quote.
    span: Span,
}

/// Merges literals while lines are joined.
pub struct Merging<'t, 'b> {
    text: &'t Text,
    syntax: &'b dyn Syntax,
    chains: Vec<Chain>,
}

/// A literal at the edge of a line, and whether an operator is between it and that edge.
struct AtEdge<'l> {
    piece: Piece,
    /// Nothing where there is none.
    operator: &'l str,
}

impl<'t, 'b> Merging<'t, 'b> {
    /// Nothing is merged yet.
    #[must_use]
    pub fn new(text: &'t Text, syntax: &'b dyn Syntax) -> Merging<'t, 'b> {
        Merging { text, syntax, chains: Vec::new() }
    }

    /// What goes between the last literal of `left` and the first of `right` so that they are one: the closing quote, the operator,
    /// the opening quote. None where they are not two pieces of one value.
    pub fn merged(&mut self, left: &JoinedPart, right: &JoinedPart) -> Option<Span> {
        if left.pieces().is_empty() || right.pieces().is_empty() {
            return None;
        }
        let language = self.syntax.language_at(left.body.start);
        let operators = operators_of(&language)?;
        let before = self.literal_end(left, &operators)?;
        let after = self.literal_start(right, &operators)?;
        let operator = match (before.operator, after.operator) {
            ("", operator) | (operator, "") if operators.contains(&operator) => operator,
            _ => return None,
        };
        let form = self.common_form(&language, &before.piece, &after.piece)?;
        let in_one_statement = !operator.is_empty()
            || !needs_mark(&language)
            || left.is_continued(self.syntax)
            || self.is_inside_brackets(left);
        let binds = operator.is_empty() || self.is_alone(left, right, &[before.piece, after.piece]);
        if !in_one_statement || !binds {
            return None;
        }
        let (first, last) = (before.piece.span, after.piece.span);
        match self.chains.last_mut().filter(|chain| chain.span.end == first.end) {
            Some(chain) => chain.span.end = last.end,
            None => {
                let start = Byte(first.start.0 - prefix_before(self.text, first.start).len());
                self.chains.push(Chain { span: Span::new(start, last.end) });
            }
        }
        Some(Span::new(first.end - form.close.len(), last.start + form.open.len()))
    }

    /// The brackets within `run` that have nothing in them any more but one literal, and are needed for nothing else.
    pub fn needless_brackets(&mut self, run: Span) -> Vec<Span> {
        let chains = std::mem::take(&mut self.chains);
        chains.iter().filter_map(|chain| self.brackets_around(chain, run)).flatten().collect()
    }

    fn brackets_around(&self, chain: &Chain, run: Span) -> Option<[Span; 2]> {
        let language = self.syntax.language_at(chain.span.start);
        if language.broken_strings != Some(BrokenString::Brackets) {
            return None;
        }
        let before = self.text.slice(Span::new(run.start, chain.span.start));
        let after = self.text.slice(Span::new(chain.span.end, run.end.max(chain.span.end)));
        let outside = before.trim_end().strip_suffix('(')?;
        let closes = after.len() - after.trim_start().strip_prefix(')')?.len() - 1;
        let word = outside.trim_end();
        let name = word.rsplit(|c: char| !(c.is_alphanumeric() || c == '_')).next().unwrap_or("");
        let is_value = matches!(name, "None" | "True" | "False") || word.ends_with([')', ']', '}', '"', '\'']);
        let is_call = !name.is_empty() && !language.keywords.contains(name);
        if is_value || is_call {
            return None;
        }
        let (open, close) = (run.start + outside.len(), chain.span.end + closes);
        Some([Span::new(open, open + 1), Span::new(close, close + 1)])
    }

    /// The form of both literals, where they agree in quotes and in what is before those, and are whole.
    fn common_form<'l>(&self, language: &'l Language, left: &Piece, right: &Piece) -> Option<&'l StringForm> {
        let Form::Text(form) = left.token.form else { return None };
        let form = language.strings.get(usize::from(form))?;
        // A string that its line's end cut off has no closing quote to take away.
        let is_whole = |piece: &Piece| {
            piece.span.len() >= form.open.len() + form.close.len() && self.text.slice(piece.span).ends_with(&form.close)
        };
        // In a shell, letters before a literal are a part of the same word.
        let glued = language.broken_strings == Some(BrokenString::FirstColumn);
        let prefix = |piece: &Piece| prefix_before(self.text, piece.span.start);
        let agree = left.token.form == right.token.form
            && form.open == form.close
            && is_whole(left)
            && is_whole(right)
            && if glued { prefix(right).is_empty() } else { prefix(left) == prefix(right) };
        agree.then_some(form)
    }

    /// Whether nothing beside the two literals takes a part of them before the operator does.
    fn is_alone(&self, left: &JoinedPart, right: &JoinedPart, literals: &[Piece; 2]) -> bool {
        let before = self.text.slice(Span::new(left.body.start, literals[0].span.start));
        let after = self.text.slice(Span::new(literals[1].span.end, right.body.end.max(literals[1].span.end)));
        !before.trim_end().ends_with(['*', '%', '/']) && !after.trim_start().starts_with(['.', '[', '(', '*', '%', '?'])
    }

    /// The literal that `part` ends with, and the operator after it.
    fn literal_end<'l>(&self, part: &JoinedPart, operators: &[&'l str]) -> Option<AtEdge<'l>> {
        let end = part.end_without_backslash(self.syntax);
        let piece = *part.pieces().iter().rev().find(|piece| piece.span.start < end)?;
        let tail = self.text.slice(Span::new(piece.span.end.min(end), end));
        let is_literal = piece.token.kind == Kind::String && piece.token.closes && piece.token.opens;
        is_literal.then_some(AtEdge { piece, operator: operator_of(tail.trim(), operators)? })
    }

    /// The literal that `part` begins with, and the operator before it.
    fn literal_start<'l>(&self, part: &JoinedPart, operators: &[&'l str]) -> Option<AtEdge<'l>> {
        let piece = *part.pieces().first()?;
        let is_literal = piece.token.kind == Kind::String && piece.token.closes && piece.token.opens;
        let head = self.text.slice(Span::new(part.body.start, piece.span.start));
        let prefix = prefix_before(self.text, piece.span.start);
        let head = head.strip_suffix(prefix.as_str())?;
        is_literal.then_some(AtEdge { piece, operator: operator_of(head.trim(), operators)? })
    }

    /// Whether a bracket is open at the end of `part`, so that its statement goes on.
    fn is_inside_brackets(&self, part: &JoinedPart) -> bool {
        let here = part.line.line;
        let lines = (here.0.saturating_sub(BRACKET_LINES)..=here.0).rev().map(Line);
        bracket_is_open(self.text, part.line.content.end, lines, |line| match line == here {
            true => Cow::Borrowed(part.pieces()),
            false => Cow::Owned(self.syntax.pieces(line)),
        })
    }
}

/// One of the operators, or nothing where there is nothing; none where `between` is something else.
fn operator_of<'l>(between: &str, operators: &[&'l str]) -> Option<&'l str> {
    if between.is_empty() { Some("") } else { operators.iter().find(|operator| **operator == between).copied() }
}

/// What joins two literals in the language. Where they need only be side by side, `+` can do it too.
fn operators_of(language: &Language) -> Option<Vec<&str>> {
    let operator = language.concatenation.as_deref()?;
    Some(if operator.is_empty() { vec!["", "+"] } else { vec![operator] })
}

/// Whether a statement ends with its line unless something says that it goes on.
fn needs_mark(language: &Language) -> bool {
    language.broken_strings.is_some()
}
