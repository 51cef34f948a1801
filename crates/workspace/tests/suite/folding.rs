//! Folding: what is put away, what moves and goes with it, what opens it again. By indentation: no tree is here.

use crate::support::Bench;

/// The lines of each fold, header and last, from 1.
fn folds(bench: &Bench) -> String {
    let text = bench.editor.text();
    let line = |at| text.line_of(at).0 + 1;
    let list = bench.editor.folds().list().iter();
    list.map(|span| format!("{}-{}", line(span.start), line(span.end))).collect::<Vec<_>>().join(" ")
}

fn check(rows: &[(&str, &str, &str, &str, &str)]) {
    let mut wrong = Vec::new();
    for (name, before, verbs, after, folded) in rows {
        let mut bench = Bench::new("python", before);
        for verb in verbs.split(' ') {
            bench.run(verb);
        }
        let found = (bench.shown(), folds(&bench));
        if found != ((*after).to_owned(), (*folded).to_owned()) {
            wrong.push(format!("{name}: {before} · {verbs}\n  found    {found:?}\n  expected {:?}", (after, folded)));
        }
    }
    assert!(wrong.is_empty(), "{} of {} rows\n{}", wrong.len(), rows.len(), wrong.join("\n"));
}

#[test]
fn what_is_folded_and_opened() {
    check(&[
        ("under_its_header", "|a:⏎ b⏎ c⏎d", "fold", "|a:⏎ b⏎ c⏎d", "1-3"),
        ("from_inside_the_caret_goes_to_the_header", "a:⏎ b|⏎ c⏎d", "fold", "|a:⏎ b⏎ c⏎d", "1-3"),
        ("again_the_next_outer_one", "a:⏎ b:⏎  c|⏎ d⏎e", "fold fold", "|a:⏎ b:⏎  c⏎ d⏎e", "1-4 2-3"),
        ("the_closing_line_goes_too", "|a {⏎ b⏎}⏎c", "fold", "|a {⏎ b⏎}⏎c", "1-3"),
        ("blank_lines_behind_stay", "|a:⏎ b⏎⏎⏎c", "fold", "|a:⏎ b⏎⏎⏎c", "1-2"),
        ("up_to_the_last_line", "|a:⏎ b", "fold", "|a:⏎ b", "1-2"),
        ("nothing_below", "|a⏎b", "fold", "|a⏎b", ""),
        ("at_every_cursor", "|a:⏎ b⏎c:⏎ d|⏎e", "fold", "|a:⏎ b⏎|c:⏎ d⏎e", "1-2 3-4"),
        ("opened_one_by_one", "a:⏎ b:⏎  c|⏎ d⏎e", "fold fold unfold", "|a:⏎ b:⏎  c⏎ d⏎e", "2-3"),
        ("all_and_back", "|a:⏎ b:⏎  c⏎d:⏎ e", "fold-all fold-all", "|a:⏎ b:⏎  c⏎d:⏎ e", ""),
        ("all", "a:⏎ b:⏎  c⏎d:⏎ e|", "fold-all", "a:⏎ b:⏎  c⏎|d:⏎ e", "1-3 2-3 4-5"),
    ]);
}

#[test]
fn cursors_pass_over_folds_and_open_them() {
    check(&[
        ("line_down_passes_over", "|a:⏎ b⏎ c⏎d", "fold line-down", "a:⏎ b⏎ c⏎|d", "1-3"),
        ("line_up_passes_over", "a:⏎ b|⏎ c⏎d", "fold line-down line-up", "|a:⏎ b⏎ c⏎d", "1-3"),
        ("cursor_below_passes_over", "|a:⏎ b⏎ c⏎d", "fold cursor-below", "|a:⏎ b⏎ c⏎|d", "1-3"),
        ("a_character_further_opens", "|a:⏎ b⏎c", "fold line-end char-right", "a:⏎| b⏎c", ""),
        ("a_match_inside_opens", "|a:⏎ a⏎c", "fold take-next take-next", "[a|]:⏎ [a|]⏎c", ""),
        ("selecting_all_opens_nothing", "|a:⏎ b⏎c", "fold select-all", "[a:⏎ b⏎c|]", "1-2"),
        ("undo_shows_what_it_changed", "a:⏎ |b⏎c", "type-text(x) fold undo", "a:⏎ |b⏎c", ""),
    ]);
}

#[test]
fn line_verbs_take_what_is_folded_along() {
    check(&[
        ("delete", "|a:⏎ b⏎ c⏎d", "fold delete-lines", "|d", ""),
        ("carry_down", "|a:⏎ b⏎c⏎d", "fold carry-down", "c⏎|a:⏎ b⏎d", "2-3"),
        ("carry_over_a_fold", "a:⏎ b|⏎c⏎d", "fold line-down carry-up", "|c⏎a:⏎ b⏎d", "2-3"),
        ("carry_down_over_a_fold", "x⏎a:⏎ b|⏎c", "fold line-up carry-down", "a:⏎ b⏎|x⏎c", "1-2"),
        ("carry_over_a_fold_at_an_unended_end", "x⏎a:⏎ b|", "fold line-up carry-down", "a:⏎ b⏎|x", "1-2"),
        ("duplicate", "|a:⏎ b⏎c", "fold duplicate-down", "a:⏎ b⏎|a:⏎ b⏎c", "1-2"),
        ("comment", "|a:⏎ b⏎c", "fold comment-toggle", "# |a:⏎#  b⏎c", "1-2"),
        ("open_below", "|a:⏎ b⏎c", "fold open-below", "a:⏎ b⏎ |⏎c", "1-2"),
        ("select_line", "|a:⏎ b⏎c", "fold select-line", "[a:⏎ b⏎|]c", "1-2"),
        ("indent", "|a:⏎  b⏎c", "fold indent", "  |a:⏎    b⏎c", "1-2"),
        ("join_takes_only_the_next_line", "|a⏎ b⏎ c⏎d", "fold join-lines", "|a b⏎ c⏎d", "1-2"),
        ("cut_and_paste", "|a:⏎ b⏎c⏎", "fold cut line-down paste", "c⏎a:⏎ b⏎|", ""),
    ]);
}
