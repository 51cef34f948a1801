//! The settings that there are: what each is about, what it takes, and the values that it goes through.

use super::{Numbers, Settings};
use crate::keys::keyboard::Keyboard;
use crate::size::DeckSize;
use snarvel_core::text::cells::TabWidth;
use snarvel_core::text::indent::IndentUnit;
use snarvel_core::units::Direction;
use snarvel_workspace::buffer::defaults::Wraps;
use snarvel_workspace::offering::settings::When;
use std::time::Duration;
use toml::de::{DeTable, DeValue};

/// The values that a setting goes through, as the file spells them.
#[derive(Clone, Copy, Debug)]
pub enum Steps {
    /// These.
    Words(&'static [&'static str]),
    /// Numbers: the least, the most, and how far a step goes.
    Numbers(u32, u32, u32),
    /// A word, then numbers.
    WordOrNumbers(&'static str, u32, u32),
}

/// A setting.
pub struct KnownSetting {
    /// Its name in the file.
    pub name: &'static str,
    /// What is said of it.
    pub about: &'static str,
    /// What is allowed.
    pub allowed: &'static str,
    /// The values that it goes through.
    pub steps: Steps,
    /// Takes a value over; false where that is not allowed.
    pub take: fn(&mut Settings, &DeValue) -> bool,
    /// Its value, as the file spells it.
    pub tell: fn(&Settings) -> String,
}

const YES: Steps = Steps::Words(&["true", "false"]);

const DECKS: Steps = Steps::Words(&["\"full\"", "\"small\"", "\"off\""]);

