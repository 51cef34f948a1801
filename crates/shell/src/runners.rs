//! Which commands run a file or a selection of a language, and which build and test a project: tables, which a person may add to.

use serde::Deserialize;
use std::path::{Path, PathBuf};
use std::sync::LazyLock;

/// How a language is run.
#[derive(Clone, Debug, PartialEq, Eq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Runner {
    /// The name of the language, as the table of languages has it.
    pub language: String,
    /// A file that must be in the folder of the file or above it: the command runs there.
    #[serde(default)]
    pub needs: Option<String>,
    /// The command for a file: `{file}` is its path, `{out}` a path for what is built.
    #[serde(default)]
    pub file: Option<String>,
    /// The command for the language's own shell.
    #[serde(default)]
    pub repl: Option<String>,
    /// What ends a line that is sent to that.
    #[serde(default = "line_feed")]
    pub line_end: String,
    /// Whether indentation is the language's grammar.
    #[serde(default)]
    pub off_side: bool,
}

fn line_feed() -> String {
    "\n".to_owned()
}

/// When a task runs.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum When {
    /// When it is asked for.
    #[default]
    Asked,
    /// After each save, too.
    Save,
}

/// What builds or tests a project.
#[derive(Clone, Debug, PartialEq, Eq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Task {
    /// What it is called.
    pub name: String,
    /// The command.
    pub command: String,
    /// When it runs.
    #[serde(default)]
    pub when: When,
    /// A file that must be in the project's folder.
    #[serde(default)]
    pub needs: Option<String>,
}

/// Runners and tasks.
#[derive(Clone, Debug, Default, PartialEq, Eq, Deserialize)]
pub struct Table {
    /// How languages are run; of several rows the first that can be counts.
    #[serde(default)]
    pub runner: Vec<Runner>,
    /// What builds and tests.
    #[serde(default)]
    pub task: Vec<Task>,
}

static SHIPPED: LazyLock<Table> =
    LazyLock::new(|| toml::from_str(include_str!("runners.toml")).expect("the shipped table is right"));

/// A command that runs a file.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct FileRun {
    /// The command, for a shell.
    pub command: String,
    /// Where it runs.
    pub folder: PathBuf,
}

impl Table {
    /// The person's rows, then the shipped ones.
    #[must_use]
    pub fn with_shipped(&self) -> Table {
        let mut table = self.clone();
        table.runner.extend(SHIPPED.runner.iter().cloned());
        table.task.extend(SHIPPED.task.iter().cloned());
        table
    }

    /// The command for the file at `path` of `language`, which is built at `out` where it is built; none where no row has one.
    #[must_use]
    pub fn run_of_file(&self, language: &str, path: &Path, out: &Path) -> Option<FileRun> {
        let own = path.parent().unwrap_or(Path::new("/"));
        let rows = self.runner.iter().filter(|row| row.language == language && row.file.is_some());
        rows.into_iter().find_map(|row| {
            let folder = match &row.needs {
                None => own.to_owned(),
                Some(needed) => folder_with(own, needed)?,
            };
            let command = row.file.as_deref()?.replace("{file}", &quoted(path)).replace("{out}", &quoted(out));
            Some(FileRun { command, folder })
        })
    }

    /// The row with the shell of `language` for a file in `folder`, and where that runs.
    #[must_use]
    pub fn repl_of(&self, language: &str, folder: &Path) -> Option<(&Runner, PathBuf)> {
        let rows = self.runner.iter().filter(|row| row.language == language && row.repl.is_some());
        rows.into_iter().find_map(|row| match &row.needs {
            None => Some((row, folder.to_owned())),
            Some(needed) => Some((row, folder_with(folder, needed)?)),
        })
    }

    /// The tasks for the project in `folder`, each name once.
    #[must_use]
    pub fn tasks_in(&self, folder: &Path) -> Vec<Task> {
        let mut found: Vec<Task> = Vec::new();
        for task in &self.task {
            let is_met = task.needs.as_ref().is_none_or(|needed| folder.join(needed).exists());
            if is_met && found.iter().all(|known| known.name != task.name) {
                found.push(task.clone());
            }
        }
        found
    }
}

/// The nearest folder from `from` upwards that has `name`.
fn folder_with(from: &Path, name: &str) -> Option<PathBuf> {
    from.ancestors().find(|folder| folder.join(name).exists()).map(Path::to_owned)
}

/// A path as a word of a shell's command (POSIX, Shell Command Language 2.2.2).
#[must_use]
pub fn quoted(path: &Path) -> String {
    let path = path.to_string_lossy();
    let is_plain = |c: char| c.is_alphanumeric() || matches!(c, '/' | '.' | '-' | '_' | '+');
    if path.chars().all(is_plain) { path.into_owned() } else { format!("'{}'", path.replace('\'', "'\\''")) }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_shipped_table_has_many_languages() {
        let mut languages: Vec<&str> = SHIPPED.runner.iter().map(|row| row.language.as_str()).collect();
        languages.sort_unstable();
        languages.dedup();
        assert!(languages.len() >= 40, "{}", languages.len());
        assert!(SHIPPED.runner.iter().all(|row| row.file.is_some() || row.repl.is_some()));
        assert!(SHIPPED.task.iter().all(|task| task.needs.is_some() && task.when == When::Asked));
    }

    #[test]
    fn the_first_row_that_can_be_counts() {
        let folder = tempfile::tempdir().unwrap();
        let (sound, out) = (folder.path().join("skerry sound"), Path::new("/tmp/out"));
        std::fs::create_dir_all(sound.join("src")).unwrap();
        let file = sound.join("src").join("tide.rs");
        let shipped = Table::default().with_shipped();
        let run = shipped.run_of_file("rust", &file, out).unwrap();
        assert_eq!(run.command, format!("rustc '{}' -o /tmp/out && /tmp/out", file.display()));
        std::fs::write(sound.join("Cargo.toml"), "").unwrap();
        let run = shipped.run_of_file("rust", &file, out).unwrap();
        assert_eq!(run, FileRun { command: "cargo run".to_owned(), folder: sound.clone() });
        let own: Table = toml::from_str("[[runner]]\nlanguage = \"rust\"\nfile = \"rust-script {file}\"\n").unwrap();
        let run = own.with_shipped().run_of_file("rust", Path::new("/a/b.rs"), out).unwrap();
        assert_eq!((run.command.as_str(), run.folder), ("rust-script /a/b.rs", PathBuf::from("/a")));
        assert_eq!(shipped.run_of_file("markdown", &file, out), None);
        assert_eq!(shipped.repl_of("python", &sound).unwrap().0.repl.as_deref(), Some("python3 -q"));
        assert!(shipped.repl_of("rust", &sound).is_none());
        let names: Vec<String> = shipped.tasks_in(&sound).into_iter().map(|task| task.name).collect();
        assert_eq!(names, ["cargo check", "cargo test", "cargo clippy", "cargo build"]);
    }

    #[test]
    fn paths_are_single_words() {
        assert_eq!(quoted(Path::new("/a/b-1.rs")), "/a/b-1.rs");
        assert_eq!(quoted(Path::new("/a b/it's.rs")), "'/a b/it'\\''s.rs'");
        assert_eq!(quoted(Path::new("$(x)")), "'$(x)'");
    }
}
