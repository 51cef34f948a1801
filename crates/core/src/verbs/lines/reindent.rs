//! Putting the depth of lines right: by brackets and block words where the language has them, else only the unit.
//!
//! Depths are cells. Lines that begin inside a string are left alone, for they would say something else; lines
//! inside a comment move with its first line. Cost: the touched lines, and those above them up to a limit.

use crate::changes::ChangeBuilder;
use crate::languages::Structure;
use crate::languages::scanner::Kind;
use crate::text::indent::IndentUnit;
use crate::units::{Cell, Line};
use crate::verbs::lines::aligned::set_under;
use crate::verbs::lines::by_tree::{ByTree, Code, Depth};
use crate::verbs::lines::code::{LINES_READ, code_of};
use crate::verbs::lines::depth::finish;
use crate::verbs::lines::levels::by_levels;
use crate::verbs::lines::line_words::{
    Before, End, Going, HEADS, Token, awaits_body, ends_open, first_word, is_call, is_chain, is_label,
    is_label_outside, is_one_of, is_word, tokens,
};
use crate::verbs::scene::{Outcome, Run, Scene, counted};
use std::cell::OnceCell;
use std::collections::{HashMap, HashSet};

/// Every touched line gets the depth that its structure has.
pub fn reindent(scene: &Scene) -> Outcome {
    let runs = scene.runs();
    let is_parsed = scene.structure.structure().is_some();
    let depths = match &scene.language.structure {
        Some(structure) if is_parsed || !scene.language.prose => by_structure(scene, structure, &runs),
        _ => runs.iter().flat_map(|run| by_levels(scene, run)).collect(),
    };
    let mut builder = ChangeBuilder::new(scene.text);
    let mut count = 0;
    for (line, depth) in depths {
        let span = scene.text.indentation_span(line);
        let white = scene.settings.unit.fill(depth, scene.settings.tabs);
        let is_comment = scene.syntax.kind_before_line(line) == Kind::Comment;
        let is_right = is_comment || !is_of_other_kind(scene, &scene.text.slice(span));
        let is_there = scene.cell(span.end) == depth && is_right;
        if !is_there && scene.text.slice(span) != white {
            builder.replace(span, &white);
            count += 1;
        }
    }
    if count == 0 {
        return Outcome::already("the depths are right already");
    }
    finish(scene, builder, format!("put the depth of {} right", counted(count, "line")))
}

/// Whether white space is of the other kind than the text's unit: spaces where tabs are, and tabs where a tab is a unit of spaces.
fn is_of_other_kind(scene: &Scene, white: &str) -> bool {
    let unit = scene.settings.unit.cells(scene.settings.tabs);
    match scene.settings.unit {
        IndentUnit::Tab => !white.contains('\t') && white.len() as u32 >= unit,
        IndentUnit::Spaces(_) => white.contains('\t') && unit == scene.settings.tabs.0,
    }
}

/// The most lines of a comment that are looked at for what is below it.
const LINES_OF_COMMENT: usize = 30;

/// Something that is open: what closes it, and how deep its line is.
#[derive(Clone, Copy, Debug)]
struct Opener {
    bracket: Option<char>,
    depth: Cell,
    /// Whether it is the body of a choice, in which labels are.
    is_choice: bool,
    /// Whether a label has was in it: what follows is one deeper.
    is_labelled: bool,
    /// Whether what is in it may be as deep as it: a namespace.
    is_flat: bool,
    /// How deep the line of a choice is to be and is whose parts are laid out by its author: they keep their distance.
    keeps: Option<[Cell; 2]>,
    /// How deep the first part of a choice is to be and is, and the part that was read last: the others are beside the first.
    parts: Option<[[Cell; 2]; 2]>,
}

/// Reads lines from the top and says how deep each should be.
struct Reader<'a, 'b> {
    scene: &'a Scene<'b>,
    structure: &'a Structure,
    open: Vec<Opener>,
    /// What the tree says, where it is known and blocks have brackets or tags.
    tree: Option<ByTree<'a, 'b>>,
    /// How deep each line that was read is to be, and is.
    told: HashMap<Line, [Cell; 2]>,
    /// Lines that go on with a statement.
    going_on: HashSet<Line>,
    /// How far the line moves on which the comment around began.
    shift: i64,
    /// Whether directives are in the first column, once that was asked for.
    outermost_directives: OnceCell<bool>,
    /// What the line before leaves for the next.
    before: Before,
    /// How deep the first line of the statement is to be, and is, that the last line was a part of.
    statement: Option<[Cell; 2]>,
}

