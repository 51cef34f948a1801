//! Display cells: how wide a cluster is, and what is at a display column.
//!
//! East Asian wide characters (Unicode UAX #11), flags and joined emoji take 2 cells, a base with its marks
//! as many as the base, a mark without a base 1. A tab reaches to the next stop. What a terminal must not
//! receive or a person could not see is drawn as a *chip*, and is as wide as its chip. Cost: O(line).

use super::raw;
use crate::units::{Byte, Cell};
use unicode_segmentation::UnicodeSegmentation;
use unicode_width::{UnicodeWidthChar, UnicodeWidthStr};

/// The distance between tab stops, in cells; at least 1.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct TabWidth(pub u32);

impl TabWidth {
    /// The first stop after `cell`.
    #[must_use]
    pub fn next_stop(self, cell: Cell) -> Cell {
        let width = self.0.max(1);
        Cell((cell.0 / width + 1) * width)
    }
}

/// What is drawn in place of `cluster` where the cluster itself must not reach a terminal: controls, bytes
/// that are no UTF-8, characters that are invisible or turn the direction of writing.
#[must_use]
pub fn chip(cluster: &str) -> Option<String> {
    if let [b' '..=b'~'] = cluster.as_bytes() {
        return None;
    }
    let first = cluster.chars().next()?;
    let code = u32::from(first);
    if let Some(byte) = raw::byte_of(first) {
        return Some(format!("‹{byte:02X}›"));
    }
    match code {
        0x00..=0x1F => char::from_u32(0x2400 + code).map(String::from),
        0x7F => Some("␡".to_owned()),
        _ if is_invisible(code) || is_selector(code) => Some(format!("‹U+{code:X}›")),
        _ => match hidden_after(first, cluster) {
            0 if cluster.width() == 0 => Some(format!("◌{cluster}")),
            0 => None,
            hidden => Some(format!("{first}‹+{hidden}›")),
        },
    }
}

/// Marks on one character that are drawn: as many as text has that is safe to pass on (Unicode UAX #15, 13, Stream-Safe Text
/// Format).
const MOST_MARKS: usize = 30;

/// How many characters of `cluster`, which begins with `first`, could carry something unseen: tags that are of no flag, variation
/// selectors that select nothing, and more marks than any writing has.
fn hidden_after(first: char, cluster: &str) -> usize {
    let rest = &cluster[first.len_utf8()..];
    let (mut unseen, mut count, mut before) = (0, 0, u32::from(first));
    for code in rest.chars().map(u32::from) {
        count += 1;
        // A keycap is a digit, the selector of emoji, and U+20E3.
        let selects_nothing = is_selector(before) || u8::try_from(before).is_ok_and(|byte| byte.is_ascii_alphabetic());
        unseen += usize::from((is_tag(code) && first != FLAG) || (is_selector(code) && selects_nothing));
        before = code;
    }
    if unseen > 0 || count > MOST_MARKS { count } else { 0 }
}

/// The flag that tags make the flag of a part of a country (Unicode UTS #51, 2.6).
const FLAG: char = '\u{1F3F4}';

fn is_tag(code: u32) -> bool {
    matches!(code, 0xE0000..=0xE007F)
}

fn is_selector(code: u32) -> bool {
    matches!(code, 0xFE00..=0xFE0F | 0xE0100..=0xE01EF | 0x180B..=0x180D)
}

/// Characters of the general categories Cc and Cf that are alone, the line separators, and those that take room and show nothing:
/// the fillers of Hangul and the empty pattern of Braille.
fn is_invisible(code: u32) -> bool {
    matches!(code,
        0x80..=0x9F | 0xAD | 0x61C | 0x180E | 0x200B..=0x200F | 0x2028..=0x202E | 0x2060..=0x206F
        | 0xFEFF | 0xFFF9..=0xFFFB | 0x1D173..=0x1D17A | 0xE0000..=0xE0FFF
        | 0x034F | 0x115F | 0x1160 | 0x2800 | 0x3164 | 0xFFA0)
}

/// Whether `character` does not show, or turns the order of others, wherever it is: not what joins emoji or letters, nor tags and
/// selectors, which belong to what is before them.
fn is_hidden_alone(character: char) -> bool {
    let code = u32::from(character);
    is_invisible(code) && !is_tag(code) && !is_selector(code) && !matches!(character, '\u{200C}' | '\u{200D}')
}

