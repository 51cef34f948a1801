//! What finishing a statement has to know of a language.

use serde::{Deserialize, Deserializer};
use std::collections::HashSet;

/// What finishing a statement has to know of a language. Lists of words are separated by white space.
#[allow(clippy::struct_excessive_bools, reason = "each is a fact of the table, named in it")]
#[derive(Clone, Debug, Default, Deserialize, PartialEq, Eq)]
#[serde(default, deny_unknown_fields)]
pub struct Finish {
    /// What ends a statement; nothing where the line end does.
    pub terminator: String,
    /// Whether files may leave that out.
    pub optional: bool,
    /// Words that begin a header: a statement with a block.
    #[serde(deserialize_with = "words_of")]
    pub headers: HashSet<String>,
    /// Words that do so with a single name after them only: else they name a type.
    #[serde(deserialize_with = "words_of")]
    pub named: HashSet<String>,
    /// Words that begin a header inside a statement, too: after `=`, after `return`, among arguments.
    #[serde(deserialize_with = "words_of")]
    pub inner: HashSet<String>,
    /// Words that may be before a header.
    #[serde(deserialize_with = "words_of")]
    pub modifiers: HashSet<String>,
    /// What opens the block of a header.
    pub opens: String,
    /// What closes it; nothing where depth alone does.
    pub closes: String,
    /// Words with another way to open and close their block: the word, what opens, what closes.
    pub forms: Vec<[String; 3]>,
    /// Words whose condition is in round brackets: what comes after those is the body.
    #[serde(deserialize_with = "words_of")]
    pub parens: HashSet<String>,
    /// What a header ends with that is a function without a name.
    pub arrow: String,
    /// Whether a type, a name and brackets are the header of a function.
    pub functions: bool,
    /// First words of statements that get no terminator.
    #[serde(deserialize_with = "words_of")]
    pub bare: HashSet<String>,
    /// Words that begin a block whose parts are no statements.
    #[serde(deserialize_with = "words_of")]
    pub lists: HashSet<String>,
    /// Words that begin a block in which functions are declared, without bodies.
    #[serde(deserialize_with = "words_of")]
    pub declares: HashSet<String>,
    /// Whether what is in no block, and ends with nothing, is the header of one: a selector.
    pub selectors: bool,
    /// Whether its blocks are tags.
    pub tags: bool,
    /// Tags without a closing one.
    #[serde(deserialize_with = "words_of")]
    pub void_tags: HashSet<String>,
}

/// Words separated by white space.
pub(super) fn words_of<'de, D: Deserializer<'de>>(source: D) -> Result<HashSet<String>, D::Error> {
    Ok(String::deserialize(source)?.split_whitespace().map(str::to_owned).collect())
}

impl Finish {
    /// What opens and closes the block of the header that begins with `word`.
    #[must_use]
    pub fn block_of(&self, word: &str) -> [&str; 2] {
        let form = self.forms.iter().find(|[name, ..]| name == word);
        form.map_or([&self.opens, &self.closes], |[_, opens, closes]| [opens, closes])
    }

    /// Whether `word` begins a header.
    #[must_use]
    pub fn is_header(&self, word: &str) -> bool {
        self.headers.contains(word) || self.forms.iter().any(|[name, ..]| name == word)
    }
}
