//! Themes: files that say which colours there are, in any number of colours that a terminal may have.
//!
//! A theme may name a parent: what it does not say itself, its parent says. What is wrong in a file is told by its line, and the rest
//! of it is in force.

use super::colour::{contrast, nearest};
use crate::problem::{LineTable, Problem, in_order};
use ratatui::style::Color;
use snarvel_core::written::entries;
use std::path::{Path, PathBuf};
use toml::Spanned;
use toml::de::{DeTable, DeValue};

/// Whether a theme is dark or light.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Ground {
    /// Light text on a dark background.
    #[default]
    Dark,
    /// Dark text on a light background.
    Light,
}

/// A colour of a theme, by what it is for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Tone {
    Background,
    Raised,
    Text,
    Quiet,
    Edge,
    Primary,
    Other,
    Selection,
    Hit,
    HitBackground,
    Added,
    Changed,
    Removed,
    Pin,
    Keyword,
    Type,
    Function,
    String,
    Number,
    Comment,
}

/// What the files call the colours, in the order of [`Tone`].
const NAMES: [&str; TONES] = [
    "background",
    "raised",
    "text",
    "quiet",
    "edge",
    "primary",
    "other",
    "selection",
    "hit",
    "hit_background",
    "added",
    "changed",
    "removed",
    "pin",
    "keyword",
    "type",
    "function",
    "string",
    "number",
    "comment",
];

const TONES: usize = Tone::Comment as usize + 1;

/// What the 16 colours of a terminal are called, and that which is the terminal's own.
const NAMED: [(&str, Color); 17] = [
    ("default", Color::Reset),
    ("black", Color::Black),
    ("red", Color::Red),
    ("green", Color::Green),
    ("yellow", Color::Yellow),
    ("blue", Color::Blue),
    ("magenta", Color::Magenta),
    ("cyan", Color::Cyan),
    ("white", Color::Gray),
    ("bright-black", Color::DarkGray),
    ("bright-red", Color::LightRed),
    ("bright-green", Color::LightGreen),
    ("bright-yellow", Color::LightYellow),
    ("bright-blue", Color::LightBlue),
    ("bright-magenta", Color::LightMagenta),
    ("bright-cyan", Color::LightCyan),
    ("bright-white", Color::White),
];

/// A colour as it is in any number of colours.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
struct Shade {
    /// 0xRRGGBB.
    rgb: u32,
    of_256: u8,
    of_16: Color,
}

/// A theme.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Theme {
    /// The name of its file, without the ending.
    pub name: String,
    /// What is said of it.
    pub about: String,
    /// Whether it is dark or light.
    pub ground: Ground,
    shades: [Shade; TONES],
}

impl Theme {
    /// The dark theme that is shipped.
    #[must_use]
    pub fn night() -> Theme {
        Theme::shipped().swap_remove(0)
    }

    /// The light theme that is shipped.
    #[must_use]
    pub fn day() -> Theme {
        Theme::shipped().swap_remove(1)
    }

    /// The themes that are shipped.
    #[must_use]
    pub fn shipped() -> Vec<Theme> {
        let sources: Vec<Source> =
            SHIPPED.iter().map(|(name, text)| Source::read(name, text, Path::new(name))).collect();
        sources.iter().map(|source| source.theme(&sources).unwrap_or_else(|wrong| unreachable!("{wrong:?}"))).collect()
    }

    pub(super) fn rgb(&self, tone: Tone) -> u32 {
        self.shades[tone as usize].rgb
    }

    pub(super) fn of_256(&self, tone: Tone) -> u8 {
        self.shades[tone as usize].of_256
    }

    pub(super) fn of_16(&self, tone: Tone) -> Color {
        self.shades[tone as usize].of_16
    }

    /// The pairs of colours, one upon the other, that are too much alike to be read: with the contrast that they have (WCAG 2.1,
    /// relative luminance).
    #[must_use]
    pub fn faint(&self) -> Vec<(&'static str, &'static str, f64)> {
        let on = |tone: Tone, ground: Tone| (tone, ground);
        let signs =
            NAMES.iter().enumerate().filter(|(index, _)| !GROUNDS.contains(index) && *index != Tone::Edge as usize);
        let on_background = signs.map(|(index, _)| (index, Tone::Background as usize));
        let more = [
            on(Tone::Text, Tone::Raised),
            on(Tone::Text, Tone::Selection),
            on(Tone::Text, Tone::HitBackground),
            on(Tone::Quiet, Tone::Raised),
        ];
        let more = more.map(|(tone, ground)| (tone as usize, ground as usize));
        let told = |(tone, ground): (usize, usize)| {
            let found = contrast(self.shades[tone].rgb, self.shades[ground].rgb);
            (found < LEAST_CONTRAST).then_some((NAMES[tone], NAMES[ground], found))
        };
        on_background.chain(more).filter_map(told).collect()
    }
}

