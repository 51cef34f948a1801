//! The program in a pseudo-terminal of this test's own, where what comes in comes as closely together as it can: tmux leaves time
//! between one thing and the next.

use portable_pty::{Child, CommandBuilder, PtyPair, PtySize, native_pty_system};
use std::io::{Read, Write};
use std::num::NonZeroU16;
use std::sync::mpsc::{self, Receiver};
use std::thread;
use std::time::{Duration, Instant};
use tempfile::TempDir;

const DEADLINE: Duration = Duration::from_secs(20);
const ROWS: NonZeroU16 = NonZeroU16::new(24).unwrap();
/// At least as many as the program ever has here.
const COLS: NonZeroU16 = NonZeroU16::new(140).unwrap();

/// What the program draws.
struct Screen {
    parser: vt100::Parser,
    drawn: Receiver<Vec<u8>>,
}

impl Screen {
    fn until(&mut self, words: &str) {
        let start = Instant::now();
        while !self.parser.screen().contents().contains(words) {
            if let Ok(bytes) = self.drawn.recv_timeout(DEADLINE.saturating_sub(start.elapsed())) {
                self.parser.process(&bytes);
            }
            let shown = self.parser.screen().contents();
            assert!(start.elapsed() < DEADLINE, "waited for {words:?}; the screen shows\n{shown}");
        }
    }
}

/// The program with a file of one line, in a pseudo-terminal.
struct Running {
    pty: PtyPair,
    program: Box<dyn Child + Send + Sync>,
    keys: Box<dyn Write + Send>,
    screen: Screen,
    _folder: TempDir,
}

impl Running {
    fn start() -> Running {
        let folder = tempfile::tempdir().unwrap();
        std::fs::write(folder.path().join("a.txt"), "fog\n").unwrap();
        let pty = native_pty_system().openpty(size(100)).unwrap();
        let mut command = CommandBuilder::new(env!("CARGO_BIN_EXE_snarvel"));
        command.arg("a.txt");
        command.cwd(folder.path());
        command.env("TERM", "xterm-256color");
        for name in ["XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME", "HOME"] {
            command.env(name, folder.path().join("own"));
        }
        let program = pty.slave.spawn_command(command).unwrap();
        let mut output = pty.master.try_clone_reader().unwrap();
        let keys = pty.master.take_writer().unwrap();
        let (send, drawn) = mpsc::channel();
        thread::spawn(move || {
            let mut bytes = [0; 4096];
            while let Ok(read @ 1..) = output.read(&mut bytes) {
                if send.send(bytes[..read].to_vec()).is_err() {
                    return;
                }
            }
        });
        let screen = Screen { parser: vt100::Parser::new(ROWS, COLS, 0), drawn };
        let mut running = Running { pty, program, keys, screen, _folder: folder };
        running.screen.until("WRITE   1:1 ");
        running
    }
}

impl Drop for Running {
    fn drop(&mut self) {
        let _ = self.program.kill();
        let _ = self.program.wait();
    }
}

fn size(cols: u16) -> PtySize {
    PtySize { rows: ROWS.get(), cols, pixel_width: 0, pixel_height: 0 }
}

#[test]
fn a_key_pressed_while_the_window_changes_is_not_lost() {
    let mut running = Running::start();
    for round in 0..60 {
        running.pty.master.resize(size(100 + round % 7)).unwrap();
        running.keys.write_all(b"x").unwrap();
        running.screen.until(&format!("WRITE   1:{} ", round + 2));
    }
}

#[test]
fn ten_thousand_letters_at_once_all_arrive() {
    let mut running = Running::start();
    // A terminal holds no more than some thousand bytes that were not read: writing waits, as a person's terminal does.
    running.keys.write_all(&[b'x'; 10_000]).unwrap();
    running.screen.until("WRITE   1:10001 ");
}

#[test]
fn a_terminal_larger_than_any_memory_is_drawn_on_in_part() {
    let mut running = Running::start();
    let huge = PtySize { rows: u16::MAX, cols: u16::MAX, pixel_width: 0, pixel_height: 0 };
    running.pty.master.resize(huge).unwrap();
    running.keys.write_all(b"x").unwrap();
    running.screen.until("xfog");
    running.pty.master.resize(size(100)).unwrap();
    running.keys.write_all(b"y").unwrap();
    running.screen.until("WRITE   1:3 ");
}
