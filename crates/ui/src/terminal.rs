//! The terminal: what is switched on at the start is switched off again at every end, panics and signals too.
//!
//! Two threads wait, one for the terminal's events and one for signals; the application itself sleeps until
//! one of them has something. Nothing wakes it otherwise.

use crate::app::{App, Event};
use crate::background::{self, LateAnswer};
use crate::context::TerminalOrder;
use crate::guardian::Guardian;
use crate::keys::Key;
use crate::keys::layer::Protocol;
use crate::mouse::{Gesture, Mouse};
use crate::screen;
use crate::settings::AUTO;
use crate::size::Size;
use crate::system_clipboard::{Clipboard, Display};
use anyhow::{Context, Result};
use crossterm::clipboard::CopyToClipboard;
use crossterm::event::{
    self, DisableBracketedPaste, DisableFocusChange, DisableMouseCapture, EnableBracketedPaste, EnableFocusChange,
    EnableMouseCapture, KeyCode, KeyEvent, KeyEventKind, KeyModifiers, KeyboardEnhancementFlags, MouseButton,
    MouseEvent, MouseEventKind, PopKeyboardEnhancementFlags, PushKeyboardEnhancementFlags,
};
use crossterm::terminal::{
    BeginSynchronizedUpdate, Clear, ClearType, EndSynchronizedUpdate, EnterAlternateScreen, LeaveAlternateScreen,
    disable_raw_mode, enable_raw_mode, supports_keyboard_enhancement,
};
use crossterm::{cursor, execute};
use ratatui::backend::CrosstermBackend;
use ratatui::layout::Rect;
use ratatui::{Terminal, TerminalOptions, Viewport};
use signal_hook::consts::{SIGCONT, SIGHUP, SIGINT, SIGTERM, SIGTSTP};
use signal_hook::iterator::Signals;
use snarvel_task::waits;
use snarvel_workspace::stop_key::StopKey;
use std::fs::File;
use std::io::{self, BufWriter, IsTerminal, Write};
use std::sync::mpsc::{self, Receiver, RecvTimeoutError, Sender};
use std::thread;
use std::time::{Duration, Instant};

/// Longer texts are not handed to the system clipboard: terminals drop them without a word.
const LONGEST_CLIPBOARD: usize = 100_000;

/// What wakes the application.
enum Wake {
    Terminal(event::Event),
    Signal(i32),
    /// The terminal is gone.
    Gone,
    /// Something has happened in the background.
    Background,
}

type Screen = Terminal<CrosstermBackend<BufWriter<Box<dyn Write>>>>;

/// Shows `app` until it is done; gives the exit code.
///
/// # Errors
/// No terminal, or one that cannot be set up.
pub fn run(app: &mut App) -> Result<u8> {
    let (send, wakes) = mpsc::channel();
    watch_signals(send.clone())?;
    let background = send.clone();
    app.context.workspace.tasks.waker.connect(move || drop(background.send(Wake::Background)));
    let session = Session::start()?;
    let late = ask_for_background(app);
    // What is there at once of the files that are opened is seen at once.
    app.pump();
    let mut screen = fitted(app)?;
    draw(app, &mut screen)?;
    app.after_frame();
    let guardian = Guardian::start();
    // Only now, so that the first frame does not wait for a terminal's answer.
    // The question would go to standard output, which in a pipe is not the terminal.
    let is_enhanced = io::stdout().is_terminal() && matches!(supports_keyboard_enhancement(), Ok(true));
    if is_enhanced {
        let flags = KeyboardEnhancementFlags::DISAMBIGUATE_ESCAPE_CODES;
        execute!(screen.backend_mut(), PushKeyboardEnhancementFlags(flags))?;
        app.context.keyboard.keymap = app.context.keyboard.keymap.on(Protocol::Enhanced);
    }
    watch_terminal(send, app.context.workspace.tasks.stop_key.clone(), late);
    let display = app.context.settings.shares_clipboard.then(Display::of_environment).flatten();
    app.context.clipboard = display.as_ref().map(|display| Box::new(display.reader()) as Box<dyn Clipboard>);
    let code = follow(app, &mut screen, &wakes, display.as_ref());
    if is_enhanced {
        let _ = execute!(screen.backend_mut(), PopKeyboardEnhancementFlags);
    }
    drop(session);
    drop(guardian);
    code
}

/// Where the theme depends on the terminal's background, the terminal is asked for it; what was typed meanwhile is taken in.
fn ask_for_background(app: &mut App) -> LateAnswer {
    if app.context.settings.theme != AUTO {
        return LateAnswer::default();
    }
    let heard = background::ask();
    app.context.look.themes.terminal = heard.ground;
    app.context.use_theme(AUTO);
    for c in heard.typed.chars() {
        app.handle(Event::Key(Key::from(KeyEvent::new(KeyCode::Char(c), KeyModifiers::NONE))), 0);
    }
    if heard.is_late { LateAnswer::expected() } else { LateAnswer::default() }
}

