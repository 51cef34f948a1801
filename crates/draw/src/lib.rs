//! Drawings to keep: sheets as SVG and PDF.
//!
//! A [`Drawing`] is a list of boxes, lines and texts on a sheet of paper, in millimetres from its upper left corner; text is
//! placed by the start of its baseline. [`svg`] and [`pdf`] write the same drawing; in both, text stays text, in the font that
//! is shipped here (`DejaVu Sans`; its licence lies beside it). Colours are greys: every sheet reads in black and white.

mod drawing;
mod font;
pub mod keys;
mod pdf;
mod svg;

pub use drawing::{Align, Drawing, Grey, Item, Mm, Weight};
pub use font::{fitting, width};
pub use pdf::pdf;
pub use svg::svg;

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
