//! What is looked for: the switches, and what is typed.

use crate::panels::line::InputLine;
use snarvel_core::languages::scanner::Kind;
use snarvel_core::search::pattern::{Case, Edges, Form};
use snarvel_core::search::replacement::HitShape;
use snarvel_workspace::finding::index_of;

/// Where is looked.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Scope {
    /// In what was selected.
    Selections,
    /// In the file.
    #[default]
    File,
    /// In all files of the folder.
    Project,
}

impl Scope {
    /// Its name.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            Scope::Selections => "selections",
            Scope::File => "file",
            Scope::Project => "project",
        }
    }
}

/// Which line takes keys.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Focus {
    /// What is looked for.
    Find,
    /// What comes in its place.
    Put,
}

/// The lines that are typed.
#[derive(Debug)]
pub struct Lines {
    /// What is looked for.
    pub find: InputLine,
    /// What comes in its place.
    pub put: InputLine,
    /// Which of the two takes keys.
    pub focus: Focus,
    /// Whether what comes in its place was asked for.
    pub is_replacing: bool,
}

impl Lines {
    /// The line that takes keys.
    pub fn line(&mut self) -> &mut InputLine {
        match self.focus {
            Focus::Find => &mut self.find,
            Focus::Put => &mut self.put,
        }
    }
}

/// How is looked.
#[derive(Clone, Copy, Debug)]
pub struct Switches {
    /// How the pattern is read.
    pub form: Form,
    /// Upper and lower case.
    pub case: Case,
    /// Whole words.
    pub edges: Edges,
    /// Whether hits in code, strings and comments count.
    pub kinds: [bool; 3],
    /// Where is looked.
    pub scope: Scope,
    /// Whether what comes takes the shape of the hit.
    pub shape: HitShape,
}

impl Switches {
    /// Whether a hit of that kind counts.
    #[must_use]
    pub fn counts(&self, kind: Kind) -> bool {
        self.kinds[index_of(kind)]
    }

    /// Case: smart, exact, either, in turn.
    pub fn turn_case(&mut self) {
        self.case = match self.case {
            Case::Smart => Case::Exact,
            Case::Exact => Case::Either,
            Case::Either => Case::Smart,
        };
    }

    /// As typed or an expression, in turn.
    pub fn turn_form(&mut self) {
        self.form = if self.form == Form::Literal { Form::Expression } else { Form::Literal };
    }

    /// The shape of the hit, or as typed, in turn.
    pub fn turn_shape(&mut self) {
        self.shape = if self.shape == HitShape::Given { HitShape::Ignored } else { HitShape::Given };
    }

    /// Anywhere or whole words, in turn.
    pub fn turn_edges(&mut self) {
        self.edges = if self.edges == Edges::Anywhere { Edges::WholeWords } else { Edges::Anywhere };
    }
}