/// Where the screen is drawn: the terminal itself where standard output goes elsewhere.
fn output() -> Result<Box<dyn Write>> {
    if io::stdout().is_terminal() {
        return Ok(Box::new(io::stdout()));
    }
    let terminal = File::options().write(true).open("/dev/tty");
    Ok(Box::new(terminal.context("no terminal to draw on: snarvel play runs keys without one")?))
}

/// A terminal that is set up; dropping it puts it back, and so does a panic.
#[derive(Debug)]
pub struct Session;

impl Session {
    /// Sets the terminal up.
    ///
    /// # Errors
    /// No terminal, or one that cannot be set up.
    pub fn start() -> Result<Session> {
        set_up()?;
        let before = std::panic::take_hook();
        std::panic::set_hook(Box::new(move |panic| {
            // What goes on in the background takes nothing with it: the panic is told on the screen.
            if !snarvel_task::is_task_thread() {
                restore();
                before(panic);
            }
        }));
        Ok(Session)
    }
}

/// Switches on what the program needs of the terminal.
fn set_up() -> Result<()> {
    let mut out = output()?;
    enable_raw_mode().context("no terminal to read keys from: snarvel play runs keys without one")?;
    execute!(out, EnterAlternateScreen, EnableBracketedPaste, EnableMouseCapture, EnableFocusChange, cursor::Hide)?;
    Ok(())
}

impl Drop for Session {
    fn drop(&mut self) {
        restore();
    }
}

/// Puts the terminal back. A terminal that is gone needs nothing, so failures are passed over.
fn restore() {
    if let Ok(mut out) = output() {
        let _ = execute!(
            out,
            EndSynchronizedUpdate,
            DisableFocusChange,
            DisableMouseCapture,
            DisableBracketedPaste,
            LeaveAlternateScreen,
            cursor::Show
        );
    }
    let _ = disable_raw_mode();
}

/// Whether it is the key that stops what takes long.
fn is_esc(wake: &Wake) -> bool {
    matches!(wake, Wake::Terminal(event::Event::Key(key)) if key.code == KeyCode::Esc && key.kind != KeyEventKind::Release)
}

fn watch_signals(send: Sender<Wake>) -> Result<()> {
    let mut signals = Signals::new([SIGTERM, SIGHUP, SIGINT, SIGTSTP, SIGCONT]).context("signals")?;
    thread::spawn(move || {
        for signal in signals.forever() {
            if send.send(Wake::Signal(signal)).is_err() {
                return;
            }
            if matches!(signal, SIGTERM | SIGHUP | SIGINT) {
                // The program ends by itself, unless something keeps it: its journals hold all that was done.
                thread::sleep(waits::END_BY_SIGNAL);
                restore();
                signal_hook::low_level::exit(128 + signal);
            }
        }
    });
    Ok(())
}

fn watch_terminal(send: Sender<Wake>, stop_key: StopKey, mut late: LateAnswer) {
    thread::spawn(move || {
        loop {
            let wake = event::read().map_or(Wake::Gone, Wake::Terminal);
            if matches!(&wake, Wake::Terminal(event) if late.holds(event)) {
                continue;
            }
            if is_esc(&wake) {
                stop_key.read();
            }
            let is_gone = matches!(wake, Wake::Gone);
            if send.send(wake).is_err() || is_gone {
                return;
            }
        }
    });
}

/// A blank screen of the terminal's size, which the application is told of. Its area is fixed: asking the
/// terminal for its cursor, as a screen that resizes itself does, would wait after the thread that reads.
fn fitted(app: &mut App) -> Result<Screen> {
    let (cols, rows) = crossterm::terminal::size().context("the terminal's size")?;
    let size = Size::of_terminal(cols, rows);
    app.handle(Event::Resize(size), 0);
    let mut backend = CrosstermBackend::new(BufWriter::new(output()?));
    execute!(backend, Clear(ClearType::All))?;
    let viewport = Viewport::Fixed(Rect::new(0, 0, size.cols, size.rows));
    Terminal::with_options(backend, TerminalOptions { viewport }).context("the terminal")
}

fn draw(app: &App, screen: &mut Screen) -> Result<()> {
    execute!(screen.backend_mut(), BeginSynchronizedUpdate)?;
    let paint = |frame: &mut ratatui::Frame| {
        app.draw(frame.buffer_mut());
        if let Some([x, y]) = screen::shown_cursor(&app.context, app.panel()) {
            frame.set_cursor_position((x, y));
        }
    };
    screen.draw(paint).context("drawing")?;
    execute!(screen.backend_mut(), EndSynchronizedUpdate)?;
    Ok(())
}

