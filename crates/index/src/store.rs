//! What all files define, in a database.
//!
//! Each file has a row with its size and time, so that at the next start only what is another one is read. Everything in it can be
//! made anew from the files: a write is not waited for to reach the disk, and a damaged database is thrown away. Cost: a
//! name is found in a time that hardly depends on how many there are.

use crate::definitions::Definition;
use rusqlite::{Connection, OptionalExtension, params};
use snarvel_core::units::{Byte, Line, Span};
use snarvel_database::Options;
use snarvel_syntax::names::NameKind;
use std::collections::HashMap;
use std::ffi::OsStr;
use std::os::unix::ffi::OsStrExt;
use std::path::{Path, PathBuf};

/// Why names cannot be kept.
#[derive(Debug, thiserror::Error)]
pub enum Error {
    /// The database.
    #[error("the index: {0}")]
    Database(#[from] rusqlite::Error),
    /// Its folder.
    #[error("the index: {0}")]
    Folder(#[from] std::io::Error),
}

/// A definition in a file.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Entry {
    /// The file, from the folder of the project.
    pub path: PathBuf,
    /// What it defines.
    pub definition: Definition,
}

/// So long another program that writes is waited for.
const OTHER_WRITES: std::time::Duration = std::time::Duration::from_secs(5);

/// What a file looked like when it was read.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct FileStamp {
    /// Bytes.
    pub size: u64,
    /// When it was changed last, in nanoseconds since 1970.
    pub time: i64,
}

/// The names of a project.
#[derive(Debug)]
pub struct Store {
    connection: Connection,
    is_in_step: bool,
}

/// The form of the database: another one is thrown away.
const FORM: i32 = 3;

const TABLES: &str = "
    CREATE TABLE IF NOT EXISTS file (id INTEGER PRIMARY KEY, path BLOB UNIQUE, size INTEGER, time INTEGER, names INTEGER);
    CREATE TABLE IF NOT EXISTS name (
        file INTEGER, start INTEGER, end INTEGER, name TEXT, kind INTEGER, container TEXT, line INTEGER,
        signature TEXT, comment TEXT, PRIMARY KEY (file, start, end, name)
    ) WITHOUT ROWID;
    CREATE INDEX IF NOT EXISTS by_name ON name (name, file);
";

const COLUMNS: &str = "file.path, name.name, kind, container, start, end, line, signature, comment FROM name JOIN file ON file.id = name.file";

/// The most definitions of one name that are looked at: a name that more have is one that nearness decides on.
const MOST_OF_A_NAME: usize = 400;

/// So many files of a folder are near.
const MOST_NEAR: usize = 300;

/// Memory for pages of the database while files are put in, in KiB: names come in no order, so that any page may be wanted.
const CACHE_KIB: usize = 64 << 10;

impl Store {
    /// The database at `path`, made anew where it is damaged or of another form; without a path one in memory.
    ///
    /// # Errors
    /// It cannot be opened or made.
    pub fn open(path: Option<&Path>) -> Result<Store, Error> {
        // Everything can be made anew: the disk is not waited for.
        let pragmas =
            format!("PRAGMA synchronous = OFF; PRAGMA temp_store = MEMORY; PRAGMA cache_size = -{CACHE_KIB};");
        let options = Options { timeout: OTHER_WRITES, pragmas: &pragmas, version: FORM, tables: TABLES };
        let Some(path) = path else { return Ok(Store::over(snarvel_database::open_in_memory(options)?)) };
        if let Some(folder) = path.parent() {
            std::fs::create_dir_all(folder)?;
        }
        match snarvel_database::open(path, options) {
            Ok((connection, FORM)) => return Ok(Store::over(connection)),
            // Another program uses it: it is not damaged.
            Err(error) if snarvel_database::is_locked(&error) => return Err(error.into()),
            Ok(_) | Err(_) => {}
        }
        for suffix in ["", "-wal", "-shm"] {
            let mut name = path.as_os_str().to_owned();
            name.push(suffix);
            // What is not there need not go.
            let _ = std::fs::remove_file(name);
        }
        Ok(Store::over(snarvel_database::open(path, options)?.0))
    }

    fn over(connection: Connection) -> Store {
        connection.set_prepared_statement_cache_capacity(32);
        Store { connection, is_in_step: false }
    }

    /// Begins a step: what is put in until [`Store::finish`] is written at once. Another program that writes into the same database is
    /// waited for, so that a step is about what is there.
    ///
    /// # Errors
    /// The database says no.
    pub fn begin(&mut self) -> Result<(), Error> {
        if !self.is_in_step {
            self.connection.execute_batch("BEGIN IMMEDIATE")?;
            self.is_in_step = true;
        }
        Ok(())
    }

    /// Ends a step.
    ///
    /// # Errors
    /// The database says no.
    pub fn finish(&mut self) -> Result<(), Error> {
        if std::mem::take(&mut self.is_in_step) {
            self.connection.execute_batch("COMMIT; PRAGMA shrink_memory;")?;
        }
        Ok(())
    }

