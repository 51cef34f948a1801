//! Finishing the statement at each cursor: what is open in it is closed, its terminator or its block is put in.
//!
//! What belongs to a statement is told by brackets and depth, so that a text that does not parse, as unfinished ones do not, is no
//! obstacle; what begins a header, and what ends a statement, is data of the language ([`crate::languages::finish`]). A statement that
//! is finished already: a new line below it. Cost: linear in the lines of the statement and in some hundred around it.

mod habits;
mod header;
mod plan;
mod statement;
mod tags;

use crate::changes::{Bias, ChangeBuilder, Mapper};
use crate::cursors::{CursorSet, Selection};
use crate::languages::scanner::Kind;
use crate::units::{Byte, Line, Span};
use crate::verbs::comments::open::open_comment;
use crate::verbs::lines::code::is_comment_in;
use crate::verbs::lines::indent::depth_after;
use crate::verbs::scene::{Outcome, Scene, counted};
use habits::Habits;
use header::{Block, Header};
use plan::Plan;
use statement::Statement;
use std::collections::BTreeMap;

/// A longer line, in bytes, is taken for data: it gets a new line below and nothing else.
const LONGEST: usize = 64 << 10;

/// Finishes the statement at each cursor.
pub fn finish(scene: &Scene) -> Outcome {
    let habits = Habits::of(scene);
    let goes_on = |head: Byte| match plan(&habits, head) {
        // It is there already.
        Plan::Go(at) if at == head => line_below(scene, scene.text.line_of(head), scene.text.line_of(head)),
        plan => plan,
    };
    let plans: Vec<Plan> = scene.cursors.iter().map(|each| goes_on(each.head)).collect();
    // Cursors in one statement finish it once.
    let mut inserts: BTreeMap<Byte, (&str, usize)> = BTreeMap::new();
    for plan in &plans {
        if let Plan::Insert { at, text, caret } = plan {
            inserts.entry(*at).or_insert((text, *caret));
        }
    }
    let mut builder = ChangeBuilder::new(scene.text);
    inserts.iter().for_each(|(at, (text, _))| builder.insert(*at, text));
    let change = builder.finish();
    let mut list = Vec::with_capacity(plans.len());
    // The plans are in the order of the text, or nearly so: going back costs the mapper a new start.
    let mut mapper = Mapper::new(&change);
    for plan in &plans {
        let (at, into) = match plan {
            Plan::Insert { at, .. } => (*at, inserts.get(at).map_or(0, |(_, caret)| *caret)),
            Plan::Go(at) => (*at, 0),
        };
        list.push(Selection::caret(mapper.map(at, Bias::Before) + into));
    }
    let cursors = CursorSet::of(list, scene.cursors.primary_index());
    let message = format!("finished {}", counted(plans.len(), "statement"));
    Outcome::edit(change, cursors).saying(message)
}

fn plan(habits: &Habits, head: Byte) -> Plan {
    let scene = habits.scene;
    let line = scene.text.line_of(head);
    let language = scene.language_at(head);
    let is_too_long = scene.text.content_span(line).len() > LONGEST;
    if let Some(marks) = open_comment(scene, head, &language) {
        let end = scene.text.trimmed(scene.text.content_span(line)).end;
        let text = format!(" {}", marks.close);
        return Plan::Insert { at: end, caret: text.len(), text };
    }
    let has_no_code = is_comment_in((scene.text, scene.syntax), line);
    if is_too_long || has_no_code || scene.text.is_blank(line) || scene.syntax.kind_at(head) == Kind::Comment {
        return line_below(scene, line, line);
    }
    if language.finish.tags || (language.children.is_some() && tags::begins(scene, line)) {
        return tags::plan(scene, head, &language).unwrap_or_else(|| line_below(scene, line, line));
    }
    let statement = Statement::at(scene, head, &language);
    let header = Header::of(&statement, habits, &language.finish);
    let closers = statement.closers(header.as_ref().map(|header| header.at));
    match header {
        Some(header) if header.bare.is_some() && closers.is_empty() => put_condition(habits, &statement, &header),
        Some(header) if header.has_block && closers.is_empty() => into_block(scene, &statement),
        Some(header) => put_block(habits, &statement, &header),
        None => {
            let terminator = statement.terminator(habits, &language.finish);
            // What ends the statement is there: brackets and quotes close before it.
            let ends = language.finish.terminator.as_str();
            let is_ended = !ends.is_empty() && !closers.is_empty() && ends_with(scene, statement.end, ends);
            if is_ended {
                let caret = closers.len() + ends.len();
                return Plan::Insert { at: statement.end - ends.len(), caret, text: closers };
            }
            let text = closers + terminator;
            match text.is_empty() {
                true => line_below(scene, statement.first, statement.last),
                false => Plan::Insert { at: statement.end, caret: text.len(), text },
            }
        }
    }
}

