//! What a row of the registry says of a verb.

use super::action::Action;
use super::arguments::{Arguments, Values};
use super::over_files::OverFiles;
use crate::editing::Effects;
use crate::workspace::Workspace;
use snarvel_core::languages::Language;
use snarvel_core::verbs::scene::{Outcome, Scene};
use std::fmt;

/// What is replayed.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Replay {
    /// The last change.
    Change,
    /// The last recipe.
    Recipe,
}

/// What a verb is about.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Group {
    /// Getting about.
    Moves,
    /// Selecting.
    Selects,
    /// Which cursors there are.
    Cursors,
    /// Whole lines.
    Lines,
    /// Comments.
    Comments,
    /// Characters.
    Text,
    /// Offers, templates, finished statements.
    Writing,
    /// Copying and pasting.
    Clipboard,
    /// What names mean, what is wrong.
    Meaning,
    /// Back and on again.
    History,
    /// Recording and playing.
    Recipes,
    /// Shells, what runs in them, tasks.
    Running,
    /// Files, panels, the program itself.
    Files,
    /// Several views of texts.
    Views,
    /// Learning, practising, presenting, drawing.
    Learning,
}

impl Group {
    /// Its name.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Group::Moves => "moves",
            Group::Selects => "selects",
            Group::Cursors => "cursors",
            Group::Lines => "lines",
            Group::Comments => "comments",
            Group::Text => "text",
            Group::Writing => "writing",
            Group::Clipboard => "clipboard",
            Group::Meaning => "meaning",
            Group::History => "history",
            Group::Recipes => "recipes",
            Group::Running => "running",
            Group::Files => "files",
            Group::Views => "views",
            Group::Learning => "learning",
        }
    }
}

/// The keys of a verb as shipped, in the spelling of the keys file.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Keys {
    /// Keys of the deck: bare in Shape and with Alt in both layers.
    pub deck: &'static [&'static str],
    /// Keys that mean it in both layers.
    pub both: &'static [&'static str],
    /// Keys that mean it in Write only.
    pub write: &'static [&'static str],
    /// Keys that mean it in Shape only.
    pub shape: &'static [&'static str],
}

impl Keys {
    /// No keys.
    pub const NONE: Keys = Keys { deck: &[], both: &[], write: &[], shape: &[] };
}

/// What a verb is shown on. `|` is a caret, `[abc|]` and `[|abc]` are selections whose head is where the bar is, `⏎` is a line
/// end.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Sample {
    /// A text with cursors.
    pub text: &'static str,
    /// The verb's arguments.
    pub argument: &'static str,
}

/// What the result of a verb depends on.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Reads {
    /// The text, the cursors, and what was copied: it can be a step of a recipe.
    TextAndCursors,
    /// What a view or a file remembers, too.
    More,
}

/// Whether a verb needs the structure of the text.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum StructureNeed {
    /// It does not.
    Never,
    /// It does.
    Always,
    /// It does in languages that have tags.
    BetweenTags,
}

impl StructureNeed {
    /// Whether it is needed in a text of `language`.
    #[must_use]
    pub fn is_needed_in(self, language: &Language) -> bool {
        match self {
            StructureNeed::Never => false,
            StructureNeed::Always => true,
            StructureNeed::BetweenTags => language.has_tags(),
        }
    }
}

/// What carries a verb out.
#[derive(Clone, Copy)]
pub enum Does {
    /// A function of the scene and the values of the arguments.
    Edit(fn(&Scene, &Values) -> Outcome),
    /// The same, where it goes to a place that was asked for by number: the way back leads to where that was asked.
    Jump(fn(&Scene, &Values) -> Outcome),
    /// One step back in the history.
    Undo,
    /// One step on in the history.
    Redo,
    /// Back to the set of cursors before, the text as it is.
    CursorsUndo,
    /// The last change or the last recipe again.
    Replay(Replay),
    /// The selections, or the whole text, go through a command of the system.
    Filter,
    /// A function of the workspace and the values of the arguments.
    OfWorkspace(fn(&mut Workspace, &Values) -> Effects),
    /// The same where the values say enough; else the interface around it asks.
    OfWorkspaceOrAsk(fn(&mut Workspace, &Values) -> Option<Effects>, Action),
    /// The workspace, or the interface around it.
    Ask(Action),
}

impl Does {
    /// Whether it asks for `action`.
    #[must_use]
    pub fn asks_for(&self, action: Action) -> bool {
        matches!(self, Does::Ask(asked) if *asked == action)
    }
}

/// What a count before a verb means.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Count {
    /// How often it runs.
    Times,
    /// On how many lines, from the first touched one on: done again and again it would come to nothing, or undo itself.
    Lines,
}

/// One thing that Snarvel can do.
#[derive(Clone, Copy)]
pub struct Verb {
    /// Its name, kebab-case.
    pub name: &'static str,
    /// Its short name on the deck.
    pub label: &'static str,
    /// What it does, in a sentence.
    pub sentence: &'static str,
    /// Everyday words that find it.
    pub words: &'static [&'static str],
    /// What it is about.
    pub group: Group,
    /// The keys that run it.
    pub keys: Keys,
    /// What it takes.
    pub arguments: Arguments,
    /// What a count before it means.
    pub count: Count,
    /// Whether its arguments are asked for where they are not given.
    pub asks: bool,
    /// What it is shown on; none for verbs that do nothing to a text.
    pub example: Option<Sample>,
    /// Whether it could do something in a scene, as far as a glance tells: the deck dims it otherwise. Costs no more than some
    /// look-ups, however large the text.
    pub enabled: fn(&Scene) -> bool,
    /// Whether it needs the structure of the text.
    pub structure: StructureNeed,
    /// What its result depends on.
    pub reads: Reads,
    /// What it does where several texts act together.
    pub over_files: OverFiles,
    /// What carries it out.
    pub does: Does,
}

impl Verb {
    /// What a row does not say: no keys, no arguments, no example, always possible, no structure.
    pub const PLAIN: Verb = Verb {
        name: "",
        label: "",
        sentence: "",
        words: &[],
        group: Group::Files,
        keys: Keys::NONE,
        arguments: Arguments::None,
        count: Count::Times,
        asks: false,
        example: None,
        enabled: |_| true,
        structure: StructureNeed::Never,
        reads: Reads::TextAndCursors,
        over_files: OverFiles::Each,
        does: Does::Undo,
    };

    /// Whether it can be a step of a recipe: what it does depends on nothing but the text and the cursors.
    #[must_use]
    pub fn is_step(&self) -> bool {
        matches!(self.does, Does::Edit(_) | Does::Jump(_) | Does::Filter) && self.reads == Reads::TextAndCursors
    }

    /// Whether it puts in what was copied: what another program has copied since counts, too.
    #[must_use]
    pub fn reads_clipboard(&self) -> bool {
        self.group == Group::Clipboard && self.name.starts_with("paste")
    }
}

impl fmt::Debug for Verb {
    fn fmt(&self, out: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(out, "Verb({})", self.name)
    }
}

impl PartialEq for Verb {
    /// Verbs are the same if their names are.
    fn eq(&self, other: &Verb) -> bool {
        self.name == other.name
    }
}
