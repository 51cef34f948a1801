//! Source code on pages: with line numbers, the name of the file, and which page of how many it is.
//!
//! Rows come laid out: whoever knows the text wraps its lines at [`Listing::cells`] and says what each piece is. Cost: linear in the text.

use crate::Paper;
use crate::drawing::{Align, Drawing, Face, Ink, Item, Mm};
use crate::font::{fitting, has, width};

/// What a piece of a row is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Kind {
    /// Ordinary text.
    Plain,
    /// A reserved word.
    Keyword,
    /// A type.
    Type,
    /// A function.
    Function,
    /// A string.
    String,
    /// A number.
    Number,
    /// A comment: quieter than all else.
    Comment,
    /// A stand-in for what cannot be shown, or for what is folded away.
    Chip,
}

/// A piece of a row, of one kind.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Run {
    /// The cell at which it begins.
    pub cell: u32,
    /// Its text.
    pub text: String,
    /// What it is.
    pub kind: Kind,
}

/// A row.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct ListedRow {
    /// The number of its line; none where it goes on with the one before.
    pub number: Option<usize>,
    /// What is on it.
    pub runs: Vec<Run>,
}

/// A file with its rows.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct ListedFile {
    /// Its name.
    pub name: String,
    /// Its rows.
    pub rows: Vec<ListedRow>,
}

/// How a page is laid out.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Layout {
    /// One column, the paper standing on its short side.
    #[default]
    One,
    /// Two columns, the paper lying on its long side.
    Two,
}

/// What it is drawn with.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Inks {
    /// Colours for paper.
    #[default]
    Colours,
    /// Greys.
    Greys,
}

/// Source code on pages.
#[derive(Clone, Debug, Default)]
pub struct Listing {
    /// The files: each begins a page.
    pub files: Vec<ListedFile>,
    /// What it is printed on.
    pub paper: Paper,
    /// How many columns a page has.
    pub layout: Layout,
    /// What it is drawn with.
    pub inks: Inks,
}

const MARGIN: Mm = Mm(13.0);

/// Room for the head of a page, and between two columns.
const HEAD: Mm = Mm(9.0);
const BETWEEN: Mm = Mm(8.0);

/// Cells of a line number and of the gap after it.
const NUMBER_CELLS: u32 = 6;

const BLACK: Ink = Ink::grey(0);
const QUIET: Ink = Ink::grey(120);
const RULE: Ink = Ink::grey(170);

impl Kind {
    fn look(self, inks: Inks) -> (Ink, Face) {
        let colour = match self {
            Kind::Plain => BLACK,
            Kind::Keyword => Ink([0x8A, 0x35, 0x10]),
            Kind::Type => Ink([0x16, 0x53, 0x7E]),
            Kind::Function => Ink([0x5C, 0x48, 0x00]),
            Kind::String => Ink([0x35, 0x5C, 0x0C]),
            Kind::Number => Ink([0x54, 0x3C, 0x9C]),
            Kind::Comment => Ink([0x74, 0x80, 0x7A]),
            Kind::Chip => Ink([0xA6, 0x3A, 0x66]),
        };
        let face = if self == Kind::Keyword { Face::MonoBold } else { Face::Mono };
        (if inks == Inks::Greys { colour.in_grey() } else { colour }, face)
    }
}

impl Listing {
    fn size(&self) -> [Mm; 2] {
        let [long, short] = self.paper.size();
        if self.layout == Layout::One { [short, long] } else { [long, short] }
    }

    fn columns(&self) -> usize {
        if self.layout == Layout::One { 1 } else { 2 }
    }

    fn letters(&self) -> Mm {
        Mm::points(if self.layout == Layout::One { 8.5 } else { 7.0 })
    }

    fn row_height(&self) -> Mm {
        self.letters() * 1.25
    }

    fn column_width(&self) -> Mm {
        let count = self.columns() as f32;
        (self.size()[0] - MARGIN * 2.0 - BETWEEN * (count - 1.0)) * (1.0 / count)
    }

    /// How many cells a row has, beside its number: lines are wrapped there.
    #[must_use]
    pub fn cells(&self) -> u32 {
        let cell = width("0", self.letters(), Face::Mono);
        ((self.column_width().0 / cell.0) as u32).saturating_sub(NUMBER_CELLS).max(1)
    }

    /// How many rows a column has.
    fn rows(&self) -> usize {
        let room = self.size()[1] - MARGIN * 2.0 - HEAD - self.row_height();
        ((room.0 / self.row_height().0) as usize).max(1)
    }

    /// The pages.
    #[must_use]
    pub fn pages(&self) -> Vec<Drawing> {
        let each = self.rows() * self.columns();
        let count = |file: &ListedFile| file.rows.len().div_ceil(each).max(1);
        let all: usize = self.files.iter().map(count).sum();
        let mut pages = Vec::new();
        for file in &self.files {
            for page in 0..count(file) {
                let rows = file.rows.get(page * each..).unwrap_or_default();
                let number = pages.len() + 1;
                pages.push(self.page(file, &rows[..rows.len().min(each)], (number, all)));
            }
        }
        pages
    }

