//! How large files, structs and functions are.

use super::imports::files_below;
use std::path::Path;

/// Lines of a file.
const LONGEST_FILE: usize = 500;

/// Lines of a function, from `fn` to its closing brace.
const LONGEST_FUNCTION: usize = 60;

/// The same of a test: it may be a table of rows.
const LONGEST_TEST: usize = 80;

/// Parameters of a function, `self` not counted.
const MOST_PARAMETERS: usize = 4;

/// Methods of traits of other crates: what they take is not ours to say.
const FOREIGN: &[&str] = &["unhandled_csi"];

/// Fields of a struct that is no plain table of settings.
const MOST_FIELDS: usize = 12;

/// Structs that are plain tables: a row of settings, of a registry, of a file format.
const TABLES: &[&str] = &["Settings", "Language", "Finish", "Entry", "Verb", "Scene", "Outcome", "Frame", "Colors"];

/// What is over a limit, each with its place.
pub fn too_large(root: &Path) -> Vec<String> {
    let mut files = files_below(&root.join("crates"));
    files.sort();
    let mut found = Vec::new();
    for file in files {
        let text = std::fs::read_to_string(&file).unwrap();
        let name = file.strip_prefix(root).unwrap().display().to_string();
        if text.lines().count() > LONGEST_FILE {
            found.push(format!("{name} has {} lines, more than {LONGEST_FILE}", text.lines().count()));
        }
        let is_source = name.contains("/src/");
        let lines: Vec<&str> = text.lines().collect();
        for start in 0..lines.len() {
            found.extend(
                function_at(&lines, start, is_source).into_iter().map(|why| format!("{name}:{}: {why}", start + 1)),
            );
            if is_source {
                found.extend(struct_at(&lines, start).into_iter().map(|why| format!("{name}:{}: {why}", start + 1)));
            }
        }
    }
    found
}

fn indentation(line: &str) -> usize {
    line.len() - line.trim_start().len()
}

/// The line with which the item that begins at `start` ends: the next one that closes at its depth.
fn end_of(lines: &[&str], start: usize) -> usize {
    let depth = indentation(lines[start]);
    let closes = |line: &&str| {
        indentation(line) == depth && (line.trim_start().starts_with('}') || line.trim_end().ends_with('}'))
    };
    if lines[start].trim_end().ends_with('}') || lines[start].trim_end().ends_with(';') {
        return start;
    }
    lines[start + 1..].iter().position(closes).map_or(lines.len() - 1, |at| start + 1 + at)
}

fn function_at(lines: &[&str], start: usize, is_source: bool) -> Vec<String> {
    let line = lines[start].trim_start();
    let head = ["pub ", "pub(crate) ", "pub(super) ", "const ", "async "]
        .iter()
        .fold(line, |rest, word| rest.strip_prefix(word).unwrap_or(rest));
    if !head.starts_with("fn ") {
        return Vec::new();
    }
    let mut found = Vec::new();
    let len = end_of(lines, start) - start + 1;
    let longest = if is_source { LONGEST_FUNCTION } else { LONGEST_TEST };
    if len > longest {
        found.push(format!("a function of {len} lines, more than {longest}"));
    }
    let parameters = parameters_of(lines, start);
    let own = parameters.iter().filter(|each| !each.ends_with("self")).count();
    let is_foreign = FOREIGN.iter().any(|name| head.starts_with(&format!("fn {name}(")));
    if is_source && own > MOST_PARAMETERS && !is_foreign {
        found.push(format!("{own} parameters, more than {MOST_PARAMETERS}"));
    }
    if is_source && line.starts_with("pub fn") && parameters.iter().any(|each| each.ends_with(": bool")) {
        found.push("a boolean parameter of a public function: an enum of two names says what is meant".to_owned());
    }
    found
}

/// The parameters of the function that begins at `start`, each with its type.
fn parameters_of(lines: &[&str], start: usize) -> Vec<String> {
    let text = lines[start..lines.len().min(start + 12)].join(" ");
    let (mut depth, mut part, mut found, mut inside) = (0, String::new(), Vec::new(), false);
    let mut before = ' ';
    for c in text.chars() {
        match c {
            '(' | '[' | '<' | '{' => depth += 1,
            ')' | ']' | '}' => depth -= 1,
            '>' if before != '-' && before != '=' => depth -= 1,
            _ => {}
        }
        before = c;
        match c {
            '(' if depth == 1 && !inside => inside = true,
            ')' if depth == 0 && inside => break,
            ',' if depth == 1 && inside => found.push(std::mem::take(&mut part).trim().to_owned()),
            c if inside => part.push(c),
            _ => {}
        }
    }
    found.push(part.trim().to_owned());
    found.into_iter().filter(|each| !each.is_empty()).collect()
}

fn struct_at(lines: &[&str], start: usize) -> Option<String> {
    let line = lines[start].trim_start();
    let rest = line
        .strip_prefix("pub ")
        .or_else(|| line.strip_prefix("pub(super) "))
        .or_else(|| line.strip_prefix("pub(crate) "))
        .unwrap_or(line);
    let name = rest.strip_prefix("struct ")?.split(|c: char| !c.is_alphanumeric()).next()?;
    if TABLES.contains(&name) || !line.ends_with('{') {
        return None;
    }
    let depth = indentation(lines[start]) + 4;
    let is_field = |line: &&&str| {
        let trimmed = line.trim_start();
        indentation(line) == depth && !trimmed.starts_with("//") && !trimmed.starts_with('#') && trimmed.contains(':')
    };
    let fields = lines[start + 1..end_of(lines, start)].iter().filter(is_field).count();
    (fields > MOST_FIELDS).then(|| format!("the struct {name} has {fields} fields, more than {MOST_FIELDS}"))
}
