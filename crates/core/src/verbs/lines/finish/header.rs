//! Headers: statements that have a block.

use super::habits::Habits;
use super::plan::MOST_LINES;
use super::statement::{Among, Statement, first_word};
use crate::languages::finish::Finish;
use crate::units::Line;
use crate::verbs::lines::code::code_of;
use crate::verbs::scene::Scene;

/// A header in the code of a statement.
pub struct Header {
    /// Where it begins in the code.
    pub at: usize,
    /// Whether its block is there.
    pub has_block: bool,
    /// Where it has nothing but its word: whether its condition, which is still to come, is in brackets.
    pub bare: Option<Condition>,
    opens: String,
    closes: String,
    /// What ends the statement that the header is inside of.
    terminator: String,
}

/// How the condition of a header is written.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Condition {
    /// In round brackets.
    InBrackets,
    /// As it is.
    Plain,
}

impl Condition {
    /// What is put in before and after the caret.
    pub fn marks(self) -> [&'static str; 2] {
        match self {
            Condition::InBrackets => [" (", ")"],
            Condition::Plain => [" ", ""],
        }
    }
}

/// Headers that have neither a condition nor a name.
const UNCONDITIONAL: &[&str] = &[
    "else",
    "try",
    "do",
    "finally",
    "loop",
    "begin",
    "ensure",
    "repeat",
    "defer",
    "unsafe",
    "init",
    "deinit",
    "default",
    "select",
    "setup",
    "after",
    "before",
    "comptime",
    "test",
    "async",
    "static",
    "get",
    "set",
    "companion",
    "impl_",
    "lock_",
];

/// The condition that is still to come, where `rest`, which begins with the header `word`, is nothing but that.
fn bare(rest: &str, word: &str, finish: &Finish) -> Option<Condition> {
    let rest = rest.trim();
    let last = rest.strip_prefix(word).map(str::trim)?;
    // `else if`
    let word = if last.is_empty() { word } else { last };
    let is_header = last.is_empty() || finish.is_header(last);
    let is_bare = is_header && !word.is_empty() && !UNCONDITIONAL.contains(&word);
    is_bare.then(|| if finish.parens.contains(word) { Condition::InBrackets } else { Condition::Plain })
}

/// What is put in for a block.
pub struct Block {
    pub opens: String,
    pub closes: String,
    /// After what closes it.
    pub after: String,
}

/// Words that are at the start of a call or a value, not of a function's header.
const NO_TYPES: &[&str] = &[
    "return",
    "new",
    "throw",
    "else",
    "delete",
    "await",
    "goto",
    "case",
    "co_await",
    "co_yield",
    "co_return",
    "yield",
    "assert",
    "typedef",
    "using",
    "extern",
    "package",
    "import",
    "throws",
    "in",
    "is",
    "as",
    "echo",
    "print",
];

/// Words before a function that has no body here.
const NO_BODY: &[&str] = &["abstract", "native", "external", "extern", "typedef"];

impl Header {
    /// The header of `statement`; none where it is none.
    pub fn of(statement: &Statement, habits: &Habits, finish: &Finish) -> Option<Header> {
        let scene = habits.scene;
        let code = statement.code.as_str();
        if statement.goes_on || (code.ends_with(';') && statement.open.is_empty()) {
            return None;
        }
        let found = begins(code, finish)
            .or_else(|| inside(code, finish))
            .or_else(|| arrow(code, finish))
            .or_else(|| function(code, statement, habits, finish))
            .or_else(|| selector(code, statement, finish));
        let Some((at, word)) = found else { return opened(statement, habits, finish) };
        if statement.among == Among::Declarations && !code.contains('{') && code.contains('(') {
            return None;
        }
        let [opens, closes] = finish.block_of(word);
        let rest = &code[at..];
        let is_outermost = at == 0 || begins(code, finish).is_some();
        let is_without_body = code[..at].split_whitespace().any(|word| NO_BODY.contains(&word));
        if is_outermost && (is_without_body || has_body(rest, word, opens, finish)) {
            return None;
        }
        let is_opened = opens_block(rest, opens);
        let is_closed = closes.is_empty() || rest.trim_end().ends_with('}') || closes_below(scene, statement, closes);
        let has_block = block_is_below(scene, statement, opens)
            || ((is_opened || opens.is_empty()) && is_closed && !(opens.is_empty() && closes.is_empty()));
        let opens = if is_opened { "" } else { opens };
        let bare = bare(rest, word, finish);
        let terminator = if is_outermost { String::new() } else { inner_terminator(statement, habits, finish) };
        Some(Header { at, has_block, bare, opens: opens.to_owned(), closes: closes.to_owned(), terminator })
    }

