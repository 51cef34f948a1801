//! What is said when a server is started: what we can do, and what it answers that it can.

use crate::documents::Sync;
use crate::exchange::Profile;
use crate::news::Able;
use crate::position::Encoding;
use crate::uri;
use serde_json::{Value, json};

/// What was agreed with a server.
#[derive(Clone, Debug, Default)]
pub struct Agreed {
    /// In what columns are counted.
    pub encoding: Encoding,
    /// How it is told of changes.
    pub sync: Sync,
    /// Whether it wants to be told of saves.
    pub saves: bool,
    /// What it can do.
    pub able: Able,
    /// The names of the kinds of words that it tells.
    pub token_kinds: Vec<String>,
}

impl Agreed {
    /// What a server says that it can do (`ServerCapabilities`).
    #[must_use]
    pub fn of(capabilities: &Value) -> Agreed {
        let encoding = match capabilities["positionEncoding"].as_str() {
            Some("utf-8") => Encoding::Utf8,
            Some("utf-32") => Encoding::Utf32,
            _ => Encoding::Utf16,
        };
        let sync = &capabilities["textDocumentSync"];
        let change = if sync.is_object() { &sync["change"] } else { sync };
        let characters = |value: &Value| -> Vec<char> {
            let list = value.as_array().map(Vec::as_slice).unwrap_or_default();
            list.iter().filter_map(|each| each.as_str()?.chars().next()).collect()
        };
        let signature = &capabilities["signatureHelpProvider"];
        let legend = &capabilities["semanticTokensProvider"]["legend"]["tokenTypes"];
        let names = |value: &Value| -> Vec<String> {
            let list = value.as_array().map(Vec::as_slice).unwrap_or_default();
            list.iter().map(|each| each.as_str().unwrap_or_default().to_owned()).collect()
        };
        Agreed {
            encoding,
            sync: match change.as_u64() {
                Some(1) => Sync::Full,
                Some(2) => Sync::Incremental,
                _ => Sync::None,
            },
            saves: sync["save"].is_object() || sync["save"].as_bool() == Some(true),
            able: Able {
                features: features(capabilities),
                offer_triggers: characters(&capabilities["completionProvider"]["triggerCharacters"]),
                signature_triggers: [characters(&signature["triggerCharacters"]), vec!['(', ',']].concat(),
            },
            token_kinds: names(legend),
        }
    }
}

fn features(capabilities: &Value) -> Vec<String> {
    let mut found = Vec::new();
    for (name, value) in capabilities.as_object().into_iter().flatten() {
        let Some(feature) = name.strip_suffix("Provider") else { continue };
        let is_there = value.is_object() || value.as_bool() == Some(true);
        let tells_whole = feature != "semanticTokens" || value["full"].is_object() || value["full"] == true;
        if is_there && tells_whole {
            found.push(feature.to_owned());
        }
        for (option, more) in [("resolveProvider", "resolve"), ("prepareProvider", "prepare")] {
            if value[option].as_bool() == Some(true) {
                found.push(format!("{feature}.{more}"));
            }
        }
    }
    found
}

/// What a server is told first (`InitializeParams`).
#[must_use]
pub fn initialize(profile: &Profile) -> Value {
    let root = uri::of_path(&profile.root);
    let name = profile.root.file_name().unwrap_or_default().to_string_lossy().into_owned();
    json!({
        "processId": std::process::id(),
        "clientInfo": {"name": "Snarvel", "version": env!("CARGO_PKG_VERSION")},
        "rootUri": root,
        "rootPath": profile.root.to_string_lossy(),
        "workspaceFolders": [{"uri": root, "name": name}],
        "capabilities": capabilities(),
        "initializationOptions": profile.settings["initializationOptions"],
    })
}

/// What we can do (`ClientCapabilities`).
fn capabilities() -> Value {
    json!({
        "general": {"positionEncodings": ["utf-8", "utf-16"]},
        "workspace": {
            "applyEdit": true,
            "workspaceEdit": {"documentChanges": true, "resourceOperations": ["create", "rename", "delete"], "failureHandling": "abort"},
            "configuration": true,
            "workspaceFolders": true,
            "symbol": {},
            "executeCommand": {},
            "didChangeConfiguration": {},
        },
        "window": {"workDoneProgress": true, "showMessage": {}},
        "textDocument": of_texts(),
    })
}

/// What we can do with offers.
fn completion(formats: &Value) -> Value {
    json!({
        "contextSupport": true,
        "completionItem": {
            "snippetSupport": true,
            "documentationFormat": formats,
            "insertReplaceSupport": true,
            "labelDetailsSupport": true,
            "resolveSupport": {"properties": ["documentation", "detail", "additionalTextEdits"]},
        },
        "completionList": {"itemDefaults": ["editRange", "insertTextFormat", "data"]},
    })
}

/// What we can do with what is called.
fn signatures(formats: &Value) -> Value {
    json!({
        "signatureInformation": {
            "documentationFormat": formats,
            "parameterInformation": {"labelOffsetSupport": true},
            "activeParameterSupport": true,
        },
    })
}

/// What we can do with fixes.
fn code_actions() -> Value {
    json!({
        "codeActionLiteralSupport": {
            "codeActionKind": {"valueSet": ["quickfix", "refactor", "source", "source.organizeImports"]},
        },
        "isPreferredSupport": true,
        "disabledSupport": true,
        "dataSupport": true,
        "resolveSupport": {"properties": ["edit"]},
    })
}

/// What we can do with texts.
fn of_texts() -> Value {
    let formats = json!(["markdown", "plaintext"]);
    let kinds = json!([
        "namespace",
        "type",
        "class",
        "enum",
        "interface",
        "struct",
        "typeParameter",
        "parameter",
        "variable",
        "property",
        "enumMember",
        "event",
        "function",
        "method",
        "macro",
        "keyword",
        "modifier",
        "comment",
        "string",
        "number",
        "regexp",
        "operator",
        "decorator",
    ]);
    json!({
        "synchronization": {"didSave": true},
        "publishDiagnostics": {"versionSupport": true, "relatedInformation": false},
        "diagnostic": {},
        "completion": completion(&formats),
        "hover": {"contentFormat": formats},
        "signatureHelp": signatures(&formats),
        "definition": {"linkSupport": true},
        "declaration": {"linkSupport": true},
        "typeDefinition": {"linkSupport": true},
        "implementation": {"linkSupport": true},
        "references": {},
        "documentHighlight": {},
        "documentSymbol": {"hierarchicalDocumentSymbolSupport": true},
        "formatting": {},
        "rangeFormatting": {},
        "rename": {"prepareSupport": true},
        "codeAction": code_actions(),
        "callHierarchy": {},
        "semanticTokens": {
            "requests": {"full": true},
            "tokenTypes": kinds,
            "tokenModifiers": [],
            "formats": ["relative"],
        },
    })
}
