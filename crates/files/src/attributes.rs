//! What a file is beside its bytes: its owner, its mode, its access control list and its other extended attributes.
//!
//! They are read of an open file and set on an open file: a name may be another file's from one call to the next.

use crate::reading;
use rustix::fs::{Gid, Uid, XattrFlags, fchown, fgetxattr, flistxattr, fsetxattr};
use rustix::io::Errno;
use std::fs::{File, Metadata, Permissions};
use std::io;
use std::os::unix::fs::{MetadataExt, PermissionsExt};
use std::path::Path;

/// Bytes that the names of a file's attributes may take, and a value: more than Linux allows (`xattr(7)`).
const MOST_BYTES: usize = 64 << 10;

/// All bits of a mode, those for another user's rights at a start included.
const MODE: u32 = 0o7777;

/// Gives `file` what the file at `target`, which looked like `old`, has beside its bytes.
///
/// # Errors
/// What the system says; [`io::ErrorKind::PermissionDenied`] where something cannot be kept, or where another file is at `target`
/// by now.
pub fn keep(file: &File, old: &Metadata, target: &Path) -> io::Result<()> {
    let now = file.metadata()?;
    if (now.uid(), now.gid()) != (old.uid(), old.gid()) {
        fchown(file, Some(Uid::from_raw(old.uid())), Some(Gid::from_raw(old.gid())))?;
    }
    // A file that may not be read has attributes that cannot be told: it is written all the same.
    if let Ok(original) = reading::open(target) {
        let meta = original.metadata()?;
        if (meta.dev(), meta.ino()) != (old.dev(), old.ino()) {
            return Err(io::Error::other("another program has put another file in its place just now"));
        }
        copy_attributes(&original, file)?;
    }
    // Last: a change of owner takes bits of the mode away, and the group's bits are the mask of an access control list.
    file.set_permissions(Permissions::from_mode(old.mode() & MODE))
}

fn copy_attributes(from: &File, to: &File) -> io::Result<()> {
    let mut names = vec![0; MOST_BYTES];
    let length = match flistxattr(from, &mut names[..]) {
        // A file system without attributes.
        Err(Errno::OPNOTSUPP) => return Ok(()),
        result => result?,
    };
    let mut value = vec![0; MOST_BYTES];
    for name in names[..length].split(|byte| *byte == 0).filter(|name| !name.is_empty()) {
        let bytes = match fgetxattr(from, name, &mut value[..]) {
            // It is gone by now, or only the system may see it.
            Err(Errno::NODATA | Errno::PERM | Errno::ACCESS) => continue,
            result => &value[..result?],
        };
        match fsetxattr(to, name, bytes, XattrFlags::empty()) {
            // What the system labels files with it sets by itself.
            Err(_) if name.starts_with(b"security.") => {}
            Err(Errno::PERM | Errno::ACCESS | Errno::OPNOTSUPP) => return Err(io::ErrorKind::PermissionDenied.into()),
            result => result?,
        }
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use crate::save::{Written, save};
    use rustix::fs::{XattrFlags, getxattr, setxattr};
    use std::os::unix::fs::PermissionsExt;

    #[test]
    fn attributes_and_all_bits_of_the_mode_are_kept() {
        let folder = tempfile::tempdir().unwrap();
        let file = folder.path().join("watch.sh");
        std::fs::write(&file, "old").unwrap();
        std::fs::set_permissions(&file, std::fs::Permissions::from_mode(0o4750)).unwrap();
        // Where the file system has no attributes there are none to keep.
        let has_attributes = setxattr(&file, "user.station", b"Skerry Sound", XattrFlags::empty()).is_ok();
        assert_eq!(save(&file, b"new").unwrap(), Written::Renamed);
        assert_eq!(std::fs::metadata(&file).unwrap().permissions().mode() & 0o7777, 0o4750);
        let mut value = [0; 64];
        if has_attributes {
            let length = getxattr(&file, "user.station", &mut value).unwrap();
            assert_eq!(&value[..length], b"Skerry Sound");
        }
    }
}