    /// The files that are known, and what they looked like.
    ///
    /// # Errors
    /// The database says no.
    pub fn files(&self) -> Result<HashMap<PathBuf, FileStamp>, Error> {
        let mut all = self.connection.prepare_cached("SELECT path, size, time FROM file")?;
        let rows = all.query_map([], |row| {
            let path: Vec<u8> = row.get(0)?;
            let stamp = FileStamp { size: row.get::<_, i64>(1)? as u64, time: row.get(2)? };
            Ok((PathBuf::from(OsStr::from_bytes(&path)), stamp))
        })?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// Takes what a file defines in the place of what was known of it; a step by itself where none has begun.
    ///
    /// # Errors
    /// The database says no.
    pub fn put(&mut self, path: &Path, stamp: FileStamp, definitions: &[Definition]) -> Result<(), Error> {
        self.in_step(|store| {
            store.take_out(path)?;
            store.put_in(path, stamp, definitions)
        })
    }

    /// Does something as a part of the step that has begun, else as a step of its own, which is not made where it fails.
    fn in_step(&mut self, act: impl FnOnce(&mut Store) -> Result<(), Error>) -> Result<(), Error> {
        if self.is_in_step {
            return act(self);
        }
        self.begin()?;
        let done = act(self);
        if done.is_err() {
            self.is_in_step = false;
            self.connection.execute_batch("ROLLBACK")?;
        }
        done.and_then(|()| self.finish())
    }

    fn put_in(&mut self, path: &Path, stamp: FileStamp, definitions: &[Definition]) -> Result<(), Error> {
        let connection = &self.connection;
        let bytes = path.as_os_str().as_bytes();
        let put = "INSERT INTO file (path, size, time, names) VALUES (?, ?, ?, ?)";
        let count = definitions.len() as i64;
        connection.prepare_cached(put)?.execute(params![bytes, stamp.size as i64, stamp.time, count])?;
        let file = connection.last_insert_rowid();
        let mut put = connection.prepare_cached("INSERT OR REPLACE INTO name VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)")?;
        for each in definitions {
            let kind = NameKind::ALL.iter().position(|kind| *kind == each.kind).unwrap_or(0) as i64;
            put.execute(params![
                file,
                each.span.start.0 as i64,
                each.span.end.0 as i64,
                each.name,
                kind,
                each.container,
                each.line.0 as i64,
                each.signature,
                each.comment
            ])?;
        }
        Ok(())
    }

    /// Forgets a file; a step by itself where none has begun.
    ///
    /// # Errors
    /// The database says no.
    pub fn forget(&mut self, path: &Path) -> Result<(), Error> {
        self.in_step(|store| store.take_out(path))
    }

    fn take_out(&mut self, path: &Path) -> Result<(), Error> {
        let bytes = path.as_os_str().as_bytes();
        let connection = &self.connection;
        let id: Option<i64> = connection
            .prepare_cached("SELECT id FROM file WHERE path = ?")?
            .query_row([bytes], |row| row.get(0))
            .optional()?;
        if let Some(id) = id {
            connection.prepare_cached("DELETE FROM name WHERE file = ?")?.execute([id])?;
            connection.prepare_cached("DELETE FROM file WHERE id = ?")?.execute([id])?;
        }
        Ok(())
    }

    /// The definitions of `name`.
    ///
    /// # Errors
    /// The database says no.
    pub fn named(&self, name: &str) -> Result<Vec<Entry>, Error> {
        self.entries(&format!("SELECT {COLUMNS} WHERE name.name = ?1 LIMIT {MOST_OF_A_NAME}"), params![name])
    }

    /// The definitions of `name` in the files of a folder and of those in it.
    ///
    /// # Errors
    /// The database says no.
    pub fn named_near(&self, name: &str, folder: &Path) -> Result<Vec<Entry>, Error> {
        let from = [folder.as_os_str().as_bytes(), b"/"].concat();
        // The byte after `/`: all paths that begin with the folder come before it.
        let to = [folder.as_os_str().as_bytes(), b"0"].concat();
        let query = format!(
            "SELECT {COLUMNS} WHERE name.name = ?1 AND name.file IN \
             (SELECT id FROM file WHERE path >= ?2 AND path < ?3 LIMIT {MOST_NEAR}) LIMIT {MOST_OF_A_NAME}"
        );
        self.entries(&query, params![name, from, to])
    }

    /// What is in a container of that name, in order.
    ///
    /// # Errors
    /// The database says no.
    pub fn in_container(&self, path: &Path, container: &str) -> Result<Vec<Entry>, Error> {
        let bytes = path.as_os_str().as_bytes();
        let query =
            format!("SELECT {COLUMNS} WHERE file.path = ?1 AND container = ?2 ORDER BY start LIMIT {MOST_OF_A_NAME}");
        self.entries(&query, params![bytes, container])
    }

    /// What a file defines, in order.
    ///
    /// # Errors
    /// The database says no.
    pub fn of_file(&self, path: &Path) -> Result<Vec<Entry>, Error> {
        let bytes = path.as_os_str().as_bytes();
        self.entries(&format!("SELECT {COLUMNS} WHERE file.path = ?1 ORDER BY start"), params![bytes])
    }

    fn entries(&self, query: &str, values: impl rusqlite::Params) -> Result<Vec<Entry>, Error> {
        let mut prepared = self.connection.prepare_cached(query)?;
        let rows = prepared.query_map(values, |row| {
            let path: Vec<u8> = row.get(0)?;
            let kind: i64 = row.get(2)?;
            let [start, end] = [row.get::<_, i64>(4)?, row.get::<_, i64>(5)?].map(|at| Byte(at.max(0) as usize));
            let definition = Definition {
                name: row.get(1)?,
                kind: NameKind::ALL.get(kind as usize).copied().unwrap_or(NameKind::Section),
                container: row.get(3)?,
                span: Span::new(start, end.max(start)),
                line: Line(row.get::<_, i64>(6)?.max(0) as usize),
                signature: row.get(7)?,
                comment: row.get(8)?,
            };
            Ok(Entry { path: PathBuf::from(OsStr::from_bytes(&path)), definition })
        })?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// All names, each once, in their order.
    ///
    /// # Errors
    /// The database says no.
    pub fn names(&self) -> Result<Vec<String>, Error> {
        let mut all = self.connection.prepare_cached("SELECT DISTINCT name FROM name ORDER BY name")?;
        let rows = all.query_map([], |row| row.get(0))?;
        Ok(rows.collect::<rusqlite::Result<_>>()?)
    }

    /// How many files and how many names there are.
    ///
    /// # Errors
    /// The database says no.
    pub fn counts(&self) -> Result<[usize; 2], Error> {
        let mut counts = self.connection.prepare_cached("SELECT count(*), coalesce(sum(names), 0) FROM file")?;
        let [files, names] = counts.query_row([], |row| Ok([row.get::<_, i64>(0)?, row.get(1)?]))?;
        Ok([files as usize, names as usize])
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn definition(name: &str, container: &str) -> Definition {
        Definition {
            name: name.to_owned(),
            kind: NameKind::Field,
            container: container.to_owned(),
            span: Span::new(Byte(3), Byte(6)),
            line: Line(1),
            signature: "int ebb;".to_owned(),
            comment: "falls".to_owned(),
        }
    }

    #[test]
    fn what_is_put_in_is_found_also_at_the_next_start() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("index/names.sqlite");
        let file = Path::new(OsStr::from_bytes(b"a\xFF/tides.c"));
        let stamp = FileStamp { size: 7, time: 9 };
        let mut store = Store::open(Some(&path)).unwrap();
        store.begin().unwrap();
        store.put(file, stamp, &[definition("ebb", "tide"), definition("flow", "tide")]).unwrap();
        store.put(Path::new("b.c"), stamp, &[definition("ebb", "")]).unwrap();
        store.finish().unwrap();
        drop(store);
        let mut store = Store::open(Some(&path)).unwrap();
        assert_eq!(store.counts().unwrap(), [2, 3]);
        assert_eq!(
            store.named("ebb").unwrap()[0],
            Entry { path: file.to_owned(), definition: definition("ebb", "tide") }
        );
        assert_eq!(store.named_near("ebb", file.parent().unwrap()).unwrap().len(), 1);
        assert_eq!(store.named_near("ebb", Path::new("b")).unwrap().len(), 0);
        assert_eq!(store.in_container(file, "tide").unwrap().len(), 2);
        assert_eq!(store.names().unwrap(), ["ebb", "flow"]);
        assert_eq!(store.files().unwrap()[file], stamp);
        store.put(file, stamp, &[]).unwrap();
        store.forget(Path::new("b.c")).unwrap();
        assert_eq!((store.counts().unwrap(), store.of_file(file).unwrap()), ([1, 0], vec![]));
    }

    #[test]
    fn a_damaged_database_is_made_anew() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("names.sqlite");
        std::fs::write(
            &path,
            "this is no database, but something else that is long enough to be looked at ".repeat(80),
        )
        .unwrap();
        let mut store = Store::open(Some(&path)).unwrap();
        store.put(Path::new("a.c"), FileStamp::default(), &[definition("ebb", "")]).unwrap();
        assert_eq!(store.named("ebb").unwrap().len(), 1);
        assert!(Store::open(Some(Path::new("/proc/none/names.sqlite"))).is_err());
    }

    #[test]
    fn two_programs_put_the_same_files_in_at_once_and_each_is_there_once() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("index/names.sqlite");
        let put_all = || {
            let mut store = Store::open(Some(&path)).unwrap();
            for round in 0..50 {
                let file = format!("tide{}.c", round % 5);
                store.put(Path::new(&file), FileStamp { size: round, time: 0 }, &[definition("ebb", "")]).unwrap();
            }
        };
        std::thread::scope(|scope| {
            scope.spawn(put_all);
            scope.spawn(put_all);
        });
        assert_eq!(Store::open(Some(&path)).unwrap().counts().unwrap(), [5, 5]);
    }
}
