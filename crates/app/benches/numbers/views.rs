//! Several views of a text, and several texts: what one more costs.

use super::{Row, app_with, key, keys_to_frames, peak_of_playing, source};
use snarvel_core::text::Text;
use snarvel_ui::app::App;
use std::time::Duration;

/// Two views of one text of 100 MB: keys in one of them, and the memory of both.
pub fn two_views(rows: &mut Vec<Row>) {
    let text = Text::from(source(100 << 20).as_str());
    let half = |app: &mut App| {
        key(app, "ctrl+end");
        keys_to_frames(app, 400)[200]
    };
    // Beside each other two views show twice as many lines as one; below each other as many.
    for (how, split) in [("beside", "shift+f9"), ("below", "shift+f8")] {
        let mut one = app_with(text.clone(), "large.rs");
        let mut two = app_with(text.clone(), "large.rs");
        key(&mut two, split);
        let rounds: Vec<[Duration; 2]> = (0..5).map(|_| [half(&mut one), half(&mut two)]).collect();
        let [floor, ours] = [0, 1].map(|which| rounds.iter().map(|round| round[which]).min().unwrap_or_default());
        let what = format!("one character with two views of 100 MB {how} each other, until the frame");
        rows.push(Row::times(what, "with one view", floor, ours, 1.5));
    }
    let path = super::folder().join("views.rs");
    std::fs::write(&path, text.to_string()).expect("a file of 100 MB");
    let [floor, ours] = ["ctrl+end x", "shift+f9 ctrl+end x"].map(|keys| peak_of_playing(&path, keys) as f64 / 1e6);
    rows.push(Row {
        what: "memory with two views of 100 MB".into(),
        floor: ("with one view".into(), floor),
        ours,
        bar: "1.02 ×".into(),
        unit: "MB",
    });
}

/// The memory of twenty open files, edited.
pub fn twenty_files(rows: &mut Vec<Row>) {
    let folder = super::folder();
    let demo = snarvel::demo::FILES[0].1;
    let names: Vec<String> = (0..20).map(|index| format!("open{index:02}.rs")).collect();
    names.iter().for_each(|name| std::fs::write(folder.join(name), demo.repeat(20)).expect("a file"));
    let opening = names[1..].iter().map(|name| format!("ctrl+o \"{name}\" alt+enter \"x\""));
    let keys = opening.collect::<Vec<_>>().join(" ");
    let first = folder.join(&names[0]);
    let [floor, ours] = ["\"x\"", &keys].map(|keys| peak_of_playing(&first, keys) as f64 / 1e6);
    rows.push(Row {
        what: "memory of 20 open files".into(),
        floor: ("of one".into(), floor),
        ours,
        bar: "not more than before".into(),
        unit: "MB",
    });
}
