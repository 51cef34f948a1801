//! The key sheet: the keyboard with what its keys do, and below it the keys beside the rows.

use crate::Paper;
use crate::drawing::{Align, Drawing, Face, Ink, Item, Mm};
use crate::font::{fitting, width};

/// What is on one key.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Key {
    /// What it types by itself.
    pub plain: String,
    /// What it types with Shift.
    pub shifted: String,
    /// What it does by itself.
    pub does: Option<Does>,
    /// What it does with Shift.
    pub does_shifted: Option<Does>,
    /// Whether it belongs to the deck.
    pub is_deck: bool,
}

/// What a key does.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Does {
    /// In a few words.
    pub label: String,
    /// Whether the person has bound it.
    pub is_own: bool,
}

/// A key beside the rows, as it is spelled, with what it does.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Other {
    /// The key.
    pub key: String,
    /// What it does.
    pub does: Does,
}

/// A group of keys beside the rows.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Group {
    /// What they are about.
    pub name: String,
    /// The keys.
    pub keys: Vec<Other>,
}

/// Everything that a key sheet shows.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct KeySheet {
    /// The name of the keyboard.
    pub keyboard: String,
    /// The rows of keys: digits, upper, home, lower.
    pub rows: Vec<Vec<Key>>,
    /// Keys beside the rows.
    pub groups: Vec<Group>,
}

const MARGIN: Mm = Mm(9.0);

/// How high a row of letters is, and that of the digits, whose keys do less.
const ROW: Mm = Mm(25.5);
const DIGITS: Mm = Mm(20.5);

const BLACK: Ink = Ink::grey(0);
const DARK: Ink = Ink::grey(70);
const EDGE: Ink = Ink::grey(120);
const WHITE: Ink = Ink::grey(255);
const TINT: Ink = Ink::grey(236);

/// How far to the right each row begins, in keys.
const STAGGER: [f32; 4] = [0.0, 1.5, 1.75, 2.25];

/// How many keys wide the keyboard is.
const KEYS_WIDE: f32 = 14.5;

/// The sizes of what a key does by itself and with Shift: 8.2 and 7.5 points.
const LABEL: Mm = Mm(2.893);
const LABEL_SHIFTED: Mm = Mm(2.646);

/// What each row of the deck is about.
const ABOUT: [(&str, &str); 3] = [("▲", "up, back"), ("▼", "down, on"), ("●", "right here")];

/// Where the right hand begins.
const RIGHT_HAND: usize = 5;

impl KeySheet {
    /// The sheet on `paper`.
    #[must_use]
    pub fn drawing(&self, paper: Paper) -> Drawing {
        let [sheet, height] = paper.size();
        let mut items = Vec::new();
        let top = self.heading(sheet, &mut items);
        let pitch = (sheet - MARGIN * 2.0) * (1.0 / KEYS_WIDE);
        let row_height = ROW;
        for (index, row) in self.rows.iter().enumerate() {
            let is_first = index == 0;
            let y = if is_first { top } else { top + DIGITS + row_height * (index - 1) as f32 };
            let size = [pitch - Mm(1.2), if is_first { DIGITS - Mm(1.2) } else { row_height - Mm(1.2) }];
            let stagger = STAGGER.get(index).copied().unwrap_or(0.0);
            if let Some((sign, about)) = index.checked_sub(1).and_then(|index| ABOUT.get(index)) {
                items.push(Item::text([MARGIN, y + Mm(9.0)], *sign, (15.0, Face::Bold), BLACK));
                items.push(Item::text([MARGIN, y + Mm(14.5)], *about, (8.5, Face::Regular), DARK));
            }
            for (column, key) in row.iter().enumerate() {
                let x = MARGIN + pitch * (stagger + column as f32);
                key.draw([x, y], size, &mut items);
                if index > 0 && column == RIGHT_HAND {
                    let x = x - Mm(0.6);
                    items.push(line([x, y], [x, y + size[1]], Mm(0.6)));
                }
            }
        }
        let below = top + DIGITS + row_height * 3.0 + Mm(3.0);
        self.others([MARGIN, below], [sheet - MARGIN * 2.0, height - MARGIN - below], &mut items);
        Drawing { title: "Snarvel: the keys".to_owned(), size: [sheet, height], items }
    }

