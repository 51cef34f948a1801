//! A view: one look at a buffer, with cursors, folds and scrolling of its own.
//!
//! A view reads the feed of its buffer: what another view has changed moves its cursors. Costs: linear in the cursors and the
//! edits that it catches up with.

mod arriving;
pub mod remembered;
pub mod scrolling;
pub mod stops;

use crate::arrival::Arrival;
use crate::buffer::defaults::VIEW_LINES;
use crate::buffer::{Buffer, FOLDS};
use crate::ids::{BufferId, ViewId};
use remembered::{Left, RememberedSets};
use snarvel_core::changes::feed::Since;
use snarvel_core::changes::{Bias, Change, ChangeBuilder};
use snarvel_core::cursors::CursorSet;
use snarvel_core::folds::Folds;
use snarvel_core::spans::{Owner, Policy};
use snarvel_core::structure::{Known, Remembering};
use snarvel_core::templates::session::Stops;
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Cell, Direction, Line, Span};
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_core::verbs::scene::{Memory, Remembered, Scene, TextSettings};
use std::sync::Arc;
use stops::TemplateStops;

/// The part of a text that is in view.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Scroll {
    /// The first line.
    pub top: Line,
    /// The line, and how many bytes of it are above, where it is wrapped and begins above. It counts for that line only.
    pub within: (Line, usize),
    /// The first column.
    pub left: Cell,
}

/// How much room there is for a view, and whether its lines are wrapped.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct ViewLayout {
    /// Rows.
    pub rows: usize,
    /// Columns for the text; 0 as long as nothing is drawn: then nothing is wrapped.
    pub cols: u32,
    /// Whether its lines are wrapped, where the person has said so for this view.
    pub wraps: Option<bool>,
}

impl Default for ViewLayout {
    fn default() -> ViewLayout {
        ViewLayout { rows: VIEW_LINES, cols: 0, wraps: None }
    }
}

/// How much of a screen a view has, in cells.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Room {
    /// Columns.
    pub cols: u16,
    /// Rows.
    pub rows: u16,
}

/// What lies over a text that is looked at: what a replacement would take away and bring.
#[derive(Debug, Default)]
pub struct Overlay {
    /// What would go, in order.
    pub gone: Vec<Span>,
    /// What would come, in order.
    pub come: Vec<Span>,
}

impl Overlay {
    /// Of what `change` would make of `text`: the change that puts what would come after what would go, and where both are then.
    #[must_use]
    pub fn of_both(text: &Text, change: &Change) -> (Change, Overlay) {
        let mut builder = ChangeBuilder::new(text);
        let mut overlay = Overlay::default();
        let mut grown = 0;
        for edit in change.edits() {
            let with = change.inserted(edit);
            builder.insert(edit.end(), with);
            let end = edit.end() + grown;
            overlay.gone.push(Span::new(edit.start() + grown, end));
            overlay.come.push(Span::new(end, end + with.len()));
            grown += with.len();
        }
        (builder.finish(), overlay)
    }
}

/// Another text that is shown in the place of a view's own, until it is taken away: an older state, what a replacement would make
/// of the text, another file.
#[derive(Debug)]
pub struct Preview {
    /// The text.
    pub buffer: Buffer,
    /// Where it is looked at.
    pub view: View,
    /// What lies over it.
    pub overlay: Overlay,
}

impl Preview {
    /// Of `buffer`, with a view of its own, at its start.
    #[must_use]
    pub fn of(mut buffer: Buffer) -> Preview {
        let view = View::of(&mut buffer);
        Preview { buffer, view, overlay: Overlay::default() }
    }

    /// Of `buffer`, a copy of the text that `view` is of or what becomes of it: looked at where `view` is.
    #[must_use]
    pub fn like(view: &View, mut buffer: Buffer) -> Preview {
        let mut twin = View::of(&mut buffer);
        let end = buffer.text().end();
        let spans: Vec<Span> =
            view.cursors.iter().map(|each| Span::new(each.start().min(end), each.end().min(end))).collect();
        (twin.scroll, twin.layout) = (view.scroll, view.layout);
        twin.cursors = Arc::new(view.cursors.placed(&spans).snapped(buffer.text()));
        let folds = Folds::of(buffer.spans.get(view.folds_owner()).to_vec());
        twin.set_folds(&mut buffer, &folds);
        Preview { buffer, view: twin, overlay: Overlay::default() }
    }
}

