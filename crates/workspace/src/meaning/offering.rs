//! What servers and the names of the project offer at the caret, what is called there, and the kinds of words.
//!
//! They are asked once the frame of the key is drawn, for the same question as the words of the texts; what they have joins the list.

use crate::buffer::Buffer;
use crate::editing::Effects;
use crate::ids::{BufferId, ServerId};
use crate::offering::answering::{Answer as Offered, Turn};
use crate::state::meaning::{Call, Errand, Given, OfferPut};
use crate::state::offering::{About, Called};
use crate::transaction::{Part, Transaction};
use crate::workspace::Workspace;
use snarvel_core::changes::feed::Since;
use snarvel_core::changes::{Change, ChangeBuilder, Edit};
use snarvel_core::languages::lexical::Syntax;
use snarvel_core::languages::scanner::Kind;
use snarvel_core::offers::matching::Letters;
use snarvel_core::offers::{Candidate, Nearness, Source};
use snarvel_core::templates::{Body, parse};
use snarvel_core::units::{Byte, Span};
use snarvel_index::store::Entry;
use snarvel_index::worker::Question;
use snarvel_servers::ask::{Ask, At};
use snarvel_servers::news::{Answer, Offer, OfferForm};
use snarvel_syntax::paints::{Paint, Painted, Paints};
use std::path::Path;

/// What is given for offers is kept up to so many.
const MOST_GIVEN: usize = 20_000;

/// Names of the project are offered after so many letters.
const FEWEST_LETTERS: usize = 2;

impl Workspace {
    /// Keeps what is known of an offer; the ticket by which it is found.
    pub(crate) fn give(&mut self, given: Given) -> u64 {
        let ticket = self.next_question();
        if self.past.meaning.given.len() > MOST_GIVEN {
            self.past.meaning.given.clear();
        }
        self.past.meaning.given.insert(ticket, given);
        ticket
    }

    pub(crate) fn given(&self, candidate: &Candidate) -> Option<&Given> {
        self.past.meaning.given.get(&candidate.ticket?)
    }

    /// Asks servers and the names of the project for the question that is open.
    pub(crate) fn ask_others_for_offers(&mut self) {
        let Some(asked) = &self.past.offering.asked else { return };
        let (number, about, letters) = (asked.number, asked.about, asked.letters.clone());
        if about != About::Word {
            return;
        }
        self.cancel_errands(|errand| matches!(errand, Errand::Offers { .. }));
        self.cancel_rest();
        let id = self.active().id;
        self.tell_servers(id);
        let servers: Vec<ServerId> = self.links_of(id).map(|link| link.id).collect();
        servers.into_iter().for_each(|server| self.ask_server_for_offers(server));
        let has_names = self.past.meaning.names.index.is_some() || !self.tasks.has_screen;
        if has_names && letters.as_str().chars().count() >= FEWEST_LETTERS {
            let question = self.next_question();
            self.past.meaning.names.offers = Some((question, number));
            self.ask_names(question, Question::Like(letters.as_str().to_owned()));
        }
    }

    /// Asks a server for the question that is open, if it can tell; also when it has just become ready.
    pub(crate) fn ask_server_for_offers(&mut self, server: ServerId) {
        let Some(asked) = self.past.offering.asked.as_ref().filter(|asked| asked.about == About::Word) else { return };
        let (question, is_bare) = (asked.number, asked.letters.as_str().is_empty());
        let (buffer, view) = (self.active(), self.view());
        let (id, head) = (buffer.id, view.cursors().primary().head);
        let typed = buffer.text().char_before(head);
        let trigger = typed.filter(|c| is_bare && self.triggers(id, *c));
        let Some(path) = buffer.path().map(Path::to_owned) else { return };
        let ask = Ask::Offers(At { path, byte: head }, trigger);
        let suits = self.links_of(id).any(|link| link.id == server && ask.suits(&link.able));
        if suits {
            self.send_errand_to(server, ask, Errand::Offers { question, server });
        }
    }

    /// Whether a server of the text has offers right after `typed`.
    fn triggers(&self, id: BufferId, typed: char) -> bool {
        self.links_of(id).any(|link| link.able.offer_triggers.contains(&typed))
    }

