//! Languages inside languages: style and script in markup, fenced blocks in prose, markup around code.
//!
//! A line is scanned in the language that it begins in; where the table says that another one begins or ends, the
//! scanner changes. Costs and refusals are those of [`Scanner`]. The rules: HTML Living Standard, 13.2.5 (the text of
//! `style` and `script` ends at the next end tag, whatever is before it); `CommonMark` 0.31, 4.5 (fences).

use super::scanner::{Form, Kind, Scanner, State, Token};
use super::{Embed, Language, by_name, detect, plain};
use std::collections::HashMap;
use std::sync::{Arc, Mutex, OnceLock};

/// What a scan finds.
#[derive(Clone, Debug)]
pub enum Found {
    /// A comment or a literal.
    Token(Token),
    /// A stretch of the line in another language than the file's: its first byte and one past its last.
    Inside(usize, usize, Arc<Language>),
}

/// What a line begins in.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Layer {
    outer: State,
    inner: Option<Inner>,
    /// The rule whose opening tag has not ended yet, and what of the tag is on the lines before.
    in_tag: Option<(usize, Arc<str>)>,
}

/// A language under way inside another.
#[derive(Clone, Debug)]
struct Inner {
    rule: usize,
    scanner: Arc<Scanner>,
    state: State,
    /// The fence that opened it; empty for tags.
    fence: Arc<str>,
}

impl PartialEq for Inner {
    fn eq(&self, other: &Inner) -> bool {
        let of = |inner: &Inner| (inner.rule, inner.state.clone());
        let names = [self, other].map(|inner| &inner.scanner.language().name);
        of(self) == of(other) && self.fence == other.fence && names[0] == names[1]
    }
}

impl Layer {
    /// Whether it is in another language than the file's.
    #[must_use]
    pub fn is_inside(&self) -> bool {
        self.inner.is_some()
    }

    /// What the text is in it, in a file of `language`.
    #[must_use]
    pub fn kind(&self, language: &Language) -> Kind {
        match &self.inner {
            Some(inner) => inner.state.kind(inner.scanner.language()),
            None => self.outer.kind(language),
        }
    }
}

/// The scanner of a language and of those inside it.
#[derive(Clone, Debug)]
pub struct Layers {
    outer: Arc<Scanner>,
    /// A byte of each mark that begins another language: a line with none of them begins none.
    telltales: Vec<u8>,
    has_fences: bool,
}

/// The scanner of `language`, made once; again where another one has that name now.
fn scanner_of(language: &Arc<Language>) -> Arc<Scanner> {
    static MADE: OnceLock<Mutex<HashMap<String, Arc<Scanner>>>> = OnceLock::new();
    let mut made = MADE.get_or_init(Mutex::default).lock().unwrap_or_else(std::sync::PoisonError::into_inner);
    match made.get(&language.name).filter(|scanner| Arc::ptr_eq(scanner.language(), language)) {
        Some(scanner) => scanner.clone(),
        None => {
            let scanner = Arc::new(Scanner::new(language.clone()));
            made.insert(language.name.clone(), scanner.clone());
            scanner
        }
    }
}

impl Layers {
    /// The scanner of `language`.
    #[must_use]
    pub fn new(language: &Arc<Language>) -> Layers {
        let marks = language.embeds.iter().filter(|rule| !rule.open.is_empty());
        let mut telltales: Vec<u8> = marks.map(|rule| telltale(rule.open.as_bytes())).collect();
        telltales.sort_unstable();
        telltales.dedup();
        let has_fences = language.embeds.iter().any(|rule| rule.fence);
        Layers { outer: scanner_of(language), telltales, has_fences }
    }

    /// The language of the file.
    #[must_use]
    pub fn language(&self) -> &Arc<Language> {
        self.outer.language()
    }

