//! What is known when an answer is read, and the shapes that answers share.

use crate::documents::Documents;
use crate::position::Encoding;
use serde_json::Value;

/// What is known when an answer is read.
#[derive(Clone, Copy, Debug)]
pub struct Known<'a> {
    /// The texts that the server knows.
    pub documents: &'a Documents,
    /// In what it counts columns.
    pub encoding: Encoding,
    /// The names of the kinds of words that it tells.
    pub token_kinds: &'a [String],
}

/// The elements of a list; none of what is no list.
#[must_use]
pub fn list(value: &Value) -> &[Value] {
    value.as_array().map(Vec::as_slice).unwrap_or_default()
}

/// Text of any of the three forms that the protocol has for it (`MarkupContent`, `MarkedString`, a list of those).
#[must_use]
pub fn markup(value: &Value) -> String {
    match value {
        Value::String(text) => text.trim().to_owned(),
        Value::Array(parts) => {
            let texts: Vec<String> = parts.iter().map(markup).filter(|text| !text.is_empty()).collect();
            texts.join("\n\n")
        }
        Value::Object(fields) => {
            let text = fields.get("value").and_then(Value::as_str).unwrap_or_default().trim();
            match fields.get("language").and_then(Value::as_str) {
                Some(language) if !text.is_empty() => format!("```{language}\n{text}\n```"),
                _ => text.to_owned(),
            }
        }
        _ => String::new(),
    }
}
