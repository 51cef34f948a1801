//! What the verbs do with a grammar's tree, one row each.

use crate::support::check_parsed as check;

const UP: &str = "carry-statement-up";
const DOWN: &str = "carry-statement-down";

#[test]
fn elements_of_a_list_in_one_line() {
    check(
        "rust",
        &[
            ("argument", "fn a() {⏎    f(a, b|, c);⏎}⏎", DOWN, "fn a() {⏎    f(a, c, b|);⏎}⏎"),
            ("argument_up", "fn a() {⏎    f(a, b|, c);⏎}⏎", UP, "fn a() {⏎    f(b|, a, c);⏎}⏎"),
            ("last_stays", "fn a() {⏎    f(a, b, c|);⏎}⏎", DOWN, "fn a() {⏎    f(a, b, c|);⏎}⏎"),
            ("array", "const A: B = (1|, 2, 3);⏎", DOWN, "const A: B = (2, 1|, 3);⏎"),
            ("parameter", "fn a(b|: u8, c: u8) {}⏎", DOWN, "fn a(c: u8, b|: u8) {}⏎"),
            ("selected_argument", "fn a() {⏎    f([a|], b);⏎}⏎", DOWN, "fn a() {⏎    f(b, [a|]);⏎}⏎"),
        ],
    );
    check("json", &[("object", "{\"a\": 1|, \"b\": 2}", DOWN, "{\"b\": 2, \"a\": 1|}")]);
    check(
        "python",
        &[("tuple", "a = (b|, c)⏎", DOWN, "a = (c, b|)⏎"), ("keyword", "f(a|, b=1)⏎", DOWN, "f(b=1, a|)⏎")],
    );
    check("html", &[("attribute", "<a href=\"x\"| id=\"y\">b</a>", DOWN, "<a id=\"y\" href=\"x\"|>b</a>")]);
}

#[test]
fn statements_declarations_and_elements_on_their_own_lines() {
    check(
        "rust",
        &[
            ("statement", "fn a() {⏎    let| b = 1;⏎    c();⏎}⏎", DOWN, "fn a() {⏎    c();⏎    let| b = 1;⏎}⏎"),
            (
                "at_the_edge",
                "fn a() {⏎    b();⏎    let| c = 1;⏎}⏎fn d() {}⏎",
                DOWN,
                "fn a() {⏎    b();⏎    let| c = 1;⏎}⏎fn d() {}⏎",
            ),
            (
                "function_with_attributes_and_comments",
                "/// A.⏎/// B.⏎fn a|() {⏎    b();⏎}⏎⏎// C.⏎fn c() {}⏎",
                DOWN,
                "// C.⏎fn c() {}⏎⏎/// A.⏎/// B.⏎fn a|() {⏎    b();⏎}⏎",
            ),
            ("field", "struct A {⏎    b|: u8,⏎    c: u8⏎}⏎", DOWN, "struct A {⏎    c: u8,⏎    b|: u8⏎}⏎"),
            (
                "field_with_a_comment_behind",
                "struct A {⏎    b|: u8, // b⏎    c: u8⏎}⏎",
                DOWN,
                "struct A {⏎    c: u8,⏎    b|: u8 // b⏎}⏎",
            ),
            (
                "match_arm",
                "fn a() {⏎    match b {⏎        1| => c(),⏎        _ => d(),⏎    }⏎}⏎",
                DOWN,
                "fn a() {⏎    match b {⏎        _ => d(),⏎        1| => c(),⏎    }⏎}⏎",
            ),
            (
                "two_selected_statements",
                "fn a() {⏎[    b();⏎    c();⏎|]    d();⏎}⏎",
                DOWN,
                "fn a() {⏎    d();⏎    [b();⏎    c();|]⏎}⏎",
            ),
            ("no_final_end", "fn a() {}⏎fn b|() {}", UP, "fn b|() {}⏎fn a() {}"),
            ("crlf", "fn a|() {}↵↵fn b() {↵}↵", DOWN, "fn b() {↵}↵↵fn a|() {}↵"),
        ],
    );
    check(
        "python",
        &[
            ("statement", "def a():⏎    b|()⏎    c()⏎", DOWN, "def a():⏎    c()⏎    b|()⏎"),
            (
                "method_with_its_decorator",
                "class A:⏎    @x⏎    def b|(self):⏎        pass⏎⏎    def c(self):⏎        pass⏎",
                DOWN,
                "class A:⏎    def c(self):⏎        pass⏎⏎    @x⏎    def b|(self):⏎        pass⏎",
            ),
            ("list_without_a_last_comma", "a = {⏎    1|,⏎    2⏎}⏎", DOWN, "a = {⏎    2,⏎    1|⏎}⏎"),
        ],
    );
}

