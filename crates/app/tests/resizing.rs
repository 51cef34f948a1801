//! The program in a pseudo-terminal of this test's own, where a key and a change of size come in together
//! as closely as they can: tmux leaves time between the two.

use portable_pty::{CommandBuilder, PtySize, native_pty_system};
use std::io::{Read, Write};
use std::num::NonZeroU16;
use std::sync::mpsc::{self, Receiver};
use std::thread;
use std::time::{Duration, Instant};

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

#[test]
fn a_key_pressed_while_the_window_changes_is_not_lost() {
    let folder = tempfile::tempdir().unwrap();
    std::fs::write(folder.path().join("a.txt"), "fog\n").unwrap();
    let size = |cols| PtySize { rows: 24, cols, pixel_width: 0, pixel_height: 0 };
    let pty = native_pty_system().openpty(size(100)).unwrap();
    let mut command = CommandBuilder::new(env!("CARGO_BIN_EXE_snarvel"));
    command.arg("a.txt");
    command.cwd(folder.path());
    command.env("TERM", "xterm-256color");
    for name in ["XDG_CONFIG_HOME", "XDG_STATE_HOME", "XDG_DATA_HOME", "HOME"] {
        command.env(name, folder.path().join("own"));
    }
    let mut program = pty.slave.spawn_command(command).unwrap();
    let mut output = pty.master.try_clone_reader().unwrap();
    let mut keys = pty.master.take_writer().unwrap();
    let (send, drawn) = mpsc::channel();
    thread::spawn(move || {
        let mut bytes = [0; 4096];
        while let Ok(read @ 1..) = output.read(&mut bytes) {
            if send.send(bytes[..read].to_vec()).is_err() {
                return;
            }
        }
    });
    let mut screen = Screen { parser: vt100::Parser::new(ROWS, COLS, 0), drawn };
    screen.until("WRITE   1:1 ");
    for round in 0..60 {
        pty.master.resize(size(100 + round % 7)).unwrap();
        keys.write_all(b"x").unwrap();
        screen.until(&format!("WRITE   1:{} ", round + 2));
    }
    program.kill().unwrap();
    program.wait().unwrap();
}
