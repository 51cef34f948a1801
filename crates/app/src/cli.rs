//! The command line: what is asked for, and which part of the program does it.
//!
//! Exit codes: 0 done, 1 it could not be done (one line on standard error), 2 wrong use.

use crate::{apply, demo, doctor, ledger, listings, play, sheets, state, trust};
use anyhow::{Context, Result, bail};
use clap::{Args, CommandFactory, Parser, Subcommand};
use snarvel_core::languages;
use snarvel_core::text::place::{LineColumn, Place};
use snarvel_files::journal::Journals;
use snarvel_files::load::{Loaded, decode};
use snarvel_ui::app::App;
use snarvel_ui::context::Themes;
use snarvel_ui::keys::bindings;
use snarvel_ui::palette::theme::{self, Theme};
use snarvel_ui::palette::{Depth, Palette};
use snarvel_ui::problem::Problem;
use snarvel_ui::settings::{self, AUTO, Settings};
use snarvel_ui::size::Size;
use snarvel_ui::tour::Tour;
use snarvel_ui::{drills, terminal};
use snarvel_workspace::buffer::Origin;
use snarvel_workspace::command::Command as Verb;
use snarvel_workspace::kept::Store;
use snarvel_workspace::project::Project;
use snarvel_workspace::workspace::Workspace;
use std::ffi::OsString;
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
    files: Vec<OsString>,
    /// Files to open whose names are taken as they are, also where they begin with + or end with a number
    #[arg(last = true, value_name = "NAME")]
    exact: Vec<PathBuf>,
    /// The theme of colours, whatever the settings say: its name, or auto for the one that goes with the terminal's background
    #[arg(long, value_name = "NAME")]
    palette: Option<String>,
}

#[derive(Debug, Subcommand)]
enum Command {
    /// Open a fresh copy of the Skerry Sound files, with a short tour in the first one
    Demo {
        /// Put the copy into this folder and leave it there
        #[arg(long, value_name = "DIR")]
        keep: Option<PathBuf>,
        /// Be guided through the tasks, one at a time, from where the tour was left
        #[arg(long, conflicts_with = "check")]
        tour: bool,
        /// Play the tasks of the tour and say of each whether its keys do it; opens nothing
        #[arg(long, conflicts_with = "keep")]
        check: bool,
        /// The theme of colours, whatever the settings say
        #[arg(long, value_name = "NAME")]
        palette: Option<String>,
    },
    /// Run keys against a file without a screen and print what came of it
    Play(play::PlayArgs),
    /// Run a recipe over files and folders: shows what would change as a diff, or writes it
    Apply(apply::ApplyArgs),
    /// Check or format a recipe
    Recipe(apply::RecipeArgs),
    /// List every verb: name, keys in Write and in Shape, what it does
    Verbs {
        /// As JSON
        #[arg(long)]
        json: bool,
    },
    /// Draw a sheet to keep: the keys, an edit, a listing, the ledger
    Sheet {
        #[command(subcommand)]
        what: sheets::SheetCommand,
    },
    /// Say what you used: verbs, keys for each changed line, costly habits, what you have learned
    Ledger {
        /// From this day on: a number of days, weeks, months or years (7d, 4w, 6m, 1y) or a date, YYYY-MM-DD
        #[arg(long, value_name = "TIME", default_value = "7d")]
        since: String,
        /// As JSON
        #[arg(long, conflicts_with = "clear")]
        json: bool,
        /// Forget everything that was counted
        #[arg(long)]
        clear: bool,
    },
    /// Practise: a text as it is beside as it should be; without a name, choose one
    Drill {
        /// The name of a drill
        name: Option<String>,
        /// List the drills with their pars and how they went at best
        #[arg(long, conflicts_with = "name")]
        list: bool,
    },
    /// Write the completions of this command line for a shell
    Completions {
        /// The shell
        #[arg(value_enum)]
        shell: clap_complete::Shell,
    },
    /// Write the manual page, in roff
    Man,
    /// Say what the terminal delivers, which files of configuration are read, and what is wrong in them
    Doctor {
        /// Do not ask for keys to be pressed
        #[arg(long)]
        no_keys: bool,
    },
    /// List what was said of commands and servers, folder by folder; with a folder, forget what was said of it
    Trust {
        /// The folder of which all is forgotten
        #[arg(long, value_name = "DIR")]
        forget: Option<PathBuf>,
    },
    /// List every language: name, files, comment marks
    Languages {
        /// As JSON
        #[arg(long)]
        json: bool,
    },
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
        Some(Command::Demo { keep, palette, tour, .. }) => {
            open_demo(keep.as_deref(), palette.as_deref(), if tour { Guide::Tour } else { Guide::None })
        }
        Some(Command::Play(args)) => play::run(&args),
        Some(Command::Apply(args)) => apply::run(&args),
        Some(Command::Recipe(args)) => apply::recipe(&args),
        Some(Command::Sheet { what }) => print(&sheets::run(&what, &|| app_in(Path::new(""), None))?),
        Some(Command::Ledger { since, json, clear }) => match clear {
            true => print(&ledger::clear()?),
            false => print(&ledger::told(&since, format_of(json))?),
        },
        Some(Command::Drill { list: true, .. }) => print(&ledger::drills()?),
        Some(Command::Drill { name, .. }) => drill(name.as_deref()),
        Some(Command::Completions { shell }) => {
            let mut out = Vec::new();
            clap_complete::generate(shell, &mut Cli::command(), "snarvel", &mut out);
            print(&String::from_utf8_lossy(&out))
        }
        Some(Command::Man) => {
            let mut out = Vec::new();
            clap_mangen::Man::new(Cli::command()).render(&mut out).context("the manual page")?;
            print(&String::from_utf8_lossy(&out))
        }
        Some(Command::Doctor { no_keys }) => {
            doctor::run(if no_keys { doctor::KeyCheck::LeftOut } else { doctor::KeyCheck::Asked })
        }
        Some(Command::Trust { forget }) => print(&trust::told(forget.as_deref())?),
        Some(Command::Verbs { json }) => print(&listings::verbs(format_of(json))),
        Some(Command::Languages { json }) => print(&listings::languages(format_of(json))),
    }
}