fn by_structure(scene: &Scene, structure: &Structure, runs: &[Run]) -> Vec<(Line, Cell)> {
    let mut depths = Vec::new();
    let mut reader = Reader::new(scene, structure);
    let mut next = Line(0);
    for run in runs {
        // What lies far above this run is not read on the way from the run before.
        if run.first.0 - next.0 > 2 * LINES_READ {
            reader = Reader::new(scene, structure);
            next = beginning(scene, run.first);
        }
        for line in (next.0..=run.last.0).map(Line) {
            let is_touched = run.first <= line;
            if !scene.text.is_blank(line)
                && let Some(depth) = reader.read(line, is_touched)
                && is_touched
            {
                depths.push((line, depth));
            }
        }
        next = run.last.next();
    }
    depths
}

/// Where reading begins for a line that is far down: at one in column 0, where there is one.
fn beginning(scene: &Scene, line: Line) -> Line {
    let far = line.0.saturating_sub(LINES_READ);
    let is_outermost = |line: &Line| !scene.text.is_blank(*line) && scene.text.indentation_span(*line).is_empty();
    let outermost = (0..=far).rev().take(LINES_READ).map(Line).find(is_outermost);
    outermost.unwrap_or(Line(far.saturating_sub(LINES_READ)))
}

impl<'a, 'b> Reader<'a, 'b> {
    /// Nothing read yet.
    fn new(scene: &'a Scene<'b>, structure: &'a Structure) -> Reader<'a, 'b> {
        let has_tree = scene.structure.structure().is_some() && structure.opens.is_empty() && !structure.sections;
        Reader {
            scene,
            structure,
            tree: has_tree.then(|| ByTree::new(scene, structure)),
            told: HashMap::new(),
            going_on: HashSet::new(),
            open: Vec::new(),
            shift: 0,
            outermost_directives: OnceCell::new(),
            before: Before::default(),
            statement: None,
        }
    }

    /// Takes in the next line; says how deep it should be, unless it must stay as it is.
    fn read(&mut self, line: Line, is_touched: bool) -> Option<Cell> {
        let own = self.scene.text.depth_of(line, self.scene.settings.tabs);
        let depth = match self.scene.syntax.kind_before_line(line) {
            Kind::String => None,
            Kind::Comment => Some(Cell((i64::from(own.0) + self.shift).max(0) as u32)),
            Kind::Code => self.depth_by_tree(line, own).unwrap_or_else(|| self.depth_of_code(line)),
        };
        let now = depth.filter(|_| is_touched).unwrap_or(own);
        self.shift = i64::from(now.0) - i64::from(own.0);
        if now != own {
            self.told.insert(line, [now, own]);
        }
        let code = code_of(self.scene, line);
        if !self.continues(code.trim()) && self.before.going != Going::Loosely {
            self.statement = Some([now, own]);
        }
        self.take_in(line, [now, own]);
        depth
    }

    /// What the tree says of `line`, which is `own` deep: none where it says nothing.
    #[allow(clippy::option_option, reason = "that nothing is said is another thing than that the line stays")]
    fn depth_by_tree(&mut self, line: Line, own: Cell) -> Option<Option<Cell>> {
        let (scene, tree) = (self.scene, self.tree.as_ref()?);
        let code = code_of(scene, line);
        if self.is_in_directive(line) {
            return Some(None);
        }
        if self.is_directive(code.trim()) {
            return Some(self.directives_are_outermost().then_some(Cell(0)));
        }
        let unit = scene.settings.unit.cells(scene.settings.tabs);
        if let Some([now, was]) = self.statement.filter(|[_, was]| self.may_be_headed(line) && own > *was) {
            let further = if code.trim() == "{" { 0 } else { own.0 - was.0 };
            return Some(Some(now + further));
        }
        let line = self.label_below(line, own).unwrap_or(line);
        let of = |line: Line| {
            let is = || scene.text.depth_of(line, scene.settings.tabs);
            self.told.get(&line).copied().unwrap_or_else(|| [is(); 2])
        };
        let kept = |[now, was]: [Cell; 2], steps: u32| match own.0.checked_sub(was.0) {
            Some(further) if further > 0 => now + further,
            _ => now + unit * steps,
        };
        // A chain goes on beside the closer above it, or deeper.
        if let Some([now, _]) = self.closer_above(line).filter(|[_, was]| is_chain(code.trim()) && own == *was) {
            return Some(Some(now));
        }
        let told = tree.depth(line, if self.continues(code.trim()) { Code::GoesOn } else { Code::Begins })?;
        let depth = match told {
            Depth::Outermost => Some(Cell(0)),
            Depth::Steps(base, steps) => Some(of(base)[0] + unit * steps),
            // What goes on with a part of a statement is beside that.
            Depth::Kept(base, 1) if self.going_on.contains(&base) && of(base)[1] == own => Some(of(base)[0]),
            Depth::Kept(base, steps) => Some(kept(of(base), steps)),
            Depth::Alike(base, all, steps) => {
                let base = of(base);
                let further = all.0.checked_sub(base[1].0);
                let is_meant = further.is_some_and(|further| steps == 0 || further >= unit);
                Some(if is_meant { base[0] + (all.0 - base[1].0) } else { base[0] + unit * steps })
            }
            Depth::Labels(base, all, steps) => {
                let base = of(base);
                let is_meant = all.0.checked_sub(base[1].0).is_some_and(|further| further <= unit);
                Some(if is_meant { base[0] + (all.0 - base[1].0) } else { base[0] + unit * steps })
            }
            Depth::Free => None,
        };
        if matches!(told, Depth::Kept(..)) {
            self.going_on.insert(line);
        }
        Some(depth.map(|depth| self.as_it_is_set(line, [depth, own])))
    }

