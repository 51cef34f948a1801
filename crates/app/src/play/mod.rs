//! `snarvel play`: the same application, its screen in memory, keys from a script, results as text.
//!
//! It keeps no state, touches no system clipboard, and writes the file only when told to. Time is still:
//! keys of one script are never a pause apart.

mod told;

use anyhow::{Context, Result, anyhow, bail};
use clap::{Args, ValueEnum};
use ratatui::backend::CrosstermBackend;
use ratatui::buffer::Buffer as Grid;
use ratatui::layout::Rect;
use ratatui::{Terminal, TerminalOptions, Viewport};
use snarvel_core::cursors::CursorSet;
use snarvel_core::languages::{self, Language, by_name};
use snarvel_core::text::Text;
use snarvel_core::text::place::{LineColumn, Place};
use snarvel_files::load::{Loaded, decode};
use snarvel_files::loading::Opened;
use snarvel_ui::app::App;
use snarvel_ui::keys::bindings::{self, Bindings};
use snarvel_ui::keys::script::{self, ScriptStep};
use snarvel_ui::palette::theme::Theme;
use snarvel_ui::palette::{Depth, Palette};
use snarvel_ui::problem::Problem;
use snarvel_ui::screen::canvas::harmless;
use snarvel_ui::settings::{self, Settings};
use snarvel_ui::size::Size;
use snarvel_workspace::buffer::{Buffer, Origin};
use snarvel_workspace::ids::BufferId;
use snarvel_workspace::project::{Project, Trust, Writing};
use snarvel_workspace::recipes::book::{Book, Shelves, of_project};
use snarvel_workspace::workspace::Workspace;
use std::io::{Read, Write};
use std::path::Path;
use std::path::PathBuf;
use std::sync::Arc;
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
    /// The files to play on; the first is shown, all are open; `-` reads standard input; a name that does not exist is an empty file
    #[arg(required = true, value_name = "FILE")]
    files: Vec<PathBuf>,
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
    /// Where the caret is at first, LINE:COL
    #[arg(long, value_name = "L:C", value_parser = parse_place)]
    at: Option<LineColumn>,
    /// A file of settings, a keys.toml, or a folder with both and recipes; without it the shipped ones hold
    #[arg(long, value_name = "FILE")]
    config: Option<PathBuf>,
    /// Write the files that were changed
    #[arg(long)]
    write: bool,
    /// Let what asks for trust run without asking: the recipes of the folder, commands that text is filtered through
    #[arg(long)]
    trust: bool,
}

fn parse_size(text: &str) -> Result<Size, String> {
    Size::parse(text).ok_or_else(|| "COLSxROWS, both from 1 to 1000".to_owned())
}

fn parse_place(text: &str) -> Result<LineColumn, String> {
    LineColumn::parse(text).ok_or_else(|| "LINE:COL, both from 1".to_owned())
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
    let language = match args.language.as_ref().map(|name| (name, by_name(name))) {
        None => None,
        Some((_, Some(language))) => Some(language),
        Some((name, None)) => return Ok(wrong_use(&format!("no language is called {name:?}: see snarvel languages"))),
    };
    let started = Instant::now();
    let (mut workspace, files) = workspace_of(args, &settings)?;
    if let Some(language) = language {
        speak(&mut workspace, &language);
    }
    let mut play = Play::new((workspace, files), args, settings, started);
    let keyboard = &mut play.app.context.keyboard;
    keyboard.keymap = keyboard.keymap.with_own(&bindings.list);
    for action in &actions {
        play.act(action);
        if play.app.is_done() {
            break;
        }
    }
    if !actions.is_empty() || args.trust {
        play.app.settle_background();
    }
    let emits = if args.emit.is_empty() { vec![Emit::Text] } else { args.emit.clone() };
    let mut out = Vec::new();
    emits.iter().for_each(|emit| play.emit(*emit, &mut out));
    if args.write {
        play.write()?;
    }
    play.app.context.workspace.end_servers();
    play.app.context.workspace.end_shells();
    match std::io::stdout().write_all(&out) {
        Err(error) if error.kind() != std::io::ErrorKind::BrokenPipe => Err(error).context("standard output"),
        _ => Ok(0),
    }
}

/// A file on which a script was played.
pub struct Played {
    /// The application, with the presses that were shown.
    pub app: App,
    /// The text with its cursors before the first key that is no place.
    pub before: (Text, CursorSet),
}

