//! The ledger on the disk: an `SQLite` database.
//!
//! Each write is one transaction that waits for another program's. Cost: a few milliseconds a write, whatever the ledger holds; a report
//! reads the rows of its days.

use crate::batch::{Batch, Way};
use crate::report::{HabitSum, Learned, Report, VerbSum, WeekSum};
use rusqlite::{Connection, params};
use snarvel_database::Options;
use std::collections::HashMap;
use std::fs::{DirBuilder, OpenOptions};
use std::os::unix::fs::{DirBuilderExt, OpenOptionsExt};
use std::path::{Path, PathBuf};
use std::time::Duration;

/// Why the ledger cannot be read or written.
#[derive(Debug, thiserror::Error)]
pub enum Error {
    /// The database.
    #[error("the ledger {path}: {why}", path = path.display())]
    Database {
        /// Where it is.
        path: PathBuf,
        /// Why.
        why: rusqlite::Error,
    },
    /// Its file.
    #[error("the ledger {path}: {why}", path = path.display())]
    File {
        /// Where it is.
        path: PathBuf,
        /// Why.
        why: std::io::Error,
    },
}

/// What the coach remembers of a pattern.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Said {
    /// How often it was said since its verb was used last.
    pub times: u32,
    /// Whether the person does not want to hear it.
    pub is_quiet: bool,
}

/// How a drill went at best.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Best {
    /// How often it was done.
    pub times: u32,
    /// With how few keys.
    pub keys: u32,
    /// In how many milliseconds at least.
    pub ms: u64,
}

impl Best {
    /// The best once the drill was done again, with so many keys in so many milliseconds.
    #[must_use]
    pub fn after(self, keys: u32, ms: u64) -> Best {
        match self.times {
            0 => Best { times: 1, keys, ms },
            times => Best { times: times + 1, keys: self.keys.min(keys), ms: self.ms.min(ms) },
        }
    }
}

/// So long another program that writes is waited for.
const OTHER_WRITES: Duration = Duration::from_secs(2);

/// The form of the database: another one is put aside.
const FORM: i32 = 1;

const TABLES: &str = "
    CREATE TABLE IF NOT EXISTS used (day TEXT, kind TEXT, verb TEXT, way TEXT, times INTEGER, keys INTEGER, cursors INTEGER,
        lines INTEGER, undone INTEGER, PRIMARY KEY (day, kind, verb, way)) WITHOUT ROWID;
    CREATE TABLE IF NOT EXISTS habit (day TEXT, pattern TEXT, verb TEXT, times INTEGER, saved INTEGER,
        PRIMARY KEY (day, pattern, verb)) WITHOUT ROWID;
    CREATE TABLE IF NOT EXISTS said (pattern TEXT PRIMARY KEY, times INTEGER, quiet INTEGER) WITHOUT ROWID;
    CREATE TABLE IF NOT EXISTS drill (name TEXT PRIMARY KEY, times INTEGER, keys INTEGER, ms INTEGER) WITHOUT ROWID;
";

/// Verbs that are no verbs of a report: small steps and typed text.
const OF_REPORT: &str = "way IN ('key', 'lookup')";

/// A ledger.
#[derive(Debug)]
pub struct Ledger {
    connection: Connection,
    path: PathBuf,
}

impl Ledger {
    /// Opens the ledger at `path`, or begins one. One that cannot be read is put aside first; where it is now is given, too.
    ///
    /// # Errors
    /// The file cannot be made.
    pub fn open(path: &Path) -> Result<(Ledger, Option<PathBuf>), Error> {
        match Ledger::opened(path) {
            Err(Error::Database { why, .. }) if is_damage(&why) => {
                let aside = put_aside(path)?;
                Ok((Ledger::opened(path)?, Some(aside)))
            }
            opened => Ok((opened?, None)),
        }
    }

