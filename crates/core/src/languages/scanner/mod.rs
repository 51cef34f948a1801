//! The lexical scanner: tells code, string and comment, line by line, from the table alone.
//!
//! A line is scanned from the [`State`] in which the line before it ended, so that any line can be scanned
//! again without what is above it. Offsets are bytes within the line. Cost: O(line), whatever the text: see [`LookAhead`].
//! It does no more than find where literals and comments begin and end: it does not know words or nesting.

mod literals;
mod starts;
mod tokens;
mod whole_lines;

use super::{BlockMarks, Language, Shape, StringForm};
pub use literals::next_hole;
use literals::{
    LookAhead, begins_value, character_literal, closing, counted_open, escape_len, first_collection, interpolation_len,
    operand_may_follow, regex_len,
};
use starts::{Anchors, Bytes, Opener, Pairs, Start, first_bytes};
use std::cell::OnceCell;
use std::sync::Arc;
pub use tokens::{Form, HereWord, Kind, State, Token};

/// The scanner of one language.
#[derive(Clone, Debug)]
pub struct Scanner {
    language: Arc<Language>,
    /// Which start each byte is; 0 for those with which nothing begins.
    start_of: [u8; 256],
    starts: Vec<Start>,
    pairs: Pairs,
    /// For each form of string, where its inside has to be looked at.
    stops: Vec<Bytes>,
}

impl Scanner {
    /// The scanner of `language`.
    #[must_use]
    pub fn new(language: Arc<Language>) -> Scanner {
        let mut openers = Vec::new();
        let lines = language.line.iter().enumerate();
        openers.extend(lines.map(|(at, mark)| Opener { head: mark.clone(), form: Form::Line(at as u8) }));
        let blocks = language.block.iter().enumerate();
        openers.extend(blocks.map(|(at, pair)| Opener { head: pair.open.clone(), form: Form::Block(at as u8) }));
        for (at, form) in language.strings.iter().enumerate() {
            let head = form.open.split('*').next().filter(|_| matches!(form.shape, Shape::Counted | Shape::Named));
            openers.push(Opener { head: head.unwrap_or(&form.open).to_owned(), form: Form::Text(at as u8) });
        }
        openers.sort_by_key(|opener| std::cmp::Reverse(opener.head.len()));
        let (mut starts, mut start_of) = (vec![Start { openers: Vec::new(), seconds: [false; 256] }], [0; 256]);
        for first in 0..=u8::MAX {
            if let Some(start) = Start::of(first, &language, &openers) {
                start_of[usize::from(first)] = starts.len() as u8;
                starts.push(start);
            }
        }
        let stops_of = |form: &StringForm| {
            let interpolations = form.interpolations.iter().map(|interpolation| interpolation.open.as_str());
            first_bytes([form.close.as_str(), "\\", "`", "\n", "\r"].into_iter().chain(interpolations))
        };
        let stops = language.strings.iter().map(stops_of).collect();
        let pairs = Pairs::of(&starts, &start_of, Anchors::of(&language, &openers));
        Scanner { language, start_of, starts, pairs, stops }
    }

    /// The language.
    #[must_use]
    pub fn language(&self) -> &Arc<Language> {
        &self.language
    }

    /// How many bytes of whole lines at the start of `lines`, which begin in code, have nothing with which a comment or literal
    /// could begin. Cost: linear in them and in the line after them.
    #[must_use]
    pub fn bare_lines(&self, lines: &str) -> usize {
        if !self.language.documents.is_empty() || self.language.block_scalars {
            return 0;
        }
        let bytes = lines.as_bytes();
        match self.pairs.first_in(bytes) {
            Some(at) => memchr::memrchr(b'\n', &bytes[..at]).map_or(0, |end| end + 1),
            None => bytes.len(),
        }
    }

    /// Whether something could begin at `at`, where a start is, by the byte after it.
    fn may_begin(&self, bytes: &[u8], at: usize) -> bool {
        let start = &self.starts[usize::from(self.start_of[usize::from(bytes[at])])];
        bytes.get(at + 1).is_none_or(|second| start.seconds[usize::from(*second)])
    }

