//! The application on a disk that takes its time, or fails: keys go on meanwhile, and nothing is lost.

use snarvel_files::save::{Disk, FileLayer, Fresh};
use snarvel_task::waits;
use snarvel_ui::app::{App, Event};
use snarvel_ui::keys::Key;
use snarvel_ui::palette::theme::Theme;
use snarvel_ui::palette::{Depth, Palette};
use snarvel_ui::panels::difference::DifferencePanel;
use snarvel_ui::panels::question::Question;
use snarvel_ui::panels::sift::SiftPanel;
use snarvel_ui::size::Size;
use snarvel_workspace::project::Project;
use snarvel_workspace::workspace::Workspace;
use std::any::Any;
use std::fs::Metadata;
use std::io;
use std::path::Path;
use std::sync::mpsc::{Receiver, Sender, channel};
use std::sync::{Arc, Mutex};
use std::time::Duration;

/// A disk that writes nothing until it is told to; or fails, when it is told that.
#[derive(Debug)]
struct Slow {
    may: Mutex<Receiver<io::Result<()>>>,
}

impl FileLayer for Slow {
    fn write_beside(&self, target: &Path, bytes: &[u8], old: Option<&Metadata>) -> io::Result<Fresh> {
        self.may.lock().unwrap().recv().unwrap()?;
        Disk::default().write_beside(target, bytes, old)
    }
}

/// The application on a slow disk, with some files open.
struct Bench {
    folder: tempfile::TempDir,
    app: App,
    disk: Sender<io::Result<()>>,
    woken: Receiver<()>,
    /// While it is held, tasks get no further than to their first news.
    gate: Arc<Mutex<()>>,
}

impl Bench {
    /// Each of the files holds "ebb"; the last one is active.
    fn with(names: &[&str]) -> Bench {
        let folder = tempfile::tempdir().unwrap();
        let workspace = Workspace::new(Project::in_folder(folder.path()));
        let mut app = App::new(workspace, Palette::new(&Theme::night(), Depth::True), Size::REFERENCE);
        for name in names {
            std::fs::write(folder.path().join(name), "ebb\n").unwrap();
            app.context.workspace.open(Path::new(name));
            app.pump();
        }
        let (disk, may) = channel();
        app.context.workspace.write_by(Arc::new(Slow { may: Mutex::new(may) }));
        let (wake, woken) = channel();
        let gate = Arc::new(Mutex::new(()));
        let to_pass = gate.clone();
        app.context.workspace.tasks.waker.connect(move || {
            drop(to_pass.lock());
            // The bench may be gone.
            let _ = wake.send(());
        });
        Bench { folder, app, disk, woken, gate }
    }

    /// The same with three more files in its folder.
    fn with_project() -> Bench {
        let bench = Bench::with(&["a"]);
        for name in ["b", "c", "d"] {
            std::fs::write(bench.folder.path().join(name), "ebb\n").unwrap();
        }
        bench
    }

    fn press(&mut self, keys: &str) {
        for key in keys.split(' ') {
            self.app.handle(Event::Key(Key::parse(key).unwrap()), 0);
        }
    }

    /// The disk may do one thing, or fails at it.
    fn disk_may(&self, result: io::Result<()>) {
        self.disk.send(result).unwrap();
    }

    /// Takes in what happens in the background until `is_so`.
    fn until(&mut self, is_so: impl Fn(&App) -> bool) {
        while !is_so(&self.app) {
            self.woken.recv_timeout(Duration::from_secs(20)).unwrap();
            self.app.pump();
        }
    }

    /// The disk does what it was asked for, or fails, until a save of those under way is done.
    fn disk_goes_on(&mut self, result: io::Result<()>) {
        let before = self.app.context.workspace.saves_under_way();
        self.disk_may(result);
        self.until(|app| app.context.workspace.saves_under_way() < before || app.is_done());
    }

    fn file(&self, name: &str) -> String {
        std::fs::read_to_string(self.folder.path().join(name)).unwrap()
    }

    fn message(&self) -> &str {
        self.app.message().unwrap_or_default()
    }

    fn text(&self) -> String {
        self.app.context.workspace.active().text().to_string()
    }

    fn is_unsaved(&self) -> bool {
        self.app.context.workspace.active().is_unsaved()
    }

    /// Looks for "ebb" in the project, and types what is to come in its place.
    fn ask(&mut self) {
        // As at the first time: what was searched last is not remembered.
        self.app.context.workspace.searches.is_in_project = false;
        self.press("ctrl+f ctrl+f ctrl+u e b b tab f l o w");
    }
}

fn panel<P: Any>(app: &App) -> Option<&P> {
    let panel: &dyn Any = app.panel()?;
    panel.downcast_ref()
}

fn report(app: &App) -> &str {
    panel::<SiftPanel>(app).and_then(SiftPanel::report).unwrap_or_default()
}