    fn opened(path: &Path) -> Result<Ledger, Error> {
        let failed = |why| Error::File { path: path.to_owned(), why };
        if let Some(folder) = path.parent() {
            DirBuilder::new().recursive(true).mode(0o700).create(folder).map_err(failed)?;
        }
        // Created here, so that only its owner may read it; the database's other files get the same mode.
        let made = OpenOptions::new().create(true).append(true).mode(0o600).open(path);
        made.map_err(failed)?;
        let options =
            Options { timeout: OTHER_WRITES, pragmas: "PRAGMA synchronous = NORMAL;", version: FORM, tables: TABLES };
        let prepared = || -> rusqlite::Result<Connection> {
            let (connection, form) = snarvel_database::open(path, options)?;
            if form != FORM {
                return Err(rusqlite::Error::InvalidQuery);
            }
            // A page that is damaged is told of now, not in the middle of something.
            connection.query_row("SELECT count(*) + (SELECT count(*) FROM said) FROM drill", [], |_| Ok(()))?;
            Ok(connection)
        };
        let connection = prepared().map_err(|why| Error::Database { path: path.to_owned(), why })?;
        Ok(Ledger { connection, path: path.to_owned() })
    }

    fn failed<T>(&self, result: rusqlite::Result<T>) -> Result<T, Error> {
        result.map_err(|why| Error::Database { path: self.path.clone(), why })
    }

    /// Adds what was counted, as one step.
    ///
    /// # Errors
    /// It cannot be written; then nothing of it is.
    pub fn add(&mut self, batch: &Batch) -> Result<(), Error> {
        let added = put_in(&mut self.connection, batch);
        self.failed(added)
    }

    /// Forgets everything.
    ///
    /// # Errors
    /// It cannot be written.
    pub fn clear(&mut self) -> Result<(), Error> {
        let forget = "BEGIN IMMEDIATE; DELETE FROM used; DELETE FROM habit; DELETE FROM said; DELETE FROM drill; COMMIT; VACUUM;";
        self.failed(self.connection.execute_batch(forget))
    }

    /// What the coach remembers of each pattern.
    ///
    /// # Errors
    /// It cannot be read.
    pub fn said(&self) -> Result<HashMap<String, Said>, Error> {
        let read = || -> rusqlite::Result<HashMap<String, Said>> {
            let mut all = self.connection.prepare("SELECT pattern, times, quiet FROM said")?;
            let rows =
                all.query_map([], |row| Ok((row.get(0)?, Said { times: row.get(1)?, is_quiet: row.get(2)? })))?;
            rows.collect()
        };
        self.failed(read())
    }

    /// Remembers of a pattern what was said.
    ///
    /// # Errors
    /// It cannot be written.
    pub fn put_said(&mut self, pattern: &str, said: Said) -> Result<(), Error> {
        let put = "INSERT OR REPLACE INTO said VALUES (?, ?, ?)";
        self.failed(self.connection.execute(put, params![pattern, said.times, said.is_quiet]).map(drop))
    }

    /// Notes that a drill was done.
    ///
    /// # Errors
    /// It cannot be written.
    pub fn put_drill(&mut self, name: &str, keys: u32, ms: u64) -> Result<(), Error> {
        let put = "INSERT INTO drill VALUES (?1, 1, ?2, ?3) ON CONFLICT (name) DO UPDATE SET
            times = times + 1, keys = min(keys, ?2), ms = min(ms, ?3)";
        self.failed(self.connection.execute(put, params![name, keys, ms as i64]).map(drop))
    }

    /// How each drill that was done went at best.
    ///
    /// # Errors
    /// It cannot be read.
    pub fn bests(&self) -> Result<HashMap<String, Best>, Error> {
        let read = || -> rusqlite::Result<HashMap<String, Best>> {
            let mut all = self.connection.prepare("SELECT name, times, keys, ms FROM drill")?;
            let rows = all.query_map([], |row| {
                Ok((
                    row.get(0)?,
                    Best { times: row.get(1)?, keys: row.get(2)?, ms: row.get::<_, i64>(3)?.max(0) as u64 },
                ))
            })?;
            rows.collect()
        };
        self.failed(read())
    }

    /// What was used from the day `since` on.
    ///
    /// # Errors
    /// It cannot be read.
    pub fn report(&self, since: &str) -> Result<Report, Error> {
        self.failed(read_report(&self.connection, since))
    }
}

