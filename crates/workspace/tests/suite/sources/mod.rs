//! Sources of other projects, as far as this machine has some: those of the packages that this build uses, the
//! Python library, what else is shared.

#![allow(dead_code, reason = "each file uses its part")]

use std::path::{Path, PathBuf};

/// Larger files teach nothing more and take long without optimisation.
const LONGEST: u64 = 60_000;

/// The folders of the packages that this build uses. The registry of a machine may hold others, too.
pub fn packages() -> Vec<PathBuf> {
    let home = std::env::var("CARGO_HOME").map(PathBuf::from).ok();
    let home = home.or_else(|| Some(Path::new(&std::env::var("HOME").ok()?).join(".cargo"))).unwrap_or_default();
    let lock = std::fs::read_to_string(Path::new(env!("CARGO_MANIFEST_DIR")).join("../../Cargo.lock")).unwrap();
    let value = |line: &str, key: &str| line.strip_prefix(key).map(|rest| rest.trim_matches('"').to_owned());
    let (mut name, mut names) = (String::new(), Vec::new());
    for line in lock.lines() {
        if let Some(own) = value(line, "name = ") {
            name = own;
        } else if let Some(version) = value(line, "version = ") {
            names.push(format!("{name}-{version}"));
        }
    }
    let roots = std::fs::read_dir(home.join("registry/src")).into_iter().flatten().flatten().map(|entry| entry.path());
    roots.flat_map(|root| names.iter().map(move |name| root.join(name)).collect::<Vec<_>>()).collect()
}

/// All files that end in `.ending`, in order.
pub fn gathered(ending: &str) -> Vec<PathBuf> {
    let mut found = Vec::new();
    packages().iter().for_each(|package| gather(package, ending, &mut found));
    // Where few packages have files of that ending, the system's own are looked at as well.
    if found.len() < FEW {
        for folder in ["/usr/lib/python3", "/usr/lib/python3.11", "/usr/lib/python3.13"] {
            gather(Path::new(folder), ending, &mut found);
        }
    }
    found.sort();
    found
}

/// Tables that a program wrote are no work of people.
fn is_generated(path: &Path) -> bool {
    path.file_name().is_some_and(|name| name == "parser.c")
}

fn gather(folder: &Path, ending: &str, found: &mut Vec<PathBuf>) {
    let Ok(entries) = std::fs::read_dir(folder) else { return };
    for entry in entries.flatten() {
        // A link may lead anywhere, also in a circle.
        let (path, Ok(meta)) = (entry.path(), entry.metadata()) else { continue };
        if meta.is_dir() {
            gather(&path, ending, found);
        } else if meta.is_file()
            && !is_generated(&path)
            && meta.len() < LONGEST
            && path.extension().is_some_and(|own| own == ending)
        {
            found.push(path);
        }
    }
}

/// Fewer files than this are few.
const FEW: usize = 25;

/// `count` of them, from all over: by a hash of their names, so that a package more or less on the machine changes few of them.
pub fn evenly(mut all: Vec<PathBuf>, count: usize) -> impl Iterator<Item = PathBuf> {
    let within = |path: &Path| {
        let parts: Vec<_> = path.components().rev().take(4).collect();
        let bytes = parts.into_iter().collect::<PathBuf>().into_os_string().into_encoded_bytes();
        // FNV-1a, 64 bits.
        bytes
            .iter()
            .fold(0xCBF2_9CE4_8422_2325_u64, |hash, byte| (hash ^ u64::from(*byte)).wrapping_mul(0x0000_0100_0000_01B3))
    };
    all.sort_by_cached_key(|path| within(path));
    all.into_iter().take(count)
}
