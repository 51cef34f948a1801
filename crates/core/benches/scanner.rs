//! How fast a text is told into code, string and comment: the bar is 200 MB a second.

#[path = "../../workspace/tests/suite/sources/mod.rs"]
mod sources;

use criterion::{Criterion, Throughput, criterion_group, criterion_main};
use snarvel_core::languages::layers::Layers;
use snarvel_core::languages::{by_name, detect};
use sources::gathered;

/// Bytes of each language that are scanned.
const BYTES: usize = 8 << 20;

/// Sources of other projects; where there are none, a line of our own again and again.
fn sources(ending: &str) -> String {
    let mut text = String::new();
    for file in gathered(ending) {
        text.push_str(&std::fs::read_to_string(file).unwrap_or_default());
        if text.len() > BYTES {
            return text;
        }
    }
    if text.is_empty() {
        text.push_str("let level = read(\"Skerry Sound\"); // in millimetres\n");
    }
    text.repeat(BYTES / text.len() + 1)
}

fn scanning(criterion: &mut Criterion) {
    let mut group = criterion.benchmark_group("scanning");
    group.sample_size(10);
    for (ending, language) in [("rs", "rust"), ("c", "c"), ("py", "python"), ("js", "javascript"), ("toml", "toml")] {
        let text = sources(ending);
        assert_eq!(detect(&format!("x.{ending}"), "").name, language);
        let layers = Layers::new(&by_name(language).unwrap());
        group.throughput(Throughput::Bytes(text.len() as u64));
        group.bench_function(language, |bencher| {
            bencher.iter(|| {
                let mut layer = layers.beginning(text.chars().next());
                let mut found = 0usize;
                for line in text.split_inclusive('\n') {
                    layer = layers.scan(line, &layer, &mut |_| found += 1);
                }
                found
            });
        });
    }
    group.finish();
}

criterion_group!(benches, scanning);
criterion_main!(benches);
