//! An example of each verb: a text before it and after it, made by running the verb itself.
//!
//! In a sample `|` is a caret, `[abc|]` and `[|abc]` are selections whose head is where the bar is, `⏎` is a line end.

use super::clip::Clip;
use super::{Run, Verb};
use crate::cursors::{CursorSet, Selection};
use crate::editor::{Call, Editor};
use crate::languages::{by_name, plain};
use crate::text::Text;
use crate::units::Byte;

/// What a verb is shown on, and with what.
struct Sample {
    text: &'static str,
    argument: &'static str,
}

/// What a verb does to a small text.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Example {
    /// Before.
    pub before: String,
    /// After.
    pub after: String,
}

/// The example of `verb`; none for those that do nothing to a text.
#[must_use]
pub fn example(verb: &'static Verb) -> Option<Example> {
    let sample = sample(verb.name)?;
    let mut editor = staged(sample.text);
    let before = written(&editor);
    let times = if verb.name == "next-cursor" { 1 } else { u32::from(matches!(verb.run, Run::Edit(_))) };
    if times == 0 {
        return None;
    }
    let clip = Clip::of_text("tide ");
    editor.run(Call { verb, argument: sample.argument, times: 1, clip: &clip, now_ms: 0 });
    Some(Example { before, after: written(&editor) })
}

/// The text of `sample` with its cursors, as Rust.
fn staged(sample: &str) -> Editor {
    let (mut text, mut list) = (String::new(), Vec::new());
    let (mut open, mut head_first) = (None, false);
    for c in sample.chars() {
        let here = Byte(text.len());
        match (c, open) {
            ('[', _) => (open, head_first) = (Some(here), false),
            (']', Some(start)) => {
                list.push(if head_first { Selection::new(here, start) } else { Selection::new(start, here) });
                open = None;
            }
            ('|', Some(start)) => head_first = here == start,
            ('|', None) => list.push(Selection::caret(here)),
            ('⏎', _) => text.push('\n'),
            (c, _) => text.push(c),
        }
    }
    let mut editor = Editor::new(Text::from(text.as_str()), by_name("rust").unwrap_or_else(plain));
    editor.set_cursors(CursorSet::of(list, 0));
    editor
}

/// The text of `editor` with its cursors.
fn written(editor: &Editor) -> String {
    let text = editor.text().to_string();
    let mut marks: Vec<(usize, u8, &str)> = Vec::new();
    for each in editor.cursors().iter() {
        match each.is_caret() {
            true => marks.push((each.head.0, 1, "|")),
            false if each.head > each.anchor => {
                marks.extend([(each.anchor.0, 2, "["), (each.head.0, 0, "|]")]);
            }
            false => marks.extend([(each.head.0, 2, "[|"), (each.anchor.0, 0, "]")]),
        }
    }
    marks.sort_by_key(|(at, order, _)| (*at, *order));
    let mut out = String::new();
    let mut from = 0;
    for (at, _, mark) in marks {
        out.push_str(&text[from..at]);
        out.push_str(mark);
        from = at;
    }
    out.push_str(&text[from..]);
    out.replace('\n', "⏎")
}

