//! Lines wrapped in a pair of brackets, which get lines of their own.

use crate::changes::{Bias, ChangeBuilder};
use crate::units::Line;
use crate::verbs::scene::{Outcome, Scene, counted};

/// The pairs that there are.
const PAIRS: [(char, char); 3] = [('{', '}'), ('(', ')'), ('[', ']')];

/// The touched lines go one unit in, between an opening line and a closing line as deep as the least deep of them.
pub fn wrap_lines(scene: &Scene, open: char) -> Outcome {
    let Some((open, close)) = PAIRS.iter().find(|(first, last)| *first == open || *last == open) else {
        return Outcome::nothing(format!("{open} opens no pair: {{, ( and [ do"));
    };
    let text = scene.text;
    let (unit, end) = (scene.settings.unit.text(), scene.settings.line_end.as_str());
    let mut builder = ChangeBuilder::new(text);
    let mut count = 0;
    for run in scene.runs() {
        let full: Vec<Line> = run.lines().filter(|line| !text.is_blank(*line)).collect();
        let depth = |line: &Line| text.depth_of(*line, scene.settings.tabs);
        let Some(least) = full.iter().min_by_key(|line| depth(line)) else { continue };
        let indentation = text.slice(text.indentation_span(*least)).into_owned();
        let (first, last) = (full[0], full[full.len() - 1]);
        builder.insert(text.line_start(first), &format!("{indentation}{open}{end}"));
        for line in &full {
            builder.insert(text.line_start(*line), &unit);
        }
        builder.insert(text.content_span(last).end, &format!("{end}{indentation}{close}"));
        count += full.len();
    }
    let change = builder.finish();
    if change.is_empty() {
        return Outcome::nothing("no line with anything on it here");
    }
    let cursors = scene.remap(&change, |index| {
        let each = scene.cursors.list()[index];
        let line = text.line_of(each.head);
        let at_end = each.is_caret() && each.head == text.content_span(line).end && !text.is_blank(line);
        [if at_end { Bias::Before } else { Bias::After }, Bias::Before]
    });
    Outcome::edit(change, cursors).saying(format!("wrapped {}", counted(count, "line")))
}
