//! What calls a name and what it calls, as servers know it.

use super::finding::{Finding, Relation};
use crate::buffer::Buffer;
use crate::ids::ServerId;
use crate::state::meaning::{Errand, Inquiry};
use crate::workspace::Workspace;
use snarvel_servers::ask::{Ask, Calls};
use snarvel_servers::news::{Answer, Call, Symbol};
use std::path::Path;

impl Workspace {
    /// What is at the caret can be called: the server is asked what calls it and what it calls.
    pub(crate) fn ask_for_calls(&mut self, inquiry: Inquiry, server: ServerId, items: Vec<Call>) {
        let Some(item) = items.into_iter().next() else { return };
        let number = inquiry.number;
        let by = self.by(server);
        let finding = inquiry.nothing(by);
        self.keep_finding(finding);
        self.past.meaning.asked.inquiries.push(inquiry);
        for way in [Calls::Incoming, Calls::Outgoing] {
            let errand = Errand::Calls { inquiry: number, way };
            self.send_errand_to(server, Ask::Calls(way, item.ticket.clone()), errand);
        }
    }

    /// One of the two answers has come.
    pub(crate) fn take_calls(&mut self, number: u64, way: Calls, answer: Answer) {
        let is_last = !self
            .past
            .meaning
            .asked
            .errands
            .values()
            .any(|(_, errand)| matches!(errand, Errand::Calls { inquiry, .. } if *inquiry == number));
        let Some(mut finding) = self.kept_finding(number) else { return };
        if let Answer::Calls(calls) = answer {
            let how = if way == Calls::Incoming { "calls it" } else { "is called" };
            let relations: Vec<Relation> = calls.into_iter().map(|call| self.relation(how, call)).collect();
            finding.relations.extend(relations);
        }
        if !is_last {
            self.keep_finding(finding);
            return;
        }
        let Some(inquiry) = self.take_inquiry(number) else { return };
        if finding.relations.is_empty() { self.inquire_by_name(inquiry) } else { self.finish(&inquiry, finding) }
    }

    /// Nothing calls what is at the caret: where it is a type a server is asked for its parts.
    pub(crate) fn ask_for_parts(&mut self, inquiry: Inquiry, server: ServerId) {
        let path = self.buffer(inquiry.buffer).and_then(Buffer::path).map(Path::to_owned);
        let ask = path.map(Ask::Symbols);
        let suits = |ask: &Ask| self.link(server).is_some_and(|link| ask.suits(&link.able));
        match ask.filter(suits) {
            Some(ask) => {
                let errand = Errand::Parts { inquiry: inquiry.number, server };
                self.past.meaning.asked.inquiries.push(inquiry);
                self.send_errand_to(server, ask, errand);
            }
            None => self.inquire_by_name(inquiry),
        }
    }

    /// The names of a text have come: those that are in what the inquiry is about.
    pub(crate) fn take_parts(&mut self, number: u64, server: ServerId, answer: Answer) {
        let Some(inquiry) = self.take_inquiry(number) else { return };
        let symbols = if let Answer::Symbols(symbols) = answer { symbols } else { Vec::new() };
        let part = |symbol: Symbol| Relation {
            how: "part",
            name: symbol.name,
            kind: symbol.kind.to_owned(),
            depth: 0,
            place: self.in_folder(symbol.place),
        };
        let relations: Vec<Relation> =
            symbols.into_iter().filter(|symbol| symbol.container == inquiry.name).map(part).collect();
        if relations.is_empty() {
            return self.inquire_by_name(inquiry);
        }
        let by = self.by(server);
        let finding = Finding { relations, ..inquiry.nothing(by) };
        self.finish(&inquiry, finding);
    }

    fn relation(&self, how: &'static str, call: Call) -> Relation {
        Relation { how, name: call.name, kind: call.kind.to_owned(), depth: 0, place: self.in_folder(call.place) }
    }
}

/// The relations of a finding by how they have to do with the name, in the order in which they came.
#[must_use]
pub fn groups(finding: &Finding) -> Vec<(&'static str, Vec<&Relation>)> {
    let mut groups: Vec<(&'static str, Vec<&Relation>)> = Vec::new();
    for relation in &finding.relations {
        match groups.iter_mut().find(|(how, _)| *how == relation.how) {
            Some((_, list)) => list.push(relation),
            None => groups.push((relation.how, vec![relation])),
        }
    }
    groups
}
