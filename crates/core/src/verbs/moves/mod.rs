//! Moves: by character, line, word, line edge, block, page, file; each also extends.
//!
//! Every move of a selection starts at its head, but a step by one character, which goes to its edge. Only
//! moves from line to line keep a wanted column.

pub mod bookmarks;
pub mod changes;
pub mod occurrences;

use crate::cursors::{CursorSet, GoalColumn, Selection};
use crate::rows::RowMap;
use crate::structure::Roles;
use crate::text::place::Place;
use crate::units::{Byte, Cell, Direction, Line};
use crate::verbs::scene::{Outcome, Scene};
use crate::verbs::selects::columns::edge;

/// How far a move goes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Motion {
    /// One cluster.
    Char,
    /// One word.
    Word,
    /// One line, in the wanted column.
    Line,
    /// A view less two lines.
    Page,
    /// The line's first character that is not blank, or its edge.
    LineEdge,
    /// The line's first character that is not blank.
    LineText,
    /// The line's first column.
    LineMargin,
    /// The first line of the block, or of the next.
    Block,
    /// The first or the last place of the text.
    FileEdge,
}

/// Whether the anchor comes along.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Reach {
    /// A plain move: nothing is selected afterwards.
    Move,
    /// The anchor stays.
    Extend,
}

/// Moves every cursor.
pub fn go(scene: &Scene, motion: Motion, direction: Direction, reach: Reach) -> Outcome {
    let in_line = matches!(motion, Motion::Char | Motion::Word);
    if let Some(column) = Column::of(scene).filter(|_| in_line && reach == Reach::Extend) {
        return Outcome::cursors(column.extended(scene, motion, direction));
    }
    let going = Going::of(scene, motion, direction);
    let moved = scene.cursors.map(|each| match reach {
        Reach::Move => going.place(each),
        Reach::Extend => {
            let head = going.target(each);
            Selection { anchor: each.anchor, goal_anchor: each.goal_anchor, ..head }
        }
    });
    Outcome::cursors(moved)
}

/// Cursors one below the other between the same two columns, as far as their lines reach: extending keeps them so.
struct Column {
    anchor: Cell,
    head: Cell,
}

impl Column {
    /// The column that the cursors are, if they were made as one: each in a line of its own.
    fn of(scene: &Scene) -> Option<Column> {
        let text = scene.text;
        let columns = |each: Selection| {
            let anchor = each.goal_anchor.get().unwrap_or_else(|| scene.cell(each.anchor));
            Column { anchor, head: scene.wanted(each) }
        };
        let primary = columns(scene.cursors.primary());
        let mut before = None;
        let stands_below = |each: Selection| {
            let own = columns(each);
            let line = text.line_of(each.anchor);
            let is_next = before.replace(line).is_none_or(|before: Line| before < line);
            is_next && line == text.line_of(each.head) && own.anchor == primary.anchor && own.head == primary.head
        };
        let is_column = scene.cursors.is_column() && scene.cursors.len() > 1;
        (is_column && scene.cursors.iter().all(stands_below)).then_some(primary)
    }

    /// With the heads where the move takes the primary one, which goes on past its line's end as long as another line
    /// is longer.
    fn extended(&self, scene: &Scene, motion: Motion, direction: Direction) -> CursorSet {
        let (text, tabs) = (scene.text, scene.settings.tabs);
        let primary = scene.cursors.primary();
        let moved = Going::of(scene, motion, direction).target(primary).head;
        let is_in_line = text.line_of(moved) == text.line_of(primary.head) && moved != primary.head;
        let stays = is_in_line && self.head == scene.cell(primary.head);
        let head = match (stays, direction) {
            (true, _) => scene.cell(moved),
            (false, Direction::Back) => Cell(self.head.0.saturating_sub(1)),
            (false, Direction::Forward) => {
                let widest = scene.cursors.iter().map(|each| text.width_of(text.line_of(each.head), tabs)).max();
                (self.head + 1).min(widest.unwrap_or(self.head)).max(self.head)
            }
        };
        let set = scene.cursors.map(|each| {
            let line = text.line_of(each.head);
            let piece = Selection::new(edge(scene, line, self.anchor), edge(scene, line, head));
            Selection { goal_anchor: GoalColumn::cell(self.anchor), goal_head: GoalColumn::cell(head), ..piece }
        });
        set.as_column()
    }
}

/// A move of cursors.
struct Going<'a, 'b> {
    scene: &'a Scene<'b>,
    motion: Motion,
    direction: Direction,
    /// Where blocks begin, in order, if the move is by blocks and there is a tree that has some.
    blocks: Vec<Byte>,
}

impl<'a, 'b> Going<'a, 'b> {
    fn of(scene: &'a Scene<'b>, motion: Motion, direction: Direction) -> Going<'a, 'b> {
        let structure = scene.structure.structure().filter(|_| motion == Motion::Block);
        let blocks = structure.map(|structure| structure.all(Roles::BLOCK));
        let first = |at: Byte| first_character(scene, scene.text.line_of(at));
        let mut blocks: Vec<Byte> = blocks.into_iter().flatten().map(|node| first(node.span.start)).collect();
        blocks.sort_unstable();
        Going { scene, motion, direction, blocks }
    }

    fn place(&self, each: Selection) -> Selection {
        if self.motion == Motion::Char && !each.is_caret() {
            return Selection::caret(match self.direction {
                Direction::Back => each.start(),
                Direction::Forward => each.end(),
            });
        }
        self.target(each)
    }

