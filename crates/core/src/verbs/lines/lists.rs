//! Lists: elements that commas, operators of conditions, or the blanks between attributes part.
//!
//! A list is found by the tree, from the innermost outward: what commas part directly in a node, the operands of a chain of one
//! operator, the attributes of a tag. Where no tree tells, it is what is in the innermost brackets, else the line. Cost: the nodes
//! around the place, and the children of each.

use crate::languages::scanner::Kind;
use crate::structure::{Node, Roles, Visited};
use crate::units::{Byte, Line, Span};
use crate::verbs::scene::Scene;

/// What parts the elements of a list.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Parting {
    /// Commas.
    Comma,
    /// An operator, as it is written.
    Operator(String),
    /// White space: attributes of a tag.
    Blank,
}

/// An element of a list.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct ListItem {
    /// From its first character on, or from what is attached above it, without a separator.
    pub span: Span,
    /// The comma or the operator after it.
    pub separator: Option<Span>,
}

/// A list.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct List {
    /// Its elements, in order: at least one.
    pub items: Vec<ListItem>,
    /// What parts them.
    pub parting: Parting,
    /// The brackets around it: of a tag its start before the first attribute, and its end.
    pub brackets: Option<[Span; 2]>,
}

impl List {
    /// The items that `span` touches, from the first to the last. A place in what parts two items belongs to the one before it.
    #[must_use]
    pub fn touched(&self, span: Span) -> Option<[usize; 2]> {
        let first = self.items.iter().rposition(|item| item.span.start <= span.start)?;
        let last = self.items.iter().rposition(|item| item.span.start < span.end.max(span.start + 1))?;
        Some([first, last.max(first)])
    }

    /// The white space and the separator between two neighbours, as another item would be parted from the one before it.
    #[must_use]
    pub fn glue(&self, scene: &Scene) -> String {
        let separator = match &self.parting {
            Parting::Comma => ",",
            Parting::Operator(operator) => operator,
            Parting::Blank => "",
        };
        let Some(pair) = self.items.windows(2).next() else {
            return if separator.is_empty() { " ".to_owned() } else { format!("{separator} ") };
        };
        let between = scene.text.slice(Span::new(pair[0].span.end, pair[1].span.start));
        let Some(line_end) = between.rfind('\n') else {
            let is_operator = matches!(self.parting, Parting::Operator(_));
            return if is_operator { between.into_owned() } else { format!("{separator} ") };
        };
        // Comments between the two belong to them.
        let indentation: String = between[line_end + 1..].chars().take_while(|c| c.is_whitespace()).collect();
        let end = scene.settings.line_end.as_str();
        match pair[0].separator {
            Some(operator) if scene.text.line_of(operator.start) > scene.text.line_of(pair[0].span.end) => {
                format!("{end}{indentation}{separator} ")
            }
            _ if matches!(self.parting, Parting::Operator(_)) => format!(" {separator}{end}{indentation}"),
            _ => format!("{separator}{end}{indentation}"),
        }
    }
}

/// The first thing that `look` makes of the lists around `span`, the innermost first.
pub fn find_list<T>(scene: &Scene, span: Span, mut look: impl FnMut(List) -> Option<T>) -> Option<T> {
    let mut is_known = false;
    let found = scene.find_around(span, |visited| {
        is_known = true;
        let children = (visited.children)();
        let list = chain(scene, visited, &children)
            .or_else(|| attributes(scene, visited, &children))
            .or_else(|| commas(scene, (visited.node, &children), span));
        list.filter(|list| holds(scene, list, span)).and_then(&mut look)
    });
    let is_prose = scene.language_at(span.start).prose;
    // Where the tree tells lists, what it does not take for one is none with a single element, in braces, or without brackets.
    let is_braced = |list: &List| list.brackets.is_some_and(|[open, _]| scene.text.char_at(open.start) == Some('{'));
    let is_list = |list: &List| match is_known {
        true => list.items.len() > 1 && !is_braced(list) && list.brackets.is_some(),
        false => list.items.len() > 1 || !is_prose,
    };
    found.or_else(|| scanned(scene, span).filter(is_list).and_then(look))
}

