//! What is learned from how the program is used: whether a shorter way would have given the same, and the ledger in which uses are counted.

pub mod ledger;
pub mod news;
pub mod trying;
