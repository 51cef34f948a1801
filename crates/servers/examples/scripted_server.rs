//! A language server for tests: it keeps its own copies of texts by the protocol's rules, answers some questions in a simple way, and
//! misbehaves in the way that its argument names. `good` does not.

use serde_json::{Value, json};
use snarvel_servers::documents::applied;
use snarvel_servers::position::Encoding;
use snarvel_servers::wire::{self, Read1};
use std::collections::BTreeMap;
use std::io::{BufReader, Write, stdin, stdout};
use std::time::Duration;

struct Server {
    how: String,
    encoding: Encoding,
    texts: BTreeMap<String, (i64, String)>,
    asked: i64,
}

fn send(message: &Value) {
    // Whoever reads may be gone.
    let _ = wire::write(&mut stdout().lock(), message);
}

fn raw(bytes: &[u8]) {
    let mut out = stdout().lock();
    let _ = out.write_all(bytes).and_then(|()| out.flush());
}

fn notify(method: &str, params: &Value) {
    send(&json!({"jsonrpc": "2.0", "method": method, "params": params}));
}

fn range(line: usize, from: usize, to: usize) -> Value {
    json!({"start": {"line": line, "character": from}, "end": {"line": line, "character": to}})
}

/// What the server has of a text is written to the file that the environment names, for tests that compare it.
fn keep_copy(text: &str) {
    if let Some(path) = std::env::var_os("SCRIPTED_COPY") {
        std::fs::write(path, text).expect("the folder of the copy is there");
    }
}

fn main() {
    let how = std::env::args().nth(1).unwrap_or_else(|| "good".to_owned());
    if how == "crash-at-start" {
        eprintln!("the scripted server crashes at its start");
        std::process::exit(3);
    }
    let mut server = Server { how, encoding: Encoding::Utf16, texts: BTreeMap::new(), asked: 0 };
    let mut input = BufReader::new(stdin());
    while let Ok(Some(Read1::Message(message))) = wire::read(&mut input) {
        server.take(&message);
    }
}

impl Server {
    fn is(&self, how: &str) -> bool {
        self.how == how
    }

    fn request(&mut self, method: &str, params: &Value) {
        self.asked += 1;
        send(&json!({"jsonrpc": "2.0", "id": format!("s{}", self.asked), "method": method, "params": params}));
    }

    fn take(&mut self, message: &Value) {
        let method = message["method"].as_str().unwrap_or_default();
        let (id, params) = (&message["id"], &message["params"]);
        match method {
            "initialize" if self.is("silent-at-start") => {}
            "initialize" => self.greet(id, params),
            "initialized" => self.misbehave_at_start(),
            "textDocument/didOpen" => {
                let document = &params["textDocument"];
                let text = document["text"].as_str().unwrap_or_default().to_owned();
                keep_copy(&text);
                self.texts.insert(uri_of(params), (document["version"].as_i64().unwrap_or(0), text));
                self.misbehave_with(&uri_of(params));
                self.check(&uri_of(params));
            }
            "textDocument/didChange" => {
                let version = params["textDocument"]["version"].as_i64().unwrap_or(0);
                let before = self.texts.get(&uri_of(params)).map(|(_, text)| text.clone()).unwrap_or_default();
                let text = applied(&before, params, self.encoding).unwrap_or_default();
                keep_copy(&text);
                self.texts.insert(uri_of(params), (version, text));
                self.check(&uri_of(params));
            }
            "textDocument/didClose" => drop(self.texts.remove(&uri_of(params))),
            "shutdown" if !self.is("never-ends") => send(&json!({"jsonrpc": "2.0", "id": id, "result": null})),
            "exit" if !self.is("never-ends") => std::process::exit(0),
            _ if !id.is_null() && !method.is_empty() => self.answer(method, id, params),
            _ => {}
        }
    }

