//! The records of a journal: a byte for the kind, the length and the checksum (CRC-32) of what follows, each four bytes,
//! the lowest first. What is after the first record that is not whole counts for nothing.

use super::base::RUN;
use crate::stamp::Stamp;
use serde::{Deserialize, Serialize};
use snarvel_core::changes::{Change, ChangeBuilder};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Span};
use std::ffi::OsString;
use std::os::unix::ffi::{OsStrExt, OsStringExt};
use std::path::{Path, PathBuf};
use std::sync::Arc;

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
    /// Of a journal whose own cannot be read.
    pub(super) fn unknown() -> Header {
        Header { place: Vec::new(), stamp: None, process: 0 }
    }

    pub(super) fn new(place: &Path, stamp: Option<Stamp>) -> Header {
        Header { place: place.as_os_str().as_bytes().to_vec(), stamp, process: std::process::id() }
    }

    pub(super) fn folder(&self) -> PathBuf {
        PathBuf::from(OsString::from_vec(self.place.clone()))
    }
}

/// A record after the header.
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
/// The same as a part of a transaction over several texts: its number, then the records.
const TRANSACTION: u8 = b'T';
/// A part of a transaction in the file that is written before the journals are: the name of a journal, then its record.
const PART: u8 = b'P';
/// The end of such a file: without it the file counts for nothing.
const END: u8 = b'E';

/// The number of a transaction over several texts: the run of the program that made it, and how many it had made before.
pub(super) type TransactionId = [u8; 16];

/// The number of the `count`th transaction of this run.
pub(super) fn transaction_id(count: u64) -> TransactionId {
    let mut id = [0; 16];
    id[..8].copy_from_slice(&RUN.to_le_bytes());
    id[8..].copy_from_slice(&count.to_le_bytes());
    id
}

/// A step as a part of a transaction.
pub(super) fn transaction(id: TransactionId, step: &[u8]) -> Vec<u8> {
    framed(TRANSACTION, &[&id[..], step].concat())
}

/// The file that is written before the journals of a transaction are: the journal's name and the record for each.
pub(super) fn transaction_file(parts: &[(String, Vec<u8>)]) -> Vec<u8> {
    let part = |(name, record): &(String, Vec<u8>)| {
        framed(PART, &[&(name.len() as u32).to_le_bytes()[..], name.as_bytes(), record].concat())
    };
    parts.iter().flat_map(part).chain(framed(END, &[])).collect()
}

/// The parts of such a file; none where it was not written to its end.
pub(super) fn transaction_parts(mut bytes: &[u8]) -> Vec<(String, Contents)> {
    let mut parts = Vec::new();
    while let Some((kind, payload, rest)) = next(bytes) {
        bytes = rest;
        match kind {
            PART => {
                let Some((len, rest)) = number(payload) else { return Vec::new() };
                let Some((name, record)) = rest.split_at_checked(len as usize) else { return Vec::new() };
                parts.push((String::from_utf8_lossy(name).into_owned(), read(record)));
            }
            END => return parts,
            _ => return Vec::new(),
        }
    }
    Vec::new()
}

/// What is in a journal.
#[derive(Debug, Default)]
pub(super) struct Contents {
    pub header: Option<Header>,
    pub records: Vec<Record>,
    /// The transactions that it has its part of.
    pub transactions: Vec<TransactionId>,
}

impl Contents {
    /// Adds the records of `other`, which come after those here.
    pub(super) fn extend(&mut self, other: Contents) {
        self.records.extend(other.records);
        self.transactions.extend(other.transactions);
    }

    /// Whether anything was edited: of a base alone nothing was.
    pub(super) fn has_edits(&self) -> bool {
        self.records.iter().any(|record| !matches!(record, Record::Base(_)))
    }
}

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
pub(super) fn step(changes: &[Arc<Change>]) -> Vec<u8> {
    match changes {
        [only] => change(only),
        _ => framed(STEP, &changes.iter().flat_map(|each| change(each)).collect::<Vec<u8>>()),
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

/// How far into a journal its first whole record is looked for, where its header is damaged.
const LONGEST_HEADER: usize = 16 << 10;

/// What is in a journal. Where its first bytes are damaged, that is what comes after them, without a header.
pub(super) fn read_all(bytes: &[u8]) -> Contents {
    if matches!(next(bytes), Some((HEADER, ..))) {
        return read(bytes);
    }
    let is_record = |at: &usize| {
        let kind = bytes[*at];
        [BASE, WHOLE, CHANGE, STEP, TRANSACTION].contains(&kind) && next(&bytes[*at..]).is_some()
    };
    (1..bytes.len().min(LONGEST_HEADER)).find(is_record).map(|at| read(&bytes[at..])).unwrap_or_default()
}

/// What is in a journal, up to the first record that is not whole.
pub(super) fn read(mut bytes: &[u8]) -> Contents {
    let mut contents = Contents::default();
    while let Some((kind, payload, rest)) = next(bytes) {
        bytes = rest;
        let text = || String::from_utf8(payload.to_vec()).ok();
        let record = match kind {
            HEADER if contents.header.is_none() => {
                contents.header = serde_json::from_slice(payload).ok();
                continue;
            }
            STEP => {
                contents.extend(read(payload));
                continue;
            }
            TRANSACTION => match payload.split_first_chunk() {
                Some((id, step)) => {
                    contents.transactions.push(*id);
                    contents.extend(read(step));
                    continue;
                }
                None => None,
            },
            BASE => text().map(Record::Base),
            WHOLE => text().map(Record::Whole),
            CHANGE => edits(payload).map(Record::Change),
            _ => None,
        };
        match record {
            Some(record) => contents.records.push(record),
            None => break,
        }
    }
    contents
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

/// Whether no more of a journal was written than a part of its header: then nothing can have been edited.
pub(super) fn is_begun_only(bytes: &[u8]) -> bool {
    let length = bytes.get(1..).and_then(number).map(|(length, _)| length as usize);
    bytes.first().is_none_or(|kind| *kind == HEADER)
        && length.is_none_or(|length| bytes.len() < length.saturating_add(9))
}

/// What was put in by `records`, in order; what was typed on and on is one piece.
pub(super) fn pieces(records: &[Record]) -> Vec<String> {
    let mut pieces: Vec<String> = Vec::new();
    let mut end = None;
    for record in records {
        let Record::Change(edits) = record else { continue };
        for edit in edits.iter().filter(|edit| !edit.inserted.is_empty()) {
            match pieces.last_mut().filter(|_| end == Some(edit.start) && edits.len() == 1) {
                Some(piece) => piece.push_str(&edit.inserted),
                None => pieces.push(edit.inserted.clone()),
            }
            end = Some(edit.start + edit.inserted.len());
        }
    }
    pieces
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