fn format_of(json: bool) -> listings::Format {
    if json { listings::Format::Json } else { listings::Format::Text }
}

/// A reader that stops reading early (`| head`) is no failure.
fn print(text: &str) -> Result<u8> {
    match std::io::stdout().write_all(text.as_bytes()) {
        Err(error) if error.kind() != std::io::ErrorKind::BrokenPipe => Err(error).context("standard output"),
        _ => Ok(0),
    }
}

/// An application without files, as the person has set it; what is wrong in the settings is told on it.
fn app_in(folder: &Path, palette_given: Option<&str>) -> App {
    let (settings, problems) = state::settings_file().map(|file| settings::file::read(&file)).unwrap_or_default();
    languages::add(settings.languages.clone());
    let palette = Palette::new(&Theme::night(), Depth::of_environment(|variable| std::env::var(variable).ok()));
    let recipes = state::recipes_folder();
    let project = Project { defaults: settings.defaults, recipes, ..Project::in_folder(folder) };
    let mut app = App::new(Workspace::new(project), palette, Size::REFERENCE);
    let keys_file = state::keys_file();
    let (bindings, key_problems) = keys_file.as_deref().map(bindings::read).unwrap_or_default();
    let keyboard = bindings.keyboard.unwrap_or(settings.keyboard);
    let remembered = state::kept_screen();
    let decks = remembered.decks_beside(&settings);
    let (themes, theme_problems) = state::themes_folder().map(|folder| theme::read(&folder)).unwrap_or_default();
    if !themes.is_empty() {
        app.context.look.themes.list = themes;
    }
    let last = remembered.theme.filter(|_| !settings.given.contains(&"palette"));
    let theme = palette_given.map(str::to_owned).or(last).unwrap_or(settings.theme.clone());
    let unknown = app.context.look.themes.find(&theme).is_none().then(|| no_theme(&theme, &app.context.look.themes));
    // The theme that was set stays in the settings where there is none of that name: the problem names it.
    app.take_settings(Settings { keyboard, theme: theme.clone(), decks, ..settings });
    app.context.use_theme(&theme);
    app.context.look.shape_told = remembered.shape_told;
    app.context.workspace.searches.is_in_project = remembered.finds_in_project;
    app.context.settings_file = state::settings_file();
    app.context.keyboard.file = keys_file;
    app.context.keyboard.keymap = app.context.keyboard.keymap.with_own(&bindings.list);
    if app.context.settings.keeps_shelf {
        app.context.workspace.shelf = state::kept_shelf();
    }
    app.context.workspace.tasks.has_screen = true;
    let templates = state::templates_folder();
    let told = templates.map(|folder| app.context.workspace.read_templates(&folder)).unwrap_or_default();
    let (table, server_problems) = state::servers_file().map(|file| Problem::of_servers(&file)).unwrap_or_default();
    if app.context.settings.starts_servers {
        app.context.workspace.use_servers(table);
    }
    let problems: Vec<Problem> = problems
        .into_iter()
        .chain(unknown)
        .chain(theme_problems)
        .chain(key_problems)
        .chain(Problem::of_templates(told))
        .chain(server_problems)
        .collect();
    app.tell_problems(&problems);
    app
}

