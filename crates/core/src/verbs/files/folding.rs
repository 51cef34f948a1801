//! Folding: what is not looked at is put away under the line that it begins with.

use crate::cursors::{CursorSet, Selection};
use crate::folds::Folds;
use crate::outline::{header_above, last_line_under, outline};
use crate::units::{Line, Span};
use crate::verbs::scene::{Outcome, Scene, counted};
use std::cell::RefCell;
use std::collections::{BTreeSet, HashMap};

/// Folds what begins on each cursor's line, else what is around it; where that is folded already, the next outer one.
pub fn fold(scene: &Scene) -> Outcome {
    let folds: BTreeSet<Span> = scene.folds.list().iter().copied().collect();
    let mut foldable = Foldable { scene, folds, above: HashMap::new(), under: RefCell::default() };
    let (mut hidden, mut list) = (0, Vec::with_capacity(scene.cursors.len()));
    for each in scene.cursors.iter() {
        let line = scene.text.line_of(each.head);
        let Some((first, last)) = foldable.found_for(line) else {
            list.push(each);
            continue;
        };
        hidden += last.0 - first.0;
        foldable.folds.insert(Folds::hiding(scene.text, first, last));
        let is_hidden = first < line || each.end() > scene.text.content_span(first).end;
        let caret = Selection::caret(scene.text.indentation_span(first).end);
        list.push(if is_hidden { caret.aged(each.born) } else { each });
    }
    if hidden == 0 {
        return Outcome::nothing("nothing here has lines to fold");
    }
    let cursors = CursorSet::of(list, scene.cursors.primary_index());
    let message = format!("folded {}", counted(hidden, "line"));
    let folds = Folds::of(foldable.folds.into_iter().collect());
    Outcome { folds: Some(folds), ..Outcome::cursors(cursors) }.saying(message)
}

/// What can be folded, for one cursor after the other.
struct Foldable<'a, 'b> {
    scene: &'a Scene<'b>,
    folds: BTreeSet<Span>,
    /// For lines that were asked for: the first header above that is not folded, as far as is known; all between are.
    above: HashMap<Line, Option<Line>>,
    /// For lines that were asked for: the last line under them.
    under: RefCell<HashMap<Line, Option<Line>>>,
}

impl Foldable<'_, '_> {
    /// The lines of what is to be folded for a cursor on `line`: the header and the last one.
    fn found_for(&mut self, line: Line) -> Option<(Line, Line)> {
        if let Some(last) = self.open_under(line) {
            return Some((line, last));
        }
        let (mut passed, mut here) = (vec![line], line);
        let found = loop {
            let above = self.above.get(&here).copied().unwrap_or_else(|| self.header_above(here));
            let Some(header) = above else { break None };
            if let Some(last) = self.open_under(header) {
                break Some((header, last));
            }
            passed.push(header);
            here = header;
        };
        let header = found.map(|(header, _)| header);
        self.above.extend(passed.into_iter().map(|line| (line, header)));
        found
    }

    fn last_under(&self, line: Line) -> Option<Line> {
        let read = || last_line_under(self.scene, line);
        *self.under.borrow_mut().entry(line).or_insert_with(read)
    }

    fn header_above(&self, line: Line) -> Option<Line> {
        header_above(self.scene, line, |above| self.last_under(above))
    }

    /// The last line of what is under the header `line`, unless it is folded.
    fn open_under(&self, line: Line) -> Option<Line> {
        let last = self.last_under(line)?;
        (!self.folds.contains(&Folds::hiding(self.scene.text, line, last))).then_some(last)
    }
}

/// Opens what is folded under the touched lines.
pub fn unfold(scene: &Scene) -> Outcome {
    let touched: Vec<Span> = scene
        .runs()
        .into_iter()
        .map(|run| Span::new(scene.text.line_start(run.first), scene.text.content_span(run.last).end))
        .collect();
    let is_touched = |span: Span| {
        let first = touched.partition_point(|run| run.end < span.start);
        touched.get(first).is_some_and(|run| run.start <= span.start)
    };
    let is_shown = |span: Span| {
        let header = scene.text.line_of(span.start);
        scene.folds.under(scene.text, header) == Some(span)
    };
    let folds = scene.folds.retaining(|span| !(is_shown(span) && is_touched(span)));
    let opened = scene.folds.list().len() - folds.list().len();
    if opened == 0 {
        return Outcome::nothing("nothing is folded here");
    }
    Outcome { folds: Some(folds), ..Outcome::default() }.saying(format!("opened {}", counted(opened, "fold")))
}

/// Folds every function, type, section; where all are folded already, opens everything.
pub fn fold_all(scene: &Scene) -> Outcome {
    let (entries, _) = outline(scene);
    let spans = entries.iter().filter_map(|entry| {
        let last = last_line_under(scene, entry.line)?;
        Some(Folds::hiding(scene.text, entry.line, last))
    });
    let all = Folds::of(spans.collect());
    if all.is_empty() {
        return Outcome::nothing("nothing here has lines to fold");
    }
    if all.list().iter().all(|span| scene.folds.list().contains(span)) {
        let message = format!("opened {}", counted(scene.folds.list().len(), "fold"));
        return Outcome { folds: Some(Folds::default()), ..Outcome::default() }.saying(message);
    }
    let list: Vec<Selection> = scene.cursors.iter().map(|each| on_header(scene, &all, each)).collect();
    let cursors = CursorSet::of(list, scene.cursors.primary_index());
    let message = format!("folded {}: again opens them", counted(all.list().len(), "place"));
    Outcome { folds: Some(all), ..Outcome::cursors(cursors) }.saying(message)
}

/// `each`, or a caret on the header under which an end of it would be hidden.
fn on_header(scene: &Scene, folds: &Folds, each: Selection) -> Selection {
    let line = scene.text.line_of(each.head);
    let header = folds.shown(scene.text, line);
    let ends = [each.start(), each.end()].map(|at| scene.text.line_of(at));
    let is_hidden = ends.iter().any(|line| folds.shown(scene.text, *line) != *line);
    if is_hidden { Selection::caret(scene.text.indentation_span(header).end).aged(each.born) } else { each }
}
