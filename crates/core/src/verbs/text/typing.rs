//! Typing: characters, line ends, Backspace, Delete, Tab; the same at every cursor, in one step.

use crate::changes::{Bias, Change, ChangeBuilder};
use crate::cursors::Selection;
use crate::history::Grouping;
use crate::languages::scanner::Kind;
use crate::text::indent::IndentUnit;
use crate::units::{Byte, Cell, Direction, Line, Span};
use crate::verbs::scene::{Outcome, Scene};
use crate::verbs::text::pairs::{self, Typed};
use crate::verbs::text::replaced::saying_what_went;

/// `characters` replace every selection. A single character may be one of a pair.
pub fn type_text(scene: &Scene, characters: &str) -> Outcome {
    if let Some(asks) = Outcome::unless_asked(scene, characters.len().saturating_mul(scene.cursors.len())) {
        return asks;
    }
    let mut alone = characters.chars();
    let single = alone.next().filter(|_| alone.next().is_none());
    let mut builder = ChangeBuilder::new(scene.text);
    let mut pairs = Vec::new();
    let cursors = scene.cursors.map(|each| {
        let span = each.span();
        // A slash after a star that is alone on its line ends the comment.
        if single == Some('/') && each.is_caret() && is_after_star(scene, each.head) {
            let line = scene.text.line_of(each.head);
            let below = scene.text.content_span(Line((line.0 + 1).min(scene.text.last_line().0)));
            // The end is there already: the line with the star goes, and the caret goes behind it.
            if below.start > each.head && scene.text.slice(below).trim() == "*/" {
                builder.remove(scene.text.line_span(line));
                return Selection::caret(builder.now(scene.text.trimmed(below).end));
            }
            let start = builder.now(each.head) - 1;
            builder.replace(Span::new(each.head - 1, each.head), characters);
            return Selection::caret(start + characters.len());
        }
        let typed = single.map_or(Typed::Plain, |c| pairs::typed(scene, each, c));
        let start = builder.now(span.start);
        match typed {
            Typed::StepsOver => return Selection::caret(start + characters.len()),
            Typed::Plain => builder.replace(span, characters),
            Typed::Opens(closer) => {
                builder.insert(span.start, &format!("{characters}{closer}"));
                pairs.push(Span::at(start + characters.len()));
            }
            Typed::Surrounds(closer) => {
                builder.insert(span.start, characters);
                builder.insert(span.end, closer.encode_utf8(&mut [0; 4]));
                let inner = start + characters.len();
                return Selection::over(Span::new(inner, inner + span.len()), each.direction());
            }
        }
        Selection::caret(start + characters.len())
    });
    let outcome = Outcome { pairs, ..Outcome::edit(builder.finish(), cursors) };
    saying_what_went(scene, outcome.grouped(Grouping::Typing))
}

/// Whether `at` is in a block comment after nothing on its line but a star and a space.
fn is_after_star(scene: &Scene, at: Byte) -> bool {
    let text = scene.text;
    let line = text.line_of(at);
    let before = text.slice(Span::new(text.line_start(line), at));
    before.trim_start() == "* "
        && scene.syntax.kind_before_line(line) == Kind::Comment
        && text.slice(Span::new(at, text.content_span(line).end)).trim().is_empty()
}

/// A text of its own replaces each selection, or the only one every selection: as it is, no pair closes itself.
///
/// # Panics
/// If there are neither one text nor as many as cursors.
pub fn put_in_place(scene: &Scene, texts: &[String]) -> Outcome {
    assert!(
        texts.len() == 1 || texts.len() == scene.cursors.len(),
        "{} texts for {} cursors",
        texts.len(),
        scene.cursors.len()
    );
    let bytes: usize = if texts.len() == 1 {
        texts[0].len().saturating_mul(scene.cursors.len())
    } else {
        texts.iter().map(String::len).sum()
    };
    if let Some(asks) = Outcome::unless_asked(scene, bytes) {
        return asks;
    }
    let mut builder = ChangeBuilder::new(scene.text);
    let mut index = 0;
    let cursors = scene.cursors.map(|each| {
        let text = texts.get(index).unwrap_or(&texts[0]);
        index += 1;
        let start = builder.now(each.start());
        builder.replace(each.span(), text);
        Selection::caret(start + text.len())
    });
    saying_what_went(scene, Outcome::edit(builder.finish(), cursors))
}

