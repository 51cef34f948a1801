//! What a server asks of us: its settings, edits, a choice of a person; and what it tells of its progress.
//!
//! Everything is answered: what is not known here with the protocol's error for that. Of what waits for a person no more than
//! [`MOST_OPEN`] are kept; what comes beyond is answered at once.

use crate::answers::known::Known;
use crate::edits;
use crate::exchange::{Output, Profile};
use crate::news::News;
use crate::uri;
use serde_json::{Value, json};
use std::collections::{BTreeMap, HashMap};

/// Questions and edits of a server that wait at the same time.
const MOST_OPEN: usize = 8;

/// The error for a method that is not known (JSON-RPC 2.0, section 5.1).
const METHOD_NOT_FOUND: i64 = -32601;

/// What waits for an answer of ours.
enum Open {
    Edits(Value),
    Choice(Value, Vec<Value>),
}

/// What a server has asked.
#[derive(Default)]
pub struct Requests {
    open: HashMap<u64, Open>,
    next: u64,
    /// What it is doing, by the token of its progress.
    progress: BTreeMap<String, String>,
}

fn answer(id: &Value, result: &Value) -> Output {
    Output::Send(json!({"jsonrpc": "2.0", "id": id, "result": result}))
}

impl Requests {
    /// Takes a request in.
    pub fn take(
        &mut self,
        (method, id): (&str, &Value),
        params: &Value,
        (profile, known): (&Profile, Known),
        out: &mut Vec<Output>,
    ) {
        let result = match method {
            "workspace/configuration" => settings(profile, params),
            "workspace/workspaceFolders" => {
                let name = profile.root.file_name().unwrap_or_default().to_string_lossy().into_owned();
                json!([{"uri": uri::of_path(&profile.root), "name": name}])
            }
            "workspace/applyEdit" => return self.take_edits(id, params, known, out),
            "window/showMessageRequest" => return self.take_question(id, params, out),
            "client/registerCapability"
            | "client/unregisterCapability"
            | "window/workDoneProgress/create"
            | "workspace/semanticTokens/refresh"
            | "workspace/diagnostic/refresh"
            | "workspace/codeLens/refresh"
            | "workspace/inlayHint/refresh" => Value::Null,
            "window/showDocument" => json!({"success": false}),
            _ => {
                let error = json!({"code": METHOD_NOT_FOUND, "message": format!("{method} is not known here")});
                out.push(Output::Send(json!({"jsonrpc": "2.0", "id": id, "error": error})));
                return;
            }
        };
        out.push(answer(id, &result));
    }

    fn number(&mut self, open: Open) -> u64 {
        self.next += 1;
        self.open.insert(self.next, open);
        self.next
    }

    fn take_edits(&mut self, id: &Value, params: &Value, known: Known, out: &mut Vec<Output>) {
        let edits = edits::of_workspace(&params["edit"], known.documents, known.encoding);
        let refused = match edits {
            Ok(_) if self.open.len() >= MOST_OPEN => "too many edits at once".to_owned(),
            Ok(edits) => {
                let number = self.number(Open::Edits(id.clone()));
                out.push(Output::News(News::WantsEdits(number, edits)));
                return;
            }
            Err(why) => why,
        };
        out.push(answer(id, &json!({"applied": false, "failureReason": refused})));
    }

    fn take_question(&mut self, id: &Value, params: &Value, out: &mut Vec<Output>) {
        let choices = params["actions"].as_array().cloned().unwrap_or_default();
        if choices.is_empty() || self.open.len() >= MOST_OPEN {
            out.push(answer(id, &Value::Null));
            return;
        }
        let titles = choices.iter().map(|each| each["title"].as_str().unwrap_or_default().to_owned()).collect();
        let message = params["message"].as_str().unwrap_or_default().to_owned();
        let number = self.number(Open::Choice(id.clone(), choices));
        out.push(Output::News(News::Question { number, message, choices: titles }));
    }

    /// Edits that the server wanted were carried out, or why not.
    pub fn applied(&mut self, number: u64, result: Result<(), String>, out: &mut Vec<Output>) {
        let Some(Open::Edits(id)) = self.open.remove(&number) else { return };
        out.push(answer(
            &id,
            &match result {
                Ok(()) => json!({"applied": true}),
                Err(why) => json!({"applied": false, "failureReason": why}),
            },
        ));
    }

    /// What was chosen of what the server asked; none where nothing was.
    pub fn chosen(&mut self, number: u64, choice: Option<&str>, out: &mut Vec<Output>) {
        let Some(Open::Choice(id, choices)) = self.open.remove(&number) else { return };
        let chosen = choices.into_iter().find(|each| each["title"].as_str() == choice && choice.is_some());
        out.push(answer(&id, &chosen.unwrap_or(Value::Null)));
    }

    /// The server has ended: nothing of it waits any more.
    pub fn forget(&mut self) {
        self.open.clear();
        self.progress.clear();
    }

    /// Takes in how far the server is with something.
    pub fn progress(&mut self, params: &Value, out: &mut Vec<Output>) {
        /// Things under way at the same time that are kept.
        const MOST: usize = 100;
        let (token, value) = (params["token"].to_string(), &params["value"]);
        let before = self.said();
        match value["kind"].as_str() {
            Some("end") => drop(self.progress.remove(&token)),
            Some("begin") if self.progress.len() < MOST => {
                let title = value["title"].as_str().unwrap_or("working");
                self.progress.insert(token, title.chars().take(60).collect());
            }
            _ => {}
        }
        let now = self.said();
        if now != before {
            out.push(Output::News(News::Progress(now)));
        }
    }

    fn said(&self) -> Option<String> {
        self.progress.values().next().cloned()
    }
}

/// What the settings say for each section that is asked for; null where they say nothing (dotted names lead into tables).
fn settings(profile: &Profile, params: &Value) -> Value {
    let sections = params["items"].as_array().map(Vec::as_slice).unwrap_or_default();
    let one = |item: &Value| match item["section"].as_str().unwrap_or_default() {
        "" => profile.settings.clone(),
        section => {
            let whole = &profile.settings[section];
            let inner = section.split('.').fold(&profile.settings, |at, name| &at[name]);
            if whole.is_null() { inner.clone() } else { whole.clone() }
        }
    };
    Value::Array(sections.iter().map(one).collect())
}
