//! `snarvel apply` and `snarvel recipe`: what is printed, what is written, and with which exit code.

use crate::support::{run, snarvel};
use std::fs;
use std::os::unix::fs::{PermissionsExt, symlink};
use std::path::{Path, PathBuf};
use std::process::Command;
use tempfile::TempDir;

/// A folder with `files`, and with the recipe `recipe` beside it.
struct Bench {
    folder: TempDir,
    beside: TempDir,
}

impl Bench {
    fn with(recipe: &str, files: &[(&str, &[u8])]) -> Bench {
        let bench = Bench { folder: tempfile::tempdir().unwrap(), beside: tempfile::tempdir().unwrap() };
        fs::write(bench.recipe(), recipe).unwrap();
        for (name, bytes) in files {
            let path = bench.path(name);
            fs::create_dir_all(path.parent().unwrap()).unwrap();
            fs::write(path, bytes).unwrap();
        }
        bench
    }

    fn recipe(&self) -> PathBuf {
        self.beside.path().join("carry.recipe")
    }

    fn path(&self, name: &str) -> PathBuf {
        self.folder.path().join(name)
    }

    fn file(&self, name: &str) -> Vec<u8> {
        fs::read(self.path(name)).unwrap()
    }

    /// Applies the recipe in the folder; exit code, standard output, standard error.
    fn apply(&self, arguments: &[&str]) -> (i32, String, String) {
        let out = Command::new(snarvel())
            .current_dir(self.folder.path())
            .arg("apply")
            .arg(self.recipe())
            .args(arguments)
            .env("XDG_CONFIG_HOME", "/nowhere")
            .env("XDG_STATE_HOME", "/nowhere")
            .output()
            .unwrap();
        let text = |bytes: &[u8]| String::from_utf8_lossy(bytes).into_owned();
        (out.status.code().unwrap_or(-1), text(&out.stdout), text(&out.stderr))
    }
}

const TAKE: &str = "each match /tide/\n    type \"TIDE\"\n";

#[test]
fn any_number_of_jobs_prints_and_writes_the_same() {
    let recipe = "each block\n    each cursor\n        comment-toggle\neach match /level/\n    type \"height\"\n";
    let bench = Bench::with(recipe, &[]);
    for number in 0..120 {
        let (_, text) = &snarvel::demo::FILES[number % snarvel::demo::FILES.len()];
        let name = snarvel::demo::FILES[number % snarvel::demo::FILES.len()].0;
        let path = bench.path(&format!("{:02}/{number}-{name}", number % 7));
        fs::create_dir_all(path.parent().unwrap()).unwrap();
        fs::write(path, text).unwrap();
    }
    let one = bench.apply(&["--jobs", "1", "."]);
    assert_eq!(one.0, 0, "{}", one.2);
    assert!(one.1.len() > 10_000 && one.2.contains("of 120 files changed"), "{}", one.2);
    assert_eq!(bench.apply(&["--jobs", "4", "."]), one);
    assert_eq!(bench.apply(&["--jobs", "7", "."]), one);
    let names = bench.apply(&["--check", "--jobs", "3", "."]);
    assert_eq!((names.0, names.1.lines().count()), (1, one.1.matches("\n+++ b/").count()));
}

#[test]
fn a_diff_is_taken_by_other_programs() {
    let files: &[(&str, &[u8])] = &[
        ("a.txt", b"tide\n"),
        ("b.txt", b"one\r\ntide\r\n"),
        ("c.txt", b"no end: tide"),
        ("d e.txt", b"1\n2\n3\n4\n5\n6\n7\n8\ntide\n10\ntide"),
        ("caf\u{E9}.txt", b"tide\ntide\n"),
        ("latin.txt", b"f\xF6hn tide\n"),
    ];
    for program in [&["git", "apply", "-"][..], &["patch", "-p1", "--binary"]] {
        let bench = Bench::with(TAKE, files);
        let out = Command::new(snarvel())
            .current_dir(bench.folder.path())
            .arg("apply")
            .arg(bench.recipe())
            .arg(".")
            .output()
            .unwrap();
        let diff = bench.beside.path().join("all.diff");
        fs::write(&diff, &out.stdout).unwrap();
        let taken = Command::new(program[0])
            .args(&program[1..])
            .current_dir(bench.folder.path())
            .stdin(fs::File::open(&diff).unwrap())
            .output()
            .unwrap();
        assert!(taken.status.success(), "{program:?}: {}", String::from_utf8_lossy(&taken.stderr));
        let by_diff: Vec<Vec<u8>> = files.iter().map(|(name, _)| bench.file(name)).collect();
        let written = Bench::with(TAKE, files);
        assert_eq!(written.apply(&["--write", "."]).0, 0);
        let by_program: Vec<Vec<u8>> = files.iter().map(|(name, _)| written.file(name)).collect();
        assert_eq!(by_diff, by_program, "{program:?}");
        assert!(by_program.iter().all(|bytes| !bytes.windows(4).any(|part| part == b"tide")));
    }
}

