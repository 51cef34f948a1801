//! What can begin where: for each byte the comments and literals that begin with it, so that the scanner passes over
//! all others.

use super::tokens::Form;
use crate::languages::{Language, Shape};

/// Something that can begin a comment or a literal: what it begins with and by which rule it goes on.
#[derive(Clone, Debug)]
pub(super) struct Opener {
    pub(super) head: String,
    pub(super) form: Form,
}

/// A set of bytes.
pub(super) type Bytes = [bool; 256];

/// What can begin with one byte.
#[derive(Clone, Debug)]
pub(super) struct Start {
    /// The longest first.
    pub(super) openers: Vec<Opener>,
    /// The bytes that can be after it then: most letters that can begin something do not.
    pub(super) seconds: Bytes,
}

/// The bytes that `marks` begin with.
pub(super) fn first_bytes<'a>(marks: impl IntoIterator<Item = &'a str>) -> Bytes {
    let mut bytes = [false; 256];
    marks.into_iter().filter_map(|mark| mark.bytes().next()).for_each(|byte| bytes[usize::from(byte)] = true);
    bytes
}

impl Start {
    /// What can begin with `first`; none where nothing does.
    pub(super) fn of(first: u8, language: &Language, openers: &[Opener]) -> Option<Start> {
        let is_meant = |opener: &&Opener| {
            let own = opener.head.as_bytes()[0];
            own == first || (language.any_case && own.to_ascii_lowercase() == first)
        };
        let openers: Vec<Opener> = openers.iter().filter(is_meant).cloned().collect();
        let begins_more = (first == b'\\' && language.backslash_in_code) || (first == b'/' && language.regex);
        if openers.is_empty() && !begins_more {
            return None;
        }
        let mut seconds = [begins_more; 256];
        for allowed in openers.iter().map(|opener| second_bytes(language, opener)) {
            seconds.iter_mut().zip(allowed).for_each(|(second, allowed)| *second |= allowed);
        }
        Some(Start { openers, seconds })
    }
}

/// The bytes that can be after the first one of `opener`.
fn second_bytes(language: &Language, opener: &Opener) -> Bytes {
    if let Some(&second) = opener.head.as_bytes().get(1) {
        let mut bytes = [false; 256];
        bytes[usize::from(second)] = true;
        bytes[usize::from(second.to_ascii_lowercase())] |= language.any_case;
        return bytes;
    }
    let form = match opener.form {
        Form::Text(form) => Some(&language.strings[usize::from(form)]),
        _ => None,
    };
    let counted = form.filter(|form| form.shape == Shape::Counted).and_then(|form| form.counted);
    match (counted.filter(char::is_ascii), form.and_then(|form| form.open.split_once('*'))) {
        (Some(counted), Some((_, tail))) if !tail.is_empty() => {
            let mut bytes = first_bytes([tail]);
            bytes[counted as usize] = true;
            bytes
        }
        _ => [true; 256],
    }
}

/// The bytes that an opener cannot do without and that text has few of: its first one that is no letter or digit, and how far
/// after its start that is. None where it has only letters.
fn anchor_of(language: &Language, opener: &Opener) -> Option<(Vec<u8>, usize)> {
    let head = opener.head.as_bytes();
    if let Some(at) = head.iter().position(|byte| !byte.is_ascii_alphanumeric()) {
        return Some((vec![head[at]], at));
    }
    let Form::Text(form) = opener.form else { return None };
    let form = &language.strings[usize::from(form)];
    let counted = form.counted.filter(|counted| form.shape == Shape::Counted && counted.is_ascii())?;
    let tail = form.open.split_once('*').and_then(|(_, tail)| tail.bytes().next())?;
    let behind = vec![counted as u8, tail];
    behind.iter().all(|byte| !byte.is_ascii_alphanumeric()).then_some((behind, head.len()))
}

/// Bytes without which nothing begins: most text has none of them, and is passed over faster than by pairs.
#[derive(Clone, Debug)]
pub(super) struct Anchors {
    /// Fewer are filled up with one of them.
    bytes: [u8; ANCHORS],
    /// How far before such a byte something may begin.
    reach: usize,
}

