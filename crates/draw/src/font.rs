//! The font that is shipped, and how wide texts are in it.

use crate::drawing::{Face, Mm};
use std::sync::LazyLock;

/// The families of a face, as drawings name them.
pub(crate) fn families(face: Face) -> &'static str {
    match face {
        Face::Regular | Face::Bold => "'DejaVu Sans', 'Verdana', sans-serif",
        Face::Mono | Face::MonoBold => "'DejaVu Sans Mono', monospace",
    }
}

/// The bytes of the font of a face.
pub(crate) fn bytes(face: Face) -> &'static [u8] {
    match face {
        Face::Regular => include_bytes!("../fonts/DejaVuSans.ttf"),
        Face::Bold => include_bytes!("../fonts/DejaVuSans-Bold.ttf"),
        Face::Mono => include_bytes!("../fonts/DejaVuSansMono.ttf"),
        Face::MonoBold => include_bytes!("../fonts/DejaVuSansMono-Bold.ttf"),
    }
}

/// A letter of a face: its number in the font, and how far the next one is, in its own height.
#[derive(Clone, Copy)]
pub(crate) struct Letter {
    pub(crate) glyph: u16,
    pub(crate) advance: f32,
}

/// A font with the letters of ASCII, which are asked for all the time.
struct KnownFont {
    font: ttf_parser::Face<'static>,
    ascii: [Option<Letter>; 128],
}

impl KnownFont {
    fn read(face: Face) -> Option<KnownFont> {
        let mut known = KnownFont { font: ttf_parser::Face::parse(bytes(face), 0).ok()?, ascii: [None; 128] };
        known.ascii = std::array::from_fn(|code| known.look_up(char::from(code as u8)));
        Some(known)
    }

    fn look_up(&self, c: char) -> Option<Letter> {
        let glyph = self.font.glyph_index(c)?;
        let units = f32::from(self.font.units_per_em());
        Some(Letter { glyph: glyph.0, advance: f32::from(self.font.glyph_hor_advance(glyph)?) / units })
    }

    fn letter(&self, c: char) -> Option<Letter> {
        self.ascii.get(c as usize).map_or_else(|| self.look_up(c), |letter| *letter)
    }
}

/// The fonts, read once.
static FONTS: LazyLock<[Option<KnownFont>; 4]> = LazyLock::new(|| Face::ALL.map(KnownFont::read));

/// How wide `text` is. A character that the font lacks counts as wide as its letters are high.
#[must_use]
pub fn width(text: &str, size: Mm, face: Face) -> Mm {
    let Some(font) = &FONTS[face as usize] else { return size * text.chars().count() as f32 };
    size * text.chars().map(|c| font.letter(c).map_or(1.0, |letter| letter.advance)).sum::<f32>()
}

/// The letters of `text`, one for each character, where every one of them is printable ASCII: those are placed one after the other. Other
/// text must be shaped (marks on letters, order of right-to-left text).
pub(crate) fn letters(text: &str, face: Face) -> Option<Vec<Letter>> {
    let font = FONTS[face as usize].as_ref()?;
    text.chars().map(|c| font.letter(c).filter(|_| matches!(c, ' '..='~'))).collect()
}

/// Whether the font of a face has a letter for `c`.
#[must_use]
pub fn has(c: char, face: Face) -> bool {
    FONTS[face as usize].as_ref().is_some_and(|font| font.letter(c).is_some())
}

/// `text` in lines no wider than `room`, broken between words; a word that is too wide is cut with a sign. A sign of one
/// character stays with the word before it.
#[must_use]
pub fn fitting(text: &str, room: Mm, size: Mm, face: Face) -> Vec<String> {
    let fits = |text: &str| width(text, size, face) <= room;
    let mut lines: Vec<String> = Vec::new();
    let mut words: Vec<String> = Vec::new();
    for word in text.split_whitespace() {
        match words.last_mut().filter(|last| word.chars().count() == 1 && fits(&format!("{last} {word}"))) {
            Some(last) => *last = format!("{last} {word}"),
            None => words.push(word.to_owned()),
        }
    }
    for mut word in words {
        if !fits(&word) {
            while word.chars().count() > 1 && !fits(&format!("{word}…")) {
                word.pop();
            }
            word.push('…');
        }
        match lines.last_mut().filter(|line| fits(&format!("{line} {word}"))) {
            Some(line) => {
                line.push(' ');
                line.push_str(&word);
            }
            None => lines.push(word),
        }
    }
    lines
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn texts_are_measured_and_broken_between_words() {
        let size = Mm(10.0);
        let of = |text| width(text, size, Face::Regular);
        assert!(of("mm") > of("ii") && of("carry") < of("carry down"));
        assert!(width("carry", size, Face::Bold) > of("carry"));
        let room = of("duplicate the") + Mm(0.1);
        assert_eq!(fitting("duplicate the lines", room, size, Face::Regular), ["duplicate the", "lines"]);
        let cut = fitting("unbelievable", of("unbel"), size, Face::Regular);
        assert!(cut.len() == 1 && cut[0].ends_with('…') && of(&cut[0]) <= of("unbel"), "{cut:?}");
        let signed = of("carry stmt") + Mm(0.1);
        assert_eq!(fitting("carry stmt ↑", signed, size, Face::Regular), ["carry", "stmt ↑"]);
        assert_eq!(fitting("", room, size, Face::Regular).len(), 0);
    }
}
