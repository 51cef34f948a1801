//! Shells, running, tasks.

use super::action::Action;
use super::arguments::{Argument, Arguments, Form};
use super::verb::{Does, Group, Keys, Verb};

/// What the rows of this file have in common.
const PLAIN: Verb = Verb { group: Group::Running, ..Verb::PLAIN };

/// The verbs of the group.
pub const VERBS: &[Verb] = &[
    Verb {
        name: "shell",
        label: "shell",
        sentence: "Opens a shell below the text, or puts it away; it goes on meanwhile.",
        words: &["terminal", "console", "command line", "bash", "prompt"],
        keys: Keys { both: &["ctrl+\\", "ctrl+4"], ..Keys::NONE },
        does: Does::Ask(Action::Shell),
        ..PLAIN
    },
    Verb {
        name: "shell-new",
        label: "new shell",
        sentence: "Opens one more shell.",
        words: &["another terminal", "second shell", "new terminal"],
        does: Does::Ask(Action::ShellNew),
        ..PLAIN
    },
    Verb {
        name: "shell-next",
        label: "next shell",
        sentence: "Shows the next of the shells and of what runs.",
        words: &["other terminal", "switch shell", "next terminal"],
        does: Does::Ask(Action::ShellNext),
        ..PLAIN
    },
    Verb {
        name: "shell-close",
        label: "end shell",
        sentence: "Ends the shell that is shown, or what runs in it, and puts it away for good.",
        words: &["kill terminal", "close terminal", "stop running", "end program"],
        does: Does::Ask(Action::ShellClose),
        ..PLAIN
    },
    Verb {
        name: "shell-copy",
        label: "shell text",
        sentence: "Opens all text of the shell as a text of its own, and puts it onto the clip shelf.",
        words: &["copy output", "terminal output", "select in terminal", "scrollback"],
        does: Does::OfWorkspace(|workspace, _| workspace.copy_shell()),
        ..PLAIN
    },
    Verb {
        name: "shell-places",
        label: "printed",
        sentence: "Lists the places that shells and runs have printed: errors, warnings, failed tests.",
        words: &["errors", "compiler output", "build errors", "test failures", "stack trace"],
        does: Does::Ask(Action::ShellPlaces),
        ..PLAIN
    },
    Verb {
        name: "run",
        label: "run",
        sentence: "Sends what is selected, else the line, to the shell of its language; the caret goes on to the next line.",
        words: &["execute selection", "evaluate", "repl", "send to terminal", "run line"],
        keys: Keys { both: &["f12"], ..Keys::NONE },
        does: Does::OfWorkspace(|workspace, _| workspace.run_here()),
        ..PLAIN
    },
    Verb {
        name: "run-file",
        label: "run file",
        sentence: "Runs the file below the text.",
        words: &["execute file", "run program", "start program", "compile and run"],
        keys: Keys { both: &["shift+f12"], ..Keys::NONE },
        does: Does::OfWorkspace(|workspace, _| workspace.run_file()),
        ..PLAIN
    },
    Verb {
        name: "check",
        label: "check",
        sentence: "Runs a task of the project: build, test, lint.",
        words: &["build", "test", "compile", "lint", "make", "task"],
        arguments: Arguments::One(Argument {
            name: "task",
            form: Form::Text,
            shown: "the name of a task",
            default: "",
        }),
        does: Does::OfWorkspaceOrAsk(
            |workspace, values| values.text(0).filter(|name| !name.is_empty()).map(|name| workspace.check_named(name)),
            Action::Check,
        ),
        ..PLAIN
    },
];
