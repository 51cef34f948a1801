//! The table of servers: which there are for a language, as data. The shipped one, and a person's own file, `servers.toml`, which also
//! names commands that lay texts out (`[[formatter]]`).
//!
//! A row that is wrong is told by its line and leaves the others in force.

use serde_json::Value;
use snarvel_core::languages::by_name;
use snarvel_core::written::{Mistake, entries};
use std::collections::BTreeSet;
use std::path::{Path, PathBuf};
use toml::Spanned;
use toml::de::{DeTable, DeValue};

/// A server.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Row {
    /// Its name.
    pub name: String,
    /// The languages that it is for, by the names of the table of languages.
    pub languages: Vec<String>,
    /// Its program, as a name or a path.
    pub command: String,
    /// What the program is given.
    pub args: Vec<String>,
    /// Names of files that mark the folder of a project.
    pub root: Vec<String>,
    /// What it is told of its settings.
    pub settings: Value,
    /// What is set for it beside our own environment.
    pub env: Vec<(String, String)>,
    /// Whether it is used.
    pub use_it: Use,
}

/// Whether a server is used.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Use {
    /// It is.
    #[default]
    On,
    /// It is not: nor is the shipped row of its name.
    Off,
}

/// A command that lays texts out: from its standard input to its standard output.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Formatter {
    /// The language that it is for.
    pub language: String,
    /// The command, as a shell takes it.
    pub command: String,
}

/// The servers that there are.
#[derive(Clone, Debug, Default)]
pub struct Table {
    /// The person's.
    own: Vec<Row>,
    formatters: Vec<Formatter>,
}

/// The fields of a server.
const FIELDS: [&str; 8] = ["name", "languages", "command", "args", "root", "settings", "env", "enabled"];

impl Table {
    /// With the rows of a person's file, and what is wrong in it. Cost: linear in the text.
    #[must_use]
    pub fn read(text: &str) -> (Table, Vec<Mistake>) {
        let mut table = Table::default();
        let mut mistakes = read_into(text, &mut table.own, &mut table.formatters);
        mistakes.sort_by_key(|mistake| mistake.at);
        (table, mistakes)
    }

    /// The shipped rows.
    ///
    /// # Panics
    /// Never: a test reads them.
    #[must_use]
    pub fn shipped() -> &'static [Row] {
        static ROWS: std::sync::OnceLock<Vec<Row>> = std::sync::OnceLock::new();
        ROWS.get_or_init(|| {
            let (mut rows, mut formatters) = (Vec::new(), Vec::new());
            let mistakes = read_into(include_str!("servers.toml"), &mut rows, &mut formatters);
            assert!(mistakes.is_empty(), "the shipped table of servers: {mistakes:?}");
            rows
        })
    }

    /// The servers to use for a language: all of the person's, else the first of the shipped ones that is found.
    #[must_use]
    pub fn of(&self, language: &str, is_found: &dyn Fn(&str) -> bool) -> Vec<Row> {
        let is_for = |row: &&Row| row.languages.iter().any(|each| each == language);
        let own: Vec<Row> = self.own.iter().filter(is_for).filter(|row| row.use_it == Use::On).cloned().collect();
        if !own.is_empty() {
            return own;
        }
        let is_replaced = |row: &&Row| self.own.iter().any(|own| own.name == row.name);
        let shipped = Table::shipped().iter().filter(is_for).filter(|row| !is_replaced(row));
        shipped.filter(|row| is_found(&row.command)).take(1).cloned().collect()
    }

    /// Every row that may be used: the person's and the shipped ones that those leave in force.
    pub fn all(&self) -> impl Iterator<Item = &Row> {
        let is_left = |row: &&Row| !self.own.iter().any(|own| own.name == row.name);
        self.own.iter().filter(|row| row.use_it == Use::On).chain(Table::shipped().iter().filter(is_left))
    }

    /// The languages for which there is a row.
    #[must_use]
    pub fn languages(&self) -> BTreeSet<&str> {
        self.all().flat_map(|row| row.languages.iter().map(String::as_str)).collect()
    }

    /// The command that lays out texts in a language.
    #[must_use]
    pub fn formatter(&self, language: &str) -> Option<&Formatter> {
        self.formatters.iter().find(|each| each.language == language)
    }
}

/// Where the program called `command` is, by `PATH`.
#[must_use]
pub fn find_command(command: &str) -> Option<PathBuf> {
    use std::os::unix::fs::PermissionsExt;
    let is_program = |path: &PathBuf| {
        std::fs::metadata(path).is_ok_and(|about| about.is_file() && about.permissions().mode() & 0o111 != 0)
    };
    if command.contains('/') {
        return Some(PathBuf::from(command)).filter(is_program);
    }
    let path = std::env::var_os("PATH")?;
    std::env::split_paths(&path).map(|folder| folder.join(command)).find(is_program)
}

