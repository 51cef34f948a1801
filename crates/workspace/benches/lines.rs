//! Line verbs at 1, 100 and 10,000 runs of a text of 40,000 lines: what a run costs, and what the text costs.

#[path = "../tests/suite/support/editor.rs"]
#[allow(dead_code, reason = "benches use a part of it")]
mod editor;

use criterion::{BatchSize, Criterion, criterion_group, criterion_main};
use editor::{Call, Editor};
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::languages::by_name;
use snarvel_core::text::Text;
use snarvel_core::units::Byte;
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_workspace::registry::by_name as verb;

const LINE: &str = "    pub level_mm: i32, // above chart datum\n";

const LINES: usize = 40_000;

const VERBS: &[&str] = &[
    "carry-up",
    "carry-down",
    "duplicate-down",
    "delete-lines",
    "cut-lines",
    "join-lines",
    "split-line",
    "open-below",
    "blank-above",
    "indent",
    "outdent",
    "reindent",
    "reverse-lines",
    "comment-toggle",
    "paste",
];

fn editor(runs: usize) -> Editor {
    let text = Text::from(LINE.repeat(LINES).as_str());
    let mut editor = Editor::new(text, by_name("rust").expect("the table has rust"));
    let caret = |run: usize| Selection::caret(Byte((run * (LINES / runs) + 1) * LINE.len() + 20));
    editor.set_cursors(CursorSet::of((0..runs).map(caret).collect(), 0));
    editor
}

fn line_verbs(criterion: &mut Criterion) {
    let clip = Clip::of_text("let height = 1;");
    for name in VERBS {
        let mut group = criterion.benchmark_group(*name);
        group.sample_size(10);
        for runs in [1, 100, 10_000] {
            let call = Call { verb: verb(name).expect(name), argument: "", times: 1, clip: &clip, now_ms: 0 };
            group.bench_function(format!("{runs} runs"), |bencher| {
                // The editor is given back, so that putting a text of this size away is not measured.
                let run = |mut editor: Editor| {
                    editor.run(call);
                    editor
                };
                bencher.iter_batched(|| editor(runs), run, BatchSize::PerIteration);
            });
        }
        group.finish();
    }
}

criterion_group!(benches, line_verbs);
criterion_main!(benches);
