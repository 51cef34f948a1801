//! Trees as the program has them: parsed in the background, language inside language, painted.

use snarvel_core::changes::ChangeBuilder;
use snarvel_core::changes::feed::ChangeFeed;
use snarvel_core::languages::{all, by_name};
use snarvel_core::structure::{Remembering, Roles, Structure};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Span};
use snarvel_syntax::background::{BackgroundParser, Need, Parsed, ParsedText, Requested};
use snarvel_syntax::paints::Paint;
use snarvel_task::Report;
use std::sync::Arc;
use std::sync::mpsc::{Receiver, channel};
use std::time::Duration;

/// Longer than any parse here takes on the slowest machine.
const LONGEST: Duration = Duration::from_mins(1);

/// A text and its parser, as a buffer has them.
struct Parsing {
    text: Text,
    feed: ChangeFeed,
    parser: BackgroundParser,
    parsed: Receiver<Report<Parsed>>,
}

impl Parsing {
    fn of(language: &str, text: &Text) -> Parsing {
        let (sender, parsed) = channel();
        let sink = Arc::new(move |report| drop(sender.send(report)));
        let parser = BackgroundParser::new(by_name(language).unwrap(), text.clone(), 0, sink).with_limit(LONGEST);
        Parsing { text: text.clone(), feed: ChangeFeed::default(), parser, parsed }
    }

    fn apply(&mut self, builder: ChangeBuilder) {
        let change = Arc::new(builder.finish());
        self.text.apply(&change);
        self.feed.push(change);
        self.parser.catch_up(&self.text, &self.feed);
    }

    /// Asks for what is needed around `span` until it is known.
    fn settle(&mut self, span: Span, need: Need) {
        while self.parser.request(span, need) == Requested::Pending {
            match self.parsed.recv().unwrap() {
                Report::News(parsed) => self.parser.take(parsed, &self.text, &self.feed),
                other => panic!("{other:?}"),
            }
        }
    }

    fn structure(&mut self, span: Span) -> ParsedText {
        self.settle(span, Need::Structure);
        self.parser.structure(span, self.feed.revision()).unwrap()
    }
}

/// The first letter of what each byte is drawn as, `.` for plain.
fn letters(language: &str, source: &str) -> String {
    painted(&mut Parsing::of(language, &Text::from(source)))
}

