//! Lexemes: the smallest parts of a line that two edits are compared by.
//!
//! A lexeme is a name, a number, an operator, a bracket, a quote, a comma or any other mark; white space lies between them. The scanner says what
//! is code, string and comment. Brackets and quotes that belong together know each other, so that what is between them can be taken
//! as one. Several lines are taken together with `\n` between them; the indentation of the first one does not count, that of the
//! others counts beyond it. Offsets are bytes of the row. Cost: linear in the row.

use crate::languages::lexical::Scanned;
use crate::languages::scanner::Kind;
use crate::text::words::{Class as WordClass, WordRule};
use std::ops::Range;

/// What a lexeme is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Class {
    /// A name or a keyword.
    Name,
    /// A number, with its unit.
    Number,
    /// What opens: a bracket or a quote.
    Opener,
    /// What closes.
    Closer,
    /// `,` or `;`: what expressions end at.
    Separator,
    /// Any other mark.
    Mark,
    /// The end of a line, with the indentation of the next one.
    Break,
}

/// The smallest part of a row.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Lexeme {
    /// Where it is, in bytes of the row.
    pub at: Range<usize>,
    /// What it is.
    pub class: Class,
    /// Code, string or comment.
    pub kind: Kind,
    /// The index of what it belongs together with: of a bracket or quote the other one of its pair.
    pub partner: Option<usize>,
}

/// A line, or neighbouring lines, and what their bytes are.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Row {
    /// The white space that the first line begins with.
    pub indentation: String,
    /// The lines without the end of the last one and without that indentation; between them `\n`.
    pub text: String,
    /// How many lines they are.
    pub lines: usize,
    /// The literals and comments, in order.
    literals: Vec<Literal>,
}

/// A literal or comment, or what of it lies on one line.
#[derive(Clone, Debug, PartialEq, Eq)]
struct Literal {
    at: Range<usize>,
    kind: Kind,
    is_whole: bool,
}

impl Row {
    /// The lines as they were scanned, each with its characters; none where a line is indented less than the first one.
    pub fn of<'a>(lines: impl IntoIterator<Item = (&'a Scanned, &'a str)>) -> Option<Row> {
        let mut row = Row::default();
        for (scanned, content) in lines {
            if row.lines == 0 {
                let rest = content.trim_start_matches([' ', '\t']);
                content[..content.len() - rest.len()].clone_into(&mut row.indentation);
            } else {
                row.text.push('\n');
            }
            row.lines += 1;
            let is_blank = content.trim().is_empty();
            let own = if is_blank { "" } else { content.strip_prefix(row.indentation.as_str())? };
            let (start, cut) = (row.text.len(), content.len() - own.len());
            row.text.push_str(own);
            let within = |at: usize| start + at.saturating_sub(cut).min(own.len());
            let literals = scanned.pieces.iter().map(|piece| Literal {
                at: within(piece.token.start)..within(piece.token.end),
                kind: piece.token.kind,
                is_whole: piece.token.opens && piece.token.closes,
            });
            row.literals.extend(literals.filter(|literal| !literal.at.is_empty()));
        }
        Some(row)
    }

    /// The characters of a lexeme.
    #[must_use]
    pub fn str(&self, lexeme: &Lexeme) -> &str {
        &self.text[lexeme.at.clone()]
    }

    /// Its lexemes, in order.
    #[must_use]
    pub fn lexemes(&self, rule: WordRule) -> Vec<Lexeme> {
        let mut reading = Reading { text: &self.text, rule, found: Vec::new() };
        let mut at = 0;
        for literal in &self.literals {
            reading.plain(at..literal.at.start, Kind::Code);
            match literal.kind {
                Kind::String if literal.is_whole => reading.string(literal.at.clone()),
                kind => reading.plain(literal.at.clone(), kind),
            }
            at = literal.at.end;
        }
        reading.plain(at..self.text.len(), Kind::Code);
        let mut found = reading.found;
        pair_brackets(&self.text, &mut found);
        found
    }
}

struct Reading<'a> {
    text: &'a str,
    rule: WordRule<'a>,
    found: Vec<Lexeme>,
}

