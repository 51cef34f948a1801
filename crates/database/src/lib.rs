//! Opens `SQLite` databases that several running programs share.
//!
//! A busy timeout alone is not enough: switching a new database to a write-ahead log, and recovering such a log, need an exclusive
//! lock for a moment, and `SQLite` reports "database is locked" at once there instead of waiting, because waiting could be a deadlock
//! (<https://sqlite.org/wal.html>, "Sometimes Queries Return `SQLITE_BUSY` In WAL Mode"). So preparing a database is tried again until the
//! timeout is over.

use rusqlite::{Connection, ErrorCode};
use std::path::Path;
use std::time::{Duration, Instant};

/// Pause between two attempts to prepare a database that another program holds.
const PAUSE: Duration = Duration::from_millis(5);

/// How a database is opened.
#[derive(Clone, Copy, Debug)]
pub struct Options<'a> {
    /// Maximum time to wait for another program, here and later for each write.
    pub timeout: Duration,
    /// Statements to run on each new connection, once the write-ahead log is on.
    pub pragmas: &'a str,
    /// Version of the schema. It is written into a new database (whose version is 0) together with the tables.
    pub version: i32,
    /// Statements that create the tables of that version.
    pub tables: &'a str,
}

/// A connection, and the version of the schema that the database has: the caller decides what another version than its own means.
pub type Opened = (Connection, i32);

/// Opens the database at `path`, or creates it there with its tables.
///
/// # Errors
/// It cannot be opened, is not a database, or another program has locked it for longer than the timeout.
pub fn open(path: &Path, options: Options) -> rusqlite::Result<Opened> {
    let connection = Connection::open(path)?;
    connection.busy_timeout(options.timeout)?;
    let end = Instant::now() + options.timeout;
    loop {
        match prepare(&connection, options) {
            Err(error) if is_locked(&error) && Instant::now() < end => std::thread::sleep(PAUSE),
            Err(error) => return Err(error),
            Ok(version) => return Ok((connection, version)),
        }
    }
}

/// Creates a database in memory with its tables.
///
/// # Errors
/// The tables cannot be created.
pub fn open_in_memory(options: Options) -> rusqlite::Result<Connection> {
    let connection = Connection::open_in_memory()?;
    prepare(&connection, options)?;
    Ok(connection)
}

/// Whether `error` only says that another program has locked the database.
#[must_use]
pub fn is_locked(error: &rusqlite::Error) -> bool {
    matches!(error.sqlite_error_code(), Some(ErrorCode::DatabaseBusy | ErrorCode::DatabaseLocked))
}

/// Returns the version of the schema. A step that another program undid or did first is safe to repeat.
fn prepare(connection: &Connection, options: Options) -> rusqlite::Result<i32> {
    let version = || connection.query_row("PRAGMA user_version", [], |row| row.get::<_, i32>(0));
    connection.execute_batch("PRAGMA journal_mode = WAL;")?;
    connection.execute_batch(options.pragmas)?;
    if version()? != 0 {
        return version();
    }
    connection.execute_batch("BEGIN IMMEDIATE")?;
    // Another program may have created the tables since the version was read.
    let created = version().and_then(|version| match version {
        0 => connection
            .execute_batch(options.tables)
            .and_then(|()| connection.pragma_update(None, "user_version", options.version)),
        _ => Ok(()),
    });
    match created.and_then(|()| connection.execute_batch("COMMIT")) {
        Ok(()) => version(),
        Err(error) => {
            // A failed commit may have ended the transaction already.
            let _ = connection.execute_batch("ROLLBACK");
            Err(error)
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const OPTIONS: Options = Options {
        timeout: Duration::from_secs(20),
        pragmas: "PRAGMA synchronous = OFF;",
        version: 7,
        tables: "CREATE TABLE tide (level INTEGER);",
    };

    #[test]
    fn programs_that_start_together_all_get_their_database() {
        for _ in 0..40 {
            let folder = tempfile::tempdir().unwrap();
            let path = folder.path().join("tides.sqlite");
            std::thread::scope(|scope| {
                for level in 0..4 {
                    let path = &path;
                    scope.spawn(move || {
                        let (connection, version) = open(path, OPTIONS).unwrap();
                        assert_eq!(version, 7);
                        connection.execute("INSERT INTO tide VALUES (?)", [level]).unwrap();
                    });
                }
            });
            let (connection, _) = open(&path, OPTIONS).unwrap();
            let sum: i32 = connection.query_row("SELECT sum(level) FROM tide", [], |row| row.get(0)).unwrap();
            assert_eq!(sum, 6);
        }
    }

    #[test]
    fn a_lock_that_stays_is_told_and_is_no_damage() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("tides.sqlite");
        let holder = Connection::open(&path).unwrap();
        holder.execute_batch("BEGIN EXCLUSIVE").unwrap();
        let error = open(&path, Options { timeout: Duration::from_millis(20), ..OPTIONS }).unwrap_err();
        assert!(is_locked(&error), "{error}");
        holder.execute_batch("ROLLBACK").unwrap();
        assert_eq!(open(&path, OPTIONS).unwrap().1, 7);
    }

    #[test]
    fn a_database_of_another_version_is_left_alone() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("tides.sqlite");
        drop(open(&path, Options { version: 3, ..OPTIONS }).unwrap());
        assert_eq!(open(&path, OPTIONS).unwrap().1, 3);
        assert_eq!(
            open_in_memory(OPTIONS).unwrap().query_row("SELECT count(*) FROM tide", [], |row| row.get(0)),
            Ok(0)
        );
    }
}