    /// Scans `line`, with its line end if it has one, from `state` on; hands each comment and literal to
    /// `found` and gives the state in which the next line begins.
    pub fn scan(&self, line: &str, state: &State, found: &mut dyn FnMut(Token)) -> State {
        let content = match line.as_bytes() {
            [.., b'\r', b'\n'] => line.len() - 2,
            [.., b'\n'] => line.len() - 1,
            _ => line.len(),
        };
        let mut run = LineScan {
            scanner: self,
            line,
            content,
            at: 0,
            pending: Vec::new(),
            ahead: LookAhead::of(line),
            indentation: OnceCell::new(),
            collection: OnceCell::new(),
            found,
        };
        let mut state = state.clone();
        if let (State::Code, Some(kind)) = (&state, run.document()) {
            return run.document_line(kind, true);
        }
        loop {
            state = match state {
                State::Code => match run.code() {
                    Some(next) => next,
                    None => break,
                },
                State::Here(words) => return run.here_line(&words),
                State::Document(kind) => return run.document_line(kind, false),
                State::Scalar(column) if run.is_in_scalar(column) => {
                    run.whole_line(Kind::String, Form::Scalar);
                    return State::Scalar(column);
                }
                State::Scalar(_) => State::Code,
                State::Block(pair, depth) => match run.block(pair, depth, 0, false) {
                    Some(depth) => return State::Block(pair, depth),
                    None => State::Code,
                },
                State::Text(form, count) => match run.text(form, count, 0, false) {
                    true => State::Code,
                    false => return State::Text(form, count),
                },
                State::Named(form, close) => match run.text_until(form, &close, 0, false) {
                    true => State::Code,
                    false => return State::Named(form, close),
                },
            };
            if !matches!(state, State::Code) {
                return state;
            }
        }
        match run.scalar_column() {
            Some(column) => State::Scalar(column),
            None if run.pending.is_empty() => State::Code,
            None => State::Here(run.pending.into()),
        }
    }
}

struct LineScan<'a> {
    scanner: &'a Scanner,
    line: &'a str,
    /// Where its content ends.
    content: usize,
    at: usize,
    pending: Vec<HereWord>,
    ahead: LookAhead,
    /// Where the first character is that is no white space.
    indentation: OnceCell<usize>,
    /// Where the first list or mapping in brackets begins, if one does.
    collection: OnceCell<Option<usize>>,
    found: &'a mut dyn FnMut(Token),
}

