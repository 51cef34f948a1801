//! Spreading a list over lines, one element a line, and putting it back on one line.
//!
//! The opening bracket stays where it is, the closing one goes to the indentation of the line that opens the list. The last element
//! gets a comma where the language allows one and the file's own lists over lines have one. Cost: the list, and the file's brackets
//! up to a limit.

use crate::changes::{Bias, ChangeBuilder};
use crate::languages::TrailingCommas;
use crate::languages::scanner::Kind;
use crate::units::{Byte, Line, Span};
use crate::verbs::lines::code::code_of;
use crate::verbs::lines::lists::{List, Parting, find_list};
use crate::verbs::scene::{Outcome, Scene, counted};

/// The list at each cursor goes over several lines, or back on one.
pub fn spread(scene: &Scene) -> Outcome {
    let mut lists: Vec<List> = Vec::new();
    for each in scene.cursors.iter() {
        let Some(list) = list_at(scene, each.span()) else { continue };
        if lists.last().is_none_or(|last| inside(last).end <= inside(&list).start) {
            lists.push(list);
        }
    }
    if lists.is_empty() {
        return Outcome::nothing("no list here: no brackets with elements, and no attributes");
    }
    let mut edits: Vec<(Span, String)> = Vec::new();
    let mut is_joined = false;
    for list in &lists {
        is_joined = is_spread(scene, list);
        let made = if is_joined { joined(scene, list) } else { spread_out(scene, list) };
        match made {
            Ok(made) => edits.extend(made),
            Err(why) => return Outcome::nothing(why),
        }
    }
    let mut builder = ChangeBuilder::new(scene.text);
    edits.iter().for_each(|(span, with)| builder.replace(*span, with));
    let change = builder.finish();
    if change.is_empty() {
        return Outcome::already("the list is as it should be");
    }
    let cursors = scene.remap(&change, |_| [Bias::After; 2]);
    let items: usize = lists.iter().map(|list| list.items.len()).sum();
    let how = if is_joined { "put on one line" } else { "spread over lines" };
    Outcome::edit(change, cursors).saying(format!("{how}: {}", counted(items, "element")))
}

/// What is between the brackets of a list that has them.
fn inside(list: &List) -> Span {
    let first = list.items[0].span.start;
    list.brackets.map_or(Span::at(first), |[open, close]| Span::new(open.end, close.start))
}

/// The list in brackets that is meant at `span`: that of the call whose name is there, else the innermost around it, else the first
/// that begins on its line.
fn list_at(scene: &Scene, span: Span) -> Option<List> {
    let text = scene.text;
    let bracketed = |list: List| list.brackets.is_some().then_some(list);
    let word_end = text.word_at(span.start, scene.words()).filter(|word| word.end >= span.end).map(|word| word.end);
    let called = word_end.filter(|end| text.char_at(*end).is_some_and(|c| "([{".contains(c)));
    let of_call = called
        .and_then(|end| find_list(scene, Span::at(end + 1), bracketed).filter(|list| inside(list).start == end + 1));
    let line = text.line_of(span.start);
    of_call.or_else(|| find_list(scene, span, bracketed)).or_else(|| {
        let content = text.content_span(line);
        let code = code_of(scene, line);
        let opens = code.char_indices().filter(|(_, c)| "([{".contains(*c)).map(|(at, _)| content.start + at + 1);
        let mut starts = opens.filter(|start| *start > span.start);
        starts.find_map(|start| find_list(scene, Span::at(start), bracketed).filter(|list| inside(list).start == start))
    })
}

/// Whether each element begins a line.
fn is_spread(scene: &Scene, list: &List) -> bool {
    let begins_line = |at: Byte| scene.text.indentation_span(scene.text.line_of(at)).end == at;
    list.items.iter().all(|item| begins_line(item.span.start))
}

