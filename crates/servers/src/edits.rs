//! Edits that a server wants, in terms of our texts: checked as a whole before anything is done.
//!
//! Positions beyond a text are at its end. Edits that overlap, or a version that is not the one that is here, refuse all of them.

use crate::documents::{Documents, span_in};
use crate::news::{Base, Edits, FileEdit, FileStep};
use crate::position::Encoding;
use crate::uri;
use lsp_types::{Range, TextEdit};
use serde_json::Value;
use snarvel_core::text::Text;
use snarvel_core::units::Span;
use snarvel_files::search::text_at;
use std::path::{Path, PathBuf};

/// The most edits that are taken at once.
const MOST: usize = 1_000_000;

/// Edits of a workspace (`WorkspaceEdit`).
///
/// # Errors
/// Why none of them is carried out, in plain words.
pub fn of_workspace(value: &Value, documents: &Documents, encoding: Encoding) -> Result<Edits, String> {
    let mut edits = Edits::default();
    if let Some(changes) = value["documentChanges"].as_array() {
        for change in changes {
            match change["kind"].as_str() {
                Some(kind) => edits.steps.push(step(kind, change)?),
                None => {
                    let path = path_of(&change["textDocument"]["uri"])?;
                    let version = change["textDocument"]["version"].as_i64();
                    add(&mut edits, (path, version), &change["edits"], (documents, encoding))?;
                }
            }
        }
    } else if let Some(changes) = value["changes"].as_object() {
        for (uri, list) in changes {
            let path = path_of(&Value::String(uri.clone()))?;
            add(&mut edits, (path, None), list, (documents, encoding))?;
        }
    }
    edits.files.sort_by(|one, other| one.path.cmp(&other.path));
    Ok(edits)
}

/// Edits of one open text, as a list.
///
/// # Errors
/// Why none of them is carried out, in plain words.
pub fn of_text(value: &Value, path: &Path, documents: &Documents, encoding: Encoding) -> Result<Edits, String> {
    let mut edits = Edits::default();
    add(&mut edits, (path.to_owned(), None), value, (documents, encoding))?;
    Ok(edits)
}

fn path_of(uri: &Value) -> Result<PathBuf, String> {
    let text = uri.as_str().unwrap_or_default();
    uri::to_path(text).ok_or_else(|| format!("it wants to change {text:?}, which is no file"))
}

fn step(kind: &str, change: &Value) -> Result<FileStep, String> {
    Ok(match kind {
        "create" => FileStep::Create(path_of(&change["uri"])?),
        "delete" => FileStep::Delete(path_of(&change["uri"])?),
        "rename" => FileStep::Rename(path_of(&change["oldUri"])?, path_of(&change["newUri"])?),
        other => return Err(format!("it wants to {other:?} a file, which is not known here")),
    })
}

fn add(
    edits: &mut Edits,
    (path, version): (PathBuf, Option<i64>),
    list: &Value,
    (documents, encoding): (&Documents, Encoding),
) -> Result<(), String> {
    let name = path.file_name().unwrap_or_default().to_string_lossy().into_owned();
    let list = list.as_array().map(Vec::as_slice).unwrap_or_default();
    if list.len() > MOST {
        return Err(format!("it wants {} edits of {name}, more than are taken", list.len()));
    }
    // A file that another step makes is empty.
    let is_made = edits.steps.iter().any(|step| matches!(step, FileStep::Create(made) if *made == path));
    let (text, base) = match documents.get(&path) {
        Some(document) => {
            if version.is_some_and(|version| version != i64::from(document.version)) {
                return Err(format!("{name} has changed since"));
            }
            (document.text.clone(), Base::Open(document.revision))
        }
        None if is_made => (Text::default(), Base::Disk(Text::default())),
        None => {
            let text = text_at(&path).ok_or_else(|| format!("{name} cannot be read"))?;
            (text.clone(), Base::Disk(text))
        }
    };
    let new = spans(list, &text, encoding).map_err(|why| format!("{name}: {why}"))?;
    match edits.files.iter_mut().find(|each| each.path == path) {
        Some(known) => {
            known.edits.extend(new);
            known.edits = in_order(std::mem::take(&mut known.edits)).map_err(|why| format!("{name}: {why}"))?;
        }
        None => edits.files.push(FileEdit { path, base, edits: new }),
    }
    Ok(())
}

fn spans(list: &[Value], text: &Text, encoding: Encoding) -> Result<Vec<(Span, String)>, String> {
    let mut found = Vec::with_capacity(list.len());
    let returns = crate::position::lone_returns(text);
    let positions = crate::position::Positions::new(text, &returns, encoding);
    for each in list {
        let edit: TextEdit =
            serde_json::from_value(each.clone()).map_err(|error| format!("an edit that is none: {error}"))?;
        if edit.range.start > edit.range.end {
            return Err("an edit that ends before it begins".to_owned());
        }
        found.push((positions.span(edit.range), edit.new_text));
    }
    in_order(found)
}