    fn page(&self, file: &ListedFile, rows: &[ListedRow], (number, all): (usize, usize)) -> Drawing {
        let [paper, height] = self.size();
        let mut items = Vec::new();
        let base = MARGIN + Mm(4.0);
        let of = format!("page {number} of {all}");
        let room = paper - MARGIN * 2.0 - width(&of, Mm::points(9.0), Face::Regular) - Mm(6.0);
        let name = fitting(&file.name, room, Mm::points(10.0), Face::Bold).into_iter().next().unwrap_or_default();
        items.push(Item::text([MARGIN, base], name, (10.0, Face::Bold), BLACK));
        items.push(Item::text_end([paper - MARGIN, base], of, (9.0, Face::Regular), BLACK));
        let under = base + Mm(2.0);
        items.push(Item::Line { from: [MARGIN, under], to: [paper - MARGIN, under], stroke: (RULE, Mm(0.2)) });
        let mut missing = 0;
        for (column, rows) in rows.chunks(self.rows()).enumerate() {
            let x = MARGIN + (self.column_width() + BETWEEN) * column as f32;
            for (y, row) in rows.iter().enumerate() {
                let y = MARGIN + HEAD + self.row_height() * (y as f32 + 0.8);
                missing += self.row(row, [x, y], &mut items);
            }
        }
        if missing > 0 {
            let letters = if missing == 1 { "1 character has" } else { &format!("{missing} characters have") };
            let said = format!("{letters} no letter in the font: drawn as a box, copied as it is");
            let at = [MARGIN, height - MARGIN + Mm(1.0)];
            items.push(Item::text(at, said, (7.0, Face::Regular), QUIET));
        }
        Drawing { title: file.name.clone(), size: [paper, height], items }
    }

    /// Draws a row; gives how many characters of it the font lacks.
    fn row(&self, row: &ListedRow, [x, y]: [Mm; 2], items: &mut Vec<Item>) -> usize {
        let size = self.letters();
        let cell = width("0", size, Face::Mono);
        let put = |at, text: String, (ink, face), align| Item::Text { at, text, size, face, ink, align };
        if let Some(number) = row.number {
            let at = [x + cell * (NUMBER_CELLS as f32 - 2.0), y];
            items.push(put(at, number.to_string(), (QUIET, Face::Mono), Align::End));
        }
        let mut missing = 0;
        for run in row.runs.iter().filter(|run| !run.text.trim().is_empty()) {
            let (ink, face) = run.kind.look(self.inks);
            let blanks = run.text.len() - run.text.trim_start().len();
            let start = run.cell + run.text[..blanks].chars().count() as u32;
            let at = [x + cell * (NUMBER_CELLS + start) as f32, y];
            missing += run.text.chars().filter(|c| !has(*c, face) && !c.is_control() && *c != '\u{FE0F}').count();
            items.push(put(at, run.text.trim().to_owned(), (ink, face), Align::Start));
        }
        missing
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{outside, pdf_pages, svg_pages};

    fn of(rows: usize, layout: Layout) -> Listing {
        let row = |number: usize| ListedRow {
            number: Some(number + 1),
            runs: vec![
                Run { cell: 0, text: "let ebb = ".to_owned(), kind: Kind::Keyword },
                Run { cell: 10, text: format!("\"{number} 潮\";"), kind: Kind::String },
            ],
        };
        let file = ListedFile { name: "tides.rs".to_owned(), rows: (0..rows).map(row).collect() };
        Listing { files: vec![file], layout, ..Listing::default() }
    }

    #[test]
    fn pages_hold_all_rows_inside_the_paper() {
        for (layout, paper) in [
            (Layout::One, Paper::A4),
            (Layout::Two, Paper::A4),
            (Layout::One, Paper::Letter),
            (Layout::Two, Paper::Letter),
        ] {
            let listing = Listing { paper, ..of(500, layout) };
            let pages = listing.pages();
            assert!(listing.cells() >= 75, "{}", listing.cells());
            let numbers: usize = pages
                .iter()
                .flat_map(|page| &page.items)
                .filter(|item| matches!(item, Item::Text { align: Align::End, face: Face::Mono, .. }))
                .count();
            assert_eq!(numbers, 500);
            pages.iter().for_each(|page| assert_eq!(outside(page), None));
            let last = pages.last().unwrap();
            let told = format!("page {} of {}", pages.len(), pages.len());
            assert!(last.items.iter().any(|item| matches!(item, Item::Text { text, .. } if *text == told)));
        }
    }

    #[test]
    fn the_same_bytes_twice_and_what_the_font_lacks_is_said() {
        let pages = of(3, Layout::One).pages();
        assert_eq!(pages.len(), 1);
        let said = "3 characters have no letter in the font: drawn as a box, copied as it is";
        assert!(pages[0].items.iter().any(|item| matches!(item, Item::Text { text, .. } if text == said)));
        assert_eq!(pdf_pages(&pages).unwrap(), pdf_pages(&of(3, Layout::One).pages()).unwrap());
        assert_eq!(svg_pages(&pages), svg_pages(&of(3, Layout::One).pages()));
        let empty =
            Listing { files: vec![ListedFile { name: "empty.rs".to_owned(), rows: Vec::new() }], ..Listing::default() };
        assert_eq!(empty.pages().len(), 1);
    }

    #[test]
    fn greys_are_greys() {
        let listing = Listing { inks: Inks::Greys, ..of(2, Layout::Two) };
        for page in listing.pages() {
            for item in page.items {
                if let Item::Text { ink: Ink([red, green, blue]), .. } = item {
                    assert!(red == green && green == blue);
                }
            }
        }
    }
}