/// Plays a script on `file`, which is not written. Places at the start of the script are where it begins.
///
/// # Errors
/// A file that cannot be read, a wrong script, a language that is none.
pub fn on_file(file: &Path, script: &str, language: Option<&str>) -> Result<Played> {
    let steps = script::parse(script).map_err(|wrong| anyhow!("{wrong}"))?;
    let args = PlayArgs {
        files: vec![file.to_owned()],
        keys: None,
        keys_file: None,
        emit: Vec::new(),
        size: Size::REFERENCE,
        language: None,
        at: None,
        config: None,
        write: false,
        trust: false,
    };
    if !file.is_file() {
        bail!("{} is not there: a sheet shows what keys do to a file", file.display());
    }
    let (mut workspace, files) = workspace_of(&args, &Settings::default())?;
    if let Some(name) = language {
        let language =
            by_name(name).with_context(|| format!("no language is called {name:?}: see snarvel languages"))?;
        speak(&mut workspace, &language);
    }
    let mut play = Play::new((workspace, files), &args, Settings::default(), Instant::now());
    let is_place = |step: &&ScriptStep| matches!(step, ScriptStep::Run(command) | ScriptStep::Point(command) if PLACES.contains(&command.verb.name));
    let places = steps.iter().take_while(is_place).count();
    steps[..places].iter().for_each(|step| play.act(step));
    let workspace = &play.app.context.workspace;
    let before = (workspace.active().text().clone(), workspace.view().cursors().clone());
    play.app.context.look.presenting.shown = Some([].into());
    steps[places..].iter().for_each(|step| play.act(step));
    play.app.settle_background();
    Ok(Played { app: play.app, before })
}

/// The active text is in `language` from now on, whatever the name of its file says.
fn speak(workspace: &mut Workspace, language: &Arc<Language>) {
    let sink = workspace.parse_sink(workspace.active().id);
    workspace.active_mut().set_language(language, Some(sink));
}

/// Verbs that say where a script begins.
const PLACES: [&str; 2] = ["caret-at", "select-between"];

fn wrong_use(message: &str) -> u8 {
    eprintln!("snarvel play: {}", harmless(message));
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
        (true, _) => settings::file::read(&path.join(SETTINGS)),
        (false, true) => (Settings::default(), Vec::new()),
        (false, false) => settings::file::read(path),
    };
    let (bindings, key_problems) = match (about.is_dir(), is_keys) {
        (true, _) => bindings::read(&path.join(KEYS)),
        (false, true) => bindings::read(path),
        (false, false) => (Bindings::default(), Vec::new()),
    };
    for problem in problems.iter().chain(&key_problems) {
        eprintln!("snarvel play: {}", harmless(&problem.to_string()));
    }
    Ok((Settings { keyboard: bindings.keyboard.unwrap_or(settings.keyboard), ..settings }, bindings))
}

/// What the files of configuration are called.
const SETTINGS: &str = "settings.toml";
const KEYS: &str = "keys.toml";
const RECIPES: &str = "recipes";
const TEMPLATES: &str = "templates";
const SERVERS: &str = "servers.toml";

fn workspace_of(args: &PlayArgs, settings: &Settings) -> Result<(Workspace, Vec<(PathBuf, BufferId)>)> {
    let folder = args.files[0].parent().unwrap_or(Path::new(""));
    let recipes = args.config.as_ref().filter(|path| path.is_dir()).map(|folder| folder.join(RECIPES));
    let project = Project {
        writing: if args.write { Writing::Files } else { Writing::Nothing },
        defaults: settings.defaults,
        tidy: settings.tidy,
        trust: if args.trust { Trust::Everything } else { Trust::Nothing },
        recipes,
        ..Project::in_folder(folder)
    };
    let shelves = Shelves {
        person: project.recipes.clone(),
        project: of_project(&project.folder),
        is_trusted: project.trust.reads_recipes(),
    };
    let mut workspace = Workspace::new(project);
    workspace.recipes_mut().book = Book::read(&shelves);
    if let Some(folder) = args.config.as_ref().filter(|path| path.is_dir()) {
        for problem in Problem::of_templates(workspace.read_templates(&folder.join(TEMPLATES))) {
            eprintln!("snarvel play: {}", harmless(&problem.to_string()));
        }
    }
    // A file of servers that is wrong is told; what is right in it is in force.
    let servers = args.config.as_ref().filter(|path| path.is_dir()).map(|folder| folder.join(SERVERS));
    let (table, problems) = servers.map(|file| Problem::of_servers(&file)).unwrap_or_default();
    problems.iter().for_each(|problem| eprintln!("snarvel play: {}", harmless(&problem.to_string())));
    if args.trust && settings.starts_servers {
        workspace.use_servers(table);
    }
    let mut files = Vec::new();
    for file in &args.files {
        let id = if file == Path::new("-") {
            let mut bytes = Vec::new();
            std::io::stdin().read_to_end(&mut bytes).context("standard input")?;
            let (text, encoding) = decode(&bytes);
            let buffer = workspace.make_buffer(Loaded { text, encoding, read_only: false }, Origin::Pipe);
            workspace.show_buffer(buffer)
        } else {
            let path = std::path::absolute(file).unwrap_or_else(|_| file.clone());
            workspace.take_buffer(&path, Opened::read(file)?)
        };
        files.push((file.clone(), id));
    }
    workspace.show(files[0].1);
    Ok((workspace, files))
}

