//! Walking through folders: what ignore files name is left out, and so is what could keep a walk for ever.
//!
//! Ignore files are read by the package that walks, whole and without a look at what they are. So a folder whose ignore file is no
//! ordinary file, or a very large one, is passed over; where it is the folder of the walk itself, or one around it, ignore files
//! are not minded. File systems that only show what the system is doing are passed over too.

use crate::reading;
use ignore::WalkBuilder;
use std::fs;
use std::path::Path;

/// Which files are wanted.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Which {
    /// Those that no ignore file names, and that do not begin with a dot.
    #[default]
    Usual,
    /// All of them, but for the insides of `.git`.
    All,
}

/// The names of ignore files, from the folder that they are about.
const IGNORE_FILES: [&str; 3] = [".ignore", ".gitignore", ".git/info/exclude"];

/// A walk through `folder`, in the order of names.
pub(crate) fn walk(folder: &Path, which: Which) -> WalkBuilder {
    let mut walk = WalkBuilder::new(folder);
    walk.sort_by_file_name(Ord::cmp);
    let around = std::path::absolute(folder).unwrap_or_else(|_| folder.to_owned());
    let is_safe_around = around.ancestors().all(has_safe_ignore_files);
    let is_pseudo = reading::is_pseudo(folder);
    if which == Which::All || !is_safe_around {
        walk.standard_filters(false).hidden(which == Which::Usual);
    }
    let minds_ignore_files = which == Which::Usual && is_safe_around;
    walk.filter_entry(move |entry| {
        if !entry.file_type().is_some_and(|kind| kind.is_dir()) {
            return !(is_pseudo && entry.depth() > 0);
        }
        let is_own_insides = which == Which::All && entry.file_name() == ".git";
        !is_own_insides
            && !reading::is_pseudo(entry.path())
            && (!minds_ignore_files || has_safe_ignore_files(entry.path()))
    });
    walk
}

/// Whether each ignore file of `folder` is an ordinary one of some size, or is not there.
fn has_safe_ignore_files(folder: &Path) -> bool {
    IGNORE_FILES.iter().all(|name| {
        fs::metadata(folder.join(name))
            .map_or(true, |about| about.is_dir() || (about.is_file() && about.len() <= reading::IGNORED_NAMES))
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::os::unix::fs::symlink;

    fn names(folder: &Path, which: Which) -> Vec<String> {
        let entries = walk(folder, which).build().filter_map(Result::ok).filter(|entry| entry.path().is_file());
        entries.map(|entry| entry.file_name().to_string_lossy().into_owned()).collect()
    }

    #[test]
    fn ignore_files_that_never_end_are_not_read() {
        let folder = tempfile::tempdir().unwrap();
        let at = |name: &str| folder.path().join(name);
        for name in ["bad", "good"] {
            fs::create_dir(at(name)).unwrap();
            fs::write(at(name).join(format!("{name}.rs")), "tide").unwrap();
        }
        fs::write(at("good/.ignore"), "*.log\n").unwrap();
        fs::write(at("good/tide.log"), "").unwrap();
        symlink("/dev/zero", at("bad/.gitignore")).unwrap();
        assert_eq!(names(folder.path(), Which::Usual), ["good.rs"]);
        // In the folder of the walk itself: everything is found.
        symlink("/dev/zero", at(".ignore")).unwrap();
        assert_eq!(names(folder.path(), Which::Usual), ["bad.rs", "good.rs", "tide.log"]);
    }

    #[test]
    fn what_only_shows_the_system_is_passed_over() {
        assert_eq!(names(Path::new("/proc"), Which::All), [""; 0]);
    }
}