/// Takes events in until the application is done. What has come in meanwhile is taken in before a frame is
/// drawn, so that a held key never runs after.
fn follow(app: &mut App, screen: &mut Screen, wakes: &Receiver<Wake>, display: Option<&Display>) -> Result<u8> {
    let start = Instant::now();
    let mut clicks = Clicks::default();
    while !app.is_done() {
        // What takes long is named once it does: that is the only thing that is not told by an event.
        let next_naming = app.context.workspace.next_telling().unwrap_or(Duration::MAX);
        let first = match wakes.recv_timeout(next_naming) {
            Ok(first) => Some(first),
            Err(RecvTimeoutError::Timeout) => None,
            Err(RecvTimeoutError::Disconnected) => break,
        };
        let (mut is_resized, mut has_news) = (false, false);
        for wake in first.into_iter().chain(wakes.try_iter()) {
            if is_esc(&wake) {
                app.context.workspace.tasks.stop_key.taken();
            }
            match wake {
                Wake::Signal(SIGTSTP) => {
                    // The terminal is the shell's meanwhile.
                    restore();
                    signal_hook::low_level::emulate_default_handler(SIGTSTP).context("stopping")?;
                    set_up()?;
                    is_resized = true;
                }
                Wake::Signal(SIGCONT) => {
                    // It may have been stopped unasked (SIGSTOP): then the terminal is as the shell has left it.
                    let _ = disable_raw_mode();
                    set_up()?;
                    is_resized = true;
                }
                Wake::Signal(signal) => return Ok(128u8.saturating_add(signal as u8)),
                Wake::Gone => return Ok(1),
                Wake::Background => has_news = true,
                Wake::Terminal(event) => {
                    is_resized |= matches!(event, event::Event::Resize(..));
                    if let Some(event) = clicks.translate(event) {
                        app.handle(event, start.elapsed().as_millis() as u64);
                    }
                }
            }
            if app.is_done() {
                break;
            }
        }
        // Once for all that were told of meanwhile.
        if has_news {
            app.pump();
        }
        carry_out(app, screen, display)?;
        if is_resized {
            *screen = fitted(app)?;
        }
        draw(app, screen)?;
        app.after_frame();
        // What is seen is safe; where the disk stalls, work goes on all the same.
        let _ = app.context.workspace.settle_journals();
    }
    Ok(0)
}

fn carry_out(app: &mut App, screen: &mut Screen, display: Option<&Display>) -> Result<()> {
    for order in app.take_orders() {
        match order {
            TerminalOrder::Clipboard(_) if !app.context.settings.shares_clipboard => {}
            TerminalOrder::Clipboard(text) => {
                let is_too_long = text.len() > LONGEST_CLIPBOARD;
                if !is_too_long {
                    execute!(screen.backend_mut(), CopyToClipboard::to_clipboard_from(&text))?;
                } else if display.is_none() {
                    app.context.say("copied here; too long for the system clipboard by way of the terminal");
                }
                display.iter().for_each(|display| display.write(text.clone()));
            }
        }
    }
    Ok(())
}

/// Counts presses at one cell, and turns the terminal's events into the application's.
#[derive(Default)]
struct Clicks {
    last: Option<(Instant, [u16; 2], u8)>,
}

impl Clicks {
    fn translate(&mut self, event: event::Event) -> Option<Event> {
        match event {
            event::Event::Key(key) if key.kind != KeyEventKind::Release => Some(Event::Key(Key::from(key))),
            event::Event::Paste(text) => Some(Event::Paste(text)),
            event::Event::FocusGained => Some(Event::Focus),
            event::Event::Mouse(mouse) => self.mouse(mouse),
            _ => None,
        }
    }

    fn mouse(&mut self, event: MouseEvent) -> Option<Event> {
        let cell = [event.column, event.row];
        let gesture = match event.kind {
            MouseEventKind::Down(MouseButton::Left) => Gesture::Press(self.count(cell)),
            MouseEventKind::Drag(MouseButton::Left) => Gesture::Drag,
            MouseEventKind::ScrollUp => Gesture::Wheel(-1),
            MouseEventKind::ScrollDown => Gesture::Wheel(1),
            _ => return None,
        };
        let alt = event.modifiers.contains(KeyModifiers::ALT);
        Some(Event::Mouse(Mouse {
            gesture,
            cell,
            alt,
            shift: event.modifiers.contains(KeyModifiers::SHIFT),
            ctrl: event.modifiers.contains(KeyModifiers::CONTROL),
        }))
    }

    fn count(&mut self, cell: [u16; 2]) -> u8 {
        let now = Instant::now();
        let before = self.last.filter(|(when, where_, _)| now - *when < waits::CLICK_PAUSE && *where_ == cell);
        let count = before.map_or(1, |(_, _, count)| count % 3 + 1);
        self.last = Some((now, cell, count));
        count
    }
}
