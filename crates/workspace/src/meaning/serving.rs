//! Questions to servers and their answers: what is handed over, and to whom an answer goes.

use crate::ids::{BufferId, ServerId};
use crate::meaning::faults::FaultSource;
use crate::notice::Notice;
use crate::state::meaning::{Errand, Link};
use crate::workspace::Workspace;
use snarvel_servers::ask::Ask;
use snarvel_servers::exchange::Input;
use snarvel_servers::news::{Answer, Certainty, FileFaults, News, State};
use std::time::Instant;

impl Workspace {
    /// A number for a question.
    pub(crate) fn next_question(&mut self) -> u64 {
        self.past.meaning.asked.next += 1;
        self.past.meaning.asked.next
    }

    /// The first server of the text `id` that can answer `ask`. One that is still starting is asked, too: it says when it cannot.
    pub(crate) fn server_for(&self, id: BufferId, ask: &Ask) -> Option<ServerId> {
        let can = |link: &&Link| match link.state {
            State::Ready | State::Silent => ask.suits(&link.able),
            State::Starting => true,
            State::Failed(_) | State::Ended => false,
        };
        self.links_of(id).find(can).map(|link| link.id)
    }

    /// Asks a server, which is told of all changes before; the number that the answer bears.
    pub(crate) fn ask_server(&mut self, server: ServerId, ask: Ask) -> u64 {
        let number = self.next_question();
        if let Some(link) = self.link_mut(server) {
            link.server.give(Input::Ask(number, ask));
            link.pace.told = Some(Instant::now());
        }
        number
    }

    /// Asks the first server of the text that can answer; whether there is one.
    pub(crate) fn send_errand(&mut self, id: BufferId, ask: Ask, errand: impl FnOnce(ServerId) -> Errand) -> bool {
        self.tell_servers(id);
        let Some(server) = self.server_for(id, &ask) else { return false };
        let number = self.ask_server(server, ask);
        self.past.meaning.asked.errands.insert(number, (server, errand(server)));
        true
    }

    /// Asks a server that is known already.
    pub(crate) fn send_errand_to(&mut self, server: ServerId, ask: Ask, errand: Errand) {
        let number = self.ask_server(server, ask);
        self.past.meaning.asked.errands.insert(number, (server, errand));
    }

    /// Errands for which `is_old` are not wanted any more.
    pub(crate) fn cancel_errands(&mut self, is_old: impl Fn(&Errand) -> bool) {
        let old: Vec<(u64, ServerId)> = self
            .past
            .meaning
            .asked
            .errands
            .iter()
            .filter(|(_, (_, errand))| is_old(errand))
            .map(|(number, (server, _))| (*number, *server))
            .collect();
        for (number, server) in old {
            self.past.meaning.asked.errands.remove(&number);
            if let Some(link) = self.link_mut(server) {
                link.server.give(Input::Cancel(number));
            }
        }
    }

    /// What was asked of a server that was ended is refused.
    pub(crate) fn refuse_of(&mut self, server: ServerId) {
        let why = || Answer::Refused("its server was ended".to_owned());
        let errands = &mut self.past.meaning.asked.errands;
        let numbers: Vec<u64> =
            errands.iter().filter(|(_, (of, _))| *of == server).map(|(number, _)| *number).collect();
        for number in numbers {
            self.take_server_answer(server, number, why());
        }
        for number in self.inquiries_of(server) {
            self.take_server_answer(server, number, why());
        }
    }

    /// Takes in what a server tells.
    pub(crate) fn take_server_news(&mut self, server: ServerId, news: News) {
        let Some(link) = self.link_mut(server) else { return };
        link.pace.heard = Some(Instant::now());
        link.pace.is_slow = false;
        match news {
            News::State(state) => self.take_state(server, state),
            News::Able(able) => {
                link.able = able;
                self.past.meaning.call = None;
                self.ask_server_for_offers(server);
            }
            News::Faults => {
                let faults = link.server.mailbox.take_faults();
                for each in faults {
                    self.note_faults_told(server, &each);
                    self.take_faults(FaultSource::Server(server), each);
                }
                self.told.notices.push(Notice::Faults);
            }
            News::Answer(number, answer) => self.take_server_answer(server, number, answer),
            News::WantsEdits(number, edits) => self.carry_out_for(server, number, edits),
            News::Question { number, message, choices } => {
                let name = link.name.clone();
                self.told.notices.push(Notice::ServerAsks {
                    server,
                    number,
                    message: format!("{name}: {message}"),
                    choices,
                });
            }
            News::Told(said) => self.say(said),
            News::Progress(progress) => link.progress = progress,
        }
    }

    fn take_state(&mut self, server: ServerId, state: State) {
        let Some(link) = self.link_mut(server) else { return };
        let said = match &state {
            State::Silent => Some(format!("{} does not answer", link.name)),
            State::Failed(why) => Some(format!("{} does not run: {why}", link.name)),
            State::Starting | State::Ready | State::Ended => None,
        };
        let is_down = matches!(state, State::Failed(_) | State::Ended);
        if is_down {
            link.pace.owes.clear();
        }
        link.state = state;
        if is_down {
            self.forget_faults(FaultSource::Server(server));
        }
        said.into_iter().for_each(|said| self.say(said));
        self.told.notices.push(Notice::Servers);
    }

    fn note_faults_told(&mut self, server: ServerId, faults: &FileFaults) {
        let path = &faults.path;
        let Some(link) = self.link_mut(server) else { return };
        link.pace.is_unsure = faults.certainty == Certainty::Unsure && !faults.list.is_empty();
        let told: Vec<BufferId> = link.told.iter().filter(|(_, told)| told.path == *path).map(|(id, _)| *id).collect();
        link.pace.owes.retain(|id| !told.contains(id));
    }

