//! One way of writing recipes: four spaces a block, one space between words, one blank line at most, none at either end.

use super::headers::first_word;
use super::lines::is_silent;

/// One level of indentation.
const UNIT: &str = "    ";

/// `source`, a recipe without mistakes, in the one way. Its line ends stay those of its first line; arguments, texts and patterns stay
/// as they are. A note is as far in as the step below it.
#[must_use]
pub fn format(source: &str) -> String {
    let source = source.strip_prefix('\u{FEFF}').unwrap_or(source);
    let end = if source.split('\n').next().is_some_and(|first| first.ends_with('\r')) { "\r\n" } else { "\n" };
    let lines: Vec<&str> = source.split('\n').map(|line| line.strip_suffix('\r').unwrap_or(line)).collect();
    let levels = levels_of(&lines);
    let (mut out, mut is_after_blank) = (String::new(), true);
    for (line, level) in lines.iter().zip(levels) {
        let content = line.trim_start_matches([' ', '\t']);
        if content.trim().is_empty() {
            is_after_blank = true;
            continue;
        }
        if is_after_blank && !out.is_empty() {
            out.push_str(end);
        }
        is_after_blank = false;
        out.push_str(&UNIT.repeat(level));
        out.push_str(&spaced(content));
        out.push_str(end);
    }
    out
}

/// How many blocks each line is in. A note is in those of the next line that says something, or of none.
fn levels_of(lines: &[&str]) -> Vec<usize> {
    let mut levels = vec![0; lines.len()];
    let mut open: Vec<usize> = vec![0];
    let mut silent = Vec::new();
    for (index, line) in lines.iter().enumerate() {
        let content = line.trim_start_matches([' ', '\t']);
        if is_silent(content) {
            silent.push(index);
            continue;
        }
        let depth = line.len() - content.len();
        while open.len() > 1 && open.last().is_some_and(|last| depth < *last) {
            open.pop();
        }
        if open.last().is_some_and(|last| depth > *last) {
            open.push(depth);
        }
        for note in silent.drain(..).chain([index]) {
            levels[note] = open.len() - 1;
        }
    }
    levels
}

/// The words of a line a space apart; what is taken as it is written stays.
fn spaced(content: &str) -> String {
    if content.starts_with("//") {
        return content.trim_end().to_owned();
    }
    let mut words = Vec::new();
    let mut rest = content;
    // The words before what is taken as it is written.
    loop {
        let (word, after) = first_word(rest);
        let is_next_word = match (words.as_slice(), word) {
            ([] | ["in"] | ["repeat", ..], _) | (["each"], "line" | "match" | "block" | "cursor") => true,
            ([first], _) => first.bytes().all(|byte| byte.is_ascii_digit()),
            _ => false,
        };
        if !is_next_word || word.is_empty() {
            break;
        }
        words.push(word);
        rest = after;
    }
    let is_language = words == ["in", "language"];
    let is_pattern = matches!(words.first(), Some(&("each" | "if" | "unless" | "type" | "keep" | "use")));
    let rest =
        if is_language { rest.split(',').map(str::trim).collect::<Vec<_>>().join(", ") } else { rest.to_owned() };
    let rest = if is_pattern { rest.trim_end().to_owned() } else { rest };
    if rest.is_empty() { words.join(" ").trim_end().to_owned() } else { format!("{} {rest}", words.join(" ")) }
}
