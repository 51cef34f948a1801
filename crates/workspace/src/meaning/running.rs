//! Servers: looked for when a text of their language is there, started when the person has said so, told of every change, ended with
//! the last of their texts.
//!
//! All of it is done after the frame is drawn ([`Workspace::keep_servers`]): what is handed to a server's thread costs a key nothing
//! but the handing over.

use crate::buffer::Buffer;
use crate::event::Payload;
use crate::ids::{BufferId, ServerId};
use crate::meaning::candidate::Candidate;
use crate::project::Trust;
use crate::state::meaning::{Errand, Link, Pace, Seat, SeatState, ServerTold, Told};
use crate::tasks::About;
use crate::workspace::Workspace;
use snarvel_core::changes::feed::Since;
use snarvel_core::languages::Language;
use snarvel_servers::ask::Ask;
use snarvel_servers::exchange::{Input, Profile};
use snarvel_servers::life::{Launch, Server};
use snarvel_servers::news::{Able, State};
use snarvel_servers::table::{Table, find_command, protocol_name, root_of};
use snarvel_task::waits;
use std::collections::HashMap;
use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::time::Instant;

impl Workspace {
    /// Servers of `table` are started from now on, where that is trusted.
    pub fn use_servers(&mut self, table: Table) {
        self.past.meaning.table = Some(table);
    }

    /// The table of servers; none where none is started.
    #[must_use]
    pub fn server_table(&self) -> Option<&Table> {
        self.past.meaning.table.as_ref()
    }

    /// Looks for servers, starts, tells and ends them: to be called once the frame is drawn.
    pub fn keep_servers(&mut self) {
        if self.past.meaning.table.is_none() {
            return;
        }
        self.look_for_servers();
        self.leave_texts();
        let ids: Vec<BufferId> = self.buffers.iter().map(|buffer| buffer.id).collect();
        ids.into_iter().for_each(|id| self.tell_servers(id));
        self.ask_for_kinds();
        self.ask_for_faults();
    }

    /// Asks servers that tell what is wrong only when they are asked, where a text is of another revision.
    fn ask_for_faults(&mut self) {
        let mut asks = Vec::new();
        for link in &mut self.past.meaning.links {
            let Link { id, able, told, pulled, .. } = link;
            for (buffer, told) in told.iter().filter(|_| able.has("diagnostic")) {
                if pulled.insert(*buffer, told.revision) != Some(told.revision) {
                    asks.push((*id, Ask::Faults(told.path.clone())));
                }
            }
        }
        for (server, ask) in asks {
            self.send_errand_to(server, ask, Errand::Faults);
        }
    }

    /// Texts of files that are whole and of whose servers nothing is known yet.
    fn look_for_servers(&mut self) {
        let is_known = |buffer: &Buffer| {
            let seat = self.past.meaning.seats.get(&buffer.id);
            seat.is_some_and(|seat| buffer.is_of(&seat.path) && seat.language == buffer.language().name)
        };
        let is_new = |buffer: &&Buffer| !buffer.is_partial() && buffer.path().is_some() && !is_known(buffer);
        let new: Vec<(BufferId, PathBuf, Arc<Language>)> = self
            .buffers
            .iter()
            .filter(is_new)
            .filter_map(|buffer| Some((buffer.id, buffer.path()?.to_owned(), buffer.language().clone())))
            .collect();
        for (id, path, language) in new {
            let Some(table) = self.past.meaning.table.clone() else { return };
            let folder = self.project.folder.clone();
            let (own_path, name) = (path.clone(), language.name.clone());
            let task = self.tasks.run(About::new("").of(id), Payload::ServersFor, move || {
                candidates(&table, (&language, &path), &folder)
            });
            self.leave_text(id);
            let seat = Seat { path: own_path, language: name, state: SeatState::Looking { _task: task } };
            self.past.meaning.seats.insert(id, seat);
        }
    }

    /// The servers that there are for a text are known.
    pub(crate) fn take_candidates(&mut self, id: BufferId, candidates: Vec<Candidate>) {
        if self.buffer(id).is_none() {
            return;
        }
        for candidate in &candidates {
            self.start_if_trusted(candidate);
        }
        if let Some(seat) = self.past.meaning.seats.get_mut(&id) {
            seat.state = SeatState::Known(candidates);
        }
    }

    /// The text is another one for its servers: they are told that it is closed.
    fn leave_text(&mut self, id: BufferId) {
        for link in &mut self.past.meaning.links {
            if let Some(told) = link.told.remove(&id) {
                link.server.give(Input::Close(told.path));
            }
        }
    }

