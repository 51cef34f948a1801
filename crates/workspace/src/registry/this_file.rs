//! The file as a whole: its language, layout and line ends, what it holds on the disk, its name.

use super::action::Action;
use super::arguments::{Argument, Arguments, Form};
use super::verb::{Does, Group, Verb};
use crate::today::today;
use crate::workspace::Workspace;
use snarvel_core::verbs::text::typing;

/// The verbs of the group.
pub const VERBS: &[Verb] = &[
    Verb {
        name: "reopen-closed",
        label: "reopen",
        sentence: "Opens the file again that was closed last.",
        words: &["undo close", "bring back closed file", "last closed tab"],
        group: Group::Files,
        does: Does::OfWorkspace(|workspace, _| workspace.reopen_closed()),
        ..Verb::PLAIN
    },
    Verb {
        name: "reload",
        label: "reload",
        sentence: "Makes what the file holds on the disk the text, as one step that can be taken back.",
        words: &["revert to saved", "read from disk", "refresh file", "discard changes"],
        group: Group::Files,
        does: Does::OfWorkspace(|workspace, _| workspace.reload()),
        ..Verb::PLAIN
    },
    Verb {
        name: "compare-with-disk",
        label: "compare",
        sentence: "Shows what differs between the text and what the file holds on the disk.",
        words: &["diff with saved", "what did I change", "show changes", "difference to file"],
        group: Group::Files,
        does: Does::OfWorkspace(|workspace, _| workspace.compare_with_disk()),
        ..Verb::PLAIN
    },
    Verb {
        name: "language-of-file",
        label: "language",
        sentence: "Takes the text for one in another language, whatever its name says.",
        words: &["set syntax", "change file type", "highlight as", "language mode"],
        group: Group::Files,
        arguments: Arguments::One(Argument {
            name: "language",
            form: Form::Text,
            shown: "rust, python, c …",
            default: "",
        }),
        asks: true,
        does: Does::OfWorkspace(Workspace::set_language_of_file),
        ..Verb::PLAIN
    },
    Verb {
        name: "tab-width-of-file",
        label: "tab width",
        sentence: "Sets how many cells a tab is wide in this file.",
        words: &["tab size", "tab stops", "width of tabs"],
        group: Group::Files,
        arguments: Arguments::One(Argument {
            name: "cells",
            form: Form::Number { least: 1, most: 16 },
            shown: "a number from 1 to 16",
            default: "",
        }),
        asks: true,
        does: Does::OfWorkspace(Workspace::set_tab_width),
        ..Verb::PLAIN
    },
    Verb {
        name: "indentation-of-file",
        label: "indent by",
        sentence: "Makes every step of indentation in this file a tab, or so many spaces.",
        words: &["tabs or spaces", "indent size", "use spaces", "use tabs"],
        group: Group::Files,
        arguments: Arguments::One(Argument {
            name: "step",
            form: Form::Text,
            shown: "tab, or a number of spaces from 1 to 16",
            default: "",
        }),
        asks: true,
        does: Does::OfWorkspace(Workspace::set_indentation),
        ..Verb::PLAIN
    },
    Verb {
        name: "line-ends-of-file",
        label: "line ends",
        sentence: "Makes all line ends of the file of one kind, as one step.",
        words: &["convert newlines", "dos to unix", "crlf to lf", "carriage return"],
        group: Group::Files,
        arguments: Arguments::One(Argument {
            name: "kind",
            form: Form::Choice(&["lf", "crlf"]),
            shown: "lf or crlf",
            default: "",
        }),
        asks: true,
        does: Does::OfWorkspace(Workspace::set_line_ends),
        ..Verb::PLAIN
    },
    Verb {
        name: "count",
        label: "count",
        sentence: "Says how many lines, words, characters and bytes are selected, or are in the file.",
        words: &["word count", "how long", "number of lines", "statistics"],
        group: Group::Files,
        does: Does::OfWorkspace(|workspace, _| workspace.count()),
        ..Verb::PLAIN
    },
    Verb {
        name: "copy-path",
        label: "copy path",
        sentence: "Copies the path of the file.",
        words: &["file name to clipboard", "where is this file", "full path"],
        group: Group::Files,
        does: Does::OfWorkspace(|workspace, _| workspace.copy_path()),
        ..Verb::PLAIN
    },
    Verb {
        name: "insert-date",
        label: "date",
        sentence: "Types the date of today at every cursor, as 2026-11-28.",
        words: &["today", "time stamp", "current date"],
        group: Group::Files,
        does: Does::Edit(|scene, _| typing::type_text(scene, &today())),
        ..Verb::PLAIN
    },
    Verb {
        name: "settings",
        label: "settings",
        sentence: "Shows every setting with its value and where that comes from, to be changed.",
        words: &["preferences", "options", "configure", "customise"],
        group: Group::Files,
        does: Does::Ask(Action::Settings),
        ..Verb::PLAIN
    },
    Verb {
        name: "theme",
        label: "theme",
        sentence: "Shows the themes of colours, each on the text while it is chosen.",
        words: &["colours", "colors", "dark mode", "light mode", "scheme", "contrast"],
        group: Group::Files,
        does: Does::Ask(Action::Themes),
        ..Verb::PLAIN
    },
    Verb {
        name: "toggle-palette",
        label: "palette",
        sentence: "Changes between the dark palette and the light one.",
        words: &["dark mode", "light mode", "dark", "night and day"],
        group: Group::Files,
        does: Does::Ask(Action::TogglePalette),
        ..Verb::PLAIN
    },
    Verb {
        name: "toggle-line-numbers",
        label: "numbers",
        sentence: "Changes between line numbers from the file's start and from the cursor.",
        words: &["relative numbers", "line numbers", "absolute numbers"],
        group: Group::Files,
        does: Does::Ask(Action::ToggleNumbers),
        ..Verb::PLAIN
    },
];
