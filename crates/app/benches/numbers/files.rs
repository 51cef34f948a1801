//! Many small files: listing them and looking through them.

use super::{Row, best, folder};
use snarvel_core::search::pattern::{Pattern, Query};
use snarvel_files::folder::{Which, walk_in_background};
use snarvel_files::search::{SearchScope, search_in_background};
use snarvel_task::Report;
use std::collections::HashMap;
use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::sync::mpsc::channel;

/// Everything that a task reports as news, once it has ended.
fn all<T: Send + 'static>(start: impl FnOnce(Box<dyn Fn(Report<T>) + Send>) -> snarvel_task::Task) -> Vec<T> {
    let (sender, told) = channel();
    // Nobody listens any more once it has ended.
    let _task = start(Box::new(move |report| drop(sender.send(report))));
    told.iter().filter_map(|report| if let Report::News(news) = report { Some(news) } else { None }).collect()
}

/// How many files are found in `folder`.
fn walked(folder: &Path) -> usize {
    all(|sink| walk_in_background(folder, Which::Usual, 200_000, sink)).iter().map(Vec::len).sum()
}

/// How many hits are found.
fn searched(pattern: &Arc<Pattern>, scope: SearchScope) -> usize {
    let news = all(|sink| search_in_background(pattern, scope, sink));
    news.iter().flat_map(|news| &news.files).map(|file| file.hits.len()).sum()
}

/// A project of so many small files.
pub fn project(files: usize) -> PathBuf {
    let project = folder().join("project");
    let demo = snarvel::demo::FILES[0].1;
    for index in 0..files {
        let inside = project.join(format!("part{:03}", index / 100));
        let path = inside.join(format!("gauge{index:05}.rs"));
        if !path.exists() {
            std::fs::create_dir_all(&inside).expect("a folder");
            let word = if index % 50 == 0 { "// lampkeeper\n" } else { "" };
            std::fs::write(path, format!("{word}{demo}")).expect("a file");
        }
    }
    project
}

pub fn many_files(rows: &mut Vec<Row>) {
    let folder = project(20_000);
    let walk = |(): &mut ()| ignore::WalkBuilder::new(&folder).build().filter_map(Result::ok).count();
    let ours = |(): &mut ()| walked(&folder);
    let [floor, ours] = best(3, || (), walk, ours);
    rows.push(Row::times("the list of 20,000 files to open", "one walk, unsorted", floor, ours, 2.0));
    let pattern = Arc::new(Pattern::new(Query { what: "Lampkeeper".into(), ..Query::default() }).expect("a literal"));
    let lower = Arc::new(Pattern::new(Query { what: "lampkeeper".into(), ..Query::default() }).expect("a literal"));
    for (how, pattern, needle) in [("as typed", &pattern, "Lampkeeper"), ("either case", &lower, "lampkeeper")] {
        let bare = |(): &mut ()| {
            let files = ignore::WalkBuilder::new(&folder).build().filter_map(Result::ok);
            let files = files.filter(|entry| entry.file_type().is_some_and(|kind| kind.is_file()));
            let bytes = files.filter_map(|entry| std::fs::read(entry.path()).ok());
            bytes.map(|bytes| memchr::memmem::find_iter(&bytes, needle.as_bytes()).count()).sum::<usize>()
        };
        let ours = |(): &mut ()| {
            let scope = SearchScope { folder: folder.clone(), open: HashMap::new() };
            searched(pattern, scope)
        };
        let [floor, ours] = best(3, || (), bare, ours);
        let what = format!("find a literal in 20,000 files, {how}");
        rows.push(Row::times(what, "walk, read, memmem on one thread", floor, ours, 2.0));
    }
}
