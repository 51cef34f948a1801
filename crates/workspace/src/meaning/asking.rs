//! Inquiries about the name at the caret: a server is asked where one can answer, else the names of the project, or its files.

use super::finding::{By, Finding, Topic};
use crate::arrival::Arrival;
use crate::buffer::Buffer;
use crate::editing::Effects;
use crate::ids::ServerId;
use crate::notice::Notice;
use crate::state::meaning::{Goal, Inquiry, Stage};
use crate::workspace::Workspace;
use snarvel_core::languages::lexical::Syntax;
use snarvel_core::text::place::Place;
use snarvel_core::units::Span;
use snarvel_files::search::FileHits;
use snarvel_servers::ask::{Ask, At, Find};
use snarvel_servers::news::Answer;
use std::path::Path;

impl Topic {
    /// What a server is asked.
    fn ask(self, at: At) -> Ask {
        match self {
            Topic::Definition => Ask::Find(Find::Definition, at),
            Topic::Declaration => Ask::Find(Find::Declaration, at),
            Topic::Type => Ask::Find(Find::Type, at),
            Topic::Implementation => Ask::Find(Find::Implementation, at),
            Topic::Uses => Ask::Find(Find::Uses, at),
            Topic::Relations => Ask::Callable(at),
            Topic::Describe => Ask::Describe(at),
        }
    }
}

impl Workspace {
    /// The name at the primary caret: its span, in the text of the view with the keys.
    #[must_use]
    pub fn name_at_caret(&self) -> Option<Span> {
        let (buffer, view) = (self.active(), self.view());
        let primary = view.cursors().primary();
        let text = buffer.text();
        let language = buffer.parsing.kinds(text).language_at(primary.head);
        let rule = language.word_rule();
        let word = match primary.is_caret() {
            true => text.word_at(primary.head, rule)?,
            false => primary.span(),
        };
        let is_name = word.len() <= LONGEST_NAME && text.slice(word).chars().any(char::is_alphanumeric);
        is_name.then_some(word)
    }

    /// Asks about the name at the caret, for a panel; the number that the finding bears.
    pub fn inquire(&mut self, topic: Topic) -> Option<u64> {
        self.begin_inquiry(topic, Goal::Show)
    }

    /// Goes to where the name at the caret is defined, or the like.
    pub fn jump_to(&mut self, topic: Topic) -> Effects {
        match self.begin_inquiry(topic, Goal::Jump) {
            Some(_) => Effects::default(),
            None => Effects { is_refused: true, ..Effects::saying(NO_NAME) },
        }
    }

    fn begin_inquiry(&mut self, topic: Topic, goal: Goal) -> Option<u64> {
        let word = self.name_at_caret()?;
        let buffer = self.active();
        let (id, revision) = (buffer.id, buffer.revision());
        let name = buffer.text().slice(word).into_owned();
        let path = buffer.path().map(Path::to_owned);
        // One at a time: what was asked before has lost its place.
        if goal == Goal::Jump {
            self.past.meaning.asked.inquiries.retain(|each| each.goal != Goal::Jump);
        }
        self.tell_servers(id);
        let ask = path.map(|path| topic.ask(At { path, byte: word.start }));
        let server = ask.as_ref().and_then(|ask| self.server_for(id, ask));
        let mut inquiry = Inquiry { number: 0, topic, buffer: id, revision, word, name, goal, stage: Stage::Index };
        let number = match (server, ask) {
            (Some(server), Some(ask)) => {
                inquiry.stage = Stage::Server(server);
                self.ask_server(server, ask)
            }
            _ => self.next_question(),
        };
        let inquiry = Inquiry { number, ..inquiry };
        match inquiry.stage {
            Stage::Server(_) => self.past.meaning.asked.inquiries.push(inquiry),
            _ => self.inquire_by_name(inquiry),
        }
        Some(number)
    }

    /// The inquiries that wait for a server.
    pub(crate) fn inquiries_of(&self, server: ServerId) -> Vec<u64> {
        let waits = |each: &&Inquiry| matches!(each.stage, Stage::Server(of) if of == server);
        self.past.meaning.asked.inquiries.iter().filter(waits).map(|each| each.number).collect()
    }

    pub(crate) fn take_inquiry(&mut self, number: u64) -> Option<Inquiry> {
        let list = &mut self.past.meaning.asked.inquiries;
        let at = list.iter().position(|each| each.number == number)?;
        Some(list.remove(at))
    }

    /// Nothing of the open panel's inquiries is wanted any more.
    pub fn drop_inquiries(&mut self) {
        self.past.meaning.asked.inquiries.retain(|each| each.goal != Goal::Show);
    }

