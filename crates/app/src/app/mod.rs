//! The application: documents, layer, pending count, panel; what an event does to them.
//!
//! It knows no terminal: events come in as values, a frame is drawn from it as a value, and what the terminal
//! is to do beside drawing waits in [`App::take_orders`]. `play`, the tests and the screen run the same code.

mod desk;
mod files;
mod mouse;
mod outline;
mod places;
mod replacing;
mod replacing_in_files;
mod safety;
mod saving;
mod sift;
#[cfg(test)]
mod slow;

use crate::document::Document;
use crate::keys::Key;
use crate::keys::keymap::{Keymap, Meaning, typing};
use crate::palette::Palette;
use crate::panels::outline::Offer;
use crate::panels::roster::RosterPanel;
use crate::panels::shelf::ShelfPanel;
use crate::panels::trail::TrailPanel;
use crate::panels::{Answer, Argument, Line as InputLine, Notice, Panel};
use crate::screen::layout::{DeckSize, Frame, Size};
use crate::session::Store;
use crate::settings::{Problem, Settings};
use crate::wake::Waker;
use desk::Doing;
use places::Places;
use safety::Safety;
use saving::Save;
pub use sift::Sifted;
use snarvel_core::cursors::CursorSet;
use snarvel_core::editor::{Call, Effects, Manner};
use snarvel_core::history::StepId;
use snarvel_core::units::{Byte, Line};
use snarvel_core::verbs::clip::{Clip, Shelf};
use snarvel_core::verbs::scene::{Layer, counted};
use snarvel_core::verbs::{Request, Run, Verb, by_name};
use snarvel_files::save::{Disk, Layer as DiskLayer};
use std::fmt;
use std::path::PathBuf;
use std::sync::Arc;

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
    /// The terminal is looked at again: others may have changed files meanwhile.
    Focus,
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
    /// What was copied of late.
    pub shelf: Shelf,
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
    /// What the person has settled.
    pub settings: Settings,
    /// Where other programs leave what they copied; none where nothing of theirs is looked at.
    pub clipboard: Option<Box<dyn Clipboard>>,
    /// Whether nothing but the text and the footline is shown.
    pub is_full_view: bool,
    /// Wakes the screen when something was found behind it.
    pub waker: Waker,
    /// What was looked for before.
    pub sifted: Sifted,
    /// Files opened of late, the latest first.
    pub recent: Vec<PathBuf>,
    safety: Safety,
    /// What is being written.
    saves: Vec<Save>,
    doing: Option<Doing>,
    /// How files are written.
    pub disk: DiskLayer,
    /// Where sessions and bookmarks are kept; none where nothing is.
    pub store: Option<Store>,
    /// The marked lines of files that were closed, with their words.
    pub marked_when_closed: Vec<(PathBuf, Vec<(Line, String)>)>,
    /// Where keys that are bound are kept; none where nothing is.
    pub keys_file: Option<PathBuf>,
    places: Places,
    orders: Vec<Order>,
    now_ms: u64,
    drag_from: Option<Byte>,
}

/// Where other programs leave what they copied.
pub trait Clipboard: fmt::Debug {
    /// What is there, if it is text. It is asked for at every paste, so it must not take long.
    fn read(&mut self) -> Option<String>;
}

/// The largest repeat count: more would only be a slip of the finger.
const MOST_TIMES: u32 = 99_999;

impl App {
    /// With `documents`, or an empty one where there are none.
    pub fn new(documents: Vec<Document>, folder: PathBuf, palette: Palette, size: Size) -> App {
        // Files are named from it whatever becomes of the folder in which the program was started.
        let folder = std::path::absolute(&folder).unwrap_or(folder);
        let project = folder.file_name().map(|name| name.to_string_lossy().into_owned()).unwrap_or_default();
        let documents = if documents.is_empty() { vec![Document::untitled(Manner::default())] } else { documents };
        let mut app = App {
            documents,
            current: 0,
            layer: Layer::Write,
            count: None,
            shelf: Shelf::default(),
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
            settings: Settings::default(),
            clipboard: None,
            is_full_view: false,
            waker: Waker::default(),
            sifted: Sifted::default(),
            recent: Vec::new(),
            safety: Safety::default(),
            saves: Vec::new(),
            doing: None,
            disk: Arc::new(Disk),
            store: None,
            marked_when_closed: Vec::new(),
            keys_file: None,
            places: Places::default(),
            orders: Vec::new(),
            now_ms: 0,
            drag_from: None,
        };
        app.settle();
        app
    }

