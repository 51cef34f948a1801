//! Sift on the screen: what is looked for, what comes in its place, switches that show how they are, and the project's hits.

use super::SiftPanel;
use super::found::{Found, HitRow, InProject};
use super::query::{Focus, Scope};
use crate::palette::Role;
use crate::panels::line::InputLine;
use crate::panels::painter::Painter;
use crate::screen::canvas::{Area, fill, put, width, wrapped};
use ratatui::buffer::Buffer as Grid;
use ratatui::style::Style;
use snarvel_core::languages::scanner::Kind;
use snarvel_core::search::pattern::{Case, Edges, Form};
use snarvel_core::search::replacement::{HitShape, Replacement};
use snarvel_core::text::{LineEnd, Text};
use snarvel_core::units::{Byte, Span};
use snarvel_core::verbs::scene::counted;
use snarvel_files::search::FileHit;

/// Where the two lines begin.
const LINE_X: u16 = 11;

impl SiftPanel {
    pub(super) fn draw_all(&self, painter: &Painter, grid: &mut Grid) {
        let count = self.draw_found(painter, grid);
        let room = painter.area.cols.saturating_sub(count + 2);
        self.line(painter, (0, room), ("find", &self.lines.find, Focus::Find), grid);
        self.line(painter, (1, painter.area.cols), ("put", &self.lines.put, Focus::Put), grid);
        if !self.lines.is_replacing && self.lines.put.text.is_empty() {
            put(grid, (painter.row(1), LINE_X), "Tab: what comes in its place", painter.style(Role::RaisedQuiet));
        }
        self.draw_switches(painter, grid);
        if let Some(project) = self.found.project() {
            self.project_rows(painter, project, grid);
        }
        self.draw_keys(painter, grid);
    }

    /// Whether there are more hits than are kept.
    fn is_cut(&self) -> bool {
        matches!(&self.found, Found::InFile(file) if file.hits.is_cut)
    }

    /// What would come in the place of a hit in the project.
    fn comes_for(&self, hit: &FileHit) -> Option<String> {
        let pattern = self.pattern.as_ref().filter(|_| self.lines.is_replacing)?;
        let replacement = Replacement::new(&self.lines.put.text, pattern, self.switches.shape).ok()?;
        let text = Text::from(hit.excerpt.as_str());
        let span = Span::new(Byte(hit.within.start), Byte(hit.within.end));
        let change = replacement.change(&text, pattern, &[span], LineEnd::Lf);
        change.edits().first().map(|edit| change.inserted(edit).to_owned())
    }

    fn line(
        &self,
        painter: &Painter,
        (row, room): (u16, u16),
        (label, line, focus): (&str, &InputLine, Focus),
        grid: &mut Grid,
    ) {
        let has_focus = self.lines.focus == focus;
        let area = Area { cols: room, ..painter.row(row) };
        let role = if has_focus { Role::KeyCap } else { Role::RaisedQuiet };
        let sign = if has_focus { "▸" } else { " " };
        put(grid, (area, 1), sign, painter.style(Role::PrimarySign));
        put(grid, (area, 3), label, painter.style(role));
        match has_focus {
            true => painter.typed((area, LINE_X), line, grid),
            false => drop(put(grid, (area, LINE_X), &line.text, painter.style(Role::Raised))),
        }
    }

    /// How much was found, at the right of the first row; gives its width.
    fn draw_found(&self, painter: &Painter, grid: &mut Grid) -> u16 {
        let [code, strings, comments] = self.found.by_kind();
        let total = code + strings + comments;
        let at = match (self.found.project(), self.found.hits().len()) {
            (None, 0) => "no hits".to_owned(),
            (None, all) => format!("{} of {all}", self.choice.index + 1),
            (Some(_), _) if painter.context.workspace.replacing().is_some() => "files are being written".to_owned(),
            (Some(project), _) => {
                let hits = counted(project.rows.len() - project.listed, "hit");
                format!("{hits} in {} · {} searched", counted(project.listed, "file"), project.searched)
            }
        };
        let kinds = if total > 0 {
            format!("   code {code} · strings {strings} · comments {comments}")
        } else {
            String::new()
        };
        let more = match (self.found.search().is_some(), self.is_cut()) {
            (true, _) => " …",
            (false, true) => " and more",
            (false, false) => "",
        };
        let is_empty = self.lines.find.text.is_empty();
        let full = if is_empty { String::new() } else { format!("{at}{more}{kinds}") };
        let short = if is_empty { String::new() } else { format!("{at}{more}") };
        let said = match &self.said.problem {
            Some(problem) => problem.clone(),
            None if width(&full) + 40 <= painter.area.cols => full,
            None => short,
        };
        let role = if self.said.problem.is_some() { Role::Removed } else { Role::RaisedQuiet };
        let x = painter.area.cols.saturating_sub(width(&said) + 1);
        put(grid, (painter.row(0), x), &said, painter.style(role));
        width(&said)
    }

