//! Pairs round a selection, put on, taken off, and changed for another.
//!
//! A caret means the word at it. The pair that is there already is taken off: just outside of the selection, or brackets just inside
//! of it. Another pair takes its place where the selection is exactly what is between its quotes, or a caret is at one of its marks
//! from outside. A selection that includes its marks gets the pair around them.

use crate::changes::{Bias, ChangeBuilder};
use crate::cursors::Selection;
use crate::text::Text;
use crate::units::Span;
use crate::verbs::scene::{Outcome, Scene, counted};
use crate::verbs::selects::brackets::Brackets;
use crate::verbs::selects::widen::string_around;
use std::collections::HashSet;

const BRACKETS: [(char, char); 4] = [('(', ')'), ('[', ']'), ('{', '}'), ('<', '>')];

/// Marks that are the same on both sides.
const QUOTES: [char; 5] = ['"', '\'', '`', '*', '_'];

/// Quotes that another pair takes the place of where what is between them is selected; `_` and `*` are parts of names and operators.
const CHANGED: [(char, char); 3] = [('"', '"'), ('\'', '\''), ('`', '`')];

/// The pair that a character picks: a bracket with its other side, anything else on both sides.
fn pair_of(c: char) -> (char, char) {
    BRACKETS.into_iter().find(|(open, close)| c == *open || c == *close).unwrap_or((c, c))
}

/// Puts the pair that `c` picks round every selection; takes it off where it is, and puts it in the place of another one whose inside
/// is selected, or that a caret is at.
pub fn surround(scene: &Scene, c: char) -> Outcome {
    let pair = pair_of(c);
    let around = Brackets::near_cursors(scene);
    act(
        scene,
        (pair, &|each| {
            let other =
                |marks: Marks| if marks.is(scene.text, pair) { Deed::TakeOff(marks) } else { Deed::Change(marks) };
            if each.is_caret() {
                if let Some(marks) = Marks::at(scene, &around, each) {
                    return Some(other(marks));
                }
                let word = scene.text.word_at(each.head, scene.words())?;
                let own = Marks::outside(scene.text, word, &[pair]);
                return Some(own.map_or(Deed::PutOn(word), Deed::TakeOff));
            }
            let span = each.span();
            let is_bracket = pair.0 != pair.1;
            let answers = |marks: &Marks| is_bracket && marks.answer(scene, &around);
            let inside = || Marks::inside(scene.text, span, &[pair]).filter(answers);
            let own = Marks::outside(scene.text, span, &[pair]).or_else(inside);
            // What is selected of all that is in brackets is an argument or an element, around which another pair goes.
            let between = || {
                let marks = Marks::outside(scene.text, span, &CHANGED)?;
                let is_string = Marks::of_string(scene, span).is_some_and(|string| string.whole == marks.whole);
                (is_string || scene.language_at(span.start).prose).then_some(Deed::Change(marks))
            };
            Some(own.map(Deed::TakeOff).or_else(between).unwrap_or(Deed::PutOn(span)))
        }),
    )
}

/// Takes the pair round every selection off, whichever it is; for a caret the one round its word, or else the innermost that it is in.
pub fn surround_off(scene: &Scene) -> Outcome {
    let around = Brackets::near_cursors(scene);
    act(
        scene,
        (('"', '"'), &|each| {
            let round = |span: Span| {
                Marks::inside(scene.text, span, &known()).or_else(|| Marks::outside(scene.text, span, &known()))
            };
            let marks = if each.is_caret() {
                let word = scene.text.word_at(each.head, scene.words());
                word.and_then(round).or_else(|| Marks::around(scene, &around, each))
            } else {
                round(each.span())
            };
            marks.map(Deed::TakeOff)
        }),
    )
}

fn known() -> Vec<(char, char)> {
    BRACKETS.into_iter().chain(QUOTES.map(|c| (c, c))).collect()
}

/// A pair that is there: all of it, and how many bytes its marks have.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
struct Marks {
    whole: Span,
    open: usize,
    close: usize,
}

impl Marks {
    fn of(whole: Span, (open, close): (char, char)) -> Marks {
        Marks { whole, open: open.len_utf8(), close: close.len_utf8() }
    }

    /// One of `pairs` that `span` begins and ends with.
    fn inside(text: &Text, span: Span, pairs: &[(char, char)]) -> Option<Marks> {
        let content = text.slice(span);
        let ends =
            content.chars().next().zip(content.chars().next_back()).filter(|_| content.chars().nth(1).is_some())?;
        pairs.contains(&ends).then(|| Marks::of(span, ends))
    }

    /// One of `pairs` that is right round `span`.
    fn outside(text: &Text, span: Span, pairs: &[(char, char)]) -> Option<Marks> {
        let ends = text.char_before(span.start).zip(text.char_at(span.end)).filter(|ends| pairs.contains(ends))?;
        let whole = Span::new(span.start - ends.0.len_utf8(), span.end + ends.1.len_utf8());
        Some(Marks::of(whole, ends))
    }

    /// The innermost string or brackets that the caret `each` is in.
    fn around(scene: &Scene, around: &Brackets, each: Selection) -> Option<Marks> {
        let at = Span::at(each.head);
        let string = Marks::of_string(scene, at).filter(|marks| marks.holds(each));
        let brackets = around.around(at).get(1).map(|whole| Marks { whole: *whole, open: 1, close: 1 });
        string.into_iter().chain(brackets).min_by_key(|marks| marks.whole.len())
    }

