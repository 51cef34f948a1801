//! `snarvel play`: the same application, its screen in memory, keys from a script, results as text.
//!
//! It keeps no state, touches no system clipboard, and writes the file only when told to. Time stands still:
//! keys of one script are never a pause apart.

use crate::app::App;
use crate::document::{Document, Home};
use crate::keys::bindings::{self, Bindings};
use crate::keys::script::{self, Action, Spot};
use crate::palette::{Depth, Palette};
use crate::screen;
use crate::screen::layout::Size;
use crate::settings::{self, Settings};
use anyhow::{Context, Result, bail};
use clap::{Args, ValueEnum};
use ratatui::backend::CrosstermBackend;
use ratatui::buffer::Buffer;
use ratatui::layout::Rect;
use ratatui::{Terminal, TerminalOptions, Viewport};
use serde_json::{Value, json};
use snarvel_core::cursors::Selection;
use snarvel_core::editor::Manner;
use snarvel_core::languages::{self, by_name};
use snarvel_core::text::raw;
use snarvel_core::units::{Byte, Span};
use snarvel_core::verbs::scene::Layer;
use snarvel_files::load::{Encoding, Loaded, decode};
use std::io::{Read, Write};
use std::path::{Path, PathBuf};
use std::time::{Duration, Instant};

/// What to print.
#[derive(Clone, Copy, Debug, PartialEq, Eq, ValueEnum)]
pub enum Emit {
    /// The text as it would be saved, byte for byte
    Text,
    /// One JSON object: text, selections, primary, pins, layer, modified, message, `undo_depth`
    State,
    /// The screen as text
    Frame,
    /// One JSON object: how long the keys took
    Timing,
}

/// What `snarvel play` is asked for.
#[derive(Debug, Args)]
pub struct PlayArgs {
    /// The file to play on; `-` reads standard input; a name that does not exist is an empty file
    file: PathBuf,
    /// The key script
    #[arg(long, value_name = "SCRIPT", conflicts_with = "keys_file", allow_hyphen_values = true)]
    keys: Option<String>,
    /// A file with the key script
    #[arg(long, value_name = "FILE")]
    keys_file: Option<PathBuf>,
    /// What to print; may be repeated
    #[arg(long, value_enum)]
    emit: Vec<Emit>,
    /// The size of the screen in cells
    #[arg(long, value_name = "COLSxROWS", default_value = "142x42", value_parser = parse_size)]
    size: Size,
    /// The language, whatever the file's name says
    #[arg(long, value_name = "NAME")]
    language: Option<String>,
    /// Where the caret stands at first, LINE:COL
    #[arg(long, value_name = "L:C", value_parser = parse_spot)]
    at: Option<Spot>,
    /// A file of settings, a keys.toml, or a folder with both; without it the shipped ones hold
    #[arg(long, value_name = "FILE")]
    config: Option<PathBuf>,
    /// Write the file
    #[arg(long)]
    write: bool,
}

fn parse_size(text: &str) -> Result<Size, String> {
    Size::parse(text).ok_or_else(|| "COLSxROWS, both from 1 to 1000".to_owned())
}

fn parse_spot(text: &str) -> Result<Spot, String> {
    let (line, col) = text.split_once(':').unwrap_or((text, "1"));
    match (line.parse(), col.parse()) {
        (Ok(line), Ok(col)) if line > 0 && col > 0 => Ok(Spot { line, col }),
        _ => Err("LINE:COL, both from 1".to_owned()),
    }
}

/// Plays a script.
///
/// # Errors
/// A file that cannot be read or written. Wrong use is said on standard error and gives exit code 2.
pub fn run(args: &PlayArgs) -> Result<u8> {
    let script = script_of(args)?;
    let actions = match script::parse(&script) {
        Ok(actions) => actions,
        Err(wrong) => return Ok(wrong_use(&wrong.to_string())),
    };
    let (settings, bindings) = settings_of(args)?;
    languages::add(settings.languages.clone());
    let opened = Instant::now();
    let mut document = document_of(&args.file, settings.manner)?;
    if let Some(name) = &args.language {
        let Some(language) = by_name(name) else {
            return Ok(wrong_use(&format!("no language is called {name:?}: see snarvel languages")));
        };
        document.set_language(language);
    }
    let mut play = Play::new(document, args, settings, opened);
    play.app.keymap = play.app.keymap.with_own(&bindings.list);
    for action in &actions {
        play.act(action);
        if play.app.done {
            break;
        }
    }
    play.app.settle_search();
    let emits = if args.emit.is_empty() { vec![Emit::Text] } else { args.emit.clone() };
    let mut out = Vec::new();
    emits.iter().for_each(|emit| play.emit(*emit, &mut out));
    if args.write {
        play.write(&args.file)?;
    }
    match std::io::stdout().write_all(&out) {
        Err(error) if error.kind() != std::io::ErrorKind::BrokenPipe => Err(error).context("standard output"),
        _ => Ok(0),
    }
}

fn wrong_use(message: &str) -> u8 {
    eprintln!("snarvel play: {}", screen::harmless(message));
    2
}