/// Text on a ground has at least this contrast (WCAG 2.1, success criterion 1.4.3).
pub const LEAST_CONTRAST: f64 = 4.5;

/// The colours that others are upon.
const GROUNDS: [usize; 4] =
    [Tone::Background as usize, Tone::Raised as usize, Tone::Selection as usize, Tone::HitBackground as usize];

const SHIPPED: [(&str, &str); 4] = [
    ("night", include_str!("../../themes/night.toml")),
    ("day", include_str!("../../themes/day.toml")),
    ("glare", include_str!("../../themes/glare.toml")),
    ("buoy", include_str!("../../themes/buoy.toml")),
];

/// A file of a theme as it is read, before its parents have said the rest.
#[derive(Clone, Debug)]
struct Source {
    name: String,
    file: PathBuf,
    about: String,
    parent: Option<(String, usize)>,
    ground: Option<Ground>,
    rgb: [Option<u32>; TONES],
    of_256: [Option<u8>; TONES],
    of_16: [Option<Color>; TONES],
    problems: Vec<Problem>,
}

impl Source {
    fn read(name: &str, text: &str, file: &Path) -> Source {
        let mut source = Source {
            name: name.to_owned(),
            file: file.to_owned(),
            about: String::new(),
            parent: None,
            ground: None,
            rgb: [None; TONES],
            of_256: [None; TONES],
            of_16: [None; TONES],
            problems: Vec::new(),
        };
        let (table, mistakes) = entries(text);
        let lines = LineTable::of(text);
        for mistake in mistakes {
            source.complain(&lines, mistake.at, mistake.what);
        }
        for (key, value) in table.get_ref() {
            if let Err(what) = source.take(&lines, key.get_ref().as_ref(), value) {
                source.complain(&lines, key.span().start, what);
            }
        }
        source
    }

    fn complain(&mut self, lines: &LineTable, at: usize, what: String) {
        self.problems.push(Problem { file: self.file.clone(), line: Some(lines.line_of(at)), what });
    }

    /// Takes an entry over; the error says what is allowed.
    fn take(&mut self, lines: &LineTable, name: &str, value: &Spanned<DeValue>) -> Result<(), String> {
        let word = || value.get_ref().as_str();
        match name {
            "about" => word().ok_or("about is a sentence in quotes")?.clone_into(&mut self.about),
            "parent" => {
                let parent = word().filter(|name| !name.is_empty()).ok_or("parent is the name of a theme in quotes")?;
                self.parent = Some((parent.to_owned(), lines.line_of(value.span().start)));
            }
            "ground" => {
                self.ground = Some(match word() {
                    Some("dark") => Ground::Dark,
                    Some("light") => Ground::Light,
                    _ => return Err("ground is \"dark\" or \"light\"".to_owned()),
                });
            }
            "colors" => self.take_colours(lines, value, |source, tone, value| {
                source.rgb[tone] = value.as_str().and_then(rgb_of);
                source.rgb[tone].map(drop).ok_or("is \"#\" and six digits from 0 to f")
            })?,
            "colors_256" => self.take_colours(lines, value, |source, tone, value| {
                source.of_256[tone] = value.as_integer().and_then(|number| number.to_string().parse().ok());
                source.of_256[tone].map(drop).ok_or("is a number from 0 to 255")
            })?,
            "colors_16" => self.take_colours(lines, value, |source, tone, value| {
                let named = |word: &str| NAMED.iter().find(|(name, _)| *name == word).map(|(_, colour)| *colour);
                source.of_16[tone] = value.as_str().and_then(named);
                source.of_16[tone].map(drop).ok_or("is default, black, red, green, yellow, blue, magenta, cyan, white, or one of those but default after \"bright-\"")
            })?,
            _ => {
                return Err(format!("no entry of a theme is called {name:?}: about, parent, ground, colors, colors_256 and colors_16 are"));
            }
        }
        Ok(())
    }

    fn take_colours(
        &mut self,
        lines: &LineTable,
        value: &Spanned<DeValue>,
        take: impl Fn(&mut Source, usize, &DeValue) -> Result<(), &'static str>,
    ) -> Result<(), String> {
        let table: &DeTable = value.get_ref().as_table().ok_or("this is a table of colours")?;
        for (key, value) in table {
            let name = key.get_ref().as_ref();
            let what = match NAMES.iter().position(|each| *each == name) {
                Some(tone) => take(self, tone, value.get_ref()).err().map(|allowed| format!("{name} {allowed}")),
                None => Some(format!("no colour is called {name:?}: {} are", NAMES.join(", "))),
            };
            if let Some(what) = what {
                self.complain(lines, key.span().start, what);
            }
        }
        Ok(())
    }

