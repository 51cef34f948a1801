//! The doctor: what the terminal delivers, which files of configuration are read, and what is wrong in them.

use crate::state;
use anyhow::{Context, Result};
use crossterm::event::{self, Event, KeyCode, KeyEventKind};
use crossterm::terminal::{disable_raw_mode, enable_raw_mode, supports_keyboard_enhancement};
use snarvel_servers::table::find_command;
use snarvel_ui::keys::{Key, bindings};
use snarvel_ui::palette::Depth;
use snarvel_ui::palette::theme;
use snarvel_ui::problem::Problem;
use snarvel_ui::screen::canvas::harmless;
use snarvel_ui::{settings, system_clipboard};
use std::fmt::Write as _;
use std::io::{IsTerminal, Write, stdin, stdout};
use std::path::Path;

/// Keys that terminals and what runs in them most often keep for themselves.
const ASKED: &[(&str, &str)] = &[
    ("alt+d", "duplicate a line"),
    ("ctrl+space", "go to Shape"),
    ("alt+up", "carry a line up"),
    ("alt+shift+down", "add a cursor below"),
    ("ctrl+right", "move by words"),
    ("shift+end", "select to the line's end"),
    ("ctrl+shift+left", "select by words"),
    ("ctrl+home", "go to the top"),
    ("ctrl+pgdn", "show the next file"),
    ("f1", "change the deck"),
    ("ctrl+q", "leave"),
    ("ctrl+s", "save"),
    ("alt+,", "select the line"),
];

/// Whether keys are asked for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum KeyCheck {
    /// Where there is a terminal to press them in.
    Asked,
    /// Never.
    LeftOut,
}

/// Says everything; asks for keys where there is a terminal to press them in. Gives the exit code: 1 where something is wrong
/// in a file of configuration.
///
/// # Errors
/// The terminal cannot be read, or nothing written.
pub fn run(keys: KeyCheck) -> Result<u8> {
    let mut said = String::new();
    about_terminal(&mut said);
    let is_right = about_files(&mut said);
    about_servers(&mut said);
    write_out(&said)?;
    if keys == KeyCheck::Asked && stdin().is_terminal() && stdout().is_terminal() {
        ask_for_keys()?;
    } else {
        write_out("keys: not asked for; run snarvel doctor in a terminal to press some\n")?;
    }
    Ok(u8::from(!is_right))
}

fn write_out(text: &str) -> Result<()> {
    match stdout().write_all(text.as_bytes()).and_then(|()| stdout().flush()) {
        Err(error) if error.kind() != std::io::ErrorKind::BrokenPipe => Err(error).context("standard output"),
        _ => Ok(()),
    }
}

fn about_terminal(said: &mut String) {
    let variable = |name: &str| std::env::var(name).ok();
    let shown = |name: &str| variable(name).map_or("not set".to_owned(), |value| harmless(&value));
    let _ = writeln!(said, "terminal: TERM {}, COLORTERM {}", shown("TERM"), shown("COLORTERM"));
    let colours = match Depth::of_environment(variable) {
        Depth::True => "24 bits",
        Depth::Indexed => "256",
        Depth::Named => "16",
        Depth::None => "none",
    };
    let _ =
        writeln!(said, "colours: {colours}{}", if variable("NO_COLOR").is_some() { " (NO_COLOR is set)" } else { "" });
    let size =
        crossterm::terminal::size().map_or("unknown".to_owned(), |(cols, rows)| format!("{cols} × {rows} cells"));
    let _ = writeln!(said, "size: {size}");
    let is_tty = stdin().is_terminal() && stdout().is_terminal();
    let enhanced = match is_tty.then(supports_keyboard_enhancement) {
        Some(Ok(true)) => "enhanced (CSI u): all keys arrive",
        Some(_) => "plain: Alt+Shift+O, Alt+[ and Alt+] do not arrive; in Shape the bare keys work",
        None => "not known: this is no terminal",
    };
    let _ = writeln!(said, "keyboard protocol: {enhanced}");
    let display = if system_clipboard::Display::of_environment().is_some() { "the display's, and " } else { "" };
    let _ = writeln!(said, "clipboard: {display}the terminal's by OSC 52, where it allows that");
}

