//! What a program has printed, as plain lines: without escape sequences and control characters.

use memchr::memchr3;

/// The longest line that is told, in bytes: of a longer one its beginning.
pub const LONGEST_LINE: usize = 4_096;

/// Where in a sequence the bytes are (ECMA-48 5.3 to 5.6).
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
enum Inside {
    /// In none.
    #[default]
    Text,
    /// Right after an escape.
    Escape,
    /// In a control sequence.
    Control,
    /// In a string, which ends with BEL or ST.
    String,
    /// After an escape in a string.
    StringEscape,
}

/// Takes output in pieces and gives its lines.
#[derive(Debug, Default)]
pub struct Plain {
    line: Vec<u8>,
    inside: Inside,
    /// The line begins anew with the next character: it was gone back to its start.
    is_returned: bool,
}

impl Plain {
    /// Takes a piece of output; `tell` is given each line that it ends. Cost: linear in the bytes.
    pub fn take(&mut self, mut bytes: &[u8], tell: &mut dyn FnMut(&str)) {
        while !bytes.is_empty() {
            match self.inside {
                Inside::Text => {
                    let at = memchr3(b'\x1b', b'\n', b'\r', bytes).unwrap_or(bytes.len());
                    self.add(&bytes[..at]);
                    let Some(byte) = bytes.get(at) else { return };
                    match byte {
                        b'\n' => self.end(tell),
                        b'\r' => self.is_returned = true,
                        _ => self.inside = Inside::Escape,
                    }
                    bytes = &bytes[at + 1..];
                }
                _ => {
                    self.step(bytes[0]);
                    bytes = &bytes[1..];
                }
            }
        }
    }

    /// What is left of a line that has not ended.
    pub fn finish(&mut self, tell: &mut dyn FnMut(&str)) {
        if !self.line.is_empty() {
            self.end(tell);
        }
    }

    fn add(&mut self, bytes: &[u8]) {
        if bytes.is_empty() {
            return;
        }
        if std::mem::take(&mut self.is_returned) {
            self.line.clear();
        }
        let room = LONGEST_LINE.saturating_sub(self.line.len());
        self.line.extend_from_slice(&bytes[..room.min(bytes.len())]);
    }

    fn end(&mut self, tell: &mut dyn FnMut(&str)) {
        self.is_returned = false;
        let text = String::from_utf8_lossy(&self.line);
        match text.chars().any(|c| c.is_control() && c != '\t') {
            true => tell(&text.chars().filter(|c| !c.is_control() || *c == '\t').collect::<String>()),
            false => tell(&text),
        }
        self.line.clear();
    }

    fn step(&mut self, byte: u8) {
        self.inside = match (self.inside, byte) {
            (Inside::Escape, b'[') | (Inside::Control, 0x20..=0x3f) => Inside::Control,
            // What is between an escape and its last byte (ECMA-35 13.2).
            (Inside::Escape, 0x20..=0x2f) => Inside::Escape,
            (Inside::String | Inside::StringEscape, 0x07) | (Inside::StringEscape, b'\\') => Inside::Text,
            (Inside::String | Inside::StringEscape, b'\x1b') => Inside::StringEscape,
            (Inside::Escape, b']' | b'P' | b'X' | b'^' | b'_') | (Inside::String | Inside::StringEscape, _) => {
                Inside::String
            }
            _ => Inside::Text,
        };
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn lines(pieces: &[&[u8]]) -> Vec<String> {
        let mut plain = Plain::default();
        let mut found = Vec::new();
        for piece in pieces {
            plain.take(piece, &mut |line| found.push(line.to_owned()));
        }
        plain.finish(&mut |line| found.push(line.to_owned()));
        found
    }

    #[test]
    fn sequences_are_left_out_wherever_the_pieces_end() {
        let output = "\x1b[31mred\x1b[0m one\r\n\x1b]0;title\x07two\x1b(B\n\x1bP1$r\x1b\\three\nlast\x08".as_bytes();
        let expected = ["red one", "two", "three", "last"];
        assert_eq!(lines(&[output]), expected);
        for at in 0..output.len() {
            assert_eq!(lines(&[&output[..at], &output[at..]]), expected, "{at}");
        }
        let bytes: Vec<&[u8]> = output.chunks(1).collect();
        assert_eq!(lines(&bytes), expected);
    }

    #[test]
    fn what_is_drawn_over_is_not_told_and_long_lines_are_cut() {
        assert_eq!(lines(&[b"10 %\r50 %\r100 %\ndone\r\n"]), ["100 %", "done"]);
        let long = vec![b'x'; 3 * LONGEST_LINE];
        assert_eq!(lines(&[&long])[0].len(), LONGEST_LINE);
        assert_eq!(lines(&[b"\xff\xfe\0a\n"]), ["\u{fffd}\u{fffd}a"]);
    }
}
