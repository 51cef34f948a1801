//! What a server offers at a caret.

use super::known::{list as items_of, markup};
use crate::edits;
use crate::news::{Answer, Completeness, Offer, OfferForm};
use crate::position::Encoding;
use serde_json::Value;
use snarvel_core::text::Text;

/// What a number means in the protocol (`CompletionItemKind`).
const KINDS: [&str; 25] = [
    "text",
    "method",
    "function",
    "constructor",
    "field",
    "variable",
    "class",
    "interface",
    "module",
    "property",
    "unit",
    "value",
    "enum",
    "keyword",
    "snippet",
    "color",
    "file",
    "reference",
    "folder",
    "variant",
    "constant",
    "struct",
    "event",
    "operator",
    "type parameter",
];

/// The most offers that are taken in.
const MOST: usize = 2_000;

/// The list of an answer: a list, or a list with what holds for all of it.
fn list_of(result: &Value) -> (&[Value], Value, Completeness) {
    if result.is_array() {
        return (items_of(result), Value::Null, Completeness::Whole);
    }
    let is_part = result["isIncomplete"].as_bool() == Some(true);
    let completeness = if is_part { Completeness::Part } else { Completeness::Whole };
    (items_of(&result["items"]), result["itemDefaults"].clone(), completeness)
}

pub(super) fn list(result: &Value, text: (&Text, Encoding)) -> Answer {
    let (items, defaults, completeness) = list_of(result);
    let mut found: Vec<(String, Offer)> = Vec::new();
    for each in items.iter().take(20 * MOST) {
        let offer = item(each, text, &defaults);
        let sort = each["sortText"].as_str().or_else(|| each["label"].as_str()).unwrap_or_default();
        found.extend(offer.map(|offer| (sort.to_owned(), offer)));
    }
    found.sort_by(|(one, _), (other, _)| one.cmp(other));
    let is_cut = found.len() > MOST;
    found.truncate(MOST);
    let completeness = if is_cut { Completeness::Part } else { completeness };
    Answer::Offers(found.into_iter().map(|(_, offer)| offer).collect(), completeness)
}

/// An offer; none where it puts nothing in.
pub(super) fn item(value: &Value, (text, encoding): (&Text, Encoding), defaults: &Value) -> Option<Offer> {
    let label = value["label"].as_str()?.trim().to_owned();
    let edit = &value["textEdit"];
    let default_range = &defaults["editRange"];
    let range = [&edit["range"], &edit["insert"], &default_range["insert"], default_range]
        .into_iter()
        .find(|range| range["start"].is_object());
    let put_in = edit["newText"]
        .as_str()
        .or_else(|| value["textEditText"].as_str())
        .or_else(|| value["insertText"].as_str())
        .unwrap_or(&label);
    let form = value["insertTextFormat"].as_u64().or_else(|| defaults["insertTextFormat"].as_u64());
    let number = value["kind"].as_u64().unwrap_or(0) as usize;
    let kind = number.checked_sub(1).and_then(|index| KINDS.get(index)).copied().unwrap_or("name");
    let detail = value["detail"].as_str().or_else(|| value["labelDetails"]["detail"].as_str()).unwrap_or_default();
    let mut ticket = value.clone();
    if ticket["data"].is_null() && !defaults["data"].is_null() {
        ticket["data"] = defaults["data"].clone();
    }
    if put_in.is_empty() {
        return None;
    }
    let filter = value["filterText"].as_str().unwrap_or(&label);
    Some(Offer {
        word: word_of(filter),
        text: put_in.to_owned(),
        form: if form == Some(2) { OfferForm::Snippet } else { OfferForm::Plain },
        place: range.and_then(|range| edits::span_of(range, text, encoding)),
        kind,
        detail: detail.to_owned(),
        documentation: markup(&value["documentation"]),
        extra: edits::extra(&value["additionalTextEdits"], text, encoding).unwrap_or_default(),
        ticket: (!ticket["data"].is_null() || value["documentation"].is_null()).then_some(ticket),
        label,
    })
}

/// The word that a text to be matched begins with: what comes after it are arguments and types.
fn word_of(filter: &str) -> String {
    let filter = filter.trim_start_matches(|c: char| !(c.is_alphanumeric() || "_$@#.-/:<\"'".contains(c)));
    let end =
        filter.find(|c: char| c.is_whitespace() || matches!(c, '(' | '<' | '{' | '[' | ',')).filter(|end| *end > 0);
    filter[..end.unwrap_or(filter.len())].to_owned()
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    #[test]
    fn an_offer_is_a_word_with_what_is_put_in() {
        let text = Text::from("let x = so;");
        let read = |value: Value| {
            item(&value, (&text, Encoding::Utf16), &Value::Null)
                .map(|offer| format!("{} -> {} {:?} {}", offer.word, offer.text, offer.form, offer.kind))
        };
        for (value, expected) in [
            (json!({"label": "sound"}), Some("sound -> sound Plain name")),
            (
                json!({"label": " sound(int level)", "filterText": "sound", "kind": 3, "insertTextFormat": 2,
                    "textEdit": {"range": {"start": {"line": 0, "character": 8}, "end": {"line": 0, "character": 10}},
                        "newText": "sound(${1:int level})"}}),
                Some("sound -> sound(${1:int level}) Snippet function"),
            ),
            (
                json!({"label": "•printf(const char *)", "insertText": "printf", "kind": 3}),
                Some("printf -> printf Plain function"),
            ),
            (json!({"label": "x", "insertText": ""}), None),
            (json!({"kind": 3}), None),
            (json!("sound"), None),
        ] {
            assert_eq!(read(value).as_deref(), expected);
        }
    }
}
