//! The deck: the keyboard as it is, each key with its verb. A verb that can do nothing now is dimmed. Its last row is there always:
//! it ends with the doors, by which everything else is found.

use super::canvas::{Area, fill, put, width};
use super::faces::{Face, FaceKey, ROWS, faces, label_of, whole_words};
use super::offers_row;
use crate::context::Context;
use crate::keys::bindings::KeyAction;
use crate::keys::layer::Layer;
use crate::palette::Role;
use crate::size::DeckSize;
use ratatui::buffer::Buffer as Grid;
use ratatui::style::{Modifier, Style};
use snarvel_core::verbs::scene::Scene;
use snarvel_workspace::registry::by_name;

/// What each row of the keyboard is about.
const SIGNS: [&str; ROWS] = ["▲", "▼", "●"];

/// The keys of the small deck by their row and column, the most useful first.
const USEFUL: [(usize, usize); 13] =
    [(1, 1), (0, 1), (1, 2), (2, 1), (2, 2), (1, 4), (1, 3), (2, 4), (2, 7), (2, 8), (2, 6), (1, 0), (2, 3)];

/// What everything is found by, the last to go first: the verb, and what it is called.
const DOORS: [(&str, &str); 3] = [("lookup", "lookup"), ("open", "open"), ("sift", "find")];

/// The columns that the sign of a row takes, and what is held with its keys.
const LEAD: u16 = 8;

/// Draws the deck.
pub fn draw(context: &Context, area: Area, grid: &mut Grid) {
    if area.rows == 0 {
        return;
    }
    fill(grid, area, context.look.palette.style(Role::Raised));
    let last = Area { y: area.y + area.rows - 1, rows: 1, ..area };
    if offers_row::is_there(context) && area.rows == 1 {
        offers_row::draw(context, last, grid);
        return;
    }
    let room = doors(context, last, grid);
    let left = Area { cols: room, ..last };
    context.workspace.view().with_scene(context.workspace.active(), |scene| match context.deck_size() {
        DeckSize::Off => drop(put(grid, (left, 1), hint(room, &["F1 keys"]), quiet(context))),
        DeckSize::Small => small((context, scene), left, grid),
        DeckSize::Full => full((context, scene), (area, left), grid),
    });
    offers_row::draw(context, last, grid);
}

fn quiet(context: &Context) -> Style {
    context.look.palette.style(Role::RaisedQuiet)
}

/// Draws the doors at the right of a row; gives the columns that are left.
fn doors(context: &Context, row: Area, grid: &mut Grid) -> u16 {
    let keymap = &context.keyboard.keymap;
    let key = |name: &str| {
        let spelled = keymap.spelled(by_name(name)?);
        let of_layer = if context.keyboard.layer == Layer::Write { spelled.write } else { spelled.shape };
        of_layer.into_iter().next()
    };
    let doors: Vec<(String, &str)> = DOORS.iter().filter_map(|(verb, name)| Some((key(verb)?, *name))).collect();
    let cols = |(key, name): &(String, &str)| width(key) + width(name) + 3;
    let mut shown = doors.len();
    while shown > 1 && doors[..shown].iter().map(cols).sum::<u16>() + 1 > row.cols {
        shown -= 1;
    }
    let all: u16 = doors[..shown].iter().map(cols).sum();
    let start = row.cols.saturating_sub(all.max(1));
    let mut x = start;
    for (key, name) in &doors[..shown] {
        x = put(grid, (row, x), key, context.look.palette.style(Role::KeyCap)) + 1;
        x = put(grid, (row, x), name, context.look.palette.style(Role::Raised)) + 2;
    }
    start
}

/// As many of the hints as there is room for.
fn hint<'h>(room: u16, hints: &[&'h str]) -> &'h str {
    hints.iter().find(|hint| width(hint) + 2 <= room).copied().unwrap_or("")
}

