//! The table of languages: one data file, facts only, from each language's own definition.
//!
//! [`Language`] says by which marks comments are made and what begins and ends a string. Everything that is
//! done with it (toggling, scanning, joining) follows from the table; no language has code of its own.

mod blocks;
mod detect;
pub mod finish;
pub mod layers;
pub mod lexical;
pub mod scanner;
mod sweep;

use finish::{Finish, words_of};
use serde::Deserialize;
use std::collections::HashSet;
use std::sync::{Arc, OnceLock};

pub use detect::{by_name, detect};

/// The opening and the closing mark of a block comment.
#[derive(Clone, Debug, Deserialize, PartialEq, Eq)]
#[serde(from = "[String; 2]")]
pub struct BlockMarks {
    /// The mark that opens.
    pub open: String,
    /// The mark that closes.
    pub close: String,
}

impl From<[String; 2]> for BlockMarks {
    fn from([open, close]: [String; 2]) -> BlockMarks {
        BlockMarks { open, close }
    }
}

/// How a delimiter is written inside a string that it would end.
#[derive(Clone, Copy, Debug, Default, Deserialize, PartialEq, Eq)]
#[serde(rename_all = "lowercase")]
pub enum Escape {
    /// Not at all.
    #[default]
    None,
    /// After a backslash.
    Backslash,
    /// Written twice.
    Doubled,
    /// After a backtick.
    Backtick,
}

/// What keeps a string literal the same when it is broken in two, beside the operator that joins two of them.
#[derive(Clone, Copy, Debug, Deserialize, PartialEq, Eq)]
#[serde(rename_all = "kebab-case")]
pub enum BrokenString {
    /// Outside of brackets the whole expression gets brackets: otherwise its statement ends with the line.
    Brackets,
    /// The first line ends with a backslash.
    Backslash,
    /// The first line ends with a backslash right after the literal, and the rest begins in the first column: white space would
    /// begin another word.
    FirstColumn,
    /// A backslash inside the literal takes the line end and the white space after it out of its value.
    Inside,
}

/// Where the last element of a list may have a comma after it.
#[derive(Clone, Copy, Debug, Default, Deserialize, PartialEq, Eq)]
#[serde(rename_all = "lowercase")]
pub enum TrailingCommas {
    /// Nowhere.
    #[default]
    Never,
    /// In braces: initializers, tables, enums.
    Braces,
    /// In square brackets and braces.
    Brackets,
    /// In parentheses too; files have one unless their own lists show otherwise.
    Everywhere,
    /// Wherever a list goes over lines: without one it is not valid.
    Required,
}

/// Code inside markup that has tags of its own.
#[derive(Clone, Debug, Deserialize, PartialEq, Eq)]
pub struct EmbeddedCode {
    /// Before the code.
    pub open: String,
    /// After it.
    pub close: String,
    /// What after the opening mark switches the code off.
    pub off: String,
    /// The mark of a comment line in the code, where that goes over several lines.
    pub line: String,
}

/// The shape of a kind of string.
#[derive(Clone, Copy, Debug, Default, Deserialize, PartialEq, Eq)]
#[serde(rename_all = "lowercase")]
pub enum Shape {
    /// From the opening delimiter to the closing one.
    #[default]
    Plain,
    /// A literal of one character: without its closing delimiter nearby it is no string (a lifetime, a label).
    Character,
    /// The delimiters hold a counted character, as many in the closing one as in the opening one; the place
    /// of the counted run is written `*` in `open` and `close`.
    Counted,
    /// The delimiters hold a word, the same in both; its place is written `*`.
    Named,
    /// A here-document: `open` and a word; it ends with a line that is this word.
    Here,
}

/// One kind of string of a language.
#[allow(clippy::struct_excessive_bools, reason = "each is a fact of the table, named in it")]
#[derive(Clone, Debug, Deserialize, PartialEq, Eq)]
#[serde(deny_unknown_fields)]
pub struct StringForm {
    /// The opening delimiter.
    pub open: String,
    /// The closing delimiter; the opening one where it is left out.
    #[serde(default)]
    pub close: String,
    /// How the closing delimiter is escaped.
    #[serde(default)]
    pub escape: Escape,
    /// Whether it may span lines.
    #[serde(default)]
    pub lines: bool,
    /// Its shape.
    #[serde(default)]
    pub shape: Shape,
    /// The counted character of a counted form.
    #[serde(default)]
    pub counted: Option<char>,
    /// Whether it opens only where a word may begin.
    #[serde(default)]
    pub begins_word: bool,
    /// Whether it opens only where a value may begin.
    #[serde(default)]
    pub begins_value: bool,
    /// What is around code inside it: quotes there do not end it, where the code ends on the same line.
    #[serde(default)]
    #[serde(alias = "holes")]
    pub interpolations: Vec<BlockMarks>,
    /// Whether it is a comment in truth (long brackets after a comment mark).
    #[serde(default)]
    pub comment: bool,
}

