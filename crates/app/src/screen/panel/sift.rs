//! Sift: what is looked for, what comes in its place, switches that show how they stand, and the project's hits.

use super::{Painter, wrapped};
use crate::palette::Role;
use crate::panels::Line as InputLine;
use crate::panels::sift::{Focus, Row, Scope, SiftPanel};
use crate::screen::layout::Area;
use crate::screen::{fill, put, width};
use ratatui::buffer::Buffer;
use ratatui::style::Style;
use snarvel_core::languages::scanner::Kind;
use snarvel_core::search::pattern::{Case, Edges, Form};
use snarvel_core::verbs::scene::counted;

/// Where the two lines begin.
const LINE_X: u16 = 11;

impl Painter<'_> {
    pub(super) fn sift(&self, sift: &SiftPanel, buffer: &mut Buffer) {
        let count = self.found(sift, buffer);
        let room = self.area.cols.saturating_sub(count + 2);
        self.sift_line(0, ("find", &sift.find, sift.focus == Focus::Find), room, buffer);
        self.sift_line(1, ("put", &sift.put, sift.focus == Focus::Put), self.area.cols, buffer);
        if !sift.is_replacing && sift.put.text.is_empty() {
            put(buffer, self.row(1), LINE_X, "Tab: what comes in its place", self.style(Role::RaisedQuiet));
        }
        self.switches(sift, buffer);
        if sift.project.is_some() {
            self.project_rows(sift, buffer);
        }
        self.sift_keys(sift, buffer);
    }

    fn sift_line(&self, row: u16, (label, line, has_focus): (&str, &InputLine, bool), room: u16, buffer: &mut Buffer) {
        let area = Area { cols: room, ..self.row(row) };
        let role = if has_focus { Role::KeyCap } else { Role::RaisedQuiet };
        let sign = if has_focus { "▸" } else { " " };
        put(buffer, area, 1, sign, self.style(Role::PrimarySign));
        put(buffer, area, 3, label, self.style(role));
        match has_focus {
            true => self.typed(area, LINE_X, line, buffer),
            false => drop(put(buffer, area, LINE_X, &line.text, self.style(Role::Raised))),
        }
    }

    /// How much was found, at the right of the first row; gives its width.
    fn found(&self, sift: &SiftPanel, buffer: &mut Buffer) -> u16 {
        let [code, strings, comments] = sift.by_kind();
        let total = code + strings + comments;
        let at = match (&sift.project, sift.hits().len()) {
            (None, 0) => "no hits".to_owned(),
            (None, all) => format!("{} of {all}", sift.chosen + 1),
            (Some(_), _) if self.app.writes_files() => "files are being written".to_owned(),
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
        let more = match (sift.is_looking(), sift.finding.as_ref().is_some_and(|finding| finding.is_cut)) {
            (true, _) => " …",
            (false, true) => " and more",
            (false, false) => "",
        };
        let is_empty = sift.find.text.is_empty();
        let full = if is_empty { String::new() } else { format!("{at}{more}{kinds}") };
        let short = if is_empty { String::new() } else { format!("{at}{more}") };
        let said = match &sift.problem {
            Some(problem) => problem.clone(),
            None if width(&full) + 40 <= self.area.cols => full,
            None => short,
        };
        let role = if sift.problem.is_some() { Role::Removed } else { Role::RaisedQuiet };
        let x = self.area.cols.saturating_sub(width(&said) + 1);
        put(buffer, self.row(0), x, &said, self.style(role));
        width(&said)
    }

    /// The switches: the key, the name, and how it stands, by a sign as well as by colour. Where there is little room the
    /// names are short.
    fn switches(&self, sift: &SiftPanel, buffer: &mut Buffer) {
        let [long, short] = [false, true].map(|is_short| switches_of(sift, is_short));
        let cols =
            |switches: &[(&str, String)]| switches.iter().map(|(key, state)| width(key) + width(state) + 3).sum();
        let switches = if cols(&long) <= self.area.cols { long } else { short };
        let gap = (self.area.cols.saturating_sub(cols(&switches)) / switches.len() as u16).min(1) + 1;
        let mut x = 1;
        for (key, state) in switches {
            let style = self.style(if state.starts_with('●') { Role::Raised } else { Role::RaisedQuiet });
            x = put(buffer, self.row(2), x, key, self.style(Role::KeyCap)) + 1;
            x = put(buffer, self.row(2), x, &state, style) + gap;
        }
    }

    fn project_rows(&self, sift: &SiftPanel, buffer: &mut Buffer) {
        let Some(project) = &sift.project else { return };
        let rows = usize::from(self.area.rows.saturating_sub(4));
        let last_first = project.rows.len().saturating_sub(rows);
        let first = sift.chosen.saturating_sub(rows / 2).min(last_first);
        for (index, row) in project.rows.iter().enumerate().skip(first).take(rows) {
            let area = self.row(3 + (index - first) as u16);
            let is_chosen = index == sift.chosen;
            let style = self.style(if is_chosen { Role::Selection } else { Role::Raised });
            if is_chosen {
                fill(buffer, area, style);
                put(buffer, area, 1, "▸", self.over(style, Role::PrimarySign));
            }
            self.project_row(sift, *row, (area, style), buffer);
        }
        if project.rows.is_empty() && !sift.is_looking() && !sift.find.text.is_empty() {
            let hint = match project.files.is_empty() {
                true if self.app.writes_files() => "keys go on meanwhile; Esc leaves the panel, not the work",
                true => "no file of the project holds that",
                false => "all hits are of kinds that are left out: Alt+1 to Alt+3",
            };
            put(buffer, self.row(3), 3, hint, self.style(Role::RaisedQuiet));
        }
    }

    fn project_row(&self, sift: &SiftPanel, row: Row, (area, style): (Area, Style), buffer: &mut Buffer) {
        let Some(project) = &sift.project else { return };
        let file = &project.files[row.file];
        let quiet = self.over(style, Role::RaisedQuiet);
        let Some(hit) = row.hit.map(|hit| &file.hits[hit]) else {
            let x = put(buffer, area, 3, &file.path.to_string_lossy(), self.over(style, Role::Function));
            let hits = file.hits.iter().filter(|hit| sift.counts(hit.kind)).count();
            put(buffer, area, x + 2, &counted(hits, "hit"), quiet);
            return;
        };
        let x = put(buffer, area, 3, &format!("{:>6}  ", hit.line + 1), quiet);
        let (before, rest) = hit.excerpt.split_at(hit.within.start);
        let (found, behind) = rest.split_at(hit.within.len());
        let x = put(buffer, area, x, before, style);
        let role = if sift.is_replacing { Role::Gone } else { Role::Hit };
        let x = put(buffer, area, x, found, style.patch(self.app.palette.style(role)));
        let x = match sift.comes_for(hit) {
            Some(with) => put(buffer, area, x, &with, style.patch(self.app.palette.style(Role::Come))),
            None => x,
        };
        put(buffer, area, x, behind, style);
    }

    /// What was replaced: beside what comes in its place, or over the last rows of the list where there is no room for that.
    fn report(&self, sift: &SiftPanel, report: &str, buffer: &mut Buffer) {
        let style = self.style(Role::Changed);
        let x = self.area.cols.saturating_sub(width(report) + 1);
        if x > LINE_X + width(&sift.put.text) + 1 || sift.project.is_none() {
            put(buffer, self.row(1), x, report, style);
            return;
        }
        let lines = wrapped(report, self.area.cols.saturating_sub(4));
        let first = self.area.rows.saturating_sub(1 + lines.len() as u16).max(3);
        for (row, line) in (first..self.area.rows.saturating_sub(1)).zip(&lines) {
            fill(buffer, self.row(row), self.style(Role::Raised));
            put(buffer, self.row(row), 3, line, style);
        }
    }

    fn sift_keys(&self, sift: &SiftPanel, buffer: &mut Buffer) {
        if let Some(report) = &sift.report {
            self.report(sift, report, buffer);
        }
        let mut keys = vec![("↑ ↓", "hits")];
        match (sift.focus, sift.is_replacing) {
            (Focus::Put, _) if sift.project.is_some() => keys.push(("Alt+Enter", "replace in all files")),
            (Focus::Put, _) => keys.extend([("Enter", "replace, go on"), ("Alt+Enter", "replace all")]),
            (Focus::Find, true) => keys.extend([("Enter", "go there"), ("Alt+Enter", "replace all")]),
            (Focus::Find, false) => keys.push(("Enter", "go there")),
        }
        if sift.project.is_none() {
            keys.extend([("Alt+B", "cursors on all"), ("Alt+P", "pins")]);
        }
        keys.extend([("Tab", "other line"), ("Alt+↑ ↓", "older patterns"), ("Ctrl+Z", "take back"), ("Esc", "leave")]);
        self.keys(&keys, buffer);
    }
}