    /// A character was typed in code after which a server may have offers: it is asked.
    pub(crate) fn offer_after(&mut self, typed: &str) -> bool {
        let mut letters = typed.chars();
        let (Some(only), None) = (letters.next(), letters.next()) else { return false };
        let (buffer, view) = (self.active(), self.view());
        let head = view.cursors().primary().head;
        let is_code = buffer.parsing.kinds(buffer.text()).kind_at(head) == Kind::Code;
        let comes = self.project.offers == crate::offering::settings::When::Auto;
        if only.is_alphanumeric() || !is_code || !comes || !self.triggers(buffer.id, only) {
            return false;
        }
        self.ask_only_servers();
        true
    }

    /// What the index knows joins the list.
    pub(crate) fn offer_names(&mut self, question: u64, entries: Vec<Entry>) {
        let Some(letters) = self.letters_of_question(question) else { return };
        let own = self.active().path().map(Path::to_owned);
        let is_elsewhere = |entry: &Entry| Some(self.project.folder.join(&entry.path)) != own;
        let family = snarvel_index::ranking::family(&self.active().language().name).to_owned();
        let is_of_family = |entry: &Entry| {
            let name = entry.path.file_name().unwrap_or_default().to_string_lossy().into_owned();
            snarvel_index::ranking::family(&snarvel_core::languages::detect(&name, "").name) == family
        };
        let candidate = |(order, entry): (usize, Entry)| Candidate {
            kind: entry.definition.kind.name(),
            detail: format!("{}  {}", entry.definition.signature, entry.path.display()),
            order,
            ..Candidate::of(Source::Index, entry.definition.name.clone(), Nearness::Elsewhere)
        };
        let fitting = entries.into_iter().filter(|entry| is_elsewhere(entry) && is_of_family(entry));
        let candidates = fitting.enumerate().map(candidate).collect();
        self.take_answer(Offered::of(question, candidates, (&letters, Turn::Later)));
    }

    fn letters_of_question(&self, question: u64) -> Option<Letters> {
        let asked = self.past.offering.asked.as_ref()?;
        (asked.number == question).then(|| asked.letters.clone())
    }

    /// What a server offers joins the list.
    pub(crate) fn take_server_offers(&mut self, question: u64, server: ServerId, answer: Answer) {
        let Answer::Offers(offers, _) = answer else {
            self.finish_only_servers(question);
            return;
        };
        let Some(letters) = self.letters_of_question(question) else { return };
        let head = self.view().cursors().primary().head;
        let start = head.0.saturating_sub(letters.as_str().len());
        let mut candidates = Vec::with_capacity(offers.len());
        for (order, offer) in offers.into_iter().enumerate() {
            if letters.score(&offer.word).is_none() {
                continue;
            }
            let around = offer
                .place
                .map_or([0, 0], |place| [start.saturating_sub(place.start.0), place.end.0.saturating_sub(head.0)]);
            let detail = match offer.detail.is_empty() {
                true => offer.label.clone(),
                false => format!("{}  {}", offer.label, offer.detail),
            };
            let (kind, word) = (offer.kind, offer.word.clone());
            let is_asked = offer.ticket.is_none();
            let ticket = self.give(Given::Offer { server, offer: Box::new(offer), around, is_asked });
            candidates.push(Candidate {
                kind,
                detail,
                order,
                ticket: Some(ticket),
                ..Candidate::of(Source::Server, word, Nearness::Elsewhere)
            });
        }
        self.take_answer(Offered::of(question, candidates, (&letters, Turn::Later)));
        self.finish_only_servers(question);
    }

