//! Characters: typing and erasing, pairs, case and the shapes of names.

pub mod case;
pub mod pairs;
pub mod surround;
pub mod typing;
