//! `cargo run -p snarvel-syntax --example tree LANGUAGE FILE`: prints the tree of a file, with the roles of its nodes.

use snarvel_syntax::listing::listing;

fn main() {
    let mut arguments = std::env::args().skip(1);
    let (Some(language), Some(file)) = (arguments.next(), arguments.next()) else {
        eprintln!("usage: tree LANGUAGE FILE");
        std::process::exit(2);
    };
    match std::fs::read_to_string(&file) {
        Ok(text) => match listing(&language, &text) {
            Some(lines) => print!("{lines}"),
            None => eprintln!("no grammar is called {language}"),
        },
        Err(error) => eprintln!("{file}: {error}"),
    }
}
