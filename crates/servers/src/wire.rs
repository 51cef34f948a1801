//! Messages as they go over the wire: a header with the length of the body in bytes, an empty line, the body as JSON
//! (Language Server Protocol 3.17, "Base Protocol").
//!
//! Reading never trusts a length: what is too long, or no header at all, is a [`Fault`], and the stream is of no use after
//! it, since nothing tells where the next message begins.

use serde_json::Value;
use std::io::{self, BufRead, Read, Write};

/// The longest line of a header, in bytes.
const LONGEST_LINE: u64 = 4 << 10;

/// The most lines of one header.
const MOST_LINES: usize = 32;

/// The longest body, in bytes: larger than any answer of use, smaller than what would fill the memory.
pub const LONGEST_BODY: usize = 256 << 20;

/// Why a stream of messages is of no use any more.
#[derive(Debug, thiserror::Error)]
pub enum Fault {
    /// The stream cannot be read.
    #[error("it cannot be read: {0}")]
    Io(#[from] io::Error),
    /// It ended inside a message.
    #[error("it ended in the middle of a message")]
    CutOff,
    /// A line is none of a header.
    #[error("it sent {0:?} where the header of a message was due")]
    Header(String),
    /// A header says no length.
    #[error("it sent a message without its length")]
    NoLength,
    /// A body is longer than [`LONGEST_BODY`].
    #[error("it sent a message of {0} bytes, more than is taken")]
    TooLong(usize),
}

/// What was read.
#[derive(Debug)]
pub enum Read1 {
    /// A message.
    Message(Value),
    /// A body that is no JSON; the stream goes on after it.
    Garbled(String),
}

/// Reads the next message; none at the end of the stream.
///
/// # Errors
/// A [`Fault`], after which the stream is of no use.
pub fn read(from: &mut impl BufRead) -> Result<Option<Read1>, Fault> {
    let Some(length) = read_header(from)? else { return Ok(None) };
    if length > LONGEST_BODY {
        return Err(Fault::TooLong(length));
    }
    // The buffer grows with what comes, so that a length alone takes no memory.
    let mut body = Vec::new();
    from.take(length as u64).read_to_end(&mut body)?;
    if body.len() < length {
        return Err(Fault::CutOff);
    }
    Ok(Some(match serde_json::from_slice(&body) {
        Ok(message) => Read1::Message(message),
        Err(error) => Read1::Garbled(error.to_string()),
    }))
}

/// The length that a header says; none where the stream ends before it.
fn read_header(from: &mut impl BufRead) -> Result<Option<usize>, Fault> {
    let mut length = None;
    for index in 0..MOST_LINES {
        let mut line = Vec::new();
        from.by_ref().take(LONGEST_LINE).read_until(b'\n', &mut line)?;
        if line.is_empty() {
            return if index == 0 { Ok(None) } else { Err(Fault::CutOff) };
        }
        let text = String::from_utf8_lossy(&line);
        let text = text.trim_end_matches(['\r', '\n']);
        if text.is_empty() {
            return length.map(Some).ok_or(Fault::NoLength);
        }
        let wrong = || Fault::Header(text.chars().take(60).collect());
        let (name, value) = text.split_once(':').ok_or_else(wrong)?;
        if name.eq_ignore_ascii_case("content-length") {
            length = Some(value.trim().parse().map_err(|_| wrong())?);
        }
    }
    Err(Fault::NoLength)
}

/// Writes a message.
///
/// # Errors
/// What the system says.
pub fn write(to: &mut impl Write, message: &Value) -> io::Result<()> {
    let body = serde_json::to_vec(message)?;
    write!(to, "Content-Length: {}\r\n\r\n", body.len())?;
    to.write_all(&body)?;
    to.flush()
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    fn all_of(mut bytes: &[u8]) -> Vec<String> {
        let mut found = Vec::new();
        loop {
            match read(&mut bytes) {
                Ok(Some(Read1::Message(message))) => found.push(message.to_string()),
                Ok(Some(Read1::Garbled(_))) => found.push("garbled".to_owned()),
                Ok(None) => return found,
                Err(fault) => {
                    found.push(fault.to_string());
                    return found;
                }
            }
        }
    }

    #[test]
    fn what_is_written_is_read_again() {
        let mut bytes = Vec::new();
        for message in [json!({"id": 1, "text": "Ebb — 潮"}), json!([])] {
            write(&mut bytes, &message).unwrap();
        }
        assert_eq!(all_of(&bytes), [r#"{"id":1,"text":"Ebb — 潮"}"#, "[]"]);
    }

    #[test]
    fn what_is_wrong_in_a_stream_is_told() {
        for (name, bytes, expected) in [
            ("other_fields_and_cases", "content-LENGTH:2\r\nContent-Type: x\r\n\r\n{}", "{}"),
            ("line_feeds_alone", "Content-Length: 2\n\n{}", "{}"),
            ("words_of_a_log", "starting up\n", "it sent \"starting up\" where the header of a message was due"),
            ("cut_off_in_the_body", "Content-Length: 9\r\n\r\n{}", "it ended in the middle of a message"),
            ("cut_off_in_the_header", "Content-Length: 9\r\n", "it ended in the middle of a message"),
            ("no_length", "Content-Type: x\r\n\r\n{}", "it sent a message without its length"),
            (
                "length_is_no_number",
                "Content-Length: -4\r\n\r\n",
                "it sent \"Content-Length: -4\" where the header of a message was due",
            ),
            (
                "length_beyond_all",
                "Content-Length: 99999999999\r\n\r\n",
                "it sent a message of 99999999999 bytes, more than is taken",
            ),
            ("body_is_no_json", "Content-Length: 3\r\n\r\n{,}", "garbled"),
            ("body_is_no_utf8", "Content-Length: 4\r\n\r\n\"\u{80}\"", "\"\u{80}\""),
        ] {
            assert_eq!(all_of(bytes.as_bytes()), [expected], "{name}");
        }
        let invalid = [b"Content-Length: 4\r\n\r\n".as_slice(), &[b'"', 0xC3, 0x28, b'"']].concat();
        assert_eq!(all_of(&invalid), ["garbled"]);
    }

    #[test]
    fn a_garbled_body_leaves_the_next_message_whole() {
        assert_eq!(all_of(b"Content-Length: 1\r\n\r\n{Content-Length: 2\r\n\r\n{}"), ["garbled", "{}"]);
    }
}
