//! A tour: steps that are told one at a time, each with one new idea, and noticed when they are done.

use crate::palette::{Palette, Role};
use crate::screen::canvas::{Area, fill, put, wrapped};
use ratatui::buffer::Buffer as Grid;
use snarvel_workspace::workspace::Workspace;

/// A step of the tour.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct TourStep {
    /// What is to be done, and by which keys.
    pub said: String,
    /// Lines that follow each other in the file once it is done.
    pub lines: Vec<String>,
}

/// A tour through a file.
#[derive(Clone, Debug)]
pub struct Tour {
    steps: Vec<TourStep>,
    /// What is said after the last step.
    after: String,
    at: usize,
    /// Whether a step has just been done.
    is_praising: bool,
    /// The revision of the text that was looked at last.
    seen: Option<u64>,
    /// The name of the file that it goes through.
    file: &'static str,
}

impl Tour {
    /// Through `file`, from the step `at` on; `after` is said at its end.
    #[must_use]
    pub fn new(file: &'static str, steps: Vec<TourStep>, after: String, at: usize) -> Tour {
        Tour { at: at.min(steps.len()), steps, after, is_praising: false, seen: None, file }
    }

    /// Which step it is at, from 0; as many as there are once it is over.
    #[must_use]
    pub fn at(&self) -> usize {
        self.at
    }

    /// At which step it goes on another time: a tour that is over begins again.
    #[must_use]
    pub fn next_start(&self) -> usize {
        if self.at < self.steps.len() { self.at } else { 0 }
    }

    /// Looks whether the step is done by now. Cost: the text, where it has changed since.
    pub fn follow(&mut self, workspace: &Workspace) {
        let Some(step) = self.steps.get(self.at) else { return };
        let Some(buffer) = workspace.buffers().iter().find(|buffer| buffer.name() == self.file) else { return };
        if self.seen.replace(buffer.revision()) == Some(buffer.revision()) {
            return;
        }
        let text = buffer.text().to_string();
        let lines: Vec<&str> = text.lines().collect();
        if lines.windows(step.lines.len()).any(|part| part == step.lines) {
            self.at += 1;
            self.is_praising = true;
        }
    }

    /// What is said now.
    #[must_use]
    pub fn told(&self) -> String {
        let done = if self.is_praising { "Done. " } else { "" };
        match self.steps.get(self.at) {
            Some(step) => format!("{done}Tour {} of {}: {}", self.at + 1, self.steps.len(), step.said),
            None => format!("{done}{}", self.after),
        }
    }
}

/// Draws what a tour or a drill says over the rows that end with `below`; `most` are those that it may take.
pub fn banner(palette: &Palette, said: &str, (below, most): (Area, u16), grid: &mut Grid) {
    let lines = wrapped(said, below.cols.saturating_sub(4));
    let count = (lines.len() as u16).min(most).min(below.y + 1);
    let style = palette.style(Role::Raised).patch(palette.style(Role::Selection));
    for (y, line) in lines.iter().take(usize::from(count)).enumerate() {
        let row = Area { y: below.y + 1 - count + y as u16, rows: 1, ..below };
        fill(grid, row, style);
        put(grid, (row, 1), if y == 0 { "▸" } else { " " }, style);
        put(grid, (row, 3), line, style);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use snarvel_workspace::project::Project;
    use std::path::Path;

    #[test]
    fn a_tour_goes_on_when_a_step_is_done_and_ends_with_what_comes_next() {
        let mut workspace = Workspace::new(Project::in_folder(Path::new("/skerry")));
        let step = |said: &str, line: &str| TourStep { said: said.to_owned(), lines: vec![line.to_owned()] };
        let steps = vec![step("type ebb", "ebb"), step("type flow", "flow")];
        let mut tour = Tour::new("[no name]", steps, "What next: Ctrl+L.".to_owned(), 0);
        assert_eq!(tour.told(), "Tour 1 of 2: type ebb");
        let name = workspace.active().name();
        tour.file = Box::leak(name.into_boxed_str());
        tour.follow(&workspace);
        assert_eq!(tour.at(), 0);
        workspace.paste_text("ebb\n");
        tour.follow(&workspace);
        assert_eq!(tour.told(), "Done. Tour 2 of 2: type flow");
        workspace.paste_text("flow\n");
        tour.follow(&workspace);
        assert_eq!((tour.at(), tour.told().as_str()), (2, "Done. What next: Ctrl+L."));
    }
}
