//! The font that is shipped, and how wide texts are in it.

use crate::drawing::{Mm, Weight};
use ttf_parser::Face;

/// The family, as drawings name it.
pub(crate) const FAMILY: &str = "DejaVu Sans";

/// The bytes of the font in a weight.
pub(crate) fn bytes(weight: Weight) -> &'static [u8] {
    match weight {
        Weight::Regular => include_bytes!("../fonts/DejaVuSans.ttf"),
        Weight::Bold => include_bytes!("../fonts/DejaVuSans-Bold.ttf"),
    }
}

/// How wide `text` is. A character that the font lacks counts as wide as its letters are high.
#[must_use]
pub fn width(text: &str, size: Mm, weight: Weight) -> Mm {
    let Ok(face) = Face::parse(bytes(weight), 0) else { return size * text.chars().count() as f32 };
    let units = f32::from(face.units_per_em());
    let advance =
        |c: char| face.glyph_index(c).and_then(|glyph| face.glyph_hor_advance(glyph)).map_or(units, f32::from);
    size * (text.chars().map(advance).sum::<f32>() / units)
}

/// `text` in lines no wider than `room`, broken between words; a word that is too wide is cut with a sign. A sign of one
/// character stays with the word before it.
#[must_use]
pub fn fitting(text: &str, room: Mm, size: Mm, weight: Weight) -> Vec<String> {
    let fits = |text: &str| width(text, size, weight) <= room;
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
        let of = |text| width(text, size, Weight::Regular);
        assert!(of("mm") > of("ii") && of("carry") < of("carry down"));
        assert!(width("carry", size, Weight::Bold) > of("carry"));
        let room = of("duplicate the") + Mm(0.1);
        assert_eq!(fitting("duplicate the lines", room, size, Weight::Regular), ["duplicate the", "lines"]);
        let cut = fitting("unbelievable", of("unbel"), size, Weight::Regular);
        assert!(cut.len() == 1 && cut[0].ends_with('…') && of(&cut[0]) <= of("unbel"), "{cut:?}");
        let signed = of("carry stmt") + Mm(0.1);
        assert_eq!(fitting("carry stmt ↑", signed, size, Weight::Regular), ["carry", "stmt ↑"]);
        assert_eq!(fitting("", room, size, Weight::Regular).len(), 0);
    }
}
