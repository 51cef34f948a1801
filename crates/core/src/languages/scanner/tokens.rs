//! What the scanner finds, and what it has to know at the start of a line.

use crate::languages::Language;
use std::sync::Arc;

/// What the text is at a place.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Kind {
    /// Neither of the others.
    Code,
    /// A string, a character literal, a here-document, a regular expression.
    String,
    /// A comment.
    Comment,
}

/// Which rule of the language a token follows.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Form {
    /// A line comment that begins with this mark of the table.
    Line(u8),
    /// A block comment with this pair of the table.
    Block(u8),
    /// A string of this form of the table.
    Text(u8),
    /// A here-document.
    Here,
    /// Documentation among the code, in whole lines.
    Document,
    /// A block scalar.
    Scalar,
    /// A regular expression.
    Regex,
}

/// A comment or a literal, or what of it lies on one line.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Token {
    /// Its first byte.
    pub start: usize,
    /// One past its last byte.
    pub end: usize,
    /// Comment or string.
    pub kind: Kind,
    /// By which rule.
    pub form: Form,
    /// Whether it begins on this line.
    pub opens: bool,
    /// Whether it ends on this line.
    pub closes: bool,
}

/// A here-document that is still to come or under way.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct HereWord {
    pub(super) word: Arc<str>,
    pub(super) may_be_indented: bool,
}

/// What a line begins in.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub enum State {
    /// Plain code.
    #[default]
    Code,
    /// A block comment of this pair, this many deep.
    Block(u8, u32),
    /// A string of this form whose counted run has this length.
    Text(u8, u32),
    /// A string of this form that these characters end.
    Named(u8, Arc<str>),
    /// Here-documents, the first one under way.
    Here(Arc<[HereWord]>),
    /// Documentation of this kind.
    Document(u8),
    /// A block scalar under a key in this column: lines further in belong to it.
    Scalar(u32),
}

impl State {
    /// What the text is in it.
    #[must_use]
    pub fn kind(&self, language: &Language) -> Kind {
        match self {
            State::Code => Kind::Code,
            State::Block(..) | State::Document(_) => Kind::Comment,
            State::Text(form, _) | State::Named(form, _) if language.strings[*form as usize].comment => Kind::Comment,
            State::Text(..) | State::Named(..) | State::Here(_) | State::Scalar(_) => Kind::String,
        }
    }
}
