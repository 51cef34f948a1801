//! One character typed, and taken back, at 10 to 1,000,000 cursors over 100 MB, each beside its floor: as many
//! insertions into the bare rope. Prints the table of docs/performance.md.

#[path = "../tests/suite/support/editor.rs"]
#[allow(dead_code, reason = "benches use a part of it")]
mod editor;

use editor::{Call, Editor};
use memchr::memmem;
use ropey::Rope;
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::languages::by_name;
use snarvel_core::text::Text;
use snarvel_core::units::Byte;
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_workspace::registry::by_name as verb;
use std::time::{Duration, Instant};

const LINE: &str =
    "    let reading = gauge.corrected(raw_mm).unwrap_or(level_mm); // above chart datum, as the log has it\n";

const LINES: usize = 1_000_000;

/// The middle of three runs.
fn median(mut run: impl FnMut() -> Duration) -> Duration {
    let mut times = [run(), run(), run()];
    times.sort_unstable();
    times[1]
}

fn timed<T>(work: impl FnOnce() -> T) -> (Duration, T) {
    let start = Instant::now();
    let out = work();
    (start.elapsed(), out)
}

fn call(editor: &mut Editor, name: &str, argument: &str) -> Duration {
    let clip = Clip::default();
    timed(|| editor.run(Call { verb: verb(name).expect(name), argument, times: 1, clip: &clip, now_ms: 0 })).0
}

fn row(what: &str, floor: Duration, times: &[Duration]) {
    let millis = |time: Duration| format!("{:.2}", time.as_secs_f64() * 1000.0);
    let cells: Vec<String> = times
        .iter()
        .map(|time| format!("{} ({:.1} ×)", millis(*time), time.as_secs_f64() / floor.as_secs_f64()))
        .collect();
    println!("| {what} | {} | {} |", millis(floor), cells.join(" | "));
}

fn main() {
    let source = LINE.repeat(LINES);
    let (rope, text) = (Rope::from_str(&source), Text::from(source.as_str()));
    println!("| cursors | floor: insertions into the rope, ms | one character typed, ms | taken back, ms |");
    println!("|---|---|---|---|");
    for count in [10, 1_000, 10_000, 100_000, 1_000_000] {
        let place = |index: usize| index * (LINES / count) * LINE.len() + 20;
        let floor = median(|| {
            let mut rope = rope.clone();
            // The text is ASCII: characters are bytes. Each insertion moves those after it by one.
            timed(|| (0..count).for_each(|index| rope.insert(place(index) + index, "x"))).0
        });
        let mut undone = Duration::ZERO;
        let typed = median(|| {
            let mut editor = Editor::new(text.clone(), by_name("rust").expect("rust"));
            let carets = (0..count).map(|index| Selection::caret(Byte(place(index)))).collect();
            editor.set_cursors(CursorSet::of(carets, 0));
            let typed = call(&mut editor, "type-text", "x");
            undone = call(&mut editor, "undo", "");
            typed
        });
        row(&count.to_string(), floor, &[typed, undone]);
    }
    println!("\n| what | floor: one pass of memmem, ms | take all, ms |\n|---|---|---|");
    for rarity in [1_000_000, 1_000, 1] {
        take_all(source.clone(), rarity);
    }
}

/// Takes all of a word that is on one line in `rarity`.
fn take_all(mut source: String, rarity: usize) {
    let word = "zzlevel";
    for line in (0..LINES).step_by(rarity) {
        // As long as what it replaces, so that nothing moves.
        source.replace_range(line * LINE.len() + 8..line * LINE.len() + 8 + word.len(), word);
    }
    let text = Text::from(source.as_str());
    let mut found = 0;
    let floor = median(|| {
        let (time, count) = timed(|| memmem::find_iter(source.as_bytes(), word).count());
        found = count;
        time
    });
    let taken = median(|| {
        let mut editor = Editor::new(text.clone(), by_name("rust").expect("rust"));
        editor.set_cursors(CursorSet::one(Selection::new(Byte(8), Byte(8 + word.len()))));
        let taken = call(&mut editor, "take-all", "");
        assert_eq!(editor.cursors().len(), found);
        taken
    });
    row(&format!("{found} matches in 100 MB"), floor, &[taken]);
}
