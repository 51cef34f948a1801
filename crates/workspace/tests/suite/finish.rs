//! Finishing statements, one row for each case. `‸` is a caret, `⏎` a line end, `→` a tab.

use crate::support::editor::{Call, Editor};

use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::languages;
use snarvel_core::languages::finish::Finish;
use snarvel_core::text::Text;
use snarvel_core::units::Byte;
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_workspace::registry::by_name;

/// What pressing so many times makes of `marked`.
fn finished(language: &str, marked: &str, times: u32) -> String {
    let (mut text, mut carets) = (String::new(), Vec::new());
    for c in marked.replace('⏎', "\n").replace('↵', "\r\n").replace('→', "\t").chars() {
        match c {
            '‸' => carets.push(Selection::caret(Byte(text.len()))),
            c => text.push(c),
        }
    }
    let language = languages::by_name(language).unwrap_or_else(|| panic!("no language {language}"));
    let mut editor = Editor::new(Text::from(text.as_str()), language);
    let last = carets.len() - 1;
    editor.set_cursors(CursorSet::of(carets, last));
    let verb = by_name("finish").unwrap();
    for _ in 0..times {
        editor.run(Call { verb, argument: "", times: 1, clip: &Clip::default(), now_ms: 0 });
        editor.assert_invariants();
    }
    let mut out = editor.text().to_string();
    for each in editor.cursors().list().iter().rev() {
        out.insert(each.head.0, '‸');
    }
    out.replace("\r\n", "↵").replace('\n', "⏎").replace('\t', "→")
}

