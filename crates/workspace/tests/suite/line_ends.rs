//! Every line verb on a file without a final line end, with CR LF, and with both kinds of line ends.

use crate::support::act;
use snarvel_workspace::registry::VERBS;

const UNENDED: &str = "x⏎  b b⏎  a⏎[  b b⏎  a|]";
const CRLF: &str = "x↵[  b b↵  a↵  a|]↵  c↵";
const MIXED: &str = "x⏎[  b b↵  a⏎  a|]↵  c⏎";

/// Verb, text before, text after.
#[rustfmt::skip]
const ROWS: &[(&str, &str, &str)] = &[
    ("open-above", UNENDED, "x⏎  b b⏎  a⏎  |⏎  b b⏎  a"),
    ("open-above", CRLF, "x↵  |↵  b b↵  a↵  a↵  c↵"),
    ("open-above", MIXED, "x⏎  |⏎  b b↵  a⏎  a↵  c⏎"),
    ("open-below", UNENDED, "x⏎  b b⏎  a⏎  b b⏎  a⏎  |"),
    ("open-below", CRLF, "x↵  b b↵  a↵  a↵  |↵  c↵"),
    ("open-below", MIXED, "x⏎  b b↵  a⏎  a↵  |⏎  c⏎"),
    ("blank-above", UNENDED, "x⏎  b b⏎  a⏎⏎[  b b⏎  a|]"),
    ("blank-above", CRLF, "x↵↵[  b b↵  a↵  a|]↵  c↵"),
    ("blank-above", MIXED, "x⏎⏎[  b b↵  a⏎  a|]↵  c⏎"),
    ("blank-below", UNENDED, "x⏎  b b⏎  a⏎[  b b⏎  a|]⏎"),
    ("blank-below", CRLF, "x↵[  b b↵  a↵  a|]↵↵  c↵"),
    ("blank-below", MIXED, "x⏎[  b b↵  a⏎  a|]↵⏎  c⏎"),
    ("carry-up", UNENDED, "x⏎  b b⏎[  b b⏎  a|]⏎  a"),
    ("carry-up", CRLF, "[  b b↵  a↵  a|]↵x↵  c↵"),
    ("carry-up", MIXED, "[  b b⏎  a↵  a|]⏎x↵  c⏎"),
    ("carry-down", UNENDED, "x⏎  b b⏎  a⏎[  b b⏎  a|]"),
    ("carry-down", CRLF, "x↵  c↵[  b b↵  a↵  a|]↵"),
    ("carry-down", MIXED, "x⏎  c↵[  b b⏎  a↵  a|]⏎"),
    ("carry-statement-up", UNENDED, "x⏎  b b⏎[  b b⏎  a|]⏎  a"),
    ("carry-statement-up", CRLF, "[  b b↵  a↵  a|]↵x↵  c↵"),
    ("carry-statement-up", MIXED, "[  b b⏎  a↵  a|]⏎x↵  c⏎"),
    ("carry-statement-down", UNENDED, "x⏎  b b⏎  a⏎[  b b⏎  a|]"),
    ("carry-statement-down", CRLF, "x↵  c↵[  b b↵  a↵  a|]↵"),
    ("carry-statement-down", MIXED, "x⏎  c↵[  b b⏎  a↵  a|]⏎"),
    ("duplicate-up", UNENDED, "x⏎  b b⏎  a⏎[  b b⏎  a|]⏎  b b⏎  a"),
    ("duplicate-up", CRLF, "x↵[  b b↵  a↵  a|]↵  b b↵  a↵  a↵  c↵"),
    ("duplicate-up", MIXED, "x⏎[  b b⏎  a⏎  a|]⏎  b b↵  a⏎  a↵  c⏎"),
    ("duplicate-down", UNENDED, "x⏎  b b⏎  a⏎  b b⏎  a⏎[  b b⏎  a|]"),
    ("duplicate-down", CRLF, "x↵  b b↵  a↵  a↵[  b b↵  a↵  a|]↵  c↵"),
    ("duplicate-down", MIXED, "x⏎  b b↵  a⏎  a↵[  b b⏎  a⏎  a|]⏎  c⏎"),
    ("duplicate-text-before", UNENDED, "x⏎  b b⏎  a⏎[  b b⏎  a|]  b b⏎  a"),
    ("duplicate-text-before", CRLF, "x↵[  b b↵  a↵  a|]  b b↵  a↵  a↵  c↵"),
    ("duplicate-text-before", MIXED, "x⏎[  b b↵  a⏎  a|]  b b↵  a⏎  a↵  c⏎"),
    ("duplicate-text-after", UNENDED, "x⏎  b b⏎  a⏎  b b⏎  a[  b b⏎  a|]"),
    ("duplicate-text-after", CRLF, "x↵  b b↵  a↵  a[  b b↵  a↵  a|]↵  c↵"),
    ("duplicate-text-after", MIXED, "x⏎  b b↵  a⏎  a[  b b↵  a⏎  a|]↵  c⏎"),
    ("delete-lines", UNENDED, "x⏎  b b⏎  a|"),
    ("delete-lines", CRLF, "x↵  c|↵"),
    ("delete-lines", MIXED, "x⏎  c|⏎"),
    ("cut-lines", UNENDED, "x⏎  b b⏎  a|"),
    ("cut-lines", CRLF, "x↵  c|↵"),
    ("cut-lines", MIXED, "x⏎  c|⏎"),
    ("join-lines", UNENDED, "x⏎  b b⏎  a⏎[  b b a|]"),
    ("join-lines", CRLF, "x↵[  b b a a|]↵  c↵"),
    ("join-lines", MIXED, "x⏎[  b b a a|]↵  c⏎"),
    ("join-tight", UNENDED, "x⏎  b b⏎  a⏎[  b ba|]"),
    ("join-tight", CRLF, "x↵[  b baa|]↵  c↵"),
    ("join-tight", MIXED, "x⏎[  b baa|]↵  c⏎"),
    ("split-line", UNENDED, "x⏎  b b⏎  a⏎[  b b⏎  a|]⏎"),
    ("split-line", CRLF, "x↵[  b b↵  a↵  a|]↵↵  c↵"),
    ("split-line", MIXED, "x⏎[  b b↵  a⏎  a|]⏎↵  c⏎"),
    ("indent", UNENDED, "x⏎  b b⏎  a⏎[    b b⏎    a|]"),
    ("indent", CRLF, "x↵[    b b↵    a↵    a|]↵  c↵"),
    ("indent", MIXED, "x⏎[    b b↵    a⏎    a|]↵  c⏎"),
    ("outdent", UNENDED, "x⏎  b b⏎  a⏎[b b⏎a|]"),
    ("outdent", CRLF, "x↵[b b↵a↵a|]↵  c↵"),
    ("outdent", MIXED, "x⏎[b b↵a⏎a|]↵  c⏎"),
    ("reindent", UNENDED, "x⏎  b b⏎  a⏎[  b b⏎  a|]"),
    ("reindent", CRLF, "x↵[  b b↵  a↵  a|]↵  c↵"),
    ("reindent", MIXED, "x⏎[  b b↵  a⏎  a|]↵  c⏎"),
    ("delete-element", UNENDED, "x⏎  b b⏎  a⏎[  b b⏎  a|]"),
    ("delete-element", CRLF, "x↵[  b b↵  a↵  a|]↵  c↵"),
    ("delete-element", MIXED, "x⏎[  b b↵  a⏎  a|]↵  c⏎"),
    ("duplicate-element", UNENDED, "x⏎  b b⏎  a⏎[  b b⏎  a|]"),
    ("duplicate-element", CRLF, "x↵[  b b↵  a↵  a|]↵  c↵"),
    ("duplicate-element", MIXED, "x⏎[  b b↵  a⏎  a|]↵  c⏎"),
    ("spread", UNENDED, "x⏎  b b⏎  a⏎[  b b⏎  a|]"),
    ("spread", CRLF, "x↵[  b b↵  a↵  a|]↵  c↵"),
    ("spread", MIXED, "x⏎[  b b↵  a⏎  a|]↵  c⏎"),
    ("swap-next", UNENDED, "x⏎  b b⏎  a⏎[  b b⏎  a|]"),
    ("swap-next", CRLF, "x↵[  b b↵  a↵  a|]↵  c↵"),
    ("swap-next", MIXED, "x⏎[  b b↵  a⏎  a|]↵  c⏎"),
    ("swap-previous", UNENDED, "x⏎  b b⏎  a⏎[  b b⏎  a|]"),
    ("swap-previous", CRLF, "x↵[  b b↵  a↵  a|]↵  c↵"),
    ("swap-previous", MIXED, "x⏎[  b b↵  a⏎  a|]↵  c⏎"),
    ("wrap-lines", UNENDED, "x⏎  b b⏎  a⏎  {⏎  [  b b⏎    a|]⏎  }"),
    ("wrap-lines", CRLF, "x↵  {↵  [  b b↵    a↵    a|]↵  }↵  c↵"),
    ("wrap-lines", MIXED, "x⏎  {⏎  [  b b↵    a⏎    a|]⏎  }↵  c⏎"),
    ("lines-keep(b)", UNENDED, "x⏎  b b⏎  a⏎[  b b|]"),
    ("lines-keep(b)", CRLF, "x↵[  b b↵|]  c↵"),
    ("lines-keep(b)", MIXED, "x⏎[  b b↵|]  c⏎"),
    ("lines-drop(b)", UNENDED, "x⏎  b b⏎  a⏎[  a|]"),
    ("lines-drop(b)", CRLF, "x↵[  a↵  a|]↵  c↵"),
    ("lines-drop(b)", MIXED, "x⏎[  a⏎  a|]↵  c⏎"),
    ("sort-lines", UNENDED, "x⏎  b b⏎  a⏎[  a⏎  b b|]"),
    ("sort-lines", CRLF, "x↵[  a↵  a↵  b b|]↵  c↵"),
    ("sort-lines", MIXED, "x⏎[  a↵  a⏎  b b|]↵  c⏎"),
    ("unique-lines", UNENDED, "x⏎  b b⏎  a⏎[  b b⏎  a|]"),
    ("unique-lines", CRLF, "x↵[  b b↵  a|]↵  c↵"),
    ("unique-lines", MIXED, "x⏎[  b b↵  a|]⏎  c⏎"),
    ("reverse-lines", UNENDED, "x⏎  b b⏎  a⏎[  a⏎  b b|]"),
    ("reverse-lines", CRLF, "x↵[  a↵  a↵  b b|]↵  c↵"),
    ("reverse-lines", MIXED, "x⏎[  a↵  a⏎  b b|]↵  c⏎"),
    ("trim-trailing", UNENDED, "x⏎  b b⏎  a⏎[  b b⏎  a|]"),
    ("trim-trailing", CRLF, "x↵[  b b↵  a↵  a|]↵  c↵"),
    ("trim-trailing", MIXED, "x⏎[  b b↵  a⏎  a|]↵  c⏎"),
];

#[test]
fn every_line_verb_keeps_line_ends_where_they_belong() {
    for (verb, before, after) in ROWS {
        assert_eq!(act("text", before, verb), *after, "{verb} on {before}");
    }
}

#[test]
fn no_line_verb_is_left_out() {
    for verb in VERBS.iter().filter(|verb| verb.group.name() == "lines") {
        let rows = ROWS.iter().filter(|(name, ..)| name.split('(').next() == Some(verb.name)).count();
        assert_eq!(rows, 3, "{}", verb.name);
    }
}
