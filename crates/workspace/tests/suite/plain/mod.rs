//! The model: what verbs do to a text, by the slow and obvious way on plain strings.

use crate::support::editor::Editor;
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::text::indent::IndentUnit;
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_workspace::registry::by_name;
use std::cmp::Ordering;

/// A line of the model: content and line end.
type Row = (String, String);

fn rows(text: &str) -> Vec<Row> {
    let mut rows: Vec<Row> = Vec::new();
    for line in text.split_inclusive('\n') {
        let content = line.strip_suffix('\n').map_or(line, |rest| rest.strip_suffix('\r').unwrap_or(rest));
        rows.push((content.to_owned(), line[content.len()..].to_owned()));
    }
    if rows.is_empty() {
        rows.push(Row::default());
    }
    rows
}

fn unrows(rows: &[Row]) -> String {
    rows.iter().flat_map(|(content, end)| [content.as_str(), end.as_str()]).collect()
}

/// Which rows are touched: by walking every one of them.
fn touched(rows: &[Row], cursors: &CursorSet) -> Vec<bool> {
    let mut start = 0;
    let mut found = Vec::new();
    for (index, (content, end)) in rows.iter().enumerate() {
        let behind = start + content.len() + end.len();
        let is_last = index + 1 == rows.len() && end.is_empty();
        let holds = |at: usize| start <= at && (at < behind || (is_last && at == behind));
        found.push(cursors.iter().any(|each| {
            let (from, to) = (each.start().0, each.end().0);
            if from == to { holds(from) } else { holds(from) || (from < behind && to > start) }
        }));
        start = behind;
    }
    found
}

fn runs(touched: &[bool]) -> Vec<(usize, usize)> {
    let mut runs: Vec<(usize, usize)> = Vec::new();
    for (index, _) in touched.iter().enumerate().filter(|(_, touched)| **touched) {
        match runs.last_mut() {
            Some((_, last)) if *last + 1 == index => *last = index,
            _ => runs.push((index, index)),
        }
    }
    runs
}

fn with_contents(rows: &[Row], contents: &[String]) -> String {
    let ends = rows.iter().map(|(_, end)| end.clone());
    unrows(&contents.iter().cloned().zip(ends).collect::<Vec<_>>())
}

#[derive(Clone, Copy, PartialEq, Eq)]
enum Copies {
    Above,
    Below,
}

fn duplicated(rows: &[Row], runs: &[(usize, usize)], end: &str, copies: Copies) -> String {
    let mut out: Vec<Row> = Vec::new();
    let mut next = 0;
    for &(first, last) in runs {
        out.extend_from_slice(&rows[next..first]);
        let own = &rows[first..=last];
        let copy: Vec<Row> = own.iter().map(|(content, _)| (content.clone(), end.to_owned())).collect();
        let (upper, lower) = if copies == Copies::Above { (&copy[..], own) } else { (own, &copy[..]) };
        out.extend_from_slice(upper);
        let joint = out.len() - 1;
        out.extend_from_slice(lower);
        if copies == Copies::Below && out[joint].1.is_empty() {
            end.clone_into(&mut out[joint].1);
            let count = out.len();
            out[count - 1].1.clear();
        }
        next = last + 1;
    }
    out.extend_from_slice(&rows[next..]);
    unrows(&out)
}

/// The rows with those not `kept` left out. An unterminated last row leaves an unterminated last row.
fn without(rows: &[Row], kept: impl Fn(usize) -> bool) -> String {
    let mut left: Vec<Row> = (0..rows.len()).filter(|&row| kept(row)).map(|row| rows[row].clone()).collect();
    let last = rows.len() - 1;
    if !kept(last)
        && rows[last].1.is_empty()
        && let Some(new_last) = left.last_mut()
    {
        new_last.1.clear();
    }
    unrows(&left)
}

