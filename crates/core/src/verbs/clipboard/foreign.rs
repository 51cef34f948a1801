//! The depths of a text that comes from another program. What was copied from the first letter on has lost the indentation of its
//! first line, and its tabs are steps of another file.

use crate::languages::Language;
use crate::languages::lexical::{Lexical, Syntax};
use crate::languages::scanner::Kind;
use crate::structure::Known;
use crate::text::Text;
use crate::text::cells::width;
use crate::text::indent::{IndentUnit, leading, spaces_of_blocks, unit_of};
use crate::text::reader::Reader;
use crate::units::{Cell, Line};
use crate::verbs::clipboard::clip::{Clip, Piece};
use crate::verbs::lines::code::code_in;
use crate::verbs::lines::indent::{depth_after, opens_block};
use crate::verbs::lines::steps::converted;
use crate::verbs::scene::Scene;
use std::sync::Arc;

/// Words that go on with, or end, what began at the depth of their own line.
const SECOND_PARTS: &[&str] = &[
    "else", "elif", "elsif", "elseif", "except", "finally", "catch", "rescue", "ensure", "end", "fi", "done", "esac",
    "until",
];

/// Lines that end what began at the depth of the line above their block.
const ENDS: &[&str] = &["}", "end", "fi", "done", "esac"];

/// Words of headers that a statement may follow.
const HEADERS: &[&str] = &["if", "else", "for", "foreach", "while", "do", "case", "default", "when"];

/// `clip` as if it had been copied in a file with the steps of this one, from the first column on.
#[must_use]
pub fn settled(scene: &Scene, clip: &Clip) -> Clip {
    let language = scene.language_at(scene.cursors.primary().start());
    if language.prose {
        return clip.clone();
    }
    let pieces = clip.pieces.iter().map(|piece| match piece.depth {
        Some(_) => piece.clone(),
        None => settled_piece(scene, &language, piece),
    });
    Clip { pieces: pieces.collect(), ..clip.clone() }
}

fn settled_piece(scene: &Scene, language: &Arc<Language>, piece: &Piece) -> Piece {
    let mut lines: Vec<String> = piece.text.split('\n').map(str::to_owned).collect();
    let is_tabbed = lines.iter().any(|line| line.starts_with('\t'));
    let own = if is_tabbed { IndentUnit::Tab } else { IndentUnit::Spaces(1) };
    if let Some(depth) = lost_depth(scene, language, &code_of_lines(language, &piece.text), own) {
        lines[0].insert_str(0, &own.fill(depth, scene.settings.tabs));
    }
    Piece { text: in_steps_of_file(scene, language, lines.join("\n"), own), depth: None }
}

/// `text` with steps of the file where its own are known and others. `own` says whether those are tabs.
fn in_steps_of_file(scene: &Scene, language: &Arc<Language>, text: String, own: IndentUnit) -> String {
    let (tabs, unit) = (scene.settings.tabs, scene.settings.unit);
    let pasted = Text::from(text.as_str());
    let from = match (own, unit) {
        (IndentUnit::Tab, IndentUnit::Tab) => None,
        (IndentUnit::Tab, IndentUnit::Spaces(_)) => Some(own),
        (IndentUnit::Spaces(_), IndentUnit::Tab) => unit_of(&pasted, tabs).or(Some(IndentUnit::Spaces(USUAL_SPACES))),
        // Keys that are set under the first one of an item are no step.
        _ if is_keyed(language) => None,
        (IndentUnit::Spaces(_), IndentUnit::Spaces(_)) => spaces_of_blocks(&pasted, tabs).map(IndentUnit::Spaces),
    };
    match from.filter(|from| *from != unit) {
        Some(from) => {
            let (change, _) = converted(&pasted, language, tabs, [from, unit]);
            pasted.applied(&change).to_string()
        }
        None => text,
    }
}

/// Whether a text is keys and items whose depths say what they belong to.
fn is_keyed(language: &Language) -> bool {
    language.block_scalars
}

