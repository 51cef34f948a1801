//! Signs: Unicode characters and emoji, found by common short forms, by their names, by letters of them, by code point.
//!
//! Names are those of the Unicode Character Database, emoji have those of the Unicode emoji data. The list has some 40,000 signs; it
//! is made once, in some hundredths of a second, when it is asked for first.

use crate::text::cells::{TabWidth, width};
use crate::text::raw;
use std::collections::HashMap;
use std::sync::OnceLock;

/// A sign.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Sign {
    /// Its characters: one, or several for some emoji.
    pub text: String,
    /// Its name, in small letters.
    pub name: String,
    /// Its short forms.
    pub shorts: Vec<String>,
}

impl Sign {
    /// Its code points, as `U+2192`.
    #[must_use]
    pub fn code(&self) -> String {
        self.text.chars().map(|c| format!("U+{:04X}", u32::from(c))).collect::<Vec<_>>().join(" ")
    }

    /// How many cells it takes.
    #[must_use]
    pub fn cells(&self) -> usize {
        width(&self.text, TabWidth(8)).0 as usize
    }
}

/// Names that say no more than the code point does.
const NAMELESS: [&str; 7] = [
    "CJK UNIFIED IDEOGRAPH-",
    "CJK COMPATIBILITY IDEOGRAPH-",
    "TANGUT IDEOGRAPH-",
    "TANGUT COMPONENT-",
    "NUSHU CHARACTER-",
    "KHITAN SMALL SCRIPT CHARACTER-",
    "HANGUL SYLLABLE ",
];

/// All signs that have a name: those with a short form first, in the order of the table, then by code point, emoji of several
/// characters last.
#[must_use]
pub fn all() -> &'static [Sign] {
    static ALL: OnceLock<Vec<Sign>> = OnceLock::new();
    ALL.get_or_init(make)
}

fn make() -> Vec<Sign> {
    let table: Vec<(&str, Vec<String>)> = include_str!("shorts.txt")
        .lines()
        .filter_map(|line| line.split_once(' '))
        .map(|(text, shorts)| (text, shorts.split(' ').map(str::to_owned).collect()))
        .collect();
    let mut codes: HashMap<&str, Vec<String>> = HashMap::new();
    for emoji in emojis::iter() {
        codes.entry(emoji.as_str()).or_default().extend(emoji.shortcodes().map(str::to_owned));
    }
    let mut signs: Vec<Sign> = Vec::with_capacity(45_000);
    for (text, shorts) in &table {
        let more = codes.remove(text).unwrap_or_default();
        let shorts = shorts.iter().cloned().chain(more).collect();
        signs.push(Sign { text: (*text).to_owned(), name: name_of(text), shorts });
    }
    let known: std::collections::HashSet<&str> = table.iter().map(|(text, _)| *text).collect();
    let mut bytes = [0; 4];
    for c in '\0'..=char::MAX {
        let Some(name) = unicode_names2::name(c) else { continue };
        let name = name.to_string();
        let text: &str = c.encode_utf8(&mut bytes);
        if known.contains(text) || NAMELESS.iter().any(|start| name.starts_with(start)) {
            continue;
        }
        let shorts = codes.remove(text).unwrap_or_default();
        signs.push(Sign { text: text.to_owned(), name: name.to_lowercase(), shorts });
    }
    let left = emojis::iter().filter_map(|emoji| {
        let shorts = codes.remove(emoji.as_str())?;
        Some(Sign { text: emoji.as_str().to_owned(), name: emoji.name().to_lowercase(), shorts })
    });
    let left: Vec<Sign> = left.collect();
    signs.extend(left);
    signs
}

/// The name of what is one character; for several, that of the emoji.
fn name_of(text: &str) -> String {
    let mut characters = text.chars();
    match (characters.next(), characters.next()) {
        (Some(c), None) => unicode_names2::name(c).map_or("no name".to_owned(), |name| name.to_string().to_lowercase()),
        _ => emojis::get(text).map_or("no name".to_owned(), |emoji| emoji.name().to_lowercase()),
    }
}

