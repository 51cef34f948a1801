//! What a server can be asked: as a request of the protocol, and whether the server can answer it at all.

use crate::documents::{Document, Documents};
use crate::news::Able;
use crate::position::Encoding;
use lsp_types::Range;
use serde_json::{Value, json};
use snarvel_core::units::{Byte, Span};
use std::path::{Path, PathBuf};
use std::time::Duration;

/// A place in an open text.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct At {
    /// The file of the text.
    pub path: PathBuf,
    /// Where in it.
    pub byte: Byte,
}

/// What of a name is looked for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Find {
    /// Where it is defined.
    Definition,
    /// Where it is declared.
    Declaration,
    /// Where its type is defined.
    Type,
    /// What implements it.
    Implementation,
    /// Where it is used, its declaration too.
    Uses,
}

/// A way through calls.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Calls {
    /// What calls it.
    Incoming,
    /// What it calls.
    Outgoing,
}

/// How a text is laid out, for a server that formats it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Indent {
    /// By tabs of so many cells.
    Tabs(u32),
    /// By so many spaces.
    Spaces(u32),
}

/// A question.
#[derive(Clone, Debug)]
pub enum Ask {
    /// Places that have to do with the name at a place.
    Find(Find, At),
    /// What there is to read about what is at a place.
    Describe(At),
    /// What can be put in at a place; after the character that was typed, where that calls for it.
    Offers(At, Option<char>),
    /// The rest of an offer.
    Offer(Value, At),
    /// What is called at a place.
    Signature(At),
    /// The word at a place, where it can be given another name.
    Renamable(At),
    /// Another name for what is at a place.
    Rename(At, String),
    /// What can be done about a span.
    Fixes(PathBuf, Span),
    /// What puts the imports of a text in order.
    Imports(PathBuf),
    /// The rest of a fix.
    Fix(Value),
    /// Run a command of the server's.
    Run(Value),
    /// The text, or a part of it, laid out.
    Format(PathBuf, Option<Span>, Indent),
    /// What has a name in a text.
    Symbols(PathBuf),
    /// What has a name like that in the project.
    Names(String),
    /// The uses in the text of the name at a place.
    Highlights(At),
    /// What is at a place and calls or can be called.
    Callable(At),
    /// What it calls, or what calls it.
    Calls(Calls, Value),
    /// The kinds of the words of a text.
    Tokens(PathBuf),
    /// What is wrong in a text.
    Faults(PathBuf),
}

/// A question waits so long for its answer.
const USUAL: Duration = Duration::from_secs(5);

/// A question about the whole project waits so long.
const LONG: Duration = Duration::from_secs(30);

impl Ask {
    /// The text that it is about.
    #[must_use]
    pub fn path(&self) -> Option<&Path> {
        match self {
            Ask::Find(_, at)
            | Ask::Describe(at)
            | Ask::Offers(at, _)
            | Ask::Offer(_, at)
            | Ask::Signature(at)
            | Ask::Renamable(at)
            | Ask::Rename(at, _)
            | Ask::Highlights(at)
            | Ask::Callable(at) => Some(&at.path),
            Ask::Fixes(path, _)
            | Ask::Imports(path)
            | Ask::Format(path, ..)
            | Ask::Symbols(path)
            | Ask::Tokens(path)
            | Ask::Faults(path) => Some(path),
            Ask::Fix(_) | Ask::Run(_) | Ask::Names(_) | Ask::Calls(..) => None,
        }
    }

    /// How long its answer is waited for.
    #[must_use]
    pub fn limit(&self) -> Duration {
        match self {
            Ask::Find(Find::Uses | Find::Implementation, _) | Ask::Rename(..) | Ask::Run(_) | Ask::Names(_) => LONG,
            _ => USUAL,
        }
    }