impl<'a> LineScan<'a> {
    fn rest(&self) -> &'a str {
        &self.line[self.at..]
    }

    fn is_first(&self) -> bool {
        let indentation = || self.line.len() - self.line.trim_start().len();
        self.at <= *self.indentation.get_or_init(indentation)
    }

    fn may_begin_value(&self) -> bool {
        let in_collection = || {
            let first = self.collection.get_or_init(|| first_collection(self.line));
            first.is_some_and(|first| first < self.at)
        };
        begins_value(&self.line[..self.at], in_collection)
    }

    fn emit(&mut self, kind: Kind, form: Form, start: usize, [opens, closes]: [bool; 2]) {
        (self.found)(Token { start, end: self.at, kind, form, opens, closes });
    }

    /// Goes through code to the end of the line (none), or to a comment or literal that goes on in the next
    /// line (its state).
    fn code(&mut self) -> Option<State> {
        let (bytes, scanner) = (self.line.as_bytes(), self.scanner);
        while let Some(next) = scanner.pairs.first_in(&bytes[self.at..]) {
            self.at += next;
            let start = &scanner.starts[usize::from(scanner.start_of[usize::from(bytes[self.at])])];
            match scanner.may_begin(bytes, self.at).then(|| self.opener(&start.openers)).flatten() {
                Some(State::Code) => {}
                Some(state) => return Some(state),
                None => self.skip_one(),
            }
        }
        self.at = bytes.len();
        None
    }

    fn skip_one(&mut self) {
        let escapes = self.scanner.language.backslash_in_code && self.rest().starts_with('\\');
        let mut characters = self.rest().chars();
        let passed = characters.next().map_or(1, char::len_utf8);
        let escaped = if escapes { characters.next().map_or(0, char::len_utf8) } else { 0 };
        self.at += passed + escaped;
    }

    /// Tries what can begin here. `Code` when it ended on this line, another state when it goes on.
    fn opener(&mut self, openers: &[Opener]) -> Option<State> {
        for opener in openers {
            if !self.begins_with(opener) || !self.may_open(opener) {
                continue;
            }
            if let Some(state) = self.open(opener) {
                return Some(state);
            }
        }
        (self.scanner.language.regex && self.regex()).then_some(State::Code)
    }

    /// Whether the rest begins with what `opener` begins with; a line mark of letters must be a whole word.
    fn begins_with(&self, opener: &Opener) -> bool {
        let (rest, head) = (self.rest(), opener.head.as_str());
        if !matches!(opener.form, Form::Line(_)) || !head.ends_with(|c: char| c.is_ascii_alphabetic()) {
            return rest.starts_with(head);
        }
        let is_here = match self.scanner.language.any_case {
            true => rest.get(..head.len()).is_some_and(|start| start.eq_ignore_ascii_case(head)),
            false => rest.starts_with(head),
        };
        let goes_on = || rest[head.len()..].starts_with(|c: char| c.is_alphanumeric() || c == '_');
        is_here && (self.scanner.language.fixed.is_some() || !goes_on())
    }

    fn may_open(&self, opener: &Opener) -> bool {
        let before = self.line[..self.at].chars().next_back();
        let language = &self.scanner.language;
        let after_word = before.is_some_and(|c| c.is_alphanumeric() || c == '_');
        let fixed = language.fixed.as_ref().filter(|fixed| fixed.marks.contains(&opener.head));
        match opener.form {
            Form::Line(_) if fixed.is_some() => fixed.is_some_and(|fixed| self.at == fixed.column as usize),
            Form::Line(_) if language.mark_begins_line => self.is_first(),
            Form::Line(_) if language.mark_begins_word => {
                before.is_none_or(|c| c.is_whitespace() || ";&|()".contains(c))
            }
            Form::Block(pair) if pair > 0 => !self.is_empty_comment(),
            Form::Text(form) if language.strings[form as usize].begins_word => !after_word,
            Form::Text(form) if language.strings[form as usize].begins_value => self.may_begin_value(),
            _ => !(after_word && opener.head.starts_with(char::is_alphabetic)),
        }
    }

    /// Whether an opening and a closing mark are side by side here: `/**/` opens no `/**`.
    fn is_empty_comment(&self) -> bool {
        let closes = |pair: &BlockMarks| {
            self.rest().strip_prefix(pair.open.as_str()).is_some_and(|rest| rest.starts_with(pair.close.as_str()))
        };
        self.scanner.language.block.first().is_some_and(closes)
    }

    fn open(&mut self, opener: &Opener) -> Option<State> {
        let start = self.at;
        match opener.form {
            Form::Line(_) => {
                self.at = self.content;
                self.emit(Kind::Comment, opener.form, start, [true, true]);
                Some(State::Code)
            }
            Form::Block(pair) => {
                self.at += opener.head.len();
                let depth = self.block(pair, 1, start, true);
                Some(depth.map_or(State::Code, |depth| State::Block(pair, depth)))
            }
            Form::Text(form) => self.open_text(form),
            Form::Here | Form::Document | Form::Scalar | Form::Regex => None,
        }
    }

    fn open_text(&mut self, index: u8) -> Option<State> {
        let scanner = self.scanner;
        let form = &scanner.language.strings[index as usize];
        let start = self.at;
        let mut count = 0;
        match form.shape {
            Shape::Here => return self.open_here(form),
            Shape::Named => return self.open_named(index),
            Shape::Character => {
                self.at += character_literal(self.rest(), form)?;
                self.emit(Kind::String, Form::Text(index), start, [true, true]);
                return Some(State::Code);
            }
            Shape::Counted => {
                let (opened, length) = counted_open(self.rest(), form)?;
                count = length;
                self.at += opened;
            }
            Shape::Plain => self.at += form.open.len(),
        }
        let closed = self.text(index, count, start, true);
        Some(if closed { State::Code } else { State::Text(index, count) })
    }

    /// Goes to the end of a block comment that is `depth` deep here; the depth at the line's end if it goes on.
    fn block(&mut self, pair: u8, depth: u32, start: usize, opens: bool) -> Option<u32> {
        let scanner = self.scanner;
        let marks = &scanner.language.block[pair as usize];
        let stops = first_bytes([marks.close.as_str(), marks.open.as_str()]);
        let mut depth = depth;
        while self.at < self.line.len() {
            if self.rest().starts_with(&marks.close) {
                self.at += marks.close.len();
                depth -= 1;
                if depth == 0 {
                    self.emit(Kind::Comment, Form::Block(pair), start, [opens, true]);
                    return None;
                }
            } else if scanner.language.nests && self.rest().starts_with(&scanner.language.block[0].open) {
                self.at += scanner.language.block[0].open.len();
                depth += 1;
            } else {
                self.at += next_of(self.rest(), &stops);
            }
        }
        self.emit(Kind::Comment, Form::Block(pair), start, [opens, false]);
        Some(depth)
    }

    /// Goes to the end of a string; whether it ended on this line.
    fn text(&mut self, index: u8, count: u32, start: usize, opens: bool) -> bool {
        let scanner = self.scanner;
        self.text_until(index, &closing(&scanner.language.strings[index as usize], count), start, opens)
    }

    /// The same of a string that `close` ends.
    fn text_until(&mut self, index: u8, close: &str, start: usize, opens: bool) -> bool {
        let scanner = self.scanner;
        let form = &scanner.language.strings[index as usize];
        let kind = if form.comment { Kind::Comment } else { Kind::String };
        let content = self.content;
        loop {
            let rest = self.rest();
            if rest.is_empty() {
                self.emit(kind, Form::Text(index), start, [opens, false]);
                return false;
            }
            if self.at >= content && !form.lines {
                self.emit(kind, Form::Text(index), start, [opens, true]);
                return true;
            }
            // A backslash may open an interpolation.
            let hole = interpolation_len(rest, form, &self.ahead);
            let escaped = if hole.is_some() { 0 } else { escape_len(rest, form.escape, close) };
            if escaped > 0 {
                self.at += escaped;
            } else if rest.starts_with(close) {
                self.at += close.len();
                self.emit(kind, Form::Text(index), start, [opens, true]);
                return true;
            } else {
                self.at += hole.unwrap_or_else(|| next_of(rest, &scanner.stops[usize::from(index)]));
            }
        }
    }

    /// A regular expression where an operand may be: between slashes, on this line.
    fn regex(&mut self) -> bool {
        if !self.rest().starts_with('/') || !operand_may_follow(&self.line[..self.at]) {
            return false;
        }
        let Some(length) = regex_len(self.rest(), &self.ahead) else { return false };
        let start = self.at;
        self.at += length;
        self.emit(Kind::String, Form::Regex, start, [true, true]);
        true
    }
}

