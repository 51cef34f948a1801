//! Search through the files of a folder: in parallel, results file by file in the order of their names.
//!
//! Files that ignore files name, binary ones and those that cannot be read are passed over. Cost: one pass over the bytes.

use crate::folder::Which;
use crate::gather::{is_wide, looks_binary};
use crate::load::decode;
use crate::reading;
use crate::walks;
use snarvel_core::languages::{self, Language, lexical::Lexical, scanner::Kind};
use snarvel_core::search::pattern::{Pattern, kinds_of};
use snarvel_core::text::Text;
use snarvel_core::units::Span;
use snarvel_task::{Cancel, Context, Report, Task};
use std::collections::HashMap;
use std::path::{Path, PathBuf};
use std::sync::mpsc::{Receiver, SyncSender, channel, sync_channel};
use std::sync::{Arc, Mutex};
use std::thread;

/// A hit in a file, with the line it begins in.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct FileHit {
    /// Where, in the file's text.
    pub span: Span,
    /// What it is in.
    pub kind: Kind,
    /// The line, from 0.
    pub line: usize,
    /// What the line holds around the hit.
    pub excerpt: String,
    /// Where in the excerpt the hit is, in bytes.
    pub within: std::ops::Range<usize>,
}

/// The hits of one file.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct FileHits {
    /// Which file, from the folder.
    pub path: PathBuf,
    /// The hits, in order.
    pub hits: Vec<FileHit>,
}

/// What a search through a folder is to look at.
#[derive(Clone, Debug)]
pub struct SearchScope {
    /// The folder.
    pub folder: PathBuf,
    /// Texts that are searched in place of their files: those under edit.
    pub open: HashMap<PathBuf, Text>,
}

/// What is reported of a search through a folder.
#[derive(Clone, Debug)]
pub struct FolderNews {
    /// Files with hits that were found since, in the order of their names.
    pub files: Vec<FileHits>,
    /// How many files were looked at so far.
    pub searched: usize,
}

/// Larger files are passed over: they are opened and searched by themselves.
const LARGEST: u64 = 64 << 20;

/// Files on their way to be searched.
const AHEAD: usize = 1_024;

/// Begins to look for `pattern`, on as many threads as there are processors.
pub fn search_in_background(
    pattern: &Arc<Pattern>,
    scope: SearchScope,
    sink: impl Fn(Report<FolderNews>) + Send + 'static,
) -> Task {
    let pattern = pattern.clone();
    snarvel_task::spawn(sink, move |context| search(&pattern, &scope, context))
}

/// A file that was looked at: which one of all, and its hits.
type Looked = (usize, Option<FileHits>);

fn search(pattern: &Pattern, scope: &SearchScope, context: &Context<FolderNews>) {
    let (paths, to_search) = sync_channel::<(usize, PathBuf)>(AHEAD);
    let to_search = Mutex::new(to_search);
    let (found, looked) = channel::<Looked>();
    let cancel = context.cancel();
    let count = thread::available_parallelism().map_or(2, usize::from);
    thread::scope(|threads| {
        threads.spawn(move || walk(&scope.folder, &paths, cancel));
        for _ in 0..count {
            let (to_search, found) = (&to_search, found.clone());
            threads.spawn(move || {
                loop {
                    let next = to_search.lock().ok().and_then(|paths| paths.recv().ok());
                    let Some((index, path)) = next.filter(|_| !cancel.is_cancelled()) else { return };
                    if found.send((index, hits_of(pattern, scope, &path))).is_err() {
                        return;
                    }
                }
            });
        }
        drop(found);
        report_in_order(&looked, context);
    });
}

fn walk(folder: &Path, paths: &SyncSender<(usize, PathBuf)>, cancel: &Cancel) {
    let walk = walks::walk(folder, Which::Usual).build().filter_map(Result::ok);
    let files = walk.filter(|entry| entry.file_type().is_some_and(|kind| kind.is_file()));
    for (index, entry) in files.enumerate() {
        if cancel.is_cancelled() || paths.send((index, entry.into_path())).is_err() {
            return;
        }
    }
}

/// Reports files in the order of their names, however they come in, and how many there were at the end.
fn report_in_order(looked: &Receiver<Looked>, context: &Context<FolderNews>) {
    let mut early: HashMap<usize, Option<FileHits>> = HashMap::new();
    let (mut next, mut searched) = (0, 0);
    while let Ok(first) = looked.recv() {
        for (index, hits) in std::iter::once(first).chain(looked.try_iter()) {
            early.insert(index, hits);
            searched += 1;
        }
        let mut files = Vec::new();
        while let Some(hits) = early.remove(&next) {
            next += 1;
            files.extend(hits);
        }
        if !files.is_empty() {
            context.send(FolderNews { files, searched });
        }
    }
    context.send(FolderNews { files: Vec::new(), searched });
}

fn hits_of(pattern: &Pattern, scope: &SearchScope, path: &Path) -> Option<FileHits> {
    let text = match scope.open.get(path) {
        Some(text) => text.clone(),
        None => text_of(path, pattern)?,
    };
    let language = language_of(path, &text);
    let spans = pattern.all(&text, text.span(), language.word_rule());
    if spans.is_empty() {
        return None;
    }
    let relative = path.strip_prefix(&scope.folder).unwrap_or(path);
    Some(hits_in((relative, &text), &language, spans))
}

