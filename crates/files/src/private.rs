//! Files of the program's own: written whole or not at all, and readable only by their owner.

use std::io::{Result, Write};
use std::path::Path;
use tempfile::NamedTempFile;

/// Writes `bytes` to `path`, readable by its owner only; folders that are missing are made. Where `path` is a link, the file that
/// it points to is written.
///
/// # Errors
/// What the system says; the file then holds what it held.
pub fn write(path: &Path, bytes: &[u8]) -> Result<()> {
    let path = &crate::links::link_target(path);
    let folder = path.parent().unwrap_or(Path::new("."));
    std::fs::create_dir_all(folder)?;
    // Such a file is made with the mode 0600.
    let mut file = NamedTempFile::new_in(folder)?;
    file.write_all(bytes)?;
    file.as_file().sync_all()?;
    file.persist(path)?;
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn folders_are_made_and_nobody_else_may_read() {
        use std::os::unix::fs::PermissionsExt;
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("a/b/shelf.json");
        for bytes in ["one", "two"] {
            write(&path, bytes.as_bytes()).unwrap();
            assert_eq!(std::fs::read_to_string(&path).unwrap(), bytes);
        }
        assert_eq!(std::fs::metadata(&path).unwrap().permissions().mode() & 0o777, 0o600);
        assert!(write(&path.join("under a file"), b"").is_err());
    }

    #[test]
    fn a_link_stays_one() {
        let folder = tempfile::tempdir().unwrap();
        let [link, file] = ["keys.toml", "kept/keys.toml"].map(|name| folder.path().join(name));
        std::os::unix::fs::symlink("kept/keys.toml", &link).unwrap();
        for bytes in ["one", "two"] {
            write(&link, bytes.as_bytes()).unwrap();
            assert!(link.is_symlink());
            assert_eq!(std::fs::read_to_string(&file).unwrap(), bytes);
        }
    }
}