    /// Starts a server, where that is trusted; asks where nothing was said of it.
    pub(crate) fn start_if_trusted(&mut self, candidate: &Candidate) {
        let name = &candidate.launch.profile.name;
        let said = self.past.meaning.consents.said.iter().find(|(server, _)| server == name).map(|(_, may)| *may);
        match (self.project.trust, said) {
            (Trust::Everything, _) | (Trust::Asks | Trust::Folder, Some(true)) => self.start_server(candidate),
            (Trust::Nothing, _) | (_, Some(false)) => {}
            (Trust::Asks | Trust::Folder, None) => self.ask_about(candidate),
        }
    }

    /// Starts a server, unless it runs in that folder.
    pub(crate) fn start_server(&mut self, candidate: &Candidate) {
        let profile = &candidate.launch.profile;
        let is_it = |link: &Link| link.name == profile.name && link.root == profile.root;
        if self.past.meaning.links.iter().any(is_it) {
            return;
        }
        let id = ServerId::fresh();
        let sink = self.tasks.worker_sink(About::new("a language server"), |news| Payload::Server(Box::new(news)));
        let sink = move |report: snarvel_task::Report<_>| {
            sink(match report {
                snarvel_task::Report::News(news) => snarvel_task::Report::News((id, news)),
                snarvel_task::Report::Done => snarvel_task::Report::Done,
                snarvel_task::Report::Panicked(why) => snarvel_task::Report::Panicked(why),
            });
        };
        let server = Server::start(candidate.launch.clone(), Box::new(sink));
        self.past.meaning.links.push(Link {
            id,
            name: profile.name.clone(),
            root: profile.root.clone(),
            language: candidate.language.clone(),
            server,
            state: State::Starting,
            able: Able::default(),
            progress: None,
            told: HashMap::new(),
            pulled: HashMap::new(),
            pace: Pace { told: Some(Instant::now()), heard: None, owes: Vec::new(), is_unsure: false, is_slow: false },
        });
    }

    /// Texts that were closed, renamed or became another language are left; a server without a text is ended.
    fn leave_texts(&mut self) {
        let buffers = &self.buffers;
        let path_of = |id: BufferId| buffers.iter().find(|buffer| buffer.id == id).and_then(Buffer::path);
        let meaning = &mut self.past.meaning;
        meaning.seats.retain(|id, _| buffers.iter().any(|buffer| buffer.id == *id));
        let mut over = Vec::new();
        for link in &mut meaning.links {
            let had_texts = !link.told.is_empty();
            link.told.retain(|id, told| {
                let stays = path_of(*id) == Some(&told.path);
                if !stays {
                    link.server.give(Input::Close(told.path.clone()));
                }
                stays
            });
            if had_texts && link.told.is_empty() {
                over.push(link.id);
            }
        }
        for id in over {
            self.end_server(id);
        }
    }

    /// Ends a server.
    pub(crate) fn end_server(&mut self, id: ServerId) {
        self.past.meaning.links.retain(|link| link.id != id);
        self.forget_faults(crate::meaning::faults::FaultSource::Server(id));
        self.refuse_of(id);
    }

    /// The servers that there are for the text `id`, as far as that is known.
    fn candidates_of(&self, id: BufferId) -> &[Candidate] {
        match self.past.meaning.seats.get(&id).map(|seat| &seat.state) {
            Some(SeatState::Known(candidates)) => candidates,
            _ => &[],
        }
    }

    /// Whether `link` is one of the servers of the text `id`.
    fn serves(&self, link: &Link, id: BufferId) -> bool {
        self.candidates_of(id)
            .iter()
            .any(|each| each.launch.profile.name == link.name && each.launch.profile.root == link.root)
    }

