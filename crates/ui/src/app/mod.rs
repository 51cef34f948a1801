//! The application: the workspace, what surrounds it on the screen, and the open panel; what an event does to them.
//!
//! It knows no terminal: what the terminal tells comes in as values, a frame is drawn from it as a value, and what the terminal is
//! to do beside drawing is in [`Context::orders`]. `play`, the tests and the screen run the same code.

mod actions;
mod drilling;
mod helping;
mod learning;
mod pointing;
mod presenting;
mod telling;

use crate::context::{Context, Rooms, TerminalOrder};
use crate::keys::Key;
use crate::keys::keymap::Meaning;
use crate::keys::script::ScriptStep;
use crate::mouse::{Mouse, MouseState};
use crate::palette::Palette;
use crate::panels::argument::{ArgumentPanel, AskedBy};
use crate::panels::lookup::LookupPanel;
use crate::panels::news::News;
use crate::panels::panel::{NextKey, NextKeys, Panel, PanelAction, SwallowedEnter};
use crate::presenting::Press;
use crate::problem::Problem;
use crate::screen;
use crate::screen::layout::{Frame, shell_rows};
use crate::screen::text::request_colours;
use crate::settings::Settings;
use crate::size::Size;
use ratatui::buffer::Buffer as Grid;
use snarvel_task::waits;
use snarvel_workspace::command::Command;
use snarvel_workspace::places::Before;
use snarvel_workspace::registry::action::Action;
use snarvel_workspace::registry::verb::{Does, StructureNeed, Verb};
use snarvel_workspace::view::Room;
use snarvel_workspace::workspace::Workspace;
use std::any::Any;
use std::time::Instant;

/// Something that the terminal tells.
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

/// The application.
#[derive(Debug)]
pub struct App {
    /// The workspace and what surrounds it.
    pub context: Context,
    /// The open panel.
    panel: Option<Box<dyn Panel>>,
    /// What takes the keys after a panel that has closed.
    next_keys: Option<Box<dyn NextKeys>>,
    mouse: MouseState,
    /// Where the caret was when the open panel was opened: what is looked at meanwhile is no jump.
    panel_from: Option<Before>,
}

/// The largest repeat count: more would only be a slip of the finger.
const MOST_TIMES: u32 = 99_999;

impl App {
    /// With `workspace`, the shipped keys and settings.
    #[must_use]
    pub fn new(workspace: Workspace, palette: Palette, size: Size) -> App {
        let context = Context::new(workspace, palette, size);
        let mut app = App { context, panel: None, next_keys: None, mouse: MouseState::default(), panel_from: None };
        app.settle();
        app
    }

    /// The open panel.
    #[must_use]
    pub fn panel(&self) -> Option<&dyn Panel> {
        self.panel.as_deref()
    }

    /// What was said last.
    #[must_use]
    pub fn message(&self) -> Option<&str> {
        self.context.workspace.told.message.as_deref()
    }

    /// Whether the program is to end.
    #[must_use]
    pub fn is_done(&self) -> bool {
        self.context.workspace.told.is_done
    }

    /// Takes over what a person has set: for what is opened from now on, and for the decks.
    pub fn take_settings(&mut self, settings: Settings) {
        self.context.look.decks = settings.decks;
        self.context.take_settings(settings);
    }

    /// Tells what is wrong in the settings.
    pub fn tell_problems(&mut self, problems: &[Problem]) {
        if let Some(first) = problems.first() {
            let title = format!("what is wrong in {}; all else in it is in force", first.file.display());
            let lines = problems.iter().map(ToString::to_string).collect();
            self.open(News { title, lines });
        }
    }

    /// What the terminal is to do, once.
    pub fn take_orders(&mut self) -> Vec<TerminalOrder> {
        std::mem::take(&mut self.context.orders)
    }

    /// Takes in what the terminal told at `now_ms` of any clock that does not go back.
    pub fn handle(&mut self, event: Event, now_ms: u64) {
        self.context.workspace.now_ms = now_ms;
        let before = self.context.workspace.place_here();
        match event {
            Event::Key(key) => {
                let before_key = self.before_key();
                self.press(key);
                let performed = self.context.learning.performed.take();
                self.show_key(key, performed.as_ref());
                if let Some(before_key) = before_key {
                    self.after_key(before_key, performed);
                }
            }
            Event::Paste(text) => {
                self.paste(&text);
                self.context.look.presenting.note(Press::Pasted(text.chars().count()));
            }
            Event::Mouse(mouse) => self.point(mouse),
            Event::Resize(size) => self.context.look.size = size,
            Event::Focus => self.context.workspace.look_outside(),
        }
        self.finish(before);
    }

