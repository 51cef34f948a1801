//! Which recipes there are: what was recorded, those of the person, those of the project, those that come with the program.

use serde::{Deserialize, Serialize};
use snarvel_files::{private, reading};
use std::path::{Path, PathBuf};

/// A recipe by its name.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Known {
    /// What it is called.
    pub name: String,
    /// What it holds.
    pub source: String,
}

/// The name of what was recorded and has no name yet.
pub const RECORDED: &str = "last recording";

/// What the names of files with recipes end in.
pub const ENDING: &str = "recipe";

/// The recipes that come with the program: names and what they hold.
pub const SHIPPED: [(&str, &str); 8] = [
    ("assignments-to-json", include_str!("../../recipes/assignments-to-json.recipe")),
    ("blank-lines", include_str!("../../recipes/blank-lines.recipe")),
    ("constants-to-enum", include_str!("../../recipes/constants-to-enum.recipe")),
    ("dated-header", include_str!("../../recipes/dated-header.recipe")),
    ("fields-to-builder", include_str!("../../recipes/fields-to-builder.recipe")),
    ("fields-to-getters", include_str!("../../recipes/fields-to-getters.recipe")),
    ("imports-in-order", include_str!("../../recipes/imports-in-order.recipe")),
    ("quoted-list", include_str!("../../recipes/quoted-list.recipe")),
];

/// Where a recipe is from.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum From {
    /// No file yet: it was recorded, or edited and not kept.
    Draft,
    /// The person's own folder.
    Person,
    /// The project's folder.
    Project,
    /// The program.
    Shipped,
}

impl From {
    /// As lists say it.
    #[must_use]
    pub fn name(self) -> &'static str {
        match self {
            From::Draft => "draft",
            From::Person => "yours",
            From::Project => "project",
            From::Shipped => "shipped",
        }
    }
}

/// A recipe.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Entry {
    /// Its name and what it holds.
    pub known: Known,
    /// Where it is from.
    pub from: From,
}

/// All recipes.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Book {
    /// The recipes: those of the person, of the project, of the program, each by name.
    pub entries: Vec<Entry>,
    /// How many the project has that are not listed, because its folder is not trusted.
    pub untrusted: usize,
}

impl Default for Book {
    /// Those that come with the program.
    fn default() -> Book {
        Book { entries: shipped().collect(), untrusted: 0 }
    }
}

fn shipped() -> impl Iterator<Item = Entry> {
    let entry = |(name, source): (&str, &str)| Entry {
        known: Known { name: name.to_owned(), source: source.to_owned() },
        from: From::Shipped,
    };
    SHIPPED.into_iter().map(entry)
}

/// Where recipes are looked for.
#[derive(Clone, Debug)]
pub struct Shelves {
    /// The person's folder.
    pub person: Option<PathBuf>,
    /// The project's folder with recipes.
    pub project: PathBuf,
    /// Whether the person trusts the project's folder.
    pub is_trusted: bool,
}

/// The folder of a project that holds its recipes.
#[must_use]
pub fn of_project(folder: &Path) -> PathBuf {
    folder.join(".snarvel").join("recipes")
}

/// A recipe may have this many bytes, and a folder this many recipes.
const LONGEST: u64 = 4 << 20;
const MOST: usize = 2_000;

impl Book {
    /// Reads the recipes of all folders. What cannot be read is left out.
    #[must_use]
    pub fn read(shelves: &Shelves) -> Book {
        let person = shelves.person.as_deref().map(|folder| in_folder(folder, From::Person)).unwrap_or_default();
        let project = in_folder(&shelves.project, From::Project);
        let (project, untrusted) = if shelves.is_trusted { (project, 0) } else { (Vec::new(), project.len()) };
        Book { entries: person.into_iter().chain(project).chain(shipped()).collect(), untrusted }
    }

    /// The recipe called `name`: the person's before the project's before the program's.
    #[must_use]
    pub fn find(&self, name: &str) -> Option<&Known> {
        self.entries.iter().map(|entry| &entry.known).find(|known| known.name == name)
    }
}

fn in_folder(folder: &Path, from: From) -> Vec<Entry> {
    let files = std::fs::read_dir(folder).into_iter().flatten().filter_map(Result::ok).take(MOST);
    let mut entries: Vec<Entry> = files
        .filter_map(|file| {
            let path = file.path();
            let name = path.file_stem()?.to_str()?.to_owned();
            let is_recipe = path.extension().is_some_and(|ending| ending == ENDING);
            let bytes = if is_recipe { reading::read(&path, LONGEST).ok()? } else { return None };
            Some(Entry { known: Known { name, source: String::from_utf8(bytes).ok()? }, from })
        })
        .collect();
    entries.sort_by(|one, other| one.known.name.cmp(&other.known.name));
    entries
}

/// Writes a recipe of the person.
///
/// # Errors
/// A name that is none, and a folder or file that cannot be written.
pub fn keep(folder: &Path, known: &Known) -> Result<(), String> {
    check_name(&known.name)?;
    let path = folder.join(format!("{}.{ENDING}", known.name));
    private::write(&path, known.source.as_bytes())
        .map_err(|error| format!("{} is not written: {error}", path.display()))
}

/// Whether `name` can be that of a recipe.
///
/// # Errors
/// What would be one.
pub fn check_name(name: &str) -> Result<(), String> {
    let is_fine = |c: char| c.is_alphanumeric() || matches!(c, '-' | '_' | '.' | ' ');
    let is_name = !name.trim().is_empty() && !name.starts_with('.') && name.chars().all(is_fine) && name != RECORDED;
    if is_name { Ok(()) } else { Err(format!("{name:?} is no name: letters, digits, - and _ make one")) }
}