fn script_of(args: &PlayArgs) -> Result<String> {
    match (&args.keys, &args.keys_file) {
        (Some(keys), _) => Ok(keys.clone()),
        (None, Some(path)) => {
            std::fs::read_to_string(path).with_context(|| format!("the key script {}", path.display()))
        }
        (None, None) => Ok(String::new()),
    }
}

/// The settings and keys that `--config` names: a file of settings, a keys file, or a folder with both. What is wrong in
/// them is said, each with its line.
fn settings_of(args: &PlayArgs) -> Result<(Settings, Bindings)> {
    let Some(path) = &args.config else { return Ok((Settings::default(), Bindings::default())) };
    let about = std::fs::metadata(path).with_context(|| format!("the settings {}", path.display()))?;
    let is_keys = path.file_name().is_some_and(|name| name == KEYS);
    let (settings, problems) = match (about.is_dir(), is_keys) {
        (true, _) => settings::read(&path.join(SETTINGS)),
        (false, true) => (Settings::default(), Vec::new()),
        (false, false) => settings::read(path),
    };
    let (bindings, key_problems) = match (about.is_dir(), is_keys) {
        (true, _) => bindings::read(&path.join(KEYS)),
        (false, true) => bindings::read(path),
        (false, false) => (Bindings::default(), Vec::new()),
    };
    for problem in problems.iter().chain(&key_problems) {
        eprintln!("snarvel play: {}", screen::harmless(&problem.to_string()));
    }
    Ok((Settings { keyboard: bindings.keyboard.unwrap_or(settings.keyboard), ..settings }, bindings))
}

/// What the files of configuration are called.
const SETTINGS: &str = "settings.toml";
const KEYS: &str = "keys.toml";

fn document_of(file: &Path, manner: Manner) -> Result<Document> {
    if file == Path::new("-") {
        let mut bytes = Vec::new();
        std::io::stdin().read_to_end(&mut bytes).context("standard input")?;
        let (text, encoding) = decode(&bytes);
        return Ok(Document::of(Loaded { text, encoding, read_only: false }, Home::Pipe, manner));
    }
    Ok(Document::open(file, manner)?)
}

/// An application under play, and how long its keys took.
struct Play {
    app: App,
    terminal: Option<Terminal<CrosstermBackend<Memory>>>,
    opened: Duration,
    first_frame: Duration,
    updates: Vec<Duration>,
    draws: Vec<Duration>,
}

impl Play {
    fn new(document: Document, args: &PlayArgs, settings: Settings, started: Instant) -> Play {
        let folder = args.file.parent().unwrap_or(Path::new("")).to_owned();
        let mut app = App::new(vec![document], folder, Palette::new(settings.tide, Depth::True), args.size);
        app.settle_for(settings);
        app.writes = args.write;
        if let Some(spot) = args.at {
            app.put_caret(spot);
        }
        let opened = started.elapsed();
        let is_timed = args.emit.contains(&Emit::Timing);
        let mut play = Play {
            terminal: is_timed.then(|| memory_terminal(args.size)).flatten(),
            app,
            opened,
            first_frame: Duration::ZERO,
            updates: Vec::new(),
            draws: Vec::new(),
        };
        play.first_frame = play.draw();
        play
    }

    /// Draws where times are asked for: into the memory, terminal sequences and all.
    fn draw(&mut self) -> Duration {
        let Some(terminal) = &mut self.terminal else { return Duration::ZERO };
        let start = Instant::now();
        // Writing into memory does not fail.
        let _ = terminal.draw(|frame| screen::draw(&self.app, frame.buffer_mut()));
        start.elapsed()
    }

    /// Plays one action, as somebody does who has seen what the last one did: the structure of the text is known.
    fn act(&mut self, action: &Action) {
        self.app.document().editor.settle_tree();
        self.app.settle_search();
        let start = Instant::now();
        self.app.act(action);
        self.updates.push(start.elapsed());
        self.app.take_orders();
        let drawn = self.draw();
        self.draws.push(drawn);
    }

    fn emit(&self, emit: Emit, out: &mut Vec<u8>) {
        match emit {
            Emit::Text => out.extend(self.app.document().bytes()),
            Emit::State => out.extend(format!("{}\n", self.state()).bytes()),
            Emit::Frame => out.extend(frame_text(&self.app).bytes()),
            Emit::Timing => out.extend(format!("{}\n", self.timing()).bytes()),
        }
    }

