//! The clip shelf: what was copied lately, to be pasted again, whole or in part.
//!
//! Beside the list is the chosen clip. Tab goes into it: there the keys that move and select work as in any text,
//! and what is selected is what Enter pastes.

use super::chooser::{Chooser, Order, Pressed};
use super::painter::{KeysGo, Painter};
use super::panel::{Panel, PanelAction, TextBeside, list_rows};
use crate::context::Context;
use crate::keys::Key;
use crate::keys::keymap::Meaning;
use crate::keys::layer::Layer;
use crate::palette::Role;
use crate::screen::canvas::{Area, put, width};
use crossterm::event::{KeyCode, KeyModifiers};
use ratatui::buffer::Buffer as Grid;
use snarvel_core::cursors::Selection;
use snarvel_core::languages::Language;
use snarvel_core::text::Text;
use snarvel_core::verbs::clipboard::clip::{Clip, Piece, Shelf};
use snarvel_core::verbs::clipboard::clip_of;
use snarvel_core::verbs::scene::{Scene, counted};
use snarvel_files::load::{Encoding, Loaded};
use snarvel_workspace::buffer::defaults::EditorDefaults;
use snarvel_workspace::buffer::parsing::Taken;
use snarvel_workspace::buffer::{Buffer, Origin};
use snarvel_workspace::command::Command;
use snarvel_workspace::editing::{self, EditCall};
use snarvel_workspace::registry::arguments::Values;
use snarvel_workspace::registry::verb::{Does, Group};
use snarvel_workspace::view::Preview;
use snarvel_workspace::view::remembered::Left;
use std::borrow::Cow;
use std::sync::Arc;

/// What was copied lately.
#[derive(Debug)]
pub struct ShelfPanel {
    /// The clips, the newest first.
    pub clips: Vec<Arc<Clip>>,
    /// The letters so far, and what they leave to choose from.
    pub chooser: Chooser,
    /// The chosen clip as a text.
    preview: Option<Box<Preview>>,
    /// Where keys go.
    keys: KeysGo,
    language: Arc<Language>,
}

/// How much of a clip the letters are looked for in, in bytes.
const BYTES_SEARCHED: usize = 4_000;

/// How much of a clip is shown before the user expands it, in bytes.
const BYTES_SHOWN: usize = 20_000;

impl ShelfPanel {
    /// The clips of `shelf`; `language` is the one in which they are coloured.
    #[must_use]
    pub fn of(shelf: &Shelf, language: Arc<Language>) -> ShelfPanel {
        let mut panel = ShelfPanel {
            clips: shelf.clips().cloned().collect(),
            chooser: Chooser::new(Order::AsListed),
            preview: None,
            keys: KeysGo::ToList,
            language,
        };
        panel.filter();
        panel
    }

    fn filter(&mut self) {
        let searched = |clip: &Arc<Clip>| head(&clip.joined(), BYTES_SEARCHED).to_owned();
        let texts: Vec<String> = self.clips.iter().map(searched).collect();
        self.chooser.filter(texts.iter().map(|text| Cow::Borrowed(text.as_str())));
        self.show();
    }

    /// The chosen clip.
    #[must_use]
    pub fn chosen(&self) -> Option<&Arc<Clip>> {
        self.chooser.index().map(|index| &self.clips[index])
    }

    fn show(&mut self) {
        let bytes = if self.keys == KeysGo::ToText { usize::MAX } else { BYTES_SHOWN };
        self.preview = self.chosen().map(|clip| {
            let text = Text::from(head(&clip.joined(), bytes));
            let loaded = Loaded { text, encoding: Encoding::default(), read_only: true };
            let mut buffer = Buffer::new(loaded, Origin::None, EditorDefaults::default(), None);
            buffer.set_language(&self.language, None);
            Box::new(Preview::of(buffer))
        });
    }

    fn go(&mut self, keys: KeysGo) -> PanelAction {
        self.keys = keys;
        self.show();
        PanelAction::Stay
    }

    fn choose(&mut self, key: Key, context: &mut Context) -> PanelAction {
        let digit = match key.code {
            KeyCode::Char(c) if key.mods == KeyModifiers::ALT || self.chooser.line.text.is_empty() => c.to_digit(10),
            _ => None,
        };
        if let Some(number) = digit.filter(|number| *number > 0) {
            let clip = self.chooser.shown.get(number as usize - 1).map(|&index| self.clips[index].clone());
            return paste(clip, context);
        }
        if key.code == KeyCode::Delete {
            self.drop_chosen(context);
            return PanelAction::Stay;
        }
        match self.chooser.press(key) {
            Pressed::Typed => self.filter(),
            Pressed::Moved => self.show(),
            Pressed::Nothing => {}
        }
        PanelAction::Stay
    }

    fn drop_chosen(&mut self, context: &mut Context) {
        let Some(index) = self.chooser.index() else { return };
        let chosen = self.chooser.chosen;
        self.clips.remove(index);
        self.filter();
        self.chooser.chosen = chosen.min(self.chooser.shown.len().saturating_sub(1));
        self.show();
        context.workspace.shelf.drop_clip(index);
    }

    /// Runs a verb that moves or selects, in the text of the clip.
    fn move_inside(&mut self, key: Key, context: &Context) {
        let Some(preview) = &mut self.preview else { return };
        let Some(Meaning::Verb(verb)) = context.keyboard.keymap.meaning(key, Layer::Write) else { return };
        let (Group::Moves | Group::Selects, Does::Edit(function) | Does::Jump(function)) = (verb.group, verb.does)
        else {
            return;
        };
        let nothing = Clip::default();
        let function = |scene: &Scene| function(scene, &Values::default());
        let once = EditCall::once(verb.name, &function, (&nothing, 0));
        let call = EditCall { left: Left::ByMove, ..once };
        let Preview { buffer, view, .. } = &mut **preview;
        editing::run((buffer, view), &call, &mut |_, _| Taken::NotYet);
    }