/// The code of the lines of `text`, with quotes in place of what is in strings; nothing of lines that begin inside of one.
fn code_of_lines(language: &Arc<Language>, text: &str) -> Vec<String> {
    let (text, lexical) = (Text::from(text), Lexical::new(language));
    let syntax = lexical.of(&text);
    let is_inside = |line: Line| syntax.kind_before_line(line) == Kind::String;
    let code = |line| if is_inside(line) { String::new() } else { code_in((&text, &syntax), line) };
    (0..text.line_count()).map(Line).map(code).collect()
}

/// How deep the first of `lines` was, where the others show that it has lost its white space. `own` says whether they use tabs.
fn lost_depth(scene: &Scene, language: &Language, lines: &[String], own: IndentUnit) -> Option<Cell> {
    let tabs = scene.settings.tabs;
    let (first, later) = lines.split_first()?;
    let directive = language.structure.as_ref().map_or("", |structure| structure.directive.as_str());
    if first.trim().is_empty() || !leading(first)?.is_empty() || is_directive(first, directive) {
        return None;
    }
    let later = later.iter().filter(|line| !is_directive(line, directive));
    let later: Vec<(Cell, &str)> =
        later.filter_map(|line| leading(line).map(|white| (width(white, tabs), line.trim()))).collect();
    let smallest = later.iter().map(|(depth, _)| *depth).min().filter(|depth| *depth > Cell(0))?;
    let unit = if own == IndentUnit::Tab { own } else { scene.settings.unit }.cells(tabs);
    let (next_depth, next) = *later.first()?;
    let is_own_depth = |depth: &u32| depth.is_multiple_of(unit) && *depth <= smallest.0;
    let goes_on_flat = is_unfinished(first.trim(), next) && !first.trim_end().ends_with(['(', '[', '{']);
    let is_whole = open_brackets(first) == 0;
    let of_value = column_after_sign(first).filter(|_| goes_on_flat && is_whole && own != IndentUnit::Tab);
    let of_branch = of_value.filter(|_| next.starts_with('?')).map(|column| column + STEP_OF_BRANCH);
    let columns = [column_in_brackets(first), of_branch, of_value];
    let told = item_depth(language, first.trim(), (next_depth, next), unit).or_else(|| depth_of_closer(first, &later));
    if told.is_some() {
        return told;
    }
    let set_under =
        columns.into_iter().flatten().filter_map(|column| next_depth.0.checked_sub(column)).find(is_own_depth);
    if set_under.is_some() {
        return set_under.map(Cell);
    }
    // Where a line does not end a statement by itself, what is deeper below it goes on with it.
    let is_offside = language.offside && !matches!(scene.structure, Known::NoGrammar);
    let is_ended = language.line_ends_statements
        || is_offside
        || first.trim_end().ends_with([';', '}'])
        || first.starts_with(['@', '#'])
        || language.line.iter().any(|mark| first.starts_with(mark.as_str()));
    let is_label = open_brackets(first) < 0 && first.trim_end().ends_with(')');
    let goes_on = !is_ended || is_label || opens_block(language, first.trim()) || is_unfinished(first.trim(), next);
    // What comes first at that depth tells whose it is.
    let own = || later.iter().filter(|(depth, _)| *depth == smallest).map(|(_, line)| *line);
    let is_beside = own().next().is_some_and(|line| is_second_part(line) || is_next_operand(first, line))
        || is_whole && own().next_back().is_some_and(|line| ENDS.contains(&line));
    if is_beside || next_depth > smallest || !goes_on {
        return Some(smallest);
    }
    let deeper = later.iter().map(|(depth, _)| *depth).filter(|depth| *depth > smallest).min();
    let step = match deeper {
        Some(deeper) if opens_block(language, first.trim()) && !opens_value(first) => deeper.0 - smallest.0,
        _ if is_label || is_header(first.trim()) => unit,
        _ => {
            let kind = match Continued::after(first.trim(), next) {
                None if !opens_block(language, first.trim()) => Some(Continued::Elsewhere),
                kind => kind,
            };
            let usual = if kind.is_some() { language.continuation_step.max(unit) } else { unit };
            kind.and_then(|kind| kind.step(scene)).unwrap_or(usual)
        }
    };
    Some(Cell(smallest.0.saturating_sub(step)))
}