    fn greet(&mut self, id: &Value, params: &Value) {
        let offered = &params["capabilities"]["general"]["positionEncodings"];
        let takes_utf8 = offered.as_array().is_some_and(|list| list.contains(&json!("utf-8")));
        let encoding = if takes_utf8 && self.is("utf-8") { "utf-8" } else { "utf-16" };
        self.encoding = if encoding == "utf-8" { Encoding::Utf8 } else { Encoding::Utf16 };
        let capabilities = json!({
            "positionEncoding": encoding,
            "textDocumentSync": {"openClose": true, "change": if self.is("full-sync") { 1 } else { 2 }, "save": true},
            "definitionProvider": true, "referencesProvider": true, "hoverProvider": true, "renameProvider": true,
            "documentFormattingProvider": true, "codeActionProvider": true, "executeCommandProvider": {"commands": ["edit"]},
            "completionProvider": {"triggerCharacters": ["."], "resolveProvider": true},
            "signatureHelpProvider": {"triggerCharacters": ["("]},
        });
        let result = if self.is("greets-wrongly") { json!("hello") } else { json!({"capabilities": capabilities}) };
        send(&json!({"jsonrpc": "2.0", "id": id, "result": result}));
    }

    /// What comes by itself once the server has greeted.
    fn misbehave_at_start(&mut self) {
        match self.how.as_str() {
            "garbage" => raw(b"this is a line of a log\nand another one\n"),
            "wrong-length" => raw(b"Content-Length: 5\r\n\r\n{}Content-Length: 2\r\n\r\n{}"),
            "no-length" => raw(b"Content-Type: x\r\n\r\n{}"),
            "huge-length" => raw(b"Content-Length: 99999999999\r\n\r\n{}"),
            "invalid-utf8" => raw(b"Content-Length: 4\r\n\r\n\"\xC3(\""),
            "no-json" => raw(b"Content-Length: 3\r\n\r\n{,}"),
            "crash-mid-message" => {
                raw(b"Content-Length: 500\r\n\r\n{\"jsonrpc\"");
                std::process::exit(4);
            }
            "unknown-methods" => {
                notify("tides/rise", &json!({}));
                self.request("tides/fall", &json!({"by": 3}));
                send(&json!({"jsonrpc": "2.0", "id": 977, "result": "never asked"}));
                send(&json!({"jsonrpc": "2.0"}));
                send(&json!([1, 2, 3]));
            }
            "request-storm" => {
                for _ in 0..20_000 {
                    self.request("workspace/configuration", &json!({"items": [{"section": "tides"}]}));
                }
            }
            "message-storm" => {
                for number in 0..50_000 {
                    notify("window/showMessage", &json!({"type": 1, "message": format!("storm {number}")}));
                }
            }
            "question-storm" => {
                for number in 0..500 {
                    let actions = json!([{"title": "Yes"}, {"title": "No"}]);
                    self.request(
                        "window/showMessageRequest",
                        &json!({"type": 3, "message": format!("{number}?"), "actions": actions}),
                    );
                }
            }
            "asks" => {
                let actions = json!([{"title": "Yes"}, {"title": "No"}]);
                self.request("window/showMessageRequest", &json!({"type": 3, "message": "Rise?", "actions": actions}));
            }
            "endless-progress" => {
                let begin = json!({"token": "t", "value": {"kind": "begin", "title": "rising"}});
                notify("$/progress", &begin);
                for number in 0..20_000 {
                    notify(
                        "$/progress",
                        &json!({"token": "t", "value": {"kind": "report", "percentage": number % 100}}),
                    );
                }
            }
            _ => {}
        }
    }

