//! `type`: a text as JSON writes it, with groups of a match where it is below one.

use super::lines::SourceLine;
use super::{Groups, Mistake, Typed};
use crate::search::pattern::Pattern;
use crate::search::replacement::{HitShape, Replacement};

/// Reads what follows `type`, which begins at the byte `at` of the line. `pattern` is that of the nearest `each match` above.
pub(super) fn read(line: &SourceLine, at: usize, pattern: Option<&Pattern>) -> Result<(Typed, Groups), Mistake> {
    let given = line.content[at..].trim_end();
    let text = serde_json::from_str::<String>(given).map_err(|error| {
        let place = at + error.column().saturating_sub(1).min(given.len());
        let why = "type takes a text between double quotes, as JSON writes it: type \"tide\\n\"";
        if given.starts_with('"') {
            line.mistake(place, format!("the text is wrong here: {why}"))
        } else {
            line.mistake(at, why)
        }
    })?;
    let Some(pattern) = pattern else { return Ok((Typed::Literal(text), Groups::Unused)) };
    if !text.contains(['$', '\\']) {
        return Ok((Typed::Literal(text), Groups::Unused));
    }
    let replacement = Replacement::new(&text, pattern, HitShape::Ignored).map_err(|why| line.mistake(at, why))?;
    let groups = if replacement.has_groups() { Groups::Typed } else { Groups::Unused };
    Ok((Typed::Groups(replacement), groups))
}
