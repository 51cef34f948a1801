//! The real program in a terminal: wrapped lines, themes, views compared.

use crate::support::Terminal;

/// Runs a verb by its name in lookup.
fn look_up<'a>(terminal: &'a Terminal, verb: &str) -> &'a Terminal {
    terminal.keys(&["C-l"]).type_text(verb).keys(&["Enter"])
}

#[test]
fn two_views_are_compared_and_a_difference_is_taken_over() {
    let (before, after) = ("ebb\nflow\nslack\nspring\nneap\n", "ebb\nflood\nslack\nspring\nneap\nlast\n");
    let terminal = Terminal::with(&[("monday.txt", before), ("tuesday.txt", after)]);
    terminal.start("monday.txt tuesday.txt").keys(&["S-F9", "C-NPage"]).shows("tuesday.txt");
    look_up(&terminal, "compare-views").shows("2 differences");
    terminal.until("the lines that differ", |screen| screen.matches('≠').count() >= 2);
    look_up(&terminal, "next-difference").shows("difference 1 of 2");
    look_up(&terminal, "take-difference").shows("taken over");
    look_up(&terminal, "save").shows("saved tuesday.txt");
    assert_eq!(terminal.file("tuesday.txt"), after.replace("flood", "flow"));
    // What is edited meanwhile is compared again.
    terminal.keys(&["C-Home"]).type_text("x").until("two differences", |screen| screen.matches('≠').count() >= 2);
    look_up(&terminal, "compare-views").shows("not compared any more");
    terminal.until("no marks", |screen| !screen.contains('≠'));
    // They scroll together.
    look_up(&terminal, "view-both").shows("scroll together");
}

#[test]
fn long_lines_are_wrapped_and_gone_through_by_rows() {
    let line = "the tide tables of Skerry Sound are worked out anew each morning ".repeat(5);
    let terminal = Terminal::with(&[("log.md", &format!("{line}\nlast\n"))]);
    terminal.start("log.md");
    terminal.until("a line that goes on beyond the edge", |screen| screen.contains('›'));
    look_up(&terminal, "wrap")
        .shows("long lines are wrapped here")
        .until("rows", |screen| screen.matches('↳').count() == 2);
    terminal.keys(&["Down", "Down", "Down"]).shows("2:1").keys(&["Up", "Up"]).shows("1:").keys(&["End"]);
    terminal.type_text("X").resize(60, 30).until("more rows", |screen| screen.matches('↳').count() >= 5);
    terminal.keys(&["C-s"]).shows("saved");
    assert!(terminal.file("log.md").contains('X') && terminal.file("log.md").lines().count() == 2);
}

#[test]
fn a_theme_is_seen_kept_and_one_s_own_is_read() {
    let terminal = Terminal::with(&[("tide.txt", "ebb\n")]);
    let folder = terminal.own("config/snarvel/themes");
    std::fs::create_dir_all(&folder).unwrap();
    std::fs::write(folder.join("fog.toml"), "about = \"Grey, for fog.\"\n[colors]\ntext = \"#123456\"\n").unwrap();
    terminal.start("tide.txt");
    look_up(&terminal, "theme").shows("Grey, for fog.").type_text("fog").keys(&["Enter"]).shows("palette: kept in");
    let settings = std::fs::read_to_string(terminal.own("config/snarvel/settings.toml")).unwrap();
    assert!(settings.contains("palette = \"fog\""), "{settings}");
    terminal.keys(&["C-q"]).ended(0);
    // One that is wrong is told, and does not keep the program from starting.
    std::fs::write(folder.join("fog.toml"), "parent = \"fog\"\n").unwrap();
    let again = terminal.again();
    again
        .start("tide.txt")
        .shows("its own parent")
        .escape()
        .until("the text", |screen| !screen.contains("its own parent"));
    again.keys(&["C-q"]).ended(0);
}
