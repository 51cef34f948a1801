//! What markup and the template languages in it have without their tree saying so.

use crate::units::{Byte, Line};
use crate::verbs::scene::Scene;

/// Elements that hold nothing (HTML Living Standard, 13.1.2): a grammar may take what follows into them.
pub const VOID_ELEMENTS: &[&str] =
    &["area", "base", "br", "col", "embed", "hr", "img", "input", "link", "meta", "source", "track", "wbr"];

/// Elements whose content has no layout of its own.
pub const RAW_ELEMENTS: &[&str] = &["<pre", "<textarea", "<listing", "<plaintext"];

/// Elements whose children are often as deep as they.
pub const FLAT_ELEMENTS: &[&str] = &["<html", "<head", "<body"];

/// The most lines of an interpolation in markup.
const INTERPOLATION_LINES: usize = 30;

/// What tags of template languages that begin and end blocks start with, in the text of markup.
const TEMPLATE_TAGS: &[&str] =
    &["{%", "{{#", "{{/", "{{^", "{{else", "<%", "<#", "</#", "@if", "@for", "@end", "@section"];

/// Whether `markup` has a tag that begins or ends a block of a template language.
pub fn has_template_tag(markup: &str) -> bool {
    TEMPLATE_TAGS.iter().any(|tag| markup.contains(tag))
}

/// The line that opens the interpolation which what is at `at` closes.
#[must_use]
pub fn interpolation_closed_at(scene: &Scene, at: Byte) -> Option<Line> {
    let text = scene.text;
    if !text.has_at(at, "}}") || !scene.language_at(at).prose {
        return None;
    }
    let opens = |line: &Line| {
        let content = text.content(*line);
        content.matches("{{").count() > content.matches("}}").count()
    };
    (0..text.line_of(at).0).rev().take(INTERPOLATION_LINES).map(Line).find(opens)
}
