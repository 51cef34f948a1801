//! Copying, cutting, pasting: a clip has one piece for each cursor, and knows whether its pieces are lines.

pub mod clip;
mod foreign;

use crate::changes::{Bias, Change, ChangeBuilder};
use crate::cursors::{CursorSet, Selection};
use crate::text::Text;
use crate::text::cells::width;
use crate::text::indent::leading;
use crate::units::{Byte, Cell, Line, Span};
use crate::verbs::clipboard::clip::{Clip, Piece};
use crate::verbs::scene::{Outcome, Scene, counted};
use crate::verbs::text::replaced::saying_what_went;

/// Whether a pasted piece takes the depth of its new place.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Depth {
    /// It does.
    OfPlace,
    /// It stays as it is.
    AsItIs,
}

/// The selected texts, or, where nothing is selected, the lines.
#[must_use]
pub fn clip_of(scene: &Scene) -> Clip {
    let text = scene.text;
    let depth = |line: Line| Some(text.depth_of(line, scene.settings.tabs));
    if scene.cursors.iter().all(Selection::is_caret) {
        let lines = scene.runs().into_iter().flat_map(|run| run.lines());
        let piece = |line: Line| Piece { text: text.content(line).into_owned(), depth: depth(line) };
        return Clip { pieces: lines.map(piece).collect(), lines: true };
    }
    let lines = scene.cursors.iter().all(|each| is_whole_lines(text, each));
    let selected = scene.cursors.iter().filter(|each| !each.is_caret());
    let piece = |each: Selection| {
        let characters = text.slice(each.span());
        // A line end is no part of a line.
        let kept = if lines { without_line_end(&characters) } else { &characters };
        Piece { text: kept.to_owned(), depth: depth(text.line_of(each.start())) }
    };
    Clip { pieces: selected.map(piece).collect(), lines }
}

/// Whether `each` selects nothing but whole lines: from the first column of one to after the end of one, or to the end of the text.
fn is_whole_lines(text: &Text, each: Selection) -> bool {
    let begins = |at: Byte| text.line_start(text.line_of(at)) == at;
    !each.is_caret() && begins(each.start()) && (begins(each.end()) || each.end() == text.end())
}

fn without_line_end(characters: &str) -> &str {
    let without = characters.strip_suffix('\n').unwrap_or(characters);
    if without.len() < characters.len() { without.strip_suffix('\r').unwrap_or(without) } else { without }
}

pub(crate) fn described(clip: &Clip) -> String {
    match clip.lines {
        true => counted(clip.pieces.iter().map(|piece| piece.text.matches('\n').count() + 1).sum(), "line"),
        false => counted(clip.pieces.len(), "piece"),
    }
}

/// Copies.
pub fn copy(scene: &Scene) -> Outcome {
    let clip = clip_of(scene);
    if clip.is_empty() {
        return Outcome::nothing("nothing here to copy");
    }
    let message = format!("copied {}", described(&clip));
    Outcome { clip: Some(clip), ..Outcome::already(message) }
}

/// Copies and removes.
pub fn cut(scene: &Scene) -> Outcome {
    let clip = clip_of(scene);
    if clip.is_empty() {
        return Outcome::nothing("nothing here to cut");
    }
    let message = format!("cut {}", described(&clip));
    let mut outcome = if clip.lines {
        // A count is for carets: what is selected is what goes.
        let reach = if scene.cursors.iter().all(Selection::is_caret) { scene.reach } else { 1 };
        crate::verbs::lines::delete(&Scene { reach, ..*scene })
    } else {
        crate::verbs::text::typing::delete_selected(scene)
    };
    outcome.clip = Some(clip);
    outcome.saying(message)
}

/// Pastes `clip`: a piece for each cursor where the numbers agree, a line for each where one piece has as
/// many lines, else all of it at each.
pub fn paste(scene: &Scene, clip: &Clip, depth: Depth) -> Outcome {
    if clip.is_empty() {
        return Outcome::nothing("nothing was copied yet");
    }
    let settled = (depth == Depth::OfPlace).then(|| foreign::settled(scene, clip));
    let clip = settled.as_ref().unwrap_or(clip);
    let share = shares(clip, scene.cursors.len());
    let bytes = match &share {
        Share::Each(_) => clip.bytes(),
        Share::All(_) => clip.bytes().saturating_mul(scene.cursors.len()),
    };
    if let Some(asks) = Outcome::unless_asked(scene, bytes) {
        return asks;
    }
    let has_parts = scene.cursors.iter().any(|each| !each.is_caret() && !is_whole_lines(scene.text, each));
    let is_each = matches!(share, Share::Each(_));
    let (change, cursors) = Pasting { scene, depth, is_of_lines: clip.lines, has_parts, is_each }.carry_out(&share);
    let message = match share {
        Share::Each(_) => format!("pasted {}, one each", counted(scene.cursors.len(), "piece")),
        Share::All(_) => format!("pasted {}", described(clip)),
    };
    let outcome = saying_what_went(scene, Outcome::edit(change, cursors));
    if outcome.message.is_some() { outcome } else { outcome.saying(message) }
}