/// Whether `content` holds something that does not show, turns the order of others, or could carry something unseen: what is read
/// there may not be what is meant (Unicode Technical Report 36).
#[must_use]
pub fn hides_something(content: &str) -> bool {
    let hides = |cluster: &str| {
        let Some(first) = cluster.chars().next() else { return false };
        let is_baseless = is_tag(u32::from(first)) || is_selector(u32::from(first));
        is_baseless || cluster.chars().any(is_hidden_alone) || hidden_after(first, cluster) > 0
    };
    !content.is_ascii() && content.graphemes(true).any(|cluster| !cluster.is_ascii() && hides(cluster))
}

/// How many cells `cluster` takes when it begins at `from`. A line end takes none.
#[must_use]
pub fn cluster_cells(cluster: &str, from: Cell, tabs: TabWidth) -> u32 {
    match cluster.as_bytes() {
        [b' '..=b'~'] => 1,
        [b'\t'] => tabs.next_stop(from).0 - from.0,
        [b'\n'] | [b'\r', b'\n'] => 0,
        _ => chip_cells(cluster).unwrap_or_else(|| cluster.width()) as u32,
    }
}

/// How many cells [`chip`] takes, which is not made for that.
fn chip_cells(cluster: &str) -> Option<usize> {
    let first = cluster.chars().next()?;
    let code = u32::from(first);
    if raw::byte_of(first).is_some() {
        return Some(4);
    }
    match code {
        0x00..=0x1F | 0x7F => Some(1),
        // The brackets, "U+" and the digits.
        _ if is_invisible(code) || is_selector(code) => Some(4 + code.ilog2() as usize / 4 + 1),
        _ => match hidden_after(first, cluster) {
            0 => (cluster.width() == 0).then_some(1),
            hidden => Some(first.width().unwrap_or(0) + 4 + hidden.ilog10() as usize),
        },
    }
}

/// A place on a line and the display column it is in.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct CellPlace {
    /// Where.
    pub at: Byte,
    /// Its column.
    pub cell: Cell,
}

/// Each cluster of a line: where it begins, in which column, and its characters.
pub fn places(content: &str, start: Byte, tabs: TabWidth) -> impl Iterator<Item = (CellPlace, &str)> {
    places_from(content, CellPlace { at: start, cell: Cell(0) }, tabs)
}

/// The same for the part of a line that begins with `first`.
pub fn places_from(content: &str, first: CellPlace, tabs: TabWidth) -> impl Iterator<Item = (CellPlace, &str)> {
    let (start, mut cell, mut offset) = (first.at, first.cell, 0);
    std::iter::from_fn(move || {
        let cluster = first_cluster(&content[offset..])?;
        let place = CellPlace { at: start + offset, cell };
        offset += cluster.len();
        cell = cell + cluster_cells(cluster, cell, tabs);
        Some((place, cluster))
    })
}

/// The cluster at the start of `rest`, which begins with one. Most often it is a character that nothing can join.
fn first_cluster(rest: &str) -> Option<&str> {
    match rest.as_bytes() {
        [b' '..=b'~' | b'\t'] | [b' '..=b'~' | b'\t', 0..=0x7F, ..] => Some(&rest[..1]),
        _ => rest.graphemes(true).next(),
    }
}

/// The display width of `content`, which begins at column 0.
#[must_use]
pub fn width(content: &str, tabs: TabWidth) -> Cell {
    if is_plain(content) {
        return Cell(content.len() as u32);
    }
    places(content, Byte(0), tabs)
        .last()
        .map_or(Cell(0), |(place, cluster)| place.cell + cluster_cells(cluster, place.cell, tabs))
}

fn is_plain(content: &str) -> bool {
    are_plain(content.as_bytes())
}

pub(super) fn are_plain(bytes: &[u8]) -> bool {
    bytes.iter().all(|byte| matches!(byte, b' '..=b'~'))
}

#[cfg(test)]
mod tests {
    use super::*;

    const TABS: TabWidth = TabWidth(4);

