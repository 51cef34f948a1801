//! `snarvel ledger` and the list of drills: what the ledger tells, without a screen.

use crate::listings::Format;
use crate::state;
use anyhow::{Context, Result, bail};
use snarvel_ledger::{Ledger, Report};
use snarvel_ui::drills::DRILLS;
use snarvel_ui::sheets::ledger::{habit, learned, title};
use snarvel_workspace::today::days_ago;
use std::fmt::Write;

fn open() -> Result<Ledger> {
    let file = state::ledger_file().context("nothing is kept: there is no home folder")?;
    if !file.exists() {
        bail!("nothing is counted yet: the setting ledger turns it on, and it fills while you work");
    }
    let (ledger, aside) = Ledger::open(&file)?;
    if let Some(aside) = aside {
        eprintln!("snarvel: the ledger could not be read: it is kept as {}, and a new one is begun", aside.display());
    }
    Ok(ledger)
}

/// What was used since `since`.
///
/// # Errors
/// No ledger, one that cannot be read, a time that is none.
pub fn report(since: &str) -> Result<Report> {
    Ok(open()?.report(&day(since)?)?)
}

/// The first day of a time: 7d, 4w, 6m, 1y, or a date.
fn day(since: &str) -> Result<String> {
    let is_date = since.len() == 10
        && since
            .bytes()
            .enumerate()
            .all(|(at, byte)| if matches!(at, 4 | 7) { byte == b'-' } else { byte.is_ascii_digit() });
    if is_date {
        return Ok(since.to_owned());
    }
    let each = [('d', 1), ('w', 7), ('m', 31), ('y', 366)];
    let days = each.into_iter().find_map(|(unit, days)| {
        let count: u32 = since.strip_suffix(unit)?.parse().ok()?;
        count.checked_mul(days).filter(|days| *days > 0)
    });
    match days {
        Some(days) => Ok(days_ago(days - 1)),
        None => bail!("{since:?} is no time: 7d, 4w, 6m, 1y, or a date as 2026-11-28"),
    }
}

/// What was used since `since`, to be read.
///
/// # Errors
/// No ledger, one that cannot be read, a time that is none.
pub fn told(since: &str, format: Format) -> Result<String> {
    let report = report(since)?;
    if format == Format::Json {
        return Ok(format!("{:#}\n", serde_json::to_value(&report).context("the report")?));
    }
    let mut out = format!("{}\n", title(&report));
    let all: u64 = report.ways.iter().map(|(_, keys)| keys).sum();
    let ways = report.ways.iter().filter(|(_, keys)| *keys > 0);
    let shares: Vec<String> =
        ways.map(|(name, keys)| format!("{name} {:.0} %", *keys as f64 / all as f64 * 100.0)).collect();
    let _ = writeln!(out, "keys by way: {}", if shares.is_empty() { "none".to_owned() } else { shares.join(", ") });
    let _ = writeln!(out, "\nverbs: times, by key, by lookup, lines changed, taken back");
    for verb in &report.verbs {
        let _ = writeln!(
            out,
            "  {:<24} {:>6} {:>6} {:>6} {:>7} {:>5}",
            verb.verb, verb.times, verb.by_key, verb.by_lookup, verb.lines, verb.undone
        );
    }
    let _ = writeln!(out, "\nkeys for each changed line, by week");
    for week in &report.weeks {
        let each = week.keys_a_line().map_or("none changed".to_owned(), |keys| format!("{keys:.1}"));
        let _ = writeln!(out, "  {}  {each}", week.monday);
    }
    let lists: [(&str, Vec<String>); 2] = [
        ("costliest habits", report.habits.iter().map(habit).collect()),
        ("learned", report.learned.iter().map(learned).collect()),
    ];
    for (name, lines) in lists {
        let _ = writeln!(out, "\n{name}");
        let lines = if lines.is_empty() { vec!["none yet".to_owned()] } else { lines };
        for line in &lines {
            let _ = writeln!(out, "  {line}");
        }
    }
    Ok(out)
}

/// Forgets everything; what is said.
///
/// # Errors
/// No ledger, or one that cannot be written.
pub fn clear() -> Result<String> {
    open()?.clear()?;
    Ok("everything that was counted is forgotten\n".to_owned())
}

/// The drills with their pars, and how they went at best.
///
/// # Errors
/// A ledger that cannot be read.
pub fn drills() -> Result<String> {
    let file = state::ledger_file().filter(|file| file.exists());
    let bests = file.map(|_| anyhow::Ok(open()?.bests()?)).transpose()?.unwrap_or_default();
    let mut out = String::new();
    let mut group = "";
    for drill in DRILLS.iter() {
        if drill.group != group {
            group = drill.group;
            let _ = writeln!(out, "{}{group}", if out.is_empty() { "" } else { "\n" });
        }
        let best = bests.get(&drill.name).map_or(String::new(), |best| format!(", your best {}", best.keys));
        let _ = writeln!(out, "  {:<22} par {}{best}: {}", drill.name, drill.par_keys, drill.task);
    }
    Ok(out)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn times_are_days_weeks_months_years_or_dates() {
        for (since, expected) in [
            ("1d", Some(days_ago(0))),
            ("7d", Some(days_ago(6))),
            ("2w", Some(days_ago(13))),
            ("1y", Some(days_ago(365))),
            ("2026-11-28", Some("2026-11-28".to_owned())),
            ("0d", None),
            ("d", None),
            ("soon", None),
            ("99999999999y", None),
            ("2026/11/28", None),
        ] {
            assert_eq!(day(since).ok(), expected, "{since}");
        }
    }
}
