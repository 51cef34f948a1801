//! Random edits on foreign code, and oracles that know without Snarvel's rules whether the result is right.
//!
//! A [`family`](families) makes one kind of edit on a [`Source`](sources::Source): it chooses a place by a seeded random number, plays keys
//! in the real application and asks its oracle (a formatter's own output, a parser, a token stream, the bytes before). Each edit is a
//! file and a script, so that `snarvel play` reproduces a wrong one.

pub mod families;
pub mod family;
pub mod oracle;
pub mod player;
pub mod report;
pub mod run;
pub mod sources;
