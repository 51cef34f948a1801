//! Which of several definitions a name most likely means at a place: the best first.
//!
//! Nothing is left out: what fits less well comes later. What is looked at: what the place says of the name (a call, a part of
//! something, what that is called), whether the file brings it in from another one, and how far the files are apart.

use crate::store::Entry;
use snarvel_core::languages::{Language, detect};
use snarvel_core::text::Text;
use snarvel_core::units::Span;
use snarvel_syntax::names::NameKind;
use std::cmp::Reverse;
use std::path::{Path, PathBuf};

/// What the place of a name says of it.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Use {
    /// The name.
    pub name: String,
    /// Its file, from the folder of the project.
    pub path: PathBuf,
    /// The family of languages of the file.
    pub family: String,
    /// What is before `.`, `->` or `::`; none where the name is no part of something.
    pub part_of: Option<String>,
    /// Whether it is called.
    pub is_called: bool,
    /// The name of the type that the place is in.
    pub inside: Option<String>,
    /// Names of files and modules that the file brings in together with the name, or with what it is a part of.
    pub brought_in: Vec<String>,
    /// Names of all files and modules that the file brings in.
    pub mentioned: Vec<String>,
    /// The line that the name is on: a definition there is meant itself.
    pub at: Option<Span>,
}

/// Languages whose files use each other's names.
#[must_use]
pub fn family(language: &str) -> &str {
    match language {
        "c" | "cpp" | "objective-c" | "cuda" => "c",
        "javascript" | "jsx" | "typescript" | "tsx" | "vue" | "svelte" | "astro" | "html" | "html-template"
        | "twig" | "liquid" => "script",
        "java" | "kotlin" | "scala" | "groovy" => "java",
        "css" | "scss" | "less" | "sass" => "css",
        other => other,
    }
}

/// What the text says of the name at `word`.
#[must_use]
pub fn use_of((text, language): (&Text, &Language), path: &Path, word: Span) -> Use {
    let name = text.slice(word).into_owned();
    let line = text.content_span(text.line_of(word.start));
    let before = text.slice(Span::new(line.start, word.start)).into_owned();
    let after = text.slice(Span::new(word.end, line.end.max(word.end))).into_owned();
    let part_of = ["->", "::", "."].iter().find(|sign| before.ends_with(**sign)).map(|sign| {
        let owner = before[..before.len() - sign.len()].trim_end_matches(['?', '!']);
        let start = owner
            .rfind(|c: char| !c.is_alphanumeric() && c != '_')
            .map_or(0, |at| at + owner[at..].chars().next().map_or(1, char::len_utf8));
        owner[start..].to_owned()
    });
    let (mut brought_in, mut mentioned) = (Vec::new(), Vec::new());
    for words in imports(text) {
        let is_of = |wanted: &str| words.iter().any(|word| word == wanted);
        if is_of(&name) || part_of.as_deref().is_some_and(|owner| !owner.is_empty() && is_of(owner)) {
            brought_in.extend(words.iter().cloned());
        }
        mentioned.extend(words);
    }
    Use {
        is_called: after.trim_start().starts_with(['(', '!']) || after.trim_start().starts_with("::<"),
        family: family(&language.name).to_owned(),
        path: path.to_owned(),
        part_of,
        inside: None,
        brought_in,
        mentioned,
        at: Some(word),
        name,
    }
}

/// So many lines are looked through for what a file brings in.
const MOST_LINES: usize = 3_000;

/// The words of each line, or lines, that bring something in from other files.
fn imports(text: &Text) -> Vec<Vec<String>> {
    const BEGINNINGS: [&str; 12] = [
        "import ", "from ", "use ", "pub use ", "#include", "require", "using ", "export ", "mod ", "pub mod ",
        "local ", "const ",
    ];
    let mut found = Vec::new();
    let mut open: Option<Vec<String>> = None;
    for line in (0..text.line_count().min(MOST_LINES)).map(snarvel_core::units::Line) {
        let content = text.content(line);
        let content = content.trim();
        let begins = BEGINNINGS.iter().any(|beginning| content.starts_with(beginning));
        let is_assignment =
            (content.starts_with("const ") || content.starts_with("local ")) && !content.contains("require");
        if open.is_none() && (!begins || is_assignment) {
            continue;
        }
        let words = content
            .split(|c: char| !c.is_alphanumeric() && c != '_' && c != '-')
            .filter(|word| !word.is_empty())
            .map(str::to_owned);
        let list = open.get_or_insert_with(Vec::new);
        list.extend(words);
        let is_over = ['(', '{'].iter().all(|bracket| {
            let closer = if *bracket == '(' { ')' } else { '}' };
            !content.contains(*bracket) || content.contains(closer)
        });
        let was_open = list.len() > 200;
        let closes = content.contains(')') || content.contains('}') || content.ends_with(';');
        if is_over && (closes || begins) || was_open {
            found.extend(open.take());
        }
    }
    found.extend(open);
    found
}

