//! Any bytes: files that are opened, edited and saved; keys, scripts and every file of configuration. Nothing panics, and
//! what was not touched comes back. `SNARVEL_FUZZ=100000` makes a long run, `SNARVEL_SEED=7` another one.

use crate::support::drawn;
use proptest::prelude::*;
use proptest::test_runner::{Config, RngAlgorithm, TestRng, TestRunner};
use snarvel_files::loading::Opened;
use snarvel_ui::app::{App, Event};
use snarvel_ui::keys::{Key, bindings, script};
use snarvel_ui::palette::theme::Theme;
use snarvel_ui::palette::{Depth, Palette};
use snarvel_ui::settings;
use snarvel_ui::size::Size;
use snarvel_workspace::project::{Project, Writing};
use snarvel_workspace::workspace::Workspace;
use std::path::Path;

/// Cases of the normal run.
const CASES: u32 = 150;

fn runner() -> TestRunner {
    let set = |name| std::env::var(name).ok().and_then(|text| text.parse().ok());
    let config = Config { cases: set("SNARVEL_FUZZ").unwrap_or(CASES), failure_persistence: None, ..Config::default() };
    let seed = [set("SNARVEL_SEED").unwrap_or(1).to_le_bytes(); 8].concat();
    TestRunner::new_with_rng(config, TestRng::from_seed(RngAlgorithm::ChaCha, &seed))
}

/// Bytes of all kinds: any, text with broken pieces, marks, encodings of before.
fn bytes() -> impl Strategy<Value = Vec<u8>> {
    let raw = prop::collection::vec(any::<u8>(), 0..400);
    let text = "[a-z \\n\\r\\t{}\"'é漢\u{202E}\u{FEFF}\u{F7A0}]{0,200}".prop_map(String::into_bytes);
    let mark = prop::sample::select(vec![&b""[..], b"\xEF\xBB\xBF", b"\xFF\xFE", b"\xFE\xFF"]);
    let latin = "[a-z éèüöäß\\n]{0,200}".prop_map(|text| text.chars().map(|c| u32::from(c) as u8).collect());
    let body = prop_oneof![raw, text, latin];
    (mark, body, prop::collection::vec(any::<u8>(), 0..4))
        .prop_map(|(mark, body, tail)| [mark, body.as_slice(), tail.as_slice()].concat())
}

#[test]
fn any_file_is_opened_edited_undone_and_saved_as_it_was() {
    let folder = tempfile::tempdir().unwrap();
    let names = prop::sample::select(vec!["a.rs", "a.html", "a.md", "a.sh", "a.php", "a.txt", "Makefile", "a.yaml"]);
    let keys = prop::collection::vec("[ -~é]", 0..12);
    runner()
        .run(&(names, bytes(), keys), |(name, bytes, keys)| {
            let path = folder.path().join(name);
            std::fs::write(&path, &bytes).unwrap();
            let mut workspace = Workspace::new(Project::in_folder(folder.path()));
            let id = workspace.take_buffer(&path, Opened::read(&path).unwrap());
            let palette = Palette::new(&Theme::night(), Depth::True);
            let mut app = App::new(workspace, palette, Size { cols: 60, rows: 18 });
            app.context.workspace.save(id, None);
            app.pump();
            prop_assert_eq!(&std::fs::read(&path).unwrap(), &bytes, "saved as it was");
            app.context.workspace.project.writing = Writing::Nothing;
            for key in &keys {
                let key = key.chars().next().map(|c| Key::character(c).with_alt()).unwrap();
                app.handle(Event::Key(key), 0);
                app.close_panel();
            }
            drawn(&app);
            app.context.workspace.show(id);
            while app.context.workspace.active().history().can_undo() {
                app.handle(Event::Key(Key::parse("ctrl+z").unwrap()), 0);
            }
            prop_assert_eq!(app.context.workspace.active().bytes(), bytes, "undone to what it was");
            Ok(())
        })
        .unwrap();
}

#[test]
fn any_configuration_is_read_or_told_to_be_wrong() {
    let words = "(palette|keyboard|tab_width|\"alt\\+v\"|f10|text|language|\\[|\\]|\\{|\\}|=|\"|'|night|undo|-?[0-9]{1,20}|\\n| |#|é|\\\\){0,40}";
    let texts = prop_oneof![words.prop_map(|text: String| text), "\\PC{0,80}".prop_map(|text: String| text)];
    let folder = tempfile::tempdir().unwrap();
    runner()
        .run(&(texts, bytes()), |(text, bytes)| {
            for text in [text.as_str(), &String::from_utf8_lossy(&bytes)] {
                let file = Path::new("settings.toml");
                let (_, problems) = settings::file::parse(text, file);
                problems.iter().for_each(|problem| assert!(problem.line.is_some_and(|line| line > 0)));
                let (bindings, problems) = bindings::parse(text, file);
                problems.iter().for_each(|problem| assert!(problem.line.is_some_and(|line| line > 0)));
                for binding in &bindings.list {
                    let _ = bindings::with(text, binding.key, Some(&binding.action));
                }
                let _ = (script::parse(text), Key::parse(text));
            }
            let own = folder.path().join(".editorconfig");
            std::fs::write(&own, &bytes).unwrap();
            std::fs::write(folder.path().join("a.txt"), "tide\n").unwrap();
            prop_assert!(Opened::read(&folder.path().join("a.txt")).is_ok());
            Ok(())
        })
        .unwrap();
}
