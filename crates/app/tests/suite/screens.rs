//! Screens as text, kept beside this file: a change of one shows as a difference to be looked at.
//! `INSTA_UPDATE=always cargo test -p snarvel --test suite screens` takes new ones over.

use crate::support::{app_with, demo, drawn, frame, press};
use snarvel_core::folds::Folds;
use snarvel_ui::app::{App, Event};
use snarvel_ui::keys::keyboard::Keyboard;
use snarvel_ui::keys::keymap::Keymap;
use snarvel_ui::keys::layer::Protocol;
use snarvel_ui::mouse::{Gesture, Mouse};
use snarvel_ui::palette::theme::Theme;
use snarvel_ui::palette::{Depth, Palette, Role};
use snarvel_ui::screen;
use snarvel_ui::settings::{Numbers, Settings};
use snarvel_ui::size::Size;
use snarvel_ui::system_clipboard::Clipboard;
use snarvel_workspace::project::Project;
use snarvel_workspace::workspace::Workspace;
use std::path::Path;

#[test]
fn write_with_the_small_deck() {
    insta::assert_snapshot!(frame("gauges.rs", demo("gauges.rs"), "@19:5 alt+s", "100x24"));
}

#[test]
fn shape_with_the_whole_deck() {
    insta::assert_snapshot!(frame("gauges.rs", demo("gauges.rs"), "@19:5 ctrl+space 2 d", "142x24"));
}

#[test]
fn shape_at_80_columns() {
    insta::assert_snapshot!(frame("tides.py", demo("tides.py"), "@24:5 ctrl+space , , c", "80x24"));
}

#[test]
fn the_left_hand_under_70_columns() {
    insta::assert_snapshot!(frame("tides.py", demo("tides.py"), "ctrl+space", "62x18"));
}

#[test]
fn text_and_status_line_only() {
    insta::assert_snapshot!(frame("tides.py", demo("tides.py"), "@24:5", "40x8"));
}

#[test]
fn folds_in_view() {
    insta::assert_snapshot!(frame("tides.py", demo("tides.py"), "@24:5 ctrl+space * @33:1 ) @37:9 (", "80x30"));
}

#[test]
fn the_outline_shows_the_chosen_place() {
    insta::assert_snapshot!(frame("gauges.rs", demo("gauges.rs"), "ctrl+e down down down", "100x30"));
}

#[test]
fn sift_shows_hits_and_counts_them_by_kind() {
    insta::assert_snapshot!(frame("gauges.rs", demo("gauges.rs"), "@37:9 ctrl+f \"level\" alt+w alt+2 down", "120x24"));
}

#[test]
fn sift_shows_what_would_come_at_80_columns() {
    insta::assert_snapshot!(frame("gauges.rs", demo("gauges.rs"), "@80:1 ctrl+f \"level_mm\" tab \"height\"", "80x24"));
}

#[test]
fn sift_in_the_project() {
    let keys = "ctrl+f ctrl+f \"(\\\\w+)_mm\" alt+e tab \"$1_cm\" down down";
    insta::assert_snapshot!(frame("gauges.rs", demo("gauges.rs"), keys, "110x30"));
}

#[test]
fn what_was_replaced_in_the_project_is_said_in_full_at_80_columns() {
    let keys = "ctrl+f ctrl+f \"level\" tab \"height\" alt+enter";
    insta::assert_snapshot!(frame("gauges.rs", demo("gauges.rs"), keys, "80x30"));
}

#[test]
fn sift_says_where_an_expression_is_wrong() {
    insta::assert_snapshot!(frame("gauges.rs", demo("gauges.rs"), "ctrl+f alt+e \"(tide\"", "100x20"));
}

#[test]
fn lookup_by_everyday_words() {
    insta::assert_snapshot!(frame("a.txt", "fog\n", "ctrl+l \"swap lines\"", "130x30"));
}

#[test]
fn lookup_asks_before_a_key_is_taken_over() {
    insta::assert_snapshot!(frame("a.txt", "fog\n", "ctrl+l \"sort\" ctrl+k alt+v", "62x20"));
}

#[test]
fn going_offers_bookmarks_and_names() {
    insta::assert_snapshot!(frame("gauges.rs", demo("gauges.rs"), "@20:1 f5 @61:1 ctrl+g up", "90x28"));
}

