//! A document: a file under edit, where it lives, and which part of it is in view.

use crate::keys::script::Spot;
use crate::screen::layout::{self, Area};
use snarvel_core::changes::Change;
use snarvel_core::editor::{Editor, Manner, Tidy};
use snarvel_core::history::StepId;
use snarvel_core::languages;
use snarvel_core::languages::Language;
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Cell, Line};
use snarvel_files::FileError;
use snarvel_files::journal::Journal;
use snarvel_files::layout::FileLayout;
use snarvel_files::load::{self, Encoding, Loaded};
use snarvel_files::loading::{Loading, Opened, State};
use snarvel_files::save::{Disk, Rights};
use snarvel_files::saving::{Done, Order, Over};
use snarvel_files::stamp::Stamp;
use snarvel_syntax::tree_for;
use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::sync::atomic::{AtomicU64, Ordering};
use std::time::Duration;

/// Where the text comes from and goes to.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Home {
    /// A file, there or to be made.
    File(PathBuf),
    /// Standard input; the text goes to standard output at the end.
    Pipe,
    /// Nowhere yet.
    None,
}

/// The part of a text that is in view.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct View {
    /// The first line.
    pub top: Line,
    /// The first column.
    pub left: Cell,
}

/// A file under edit.
#[derive(Debug)]
pub struct Document {
    /// Its own number, which no other document of this run has.
    pub id: u64,
    /// The text.
    pub editor: Editor,
    /// Where it lives.
    pub home: Home,
    /// How it is written.
    pub encoding: Encoding,
    /// Whether its rights forbid writing.
    pub read_only: bool,
    /// What is in view.
    pub view: View,
    /// The place and revision that the view was last brought to, and the room it had then: only when one of
    /// them is another is the view moved, so that scrolling away is not undone.
    pub seen: Option<((Byte, u64), Area)>,
    /// What there is to say about how it was opened.
    pub warning: Option<String>,
    /// How its file looked when it was loaded or saved; none where there was none.
    pub stamp: Option<Stamp>,
    /// What its file held then.
    pub on_disk: Text,
    /// What another program has done to its file since.
    pub fate: Option<Fate>,
    /// The journal of its edits.
    pub journal: Option<Journal>,
    /// The rest of the file, which is still being read.
    pub loading: Option<Loading>,
    /// Whether it is to be written in another encoding than its file has.
    pub is_recoded: bool,
    /// Where the caret goes once all of the file is there.
    pub wanted: Option<Spot>,
    layout: FileLayout,
}

/// What another program has done to a file.
#[derive(Debug)]
pub enum Fate {
    /// It holds this text now, and looks like this.
    Changed(Text, Stamp),
    /// It is gone.
    Gone,
}

/// How long a verb that goes by the structure of the text waits for it, where it comes right behind a change: most
/// often it is there already. Nothing else waits for it.
const PATIENCE: Duration = Duration::from_millis(100);

/// How much of a file's first line is looked at to find its language.
const FIRST_LINE_BYTES: usize = 256;

impl Document {
    /// The file at `path`, or a new one of that name.
    ///
    /// # Errors
    /// What [`load::load`] refuses.
    pub fn open(path: &Path, manner: Manner) -> Result<Document, FileError> {
        let opened = Opened::read(path)?;
        let mut document = Document::unread(path, manner);
        document.take_all(opened);
        Ok(document)
    }

    /// The same behind the screen: what of it is there after `patience`; the rest comes, and `wake` is called.
    ///
    /// # Errors
    /// The same, where that is known already.
    pub fn begin(
        path: &Path,
        manner: Manner,
        patience: Duration,
        wake: impl Fn() + Send + 'static,
    ) -> Result<Document, FileError> {
        let loading = Loading::start(path, wake);
        let first = loading.first(patience);
        let mut document = Document::unread(path, manner);
        document.loading = Some(loading);
        document.take_in(first)?;
        Ok(document)
    }

    /// For the file at `path`, of which nothing was read yet.
    fn unread(path: &Path, manner: Manner) -> Document {
        let loaded = Loaded { text: Text::default(), encoding: Encoding::default(), read_only: true };
        let mut document = Document::of(loaded, Home::File(path.to_owned()), manner);
        document.editor.grow(Text::default(), true);
        document
    }

    /// Takes in what has come of a file that is being read; whether that is all of it now.
    ///
    /// # Errors
    /// The rest cannot be read.
    pub fn gather(&mut self) -> Result<bool, FileError> {
        let Some(loading) = &self.loading else { return Ok(false) };
        let state = loading.gather();
        self.take_in(state)
    }

    /// Waits for all of a file that is being read.
    ///
    /// # Errors
    /// The rest cannot be read.
    pub fn settle(&mut self) -> Result<bool, FileError> {
        let Some(loading) = &self.loading else { return Ok(false) };
        let state = loading.settle();
        self.take_in(state)
    }

