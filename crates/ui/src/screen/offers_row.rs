//! The row of offers at the foot: up to nine, numbered, each with what it is and where it is from. While a template is filled in and nothing
//! is offered: how to go on in it.

use super::canvas::{Area, fill, put, width};
use crate::context::Context;
use crate::palette::Role;
use crate::panels::offers::told;
use ratatui::buffer::Buffer as Grid;
use snarvel_core::offers::Candidate;
use snarvel_core::verbs::scene::counted;
use snarvel_workspace::state::offering::{Called, Offers};

/// So many have a number.
const MOST: usize = 9;

/// The fewest columns that are left for offers beside the keys.
const LEAST_FOR_OFFERS: u16 = 40;

/// A key and what it does.
type Hint = (&'static str, &'static str);

/// Whether there is something to draw.
pub fn is_there(context: &Context) -> bool {
    context.workspace.offers().is_some() || context.workspace.view().stops().is_open()
}

/// Draws the row, if something is offered or a template is being filled in.
pub fn draw(context: &Context, row: Area, grid: &mut Grid) {
    let stops = context.workspace.view().stops();
    match context.workspace.offers() {
        Some(shown) => offers(context, shown, row, grid),
        None if stops.is_open() => template(context, row, grid),
        None => {}
    }
}

fn offers(context: &Context, shown: &Offers, row: Area, grid: &mut Grid) {
    let palette = &context.look.palette;
    let raised = palette.style(Role::Raised);
    fill(grid, row, raised);
    // The chosen one is among those that are seen.
    let page = shown.chosen / MOST * MOST;
    let is_in_template = context.workspace.view().stops().is_open();
    let takes: Hint = match is_in_template && shown.called == Called::ByTyping {
        true => ("Tab", "next stop"),
        false => ("Tab", "take"),
    };
    let room = hints(context, &[("↓", "choose"), ("Esc", "put away"), ("Ctrl+K", "all"), takes], row, grid);
    let held = if page == 0 { "Alt+ " } else { "     " };
    let mut x = put(grid, (row, 1), held, palette.style(Role::RaisedQuiet));
    let cut = Area { cols: room, ..row };
    for (index, candidate) in shown.list.iter().enumerate().skip(page).take(MOST) {
        let number = if page == 0 { (index + 1).to_string() } else { String::new() };
        let is_chosen = index == shown.chosen;
        let needed = width(&number) + width(&candidate.text) + width(&told(candidate)) + 4;
        if x + needed > room && index > page && !is_chosen {
            break;
        }
        x = one(context, (candidate, &number, is_chosen), (cut, x), grid);
    }
}

/// Draws an offer at `x`; gives the column after it.
fn one(
    context: &Context,
    (candidate, number, is_chosen): (&Candidate, &str, bool),
    (row, x): (Area, u16),
    grid: &mut Grid,
) -> u16 {
    let palette = &context.look.palette;
    let raised = palette.style(Role::Raised);
    let style = if is_chosen { raised.patch(palette.style(Role::Selection)) } else { raised };
    let x = put(grid, (row, x), if is_chosen { "▸" } else { " " }, raised.patch(palette.style(Role::PrimarySign)));
    let x = put(grid, (row, x), number, raised.patch(palette.style(Role::KeyCap))) + 1;
    let x = put(grid, (row, x), &candidate.text, style) + 1;
    put(grid, (row, x), &told(candidate), palette.style(Role::RaisedQuiet)) + 1
}

fn template(context: &Context, row: Area, grid: &mut Grid) {
    let palette = &context.look.palette;
    fill(grid, row, palette.style(Role::Raised));
    let (buffer, view) = (context.workspace.active(), context.workspace.view());
    let left = counted(view.stops().left(view.id, buffer), "stop");
    let room = hints(context, &[("Ctrl+K", "offers"), ("Shift+Tab", "back"), ("Tab", "next stop")], row, grid);
    let said = format!("template: {left} to come");
    put(grid, (Area { cols: room, ..row }, 1), &said, palette.style(Role::RaisedQuiet));
}

/// Draws keys at the right, as many as leave enough of the row, the last one first; gives the columns that are left.
fn hints(context: &Context, hints: &[Hint], row: Area, grid: &mut Grid) -> u16 {
    let palette = &context.look.palette;
    let raised = palette.style(Role::Raised);
    let cols = |(key, does): &Hint| width(key) + width(does) + 3;
    let mut shown = hints;
    while shown.len() > 1 && row.cols.saturating_sub(shown.iter().map(cols).sum::<u16>()) < LEAST_FOR_OFFERS {
        shown = &shown[1..];
    }
    let start = row.cols.saturating_sub(shown.iter().map(cols).sum());
    let mut x = start;
    for (key, does) in shown {
        x = put(grid, (row, x), key, raised.patch(palette.style(Role::KeyCap))) + 1;
        x = put(grid, (row, x), does, raised) + 2;
    }
    start.saturating_sub(1)
}