/// The edits in the order of the text; what is put in at one place stays in its order.
fn in_order(mut edits: Vec<(Span, String)>) -> Result<Vec<(Span, String)>, String> {
    edits.sort_by_key(|(span, _)| (span.start, span.end));
    let mut joined: Vec<(Span, String)> = Vec::with_capacity(edits.len());
    for (span, text) in edits {
        match joined.last_mut() {
            Some((last, with)) if last.is_empty() && last.start == span.start => {
                with.push_str(&text);
                last.end = span.end;
            }
            Some((last, _)) if span.start < last.end => return Err("edits that overlap".to_owned()),
            _ => joined.push((span, text)),
        }
    }
    Ok(joined)
}

/// The edits that come along with an offer (`additionalTextEdits`).
///
/// # Errors
/// Why none of them is carried out.
pub fn extra(value: &Value, text: &Text, encoding: Encoding) -> Result<Vec<(Span, String)>, String> {
    spans(value.as_array().map(Vec::as_slice).unwrap_or_default(), text, encoding)
}

/// The span of a range in JSON; none where it is none.
#[must_use]
pub fn span_of(value: &Value, text: &Text, encoding: Encoding) -> Option<Span> {
    serde_json::from_value::<Range>(value.clone()).ok().map(|range| span_in(text, range, encoding))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::documents::Document;
    use serde_json::json;

    fn documents() -> Documents {
        let mut documents = Documents::default();
        let path = PathBuf::from("/skerry/tides.py");
        documents.add(Document::new((path, "python".to_owned()), Text::from("ebb = 1\nflow = 2\n"), 7));
        documents
    }

    fn edit(from: [u32; 2], to: [u32; 2], text: &str) -> Value {
        let place = |[line, character]: [u32; 2]| json!({"line": line, "character": character});
        json!({"range": {"start": place(from), "end": place(to)}, "newText": text})
    }

    fn told(value: &Value) -> String {
        match of_workspace(value, &documents(), Encoding::Utf16) {
            Ok(edits) => {
                let told = |(span, text): &(Span, String)| format!("{}..{} {text}", span.start.0, span.end.0);
                edits.files.iter().flat_map(|file| file.edits.iter().map(told)).collect::<Vec<_>>().join(", ")
            }
            Err(why) => format!("refused: {why}"),
        }
    }

    #[test]
    fn edits_are_taken_whole_or_not_at_all() {
        let uri = "file:///skerry/tides.py";
        let of = |list: Vec<Value>| json!({"changes": {uri: list}});
        let versioned = |version: i32| json!({"documentChanges": [{"textDocument": {"uri": uri, "version": version}, "edits": [edit([0, 0], [0, 3], "low")]}]});
        for (name, value, expected) in [
            ("nothing", json!({}), ""),
            ("in_order", of(vec![edit([1, 0], [1, 4], "b"), edit([0, 0], [0, 3], "a")]), "0..3 a, 8..12 b"),
            ("at_one_place_in_their_order", of(vec![edit([0, 0], [0, 0], "x"), edit([0, 0], [0, 0], "y")]), "0..0 xy"),
            ("before_what_goes", of(vec![edit([0, 0], [0, 0], "x"), edit([0, 0], [0, 3], "y")]), "0..3 xy"),
            ("beyond_the_text", of(vec![edit([0, 6], [99, 99], "z")]), "6..17 z"),
            ("beyond_a_line", of(vec![edit([0, 99], [0, 99], "z")]), "7..7 z"),
            (
                "overlapping",
                of(vec![edit([0, 0], [0, 3], "a"), edit([0, 2], [0, 5], "b")]),
                "refused: tides.py: edits that overlap",
            ),
            ("backward", of(vec![edit([0, 3], [0, 0], "a")]), "refused: tides.py: an edit that ends before it begins"),
            ("this_version", versioned(1), "0..3 low"),
            ("an_old_version", versioned(0), "refused: tides.py has changed since"),
            (
                "no_file",
                json!({"changes": {"untitled:1": []}}),
                "refused: it wants to change \"untitled:1\", which is no file",
            ),
            (
                "a_file_that_is_gone",
                json!({"changes": {"file:///skerry/none.py": []}}),
                "refused: none.py cannot be read",
            ),
            (
                "no_edit",
                of(vec![json!({"newText": "a"})]),
                "refused: tides.py: an edit that is none: missing field `range`",
            ),
        ] {
            assert_eq!(told(&value), expected, "{name}");
        }
        let made = json!({"documentChanges": [
            {"kind": "create", "uri": "file:///skerry/new.py"},
            {"textDocument": {"uri": "file:///skerry/new.py", "version": null}, "edits": [edit([0, 0], [0, 0], "x = 1\n")]},
        ]});
        assert_eq!(told(&made), "0..0 x = 1\n");
    }
}
