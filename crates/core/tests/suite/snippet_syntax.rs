//! The snippet syntax of the Language Server Protocol 3.17, part by part of its grammar.

use proptest::prelude::*;
use snarvel_core::templates::{Filled, Setting, Variable, parse};
use snarvel_core::text::LineEnd;
use snarvel_core::text::indent::IndentUnit;

fn fill(source: &str) -> Filled {
    let variable = |name: &str| match name {
        "TM_FILENAME" => Variable::Value("tide_gauge.rs".to_owned()),
        "TM_CURRENT_WORD" => Variable::Value("low water".to_owned()),
        "TM_DIRECTORY" => Variable::Value("/sound/src".to_owned()),
        "TM_SELECTED_TEXT" => Variable::Unset,
        _ => Variable::Unknown,
    };
    let body = parse(source).unwrap_or_else(|wrong| panic!("{source}: {wrong}"));
    let setting = Setting {
        indentation: "",
        unit: IndentUnit::Spaces(4),
        line_end: LineEnd::Lf,
        at_last_stop: None,
        variable: &variable,
    };
    body.fill(&setting)
}

/// A filled text with marks: what is written so far, and up to which byte of the text that is.
struct Marked<'a> {
    filled: &'a Filled,
    out: String,
    upto: usize,
}

impl Marked<'_> {
    fn text(&mut self, end: usize) {
        self.out.push_str(&self.filled.text[self.upto..end]);
        self.upto = end;
    }

    /// Marks the places that are in `outer`.
    fn places(&mut self, outer: Option<usize>) {
        for (index, place) in self.filled.places.iter().enumerate().filter(|(_, place)| place.outer == outer) {
            self.text(place.span.start);
            self.out.extend(["‹", &place.number.to_string(), ":"]);
            self.places(Some(index));
            self.text(place.span.end);
            self.out.push('›');
        }
    }
}

/// The text with `‹n:…›` around each place of a stop.
fn shown(source: &str) -> String {
    let filled = fill(source);
    let mut marked = Marked { filled: &filled, out: String::new(), upto: 0 };
    marked.places(None);
    marked.text(filled.text.len());
    marked.out
}

