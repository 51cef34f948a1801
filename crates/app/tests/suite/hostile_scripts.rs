//! Scripts of random keys over small odd files that once took very long, or broke something in the background.

use std::path::Path;
use std::process::Command;
use std::time::{Duration, Instant};

/// A script with some two hundred keys over a text of a kilobyte. Optimised, each takes a second or a few; this is not.
const MOST: Duration = Duration::from_mins(1);

#[test]
fn no_script_breaks_anything_or_takes_long() {
    let scripts = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/scripts");
    let folder = tempfile::tempdir().unwrap();
    let mut played = 0;
    for script in std::fs::read_dir(&scripts).unwrap().flatten() {
        played += 1;
        let keys = script.path().join("keys");
        let files = std::fs::read_dir(script.path()).unwrap().flatten().map(|file| file.path());
        // The bytes of a source file that is none: it has its ending only while it is edited.
        let bytes = files.into_iter().find(|path| *path != keys).unwrap();
        let text = folder.path().join("text").with_extension(bytes.file_stem().unwrap());
        std::fs::copy(&bytes, &text).unwrap();
        let start = Instant::now();
        let out = Command::new(env!("CARGO_BIN_EXE_snarvel"))
            .arg("play")
            .arg(&text)
            .arg("--keys-file")
            .arg(&keys)
            .args(["--size", "80x24", "--emit", "state"])
            .output()
            .unwrap();
        let said = String::from_utf8_lossy(&out.stderr);
        assert!(out.status.success() && said.is_empty(), "{}: {}: {said}", text.display(), out.status);
        assert!(start.elapsed() < MOST, "{}: {:?}", text.display(), start.elapsed());
    }
    assert_eq!(played, 7);
}