fn put_in(connection: &mut Connection, batch: &Batch) -> rusqlite::Result<()> {
    let step = connection.transaction_with_behavior(rusqlite::TransactionBehavior::Immediate)?;
    {
        let mut put = step.prepare_cached(
            "INSERT INTO used VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9) ON CONFLICT DO UPDATE SET times = times + ?5,
             keys = keys + ?6, cursors = cursors + ?7, lines = lines + ?8, undone = undone + ?9",
        )?;
        for (used, sum) in &batch.used {
            let [times, keys, cursors, lines, undone] =
                [sum.times, sum.keys, sum.cursors, sum.lines, sum.undone].map(|count| count as i64);
            let way = used.way.name();
            put.execute(params![used.day, used.kind, used.verb, way, times, keys, cursors, lines, undone])?;
        }
        let mut put = step.prepare_cached(
            "INSERT INTO habit VALUES (?1, ?2, ?3, ?4, ?5)
             ON CONFLICT DO UPDATE SET times = times + ?4, saved = saved + ?5",
        )?;
        for (habit, [times, saved]) in &batch.habits {
            put.execute(params![habit.day, habit.pattern, habit.verb, *times as i64, *saved as i64])?;
        }
    }
    step.commit()
}

/// The rows of a query, each read by `read`.
fn rows<T>(
    connection: &Connection,
    query: &str,
    since: &str,
    read: impl FnMut(&rusqlite::Row) -> rusqlite::Result<T>,
) -> rusqlite::Result<Vec<T>> {
    connection.prepare(query)?.query_map([since], read)?.collect()
}

fn count(row: &rusqlite::Row, index: usize) -> rusqlite::Result<u64> {
    Ok(row.get::<_, Option<i64>>(index)?.unwrap_or(0).max(0) as u64)
}

fn read_report(connection: &Connection, since: &str) -> rusqlite::Result<Report> {
    let sums = "SELECT count(DISTINCT day), sum(keys), sum(lines) FROM used WHERE day >= ?";
    let [days, keys, lines] =
        connection.query_row(sums, [since], |row| Ok([count(row, 0)?, count(row, 1)?, count(row, 2)?]))?;
    let of_way = "SELECT way, sum(keys) FROM used WHERE day >= ? GROUP BY way";
    let by_way: HashMap<String, u64> =
        rows(connection, of_way, since, |row| Ok((row.get(0)?, count(row, 1)?)))?.into_iter().collect();
    let ways = Way::ALL.map(|way| (way.name().to_owned(), by_way.get(way.name()).copied().unwrap_or(0))).to_vec();
    let verbs = rows(connection, &verbs_query(), since, |row| {
        Ok(VerbSum {
            verb: row.get(0)?,
            times: count(row, 1)?,
            by_key: count(row, 2)?,
            by_lookup: count(row, 3)?,
            keys: count(row, 4)?,
            cursors: count(row, 5)?,
            lines: count(row, 6)?,
            undone: count(row, 7)?,
        })
    })?;
    // The Monday of a day: the Sunday on or after it, less six days.
    let of_weeks = |first_day: &str| {
        let weeks = format!(
            "SELECT date(day, 'weekday 0', '-6 days') AS monday, sum(keys), sum(lines) FROM used WHERE day >= {first_day}
             GROUP BY monday ORDER BY monday"
        );
        rows(connection, &weeks, since, |row| {
            Ok(WeekSum { monday: row.get(0)?, keys: count(row, 1)?, lines: count(row, 2)? })
        })
    };
    let weeks = of_weeks("?")?;
    let course = of_weeks("coalesce(date(?, '-77 days'), '')")?;
    let habits = "SELECT pattern, verb, sum(times), sum(saved) AS cost FROM habit WHERE day >= ?
         GROUP BY pattern, verb ORDER BY cost DESC, pattern LIMIT 10";
    let habits = rows(connection, habits, since, |row| {
        Ok(HabitSum { pattern: row.get(0)?, verb: row.get(1)?, times: count(row, 2)?, saved: count(row, 3)? })
    })?;
    let learned = rows(connection, LEARNED, since, |row| {
        Ok(Learned { verb: row.get(0)?, since: row.get(1)?, times: count(row, 2)? })
    })?;
    Ok(Report { since: since.to_owned(), days, keys, lines, ways, verbs, weeks, course, habits, learned })
}

fn verbs_query() -> String {
    format!(
        "SELECT verb, sum(times) AS all_times, sum(CASE way WHEN 'key' THEN times END),
         sum(CASE way WHEN 'lookup' THEN times END), sum(keys), sum(cursors), sum(lines), sum(undone)
         FROM used WHERE day >= ? AND {OF_REPORT} GROUP BY verb ORDER BY all_times DESC, verb"
    )
}

