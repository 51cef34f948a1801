//! A recipe over one file that is not open: read, run, and what it would hold.

use super::Program;
use super::machine::{Host, run};
use super::news::Ended;
use crate::buffer::defaults::EditorDefaults;
use crate::buffer::parsing::Taken;
use crate::buffer::{Buffer, Origin};
use crate::command::Command;
use crate::filtering;
use crate::project::FILTER_LIMIT;
use crate::registry::verb::StructureNeed;
use crate::view::View;
use snarvel_core::changes::{Change, ChangeBuilder};
use snarvel_core::languages::Language;
use snarvel_core::recipes::{Action, Header, Item};
use snarvel_core::text::Text;
use snarvel_core::units::Span;
use snarvel_files::commands::Failure;
use snarvel_files::layout::FileLayout;
use snarvel_files::loading::Opened;
use snarvel_files::save::Rights;
use snarvel_files::saving::{Overwrite, SaveRequest};
use snarvel_syntax::background::{Need, Parsed, Requested, Sink};
use snarvel_task::{Cancel, Report, waits};
use std::path::Path;
use std::sync::mpsc::{Receiver, RecvTimeoutError, channel};
use std::sync::{Arc, Mutex};
use std::time::Instant;

/// What became of a file.
pub struct Applied {
    /// The text with its changes, none of them saved.
    buffer: Buffer,
    /// The text as it was read.
    before: Text,
    /// How many steps could not be done.
    pub not_done: usize,
    /// Whether the text is too large for its structure: blocks and the like went by brackets and lines.
    pub is_too_large: bool,
    /// Commands that failed, and why.
    pub failed: Vec<String>,
}

/// A piece of a text that differs: the lines of before, and those of now, in bytes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Differing {
    /// In the text before.
    pub before: Span,
    /// In the text now.
    pub now: Span,
}

impl Applied {
    /// Of a text as it is under edit, beside what its file holds.
    #[must_use]
    pub fn of_buffer(buffer: &Buffer) -> Applied {
        let mut copy = buffer.copy_to_look_at();
        copy.saved.stamp = buffer.saved.stamp;
        Applied {
            before: buffer.saved.on_disk.clone(),
            buffer: copy,
            not_done: 0,
            is_too_large: false,
            failed: Vec::new(),
        }
    }

    /// Whether the text differs from what was read.
    #[must_use]
    pub fn has_changed(&self) -> bool {
        !self.buffer.saved.diff.is_empty() && self.before != *self.buffer.text()
    }

    /// The text as it was read.
    #[must_use]
    pub fn before(&self) -> &Text {
        &self.before
    }

    /// The text with its changes.
    #[must_use]
    pub fn now(&self) -> &Buffer {
        &self.buffer
    }

    /// The bytes that may differ, in order: every difference lies in one of them.
    pub fn differing(&self) -> impl Iterator<Item = Differing> + '_ {
        self.buffer.saved.diff.stretches().map(|(now, before)| Differing { before, now })
    }

    /// All that was changed, as one change of the text that was read.
    #[must_use]
    pub fn as_change(&self) -> Change {
        let mut builder = ChangeBuilder::new(&self.before);
        for Differing { before, now } in self.differing() {
            builder.replace(before, &self.buffer.text().slice(now));
        }
        builder.finish()
    }

    /// What writes the changed text to `path`, if that still holds what was read.
    #[must_use]
    pub fn save_request(&self, path: &Path) -> SaveRequest {
        SaveRequest {
            path: path.to_owned(),
            text: self.buffer.text().clone(),
            encoding: self.buffer.saved.encoding,
            over: Overwrite::Known(self.buffer.saved.stamp, self.before.clone()),
            rights: Rights::Minded,
            is_elsewhere: false,
        }
    }
}

/// Runs `program` over the file that was read from `path`. `language` is taken in place of the one that its name tells.
///
/// # Errors
/// Why the run ended; then the file stays as it is.
pub fn apply(
    program: &Program,
    path: &Path,
    opened: Opened,
    language: Option<&Arc<Language>>,
) -> Result<Applied, Ended> {
    let Opened { loaded, stamp, layout } = opened;
    let loaded = loaded.ok_or(Ended::Stopped)?;
    let before = loaded.text.clone();
    let mut buffer = Buffer::new(loaded, Origin::File(path.to_owned()), EditorDefaults::default(), None);
    // Where nothing is said of it, it is as the text shows it, which a buffer begins with.
    if layout != (FileLayout::default(), None) {
        buffer.take_layout(layout);
    }
    buffer.saved.stamp = stamp;
    let mut host = Patient::new(needs_structure(&program.body));
    let language = language.unwrap_or(buffer.language()).clone();
    let sink = host.sink();
    if sink.is_some() || language.name != buffer.language().name {
        buffer.set_language(&language, sink);
        buffer.parsing.take_as_long_as_it_takes();
    }
    let mut view = View::of(&mut buffer);
    let ran = run(program, (&mut buffer, &mut view), &mut host)?;
    Ok(Applied { buffer, before, not_done: ran.not_done, is_too_large: host.is_too_large, failed: host.failed })
}

