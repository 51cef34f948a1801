//! What a name belongs to, and blocks with what is above them, one row each.

use crate::support::check_parsed as check;

const RENAME: &str = "rename-here";

#[test]
fn fields_keys_and_labels_are_no_locals() {
    check(
        "python",
        &[(
            "python",
            "def f(le|vel, o):⏎    g(o.level, level=level)⏎    return f\"{level} level {o.level}\"⏎",
            RENAME,
            "def f([level|], o):⏎    g(o.level, level=[level|])⏎    return f\"{[level|]} level {o.level}\"⏎",
        )],
    );
    check(
        "javascript",
        &[
            (
                "javascript",
                "function f(le|vel, o) {⏎  g({ level: level, a: o.level });⏎  return `${level} $level`;⏎}⏎",
                RENAME,
                "function f([level|], o) {⏎  g({ level: [level|], a: o.level });⏎  return `${[level|]} $level`;⏎}⏎",
            ),
            (
                "shorthand",
                "function f(le|vel) {⏎  return { level };⏎}⏎",
                "rename-here type-text(depth)",
                "function f(depth|) {⏎  return { level: depth| };⏎}⏎",
            ),
        ],
    );
    check(
        "jsx",
        &[(
            "markup",
            "function F({ le|vel }) {⏎  return <A level={level} b=\"level\">level</A>;⏎}⏎",
            RENAME,
            "function F({ level: [level|] }) {⏎  return <A level={[level|]} b=\"level\">level</A>;⏎}⏎",
        )],
    );
    check(
        "rust",
        &[
            (
                "rust",
                "fn f(le|vel: u8) {⏎    g(R { level, a: x.level }, z::level, \"{level}\");⏎}⏎",
                RENAME,
                "fn f([level|]: u8) {⏎    g(R { level: [level|], a: x.level }, z::level, \"{[level|]}\");⏎}⏎",
            ),
            (
                "a_field",
                "fn f() {⏎    a.le|vel + level + b.level;⏎}⏎",
                RENAME,
                "fn f() {⏎    a.[level|] + level + b.[level|];⏎}⏎",
            ),
        ],
    );
    check(
        "go",
        &[(
            "go",
            "func f(le|vel int) T {⏎→return T{level: level}⏎}⏎",
            RENAME,
            "func f([level|] int) T {⏎→return T{level: [level|]}⏎}⏎",
        )],
    );
    check(
        "c",
        &[(
            "c",
            "int f(int le|vel) {⏎  o->level = level;⏎  goto level;⏎}⏎",
            RENAME,
            "int f(int [level|]) {⏎  o->level = [level|];⏎  goto level;⏎}⏎",
        )],
    );
}

#[test]
fn names_in_strings_and_blocks() {
    check(
        "kotlin",
        &[(
            "kotlin",
            "fun f(le|vel: Int) {⏎    g(level = level, a = \"$level\")⏎}⏎",
            RENAME,
            "fun f([level|]: Int) {⏎    g(level = [level|], a = \"$[level|]\")⏎}⏎",
        )],
    );
    check(
        "python",
        &[(
            "in_block",
            "def f(le|vel):⏎    return o.level + level⏎",
            "take-all-in-block",
            "def f([level|]):⏎    return o.level + [level|]⏎",
        )],
    );
}

#[test]
fn a_block_has_what_is_above_it() {
    check(
        "rust",
        &[
            (
                "only_what_is_directly_above",
                "a();⏎⏎/// A⏎c!();⏎fn f() {⏎    |b();⏎}⏎",
                "select-block",
                "a();⏎⏎/// A⏎c!();⏎[fn f() {⏎    b();⏎}⏎|]",
            ),
            ("comments", "a();⏎⏎/// A⏎fn f() {⏎    |b();⏎}⏎", "select-block", "a();⏎⏎[/// A⏎fn f() {⏎    b();⏎}⏎|]"),
            ("from_the_comment", "/// A|⏎fn f() {⏎    b();⏎}⏎", "select-block", "[/// A⏎fn f() {⏎    b();⏎}⏎|]"),
            (
                "duplicated",
                "/// A⏎fn f() {⏎    |b();⏎}⏎",
                "select-block duplicate-down",
                "/// A⏎fn f() {⏎    b();⏎}⏎[/// A⏎fn f() {⏎    b();⏎}⏎|]",
            ),
        ],
    );
    check(
        "python",
        &[
            ("decorators", "# A⏎@b⏎def f():⏎    |c()⏎", "select-block", "[# A⏎@b⏎def f():⏎    c()⏎|]"),
            ("loose_lines", "a = 1⏎⏎# B⏎b| = 2⏎c = 3⏎⏎d⏎", "select-block", "a = 1⏎⏎[# B⏎b = 2⏎c = 3⏎|]⏎d⏎"),
            ("then_the_file", "a⏎⏎b|⏎⏎d⏎", "select-outer-block select-outer-block", "[a⏎⏎b⏎⏎d⏎|]"),
        ],
    );
}

#[test]
fn lines_stay_touched_while_they_move() {
    check(
        "text",
        &[
            ("the_end_comes_to_the_first_column", "[        a⏎  |]      b⏎c", "3*outdent", "[a⏎|]b⏎c"),
            ("press_by_press", "[    a⏎ |]   b⏎c", "outdent indent indent", "[        a⏎|]        b⏎c"),
            ("what_follows_too", "[  a⏎ |] b⏎c", "outdent delete-lines", "|c"),
            ("only_at_once", "[    a⏎ |]   b⏎c", "outdent line-down delete-lines", "a⏎|b"),
        ],
    );
}
