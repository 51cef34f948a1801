//! Which lines of a run are in which language.
//!
//! A line with a tag or a fence is markup, and so is everything between it and its partner, as far as the run goes:
//! without the tag it would be nothing else, so that toggling twice is still the identity.

use super::marking::{LanguagePart, Lines};
use crate::languages::Language;
use crate::units::Line;
use crate::verbs::scene::{Run, Scene};
use std::sync::Arc;

/// Adds the lines of `run`, a part for each of their languages.
pub(super) fn add(scene: &Scene, run: &Run, all_blank: bool, to: &mut Lines) {
    let first = to.parts.len();
    if scene.language.embeds.is_empty() {
        to.parts.push(LanguagePart { language: scene.syntax.file_language(), all_blank });
        to.add(run.first, run.len(), first);
        return;
    }
    let languages = if has_markup_inside(scene.language) { each_alone(scene, run) } else { with_partners(scene, run) };
    let mut before = None;
    for (line, language) in run.lines().zip(languages) {
        // A blank line goes with those before it, so that it decides nothing.
        let with_before = before.filter(|_| scene.text.is_blank(line));
        let known = || to.parts[first..].iter().position(|part| part.language.name == language.name);
        let part = with_before.or_else(|| Some(first + known()?)).unwrap_or(to.parts.len());
        if part == to.parts.len() {
            to.parts.push(LanguagePart { language, all_blank });
        }
        to.add(line, 1, part);
        before = Some(part);
    }
}

/// Whether the markup is inside the language, not around it.
fn has_markup_inside(language: &Language) -> bool {
    language.embeds.iter().any(|embed| embed.first)
}

/// Every line in the language of its first character; one that changes the language is markup.
fn each_alone(scene: &Scene, run: &Run) -> Vec<Arc<Language>> {
    let language = |line: Line| {
        let parts = scene.syntax.inside(line);
        let changes = scene.syntax.begins_inside(line) != begins_inside(scene, line.next());
        match parts.first().or(scene.syntax.inside(line.previous().unwrap_or(line)).last()) {
            Some(part) if changes => part.language.clone(),
            _ => scene.language_at(scene.text.indentation_span(line).end),
        }
    };
    run.lines().map(language).collect()
}

/// Every line in the language that it is wholly in; a line with a tag, and what lies between it and its partner, in
/// the file's own.
fn with_partners(scene: &Scene, run: &Run) -> Vec<Arc<Language>> {
    let own = scene.syntax.file_language();
    let mut languages: Vec<Arc<Language>> = Vec::with_capacity(run.len());
    let mut under_tag = false;
    for line in run.lines() {
        let (begins, ends) = (scene.syntax.begins_inside(line), begins_inside(scene, line.next()));
        let parts = scene.syntax.inside(line);
        let is_whole = begins && ends && parts.len() <= 1;
        match (begins, ends) {
            // The partner of a closing tag is above the run: all of its lines up to here are markup.
            (true, false) if !under_tag => languages.fill(own.clone()),
            _ => {}
        }
        let inner = parts.first().filter(|_| is_whole && !under_tag && !is_switched_off_markup(scene, line));
        languages.push(inner.map_or_else(|| own.clone(), |part| part.language.clone()));
        under_tag = ends && (under_tag || !is_whole);
    }
    languages
}

/// Whether `line` is wrapped in the file's own marks: so it is where a fence was switched off that is needed to see
/// where the language inside it ends.
fn is_switched_off_markup(scene: &Scene, line: Line) -> bool {
    let content = scene.text.content(line);
    let marks = scene.language.block.first().filter(|_| scene.language.line.is_empty());
    marks.is_some_and(|marks| super::look::marked_by_wrap(&content, marks, scene.language.nests).is_some())
}

fn begins_inside(scene: &Scene, line: Line) -> bool {
    line <= scene.text.last_line() && scene.syntax.begins_inside(line)
}
