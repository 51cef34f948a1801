//! Kills a program that edits at random moments, and checks what the next one finds. `SNARVEL_KILLS=1000` makes a long run.

#[path = "../../examples/edited_until_killed.rs"]
#[allow(dead_code, reason = "only its keys are needed here")]
mod edited;

use snarvel_ui::app::{App, Event};
use snarvel_ui::keys::Key;
use snarvel_ui::palette::theme::Theme;
use snarvel_ui::palette::{Depth, Palette};
use snarvel_ui::size::Size;
use snarvel_workspace::project::Project;
use snarvel_workspace::workspace::Workspace;
use std::io::{BufRead, BufReader};
use std::path::Path;
use std::process::{Command, Stdio};
use std::time::{Duration, Instant};

/// Kills of the normal run.
const KILLS: u64 = 40;

/// The longest a program edits before it is killed.
const LONGEST_MS: u64 = 60;

fn app(folder: &Path) -> App {
    App::new(Workspace::new(Project::in_folder(folder)), Palette::new(&Theme::night(), Depth::True), Size::REFERENCE)
}

fn text(app: &App) -> String {
    app.context.workspace.active().text().to_string()
}

/// What a program told before it was killed: how many steps it had made, and how many of them it called safe.
#[derive(Clone, Copy, Default)]
struct Told {
    steps: u64,
    safe: u64,
}

impl Told {
    fn take_in(&mut self, line: &str) {
        let (step, is_safe) = line.split_once(' ').unwrap();
        self.steps = step.parse::<u64>().unwrap() + 1;
        if is_safe == "true" {
            self.safe = self.steps;
        }
    }
}

/// Lets the program edit for a while and kills it.
fn killed_after(file: &Path, state: &Path, time: Duration) -> Told {
    let program = Path::new(env!("CARGO_BIN_EXE_snarvel")).with_file_name("examples").join("edited_until_killed");
    let mut child = Command::new(program).args([file, state]).stdout(Stdio::piped()).spawn().unwrap();
    let mut lines = BufReader::new(child.stdout.take().unwrap()).lines();
    let mut told = Told::default();
    let mut began = None;
    while began.is_none_or(|began: Instant| began.elapsed() < time) {
        let Some(Ok(line)) = lines.next() else { break };
        began.get_or_insert_with(Instant::now);
        told.take_in(&line);
    }
    child.kill().unwrap();
    child.wait().unwrap();
    // What was told of before the kill but not read yet; a line that was cut short was not told.
    let rest: Vec<String> = lines.map_while(Result::ok).collect();
    rest.iter().filter(|line| line.ends_with("true") || line.ends_with("false")).for_each(|line| told.take_in(line));
    told
}

#[test]
fn whenever_it_is_killed_what_was_edited_comes_back() {
    let kills = std::env::var("SNARVEL_KILLS").ok().and_then(|text| text.parse().ok()).unwrap_or(KILLS);
    let content = "let level_mm = 12;\nfog signal\n\n    while tide { ebb(); }\n".repeat(20);
    let (mut steps, mut safe, mut most_lost) = (0, 0, 0);
    for kill in 0..kills {
        let (folder, state) = (tempfile::tempdir().unwrap(), tempfile::tempdir().unwrap());
        let file = folder.path().join("watch.rs");
        std::fs::write(&file, &content).unwrap();
        let time = Duration::from_micros((kill.wrapping_mul(2_654_435_761) >> 3) % (LONGEST_MS * 1_000));
        let told = killed_after(&file, state.path(), time);
        // The same steps, counted by the test; one more may have been made and not told.
        let mut along = app(folder.path());
        along.context.workspace.open(&file);
        along.pump();
        let mut texts = vec![text(&along)];
        for step in 0..=told.steps {
            along.handle(Event::Key(edited::key_of(step)), step * 50);
            texts.push(text(&along));
        }
        let mut after = app(folder.path());
        after.context.workspace.keep_safe(state.path());
        after.context.workspace.open(&file);
        after.pump();
        // What was left is found by whoever writes the journals.
        assert!(after.context.workspace.journals().unwrap().settle(Duration::from_secs(20)));
        after.pump();
        if after.panel().is_some() {
            after.handle(Event::Key(Key::character('t')), 0);
        }
        let found = text(&after);
        // A text that was twice counts as the later one.
        let Some(step) = texts.iter().rposition(|text| *text == found) else {
            panic!("kill {kill}, {} steps told: what was found was never the text", told.steps);
        };
        let Told { steps: made, safe: promised } = told;
        assert!(
            step as u64 >= promised,
            "kill {kill}: {made} steps, {promised} of them safe, the text of step {step} found"
        );
        most_lost = most_lost.max(made.saturating_sub(step as u64));
        (steps, safe) = (steps + made, safe + promised);
        assert_eq!(std::fs::read_to_string(&file).unwrap(), content, "the file itself is left alone");
        after.context.workspace.end_journals();
    }
    println!(
        "{kills} kills, {steps} steps, {safe} of them called safe, at most {most_lost} of the others lost at a kill"
    );
    // A disk that stalls may leave some steps open, not half of them.
    assert!(2 * safe > steps, "{safe} of {steps} steps were called safe");
}
