//! Characters: typing and erasing, pairs, case and the shapes of names.

pub mod case;
pub mod pairs;
pub mod putting;
pub mod replaced;
pub mod surround;
pub mod typing;
pub mod values;