/// The text with each selection replaced by what `by` makes of its number and text.
fn replaced(text: &str, cursors: &CursorSet, by: impl Fn(usize, &str) -> String) -> String {
    let mut out = text.to_owned();
    for (index, each) in cursors.iter().enumerate().rev() {
        let range = each.start().0..each.end().0;
        out.replace_range(range.clone(), &by(index, &text[range]));
    }
    out
}

/// An empty line beside each run; the empty line after a final line end is a line here.
fn blanked(text: &str, cursors: &CursorSet, end: &str, copies: Copies) -> String {
    let mut rows = rows(text);
    if text.ends_with('\n') {
        rows.push(Row::default());
    }
    let runs = runs(&touched(&rows, cursors));
    for (first, last) in runs.into_iter().rev() {
        if copies == Copies::Above {
            rows.insert(first, (String::new(), end.to_owned()));
        } else if rows[last].1.is_empty() {
            end.clone_into(&mut rows[last].1);
            rows.insert(last + 1, Row::default());
        } else {
            rows.insert(last + 1, (String::new(), end.to_owned()));
        }
    }
    unrows(&rows)
}

/// Letters and numbers of a line: a run of digits counts by its value.
#[derive(PartialEq, Eq, PartialOrd, Ord)]
enum Token {
    Character(char),
    Number(char, usize, String),
}

fn tokens(text: &str) -> Vec<Token> {
    let mut found: Vec<Token> = Vec::new();
    let mut digits = String::new();
    let flush = |digits: &mut String, found: &mut Vec<Token>| {
        if !digits.is_empty() {
            let value = digits.trim_start_matches('0').to_owned();
            // Against a letter a number counts by its first digit.
            found.push(Token::Number(digits.chars().next().unwrap(), value.len(), value));
            digits.clear();
        }
    };
    for c in text.chars() {
        if c.is_ascii_digit() {
            digits.push(c);
        } else {
            flush(&mut digits, &mut found);
            found.push(Token::Character(c));
        }
    }
    flush(&mut digits, &mut found);
    found
}

fn natural(one: &str, other: &str) -> Ordering {
    let (left, right) = (tokens(&one.to_lowercase()), tokens(&other.to_lowercase()));
    for (one, other) in left.iter().zip(&right) {
        let order = match (one, other) {
            (Token::Number(_, len, value), Token::Number(_, other_len, other_value)) => {
                len.cmp(other_len).then_with(|| value.cmp(other_value))
            }
            (Token::Character(one), Token::Character(other)) => one.cmp(other),
            (Token::Number(first, ..), Token::Character(other)) => first.cmp(other),
            (Token::Character(one), Token::Number(first, ..)) => one.cmp(first),
        };
        if order != Ordering::Equal {
            return order;
        }
    }
    let upper = |text: &str| text.chars().filter(|c| c.is_alphabetic()).map(char::is_uppercase).collect::<Vec<_>>();
    // Lower case before upper case, then fewer zeros.
    (left.len(), upper(one), one.len()).cmp(&(right.len(), upper(other), other.len()))
}

/// What the model makes of a verb with a count that is a number of lines, or 1; none where it does not know it.
pub fn model((verb, count): (&str, usize), argument: &str, editor: &Editor, clip: &Clip) -> Option<String> {
    if is_still(verb) {
        return Some(editor.text().to_string());
    }
    of_lines((verb, count), editor).or_else(|| of_texts((verb, count), argument, editor, clip))
}

/// Whether `each` selects whole lines only.
fn is_whole_lines(text: &str, each: Selection) -> bool {
    let begins = |at: usize| at == 0 || text.as_bytes()[at - 1] == b'\n';
    let (start, end) = (each.start().0, each.end().0);
    start < end && begins(start) && (begins(end) || end == text.len())
}