/// Whether `span` is inside of the brackets of `list`, or from its first item to its last.
fn holds(scene: &Scene, list: &List, span: Span) -> bool {
    let (first, last) = (list.items[0], list.items[list.items.len() - 1]);
    let whole = match list.brackets {
        Some([open, close]) => Span::new(open.end, close.start),
        None => Span::new(first.span.start, last.separator.map_or(last.span.end, |separator| separator.end)),
    };
    let text = scene.text;
    let line_start = text.indentation_span(text.line_of(whole.start)).start;
    whole.start.min(line_start.max(whole.start)) <= span.start && span.end <= whole.end
}

/// What commas part directly in a node: the group of neighbours that is at `span`.
fn commas(scene: &Scene, (node, children): (Node, &[Node]), span: Span) -> Option<List> {
    let mut groups = comma_groups(scene, (node, children));
    let is_alone = groups.len() == 1;
    let brackets = brackets_of(scene, children);
    let has_commas = |items: &[ListItem]| items.iter().any(|item| item.separator.is_some());
    // The arguments of a macro are tokens for some grammars: what is between two commas is told by the characters.
    if let Some([open, close]) = brackets
        && !is_alone
        && groups.iter().rposition(|items| has_commas(items)).is_some_and(|last| last > 0)
        && children.first().is_some_and(|child| child.span == open)
    {
        let items = scanned_items(scene, Span::new(open.end, close.start));
        return (items.len() > 1).then_some(List { items, parting: Parting::Comma, brackets: Some([open, close]) });
    }
    let touches = |items: &[ListItem]| {
        items[0].span.start <= span.end.max(span.start) && span.start <= items[items.len() - 1].span.end + 1
    };
    let items = match (is_alone, brackets) {
        (true, Some(_)) => groups.pop()?,
        // A comma after one thing alone ends it, as the arm of a match.
        _ => groups.into_iter().find(|items| touches(items) && has_commas(items) && items.len() > 1)?,
    };
    if !are_whole(scene, children, &items) {
        return None;
    }
    let brackets = brackets.filter(|[open, close]| {
        let inside = |item: &ListItem| open.end <= item.span.start && item.span.end <= close.start;
        is_alone && items.iter().all(inside)
    });
    // A block is no list, however few statements it has: without a comma only what has a key, or names, is one.
    let is_block = || {
        let Some([open, close]) = brackets.filter(|[open, _]| scene.text.char_at(open.start) == Some('{')) else {
            return false;
        };
        let is_keyed = |child: &Node| child.is(Roles::KEYED | Roles::KEY_NAME | Roles::SHORTHAND);
        let inside = || children.iter().filter(|child| open.end <= child.span.start && child.span.end <= close.start);
        !inside().any(is_keyed) && !scene.language.data && !holds_names(scene, open.start)
    };
    let counts = has_commas(&items) || (brackets.is_some() && node.is(Roles::HOLDER) && !is_block());
    counts.then_some(List { items, parting: Parting::Comma, brackets })
}

/// Whether nothing of an element is a child beside it: a sign before or after one, as the `=` before a default value, would be.
fn are_whole(scene: &Scene, children: &[Node], items: &[ListItem]) -> bool {
    let is_sign = |node: &Node| {
        let first = scene.text.char_at(node.span.start);
        !node.is_named
            && !node.is(Roles::SEPARATOR)
            && first.is_some_and(|c| !c.is_alphanumeric() && !"()[]{}<>_\"'`".contains(c))
    };
    items.iter().all(|item| {
        let before = children.iter().rfind(|node| node.span.end <= item.span.start);
        let after = children.iter().find(|node| node.span.start >= item.span.end);
        !before.is_some_and(is_sign) && !after.is_some_and(is_sign)
    })
}

/// Whether what the brace at `open` begins holds names: of a path, an import or an export.
fn holds_names(scene: &Scene, open: Byte) -> bool {
    let text = scene.text;
    let line = text.content_span(text.line_of(open));
    let before = text.slice(Span::new(line.start, open));
    let words: Vec<&str> = before.split_whitespace().filter(|word| !matches!(*word, "pub" | "type")).collect();
    before.ends_with("::") || matches!(words[..], ["use" | "import" | "export"] | ["import", ..])
}