#[test]
fn going_by_a_number_shows_the_place() {
    insta::assert_snapshot!(frame("gauges.rs", demo("gauges.rs"), "ctrl+g \"50%\"", "62x18"));
}

#[test]
fn a_file_is_shown_before_it_is_opened() {
    insta::assert_snapshot!(frame("tides.py", demo("tides.py"), "ctrl+o \"ti\"", "110x24"));
}

#[test]
fn the_deck_of_other_keyboards() {
    for (name, keyboard) in Keyboard::ALL.into_iter().skip(1) {
        let palette = Palette::new(&Theme::night(), Depth::True);
        let mut app = app("fn a() {}\n", &palette, Size { cols: 142, rows: 18 });
        app.take_settings(Settings { keyboard, ..Settings::default() });
        press(&mut app, &["ctrl+space"]);
        let screen = snarvel::play::frame_text(&app);
        let deck: Vec<&str> = screen.lines().skip(15).collect();
        insta::assert_snapshot!(format!("the_deck_of_{name}"), deck.join("\n"));
    }
}

#[test]
fn the_key_sheet() {
    let drawing =
        snarvel_ui::sheets::keys::key_sheet(&Keymap::shipped(Protocol::Plain)).drawing(snarvel_draw::Paper::A4);
    let path = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/keys.svg");
    let drawn = snarvel_draw::svg(&drawing);
    if std::env::var("SNARVEL_DOCS").is_ok_and(|wish| wish == "write") {
        std::fs::write(&path, &drawn).unwrap();
    }
    let kept = std::fs::read_to_string(&path).unwrap();
    assert!(
        kept == drawn,
        "docs/keys.svg is not current: SNARVEL_DOCS=write cargo test -p snarvel --test suite screens"
    );
}

#[test]
fn the_outline_by_letters_at_80_columns() {
    insta::assert_snapshot!(frame("relay.go", demo("relay.go"), "ctrl+e \"re\"", "80x24"));
}

#[test]
fn cursors_above_and_below_the_view() {
    insta::assert_snapshot!(frame("gauges.rs", demo("gauges.rs"), "@54:13 alt+b", "100x20"));
}

#[test]
fn pins_in_the_gutter() {
    insta::assert_snapshot!(frame("pilots.sql", demo("pilots.sql"), "@4:5 ctrl+space . space k k space", "100x20"));
}

#[test]
fn a_pending_count() {
    insta::assert_snapshot!(frame("a.txt", "fog\n", "ctrl+space 1 2", "80x16"));
}

#[test]
fn an_empty_file() {
    insta::assert_snapshot!(frame("a.txt", "", "", "80x16"));
}

#[test]
fn what_cannot_be_shown_is_a_chip() {
    insta::assert_snapshot!(frame("a.txt", "tab\tbell\u{7}\u{202e}x\u{200b}\r lone 漢字 e\u{301}\n", "end", "80x16"));
}

#[test]
fn a_long_line_scrolls_sideways() {
    insta::assert_snapshot!(frame("a.txt", &"0123456789".repeat(20), "end", "60x16"));
}

#[test]
fn a_pattern_is_asked_for() {
    insta::assert_snapshot!(frame("a.txt", "a, b, c\n", "ctrl+a ctrl+space Z \"/, /\"", "80x16"));
}

#[test]
fn the_roster_beside_the_text() {
    insta::assert_snapshot!(frame("gauges.rs", demo("gauges.rs"), "@54:13 alt+b", "142x24"));
}

#[test]
fn in_the_roster_where_it_does_not_come_by_itself() {
    let keys = "@54:13 ctrl+space b ` down space \"high\"";
    insta::assert_snapshot!(frame("gauges.rs", demo("gauges.rs"), keys, "100x20"));
}

#[test]
fn the_roster_at_62_columns_after_an_edit() {
    let keys = "@54:13 ctrl+space b ctrl+space \"x\" ctrl+space `";
    insta::assert_snapshot!(frame("gauges.rs", demo("gauges.rs"), keys, "62x18"));
}

const COPIES: &str = "@18:1 ctrl+c @24:5 alt+, alt+, alt+, ctrl+c @7:4 alt+. ctrl+c ctrl+p";

#[test]
fn the_clip_shelf() {
    insta::assert_snapshot!(frame("gauges.rs", demo("gauges.rs"), &format!("{COPIES} down"), "100x24"));
}

