//! The kinds of edits.

mod carried;
mod comments;
mod finished;
mod joined;
mod laid_out;
mod pasted;
mod shifted;
mod swapped;
mod widened;

use crate::family::Family;

/// All of them.
pub const ALL: &[&dyn Family] = &[
    &laid_out::LaidOut,
    &shifted::Shifted,
    &pasted::Pasted,
    &pasted::PastedElsewhere,
    &comments::Comments,
    &comments::BlockComments,
    &joined::Joined,
    &joined::Spread,
    &carried::Carried,
    &carried::Duplicated,
    &carried::Deleted,
    &swapped::Swapped,
    &swapped::Elements,
    &finished::Finished,
    &widened::Widened,
];
