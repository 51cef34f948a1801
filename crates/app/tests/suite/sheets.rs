//! Sheets from the command line: edits, listings, the ledger and the keys as SVG and PDF, read again by the tools that read such files.

use crate::support::{demo, snarvel};
use snarvel_ledger::{Amounts, Batch, Ledger, Used, Way};
use snarvel_workspace::today::days_ago;
use std::path::{Path, PathBuf};
use std::process::Command;
use std::time::{Duration, Instant};
use tempfile::TempDir;

/// A folder for files, and one for what the program keeps.
struct Desk {
    folder: TempDir,
}

impl Desk {
    fn new() -> Desk {
        Desk { folder: tempfile::tempdir().unwrap() }
    }

    fn path(&self, name: &str) -> PathBuf {
        self.folder.path().join(name)
    }

    fn with(self, name: &str, bytes: impl AsRef<[u8]>) -> Desk {
        std::fs::write(self.path(name), bytes).unwrap();
        self
    }

    /// Runs `snarvel sheet` in the folder: exit code and what it said, on standard output or else on standard error.
    fn sheet(&self, arguments: &[&str]) -> (i32, String) {
        let mut command = Command::new(snarvel());
        command.arg("sheet").args(arguments).current_dir(self.folder.path());
        command.env("XDG_STATE_HOME", self.path("state")).env("XDG_CONFIG_HOME", self.path("config"));
        let out = command.output().unwrap();
        let said = if out.stdout.is_empty() { out.stderr } else { out.stdout };
        (out.status.code().unwrap(), String::from_utf8_lossy(&said).into_owned())
    }

    /// Draws into `name`; its bytes.
    fn drawn(&self, arguments: &[&str], name: &str) -> Vec<u8> {
        let all: Vec<&str> = arguments.iter().copied().chain(["--out", name]).collect();
        assert_eq!(self.sheet(&all), (0, format!("{name}\n")), "{arguments:?}");
        std::fs::read(self.path(name)).unwrap()
    }

    /// The text of a PDF as it can be selected in it.
    fn text(&self, name: &str) -> String {
        let out = Command::new("pdftotext").args(["-layout", name, "-"]).current_dir(self.folder.path()).output();
        let out = out.expect("poppler-utils is installed by scripts/test");
        assert!(out.status.success(), "{}", String::from_utf8_lossy(&out.stderr));
        String::from_utf8_lossy(&out.stdout).into_owned()
    }

    fn count_week(&self) {
        let (mut ledger, _) = Ledger::open(&self.path("state/snarvel/ledger.sqlite")).unwrap();
        let mut batch = Batch::default();
        for (verb, way, times) in
            [("carry-down", Way::Key, 12), ("join-lines", Way::Lookup, 3), ("char-right", Way::Hand, 90)]
        {
            let used = Used { day: days_ago(1), kind: "rust".to_owned(), verb: verb.to_owned(), way };
            batch.add(used, Amounts { times, keys: times, cursors: times, lines: times / 2, undone: 0 });
        }
        ledger.add(&batch).unwrap();
    }
}

/// A page of a PDF as grey levels.
struct Page {
    cols: usize,
    rows: usize,
    grey: Vec<u8>,
}

/// The pages of the PDF `name`, 50 dots to the inch.
fn pages(desk: &Desk, name: &str) -> Vec<Page> {
    let out =
        Command::new("pdftoppm").args(["-r", "50", "-gray", name]).current_dir(desk.folder.path()).output().unwrap();
    assert!(out.status.success() && out.stderr.is_empty(), "{}", String::from_utf8_lossy(&out.stderr));
    let mut rest = &out.stdout[..];
    let mut pages = Vec::new();
    // The form is told by its document: three fields after "P5", each ended by one white space, then a byte for each dot.
    while !rest.is_empty() {
        let mut fields = [0; 3];
        rest = rest.strip_prefix(b"P5\n").unwrap();
        for field in &mut fields {
            let end = rest.iter().position(u8::is_ascii_whitespace).unwrap();
            *field = std::str::from_utf8(&rest[..end]).unwrap().parse().unwrap();
            rest = &rest[end + 1..];
        }
        let [cols, rows, most] = fields;
        assert_eq!(most, 255);
        pages.push(Page { cols, rows, grey: rest[..cols * rows].to_vec() });
        rest = &rest[cols * rows..];
    }
    pages
}