/// An application under play, and how long its keys took.
struct Play {
    app: App,
    /// The files that were given, by the names that they were given by.
    files: Vec<(PathBuf, BufferId)>,
    terminal: Option<Terminal<CrosstermBackend<Memory>>>,
    opened: Duration,
    first_frame: Duration,
    updates: Vec<Duration>,
    draws: Vec<Duration>,
}

impl Play {
    fn new(
        (workspace, files): (Workspace, Vec<(PathBuf, BufferId)>),
        args: &PlayArgs,
        settings: Settings,
        started: Instant,
    ) -> Play {
        let mut app = App::new(workspace, Palette::new(&Theme::night(), Depth::True), args.size);
        app.take_settings(settings);
        if let Some(at) = args.at {
            app.context.workspace.go_to_place(Place::At(at));
        }
        app.pump();
        let opened = started.elapsed();
        let is_timed = args.emit.contains(&Emit::Timing);
        app.context.look.is_drawn = is_timed;
        let mut play = Play {
            terminal: is_timed.then(|| memory_terminal(args.size)).flatten(),
            app,
            files,
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
        let _ = terminal.draw(|frame| self.app.draw(frame.buffer_mut()));
        let time = start.elapsed();
        self.app.after_frame();
        time
    }

    /// Plays one action, as a user does who has seen what the last one did.
    fn act(&mut self, action: &ScriptStep) {
        self.app.prepare(action);
        let start = Instant::now();
        self.app.act(action);
        self.updates.push(start.elapsed());
        self.app.take_orders();
        let drawn = self.draw();
        self.draws.push(drawn);
    }

    fn buffer(&self) -> &Buffer {
        self.app.context.workspace.active()
    }

    fn emit(&self, emit: Emit, out: &mut Vec<u8>) {
        match emit {
            Emit::Text => out.extend(self.buffer().bytes()),
            Emit::State => out.extend(format!("{}\n", self.state()).bytes()),
            Emit::Frame => out.extend(frame_text(&self.app).bytes()),
            Emit::Timing => out.extend(format!("{}\n", self.timing()).bytes()),
        }
    }

    /// Writes the files that were changed, or are not there yet.
    fn write(&mut self) -> Result<()> {
        for (file, id) in self.files.clone() {
            if file == Path::new("-") {
                bail!("--write needs a file: standard input cannot be written to");
            }
            let is_done = |app: &App| {
                let buffer = app.context.workspace.buffer(id);
                buffer.is_none_or(|buffer| !buffer.is_unsaved()) && file.exists()
            };
            if is_done(&self.app) {
                continue;
            }
            self.app.context.workspace.save(id, None);
            self.app.pump();
            if !is_done(&self.app) {
                bail!("{} is not written: {}", file.display(), self.app.message().unwrap_or("it is asked about first"));
            }
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
#[must_use]
pub fn frame_text(app: &App) -> String {
    let size = app.context.look.size;
    let mut grid = Grid::empty(Rect::new(0, 0, size.cols, size.rows));
    app.draw(&mut grid);
    let mut out = String::new();
    for y in 0..size.rows {
        let mut row = String::new();
        let mut covered = 0;
        for x in 0..size.cols {
            if covered > 0 {
                covered -= 1;
                continue;
            }
            let symbol = grid[(x, y)].symbol();
            covered = unicode_width::UnicodeWidthStr::width(symbol).saturating_sub(1);
            row.push_str(symbol);
        }
        out.push_str(row.trim_end());
        out.push('\n');
    }
    out
}