/// `entries` by how likely each is what `of` means, the best first.
#[must_use]
pub fn ranked(entries: Vec<Entry>, of: &Use) -> Vec<Entry> {
    let mut scored: Vec<(i32, usize, Entry)> =
        entries.into_iter().map(|entry| (score(&entry, of), distance(&entry.path, &of.path), entry)).collect();
    scored.sort_by(|(score, distance, entry), (other_score, other_distance, other)| {
        let key = |score: &i32, distance: &usize| (Reverse(*score), *distance);
        let place = |entry: &Entry| (entry.path.clone(), entry.definition.span);
        key(score, distance).cmp(&key(other_score, other_distance)).then_with(|| place(entry).cmp(&place(other)))
    });
    scored.into_iter().map(|(_, _, entry)| entry).collect()
}

fn score(entry: &Entry, of: &Use) -> i32 {
    let definition = &entry.definition;
    let is_here = entry.path == of.path;
    let mut score = 0;
    // What only declares leads to what defines.
    if is_here && of.at == Some(definition.span) && !declares(entry) {
        return i32::MAX;
    }
    let file = entry.path.file_name().unwrap_or_default().to_string_lossy().into_owned();
    if family(&detect(&file, "").name) != of.family {
        score -= 200;
    }
    score += if is_here { 40 } else { 0 };
    let parts = words_of(&entry.path);
    let is_named = |words: &[String]| words.iter().any(|word| parts.contains(word));
    if !is_here && is_named(&of.brought_in) {
        score += 60;
    } else if !is_here && is_named(&of.mentioned) {
        score += 20;
    }
    score += kind_score(definition.kind, of);
    let is_part = !definition.container.is_empty();
    match &of.part_of {
        Some(owner) if is_part && *owner == definition.container => score += 80,
        Some(owner) if matches!(owner.as_str(), "self" | "this" | "Self" | "cls") => {
            score += if of.inside.as_deref() == Some(definition.container.as_str()) { 80 } else { 0 };
        }
        // A value's part is in some type, a module's is not.
        Some(_) if is_part => score += 10,
        Some(owner) if parts.contains(owner) => score += 50,
        Some(_) => {}
        None if is_part && definition.kind != NameKind::Variant => {
            score -= if of.inside.as_deref() == Some(definition.container.as_str()) { 0 } else { 25 };
        }
        None => score += 5,
    }
    score + form_score(entry) - if !is_here && is_out_of_sight(entry, of) { 50 } else { 0 }
}

fn kind_score(kind: NameKind, of: &Use) -> i32 {
    let begins_large = of.name.starts_with(char::is_uppercase);
    match kind {
        NameKind::Function | NameKind::Macro if of.is_called => 15,
        NameKind::Type if of.is_called && begins_large => 12,
        NameKind::Type if begins_large => 10,
        NameKind::Field if of.is_called => -10,
        NameKind::Field if of.part_of.is_some() => 8,
        NameKind::Section => -20,
        _ => 0,
    }
}

/// A definition with its body is meant rather than one that only declares: `int read(void);` in C.
fn form_score(entry: &Entry) -> i32 {
    let is_test = entry.path.components().any(|part| part.as_os_str().to_string_lossy().starts_with("test"));
    (if declares(entry) { -6 } else { 0 }) + (if is_test { -8 } else { 0 })
}

/// Whether it only says that something is defined elsewhere.
fn declares(entry: &Entry) -> bool {
    let signature = entry.definition.signature.trim_end();
    entry.definition.kind == NameKind::Variable && signature.contains('(') && signature.ends_with([';', ','])
        || signature.split_whitespace().any(|word| word == "extern")
}

/// In C and its kin another file sees of a source file only functions and variables that are not static: all else is in headers.
fn is_out_of_sight(entry: &Entry, of: &Use) -> bool {
    let ending = entry.path.extension().unwrap_or_default().to_string_lossy().into_owned();
    let is_source = matches!(ending.as_str(), "c" | "cc" | "cpp" | "cxx" | "m" | "mm");
    let is_seen = matches!(entry.definition.kind, NameKind::Function | NameKind::Variable)
        && !entry.definition.signature.starts_with("static");
    of.family == "c" && is_source && !is_seen
}

