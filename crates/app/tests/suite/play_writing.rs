//! What `play` tells of writing help: offers, stops, and templates of one's own.

use crate::support::play_in;
use serde_json::{Value, json};
use snarvel::demo::FILES;
use snarvel_core::templates;
use std::path::Path;

/// The state of the first of `names`, and what is said on standard error.
fn state(files: &[(&str, &str)], names: &[&str], arguments: &[&str]) -> (Value, String) {
    let arguments: Vec<&str> = arguments.iter().copied().chain(["--emit", "state"]).collect();
    let (code, out, error, _folder) = play_in(files, names, &arguments);
    assert_eq!(code, 0, "{error}");
    (serde_json::from_str(&out).unwrap(), error)
}

#[test]
fn offers_are_told_in_their_order_with_the_chosen_one() {
    let files = [("a.rs", "fn level_of() {}\nlet level = 1;\n"), ("b.rs", "let lever = 2;\n")];
    let (told, _) = state(&files, &["a.rs", "b.rs"], &["--keys", "ctrl+end \"lev\" down"]);
    let offer = |text: &str, source: &str, kind: &str| json!({ "text": text, "source": source, "kind": kind });
    let wanted =
        [offer("level", "word", "word"), offer("level_of", "word", "function"), offer("lever", "open", "word")];
    assert_eq!(told["offers"], json!(wanted));
    assert_eq!((&told["offered"], &told["stops"]), (&json!(1), &json!(0)));
    let (told, _) = state(&files, &["a.rs"], &["--keys", "ctrl+end \"lev \""]);
    assert_eq!((&told["offers"], &told["offered"]), (&Value::Null, &Value::Null));
}

#[test]
fn no_more_than_fifty_are_told() {
    let many: String = (0..200).map(|number| ["tide_", &number.to_string(), "\n"].concat()).collect();
    let (told, _) = state(&[("a.rs", &many)], &["a.rs"], &["--keys", "ctrl+end \"tid\""]);
    assert_eq!(told["offers"].as_array().unwrap().len(), 50);
    // The nearest first.
    assert_eq!(told["offers"][0]["text"], "tide_199");
}

#[test]
fn stops_count_the_last_one() {
    let told = |keys: &str| state(&[("a.rs", "")], &["a.rs"], &["--keys", keys]).0["stops"].clone();
    assert_eq!(told("\"for\" tab"), json!(2));
    assert_eq!(told("\"for\" tab tab"), json!(1));
    assert_eq!(told("\"for\" tab tab tab"), json!(0));
    assert_eq!(told("\"for\" tab ctrl+z"), json!(0));
}

#[test]
fn templates_of_ones_own_and_what_is_wrong_in_them() {
    let own = "[[template]]\nname = \"gauge\"\nwords = \"measure\"\nbody = \"gauge(${1:name})$0\"\n\n\
        [[template]]\nname = \"broken\"\nbody = \"${1:\"\n\n[[template]]\nname = \"odd\"\nbody = \"x\"\nwhere = \"there\"\n";
    let files = [("a.rs", ""), ("config/templates/rust.toml", own), ("config/templates/klingon.toml", "")];
    let (told, error) =
        state(&files, &["a.rs"], &["--config", "CONFIG", "--keys", "\"gauge\" tab \"north\" tab \";\""]);
    assert_eq!(told["text"], "gauge(north);");
    assert!(error.contains("rust.toml line 8: broken: '}' is missing after a stop"), "{error}");
    assert!(error.contains("rust.toml line 13: where is \"line\", \"code\" or \"type\""), "{error}");
    assert!(error.contains("klingon.toml: no language is called \"klingon\""), "{error}");
    let (told, _) = state(&files, &["a.rs"], &["--config", "CONFIG", "--keys", "\"measure\" tab"]);
    assert_eq!(told["text"], "gauge(name)");
}

#[test]
fn a_shipped_header_has_the_name_of_the_file_and_the_date() {
    let (told, _) = state(&[("gauges.rs", "")], &["gauges.rs"], &["--keys", "\"header\" tab"]);
    let text = told["text"].as_str().unwrap();
    assert!(text.starts_with("// gauges.rs: what this is for.\n// Written on 20"), "{text}");
    let date = text.split_once("Written on ").unwrap().1;
    assert!(date[..10].split('-').map(str::len).eq([4, 2, 2]) && date[10..].starts_with('.'), "{text}");
}