/// What each cursor gets.
enum Share {
    /// Its own piece.
    Each(Vec<Piece>),
    /// All of it.
    All(Vec<Piece>),
}

impl Share {
    fn of(&self, cursor: usize) -> &[Piece] {
        match self {
            Share::Each(pieces) => &pieces[cursor..=cursor],
            Share::All(pieces) => pieces,
        }
    }
}

fn shares(clip: &Clip, cursors: usize) -> Share {
    if clip.pieces.len() == cursors && cursors > 1 {
        return Share::Each(clip.pieces.clone());
    }
    if let ([only], true) = (clip.pieces.as_slice(), cursors > 1) {
        let whole = only.text.strip_suffix('\n').map_or(only.text.as_str(), |t| t.strip_suffix('\r').unwrap_or(t));
        let lines: Vec<&str> = whole.split('\n').map(|line| line.strip_suffix('\r').unwrap_or(line)).collect();
        if lines.len() == cursors {
            let piece = |line: &&str| Piece { text: (*line).to_owned(), depth: None };
            return Share::Each(lines.iter().map(piece).collect());
        }
    }
    Share::All(clip.pieces.clone())
}

struct Pasting<'a, 'b> {
    scene: &'a Scene<'b>,
    depth: Depth,
    is_of_lines: bool,
    /// Whether parts of lines are selected: then everything goes in where the cursors are.
    has_parts: bool,
    /// Whether each cursor gets a piece of its own.
    is_each: bool,
}

/// Where what is pasted at a cursor goes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Place {
    /// In the place of what is selected.
    Here,
    /// As lines above the caret's line.
    Above,
    /// As lines in the place of these.
    Lines(Span),
}

impl Pasting<'_, '_> {
    fn carry_out(&self, share: &Share) -> (Change, CursorSet) {
        let text = self.scene.text;
        let mut builder = ChangeBuilder::new(text);
        let (mut index, mut done) = (0, None);
        // Where a cursor is afterwards; none for a caret that stays where it is in its line.
        let placed: Vec<Option<Selection>> = self
            .scene
            .cursors
            .iter()
            .map(|each| {
                let pieces = share.of(index);
                index += 1;
                let line = text.line_of(each.head);
                match self.place_of(each, pieces) {
                    Place::Here => Some(self.put_here(&mut builder, each, pieces)),
                    // Its place is taken.
                    Place::Lines(_) if each.is_caret() && done == Some(line) => None,
                    Place::Lines(span) => {
                        done = Some(line);
                        Some(self.put_for_lines(&mut builder, span, pieces))
                    }
                    Place::Above => {
                        // Carets in one line share one place: all of a clip goes there once, pieces of their own do not.
                        if matches!(share, Share::Each(_)) || done.replace(line) != Some(line) {
                            let end = self.scene.settings.line_end.as_str();
                            builder.insert(text.line_start(line), &(self.lines(line, pieces) + end));
                        }
                        None
                    }
                }
            })
            .collect();
        let change = builder.finish();
        let mut placed = placed.into_iter();
        let mapped = self.scene.cursors.mapped_each(&change, Bias::After);
        let list = mapped.into_iter().map(|each| placed.next().flatten().unwrap_or(each)).collect();
        (change, CursorSet::of(list, self.scene.cursors.primary_index()))
    }

    /// What is pasted at `each` goes as lines where it is of lines, and where another program's text ends with a line end and the
    /// caret is before what its line holds.
    fn place_of(&self, each: Selection, pieces: &[Piece]) -> Place {
        let text = self.scene.text;
        if self.has_parts {
            return Place::Here;
        }
        if is_whole_lines(text, each) {
            return if self.is_of_lines { Place::Lines(each.span()) } else { Place::Here };
        }
        let line = text.line_of(each.head);
        let is_in_front = each.is_caret() && each.head <= text.indentation_span(line).end;
        let is_foreign = |piece: &Piece| piece.depth.is_none() && piece.text.ends_with('\n');
        if !each.is_caret() || !(self.is_of_lines || (is_in_front && pieces.iter().all(is_foreign))) {
            return Place::Here;
        }
        let content = text.content_span(line);
        // Pieces of their own may be for several carets there.
        match !self.is_each && !content.is_empty() && text.is_blank(line) {
            true => Place::Lines(content),
            false => Place::Above,
        }
    }

    fn put_here(&self, builder: &mut ChangeBuilder, each: Selection, pieces: &[Piece]) -> Selection {
        let pieces: Vec<String> = pieces.iter().map(|piece| self.fitted(piece, each)).collect();
        let characters = pieces.join(self.scene.settings.line_end.as_str());
        let at = builder.now(each.start()) + characters.len();
        builder.replace(each.span(), &characters);
        Selection::caret(at)
    }

    /// Lines in the place of the lines of `span`, which has a line end after them or not.
    fn put_for_lines(&self, builder: &mut ChangeBuilder, span: Span, pieces: &[Piece]) -> Selection {
        let text = self.scene.text;
        let characters = self.lines(text.line_of(span.start), pieces);
        let old = text.slice(span);
        let end = &old[without_line_end(&old).len()..];
        let at = builder.now(span.start) + characters.len() + end.len();
        builder.replace(span, &(characters + end));
        Selection::caret(at)
    }