    /// What the first line begins in, whose first character is `first`: code that the table says to lie inside markup
    /// is taken for what it is where no markup is before it.
    #[must_use]
    pub fn beginning(&self, first: Option<char>) -> Layer {
        let is_markup = first == Some('<');
        let first = self.language().embeds.iter().position(|embed| embed.first && is_markup);
        let inner = first.map(|rule| {
            let language = by_name(&self.language().embeds[rule].language).unwrap_or_else(plain);
            Inner { rule, scanner: scanner_of(&language), state: State::Code, fence: "".into() }
        });
        Layer { inner, ..Layer::default() }
    }

    /// Whether another language may begin on `line`, which is in the file's own.
    fn may_change(&self, line: &str) -> bool {
        self.has_fences || self.telltales.iter().any(|byte| memchr::memchr(*byte, line.as_bytes()).is_some())
    }

    /// What comes after `lines`, which begin in `layer`. Lines of code in which nothing else begins are passed over together.
    #[must_use]
    pub fn over(&self, lines: &str, layer: Layer) -> Layer {
        let is_plain = self.telltales.is_empty() && !self.has_fences;
        let (mut rest, mut layer) = (lines, layer);
        while !rest.is_empty() {
            if is_plain && layer == Layer::default() {
                rest = &rest[self.outer.bare_lines(rest)..];
            }
            let end = memchr::memchr(b'\n', rest.as_bytes()).map_or(rest.len(), |at| at + 1);
            let (line, behind) = rest.split_at(end);
            if !line.is_empty() {
                layer = self.scan(line, &layer, &mut |_| {});
            }
            rest = behind;
        }
        layer
    }

    /// Scans `line`, with its line end if it has one, from `layer` on.
    pub fn scan(&self, line: &str, layer: &Layer, found: &mut dyn FnMut(Found)) -> Layer {
        if layer.inner.is_none() && layer.in_tag.is_none() && !self.may_change(line) {
            let outer = self.outer.scan(line, &layer.outer, &mut |token| found(Found::Token(token)));
            return Layer { outer, ..Layer::default() };
        }
        let budget = line.len().saturating_mul(PASSES).saturating_add(LEAST_BUDGET);
        let mut pass = Pass { layers: self, line, at: 0, budget, found };
        let mut layer = layer.clone();
        while pass.at < line.len() {
            layer = match (layer.inner.take(), layer.in_tag.take()) {
                (Some(inner), _) => pass.inside(inner),
                (None, Some((rule, tag))) => pass.tag(rule, &tag),
                (None, None) => pass.outside(&layer.outer),
            };
        }
        layer
    }
}

/// How often a line may be looked through for another language; and bytes that a short one may be looked through all told. After
/// that the rest of it is in one language, so that the cost of a line is linear in its length.
const PASSES: usize = 16;
const LEAST_BUDGET: usize = 1 << 16;

/// Bytes of an opening tag that are remembered over lines: what tells the language is near its start.
const LONGEST_TAG: usize = 4_096;

/// One line on its way through the layers.
struct Pass<'a> {
    layers: &'a Layers,
    line: &'a str,
    at: usize,
    /// Bytes that may still be looked through for another language.
    budget: usize,
    found: &'a mut dyn FnMut(Found),
}

