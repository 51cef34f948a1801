//! `snarvel apply`: a recipe, or a script of keys, over files and folders. It shows what would change as a diff, or writes it.
//!
//! Files are worked on by several threads, and told in their order, so that the same files give the same output for any number of
//! threads. No more than some dozens of results wait for their turn at a time.

mod by_keys;
mod in_order;
mod one_file;

use anyhow::{Context, Result};
use clap::Args;
use in_order::in_order;
use one_file::{FileResult, How, Work};
use snarvel_core::languages::{self, Language};
use snarvel_core::verbs::scene::counted;
use snarvel_files::gather::{Gathered, gather};
use snarvel_files::reading;
use snarvel_ui::keys::script;
use snarvel_ui::screen::canvas::harmless;
use snarvel_workspace::recipes;
use std::io::{Read, Write};
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// What `snarvel apply` is asked for.
#[derive(Debug, Args)]
pub struct ApplyArgs {
    /// The recipe, then the files and folders; `-` reads the recipe from standard input. With --keys, files and folders only
    #[arg(required = true, value_name = "RECIPE PATH")]
    names: Vec<PathBuf>,
    /// Run this key script on each file in place of a recipe
    #[arg(long, value_name = "SCRIPT", allow_hyphen_values = true)]
    keys: Option<String>,
    /// Write the files, each whole or not at all, and print their names with how many places changed
    #[arg(long, conflicts_with = "check")]
    write: bool,
    /// Print the names of the files that would change, and nothing else; exit code 1 if there is one
    #[arg(long)]
    check: bool,
    /// The language of all files, whatever their names say
    #[arg(long, value_name = "NAME")]
    language: Option<String>,
    /// How many files are worked on at the same time; as many as there are processors
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u16).range(1..=256))]
    jobs: Option<u16>,
    /// Let the recipe run commands (filter-through)
    #[arg(long)]
    trust: bool,
}

/// A recipe may have this many bytes.
const LONGEST_RECIPE: u64 = 16 << 20;

/// Applies.
///
/// # Errors
/// A recipe that cannot be read, and standard output that cannot be written.
pub fn run(args: &ApplyArgs) -> Result<u8> {
    let language = match args.language.as_ref().map(|name| (name, languages::by_name(name))) {
        None => None,
        Some((_, Some(language))) => Some(language),
        Some((name, None)) => return Ok(wrong_use(&format!("no language is called {name:?}: see snarvel languages"))),
    };
    let (work, names) = match work_of(args, language)? {
        Ok(work) => work,
        Err(code) => return Ok(code),
    };
    if names.is_empty() {
        return Ok(wrong_use("no file or folder is named: snarvel apply RECIPE PATH..."));
    }
    let mut tally = Tally::default();
    let files = gather(names, &mut |path, error| {
        tally.failed += 1;
        complain(path, &error.to_string());
    });
    tally.files = files.len();
    let jobs = args.jobs.map_or_else(|| std::thread::available_parallelism().map_or(2, usize::from), usize::from);
    if work.is_strict() && !all_can_be_done(&work, &files, jobs) {
        eprintln!("nothing was written: the recipe is strict, and a step could not be done");
        return Ok(1);
    }
    let how = if args.write {
        How::Write
    } else if args.check {
        How::Names
    } else {
        How::Diff
    };
    carry_out((&work, how), &files, jobs, &mut tally)?;
    eprintln!("{}", tally.told());
    let would_change = how == How::Names && tally.changed > 0;
    Ok(u8::from(tally.failed > 0 || would_change))
}

/// What is to be done with each file, and the names of files and folders; or the exit code where that is wrong.
#[allow(clippy::type_complexity)]
fn work_of(args: &ApplyArgs, language: Option<Arc<Language>>) -> Result<Result<(Work, &[PathBuf]), u8>> {
    if let Some(keys) = &args.keys {
        return Ok(match script::parse(keys) {
            Ok(steps) => Ok((Work::Keys(steps, language), &args.names)),
            Err(wrong) => Err(wrong_use(&wrong.to_string())),
        });
    }
    let (recipe, names) = args.names.split_first().context("no recipe is named")?;
    let (name, source) = source_of(recipe)?;
    let read = if args.trust { recipes::read_trusted(&source) } else { recipes::read(&source) };
    Ok(match read {
        Ok(program) => Ok((Work::Recipe(program, language), names)),
        Err(mistakes) => {
            mistakes.iter().for_each(|mistake| eprintln!("{}", harmless(&format!("{name}:{mistake}"))));
            Err(2)
        }
    })
}

