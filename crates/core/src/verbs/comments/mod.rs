//! Line comments: on, off, toggled, turned over line by line.
//!
//! Which marks are used follows from the table of the language in which the line is: a line mark where it has one,
//! else the line is wrapped in its block marks. Every language's lines of a run are decided by themselves. Cost:
//! linear in the touched lines.

pub mod block;
pub mod disarm;
mod groups;
pub mod reflow;

use super::scene::{Outcome, Run, Scene, counted};
use crate::changes::{Bias, ChangeBuilder, Mapper};
use crate::cursors::{CursorSet, Selection};
use crate::halves::in_halves;
use crate::languages::scanner::Kind;
use crate::languages::{BlockMarks, Fixed, Language};
use crate::text::Text;
use crate::text::cells::{TabWidth, width};
use crate::text::reader::Reader;
use crate::units::{Byte, Cell, Line, Span};
use std::rc::Rc;
use std::sync::Arc;

/// What is done to the lines of a run.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Wish {
    /// Off when every line is a comment, else on, once more where it is one already.
    Toggle,
    /// On, where it is not.
    On,
    /// Off, where it is.
    Off,
    /// Each line by itself: on where it is off, off where it is on.
    Flip,
}

/// How a language marks a whole line.
enum Style<'a> {
    Mark(&'a [String], Option<&'a Fixed>),
    Wrap(&'a BlockMarks),
}

/// Lines of a run that are in one language.
struct Group {
    language: Arc<Language>,
    lines: Vec<Line>,
}

/// How a language's lines are marked.
struct Tongue<'a> {
    style: &'a Style<'a>,
    nests: bool,
}

/// The marks of a line that is a comment.
#[derive(Clone, Copy)]
struct Marked {
    /// The opening or only mark.
    open: Span,
    /// The closing mark of a wrapped line.
    close: Option<Span>,
}

struct CommentLine {
    line: Line,
    content: Span,
    marked: Option<Marked>,
    /// The column at which its text begins, and whether only spaces stand before it.
    depth: Cell,
    is_spaced: bool,
    is_blank: bool,
}

/// Carries `wish` out on every run; in each, every language's lines by themselves.
pub fn lines(scene: &Scene, wish: Wish) -> Outcome {
    let runs = scene.runs_with_last();
    if let Some(refusal) = refusal(scene, &runs) {
        return refusal;
    }
    let mut work = Work {
        scene,
        builder: ChangeBuilder::new(scene.text),
        places: Vec::new(),
        last: "".into(),
        nothing: "".into(),
        wrapped: Vec::new(),
        on: 0,
        off: 0,
        were: 0,
        blank: false,
        without: None,
    };
    for run in &runs {
        let all_blank = run.lines().all(|line| scene.text.is_blank(line));
        groups::of(scene, run).iter().for_each(|group| work.group(group, all_blank, wish));
        work.build();
    }
    work.finish()
}

fn style_of(language: &Language) -> Option<Style<'_>> {
    match (language.line.is_empty(), language.block.first()) {
        (false, _) => Some(Style::Mark(&language.line, language.fixed.as_ref())),
        (true, Some(marks)) => Some(Style::Wrap(marks)),
        (true, None) => None,
    }
}

fn no_marks(language: &Language) -> String {
    match &language.commented_variant {
        Some(variant) => format!("{} has no comments; {variant} has", language.title),
        None => format!("{} has no comments", language.title),
    }
}

/// Why nothing may be done, or not yet: a string reaches over the edge of a run, and the text of a program
/// may need that line; a line wrapped inside a comment would end it.
fn refusal(scene: &Scene, runs: &[Run]) -> Option<Outcome> {
    // What is cut by an edge is asked of the line behind it, and told of that inside the run.
    let both = |run: &Run| [[run.first; 2], [run.last.next(), run.last]];
    let edges: Vec<[Line; 2]> = runs.iter().flat_map(both).filter(|[at, _]| *at <= scene.text.last_line()).collect();
    let asked: Vec<Line> = edges.iter().map(|[at, _]| *at).collect();
    let kinds = scene.syntax.kinds_before(&asked);
    let first_in = |kind: Kind| kinds.iter().position(|found| *found == kind).map(|index| edges[index][1]);
    let in_string = first_in(Kind::String);
    if let Some(line) = in_string.filter(|_| scene.memory.held.as_deref() != Some(runs)) {
        let message = format!("line {} is inside a string: press again to do it all the same", line.0 + 1);
        return Some(Outcome { held: Some(runs.to_vec()), ..Outcome::nothing(message) });
    }
    let wraps = |line: &Line| {
        let language = scene.language_at(scene.text.indentation_span(*line).end);
        matches!(style_of(&language), Some(Style::Wrap(_)))
    };
    first_in(Kind::Comment).filter(wraps).map(|line| {
        let line = line.0 + 1;
        Outcome::nothing(format!("line {line} is part of a comment over several lines: marks inside would end it"))
    })
}

