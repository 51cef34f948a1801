//! Imports in order: the statements that bring names in, sorted within each group that blank lines or other statements bound; one that is
//! there twice is dropped. A statement over several lines stays whole, and so do the comments right above it.
//!
//! Which ones are needed only a language server knows: none is dropped for that.

use crate::changes::{Bias, ChangeBuilder};
use crate::languages::scanner::Kind;
use crate::units::{Line, Span};
use crate::verbs::scene::{Outcome, Scene, counted};

/// What a statement that brings names in begins with, by language.
fn beginnings(language: &str) -> &'static [&'static str] {
    match language {
        "python" => &["import ", "from "],
        "rust" => &["use ", "pub use ", "pub(crate) use ", "extern crate "],
        "csharp" | "vala" => &["using ", "global using "],
        "c" | "cpp" | "objective-c" | "cuda" | "glsl" => &["#include ", "#include<", "#import "],
        "ruby" => &["require ", "require_relative "],
        "lua" => &["require "],
        "php" | "perl" | "raku" => &["use "],
        "elixir" => &["import ", "alias ", "require "],
        "erlang" => &["-include"],
        "css" | "scss" | "less" | "sass" => &["@import ", "@use "],
        "protobuf" | "thrift" => &["import ", "include "],
        "julia" => &["using ", "import "],
        "fsharp" | "ocaml" => &["open "],
        "zig" => &[],
        // JavaScript and its kin, Java and its kin, Go, Swift, Dart, Haskell …
        _ => &["import "],
    }
}

/// A statement that brings names in, with the comments above it.
struct Import {
    first: Line,
    last: Line,
    /// What it is sorted by.
    key: String,
}

/// Sorts the imports of the text.
#[must_use]
pub fn sort_imports(scene: &Scene) -> Outcome {
    let language = scene.language;
    let beginnings = beginnings(&language.name);
    let groups = groups(scene, beginnings);
    let count: usize = groups.iter().map(Vec::len).sum();
    if count == 0 {
        return Outcome::nothing(format!("no imports were found that are written as {} writes them", language.title));
    }
    let text = scene.text;
    let mut builder = ChangeBuilder::new(text);
    let mut dropped = 0;
    for group in &groups {
        let content = |import: &Import| {
            text.slice(Span::new(text.line_start(import.first), text.content_span(import.last).end)).into_owned()
        };
        let mut order: Vec<&Import> = group.iter().collect();
        order.sort_by(|one, other| one.key.to_lowercase().cmp(&other.key.to_lowercase()).then(one.key.cmp(&other.key)));
        let before = order.len();
        order.dedup_by(|one, other| one.key == other.key && content(one) == content(other));
        dropped += before - order.len();
        let (Some(first), Some(last)) = (group.first(), group.last()) else { continue };
        let span = Span::new(text.line_start(first.first), text.content_span(last.last).end);
        let sorted: Vec<String> = order.into_iter().map(content).collect();
        let sorted = sorted.join(scene.settings.line_end.as_str());
        if *text.slice(span) != sorted {
            builder.replace(span, &sorted);
        }
    }
    let change = builder.finish();
    if change.is_empty() {
        return Outcome::already("the imports are in order");
    }
    let cursors = scene.cursors.mapped(&change, Bias::Before);
    let twice = if dropped > 0 { format!(", dropped {dropped} that were there twice") } else { String::new() };
    Outcome::edit(change, cursors).saying(format!("sorted {}{twice}", counted(count, "import")))
}