    /// Runs a command by itself, as a script does. A count that was typed before it counts.
    pub fn call(&mut self, command: &Command) {
        let before = self.context.workspace.place_here();
        self.next_keys = None;
        self.perform_counted(command.clone());
        self.finish(before);
    }

    /// Does one thing of a script; time is still.
    pub fn act(&mut self, action: &ScriptStep) {
        match action {
            ScriptStep::Key(key) => self.handle(Event::Key(*key), 0),
            ScriptStep::Paste(text) => self.handle(Event::Paste(text.clone()), 0),
            ScriptStep::Run(command) => self.call(command),
            ScriptStep::Point(command) => {
                self.call(command);
                self.context.workspace.spoil_recording("a place came from a click");
            }
            ScriptStep::Refuse(why) => self.context.say(why.clone()),
        }
    }

    /// Takes in what has happened in the background.
    pub fn pump(&mut self) {
        let before = self.context.workspace.place_here();
        while let Some(event) = self.context.workspace.tasks.poll() {
            self.dispatch(event);
        }
        self.finish(before);
    }

    /// Makes ready for a step of a script: what the step may look at is waited for, as a user does who has seen what the last
    /// one did. A verb that asks nothing of the structure of the text waits for none.
    pub fn prepare(&mut self, step: &ScriptStep) {
        let keyboard = &self.context.keyboard;
        let is_asked =
            |verb: &Verb| matches!(verb.does, Does::Ask(_) | Does::OfWorkspace(_) | Does::OfWorkspaceOrAsk(..));
        let is_plain = |verb: &Verb| verb.structure == StructureNeed::Never && !is_asked(verb);
        let needs_nothing = match step {
            ScriptStep::Run(command) | ScriptStep::Point(command) => is_plain(command.verb),
            ScriptStep::Key(key) => match keyboard.keymap.meaning(*key, keyboard.layer) {
                Some(Meaning::Verb(verb) | Meaning::Call(verb, _)) => is_plain(verb),
                Some(Meaning::Insert(_) | Meaning::Text(_) | Meaning::Digit(_)) | None => true,
            },
            ScriptStep::Paste(_) | ScriptStep::Refuse(_) => true,
        };
        // What is offered decides what these do.
        let is_helped = matches!(step, ScriptStep::Key(key) if App::may_be_helped(*key));
        let needs_nothing = needs_nothing && !(is_helped && self.context.workspace.has_asked_for_offers());
        let needs_nothing = needs_nothing && !self.context.workspace.has_asked_for_meaning();
        if needs_nothing && self.panel.is_none() && !self.context.look.is_drawn {
            self.pump();
        } else {
            self.settle_background();
        }
    }

    /// Waits for everything that goes on in the background of what is on the screen: for scripts and tests.
    pub fn settle_background(&mut self) {
        self.context.workspace.settle_structure();
        self.context.workspace.settle_offers();
        loop {
            self.pump();
            self.context.workspace.settle_offers();
            let frame = self.frame();
            self.request_colours(&frame);
            self.context.workspace.keep_servers();
            self.context.workspace.keep_echo();
            self.keep_learning();
            let is_pending = self.context.workspace.buffers().iter().any(|buffer| buffer.parsing.is_pending());
            let workspace = &self.context.workspace;
            let is_pending =
                is_pending || workspace.awaits_offers() || workspace.awaits_echo() || workspace.awaits_runs();
            let is_pending = is_pending || self.context.learning.is_trying();
            let until = self.context.workspace.awaits_meaning();
            if !is_pending && until.is_none() {
                return;
            }
            let left = until.map(|until| until.saturating_duration_since(Instant::now()));
            let longest = if is_pending { waits::FOR_SCRIPTS } else { left.unwrap_or(waits::FOR_SCRIPTS) };
            match self.context.workspace.tasks.receive(longest) {
                Some(event) => {
                    let before = self.context.workspace.place_here();
                    self.dispatch(event);
                    self.finish(before);
                }
                None if is_pending => return,
                None => self.context.workspace.give_up_waiting(),
            }
        }
    }