/// Lines that are copied together: some pages, so that the copy stays small.
const LINES_COPIED: usize = 4_096;

/// What goes in at a place, or goes; a run's lines come to it language by language.
struct Place {
    span: Span,
    with: Rc<str>,
}

/// Looks at lines.
#[derive(Clone, Copy)]
struct Look<'a> {
    text: &'a Text,
    tabs: TabWidth,
}

impl Look<'_> {
    /// What stands on `lines`, which are in order. Neighbouring ones are copied out of the rope together: asking it for each
    /// would cost more than looking.
    fn at(self, lines: &[Line], tongue: &Tongue) -> Vec<CommentLine> {
        let mut looked = Vec::with_capacity(lines.len());
        for near in lines.chunk_by(|one, other| one.next() == *other).flat_map(|near| near.chunks(LINES_COPIED)) {
            let whole = Span::new(self.text.line_start(near[0]), self.text.line_span(near[near.len() - 1]).end);
            let copy = self.text.slice(whole);
            let mut start = whole.start;
            // A last line without a line end, or an empty one, is no piece of a split.
            let contents = copy.split_inclusive('\n').chain(std::iter::repeat(""));
            for (line, characters) in near.iter().zip(contents) {
                let content = characters.strip_suffix('\n').unwrap_or(characters);
                let content =
                    content.strip_suffix('\r').filter(|_| content.len() < characters.len()).unwrap_or(content);
                looked.push(self.at_line(*line, (start, content), tongue));
                start += characters.len();
            }
        }
        looked
    }

    fn at_line(self, line: Line, (start, characters): (Byte, &str), tongue: &Tongue) -> CommentLine {
        let marked = match tongue.style {
            Style::Mark(marks, None) => marked_by_line(characters, marks),
            Style::Mark(marks, Some(fixed)) => self.marked_in_column(line, fixed).or_else(|| {
                let floating: Vec<String> = marks.iter().filter(|mark| !fixed.marks.contains(mark)).cloned().collect();
                marked_by_line(characters, &floating)
            }),
            Style::Wrap(marks) => marked_by_wrap(characters, marks, tongue.nests),
        };
        let place = |span: Span| Span::new(start + span.start.0, start + span.end.0);
        let marked = marked.map(|marked| Marked { open: place(marked.open), close: marked.close.map(place) });
        let rest = characters.trim_start();
        let indentation = &characters[..characters.len() - rest.len()];
        CommentLine {
            line,
            content: Span::new(start, start + characters.len()),
            marked,
            depth: width(indentation, self.tabs),
            is_spaced: indentation.bytes().all(|byte| byte == b' '),
            is_blank: rest.is_empty(),
        }
    }

    /// The mark of a line that has one in the column where alone it counts.
    fn marked_in_column(self, line: Line, fixed: &Fixed) -> Option<Marked> {
        let (text, start) = (self.text, self.text.line_start(line));
        let place = text.place_at(line, Cell(fixed.column), self.tabs);
        let is_there = text.cell_of(place.at, self.tabs) == Cell(fixed.column);
        let marks = fixed.marks.iter().filter(|mark| is_there && text.has_at(place.at, mark));
        let longest = marks.map(String::len).max()?;
        let at = Byte(place.at - start);
        Some(Marked { open: Span::new(at, at + longest), close: None })
    }
}

struct Work<'a, 'b> {
    scene: &'a Scene<'b>,
    builder: ChangeBuilder<'a>,
    places: Vec<Place>,
    /// What went in last: mostly the same goes in on many lines.
    last: Rc<str>,
    nothing: Rc<str>,
    /// Lines whose language wraps them.
    wrapped: Vec<Line>,
    on: usize,
    off: usize,
    were: usize,
    /// Whether marks were put on blank lines: their carets go behind the marks.
    blank: bool,
    /// A language without comments that was met.
    without: Option<Arc<Language>>,
}

impl Work<'_, '_> {
    /// Puts in the two parts, the one behind the other.
    fn insert(&mut self, at: Byte, [one, other]: [&str; 2]) {
        if self.last.strip_prefix(one) != Some(other) {
            self.last = [one, other].concat().into();
        }
        self.places.push(Place { span: Span::at(at), with: self.last.clone() });
    }

    fn remove(&mut self, span: Span) {
        self.places.push(Place { span, with: self.nothing.clone() });
    }

    /// Carries out what the groups of a run came to, in the order of the text.
    fn build(&mut self) {
        // Stable: what goes in at one place stays in its order.
        self.places.sort_by_key(|place| (place.span.start, place.span.end));
        for place in self.places.drain(..) {
            match place.with.is_empty() {
                true => self.builder.remove(place.span),
                false => self.builder.replace(place.span, &place.with),
            }
        }
    }

