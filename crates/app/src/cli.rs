//! The command line: what is asked for, and which part of the program does it.
//!
//! Exit codes: 0 done, 1 it could not be done (one line on standard error), 2 wrong use.

use crate::app::App;
use crate::document::{Document, Home};
use crate::keys::bindings;
use crate::keys::script::Spot;
use crate::palette::{Depth, Palette, Tide};
use crate::screen::layout::Size;
use crate::session::Store;
use crate::settings::{Problem, Settings};
use crate::{demo, doctor, listings, play, settings, sheet, state, terminal};
use anyhow::{Context, Result, bail};
use clap::{Args, Parser, Subcommand, ValueEnum};
use snarvel_core::languages;
use snarvel_files::load::{Loaded, decode};
use std::io::{Read, Write};
use std::path::{Path, PathBuf};

/// Reshape source code from the keyboard.
#[derive(Debug, Parser)]
#[command(name = "snarvel", version, about, args_conflicts_with_subcommands = true)]
pub struct Cli {
    #[command(subcommand)]
    command: Option<Command>,
    #[command(flatten)]
    edit: Edit,
}

/// Opens files.
#[derive(Debug, Args)]
struct Edit {
    /// Files to open, each with an optional place: FILE, <FILE:LINE>, <FILE:LINE:COL>, or +LINE FILE; `-` edits
    /// standard input and writes the text to standard output at the end
    #[arg(value_name = "FILE")]
    files: Vec<String>,
    /// Dark or light ground, whatever the settings say
    #[arg(long, value_enum)]
    palette: Option<PaletteName>,
}

/// The palettes by name.
#[derive(Clone, Copy, Debug, ValueEnum)]
enum PaletteName {
    /// Night tide, dark.
    Night,
    /// Day tide, light.
    Day,
}

#[derive(Debug, Subcommand)]
enum Command {
    /// Open a fresh copy of the Skerry Sound files, with a short tour in the first one
    Demo {
        /// Put the copy into this folder and leave it there
        #[arg(long, value_name = "DIR")]
        keep: Option<PathBuf>,
        /// Play the tasks of the tour and say of each whether its keys do it; opens nothing
        #[arg(long, conflicts_with = "keep")]
        check: bool,
        /// Dark or light ground, whatever the settings say
        #[arg(long, value_enum)]
        palette: Option<PaletteName>,
    },
    /// Run keys against a file without a screen and print what came of it
    Play(play::PlayArgs),
    /// List every verb: name, keys in Write and in Shape, what it does
    Verbs {
        /// As JSON
        #[arg(long)]
        json: bool,
    },
    /// Draw a sheet to keep
    Sheet {
        /// What is drawn
        #[arg(value_enum)]
        what: SheetName,
        /// The file, .svg or .pdf
        #[arg(long, value_name = "FILE")]
        out: PathBuf,
        /// What it is printed on
        #[arg(long, value_enum, default_value_t)]
        paper: sheet::Paper,
    },
    /// Say what the terminal delivers, which files of configuration are read, and what is wrong in them
    Doctor {
        /// Do not ask for keys to be pressed
        #[arg(long)]
        no_keys: bool,
    },
    /// List every language: name, files, comment marks
    Languages {
        /// As JSON
        #[arg(long)]
        json: bool,
    },
}

/// The sheets by name.
#[derive(Clone, Copy, Debug, ValueEnum)]
enum SheetName {
    /// The keyboard with what its keys do.
    Keys,
}

/// Does what is asked for; gives the exit code.
///
/// # Errors
/// What could not be done, and why.
pub fn run(cli: Cli) -> Result<u8> {
    match cli.command {
        None => edit(&cli.edit),
        Some(Command::Demo { check: true, .. }) => {
            let (said, all) = demo::check();
            print(&said)?;
            Ok(u8::from(!all))
        }
        Some(Command::Demo { keep, palette, .. }) => open_demo(keep.as_deref(), palette),
        Some(Command::Play(args)) => play::run(&args),
        Some(Command::Sheet { what: SheetName::Keys, out, paper }) => {
            sheet::write_keys(&app_in(PathBuf::new(), None).keymap, &out, paper)?;
            print(&format!("{}\n", out.display()))
        }
        Some(Command::Doctor { no_keys }) => doctor::run(no_keys),
        Some(Command::Verbs { json }) => print(&listings::verbs(json)),
        Some(Command::Languages { json }) => print(&listings::languages(json)),
    }
}