    /// A caret where the head of `each` goes.
    fn target(&self, each: Selection) -> Selection {
        let (scene, direction, head) = (self.scene, self.direction, each.head);
        let at = match self.motion {
            Motion::Line => return by_lines(scene, each, direction, 1),
            Motion::Page => {
                return by_lines(scene, each, direction, scene.settings.view_lines.saturating_sub(2).max(1));
            }
            Motion::Char => scene.text.step(head, direction),
            Motion::Word => scene.text.word_step(head, direction, scene.words()),
            Motion::LineEdge => line_edge(scene, head, direction),
            Motion::LineText => scene.text.indentation_span(scene.text.line_of(head)).end,
            Motion::LineMargin => scene.text.line_start(scene.text.line_of(head)),
            Motion::Block if self.blocks.is_empty() => paragraph_edge(scene, head, direction),
            Motion::Block => self.block_edge(head),
            Motion::FileEdge if direction == Direction::Back => Byte(0),
            Motion::FileEdge => scene.text.end(),
        };
        Selection::caret(at)
    }

    /// The first character of the first line of a block: the one around `head` or the one before it, or the next.
    fn block_edge(&self, head: Byte) -> Byte {
        let blocks = &self.blocks;
        match self.direction {
            Direction::Back => blocks[..blocks.partition_point(|at| *at < head)].last().copied().unwrap_or(Byte(0)),
            Direction::Forward => {
                let next = blocks.partition_point(|at| *at <= head);
                blocks.get(next).copied().unwrap_or_else(|| self.scene.text.end())
            }
        }
    }
}

fn first_character(scene: &Scene, line: Line) -> Byte {
    scene.text.indentation_span(line).end
}

fn by_lines(scene: &Scene, each: Selection, direction: Direction, lines: usize) -> Selection {
    if let Some(rows) = scene.rows() {
        return by_rows(&rows, each, direction, lines);
    }
    let line = scene.text.line_of(each.head);
    let to = scene.folds.step(scene.text, line, direction, lines);
    if to == line {
        return Selection { anchor: each.head, ..each };
    }
    let wanted = scene.wanted(each);
    let place = scene.text.place_at(to, wanted, scene.settings.tabs);
    Selection { goal_head: GoalColumn::cell(wanted), ..Selection::caret(place.at) }
}

/// By rows of wrapped lines. The wanted column is one of the screen: it is kept only where a short row kept the caret from it.
fn by_rows(rows: &RowMap, each: Selection, direction: Direction, count: usize) -> Selection {
    let row = rows.row_at(each.head);
    let to = rows.step(row, direction, count);
    if to == row {
        return Selection { anchor: each.head, ..each };
    }
    let wanted = each.goal_head.get().map_or_else(|| rows.column_of(&row, each.head), |cell| cell.0);
    let at = rows.place_in(&to, wanted);
    let goal_head = if rows.column_of(&to, at) == wanted { GoalColumn::NONE } else { GoalColumn::cell(Cell(wanted)) };
    Selection { goal_head, ..Selection::caret(at) }
}

/// The edge of the row; from there that of the line.
fn row_edge((scene, rows): (&Scene, &RowMap), head: Byte, direction: Direction) -> Byte {
    let row = rows.row_at(head);
    let edge = match direction {
        Direction::Back => row.span.start,
        Direction::Forward => rows.end_of(&row),
    };
    let is_inner = match direction {
        Direction::Back => !row.begins(scene.text),
        Direction::Forward => !row.ends(scene.text),
    };
    if is_inner && edge != head { edge } else { edge_of_line(scene, head, direction) }
}

fn line_edge(scene: &Scene, head: Byte, direction: Direction) -> Byte {
    match scene.rows() {
        Some(rows) => row_edge((scene, &rows), head, direction),
        None => edge_of_line(scene, head, direction),
    }
}

fn edge_of_line(scene: &Scene, head: Byte, direction: Direction) -> Byte {
    let line = scene.text.line_of(head);
    if direction == Direction::Forward {
        return scene.text.content_span(line).end;
    }
    let indentation = scene.text.indentation_span(line);
    if head == indentation.end { indentation.start } else { indentation.end }
}

/// The first character of the first line of a paragraph: the one around `head` or the one before it, or the next.
fn paragraph_edge(scene: &Scene, head: Byte, direction: Direction) -> Byte {
    let text = scene.text;
    let first = |line: Line| first_character(scene, line);
    let opens = |line: &Line| !text.is_blank(*line) && line.previous().is_none_or(|previous| text.is_blank(previous));
    let line = text.line_of(head);
    match direction {
        Direction::Back => {
            let found = (0..=line.0).rev().map(Line).filter(opens).map(first).find(|&at| at < head);
            found.unwrap_or(Byte(0))
        }
        Direction::Forward => {
            let found = (line.0 + 1..text.line_count()).map(Line).find(opens).map(first);
            found.unwrap_or_else(|| text.end())
        }
    }
}

/// Goes to `place`; past the end is the last line.
pub fn go_to_line(scene: &Scene, place: Place) -> Outcome {
    let text = scene.text;
    let at = text.byte_of_place(place, text.line_of(scene.cursors.primary().head));
    let line = text.line_of(at).0 + 1;
    Outcome::cursors(CursorSet::caret(at)).saying(format!("line {line} of {}", text.line_count()))
}

/// A single caret at `place`.
pub fn caret_at(scene: &Scene, place: Place) -> Outcome {
    let at = scene.text.byte_of_place(place, scene.text.line_of(scene.cursors.primary().head));
    Outcome::cursors(CursorSet::caret(at))
}
