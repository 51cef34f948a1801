//! What tests of the interface share.

#![allow(dead_code, reason = "each test file uses its part")]

use snarvel_ui::app::App;
use snarvel_ui::keys::script::{self, ScriptStep};

/// Presses the keys of a script.
pub fn press(app: &mut App, keys: &str) {
    script::parse(keys).unwrap().iter().for_each(|step| take(app, step));
}

/// Takes a step of a script, and waits until everything in the background has come to rest.
pub fn take(app: &mut App, step: &ScriptStep) {
    app.prepare(step);
    app.act(step);
    app.settle_background();
}
