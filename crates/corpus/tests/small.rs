//! A small part of the corpus at every run of the tests: the sources of the packages that the build and the tests use.

use snarvel_corpus::families::ALL;
use snarvel_corpus::family::Family;
use snarvel_corpus::run::{Plan, run};
use snarvel_corpus::sources::{Layout, Source};
use std::fmt::Write;
use std::path::{Path, PathBuf};
use std::process::Command;

/// Files of each language: enough for every family to find its places.
const FILES: usize = 40;

/// Edits of each family in each language, and of those that are for formatted files, which are of one language here.
const EDITS: usize = 70;
const EDITS_OF_FORMATTED: usize = 240;

fn gather(folder: &Path, ending: &str, paths: &mut Vec<PathBuf>) {
    let Ok(entries) = std::fs::read_dir(folder) else { return };
    for entry in entries.flatten() {
        let path = entry.path();
        if path.is_dir() {
            gather(&path, ending, paths);
        } else if path.extension().is_some_and(|own| own == ending) {
            paths.push(path);
        }
    }
}

/// The folders of the packages that this build uses: the registry may hold others, too.
fn packages(registry: &Path) -> Vec<PathBuf> {
    let lock = std::fs::read_to_string(Path::new(env!("CARGO_MANIFEST_DIR")).join("../../Cargo.lock")).unwrap();
    let told = |line: &str, key: &str| line.strip_prefix(key).map(|rest| rest.trim_matches('"').to_owned());
    let (mut name, mut names) = (String::new(), Vec::new());
    for line in lock.lines() {
        if let Some(own) = told(line, "name = ") {
            name = own;
        } else if let Some(version) = told(line, "version = ") {
            names.push(format!("{name}-{version}"));
        }
    }
    let roots = std::fs::read_dir(registry).into_iter().flatten().flatten().map(|entry| entry.path());
    roots.flat_map(|root| names.iter().map(move |name| root.join(name))).collect()
}

/// Some of the files that end so, the same ones at each run: in the order of a hash of their names.
fn files(folders: &[PathBuf], ending: &str) -> Vec<PathBuf> {
    let mut paths = Vec::new();
    folders.iter().for_each(|folder| gather(folder, ending, &mut paths));
    let name = |path: &Path| path.components().rev().take(4).collect::<PathBuf>();
    paths.sort_by_cached_key(|path| snarvel_files::stamp::number_of(&name(path)));
    paths
}

fn sources() -> Vec<Source> {
    let home = std::env::var("CARGO_HOME").map(PathBuf::from);
    let home = home.unwrap_or_else(|_| Path::new(&std::env::var("HOME").unwrap()).join(".cargo"));
    let packages = packages(&home.join("registry/src"));
    let target = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../target");
    let mut sources = Vec::new();
    for (folders, ending) in [
        (packages.clone(), "rs"),
        (packages.clone(), "c"),
        (vec![target.join("servers/python/lib")], "py"),
        (vec![target.join("servers/node/node_modules/rxjs/src")], "ts"),
    ] {
        let read = |path: PathBuf| Source::read(&path, Layout::ByHand).ok().flatten();
        sources.extend(files(&folders, ending).into_iter().filter_map(read).take(FILES));
    }
    // What rustfmt has just written.
    let folder = tempfile::tempdir().unwrap();
    for path in files(&packages, "rs").into_iter().take(FILES) {
        let copy = folder.path().join(path.file_name().unwrap());
        std::fs::copy(&path, &copy).unwrap();
        let format = ["--edition", "2021", "--config", "skip_children=true"];
        let done = Command::new("rustfmt").args(format).arg(&copy).output().unwrap();
        if done.status.success() {
            sources.extend(Source::read(&copy, Layout::Formatted).unwrap());
        }
    }
    sources
}

#[test]
fn edits_on_foreign_code_come_out_right() {
    let sources = sources();
    let is_of_formatted =
        |family: &&&dyn Family| ["laid-out", "shifted", "pasted", "pasted-elsewhere"].contains(&family.name());
    let (formatted, others): (Vec<&dyn Family>, Vec<&dyn Family>) =
        ALL.iter().partition(|family| is_of_formatted(family));
    let plan = Plan { families: others, sources: &sources, edits: EDITS, seed: 1, threads: 2 };
    let (mut table, mut wrong) = run(&plan);
    for family in formatted {
        // A piece of the same kind at another depth is not in every file.
        let edits = if family.name() == "pasted-elsewhere" { 2 * EDITS_OF_FORMATTED } else { EDITS_OF_FORMATTED };
        let (more, others) = run(&Plan { families: vec![family], edits, ..plan });
        table.join(more);
        wrong.extend(others);
    }
    let mut told = String::new();
    for each in &wrong {
        let verdict = format!("{:?}", each.edit.verdict);
        let _ = writeln!(told, "{} {} {} {verdict}", each.family, each.source.display(), each.edit.script);
    }
    let mut too_many = Vec::new();
    for family in ALL {
        let counts = table.of_family(family.name());
        // Each file is one edit of what lays it out.
        let least = if family.is_once() { FILES / 2 } else { 200 };
        assert!(counts.edits >= least, "{}: {counts:?}", family.name());
        // Chains after a closure and the like are known (docs/correctness.md); a new fault is more than that.
        let most = if is_of_formatted(&family) { 30 } else { 10 };
        if counts.wrong * 1000 > counts.edits * most {
            too_many.push(family.name());
        }
    }
    assert!(too_many.is_empty(), "{too_many:?}\n{table}\n{told}");
}
