//! What verbs ask of the workspace and of the interface around it: more than a text is needed for it.

use snarvel_core::units::Direction;

/// What is shown of a name.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Face {
    /// Where it is defined.
    Definition,
    /// Where it is used.
    Uses,
    /// What it has to do with.
    Relations,
    /// What is written about it.
    Description,
}

/// Something that a verb asks for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Action {
    /// Write the file.
    Save,
    /// Run again what was run last from lookup.
    RepeatLookup,
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
    /// Go to the other layer of the keyboard.
    ChangeLayer,
    /// Scroll by lines, up where negative.
    Scroll(i8),
    /// Show the next or, where negative, the previous open file.
    Turn(i8),
    /// One step back: a question, cursors, the selection, the layer.
    StepBack,
    /// Go back through the places where the caret was, or on again.
    Place(Direction),
    /// Show what was copied lately.
    Shelf,
    /// Show the history.
    Trail,
    /// Let the roster take keys.
    Roster,
    /// Show what the text consists of.
    Outline,
    /// Go to a line, a name, a bookmark.
    Go,
    /// Go to the next bookmark in that direction.
    NextBookmark(Direction),
    /// List the bookmarks of all files.
    Bookmarks,
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
    /// Show the text in a second view beside this one.
    ViewBeside,
    /// Show the text in a second view below this one.
    ViewBelow,
    /// Let the next view take the keys.
    NextView,
    /// Close the view.
    CloseView,
    /// Let two views change places.
    SwapViews,
    /// Show the recipes.
    Recipes,
    /// Put in a sign that no key types.
    Signs,
    /// Show what can be put at the caret; all of it where some is shown already.
    Offers,
    /// Show what the name at the caret is.
    Meaning(Face),
    /// Give a name another one in the whole project.
    Rename,
    /// Show what is wrong.
    Faults,
    /// Show how language servers are.
    ServerLog,
    /// Show the settings.
    Settings,
    /// Open the shell, or put it away.
    Shell,
    /// Open one more shell.
    ShellNew,
    /// Show the next shell.
    ShellNext,
    /// End the shell that is shown.
    ShellClose,
    /// List the places that were printed.
    ShellPlaces,
    /// Choose a task to run.
    Check,
    /// Show the themes.
    Themes,
    /// Show what the next verb would do.
    Rehearse,
    /// Show where the same would be done as by hand.
    Echo,
    /// Change between dark and light.
    TogglePalette,
    /// Change how lines are numbered.
    ToggleNumbers,
    /// Show what was used.
    Ledger,
    /// Show the drills.
    Drill,
    /// Leave the drill.
    DrillLeave,
    /// Let the coach not speak again of what it has said last.
    CoachQuiet,
    /// Show the last keys in large words.
    ShowKeys,
    /// Dim everything but the block at the caret.
    Spotlight,
    /// Draw what the last steps did.
    EditSheet,
    /// Draw the text as pages.
    Listing,
}