impl Pass<'_> {
    fn rest(&self) -> &str {
        &self.line[self.at..]
    }

    fn embeds(&self) -> &[Embed] {
        &self.layers.language().embeds
    }

    /// The part up to what ends the inner language, or all of the rest.
    fn inside(&mut self, mut inner: Inner) -> Layer {
        let end = self.end_of(&inner);
        let part = &self.line[self.at..end.unwrap_or(self.line.len())];
        let at = self.at;
        if !part.is_empty() {
            (self.found)(Found::Inside(at, at + part.len(), inner.scanner.language().clone()));
        }
        inner.state = inner.scanner.scan(part, &inner.state, &mut |token| {
            (self.found)(Found::Token(Token { start: at + token.start, end: at + token.end, ..token }));
        });
        let is_fence = !inner.fence.is_empty();
        // A mark that is no tag is read with what it ends, lest it begin something.
        let close = &self.embeds()[inner.rule].close;
        let mark = if close.starts_with('<') { 0 } else { close.len() };
        self.at = if end.is_none() || is_fence { self.line.len() } else { at + part.len() + mark };
        match end {
            Some(_) => Layer::default(),
            None => Layer { inner: Some(inner), ..Layer::default() },
        }
    }

    /// Where the inner language ends on this line.
    fn end_of(&self, inner: &Inner) -> Option<usize> {
        if !inner.fence.is_empty() {
            let mark = inner.fence.chars().next()?;
            let content = self.rest().trim();
            let closes = content.len() >= inner.fence.len() && content.chars().all(|c| c == mark);
            return closes.then_some(self.at);
        }
        let close = &self.embeds()[inner.rule].close;
        let mut from = self.at;
        loop {
            let place = from + find_mark(&self.line[from..], close)?;
            if !is_escaped(&self.line[self.at..place]) || close.len() > 1 {
                return Some(place);
            }
            from = place + close.len();
        }
    }

    /// Goes on in a tag that began on a line before.
    fn tag(&mut self, rule: usize, before: &str) -> Layer {
        match self.rest().find('>') {
            Some(end) => {
                let tag = format!("{before}{}", &self.rest()[..end]);
                self.at += end + 1;
                self.enter(rule, &tag)
            }
            None => {
                let mut tag = format!("{before}{}", self.rest());
                tag.truncate(tag.floor_char_boundary(LONGEST_TAG));
                self.at = self.line.len();
                Layer { in_tag: Some((rule, tag.into())), ..Layer::default() }
            }
        }
    }

    fn enter(&self, rule: usize, tag: &str) -> Layer {
        let language = language_of_tag(&self.embeds()[rule].language, tag);
        let inner = language.map(|language| Inner {
            rule,
            scanner: scanner_of(&language),
            state: State::Code,
            fence: "".into(),
        });
        Layer { inner, ..Layer::default() }
    }

    /// The part in the file's own language, up to what begins another one.
    fn outside(&mut self, outer: &State) -> Layer {
        if let Some(layer) = self.fence(outer) {
            return layer;
        }
        let at = self.at;
        let mut tokens = Vec::new();
        let behind = self.layers.outer.scan(self.rest(), outer, &mut |token| tokens.push(token));
        let (budget, is_enough) = self.budget.overflowing_sub(self.rest().len());
        self.budget = if is_enough { 0 } else { budget };
        let opening = if is_enough { None } else { self.opening(&tokens) };
        let reach = opening.map_or(self.rest().len(), |(place, _)| place);
        for token in tokens.into_iter().filter(|token| token.start < reach) {
            (self.found)(Found::Token(Token { start: at + token.start, end: at + token.end.min(reach), ..token }));
        }
        let Some((place, rule)) = opening else {
            self.at = self.line.len();
            return Layer { outer: behind, ..Layer::default() };
        };
        self.at += place + self.embeds()[rule].open.len();
        // A tag goes on to its `>`; other marks are whole.
        if self.embeds()[rule].open.starts_with('<') { self.tag(rule, "") } else { self.enter(rule, "") }
    }

    /// The first place of the rest, outside of its comments and literals, that begins another language.
    fn opening(&self, tokens: &[Token]) -> Option<(usize, usize)> {
        // What lies around code ends its line comments too (PHP manual, Comments: up to the end of the block of code).
        let covers = |token: &Token, place: usize, ends_comments: bool| {
            let ends_here = ends_comments && matches!(token.form, Form::Line(_));
            token.start <= place && place < token.end && !ends_here
        };
        let first_free = |rule: &Embed| {
            let is_free = |place: usize| {
                let behind = tokens.partition_point(|token| token.start <= place);
                !tokens[..behind].last().is_some_and(|token| covers(token, place, rule.first))
            };
            let mut from = 0;
            while let Some(place) = find_mark(&self.rest()[from..], &rule.open) {
                if is_free(from + place) && begins_word(self.rest(), from + place) {
                    return Some(from + place);
                }
                // Marks begin with an ASCII character.
                from += place + 1;
            }
            None
        };
        let rules = self.embeds().iter().enumerate().filter(|(_, rule)| !rule.fence && !rule.open.is_empty());
        rules.filter_map(|(index, rule)| Some((first_free(rule)?, index))).min()
    }

    /// A fence at the start of the line.
    fn fence(&mut self, outer: &State) -> Option<Layer> {
        let rule = self.embeds().iter().position(|rule| rule.fence)?;
        if self.at > 0 || *outer != State::Code {
            return None;
        }
        let content = self.line.trim();
        let mark = content.chars().next().filter(|c| matches!(c, '`' | '~'))?;
        let info = content.trim_start_matches(mark);
        let fence = &content[..content.len() - info.len()];
        if fence.len() < 3 || (mark == '`' && info.contains('`')) {
            return None;
        }
        let name = info.trim().trim_start_matches(['{', '.']);
        let name = name.split(|c: char| c.is_whitespace() || matches!(c, ',' | '}' | ':')).next().unwrap_or("");
        let language = named(name).unwrap_or_else(plain);
        self.at = self.line.len();
        let inner = Inner { rule, scanner: scanner_of(&language), state: State::Code, fence: fence.into() };
        Some(Layer { inner: Some(inner), ..Layer::default() })
    }
}