    /// The switches: the key, the name, and how it is, by a sign as well as by colour. Where there is little room the
    /// names are short.
    fn draw_switches(&self, painter: &Painter, grid: &mut Grid) {
        let [long, short] = [false, true].map(|is_short| self.switches_told(is_short));
        let cols =
            |switches: &[(&str, String)]| switches.iter().map(|(key, state)| width(key) + width(state) + 3).sum();
        let switches = if cols(&long) <= painter.area.cols { long } else { short };
        let gap = (painter.area.cols.saturating_sub(cols(&switches)) / switches.len() as u16).min(1) + 1;
        let mut x = 1;
        for (key, state) in switches {
            // One that does not fit whole says nothing.
            if x + width(key) + width(&state) + 2 > painter.area.cols {
                break;
            }
            let style = painter.style(if state.starts_with('●') { Role::Raised } else { Role::RaisedQuiet });
            x = put(grid, (painter.row(2), x), key, painter.style(Role::KeyCap)) + 1;
            x = put(grid, (painter.row(2), x), &state, style) + gap;
        }
    }

    fn project_rows(&self, painter: &Painter, project: &InProject, grid: &mut Grid) {
        let rows = usize::from(painter.area.rows.saturating_sub(4));
        let last_first = project.rows.len().saturating_sub(rows);
        let first = self.choice.index.saturating_sub(rows / 2).min(last_first);
        for (index, row) in project.rows.iter().enumerate().skip(first).take(rows) {
            let area = painter.row(3 + (index - first) as u16);
            let is_chosen = index == self.choice.index;
            let style = painter.style(if is_chosen { Role::Selection } else { Role::Raised });
            if is_chosen {
                fill(grid, area, style);
                put(grid, (area, 1), "▸", painter.over(style, Role::PrimarySign));
            }
            self.project_row(painter, (project, *row), (area, style), grid);
        }
        if project.rows.is_empty() && self.found.search().is_none() && !self.lines.find.text.is_empty() {
            let hint = match project.files.is_empty() {
                true if painter.context.workspace.replacing().is_some() => {
                    "keys go on meanwhile; Esc leaves the panel, not the work"
                }
                true => "no file of the project holds that",
                false => "all hits are of kinds that are left out: Alt+1 to Alt+3",
            };
            put(grid, (painter.row(3), 3), hint, painter.style(Role::RaisedQuiet));
        }
    }

    fn project_row(
        &self,
        painter: &Painter,
        (project, row): (&InProject, HitRow),
        (area, style): (Area, Style),
        grid: &mut Grid,
    ) {
        let file = &project.files[row.file];
        let quiet = painter.over(style, Role::RaisedQuiet);
        let Some(hit) = row.hit.map(|hit| &file.hits[hit]) else {
            let x = put(grid, (area, 3), &file.path.to_string_lossy(), painter.over(style, Role::Function));
            let hits = file.hits.iter().filter(|hit| self.switches.counts(hit.kind)).count();
            put(grid, (area, x + 2), &counted(hits, "hit"), quiet);
            return;
        };
        let x = put(grid, (area, 3), &format!("{:>6}  ", hit.line + 1), quiet);
        let (before, rest) = hit.excerpt.split_at(hit.within.start);
        let (found, behind) = rest.split_at(hit.within.len());
        let x = put(grid, (area, x), before, style);
        let role = if self.lines.is_replacing { Role::Gone } else { Role::Hit };
        let x = put(grid, (area, x), found, style.patch(painter.context.look.palette.style(role)));
        let x = match self.comes_for(hit) {
            Some(with) => put(grid, (area, x), &with, style.patch(painter.context.look.palette.style(Role::Come))),
            None => x,
        };
        put(grid, (area, x), behind, style);
    }

