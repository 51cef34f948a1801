//! What the name at the caret is: its definition, its uses, what it has to do with. Each face says what it knows that from.

mod draw;

use super::painter::Painter;
use super::panel::{Panel, PanelAction, TextBeside, list_rows};
use super::start::StartOfFile;
use crate::context::Context;
use crate::keys::Key;
use crate::panels::chooser::{Chooser, Order, Pressed};
use crossterm::event::{KeyCode, KeyModifiers};
use ratatui::buffer::Buffer as Grid;
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::languages::scanner::Kind;
use snarvel_core::units::{Line, Span};
use snarvel_core::verbs::scene::counted;
use snarvel_servers::news::Access;
use snarvel_workspace::convoy::gathering::Places;
use snarvel_workspace::event::{Event, Payload};
use snarvel_workspace::ids::BufferId;
use snarvel_workspace::meaning::finding::{Finding, Topic};
use snarvel_workspace::notice::Notice;
use snarvel_workspace::registry::action::Face;
use std::borrow::Cow;
use std::path::PathBuf;

/// A row: a heading, or a place.
#[derive(Clone, Debug, PartialEq, Eq)]
struct Row {
    /// What is written.
    text: String,
    /// What is quiet beside it.
    note: String,
    /// Where it leads; none for a heading.
    place: Option<(PathBuf, Span, usize)>,
    /// How deep it is.
    depth: usize,
    /// The part of the text that is the name, in bytes.
    within: std::ops::Range<usize>,
}

/// What is known of one face.
#[derive(Debug, Default)]
enum Known {
    /// It was not asked for.
    #[default]
    Nothing,
    /// It was asked for by this number.
    Asked(u64),
    /// It is known.
    Found(Box<Finding>),
}

/// What the name at the caret is.
#[derive(Debug)]
pub struct MeaningPanel {
    face: Face,
    name: String,
    /// The text that was asked from, and the place of the name in it.
    from: (BufferId, Span),
    /// What is known of each face.
    known: [Known; 4],
    rows: Vec<Row>,
    chooser: Chooser,
    beside: StartOfFile,
}

/// The faces through which the key turns.
const FACES: [Face; 3] = [Face::Definition, Face::Uses, Face::Relations];

/// What a face asks.
fn topic(face: Face) -> Topic {
    match face {
        Face::Definition => Topic::Definition,
        Face::Uses => Topic::Uses,
        Face::Relations => Topic::Relations,
        Face::Description => Topic::Describe,
    }
}

impl MeaningPanel {
    /// For the name at the caret; none where there is none.
    #[must_use]
    pub fn of(context: &Context, face: Face) -> Option<MeaningPanel> {
        let word = context.workspace.name_at_caret()?;
        let buffer = context.workspace.active();
        Some(MeaningPanel {
            face,
            name: buffer.text().slice(word).into_owned(),
            from: (buffer.id, word),
            known: Default::default(),
            rows: Vec::new(),
            chooser: Chooser::new(Order::AsListed),
            beside: StartOfFile::default(),
        })
    }

    fn known(&self, face: Face) -> &Known {
        &self.known[face as usize]
    }

    fn finding(&self) -> Option<&Finding> {
        match self.known(self.face) {
            Known::Found(finding) => Some(finding),
            Known::Nothing | Known::Asked(_) => None,
        }
    }

    /// What is to be read about the name.
    fn description(&self) -> &str {
        match (self.known(Face::Description), self.known(Face::Definition)) {
            (Known::Found(finding), _) | (_, Known::Found(finding)) => &finding.text,
            _ => "",
        }
    }

    /// Asks for what the face shows, where that is not known.
    fn ask(&mut self, context: &mut Context) {
        let wanted = match self.face {
            Face::Definition => vec![Face::Definition, Face::Description],
            face => vec![face],
        };
        for face in wanted {
            if matches!(self.known(face), Known::Nothing)
                && let Some(number) = context.workspace.inquire(topic(face))
            {
                self.known[face as usize] = Known::Asked(number);
            }
        }
        self.refresh(context);
    }