    /// Asks the server for all of the offer that is chosen: it may be taken next.
    pub(crate) fn ask_for_rest(&mut self) {
        let Some(chosen) = self.offers().and_then(|shown| shown.chosen()).cloned() else { return };
        let Some(ticket) = chosen.ticket else { return };
        let Some(path) = self.active().path().map(Path::to_owned) else { return };
        let byte = self.view().cursors().primary().head;
        let Some(Given::Offer { server, offer, is_asked, .. }) = self.past.meaning.given.get_mut(&ticket) else {
            return;
        };
        if std::mem::replace(is_asked, true) {
            return;
        }
        let (server, raw) = (*server, offer.ticket.clone());
        self.cancel_rest_but(Some(ticket));
        let ask = raw.map(|raw| Ask::Offer(raw, At { path, byte }));
        let suits = |ask: &Ask| self.link(server).is_some_and(|link| ask.suits(&link.able));
        if let Some(ask) = ask.filter(suits) {
            self.send_errand_to(server, ask, Errand::Offer { ticket });
        }
    }

    /// The rest of offers is not wanted any more: it is asked for anew when one of them is chosen again.
    fn cancel_rest(&mut self) {
        self.cancel_rest_but(None);
    }

    fn cancel_rest_but(&mut self, kept: Option<u64>) {
        let of = |errand: &Errand| match errand {
            Errand::Offer { ticket } => Some(*ticket).filter(|ticket| Some(*ticket) != kept),
            _ => None,
        };
        let tickets: Vec<u64> = self.past.meaning.asked.errands.values().filter_map(|(_, errand)| of(errand)).collect();
        self.cancel_errands(|errand| of(errand).is_some());
        for ticket in tickets {
            if let Some(Given::Offer { is_asked, .. }) = self.past.meaning.given.get_mut(&ticket) {
                *is_asked = false;
            }
        }
    }

    /// Whether the rest of an offer that is taken has been asked for and has not come. Then it is asked for again once the offer is put
    /// in ([`Workspace::ask_late`]).
    pub(crate) fn rest_is_late(&mut self, candidate: &Candidate) -> bool {
        let is_it = |errand: &Errand| matches!(errand, Errand::Offer { ticket } if Some(*ticket) == candidate.ticket);
        let is_late = self.past.meaning.asked.errands.values().any(|(_, errand)| is_it(errand));
        self.cancel_errands(is_it);
        is_late
    }

    /// Asks for what comes along with an offer that was put in already.
    pub(crate) fn ask_late(&mut self, ticket: u64, of: OfferPut) {
        let Some(Given::Offer { server, offer, .. }) = self.past.meaning.given.get(&ticket) else { return };
        let (server, raw) = (*server, offer.ticket.clone());
        let path = self.buffer(of.buffer).and_then(|buffer| buffer.path()).map(Path::to_owned);
        if let (Some(raw), Some(path)) = (raw, path) {
            self.tell_servers(of.buffer);
            let ask = Ask::Offer(raw, At { path, byte: Byte(0) });
            self.send_errand_to(server, ask, Errand::Late { ticket, of });
        }
    }

    /// What comes along with an offer that was put in before it was known, its import for one: a step of its own. Only what is before
    /// all that has changed since is put in, for there the text is still what it was for.
    pub(crate) fn take_late(&mut self, ticket: u64, of: OfferPut, answer: Answer) {
        let rest = match answer {
            Answer::Offer(rest) => rest,
            Answer::Stale => return self.ask_late(ticket, of),
            _ => return,
        };
        let OfferPut { buffer: id, before, step } = of;
        // An offer that was taken back brings nothing.
        let Some(buffer) = self.buffer(id).filter(|buffer| buffer.history().leads_by(step)) else { return };
        let Since::Changes(entries) = buffer.feed().since(before) else { return };
        let first = |change: &Change| change.edits().first().map(Edit::start);
        let same = entries.iter().filter_map(|entry| first(&entry.change)).min().unwrap_or_default();
        let mut change = ChangeBuilder::new(buffer.text());
        for (span, text) in rest.extra.iter().filter(|(span, _)| span.end < same) {
            change.replace(*span, &buffer.settings().line_end.convert(&text.replace("\r\n", "\n")));
        }
        let part = Part { buffer: id, revision: buffer.revision(), change: change.finish() };
        if part.change.is_empty() {
            return;
        }
        let said = match self.commit(Transaction { verb: "offers", parts: vec![part] }) {
            Ok(_) => "what comes along with the offer was put in, too: as a step of its own".to_owned(),
            Err(refusal) => refusal.to_string(),
        };
        self.say(said);
    }