/// How well a sign fits; the first fits best.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
enum Fit {
    Short,
    ShortInOtherCase,
    Name,
    WholeWords,
    Beginnings,
    Letters,
}

/// What is looked for.
struct Query<'q> {
    whole: &'q str,
    words: Vec<String>,
}

impl Query<'_> {
    fn new(whole: &str) -> Query<'_> {
        Query { whole, words: whole.split_whitespace().map(str::to_lowercase).collect() }
    }

    fn fit(&self, sign: &Sign) -> Option<Fit> {
        if sign.shorts.iter().any(|short| short == self.whole) {
            return Some(Fit::Short);
        }
        if sign.shorts.iter().any(|short| short.eq_ignore_ascii_case(self.whole)) {
            return Some(Fit::ShortInOtherCase);
        }
        if self.words.iter().all(|word| is_part(&sign.name, word)) {
            let own = || sign.name.split([' ', '-']);
            if sign.name.eq_ignore_ascii_case(self.whole) {
                return Some(Fit::Name);
            }
            if self.words.iter().all(|word| own().any(|each| each == word)) {
                return Some(Fit::WholeWords);
            }
            if self.words.iter().all(|word| own().any(|each| each.starts_with(word.as_str()))) {
                return Some(Fit::Beginnings);
            }
        }
        let begins =
            |short: &String| short.get(..self.whole.len()).is_some_and(|head| head.eq_ignore_ascii_case(self.whole));
        if sign.shorts.iter().any(begins) {
            return Some(Fit::Beginnings);
        }
        let mut letters = sign.name.bytes();
        let is_in_order = self.words.iter().flat_map(|word| word.bytes()).all(|byte| letters.any(|each| each == byte));
        is_in_order.then_some(Fit::Letters)
    }
}

fn is_part(name: &str, word: &str) -> bool {
    memchr::memmem::find(name.as_bytes(), word.as_bytes()).is_some()
}

/// The signs that `query` asks for, the best first, `most` at most; `recent` are those used lately, the latest first. Nothing typed:
/// the recent ones, then those with a short form.
///
/// Exact short forms come first, then an exact name, whole words of names, beginnings of words, letters in their order; among equals
/// the recent ones, then those of the table of short forms, then those with shorter names. Cost: linear in the signs.
#[must_use]
pub fn find(query: &str, recent: &[String], most: usize) -> Vec<Sign> {
    let query = query.trim();
    if let Some(digits) = query.strip_prefix("U+").or_else(|| query.strip_prefix("u+")) {
        return by_code(digits).into_iter().collect();
    }
    let age = |sign: &Sign| recent.iter().position(|text| *text == sign.text).unwrap_or(usize::MAX);
    let asked = Query::new(query);
    let mut found: Vec<(Fit, usize, usize, usize, usize)> = Vec::new();
    let in_table = include_str!("shorts.txt").lines().count();
    for (index, sign) in all().iter().enumerate() {
        let fit = match query.is_empty() {
            true if !sign.shorts.is_empty() || recent.contains(&sign.text) => Some(Fit::Short),
            true => None,
            false => asked.fit(sign),
        };
        if let Some(fit) = fit {
            let length = if query.is_empty() { 0 } else { sign.name.len() };
            found.push((fit, age(sign), usize::from(index >= in_table), length, index));
        }
    }
    found.sort_unstable();
    found.truncate(most);
    found.into_iter().map(|(.., index)| all()[index].clone()).collect()
}

