//! Putting the depth of lines right: by brackets and block words where the language has them, else only the unit.
//!
//! Depths are cells. Lines that begin inside a string are left alone, for they would say something else; lines
//! inside a comment move with its first line. Cost: the touched lines, and those above them up to a limit.

use crate::changes::ChangeBuilder;
use crate::languages::Structure;
use crate::languages::scanner::Kind;
use crate::text::indent::IndentUnit;
use crate::units::{Cell, Line};
use crate::verbs::lines::by_tree::{ByTree, Code, Depth};
use crate::verbs::lines::code::{LINES_READ, code_of};
use crate::verbs::lines::depth::finish;
use crate::verbs::lines::levels::by_levels;
use crate::verbs::scene::{Outcome, Run, Scene, counted};
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
        let is_there = scene.cell(span.end) == depth && !is_of_other_kind(scene, &scene.text.slice(span));
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
}

/// What opens or closes on a line.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Token {
    Opens(Option<char>),
    Closes(Option<char>),
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
    /// What the line before leaves for the next.
    before: Before,
    /// How deep the first line of the statement is to be, and is, that the last line was a part of.
    statement: Option<[Cell; 2]>,
}

/// What a line leaves for the next.
#[derive(Clone, Copy, Default)]
struct Before {
    /// Whether it begins a choice between labels.
    begins_choice: bool,
    /// Whether, and how, its code goes on.
    going: Going,
    /// Whether a clause has begun whose parts are one deeper.
    in_clause: bool,
    /// Its depth, where it closes something or is part of a chain: a chain goes on there.
    chain: Option<Cell>,
}

/// How code goes on in the next line.
#[derive(Clone, Copy, Default, PartialEq, Eq)]
enum Going {
    /// It ends.
    #[default]
    Ended,
    /// In lines that may be as deep: commands of a shell.
    Loosely,
    /// One unit deeper: it ended with an operator, or with a condition without a body.
    Deeper,
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
        if self.is_directive(code.trim()) || self.is_in_directive(line) {
            return Some(None);
        }
        let unit = scene.settings.unit.cells(scene.settings.tabs);
        let of = |line: Line| {
            let is = || scene.text.depth_of(line, scene.settings.tabs);
            self.told.get(&line).copied().unwrap_or_else(|| [is(); 2])
        };
        let kept = |[now, was]: [Cell; 2], steps: u32| match own.0.checked_sub(was.0) {
            Some(further) if further > 0 => now + further,
            _ => now + unit * steps,
        };
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
        Some(depth)
    }

    fn depth_of_code(&self, line: Line) -> Option<Cell> {
        let own = self.scene.text.depth_of(line, self.scene.settings.tabs);
        let code = code_of(self.scene, line);
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
        (leads || is_chain || self.before.going == Going::Deeper || self.before.in_clause) && !code.starts_with('{')
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
        // The entries of a map, and arguments, are where their author wants them, as long as they are further in.
        let below = (line.0 + 1..self.scene.text.line_count()).map(Line).find(|line| !self.scene.text.is_blank(*line));
        let is_deeper = below.is_some_and(|below| self.scene.text.depth_of(below, self.scene.settings.tabs) > own);
        let keeps_entries = (self.scene.language.finish.selectors && is_deeper).then_some([depth, own]);
        for token in tokens(self.structure, code) {
            match token {
                Token::Opens(bracket) => {
                    let keeps = if bracket == Some('(') { keeps_entries.or(keeps_parts) } else { keeps_parts };
                    self.open.push(Opener { bracket, depth, is_choice, is_labelled: false, is_flat, keeps });
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
        self.before.chain = (is_chain(code) || self.begins_with_closer(code)).then_some(depth);
        let ends_clause = code.starts_with('{') || code.ends_with(['{', ';']);
        self.before.in_clause = is_one_of(&self.structure.clauses, code) || (self.before.in_clause && !ends_clause);
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
            && below.into_iter().any(|line| text.depth_of(line, self.scene.settings.tabs) > own)
    }
}

/// Brackets and block words of the code of a line, in order.
fn tokens(structure: &Structure, code: &str) -> Vec<Token> {
    let mut tokens = Vec::new();
    let mut rest = code;
    let mut is_first = true;
    while let Some(c) = rest.chars().next() {
        let word = word_at_start(rest);
        match c {
            '(' | '[' | '{' => tokens.push(Token::Opens(Some(c))),
            ')' => tokens.push(Token::Closes(Some('('))),
            ']' => tokens.push(Token::Closes(Some('['))),
            '}' => tokens.push(Token::Closes(Some('{'))),
            _ => {
                tokens.extend(is_one_of(&structure.closes, word).then_some(Token::Closes(None)));
                let opens = is_one_of(&structure.opens, word);
                let opens_first = is_first && is_one_of(&structure.opens_first, word);
                let opens_after = |[first, second]: &[String; 2]| second == word && first == word_at_start(code);
                let opens = opens || structure.opens_after.iter().any(opens_after);
                tokens.extend((opens || opens_first).then_some(Token::Opens(None)));
            }
        }
        is_first = false;
        rest = &rest[word.len().max(c.len_utf8())..];
    }
    tokens
}

/// Whether a block that `code`, a part of a line without its strings and comments, opens by a word is open after it.
#[must_use]
pub fn leaves_block_open(structure: &Structure, code: &str) -> bool {
    let step = |open: u32, token: Token| match token {
        Token::Opens(None) => open + 1,
        Token::Closes(None) => open.saturating_sub(1),
        Token::Opens(_) | Token::Closes(_) => open,
    };
    tokens(structure, code.trim()).into_iter().fold(0, step) > 0
}

fn is_word(c: char) -> bool {
    c.is_alphanumeric() || c == '_'
}

/// The word that `code` begins with; nothing where it begins with something else.
fn word_at_start(code: &str) -> &str {
    &code[..code.find(|c: char| !is_word(c)).unwrap_or(code.len())]
}

fn first_word(code: &str) -> Option<&str> {
    Some(word_at_start(code)).filter(|word| !word.is_empty())
}

fn is_one_of(words: &[String], word: &str) -> bool {
    words.iter().any(|other| other == word)
}

/// Whether `code` is a label: one of the words first, and a colon.
fn is_label(code: &str, words: &[String]) -> bool {
    first_word(code).is_some_and(|word| is_one_of(words, word)) && code.contains(':')
}

fn is_label_outside(code: &str, structure: &Structure) -> bool {
    is_label(code, &structure.outer_labels)
}

/// Whether `code` goes on with a chain of calls.
fn is_chain(code: &str) -> bool {
    code.strip_prefix('.').is_some_and(|rest| rest.starts_with(is_word))
}

/// Whether a statement goes on after `code`, which ends with an operator.
fn ends_open(code: &str) -> bool {
    ["=", "&&", "||", "+", "=>"].iter().any(|operator| code.ends_with(operator))
}

/// Whether `code` is a condition, or its alternative, whose body follows without braces.
fn awaits_body(code: &str) -> bool {
    let is_condition = matches!(word_at_start(code), "if" | "for" | "while") && code.ends_with(')');
    is_condition || code.trim_start_matches(['}', ' ']) == "else"
}