/// What is told where the theme that is set is not there.
fn no_theme(name: &str, themes: &Themes) -> Problem {
    let names: Vec<&str> = themes.list.iter().map(|theme| theme.name.as_str()).collect();
    let what = format!("no theme is called {name:?}: {} and {AUTO} are", names.join(", "));
    Problem { file: state::settings_file().unwrap_or_default(), line: None, what }
}

/// Shows `app` until it is done, and keeps what is to be kept; gives the exit code.
fn show(app: &mut App) -> Result<u8> {
    if let Some(journals) = app.context.workspace.journals().cloned() {
        let before = std::panic::take_hook();
        std::panic::set_hook(Box::new(move |panic| {
            before(panic);
            // What goes on in the background takes nothing with it.
            if !snarvel_task::is_task_thread() {
                journals.flush();
                eprintln!("snarvel: what was edited is kept: open the same file again to take it back");
            }
        }));
    }
    let code = terminal::run(app)?;
    // What waits outside a drill is what is to be kept.
    app.leave_drill();
    app.end_learning();
    app.context.workspace.end_servers();
    app.context.workspace.end_shells();
    app.context.workspace.end_pasts();
    let is_done = app.is_done();
    let workspace = &mut app.context.workspace;
    if is_done {
        workspace.end_journals();
    } else {
        // A signal, or a terminal that is gone: what was edited is offered at the next start.
        workspace.journals().into_iter().for_each(Journals::flush);
    }
    let kept = workspace.end_keeping();
    state::keep_shelf(app)?;
    state::keep_screen(app)?;
    kept?;
    Ok(code)
}

/// A file to open, and where in it.
#[derive(Debug, PartialEq, Eq)]
pub struct Wanted {
    /// Which file.
    pub path: PathBuf,
    /// Where the caret goes.
    pub at: Option<LineColumn>,
}

/// Reads `FILE`, `FILE:LINE`, `FILE:LINE:COL` and `+LINE FILE`. A file that really has such a name is meant.
///
/// # Errors
/// A `+LINE` without a file after it.
pub fn wanted(names: &[OsString], exists: impl Fn(&Path) -> bool) -> Result<Vec<Wanted>> {
    let mut found = Vec::new();
    let mut line = None;
    for name in names {
        // A name that is no UTF-8 is a name and nothing else.
        let words = name.to_str();
        if let Some(number) = words.and_then(|words| words.strip_prefix('+')).and_then(|number| number.parse().ok()) {
            line = Some(number);
            continue;
        }
        let mut next = if exists(Path::new(name)) { None } else { words.and_then(with_place) }
            .unwrap_or_else(|| Wanted { path: PathBuf::from(name), at: None });
        next.at = next.at.or(line.take().map(|line| LineColumn { line, column: 1 }));
        found.push(next);
    }
    match line {
        Some(line) => bail!("+{line} needs the name of a file after it"),
        None => Ok(found),
    }
}

/// Reads `FILE:LINE` and `FILE:LINE:COL`.
fn with_place(name: &str) -> Option<Wanted> {
    let name = name.trim_end_matches(':');
    let (head, last) = name.rsplit_once(':')?;
    let three =
        head.rsplit_once(':').and_then(|(file, line)| Some((file, LineColumn::parse(&format!("{line}:{last}"))?)));
    let (file, at) = match three {
        Some(three) => three,
        None => (head, LineColumn::parse(last)?),
    };
    (!file.is_empty()).then(|| Wanted { path: PathBuf::from(file), at: Some(at) })
}

/// Opens a drill, or the list of them.
fn drill(name: Option<&str>) -> Result<u8> {
    let chosen = match name {
        None => None,
        Some(name) => Some(
            drills::named(name)
                .with_context(|| format!("no drill is called {name:?}: snarvel drill --list names them"))?,
        ),
    };
    let folder = std::env::current_dir().context("the current folder is gone")?;
    let mut app = app_in(&folder, None);
    keep_safe(&mut app);
    match chosen {
        Some(drill) => app.begin_drills([drill]),
        None => app.call(&Verb::named("drill")),
    }
    show(&mut app)
}

