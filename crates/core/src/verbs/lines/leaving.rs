//! Lines that are carried out of their block: it is said, and where indentation tells the block they take the indentation of the new one.

use crate::changes::ChangeBuilder;
use crate::cursors::Selection;
use crate::units::{Cell, Direction, Line};
use crate::verbs::lines::code::code_of;
use crate::verbs::scene::{Outcome, Run, Scene};

/// Lines above a run in which the header of its block is looked for.
const REACH: usize = 2_000;

/// `outcome`, which carries `runs`: with what they leave, and as deep as their new place where the language goes by that.
pub(super) fn told(scene: &Scene, runs: &[Run], direction: Direction, outcome: Outcome) -> Outcome {
    let [run] = runs else { return outcome };
    let text = scene.text;
    let depth = |line: Line| text.depth_of(line, scene.settings.tabs);
    let full = |line: &Line| !text.is_blank(*line);
    let Some(first) = run.lines().find(full) else { return outcome };
    let passed = match direction {
        Direction::Back => run.first.previous().map(|above| scene.folds.shown(text, above)),
        Direction::Forward => Some(run.last.next()),
    };
    let language = scene.language_at(run.start);
    let Some(passed) = passed.filter(|line| full(line) && line.0 < text.real_line_count() && !language.prose) else {
        return outcome;
    };
    let header = header_of(scene, first);
    let leaves = depth(passed) < depth(first) && header.is_some_and(|header| depth(passed) <= depth(header));
    let outcome = match header.filter(|_| leaves) {
        Some(header) => {
            let said = outcome.message.clone().unwrap_or_default();
            outcome.saying(format!("{said}, now outside of `{}`", name_of(scene, header)))
        }
        None => outcome,
    };
    if !language.offside
        || selects_in_part(scene, run)
        || scene.syntax.kind_before_line(first) != crate::languages::scanner::Kind::Code
    {
        return outcome;
    }
    let code = code_of(scene, passed);
    let is_folded = passed.0 < text.line_count() && scene.folds.last_under(text, passed) != passed;
    let opens = !is_folded && language.openers.iter().any(|opener| code.trim_end().ends_with(opener.as_str()));
    let below = (passed.0 + 1..text.real_line_count()).map(Line).find(full).map(depth);
    let wanted = match direction {
        Direction::Forward if opens => match below {
            Some(below) if below > depth(passed) => below,
            _ => depth(passed) + scene.settings.unit.cells(scene.settings.tabs),
        },
        _ => depth(passed),
    };
    shifted(scene, (run, first), (wanted, direction), outcome)
}

/// The line that opens the block that `line` is in.
fn header_of(scene: &Scene, line: Line) -> Option<Line> {
    let text = scene.text;
    let depth = |line: Line| text.depth_of(line, scene.settings.tabs);
    let above = (0..line.0).rev().take(REACH).map(Line).filter(|above| !text.is_blank(*above));
    let opens = |above: &Line| {
        let code = code_of(scene, *above);
        depth(*above) < depth(line) && !code.trim().is_empty() && !code.trim_start().starts_with([')', ']'])
    };
    above.into_iter().find(opens)
}

/// A header in a few words: a word of a statement, or a definition up to its parameters.
fn name_of(scene: &Scene, header: Line) -> String {
    let content = scene.text.content(header);
    let content = content.trim().trim_start_matches(['}', ' ']);
    let word: String = content.chars().take_while(|c| c.is_alphanumeric() || *c == '_').collect();
    let language = scene.language_at(scene.text.line_start(header));
    if language.finish.parens.contains(&word)
        || [
            "if", "else", "for", "while", "try", "match", "switch", "with", "loop", "elif", "do", "except", "finally",
            "catch",
        ]
        .contains(&word.as_str())
    {
        return word;
    }
    // A bracket alone has no name.
    let head = content.split(['(', '{', ':']).map(str::trim).find(|head| !head.is_empty()).unwrap_or(content);
    head.chars().take(40).collect()
}

/// Whether a part of the lines is selected.
fn selects_in_part(scene: &Scene, run: &Run) -> bool {
    let text = scene.text;
    let is_whole = |each: &Selection| {
        let is_start = |at| text.line_start(text.line_of(at)) == at;
        each.is_caret() || (is_start(each.start()) && (is_start(each.end()) || each.end() == text.end()))
    };
    !scene.cursors.list()[run.cursors.clone()].iter().all(is_whole)
}

/// The lines of the run, where they are now, moved in or out so that the first is `wanted` deep.
fn shifted(
    scene: &Scene,
    (run, first): (&Run, Line),
    (wanted, direction): (Cell, Direction),
    outcome: Outcome,
) -> Outcome {
    let (text, settings) = (scene.text, scene.settings);
    let own = text.depth_of(first, settings.tabs);
    let is_odd = |line: Line| text.slice(text.indentation_span(line)).contains(|c| c != ' ' && c != '\t');
    if own == wanted || run.lines().any(is_odd) {
        return outcome;
    }
    let after = text.applied(&outcome.change);
    let passed = match direction {
        Direction::Back => run.first.0 - scene.folds.shown(text, Line(run.first.0 - 1)).0,
        Direction::Forward => scene.folds.last_under(text, run.last.next()).0 - run.last.0,
    };
    let place = |line: Line| Line(if direction == Direction::Back { line.0 - passed } else { line.0 + passed });
    let mut builder = ChangeBuilder::new(&after);
    for line in run.lines().map(place).filter(|line| !after.is_blank(*line)) {
        let depth = i64::from(after.depth_of(line, settings.tabs).0) + i64::from(wanted.0) - i64::from(own.0);
        builder.replace(after.indentation_span(line), &settings.unit.fill(Cell(depth.max(0) as u32), settings.tabs));
    }
    let second = builder.finish();
    let cursors = outcome.cursors.map(|cursors| cursors.mapped(&second, crate::changes::Bias::After));
    Outcome { change: outcome.change.then(text, &second), cursors, ..outcome }
}