    /// Tells the servers of a text what has changed in it.
    pub(crate) fn tell_servers(&mut self, id: BufferId) {
        let serving: Vec<bool> = self.past.meaning.links.iter().map(|link| self.serves(link, id)).collect();
        let Some(buffer) = self.buffers.iter().find(|buffer| buffer.id == id) else { return };
        let Some(path) = buffer.path().filter(|_| !buffer.is_partial()) else { return };
        for (link, _) in self.past.meaning.links.iter_mut().zip(serving).filter(|(_, serves)| *serves) {
            let revision = buffer.revision();
            let input = match link.told.get(&id) {
                None => Some(Input::Open {
                    path: path.to_owned(),
                    language: protocol_name(&buffer.language().name),
                    text: buffer.text().clone(),
                    revision,
                }),
                Some(told) if told.revision == revision => None,
                Some(told) => Some(match buffer.feed().since(told.revision) {
                    Since::Changes(entries) => {
                        let changes = entries.iter().map(|entry| entry.change.clone()).collect();
                        Input::Change(path.to_owned(), changes, revision)
                    }
                    Since::Lost => Input::Replace(path.to_owned(), buffer.text().clone(), revision),
                }),
            };
            let Some(input) = input else { continue };
            link.server.give(input);
            link.told.insert(id, Told { path: path.to_owned(), revision });
            link.pace.told = Some(Instant::now());
            if !link.pace.owes.contains(&id) {
                link.pace.owes.push(id);
            }
        }
    }

    /// A text was saved.
    pub(crate) fn tell_saved(&mut self, id: BufferId) {
        self.tell_servers(id);
        let path = self.buffer(id).and_then(Buffer::path).map(Path::to_owned);
        self.tell_names_of_disk(path.into_iter().collect());
        for link in &mut self.past.meaning.links {
            if let Some(told) = link.told.get(&id) {
                link.server.give(Input::Saved(told.path.clone()));
            }
        }
    }

    /// The servers that know the text `id`, in their order.
    pub(crate) fn links_of(&self, id: BufferId) -> impl Iterator<Item = &Link> {
        self.past.meaning.links.iter().filter(move |link| link.told.contains_key(&id))
    }

    /// The server known by `id`.
    pub(crate) fn link(&self, id: ServerId) -> Option<&Link> {
        self.past.meaning.links.iter().find(|link| link.id == id)
    }

    pub(crate) fn link_mut(&mut self, id: ServerId) -> Option<&mut Link> {
        self.past.meaning.links.iter_mut().find(|link| link.id == id)
    }

    /// The servers that run, or failed to.
    #[must_use]
    pub fn servers(&self) -> Vec<ServerTold> {
        let told = |link: &Link| ServerTold {
            name: link.name.clone(),
            state: link.state.clone(),
            language: link.language.clone(),
            progress: link.progress.clone(),
        };
        self.past.meaning.links.iter().map(told).collect()
    }

    /// The logs of the servers of the active text, each with its name.
    #[must_use]
    pub fn server_logs(&self) -> Vec<(String, String)> {
        let all = self.past.meaning.links.iter();
        all.map(|link| (link.name.clone(), link.server.mailbox.log())).collect()
    }

    /// Starts the servers of the active text again, those too that failed.
    pub fn restart_servers(&mut self) {
        let id = self.active().id;
        let candidates = self.candidates_of(id).to_vec();
        let links = self.past.meaning.links.iter();
        let old: Vec<ServerId> = links.filter(|link| self.serves(link, id)).map(|link| link.id).collect();
        old.into_iter().for_each(|id| self.end_server(id));
        self.past.meaning.consents.asked.clear();
        self.past.meaning.consents.is_quiet = false;
        candidates.iter().for_each(|candidate| self.start_if_trusted(candidate));
        if candidates.is_empty() {
            let language = self.active().language().title.clone();
            self.say(format!("no language server for {language} is known here: snarvel doctor lists those that are"));
        }
    }

    /// Ends all servers, waiting a moment for them.
    pub fn end_servers(&mut self) {
        let links = std::mem::take(&mut self.past.meaning.links);
        links.iter().for_each(|link| link.server.give(Input::End));
        let until = Instant::now() + waits::END_SERVERS;
        links.into_iter().for_each(|link| link.server.end(until.saturating_duration_since(Instant::now())));
    }
}

/// The servers that there are for a text in `language` at `path`. It looks at the disk.
fn candidates(table: &Table, (language, path): (&Language, &Path), folder: &Path) -> Vec<Candidate> {
    let is_found = |command: &str| find_command(command).is_some();
    let candidate = |row: snarvel_servers::table::Row| {
        let root = root_of(path, &row.root, folder);
        let command = find_command(&row.command).unwrap_or_else(|| PathBuf::from(&row.command));
        let profile = Profile { name: row.name, root, settings: row.settings };
        Candidate {
            launch: Launch { profile, command, args: row.args, env: row.env },
            language: language.title.clone(),
        }
    };
    table.of(&language.name, &is_found).into_iter().map(candidate).collect()
}
