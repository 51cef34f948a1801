//! What belongs to the statement at a caret, and what of it is open.

use super::habits::Habits;
use super::plan::MOST_LINES;
use crate::languages::finish::Finish;
use crate::languages::scanner::{Form, Kind};
use crate::languages::{Language, Shape};
use crate::units::{Byte, Line, Span};
use crate::verbs::lines::code::code_of;
use crate::verbs::scene::Scene;

/// What a statement is among.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Among {
    /// In no block.
    Outside,
    /// Rules, in a rule that holds others.
    Rules,
    /// Functions that are declared without bodies.
    Declarations,
    /// Parts of a list, which are no statements.
    Parts,
    /// Other statements.
    Statements,
}

impl Among {
    /// By the block around a statement: the line that opens it, and where.
    fn of(scene: &Scene, block: Option<(Line, usize)>, finish: &Finish) -> Among {
        match block {
            None => Among::Outside,
            Some((line, at)) if is_list(scene, line, at, finish) => Among::Parts,
            Some((line, at)) if is_at_rule(scene, line, at) => Among::Rules,
            Some((line, at)) if declares(scene, line, at, finish) => Among::Declarations,
            Some(_) => Among::Statements,
        }
    }
}

/// The statement at a caret.
pub struct Statement {
    /// Its first line.
    pub first: Line,
    /// Its last line.
    pub last: Line,
    /// Where its code ends: before white space and a comment.
    pub end: Byte,
    /// Its code, strings and comments masked, its lines joined by spaces.
    pub code: String,
    /// The brackets that are open at its end, outermost first: which, and where in the code.
    pub open: Vec<(char, usize)>,
    /// What closes the string that is open at its end.
    string: Option<String>,
    /// Whether more of it comes after its last line.
    pub goes_on: bool,
    /// What it is among.
    pub among: Among,
}

fn closer_of(open: char) -> char {
    match open {
        '(' => ')',
        '[' => ']',
        _ => '}',
    }
}

/// What is around a line.
struct Around {
    /// The first line of the statement that the line is in.
    first: Line,
    /// The line whose opener of a block it is in, and where in that line's code that is.
    block: Option<(Line, usize)>,
}

impl Statement {
    /// The statement at `head`.
    pub fn at(scene: &Scene, head: Byte, language: &Language) -> Statement {
        let line = scene.text.line_of(head);
        let Around { first, block } = around(scene, line);
        let string = open_string(scene, line, language);
        let extent = extent(scene, first, line);
        let (last, closed_below) = if string.is_some() { (line, 0) } else { (extent.last, extent.closed_below) };
        let mut code = String::new();
        for each in (first.0..=last.0).map(Line) {
            let of_line = code_of(scene, each);
            if !code.is_empty() {
                code.push(' ');
            }
            code.push_str(of_line.trim());
        }
        let code = code.trim_end().to_owned();
        let mut open = open_brackets(&code);
        open.drain(..closed_below.min(open.len()));
        let among = Among::of(scene, block, &language.finish);
        let mut end = code_end(scene, last, string.is_some());
        // What ends the statement is no part of a string that is still to be closed.
        let ends = language.finish.terminator.as_str();
        let is_taken_in =
            string.is_some() && !ends.is_empty() && scene.text.has_at(Byte(end.0.saturating_sub(ends.len())), ends);
        if is_taken_in {
            end = end - ends.len();
        }
        let goes_on = closed_below > 0;
        Statement { first, last, end, code, open, string, goes_on, among }
    }

    /// What closes what is open, from the inside outwards; with the place of a header, only what was opened in it, and not its block.
    pub fn closers(&self, header: Option<usize>) -> String {
        let from = header.unwrap_or(0);
        let in_header = self.open.iter().rev().filter(|(_, at)| *at >= from);
        let brackets = in_header.filter(|(open, _)| header.is_none() || *open != '{');
        self.string.iter().cloned().chain(brackets.map(|(open, _)| closer_of(*open).to_string())).collect()
    }

