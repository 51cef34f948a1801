//! Which kinds of nodes define names: the table, worked out for each grammar.

use crate::grammars::Grammar;
use std::collections::HashMap;
use std::sync::{Mutex, OnceLock, PoisonError};
use tree_sitter::Node;

/// What a name is of.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum NameKind {
    /// A function or method.
    Function,
    /// A type, class, interface or the like.
    Type,
    /// A value of a type that lists its values.
    Variant,
    /// A part of a type.
    Field,
    /// A constant.
    Constant,
    /// A variable that is known in the whole file or beyond.
    Variable,
    /// A module or namespace.
    Module,
    /// A macro.
    Macro,
    /// A part of an outline that is none of these.
    Section,
    /// A variable or parameter that is known only around where it is.
    Local,
    /// A name that is brought in from another file.
    Import,
}

impl NameKind {
    /// All of them.
    pub const ALL: [NameKind; 11] = [
        NameKind::Function,
        NameKind::Type,
        NameKind::Variant,
        NameKind::Field,
        NameKind::Constant,
        NameKind::Variable,
        NameKind::Module,
        NameKind::Macro,
        NameKind::Section,
        NameKind::Local,
        NameKind::Import,
    ];

    /// Its name.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            NameKind::Function => "function",
            NameKind::Type => "type",
            NameKind::Variant => "variant",
            NameKind::Field => "field",
            NameKind::Constant => "constant",
            NameKind::Variable => "variable",
            NameKind::Module => "module",
            NameKind::Macro => "macro",
            NameKind::Section => "section",
            NameKind::Local => "local",
            NameKind::Import => "import",
        }
    }

    /// The one of that name.
    #[must_use]
    pub fn by_name(name: &str) -> Option<NameKind> {
        NameKind::ALL.into_iter().find(|kind| kind.name() == name)
    }
}

/// A row of the table: what a kind of node defines.
#[derive(Clone, Copy, Debug)]
pub struct Rule {
    /// None: it only contains.
    pub kind: Option<NameKind>,
    pub place: Place,
    pub which: Which,
    /// A field without which it only mentions the name.
    pub needs: Option<u16>,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Which {
    First,
    All,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Place {
    Field(u16),
    /// The first where it is there, else the second.
    Either(u16, u16),
    Itself,
}

impl Place {
    pub fn field(self, node: Node) -> Option<u16> {
        match self {
            Place::Field(field) => Some(field),
            Place::Either(one, other) => Some(if node.child_by_field_id(one).is_some() { one } else { other }),
            Place::Itself => None,
        }
    }
}

/// The table for one grammar, by the numbers of its kinds of nodes.
pub struct Rules {
    pub by_kind: Vec<Option<Rule>>,
    /// Which kinds are identifiers.
    pub identifiers: Vec<bool>,
    pub name_field: Option<u16>,
    pub has_table: bool,
}

type Table = HashMap<String, HashMap<String, String>>;

/// The table that the program is built with.
///
/// # Panics
/// If it is wrong: a test reads it.
pub fn table() -> &'static Table {
    static TABLE: OnceLock<Table> = OnceLock::new();
    TABLE.get_or_init(|| toml::from_str(include_str!("../names.toml")).expect("names.toml is a table of rules"))
}

/// The grammar whose table counts for that of `name`.
pub fn table_name(name: &str) -> &str {
    match name {
        "jsx" => "javascript",
        "tsx" => "typescript",
        other => other,
    }
}

impl Rules {
    /// Those of `grammar`, made once and kept.
    pub fn of(grammar: &'static Grammar) -> &'static Rules {
        static MADE: OnceLock<Mutex<HashMap<&'static str, &'static Rules>>> = OnceLock::new();
        let mut made = MADE.get_or_init(Mutex::default).lock().unwrap_or_else(PoisonError::into_inner);
        made.entry(grammar.name).or_insert_with(|| Box::leak(Box::new(Rules::new(grammar))))
    }

    fn new(grammar: &Grammar) -> Rules {
        let own = table().get(table_name(grammar.name));
        let language = &grammar.language;
        let kinds = 0..u16::try_from(language.node_kind_count()).unwrap_or(u16::MAX);
        let name_of = |id: u16| language.node_kind_for_id(id).filter(|_| language.node_kind_is_named(id)).unwrap_or("");
        let rule = |id: u16| own.and_then(|own| own.get(name_of(id))).and_then(|row| Rule::read(row, language));
        Rules {
            by_kind: kinds.clone().map(rule).collect(),
            identifiers: kinds.map(|id| is_identifier(name_of(id))).collect(),
            name_field: language.field_id_for_name("name").map(std::num::NonZero::get),
            has_table: own.is_some(),
        }
    }

    pub fn is_identifier(&self, node: Node) -> bool {
        self.identifiers.get(usize::from(node.kind_id())).copied().unwrap_or(false)
    }
}

/// Whether nodes of the kind called `name` are names.
pub fn is_identifier(name: &str) -> bool {
    let is_leaf = name.ends_with("identifier") || name.ends_with("_word") || name.ends_with("_name");
    let is_joined = ["scoped", "qualified", "generic", "namespace", "dotted", "template"];
    matches!(name, "identifier" | "name" | "word" | "constant" | "keyframes_name" | "object_reference")
        || (is_leaf && !is_joined.iter().any(|part| name.starts_with(part)) && name != "system_lib_name")
}

impl Rule {
    pub fn read(row: &str, language: &tree_sitter::Language) -> Option<Rule> {
        let mut words = row.split(' ');
        let what = words.next()?;
        let kind = NameKind::by_name(what);
        if kind.is_none() && what != "container" {
            return None;
        }
        let field = words.next().unwrap_or("name");
        let (field, which) = match field.strip_suffix('*') {
            Some(field) => (field, Which::All),
            None => (field, Which::First),
        };
        let id = |field: &str| language.field_id_for_name(field).map(std::num::NonZero::get);
        let place = match field.split_once('/') {
            Some((one, other)) => Place::Either(id(one)?, id(other)?),
            None if field == "." => Place::Itself,
            None => Place::Field(id(field)?),
        };
        let needs = match words.next() {
            Some(field) => Some(id(field)?),
            None => None,
        };
        Some(Rule { kind, place, which, needs })
    }
}