/// White space on both sides of `span`, line ends included.
fn with_blanks(scene: &Scene, span: Span) -> Span {
    let text = scene.text;
    let (mut start, mut end) = (span.start, span.end);
    while text.char_before(start).is_some_and(char::is_whitespace) {
        start = text.previous_boundary(start);
    }
    while text.char_at(end).is_some_and(char::is_whitespace) {
        end = text.next_boundary(end);
    }
    Span::new(start, end)
}

fn spread_out(scene: &Scene, list: &List) -> Result<Vec<(Span, String)>, String> {
    let (text, settings) = (scene.text, scene.settings);
    let [open, close] = list.brackets.ok_or("this list has no brackets")?;
    let end = settings.line_end.as_str();
    let outer = text.slice(text.indentation_span(text.line_of(open.start))).into_owned();
    let inner = format!("{outer}{}", settings.unit.text());
    let mut edits = vec![(with_blanks(scene, Span::at(open.end)), format!("{end}{inner}"))];
    let last = list.items.len() - 1;
    for (index, item) in list.items.iter().enumerate() {
        edits.extend(shifted(scene, item.span, &inner));
        let behind = item.separator.map_or(item.span.end, |separator| separator.end);
        if index < last {
            edits.push((with_blanks(scene, Span::at(behind)), format!("{end}{inner}")));
            continue;
        }
        let wants_comma = list.parting == Parting::Comma && wants_final_comma(scene, list);
        let comma = if wants_comma && item.separator.is_none() { "," } else { "" };
        let gap = Span::new(with_blanks(scene, Span::at(behind)).start, close.start);
        if !text.slice(gap).trim().is_empty() {
            return Err("a comment before the closing bracket stops it".to_owned());
        }
        edits.push((gap, format!("{comma}{end}{outer}")));
    }
    Ok(edits)
}

/// The lines inside of an element go as far in as its first line does.
fn shifted(scene: &Scene, item: Span, inner: &str) -> Vec<(Span, String)> {
    let (text, settings) = (scene.text, scene.settings);
    let (first, last) = (text.line_of(item.start), text.line_of(item.end));
    let own = text.depth_of(first, settings.tabs);
    let target = crate::text::cells::width(inner, settings.tabs);
    let mut edits = Vec::new();
    for line in (first.0 + 1..=last.0).map(Line).filter(|line| !text.is_blank(*line)) {
        if scene.syntax.kind_before_line(line) == Kind::String {
            continue;
        }
        let depth = i64::from(text.depth_of(line, settings.tabs).0) + i64::from(target.0) - i64::from(own.0);
        let white = settings.unit.fill(crate::units::Cell(depth.max(0) as u32), settings.tabs);
        edits.push((text.indentation_span(line), white));
    }
    edits
}

fn joined(scene: &Scene, list: &List) -> Result<Vec<(Span, String)>, String> {
    let text = scene.text;
    let [open, close] = list.brackets.ok_or("this list has no brackets")?;
    let whole = Span::new(open.start, close.end);
    let (first, last) = (text.line_of(whole.start), text.line_of(whole.end));
    let language = scene.language_at(open.start);
    let mut edits: Vec<(Span, String)> = Vec::new();
    for line in (first.0..last.0).map(Line) {
        let content = text.content_span(line);
        let comment = scene.syntax.pieces(line).into_iter().find(|piece| {
            let ends_line = piece.span.end >= content.end && piece.span.start >= open.start;
            piece.token.kind == Kind::Comment
                && ends_line
                && language.line.iter().any(|mark| text.has_at(piece.span.start, mark))
        });
        if comment.is_some() {
            return Err(format!("the comment on line {} would swallow what follows it", line.0 + 1));
        }
        if scene.syntax.kind_before_line(line.next()) == Kind::String {
            continue;
        }
        let gap = with_blanks(scene, Span::at(content.end));
        let (before, after) = (text.char_before(gap.start), text.char_at(gap.end));
        if edits.last().is_some_and(|(last, _)| *last == gap) {
            continue;
        }
        edits.push(
            joint(scene, gap, [before, after], list)
                .ok_or_else(|| format!("the statements that line {} is a part of need their line ends", line.0 + 1))?,
        );
    }
    Ok(edits)
}