/// Nothing is drawn within four millimetres of the edge, and something is drawn within it.
fn has_margins(page: &Page) -> bool {
    const EDGE: usize = 8;
    let is_edge = |at: usize| {
        let (x, y) = (at % page.cols, at / page.cols);
        x < EDGE || y < EDGE || x >= page.cols - EDGE || y >= page.rows - EDGE
    };
    let (edge, inside): (Vec<usize>, Vec<usize>) = (0..page.grey.len()).partition(|at| is_edge(*at));
    edge.iter().all(|at| page.grey[*at] == 255) && inside.iter().any(|at| page.grey[*at] < 128)
}

#[test]
fn every_sheet_is_text_within_its_margins_and_the_same_bytes_again() {
    let desk = Desk::new().with("gauges.rs", demo("gauges.rs"));
    desk.count_week();
    let rows: &[(&[&str], &[&str])] = &[
        (&["keys"], &["carry", "Alt"]),
        (&["edit", "gauges.rs", "--keys", "@20:1 2*alt+w"], &["before", "after", "carry", "Alt+W ×2", "station"]),
        (&["edit", "gauges.rs", "--keys", "@37:9 f2 \"correction_mm\"", "--greys"], &["“correction_mm”", "lowest_mm"]),
        (&["ledger"], &["carry-down", "join-lines", "keys for each changed line", "lookup"]),
        (&["listing", "gauges.rs"], &["gauges.rs", "page 1 of", "page 2 of", "pub struct Gauge {", "107"]),
        (&["listing", "gauges.rs", "--two", "--greys"], &["pub struct Gauge {", "page 1 of"]),
        (&["listing", "gauges.rs", "--lines", "35-40"], &["pub struct Gauge {", "35", "40", "page 1 of 1"]),
    ];
    for paper in ["a4", "letter"] {
        for (arguments, expected) in rows {
            let arguments: Vec<&str> = arguments.iter().copied().chain(["--paper", paper]).collect();
            for ending in ["svg", "pdf"] {
                let (one, other) = (format!("one.{ending}"), format!("other.{ending}"));
                assert!(desk.drawn(&arguments, &one) == desk.drawn(&arguments, &other), "{arguments:?} as {ending}");
            }
            let (pdf, svg) = (desk.text("one.pdf"), std::fs::read_to_string(desk.path("one.svg")).unwrap());
            for words in *expected {
                assert!(pdf.contains(words), "{words:?} of {arguments:?} in\n{pdf}");
            }
            assert!(svg.starts_with("<?xml") || svg.starts_with("<svg"), "{svg}");
            for (number, page) in pages(&desk, "one.pdf").iter().enumerate() {
                assert!(has_margins(page), "page {} of {arguments:?}", number + 1);
            }
        }
    }
    let listed = desk.text("one.pdf");
    assert!(!listed.contains("GAUGES"), "lines that were not asked for\n{listed}");
    assert_eq!(std::fs::read_to_string(desk.path("gauges.rs")).unwrap(), demo("gauges.rs"));
}

#[test]
fn files_of_any_kind_are_listed() {
    let long = "tide ".repeat(200_000);
    let rows: &[(&str, &[u8], &str)] = &[
        ("empty.rs", b"", "empty.rs"),
        ("bytes.bin", b"\x00\x01ebb\xFF\xFE\x80\x1B[31mflow", "flow"),
        ("long.txt", long.as_bytes(), "tide tide"),
        ("hebrew.txt", "let גאות = 1; // שפל\n".as_bytes(), "let"),
        ("wide.txt", "潮位 = 12\n".as_bytes(), "12"),
        ("crlf.rs", b"let ebb = 1;\r\nlet flow = 2;\r\n", "let flow = 2;"),
        ("tabs.go", b"\tebb := 1\n", "ebb := 1"),
    ];
    for (name, bytes, expected) in rows {
        let desk = Desk::new().with(name, bytes);
        let start = Instant::now();
        desk.drawn(&["listing", name], "listing.pdf");
        desk.drawn(&["listing", name], "listing.svg");
        assert!(start.elapsed() < Duration::from_mins(1), "{name}: {:?}", start.elapsed());
        let text = desk.text("listing.pdf");
        assert!(text.contains(expected), "{name}:\n{}", text.chars().take(2_000).collect::<String>());
        assert!(!text.contains('\x1B'), "{name}");
    }
}

