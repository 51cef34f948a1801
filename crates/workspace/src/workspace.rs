//! The workspace: the buffers, the views of them, the project, and what happens to them. It knows no screen.
//!
//! What it has to say is in [`Workspace::told`]; what it wants to know is in there, too. What happens in the background arrives
//! at [`Workspace::take`], event by event.

use crate::ask::Ask;
use crate::buffer::parsing::Taken;
use crate::buffer::{Buffer, Origin};
use crate::editing::{self, EditCall, Effects};
use crate::event::{Event, Payload};
use crate::ids::{BufferId, ViewId};
use crate::listed::Listed;
use crate::notice::Notice;
use crate::project::Project;
use crate::state::convoy::Convoy;
use crate::state::echo::Echoing;
use crate::state::files::FileTasks;
use crate::state::filtering::Filtering;
use crate::state::groups::Groups;
use crate::state::keeping::Keeping;
use crate::state::meaning::Meaning;
use crate::state::offering::Offering;
use crate::state::pasts::PastFiles;
use crate::state::places::Places;
use crate::state::recipes::Recipes;
use crate::state::searches::SearchMemory;
use crate::state::shells::Shells;
use crate::state::side_by_side::SideBySide;
use crate::state::signs::Signs;
use crate::structure::structure;
use crate::tasks::{About, Tasks};
use crate::view::{Overlay, View};
use crate::views::Views;
use snarvel_core::text::Text;
use snarvel_core::verbs::clipboard::clip::Shelf;
use snarvel_files::load::{Encoding, Loaded};
use snarvel_syntax::background::Sink;
use snarvel_task::{Report, waits};
use std::collections::VecDeque;
use std::sync::{Arc, Mutex};
use std::time::Instant;

/// What the workspace has to say and to ask.
#[derive(Debug, Default)]
pub struct Told {
    /// What happened last, or why something did not.
    pub message: Option<String>,
    /// What it wants to know, in order.
    pub asks: VecDeque<Ask>,
    /// What panels may want to know.
    pub notices: Vec<Notice>,
    /// Whether a question is open already: nothing ends meanwhile.
    pub is_asking: bool,
    /// Whether the program is to end.
    pub is_done: bool,
}

/// The workspace.
#[derive(Debug)]
pub struct Workspace {
    /// The folder and what holds in it.
    pub project: Project,
    /// What goes on in the background.
    pub tasks: Tasks,
    /// What was copied lately.
    pub shelf: Shelf,
    /// What was looked for before.
    pub searches: SearchMemory,
    /// What there is to say and to ask.
    pub told: Told,
    /// Now, in milliseconds of a clock that does not go back.
    pub now_ms: u64,
    /// The views.
    pub views: Views,
    pub(crate) buffers: Listed<Buffer>,
    pub(crate) keeping: Keeping,
    pub(crate) files: FileTasks,
    pub(crate) places: Places,
    pub(crate) past: Past,
}

/// What was done.
#[derive(Debug, Default)]
pub(crate) struct Past {
    /// Transactions.
    pub(crate) groups: Groups,
    /// What can be played again.
    pub(crate) recipes: Recipes,
    /// What text goes through.
    pub(crate) filtering: Filtering,
    /// Signs that were put in.
    pub(crate) signs: Signs,
    /// What is offered at the caret.
    pub(crate) offering: Offering,
    /// What is known of what texts mean.
    pub(crate) meaning: Meaning,
    /// Texts whose cursors act together.
    pub(crate) convoy: Convoy,
    /// The view in which something is rehearsed, and the text as it would be.
    pub(crate) rehearsed: Option<(ViewId, Text)>,
    /// Edits by hand that may be alike.
    pub(crate) echo: Echoing,
    /// Programs that run in terminals of their own.
    pub(crate) shells: Shells,
    /// The past of files over restarts.
    pub(crate) files: PastFiles,
    /// Views that are looked at together.
    pub(crate) side_by_side: SideBySide,
}

impl Workspace {
    /// In `project`, with one empty text.
    #[must_use]
    pub fn new(project: Project) -> Workspace {
        let mut tasks = Tasks::default();
        let mut first = Buffer::new(nothing(), Origin::None, project.defaults, None);
        let view = View::of(&mut first);
        first.set_language(&first.language().clone(), Some(parse_sink(&mut tasks, first.id)));
        Workspace {
            project,
            tasks,
            shelf: Shelf::default(),
            searches: SearchMemory::default(),
            told: Told::default(),
            now_ms: 0,
            views: Views::of(view),
            buffers: Listed::of(first),
            keeping: Keeping::default(),
            files: FileTasks::default(),
            places: Places::default(),
            past: Past::default(),
        }
    }