/// The items among `children` in groups, each of neighbours with a comma after all but the last.
fn comma_groups(scene: &Scene, (node, children): (Node, &[Node])) -> Vec<Vec<ListItem>> {
    let text = scene.text;
    let is_comma = |child: &Node| !child.is_named && child.is(Roles::SEPARATOR) && !child.is(Roles::SEMICOLON);
    let is_item = |child: &Node| {
        child.is_named && !child.is(Roles::FURNITURE | Roles::PROSE) && !text.trimmed(child.span).is_empty()
    };
    let mut groups: Vec<Vec<ListItem>> = Vec::new();
    let (mut attached, mut goes_on): (Option<Byte>, bool) = (None, false);
    for child in children {
        if is_comma(child) {
            let last = groups.last_mut().and_then(|items| items.last_mut());
            last.into_iter().for_each(|item| item.separator = item.separator.or(Some(child.span)));
            goes_on = true;
        } else if is_item(child) && child.is(Roles::ATTACHED) {
            let begins_line = text.indentation_span(text.line_of(child.span.start)).end == child.span.start;
            attached = attached.or(begins_line.then_some(child.span.start));
        } else if is_item(child) {
            let item = match node.is(Roles::HOLDER) {
                true => comma_item(scene, child.span, attached.take()),
                false => ListItem {
                    span: Span::new(attached.take().unwrap_or(child.span.start), text.trimmed(child.span).end),
                    separator: None,
                },
            };
            let has_comma = item.separator.is_some();
            match groups.last_mut().filter(|_| goes_on) {
                Some(items) => items.push(item),
                None => groups.push(vec![item]),
            }
            goes_on = has_comma;
        } else if !child.is_named || child.is(Roles::FURNITURE) {
            goes_on = false;
            attached = None;
        }
    }
    groups
}

/// The item at `span`, which begins with what is attached to it. Some grammars take the comma into the element.
fn comma_item(scene: &Scene, span: Span, attached: Option<Byte>) -> ListItem {
    let whole = scene.text.trimmed(span);
    let has_comma = scene.text.char_before(whole.end) == Some(',');
    let own = if has_comma { scene.text.trimmed(Span::new(whole.start, whole.end - 1)) } else { whole };
    let separator = has_comma.then(|| Span::new(whole.end - 1, whole.end));
    ListItem { span: Span::new(attached.unwrap_or(own.start), own.end), separator }
}

/// The first opening and the last closing bracket among `children`.
fn brackets_of(scene: &Scene, children: &[Node]) -> Option<[Span; 2]> {
    let bracket = |child: &Node, marks: &str| {
        let is_mark = scene.text.char_at(child.span.start).is_some_and(|c| marks.contains(c));
        (is_mark && child.span.len() == 1).then_some(child.span)
    };
    let open = children.iter().find_map(|child| bracket(child, "([{<"))?;
    let last = children.iter().rev().find(|child| !child.is(Roles::SEMICOLON))?;
    let close = bracket(last, ")]}>")?;
    (open.start < close.start).then_some([open, close])
}

/// The attributes of a tag.
fn attributes(scene: &Scene, visited: &Visited, children: &[Node]) -> Option<List> {
    if !visited.node.is(Roles::TAG) {
        return None;
    }
    let text = scene.text;
    let item = |child: &Node| ListItem { span: text.trimmed(child.span), separator: None };
    let items: Vec<ListItem> = children.iter().filter(|child| child.is(Roles::ATTRIBUTE)).map(item).collect();
    let [first, .., last] = items.as_slice() else {
        return items.first().copied().map(|only| tag_list(text, visited.node, vec![only], [only, only]));
    };
    let ends = [*first, *last];
    Some(tag_list(text, visited.node, items, ends))
}

fn tag_list(text: &crate::text::Text, tag: Node, items: Vec<ListItem>, [first, last]: [ListItem; 2]) -> List {
    let head = text.trimmed(Span::new(tag.span.start, first.span.start));
    let tail = Span::new(last.span.end, tag.span.end);
    let rest = text.slice(tail);
    let close = Span::new(tail.start + (rest.len() - rest.trim_start().len()), tag.span.end);
    List { items, parting: Parting::Blank, brackets: Some([head, close]) }
}

/// Operators whose operands may change places.
const OPERATORS: [&str; 4] = ["&&", "||", "and", "or"];