/// The folder of the project of a file: the nearest upward that holds one of `marks`, else `folder`, in which the project is. A
/// mark above `folder` is passed over.
#[must_use]
pub fn root_of(file: &Path, marks: &[String], folder: &Path) -> PathBuf {
    let is_marked = |at: &&Path| marks.iter().any(|mark| at.join(mark).exists());
    let within = file.ancestors().skip(1).take_while(|at| at.starts_with(folder));
    match within.clone().find(is_marked) {
        Some(root) => root.to_owned(),
        // A file elsewhere has a project of its own.
        None if !file.starts_with(folder) => {
            let above = file.ancestors().skip(1).find(is_marked);
            above.or(file.parent()).unwrap_or(folder).to_owned()
        }
        None => folder.to_owned(),
    }
}

/// What the protocol calls a language (its `TextDocumentItem` lists the names).
#[must_use]
pub fn protocol_name(language: &str) -> String {
    match language {
        "shell" => "shellscript",
        "jsx" => "javascriptreact",
        "tsx" => "typescriptreact",
        "make" => "makefile",
        "tex" => "latex",
        "hcl" => "terraform",
        "cuda" => "cuda-cpp",
        "fortran-fixed" => "fortran",
        "rst" => "restructuredtext",
        other => other,
    }
    .to_owned()
}

type Field<'t, 'i> = Spanned<DeValue<'i>>;

fn read_into(text: &str, rows: &mut Vec<Row>, formatters: &mut Vec<Formatter>) -> Vec<Mistake> {
    let (table, mut mistakes) = entries(text);
    for (key, value) in table.get_ref() {
        let at = key.span().start;
        match (key.get_ref().as_ref(), value.get_ref()) {
            ("server", DeValue::Array(entries)) => {
                for entry in entries {
                    match row(entry) {
                        Ok(row) => rows.push(row),
                        Err(mistake) => mistakes.push(mistake),
                    }
                }
            }
            ("formatter", DeValue::Array(entries)) => {
                for entry in entries {
                    match formatter(entry) {
                        Ok(formatter) => formatters.push(formatter),
                        Err(mistake) => mistakes.push(mistake),
                    }
                }
            }
            ("server" | "formatter", _) => {
                let what = format!("a {0} begins with [[{0}]]", key.get_ref());
                mistakes.push(Mistake { at, what });
            }
            (name, _) => {
                let what = format!("no entry {name:?}: [[server]] and [[formatter]] are");
                mistakes.push(Mistake { at, what });
            }
        }
    }
    mistakes
}

/// The table of an entry whose fields are all among `fields`.
fn entry_of<'e, 'i>(entry: &'e Field<'_, 'i>, (what, fields): (&str, &[&str])) -> Result<&'e DeTable<'i>, Mistake> {
    let DeValue::Table(table) = entry.get_ref() else {
        return Err(Mistake {
            at: entry.span().start,
            what: format!("a {what} is a table that begins with [[{what}]]"),
        });
    };
    match table.iter().find(|(key, _)| !fields.contains(&key.get_ref().as_ref())) {
        Some((key, _)) => {
            let what = format!("no field {:?}: {} are", key.get_ref(), fields.join(", "));
            Err(Mistake { at: key.span().start, what })
        }
        None => Ok(table),
    }
}

fn row(entry: &Field) -> Result<Row, Mistake> {
    let at = entry.span().start;
    let table = entry_of(entry, ("server", &FIELDS))?;
    let field = |name: &str| table.get(name);
    let missing = |name: &str| Mistake { at, what: format!("the server has no {name}") };
    let name = word(field("name").ok_or_else(|| missing("name"))?, "name")?;
    let use_it = match field("enabled").map(|field| (field.span().start, field.get_ref().as_bool())) {
        None | Some((_, Some(true))) => Use::On,
        Some((_, Some(false))) => Use::Off,
        Some((at, None)) => return Err(Mistake { at, what: "enabled is true or false".to_owned() }),
    };
    if use_it == Use::Off {
        return Ok(Row { name, use_it, ..Row::default() });
    }
    let languages = language_list(field("languages").ok_or_else(|| missing("languages"))?)?;
    let command = word(field("command").ok_or_else(|| missing("command"))?, "command")?;
    let list = |name: &str| field(name).map_or(Ok(Vec::new()), |field| words(field, name));
    let settings = field("settings").map_or(Ok(Value::Null), |field| match json(field.get_ref()) {
        settings @ Value::Object(_) => Ok(settings),
        _ => Err(Mistake { at: field.span().start, what: "settings is a table".to_owned() }),
    })?;
    let env = field("env").map_or(Ok(Vec::new()), environment)?;
    Ok(Row { name, languages, command, args: list("args")?, root: list("root")?, settings, env, use_it })
}