/// What pasting a clip of lines gives where nothing has a depth of its own: above the line of a caret, or in the place of lines.
fn pasted_lines(text: &str, cursors: &CursorSet, clip: &Clip, end: &str) -> Option<String> {
    let is_flat = |line: &str| !line.starts_with([' ', '\t', ')', ']', '}']) && !line.trim().is_empty();
    let pieces: Vec<String> = clip.pieces.iter().map(|piece| piece.text.replace("\r\n", "\n")).collect();
    let [only] = cursors.list() else { return None };
    let at = only.start().0;
    let start = text[..at].rfind('\n').map_or(0, |at| at + 1);
    let line = text[start..].split('\n').next().unwrap_or("").trim_end_matches('\r');
    if !pieces.iter().flat_map(|piece| piece.split('\n')).chain([line]).all(is_flat) {
        return None;
    }
    let lines = pieces.join("\n").replace('\n', end);
    if only.is_caret() {
        return Some(format!("{}{lines}{end}{}", &text[..start], &text[start..]));
    }
    let old = &text[at..only.end().0];
    let old_end = if old.ends_with("\r\n") {
        "\r\n"
    } else if old.ends_with('\n') {
        "\n"
    } else {
        ""
    };
    is_whole_lines(text, *only).then(|| format!("{}{lines}{old_end}{}", &text[..at], &text[only.end().0..]))
}

fn of_lines((verb, count): (&str, usize), editor: &Editor) -> Option<String> {
    let text = editor.text().to_string();
    let rows = rows(&text);
    let mut touched = touched(&rows, editor.cursors());
    for (first, _) in runs(&touched) {
        touched.iter_mut().skip(first).take(count).for_each(|row| *row = true);
    }
    let runs = runs(&touched);
    let mut contents: Vec<String> = rows.iter().map(|(content, _)| content.clone()).collect();
    let end = editor.settings().line_end.as_str();
    let full = |content: &str| !content.trim_start().is_empty();
    match verb {
        // What a statement goes on with is told by depth and brackets: the model knows neither.
        // Where indentation tells the block, lines take that of their new place.
        "carry-up" | "carry-down" if editor.language().offside => return None,
        "carry-up" => {
            for (first, last) in runs.into_iter().filter(|(first, _)| *first > 0) {
                contents[first - 1..=last].rotate_left(1);
            }
        }
        "carry-down" => {
            for (first, last) in runs.into_iter().filter(|(_, last)| *last + 1 < rows.len()) {
                contents[first..=last + 1].rotate_right(1);
            }
        }
        // What stays together in brackets the scanner tells: the model knows none.
        "sort-lines" | "reverse-lines" | "unique-lines" if editor.text().to_string().contains(['(', '[', '{']) => {
            return None;
        }
        "reverse-lines" => runs.iter().for_each(|(first, last)| contents[*first..=*last].reverse()),
        "indent" => {
            let unit = editor.settings().unit.text();
            for (content, _) in
                contents.iter_mut().zip(&touched).filter(|(content, touched)| **touched && full(content))
            {
                content.insert_str(0, &unit);
            }
        }
        "outdent" => {
            let IndentUnit::Spaces(unit) = editor.settings().unit else { return None };
            for (content, _) in
                contents.iter_mut().zip(&touched).filter(|(content, touched)| **touched && full(content))
            {
                let spaces = content.len() - content.trim_start_matches(' ').len();
                if content[spaces..].starts_with(char::is_whitespace) {
                    return None;
                }
                content.replace_range(..spaces.min(unit as usize), "");
            }
        }
        // Which of them are in strings the scanner tells: the model knows none.
        "trim-trailing" if editor.text().to_string().contains(['"', '\'', '`']) => return None,
        "trim-trailing" => {
            let is_all = editor.cursors().len() == 1 && editor.cursors().primary().is_caret();
            for (content, _) in contents.iter_mut().zip(&touched).filter(|(_, touched)| **touched || is_all) {
                content.truncate(content.trim_end().len());
            }
        }
        "sort-lines" => runs.iter().for_each(|(first, last)| {
            contents[*first..=*last].sort_by(|one, other| natural(one, other));
        }),
        "delete-lines" | "cut-lines" => return Some(without(&rows, |row| !touched[row])),
        "unique-lines" => {
            let run_of = |row: usize| runs.iter().find(|(first, last)| (*first..=*last).contains(&row));
            let is_first =
                |row: usize| run_of(row).is_none_or(|(first, _)| !contents[*first..row].contains(&contents[row]));
            return Some(without(&rows, is_first));
        }
        "duplicate-up" => return Some(duplicated(&rows, &runs, end, Copies::Above)),
        "duplicate-down" => return Some(duplicated(&rows, &runs, end, Copies::Below)),
        "blank-above" => return Some(blanked(&text, editor.cursors(), end, Copies::Above)),
        "blank-below" => return Some(blanked(&text, editor.cursors(), end, Copies::Below)),
        _ => return None,
    }
    Some(with_contents(&rows, &contents))
}

