//! The house guards itself: no circle of files, no lower crate that names a higher one, and nothing that is too large to read.

mod imports;
mod sizes;

use imports::{circles, inline_paths, root, sources, uses};
use std::fmt::Write;

/// The crates from the ground up. Each may name those before it, never one after it.
const ROOMS: &[&str] = &[
    "task",
    "core",
    "draw",
    "database",
    "syntax",
    "files",
    "index",
    "ledger",
    "servers",
    "shell",
    "workspace",
    "ui",
    "app",
    "corpus",
];

#[test]
fn no_files_use_each_other_in_a_circle() {
    let sources = sources();
    let uses = uses(&sources);
    let mut said = String::new();
    for circle in circles(&uses) {
        let _ = writeln!(said, "a circle of {} files:", circle.len());
        for from in &circle {
            let to: Vec<String> = uses[from]
                .iter()
                .filter(|to| circle.contains(to))
                .map(|to| sources[*to].path.display().to_string())
                .collect();
            let _ = writeln!(said, "  {} uses {}", sources[*from].path.display(), to.join(", "));
        }
    }
    assert!(said.is_empty(), "{said}");
}

#[test]
fn no_lower_crate_names_a_higher_one() {
    let place = |room: &str| ROOMS.iter().position(|each| *each == room);
    let mut wrong = Vec::new();
    for source in sources() {
        let own = place(&source.room)
            .unwrap_or_else(|| panic!("crates/{} has no place in the house: add it to ROOMS", source.room));
        for (index, room) in ROOMS.iter().enumerate() {
            if index > own && source.code.contains(&format!("snarvel_{room}::")) {
                wrong.push(format!("{} names the crate {room}, which is above it", source.path.display()));
            }
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn nothing_is_too_large_to_read() {
    let too_large = sizes::too_large(&root());
    assert!(too_large.is_empty(), "{} places\n{}", too_large.len(), too_large.join("\n"));
}

#[test]
fn paths_in_the_code_count_as_uses() {
    let code = "use a::b;\nuse c::{\n    d,\n    e::f,\n};\n// g::h\nlet x: crate::kept::Arrival = super::y(self::Z); // i::j\n";
    let found: Vec<String> = inline_paths(code).iter().map(|path| path.join("::")).collect();
    assert_eq!(found, ["crate::kept::Arrival", "super::y", "self::Z"]);
}