    /// Says something in the status line.
    pub fn say(&mut self, message: impl Into<String>) {
        self.told.message = Some(message.into());
    }

    /// The buffers, in the order of the tab bar.
    #[must_use]
    pub fn buffers(&self) -> &[Buffer] {
        &self.buffers
    }

    /// The buffer known by `id`.
    #[must_use]
    pub fn buffer(&self, id: BufferId) -> Option<&Buffer> {
        self.buffers.known(id)
    }

    /// The buffer known by `id`.
    pub fn buffer_mut(&mut self, id: BufferId) -> Option<&mut Buffer> {
        self.buffers.known_mut(id)
    }

    /// The view with the keys.
    ///
    /// # Panics
    /// Never: there always is one.
    #[must_use]
    pub fn view(&self) -> &View {
        self.views.get(self.views.focus()).expect("the view with the keys is there")
    }

    /// The buffer in the view with the keys.
    ///
    /// # Panics
    /// Never: a view is of a buffer that is there.
    #[must_use]
    pub fn active(&self) -> &Buffer {
        self.buffer(self.view().buffer).expect("a view is of a buffer that is there")
    }

    /// The buffer in the view with the keys.
    pub fn active_mut(&mut self) -> &mut Buffer {
        self.pair_mut(self.views.focus()).0
    }

    /// Where the active buffer is in the tab bar.
    #[must_use]
    pub fn active_index(&self) -> usize {
        self.buffers.position(self.view().buffer).unwrap_or(0)
    }

    /// A view and the buffer that it is of.
    ///
    /// # Panics
    /// If there is no such view.
    #[must_use]
    pub fn pair(&self, view: ViewId) -> (&Buffer, &View) {
        let view = self.views.get(view).expect("the view is there");
        (self.buffer(view.buffer).expect("a view is of a buffer that is there"), view)
    }

    /// A view and the buffer that it is of.
    ///
    /// # Panics
    /// If there is no such view.
    pub fn pair_mut(&mut self, view: ViewId) -> (&mut Buffer, &mut View) {
        let view = self.views.get_mut(view).expect("the view is there");
        let buffer = self.buffers.known_mut(view.buffer);
        (buffer.expect("a view is of a buffer that is there"), view)
    }

    /// The view with the keys and its buffer.
    pub fn active_pair_mut(&mut self) -> (&mut Buffer, &mut View) {
        self.pair_mut(self.views.focus())
    }

    /// What is drawn in `view`: its buffer and itself, or what is shown in their place.
    #[must_use]
    pub fn shown(&self, view: ViewId) -> (&Buffer, &View) {
        let mut shown = self.pair(view);
        while let Some(preview) = &shown.1.preview {
            shown = (&preview.buffer, &preview.view);
        }
        shown
    }

    /// What lies over the text that is drawn in `view`; none where that is its own.
    #[must_use]
    pub fn overlay(&self, view: ViewId) -> Option<&Overlay> {
        let mut last = self.views.get(view)?.preview.as_ref()?;
        while let Some(preview) = &last.view.preview {
            last = preview;
        }
        Some(&last.overlay)
    }

    /// What is drawn in the view with the keys.
    #[must_use]
    pub fn shown_here(&self) -> (&Buffer, &View) {
        self.shown(self.views.focus())
    }

    /// Where a parser of the text of `buffer` reports to.
    pub fn parse_sink(&mut self, buffer: BufferId) -> Sink {
        parse_sink(&mut self.tasks, buffer)
    }

    /// A buffer of `loaded`, with a parser, that is not among the others yet.
    pub fn make_buffer(&mut self, loaded: Loaded, origin: Origin) -> Buffer {
        let mut buffer = Buffer::new(loaded, origin, self.project.defaults, None);
        let sink = self.parse_sink(buffer.id);
        buffer.set_language(&buffer.language().clone(), Some(sink));
        buffer
    }

    /// Shows `buffer` in the view with the keys, in the place of an empty text without a file, and after the active one in the
    /// tab bar.
    pub fn show_buffer(&mut self, mut buffer: Buffer) -> BufferId {
        let id = buffer.id;
        let spare = self.active();
        let is_spare = spare.origin == Origin::None && spare.text().is_empty() && !spare.is_unsaved();
        let spare = (is_spare && buffer.origin != Origin::None).then_some(spare.id);
        let at = self.active_index() + 1;
        let view = self.views.add(View::of(&mut buffer));
        self.buffers.insert(at, buffer);
        self.views.show(view);
        spare.into_iter().for_each(|spare| self.drop_buffer(spare));
        id
    }