/// The operands of the chain of one operator that `visited` is the topmost node of.
fn chain(scene: &Scene, visited: &Visited, children: &[Node]) -> Option<List> {
    let text = scene.text;
    let operator = operator_in(scene, visited.node, children)?;
    let is_same = |node: Node, children: &[Node]| {
        node.symbol == visited.node.symbol && operator_in(scene, node, children).as_deref() == Some(operator.as_str())
    };
    // Only the topmost node is the chain.
    let is_inner = scene.find_around(visited.node.span, |outer| {
        let contains = outer.node.span.len() > visited.node.span.len();
        contains.then(|| is_same(outer.node, &(outer.children)()))
    });
    if is_inner == Some(true) {
        return None;
    }
    let mut items: Vec<ListItem> = Vec::new();
    let mut level = children.to_vec();
    loop {
        let operands: Vec<&Node> = level.iter().filter(|child| child.is_named && !is_operator(scene, child)).collect();
        let mark = level.iter().find(|child| is_operator(scene, child)).map(|child| child.span);
        let (left, right) = match operands[..] {
            [left, right] => (*left, *right),
            // A union may begin with its mark.
            [only] => {
                items.push(ListItem { span: text.trimmed(only.span), separator: None });
                break;
            }
            _ => return None,
        };
        items.push(ListItem { span: text.trimmed(right.span), separator: None });
        let deeper = scene.find_around(left.span, |inner| {
            (inner.node.span == left.span && inner.node.symbol == left.symbol).then(|| (inner.children)())
        });
        match deeper.filter(|children| is_same(left, children)) {
            Some(children) => level = children,
            None => {
                items.push(ListItem { span: text.trimmed(left.span), separator: mark });
                break;
            }
        }
    }
    items.reverse();
    for index in 1..items.len() {
        let between = Span::new(items[index - 1].span.end, items[index].span.start);
        let content = text.slice(between).to_lowercase();
        let at = content.find(&operator.to_lowercase())?;
        let start = between.start + at;
        items[index - 1].separator = Some(Span::new(start, start + operator.len()));
    }
    (items.len() > 1).then_some(List { items, parting: Parting::Operator(operator), brackets: None })
}

fn is_operator(scene: &Scene, child: &Node) -> bool {
    // The longest is three bytes: larger nodes are not read.
    child.span.len() <= 3 && (OPERATORS.contains(&scene.text.slice(child.span).to_lowercase().as_str()))
        || (!child.is_named && child.span.len() == 1 && scene.text.char_at(child.span.start) == Some('|'))
}

/// The operator of a chain that `node` is a part of.
fn operator_in(scene: &Scene, node: Node, children: &[Node]) -> Option<String> {
    let operators: Vec<&Node> = children.iter().filter(|child| is_operator(scene, child)).collect();
    let [operator] = operators[..] else { return None };
    let operator = scene.text.slice(operator.span).into_owned();
    // A bar parts the members of a type; between values it is arithmetic.
    (operator != "|" || node.is(Roles::UNION)).then_some(operator)
}

/// How many lines in each direction the brackets of a list are looked for without a tree.
const LIST_LINES: usize = 500;

/// The list in the innermost brackets around `span`, else in its line, by the characters of the code alone.
fn scanned(scene: &Scene, span: Span) -> Option<List> {
    let text = scene.text;
    let line = text.line_of(span.start);
    let near = Span::new(
        text.line_start(Line(line.0.saturating_sub(LIST_LINES))),
        text.content_span(Line((line.0 + LIST_LINES).min(text.last_line().0))).end,
    );
    let mut depth = 0;
    let before = code(scene, Span::new(near.start, span.start)).into_iter().rev().find(|(_, c)| {
        depth += i32::from(")]}".contains(*c)) - i32::from("([{".contains(*c));
        depth < 0
    });
    depth = 0;
    let after = before.and_then(|_| {
        code(scene, Span::new(span.end, near.end)).into_iter().find(|(_, c)| {
            depth += i32::from("([{".contains(*c)) - i32::from(")]}".contains(*c));
            depth < 0
        })
    });
    let brackets =
        before.zip(after).map(|((open, _), (close, _))| [Span::new(open, open + 1), Span::new(close, close + 1)]);
    let inside = brackets.map_or_else(|| text.content_span(line), |[open, close]| Span::new(open.end, close.start));
    let items = scanned_items(scene, inside);
    if brackets.is_some_and(|[open, _]| text.char_at(open.start) == Some('{')) && is_block(scene, inside) {
        return None;
    }
    (!items.is_empty()).then_some(List { items, parting: Parting::Comma, brackets })
}

