//! A body as text at a place: its stops, its variables, and the indentation and line ends of what it is put into.

use super::{Body, LAST_STOP, Part, Start, numbers};
use crate::text::LineEnd;
use crate::text::indent::IndentUnit;
use std::collections::BTreeMap;
use std::ops::Range;

/// What is known of a variable.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Variable {
    /// It has this value.
    Value(String),
    /// It has none here.
    Unset,
    /// There is no such variable.
    Unknown,
}

/// What a body is put into.
pub struct Setting<'a> {
    /// The white space that lines after the first begin with.
    pub indentation: &'a str,
    /// One step of indentation.
    pub unit: IndentUnit,
    /// The line end.
    pub line_end: LineEnd,
    /// What is at the last stop at first, in place of what the body says.
    pub at_last_stop: Option<&'a str>,
    /// Gives the value of a variable.
    pub variable: &'a dyn Fn(&str) -> Variable,
}

/// A place of a stop in a filled text.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Place {
    /// The number of the stop.
    pub number: u32,
    /// Its bytes in the filled text.
    pub span: Range<usize>,
    /// Which place it is inside of; none where it is inside of none.
    pub outer: Option<usize>,
}

/// A body that was made text.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Filled {
    /// The text.
    pub text: String,
    /// The places of all stops, in the order of the text, those outside before those inside. The last stop is among them always.
    pub places: Vec<Place>,
    /// The words of stops that are choices.
    pub choices: BTreeMap<u32, Vec<String>>,
}

impl Filled {
    /// The numbers of the stops, in the order in which they are gone to: the last stop at the end.
    #[must_use]
    pub fn numbers(&self) -> Vec<u32> {
        let mut numbers: Vec<u32> = self.places.iter().map(|place| place.number).collect();
        numbers.sort_by_key(|number| (*number == LAST_STOP, *number));
        numbers.dedup();
        numbers
    }
}

impl Body {
    /// The text that it is in `setting`. Tabs at the start of a line are steps of indentation. Cost: linear in the result.
    #[must_use]
    pub fn fill(&self, setting: &Setting) -> Filled {
        let starts = starts_of(&self.parts);
        let next = numbers(&self.parts).into_iter().max().unwrap_or(0).saturating_add(1);
        let mut writer =
            Writer { setting, starts, filled: Filled::default(), begins_line: true, within: Vec::new(), next };
        writer.parts(&self.parts);
        let mut filled = writer.filled;
        if !filled.places.iter().any(|place| place.number == LAST_STOP) {
            let end = filled.text.len();
            filled.places.push(Place { number: LAST_STOP, span: end..end, outer: None });
        }
        filled
    }
}

/// A stop that comes after so many bytes or places, or is so deep in others, has nothing at first: stops that hold each other twice could make more of a line
/// than there is memory for.
const MOST_FILLED: usize = 1 << 20;
const MOST_PLACES: usize = 10_000;
const DEEPEST: usize = 64;

/// What each stop has at first: the first of its places that says so.
fn starts_of(parts: &[Part]) -> BTreeMap<u32, &Start> {
    let mut starts = BTreeMap::new();
    let mut left: Vec<&Part> = parts.iter().rev().collect();
    while let Some(part) = left.pop() {
        match part {
            Part::Stop(number, start) => {
                if !matches!(start, Start::Empty) {
                    starts.entry(*number).or_insert(start);
                }
                if let Start::Parts(inner) = start {
                    left.extend(inner.iter().rev());
                }
            }
            Part::Variable(_, inner) => left.extend(inner.iter().rev()),
            Part::Text(_) | Part::Transformed(..) => {}
        }
    }
    starts
}

struct Writer<'a> {
    setting: &'a Setting<'a>,
    starts: BTreeMap<u32, &'a Start>,
    filled: Filled,
    /// Whether nothing but white space was put into this line of the body yet.
    begins_line: bool,
    /// The places that are being written.
    within: Vec<usize>,
    /// The number of the next stop that a variable becomes.
    next: u32,
}

