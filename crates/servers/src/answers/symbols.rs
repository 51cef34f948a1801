//! What has a name: in a text, in the project, and what calls what.

use super::known::{Known, list};
use super::places;
use crate::news::{Call, Symbol};
use crate::uri;
use lsp_types::Range;
use serde_json::Value;
use snarvel_files::search::FileHits;
use std::path::Path;

/// What a number means in the protocol (`SymbolKind`).
const KINDS: [&str; 26] = [
    "file",
    "module",
    "namespace",
    "package",
    "class",
    "method",
    "property",
    "field",
    "constructor",
    "enum",
    "interface",
    "function",
    "variable",
    "constant",
    "string",
    "number",
    "boolean",
    "array",
    "object",
    "key",
    "null",
    "variant",
    "struct",
    "event",
    "operator",
    "type parameter",
];

fn kind(value: &Value) -> &'static str {
    let number = value.as_u64().unwrap_or(0) as usize;
    number.checked_sub(1).and_then(|index| KINDS.get(index)).copied().unwrap_or("name")
}

/// The most names that are taken in.
const MOST: usize = 20_000;

/// What is nested deeper than this is left out.
const DEEPEST: usize = 32;

pub(super) fn of_text(result: &Value, path: &Path, known: Known) -> Vec<Symbol> {
    let mut found: Vec<(Range, Symbol)> = Vec::new();
    add(list(result), (0, ""), &mut found);
    let ranges: Vec<Range> = found.iter().map(|(range, _)| *range).collect();
    placed(found, path, &ranges, known)
}

fn add(nodes: &[Value], (depth, container): (usize, &str), found: &mut Vec<(Range, Symbol)>) {
    for node in nodes {
        let range = if node["selectionRange"].is_null() { &node["location"]["range"] } else { &node["selectionRange"] };
        let Ok(range) = serde_json::from_value(range.clone()) else { continue };
        if found.len() >= MOST || depth > DEEPEST {
            return;
        }
        let name = node["name"].as_str().unwrap_or_default().to_owned();
        let container = node["containerName"].as_str().unwrap_or(container);
        let place = FileHits { path: std::path::PathBuf::new(), hits: Vec::new() };
        let symbol =
            Symbol { name: name.clone(), kind: kind(&node["kind"]), container: container.to_owned(), place, depth };
        found.push((range, symbol));
        add(list(&node["children"]), (depth + 1, &name), found);
    }
}

/// The symbols with their places; the text is read once for all of them.
fn placed(found: Vec<(Range, Symbol)>, path: &Path, ranges: &[Range], known: Known) -> Vec<Symbol> {
    let mut sorted = ranges.to_vec();
    sorted.sort_by_key(|range| (range.start, range.end));
    sorted.dedup();
    let Some(all) = places::hits(path, &sorted, known) else { return Vec::new() };
    let one = |(range, symbol): (Range, Symbol)| {
        let index = sorted.iter().position(|each| *each == range)?;
        // Ranges that come to the same place are one hit.
        let hit = all.hits.get(index.min(all.hits.len().checked_sub(1)?))?.clone();
        Some(Symbol { place: FileHits { path: path.to_owned(), hits: vec![hit] }, ..symbol })
    };
    found.into_iter().filter_map(one).collect()
}

pub(super) fn of_project(result: &Value, known: Known) -> Vec<Symbol> {
    let one = |each: &Value| {
        let path = each["location"]["uri"].as_str().and_then(uri::to_path)?;
        let range = serde_json::from_value(each["location"]["range"].clone()).unwrap_or_default();
        let place = places::hits(&path, &[range], known)?;
        Some(Symbol {
            name: each["name"].as_str()?.to_owned(),
            kind: kind(&each["kind"]),
            container: each["containerName"].as_str().unwrap_or_default().to_owned(),
            place,
            depth: 0,
        })
    };
    list(result).iter().take(MOST_OF_PROJECT).filter_map(one).collect()
}

/// The most names of a project that are taken in: each may be in another file that is read.
const MOST_OF_PROJECT: usize = 500;

/// The items of a call hierarchy: as they are asked for, or as what calls or is called.
pub(super) fn calls(result: &Value, known: Known) -> Vec<Call> {
    let one = |each: &Value| {
        let item = [&each["from"], &each["to"]].into_iter().find(|item| item.is_object()).unwrap_or(each);
        let path = item["uri"].as_str().and_then(uri::to_path)?;
        let range = serde_json::from_value(item["selectionRange"].clone()).ok()?;
        let place = places::hits(&path, &[range], known)?;
        Some(Call { name: item["name"].as_str()?.to_owned(), kind: kind(&item["kind"]), place, ticket: item.clone() })
    };
    list(result).iter().take(MOST_OF_PROJECT).filter_map(one).collect()
}