    /// What comes once a text is open.
    fn misbehave_with(&mut self, uri: &str) {
        let edit = |range: Value, text: &str| json!({"range": range, "newText": text});
        let edits = |list: Value| json!({"edit": {"changes": {uri: list}}});
        match self.how.as_str() {
            "edits-beyond" => {
                self.request("workspace/applyEdit", &edits(json!([edit(range(9_999, 0, 9_999), "end\n")])));
            }
            "edits-overlapping" => {
                let list = json!([edit(range(0, 0, 3), "a"), edit(range(0, 1, 4), "b")]);
                self.request("workspace/applyEdit", &edits(list));
            }
            "edits-old-version" => {
                let document = json!({"uri": uri, "version": 0});
                let change = json!({"textDocument": document, "edits": [edit(range(0, 0, 1), "x")]});
                self.request("workspace/applyEdit", &json!({"edit": {"documentChanges": [change]}}));
            }
            "edits-nowhere" => {
                let changes = json!({"file:///nowhere/at/all.c": [edit(range(0, 0, 0), "x")]});
                self.request("workspace/applyEdit", &json!({"edit": {"changes": changes}}));
            }
            "edit-storm" => {
                for _ in 0..500 {
                    self.request("workspace/applyEdit", &edits(json!([edit(range(0, 0, 0), "")])));
                }
            }
            "many-diagnostics" => {
                let one = |number: usize| json!({"range": range(number % 50, 0, 1), "severity": 1 + number % 4, "message": format!("fault {number}")});
                let list: Vec<Value> = (0..100_000).map(one).collect();
                notify("textDocument/publishDiagnostics", &json!({"uri": uri, "diagnostics": list}));
            }
            "diagnostics-storm" => {
                for number in 0..5_000 {
                    let list = json!([{"range": range(0, 0, 1), "message": format!("fault {number}")}]);
                    notify("textDocument/publishDiagnostics", &json!({"uri": uri, "diagnostics": list}));
                }
            }
            "stale-diagnostics" => {
                let list = json!([{"range": range(0, 0, 1), "message": "of before"}]);
                notify("textDocument/publishDiagnostics", &json!({"uri": uri, "version": -7, "diagnostics": list}));
            }
            "wrong-diagnostics" => {
                let list = json!([3, {"range": "x"}, {"range": range(0, 0, 1), "message": 7}, {"range": range(0, 0, 1), "message": "right"}]);
                notify("textDocument/publishDiagnostics", &json!({"uri": uri, "diagnostics": list}));
                notify("textDocument/publishDiagnostics", &json!({"uri": "untitled:1", "diagnostics": list}));
                notify("textDocument/publishDiagnostics", &json!("x"));
            }
            _ => {}
        }
    }

    /// Says what is wrong: each line that holds the word `wrong`.
    fn check(&self, uri: &str) {
        if self.how.contains("diagnostics") || self.is("silent") {
            return;
        }
        let Some((version, text)) = self.texts.get(uri) else { return };
        let lines = text.split('\n').enumerate();
        let list: Vec<Value> = lines
            .filter_map(|(line, content)| {
                let at = content.find("wrong")?;
                let from = units(&content[..at], self.encoding);
                Some(json!({"range": range(line, from, from + 5), "severity": 1, "message": "this is wrong", "source": "script"}))
            })
            .collect();
        notify("textDocument/publishDiagnostics", &json!({"uri": uri, "version": version, "diagnostics": list}));
        if let Ok(folder) = std::env::var("SCRIPTED_COPIES") {
            let name = uri.rsplit('/').next().unwrap_or_default();
            // Whole or not at all, so that a reader never sees a part.
            let path = std::path::Path::new(&folder).join(name);
            let part = path.with_extension("part");
            let _ = std::fs::write(&part, text).and_then(|()| std::fs::rename(&part, &path));
        }
    }

    fn answer(&mut self, method: &str, id: &Value, params: &Value) {
        match self.how.as_str() {
            "silent" => return,
            "slow" => std::thread::sleep(Duration::from_millis(300)),
            // Tells the rest of an offer once that is put in only.
            "late-rest"
                if method == "completionItem/resolve"
                    && !self.texts.values().any(|(_, text)| text.contains("(at)")) =>
            {
                return;
            }
            "crash-when-asked" => std::process::exit(5),
            "answers-twice" => send(&json!({"jsonrpc": "2.0", "id": id, "result": null})),
            "errors" => {
                let error = json!({"code": -32603, "message": "the tide is out"});
                send(&json!({"jsonrpc": "2.0", "id": id, "error": error}));
                return;
            }
            "wrong-types" => {
                send(
                    &json!({"jsonrpc": "2.0", "id": id, "result": {"changes": 7, "items": "x", "contents": [1, 2], "uri": 3}}),
                );
                return;
            }
            _ => {}
        }
        let result = self.result(method, params);
        send(&json!({"jsonrpc": "2.0", "id": id, "result": result}));
        if method == "workspace/executeCommand" {
            let uri = params["arguments"][0].as_str().unwrap_or_default().to_owned();
            let edit = json!({"changes": {uri: [{"range": range(0, 0, 0), "newText": "// by command\n"}]}});
            self.request("workspace/applyEdit", &json!({"edit": edit}));
        }
    }