#[test]
fn line_ends_encodings_and_rights_stay() {
    let utf16: Vec<u8> = [0xFF, 0xFE].into_iter().chain("tide\r\n".encode_utf16().flat_map(u16::to_le_bytes)).collect();
    let bench = Bench::with(
        TAKE,
        &[
            ("crlf.txt", b"tide\r\nfog\r\n"),
            ("mark.txt", b"\xEF\xBB\xBFtide"),
            ("latin.txt", b"f\xF6hn tide\n"),
            ("wide.txt", &utf16),
        ],
    );
    fs::set_permissions(bench.path("crlf.txt"), fs::Permissions::from_mode(0o751)).unwrap();
    let (code, told, summary) = bench.apply(&["--write", "."]);
    assert_eq!((code, summary.as_str()), (0, "4 of 4 files changed, 4 places\n"), "{told}");
    assert_eq!(told, "crlf.txt: 1 place\nlatin.txt: 1 place\nmark.txt: 1 place\nwide.txt: 1 place\n");
    assert_eq!(bench.file("crlf.txt"), b"TIDE\r\nfog\r\n");
    assert_eq!(bench.file("mark.txt"), b"\xEF\xBB\xBFTIDE");
    assert_eq!(bench.file("latin.txt"), b"f\xF6hn TIDE\n");
    let expected: Vec<u8> =
        [0xFF, 0xFE].into_iter().chain("TIDE\r\n".encode_utf16().flat_map(u16::to_le_bytes)).collect();
    assert_eq!(bench.file("wide.txt"), expected);
    assert_eq!(fs::metadata(bench.path("crlf.txt")).unwrap().permissions().mode() & 0o777, 0o751);
}

#[test]
fn what_is_passed_over_in_folders_is_taken_when_it_is_named() {
    let files: &[(&str, &[u8])] = &[
        (".gitignore", b"out/\n"),
        (".ignore", b"notes.txt\n"),
        (".hidden", b"tide"),
        ("out/built.txt", b"tide"),
        ("notes.txt", b"tide"),
        ("a.txt", b"tide"),
        ("picture.bin", b"tide\0tide"),
    ];
    let bench = Bench::with(TAKE, files);
    symlink(bench.path("notes.txt"), bench.path("link.txt")).unwrap();
    assert_eq!(bench.apply(&["--check", "."]).1, "a.txt\n");
    let (code, told, summary) =
        bench.apply(&["--write", ".", "a.txt", "./a.txt", "link.txt", ".hidden", "out/built.txt"]);
    assert_eq!(code, 0, "{summary}");
    assert_eq!(told.lines().count(), 4, "{told}");
    assert!(fs::symlink_metadata(bench.path("link.txt")).unwrap().is_symlink(), "a link stays one");
    assert_eq!(bench.file("notes.txt"), b"TIDE");
    let (code, _, summary) = bench.apply(&["picture.bin"]);
    assert_eq!((code, summary.as_str()), (1, "picture.bin: it is binary\n0 of 1 file changed, 1 could not be done\n"));
    assert_eq!(bench.file("picture.bin"), b"tide\0tide");
}

#[test]
fn what_cannot_be_done_is_told_and_the_others_are_done() {
    let bench = Bench::with(TAKE, &[("a.txt", b"tide"), ("locked.txt", b"tide"), ("z.txt", b"tide")]);
    fs::set_permissions(bench.path("locked.txt"), fs::Permissions::from_mode(0o444)).unwrap();
    let (code, _, summary) = bench.apply(&["--write", ".", "gone.txt"]);
    assert_eq!(code, 1);
    assert!(summary.contains("gone.txt: ") && summary.contains("locked.txt is read-only"), "{summary}");
    assert!(summary.ends_with("2 of 3 files changed, 2 places, 2 could not be done\n"), "{summary}");
    assert_eq!((bench.file("locked.txt"), bench.file("z.txt")), (b"tide".to_vec(), b"TIDE".to_vec()));
    // A file of a gigabyte that is none of text is not read to its end.
    fs::File::create(bench.path("large.bin")).unwrap().set_len(1 << 30).unwrap();
    assert_eq!(bench.apply(&["large.bin"]).2, "large.bin: it is binary\n0 of 1 file changed, 1 could not be done\n");
    // One that lacks a character stays as it was.
    fs::write(bench.recipe(), "type \"\u{2713} \"\n").unwrap();
    let german = "Der Wasserstand \u{FC}ber dem Pegel f\u{E4}llt. Die Schiffe m\u{FC}ssen sp\u{E4}ter auslaufen, weil der F\u{F6}hn die \
                  Wellen h\u{F6}her schl\u{E4}gt. F\u{FC}r die Lotsen gilt: vor Mittag l\u{E4}uft kein gro\u{DF}es Schiff aus.\n";
    let latin: Vec<u8> = german.chars().map(|c| u32::from(c) as u8).collect();
    fs::write(bench.path("latin.txt"), &latin).unwrap();
    let (code, _, why) = bench.apply(&["--write", "latin.txt"]);
    assert!(code == 1 && why.contains("windows-1252, which has no '\u{2713}' (line 1)"), "{why}");
    assert_eq!(bench.file("latin.txt"), latin);
}