    fn take_in(&mut self, state: State) -> Result<bool, FileError> {
        match state {
            State::Waiting => Ok(false),
            State::More(text) => {
                self.editor.grow(text, true);
                Ok(false)
            }
            State::Failed(error) => {
                self.loading = None;
                Err(error)
            }
            State::All(opened) => {
                self.loading = None;
                self.take_all(*opened);
                Ok(true)
            }
        }
    }

    fn take_all(&mut self, opened: Opened) {
        let new = || Loaded { text: Text::default(), encoding: Encoding::default(), read_only: false };
        let loaded = opened.loaded.unwrap_or_else(new);
        (self.read_only, self.encoding, self.stamp) = (loaded.read_only, loaded.encoding, opened.stamp);
        self.on_disk = loaded.text.clone();
        self.editor.grow(loaded.text, false);
        self.take_layout(opened.layout);
        self.set_language(detected(&self.home, self.editor.text()));
    }

    /// How much of a file that is being read is there, of how much, and how many bytes a second come.
    pub fn progress(&self) -> Option<(u64, u64, f64)> {
        let loading = self.loading.as_ref()?;
        let done = self.editor.text().len() as u64;
        Some((done, loading.size(), done as f64 / loading.began.elapsed().as_secs_f64().max(0.001)))
    }

    /// Takes over what `.editorconfig` files say of its file.
    fn take_layout(&mut self, (layout, why): (FileLayout, Option<String>)) {
        self.editor.set_layout(layout.tabs, layout.unit, layout.line_end);
        layout.text_width.into_iter().for_each(|width| self.editor.set_text_width(width));
        self.layout = layout;
        self.warning = why;
    }

    /// What was loaded, with its home, to be edited in the manner of somebody.
    pub fn of(loaded: Loaded, home: Home, manner: Manner) -> Document {
        static NEXT: AtomicU64 = AtomicU64::new(0);
        let language = detected(&home, &loaded.text);
        let on_disk = loaded.text.clone();
        let editor = with_tree(Editor::with_manner(loaded.text, language, manner));
        let (encoding, read_only) = (loaded.encoding, loaded.read_only);
        let bare = Document::bare(NEXT.fetch_add(1, Ordering::Relaxed), editor, home);
        Document { encoding, read_only, on_disk, ..bare }
    }

    /// Nothing but an editor and its home.
    fn bare(id: u64, editor: Editor, home: Home) -> Document {
        Document {
            id,
            editor,
            home,
            encoding: Encoding::default(),
            read_only: false,
            view: View::default(),
            seen: None,
            warning: None,
            stamp: None,
            on_disk: Text::default(),
            fate: None,
            journal: None,
            loading: None,
            is_recoded: false,
            wanted: None,
            layout: FileLayout::default(),
        }
    }

    /// An empty document without a home.
    pub fn untitled(manner: Manner) -> Document {
        Document::holding(Text::default(), manner)
    }

    /// A document without a home that holds `text`.
    pub fn holding(text: Text, manner: Manner) -> Document {
        Document::of(Loaded { text, encoding: Encoding::default(), read_only: false }, Home::None, manner)
    }

    /// How it was at another place of its history, to be looked at.
    ///
    /// # Panics
    /// If `id` is of another document's history.
    #[must_use]
    pub fn as_it_was(&self, id: StepId) -> Document {
        self.with_editor(self.editor.as_it_was(id))
    }

    /// How `change` would make it, to be looked at.
    #[must_use]
    pub fn trying(&self, change: &Change) -> Document {
        self.with_editor(self.editor.trying(change))
    }

    fn with_editor(&self, editor: Editor) -> Document {
        let bare = Document::bare(self.id, editor, self.home.clone());
        Document { encoding: self.encoding, read_only: self.read_only, view: self.view, layout: self.layout, ..bare }
    }

    /// Moves the view so that the primary caret is in it, where the caret, the text or the room is another than
    /// when this was done last.
    pub fn follow_caret(&mut self, room: Area) {
        let here = (self.editor.cursors().primary().head, self.editor.revision());
        if self.seen != Some((here, room)) {
            layout::bring_into_view(room, self);
            self.seen = Some((here, room));
        }
    }

    /// Its name, as the strip shows it.
    pub fn name(&self) -> String {
        match &self.home {
            Home::File(path) => {
                path.file_name().map_or_else(|| path.to_string_lossy(), |name| name.to_string_lossy()).into_owned()
            }
            Home::Pipe => "standard input".to_owned(),
            Home::None => "new text".to_owned(),
        }
    }

    /// Takes it as a text in `language`.
    pub fn set_language(&mut self, language: Arc<Language>) {
        let tree = tree_for(&language, PATIENCE);
        self.editor.set_language(language);
        self.editor.set_tree(tree);
    }

    /// The bytes that a save would write.
    pub fn bytes(&self) -> Vec<u8> {
        load::encode(self.editor.text(), self.encoding)
    }