    /// What closes the brackets that were opened before `at`, which is in the code.
    pub fn closers_before(&self, at: usize) -> String {
        self.open.iter().rev().filter(|(_, open)| *open < at).map(|(open, _)| closer_of(*open)).collect()
    }

    /// Whether something is given to a name in it before what it ends with opens.
    pub fn gives_a_name(&self) -> bool {
        is_value(&format!("{}}}", self.code))
    }

    /// The same with something that is whole at its end, in place of a header that is still to get its block.
    pub fn with_value(&self) -> Statement {
        let code = self.code.trim_end_matches(['=', '>', '-']).to_owned() + " x";
        Statement { code, open: Vec::new(), string: None, ..*self }
    }

    /// What ends it, where it lacks that.
    pub fn terminator<'f>(&self, habits: &Habits, finish: &'f Finish) -> &'f str {
        let code = self.code.trim_end();
        let first = first_word(code);
        let is_bare = finish.bare.iter().any(|word| first == *word || code.starts_with(word.as_str()));
        let goes_on = self.string.is_none()
            && self.open.is_empty()
            && (code.ends_with([';', ',', '{', '(', '[', ':', '\\', '=', '.', '&', '|', '?'])
                || (code.ends_with(['+', '-', '*', '/', '<', '>', '%']) && !ends_in_whole(code)));
        let ends_block = self.open.is_empty() && code.ends_with('}') && !is_value(code);
        let is_none = finish.terminator.is_empty()
            || self.goes_on
            || self.among == Among::Parts
            || is_bare
            || goes_on
            || ends_block;
        if is_none || (finish.optional && habits.leave_out(&finish.terminator)) {
            return "";
        }
        &finish.terminator
    }

    /// Where the inside of a block begins that begins and ends on the last line.
    pub fn one_line_block(&self, scene: &Scene) -> Option<Byte> {
        let code = code_of(scene, self.last);
        let trimmed = code.trim_end();
        let open = trimmed.strip_suffix('}').and_then(|rest| rest.rfind('{'))?;
        let start = scene.text.content_span(self.last).start;
        let is_spaced = trimmed[open + 1..].starts_with(' ');
        Some(start + open + 1 + usize::from(is_spaced))
    }
}

/// `x++` and `a->` apart: an operator that ends a statement.
fn ends_in_whole(code: &str) -> bool {
    code.ends_with("++")
        || code.ends_with("--")
        || (code.ends_with('>') && !code.ends_with("->") && !code.ends_with("=>"))
}

/// Whether a statement that ends with `}` is a value, and no block of its own: something is given to a name before it opens.
fn is_value(code: &str) -> bool {
    let opens = matching_open(code);
    let before = &code[..opens];
    before.char_indices().any(|(at, c)| {
        if c != '=' {
            return false;
        }
        let beside = [before[..at].chars().next_back(), before[at + 1..].chars().next()];
        !beside.iter().flatten().any(|c| matches!(c, '=' | '!' | '<' | '>'))
    }) || before.trim_end().ends_with("return")
}

/// Where the bracket is that the last character of `code` closes.
fn matching_open(code: &str) -> usize {
    let mut depth = 0;
    for (at, c) in code.char_indices().rev() {
        match c {
            ')' | ']' | '}' => depth += 1,
            '(' | '[' | '{' => {
                depth -= 1;
                if depth == 0 {
                    return at;
                }
            }
            _ => {}
        }
    }
    0
}

/// The first word of `code`, with the sign that it begins with.
pub fn first_word(code: &str) -> &str {
    let code = code.trim_start();
    let signs = code.len() - code.trim_start_matches(['@', '#']).len();
    let rest = &code[signs..];
    let length =
        rest.find(|c: char| !(c.is_alphanumeric() || c == '_' || (signs > 0 && c == '-'))).unwrap_or(rest.len());
    &code[..signs + length]
}

