//! The drills: a text as it is and as it should be, and the fewest keys that are known for it. They are data, in `crates/ui/drills`, a file
//! for each group.

use crate::keys::script::{self, ScriptStep};
use serde::Deserialize;
use std::collections::HashSet;
use std::sync::LazyLock;

/// A drill.
#[derive(Clone, Debug, PartialEq, Eq, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Drill {
    /// Its name, kebab-case.
    pub name: String,
    /// What is to be done, in a sentence.
    pub task: String,
    /// The name of the file, which tells its language.
    pub file: String,
    /// The verbs that it trains.
    pub trains: Vec<String>,
    /// Where the caret is at first: line and column, from 1.
    pub at: String,
    /// The shortest keys that are known, as a key script.
    pub par: String,
    /// The text as it is.
    pub before: String,
    /// The text as it should be.
    pub after: String,
    /// What it is about.
    #[serde(skip)]
    pub group: &'static str,
    /// How many keys the par takes.
    #[serde(skip)]
    pub par_keys: u32,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Table {
    drill: Vec<Drill>,
}

/// The groups, in the order in which they are shown.
const GROUPS: [(&str, &str); 8] = [
    ("moves", include_str!("../drills/moves.toml")),
    ("selects", include_str!("../drills/selects.toml")),
    ("lines", include_str!("../drills/lines.toml")),
    ("comments", include_str!("../drills/comments.toml")),
    ("cursors", include_str!("../drills/cursors.toml")),
    ("columns", include_str!("../drills/columns.toml")),
    ("find", include_str!("../drills/find.toml")),
    ("clipboard and history", include_str!("../drills/clipboard.toml")),
];

/// So many drills are a series.
pub const SERIES: usize = 8;

/// All drills, group by group.
///
/// # Panics
/// If one of the files is no TOML, or one of the pars no key script: a test reads them.
pub static DRILLS: LazyLock<Vec<Drill>> = LazyLock::new(|| {
    let read = |(group, text): (&'static str, &str)| -> Vec<Drill> {
        let table: Table = toml::from_str(text).unwrap_or_else(|error| panic!("the drills of {group}: {error}"));
        table.drill.into_iter().map(|drill| Drill { group, par_keys: drill.steps().len() as u32, ..drill }).collect()
    };
    GROUPS.into_iter().flat_map(read).collect()
});

/// The drill called `name`.
#[must_use]
pub fn named(name: &str) -> Option<&'static Drill> {
    DRILLS.iter().find(|drill| drill.name == name)
}

impl Drill {
    /// The keys of the par.
    ///
    /// # Panics
    /// If it is no key script: a test plays it.
    #[must_use]
    pub fn steps(&self) -> Vec<ScriptStep> {
        script::parse(&self.par).unwrap_or_else(|error| panic!("{}: {error}", self.name))
    }
}

/// A series for a person: drills that train the verbs of `weak`, the weakest first, then others that were not done.
#[must_use]
pub fn series(weak: &[String], is_done: impl Fn(&str) -> bool) -> Vec<&'static Drill> {
    let mut chosen: Vec<&Drill> = Vec::new();
    let mut names = HashSet::new();
    let of_weak = weak.iter().flat_map(|verb| DRILLS.iter().filter(move |drill| drill.trains.contains(verb)));
    let not_done = DRILLS.iter().filter(|drill| !is_done(&drill.name));
    for drill in of_weak.chain(not_done).chain(DRILLS.iter()) {
        if chosen.len() < SERIES && names.insert(&drill.name) {
            chosen.push(drill);
        }
    }
    chosen
}

#[cfg(test)]
mod tests {
    use super::*;
    use snarvel_workspace::registry::by_name;

    #[test]
    fn there_are_forty_and_more_each_with_a_name_of_its_own_and_verbs_that_are_there() {
        assert!(DRILLS.len() >= 40, "{}", DRILLS.len());
        let names: HashSet<&str> = DRILLS.iter().map(|drill| drill.name.as_str()).collect();
        assert_eq!(names.len(), DRILLS.len());
        for (group, _) in GROUPS {
            assert!(DRILLS.iter().filter(|drill| drill.group == group).count() >= 4, "{group}");
        }
        for drill in DRILLS.iter() {
            assert!(drill.task.ends_with('.') && drill.before != drill.after, "{}", drill.name);
            assert!(!drill.trains.is_empty() && drill.par_keys > 0, "{}", drill.name);
            drill.trains.iter().for_each(|verb| assert!(by_name(verb).is_some(), "{}: {verb}", drill.name));
        }
    }

    #[test]
    fn a_series_begins_with_what_is_weak_and_holds_each_once() {
        let weak = ["carry-down".to_owned(), "no-such-verb".to_owned()];
        let series = series(&weak, |_| false);
        assert_eq!(series.len(), SERIES);
        assert!(series[0].trains.contains(&weak[0]));
        let names: HashSet<&str> = series.iter().map(|drill| drill.name.as_str()).collect();
        assert_eq!(names.len(), SERIES);
    }
}
