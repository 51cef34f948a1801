//! The syntax of a text as the scanner sees it, kept up to date with little work.
//!
//! States are remembered every so many bytes; after a change those after it are forgotten and found again
//! when they are asked for. Cost: O(what is asked for), plus one pass from the last state that is known, over [`REACH`] bytes
//! at most: further on, the scanner begins anew at a line not far above, as if code began there.

use super::Language;
pub use super::blocks::{Block, REACH};
use super::layers::{Found, Layer, Layers};
use super::scanner::{Kind, Token};
use super::sweep::{Seen, Sweep};
use crate::changes::Change;
use crate::parallel::{PARALLEL_THRESHOLD, split_in_two};
use crate::text::Text;
use crate::text::reader::Reader;
use crate::units::{Byte, Line, Span};
use std::collections::BTreeMap;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

/// Bytes between remembered states: a scan from one to the next takes some tens of microseconds.
const BYTES_BETWEEN_STATES: usize = 16 * 1024;

/// Bytes that a place that was asked for must be away from the remembered state before it to be remembered
/// too: the view asks for its first line at every frame. What is remembered stays a small part of the text.
const BYTES_BEFORE_ASKED: usize = 1024;

/// A longer line is taken to be in one language: the view asks for the language at the caret at every frame.
const LONGEST_MIXED: usize = 1 << 20;

/// What the engine asks about syntax. The scanner answers for every language; a tree can answer better.
///
/// Threads may ask at the same time.
pub trait Syntax: Sync {
    /// What the text is at `at`: what a character typed there would be.
    fn kind_at(&self, at: Byte) -> Kind;

    /// The language of the file.
    fn file_language(&self) -> Arc<Language>;

    /// The language at `at`: what a character typed there would be in.
    fn language_at(&self, at: Byte) -> Arc<Language>;

    /// Whether `line` begins in another language than the file's.
    fn begins_inside(&self, line: Line) -> bool;

    /// What of `line` is in another language than the file's, in order.
    fn inside(&self, line: Line) -> Vec<Inside>;

    /// The comments and literals that touch `line`, in bytes of the text.
    fn pieces(&self, line: Line) -> Vec<Piece>;

    /// What the first byte of `line` is in, before it.
    fn kind_before_line(&self, line: Line) -> Kind;

    /// What is on each line of `blocks`, which are in order.
    fn scanned(&self, blocks: &[Block]) -> Vec<Scanned>;

    /// [`Syntax::kind_before_line`] of each of `lines`, which are in order.
    fn kinds_before(&self, lines: &[Line]) -> Vec<Kind>;
}

/// A comment or literal, or what of it lies on one line.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Piece {
    /// Where in the text.
    pub span: Span,
    /// What the scanner says of it, offsets within the line.
    pub token: Token,
}

/// A line, and what is on it.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Scanned {
    /// Which line.
    pub line: Line,
    /// It without its line end.
    pub content: Span,
    /// The comments and literals that touch it, in order.
    pub pieces: Vec<Piece>,
}

/// What the text is at `at`, of whose line these are the pieces, in order.
#[must_use]
pub fn kind_among(pieces: &[Piece], at: Byte) -> Kind {
    let covers = |piece: &&Piece| {
        let open_end = !piece.token.closes || is_line_comment(piece);
        (piece.span.start < at || (piece.span.start == at && !piece.token.opens))
            && (at < piece.span.end || (open_end && at == piece.span.end))
    };
    let behind = pieces.partition_point(|piece| piece.span.start <= at);
    // One that begins right at `at`, and the one before it that may reach up to there.
    pieces[behind.saturating_sub(2)..behind].iter().find(covers).map_or(Kind::Code, |piece| piece.token.kind)
}

/// A stretch of a line in another language than the file's.
#[derive(Clone, Debug)]
pub struct Inside {
    /// Where in the text.
    pub span: Span,
    /// Which language.
    pub language: Arc<Language>,
}

/// The remembered states of one text.
#[derive(Debug)]
pub struct Lexical {
    layers: Layers,
    /// By where their lines begin.
    known: Mutex<BTreeMap<Byte, (Line, Layer)>>,
    /// The state before the line that was asked for last, or the one after it: lines are mostly asked for
    /// in their order.
    last: Mutex<Option<(Line, Layer)>>,
}

/// What is remembered is true whether or not a thread came to grief over it.
fn locked<T>(of: &Mutex<T>) -> MutexGuard<'_, T> {
    of.lock().unwrap_or_else(PoisonError::into_inner)
}

impl Clone for Lexical {
    fn clone(&self) -> Lexical {
        let (known, last) = (locked(&self.known).clone(), locked(&self.last).clone());
        Lexical { layers: self.layers.clone(), known: Mutex::new(known), last: Mutex::new(last) }
    }
}

impl Lexical {
    /// For a text in `language`.
    #[must_use]
    pub fn new(language: &Arc<Language>) -> Lexical {
        Lexical { layers: Layers::new(language), known: Mutex::default(), last: Mutex::default() }
    }