/// What opens and closes deeper lines, beside brackets.
#[derive(Clone, Debug, Default, Deserialize, PartialEq, Eq)]
#[serde(default, deny_unknown_fields)]
pub struct Structure {
    /// Words that open a deeper block wherever they are.
    pub opens: Vec<String>,
    /// Words that open one only as the first of their line.
    pub opens_first: Vec<String>,
    /// Words that open one where their line begins with another word: both.
    pub opens_after: Vec<[String; 2]>,
    /// Words that close one.
    pub closes: Vec<String>,
    /// First words of labels: they are like statements, what follows them is one deeper.
    pub labels: Vec<String>,
    /// First words of labels that are as deep as the line that opens their block.
    pub outer_labels: Vec<String>,
    /// Words that, alone on their line, begin a clause whose parts are one deeper, up to the body.
    pub clauses: Vec<String>,
    /// What begins lines that are wherever their author wants them.
    pub directive: String,
    /// Whether what is under a heading is as deep as that.
    pub sections: bool,
}

/// Marks that count only in one column.
#[derive(Clone, Debug, Deserialize, PartialEq, Eq)]
#[serde(deny_unknown_fields)]
pub struct Fixed {
    /// The column, in cells from 0.
    pub column: u32,
    /// The marks.
    pub marks: Vec<String>,
}

/// Where another language begins and ends inside one.
#[derive(Clone, Debug, Default, Deserialize, PartialEq, Eq)]
#[serde(default, deny_unknown_fields)]
pub struct Embed {
    /// What begins it: a tag without its `>`, which may have attributes, or a mark.
    pub open: String,
    /// What ends it.
    pub close: String,
    /// The name of the language, where the tag does not say another one.
    pub language: String,
    /// Whether it is a fence of backticks or tildes, which names its language itself.
    pub fence: bool,
    /// Whether a file begins in it.
    pub first: bool,
}