#[test]
fn what_cannot_be_drawn_is_said_and_nothing_is_written() {
    let desk = Desk::new().with("a.rs", "let a = 1;\nlet b = 2;\n").with("kept.pdf", "kept");
    let rows: &[(&[&str], i32, &str)] = &[
        (&["listing", "none.rs", "--out", "kept.pdf"], 1, "none.rs is not there"),
        (&["listing", ".", "--out", "kept.pdf"], 1, "is a folder"),
        (&["listing", "a.rs", "none.rs", "--out", "kept.pdf"], 1, "none.rs is not there"),
        (&["listing", "a.rs", "--lines", "3-9", "--out", "kept.pdf"], 1, "a.rs has 2 lines only: there is no line 3"),
        (&["listing", "a.rs", "--lines", "0-9", "--out", "kept.pdf"], 2, "from 1"),
        (&["listing", "a.rs", "--lines", "9-3", "--out", "kept.pdf"], 2, "from 1"),
        (&["listing", "a.rs", "--out", "a.png"], 1, "neither .svg nor .pdf"),
        (&["listing", "a.rs", "--out", "none/a.pdf"], 1, "there is no folder none"),
        (&["listing", "a.rs"], 2, "--out"),
        (&["listing", "a.rs", "--out", "kept.pdf", "--paper", "stamp"], 2, "a4"),
        (&["edit", "a.rs", "--keys", "alt+qqq", "--out", "kept.pdf"], 1, "no such key"),
        (&["edit", "a.rs", "--out", "kept.pdf"], 2, "--keys"),
        (&["edit", "none.rs", "--keys", "x", "--out", "kept.pdf"], 1, "none.rs"),
        (&["ledger", "--out", "kept.pdf"], 1, "nothing is counted yet"),
        (&["ledger", "--since", "soon", "--out", "kept.pdf"], 1, "nothing is counted yet"),
    ];
    for (arguments, code, expected) in rows {
        let (found, said) = desk.sheet(arguments);
        assert_eq!(found, *code, "{arguments:?}: {said}");
        assert!(said.contains(expected), "{arguments:?}: {said}");
    }
    assert_eq!(std::fs::read_to_string(desk.path("kept.pdf")).unwrap(), "kept");
    assert!(!desk.path("none").exists());
    desk.count_week();
    let (code, said) = desk.sheet(&["ledger", "--since", "soon", "--out", "kept.pdf"]);
    assert_eq!((code, said.contains("\"soon\" is no time")), (1, true), "{said}");
}

#[test]
fn a_listing_is_handed_to_the_command_that_prints() {
    use std::os::unix::fs::PermissionsExt;
    let desk = Desk::new().with("a.rs", "let ebb = 1;\n");
    let print = |path: &Path| {
        let mut command = Command::new(snarvel());
        command.args(["sheet", "listing", "a.rs", "--print"]).current_dir(desk.folder.path()).env("PATH", path);
        let out = command.output().unwrap();
        (out.status.code().unwrap(), String::from_utf8_lossy(&out.stderr).into_owned())
    };
    let tools = desk.path("tools");
    std::fs::create_dir(&tools).unwrap();
    let (code, said) = print(&tools);
    assert_eq!((code, said.contains("the command lp cannot be run")), (1, true), "{said}");
    let put = |script: &str| {
        std::fs::write(tools.join("lp"), script).unwrap();
        std::fs::set_permissions(tools.join("lp"), std::fs::Permissions::from_mode(0o755)).unwrap();
    };
    put(&format!("#!/bin/sh\nexec /bin/cat > {}\n", desk.path("printed.pdf").display()));
    assert_eq!(print(&tools).0, 0);
    assert!(desk.text("printed.pdf").contains("let ebb = 1;"));
    put("#!/bin/sh\necho 'no destination' >&2\nexit 1\n");
    let (code, said) = print(&tools);
    assert_eq!((code, said.contains("lp said: no destination")), (1, true), "{said}");
}
