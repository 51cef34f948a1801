//! What is made of whole lines: here-documents, documentation among the code, text below a key.

use super::literals::named_open;
use super::{BlockMarks, Form, HereWord, Kind, LineScan, State};
use crate::languages::StringForm;
use std::sync::Arc;

/// Here-documents that one line may begin; more are taken as code.
const MOST_HERE_WORDS: usize = 64;

impl LineScan<'_> {
    pub(super) fn open_here(&mut self, form: &StringForm) -> Option<State> {
        let rest = &self.rest()[form.open.len()..];
        if self.pending.len() == MOST_HERE_WORDS {
            return None;
        }
        if rest.starts_with('<') {
            self.at += form.open.len() + 1;
            return Some(State::Code);
        }
        let dashed = rest.trim_start_matches(['-', '~']);
        let quoted = dashed.trim_start_matches(' ');
        let named = quoted.trim_start_matches(['"', '\'', '\\']);
        let word: String = named.chars().take_while(|c| c.is_alphanumeric() || *c == '_').collect();
        if word.is_empty() || word.starts_with(|c: char| c.is_ascii_digit()) {
            return None;
        }
        let may_be_indented = dashed.len() < rest.len() || form.open.len() > 2;
        self.pending.push(HereWord { word: word.as_str().into(), may_be_indented });
        let quote = usize::from(quoted.len() > named.len() && !quoted.starts_with('\\'));
        self.at += form.open.len() + (rest.len() - named.len()) + word.len() + quote;
        self.at = self.at.min(self.line.len());
        Some(State::Code)
    }

    /// Begins a string whose delimiters hold a word.
    pub(super) fn open_named(&mut self, index: u8) -> Option<State> {
        let scanner = self.scanner;
        let (opened, close) = named_open(self.rest(), &scanner.language.strings[index as usize])?;
        let start = self.at;
        self.at += opened;
        let closed = self.text_until(index, &close, start, true);
        Some(if closed { State::Code } else { State::Named(index, close.into()) })
    }

    /// The kind of documentation that begins with this line.
    pub(super) fn document(&self) -> Option<u8> {
        let opens = |marks: &BlockMarks| {
            let tail = self.line.strip_prefix(marks.open.as_str());
            let needs_letter = marks.open.ends_with('=');
            tail.is_some_and(|tail| tail.starts_with(|c: char| c.is_alphabetic()) == needs_letter)
        };
        self.scanner.language.documents.iter().position(opens).map(|kind| kind as u8)
    }

    pub(super) fn document_line(&mut self, kind: u8, opens: bool) -> State {
        let close = &self.scanner.language.documents[usize::from(kind)].close;
        let closes = !close.is_empty() && self.line.starts_with(close.as_str());
        self.at = self.content;
        self.emit(Kind::Comment, Form::Document, 0, [opens, closes]);
        if closes { State::Code } else { State::Document(kind) }
    }

    pub(super) fn whole_line(&mut self, kind: Kind, form: Form) {
        self.at = self.content;
        self.emit(kind, form, 0, [false, false]);
    }

    pub(super) fn is_in_scalar(&self, column: u32) -> bool {
        let content = self.line.trim_end();
        content.is_empty() || (content.len() - content.trim_start().len()) as u32 > column
    }

    /// The column of the key whose block scalar begins with the next line (YAML 1.2, 8.1): the line ends with `|` or
    /// `>` and its indicators, after a colon or a dash. A comment may follow.
    pub(super) fn scalar_column(&self) -> Option<u32> {
        if !self.scanner.language.block_scalars {
            return None;
        }
        let code = self.line.split(" #").next().unwrap_or("").trim_end();
        let head = code.trim_end_matches(|c: char| c.is_ascii_digit() || matches!(c, '+' | '-'));
        let head = head.strip_suffix(['|', '>'])?;
        let before = head.trim_end();
        let is_value = head.len() > before.len() && (before.ends_with(':') || before.ends_with('-'));
        let key = code.trim_start_matches(' ');
        let rest = key.trim_start_matches("- ");
        // A dash without a key is an entry of its own; before a key it belongs to the list around.
        let dashes = (key.len() - rest.len()).saturating_sub(if rest.contains(':') { 0 } else { 2 });
        is_value.then_some((code.len() - key.len() + dashes) as u32)
    }

    pub(super) fn here_line(&mut self, words: &Arc<[HereWord]>) -> State {
        let content = &self.line[..self.content];
        let first = &words[0];
        let candidate = if first.may_be_indented { content.trim_start() } else { content };
        let tail = candidate.strip_prefix(&*first.word);
        let ends =
            tail.is_some_and(|tail| tail.is_empty() || (first.may_be_indented && tail.starts_with([';', ',', ')'])));
        self.at = self.line.len();
        self.emit(Kind::String, Form::Here, 0, [false, ends]);
        match (ends, words.len()) {
            (false, _) => State::Here(words.clone()),
            (true, 1) => State::Code,
            (true, _) => State::Here(words[1..].into()),
        }
    }
}
