//! Loading: bytes to text, so that writing the text back gives the same bytes.
//!
//! UTF-8 with or without a byte-order mark, UTF-16 with one. Everything else is kept byte by byte as
//! stand-ins ([`snarvel_core::text::raw`]). Cost: one pass.

use crate::FileError;
use crate::memory;
use crate::reading;
use snarvel_core::text::{Text, raw};
use snarvel_core::units::Line;
use std::fs;
use std::io::{self, Read};
use std::path::Path;

/// How a file's characters are written as bytes.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Encoding {
    /// UTF-8; bytes that are none are kept as they are.
    #[default]
    Utf8,
    /// UTF-8 after a byte-order mark.
    Utf8Marked,
    /// UTF-16, low byte first, after a byte-order mark.
    Utf16Little,
    /// UTF-16, high byte first, after a byte-order mark.
    Utf16Big,
    /// One of the encodings of before (the WHATWG's Encoding Standard), as far as its bytes tell.
    Legacy(&'static encoding_rs::Encoding),
}

impl Encoding {
    /// Its name, where it is unusual enough to be shown.
    pub fn unusual_name(self) -> Option<&'static str> {
        match self {
            Encoding::Utf8 => None,
            Encoding::Utf8Marked => Some("UTF-8 BOM"),
            Encoding::Utf16Little => Some("UTF-16 LE"),
            Encoding::Utf16Big => Some("UTF-16 BE"),
            Encoding::Legacy(encoding) => Some(encoding.name()),
        }
    }
}

/// A file as it was loaded.
#[derive(Debug)]
pub struct Loaded {
    /// Its text.
    pub text: Text,
    /// How it is to be written back.
    pub encoding: Encoding,
    /// Whether its rights forbid writing.
    pub read_only: bool,
}

/// Loads the file at `path`; none when there is no such file.
///
/// # Errors
/// A folder, a special file, or one that cannot be read.
pub fn load(path: &Path) -> Result<Option<Loaded>, FileError> {
    load_by(path, &mut |_| Go::On)
}

/// The same; `told` sees the text so far, as [`in_pieces`] says.
pub(crate) fn load_by(path: &Path, told: &mut dyn FnMut(&Text) -> Go) -> Result<Option<Loaded>, FileError> {
    let read = |source| FileError::Read { path: path.to_owned(), source };
    let meta = match fs::metadata(path) {
        Ok(meta) => meta,
        Err(error) if error.kind() == std::io::ErrorKind::NotFound => return Ok(None),
        Err(error) => return Err(read(error)),
    };
    if meta.is_dir() {
        return Err(FileError::Folder(path.to_owned()));
    }
    if !meta.is_file() {
        return Err(FileError::Special(path.to_owned()));
    }
    // The bytes as they are read, and the text.
    let free = if meta.len() >= LARGE { memory::free() } else { None };
    if let Some(free) = free.filter(|free| meta.len().saturating_mul(2) > *free as u64) {
        return Err(FileError::NoMemory { path: path.to_owned(), size: meta.len(), free });
    }
    // It may have become something else since.
    let file = match reading::open(path) {
        Err(error) if error.kind() == io::ErrorKind::InvalidInput => return Err(FileError::Special(path.to_owned())),
        file => file.map_err(read)?,
    };
    let (text, encoding) = in_pieces(file, told).map_err(read)?;
    Ok(Some(Loaded { text, encoding, read_only: meta.permissions().readonly() }))
}

/// A file from this size on, in bytes, is read only where there is memory for it.
const LARGE: u64 = 64 << 20;

/// Whether a load goes on.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Go {
    /// It does.
    On,
    /// Nobody wants the rest.
    Stop,
}

/// Bytes read in one go: large enough for a disk, small beside any memory.
const PIECE: usize = 4 << 20;