    /// The language.
    #[must_use]
    pub fn language(&self) -> &Arc<Language> {
        self.layers.language()
    }

    /// Forgets what `change` may have made untrue.
    pub fn follow(&mut self, change: &Change) {
        *locked(&self.last) = None;
        if let Some(first) = change.edits().first() {
            drop(locked(&self.known).split_off(&(first.start() + 1)));
        }
    }

    /// The view of `text`, which must be the one whose changes were followed.
    #[must_use]
    pub fn of<'a>(&'a self, text: &'a Text) -> LexicalView<'a> {
        LexicalView { lexical: self, text, reader: Mutex::new(Reader::new(text)), long: Mutex::default() }
    }

    fn state_before(&self, reader: &mut Reader, line: Line) -> Layer {
        if let Some((_, state)) = locked(&self.last).as_ref().filter(|(at, _)| *at == line) {
            return state.clone();
        }
        let state = self.state_from_known(reader, line);
        *locked(&self.last) = Some((line, state.clone()));
        state
    }

    fn state_from_known(&self, reader: &mut Reader, line: Line) -> Layer {
        let mut known = locked(&self.known);
        let start = reader.line_start(line);
        let before = known.range(..=start).next_back();
        let beginning = || (Byte(0), (Line(0), self.layers.beginning(reader.text().char_at(Byte(0)))));
        let (mut saved, (mut at, mut state)) =
            before.map_or_else(beginning, |(saved, (at, state))| (*saved, (*at, state.clone())));
        let newest = known.last_key_value().is_none_or(|(last, _)| *last <= start);
        if start - saved > REACH {
            return self.layers.taken_for(reader, start);
        }
        let from = saved;
        reader.each_stretch(Span::new(from, start), &mut |lines, end| {
            state = self.layers.over(lines, std::mem::take(&mut state));
            at = Line(at.0 + memchr::memchr_iter(b'\n', lines.as_bytes()).count());
            if newest && end - saved >= BYTES_BETWEEN_STATES {
                saved = end;
                known.insert(saved, (at, state.clone()));
            }
        });
        if start - saved >= BYTES_BEFORE_ASKED {
            known.insert(start, (line, state.clone()));
        }
        state
    }
}

/// [`Syntax`] by the scanner.
pub struct LexicalView<'a> {
    lexical: &'a Lexical,
    text: &'a Text,
    reader: Mutex<Reader<'a>>,
    /// The pieces of the long line that was asked for last: it may be asked for as often as it has cursors.
    long: Mutex<Option<(Line, Arc<[Piece]>)>>,
}

/// A line of so many bytes is scanned once for all that is asked of it.
const LONG: usize = 1 << 10;

impl Syntax for LexicalView<'_> {
    fn kind_at(&self, at: Byte) -> Kind {
        let line = self.text.line_of(at);
        if self.text.line_span(line).len() < LONG {
            return kind_among(&self.pieces(line), at);
        }
        if let Some((_, pieces)) = locked(&self.long).as_ref().filter(|(known, _)| *known == line) {
            return kind_among(pieces, at);
        }
        let pieces: Arc<[Piece]> = self.pieces(line).into();
        let kind = kind_among(&pieces, at);
        *locked(&self.long) = Some((line, pieces));
        kind
    }

    fn file_language(&self) -> Arc<Language> {
        self.lexical.language().clone()
    }

    fn language_at(&self, at: Byte) -> Arc<Language> {
        if self.is_plain() {
            return self.lexical.language().clone();
        }
        let holds = |part: &&Inside| part.span.start <= at && at < part.span.end;
        let inside = self.inside(self.text.line_of(at));
        // A caret after the last byte of a language still types in it, unless another one begins there.
        let behind = |part: &&Inside| part.span.start < at && at == part.span.end;
        let part = inside.iter().find(holds).or_else(|| inside.iter().find(behind));
        part.map_or_else(|| self.lexical.language().clone(), |part| part.language.clone())
    }

    fn begins_inside(&self, line: Line) -> bool {
        !self.is_plain() && self.state_before(line).is_inside()
    }

    fn inside(&self, line: Line) -> Vec<Inside> {
        let mut parts = Vec::new();
        let span = locked(&self.reader).line_span(line);
        if !self.is_plain() && span.len() <= LONGEST_MIXED {
            let start = span.start;
            self.scan(line, &mut |found| {
                if let Found::Inside(from, to, language) = found {
                    parts.push(Inside { span: Span::new(start + from, start + to), language });
                }
            });
        }
        parts
    }

    fn pieces(&self, line: Line) -> Vec<Piece> {
        let mut pieces = Vec::new();
        let start = locked(&self.reader).line_start(line);
        self.scan(line, &mut |found| pieces.extend(piece_of(&found, start)));
        pieces
    }

    fn scanned(&self, blocks: &[Block]) -> Vec<Scanned> {
        let count: usize = blocks.iter().map(|block| block.count).sum();
        if count < PARALLEL_THRESHOLD {
            let scanned = |line| {
                let content = locked(&self.reader).content_span(line);
                Scanned { line, content, pieces: self.pieces(line) }
            };
            return blocks.iter().flat_map(|block| block.lines()).map(scanned).collect();
        }
        let layers = &self.lexical.layers;
        self.sweep(blocks, |seen| {
            let mut pieces = Vec::new();
            let mut take = |found: Found| pieces.extend(piece_of(&found, seen.content.start));
            let behind = layers.scan(seen.whole, seen.state, &mut take);
            (Scanned { line: seen.line, content: seen.content, pieces }, Some(behind))
        })
    }

    fn kinds_before(&self, lines: &[Line]) -> Vec<Kind> {
        if lines.len() < PARALLEL_THRESHOLD {
            return lines.iter().map(|line| self.kind_before_line(*line)).collect();
        }
        let blocks = split_in_two(lines.len(), |part| {
            let mut reader = Reader::new(self.text);
            lines[part].iter().map(|line| Block::of(*line, reader.line_start(*line))).collect::<Vec<_>>()
        });
        let language = self.lexical.language();
        self.sweep(&blocks.concat(), |seen| (seen.state.kind(language), None))
    }

    fn kind_before_line(&self, line: Line) -> Kind {
        self.state_before(line).kind(self.lexical.language())
    }
}

