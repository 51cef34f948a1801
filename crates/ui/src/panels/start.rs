//! The start of the chosen file, beside a list of files: read in the background, one at a time.

use super::painter::{KeysGo, Painter};
use super::panel::TextBeside;
use crate::context::Context;
use crate::screen::text::request_colours;
use ratatui::buffer::Buffer as Grid;
use snarvel_core::units::Line;
use snarvel_files::load::{Loaded, decode};
use snarvel_task::waits;
use snarvel_workspace::buffer::Origin;
use snarvel_workspace::event::{Event, Payload};
use snarvel_workspace::ids::TaskId;
use snarvel_workspace::tasks::{About, TaskHandle};
use snarvel_workspace::view::Preview;
use std::io::Read;
use std::path::{Path, PathBuf};

/// Bytes of a file that are shown before it is opened.
const BYTES_SHOWN: u64 = 32 << 10;

/// Bytes of a file of which a place is shown.
const BYTES_AROUND: u64 = 4 << 20;

/// The start of a file, or a place in it.
#[derive(Debug, Default)]
pub struct StartOfFile {
    shown: Option<(PathBuf, Box<Preview>)>,
    reading: Option<(PathBuf, TaskHandle)>,
    /// The line that is shown; none: the start.
    line: Option<Line>,
}

impl StartOfFile {
    /// Reads the start of the file at `chosen`; where that of another one is still being read, after that.
    pub fn look(&mut self, chosen: Option<PathBuf>, context: &mut Context) {
        let Some(path) = chosen else {
            self.shown = None;
            return;
        };
        if self.shown.as_ref().is_none_or(|(shown, _)| *shown != path) {
            self.shown = None;
            if self.reading.is_none() {
                let whole = path.clone();
                let about = About::new("reading a file").awaited(waits::FILE_PREVIEW);
                let bytes = if self.line.is_some() { BYTES_AROUND } else { BYTES_SHOWN };
                let start = context.workspace.tasks.run(about, Payload::Start, move || start_of(&whole, bytes));
                self.reading = Some((path, start));
            }
        }
    }

    /// Shows the file at `chosen` around a line: as it is under edit where it is open, else as it is read.
    pub fn look_at(&mut self, chosen: Option<(PathBuf, Line)>, context: &mut Context) {
        let Some((path, line)) = chosen else { return self.look(None, context) };
        self.line = Some(line);
        let open = context.workspace.buffers().iter().find(|buffer| buffer.is_of(&path) && !buffer.is_partial());
        match open.map(snarvel_workspace::buffer::Buffer::copy_to_look_at) {
            Some(copy) if self.shown.as_ref().is_none_or(|(shown, _)| *shown != path) => {
                let (language, id) = (copy.language().clone(), copy.id);
                let _ = id;
                let loaded = Loaded { text: copy.text().clone(), encoding: copy.saved.encoding, read_only: true };
                let mut buffer = context.workspace.make_buffer(loaded, Origin::File(path.clone()));
                let sink = context.workspace.parse_sink(buffer.id);
                buffer.set_language(&language, Some(sink));
                self.shown = Some((path, Box::new(Preview::of(buffer))));
            }
            Some(_) => {}
            None => self.look(Some(path), context),
        }
    }

    /// Takes in what has come of it. `chosen` is the file that is chosen now.
    pub fn take(&mut self, event: &mut Event, chosen: Option<PathBuf>, context: &mut Context) {
        let task = event.source.task;
        match std::mem::replace(&mut event.payload, Payload::Ended) {
            Payload::Start(loaded) if self.reading.as_ref().is_some_and(|(_, start)| start.id == task) => {
                let Some((path, _)) = self.reading.take() else { return };
                if chosen.as_ref() == Some(&path) {
                    let origin = Origin::File(path.clone());
                    let preview = loaded.map(|loaded| Preview::of(context.workspace.make_buffer(loaded, origin)));
                    self.shown = preview.map(|preview| (path, Box::new(preview)));
                } else {
                    self.look(chosen, context);
                }
            }
            Payload::Parsed(parsed) => {
                let preview = self.shown.as_mut().map(|(_, preview)| &mut preview.buffer);
                if let Some(buffer) = preview.filter(|buffer| Some(buffer.id) == event.source.buffer) {
                    buffer.take_parsed(parsed);
                }
            }
            other => event.payload = other,
        }
    }

    /// The task has ended.
    pub fn end(&mut self, task: TaskId) {
        self.reading.take_if(|(_, handle)| handle.id == task);
    }

    /// Asks for the colours of what is shown.
    pub fn settle(&mut self, context: &mut Context) {
        if let Some((_, preview)) = &mut self.shown {
            let Preview { buffer, view, .. } = &mut **preview;
            if let Some(line) = self.line {
                let above = usize::from(context.look.rooms.beside.rows) / 3;
                view.scroll.top = Line(line.0.min(buffer.text().last_line().0).saturating_sub(above));
            }
            request_colours((buffer, view), usize::from(context.look.rooms.beside.rows));
        }
    }

    /// Whether there is something to be shown.
    #[must_use]
    pub fn text_beside(&self) -> TextBeside {
        if self.shown.is_some() { TextBeside::Beside } else { TextBeside::None }
    }

    /// Draws it beside the list.
    pub fn draw(&self, painter: &Painter, grid: &mut Grid) {
        if let Some((_, preview)) = &self.shown {
            painter.text_beside((&preview.buffer, &preview.view), (KeysGo::ToList, self.line), grid);
        }
    }
}

/// The start of the file at `path`; none for what is no file or cannot be read.
fn start_of(path: &Path, most: u64) -> Option<Loaded> {
    let file = snarvel_files::reading::open(path).ok()?;
    let mut bytes = Vec::new();
    file.take(most).read_to_end(&mut bytes).ok()?;
    let (text, encoding) = decode(&bytes);
    Some(Loaded { text, encoding, read_only: true })
}
