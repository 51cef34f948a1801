//! Loading: bytes to text, so that writing the text back gives the same bytes.
//!
//! UTF-8 with or without a byte-order mark, UTF-16 with one. Everything else is kept byte by byte as
//! stand-ins ([`snarvel_core::text::raw`]). Cost: one pass.

use crate::FileError;
use snarvel_core::text::{Text, raw};
use std::fs;
use std::path::Path;

/// How a file's characters are written as bytes.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Encoding {
    /// UTF-8; bytes that are none are kept as they are.
    #[default]
    Utf8,
    /// UTF-8 behind a byte-order mark.
    Utf8Marked,
    /// UTF-16, low byte first, behind a byte-order mark.
    Utf16Little,
    /// UTF-16, high byte first, behind a byte-order mark.
    Utf16Big,
}

impl Encoding {
    /// Its name, where it is unusual enough to be shown.
    pub fn unusual_name(self) -> Option<&'static str> {
        match self {
            Encoding::Utf8 => None,
            Encoding::Utf8Marked => Some("UTF-8 BOM"),
            Encoding::Utf16Little => Some("UTF-16 LE"),
            Encoding::Utf16Big => Some("UTF-16 BE"),
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
    let bytes = fs::read(path).map_err(read)?;
    let (text, encoding) = decode(&bytes);
    Ok(Some(Loaded { text, encoding, read_only: meta.permissions().readonly() }))
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
        _ => (utf8(bytes), Encoding::Utf8),
    }
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
    fn folders_and_missing_files() {
        let folder = std::env::temp_dir();
        assert!(matches!(load(&folder), Err(FileError::Folder(_))));
        assert!(load(&folder.join("no such file, surely")).unwrap().is_none());
        assert!(matches!(load(Path::new("/dev/null")), Err(FileError::Special(_))));
    }
}
