//! Names of files: one file may have several, by links.

use std::fs;
use std::os::unix::fs::MetadataExt;
use std::path::{Path, PathBuf};

/// Links that are followed one after the other: as many as Linux follows.
const MOST_LINKS: u32 = 40;

/// Where the bytes go: a link's target, also one that does not exist yet.
pub(crate) fn link_target(path: &Path) -> PathBuf {
    if let Ok(real) = fs::canonicalize(path) {
        return real;
    }
    let mut target = path.to_owned();
    for _ in 0..MOST_LINKS {
        let Ok(to) = fs::read_link(&target) else { break };
        target = folder_of(&target).join(to);
    }
    // There is no such file yet: its folder is known by its true name all the same.
    match (fs::canonicalize(folder_of(&target)), target.file_name()) {
        (Ok(folder), Some(name)) => folder.join(name),
        _ => target,
    }
}

pub(crate) fn folder_of(path: &Path) -> &Path {
    path.parent().filter(|folder| !folder.as_os_str().is_empty()).unwrap_or(Path::new("."))
}

/// Which of `others` is a name of the file at `path`, too. Asks the disk.
pub(crate) fn other_name<'a>(path: &Path, others: &'a [PathBuf]) -> Option<&'a PathBuf> {
    let which = |path: &Path| fs::metadata(path).ok().map(|meta| (meta.dev(), meta.ino()));
    let own = which(path)?;
    others.iter().find(|other| which(other) == Some(own))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_file_is_found_by_all_its_names() {
        let folder = tempfile::tempdir().unwrap();
        let path = |name: &str| folder.path().join(name);
        fs::write(path("tides"), "").unwrap();
        fs::write(path("other"), "").unwrap();
        fs::hard_link(path("tides"), path("hard")).unwrap();
        std::os::unix::fs::symlink("tides", path("soft")).unwrap();
        std::os::unix::fs::symlink("new", path("dangling")).unwrap();
        let others = ["none", "other", "tides"].map(path);
        for name in ["hard", "soft", "tides", "../x/../tides"] {
            let found = other_name(&path(name), &others);
            assert_eq!(found, if name.starts_with("..") { None } else { Some(&others[2]) }, "{name}");
        }
        assert_eq!(other_name(&path("none"), &others), None);
        let real = fs::canonicalize(folder.path()).unwrap();
        for (name, target) in [("soft", "tides"), ("./tides", "tides"), ("dangling", "new"), ("./none", "none")] {
            assert_eq!(link_target(&path(name)), real.join(target), "{name}");
        }
    }
}