    /// The rest of an offer has come.
    pub(crate) fn take_rest_of_offer(&mut self, ticket: u64, answer: Answer) {
        let Answer::Offer(rest) = answer else { return };
        if let Some(Given::Offer { offer, .. }) = self.past.meaning.given.get_mut(&ticket) {
            let Offer { detail, documentation, extra, .. } = *rest;
            (offer.documentation, offer.extra) = (documentation, extra);
            if !detail.is_empty() {
                offer.detail = detail;
            }
        }
    }

    /// What there is to read about an offer of a server.
    #[must_use]
    pub fn documentation_of(&self, candidate: &Candidate) -> Option<String> {
        match self.given(candidate)? {
            Given::Offer { offer, .. } => {
                let parts = [offer.detail.as_str(), offer.documentation.as_str()];
                Some(parts.into_iter().filter(|part| !part.is_empty()).collect::<Vec<_>>().join("\n\n"))
            }
            Given::Fix(_) => None,
        }
    }

    /// What a server's offer puts in, as a body of a template.
    pub(crate) fn body_of_offer(offer: &Offer) -> Body {
        match offer.form {
            OfferForm::Plain => Body::plain(&offer.text),
            OfferForm::Snippet => parse(&offer.text).unwrap_or_else(|_| Body::plain(&offer.text)),
        }
    }

    /// What is called at the caret, while it is inside the call's brackets.
    #[must_use]
    pub fn call_here(&self) -> Option<&Call> {
        self.past.meaning.call.as_ref().filter(|call| call.buffer == self.active().id)
    }

    /// A command was run: what is called at the caret is asked for, where a call was just begun or is being filled in.
    pub(crate) fn follow_call(&mut self, typed: Option<&str>) {
        let buffer = self.active();
        let (id, revision) = (buffer.id, buffer.revision());
        let head = self.view().cursors().primary().head;
        let begins = typed
            .and_then(|typed| typed.chars().next())
            .is_some_and(|c| self.links_of(id).any(|link| link.able.signature_triggers.contains(&c)));
        if !begins && self.past.meaning.call.is_none() {
            return;
        }
        if !is_in_brackets(buffer, head) {
            self.past.meaning.call = None;
            return;
        }
        let Some(path) = buffer.path().map(Path::to_owned) else { return };
        self.cancel_errands(|errand| matches!(errand, Errand::Signature { .. }));
        let ask = Ask::Signature(At { path, byte: head });
        self.send_errand(id, ask, |_| Errand::Signature { buffer: id, revision, at: head });
    }

    pub(crate) fn take_signature(&mut self, of: (BufferId, u64), at: Byte, answer: Answer) {
        let is_here = self.is_still(of) && self.active().id == of.0 && self.view().cursors().primary().head == at;
        self.past.meaning.call = match answer {
            Answer::Signature(Some(signature)) if is_here => Some(Call { buffer: of.0, signature }),
            _ => None,
        };
    }

    /// Asks for the kinds of the words of the active text, where they are of another revision.
    pub(crate) fn ask_for_kinds(&mut self) {
        let buffer = self.active();
        let (id, revision) = (buffer.id, buffer.revision());
        let known = self.past.meaning.kinds.get(&id);
        if known.is_some_and(|kinds| kinds.asked == revision) || buffer.text().len() > LARGEST_PAINTED {
            return;
        }
        let Some(path) = buffer.path().map(Path::to_owned) else { return };
        let ask = Ask::Tokens(path);
        let suits = self.links_of(id).any(|link| ask.suits(&link.able));
        if !suits {
            return;
        }
        self.cancel_errands(|errand| matches!(errand, Errand::Tokens { .. }));
        self.past.meaning.kinds.entry(id).or_default().asked = revision;
        self.send_errand(id, ask, |_| Errand::Tokens { buffer: id });
    }

