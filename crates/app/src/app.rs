//! The application: documents, layer, pending count, panel; what an event does to them.
//!
//! It knows no terminal: events come in as values, a frame is drawn from it as a value, and what the terminal
//! is to do beside drawing waits in [`App::take_orders`]. `play`, the tests and the screen run the same code.

use crate::document::{Document, Home};
use crate::keys::Key;
use crate::keys::keymap::{Keymap, Meaning, typing};
use crate::keys::script::Spot;
use crate::palette::Palette;
use crate::panels::{Answer, Argument, Line as InputLine, Matter, Opening, Panel, Question, SaveAs};
use crate::screen::layout::{DeckSize, Frame, Size};
use snarvel_core::cursors::{CursorSet, Selection};
use snarvel_core::editor::{Call, Effects};
use snarvel_core::units::{Byte, Cell, Direction, Line, Span};
use snarvel_core::verbs::clip::Clip;
use snarvel_core::verbs::scene::{Layer, counted};
use snarvel_core::verbs::{Request, Run, Verb, by_name};
use snarvel_files::folder::files_below;
use snarvel_files::save::Written;
use std::path::{Path, PathBuf};

/// Something that happens to the application.
#[derive(Clone, Debug)]
pub enum Event {
    /// A key is pressed.
    Key(Key),
    /// Text is pasted in one piece.
    Paste(String),
    /// The mouse does something at a cell of the screen.
    Mouse(Mouse),
    /// The screen has another size.
    Resize(Size),
}

/// What the mouse does.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Gesture {
    /// Presses, this many times in a row.
    Press(u8),
    /// Moves while pressed.
    Drag,
    /// Turns its wheel, up where negative.
    Wheel(i8),
}

/// What the mouse does, and where.
#[derive(Clone, Copy, Debug)]
pub struct Mouse {
    /// What.
    pub gesture: Gesture,
    /// The cell, column then row.
    pub cell: [u16; 2],
    /// Whether Alt is held.
    pub alt: bool,
    /// Whether Shift is held.
    pub shift: bool,
}

/// What the terminal is to do beside drawing.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Order {
    /// Hand this to the system clipboard.
    Clipboard(String),
}

/// The application.
#[derive(Debug)]
pub struct App {
    /// The open files; never empty.
    pub documents: Vec<Document>,
    /// Which of them is shown.
    pub current: usize,
    /// The layer of the keyboard.
    pub layer: Layer,
    /// The repeat count typed so far.
    pub count: Option<u32>,
    /// What was copied last.
    pub clip: Clip,
    /// What the last verb did, or why it did not.
    pub message: Option<String>,
    /// The open panel.
    pub panel: Option<Panel>,
    /// How large the deck is in Write and in Shape.
    pub deck: [DeckSize; 2],
    /// The colours.
    pub palette: Palette,
    /// The size of the screen.
    pub size: Size,
    /// Which keys run which verbs.
    pub keymap: Keymap,
    /// The folder that files are named from.
    pub folder: PathBuf,
    /// What the strip calls the project.
    pub project: String,
    /// Whether the program is to end.
    pub done: bool,
    /// Whether saving writes files; otherwise it only says what it would write.
    pub writes: bool,
    orders: Vec<Order>,
    now_ms: u64,
    drag_from: Option<Byte>,
}

/// The largest repeat count: more would only be a slip of the finger.
const MOST_TIMES: u32 = 99_999;

/// How many files the open panel gathers: it opens at once in any project.
const MOST_FILES: usize = 50_000;

/// How many lines the wheel turns by.
const WHEEL_LINES: i64 = 3;

impl App {
    /// With `documents`, or an empty one where there are none.
    pub fn new(documents: Vec<Document>, folder: PathBuf, palette: Palette, size: Size) -> App {
        let project = folder.file_name().map(|name| name.to_string_lossy().into_owned()).unwrap_or_default();
        let documents = if documents.is_empty() { vec![Document::untitled()] } else { documents };
        let mut app = App {
            documents,
            current: 0,
            layer: Layer::Write,
            count: None,
            clip: Clip::default(),
            message: None,
            panel: None,
            deck: [DeckSize::Small, DeckSize::Full],
            palette,
            size,
            keymap: Keymap::shipped(false),
            folder,
            project,
            done: false,
            writes: true,
            orders: Vec::new(),
            now_ms: 0,
            drag_from: None,
        };
        app.settle();
        app
    }

