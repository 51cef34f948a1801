//! The layers of the keyboard.

/// A layer.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Layer {
    /// A letter is text.
    #[default]
    Write,
    /// A letter is a verb.
    Shape,
}

impl Layer {
    /// The other one.
    #[must_use]
    pub fn other(self) -> Layer {
        match self {
            Layer::Write => Layer::Shape,
            Layer::Shape => Layer::Write,
        }
    }

    /// What it is called.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Layer::Write => "Write",
            Layer::Shape => "Shape",
        }
    }

    /// Its place among the layers.
    #[must_use]
    pub fn index(self) -> usize {
        usize::from(self == Layer::Shape)
    }
}

/// Which keys a terminal keeps apart.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Protocol {
    /// What every terminal delivers.
    #[default]
    Plain,
    /// It keeps keys and escape sequences apart.
    Enhanced,
}