    fn state(&self) -> Value {
        let document = self.app.document();
        let editor = &document.editor;
        let selections: Vec<Value> = editor.cursors().iter().map(|each| self.selection(each)).collect();
        let text = editor.text().to_string();
        let is_lossy = document.encoding != Encoding::Utf16Little
            && document.encoding != Encoding::Utf16Big
            && raw::has_stand_in(&text);
        let mark = if document.encoding == Encoding::Utf8Marked { "\u{FEFF}" } else { "" };
        let shown: String = match is_lossy {
            true => text.chars().map(|c| if raw::byte_of(c).is_some() { '\u{FFFD}' } else { c }).collect(),
            false => text,
        };
        let [above, below] = screen::cursors_out_of_view(&self.app);
        let mut state = json!({
            "text": format!("{mark}{shown}"),
            "selections": selections,
            "primary": editor.cursors().primary_index(),
            "cursors_above": above,
            "cursors_below": below,
            "pins": editor.pins().iter().map(|pin| self.selection(*pin)).collect::<Vec<Value>>(),
            "layer": if self.app.layer == Layer::Write { "write" } else { "shape" },
            "modified": editor.is_modified(),
            "message": self.app.message.clone().unwrap_or_default(),
            "undo_depth": editor.history().depth(),
        });
        if is_lossy {
            state["lossy"] = json!(true);
        }
        state
    }

    fn selection(&self, each: Selection) -> Value {
        json!({ "anchor": self.place(each.anchor), "head": self.place(each.head) })
    }

    fn place(&self, at: Byte) -> Value {
        let text = self.app.document().editor.text();
        let line = text.line_of(at);
        let mut place = text.line_start(line);
        let mut col = 1;
        let is_ascii = text.slice(Span::new(place, at)).is_ascii();
        if is_ascii {
            col += at - place;
            place = at;
        }
        while place < at {
            place = text.next_boundary(place);
            col += 1;
        }
        json!({ "line": line.0 + 1, "col": col, "byte": at.0 })
    }

    fn timing(&self) -> Value {
        let total: Vec<Duration> = self.updates.iter().zip(&self.draws).map(|(update, draw)| *update + *draw).collect();
        json!({
            "keys": self.updates.len(),
            "update": spread(&self.updates),
            "draw": spread(&self.draws),
            "total": spread(&total),
            "open_ms": millis(self.opened),
            "first_frame_ms": millis(self.first_frame),
            "peak_rss_bytes": peak_rss_bytes(),
        })
    }

    fn write(&mut self, file: &Path) -> Result<()> {
        if file == Path::new("-") {
            bail!("--write needs a file: standard input cannot be written to");
        }
        let usual = self.app.settings.tidy;
        let document = self.app.document_mut();
        if document.is_unsaved() || !file.exists() {
            document.save_to(file, usual, 0)?;
        }
        Ok(())
    }
}

/// Where a played screen is written: a page of memory, begun anew when it is full.
#[derive(Default)]
struct Memory(Vec<u8>);

/// More than any one frame takes.
const PAGE: usize = 1 << 20;

impl Write for Memory {
    fn write(&mut self, bytes: &[u8]) -> std::io::Result<usize> {
        if self.0.len() > PAGE {
            self.0.clear();
        }
        self.0.write(bytes)
    }

    fn flush(&mut self) -> std::io::Result<()> {
        Ok(())
    }
}

fn memory_terminal(size: Size) -> Option<Terminal<CrosstermBackend<Memory>>> {
    let viewport = Viewport::Fixed(Rect::new(0, 0, size.cols, size.rows));
    Terminal::with_options(CrosstermBackend::new(Memory::default()), TerminalOptions { viewport }).ok()
}

/// The screen as text: exactly its rows, each ended by a line feed.
pub fn frame_text(app: &App) -> String {
    app.shown().editor.settle_tree();
    let mut buffer = Buffer::empty(Rect::new(0, 0, app.size.cols, app.size.rows));
    screen::draw(app, &mut buffer);
    let mut out = String::new();
    for y in 0..app.size.rows {
        let mut row = String::new();
        let mut covered = 0;
        for x in 0..app.size.cols {
            if covered > 0 {
                covered -= 1;
                continue;
            }
            let symbol = buffer[(x, y)].symbol();
            covered = unicode_width::UnicodeWidthStr::width(symbol).saturating_sub(1);
            row.push_str(symbol);
        }
        out.push_str(row.trim_end());
        out.push('\n');
    }
    out
}

fn millis(time: Duration) -> f64 {
    micros(time) / 1000.0
}

fn micros(time: Duration) -> f64 {
    (time.as_nanos() as f64 / 10.0).round() / 100.0
}

fn spread(times: &[Duration]) -> Value {
    let mut sorted = times.to_vec();
    sorted.sort_unstable();
    let at = |share: f64| {
        let index = (sorted.len() as f64 * share).ceil() as usize;
        sorted.get(index.saturating_sub(1).min(sorted.len().saturating_sub(1))).map_or(0.0, |time| micros(*time))
    };
    json!({ "p50": at(0.5), "p90": at(0.9), "p99": at(0.99), "max": at(1.0) })
}

/// The most memory that the process has held, by what the kernel says; 0 where it does not say.
fn peak_rss_bytes() -> u64 {
    let status = std::fs::read_to_string("/proc/self/status").unwrap_or_default();
    let line = status.lines().find_map(|line| line.strip_prefix("VmHWM:"));
    let kilobytes = line.and_then(|line| line.trim().trim_end_matches(" kB").parse::<u64>().ok());
    kilobytes.unwrap_or(0) * 1024
}