fn is_directive(line: &str, mark: &str) -> bool {
    !mark.is_empty() && line.starts_with(mark) && !line.starts_with("#[")
}

/// The depth of the line that begins with the partner of the last bracket that `first` leaves open: it is as deep as that.
fn depth_of_closer(first: &str, later: &[(Cell, &str)]) -> Option<Cell> {
    let mut open = usize::try_from(open_brackets(first)).ok().filter(|open| *open > 0)?;
    let wanted = open - 1;
    for (depth, line) in later {
        for (at, c) in line.char_indices() {
            match c {
                '(' | '[' | '{' => open += 1,
                ')' | ']' | '}' => {
                    open = open.checked_sub(1)?;
                    if open == wanted {
                        // What is behind the sign of an alternative is set under its first letter.
                        let sign = if first.starts_with("| ") { 2 } else { 0 };
                        return (at == 0).then(|| Cell(depth.0.saturating_sub(sign)));
                    }
                }
                _ => {}
            }
        }
    }
    None
}

/// How deep an item of a list was that begins with a dash: its other lines are set under what is behind that.
fn item_depth(language: &Language, first: &str, (next_depth, next): (Cell, &str), unit: u32) -> Option<Cell> {
    let is_item = is_keyed(language) && first.starts_with("- ");
    let deeper = if first.ends_with([':', '|', '>']) && !next.starts_with("- ") { unit } else { 0 };
    (is_item && !next.starts_with("- ")).then(|| Cell(next_depth.0.saturating_sub(2 + deeper)))
}

/// Whether two lines begin with the same operator: both are operands of one expression.
fn is_next_operand(first: &str, next: &str) -> bool {
    let operator = |line: &str| line.chars().next().filter(|c| "|&+?:.<".contains(*c));
    operator(first.trim()).is_some() && operator(first.trim()) == operator(next)
}

/// How many brackets `line` opens more than it closes.
fn open_brackets(line: &str) -> i32 {
    line.chars().map(|c| i32::from("([{".contains(c)) - i32::from(")]}".contains(c))).sum()
}

/// Where a line goes on: formatters indent the next line by a step of its own for each of these.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Continued {
    /// After a round or square bracket at its end.
    AfterBracket,
    /// In the braces of a value.
    InValue,
    /// Anywhere else.
    Elsewhere,
}

impl Continued {
    /// None where `line` opens a block, or `next` does not go on with it.
    fn after(line: &str, next: &str) -> Option<Continued> {
        let word = line.split(|c: char| !c.is_alphanumeric()).next().unwrap_or_default();
        match line.chars().last() {
            Some('{') if opens_value(line) => Some(Continued::InValue),
            Some('{' | ':' | ';' | '}') | None => None,
            Some('(' | '[') => Some(Continued::AfterBracket),
            _ if HEADERS.contains(&word) || column_in_brackets(line).is_some() => None,
            _ => is_unfinished(line, next).then_some(Continued::Elsewhere),
        }
    }

    /// By how many cells lines of this file that go on are indented most often. Cost: the first `HABIT_LINES` lines.
    fn step(self, scene: &Scene) -> Option<u32> {
        let tabs = scene.settings.tabs;
        let mut counts = [0usize; 9];
        let mut reader = Reader::new(scene.text);
        let mut previous: Option<(Cell, String)> = None;
        for line in (0..scene.text.line_count().min(HABIT_LINES)).map(Line) {
            let content = reader.content(line);
            let Some(white) = leading(&content) else { continue };
            let (depth, code) = (width(white, tabs), content.trim());
            if code.starts_with(['*', '#', '/']) {
                continue;
            }
            if let Some((above, before)) = &previous
                && Continued::after(before, code) == Some(self)
                && let Some(count) = depth.0.checked_sub(above.0).and_then(|step| counts.get_mut(step as usize))
            {
                *count += 1;
            }
            previous = Some((depth, code.to_owned()));
        }
        let most = [8, 4, 3, 2].into_iter().max_by_key(|&step| counts[step])?;
        (counts[most] > 0).then_some(most as u32)
    }
}

