//! An example of each verb: a text before it and after it, made by running the verb itself on the sample of its row.

use crate::buffer::{Buffer, Origin};
use crate::command::{Command, Done};
use crate::project::Project;
use crate::registry::Verb;
use crate::registry::verb::Does;
use crate::workspace::Workspace;
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::languages::{by_name, plain};
use snarvel_core::text::Text;
use snarvel_core::units::Byte;
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_files::load::{Encoding, Loaded};
use std::path::Path;

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
    let sample = verb.example.filter(|_| matches!(verb.does, Does::Edit(_) | Does::Jump(_)))?;
    let mut workspace = staged(sample.text);
    let before = written(&workspace);
    workspace.shelf.put(Clip::of_text("tide "));
    let Done::Edited(_) = workspace.run(&Command::read(verb, sample.argument).ok()?) else { return None };
    Some(Example { before, after: written(&workspace) })
}

/// The text of `sample` with its cursors, as Rust.
fn staged(sample: &str) -> Workspace {
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
    let mut workspace = Workspace::new(Project::in_folder(Path::new("/")));
    let loaded = Loaded { text: Text::from(text.as_str()), encoding: Encoding::default(), read_only: false };
    let mut buffer = Buffer::new(loaded, Origin::Pipe, workspace.project.defaults, None);
    buffer.set_language(&by_name("rust").unwrap_or_else(plain), None);
    workspace.show_buffer(buffer);
    let (buffer, view) = workspace.active_pair_mut();
    view.set_cursors(buffer, CursorSet::of(list, 0));
    workspace
}

/// The active text with its cursors.
fn written(workspace: &Workspace) -> String {
    let text = workspace.active().text().to_string();
    let mut marks: Vec<(usize, u8, &str)> = Vec::new();
    for each in workspace.view().cursors().iter() {
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::registry::{VERBS, by_name as verb};

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
        for verb in VERBS.iter() {
            let Some(example) = example(verb) else { continue };
            shown += 1;
            let is_quiet = matches!(verb.name, "next-cursor" | "previous-cursor");
            assert!(is_quiet || example.before != example.after, "{}: {example:?}", verb.name);
        }
        assert!(shown > 90, "{shown}");
        let without = VERBS.iter().filter(|verb| matches!(verb.does, Does::Edit(_)) && verb.example.is_none());
        assert_eq!(without.count(), 27);
    }
}