/// Reads all of `source` piece by piece, so that no more than the text itself is held; `told` sees the text so far after each
/// piece. What is not UTF-8 without a mark is read as a whole.
///
/// # Errors
/// What reading gives; that the receiver is gone is no error.
pub fn in_pieces(source: impl Read, told: &mut dyn FnMut(&Text) -> Go) -> io::Result<(Text, Encoding)> {
    in_pieces_of(PIECE, source, told)
}

fn in_pieces_of(
    piece: usize,
    mut source: impl Read,
    told: &mut dyn FnMut(&Text) -> Go,
) -> io::Result<(Text, Encoding)> {
    let mut buffer = Vec::with_capacity(piece);
    read_piece(piece, &mut source, &mut buffer)?;
    if has_mark(&buffer) {
        source.read_to_end(&mut buffer)?;
        return Ok(decode(&buffer));
    }
    if buffer.len() < piece {
        return Ok(decode(&buffer));
    }
    let mut text = Text::default();
    loop {
        let is_last = buffer.len() < piece;
        let whole = if is_last { buffer.len() } else { whole_characters(&buffer) };
        push(&mut text, &buffer[..whole]);
        buffer.drain(..whole);
        if is_last || told(&text) == Go::Stop {
            return Ok((text, Encoding::Utf8));
        }
        read_piece(piece, &mut source, &mut buffer)?;
    }
}

/// Fills `buffer` up to a piece, as far as there is anything.
fn read_piece(piece: usize, source: &mut impl Read, buffer: &mut Vec<u8>) -> io::Result<()> {
    let wanted = piece - buffer.len();
    source.take(wanted as u64).read_to_end(buffer).map(drop)
}

fn has_mark(bytes: &[u8]) -> bool {
    let marks: [&[u8]; 3] = [&[0xEF, 0xBB, 0xBF], &[0xFF, 0xFE], &[0xFE, 0xFF]];
    marks.iter().any(|mark| bytes.starts_with(mark))
}

fn push(text: &mut Text, bytes: &[u8]) {
    match std::str::from_utf8(bytes) {
        Ok(piece) if !raw::has_stand_in(piece) => text.push(piece),
        _ => text.push(&raw::decode(bytes)),
    }
}

/// How many bytes of `bytes` are whole: the start of a character at their end may go on in what follows.
fn whole_characters(bytes: &[u8]) -> usize {
    let tail = bytes.len().saturating_sub(3);
    let begun = (tail..bytes.len()).rev().find(|&at| bytes[at] & 0xC0 != 0x80);
    let is_cut = |at: &usize| std::str::from_utf8(&bytes[*at..]).is_err_and(|error| error.error_len().is_none());
    begun.filter(is_cut).unwrap_or(bytes.len())
}

/// Decodes the bytes of a file.
pub fn decode(bytes: &[u8]) -> (Text, Encoding) {
    let utf8 = |bytes: &[u8]| match std::str::from_utf8(bytes) {
        Ok(text) if !raw::has_stand_in(text) => Text::from(text),
        _ => Text::from(raw::decode(bytes).as_str()),
    };
    match bytes {
        [0xEF, 0xBB, 0xBF, rest @ ..] => (utf8(rest), Encoding::Utf8Marked),
        [0xFF, 0xFE, rest @ ..] => match utf16(rest, u16::from_le_bytes) {
            Some(text) => (text, Encoding::Utf16Little),
            None => (utf8(bytes), Encoding::Utf8),
        },
        [0xFE, 0xFF, rest @ ..] => match utf16(rest, u16::from_be_bytes) {
            Some(text) => (text, Encoding::Utf16Big),
            None => (utf8(bytes), Encoding::Utf8),
        },
        _ => legacy(bytes).unwrap_or_else(|| (utf8(bytes), Encoding::Utf8)),
    }
}

/// Fewer bytes, and fewer of them that are not ASCII, tell nothing about an encoding.
const FEWEST: [usize; 2] = [32, 4];

