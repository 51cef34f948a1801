//! Programs in a terminal of their own: started in a pty, what they print drawn into a grid of cells, keys turned into what they read.
//! And what is run in them: which commands run a file or a selection of a language, and the places that compilers and test runners
//! print. It knows no screen and no text of the editor.
//!
//! A program is driven by threads of its own ([`session`]): nothing that asks it anything waits for it. What it prints is seen as a
//! [`picture::Picture`], which is worked out at most so often as a screen can show it. Nothing of what it prints is handed on as it
//! is: escape sequences end here, and questions to the terminal are answered here.

pub mod emulator;
pub mod picture;
pub mod places;
pub mod plain;
pub mod press;
pub mod runners;
pub mod sending;
pub mod session;
