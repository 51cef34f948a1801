//! Steps of indentation of another size: every line gets as many of the new ones as it has of the old ones.

use crate::changes::{Change, ChangeBuilder};
use crate::languages::Language;
use crate::languages::lexical::{Lexical, Syntax};
use crate::languages::scanner::Kind;
use crate::text::Text;
use crate::text::cells::TabWidth;
use crate::text::indent::IndentUnit;
use crate::units::{Cell, Line};
use std::sync::Arc;

/// The change that puts each step `from` in the indentation of `text` into one step `to`, and how many lines it changes.
///
/// A line is measured from the line above that it is deeper than. What is not a number of steps from there is set under something in
/// that line, and keeps its distance. Lines of a string stay as they are, those of a documentation string go along with it.
/// Cost: all of the text.
#[must_use]
pub fn converted(
    text: &Text,
    language: &Arc<Language>,
    tabs: TabWidth,
    [from, to]: [IndentUnit; 2],
) -> (Change, usize) {
    let lexical = Lexical::new(language);
    let syntax = lexical.of(text);
    let [old_step, new_step] = [from.cells(tabs), to.cells(tabs)];
    let mut builder = ChangeBuilder::new(text);
    let mut count = 0;
    // The lines that the next one may be deeper than: how deep they are, and how deep they become.
    let mut outer: Vec<[u32; 2]> = Vec::new();
    let mut is_documentation = false;
    for line in (0..text.line_count()).map(Line).filter(|line| !text.is_blank(*line)) {
        match syntax.kind_before_line(line) {
            Kind::String if !is_documentation => continue,
            Kind::String => {}
            _ => {
                let content = text.content(line);
                let quotes = content.trim_start().trim_start_matches(['r', 'R', 'u', 'U', 'b', 'B']);
                is_documentation = quotes.starts_with("\"\"\"") || quotes.starts_with("'''");
            }
        }
        let old = text.depth_of(line, tabs).0;
        while outer.last().is_some_and(|[depth, _]| *depth >= old) {
            outer.pop();
        }
        let [parent_old, parent_new] = outer.last().copied().unwrap_or_default();
        let distance = old - parent_old;
        let is_steps = distance.is_multiple_of(old_step);
        let new = parent_new + if is_steps { distance / old_step * new_step } else { distance };
        outer.push([old, new]);
        let span = text.indentation_span(line);
        let white = to.fill(Cell(new), tabs);
        if text.slice(span) != white {
            builder.replace(span, &white);
            count += 1;
        }
    }
    (builder.finish(), count)
}