    /// Everything that follows an event: what was asked and told, the views, the journals, and what is awaited.
    fn finish(&mut self, before: Before) {
        self.settle_all(before);
        while let Some(event) = self.context.workspace.tasks.receive_awaited() {
            self.dispatch(event);
            self.settle_all(before);
        }
    }

    fn settle_all(&mut self, before: Before) {
        self.take_notices();
        self.take_asks();
        self.ask_what_waited();
        // Another panel may have come in the place of the one that rehearsed.
        if !self.panel.as_ref().is_some_and(|panel| panel.rehearses()) {
            self.context.workspace.end_rehearsal();
        }
        self.context.workspace.settle();
        self.next_keys.iter_mut().for_each(|next_keys| next_keys.settle(&mut self.context));
        // While a panel is open the text is only looked at.
        match (self.panel.is_some(), self.panel_from) {
            (true, None) => self.panel_from = Some(before),
            (true, Some(_)) => {}
            (false, from) => {
                self.panel_from = None;
                self.context.workspace.note_jump(from.unwrap_or(before));
            }
        }
        self.context.workspace.keep_up();
        let Context { tour, workspace, .. } = &mut self.context;
        tour.iter_mut().for_each(|tour| tour.follow(workspace));
        self.follow_drill();
        self.settle();
    }

    /// Brings each view to where its primary cursor went.
    fn settle(&mut self) {
        let frame = self.frame();
        let focus = self.context.workspace.views.focus();
        for pane in &frame.panes {
            let (buffer, view) = self.context.workspace.pair_mut(pane.view);
            view.layout.rows = usize::from(pane.text.rows);
            view.layout.cols = u32::from(pane.text.cols);
            let cols = view.layout.cols;
            view.preview.iter_mut().for_each(|preview| preview.view.layout.cols = cols);
            let has_panel = self.panel.is_some() && pane.view == focus;
            if !has_panel {
                view.follow_caret(buffer, pane.room());
            }
            view.hold_top(buffer);
        }
        self.context.workspace.scroll_together();
        self.light();
        self.place_panel(&frame);
        if let Some(panel) = &mut self.panel {
            panel.follow(&mut self.context);
            panel.settle(&mut self.context);
        }
    }

    /// Begins what may wait until the frame is drawn: a thread that is woken before it would take the processor from it.
    pub fn after_frame(&mut self) {
        let frame = self.frame();
        self.request_colours(&frame);
        self.context.workspace.ask_queued();
        self.context.workspace.keep_servers();
        self.context.workspace.keep_names();
        self.context.workspace.keep_echo();
        self.keep_learning();
    }

    fn request_colours(&mut self, frame: &Frame) {
        for pane in &frame.panes {
            let (buffer, view) = self.context.workspace.pair_mut(pane.view);
            request_colours((buffer, view), usize::from(pane.text.rows));
        }
    }

    /// Tells the panel what room there is.
    fn place_panel(&mut self, frame: &Frame) {
        let size = self.context.look.size;
        // The same room whether it has the keys or not: nothing is drawn anew when it gets them.
        self.context.workspace.fit_shells([shell_rows(size).saturating_sub(1), size.cols]);
        let beside = Room { cols: frame.beside.cols, rows: frame.beside.rows };
        self.context.look.rooms = Rooms { seen: frame.focused(&self.context).seen_room(), beside };
        self.context.workspace.told.is_asking = self.panel.is_some();
    }

    /// Where everything is on the screen.
    #[must_use]
    pub fn frame(&self) -> Frame {
        screen::frame_of(&self.context, self.panel())
    }

    /// Draws everything into `grid`, which has the size of the screen.
    pub fn draw(&self, grid: &mut Grid) {
        screen::draw(&self.context, self.panel(), grid);
    }

    /// Opens a panel in place of the one that is open.
    pub(super) fn open(&mut self, panel: impl Panel) {
        self.open_boxed(Box::new(panel));
    }

    fn open_boxed(&mut self, panel: Box<dyn Panel>) {
        self.panel = Some(panel);
        let frame = self.frame();
        self.place_panel(&frame);
        if let Some(panel) = &mut self.panel {
            panel.begin(&mut self.context);
        }
    }