#[test]
fn settings_say_when_offers_come() {
    for (setting, offered) in [("auto", true), ("key", false), ("off", false)] {
        let files =
            [("a.rs", "let level = 1;\n"), ("config/settings.toml", &*["offers = \"", setting, "\"\n"].concat())];
        let (told, _) = state(&files, &["a.rs"], &["--config", "CONFIG", "--keys", "ctrl+end \"lev\""]);
        assert_eq!(told["offers"].is_array(), offered, "{setting}");
        let (told, _) = state(&files, &["a.rs"], &["--config", "CONFIG", "--keys", "ctrl+end \"lev\" ctrl+k"]);
        assert!(told["offers"].is_array(), "{setting} by key");
    }
}

/// Files of the demo, a place, letters, and what is first for them there.
const FIRST: &[(&str, &str, &str, &[&str])] = &[
    ("gauges.rs", "@58:9", "lev", &["level", "level_mm"]),
    ("gauges.rs", "@58:9", "lmm", &["lowest_mm", "level_mm"]),
    ("gauges.rs", "@58:9", "hmm", &["highest_mm"]),
    ("gauges.rs", "@58:9", "rl", &["read_lines"]),
    ("gauges.rs", "@58:9", "Qu", &["Quality"]),
    ("gauges.rs", "@58:9", "fm", &["fmt"]),
    ("gauges.rs", "@58:9", "BT", &["BTreeMap"]),
    ("gauges.rs", "@58:9", "sta", &["station"]),
    ("gauges.rs", "@58:9", "for", &["for"]),
    ("gauges.rs", "@58:9", "ret", &["return"]),
    ("tides.py", "@24:1", "def", &["def"]),
    ("tides.py", "@24:1", "whi", &["while"]),
    ("tides.py", "@24:1", "impo", &["import"]),
    ("berths.ts", "@1:1", "inter", &["interface"]),
    ("foghorn.c", "@1:1", "incl", &["include"]),
];

#[test]
fn what_is_first_on_real_files() {
    let mut wrong = Vec::new();
    for (name, place, letters, wanted) in FIRST {
        let (_, text) = FILES.iter().find(|(each, _)| each == name).unwrap();
        let keys = [place, " alt+z home \"", letters, "\""].concat();
        let (told, _) = state(&[(name, text)], &[name], &["--keys", &keys]);
        let texts = |told: &Value| {
            let list = told["offers"].as_array().cloned().unwrap_or_default();
            list.iter().take(wanted.len()).map(|each| each["text"].as_str().unwrap().to_owned()).collect::<Vec<_>>()
        };
        if texts(&told) != *wanted {
            wrong.push(format!("{name} {place} {letters}: wanted {wanted:?}, is {:?}", texts(&told)));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

/// The templates that come with the program, as a table.
fn shipped_page() -> String {
    let mut page = "\n## Shipped\n\n| language | templates | that go around lines |\n|---|---|---|\n".to_owned();
    for name in templates::NAMES {
        let all = templates::shipped(name);
        let named = |around: bool| {
            let names = all.iter().filter(|each| each.is_around == around).map(|each| ["`", &each.name, "`"].concat());
            names.collect::<Vec<_>>().join(" ")
        };
        page.extend(["| ", name, " | ", &named(false), " | ", &named(true), " |\n"]);
    }
    page
}

#[test]
fn the_page_of_templates_is_current() {
    let path = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/templates.md");
    let page = std::fs::read_to_string(&path).unwrap();
    let (before, table) = page.split_once("<!-- table -->\n").unwrap();
    if std::env::var("SNARVEL_DOCS").as_deref() == Ok("write") {
        std::fs::write(&path, [before, "<!-- table -->\n", &shipped_page()].concat()).unwrap();
        return;
    }
    assert_eq!(table, shipped_page(), "write it anew with SNARVEL_DOCS=write");
    // The examples of the page are templates.
    let (_, rest) = page.split_once("```toml\n").unwrap();
    let (templates, mistakes) = templates::file::read(rest.split_once("```").unwrap().0);
    assert_eq!((templates.len(), mistakes), (2, Vec::new()));
}
