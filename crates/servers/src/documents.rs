//! The texts that a server knows: what it was told of them, and what it is told when they change.
//!
//! A change of many cursors is one notification. Its edits are told from the last to the first, so that the position of each is one
//! of the text before the change, whatever comes after it.

use crate::position::{Encoding, Positions, lone_returns};
use crate::uri;
use lsp_types::{Position, Range};
use serde_json::{Value, json};
use snarvel_core::changes::Change;
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Span};
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// How a server wants to be told of changes.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Sync {
    /// Not at all.
    #[default]
    None,
    /// The whole text each time.
    Full,
    /// What has changed.
    Incremental,
}

/// A text that a server knows.
#[derive(Debug)]
pub struct Document {
    /// Its file.
    pub path: PathBuf,
    /// What the protocol calls its language.
    pub language: String,
    /// The text.
    pub text: Text,
    /// The version that the server knows.
    pub version: i32,
    /// The revision of the text here.
    pub revision: u64,
    returns: Vec<Byte>,
}

impl Document {
    /// A text that is opened.
    #[must_use]
    pub fn new((path, language): (PathBuf, String), text: Text, revision: u64) -> Document {
        let returns = lone_returns(&text);
        Document { path, language, text, version: 1, revision, returns }
    }

    /// Its URI.
    #[must_use]
    pub fn uri(&self) -> String {
        uri::of_path(&self.path)
    }

    /// Places of it as positions.
    #[must_use]
    pub fn positions(&self, encoding: Encoding) -> Positions<'_> {
        Positions::new(&self.text, &self.returns, encoding)
    }

    /// What opens it.
    #[must_use]
    pub fn opened(&self) -> Value {
        json!({"textDocument": {
            "uri": self.uri(), "languageId": self.language, "version": self.version, "text": whole(&self.text),
        }})
    }

    /// Takes in `changes`, which lead to the text of `revision`; what tells the server of them.
    pub fn change(&mut self, changes: &[Arc<Change>], revision: u64, (sync, encoding): (Sync, Encoding)) -> Value {
        let mut told: Vec<Value> = Vec::new();
        let mut is_whole = sync != Sync::Incremental;
        for change in changes {
            is_whole |= self.is_between_line_ends(change);
            if !is_whole {
                told.extend(self.edits_told(change, encoding));
            }
            self.text.apply(change);
            if is_whole || !self.returns.is_empty() || has_return(change) {
                self.returns = lone_returns(&self.text);
            }
        }
        if is_whole {
            told = vec![json!({"text": whole(&self.text)})];
        }
        self.version += 1;
        self.revision = revision;
        json!({"textDocument": {"uri": self.uri(), "version": self.version}, "contentChanges": told})
    }

    /// Takes `text` in its place.
    pub fn replace(&mut self, text: Text, revision: u64) -> Value {
        self.returns = lone_returns(&text);
        (self.text, self.revision) = (text, revision);
        self.version += 1;
        json!({
            "textDocument": {"uri": self.uri(), "version": self.version},
            "contentChanges": [{"text": whole(&self.text)}],
        })
    }

    fn edits_told(&self, change: &Change, encoding: Encoding) -> Vec<Value> {
        let mut positions = self.positions(encoding);
        let mut told: Vec<Value> = change
            .edits()
            .iter()
            .map(|edit| json!({"range": positions.range(edit.span()), "text": change.inserted(edit)}))
            .collect();
        told.reverse();
        told
    }

    /// Whether an edit begins or ends beside a carriage return in a way that makes or parts a line end: positions cannot tell of
    /// a place between the two characters of one.
    fn is_between_line_ends(&self, change: &Change) -> bool {
        change.edits().iter().any(|edit| {
            let before = edit.start().0.checked_sub(1).and_then(|at| self.text.byte(Byte(at)));
            let ends_in_return = change.inserted(edit).ends_with('\r') || change.removed(edit).ends_with('\r');
            before == Some(b'\r') || ends_in_return
        })
    }
}

fn has_return(change: &Change) -> bool {
    let touches = |text: &str| text.contains('\r');
    change.edits().iter().any(|edit| touches(change.inserted(edit)) || touches(change.removed(edit)))
}

fn whole(text: &Text) -> String {
    text.slice(text.span()).into_owned()
}