    /// The document that verbs act on.
    pub fn document(&self) -> &Document {
        &self.documents[self.current]
    }

    /// The document that is drawn: the one that verbs act on, or how it was while the trail is looked at.
    pub fn shown(&self) -> &Document {
        let then = self.panel.as_ref().and_then(|panel| match panel {
            Panel::Trail(trail) => trail.then.as_ref(),
            Panel::Sift(sift) => match &sift.then {
                Some(trial) => Some(&trial.document),
                None => sift.project.as_ref().and_then(|project| project.shown.as_ref()).map(|(_, shown)| &**shown),
            },
            _ => None,
        });
        then.unwrap_or_else(|| self.document())
    }

    /// Takes over what a person has settled: for what is opened from now on, and for the decks.
    pub fn settle_for(&mut self, settings: Settings) {
        self.deck = settings.decks;
        self.keymap = Keymap::new(false, settings.keyboard, self.keymap.own());
        self.settings = settings;
    }

    /// Tells what is wrong in the settings.
    pub fn tell_problems(&mut self, problems: &[Problem]) {
        if let Some(first) = problems.first() {
            let title = format!("what is wrong in {}; all else in it is in force", first.file.display());
            let lines = problems.iter().map(ToString::to_string).collect();
            self.panel = Some(Panel::Notice(Notice { title, lines }));
        }
    }