/// A part of the grammar, a body, and what it becomes.
const TABLE: &[(&str, &str, &str)] = &[
    ("text", "ebb and flow", "ebb and flow‹0:›"),
    ("text: escaped dollar", r"\$1", "$1‹0:›"),
    ("text: escaped brace and backslash", r"\} \\", r"} \‹0:›"),
    ("text: a backslash before anything else", r"\n", r"\n‹0:›"),
    ("text: a dollar sign that begins nothing", "5 $ and $-", "5 $ and $-‹0:›"),
    ("text: a brace outside", "a } b", "a } b‹0:›"),
    ("tabstop: $ int", "f($1)", "f(‹1:›)‹0:›"),
    ("tabstop: ${ int }", "f(${1})", "f(‹1:›)‹0:›"),
    ("tabstop: the last one", "f($0);", "f(‹0:›);"),
    ("tabstop: two digits", "${10}$2", "‹10:›‹2:›‹0:›"),
    ("tabstop: twice", "$1 = $1", "‹1:› = ‹1:›‹0:›"),
    ("placeholder: text", "${1:level}", "‹1:level›‹0:›"),
    ("placeholder: empty", "${1:}", "‹1:›‹0:›"),
    ("placeholder: any, a tabstop", "${1:a$2}", "‹1:a‹2:››‹0:›"),
    ("placeholder: any, a variable", "${1:$TM_FILENAME}", "‹1:tide_gauge.rs›‹0:›"),
    ("placeholder: any, several parts", "${1:a ${2:b} c}", "‹1:a ‹2:b› c›‹0:›"),
    ("placeholder: other places have its text", "$1 ${1:x}", "‹1:x› ‹1:x›‹0:›"),
    ("placeholder: the first text counts", "${1:x} ${1:y}", "‹1:x› ‹1:x›‹0:›"),
    ("placeholder: inside itself", "${1:a$1}", "‹1:a‹1:››‹0:›"),
    ("placeholder: of the last stop", "${0:pass}", "‹0:pass›"),
    ("choice", "${1|ebb,flow|}", "‹1:ebb›‹0:›"),
    ("choice: one", "${1|ebb|}", "‹1:ebb›‹0:›"),
    ("choice: escaped comma and bar", r"${1|a\,b\|c,d|}", "‹1:a,b|c›‹0:›"),
    ("choice: other places have its word", "$1 ${1|x,y|}", "‹1:x› ‹1:x›‹0:›"),
    ("variable: $ var", "$TM_FILENAME!", "tide_gauge.rs!‹0:›"),
    ("variable: ${ var }", "${TM_FILENAME}s", "tide_gauge.rss‹0:›"),
    ("variable: ${ var : any }, with a value", "${TM_FILENAME:none}", "tide_gauge.rs‹0:›"),
    ("variable: ${ var : any }, without one", "${TM_SELECTED_TEXT:none}", "none‹0:›"),
    ("variable: any, a stop", "${TM_SELECTED_TEXT:$0}", "‹0:›"),
    ("variable: without a value and without text", "[$TM_SELECTED_TEXT]", "[]‹0:›"),
    ("variable: unknown becomes a stop with its name", "$1$SHIP", "‹1:›‹2:SHIP›‹0:›"),
    ("variable: transform", r"${TM_FILENAME/(.*)\..+$/$1/}", "tide_gauge‹0:›"),
    ("variable: transform, the first match only", "${TM_CURRENT_WORD/[aeiou]/_/}", "l_w water‹0:›"),
    ("variable: transform, option g", "${TM_CURRENT_WORD/[aeiou]/_/g}", "l_w w_t_r‹0:›"),
    ("variable: transform, option i", "${TM_CURRENT_WORD/LOW/high/i}", "high water‹0:›"),
    ("variable: transform, options i and g", "${TM_CURRENT_WORD/W/v/gi}", "lov vater‹0:›"),
    ("variable: transform, nothing matches", "${TM_CURRENT_WORD/x/y/}", "low water‹0:›"),
    ("variable: transform, a slash in the pattern", r"${TM_DIRECTORY/^\/sound\//~/}", "~src‹0:›"),
    ("variable: transform of an unset one", "[${TM_SELECTED_TEXT/a/b/}]", "[]‹0:›"),
    ("format: $ int", "${TM_CURRENT_WORD/(low) (water)/$2 $1/}", "water low‹0:›"),
    ("format: ${ int }", "${TM_CURRENT_WORD/(low)/${1}er/}", "lower water‹0:›"),
    ("format: upcase", "${TM_CURRENT_WORD/(low)/${1:/upcase}/}", "LOW water‹0:›"),
    ("format: downcase", "${TM_CURRENT_WORD/(.*)/X${1:/downcase}/}", "Xlow water‹0:›"),
    ("format: capitalize", "${TM_CURRENT_WORD/(low)/${1:/capitalize}/}", "Low water‹0:›"),
    ("format: if", "${TM_CURRENT_WORD/(low)|.*/${1:+ebb}/}", "ebb water‹0:›"),
    ("format: if, not matched", "${TM_CURRENT_WORD/(high)|low/[${1:+ebb}]/}", "[] water‹0:›"),
    ("format: if and else", "${TM_CURRENT_WORD/(low)/${1:?ebb:flow}/}", "ebb water‹0:›"),
    ("format: if and else, not matched", "${TM_CURRENT_WORD/(high)|low/${1:?ebb:flow}/}", "flow water‹0:›"),
    ("format: else with a dash", "${TM_CURRENT_WORD/(high)|low/${1:-flow}/}", "flow water‹0:›"),
    ("format: else without one", "${TM_CURRENT_WORD/(high)|low/${1:flow}/}", "flow water‹0:›"),
    ("format: text with an escaped dollar", r"${TM_CURRENT_WORD/low/\$1/}", "$1 water‹0:›"),
    ("format: empty", "${TM_CURRENT_WORD/low //}", "water‹0:›"),
    ("int: leading zeros", "$01", "‹1:›‹0:›"),
    ("var: with digits and underscores", "$TM_FILENAME_2x", "‹1:TM_FILENAME_2x›‹0:›"),
];