/// Whether `line` ends with the opening brace of a value.
fn opens_value(line: &str) -> bool {
    let head = line.trim_end().strip_suffix('{').map(str::trim_end).unwrap_or_default();
    head.ends_with(['=', '(', ',', '{', '[']) || head.ends_with("return")
}

/// By how many cells more the branches of a condition are indented than what they are set under.
const STEP_OF_BRANCH: u32 = 4;

/// The step of a text that shows none.
const USUAL_SPACES: u32 = 4;

/// Lines that are read to find out how a file indents lines that go on.
const HABIT_LINES: usize = 5_000;

/// The column after the first sign or word that a value follows.
fn column_after_sign(line: &str) -> Option<u32> {
    let ends = [" = ", "return ", " += ", "<< "].iter().filter_map(|sign| line.find(sign).map(|at| at + sign.len()));
    ends.min().filter(|at| !line[*at..].trim().is_empty()).map(|at| line[..at].chars().count() as u32)
}

/// The column after the innermost bracket that `line` leaves open, where more follows: what goes on is set under that.
fn column_in_brackets(line: &str) -> Option<u32> {
    let mut open: Vec<usize> = Vec::new();
    for (at, c) in line.char_indices() {
        match c {
            '(' | '[' | '{' => open.push(at + 1),
            ')' | ']' | '}' => drop(open.pop()),
            _ => {}
        }
    }
    let after = open.pop()?;
    (!line[after..].trim().is_empty()).then(|| line[..after].chars().count() as u32)
}

fn is_second_part(line: &str) -> bool {
    let word = line.split(|c: char| !c.is_alphanumeric()).next().unwrap_or_default();
    line == "{" || line.starts_with([')', ']', '}']) || line.starts_with("</") || SECOND_PARTS.contains(&word)
}

/// Whether `next` goes on with the statement that `line` begins.
fn is_unfinished(line: &str, next: &str) -> bool {
    let operators = ["&&", "||", "=", ",", "+", "\\", "|", "?", ":", "=>", "->"];
    is_header(line)
        || open_brackets(line) > 0
        || operators.iter().any(|operator| line.ends_with(operator))
        || [".", "&&", "||", "+", "?", "|>", "->"].iter().any(|operator| next.starts_with(operator))
}

/// Whether `line` is a header whose body can be a single statement without braces.
fn is_header(line: &str) -> bool {
    let word = line.split(|c: char| !c.is_alphanumeric()).next().unwrap_or_default();
    HEADERS.contains(&word) && !line.ends_with([';', '}'])
}

/// How deep lines go that are put in at the empty line `line`, the first of them being `first`: as deep as the block that it is in.
#[must_use]
pub fn depth_in_block(scene: &Scene, line: Line, first: &str) -> Cell {
    let (text, tabs) = (scene.text, scene.settings.tabs);
    let language = scene.language_at(text.line_start(line));
    let directive = language.structure.as_ref().map_or("", |structure| structure.directive.as_str());
    if is_directive(first.trim_start(), directive) {
        return Cell(0);
    }
    let full = |line: &Line| !text.is_blank(*line);
    let above = (0..line.0).rev().map(Line).find(full);
    let below = (line.0 + 1..text.line_count()).map(Line).find(full);
    let (Some(above), Some(below)) = (above, below) else { return Cell(0) };
    let inner = width(&depth_after(scene, above), tabs);
    let content = text.content(below);
    match is_second_part(content.trim()) {
        true => inner.max(text.depth_of(below, tabs)),
        false => inner.min(text.depth_of(below, tabs)),
    }
}
