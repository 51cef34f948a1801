//! Signs that were put in.

/// Signs that were put in.
#[derive(Debug, Default)]
pub(crate) struct Signs {
    /// The latest first.
    pub(crate) recent: Vec<String>,
    /// How often one was put in since they were read.
    pub(crate) changes: u64,
}