    fn of_string(scene: &Scene, at: Span) -> Option<Marks> {
        let [inner, whole] = string_around(scene, at)[..] else { return None };
        let prefix =
            scene.text.slice(whole).chars().take_while(|c| c.is_alphabetic()).map(char::len_utf8).sum::<usize>();
        let whole = Span::new(whole.start + prefix, whole.end);
        let marks = Marks { whole, open: inner.start - whole.start, close: whole.end - inner.end };
        (marks.open > 0 && marks.close > 0).then_some(marks)
    }

    /// The pair with a mark that the caret `each` is at, from outside.
    fn at(scene: &Scene, around: &Brackets, each: Selection) -> Option<Marks> {
        let text = scene.text;
        let behind = text.char_before(each.head).map_or(each.head, |c| each.head - c.len_utf8());
        // What is right inside the mark before the caret, and right inside the one after it.
        let ahead = text.char_at(each.head).map_or(each.head, |c| each.head + c.len_utf8());
        let beside = |inside, is_it: &dyn Fn(&Marks) -> bool| {
            let caret = Selection::caret(inside);
            let string = Marks::of_string(scene, Span::at(inside));
            let brackets =
                around.around(Span::at(inside)).get(1).map(|whole| Marks { whole: *whole, open: 1, close: 1 });
            string.filter(|marks| marks.holds(caret)).into_iter().chain(brackets).find(|marks| is_it(marks))
        };
        let after = beside(ahead, &|marks| marks.whole.start == each.head);
        after.or_else(|| beside(behind, &|marks| marks.whole.end == each.head))
    }

    /// Whether the caret `each` is between the marks.
    fn holds(&self, each: Selection) -> bool {
        self.whole.start + self.open <= each.head && each.head + self.close <= self.whole.end
    }

    /// Whether brackets at both ends answer each other; quotes do.
    fn answer(&self, scene: &Scene, around: &Brackets) -> bool {
        let is_bracket = scene.text.char_at(self.whole.start).is_some_and(|c| "([{".contains(c));
        let inside = Span::at(self.whole.start + self.open);
        !is_bracket || around.around(inside).get(1) == Some(&self.whole)
    }

    fn is(&self, text: &Text, (open, close): (char, char)) -> bool {
        text.char_at(self.whole.start) == Some(open) && text.char_before(self.whole.end) == Some(close)
    }
}

/// What is done for a cursor.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Deed {
    PutOn(Span),
    TakeOff(Marks),
    Change(Marks),
}

impl Deed {
    /// What is put in place of what, in order.
    fn edits(self) -> [(Span, Side); 2] {
        match self {
            Deed::PutOn(span) => [(Span::at(span.start), Side::Open), (Span::at(span.end), Side::Close)],
            Deed::TakeOff(Marks { whole, open, close }) => [
                (Span::new(whole.start, whole.start + open), Side::Nothing),
                (Span::new(whole.end - close, whole.end), Side::Nothing),
            ],
            Deed::Change(Marks { whole, open, close }) => [
                (Span::new(whole.start, whole.start + open), Side::Open),
                (Span::new(whole.end - close, whole.end), Side::Close),
            ],
        }
    }
}

/// What is put in.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
enum Side {
    Close,
    Open,
    Nothing,
}

type Deeds<'d> = ((char, char), &'d dyn Fn(Selection) -> Option<Deed>);

fn act(scene: &Scene, ((open, close), deed_for): Deeds) -> Outcome {
    let mut edits: Vec<(Span, Side)> = Vec::new();
    let (mut counts, mut taken) = ([0usize; 3], HashSet::new());
    let deeds: Vec<Option<Deed>> = scene.cursors.iter().map(deed_for).collect();
    for deed in deeds.iter().flatten() {
        // Two carets in one word, or two selections that share a mark, do it once.
        let own = deed.edits();
        let places: Vec<(usize, Option<Side>)> = own.iter().flat_map(|edit| places_of(*edit)).collect();
        if places.iter().any(|place| taken.contains(place)) {
            continue;
        }
        taken.extend(places);
        edits.extend(own);
        counts[match deed {
            Deed::PutOn(_) => 0,
            Deed::TakeOff(_) => 1,
            Deed::Change(_) => 2,
        }] += 1;
    }
    edits.sort_unstable_by_key(|(span, side)| (span.start, span.end, *side));
    let mut builder = ChangeBuilder::new(scene.text);
    for (span, side) in edits {
        let mark = match side {
            Side::Open => open.to_string(),
            Side::Close => close.to_string(),
            Side::Nothing => String::new(),
        };
        builder.replace(span, &mark);
    }
    let change = builder.finish();
    if change.is_empty() {
        return Outcome::nothing("no pair here to take off");
    }
    let cursors = scene.remap(&change, |index| {
        let each: Selection = scene.cursors.list()[index];
        match deeds[index] {
            Some(Deed::Change(_)) => [Bias::Before, Bias::After],
            // A caret at the end of a word stays inside the pair.
            Some(Deed::PutOn(span)) if each.is_caret() && span.end == each.head => [Bias::Before; 2],
            _ => [Bias::After, Bias::Before],
        }
    });
    Outcome::edit(change, cursors).saying(told(counts))
}

/// The bytes that an edit takes away, or the place where it puts its side in.
fn places_of((span, side): (Span, Side)) -> impl Iterator<Item = (usize, Option<Side>)> {
    let put_in = span.is_empty().then_some((span.start.0, Some(side)));
    (span.start.0..span.end.0).map(|at| (at, None)).chain(put_in)
}

fn told([on, off, changed]: [usize; 3]) -> String {
    let parts = [
        (on, format!("surrounded {}", counted(on, "text"))),
        (off, format!("took {} off", counted(off, "pair"))),
        (changed, format!("changed {}", counted(changed, "pair"))),
    ];
    let told: Vec<String> = parts.into_iter().filter(|(count, _)| *count > 0).map(|(_, told)| told).collect();
    told.join(", ")
}