    /// What was replaced: beside what comes in its place, or over the last rows of the list where there is no room for that.
    fn draw_report(&self, painter: &Painter, report: &str, grid: &mut Grid) {
        let style = painter.style(Role::Changed);
        let x = painter.area.cols.saturating_sub(width(report) + 1);
        if x > LINE_X + width(&self.lines.put.text) + 1 || self.found.project().is_none() {
            put(grid, (painter.row(1), x), report, style);
            return;
        }
        let lines = wrapped(report, painter.area.cols.saturating_sub(4));
        let first = painter.area.rows.saturating_sub(1 + lines.len() as u16).max(3);
        for (row, line) in (first..painter.area.rows.saturating_sub(1)).zip(&lines) {
            fill(grid, painter.row(row), painter.style(Role::Raised));
            put(grid, (painter.row(row), 3), line, style);
        }
    }

    fn draw_keys(&self, painter: &Painter, grid: &mut Grid) {
        if let Some(report) = &self.said.report {
            self.draw_report(painter, report, grid);
        }
        let mut keys = vec![("↑ ↓", "hits")];
        match (self.lines.focus, self.lines.is_replacing) {
            (Focus::Put, _) if self.found.project().is_some() => keys.push(("Alt+Enter", "replace in all files")),
            (Focus::Put, _) => keys.extend([("Enter", "replace, go on"), ("Alt+Enter", "replace all")]),
            (Focus::Find, true) => keys.extend([("Enter", "go there"), ("Alt+Enter", "replace all")]),
            (Focus::Find, false) => keys.push(("Enter", "go there")),
        }
        if self.lines.is_replacing {
            keys.push(("Alt+X", "leave it out"));
        }
        keys.extend([("Tab", "other line"), ("Ctrl+U", "empty"), ("Alt+B", "cursors on all")]);
        if self.found.project().is_none() {
            keys.push(("Alt+P", "pins"));
        }
        keys.extend([("Alt+↑ ↓", "older patterns"), ("Ctrl+Z", "take back"), ("Esc", "leave")]);
        painter.keys(&keys, grid);
    }

    /// Each switch with its key.
    fn switches_told(&self, is_short: bool) -> Vec<(&'static str, String)> {
        let said = |is_on: bool, long: &str, short: &str| {
            let sign = if is_on { "●" } else { "○" };
            if is_short { format!("{sign}{short}") } else { format!("{sign} {long}") }
        };
        let case = match self.switches.case {
            Case::Smart => said(false, "smart case", "smart"),
            Case::Exact => said(true, "exact case", "exact"),
            Case::Either => said(true, "either case", "either"),
        };
        let scope = match self.switches.scope {
            Scope::File => said(false, "file", "file"),
            Scope::Selections => said(true, &counted(self.selections.len(), "selection"), "sel."),
            Scope::Project => said(true, "project", "proj."),
        };
        let is_expression = self.switches.form == Form::Expression;
        let form = said(is_expression, if is_expression { "expression" } else { "as typed" }, "expr");
        let is_words = self.switches.edges == Edges::WholeWords;
        let edges = said(is_words, if is_words { "whole words" } else { "anywhere" }, "word");
        let kind = |kind: Kind, long: &str, short: &str| said(self.switches.counts(kind), long, short);
        let mut switches = vec![
            ("Ctrl+F", scope),
            ("Alt+E", form),
            ("Alt+C", case),
            ("Alt+W", edges),
            ("Alt+1", kind(Kind::Code, "code", "code")),
            ("2", kind(Kind::String, "strings", "str")),
            ("3", kind(Kind::Comment, "comments", "com")),
        ];
        if self.lines.is_replacing && self.switches.case == Case::Smart {
            let shape = said(self.switches.shape == HitShape::Given, "case of the hit", "case");
            switches.insert(3, ("Alt+S", shape));
        }
        switches
    }
}