#[test]
fn elements_and_attributes_of_other_languages() {
    check("css", &[("declarations_in_one_line", "a { b|: c; d: e; }⏎", DOWN, "a { d: e; b|: c; }⏎")]);
    check("typescript", &[("imported_names", "import { b|, a } from \"x\";⏎", DOWN, "import { a, b| } from \"x\";⏎")]);
    check("tsx", &[("attribute", "const a = <p b|=\"1\" c=\"2\" />;⏎", DOWN, "const a = <p c=\"2\" b|=\"1\" />;⏎")]);
    check("xml", &[("attribute", "<a b|=\"1\" c=\"2\"/>⏎", DOWN, "<a c=\"2\" b|=\"1\"/>⏎")]);
    check("make", &[("rule", "a|: b⏎→c⏎⏎d: e⏎→f⏎", DOWN, "d: e⏎→f⏎⏎a|: b⏎→c⏎")]);
    check("sql", &[("value", "INSERT INTO t VALUES (1|, 2);⏎", DOWN, "INSERT INTO t VALUES (2, 1|);⏎")]);
    check("lua", &[("field", "local t = { a| = 1, b = 2 }⏎", DOWN, "local t = { b = 2, a| = 1 }⏎")]);
    check(
        "toml",
        &[
            ("table", "(a)|⏎", DOWN, "(a)|⏎"),
            ("key", "a| = { b = 1, c = 2 }⏎d = 1⏎", DOWN, "d = 1⏎a| = { b = 1, c = 2 }⏎"),
        ],
    );
    check("shell", &[("command", "a() {⏎  b|⏎  c⏎}⏎", DOWN, "a() {⏎  c⏎  b|⏎}⏎")]);
    check("ruby", &[("call", "def a⏎  b|⏎  c(1, 2)⏎end⏎", DOWN, "def a⏎  c(1, 2)⏎  b|⏎end⏎")]);
    check(
        "kotlin",
        &[(
            "method",
            "class A {⏎    fun b|() {}⏎⏎    fun c() {}⏎}⏎",
            DOWN,
            "class A {⏎    fun c() {}⏎⏎    fun b|() {}⏎}⏎",
        )],
    );
    check(
        "csharp",
        &[("member", "class A {⏎    int B|;⏎    void C() {}⏎}⏎", DOWN, "class A {⏎    void C() {}⏎    int B|;⏎}⏎")],
    );
    check("swift", &[("statement", "func a() {⏎    b|()⏎    c()⏎}⏎", DOWN, "func a() {⏎    c()⏎    b|()⏎}⏎")]);
    check("php", &[("statement", "<?php⏎f|();⏎g();⏎", DOWN, "<?php⏎g();⏎f|();⏎")]);
    check("zig", &[("statement", "fn a() void {⏎    b|();⏎    c();⏎}⏎", DOWN, "fn a() void {⏎    c();⏎    b|();⏎}⏎")]);
    check("elixir", &[("call", "def a do⏎  b|()⏎  c()⏎end⏎", DOWN, "def a do⏎  c()⏎  b|()⏎end⏎")]);
    check("r", &[("statement", "x| <- 1⏎y <- 2⏎", DOWN, "y <- 2⏎x| <- 1⏎")]);
}

#[test]
fn statements_of_other_languages() {
    check(
        "json",
        &[(
            "member",
            "{⏎  \"a\": 1|,⏎  \"b\": {⏎    \"c\": 2⏎  }⏎}⏎",
            DOWN,
            "{⏎  \"b\": {⏎    \"c\": 2⏎  },⏎  \"a\": 1|⏎}⏎",
        )],
    );
    check(
        "javascript",
        &[
            ("statement", "f|();⏎g();⏎", DOWN, "g();⏎f|();⏎"),
            ("member", "a = {⏎  b|: 1,⏎  c: 2,⏎};⏎", DOWN, "a = {⏎  c: 2,⏎  b|: 1,⏎};⏎"),
            ("method", "class A {⏎  b|() {}⏎⏎  c() {}⏎}⏎", DOWN, "class A {⏎  c() {}⏎⏎  b|() {}⏎}⏎"),
        ],
    );
    check(
        "c",
        &[
            ("statement", "int f(void) {⏎    a|();⏎    return 1;⏎}⏎", DOWN, "int f(void) {⏎    return 1;⏎    a|();⏎}⏎"),
            ("function", "int a|(void) {⏎}⏎int b(void) {⏎}⏎", DOWN, "int b(void) {⏎}⏎int a|(void) {⏎}⏎"),
        ],
    );
    check(
        "css",
        &[
            ("declaration", "a {⏎  b|: c;⏎  d: e;⏎}⏎", DOWN, "a {⏎  d: e;⏎  b|: c;⏎}⏎"),
            ("rule", "a| {}⏎b {}⏎", DOWN, "b {}⏎a| {}⏎"),
        ],
    );
    check(
        "html",
        &[("list_item", "<ul>⏎  <li>a|</li>⏎  <li>b</li>⏎</ul>⏎", DOWN, "<ul>⏎  <li>b</li>⏎  <li>a|</li>⏎</ul>⏎")],
    );
    check("yaml", &[("key", "a|: 1⏎b:⏎  c: 2⏎", DOWN, "b:⏎  c: 2⏎a|: 1⏎"), ("item", "- a|⏎- b⏎", DOWN, "- b⏎- a|⏎")]);
    check("toml", &[("pair", "a| = 1⏎b = 2⏎", DOWN, "b = 2⏎a| = 1⏎")]);
    check("go", &[("statement", "func a() {⏎→b|()⏎→c()⏎}⏎", DOWN, "func a() {⏎→c()⏎→b|()⏎}⏎")]);
    check(
        "java",
        &[(
            "method",
            "class A {⏎    void b|() {}⏎⏎    void c() {}⏎}⏎",
            DOWN,
            "class A {⏎    void c() {}⏎⏎    void b|() {}⏎}⏎",
        )],
    );
    check("sql", &[("column", "SELECT⏎    a|,⏎    b⏎FROM t;⏎", DOWN, "SELECT⏎    b,⏎    a|⏎FROM t;⏎")]);
    check("lua", &[("statement", "function f()⏎    a|()⏎    b()⏎end⏎", DOWN, "function f()⏎    b()⏎    a|()⏎end⏎")]);
    check("markdown", &[("item", "- a|⏎- b⏎", DOWN, "- b⏎- a|⏎")]);
}