/// The brackets that are open at the end of `code`. A closer that answers none of them closes nothing.
fn open_brackets(code: &str) -> Vec<(char, usize)> {
    let mut open: Vec<(char, usize)> = Vec::new();
    for (at, c) in code.char_indices() {
        match c {
            '(' | '[' | '{' => open.push((c, at)),
            ')' | ']' | '}' if open.last().is_some_and(|(open, _)| closer_of(*open) == c) => drop(open.pop()),
            _ => {}
        }
    }
    open
}

/// Whether `line` begins with a closing bracket.
fn closes(scene: &Scene, line: Line) -> bool {
    scene.text.content(line).trim_start().starts_with([')', ']', '}'])
}

/// Goes up from `line` to where its statement begins: out of the round and square brackets that it is in.
fn around(scene: &Scene, line: Line) -> Around {
    let depth = |line: Line| scene.text.depth_of(line, scene.settings.tabs);
    let mut first = line;
    let mut closers = 0usize;
    if depth(line).0 == 0 && !closes(scene, line) {
        return Around { first, block: None };
    }
    let mut outermost = depth(line);
    for above in (0..line.0).rev().take(MOST_LINES).map(Line) {
        if scene.text.is_blank(above) {
            continue;
        }
        // What is further out than all before it, and opens nothing, is outside of what is around the line.
        let is_outside = depth(above) < outermost && closers == 0 && !closes(scene, above);
        outermost = outermost.min(depth(above));
        let (before, code) = (first, code_of(scene, above));
        for (at, c) in code.char_indices().rev() {
            match c {
                ')' | ']' | '}' => closers += 1,
                '(' | '[' | '{' if closers > 0 => closers -= 1,
                // What is no deeper than what opens there is not inside of it.
                '(' | '[' if depth(above) < depth(first) || closes(scene, first) => first = above,
                '{' => return Around { first, block: Some((above, at)) },
                _ => {}
            }
        }
        if is_outside && first == before {
            break;
        }
    }
    Around { first, block: None }
}

/// How far a statement reaches.
struct Extent {
    /// Its last line; the line of the caret where more of it is open.
    last: Line,
    /// How many of the outermost brackets that are open there are closed further down.
    closed_below: usize,
}

/// How far the statement reaches that begins at `first`, seen from `line`. Which brackets are closed further down is told by depth: the
/// closing bracket begins a line that is as deep as the one with the opening bracket.
fn extent(scene: &Scene, first: Line, line: Line) -> Extent {
    let mut open: Vec<(char, Line)> = Vec::new();
    for each in (first.0..=line.0).map(Line) {
        let code = code_of(scene, each);
        for c in code.chars() {
            match c {
                '(' | '[' | '{' => open.push((c, each)),
                ')' | ']' | '}' if open.last().is_some_and(|(open, _)| closer_of(*open) == c) => drop(open.pop()),
                _ => {}
            }
        }
    }
    let not_closed = Extent { last: line, closed_below: 0 };
    // A line that opens a block goes on in that.
    if open.last().is_none_or(|(open, _)| *open == '{') {
        return not_closed;
    }
    let mut ends = Vec::new();
    let mut of_line = 0;
    for (index, (_, at)) in open.iter().enumerate() {
        of_line = if index > 0 && open[index - 1].1 == *at { of_line + 1 } else { 0 };
        match closing_line(scene, *at, line).filter(|(_, count)| of_line < *count) {
            Some((end, _)) => ends.push(end),
            None => break,
        }
    }
    match ends.first() {
        Some(outermost) if ends.len() == open.len() => Extent { last: *outermost, closed_below: 0 },
        _ => Extent { closed_below: ends.len(), ..not_closed },
    }
}