/// The most bytes that are compared with: more are slower than pairs.
const ANCHORS: usize = 8;

/// Bytes that are compared between two checks whether one of them was found.
const COMPARED: usize = 32;

impl Anchors {
    /// Of `openers`; none where some do without, or there are too many.
    pub(super) fn of(language: &Language, openers: &[Opener]) -> Option<Anchors> {
        let (mut bytes, mut reach) = (Vec::new(), 0);
        bytes.extend(language.backslash_in_code.then_some(b'\\'));
        bytes.extend(language.regex.then_some(b'/'));
        for opener in openers {
            let (more, offset) = anchor_of(language, opener)?;
            bytes.extend(more);
            reach = reach.max(offset);
        }
        bytes.sort_unstable();
        bytes.dedup();
        let last = *bytes.last()?;
        bytes.resize(bytes.len().max(ANCHORS), last);
        Some(Anchors { bytes: bytes.try_into().ok()?, reach })
    }

    fn are_in(&self, bytes: &[u8; COMPARED]) -> bool {
        // All are compared, so that many are at a time.
        let is_one = |byte: &u8| self.bytes.iter().fold(0, |any, anchor| any | u8::from(byte == anchor));
        bytes.iter().fold(0, |any, byte| any | is_one(byte)) != 0
    }

    /// How many bytes at the start of `bytes` nothing begins with.
    fn bare(&self, bytes: &[u8]) -> usize {
        let (many, _) = bytes.as_chunks::<COMPARED>();
        let passed = many.iter().take_while(|bytes| !self.are_in(bytes)).count() * COMPARED;
        passed.saturating_sub(self.reach)
    }
}

/// Where something may begin, by two bytes at a time: each start has a bit, and so has each byte that can be after it. Where
/// there are more starts than bits some share one, so that what is found may be none.
#[derive(Clone, Debug)]
pub(super) struct Pairs {
    first: [u8; 256],
    second: [u8; 256],
    pub(super) anchors: Option<Anchors>,
}

/// Bytes that are looked at between two checks whether one of them was found.
const TOGETHER: usize = 8;

impl Pairs {
    /// Of `starts`, which are of the bytes that `start_of` says; the first of them is none.
    pub(super) fn of(starts: &[Start], start_of: &[u8; 256], anchors: Option<Anchors>) -> Pairs {
        let bit = |index: usize| 1 << (index % 8);
        let first = start_of.map(|index| if index == 0 { 0 } else { bit(usize::from(index)) });
        let mut second = [0; 256];
        for (index, start) in starts.iter().enumerate().skip(1) {
            let may_follow = second.iter_mut().zip(start.seconds);
            may_follow.filter(|(_, may)| *may).for_each(|(bits, _)| *bits |= bit(index));
        }
        Pairs { first, second, anchors }
    }

    /// The first place of `bytes`, whole lines, at which something may begin: so it may with the last byte, whatever comes after.
    pub(super) fn first_in(&self, bytes: &[u8]) -> Option<usize> {
        let is_here = |pair: &[u8]| self.first[usize::from(pair[0])] & self.second[usize::from(pair[1])];
        let mut at = 0;
        loop {
            at += self.anchors.as_ref().map_or(0, |anchors| anchors.bare(&bytes[at..]));
            // Where an anchor is near, pairs are looked at for as long as it would take to find that out again.
            let end = if self.anchors.is_some() { at + 2 * COMPARED } else { bytes.len() };
            while at < end
                && let Some(together) = bytes.get(at..=at + TOGETHER)
            {
                if together.windows(2).fold(0, |any, pair| any | is_here(pair)) != 0 {
                    return bytes[at..].windows(2).position(|pair| is_here(pair) != 0).map(|here| at + here);
                }
                at += TOGETHER;
            }
            if bytes.len() - at <= TOGETHER {
                break;
            }
        }
        let here = bytes[at..].windows(2).position(|pair| is_here(pair) != 0);
        let last = || bytes.last().filter(|last| self.first[usize::from(**last)] != 0).map(|_| bytes.len() - 1);
        here.map(|here| at + here).or_else(last)
    }
}
