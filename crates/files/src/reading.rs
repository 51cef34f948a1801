//! Opening files for reading: the one place that does.
//!
//! What is opened is an ordinary file, whatever its name suggests: a pipe or a device would keep a reader waiting, or never end.
//! What was opened is looked at, not its path, so that nothing can be put in its place in between. Reads for a purpose have a
//! limit in bytes.

use rustix::fs::{Mode, OFlags};
use rustix::io::Errno;
use std::fs::File;
use std::io::{self, ErrorKind, Read};
use std::os::unix::fs::MetadataExt;
use std::path::Path;

/// Bytes of a file of settings or of keys.
pub const SETTINGS: u64 = 1 << 20;

/// Bytes of an `.editorconfig` (its specification's own limits are far below).
pub const LAYOUT: u64 = 256 << 10;

/// Bytes of a file of ignored names.
pub const IGNORED_NAMES: u64 = 4 << 20;

/// Bytes of a file that the program keeps for itself between starts.
pub const KEPT: u64 = 64 << 20;

/// Opens the ordinary file at `path`, links followed, without waiting for anything.
///
/// # Errors
/// What the system says, and [`ErrorKind::InvalidInput`] for what is no ordinary file.
pub fn open(path: &Path) -> io::Result<File> {
    open_by(path, OFlags::empty())
}

fn open_by(path: &Path, more: OFlags) -> io::Result<File> {
    let flags = OFlags::RDONLY | OFlags::NONBLOCK | OFlags::NOCTTY | OFlags::CLOEXEC | more;
    let file = File::from(rustix::fs::open(path, flags, Mode::empty())?);
    if !file.metadata()?.is_file() {
        return Err(io::Error::new(ErrorKind::InvalidInput, "no ordinary file"));
    }
    Ok(file)
}

/// Reads the whole file at `path`, links followed, if it has at most `limit` bytes.
///
/// # Errors
/// As [`open`], and [`ErrorKind::FileTooLarge`].
pub fn read(path: &Path, limit: u64) -> io::Result<Vec<u8>> {
    whole(&open(path)?, limit)
}

/// Reads the whole file at `path`, which the program has written for itself: no link, and writable only by the user.
///
/// # Errors
/// As [`read`], and [`ErrorKind::PermissionDenied`] for a file that another user may have written.
pub fn read_own(path: &Path, limit: u64) -> io::Result<Vec<u8>> {
    whole(&open_own(path)?, limit)
}

/// Opens the file at `path`, which the program has written for itself, for reading.
///
/// # Errors
/// As [`read_own`], but for its size.
pub fn open_own(path: &Path) -> io::Result<File> {
    let is_link = |error: &io::Error| error.raw_os_error() == Some(Errno::LOOP.raw_os_error());
    let file = open_by(path, OFlags::NOFOLLOW).map_err(|error| match is_link(&error) {
        true => io::Error::new(ErrorKind::PermissionDenied, "it is a link: it is left alone"),
        false => error,
    })?;
    let meta = file.metadata()?;
    let is_own = meta.uid() == rustix::process::geteuid().as_raw();
    let wrong = match (is_own, meta.mode() & 0o022 == 0) {
        (true, true) => return Ok(file),
        (false, _) => "it belongs to another user: it is left alone",
        (true, false) => "others may write it: it is left alone",
    };
    Err(io::Error::new(ErrorKind::PermissionDenied, wrong))
}

/// All of an open file. It may grow while it is read: no more than the limit is ever held.
fn whole(file: &File, limit: u64) -> io::Result<Vec<u8>> {
    let mut bytes = Vec::with_capacity(file.metadata()?.len().min(limit) as usize);
    file.take(limit + 1).read_to_end(&mut bytes)?;
    if bytes.len() as u64 > limit {
        let said = format!("larger than {} KiB", limit >> 10);
        return Err(io::Error::new(ErrorKind::FileTooLarge, said));
    }
    Ok(bytes)
}

/// File systems that hold no files of anybody's, by the numbers of `linux/magic.h`: proc, sysfs, debugfs, tracefs, securityfs,
/// cgroup, cgroup2, devpts, bpf, pstore, configfs, efivarfs.
const PSEUDO: [i64; 12] = [
    0x9FA0,
    0x6265_6572,
    0x6462_6720,
    0x7472_6163,
    0x7363_6673,
    0x27_E0EB,
    0x6367_7270,
    0x1CD1,
    0xCAFE_4A11,
    0x6165_676C,
    0x6265_6570,
    0xDE5E_81E4,
];

/// Whether the folder at `path` is in a file system that only shows what the system is doing: such are not walked through.
#[must_use]
pub fn is_pseudo(path: &Path) -> bool {
    rustix::fs::statfs(path).is_ok_and(|about| PSEUDO.contains(&(about.f_type & 0xFFFF_FFFF)))
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::fs;
    use std::os::unix::fs::{PermissionsExt, symlink};

    #[test]
    fn only_ordinary_files_of_some_size_are_read() {
        let folder = tempfile::tempdir().unwrap();
        let at = |name: &str| folder.path().join(name);
        fs::write(at("file"), "tide").unwrap();
        symlink(at("file"), at("link")).unwrap();
        symlink("/dev/zero", at("zero")).unwrap();
        let pipe =
            rustix::fs::mknodat(rustix::fs::CWD, at("pipe"), rustix::fs::FileType::Fifo, Mode::RUSR | Mode::WUSR, 0);
        pipe.unwrap();
        assert_eq!(read(&at("link"), 4).unwrap(), b"tide");
        for (name, kind) in [
            ("link", ErrorKind::FileTooLarge),
            ("zero", ErrorKind::InvalidInput),
            ("pipe", ErrorKind::InvalidInput),
            (".", ErrorKind::InvalidInput),
            ("none", ErrorKind::NotFound),
        ] {
            assert_eq!(read(&at(name), 3).unwrap_err().kind(), kind, "{name}");
        }
    }

    #[test]
    fn what_the_program_keeps_for_itself_is_no_link_and_only_the_users() {
        let folder = tempfile::tempdir().unwrap();
        let at = |name: &str| folder.path().join(name);
        fs::write(at("file"), "tide").unwrap();
        symlink(at("file"), at("link")).unwrap();
        fs::set_permissions(at("file"), fs::Permissions::from_mode(0o600)).unwrap();
        assert_eq!(read_own(&at("file"), KEPT).unwrap(), b"tide");
        assert_eq!(read_own(&at("link"), KEPT).unwrap_err().kind(), ErrorKind::PermissionDenied);
        fs::set_permissions(at("file"), fs::Permissions::from_mode(0o622)).unwrap();
        assert_eq!(read_own(&at("file"), KEPT).unwrap_err().kind(), ErrorKind::PermissionDenied);
    }

    #[test]
    fn what_only_shows_the_system_is_told_apart() {
        assert!(is_pseudo(Path::new("/proc")) && !is_pseudo(&std::env::temp_dir()));
    }
}
