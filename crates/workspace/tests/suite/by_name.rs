//! Definitions that the index finds by name, beside those that language servers find by meaning, on sources of other projects.
//! `scripts/test` brings the servers and the sources in TypeScript; those in C are of a package that this build uses, those in
//! Python come with Python.

use snarvel_core::languages::lexical::{Lexical, Syntax};
use snarvel_core::languages::scanner::Kind;
use snarvel_core::languages::{Language, by_name};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Line};
use snarvel_files::search::FileHits;
use snarvel_index::worker::{Answer as Named, Index, News as IndexNews, Question, Reach, Scope, Watching};
use snarvel_servers::ask::{Ask, At, Find};
use snarvel_servers::exchange::{Input, Profile};
use snarvel_servers::life::{Launch, Server};
use snarvel_servers::news::{Answer, News, State};
use snarvel_servers::table::protocol_name;
use snarvel_task::Report;
use std::path::{Path, PathBuf};
use std::process::Command;
use std::sync::Arc;
use std::sync::mpsc::{Receiver, channel};
use std::time::Duration;

/// So many names are looked up in each language.
const NAMES: usize = 200;

const DEADLINE: Duration = Duration::from_mins(2);

/// Numbers in no order, the same at every run: a congruential generator of Knuth's "MMIX".
struct Chance(u64);

impl Chance {
    fn below(&mut self, limit: usize) -> usize {
        self.0 = self.0.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        usize::try_from(self.0 >> 33).unwrap() % limit
    }
}

/// A copy of foreign sources, with what knows them.
struct Foreign {
    folder: tempfile::TempDir,
    files: Vec<(PathBuf, Text)>,
    language: Arc<Language>,
    index: (Index, Receiver<Report<IndexNews>>),
    server: (Server, Receiver<Report<News>>),
    asked: u64,
}

fn installed(name: &str) -> PathBuf {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../target/servers");
    let places = [root.join("python/bin"), root.join("node/node_modules/.bin")];
    let path = std::env::var_os("PATH").unwrap_or_default();
    let mut all = places.into_iter().chain(std::env::split_paths(&path)).map(|folder| folder.join(name));
    all.find(|path| path.is_file()).unwrap_or_else(|| panic!("{name} is missing: scripts/test installs it"))
}

fn copy(from: &Path, to: &Path, endings: &[&str], files: &mut Vec<PathBuf>) {
    std::fs::create_dir_all(to).unwrap();
    let mut entries: Vec<_> = std::fs::read_dir(from).unwrap().flatten().map(|entry| entry.path()).collect();
    entries.sort();
    for path in entries {
        let to = to.join(path.file_name().unwrap());
        if path.is_dir() {
            copy(&path, &to, endings, files);
        } else if path.extension().is_some_and(|ending| endings.iter().any(|known| ending == *known)) {
            std::fs::copy(&path, &to).unwrap();
            files.push(to);
        }
    }
}

impl Foreign {
    fn of(
        sources: &[PathBuf],
        language: &str,
        (endings, more): (&[&str], &[(&str, &str)]),
        server: &[&str],
    ) -> Foreign {
        let folder = tempfile::tempdir().unwrap();
        let mut paths = Vec::new();
        for source in sources {
            copy(source, &folder.path().join(source.file_name().unwrap()), endings, &mut paths);
        }
        for (name, content) in more {
            std::fs::write(folder.path().join(name), content).unwrap();
        }
        let language = by_name(language).unwrap();
        let read = |path: PathBuf| std::fs::read_to_string(&path).ok().map(|text| (path, Text::from(text.as_str())));
        let files = paths.into_iter().filter_map(read).collect();
        let (sender, news) = channel();
        let scope =
            Scope { folder: folder.path().to_owned(), kept: None, watching: Watching::Off, reach: Reach::Folder };
        let index = (Index::start(scope, move |report| drop(sender.send(report))), news);
        while !matches!(index.1.recv_timeout(DEADLINE).unwrap(), Report::News(IndexNews::Whole(_))) {}
        let (sender, news) = channel();
        let launch = Launch {
            profile: Profile {
                name: server[0].to_owned(),
                root: folder.path().to_owned(),
                settings: serde_json::Value::Null,
            },
            command: installed(server[0]),
            args: server[1..].iter().map(|&argument| argument.to_owned()).collect(),
            env: Vec::new(),
        };
        let server = (Server::start(launch, Box::new(move |report| drop(sender.send(report)))), news);
        Foreign { folder, files, language, index, server, asked: 0 }
    }