    /// Whether what begins `line` can be the body of a head that the tree does not know: of a macro, or before a directive.
    fn may_be_headed(&self, line: Line) -> bool {
        let is_behind_directive = || {
            let above = line.previous().map(|above| self.scene.text.content(above));
            self.before.going == Going::Deeper && above.is_some_and(|above| self.is_directive(above.trim_start()))
        };
        !self.structure.directive.is_empty() && (self.before.end == End::OfCall || is_behind_directive())
    }

    /// How deep the line above `line` is to be, and is, where it begins with a closer or goes on with a chain.
    fn closer_above(&self, line: Line) -> Option<[Cell; 2]> {
        let text = self.scene.text;
        let above = (0..line.0).rev().map(Line).find(|above| !text.is_blank(*above))?;
        let closes = text.content(above).trim_start().starts_with([')', ']', '}', '.']);
        let is = || text.depth_of(above, self.scene.settings.tabs);
        closes.then(|| self.told.get(&above).copied().unwrap_or_else(|| [is(); 2]))
    }

    /// The label below `line`, where that is a comment as deep as it.
    fn label_below(&self, line: Line, own: Cell) -> Option<Line> {
        self.code_below(line, own).filter(|code| is_label(code_of(self.scene, *code).trim(), &self.structure.labels))
    }

    /// The code below `line`, where that is a comment as deep as it.
    fn code_below(&self, line: Line, own: Cell) -> Option<Line> {
        let text = self.scene.text;
        if !code_of(self.scene, line).trim().is_empty() {
            return None;
        }
        let below = (line.0 + 1..text.line_count()).take(LINES_OF_COMMENT).map(Line);
        let code = below.into_iter().find(|line| !code_of(self.scene, *line).trim().is_empty())?;
        (text.depth_of(code, self.scene.settings.tabs) == own).then_some(code)
    }

    /// The depth of a line that is to be `depth` and is `own` deep: what is set under something above goes along with that.
    fn as_it_is_set(&self, line: Line, [depth, own]: [Cell; 2]) -> Cell {
        // Formatters of other languages than those with directives set nothing under anything.
        if depth == own || self.structure.directive.is_empty() {
            return depth;
        }
        let Some(above) = set_under(self.scene, line) else { return depth };
        match self.told.get(&above) {
            Some([now, was]) => Cell((own.0 + now.0).saturating_sub(was.0)),
            None => own,
        }
    }

