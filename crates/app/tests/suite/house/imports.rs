//! Which file uses which: read from the `use` lines of every crate of the workspace, and from the paths in its code.
//!
//! A module is a file. A path to an item counts as a use of the file in which the deepest module of the path is. A `pub use`
//! only gives something another name, so it is no use by itself; whoever imports that name uses the file that it comes from.

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};

/// A source file of the workspace.
pub struct Source {
    /// From the workspace's folder.
    pub path: PathBuf,
    /// The folder of its crate below `crates/`.
    pub room: String,
    /// Its module path within the crate, empty for the root.
    pub module: Vec<String>,
    /// What it holds, without the tests at its end.
    pub code: String,
}

/// A path that a `use` line names, and whether the line is a `pub use`.
pub struct Import {
    pub path: Vec<String>,
    pub is_public: bool,
}

/// The workspace's folder.
pub fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../..").canonicalize().unwrap()
}

/// All files below `crates/*/src`, in the order of their paths.
pub fn sources() -> Vec<Source> {
    let root = root();
    let mut rooms: Vec<PathBuf> =
        std::fs::read_dir(root.join("crates")).unwrap().map(|each| each.unwrap().path()).collect();
    rooms.sort();
    let mut found = Vec::new();
    for room in rooms {
        let folder = room.join("src");
        let mut files = files_below(&folder);
        files.sort();
        for file in files {
            let text = std::fs::read_to_string(&file).unwrap();
            let code = text.split("#[cfg(test)]\nmod tests {").next().unwrap_or_default().to_owned();
            found.push(Source {
                path: file.strip_prefix(&root).unwrap().to_owned(),
                room: room.file_name().unwrap().to_string_lossy().into_owned(),
                module: module_of(file.strip_prefix(&folder).unwrap()),
                code,
            });
        }
    }
    found
}

/// All Rust files below `folder`.
pub fn files_below(folder: &Path) -> Vec<PathBuf> {
    let mut found = Vec::new();
    for entry in std::fs::read_dir(folder).into_iter().flatten().flatten() {
        let path = entry.path();
        if path.is_dir() {
            found.extend(files_below(&path));
        } else if path.extension().is_some_and(|ending| ending == "rs") {
            found.push(path);
        }
    }
    found
}

fn module_of(relative: &Path) -> Vec<String> {
    let mut parts: Vec<String> =
        relative.with_extension("").components().map(|part| part.as_os_str().to_string_lossy().into_owned()).collect();
    if parts.last().is_some_and(|last| last == "mod") || parts == ["lib"] || parts == ["main"] {
        parts.pop();
    }
    parts
}

/// The imports of a file, groups in braces taken apart, names given with `as` left out.
pub fn imports(code: &str) -> Vec<Import> {
    let mut found = Vec::new();
    let mut lines = code.lines();
    while let Some(line) = lines.next() {
        let line = line.trim_start();
        let is_public =
            line.starts_with("pub use ") || line.starts_with("pub(crate) use ") || line.starts_with("pub(super) use ");
        let Some(start) = line.find("use ").filter(|at| *at == 0 || is_public) else { continue };
        let mut statement = line[start + 4..].to_owned();
        while !statement.contains(';') {
            let Some(next) = lines.next() else { break };
            statement.push_str(next.trim());
        }
        let statement = statement.split(';').next().unwrap_or_default().replace(' ', "");
        let mut paths = Vec::new();
        expand(&mut Vec::new(), &statement, &mut paths);
        found.extend(paths.into_iter().map(|path| Import { path, is_public }));
    }
    found
}

/// The paths of two parts and more that the code itself names, those of `use` lines and comments left out.
pub fn inline_paths(code: &str) -> Vec<Vec<String>> {
    let mut found = Vec::new();
    let mut is_import = false;
    for line in code.lines() {
        let line = line.split("//").next().unwrap_or_default().trim_start();
        is_import |= line.starts_with("use ") || (line.starts_with("pub") && line.contains(" use "));
        if !is_import {
            let is_part = |c: char| c.is_alphanumeric() || c == '_' || c == ':';
            let words = line.split(|c: char| !is_part(c)).filter(|word| word.contains("::"));
            found.extend(words.map(|word| word.split("::").map(str::to_owned).collect::<Vec<String>>()));
        }
        is_import &= !line.contains(';');
    }
    found
}