/// Removes the selections, or what is between each caret and the edge of the word in `direction`. It stays in the line: at its edge,
/// the line end alone goes.
pub fn delete_word(scene: &Scene, direction: Direction) -> Outcome {
    let text = scene.text;
    let mut builder = ChangeBuilder::new(text);
    let mut reach = Byte(0);
    for each in scene.cursors.iter() {
        let content = text.content_span(text.line_of(each.head));
        let edge = text.word_step(each.head, direction, scene.words());
        let span = match direction {
            _ if !each.is_caret() => each.span(),
            Direction::Back if each.head == content.start => Span::new(text.previous_boundary(each.head), each.head),
            Direction::Back => Span::new(edge.max(content.start), each.head),
            Direction::Forward if each.head == content.end => Span::new(each.head, text.next_boundary(each.head)),
            Direction::Forward => Span::new(each.head, edge.min(content.end)),
        };
        // Two carets in one word take its part once.
        builder.remove(Span::new(span.start.max(reach), span.end.max(reach)));
        reach = reach.max(span.end);
    }
    removed(scene, builder.finish(), direction, None)
}

/// The outcome of removing what is before or after the cursors.
fn removed(scene: &Scene, change: Change, direction: Direction, grouping: Option<Grouping>) -> Outcome {
    if change.is_empty() {
        return Outcome::nothing(match direction {
            Direction::Back => "nothing before the cursor",
            Direction::Forward => "nothing after the cursor",
        });
    }
    let cursors = scene.remap(&change, |_| [Bias::Before; 2]);
    Outcome { grouping, ..Outcome::edit(change, cursors) }
}

/// Removes the selections, or the cluster beside each caret.
pub fn delete(scene: &Scene, direction: Direction) -> Outcome {
    let mut builder = ChangeBuilder::new(scene.text);
    for each in scene.cursors.iter() {
        builder.remove(match (each.is_caret(), direction) {
            (false, _) => each.span(),
            (true, Direction::Back) if pairs::is_empty_pair(scene, each.head) => {
                Span::new(scene.text.previous_boundary(each.head), scene.text.next_boundary(each.head))
            }
            (true, Direction::Back) => Span::new(back_from(scene, each.head), each.head),
            (true, Direction::Forward) => scene.text.cluster_at(each.head),
        });
    }
    let grouping = if direction == Direction::Back { Grouping::Backspacing } else { Grouping::Deleting };
    removed(scene, builder.finish(), direction, Some(grouping))
}

/// Where Backspace from `at` reaches: one unit stop in leading spaces, else one cluster.
fn back_from(scene: &Scene, at: Byte) -> Byte {
    let text = scene.text;
    let line = text.line_of(at);
    let before = text.slice(Span::new(text.line_start(line), at));
    let IndentUnit::Spaces(unit) = scene.settings.unit else { return text.previous_boundary(at) };
    if before.is_empty() || !before.chars().all(|c| c == ' ' || c == '\t') {
        return text.previous_boundary(at);
    }
    let column = scene.cell(at);
    let stop = (column.0.saturating_sub(1) / unit.max(1)) * unit.max(1);
    let mut place = at;
    while text.char_before(place) == Some(' ') && scene.cell(place).0 > stop {
        place = place - 1;
    }
    if place == at { text.previous_boundary(at) } else { place }
}

/// The selected texts go.
pub fn delete_selected(scene: &Scene) -> Outcome {
    if scene.cursors.iter().all(Selection::is_caret) {
        return Outcome::nothing("nothing is selected");
    }
    let mut builder = ChangeBuilder::new(scene.text);
    scene.cursors.iter().for_each(|each| builder.remove(each.span()));
    let change = builder.finish();
    let cursors = scene.remap(&change, |_| [Bias::Before; 2]);
    Outcome::edit(change, cursors).saying("deleted what was selected")
}

/// White space up to the next stop of its own column goes in at each caret. Where anything is selected, the touched lines are
/// indented instead: Tab never deletes.
pub fn tab_stop(scene: &Scene) -> Outcome {
    if scene.cursors.iter().any(|each| !each.is_caret()) {
        return crate::verbs::lines::indent::indent(scene);
    }
    let mut builder = ChangeBuilder::new(scene.text);
    let mut shifted = (Line(0), 0);
    let cursors = scene.cursors.map(|each| {
        let line = scene.text.line_of(each.start());
        if shifted.0 != line {
            shifted = (line, 0);
        }
        let column = Cell(scene.cell(each.head).0 + shifted.1);
        let (white, cells) = white_to_stop(scene, column);
        shifted.1 += cells;
        let at = builder.now(each.head) + white.len();
        builder.insert(each.head, &white);
        Selection::caret(at)
    });
    Outcome::edit(builder.finish(), cursors).grouped(Grouping::Typing)
}

fn white_to_stop(scene: &Scene, column: Cell) -> (String, u32) {
    let unit = scene.settings.unit.cells(scene.settings.tabs);
    let cells = unit - column.0 % unit;
    match scene.settings.unit {
        IndentUnit::Tab => ("\t".to_owned(), cells),
        IndentUnit::Spaces(_) => (" ".repeat(cells as usize), cells),
    }
}