fn full((context, scene): (&Context, &Scene), (area, last): (Area, Area), grid: &mut Grid) {
    let faces = faces(context, area.cols);
    let index = context.look.faces[context.keyboard.layer.index()].min(faces.len() - 1);
    let face = &faces[index];
    for (number, keys) in face.rows.iter().enumerate() {
        let row = Area { y: area.y + number as u16, rows: 1, ..area };
        if face.is_keyboard {
            put(grid, (row, LEAD - 2), SIGNS[number], quiet(context));
        }
        if number == 1 {
            put(grid, (row, 1), face.held, quiet(context));
        }
        face_row((context, scene), (face, keys), row, grid);
    }
    let of = format!("{} {} of {}", face.title, index + 1, faces.len());
    let all = format!("{of}   F1 next   Ctrl+Space {}", context.keyboard.layer.other().name());
    let short = format!("{of}   F1 next");
    put(grid, (last, 1), hint(last.cols, &[&all, &short, "F1 next"]), quiet(context));
}

/// Draws a row of a face.
fn face_row(
    (context, scene): (&Context, &Scene),
    (face, keys): (&Face, &[Option<FaceKey>]),
    row: Area,
    grid: &mut Grid,
) {
    let both_hands = face.is_keyboard && keys.len() > 5;
    let gap = if both_hands { 3 } else { 0 };
    let columns = face.rows.iter().map(Vec::len).max().unwrap_or(1).max(1) as u16;
    let cols = row.cols.saturating_sub(LEAD + gap) / columns;
    for (column, key) in keys.iter().enumerate() {
        let shift = if both_hands && column >= 5 { gap } else { 0 };
        let x = LEAD + cols * column as u16 + shift;
        if both_hands && column == 5 {
            let edge = context.look.palette.style(Role::Raised).patch(context.look.palette.style(Role::Edge));
            put(grid, (row, x - 2), "│", edge);
        }
        if let Some(key) = key {
            one_key((context, scene), (Area { cols: (x + cols).min(row.cols), ..row }, x), key, grid);
        }
    }
}

/// Draws a key at `x`; gives the column after it.
fn one_key((context, scene): (&Context, &Scene), (area, x): (Area, u16), key: &FaceKey, grid: &mut Grid) -> u16 {
    let raised = context.look.palette.style(Role::Raised);
    let is_live = match &key.action {
        KeyAction::Verb(verb, _) => (verb.enabled)(scene),
        KeyAction::Text(_) | KeyAction::Nothing => true,
    };
    let cap: Style = match is_live {
        true => raised.patch(context.look.palette.style(Role::KeyCap)),
        false => quiet(context).add_modifier(Modifier::DIM),
    };
    let label = if is_live { raised } else { cap };
    let after = put(grid, (area, x), &key.cap, cap) + 1;
    let room = area.cols.saturating_sub(after + 1);
    put(grid, (area, after), whole_words(label_of(&key.action), room), label)
}

fn small((context, scene): (&Context, &Scene), area: Area, grid: &mut Grid) {
    let held = if context.keyboard.layer == Layer::Write { "Alt+" } else { "  " };
    let mut x = put(grid, (area, 1), held, quiet(context)) + 1;
    let other = format!("F1 all keys   Ctrl+Space {}", context.keyboard.layer.other().name());
    let more = hint(area.cols.saturating_sub(x + 40), &[&other, "F1 all keys"]);
    let more = if more.is_empty() { hint(area.cols.saturating_sub(x + 14), &["F1 all keys", "F1"]) } else { more };
    let room = area.cols.saturating_sub(width(more) + 2);
    let keymap = &context.keyboard.keymap;
    for (row, column) in USEFUL {
        let Some(c) = keymap.keyboard().deck(row, column) else { continue };
        let Some(action) = keymap.on_deck(c) else { continue };
        if x + width(label_of(action)) + 4 > room {
            break;
        }
        let key = FaceKey { cap: c.to_uppercase().to_string(), action: action.clone() };
        x = one_key((context, scene), (area, x), &key, grid) + 2;
    }
    put(grid, (area, room), more, quiet(context));
}