fn formatter(entry: &Field) -> Result<Formatter, Mistake> {
    let at = entry.span().start;
    let table = entry_of(entry, ("formatter", &["language", "command"]))?;
    let needed = |name: &str| {
        let missing = || Mistake { at, what: format!("the formatter has no {name}: language and command are needed") };
        table.get(name).ok_or_else(missing).and_then(|field| Ok((field.span().start, word(field, name)?)))
    };
    let (place, language) = needed("language")?;
    known_language(place, &language)?;
    Ok(Formatter { language, command: needed("command")?.1 })
}

fn known_language(at: usize, name: &str) -> Result<(), Mistake> {
    match by_name(name) {
        Some(_) => Ok(()),
        None => Err(Mistake { at, what: format!("no language is called {name:?}: snarvel languages lists them") }),
    }
}

fn language_list(field: &Field) -> Result<Vec<String>, Mistake> {
    let languages = words(field, "languages")?;
    if languages.is_empty() {
        return Err(Mistake { at: field.span().start, what: "languages names at least one".to_owned() });
    }
    languages.iter().try_for_each(|name| known_language(field.span().start, name))?;
    Ok(languages)
}

fn word(field: &Field, name: &str) -> Result<String, Mistake> {
    let wrong = || Mistake { at: field.span().start, what: format!("{name} is a text in quotes, not an empty one") };
    let text = field.get_ref().as_str().filter(|text| !text.trim().is_empty() && !text.contains('\0'));
    text.map(str::to_owned).ok_or_else(wrong)
}

fn words(field: &Field, name: &str) -> Result<Vec<String>, Mistake> {
    let wrong = || Mistake { at: field.span().start, what: format!("{name} is a list of texts in quotes") };
    let list = field.get_ref().as_array().ok_or_else(wrong)?;
    list.iter().map(|each| each.get_ref().as_str().map(str::to_owned).ok_or_else(wrong)).collect()
}

fn environment(field: &Field) -> Result<Vec<(String, String)>, Mistake> {
    let wrong = || Mistake { at: field.span().start, what: "env is a table of names and texts in quotes".to_owned() };
    let table = field.get_ref().as_table().ok_or_else(wrong)?;
    let one = |(key, value): (&Spanned<toml::de::DeString>, &Field)| {
        let name = key.get_ref().to_string();
        let is_name = !name.is_empty() && !name.contains(['=', '\0']);
        let value = value.get_ref().as_str().filter(|value| is_name && !value.contains('\0')).ok_or_else(wrong)?;
        Ok((name, value.to_owned()))
    };
    table.iter().map(one).collect()
}