impl<'a> Writer<'a> {
    fn parts(&mut self, parts: &'a [Part]) {
        for part in parts {
            match part {
                Part::Text(text) => self.text(text),
                Part::Stop(number, _) => self.stop(*number),
                Part::Variable(name, otherwise) => self.variable(name, otherwise),
                Part::Transformed(name, transform) => {
                    let value = match (self.setting.variable)(name) {
                        Variable::Value(value) => value,
                        Variable::Unset | Variable::Unknown => String::new(),
                    };
                    self.value(&transform.apply(&value));
                }
            }
        }
    }

    /// Text of the body: its line ends and the tabs that its lines begin with become those of the place.
    fn text(&mut self, text: &str) {
        for c in text.chars() {
            match c {
                '\r' => {}
                '\n' => {
                    self.filled.text.push_str(self.setting.line_end.as_str());
                    self.filled.text.push_str(self.setting.indentation);
                    self.begins_line = true;
                }
                '\t' if self.begins_line => self.filled.text.push_str(&self.setting.unit.text()),
                c => {
                    self.begins_line &= c == ' ';
                    self.filled.text.push(c);
                }
            }
        }
    }

    /// A value of several lines: each begins where the first does. Blank lines get no white space.
    fn value(&mut self, value: &str) {
        let line = self.filled.text.rfind('\n').map_or(0, |end| end + 1);
        let before = &self.filled.text[line..];
        let own = before[..before.len() - before.trim_start_matches([' ', '\t']).len()].to_owned();
        // The first line of a body is after what is before it in the text.
        let indentation = if line == 0 { self.setting.indentation.to_owned() + &own } else { own };
        for (index, piece) in value.split('\n').enumerate() {
            let piece = piece.strip_suffix('\r').unwrap_or(piece);
            if index > 0 {
                self.filled.text.push_str(self.setting.line_end.as_str());
                if !piece.trim().is_empty() {
                    self.filled.text.push_str(&indentation);
                }
            }
            self.filled.text.push_str(piece);
        }
        self.begins_line &= value.is_empty();
    }

    fn variable(&mut self, name: &str, otherwise: &'a [Part]) {
        match (self.setting.variable)(name) {
            Variable::Value(value) => self.value(&value),
            Variable::Unset => self.parts(otherwise),
            // Its name, to be typed over.
            Variable::Unknown => {
                let start = self.filled.text.len();
                self.text(name);
                let outer = self.within.last().copied();
                let place = Place { number: self.next, span: start..self.filled.text.len(), outer };
                self.next = self.next.saturating_add(1);
                self.filled.places.push(place);
            }
        }
    }

    fn stop(&mut self, number: u32) {
        let (start, index) = (self.filled.text.len(), self.filled.places.len());
        // A stop inside itself has nothing at first.
        let is_inside_itself = self.within.iter().any(|outer| self.filled.places[*outer].number == number);
        self.filled.places.push(Place { number, span: start..start, outer: self.within.last().copied() });
        let has_room = self.within.len() < DEEPEST && start < MOST_FILLED && index < MOST_PLACES;
        if let Some(value) = self.setting.at_last_stop.filter(|_| number == LAST_STOP) {
            self.value(value);
            // The cursor goes after it, and does not select it.
            self.filled.places[index].span.start = self.filled.text.len();
        } else if !is_inside_itself && has_room {
            self.within.push(index);
            match self.starts.get(&number).copied() {
                Some(Start::Parts(parts)) => self.parts(parts),
                Some(Start::Choice(words)) => {
                    self.value(words.first().map_or("", String::as_str));
                    self.filled.choices.insert(number, words.clone());
                }
                Some(Start::Empty) | None => {}
            }
            self.within.pop();
        }
        self.begins_line = false;
        self.filled.places[index].span.end = self.filled.text.len();
    }
}