    fn turn(&mut self, context: &mut Context) {
        let at = FACES.iter().position(|face| *face == self.face);
        self.face = at.map_or(Face::Definition, |at| FACES[(at + 1) % FACES.len()]);
        self.chooser.line.set("");
        self.ask(context);
    }

    /// The rows of what is known.
    fn refresh(&mut self, context: &mut Context) {
        self.rows = self.finding().map(|finding| rows_of(finding, self.face)).unwrap_or_default();
        self.filter();
        self.look(context);
    }

    fn filter(&mut self) {
        let letters = self.chooser.line.text.clone();
        let texts: Vec<String> = self.rows.iter().map(|row| format!("{} {}", row.text, row.note)).collect();
        let is_place: Vec<bool> = self.rows.iter().map(|row| row.place.is_some()).collect();
        self.chooser.filter_by(&letters, texts.iter().map(|text| Cow::Borrowed(text.as_str())));
        if !letters.is_empty() {
            self.chooser.shown.retain(|index| is_place[*index]);
        }
        self.skip_headings(true);
    }

    /// Headings are passed over.
    fn skip_headings(&mut self, is_downward: bool) {
        let is_place = |panel: &MeaningPanel, at: usize| {
            panel.chooser.shown.get(at).is_some_and(|index| panel.rows[*index].place.is_some())
        };
        let count = self.chooser.shown.len();
        let at = self.chooser.chosen;
        let below = (at..count).find(|at| is_place(self, *at));
        let above = (0..=at.min(count)).rev().find(|at| is_place(self, *at));
        let found = if is_downward { below.or(above) } else { above.or(below) };
        self.chooser.chosen = found.unwrap_or(0);
    }

    fn chosen(&self) -> Option<(PathBuf, Span, usize)> {
        self.chooser.index().and_then(|index| self.rows[index].place.clone())
    }

    fn look(&mut self, context: &mut Context) {
        let folder = context.workspace.project.folder.clone();
        let chosen = self.chosen().map(|(path, _, line)| (folder.join(path), Line(line)));
        self.beside.look_at(chosen, context);
    }

    /// Goes to the chosen place; on the definition itself the uses are shown.
    fn go(&mut self, context: &mut Context) -> PanelAction {
        let Some((path, span, _)) = self.chosen() else { return PanelAction::Stay };
        let whole = context.workspace.project.folder.join(&path);
        let is_here = context.workspace.active().is_of(&whole) && self.from.1 == span;
        if is_here && self.face == Face::Definition {
            self.face = Face::Uses;
            self.ask(context);
            return PanelAction::Stay;
        }
        context.workspace.drop_inquiries();
        context.workspace.go_to_file(&path, span);
        let by = self.finding().map(|finding| finding.by.told()).unwrap_or_default();
        context.say(format!("{}: {} line {}, {by}", self.name, path.display(), self.chosen().map_or(0, |at| at.2 + 1)));
        PanelAction::Close
    }

    /// The places in the active text become cursors, or pins.
    fn take_places(&self, context: &mut Context, as_pins: bool) -> PanelAction {
        let buffer = context.workspace.active();
        let folder = context.workspace.project.folder.clone();
        let here: Vec<Span> = self
            .rows
            .iter()
            .filter_map(|row| row.place.as_ref())
            .filter(|(path, ..)| buffer.is_of(&folder.join(path)))
            .map(|(_, span, _)| *span)
            .filter(|span| span.end <= buffer.text().end())
            .collect();
        if !as_pins && let Some(places) = self.files_of_places() {
            let effects = context.workspace.begin_convoy(places);
            context.follow(effects);
            return PanelAction::Close;
        }
        let elsewhere = self.rows.iter().filter(|row| row.place.is_some()).count() - here.len();
        if here.is_empty() {
            context.say("none of these places is in this text");
            return PanelAction::Stay;
        }
        let list: Vec<Selection> = here.iter().map(|span| Selection::new(span.start, span.end)).collect();
        let primary = here.iter().position(|span| *span == self.from.1).unwrap_or(0);
        let set = CursorSet::of(list, primary).snapped(buffer.text());
        let what = if as_pins { "pin" } else { "cursor" };
        let left = if elsewhere > 0 { format!("; {elsewhere} in other files") } else { String::new() };
        let said = format!("{} from the uses here{left}", counted(set.len(), what));
        if as_pins {
            let (buffer, view) = context.workspace.active_pair_mut();
            view.set_pins(buffer, Some(set));
        } else {
            context.workspace.take_hits(set, None);
        }
        context.say(said);
        PanelAction::Close
    }

