//! Real language servers: what `play` does with them, on small projects of Skerry Sound. `scripts/test` installs them.

use serde_json::Value;
use std::path::PathBuf;
use std::process::Command;
use std::sync::{Mutex, PoisonError};

/// Where `scripts/test` has put the servers, before all else on the path.
fn path_with_servers() -> String {
    let root = PathBuf::from(env!("CARGO_MANIFEST_DIR")).join("../../target/servers");
    let own = format!("{0}/python/bin:{0}/node/node_modules/.bin", root.display());
    format!("{own}:{}", std::env::var("PATH").unwrap_or_default())
}

/// Servers are waited for five seconds: one at a time, so that they need not share the machine.
static ONE: Mutex<()> = Mutex::new(());

struct Project {
    folder: tempfile::TempDir,
}

impl Project {
    fn of(files: &[(&str, &str)]) -> Project {
        let folder = tempfile::tempdir().unwrap();
        for (name, content) in files {
            let path = folder.path().join(name);
            std::fs::create_dir_all(path.parent().unwrap()).unwrap();
            std::fs::write(path, content.replace("FOLDER", &folder.path().display().to_string())).unwrap();
        }
        Project { folder }
    }

    fn play(&self, names: &[&str], keys: &str) -> Value {
        let _one = ONE.lock().unwrap_or_else(PoisonError::into_inner);
        let out = Command::new(crate::support::snarvel())
            .arg("play")
            .args(names)
            .args(["--trust", "--keys", keys, "--emit", "state"])
            .current_dir(self.folder.path())
            .env("PATH", path_with_servers())
            .output()
            .unwrap();
        assert!(out.status.success(), "{}", String::from_utf8_lossy(&out.stderr));
        let state: Value = serde_json::from_slice(&out.stdout).unwrap();
        assert_eq!(state["servers"][0]["state"], "ready", "scripts/test installs the servers: {}", state["servers"]);
        state
    }
}

fn message(state: &Value) -> &str {
    state["message"].as_str().unwrap()
}

const COMMANDS: &str = r#"[
{"directory": "FOLDER", "command": "cc -c main.c", "file": "main.c"},
{"directory": "FOLDER", "command": "cc -c horn.c", "file": "horn.c"}]"#;

#[test]
fn c_by_clangd() {
    let project = Project::of(&[
        ("compile_commands.json", COMMANDS),
        ("horn.h", "/** Sounds the horn. */\nint sound(int level);\n"),
        ("horn.c", "#include \"horn.h\"\n\nint sound(int level)\n{\n    return level + 1;\n}\n"),
        (
            "main.c",
            "#include \"horn.h\"\n\nint main(void)\n{\n    int loud = sound(3);\n    return loud + missing;\n}\n",
        ),
    ]);
    let files = ["main.c", "horn.c", "horn.h"];
    let told = project.play(&files, "@5:17 !definition");
    assert_eq!(message(&told), "sound: horn.c line 3, by meaning (clangd)");
    let told = project.play(&files, "@5:17 !uses");
    assert_eq!(message(&told), "3 uses of sound in 3 files: 3 in code, by meaning (clangd)");
    let told = project.play(&files, "@5:17 !rename(blast)");
    let texts: Vec<&str> =
        told["files"].as_array().unwrap().iter().map(|file| file["text"].as_str().unwrap()).collect();
    assert!(texts.iter().all(|text| text.contains("blast(") && !text.contains("sound(")), "{}", message(&told));
    let told = project.play(&files, "f10");
    assert_eq!(message(&told), "1 of 1: error: Use of undeclared identifier 'missing' (clang)");
    let told = project.play(&files, "!format");
    assert!(told["text"].as_str().unwrap().contains("int main(void) {\n  int loud"), "{}", told["text"]);
}

#[test]
fn python_by_pylsp() {
    let project = Project::of(&[
        ("tides.py", "def ebb(level):\n    \"\"\"Falls by one.\"\"\"\n    return level - 1\n"),
        ("board.py", "from tides import ebb\n\ntotal = ebb(4)\nprint(total, missing)\n"),
        ("watch.py", "import tides\n\nprint(tides.ebb(2))\n"),
    ]);
    let files = ["board.py", "tides.py", "watch.py"];
    let told = project.play(&files, "@3:10 !definition");
    assert_eq!(message(&told), "ebb: tides.py line 1, by meaning (pylsp)");
    let told = project.play(&files, "@3:10 !rename(fall)");
    let texts: Vec<&str> =
        told["files"].as_array().unwrap().iter().map(|file| file["text"].as_str().unwrap()).collect();
    assert!(texts.iter().all(|text| text.contains("fall") && !text.contains("ebb")), "{texts:?}");
    let told = project.play(&files, "f10");
    assert_eq!(message(&told), "1 of 1: error: undefined name 'missing' (pyflakes)");
    assert_eq!(told["diagnostics"][0]["line"], 4);
    let told = project.play(&files, "@3:10 !describe");
    assert_eq!(message(&told), "ebb(level), by meaning (pylsp)");
}

#[test]
fn typescript_by_its_server() {
    let project = Project::of(&[
        ("tsconfig.json", r#"{"compilerOptions": {"strict": true, "target": "es2020", "module": "es2020"}}"#),
        (
            "berths.ts",
            "export interface Berth { length: number; }\nexport function moor(berth: Berth): number {\n  return berth.length + 1;\n}\n",
        ),
        (
            "board.ts",
            "import { moor } from \"./berths\";\nconst total = moor({ length: 3 });\nconst one: Berth = { length: total };\nconsole.log(one);\n",
        ),
    ]);
    let files = ["board.ts", "berths.ts"];
    let told = project.play(&files, "@2:16 !definition");
    assert_eq!(message(&told), "moor: berths.ts line 2, by meaning (typescript)");
    let told = project.play(&files, "@2:16 !rename(dock)");
    let texts: Vec<&str> =
        told["files"].as_array().unwrap().iter().map(|file| file["text"].as_str().unwrap()).collect();
    assert!(texts.iter().all(|text| text.contains("dock(") && !text.contains("moor")), "{texts:?}");
    // The missing import: seen in the text, then taken.
    let told = project.play(&files, "f10 ctrl+k");
    assert_eq!(told["offers"][0]["text"], "Update import from \"./berths\"");
    let told = project.play(&files, "f10 ctrl+k tab");
    assert!(told["text"].as_str().unwrap().starts_with("import { Berth, moor } from \"./berths\";\n"));
    assert_eq!(told["diagnostics"].as_array().unwrap().len(), 0);
}

#[test]
fn shell_by_its_server() {
    let project = Project::of(&[("watch.sh", "#!/bin/bash\nsound() {\n  echo \"$1\"\n}\nsound loud\n")]);
    let told = project.play(&["watch.sh"], "@5:2 !definition");
    assert_eq!(message(&told), "sound: watch.sh line 2, by meaning (bash)");
}