#[test]
fn a_part_of_a_clip() {
    let keys = format!("{COPIES} down tab down shift+end");
    insta::assert_snapshot!(frame("gauges.rs", demo("gauges.rs"), &keys, "80x20"));
}

#[test]
fn the_clip_shelf_under_60_columns() {
    insta::assert_snapshot!(frame("gauges.rs", demo("gauges.rs"), COPIES, "50x18"));
}

#[test]
fn the_trail_with_a_branch() {
    let keys = "@19:1 alt+s alt+d ctrl+z @24:5 \"fog\" alt+x ctrl+t down";
    insta::assert_snapshot!(frame("gauges.rs", demo("gauges.rs"), keys, "100x24"));
}

#[test]
fn a_question_before_leaving() {
    insta::assert_snapshot!(frame("a.txt", "fog\n", "\"x\" ctrl+q", "80x16"));
}

/// An application on a made-up text, as large as `size`.
fn app(content: &str, palette: &Palette, size: Size) -> App {
    app_with(Path::new("/sound"), ("a.rs", content.as_bytes()), palette, size)
}

fn text(app: &App) -> String {
    app.context.workspace.active().text().to_string()
}

/// The line of the primary caret.
fn line(app: &App) -> usize {
    let workspace = &app.context.workspace;
    workspace.active().text().line_of(workspace.view().cursors().primary().head).0
}

fn folds(app: &App) -> &Folds {
    app.context.workspace.view().folds()
}

#[test]
fn primary_and_other_cursors_differ_in_every_depth_of_colour() {
    for depth in [Depth::True, Depth::Indexed, Depth::Named, Depth::None] {
        for theme in Theme::shipped() {
            let palette = Palette::new(&theme, depth);
            let mut app = app("ab\nab\n", &palette, Size::REFERENCE);
            press(&mut app, &["alt+f"]);
            let grid = drawn(&app);
            let style = |y: u16| grid[(8, y)].style();
            assert_ne!(style(2), style(3), "{} {depth:?}", theme.name);
            assert_ne!(style(2), grid[(9, 2)].style(), "{} {depth:?}: another caret is like plain text", theme.name);
            assert!(palette.style(Role::Selection) != palette.style(Role::Text));
        }
    }
}

#[test]
fn lines_numbered_from_the_cursor() {
    let mut app = app("a\nb\nc\nd\n", &Palette::new(&Theme::night(), Depth::True), Size::REFERENCE);
    app.take_settings(Settings { numbers: Numbers::Relative, ..Settings::default() });
    press(&mut app, &["down", "down"]);
    let grid = drawn(&app);
    let number = |y: u16| (2..6).map(|x| grid[(x, y)].symbol().to_owned()).collect::<String>();
    assert_eq!([2, 3, 4, 5].map(|y| number(y).trim().to_owned()), ["2", "1", "3", "1"]);
}