    /// The pieces as lines that go where `line` is, as deep as that is: one unit more above one that closes what they are in.
    fn lines(&self, line: Line, pieces: &[Piece]) -> String {
        let text = self.scene.text;
        let closes = text.content(line).trim_start().starts_with([')', ']', '}']);
        let deeper = if closes { self.scene.settings.unit.cells(self.scene.settings.tabs) } else { 0 };
        let is_foreign = pieces.iter().all(|piece| piece.depth.is_none());
        let place = match is_foreign && text.content_span(line).is_empty() {
            true => foreign::depth_in_block(self.scene, line, pieces.first().map_or("", |piece| &piece.text)),
            false => Cell(self.depth_of_place(line).0 + deeper),
        };
        let first = pieces.iter().find(|piece| leading(&piece.text).is_some());
        let shift = first.map_or(0, |first| self.shift(first, place));
        let fitted = |piece: &Piece| self.convert(&self.shifted(without_line_end(&piece.text), shift, 0));
        pieces.iter().map(fitted).collect::<Vec<_>>().join(self.scene.settings.line_end.as_str())
    }

    fn depth_of_place(&self, line: Line) -> Cell {
        self.scene.text.depth_of(line, self.scene.settings.tabs)
    }

    fn convert(&self, characters: &str) -> String {
        match self.depth {
            Depth::OfPlace => self.scene.settings.line_end.convert(characters),
            Depth::AsItIs => characters.to_owned(),
        }
    }

    /// `piece` as it goes in for `each`: its line ends those of the file, its lines at the depth of the place.
    fn fitted(&self, piece: &Piece, each: Selection) -> String {
        if !piece.text.contains('\n') {
            return self.convert(&piece.text);
        }
        let line = self.scene.text.line_of(each.start());
        let before = self.scene.text.slice(Span::new(self.scene.text.line_start(line), each.start()));
        let only_white_before = before.trim().is_empty();
        // Whole lines that go in at a line's very start, or take its place, are as deep as it does.
        let is_for_lines = before.is_empty() && (piece.text.ends_with('\n') || !each.is_caret());
        let is_beside_a_line = is_for_lines && !self.scene.text.is_blank(line);
        let is_on_empty = each.is_caret() && piece.depth.is_none() && self.scene.text.content_span(line).is_empty();
        let fitted = match (is_beside_a_line, only_white_before) {
            _ if is_on_empty => self.as_lines(piece, foreign::depth_in_block(self.scene, line, &piece.text)),
            (true, _) => self.as_lines(piece, self.depth_of_place(line)),
            (false, true) => self.reindented(piece, width(&before, self.scene.settings.tabs), true),
            (false, false) => self.reindented(piece, self.depth_of_place(line), false),
        };
        self.convert(&fitted)
    }

    /// All lines moved so that the first is `place` deep, its own white space before it.
    fn as_lines(&self, piece: &Piece, place: Cell) -> String {
        if self.depth == Depth::AsItIs {
            return piece.text.clone();
        }
        let shift = self.shift(piece, place);
        let (first, rest) = piece.text.split_once('\n').unwrap_or((&piece.text, ""));
        let white = if leading(first).is_some() {
            self.scene.settings.unit.fill(place, self.scene.settings.tabs)
        } else {
            String::new()
        };
        format!("{white}{}\n{}", first.trim_start(), self.shifted(rest, shift, 0))
    }

    /// The first line gets the depth of the place, the others keep their depths relative to it.
    fn reindented(&self, piece: &Piece, place: Cell, only_white_before: bool) -> String {
        let shift = self.shift(piece, place);
        if !only_white_before {
            return self.shifted(&piece.text, shift, 1);
        }
        let (first, rest) = piece.text.split_once('\n').unwrap_or((&piece.text, ""));
        let first = if self.depth == Depth::OfPlace { first.trim_start() } else { first };
        format!("{first}\n{}", self.shifted(rest, shift, 0))
    }

    /// How far lines go in (out, where negative) to bring `piece` to the depth `place`.
    fn shift(&self, piece: &Piece, place: Cell) -> i64 {
        if self.depth == Depth::AsItIs {
            return 0;
        }
        let tabs = self.scene.settings.tabs;
        let own = || piece.text.lines().find_map(leading).map(|white| width(white, tabs));
        let source = piece.depth.or_else(own).unwrap_or_default();
        i64::from(place.0) - i64::from(source.0)
    }

    /// `characters` with every line from the `from`th on moved by `shift` cells; blank lines stay.
    fn shifted(&self, characters: &str, shift: i64, from: usize) -> String {
        let (tabs, unit) = (self.scene.settings.tabs, self.scene.settings.unit);
        let moved = |(index, line): (usize, &str)| match leading(line) {
            Some(white) if index >= from && shift != 0 => unit.moved(white, shift, tabs) + &line[white.len()..],
            _ => line.to_owned(),
        };
        characters.split('\n').enumerate().map(moved).collect::<Vec<_>>().join("\n")
    }
}
