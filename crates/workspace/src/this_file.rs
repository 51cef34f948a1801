//! What is done to the active file as a whole: its language, its layout, its line ends; what it holds on the disk; its name.

use crate::buffer::STILL_LOADING;
use crate::buffer::defaults::EditorDefaults;
use crate::buffer::saved::DiskStatus;
use crate::compared::{Compared, Found, Other, Purpose};
use crate::editing::Effects;
use crate::event::Payload;
use crate::ids::BufferId;
use crate::registry::arguments::Values;
use crate::tasks::About;
use crate::workspace::Workspace;
use snarvel_core::changes::ChangeBuilder;
use snarvel_core::cursors::Selection;
use snarvel_core::languages;
use snarvel_core::text::LineEnd;
use snarvel_core::text::cells::TabWidth;
use snarvel_core::text::indent::IndentUnit;
use snarvel_core::units::{Line, Span};
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_core::verbs::lines::steps;
use snarvel_core::verbs::scene::counted;
use snarvel_files::load::Loaded;
use snarvel_files::loading::Opened;
use snarvel_files::stamp::Stamp;
use snarvel_task::waits;
use std::path::Path;

impl Workspace {
    /// Opens the file again that was closed last.
    pub fn reopen_closed(&mut self) -> Effects {
        let is_open = |path: &Path| self.buffers.iter().any(|buffer| buffer.is_of(path));
        let closed = self.keeping.closed.iter().rev().map(|(path, _)| path).find(|path| !is_open(path)).cloned();
        match closed {
            None => Effects::saying("no file was closed since the start that is not open again"),
            Some(path) => {
                self.open(&path);
                Effects::saying(format!("opened {} again", self.active().name()))
            }
        }
    }

    /// Makes what the file holds the text, as a step.
    pub fn reload(&mut self) -> Effects {
        self.compare_with_file(Purpose::Take)
    }

    /// Shows what differs between the text and what the file holds.
    pub fn compare_with_disk(&mut self) -> Effects {
        self.compare_with_file(Purpose::Show)
    }

    /// Reads the file and compares it with the text, in the background.
    fn compare_with_file(&mut self, purpose: Purpose) -> Effects {
        let id = self.active().id;
        let Some(path) = self.active().path().map(Path::to_owned) else {
            return Effects::saying("this text has no file yet: Ctrl+S gives it one");
        };
        let (Some(moment), Some(own)) = (self.moment_of(id), self.own_forms(id)) else { return Effects::default() };
        let about = About::new("reading the file again").of(id).awaited(waits::COMPARED);
        let work = move || {
            let (other, found) = match Opened::read(&path) {
                Ok(Opened { loaded: Some(loaded), stamp: Some(stamp), .. }) => {
                    let other = Other::Disk(Box::new(loaded), stamp);
                    let found = other.compared(&own, purpose);
                    (other, found)
                }
                Ok(_) => (Other::Unreadable(format!("{} is not on the disk", path.display())), Found::default()),
                Err(error) => (Other::Unreadable(error.to_string()), Found::default()),
            };
            Box::new(Compared { other, purpose, moment, found })
        };
        let _ = self.tasks.start(about, Payload::Compared, |sink| {
            snarvel_task::spawn(sink, move |context| context.send(work())).detached()
        });
        Effects::default()
    }

    /// What holds from now on where texts and `.editorconfig` say nothing, for what is open too.
    pub fn take_defaults(&mut self, defaults: EditorDefaults) {
        self.project.defaults = defaults;
        self.buffers.iter_mut().filter(|buffer| !buffer.is_partial()).for_each(|buffer| buffer.take_defaults(defaults));
    }

    /// The text is in another language from now on, whatever its name says.
    pub fn set_language_of_file(&mut self, values: &Values) -> Effects {
        let Some(name) = values.text(0) else { return Effects::default() };
        let Some(language) = languages::by_name(name) else {
            let near = languages::all()
                .iter()
                .filter(|language| language.name.starts_with(name.chars().next().unwrap_or(' ')));
            let near: Vec<&str> = near.take(5).map(|language| language.name.as_str()).collect();
            return Effects::saying(format!("no language is called {name:?}: {}", near.join(", ")));
        };
        let title = language.title.clone();
        let id = self.active().id;
        let sink = self.parse_sink(id);
        self.active_mut().set_language_by_hand(&language, Some(sink));
        Effects::saying(format!("the text is {title} now"))
    }