    /// Opens a text for the server.
    fn open(&self, (path, text): &(PathBuf, Text)) {
        let language = protocol_name(&self.language.name);
        self.server.0.give(Input::Open { path: path.clone(), language, text: text.clone(), revision: 0 });
    }

    /// Where the server says that the name at a place is defined.
    fn by_meaning(&mut self, path: &Path, byte: Byte) -> Vec<(PathBuf, usize)> {
        self.asked += 1;
        let ask = Ask::Find(Find::Definition, At { path: path.to_owned(), byte });
        self.server.0.give(Input::Ask(self.asked, ask));
        loop {
            match self.server.1.recv_timeout(DEADLINE).unwrap() {
                Report::News(News::Answer(number, answer)) if number == self.asked => {
                    let Answer::Places(files) = answer else { return Vec::new() };
                    let of = |file: FileHits| {
                        let path = file.path.clone();
                        file.hits.into_iter().map(move |hit| (path.clone(), hit.line)).collect::<Vec<_>>()
                    };
                    return files.into_iter().flat_map(of).collect();
                }
                Report::News(News::State(state @ (State::Failed(_) | State::Ended))) => panic!("{state:?}"),
                Report::Panicked(why) => panic!("{why}"),
                _ => {}
            }
        }
    }

    /// Where the index says so.
    fn by_index(&mut self, (path, text): (&Path, &Text), at: Byte) -> Option<(PathBuf, usize)> {
        self.asked += 1;
        let path = path.strip_prefix(self.folder.path()).unwrap().to_owned();
        let question = Question::Definition { path, language: self.language.clone(), text: text.clone(), at };
        self.index.0.ask(self.asked, question);
        loop {
            match self.index.1.recv_timeout(DEADLINE).unwrap() {
                Report::News(IndexNews::Answer(number, Named::Definition(found))) if number == self.asked => {
                    let first = found?.candidates.into_iter().next()?;
                    return Some((self.folder.path().join(first.path), first.definition.line.0));
                }
                _ => {}
            }
        }
    }

    /// Whether the definition at a place bears that name: not a file that is included, nor a keyword that leads somewhere.
    fn bears(&self, (path, line): &(PathBuf, usize), name: &str) -> bool {
        let text = self.files.iter().find(|file| file.0 == *path).map(|file| file.1.content(Line(*line)));
        text.is_some_and(|content| content.split(|c: char| !c.is_alphanumeric() && c != '_').any(|word| word == name))
    }