    fn result(&self, method: &str, params: &Value) -> Value {
        let uri = uri_of(params);
        let (_, text) = self.texts.get(&uri).cloned().unwrap_or_default();
        let word = self.word_at(&text, &params["position"]);
        match method {
            "textDocument/hover" if self.is("huge-answer") => json!({"contents": "x".repeat(50 << 20)}),
            "textDocument/hover" => json!({"contents": {"kind": "markdown", "value": format!("**{word}** is a word")}}),
            "textDocument/definition" => self.uses(&word, None).into_iter().next().unwrap_or_default(),
            "textDocument/references" => Value::Array(self.uses(&word, None)),
            "textDocument/rename" => {
                let mut changes = json!({});
                for uri in self.texts.keys() {
                    let edit = |place: Value| json!({"range": place["range"], "newText": params["newName"]});
                    changes[uri] = self.uses(&word, Some(uri)).into_iter().map(edit).collect();
                }
                json!({"changes": changes})
            }
            "textDocument/formatting" => {
                let tidy: String = text.split_inclusive('\n').map(tidied).collect();
                let lines = text.split('\n').count();
                json!([{"range": {"start": {"line": 0, "character": 0}, "end": {"line": lines, "character": 0}}, "newText": tidy}])
            }
            "textDocument/completion" => json!({"isIncomplete": false, "items": [
                {"label": "tide_level(at)", "filterText": "tide_level", "kind": 3, "insertTextFormat": 2, "insertText": "tide_level(${1:at})", "data": 1},
                {"label": "tide_table", "kind": 6, "detail": "a table", "data": 2},
            ]}),
            "completionItem/resolve" => {
                let mut item = params.clone();
                item["documentation"] = json!("all about it");
                item["additionalTextEdits"] = json!([{"range": range(0, 0, 0), "newText": "import tide\n"}]);
                item
            }
            "textDocument/signatureHelp" => {
                json!({"signatures": [{"label": "tide_level(at, by)", "parameters": [{"label": "at"}, {"label": "by"}]}], "activeParameter": 0})
            }
            "textDocument/codeAction" => {
                let place = &params["range"];
                json!([
                    {"title": "Make it right", "kind": "quickfix", "isPreferred": true,
                        "edit": {"changes": {uri.clone(): [{"range": place, "newText": "right"}]}}},
                    {"title": "Say so above", "command": {"title": "x", "command": "edit", "arguments": [uri]}},
                ])
            }
            _ => Value::Null,
        }
    }

    fn word_at(&self, text: &str, position: &Value) -> String {
        let line = text.split('\n').nth(position["line"].as_u64().unwrap_or(0) as usize).unwrap_or_default();
        let wanted = position["character"].as_u64().unwrap_or(0) as usize;
        let at = line.char_indices().map(|(at, _)| at).find(|at| units(&line[..*at], self.encoding) >= wanted);
        let rest = &line[at.unwrap_or(line.len())..];
        rest.chars().take_while(|c| c.is_alphanumeric() || *c == '_').collect()
    }

    /// The places of `word` in the texts, or in one of them.
    fn uses(&self, word: &str, only: Option<&str>) -> Vec<Value> {
        let mut found = Vec::new();
        for (uri, (_, text)) in self.texts.iter().filter(|(uri, _)| only.is_none_or(|only| *uri == only)) {
            for (line, content) in text.split('\n').enumerate() {
                for (at, _) in content.match_indices(word).filter(|_| !word.is_empty()) {
                    let from = units(&content[..at], self.encoding);
                    found.push(json!({"uri": uri, "range": range(line, from, from + units(word, self.encoding))}));
                }
            }
        }
        found
    }
}

/// A line without white space at its end.
fn tidied(line: &str) -> String {
    let end = if line.ends_with("\r\n") {
        "\r\n"
    } else if line.ends_with('\n') {
        "\n"
    } else {
        ""
    };
    format!("{}{end}", line.trim_end())
}

fn units(text: &str, encoding: Encoding) -> usize {
    match encoding {
        Encoding::Utf8 => text.len(),
        _ => text.encode_utf16().count(),
    }
}

fn uri_of(params: &Value) -> String {
    params["textDocument"]["uri"].as_str().unwrap_or_default().to_owned()
}