    pub(crate) fn take_kinds(&mut self, id: BufferId, answer: Answer) {
        let Answer::Tokens(tokens) = answer else { return };
        let Some(buffer) = self.buffers.iter().find(|buffer| buffer.id == id) else { return };
        let painted = |(span, kind): (Span, String)| Some(Painted { span, paint: paint_of(&kind)? });
        let mut list: Vec<Painted> = tokens.into_iter().filter_map(painted).collect();
        list.sort_by_key(|each| each.span);
        list.dedup_by(|next, last| next.span.start < last.span.end);
        let revision = buffer.revision();
        let paints = Paints { span: buffer.text().span(), list };
        let kinds = self.past.meaning.kinds.entry(id).or_default();
        (kinds.paints, kinds.revision) = (paints, revision);
    }

    /// The kinds of the words of a text, as its server knows them, moved with the changes since. Cost: linear in `span`.
    #[must_use]
    pub fn meant_paints(&self, buffer: &Buffer, span: Span) -> Option<Paints> {
        let kinds = self.past.meaning.kinds.get(&buffer.id)?;
        (kinds.revision == buffer.revision()).then(|| kinds.paints.within(span)).flatten()
    }

    /// Moves the kinds of words with the changes of their texts.
    pub(crate) fn follow_kinds(&mut self) {
        let buffers = &self.buffers;
        self.past.meaning.kinds.retain(|id, kinds| {
            let Some(buffer) = buffers.iter().find(|buffer| buffer.id == *id) else { return false };
            if kinds.revision == buffer.revision() {
                return true;
            }
            match buffer.feed().since(kinds.revision) {
                Since::Changes(entries) => {
                    let edits: usize = entries.iter().map(|entry| entry.change.edits().len()).sum();
                    if edits > MOST_FOLLOWED {
                        kinds.paints = Paints::default();
                    }
                    entries.iter().for_each(|entry| kinds.paints.follow(&entry.change));
                    kinds.revision = buffer.revision();
                    true
                }
                Since::Lost => false,
            }
        });
    }

    /// Carries out what comes along with an offer that was taken: in the same step, before what was put in.
    pub(crate) fn extra_of(&self, candidate: &Candidate) -> Vec<(Span, String)> {
        match self.given(candidate) {
            Some(Given::Offer { offer, .. }) => offer.extra.clone(),
            _ => Vec::new(),
        }
    }

    /// Asks for what servers have right after a character: nothing else is offered there.
    fn ask_only_servers(&mut self) -> Effects {
        self.begin_server_question(Called::ByTyping);
        Effects::default()
    }
}

/// Larger texts are not painted by their server, in bytes.
const LARGEST_PAINTED: usize = 1 << 20;

/// The kinds of words are moved with so many edits at once.
const MOST_FOLLOWED: usize = 500;

/// What a kind of word is drawn as, by the names that the protocol has for them (`SemanticTokenTypes`); none: as the grammar has it.
fn paint_of(kind: &str) -> Option<Paint> {
    Some(match kind {
        "namespace" | "type" | "class" | "enum" | "interface" | "struct" | "typeParameter" | "concept" => Paint::Type,
        "function" | "method" | "macro" | "decorator" => Paint::Function,
        "enumMember" | "number" => Paint::Number,
        "keyword" | "modifier" => Paint::Keyword,
        "comment" => Paint::Comment,
        "variable" | "parameter" | "property" => Paint::Plain,
        _ => return None,
    })
}

/// So far back an open bracket is looked for, in bytes.
const LONGEST_CALL: usize = 4_096;

/// Whether `at` is inside of round brackets that are open on the way to it.
fn is_in_brackets(buffer: &Buffer, at: Byte) -> bool {
    let text = buffer.text();
    let start = text.snap_back(Byte(at.0.saturating_sub(LONGEST_CALL)));
    let before = text.slice(Span::new(start, at));
    let mut depth = 0;
    for c in before.chars().rev() {
        match c {
            ')' | ']' | '}' => depth += 1,
            '(' if depth == 0 => return true,
            '{' | ';' if depth == 0 => return false,
            '(' | '[' | '{' => depth -= 1,
            _ => {}
        }
        depth = depth.max(0);
    }
    false
}