/// The text of bytes that are surely in an encoding of before: not UTF-8, words by its letters, and the same bytes when
/// they are written back. Everything else is kept byte by byte.
fn legacy(bytes: &[u8]) -> Option<(Text, Encoding)> {
    let [fewest, fewest_high] = FEWEST;
    let high = bytes.iter().filter(|byte| !byte.is_ascii()).count();
    if bytes.len() < fewest || high < fewest_high || bytes.contains(&0) || std::str::from_utf8(bytes).is_ok() {
        return None;
    }
    let mut detector = chardetng::EncodingDetector::new();
    detector.feed(bytes, true);
    let (encoding, is_sure) = detector.guess_assess(None, false);
    let (text, is_broken) = encoding.decode_without_bom_handling(bytes);
    if !is_sure || is_broken || raw::has_stand_in(&text) {
        return None;
    }
    let foreign = || text.chars().filter(|c| !c.is_ascii());
    let are_words = foreign().filter(|c| c.is_alphabetic()).count() * 5 >= foreign().count() * 4;
    let is_text = !text.chars().any(|c| c.is_control() && !matches!(c, '\t' | '\n' | '\r' | '\u{C}'));
    let (back, _, is_lost) = encoding.encode(&text);
    (are_words && is_text && !is_lost && *back == *bytes).then(|| (Text::from(&*text), Encoding::Legacy(encoding)))
}

/// The first character of `text` that `encoding` has no bytes for, and the line that it is on.
#[must_use]
pub fn unwritable(text: &Text, encoding: Encoding) -> Option<(char, Line)> {
    let Encoding::Legacy(legacy) = encoding else { return None };
    let mut encoder = legacy.new_encoder();
    let mut buffer = [0; 64];
    for line in (0..text.line_count()).map(Line) {
        let content = text.content(line);
        if content.is_ascii() {
            continue;
        }
        for c in content.chars().filter(|c| !c.is_ascii()) {
            let mut utf8 = [0; 4];
            let piece = c.encode_utf8(&mut utf8);
            let (result, ..) = encoder.encode_from_utf8_without_replacement(piece, &mut buffer, false);
            if matches!(result, encoding_rs::EncoderResult::Unmappable(_)) {
                return Some((c, line));
            }
        }
    }
    None
}

/// The text of UTF-16 bytes; none when they are not whole or hold half a pair.
fn utf16(bytes: &[u8], unit: fn([u8; 2]) -> u16) -> Option<Text> {
    let pairs = bytes.chunks_exact(2);
    if !pairs.remainder().is_empty() {
        return None;
    }
    let units = pairs.map(|pair| unit([pair[0], pair[1]]));
    let text: Result<String, _> = char::decode_utf16(units).collect();
    text.ok().map(|text| Text::from(text.as_str()))
}