/// A language.
#[allow(clippy::struct_excessive_bools, reason = "each is a fact of the table, named in it")]
#[derive(Clone, Debug, Deserialize, PartialEq, Eq)]
#[serde(deny_unknown_fields)]
pub struct Language {
    /// Its name in settings, commands and on the status line: lower case.
    pub name: String,
    /// Its name as people write it.
    pub title: String,
    /// File-name endings, without the dot.
    #[serde(default)]
    pub extensions: Vec<String>,
    /// Whole file names.
    #[serde(default)]
    pub files: Vec<String>,
    /// Interpreters named on a `#!` line.
    #[serde(default)]
    pub interpreters: Vec<String>,
    /// Marks of line comments: the first is the one put on, all are recognised.
    #[serde(default)]
    pub line: Vec<String>,
    /// Marks of block comments: the first pair is the one put on.
    #[serde(default)]
    pub block: Vec<BlockMarks>,
    /// Marks for what is between tags, where the grammar shows tags among the code.
    #[serde(default)]
    pub children: Option<BlockMarks>,
    /// Code inside it that is switched off in a way of its own.
    #[serde(default)]
    pub embedded: Option<EmbeddedCode>,
    /// Whether marks on lines that begin with a tab go into the first column: after the tab they would be a part of a command.
    #[serde(default)]
    pub tab_begins_command: bool,
    /// Whether block comments nest.
    #[serde(default)]
    pub nests: bool,
    /// Documentation among the code, from a line that begins with the one mark to one that begins with the other, or to
    /// the end of the text where that is empty. An opening `=` is one only before a letter.
    #[serde(default)]
    pub documents: Vec<BlockMarks>,
    /// Whether a key can have lines of text below it that are further in.
    #[serde(default)]
    pub block_scalars: bool,
    /// Whether a line mark counts only at the start of a word (shell, YAML).
    #[serde(default)]
    pub mark_begins_word: bool,
    /// Whether line marks count only as the first thing in a line (plain `#` of a `.gitignore`).
    #[serde(default)]
    pub mark_begins_line: bool,
    /// Marks that count only in one column, and are put on there.
    #[serde(default)]
    pub fixed: Option<Fixed>,
    /// Kinds of strings.
    #[serde(default)]
    pub strings: Vec<StringForm>,
    /// Whether a backslash outside strings takes the next character's meaning away.
    #[serde(default)]
    pub backslash_in_code: bool,
    /// Whether `/…/` is a literal where an operand may be.
    #[serde(default)]
    pub regex: bool,
    /// Characters that belong to words beside letters, digits and `_`.
    #[serde(default)]
    pub words: String,
    /// Prose or markup: `'` between letters joins them.
    #[serde(default)]
    pub prose: bool,
    /// Whether depth is told by indentation alone.
    #[serde(default)]
    pub offside: bool,
    /// Words or marks that at a line's end open a deeper line, beside brackets.
    #[serde(default)]
    pub openers: Vec<String>,
    /// Other languages inside it.
    #[serde(default)]
    pub embeds: Vec<Embed>,
    /// By what a line's depth can be told from the lines around it; none where it cannot.
    #[serde(default)]
    pub structure: Option<Structure>,
    /// The operator that joins two string literals; empty when they only are side by side; none when the
    /// language has no such thing.
    #[serde(default)]
    pub concatenation: Option<String>,
    /// What a string that is broken in two needs beside that operator.
    #[serde(default)]
    pub broken_strings: Option<BrokenString>,
    /// Where the last element of a list may have a comma after it.
    #[serde(default)]
    pub trailing_commas: TrailingCommas,
    /// Whether its usual formatter puts a blank inside of braces on one line: `{ a, b }`.
    #[serde(default)]
    pub padded_braces: bool,
    /// What a line begins with that belongs to the statement below it, beside comments and what its grammar tells: `@doc`.
    #[serde(default)]
    pub attached: Vec<String>,
    /// Whether it has no statements: what is in braces is a list.
    #[serde(default)]
    pub data: bool,
    /// What a heading begins with; nothing where there are none.
    #[serde(default)]
    pub heading: String,
    /// Number of blank lines between functions and types at the top level, by the usual style; 0 says 1.
    #[serde(default)]
    pub top_level_blanks: usize,
    /// Whether a statement ends with its line, so that two of them cannot be on one line without a separator.
    #[serde(default)]
    pub line_ends_statements: bool,
    /// By how many spaces a statement that goes on is indented, where files do not show it; 0 for one step.
    #[serde(default)]
    pub continuation_step: u32,
    /// Whether elements are separated by blanks alone: a comma at the end of a line is no separator.
    #[serde(default)]
    pub blanks_separate: bool,
    /// Whether statements need nothing between them.
    #[serde(default)]
    pub statements_adjoin: bool,
    /// Whether the end of the line ends the head of a block, as after `def level`.
    #[serde(default)]
    pub line_ends_headers: bool,
    /// Words whose statements come first in a file, in this order: those of one word change places with each other alone.
    #[serde(default)]
    pub leads: Vec<String>,
    /// Words whose statements are the last of a block and stay it.
    #[serde(default)]
    pub stays_last: Vec<String>,
    /// Whether what closes a block is a word that can only begin a statement.
    #[serde(default)]
    pub closers_are_words: bool,
    /// What parts the pattern of an arm from its body, where an arm with a block needs no comma after it.
    #[serde(default)]
    pub arm: String,
    /// Pairs of words that are each other's counterpart, beside those of every language.
    #[serde(default)]
    pub counterparts: Vec<[String; 2]>,
    /// Marks on lines of their own around markup in which code of this language is, so that the code does not run.
    #[serde(default)]
    pub markup_off: Option<[String; 2]>,
    /// Letters before a string that make `{…}` in it code.
    #[serde(default)]
    pub prefixed_holes: String,
    /// What comes before a name that is used in a string: `{`, which is closed again after it (format strings), or `$`.
    #[serde(default)]
    pub named_holes: Option<char>,
    /// Whether a backslash at a line's end goes on with the next.
    #[serde(default)]
    pub backslash_continues: bool,
    /// Whether lines are indented by tabs unless the text shows otherwise.
    #[serde(default)]
    pub tabs: bool,
    /// Reserved words, separated by white space; for colours only.
    #[serde(default, deserialize_with = "words_of")]
    pub keywords: HashSet<String>,
    /// How statements are finished.
    #[serde(default)]
    pub finish: Finish,
    /// Whether upper and lower case are one in it.
    #[serde(default)]
    pub any_case: bool,
    /// For a language without comments: the variant that has them.
    #[serde(default)]
    pub commented_variant: Option<String>,
}