/// Whether a step of `body` may ask for the structure of the text.
pub(super) fn needs_structure(body: &[Item<Command>]) -> bool {
    body.iter().any(|item| match &item.action {
        Action::Step(command) => command.verb.structure != StructureNeed::Never,
        Action::Block(header, body) => matches!(header, Header::EachBlock) || needs_structure(body),
        Action::Type(_) | Action::Keep(_) | Action::Use(_) => false,
    })
}

/// A host that waits for the structure as long as it takes.
pub(crate) struct Patient {
    found: Option<Receiver<Report<Parsed>>>,
    sink: Option<Sink>,
    pub(super) is_too_large: bool,
    /// Commands that failed, and why.
    failed: Vec<String>,
    /// When the run is to stop, and what stops it before.
    limit: Option<(Instant, Cancel)>,
}

impl Patient {
    pub(crate) fn new(needs_structure: bool) -> Patient {
        if !needs_structure {
            return Patient { found: None, sink: None, is_too_large: false, failed: Vec::new(), limit: None };
        }
        let (sender, found) = channel();
        let sender = Mutex::new(sender);
        let sink: Sink = Arc::new(move |report| {
            let sender = sender.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
            // The caller is gone: there is no one to tell.
            let _ = sender.send(report);
        });
        Patient { found: Some(found), sink: Some(sink), is_too_large: false, failed: Vec::new(), limit: None }
    }

    /// The run is to stop at `until`, or when it is cancelled.
    pub(super) fn limit(&mut self, until: Instant, cancel: Cancel) {
        self.limit = Some((until, cancel));
    }

    /// Waits for the colours of `span`, up to `until`.
    pub(crate) fn colour(&mut self, buffer: &mut Buffer, span: Span, until: Instant) {
        let Some(found) = &self.found else { return };
        while buffer.request(span, Need::Colours) == Requested::Pending {
            match found.recv_timeout(until.saturating_duration_since(Instant::now())) {
                Ok(Report::News(parsed)) => buffer.take_parsed(parsed),
                Ok(Report::Done) => {}
                Ok(Report::Panicked(_)) | Err(_) => return,
            }
        }
    }

    pub(crate) fn sink(&mut self) -> Option<Sink> {
        self.sink.take()
    }
}

impl Host for Patient {
    fn filtered(&mut self, command: &str, inputs: &[Vec<u8>]) -> Result<Vec<String>, Failure> {
        let outputs = filtering::filtered((command, Path::new(".")), inputs, FILTER_LIMIT, &|| false);
        if let Err(failure) = &outputs {
            self.failed.push(format!("{command}: {failure}"));
        }
        outputs
    }

    fn structure(&mut self, buffer: &mut Buffer, _: &View) -> Taken {
        let Some(found) = &self.found else { return Taken::NotYet };
        let whole = buffer.text().span();
        if whole.len() > snarvel_syntax::background::WHOLE {
            self.is_too_large |= snarvel_syntax::has_grammar(buffer.language());
            return Taken::NotYet;
        }
        while buffer.request(whole, Need::Structure) == Requested::Pending {
            let longest = self
                .limit
                .as_ref()
                .map_or(waits::UNHURRIED_PARSE, |(until, _)| until.saturating_duration_since(Instant::now()));
            match found.recv_timeout(longest) {
                Ok(Report::News(parsed)) => buffer.take_parsed(parsed),
                Ok(Report::Panicked(_)) | Err(RecvTimeoutError::Disconnected) => buffer.parsing.fail(),
                Ok(Report::Done) => {}
                Err(RecvTimeoutError::Timeout) => break,
            }
        }
        buffer.parsing.structure(whole, buffer.revision())
    }

    fn is_stopped(&self) -> bool {
        self.limit.as_ref().is_some_and(|(until, cancel)| cancel.is_cancelled() || Instant::now() >= *until)
    }
}