impl LexicalView<'_> {
    /// Whether there is only the file's own language.
    fn is_plain(&self) -> bool {
        self.lexical.language().embeds.is_empty()
    }

    /// What `see` makes of each line of `blocks`, of which there is one.
    fn sweep<R: Send>(&self, blocks: &[Block], see: impl Fn(Seen) -> (R, Option<Layer>) + Sync) -> Vec<R> {
        let sweep = Sweep { layers: &self.lexical.layers, text: self.text, blocks };
        sweep.each(&self.state_before(blocks[0].first), see)
    }

    fn state_before(&self, line: Line) -> Layer {
        self.lexical.state_before(&mut locked(&self.reader), line)
    }

    fn scan(&self, line: Line, found: &mut dyn FnMut(Found)) {
        let state = self.state_before(line);
        let mut reader = locked(&self.reader);
        let span = reader.line_span(line);
        let behind = self.lexical.layers.scan(&reader.slice(span), &state, found);
        *locked(&self.lexical.last) = Some((line.next(), behind));
    }
}

/// What was found on the line that begins at `start`, if it is a comment or literal.
fn piece_of(found: &Found, start: Byte) -> Option<Piece> {
    match *found {
        Found::Token(token) => Some(Piece { span: Span::new(start + token.start, start + token.end), token }),
        Found::Inside(..) => None,
    }
}

fn is_line_comment(piece: &Piece) -> bool {
    matches!(piece.token.form, super::scanner::Form::Line(_))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::changes::ChangeBuilder;
    use crate::languages::by_name;

    fn letter(kind: Kind) -> char {
        match kind {
            Kind::Code => '.',
            Kind::String => 's',
            Kind::Comment => 'c',
        }
    }

    #[test]
    fn the_kind_at_a_caret_is_what_would_be_typed_there() {
        let text = Text::from("a /*b*/ \"c\" // d\n");
        let lexical = Lexical::new(&by_name("rust").unwrap());
        let view = lexical.of(&text);
        let kinds: String = (0..=17).map(|at| letter(view.kind_at(Byte(at)))).collect();
        assert_eq!(kinds, "...cccc..ss..cccc.");
    }

    #[test]
    fn far_from_what_is_known_the_scanner_begins_anew_a_little_above() {
        let text = Text::from("let a = 1; /* x\n*/ let b = \"y\";\n".repeat(REACH / 10).as_str());
        let last = Line(text.line_count() - 2);
        let lexical = Lexical::new(&by_name("rust").unwrap());
        assert_eq!(lexical.of(&text).kind_before_line(last), Kind::Comment);
        assert_eq!(locked(&lexical.known).len(), 0, "nothing that is only guessed is remembered");
        // Who reads on line by line knows.
        let view = lexical.of(&text);
        for line in (0..last.0).map(Line) {
            view.pieces(line);
        }
        assert_eq!(view.kind_before_line(last), Kind::Comment);
    }

    #[test]
    fn remembered_states_agree_with_a_fresh_scan_after_a_change() {
        let mut text = Text::from("let a = 1; /* x\n*/ let b = \"y\";\n".repeat(3000).as_str());
        let mut lexical = Lexical::new(&by_name("rust").unwrap());
        let last = Line(5999);
        assert_eq!(lexical.of(&text).kind_before_line(last), Kind::Comment);
        let mut builder = ChangeBuilder::new(&text);
        builder.insert(Byte(40_000 / 34 * 34), "/* ");
        let change = builder.finish();
        text.apply(&change);
        lexical.follow(&change);
        let fresh = Lexical::new(&by_name("rust").unwrap());
        for line in [Line(10), Line(2400), last] {
            assert_eq!(lexical.of(&text).pieces(line), fresh.of(&text).pieces(line));
        }
    }
}
