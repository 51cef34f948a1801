//! What tools print, and the places that are read from it: each a row of what the tool wrote in a folder with the named files.

use snarvel_shell::places::{Kind, MOST_PLACES, Place, Reader, tools};
use std::fmt::Write as _;

/// The places read from `output` in a folder that has `files`, as `file:line:column kind message`.
fn read(files: &[&str], output: &str) -> Vec<String> {
    let folder = tempfile::tempdir().unwrap();
    for file in files {
        let path = folder.path().join(file);
        std::fs::create_dir_all(path.parent().unwrap()).unwrap();
        std::fs::write(path, "").unwrap();
    }
    let mut reader = Reader::new(folder.path().to_owned());
    output.replace("FOLDER", &folder.path().to_string_lossy()).lines().for_each(|line| reader.take(line));
    reader.finish();
    let told = |place: &Place| {
        let name = place.file.strip_prefix(folder.path()).unwrap().display().to_string();
        let column = place.column.map_or(String::new(), |column| format!(":{column}"));
        let kind = match place.kind {
            Kind::Error => "error",
            Kind::Warning => "warning",
            Kind::Note => "note",
        };
        format!("{name}:{}{column} {kind} {}", place.line, place.message).trim_end().to_owned()
    };
    reader.found().iter().map(told).collect()
}

