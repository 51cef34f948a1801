//! `snarvel sheet`: drawings to keep.

use crate::play;
use crate::{ledger, state};
use anyhow::{Context, Result, bail};
use clap::{Args, Subcommand, ValueEnum};
use snarvel_core::folds::Folds;
use snarvel_core::units::Line;
use snarvel_core::verbs::scene::counted;
use snarvel_draw::edit::{Cap, EditSheet};
use snarvel_draw::listing::{Inks, Layout, Listing};
use snarvel_draw::{Drawing, Paper};
use snarvel_files::loading::Opened;
use snarvel_ui::app::App;
use snarvel_ui::presenting::Press;
use snarvel_ui::sheets;
use snarvel_ui::sheets::edit::{State, sides};
use snarvel_ui::sheets::listing::listed;
use snarvel_workspace::buffer::{Buffer, Origin};
use snarvel_workspace::coloured::coloured;
use std::ops::RangeInclusive;
use std::path::{Path, PathBuf};

/// What is drawn.
#[derive(Debug, Subcommand)]
pub enum SheetCommand {
    /// The keyboard with what its keys do
    Keys(Onto),
    /// What keys do to a file: before and after side by side, with the keys below
    Edit {
        /// The file; it stays as it is
        file: PathBuf,
        /// The key script, as `snarvel play` takes it; places at its start are where it begins
        #[arg(long, value_name = "SCRIPT", allow_hyphen_values = true)]
        keys: String,
        /// The language, whatever the file's name says
        #[arg(long, value_name = "NAME")]
        language: Option<String>,
        /// In greys
        #[arg(long)]
        greys: bool,
        /// Where it goes
        #[command(flatten)]
        onto: Onto,
    },
    /// What you used: charts of the ledger
    Ledger {
        /// From this day on: a number of days, weeks, months or years (7d, 4w, 6m, 1y) or a date, YYYY-MM-DD
        #[arg(long, value_name = "TIME", default_value = "1y")]
        since: String,
        /// Where it goes
        #[command(flatten)]
        onto: Onto,
    },
    /// Source code on pages, with colours and line numbers
    Listing {
        /// The files
        #[arg(required = true, value_name = "FILE")]
        files: Vec<PathBuf>,
        /// Only these lines, FIRST-LAST
        #[arg(long, value_name = "FIRST-LAST", value_parser = parse_lines)]
        lines: Option<RangeInclusive<usize>>,
        /// Two columns on a page, the paper on its long side
        #[arg(long)]
        two: bool,
        /// In greys
        #[arg(long)]
        greys: bool,
        /// Hand it to the printer instead, by the command lp
        #[arg(long)]
        print: bool,
        /// The file, .svg or .pdf
        #[arg(long, value_name = "FILE", required_unless_present = "print")]
        out: Option<PathBuf>,
        /// What it is printed on
        #[arg(long, value_enum, default_value_t)]
        paper: PaperName,
    },
}

/// Where a drawing goes, and on what.
#[derive(Debug, Args)]
pub struct Onto {
    /// The file, .svg or .pdf
    #[arg(long, value_name = "FILE")]
    out: PathBuf,
    /// What it is printed on
    #[arg(long, value_enum, default_value_t)]
    paper: PaperName,
}

/// The papers by name.
#[derive(Clone, Copy, Debug, Default, ValueEnum)]
pub enum PaperName {
    /// 297 by 210 millimetres
    #[default]
    A4,
    /// 11 by 8½ inches
    Letter,
}

impl From<PaperName> for Paper {
    fn from(paper: PaperName) -> Paper {
        match paper {
            PaperName::A4 => Paper::A4,
            PaperName::Letter => Paper::Letter,
        }
    }
}

fn parse_lines(text: &str) -> Result<RangeInclusive<usize>, String> {
    let wrong = || "FIRST-LAST, both from 1, as in 10-40".to_owned();
    let (first, last) = text.split_once('-').ok_or_else(wrong)?;
    let [first, last] = [first, last].map(|line| line.trim().parse::<usize>().ok().filter(|line| *line > 0));
    let (first, last) = (first.ok_or_else(wrong)?, last.ok_or_else(wrong)?);
    if last < first {
        return Err(wrong());
    }
    Ok(first..=last)
}

