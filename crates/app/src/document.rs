//! A document: a file under edit, where it lives, and which part of it is in view.

use crate::screen::layout::{self, Area};
use snarvel_core::editor::{Editor, Manner, Tidy};
use snarvel_core::history::StepId;
use snarvel_core::languages;
use snarvel_core::languages::Language;
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Cell, Line};
use snarvel_files::FileError;
use snarvel_files::layout::{FileLayout, layout_of};
use snarvel_files::load::{self, Encoding, Loaded};
use snarvel_files::save::{self, Written};
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
    layout: FileLayout,
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
        let loaded = load::load(path)?.unwrap_or_else(|| Loaded {
            text: Text::default(),
            encoding: Encoding::default(),
            read_only: false,
        });
        let mut document = Document::of(loaded, Home::File(path.to_owned()), manner);
        document.read_layout(path);
        Ok(document)
    }

    /// Takes over what `.editorconfig` files say of the file at `path`.
    fn read_layout(&mut self, path: &Path) {
        let (layout, why) = layout_of(path);
        self.editor.set_layout(layout.tabs, layout.unit, layout.line_end);
        layout.text_width.into_iter().for_each(|width| self.editor.set_text_width(width));
        self.layout = layout;
        self.warning = why;
    }

    /// What was loaded, with its home, to be edited in the manner of somebody.
    pub fn of(loaded: Loaded, home: Home, manner: Manner) -> Document {
        static NEXT: AtomicU64 = AtomicU64::new(0);
        let language = detected(&home, &loaded.text);
        Document {
            id: NEXT.fetch_add(1, Ordering::Relaxed),
            editor: with_tree(Editor::with_manner(loaded.text, language, manner)),
            home,
            encoding: loaded.encoding,
            read_only: loaded.read_only,
            view: View::default(),
            seen: None,
            warning: None,
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
        Document {
            id: self.id,
            editor: self.editor.as_it_was(id),
            home: self.home.clone(),
            encoding: self.encoding,
            read_only: self.read_only,
            view: self.view,
            seen: None,
            warning: None,
            layout: self.layout,
        }
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
    pub fn save_to(&mut self, path: &Path, usual: Tidy, now_ms: u64) -> Result<Written, FileError> {
        let tidy = Tidy {
            trims: self.layout.trims.unwrap_or(usual.trims),
            ends_last_line: self.layout.ends_last_line.unwrap_or(usual.ends_last_line),
        };
        self.editor.tidy(tidy, now_ms);
        let written = save::save(path, &self.bytes())?;
        if self.home != Home::File(path.to_owned()) {
            self.home = Home::File(path.to_owned());
            self.read_layout(path);
            self.set_language(detected(&self.home, self.editor.text()));
        }
        self.read_only = false;
        self.editor.mark_saved();
        Ok(written)
    }

    /// Whether closing it would lose something.
    pub fn is_unsaved(&self) -> bool {
        self.editor.is_modified() && self.home != Home::Pipe
    }
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