/// What is read and what is wrong in it; whether nothing is.
fn about_files(said: &mut String) -> bool {
    let mut is_right = true;
    let mut tell = |name: &str, file: Option<std::path::PathBuf>, read: &dyn Fn(&Path) -> Vec<Problem>| {
        let Some(file) = file else {
            let _ = writeln!(said, "{name}: none, for there is no home folder");
            return;
        };
        let is_there = if file.exists() { "" } else { " (not there)" };
        let _ = writeln!(said, "{name}: {}{is_there}", harmless(&file.display().to_string()));
        for problem in read(&file) {
            is_right = false;
            let _ = writeln!(said, "  {}", harmless(&problem.to_string()));
        }
    };
    tell("settings", state::settings_file(), &|file| settings::file::read(file).1);
    tell("keys", state::keys_file(), &|file| bindings::read(file).1);
    tell("themes", state::themes_folder(), &theme_problems);
    tell("servers", state::servers_file(), &|file| Problem::of_servers(file).1);
    tell("state", state::folder(), &|_| Vec::new());
    is_right
}

/// What is wrong in files of themes, and the pairs of colours that can hardly be read.
fn theme_problems(folder: &Path) -> Vec<Problem> {
    let (themes, mut problems) = theme::read(folder);
    for theme in &themes {
        for (tone, ground, contrast) in theme.faint() {
            let what = format!(
                "{tone} on {ground} has a contrast of {contrast:.1} to 1, which is hard to read: {} is the least",
                theme::LEAST_CONTRAST
            );
            problems.push(Problem { file: folder.join(format!("{}.toml", theme.name)), line: None, what });
        }
    }
    problems
}

/// The language servers that are found, each with its languages.
fn about_servers(said: &mut String) {
    let table = state::servers_file().map(|file| Problem::of_servers(&file).0).unwrap_or_default();
    let (mut found, mut missing) = (Vec::new(), 0);
    for row in table.all() {
        match find_command(&row.command) {
            Some(path) => {
                found.push(format!("  {} for {}: {}", row.name, row.languages.join(", "), path.display()));
            }
            None => missing += 1,
        }
    }
    let languages = table.languages().len();
    let _ =
        writeln!(said, "language servers: {} found, {missing} not installed, for {languages} languages", found.len());
    for line in &found {
        let _ = writeln!(said, "{}", harmless(line));
    }
}

/// Asks for keys one by one, and says which arrived as something else.
fn ask_for_keys() -> Result<()> {
    write_out("\nPress each key as it is asked for; Enter skips one, Esc ends.\n")?;
    enable_raw_mode().context("the terminal")?;
    let result = press_each();
    disable_raw_mode().context("the terminal")?;
    result
}

fn press_each() -> Result<()> {
    for (name, use_of_it) in ASKED {
        let Some(wanted) = Key::parse(name) else { continue };
        write_out(&format!("  {:<18} ({use_of_it}) … ", wanted.to_string()))?;
        let got = next_key()?;
        let said = match got.code {
            _ if got == wanted => "arrives".to_owned(),
            KeyCode::Enter => "skipped".to_owned(),
            KeyCode::Esc => "ended".to_owned(),
            _ => format!("arrives as {got}: something before Snarvel takes it or changes it"),
        };
        write_out(&format!("{}\r\n", harmless(&said)))?;
        if got.code == KeyCode::Esc {
            break;
        }
    }
    Ok(())
}

fn next_key() -> Result<Key> {
    loop {
        if let Event::Key(key) = event::read().context("the terminal")?
            && key.kind != KeyEventKind::Release
        {
            return Ok(Key::from(key));
        }
    }
}