fn of_texts((verb, lines): (&str, usize), argument: &str, editor: &Editor, clip: &Clip) -> Option<String> {
    let (text, cursors) = (editor.text().to_string(), editor.cursors());
    let texts: Vec<&str> = cursors.iter().map(|each| &text[each.start().0..each.end().0]).collect();
    let has_caret = texts.iter().any(|text| text.is_empty());
    let only_carets = texts.iter().all(|text| text.is_empty());
    let count = texts.len();
    match verb {
        "type-text" => Some(replaced(&text, cursors, |_, _| argument.to_owned())),
        "delete-selected" => Some(replaced(&text, cursors, |_, _| String::new())),
        "cut" if only_carets => of_lines(("delete-lines", lines), editor),
        "cut" if cursors.iter().all(|each| is_whole_lines(&text, each)) => of_lines(("delete-lines", 1), editor),
        "cut" => Some(replaced(&text, cursors, |_, _| String::new())),
        "delete-back" | "delete-forward" if !has_caret => Some(replaced(&text, cursors, |_, _| String::new())),
        "duplicate-text-before" | "duplicate-text-after" if !has_caret => {
            Some(replaced(&text, cursors, |_, own| own.repeat(2)))
        }
        "upper-case" if !has_caret => Some(replaced(&text, cursors, |_, own| own.to_uppercase())),
        "lower-case" if !has_caret => Some(replaced(&text, cursors, |_, own| own.to_lowercase())),
        "rotate-forward" if count > 1 => {
            Some(replaced(&text, cursors, |index, _| texts[(index + count - 1) % count].to_owned()))
        }
        "rotate-back" if count > 1 => Some(replaced(&text, cursors, |index, _| texts[(index + 1) % count].to_owned())),
        // The argument "x" begins x, y, z, aa.
        "number" => Some(replaced(&text, cursors, |index, _| {
            let letter = |index: usize| char::from(b'a' + index as u8).to_string();
            if index < 3 {
                letter(23 + index)
            } else {
                format!("{}{}", letter((index - 3) / 26), letter((index - 3) % 26))
            }
        })),
        "paste" if !clip.is_empty() && !clip.lines && clip.pieces.iter().all(|piece| !piece.text.contains('\n')) => {
            let all: Vec<&str> = clip.pieces.iter().map(|piece| piece.text.as_str()).collect();
            let whole = all.join(editor.settings().line_end.as_str());
            let is_each = all.len() == count && count > 1;
            Some(replaced(&text, cursors, |index, _| if is_each { all[index].to_owned() } else { whole.clone() }))
        }
        // A carriage return alone is white space to indent with: the model knows spaces and tabs.
        "paste" if clip.lines && clip.pieces.iter().any(|piece| piece.text.contains('\r')) => None,
        "paste" if clip.lines && !clip.is_empty() => {
            pasted_lines(&text, cursors, clip, editor.settings().line_end.as_str())
        }
        _ => None,
    }
}

/// Verbs that never change the text.
fn is_still(verb: &str) -> bool {
    let edits = ["rotate-forward", "rotate-back", "align", "number"];
    !edits.contains(&verb)
        && by_name(verb).is_some_and(|verb| matches!(verb.group.name(), "moves" | "selects" | "cursors"))
        || verb == "copy"
}