/// All settings, in the order in which they are shown.
pub const KNOWN: &[KnownSetting] = &[
    KnownSetting {
        name: "palette",
        about: "The theme of colours, or auto: the one for the terminal's background. The verb theme shows all of them.",
        steps: Steps::Words(&["\"night\"", "\"day\"", "\"glare\"", "\"buoy\"", "\"auto\""]),
        allowed: "the name of a theme, or \"auto\"",
        take: |settings, value| {
            put(&mut settings.theme, value.as_str().filter(|name| !name.is_empty()).map(str::to_owned))
        },
        tell: |settings| format!("{:?}", settings.theme),
    },
    KnownSetting {
        name: "tab_width",
        about: "The distance between tab stops, in cells, where nothing else says it.",
        steps: Steps::Numbers(1, 16, 1),
        allowed: "a number from 1 to 16",
        take: |settings, value| put(&mut settings.defaults.tabs, number(value, 1..=16).map(TabWidth)),
        tell: |settings| settings.defaults.tabs.0.to_string(),
    },
    KnownSetting {
        name: "indentation",
        about: "One step of indentation where neither the text nor .editorconfig shows it.",
        steps: Steps::WordOrNumbers("\"tab\"", 1, 16),
        allowed: "\"tab\" or a number of spaces from 1 to 16",
        take: |settings, value| {
            let tab = word(value, &[("tab", IndentUnit::Tab)]);
            put(&mut settings.defaults.unit, tab.or_else(|| number(value, 1..=16).map(IndentUnit::Spaces)))
        },
        tell: |settings| match settings.defaults.unit {
            IndentUnit::Tab => "\"tab\"".to_owned(),
            IndentUnit::Spaces(count) => count.to_string(),
        },
    },
    KnownSetting {
        name: "text_width",
        about: "The width that reflowing lays text out in, in cells.",
        steps: Steps::Numbers(20, 1000, 1),
        allowed: "a number from 20 to 1000",
        take: |settings, value| put(&mut settings.defaults.text_width, number(value, 20..=1000)),
        tell: |settings| settings.defaults.text_width.to_string(),
    },
    KnownSetting {
        name: "wrap",
        about: "Whether long lines are wrapped at the edge of the view: in all texts, or in prose only.",
        steps: Steps::Words(&["false", "true", "\"prose\""]),
        allowed: "true, false or \"prose\"",
        take: |settings, value| {
            let word = word(value, &[("prose", Wraps::Prose)]);
            let yes_no = value.as_bool().map(|yes| if yes { Wraps::Always } else { Wraps::Never });
            put(&mut settings.defaults.wraps, word.or(yes_no))
        },
        tell: |settings| {
            let word = match settings.defaults.wraps {
                Wraps::Never => "false",
                Wraps::Always => "true",
                Wraps::Prose => "\"prose\"",
            };
            word.to_owned()
        },
    },
    KnownSetting {
        name: "pairs",
        about: "Whether brackets and quotes close themselves.",
        steps: YES,
        allowed: YES_NO,
        take: |settings, value| put(&mut settings.defaults.closes_pairs, value.as_bool()),
        tell: |settings| settings.defaults.closes_pairs.to_string(),
    },
    KnownSetting {
        name: "offers",
        about: "Whether offers come by themselves in code, or by Ctrl+K only.",
        steps: Steps::Words(&["\"auto\"", "\"key\"", "\"off\""]),
        allowed: "\"auto\", \"key\" or \"off\"",
        take: |settings, value| {
            put(&mut settings.offers, word(value, &[("auto", When::Auto), ("key", When::Key), ("off", When::Off)]))
        },
        tell: |settings| {
            let word = match settings.offers {
                When::Auto => "auto",
                When::Key => "key",
                When::Off => "off",
            };
            format!("{word:?}")
        },
    },
    KnownSetting {
        name: "echo",
        about: "Whether more places are offered after two edits that are alike.",
        steps: YES,
        allowed: YES_NO,
        take: |settings, value| put(&mut settings.echoes, value.as_bool()),
        tell: |settings| settings.echoes.to_string(),
    },
    KnownSetting {
        name: "ledger",
        about: "Whether what you use is counted, on your disk and for you only: no text, no file names. Counts from the next start on.",
        steps: YES,
        allowed: YES_NO,
        take: |settings, value| put(&mut settings.keeps_ledger, value.as_bool()),
        tell: |settings| settings.keeps_ledger.to_string(),
    },
    KnownSetting {
        name: "coach",
        about: "Whether the status line says now and then which keys would have been shorter.",
        steps: YES,
        allowed: YES_NO,
        take: |settings, value| put(&mut settings.coaches, value.as_bool()),
        tell: |settings| settings.coaches.to_string(),
    },
    KnownSetting {
        name: "servers",
        about: "Whether language servers are started: each folder is asked about first. Counts from the next start on.",
        steps: Steps::Words(&["\"auto\"", "\"off\""]),
        allowed: "\"auto\" or \"off\"",
        take: |settings, value| put(&mut settings.starts_servers, word(value, &[("auto", true), ("off", false)])),
        tell: |settings| word_of(settings.starts_servers, ["auto", "off"]),
    },
    KnownSetting {
        name: "format_on_save",
        about: "Whether a save lays the text out first, by its server or the command set for its language.",
        steps: YES,
        allowed: YES_NO,
        take: |settings, value| put(&mut settings.formats_on_save, value.as_bool()),
        tell: |settings| settings.formats_on_save.to_string(),
    },
    KnownSetting {
        name: "past_mb",
        about: "How much the histories of files that are kept from one start to the next take at most, in mebibytes; 0 keeps none.",
        steps: Steps::Numbers(0, 4096, 64),
        allowed: "a number from 0 to 4096",
        take: |settings, value| put(&mut settings.past.most_mb, number(value, 0..=4096)),
        tell: |settings| settings.past.most_mb.to_string(),
    },
    KnownSetting {
        name: "past",
        about: "Files whose history is not kept, by name or path; * and ? fit anything.",
        steps: Steps::Words(&["[]", "[\"*.env\"]"]),
        allowed: "a list of names in quotes",
        take: |settings, value| put(&mut settings.past.ignored, words(value)),
        tell: |settings| format!("{:?}", settings.past.ignored),
    },
    KnownSetting {
        name: "save_before_run",
        about: "Whether a changed file is saved before it, or a task of its project, is run.",
        steps: YES,
        allowed: YES_NO,
        take: |settings, value| put(&mut settings.saves_before_runs, value.as_bool()),
        tell: |settings| settings.saves_before_runs.to_string(),
    },
    KnownSetting {
        name: "trim_trailing",
        about: "Whether a save takes white space away at line ends.",
        steps: YES,
        allowed: YES_NO,
        take: |settings, value| put(&mut settings.tidy.trims, value.as_bool()),
        tell: |settings| settings.tidy.trims.to_string(),
    },
    KnownSetting {
        name: "final_line_end",
        about: "Whether a save gives the last line a line end.",
        steps: YES,
        allowed: YES_NO,
        take: |settings, value| put(&mut settings.tidy.ends_last_line, value.as_bool()),
        tell: |settings| settings.tidy.ends_last_line.to_string(),
    },
    KnownSetting {
        name: "line_numbers",
        about: "How lines are numbered: from the start of the file, or from the cursor.",
        steps: Steps::Words(&["\"absolute\"", "\"relative\""]),
        allowed: "\"absolute\" or \"relative\"",
        take: |settings, value| {
            put(&mut settings.numbers, word(value, &[("absolute", Numbers::Absolute), ("relative", Numbers::Relative)]))
        },
        tell: |settings| word_of(settings.numbers == Numbers::Relative, ["relative", "absolute"]),
    },
    KnownSetting {
        name: "deck_in_write",
        about: "How much of the keyboard is shown in Write.",
        steps: DECKS,
        allowed: SIZES,
        take: |settings, value| put(&mut settings.decks[0], deck(value)),
        tell: |settings| deck_word(settings.decks[0]),
    },
    KnownSetting {
        name: "deck_in_shape",
        about: "How much of the keyboard is shown in Shape.",
        steps: DECKS,
        allowed: SIZES,
        take: |settings, value| put(&mut settings.decks[1], deck(value)),
        tell: |settings| deck_word(settings.decks[1]),
    },
    KnownSetting {
        name: "roster",
        about: "Whether the list of cursors comes by itself, or by its key.",
        steps: Steps::Words(&["\"auto\"", "\"key\""]),
        allowed: "\"auto\" or \"key\"",
        take: |settings, value| put(&mut settings.shows_roster, word(value, &[("auto", true), ("key", false)])),
        tell: |settings| word_of(settings.shows_roster, ["auto", "key"]),
    },
    KnownSetting {
        name: "keep_shelf",
        about: "Whether what was copied is kept from one start to the next.",
        steps: YES,
        allowed: YES_NO,
        take: |settings, value| put(&mut settings.keeps_shelf, value.as_bool()),
        tell: |settings| settings.keeps_shelf.to_string(),
    },
    KnownSetting {
        name: "history_mb",
        about: "How much the history of a text may hold, in megabytes.",
        steps: Steps::Numbers(1, 65_536, 16),
        allowed: "a number of megabytes from 1 to 65536",
        take: |settings, value| {
            put(&mut settings.defaults.history_bytes, number(value, 1..=65_536).map(|mb| (mb as usize) << 20))
        },
        tell: |settings| (settings.defaults.history_bytes >> 20).to_string(),
    },
    KnownSetting {
        name: "filter_seconds",
        about: "How long a command may run that text goes through, in seconds.",
        steps: Steps::Numbers(1, 3_600, 5),
        allowed: "a number of seconds from 1 to 3600",
        take: |settings, value| {
            put(
                &mut settings.filter_limit,
                number(value, 1..=3_600).map(|seconds| Duration::from_secs(u64::from(seconds))),
            )
        },
        tell: |settings| settings.filter_limit.as_secs().to_string(),
    },
    KnownSetting {
        name: "keyboard",
        about: "Which letters the keys bear.",
        steps: Steps::Words(&["\"qwerty\"", "\"qwertz\"", "\"azerty\"", "\"dvorak\"", "\"colemak\""]),
        allowed: "\"qwerty\", \"qwertz\", \"azerty\", \"dvorak\" or \"colemak\"",
        take: |settings, value| put(&mut settings.keyboard, word(value, &Keyboard::ALL)),
        tell: |settings| format!("{:?}", settings.keyboard.name()),
    },
    KnownSetting {
        name: "session",
        about: "Whether what was open in a folder comes back with it.",
        steps: YES,
        allowed: YES_NO,
        take: |settings, value| put(&mut settings.keeps_session, value.as_bool()),
        tell: |settings| settings.keeps_session.to_string(),
    },
    KnownSetting {
        name: "system_clipboard",
        about: "Whether copies go to the system clipboard, and pastes come from it.",
        steps: YES,
        allowed: YES_NO,
        take: |settings, value| put(&mut settings.shares_clipboard, value.as_bool()),
        tell: |settings| settings.shares_clipboard.to_string(),
    },
];

