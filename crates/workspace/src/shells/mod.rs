//! Programs in terminals of their own: the person's shell, the shells of languages, commands that run files and tasks.
//!
//! They go on while they are not shown. What they print is read for places, which are among what is wrong ([`crate::meaning::faults`])
//! until their next run begins.

pub mod placed;
mod placing;
pub mod running;
mod starting;

use crate::buffer::Origin;
use crate::editing::Effects;
use crate::ids::ShellId;
use crate::notice::Notice;
use crate::state::shells::{Purpose, Shell, Shells};
use crate::workspace::Workspace;
use snarvel_core::text::Text;
use snarvel_core::units::Direction;
use snarvel_core::verbs::scene::counted;
use snarvel_files::load::{Encoding, Loaded};
use snarvel_shell::runners::Table;
use snarvel_shell::sending::bytes_of_lines;
use snarvel_shell::session::{Exit, News};
use std::time::Duration;

/// The rows and columns of a terminal before there is a screen.
const FIRST_ROOM: [u16; 2] = [12, 80];

impl Shells {
    pub(crate) fn at(&self, id: ShellId) -> Option<&Shell> {
        self.list.iter().find(|shell| shell.id == id)
    }

    pub(crate) fn at_mut(&mut self, id: ShellId) -> Option<&mut Shell> {
        self.list.iter_mut().find(|shell| shell.id == id)
    }
}

impl Workspace {
    /// The runners and tasks that the person has added.
    pub fn use_runners(&mut self, table: Table) {
        self.past.shells.table = table;
    }

    /// The programs in terminals, in the order in which they were started.
    #[must_use]
    pub fn shells(&self) -> &[Shell] {
        &self.past.shells.list
    }

    /// The one that is shown, or would be.
    #[must_use]
    pub fn shell_shown(&self) -> Option<&Shell> {
        self.past.shells.list.get(self.past.shells.shown)
    }

    /// Whether it is seen below the text while the text has the keys.
    #[must_use]
    pub fn is_shell_seen(&self) -> bool {
        self.past.shells.is_seen && self.shell_shown().is_some()
    }

    /// It is put away: it goes on, and is not seen below the text any more.
    pub fn put_shell_away(&mut self) {
        self.past.shells.is_seen = false;
    }

    /// The room that a terminal has from now on: rows and columns.
    pub fn fit_shells(&mut self, room: [u16; 2]) {
        self.past.shells.room = room;
        for shell in self.past.shells.list.iter_mut().filter(|shell| shell.size != room) {
            shell.size = room;
            shell.session.resize(room);
        }
    }

    /// Another program is shown: the next one, or the one before.
    pub fn turn_shells(&mut self, direction: Direction) -> bool {
        let shells = &mut self.past.shells;
        let count = shells.list.len();
        if count == 0 {
            return false;
        }
        shells.shown = match direction {
            Direction::Forward => (shells.shown + 1) % count,
            Direction::Back => (shells.shown + count - 1) % count,
        };
        true
    }

    /// The program that is shown is given bytes to read. Enter begins another run in a shell: its places are of what is run next.
    pub fn give_shell(&mut self, bytes: Vec<u8>) {
        let Some(shell) = self.past.shells.list.get(self.past.shells.shown) else { return };
        let id = shell.id;
        if bytes.contains(&b'\r') {
            self.begin_run_of(id);
        }
        if let Some(shell) = self.past.shells.at(id) {
            shell.session.give(bytes);
        }
    }

    /// What was printed before is of another run.
    fn begin_run_of(&mut self, id: ShellId) {
        if let Some(shell) = self.past.shells.at_mut(id) {
            shell.session.begin_run();
            shell.places.clear();
            shell.placing = None;
        }
        self.forget_run(id);
    }

    /// The program that is shown is put away for good; one that runs is ended.
    pub fn close_shell(&mut self) {
        let shells = &mut self.past.shells;
        if shells.shown < shells.list.len() {
            let shell = shells.list.remove(shells.shown);
            shells.shown = shells.shown.min(shells.list.len().saturating_sub(1));
            self.forget_run(shell.id);
        }
        if self.past.shells.list.is_empty() {
            self.past.shells.is_seen = false;
        }
    }

    /// All programs are ended, and waited for a moment: before the whole program ends.
    pub fn end_shells(&mut self) {
        let shells = std::mem::take(&mut self.past.shells.list);
        shells.iter().for_each(|shell| shell.session.end());
        shells.iter().for_each(|shell| shell.session.end_and_wait());
    }

