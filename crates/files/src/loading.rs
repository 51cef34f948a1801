//! Loading behind one's back: a disk may take its time, and a large file takes it anyhow. Of that the start comes first, then
//! the text so far now and again, then all of it.

use crate::FileError;
use crate::layout::{FileLayout, layout_of};
use crate::load::{Encoding, Go, Loaded, in_pieces, load_by};
use crate::stamp::Stamp;
use snarvel_core::text::Text;
use std::fs::File;
use std::io::Read;
use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicU64, Ordering};
use std::sync::mpsc::{Receiver, Sender, channel};
use std::thread;
use std::time::{Duration, Instant};

/// Of files from this size on, in bytes, the start is shown while the rest comes.
pub const FROM: u64 = 32 << 20;

/// How much of them, in bytes.
const START: u64 = 256 << 10;

/// How often the screen is told of more.
const TOLD_EVERY: Duration = Duration::from_millis(100);

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

/// What a load has come to.
#[derive(Debug)]
pub enum State {
    /// Nothing new.
    Waiting,
    /// The text so far.
    More(Text),
    /// All of it.
    All(Box<Opened>),
    /// It cannot be read.
    Failed(FileError),
}

/// A load under way. Dropping it stops it.
#[derive(Debug)]
pub struct Loading {
    receiver: Receiver<State>,
    stop: Arc<AtomicBool>,
    size: Arc<AtomicU64>,
    /// When it began.
    pub began: Instant,
}

impl Loading {
    /// Begins to load the file at `path`; `wake` is called when there is more of it.
    #[must_use]
    pub fn start(path: &Path, wake: impl Fn() + Send + 'static) -> Loading {
        let (sender, receiver) = channel();
        let (stop, size) = (Arc::new(AtomicBool::new(false)), Arc::new(AtomicU64::new(0)));
        let (path, stopped, told_size): (PathBuf, _, _) = (path.to_owned(), stop.clone(), size.clone());
        thread::spawn(move || {
            if let Some((start, size)) = start_of(&path) {
                told_size.store(size, Ordering::Relaxed);
                // Who waits for it may be gone.
                let _ = sender.send(State::More(start));
                wake();
            }
            run(&path, &sender, &stopped, &wake);
        });
        Loading { receiver, stop, size, began: Instant::now() }
    }

    /// The file's size, in bytes; 0 where it is not known yet, or of no interest.
    pub fn size(&self) -> u64 {
        self.size.load(Ordering::Relaxed)
    }

    /// What has come first; waits for that for `longest` at most.
    pub fn first(&self, longest: Duration) -> State {
        self.receiver.recv_timeout(longest).unwrap_or(State::Waiting)
    }

    /// What has come meanwhile.
    pub fn gather(&self) -> State {
        self.receiver.try_iter().last().unwrap_or(State::Waiting)
    }

    /// Waits for all of it.
    pub fn settle(&self) -> State {
        let whole = |state: &State| !matches!(state, State::More(_) | State::Waiting);
        self.receiver.iter().find(whole).unwrap_or(State::Waiting)
    }
}

/// The start of the file at `path`, and its size, if it is large and UTF-8 there.
fn start_of(path: &Path) -> Option<(Text, u64)> {
    let size = std::fs::metadata(path).ok().filter(|meta| meta.is_file() && meta.len() >= FROM)?.len();
    let (start, encoding) = in_pieces(File::open(path).ok()?.take(START), &mut |_| Go::On).ok()?;
    if encoding != Encoding::Utf8 {
        return None;
    }
    // A line or a character that is cut is left out: it comes with the next piece.
    let whole = start.to_string();
    Some((Text::from(whole.rfind('\n').map_or("", |end| &whole[..=end])), size))
}

impl Drop for Loading {
    fn drop(&mut self) {
        self.stop.store(true, Ordering::Relaxed);
    }
}

fn run(path: &Path, sender: &Sender<State>, stopped: &AtomicBool, wake: &dyn Fn()) {
    let mut told = Instant::now();
    let mut tell = |text: &Text| {
        if told.elapsed() >= TOLD_EVERY {
            told = Instant::now();
            if sender.send(State::More(text.clone())).is_err() {
                return Go::Stop;
            }
            wake();
        }
        if stopped.load(Ordering::Relaxed) { Go::Stop } else { Go::On }
    };
    let state = match read(path, &mut tell) {
        Ok(opened) => State::All(Box::new(opened)),
        Err(error) => State::Failed(error),
    };
    // Who waited may be gone.
    let _ = sender.send(state);
    wake();
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn of_a_large_file_the_start_comes_first_and_then_all_of_it() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("tides.txt");
        let line = "the duty pilot reads the gauge\n";
        let content = line.repeat(FROM as usize / line.len() + 1);
        std::fs::write(&path, &content).unwrap();
        let loading = Loading::start(&path, || ());
        let State::More(start) = loading.first(Duration::MAX) else { panic!("the start does not come first") };
        assert!(content.starts_with(&start.to_string()) && start.len() > 200_000);
        let State::All(opened) = loading.settle() else { panic!("it did not end") };
        assert!(opened.loaded.unwrap().text.to_string() == content);
        assert_eq!((loading.size(), opened.stamp), (content.len() as u64, Stamp::of(&path)));
    }

    #[test]
    fn small_files_missing_ones_and_refusals_come_as_they_are() {
        let folder = tempfile::tempdir().unwrap();
        let first = |name: &str| Loading::start(&folder.path().join(name), || ()).first(Duration::MAX);
        std::fs::write(folder.path().join("small"), "small").unwrap();
        std::fs::write(folder.path().join(".editorconfig"), "[*]\nindent_style = tab\n").unwrap();
        let State::All(small) = first("small") else { panic!("not whole") };
        assert_eq!(small.loaded.unwrap().text, Text::from("small"));
        assert!(small.layout.0.unit.is_some());
        assert!(matches!(first("none"), State::All(opened) if opened.loaded.is_none() && opened.stamp.is_none()));
        assert!(matches!(first("."), State::Failed(FileError::Folder(_))));
    }
}