    /// The title and how to read the sheet; gives where the keyboard begins.
    fn heading(&self, sheet: Mm, items: &mut Vec<Item>) -> Mm {
        let base = MARGIN + Mm(5.5);
        items.push(Item::text([MARGIN, base], "Snarvel", (17.0, Face::Bold), BLACK));
        let after = MARGIN + width("Snarvel", Mm::points(17.0), Face::Bold) + Mm(5.0);
        let how = "Write: Alt with the key.   Shape (Ctrl+Space): the key alone.   Lower words on a key: with Shift.";
        items.push(Item::text([after, base], how, (9.0, Face::Regular), BLACK));
        let mut told = self.keyboard.clone();
        if self.has_own() {
            told += ", • your own";
        }
        items.push(Item::text_end([sheet - MARGIN, base], told, (8.0, Face::Regular), DARK));
        base + Mm(4.5)
    }

    fn has_own(&self) -> bool {
        let keys = self.rows.iter().flatten().flat_map(|key| [&key.does, &key.does_shifted]).flatten();
        keys.chain(self.groups.iter().flat_map(|group| &group.keys).map(|other| &other.does)).any(|does| does.is_own)
    }

    /// The keys beside the rows, in columns.
    fn others(&self, [x, y]: [Mm; 2], [room, height]: [Mm; 2], items: &mut Vec<Item>) {
        const COLUMNS: usize = 6;
        let rows: usize = self.groups.iter().map(|group| group.keys.len() + 1).sum();
        let each = rows.div_ceil(COLUMNS).max(1) + 1;
        let pitch = Mm((height.0 / each as f32).min(4.9));
        let column_width = room * (1.0 / COLUMNS as f32);
        let size = Mm::points((pitch.in_points() * 0.66).min(8.0));
        let (mut column, mut row) = (0, 0);
        for group in &self.groups {
            // A heading is not left alone at the foot of a column.
            if row > 0 && row + 3 > each {
                (column, row) = (column + 1, 0);
            }
            let mut put = |is_heading: bool, key: &str, does: &str| {
                if row >= each {
                    (column, row) = (column + 1, 0);
                }
                let at = [x + column_width * column as f32, y + pitch * (row as f32 + 0.8)];
                row += 1;
                let face = if is_heading { Face::Regular } else { Face::Bold };
                let ink = if is_heading { DARK } else { BLACK };
                items.push(Item::Text { at, text: key.to_owned(), size, face, ink, align: Align::Start });
                if is_heading {
                    let under = at[1] + Mm(0.8);
                    items.push(line([at[0], under], [at[0] + column_width - Mm(3.0), under], Mm(0.15)));
                    return;
                }
                let key_width = width(key, size, Face::Bold) + Mm(1.5);
                let start = at[0] + Mm(key_width.0.max(column_width.0 * 0.46));
                let left = column_width - (start - at[0]) - Mm(1.5);
                if let Some(label) = fitting(does, left, size, Face::Regular).first() {
                    let text = format!("{label}…");
                    let whole = if width(does, size, Face::Regular) <= left { does.to_owned() } else { text };
                    items.push(Item::Text {
                        at: [start, at[1]],
                        text: whole,
                        size,
                        face: Face::Regular,
                        ink: BLACK,
                        align: Align::Start,
                    });
                }
            };
            put(true, &group.name, "");
            for other in &group.keys {
                put(false, &other.key, &marked(&other.does));
            }
        }
    }
}

