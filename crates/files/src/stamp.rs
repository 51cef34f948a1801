//! Stamps: how a file looked from outside, to see whether it is still the same.

use serde::{Deserialize, Serialize};
use std::fs::{self, Metadata};
use std::hash::{BuildHasher, Hasher, RandomState};
use std::os::unix::fs::MetadataExt;
use std::path::Path;

/// A number that a path always has, for the names of files about it (FNV-1a, 64 bits).
#[must_use]
pub fn number_of(path: &Path) -> u64 {
    path.as_os_str()
        .as_encoded_bytes()
        .iter()
        .fold(0xCBF2_9CE4_8422_2325, |hash, byte| (hash ^ u64::from(*byte)).wrapping_mul(0x0000_0100_0000_01B3))
}

/// A number that others cannot foresee, for the names of new files.
#[must_use]
pub fn unforeseen_number() -> u64 {
    // Each state has keys of its own, from the system.
    RandomState::new().build_hasher().finish()
}

/// How a file looked: its length, when it was written and changed, and which file it was. The time of the last change cannot be put
/// back as that of writing can (`stat(2)`).
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Stamp {
    /// Its length in bytes.
    pub len: u64,
    /// When it was written, in nanoseconds since 1970.
    pub modified_ns: u128,
    /// When its bytes, its name or its rights were changed, in nanoseconds since 1970.
    #[serde(default)]
    pub changed_ns: i128,
    /// Which file of its file system.
    pub inode: u64,
}

impl Stamp {
    /// The stamp of the file at `path`, links followed; none where there is none.
    #[must_use]
    pub fn of(path: &Path) -> Option<Stamp> {
        fs::metadata(path).ok().filter(Metadata::is_file).map(|meta| Stamp::from(&meta))
    }
}

impl From<&Metadata> for Stamp {
    fn from(meta: &Metadata) -> Stamp {
        let since = meta.modified().ok().and_then(|time| time.duration_since(std::time::UNIX_EPOCH).ok());
        let changed_ns = i128::from(meta.ctime()) * 1_000_000_000 + i128::from(meta.ctime_nsec());
        Stamp { len: meta.len(), modified_ns: since.map_or(0, |time| time.as_nanos()), changed_ns, inode: meta.ino() }
    }
}
