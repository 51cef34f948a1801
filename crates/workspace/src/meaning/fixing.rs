//! What mends what is wrong, and what else a server can do about a place: offered at the caret, seen in the text before it is taken.

use super::applying::Plan;
use crate::editing::Effects;
use crate::ids::ServerId;
use crate::offering::answering::{Answer as Offered, Turn};
use crate::offering::seen::Seen;
use crate::state::meaning::{Errand, Given, OfferedFix};
use crate::state::offering::{About, Called};
use crate::workspace::Workspace;
use snarvel_core::offers::matching::Letters;
use snarvel_core::offers::{Candidate, Nearness, Source};
use snarvel_core::units::Span;
use snarvel_servers::ask::Ask;
use snarvel_servers::news::{Answer, Edits, Fix};
use std::path::Path;

impl Workspace {
    /// Asks what can be done about the place of the primary cursor; what comes is offered.
    pub fn ask_for_fixes(&mut self) -> Effects {
        let question = self.open_fixes(Called::Chosen);
        match self.ask_servers_for_fixes(question) {
            true => Effects::default(),
            false => {
                self.drop_offers();
                Effects { is_refused: true, ..Effects::saying("no language server here tells what can be done") }
            }
        }
    }

    /// Asks the servers of the active text; whether there is one that can tell.
    pub(crate) fn ask_servers_for_fixes(&mut self, question: u64) -> bool {
        let buffer = self.active();
        let (id, span) = (buffer.id, self.span_to_mend());
        let Some(path) = buffer.path().map(Path::to_owned) else { return false };
        self.send_errand(id, Ask::Fixes(path, span), |server| Errand::Fixes { question, server })
    }

    /// The selection, or the fault at the caret, or the caret.
    fn span_to_mend(&self) -> Span {
        let primary = self.view().cursors().primary();
        if !primary.is_caret() {
            return primary.span();
        }
        let holds = |span: Span| span.start <= primary.head && primary.head <= span.end;
        let faults = self.faults_in(self.active());
        faults.iter().map(|here| here.span).find(|span| holds(*span)).unwrap_or(Span::at(primary.head))
    }

    /// A server has told what can be done.
    pub(crate) fn take_fixes(&mut self, question: u64, server: ServerId, answer: Answer) {
        let fixes = match answer {
            Answer::Fixes(fixes) => fixes,
            Answer::Refused(why) => {
                self.say(why);
                Vec::new()
            }
            _ => Vec::new(),
        };
        let candidate = |(order, fix): (usize, Fix)| {
            let kind = if fix.kind.starts_with("quickfix") || fix.kind.is_empty() { "fix" } else { "change" };
            let title = fix.title.clone();
            let ticket = self.give(Given::Fix(Box::new(OfferedFix { server, fix })));
            Candidate { kind, order, ticket: Some(ticket), ..Candidate::of(Source::Fix, title, Nearness::Elsewhere) }
        };
        let candidates: Vec<Candidate> = fixes.into_iter().enumerate().map(candidate).collect();
        let is_open = self.past.offering.asked.as_ref().is_some_and(|asked| asked.number == question);
        let about = self.past.offering.asked.as_ref().map(|asked| asked.about);
        let called = self.past.offering.asked.as_ref().map(|asked| asked.called);
        if is_open && candidates.is_empty() && about == Some(About::Fixes) {
            if called == Some(Called::Chosen) {
                self.drop_offers();
                return self.say("no fix is known for this");
            }
            return self.ask_instead_of_fixes();
        }
        let turn = if about == Some(About::Around) { Turn::Later } else { Turn::First };
        self.take_answer(Offered::of(question, candidates, (&Letters::default(), turn)));
    }

    /// Carries a fix out.
    pub(crate) fn put_fix(&mut self, offered: &OfferedFix) -> Effects {
        let OfferedFix { server, fix } = offered;
        match (&fix.edits, &fix.command, &fix.ticket) {
            (None, _, Some(ticket)) if self.can_tell_rest(*server) => {
                let errand = Errand::Fix { server: *server };
                self.send_errand_to(*server, Ask::Fix(ticket.clone()), errand);
            }
            (edits, command, _) => self.do_fix(*server, (&fix.title, edits.clone()), command.clone()),
        }
        Effects::default()
    }

    fn can_tell_rest(&self, server: ServerId) -> bool {
        self.link(server).is_some_and(|link| link.able.has("codeAction.resolve"))
    }

    /// The rest of a fix has come.
    pub(crate) fn take_fix(&mut self, server: ServerId, answer: Answer) {
        match answer {
            Answer::Fix(fix) => self.do_fix(server, (&fix.title, fix.edits.clone()), fix.command.clone()),
            Answer::Refused(why) => self.say(format!("nothing was changed: {why}")),
            _ => self.say("nothing was changed: the text was changed meanwhile"),
        }
    }

    pub(crate) fn do_fix(
        &mut self,
        server: ServerId,
        (title, edits): (&str, Option<Edits>),
        command: Option<serde_json::Value>,
    ) {
        let has_edits = edits.is_some();
        if let Some(edits) = edits {
            self.begin_edits(edits, Plan::of("fix", title.to_owned()));
        }
        match command {
            Some(command) => self.send_errand_to(server, Ask::Run(command), Errand::Command),
            None if !has_edits => self.say(format!("{title}: nothing to change")),
            None => {}
        }
    }

    /// What a fix would change in the active text, within `span`, as it is seen before it is taken.
    #[must_use]
    pub(crate) fn fix_seen(&self, fix: &Fix, span: Span) -> Vec<Seen> {
        let (Some(edits), Some(path)) = (&fix.edits, self.active().path()) else { return Vec::new() };
        let own = edits.files.iter().filter(|file| file.path == path).flat_map(|file| &file.edits);
        let in_view = own.filter(|(gone, _)| gone.start <= span.end && gone.end >= span.start);
        let seen = |(gone, come): &(Span, String)| {
            let mut lines = come.trim_end_matches(['\n', '\r']).lines();
            let first = lines.next().unwrap_or_default().to_owned();
            let more = lines.count();
            let come = if more > 0 { format!("{first} … {more} more") } else { first };
            Seen { at: gone.end, gone: *gone, come }
        };
        in_view.map(seen).collect()
    }
}
