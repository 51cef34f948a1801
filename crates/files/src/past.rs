//! The past of files: their histories from one start to the next, each in a file of its own in the state folder, for its owner's eyes only.
//!
//! A file that is damaged is put aside and said. All files together take so much room at most: those that were written longest ago go
//! first.

use crate::{private, reading};
use serde::{Deserialize, Serialize};
use snarvel_core::history::kept::Kept;
use snarvel_core::text::Text;
use snarvel_core::units::Byte;
use std::fs;
use std::io::ErrorKind;
use std::os::unix::fs::MetadataExt;
use std::path::{Path, PathBuf};
use std::time::SystemTime;
use xxhash_rust::xxh3::Xxh3;

/// The past of one file.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Past {
    /// The file.
    pub path: PathBuf,
    /// The text that was saved last.
    pub text: String,
    /// How it came to be.
    pub kept: Kept,
    /// Whether it is kept because the person has said so, whatever the rules are.
    pub is_wanted: bool,
}

/// Larger texts have no past, in bytes.
pub const LARGEST_TEXT: usize = 32 << 20;

/// The past of one file takes so much room at most, beside its text, in bytes.
pub const MOST_OF_A_FILE: usize = 8 << 20;

/// The bits of a mode that are about others than the owner (`chmod(2)`).
const OTHERS: u32 = 6;

/// What a file begins with.
const MARK: &[u8] = b"snarvel past 1\n";

/// The ending of the names of these files, and of those that were put aside.
const ENDING: &str = "past";
const ASIDE: &str = "damaged";

/// The hash of a text, by which it is known again (XXH3, 128 bits). Cost: linear in it.
#[must_use]
pub fn hash_of(text: &Text) -> u128 {
    let mut hash = Xxh3::new();
    text.chunks_from(Byte(0)).for_each(|chunk| hash.update(chunk.text.as_bytes()));
    hash.digest128()
}

/// Where pasts are kept.
#[derive(Clone, Debug)]
pub struct Pasts {
    folder: PathBuf,
}

impl Pasts {
    /// In `folder`.
    #[must_use]
    pub fn in_folder(folder: PathBuf) -> Pasts {
        Pasts { folder }
    }

    fn file_of(&self, path: &Path) -> PathBuf {
        let name = path.file_name().unwrap_or_default().to_string_lossy().into_owned();
        let short: String = name.chars().filter(|c| c.is_alphanumeric() || "._-".contains(*c)).take(40).collect();
        self.folder.join(format!("{short}-{:016x}.{ENDING}", crate::stamp::number_of(path)))
    }

    /// The past of the file at `path`; none where none is kept.
    ///
    /// # Errors
    /// It is damaged, and was put aside: where, in words.
    pub fn read(&self, path: &Path) -> Result<Option<Past>, String> {
        let file = self.file_of(path);
        let bytes = match reading::read_own(&file, reading::KEPT) {
            Ok(bytes) => bytes,
            Err(error) if error.kind() == ErrorKind::NotFound => return Ok(None),
            Err(error) => return Err(format!("the past of this file cannot be read: {error}")),
        };
        match parse(&bytes).filter(|past| past.path == path) {
            Some(past) => Ok(Some(past)),
            None => Err(self.put_aside(path)),
        }
    }

    /// Puts the past of a file aside, for it is damaged; says where.
    #[must_use]
    pub fn put_aside(&self, path: &Path) -> String {
        let file = self.file_of(path);
        let aside = file.with_extension(ASIDE);
        match fs::rename(&file, &aside) {
            Ok(()) => format!("the past of this file is damaged: it was put aside as {}", aside.display()),
            Err(error) => format!("the past of this file is damaged, and cannot be put aside: {error}"),
        }
    }

    /// Keeps the past of a file. Nothing is kept of one that only its owner may read, unless that is wanted. All pasts together take
    /// `most` bytes at most then. Whether it is kept.
    ///
    /// # Errors
    /// What the system says; the past is what it was then.
    pub fn write(&self, past: &Past, most: u64) -> std::io::Result<bool> {
        let is_private = fs::metadata(&past.path).is_ok_and(|about| about.mode().trailing_zeros() >= OTHERS);
        if is_private && !past.is_wanted {
            return Ok(false);
        }
        let body = postcard::to_stdvec(past).map_err(std::io::Error::other)?;
        let mut bytes = MARK.to_vec();
        bytes.extend(xxhash_rust::xxh3::xxh3_64(&body).to_le_bytes());
        bytes.extend(body);
        private::write(&self.file_of(&past.path), &bytes)?;
        self.shrink(most, &self.file_of(&past.path));
        Ok(true)
    }

    /// Forgets the past of a file; whether there was one.
    ///
    /// # Errors
    /// What the system says.
    pub fn forget(&self, path: &Path) -> std::io::Result<bool> {
        match fs::remove_file(self.file_of(path)) {
            Ok(()) => Ok(true),
            Err(error) if error.kind() == ErrorKind::NotFound => Ok(false),
            Err(error) => Err(error),
        }
    }