    fn group(&mut self, group: &Group, all_blank: bool, wish: Wish) {
        let Some(style) = style_of(&group.language) else {
            self.without = Some(group.language.clone());
            return;
        };
        let tongue = Tongue { style: &style, nests: group.language.nests };
        let look = Look { text: self.scene.text, tabs: self.scene.layout.tabs };
        let counts = |line: &CommentLine| all_blank || !line.is_blank;
        let parts: Vec<Vec<CommentLine>> = in_halves(group.lines.len(), |part| {
            look.at(&group.lines[part], &tongue).into_iter().filter(counts).collect()
        });
        let lines = || parts.iter().flatten();
        let marked = lines().filter(|line| line.marked.is_some()).count();
        let take_off =
            wish == Wish::Off || (wish == Wish::Toggle && marked == parts.iter().map(Vec::len).sum::<usize>());
        let turns_on = |line: &CommentLine| match wish {
            Wish::Toggle => !take_off,
            Wish::On | Wish::Flip => line.marked.is_none(),
            Wish::Off => false,
        };
        let turns_off = |line: &CommentLine| line.marked.is_some() && (take_off || wish == Wish::Flip);
        if wish != Wish::Flip && !take_off {
            self.were += marked;
        }
        let column = lines().filter(|line| turns_on(line)).map(|line| line.depth).min();
        let spaced = self.are_spaced(lines().filter(|line| turns_off(line)));
        for line in lines() {
            if turns_on(line) {
                self.put_on(line, column.unwrap_or_default(), &tongue);
            } else if turns_off(line) {
                self.take_off(line, spaced, &tongue);
            }
        }
        if matches!(style, Style::Wrap(_)) {
            self.wrapped.extend(lines().map(|line| line.line));
        }
        self.blank |= all_blank;
    }

    fn put_on(&mut self, line: &CommentLine, column: Cell, tongue: &Tongue) {
        let tabs = self.scene.layout.tabs;
        let at = match line.is_blank {
            true => line.content.end,
            false if line.is_spaced => line.content.start + column.0 as usize,
            false => self.scene.text.place_at(line.line, column, tabs).at,
        };
        match tongue.style {
            Style::Mark(marks, fixed) => {
                let (at, mark) = self.where_marked(line.line, at, marks, *fixed);
                self.insert(at, [mark, " "]);
            }
            Style::Wrap(marks) => {
                self.insert(at, [&marks.open, " "]);
                let body = Span::new(at, line.content.end);
                let characters = self.scene.text.slice(body);
                for place in disarm::places_to_disarm(&characters, marks, tongue.nests) {
                    self.insert(at + place, ["\\", ""]);
                }
                self.insert(line.content.end, [" ", &marks.close]);
            }
        }
        self.on += 1;
    }