#[test]
fn what_other_programs_copy_is_pasted() {
    #[derive(Debug)]
    struct Outside(Option<&'static str>);
    impl Clipboard for Outside {
        fn read(&mut self) -> Option<String> {
            self.0.map(str::to_owned)
        }
    }
    let mut app = app("fog\n", &Palette::new(&Theme::night(), Depth::True), Size::REFERENCE);
    app.context.clipboard = Some(Box::new(Outside(None)));
    press(&mut app, &["ctrl+c", "ctrl+v"]);
    assert_eq!(text(&app), "fog\nfog\n", "nothing outside: what was copied here");
    // What one copied oneself comes back from outside as it went out: the lines are lines still.
    app.context.clipboard = Some(Box::new(Outside(Some("fog\n"))));
    press(&mut app, &["end", "ctrl+v"]);
    assert_eq!(text(&app), "fog\nfog\nfog\n");
    app.context.clipboard = Some(Box::new(Outside(Some("horn"))));
    press(&mut app, &["ctrl+v"]);
    assert_eq!(text(&app), "fog\nfog\nfoghorn\n");
    assert_eq!(app.context.workspace.shelf.clips().len(), 2, "both are on the shelf");
}

#[test]
fn every_size_draws_and_keeps_the_caret_in_view() {
    let content = "fn level() {}\n".repeat(300);
    for cols in [1, 2, 7, 19, 20, 59, 60, 69, 70, 99, 142, 400] {
        for rows in [1, 2, 3, 15, 16, 19, 20, 42, 100] {
            let mut app = app(&content, &Palette::new(&Theme::night(), Depth::True), Size { cols, rows });
            press(&mut app, &["ctrl+end", "alt+f", "ctrl+space", "f1", "f1", "f1", "pgup", "ctrl+space"]);
            let (top, line) = (app.context.workspace.view().scroll.top.0, line(&app));
            assert!(top <= line && line < top + usize::from(rows), "{cols}x{rows}: line {line} from {top}");
            drawn(&app);
            press(&mut app, &["ctrl+c", "x", "ctrl+p", "tab"]);
            drawn(&app);
            press(&mut app, &["esc", "esc", "ctrl+t", "down"]);
            drawn(&app);
            press(&mut app, &["esc", "ctrl+space", "`", "up", "x", "space"]);
            drawn(&app);
            press(&mut app, &["esc", "\"", "ctrl+q"]);
            drawn(&app);
        }
    }
}

#[test]
fn scrolling_moves_the_view_and_not_the_caret() {
    let mut app = app(&"a\n".repeat(200), &Palette::new(&Theme::night(), Depth::True), Size::REFERENCE);
    press(&mut app, &["ctrl+down", "ctrl+down", "ctrl+down"]);
    assert_eq!(app.context.workspace.view().scroll.top.0, 3);
    assert_eq!(app.context.workspace.view().cursors().primary().head.0, 0);
    press(&mut app, &["down"]);
    assert_eq!(app.context.workspace.view().scroll.top.0, 0, "the next move brings the caret into view");
}

#[test]
fn the_roster_drops_keeps_and_shows() {
    let cursors = |keys: &[&str]| {
        let mut app = app(&"fog\nhorn\n".repeat(60), &Palette::new(&Theme::night(), Depth::True), Size::REFERENCE);
        press(&mut app, &["ctrl+space", "b"]);
        assert_eq!(app.context.workspace.view().cursors().len(), 60);
        press(&mut app, keys);
        (app.context.workspace.view().cursors().len(), line(&app), app.panel().is_some())
    };
    assert_eq!(cursors(&["`", "end"]), (60, 118, true), "the text shows the chosen one");
    assert_eq!(cursors(&["`", "end", "esc"]), (60, 118, false));
    assert_eq!(cursors(&["`", "space", "space", "`"]), (58, 4, false), "two are dropped");
    assert_eq!(cursors(&["`", "space", "up", "space", "`"]), (60, 2, false), "dropped and kept again");
    assert_eq!(cursors(&["`", "f", "o", "enter"]), (60, 0, false), "all lines hold that");
    assert_eq!(cursors(&["`", "h", "enter"]), (60, 0, false), "none would be left");
    assert_eq!(cursors(&["`", "esc", "T"]), (1, 0, false));
}

#[test]
fn escape_steps_back_one_thing_at_a_time() {
    let mut app = app("ab ab\nab\n", &Palette::new(&Theme::night(), Depth::True), Size::REFERENCE);
    press(&mut app, &["ctrl+space", "g", "g", "space", "3"]);
    let state = |app: &App| {
        let (workspace, keyboard) = (&app.context.workspace, &app.context.keyboard);
        let (cursors, pins) = (workspace.view().cursors(), workspace.view().pins(workspace.active()));
        let layer = format!("{:?}", keyboard.layer);
        (keyboard.count.is_some(), cursors.len(), cursors.primary().is_caret(), pins.len(), layer)
    };
    let mut seen = vec![state(&app)];
    for _ in 0..5 {
        press(&mut app, &["esc"]);
        seen.push(state(&app));
    }
    let row = |count, cursors, caret, pins, layer: &str| (count, cursors, caret, pins, layer.to_owned());
    let expected = [
        row(true, 2, false, 2, "Shape"),
        row(false, 2, false, 2, "Shape"),
        row(false, 1, false, 2, "Shape"),
        row(false, 1, true, 2, "Shape"),
        row(false, 1, true, 0, "Shape"),
        row(false, 1, true, 0, "Write"),
    ];
    assert_eq!(seen, expected);
}

#[test]
fn several_files_and_the_way_between_them() {
    let folder = tempfile::tempdir().unwrap();
    for name in ["a.txt", "b.txt"] {
        std::fs::write(folder.path().join(name), name).unwrap();
    }
    let workspace = Workspace::new(Project::in_folder(folder.path()));
    let mut app = App::new(workspace, Palette::new(&Theme::night(), Depth::True), Size::REFERENCE);
    let open = |app: &mut App, name: &str| {
        app.context.workspace.open(Path::new(name));
        app.pump();
    };
    let shown = |app: &App| (app.context.workspace.buffers().len(), app.context.workspace.active_index());
    open(&mut app, "a.txt");
    open(&mut app, "b.txt");
    assert_eq!(shown(&app), (2, 1), "the empty one is replaced");
    open(&mut app, "a.txt");
    assert_eq!(shown(&app), (2, 0), "an open file is shown, not opened again");
    press(&mut app, &["ctrl+pgdn", "x", "ctrl+w"]);
    assert!(app.panel().is_some(), "closing asks");
    press(&mut app, &["d"]);
    assert_eq!((shown(&app), app.context.workspace.active().name()), ((1, 0), "a.txt".to_owned()));
    press(&mut app, &["x", "ctrl+q", "s"]);
    assert!(app.is_done());
    assert_eq!(std::fs::read_to_string(folder.path().join("a.txt")).unwrap(), "xa.txt");
}

#[test]
fn the_terminals_own_cursor_is_at_the_primary_caret_without_colours() {
    let plain = Palette::new(&Theme::night(), Depth::None);
    let mut app = app("ab\tc\n", &plain, Size::REFERENCE);
    press(&mut app, &["right", "right", "right"]);
    assert_eq!(screen::shown_cursor(&app.context, app.panel()), Some([12, 2]));
    app.context.look.palette = Palette::new(&Theme::night(), Depth::True);
    assert_eq!(screen::shown_cursor(&app.context, app.panel()), None);
}

#[test]
fn brackets_that_answer_each_other_are_told_apart() {
    let palette = Palette::new(&Theme::night(), Depth::True);
    let mut app = app("fn a(b: [i32; 2]) {\n    c(\")\", b);\n}\n", &palette, Size::REFERENCE);
    let bracket = palette.style(Role::Bracket);
    let marked = |app: &App| -> Vec<(u16, u16)> {
        let grid = drawn(app);
        let is_marked = |cell: &(u16, u16)| {
            grid[*cell].fg == bracket.fg.unwrap() && grid[*cell].modifier.contains(bracket.add_modifier)
        };
        (2..5)
            .flat_map(|y| (8..40).map(move |x| (x - 8, y - 2, x, y)))
            .filter(|(_, _, x, y)| is_marked(&(*x, *y)))
            .map(|(col, row, ..)| (col, row))
            .collect()
    };
    // Under the opening one is the caret itself.
    press(&mut app, &["right", "right", "right", "right"]);
    assert_eq!(marked(&app), [(16, 0)]);
    // After the closing one: both, past the one in the string.
    press(&mut app, &["down", "end", "left"]);
    assert_eq!(marked(&app), [(5, 1), (12, 1)]);
}

#[test]
fn the_roster_tells_new_words_apart() {
    let palette = Palette::new(&Theme::night(), Depth::True);
    let mut app = app("one old x\ntwo old y\n", &palette, Size::REFERENCE);
    press(&mut app, &["alt+f", "ctrl+right", "ctrl+right", "space", "n", "e", "w"]);
    let grid = drawn(&app);
    let added = palette.style(Role::Added).fg.unwrap();
    let green: String = (107..142)
        .filter(|x| grid[(*x, 3)].fg == added && grid[(*x, 3)].symbol() != "▏")
        .map(|x| grid[(x, 3)].symbol())
        .collect();
    // In the row of the first cursor: the sign of something put in, and what was.
    assert_eq!(green.replace(' ', ""), "+new");
}

#[test]
fn a_click_on_the_mark_of_a_fold_opens_it() {
    let palette = Palette::new(&Theme::night(), Depth::True);
    let mut app = app("a {\n    b\n}\nc\n", &palette, Size::REFERENCE);
    press(&mut app, &["ctrl+space", "("]);
    let click = |app: &mut App, x: u16| {
        let mouse = Mouse { gesture: Gesture::Press(1), cell: [x, 2], alt: false, shift: false, ctrl: false };
        app.handle(Event::Mouse(mouse), 0);
    };
    assert_eq!(folds(&app).list().len(), 1);
    click(&mut app, 8 + 3);
    assert_eq!(folds(&app).list().len(), 1, "the line's end is no mark");
    click(&mut app, 8 + 6);
    assert!(folds(&app).is_empty());
}
