//! The screen: drawn from the application's values into a grid of cells, nothing else.

pub mod canvas;
pub mod deck;
pub mod faces;
mod gutter;
pub mod highlight;
pub mod layout;
pub mod marks;
mod offers_row;
mod overview_ruler;
mod pane_head;
pub mod shell_view;
pub mod shown_keys;
pub mod status_line;
mod tab_bar;
pub mod text;

use crate::context::Context;
use crate::palette::Role;
use crate::palette::theme::Ground;
use crate::panels::echo::ghost;
use crate::panels::painter::Painter;
use crate::panels::panel::{Dock, Panel};
use crate::panels::roster;
use crate::tour::{Tour, banner};
use canvas::{Area, fill, put};
use layout::{Frame, Pane};
use marks::TextMarks;
use ratatui::buffer::Buffer as Grid;
use ratatui::layout::Rect;
use ratatui::style::{Modifier, Style};
use snarvel_workspace::view::scrolling::{lines_in_view, rows_in_view};
use std::borrow::Cow;

/// Draws everything into `grid`, which has the size of the screen.
pub fn draw(context: &Context, panel: Option<&dyn Panel>, grid: &mut Grid) {
    let frame = frame_of(context, panel);
    let size = context.look.size;
    fill(grid, Area { x: 0, y: 0, cols: size.cols, rows: size.rows }, context.look.palette.style(Role::Text));
    tab_bar::draw(context, frame.tab_bar, grid);
    rule(context, frame.rule_above, grid);
    for pane in &frame.panes {
        draw_pane(context, (pane, panel), grid);
    }
    for divider in &frame.dividers {
        for y in divider.y..divider.y + divider.rows {
            put(grid, (Area { y, rows: 1, ..*divider }, 0), "│", context.look.palette.style(Role::Edge));
        }
    }
    match panel {
        Some(docked) if docked.dock() == Dock::Right => {
            docked.draw(&Painter { context, area: frame.docked, beside: Area::default() }, grid);
        }
        _ => roster::draw::draw(context, (frame.docked, None), grid),
    }
    match panel.filter(|_| frame.panel.rows > 0) {
        Some(risen) => {
            fill(grid, frame.panel, context.look.palette.style(Role::Raised));
            risen.draw(&Painter { context, area: frame.panel, beside: frame.beside }, grid);
        }
        None => deck::draw(context, frame.deck, grid),
    }
    if let Some(shell) = context.workspace.shell_shown().filter(|_| frame.foot.rows > 0) {
        shell_view::draw(context, shell, (frame.foot, false), grid);
    }
    shown_keys::draw(context, frame.shown_keys, grid);
    rule(context, frame.rule_below, grid);
    let drill = context.drill.as_ref().filter(|_| panel.is_none());
    let drill = drill.map(|drilling| drilling.told(context.learning.par(drilling.drill)));
    if let Some(said) = drill.or_else(|| context.tour.as_ref().map(Tour::told)) {
        let below = if frame.rule_below.rows > 0 { frame.rule_below } else { frame.status_line };
        banner(&context.look.palette, &said, (below, TOUR_ROWS), grid);
    }
    status_line::draw(context, &frame, grid);
}

fn draw_pane(context: &Context, (pane, panel): (&Pane, Option<&dyn Panel>), grid: &mut Grid) {
    let has_keys = pane.view == context.workspace.views.focus();
    let (buffer, view) = context.workspace.shown(pane.view);
    let lines = lines_in_view(view, buffer, usize::from(pane.seen_rows));
    let span = text::span_of(buffer, &lines).unwrap_or_default();
    let panel = panel.filter(|_| has_keys);
    let mut marks = panel.map_or_else(TextMarks::default, |panel| panel.marks(context, span));
    if has_keys && panel.is_none_or(Panel::shows_offers) {
        marks.ghosts = context.workspace.offer_seen(span);
    }
    // What is offered after two alike edits is seen at its next place only: it is not to disturb.
    if has_keys && panel.is_none() && marks.ghosts.is_empty() {
        marks.ghosts = context.workspace.next_echo().map(ghost).into_iter().collect();
    }
    let is_own = context.workspace.overlay(pane.view).is_none();
    if is_own && marks.overlays.is_empty() {
        let differing = context.workspace.differing_parts_in(pane.view, span).into_iter();
        let role = |is_of_line| if is_of_line { Role::Differs } else { Role::Changed };
        marks.overlays = differing.map(|(part, is_of_line)| (part, role(is_of_line))).collect();
    }
    if is_own {
        let faults = context.workspace.faults_within(buffer, span);
        marks.faults = faults.iter().map(|here| (here.span, here.fault.kind)).collect();
        marks.meant = context.workspace.meant_paints(buffer, span);
    }
    marks.is_elsewhere = !has_keys;
    let background = context.look.palette.style(Role::Text);
    text::draw(&context.look.palette, (buffer, view), (pane.seen(), background), (&marks, grid));
    gutter::draw(context, pane, grid);
    dim(context, pane, grid);
    let echoed = || {
        let offer = context.workspace.echo_offered().filter(|_| has_keys);
        offer.map_or_else(Vec::new, |offer| offer.chosen().map(|change| change.span).collect())
    };
    let hits = match panel {
        _ if !is_own => Cow::Borrowed(&[][..]),
        Some(panel) => Cow::Borrowed(panel.ruler()),
        None => Cow::Owned(echoed()),
    };
    overview_ruler::draw(context, (pane, &hits), grid);
    pane_head::draw(context, pane, grid);
}

