//! A test: what each shipped template makes is right by the grammar of its language, at the depth of the file and two deeper.

use crate::grammars::{Grammar, MARKUP, NAMES};
use snarvel_core::templates::{self, Setting, Template, Variable};
use snarvel_core::text::LineEnd;
use snarvel_core::text::indent::IndentUnit;
use tree_sitter::Parser;

/// Languages, and texts that a template of them is put into in place of `@`: at depth 0, and at depth 2. A declaration may not be where
/// a statement may: one of each list has to hold. A tab is a step of indentation.
type Hosts = (&'static [&'static str], &'static [&'static str], &'static [&'static str]);

const HOSTS: &[Hosts] = &[
    (
        &["rust"],
        &["@\n", "fn host() {\n@\n}\n", "type Host = @;\n"],
        &[
            "mod a {\n\tmod b {\n\t\t@\n\t}\n}\n",
            "fn a() {\n\tif true {\n\t\t@\n\t}\n}\n",
            "fn a() {\n\t{\n\t\tlet a: @;\n\t}\n}\n",
        ],
    ),
    (&["c"], &["@\n", "void host(void)\n{\n@\n}\n"], &["void a(void)\n{\n\tif (b) {\n\t\t@\n\t}\n}\n"]),
    (
        &["cpp"],
        &["@\n", "void host()\n{\n@\n}\n", "@ host;\n"],
        &[
            "void a() {\n\tif (b) {\n\t\t@\n\t}\n}\n",
            "void a() {\n\tif (b) {\n\t\t@ c;\n\t}\n}\n",
            "namespace a {\n\tnamespace b {\n\t\t@\n\t}\n}\n",
        ],
    ),
    (
        &["csharp"],
        &["@\n", "class Host {\n@\n}\n", "class Host { @ field; }\n"],
        &[
            "class A {\n\tvoid B() {\n\t\t@\n\t}\n}\n",
            "class A {\n\tclass B {\n\t\t@\n\t}\n}\n",
            "class A {\n\tvoid B() {\n\t\t@ c;\n\t}\n}\n",
            "\t\t@\n",
        ],
    ),
    (
        &["java"],
        &["@\n", "class Host {\n@\n}\n", "class Host { @ field; }\n"],
        &[
            "class A {\n\tvoid b() {\n\t\t@\n\t}\n}\n",
            "class A {\n\tclass B {\n\t\t@\n\t}\n}\n",
            "class A {\n\tvoid b() {\n\t\t@ c;\n\t}\n}\n",
            "\t\t@\n",
        ],
    ),
    (
        &["kotlin"],
        &["@\n", "fun host() {\n@\n}\n", "val host: @ = a\n"],
        &[
            "fun a() {\n\tif (b) {\n\t\t@\n\t}\n}\n",
            "class A {\n\tclass B {\n\t\t@\n\t}\n}\n",
            "fun a() {\n\tif (b) {\n\t\tval c: @ = d\n\t}\n}\n",
            "\t\t@\n",
        ],
    ),
    (
        &["go"],
        &["package p\n\n@\n", "package p\n\nfunc host() {\n@\n}\n", "package p\n\nvar host @\n"],
        &[
            "package p\n\nfunc a() {\n\tif b {\n\t\t@\n\t}\n}\n",
            "package p\n\n\t\t@\n",
            "package p\n\nfunc a() {\n\tif b {\n\t\tvar c @\n\t}\n}\n",
        ],
    ),
    (&["javascript"], &["@\n"], &["function a() {\n\tif (b) {\n\t\t@\n\t}\n}\n", "\t\t@\n"]),
    (&["jsx"], &["@\n"], &["function a() {\n\tif (b) {\n\t\t@\n\t}\n}\n", "\t\t@\n"]),
    (
        &["typescript", "tsx"],
        &["@\n", "let host: @;\n"],
        &[
            "function a() {\n\tif (b) {\n\t\t@\n\t}\n}\n",
            "\t\t@\n",
            "function a() {\n\tif (b) {\n\t\tlet c: @;\n\t}\n}\n",
        ],
    ),
    (&["python"], &["@\n"], &["class A:\n\tdef b(self):\n\t\t@\n"]),
    (MARKUP, &["@\n"], &["<main>\n\t<div>\n\t\t@\n\t</div>\n</main>\n"]),
    (
        &["css"],
        &["@\n", ".host {\n@\n}\n"],
        &["@media a {\n\t@media b {\n\t\t@\n\t}\n}\n", "@media a {\n\t.b {\n\t\t@\n\t}\n}\n", "\t\t@\n"],
    ),
    (
        &["json", "jsonc"],
        &["@\n", "@ {}\n"],
        &["{\n\t\"a\": [\n\t\t@\n\t]\n}\n", "{\n\t\"a\": [\n\t\t@\n\t\tnull\n\t]\n}\n"],
    ),
    (&["toml"], &["@\n"], &["\t\t@\n"]),
    (&["yaml"], &["@\n", "@\na: b\n"], &["a:\n\tb:\n\t\t@\n", "a:\n\tb:\n\t\t@\n\t\tc: d\n"]),
    (&["shell"], &["@\n"], &["if a; then\n\twhile b; do\n\t\t@\n\tdone\nfi\n"]),
    (&["sql"], &["@\n", "SELECT\n@\nFROM a;\n"], &["\t\t@\n", "SELECT\n\t\t@\nFROM a;\n"]),
    (&["lua"], &["@\n"], &["if a then\n\twhile b do\n\t\t@\n\tend\nend\n"]),
    (&["ruby"], &["@\n"], &["class A\n\tdef b\n\t\t@\n\tend\nend\n", "module A\n\tmodule B\n\t\t@\n\tend\nend\n"]),
    (
        &["php"],
        &["<?php\n@\n", "<?php\nclass Host {\n@\n}\n"],
        &[
            "<?php\nfunction a() {\n\tif ($b) {\n\t\t@\n\t}\n}\n",
            "<?php\nif ($a) {\n\tclass B {\n\t\t@\n\t}\n}\n",
            "<?php\n\t\t@\n",
        ],
    ),
    (&["markdown"], &["@\n"], &["- a\n  - b\n\n    @\n"]),
    (&["xml"], &["@\n", "<host>\n@\n</host>\n", "@\n<host/>\n"], &["<a>\n\t<b>\n\t\t@\n\t</b>\n</a>\n", "\t\t@\n"]),
    (&["make"], &["@\n"], &["ifdef A\nifdef B\n@\nendif\nendif\n"]),
    (
        &["swift"],
        &["@\n", "class Host {\n@\n}\n"],
        &["func a() {\n\tif b {\n\t\t@\n\t}\n}\n", "class A {\n\tclass B {\n\t\t@\n\t}\n}\n"],
    ),
    (
        &["zig"],
        &["@\n", "fn host() void {\n@\n}\n"],
        &["fn a() void {\n\tif (b) {\n\t\t@\n\t}\n}\n", "const A = struct {\n\tconst B = struct {\n\t\t@\n\t};\n};\n"],
    ),
    (&["elixir"], &["@\n"], &["defmodule A do\n\tdef b do\n\t\t@\n\tend\nend\n"]),
    (&["r"], &["@\n"], &["a <- function() {\n\tif (b) {\n\t\t@\n\t}\n}\n"]),
];