fn is_found(app: &App) -> bool {
    let found = panel::<SiftPanel>(app).map(|sift| &sift.found);
    found.is_some_and(|found| {
        found.search().is_none() && found.project().is_some_and(|project| project.files.len() == 4)
    })
}

fn is_idle(app: &App) -> bool {
    app.context.workspace.replacing().is_none()
}

#[test]
fn work_goes_on_while_a_slow_disk_writes_and_what_came_meanwhile_is_not_saved() {
    let mut bench = Bench::with(&["a"]);
    bench.press("x ctrl+s y");
    assert!(bench.message().is_empty() && bench.is_unsaved());
    assert_eq!((bench.text().as_str(), bench.file("a").as_str()), ("xyebb\n", "ebb\n"));
    bench.disk_goes_on(Ok(()));
    assert_eq!((bench.file("a").as_str(), bench.message()), ("xebb\n", "saved a: 5 bytes"));
    assert!(bench.is_unsaved());
    bench.press("ctrl+z");
    assert!(!bench.is_unsaved(), "back at what was written");
    assert!(bench.app.context.workspace.active().saved.diff.is_empty(), "nothing is shown as changed");
}

#[test]
fn what_was_said_meanwhile_stays_to_be_read() {
    let mut bench = Bench::with(&["a"]);
    bench.press("x ctrl+s alt+d");
    let said = bench.message().to_owned();
    assert!(said.contains("duplicated"), "{said}");
    bench.disk_goes_on(Ok(()));
    assert_eq!(bench.message(), said);
}

#[test]
fn saving_again_meanwhile_writes_the_newest_after_it() {
    let mut bench = Bench::with(&["a"]);
    bench.press("x ctrl+s y ctrl+s");
    bench.disk_may(Ok(()));
    bench.disk_may(Ok(()));
    bench.until(|app| !app.context.workspace.active().is_unsaved());
    assert_eq!(bench.file("a"), "xyebb\n");
}

#[test]
fn elsewhere_is_not_written_at_the_same_time() {
    let mut bench = Bench::with(&["a"]);
    bench.press("x ctrl+s");
    let (elsewhere, id) = (bench.folder.path().join("b"), bench.app.context.workspace.active().id);
    bench.app.context.workspace.save_to(id, &elsewhere, None);
    assert!(bench.message().contains("save it elsewhere"), "{}", bench.message());
    bench.disk_goes_on(Ok(()));
    bench.app.context.workspace.save_to(id, &elsewhere, None);
    bench.disk_goes_on(Ok(()));
    let name = bench.app.context.workspace.active().name();
    assert_eq!((bench.file("b").as_str(), name.as_str()), ("xebb\n", "b"));
}

#[test]
fn a_save_that_fails_leaves_the_text_unsaved_and_says_why() {
    let mut bench = Bench::with(&["a"]);
    bench.press("x ctrl+s");
    bench.disk_goes_on(Err(io::ErrorKind::StorageFull.into()));
    assert_eq!(bench.file("a"), "ebb\n");
    assert!(bench.is_unsaved() && bench.message().contains("no storage space"), "{}", bench.message());
    bench.press("ctrl+s");
    bench.disk_goes_on(Ok(()));
    assert_eq!(bench.file("a"), "xebb\n");
}

#[test]
fn ending_waits_for_what_is_being_written_and_the_same_key_again_asks() {
    let mut bench = Bench::with(&["a", "b"]);
    bench.press("x ctrl+s ctrl+q");
    assert!(!bench.app.is_done() && bench.app.panel().is_none() && bench.message().contains("still being written"));
    bench.disk_goes_on(Ok(()));
    assert!(bench.app.is_done());
    // A disk that does not come back does not hold anybody for ever; what is edited meanwhile is asked about.
    for keys in ["x ctrl+s ctrl+q ctrl+q", "x ctrl+s y ctrl+q"] {
        let mut bench = Bench::with(&["a"]);
        bench.press(keys);
        assert!(panel::<Question>(&bench.app).is_some(), "{keys}");
    }
}

#[test]
fn saving_all_and_ending_writes_each_file() {
    let mut bench = Bench::with(&["a", "b"]);
    bench.press("x ctrl+pgup y ctrl+q s");
    bench.disk_goes_on(Ok(()));
    assert!(!bench.app.is_done());
    bench.disk_goes_on(Ok(()));
    assert!(bench.app.is_done());
    assert_eq!((bench.file("a").as_str(), bench.file("b").as_str()), ("yebb\n", "xebb\n"));
}

#[test]
fn what_another_program_writes_meanwhile_is_asked_about() {
    let mut bench = Bench::with(&["a"]);
    bench.press("x ctrl+s");
    std::fs::write(bench.folder.path().join("a"), "flow\n").unwrap();
    bench.disk_goes_on(Ok(()));
    assert!(bench.is_unsaved());
    assert_eq!(bench.file("a"), "flow\n");
    if bench.app.panel().is_none() {
        bench.press("ctrl+s");
        bench.until(|app| app.panel().is_some());
    }
    assert!(panel::<DifferencePanel>(&bench.app).is_some());
    assert_eq!(bench.file("a"), "flow\n");
}