/// The line after `line` that closes what `opener` opens, and with how many brackets it begins.
fn closing_line(scene: &Scene, opener: Line, line: Line) -> Option<(Line, usize)> {
    let depth = |line: Line| scene.text.depth_of(line, scene.settings.tabs);
    let below = (line.0 + 1..scene.text.line_count()).take(MOST_LINES).map(Line);
    let end = below.filter(|line| !scene.text.is_blank(*line)).find(|line| depth(*line) <= depth(opener))?;
    let count = scene.text.content(end).trim_start().chars().take_while(|c| matches!(c, ')' | ']' | '}')).count();
    (count > 0 && depth(end) == depth(opener)).then_some((end, count))
}

/// What closes the string that `line` ends in, where it begins on that line.
fn open_string(scene: &Scene, line: Line, language: &Language) -> Option<String> {
    let pieces = scene.syntax.pieces(line);
    let last = pieces.last().filter(|piece| piece.token.kind == Kind::String && piece.token.opens)?;
    let Form::Text(form) = last.token.form else { return None };
    let form = language.strings.get(usize::from(form))?;
    let open = scene.text.slice(last.span);
    // One that cannot go on in the next line ends with this one, closed or not.
    let ends_line = last.span.end >= scene.text.content_span(line).end && !form.lines;
    let is_closed = open.len() > form.open.len() && open.ends_with(form.close.as_str()) && !open.ends_with("\\\"");
    if last.token.closes && (!ends_line || is_closed || form.shape == Shape::Character) {
        return None;
    }
    let counted: String = form.counted.map_or_else(String::new, |c| {
        let prefix = form.open.split('*').next().unwrap_or_default().len();
        open[prefix.min(open.len())..].chars().take_while(|each| *each == c).collect()
    });
    Some(form.close.replace('*', if form.counted.is_some() { &counted } else { "*" }))
}

/// Where the code of `line` ends: before a comment and the white space before that.
fn code_end(scene: &Scene, line: Line, is_in_string: bool) -> Byte {
    let content = scene.text.content_span(line);
    if is_in_string {
        return content.end;
    }
    let pieces = scene.syntax.pieces(line);
    let mut end = content.end;
    for piece in pieces.iter().rev() {
        let gap = scene.text.slice(Span::new(piece.span.end.min(end), end));
        if piece.token.kind != Kind::Comment || !gap.trim().is_empty() {
            break;
        }
        end = piece.span.start.max(content.start);
    }
    let code = scene.text.slice(Span::new(content.start, end));
    content.start + code.trim_end().len()
}

/// Whether the block that opens in `line` holds parts of a list, and no statements: fields, arms, values.
fn is_list(scene: &Scene, line: Line, at: usize, finish: &Finish) -> bool {
    let code = code_of(scene, line);
    let before = code[..at].trim_end();
    let words: Vec<&str> = before.split(|c: char| !(c.is_alphanumeric() || c == '_' || c == '@' || c == '-')).collect();
    let is_word = words.iter().any(|word| finish.lists.contains(*word));
    if is_word {
        return true;
    }
    let has_header = words.iter().any(|word| finish.is_header(word) || finish.inner.contains(*word));
    let is_arrow = !finish.arrow.is_empty() && before.ends_with(finish.arrow.as_str());
    let is_after_value = before.ends_with(['(', '=', ':', ',', '[']) || before.ends_with("return");
    // `let reading = Reading {`: a type that is filled in.
    let last = words.last().and_then(|word| word.chars().next());
    let is_filled_in = last.is_some_and(char::is_uppercase) && before.contains('=') && !has_header;
    !is_arrow && !finish.selectors && (is_after_value || is_filled_in)
}

/// Whether the block that opens in `line` declares functions whose bodies are elsewhere.
fn declares(scene: &Scene, line: Line, at: usize, finish: &Finish) -> bool {
    let code = code_of(scene, line);
    code[..at].split(|c: char| !(c.is_alphanumeric() || c == '_')).any(|word| finish.declares.contains(word))
}

/// Whether the block that opens in `line` is that of a rule that holds rules: selectors are in it, not declarations.
fn is_at_rule(scene: &Scene, line: Line, at: usize) -> bool {
    let code = code_of(scene, line);
    code[..at].trim_start().starts_with('@')
}
