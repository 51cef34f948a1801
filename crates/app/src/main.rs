//! The program `snarvel`: see the library for its parts.

use clap::Parser;
use snarvel::cli::{Cli, run};
use snarvel_ui::screen::canvas::harmless;
use std::process::ExitCode;

fn main() -> ExitCode {
    match run(Cli::parse()) {
        Ok(code) => ExitCode::from(code),
        Err(error) => {
            eprintln!("snarvel: {}", harmless(&format!("{error:#}").replace('\n', " ")));
            ExitCode::from(1)
        }
    }
}
