//! What the answers of a server mean in terms of our texts.
//!
//! A piece of an answer that is not what the protocol says is left out, so that the rest is of use.

pub mod known;
mod offers;
mod places;
mod symbols;

use crate::ask::Ask;
use crate::edits;
use crate::news::{Access, Answer, Fix, Signature};
use known::{Known, list, markup};
pub use places::faults;
use serde_json::Value;
use std::path::Path;

/// The answer to `ask` that `result` is.
#[must_use]
pub fn read(ask: &Ask, result: &Value, known: Known) -> Answer {
    let text = ask.path().and_then(|path| known.documents.get(path)).map(|document| &document.text);
    match ask {
        Ask::Find(..) => Answer::Places(places::places(result, known)),
        Ask::Describe(_) => Answer::Text(markup(&result["contents"])),
        Ask::Offers(..) => match text {
            Some(text) => offers::list(result, (text, known.encoding)),
            None => Answer::Stale,
        },
        Ask::Offer(..) => match text.and_then(|text| offers::item(result, (text, known.encoding), &Value::Null)) {
            Some(offer) => Answer::Offer(Box::new(offer)),
            None => Answer::Stale,
        },
        Ask::Signature(_) => Answer::Signature(signature(result)),
        Ask::Renamable(_) => {
            let range = if result["range"].is_null() { result } else { &result["range"] };
            Answer::Renamable(text.and_then(|text| edits::span_of(range, text, known.encoding)))
        }
        Ask::Rename(..) => edited(edits::of_workspace(result, known.documents, known.encoding)),
        Ask::Format(path, ..) => edited(edits::of_text(result, path, known.documents, known.encoding)),
        Ask::Fixes(..) | Ask::Imports(_) => Answer::Fixes(fixes(result, known)),
        Ask::Fix(_) => match fix(result, known) {
            Ok(fix) => Answer::Fix(Box::new(fix)),
            Err(why) => Answer::Refused(why),
        },
        // What is wrong is told like what comes by itself.
        Ask::Run(_) | Ask::Faults(_) => Answer::Done,
        Ask::Symbols(path) => Answer::Symbols(symbols::of_text(result, path, known)),
        Ask::Names(_) => Answer::Symbols(symbols::of_project(result, known)),
        Ask::Highlights(_) => Answer::Highlights(text.map_or_else(Vec::new, |text| {
            let one = |each: &Value| {
                let access = match each["kind"].as_u64() {
                    Some(2) => Access::Read,
                    Some(3) => Access::Write,
                    _ => Access::Unknown,
                };
                Some((edits::span_of(&each["range"], text, known.encoding)?, access))
            };
            list(result).iter().filter_map(one).collect()
        })),
        Ask::Callable(_) | Ask::Calls(..) => Answer::Calls(symbols::calls(result, known)),
        Ask::Tokens(path) => Answer::Tokens(tokens(result, path, known)),
    }
}

fn edited(edits: Result<crate::news::Edits, String>) -> Answer {
    match edits {
        Ok(edits) => Answer::Edits(edits),
        Err(why) => Answer::Refused(why),
    }
}

fn signature(result: &Value) -> Option<Signature> {
    let all = list(&result["signatures"]);
    let chosen = (result["activeSignature"].as_u64().unwrap_or(0) as usize).min(all.len().checked_sub(1)?);
    let one = &all[chosen];
    let label = one["label"].as_str()?.to_owned();
    let active = one["activeParameter"].as_u64().or_else(|| result["activeParameter"].as_u64()).unwrap_or(0);
    let here = match list(&one["parameters"]).get(active as usize).map(|parameter| &parameter["label"]) {
        Some(Value::String(text)) => label.find(text.as_str()).map(|start| start..start + text.len()),
        Some(Value::Array(ends)) => {
            // Places in a label are counted in units of 16 bits.
            let byte = |index: usize| {
                let wanted = ends.get(index)?.as_u64()? as usize;
                let mut units = 0;
                let at = label.char_indices().find(|(_, c)| {
                    let is_there = units >= wanted;
                    units += c.len_utf16();
                    is_there
                });
                Some(at.map_or(label.len(), |(at, _)| at))
            };
            byte(0).zip(byte(1)).filter(|(start, end)| start <= end).map(|(start, end)| start..end)
        }
        _ => None,
    };
    Some(Signature { label, here: here.unwrap_or(0..0), of: (chosen, all.len()) })
}

