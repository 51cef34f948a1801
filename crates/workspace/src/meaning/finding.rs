//! What was found about a name, and what it is known from.

use snarvel_files::search::FileHits;
use snarvel_servers::news::Access;

/// What is asked about a name.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Topic {
    /// Where it is defined.
    Definition,
    /// Where it is declared.
    Declaration,
    /// Where its type is defined.
    Type,
    /// What implements it.
    Implementation,
    /// Where it is used.
    Uses,
    /// What it has to do with: what calls it, what it calls, its parts.
    Relations,
    /// What there is to read about it.
    Describe,
}

impl Topic {
    /// What is said where nothing was found.
    #[must_use]
    pub fn nothing(self, name: &str) -> String {
        match self {
            Topic::Definition => format!("no definition of {name} was found"),
            Topic::Declaration => format!("no declaration of {name} was found"),
            Topic::Type => format!("no type of {name} was found"),
            Topic::Implementation => format!("nothing was found that implements {name}"),
            Topic::Uses => format!("no use of {name} was found"),
            Topic::Relations => format!("nothing was found that has to do with {name}"),
            Topic::Describe => format!("nothing is written about {name}"),
        }
    }
}

/// What something is known from.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum By {
    /// A server, by its name: it knows what names mean.
    Meaning(String),
    /// The names of the project.
    Index,
    /// The text of the files.
    Text,
    /// The outline of the file.
    Outline,
}

impl By {
    /// As it is said.
    #[must_use]
    pub fn told(&self) -> String {
        match self {
            By::Meaning(server) => format!("by meaning ({server})"),
            By::Index => "by name (index)".to_owned(),
            By::Text => "by name (text of the files)".to_owned(),
            By::Outline => "by the outline of the file".to_owned(),
        }
    }
}

/// Something that has to do with a name.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Relation {
    /// How: `calls it`, `is called`, `part`, `in this file`.
    pub how: &'static str,
    /// Its name.
    pub name: String,
    /// What it is.
    pub kind: String,
    /// How many others it is in.
    pub depth: usize,
    /// Where its name is.
    pub place: FileHits,
}

/// What was found about a name.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Finding {
    /// The number of the inquiry.
    pub number: u64,
    /// What was asked.
    pub topic: Topic,
    /// The name.
    pub name: String,
    /// What it is known from.
    pub by: By,
    /// Places, file by file: paths from the folder of the project, whole paths elsewhere.
    pub files: Vec<FileHits>,
    /// What there is to read about it.
    pub text: String,
    /// What it has to do with.
    pub relations: Vec<Relation>,
    /// Which of the places in the file that was asked from read it and which write it.
    pub accesses: Vec<(snarvel_core::units::Span, Access)>,
}

impl Finding {
    /// How many places there are.
    #[must_use]
    pub fn places(&self) -> usize {
        self.files.iter().map(|file| file.hits.len()).sum()
    }

    /// Whether nothing was found.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.files.is_empty() && self.text.is_empty() && self.relations.is_empty()
    }

    /// The places, one after the other.
    pub fn each(&self) -> impl Iterator<Item = (&std::path::Path, &snarvel_files::search::FileHit)> {
        self.files.iter().flat_map(|file| file.hits.iter().map(|hit| (file.path.as_path(), hit)))
    }
}
