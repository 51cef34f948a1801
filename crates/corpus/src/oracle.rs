//! What a parser knows of a text: errors and tokens. It is tree-sitter's own tree, not Snarvel's reading of it.

use snarvel_core::languages::Language;
use snarvel_core::units::{Byte, Span};
use tree_sitter::{Node, Parser, Tree};

/// A text with its tree.
pub struct Parsed {
    text: String,
    tree: Tree,
}

/// A node that a person can mean: a statement, a declaration, an element, on lines of its own.
#[derive(Clone, Copy, Debug)]
pub struct Piece {
    /// Its bytes.
    pub span: Span,
    /// How many nodes are around it.
    pub depth: usize,
    /// The grammar's numbers of the kinds of what is around it and of itself.
    pub kinds: [u16; 2],
    /// The first and the last line, from 0.
    pub lines: [usize; 2],
}

impl Parsed {
    /// Parses `text`. None where the language has no grammar.
    #[must_use]
    pub fn of(language: &Language, text: &str) -> Option<Parsed> {
        let mut parser = Parser::new();
        parser.set_language(&snarvel_syntax::tree_sitter_language(&language.name)?).ok()?;
        let tree = parser.parse(text, None)?;
        Some(Parsed { text: text.to_owned(), tree })
    }

    /// Number of places that the grammar does not take.
    #[must_use]
    pub fn errors(&self) -> usize {
        let mut count = 0;
        self.each(&mut |node| count += usize::from(node.is_error() || node.is_missing()));
        count
    }

    /// The tokens in order, without comments and white space.
    #[must_use]
    pub fn tokens(&self) -> Vec<String> {
        let mut tokens = Vec::new();
        let mut until = 0;
        self.each(&mut |node| {
            if node.start_byte() < until {
                return;
            }
            if is_comment(node) {
                until = node.end_byte();
            } else if node.child_count() == 0 || is_string_content(node) {
                until = node.end_byte();
                let token = self.text[node.byte_range()].trim();
                if !token.is_empty() {
                    tokens.push(token.to_owned());
                }
            }
        });
        tokens
    }

    /// The comments, in order.
    #[must_use]
    pub fn comments(&self) -> Vec<Span> {
        let mut comments: Vec<Span> = Vec::new();
        self.each(&mut |node| {
            let is_inner = comments.last().is_some_and(|last| node.end_byte() <= last.end.0);
            if is_comment(node) && !is_inner {
                comments.push(Span::new(Byte(node.start_byte()), Byte(node.end_byte())));
            }
        });
        comments
    }

    /// The nodes with a name that are alone on their lines, but for a comma, a semicolon or a comment after them.
    #[must_use]
    pub fn pieces(&self) -> Vec<Piece> {
        let mut pieces: Vec<Piece> = Vec::new();
        let mut cursor = self.tree.walk();
        let mut depth = 0;
        loop {
            let node = cursor.node();
            if let Some(piece) =
                self.piece(node, depth).filter(|piece| pieces.last().is_none_or(|last| last.span != piece.span))
            {
                pieces.push(piece);
            }
            if cursor.goto_first_child() {
                depth += 1;
                continue;
            }
            while !cursor.goto_next_sibling() {
                if !cursor.goto_parent() {
                    return pieces;
                }
                depth -= 1;
            }
        }
    }

    fn piece(&self, node: Node, depth: usize) -> Option<Piece> {
        let (start, end) = (node.start_byte(), self.trimmed_end(node));
        if !node.is_named() || node.parent().is_none() || end <= start || is_comment(node) || node.is_error() {
            return None;
        }
        let line_start = self.text[..start].rfind('\n').map_or(0, |at| at + 1);
        let line_end = self.text[end..].find('\n').map_or(self.text.len(), |at| end + at);
        let is_alone = self.text[line_start..start].trim().is_empty()
            && self.text[end..line_end].trim().trim_end_matches([',', ';']).is_empty();
        let first = node.start_position().row;
        let last = first + self.text[start..end].matches('\n').count();
        let kinds = [node.parent()?.kind_id(), node.kind_id()];
        is_alone.then(|| Piece { span: Span::new(Byte(start), Byte(end)), depth, kinds, lines: [first, last] })
    }

    fn trimmed_end(&self, node: Node) -> usize {
        node.start_byte() + self.text[node.byte_range()].trim_end().len()
    }

    /// Whether the text without the bytes of `span`, blanks in their place, is one that the grammar takes as well as this one.
    #[must_use]
    pub fn can_lose(&self, language: &Language, span: Span) -> bool {
        let mut text = self.text.clone();
        let blanks: String =
            text[span.start.0..span.end.0].chars().map(|c| if c == '\n' { '\n' } else { ' ' }).collect();
        text.replace_range(span.start.0..span.end.0, &blanks);
        Parsed::of(language, &text).is_some_and(|other| other.errors() <= self.errors())
    }

    fn each(&self, look: &mut dyn FnMut(Node)) {
        let mut cursor = self.tree.walk();
        loop {
            look(cursor.node());
            if cursor.goto_first_child() {
                continue;
            }
            while !cursor.goto_next_sibling() {
                if !cursor.goto_parent() {
                    return;
                }
            }
        }
    }
}

fn is_comment(node: Node) -> bool {
    node.kind().contains("comment")
}

/// Whether a node is the inside of a string: what is between its escapes is no node of its own.
fn is_string_content(node: Node) -> bool {
    node.kind() == "string_content"
}

/// `tokens` without commas before a closing bracket, and with what is between quotes joined: what a change of layout may change.
#[must_use]
pub fn without_layout(tokens: &[String]) -> Vec<String> {
    let mut kept: Vec<String> = Vec::new();
    for token in tokens {
        let closes = matches!(token.as_str(), ")" | "]" | "}" | ">");
        if closes && kept.last().is_some_and(|last| last == ",") {
            kept.pop();
        }
        kept.push(token.clone());
    }
    kept
}