/// Takes `a::{b,c::{d,e}}` apart.
fn expand(before: &mut Vec<String>, tree: &str, found: &mut Vec<Vec<String>>) {
    for branch in branches(tree) {
        let (head, group) = match branch.split_once('{') {
            Some((head, group)) => (head.trim_end_matches("::"), group.strip_suffix('}')),
            None => (branch, None),
        };
        let depth = before.len();
        before.extend(head.split("::").filter(|part| !part.is_empty()).map(str::to_owned));
        match group {
            Some(group) => expand(before, group, found),
            None => found.push(before.clone()),
        }
        before.truncate(depth);
    }
}

fn branches(tree: &str) -> Vec<&str> {
    let (mut depth, mut start, mut found) = (0, 0, Vec::new());
    for (at, c) in tree.char_indices() {
        match c {
            '{' => depth += 1,
            '}' => depth -= 1,
            ',' if depth == 0 => {
                found.push(&tree[start..at]);
                start = at + 1;
            }
            _ => {}
        }
    }
    found.push(&tree[start..]);
    found.into_iter().filter(|branch| !branch.is_empty()).collect()
}

/// What each file uses: by the index of its source.
pub fn uses(sources: &[Source]) -> BTreeMap<usize, BTreeSet<usize>> {
    let by_module: BTreeMap<(String, Vec<String>), usize> =
        sources.iter().enumerate().map(|(index, each)| ((each.room.clone(), each.module.clone()), index)).collect();
    let mut all = BTreeMap::new();
    for (index, source) in sources.iter().enumerate() {
        let imported = imports(&source.code).into_iter().filter(|import| !import.is_public).map(|import| import.path);
        let used = imported
            .chain(inline_paths(&source.code))
            .filter_map(|path| target(source, &path, &by_module))
            .filter(|target| *target != index)
            .collect();
        all.insert(index, used);
    }
    all
}

/// The file that an import leads to: that of the deepest module of its path.
fn target(source: &Source, path: &[String], by_module: &BTreeMap<(String, Vec<String>), usize>) -> Option<usize> {
    let (room, mut module, rest): (String, Vec<String>, &[String]) = match path.first()?.as_str() {
        "crate" => (source.room.clone(), Vec::new(), &path[1..]),
        "self" => (source.room.clone(), source.module.clone(), &path[1..]),
        "super" => {
            let ups = path.iter().take_while(|part| *part == "super").count();
            let depth = source.module.len().checked_sub(ups)?;
            (source.room.clone(), source.module[..depth].to_vec(), &path[ups..])
        }
        first => match first.strip_prefix("snarvel_") {
            Some(room) => (room.to_owned(), Vec::new(), &path[1..]),
            // A name of the file's own module: one of its children.
            None => (source.room.clone(), source.module.clone(), path),
        },
    };
    let is_own = path[0] != "crate" && path[0] != "super" && path[0] != "self" && !path[0].starts_with("snarvel_");
    let start = module.clone();
    let mut found = (!is_own).then(|| by_module.get(&(room.clone(), module.clone())).copied()).flatten();
    for part in rest {
        module.push(part.clone());
        match by_module.get(&(room.clone(), module.clone())) {
            Some(deeper) => found = Some(*deeper),
            None => break,
        }
    }
    // Of a foreign crate there is no file here.
    if is_own && module == start { None } else { found }
}

/// The circles: sets of files that lead to each other, each sorted.
pub fn circles(uses: &BTreeMap<usize, BTreeSet<usize>>) -> Vec<Vec<usize>> {
    let reaches: BTreeMap<usize, BTreeSet<usize>> = uses.keys().map(|from| (*from, reach(uses, *from))).collect();
    let mut seen = BTreeSet::new();
    let mut found = Vec::new();
    for from in uses.keys() {
        if seen.contains(from) || !reaches[from].contains(from) {
            continue;
        }
        let circle: Vec<usize> = reaches[from].iter().copied().filter(|to| reaches[to].contains(from)).collect();
        seen.extend(circle.iter().copied());
        found.push(circle);
    }
    found
}

fn reach(uses: &BTreeMap<usize, BTreeSet<usize>>, from: usize) -> BTreeSet<usize> {
    let mut reached = BTreeSet::new();
    let mut next: Vec<usize> = uses[&from].iter().copied().collect();
    while let Some(at) = next.pop() {
        if reached.insert(at) {
            next.extend(uses[&at].iter().copied());
        }
    }
    reached
}
