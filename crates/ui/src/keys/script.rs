//! Key scripts: the language in which `snarvel play` and the tests press keys.
//!
//! Tokens are separated by white space; `docs/play.md` lists them. A script is read whole
//! before anything runs, so that a wrong token changes nothing.

use super::key::Key;
use snarvel_core::text::place::{LineColumn, Place};
use snarvel_workspace::command::Command;
use snarvel_workspace::registry::arguments::{Arguments, Value, Values};
use snarvel_workspace::registry::{Verb, by_name};

/// One thing that a script does.
#[derive(Clone, Debug)]
pub enum ScriptStep {
    /// Presses a key.
    Key(Key),
    /// Pastes text in one piece.
    Paste(String),
    /// Runs a command.
    Run(Command),
    /// Runs a command as the mouse does.
    Point(Command),
    /// Says why a verb does not take its argument, and does nothing.
    Refuse(String),
}

/// A token that is none: which, where in the script, and why.
#[derive(Debug, PartialEq, Eq)]
pub struct WrongToken {
    /// The token.
    pub token: String,
    /// Its first character, counted from 1.
    pub place: usize,
    /// What is wrong with it.
    pub why: String,
}

impl std::fmt::Display for WrongToken {
    fn fmt(&self, out: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(out, "key script, character {}: {:?}: {}", self.place, self.token, self.why)
    }
}

/// The most times that a token may be repeated: enough for any exercise, too few to fill the memory.
const MOST_REPEATS: usize = 1_000_000;

/// Reads a whole script.
///
/// # Errors
/// The first token that is none.
pub fn parse(script: &str) -> Result<Vec<ScriptStep>, WrongToken> {
    let mut actions = Vec::new();
    for (start, token) in tokens(script) {
        let wrong =
            |why: String| WrongToken { token: token.to_owned(), place: script[..start].chars().count() + 1, why };
        actions.extend(repeated(token).map_err(wrong)?);
    }
    Ok(actions)
}

/// The tokens of a script and where they begin. Quotes hold white space together, and so does the argument
/// of a verb, which reaches to the last `)` before white space or the end.
fn tokens(script: &str) -> Vec<(usize, &str)> {
    let mut found = Vec::new();
    let mut at = 0;
    while let Some(skip) = script[at..].find(|c: char| !c.is_whitespace()) {
        let start = at + skip;
        let rest = &script[start..];
        let end = start + token_len(rest);
        found.push((start, &script[start..end]));
        at = end;
    }
    found
}

fn token_len(rest: &str) -> usize {
    let until_space = rest.find(char::is_whitespace).unwrap_or(rest.len());
    let head = &rest[..until_space];
    let body = head.split_once('*').filter(|(count, _)| count.parse::<usize>().is_ok());
    let skipped = body.map_or(0, |(count, _)| count.len() + 1);
    let body = &rest[skipped..];
    if let Some(behind) = body.strip_prefix("paste\"").or_else(|| body.strip_prefix('"')) {
        return rest.len() - behind.len() + string_len(behind);
    }
    if body.starts_with('!') && head.contains('(') {
        return skipped + argument_end(body);
    }
    until_space
}

/// The length of a string's inside with its closing quote; all of it where it does not close.
fn string_len(inside: &str) -> usize {
    let mut escaped = false;
    for (at, c) in inside.char_indices() {
        match c {
            _ if escaped => escaped = false,
            '\\' => escaped = true,
            '"' => return at + 1,
            _ => {}
        }
    }
    inside.len()
}

/// Where `!verb(argument)` ends: after the first `)` outside quotes that white space or the end follows.
fn argument_end(body: &str) -> usize {
    let mut quoted = false;
    let mut escaped = false;
    for (at, c) in body.char_indices() {
        match c {
            _ if escaped => escaped = false,
            '\\' => escaped = true,
            '"' => quoted = !quoted,
            ')' if !quoted && body[at + 1..].chars().next().is_none_or(char::is_whitespace) => return at + 1,
            _ => {}
        }
    }
    body.rfind(')').map_or(body.len(), |at| at + 1)
}