/// A reader that stops reading early (`| head`) is no failure.
fn print(text: &str) -> Result<u8> {
    match std::io::stdout().write_all(text.as_bytes()) {
        Err(error) if error.kind() != std::io::ErrorKind::BrokenPipe => Err(error).context("standard output"),
        _ => Ok(0),
    }
}

/// An application without files, as the person has settled it; what is wrong in the settings is told on it.
fn app_in(folder: PathBuf, palette: Option<PaletteName>) -> App {
    let (settings, problems) = state::settings_file().map(|file| settings::read(&file)).unwrap_or_default();
    languages::add(settings.languages.clone());
    let tide = match palette {
        Some(PaletteName::Night) => Tide::Night,
        Some(PaletteName::Day) => Tide::Day,
        None => settings.tide,
    };
    let palette = Palette::new(tide, Depth::of_environment(|variable| std::env::var(variable).ok()));
    let mut app = App::new(Vec::new(), folder, palette, Size::REFERENCE);
    app.keys_file = state::keys_file();
    let (bindings, key_problems) = app.keys_file.as_deref().map(bindings::read).unwrap_or_default();
    let keyboard = bindings.keyboard.unwrap_or(settings.keyboard);
    app.settle_for(Settings { keyboard, ..settings });
    app.keymap = app.keymap.with_own(&bindings.list);
    let problems: Vec<Problem> = problems.into_iter().chain(key_problems).collect();
    if app.settings.keeps_shelf {
        app.shelf = state::kept_shelf();
    }
    app.tell_problems(&problems);
    app
}

/// Shows `app` until it is done, and keeps what is to be kept; gives the exit code.
fn show(app: &mut App) -> Result<u8> {
    if let Some(journals) = app.journals().cloned() {
        let before = std::panic::take_hook();
        std::panic::set_hook(Box::new(move |panic| {
            before(panic);
            journals.flush();
            eprintln!("snarvel: what was edited is kept: open the same file again to take it back");
        }));
    }
    let code = terminal::run(app)?;
    if app.done {
        app.end_journals();
    } else {
        // A signal, or a terminal that is gone: what was edited is offered at the next start.
        app.journals().into_iter().for_each(snarvel_files::journal::Journals::flush);
    }
    app.end_keeping();
    state::keep_shelf(app)?;
    if let Some(store) = &app.store {
        store.keep(app)?;
    }
    Ok(code)
}

/// A file to open, and where in it.
#[derive(Debug, PartialEq, Eq)]
pub struct Wanted {
    /// Which file.
    pub path: PathBuf,
    /// Where the caret goes.
    pub spot: Option<Spot>,
}

/// Reads `FILE`, `FILE:LINE`, `FILE:LINE:COL` and `+LINE FILE`. A file that really has such a name is meant.
///
/// # Errors
/// A `+LINE` without a file behind it.
pub fn wanted(names: &[String], exists: impl Fn(&Path) -> bool) -> Result<Vec<Wanted>> {
    let mut found = Vec::new();
    let mut line = None;
    for name in names {
        if let Some(number) = name.strip_prefix('+').and_then(|number| number.parse().ok()) {
            line = Some(number);
            continue;
        }
        let mut next = if exists(Path::new(name)) { None } else { with_place(name) }
            .unwrap_or_else(|| Wanted { path: PathBuf::from(name), spot: None });
        next.spot = next.spot.or(line.take().map(|line| Spot { line, col: 1 }));
        found.push(next);
    }
    match line {
        Some(line) => bail!("+{line} needs the name of a file behind it"),
        None => Ok(found),
    }
}

fn with_place(name: &str) -> Option<Wanted> {
    let number = |text: &str| text.parse::<usize>().ok().filter(|&number| number > 0);
    let (head, last) = name.trim_end_matches(':').rsplit_once(':')?;
    let last = number(last)?;
    let three = head.rsplit_once(':').and_then(|(file, line)| Some((file, number(line)?)));
    let (file, spot) = match three {
        Some((file, line)) => (file, Spot { line, col: last }),
        None => (head, Spot { line: last, col: 1 }),
    };
    (!file.is_empty()).then(|| Wanted { path: PathBuf::from(file), spot: Some(spot) })
}

