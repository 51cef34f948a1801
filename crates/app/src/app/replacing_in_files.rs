//! What sift puts in the place of hits in all files of the project: in those under edit as a step of theirs, in the others on
//! the disk, behind the screen; and taken back.

use super::App;
use crate::document::{Document, Home};
use crate::panels::Panel;
use crate::panels::sift::{Project, index_of};
use snarvel_core::editor::Call;
use snarvel_core::history::StepId;
use snarvel_core::units::Span;
use snarvel_core::verbs::by_name;
use snarvel_core::verbs::clip::Clip;
use snarvel_core::verbs::scene::counted;
use snarvel_files::errand::Errand;
use snarvel_files::replacing::{self, Fate, Kept, Replaced, Rule};
use snarvel_files::search::FileHit;
use std::fmt::Write;
use std::time::Duration;

/// How long a key waits for the files that it writes: of few they are written by then.
const PATIENCE: Duration = Duration::from_millis(30);

impl App {
    /// Replaces in all files that have hits, once all are found: in those under edit as a step of theirs, in the others on
    /// the disk, behind the screen.
    pub(super) fn replace_in_project(&mut self) {
        if self.is_busy_with_files() {
            return;
        }
        let Some((pattern, replacement)) = self.replacement() else { return };
        let Some(Panel::Sift(sift)) = &mut self.panel else { return };
        let Some(project) = &mut sift.project else { return };
        project.is_to_be_replaced = project.search.is_some();
        if project.is_to_be_replaced {
            sift.report = Some("replaces as soon as all files are looked through; Esc leaves it".to_owned());
            return;
        }
        let rule = Rule { pattern, replacement };
        let found = std::mem::replace(project, Project::empty()).files;
        let kinds = sift.kinds;
        // What would come has come.
        sift.then = None;
        let mut tally = Tally::default();
        let mut on_disk = Vec::new();
        for file in found {
            let counts = |hit: &&FileHit| kinds[index_of(hit.kind)];
            let hits: Vec<Span> = file.hits.iter().filter(counts).map(|hit| hit.span).collect();
            let path = self.folder.join(&file.path);
            if hits.is_empty() {
                continue;
            }
            match self.documents.iter_mut().find(|document| document.home == Home::File(path.clone())) {
                Some(document) => tally.take_open(document, &rule, &hits, self.now_ms),
                None if self.writes => on_disk.push((path, hits)),
                None => tally.only_played += 1,
            }
        }
        self.sifted.replaced = ReplacedLast::default();
        let (files, waker) = (on_disk.len(), self.waker.clone());
        let fates = replacing::replace(rule, on_disk, self.disk.clone(), move || waker.wake());
        self.begin_work(FileWork { fates, files, tally, is_back: false, then_quit: false });
    }

    /// Whether files of the project are being replaced in, or put back.
    pub fn writes_files(&self) -> bool {
        self.sifted.work.is_some()
    }

    /// Whether files are still being written; says so.
    fn is_busy_with_files(&mut self) -> bool {
        let is_busy = self.writes_files();
        if is_busy {
            self.say("files are still being written: one after the other");
        }
        is_busy
    }

    /// Ends the program behind what is being done to files; the same key again ends it at once. Whether it waits.
    pub(super) fn quits_behind_files(&mut self) -> bool {
        let work = self.sifted.work.as_mut().map(|work| &mut work.then_quit);
        let doing = self.doing.as_mut().map(|doing| &mut doing.then_quit);
        let mut waits = false;
        for then_quit in work.into_iter().chain(doing) {
            waits |= !std::mem::replace(then_quit, true);
        }
        if waits {
            self.say("files are still being changed: it ends then; the same key again ends at once");
        }
        waits
    }

    fn begin_work(&mut self, work: FileWork) {
        self.sifted.work = Some(work);
        self.gather_work(self.waker.patience(PATIENCE));
    }

    /// Takes in which files are written.
    pub(super) fn gather_work(&mut self, patience: Duration) {
        let Some(work) = &mut self.sifted.work else { return };
        let (fates, is_over) = work.fates.gather(patience);
        for fate in fates {
            work.tally.take(fate);
        }
        if is_over {
            self.end_work();
            return;
        }
        let (done, of) = (work.tally.seen, work.files);
        if let Some(sift) = self.sift() {
            sift.report = Some(format!("{done} of {} written …", counted(of, "file")));
        }
    }

    fn end_work(&mut self) {
        let Some(FileWork { mut tally, is_back, then_quit, files, .. }) = self.sifted.work.take() else { return };
        if tally.seen < files {
            tally.kept.push(format!("{} not come to", counted(files - tally.seen, "file")));
        }
        let said = if is_back { tally.told_back() } else { tally.told() };
        self.sifted.replaced = match is_back {
            true => ReplacedLast { files: tally.not_back, steps: Vec::new() },
            false => ReplacedLast { files: tally.replaced, steps: tally.open },
        };
        if self.sift().is_some_and(|sift| sift.project.is_some()) {
            self.search();
            if !self.waker.is_connected() {
                self.settle_search();
            }
            self.sift().into_iter().for_each(|sift| sift.report = Some(said.clone()));
        } else {
            self.say(said);
        }
        self.quit_behind_the_last(then_quit);
    }

