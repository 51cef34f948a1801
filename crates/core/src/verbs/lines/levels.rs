//! Depths by levels: for languages whose depth is their structure, and for those whose structure is not known.

use crate::languages::scanner::Kind;
use crate::languages::{BrokenString, Language};
use crate::units::{Cell, Line};
use crate::verbs::lines::code::{LINES_READ, code_of};
use crate::verbs::lines::literals::is_inside_brackets;
use crate::verbs::scene::{Run, Scene};

/// Depths that keep what is deeper than what, one unit a level: for languages whose depth is their structure, and
/// for those whose structure is not known.
pub(super) fn by_levels(scene: &Scene, run: &Run) -> Vec<(Line, Cell)> {
    let mut levels: Vec<[Cell; 2]> = Vec::new();
    let mut depths = Vec::new();
    let (mut brackets, mut shift) = (0i32, 0i64);
    let (mut goes_on, mut opens) = (false, true);
    for line in run.lines().filter(|line| !scene.text.is_blank(*line)) {
        let own = scene.text.depth_of(line, scene.settings.tabs);
        let ends_statement = has_statements(scene.language);
        let is_inside = brackets > 0 || goes_on || scene.syntax.kind_before_line(line) != Kind::Code;
        let code = code_of(scene, line);
        brackets = (brackets + open_brackets(&code)).max(0);
        goes_on = scene.language.backslash_continues && code.ends_with('\\');
        if scene.syntax.kind_before_line(line) == Kind::String {
            continue;
        }
        if is_inside {
            if !code.trim().is_empty() {
                opens = !ends_statement || brackets > 0 || opens_level(scene.language, &code);
            }
            depths.push((line, Cell((i64::from(own.0) + shift).max(0) as u32)));
            continue;
        }
        let unit = scene.settings.unit.cells(scene.settings.tabs);
        // A comment ends no level, however far out it is.
        if code.trim().is_empty()
            && let Some(depth) = among(&levels, own)
        {
            shift = i64::from(depth.0) - i64::from(own.0);
            depths.push((line, depth));
            continue;
        }
        while levels.last().is_some_and(|[old, _]| *old > own) {
            levels.pop();
        }
        let depth = match levels.last() {
            Some([old, new]) if *old == own || !opens => *new,
            Some([_, new]) => *new + unit,
            None => outside(scene, run.first, own),
        };
        if levels.last().is_none_or(|[old, _]| *old < own) {
            levels.push([own, depth]);
        }
        // The keys of an item are set under its first one.
        let mut rest = code.trim();
        while let Some(behind) = rest.strip_prefix('-').filter(|_| scene.language.block_scalars)
            && behind.starts_with(' ')
        {
            rest = behind.trim_start();
            let further = (code.trim_end().len() - rest.len()) as u32 - own.0.min(code.len() as u32);
            levels.push([own + further, depth + further]);
        }
        shift = i64::from(depth.0) - i64::from(own.0);
        depths.push((line, depth));
        if !code.trim().is_empty() {
            opens = opens_level(scene.language, &code);
        }
    }
    depths
}

/// How deep a comment that is `own` deep is to be among `levels` that are deeper or as deep; none where it is deeper than all.
fn among(levels: &[[Cell; 2]], own: Cell) -> Option<Cell> {
    let [deepest, _] = levels.last()?;
    let further = |[old, new]: &[Cell; 2]| *new + (own.0 - old.0);
    let outer = levels.iter().rev().find(|[old, _]| *old <= own);
    (own <= *deepest).then(|| outer.map_or(own, further))
}

/// Whether each line of the language is a statement, unless brackets or a sign say that it goes on.
fn has_statements(language: &Language) -> bool {
    language.offside && language.broken_strings == Some(BrokenString::Brackets)
}

/// Whether deeper lines may follow `code`: any may in a language without such statements.
fn opens_level(language: &Language, code: &str) -> bool {
    !has_statements(language) || language.openers.iter().any(|opener| code.trim_end().ends_with(opener.as_str()))
}

fn open_brackets(code: &str) -> i32 {
    let count = |c: char| match c {
        '(' | '[' | '{' => 1,
        ')' | ']' | '}' => -1,
        _ => 0,
    };
    code.chars().map(count).sum()
}

/// The depth of a line that is `own` deep among the lines above `first`: that of the one beside it, or one unit more
/// than the one it belongs to.
fn outside(scene: &Scene, first: Line, own: Cell) -> Cell {
    let above = (0..first.0).rev().take(LINES_READ).map(Line).filter(|line| !scene.text.is_blank(*line));
    let depth = |line: Line| scene.text.depth_of(line, scene.settings.tabs);
    match above.map(|line| (line, depth(line))).find(|(_, depth)| *depth <= own) {
        Some((line, depth)) if depth < own && opens_level(scene.language, &code_of(scene, line)) => {
            depth + scene.settings.unit.cells(scene.settings.tabs)
        }
        Some((line, depth)) if depth < own && begins_in_code(scene, line) => depth,
        _ => own,
    }
}

/// Whether `line` begins a statement: not inside a string, a comment or brackets, and not after a backslash.
fn begins_in_code(scene: &Scene, line: Line) -> bool {
    let goes_on = |above: Line| scene.language.backslash_continues && scene.text.content(above).ends_with('\\');
    let start = scene.text.indentation_span(line).end;
    scene.syntax.kind_before_line(line) == Kind::Code
        && !line.previous().is_some_and(goes_on)
        && !is_inside_brackets(scene, start)
        && scene.syntax.kind_at(scene.text.next_boundary(start)) == Kind::Code
}
