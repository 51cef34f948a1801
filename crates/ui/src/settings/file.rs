//! Reading the settings file. What is wrong in it is told by its line, and the rest is in force.

use super::Settings;
use super::known::{KNOWN, names};
use crate::problem::{LineTable, Problem, in_order};
use serde::Deserialize;
use snarvel_core::languages::Language;
use snarvel_core::written::entries;
use snarvel_files::reading;
use snarvel_shell::runners::Table;
use std::path::Path;

/// The name of the entries that add a language, in the form of the table of languages.
const LANGUAGE: &str = "language";

/// The names of the entries that add runners and tasks.
const RUNS: [&str; 2] = ["runner", "task"];

#[derive(Deserialize)]
struct Added {
    language: Vec<Language>,
}

/// Reads `text`, the contents of `file`: what is right in it, and what is wrong.
pub fn parse(text: &str, file: &Path) -> (Settings, Vec<Problem>) {
    let (table, mistakes) = entries(text);
    let mut settings = Settings::default();
    let lines_of_text = LineTable::of(text);
    let line_of = |at: usize| lines_of_text.line_of(at);
    let problem = |at: usize, what: String| Problem { file: file.to_owned(), line: Some(line_of(at)), what };
    let mut problems: Vec<Problem> = mistakes.into_iter().map(|mistake| problem(mistake.at, mistake.what)).collect();
    for (key, value) in table.get_ref() {
        let name = key.get_ref().as_ref();
        if name == LANGUAGE {
            match toml::from_str::<Added>(text) {
                Ok(added) => {
                    let at = key.span().start;
                    let (right, wrong): (Vec<_>, Vec<_>) =
                        added.language.into_iter().partition(|language| language.check().is_ok());
                    problems.extend(
                        wrong.iter().filter_map(|language| language.check().err()).map(|what| problem(at, what)),
                    );
                    settings.languages = right;
                }
                Err(error) => {
                    let at = error.span().map_or(key.span().start, |span| span.start);
                    problems.push(problem(at, error.message().lines().next().unwrap_or_default().to_owned()));
                }
            }
            continue;
        }
        if RUNS.contains(&name) {
            match toml::from_str::<Table>(text) {
                Ok(table) => settings.runners = table,
                Err(error) => {
                    let at = error.span().map_or(key.span().start, |span| span.start);
                    problems.push(problem(at, error.message().lines().next().unwrap_or_default().to_owned()));
                }
            }
            continue;
        }
        let what = match KNOWN.iter().find(|known| known.name == name) {
            None => Some(format!("no setting is called {name:?}: {} are", names())),
            Some(known) if (known.take)(&mut settings, value.get_ref()) => {
                settings.given.push(known.name);
                None
            }
            Some(known) => Some(format!("{name} is {}", known.allowed)),
        };
        problems.extend(what.map(|what| problem(key.span().start, what)));
    }
    (settings, in_order(problems))
}