/// How far to go on at least: one character, and on to the next of `stops`.
fn next_of(rest: &str, stops: &Bytes) -> usize {
    let first = rest.chars().next().map_or(0, char::len_utf8);
    rest.as_bytes()[first..].iter().position(|&byte| stops[usize::from(byte)]).map_or(rest.len(), |at| first + at)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::languages::by_name;
    use proptest::prelude::*;

    /// `c` comment, `s` string, `.` code, one letter a byte.
    fn kinds(language: &str, text: &str) -> String {
        let scanner = Scanner::new(by_name(language).unwrap());
        let mut state = State::Code;
        let mut out = String::new();
        for line in text.split_inclusive('\n') {
            let mut row = vec!['.'; line.len()];
            state = scanner.scan(line, &state, &mut |token| {
                let sign = if token.kind == Kind::Comment { 'c' } else { 's' };
                row[token.start..token.end].fill(sign);
            });
            out.extend(row);
        }
        out
    }

    #[test]
    fn kinds_of_bytes() {
        let rows: &[(&str, &str, &str)] = &[
            ("rust", "a // b\nc", "..cccc.."),
            ("rust", "'a' 'b \"x\" c", "sss....sss.."),
            ("rust", r##"r#"a"b"# x"##, "ssssssss.."),
            ("rust", "/* a /* b */ c */ d", "ccccccccccccccccc.."),
            ("rust", "\"a\\\"b\" c", "ssssss.."),
            ("rust", "/**/ a /** b */", "cccc...cccccccc"),
            ("rust", "bar\"x\"", "...sss"),
            ("rust", r"'\u{1F600}' x", "sssssssssss.."),
            ("c", "/* a /* b */ c", "cccccccccccc.."),
            ("cpp", "R\"(a\n)b\" )\"x", "sssssssssss."),
            ("cpp", "R\"ab(c)\"\n)ab\" d", "sssssssssssss.."),
            ("cpp", "R\" a\" b", ".ssss.."),
            ("c", "\"a\nb", "ss.."),
            ("python", "'''a\n# b''' # c", "sssssssssss.ccc"),
            ("sql", "'it''s' -- x", "sssssss.cccc"),
            ("shell", "a#b $# #c", ".......cc"),
            ("shell", "cat <<EOF x\n# a\nEOF\n# b", "............ssssssssccc"),
            ("lua", "--[==[ a ]] b ]==] c", "cccccccccccccccccc.."),
            ("lua", "--[ a\n[[b\nc]]d", "ccccc.sssssss."),
            ("javascript", "a = /['\"]/g; b / c / d", "....sssssss..........."),
            ("shell", "\"$(a \"$b\" #c)\" # d", "ssssssssssssss.ccc"),
            ("shell", "\"$(a \"b\" # c", "ssssss.sssss"),
            ("javascript", "/a/gu.b // c", "sssss...cccc"),
            ("yaml", "a: b == 'c # d'", "...........cccc"),
            ("yaml", "- 'a': [b, \"c\"] # d", "..sss......sss..ccc"),
            ("yaml", "a: !t 'b # c'", "......sssssss"),
            ("javascript", "`${a ? `//b` : '}'}` // c", "ssssssssssssssssssss.cccc"),
            ("swift", "\"\\(a(\"b\")) //\" // c", "ssssssssssssss.cccc"),
            ("go", "`a\n// b` // c", "ssssssss.cccc"),
            ("html", "a <!-- b\nc --> d", "..cccccccccccc.."),
            ("yaml", "a: |\n  # b\n\n  c\nd: e", ".....sssss..sss....."),
            ("yaml", "- a: >-\n    b\n  c: d # e", "........sssss........ccc"),
            ("perl", "a\n=pod\n# b\n\n=cut\nc", "..cccc.ccc..cccc.."),
            ("yaml", "- |\n a\n- b", "....ss...."),
            ("perl", "a =b;\n__END__\nc", "......ccccccc.c"),
            ("ruby", "a =begin\n=begin\nb\n=end\n# c", ".........cccccc.c.cccc.ccc"),
            ("sql", "$$ a -- b $$", ".....ccccccc"),
            ("yaml", "don't # x", "......ccc"),
            ("yaml", "k: 'it''s # no'", "...ssssssssssss"),
        ];
        for &(language, text, expected) in rows {
            let found = kinds(language, text);
            assert_eq!(found, expected, "{language} {text:?}");
        }
    }

    /// The tokens of `text`, with their lines.
    fn tokens(scanner: &Scanner, text: &str) -> Vec<(usize, Token)> {
        let (mut state, mut tokens) = (State::Code, Vec::new());
        for (line, content) in text.split_inclusive('\n').enumerate() {
            state = scanner.scan(content, &state, &mut |token| tokens.push((line, token)));
        }
        tokens
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(64))]

        #[test]
        fn what_is_passed_over_by_anchors_begins_nothing(picks in proptest::collection::vec((0usize..40, 1usize..30), 1..30)) {
            let mut anchored = 0;
            for language in crate::languages::all() {
                let scanner = Scanner::new(language.clone());
                let mut plain = scanner.clone();
                plain.pairs.anchors = None;
                anchored += usize::from(scanner.pairs.anchors.is_some());
                let forms = language.strings.iter().flat_map(|form| [form.open.replace('*', "#"), form.close.replace('*', "#")]);
                let blocks = language.block.iter().flat_map(|pair| [pair.open.clone(), pair.close.clone()]);
                let heads: Vec<String> = language.line.iter().cloned().chain(forms).chain(blocks).collect();
                let text: String = picks.iter().map(|&(pick, times)| match pick {
                    0 => "\n".to_owned(),
                    1 => " ".repeat(times),
                    2 => "br".to_owned(),
                    3 => "\\".to_owned(),
                    4..8 => "a".repeat(times),
                    _ => heads.get(pick % heads.len().max(1)).cloned().unwrap_or_default(),
                }).collect();
                prop_assert_eq!(tokens(&scanner, &text), tokens(&plain, &text), "{} {:?}", language.name, text);
                prop_assert_eq!(scanner.bare_lines(&text).max(plain.bare_lines(&text)), scanner.bare_lines(&text));
            }
            prop_assert!(anchored > 10, "{} languages have anchors", anchored);
        }
    }
}