type Row = (&'static str, &'static str, &'static str);

fn check(language: &str, rows: &[Row]) {
    let wrong: Vec<String> = rows
        .iter()
        .map(|(name, before, after)| (name, before, after, finished(language, before, 1)))
        .filter(|(_, _, after, is)| *after != is)
        .map(|(name, before, after, is)| format!("{language} {name}: {before}\n  wanted {after}\n  is     {is}"))
        .collect();
    assert!(wrong.is_empty(), "{} wrong:\n{}", wrong.len(), wrong.join("\n"));
}

#[test]
fn statements_of_rust() {
    check(
        "rust",
        &[
            ("a terminator", "    let level = 3‸", "    let level = 3;‸"),
            ("from the middle of the line", "let le‸vel = 3", "let level = 3;‸"),
            ("never twice", "a();‸", "a();⏎‸"),
            ("a second press goes on at the depth", "    a‸();", "    a();⏎    ‸"),
            ("an open bracket", "read(a, (b‸", "read(a, (b));‸"),
            ("an open square bracket", "let a = [1, 2‸", "let a = [1, 2];‸"),
            ("an open string ends with the line", "say(\"ebb‸⏎flow();", "say(\"ebb\");‸⏎flow();"),
            ("a raw string", "say(r#\"ebb‸⏎x();", "say(r#\"ebb\"#);‸⏎x();"),
            ("closed already by pairs", "say(\"ebb‸\")", "say(\"ebb\");‸"),
            ("before a comment", "a(b‸ // note", "a(b);‸ // note"),
            ("over several lines", "read(⏎    a‸,⏎    b,⏎)", "read(⏎    a,⏎    b,⏎);‸"),
            ("over several lines, whole already", "read(⏎    a‸,⏎);", "read(⏎    a,⏎);⏎‸"),
            ("what is below belongs to others", "fn f() {⏎    a(b‸⏎    c();⏎}", "fn f() {⏎    a(b);‸⏎    c();⏎}"),
            ("the end of a block is not taken", "fn f() {⏎    a(b‸⏎}", "fn f() {⏎    a(b);‸⏎}"),
            ("a header", "if a‸", "if a {⏎    ‸⏎}"),
            ("a header with an open bracket", "if a(b‸", "if a(b) {⏎    ‸⏎}"),
            ("a header deeper", "    while a‸", "    while a {⏎        ‸⏎    }"),
            ("a function", "pub(crate) async fn f(a: u8‸", "pub(crate) async fn f(a: u8) {⏎    ‸⏎}"),
            ("a type", "struct Tide‸", "struct Tide {⏎    ‸⏎}"),
            ("a header whose block is there", "if a {‸⏎    b();⏎}", "if a {⏎    ‸b();⏎}"),
            ("a header whose empty block is there", "if a {‸⏎    ⏎}", "if a {⏎    ‸⏎}"),
            ("a header whose block has no line", "if a {‸⏎}", "if a {⏎    ‸⏎}"),
            ("a block on the line", "if a ‸{ }", "if a { ‸}"),
            ("a label", "'out: loop‸", "'out: loop {⏎    ‸⏎}"),
            ("else", "if a {⏎} else‸", "if a {⏎} else {⏎    ‸⏎}"),
            ("else if", "if a {⏎} else if b‸", "if a {⏎} else if b {⏎    ‸⏎}"),
            ("a header inside a statement", "let a = match b‸", "let a = match b {⏎    ‸⏎};"),
            ("a value or else", "let Some(a) = b else‸", "let Some(a) = b else {⏎    ‸⏎};"),
            ("a result", "fn f(a: u8) -> Vec<u8>‸", "fn f(a: u8) -> Vec<u8> {⏎    ‸⏎}"),
            ("a trait for a type", "impl<T: Into<u8>> A<T> for B‸", "impl<T: Into<u8>> A<T> for B {⏎    ‸⏎}"),
            ("a chain over lines", "let a = b⏎    .c()⏎    .d(e‸", "let a = b⏎    .c()⏎    .d(e);‸"),
            ("a closure", "a.map(|b| b.c(d‸", "a.map(|b| b.c(d));‸"),
            ("a type of a name", "type A = Vec<u8>‸", "type A = Vec<u8>;‸"),
            ("an arm", "match a {⏎    b => c(d‸⏎}", "match a {⏎    b => c(d)‸⏎}"),
            ("a macro", "println!(\"{a}\"‸", "println!(\"{a}\");‸"),
            ("the end of a block", "if a {⏎    b();⏎}‸", "if a {⏎    b();⏎}⏎‸"),
            ("a value with braces", "let a = Tide { b: 1 }‸", "let a = Tide { b: 1 };‸"),
            ("a field is no statement", "struct Tide {⏎    level: u8,‸⏎}", "struct Tide {⏎    level: u8,⏎    ‸⏎}"),
            ("an attribute", "#[test]‸", "#[test]⏎‸"),
            ("a blank line", "    ‸", "    ⏎    ‸"),
            ("a comment", "// note‸", "// note⏎‸"),
            ("at the end of an operator", "let a = b +‸", "let a = b +⏎‸"),
            ("at two carets", "a(b‸⏎c(d‸", "a(b);‸⏎c(d);‸"),
            ("two carets in one statement", "a‸(b‸", "a(b);‸"),
            ("line ends of the text", "if a‸↵b();↵", "if a {↵    ‸↵}↵b();↵"),
            ("wide letters", "say(\"潮‸", "say(\"潮\");‸"),
        ],
    );
}

#[test]
fn statements_of_languages_with_braces() {
    check(
        "c",
        &[
            ("a call", "  puts(\"ebb‸", "  puts(\"ebb\");‸"),
            ("a function", "int main(void‸", "int main(void) {⏎    ‸⏎}"),
            ("a pointer", "char *name(int a)‸", "char *name(int a) {⏎    ‸⏎}"),
            ("a declaration in a function", "void f() {⏎    int a(3)‸⏎}", "void f() {⏎    int a(3);‸⏎}"),
            ("a condition", "if (a‸", "if (a) {⏎    ‸⏎}"),
            ("a body without a block", "if (a) b()‸", "if (a) b();‸"),
            ("a case", "switch (a) {⏎    case 1‸⏎}", "switch (a) {⏎    case 1:⏎        ‸⏎}"),
            ("a type", "struct tide‸", "struct tide {⏎    ‸⏎};"),
            ("a variable of a type", "struct tide low‸", "struct tide low;‸"),
            ("a line for the preprocessor", "#include <a.h>‸", "#include <a.h>⏎‸"),
            ("braces of their own", "int f()⏎{⏎    a();⏎}⏎int g()‸", "int f()⏎{⏎    a();⏎}⏎int g()⏎{⏎    ‸⏎}"),
            ("a block below", "int g()‸⏎{⏎    b();⏎}", "int g()⏎{⏎    ‸b();⏎}"),
            ("a field", "struct a {⏎    int b‸⏎};", "struct a {⏎    int b;‸⏎};"),
        ],
    );
    check(
        "java",
        &[
            ("a class", "public class Tide‸", "public class Tide {⏎    ‸⏎}"),
            (
                "a method",
                "class A {⏎    public void f(int a‸⏎}",
                "class A {⏎    public void f(int a) {⏎        ‸⏎    }⏎}",
            ),
            ("a call", "a.b(c‸", "a.b(c);‸"),
            ("a new value", "Tide low = new Tide(‸", "Tide low = new Tide();‸"),
            ("an annotation", "@Override‸", "@Override⏎‸"),
            ("a function among arguments", "each(a ->‸", "each(a -> {⏎    ‸⏎});"),
            ("catch", "try {⏎} catch (Exception e‸", "try {⏎} catch (Exception e) {⏎    ‸⏎}"),
        ],
    );
    check("csharp", &[("foreach", "foreach (var a in b‸", "foreach (var a in b) {⏎    ‸⏎}")]);
    check(
        "php",
        &[
            ("a call", "<?php⏎echo f($a‸", "<?php⏎echo f($a);‸"),
            ("a function", "<?php⏎function f($a‸", "<?php⏎function f($a) {⏎    ‸⏎}"),
        ],
    );
}

#[test]
fn statements_of_scripts_and_others_with_braces() {
    check(
        "javascript",
        &[
            ("a call", "a(b‸", "a(b);‸"),
            ("in a file without terminators", "const a = 1⏎const b = 2⏎read(a‸", "const a = 1⏎const b = 2⏎read(a)‸"),
            ("in a file with them", "const a = 1;⏎read(a‸", "const a = 1;⏎read(a);‸"),
            ("a function", "async function f(a‸", "async function f(a) {⏎    ‸⏎}"),
            ("an arrow", "const f = (a) =>‸", "const f = (a) => {⏎    ‸⏎};"),
            ("an arrow among arguments", "a.map((b) =>‸", "a.map((b) => {⏎    ‸⏎});"),
            ("a function among arguments", "on(\"ebb\", function (a‸", "on(\"ebb\", function (a) {⏎    ‸⏎});"),
            ("a part of an object", "const a = {⏎    b: 1,‸⏎};", "const a = {⏎    b: 1,⏎    ‸⏎};"),
            ("return", "return a(b‸", "return a(b);‸"),
            ("a template string", "a(`b‸⏎c();", "a(`b`);‸⏎c();"),
        ],
    );
    check(
        "typescript",
        &[
            ("an interface", "export interface Tide‸", "export interface Tide {⏎    ‸⏎}"),
            ("its members", "interface Tide {⏎    level: number‸⏎}", "interface Tide {⏎    level: number;‸⏎}"),
            (
                "its functions",
                "interface Tide {⏎    read(a: number): void‸⏎}",
                "interface Tide {⏎    read(a: number): void;‸⏎}",
            ),
        ],
    );
    check(
        "go",
        &[
            ("a call", "a(b‸", "a(b)‸"),
            ("a header", "→for i := range a‸", "→for i := range a {⏎→→‸⏎→}"),
            ("a function", "func f(a int‸", "func f(a int) {⏎→‸⏎}"),
            ("a type", "type Tide struct‸", "type Tide struct {⏎→‸⏎}"),
        ],
    );
    check("kotlin", &[("a function", "fun f(a: Int‸", "fun f(a: Int) {⏎    ‸⏎}"), ("a call", "f(b‸", "f(b)‸")]);
    check("swift", &[("guard", "guard a‸", "guard a else {⏎    ‸⏎}"), ("a call", "f(b‸", "f(b)‸")]);
    check(
        "zig",
        &[
            ("a function", "pub fn f(a: u8) void‸", "pub fn f(a: u8) void {⏎    ‸⏎}"),
            ("a statement", "const a = f(b‸", "const a = f(b);‸"),
        ],
    );
    check("dart", &[("a function", "void f(int a‸", "void f(int a) {⏎    ‸⏎}")]);
    check("scala", &[("an object", "object Tide‸", "object Tide {⏎    ‸⏎}")]);
    check("perl", &[("a sub", "sub f‸", "sub f {⏎    ‸⏎}"), ("a statement", "my $a = f(1‸", "my $a = f(1);‸")]);
    check("powershell", &[("a condition", "if ($a)‸", "if ($a) {⏎    ‸⏎}")]);
    check(
        "r",
        &[
            ("a loop", "for (a in b‸", "for (a in b) {⏎    ‸⏎}"),
            ("a function", "f <- function(a‸", "f <- function(a) {⏎    ‸⏎}"),
        ],
    );
}

#[test]
fn statements_of_languages_with_words() {
    check(
        "python",
        &[
            ("a header", "if a‸", "if a:⏎    ‸"),
            ("a header with its colon", "if a:‸", "if a:⏎    ‸"),
            ("a function", "    def f(self, a‸", "    def f(self, a):⏎        ‸"),
            ("an open bracket", "say(a, [1‸", "say(a, [1])‸"),
            ("an open string", "say(\"a‸", "say(\"a\")‸"),
            ("no terminator", "a = 1‸", "a = 1⏎‸"),
            ("a body is there", "if a‸⏎    b()", "if a:⏎    ‸b()"),
            ("a body on the line", "if a: b()‸", "if a: b()⏎‸"),
            ("else", "if a:⏎    b()⏎else‸", "if a:⏎    b()⏎else:⏎    ‸"),
            ("with its block", "if a:‸⏎    b()", "if a:⏎    ‸b()"),
            ("a dictionary", "a = {\"b\": 1‸", "a = {\"b\": 1}‸"),
            ("inside brackets", "a = f(⏎    g(1‸⏎)", "a = f(⏎    g(1)‸⏎)"),
            ("inside the brackets of a header", "if f(⏎    g(1‸⏎):⏎    h()", "if f(⏎    g(1)‸⏎):⏎    h()"),
            ("over lines", "a = f(⏎    1,‸⏎)", "a = f(⏎    1,⏎)⏎‸"),
        ],
    );
    check(
        "ruby",
        &[
            ("def", "def f(a‸", "def f(a)⏎    ‸⏎end"),
            ("a value", "a = if b‸", "a = if b⏎    ‸⏎end"),
            ("a call", "f(b‸", "f(b)‸"),
            ("else", "if a⏎    b⏎else‸⏎end", "if a⏎    b⏎else⏎    ‸⏎end"),
        ],
    );
    check(
        "lua",
        &[
            ("a condition", "if a‸", "if a then⏎    ‸⏎end"),
            ("a loop", "for i = 1, 3‸", "for i = 1, 3 do⏎    ‸⏎end"),
            ("a function", "local function f(a‸", "local function f(a)⏎    ‸⏎end"),
            ("an opener that is there", "if a then‸", "if a then⏎    ‸⏎end"),
        ],
    );
    check(
        "shell",
        &[
            ("a condition", "if [ -n \"$a\" ]‸", "if [ -n \"$a\" ]; then⏎    ‸⏎fi"),
            ("a loop", "for a in b‸", "for a in b; do⏎    ‸⏎done"),
            ("a case", "case $a‸", "case $a in⏎    ‸⏎esac"),
            ("a command", "echo \"a‸", "echo \"a\"‸"),
        ],
    );
    check("elixir", &[("def", "def f(a‸", "def f(a) do⏎    ‸⏎end"), ("a call", "f(a‸", "f(a)‸")]);
    check("julia", &[("a function", "function f(a‸", "function f(a)⏎    ‸⏎end")]);
    check(
        "sql",
        &[("a statement", "SELECT count(a‸", "SELECT count(a);‸"), ("never twice", "SELECT 1;‸", "SELECT 1;⏎‸")],
    );
    check("nim", &[("a loop", "for a in b‸", "for a in b:⏎    ‸")]);
    check("gdscript", &[("a function", "func f(a‸", "func f(a):⏎    ‸")]);
    check("toml", &[("closers only", "a = [1‸", "a = [1]‸")]);
}

#[test]
fn tags_and_rules() {
    check(
        "html",
        &[
            ("an open tag", "<div class=\"a\"‸", "<div class=\"a\">⏎    ‸⏎</div>"),
            ("an open attribute", "<div class=\"a‸", "<div class=\"a\">⏎    ‸⏎</div>"),
            ("a tag that closes itself", "<br‸", "<br>‸"),
            ("a whole tag", "<p>‸", "<p>⏎    ‸⏎</p>"),
            ("a tag with its closing one", "<p>‸⏎    text⏎</p>", "<p>⏎    ‸text⏎</p>"),
            ("an element on the line", "<p>text</p>‸", "<p>text</p>⏎‸"),
            ("inside another one", "<main>⏎    <p‸⏎</main>", "<main>⏎    <p>⏎        ‸⏎    </p>⏎</main>"),
            ("text", "text‸", "text⏎‸"),
        ],
    );
    check(
        "jsx",
        &[
            ("a tag", "return (⏎    <ul class=\"a\"‸⏎);", "return (⏎    <ul class=\"a\">⏎        ‸⏎    </ul>⏎);"),
            ("closed by itself", "return (⏎    <Gauge/>‸⏎);", "return (⏎    <Gauge/>⏎    ‸⏎);"),
        ],
    );
    check("xml", &[("no tag is void", "<br‸", "<br>⏎    ‸⏎</br>"), ("closed by itself", "<a/>‸", "<a/>⏎‸")]);
    check(
        "css",
        &[
            ("a selector", ".tide > a‸", ".tide > a {⏎    ‸⏎}"),
            ("a declaration", ".a {⏎    color: red‸⏎}", ".a {⏎    color: red;‸⏎}"),
            ("an open bracket", ".a {⏎    color: rgb(1, 2‸⏎}", ".a {⏎    color: rgb(1, 2);‸⏎}"),
            ("a condition", "@media print‸", "@media print {⏎    ‸⏎}"),
            ("a selector in one", "@media print {⏎    .a‸⏎}", "@media print {⏎    .a {⏎        ‸⏎    }⏎}"),
            ("a nested selector", ".a {⏎    &:hover‸⏎}", ".a {⏎    &:hover {⏎        ‸⏎    }⏎}"),
            ("an import", "@import \"a.css\"‸", "@import \"a.css\";‸"),
        ],
    );
}

#[test]
fn a_second_press_always_goes_on() {
    for (language, before, after) in [
        ("rust", "a(b‸", "a(b);⏎‸"),
        ("python", "a(b‸", "a(b)⏎‸"),
        ("c", "puts(\"a‸", "puts(\"a\");⏎‸"),
        ("html", "<br‸", "<br>⏎‸"),
    ] {
        assert_eq!(finished(language, before, 2), after, "{language}");
    }
}

#[test]
fn the_table_has_what_finishing_needs_for_many_languages() {
    let finished = languages::all().iter().filter(|language| language.finish != Finish::default()).count();
    assert!(finished >= 24, "{finished}");
    for language in languages::all() {
        let finish = &language.finish;
        let has_headers = !finish.headers.is_empty() || !finish.forms.is_empty();
        assert!(!has_headers || !finish.opens.is_empty() || !finish.closes.is_empty(), "{}", language.name);
    }
}