    fn depth_of_code(&self, line: Line) -> Option<Cell> {
        let own = self.scene.text.depth_of(line, self.scene.settings.tabs);
        let below = self.code_below(line, own).map(|below| code_of(self.scene, below));
        let code =
            below.filter(|code| self.begins_with_closer(code.trim())).unwrap_or_else(|| code_of(self.scene, line));
        let code = code.trim();
        if self.is_directive(code) || self.is_in_directive(line) {
            return None;
        }
        let unit = self.scene.settings.unit.cells(self.scene.settings.tabs);
        if let Some(Token::Closes(bracket)) =
            tokens(self.structure, code).first().filter(|_| self.begins_with_closer(code))
        {
            let opener = self.open.iter().rev().find(|opener| opener.bracket == *bracket);
            let kept = opener.filter(|opener| opener.bracket.is_some()).and_then(|opener| opener.keeps);
            if let Some([now, was]) = kept.filter(|[_, was]| own >= *was) {
                return Some(now + (own.0 - was.0));
            }
            return Some(opener.map_or(Cell(0), |opener| opener.depth));
        }
        let continues = self.continues(code);
        if let Some([now, was]) =
            self.statement.filter(|[_, was]| (continues || self.before.going == Going::Loosely) && own > *was)
        {
            return Some(now + (own.0 - was.0));
        }
        if let Some(depth) = self.before.chain.filter(|_| is_chain(code) && !self.scene.language.finish.selectors) {
            return Some(depth);
        }
        let Some(inner) = self.open.last() else {
            return Some(if continues { Cell(unit) } else { Cell(0) });
        };
        if inner.is_flat && inner.depth == own {
            return Some(own);
        }
        match inner.parts {
            Some([[now, _], _]) if self.before.end == End::OfPart => return Some(now),
            Some([_, [now, was]]) if own > was => return Some(now + (own.0 - was.0)),
            _ => {}
        }
        if let Some([now, was]) = inner.keeps.filter(|[_, was]| own >= *was) {
            return Some(now + (own.0 - was.0));
        }
        let is_label = inner.is_choice && is_label(code, &self.structure.labels);
        let steps = match () {
            () if is_label_outside(code, self.structure) => 0,
            () if inner.is_labelled && !is_label => 2,
            () => 1,
        };
        Some(inner.depth + unit * (steps + u32::from(continues)))
    }

    /// Whether `code` is wherever its author wants it.
    fn is_directive(&self, code: &str) -> bool {
        !self.structure.directive.is_empty() && code.starts_with(&self.structure.directive)
    }

    /// Whether most directives of the text are in the first column. Cost: the first `LINES_READ` lines, once.
    fn directives_are_outermost(&self) -> bool {
        *self.outermost_directives.get_or_init(|| {
            let text = self.scene.text;
            let lines = (0..text.line_count().min(LINES_READ)).map(|line| text.content(Line(line)));
            let mut counts = [0usize; 2];
            for content in lines.filter(|content| self.is_directive(content.trim_start())) {
                counts[usize::from(self.is_directive(&content))] += 1;
            }
            counts[1] > counts[0]
        })
    }

    /// Whether `line` goes on with a directive above it.
    fn is_in_directive(&self, line: Line) -> bool {
        let text = self.scene.text;
        let goes_on = |above: &Line| text.content(*above).ends_with('\\');
        let mut above = (0..line.0).rev().map(Line).take_while(goes_on).take(LINES_READ);
        !self.structure.directive.is_empty() && above.any(|above| self.is_directive(text.content(above).trim_start()))
    }

    /// Whether `code` goes on with what the line before began.
    fn continues(&self, code: &str) -> bool {
        let leads = ["&&", "||", "?.", "=>"].iter().any(|operator| code.starts_with(operator));
        let is_chain = is_chain(code) && !self.scene.language.finish.selectors;
        let goes_on = leads || is_chain || self.before.going == Going::Deeper || self.before.in_clause;
        // Where words open blocks, a brace on a line that goes on opens none.
        goes_on && (!code.starts_with('{') || !self.structure.opens.is_empty())
    }

    fn begins_with_closer(&self, code: &str) -> bool {
        code.starts_with([')', ']', '}'])
            || first_word(code).is_some_and(|word| is_one_of(&self.structure.closes, word))
    }

