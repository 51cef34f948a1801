//! The deck: the keyboard as it is, each key with its verb. A verb that can do nothing now is dimmed.

use super::canvas::{Area, fill, put, width};
use crate::context::Context;
use crate::keys::bindings::KeyAction;
use crate::keys::layer::Layer;
use crate::palette::Role;
use crate::size::DeckSize;
use ratatui::buffer::Buffer as Grid;
use ratatui::style::{Modifier, Style};
use snarvel_core::verbs::scene::Scene;

/// What each row of the keyboard is about.
const ROWS: [&str; 3] = ["▲", "▼", "●"];

/// The keys of the small deck by their row and column, the most useful first.
const USEFUL: [(usize, usize); 13] =
    [(1, 1), (0, 1), (1, 2), (2, 1), (2, 2), (1, 4), (1, 3), (2, 4), (2, 7), (2, 8), (2, 6), (1, 0), (2, 3)];

/// Under this width only the left hand is shown.
const BOTH_HANDS: u16 = 70;

/// Draws the deck.
pub fn draw(context: &Context, area: Area, grid: &mut Grid) {
    if area.rows == 0 {
        return;
    }
    fill(grid, area, context.look.palette.style(Role::Raised));
    let draw = match context.deck_size() {
        DeckSize::Off => return,
        DeckSize::Small => small,
        DeckSize::Full => full,
    };
    context.workspace.view().with_scene(context.workspace.active(), |scene| draw((context, scene), area, grid));
}

fn full((context, scene): (&Context, &Scene), area: Area, grid: &mut Grid) {
    let hands = if area.cols < BOTH_HANDS { 5 } else { 10 };
    let lead = if context.keyboard.layer == Layer::Write { 7 } else { 4 };
    let gap = if hands == 10 { 3 } else { 0 };
    let key_cols = (area.cols.saturating_sub(lead + gap)) / hands;
    for (index, place) in ROWS.iter().enumerate() {
        let row = Area { y: area.y + index as u16, rows: 1, ..area };
        let hint = if context.keyboard.layer == Layer::Write && index == 1 { "Alt+ " } else { "" };
        put(grid, (row, 1), &format!("{hint}{place}"), context.look.palette.style(Role::RaisedQuiet));
        if hint.is_empty() && context.keyboard.layer == Layer::Write {
            put(grid, (row, 1), &format!("     {place}"), context.look.palette.style(Role::RaisedQuiet));
        }
        for column in 0..usize::from(hands) {
            let shift = if column >= 5 { gap } else { 0 };
            let x = lead + key_cols * column as u16 + shift;
            one_key((context, scene), (Area { cols: (x + key_cols).min(area.cols), ..row }, x), (index, column), grid);
            if column == 5 {
                put(
                    grid,
                    (row, x - 2),
                    "│",
                    context.look.palette.style(Role::Raised).patch(context.look.palette.style(Role::Edge)),
                );
            }
        }
    }
}

/// Draws the key in a row and column of the deck at `x`; gives the column after it.
fn one_key(
    (context, scene): (&Context, &Scene),
    (area, x): (Area, u16),
    (row, column): (usize, usize),
    grid: &mut Grid,
) -> u16 {
    let Some(key) = context.keyboard.keymap.keyboard().deck(row, column) else { return x };
    let Some(action) = context.keyboard.keymap.on_deck(key) else { return x };
    let raised = context.look.palette.style(Role::Raised);
    let is_live = match action {
        KeyAction::Verb(verb, _) => (verb.enabled)(scene),
        KeyAction::Text(_) | KeyAction::Nothing => true,
    };
    let cap: Style = match is_live {
        true => raised.patch(context.look.palette.style(Role::KeyCap)),
        false => context.look.palette.style(Role::RaisedQuiet).add_modifier(Modifier::DIM),
    };
    let label = if is_live { raised } else { cap };
    let after = put(grid, (area, x), &key.to_uppercase().to_string(), cap) + 1;
    let room = area.cols.saturating_sub(after + 1);
    put(grid, (area, after), &shortened(label_of(action), room), label)
}

/// What the deck calls it.
fn label_of(action: &KeyAction) -> &str {
    match action {
        KeyAction::Verb(verb, _) => verb.label,
        KeyAction::Text(text) => text,
        KeyAction::Nothing => "",
    }
}

fn small((context, scene): (&Context, &Scene), area: Area, grid: &mut Grid) {
    let quiet = context.look.palette.style(Role::RaisedQuiet);
    let mut x = put(grid, (area, 1), if context.keyboard.layer == Layer::Write { "Alt+" } else { "  " }, quiet) + 1;
    let more = "F1 whole deck   Ctrl+Space Shape";
    let room = area.cols.saturating_sub(width(more) + 2);
    for key in USEFUL {
        let action =
            context.keyboard.keymap.keyboard().deck(key.0, key.1).and_then(|key| context.keyboard.keymap.on_deck(key));
        let Some(action) = action else { continue };
        if x + width(label_of(action)) + 5 > room {
            break;
        }
        x = one_key((context, scene), (area, x), key, grid) + 2;
    }
    let start = area.cols.saturating_sub(width(more) + 1);
    if start > x {
        put(grid, (area, start), more, quiet);
    }
}

/// What a label becomes where it does not fit, longest first.
const SHORTER: &[(&str, &[&str])] = &[
    ("comment", &["comm.", "com"]),
    ("per line", &["p. line", "each"]),
    ("delete", &["del"]),
    ("split", &["splt"]),
    ("block", &["blk"]),
    ("start", &["beg"]),
    ("widen", &["wide"]),
    ("cursor ↑", &["curs ↑", "cur↑"]),
    ("cursor ↓", &["curs ↓", "cur↓"]),
];

/// A label in so many cells: its shorter form if it has one that fits; the space before a sign goes first, then letters of the word.
fn shortened(label: &str, room: u16) -> String {
    if width(label) <= room {
        return label.to_owned();
    }
    let shorter = SHORTER.iter().find(|(long, _)| *long == label).map_or(&[][..], |(_, short)| short);
    if let Some(short) = shorter.iter().find(|short| width(short) <= room) {
        return (*short).to_owned();
    }
    let (word, sign) = match label.rsplit_once(' ') {
        Some((word, sign)) if sign.chars().count() == 1 => (word.trim_end_matches('.'), sign),
        _ => (label, ""),
    };
    let letters = usize::from(room).saturating_sub(sign.chars().count());
    word.chars().take(letters).collect::<String>() + sign
}
