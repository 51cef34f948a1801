//! Whether everything of a drawing is on its paper.

use crate::drawing::{Align, Drawing, Item, Mm};
use crate::font::width;

/// The first item that is not wholly on the paper, as far as letters are wide; how high they are is not looked at.
#[must_use]
pub fn outside(drawing: &Drawing) -> Option<&Item> {
    let [right, bottom] = drawing.size;
    // A hair's breadth is lost in sums of lengths.
    let is_inside = |[x, y]: &[Mm; 2]| x.0 >= -0.01 && y.0 >= -0.01 && x.0 <= right.0 + 0.01 && y.0 <= bottom.0 + 0.01;
    drawing.items.iter().find(|item| !corners(item).iter().all(is_inside))
}

fn corners(item: &Item) -> Vec<[Mm; 2]> {
    match item {
        Item::Box { at, size, .. } => vec![*at, [at[0] + size[0], at[1] + size[1]]],
        Item::Line { from, to, .. } => vec![*from, *to],
        Item::Shape { corners, .. } => corners.clone(),
        Item::Text { at: [x, y], text, size, face, align, .. } => {
            let wide = width(text, *size, *face);
            let left = if *align == Align::End { *x - wide } else { *x };
            vec![[left, *y], [left + wide, *y]]
        }
    }
}
