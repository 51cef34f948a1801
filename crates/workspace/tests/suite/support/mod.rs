//! One-line rows for rules: `|` is a caret, `[abc|]` a selection with its head at the end, `[|abc]` with its
//! head at the start; `⏎` is LF, `↵` is CR LF, `→` a tab. The primary cursor is the last one marked.

#![allow(dead_code, reason = "each test file uses its part")]

pub mod editor;

use self::editor::{Call, Editor};
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::languages;
use snarvel_core::text::Text;
use snarvel_core::units::Byte;
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_workspace::registry::by_name;

/// An editor and what is on its clipboard.
pub struct Bench {
    pub editor: Editor,
    pub clip: Clip,
    pub message: String,
    pub now_ms: u64,
}

fn plain(marked: &str) -> String {
    marked.replace('⏎', "\n").replace('↵', "\r\n").replace('→', "\t")
}

/// Reads a marked text.
pub fn read(marked: &str) -> (String, CursorSet) {
    let (mut text, mut list, mut open) = (String::new(), Vec::new(), None);
    let mut characters = plain(marked).chars().collect::<Vec<_>>().into_iter().peekable();
    while let Some(c) = characters.next() {
        let here = Byte(text.len());
        match (c, open) {
            ('[', None) => {
                let backward = characters.next_if_eq(&'|').is_some();
                open = Some((here, backward));
            }
            (']', Some((start, true))) => {
                list.push(Selection::new(here, start));
                open = None;
            }
            ('|', Some((start, false))) => {
                assert_eq!(characters.next(), Some(']'), "a head is followed by ]: {marked}");
                list.push(Selection::new(start, here));
                open = None;
            }
            ('|', None) => list.push(Selection::caret(here)),
            _ => text.push(c),
        }
    }
    let last = list.len() - 1;
    (text, CursorSet::of(list, last))
}

/// Writes a marked text.
pub fn show(text: &str, cursors: &CursorSet) -> String {
    let mut marks: Vec<(usize, usize, String)> = Vec::new();
    for (index, each) in cursors.iter().enumerate() {
        if each.is_caret() {
            marks.push((each.head.0, 2 * index, "|".into()));
        } else if each.head < each.anchor {
            marks.push((each.head.0, 2 * index, "[|".into()));
            marks.push((each.anchor.0, 2 * index + 1, "]".into()));
        } else {
            marks.push((each.anchor.0, 2 * index, "[".into()));
            marks.push((each.head.0, 2 * index + 1, "|]".into()));
        }
    }
    marks.sort_by_key(|(at, order, _)| (*at, *order));
    let mut out = text.to_owned();
    for (at, _, mark) in marks.iter().rev() {
        out.insert_str(*at, mark);
    }
    out.replace("\r\n", "↵").replace('\n', "⏎").replace('\t', "→")
}

impl Bench {
    pub fn new(language: &str, marked: &str) -> Bench {
        let (text, cursors) = read(marked);
        let language = languages::by_name(language).unwrap_or_else(|| panic!("no language {language}"));
        let mut editor = Editor::new(Text::from(text.as_str()), language);
        editor.set_cursors(cursors);
        Bench { editor, clip: Clip::default(), message: String::new(), now_ms: 0 }
    }

    /// Runs `verb` or `verb(argument)`, the argument with the row's signs for line ends and tabs; `3*verb` with a count. `terminal(text)`
    /// is text that is pasted in the terminal.
    pub fn run(&mut self, call: &str) -> &mut Bench {
        if let Some(text) = call.strip_prefix("terminal(").and_then(|rest| rest.strip_suffix(')')) {
            let effects = self.editor.workspace.paste_text(&plain(text));
            self.editor.workspace.settle();
            self.message = effects.message.unwrap_or_default();
            return self;
        }
        let (times, call) = match call.split_once('*') {
            Some((count, call)) if count.chars().all(|c| c.is_ascii_digit()) => (count.parse().unwrap(), call),
            _ => (1, call),
        };
        let (name, argument) = match call.split_once('(') {
            Some((name, rest)) => (name, rest.strip_suffix(')').unwrap_or(rest)),
            None => (call, ""),
        };
        let verb = by_name(name).unwrap_or_else(|| panic!("no verb {name}"));
        let clip = self.clip.clone();
        let argument = plain(argument);
        let call = Call { verb, argument: &argument, times, clip: &clip, now_ms: self.now_ms };
        let effects = self.editor.run(call);
        self.message = effects.message.unwrap_or_default();
        if let Some(clip) = effects.clip {
            self.clip = clip;
        }
        self.editor.assert_invariants();
        self
    }

    pub fn text(&self) -> String {
        self.editor.text().to_string()
    }

    pub fn shown(&self) -> String {
        show(&self.text(), self.editor.cursors())
    }
}

/// Calls separated by spaces; those in an argument separate nothing.
fn calls(verbs: &str) -> Vec<&str> {
    let mut depth = 0;
    let separates = |c: char| {
        depth += i32::from(c == '(') - i32::from(c == ')');
        c == ' ' && depth == 0
    };
    verbs.split(separates).collect()
}

/// What `verbs`, separated by spaces, make of `marked`; whatever they do can be undone and redone.
pub fn act(language: &str, marked: &str, verbs: &str) -> String {
    let mut bench = Bench::new(language, marked);
    let first = bench.text();
    for verb in calls(verbs) {
        bench.run(verb);
    }
    let (shown, last) = (bench.shown(), bench.text());
    while bench.editor.history().can_undo() {
        bench.run("undo");
    }
    assert_eq!(bench.text(), first, "undone to the start: {verbs} on {marked}");
    while bench.editor.history().can_redo() {
        bench.run("redo");
    }
    // Redo leads to the end of the branch with the set that its last step left: rows that end elsewhere differ.
    if !["undo", "recall"].iter().any(|verb| verbs.contains(verb)) && bench.editor.history().can_undo() {
        assert_eq!(bench.text(), last, "redone: {verbs} on {marked}");
    }
    shown
}

/// Checks rows of name, text, verbs, expected text.
pub fn check(language: &str, rows: &[(&str, &str, &str, &str)]) {
    let mut wrong = Vec::new();
    for (name, before, verbs, after) in rows {
        let found = act(language, before, verbs);
        if found != *after {
            wrong.push(format!("{name}: {before} · {verbs}\n  found    {found}\n  expected {after}"));
        }
    }
    assert!(wrong.is_empty(), "{} of {} rows\n{}", wrong.len(), rows.len(), wrong.join("\n"));
}

/// The same with what the grammar says, as far as the language has one.
pub fn check_parsed(language: &str, rows: &[(&str, &str, &str, &str)]) {
    let mut wrong = Vec::new();
    for (name, before, verbs, after) in rows {
        let mut bench = Bench::new(language, before);
        let cursors = bench.editor.cursors().clone();
        bench.editor = Editor::parsed(bench.editor.text().clone(), languages::by_name(language).unwrap());
        bench.editor.set_cursors(cursors);
        for verb in verbs.split(' ') {
            bench.editor.workspace.settle_structure();
            bench.run(verb);
        }
        let found = bench.shown();
        if found != *after {
            wrong.push(format!(
                "{name}: {before} · {verbs}\n  found    {found}\n  expected {after}\n  ({})",
                bench.message
            ));
        }
    }
    assert!(wrong.is_empty(), "{} of {} rows\n{}", wrong.len(), rows.len(), wrong.join("\n"));
}
