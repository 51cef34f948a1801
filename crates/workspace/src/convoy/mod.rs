//! Convoy: cursors over several texts that act together.
//!
//! A verb runs in each text of it, with that text's cursors, language, indentation and line ends; what that changes is one step over
//! all. Cost: that of the verb in each text.

pub(crate) mod acting;
pub mod gathering;
