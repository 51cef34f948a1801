//! `snarvel-corpus`: see `scripts/corpus`, which fetches and formats the sources and calls this.

use anyhow::{Result, bail};
use clap::Parser;
use snarvel_corpus::families::ALL;
use snarvel_corpus::family::Family;
use snarvel_corpus::run::{Plan, run, write_wrong};
use snarvel_corpus::sources::{Layout, Source, read_folder};
use std::collections::BTreeMap;
use std::path::PathBuf;

/// Makes random edits on foreign code and judges each.
#[derive(Parser)]
struct Arguments {
    /// The families; all where none is named.
    families: Vec<String>,
    /// Folders of sources as they are.
    #[arg(long)]
    sources: Vec<PathBuf>,
    /// Folders of sources that their formatter has just written.
    #[arg(long)]
    formatted: Vec<PathBuf>,
    /// Edits of each family in each language.
    #[arg(long, default_value_t = 200)]
    edits: usize,
    /// Where random numbers begin.
    #[arg(long, default_value_t = 1)]
    seed: u64,
    /// Only this language.
    #[arg(long)]
    language: Option<String>,
    /// Threads.
    #[arg(long, default_value_t = 2)]
    jobs: usize,
    /// Where wrong edits are written, each with the script that reproduces it.
    #[arg(long)]
    out: Option<PathBuf>,
}

fn main() -> Result<()> {
    let arguments = Arguments::parse();
    let mut families: Vec<&dyn Family> = Vec::new();
    for name in &arguments.families {
        match ALL.iter().find(|family| family.name() == name) {
            Some(family) => families.push(*family),
            None => bail!("no family is called {name:?}: {}", names()),
        }
    }
    if families.is_empty() {
        families = ALL.to_vec();
    }
    let mut sources: Vec<Source> = Vec::new();
    let folders = arguments.sources.iter().map(|folder| (folder, Layout::ByHand));
    for (folder, layout) in folders.chain(arguments.formatted.iter().map(|folder| (folder, Layout::Formatted))) {
        let (read, failed) = read_folder(folder, layout);
        if failed > 0 {
            eprintln!("{}: {failed} files could not be read", folder.display());
        }
        sources.extend(read);
    }
    sources.retain(|source| arguments.language.as_ref().is_none_or(|name| *name == source.language.name));
    if sources.is_empty() {
        bail!("no sources: --sources and --formatted name folders of them");
    }
    let plan =
        Plan { families, sources: &sources, edits: arguments.edits, seed: arguments.seed, threads: arguments.jobs };
    // A panic of the program is a wrong edit, and is told there.
    std::panic::set_hook(Box::new(|_| {}));
    let (table, wrong) = run(&plan);
    print!("{table}");
    let mut causes: BTreeMap<(&str, String), usize> = BTreeMap::new();
    for each in &wrong {
        let why = format!("{:?}", each.edit.verdict);
        *causes.entry((each.family, why.chars().take(60).collect())).or_default() += 1;
    }
    for ((family, why), count) in causes {
        eprintln!("{count:>6} {family}: {why}");
    }
    if let Some(folder) = &arguments.out {
        write_wrong(&wrong, folder)?;
    }
    Ok(())
}

fn names() -> String {
    ALL.iter().map(|family| family.name()).collect::<Vec<_>>().join(", ")
}
