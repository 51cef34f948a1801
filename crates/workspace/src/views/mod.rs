//! The views of a workspace: which there are, which are shown, which one takes the keys.

pub mod split;

use crate::ids::{BufferId, ViewId};
use crate::listed::Listed;
use crate::view::View;
use split::{Side, Split};

/// The most views side by side or one above the other.
pub const MOST_SHOWN: usize = 4;

/// All views. At least one is shown, and one of those takes the keys.
#[derive(Debug)]
pub struct Views {
    all: Listed<View>,
    split: Split,
    focus: ViewId,
}

impl Views {
    /// One view, which is shown and takes the keys.
    #[must_use]
    pub fn of(view: View) -> Views {
        Views { split: Split::One(view.id), focus: view.id, all: Listed::of(view) }
    }

    /// How the shown views share the screen.
    #[must_use]
    pub fn split(&self) -> &Split {
        &self.split
    }

    /// The view that takes the keys.
    #[must_use]
    pub fn focus(&self) -> ViewId {
        self.focus
    }

    /// The views that are shown, from the left and from the top.
    #[must_use]
    pub fn shown(&self) -> Vec<ViewId> {
        self.split.views()
    }

    /// Whether `view` is shown.
    #[must_use]
    pub fn is_shown(&self, view: ViewId) -> bool {
        self.shown().contains(&view)
    }

    /// The view known by `id`.
    #[must_use]
    pub fn get(&self, id: ViewId) -> Option<&View> {
        self.all.known(id)
    }

    /// The view known by `id`.
    pub fn get_mut(&mut self, id: ViewId) -> Option<&mut View> {
        self.all.known_mut(id)
    }

    /// All of them.
    pub fn iter(&self) -> impl Iterator<Item = &View> {
        self.all.iter()
    }

    /// All of them.
    pub fn iter_mut(&mut self) -> impl Iterator<Item = &mut View> {
        self.all.iter_mut()
    }

    /// Adds a view that is not shown.
    pub fn add(&mut self, view: View) -> ViewId {
        let id = view.id;
        self.all.push(view);
        id
    }

    /// The view of `buffer` that goes into the place of the one with the keys: that one itself, else one that is not shown.
    #[must_use]
    pub fn for_buffer(&self, buffer: BufferId) -> Option<ViewId> {
        let of_it = |view: &&View| view.buffer == buffer;
        let here = self.get(self.focus).filter(of_it);
        here.or_else(|| self.all.iter().filter(of_it).find(|view| !self.is_shown(view.id))).map(|view| view.id)
    }

    /// Shows `view` in the place of the one with the keys, which it takes over.
    pub fn show(&mut self, view: ViewId) {
        let focus = self.focus;
        if !self.is_shown(view) {
            self.split.replace(&|each| if each == focus { view } else { each });
        }
        self.focus = view;
    }

    /// Shows `view` beside or below the one with the keys, which it takes over.
    pub fn show_at(&mut self, view: ViewId, side: Side) {
        self.split.divide(self.focus, view, side);
        self.focus = view;
    }

    /// Lets `view`, which is shown, take the keys.
    pub fn focus_on(&mut self, view: ViewId) {
        if self.is_shown(view) {
            self.focus = view;
        }
    }

    /// The shown view after the one with the keys, round the screen.
    #[must_use]
    pub fn next(&self) -> ViewId {
        let shown = self.shown();
        let here = shown.iter().position(|view| *view == self.focus).unwrap_or(0);
        shown[(here + 1) % shown.len()]
    }

    /// Lets the view with the keys and the next one change places.
    pub fn swap(&mut self) {
        let (here, next) = (self.focus, self.next());
        self.split.replace(&|view| match view {
            view if view == here => next,
            view if view == next => here,
            view => view,
        });
    }

    /// No longer shows the view with the keys; the next one takes them. The last one stays. Whether one went.
    pub fn hide(&mut self) -> bool {
        let (here, next) = (self.focus, self.next());
        self.split.remove(here);
        self.focus = next;
        here != next
    }

    /// Takes `view`, which is not shown, away.
    pub fn remove(&mut self, view: ViewId) {
        let is_shown = self.is_shown(view);
        self.all.retain(|each| each.id != view || is_shown);
    }

    /// A view of `buffer` that is not shown.
    #[must_use]
    pub fn hidden_of(&self, buffer: BufferId) -> Option<ViewId> {
        self.all.iter().find(|view| view.buffer == buffer && !self.is_shown(view.id)).map(|view| view.id)
    }

    /// Takes all views of `buffer` away. One place that they had on the screen is taken by `other`, which is not shown; the
    /// others close.
    ///
    /// # Panics
    /// If nothing else is shown and there is no `other`.
    pub fn remove_of(&mut self, buffer: BufferId, mut other: Option<ViewId>) {
        let is_of = |views: &Views, view: ViewId| views.get(view).is_some_and(|each| each.buffer == buffer);
        for view in self.shown().into_iter().filter(|view| is_of(self, *view)).collect::<Vec<_>>() {
            match other.take() {
                Some(new) => {
                    self.split.replace(&|each| if each == view { new } else { each });
                    self.focus = if self.focus == view { new } else { self.focus };
                }
                None => self.split.remove(view),
            }
        }
        self.all.retain(|view| view.buffer != buffer);
        let shown = self.shown();
        assert!(shown.iter().all(|view| self.get(*view).is_some()), "nothing is left to show");
        if !shown.contains(&self.focus) {
            self.focus = shown[0];
        }
    }
}