impl Key {
    fn draw(&self, at: [Mm; 2], size: [Mm; 2], items: &mut Vec<Item>) {
        let fill = if self.is_deck { TINT } else { WHITE };
        items.push(Item::Box { at, size, fill, edge: (EDGE, Mm(0.2)) });
        let inner = at[0] + Mm(1.3);
        let room = size[0] - Mm(2.0);
        items.push(Item::text([inner, at[1] + Mm(5.2)], &self.plain, (12.5, Face::Bold), BLACK));
        if self.shifted.to_lowercase() != self.plain && !self.shifted.is_empty() {
            let corner = [at[0] + size[0] - Mm(1.3), at[1] + Mm(5.0)];
            items.push(Item::text_end(corner, self.shifted.clone(), (10.5, Face::Regular), DARK));
        }
        let mut y = at[1] + Mm(9.4);
        if let Some(does) = &self.does {
            let label = marked(does);
            let size = size_for(&label, room, LABEL, Face::Bold);
            for label in fitting(&label, room, size, Face::Bold).iter().take(2) {
                items.push(Item::text([inner, y], label, (size.in_points(), Face::Bold), BLACK));
                y = y + Mm(3.3);
            }
        }
        if let Some(does) = &self.does_shifted {
            let label = marked(does);
            let label_size = size_for(&label, room, LABEL_SHIFTED, Face::Regular);
            let lines = fitting(&label, room, label_size, Face::Regular);
            let lines: Vec<&String> = lines.iter().take(2).collect();
            let mut y = at[1] + size[1] - Mm(1.5) - Mm(3.1) * (lines.len().saturating_sub(1)) as f32;
            for label in lines {
                items.push(Item::text([inner, y], label, (label_size.in_points(), Face::Regular), BLACK));
                y = y + Mm(3.1);
            }
        }
    }
}

/// The size at which the longest word of `label` fits: `usual`, or down to three quarters of it.
fn size_for(label: &str, room: Mm, usual: Mm, face: Face) -> Mm {
    let widest = label.split_whitespace().map(|word| width(word, usual, face).0).fold(0.0, f32::max);
    let share = if widest > room.0 { room.0 / widest } else { 1.0 };
    usual * share.max(0.75)
}

fn marked(does: &Does) -> String {
    if does.is_own { format!("•{}", does.label) } else { does.label.clone() }
}

fn line(from: [Mm; 2], to: [Mm; 2], width: Mm) -> Item {
    Item::Line { from, to, stroke: (DARK, width) }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::outside;
    use crate::{pdf, svg};

    fn sheet() -> KeySheet {
        let does = |label: &str, is_own| Some(Does { label: label.to_owned(), is_own });
        let key = |plain: &str, shifted: &str| Key {
            plain: plain.to_owned(),
            shifted: shifted.to_owned(),
            does: does("carry a very long label down", false),
            does_shifted: does("own <text> & more", true),
            is_deck: true,
        };
        let row = || (0..13).map(|_| key("a", "A")).collect();
        let other =
            |index: usize| Other { key: format!("Ctrl+{index}"), does: does("something long to do", false).unwrap() };
        let group = |name: &str| Group { name: name.to_owned(), keys: (0..40).map(other).collect() };
        KeySheet {
            keyboard: "qwerty".to_owned(),
            rows: vec![row(), row(), row()],
            groups: vec![group("moves"), group("files")],
        }
    }

    #[test]
    fn nothing_stands_outside_the_paper_or_its_key() {
        for paper in [Paper::A4, Paper::Letter] {
            assert_eq!(outside(&sheet().drawing(paper)), None);
        }
    }

    #[test]
    fn text_stays_text_in_both_forms() {
        let drawing = sheet().drawing(Paper::A4);
        let svg = svg(&drawing);
        assert!(svg.contains("carry a") && svg.contains("&lt;text&gt;") && !svg.contains("<path"));
        let pdf = pdf(&drawing).unwrap();
        assert!(pdf.starts_with(b"%PDF-"));
        // An embedded font, with a map from its letters back to characters.
        let holds = |word: &[u8]| pdf.windows(word.len()).any(|window| window == word);
        assert!(holds(b"/Font") && holds(b"/ToUnicode"));
    }
}
