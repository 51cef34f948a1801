//! What names mean, what is wrong, layout.

use super::action::{Action, Face};
use super::arguments::{Argument, Arguments, Form};
use super::verb::{Does, Group, Keys, Reads, Verb};
use crate::meaning::finding::Topic;
use snarvel_core::units::Direction;

/// The verbs of the group.
pub const VERBS: &[Verb] = &[
    Verb {
        name: "meaning",
        label: "meaning",
        sentence: "Shows what the name at the caret is: its definition, its uses, what it has to do with. Again: the next of these.",
        words: &["what is this", "definition", "hover", "documentation", "references", "peek"],
        keys: Keys { both: &["ctrl+d"], ..Keys::NONE },
        does: Does::Ask(Action::Meaning(Face::Definition)),
        ..PLAIN
    },
    Verb {
        name: "definition",
        label: "to def.",
        sentence: "Goes to where the name at the caret is defined.",
        words: &["go to definition", "where is this defined", "jump to function"],
        does: Does::OfWorkspace(|workspace, _| workspace.jump_to(Topic::Definition)),
        ..PLAIN
    },
    Verb {
        name: "declaration",
        label: "to decl.",
        sentence: "Goes to where the name at the caret is declared.",
        words: &["go to declaration", "header", "prototype"],
        does: Does::OfWorkspace(|workspace, _| workspace.jump_to(Topic::Declaration)),
        ..PLAIN
    },
    Verb {
        name: "type-definition",
        label: "to type",
        sentence: "Goes to where the type of the name at the caret is defined.",
        words: &["go to type", "class of this variable", "what type is this"],
        does: Does::OfWorkspace(|workspace, _| workspace.jump_to(Topic::Type)),
        ..PLAIN
    },
    Verb {
        name: "implementation",
        label: "to impl.",
        sentence: "Goes to what implements the name at the caret.",
        words: &["go to implementation", "who implements this interface", "overrides"],
        does: Does::OfWorkspace(|workspace, _| workspace.jump_to(Topic::Implementation)),
        ..PLAIN
    },
    Verb {
        name: "uses",
        label: "uses",
        sentence: "Lists where the name at the caret is used, in the whole project.",
        words: &["find references", "find usages", "who uses this", "who calls this"],
        does: Does::Ask(Action::Meaning(Face::Uses)),
        ..PLAIN
    },
    Verb {
        name: "relations",
        label: "relations",
        sentence: "Lists what calls the name at the caret, what it calls, or its parts.",
        words: &["callers", "call hierarchy", "members of class", "called functions"],
        does: Does::Ask(Action::Meaning(Face::Relations)),
        ..PLAIN
    },
    Verb {
        name: "describe",
        label: "describe",
        sentence: "Shows what is written about the name at the caret: its type, its documentation.",
        words: &["hover", "show type", "documentation of this"],
        does: Does::Ask(Action::Meaning(Face::Description)),
        ..PLAIN
    },
    Verb {
        name: "rename",
        label: "rename all",
        sentence: "Gives the name at the caret another one in the whole project.",
        words: &["rename symbol", "rename in all files", "refactor rename"],
        arguments: Arguments::One(Argument { name: "name", form: Form::Text, shown: "the new name", default: "" }),
        does: Does::OfWorkspaceOrAsk(
            |workspace, values| {
                let name = values.text(0).map(str::trim).filter(|name| !name.is_empty())?.to_owned();
                Some(workspace.rename(&name))
            },
            Action::Rename,
        ),
        ..PLAIN
    },
    Verb {
        name: "fixes",
        label: "fixes",
        sentence: "Offers what mends what is wrong at the caret, and what else can be done about the code there.",
        words: &["quick fix", "code action", "repair", "add import", "refactor"],
        does: Does::OfWorkspace(|workspace, _| workspace.ask_for_fixes()),
        ..PLAIN
    },
    Verb {
        name: "next-fault",
        label: "fault →",
        sentence: "Goes to the next thing that is wrong, the worst kind first.",
        words: &["next error", "next warning", "next diagnostic", "next problem"],
        keys: Keys { both: &["f10"], ..Keys::NONE },
        does: Does::OfWorkspace(|workspace, _| workspace.go_to_fault(Direction::Forward)),
        ..PLAIN
    },
    Verb {
        name: "previous-fault",
        label: "fault ←",
        sentence: "Goes back to the thing before that is wrong.",
        words: &["previous error", "previous warning", "last problem"],
        keys: Keys { both: &["shift+f10"], ..Keys::NONE },
        does: Does::OfWorkspace(|workspace, _| workspace.go_to_fault(Direction::Back)),
        ..PLAIN
    },
    Verb {
        name: "faults",
        label: "faults",
        sentence: "Lists what is wrong, in the file or in the project.",
        words: &["errors", "warnings", "problems", "diagnostics", "all errors"],
        does: Does::Ask(Action::Faults),
        ..PLAIN
    },
    Verb {
        name: "format",
        label: "format",
        sentence: "Lays out the file or the selection: by its server, else by the command set for the language, else its indentation.",
        words: &["format document", "pretty print", "beautify", "tidy code"],
        does: Does::OfWorkspace(|workspace, _| workspace.format()),
        ..PLAIN
    },
    Verb {
        name: "organize-imports",
        label: "imports",
        sentence: "Puts the imports of the file in order.",
        words: &["sort imports", "clean imports", "order includes"],
        does: Does::OfWorkspace(|workspace, _| workspace.organize_imports()),
        ..PLAIN
    },
    Verb {
        name: "server-log",
        label: "server log",
        sentence: "Shows how the language servers are, and what they wrote to their logs.",
        words: &["language server log", "lsp log", "server status"],
        does: Does::Ask(Action::ServerLog),
        ..PLAIN
    },
    Verb {
        name: "restart-servers",
        label: "servers",
        sentence: "Starts the language servers of the file again, also those that failed or were refused.",
        words: &["restart language server", "restart lsp", "start server"],
        does: Does::OfWorkspace(|workspace, _| {
            workspace.restart_servers();
            crate::editing::Effects::default()
        }),
        ..PLAIN
    },
];

/// What the rows do not say.
const PLAIN: Verb = Verb { group: Group::Meaning, reads: Reads::More, ..Verb::PLAIN };