impl Language {
    /// Whether it is markup, or has markup inside it.
    #[must_use]
    pub fn has_tags(&self) -> bool {
        self.finish.tags || self.children.is_some()
    }

    /// Whether `word` is reserved in it.
    #[must_use]
    pub fn is_keyword(&self, word: &str) -> bool {
        self.keywords.contains(word) || (self.any_case && self.keywords.contains(&word.to_ascii_uppercase()))
    }

    /// Whether it can be scanned.
    ///
    /// # Errors
    /// What is wrong with it: a mark or a delimiter that is empty, or too many of them.
    pub fn check(&self) -> Result<(), String> {
        let blocks = self.block.iter().flat_map(|marks| [&marks.open, &marks.close]);
        let strings = self.strings.iter().map(|form| &form.open);
        let embeds = self.embeds.iter().filter(|embed| !embed.fence).flat_map(|embed| [&embed.open, &embed.close]);
        let documents = self.documents.iter().map(|marks| &marks.open);
        let fixed = self.fixed.iter().flat_map(|fixed| &fixed.marks);
        let mut marks = self.line.iter().chain(blocks).chain(strings).chain(embeds).chain(documents).chain(fixed);
        let most = [self.line.len(), self.block.len(), self.strings.len(), self.documents.len()].into_iter().max();
        match (marks.any(String::is_empty), most.unwrap_or(0) > usize::from(u8::MAX)) {
            (true, _) => Err(format!("{}: a mark or a delimiter is empty", self.name)),
            (_, true) => Err(format!("{}: more than {} marks of a kind", self.name, u8::MAX)),
            (false, false) => Ok(()),
        }
    }

    /// What belongs to a word in it.
    #[must_use]
    pub fn word_rule(&self) -> crate::text::words::WordRule<'_> {
        crate::text::words::WordRule { extra: &self.words, apostrophe_joins: self.prose }
    }

    /// The marks as the status line shows them: `// /* */`.
    #[must_use]
    pub fn marks(&self) -> String {
        let line = self.line.first().cloned();
        let block = self.block.first().map(|marks| format!("{} {}", marks.open, marks.close));
        line.into_iter().chain(block).collect::<Vec<_>>().join(" ")
    }
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Table {
    language: Vec<Language>,
}

static ALL: OnceLock<Vec<Arc<Language>>> = OnceLock::new();

/// All languages, in the order of the table; the first one is plain text, then come those that were added.
///
/// # Panics
/// If the table that the program is built with is wrong: a test reads it.
#[must_use]
pub fn all() -> &'static [Arc<Language>] {
    ALL.get_or_init(|| with_added(Vec::new()))
}

/// Adds languages, or changes those of the same name, for the whole run of the program; false where a language was
/// asked for before, for then it is too late.
pub fn add(added: Vec<Language>) -> bool {
    ALL.set(with_added(added)).is_ok()
}

/// The table with `added` in front of its languages, so that they are found first by the names of files.
fn with_added(added: Vec<Language>) -> Vec<Arc<Language>> {
    let table: Table =
        toml::from_str(include_str!("table.toml")).unwrap_or_else(|error| panic!("the table of languages: {error}"));
    let is_changed = |shipped: &Language| added.iter().any(|other| other.name == shipped.name);
    let mut shipped: Vec<Language> = table.language.into_iter().filter(|each| !is_changed(each)).collect();
    let plain = shipped.remove(0);
    std::iter::once(plain).chain(added).chain(shipped).map(completed).map(Arc::new).collect()
}

fn completed(mut language: Language) -> Language {
    for form in &mut language.strings {
        if form.close.is_empty() {
            form.close.clone_from(&form.open);
        }
    }
    language
}

/// Plain text: no comments, no strings.
#[must_use]
pub fn plain() -> Arc<Language> {
    all()[0].clone()
}