    /// The provider that answers it, as the protocol names it without `Provider`.
    #[must_use]
    pub fn feature(&self) -> &'static str {
        match self {
            Ask::Find(Find::Definition, _) => "definition",
            Ask::Find(Find::Declaration, _) => "declaration",
            Ask::Find(Find::Type, _) => "typeDefinition",
            Ask::Find(Find::Implementation, _) => "implementation",
            Ask::Find(Find::Uses, _) => "references",
            Ask::Describe(_) => "hover",
            Ask::Offers(..) => "completion",
            Ask::Offer(..) => "completion.resolve",
            Ask::Signature(_) => "signatureHelp",
            Ask::Renamable(_) => "rename.prepare",
            Ask::Rename(..) => "rename",
            Ask::Fixes(..) | Ask::Imports(_) => "codeAction",
            Ask::Fix(_) => "codeAction.resolve",
            Ask::Run(_) => "executeCommand",
            Ask::Format(_, None, _) => "documentFormatting",
            Ask::Format(_, Some(_), _) => "documentRangeFormatting",
            Ask::Symbols(_) => "documentSymbol",
            Ask::Names(_) => "workspaceSymbol",
            Ask::Highlights(_) => "documentHighlight",
            Ask::Callable(_) | Ask::Calls(..) => "callHierarchy",
            Ask::Tokens(_) => "semanticTokens",
            Ask::Faults(_) => "diagnostic",
        }
    }

    /// Whether a server that can do so much can answer it.
    #[must_use]
    pub fn suits(&self, able: &Able) -> bool {
        able.has(self.feature())
    }

    /// The method and the parameters of the request; none where the text is not one that the server knows.
    #[must_use]
    pub fn request(
        &self,
        documents: &Documents,
        encoding: Encoding,
        raised: &[Value],
    ) -> Option<(&'static str, Value)> {
        let document = match self.path() {
            Some(path) => Some(documents.get(path)?),
            None => None,
        };
        let at = |at: &At| place(document, at.byte, encoding);
        let of = || json!({"uri": document.map(Document::uri)});
        Some(match self {
            Ask::Find(find, place) => find.request(at(place)),
            Ask::Describe(place) => ("textDocument/hover", at(place)),
            Ask::Offers(place, typed) => ("textDocument/completion", with(at(place), "context", trigger(*typed))),
            Ask::Offer(ticket, _) => ("completionItem/resolve", ticket.clone()),
            Ask::Signature(place) => ("textDocument/signatureHelp", at(place)),
            Ask::Renamable(place) => ("textDocument/prepareRename", at(place)),
            Ask::Rename(place, name) => ("textDocument/rename", with(at(place), "newName", json!(name))),
            Ask::Fixes(_, span) => ("textDocument/codeAction", actions(document, (*span, None), (encoding, raised))),
            Ask::Imports(_) => {
                let all = document.map(|document| document.text.span()).unwrap_or_default();
                let wanted = (all, Some("source.organizeImports"));
                ("textDocument/codeAction", actions(document, wanted, (encoding, raised)))
            }
            Ask::Fix(ticket) => ("codeAction/resolve", ticket.clone()),
            Ask::Run(command) => {
                let (name, arguments) = (&command["command"], &command["arguments"]);
                ("workspace/executeCommand", json!({"command": name, "arguments": arguments}))
            }
            Ask::Format(_, None, indent) => {
                ("textDocument/formatting", json!({"textDocument": of(), "options": indent.options()}))
            }
            Ask::Format(_, Some(span), indent) => {
                let range = range_of(document, *span, encoding);
                let params = json!({"textDocument": of(), "range": range, "options": indent.options()});
                ("textDocument/rangeFormatting", params)
            }
            Ask::Symbols(_) => ("textDocument/documentSymbol", json!({"textDocument": of()})),
            Ask::Names(query) => ("workspace/symbol", json!({"query": query})),
            Ask::Highlights(place) => ("textDocument/documentHighlight", at(place)),
            Ask::Callable(place) => ("textDocument/prepareCallHierarchy", at(place)),
            Ask::Calls(Calls::Incoming, item) => ("callHierarchy/incomingCalls", json!({"item": item})),
            Ask::Calls(Calls::Outgoing, item) => ("callHierarchy/outgoingCalls", json!({"item": item})),
            Ask::Tokens(_) => ("textDocument/semanticTokens/full", json!({"textDocument": of()})),
            Ask::Faults(_) => ("textDocument/diagnostic", json!({"textDocument": of()})),
        })
    }
}

impl Find {
    fn request(self, mut params: Value) -> (&'static str, Value) {
        if self == Find::Uses {
            params["context"] = json!({"includeDeclaration": true});
        }
        let method = match self {
            Find::Definition => "textDocument/definition",
            Find::Declaration => "textDocument/declaration",
            Find::Type => "textDocument/typeDefinition",
            Find::Implementation => "textDocument/implementation",
            Find::Uses => "textDocument/references",
        };
        (method, params)
    }
}

impl Indent {
    fn options(self) -> Value {
        let (size, by_spaces) = match self {
            Indent::Tabs(size) => (size, false),
            Indent::Spaces(size) => (size, true),
        };
        json!({"tabSize": size, "insertSpaces": by_spaces})
    }
}

/// Parameters with one more.
fn with(mut params: Value, name: &str, value: Value) -> Value {
    params[name] = value;
    params
}

/// What offers are asked for after.
fn trigger(typed: Option<char>) -> Value {
    match typed {
        Some(typed) => json!({"triggerKind": 2, "triggerCharacter": typed}),
        None => json!({"triggerKind": 1}),
    }
}

/// What asks for actions about a span, of one kind only where that is named.
fn actions(
    document: Option<&Document>,
    (span, only): (Span, Option<&str>),
    (encoding, raised): (Encoding, &[Value]),
) -> Value {
    let range = range_of(document, span, encoding);
    let mut context = json!({"diagnostics": touching(raised, range), "triggerKind": 1});
    if let Some(only) = only {
        context["only"] = json!([only]);
    }
    json!({"textDocument": {"uri": document.map(Document::uri)}, "range": range, "context": context})
}

fn place(document: Option<&Document>, at: Byte, encoding: Encoding) -> Value {
    let Some(document) = document else { return Value::Null };
    let at = document.text.snap_back(at.min(document.text.end()));
    let position = document.positions(encoding).position(at);
    json!({"textDocument": {"uri": document.uri()}, "position": position})
}

fn range_of(document: Option<&Document>, span: Span, encoding: Encoding) -> Range {
    let Some(document) = document else { return Range::default() };
    let end = document.text.end();
    document.positions(encoding).range(Span::new(span.start.min(end), span.end.min(end)))
}

/// Those of the diagnostics of a text that touch `range`: fixes are fixes of them.
fn touching(raised: &[Value], range: Range) -> Vec<&Value> {
    let touches = |each: &&Value| {
        serde_json::from_value::<Range>(each["range"].clone())
            .is_ok_and(|own| own.start <= range.end && own.end >= range.start)
    };
    raised.iter().filter(touches).collect()
}
