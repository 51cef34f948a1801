//! Every time that something waits or repeats, in one table.
//!
//! Times of a person (how long a key may wait so that most answers are there in the same frame) were chosen by eye on a fast
//! disk: shorter and the screen flickers, longer and a slow disk is felt.

use std::time::Duration;

/// A key waits so long for the file that it opens.
pub const OPEN: Duration = Duration::from_millis(90);

/// A key waits so long for the file that it saves.
pub const SAVE: Duration = Duration::from_millis(30);

/// A key waits so long for two forms of a text to be compared.
pub const COMPARED: Duration = Duration::from_millis(30);

/// A key waits so long for hits in a text.
pub const SEARCH: Duration = Duration::from_millis(8);

/// A key waits so long for a list of files or folders.
pub const FOLDER: Duration = Duration::from_millis(40);

/// A key waits so long for the start of a file that is shown beside a list.
pub const FILE_PREVIEW: Duration = Duration::from_millis(20);

/// A key waits so long for the file of a hit that is shown.
pub const HIT_PREVIEW: Duration = Duration::from_millis(30);

/// A key waits so long for a file to be created, renamed or deleted, or a sheet to be drawn.
pub const FILE_OPERATION: Duration = Duration::from_millis(40);

/// A key waits so long for the files of a project in which something is replaced.
pub const REPLACE: Duration = Duration::from_millis(30);

/// The words of other texts are looked at for so long before what was found is offered.
pub const OFFERS: Duration = Duration::from_millis(50);

/// A script waits so long for a language server to start.
pub const SERVER_START: Duration = Duration::from_secs(12);

/// A script waits so long for a language server.
pub const SERVER_WAIT: Duration = Duration::from_secs(5);

/// A language server that was told of a change is done with it when it has told nothing for so long.
pub const SERVER_QUIET: Duration = Duration::from_millis(300);

/// The same for one that tells what is wrong without saying of which version of a text: what is right may come after it.
pub const SERVER_SURE: Duration = Duration::from_secs(1);

/// Language servers have so long to end by themselves.
pub const END_SERVERS: Duration = Duration::from_millis(700);

/// A script waits so long for one thing in the background.
pub const FOR_SCRIPTS: Duration = Duration::from_secs(10);

/// A command that needs the structure of a text waits this long for it, once.
pub const STRUCTURE: Duration = Duration::from_millis(100);

/// A frame waits so long for the journal, and not again while the disk stalls.
pub const JOURNAL: Duration = Duration::from_millis(10);

/// What a journal holds is on the disk after so long.
pub const JOURNAL_TO_DISK: Duration = Duration::from_millis(800);

/// A journal that cannot be written is tried again after so long.
pub const JOURNAL_AGAIN: Duration = Duration::from_secs(3);

/// A large file that is being read shows more of itself so often.
pub const LOADING_STEP: Duration = Duration::from_millis(100);

/// A parse that takes longer is given up.
pub const PARSE_LIMIT: Duration = Duration::from_secs(4);

/// A key waits so long for what a command writes.
pub const FILTER: Duration = Duration::from_millis(30);

/// A key waits so long for what a recipe would do.
pub const RECIPE_PREVIEW: Duration = Duration::from_millis(20);

/// What a recipe would do is looked for so long, to be shown.
pub const RECIPE_LIMIT: Duration = Duration::from_secs(3);

/// The longest that parsing a text once may take where no person waits at a screen.
pub const UNHURRIED_PARSE: Duration = Duration::from_mins(10);

/// A task that takes longer is named in the status line.
pub const LONG_TASK: Duration = Duration::from_secs(1);

/// A paste waits so long for what another program has copied; then it takes what was copied here.
pub const CLIPBOARD: Duration = Duration::from_millis(200);

/// Comparing two texts line by line takes so long at most; then the rest counts as changed.
pub const COMPARISON: Duration = Duration::from_millis(500);

/// What ends by a signal ends by itself within this time, or is ended.
pub const END_BY_SIGNAL: Duration = Duration::from_millis(800);

/// The terminal is waited for so long to tell its background.
pub const BACKGROUND: Duration = Duration::from_millis(50);

/// What it tells within this time after is no typing.
pub const LATE_BACKGROUND: Duration = Duration::from_secs(2);

/// The program's end waits so long for the histories of files that are being kept.
pub const LAST_PASTS: Duration = Duration::from_secs(2);

/// Presses within this time at one cell are one double or triple click.
pub const CLICK_PAUSE: Duration = Duration::from_millis(400);

/// Without a screen an answer that comes later would not be seen: there everything is waited for.
pub const FOR_EVER: Duration = Duration::MAX;
