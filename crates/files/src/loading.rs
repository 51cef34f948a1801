//! Loading in the background: a disk may take its time, and a large file takes it anyhow. Of that the start comes first, then the
//! text so far now and again, then all of it.

use crate::FileError;
use crate::layout::{FileLayout, layout_of};
use crate::links::other_name;
use crate::load::{Encoding, Go, Loaded, in_pieces, load_by};
use crate::reading;
use crate::stamp::Stamp;
use snarvel_core::text::Text;
use snarvel_task::{Context, Report, Task, waits};
use std::io::Read;
use std::path::{Path, PathBuf};
use std::time::Instant;

/// Of files from this size on, in bytes, the start is shown while the rest comes.
pub const FROM: u64 = 32 << 20;

/// How much of them, in bytes.
const START: u64 = 256 << 10;

/// All that is to be known of a file that is opened.
#[derive(Debug)]
pub struct Opened {
    /// What it holds; none where there is no such file.
    pub loaded: Option<Loaded>,
    /// How it looked before it was read: what is written meanwhile is noticed.
    pub stamp: Option<Stamp>,
    /// How it is to be laid out, and what is wrong in the files that say so.
    pub layout: (FileLayout, Option<String>),
}

impl Opened {
    /// Reads the file at `path`.
    ///
    /// # Errors
    /// What [`crate::load::load`] refuses.
    pub fn read(path: &Path) -> Result<Opened, FileError> {
        read(path, &mut |_| Go::On)
    }
}

fn read(path: &Path, told: &mut dyn FnMut(&Text) -> Go) -> Result<Opened, FileError> {
    let stamp = Stamp::of(path);
    Ok(Opened { loaded: load_by(path, told)?, stamp, layout: layout_of(path) })
}

/// What is reported of a load.
#[derive(Debug)]
pub enum LoadStep {
    /// The file is large: so many bytes are to come.
    Size(u64),
    /// The text so far.
    More(Text),
    /// All of it.
    All(Box<Opened>),
    /// It is another name of this file, which was named among the others: nothing of it is read.
    Same(PathBuf),
    /// It cannot be read.
    Failed(FileError),
}

/// Begins to load the file at `path`, unless that is another name of one of `others`. Of a large file its size and its start are
/// reported first, then the text so far now and again, at last all of it or why it cannot be read.
pub fn load_in_background(path: &Path, others: Vec<PathBuf>, sink: impl Fn(Report<LoadStep>) + Send + 'static) -> Task {
    let path = path.to_owned();
    snarvel_task::spawn(sink, move |context| {
        if let Some(other) = other_name(&path, &others) {
            context.send(LoadStep::Same(other.clone()));
            return;
        }
        if let Some((start, size)) = start_of(&path) {
            context.send(LoadStep::Size(size));
            context.send(LoadStep::More(start));
        }
        run(&path, context);
    })
}

/// The start of the file at `path`, and its size, if it is large and UTF-8 there.
fn start_of(path: &Path) -> Option<(Text, u64)> {
    let size = std::fs::metadata(path).ok().filter(|meta| meta.is_file() && meta.len() >= FROM)?.len();
    let (start, encoding) = in_pieces(reading::open(path).ok()?.take(START), &mut |_| Go::On).ok()?;
    if encoding != Encoding::Utf8 {
        return None;
    }
    // A line or a character that is cut is left out: it comes with the next piece.
    let whole = start.to_string();
    Some((Text::from(whole.rfind('\n').map_or("", |end| &whole[..=end])), size))
}

fn run(path: &Path, context: &Context<LoadStep>) {
    let mut told = Instant::now();
    let mut tell = |text: &Text| {
        if told.elapsed() >= waits::LOADING_STEP {
            told = Instant::now();
            context.send(LoadStep::More(text.clone()));
        }
        if context.is_cancelled() { Go::Stop } else { Go::On }
    };
    context.send(match read(path, &mut tell) {
        Ok(opened) => LoadStep::All(Box::new(opened)),
        Err(error) => LoadStep::Failed(error),
    });
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::sync::mpsc::channel;

    fn steps(path: &Path) -> Vec<LoadStep> {
        let (sender, told) = channel();
        let _task = load_in_background(path, Vec::new(), move |report| drop(sender.send(report)));
        let step = |report| if let Report::News(step) = report { Some(step) } else { None };
        told.iter().map_while(step).collect()
    }

    #[test]
    fn of_a_large_file_the_start_comes_first_and_then_all_of_it() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("tides.txt");
        let line = "the duty pilot reads the gauge\n";
        let content = line.repeat(FROM as usize / line.len() + 1);
        std::fs::write(&path, &content).unwrap();
        let mut steps = steps(&path);
        let Some(LoadStep::All(opened)) = steps.pop() else { panic!("it did not end") };
        let (LoadStep::Size(size), LoadStep::More(start)) = (&steps[0], &steps[1]) else { panic!("{steps:?}") };
        assert!(content.starts_with(&start.to_string()) && start.len() > 200_000);
        assert!(opened.loaded.unwrap().text.to_string() == content);
        assert_eq!((*size, opened.stamp), (content.len() as u64, Stamp::of(&path)));
    }

    #[test]
    fn small_files_missing_ones_and_refusals_come_as_they_are() {
        let folder = tempfile::tempdir().unwrap();
        let first = |name: &str| steps(&folder.path().join(name)).remove(0);
        std::fs::write(folder.path().join("small"), "small").unwrap();
        std::fs::write(folder.path().join(".editorconfig"), "[*]\nindent_style = tab\n").unwrap();
        let LoadStep::All(small) = first("small") else { panic!("not whole") };
        assert_eq!(small.loaded.unwrap().text, Text::from("small"));
        assert!(small.layout.0.unit.is_some());
        assert!(matches!(first("none"), LoadStep::All(opened) if opened.loaded.is_none() && opened.stamp.is_none()));
        assert!(matches!(first("."), LoadStep::Failed(FileError::Folder(_))));
    }
}
