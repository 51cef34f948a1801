//! The deck: the keyboard as it is, each key with its verb. A verb that can do nothing now is dimmed.

use super::layout::{Area, DeckSize};
use super::{fill, put, width};
use crate::app::App;
use crate::keys::bindings::Deed;
use crate::palette::Role;
use ratatui::buffer::Buffer;
use ratatui::style::{Modifier, Style};
use snarvel_core::cursors::Selection;
use snarvel_core::languages::lexical::Syntax;
use snarvel_core::units::{Byte, Direction};
use snarvel_core::verbs::Verb;
use snarvel_core::verbs::scene::Layer;

/// What each row of the keyboard is about.
const ROWS: [&str; 3] = ["▲", "▼", "●"];

/// The keys of the small deck by their row and column, the most useful first.
const USEFUL: [(usize, usize); 13] =
    [(1, 1), (0, 1), (1, 2), (2, 1), (2, 2), (1, 4), (1, 3), (2, 4), (2, 7), (2, 8), (2, 6), (1, 0), (2, 3)];

/// Under this width only the left hand is shown.
const BOTH_HANDS: u16 = 70;

pub(super) fn draw(app: &App, area: Area, buffer: &mut Buffer) {
    if area.rows == 0 {
        return;
    }
    fill(buffer, area, app.palette.style(Role::Raised));
    match app.deck_size() {
        DeckSize::Off => {}
        DeckSize::Small => small(app, area, buffer),
        DeckSize::Full => full(app, area, buffer),
    }
}

fn full(app: &App, area: Area, buffer: &mut Buffer) {
    let hands = if area.cols < BOTH_HANDS { 5 } else { 10 };
    let lead = if app.layer == Layer::Write { 7 } else { 4 };
    let gap = if hands == 10 { 3 } else { 0 };
    let key_cols = (area.cols.saturating_sub(lead + gap)) / hands;
    for (index, place) in ROWS.iter().enumerate() {
        let row = Area { y: area.y + index as u16, rows: 1, ..area };
        let hint = if app.layer == Layer::Write && index == 1 { "Alt+ " } else { "" };
        put(buffer, row, 1, &format!("{hint}{place}"), app.palette.style(Role::RaisedQuiet));
        if hint.is_empty() && app.layer == Layer::Write {
            put(buffer, row, 1, &format!("     {place}"), app.palette.style(Role::RaisedQuiet));
        }
        for column in 0..usize::from(hands) {
            let shift = if column >= 5 { gap } else { 0 };
            let x = lead + key_cols * column as u16 + shift;
            one_key(app, Area { cols: (x + key_cols).min(area.cols), ..row }, x, (index, column), buffer);
            if column == 5 {
                put(buffer, row, x - 2, "│", app.palette.style(Role::Raised).patch(app.palette.style(Role::Edge)));
            }
        }
    }
}

/// Draws the key in a row and column of the deck at `x`; gives the column behind it.
fn one_key(app: &App, area: Area, x: u16, (row, column): (usize, usize), buffer: &mut Buffer) -> u16 {
    let Some(key) = app.keymap.keyboard().deck(row, column) else { return x };
    let Some(deed) = app.keymap.on_deck(key) else { return x };
    let raised = app.palette.style(Role::Raised);
    let is_live = match deed {
        Deed::Verb(verb, _) => is_possible(app, verb),
        Deed::Text(_) | Deed::Nothing => true,
    };
    let cap: Style = match is_live {
        true => raised.patch(app.palette.style(Role::KeyCap)),
        false => app.palette.style(Role::RaisedQuiet).add_modifier(Modifier::DIM),
    };
    let label = if is_live { raised } else { cap };
    let behind = put(buffer, area, x, &key.to_uppercase().to_string(), cap) + 1;
    let room = area.cols.saturating_sub(behind + 1);
    put(buffer, area, behind, &shortened(label_of(deed), room), label)
}

/// What the deck calls it.
fn label_of(deed: &Deed) -> &str {
    match deed {
        Deed::Verb(verb, _) => verb.label,
        Deed::Text(text) => text,
        Deed::Nothing => "",
    }
}

fn small(app: &App, area: Area, buffer: &mut Buffer) {
    let quiet = app.palette.style(Role::RaisedQuiet);
    let mut x = put(buffer, area, 1, if app.layer == Layer::Write { "Alt+" } else { "  " }, quiet) + 1;
    let more = "F1 whole deck   Ctrl+Space Shape";
    let room = area.cols.saturating_sub(width(more) + 2);
    for key in USEFUL {
        let deed = app.keymap.keyboard().deck(key.0, key.1).and_then(|key| app.keymap.on_deck(key));
        let Some(deed) = deed else { continue };
        if x + width(label_of(deed)) + 5 > room {
            break;
        }
        x = one_key(app, area, x, key, buffer) + 2;
    }
    let start = area.cols.saturating_sub(width(more) + 1);
    if start > x {
        put(buffer, area, start, more, quiet);
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

/// Whether a verb could do something now, as far as a glance tells.
fn is_possible(app: &App, verb: &Verb) -> bool {
    let editor = &app.document().editor;
    let (text, cursors) = (editor.text(), editor.cursors());
    let (first, last) = (cursors.list()[0], cursors.list()[cursors.len() - 1]);
    let first_line = text.line_of(first.start());
    let last_line = text.line_of(last.end());
    let is_single = cursors.len() == 1;
    let at_top = is_single && first_line.0 == 0;
    let at_bottom = is_single && last_line.0 + 1 >= text.real_line_count();
    let has_selection = cursors.iter().take(64).any(|each| !each.is_caret());
    match verb.name {
        "carry-up" | "line-up" | "cursor-above" => !at_top,
        "carry-down" | "join-lines" => !at_bottom,
        "line-down" | "cursor-below" => !(is_single && last_line == text.last_line()),
        "char-left" | "word-back" => !(is_single && first.head == Byte(0)) || has_selection,
        "char-right" | "word-forward" => !(is_single && last.head == text.end()) || has_selection,
        "take-next" | "take-previous" | "take-all" => has_selection || has_word(app, cursors.primary()),
        "per-line" => cursors.iter().take(64).any(|each| text.line_of(each.start()) != text.line_of(each.end())),
        "drop-newest" => !is_single,
        "comment-toggle" => !editor.syntax().language_at(first.head).marks().is_empty(),
        "delete-lines" | "duplicate-up" | "duplicate-down" => !(is_single && text.is_after_final_end(first_line)),
        _ => true,
    }
}

fn has_word(app: &App, caret: Selection) -> bool {
    let editor = &app.document().editor;
    let beside = |side| editor.text().class_beside(caret.head, side, editor.language().word_rule());
    [Direction::Back, Direction::Forward]
        .into_iter()
        .any(|side| beside(side).is_some_and(snarvel_core::text::words::Class::is_word))
        || editor.text().word_at(caret.head, editor.language().word_rule()).is_some()
}