fn fixes(result: &Value, known: Known) -> Vec<Fix> {
    let mut found: Vec<(bool, Fix)> = Vec::new();
    for each in list(result) {
        let is_disabled = !each["disabled"].is_null();
        if let Some(fix) = fix(each, known).ok().filter(|_| !is_disabled) {
            found.push((each["isPreferred"].as_bool() == Some(true), fix));
        }
    }
    // What the server prefers comes first.
    found.sort_by_key(|(is_preferred, _)| !is_preferred);
    found.into_iter().map(|(_, fix)| fix).collect()
}

/// A code action, or a command by itself.
fn fix(value: &Value, known: Known) -> Result<Fix, String> {
    let title = value["title"].as_str().unwrap_or_default().to_owned();
    let command = match &value["command"] {
        Value::String(_) => Some(value.clone()),
        Value::Object(_) => Some(value["command"].clone()),
        _ => None,
    };
    let edits = match &value["edit"] {
        Value::Null => None,
        edit => Some(edits::of_workspace(edit, known.documents, known.encoding)?),
    };
    let ticket = (edits.is_none() && value["command"].as_str().is_none()).then(|| value.clone());
    Ok(Fix { title, kind: value["kind"].as_str().unwrap_or_default().to_owned(), edits, command, ticket })
}

/// The most words whose kinds are taken in.
const MOST_TOKENS: usize = 200_000;

fn tokens(result: &Value, path: &Path, known: Known) -> Vec<(snarvel_core::units::Span, String)> {
    let Some(document) = known.documents.get(path) else { return Vec::new() };
    let positions = document.positions(known.encoding);
    let numbers: Vec<u32> = list(&result["data"]).iter().map(|each| each.as_u64().unwrap_or(0) as u32).collect();
    let (mut line, mut column) = (0u32, 0u32);
    let mut found = Vec::new();
    for token in numbers.chunks_exact(5).take(MOST_TOKENS) {
        if token[0] > 0 {
            (line, column) = (line.saturating_add(token[0]), 0);
        }
        column = column.saturating_add(token[1]);
        let place = |column: u32| lsp_types::Position::new(line, column);
        let span = positions.span(lsp_types::Range::new(place(column), place(column.saturating_add(token[2]))));
        if let Some(kind) = known.token_kinds.get(token[3] as usize).filter(|_| !span.is_empty()) {
            found.push((span, kind.clone()));
        }
    }
    found
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    #[test]
    fn text_of_any_form_is_read() {
        for (value, expected) in [
            (json!("the ebb"), "the ebb"),
            (json!({"kind": "markdown", "value": "**ebb** "}), "**ebb**"),
            (json!({"language": "c", "value": "int ebb"}), "```c\nint ebb\n```"),
            (json!([{"language": "c", "value": "int ebb"}, "", "falls"]), "```c\nint ebb\n```\n\nfalls"),
            (json!(null), ""),
            (json!({"language": "c"}), ""),
        ] {
            assert_eq!(markup(&value), expected);
        }
    }

    #[test]
    fn the_argument_at_the_caret_is_found_in_the_label() {
        let of = |parameters: Value, active: Value| {
            let value = json!({
                "signatures": [{"label": "sound(🌊 tide, level)", "parameters": parameters}], "activeParameter": active,
            });
            signature(&value).map(|found| found.label[found.here].to_owned())
        };
        assert_eq!(of(json!([{"label": "🌊 tide"}, {"label": "level"}]), json!(1)).as_deref(), Some("level"));
        assert_eq!(of(json!([{"label": [6, 13]}]), json!(0)).as_deref(), Some("🌊 tide"));
        assert_eq!(of(json!([]), json!(3)).as_deref(), Some(""));
        assert_eq!(of(json!([{"label": [9, 2]}]), json!(0)).as_deref(), Some(""));
        assert_eq!(signature(&json!(null)), None);
        assert_eq!(signature(&json!({"signatures": []})), None);
    }
}
