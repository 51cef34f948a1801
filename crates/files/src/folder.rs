//! The files of a folder, those left out that its ignore files name.

use ignore::WalkBuilder;
use std::path::{Path, PathBuf};

/// The files below `folder`, paths relative to it, in the order of their names; at most `limit`.
pub fn files_below(folder: &Path, limit: usize) -> Vec<PathBuf> {
    let walk = WalkBuilder::new(folder).sort_by_file_name(Ord::cmp).build();
    let files = walk.filter_map(Result::ok).filter(|entry| entry.file_type().is_some_and(|kind| kind.is_file()));
    let relative = |entry: ignore::DirEntry| entry.path().strip_prefix(folder).map(Path::to_owned).ok();
    files.filter_map(relative).take(limit).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn ignored_files_are_left_out() {
        let folder = tempfile::tempdir().unwrap();
        std::fs::create_dir(folder.path().join(".git")).unwrap();
        for (name, content) in [(".gitignore", "*.log\n"), ("tides.py", ""), ("tides.log", "")] {
            std::fs::write(folder.path().join(name), content).unwrap();
        }
        assert_eq!(files_below(folder.path(), 10), [PathBuf::from("tides.py")]);
        assert_eq!(files_below(folder.path(), 0).len(), 0);
    }
}