const YES_NO: &str = "true or false";

const SIZES: &str = "\"full\", \"small\" or \"off\"";

fn put<T>(place: &mut T, value: Option<T>) -> bool {
    let is_some = value.is_some();
    value.into_iter().for_each(|value| *place = value);
    is_some
}

fn word<T: Copy>(value: &DeValue, words: &[(&str, T)]) -> Option<T> {
    words.iter().find(|(word, _)| value.as_str() == Some(word)).map(|(_, meaning)| *meaning)
}

fn number(value: &DeValue, range: std::ops::RangeInclusive<u32>) -> Option<u32> {
    let number = value.as_integer().and_then(|number| u32::from_str_radix(number.as_str(), number.radix()).ok());
    number.filter(|number| range.contains(number))
}

fn deck(value: &DeValue) -> Option<DeckSize> {
    word(value, &[("full", DeckSize::Full), ("small", DeckSize::Small), ("off", DeckSize::Off)])
}

/// Their names, for a message.
pub fn names() -> String {
    KNOWN.iter().map(|known| known.name).collect::<Vec<_>>().join(", ")
}

fn word_of(is_first: bool, [first, second]: [&str; 2]) -> String {
    format!("{:?}", if is_first { first } else { second })
}

fn deck_word(size: DeckSize) -> String {
    let word = match size {
        DeckSize::Full => "full",
        DeckSize::Small => "small",
        DeckSize::Off => "off",
    };
    format!("{word:?}")
}

