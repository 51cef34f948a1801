//! Trees as the program has them: parsed behind one's back, language inside language, painted.

use snarvel_core::changes::ChangeBuilder;
use snarvel_core::languages::{all, by_name};
use snarvel_core::structure::{Paint, Tree, is_block};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Span};
use std::time::Duration;

/// Longer than any parse here takes on the slowest machine.
const PATIENCE: Duration = Duration::from_mins(1);

fn tree(language: &str) -> Box<dyn Tree> {
    snarvel_syntax::tree_for(&by_name(language).unwrap(), PATIENCE).unwrap()
}

/// The first letter of what each byte is drawn as, `.` for plain.
fn letters(language: &str, source: &str) -> String {
    let text = Text::from(source);
    painted(&*tree(language), &text)
}

fn painted(tree: &dyn Tree, text: &Text) -> String {
    // The first look asks for colours, the second one finds them.
    tree.painted(text, text.span());
    tree.settle(text);
    let paints = tree.painted(text, text.span()).unwrap();
    let mut row = vec!['.'; text.len()];
    assert_eq!(paints.span, text.span());
    let mut last = Byte(0);
    for each in paints.list {
        assert!(last <= each.span.start && each.span.start < each.span.end && each.span.end <= text.end(), "{each:?}");
        last = each.span.end;
        let letter = match each.paint {
            Paint::Keyword => 'k',
            Paint::Type => 't',
            Paint::Function => 'f',
            Paint::String => 's',
            Paint::Number => 'n',
            Paint::Comment => 'c',
            Paint::Plain => '.',
        };
        row[each.span.start.0..each.span.end.0].fill(letter);
    }
    let is_blank = |at: usize| text.char_at(Byte(at)).is_some_and(char::is_whitespace);
    (0..row.len()).filter(|at| text.is_boundary(Byte(*at))).filter(|at| is_blank(*at)).for_each(|at| row[at] = '.');
    row.into_iter().collect()
}

#[test]
fn what_is_drawn_as_what() {
    let rows = [
        ("rust", "fn read(a: Level) {} // b", "kk.ffff....ttttt.....cc.c"),
        ("rust", "let a = \"b\\n\"; c(2)", "kkk.....sssss..f.n."),
        ("python", "def a(b): return f\"{b} c\"", "kkk.f.....kkkkkk.ss....ss"),
        ("html", "<b id=\"x\">c</b><!-- d -->", ".k.tt..s.....k.cccc.c.ccc"),
        ("html", "<style>b{color:red}</style>", ".kkkkk.k.ttttt.......kkkkk."),
        ("toml", "[a]\nb = 1 # c", ".t..t...n.c.c"),
        ("kotlin", "fun a(b: Int) = 1", "kkk.f....ttt....n"),
    ];
    for (language, source, expected) in rows {
        let found = letters(language, source);
        assert!(found.starts_with(expected), "{language}\n{source}\n{found}");
    }
}

#[test]
fn every_grammar_paints() {
    let mut count = 0;
    for language in all().iter().filter(|language| snarvel_syntax::has_grammar(&language.name)) {
        let source = "class Alpha { int beta = 12; }\n# \"gamma\"\n<delta a='1'> // x\n: 1\n";
        let opening = match language.name.as_str() {
            "php" => "<?php\n",
            "sql" => "select 1 -- x\n",
            _ => "",
        };
        let found = letters(&language.name, &format!("{opening}{source}"));
        assert!(found.contains(|letter| letter != '.'), "{}: {found}", language.name);
        count += 1;
    }
    assert!(count >= 30, "{count} languages with a grammar");
}

#[test]
fn nodes_of_the_inner_language_lie_inside_those_of_the_outer_one() {
    let source = "<p>\n<script>\nfunction a() { return [1, 2]; }\n</script>\n";
    let text = Text::from(source);
    let at = Byte(source.find("1, 2").unwrap());
    let kinds: Vec<&str> = tree("html").around(&text, Span::at(at)).iter().map(|node| node.kind).collect();
    let place =
        |kind: &str| kinds.iter().position(|other| *other == kind).unwrap_or_else(|| panic!("{kind}: {kinds:?}"));
    assert!(place("array") < place("function_declaration"));
    assert!(place("function_declaration") < place("script_element"));
    assert!(place("script_element") < place("document"));
}

#[test]
fn a_tree_that_followed_edits_is_that_of_the_text() {
    let mut text = Text::from("<p>\n<script>\nlet a = [1, 2];\n</script>\n<style>b{c:d}</style>\n".repeat(20).as_str());
    let mut followed = tree("html");
    followed.settle(&text);
    for step in 0..200 {
        let at = text.snap_back(Byte(step * 7919 % text.len()));
        let mut builder = ChangeBuilder::new(&text);
        match step % 4 {
            0 => builder.insert(at, "/* x */"),
            1 => builder.remove(Span::new(at, text.next_boundary(at))),
            2 => builder.insert(at, "\n<b>"),
            _ => builder.insert(at, "}"),
        }
        let change = builder.finish();
        let before = text.clone();
        text.apply(&change);
        followed.follow(&before, &change, &text);
        let fresh = tree("html");
        let here = Span::at(at.min(text.end()));
        if step % 10 == 9 {
            assert_eq!(followed.all(&text, is_block), fresh.all(&text, is_block), "after step {step}");
            assert_eq!(followed.around(&text, here), fresh.around(&text, here), "after step {step}");
            assert_eq!(painted(&*followed, &text), painted(&*fresh, &text), "after step {step}");
        }
    }
}

#[test]
fn a_text_too_large_for_a_whole_parse_has_nodes_around_a_place() {
    let function = "fn sound(level: i32) -> i32 {\n    if level > 3 { level * 2 } else { 0 }\n}\n\n";
    let mut text = Text::from(function.repeat(9_000_000 / function.len()).as_str());
    let mut tree = tree("rust");
    let middle = text.len() / 2 / function.len() * function.len();
    let place = Span::at(Byte(middle + function.find("level *").unwrap()));
    let kinds = |tree: &dyn Tree, text: &Text, place: Span| {
        tree.around(text, place).iter().map(|node| (node.kind, text.slice(node.span).len())).collect::<Vec<_>>()
    };
    let found = kinds(&*tree, &text, place);
    assert!(found.contains(&("function_item", function.trim_end().len())), "{found:?}");
    let mut builder = ChangeBuilder::new(&text);
    builder.insert(Byte(0), "// far before\n");
    builder.insert(Byte(middle), "// just before\n");
    let change = builder.finish();
    let before = text.clone();
    text.apply(&change);
    tree.follow(&before, &change, &text);
    let shift = "// far before\n// just before\n".len();
    let moved = Span::at(place.start + shift);
    assert!(kinds(&*tree, &text, moved).contains(&("function_item", function.trim_end().len())));
    assert!(tree.all(&text, is_block).is_empty(), "those of a window would pass for all");
    let far = Span::at(Byte(text.len() - function.len() / 2));
    assert!(kinds(&*tree, &text, far).iter().any(|(kind, _)| *kind == "function_item"));
}