    /// Writes it to `path`, which becomes its home, put in order as `.editorconfig` or, where that says nothing,
    /// `usual` wants it.
    ///
    /// # Errors
    /// What [`save::save`] refuses; the file then still holds its old bytes.
    ///
    /// [`save::save`]: snarvel_files::save::save
    pub fn save_to(&mut self, path: &Path, usual: Tidy, now_ms: u64) -> Result<(), FileError> {
        let order = self.begin_save(path, usual, now_ms);
        match order.write(&Disk) {
            Ok(done) => {
                self.end_save(&order, done);
                Ok(())
            }
            Err(error) => {
                self.give_up_save();
                Err(error)
            }
        }
    }

    /// What is to be written to `path`, put in order first; over whatever stands there. Work may go on until
    /// [`Document::end_save`] or [`Document::give_up_save`].
    pub fn begin_save(&mut self, path: &Path, usual: Tidy, now_ms: u64) -> Order {
        let tidy = Tidy {
            trims: self.layout.trims.unwrap_or(usual.trims),
            ends_last_line: self.layout.ends_last_line.unwrap_or(usual.ends_last_line),
        };
        self.editor.tidy(tidy, now_ms);
        let text = self.editor.begin_save();
        let (path, encoding) = (path.to_owned(), self.encoding);
        let is_elsewhere = self.path() != Some(&path);
        Order { path, text, encoding, over: Over::Anything, rights: Rights::Minded, is_elsewhere }
    }

    /// `order` is carried out: its file is the home now.
    pub fn end_save(&mut self, order: &Order, done: Done) {
        self.editor.end_save(true);
        self.stamp = done.stamp;
        self.on_disk = order.text.clone();
        self.fate = None;
        self.is_recoded &= self.encoding != order.encoding;
        if self.home != Home::File(order.path.clone()) {
            self.home = Home::File(order.path.clone());
            done.layout.into_iter().for_each(|layout| self.take_layout(layout));
            self.set_language(detected(&self.home, self.editor.text()));
        }
    }

    /// Its file holds `text`, which is its own text now, and looks like `stamp`.
    pub fn holds_now(&mut self, text: Text, stamp: Option<Stamp>) {
        self.editor.mark_saved();
        self.on_disk = text;
        self.stamp = stamp;
        self.fate = None;
    }

    /// The file that it lives in.
    pub fn path(&self) -> Option<&Path> {
        match &self.home {
            Home::File(path) => Some(path),
            Home::Pipe | Home::None => None,
        }
    }

    /// Nothing was written.
    pub fn give_up_save(&mut self) {
        self.editor.end_save(false);
    }

    /// Whether closing it would lose something.
    pub fn is_unsaved(&self) -> bool {
        (self.editor.is_modified() || self.is_recoded || matches!(self.fate, Some(Fate::Gone)))
            && self.home != Home::Pipe
    }
}

/// The last part of `path`.
pub fn name_of(path: &Path) -> String {
    path.file_name().unwrap_or_default().to_string_lossy().into_owned()
}

fn with_tree(mut editor: Editor) -> Editor {
    let tree = tree_for(editor.language(), PATIENCE);
    editor.set_tree(tree);
    editor
}

fn detected(home: &Home, text: &Text) -> Arc<Language> {
    let name = match home {
        Home::File(path) => path.file_name().map(|name| name.to_string_lossy().into_owned()),
        Home::Pipe | Home::None => None,
    };
    let mut chunk = text.chunks_from(Byte(0));
    let first: String =
        chunk.next().map(|piece| piece.text.chars().take(FIRST_LINE_BYTES).collect()).unwrap_or_default();
    languages::detect(&name.unwrap_or_default(), first.lines().next().unwrap_or(""))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_read_behind_is_what_is_read_at_once() {
        let folder = tempfile::tempdir().unwrap();
        std::fs::write(folder.path().join(".editorconfig"), "[*]\nindent_style = tab\nmax_line_length = 60\n").unwrap();
        for (name, content) in
            [("a.rs", &b"fn ebb() {\r\n  1\r\n}"[..]), ("run", b"#!/bin/sh\necho\n"), ("raw", b"\xFF\xFE\x00")]
        {
            let path = folder.path().join(name);
            std::fs::write(&path, content).unwrap();
            let at_once = Document::open(&path, Manner::default()).unwrap();
            let mut behind = Document::begin(&path, Manner::default(), Duration::ZERO, || ()).unwrap();
            behind.settle().unwrap();
            for document in [&at_once, &behind] {
                assert!(!document.editor.is_growing() && !document.editor.is_modified());
                assert_eq!((document.bytes(), document.stamp), (content.to_vec(), Stamp::of(&path)));
            }
            let told = |document: &Document| {
                let editor = &document.editor;
                (editor.language().name.clone(), *editor.layout(), document.encoding, document.on_disk.clone())
            };
            assert_eq!(told(&behind), told(&at_once), "{name}");
        }
        assert!(Document::begin(folder.path(), Manner::default(), Duration::MAX, || ()).is_err());
    }
}