    /// The theme, with what its parents say. The error is a circle of parents, or one that is not there.
    fn theme(&self, all: &[Source]) -> Result<Theme, Problem> {
        let mut family = vec![self];
        while let Some((parent, line)) = &family[family.len() - 1].parent {
            let child = family[family.len() - 1];
            let wrong = |what: String| Problem { file: child.file.clone(), line: Some(*line), what };
            let found = all.iter().find(|source| source.name == *parent);
            let found =
                found.ok_or_else(|| wrong(format!("no theme is called {parent:?}, which is to be the parent")))?;
            if family.iter().any(|member| member.name == found.name) {
                return Err(wrong(format!("{parent} is its own parent by way of others: the theme is left out")));
            }
            family.push(found);
        }
        let ground = family.iter().find_map(|member| member.ground).unwrap_or_default();
        // A colour that no theme of the family sets is that of the shipped theme with the same ground.
        let base = if ground == Ground::Dark { "night" } else { "day" };
        family.extend(all.iter().find(|source| source.name == base));
        let shade = |tone: usize| {
            let rgb = family.iter().find_map(|member| member.rgb[tone]).unwrap_or_default();
            // A colour of its own is not drawn in the other depths as its parent's is.
            let owner = family.iter().position(|member| member.rgb[tone].is_some()).unwrap_or(family.len());
            let nearer = &family[..(owner + 1).min(family.len())];
            Shade {
                rgb,
                of_256: nearer.iter().find_map(|member| member.of_256[tone]).unwrap_or_else(|| nearest(rgb)),
                of_16: family.iter().find_map(|member| member.of_16[tone]).unwrap_or(Color::Reset),
            }
        };
        Ok(Theme { name: self.name.clone(), about: self.about.clone(), ground, shades: std::array::from_fn(shade) })
    }
}

/// The themes that there are, and what is wrong in the files of those that a person has made. A file that is called like a shipped
/// theme takes its place.
#[must_use]
pub fn read(folder: &Path) -> (Vec<Theme>, Vec<Problem>) {
    let mut problems = Vec::new();
    let mut sources: Vec<Source> =
        SHIPPED.iter().map(|(name, text)| Source::read(name, text, Path::new(name))).collect();
    let mut files: Vec<PathBuf> = match std::fs::read_dir(folder) {
        Ok(entries) => entries.filter_map(Result::ok).map(|entry| entry.path()).collect(),
        Err(_) => Vec::new(),
    };
    files.retain(|file| file.extension().is_some_and(|ending| ending == "toml"));
    files.sort();
    for file in files {
        let name = file.file_stem().unwrap_or_default().to_string_lossy().into_owned();
        let wrong = |what: String| Problem { file: file.clone(), line: None, what };
        let text = match snarvel_files::reading::read(&file, snarvel_files::reading::SETTINGS) {
            Ok(bytes) => String::from_utf8(bytes).map_err(|_| "it is no UTF-8".to_owned()),
            Err(error) => Err(format!("cannot be read: {error}")),
        };
        match text {
            Ok(text) => {
                let source = Source::read(&name, &text, &file);
                problems.extend(source.problems.iter().cloned());
                sources.retain(|each| each.name != name);
                sources.push(source);
            }
            Err(what) => problems.push(wrong(what)),
        }
    }
    let mut themes = Vec::with_capacity(sources.len());
    for source in &sources {
        match source.theme(&sources) {
            Ok(theme) => themes.push(theme),
            Err(problem) => problems.push(problem),
        }
    }
    (themes, in_order(problems))
}

fn rgb_of(word: &str) -> Option<u32> {
    let digits = word.strip_prefix('#')?;
    let is_hex = digits.len() == 6 && digits.bytes().all(|byte| byte.is_ascii_hexdigit());
    is_hex.then(|| u32::from_str_radix(digits, 16).ok()).flatten()
}

#[cfg(test)]
mod tests {
    use super::super::colour::parts;
    use super::*;

    fn family(files: &[(&str, &str)]) -> (Vec<Theme>, Vec<String>) {
        let folder = tempfile::tempdir().unwrap();
        for (name, text) in files {
            std::fs::write(folder.path().join(format!("{name}.toml")), text).unwrap();
        }
        let (themes, problems) = read(folder.path());
        (themes, problems.iter().map(ToString::to_string).collect())
    }

