//! For tests: the application on a disk that takes its time.

use super::{App, Event};
use crate::keys::Key;
use crate::palette::{Depth, Palette, Tide};
use crate::screen::layout::Size;
use snarvel_files::save::{Disk, FileLayer};
use std::fs::Metadata;
use std::io;
use std::path::{Path, PathBuf};
use std::sync::mpsc::{Receiver, Sender, channel};
use std::sync::{Arc, Mutex};
use std::time::Duration;

/// A disk that writes nothing until it is told to; or fails, when it is told that.
#[derive(Debug)]
struct Slow {
    may: Mutex<Receiver<io::Result<()>>>,
}

impl FileLayer for Slow {
    fn write_beside(&self, target: &Path, bytes: &[u8], old: Option<&Metadata>) -> io::Result<PathBuf> {
        self.may.lock().unwrap().recv().unwrap()?;
        Disk.write_beside(target, bytes, old)
    }
}

/// The application on a slow disk, with some files open.
pub(super) struct Bench {
    pub folder: tempfile::TempDir,
    pub app: App,
    disk: Sender<io::Result<()>>,
    pub woken: Receiver<()>,
    /// While somebody holds it, who works behind the screen gets no further than to its first news.
    pub gate: Arc<Mutex<()>>,
}

impl Bench {
    pub fn with(names: &[&str]) -> Bench {
        let folder = tempfile::tempdir().unwrap();
        let palette = Palette::new(Tide::Night, Depth::True);
        let mut app = App::new(Vec::new(), folder.path().to_owned(), palette, Size::REFERENCE);
        for name in names {
            std::fs::write(folder.path().join(name), "ebb\n").unwrap();
            app.open(Path::new(name));
        }
        let (disk, may) = channel();
        app.disk = Arc::new(Slow { may: Mutex::new(may) });
        let (wake, woken) = channel();
        let gate = Arc::new(Mutex::new(()));
        let to_pass = gate.clone();
        app.waker.connect(move || {
            drop(to_pass.lock());
            wake.send(()).unwrap_or(());
        });
        Bench { folder, app, disk, woken, gate }
    }

    pub fn press(&mut self, keys: &str) {
        for key in keys.split(' ') {
            self.app.handle(Event::Key(Key::parse(key).unwrap()), 0);
        }
    }

    /// The disk does what it was asked for, or fails, until a save is done.
    pub fn disk_goes_on(&mut self, result: io::Result<()>) {
        let under_way = |app: &App| app.saves.first().map(|save| save.order.text.clone());
        let before = under_way(&self.app);
        self.disk_may(result);
        self.until(|app| under_way(app) != before);
    }

    /// The disk may do one thing, or fails at it.
    pub fn disk_may(&self, result: io::Result<()>) {
        self.disk.send(result).unwrap();
    }

    /// Takes in what is done behind the screen until `is_so`.
    pub fn until(&mut self, is_so: impl Fn(&App) -> bool) {
        while !is_so(&self.app) {
            self.woken.recv_timeout(Duration::from_secs(20)).unwrap();
            self.app.gather();
        }
    }

    pub fn file(&self, name: &str) -> String {
        std::fs::read_to_string(self.folder.path().join(name)).unwrap()
    }

    pub fn message(&self) -> &str {
        self.app.message.as_deref().unwrap_or_default()
    }
}
