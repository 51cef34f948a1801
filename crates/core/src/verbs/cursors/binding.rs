//! What declares a name: the function, the type or the file in which it is bound.
//!
//! The tree tells functions, their parameters and what gives names to values; whether a name in such a node is what gets the value is told
//! by what is before it there. Blocks inside of a function are not told apart. Cost: the nodes around each use.

use crate::structure::{Node, Roles};
use crate::units::{Byte, Span};
use crate::verbs::cursors::names::{Belongs, belongs_to};
use crate::verbs::scene::Scene;

/// Where a name is bound.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Binding {
    /// In this function.
    Function(Span),
    /// As a member of this type.
    Member(Span),
    /// As a member of a type that is not told.
    AnyMember,
    /// In the file.
    File,
}

/// A use of a name, with what is around it.
#[derive(Clone, Debug)]
pub struct BoundUse {
    /// Where it is.
    pub span: Span,
    pub(super) belongs: Belongs,
    /// The functions around it, the innermost first; not the one that it is the name of.
    pub(super) functions: Vec<Span>,
    /// The innermost type around it that is no function.
    kind: Option<Span>,
    /// Whether it is outside of functions in that type, or nearer to the type than to any function.
    is_of_type: bool,
    /// Whether it gives the name to what it means.
    pub(super) declares: bool,
}

/// What is around each of `uses`. Cost: the nodes around them.
#[must_use]
pub fn looked_at(scene: &Scene, uses: &[Span]) -> Vec<BoundUse> {
    uses.iter().map(|span| use_at(scene, *span)).collect()
}

fn use_at(scene: &Scene, span: Span) -> BoundUse {
    let text = scene.text;
    let mut found = BoundUse {
        span,
        belongs: belongs_to(scene, span),
        functions: Vec::new(),
        kind: None,
        is_of_type: false,
        declares: false,
    };
    let (mut is_parameter, mut is_name) = (false, false);
    let wanted = Roles::FUNCTION | Roles::BLOCK | Roles::PARAMETERS | Roles::DECLARES;
    scene.find_having(wanted, span, |visited| {
        let node = visited.node;
        if node.is(Roles::PARAMETERS) && found.functions.is_empty() {
            is_parameter |= is_declared_in(scene, node, span);
        } else if node.is(Roles::FUNCTION) {
            let own_name = !is_parameter && is_name_of(scene, node, span, &(visited.children)());
            match own_name && found.functions.is_empty() {
                true => is_name = true,
                false => found.functions.push(node.span),
            }
        } else if node.is(Roles::DECLARES) && found.functions.is_empty() && !is_name {
            found.declares |= is_declared_in(scene, node, span);
        } else if node.is(Roles::BLOCK) && found.kind.is_none() {
            // The name of a type is bound outside of it.
            let head = text.slice(Span::new(node.span.start, span.start));
            let is_own = !head.contains(['{', '(', ':', '\n']) && found.functions.is_empty();
            if !is_own {
                found.kind = Some(node.span);
                found.is_of_type = found.functions.is_empty();
            }
        }
        None::<()>
    });
    found.declares |= is_parameter || is_name;
    found
}

/// Whether `span` is the name of the function `node`: the parameters follow it.
fn is_name_of(scene: &Scene, node: Node, span: Span, children: &[Node]) -> bool {
    let text = scene.text;
    let parameters = children.iter().find(|child| child.is(Roles::PARAMETERS)).map(|child| child.span.start);
    let rest = text.slice(Span::new(span.end, node.span.end.max(span.end).min(span.end + 200)));
    let follows =
        rest.trim_start().starts_with(['(', '<', '[']) || rest.trim_start().starts_with("do") || rest.starts_with('\n');
    let before = text.slice(Span::new(node.span.start, span.start));
    follows && !before.contains(['(', '{']) && parameters.is_none_or(|parameters| span.end <= parameters)
}