    /// How many names of [`NAMES`] have the server's definition as their first candidate. Only uses in code count: names whose definition
    /// the server finds in these sources, under that name, and that neither takes for a definition themselves.
    fn agreeing(&mut self) -> usize {
        let word = regex::Regex::new(r"\b[A-Za-z_][A-Za-z_0-9]{2,}\b").unwrap();
        let files = self.files.clone();
        files.iter().for_each(|file| self.open(file));
        let mut chance = Chance(20);
        let (mut agreeing, mut asked, mut tries) = (0, 0, 0);
        while asked < NAMES {
            tries += 1;
            assert!(tries < 20 * NAMES, "{asked} names in {tries} places");
            let (path, text) = &files[chance.below(files.len())];
            let whole = text.to_string();
            let words: Vec<_> = word.find_iter(&whole).collect();
            if words.is_empty() {
                continue;
            }
            let name = words[chance.below(words.len())];
            let (at, line) = (Byte(name.start()), text.line_of(Byte(name.start())).0);
            let is_word = self.language.is_keyword(name.as_str()) || ["this", "include"].contains(&name.as_str());
            if is_word || Lexical::new(&self.language).of(text).kind_at(at) != Kind::Code {
                continue;
            }
            let meant = self.by_meaning(path, at);
            let is_here = |place: &(PathBuf, usize)| place.0 == *path && place.1 == line;
            let is_wanted = |place: &(PathBuf, usize)| !is_here(place) && self.bears(place, name.as_str());
            if meant.is_empty() || !meant.iter().all(is_wanted) {
                continue;
            }
            let named = self.by_index((path, text), at);
            if named.as_ref().is_some_and(is_here) {
                continue;
            }
            asked += 1;
            let agrees = named.as_ref().is_some_and(|named| meant.contains(named));
            agreeing += usize::from(agrees);
            if !agrees {
                let short = |(path, line): &(PathBuf, usize)| {
                    format!("{}:{}", path.strip_prefix(self.folder.path()).unwrap_or(path).display(), line + 1)
                };
                println!(
                    "{} {}: by meaning {:?}, by name {:?}",
                    short(&(path.clone(), line)),
                    name.as_str(),
                    meant.iter().map(short).collect::<Vec<_>>(),
                    named.as_ref().map(short)
                );
            }
        }
        println!("{}: {agreeing} of {asked} names agree", self.language.title);
        agreeing
    }
}

/// At least so many of [`NAMES`]: 85 of a hundred.
const WANTED: usize = NAMES * 85 / 100;

fn registry() -> PathBuf {
    let home = std::env::var_os("CARGO_HOME").map(PathBuf::from);
    home.unwrap_or_else(|| PathBuf::from(std::env::var_os("HOME").unwrap()).join(".cargo")).join("registry/src")
}

#[test]
fn names_of_foreign_c_are_found_where_clangd_finds_them() {
    let of_package =
        |folder: &Path| folder.file_name().is_some_and(|name| name.to_string_lossy().starts_with("tree-sitter-0."));
    let packages =
        std::fs::read_dir(registry()).unwrap().flatten().flat_map(|each| std::fs::read_dir(each.path()).unwrap());
    let package = packages.flatten().map(|each| each.path()).find(|path| of_package(path)).unwrap();
    let flags = [("compile_flags.txt", "-Isrc\n-Iinclude\n-D_GNU_SOURCE\n")];
    let sources = [package.join("src"), package.join("include")];
    let mut foreign =
        Foreign::of(&sources, "c", (&["c", "h"], &flags), &["clangd", "--background-index=0", "--log=error"]);
    let agreeing = foreign.agreeing();
    assert!(agreeing >= WANTED, "{agreeing} of {NAMES}");
}

#[test]
fn names_of_foreign_python_are_found_where_pylsp_finds_them() {
    let out = Command::new("python3").args(["-c", "import json; print(json.__path__[0])"]).output().unwrap();
    let json = PathBuf::from(String::from_utf8(out.stdout).unwrap().trim());
    let packages = ["json", "email", "http", "logging", "unittest"].map(|name| json.with_file_name(name));
    let mut foreign = Foreign::of(&packages, "python", (&["py"], &[]), &["pylsp"]);
    let agreeing = foreign.agreeing();
    assert!(agreeing >= WANTED, "{agreeing} of {NAMES}");
}

#[test]
fn names_of_foreign_typescript_are_found_where_its_server_finds_them() {
    let sources =
        Path::new(env!("CARGO_MANIFEST_DIR")).join("../../target/servers/node/node_modules/rxjs/src/internal");
    let config = [(
        "tsconfig.json",
        r#"{"compilerOptions": {"target": "es2020", "module": "commonjs", "lib": ["es2020", "dom"]}}"#,
    )];
    let mut foreign =
        Foreign::of(&[sources], "typescript", (&["ts"], &config), &["typescript-language-server", "--stdio"]);
    let agreeing = foreign.agreeing();
    assert!(agreeing >= WANTED, "{agreeing} of {NAMES}");
}
