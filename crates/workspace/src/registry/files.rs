//! Files, panels, the program itself.

use super::action::Action;
use super::verb::{Does, Group, Keys, Reads, StructureNeed, Verb};
use snarvel_core::verbs::files::folding;

/// The verbs of the group.
pub const VERBS: &[Verb] = &[
    Verb {
        name: "save",
        label: "save",
        sentence: "Writes the file.",
        words: &["write file", "store", "keep changes"],
        group: Group::Files,
        keys: Keys { both: &["ctrl+s"], ..Keys::NONE },
        does: Does::Ask(Action::Save),
        ..Verb::PLAIN
    },
    Verb {
        name: "save-all",
        label: "save all",
        sentence: "Writes every changed file.",
        words: &["write all files", "store everything", "keep all changes"],
        group: Group::Files,
        does: Does::Ask(Action::SaveAll),
        ..Verb::PLAIN
    },
    Verb {
        name: "save-as",
        label: "save as",
        sentence: "Writes the text under another name.",
        words: &["write copy", "rename file", "save under another name"],
        group: Group::Files,
        does: Does::Ask(Action::SaveAs),
        ..Verb::PLAIN
    },
    Verb {
        name: "to-utf-8",
        label: "to UTF-8",
        sentence: "Writes the file as UTF-8 at the next save, whatever encoding it has.",
        words: &["change encoding", "convert charset", "unicode file"],
        group: Group::Files,
        does: Does::Ask(Action::ToUtf8),
        ..Verb::PLAIN
    },
    Verb {
        name: "open",
        label: "open",
        sentence: "Opens a file by a few letters of its name.",
        words: &["load file", "find file", "go to file"],
        group: Group::Files,
        keys: Keys { both: &["ctrl+o"], ..Keys::NONE },
        does: Does::Ask(Action::Open),
        ..Verb::PLAIN
    },
    Verb {
        name: "new",
        label: "new",
        sentence: "Begins an empty file.",
        words: &["create file", "blank file", "start file"],
        group: Group::Files,
        keys: Keys { both: &["ctrl+n"], ..Keys::NONE },
        does: Does::Ask(Action::New),
        ..Verb::PLAIN
    },
    Verb {
        name: "close",
        label: "close",
        sentence: "Closes the file.",
        words: &["close file", "put away", "done with file"],
        group: Group::Files,
        keys: Keys { both: &["ctrl+w"], ..Keys::NONE },
        does: Does::Ask(Action::Close),
        ..Verb::PLAIN
    },
    Verb {
        name: "quit",
        label: "quit",
        sentence: "Ends Snarvel.",
        words: &["exit", "leave", "end"],
        group: Group::Files,
        keys: Keys { both: &["ctrl+q"], ..Keys::NONE },
        does: Does::Ask(Action::Quit),
        ..Verb::PLAIN
    },
    Verb {
        name: "next-file",
        label: "file →",
        sentence: "Shows the next open file.",
        words: &["following file", "switch file", "other file"],
        group: Group::Files,
        keys: Keys { both: &["ctrl+pgdn"], ..Keys::NONE },
        does: Does::Ask(Action::Turn(1)),
        ..Verb::PLAIN
    },
    Verb {
        name: "previous-file",
        label: "file ←",
        sentence: "Shows the previous open file.",
        words: &["file before", "switch file back", "last file"],
        group: Group::Files,
        keys: Keys { both: &["ctrl+pgup"], ..Keys::NONE },
        does: Does::Ask(Action::Turn(-1)),
        ..Verb::PLAIN
    },
    Verb {
        name: "fold",
        label: "fold",
        sentence: "Puts what begins here, or is around, away under its first line; again: the next outer one.",
        words: &["collapse", "hide lines", "put away"],
        group: Group::Files,
        keys: Keys { deck: &["("], ..Keys::NONE },
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| folding::fold(scene)),
        reads: Reads::More,
        ..Verb::PLAIN
    },
    Verb {
        name: "unfold",
        label: "unfold",
        sentence: "Opens what is folded under the touched lines.",
        words: &["expand", "show hidden lines", "open fold"],
        group: Group::Files,
        keys: Keys { deck: &[")"], ..Keys::NONE },
        does: Does::Edit(|scene, _| folding::unfold(scene)),
        reads: Reads::More,
        ..Verb::PLAIN
    },
    Verb {
        name: "fold-all",
        label: "fold all",
        sentence: "Folds every function, type and section, or opens all of them.",
        words: &["collapse everything", "overview", "expand everything"],
        group: Group::Files,
        keys: Keys { deck: &["*"], ..Keys::NONE },
        structure: StructureNeed::Always,
        does: Does::Edit(|scene, _| folding::fold_all(scene)),
        reads: Reads::More,
        ..Verb::PLAIN
    },
    Verb {
        name: "sift",
        label: "find",
        sentence: "Finds text while it is typed, shows every hit, replaces what is wanted; in the selections, the file or the project.",
        words: &["find and replace", "search text", "substitute everywhere"],
        group: Group::Files,
        keys: Keys { both: &["ctrl+f"], ..Keys::NONE },
        does: Does::Ask(Action::Sift),
        ..Verb::PLAIN
    },
    Verb {
        name: "lookup",
        label: "lookup",
        sentence: "Finds a verb by everyday words or by its key, shows what it does, runs it, binds it to a key.",
        words: &["command list", "what can I do", "help with keys"],
        group: Group::Files,
        keys: Keys { both: &["ctrl+l"], ..Keys::NONE },
        does: Does::Ask(Action::Lookup),
        ..Verb::PLAIN
    },
    Verb {
        name: "repeat-lookup",
        label: "again",
        sentence: "Runs again the verb that was run last from lookup, with what it was given.",
        words: &["macro", "repeat last command", "once more", "last verb without a key"],
        group: Group::Files,
        does: Does::Ask(Action::RepeatLookup),
        ..Verb::PLAIN
    },
    Verb {
        name: "files",
        label: "files",
        sentence: "Shows the folder as a tree: open, create, rename, delete files.",
        words: &["folder tree", "file browser", "project files"],
        group: Group::Files,
        keys: Keys { both: &["f8"], ..Keys::NONE },
        does: Does::Ask(Action::Folder),
        ..Verb::PLAIN
    },
    Verb {
        name: "full-view",
        label: "full view",
        sentence: "Shows nothing but the text and the status line, or everything again.",
        words: &["hide everything", "distraction free", "all text"],
        group: Group::Files,
        keys: Keys { both: &["f9"], ..Keys::NONE },
        does: Does::Ask(Action::FullView),
        ..Verb::PLAIN
    },
    Verb {
        name: "key-sheet",
        label: "key sheet",
        sentence: "Draws the keyboard with its verbs as an SVG or PDF file.",
        words: &["print keys", "cheat sheet", "picture of the keyboard"],
        group: Group::Files,
        does: Does::Ask(Action::KeySheet),
        ..Verb::PLAIN
    },
    Verb {
        name: "outline",
        label: "outline",
        sentence: "Shows the functions, types and sections of the text, to go to one.",
        words: &["list of functions", "symbols", "table of contents"],
        group: Group::Files,
        keys: Keys { both: &["ctrl+e"], ..Keys::NONE },
        does: Does::Ask(Action::Outline),
        ..Verb::PLAIN
    },
    Verb {
        name: "roster",
        label: "roster",
        sentence: "Goes into the list of all cursors, to drop, keep or show them.",
        words: &["list of cursors", "all cursors", "cursors off screen"],
        group: Group::Files,
        keys: Keys { deck: &["`"], ..Keys::NONE },
        does: Does::Ask(Action::Roster),
        ..Verb::PLAIN
    },
    Verb {
        name: "deck",
        label: "deck",
        sentence: "Shows the deck full, small or not at all.",
        words: &["show keys", "hide keys", "keyboard help"],
        group: Group::Files,
        keys: Keys { both: &["f1"], ..Keys::NONE },
        does: Does::Ask(Action::Deck),
        ..Verb::PLAIN
    },
    Verb {
        name: "change-layer",
        label: "layer",
        sentence: "Goes from Write to Shape and back.",
        words: &["switch mode", "shape", "write"],
        group: Group::Files,
        keys: Keys { both: &["ctrl+space", "ctrl+]", "ctrl+5"], ..Keys::NONE },
        does: Does::Ask(Action::ChangeLayer),
        ..Verb::PLAIN
    },
    Verb {
        name: "step-back",
        label: "step back",
        sentence: "Steps back one thing: a question, many cursors, the selection, Shape.",
        words: &["escape", "cancel", "leave"],
        group: Group::Files,
        keys: Keys { both: &["esc"], ..Keys::NONE },
        does: Does::Ask(Action::StepBack),
        ..Verb::PLAIN
    },
];
