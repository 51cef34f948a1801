//! Runs families on sources, on several threads; the same seed gives the same edits.

use crate::family::{Edit, Family, Verdict};
use crate::report::Table;
use crate::sources::Source;
use fastrand::Rng;
use std::collections::BTreeMap;
use std::hash::{DefaultHasher, Hash, Hasher};
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::path::{Path, PathBuf};
use std::sync::Mutex;
use std::sync::atomic::{AtomicUsize, Ordering};

/// What is to be run.
pub struct Plan<'a> {
    /// The families.
    pub families: Vec<&'a dyn Family>,
    /// The sources.
    pub sources: &'a [Source],
    /// Number of edits of each family in each language.
    pub edits: usize,
    /// Where random numbers begin.
    pub seed: u64,
    /// Number of threads.
    pub threads: usize,
}

/// A wrong edit.
#[derive(Clone, Debug)]
pub struct WrongEdit {
    /// Its family.
    pub family: &'static str,
    /// The source that it was made on.
    pub source: PathBuf,
    /// The edit.
    pub edit: Edit,
}

/// One family on one source, so many times.
struct Job<'a> {
    family: &'a dyn Family,
    source: &'a Source,
    times: usize,
}

/// Tries to find a place for an edit, for each edit that is wanted.
const TRIES: usize = 3;

/// Makes the edits. A panic of the program counts as a wrong edit.
#[must_use]
pub fn run(plan: &Plan) -> (Table, Vec<WrongEdit>) {
    let jobs = jobs(plan);
    let next = AtomicUsize::new(0);
    let found = Mutex::new((Table::default(), Vec::new()));
    std::thread::scope(|scope| {
        for _ in 0..plan.threads.max(1) {
            scope.spawn(|| {
                while let Some(job) = jobs.get(next.fetch_add(1, Ordering::Relaxed)) {
                    let (table, wrong) = run_job(job, plan.seed);
                    let mut found = found.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
                    found.0.join(table);
                    found.1.extend(wrong);
                }
            });
        }
    });
    let (table, mut wrong) = found.into_inner().unwrap_or_else(std::sync::PoisonError::into_inner);
    wrong.sort_by(|one, other| {
        (one.family, &one.source, &one.edit.script).cmp(&(other.family, &other.source, &other.edit.script))
    });
    (table, wrong)
}

/// Spreads the edits of each family evenly over the sources of each language.
fn jobs<'a>(plan: &Plan<'a>) -> Vec<Job<'a>> {
    let mut by_language: BTreeMap<&str, Vec<&Source>> = BTreeMap::new();
    for source in plan.sources {
        by_language.entry(&source.language.name).or_default().push(source);
    }
    let mut jobs = Vec::new();
    for family in &plan.families {
        for sources in by_language.values() {
            let own: Vec<&Source> = sources.iter().copied().filter(|source| family.takes(source)).collect();
            let step = own.len().div_ceil(plan.edits.max(1)).max(1);
            let chosen: Vec<&Source> = own.into_iter().step_by(step).collect();
            let times = if family.is_once() { 1 } else { plan.edits.div_ceil(chosen.len().max(1)) };
            jobs.extend(chosen.into_iter().map(|source| Job { family: *family, source, times }));
        }
    }
    jobs
}

fn run_job(job: &Job, seed: u64) -> (Table, Vec<WrongEdit>) {
    let Job { family, source, times } = job;
    let mut hasher = DefaultHasher::new();
    (seed, family.name(), source.path.file_name(), &source.text).hash(&mut hasher);
    let mut random = Rng::with_seed(hasher.finish());
    let (mut table, mut wrong) = (Table::default(), Vec::new());
    let mut made = 0;
    for _ in 0..times * TRIES {
        if made == *times {
            break;
        }
        let edit = match catch_unwind(AssertUnwindSafe(|| family.edit(source, &mut random))) {
            Ok(Some(edit)) => edit,
            Ok(None) => continue,
            Err(panic) => panicked(source, &*panic),
        };
        made += 1;
        table.add(family.name(), &source.language.name, &edit.verdict);
        if let Verdict::Wrong(_) = edit.verdict {
            wrong.push(WrongEdit { family: family.name(), source: source.path.clone(), edit });
        }
    }
    (table, wrong)
}

fn panicked(source: &Source, panic: &(dyn std::any::Any + Send)) -> Edit {
    let said = panic.downcast_ref::<String>().map(String::as_str).or(panic.downcast_ref::<&str>().copied());
    Edit {
        before: source.text.clone(),
        script: String::new(),
        after: String::new(),
        message: String::new(),
        verdict: Verdict::Wrong(format!("panic: {}", said.unwrap_or("of a kind that says nothing"))),
    }
}

/// Writes each wrong edit into a folder of its own in `folder`: the file before and after it, and the script that reproduces it.
///
/// # Errors
/// A file cannot be written.
pub fn write_wrong(wrong: &[WrongEdit], folder: &Path) -> std::io::Result<()> {
    for (number, each) in wrong.iter().enumerate() {
        let own = folder.join(format!("{}-{:05}", each.family, number + 1));
        std::fs::create_dir_all(&own)?;
        let name = each.source.file_name().unwrap_or_default().to_string_lossy();
        std::fs::write(own.join(&*name), &each.edit.before)?;
        std::fs::write(own.join(format!("after.{name}")), &each.edit.after)?;
        let why = match &each.edit.verdict {
            Verdict::Wrong(why) => why.as_str(),
            Verdict::Right | Verdict::Refused => "",
        };
        let script = each.edit.script.replace('\'', "'\\''");
        let lines = format!(
            "# {}: {why}\n# {}\n# said: {}\nsnarvel play {name} --keys '{script}' | diff {name} -\n",
            each.family,
            each.source.display(),
            each.edit.message.replace('\n', " "),
        );
        std::fs::write(own.join("reproduce"), lines)?;
    }
    Ok(())
}