/// The imports, those that follow each other together.
fn groups(scene: &Scene, beginnings: &[&str]) -> Vec<Vec<Import>> {
    let text = scene.text;
    let mut groups: Vec<Vec<Import>> = Vec::new();
    let mut open: Vec<Import> = Vec::new();
    let mut comments: Option<Line> = None;
    let mut line = Line(0);
    while line <= text.last_line() {
        let content = text.content(line);
        let is_import = beginnings.iter().any(|beginning| content.starts_with(beginning))
            && scene.syntax.kind_before_line(line) == Kind::Code;
        if is_import {
            let last = last_line(scene, line);
            // What is above the first one may be about the whole file.
            let first = comments.filter(|_| !open.is_empty()).unwrap_or(line);
            let key = text.slice(Span::new(text.line_start(line), text.content_span(last).end)).into_owned();
            open.push(Import { first, last, key });
            comments = None;
            line = last.next();
            continue;
        }
        let trimmed = content.trim_start();
        let is_comment = !trimmed.is_empty()
            && trimmed.len() == content.len()
            && scene.syntax.kind_at(text.line_start(line) + 1) == Kind::Comment;
        if is_comment {
            comments = comments.or(Some(line));
        } else {
            comments = None;
            if !open.is_empty() {
                groups.push(std::mem::take(&mut open));
            }
        }
        line = line.next();
    }
    groups.push(open);
    groups.retain(|group| !group.is_empty());
    groups
}

/// The last line of a statement that begins on `line`: brackets are closed on it, and nothing says that it goes on.
fn last_line(scene: &Scene, line: Line) -> Line {
    /// A statement is no longer than this.
    const LONGEST: usize = 400;
    let text = scene.text;
    let mut depth = 0i32;
    let mut at = line;
    for _ in 0..LONGEST {
        let start = text.line_start(at);
        let content = text.content(at);
        for (index, c) in content.char_indices() {
            if scene.syntax.kind_at(text.next_boundary(start + index)) != Kind::Code
                && !matches!(c, '(' | ')' | '{' | '}')
            {
                continue;
            }
            depth += match c {
                '(' | '{' | '[' => 1,
                ')' | '}' | ']' => -1,
                _ => 0,
            };
        }
        let goes_on = depth > 0 || content.trim_end().ends_with(['\\', ',']);
        if !goes_on || at >= text.last_line() {
            return at;
        }
        at = at.next();
    }
    line
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::languages::by_name;
    use crate::structure::Known;
    use crate::text::Text;
    use crate::verbs::bare::with_bare_scene;

    fn sorted(language: &str, before: &str) -> String {
        let language = by_name(language).unwrap();
        let mut text = Text::from(before);
        let outcome = with_bare_scene((&text, &language), Known::NoGrammar, sort_imports);
        text.apply(&outcome.change);
        text.to_string()
    }

    #[test]
    fn statements_are_sorted_within_their_groups() {
        for (name, language, before, after) in [
            (
                "python",
                "python",
                "import tides\nimport berths\nfrom buoys import a\n\nimport z\nx = 1\n",
                "from buoys import a\nimport berths\nimport tides\n\nimport z\nx = 1\n",
            ),
            (
                "over_lines",
                "rust",
                "use b::{\n    c,\n    a,\n};\nuse a;\n\nfn main() {}\n",
                "use a;\nuse b::{\n    c,\n    a,\n};\n\nfn main() {}\n",
            ),
            (
                "twice",
                "c",
                "#include <b.h>\n#include <a.h>\n#include <b.h>\nint x;\n",
                "#include <a.h>\n#include <b.h>\nint x;\n",
            ),
            (
                "comment_goes_along",
                "typescript",
                "import b from 'b';\n// about a\nimport a from 'a';\n",
                "// about a\nimport a from 'a';\nimport b from 'b';\n",
            ),
            ("comment_of_the_file_stays", "python", "# Tides.\nimport b\nimport a\n", "# Tides.\nimport a\nimport b\n"),
            ("no_final_line_end", "python", "import b\nimport a", "import a\nimport b"),
            ("line_ends", "python", "import b\r\nimport a\r\n", "import a\r\nimport b\r\n"),
            (
                "in_a_string",
                "python",
                "x = \"\"\"\nimport b\nimport a\n\"\"\"\n",
                "x = \"\"\"\nimport b\nimport a\n\"\"\"\n",
            ),
            (
                "in_a_function",
                "python",
                "def f():\n    import b\n    import a\n",
                "def f():\n    import b\n    import a\n",
            ),
        ] {
            assert_eq!(sorted(language, before), after, "{name}");
        }
    }
}
