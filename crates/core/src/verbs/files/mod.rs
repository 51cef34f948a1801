//! What is shown of a file: folds.

pub mod folding;
