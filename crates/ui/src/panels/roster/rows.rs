//! The rows of the roster: cursors, and where several texts act together a row for each file before its cursors. Costs nothing per
//! cursor.

use snarvel_workspace::ids::ViewId;
use snarvel_workspace::workspace::Workspace;

/// A row.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum RosterRow {
    /// The file of a view, before its cursors.
    File(ViewId),
    /// A cursor of a view, by its place in the text.
    Cursor(ViewId, usize),
}

impl RosterRow {
    /// The view that it is of.
    #[must_use]
    pub fn view(self) -> ViewId {
        match self {
            RosterRow::File(view) | RosterRow::Cursor(view, _) => view,
        }
    }
}

/// The cursors of one view.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
struct Group {
    view: ViewId,
    cursors: usize,
    /// The row at which it begins.
    first: usize,
}

/// All rows.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct RosterRows {
    groups: Vec<Group>,
    /// Rows before the cursors of each view: 1 where files have rows, else 0.
    heads: usize,
}

impl RosterRows {
    /// The cursors of the convoy that the active text is in, or of the view with the keys.
    #[must_use]
    pub fn of(workspace: &Workspace) -> RosterRows {
        let members = workspace.convoy();
        let views: Vec<ViewId> = match members {
            Some(members) => members.iter().map(|member| member.view).collect(),
            None => vec![workspace.views.focus()],
        };
        let heads = usize::from(members.is_some());
        let mut rows = RosterRows { groups: Vec::new(), heads };
        let mut first = 0;
        for view in views {
            let cursors = match heads {
                0 => workspace.shown(view).1.cursors().len(),
                _ => workspace.pair(view).1.cursors().len(),
            };
            rows.groups.push(Group { view, cursors, first });
            first += heads + cursors;
        }
        rows
    }

    /// How many there are.
    #[must_use]
    pub fn count(&self) -> usize {
        self.groups.last().map_or(0, |group| group.first + self.heads + group.cursors)
    }

    /// How many cursors there are.
    #[must_use]
    pub fn cursors(&self) -> usize {
        self.groups.iter().map(|group| group.cursors).sum()
    }

    /// The row at a place.
    #[must_use]
    pub fn at(&self, place: usize) -> Option<RosterRow> {
        let after = self.groups.partition_point(|group| group.first <= place);
        let group = self.groups[..after].last()?;
        match (place - group.first).checked_sub(self.heads) {
            None => Some(RosterRow::File(group.view)),
            Some(index) => (index < group.cursors).then_some(RosterRow::Cursor(group.view, index)),
        }
    }

    /// The place of a cursor.
    #[must_use]
    pub fn place(&self, view: ViewId, index: usize) -> Option<usize> {
        self.groups.iter().find(|group| group.view == view).map(|group| group.first + self.heads + index)
    }

    /// The places of the cursors of a view.
    #[must_use]
    pub fn places_of(&self, view: ViewId) -> std::ops::Range<usize> {
        let group = self.groups.iter().find(|group| group.view == view);
        group.map_or(0..0, |group| group.first + self.heads..group.first + self.heads + group.cursors)
    }

    /// The views, in their order.
    pub fn views(&self) -> impl Iterator<Item = ViewId> + '_ {
        self.groups.iter().map(|group| group.view)
    }
}