    /// The places file by file, and the chosen one, where they are in more than one file.
    fn files_of_places(&self) -> Option<Places> {
        let mut files: Vec<(PathBuf, Vec<Span>)> = Vec::new();
        for (path, span, _) in self.rows.iter().filter_map(|row| row.place.as_ref()) {
            match files.iter_mut().find(|(known, _)| known == path) {
                Some((_, spans)) => spans.push(*span),
                None => files.push((path.clone(), vec![*span])),
            }
        }
        let (path, span, _) = self.chosen()?;
        (files.len() > 1).then_some(Places { files, chosen: (path, span) })
    }

    /// Says in one line what was found: scripts read it.
    fn say(finding: &Finding, context: &mut Context) {
        let said = match finding.topic {
            _ if finding.is_empty() => finding.topic.nothing(&finding.name),
            Topic::Uses => {
                let kinds = kinds_told(finding);
                let files = counted(finding.files.len(), "file");
                format!(
                    "{} of {} in {files}: {kinds}, {}",
                    counted(finding.places(), "use"),
                    finding.name,
                    finding.by.told()
                )
            }
            Topic::Relations => {
                let count = counted(finding.relations.len(), "name");
                format!("{count} with {}, {}", finding.name, finding.by.told())
            }
            Topic::Describe => {
                let first = finding.text.lines().find(|line| !line.starts_with("```") && !line.trim().is_empty());
                format!("{}, {}", first.unwrap_or_default().trim(), finding.by.told())
            }
            _ => match finding.each().next() {
                Some((path, hit)) => {
                    format!("{}: {} line {}, {}", finding.name, path.display(), hit.line + 1, finding.by.told())
                }
                None => finding.topic.nothing(&finding.name),
            },
        };
        context.say(said);
    }
}

/// How many of the uses are in code, strings and comments, and how many read and write, where that is known.
fn kinds_told(finding: &Finding) -> String {
    let count = |kind: Kind| finding.each().filter(|(_, hit)| hit.kind == kind).count();
    let mut parts = vec![format!("{} in code", count(Kind::Code))];
    for (kind, name) in [(Kind::String, "string"), (Kind::Comment, "comment")] {
        let count = count(kind);
        if count > 0 {
            parts.push(counted(count, name));
        }
    }
    let of = |access: Access| finding.accesses.iter().filter(|(_, other)| *other == access).count();
    let (read, written) = (of(Access::Read), of(Access::Write));
    if read + written > 0 {
        parts.push(format!("here {read} read and {written} written"));
    }
    parts.join(", ")
}

fn rows_of(finding: &Finding, face: Face) -> Vec<Row> {
    match face {
        Face::Relations => relation_rows(finding),
        Face::Definition | Face::Uses | Face::Description => place_rows(finding, face),
    }
}

fn place_rows(finding: &Finding, face: Face) -> Vec<Row> {
    let mut rows = Vec::new();
    for file in &finding.files {
        if face == Face::Uses {
            let note = counted(file.hits.len(), "use");
            rows.push(heading(file.path.display().to_string(), note));
        }
        for hit in &file.hits {
            let access = finding.accesses.iter().find(|(span, _)| *span == hit.span).map(|(_, access)| *access);
            let kind = match (hit.kind, access) {
                (Kind::Comment, _) => " comment",
                (Kind::String, _) => " string",
                (Kind::Code, Some(Access::Write)) => " written",
                (Kind::Code, Some(Access::Read)) => " read",
                (Kind::Code, _) => "",
            };
            let note = match face {
                Face::Uses => format!("{}{kind}", hit.line + 1),
                _ => format!("{}:{}", file.path.display(), hit.line + 1),
            };
            rows.push(Row {
                text: hit.excerpt.clone(),
                note,
                place: Some((file.path.clone(), hit.span, hit.line)),
                depth: usize::from(face == Face::Uses),
                within: hit.within.clone(),
            });
        }
    }
    rows
}