    /// Ends the program, if that waited for what is done now, and nothing else is under way.
    pub(super) fn quit_behind_the_last(&mut self, then_quit: bool) {
        if then_quit && self.sifted.work.is_none() && self.doing.is_none() {
            self.quit();
        }
    }

    /// Puts the files of the project back that still are as they became, and takes back the steps of texts under edit.
    pub(super) fn take_back_in_project(&mut self) {
        if self.is_busy_with_files() {
            return;
        }
        let mut tally = Tally::default();
        let ReplacedLast { files: replaced, steps } = std::mem::take(&mut self.sifted.replaced);
        let Some(verb) = by_name("undo") else { return };
        for document in &mut self.documents {
            let here = (document.id, document.editor.history().here());
            if steps.contains(&here) {
                let (clip, now_ms) = (Clip::default(), self.now_ms);
                document.editor.run(Call { verb, argument: "", times: 1, clip: &clip, now_ms });
                tally.open.push(here);
            }
        }
        let (files, waker) = (replaced.len(), self.waker.clone());
        let fates = replacing::take_back(replaced, self.disk.clone(), move || waker.wake());
        self.begin_work(FileWork { fates, files, tally, is_back: true, then_quit: false });
    }
}

/// What the last replacement in the project changed.
#[derive(Debug, Default)]
pub(super) struct ReplacedLast {
    /// Files on the disk.
    files: Vec<Replaced>,
    /// Texts under edit, with the steps that it is there.
    steps: Vec<(u64, StepId)>,
}

/// Files that are replaced in, or put back, behind the screen.
#[derive(Debug)]
pub(super) struct FileWork {
    fates: Errand<Fate>,
    /// How many files.
    files: usize,
    tally: Tally,
    is_back: bool,
    /// Whether the program ends behind it.
    then_quit: bool,
}

/// What has come of it so far.
#[derive(Debug, Default)]
struct Tally {
    /// How many files were told of.
    seen: usize,
    /// Hits that were replaced.
    hits: usize,
    /// The files that are open, with the steps that it is there.
    open: Vec<(u64, StepId)>,
    /// Files that are not open and not written.
    only_played: usize,
    replaced: Vec<Replaced>,
    /// Those that could not be put back.
    not_back: Vec<Replaced>,
    /// Why others are as they were.
    kept: Vec<String>,
}

impl Tally {
    /// Replaces in a file that is open.
    fn take_open(&mut self, document: &mut Document, rule: &Rule, hits: &[Span], now_ms: u64) {
        let editor = &mut document.editor;
        if editor.is_growing() {
            self.kept.push(format!("{} is still being read", document.name()));
            return;
        }
        match rule.change(editor.text(), editor.language(), hits, editor.layout().line_end) {
            Some(change) => {
                let places = change.edits().len();
                editor.carry("replace", change, now_ms);
                if places > 0 {
                    self.hits += places;
                    self.open.push((document.id, document.editor.history().here()));
                }
            }
            None => self.kept.push(format!("{} has changed since", document.name())),
        }
    }

    fn take(&mut self, fate: Fate) {
        self.seen += 1;
        match fate {
            Ok(replaced) if replaced.places == 0 => {}
            Ok(replaced) => {
                self.hits += replaced.places;
                self.replaced.push(replaced);
            }
            Err(why) => {
                self.kept.push(why.to_string());
                if let Kept::NotBack(_, replaced) = why {
                    self.not_back.push(*replaced);
                }
            }
        }
    }

    fn told(&self) -> String {
        let files = counted(self.replaced.len() + self.open.len(), "file");
        let mut said = format!("replaced {} in {files}", counted(self.hits, "hit"));
        if !self.open.is_empty() {
            let _ = write!(said, ", {} of them open and not saved yet", self.open.len());
        }
        if let Some(first) = self.kept.first() {
            let _ = write!(said, "; {} not changed: {first}", counted(self.kept.len(), "file"));
        }
        if self.only_played > 0 {
            said += "; files that are not open are not written: only played";
        }
        said + "; Ctrl+Z takes it back"
    }

    fn told_back(&self) -> String {
        let mut said = format!("{} as before", counted(self.replaced.len() + self.open.len(), "file"));
        if !self.kept.is_empty() {
            let _ = write!(said, "; left alone: {}", self.kept.join(", "));
        }
        if !self.not_back.is_empty() {
            said += "; Ctrl+Z tries again";
        }
        said
    }
}

#[cfg(test)]
mod tests {
    use crate::app::App;
    use crate::app::slow::Bench;
    use crate::panels::Panel;
    use std::fs;
    use std::io;

    /// With `a` open and three more files in its folder, each of which holds "ebb".
    fn bench() -> Bench {
        let bench = Bench::with(&["a"]);
        for name in ["b", "c", "d"] {
            fs::write(bench.folder.path().join(name), "ebb\n").unwrap();
        }
        bench
    }