/// A verb was learned where it was looked up, or a long way was taken in its place, before its key was used, and its key was used three
/// times and more since that was so last.
const LEARNED: &str = "
    WITH long AS (SELECT verb, min(day) AS first, max(day) AS last FROM
                  (SELECT verb, day FROM used WHERE way = 'lookup' UNION ALL SELECT verb, day FROM habit) GROUP BY verb)
    SELECT used.verb, min(used.day), sum(used.times) AS all_times FROM used JOIN long ON long.verb = used.verb
    WHERE used.way = 'key' AND used.day >= long.first
      AND NOT EXISTS (SELECT 1 FROM used AS early WHERE early.verb = used.verb AND early.way = 'key' AND early.day < long.first)
    GROUP BY used.verb
    HAVING min(used.day) >= ?1 AND sum(CASE WHEN used.day >= long.last THEN used.times ELSE 0 END) >= 3
    ORDER BY min(used.day) DESC, used.verb";

/// Whether the file is at fault, not what it is on.
fn is_damage(why: &rusqlite::Error) -> bool {
    use rusqlite::ErrorCode::{DatabaseCorrupt, NotADatabase};
    match why {
        rusqlite::Error::SqliteFailure(error, message) => {
            let is_other = message.as_deref().is_some_and(|message| message.starts_with("no such table"));
            matches!(error.code, DatabaseCorrupt | NotADatabase) || is_other
        }
        rusqlite::Error::InvalidQuery | rusqlite::Error::InvalidColumnType(..) => true,
        _ => false,
    }
}