    fn named<'a>(themes: &'a [Theme], name: &str) -> Option<&'a Theme> {
        themes.iter().find(|theme| theme.name == name)
    }

    #[test]
    fn the_shipped_themes_can_be_read_on_every_ground() {
        let names: Vec<String> = Theme::shipped().into_iter().map(|theme| theme.name).collect();
        assert_eq!(names, ["night", "day", "glare", "buoy"]);
        for (theme, (name, text)) in Theme::shipped().iter().zip(SHIPPED) {
            assert_eq!(theme.faint(), [], "{name}");
            let source = Source::read(name, text, Path::new(name));
            assert!(source.problems.is_empty() && source.parent.is_none(), "{:?}", source.problems);
            assert!(source.rgb.iter().all(Option::is_some) && source.of_16.iter().all(Option::is_some), "{name}");
            for ground in GROUNDS {
                assert!(contrast(theme.rgb(Tone::Text), theme.shades[ground].rgb) >= 7.0, "{name}");
            }
        }
    }

    #[test]
    fn nothing_in_buoy_is_told_apart_by_red_and_green() {
        let theme = Theme::shipped().swap_remove(3);
        for (one, other) in [(Tone::Added, Tone::Removed), (Tone::Primary, Tone::Other), (Tone::Keyword, Tone::String)]
        {
            let (one, other) = (parts(theme.rgb(one)), parts(theme.rgb(other)));
            let blue = i32::from(one[2]) - i32::from(other[2]);
            assert!(blue.abs() >= 100, "{one:?} {other:?} differ in blue");
        }
    }

    #[test]
    fn a_theme_inherits_what_it_does_not_say() {
        let fog = "parent = \"haze\"\n[colors]\ntext = \"#FFFFFF\"\n";
        let haze = "parent = \"day\"\nabout = \"Haze.\"\n[colors]\ntext = \"#000000\"\nquiet = \"#445544\"\n[colors_256]\ntext = 16\n";
        let (themes, problems) = family(&[("fog", fog), ("haze", haze)]);
        assert_eq!(problems, Vec::<String>::new());
        let fog = named(&themes, "fog").unwrap();
        assert_eq!((fog.rgb(Tone::Text), fog.rgb(Tone::Quiet), fog.ground), (0xFF_FFFF, 0x44_5544, Ground::Light));
        assert_eq!(fog.rgb(Tone::Keyword), Theme::day().rgb(Tone::Keyword));
        // White is no more drawn as the black of its parent.
        assert_eq!((fog.of_256(Tone::Text), named(&themes, "haze").unwrap().of_256(Tone::Text)), (231, 16));
        assert_eq!(named(&themes, "haze").unwrap().about, "Haze.");
        // One that says nothing is the dark one under another name; one that is called like a shipped one takes its place.
        let (themes, _) = family(&[("bare", ""), ("night", "[colors]\ntext = \"#00FF00\"\n")]);
        assert_eq!(named(&themes, "bare").unwrap().rgb(Tone::Text), 0x00_FF00);
        assert_eq!(themes.iter().filter(|theme| theme.name == "night").count(), 1);
    }

    #[test]
    fn what_is_wrong_is_told_by_its_line_and_the_rest_is_in_force() {
        let wrong = "ground = \"dim\"\n[colors]\ntext = \"white\"\nquiet = \"#102030\"\nsky = \"#000000\"\n[colors_256]\ntext = 256\n[colors_16]\ntext = \"pink\"\n[fonts]\n";
        let (themes, problems) = family(&[("wrong", wrong)]);
        let lines: Vec<&str> = problems.iter().map(|told| told.split(':').next().unwrap()).collect();
        assert_eq!(
            lines,
            [
                "wrong.toml line 1",
                "wrong.toml line 3",
                "wrong.toml line 5",
                "wrong.toml line 7",
                "wrong.toml line 9",
                "wrong.toml line 10"
            ]
        );
        assert_eq!(named(&themes, "wrong").unwrap().rgb(Tone::Quiet), 0x10_2030);
        let faint = named(&themes, "wrong").unwrap().faint();
        assert!(faint.iter().any(|(tone, ground, _)| (*tone, *ground) == ("quiet", "background")), "{faint:?}");
    }

    #[test]
    fn a_circle_of_parents_and_one_that_is_not_there_are_left_out() {
        let (themes, problems) = family(&[
            ("ebb", "parent = \"flow\"\n"),
            ("flow", "parent = \"ebb\"\n"),
            ("self", "parent = \"self\"\n"),
            ("lost", "\nparent = \"nowhere\"\n"),
            ("broken", "parent = \n"),
        ]);
        assert_eq!(problems.len(), 6, "{problems:?}");
        assert!(
            problems.iter().any(|told| told.contains("lost.toml line 2") && told.contains("nowhere")),
            "{problems:?}"
        );
        assert!(problems.iter().filter(|told| told.contains("its own parent")).count() == 3, "{problems:?}");
        for name in ["ebb", "flow", "self", "lost"] {
            assert!(named(&themes, name).is_none(), "{name}");
        }
        assert!(named(&themes, "night").is_some());
    }
}