    /// All text of the program that is shown becomes a text of its own, to be gone through and copied from.
    pub fn copy_shell(&mut self) -> Effects {
        let Some(shell) = self.shell_shown() else { return Effects::saying("no shell is open") };
        shell.session.ask_text();
        self.past.shells.copying = Some(shell.id);
        Effects::default()
    }

    pub(crate) fn take_shell_news(&mut self, id: ShellId, news: News) {
        match news {
            News::Drawn => {
                self.send_waiting(id);
                self.told.notices.push(Notice::Shell(id));
            }
            News::Places(places) => self.take_places(id, places),
            News::Text(text) => self.take_shell_text(id, &text),
            News::Ended(exit) => self.take_exit(id, &exit),
        }
    }

    /// Gives a program that has drawn something the lines that wait for that.
    fn send_waiting(&mut self, id: ShellId) {
        let Some(shell) = self.past.shells.at_mut(id).filter(|shell| shell.waiting.is_some()) else { return };
        let picture = shell.session.picture();
        if picture.text().is_empty() {
            return;
        }
        if let Some((runner, lines)) = shell.waiting.take() {
            shell.session.give(bytes_of_lines(&lines, &runner, picture.modes));
        }
    }

    fn take_shell_text(&mut self, id: ShellId, text: &str) {
        if self.past.shells.copying.take_if(|of| *of == id).is_none() {
            return;
        }
        let name = self.past.shells.at(id).map(|shell| shell.name.clone()).unwrap_or_default();
        if text.is_empty() {
            self.say(format!("{name} has printed nothing yet"));
            return;
        }
        let lines = counted(text.lines().count(), "line");
        let loaded = Loaded { text: Text::from(text), encoding: Encoding::default(), read_only: false };
        let buffer = self.make_buffer(loaded, Origin::None);
        self.show_buffer(buffer);
        self.say(format!("{lines} of {name} as a text of its own: select and copy as anywhere"));
    }

    fn take_exit(&mut self, id: ShellId, exit: &Exit) {
        let is_own = |shell: &Shell| shell.purpose == Purpose::Shell;
        let Some(shell) = self.past.shells.at_mut(id) else { return };
        shell.exit = Some(exit.clone());
        let (name, closes) = (shell.name.clone(), is_own(shell));
        let count = shell.places.len();
        if closes {
            // A shell that the person has left is gone.
            if let Some(at) = self.past.shells.list.iter().position(|shell| shell.id == id) {
                self.past.shells.shown = at;
                self.close_shell();
            }
        } else {
            let places = if count > 0 { format!(": {} (F10)", counted(count, "place")) } else { String::new() };
            self.say(format!("{name} {}{places}", told_exit(exit)));
        }
        self.told.notices.push(Notice::Shell(id));
    }

    /// The command that runs, with how long it does; none where none does.
    #[must_use]
    pub fn running_told(&self) -> Option<String> {
        let shell = self.running_command()?;
        Some(format!("{} … {} s", shell.name, shell.began.elapsed().as_secs()))
    }

    fn running_command(&self) -> Option<&Shell> {
        let is_it = |shell: &&Shell| shell.is_running() && matches!(shell.purpose, Purpose::Command(_));
        self.past.shells.list.iter().rev().find(is_it)
    }

    /// How long nothing is to be told that no event tells of; none where nothing will be.
    #[must_use]
    pub fn next_telling(&mut self) -> Option<Duration> {
        let running = self.running_command().map(|shell| {
            let gone = shell.began.elapsed();
            Duration::from_secs(gone.as_secs() + 1).saturating_sub(gone)
        });
        [running, self.tasks.next_naming()].into_iter().flatten().min()
    }

    /// Whether a command runs that a script waits for.
    #[must_use]
    pub fn awaits_runs(&self) -> bool {
        self.running_command().is_some() || self.past.shells.list.iter().any(|shell| shell.placing.is_some())
    }
}

/// How a program has ended, in words.
#[must_use]
pub fn told_exit(exit: &Exit) -> String {
    let after = seconds(exit.after);
    match &exit.signal {
        Some(signal) => format!("was ended after {after} ({signal})"),
        None if exit.code == 0 => format!("ran through in {after}"),
        None => format!("ended with exit code {} after {after}", exit.code),
    }
}

/// A time in seconds, with a digit after the point where it is short.
fn seconds(time: Duration) -> String {
    let seconds = time.as_secs_f64();
    if seconds < 10.0 { format!("{seconds:.1} s") } else { format!("{seconds:.0} s") }
}
