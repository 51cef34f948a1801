//! The structure of a text: what the engine asks of a grammar's tree.
//!
//! A structure is a value that was taken before a verb runs: it is of the text as it is, and nothing waits for it. It may be
//! missing (no grammar, no time to parse): then verbs go by brackets, paragraphs and lines, and say so where it matters. What a
//! node is for is told by its [`Roles`]; the words that a grammar uses for its nodes are data of the crate that has grammars.
//! A text may hold several languages: each has its own nodes, inside those of the text around it.

use crate::units::Span;
use std::cell::RefCell;
use std::ops::{BitOr, ControlFlow};

/// What a node of a grammar is, as far as verbs care: a set.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Roles(u64);

impl Roles {
    /// A function, a method, a class or the like.
    pub const BLOCK: Roles = Roles(1);
    /// A block that is a function, a method or a constructor.
    pub const FUNCTION: Roles = Roles(1 << 1);
    /// A part of an outline: a block, a section below a heading, a table of settings.
    pub const ENTRY: Roles = Roles(1 << 2);
    /// An entry only where the text of the node begins with the word `module`.
    pub const ENTRY_BY_WORD: Roles = Roles(1 << 3);
    /// An entry only where a name is given to it on its line.
    pub const ENTRY_IF_NAMED: Roles = Roles(1 << 4);
    /// An entry only where its body is there.
    pub const ENTRY_WITH_BODY: Roles = Roles(1 << 5);
    /// It holds statements, declarations or elements that can change places.
    pub const HOLDER: Roles = Roles(1 << 6);
    /// A comment, an attribute or a decorator: it belongs to what follows it.
    pub const ATTACHED: Roles = Roles(1 << 7);
    /// A comma or a semicolon between elements.
    pub const SEPARATOR: Roles = Roles(1 << 8);
    /// A semicolon.
    pub const SEMICOLON: Roles = Roles(1 << 9);
    /// A tag, whose elements are its attributes.
    pub const TAG: Roles = Roles(1 << 10);
    /// A part of an element that is no element itself: its tags, their names, a first line for the system.
    pub const FURNITURE: Roles = Roles(1 << 11);
    /// An attribute of a tag.
    pub const ATTRIBUTE: Roles = Roles(1 << 12);
    /// It may be the value of a block, which stays last among statements.
    pub const VALUE: Roles = Roles(1 << 13);
    /// A statement in a block that may end in a value.
    pub const STATEMENT: Roles = Roles(1 << 14);
    /// The whole file: semicolons end what lies in it.
    pub const TOP_LEVEL: Roles = Roles(1 << 15);
    /// A part of markup inside another language.
    pub const MARKUP: Roles = Roles(1 << 16);
    /// Markup inside another language that has children.
    pub const MARKUP_ELEMENT: Roles = Roles(1 << 17);
    /// Code inside a string.
    pub const HOLE: Roles = Roles(1 << 18);
    /// A string, or a part of one that is no code.
    pub const STRING: Roles = Roles(1 << 19);
    /// Text between tags.
    pub const PROSE: Roles = Roles(1 << 20);
    /// The name of a field, a key, an attribute or a label.
    pub const KEY_NAME: Roles = Roles(1 << 21);
    /// It begins with a key where `=` or `:` comes after that.
    pub const KEYED: Roles = Roles(1 << 22);
    /// One word that says both the name of a field and its value.
    pub const SHORTHAND: Roles = Roles(1 << 23);
    /// The whole of a text, or of a part in another language.
    pub const ROOT: Roles = Roles(1 << 24);
    /// A part that the grammar does not take.
    pub const BROKEN: Roles = Roles(1 << 25);
    /// A line for the preprocessor, and what is under it.
    pub const DIRECTIVE: Roles = Roles(1 << 26);
    /// A statement or declaration with a head before its body.
    pub const HEADED: Roles = Roles(1 << 27);
    /// Something whose body may be as deep as it.
    pub const FLAT: Roles = Roles(1 << 28);
    /// Something that goes on as deep as where it begins.
    pub const FLUSH: Roles = Roles(1 << 29);
    /// A statement with a label before it.
    pub const LABELLED: Roles = Roles(1 << 30);

    /// Whether it has any of `roles`.
    #[must_use]
    pub fn has(self, roles: Roles) -> bool {
        self.0 & roles.0 != 0
    }

    /// The name of a type.
    pub const TYPE_NAME: Roles = Roles(1 << 31);
    /// A type that is one of several, which a bar parts.
    pub const UNION: Roles = Roles(1 << 32);
    /// A part of a text that goes up to the next one of its kind: it changes places with such parts alone.
    pub const SECTION: Roles = Roles(1 << 33);
    /// The parameters of a function.
    pub const PARAMETERS: Roles = Roles(1 << 35);
    /// It gives a name to a value: a declaration, the variable of a loop, an assignment where that declares.
    pub const DECLARES: Roles = Roles(1 << 36);