/// The bytes that `text` is written as.
pub fn encode(text: &Text, encoding: Encoding) -> Vec<u8> {
    let text = text.to_string();
    let utf16 = |mark: [u8; 2], bytes: fn(u16) -> [u8; 2]| {
        mark.into_iter().chain(text.encode_utf16().flat_map(bytes)).collect()
    };
    match encoding {
        Encoding::Utf8 => raw::encode(&text),
        Encoding::Utf8Marked => [&[0xEF, 0xBB, 0xBF][..], &raw::encode(&text)].concat(),
        Encoding::Utf16Little => utf16([0xFF, 0xFE], u16::to_le_bytes),
        Encoding::Utf16Big => utf16([0xFE, 0xFF], u16::to_be_bytes),
        Encoding::Legacy(encoding) => encoding.encode(&text).0.into_owned(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn comes_back(bytes: &[u8]) {
        let (text, encoding) = decode(bytes);
        assert_eq!(encode(&text, encoding), bytes);
    }

    #[test]
    fn marks_line_ends_and_broken_bytes_come_back() {
        let rows: &[&[u8]] = &[
            b"",
            b"a\r\nb\nc",
            b"\xEF\xBB\xBFa\n",
            b"\xFF\xFEa\0\n\0",
            b"\xFF\xFEa",
            b"\xFE\xFF\0a",
            b"\xFF\xFE\x00\xD8",
            b"a\xFFb\0\x80",
            "\u{F7A0}".as_bytes(),
            b"\xFF\xFE\xA0\xF7",
        ];
        rows.iter().for_each(|bytes| comes_back(bytes));
        assert_eq!(decode(b"\xFF\xFEa\0\n\0").0.to_string(), "a\n");
    }

    proptest! {
        #[test]
        fn any_bytes_come_back(mark in 0usize..4, bytes in proptest::collection::vec(any::<u8>(), 0..120)) {
            let marks: [&[u8]; 4] = [b"", b"\xEF\xBB\xBF", b"\xFF\xFE", b"\xFE\xFF"];
            comes_back(&[marks[mark], &bytes].concat());
        }
    }

    #[test]
    fn encodings_of_before_are_told_by_their_words_and_written_back() {
        let russian = "Дежурный лоцман читает уровень воды у причала и подаёт сигнал в тумане.\n";
        let german = "Der diensthabende Lotse prüft täglich die Pegelstände für die Fähre über die Förde.\n";
        let japanese = "当直の水先人は毎朝、桟橋の水位を読み、霧の信号を鳴らします。潮の高さは帳面に書きます。\n";
        for (text, encoding) in [
            (russian, encoding_rs::WINDOWS_1251),
            (russian, encoding_rs::KOI8_U),
            (german, encoding_rs::WINDOWS_1252),
            (japanese, encoding_rs::SHIFT_JIS),
            (japanese, encoding_rs::EUC_JP),
        ] {
            let text = text.repeat(3);
            let (bytes, ..) = encoding.encode(&text);
            let (decoded, found) = decode(&bytes);
            assert_eq!(decoded.to_string(), text, "{}", encoding.name());
            assert!(matches!(found, Encoding::Legacy(_)) && encode(&decoded, found) == *bytes);
        }
        let latin = Encoding::Legacy(encoding_rs::WINDOWS_1252);
        assert_eq!(unwritable(&Text::from("é\n潮 é"), latin), Some(('潮', Line(1))));
        assert_eq!(unwritable(&Text::from("é €"), latin), None);
        // What tells too little stays as its bytes.
        for bytes in [&b"caf\xE9 au lait"[..], b"\xFF\xFE\xFD\xFC 0123456789 0123456789 0123456789", b"a\x80b"] {
            assert_eq!(decode(bytes).1, Encoding::Utf8);
        }
    }

    #[test]
    fn a_file_of_many_pieces_is_the_same_as_one_of_one() {
        const SMALL: usize = 16 << 10;
        let mut bytes = "tide é 漢 😀 \u{F7A0}\r\n".repeat(SMALL / 12).into_bytes();
        bytes.extend(b"\xFF\xE6\xBC");
        for cut in 0..6 {
            let part = &bytes[cut..];
            let mut last = 0;
            let (text, encoding) = in_pieces_of(SMALL, part, &mut |so_far| {
                assert!(so_far.len() > last);
                last = so_far.len();
                Go::On
            })
            .unwrap();
            assert!(last > 0 && encode(&text, encoding) == part, "{cut}");
            assert!(text == decode(part).0, "{cut}");
        }
        let (part, _) = in_pieces_of(SMALL, &bytes[..], &mut |_| Go::Stop).unwrap();
        assert!(part.len() <= 3 * SMALL && !part.is_empty());
    }

    #[test]
    fn folders_and_missing_files() {
        let folder = std::env::temp_dir();
        assert!(matches!(load(&folder), Err(FileError::Folder(_))));
        assert!(load(&folder.join("no such file, surely")).unwrap().is_none());
        assert!(matches!(load(Path::new("/dev/null")), Err(FileError::Special(_))));
    }
}
