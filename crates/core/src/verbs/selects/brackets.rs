//! Brackets: those around a place, and the one that answers another. Only those that are code count.
//!
//! Cost: the lines between the brackets.

use crate::cursors::Selection;
use crate::text::reader::Reader;
use crate::units::{Byte, Direction, Line, Span};
use crate::verbs::cursors::tags;
use crate::verbs::moves::Reach;
use crate::verbs::scene::{Outcome, Scene};

/// How many lines in each direction a bracket is looked for: functions are shorter.
const LINES_LOOKED_AT: usize = if cfg!(test) { 4 } else { 3_000 };

/// Longer lines, in bytes, are not looked through: they hold data, and a caret may be on one for long.
const LONGEST_LINE: usize = 256 << 10;

const BRACKETS: [(char, char); 3] = [('(', ')'), ('[', ']'), ('{', '}')];

/// The bracket at the caret `at`, or right before it, and the one that answers it; looked for on `lines` lines in each
/// direction. None where there is no bracket, or none that answers.
#[must_use]
pub fn pair_at(scene: &Scene, at: Byte, lines: usize) -> Option<[Byte; 2]> {
    let line = scene.text.line_of(at);
    let here = brackets_on(scene, line, Direction::Forward);
    let (own, bracket) =
        here.iter().find(|(place, _)| *place == at).or_else(|| here.iter().find(|(place, _)| *place + 1 == at))?;
    let is_opening = opens(*bracket);
    let (other, answer) = match is_opening {
        true => unmatched(scene, *own + 1, Direction::Forward, lines)?,
        false => unmatched(scene, *own, Direction::Back, lines)?,
    };
    let pair = if is_opening { (*bracket, answer) } else { (answer, *bracket) };
    BRACKETS.contains(&pair).then_some([*own, other])
}

/// Each caret goes to the bracket that answers the one at it, from a tag to the other tag of its element; where there is none at it,
/// to the end of what brackets enclose it in.
/// With [`Reach::Extend`] both brackets and what is between are selected.
pub fn go_to_bracket(scene: &Scene, reach: Reach) -> Outcome {
    let around = Brackets::near_cursors(scene);
    let set = scene.cursors.map(|each| {
        if let Some(tags) = tags_at(scene, each.head) {
            return at_other_tag(scene, tags, reach);
        }
        let pair = pair_at(scene, each.head, LINES_LOOKED_AT);
        let enclosing = || around.around(Span::at(each.head)).get(1).map(|whole| [whole.start, whole.end - 1]);
        let Some([own, other]) = pair.or_else(enclosing) else { return each };
        match reach {
            // After one bracket, after the other.
            Reach::Move => Selection::caret(if each.head == own || pair.is_none() { other } else { other + 1 }),
            Reach::Extend if own < other => Selection::new(own, other + 1),
            Reach::Extend => Selection::new(own + 1, other),
        }
    });
    if set == *scene.cursors { Outcome::nothing("no bracket here, and none around") } else { Outcome::cursors(set) }
}

/// The names of the tags of the element that a tag at `at` is of: the one that is there, and the other.
fn tags_at(scene: &Scene, at: Byte) -> Option<[Span; 2]> {
    let text = scene.text;
    let behind_mark = ["</", "<"].iter().find(|mark| text.has_at(at, mark)).map_or(at, |mark| at + mark.len());
    let (name, closes) = tags::name_at(scene, behind_mark)?;
    match tags::names_of_element(scene, name)[..] {
        [open, close] => Some(if closes { [close, open] } else { [open, close] }),
        _ => None,
    }
}

fn at_other_tag(scene: &Scene, [own, other]: [Span; 2], reach: Reach) -> Selection {
    let [first, last] = [own.start.min(other.start), own.end.max(other.end)];
    let rest = scene.text.slice(Span::new(last, scene.text.content_span(scene.text.line_of(last)).end));
    let behind = last + rest.find('>').map_or(0, |at| at + 1);
    match reach {
        Reach::Move => Selection::caret(other.start),
        Reach::Extend if own.start < other.start => Selection::new(first - 1, behind),
        Reach::Extend => Selection::new(behind, first - 1),
    }
}

/// From so many cursors on what lies near them is looked through once for all.
const MANY: usize = 16;

/// The brackets around places near the cursors.
pub struct Brackets<'a, 'b> {
    scene: &'a Scene<'b>,
    known: Vec<KnownBrackets>,
}