/// What comes in the place of white space with a line end: with the comma before it where a bracket closes after it.
fn joint(scene: &Scene, gap: Span, [before, after]: [Option<char>; 2], list: &List) -> Option<(Span, String)> {
    let (before, after) = (before?, after?);
    let language = scene.language_at(gap.start);
    // The braces of a list of names after a path are tight wherever it is written so.
    let is_path = list.brackets.is_some_and(|[open, _]| open.start.0 >= 2 && scene.text.has_at(open.start - 2, "::"));
    let padding = if language.padded_braces && !is_path { " " } else { "" };
    if list.parting == Parting::Blank {
        let is_end = list.brackets.is_some_and(|[_, close]| close.start == gap.end);
        return Some((gap, if is_end && after == '>' { String::new() } else { " ".to_owned() }));
    }
    if ")]}".contains(after) {
        let comma = usize::from(before == ',');
        let kept = Span::new(gap.start - comma, gap.end);
        return Some((kept, if after == '}' { padding.to_owned() } else { String::new() }));
    }
    if "([{".contains(before) {
        return Some((gap, if before == '{' { padding.to_owned() } else { String::new() }));
    }
    // Between two statements in braces a line end is what parts them.
    let is_in_block = depth_of_braces(scene, list, gap.start) > 0
        && !",;:=+-*/&|?.<>".contains(before)
        && !".?:&|+=,;".contains(after);
    if is_in_block {
        return None;
    }
    let is_tight = after == '.' || (after == '?' && scene.text.char_at(gap.end + 1) == Some('.'));
    Some((gap, if is_tight { String::new() } else { " ".to_owned() }))
}

/// How many braces inside of `list` are open at `at`.
fn depth_of_braces(scene: &Scene, list: &List, at: Byte) -> i32 {
    let text = scene.text;
    let start = inside(list).start;
    let mut depth = 0;
    for line in (text.line_of(start).0..=text.line_of(at).0).map(Line) {
        let content = text.content_span(line);
        for (offset, c) in code_of(scene, line).char_indices() {
            let place = content.start + offset;
            if start <= place && place < at {
                depth += i32::from(c == '{') - i32::from(c == '}');
            }
        }
    }
    depth
}

/// Lines of a file that are looked through for what its lists end with.
const LINES_READ: usize = 2_000;

/// Whether the last element of `list` gets a comma once it is on a line of its own.
fn wants_final_comma(scene: &Scene, list: &List) -> bool {
    let text = scene.text;
    let language = scene.language_at(list.items[0].span.start);
    let open = list.brackets.and_then(|[open, _]| text.char_at(open.start));
    let last = text.slice(list.items[list.items.len() - 1].span);
    let allows = match language.trailing_commas {
        TrailingCommas::Required => return true,
        TrailingCommas::Everywhere => true,
        TrailingCommas::Brackets => matches!(open, Some('[' | '{')),
        TrailingCommas::Braces => open == Some('{'),
        TrailingCommas::Never => false,
    };
    // What takes the rest is last for good; a single element with a comma may be another thing: a tuple.
    if !allows || last.starts_with("..") || (list.items.len() == 1 && language.offside) {
        return false;
    }
    let mut counts = [0usize; 2];
    let mut before: Option<char> = None;
    for line in (0..text.line_count().min(LINES_READ)).map(Line).filter(|line| !text.is_blank(*line)) {
        let code = code_of(scene, line);
        let code = code.trim();
        if code.starts_with([')', ']', '}']) {
            match before {
                Some(',') => counts[1] += 1,
                Some(c) if !"([{;}".contains(c) && (language.offside || !code.starts_with('}')) => counts[0] += 1,
                _ => {}
            }
        }
        before = code.chars().next_back().or(before);
    }
    match counts {
        [0, 0] => language.trailing_commas == TrailingCommas::Everywhere,
        [without, with] => with >= without,
    }
}