impl KnownSetting {
    /// The settings with the next value of this one in place of the one that it has, or the one before; and that value.
    #[must_use]
    pub fn stepped(&self, settings: &Settings, direction: Direction) -> Option<(Settings, String)> {
        let now = (self.tell)(settings);
        let next = self.steps.beside(&now, direction)?;
        let text = format!("value = {next}");
        let table = DeTable::parse(&text).ok()?;
        let mut changed = settings.clone();
        let is_taken = (self.take)(&mut changed, table.get_ref().get("value")?.get_ref());
        is_taken.then_some((changed, next))
    }
}

impl Steps {
    /// The value beside `now`; none at the end of numbers.
    fn beside(self, now: &str, direction: Direction) -> Option<String> {
        let is_forward = direction == Direction::Forward;
        match self {
            Steps::Words(words) => {
                let at = words.iter().position(|word| *word == now)?;
                let by = if is_forward { 1 } else { words.len() - 1 };
                Some(words[(at + by) % words.len()].to_owned())
            }
            Steps::Numbers(least, most, step) => {
                let now: u32 = now.parse().ok()?;
                let next = if is_forward { now.saturating_add(step) } else { now.saturating_sub(step) };
                let next = next.clamp(least, most);
                (next != now).then(|| next.to_string())
            }
            Steps::WordOrNumbers(word, least, most) => match now.parse::<u32>() {
                Err(_) => is_forward.then(|| least.to_string()),
                Ok(now) if !is_forward && now == least => Some(word.to_owned()),
                Ok(_) => Steps::Numbers(least, most, 1).beside(now, direction),
            },
        }
    }
}

/// A list of words.
fn words(value: &DeValue) -> Option<Vec<String>> {
    value.as_array()?.iter().map(|word| word.get_ref().as_str().map(str::to_owned)).collect()
}