    /// The document that is shown.
    pub fn document(&self) -> &Document {
        &self.documents[self.current]
    }

    /// The document that is shown.
    pub fn document_mut(&mut self) -> &mut Document {
        &mut self.documents[self.current]
    }

    /// What the terminal is to do, once.
    pub fn take_orders(&mut self) -> Vec<Order> {
        std::mem::take(&mut self.orders)
    }

    /// The size of the deck now.
    pub fn deck_size(&self) -> DeckSize {
        self.deck[usize::from(self.layer == Layer::Shape)]
    }

    /// Says something on the footline.
    pub fn say(&mut self, message: impl Into<String>) {
        self.message = Some(message.into());
    }

    /// Takes in what happened at `now_ms` of any clock that does not go back.
    pub fn handle(&mut self, event: Event, now_ms: u64) {
        self.now_ms = now_ms;
        // Keys may change the text under a drag: its start is then no place any more.
        if !matches!(event, Event::Mouse(_)) {
            self.drag_from = None;
        }
        match event {
            Event::Key(key) => self.press(key),
            Event::Paste(text) => self.paste(&text),
            Event::Mouse(mouse) => self.mouse(mouse),
            Event::Resize(size) => self.size = size,
        }
        self.settle();
    }

    /// Brings the view to where the primary cursor went, and tells the editor how much is in view.
    fn settle(&mut self) {
        let frame = Frame::of(self);
        let document = &mut self.documents[self.current];
        document.editor.set_view_lines(usize::from(frame.text.rows));
        let here = (document.editor.cursors().primary().head, document.editor.revision());
        if document.seen != Some((here, frame.text)) {
            frame.bring_into_view(document);
            document.seen = Some((here, frame.text));
        }
    }

    fn press(&mut self, key: Key) {
        if let Some(panel) = &mut self.panel {
            let answer = panel.press(key);
            self.answer(answer);
            return;
        }
        match self.keymap.meaning(key, self.layer) {
            Some(Meaning::Verb(verb)) if verb.asks => {
                self.panel = Some(Panel::Argument(Argument { verb, line: InputLine::default() }));
            }
            Some(Meaning::Verb(verb)) => self.run(verb, ""),
            Some(Meaning::Text(c)) => self.run(typing(), c.encode_utf8(&mut [0; 4])),
            Some(Meaning::Digit(digit)) => self.digit(digit),
            None => {
                self.count = None;
                self.say(format!("{key} has no verb here"));
            }
        }
    }

    fn digit(&mut self, digit: u32) {
        let count = self.count.unwrap_or(0).saturating_mul(10).saturating_add(digit).min(MOST_TIMES);
        self.count = (count > 0).then_some(count);
        self.message = None;
    }

    fn paste(&mut self, text: &str) {
        if let Some(panel) = &mut self.panel {
            panel.paste(text);
            return;
        }
        let Some(verb) = by_name("paste") else { return };
        let clip = self.clip.clone();
        let call = Call { verb, argument: "", times: 1, clip: &clip, now_ms: self.now_ms };
        let effects = self.document_mut().editor.paste_text(call, text);
        self.follow(effects);
    }

    /// Runs a verb with its argument, as often as the pending count says.
    pub fn run(&mut self, verb: &'static Verb, argument: &str) {
        let is_step_back = matches!(verb.run, Run::Ask(Request::StepBack));
        let times = if is_step_back { 1 } else { self.count.take().unwrap_or(1) };
        self.message = None;
        let clip = std::mem::take(&mut self.clip);
        let now_ms = self.now_ms;
        let effects = self.document_mut().editor.run(Call { verb, argument, times, clip: &clip, now_ms });
        self.clip = clip;
        let request = effects.request;
        self.follow(effects);
        if let Some(request) = request {
            self.ask(request, times);
        }
    }