    /// What is put in for its block, in the style of the file.
    pub fn block(&self, habits: &Habits, statement: &Statement) -> Block {
        let is_brace = self.opens.trim() == "{";
        let opens = if is_brace && habits.have_braces_apart() { "\n{".to_owned() } else { self.opens.clone() };
        let after = statement.closers_before(self.at) + &self.terminator;
        Block { opens, closes: self.closes.clone(), after }
    }
}

fn is_part_of_word(c: char) -> bool {
    c.is_alphanumeric() || c == '_'
}

/// A statement that begins with a header, after what may be before one.
fn begins<'c>(code: &'c str, finish: &Finish) -> Option<(usize, &'c str)> {
    let mut at = 0;
    loop {
        let rest = &code[at..];
        let skipped = rest.len() - rest.trim_start_matches(|c: char| c.is_whitespace() || c == '}').len();
        at += skipped;
        let word = first_word(&code[at..]);
        if finish.named.contains(word) {
            let name = code[at + word.len()..].trim();
            let names = name.split(':').next().unwrap_or_default().split_whitespace().count();
            let is_one = names <= 1 && !name.contains(['(', '=', ';', '*']);
            return is_one.then_some((at, word));
        }
        // `struct Level(u32)` has no block.
        let is_tuple = word == "struct" && finish.lists.contains(word) && code[at..].contains('(');
        // `export default` is no label.
        let is_label_of_case = finish.block_of(word)[0] == ":" && !code[..at].trim().is_empty();
        if finish.is_header(word)
            && !is_tuple
            && !is_label_of_case
            && !is_call_of(&code[at + word.len()..], word, finish)
        {
            return Some((at, word));
        }
        // `pub(crate)`, `'outer:`.
        let after = &code[at + word.len()..];
        let is_label = code[at..].starts_with('\'');
        let length = match () {
            () if is_label => code[at..].find(':').map(|colon| colon + 1),
            () if finish.modifiers.contains(word) && after.starts_with('(') => {
                after.find(')').map(|close| word.len() + close + 1)
            }
            () if finish.modifiers.contains(word) => Some(word.len()),
            () => None,
        };
        match length.filter(|length| *length > 0) {
            Some(length) => at += length,
            None => return None,
        }
    }
}

/// `test(…)`, `check(…)`: a word that is called, where it needs no brackets as a header.
fn is_call_of(after: &str, word: &str, finish: &Finish) -> bool {
    let takes_brackets = finish.parens.contains(word) || finish.inner.contains(word) || finish.opens.trim() == "{";
    !takes_brackets && after.starts_with('(') && finish.closes.is_empty() && word != "if" && word != "while"
}

/// The last header that begins inside a statement: after `=`, `return`, an opening bracket or a comma.
fn inside<'c>(code: &'c str, finish: &Finish) -> Option<(usize, &'c str)> {
    let mut found = None;
    let mut at = 0;
    for word in code.split(|c: char| !is_part_of_word(c)) {
        let start = at;
        at += word.len() + code[at + word.len()..].chars().next().map_or(0, char::len_utf8);
        if !finish.inner.contains(word) {
            continue;
        }
        if code[start..].contains('{') && !code.ends_with('{') {
            // It has its block, and something comes after that.
            continue;
        }
        let mut before = code[..start].trim_end();
        while let Some(shorter) = finish.modifiers.iter().find_map(|modifier| before.strip_suffix(modifier.as_str())) {
            before = shorter.trim_end();
        }
        let is_value =
            before.ends_with(['=', '(', ',', '>', ':', '[']) || before.ends_with("return") || before.ends_with("<-");
        // `let Some(a) = b else`
        let is_otherwise = word == "else" && code.trim_end().len() == start + word.len();
        if is_value || is_otherwise {
            found = Some((start, word));
        }
    }
    found
}