/// The byte of `mark` that is in the fewest lines: letters are in most.
fn telltale(mark: &[u8]) -> u8 {
    mark.iter().copied().find(|byte| !byte.is_ascii_alphanumeric()).or(mark.first().copied()).unwrap_or(b' ')
}

/// Whether what is at `place` is no part of a longer name.
fn begins_word(text: &str, place: usize) -> bool {
    let is_name = |c: char| c.is_alphanumeric() || matches!(c, '_' | '$' | '.');
    !text[place..].starts_with(is_name) || !text[..place].ends_with(is_name)
}

/// Whether what follows `before` is after a backslash that is none itself.
fn is_escaped(before: &str) -> bool {
    (before.len() - before.trim_end_matches('\\').len()) % 2 == 1
}

/// The first `mark` in `text`, in any case; one that ends with a letter must be a whole word.
fn find_mark(text: &str, mark: &str) -> Option<usize> {
    let (bytes, wanted) = (text.as_bytes(), mark.as_bytes());
    let ends_word = mark.ends_with(|c: char| c.is_ascii_alphabetic());
    let is_here = |at: usize| {
        let behind = bytes.get(at + wanted.len()).copied().unwrap_or(b' ');
        bytes[at..at + wanted.len()].eq_ignore_ascii_case(wanted)
            && !(ends_word && (behind.is_ascii_alphanumeric() || behind == b'-' || behind == b':'))
    };
    let first = *wanted.first()?;
    memchr::memchr(telltale(wanted), bytes)?;
    let last = (bytes.len() + 1).checked_sub(wanted.len())?;
    let bytes_before = &bytes[..last.min(bytes.len())];
    let other = if first.is_ascii_lowercase() { first.to_ascii_uppercase() } else { first };
    memchr::memchr2_iter(first, other, bytes_before).find(|&at| is_here(at))
}

/// The language meant by `name`: its name, or an ending of its files.
fn named(name: &str) -> Option<Arc<Language>> {
    let by_ending = || Some(detect(&format!("x.{name}"), "")).filter(|language| language.name != "text");
    if name.is_empty() { None } else { by_name(name).or_else(by_ending) }
}

