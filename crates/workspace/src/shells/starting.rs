//! How programs are started, and how a person says that they may be.

use super::FIRST_ROOM;
use crate::editing::Effects;
use crate::event::Payload;
use crate::ids::ShellId;
use crate::meaning::trusting::Say;
use crate::notice::Notice;
use crate::project::Trust;
use crate::state::shells::{Purpose, Shell, Wanted};
use crate::tasks::About;
use crate::workspace::Workspace;
use snarvel_shell::sending::bytes_of_lines;
use snarvel_shell::session::{Session, Start};
use snarvel_task::Report;
use std::path::{Path, PathBuf};
use std::time::Instant;

/// By this name it is kept that commands may run in a folder, among the single commands that may.
const ALL_RUNS: &str = "run and check: all files and tasks of this folder";

/// Where nothing says which shell a person has.
const USUAL_SHELL: &str = "/bin/sh";

impl Workspace {
    /// A shell is there: the one that was shown last, else a new one.
    ///
    /// # Errors
    /// It cannot be started: in words.
    pub fn show_shell(&mut self) -> Result<(), String> {
        if self.shell_shown().is_some() { Ok(()) } else { self.start_wanted(Wanted::Shell) }
    }

    /// One more shell of the person's own.
    ///
    /// # Errors
    /// It cannot be started: in words.
    pub fn start_shell(&mut self) -> Result<(), String> {
        self.start_wanted(Wanted::Shell)
    }

    /// Runs something, where that is trusted; else it is asked about first, once for the folder.
    pub(super) fn run_wanted(&mut self, wanted: Wanted) -> Effects {
        let may = match self.project.trust {
            Trust::Everything => true,
            Trust::Nothing => return refused("not run: only played (--trust runs it)".to_owned()),
            Trust::Asks | Trust::Folder => self.past.filtering.allowed.iter().any(|each| each == ALL_RUNS),
        };
        if !may {
            self.told.notices.push(Notice::MayRunHere(told(&wanted)));
            self.past.shells.pending = Some(wanted);
            return Effects::default();
        }
        match self.start_wanted(wanted) {
            Ok(()) => Effects::default(),
            Err(why) => refused(why),
        }
    }

    /// The person has said that commands may run in this folder, from now on or this time: what waited for that runs.
    pub fn allow_runs(&mut self, say: Say) -> Effects {
        if say == Say::Always {
            self.keep_allowed(ALL_RUNS);
        }
        match self.past.shells.pending.take().map(|wanted| self.start_wanted(wanted)) {
            Some(Err(why)) => refused(why),
            _ => Effects::default(),
        }
    }

    fn start_wanted(&mut self, wanted: Wanted) -> Result<(), String> {
        if self.project.trust == Trust::Nothing {
            return Err("nothing is started: only played (--trust starts it)".to_owned());
        }
        match wanted {
            Wanted::Shell => {
                let program = std::env::var("SHELL").ok().filter(|shell| !shell.is_empty());
                let program = program.unwrap_or_else(|| USUAL_SHELL.to_owned());
                let name = Path::new(&program).file_name().unwrap_or_default().to_string_lossy().into_owned();
                let folder = self.project.folder.clone();
                self.start((name, Purpose::Shell), (program, Vec::new()), folder).map(drop)
            }
            Wanted::Lines { language, text } => self.send_lines(&language, &text),
            Wanted::Command { name, command, folder } => {
                let purpose = Purpose::Command(command.clone());
                // What ran under the same name before makes room.
                let is_before = |shell: &Shell| matches!(shell.purpose, Purpose::Command(_)) && shell.name == name;
                let before: Vec<ShellId> =
                    self.past.shells.list.iter().filter(|shell| is_before(shell)).map(|shell| shell.id).collect();
                for id in before {
                    self.forget_run(id);
                    self.past.shells.list.retain(|shell| shell.id != id);
                }
                let arguments = vec!["-c".to_owned(), command];
                self.start((name, purpose), (USUAL_SHELL.to_owned(), arguments), folder).map(drop)
            }
        }
    }

    /// Sends lines to the shell of their language, which is started where it does not run.
    fn send_lines(&mut self, language: &str, text: &str) -> Result<(), String> {
        let folder = self.active().path().and_then(Path::parent).unwrap_or(&self.project.folder).to_owned();
        let table = self.past.shells.table.with_shipped();
        let (runner, folder) = table.repl_of(language, &folder).ok_or_else(|| no_repl(language))?;
        let purpose = Purpose::Language(language.to_owned());
        let running = self.past.shells.list.iter().position(|shell| shell.purpose == purpose && shell.is_running());
        let at = match running {
            Some(at) => at,
            None => {
                self.past.shells.list.retain(|shell| shell.purpose != purpose);
                let repl = runner.repl.clone().unwrap_or_default();
                let name = repl.split_whitespace().next().unwrap_or(language).to_owned();
                let arguments = vec!["-c".to_owned(), format!("exec {repl}")];
                self.start((name, purpose), (USUAL_SHELL.to_owned(), arguments), folder)?
            }
        };
        self.past.shells.shown = at;
        self.past.shells.is_seen = true;
        let id = self.past.shells.list[at].id;
        self.begin_run_of(id);
        let shell = &mut self.past.shells.list[at];
        match (&mut shell.waiting, running) {
            (Some((_, lines)), _) => {
                lines.push('\n');
                lines.push_str(text);
            }
            // What it does with pasted text is known once it has shown that it is there.
            (waiting, None) => *waiting = Some((runner.clone(), text.to_owned())),
            (None, Some(_)) => {
                let modes = shell.session.picture().modes;
                shell.session.give(bytes_of_lines(text, runner, modes));
            }
        }
        Ok(())
    }

    /// Starts a program and shows it; its place in the list.
    fn start(
        &mut self,
        (name, purpose): (String, Purpose),
        (program, arguments): (String, Vec<String>),
        folder: PathBuf,
    ) -> Result<usize, String> {
        let id = ShellId::fresh();
        let size = if self.past.shells.room == [0; 2] { FIRST_ROOM } else { self.past.shells.room };
        let sink = self.tasks.worker_sink(About::new("a program in a terminal"), Payload::Shell);
        let tell = move |news| sink(Report::News(Box::new((id, news))));
        let session = Session::start(&Start { program, arguments, folder, size }, tell)?;
        let is_own = purpose == Purpose::Shell;
        let shell = Shell {
            id,
            name,
            purpose,
            session,
            began: Instant::now(),
            exit: None,
            size,
            places: Vec::new(),
            waiting: None,
            placing: None,
        };
        let shells = &mut self.past.shells;
        shells.list.push(shell);
        shells.shown = shells.list.len() - 1;
        shells.is_seen |= !is_own;
        Ok(shells.shown)
    }
}

pub(super) fn refused(why: String) -> Effects {
    Effects { is_refused: true, ..Effects::saying(why) }
}

/// What is said where a language has no shell.
pub(super) fn no_repl(language: &str) -> String {
    format!("no shell is known for {language}: Shift+F12 runs the file, [[runner]] in settings.toml adds one")
}

/// What would run, in words.
fn told(wanted: &Wanted) -> String {
    match wanted {
        Wanted::Shell => "a shell".to_owned(),
        Wanted::Lines { language, .. } => format!("the shell of {language}"),
        Wanted::Command { command, .. } => command.clone(),
    }
}