    /// The document that verbs act on.
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
        self.going(|app| match event {
            Event::Key(key) => app.press(key),
            Event::Paste(text) => app.paste(&text),
            Event::Mouse(mouse) => app.mouse(mouse),
            Event::Resize(size) => app.size = size,
            Event::Focus => app.look_outside_files(),
        });
    }

    /// Does something that may move the caret: a jump leaves a place to go back to, and the view follows.
    fn going(&mut self, doing: impl FnOnce(&mut App)) {
        let before = self.place_here();
        let forgotten = self.document().editor.history().forgotten();
        doing(self);
        if forgotten == 0 && self.document().editor.history().forgotten() > 0 {
            self.say("the history is full: its oldest steps are forgotten (history_mb in the settings)");
        }
        self.note_changes();
        self.note_jump(before);
        self.keep_up();
        self.settle();
    }

    /// Brings the view to where the primary cursor went, and tells the editor how much is in view.
    fn settle(&mut self) {
        let frame = Frame::of(self);
        let document = &mut self.documents[self.current];
        document.editor.set_view_lines(usize::from(frame.text.rows));
        document.follow_caret(frame.text);
        match &mut self.panel {
            Some(Panel::Trail(trail)) => {
                trail.then.iter_mut().for_each(|then| then.follow_caret(frame.seen));
            }
            Some(Panel::Shelf(shelf)) => {
                shelf.preview.iter_mut().for_each(|preview| preview.follow_caret(frame.preview));
            }
            _ => {}
        }
    }

    fn press(&mut self, key: Key) {
        if let Some(panel) = &mut self.panel {
            let answer = panel.press(key, &self.keymap);
            self.answer(answer);
            return;
        }
        match self.keymap.meaning(key, self.layer) {
            Some(Meaning::Verb(verb)) if verb.asks => {
                self.panel = Some(Panel::Argument(Argument { verb, line: InputLine::default() }));
            }
            Some(Meaning::Verb(verb)) => self.run(verb, ""),
            Some(Meaning::Call(verb, argument)) => self.run(verb, &argument),
            Some(Meaning::Insert(text)) => self.run(typing(), &text),
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
            let answer = panel.paste(text);
            self.answer(answer);
            return;
        }
        let Some(verb) = by_name("paste") else { return };
        let clip = self.shelf.newest();
        let call = Call { verb, argument: "", times: 1, clip: &clip, now_ms: self.now_ms };
        let effects = self.document_mut().editor.paste_text(call, text);
        self.follow(effects);
    }

    /// Runs a verb with its argument, as often as the pending count says.
    pub fn run(&mut self, verb: &'static Verb, argument: &str) {
        let is_step_back = matches!(verb.run, Run::Ask(Request::StepBack));
        let times = if is_step_back { 1 } else { self.count.take().unwrap_or(1) };
        self.message = None;
        if verb.name.starts_with("paste") {
            self.look_outside();
        }
        let clip = self.shelf.newest();
        let now_ms = self.now_ms;
        let effects = self.document_mut().editor.run(Call { verb, argument, times, clip: &clip, now_ms });
        let request = effects.request;
        self.follow(effects);
        if let Some(request) = request {
            self.ask(request, times);
        }
    }

    /// What another program has copied since is the newest clip.
    fn look_outside(&mut self) {
        let text = self.clipboard.as_mut().and_then(|clipboard| clipboard.read());
        if let Some(text) = text.filter(|text| !text.is_empty() && *text != self.shelf.newest().joined()) {
            self.shelf.put(Clip::of_text(&text));
        }
    }

    fn follow(&mut self, effects: Effects) {
        self.message = effects.message;
        if let Some(clip) = effects.clip {
            self.put_on_shelf(clip);
        }
        if let Some(layer) = effects.layer {
            self.layer = layer;
        }
    }

    /// Copies: onto the shelf, and for other programs.
    fn put_on_shelf(&mut self, clip: impl Into<Arc<Clip>>) {
        let clip = clip.into();
        self.orders.push(Order::Clipboard(clip.joined()));
        self.shelf.put(clip);
    }

    /// Runs a verb by itself, as a script does.
    pub fn call(&mut self, verb: &'static Verb, argument: &str) {
        self.going(|app| app.run(verb, argument));
    }

    fn ask(&mut self, request: Request, times: u32) {
        match request {
            Request::Save => self.save(None),
            Request::SaveAll => self.save_all(),
            Request::SaveAs => self.ask_name(None),
            Request::Open => self.ask_for_file(),
            Request::New => {
                let mut document = Document::untitled(self.settings.manner);
                self.begin_journal(&mut document);
                self.show_document(document);
            }
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
            Request::Place(direction) => self.go_places(direction, times),
            Request::Shelf => self.show_shelf(),
            Request::Roster => self.panel = Some(Panel::Roster(RosterPanel::of(self.document()))),
            Request::Trail => self.show_trail(),
            Request::Outline => self.show_outline(Offer::Outline),
            Request::Go => self.show_outline(Offer::Everything),
            Request::Sift => self.show_sift(),
            Request::Lookup => self.show_lookup(),
            Request::Folder => self.show_files(),
            Request::KeySheet => self.ask_sheet(),
            Request::ToUtf8 => self.make_utf8(),
            Request::FullView => self.is_full_view = !self.is_full_view,
        }
    }

    fn show_shelf(&mut self) {
        self.look_outside();
        if self.shelf.newest().is_empty() {
            self.say("nothing was copied yet");
            return;
        }
        self.panel = Some(Panel::Shelf(ShelfPanel::of(&self.shelf, self.document().editor.language().clone())));
    }

    fn show_trail(&mut self) {
        if self.document().editor.history().steps().len() == 0 {
            self.say("nothing was changed yet");
            return;
        }
        self.panel = Some(Panel::Trail(TrailPanel::of(self.document(), self.now_ms)));
    }

    /// Looks at another state of the text, without going there.
    fn look_at(&mut self, id: StepId) {
        let then = (id != self.document().editor.history().here()).then(|| self.document().as_it_was(id));
        if let Some(Panel::Trail(trail)) = &mut self.panel {
            trail.then = then;
        }
    }

    fn paste_clip(&mut self, clip: Arc<Clip>) {
        self.put_on_shelf(clip);
        let clip = self.shelf.newest();
        let Some(verb) = by_name("paste") else { return };
        let call = Call { verb, argument: "", times: 1, clip: &clip, now_ms: self.now_ms };
        let effects = self.document_mut().editor.run(call);
        self.follow(effects);
    }

    fn turn_deck(&mut self) {
        let size = &mut self.deck[usize::from(self.layer == Layer::Shape)];
        *size = size.next();
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

    fn answer(&mut self, answer: Answer) {
        let stays = matches!(
            answer,
            Answer::None
                | Answer::Look(_)
                | Answer::DropClip(_)
                | Answer::Lead(_)
                | Answer::ShowLine(_)
                | Answer::Sift(_)
                | Answer::ClearBookmark(_)
                | Answer::Walk(_)
                | Answer::Files(_)
                | Answer::Bind(_)
                | Answer::ResetKeys
        );
        let about = match &self.panel {
            Some(Panel::Diff(diff)) => Some(diff.about),
            _ => None,
        };
        if !stays {
            self.leave_outline(&answer);
            self.leave_sift(&answer);
            self.panel = None;
            self.message = None;
        }
        match answer {
            Answer::None | Answer::Left => {}
            Answer::PassOn(key) => self.press(key),
            Answer::Discard(matter) => self.leave(matter),
            Answer::Open(path) => self.open(&path),
            Answer::Run(name, argument) => {
                if let Some(verb) = by_name(name) {
                    self.run(verb, &argument);
                }
            }
            Answer::SaveTo(path, then) => self.save_to(&self.folder.join(path), then),
            Answer::SaveAnd(matter) => self.save_and(matter),
            Answer::Paste(clip) => self.paste_clip(clip),
            Answer::Copy(clip) => {
                self.say("it is what paste puts in now");
                self.put_on_shelf(clip);
            }
            Answer::DropClip(index) => self.shelf.drop_clip(index),
            Answer::Look(id) => self.look_at(id),
            Answer::Lead(index) => {
                let set = self.document().editor.cursors().leading(index);
                self.document_mut().editor.set_cursors(set);
                if let Some(Panel::Roster(roster)) = &mut self.panel {
                    roster.look_around(&self.documents[self.current]);
                }
            }
            Answer::Keep(kept) => self.keep_cursors(&kept),
            Answer::ShowLine(line) => self.show_line(line),
            Answer::GoToLine(line) => self.go_to(line),
            Answer::Sift(wanted) => self.carry_out_sift(wanted),
            Answer::ClearBookmark(line) => self.clear_bookmark(line),
            Answer::Verb(name) => self.run_named(name),
            Answer::Walk(which) => self.walk_anew(which),
            Answer::Files(deed) => self.do_to_file(deed),
            Answer::Bind(bound) => self.bind(bound),
            Answer::ResetKeys => self.reset_keys(),
            Answer::Choose(choice) => {
                if let Some(about) = about {
                    self.choose(about, choice);
                }
            }
            Answer::Sheet(path) => self.draw_sheet(&path),
            Answer::GoToStep(id) => {
                if self.document_mut().editor.go_to_step(id) {
                    self.say("the text is as it was then; the step left is on the trail still");
                }
            }
        }
    }

    /// Drops the cursors that are not in `kept`, which is in order.
    fn keep_cursors(&mut self, kept: &[usize]) {
        let cursors = self.document().editor.cursors();
        let all = cursors.len();
        match cursors.retaining(|index, _| kept.binary_search(&index).is_ok()) {
            Some(set) if set.len() < all => {
                self.say(format!("kept {} of {all}", counted(set.len(), "cursor")));
                self.document_mut().editor.set_cursors(set);
            }
            Some(_) => {}
            None => self.say("no cursor would be left: all are kept"),
        }
    }
}
