//! What the code of a line begins, ends and goes on with, by its brackets and words.

use crate::languages::Structure;
use crate::units::Cell;

/// What a line leaves for the next.
#[derive(Clone, Copy, Default)]
pub struct Before {
    /// Whether it begins a choice between labels.
    pub begins_choice: bool,
    /// Whether, and how, its code goes on.
    pub going: Going,
    /// What its end is.
    pub end: End,
    /// Whether a clause has begun whose parts are one deeper.
    pub in_clause: bool,
    /// Its depth, where it closes something or is part of a chain: a chain goes on there.
    pub chain: Option<Cell>,
}

/// What the end of a line is.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum End {
    /// Nothing of the others.
    #[default]
    Other,
    /// The end of a part of a choice between patterns.
    OfPart,
    /// That of a call of a macro, which may be the head of what follows.
    OfCall,
}

/// How code goes on in the next line.
#[derive(Clone, Copy, Default, PartialEq, Eq)]
pub enum Going {
    /// It ends.
    #[default]
    Ended,
    /// In lines that may be as deep: commands of a shell.
    Loosely,
    /// One unit deeper: it ended with an operator, or with a condition without a body.
    Deeper,
}

/// Words of a shell that begin a command with a body, also behind a pipe.
pub const HEADS: &[&str] = &["while", "until", "for", "if", "case", "select"];

/// What opens or closes on a line.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Token {
    Opens(Option<char>),
    Closes(Option<char>),
}

/// Brackets and block words of the code of a line, in order.
pub fn tokens(structure: &Structure, code: &str) -> Vec<Token> {
    let mut tokens = Vec::new();
    let mut rest = code;
    let mut is_first = true;
    while let Some(c) = rest.chars().next() {
        let word = word_at_start(rest);
        match c {
            '(' | '[' | '{' => tokens.push(Token::Opens(Some(c))),
            ')' => tokens.push(Token::Closes(Some('('))),
            ']' => tokens.push(Token::Closes(Some('['))),
            '}' => tokens.push(Token::Closes(Some('{'))),
            _ => {
                tokens.extend(is_one_of(&structure.closes, word).then_some(Token::Closes(None)));
                let opens = is_one_of(&structure.opens, word);
                let opens_first = is_first && is_one_of(&structure.opens_first, word);
                let opens_after = |[first, second]: &[String; 2]| second == word && first == word_at_start(code);
                let opens = opens || structure.opens_after.iter().any(opens_after);
                tokens.extend((opens || opens_first).then_some(Token::Opens(None)));
            }
        }
        is_first = false;
        rest = &rest[word.len().max(c.len_utf8())..];
    }
    tokens
}

/// Whether a block that `code`, a part of a line without its strings and comments, opens by a word is open after it.
#[must_use]
pub fn leaves_block_open(structure: &Structure, code: &str) -> bool {
    let step = |open: u32, token: Token| match token {
        Token::Opens(None) => open + 1,
        Token::Closes(None) => open.saturating_sub(1),
        Token::Opens(_) | Token::Closes(_) => open,
    };
    tokens(structure, code.trim()).into_iter().fold(0, step) > 0
}

pub fn is_word(c: char) -> bool {
    c.is_alphanumeric() || c == '_'
}

/// The word that `code` begins with; nothing where it begins with something else.
pub fn word_at_start(code: &str) -> &str {
    &code[..code.find(|c: char| !is_word(c)).unwrap_or(code.len())]
}

pub fn first_word(code: &str) -> Option<&str> {
    Some(word_at_start(code)).filter(|word| !word.is_empty())
}

pub fn is_one_of(words: &[String], word: &str) -> bool {
    words.iter().any(|other| other == word)
}

/// Whether `code` is a label: one of the words first, and a colon.
pub fn is_label(code: &str, words: &[String]) -> bool {
    first_word(code).is_some_and(|word| is_one_of(words, word)) && code.contains(':')
}

pub fn is_label_outside(code: &str, structure: &Structure) -> bool {
    is_label(code, &structure.outer_labels)
}

/// Whether `code` is a call without a semicolon.
pub fn is_call(code: &str) -> bool {
    let word = word_at_start(code);
    let behind = code[word.len()..].starts_with('(');
    !word.is_empty() && behind && code.ends_with(')') && !matches!(word, "if" | "for" | "while" | "switch")
}

/// Whether `code` goes on with a chain of calls.
pub fn is_chain(code: &str) -> bool {
    code.strip_prefix('.').is_some_and(|rest| rest.starts_with(is_word))
}

/// Whether a statement goes on after `code`, which ends with an operator.
pub fn ends_open(code: &str) -> bool {
    ["=", "&&", "||", "+", "=>"].iter().any(|operator| code.ends_with(operator))
}

/// Whether `code` is a condition, or its alternative, whose body follows without braces.
pub fn awaits_body(code: &str) -> bool {
    let is_condition = matches!(word_at_start(code), "if" | "for" | "while") && code.ends_with(')');
    is_condition || code.trim_start_matches(['}', ' ']) == "else"
}
