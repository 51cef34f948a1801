//! The places that tools print: read from lines by a table of forms.
//!
//! Only files that are there count: what merely looks like a place is none. A name is looked for from the folder that the program runs
//! in, and from the folders that it says it has entered.

use regex::{Captures, Regex, RegexSet};
use serde::Deserialize;
use std::collections::{HashMap, VecDeque};
use std::path::{Path, PathBuf};
use std::sync::LazyLock;

/// What a place is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Kind {
    /// Something is wrong.
    Error,
    /// Something may be wrong.
    Warning,
    /// There is something to say, or to see.
    Note,
}

/// A place that was printed.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Place {
    /// The file, by its whole path.
    pub file: PathBuf,
    /// The line, from 1.
    pub line: usize,
    /// The column as the tool counts it, from 1; none where it told none.
    pub column: Option<usize>,
    /// What it is.
    pub kind: Kind,
    /// What is said of it.
    pub message: String,
    /// Whose form it has.
    pub tool: &'static str,
}

/// So many places of one run are told.
pub const MOST_PLACES: usize = 2_000;

/// So many lines back the message of a place, or its file, is looked for.
const LINES_BACK: usize = 40;

/// So many lines on the message of a place is waited for.
const LINES_ON: usize = 60;

/// The longest message that is kept, in characters.
const LONGEST_MESSAGE: usize = 300;

#[derive(Deserialize)]
struct File {
    pattern: Vec<Row>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Row {
    tool: String,
    place: String,
    before: Option<String>,
    after: Option<String>,
    header: Option<String>,
    #[serde(default)]
    trace: bool,
    #[serde(default)]
    note: bool,
}

struct Pattern {
    tool: &'static str,
    place: Regex,
    before: Option<Regex>,
    after: Option<Regex>,
    header: Option<Regex>,
    is_trace: bool,
    is_note: bool,
}

struct Patterns {
    any: RegexSet,
    list: Vec<Pattern>,
}

static PATTERNS: LazyLock<Patterns> = LazyLock::new(|| {
    let file: File = toml::from_str(include_str!("patterns.toml")).expect("the shipped table is right");
    let regex = |text: &String| Regex::new(text).expect("the shipped patterns are right");
    let any = RegexSet::new(file.pattern.iter().map(|row| &row.place)).expect("the shipped patterns are right");
    let pattern = |row: &Row| Pattern {
        tool: String::leak(row.tool.clone()),
        place: regex(&row.place),
        before: row.before.as_ref().map(regex),
        after: row.after.as_ref().map(regex),
        header: row.header.as_ref().map(regex),
        is_trace: row.trace,
        is_note: row.note,
    };
    Patterns { any, list: file.pattern.iter().map(pattern).collect() }
});

/// The tools whose forms are known.
#[must_use]
pub fn tools() -> Vec<&'static str> {
    PATTERNS.list.iter().map(|pattern| pattern.tool).collect()
}

/// A place whose message is still to come.
#[derive(Debug)]
struct Waiting {
    place: Place,
    pattern: usize,
    left: usize,
}

/// Reads places from the lines of one program.
pub struct Reader {
    folder: PathBuf,
    /// Folders that were entered, the last one at the end.
    entered: Vec<PathBuf>,
    recent: VecDeque<String>,
    waiting: Vec<Waiting>,
    found: Vec<Place>,
    count: usize,
    known: HashMap<PathBuf, bool>,
}

impl std::fmt::Debug for Reader {
    fn fmt(&self, out: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(out, "Reader({} places)", self.count)
    }
}

impl Reader {
    /// For a program that runs in `folder`.
    #[must_use]
    pub fn new(folder: PathBuf) -> Reader {
        Reader {
            folder,
            entered: Vec::new(),
            recent: VecDeque::new(),
            waiting: Vec::new(),
            found: Vec::new(),
            count: 0,
            known: HashMap::new(),
        }
    }

    /// What comes from now on is of another run.
    pub fn begin(&mut self) {
        self.finish();
        self.found.clear();
        self.entered.clear();
        self.recent.clear();
        self.known.clear();
        self.count = 0;
    }

    /// Takes a line. Cost: linear in it where it may hold a place, else a glance at it.
    pub fn take(&mut self, line: &str) {
        if !self.waiting.is_empty() {
            self.look_after(line);
        }
        if self.count < MOST_PLACES && may_hold_a_place(line) {
            self.look(line);
        }
        if self.recent.len() == LINES_BACK {
            let mut oldest = self.recent.pop_front().unwrap_or_default();
            oldest.clear();
            oldest.push_str(line);
            self.recent.push_back(oldest);
        } else {
            self.recent.push_back(line.to_owned());
        }
    }

    /// Nothing more comes: what waits for its message is told without.
    pub fn finish(&mut self) {
        let waiting = std::mem::take(&mut self.waiting);
        waiting.into_iter().for_each(|each| self.tell(each.place));
    }

    /// The places since this was asked last, in the order in which they were printed.
    pub fn found(&mut self) -> Vec<Place> {
        std::mem::take(&mut self.found)
    }