    /// Shows the buffer known by `id` in the view with the keys.
    pub fn show(&mut self, id: BufferId) {
        let any = self.views.iter().find(|view| view.buffer == id).map(|view| view.id);
        if let Some(view) = self.views.for_buffer(id) {
            self.views.show(view);
        } else if let Some(shown) = any {
            // It is shown elsewhere on the screen: here it gets a view of its own.
            let (buffer, view) = self.pair_mut(shown);
            let twin = view.twin(buffer);
            let twin = self.views.add(twin);
            self.views.show(twin);
        }
    }

    /// Begins an empty text.
    pub fn new_text(&mut self) -> BufferId {
        let buffer = self.make_buffer(nothing(), Origin::None);
        let id = self.show_buffer(buffer);
        self.begin_journal(id);
        id
    }

    /// Takes a buffer away, with all that was kept for it.
    pub(crate) fn drop_buffer(&mut self, id: BufferId) {
        let Some(index) = self.buffers.iter().position(|buffer| buffer.id == id) else { return };
        self.end_journal(id);
        if self.buffers.len() == 1 {
            let mut empty = self.make_buffer(nothing(), Origin::None);
            let (view, new) = (View::of(&mut empty), empty.id);
            self.views.add(view);
            self.buffers.push(empty);
            self.begin_journal(new);
        }
        let is_shown =
            self.views.shown().iter().any(|view| self.views.get(*view).is_some_and(|view| view.buffer == id));
        let others = self.buffers[index + 1..].iter().chain(self.buffers[..index].iter().rev());
        let hidden = others.map(|buffer| buffer.id).find_map(|other| self.views.hidden_of(other));
        self.views.remove_of(id, hidden.filter(|_| is_shown));
        self.buffers.remove(index);
    }

    /// Runs an edit in the view with the keys, and in the other texts of its convoy.
    pub fn run_edit(&mut self, call: &EditCall, need: StructureWait) -> Effects {
        match self.convoy().map(<[_]>::to_vec) {
            None if self.convoy_arriving() > 0 && self.is_in_convoy(self.active().id) => self.refused_while_arriving(),
            Some(members) => self.run_in_convoy(&members, (call, need)),
            None => self.run_in_view(self.views.focus(), call, need),
        }
    }

    /// Runs an edit in a view.
    ///
    /// # Panics
    /// If there is no such view.
    pub(crate) fn run_in_view(&mut self, id: ViewId, call: &EditCall, need: StructureWait) -> Effects {
        let forgotten = self.active().history().forgotten();
        let (tasks, views, buffers) = (&mut self.tasks, &mut self.views, &mut self.buffers);
        let view = views.get_mut(id).expect("the view is there");
        let buffer = buffers.known_mut(view.buffer);
        let buffer = buffer.expect("a view is of a buffer that is there");
        let until = Instant::now() + waits::STRUCTURE;
        let mut was_missing = false;
        let mut take = |buffer: &mut Buffer, view: &View| match need {
            StructureWait::None => Taken::NotYet,
            StructureWait::Short => {
                let taken = structure(tasks, buffer, view, until.saturating_duration_since(Instant::now()));
                was_missing |= matches!(taken, Taken::NotYet);
                taken
            }
        };
        let mut effects = editing::run((buffer, view), call, &mut take);
        let is_told = effects.message.as_ref().is_some_and(|message| message.contains("structure"));
        if was_missing && !is_told {
            let said = effects.message.take().map(|message| message + ": ").unwrap_or_default();
            effects.message =
                Some(format!("{said}the structure of the text is not known yet, so this went by brackets and lines"));
        }
        if need == StructureWait::Short {
            let id = self.active().id;
            self.told.notices.push(Notice::Parsed(id));
        }
        self.finish_step(forgotten);
        effects
    }

    /// Says that the history is full, where it has just become so, and lets everything that follows texts read their changes.
    pub(crate) fn finish_step(&mut self, forgotten: usize) {
        if forgotten == 0 && self.active().history().forgotten() > 0 {
            self.say("the history is full: its oldest steps are forgotten (history_mb in the settings)");
        }
    }

    /// Lets everything that follows the texts take in what was changed: other views and journals. To be called after every command
    /// and event.
    pub fn settle(&mut self) {
        self.settle_convoy();
        self.note_shown();
        self.keep_compared();
        for view in self.views.iter_mut() {
            if let Some(buffer) = self.buffers.known_mut(view.buffer) {
                view.catch_up(buffer);
                view.end_left_templates(buffer);
            }
        }
        self.note_changes();
        self.note_use();
        self.follow_kinds();
        self.buffers.iter_mut().for_each(Buffer::trim_feed);
    }