    fn follow(&mut self, effects: Effects) {
        self.message = effects.message;
        if let Some(clip) = effects.clip {
            self.orders.push(Order::Clipboard(clip.joined()));
            self.clip = clip;
        }
        if let Some(layer) = effects.layer {
            self.layer = layer;
        }
    }

    /// Runs a verb by itself, as a script does.
    pub fn call(&mut self, verb: &'static Verb, argument: &str) {
        self.run(verb, argument);
        self.settle();
    }

    /// Offers the files of the folder.
    pub fn ask_for_file(&mut self) {
        self.panel = Some(Panel::Open(Opening::of(files_below(&self.folder, MOST_FILES))));
    }

    fn ask(&mut self, request: Request, times: u32) {
        match request {
            Request::Save => self.save(None),
            Request::SaveAll => self.save_all(),
            Request::SaveAs => self.ask_name(None),
            Request::Open => self.ask_for_file(),
            Request::New => self.show_document(Document::untitled()),
            Request::Close => self.close(),
            Request::Quit => self.quit(),
            Request::Deck => self.turn_deck(),
            Request::ChangeLayer => {
                self.layer = if self.layer == Layer::Write { Layer::Shape } else { Layer::Write };
            }
            Request::Scroll(lines) => self.scroll(i64::from(lines) * i64::from(times)),
            Request::Turn(by) => {
                let count = self.documents.len() as i64;
                self.current = (self.current as i64 + i64::from(by)).rem_euclid(count) as usize;
            }
            Request::StepBack => self.step_back(),
        }
    }

    fn turn_deck(&mut self) {
        let size = &mut self.deck[usize::from(self.layer == Layer::Shape)];
        *size = size.next();
    }

    fn scroll(&mut self, lines: i64) {
        let document = self.document_mut();
        let last = document.editor.text().last_line().0 as i64;
        document.view.top = Line((document.view.top.0 as i64 + lines).clamp(0, last) as usize);
    }

    /// One thing back: the pending count, many cursors, the selection, the pins, Shape.
    fn step_back(&mut self) {
        if self.count.take().is_some() {
            return;
        }
        let cursors = self.document().editor.cursors();
        let primary = cursors.primary();
        if cursors.len() > 1 {
            let given_up = cursors.len() - 1;
            let only = cursors.only_primary();
            self.document_mut().editor.set_cursors(only);
            self.say(format!("{} given up", counted(given_up, "cursor")));
        } else if !primary.is_caret() {
            self.document_mut().editor.set_cursors(CursorSet::caret(primary.head));
        } else if self.document_mut().editor.drop_pins() {
            self.say("the pins are gone");
        } else if self.layer == Layer::Shape {
            self.layer = Layer::Write;
        }
    }

    /// Opens `path`, or shows it where it is open already.
    pub fn open(&mut self, path: &Path) {
        let path = self.folder.join(path);
        if let Some(index) = self.documents.iter().position(|document| document.home == Home::File(path.clone())) {
            self.current = index;
            return;
        }
        match Document::open(&path) {
            Ok(document) => {
                let lines = document.editor.text().real_line_count();
                let is_new = !path.exists();
                self.show_document(document);
                let what = if is_new { "a new file".to_owned() } else { counted(lines, "line") };
                let warning = self.document().warning.clone();
                self.say(warning.unwrap_or_else(|| format!("{}: {what}", self.document().name())));
            }
            Err(error) => self.say(error.to_string()),
        }
    }

    /// Shows `document`, in the place of an empty one without a home.
    fn show_document(&mut self, document: Document) {
        let is_spare = |old: &Document| old.home == Home::None && old.editor.text().is_empty() && !old.is_unsaved();
        if is_spare(self.document()) && document.home != Home::None {
            self.documents[self.current] = document;
        } else {
            self.current += 1;
            self.documents.insert(self.current, document);
        }
    }

