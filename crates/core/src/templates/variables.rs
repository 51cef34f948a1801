//! The variables of templates: those of the protocol, and `TODAY`.

use super::Variable;
use crate::text::Text;
use crate::text::words::WordRule;
use crate::units::Byte;
use std::path::Path;

/// What variables tell that is not in the text.
#[derive(Clone, Debug, Default)]
pub struct Facts {
    /// The path of the file; none where it has no name yet.
    pub path: Option<String>,
    /// The date of today, as ISO 8601 writes it.
    pub today: String,
}

/// What the variable `name` is for a template that is put in at `at` of `text`, in place of `selected`.
#[must_use]
pub fn value_of(
    name: &str,
    (facts, selected): (&Facts, Option<&str>),
    (text, at): (&Text, Byte),
    rule: WordRule,
) -> Variable {
    let line = text.line_of(at);
    let path = facts.path.as_deref().map(Path::new);
    let told = |value: Option<String>| value.map_or(Variable::Unset, Variable::Value);
    let part = |part: Option<&std::ffi::OsStr>| told(part.map(|part| part.to_string_lossy().into_owned()));
    match name {
        "TM_SELECTED_TEXT" => told(selected.filter(|selected| !selected.is_empty()).map(str::to_owned)),
        "TM_CURRENT_LINE" => told(Some(text.content(line).into_owned())),
        "TM_CURRENT_WORD" => told(text.word_at(at, rule).map(|span| text.slice(span).into_owned())),
        "TM_LINE_INDEX" => told(Some(line.0.to_string())),
        "TM_LINE_NUMBER" => told(Some((line.0 + 1).to_string())),
        "TM_FILENAME" => part(path.and_then(Path::file_name)),
        "TM_FILENAME_BASE" => part(path.and_then(Path::file_stem)),
        "TM_DIRECTORY" => part(path.and_then(Path::parent).map(Path::as_os_str)),
        "TM_FILEPATH" => told(facts.path.clone()),
        "TODAY" => told(Some(facts.today.clone())),
        _ => Variable::Unknown,
    }
}
