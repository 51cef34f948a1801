//! Edits a file by a fixed sequence of keys, noting each edit in a journal and each step on standard output, with whether
//! all so far is in the journal, until it is killed. `FILE STATE-FOLDER`.

use snarvel_ui::app::{App, Event};
use snarvel_ui::keys::Key;
use snarvel_ui::palette::theme::Theme;
use snarvel_ui::palette::{Depth, Palette};
use snarvel_ui::size::Size;
use snarvel_workspace::project::Project;
use snarvel_workspace::workspace::Workspace;
use std::io::Write;
use std::path::Path;

/// The key of a step: the same for everybody who counts along.
pub fn key_of(step: u64) -> Key {
    const KEYS: [&str; 24] = [
        "t",
        "i",
        "d",
        "e",
        "space",
        "alt+d",
        "alt+s",
        "down",
        "end",
        "enter",
        "é",
        "alt+g",
        "x",
        "esc",
        "ctrl+z",
        "alt+c",
        "ctrl+z",
        "ctrl+y",
        "alt+x",
        "alt+f",
        "y",
        "esc",
        "backspace",
        "alt+m",
    ];
    // A step of a linear congruential generator with Knuth's constants, its high bits.
    let mixed = (step + 1).wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407) >> 33;
    Key::parse(KEYS[(mixed % KEYS.len() as u64) as usize]).unwrap_or(Key::character('x'))
}

#[allow(dead_code, reason = "the test that kills this program counts along by the function above")]
fn main() {
    let arguments: Vec<String> = std::env::args().skip(1).collect();
    let [file, state] = &arguments[..] else { panic!("FILE STATE-FOLDER") };
    let palette = Palette::new(&Theme::night(), Depth::True);
    let folder = Path::new(file).parent().unwrap_or(Path::new("/"));
    let mut app = App::new(Workspace::new(Project::in_folder(folder)), palette, Size::REFERENCE);
    app.context.workspace.keep_safe(Path::new(state));
    app.context.workspace.open(Path::new(file));
    app.pump();
    let mut out = std::io::stdout();
    for step in 0.. {
        app.handle(Event::Key(key_of(step)), step * 50);
        let is_safe = app.context.workspace.settle_journals();
        // Nobody reads any more: it was killed but for this.
        if writeln!(out, "{step} {is_safe}").and_then(|()| out.flush()).is_err() {
            return;
        }
    }
}