    /// Waits until the structure of the active text is known, or it is clear that it will not be: for scripts and tests, which do
    /// what a person does who has seen the colours.
    pub fn settle_structure(&mut self) {
        let id = self.views.focus();
        let (tasks, views, buffers) = (&mut self.tasks, &mut self.views, &mut self.buffers);
        let Some(view) = views.get_mut(id) else { return };
        let Some(buffer) = buffers.iter_mut().find(|buffer| buffer.id == view.buffer) else { return };
        let _ = structure(tasks, buffer, view, 2 * waits::PARSE_LIMIT);
        self.told.notices.push(Notice::Parsed(buffer.id));
    }

    /// Takes in an event; gives it back where it is not for the workspace.
    pub fn take(&mut self, event: Event) -> Option<Event> {
        let Event { source, payload } = event;
        let is_stale =
            |revision| source.buffer.and_then(|id| self.buffer(id)).is_none_or(|buffer| buffer.revision() != revision);
        if source.revision.is_some_and(is_stale) {
            return None;
        }
        match (payload, source.buffer) {
            (Payload::Parsed(parsed), Some(id)) => {
                let Some(buffer) = self.buffer_mut(id) else {
                    return Some(Event { payload: Payload::Parsed(parsed), source });
                };
                buffer.take_parsed(parsed);
                self.ask_with_structure(id);
                self.told.notices.push(Notice::Parsed(id));
            }
            (Payload::Offered(answer), _) => self.take_answer(answer),
            (Payload::Server(news), _) => self.take_server_news(news.0, news.1),
            (Payload::ViewsCompared(compared), _) => self.take_views_compared(*compared),
            (Payload::Past(news), _) => self.take_past(*news),
            (Payload::Shell(news), _) => self.take_shell_news(news.0, news.1),
            (Payload::Placed(placed), _) => self.take_placed(*placed),
            (Payload::ServersFor(candidates), Some(id)) => self.take_candidates(id, candidates),
            (Payload::Echoed(echoed), _) => self.take_echoed(*echoed),
            (Payload::Names(news), _) => self.take_names(news),
            (Payload::Used(news), _) => self.take_used(source.task, news),
            (Payload::Edits(ready), _) => self.take_ready(source.task, ready),
            (Payload::Formatted(formatted), _) => self.take_formatted(*formatted),
            (Payload::Renamed(edits), _) => self.take_renamed(source.task, edits),
            (Payload::Loading(step), Some(id)) if self.buffer(id).is_some() => self.take_load(id, step),
            (Payload::Saved(saved), Some(id)) => self.take_saved(id, saved),
            (Payload::Disk(news), _) => self.take_disk_news(news),
            (Payload::Bookmarks(all), _) => self.take_bookmarks(all),
            (Payload::Compared(compared), Some(id)) => self.take_compared(id, *compared),
            (Payload::Journals(news), _) => self.take_journals(news),
            (Payload::Replaced(outcome), _) => self.take_replaced(outcome),
            (Payload::Filtered(result), _) => self.take_filtered(result),
            (Payload::Operated(result), _) => self.take_operated(result),
            (Payload::Recipes(book), _) => {
                self.take_recipes(book);
                self.told.notices.push(Notice::Recipes);
            }
            (Payload::Panicked(message), buffer) => {
                self.take_panic(&source, buffer, &message);
                return Some(Event { payload: Payload::Ended, source });
            }
            (Payload::Ended, buffer) => {
                self.take_end(&source, buffer);
                return Some(Event { payload: Payload::Ended, source });
            }
            (payload, _) => return Some(Event { source, payload }),
        }
        None
    }

    /// A task has panicked: it is told, its work is given up, all else goes on.
    fn take_panic(&mut self, source: &crate::event::Source, buffer: Option<BufferId>, message: &str) {
        let what = if source.label.is_empty() { "something in the background" } else { source.label };
        self.say(format!("{what} broke off: {message}; everything else goes on"));
        if let Some(buffer) = buffer.and_then(|id| self.buffer_mut(id)) {
            buffer.parsing.fail();
        }
        self.take_end(source, buffer);
    }

    /// Asks a person something, once.
    pub(crate) fn ask(&mut self, ask: Ask) {
        self.told.asks.push_back(ask);
    }
}

/// Whether a command waits for the structure of the text.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum StructureWait {
    /// It needs none.
    None,
    /// It waits for it a moment, once.
    Short,
}

/// A loaded text that is empty.
fn nothing() -> Loaded {
    Loaded { text: Text::default(), encoding: Encoding::default(), read_only: false }
}

fn parse_sink(tasks: &mut Tasks, buffer: BufferId) -> Sink {
    let sink = Mutex::new(tasks.worker_sink(About::new("the parser").of(buffer), Payload::Parsed));
    Arc::new(move |report: Report<_>| {
        // The lock is poisoned only where the sink itself has panicked: it is asked again all the same.
        let sink = sink.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        sink(report);
    })
}
