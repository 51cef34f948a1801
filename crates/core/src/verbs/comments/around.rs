//! Markup with code of a server in it: marks that keep the code from running go around the lines, on lines of their own.

use super::style::LineMarking;
use crate::changes::{Bias, ChangeBuilder};
use crate::languages::scanner::Kind;
use crate::units::{Byte, Line, Span};
use crate::verbs::scene::{Outcome, Run, Scene, counted};

/// Lines in each direction in which the marks around a run are looked for.
const REACH: usize = 500;

/// What comes of the verb where the lines of a run are such markup, or are between such marks; none where all is usual.
#[must_use]
pub fn marked(scene: &Scene, runs: &[Run], wish: LineMarking) -> Option<Outcome> {
    let marks = scene.language.markup_off.as_ref()?;
    let between: Vec<Option<[Line; 2]>> = runs.iter().map(|run| marks_around(scene, run, marks)).collect();
    let is_markup = |run: &Run| run.lines().any(|line| has_code(scene, line));
    let puts_on = matches!(wish, LineMarking::Toggle | LineMarking::On | LineMarking::Flip);
    let takes_off = wish != LineMarking::On;
    let mut builder = ChangeBuilder::new(scene.text);
    let (mut on, mut off, mut reach) = (0, 0, Byte(0));
    for (run, between) in runs.iter().zip(&between) {
        match between {
            Some([first, last]) if takes_off => {
                let [before, after] = [first, last].map(|line| scene.text.line_span(*line));
                if before.start >= reach {
                    builder.remove(before);
                    builder.remove(after);
                    reach = after.end;
                    off += last.0 - first.0 - 1;
                }
            }
            None if puts_on && is_markup(run) => {
                let indentation = scene.text.slice(scene.text.indentation_span(run.first)).into_owned();
                let end = scene.settings.line_end.as_str();
                let [open, close] = marks;
                builder.insert(run.start, &format!("{indentation}{open}{end}"));
                let is_unended = scene.text.line_end(run.last).is_none();
                let behind = scene.text.line_span(run.last).end;
                let line = if is_unended {
                    format!("{end}{indentation}{close}")
                } else {
                    format!("{indentation}{close}{end}")
                };
                builder.insert(behind, &line);
                on += run.len();
            }
            _ => {}
        }
    }
    let change = builder.finish();
    if change.is_empty() {
        return None;
    }
    let cursors = scene.remap(&change, |_| [Bias::After, Bias::Before]);
    let message = if on > 0 {
        format!("commented {}", counted(on, "line"))
    } else {
        format!("uncommented {}", counted(off, "line"))
    };
    Some(Outcome::edit(change, cursors).saying(message))
}

/// Whether `line` is markup with code of the server in it.
fn has_code(scene: &Scene, line: Line) -> bool {
    let text = scene.text;
    let start = text.indentation_span(line).end;
    let content = text.content(line);
    let opens = scene.language.markup_off.as_ref().map_or("<?", |[open, _]| open.get(..2).unwrap_or("<?"));
    let language = scene.language_at(start);
    let is_markup = language.name != scene.language.name;
    let is_comment = language.block.iter().any(|marks| content.trim_start().starts_with(marks.open.as_str()));
    is_markup && !is_comment && content.contains(opens) && !content.trim_start().starts_with(opens)
}

/// The lines of the marks that `run` is between, or that it begins and ends with.
fn marks_around(scene: &Scene, run: &Run, [open, close]: &[String; 2]) -> Option<[Line; 2]> {
    let text = scene.text;
    let is = |line: Line, mark: &str| text.content(line).trim() == mark;
    let up = (0..=run.first.0).rev().take(REACH).map(Line);
    let first = up
        .into_iter()
        .find(|line| is(*line, open) || (is(*line, close) && *line < run.first))
        .filter(|line| is(*line, open))?;
    let down = (run.last.0.max(first.0 + 1)..text.line_count()).take(REACH).map(Line);
    let last = down
        .into_iter()
        .find(|line| is(*line, close) || (is(*line, open) && *line > run.last))
        .filter(|line| is(*line, close))?;
    (!Span::new(text.line_start(first), text.line_start(last)).is_empty()).then_some([first, last])
}

/// Tags that are alone on a line: code begins or ends there, in comment marks too.
const CODE_TAGS: &[&str] = &["<?php", "<?", "?>"];

/// The lines of `runs` that are no such tags.
#[must_use]
pub fn without_code_tags(scene: &Scene, runs: Vec<Run>) -> Vec<Run> {
    if scene.language.markup_off.is_none() {
        return runs;
    }
    let text = scene.text;
    let mut kept: Vec<Run> = Vec::new();
    for run in runs {
        for line in run.lines().filter(|line| !is_code_tag(scene, *line)) {
            match kept.last_mut() {
                Some(last) if last.last.next() == line => last.last = line,
                _ => kept.push(Run { first: line, last: line, start: text.line_start(line), ..run.clone() }),
            }
        }
    }
    kept
}

fn is_code_tag(scene: &Scene, line: Line) -> bool {
    CODE_TAGS.contains(&scene.text.content(line).trim())
}

/// Whether one of the lines of `span` is such a tag.
#[must_use]
pub fn has_code_tag(scene: &Scene, span: Span) -> bool {
    let [first, last] = [span.start, span.end].map(|at| scene.text.line_of(at));
    scene.language.markup_off.is_some() && (first.0..=last.0).map(Line).any(|line| is_code_tag(scene, line))
}

/// Elements whose content is code of another language.
const CODE_ELEMENTS: &[&str] = &["script", "style"];

/// What is said where a tag of such an element is to become a comment without its partner.
pub const LONE_TAG: &str = "a tag of a script or a style sheet stays as long as its partner does: select both";

/// Whether `span` has one tag of a script or a style sheet in markup, outside comments, and not the other.
#[must_use]
pub fn has_lone_code_element(scene: &Scene, span: Span) -> bool {
    if !scene.language.embeds.iter().any(|embed| embed.open.contains("<script")) {
        return false;
    }
    let selected = scene.text.slice(span);
    let is_code = |at: &usize| {
        let at = span.start + *at;
        scene.syntax.kind_at(scene.text.next_boundary(at)) != Kind::Comment
    };
    let count = |mark: String| selected.match_indices(&mark).map(|(at, _)| at).filter(is_code).count();
    CODE_ELEMENTS.iter().any(|name| count(format!("<{name}")) != count(format!("</{name}")))
}