fn painted(parsing: &mut Parsing) -> String {
    let span = parsing.text.span();
    parsing.settle(span, Need::Colours);
    let (text, paints) = (&parsing.text, parsing.parser.painted(span, parsing.feed.revision()).unwrap());
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
    for language in all().iter().filter(|language| snarvel_syntax::has_own_grammar(&language.name)) {
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
fn nodes_of_the_inner_language_are_inside_those_of_the_outer_one() {
    let source = "<p>\n<script>\nfunction a() { return [1, 2]; }\n</script>\n";
    let text = Text::from(source);
    let at = Span::at(Byte(source.find("1, 2").unwrap()));
    let around = Parsing::of("html", &text).structure(at).around(at);
    let place = |start: &str| {
        let is_it = |span: Span| text.slice(span).starts_with(start);
        around.iter().position(|node| is_it(node.span)).unwrap_or_else(|| panic!("no node begins with {start}"))
    };
    assert!(place("[1, 2]") < place("function a"));
    assert!(place("function a") < place("<script>"));
    assert!(place("<script>") < place("<p>"));
}

#[test]
fn a_walk_finds_at_each_place_what_a_new_one_does() {
    let html = "<p>é\n<script>\nfunction a() { return [1, [2, 3], ``]; }\n</script>\n<style>b{c:d}</style>\n".repeat(5);
    let broken = "=+! RC_U*\n".repeat(30) + "fn a() { [[[1]]] }\n";
    for (language, source) in [("html", html.as_str()), ("rust", &broken), ("python", "if a:\n  b(1, 2)\n\n# c\n")] {
        let text = Text::from(source);
        let structure = Parsing::of(language, &text).structure(text.span());
        let remembering = Remembering::new(&structure);
        // Forward, back, and to and fro; carets and stretches.
        let places =
            (0..=text.len()).chain((0..=text.len()).rev()).chain((0..text.len()).map(|at| at * 7919 % text.len()));
        for (turn, at) in places.map(|at| text.snap_back(Byte(at))).enumerate() {
            let span = Span::new(at, text.snap_back((at + turn % 3 * 4).min(text.end())));
            assert_eq!(remembering.around(span), structure.around(span), "{language} {span:?}");
        }
    }
}

#[test]
fn what_followed_edits_is_what_is_parsed_anew() {
    let text = Text::from("<p>\n<script>\nlet a = [1, 2];\n</script>\n<style>b{c:d}</style>\n".repeat(20).as_str());
    let mut followed = Parsing::of("html", &text);
    followed.settle(text.span(), Need::Structure);
    for step in 0..200 {
        let text = followed.text.clone();
        let at = text.snap_back(Byte(step * 7919 % text.len()));
        let mut builder = ChangeBuilder::new(&text);
        match step % 4 {
            0 => builder.insert(at, "/* x */"),
            1 => builder.remove(Span::new(at, text.next_boundary(at))),
            2 => builder.insert(at, "\n<b>"),
            _ => builder.insert(at, "}"),
        }
        followed.apply(builder);
        if step % 10 == 9 {
            let mut fresh = Parsing::of("html", &followed.text);
            let here = Span::at(at.min(followed.text.end()));
            let [one, other] = [&mut followed, &mut fresh].map(|parsing| parsing.structure(here));
            assert_eq!(one.all(Roles::BLOCK), other.all(Roles::BLOCK), "after step {step}");
            assert_eq!(one.around(here), other.around(here), "after step {step}");
            assert_eq!(painted(&mut followed), painted(&mut fresh), "after step {step}");
        }
    }
}

#[test]
fn a_text_too_large_for_a_whole_parse_has_nodes_around_a_place() {
    let function = "fn sound(level: i32) -> i32 {\n    if level > 3 { level * 2 } else { 0 }\n}\n\n";
    let text = Text::from(function.repeat(9_000_000 / function.len()).as_str());
    let middle = text.len() / 2 / function.len() * function.len();
    let place = Span::at(Byte(middle + function.find("level *").unwrap()));
    let mut parsing = Parsing::of("rust", &text);
    let has_function = |parsing: &mut Parsing, place: Span| {
        let around = parsing.structure(place).around(place);
        let is_whole = |span: Span| span.len() == function.trim_end().len();
        around.iter().any(|node| node.roles.has(Roles::FUNCTION) && is_whole(node.span))
    };
    assert!(has_function(&mut parsing, place));
    let mut builder = ChangeBuilder::new(&text);
    builder.insert(Byte(0), "// far before\n");
    builder.insert(Byte(middle), "// just before\n");
    parsing.apply(builder);
    let moved = Span::at(place.start + "// far before\n// just before\n".len());
    assert!(has_function(&mut parsing, moved));
    assert!(parsing.structure(moved).all(Roles::BLOCK).is_empty(), "those of a window would pass for all");
    let far = Span::at(Byte(text.len() - function.len() / 2));
    assert!(has_function(&mut parsing, far));
}

#[test]
fn places_far_from_each_other_keep_their_colours() {
    let function = "fn sound(level: i32) -> i32 { level * 2 }\n";
    for bytes in [400_000, 6_000_000] {
        let text = Text::from(function.repeat(bytes / function.len()).as_str());
        let mut parsing = Parsing::of("rust", &text);
        let [first, last] = [0, text.len() - function.len()].map(|at| Span::new(Byte(at), Byte(at + function.len())));
        for _ in 0..2 {
            parsing.settle(first, Need::Colours);
            parsing.settle(last, Need::Colours);
            // Both are there at once: whoever asks for both in turn is done.
            for span in [first, last] {
                assert_eq!(parsing.parser.request(span, Need::Colours), Requested::Known, "{bytes} bytes, {span:?}");
                assert!(
                    parsing.parser.painted(span, parsing.feed.revision()).is_some_and(|paints| !paints.list.is_empty())
                );
            }
            let before = parsing.text.clone();
            let mut builder = ChangeBuilder::new(&before);
            builder.insert(Byte(function.len()), "// fog\n");
            parsing.apply(builder);
        }
    }
}