    /// Takes in an answer.
    fn take_server_answer(&mut self, server: ServerId, number: u64, answer: Answer) {
        if let Some((_, errand)) = self.past.meaning.asked.errands.remove(&number) {
            self.take_errand(errand, answer);
        } else {
            self.take_inquiry_answer(server, number, answer);
        }
    }

    fn take_errand(&mut self, errand: Errand, answer: Answer) {
        match errand {
            Errand::Edits { verb, buffer, revision } => self.take_edits(verb, (buffer, revision), answer),
            Errand::Imports { buffer, revision, server } => self.take_imports((buffer, revision), server, answer),
            Errand::Format { buffer, revision, then } => self.take_layout((buffer, revision), then, answer),
            Errand::Fixes { question, server } => self.take_fixes(question, server, answer),
            Errand::Fix { server } => self.take_fix(server, answer),
            Errand::Offers { question, server } => self.take_server_offers(question, server, answer),
            Errand::Offer { ticket } => self.take_rest_of_offer(ticket, answer),
            Errand::Late { ticket, of } => self.take_late(ticket, of, answer),
            Errand::Signature { buffer, revision, at } => self.take_signature((buffer, revision), at, answer),
            Errand::Tokens { buffer } => self.take_kinds(buffer, answer),
            Errand::Calls { inquiry, way } => self.take_calls(inquiry, way, answer),
            Errand::Parts { inquiry, server } => self.take_parts(inquiry, server, answer),
            Errand::Names { number } => self.take_server_names(number, answer),
            Errand::Highlights { inquiry } => self.take_accesses(inquiry, answer),
            Errand::Command | Errand::Faults => {
                if let Answer::Refused(why) = answer {
                    self.say(why);
                }
            }
        }
    }

    /// What was chosen of what a server asked; none where it was left.
    pub fn answer_server(&mut self, server: ServerId, number: u64, choice: Option<String>) {
        if let Some(link) = self.link_mut(server) {
            link.server.give(Input::Chosen(number, choice));
        }
    }

    /// Whether something was asked whose answer may change a text or show something: not what only colours it.
    #[must_use]
    pub fn has_asked_for_meaning(&self) -> bool {
        let meaning = &self.past.meaning;
        let is_quiet = |errand: &Errand| {
            let comes_by_itself = matches!(errand, Errand::Tokens { .. } | Errand::Signature { .. } | Errand::Faults);
            comes_by_itself || matches!(errand, Errand::Offers { .. } | Errand::Offer { .. })
        };
        let is_working = !meaning.jobs.working.is_empty()
            || meaning.jobs.renaming.is_some()
            || meaning.jobs.formatting.is_some()
            || !meaning.asked.inquiries.is_empty();
        is_working || meaning.asked.errands.values().any(|(_, errand)| !is_quiet(errand))
    }

    /// Whether something of meaning is under way that a script waits for, and until when.
    #[must_use]
    pub fn awaits_meaning(&self) -> Option<Instant> {
        use snarvel_task::waits::SERVER_WAIT;
        let meaning = &self.past.meaning;
        let now = Instant::now();
        let is_looking =
            meaning.seats.values().any(|seat| matches!(seat.state, crate::state::meaning::SeatState::Looking { .. }));
        let is_working =
            !meaning.jobs.working.is_empty() || meaning.jobs.renaming.is_some() || meaning.jobs.formatting.is_some();
        if is_looking || is_working || self.awaits_names() {
            return Some(now + SERVER_WAIT);
        }
        let waits = meaning.links.iter().filter_map(|link| self.wait_for(link));
        waits.map(|wait| wait.until).filter(|until| *until > now).max()
    }

    /// How long a server is waited for; not at all where it let a wait run out before or has ended.
    fn wait_for(&self, link: &Link) -> Option<Wait> {
        use snarvel_task::waits::{SERVER_QUIET, SERVER_START, SERVER_SURE, SERVER_WAIT};
        if link.pace.is_slow || matches!(link.state, State::Failed(_) | State::Ended) {
            return None;
        }
        let told = link.pace.told?;
        let heard = link.pace.heard.map_or(told, |heard| heard.max(told));
        let errands = &self.past.meaning.asked.errands;
        let has_asked =
            errands.values().any(|(server, _)| *server == link.id) || !self.inquiries_of(link.id).is_empty();
        let is_busy = has_asked || !link.pace.owes.is_empty() || link.progress.is_some();
        let (until, then) = match link.state {
            State::Starting => (told + SERVER_START, Then::IsSlow),
            _ if is_busy => (heard.min(told + SERVER_WAIT) + SERVER_WAIT, Then::IsSlow),
            _ if link.pace.is_unsure => (heard + SERVER_SURE, Then::HasSaidAll),
            _ => (heard + SERVER_QUIET, Then::HasSaidAll),
        };
        Some(Wait { until, then })
    }

    /// A wait has run out: servers that still owe something are not waited for until they tell something.
    pub fn give_up_waiting(&mut self) {
        let is_slow = |link: &&Link| {
            let wait = self.wait_for(link);
            wait.is_some_and(|wait| wait.then == Then::IsSlow && wait.until <= Instant::now())
        };
        let slow: Vec<ServerId> = self.past.meaning.links.iter().filter(is_slow).map(|link| link.id).collect();
        for id in slow {
            let Some(link) = self.link_mut(id) else { continue };
            link.pace.is_slow = true;
            link.pace.owes.clear();
        }
    }
}

/// How long a server is waited for.
struct Wait {
    until: Instant,
    then: Then,
}

/// What is true of a server that has told nothing until the end of a wait.
#[derive(PartialEq, Eq)]
enum Then {
    /// It is slow.
    IsSlow,
    /// It has nothing more to tell.
    HasSaidAll,
}