/// The hits at `spans`, which are in order, of a text whose file is told as `path`. Cost: one pass of the scanner up to the last
/// one.
#[must_use]
pub fn hits_in((path, text): (&Path, &Text), language: &Arc<Language>, spans: Vec<Span>) -> FileHits {
    let lexical = Lexical::new(language);
    let syntax = lexical.of(text);
    let kinds = kinds_of(text, &syntax, &spans);
    let hits = spans.into_iter().zip(kinds).map(|(span, kind)| hit_at(text, span, kind)).collect();
    FileHits { path: path.to_owned(), hits }
}

/// The text of the file at `path`; none where it cannot be read, is binary or too large to be looked through.
#[must_use]
pub fn text_at(path: &Path) -> Option<Text> {
    let bytes = reading::read(path, LARGEST).ok()?;
    (!looks_binary(&bytes)).then(|| decode(&bytes).0)
}

/// The language of a text that the file at `path` holds, by its name and its first line.
#[must_use]
pub fn language_of(path: &Path, text: &Text) -> Arc<Language> {
    let name = path.file_name().unwrap_or_default().to_string_lossy();
    let first_line = text.content(snarvel_core::units::Line(0));
    languages::detect(&name, first_line.get(..first_line.floor_char_boundary(256)).unwrap_or(""))
}

/// The text of a file, unless it is binary, too large, or surely without a hit.
fn text_of(path: &Path, pattern: &Pattern) -> Option<Text> {
    let bytes = reading::read(path, LARGEST).ok()?;
    if looks_binary(&bytes) || !(is_wide(&bytes) || pattern.may_be_in(&bytes)) {
        return None;
    }
    Some(decode(&bytes).0)
}

/// Bytes of a line shown before and after a hit.
const EXCERPT: usize = 240;

fn hit_at(text: &Text, span: Span, kind: Kind) -> FileHit {
    let line = text.line_of(span.start);
    let content = text.content_span(line);
    let start = text.indentation_span(line).end.min(span.start).max(text.snap_back(back(span, EXCERPT / 2)));
    let end = text.snap_back((span.start + EXCERPT).min(content.end)).max(start);
    let within = span.start - start..(span.end.min(end).max(span.start)) - start;
    FileHit { span, kind, line: line.0, excerpt: text.slice(Span::new(start, end)).into_owned(), within }
}

fn back(span: Span, bytes: usize) -> snarvel_core::units::Byte {
    snarvel_core::units::Byte(span.start.0.saturating_sub(bytes))
}

#[cfg(test)]
mod tests {
    use super::*;
    use snarvel_core::search::pattern::Query;

    fn search(folder: &Path, what: &str, open: HashMap<PathBuf, Text>) -> Vec<String> {
        let pattern = Pattern::new(Query { what: what.to_owned(), ..Query::default() }).unwrap();
        let scope = SearchScope { folder: folder.to_owned(), open };
        let (sender, told) = channel();
        let _task = search_in_background(&Arc::new(pattern), scope, move |report| drop(sender.send(report)));
        let news = |report| if let Report::News(FolderNews { files, .. }) = report { Some(files) } else { None };
        let files: Vec<FileHits> = told.iter().map_while(news).flatten().collect();
        let told = |file: &FileHits| {
            let hit = |hit: &FileHit| format!("{}:{}:{:?}:{}", file.path.display(), hit.line, hit.kind, hit.excerpt);
            file.hits.iter().map(hit).collect::<Vec<_>>()
        };
        files.iter().flat_map(told).collect()
    }

    #[test]
    fn files_are_searched_in_order_and_those_under_edit_as_they_are() {
        let folder = tempfile::tempdir().unwrap();
        std::fs::create_dir(folder.path().join(".git")).unwrap();
        let files: [(&str, &[u8]); 6] = [
            (".gitignore", b"*.log\n"),
            ("b.rs", b"let tide = 1; // tide\n"),
            ("a.py", b"\n  tide = 2\n"),
            ("c.log", b"tide"),
            ("d.bin", b"tide\0"),
            ("e.txt", b"t\xFF tide"),
        ];
        for (name, content) in files {
            std::fs::write(folder.path().join(name), content).unwrap();
        }
        let found = search(folder.path(), "tide", HashMap::new());
        assert_eq!(found[0], "a.py:1:Code:tide = 2");
        assert_eq!(found[1], "b.rs:0:Code:let tide = 1; // tide");
        assert_eq!(found[2], "b.rs:0:Comment:let tide = 1; // tide");
        assert!(found[3].starts_with("e.txt:0:Code:t"), "{found:?}");
        assert_eq!(found.len(), 4);
        let open = HashMap::from([(folder.path().join("b.rs"), Text::from("nothing"))]);
        assert_eq!(search(folder.path(), "tide", open).len(), 2);
        assert_eq!(search(folder.path(), "ebb", HashMap::new()).len(), 0);
    }
}