    /// Where a line gets which mark: the first one at `at`, or in its own column. A line that has something else than a
    /// number before that column, or does not reach it, gets one that may stand anywhere.
    fn where_marked<'m>(&self, line: Line, at: Byte, marks: &'m [String], fixed: Option<&Fixed>) -> (Byte, &'m str) {
        let Some(fixed) = fixed.filter(|fixed| fixed.marks.contains(&marks[0])) else { return (at, &marks[0]) };
        let (text, tabs) = (self.scene.text, self.scene.layout.tabs);
        let place = text.place_at(line, Cell(fixed.column), tabs).at;
        let before = text.slice(Span::new(text.line_start(line), place));
        let is_free = before.chars().all(|c| c.is_whitespace() || c.is_ascii_digit());
        let reaches =
            text.width_of(line, tabs) >= Cell(fixed.column) && text.cell_of(place, tabs) == Cell(fixed.column);
        let floating = marks.iter().find(|mark| !fixed.marks.contains(mark));
        match floating.filter(|_| !is_free || !reaches) {
            Some(mark) => (at, mark),
            None => (place, &marks[0]),
        }
    }

    /// Whether one space belongs to the opening marks, and one to the closing ones: it does when every marked
    /// line has it or ends there.
    fn are_spaced<'l>(&self, lines: impl Iterator<Item = &'l CommentLine>) -> [bool; 2] {
        let mut reader = Reader::new(self.scene.text);
        let mut spaced = [true; 2];
        for line in lines {
            let Some(marked) = line.marked else { continue };
            let inner_end = marked.close.map_or(line.content.end, |close| close.start);
            let is_empty = marked.open.end >= inner_end;
            spaced[0] &= is_empty || reader.byte(marked.open.end) == Some(b' ');
            spaced[1] &= is_empty || reader.byte(inner_end - 1) == Some(b' ');
        }
        spaced
    }

    fn take_off(&mut self, line: &CommentLine, [behind_open, before_close]: [bool; 2], tongue: &Tongue) {
        let Some(marked) = line.marked else { return };
        let inner_end = marked.close.map_or(line.content.end, |close| close.start);
        let inner_start = marked.open.end + usize::from(behind_open && marked.open.end < inner_end);
        self.remove(Span::new(marked.open.start, inner_start));
        if let (Some(close), Style::Wrap(marks)) = (marked.close, tongue.style) {
            let inner_end = if before_close && inner_start < inner_end { inner_end - 1 } else { inner_end };
            let inner = self.scene.text.slice(Span::new(inner_start, inner_end));
            for place in disarm::places_to_rearm(&inner, marks, tongue.nests) {
                self.remove(Span::new(inner_start + place, inner_start + place + 1));
            }
            self.remove(Span::new(inner_end, close.end));
        }
        self.off += 1;
    }

    fn finish(self) -> Outcome {
        let message = self.message();
        let Work { scene, builder, blank, mut wrapped, .. } = self;
        wrapped.sort_unstable();
        let change = builder.finish();
        if change.is_empty() {
            return Outcome::nothing(message);
        }
        let mut cursors = scene.remap(&change, |index| {
            let each = scene.cursors.list()[index];
            let line = || scene.text.line_of(each.head);
            let at_end = || scene.text.content_span(line()).end == each.head;
            let before_close =
                !wrapped.is_empty() && each.is_caret() && at_end() && wrapped.binary_search(&line()).is_ok();
            [if before_close { Bias::Before } else { Bias::After }, Bias::Before]
        });
        if blank {
            cursors = behind_marks(scene, &cursors, &change);
        }
        Outcome::edit(change, cursors).saying(message)
    }

    fn message(&self) -> String {
        let done = match (self.on, self.off) {
            (0, 0) => self.without.as_deref().map_or_else(|| "nothing to change here".to_owned(), no_marks),
            (on, 0) => format!("commented {}", counted(on, "line")),
            (0, off) => format!("uncommented {}", counted(off, "line")),
            (on, off) => format!("commented {}, uncommented {off}", counted(on, "line")),
        };
        match self.were {
            0 => done,
            were => format!("{done}, {were} of {} were comments already", self.on.max(were)),
        }
    }
}

/// Carets of lines that were blank go behind the mark that was put there (inside the marks of a wrapped line).
fn behind_marks(scene: &Scene, cursors: &CursorSet, change: &crate::changes::Change) -> CursorSet {
    let mut index = 0;
    let is_sole = cursors.len() == scene.cursors.len();
    let mut mapper = Mapper::new(change);
    cursors.map(|each| {
        let old = scene.cursors.list()[index.min(scene.cursors.len() - 1)];
        index += 1;
        let line = scene.text.line_of(old.head);
        if !is_sole || !old.is_caret() || !scene.text.is_blank(line) {
            return each;
        }
        let end = scene.text.content_span(line).end;
        let first = change.edits().partition_point(|edit| edit.start() < end);
        let here = change.edits()[first..].iter().take_while(|edit| edit.start() == end);
        let mark = here.into_iter().find(|edit| edit.inserted_len() > 0);
        let start = mapper.map(end, Bias::Before);
        Selection::caret(start + mark.map_or(0, crate::changes::Edit::inserted_len))
    })
}

/// The longest mark that `content` begins with after white space. A mark of letters ends a word.
fn marked_by_line(content: &str, marks: &[String]) -> Option<Marked> {
    let start = content.len() - content.trim_start().len();
    let rest = &content[start..];
    let fits = |mark: &&String| {
        let Some(tail) =
            rest.get(..mark.len()).filter(|head| head.eq_ignore_ascii_case(mark)).map(|_| &rest[mark.len()..])
        else {
            return false;
        };
        !mark.ends_with(char::is_alphanumeric) || !tail.starts_with(|c: char| c.is_alphanumeric() || c == '_')
    };
    let longest = marks.iter().filter(fits).map(String::len).max()?;
    Some(Marked { open: Span::new(Byte(start), Byte(start + longest)), close: None })
}

/// Whether `content` is, apart from white space, one whole block comment.
fn marked_by_wrap(content: &str, marks: &BlockMarks, nests: bool) -> Option<Marked> {
    let start = content.len() - content.trim_start().len();
    let end = content.trim_end().len();
    let body = content.get(start..end)?;
    let inner = body.strip_prefix(marks.open.as_str())?.strip_suffix(marks.close.as_str())?;
    let is_one = if nests { disarm::is_balanced(inner, marks) } else { !inner.contains(marks.close.as_str()) };
    is_one.then(|| Marked {
        open: Span::new(Byte(start), Byte(start + marks.open.len())),
        close: Some(Span::new(Byte(end - marks.close.len()), Byte(end))),
    })
}