/// What each verb is shown on: names, text, argument.
#[rustfmt::skip]
const SAMPLES: &[(&[&str], &str, &str)] = &[
    (&["char-left", "char-right", "extend-char-left", "extend-char-right"], "let le|vel = 3;", ""),
    (&["line-up", "extend-line-up"], "ebb⏎fl|ow", ""),
    (&["line-down", "extend-line-down"], "eb|b⏎flow", ""),
    (&["word-back", "word-forward", "extend-word-back", "extend-word-forward"], "read the |tide here", ""),
    (&["line-start", "line-end", "extend-line-start", "extend-line-end"], "    let le|vel = 3;", ""),
    (&["block-back", "extend-block-back"], "ebb⏎⏎flow⏎sl|ack⏎⏎tide", ""),
    (&["block-forward", "extend-block-forward"], "eb|b⏎low⏎⏎flow⏎slack", ""),
    (&["page-up", "file-start", "extend-page-up", "extend-file-start"], "ebb⏎flow⏎sl|ack", ""),
    (&["page-down", "file-end", "extend-page-down", "extend-file-end"], "eb|b⏎flow⏎slack", ""),
    (&["go-to-line"], "|ebb⏎flow⏎slack", "3"),
    (&["previous-use"], "level = 1; low = |level", ""),
    (&["next-use"], "|level = 1; low = level", ""),
    (&["select-word"], "read the ti|de", ""),
    (&["select-line"], "ebb⏎fl|ow⏎slack", ""),
    (&["select-block", "select-outer-block"], "ebb⏎⏎flow⏎sl|ack⏎⏎tide", ""),
    (&["widen"], "read(\"high ti|de\")", ""),
    (&["select-all"], "ebb⏎fl|ow", ""),
    (&["per-line"], "[ebb⏎flow⏎slack|]", ""),
    (&["column"], "a[b = 1⏎cd| = 2] ⏎ef = 3", ""),
    (&["cursor-above", "cursor-above-skip"], "ebb: 1⏎x⏎flow: |2", ""),
    (&["cursor-below", "cursor-below-skip"], "ebb: |1⏎x⏎flow: 2", ""),
    (&["take-next", "take-all", "take-all-in-block", "rename-here"], "[level|] = 1; low = level; level += 1", ""),
    (&["take-previous"], "level = 1; low = [level|]", ""),
    (&["skip-next"], "[level|] = 1; low = level; level += 1", ""),
    (&["drop-primary", "next-cursor", "previous-cursor"], "eb|b flo|w slac|k", ""),
    (&["keep-primary"], "eb|b flo|w slac|k", ""),
    (&["fuse"], "[ebb|] flow [slack|]", ""),
    (&["split-at"], "read([ebb, flow, slack|])", ", "),
    (&["filter-keep", "filter-drop"], "[ebb|] [flow|] [slack|]", "^f"),
    (&["every-nth"], "[ebb|] [flow|] [slack|] [tide|]", "2"),
    (&["rotate-forward", "rotate-back"], "[ebb|], [flow|], [slack|]", ""),
    (&["align"], "ebb |= 1⏎slack |= 2", ""),
    (&["number"], "pier [a|]⏎pier [b|]⏎pier [c|]", "7"),
    (&["open-above", "open-below", "blank-above", "blank-below"], "    eb|b();⏎    flow();", ""),
    (&["carry-up", "carry-statement-up"], "ebb();⏎fl|ow();", ""),
    (&["carry-down", "carry-statement-down"], "eb|b();⏎flow();", ""),
    (&["duplicate-up", "duplicate-down"], "eb|b();⏎flow();", ""),
    (&["duplicate-text-before", "duplicate-text-after"], "read([tide, |]ebb)", ""),
    (&["delete-lines", "cut-lines"], "ebb();⏎fl|ow();⏎slack();", ""),
    (&["join-lines", "join-tight"], "read(|ebb,⏎    flow)", ""),
    (&["split-line", "line-break"], "    ebb();| flow();", ""),
    (&["indent"], "if ebb {⏎fl|ow();⏎}", ""),
    (&["outdent"], "    fl|ow();", ""),
    (&["reindent"], "[if ebb {⏎flow();⏎}|]", ""),
    (&["sort-lines"], "[pier 10⏎pier 9⏎pier 1|]", ""),
    (&["unique-lines"], "[ebb⏎flow⏎ebb|]", ""),
    (&["reverse-lines"], "[ebb⏎flow⏎slack|]", ""),
    (&["trim-trailing"], "eb|b   ⏎flow", ""),
    (&["comment-toggle", "comment-on"], "    fl|ow();", ""),
    (&["comment-off"], "    // fl|ow();", ""),
    (&["comment-flip"], "[ebb();⏎// flow();|]", ""),
    (&["block-comment-toggle", "block-comment-on"], "read([ebb, |]flow)", ""),
    (&["block-comment-off"], "read(/* eb|b, */ flow)", ""),
    (&["reflow"], "// the duty|⏎// pilot reads", ""),
    (&["type-text"], "let | = 3;", "tide"),
    (&["tab-stop"], "ab|c", ""),
    (&["delete-back", "delete-forward"], "le|vel", ""),
    (&["delete-selected"], "read([ebb, |]flow)", ""),
    (&["surround"], "read([ebb|])", "\""),
    (&["surround-off"], "read(\"[ebb|]\")", ""),
    (&["case-cycle", "upper-case"], "low [tide|]", ""),
    (&["lower-case"], "low [TIDE|]", ""),
    (&["title-case"], "[low tide|]", ""),
    (&["snake-case"], "[lowTide|]", ""),
    (&["camel-case", "pascal-case", "kebab-case", "upper-snake-case"], "[low_tide|]", ""),
    (&["cut"], "read [the |]tide", ""),
    (&["paste", "paste-as-is"], "low |here", ""),
];

fn sample(name: &str) -> Option<Sample> {
    let (_, text, argument) = SAMPLES.iter().find(|(names, ..)| names.contains(&name))?;
    Some(Sample { text, argument })
}

#[cfg(test)]
mod tests {
    use super::super::by_name as verb;
    use super::super::table::VERBS;
    use super::*;

    #[test]
    fn examples_show_what_the_verb_does() {
        let shown = |name: &str| example(verb(name).unwrap()).unwrap();
        assert_eq!(shown("carry-down").after, "flow();⏎eb|b();");
        assert_eq!(shown("delete-lines").after, "ebb();⏎sl|ack();");
        assert_eq!(shown("take-next").after, "[level|] = 1; low = [level|]; level += 1");
        assert_eq!(shown("number").after, "pier [7|]⏎pier [8|]⏎pier [9|]");
        assert_eq!(shown("comment-toggle").after, "    // fl|ow();");
    }

    #[test]
    fn every_example_shows_a_difference() {
        let mut shown = 0;
        for verb in VERBS {
            let Some(example) = example(verb) else { continue };
            shown += 1;
            let is_quiet = matches!(verb.name, "next-cursor" | "previous-cursor");
            assert!(is_quiet || example.before != example.after, "{}: {example:?}", verb.name);
        }
        assert!(shown > 90, "{shown}");
        let without: Vec<_> = VERBS
            .iter()
            .filter(|verb| matches!(verb.run, Run::Edit(_)) && sample(verb.name).is_none())
            .map(|verb| verb.name)
            .collect();
        assert_eq!(without.len(), 16, "{without:?}");
    }
}
