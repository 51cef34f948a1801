//! Offers and templates in the application: keys in, text, cursors, offers and stops out. `‸` is a caret, `[` and `]` are around a
//! selection, `⏎` is a line end.

use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::languages::by_name;
use snarvel_core::offers::Source;
use snarvel_core::text::Text;
use snarvel_core::units::Byte;
use snarvel_files::load::{Encoding, Loaded};
use snarvel_ui::app::App;
use snarvel_ui::keys::script;
use snarvel_ui::palette::theme::Theme;
use snarvel_ui::palette::{Depth, Palette};
use snarvel_ui::size::Size;
use snarvel_workspace::buffer::Origin;
use snarvel_workspace::offering::settings::When;
use snarvel_workspace::project::Project;
use snarvel_workspace::workspace::Workspace;
use std::path::{Path, PathBuf};

/// An application with texts, the first one shown.
fn app(texts: &[(&str, &str)], folder: &Path) -> App {
    let mut workspace = Workspace::new(Project::in_folder(folder));
    let mut first = None;
    for (name, text) in texts {
        let loaded = Loaded { text: Text::from(*text), encoding: Encoding::default(), read_only: false };
        let buffer = workspace.make_buffer(loaded, Origin::File(folder.join(name)));
        let id = workspace.show_buffer(buffer);
        first = first.or(Some(id));
    }
    first.into_iter().for_each(|first| workspace.show(first));
    App::new(workspace, Palette::new(&Theme::night(), Depth::True), Size::REFERENCE)
}

/// A text of `language` whose carets are marked.
fn marked(language: &str, marked: &str) -> App {
    let (mut text, mut carets) = (String::new(), Vec::new());
    for c in marked.replace('⏎', "\n").chars() {
        match c {
            '‸' => carets.push(Selection::caret(Byte(text.len()))),
            c => text.push(c),
        }
    }
    let language = by_name(language).unwrap();
    let name = format!("tide.{}", language.extensions[0]);
    let mut app = app(&[(&name, &text)], Path::new("/sound"));
    let last = carets.len() - 1;
    let (buffer, view) = app.context.workspace.active_pair_mut();
    view.set_cursors(buffer, CursorSet::of(carets, last));
    app
}

fn play(app: &mut App, keys: &str) {
    for step in script::parse(keys).unwrap() {
        app.prepare(&step);
        app.act(&step);
    }
    app.settle_background();
}

fn shown(app: &App) -> String {
    let (buffer, view) = (app.context.workspace.active(), app.context.workspace.view());
    let mut out = buffer.text().to_string();
    for each in view.cursors().list().iter().rev() {
        if each.is_caret() {
            out.insert(each.head.0, '‸');
        } else {
            out.insert(each.end().0, ']');
            out.insert(each.start().0, '[');
        }
    }
    out.replace("\r\n", "↵").replace('\n', "⏎")
}

fn offered(app: &App) -> Vec<String> {
    app.context
        .workspace
        .offers()
        .map_or_else(Vec::new, |shown| shown.list.iter().map(|each| each.text.clone()).collect())
}

fn stops(app: &App) -> usize {
    let (buffer, view) = (app.context.workspace.active(), app.context.workspace.view());
    view.stops().left(view.id, buffer)
}

