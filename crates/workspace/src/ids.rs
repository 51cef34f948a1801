//! What buffers and views are known by: numbers that no other of this run has.

use std::sync::atomic::{AtomicU64, Ordering};

/// A number that was not given out before; never 0.
fn next() -> u64 {
    static NEXT: AtomicU64 = AtomicU64::new(1);
    NEXT.fetch_add(1, Ordering::Relaxed)
}

/// A buffer.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct BufferId(u64);

impl BufferId {
    /// One that was not given out before.
    #[must_use]
    pub fn fresh() -> BufferId {
        BufferId(next())
    }
}

/// A view.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct ViewId(u64);

impl ViewId {
    /// One that was not given out before.
    #[must_use]
    pub fn fresh() -> ViewId {
        ViewId(next())
    }

    /// Its number, as owners of spans have it.
    #[must_use]
    pub fn number(self) -> u64 {
        self.0
    }
}

/// A task.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct TaskId(u64);

impl TaskId {
    /// One that was not given out before.
    #[must_use]
    pub fn fresh() -> TaskId {
        TaskId(next())
    }
}

/// A program in a terminal of its own.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct ShellId(u64);

impl ShellId {
    /// One that was not given out before.
    #[must_use]
    pub fn fresh() -> ShellId {
        ShellId(next())
    }

    /// Its number, as owners of spans have it.
    #[must_use]
    pub fn number(self) -> u64 {
        self.0
    }
}

/// A language server.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub struct ServerId(u64);

impl ServerId {
    /// One that was not given out before.
    #[must_use]
    pub fn fresh() -> ServerId {
        ServerId(next())
    }

    /// Its number, as owners of spans have it.
    #[must_use]
    pub fn number(self) -> u64 {
        self.0
    }
}
