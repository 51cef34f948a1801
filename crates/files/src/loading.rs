//! Loading a large file behind one's back: its start is there at once, the rest comes piece by piece.

use crate::FileError;
use crate::load::{Encoding, Go, Loaded, in_pieces};
use snarvel_core::text::Text;
use std::fs::File;
use std::io::Read;
use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::mpsc::{Receiver, Sender, channel};
use std::thread;
use std::time::{Duration, Instant};

/// Files from this size on, in bytes, are loaded so.
pub const FROM: u64 = 32 << 20;

/// Bytes that are there at once.
const START: u64 = 256 << 10;

/// How often the screen is told of more.
const TOLD_EVERY: Duration = Duration::from_millis(100);

/// What has come.
#[derive(Debug)]
enum Come {
    More(Text),
    All(Text, Encoding),
    Failed(FileError),
}

/// What a load has come to.
#[derive(Debug)]
pub enum State {
    /// Nothing new.
    Waiting,
    /// The text so far.
    More(Text),
    /// All of it.
    All(Loaded),
    /// The rest cannot be read.
    Failed(FileError),
}

/// A load under way. Dropping it stops it.
#[derive(Debug)]
pub struct Loading {
    receiver: Receiver<Come>,
    stop: Arc<AtomicBool>,
    read_only: bool,
    /// The file's size, in bytes.
    pub size: u64,
    /// When it began.
    pub began: Instant,
}

impl Loading {
    /// Begins to load the file at `path`, if it is large and UTF-8 at its start; gives that start.
    #[must_use]
    pub fn start(path: &Path, wake: impl Fn() + Send + 'static) -> Option<(Loading, Text)> {
        let meta = std::fs::metadata(path).ok().filter(|meta| meta.is_file() && meta.len() >= FROM)?;
        let mut file = File::open(path).ok()?;
        let (start, encoding) = in_pieces((&mut file).take(START), &mut |_| Go::On).ok()?;
        if encoding != Encoding::Utf8 {
            return None;
        }
        // A line or a character that is cut is left out: it comes with the next piece.
        let whole = start.to_string();
        let whole = whole.rfind('\n').map_or("", |end| &whole[..=end]);
        let (sender, receiver) = channel();
        let stop = Arc::new(AtomicBool::new(false));
        let (path, stopped): (PathBuf, _) = (path.to_owned(), stop.clone());
        thread::spawn(move || run(&path, &sender, &stopped, &wake));
        let loading = Loading {
            receiver,
            stop,
            read_only: meta.permissions().readonly(),
            size: meta.len(),
            began: Instant::now(),
        };
        Some((loading, Text::from(whole)))
    }

    /// What has come meanwhile.
    pub fn gather(&self) -> State {
        let mut state = State::Waiting;
        while let Ok(come) = self.receiver.try_recv() {
            state = self.state(come);
        }
        state
    }

    fn state(&self, come: Come) -> State {
        match come {
            Come::More(text) => State::More(text),
            Come::All(text, encoding) => State::All(Loaded { text, encoding, read_only: self.read_only }),
            Come::Failed(error) => State::Failed(error),
        }
    }

    /// Waits for all of it.
    pub fn settle(&self) -> State {
        loop {
            match self.receiver.recv() {
                Ok(Come::More(_)) => {}
                Ok(come) => return self.state(come),
                Err(_) => return State::Waiting,
            }
        }
    }
}

impl Drop for Loading {
    fn drop(&mut self) {
        self.stop.store(true, Ordering::Relaxed);
    }
}

fn run(path: &Path, sender: &Sender<Come>, stopped: &AtomicBool, wake: &dyn Fn()) {
    let mut told = Instant::now();
    let mut tell = |text: &Text| {
        if told.elapsed() >= TOLD_EVERY {
            told = Instant::now();
            if sender.send(Come::More(text.clone())).is_err() {
                return Go::Stop;
            }
            wake();
        }
        if stopped.load(Ordering::Relaxed) { Go::Stop } else { Go::On }
    };
    let read = File::open(path).and_then(|file| in_pieces(file, &mut tell));
    let come = match read {
        Ok((text, encoding)) => Come::All(text, encoding),
        Err(source) => Come::Failed(FileError::Read { path: path.to_owned(), source }),
    };
    // Who waited may be gone.
    let _ = sender.send(come);
    wake();
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_start_is_there_at_once_and_the_rest_comes() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("tides.txt");
        let line = "the duty pilot reads the gauge\n";
        let content = line.repeat(FROM as usize / line.len() + 1);
        std::fs::write(&path, &content).unwrap();
        let (loading, start) = Loading::start(&path, || ()).unwrap();
        assert!(content.starts_with(&start.to_string()) && start.len() > 200_000);
        let State::All(loaded) = loading.settle() else { panic!("it did not end") };
        assert!(loaded.text.to_string() == content);
        std::fs::write(&path, "small").unwrap();
        assert!(Loading::start(&path, || ()).is_none());
        assert!(Loading::start(&folder.path().join("none"), || ()).is_none());
    }
}
