//! The names of a small project: found, followed, kept.

use snarvel_core::languages::by_name;
use snarvel_core::text::Text;
use snarvel_core::units::Byte;
use snarvel_index::store::Store;
use snarvel_index::worker::{Answer, Index, News, Question, Reach, Scope, Watching};
use snarvel_task::Report;
use std::path::{Path, PathBuf};
use std::sync::mpsc::{Receiver, channel};
use std::time::Duration;

const DEADLINE: Duration = Duration::from_mins(1);

struct Project {
    folder: tempfile::TempDir,
    index: Option<Index>,
    news: Option<Receiver<Report<News>>>,
    asked: u64,
}

const FILES: [(&str, &str); 5] = [
    (
        "src/gauge.rs",
        "use crate::tide::ebb;\npub struct Gauge { pub level: i32 }\nimpl Gauge {\n    pub fn read(&self) -> i32 {\n        ebb(self.level)\n    }\n}\n",
    ),
    ("src/tide.rs", "/// Falls.\npub fn ebb(level: i32) -> i32 {\n    level - 1\n}\n"),
    ("old/tide.rs", "pub fn ebb() {}\n"),
    ("horn.c", "static int sound(int level)\n{\n    return level;\n}\nint main(void) { return sound(3); }\n"),
    (".gitignore", "old\n"),
];

impl Project {
    fn new() -> Project {
        let folder = tempfile::tempdir().unwrap();
        std::fs::create_dir(folder.path().join(".git")).unwrap();
        let mut project = Project { folder, index: None, news: None, asked: 0 };
        FILES.iter().for_each(|(name, content)| project.write(name, content));
        project.start();
        project
    }

    fn path(&self, name: &str) -> PathBuf {
        self.folder.path().join(name)
    }

    fn write(&mut self, name: &str, content: &str) {
        std::fs::create_dir_all(self.path(name).parent().unwrap()).unwrap();
        std::fs::write(self.path(name), content).unwrap();
    }

    fn start(&mut self) -> [usize; 2] {
        self.index = None;
        let (sender, news) = channel();
        let scope = Scope {
            folder: self.folder.path().to_owned(),
            kept: Some(self.path(".git/names.sqlite")),
            watching: Watching::Off,
            reach: Reach::Folder,
        };
        self.index = Some(Index::start(scope, move |report| drop(sender.send(report))));
        self.news = Some(news);
        loop {
            if let Report::News(News::Whole(counts)) = self.next() {
                return counts;
            }
        }
    }

    fn next(&self) -> Report<News> {
        let report = self.news.as_ref().unwrap().recv_timeout(DEADLINE).unwrap();
        assert!(!matches!(report, Report::News(News::Trouble(_)) | Report::Panicked(_)), "{report:?}");
        report
    }

    fn ask(&mut self, question: Question) -> Answer {
        self.asked += 1;
        self.index.as_ref().unwrap().ask(self.asked, question);
        loop {
            match self.next() {
                Report::News(News::Answer(number, answer)) if number == self.asked => return answer,
                _ => {}
            }
        }
    }

    /// Where the name before `‸` in a text in the place of a file is defined: file, line from 1, container.
    fn definition(&mut self, name: &str, language: &str, marked: &str) -> Vec<String> {
        let at = Byte(marked.find('‸').unwrap());
        let text = Text::from(marked.replace('‸', "").as_str());
        let language = by_name(language).unwrap();
        let question = Question::Definition { path: PathBuf::from(name), language, text, at };
        let Answer::Definition(found) = self.ask(question) else { panic!("another answer") };
        let told = |entry: snarvel_index::store::Entry| {
            format!("{}:{} {}", entry.path.display(), entry.definition.line.0 + 1, entry.definition.comment)
        };
        found.map_or_else(Vec::new, |found| found.candidates.into_iter().map(told).collect())
    }

    fn like(&mut self, letters: &str) -> Vec<String> {
        let Answer::Entries(found) = self.ask(Question::Like(letters.to_owned())) else { panic!("another answer") };
        found.into_iter().map(|entry| entry.definition.name).collect()
    }
}

#[test]
fn names_are_found_where_they_are_defined_and_what_is_ignored_is_not() {
    let mut project = Project::new();
    let gauge = FILES[0].1.replace("ebb(self", "eb‸b(self");
    assert_eq!(project.definition("src/gauge.rs", "rust", &gauge), ["src/tide.rs:2 Falls."]);
    let horn = FILES[3].1.replace("sound(3)", "sound‸(3)");
    assert_eq!(project.definition("horn.c", "c", &horn), ["horn.c:1 "]);
    let local = FILES[3].1.replace("return level", "return lev‸el");
    assert_eq!(project.definition("horn.c", "c", &local), ["horn.c:1 "]);
    assert_eq!(project.definition("src/gauge.rs", "rust", "tides‸_none"), [""; 0]);
    assert_eq!(project.definition("src/gauge.rs", "rust", "a + ‸+ b"), [""; 0]);
    assert_eq!(project.like("gau")[0], "Gauge");
    assert_eq!(project.like("zzz"), [""; 0]);
}

#[test]
fn a_text_under_edit_counts_in_place_of_its_file_and_the_disk_is_followed() {
    let mut project = Project::new();
    let language = by_name("rust").unwrap();
    let text = Text::from("\n\n\npub fn ebb() {}\npub fn slack() {}\n");
    project.index.as_ref().unwrap().edited(PathBuf::from("src/tide.rs"), language, text);
    let gauge = FILES[0].1.replace("ebb(self", "eb‸b(self");
    assert_eq!(project.definition("src/gauge.rs", "rust", &gauge), ["src/tide.rs:4 "]);
    assert_eq!(project.like("slack"), ["slack"]);
    project.index.as_ref().unwrap().closed(PathBuf::from("src/tide.rs"));
    assert_eq!(project.like("slack"), [""; 0]);
    project.write("src/new.rs", "pub fn spring() {}\n");
    std::fs::remove_file(project.path("src/tide.rs")).unwrap();
    let changed = ["src/new.rs", "src/tide.rs", "nowhere.rs"].map(|name| project.path(name));
    project.index.as_ref().unwrap().changed_on_disk(changed.to_vec());
    assert_eq!((project.like("spring"), project.like("ebb")), (vec!["spring".to_owned()], vec![]));
}

#[test]
fn at_the_next_start_only_what_is_another_file_is_read() {
    let mut project = Project::new();
    project.index = None;
    while project.news.as_ref().unwrap().recv_timeout(DEADLINE).is_ok() {}
    // What was kept is believed as long as the file looks the same.
    let kept = project.path(".git/names.sqlite");
    let mut store = Store::open(Some(&kept)).unwrap();
    let stamp = store.files().unwrap()[Path::new("horn.c")];
    let mut definition = store.named("sound").unwrap().remove(0).definition;
    definition.name = "whistle".to_owned();
    store.put(Path::new("horn.c"), stamp, &[definition]).unwrap();
    store.put(Path::new("gone.c"), stamp, &[]).unwrap();
    drop(store);
    let counts = project.start();
    assert_eq!((counts[0], project.like("whistle"), project.like("sound")), (3, vec!["whistle".to_owned()], vec![]));
    project.write("horn.c", "void blast(void) { }\n");
    project.start();
    assert_eq!((project.like("whistle"), project.like("blast")), (vec![], vec!["blast".to_owned()]));
}