fn edit(edit: &Edit) -> Result<u8> {
    let folder = std::env::current_dir().context("the current folder is gone")?;
    if edit.files == ["-"] {
        return edit_pipe(folder, edit.palette);
    }
    let wanted = wanted(&edit.files, Path::exists)?;
    let mut app = app_in(folder, edit.palette);
    app.store = state::folder().map(Store::at);
    keep_safe(&mut app);
    if let Some(store) = app.store.clone().filter(|_| app.settings.keeps_session) {
        store.recall(&mut app);
        if wanted.is_empty() && app.panel.is_none() {
            store.restore(&mut app);
        }
    }
    let is_restored = app.documents.iter().any(|document| document.home != Home::None);
    for each in &wanted {
        app.open(&each.path);
        let opened = app.document().home == Home::File(app.folder.join(&each.path));
        if let Some(spot) = each.spot.filter(|_| opened) {
            app.put_caret(spot);
        }
    }
    if !is_restored {
        app.current = 0;
    }
    app.open_left();
    app.ask_again();
    if wanted.is_empty() && app.panel.is_none() && !is_restored {
        app.ask_for_file();
    }
    show(&mut app)
}

/// Notes edits in journals; where they cannot be kept that is told, and work goes on.
fn keep_safe(app: &mut App) {
    if let Some(folder) = state::folder() {
        let folder = folder.join("journals");
        if let Err(error) = app.keep_safe(&folder) {
            app.say(format!("edits are not noted, a crash would lose them: {}: {error}", folder.display()));
        }
    }
}

/// Edits standard input; the text goes to standard output at the end.
fn edit_pipe(folder: PathBuf, palette: Option<PaletteName>) -> Result<u8> {
    let mut bytes = Vec::new();
    std::io::stdin().read_to_end(&mut bytes).context("standard input")?;
    let (text, encoding) = decode(&bytes);
    let mut app = app_in(folder, palette);
    let manner = app.settings.manner;
    app.documents = vec![Document::of(Loaded { text, encoding, read_only: false }, Home::Pipe, manner)];
    keep_safe(&mut app);
    let code = show(&mut app)?;
    let piped = app.documents.iter().find(|document| document.home == Home::Pipe);
    if let Some(document) = piped {
        std::io::stdout().write_all(&document.bytes()).context("standard output")?;
    }
    Ok(code)
}

fn open_demo(keep: Option<&Path>, palette: Option<PaletteName>) -> Result<u8> {
    let copy = demo::copy(keep)?;
    let mut app = app_in(copy.folder().to_owned(), palette);
    if keep.is_some() {
        keep_safe(&mut app);
    }
    demo::OPENED.iter().for_each(|file| app.open(Path::new(file)));
    app.current = 0;
    demo::PROJECT.clone_into(&mut app.project);
    app.say("a fresh copy of the Skerry Sound files: nothing here can be broken");
    show(&mut app)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn spot(line: usize, col: usize) -> Spot {
        Spot { line, col }
    }

    #[test]
    fn places_behind_file_names() {
        let read = |names: &[&str]| {
            let names: Vec<String> = names.iter().map(|name| (*name).to_owned()).collect();
            wanted(&names, |path| path == Path::new("odd:3")).unwrap()
        };
        let rows: &[(&[&str], &str, Option<Spot>)] = &[
            (&["gauges.rs"], "gauges.rs", None),
            (&["gauges.rs:12"], "gauges.rs", Some(spot(12, 1))),
            (&["gauges.rs:12:4"], "gauges.rs", Some(spot(12, 4))),
            (&["gauges.rs:12:4:"], "gauges.rs", Some(spot(12, 4))),
            (&["+7", "gauges.rs"], "gauges.rs", Some(spot(7, 1))),
            (&["odd:3"], "odd:3", None),
            (&["a:b"], "a:b", None),
            (&[":3"], ":3", None),
        ];
        for (names, path, spot) in rows {
            assert_eq!(read(names), [Wanted { path: PathBuf::from(path), spot: *spot }], "{names:?}");
        }
        assert!(wanted(&["+3".to_owned()], |_| false).is_err());
    }
}