    /// Tab stops are so many cells apart in this text.
    pub fn set_tab_width(&mut self, values: &Values) -> Effects {
        let Some(width) = values.number(0).and_then(|width| u32::try_from(width).ok()) else {
            return Effects::default();
        };
        self.active_mut().set_tabs(TabWidth(width));
        Effects::saying(format!("a tab is {} wide in this file", counted(width as usize, "cell")))
    }

    /// One step of indentation is this in the text, whose lines are put into such steps.
    pub fn set_indentation(&mut self, values: &Values) -> Effects {
        let unit = match values.text(0) {
            Some("tab") => Some(IndentUnit::Tab),
            Some(number) => number.parse().ok().filter(|count| (1..=16).contains(count)).map(IndentUnit::Spaces),
            None => None,
        };
        match unit {
            None => Effects::saying("indentation is tab, or a number of spaces from 1 to 16"),
            Some(_) if self.active().is_partial() => Effects::saying(STILL_LOADING),
            Some(unit) => {
                let active = self.active();
                let (id, now_ms, settings) = (active.id, self.now_ms, active.settings());
                let (change, count) =
                    steps::converted(active.text(), active.language(), settings.tabs, [settings.unit, unit]);
                if count > 0 {
                    self.commit_step(id, "indentation-of-file", change, now_ms);
                }
                self.active_mut().set_unit(unit);
                let told = match unit {
                    IndentUnit::Tab => "a tab".to_owned(),
                    IndentUnit::Spaces(count) => counted(count as usize, "space"),
                };
                let lines =
                    if count > 0 { format!("; {} put into such steps", counted(count, "line")) } else { String::new() };
                Effects::saying(format!("one step of indentation is {told} in this file{lines}"))
            }
        }
    }

    /// All line ends become of one kind, as a step.
    pub fn set_line_ends(&mut self, values: &Values) -> Effects {
        let wanted = match values.choice(0) {
            Some("crlf") => LineEnd::CrLf,
            _ => LineEnd::Lf,
        };
        if self.active().is_partial() {
            return Effects::saying(STILL_LOADING);
        }
        let text = self.active().text();
        let mut builder = ChangeBuilder::new(text);
        let mut count = 0;
        for line in (0..text.line_count()).map(Line) {
            let end = Span::new(text.content_span(line).end, text.line_span(line).end);
            if !end.is_empty() && text.slice(end) != wanted.as_str() {
                builder.replace(end, wanted.as_str());
                count += 1;
            }
        }
        let change = builder.finish();
        let (id, now_ms) = (self.active().id, self.now_ms);
        self.commit_step(id, "line-ends-of-file", change, now_ms);
        self.active_mut().set_line_end(wanted);
        let name = wanted.name();
        Effects::saying(match count {
            0 => format!("all line ends are {name} already"),
            _ => format!("made {} {name}", counted(count, "line end")),
        })
    }

    /// Says how much is selected, or how much the text is.
    pub fn count(&mut self) -> Effects {
        let view = self.view();
        let text = self.active().text();
        let spans: Vec<Span> = view.cursors().iter().filter(|each| !each.is_caret()).map(Selection::span).collect();
        let (what, spans) = if spans.is_empty() { ("in the file", vec![text.span()]) } else { ("selected", spans) };
        let (mut lines, mut words, mut characters, mut bytes) = (0, 0, 0, 0);
        for span in spans {
            let part = text.slice(span);
            lines += part.lines().count();
            words += part.split_whitespace().count();
            characters += part.chars().count();
            bytes += part.len();
        }
        let [lines, words, characters, bytes] =
            [(lines, "line"), (words, "word"), (characters, "character"), (bytes, "byte")]
                .map(|(count, name)| counted(count, name));
        Effects::saying(format!("{lines}, {words}, {characters}, {bytes} {what}"))
    }

    /// Copies the path of the file.
    pub fn copy_path(&mut self) -> Effects {
        match self.active().path().map(|path| path.display().to_string()) {
            None => Effects::saying("this text has no file yet: Ctrl+S gives it one"),
            Some(path) => {
                let message = Some(format!("copied {path}"));
                Effects { message, clip: Some(Clip::of_text(&path)), ..Effects::default() }
            }
        }
    }

    /// The file holds what is shown as different, or the same.
    pub(crate) fn tell_differences(&mut self, id: BufferId, found: Found, (loaded, stamp): (Loaded, Stamp)) {
        let Some(buffer) = self.buffer_mut(id) else { return };
        let name = buffer.name();
        if found.rows.is_empty() {
            self.say(format!("{name} holds the same on the disk"));
            return;
        }
        buffer.saved.status = Some(DiskStatus::Changed(Box::new(loaded), stamp));
        self.ask_about_disk(id, format!("{name}: − is yours, + what the file holds"), found.rows);
    }
}
