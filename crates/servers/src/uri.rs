//! File URIs (RFC 8089) and paths.

use percent_encoding::{AsciiSet, NON_ALPHANUMERIC, percent_decode_str, percent_encode};
use std::ffi::OsStr;
use std::os::unix::ffi::OsStrExt;
use std::path::{Path, PathBuf};

/// What stays as it is in a path: RFC 3986's unreserved characters and the slash.
const ENCODED: &AsciiSet = &NON_ALPHANUMERIC.remove(b'/').remove(b'-').remove(b'.').remove(b'_').remove(b'~');

/// The URI of a file; `path` is absolute.
#[must_use]
pub fn of_path(path: &Path) -> String {
    format!("file://{}", percent_encode(path.as_os_str().as_bytes(), ENCODED))
}

/// The path that a URI names; none where it names no file here. A host's name is passed over.
#[must_use]
pub fn to_path(uri: &str) -> Option<PathBuf> {
    let rest = uri.strip_prefix("file:")?;
    let path = match rest.strip_prefix("//") {
        Some(with_host) => &with_host[with_host.find('/')?..],
        None => rest,
    };
    let path = path.split(['?', '#']).next().unwrap_or(path);
    let bytes: Vec<u8> = percent_decode_str(path).collect();
    let is_path = bytes.starts_with(b"/") && !bytes.contains(&0);
    is_path.then(|| PathBuf::from(OsStr::from_bytes(&bytes)))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn paths_become_uris_and_back() {
        for (path, uri) in [
            ("/skerry/gauges.rs", "file:///skerry/gauges.rs"),
            ("/skerry sound/50% ebb#1?.py", "file:///skerry%20sound/50%25%20ebb%231%3F.py"),
            ("/潮/a:b.c", "file:///%E6%BD%AE/a%3Ab.c"),
        ] {
            assert_eq!(of_path(Path::new(path)), uri);
            assert_eq!(to_path(uri), Some(PathBuf::from(path)));
        }
        let bytes = OsStr::from_bytes(b"/skerry/\xFF.c");
        assert_eq!(to_path(&of_path(Path::new(bytes))), Some(PathBuf::from(bytes)));
        assert_eq!(to_path("file:/skerry/a"), Some(PathBuf::from("/skerry/a")));
        assert_eq!(to_path("file://localhost/skerry/a"), Some(PathBuf::from("/skerry/a")));
        for none in ["untitled:1", "https://skerry/a", "file://host", "file:a", "file:///a%00b", ""] {
            assert_eq!(to_path(none), None, "{none}");
        }
    }
}
