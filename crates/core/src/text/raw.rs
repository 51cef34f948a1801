//! Bytes that are no UTF-8, kept one by one.
//!
//! Each such byte 0x80..=0xFF becomes one private-use character, U+F780..=U+F7FF, three bytes long as the
//! replacement character is. A file that really holds one of these characters is read as its three bytes,
//! so that reading and writing back give the same bytes for every file. Cost: one pass.

const FIRST: u32 = 0xF780;
const LAST: u32 = 0xF7FF;

/// The stand-in for an undecodable byte.
///
/// # Panics
/// If `byte < 0x80`: such a byte is a character by itself.
#[must_use]
pub fn stand_in(byte: u8) -> char {
    assert!(byte >= 0x80, "byte {byte:#04x} is ASCII and needs no stand-in");
    char::from_u32(FIRST + u32::from(byte) - 0x80).unwrap_or(char::REPLACEMENT_CHARACTER)
}

/// The byte that `character` is in for.
#[must_use]
pub fn byte_of(character: char) -> Option<u8> {
    let code = u32::from(character);
    (FIRST..=LAST).contains(&code).then(|| (code - FIRST + 0x80) as u8)
}

/// Whether any character of `text` is a stand-in.
#[must_use]
pub fn has_stand_in(text: &str) -> bool {
    memchr::memchr_iter(0xEF, text.as_bytes()).any(|at| text[at..].chars().next().and_then(byte_of).is_some())
}

/// Decodes any bytes.
#[must_use]
pub fn decode(bytes: &[u8]) -> String {
    let mut text = String::with_capacity(bytes.len());
    for chunk in bytes.utf8_chunks() {
        push_valid(&mut text, chunk.valid());
        chunk.invalid().iter().for_each(|&byte| text.push(stand_in(byte)));
    }
    text
}

fn push_valid(out: &mut String, valid: &str) {
    if !has_stand_in(valid) {
        out.push_str(valid);
        return;
    }
    for character in valid.chars() {
        match byte_of(character) {
            Some(_) => {
                let mut buffer = [0; 4];
                character.encode_utf8(&mut buffer).bytes().for_each(|byte| out.push(stand_in(byte)));
            }
            None => out.push(character),
        }
    }
}

/// Gives back the bytes that [`decode`] was given.
#[must_use]
pub fn encode(text: &str) -> Vec<u8> {
    if !has_stand_in(text) {
        return text.as_bytes().to_vec();
    }
    let mut bytes = Vec::with_capacity(text.len());
    let mut buffer = [0; 4];
    for character in text.chars() {
        match byte_of(character) {
            Some(byte) => bytes.push(byte),
            None => bytes.extend_from_slice(character.encode_utf8(&mut buffer).as_bytes()),
        }
    }
    bytes
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn any_bytes_come_back(bytes in proptest::collection::vec(any::<u8>(), 0..200)) {
            prop_assert_eq!(encode(&decode(&bytes)), bytes);
        }
    }

    #[test]
    fn a_stand_in_written_in_a_file_is_kept_as_its_bytes() {
        let written = "a\u{F7A0}b".as_bytes();
        assert_eq!(encode(&decode(written)), written);
        assert!(has_stand_in(&decode(written)));
    }
}