/// The files that are there, what a tool prints, and what is read from it.
const ROWS: &[(&[&str], &str, &[&str])] = &[
    (
        &["tide.c"],
        "tide.c: In function 'ebb':\ntide.c:3:5: error: 'x' undeclared (first use in this function)\n    3 |     x = 1;\ntide.c:9:1: warning: control reaches end\ntide.c:1:1: note: here\ntide.c:2:9: fatal error: horn.h: No such file",
        &[
            "tide.c:3:5 error 'x' undeclared (first use in this function)",
            "tide.c:9:1 warning control reaches end",
            "tide.c:1:1 note here",
            "tide.c:2:9 error horn.h: No such file",
        ],
    ),
    (
        &["src/main.rs"],
        "error[E0308]: mismatched types\n --> src/main.rs:4:18\n  |\nwarning: unused variable: `ebb`\n  --> src/main.rs:2:9",
        &["src/main.rs:4:18 error mismatched types", "src/main.rs:2:9 warning unused variable: `ebb`"],
    ),
    (
        &["src/main.rs"],
        "thread 'main' panicked at src/main.rs:7:14:\nindex out of bounds: the len is 1\nthread 'tests::ebb' (3012) panicked at src/main.rs:9:5:\nassertion `left == right` failed",
        &[
            "src/main.rs:7:14 error index out of bounds: the len is 1",
            "src/main.rs:9:5 error assertion `left == right` failed",
        ],
    ),
    (
        &["tide.py", "board.py"],
        "Traceback (most recent call last):\n  File \"FOLDER/board.py\", line 9, in <module>\n    ebb(1)\n  File \"FOLDER/tide.py\", line 2, in ebb\n    return x / 0\n           ~~^~~\nZeroDivisionError: division by zero",
        &["board.py:9 note ZeroDivisionError: division by zero", "tide.py:2 error ZeroDivisionError: division by zero"],
    ),
    (
        &["tide.py"],
        "  File \"tide.py\", line 3\n    def ebb(:\n            ^\nSyntaxError: invalid syntax",
        &["tide.py:3 error SyntaxError: invalid syntax"],
    ),
    (
        &["test_tide.py"],
        "test_tide.py:12: AssertionError\ntide.py:1: AssertionError",
        &["test_tide.py:12 error AssertionError"],
    ),
    (
        &["tide.py"],
        "tide.py:3: error: Incompatible types  [assignment]\ntide.py:8:80: E501 line too long (98 > 79 characters)",
        &[
            "tide.py:3 error Incompatible types  [assignment]",
            "tide.py:8:80 error E501 line too long (98 > 79 characters)",
        ],
    ),
    (
        &["tide.js"],
        "FOLDER/tide.js:3\nlet let = 1;\n    ^^^\n\nSyntaxError: let is disallowed",
        &["tide.js:3 error SyntaxError: let is disallowed"],
    ),
    (
        &["tide.js", "lib/horn.js"],
        "TypeError: x is not a function\n    at ebb (FOLDER/tide.js:4:9)\n    at Object.<anonymous> (lib/horn.js:9:1)\n    at Module._compile (node:internal/modules/cjs/loader:1358:14)",
        &["tide.js:4:9 error TypeError: x is not a function", "lib/horn.js:9:1 error TypeError: x is not a function"],
    ),
    (
        &["src/tide.ts"],
        "src/tide.ts(3,7): error TS2322: Type 'string' is not assignable.\nsrc/tide.ts:9:2 - error TS1005: ';' expected.",
        &[
            "src/tide.ts:3:7 error TS2322: Type 'string' is not assignable.",
            "src/tide.ts:9:2 error TS1005: ';' expected.",
        ],
    ),
    (
        &["src/tide.js"],
        "FOLDER/src/tide.js\n  3:5  error    'x' is not defined  no-undef\n  9:1  warning  Unexpected console  no-console",
        &["src/tide.js:3:5 error 'x' is not defined", "src/tide.js:9:1 warning Unexpected console"],
    ),
    (
        &["Tide.java"],
        "Tide.java:5: error: ';' expected\n        int x = 1\n[ERROR] FOLDER/Tide.java:[7,3] cannot find symbol",
        &["Tide.java:5 error ';' expected", "Tide.java:7:3 error cannot find symbol"],
    ),
    (
        &["Tide.java"],
        "Exception in thread \"main\" java.lang.IllegalStateException: dry\n\tat sound.Tide.ebb(Tide.java:12)",
        &["Tide.java:12 error java.lang.IllegalStateException: dry"],
    ),
    (
        &["src/Tide.kt"],
        "e: file://FOLDER/src/Tide.kt:3:5 Unresolved reference\nw: FOLDER/src/Tide.kt: (4, 6): Unused variable",
        &["src/Tide.kt:3:5 error Unresolved reference", "src/Tide.kt:4:6 warning Unused variable"],
    ),
    (
        &["Tide.cs"],
        "Tide.cs(3,5): error CS1002: ; expected [FOLDER/tide.csproj]",
        &["Tide.cs:3:5 error CS1002: ; expected [FOLDER/tide.csproj]"],
    ),
    (
        &["tide.go", "tide_test.go"],
        "./tide.go:3:5: undefined: ebb\n    tide_test.go:12: got 1, want 2\npanic: dry\n\ngoroutine 1 [running]:\nmain.main()\n\tFOLDER/tide.go:9 +0x1d",
        &["tide.go:3:5 error undefined: ebb", "tide_test.go:12 error got 1, want 2", "tide.go:9 error panic: dry"],
    ),
    (
        &["tide.php"],
        "PHP Parse error:  syntax error, unexpected end in FOLDER/tide.php on line 4",
        &["tide.php:4 error syntax error, unexpected end"],
    ),
    (
        &["tide.pl"],
        "Illegal division by zero at tide.pl line 3.\nsyntax error at tide.pl line 7, near \"}\"",
        &["tide.pl:3 error Illegal division by zero", "tide.pl:7 error syntax error"],
    ),
    (
        &["tide.lua"],
        "lua: tide.lua:3: attempt to index a nil value",
        &["tide.lua:3 error attempt to index a nil value"],
    ),
    (
        &["tide.rb"],
        "tide.rb:3:in `ebb': undefined method (NoMethodError)",
        &["tide.rb:3 error `ebb': undefined method (NoMethodError)"],
    ),
    (&["tide.sh"], "tide.sh: line 3: horn: command not found", &["tide.sh:3 error horn: command not found"]),
    (
        &["tide.sh"],
        "In tide.sh line 3:\necho $x\n     ^-- SC2086 (info): Double quote.",
        &["tide.sh:3 error SC2086 (info): Double quote."],
    ),
    (
        &["Makefile"],
        "Makefile:3: *** missing separator.  Stop.\nmake: *** [Makefile:7: tide] Error 1",
        &["Makefile:3 error missing separator.  Stop.", "Makefile:7 error tide] Error 1"],
    ),
    (
        &["CMakeLists.txt"],
        "CMake Error at CMakeLists.txt:3 (find_package):\n  Could not find horn.",
        &["CMakeLists.txt:3 error Could not find horn."],
    ),
    (
        &["Tide.hs"],
        "Tide.hs:3:5: error: [GHC-83865]\n    • Couldn't match type",
        &["Tide.hs:3:5 error Couldn't match type"],
    ),
    (
        &["tide.ml"],
        "File \"tide.ml\", line 3, characters 5-8:\n3 |   let x\nError: Syntax error",
        &["tide.ml:3:5 error Syntax error"],
    ),
    (
        &["lib/tide.ex"],
        "** (CompileError) lib/tide.ex:3: undefined function\n    lib/tide.ex:9: Tide.ebb/1",
        &["lib/tide.ex:3 error undefined function", "lib/tide.ex:9 error Tide.ebb/1"],
    ),
    (
        &["tide.zig"],
        "tide.zig:3:5: error: use of undeclared identifier 'ebb'",
        &["tide.zig:3:5 error use of undeclared identifier 'ebb'"],
    ),
    (&["notes.md"], "notes.md:3:the tide\nnotes.md:5:2:more", &["notes.md:3 note the tide", "notes.md:5:2 note more"]),
    (
        &["sub/tide.c"],
        "make[1]: Entering directory 'FOLDER/sub'\ntide.c:3:5: error: dry\nmake[1]: Leaving directory 'FOLDER/sub'\ntide.c:4:5: error: gone",
        &["sub/tide.c:3:5 error dry"],
    ),
    // What is no place: times, ports, files that are not there, ordinary text.
    (&["tide.c"], "12:30:15 started\nlocalhost:8080: ready\nother.c:3:5: error: x\nsee tide.c\nline 3\n(3,5)", &[]),
];