    /// None.
    pub const NONE: Roles = Roles(0);
}

impl BitOr for Roles {
    type Output = Roles;

    fn bitor(self, other: Roles) -> Roles {
        Roles(self.0 | other.0)
    }
}

/// A piece of the structure.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Node {
    /// Its bytes.
    pub span: Span,
    /// What it is.
    pub roles: Roles,
    /// The number of its kind in its grammar: it tells apart nodes of one span.
    pub symbol: u16,
    /// Whether it has a name in the grammar; a bracket or a comma has none.
    pub is_named: bool,
}

impl Node {
    /// Whether it has any of `roles`.
    #[must_use]
    pub fn is(&self, roles: Roles) -> bool {
        self.roles.has(roles)
    }

    /// Whether it is no more than the list of what lies in it: it begins with the first of that.
    #[must_use]
    pub fn is_container(&self) -> bool {
        self.is(Roles::HOLDER) && !self.is(Roles::ENTRY)
    }
}

/// The structure of one text as it was when this was taken.
pub trait Structure {
    /// Whether the text was parsed around `span`: of a large text only a window is.
    fn covers(&self, span: Span) -> bool;

    /// A walk through it.
    fn walk(&self) -> Box<dyn Walk + '_>;

    /// Visits the nodes that hold `span`, as [`Walk::around`] does.
    fn visit_around(&self, span: Span, wanted: Option<Roles>, visit: &mut Visit) {
        self.walk().around(span, wanted, visit);
    }

    /// The nodes that hold `span`, the smallest first.
    fn around(&self, span: Span) -> Vec<Node> {
        let mut found = Vec::new();
        self.visit_around(span, None, &mut |visited| {
            found.push(visited.node);
            ControlFlow::Continue(())
        });
        found
    }

    /// All nodes that have any of `roles`, in the order in which they begin; none where not all of the text was parsed. Cost:
    /// the whole tree.
    fn all(&self, roles: Roles) -> Vec<Node>;
}

/// What is done with each node that is visited, until it says that this is enough.
pub type Visit<'a> = dyn FnMut(Visited) -> ControlFlow<()> + 'a;

/// A node that is visited.
pub struct Visited<'a> {
    /// The node.
    pub node: Node,
    /// Gives what lies directly in it, in order. Cost: linear in that.
    pub children: &'a dyn Fn() -> Vec<Node>,
}

/// Visits the nodes around one place after the other. What the last place and the next have in common is not gone through again, so
/// that places in order cost no more than the tree.
pub trait Walk {
    /// Visits the nodes that hold `span` and have any of the roles that are wanted, the smallest first, in the language of that
    /// place and then in those around it. None where the text was not parsed.
    fn around(&mut self, span: Span, wanted: Option<Roles>, visit: &mut Visit);
}

/// A structure that goes on from where it was asked last.
pub struct Remembering<'a> {
    structure: &'a dyn Structure,
    walk: RefCell<Box<dyn Walk + 'a>>,
}

impl<'a> Remembering<'a> {
    /// The same as `structure`.
    #[must_use]
    pub fn new(structure: &'a dyn Structure) -> Remembering<'a> {
        Remembering { structure, walk: RefCell::new(structure.walk()) }
    }
}

impl Structure for Remembering<'_> {
    fn covers(&self, span: Span) -> bool {
        self.structure.covers(span)
    }

    fn walk(&self) -> Box<dyn Walk + '_> {
        self.structure.walk()
    }

    fn visit_around(&self, span: Span, wanted: Option<Roles>, visit: &mut Visit) {
        match self.walk.try_borrow_mut() {
            Ok(mut walk) => walk.around(span, wanted, visit),
            // Asked again by what is done with a node.
            Err(_) => self.structure.visit_around(span, wanted, visit),
        }
    }

    fn all(&self, roles: Roles) -> Vec<Node> {
        self.structure.all(roles)
    }
}

/// What is known of the structure of a text.
#[derive(Clone, Copy, Default)]
pub enum Known<'a> {
    /// Its language has no grammar.
    #[default]
    NoGrammar,
    /// It was not parsed in time.
    NotYet,
    /// This.
    Parsed(&'a dyn Structure),
}

impl<'a> Known<'a> {
    /// The structure, where it is known.
    #[must_use]
    pub fn structure(self) -> Option<&'a dyn Structure> {
        match self {
            Known::Parsed(structure) => Some(structure),
            Known::NoGrammar | Known::NotYet => None,
        }
    }

    /// Whether the language has a grammar.
    #[must_use]
    pub fn has_grammar(self) -> bool {
        !matches!(self, Known::NoGrammar)
    }
}