/// A value as JSON; dates are texts.
fn json(value: &DeValue) -> Value {
    match value {
        DeValue::String(text) => Value::from(text.as_ref()),
        DeValue::Integer(number) => {
            i64::from_str_radix(number.as_str(), number.radix()).map_or(Value::Null, Value::from)
        }
        DeValue::Float(number) => number.as_str().parse::<f64>().map_or(Value::Null, Value::from),
        DeValue::Boolean(is_true) => Value::from(*is_true),
        DeValue::Datetime(date) => Value::from(date.to_string()),
        DeValue::Array(list) => list.iter().map(|each| json(each.get_ref())).collect(),
        DeValue::Table(table) => {
            let fields = table.iter().map(|(key, value)| (key.get_ref().to_string(), json(value.get_ref())));
            Value::Object(fields.collect())
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn told(text: &str) -> Vec<String> {
        let (_, mistakes) = Table::read(text);
        let line = |at: usize| text[..at].matches('\n').count() + 1;
        mistakes.iter().map(|mistake| format!("{}: {}", line(mistake.at), mistake.what)).collect()
    }

    fn names(table: &Table, language: &str, found: &[&str]) -> Vec<String> {
        table.of(language, &|command| found.contains(&command)).into_iter().map(|row| row.name).collect()
    }

    #[test]
    fn the_shipped_table_has_servers_for_many_languages_and_each_row_is_whole() {
        let languages = Table::default().languages().len();
        assert!(languages >= 40, "{languages}");
        let mut names: Vec<&str> = Table::shipped().iter().map(|row| row.name.as_str()).collect();
        names.sort_unstable();
        let count = names.len();
        names.dedup();
        assert_eq!(names.len(), count, "a name twice");
    }

    #[test]
    fn of_the_shipped_ones_the_first_that_is_found_and_of_the_persons_all() {
        let table = Table::default();
        assert_eq!(names(&table, "python", &["pyright-langserver", "jedi-language-server"]), ["pyright"]);
        assert_eq!(names(&table, "python", &[]), [""; 0]);
        assert_eq!(names(&table, "text", &["clangd"]), [""; 0]);
        let own = r#"
            [[server]]
            name = "ebb"
            languages = ["python"]
            command = "ebb-server"
            settings = { ebb = { depth = 3, on = true } }
            [[server]]
            name = "flow"
            languages = ["python", "c"]
            command = "flow-server"
            env = { FLOW = "1" }
            [[server]]
            name = "bash"
            enabled = false
        "#;
        let (table, mistakes) = Table::read(own);
        assert_eq!(mistakes, []);
        assert_eq!(names(&table, "python", &["pylsp"]), ["ebb", "flow"]);
        assert_eq!(names(&table, "c", &["clangd"]), ["flow"]);
        assert_eq!(names(&table, "cpp", &["clangd"]), ["clangd"]);
        assert_eq!(names(&table, "shell", &["bash-language-server"]), [""; 0]);
        let ebb = &table.of("python", &|_| false)[0];
        assert_eq!(ebb.settings, serde_json::json!({"ebb": {"depth": 3, "on": true}}));
    }

    #[test]
    fn what_is_wrong_is_told_by_its_line_and_leaves_the_rest() {
        for (text, expected) in [
            ("[[server]]\nname = 3", "2: name is a text in quotes, not an empty one"),
            ("[[server]]\nname = \"a\"", "1: the server has no languages"),
            ("[[server]]\nname = \"a\"\nlanguages = [\"c\"]", "1: the server has no command"),
            ("[[server]]\nname = \"a\"\nlanguages = []\ncommand = \"a\"", "3: languages names at least one"),
            (
                "[[server]]\nname = \"a\"\nlanguages = [\"sea\"]\ncommand = \"a\"",
                "3: no language is called \"sea\": snarvel languages lists them",
            ),
            (
                "[[server]]\nname = \"a\"\ncolour = 1",
                "3: no field \"colour\": name, languages, command, args, root, settings, env, enabled are",
            ),
            ("[[server]]\nname = \"a\"\nenabled = \"no\"", "3: enabled is true or false"),
            ("[server]\nname = \"a\"", "1: a server begins with [[server]]"),
            ("[[tide]]\nname = \"a\"", "1: no entry \"tide\": [[server]] and [[formatter]] are"),
            ("[[formatter]]\nlanguage = \"c\"", "1: the formatter has no command: language and command are needed"),
        ] {
            assert_eq!(told(text), [expected], "{text}");
        }
        let (table, mistakes) = Table::read(
            "[[server]]\nname = 3\n[[formatter]]\nlanguage = \"c\"\ncommand = \"indent\"\n[[server]]\nname = \"a\"\nlanguages = [\"c\"]\ncommand = \"a\"\n",
        );
        assert_eq!((mistakes.len(), names(&table, "c", &[])), (1, vec!["a".to_owned()]));
        assert_eq!(table.formatter("c").map(|each| each.command.as_str()), Some("indent"));
    }

    #[test]
    fn the_folder_of_a_project_is_the_nearest_that_is_marked() {
        let folder = tempfile::tempdir().unwrap();
        let at = |name: &str| folder.path().join(name);
        std::fs::create_dir_all(at("a/b/c")).unwrap();
        std::fs::write(at("a/Cargo.toml"), "").unwrap();
        std::fs::write(at("Cargo.toml"), "").unwrap();
        let marks = ["Cargo.toml".to_owned()];
        assert_eq!(root_of(&at("a/b/c/x.rs"), &marks, &at("a")), at("a"));
        assert_eq!(root_of(&at("a/b/c/x.rs"), &marks, folder.path()), at("a"));
        assert_eq!(root_of(&at("a/b/c/x.rs"), &marks, &at("a/b")), at("a/b"), "a mark above the project");
        assert_eq!(root_of(&at("a/b/c/x.rs"), &[], folder.path()), folder.path());
        assert_eq!(root_of(&at("a/b/x.rs"), &marks, &at("other")), at("a"), "a file elsewhere");
    }
}
