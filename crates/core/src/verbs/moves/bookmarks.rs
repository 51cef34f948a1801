//! Setting and clearing bookmarks.

use crate::bookmarks::Bookmarks;
use crate::units::Line;
use crate::verbs::scene::{Outcome, Scene, counted};

/// Marks the touched lines, or takes their marks away where all have one.
pub fn bookmark(scene: &Scene) -> Outcome {
    let heads: Vec<Line> = scene.cursors.iter().map(|each| scene.text.line_of(each.head)).collect();
    let mut lines = heads.clone();
    lines.dedup();
    let marks = scene.bookmarks.turned(scene.text, &lines);
    let said = match marks.len() >= scene.bookmarks.len() && lines.iter().all(|line| marks.holds(scene.text, *line)) {
        true => format!("{} set, {} in this file", counted(lines.len(), "bookmark"), marks.len()),
        false => format!("{} cleared, {} left", counted(lines.len(), "bookmark"), marks.len()),
    };
    Outcome { bookmarks: Some(marks), ..Outcome::already(said) }
}

/// Takes all bookmarks of the file away.
pub fn drop_bookmarks(scene: &Scene) -> Outcome {
    match scene.bookmarks.len() {
        0 => Outcome::nothing("there is no bookmark in this file"),
        count => Outcome {
            bookmarks: Some(Bookmarks::default()),
            ..Outcome::already(format!("{} cleared", counted(count, "bookmark")))
        },
    }
}