/// Whether the name at `span` gets the value in the declaration `node`, or is a parameter there: it is before the value and the type.
fn is_declared_in(scene: &Scene, node: Node, span: Span) -> bool {
    let text = scene.text;
    let from = text.slice(Span::new(node.span.start, span.start));
    let after = text.slice(Span::new(span.end, node.span.end.max(span.end).min(span.end + 400)));
    // Of a list the part with the name.
    let part =
        if node.is(Roles::PARAMETERS) { from.rsplit([',', '(', '|', '[']).next().unwrap_or(&from) } else { &*from };
    let is_value = part.contains('=')
        || part.contains(':')
        || part.contains(" in ")
        || part.contains(" of ")
        || part.contains("->");
    let next = after.trim_start();
    let is_called = next.starts_with(['(', '.', '[']) || next.starts_with("::") || next.starts_with("->");
    !is_value && !is_called
}

/// Where the use at `index` is bound.
#[must_use]
pub fn binding_of(uses: &[BoundUse], index: usize) -> Binding {
    let own = &uses[index];
    // What is named before a value belongs to what is called or built there.
    if own.belongs == Belongs::Member || (own.belongs == Belongs::Key && !own.declares) {
        return member(uses, own);
    }
    for function in &own.functions {
        let declares = |other: &BoundUse| {
            other.declares
                && other.functions.first() == Some(function)
                && matches!(other.belongs, Belongs::Local | Belongs::LocalAndKey)
        };
        if uses.iter().any(declares) {
            return Binding::Function(*function);
        }
    }
    if own.belongs == Belongs::Key {
        return member(uses, own);
    }
    // What a type declares is used in it by its name alone, where the language has that.
    let of_type =
        |other: &&BoundUse| other.declares && other.is_of_type && other.kind.is_some() && other.kind == own.kind;
    match uses.iter().find(of_type).and_then(|other| other.kind) {
        Some(kind) => Binding::Member(kind),
        None => Binding::File,
    }
}

/// The type whose member a use is, where only one type declares such a member.
fn member(uses: &[BoundUse], own: &BoundUse) -> Binding {
    let declaring = |each: &&BoundUse| each.is_of_type && (each.declares || each.belongs == Belongs::Key);
    let mut kinds: Vec<Span> = uses.iter().filter(declaring).filter_map(|each| each.kind).collect();
    kinds.sort_unstable();
    kinds.dedup();
    match (kinds.as_slice(), own.kind) {
        ([only], _) => Binding::Member(*only),
        (several, Some(kind)) if several.contains(&kind) => Binding::Member(kind),
        _ => Binding::AnyMember,
    }
}

/// The place of a name that gives itself to an item: of the function or type whose lines are `span`.
#[must_use]
pub fn name_of_item(scene: &Scene, span: Span) -> Option<Span> {
    let text = scene.text;
    let content = text.slice(span);
    let start = span.start + (content.len() - content.trim_start().len());
    let end = text.trimmed(span).end;
    let is_item = |node: Node| {
        node.is(Roles::BLOCK)
            && node.span.start <= text.next_boundary(end)
            && text.trimmed(node.span).end == end
            && node.span.start >= start
    };
    let last = text.indentation_span(text.line_of(end)).end;
    let item = scene
        .find_having(Roles::BLOCK, Span::at(last.min(end)), |visited| Some(visited.node).filter(|node| is_item(*node)))
        .or_else(|| {
            scene.find_having(Roles::BLOCK, Span::new(start, start), |visited| {
                Some(visited.node).filter(|node| is_item(*node))
            })
        })?;
    name_in_head(scene, item.span)
}

/// The last word before the first bracket of what begins at the start of `item`.
fn name_in_head(scene: &Scene, item: Span) -> Option<Span> {
    let text = scene.text;
    let line = text.content_span(text.line_of(item.start));
    let head = text.slice(Span::new(item.start, line.end.max(item.start)));
    let stop = head.find(['(', '{', '<', ':', '=']).unwrap_or(head.len());
    let before = head[..stop].trim_end();
    let is_word = |c: char| c.is_alphanumeric() || c == '_' || c == '$';
    let name = before.len() - before.trim_end_matches(is_word).len();
    let end = item.start + before.len();
    (name > 0 && end > Byte(0)).then(|| Span::new(end - name, end))
}