    fn tell(&mut self, place: Place) {
        if self.count < MOST_PLACES && !self.found.contains(&place) {
            self.count += 1;
            self.found.push(place);
        }
    }

    fn look(&mut self, line: &str) {
        if self.look_for_folder(line) {
            return;
        }
        for index in PATTERNS.any.matches(line) {
            let pattern = &PATTERNS.list[index];
            let Some(captures) = pattern.place.captures(line) else { continue };
            let Some(place) = self.place(pattern, &captures) else { continue };
            if !place.message.is_empty() || pattern.after.is_none() {
                self.tell(place);
            } else {
                if !pattern.is_trace {
                    self.finish();
                }
                self.waiting.push(Waiting { place, pattern: index, left: LINES_ON });
            }
            return;
        }
    }

    /// `make` tells the folders that it enters and leaves.
    fn look_for_folder(&mut self, line: &str) -> bool {
        let told = |mark: &str| {
            let rest = &line[line.find(mark)? + mark.len()..];
            Some(PathBuf::from(rest.trim_matches(['\'', '`', '"'])))
        };
        if let Some(folder) = told(": Entering directory ") {
            self.entered.push(folder);
        } else if told(": Leaving directory ").is_some() {
            self.entered.pop();
        } else {
            return false;
        }
        true
    }

    fn place(&mut self, pattern: &Pattern, captures: &Captures) -> Option<Place> {
        let text = |name: &str| captures.name(name).map(|found| found.as_str());
        let line: usize = text("line")?.parse().ok().filter(|line| *line > 0)?;
        let name = match text("file") {
            Some(name) => name.to_owned(),
            None => {
                let header = pattern.header.as_ref()?;
                let of = |line: &String| Some(header.captures(line)?.name("file")?.as_str().to_owned());
                self.recent.iter().rev().find_map(of)?
            }
        };
        let file = self.file_called(&name)?;
        let before = pattern.before.as_ref().and_then(|before| {
            self.recent.iter().rev().find_map(|line| {
                let found = before.captures(line)?;
                let text = |name: &str| found.name(name).map(|text| text.as_str().to_owned());
                Some((text("kind"), text("message").unwrap_or_default()))
            })
        });
        let (told_kind, told) = before.unwrap_or_default();
        let message = text("message").map_or(told, str::to_owned);
        let kind = match text("kind").map(str::to_owned).or(told_kind) {
            Some(kind) => kind_of(&kind),
            None if pattern.is_note => Kind::Note,
            None => Kind::Error,
        };
        let column = text("col").and_then(|column| column.parse().ok()).filter(|column| *column > 0);
        Some(Place { file, line, column, kind, message: short(&message), tool: pattern.tool })
    }

    fn look_after(&mut self, line: &str) {
        let found = self.waiting.last().and_then(|last| {
            let captures = PATTERNS.list[last.pattern].after.as_ref()?.captures(line)?;
            let text = |name: &str| captures.name(name).map(|found| found.as_str().to_owned());
            Some((text("kind"), text("message").unwrap_or_default()))
        });
        let Some((kind, message)) = found else {
            self.waiting.iter_mut().for_each(|each| each.left -= 1);
            if self.waiting.iter().any(|each| each.left == 0) {
                self.finish();
            }
            return;
        };
        let waiting = std::mem::take(&mut self.waiting);
        let last = waiting.len() - 1;
        for (index, Waiting { place, .. }) in waiting.into_iter().enumerate() {
            // Of a trace the last place is where it failed; the others led there.
            let kind = match (&kind, index == last) {
                (Some(kind), true) => kind_of(kind),
                (None, true) => place.kind,
                (_, false) => Kind::Note,
            };
            self.tell(Place { kind, message: short(&message), ..place });
        }
    }

    /// The file that a name means; none where there is none.
    fn file_called(&mut self, name: &str) -> Option<PathBuf> {
        let name = name.trim();
        let folders = self.entered.iter().rev().chain([&self.folder]);
        let paths: Vec<PathBuf> = match Path::new(name).is_absolute() {
            true => vec![PathBuf::from(name)],
            false => folders.map(|folder| folder.join(name.strip_prefix("./").unwrap_or(name))).collect(),
        };
        paths.into_iter().find(|path| *self.known.entry(path.clone()).or_insert_with(|| path.is_file()))
    }
}

fn short(message: &str) -> String {
    message.trim().chars().take(LONGEST_MESSAGE).collect()
}

fn kind_of(word: &str) -> Kind {
    match word.to_ascii_lowercase().as_str() {
        "warning" | "w" | "deprecated" => Kind::Warning,
        "note" | "info" | "hint" | "help" | "notice" => Kind::Note,
        _ => Kind::Error,
    }
}

/// Whether a line is worth to be looked at: places have a number after one of these, or after the word `line`.
fn may_hold_a_place(line: &str) -> bool {
    let bytes = line.as_bytes();
    let is_number = |at: usize| bytes.get(at + 1).is_some_and(u8::is_ascii_digit);
    memchr::memchr3_iter(b':', b'(', b'[', bytes).any(is_number)
        || memchr::memmem::find(bytes, b"line").is_some()
        || memchr::memmem::find(bytes, b"ing directory ").is_some()
}
