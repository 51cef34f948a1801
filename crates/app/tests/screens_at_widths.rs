//! The main screens at every width that a person may have, and the panel of recipes.
//! `INSTA_UPDATE=always cargo test -p snarvel --test screens_at_widths` takes new ones over.

mod support;
use support::{demo, frame};

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
    ];
    for (name, keys) in screens {
        for size in ["142x42", "80x24", "70x24", "60x20"] {
            let cols = size.split('x').next().unwrap();
            insta::assert_snapshot!(format!("{name}_at_{cols}"), frame("gauges.rs", gauges, keys, size));
        }
    }
}
