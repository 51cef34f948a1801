//! The table of a run.

use crate::family::Verdict;
use std::collections::BTreeMap;
use std::fmt;

/// What came of the edits of one family in one language.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Counts {
    /// Edits that were made and judged.
    pub edits: usize,
    /// Those of them that the program refused.
    pub refused: usize,
    /// Those of them that are wrong.
    pub wrong: usize,
}

/// What came of all edits, by family and language.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Table {
    rows: BTreeMap<(&'static str, String), Counts>,
}

impl Table {
    /// Counts an edit.
    pub fn add(&mut self, family: &'static str, language: &str, verdict: &Verdict) {
        let counts = self.rows.entry((family, language.to_owned())).or_default();
        counts.edits += 1;
        counts.refused += usize::from(*verdict == Verdict::Refused);
        counts.wrong += usize::from(matches!(verdict, Verdict::Wrong(_)));
    }

    /// Adds what another table counted.
    pub fn join(&mut self, other: Table) {
        for (key, counts) in other.rows {
            let own = self.rows.entry(key).or_default();
            own.edits += counts.edits;
            own.refused += counts.refused;
            own.wrong += counts.wrong;
        }
    }

    /// What came of all edits of `family`.
    #[must_use]
    pub fn of_family(&self, family: &str) -> Counts {
        self.rows.iter().filter(|((own, _), _)| *own == family).fold(Counts::default(), |sum, (_, counts)| Counts {
            edits: sum.edits + counts.edits,
            refused: sum.refused + counts.refused,
            wrong: sum.wrong + counts.wrong,
        })
    }
}

impl fmt::Display for Table {
    /// As a table of Markdown.
    fn fmt(&self, out: &mut fmt::Formatter<'_>) -> fmt::Result {
        writeln!(out, "| family | language | edits | refused | wrong | wrong of 1,000 |")?;
        writeln!(out, "|---|---|---:|---:|---:|---:|")?;
        for ((family, language), counts) in &self.rows {
            let rate = counts.wrong as f64 * 1000.0 / counts.edits.max(1) as f64;
            writeln!(
                out,
                "| {family} | {language} | {} | {} | {} | {rate:.1} |",
                counts.edits, counts.refused, counts.wrong
            )?;
        }
        Ok(())
    }
}
