//! The main screens at every width that a person may have, and the panel of recipes.
//! `INSTA_UPDATE=always cargo test -p snarvel --test suite screens_at_widths` takes new ones over.

use crate::support::{app_with, demo, drawn, frame, press};
use snarvel_ledger::{Amounts, Batch, Habit, Ledger, Used, Way};
use snarvel_ui::palette::theme::Theme;
use snarvel_ui::palette::{Depth, Palette};
use snarvel_ui::size::Size;

/// A ledger of three weeks.
fn ledger(path: &std::path::Path) {
    let (mut ledger, _) = Ledger::open(path).unwrap();
    let mut batch = Batch::default();
    for (week, day) in ["2026-09-07", "2026-09-14", "2026-09-21"].into_iter().enumerate() {
        let used = |verb: &str, way| Used { day: day.to_owned(), kind: "rust".to_owned(), verb: verb.to_owned(), way };
        let amounts = |times, lines| Amounts { times, keys: times, cursors: times, lines, undone: 0 };
        batch.add(used("carry-down", if week == 0 { Way::Lookup } else { Way::Key }), amounts(20, 20));
        batch.add(used("duplicate-down", Way::Key), amounts(11, 11));
        batch.add(used("type-text", Way::Typing), amounts(300 - week as u64 * 70, 30));
        batch.add(used("char-right", Way::Hand), amounts(90, 0));
        for (pattern, verb) in [("right-to-word", "word-forward"), ("word-by-backspace", "extend-word-back")] {
            batch.add_habit(Habit { day: day.to_owned(), pattern: pattern.to_owned(), verb: verb.to_owned() }, 9);
        }
    }
    ledger.add(&batch).unwrap();
}

#[test]
fn the_ledger_at_four_widths() {
    let folder = tempfile::tempdir().unwrap();
    let file = folder.path().join("ledger.sqlite");
    ledger(&file);
    for (cols, rows) in [(142, 42), (100, 30), (80, 24), (60, 20)] {
        let palette = Palette::new(&Theme::night(), Depth::True);
        let mut app = app_with(folder.path(), ("tide.rs", b"let ebb = 1;\n"), &palette, Size { cols, rows });
        app.context.workspace.keep_ledger(&file);
        press(&mut app, &["ctrl+l", "l", "e", "d", "g", "e", "r", "enter", "right", "right", "right"]);
        // The report comes from the thread of the ledger.
        let start = std::time::Instant::now();
        let text = loop {
            app.settle_background();
            let grid = drawn(&app);
            let row = |y| (0..cols).map(|x| grid[(x, y)].symbol()).collect::<String>().trim_end().to_owned();
            // The tab bar names the folder, which is another at every run.
            let text: Vec<String> = (1..rows).map(row).collect();
            if text.iter().any(|row| row.contains("[ever]")) && text.iter().any(|row| row.contains("4 days: ")) {
                break text.join("\n");
            }
            assert!(start.elapsed().as_secs() < 20, "{}", text.join("\n"));
        };
        insta::assert_snapshot!(format!("ledger_at_{cols}"), text);
        // All of it can be come to.
        press(&mut app, &["pgdn", "pgdn", "pgdn", "pgdn"]);
        let grid = drawn(&app);
        let row = |y| (0..cols).map(|x| grid[(x, y)].symbol()).collect::<String>();
        assert!((0..rows).any(|y| row(y).contains("carry-down by its key since 2026-09-14")), "{cols} columns");
    }
}

#[test]
fn the_recipes_and_what_one_would_do() {
    insta::assert_snapshot!(frame("a.txt", "ebb\nflow\n", "ctrl+r \"quo\"", "142x30"));
}

#[test]
fn the_recipes_at_80_columns() {
    insta::assert_snapshot!(frame("a.txt", "ebb\nflow\n", "ctrl+r down down", "80x24"));
}

#[test]
fn a_mistake_in_a_recipe_at_60_columns() {
    insta::assert_snapshot!(frame("a.txt", "ebb\nflow\n", "ctrl+r down tab ctrl+end \"cary-up\"", "60x20"));
}

#[test]
fn what_a_recipe_would_do_to_the_project() {
    insta::assert_snapshot!(frame("a.txt", "ebb\nflow\n", "ctrl+r \"quo\" alt+enter", "142x30"));
}

/// The main screens at every width that a person may have.
#[test]
fn every_main_screen_at_four_widths() {
    let gauges = demo("gauges.rs");
    let screens = [
        ("write", "@19:5"),
        ("write_full_deck", "@19:5 f1"),
        ("deck_with_shift", "f1 f1"),
        ("deck_of_signs", "f1 f1 f1"),
        ("deck_of_ctrl", "f1 f1 f1 f1"),
        ("deck_of_named_keys", "f1 f1 f1 f1 f1"),
        ("shape", "@19:5 ctrl+space"),
        ("lookup", "ctrl+l \"line numbers\""),
        ("lookup_asks", "ctrl+l \"lines-drop\" enter"),
        ("settings", "!settings down down"),
        ("sift", "ctrl+f \"level_mm\" tab \"height_mm\""),
        ("sift_project", "ctrl+f ctrl+f \"level_mm\""),
        ("go", "ctrl+g \"qual\""),
        ("outline", "@60:1 ctrl+e"),
        ("roster", "@37:9 ctrl+space b `"),
        ("signs", "!signs \"arrow\" down"),
        ("offers", "@24:1 \"rea\""),
        ("offers_that_skip_letters", "@20:5 alt+F alt+F home \"lmm\""),
        ("offers_panel", "@24:1 \"for\" ctrl+k ctrl+k"),
        ("template", "@24:1 \"for\" tab \"reading\" tab"),
        ("recipes", "ctrl+r down"),
        ("recipe_edited", "ctrl+r down tab"),
        ("trail", "@18:1 2*alt+s alt+d alt+c 2*ctrl+z @43:5 alt+b \"height\" ctrl+t"),
        ("drills", "!drill \"lines\" down"),
        ("drill", "!drill \"two lines\" enter alt+s"),
        ("drill_done", "!drill \"two lines\" enter alt+s alt+s"),
        ("shown_keys", "!show-keys alt+s alt+s \"tide\" alt+3 alt+d"),
        ("coach", "@20:5 home home shift+end ctrl+c end enter ctrl+v right"),
    ];
    for (name, keys) in screens {
        for size in ["142x42", "80x24", "70x24", "60x20"] {
            let cols = size.split('x').next().unwrap();
            insta::assert_snapshot!(format!("{name}_at_{cols}"), frame("gauges.rs", gauges, keys, size));
        }
    }
}