    /// Opens and closes what `line`, which is to be `depth` and is `own` deep, opens and closes.
    fn take_in(&mut self, line: Line, [depth, own]: [Cell; 2]) {
        let code = code_of(self.scene, line);
        let code = code.trim();
        if self.is_directive(code) || code.is_empty() {
            return;
        }
        if let Some(inner) = self.open.last_mut().filter(|inner| inner.keeps.is_some()) {
            let [_, part] = inner.parts.get_or_insert([[depth, own]; 2]);
            if self.before.end == End::OfPart {
                *part = [depth, own];
            }
        }
        if is_label(code, &self.structure.labels)
            && let Some(inner) = self.open.last_mut().filter(|inner| inner.is_choice)
        {
            inner.is_labelled = true;
        }
        let is_choice =
            code.split(|c| !is_word(c)).any(|word| word == "switch") || (self.before.begins_choice && code == "{");
        // A linkage or a namespace; the name of the first is a string.
        let is_flat =
            !self.structure.directive.is_empty() && (code.starts_with("extern \"") || code.starts_with("namespace"));
        let keeps_parts = (code.starts_with("case") && self.is_laid_out(line, own)).then_some([depth, own]);
        // The body of a head over several lines is as deep as if it were on one.
        let is_own = first_word(code).is_some_and(|word| HEADS.contains(&word));
        let head = self.statement.filter(|[_, was]| self.before.going != Going::Ended && *was < own && !is_own);
        let depth_of_body = head.map_or(depth, |[now, _]| now);
        // The entries of a map, and arguments, are where their author wants them, as long as they are further in.
        let below = (line.0 + 1..self.scene.text.line_count()).map(Line).find(|line| !self.scene.text.is_blank(*line));
        let is_deeper = below.is_some_and(|below| self.scene.text.depth_of(below, self.scene.settings.tabs) > own);
        let keeps_entries = (self.scene.language.finish.selectors && is_deeper).then_some([depth, own]);
        for token in tokens(self.structure, code) {
            match token {
                Token::Opens(bracket) => {
                    let keeps = if bracket == Some('(') { keeps_entries.or(keeps_parts) } else { keeps_parts };
                    let depth = if bracket.is_none() { depth_of_body } else { depth };
                    self.open.push(Opener {
                        bracket,
                        depth,
                        is_choice,
                        is_labelled: false,
                        is_flat,
                        keeps,
                        parts: None,
                    });
                }
                Token::Closes(bracket) => {
                    // A closer that answers nothing is passed over: the pattern of a shell's `case`.
                    if let Some(index) = self.open.iter().rposition(|opener| opener.bracket == bracket) {
                        self.open.truncate(index);
                    }
                }
            }
        }
        self.before.begins_choice = is_choice;
        self.leave(code, depth);
    }

    /// Keeps what the code of a line, which is to be `depth`, leaves for the next.
    fn leave(&mut self, code: &str, depth: Cell) {
        self.before.chain = (is_chain(code) || self.begins_with_closer(code)).then_some(depth);
        let ends_clause = code.starts_with('{') || code.ends_with(['{', ';']);
        self.before.in_clause = is_one_of(&self.structure.clauses, code) || (self.before.in_clause && !ends_clause);
        self.before.end = match () {
            () if code.ends_with(";;") => End::OfPart,
            () if is_call(code) => End::OfCall,
            () => End::Other,
        };
        let is_by_words = !self.structure.opens.is_empty();
        let is_continued = self.scene.language.backslash_continues && code.ends_with('\\');
        let is_unfinished = self.scene.language.finish.selectors && self.is_unfinished_value(code);
        let goes_on = is_continued || is_unfinished || (!is_by_words && (ends_open(code) || awaits_body(code)));
        let loosely = is_by_words && ["&&", "||", "|"].iter().any(|operator| code.ends_with(operator));
        self.before.going = match (goes_on, loosely) {
            (true, _) => Going::Deeper,
            (false, true) => Going::Loosely,
            (false, false) => Going::Ended,
        };
    }

    /// Whether a declaration goes on after `code`: a value over several lines. Commas part selectors and the entries of a map, too.
    fn is_unfinished_value(&self, code: &str) -> bool {
        let was_value = self.before.going == Going::Deeper;
        let name = code.split(':').next().unwrap_or_default();
        let is_name = |c: char| c.is_alphanumeric() || matches!(c, '-' | '_' | '$' | '@' | '#' | '{' | '}' | '*');
        let is_declaration = code.contains(':') && !name.is_empty() && name.chars().all(is_name);
        let is_in_map = self.open.last().is_some_and(|opener| opener.bracket == Some('('));
        match code.chars().next_back() {
            None | Some(';' | '{' | '}' | '(' | '[') => false,
            Some(',') => {
                !is_in_map && (was_value || (is_declaration && !code.trim_start().starts_with(['.', '&', ':'])))
            }
            Some(':') => true,
            Some(_) => was_value || is_declaration || (!is_in_map && code.starts_with(['$', '@'])),
        }
    }

    /// Whether one of the lines right below `line`, a choice in a language without brackets, is deeper than it.
    fn is_laid_out(&self, line: Line, own: Cell) -> bool {
        /// A pattern, a command, the end of that.
        const LOOKED_AT: usize = 3;
        let text = self.scene.text;
        let below = (line.0 + 1..text.line_count()).map(Line).filter(|line| !text.is_blank(*line)).take(LOOKED_AT);
        !self.structure.opens.is_empty()
            && below.into_iter().enumerate().any(|(index, line)| {
                let depth = text.depth_of(line, self.scene.settings.tabs);
                let code = code_of(self.scene, line);
                let is_pattern = code.contains(')') && !code.contains('(') && code.trim_end().ends_with(";;");
                depth > own || (depth == own && index == 0 && is_pattern)
            })
    }
}
