//! How deep the elements of what holds several are: statements, arguments, labels, members of a namespace.

use super::{Around, ByTree, Depth};
use crate::languages::scanner::Kind;
use crate::structure::Roles;
use crate::text::indent::IndentUnit;
use crate::units::{Byte, Cell, Line, Span};
use crate::verbs::lines::markup::FLAT_ELEMENTS;

impl ByTree<'_, '_> {
    /// How deep a label to jump to is, in a block from `base` on: in the first column, as deep as the block or as what is in it.
    pub(super) fn label_depth(&self, line: Line, base: Line) -> Depth {
        let (text, tabs) = (self.scene.text, self.scene.settings.tabs);
        let [own, block] = [line, base].map(|line| text.depth_of(line, tabs));
        let step = self.scene.settings.unit.cells(tabs);
        match own {
            _ if own <= Cell(1) && own < block => Depth::Free,
            _ if own == block + step => Depth::Kept(base, 0),
            _ => Depth::Steps(base, 0),
        }
    }

    /// How deep an element of a holder is.
    pub(super) fn element_depth(&self, (at, word): (Byte, &str), inner: Around, base: Line) -> Depth {
        let text = self.scene.text;
        let own_line = text.line_of(inner.node.span.start);
        let bracket = text.char_at(inner.node.span.start).filter(|c| "([{<".contains(*c));
        let is_comment = self.scene.syntax.kind_at(text.next_boundary(at)) == Kind::Comment;
        let is_tag = inner.node.is(Roles::TAG);
        let is_element = bracket == Some('<')
            && !is_tag
            && (self.scene.language_at(at).prose || inner.node.is(Roles::MARKUP_ELEMENT));
        if !is_element && bracket.is_some() && !self.opens_alone(inner.node) {
            return Depth::Kept(own_line, 1);
        }
        let labelled = |words: &[String]| words.iter().any(|label| label == word);
        if bracket == Some('{') || bracket.is_none() {
            let is_outer = labelled(&self.words.outer_labels);
            if is_outer || labelled(&self.words.labels) {
                let steps = u32::from(!is_outer);
                return inner
                    .lines
                    .labels_alike
                    .map_or(Depth::Steps(base, steps), |cell| Depth::Labels(base, cell, steps));
            }
        }
        let is_flat = FLAT_ELEMENTS.iter().any(|tag| text.has_at(inner.node.span.start, tag))
            || inner.outer.is_some_and(|outer| outer.is(Roles::FLAT));
        match bracket {
            Some('(' | '[') => self.alike_or(inner, base, 1),
            Some('<') if !is_element => self.alike_or(inner, base, 1),
            // The initializers of C and its like are a continuation for their formatters.
            Some('{') if self.is_initializer(inner) => self.alike_or(inner, base, 1),
            _ if is_flat => self.depth_in_flat(text.line_of(at), inner, base),
            _ if is_tag || is_element => self.alike_or(inner, base, 1),
            None if is_comment => Depth::Kept(base, 0),
            _ if self.is_after_operator(base) => self.alike_or(inner, base, 1),
            _ => Depth::Steps(base, 1),
        }
    }

    /// Whether `holder` is the value of a variable, or a list, in a language like C.
    pub(super) fn is_initializer(&self, holder: Around) -> bool {
        let text = self.scene.text;
        let start = holder.node.span.start;
        let head = text.slice(Span::new(text.line_start(text.line_of(start)), start));
        let is_value = ["=", "return", "(", ","].iter().any(|end| head.trim_end().ends_with(end));
        !self.words.directive.is_empty() && (holder.lines.has_commas || is_value)
    }

    /// How deep `line` is in something that many authors do not indent: a namespace, the body of a page.
    pub(super) fn depth_in_flat(&self, line: Line, inner: Around, base: Line) -> Depth {
        let (text, tabs) = (self.scene.text, self.scene.settings.tabs);
        let [own, outer] = [line, base].map(|line| text.depth_of(line, tabs));
        let step = outer + self.scene.settings.unit.cells(tabs);
        let steps = match inner.lines.alike {
            Some(alike) if alike == outer => 0,
            Some(alike) if alike == step => 1,
            _ => u32::from(own == step),
        };
        Depth::Steps(base, steps)
    }

    /// As far in as all elements of `inner` are, if an author can have meant that; else so many steps from `base` on.
    pub(super) fn alike_or(&self, inner: Around, base: Line, steps: u32) -> Depth {
        let settings = self.scene.settings;
        let unit = settings.unit.cells(settings.tabs).max(1);
        let own = self.scene.text.depth_of(base, settings.tabs);
        // What follows an operator of two characters is set under its first letter.
        let sign = if self.is_after_operator(base) { 2 } else { 0 };
        let is_meant = |cell: &Cell| {
            let further = cell.0.saturating_sub(own.0);
            let is_tabbed = settings.unit == IndentUnit::Tab && sign > 0;
            let double = if self.scene.language.continuation_step > 0 || is_tabbed { 2 * unit } else { unit };
            !inner.lines.is_alone || further == unit || further == double || further == unit + sign
        };
        inner.lines.alike.filter(is_meant).map_or(Depth::Steps(base, steps), |cell| Depth::Alike(base, cell, steps))
    }
}