fn hosts(language: &str) -> [&'static [&'static str]; 2] {
    let (_, shallow, deep) =
        HOSTS.iter().find(|(names, ..)| names.contains(&language)).expect("hosts for every language");
    [shallow, deep]
}

const MARKUP_LINES: &str = "<b>a</b>\n<i>b</i>";

/// Lines that a template goes around, by language: something that is right there.
fn lines_of(language: &str) -> &'static str {
    match language {
        "xml" => MARKUP_LINES,
        name if MARKUP.contains(&name) => MARKUP_LINES,
        "css" => ".a { color: red; }\n.b { color: blue; }",
        "json" | "jsonc" => "1",
        "toml" => "a = 1\nb = 2",
        "yaml" => "a: 1\nb: 2",
        "sql" => "SELECT a\nFROM b",
        "markdown" => "one\ntwo",
        "make" => "A := 1\nB := 2",
        "python" | "ruby" | "lua" | "elixir" | "kotlin" | "swift" | "go" | "r" => "a()\nb()",
        "shell" => "echo a\necho b",
        _ => "a();\nb();",
    }
}

fn filled(template: &Template, (unit, depth): (IndentUnit, usize), selected: Option<&str>) -> String {
    let variable = |name: &str| match (name, selected) {
        ("TM_SELECTED_TEXT", Some(lines)) => Variable::Value(lines.to_owned()),
        ("TM_SELECTED_TEXT", None) => Variable::Unset,
        ("TODAY", _) => Variable::Value("2026-11-28".to_owned()),
        ("TM_FILENAME", _) => Variable::Value("gauges".to_owned()),
        ("TM_FILENAME_BASE", _) => Variable::Value("Gauges".to_owned()),
        _ => Variable::Unknown,
    };
    let indentation = unit.text().repeat(depth);
    template
        .body
        .fill(&Setting {
            indentation: &indentation,
            unit,
            line_end: LineEnd::Lf,
            at_last_stop: None,
            variable: &variable,
        })
        .text
}