/// What was last brought into view, and the room there was: only when one of them is another is the view moved, so that
/// scrolling away is not undone.
type Followed = ((Byte, u64), Room);

/// A view of a buffer.
#[derive(Debug)]
pub struct View {
    /// What it is known by.
    pub id: ViewId,
    /// What it shows.
    pub buffer: BufferId,
    /// What of it is in view.
    pub scroll: Scroll,
    /// How much room there is for it, and whether its lines are wrapped.
    pub layout: ViewLayout,
    /// What is shown in its place.
    pub preview: Option<Box<Preview>>,
    /// Where the caret goes once all of the text is there.
    pub(crate) go_when_loaded: Option<Arrival>,
    /// What its verbs left for the next one.
    pub(crate) memory: Memory,
    pub(crate) remembered: RememberedSets,
    cursors: Arc<CursorSet>,
    folds: Folds,
    /// The revision of the buffer that this is up to date with.
    revision: u64,
    followed: Option<Followed>,
}

/// The kind of the place of the first line in view.
const TOP: &str = "top";

impl View {
    /// Of `buffer`, a caret at its start.
    #[must_use]
    pub fn of(buffer: &mut Buffer) -> View {
        View {
            id: ViewId::fresh(),
            buffer: buffer.id,
            scroll: Scroll::default(),
            layout: ViewLayout::default(),
            preview: None,
            go_when_loaded: None,
            memory: Memory::default(),
            remembered: RememberedSets::default(),
            cursors: Arc::new(CursorSet::caret(Byte(0))),
            folds: Folds::default(),
            revision: buffer.revision(),
            followed: None,
        }
    }

    /// This view as it is, of a twin of its buffer, with all that it remembers.
    pub(crate) fn same(&self, twin: &Buffer) -> View {
        View {
            preview: None,
            go_when_loaded: None,
            memory: self.memory.clone(),
            remembered: self.remembered.clone(),
            cursors: self.cursors.clone(),
            folds: self.folds.clone(),
            revision: twin.revision(),
            ..*self
        }
    }

    /// One more view of the same, where this one is.
    #[must_use]
    pub fn twin(&self, buffer: &mut Buffer) -> View {
        let mut twin = View::of(buffer);
        (twin.scroll, twin.cursors) = (self.scroll, self.cursors.clone());
        twin.set_folds(buffer, &self.folds);
        twin
    }

    /// The cursors.
    #[must_use]
    pub fn cursors(&self) -> &CursorSet {
        &self.cursors
    }

    /// The cursors, shared.
    #[must_use]
    pub(crate) fn shared_cursors(&self) -> Arc<CursorSet> {
        self.cursors.clone()
    }

    /// What is not shown.
    #[must_use]
    pub fn folds(&self) -> &Folds {
        &self.folds
    }