#[test]
fn keys_go_on_while_files_are_replaced_in_and_all_of_it_is_one_step() {
    let mut bench = Bench::with_project();
    bench.ask();
    bench.until(is_found);
    bench.press("alt+enter");
    assert_eq!(report(&bench.app), "0 of 3 files written …");
    assert_eq!(bench.text(), "flow\n", "what is open is replaced in at once");
    bench.press("alt+enter");
    assert!(bench.message().contains("still being written"), "{}", bench.message());
    bench.press("esc x");
    assert_eq!((bench.text(), bench.file("b")), ("xflow\n".into(), "ebb\n".into()));
    bench.disk_may(Ok(()));
    bench.disk_may(Err(io::ErrorKind::StorageFull.into()));
    bench.disk_may(Ok(()));
    bench.until(is_idle);
    assert_eq!(["b", "c", "d"].map(|name| bench.file(name)), ["flow\n", "ebb\n", "flow\n"]);
    let said = bench.message();
    let begins = "replaced 3 hits in 3 files, 1 of them open and not saved yet; 1 file not changed:";
    assert!(said.starts_with(begins), "{said}");
    // What was typed since is taken back first; then all of it goes, in whatever file the key is pressed.
    bench.press("ctrl+z");
    assert_eq!(bench.text(), "flow\n");
    bench.disk_may(Ok(()));
    bench.disk_may(Err(io::ErrorKind::StorageFull.into()));
    bench.press("ctrl+z");
    bench.until(is_idle);
    assert_eq!(bench.text(), "ebb\n");
    let said = bench.message();
    assert!(said.contains("as before; left alone: ") && said.ends_with("Ctrl+Z tries again"), "{said}");
    bench.disk_may(Ok(()));
    bench.press("ctrl+z");
    bench.until(is_idle);
    assert_eq!(["b", "c", "d"].map(|name| bench.file(name)), ["ebb\n", "ebb\n", "ebb\n"]);
}

#[test]
fn what_is_asked_for_before_all_is_found_is_done_then_unless_something_else_is() {
    let mut bench = Bench::with_project();
    let gate = bench.gate.clone();
    for (keys, is_done) in [("alt+enter s", false), ("ctrl+u f l o w alt+enter", true)] {
        let held = gate.lock().unwrap();
        bench.ask();
        bench.press(keys);
        assert!(is_idle(&bench.app));
        if is_done {
            assert!(report(&bench.app).contains("as soon as"), "{}", report(&bench.app));
        }
        drop(held);
        for _ in 0..if is_done { 3 } else { 0 } {
            bench.disk_may(Ok(()));
        }
        bench.until(|app| if is_done { report(app).starts_with("replaced 4 hits") } else { is_found(app) });
        assert_eq!(bench.text(), if is_done { "flow\n" } else { "ebb\n" });
        bench.press("esc");
    }
    assert_eq!(["b", "c", "d"].map(|name| bench.file(name)), ["flow\n", "flow\n", "flow\n"]);
}

#[test]
fn ending_waits_for_files_that_are_written_and_the_same_key_again_ends() {
    for again in [false, true] {
        let mut bench = Bench::with_project();
        bench.ask();
        bench.until(is_found);
        bench.press("alt+enter esc ctrl+q");
        assert!(!bench.app.is_done() && bench.message().contains("it ends then"), "{}", bench.message());
        if again {
            // The open file is not saved: that is asked, the disk is not waited for.
            bench.press("ctrl+q d");
        } else {
            (0..3).for_each(|_| bench.disk_may(Ok(())));
            bench.until(|app| is_idle(app) && app.panel().is_some());
            assert_eq!(["b", "c", "d"].map(|name| bench.file(name)), ["flow\n", "flow\n", "flow\n"]);
            bench.press("d");
        }
        assert!(bench.app.is_done());
    }
}

#[test]
fn what_is_done_to_a_file_is_one_at_a_time_and_waited_for() {
    for again in [false, true] {
        let mut bench = Bench::with(&["a"]);
        let (go, may_go) = channel::<()>();
        let work = move || may_go.recv().map(|()| "done".to_owned()).map_err(|why| why.to_string());
        bench.app.context.workspace.begin_operation(None, work);
        bench.app.pump();
        assert_eq!(bench.message(), "being done …");
        bench.app.context.workspace.begin_operation(None, || Ok("another".to_owned()));
        bench.app.pump();
        assert!(bench.message().contains("still being done"), "one at a time: {}", bench.message());
        bench.press("ctrl+q");
        assert!(!bench.app.is_done() && bench.message().contains("it ends then"), "{}", bench.message());
        if again {
            bench.press("ctrl+q");
        } else {
            go.send(()).unwrap();
            bench.until(App::is_done);
            assert_eq!(bench.message(), "done");
        }
        assert!(bench.app.is_done());
    }
    assert!(waits::FILE_OPERATION < Duration::from_secs(1));
}