/// Whether what is in braces are statements: a semicolon or a line end parts them.
fn is_block(scene: &Scene, inside: Span) -> bool {
    let text = scene.text;
    let mut depth = 0;
    let mut before: Option<(Byte, char)> = None;
    code(scene, inside).into_iter().any(|(at, c)| {
        depth += i32::from("([{".contains(c)) - i32::from(")]}".contains(c));
        let is_next_line = |last: Byte| text.line_of(last) < text.line_of(at);
        let goes_on = |last: char| ",=+-*/&|?:.<([{".contains(last) || ".?:&|+=)]}".contains(c);
        let ends_line = before.is_some_and(|(last, mark)| is_next_line(last) && !goes_on(mark));
        before = Some((at, c));
        depth == 0 && (c == ';' || ends_line)
    })
}

/// The brackets, commas and other characters of code between two places, with where they are.
fn code(scene: &Scene, span: Span) -> Vec<(Byte, char)> {
    let text = scene.text;
    let (first, last) = (text.line_of(span.start), text.line_of(span.end));
    let mut found = Vec::new();
    for line in (first.0..=last.0).map(Line) {
        let content = text.content_span(line);
        let pieces = scene.syntax.pieces(line);
        for (offset, c) in text.slice(content).char_indices() {
            let at = content.start + offset;
            let is_code = || !pieces.iter().any(|piece| piece.span.start <= at && at < piece.span.end);
            if span.start <= at && at < span.end && !c.is_whitespace() && is_code() {
                found.push((at, c));
            }
        }
    }
    found
}

/// What commas part in `inside`, without comments around it.
fn scanned_items(scene: &Scene, inside: Span) -> Vec<ListItem> {
    let text = scene.text;
    let mut depth = 0;
    let mut edges = vec![(inside.start, None)];
    let mut last = ' ';
    for (at, c) in code(scene, inside) {
        depth += i32::from("([{".contains(c)) - i32::from(")]}".contains(c));
        if c == ',' && depth == 0 {
            // In the pattern of a macro a comma may say what parts what is repeated.
            if last == ')' && text.char_at(at + 1).is_some_and(|c| "+*?".contains(c)) {
                return Vec::new();
            }
            edges.push((at, Some(Span::new(at, at + 1))));
        }
        last = c;
    }
    edges.push((inside.end, None));
    let item = |pair: &[(Byte, Option<Span>)]| {
        let start = pair[0].1.map_or(pair[0].0, |comma| comma.end);
        let span = without_comments(scene, Span::new(start, pair[1].0));
        (!span.is_empty()).then_some(ListItem { span, separator: pair[1].1 })
    };
    edges.windows(2).filter_map(item).filter(|item| !text.slice(item.span).is_empty()).collect()
}

/// `span` without white space and comments at its ends.
fn without_comments(scene: &Scene, span: Span) -> Span {
    let text = scene.text;
    let (first, last) = (text.line_of(span.start), text.line_of(span.end));
    let pieces = (first.0..=last.0).map(Line).flat_map(|line| scene.syntax.pieces(line));
    let comments: Vec<Span> = pieces
        .filter(|piece| piece.token.kind == Kind::Comment && !piece.span.is_empty())
        .map(|piece| piece.span)
        .collect();
    let mut kept = trimmed(scene, span);
    while !kept.is_empty() {
        let starts = comments.iter().find(|comment| comment.start == kept.start && comment.end <= kept.end);
        let ends = comments.iter().find(|comment| comment.end == kept.end && comment.start > kept.start);
        kept = match (starts, ends) {
            (Some(comment), _) => trimmed(scene, Span::new(comment.end, kept.end)),
            (None, Some(comment)) => trimmed(scene, Span::new(kept.start, comment.start)),
            (None, None) => break,
        };
    }
    kept
}

/// `span` without white space at its ends.
fn trimmed(scene: &Scene, span: Span) -> Span {
    let content = scene.text.slice(span);
    let head = content.len() - content.trim_start().len();
    if head == content.len() {
        Span::at(span.end)
    } else {
        Span::new(span.start + head, span.start + content.trim_end().len())
    }
}