    /// Looks for "ebb" in the project, and types what is to come in its place.
    fn ask(bench: &mut Bench) {
        bench.press("ctrl+f ctrl+f ctrl+u e b b tab f l o w");
    }

    fn is_found(app: &App) -> bool {
        let Some(Panel::Sift(sift)) = &app.panel else { return false };
        sift.project.as_ref().is_some_and(|project| project.search.is_none() && project.files.len() == 4)
    }

    fn report(app: &App) -> &str {
        match &app.panel {
            Some(Panel::Sift(sift)) => sift.report.as_deref().unwrap_or_default(),
            _ => "",
        }
    }

    #[test]
    fn keys_go_on_while_files_are_replaced_in_on_a_slow_disk() {
        let mut bench = bench();
        ask(&mut bench);
        bench.until(is_found);
        bench.press("alt+enter");
        assert_eq!(report(&bench.app), "0 of 3 files written …");
        assert_eq!(bench.app.shown().editor.text().to_string(), "flow\n", "nothing is shown that would come");
        assert_eq!(bench.app.document().editor.text().to_string(), "flow\n", "what is open is replaced in at once");
        bench.press("alt+enter");
        assert!(bench.message().contains("still being written"), "{}", bench.message());
        bench.press("esc x");
        assert_eq!(
            (bench.app.document().editor.text().to_string(), bench.file("b")),
            ("xflow\n".into(), "ebb\n".into())
        );
        bench.disk_may(Ok(()));
        bench.disk_may(Err(io::ErrorKind::StorageFull.into()));
        bench.disk_may(Ok(()));
        bench.until(|app| app.sifted.work.is_none());
        assert_eq!(["b", "c", "d"].map(|name| bench.file(name)), ["flow\n", "ebb\n", "flow\n"]);
        let said = bench.message();
        assert!(
            said.starts_with("replaced 3 hits in 3 files, 1 of them open and not saved yet; 1 file not changed:"),
            "{said}"
        );
        // Back in sift it is taken back, but for what was typed over since; what fails may be tried again.
        bench.press("ctrl+f ctrl+f");
        bench.disk_may(Ok(()));
        bench.disk_may(Err(io::ErrorKind::StorageFull.into()));
        bench.press("ctrl+z");
        bench.until(|app| app.sifted.work.is_none());
        let said = report(&bench.app);
        assert!(said.starts_with("1 file as before; left alone: ") && said.ends_with("Ctrl+Z tries again"), "{said}");
        bench.disk_may(Ok(()));
        bench.press("ctrl+z");
        bench.until(|app| app.sifted.work.is_none());
        assert_eq!(report(&bench.app), "1 file as before");
        assert_eq!(["b", "c", "d"].map(|name| bench.file(name)), ["ebb\n", "ebb\n", "ebb\n"]);
        assert_eq!(bench.app.document().editor.text().to_string(), "xflow\n");
    }

    #[test]
    fn what_is_asked_for_before_all_is_found_is_done_then_unless_something_else_is() {
        let mut bench = bench();
        let gate = bench.gate.clone();
        for (keys, is_done) in [("alt+enter s", false), ("ctrl+u f l o w alt+enter", true)] {
            let held = gate.lock().unwrap();
            ask(&mut bench);
            bench.press(keys);
            assert!(bench.app.sifted.work.is_none());
            if is_done {
                assert!(report(&bench.app).contains("as soon as"), "{}", report(&bench.app));
            }
            drop(held);
            for _ in 0..if is_done { 3 } else { 0 } {
                bench.disk_may(Ok(()));
            }
            bench.until(|app| if is_done { report(app).starts_with("replaced 4 hits") } else { is_found(app) });
            assert_eq!(bench.app.document().editor.text().to_string(), if is_done { "flow\n" } else { "ebb\n" });
            bench.press("esc");
        }
        assert_eq!(["b", "c", "d"].map(|name| bench.file(name)), ["flow\n", "flow\n", "flow\n"]);
    }

    #[test]
    fn ending_waits_for_files_that_are_written_and_the_same_key_again_ends() {
        let mut bench = bench();
        fs::remove_file(bench.folder.path().join("a")).unwrap();
        ask(&mut bench);
        bench.press("alt+enter");
        bench.until(|app| app.sifted.work.is_some());
        bench.press("esc ctrl+q");
        assert!(!bench.app.done && bench.message().contains("it ends then"), "{}", bench.message());
        (0..3).for_each(|_| bench.disk_may(Ok(())));
        bench.until(|app| app.done);
        assert_eq!(["b", "c", "d"].map(|name| bench.file(name)), ["flow\n", "flow\n", "flow\n"]);
        let mut bench = self::bench();
        fs::remove_file(bench.folder.path().join("a")).unwrap();
        ask(&mut bench);
        bench.press("alt+enter");
        bench.until(|app| app.sifted.work.is_some());
        bench.press("esc ctrl+q ctrl+q");
        assert!(bench.app.done, "a disk that does not come back holds nobody for ever");
    }
}
