//! Going by what a text says: to the next use of a word, to a bookmark; and renaming what is used here.

use super::cursors::function_around;
use super::scene::{Outcome, Scene, counted};
use super::selects::word_of;
use crate::bookmarks::Bookmarks;
use crate::cursors::{CursorSet, Selection};
use crate::languages::scanner::Kind;
use crate::search::pattern::kind_of;
use crate::search::{Matches, last_within};
use crate::units::{Byte, Direction, Line, Span};
use std::fmt::Write;

/// What the primary cursor is about: what it selects, else the word at the caret, and whether that counts as a word.
fn subject(scene: &Scene) -> Option<(Span, bool)> {
    let primary = scene.cursors.primary();
    if !primary.is_caret() {
        let span = primary.span();
        return Some((span, scene.text.is_whole_word(span, scene.words())));
    }
    let word = word_of(scene, primary)?.span();
    scene.text.slice(word).chars().any(|c| !c.is_whitespace()).then_some((word, true))
}

/// Goes to the next or the previous use of the word at the caret, or of what is selected; round the file.
pub fn use_of_word(scene: &Scene, direction: Direction) -> Outcome {
    let Some((span, whole)) = subject(scene) else { return Outcome::nothing("no word here to look for") };
    let text = scene.text;
    let needle = text.slice(span).into_owned();
    let counts = |found: Span| found != span && (!whole || text.is_whole_word(found, scene.words()));
    let (before, behind) = (Span::new(Byte(0), span.start), Span::new(span.end, text.end()));
    let first = |within| Matches::within(text, &needle, within).find(|&found| counts(found));
    let last = |within| last_within(text, &needle, within, counts);
    let near = match direction {
        Direction::Forward => first(behind),
        Direction::Back => last(before),
    };
    let far = || match direction {
        Direction::Forward => first(before),
        Direction::Back => last(behind),
    };
    let (found, round) = match (near, near.is_none().then(far).flatten()) {
        (Some(found), _) => (found, ""),
        (None, Some(found)) if direction == Direction::Forward => (found, ", on from the start of the file"),
        (None, Some(found)) => (found, ", on from the end of the file"),
        (None, None) => return Outcome::nothing(format!("{needle} stands nowhere else")),
    };
    let to = match scene.cursors.primary().is_caret() {
        true => Selection::caret(found.start),
        false => Selection::over(found, scene.cursors.primary().direction()),
    };
    let line = text.line_of(found.start).0 + 1;
    Outcome::cursors(CursorSet::one(to)).saying(format!("line {line}{round}"))
}

/// Where a name is looked for, and in what.
#[derive(Clone, Copy, PartialEq, Eq)]
struct Reach {
    within: Span,
    only_code: bool,
    called: &'static str,
}

/// The uses that one press takes, of all that there are within its reach.
struct Stage {
    reach: Reach,
    taken: Vec<Span>,
    all: Vec<(Span, Kind)>,
}

impl Stage {
    fn of(&self, kind: Kind) -> usize {
        self.all.iter().filter(|(_, other)| *other == kind).count()
    }

    /// What it has taken, and what the press after it would.
    fn told(&self, name: &str, next: Option<&Stage>) -> String {
        let mut said = format!("{} of {name} {}", counted(self.taken.len(), "use"), self.reach.called);
        let (strings, comments) = (self.of(Kind::String), self.of(Kind::Comment));
        if self.reach.only_code && strings + comments > 0 {
            let _ = write!(said, ", {strings} in strings and {comments} in comments left out");
        }
        if let Some(next) = next {
            let which = if next.reach.only_code { "in code" } else { "strings and comments too" };
            let _ = write!(said, "; again: {} {}, {which}", next.taken.len(), next.reach.called);
        }
        said
    }
}

