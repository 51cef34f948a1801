//! Putting in what was chosen: a text or a template in place of the letters before each caret, and a template around lines.

use crate::changes::{Bias, ChangeBuilder, Mapper};
use crate::cursors::Selection;
use crate::templates::session::{StopCopy, StopPlace, Stops};
use crate::templates::variables::{Facts, value_of};
use crate::templates::{Body, Filled, Setting};
use crate::text::Text;
use crate::text::indent::IndentUnit;
use crate::text::words::WordRule;
use crate::units::{Byte, Line, Span};
use crate::verbs::scene::{Outcome, Run, Scene, counted};

/// Letters before a caret are looked at so far back, in characters.
const MOST_LETTERS: usize = 200;

/// The letters of a word that end at `at`. Cost: linear in them.
#[must_use]
pub fn letters_before(text: &Text, at: Byte, rule: WordRule) -> Span {
    let mut start = at;
    for _ in 0..MOST_LETTERS {
        match text.char_before(start).filter(|c| rule.class(*c).is_word()) {
            Some(c) => start = start - c.len_utf8(),
            None => break,
        }
    }
    Span::new(start, at)
}

/// The rest of the word after `at`, where `text`, which goes in before it, ends with that: it is there already.
#[must_use]
pub fn tail_of<'t>(scene: &'t Scene, at: Byte, text: &str) -> std::borrow::Cow<'t, str> {
    let language = scene.language_at(at);
    let rule = language.word_rule();
    let mut end = at;
    while let Some(c) = scene.text.char_at(end).filter(|c| rule.class(*c).is_word() && end - at < MOST_LETTERS) {
        end += c.len_utf8();
    }
    let tail = scene.text.slice(Span::new(at, end));
    let is_there = tail.len() < text.len() && text.ends_with(&*tail);
    if is_there { tail } else { "".into() }
}

/// Something to put in at every cursor.
pub struct Put<'a> {
    /// It.
    pub body: &'a Body,
    /// The letters before a caret that it takes the place of.
    pub letters: &'a dyn Fn(&Scene, Byte) -> Span,
    /// Whether it is put in after such letters.
    pub fits: &'a dyn Fn(&str) -> bool,
    /// What its variables tell.
    pub facts: &'a Facts,
}

/// Puts it in at every cursor, in place of what is selected there or of the letters before the caret. A caret after letters that it does
/// not fit gets nothing. Cost: linear in the cursors and in what is put in.
pub fn put(scene: &Scene, put: &Put) -> Outcome {
    let mut builder = ChangeBuilder::new(scene.text);
    let mut stops = Stops::default();
    let (mut reach, mut passed, mut bytes) = (Byte(0), 0, 0usize);
    for each in scene.cursors.iter() {
        let letters = (put.letters)(scene, each.head);
        let selected = if each.is_caret() { None } else { Some(each.span()) };
        let span = selected.unwrap_or(letters);
        let fits = selected.is_some() || letters.is_empty() || (put.fits)(&scene.text.slice(letters));
        if span.start < reach || !fits {
            passed += 1;
            continue;
        }
        reach = span.end;
        let text = selected.map(|span| scene.text.slice(span).into_owned());
        let indentation = scene.text.indentation_span(scene.text.line_of(span.start));
        let indentation = Span::new(indentation.start, indentation.end.min(span.start).max(indentation.start));
        let indentation = scene.text.slice(indentation).into_owned();
        let filled = fill(scene, (put.body, put.facts), (&indentation, span.start), text.as_deref());
        bytes = bytes.saturating_add(filled.text.len());
        if let Some(asks) = Outcome::unless_asked(scene, bytes) {
            return asks;
        }
        let start = builder.now(span.start);
        let tail = if selected.is_none() { tail_of(scene, span.end, &filled.text).len() } else { 0 };
        reach += tail;
        // Letters that it begins with stay.
        let is_before = |rest: &&str| tail == 0 && selected.is_none() && !rest.is_empty();
        match filled.text.strip_prefix(&*scene.text.slice(letters)).filter(is_before) {
            Some(rest) => builder.insert(span.end, rest),
            None => builder.replace(Span::new(span.start, span.end + tail), &filled.text),
        }
        stops.copies.push(copy_of(&filled, start));
        stops.choices = filled.choices;
    }
    if stops.copies.is_empty() {
        return Outcome::nothing("no cursor is after letters that this fits");
    }
    let message = (passed > 0).then(|| {
        let put_in = counted(stops.copies.len(), "cursor");
        format!("put in at {put_in}; {} after other letters", counted(passed, "cursor"))
    });
    let change = builder.finish();
    let cursors = scene.remap(&change, |_| [Bias::After; 2]);
    // After what has no stop of its own the cursors are anyway.
    let ends = |copy: &StopCopy| matches!(&copy.places[..], [only] if only.span == Span::at(copy.span.end));
    let stops = Some(stops).filter(|stops| !stops.copies.iter().all(ends));
    Outcome { message, stops, ..Outcome::edit(change, cursors) }
}

