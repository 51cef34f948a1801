//! What was done, written as lines of a recipe.

use snarvel_core::changes::Change;
use snarvel_core::cursors::CursorSet;

/// A line of a recipe.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Line {
    /// Text that was put in place of each selection.
    Typed(String),
    /// Anything else, as it is written; over several lines where a recipe was played.
    Step(String),
}

/// The text that `change` put in place of each selection of `before`, where it did that and nothing else. Cost: linear in the cursors.
#[must_use]
pub fn literal_of(before: &CursorSet, change: &Change, after: &CursorSet) -> Option<String> {
    let edits = change.edits();
    if edits.len() != before.len() || after.len() != before.len() {
        return None;
    }
    let text = change.inserted(&edits[0]);
    let mut shift = 0isize;
    for ((edit, was), is) in edits.iter().zip(before.iter()).zip(after.iter()) {
        let end = edit.start().0.saturating_add_signed(shift) + text.len();
        if edit.span() != was.span() || change.inserted(edit) != text || !is.is_caret() || is.head.0 != end {
            return None;
        }
        shift += edit.inserted_len() as isize - edit.removed_len() as isize;
    }
    Some(text.to_owned())
}

/// `lines` as a recipe: texts that were put in one after the other as one.
#[must_use]
pub fn recipe_of<'l>(lines: impl IntoIterator<Item = &'l Line>) -> String {
    let (mut out, mut typed): (String, Option<String>) = (String::new(), None);
    let flush = |out: &mut String, typed: &mut Option<String>| {
        if let Some(text) = typed.take() {
            // A text is always written as JSON.
            let text = serde_json::to_string(&text).unwrap_or_default();
            out.extend(["type ", &text, "\n"]);
        }
    };
    for line in lines {
        match line {
            Line::Typed(text) => typed.get_or_insert_default().push_str(text),
            Line::Step(step) => {
                flush(&mut out, &mut typed);
                out.push_str(step);
                out.push('\n');
            }
        }
    }
    flush(&mut out, &mut typed);
    out
}