fn edit(edit: &Edit) -> Result<u8> {
    let folder = std::env::current_dir().context("the current folder is gone")?;
    if edit.files == ["-"] && edit.exact.is_empty() {
        return edit_pipe(&folder, edit.palette.as_deref());
    }
    let mut wanted = wanted(&edit.files, Path::exists)?;
    wanted.extend(edit.exact.iter().map(|path| Wanted { path: path.clone(), at: None }));
    let mut app = app_in(&folder, edit.palette.as_deref());
    keep_safe(&mut app);
    let is_free = wanted.is_empty() && app.panel().is_none();
    let workspace = &mut app.context.workspace;
    if let Some(store) = state::folder().map(Store::at) {
        workspace.keep_in(store.clone());
        workspace.read_recipes();
        if workspace.project.keeps_session {
            workspace.recall(&store);
            if is_free {
                workspace.restore(&store);
            }
        }
    }
    let is_restored = workspace.buffers().iter().any(|buffer| buffer.origin != Origin::None);
    let mut first = None;
    for Wanted { path, at } in &wanted {
        let id = workspace.open(path);
        first = first.or(Some(id));
        at.iter().for_each(|at| workspace.go_to_place(Place::At(*at)));
    }
    if !is_restored {
        // The second file of the command line is the first to be offered, as if they had been shown from the last to the first.
        for Wanted { path, .. } in wanted.iter().rev() {
            let path = workspace.project.folder.join(path);
            workspace.project.note_opened(&path);
        }
        first.into_iter().for_each(|first| workspace.show(first));
    }
    // What is said of the files that are opened is said first.
    app.pump();
    app.context.workspace.open_left();
    if is_free && !is_restored {
        app.call(&Verb::named("open"));
    }
    show(&mut app)
}

/// Notes edits in journals.
fn keep_safe(app: &mut App) {
    if let Some(folder) = state::folder() {
        let workspace = &mut app.context.workspace;
        workspace.keep_safe(&folder.join("journals"));
        state::pasts_folder().into_iter().for_each(|folder| workspace.keep_pasts(&folder));
        state::names_file(&workspace.project.folder).into_iter().for_each(|file| workspace.keep_names_in(file));
        if app.context.settings.keeps_ledger {
            state::ledger_file().into_iter().for_each(|file| app.context.workspace.keep_ledger(&file));
        }
    }
}

/// Edits standard input; the text goes to standard output at the end.
fn edit_pipe(folder: &Path, palette: Option<&str>) -> Result<u8> {
    let mut bytes = Vec::new();
    std::io::stdin().read_to_end(&mut bytes).context("standard input")?;
    let (text, encoding) = decode(&bytes);
    let mut app = app_in(folder, palette);
    let workspace = &mut app.context.workspace;
    let buffer = workspace.make_buffer(Loaded { text, encoding, read_only: false }, Origin::Pipe);
    workspace.show_buffer(buffer);
    keep_safe(&mut app);
    let code = show(&mut app)?;
    let piped = app.context.workspace.buffers().iter().find(|buffer| buffer.origin == Origin::Pipe);
    if let Some(buffer) = piped {
        std::io::stdout().write_all(&buffer.bytes()).context("standard output")?;
    }
    Ok(code)
}

/// Whether the demo guides through its tasks.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Guide {
    Tour,
    None,
}

fn open_demo(keep: Option<&Path>, palette: Option<&str>, guide: Guide) -> Result<u8> {
    let copy = demo::copy(keep)?;
    let mut app = app_in(copy.folder(), palette);
    if keep.is_some() {
        keep_safe(&mut app);
    }
    let workspace = &mut app.context.workspace;
    let opened: Vec<_> = demo::OPENED.iter().map(|file| workspace.open(Path::new(file))).collect();
    workspace.show(opened[0]);
    demo::PROJECT.clone_into(&mut workspace.project.name);
    // A fresh copy is a folder of its own each time: it would be asked about at each start.
    workspace.ask_about_no_server();
    app.pump();
    app.context.say("a fresh copy of the Skerry Sound files: nothing here can be broken");
    if guide == Guide::Tour {
        app.context.tour = Some(demo::guided(state::kept_tour()));
        let code = show(&mut app)?;
        state::keep_tour(app.context.tour.as_ref().map_or(0, Tour::next_start))?;
        return Ok(code);
    }
    show(&mut app)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn at(line: usize, column: usize) -> LineColumn {
        LineColumn { line, column }
    }

    #[test]
    fn places_after_file_names() {
        let read = |names: &[&str]| {
            let names: Vec<OsString> = names.iter().map(OsString::from).collect();
            wanted(&names, |path| path == Path::new("odd:3")).unwrap()
        };
        let rows: &[(&[&str], &str, Option<LineColumn>)] = &[
            (&["gauges.rs"], "gauges.rs", None),
            (&["gauges.rs:12"], "gauges.rs", Some(at(12, 1))),
            (&["gauges.rs:12:4"], "gauges.rs", Some(at(12, 4))),
            (&["gauges.rs:12:4:"], "gauges.rs", Some(at(12, 4))),
            (&["+7", "gauges.rs"], "gauges.rs", Some(at(7, 1))),
            (&["odd:3"], "odd:3", None),
            (&["a:b"], "a:b", None),
            (&[":3"], ":3", None),
        ];
        for (names, path, at) in rows {
            assert_eq!(read(names), [Wanted { path: PathBuf::from(path), at: *at }], "{names:?}");
        }
        assert!(wanted(&["+3".into()], |_| false).is_err());
    }
}