impl Reading<'_> {
    fn push(&mut self, at: Range<usize>, class: Class, kind: Kind) {
        self.found.push(Lexeme { at, class, kind, partner: None });
    }

    /// A stretch without literals, or the inside of one.
    fn plain(&mut self, range: Range<usize>, kind: Kind) {
        let mut at = range.start;
        while at < range.end {
            let rest = &self.text[at..range.end];
            let (len, class) = self.next(rest, kind);
            if let Some(class) = class {
                self.push(at..at + len, class, kind);
            }
            at += len;
        }
    }

    /// How long what `rest` begins with is, and what it is; nothing where it is white space.
    fn next(&self, rest: &str, kind: Kind) -> (usize, Option<Class>) {
        let Some(first) = rest.chars().next() else { return (rest.len(), None) };
        if first == '\n' {
            let inside = rest[1..].trim_start_matches([' ', '\t']);
            return (rest.len() - inside.len(), Some(Class::Break));
        }
        let of = |wanted: &dyn Fn(char) -> bool| rest.find(|c| !wanted(c)).unwrap_or(rest.len());
        if first.is_whitespace() {
            return (of(&|c| c.is_whitespace() && c != '\n'), None);
        }
        if first.is_ascii_digit() {
            return (number_len(rest), Some(Class::Number));
        }
        if self.rule.class(first).is_word() {
            let class = self.rule.class(first);
            let len = of(&|c| self.rule.class(c) == class || (class == WordClass::Word && is_joiner(c)));
            return (len, Some(Class::Name));
        }
        let class = match first {
            '(' | '[' | '{' => Class::Opener,
            ')' | ']' | '}' => Class::Closer,
            ',' | ';' => Class::Separator,
            _ => Class::Mark,
        };
        let len = if class == Class::Mark && kind == Kind::Code { operator_len(rest) } else { first.len_utf8() };
        (len, Some(class))
    }

    /// A string that begins and ends on the line: its quotes, and what is between them.
    fn string(&mut self, range: Range<usize>) {
        let Some([open, close]) = quotes(&self.text[range.clone()]) else { return self.plain(range, Kind::String) };
        let (from, to) = (range.start + open, range.end - close);
        let opener = self.found.len();
        self.push(range.start..from, Class::Opener, Kind::String);
        self.plain(from..to, Kind::String);
        let closer = self.found.len();
        self.push(to..range.end, Class::Closer, Kind::String);
        // Brackets in it pair among themselves only: see `pair_brackets`.
        self.found[opener].partner = Some(closer);
        self.found[closer].partner = Some(opener);
    }
}

/// Whether `c` is a mark that combines with the letter before it.
fn is_joiner(c: char) -> bool {
    !c.is_ascii() && unicode_width::UnicodeWidthChar::width(c) == Some(0) && !c.is_control()
}

/// The length of the number that `rest` begins with: digits, letters and `_`, and a point between digits.
fn number_len(rest: &str) -> usize {
    let bytes = rest.as_bytes();
    let mut len = 1;
    while let Some(byte) = bytes.get(len) {
        let is_digit_at = |at: usize| bytes.get(at).is_some_and(u8::is_ascii_digit);
        let is_sign = matches!(byte, b'+' | b'-') && matches!(bytes[len - 1], b'e' | b'E') && is_digit_at(len + 1);
        let is_point = *byte == b'.' && is_digit_at(len + 1) && !rest[..len].contains('.');
        let is_percent = *byte == b'%' && !is_digit_at(len + 1) && bytes.get(len + 1) != Some(&b' ');
        let is_hexadecimal = rest.starts_with("0x") || rest.starts_with("0X");
        match byte.is_ascii_alphanumeric() || *byte == b'_' || is_point || (is_sign && !is_hexadecimal) || is_percent {
            true => len += 1,
            false => break,
        }
    }
    len
}

/// Operators of several characters, in the usual languages; longer ones first.
const OPERATORS: &[&str] = &[
    "<!--", ">>>=", "<=>", "===", "!==", "**=", "//=", "<<=", ">>=", "&&=", "||=", "??=", "...", "..=", ">>>", "-->",
    "->", "=>", "::", "==", "!=", "<=", ">=", "&&", "||", "++", "--", "+=", "-=", "*=", "/=", "%=", "&=", "|=", "^=",
    "<<", ">>", "..", "**", "//", ":=", "<-", "|>", "??", "?.", "</", "/>", "~=", "=~", "!~",
];

fn operator_len(rest: &str) -> usize {
    let known = OPERATORS.iter().find(|operator| rest.starts_with(**operator));
    known.map_or_else(|| rest.chars().next().map_or(0, char::len_utf8), |operator| operator.len())
}

/// How long the quotes of a literal are, with what belongs to them (`r#"`, `f'''`); none where it has none.
fn quotes(literal: &str) -> Option<[usize; 2]> {
    let at = literal.find(['"', '\'', '`'])?;
    let quote = literal[at..].chars().next()?;
    let prefix_is_short = literal[..at].chars().all(|c| c.is_ascii_alphanumeric() || c == '#' || c == '$' || c == '@');
    let run = literal[at..].chars().take_while(|c| *c == quote).count();
    let width = if run >= 3 && literal.len() >= at + 6 { 3 } else { 1 };
    let tail = literal.len() - literal.trim_end_matches('#').len();
    let body = literal.get(at + width..literal.len().checked_sub(tail + width)?)?;
    let closes = literal[at + width + body.len()..].starts_with(quote);
    (prefix_is_short && closes).then_some([at + width, width + tail])
}