/// Carries out the content changes of a notification on a text that is kept by the protocol's own rules: what servers do.
///
/// # Errors
/// A change without its fields.
pub fn applied(text: &str, notification: &Value, encoding: Encoding) -> Result<String, serde_json::Error> {
    let mut text = text.to_owned();
    for each in notification["contentChanges"].as_array().into_iter().flatten() {
        let with = each["text"].as_str().unwrap_or_default();
        if each["range"].is_null() {
            with.clone_into(&mut text);
            continue;
        }
        let range: Range = serde_json::from_value(each["range"].clone())?;
        let rope = Text::from(text.as_str());
        let returns = lone_returns(&rope);
        let positions = Positions::new(&rope, &returns, encoding);
        let place = |position: Position| positions.byte(position).0;
        text.replace_range(place(range.start)..place(range.end), with);
    }
    Ok(text)
}

/// The documents of a server.
#[derive(Debug, Default)]
pub struct Documents {
    list: Vec<Document>,
}

impl Documents {
    /// The one at `path`.
    #[must_use]
    pub fn get(&self, path: &Path) -> Option<&Document> {
        self.list.iter().find(|each| each.path == path)
    }

    /// The one at `path`.
    pub fn get_mut(&mut self, path: &Path) -> Option<&mut Document> {
        self.list.iter_mut().find(|each| each.path == path)
    }

    /// All of them.
    pub fn iter(&self) -> impl Iterator<Item = &Document> {
        self.list.iter()
    }

    /// Adds one, in the place of another one at the same path.
    pub fn add(&mut self, document: Document) {
        self.list.retain(|each| each.path != document.path);
        self.list.push(document);
    }

    /// Takes the one at `path` away; whether there was one.
    pub fn remove(&mut self, path: &Path) -> bool {
        let count = self.list.len();
        self.list.retain(|each| each.path != path);
        self.list.len() < count
    }
}

/// The span of `range` in `text`, by the rules of the wire. Cost: one pass over the text.
#[must_use]
pub fn span_in(text: &Text, range: Range, encoding: Encoding) -> Span {
    let returns = lone_returns(text);
    Positions::new(text, &returns, encoding).span(range)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use snarvel_core::changes::ChangeBuilder;

    fn boundary(text: &Text, at: usize) -> Byte {
        text.snap_back(Byte(at % (text.len() + 1)))
    }

    /// A change of `text` by pieces that are put in the place of spans.
    fn change(text: &Text, pieces: &[(usize, usize, String)]) -> Change {
        let mut spans: Vec<(Span, &str)> = pieces
            .iter()
            .map(|(at, length, with)| {
                let start = boundary(text, *at);
                let end = text.snap_back(Byte((start.0 + length).min(text.len()))).max(start);
                (Span::new(start, end), with.as_str())
            })
            .collect();
        spans.sort_by_key(|(span, _)| *span);
        let mut builder = ChangeBuilder::new(text);
        let mut free = Byte(0);
        for (span, with) in spans {
            if span.start >= free {
                builder.replace(span, with);
                free = span.end + 1;
            }
        }
        builder.finish()
    }

    proptest! {
        #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(500) })]
        #[test]
        fn a_server_that_follows_the_notifications_has_the_same_text(
            start in "([a-c]|\r|\n|\r\n|é|潮|🌊){0,20}",
            steps in proptest::collection::vec(
                proptest::collection::vec((0usize..40, 0usize..4, "([a-c]|\r|\n|\r\n|é|🌊){0,3}"), 1..5), 1..6),
        ) {
            for encoding in [Encoding::Utf8, Encoding::Utf16] {
                let mut document =
                    Document::new((PathBuf::from("/a"), "c".to_owned()), Text::from(start.as_str()), 0);
                let mut theirs = start.clone();
                for (index, step) in steps.iter().enumerate() {
                    let change = Arc::new(change(&document.text, step));
                    let told = document.change(&[change], index as u64 + 1, (Sync::Incremental, encoding));
                    theirs = applied(&theirs, &told, encoding).unwrap();
                    prop_assert_eq!(&theirs, &whole(&document.text), "{}", told);
                }
            }
        }
    }

    #[test]
    fn ten_thousand_cursors_are_one_notification() {
        let text = Text::from("level\r\n".repeat(10_000).as_str());
        let mut builder = ChangeBuilder::new(&text);
        (0..10_000).for_each(|line| builder.insert(Byte(line * 7 + 5), "s"));
        let change = Arc::new(builder.finish());
        let mut document = Document::new((PathBuf::from("/a"), "c".to_owned()), text, 0);
        let told = document.change(&[change], 1, (Sync::Incremental, Encoding::Utf16));
        assert_eq!(told["contentChanges"].as_array().unwrap().len(), 10_000);
        assert_eq!(told["contentChanges"][0]["range"]["start"], json!({"line": 9_999, "character": 5}));
        let full = document.change(&[], 2, (Sync::Full, Encoding::Utf16));
        assert_eq!(full["contentChanges"][0]["text"].as_str().unwrap().len(), 80_000);
    }
}