#[test]
fn widening_and_blocks_by_nodes() {
    check(
        "csharp",
        &[(
            "a_namespace_is_a_block",
            "namespace A {⏎    class B {⏎        int c|;⏎    }⏎}⏎d();",
            "select-block select-outer-block",
            "[namespace A {⏎    class B {⏎        int c;⏎    }⏎}⏎|]d();",
        )],
    );
    check(
        "typescript",
        &[(
            "members_of_different_lengths_at_every_cursor",
            "f({n: 1, |c: 2}, {|c: g(1,⏎2,⏎3), n: 4});",
            "widen widen delete-selected",
            "f({n: 1, |}, {|, n: 4});",
        )],
    );
    check(
        "rust",
        &[
            ("statement_then_block", "fn a() {⏎    let b = c|;⏎}⏎", "widen widen", "fn a() {⏎    [let b = c;|]⏎}⏎"),
            (
                "and_back",
                "fn a() {⏎    let b = c|;⏎}⏎",
                "widen widen widen narrow narrow",
                "fn a() {⏎    let b = [c|];⏎}⏎",
            ),
            (
                "to_the_function",
                "use x;⏎⏎fn a() {⏎⏎    b|();⏎}⏎⏎fn c() {}⏎",
                "block-back",
                "use x;⏎⏎|fn a() {⏎⏎    b();⏎}⏎⏎fn c() {}⏎",
            ),
            (
                "to_the_next_function",
                "use x|;⏎⏎fn a() {⏎⏎    b();⏎}⏎⏎fn c() {}⏎",
                "block-forward block-forward",
                "use x;⏎⏎fn a() {⏎⏎    b();⏎}⏎⏎|fn c() {}⏎",
            ),
            ("function", "fn a() {⏎⏎    b|();⏎}⏎⏎fn c() {}⏎", "select-block", "[fn a() {⏎⏎    b();⏎}⏎|]⏎fn c() {}⏎"),
            (
                "outer",
                "impl A {⏎    fn a() {⏎        b|();⏎    }⏎}⏎⏎x!();⏎",
                "select-outer-block select-outer-block",
                "[impl A {⏎    fn a() {⏎        b();⏎    }⏎}⏎|]⏎x!();⏎",
            ),
            (
                "outside_of_functions_a_paragraph",
                "use a;⏎use b|;⏎⏎fn c() {}⏎",
                "select-block",
                "[use a;⏎use b;⏎|]⏎fn c() {}⏎",
            ),
        ],
    );
    check(
        "python",
        &[(
            "method",
            "class A:⏎    def b(self):⏎        x = 1⏎⏎        return| x⏎",
            "select-block",
            "class A:⏎[    def b(self):⏎        x = 1⏎⏎        return x⏎|]",
        )],
    );
}