    /// Lets the open panel do something, and does what becomes of it.
    pub(super) fn with_panel(&mut self, act: impl FnOnce(&mut dyn Panel, &mut Context) -> PanelAction) {
        let Some(panel) = &mut self.panel else { return };
        panel.follow(&mut self.context);
        match act(&mut **panel, &mut self.context) {
            PanelAction::Stay => {}
            PanelAction::Close => {
                self.context.keyboard.count = None;
                self.close_panel();
            }
            PanelAction::CloseThen(next_keys) => {
                self.close_panel();
                self.next_keys = Some(next_keys);
            }
            PanelAction::Run(command) => {
                self.note_looked_up(&command);
                self.close_panel();
                self.perform_counted(command);
            }
            PanelAction::Open(next) => {
                self.close_panel();
                self.open_boxed(next);
            }
            PanelAction::PassOn(key) => {
                self.close_panel();
                self.press(key);
            }
        }
    }

    /// Remembers what is run from lookup, with what it is given when it asks for that.
    fn note_looked_up(&mut self, command: &Command) {
        let panel: Option<&dyn Any> = self.panel.as_deref().map(|panel| panel as &dyn Any);
        let is_lookup = panel.is_some_and(<dyn Any>::is::<LookupPanel>);
        let argument = panel.and_then(|panel| panel.downcast_ref::<ArgumentPanel>());
        let is_asked = argument.is_some_and(|argument| argument.asked_by == AskedBy::Lookup);
        let repeats = matches!(command.verb.does, Does::Ask(Action::RepeatLookup));
        if (is_lookup || is_asked) && !repeats {
            self.context.keyboard.looked_up = Some(command.clone());
        }
    }

    /// Closes the open panel, if there is one, and what it showed in the place of the text.
    pub fn close_panel(&mut self) {
        if self.panel.take().is_some() {
            self.context.workspace.active_pair_mut().1.preview = None;
        }
    }

    fn press(&mut self, key: Key) {
        self.context.workspace.told.message = None;
        if self.press_in_replay(key) {
            return;
        }
        if let Some(mut next_keys) = self.next_keys.take() {
            let outcome = next_keys.press(key, &mut self.context);
            if matches!(outcome, NextKey::Taken | NextKey::Left) {
                self.next_keys = Some(next_keys);
            }
            if matches!(outcome, NextKey::Taken | NextKey::TakenAsLast) {
                return;
            }
        }
        if self.panel.is_some() {
            self.with_panel(|panel, context| panel.press(key, context));
            if self.panel.is_none() && key.typed().is_some() {
                self.next_keys = Some(Box::new(SwallowedEnter::now(&self.context)));
            }
            self.take_drill_orders();
            return;
        }
        if self.press_helped(key) {
            return;
        }
        let keyboard = &mut self.context.keyboard;
        match keyboard.keymap.meaning(key, keyboard.layer) {
            Some(Meaning::Verb(verb)) => self.perform_counted(Command::plain(self.verb_of_key(verb))),
            Some(Meaning::Call(verb, argument)) => match Command::read(verb, &argument) {
                Ok(command) => self.perform_counted(command),
                Err(wrong) => self.context.say(wrong.to_string()),
            },
            Some(Meaning::Insert(text)) => self.perform_counted(Command::typing(&text)),
            Some(Meaning::Text(c)) => self.perform_counted(Command::typing(c.encode_utf8(&mut [0; 4]))),
            Some(Meaning::Digit(digit)) => {
                let count = keyboard.count.unwrap_or(0).saturating_mul(10).saturating_add(digit).min(MOST_TIMES);
                keyboard.count = (count > 0).then_some(count);
            }
            None => {
                keyboard.count = None;
                self.context.say(format!("{key} has no verb here"));
            }
        }
    }

    /// Runs a command as often as was typed before it.
    fn perform_counted(&mut self, command: Command) {
        let is_step_back = command.verb.does.asks_for(Action::StepBack);
        let count = if is_step_back { None } else { self.context.keyboard.count.take() };
        self.perform(&Command { count: count.or(command.count), ..command });
    }

    fn paste(&mut self, text: &str) {
        self.context.workspace.told.message = None;
        if self.panel.is_some() {
            let first = text.lines().next().unwrap_or("");
            self.with_panel(|panel, context| panel.paste(if panel.takes_lines() { text } else { first }, context));
        } else {
            let effects = self.context.workspace.paste_text(text);
            self.context.follow(effects);
        }
    }
}
