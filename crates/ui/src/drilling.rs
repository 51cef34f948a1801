//! A drill that is being done: in a workspace of its own, beside the wanted text, while everything else waits outside.

use crate::drills::Drill;
use crate::keys::script::ScriptStep;
use snarvel_core::text::Text;
use snarvel_core::text::place::{LineColumn, Place};
use snarvel_core::verbs::scene::counted;
use snarvel_files::load::{Encoding, Loaded};
use snarvel_workspace::buffer::Origin;
use snarvel_workspace::ids::BufferId;
use snarvel_workspace::project::{Project, Writing};
use snarvel_workspace::views::split::Side;
use snarvel_workspace::workspace::Workspace;
use std::collections::VecDeque;
use std::path::PathBuf;

/// What the keys go to.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Stage {
    /// The drill is being done.
    Doing,
    /// It was done.
    Done,
    /// The shortest way is played, a key for each key that is pressed: so many were.
    Replaying(usize),
}

/// A drill that is being done.
#[derive(Debug)]
pub struct Drilling {
    /// Which.
    pub drill: &'static Drill,
    /// The drills after it.
    pub next: VecDeque<&'static Drill>,
    /// How many the series has, and which this one is, from 1.
    pub of: [usize; 2],
    /// What the keys go to.
    pub stage: Stage,
    /// How many keys it took so far.
    pub keys: u32,
    /// When it began, and when it was done.
    pub time_ms: [u64; 2],
    /// Everything that waits outside.
    outside: Workspace,
    text: BufferId,
}

impl Drilling {
    /// Begins `drill` in the place of `workspace`, which waits until the drill is left.
    pub fn begin(workspace: &mut Workspace, drill: &'static Drill, next: VecDeque<&'static Drill>) -> Drilling {
        let now_ms = workspace.now_ms;
        let of = [next.len() + 1, 1];
        let (inside, text) = ground(workspace, drill);
        let outside = std::mem::replace(workspace, inside);
        Drilling { drill, next, of, stage: Stage::Doing, keys: 0, time_ms: [now_ms; 2], outside, text }
    }

    /// Begins the same drill anew, or another one.
    pub fn begin_again(&mut self, workspace: &mut Workspace, drill: &'static Drill) {
        let (inside, text) = ground(&self.outside, drill);
        let now_ms = workspace.now_ms;
        *workspace = inside;
        workspace.now_ms = now_ms;
        (self.drill, self.text) = (drill, text);
        (self.keys, self.stage, self.time_ms) = (0, Stage::Doing, [now_ms; 2]);
    }

    /// Whether there is a drill after this one; it is begun.
    pub fn go_on(&mut self, workspace: &mut Workspace) -> bool {
        let Some(next) = self.next.pop_front() else { return false };
        self.begin_again(workspace, next);
        self.of[1] += 1;
        true
    }

    /// Ends it: what waited outside is there again.
    pub fn end(self, workspace: &mut Workspace) {
        let now_ms = workspace.now_ms;
        *workspace = self.outside;
        workspace.now_ms = now_ms;
    }

    /// What waits outside.
    #[must_use]
    pub fn outside(&self) -> &Workspace {
        &self.outside
    }

    /// What waits outside.
    pub fn outside_mut(&mut self) -> &mut Workspace {
        &mut self.outside
    }

    /// Whether the text is by now as it should be. Cost: the text, which is short.
    #[must_use]
    pub fn is_as_wanted(&self, workspace: &Workspace) -> bool {
        workspace.buffer(self.text).is_some_and(|buffer| *buffer.text() == Text::from(self.drill.after.as_str()))
    }

    /// The step of the shortest way that is played next.
    #[must_use]
    pub fn next_step(&self) -> Option<ScriptStep> {
        match self.stage {
            Stage::Replaying(at) => self.drill.steps().into_iter().nth(at),
            Stage::Doing | Stage::Done => None,
        }
    }

    /// What is said while it is being done by a person whose par is `own_par`.
    #[must_use]
    pub fn told(&self, own_par: u32) -> String {
        let Drilling { drill, of: [all, at], keys, stage, .. } = self;
        let which =
            if *all > 1 { format!("Drill {at} of {all}, {}", drill.group) } else { format!("Drill, {}", drill.group) };
        let par = drill.par_keys;
        match stage {
            Stage::Replaying(at) if *at < par as usize => {
                format!("{which}: the shortest way known, {at} of {par} keys. → plays the next one, Esc ends it.")
            }
            Stage::Replaying(_) => format!("{which}: that was it. Enter: do it yourself. Esc: back."),
            Stage::Doing | Stage::Done => {
                let so_far = counted(*keys as usize, "key");
                format!("{which}: {} {so_far} so far, par is {own_par}.", drill.task)
            }
        }
    }
}

/// A workspace with the text of a drill, and beside it as it should be. It writes nothing and starts nothing.
fn ground(outside: &Workspace, drill: &Drill) -> (Workspace, BufferId) {
    let project = Project {
        name: "drill".to_owned(),
        writing: Writing::Nothing,
        defaults: outside.project.defaults,
        keeps_session: false,
        offers: outside.project.offers,
        ..Project::in_folder(&outside.project.folder)
    };
    let mut workspace = Workspace::new(project);
    workspace.tasks.waker = outside.tasks.waker.clone();
    workspace.tasks.stop_key = outside.tasks.stop_key.clone();
    workspace.tasks.has_screen = outside.tasks.has_screen;
    let folder = PathBuf::from(&workspace.project.folder);
    let mut make = |text: &str, name: String, read_only: bool| {
        let loaded = Loaded { text: Text::from(text), encoding: Encoding::default(), read_only };
        workspace.make_buffer(loaded, Origin::File(folder.join(name)))
    };
    let text = make(&drill.before, drill.file.clone(), false);
    let wanted = make(&drill.after, format!("wanted-{}", drill.file), true);
    let id = text.id;
    workspace.show_buffer(text);
    workspace.split_view(Side::Beside);
    workspace.show_buffer(wanted);
    workspace.next_view();
    if let Some(at) = LineColumn::parse(&drill.at) {
        workspace.go_to_place(Place::At(at));
    }
    workspace.compare_with_next();
    workspace.told.message = None;
    (workspace, id)
}
