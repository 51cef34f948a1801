//! Comment marks on many lines.

use super::editor::{Call, Editor};
use super::{Row, best, source, verb};
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::languages::by_name;
use snarvel_core::text::Text;
use snarvel_core::units::Byte;
use snarvel_core::verbs::clipboard::clip::Clip;
use std::time::{Duration, Instant};

/// Marks on many lines. By itself: its floor does little but fill memory, and is twice as fast where some lies about.
pub fn marks(rows: &mut Vec<Row>) {
    let million: String = source(60 << 20).lines().take(1_000_000).flat_map(|line| [line, "\n"]).collect();
    let text = Text::from(million.as_str());
    let copy = |(): &mut ()| {
        let mut out = String::with_capacity(million.len() + 3_000_000);
        for line in million.split_inclusive('\n') {
            out.push_str("// ");
            out.push_str(line);
        }
        out.len()
    };
    let [floor, _] = best(3, || (), copy, copy);
    let mut editor = Editor::new(text.clone(), by_name("rust").expect("Rust"));
    let mut ours = Duration::MAX;
    for round in 0..3 {
        editor.set_cursors(CursorSet::one(Selection::new(Byte(0), text.end())));
        let call = Call {
            verb: verb("comment-toggle").expect("the verb"),
            argument: "",
            times: 1,
            clip: &Clip::default(),
            now_ms: round * 10_000,
        };
        let start = Instant::now();
        editor.run(call);
        ours = ours.min(start.elapsed());
        editor.run(Call { verb: verb("undo").expect("the verb"), ..call });
    }
    rows.push(Row::times(
        "comment toggle over 1,000,000 lines",
        "a pass that copies and puts in marks",
        floor,
        ours,
        3.0,
    ));
}
