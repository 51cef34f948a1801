//! So many cursors that the work is done in halves: the outcome is what a plain list of lines says.

use crate::support::editor::{Call, Editor};
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::languages::by_name;
use snarvel_core::parallel::PARALLEL_THRESHOLD;
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Line};
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_workspace::registry::by_name as verb;

/// Every so many lines there is a cursor, in column 2.
const STEP: usize = 4;

fn lines() -> Vec<String> {
    (0..3 * PARALLEL_THRESHOLD * STEP / 2).map(|number| format!("  é{number} tide")).collect()
}

fn whole(lines: &[String]) -> String {
    lines.iter().flat_map(|line| [line.as_str(), "\r\n"]).collect()
}

/// What `verb` makes of the text; it is undone, and done again.
fn after(name: &str, argument: &str) -> String {
    let plain = whole(&lines());
    let text = Text::from(plain.as_str());
    let places = (0..lines().len()).step_by(STEP).map(|line| text.line_start(Line(line)) + 2);
    let set = CursorSet::of(places.map(Selection::caret).collect(), 0);
    assert!(set.len() > PARALLEL_THRESHOLD);
    let mut editor = Editor::new(text, by_name("rust").unwrap());
    editor.set_cursors(set);
    let mut run = |name: &str, argument: &str| {
        let call = Call { verb: verb(name).unwrap(), argument, times: 1, clip: &Clip::default(), now_ms: 0 };
        editor.run(call);
        (editor.text().to_string(), editor.cursors().list().iter().map(|each| each.head).collect::<Vec<Byte>>())
    };
    let done = run(name, argument);
    assert_eq!(run("undo", "").0, plain, "{name}");
    assert!(run("redo", "") == done, "{name}");
    done.0
}

/// What `by` makes of each group of lines that begins with a cursor.
fn grouped(by: impl Fn(&[String]) -> Vec<String>) -> String {
    whole(&lines().chunks(STEP).flat_map(by).collect::<Vec<_>>())
}

#[test]
fn halves_of_many_are_what_a_list_of_lines_says() {
    let with_first = |change: &dyn Fn(&str) -> String| {
        grouped(|group| std::iter::once(change(&group[0])).chain(group[1..].iter().cloned()).collect())
    };
    assert_eq!(after("type-text", "x"), with_first(&|line| line.replacen("  ", "  x", 1)));
    assert_eq!(after("comment-toggle", ""), with_first(&|line| line.replacen("  ", "  // ", 1)));
    assert_eq!(after("delete-lines", ""), grouped(|group| group[1..].to_vec()));
    assert_eq!(after("duplicate-down", ""), grouped(|group| [&group[..1], group].concat()));
    assert_eq!(after("carry-down", ""), grouped(|group| [&group[1..2], &group[..1], &group[2..]].concat()));
    let joined = |group: &[String]| format!("{} {}", group[0], group[1].trim_start());
    assert_eq!(after("join-lines", ""), grouped(|group| [&[joined(group)], &group[2..]].concat()));
}

/// What `name` makes of `block` so many times, with a caret on each of its lines but the first.
fn of_blocks(name: &str, language: &str, block: &str, times: usize) -> String {
    let text = Text::from(block.repeat(times).as_str());
    let lines = block.lines().count();
    let places = (0..times * lines).filter(|line| line % lines > 0).map(|line| text.line_start(Line(line)));
    let set = CursorSet::of(places.map(Selection::caret).collect(), 0);
    let mut editor = Editor::new(text, by_name(language).unwrap());
    editor.set_cursors(set);
    let call = Call { verb: verb(name).unwrap(), argument: "", times: 1, clip: &Clip::default(), now_ms: 0 };
    editor.run(call);
    editor.text().to_string()
}

#[test]
fn halves_of_many_blocks_of_source_are_what_few_of_them_are() {
    let few = 8;
    let blocks = [
        ("rust", "fn a() {\n    let b = \"c // d\"; // e\n    // f\n\n    /* g\n       h */ i();\n\t'j' // k\n}\n"),
        ("python", "def a():\n    b = ('c' # d\n         'e'\n         \"f\")\n    g = '''h\n    # i'''\n"),
        ("c", "int a(void)\n{ /* b */ return c(\"d\\\"\" \"e\"); // f\n  // g\n  h(); /* i\n  * j */\n}\r\n"),
        ("html", "<p>a</p>\n<script>\nlet a = `b`; // c\n</script>\n<!-- d -->\n<style>e { f: g }\n</style>\n"),
        ("yaml", "a: |\n  # b\n\nc: 'd # e' # f\n- g # h\n"),
        ("shell", "a <<B\n# c\nB\necho \"$(d \"e\" # f)\" # g\n\nh\n"),
    ];
    for (language, block) in blocks {
        let times = (PARALLEL_THRESHOLD / (block.lines().count() - 1) + 1).next_multiple_of(few);
        for name in
            ["join-lines", "comment-toggle", "comment-flip", "delete-lines", "duplicate-up", "carry-up", "indent"]
        {
            let (many, one) = (of_blocks(name, language, block, times), of_blocks(name, language, block, few));
            assert!(many == one.repeat(times / few), "{name} in {language}: {one}");
        }
    }
}
