//! What the constants of the text are tuned by: edits in place against one rebuild of the rope.

use criterion::{BatchSize, Criterion, criterion_group, criterion_main};
use snarvel_core::changes::ChangeBuilder;
use snarvel_core::text::Text;
use snarvel_core::units::Byte;

fn applying(criterion: &mut Criterion) {
    let line = "    pub level_mm: i32, // above chart datum\n";
    let text = Text::from(line.repeat(10_000_000 / line.len()).as_str());
    for edits in [10, 1_000, 10_000, 100_000] {
        let mut builder = ChangeBuilder::new(&text);
        for index in 0..edits {
            builder.insert(Byte(index * (text.len() / line.len() / edits) * line.len()), "x");
        }
        let change = builder.finish();
        criterion.bench_function(&format!("{edits} insertions into 10 MB"), |bencher| {
            bencher.iter_batched(|| text.clone(), |mut text| text.apply(&change), BatchSize::PerIteration);
        });
    }
}

criterion_group!(benches, applying);
criterion_main!(benches);