/// Whether `ends` is right before `at`.
fn ends_with(scene: &Scene, at: Byte, ends: &str) -> bool {
    at.0 >= ends.len() && scene.text.has_at(at - ends.len(), ends)
}

/// Puts in what is around the condition of a header that is nothing but its word, and its block; the caret goes where the condition
/// goes.
fn put_condition(habits: &Habits, statement: &Statement, header: &Header) -> Plan {
    let scene = habits.scene;
    let outer = scene.text.slice(scene.text.indentation_span(statement.first)).into_owned();
    let end = scene.settings.line_end.as_str();
    let [before, after] = header.bare.map_or([" ", ""], header::Condition::marks);
    let Block { opens, closes, after: behind } = header.block(habits, statement);
    let mut text = format!("{before}{after}{}", opens.replace('\n', &format!("{end}{outer}")));
    if !header.has_block && !closes.is_empty() {
        [end, &outer, &closes, &behind].iter().for_each(|part| text.push_str(part));
    }
    Plan::Insert { at: statement.end, caret: before.len(), text }
}

/// A new line after `last`, as deep as `first`, or as what `last` opens.
fn line_below(scene: &Scene, first: Line, last: Line) -> Plan {
    let text = scene.text;
    let own = text.slice(text.indentation_span(first)).into_owned();
    let after = depth_after(scene, last);
    let last_own = text.slice(text.indentation_span(last));
    // What the last line opens is one deeper than it; else the statement's own depth counts.
    let indentation = if after.len() > last_own.len() { after } else { own };
    let text_of_line = format!("{}{indentation}", scene.settings.line_end.as_str());
    Plan::Insert { at: text.content_span(last).end, caret: text_of_line.len(), text: text_of_line }
}

/// Into the block that the header of `statement` has.
fn into_block(scene: &Scene, statement: &Statement) -> Plan {
    let text = scene.text;
    let content = text.content_span(statement.last);
    let rest = text.slice(Span::new(statement.end, content.end));
    // The block begins and ends on the line.
    if let Some(open) = statement.one_line_block(scene) {
        return Plan::Go(open);
    }
    let depth = |line: Line| text.depth_of(line, scene.settings.tabs);
    let mut line = statement.last.next();
    let is_brace = |line: Line| matches!(text.content(line).trim(), "{" | "begin");
    if line <= text.last_line() && is_brace(line) {
        line = line.next();
    }
    let opener = line.previous().unwrap_or(statement.last);
    if line <= text.last_line() && text.is_blank(line) && rest.trim().is_empty() {
        return Plan::Go(text.content_span(line).end);
    }
    if line <= text.last_line() && depth(line) > depth(statement.first) {
        return Plan::Go(text.indentation_span(line).end);
    }
    // An empty block gets a line.
    line_below(scene, statement.first, opener)
}

/// Puts the block of a header in.
fn put_block(habits: &Habits, statement: &Statement, header: &Header) -> Plan {
    let scene = habits.scene;
    let text = scene.text;
    let outer = text.slice(text.indentation_span(statement.first)).into_owned();
    let unit = scene.settings.unit.text();
    let end = scene.settings.line_end.as_str();
    let inner = format!("{outer}{unit}");
    let mut put = statement.closers(Some(header.at));
    let Block { opens, closes, after } = header.block(habits, statement);
    put.push_str(&opens.replace('\n', &format!("{end}{outer}")));
    let below = statement.last.next();
    let depth = |line: Line| text.depth_of(line, scene.settings.tabs);
    let has_body = closes.is_empty()
        && below <= text.last_line()
        && !text.is_blank(below)
        && depth(below) > depth(statement.first);
    if has_body {
        // The body is there, and only what opens it was missing.
        return Plan::Insert {
            at: statement.end,
            caret: put.len() + (text.indentation_span(below).end - statement.end),
            text: put,
        };
    }
    put.extend([end, &inner]);
    let caret = put.len();
    if !closes.is_empty() {
        put.extend([end, &outer, &closes, &after]);
    }
    Plan::Insert { at: statement.end, text: put, caret }
}