    /// The chosen clip, or what of it is selected.
    fn part(&self) -> Option<Arc<Clip>> {
        let whole = self.chosen()?;
        let inside = self.preview.as_ref().filter(|_| self.keys == KeysGo::ToText);
        let is_selected = |each: &Selection| !each.is_caret();
        let selected = inside.filter(|preview| preview.view.cursors().iter().any(|each| is_selected(&each)));
        let Some(preview) = selected else { return Some(whole.clone()) };
        let mut part = preview.view.with_scene(&preview.buffer, clip_of);
        let spans = preview.view.cursors().iter().filter(is_selected);
        for (piece, each) in part.pieces.iter_mut().zip(spans) {
            let line = preview.buffer.text().line_of(each.start()).0;
            piece.depth = first_piece_on(whole, line).map_or(piece.depth, |source| source.depth);
        }
        Some(Arc::new(part))
    }
}

fn row(
    painter: &Painter,
    (number, clip): (usize, &Clip),
    (room, style): (Area, ratatui::style::Style),
    grid: &mut Grid,
) {
    let size = size_of(clip);
    let size_x = room.cols.saturating_sub(width(&size));
    let key = if number <= 9 { format!("{number} ") } else { "  ".to_owned() };
    let x = put(grid, (room, 0), &key, painter.over(style, Role::KeyCap));
    let words = Area { cols: size_x.saturating_sub(1), ..room };
    put(grid, (words, x), first_words(clip), style);
    put(grid, (room, size_x), &size, painter.over(style, Role::RaisedQuiet));
}

/// Copies `clip` again and pastes it.
fn paste(clip: Option<Arc<Clip>>, context: &mut Context) -> PanelAction {
    let Some(clip) = clip else { return PanelAction::Stay };
    context.copy(clip);
    context.run(&Command::named("paste"));
    PanelAction::Close
}

impl Panel for ShelfPanel {
    fn rows(&self, context: &Context) -> u16 {
        list_rows(context)
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        let is_inside = self.keys == KeysGo::ToText;
        match key.code {
            KeyCode::Esc if is_inside => self.go(KeysGo::ToList),
            KeyCode::Esc => PanelAction::Close,
            KeyCode::Enter => paste(self.part(), context),
            KeyCode::Char('c') if key.mods == KeyModifiers::CONTROL => {
                let Some(clip) = self.part() else { return PanelAction::Stay };
                context.say("it is what paste puts in now");
                context.copy(clip);
                PanelAction::Close
            }
            KeyCode::Tab if is_inside || self.preview.is_none() => self.go(KeysGo::ToList),
            KeyCode::Tab => self.go(KeysGo::ToText),
            _ if is_inside => {
                self.move_inside(key, context);
                PanelAction::Stay
            }
            _ => self.choose(key, context),
        }
    }

    fn paste(&mut self, typed: &str, _context: &mut Context) -> PanelAction {
        if self.keys == KeysGo::ToList {
            self.chooser.line.insert(typed);
            self.filter();
        }
        PanelAction::Stay
    }

    fn settle(&mut self, context: &mut Context) {
        if let Some(preview) = &mut self.preview {
            preview.view.follow_caret(&preview.buffer, context.look.rooms.beside);
        }
    }

    fn text_beside(&self) -> TextBeside {
        if self.keys == KeysGo::ToText { TextBeside::Inside } else { TextBeside::Beside }
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        match self.keys {
            KeysGo::ToText => painter.line_at_rest("paste", &self.chooser.line, grid),
            KeysGo::ToList => painter.line("paste", &self.chooser.line, grid),
        }
        painter.count(self.chooser.shown.len(), self.clips.len(), grid);
        painter.list(&self.chooser, grid, |clip, room, style, grid| {
            let number = self.chooser.shown.iter().position(|&each| each == clip).map_or(0, |place| place + 1);
            row(painter, (number, &self.clips[clip]), (room, style), grid);
        });
        if self.chooser.shown.is_empty() {
            painter.hint("no clip holds that", grid);
        }
        if let Some(preview) = &self.preview {
            painter.text_beside((&preview.buffer, &preview.view), (self.keys, None), grid);
        }
        let keys: &[(&str, &str)] = match self.keys {
            KeysGo::ToText => &[
                ("Shift+arrows", "select a part"),
                ("Enter", "paste it"),
                ("Ctrl+C", "copy it"),
                ("Tab Esc", "back to the list"),
            ],
            KeysGo::ToList => &[
                ("1-9", "paste"),
                ("↑ ↓", "choose"),
                ("Enter", "paste"),
                ("Tab", "take a part"),
                ("Ctrl+C", "copy again"),
                ("Del", "drop"),
                ("Esc", "leave"),
            ],
        };
        painter.keys(keys, grid);
    }
}

/// The piece of `clip` whose first line is the `line`th of all. Its text may begin after the indentation, so that
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

/// The first line of `clip` that is not blank.
fn first_words(clip: &Clip) -> &str {
    let lines = || clip.pieces.iter().flat_map(|piece| piece.text.lines());
    lines().map(str::trim).find(|line| !line.is_empty()).unwrap_or("(white space)")
}

fn size_of(clip: &Clip) -> String {
    let lines: usize = clip.pieces.iter().map(|piece| piece.text.lines().count().max(1)).sum();
    match (clip.pieces.len(), clip.lines) {
        (_, true) => counted(lines, "line"),
        (1, false) if lines > 1 => counted(lines, "line"),
        (1, false) => counted(clip.pieces[0].text.chars().count(), "char"),
        (pieces, false) => counted(pieces, "piece"),
    }
}