fn repeated(token: &str) -> Result<Vec<ScriptStep>, String> {
    let counted = token.split_once('*').and_then(|(count, rest)| Some((count.parse::<usize>().ok()?, rest)));
    match counted.filter(|(_, rest)| !rest.is_empty()) {
        Some((count, _)) if count > MOST_REPEATS => Err(format!("at most {MOST_REPEATS} times")),
        Some((count, rest)) => {
            let once = single(rest)?;
            Ok(std::iter::repeat_n(once, count).flatten().collect())
        }
        None => single(token),
    }
}

fn single(token: &str) -> Result<Vec<ScriptStep>, String> {
    if token.len() > 1 {
        if let Some(inside) = token.strip_prefix('"') {
            return Ok(unescaped(inside)?.chars().map(typed).collect());
        }
        if let Some(inside) = token.strip_prefix("paste\"") {
            return Ok(vec![ScriptStep::Paste(unescaped(inside)?)]);
        }
        if let Some(place) = token.strip_prefix('@') {
            return place_action(place).map(|action| vec![action]);
        }
        if let Some(call) = token.strip_prefix('!') {
            return verb_action(call).map(|action| vec![action]);
        }
        if let Some(action) = mouse_action(token) {
            return action.map(|action| vec![action]);
        }
    }
    match Key::parse(token) {
        Some(key) => Ok(vec![ScriptStep::Key(key)]),
        None => Err("no such key or token".to_owned()),
    }
}

fn typed(c: char) -> ScriptStep {
    use crossterm::event::{KeyCode, KeyModifiers};
    match c {
        '\n' => ScriptStep::Key(Key::new(KeyCode::Enter, KeyModifiers::NONE)),
        '\t' => ScriptStep::Key(Key::new(KeyCode::Tab, KeyModifiers::NONE)),
        c => ScriptStep::Key(Key::character(c)),
    }
}

/// What is between quotes, with its escapes taken out.
fn unescaped(inside: &str) -> Result<String, String> {
    let mut text = String::new();
    let mut characters = inside.chars();
    while let Some(c) = characters.next() {
        match c {
            '"' if characters.as_str().is_empty() => return Ok(text),
            '"' => return Err("text goes on after the closing quote".to_owned()),
            '\\' => text.push(match characters.next() {
                Some('n') => '\n',
                Some('t') => '\t',
                Some('r') => '\r',
                Some(c @ ('"' | '\\')) => c,
                Some(other) => return Err(format!("\\{other} is no escape: \\n \\t \\r \\\" \\\\ are")),
                None => break,
            }),
            c => text.push(c),
        }
    }
    Err("the closing quote is missing".to_owned())
}

fn place(text: &str, separator: char) -> Result<Value, String> {
    let wrong = || format!("{text:?} is no place: LINE{separator}COLUMN, both from 1");
    if !text.contains(separator) {
        return Err(wrong());
    }
    let place = LineColumn::parse(&text.replace(separator, ":")).ok_or_else(wrong)?;
    Ok(Value::Place(Place::At(place)))
}

fn run(verb: &str, values: Vec<Value>) -> ScriptStep {
    ScriptStep::Run(Command { values: Values::of(values), ..Command::named(verb) })
}

fn point(verb: &str, values: Vec<Value>) -> ScriptStep {
    ScriptStep::Point(Command { values: Values::of(values), ..Command::named(verb) })
}

fn place_action(text: &str) -> Result<ScriptStep, String> {
    match text.split_once('-') {
        Some((from, to)) => Ok(run("select-between", vec![place(from, ':')?, place(to, ':')?])),
        None => Ok(run("caret-at", vec![place(text, ':')?])),
    }
}

fn verb_action(call: &str) -> Result<ScriptStep, String> {
    let (verb, argument) = verb_and_argument(call)?;
    match Command::read(verb, &argument) {
        Ok(command) => Ok(ScriptStep::Run(command)),
        // A verb that takes none is written wrong; a value that it does not take it refuses when it is run, as it does by hand.
        Err(wrong) if verb.arguments == Arguments::None => Err(wrong.to_string()),
        Err(wrong) => Ok(ScriptStep::Refuse(wrong.to_string())),
    }
}

