//! Line ends: LF and CR LF. A lone CR, NEL and the Unicode separators are characters like any other.

use super::Text;
use crate::units::{Byte, Line};

/// A line end.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum LineEnd {
    /// One byte, `\n`.
    #[default]
    Lf,
    /// Two bytes, `\r\n`.
    CrLf,
}

/// Bytes of a text whose line ends are counted: a larger one is taken to go on as it begins.
const LOOKED_AT: usize = 64 << 20;

impl LineEnd {
    /// Its characters.
    #[must_use]
    pub fn as_str(self) -> &'static str {
        match self {
            LineEnd::Lf => "\n",
            LineEnd::CrLf => "\r\n",
        }
    }

    /// Its name as the status line shows it.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            LineEnd::Lf => "LF",
            LineEnd::CrLf => "CR LF",
        }
    }

    /// The kind that most lines of `text` end with; a tie goes to the first line's, none is LF.
    ///
    /// Cost: one pass over the text.
    #[must_use]
    pub fn most_frequent(text: &Text) -> LineEnd {
        let (mut lf, mut crlf, mut before) = (0usize, 0usize, b' ');
        for chunk in text.chunks_from(Byte(0)).take_while(|chunk| chunk.start.0 < LOOKED_AT) {
            let bytes = chunk.text.as_bytes();
            for at in memchr::memchr_iter(b'\n', bytes) {
                let previous = if at == 0 { before } else { bytes[at - 1] };
                *(if previous == b'\r' { &mut crlf } else { &mut lf }) += 1;
            }
            before = bytes.last().copied().unwrap_or(before);
        }
        match lf.cmp(&crlf) {
            std::cmp::Ordering::Greater => LineEnd::Lf,
            std::cmp::Ordering::Less => LineEnd::CrLf,
            std::cmp::Ordering::Equal => text.line_end(Line(0)).unwrap_or_default(),
        }
    }

    /// `text` with every line end turned into this kind.
    #[must_use]
    pub fn convert(self, text: &str) -> String {
        let plain = text.replace("\r\n", "\n");
        match self {
            LineEnd::Lf => plain,
            LineEnd::CrLf => plain.replace('\n', "\r\n"),
        }
    }
}