/// A function without a name whose body is still to come.
fn arrow<'c>(code: &'c str, finish: &Finish) -> Option<(usize, &'c str)> {
    let is_arrow = !finish.arrow.is_empty() && code.ends_with(finish.arrow.as_str());
    is_arrow.then(|| (code.len() - finish.arrow.len(), ""))
}

/// A type, a name and brackets.
fn function<'c>(code: &'c str, statement: &Statement, habits: &Habits, finish: &Finish) -> Option<(usize, &'c str)> {
    if !finish.functions || !finish.bare.iter().all(|word| !code.starts_with(word.as_str())) {
        return None;
    }
    let open = code.find('(')?;
    let before = &code[..open];
    let words: Vec<&str> = before.split(|c: char| !is_part_of_word(c)).filter(|word| !word.is_empty()).collect();
    let is_type = words.len() >= 2
        && words.iter().all(|word| !NO_TYPES.contains(word) && !NO_BODY.contains(word))
        // Parameters begin with a type: a number or a string is the argument of a constructor.
        && !code[open + 1..].trim_start().starts_with(|c: char| c.is_numeric() || "\"'-".contains(c))
        && !before.contains(['=', '.', '"', '{', ';', '+', '/'])
        && before.ends_with(is_part_of_word)
        && before.contains([' ', '*', '&']);
    let depth = habits.scene.text.depth_of(statement.first, habits.scene.settings.tabs);
    // In C a function is in no other; what looks like one inside is a declaration.
    let may_be_here = depth.0 == 0 || finish.modifiers.contains("public") || finish.named.contains("class");
    let is_open = statement.open.iter().all(|(_, at)| *at >= open);
    let closed = code.rfind(')').map_or("", |close| code[close + 1..].trim());
    let ends = closed.is_empty()
        || closed.starts_with("const")
        || closed.starts_with("noexcept")
        || closed.starts_with("override")
        || closed.starts_with("throws")
        || closed.starts_with('{')
        || closed.starts_with("async");
    (is_type && may_be_here && is_open && ends && !habits.declare_functions()).then_some((0, ""))
}

/// What opens a block and begins with nothing that tells so: an arm, a closure, a macro.
fn opened(statement: &Statement, habits: &Habits, finish: &Finish) -> Option<Header> {
    let at = statement.code.strip_suffix('{')?.len();
    let is_inside = statement.open.iter().any(|(_, open)| *open < at) || statement.gives_a_name();
    let terminator = if is_inside { inner_terminator(statement, habits, finish) } else { String::new() };
    let has_block = closes_below(habits.scene, statement, "}");
    Some(Header { at, has_block, bare: None, opens: String::new(), closes: "}".to_owned(), terminator })
}

/// What is in no block of declarations and ends with nothing.
fn selector<'c>(code: &'c str, statement: &Statement, finish: &Finish) -> Option<(usize, &'c str)> {
    // In a rule, what begins like a selector is one that is nested.
    let is_nested = || code.starts_with(['.', '#', '&', '>', '+', '~', '[', '*']);
    let may_be = finish.selectors && (matches!(statement.among, Among::Outside | Among::Rules) || is_nested());
    let is_it = may_be && !code.starts_with('@') && !code.ends_with([';', ',', '}']);
    let is_variable = code.starts_with('$') || code.starts_with("--");
    (is_it && !is_variable).then_some((0, ""))
}