    /// A server has answered an inquiry. Where it knows nothing the names are asked.
    pub(crate) fn take_inquiry_answer(&mut self, server: ServerId, number: u64, answer: Answer) {
        let Some(inquiry) = self.take_inquiry(number) else { return };
        let by = self.by(server);
        let is_stale = self.buffer(inquiry.buffer).is_none_or(|buffer| buffer.revision() != inquiry.revision);
        match answer {
            _ if is_stale => self.finish_stale(&inquiry),
            Answer::Stale => self.finish_stale(&inquiry),
            Answer::Places(files) if !files.is_empty() => {
                let files = files.into_iter().map(|file| self.in_folder(file)).collect();
                let finding = Finding { files, ..inquiry.nothing(by) };
                self.finish_places(inquiry, finding, server);
            }
            Answer::Text(text) if !text.is_empty() => {
                let finding = Finding { text, ..inquiry.nothing(by) };
                self.finish(&inquiry, finding);
            }
            Answer::Calls(calls) if !calls.is_empty() => self.ask_for_calls(inquiry, server, calls),
            _ if inquiry.topic == Topic::Relations => self.ask_for_parts(inquiry, server),
            _ => self.inquire_by_name(inquiry),
        }
    }

    /// Where it is used, a server is asked as well which uses read and which write.
    fn finish_places(&mut self, inquiry: Inquiry, finding: Finding, server: ServerId) {
        let path = self.buffer(inquiry.buffer).and_then(Buffer::path).map(Path::to_owned);
        let ask = path.map(|path| Ask::Highlights(At { path, byte: inquiry.word.start }));
        let can = |ask: &Ask| self.link(server).is_some_and(|link| ask.suits(&link.able));
        match ask.filter(|ask| inquiry.topic == Topic::Uses && can(ask)) {
            Some(ask) => {
                let number = inquiry.number;
                self.past.meaning.asked.inquiries.push(inquiry);
                self.keep_finding(finding);
                let errand = crate::state::meaning::Errand::Highlights { inquiry: number };
                self.send_errand_to(server, ask, errand);
            }
            None => self.finish(&inquiry, finding),
        }
    }

    /// Which uses in the text read and which write.
    pub(crate) fn take_accesses(&mut self, number: u64, answer: Answer) {
        let Some((inquiry, mut finding)) = self.take_inquiry(number).zip(self.kept_finding(number)) else { return };
        if let Answer::Highlights(accesses) = answer {
            finding.accesses = accesses;
        }
        self.finish(&inquiry, finding);
    }

    fn finish_stale(&mut self, inquiry: &Inquiry) {
        if inquiry.goal == Goal::Jump {
            self.say("the text was changed meanwhile: ask again");
        } else {
            let finding = inquiry.nothing(By::Index);
            self.told.notices.push(Notice::Found(Box::new(finding)));
        }
    }

    /// That a server has said something.
    pub(crate) fn by(&self, server: ServerId) -> By {
        By::Meaning(self.link(server).map_or_else(String::new, |link| link.name.clone()))
    }

    /// Hits of a file, its path as the rest of the program has it: from the folder of the project.
    pub(crate) fn in_folder(&self, file: FileHits) -> FileHits {
        let path = file.path.strip_prefix(&self.project.folder).map(Path::to_owned).unwrap_or(file.path);
        FileHits { path, hits: file.hits }
    }

    /// An inquiry has come to its end: the panel gets what was found, or the caret goes there.
    pub(crate) fn finish(&mut self, inquiry: &Inquiry, finding: Finding) {
        match inquiry.goal {
            Goal::Show => self.told.notices.push(Notice::Found(Box::new(finding))),
            Goal::Jump => self.jump(inquiry, &finding),
        }
    }

    fn jump(&mut self, inquiry: &Inquiry, finding: &Finding) {
        let head = self.view().cursors().primary().head;
        let is_at_name = inquiry.word.start <= head && head <= inquiry.word.end;
        let is_same = self.active().id == inquiry.buffer && self.active().revision() == inquiry.revision;
        let is_here = is_same && is_at_name;
        let Some((path, hit)) = finding.each().next() else {
            self.say(inquiry.topic.nothing(&inquiry.name));
            return;
        };
        if !is_here {
            self.say("the place was left or changed meanwhile: ask again");
            return;
        }
        let (path, span, line) = (path.to_owned(), hit.span, hit.line + 1);
        let of = if finding.places() > 1 { format!(" (1 of {})", finding.places()) } else { String::new() };
        let name = crate::buffer::name_of(&path);
        self.go_to_file(&path, span);
        self.say(format!("{}: {name} line {line}{of}, {}", inquiry.name, finding.by.told()));
    }

    /// Shows the file at `path`, which is named from the folder of the project or as a whole, and goes to the start of `span` in it.
    pub fn go_to_file(&mut self, path: &Path, span: Span) {
        let path = self.project.folder.join(path);
        self.places.is_asked_for = true;
        self.open(&path);
        self.go_to_span(span);
    }

    /// Goes to the start of `span` in the active text.
    pub(crate) fn go_to_span(&mut self, span: Span) {
        self.places.is_asked_for = true;
        let (buffer, view) = self.active_pair_mut();
        view.go(buffer, Arrival::Place(Place::Byte(span.start)));
    }
}

/// What is said where there is no name.
pub const NO_NAME: &str = "no name here";

/// Longer names are none, in bytes.
const LONGEST_NAME: usize = 200;