    proptest::proptest! {
        #[test]
        fn a_chip_takes_the_cells_that_it_is_wide(
            first in proptest::char::any(),
            rest in "[\u{301}\u{fe0f}\u{200d}\u{e0041}\u{202e}👩漢]{0,40}",
            many in 0usize..200,
        ) {
            let text = format!("{first}{rest}\u{301}{}", "\u{302}".repeat(many));
            for cluster in text.graphemes(true) {
                proptest::prop_assert_eq!(chip_cells(cluster), chip(cluster).map(|chip| chip.width()), "{:?}", cluster);
            }
        }
    }

    #[test]
    fn widths_of_single_clusters() {
        let rows: &[(&str, u32)] = &[
            ("a", 1),
            ("漢", 2),
            ("e\u{301}", 1),
            ("\u{301}", 1),
            ("🇳🇴", 2),
            ("👩‍👩‍👧", 2),
            ("👍🏽", 2),
            ("❤\u{fe0f}", 2),
            ("\u{1b}", 1),
            ("\u{7f}", 1),
            ("\u{202e}", 8),
            ("\u{f7ff}", 4),
            ("\r\n", 0),
        ];
        for &(cluster, cells) in rows {
            assert_eq!(cluster_cells(cluster, Cell(0), TABS), cells, "{cluster:?}");
        }
    }

    #[test]
    fn clusters_one_by_one_are_those_of_the_whole() {
        let parts =
            ["a", "e\u{301}", "\t", "\r\n", "\r", "\u{301}", "🇳🇴", "🇳", "👩‍👩‍👧", "\u{200d}", "क्ष", "한", "\u{600}1"];
        for seed in 0..2_000_usize {
            let content: String =
                (0..8).map(|step| parts[(seed * 31 + step * step * 17 + seed / 7) % parts.len()]).collect();
            let whole: Vec<&str> = content.graphemes(true).collect();
            let found: Vec<&str> = places(&content, Byte(0), TABS).map(|(_, cluster)| cluster).collect();
            assert_eq!(found, whole, "{content:?}");
        }
    }

    #[test]
    fn what_could_hide_text_is_a_chip() {
        let marks = |count: usize| format!("e{}", "\u{301}".repeat(count));
        let rows = [
            ("a\u{E0041}\u{E0042}".to_owned(), Some("a‹+2›")),
            ("a\u{FE0F}".to_owned(), Some("a‹+1›")),
            ("漢\u{E0100}".to_owned(), None),
            ("漢\u{E0100}\u{E0101}".to_owned(), Some("漢‹+2›")),
            ("\u{FE0F}".to_owned(), Some("‹U+FE0F›")),
            ("1\u{FE0F}\u{20E3}".to_owned(), None),
            ("👁\u{FE0F}\u{200D}🗨\u{FE0F}".to_owned(), None),
            ("🏴\u{E0067}\u{E0062}\u{E0073}\u{E0063}\u{E0074}\u{E007F}".to_owned(), None),
            (marks(30), None),
            (marks(1_000), Some("e‹+1000›")),
            ("\u{2800}".to_owned(), Some("‹U+2800›")),
            ("\u{115F}".to_owned(), Some("‹U+115F›")),
            ("\u{E0041}".to_owned(), Some("‹U+E0041›")),
        ];
        for (cluster, expected) in rows {
            assert_eq!(chip(&cluster).as_deref(), expected, "{cluster:?}");
        }
    }

    #[test]
    fn lines_that_hide_something_are_told_and_no_others() {
        let marks = format!("e{}", "\u{301}".repeat(1_000));
        for content in ["a\u{202E}b", "a\u{E0041}", "v\u{FE0F}", "x \u{2800}", "x\u{200B}y", "\u{E0041}", &marks] {
            assert!(hides_something(content), "{content:?}");
        }
        let flag = "🏴\u{E0067}\u{E0062}\u{E0073}\u{E0063}\u{E0074}\u{E007F}";
        for content in ["plain", "é 漢字 e\u{301}", "❤\u{FE0F} 1\u{FE0F}\u{20E3}", "👩\u{200D}👧", flag, "漢\u{E0100}"]
        {
            assert!(!hides_something(content), "{content:?}");
        }
    }

    #[test]
    fn no_control_character_is_drawn_as_itself() {
        for code in (0..0x20).chain(0x7f..0xa0).chain([0x202e, 0x2066, 0xfeff, 0x2028]) {
            let character = char::from_u32(code).unwrap();
            let shown = chip(&character.to_string()).unwrap_or_default();
            assert!(!shown.is_empty() && !shown.contains(character), "U+{code:X}");
        }
    }
}
