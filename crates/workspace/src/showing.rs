//! Several views on the screen: one more, the next one, one less.

use crate::views::MOST_SHOWN;
use crate::views::split::Side;
use crate::workspace::Workspace;
use snarvel_core::verbs::scene::counted;
use std::path::Path;

impl Workspace {
    /// The file with the keys is the latest of the recent ones, however it came to be shown.
    pub(crate) fn note_shown(&mut self) {
        let shown = self.active().path().filter(|path| self.project.recent.first().is_none_or(|latest| latest != path));
        if let Some(path) = shown.map(Path::to_owned) {
            self.project.note_opened(&path);
        }
    }

    /// Shows the active text in one more view, which takes the keys: where this one is, with its cursors and folds.
    pub fn split_view(&mut self, side: Side) {
        if self.views.shown().len() >= MOST_SHOWN {
            self.say(format!("there are {} already: close one first", counted(MOST_SHOWN, "view")));
            return;
        }
        let (buffer, view) = self.active_pair_mut();
        let twin = view.twin(buffer);
        let twin = self.views.add(twin);
        self.views.show_at(twin, side);
    }

    /// Lets the next view take the keys.
    pub fn next_view(&mut self) {
        if self.needs_two() {
            let next = self.views.next();
            self.views.focus_on(next);
        }
    }

    /// Lets the view with the keys and the next one change places.
    pub fn swap_views(&mut self) {
        if self.needs_two() {
            self.views.swap();
        }
    }

    /// Closes the view with the keys; its text stays open.
    pub fn close_view(&mut self) {
        if !self.needs_two() {
            return;
        }
        let (closed, buffer) = (self.views.focus(), self.view().buffer);
        self.views.hide();
        // A text keeps one view at least, which knows where it was looked at.
        if self.views.iter().filter(|view| view.buffer == buffer).count() > 1 {
            let (buffer, view) = self.pair_mut(closed);
            view.close(buffer);
            self.views.remove(closed);
        }
    }

    /// Whether there are several views; says so where there are not.
    fn needs_two(&mut self) -> bool {
        let has = self.views.shown().len() > 1;
        if !has {
            self.say("there is one view only: Shift+F9 shows a second one beside it, Shift+F8 below it");
        }
        has
    }

    /// Shows the next or, where `by` is negative, the previous text of the tab bar in the view with the keys.
    pub fn turn(&mut self, by: i8) {
        let count = self.buffers.len() as i64;
        let next = (self.active_index() as i64 + i64::from(by)).rem_euclid(count) as usize;
        let id = self.buffers[next].id;
        self.show(id);
    }
}