fn relation_rows(finding: &Finding) -> Vec<Row> {
    let mut rows = Vec::new();
    for (how, list) in snarvel_workspace::meaning::relations::groups(finding) {
        let title = match how {
            "calls it" => format!("calls {}", finding.name),
            "is called" => format!("{} calls", finding.name),
            "part" => format!("parts of {}", finding.name),
            how => how.to_owned(),
        };
        rows.push(heading(title, list.len().to_string()));
        for relation in list {
            let Some(hit) = relation.place.hits.first() else { continue };
            rows.push(Row {
                text: relation.name.clone(),
                note: format!("{}  {}:{}", relation.kind, relation.place.path.display(), hit.line + 1),
                place: Some((relation.place.path.clone(), hit.span, hit.line)),
                depth: 1 + relation.depth,
                within: 0..0,
            });
        }
    }
    rows
}

fn heading(text: String, note: String) -> Row {
    Row { text, note, place: None, depth: 0, within: 0..0 }
}

impl Panel for MeaningPanel {
    fn rows(&self, context: &Context) -> u16 {
        match self.face {
            Face::Uses => (context.look.size.rows / 2).max(8),
            _ => list_rows(context),
        }
    }

    fn begin(&mut self, context: &mut Context) {
        self.ask(context);
    }

    fn text_beside(&self) -> TextBeside {
        match self.face {
            Face::Description => TextBeside::None,
            _ => self.beside.text_beside(),
        }
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        match (key.code, key.mods) {
            (KeyCode::Esc, _) => {
                context.workspace.drop_inquiries();
                context.workspace.told.message = None;
                return PanelAction::Close;
            }
            (KeyCode::Char('d'), KeyModifiers::CONTROL) => self.turn(context),
            (KeyCode::Enter, KeyModifiers::NONE) => return self.go(context),
            (KeyCode::Char('b'), KeyModifiers::ALT) => return self.take_places(context, false),
            (KeyCode::Char('p'), KeyModifiers::ALT) => return self.take_places(context, true),
            _ => match self.chooser.press(key) {
                Pressed::Typed => {
                    self.filter();
                    self.look(context);
                }
                Pressed::Moved => {
                    self.skip_headings(key.code != KeyCode::Up && key.code != KeyCode::PageUp);
                    self.look(context);
                }
                Pressed::Nothing => {}
            },
        }
        PanelAction::Stay
    }

    fn paste(&mut self, typed: &str, context: &mut Context) -> PanelAction {
        self.chooser.line.insert(typed);
        self.filter();
        self.look(context);
        PanelAction::Stay
    }

    fn take(&mut self, mut event: Event, context: &mut Context) -> PanelAction {
        let folder = context.workspace.project.folder.clone();
        let chosen = self.chosen().map(|(path, ..)| folder.join(path));
        self.beside.take(&mut event, chosen, context);
        if matches!(event.payload, Payload::Ended) {
            self.beside.end(event.source.task);
        }
        PanelAction::Stay
    }

    fn notice(&mut self, notice: Notice, context: &mut Context) -> (Option<Notice>, PanelAction) {
        let Notice::Found(finding) = notice else { return (Some(notice), PanelAction::Stay) };
        let all = [Face::Definition, Face::Uses, Face::Relations, Face::Description];
        let of = |face: &Face| matches!(self.known(*face), Known::Asked(number) if *number == finding.number);
        if let Some(face) = all.into_iter().find(of) {
            if face == self.face {
                Self::say(&finding, context);
            }
            self.known[face as usize] = Known::Found(finding);
            self.refresh(context);
        }
        (None, PanelAction::Stay)
    }

    fn settle(&mut self, context: &mut Context) {
        self.beside.settle(context);
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        self.draw_all(painter, grid);
    }
}