    /// Takes files away, the oldest first, until all together have `most` bytes; the `newest` stays.
    fn shrink(&self, most: u64, newest: &Path) {
        let Ok(entries) = fs::read_dir(&self.folder) else { return };
        let about = |entry: fs::DirEntry| {
            let path = entry.path();
            let is_past = path.extension().is_some_and(|ending| ending == ENDING || ending == ASIDE);
            let about = entry.metadata().ok().filter(|_| is_past)?;
            Some((about.modified().unwrap_or(SystemTime::UNIX_EPOCH), about.len(), path))
        };
        let mut files: Vec<(SystemTime, u64, PathBuf)> = entries.filter_map(Result::ok).filter_map(about).collect();
        let mut all: u64 = files.iter().map(|(_, length, _)| length).sum();
        files.sort();
        for (_, length, path) in files {
            if all <= most {
                return;
            }
            if path != newest && fs::remove_file(&path).is_ok() {
                all -= length;
            }
        }
    }
}

fn parse(bytes: &[u8]) -> Option<Past> {
    let body = bytes.strip_prefix(MARK)?;
    let (sum, body) = body.split_first_chunk::<8>()?;
    if u64::from_le_bytes(*sum) != xxhash_rust::xxh3::xxh3_64(body) {
        return None;
    }
    postcard::from_bytes(body).ok()
}

#[cfg(test)]
mod tests {
    use super::*;
    use snarvel_core::history::History;
    use std::os::unix::fs::PermissionsExt;

    fn past(path: &Path, text: &str) -> Past {
        let mut history = History::default();
        history.note_save(1, 2);
        let kept = history.kept((0, 0)).unwrap();
        Past { path: path.to_owned(), text: text.to_owned(), kept, is_wanted: false }
    }

    #[test]
    fn it_is_read_as_it_was_written_and_damage_is_put_aside() {
        let folder = tempfile::tempdir().unwrap();
        let pasts = Pasts::in_folder(folder.path().join("past"));
        let path = folder.path().join("tide.rs");
        fs::write(&path, "").unwrap();
        assert_eq!(pasts.read(&path), Ok(None));
        let one = past(&path, "ebb");
        assert!(pasts.write(&one, 1 << 20).unwrap());
        assert_eq!(pasts.read(&path), Ok(Some(one.clone())));
        let file = pasts.file_of(&path);
        assert_eq!(fs::metadata(&file).unwrap().permissions().mode() & 0o777, 0o600);
        for damage in ["cut", "turned", "nothing"] {
            assert!(pasts.write(&one, 1 << 20).unwrap());
            let mut bytes = fs::read(&file).unwrap();
            match damage {
                "cut" => bytes.truncate(30),
                "turned" => bytes[40] ^= 1,
                _ => bytes.clear(),
            }
            fs::write(&file, bytes).unwrap();
            assert!(pasts.read(&path).unwrap_err().contains("put aside"), "{damage}");
            assert_eq!(pasts.read(&path), Ok(None));
        }
        assert!(!pasts.forget(&path).unwrap());
    }

    #[test]
    fn the_oldest_go_first_and_private_files_have_none() {
        let folder = tempfile::tempdir().unwrap();
        let pasts = Pasts::in_folder(folder.path().join("past"));
        let paths: Vec<PathBuf> = (0..4).map(|number| folder.path().join(format!("{number}.rs"))).collect();
        for (index, path) in paths.iter().enumerate() {
            fs::write(path, "").unwrap();
            pasts.write(&past(path, &"x".repeat(1000)), 1 << 20).unwrap();
            let age = SystemTime::UNIX_EPOCH + std::time::Duration::from_secs(index as u64);
            fs::File::options().write(true).open(pasts.file_of(path)).unwrap().set_modified(age).unwrap();
        }
        pasts.write(&past(&paths[3], &"x".repeat(1000)), 2_500).unwrap();
        let kept: Vec<bool> = paths.iter().map(|path| pasts.read(path).unwrap().is_some()).collect();
        assert_eq!(kept, [false, false, true, true]);
        fs::set_permissions(&paths[0], fs::Permissions::from_mode(0o600)).unwrap();
        assert!(!pasts.write(&past(&paths[0], "x"), 1 << 20).unwrap());
        assert!(pasts.write(&Past { is_wanted: true, ..past(&paths[0], "x") }, 1 << 20).unwrap());
    }

    #[test]
    fn a_text_is_known_by_its_hash_however_it_lies_in_memory() {
        let whole = Text::from("ebb flow");
        let mut parts = Text::from("ebb ");
        let mut builder = snarvel_core::changes::ChangeBuilder::new(&parts);
        builder.insert(Byte(4), "flow");
        let change = builder.finish();
        parts.apply(&change);
        assert_eq!(hash_of(&whole), hash_of(&parts));
        assert_ne!(hash_of(&whole), hash_of(&Text::from("ebb floe")));
    }
}
