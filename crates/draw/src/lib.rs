//! Drawings to keep: sheets as SVG and PDF.
//!
//! A [`Drawing`] is a list of boxes, lines and texts on a sheet of paper, in millimetres from its upper left corner; text is
//! placed by the start of its baseline. [`svg`] and [`pdf`] write the same drawing; in both, text stays text, in the fonts that
//! are shipped here (`DejaVu Sans` and `DejaVu Sans Mono`; their licence lies beside them). Every sheet reads in black and white: what
//! has colours tells nothing by them alone. The same drawing gives the same bytes.

pub mod chart;
mod drawing;
pub mod edit;
mod font;
mod inside;
pub mod keys;
pub mod ledger;
pub mod listing;
mod pdf;
mod svg;

pub use drawing::{Align, Drawing, Face, Ink, Item, Mm};
pub use font::{fitting, has, width};
pub use inside::outside;
pub use pdf::{pdf, pdf_pages};
pub use svg::{svg, svg_pages};

/// What a sheet is printed on, lying on its long side.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Paper {
    /// 297 × 210 mm (ISO 216).
    #[default]
    A4,
    /// 279.4 × 215.9 mm (ANSI A).
    Letter,
}

impl Paper {
    /// Its width and height.
    #[must_use]
    pub fn size(self) -> [Mm; 2] {
        match self {
            Paper::A4 => [Mm(297.0), Mm(210.0)],
            Paper::Letter => [Mm(279.4), Mm(215.9)],
        }
    }
}

/// What can go wrong with a drawing.
#[derive(Debug, thiserror::Error)]
pub enum DrawError {
    /// The PDF could not be made.
    #[error("the PDF cannot be made: {0}")]
    Pdf(String),
}