/// Dims the rows that are outside the block that is lit.
fn dim(context: &Context, pane: &Pane, grid: &mut Grid) {
    let lit = context.look.presenting.lit.filter(|lit| context.look.presenting.is_spotlit && lit.of.0 == pane.view);
    let Some(lit) = lit else { return };
    let (buffer, view) = context.workspace.shown(pane.view);
    let palette = &context.look.palette;
    let quiet = Style { bg: None, ..palette.style(Role::Quiet) };
    // Terminals make faint letters darker: upon a light ground that would bring them out.
    let quiet = match palette.ground() {
        Ground::Light if palette.has_colour() => quiet,
        _ => quiet.add_modifier(Modifier::DIM),
    };
    let rows = rows_in_view(view, buffer, usize::from(pane.seen_rows));
    for (y, row) in rows.iter().enumerate() {
        let is_lit = row.span.start < lit.span.end.max(lit.span.start + 1) && row.span.end >= lit.span.start;
        if !is_lit {
            let y = pane.text.y + y as u16;
            // Signs in the gutter stay as they are, its numbers do not.
            let numbers = Rect::new(pane.gutter.x + 2, y, pane.gutter.cols.saturating_sub(4), 1);
            let text = Rect::new(pane.text.x, y, pane.text.cols, 1);
            [numbers, text].into_iter().for_each(|area| grid.set_style(area.intersection(grid.area), quiet));
        }
    }
}

/// Where everything is, with `panel` open.
#[must_use]
pub fn frame_of(context: &Context, panel: Option<&dyn Panel>) -> Frame {
    let risen = panel.filter(|panel| panel.dock() == Dock::Below);
    let is_docked = panel.is_some_and(|panel| panel.dock() == Dock::Right);
    Frame::of(context, layout::Open { panel: risen, docked_cols: docked_cols(context, is_docked) })
}

/// The rows that a step of the tour takes at most.
const TOUR_ROWS: u16 = 5;

/// From this many columns for a view on the roster appears automatically when there are several cursors or pins.
const COLS_FOR_ROSTER: u16 = 120;

/// How wide the roster is: it comes by itself where there is room and the person has not set otherwise, else while it takes keys.
fn docked_cols(context: &Context, takes_keys: bool) -> u16 {
    let cols = context.look.size.cols;
    let is_convoy = context.workspace.convoy().is_some();
    let (buffer, view) = context.workspace.shown_here();
    let has_several = is_convoy || view.cursors().len() > 1 || !view.pins(buffer).is_empty();
    let for_each = cols / context.workspace.views.split().columns();
    let comes = context.settings.shows_roster && has_several && for_each >= COLS_FOR_ROSTER;
    if takes_keys || comes { (cols / 4).clamp(24, 40) } else { 0 }
}

/// Where the terminal's own cursor is shown: at the primary caret where there are no colours to tell it by.
#[must_use]
pub fn shown_cursor(context: &Context, panel: Option<&dyn Panel>) -> Option<[u16; 2]> {
    let wants = !context.look.palette.has_colour() && panel.is_none();
    let (buffer, view) = context.workspace.shown_here();
    wants.then(|| frame_of(context, panel).focused(context).caret_cell(buffer, view)).flatten()
}

fn rule(context: &Context, area: Area, grid: &mut Grid) {
    if area.rows > 0 {
        fill(grid, area, context.look.palette.style(Role::Text));
        put(grid, (area, 0), &"─".repeat(usize::from(area.cols)), context.look.palette.style(Role::Edge));
    }
}