impl<'a, 'b> Brackets<'a, 'b> {
    /// Those near the cursors of `scene`.
    ///
    /// Cost: where there are many cursors, the lines near them.
    #[must_use]
    pub fn near_cursors(scene: &'a Scene<'b>) -> Brackets<'a, 'b> {
        if scene.cursors.len() < MANY {
            return Brackets { scene, known: Vec::new() };
        }
        let mut reader = Reader::new(scene.text);
        let mut near: Vec<[Line; 2]> = Vec::new();
        for each in scene.cursors.iter() {
            let first = Line(reader.line_of(each.start()).0.saturating_sub(LINES_LOOKED_AT));
            let last = Line(reader.line_of(each.end()).0 + LINES_LOOKED_AT).min(scene.text.last_line());
            match near.last_mut().filter(|[_, end]| first <= *end) {
                Some([_, end]) => *end = last.max(*end),
                None => near.push([first, last]),
            }
        }
        Brackets { scene, known: near.into_iter().map(|lines| KnownBrackets::of(scene, lines)).collect() }
    }

    /// The inside of the brackets around `span`, and the whole; those around them where `span` is the whole.
    #[must_use]
    pub fn around(&self, span: Span) -> Vec<Span> {
        let mut inside = span;
        loop {
            let Some((open, bracket)) = self.unmatched(inside.start, Direction::Back) else {
                return Vec::new();
            };
            let Some((close, other)) = self.unmatched(inside.end, Direction::Forward) else {
                return Vec::new();
            };
            let whole = Span::new(open, close + 1);
            if BRACKETS.contains(&(bracket, other)) {
                return vec![Span::new(open + 1, close), whole];
            }
            // Brackets that do not answer each other: what is broken is passed over.
            inside = whole;
        }
    }

    fn unmatched(&self, at: Byte, direction: Direction) -> Option<(Byte, char)> {
        let text = self.scene.text;
        let line = text.line_of(at);
        let reach = [line.0.saturating_sub(LINES_LOOKED_AT), (line.0 + LINES_LOOKED_AT).min(text.last_line().0)];
        let first = self.known.partition_point(|known| known.lines[1].0 < reach[1]);
        match self.known.get(first).filter(|known| known.lines[0].0 <= reach[0]) {
            Some(known) => {
                let found = known.unmatched(at, direction)?;
                (text.line_of(found.0).0.abs_diff(line.0) < LINES_LOOKED_AT).then_some(found)
            }
            None => unmatched(self.scene, at, direction, LINES_LOOKED_AT),
        }
    }
}

/// All brackets of some lines.
struct KnownBrackets {
    lines: [Line; 2],
    /// In order.
    brackets: Vec<(Byte, char)>,
    /// For each place between two of them, by how many are before it: the last one before it that none before it answers, and
    /// the first one after it that none after it answers.
    open: Vec<Option<u32>>,
    close: Vec<Option<u32>>,
}

impl KnownBrackets {
    fn of(scene: &Scene, lines: [Line; 2]) -> KnownBrackets {
        let all = (lines[0].0..=lines[1].0).map(Line);
        let brackets: Vec<(Byte, char)> = all.flat_map(|line| brackets_on(scene, line, Direction::Forward)).collect();
        let open = innermost(brackets.iter().map(|(_, c)| opens(*c)));
        let mut close = innermost(brackets.iter().rev().map(|(_, c)| !opens(*c)));
        close.reverse();
        let last = brackets.len() as u32;
        close.iter_mut().flatten().for_each(|index| *index = last - 1 - *index);
        KnownBrackets { lines, brackets, open, close }
    }

    fn unmatched(&self, at: Byte, direction: Direction) -> Option<(Byte, char)> {
        let before = self.brackets.partition_point(|(place, _)| *place < at);
        let found = if direction == Direction::Back { self.open[before] } else { self.close[before] };
        found.map(|index| self.brackets[index as usize])
    }
}

/// Before each of some brackets and after the last one: the innermost that is open there. Whatever closes one answers it.
fn innermost(open: impl Iterator<Item = bool>) -> Vec<Option<u32>> {
    let (mut around, mut found) = (Vec::new(), vec![None]);
    for (index, opens) in open.enumerate() {
        match opens {
            true => around.push(index as u32),
            false => drop(around.pop()),
        }
        found.push(around.last().copied());
    }
    found
}

fn opens(bracket: char) -> bool {
    BRACKETS.iter().any(|(open, _)| *open == bracket)
}

/// The first bracket in `direction` from `at` that no other on the way answers, on so many lines.
fn unmatched(scene: &Scene, at: Byte, direction: Direction, lines: usize) -> Option<(Byte, char)> {
    let text = scene.text;
    let line = text.line_of(at).0;
    let mut depth = 0i32;
    for step in 0..lines {
        let line = match direction {
            Direction::Back => Line(line.checked_sub(step)?),
            Direction::Forward => Some(Line(line + step)).filter(|line| *line <= text.last_line())?,
        };
        for (place, c) in brackets_on(scene, line, direction) {
            let is_ahead = if direction == Direction::Back { place < at } else { place >= at };
            let nests = opens(c) == (direction == Direction::Forward);
            match (is_ahead, nests, depth) {
                (false, ..) => {}
                (true, true, _) => depth += 1,
                (true, false, 0) => return Some((place, c)),
                (true, false, _) => depth -= 1,
            }
        }
    }
    None
}