    fn save(&mut self, then: Option<Matter>) {
        match self.document().home.clone() {
            Home::File(path) => self.save_to(&path, then),
            Home::None => self.ask_name(then),
            Home::Pipe => {
                self.document_mut().editor.mark_saved();
                self.say("the text goes to standard output at the end");
            }
        }
    }

    fn ask_name(&mut self, then: Option<Matter>) {
        self.panel = Some(Panel::SaveAs(SaveAs { then, ..SaveAs::default() }));
    }

    fn save_to(&mut self, path: &Path, then: Option<Matter>) {
        let path = self.folder.join(path);
        if !self.writes {
            self.document_mut().editor.mark_saved();
            self.say("not written: only played");
            return;
        }
        let now_ms = self.now_ms;
        let result = self.document_mut().save_to(&path, now_ms);
        match result {
            Ok(written) => {
                let bytes = self.document().editor.text().len();
                let how = if written == Written::InPlace { ", in place" } else { "" };
                self.say(format!("saved {}: {}{how}", self.document().name(), counted(bytes, "byte")));
                if let Some(matter) = then {
                    self.go_on(matter);
                }
            }
            Err(error) => self.say(error.to_string()),
        }
    }

    fn save_all(&mut self) {
        let here = self.current;
        let mut saved = 0;
        for index in 0..self.documents.len() {
            if self.documents[index].is_unsaved() {
                self.current = index;
                self.save(None);
                if self.panel.is_some() || self.documents[index].is_unsaved() {
                    return;
                }
                saved += 1;
            }
        }
        self.current = here;
        self.say(format!("saved {}", counted(saved, "file")));
    }

    fn unsaved_names(&self, matter: Matter) -> Vec<String> {
        let counts = |index: usize| matter == Matter::Quit || index == self.current;
        let unsaved = self.documents.iter().enumerate().filter(|(index, each)| counts(*index) && each.is_unsaved());
        unsaved.map(|(_, document)| document.name()).collect()
    }

    fn close(&mut self) {
        self.go_on(Matter::Close);
    }

    fn quit(&mut self) {
        self.go_on(Matter::Quit);
    }

    /// Closes or quits, once nothing would be lost by it.
    fn go_on(&mut self, matter: Matter) {
        let names = self.unsaved_names(matter);
        if names.is_empty() {
            self.leave(matter);
        } else {
            self.panel = Some(Panel::Question(Question { matter, names }));
        }
    }

    fn leave(&mut self, matter: Matter) {
        if matter == Matter::Quit || self.document().home == Home::Pipe {
            self.done = true;
            return;
        }
        self.documents.remove(self.current);
        if self.documents.is_empty() {
            self.documents.push(Document::untitled());
        }
        self.current = self.current.min(self.documents.len() - 1);
    }

    fn answer(&mut self, answer: Answer) {
        if answer != Answer::None {
            self.panel = None;
            self.message = None;
        }
        match answer {
            Answer::None | Answer::Left => {}
            Answer::Discard(matter) => self.leave(matter),
            Answer::Open(path) => self.open(&path),
            Answer::Run(name, argument) => {
                if let Some(verb) = by_name(name) {
                    self.run(verb, &argument);
                }
            }
            Answer::SaveTo(path, then) => self.save_to(&path, then),
            Answer::SaveAnd(matter) => {
                let counts = |index: usize| matter == Matter::Quit || index == self.current;
                let unsaved = (0..self.documents.len()).find(|&at| counts(at) && self.documents[at].is_unsaved());
                if let Some(index) = unsaved {
                    self.current = index;
                    self.save(Some(matter).filter(|_| matter == Matter::Close));
                    if matter == Matter::Quit && !self.documents[index].is_unsaved() {
                        self.answer(Answer::SaveAnd(Matter::Quit));
                    }
                } else {
                    self.leave(matter);
                }
            }
        }
    }

    /// The byte at a place as people count it; places past a line's end are its end.
    pub fn byte_at(&self, spot: Spot) -> Byte {
        let text = self.document().editor.text();
        let line = Line(spot.line.saturating_sub(1).min(text.last_line().0));
        let end = text.content_span(line).end;
        let mut at = text.line_start(line);
        for _ in 1..spot.col {
            if at >= end {
                break;
            }
            at = text.next_boundary(at);
        }
        at
    }

