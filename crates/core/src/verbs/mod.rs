//! Verbs: everything that Snarvel can do to a text, one function each, in one table.
//!
//! A verb that edits is a pure function from a [`scene::Scene`] to an [`scene::Outcome`]. Adding one is a
//! function and an entry in [`table::VERBS`]: keys, lists, documentation and tests all draw from there.

pub mod brackets;
pub mod breaks;
pub mod case;
pub mod clip;
pub mod clipboard;
pub mod comments;
pub mod cursors;
pub mod examples;
pub mod folding;
pub mod going;
pub mod indent;
pub mod join;
pub mod lines;
pub mod lookup;
pub mod moves;
pub mod order;
pub mod pairs;
pub mod pins;
pub mod reindent;
pub mod scene;
pub mod selects;
pub mod statements;
pub mod surround;
pub mod table;
pub mod texts;
pub mod thin;
pub mod typing;
pub mod widen;

use scene::{Outcome, Scene};

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
    /// Copying and pasting.
    Clipboard,
    /// Back and on again.
    History,
    /// Files, panels, the program itself.
    Files,
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
            Group::Clipboard => "clipboard",
            Group::History => "history",
            Group::Files => "files",
        }
    }
}

/// What the program around the engine does, since it takes more than a text.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Request {
    /// Write the file.
    Save,
    /// Write every changed file.
    SaveAll,
    /// Write under another name.
    SaveAs,
    /// Choose a file to open.
    Open,
    /// Begin an empty file.
    New,
    /// Close the file.
    Close,
    /// End the program.
    Quit,
    /// Show the deck full, small or not at all.
    Deck,
    /// Go to the other layer.
    ChangeLayer,
    /// Scroll by lines, up where negative.
    Scroll(i8),
    /// Show the next or, where negative, the previous open file.
    Turn(i8),
    /// One step back: a question, cursors, the selection, the layer.
    StepBack,
    /// Go back through the places where the caret was, or on again.
    Place(crate::units::Direction),
    /// Show what was copied of late.
    Shelf,
    /// Show the history.
    Trail,
    /// Let the roster take keys.
    Roster,
    /// Show what the text consists of.
    Outline,
    /// Go to a line, a name, a bookmark.
    Go,
    /// Find and replace.
    Sift,
    /// Find a verb.
    Lookup,
    /// Show the files of the folder.
    Folder,
    /// Show nothing but the text.
    FullView,
    /// Draw the keyboard.
    KeySheet,
    /// Write the file as UTF-8 from now on.
    ToUtf8,
}

/// What carries a verb out.
#[derive(Clone, Copy)]
pub enum Run {
    /// A function of the scene and the argument.
    Edit(fn(&Scene, &str) -> Outcome),
    /// One step back in the history.
    Undo,
    /// One step on in the history.
    Redo,
    /// Back to the set of cursors before, the text as it is.
    CursorsUndo,
    /// The program around.
    Ask(Request),
}

/// One thing that Snarvel can do.
#[derive(Clone, Copy)]
pub struct Verb {
    /// Its name, kebab-case.
    pub name: &'static str,
    /// What it does, in a sentence.
    pub sentence: &'static str,
    /// Everyday words that find it.
    pub words: &'static [&'static str],
    /// What it is about.
    pub group: Group,
    /// Its short name on the deck.
    pub label: &'static str,
    /// Keys of the deck: bare in Shape, with Alt in both layers.
    pub deck: &'static [&'static str],
    /// Keys that mean it in both layers.
    pub both: &'static [&'static str],
    /// Keys that mean it in Write only.
    pub write: &'static [&'static str],
    /// What its argument is, empty where it takes none.
    pub argument: &'static str,
    /// Whether it is asked for where it is not given.
    pub asks: bool,
    /// What carries it out.
    pub run: Run,
}

impl std::fmt::Debug for Verb {
    fn fmt(&self, out: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(out, "Verb({})", self.name)
    }
}

/// The verb called `name`.
#[must_use]
pub fn by_name(name: &str) -> Option<&'static Verb> {
    table::VERBS.iter().find(|verb| verb.name == name)
}