/// Lets brackets know their pairs; one without the other knows none. Those of different kinds of text never pair.
fn pair_brackets(text: &str, lexemes: &mut [Lexeme]) {
    let mut open: Vec<usize> = Vec::new();
    // Where strings are that are whole: pairs do not cross their quotes.
    for index in 0..lexemes.len() {
        let Lexeme { class, kind, partner, .. } = lexemes[index];
        match (class, partner) {
            (Class::Opener, _) => open.push(index),
            (Class::Closer, Some(opener)) => {
                // The end of a string: what was open in it stays open for ever.
                let from = open.iter().position(|each| *each == opener).unwrap_or(open.len());
                open.truncate(from);
            }
            (Class::Closer, None) => {
                let Some(&last) = open.last() else { continue };
                let is_pair = lexemes[last].partner.is_none()
                    && lexemes[last].kind == kind
                    && matches!(
                        (&text[lexemes[last].at.clone()], &text[lexemes[index].at.clone()]),
                        ("(", ")") | ("[", "]") | ("{", "}")
                    );
                if is_pair {
                    open.pop();
                    lexemes[last].partner = Some(index);
                    lexemes[index].partner = Some(last);
                }
            }
            _ => {}
        }
    }
}

/// A lexeme or a pair of them with all that is between.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Unit {
    /// Its first lexeme.
    pub from: usize,
    /// One past its last lexeme.
    pub to: usize,
}

impl Unit {
    /// Whether it is a pair with what is between.
    #[must_use]
    pub fn is_pair(self) -> bool {
        self.to > self.from + 1
    }
}

/// The units of some neighbouring lexemes: a pair of which both are among them is one.
#[must_use]
pub fn units(lexemes: &[Lexeme], range: Range<usize>) -> Vec<Unit> {
    let mut units = Vec::new();
    let mut at = range.start;
    while at < range.end {
        let partner = lexemes[at].partner.filter(|partner| *partner > at && *partner < range.end);
        let to = partner.map_or(at + 1, |partner| partner + 1);
        units.push(Unit { from: at, to });
        at = to;
    }
    units
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::languages::by_name;
    use crate::languages::lexical::{Block, Lexical, Syntax};
    use crate::text::Text;
    use crate::units::{Byte, Line};

    fn told(language: &str, line: &str) -> String {
        let language = by_name(language).unwrap();
        let text = Text::from(line);
        let lexical = Lexical::new(&language);
        let blocks: Vec<Block> =
            (0..text.line_count()).map(|at| Block::of(Line(at), text.line_start(Line(at)))).collect();
        let scanned = lexical.of(&text).scanned(&blocks);
        let lines: Vec<_> = scanned.iter().map(|each| (each, text.content(each.line).into_owned())).collect();
        let row = Row::of(lines.iter().map(|(scanned, content)| (*scanned, content.as_str()))).unwrap();
        let lexemes = row.lexemes(language.word_rule());
        let of = |lexeme: &Lexeme| {
            let partner = lexeme.partner.map_or(String::new(), |partner| format!("^{partner}"));
            let kind = match lexeme.kind {
                Kind::Code => "",
                Kind::String => "s:",
                Kind::Comment => "c:",
            };
            format!("{kind}{}{partner}", row.str(lexeme).replace('\n', "¶"))
        };
        let _ = Byte(0);
        lexemes.iter().map(of).collect::<Vec<_>>().join(" ")
    }

    #[test]
    fn rows_are_taken_apart() {
        for (language, line, expected) in [
            ("rust", "  let a_1 = gauge(\"A b\", 1.5);", "let a_1 = gauge (^11 s:\"^8 s:A s:b s:\"^5 , 1.5 )^4 ;"),
            ("rust", "x+=y==-1..=n[3] // see (a)", "x += y == - 1 ..= n [^10 3 ]^8 c:/ c:/ c:see c:(^16 c:a c:)^14"),
            (
                "python",
                "f'''a''' + \"\" + 'it''s'",
                "f s:'''^3 s:a s:'''^1 + s:\"^6 s:\"^5 + s:'^10 s:it s:'^8 s:'^13 s:s s:'^11",
            ),
            ("rust", "r#\"a\"# 0xFF_u8 1e-5 1.max(2)", "s:r#\"^2 s:a s:\"#^0 0xFF_u8 1e-5 1 . max (^10 2 )^8"),
            ("css", "  margin-top: 10px 50%;", "margin-top : 10px 50% ;"),
            ("rust", "a(\n    b)", "a (^4 ¶     b )^1"),
            ("rust", ")( ] (", ") ( ] ("),
        ] {
            assert_eq!(told(language, line), expected, "{line}");
        }
    }
}
