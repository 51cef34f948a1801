//! Any keys, pastes and clicks, at any size, on any bytes, while another program writes the file: nothing panics, here or in the
//! background, and undoing everything gives the first bytes back. Seeds are fixed; `SNARVEL_KEYS=200000` makes a long run.

use crate::support::{app_with, drawn};
use proptest::prelude::*;
use proptest::test_runner::{Config, RngAlgorithm, TestRng, TestRunner};
use snarvel_files::load::{Loaded, decode};
use snarvel_files::outside::{DiskNews, DiskStatus};
use snarvel_files::stamp::Stamp;
use snarvel_task::waits;
use snarvel_ui::app::{App, Event};
use snarvel_ui::keys::{Key, script};
use snarvel_ui::mouse::{Gesture, Mouse};
use snarvel_ui::palette::theme::Theme;
use snarvel_ui::palette::{Depth, Palette};
use snarvel_ui::size::Size;
use snarvel_workspace::command::Command;
use snarvel_workspace::event::Payload;
use snarvel_workspace::ids::BufferId;
use snarvel_workspace::tasks::About;
use std::path::Path;
use std::time::{Duration, Instant};

/// Keys of the normal run, spread over cases.
const KEYS: u32 = 6_000;

/// Keys in a case.
const KEYS_A_CASE: u32 = 60;

fn key() -> impl Strategy<Value = Event> {
    let bare = "[ -~é漢\u{301}]".prop_map(|text| text.chars().next().map(Key::character));
    let alt = "[ -~]".prop_map(|text| text.chars().next().map(|c| Key::character(c).with_alt()));
    // Saving and opening stay out: they would touch the disk.
    let held = prop::sample::select(vec![
        "ctrl+space",
        "ctrl+z",
        "ctrl+y",
        "ctrl+c",
        "ctrl+x",
        "ctrl+v",
        "ctrl+a",
        "ctrl+g",
        "ctrl+p",
        "ctrl+p",
        "`",
        "`",
        "alt+`",
        "ctrl+t",
        "ctrl+t",
        "ctrl+u",
        "ctrl+f",
        "ctrl+f",
        "ctrl+l",
        "ctrl+k",
        "ctrl+o",
        "f2",
        "f3",
        "f4",
        "f5",
        "f5",
        "f7",
        "f8",
        "f9",
        "alt+enter",
        "alt+left",
        "alt+right",
        "ctrl+n",
        "ctrl+w",
        "ctrl+q",
        "enter",
        "esc",
        "esc",
        "tab",
        "shift+tab",
        "backspace",
        "delete",
        "up",
        "down",
        "left",
        "right",
        "home",
        "end",
        "pgup",
        "pgdn",
        "shift+down",
        "shift+left",
        "ctrl+end",
        "ctrl+home",
        "ctrl+shift+left",
        "ctrl+up",
        "ctrl+down",
        "f1",
        "ctrl+7",
        "shift+f9",
        "shift+f8",
        "alt+pgdn",
        "alt+pgup",
        "shift+f11",
    ])
    .prop_map(Key::parse);
    prop_oneof![3 => bare, 5 => alt, 4 => held].prop_filter_map("a key", |key| key.map(Event::Key))
}

/// What happens in a test: something at the terminal, or another program writes the file.
#[derive(Clone, Debug)]
enum Happening {
    Here(Event),
    Outside(Vec<u8>),
}

fn happening() -> impl Strategy<Value = Happening> {
    let outside = prop_oneof![
        "[ab \\n\\t{}()\"'/*#é漢\r]{0,40}".prop_map(String::into_bytes),
        prop::collection::vec(any::<u8>(), 0..20),
        Just(Vec::new()),
    ];
    prop_oneof![12 => event().prop_map(Happening::Here), 1 => outside.prop_map(Happening::Outside)]
}

/// The file of `buffer` was written by another program: taken over where nothing was edited, else asked about.
fn written_outside(app: &mut App, buffer: BufferId, bytes: &[u8], times: u64) {
    let workspace = &mut app.context.workspace;
    let Some(path) = workspace.buffer(buffer).and_then(|buffer| buffer.path()).map(Path::to_owned) else { return };
    let (text, encoding) = decode(bytes);
    let stamp = Stamp { len: bytes.len() as u64, modified_ns: u128::from(times), changed_ns: 0, inode: 1 };
    let status = DiskStatus::Changed(Box::new(Loaded { text, encoding, read_only: false }), stamp);
    let about = About::new("watching files").awaited(waits::FOR_EVER);
    let _told = workspace.tasks.run(about, Payload::Disk, move || DiskNews { path, status });
    app.pump();
}

fn event() -> impl Strategy<Value = Event> {
    let press = (0u16..150, 0u16..45, 1u8..4, any::<bool>(), any::<bool>()).prop_map(|(x, y, times, alt, shift)| {
        Event::Mouse(Mouse { gesture: Gesture::Press(times), cell: [x, y], alt, shift, ctrl: false })
    });
    let drag = (0u16..150, 0u16..45, any::<bool>()).prop_map(|(x, y, alt)| {
        Event::Mouse(Mouse { gesture: Gesture::Drag, cell: [x, y], alt, shift: false, ctrl: false })
    });
    let wheel = (-1i8..2).prop_map(|turns| {
        Event::Mouse(Mouse { gesture: Gesture::Wheel(turns), cell: [0, 0], alt: false, shift: false, ctrl: false })
    });
    let paste = "[ab\\r\\n\\t{}]{0,8}".prop_map(Event::Paste);
    let size = (1u16..150, 1u16..45).prop_map(|(cols, rows)| Event::Resize(Size { cols, rows }));
    prop_oneof![40 => key(), 2 => press, 1 => drag, 1 => wheel, 2 => paste, 2 => size]
}

