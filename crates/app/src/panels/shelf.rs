//! The clip shelf: what was copied of late, to be pasted again, whole or in part.
//!
//! Beside the list stands the chosen clip. Tab goes into it: there the keys that move and select work as in any text,
//! and what is selected is what Enter pastes.

use super::Answer;
use super::chooser::{Chooser, Order, Pressed};
use crate::document::Document;
use crate::keys::Key;
use crate::keys::keymap::{Keymap, Meaning};
use crossterm::event::{KeyCode, KeyModifiers};
use snarvel_core::cursors::Selection;
use snarvel_core::editor::{Call, Manner};
use snarvel_core::languages::Language;
use snarvel_core::text::Text;
use snarvel_core::verbs::clip::{Clip, Piece, Shelf};
use snarvel_core::verbs::clipboard::clip_of;
use snarvel_core::verbs::scene::Layer;
use snarvel_core::verbs::{Group, Run};
use std::borrow::Cow;
use std::sync::Arc;

/// What was copied of late.
#[derive(Debug)]
pub struct ShelfPanel {
    /// The clips, the newest first.
    pub clips: Vec<Arc<Clip>>,
    /// The letters so far, and what they leave to choose from.
    pub chooser: Chooser,
    /// The chosen clip as a text.
    pub preview: Option<Document>,
    /// Whether keys go to that text.
    pub is_inside: bool,
    language: Arc<Language>,
}

/// How much of a clip the letters are looked for in, in bytes.
const BYTES_SEARCHED: usize = 4_000;

/// How much of a clip is shown before somebody goes into it, in bytes.
const BYTES_SHOWN: usize = 20_000;

impl ShelfPanel {
    /// The clips of `shelf`; `language` is the one in which they are coloured.
    pub fn of(shelf: &Shelf, language: Arc<Language>) -> ShelfPanel {
        let mut panel = ShelfPanel {
            clips: shelf.clips().cloned().collect(),
            chooser: Chooser::new(Order::AsListed),
            preview: None,
            is_inside: false,
            language,
        };
        panel.filter();
        panel
    }

    fn filter(&mut self) {
        let searched = |clip: &Arc<Clip>| head(&clip.joined(), BYTES_SEARCHED).to_owned();
        let texts: Vec<String> = self.clips.iter().map(searched).collect();
        self.chooser.filter(texts.iter().map(|text| Cow::Borrowed(text.as_str())));
        self.show(BYTES_SHOWN);
    }

    /// The chosen clip.
    pub fn chosen(&self) -> Option<&Arc<Clip>> {
        self.chooser.index().map(|index| &self.clips[index])
    }

    fn show(&mut self, bytes: usize) {
        let language = self.language.clone();
        self.preview = self.chosen().map(|clip| {
            let mut document = Document::holding(Text::from(head(&clip.joined(), bytes)), Manner::default());
            document.set_language(language);
            document
        });
    }

    /// Takes pasted text.
    pub(super) fn paste(&mut self, typed: &str) {
        if !self.is_inside {
            self.chooser.line.insert(typed);
            self.filter();
        }
    }

    /// Takes a key.
    pub(super) fn press(&mut self, key: Key, keymap: &Keymap) -> Answer {
        match key.code {
            KeyCode::Esc if self.is_inside => {
                self.is_inside = false;
                self.show(BYTES_SHOWN);
                Answer::None
            }
            KeyCode::Esc => Answer::Left,
            KeyCode::Enter => self.part().map_or(Answer::None, Answer::Paste),
            KeyCode::Char('c') if key.mods == KeyModifiers::CONTROL => self.part().map_or(Answer::None, Answer::Copy),
            KeyCode::Tab => {
                self.is_inside = !self.is_inside && self.preview.is_some();
                self.show(if self.is_inside { usize::MAX } else { BYTES_SHOWN });
                Answer::None
            }
            _ if self.is_inside => {
                self.move_inside(key, keymap);
                Answer::None
            }
            _ => self.choose(key),
        }
    }

    fn choose(&mut self, key: Key) -> Answer {
        let digit = match key.code {
            KeyCode::Char(c) if key.mods == KeyModifiers::ALT || self.chooser.line.text.is_empty() => c.to_digit(10),
            _ => None,
        };
        if let Some(number) = digit.filter(|number| *number > 0) {
            let clip = self.chooser.shown.get(number as usize - 1).map(|&index| self.clips[index].clone());
            return clip.map_or(Answer::None, Answer::Paste);
        }
        if key.code == KeyCode::Delete {
            let Some(index) = self.chooser.index() else { return Answer::None };
            let chosen = self.chooser.chosen;
            self.clips.remove(index);
            self.filter();
            self.chooser.chosen = chosen.min(self.chooser.shown.len().saturating_sub(1));
            self.show(BYTES_SHOWN);
            return Answer::DropClip(index);
        }
        match self.chooser.press(key) {
            Pressed::Typed => self.filter(),
            Pressed::Moved => self.show(BYTES_SHOWN),
            Pressed::Nothing => {}
        }
        Answer::None
    }

    /// Runs a verb that moves or selects, in the text of the clip.
    fn move_inside(&mut self, key: Key, keymap: &Keymap) {
        let Some(preview) = &mut self.preview else { return };
        let Some(Meaning::Verb(verb)) = keymap.meaning(key, Layer::Write) else { return };
        let is_harmless = matches!(verb.group, Group::Moves | Group::Selects) && matches!(verb.run, Run::Edit(_));
        if is_harmless {
            preview.editor.run(Call { verb, argument: "", times: 1, clip: &Clip::default(), now_ms: 0 });
        }
    }

    /// The chosen clip, or what of it is selected.
    fn part(&self) -> Option<Arc<Clip>> {
        let whole = self.chosen()?;
        let preview = self.preview.as_ref().filter(|_| self.is_inside);
        let editor = preview.map(|preview| &preview.editor).filter(|editor| {
            let is_selected = |each: Selection| !each.is_caret();
            editor.cursors().iter().any(is_selected)
        });
        let Some(editor) = editor else { return Some(whole.clone()) };
        let mut part = editor.with_scene(&Clip::default(), clip_of);
        let selected = editor.cursors().iter().filter(|each| !each.is_caret());
        for (piece, each) in part.pieces.iter_mut().zip(selected) {
            let line = editor.text().line_of(each.start()).0;
            piece.depth = first_piece_on(whole, line).map_or(piece.depth, |source| source.depth);
        }
        Some(Arc::new(part))
    }
}

/// The piece of `clip` whose first line is the `line`th of all. Its text may begin behind the indentation, so that
/// only the piece knows its depth; lines hold their own.
fn first_piece_on(clip: &Clip, line: usize) -> Option<&Piece> {
    let mut at = 0;
    for piece in clip.pieces.iter().filter(|_| !clip.lines) {
        if at == line {
            return Some(piece);
        }
        at += piece.text.matches('\n').count() + 1;
    }
    None
}

/// The first `bytes` of `text`, or fewer, so that no character is cut.
fn head(text: &str, bytes: usize) -> &str {
    &text[..text.floor_char_boundary(bytes)]
}
