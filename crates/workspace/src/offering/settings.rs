//! When offers come.

/// When offers come.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum When {
    /// By themselves, in code.
    #[default]
    Auto,
    /// By their key, narrowed by letters then.
    Key,
    /// By their key only, once.
    Off,
}