/// The name of a recipe as mistakes are told with it, and what it holds.
///
/// # Errors
///
/// A file that cannot be read, or is no UTF-8.
pub fn source_of(recipe: &Path) -> Result<(String, String)> {
    let (name, bytes) = if recipe == Path::new("-") {
        let mut bytes = Vec::new();
        std::io::stdin().take(LONGEST_RECIPE).read_to_end(&mut bytes).context("standard input")?;
        ("standard input".to_owned(), bytes)
    } else {
        let name = recipe.display().to_string();
        let bytes = reading::read(recipe, LONGEST_RECIPE).with_context(|| format!("the recipe {name}"))?;
        (name, bytes)
    };
    let source = String::from_utf8(bytes).map_err(|error| {
        let whole = String::from_utf8_lossy(&error.as_bytes()[..error.utf8_error().valid_up_to()]);
        anyhow::anyhow!("the recipe {name}: line {} is no UTF-8", 1 + whole.matches('\n').count())
    })?;
    Ok((name, source))
}

fn wrong_use(message: &str) -> u8 {
    eprintln!("snarvel apply: {}", harmless(message));
    2
}

fn complain(path: &Path, why: &str) {
    let name = path.display().to_string();
    // What the system says of a file often names it already.
    match why.starts_with(&name) {
        true => eprintln!("{}", harmless(why)),
        false => eprintln!("{}", harmless(&format!("{name}: {why}"))),
    }
}

/// Whether every step can be done in every file; tells where not.
fn all_can_be_done(work: &Work, files: &[Gathered], jobs: usize) -> bool {
    let mut can = true;
    in_order(
        files,
        jobs,
        |file| work.refusal(file),
        |file, refusal: Option<String>| {
            if let Some(why) = refusal {
                complain(&file.path, &why);
                can = false;
            }
            true
        },
    );
    can
}

/// Works on all files and tells of each in their order.
fn carry_out((work, how): (&Work, How), files: &[Gathered], jobs: usize, tally: &mut Tally) -> Result<()> {
    let mut out = std::io::BufWriter::new(std::io::stdout().lock());
    let mut broken = None;
    in_order(
        files,
        jobs,
        |file| work.carry_out(file, how),
        |file, result: FileResult| {
            tally.add(&result);
            result.complaints.iter().for_each(|why| complain(&file.path, why));
            match out.write_all(&result.told) {
                Err(error) => {
                    broken = Some(error);
                    false
                }
                Ok(()) => true,
            }
        },
    );
    let ended = broken.map_or_else(|| out.flush(), Err);
    match ended {
        Err(error) if error.kind() != std::io::ErrorKind::BrokenPipe => Err(error).context("standard output"),
        _ => Ok(()),
    }
}

/// What was done in all files.
#[derive(Default)]
struct Tally {
    files: usize,
    changed: usize,
    places: usize,
    failed: usize,
    not_done: usize,
}

impl Tally {
    fn add(&mut self, result: &FileResult) {
        self.changed += usize::from(result.places > 0);
        self.places += result.places;
        self.failed += usize::from(result.has_failed);
        self.files -= usize::from(result.is_passed_over);
        self.not_done += result.not_done;
    }

    fn told(&self) -> String {
        let mut parts = vec![format!("{} of {} changed", self.changed, counted(self.files, "file"))];
        if self.places > 0 {
            parts.push(counted(self.places, "place"));
        }
        let not_done = self.failed + self.not_done;
        if not_done > 0 {
            parts.push(format!("{not_done} could not be done"));
        }
        parts.join(", ")
    }
}

/// What `snarvel recipe` is asked for.
#[derive(Debug, Args)]
pub struct RecipeArgs {
    /// The recipe; `-` reads it from standard input
    file: PathBuf,
    /// Say what is wrong in it, and nothing where it is right
    #[arg(long, required_unless_present = "format")]
    check: bool,
    /// Print it in the one way of writing recipes
    #[arg(long, conflicts_with = "check")]
    format: bool,
    /// Write it in that way in place of printing it
    #[arg(long, requires = "format")]
    write: bool,
}

/// Checks or formats a recipe.
///
/// # Errors
/// It cannot be read or written.
pub fn recipe(args: &RecipeArgs) -> Result<u8> {
    let (name, source) = source_of(&args.file)?;
    if let Err(mistakes) = recipes::read_trusted(&source) {
        mistakes.iter().for_each(|mistake| eprintln!("{}", harmless(&format!("{name}:{mistake}"))));
        return Ok(2);
    }
    if args.format {
        let formatted = snarvel_core::recipes::format(&source);
        if args.write && args.file != Path::new("-") {
            if formatted != source {
                snarvel_files::save::save(&args.file, formatted.as_bytes())?;
            }
        } else {
            std::io::stdout().write_all(formatted.as_bytes()).context("standard output")?;
        }
    }
    Ok(0)
}