    /// The spans of the pins, in the order of the text.
    #[must_use]
    pub fn pins<'a>(&self, buffer: &'a Buffer) -> &'a [Span] {
        RememberedSets::pin_spans(self.id, buffer)
    }

    /// Sets `pins` aside in place of those that there are.
    pub fn set_pins(&mut self, buffer: &mut Buffer, pins: Option<CursorSet>) {
        self.remembered.set_pins(self.id, buffer, pins);
    }

    /// Drops the pins; they can be recalled until other pins are set or cursors are dropped.
    pub(crate) fn drop_pins(&mut self, buffer: &mut Buffer) {
        self.remembered.drop_pins(self.id, buffer);
    }

    /// Puts the cursors elsewhere, as a step of going about.
    ///
    /// # Panics
    /// In debug builds, if a cursor is outside the text or inside a cluster.
    pub fn set_cursors(&mut self, buffer: &mut Buffer, cursors: CursorSet) {
        buffer.history_mut().close_step();
        self.memory.needs_confirmation = None;
        self.memory.kept_lines = None;
        RememberedSets::forget_pairs(self.id, buffer);
        let before = self.cursors.clone();
        if *before != cursors {
            self.remembered.remember(self.id, buffer, (&before, Left::ByAct));
        }
        if before.len() > 1 && cursors.len() == 1 {
            self.remembered.set_dropped(self.id, buffer, (*before).clone());
        }
        self.place_cursors(buffer, Arc::new(cursors));
        self.check(buffer);
    }

    /// The stops of the templates that are being filled in.
    #[must_use]
    pub fn stops(&self) -> &TemplateStops {
        &self.remembered.stops
    }

    /// A template was put in: the cursors go to its first stop.
    pub(crate) fn begin_template(&mut self, buffer: &mut Buffer, stops: Stops) {
        let primary = self.cursors.primary().head;
        let cursors = self.remembered.stops.begin((self.id, buffer), stops, primary);
        self.place_cursors(buffer, Arc::new(cursors));
    }

    /// Goes to the next stop of a template, or the one before; false where none is being filled in.
    pub fn step_stop(&mut self, buffer: &mut Buffer, direction: Direction) -> bool {
        let primary = self.cursors.primary().head;
        let Some(cursors) = self.remembered.stops.step((self.id, buffer), direction, primary) else { return false };
        buffer.history_mut().close_step();
        RememberedSets::forget_pairs(self.id, buffer);
        self.memory = Memory::default();
        self.place_cursors(buffer, Arc::new(cursors));
        self.check(buffer);
        true
    }

    /// Ends templates whose lines the primary cursor has left.
    pub(crate) fn end_left_templates(&mut self, buffer: &mut Buffer) {
        if self.remembered.stops.is_open() {
            let primary = self.cursors.primary().head;
            self.remembered.stops.end_where_left((self.id, buffer), primary);
        }
    }

    /// What earlier verbs left for the next one counts no more.
    pub(crate) fn forget_verbs(&mut self) {
        self.memory = Memory::default();
    }

    /// Puts the cursors elsewhere without remembering that. A fold in which one would be hidden opens.
    pub(crate) fn place_cursors(&mut self, buffer: &mut Buffer, cursors: Arc<CursorSet>) {
        self.cursors = cursors;
        self.revision = buffer.revision();
        self.take_folds(buffer);
    }

    /// Folds otherwise; what a cursor is in is not folded.
    pub fn set_folds(&mut self, buffer: &mut Buffer, folds: &Folds) {
        buffer.spans.set(self.folds_owner(), Folds::POLICY, folds.list().to_vec());
        self.take_folds(buffer);
    }

    /// Opens the fold under `line`; whether there was one.
    pub fn open_fold(&mut self, buffer: &mut Buffer, line: Line) -> bool {
        let under = self.folds.under(buffer.text(), line);
        if let Some(span) = under {
            let folds = self.folds.retaining(|other| other != span);
            self.set_folds(buffer, &folds);
        }
        under.is_some()
    }

    fn folds_owner(&self) -> Owner {
        Owner::of_view(FOLDS, self.id.number())
    }

    /// Takes the folds as they moved with the text, and opens those in which a cursor is.
    fn take_folds(&mut self, buffer: &mut Buffer) {
        let owner = self.folds_owner();
        let spans = buffer.spans.get(owner);
        if spans.is_empty() && self.folds.is_empty() {
            return;
        }
        let mut folds = Folds::of(spans.to_vec());
        folds.reveal(&self.cursors);
        if folds.list() != spans {
            buffer.spans.set(owner, Folds::POLICY, folds.list().to_vec());
        }
        self.folds = folds;
    }

    /// Takes in what others have changed.
    pub fn catch_up(&mut self, buffer: &mut Buffer) {
        if self.revision == buffer.revision() {
            return;
        }
        let cursors = match buffer.feed().since(self.revision) {
            Since::Changes(entries) => {
                let moved = |set: CursorSet, change: &_| set.mapped(change, Bias::Before);
                entries
                    .iter()
                    .fold((*self.cursors).clone(), |set, entry| moved(set, &entry.change))
                    .snapped(buffer.text())
            }
            Since::Lost => {
                let end = buffer.text().end();
                let spans: Vec<Span> =
                    self.cursors.iter().map(|each| Span::new(each.start().min(end), each.end().min(end))).collect();
                self.cursors.placed(&spans).snapped(buffer.text())
            }
        };
        let top = buffer.spans.get(self.top_owner()).first().map(|top| buffer.text().line_of(top.start));
        self.scroll.top = top.unwrap_or(self.scroll.top).min(buffer.text().last_line());
        self.memory = Memory::default();
        self.remembered.part_moves();
        self.place_cursors(buffer, Arc::new(cursors));
        self.followed = self.followed.map(|((_, _), room)| ((self.cursors.primary().head, buffer.revision()), room));
        self.check(buffer);
    }

    fn top_owner(&self) -> Owner {
        Owner::of_view(TOP, self.id.number())
    }

    /// Keeps the first line in view where it is, whatever is edited above it in another view.
    pub fn hold_top(&self, buffer: &mut Buffer) {
        let top = self.scroll.top.min(buffer.text().last_line());
        let place = Span::at(buffer.text().line_start(top));
        buffer.spans.set(self.top_owner(), Policy { start: Bias::Before, ..Policy::PLACES }, vec![place]);
    }

    /// Lets go of everything that the buffer keeps for this view.
    pub fn close(&self, buffer: &mut Buffer) {
        let number = self.id.number();
        buffer.spans.remove_where(|owner| owner.view == number);
    }

    /// How the text is laid out, and how much of it this view shows.
    #[must_use]
    pub fn settings(&self, buffer: &Buffer) -> TextSettings {
        TextSettings { view_lines: self.layout.rows.max(1), wrap: self.wrap_width(buffer), ..*buffer.settings() }
    }

    /// What verbs are given, but for what was copied: `look` makes something of it.
    pub fn with_scene<T>(&self, buffer: &Buffer, look: impl FnOnce(&Scene) -> T) -> T {
        let taken = buffer.parsing.structure(Span::at(self.cursors.primary().head), buffer.revision());
        self.with_scene_of(buffer, (&Clip::default(), taken.known(), 1), look)
    }

    /// The same with what was copied and with what is known of the structure.
    #[must_use]
    pub fn with_scene_of<T>(
        &self,
        buffer: &Buffer,
        (clip, structure, reach): (&Clip, Known, usize),
        look: impl FnOnce(&Scene) -> T,
    ) -> T {
        let bookmarks = buffer.bookmarks();
        // Cursors ask in order.
        let remembering = structure.structure().map(Remembering::new);
        let structure = remembering.as_ref().map_or(structure, |structure| Known::Parsed(structure));
        look(&Scene {
            text: buffer.text(),
            cursors: &self.cursors,
            syntax: &buffer.parsing.kinds(buffer.text()),
            structure,
            folds: &self.folds,
            bookmarks: &bookmarks,
            language: buffer.language(),
            settings: &self.settings(buffer),
            clip,
            memory: &self.memory,
            remembered: Remembered {
                pins: &|| self.remembered.pins(self.id, buffer),
                pairs: RememberedSets::pairs(self.id, buffer),
                dropped_pins: &|| self.remembered.dropped_pins(self.id, buffer),
                dropped_cursors: &|| self.remembered.dropped(self.id, buffer),
                changed_lines: &|| buffer.saved.diff.changed_lines(buffer.text()),
            },
            reach,
        })
    }

    fn check(&self, buffer: &Buffer) {
        if cfg!(debug_assertions) {
            self.assert_invariants(buffer);
        }
    }

    /// Checks what always holds.
    ///
    /// # Panics
    /// If the cursors, the folds or the history have lost one of their invariants.
    pub fn assert_invariants(&self, buffer: &Buffer) {
        self.cursors.assert_invariants(buffer.text());
        self.folds.assert_invariants(buffer.text(), &self.cursors);
        buffer.history().assert_invariants();
    }
}