#[test]
fn each_part_of_the_grammar() {
    let wrong: Vec<String> = TABLE
        .iter()
        .filter(|(_, source, wanted)| shown(source) != *wanted)
        .map(|(name, source, wanted)| format!("{name}: {source}\n  wanted {wanted}\n  is     {}", shown(source)))
        .collect();
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn choices_keep_their_words() {
    assert_eq!(fill(r"${2|ebb,slack \, still,flow|}").choices[&2], ["ebb", "slack , still", "flow"]);
}

/// A body, the byte at which it is wrong, and a part of what is said.
const WRONG: &[(&str, usize, &str)] = &[
    ("a ${1:b", 7, "'}' is missing after a stop"),
    ("a ${1", 5, "'}' is missing after a stop"),
    ("a ${", 4, "a number or the name of a variable"),
    ("${-}", 2, "a number or the name of a variable"),
    ("${1|a,b", 7, "\"|}\" is missing"),
    ("${1|a|b}", 6, "'}' is missing"),
    ("${1/a/b/}", 3, "a stop has no transform"),
    ("${NAME/a", 8, "after the regular expression"),
    ("${NAME/a/b", 10, "after the format"),
    ("${NAME/a/b/g", 12, "'}' is missing after a variable"),
    ("${NAME/(/b/}", 7, "the regular expression: unclosed group"),
    ("${NAME/a/b/x}", 7, "no option 'x'"),
    ("${NAME/a/${x}/}", 11, "the number of a group"),
    ("${NAME/a/${1:/shout}/}", 14, "no change of case \"shout\""),
    ("${NAME/a/${1:?x}/}", 18, "':' is missing"),
    ("$99999999999", 1, "too large a number"),
];

#[test]
fn what_is_wrong_is_told_with_its_place() {
    for (source, at, part) in WRONG {
        let wrong = parse(source).expect_err(source);
        assert!(wrong.at == *at && wrong.why.contains(part), "{source}: {wrong:?}");
    }
}

#[test]
fn what_holds_itself_many_times_is_bounded() {
    let deep = "${1:".repeat(100_000) + &"}".repeat(100_000);
    assert!(parse(&deep).expect_err("too deep").why.contains("deep in each other"));
    let stop = |number: u32| ["${", &number.to_string(), ":x$", &(number + 1).to_string()].concat();
    let doubling: String = (1..60).map(|number| stop(number) + "$" + &(number + 1).to_string() + "}").collect();
    let filled = fill(&doubling);
    assert!(filled.text.len() < 4 << 20 && filled.places.len() < 100_000);
}

#[test]
fn lines_take_the_depth_the_unit_and_the_line_ends_of_the_place() {
    let value = |name: &str| match name {
        "TM_SELECTED_TEXT" => Variable::Value("ebb();\n\n\tflow();".to_owned()),
        _ => Variable::Unknown,
    };
    let put = |source: &str, indentation: &str, unit| {
        let setting = Setting { indentation, unit, line_end: LineEnd::CrLf, at_last_stop: None, variable: &value };
        parse(source).unwrap().fill(&setting).text
    };
    let around = "if $1 {\n\t$TM_SELECTED_TEXT\n}";
    assert_eq!(
        put(around, "\t", IndentUnit::Tab),
        "if  {\r\n\t\tebb();\r\n\r\n\t\t\tflow();\r\n\t}",
        "blank lines get no white space"
    );
    assert_eq!(put("a\n\tb\n\t\tc\td", "  ", IndentUnit::Spaces(2)), "a\r\n    b\r\n      c\td");
    assert_eq!(put("$TM_SELECTED_TEXT;", "  ", IndentUnit::Spaces(2)), "ebb();\r\n\r\n  \tflow();;");
}

proptest! {
    #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(2_000) })]

    /// Whatever is written, reading it ends, and what it becomes has its places inside it, at edges of characters.
    #[test]
    fn any_body_is_read_or_refused(source in r"([$\\{}|,:/?+-]|\$\{|[0-2]|[a-cé]|TM_FILENAME|\n|\t){0,40}") {
        if let Ok(body) = parse(&source) {
            let variable = |name: &str| if name == "TM_FILENAME" { Variable::Value("x".into()) } else { Variable::Unset };
            let unit = IndentUnit::Spaces(2);
            let filled = body.fill(&Setting { indentation: " ", unit, line_end: LineEnd::Lf, at_last_stop: None, variable: &variable });
            for place in &filled.places {
                prop_assert!(filled.text.get(place.span.clone()).is_some(), "{source:?} {filled:?}");
            }
            prop_assert!(filled.places.iter().any(|place| place.number == 0));
            for pair in filled.places.windows(2) {
                let [one, other] = [&pair[0].span, &pair[1].span];
                prop_assert!(one.start <= other.start || one.end <= other.start, "{source:?} {filled:?}");
            }
        }
    }

    /// Text in which all that has a meaning is escaped is put in as it is.
    #[test]
    fn escaped_text_stays(text in "[ -~éø]{0,30}") {
        let escaped: String =
            text.chars().flat_map(|c| ['$', '}', '\\'].contains(&c).then_some('\\').into_iter().chain([c])).collect();
        prop_assert_eq!(fill(&escaped).text, text);
    }
}