    /// Puts a single caret at `spot`.
    pub fn put_caret(&mut self, spot: Spot) {
        let at = self.byte_at(spot);
        self.document_mut().editor.set_cursors(CursorSet::caret(at));
        self.settle();
    }

    /// Selects from `from` to `to`.
    pub fn select(&mut self, from: Spot, to: Spot) {
        let selection = Selection::new(self.byte_at(from), self.byte_at(to));
        self.document_mut().editor.set_cursors(CursorSet::one(selection));
        self.settle();
    }

    fn mouse(&mut self, mouse: Mouse) {
        if let Gesture::Wheel(turns) = mouse.gesture {
            self.scroll(i64::from(turns) * WHEEL_LINES);
            return;
        }
        if self.panel.is_some() {
            return;
        }
        let frame = Frame::of(self);
        if let Some(place) = frame.place_under(self.document(), mouse.cell) {
            self.mouse_at(mouse, place);
        }
    }

    /// What the mouse does at a place of the text.
    pub fn mouse_at(&mut self, mouse: Mouse, at: Byte) {
        let document = &mut self.documents[self.current];
        let cursors = document.editor.cursors();
        let anchor = self.drag_from.unwrap_or(cursors.primary().anchor);
        let set = match (mouse.gesture, mouse.alt, mouse.shift) {
            (Gesture::Press(1), true, _) => toggled(cursors, at),
            (Gesture::Press(1), false, true) => CursorSet::one(Selection::new(cursors.primary().anchor, at)),
            (Gesture::Press(2), ..) => CursorSet::one(word_at(document, at)),
            (Gesture::Press(3), ..) => CursorSet::one(line_at(document, at)),
            (Gesture::Drag, true, _) => boxed(document, anchor, at),
            (Gesture::Drag, false, _) => CursorSet::one(Selection::new(anchor, at)),
            _ => CursorSet::caret(at),
        };
        if matches!(mouse.gesture, Gesture::Press(_)) {
            self.drag_from = Some(if mouse.shift { set.primary().anchor } else { at });
        }
        document.editor.set_cursors(set);
        self.message = None;
    }
}

/// With a caret more, or one less where one stands already.
fn toggled(cursors: &CursorSet, at: Byte) -> CursorSet {
    let is_here = |each: Selection| each.is_caret() && each.head == at;
    if cursors.iter().any(is_here) {
        return cursors.retaining(|_, each| !is_here(each)).unwrap_or_else(|| cursors.clone());
    }
    cursors.with_primary(&[Selection::caret(at)])
}

fn word_at(document: &Document, at: Byte) -> Selection {
    let span = document.editor.text().word_at(at, document.editor.language().word_rule());
    Selection::over(span.unwrap_or(Span::at(at)), Direction::Forward)
}

fn line_at(document: &Document, at: Byte) -> Selection {
    let text = document.editor.text();
    Selection::over(text.line_span(text.line_of(at)), Direction::Forward)
}

/// The box between two corners: a selection on every line that reaches its left column.
fn boxed(document: &Document, from: Byte, to: Byte) -> CursorSet {
    let (text, tabs) = (document.editor.text(), document.editor.layout().tabs);
    let (anchor, head): (Cell, Cell) = (text.cell_of(from, tabs), text.cell_of(to, tabs));
    let (first, last) = (text.line_of(from), text.line_of(to));
    let reaches = |line: &Line| text.width_of(*line, tabs) >= anchor.min(head);
    let on_line = |line: Line| Selection::new(text.place_at(line, anchor, tabs).at, text.place_at(line, head, tabs).at);
    let lines = (first.min(last).0..=first.max(last).0).map(Line).filter(reaches);
    let list: Vec<Selection> = lines.map(on_line).collect();
    let primary = if last >= first { list.len() - 1 } else { 0 };
    CursorSet::of(list, primary)
}