/// What comes of putting something in, with `edits` of the text before it that come along once: those that touch what is put in are left
/// out. They are in order.
#[must_use]
pub fn with_edits(scene: &Scene, outcome: Outcome, edits: &[(Span, String)]) -> Outcome {
    let own =
        |span: Span| outcome.change.edits().iter().any(|edit| edit.start() <= span.end && span.start <= edit.end());
    let edits: Vec<&(Span, String)> =
        edits.iter().filter(|(span, _)| span.end <= scene.text.end() && !own(*span)).collect();
    if edits.is_empty() || outcome.change.is_empty() {
        return outcome;
    }
    let mut after = scene.text.clone();
    after.apply(&outcome.change);
    let (mut all, mut later) = (ChangeBuilder::new(scene.text), ChangeBuilder::new(&after));
    let mut others = edits.into_iter().peekable();
    let mut place = Mapper::new(&outcome.change);
    let mut add = |(span, text): &(Span, String), all: &mut ChangeBuilder| {
        let line_end = scene.settings.line_end;
        let text = line_end.convert(&text.replace("\r\n", "\n"));
        all.replace(*span, &text);
        let start = place.map(span.start, Bias::Before);
        later.replace(Span::new(start, place.map(span.end, Bias::Before).max(start)), &text);
    };
    for edit in outcome.change.edits() {
        while let Some(before) = others.next_if(|(span, _)| span.start < edit.start()) {
            add(before, &mut all);
        }
        all.replace(edit.span(), outcome.change.inserted(edit));
    }
    others.for_each(|other| add(other, &mut all));
    let later = later.finish();
    let moved = |span: Span| {
        let start = later.map(span.start, Bias::After);
        Span::new(start, later.map(span.end, Bias::After).max(start))
    };
    let mut stops = outcome.stops;
    for copy in stops.iter_mut().flat_map(|stops| &mut stops.copies) {
        copy.span = moved(copy.span);
        copy.places.iter_mut().for_each(|place| place.span = moved(place.span));
    }
    let cursors = outcome.cursors.map(|cursors| cursors.mapped(&later, Bias::After));
    Outcome { change: all.finish(), cursors, stops, ..outcome }
}

/// Puts a template around the lines that the cursors touch, each run of them one step deeper.
pub fn surround_lines(scene: &Scene, (body, facts): (&Body, &Facts)) -> Outcome {
    let runs = scene.runs_with_last();
    let mut builder = ChangeBuilder::new(scene.text);
    let (mut stops, mut bytes) = (Stops::default(), 0usize);
    for run in &runs {
        let span = Span::new(run.start, scene.text.content_span(run.last).end);
        let indentation = common_indentation(scene, run);
        let lines = without(scene, run, &indentation);
        let span = Span::new(span.start + indentation.len().min(span.len()), span.end);
        let filled = fill(scene, (body, facts), (&indentation, span.start), Some(&lines));
        bytes = bytes.saturating_add(filled.text.len());
        if let Some(asks) = Outcome::unless_asked(scene, bytes) {
            return asks;
        }
        let start = builder.now(span.start);
        builder.replace(span, &filled.text);
        stops.copies.push(copy_of(&filled, start));
        stops.choices = filled.choices;
    }
    if runs.is_empty() {
        return Outcome::nothing("no lines here");
    }
    let lines: usize = runs.iter().map(Run::len).sum();
    let change = builder.finish();
    let cursors = scene.remap(&change, |_| [Bias::Before; 2]);
    Outcome { stops: Some(stops), ..Outcome::edit(change, cursors) }
        .saying(format!("put around {}", counted(lines, "line")))
}

/// The white space that all lines of a run that are not blank begin with.
fn common_indentation(scene: &Scene, run: &Run) -> String {
    let indentation = |line: Line| scene.text.slice(scene.text.indentation_span(line)).into_owned();
    let mut lines = run.lines().filter(|line| !scene.text.is_blank(*line));
    let Some(first) = lines.next() else { return indentation(run.first) };
    lines.fold(indentation(first), |common, line| {
        let other = indentation(line);
        let same = common.bytes().zip(other.bytes()).take_while(|(one, other)| one == other).count();
        common[..same].to_owned()
    })
}

/// The lines of a run without that white space.
fn without(scene: &Scene, run: &Run, indentation: &str) -> String {
    let line = |line: Line| {
        let content = scene.text.content(line).into_owned();
        match content.strip_prefix(indentation) {
            Some(rest) => rest.to_owned(),
            // A blank line.
            None => String::new(),
        }
    };
    run.lines().map(line).collect::<Vec<_>>().join("\n")
}

fn fill(
    scene: &Scene,
    (body, facts): (&Body, &Facts),
    (indentation, at): (&str, Byte),
    selected: Option<&str>,
) -> Filled {
    let language = scene.language_at(at);
    // A tab that begins a command is one whatever the text is indented by.
    let unit = if language.tab_begins_command { IndentUnit::Tab } else { scene.settings.unit };
    let variable = |name: &str| value_of(name, (facts, selected), (scene.text, at), language.word_rule());
    let at_last_stop = selected.filter(|_| !body.asks_for("TM_SELECTED_TEXT"));
    body.fill(&Setting { indentation, unit, line_end: scene.settings.line_end, at_last_stop, variable: &variable })
}

/// The places of the stops of what was put in at `start`.
fn copy_of(filled: &Filled, start: Byte) -> StopCopy {
    let place = |place: &crate::templates::Place| StopPlace {
        number: place.number,
        span: Span::new(start + place.span.start, start + place.span.end),
        outer: place.outer,
    };
    StopCopy { span: Span::new(start, start + filled.text.len()), places: filled.places.iter().map(place).collect() }
}

/// The cursors of the places of a stop, where those are `spans`: all of what is in them selected.
#[must_use]
pub fn selected(spans: &[Span]) -> Vec<Selection> {
    spans.iter().map(|span| Selection::new(span.start, span.end)).collect()
}