/// What is rare in files: line ends of all kinds, controls and marks that turn text round, marks by the hundred on one letter,
/// letters that join, code of other languages inside.
fn odd_text() -> impl Strategy<Value = Vec<u8>> {
    let piece = prop_oneof![
        prop::sample::select(vec![
            "\r\n",
            "\n",
            "\r",
            "\u{85}",
            "\u{2028}",
            "\0",
            "\u{1b}[31m",
            "\u{202e}",
            "\u{2066}"
        ]),
        prop::sample::select(vec!["👩\u{200d}🚀", "e\u{301}", "\u{fe0f}", "\u{e0041}", "\u{115f}", "漢", "\t", "ﷺ"]),
        prop::sample::select(vec![
            "<script>",
            "</script>",
            "```sql\n",
            "{{",
            "}}",
            "`${",
            "<?php ",
            "\"\"\"",
            "(((",
            "- - -"
        ]),
        prop::sample::select(vec![
            "fn a() {",
            "}",
            "if x:",
            "    ",
            "select ",
            "/*",
            "*/",
            "//",
            "#",
            "=+! RC_U*",
            "'",
            "a, b"
        ]),
    ];
    let marks = (0usize..400).prop_map(|count| format!("a{}", "\u{301}".repeat(count)));
    let pieces = prop::collection::vec(prop_oneof![20 => piece.prop_map(str::to_owned), 1 => marks], 0..60);
    pieces.prop_map(|pieces| pieces.concat().into_bytes())
}

/// A key takes no longer, until the frame is drawn. A program that is not optimised is given ten times as long.
const LONGEST: Duration = Duration::from_secs(if cfg!(debug_assertions) { 10 } else { 1 });

fn app(name: &str, bytes: &[u8]) -> App {
    app_with(folder(), (name, bytes), &Palette::new(&Theme::night(), Depth::True), Size::REFERENCE)
}

/// A small folder: what is opened, searched and walked through.
fn folder() -> &'static std::path::Path {
    concat!(env!("CARGO_MANIFEST_DIR"), "/demo").as_ref()
}

#[test]
fn random_keys_never_panic_and_can_be_undone() {
    let keys = std::env::var("SNARVEL_KEYS").ok().and_then(|text| text.parse().ok()).unwrap_or(KEYS);
    let config = Config { cases: (keys / KEYS_A_CASE).max(1), failure_persistence: None, ..Config::default() };
    let mut runner = TestRunner::new_with_rng(config, TestRng::deterministic_rng(RngAlgorithm::ChaCha));
    let names = prop::sample::select(vec![
        "a.rs", "a.py", "a.css", "a.txt", "a.html", "a.go", "a.sh", "a.sql", "a.md", "a.vue", "a.json", "a.toml",
        "a.yaml", "a.tsx", "a.lua", "a.rb", "a.hs", "a.tex",
    ]);
    let bytes = prop_oneof![
        "[ab \\n\\t{}()\"'/*#é漢\r]{0,80}".prop_map(String::into_bytes),
        prop::collection::vec(any::<u8>(), 0..60),
        odd_text(),
        // Longer than the screen: what is seen first and last has nothing in common.
        prop::sample::select(vec![0, 1, 2, 5]).prop_map(|file| snarvel::demo::FILES[file].1.repeat(3).into_bytes()),
    ];
    let happenings = prop::collection::vec(happening(), KEYS_A_CASE as usize);
    runner
        .run(&(names, bytes, happenings), |(name, bytes, happenings)| {
            let mut app = app(name, &bytes);
            let first = app.context.workspace.active().id;
            drawn(&app);
            for (times, happening) in (0..).zip(happenings) {
                let (start, told) = (Instant::now(), format!("{happening:?}"));
                match happening {
                    Happening::Here(event) => app.handle(event, 0),
                    Happening::Outside(bytes) => written_outside(&mut app, first, &bytes, times),
                }
                drawn(&app);
                let took = start.elapsed();
                prop_assert!(took < LONGEST, "{told} took {took:?}");
                let said = app.message().unwrap_or_default();
                prop_assert!(!said.contains("broke off"), "{}", said);
                if app.is_done() {
                    break;
                }
            }
            app.close_panel();
            let workspace = &mut app.context.workspace;
            if workspace.buffer(first).is_some() {
                workspace.show(first);
                while app.context.workspace.active().history().can_undo() {
                    app.call(&Command::named("undo"));
                }
                prop_assert_eq!(app.context.workspace.active().bytes(), bytes);
            }
            Ok(())
        })
        .unwrap();
}

proptest! {
    #![proptest_config(Config { cases: 2_000, failure_persistence: None, ..Config::default() })]

    #[test]
    fn any_key_script_is_read_or_refused(script in "[a-z!@()\",:0-9*+ \\\\é-]{0,30}") {
        if let Err(wrong) = script::parse(&script) {
            prop_assert!(wrong.place >= 1 && wrong.place <= script.chars().count().max(1));
            prop_assert!(!wrong.why.is_empty());
        }
    }
}
