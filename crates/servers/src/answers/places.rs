//! Places in files, open or not, with the lines that they are in; and what is wrong in files.

use super::known::{Known, list, markup};
use crate::documents::Document;
use crate::news::{Certainty, Fault, FaultKind, FileFaults, MOST_FAULTS};
use crate::position::{Positions, lone_returns};
use crate::uri;
use lsp_types::Range;
use serde_json::Value;
use snarvel_core::text::Text;
use snarvel_core::units::Span;
use snarvel_files::search::{FileHits, hits_in, language_of, text_at};
use std::path::{Path, PathBuf};

/// The most places that are taken in.
const MOST: usize = 100_000;

/// The places of an answer: a `Location`, a list of those or of `LocationLink`s.
pub(super) fn places(result: &Value, known: Known) -> Vec<FileHits> {
    let one = std::slice::from_ref(result);
    let all = if result.is_object() { one } else { list(result) };
    let mut by_file: Vec<(PathBuf, Vec<Range>)> = Vec::new();
    for each in all.iter().take(MOST) {
        let uri = if each["targetUri"].is_null() { &each["uri"] } else { &each["targetUri"] };
        let range = match &each["targetSelectionRange"] {
            Value::Null => &each["range"],
            selection => selection,
        };
        let place = uri.as_str().and_then(uri::to_path).zip(serde_json::from_value(range.clone()).ok());
        let Some((path, range)) = place else { continue };
        match by_file.iter_mut().find(|(known, _)| *known == path) {
            Some((_, ranges)) => ranges.push(range),
            None => by_file.push((path, vec![range])),
        }
    }
    by_file.into_iter().filter_map(|(path, ranges)| hits(&path, &ranges, known)).collect()
}

/// The places `ranges` of the file at `path`; none where it cannot be read.
pub(super) fn hits(path: &Path, ranges: &[Range], known: Known) -> Option<FileHits> {
    let (text, returns) = match known.documents.get(path) {
        Some(document) => (document.text.clone(), lone_returns(&document.text)),
        None => {
            let text = text_at(path)?;
            let returns = lone_returns(&text);
            (text, returns)
        }
    };
    let positions = Positions::new(&text, &returns, known.encoding);
    let mut spans: Vec<Span> = ranges.iter().map(|range| positions.span(*range)).collect();
    spans.sort_unstable();
    spans.dedup();
    Some(hits_in((path, &text), &language_of(path, &text), spans))
}

/// What is wrong in the file at `path`, by a list of diagnostics.
#[must_use]
pub fn faults(path: &Path, diagnostics: &[Value], (source, known): (&str, Known)) -> FileFaults {
    let document = known.documents.get(path);
    let mut counts = [0; 3];
    let mut read: Vec<(Range, Fault)> = Vec::new();
    for each in diagnostics {
        let Ok(range) = serde_json::from_value::<Range>(each["range"].clone()) else { continue };
        let kind = match each["severity"].as_u64() {
            None | Some(1) => FaultKind::Error,
            Some(2) => FaultKind::Warning,
            Some(_) => FaultKind::Note,
        };
        counts[kind as usize] += 1;
        let message = markup(&each["message"]);
        let source = each["source"].as_str().unwrap_or(source).to_owned();
        read.push((range, Fault { span: Span::default(), kind, message, source }));
    }
    read.sort_by_key(|(range, fault)| (range.start, fault.kind, range.end));
    read.truncate(MOST_FAULTS);
    let text = match document {
        Some(document) => Some(document.text.clone()),
        None if read.is_empty() => None,
        None => text_at(path),
    };
    let (list, lines) = text.map(|text| placed(read, &text, (document, known))).unwrap_or_default();
    let revision = document.map(|document| document.revision);
    FileFaults { path: path.to_owned(), revision, list, counts, lines, certainty: Certainty::Unsure }
}

fn placed(
    read: Vec<(Range, Fault)>,
    text: &Text,
    (document, known): (Option<&Document>, Known),
) -> (Vec<Fault>, Vec<(usize, String)>) {
    let returns = lone_returns(text);
    let positions = Positions::new(text, &returns, known.encoding);
    let place = |(range, fault): (Range, Fault)| Fault { span: positions.span(range), ..fault };
    let list: Vec<Fault> = read.into_iter().map(place).collect();
    let line_of = |fault: &Fault| {
        let line = text.line_of(fault.span.start);
        (line.0, text.content(line).trim().chars().take(200).collect())
    };
    let lines = if document.is_none() { list.iter().map(line_of).collect() } else { Vec::new() };
    (list, lines)
}
