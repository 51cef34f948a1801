//! What a drawing consists of.

use std::ops::{Add, Mul, Sub};

/// A length in millimetres.
#[derive(Clone, Copy, Debug, Default, PartialEq, PartialOrd)]
pub struct Mm(pub f32);

/// Points in a millimetre: a point is 1/72 of an inch.
const POINTS: f32 = 72.0 / 25.4;

impl Mm {
    /// So many points.
    #[must_use]
    pub fn points(points: f32) -> Mm {
        Mm(points / POINTS)
    }

    /// This length in points.
    #[must_use]
    pub fn in_points(self) -> f32 {
        self.0 * POINTS
    }
}

impl Add for Mm {
    type Output = Mm;
    fn add(self, other: Mm) -> Mm {
        Mm(self.0 + other.0)
    }
}

impl Sub for Mm {
    type Output = Mm;
    fn sub(self, other: Mm) -> Mm {
        Mm(self.0 - other.0)
    }
}

impl Mul<f32> for Mm {
    type Output = Mm;
    fn mul(self, times: f32) -> Mm {
        Mm(self.0 * times)
    }
}

/// A colour: red, green and blue, each from 0 to 255.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Ink(pub [u8; 3]);

impl Ink {
    /// A grey: 0 is black, 255 white.
    #[must_use]
    pub const fn grey(level: u8) -> Ink {
        Ink([level, level, level])
    }

    /// The grey that is as light (ITU-R BT.601, in whole numbers).
    #[must_use]
    pub fn in_grey(self) -> Ink {
        let [red, green, blue] = self.0.map(u32::from);
        Ink::grey(((red * 299 + green * 587 + blue * 114) / 1000) as u8)
    }
}

/// Which letters.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Face {
    /// Ordinary.
    Regular,
    /// Bold.
    Bold,
    /// All of one width: for source code.
    Mono,
    /// The same, bold.
    MonoBold,
}

impl Face {
    /// All faces.
    pub const ALL: [Face; 4] = [Face::Regular, Face::Bold, Face::Mono, Face::MonoBold];
}

/// Which part of a text is at its place.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Align {
    /// Its start.
    Start,
    /// Its end.
    End,
}

/// Something on the sheet.
#[derive(Clone, Debug, PartialEq)]
pub enum Item {
    /// A box.
    Box {
        /// Its upper left corner.
        at: [Mm; 2],
        /// Its width and height.
        size: [Mm; 2],
        /// What it is filled with.
        fill: Ink,
        /// Its edge and how wide that is.
        edge: (Ink, Mm),
    },
    /// A line.
    Line {
        /// Where it begins.
        from: [Mm; 2],
        /// Where it ends.
        to: [Mm; 2],
        /// Its colour and its width.
        stroke: (Ink, Mm),
    },
    /// A surface with corners, without an edge.
    Shape {
        /// Its corners, in order.
        corners: Vec<[Mm; 2]>,
        /// What it is filled with.
        fill: Ink,
    },
    /// A text on one line.
    Text {
        /// Where its baseline begins or ends.
        at: [Mm; 2],
        /// The text.
        text: String,
        /// The size of its letters.
        size: Mm,
        /// Which letters.
        face: Face,
        /// Their colour.
        ink: Ink,
        /// Which part is at `at`.
        align: Align,
    },
}

impl Item {
    /// A text of so many points that begins at the start of its baseline.
    #[must_use]
    pub fn text(at: [Mm; 2], text: impl Into<String>, (points, face): (f32, Face), ink: Ink) -> Item {
        Item::Text { at, text: text.into(), size: Mm::points(points), face, ink, align: Align::Start }
    }

    /// A text of so many points that ends at the end of its baseline.
    #[must_use]
    pub fn text_end(at: [Mm; 2], text: impl Into<String>, (points, face): (f32, Face), ink: Ink) -> Item {
        Item::Text { at, text: text.into(), size: Mm::points(points), face, ink, align: Align::End }
    }
}

/// A sheet with what is drawn on it.
#[derive(Clone, Debug, PartialEq)]
pub struct Drawing {
    /// What it is called.
    pub title: String,
    /// Its width and height.
    pub size: [Mm; 2],
    /// What is on it, the lowest first.
    pub items: Vec<Item>,
}
