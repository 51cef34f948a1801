//! Commands: a verb, the values of its arguments and a count. Keys, lookup, clicks, scripts and tests give them to the one door
//! that runs them.

use crate::editing::{EditCall, Effects};
use crate::recipes::recording::{Moment, Recording};
use crate::registry::action::Action;
use crate::registry::arguments::{Value, Values, WrongArgument};
use crate::registry::over_files::OverFiles;
use crate::registry::verb::{Count, Does, Group, Replay};
use crate::registry::{Verb, by_name};
use crate::transaction::{Refusal, Travelled};
use crate::view::remembered::Left;
use crate::workspace::{StructureWait, Workspace};
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_core::verbs::clipboard::{Depth, paste};
use snarvel_core::verbs::lines::mending::{LineEdit, mended};
use snarvel_core::verbs::scene::{Outcome, Scene};

/// Something to do.
#[derive(Clone, Debug)]
pub struct Command {
    /// The verb.
    pub verb: &'static Verb,
    /// The values of its arguments.
    pub values: Values,
    /// How many times; none where nothing was said.
    pub count: Option<u32>,
}

impl Command {
    /// Runs `verb` once, without arguments.
    #[must_use]
    pub fn plain(verb: &'static Verb) -> Command {
        Command { verb, values: Values::default(), count: None }
    }

    /// Runs `verb` once with these values.
    #[must_use]
    pub fn with(verb: &'static Verb, values: impl IntoIterator<Item = Value>) -> Command {
        Command { verb, values: Values::of(values), count: None }
    }

    /// Runs `verb` once with arguments as they are written.
    ///
    /// # Errors
    /// One that is none, or that is missing.
    pub fn read(verb: &'static Verb, arguments: &str) -> Result<Command, WrongArgument> {
        Ok(Command { values: verb.arguments.read(verb.name, arguments)?, ..Command::plain(verb) })
    }

    /// The verb called `name`, without arguments.
    ///
    /// # Panics
    /// If there is no such verb: names in the program are those of the registry.
    #[must_use]
    pub fn named(name: &str) -> Command {
        Command::plain(by_name(name).unwrap_or_else(|| panic!("no verb is called {name}")))
    }

    /// How many times it runs.
    fn times(&self) -> u32 {
        let count = self.count.unwrap_or(1);
        if self.verb.count == Count::Times { count } else { 1 }
    }

    /// The call of `function`, which is that of the verb with the values.
    pub(crate) fn as_call<'a>(
        &self,
        function: &'a dyn Fn(&Scene) -> Outcome,
        (clip, now_ms): (&'a Clip, u64),
        is_stopped: &'a dyn Fn() -> bool,
    ) -> EditCall<'a> {
        let reach = if self.verb.count == Count::Lines { self.count.unwrap_or(1).max(1) as usize } else { 1 };
        let left = if self.verb.group == Group::Moves { Left::ByMove } else { Left::ByAct };
        EditCall {
            name: self.verb.name,
            over_files: self.verb.over_files,
            function,
            left,
            times: self.times(),
            reach,
            clip,
            now_ms,
            is_stopped,
        }
    }

    /// Types `text`.
    #[must_use]
    pub fn typing(text: &str) -> Command {
        Command { values: Values::of([Value::Text(text.to_owned())]), ..Command::named("type-text") }
    }
}

/// What a command asks of whoever runs it.
#[derive(Debug)]
pub enum Done {
    /// It is done, with these effects.
    Edited(Effects),
    /// The interface is to do this, so many times.
    Asked(Action, u32),
}

impl Workspace {
    /// Runs a command, as far as no interface is needed for it.
    pub fn run(&mut self, command: &Command) -> Done {
        let watched = self.watch();
        let done = self.run_only(command);
        match command.verb.does {
            Does::Undo => self.forget_last_edit(),
            Does::Edit(_) | Does::Jump(_) | Does::Replay(Replay::Change) => self.note_by_hand(watched),
            _ => {}
        }
        self.follow_offers(command);
        let typed = command.values.text(0).filter(|_| command.verb.name == "type-text");
        self.follow_call(typed);
        done
    }

    fn run_only(&mut self, command: &Command) -> Done {
        let times = command.times();
        self.places.is_asked_for |= matches!(command.verb.does, Does::Jump(_));
        if command.verb.over_files == OverFiles::BringsBack
            && let Some(effects) = self.recall_convoy()
        {
            return Done::Edited(effects);
        }
        match command.verb.does {
            Does::Edit(function) | Does::Jump(function) => {
                let clip = self.shelf.newest();
                let function = |scene: &Scene| function(scene, &command.values);
                let is_stopped = self.tasks.stop_key.watched();
                let call = command.as_call(&function, (&clip, self.now_ms), &is_stopped);
                let wait = self.wait_of(command.verb);
                let before = self.moment();
                let effects = self.run_edit(&call, wait);
                self.note_step(command, before, &effects);
                Done::Edited(effects)
            }
            Does::Undo => {
                let result = self.undo(times);
                self.note_travel(Recording::note_undo);
                Done::Edited(told(result, ["undid", "nothing to undo"]))
            }
            Does::Redo => {
                let result = self.redo(times);
                self.note_travel(Recording::note_redo);
                Done::Edited(told(result, ["redid", "nothing to redo"]))
            }
            Does::CursorsUndo => {
                let effects = crate::editing::cursors_undo(self.active_pair_mut(), times);
                self.note_travel(Recording::note_cursors_undo);
                Done::Edited(effects)
            }
            Does::Replay(what) => Done::Edited(self.replay(what, command.values.text(0), times)),
            Does::Filter => Done::Edited(self.filter_through(command.values.text(0).unwrap_or_default())),
            Does::OfWorkspace(function) => Done::Edited(function(self, &command.values)),
            Does::OfWorkspaceOrAsk(function, action) => match function(self, &command.values) {
                Some(effects) => Done::Edited(effects),
                None => Done::Asked(action, times),
            },
            Does::Ask(action) => Done::Asked(action, times),
        }
    }

    /// Pastes text that came from the terminal in one piece, line ends converted, at the depth of the place.
    pub fn paste_text(&mut self, characters: &str) -> Effects {
        // Terminals send a carriage return for each line end of what is pasted.
        let lines = characters.replace("\r\n", "\n").replace('\r', "\n");
        let clip = Clip::of_text(&lines);
        let put_in = |scene: &Scene| mended(scene, LineEdit::PutIn, paste(scene, scene.clip, Depth::OfPlace));
        let call = EditCall::once("paste", &put_in, (&clip, self.now_ms));
        let (before, watched) = (self.moment(), self.watch());
        let effects = self.run_edit(&call, StructureWait::None);
        self.note_by_hand(watched);
        self.drop_offers();
        self.note_put_in(before);
        effects
    }

    fn note_travel(&mut self, note: fn(&mut Recording, Moment)) {
        let now = self.moment();
        self.past.recipes.recording.iter_mut().for_each(|recording| note(recording, now.clone()));
    }

    pub(crate) fn wait_of(&self, verb: &Verb) -> StructureWait {
        if verb.structure.is_needed_in(self.active().language()) { StructureWait::Short } else { StructureWait::None }
    }
}

fn told(result: Result<Travelled, Refusal>, [verb, nothing]: [&str; 2]) -> Effects {
    match result {
        Ok(travelled) if travelled.steps == 0 => Effects::saying(nothing),
        Ok(travelled) => Effects::saying(travelled.told(verb)),
        Err(refusal) => Effects::saying(refusal.to_string()),
    }
}