/// The words of a path: its folders and the name of the file without what tells its kind.
fn words_of(path: &Path) -> Vec<String> {
    let stem = path.file_stem().map(|stem| stem.to_string_lossy().into_owned());
    let folder = path.parent().and_then(Path::file_name).map(|name| name.to_string_lossy().into_owned());
    let is_index = stem.as_deref().is_some_and(|stem| matches!(stem, "mod" | "lib" | "index" | "__init__" | "main"));
    if is_index { folder.into_iter().chain(stem).collect() } else { stem.into_iter().collect() }
}

/// How many folders two files are apart.
fn distance(one: &Path, other: &Path) -> usize {
    let parts = |path: &Path| path.parent().map_or(0, |folder| folder.components().count());
    let common =
        one.parent().into_iter().flat_map(Path::components).zip(other.parent().into_iter().flat_map(Path::components));
    let common = common.take_while(|(one, other)| one == other).count();
    parts(one) + parts(other) - 2 * common
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::definitions::Definition;
    use snarvel_core::languages::by_name;
    use snarvel_core::units::{Byte, Line};

    fn entry(path: &str, kind: NameKind, container: &str) -> Entry {
        let definition = Definition {
            name: "read".to_owned(),
            kind,
            container: container.to_owned(),
            span: Span::at(Byte(0)),
            line: Line(0),
            signature: String::new(),
            comment: String::new(),
        };
        Entry { path: PathBuf::from(path), definition }
    }

    /// The file and the container of the best, for the use at `‸`.
    fn best(language: &str, marked: &str, inside: Option<&str>, entries: Vec<Entry>) -> String {
        let at = Byte(marked.find('‸').unwrap());
        let text = Text::from(marked.replace('‸', "").as_str());
        let language = by_name(language).unwrap();
        let word = text.word_at(at, language.word_rule()).unwrap();
        let of = use_of((&text, &language), Path::new("src/here.rs"), word);
        let of = Use { inside: inside.map(str::to_owned), ..of };
        let first = &ranked(entries, &of)[0];
        format!("{} {}", first.path.display(), first.definition.container)
    }

    #[test]
    fn what_the_place_says_decides() {
        use NameKind::{Field, Function};
        let two = |one: &str, other: &str| vec![entry("src/a.rs", Function, one), entry("src/b.rs", Function, other)];
        for (name, text, inside, entries, expected) in [
            ("a_part_of_a_type", "Tide::rea‸d()", None, two("Gauge", "Tide"), "src/b.rs Tide"),
            ("a_part_of_itself", "self.rea‸d()", Some("Tide"), two("Gauge", "Tide"), "src/b.rs Tide"),
            ("no_part", "rea‸d()", None, two("Gauge", ""), "src/b.rs "),
            ("brought_in", "use crate::b::read;\nrea‸d()", None, two("", ""), "src/b.rs "),
            ("in_a_list", "use crate::b::{\n    tide, read,\n};\nrea‸d()", None, two("", ""), "src/b.rs "),
            ("a_module_before", "b::rea‸d()", None, two("", ""), "src/b.rs "),
            (
                "this_file",
                "rea‸d()",
                None,
                vec![entry("src/a.rs", Function, ""), entry("src/here.rs", Function, "")],
                "src/here.rs ",
            ),
            (
                "a_call",
                "x.rea‸d()",
                None,
                vec![entry("src/a.rs", Field, "A"), entry("src/b.rs", Function, "B")],
                "src/b.rs B",
            ),
            (
                "a_field",
                "x.rea‸d + 1",
                None,
                vec![entry("src/a.rs", Function, "A"), entry("src/b.rs", Field, "B")],
                "src/b.rs B",
            ),
            (
                "its_language",
                "rea‸d()",
                None,
                vec![entry("src/a.py", Function, ""), entry("far/away/b.rs", Function, "")],
                "far/away/b.rs ",
            ),
            (
                "near",
                "rea‸d()",
                None,
                vec![entry("a/b/c.rs", Function, ""), entry("src/z.rs", Function, "")],
                "src/z.rs ",
            ),
        ] {
            assert_eq!(best("rust", text, inside, entries), expected, "{name}");
        }
    }
}
