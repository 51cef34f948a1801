//! Signs that were put in.

/// Signs that were put in.
#[derive(Debug, Default)]
pub(crate) struct Signs {
    /// The latest first.
    pub(crate) recent: Vec<String>,
    /// Those that were kept when the program began.
    pub(crate) kept: Vec<String>,
}
