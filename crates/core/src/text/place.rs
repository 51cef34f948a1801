//! Places as people name them: `123`, `123:7`, `+20`, `-5`, `50%`. The only reader of such places: keys, scripts, the command
//! line and panels all ask it.
//!
//! Lines and columns count from 1; a column counts clusters. Cost of finding one: O(log n), and the clusters before the column.

use super::Text;
use crate::units::{Byte, Line};

/// A line and a column as people count them, both from 1.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct LineColumn {
    /// The line.
    pub line: usize,
    /// The cluster in it.
    pub column: usize,
}

impl LineColumn {
    /// Reads `LINE:COLUMN` or `LINE`, which is its first column.
    #[must_use]
    pub fn parse(text: &str) -> Option<LineColumn> {
        let (line, column) = text.split_once(':').unwrap_or((text, "1"));
        let number = |text: &str| text.trim().parse::<usize>().ok().filter(|number| *number > 0);
        Some(LineColumn { line: number(line)?, column: number(column)? })
    }
}

/// A place in a text.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Place {
    /// A line and a column.
    At(LineColumn),
    /// So many lines on from the line of the primary cursor, or back where negative.
    Lines(i64),
    /// So many hundredths of the lines of the text, from 0 to 100.
    Percent(usize),
    /// A byte of the text, as a click gives it.
    Byte(Byte),
}

impl Place {
    /// Reads `123`, `123:7`, `+20`, `-5` or `50%`.
    #[must_use]
    pub fn parse(text: &str) -> Option<Place> {
        let text = text.trim();
        if let Some(share) = text.strip_suffix('%') {
            return share.parse().ok().filter(|share| *share <= 100).map(Place::Percent);
        }
        if let Some(lines) = text.strip_prefix('+') {
            return lines.parse::<u32>().ok().map(|lines| Place::Lines(i64::from(lines)));
        }
        if let Some(lines) = text.strip_prefix('-') {
            return lines.parse::<u32>().ok().map(|lines| Place::Lines(-i64::from(lines)));
        }
        LineColumn::parse(text).map(Place::At)
    }
}

/// A name and the place after it: of `tides.rs:12:7` or `tides.rs:12` both, of anything else the whole as a name.
#[must_use]
pub fn name_and_place(text: &str) -> (&str, Option<Place>) {
    let number = |text: &str| !text.is_empty() && text.bytes().all(|byte| byte.is_ascii_digit());
    let Some((before, last)) = text.rsplit_once(':').filter(|(_, last)| number(last)) else { return (text, None) };
    let (name, place) = match before.rsplit_once(':').filter(|(name, line)| !name.is_empty() && number(line)) {
        Some((name, _)) => (name, &text[name.len() + 1..]),
        None => (before, last),
    };
    LineColumn::parse(place).filter(|_| !name.is_empty()).map_or((text, None), |place| (name, Some(Place::At(place))))
}

impl std::fmt::Display for Place {
    /// As it is read; a byte as its number.
    fn fmt(&self, out: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match self {
            Place::At(LineColumn { line, column }) => write!(out, "{line}:{column}"),
            Place::Lines(lines) => write!(out, "{lines:+}"),
            Place::Percent(share) => write!(out, "{share}%"),
            Place::Byte(at) => write!(out, "byte {}", at.0),
        }
    }
}

impl Text {
    /// The line of `place`, counted from `here` where that is relative; past the end is the last line.
    #[must_use]
    pub fn line_of_place(&self, place: Place, here: Line) -> Line {
        let last = self.last_line();
        let line = match place {
            Place::At(LineColumn { line, .. }) => Line(line.saturating_sub(1)),
            Place::Lines(lines) => Line(here.0.saturating_add_signed(lines as isize)),
            Place::Percent(share) => Line(last.0 * share.min(100) / 100),
            Place::Byte(at) => self.line_of(at.min(self.end())),
        };
        line.min(last)
    }

    /// The byte of `place`; a column past the end of its line is that end.
    #[must_use]
    pub fn byte_of_place(&self, place: Place, here: Line) -> Byte {
        let column = match place {
            Place::Byte(at) => return self.snap_back(at.min(self.end())),
            Place::At(LineColumn { column, .. }) => column,
            Place::Lines(_) | Place::Percent(_) => 1,
        };
        let line = self.line_of_place(place, here);
        let end = self.content_span(line).end;
        let mut at = self.line_start(line);
        for _ in 1..column {
            if at >= end {
                break;
            }
            at = self.next_boundary(at);
        }
        at
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_name_may_be_followed_by_a_place() {
        let at = |line, column| Some(Place::At(LineColumn { line, column }));
        assert_eq!(name_and_place("tides.rs:12:7"), ("tides.rs", at(12, 7)));
        assert_eq!(name_and_place("tides.rs:12"), ("tides.rs", at(12, 1)));
        for name in ["tides.rs", "tides.rs:", "tides:a:", ":12", "tides.rs:0"] {
            assert_eq!(name_and_place(name), (name, None));
        }
    }

    #[test]
    fn places_are_read_and_found() {
        let text = Text::from("ebb\nflow\r\nslack\n\ntide");
        let found = |typed: &str| Place::parse(typed).map(|place| text.byte_of_place(place, Line(2)).0);
        for (typed, at) in [
            ("1", Some(0)),
            ("2:3", Some(6)),
            ("2:99", Some(8)),
            ("99", Some(17)),
            ("+1", Some(16)),
            ("+99", Some(17)),
            ("-1", Some(4)),
            ("-99", Some(0)),
            ("0%", Some(0)),
            ("50%", Some(10)),
            ("100%", Some(17)),
            (" 3 ", Some(10)),
            ("0", None),
            ("1:0", None),
            ("101%", None),
            ("", None),
            ("x", None),
            ("+-1", None),
        ] {
            assert_eq!(found(typed), at, "{typed:?}");
        }
        assert_eq!(text.byte_of_place(Place::Byte(Byte(999)), Line(0)), text.end());
    }
}