#[test]
fn mistakes_are_told_all_at_once_and_nothing_runs() {
    let bench = Bench::with("cary-up\n\neach match /(/\n    type \"x\"\nuse a\n", &[("a.txt", b"tide")]);
    let (code, told, wrong) = bench.apply(&["--write", "."]);
    assert_eq!((code, told.as_str()), (2, ""));
    let places: Vec<&str> = wrong.lines().filter_map(|line| line.split("carry.recipe:").nth(1)).collect();
    assert_eq!(places.len(), 3, "{wrong}");
    assert!(places[0].starts_with("1:1: no verb \"cary-up\"; is it carry-up?"), "{wrong}");
    assert!(places[1].starts_with("3:13: ") && places[2].starts_with("5:"), "{wrong}");
    let by_input = run(&["apply", "-", "/nowhere/at/all"], b"type \"x\"\nrepeat 0\n    type \"y\"\n");
    assert_eq!(by_input.0, 2);
    assert!(by_input.2.starts_with("standard input:2:"), "{}", by_input.2);
    assert_eq!(run(&["apply", "/nowhere.recipe", "."], b"").0, 1);
    assert_eq!(run(&["apply"], b"").0, 2);
}

#[test]
fn strict_recipes_write_all_or_nothing_and_endless_ones_end() {
    let bench = Bench::with("strict\nline-down\ncarry-up\n", &[("a.txt", b"one\n"), ("b.txt", b"one\ntwo\n")]);
    let (code, told, why) = bench.apply(&["--write", "."]);
    assert_eq!((code, told.as_str()), (1, ""), "{why}");
    assert!(why.contains("a.txt: line ") && !why.contains("b.txt"), "{why}");
    assert_eq!(bench.file("b.txt"), b"one\ntwo\n");
    fs::write(bench.recipe(), "repeat while it changes\n    type \"a\"\n").unwrap();
    let (code, _, why) = bench.apply(&["--write", "b.txt"]);
    assert_eq!(code, 1);
    assert!(why.contains("b.txt: line 1: still changing after 10000 passes: it stays as it was"), "{why}");
    assert_eq!(bench.file("b.txt"), b"one\ntwo\n");
}

#[test]
fn ten_thousand_steps_are_no_matter() {
    let bench = Bench::with(&"type \"a\"\n".repeat(10_000), &[("a.txt", b"\n")]);
    let (code, _, why) = bench.apply(&["--write", "a.txt"]);
    assert_eq!((code, bench.file("a.txt").len()), (0, 10_001), "{why}");
}

#[test]
fn keys_may_stand_in_for_a_recipe() {
    let bench = Bench::with("", &[("a.txt", b"one\ntwo\n"), ("b.txt", b"three\n")]);
    let folder = bench.folder.path().to_str().unwrap();
    let (code, _, why) = run(&["apply", "--keys", "alt+s \"x\"", "--write", folder], b"");
    assert_eq!(code, 0, "{why}");
    assert_eq!((bench.file("a.txt"), bench.file("b.txt")), (b"two\nxone\n".to_vec(), b"xthree\n".to_vec()));
    assert_eq!(run(&["apply", "--keys", "alt+nothing", folder], b"").0, 2);
}

#[test]
fn commands_run_only_with_trust() {
    let bench = Bench::with("filter-through sort\n", &[("a.txt", b"b\na\n")]);
    let (code, _, why) = bench.apply(&["--write", "a.txt"]);
    assert_eq!(code, 2);
    assert!(why.contains("1:1: filter-through runs a command: only with --trust"), "{why}");
    assert_eq!(bench.apply(&["--trust", "--write", "a.txt"]).0, 0);
    assert_eq!(bench.file("a.txt"), b"a\nb\n");
    fs::write(bench.recipe(), "filter-through echo fog >&2; false\n").unwrap();
    let (_, _, why) = bench.apply(&["--trust", "--write", "a.txt"]);
    assert!(why.contains("ended with code 1: fog") && why.contains("1 could not be done"), "{why}");
}

#[test]
fn recipes_are_checked_and_put_into_form() {
    let bench = Bench::with("\u{FEFF}each   match /a b/\n\ttype   \"x\"", &[]);
    let recipe = bench.recipe();
    let recipe = recipe.to_str().unwrap();
    assert_eq!(run(&["recipe", "--check", recipe], b"").0, 0);
    let form = "each match /a b/\n    type \"x\"\n";
    assert_eq!(run(&["recipe", "--format", recipe], b"").1, form.as_bytes());
    assert_eq!(run(&["recipe", "--format", "--write", recipe], b"").0, 0);
    assert_eq!(fs::read(Path::new(recipe)).unwrap(), form.as_bytes());
    assert_eq!(run(&["recipe", "--check", "-"], b"cary-up\n").0, 2);
}