/// Makes every use of the name at the caret a cursor: in its function, then there in strings and comments too, then in
/// the whole file, then everywhere.
pub fn rename_here(scene: &Scene) -> Outcome {
    let Some((span, whole_words)) = subject(scene) else { return Outcome::nothing("no name here to change") };
    let name = scene.text.slice(span).into_owned();
    let function = function_around(scene, span.start);
    let whole = scene.text.span();
    let here = if function == whole { "in this file" } else { "here" };
    let reaches = [
        Reach { within: function, only_code: true, called: here },
        Reach { within: function, only_code: false, called: here },
        Reach { within: whole, only_code: true, called: "in this file" },
        Reach { within: whole, only_code: false, called: "in this file" },
    ];
    let uses = |reach: Reach| uses(scene, &name, reach.within, whole_words);
    // A name in a string or a comment is meant where the caret is in one.
    let from_code = kind_of(scene.text, scene.syntax, span) == Kind::Code;
    let mut stages: Vec<Stage> = Vec::new();
    for reach in reaches.into_iter().filter(|reach| from_code || !reach.only_code) {
        let all = uses(reach);
        let counts = |kind: Kind| !reach.only_code || kind == Kind::Code;
        let taken: Vec<Span> = all.iter().filter(|(_, kind)| counts(*kind)).map(|(span, _)| *span).collect();
        if !taken.is_empty() && !stages.iter().any(|other| other.taken == taken) {
            stages.push(Stage { reach, taken, all });
        }
    }
    if stages.is_empty() {
        return Outcome::nothing(format!("{name} is used nowhere here"));
    }
    let current: Vec<Span> = scene.cursors.iter().map(Selection::span).collect();
    let at = stages.iter().position(|stage| stage.taken == current).map_or(0, |at| (at + 1) % stages.len());
    let stage = &stages[at];
    let primary = stage.taken.iter().position(|each| *each == span).unwrap_or(0);
    let list: Vec<Selection> = stage.taken.iter().map(|each| Selection::over(*each, Direction::Forward)).collect();
    let next = (stages.len() > 1).then(|| &stages[(at + 1) % stages.len()]);
    Outcome::cursors(CursorSet::of(list, primary).taking_whole_words(true)).saying(stage.told(&name, next))
}

/// Every use of `name` within `within`, as a word where that counts, and what it stands in; none overlaps the one before.
fn uses(scene: &Scene, name: &str, within: Span, whole_words: bool) -> Vec<(Span, Kind)> {
    let mut free = Byte(0);
    let counts = |found: &Span| {
        let is_use = found.start >= free && (!whole_words || scene.text.is_whole_word(*found, scene.words()));
        free = if is_use { found.end } else { free };
        is_use
    };
    let found = Matches::within(scene.text, name, within).filter(counts);
    found.map(|found| (found, kind_of(scene.text, scene.syntax, found))).collect()
}

/// Marks the touched lines, or takes their marks away where all have one.
pub fn bookmark(scene: &Scene) -> Outcome {
    let heads: Vec<Line> = scene.cursors.iter().map(|each| scene.text.line_of(each.head)).collect();
    let mut lines = heads.clone();
    lines.dedup();
    let marks = scene.bookmarks.turned(scene.text, &lines);
    let said = match marks.len() >= scene.bookmarks.len() && lines.iter().all(|line| marks.holds(scene.text, *line)) {
        true => format!("{} set, {} in this file", counted(lines.len(), "bookmark"), marks.len()),
        false => format!("{} cleared, {} left", counted(lines.len(), "bookmark"), marks.len()),
    };
    Outcome { bookmarks: Some(marks), ..Outcome::nothing(said) }
}

/// Goes to the next or the previous bookmark; round the file.
pub fn next_bookmark(scene: &Scene, direction: Direction) -> Outcome {
    let here = scene.text.line_of(scene.cursors.primary().head);
    match scene.bookmarks.next(scene.text, here, direction) {
        None => Outcome::nothing("there is no bookmark in this file"),
        Some(line) if line == here => Outcome::nothing("this is the only bookmark"),
        Some(line) => {
            let at = scene.text.indentation_span(line).end;
            let which = scene.bookmarks.lines(scene.text).position(|each| each == line).map_or(1, |at| at + 1);
            Outcome::cursors(CursorSet::caret(at)).saying(format!("bookmark {which} of {}", scene.bookmarks.len()))
        }
    }
}

/// Takes all bookmarks of the file away.
pub fn drop_bookmarks(scene: &Scene) -> Outcome {
    match scene.bookmarks.len() {
        0 => Outcome::nothing("there is no bookmark in this file"),
        count => Outcome {
            bookmarks: Some(Bookmarks::default()),
            ..Outcome::nothing(format!("{} cleared", counted(count, "bookmark")))
        },
    }
}
