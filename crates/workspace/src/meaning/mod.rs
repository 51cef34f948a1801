//! Meaning: what names mean and where they are used, what is wrong, and what language servers do about it.
//!
//! An [`inquiry`](asking) goes to a server where one runs that can answer it, else to the names of the project, or through its files; what
//! comes back says what it knows it from. Edits of servers, renames and layouts are one step over all files ([`applying`]). Nothing
//! here waits: what is found arrives as a [`Notice`](crate::notice::Notice), and is dropped where the text has changed since.

pub mod applying;
pub mod asking;
pub mod candidate;
pub mod faults;
pub mod finding;
pub mod fixing;
pub mod formatted;
pub mod formatting;
pub mod imports;
pub mod names;
pub mod offering;
mod printed;
pub mod ready;
pub mod relations;
pub mod renaming;
pub mod running;
pub mod serving;
pub mod trusting;
pub mod words;