/// The sign of the code point that `digits` write in base 16; nothing where a text cannot hold it.
fn by_code(digits: &str) -> Option<Sign> {
    let is_number = (1..=6).contains(&digits.len()) && digits.bytes().all(|byte| byte.is_ascii_hexdigit());
    let code = u32::from_str_radix(digits, 16).ok().filter(|_| is_number)?;
    // What represents a byte that is no UTF-8 would be written as that byte.
    let c = char::from_u32(code).filter(|c| raw::byte_of(*c).is_none())?;
    let text = c.to_string();
    let known = all().iter().find(|sign| sign.text == text).cloned();
    Some(known.unwrap_or_else(|| Sign { name: name_of(&text), text, shorts: Vec::new() }))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn first(query: &str) -> String {
        find(query, &[], 1).first().map(|sign| sign.text.clone()).unwrap_or_default()
    }

    #[test]
    fn short_forms_names_words_letters_and_code_points() {
        for (query, expected) in [
            ("->", "→"),
            ("<=", "≤"),
            ("alpha", "α"),
            ("Alpha", "Α"),
            ("check", "✓"),
            ("...", "…"),
            ("deg", "°"),
            ("rocket", "🚀"),
            ("U+2192", "→"),
            ("u+1f680", "🚀"),
            ("U+4E2D", "中"),
            ("rightwards arrow", "→"),
            ("RIGHTWARDS ARROW", "→"),
            ("snowman", "☃"),
            ("greek small letter omega", "ω"),
            ("latin small letter e with acute", "é"),
            ("vulgar half", "½"),
            ("nbsp", "\u{A0}"),
        ] {
            assert_eq!(first(query), expected, "{query}");
        }
    }

    #[test]
    fn what_fits_better_comes_first() {
        let order = |query: &str| {
            find(query, &[], 400).into_iter().map(|sign| Query::new(query).fit(&sign).unwrap()).collect::<Vec<_>>()
        };
        for query in ["arrow", "star", "check", "alpha", "heart", "a"] {
            let order = order(query);
            assert!(order.is_sorted() && !order.is_empty(), "{query}: {order:?}");
        }
        // Letters in their order are found where no word is.
        assert!(find("rghtwrds rrw", &[], 400).iter().any(|sign| sign.text == "→"));
    }

    #[test]
    fn recent_ones_come_first_among_equals() {
        let recent = ["⇛".to_owned(), "é".to_owned()];
        assert_eq!(find("", &recent, 3).into_iter().map(|sign| sign.text).collect::<Vec<_>>(), ["⇛", "é", "→"]);
        let arrows = find("arrow", &recent, 2);
        assert_eq!(arrows[0].text, "⇛");
        // An exact short form comes before what is recent.
        assert_eq!(find("->", &recent, 1)[0].text, "→");
    }

    #[test]
    fn code_points_that_are_none_give_nothing() {
        for query in ["U+", "U+D800", "U+110000", "U+1234567", "U+xyz", "U+F780"] {
            assert_eq!(find(query, &[], 5), [], "{query}");
        }
        assert_eq!(find("U+E000", &[], 5)[0].name, "no name");
    }

    #[test]
    fn every_sign_is_there_once_with_a_name_and_every_short_form_means_one_of_the_table() {
        let mut texts: Vec<&str> = all().iter().map(|sign| sign.text.as_str()).collect();
        let count = texts.len();
        texts.sort_unstable();
        texts.dedup();
        assert_eq!((texts.len(), count > 35_000), (count, true));
        let table: Vec<&Sign> = all().iter().take(include_str!("shorts.txt").lines().count()).collect();
        assert!(table.iter().all(|sign| !sign.shorts.is_empty() && sign.name != "no name"), "{table:?}");
        let mut shorts: Vec<&str> = include_str!("shorts.txt")
            .lines()
            .filter_map(|line| line.split_once(' '))
            .flat_map(|(_, shorts)| shorts.split(' '))
            .collect();
        let count = shorts.len();
        shorts.sort_unstable();
        shorts.dedup();
        assert_eq!(shorts.len(), count, "a short form stands for two signs");
    }

    #[test]
    fn cells_and_code_points_are_told() {
        let rocket = &find("rocket", &[], 1)[0];
        assert_eq!((rocket.cells(), rocket.code().as_str()), (2, "U+1F680"));
        assert_eq!(find("->", &[], 1)[0].cells(), 1);
    }
}