#[test]
fn what_stands_between_tags_has_its_own_marks() {
    let rows: &[(&str, &str, &str, &str)] = &[
        (
            "child",
            "const a = (⏎  <p>⏎    <b>x|</b>⏎  </p>⏎);⏎",
            "comment-toggle",
            "const a = (⏎  <p>⏎    {/* <b>x|</b> */}⏎  </p>⏎);⏎",
        ),
        (
            "child_off",
            "const a = (⏎  <p>⏎    {/* <b>x|</b> */}⏎  </p>⏎);⏎",
            "comment-toggle",
            "const a = (⏎  <p>⏎    <b>x|</b>⏎  </p>⏎);⏎",
        ),
        ("text", "const a = <p>⏎  some| text⏎</p>;⏎", "comment-toggle", "const a = <p>⏎  {/* some| text */}⏎</p>;⏎"),
        ("code_around", "f|();⏎const a = <p>⏎  x⏎</p>;⏎", "comment-toggle", "// f|();⏎const a = <p>⏎  x⏎</p>;⏎"),
        (
            "code_inside",
            "const a = <p>{b.map((c) => {⏎  d|(c);⏎})}</p>;⏎",
            "comment-toggle",
            "const a = <p>{b.map((c) => {⏎  // d|(c);⏎})}</p>;⏎",
        ),
        (
            "several_and_back",
            "const a = (⏎  <p>⏎[    <b/>⏎    <i/>|]⏎  </p>⏎);⏎",
            "comment-toggle comment-toggle",
            "const a = (⏎  <p>⏎[    <b/>⏎    <i/>|]⏎  </p>⏎);⏎",
        ),
    ];
    check("tsx", rows);
    check("jsx", rows);
}

const STATEMENT: &str = "select-statement";

#[test]
fn the_whole_statement_is_selected_from_wherever_in_it() {
    check(
        "rust",
        &[
            (
                "nested_argument",
                "fn a() {⏎    b(c(d|, 1), 2);⏎    e();⏎}⏎",
                STATEMENT,
                "fn a() {⏎    [b(c(d, 1), 2);|]⏎    e();⏎}⏎",
            ),
            ("one_argument", "fn a() {⏎    b(c|);⏎}⏎", STATEMENT, "fn a() {⏎    [b(c);|]⏎}⏎"),
            ("let", "fn a() {⏎    let b = (1, 2|);⏎}⏎", STATEMENT, "fn a() {⏎    [let b = (1, 2);|]⏎}⏎"),
            ("in_the_indentation", "fn a() {⏎  |  b();⏎}⏎", STATEMENT, "fn a() {⏎    [b();|]⏎}⏎"),
            (
                "condition",
                "fn a() {⏎    if b| {⏎        c();⏎    }⏎}⏎",
                STATEMENT,
                "fn a() {⏎    [if b {⏎        c();⏎    }|]⏎}⏎",
            ),
            (
                "inside_the_if",
                "fn a() {⏎    if b {⏎        c|();⏎    }⏎}⏎",
                STATEMENT,
                "fn a() {⏎    if b {⏎        [c();|]⏎    }⏎}⏎",
            ),
            (
                "value_of_a_block",
                "fn a() -> u8 {⏎    b();⏎    c|(1)⏎}⏎",
                STATEMENT,
                "fn a() -> u8 {⏎    b();⏎    [c(1)|]⏎}⏎",
            ),
            (
                "on_a_comment_the_one_below",
                "fn a() {⏎    // x|y⏎    b();⏎}⏎",
                STATEMENT,
                "fn a() {⏎    // xy⏎    [b();|]⏎}⏎",
            ),
        ],
    );
    check(
        "python",
        &[
            ("nested", "def a():⏎    b(c(d|), 1)⏎    e()⏎", STATEMENT, "def a():⏎    [b(c(d), 1)|]⏎    e()⏎"),
            ("top_level", "x = f(1|)⏎y = 2⏎", STATEMENT, "[x = f(1)|]⏎y = 2⏎"),
        ],
    );
    check(
        "javascript",
        &[
            ("in_an_object", "f({ a: 1|, b: 2 });⏎g();⏎", STATEMENT, "[f({ a: 1, b: 2 });|]⏎g();⏎"),
            ("in_a_callback", "f(() => {⏎  g(1|);⏎});⏎", STATEMENT, "f(() => {⏎  [g(1);|]⏎});⏎"),
        ],
    );
    check("c", &[("declaration", "int a() {⏎  int b = c(1|);⏎}⏎", STATEMENT, "int a() {⏎  [int b = c(1);|]⏎}⏎")]);
    check("text", &[("without_a_tree_the_line", "  ebb fl|ow⏎slack⏎", STATEMENT, "  [ebb flow|]⏎slack⏎")]);
}

#[test]
fn each_row_carries_its_own_element() {
    check(
        "rust",
        &[("rows", "fn a() {⏎    f(a|, b);⏎    g(c|, d);⏎}⏎", DOWN, "fn a() {⏎    f(b, a|);⏎    g(d, c|);⏎}⏎")],
    );
    check("python", &[("rows", "f(a, b|)⏎g(c, d|)⏎", UP, "f(b|, a)⏎g(d|, c)⏎")]);
}