/// Each switch with its key.
fn switches_of(sift: &SiftPanel, is_short: bool) -> Vec<(&'static str, String)> {
    let said = |is_on: bool, long: &str, short: &str| {
        let sign = if is_on { "●" } else { "○" };
        if is_short { format!("{sign}{short}") } else { format!("{sign} {long}") }
    };
    let case = match sift.case {
        Case::Smart => said(false, "smart case", "smart"),
        Case::Exact => said(true, "exact case", "exact"),
        Case::Either => said(true, "either case", "either"),
    };
    let scope = match sift.scope {
        Scope::File => said(false, "file", "file"),
        Scope::Selections => said(true, &counted(sift.selections.len(), "selection"), "sel."),
        Scope::Project => said(true, "project", "proj."),
    };
    let is_expression = sift.form == Form::Expression;
    let form = said(is_expression, if is_expression { "expression" } else { "as typed" }, "expr");
    let is_words = sift.edges == Edges::WholeWords;
    let edges = said(is_words, if is_words { "whole words" } else { "anywhere" }, "word");
    let kind = |kind: Kind, long: &str, short: &str| said(sift.counts(kind), long, short);
    vec![
        ("Alt+E", form),
        ("Alt+C", case),
        ("Alt+W", edges),
        ("Alt+1", kind(Kind::Code, "code", "code")),
        ("2", kind(Kind::String, "strings", "str")),
        ("3", kind(Kind::Comment, "comments", "com")),
        ("Ctrl+F", scope),
    ]
}