/// The language of what follows the tag with these attributes; none where it is only data.
fn language_of_tag(usual: &str, tag: &str) -> Option<Arc<Language>> {
    let lower = tag.to_ascii_lowercase();
    let value = |name: &str| {
        let behind = lower.split_once(&format!(" {name}="))?.1;
        let quote = behind.chars().next().filter(|c| matches!(c, '"' | '\''));
        Some(match quote {
            Some(quote) => behind[1..].split(quote).next().unwrap_or("").to_owned(),
            None => behind.split_whitespace().next().unwrap_or("").to_owned(),
        })
    };
    if let Some(wanted) = value("lang") {
        return named(&wanted).or_else(|| by_name(usual));
    }
    match value("type").as_deref() {
        None | Some("" | "module" | "text/css" | "text/javascript" | "application/javascript" | "text/babel") => {
            by_name(usual)
        }
        Some(kind) if kind.ends_with("json") || kind == "importmap" => by_name("json"),
        Some(kind) => named(kind.rsplit(['/', '-']).next().unwrap_or("")),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::languages::all;
    use proptest::prelude::*;

    /// The first letter of the language of each byte, `.` for the file's own; upper case in comments.
    fn letters(language: &str, text: &str) -> String {
        let layers = Layers::new(&by_name(language).unwrap());
        let mut layer = layers.beginning(text.chars().next());
        let mut out = String::new();
        for line in text.split_inclusive('\n') {
            let mut row = vec!['.'; line.len()];
            let mut comments = Vec::new();
            layer = layers.scan(line, &layer, &mut |found| match found {
                Found::Inside(start, end, language) => row[start..end].fill(language.name.chars().next().unwrap()),
                Found::Token(token) if token.kind == Kind::Comment => {
                    comments.push(token.start..token.end);
                }
                Found::Token(_) => {}
            });
            for at in comments.into_iter().flatten() {
                row[at] = if row[at] == '.' { 'X' } else { row[at].to_ascii_uppercase() };
            }
            out.extend(row);
        }
        out
    }

    proptest! {
        #[test]
        fn going_over_many_lines_comes_to_what_line_by_line_does(
            language in 0..all().len(),
            lines in proptest::collection::vec("( |a|b|r|c|'|\"|`|#|/|\\*|-|\\\\|=|<|>|!|:|\\||\\(|\\)|\\{|\\}|@|é|\r){0,6}\n?", 0..30),
        ) {
            let layers = Layers::new(&all()[language]);
            let text = lines.concat();
            let begun = layers.beginning(text.chars().next());
            let each = text.split_inclusive('\n').fold(begun.clone(), |layer, line| layers.scan(line, &layer, &mut |_| {}));
            prop_assert_eq!(layers.over(&text, begun), each, "{} {:?}", layers.language().name, text);
        }
    }

    #[test]
    fn languages_inside_languages() {
        let rows: &[(&str, &str, &str)] = &[
            ("html", "<style>a</style>b", ".......c........."),
            ("html", "<STYLE\nid=x>/*a\n*/b</Style >c", "............CCCCCCc.........."),
            ("html", "<script>a//</script>b", "........jJJ.........."),
            ("html", "<!-- <style> -->a<p>", "XXXXXXXXXXXXXXXX...."),
            ("html", "<styles>a</styles>", ".................."),
            ("html", "<script lang=\"ts\">a", "..................t"),
            ("html", "<script type='application/json'>{}", "................................jj"),
            ("html", "<script type=\"text/template\"><p>", "................................"),
            ("markdown", "a\n```rust\n//b\n```\nc", "..........RRRr....."),
            ("markdown", "~~~py\n#a\n```\n~~~~\nb", "......PPppppp......"),
            ("markdown", "`` `a` ``\n```\n<!--\n```", "..............ttttt..."),
            ("php", "//a\n", "XXX."),
            ("php", "//a ?><b>\n", "XXXX..hhhh"),
            ("php", "'?>' /*?>*/ a", ".....XXXXXX.."),
            ("typescript", "a = html`<b>\\`<!--c-->`; d", ".........hhhhhHHHHHHHH...."),
            ("typescript", "html`<b>` // c\n// d\n", ".....hhh..XXXX.XXXX."),
            ("javascript", "ahtml`<!--b-->` html`${c}`", ".....................hhhh."),
            ("php", "<p><?php //a\n?><b>", "hhh......XXX...hhh"),
        ];
        for &(language, text, expected) in rows {
            assert_eq!(letters(language, text), expected, "{language} {text:?}");
        }
    }
}
