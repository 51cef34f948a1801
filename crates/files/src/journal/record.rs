//! The records of a journal: a byte for the kind, the length and the checksum (CRC-32) of what follows, each four bytes,
//! the lowest first. What is behind the first record that is not whole counts for nothing.

use crate::stamp::Stamp;
use serde::{Deserialize, Serialize};
use snarvel_core::changes::{Change, ChangeBuilder};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Span};
use std::ffi::OsString;
use std::os::unix::ffi::{OsStrExt, OsStringExt};
use std::path::{Path, PathBuf};

/// What the first record says.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub(super) struct Header {
    /// The file, or the folder of a text without one, as bytes.
    place: Vec<u8>,
    /// How the file looked.
    pub stamp: Option<Stamp>,
    /// Which program.
    pub process: u32,
}

impl Header {
    pub(super) fn new(place: &Path, stamp: Option<Stamp>) -> Header {
        Header { place: place.as_os_str().as_bytes().to_vec(), stamp, process: std::process::id() }
    }

    pub(super) fn folder(&self) -> PathBuf {
        PathBuf::from(OsString::from_vec(self.place.clone()))
    }
}

/// A record behind the header.
#[derive(Debug)]
pub(super) enum Record {
    /// The text before the first change.
    Base(String),
    /// The text as it was then.
    Whole(String),
    /// A change.
    Change(Vec<LoggedEdit>),
}

/// One replacement.
#[derive(Debug)]
pub(super) struct LoggedEdit {
    start: usize,
    removed: usize,
    /// The checksum of what was removed: the text must be the one that was edited.
    check: u32,
    inserted: String,
}

const HEADER: u8 = b'H';
const BASE: u8 = b'B';
const WHOLE: u8 = b'W';
const CHANGE: u8 = b'C';
/// Records that count together or not at all.
const STEP: u8 = b'S';

fn framed(kind: u8, payload: &[u8]) -> Vec<u8> {
    let mut bytes = Vec::with_capacity(payload.len() + 9);
    bytes.push(kind);
    bytes.extend((payload.len() as u32).to_le_bytes());
    bytes.extend(crc32fast::hash(payload).to_le_bytes());
    bytes.extend(payload);
    bytes
}

pub(super) fn header(header: &Header) -> Vec<u8> {
    framed(HEADER, &serde_json::to_vec(header).unwrap_or_default())
}

pub(super) fn base(text: &Text) -> Vec<u8> {
    framed(BASE, text.to_string().as_bytes())
}

pub(super) fn whole(text: &Text) -> Vec<u8> {
    framed(WHOLE, text.to_string().as_bytes())
}

/// What was changed in one step: a journal that was torn gives all of it or nothing.
pub(super) fn step(changes: &[Change]) -> Vec<u8> {
    match changes {
        [only] => change(only),
        _ => framed(STEP, &changes.iter().flat_map(change).collect::<Vec<u8>>()),
    }
}

fn change(change: &Change) -> Vec<u8> {
    let mut payload = Vec::new();
    for edit in change.edits() {
        let inserted = change.inserted(edit);
        payload.extend((edit.start().0 as u64).to_le_bytes());
        payload.extend((edit.removed_len() as u64).to_le_bytes());
        payload.extend(crc32fast::hash(change.removed(edit).as_bytes()).to_le_bytes());
        payload.extend((inserted.len() as u32).to_le_bytes());
        payload.extend(inserted.as_bytes());
    }
    framed(CHANGE, &payload)
}

/// The header and the records of a journal, up to the first that is not whole.
pub(super) fn read(mut bytes: &[u8]) -> (Option<Header>, Vec<Record>) {
    let (mut header, mut records) = (None, Vec::new());
    while let Some((kind, payload, rest)) = next(bytes) {
        bytes = rest;
        let text = || String::from_utf8(payload.to_vec()).ok();
        let record = match kind {
            HEADER if header.is_none() => {
                header = serde_json::from_slice(payload).ok();
                continue;
            }
            STEP => {
                records.extend(read(payload).1);
                continue;
            }
            BASE => text().map(Record::Base),
            WHOLE => text().map(Record::Whole),
            CHANGE => edits(payload).map(Record::Change),
            _ => None,
        };
        match record {
            Some(record) => records.push(record),
            None => break,
        }
    }
    // Of a base alone nothing was edited.
    if records.iter().all(|record| matches!(record, Record::Base(_))) {
        records.clear();
    }
    (header, records)
}

fn next(bytes: &[u8]) -> Option<(u8, &[u8], &[u8])> {
    let (kind, rest) = bytes.split_first()?;
    let (len, rest) = number(rest)?;
    let (check, rest) = number(rest)?;
    let (payload, rest) = rest.split_at_checked(len as usize)?;
    (crc32fast::hash(payload) == check).then_some((*kind, payload, rest))
}

fn number(bytes: &[u8]) -> Option<(u32, &[u8])> {
    let (number, rest) = bytes.split_first_chunk::<4>()?;
    Some((u32::from_le_bytes(*number), rest))
}

fn edits(mut payload: &[u8]) -> Option<Vec<LoggedEdit>> {
    let mut edits = Vec::new();
    while !payload.is_empty() {
        let (start, rest) = payload.split_first_chunk::<8>()?;
        let (removed, rest) = rest.split_first_chunk::<8>()?;
        let (check, rest) = number(rest)?;
        let (len, rest) = number(rest)?;
        let (inserted, rest) = rest.split_at_checked(len as usize)?;
        edits.push(LoggedEdit {
            start: usize::try_from(u64::from_le_bytes(*start)).ok()?,
            removed: usize::try_from(u64::from_le_bytes(*removed)).ok()?,
            check,
            inserted: std::str::from_utf8(inserted).ok()?.to_owned(),
        });
        payload = rest;
    }
    Some(edits)
}

/// `text` with `edits` made in it; none where it is not the text that was edited.
pub(super) fn apply(edits: &[LoggedEdit], text: &Text) -> Option<Text> {
    let mut builder = ChangeBuilder::new(text);
    let mut free = 0;
    for edit in edits {
        let end = edit.start.checked_add(edit.removed)?;
        if edit.start < free || end > text.len() {
            return None;
        }
        let span = Span::new(Byte(edit.start), Byte(end));
        if !text.is_char_edge(span.start) || !text.is_char_edge(span.end) {
            return None;
        }
        if crc32fast::hash(text.slice(span).as_bytes()) != edit.check {
            return None;
        }
        builder.replace(span, &edit.inserted);
        free = end;
    }
    let mut changed = text.clone();
    changed.apply(&builder.finish());
    Some(changed)
}