#[test]
fn what_tools_print() {
    for (files, output, expected) in ROWS {
        let found = read(files, output);
        let expected: Vec<String> = expected.iter().map(|row| (*row).to_owned()).collect();
        let same = found.iter().map(|row| row.split(" [/").next().unwrap_or_default().to_owned()).collect::<Vec<_>>();
        let wanted =
            expected.iter().map(|row| row.split(" [FOLDER").next().unwrap_or_default().to_owned()).collect::<Vec<_>>();
        assert_eq!(same, wanted, "{output}");
    }
    assert!(tools().len() >= 25, "{}", tools().len());
}

#[test]
fn a_run_that_begins_forgets_the_one_before_and_no_more_is_told_than_helps() {
    let folder = tempfile::tempdir().unwrap();
    std::fs::write(folder.path().join("tide.c"), "").unwrap();
    let mut reader = Reader::new(folder.path().to_owned());
    reader.take("tide.c:1:1: error: dry");
    assert_eq!(reader.found().len(), 1);
    assert_eq!(reader.found().len(), 0, "each is told once");
    reader.begin();
    let mut output = String::new();
    (1..10_000).for_each(|line| writeln!(output, "tide.c:{line}:1: error: dry").unwrap());
    output.lines().for_each(|line| reader.take(line));
    assert_eq!(reader.found().len(), MOST_PLACES);
    // A message that does not come is not waited for without end.
    reader.begin();
    reader.take("  File \"tide.c\", line 3");
    (0..100).for_each(|_| reader.take("no message"));
    assert_eq!(reader.found().len(), 1);
}
