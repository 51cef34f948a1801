//! The client's side of the Language Server Protocol (3.17): how servers are started, kept in step with texts, asked, and
//! what their answers mean in terms of our texts. It knows no screen.
//!
//! A [`session`] is one server. Its state is a plain value that takes inputs and gives outputs, tested without any process; [`life`]
//! drives it on a thread of its own. Nothing of the protocol is seen outside of this crate: what comes in are places of texts
//! in bytes, what goes out are [`news`] in bytes of texts of a revision that is told along.
//!
//! Costs: a change is as much as its edits; an answer is as much as its places and the texts that they are in. All of it is off the
//! way of a key.

pub mod answers;
pub mod ask;
pub mod documents;
pub mod edits;
pub mod exchange;
mod greeting;
pub mod life;
pub mod news;
pub mod position;
mod requests;
pub mod session;
pub mod table;
pub mod uri;
pub mod wire;