/// Reads `verb` or `verb(argument)`; the argument may be in quotes.
///
/// # Errors
/// No such verb, or an argument that it does not take.
pub fn verb_call(call: &str) -> Result<(&'static Verb, String), String> {
    let (verb, argument) = verb_and_argument(call)?;
    if !argument.is_empty() {
        verb.arguments.read(verb.name, &argument).map_err(|wrong| wrong.to_string())?;
    }
    Ok((verb, argument))
}

fn verb_and_argument(call: &str) -> Result<(&'static Verb, String), String> {
    let (name, argument) = match call.split_once('(') {
        Some((name, rest)) => (name, rest.strip_suffix(')').ok_or("the closing ) is missing")?),
        None => (call, ""),
    };
    let verb = by_name(name).ok_or_else(|| format!("no verb is called {name:?}: see snarvel verbs"))?;
    let quoted = argument.strip_prefix('"').filter(|rest| argument.len() > 1 && rest.ends_with('"'));
    Ok((verb, quoted.map_or(Ok(argument.to_owned()), unescaped)?))
}

fn mouse_action(token: &str) -> Option<Result<ScriptStep, String>> {
    let (name, rest) = token.split_once('(')?;
    let inside = rest.strip_suffix(')')?;
    let two = |inside: &str| -> Result<Vec<Value>, String> {
        let parts: Vec<&str> = inside.split(',').collect();
        let [l1, c1, l2, c2] = parts[..] else { return Err("four numbers: line, column, line, column".to_owned()) };
        Ok(vec![place(&format!("{l1},{c1}"), ',')?, place(&format!("{l2},{c2}"), ',')?])
    };
    match name {
        "click" => Some(place(inside, ',').map(|at| point("caret-at", vec![at]))),
        "alt+click" => Some(place(inside, ',').map(|at| point("cursor-at", vec![at]))),
        "alt+drag" => Some(two(inside).map(|places| point("column-between", places))),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn tokens_are_read_whole() {
        let script = "d ; # 3 alt+d \"a b\\\"\\n\" paste\"x y\" 2*alt+d @3:7 @1:1-2:4 click(1,2) alt+drag(1,2,3,4) !type-text(\"a (b) c\") !type-text(a)) esc";
        let actions = parse(script).unwrap();
        assert_eq!(actions.len(), 20);
        assert!(
            matches!(&actions[17], ScriptStep::Run(command) if command.verb.name == "type-text" && command.values.text(0) == Some("a (b) c"))
        );
        assert!(matches!(&actions[18], ScriptStep::Run(command) if command.values.text(0) == Some("a)")));
    }

    #[test]
    fn wrong_tokens_are_named_with_their_place() {
        let rows = [
            ("d  quark", "quark", 4),
            ("!no-such-verb", "!no-such-verb", 1),
            ("é \"open", "\"open", 3),
            ("@1", "@1", 1),
            ("@0:1", "@0:1", 1),
            ("!undo(x)", "!undo(x)", 1),
            ("click(1)", "click(1)", 1),
            ("9999999999*d", "9999999999*d", 1),
        ];
        for (script, token, place) in rows {
            let wrong = parse(script).unwrap_err();
            assert_eq!((wrong.token.as_str(), wrong.place), (token, place), "{wrong}");
        }
    }

    #[test]
    fn a_value_that_a_verb_does_not_take_is_refused_when_it_is_run() {
        for script in ["!go-to-line(\"0\")", "!every-nth(x)", "!split-at(\"/(/\")"] {
            assert!(matches!(parse(script).unwrap()[..], [ScriptStep::Refuse(_)]), "{script}");
        }
    }

    #[test]
    fn a_star_alone_is_a_key_and_a_count_of_one_token() {
        assert_eq!(parse("*").unwrap().len(), 1);
        assert_eq!(parse("3*\"ab\"").unwrap().len(), 6);
    }
}
