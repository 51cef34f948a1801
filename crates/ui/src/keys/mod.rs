//! Keys: what they are called, what they do in which layer, the keyboard they are on, scripts of them.

pub mod bindings;
pub mod key;
pub mod keyboard;
pub mod keyboarding;
pub mod keymap;
pub mod layer;
pub mod script;

pub use key::Key;
