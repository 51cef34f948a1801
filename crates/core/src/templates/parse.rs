//! The reader of the snippet syntax. Each production of the grammar is a function here.

use super::transform::{Case, Format, Transform};
use super::{Body, Part, Start};
use thiserror::Error;

/// What is wrong in a body.
#[derive(Clone, Debug, PartialEq, Eq, Error)]
#[error("{why}")]
pub struct Wrong {
    /// Where, in bytes of the body.
    pub at: usize,
    /// Why, and what is expected there.
    pub why: String,
}

/// Stops may be so deep in each other: more is an accident, and each takes a part of the stack.
const DEEPEST: usize = 32;

/// Reads a body. A `$` that begins nothing is a dollar sign. Cost: linear in the body.
///
/// # Errors
/// The first place at which it is not what the grammar says.
pub fn parse(source: &str) -> Result<Body, Wrong> {
    let mut reader = Reader { source, at: 0, depth: 0 };
    let parts = reader.parts(Within::Body)?;
    Ok(Body { parts })
}

/// What the parts that are read are in.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Within {
    Body,
    Braces,
}

struct Reader<'a> {
    source: &'a str,
    at: usize,
    depth: usize,
}

impl<'a> Reader<'a> {
    fn rest(&self) -> &'a str {
        &self.source[self.at..]
    }

    fn peek(&self) -> Option<char> {
        self.rest().chars().next()
    }

    fn take(&mut self, c: char) -> bool {
        let is_there = self.rest().starts_with(c);
        self.at += if is_there { c.len_utf8() } else { 0 };
        is_there
    }

    fn take_while(&mut self, belongs: impl Fn(char) -> bool) -> &'a str {
        let rest = self.rest();
        let length = rest.find(|c| !belongs(c)).unwrap_or(rest.len());
        self.at += length;
        &rest[..length]
    }

    fn wrong<T>(&self, why: impl Into<String>) -> Result<T, Wrong> {
        Err(Wrong { at: self.at, why: why.into() })
    }

    fn expect(&mut self, c: char, after: &str) -> Result<(), Wrong> {
        if self.take(c) { Ok(()) } else { self.wrong(format!("{c:?} is missing after {after}")) }
    }

    /// `any*`, up to the end of the body or to the `}` that ends what it is in.
    fn parts(&mut self, within: Within) -> Result<Vec<Part>, Wrong> {
        self.depth += 1;
        if self.depth > DEEPEST {
            return self.wrong(format!("stops are more than {DEEPEST} deep in each other"));
        }
        let (mut parts, mut text) = (Vec::new(), String::new());
        loop {
            match self.peek() {
                None => break,
                Some('}') if within == Within::Braces => break,
                Some('\\') => text.push(self.escaped(&['$', '}', '\\'])),
                Some('$') => match self.dollar()? {
                    Some(part) => {
                        push_text(&mut parts, &mut text);
                        parts.push(part);
                    }
                    None => text.push('$'),
                },
                Some(c) => {
                    self.at += c.len_utf8();
                    text.push(c);
                }
            }
        }
        push_text(&mut parts, &mut text);
        self.depth -= 1;
        Ok(parts)
    }

    /// The character after a backslash, where that takes its meaning away; else the backslash itself.
    fn escaped(&mut self, escapable: &[char]) -> char {
        self.at += 1;
        match self.peek().filter(|c| escapable.contains(c)) {
            Some(c) => {
                self.at += c.len_utf8();
                c
            }
            None => '\\',
        }
    }

    /// `tabstop | placeholder | choice | variable`; none where the dollar sign is only that.
    fn dollar(&mut self) -> Result<Option<Part>, Wrong> {
        self.at += 1;
        if let Some(number) = self.int()? {
            return Ok(Some(Part::Stop(number, Start::Empty)));
        }
        if let Some(name) = self.name() {
            return Ok(Some(Part::Variable(name.to_owned(), Vec::new())));
        }
        if !self.take('{') {
            return Ok(None);
        }
        let part = match (self.int()?, self.name()) {
            (Some(number), _) => self.braced_stop(number)?,
            (None, Some(name)) => self.braced_variable(name)?,
            (None, None) => return self.wrong("a number or the name of a variable is missing after \"${\""),
        };
        Ok(Some(part))
    }

    fn int(&mut self) -> Result<Option<u32>, Wrong> {
        let at = self.at;
        match self.take_while(|c| c.is_ascii_digit()) {
            "" => Ok(None),
            digits => {
                let why = || Wrong { at, why: format!("{digits} is too large a number for a stop") };
                digits.parse().map(Some).map_err(|_| why())
            }
        }
    }

    fn name(&mut self) -> Option<&'a str> {
        let is_first = |c: char| c == '_' || c.is_ascii_alphabetic();
        self.peek().filter(|c| is_first(*c))?;
        Some(self.take_while(|c| c == '_' || c.is_ascii_alphanumeric()))
    }

    fn braced_stop(&mut self, number: u32) -> Result<Part, Wrong> {
        let start = if self.take(':') {
            Start::Parts(self.parts(Within::Braces)?)
        } else if self.take('|') {
            Start::Choice(self.choice()?)
        } else if self.rest().starts_with('/') {
            return self.wrong("a stop has no transform: only variables have one");
        } else {
            Start::Empty
        };
        self.expect('}', "a stop")?;
        Ok(Part::Stop(number, start))
    }

    /// `text (',' text)* '|'`
    fn choice(&mut self) -> Result<Vec<String>, Wrong> {
        let mut words = vec![String::new()];
        loop {
            let last = words.len() - 1;
            match self.peek() {
                None => return self.wrong("\"|}\" is missing after the words of a choice"),
                Some('|') => {
                    self.at += 1;
                    return Ok(words);
                }
                Some(',') => {
                    self.at += 1;
                    words.push(String::new());
                }
                Some('\\') => words[last].push(self.escaped(&['$', '}', '\\', ',', '|'])),
                Some(c) => {
                    self.at += c.len_utf8();
                    words[last].push(c);
                }
            }
        }
    }

    fn braced_variable(&mut self, name: &str) -> Result<Part, Wrong> {
        let part = if self.take(':') {
            Part::Variable(name.to_owned(), self.parts(Within::Braces)?)
        } else if self.take('/') {
            Part::Transformed(name.to_owned(), self.transform()?)
        } else {
            Part::Variable(name.to_owned(), Vec::new())
        };
        self.expect('}', "a variable")?;
        Ok(part)
    }

    /// `regex '/' (format | text)+ '/' options`
    fn transform(&mut self) -> Result<Transform, Wrong> {
        let at = self.at;
        let pattern = self.pattern()?;
        let mut format = Vec::new();
        let mut text = String::new();
        loop {
            match self.peek() {
                None => return self.wrong("\"/\" is missing after the format of a transform"),
                Some('/') => break,
                Some('\\') => text.push(self.escaped(&['$', '}', '\\', '/'])),
                Some('$') => match self.format()? {
                    Some(part) => {
                        if !text.is_empty() {
                            format.push(Format::Text(std::mem::take(&mut text)));
                        }
                        format.push(part);
                    }
                    None => text.push('$'),
                },
                Some(c) => {
                    self.at += c.len_utf8();
                    text.push(c);
                }
            }
        }
        if !text.is_empty() {
            format.push(Format::Text(text));
        }
        self.at += 1;
        let options = self.take_while(|c| c.is_ascii_alphabetic());
        Transform::new(&pattern, format, options).map_err(|why| Wrong { at, why })
    }

    /// The regular expression up to the next `/` that has no backslash before it.
    fn pattern(&mut self) -> Result<String, Wrong> {
        let mut pattern = String::new();
        loop {
            match self.peek() {
                None => return self.wrong("\"/\" is missing after the regular expression of a transform"),
                Some('/') => {
                    self.at += 1;
                    return Ok(pattern);
                }
                Some('\\') if self.rest().starts_with("\\/") => {
                    self.at += 2;
                    pattern.push('/');
                }
                Some('\\') => {
                    self.at += 1;
                    pattern.push('\\');
                    if let Some(c) = self.peek() {
                        self.at += c.len_utf8();
                        pattern.push(c);
                    }
                }
                Some(c) => {
                    self.at += c.len_utf8();
                    pattern.push(c);
                }
            }
        }
    }

    /// `format`; none where the dollar sign is only that.
    fn format(&mut self) -> Result<Option<Format>, Wrong> {
        self.at += 1;
        if let Some(group) = self.int()? {
            return Ok(Some(Format::Group(group as usize)));
        }
        if !self.take('{') {
            return Ok(None);
        }
        let Some(group) = self.int()? else { return self.wrong("the number of a group is missing after \"${\"") };
        let group = group as usize;
        let format = if !self.take(':') {
            Format::Group(group)
        } else if self.take('/') {
            self.case(group)?
        } else if self.take('+') {
            Format::Either(group, self.until('}'), String::new())
        } else if self.take('?') {
            let yes = self.until(':');
            self.expect(':', "the first text of \":?\"")?;
            Format::Either(group, yes, self.until('}'))
        } else {
            // `:-else` and `:else` are the same.
            self.take('-');
            Format::Or(group, self.until('}'))
        };
        self.expect('}', "a group")?;
        Ok(Some(format))
    }

    fn case(&mut self, group: usize) -> Result<Format, Wrong> {
        let at = self.at;
        match self.take_while(|c| c.is_ascii_alphabetic()) {
            "upcase" => Ok(Format::Cased(group, Case::Up)),
            "downcase" => Ok(Format::Cased(group, Case::Down)),
            "capitalize" => Ok(Format::Cased(group, Case::Capitalized)),
            other => {
                Err(Wrong { at, why: format!("no change of case {other:?}: upcase, downcase and capitalize are") })
            }
        }
    }

    /// Text up to the next `end` that has no backslash before it.
    fn until(&mut self, end: char) -> String {
        let mut text = String::new();
        while let Some(c) = self.peek().filter(|c| *c != end) {
            match c {
                '\\' => text.push(self.escaped(&['$', '}', '\\', ':', '/'])),
                _ => {
                    self.at += c.len_utf8();
                    text.push(c);
                }
            }
        }
        text
    }
}

fn push_text(parts: &mut Vec<Part>, text: &mut String) {
    if !text.is_empty() {
        parts.push(Part::Text(std::mem::take(text)));
    }
}