/// Draws what is asked for; gives what is said. `app` makes the application as the person has set it.
///
/// # Errors
/// A file that cannot be read or written, a wrong script, a ledger that cannot be read.
pub fn run(what: &SheetCommand, app: &dyn Fn() -> App) -> Result<String> {
    match what {
        SheetCommand::Keys(onto) => {
            let keymap = app().context.keyboard.keymap;
            put(&[sheets::keys::key_sheet(&keymap).drawing(onto.paper.into())], onto)
        }
        SheetCommand::Edit { file, keys, language, greys, onto } => {
            let inks = inks(*greys);
            let sheet = EditSheet { paper: onto.paper.into(), inks, ..edit(file, keys, language.as_deref())? };
            put(&[sheet.drawing()], onto)
        }
        SheetCommand::Ledger { since, onto } => {
            let report = ledger::report(since)?;
            put(&[sheets::ledger::drawing(&report, onto.paper.into())], onto)
        }
        SheetCommand::Listing { files, lines, two, greys, print, out, paper } => {
            let layout = if *two { Layout::Two } else { Layout::One };
            let listing = Listing { files: Vec::new(), paper: (*paper).into(), layout, inks: inks(*greys) };
            let pages = list(listing, files, lines.as_ref())?;
            match out {
                _ if *print => sheets::print(&pages).map(|()| "handed to the printer\n".to_owned()),
                Some(out) => put(&pages, &Onto { out: out.clone(), paper: *paper }),
                None => bail!("--out names the file"),
            }
        }
    }
}

fn inks(greys: bool) -> Inks {
    if greys { Inks::Greys } else { Inks::Colours }
}

fn put(pages: &[Drawing], onto: &Onto) -> Result<String> {
    sheets::write(pages, &onto.out)?;
    Ok(format!("{}\n", onto.out.display()))
}

/// What the keys of a script do to a file.
fn edit(file: &Path, keys: &str, language: Option<&str>) -> Result<EditSheet> {
    let played = play::on_file(file, keys, language)?;
    let (buffer, view) = (played.app.context.workspace.active(), played.app.context.workspace.view());
    let before = State { text: &played.before.0, cursors: &played.before.1 };
    let after = State { text: buffer.text(), cursors: view.cursors() };
    let (sides, bands) = sides([before, after], buffer.settings().tabs);
    let shown = played.app.context.look.presenting.shown.iter().flatten();
    let keys = shown.map(Press::told).map(|(key, did)| Cap { key, did }).collect();
    let title = file.file_name().unwrap_or_default().to_string_lossy().into_owned();
    Ok(EditSheet { title, sides, bands, keys, ..EditSheet::default() })
}

/// The files as pages, those lines of them.
fn list(mut listing: Listing, files: &[PathBuf], lines: Option<&RangeInclusive<usize>>) -> Result<Vec<Drawing>> {
    let (settings, _) = state::settings_file().map(|file| snarvel_ui::settings::file::read(&file)).unwrap_or_default();
    for file in files {
        let path = std::path::absolute(file).unwrap_or_else(|_| file.clone());
        let opened = Opened::read(&path)?;
        let loaded = opened.loaded.with_context(|| format!("{} is not there", file.display()))?;
        let buffer = coloured(Buffer::new(loaded, Origin::File(path), settings.defaults, None));
        let lines = lines.map(|lines| Line(lines.start() - 1)..=Line(lines.end() - 1));
        let name = file.to_string_lossy().into_owned();
        let count = buffer.text().real_line_count();
        if let Some(lines) = lines.as_ref().filter(|lines| lines.start().0 >= count) {
            bail!("{} has {} only: there is no line {}", file.display(), counted(count, "line"), lines.start().0 + 1);
        }
        listing.files.push(listed((&buffer, &Folds::default()), name, lines, listing.cells()));
    }
    Ok(listing.pages())
}