/// Renames what cannot be read, so that it is there to be looked at.
fn put_aside(path: &Path) -> Result<PathBuf, Error> {
    let failed = |why| Error::File { path: path.to_owned(), why };
    let named = |number: u32| {
        let mut name = path.as_os_str().to_owned();
        name.push(format!(".damaged-{number}"));
        PathBuf::from(name)
    };
    let aside = (1..=u32::MAX).map(named).find(|name| !name.exists()).unwrap_or_else(|| named(0));
    std::fs::rename(path, &aside).map_err(failed)?;
    for ending in ["-wal", "-shm"] {
        let mut name = path.as_os_str().to_owned();
        name.push(ending);
        // What is not there need not go.
        let _ = std::fs::remove_file(name);
    }
    Ok(aside)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::batch::{Amounts, Habit, Used};
    use std::os::unix::fs::PermissionsExt;

    fn used(day: &str, verb: &str, way: Way) -> Used {
        Used { day: day.to_owned(), kind: "rust".to_owned(), verb: verb.to_owned(), way }
    }

    fn batch(rows: &[(&str, &str, Way, u64)]) -> Batch {
        let mut batch = Batch::default();
        for (day, verb, way, times) in rows {
            let amounts = Amounts { times: *times, keys: times * 2, cursors: *times, lines: 1, undone: 0 };
            batch.add(used(day, verb, *way), amounts);
        }
        batch
    }

    #[test]
    fn what_is_added_is_summed_up_over_writes_and_weeks() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("ledger.sqlite");
        let (mut ledger, aside) = Ledger::open(&path).unwrap();
        assert_eq!(aside, None);
        assert_eq!(std::fs::metadata(&path).unwrap().permissions().mode() & 0o777, 0o600);
        // 2026-11-23 is a Monday.
        ledger
            .add(&batch(&[("2026-11-22", "carry-down", Way::Key, 2), ("2026-11-23", "carry-down", Way::Key, 3)]))
            .unwrap();
        ledger
            .add(&batch(&[("2026-11-23", "carry-down", Way::Lookup, 1), ("2026-11-23", "char-right", Way::Hand, 9)]))
            .unwrap();
        drop(ledger);
        let report = Ledger::open(&path).unwrap().0.report("2026-11-01").unwrap();
        assert_eq!((report.days, report.keys, report.lines), (2, 30, 4));
        let carry = &report.verbs[0];
        assert_eq!((carry.verb.as_str(), carry.times, carry.by_key, carry.by_lookup), ("carry-down", 6, 5, 1));
        assert_eq!(report.verbs.len(), 1, "small steps are no verbs");
        let mondays: Vec<&str> = report.weeks.iter().map(|week| week.monday.as_str()).collect();
        assert_eq!(mondays, ["2026-11-16", "2026-11-23"]);
        assert_eq!(report.weeks[0].keys_a_line(), Some(4.0));
        assert_eq!(report.ways[1], ("hand".to_owned(), 18));
        let later = Ledger::open(&path).unwrap().0.report("2026-11-23").unwrap();
        assert_eq!((later.days, later.verbs[0].times), (1, 4));
    }

    #[test]
    fn a_verb_is_learned_once_its_key_is_used_instead_of_a_longer_way() {
        let folder = tempfile::tempdir().unwrap();
        let (mut ledger, _) = Ledger::open(&folder.path().join("ledger.sqlite")).unwrap();
        let mut all = batch(&[
            ("2026-11-02", "join-lines", Way::Lookup, 1),
            ("2026-11-03", "join-lines", Way::Key, 4),
            ("2026-11-01", "carry-down", Way::Key, 9),
            ("2026-11-02", "carry-down", Way::Lookup, 1),
            ("2026-11-04", "align", Way::Key, 2),
            ("2026-11-04", "open-below", Way::Key, 5),
        ]);
        let habit = |day: &str, verb: &str| Habit {
            day: day.to_owned(),
            pattern: format!("long-{verb}"),
            verb: verb.to_owned(),
        };
        all.add_habit(habit("2026-11-03", "open-below"), 7);
        all.add_habit(habit("2026-11-03", "open-below"), 4);
        all.add_habit(habit("2026-11-03", "align"), 20);
        ledger.add(&all).unwrap();
        let report = ledger.report("2026-11-01").unwrap();
        let learned: Vec<(&str, u64)> = report.learned.iter().map(|each| (each.verb.as_str(), each.times)).collect();
        assert_eq!(learned, [("open-below", 5), ("join-lines", 4)], "carry-down was known, align is used too little");
        let costs: Vec<(&str, u64, u64)> =
            report.habits.iter().map(|habit| (habit.verb.as_str(), habit.times, habit.saved)).collect();
        assert_eq!(costs, [("align", 1, 20), ("open-below", 2, 11)]);
    }

    #[test]
    fn a_damaged_ledger_is_put_aside_and_never_written_over() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("ledger.sqlite");
        for number in 1..3 {
            std::fs::write(&path, "no ledger, but somebody's notes").unwrap();
            let (mut ledger, aside) = Ledger::open(&path).unwrap();
            let aside = aside.unwrap();
            assert!(aside.ends_with(format!("ledger.sqlite.damaged-{number}")));
            assert_eq!(std::fs::read_to_string(&aside).unwrap(), "no ledger, but somebody's notes");
            ledger.add(&batch(&[("2026-11-22", "copy", Way::Key, 1)])).unwrap();
        }
    }

    #[test]
    fn a_place_that_is_none_is_told_with_its_name() {
        let folder = tempfile::tempdir().unwrap();
        std::fs::write(folder.path().join("log.txt"), "ebb").unwrap();
        let error = Ledger::open(&folder.path().join("log.txt/ledger.sqlite")).unwrap_err().to_string();
        assert!(error.starts_with("the ledger /") && error.contains("log.txt/ledger.sqlite: "), "{error}");
    }

    #[test]
    fn two_programs_write_at_once_and_nothing_is_lost() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("ledger.sqlite");
        let write = || {
            let (mut ledger, aside) = Ledger::open(&path).unwrap();
            assert_eq!(aside, None);
            for _ in 0..40 {
                ledger.add(&batch(&[("2026-11-22", "copy", Way::Key, 1)])).unwrap();
            }
        };
        std::thread::scope(|scope| {
            scope.spawn(write);
            scope.spawn(write);
        });
        assert_eq!(Ledger::open(&path).unwrap().0.report("").unwrap().verbs[0].times, 80);
    }

    #[test]
    fn what_was_said_and_how_drills_went_is_remembered_until_all_is_forgotten() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("ledger.sqlite");
        let (mut ledger, _) = Ledger::open(&path).unwrap();
        ledger.put_said("word-by-backspace", Said { times: 2, is_quiet: true }).unwrap();
        let mut expected = Best::default();
        for (keys, ms) in [(9, 4000), (5, 6000)] {
            ledger.put_drill("ebb-down", keys, ms).unwrap();
            expected = expected.after(keys, ms);
            assert_eq!(ledger.bests().unwrap()["ebb-down"], expected);
        }
        assert_eq!(expected, Best { times: 2, keys: 5, ms: 4000 });
        let (mut again, _) = Ledger::open(&path).unwrap();
        assert_eq!(again.said().unwrap()["word-by-backspace"], Said { times: 2, is_quiet: true });
        again.clear().unwrap();
        assert!(ledger.said().unwrap().is_empty() && ledger.bests().unwrap().is_empty());
    }
}