/// The brackets of a line that are code, in the order of `direction`.
fn brackets_on(scene: &Scene, line: Line, direction: Direction) -> Vec<(Byte, char)> {
    let span = scene.text.content_span(line);
    if span.len() > LONGEST_LINE {
        return Vec::new();
    }
    let content = scene.text.slice(span);
    let is_bracket = |c: char| BRACKETS.iter().any(|(open, close)| c == *open || c == *close);
    if !content.contains(is_bracket) {
        return Vec::new();
    }
    let pieces = scene.syntax.pieces(line);
    let is_code = |at: Byte| !pieces.iter().any(|piece| piece.span.start <= at && at < piece.span.end);
    let places = content.char_indices().map(|(offset, c)| (span.start + offset, c));
    let mut found: Vec<(Byte, char)> = places.filter(|(at, c)| is_bracket(*c) && is_code(*at)).collect();
    if direction == Direction::Back {
        found.reverse();
    }
    found
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::bookmarks::Bookmarks;
    use crate::cursors::{CursorSet, Selection};
    use crate::folds::Folds;
    use crate::languages::by_name;
    use crate::languages::lexical::Lexical;
    use crate::structure::Known;
    use crate::text::cells::TabWidth;
    use crate::text::indent::IndentUnit;
    use crate::text::{LineEnd, Text};
    use crate::verbs::clipboard::clip::Clip;
    use crate::verbs::scene::{Memory, Remembered, TextSettings};
    use proptest::prelude::*;

    /// Those of `spans` around which looking through once finds something else than looking from there.
    fn differing(text: &str, carets: impl Iterator<Item = usize>, spans: &[Span]) -> Vec<Span> {
        let (text, language) = (Text::from(text), by_name("rust").unwrap());
        let lexical = Lexical::new(&language);
        let settings = TextSettings {
            tabs: TabWidth(4),
            unit: IndentUnit::Spaces(4),
            line_end: LineEnd::Lf,
            view_lines: 40,
            closes_pairs: true,
            text_width: 80,
            wrap: None,
        };
        let scene = Scene {
            text: &text,
            cursors: &CursorSet::of(carets.map(|at| Selection::caret(Byte(at))).collect(), 0),
            syntax: &lexical.of(&text),
            structure: Known::NoGrammar,
            folds: &Folds::default(),
            bookmarks: &Bookmarks::default(),
            language: &language,
            settings: &settings,
            clip: &Clip::default(),
            memory: &Memory::default(),
            remembered: Remembered {
                pins: &|| None,
                pairs: &[],
                dropped_pins: &|| None,
                dropped_cursors: &|| None,
                changed_lines: &Vec::new,
            },
            reach: 1,
        };
        let many = Brackets::near_cursors(&scene);
        assert!(!many.known.is_empty(), "{} cursors are many", scene.cursors.len());
        let each = Brackets { scene: &scene, known: Vec::new() };
        spans.iter().copied().filter(|span| many.around(*span) != each.around(*span)).collect()
    }

    proptest! {
        #[test]
        fn what_is_looked_through_once_for_all_is_what_each_place_finds(
            text in "[a(\\[{}\\])\"\n]{40,90}|(\\(\n?|\n|\\)|\\{|\\}){40,90}",
            spread in 1usize..3,
        ) {
            let carets = (0..=text.len()).step_by(spread);
            let places = (0..=text.len()).flat_map(|start| (start..=(start + 3).min(text.len())).map(move |end| (start, end)));
            let spans: Vec<Span> = places.map(|(start, end)| Span::new(Byte(start), Byte(end))).collect();
            prop_assert_eq!(differing(&text, carets, &spans), Vec::new(), "{:?}", text);
        }

        #[test]
        fn far_cursors_are_looked_at_apart(gap in 0usize..30, text in "[a(\\[{}\\])\n]{20,40}") {
            let whole = format!("{text}{}{text}", "\n".repeat(gap));
            let second = text.len() + gap;
            let carets = (0..10).chain(second..second + 10);
            let spans: Vec<Span> = (0..=whole.len()).map(|at| Span::at(Byte(at))).collect();
            prop_assert_eq!(differing(&whole, carets, &spans), Vec::new(), "{:?}", whole);
        }
    }
}