/// Whether the body of a header follows on its line without a block: `if (x) return`, `if x: pass`.
fn has_body(rest: &str, word: &str, opens: &str, finish: &Finish) -> bool {
    if finish.parens.contains(word) {
        let Some(open) = rest.find('(') else { return false };
        let mut depth = 0;
        for (at, c) in rest.char_indices().skip(open) {
            depth += i32::from(c == '(') - i32::from(c == ')');
            if depth == 0 {
                let body = rest[at + 1..].trim();
                return !body.is_empty() && !body.starts_with('{') && !body.starts_with('|');
            }
        }
        return false;
    }
    let goes_on_after_block = opens.trim() == "{" && rest.contains("}.");
    if goes_on_after_block || (matches!(word, "fun" | "def") && has_value(rest)) {
        return true;
    }
    if word == "else" || word == "do" || word == "try" {
        let body = rest[word.len()..].trim();
        let next = first_word(body);
        let is_free = body.is_empty() || body.starts_with(['{', '(', ':', '|']) || finish.is_header(next);
        return !is_free && opens.trim() == "{" && !finish.parens.is_empty();
    }
    if opens.trim() == ":" {
        let mut depth = 0;
        for (at, c) in rest.char_indices() {
            depth += i32::from(matches!(c, '(' | '[' | '{')) - i32::from(matches!(c, ')' | ']' | '}'));
            if c == ':' && depth <= 0 && !rest[at + 1..].starts_with('=') {
                return !rest[at + 1..].trim().is_empty() && !rest[at + 1..].starts_with(':');
            }
        }
    }
    rest.ends_with(';') && !rest.contains('{')
}

/// Whether the head of a function goes on with `=` and its value: a default of a parameter is in brackets.
fn has_value(rest: &str) -> bool {
    let mut depth = 0;
    rest.char_indices().any(|(at, c)| {
        let is_arrow = c == '>' && rest[..at].ends_with(['-', '=']);
        depth += i32::from("([{<".contains(c)) - i32::from(")]}>".contains(c) && !is_arrow);
        depth == 0 && c == '=' && rest[..at].ends_with(' ') && rest[at + 1..].starts_with(' ')
    })
}

/// Whether the code of a header ends with what opens its block, or has its block whole.
fn opens_block(rest: &str, opens: &str) -> bool {
    let opens = opens.trim();
    let rest = rest.trim_end();
    match opens {
        "" => false,
        "{" => rest.ends_with('{') || rest.ends_with('}'),
        _ => rest.ends_with(opens.trim_start_matches(';').trim()),
    }
}

/// Whether the block of a header opens on the line below, or its body without a block is there.
fn block_is_below(scene: &Scene, statement: &Statement, opens: &str) -> bool {
    let below = statement.last.next();
    if opens.trim() != "{" || below > scene.text.last_line() {
        return false;
    }
    let depth = |line: Line| scene.text.depth_of(line, scene.settings.tabs);
    let code = code_of(scene, below);
    code.trim() == "{" && depth(below) >= depth(statement.first)
}

/// Whether the block of a header without an opener is there: what is below is deeper, or closes it.
fn closes_below(scene: &Scene, statement: &Statement, closes: &str) -> bool {
    let depth = |line: Line| scene.text.depth_of(line, scene.settings.tabs);
    let own = depth(statement.first);
    let lines = (statement.last.0 + 1..scene.text.line_count()).map(Line).take(MOST_LINES);
    let Some(below) = lines.into_iter().find(|line| !scene.text.is_blank(*line)) else { return false };
    let closer = closes.split_whitespace().next().unwrap_or_default();
    let code = code_of(scene, below);
    let closes = code.trim_start().strip_prefix(closer).is_some_and(|rest| !rest.starts_with(is_part_of_word));
    let is_deeper = depth(below) > own;
    is_deeper
        || (!closer.is_empty() && depth(below) == own && closes)
        || (closer == "}" && is_closed_flat(scene, statement))
}

/// Whether the block that a statement opens is closed in a text that is not indented at all: there only brackets tell.
fn is_closed_flat(scene: &Scene, statement: &Statement) -> bool {
    /// So many lines below are looked at: a text that is indented shows it within them.
    const LOOKED_AT: usize = 60;
    let mut depth = 1i32;
    for line in (statement.last.0 + 1..scene.text.line_count()).map(Line).take(LOOKED_AT) {
        if !scene.text.is_blank(line) && scene.text.depth_of(line, scene.settings.tabs).0 > 0 {
            return false;
        }
        for c in code_of(scene, line).chars() {
            depth += i32::from(c == '{') - i32::from(c == '}');
            if depth == 0 {
                return scene.text.depth_of(statement.first, scene.settings.tabs).0 == 0
                    && line > statement.last.next();
            }
        }
    }
    false
}

/// The terminator of a statement that a header is inside of.
fn inner_terminator(statement: &Statement, habits: &Habits, finish: &Finish) -> String {
    statement.with_value().terminator(habits, finish).to_owned()
}
