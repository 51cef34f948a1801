//! The names of a project: what is defined where, in every language that has a grammar, and by the shape of the text in the others. It
//! knows no screen and no server.
//!
//! - [`definitions`]: what one text defines.
//! - [`store`]: what all files define, in a database that is kept from one start to the next. What is in it is no more than what
//!   the files say: a damaged one is thrown away and made anew.
//! - [`locals`] and [`ranking`]: which of several definitions a name most likely means at a place.
//! - [`worker`]: the thread that keeps it up to date and answers.
//!
//! Positions are bytes of the UTF-8 text, lines count from 0.

pub mod definitions;
pub mod locals;
pub mod ranking;
pub mod reading;
pub mod store;
pub mod worker;