/// A case: its name, the language, the text, the keys, and the text after them.
type Row = (&'static str, &'static str, &'static str, &'static str, &'static str);

fn check(rows: &[Row]) {
    let mut wrong = Vec::new();
    for (name, language, before, keys, after) in rows {
        let mut app = marked(language, before);
        play(&mut app, keys);
        let is = shown(&app);
        if is != *after {
            wrong.push(format!(
                "{name}: {before}, {keys}\n  wanted {after}\n  is     {is}\n  offers {:?}",
                offered(&app)
            ));
        }
    }
    assert!(wrong.is_empty(), "{} wrong:\n{}", wrong.len(), wrong.join("\n"));
}

#[test]
fn offers_are_taken_or_left() {
    check(&[
        ("tab takes the first", "rust", "let level = 1;⏎‸", "\"lev\" tab", "let level = 1;⏎level‸"),
        (
            "letters that are left out",
            "rust",
            "fn find_row_backwards() {}⏎‸",
            "\"frb\" tab",
            "fn find_row_backwards() {}⏎find_row_backwards‸",
        ),
        ("one letter is too few", "rust", "let level = 1;⏎‸", "\"l\" tab", "let level = 1;⏎l   ‸"),
        ("enter is a line end", "rust", "let level = 1;⏎‸", "\"lev\" enter", "let level = 1;⏎lev⏎‸"),
        (
            "enter takes what was chosen",
            "rust",
            "let level = lever;⏎‸",
            "\"lev\" down enter",
            "let level = lever;⏎level‸",
        ),
        ("down goes round", "rust", "let level = lever;⏎‸", "\"lev\" down down enter", "let level = lever;⏎lever‸"),
        ("up chooses the last", "rust", "let level = lever;⏎‸", "\"lev\" up enter", "let level = lever;⏎level‸"),
        ("by number", "rust", "let level = lever;⏎‸", "\"lev\" alt+2", "let level = lever;⏎level‸"),
        ("escape puts them away", "rust", "let level = 1;⏎‸", "\"lev\" esc \"e\" tab", "let level = 1;⏎leve    ‸"),
        ("until the next word", "rust", "let level = 1;⏎‸", "\"lev\" esc \" lev\" tab", "let level = 1;⏎lev level‸"),
        (
            "or all of it is gone",
            "rust",
            "let level = 1;⏎‸",
            "\"lev\" esc 3*backspace \"lev\" tab",
            "let level = 1;⏎level‸",
        ),
        ("in a tag", "html", "<section></section>⏎‸", "\"<sec\" tab", "<section></section>⏎<section‸"),
        ("not between tags", "html", "<section></section>⏎‸", "\"sec\" tab", "<section></section>⏎sec ‸"),
        ("the key calls them again", "rust", "let level = 1;⏎‸", "\"lev\" esc ctrl+k tab", "let level = 1;⏎level‸"),
        ("a sign closes them and is typed", "rust", "let level = 1;⏎‸", "\"lev;\" tab", "let level = 1;⏎lev;    ‸"),
        ("letters after the caret stay", "rust", "let level = 1;⏎‸er", "\"lev\" tab", "let level = 1;⏎level‸er"),
        ("letters taken back", "rust", "let level = lemon;⏎‸", "\"lev\" backspace tab", "let level = lemon;⏎lemon‸"),
        ("a move closes them", "rust", "let level = 1;⏎‸", "\"lev\" left tab", "let level = 1;⏎le  ‸v"),
        ("nothing in a comment", "rust", "let level = 1;⏎// ‸", "\"lev\" tab", "let level = 1;⏎// lev  ‸"),
        ("by key in a comment", "rust", "let level = 1;⏎// ‸", "\"lev\" ctrl+k tab", "let level = 1;⏎// level‸"),
        ("nothing in a string", "rust", "let level = \"‸\";", "\"lev\" tab", "let level = \"lev    ‸\";"),
        ("by key in a string", "rust", "let level = \"‸\";", "\"lev\" ctrl+k tab", "let level = \"level‸\";"),
        ("by key with nothing typed", "rust", "let level = 1;⏎‸", "ctrl+k tab", "let level = 1;⏎level‸"),
        ("in prose by key", "text", "harbour⏎‸", "\"har\" tab", "harbour⏎har ‸"),
        ("in prose by key, called", "text", "harbour⏎‸", "\"har\" ctrl+k tab", "harbour⏎harbour‸"),
        ("wide letters", "rust", "let 潮位計 = 1;⏎‸", "\"潮位\" tab", "let 潮位計 = 1;⏎潮位計‸"),
        ("one step", "rust", "let level = 1;⏎‸", "\"lev\" tab ctrl+z", "let level = 1;⏎lev‸"),
        ("numbers are no words", "rust", "let a = 1234;⏎‸", "\"12\" tab", "let a = 1234;⏎12  ‸"),
        ("upper case is meant", "rust", "let level = LEVEL;⏎‸", "\"LE\" tab", "let level = LEVEL;⏎LEVEL‸"),
    ]);
}

#[test]
fn offers_at_many_cursors() {
    check(&[
        ("the same letters", "rust", "let level = 1;⏎‸⏎‸", "\"lev\" tab", "let level = 1;⏎level‸⏎level‸"),
        ("other letters that fit", "rust", "let level = 1;⏎lev‸⏎le‸", "ctrl+k tab", "let level = 1;⏎level‸⏎level‸"),
        ("letters that do not fit", "rust", "let level = 1;⏎x‸⏎le‸", "ctrl+k tab", "let level = 1;⏎x‸⏎level‸"),
        ("no letters", "rust", "let level = 1;⏎‸⏎le‸", "ctrl+k tab", "let level = 1;⏎level‸⏎level‸"),
        ("a word that only other cursors have is none", "rust", "levels‸⏎‸", "\"lev\" tab", "levelslev   ‸⏎lev ‸"),
        ("a template", "python", "‸⏎‸", "\"while\" tab \"a\" tab \"b\"", "while a:⏎    b‸⏎while a:⏎    b‸"),
        ("one step", "rust", "let level = 1;⏎‸⏎‸", "\"lev\" tab ctrl+z", "let level = 1;⏎lev‸⏎lev‸"),
    ]);
    let mut app = marked("rust", "let level = 1;⏎x‸⏎le‸");
    play(&mut app, "ctrl+k tab");
    assert_eq!(app.message(), Some("put in at 1 cursor; 1 cursor after other letters"));
}

#[test]
fn templates_and_their_stops() {
    check(&[
        ("the first stop is selected", "rust", "‸", "\"for\" tab", "for [item] in items {⏎    ⏎}"),
        ("the next stop", "rust", "‸", "\"for\" tab \"a\" tab", "for a in [items] {⏎    ⏎}"),
        ("the last stop", "rust", "‸", "\"for\" tab \"a\" tab \"b\" tab \"c\"", "for a in b {⏎    c‸⏎}"),
        ("back", "rust", "‸", "\"for\" tab \"a\" tab \"b\" shift+tab", "for [a] in b {⏎    ⏎}"),
        ("back at the first", "rust", "‸", "\"for\" tab shift+tab", "for [item] in items {⏎    ⏎}"),
        ("after the end tab is a tab", "rust", "‸", "\"for\" tab tab tab \"a\" tab", "for item in items {⏎    a   ‸⏎}"),
        (
            "depth and unit of the text",
            "rust",
            "fn a() {⏎  if b {⏎    ‸⏎  }⏎}",
            "\"loop\" tab \"c\"",
            "fn a() {⏎  if b {⏎    loop {⏎      c‸⏎    }⏎  }⏎}",
        ),
        (
            "tabs of the text",
            "go",
            "func a() {⏎\t‸⏎}",
            "\"iferr\" tab",
            "func a() {⏎\tif err != nil {⏎\t\treturn [err]⏎\t}⏎}",
        ),
        ("a mirror", "c", "‸", "\"fori\" backspace tab tab \"n\"", "for (int n‸ = 0; n‸ < count; n‸++) {⏎    ⏎}"),
        (
            "inside a template tab takes what is seen, then goes on",
            "rust",
            "let level = 1;⏎‸",
            "\"for\" tab \"lev\" tab tab",
            "let level = 1;⏎for level in [items] {⏎    ⏎}",
        ),
        (
            "but for what was chosen",
            "rust",
            "let level = 1;⏎‸",
            "\"for\" tab \"lev\" ctrl+k tab tab",
            "let level = 1;⏎for level in [items] {⏎    ⏎}",
        ),
        (
            "one in another",
            "rust",
            "‸",
            "\"if\" tab \"a\" tab \"loop\" ctrl+k tab \"b\"",
            "if a {⏎    loop {⏎        b‸⏎    }⏎}",
        ),
        ("undo takes all of it", "rust", "‸", "\"for\" tab ctrl+z", "for‸"),
        ("undo and tab", "rust", "‸", "\"for\" tab ctrl+z tab", "for ‸"),
        ("words find it", "rust", "‸", "\"forever\" tab \"a\"", "loop {⏎    a‸⏎}"),
        ("not where it does not fit", "rust", "let a = ‸", "\"fn\" tab", "let a = fn  ‸"),
        ("around a blank line", "python", "‸", "!surround-with(if)", "if [condition]:⏎    pass"),
    ]);
}

#[test]
fn choices_in_templates() {
    check(&[
        (
            "a choice puts in its first word",
            "html",
            "‸",
            "\"form\" ctrl+k tab tab",
            "<form action=\"/\" method=\"[post]\">⏎    ⏎</form>",
        ),
        (
            "another word of a choice",
            "html",
            "‸",
            "\"form\" ctrl+k tab tab down tab \"a\"",
            "<form action=\"/\" method=\"get\">⏎    a‸⏎</form>",
        ),
        (
            "a choice by number",
            "html",
            "‸",
            "\"form\" ctrl+k tab tab alt+2 \"a\"",
            "<form action=\"/\" method=\"get\">⏎    a‸⏎</form>",
        ),
        (
            "a choice by letters",
            "html",
            "‸",
            "\"form\" ctrl+k tab tab \"ge\" down enter \"a\"",
            "<form action=\"/\" method=\"get\">⏎    a‸⏎</form>",
        ),
        (
            "tab goes on past a choice",
            "html",
            "‸",
            "\"form\" ctrl+k tab tab tab \"a\"",
            "<form action=\"/\" method=\"post\">⏎    a‸⏎</form>",
        ),
    ]);
}

#[test]
fn stops_are_counted_until_their_lines_are_left() {
    let mut app = marked("rust", "let a = 1;⏎‸⏎let b = 2;");
    play(&mut app, "\"for\" tab");
    assert_eq!(stops(&app), 2);
    play(&mut app, "\"x\" tab");
    assert_eq!(stops(&app), 1);
    play(&mut app, "down");
    assert_eq!(stops(&app), 1, "still in the lines of the template");
    play(&mut app, "ctrl+home");
    assert_eq!(stops(&app), 0);
    play(&mut app, "tab");
    assert!(shown(&app).starts_with("    ‸let a"), "{}", shown(&app));
}

#[test]
fn a_stop_inside_another_goes_when_that_is_typed_over() {
    let folder = tempfile::tempdir().unwrap();
    let body = "[[template]]\nname = \"nest\"\nbody = \"${1:a ${2:b} c} $3\"\n\
        [[template]]\nname = \"hole\"\nbody = \"${1:a$2} $3\"\n";
    std::fs::write(folder.path().join("rust.toml"), body).unwrap();
    for (name, typed, left) in [("nest", "", 3), ("nest", "x", 2), ("hole", "", 3), ("hole", "x", 2)] {
        let mut app = marked("rust", "‸");
        assert_eq!(app.context.workspace.read_templates(folder.path()), []);
        play(&mut app, &format!("\"{name}\" tab"));
        if !typed.is_empty() {
            play(&mut app, &format!("\"{typed}\""));
        }
        assert_eq!(stops(&app), left, "{name} {typed}");
    }
    let mut app = marked("rust", "‸");
    app.context.workspace.read_templates(folder.path());
    play(&mut app, "\"nest\" tab right \"!\" tab");
    assert_eq!(shown(&app), "a [b] c! ", "typed after it, the inner one is there still");
}

#[test]
fn constructs_around_lines() {
    check(&[
        ("the touched lines", "rust", "a();⏎b‸();⏎c();", "!surround-with(if)", "a();⏎if [true] {⏎    b();⏎}⏎c();"),
        (
            "deeper lines stay deeper",
            "rust",
            "‸if a {⏎    b();⏎}",
            "!select-all !surround-with(for)",
            "for [item] in items {⏎    if a {⏎        b();⏎    }⏎}",
        ),
        (
            "their depth",
            "rust",
            "fn f() {⏎    a‸();⏎}",
            "!surround-with(loop)",
            "fn f() {⏎    loop {⏎        a();⏎    }‸⏎}",
        ),
        (
            "two runs",
            "rust",
            "a‸();⏎b();⏎c‸();",
            "!surround-with(if)",
            "if [true] {⏎    a();⏎}⏎b();⏎if [true] {⏎    c();⏎}",
        ),
        (
            "blank lines get no white space",
            "rust",
            "‸a();⏎⏎b();",
            "!select-all !surround-with(loop)",
            "loop {⏎    a();⏎⏎    b();⏎}‸",
        ),
        ("try", "python", "a‸()", "!surround-with(try)", "try:⏎    a()⏎except [Exception] as error:⏎    raise"),
        ("by another word", "rust", "a‸();", "!surround-with(condition)", "if [true] {⏎    a();⏎}"),
        ("no such template", "rust", "a‸();", "!surround-with(nothing)", "a‸();"),
        ("from the list", "rust", "a‸();", "!surround-with tab", "if [true] {⏎    a();⏎}"),
        (
            "from the list, the fourth",
            "rust",
            "a‸();",
            "!surround-with down down down tab",
            "while [true] {⏎    a();⏎}",
        ),
        ("on a selection the key offers them", "rust", "a‸();", "shift+right ctrl+k tab", "if [true] {⏎    a();⏎}"),
        ("one step", "rust", "a‸();", "!surround-with(if) ctrl+z", "a‸();"),
        ("rules in make keep their tab", "make", "A := 1‸", "enter \"rule\" tab", "A := 1⏎[target]: source⏎\tcp $< $@"),
    ]);
    let mut app = marked("rust", "a‸();");
    play(&mut app, "!surround-with(nothing)");
    let said = app.message().unwrap();
    assert!(said.starts_with("no template \"nothing\" goes around lines: if, iflet, for"), "{said}");
}

#[test]
fn what_is_near_comes_first_and_each_word_once() {
    let here = "fn far() { let tide_far = 1; let tide_both = 2; }\n\nfn near() {\n    let tide_here = 3;\n    \n}\n";
    let other = "let tide_other = 1; let tide_both = 2; let tide_here = 3;\n";
    let mut app = app(&[("a.rs", here), ("b.rs", "let tide_late = 1;\n"), ("c.rs", other)], Path::new("/sound"));
    play(&mut app, "@5:5 \"tid\"");
    assert_eq!(offered(&app), ["tide_here", "tide_both", "tide_far", "tide_late", "tide_other"]);
    let sources: Vec<Source> = app.context.workspace.offers().unwrap().list.iter().map(|each| each.source).collect();
    assert_eq!(sources[..4], [Source::Word, Source::Word, Source::Word, Source::Open]);
    // A text that was used later is nearer.
    let ids: Vec<_> = app.context.workspace.buffers().iter().map(|buffer| (buffer.name(), buffer.id)).collect();
    let id = |name: &str| ids.iter().find(|(each, _)| each == name).unwrap().1;
    for name in ["c.rs", "a.rs"] {
        app.context.workspace.show(id(name));
        app.context.workspace.settle();
    }
    play(&mut app, "@5:8 \" tid\"");
    let list = offered(&app);
    let place = |word: &str| list.iter().position(|each| each == word);
    assert!(place("tide_other") < place("tide_late"), "{list:?}");
}

#[test]
fn the_settings_say_when_they_come() {
    for (when, keys, wanted) in [
        (When::Key, "\"lev\"", 0),
        (When::Off, "\"lev\"", 0),
        (When::Key, "\"lev\" ctrl+k", 1),
        (When::Off, "\"lev\" ctrl+k", 1),
        (When::Auto, "\"lev\"", 1),
    ] {
        let mut app = marked("rust", "let level = 1;⏎‸");
        app.context.workspace.project.offers = when;
        play(&mut app, keys);
        assert_eq!(offered(&app).len(), wanted, "{when:?} {keys}");
    }
    let mut app = marked("text", "‸");
    play(&mut app, "ctrl+k");
    assert_eq!(app.message(), Some("nothing is known that could be put here"));
}

#[test]
fn paths_in_a_string_that_begins_like_one() {
    let folder = tempfile::tempdir().unwrap();
    std::fs::create_dir(folder.path().join("charts")).unwrap();
    for name in ["gauges.rs", "charts/north.svg", ".hidden"] {
        std::fs::write(folder.path().join(name), "").unwrap();
    }
    let mut app = app(&[("a.rs", "let a = \"./\";\nlet gauge = 1;\n")], folder.path());
    play(&mut app, "@1:12 ctrl+k");
    assert_eq!(offered(&app), ["charts/", "gauges.rs"]);
    play(&mut app, "\"ga\" tab");
    assert!(shown(&app).starts_with("let a = \"./gauges.rs‸\""), "{}", shown(&app));
    play(&mut app, "ctrl+z esc @1:12 \"charts/\" ctrl+k tab");
    assert!(shown(&app).starts_with("let a = \"./charts/north.svg‸"), "{}", shown(&app));
    // What is no path gets words.
    play(&mut app, "esc ctrl+end \"let b = \" \"\\\"\" \"gau\" ctrl+k");
    assert_eq!(offered(&app), ["gauge"]);
}

#[test]
fn several_are_marked_and_put_in_one_after_the_other() {
    let mut app = marked("rust", "let level = lever + lemon;⏎‸");
    play(&mut app, "\"le\" ctrl+k ctrl+k space down space enter");
    assert_eq!(shown(&app), "let level = lever + lemon;⏎lemon level‸");
    let mut app = marked("rust", "‸");
    play(&mut app, "ctrl+k ctrl+k");
    let shown_now = app.context.workspace.offers().unwrap();
    let row = |name: &str| shown_now.list.iter().position(|each| each.text == name && each.template.is_some()).unwrap();
    let rows = [row("struct"), row("impl")];
    let panel_keys = "space".to_owned();
    let go = |app: &mut App, row: usize| {
        app.context.workspace.choose_offer_at(row);
        play(app, &panel_keys);
    };
    rows.into_iter().for_each(|row| go(&mut app, row));
    play(&mut app, "enter");
    assert!(shown(&app).starts_with("struct [Name] {⏎    field: u32,⏎}⏎impl Name {"), "{}", shown(&app));
}

#[test]
fn what_is_typed_in_the_panel_narrows_the_list_and_leaves_the_text() {
    let mut app = marked("rust", "let level = lemon;⏎‸");
    play(&mut app, "\"le\" ctrl+k ctrl+k \"v\"");
    assert_eq!(app.context.workspace.offers().unwrap().chosen().unwrap().text, "level");
    assert_eq!(shown(&app), "let level = lemon;⏎le‸");
    play(&mut app, "enter");
    assert_eq!(shown(&app), "let level = lemon;⏎level‸");
    play(&mut app, "esc \" le\" ctrl+k ctrl+k esc");
    assert!(app.panel().is_none() && offered(&app).is_empty());
}

#[test]
fn types_are_offered_where_one_is_expected() {
    let mut app = marked("rust", "fn f() {⏎    let a: ‸;⏎}");
    play(&mut app, "\"Res\"");
    assert!(offered(&app).contains(&"Result".to_owned()), "{:?}", offered(&app));
    let mut app = marked("rust", "fn f() {⏎    let a = ‸;⏎}");
    play(&mut app, "\"Res\"");
    assert!(!offered(&app).contains(&"Result".to_owned()), "{:?}", offered(&app));
}

#[test]
fn a_persons_templates_come_before_the_shipped_ones_and_mistakes_are_told() {
    let folder = tempfile::tempdir().unwrap();
    let rust = "[[template]]\nname = \"for\"\nbody = \"mine($1)\"\n\n[[template]]\nname = \"bad\"\nbody = \"${1\"\n";
    std::fs::write(folder.path().join("rust.toml"), rust).unwrap();
    std::fs::write(folder.path().join("nonsense.toml"), "").unwrap();
    let mut app = marked("rust", "‸");
    let told = app.context.workspace.read_templates(folder.path());
    let lines: Vec<(PathBuf, Option<usize>)> = told.iter().map(|told| (told.file.clone(), told.line)).collect();
    assert_eq!(lines, [(folder.path().join("nonsense.toml"), None), (folder.path().join("rust.toml"), Some(7))]);
    play(&mut app, "\"for\" tab");
    assert_eq!(shown(&app), "mine(‸)");
}

#[test]
fn what_is_taken_can_be_recorded() {
    for (text, keys, steps) in [
        ("let level = 1;⏎‸", "\"lev\" tab", "type \"level\""),
        ("fn find_row() {}⏎‸", "\"fr\" tab", "type \"fr\"\n2 delete-back\ntype \"find_row\""),
    ] {
        let mut app = marked("rust", text);
        play(&mut app, &format!("!record {keys}"));
        let recipe = app
            .context
            .workspace
            .recipes()
            .recording
            .as_ref()
            .map(|recording| (recording.recipe(), recording.flaw().map(str::to_owned)));
        let (recipe, flaw) = recipe.unwrap();
        assert_eq!(flaw, None);
        assert_eq!(recipe.trim(), steps);
    }
}