/// Whether the grammar takes all of `source`.
fn is_right(parser: &mut Parser, source: &str) -> bool {
    parser.parse(source, None).is_some_and(|tree| !tree.root_node().has_error())
}

/// What of `template` no host takes.
fn wrong(parser: &mut Parser, language: &str, template: &Template) -> Vec<String> {
    let mut wrong = Vec::new();
    let [shallow, deep] = hosts(language);
    let units = [IndentUnit::Tab, IndentUnit::Spaces(4)];
    // White space has a meaning of its own in some.
    let units = match language {
        "yaml" | "markdown" => &units[1..],
        "make" => &units[..1],
        _ => &units[..],
    };
    let selections: &[Option<&str>] = if template.is_around { &[None, Some(lines_of(language))] } else { &[None] };
    for unit in units {
        for (hosts, depth) in [(shallow, 0), (deep, 2)] {
            let depth = if matches!(language, "make" | "markdown") { 0 } else { depth };
            for selected in selections {
                let text = filled(template, (*unit, depth), *selected);
                let in_host = |host: &str| host.replace('\t', &unit.text()).replacen('@', &text, 1);
                if !hosts.iter().any(|host| is_right(parser, &in_host(host))) {
                    wrong.push(format!("{language} {} at depth {depth}, {unit:?}:\n{text}\n", template.name));
                }
            }
        }
    }
    wrong
}

#[test]
fn every_template_is_right_by_its_grammar() {
    let mut all_wrong = Vec::new();
    for language in NAMES {
        let grammar = Grammar::of(language).unwrap();
        let mut parser = Parser::new();
        parser.set_language(&grammar.language).unwrap();
        let templates = templates::shipped(language);
        assert!(!templates.is_empty(), "{language} has no templates");
        all_wrong.extend(templates.iter().flat_map(|template| wrong(&mut parser, language, template)));
    }
    assert!(all_wrong.is_empty(), "{} are wrong:\n{}", all_wrong.len(), all_wrong.join("\n"));
}

/// What each language has something for, by the words that find it.
const WANTED: [&str; 9] = ["loop", "condition", "function", "type", "test", "main", "import", "print", "header"];

/// Data and markup have the nearest that they have.
const DATA: [&str; 4] = ["json", "jsonc", "toml", "yaml"];

#[test]
fn every_language_has_something_for_everything() {
    for language in NAMES.iter().filter(|name| !DATA.contains(name)) {
        let templates = templates::shipped(language);
        let has = |wanted: &str| {
            templates.iter().any(|each| each.name == wanted || each.words.iter().any(|word| word == wanted))
        };
        let missing: Vec<&str> = WANTED.into_iter().filter(|wanted| !has(wanted)).collect();
        let markup = ["css", "markdown", "xml", "sql", "make"].contains(language) || MARKUP.contains(language);
        assert!(markup && missing.len() <= 3 || missing.is_empty(), "{language} lacks {missing:?}");
    }
    for language in NAMES {
        let around = templates::shipped(language).iter().filter(|template| template.is_around).count();
        let least = if language.starts_with("json") { 2 } else { 3 };
        assert!(around >= least, "{language} has {around} that go around lines");
    }
}