/// The settings in the file at `path`; the shipped ones where there is no such file.
pub fn read(path: &Path) -> (Settings, Vec<Problem>) {
    match reading::read(path, reading::SETTINGS) {
        Ok(bytes) => parse(&String::from_utf8_lossy(&bytes), path),
        Err(error) if error.kind() == std::io::ErrorKind::NotFound => (Settings::default(), Vec::new()),
        Err(error) => {
            let what = format!("cannot be read: {error}; the shipped settings are in force");
            (Settings::default(), vec![Problem { file: path.to_owned(), line: None, what }])
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::keys::keyboard::Keyboard;
    use crate::settings::Numbers;
    use crate::size::DeckSize;
    use snarvel_core::text::indent::IndentUnit;
    use snarvel_workspace::buffer::defaults::Wraps;
    use snarvel_workspace::offering::settings::When;

    fn told(text: &str) -> (Settings, Vec<String>) {
        let (settings, problems) = parse(text, Path::new("/home/pilot/settings.toml"));
        (settings, problems.iter().map(ToString::to_string).collect())
    }

    #[test]
    fn every_setting_is_taken_over() {
        let text = "palette = \"day\"\ntab_width = 8\nindentation = 0x2\ntext_width = 100\npairs = false\ntrim_trailing = true\n\
            final_line_end = true\nline_numbers = \"relative\"\ndeck_in_write = \"off\"\ndeck_in_shape = \"small\"\n\
            keep_shelf = true\nroster = \"key\"\nsystem_clipboard = false\nhistory_mb = 16\nkeyboard = \"dvorak\"\nsession = false\n\
            filter_seconds = 30\noffers = \"key\"\nservers = \"off\"\nformat_on_save = true\necho = false\n\
            past_mb = 64\npast = [\"*.key\"]\nsave_before_run = false\nwrap = \"prose\"\n\
            ledger = false\ncoach = false\n";
        let (settings, problems) = told(text);
        assert_eq!(problems, [""; 0]);
        assert_eq!(text.lines().count(), KNOWN.len(), "a setting is missing here");
        assert_eq!((settings.theme.as_str(), settings.defaults.tabs.0), ("day", 8));
        assert_eq!((settings.defaults.unit, settings.defaults.closes_pairs), (IndentUnit::Spaces(2), false));
        assert_eq!(settings.defaults.text_width, 100);
        assert!(settings.tidy.trims && settings.tidy.ends_last_line && settings.keeps_shelf);
        assert_eq!(settings.decks, [DeckSize::Off, DeckSize::Small]);
        assert!(settings.numbers == Numbers::Relative && !settings.shares_clipboard);
        assert_eq!(settings.defaults.history_bytes, 16 << 20);
        assert_eq!(settings.offers, When::Key);
        assert!(!settings.starts_servers && settings.formats_on_save && !settings.echoes);
        assert_eq!((settings.past.most_mb, &settings.past.ignored[..]), (64, &["*.key".to_owned()][..]));
        assert!(!settings.keeps_ledger && !settings.coaches);
        assert!(!settings.saves_before_runs && settings.defaults.wraps == Wraps::Prose);
        assert!(!settings.shows_roster && !settings.keeps_session && settings.keyboard == Keyboard::Dvorak);
    }

    #[test]
    fn runners_and_tasks_are_added() {
        let (settings, problems) = told(
            "[[runner]]\nlanguage = \"python\"\nfile = \"pypy3 {file}\"\n\n[[task]]\nname = \"tides\"\ncommand = \"make tides\"\nwhen = \"save\"\n",
        );
        assert_eq!(problems, [""; 0]);
        assert_eq!((settings.runners.runner.len(), settings.runners.task[0].name.as_str()), (1, "tides"));
        let (settings, problems) = told("tab_width = 8\n[[task]]\nname = \"tides\"\nwhen = \"never\"\n");
        assert!(problems[0].starts_with("settings.toml line 4: unknown variant"), "{problems:?}");
        assert_eq!((settings.runners.task.len(), settings.defaults.tabs.0), (0, 8));
    }

    #[test]
    fn what_is_wrong_says_where_and_what_is_allowed_and_leaves_the_rest_in_force() {
        let (settings, problems) = told("tab_width = 99\npallete = \"day\"\n\npairs = \"no\"\nindentation = \"tab\"\n");
        assert_eq!(problems[0], "settings.toml line 1: tab_width is a number from 1 to 16");
        assert!(problems[1].starts_with("settings.toml line 2: no setting is called \"pallete\": palette, tab_width"));
        assert_eq!(problems[2], "settings.toml line 4: pairs is true or false");
        assert_eq!((settings.defaults.unit, settings.defaults.tabs.0), (IndentUnit::Tab, 4));
    }

    #[test]
    fn a_broken_line_leaves_the_others_in_force() {
        let (settings, problems) = told("tab_width = 8\nindentation = = 3\npairs = false\n");
        assert!(problems[0].starts_with("settings.toml line 2: "), "{problems:?}");
        assert_eq!((settings.defaults.tabs.0, settings.defaults.closes_pairs), (8, false));
        for text in ["\u{0}", "[", "a.b = 1", "= ", "\"", "palette = \"night\"\npalette = \"day\"", "[palette]\nx = 1"]
        {
            assert!(!told(text).1.is_empty(), "{text:?} is taken without a word");
        }
        assert_eq!(told("\u{FEFF}\r\n# nothing\r\n").1.len(), 0);
    }

    #[test]
    fn languages_are_added_and_a_wrong_one_says_where() {
        let right = "pairs = false\n[[language]]\nname = \"tidal\"\ntitle = \"Tidal\"\nextensions = [\"tide\"]\nline = [\"~~\"]\n";
        let (settings, problems) = told(right);
        assert_eq!((settings.languages.len(), problems.len(), settings.defaults.closes_pairs), (1, 0, false));
        let (settings, problems) = told(&format!("{right}colour = 1\n"));
        assert_eq!((settings.languages.len(), settings.defaults.closes_pairs), (0, false));
        assert!(problems[0].starts_with("settings.toml line 7: unknown field `colour`"), "{problems:?}");
        let (settings, problems) = told(&right.replace("~~", ""));
        assert_eq!(settings.languages.len(), 0);
        assert!(problems[0].ends_with("tidal: a mark or a delimiter is empty"), "{problems:?}");
    }

    #[test]
    fn no_file_is_no_problem_and_a_folder_is_one() {
        let folder = tempfile::tempdir().unwrap();
        assert!(read(&folder.path().join("settings.toml")).1.is_empty());
        assert!(read(folder.path()).1[0].to_string().contains("cannot be read"));
    }
}
