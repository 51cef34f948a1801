//! What puts the terminal back where this program no longer can: after it was killed, or ended by the code of a grammar.
//!
//! A small shell waits at a pipe. When the program ends as it should, it says so there; when the pipe closes without a word, the
//! shell switches off what the program had switched on. It ignores what terminals send, as the program's own group may get it.

use crossterm::event::{DisableBracketedPaste, DisableFocusChange, DisableMouseCapture, PopKeyboardEnhancementFlags};
use crossterm::terminal::{EndSynchronizedUpdate, LeaveAlternateScreen};
use crossterm::{Command as Sequence, cursor};
use std::io::Write;
use std::process::{Child, Command, Stdio};

/// The shell that waits.
#[derive(Debug)]
pub struct Guardian {
    shell: Option<Child>,
}

/// `$1` is what is written to the terminal.
const WAITS: &str = r#"trap '' HUP INT QUIT TERM TSTP TTIN TTOU
read -r word
if [ "$word" != done ]; then
    { stty sane; printf %s "$1"; } < /dev/tty > /dev/tty 2> /dev/null
fi"#;

impl Guardian {
    /// For the terminal of this program. Where there is no shell nothing waits.
    #[must_use]
    pub fn start() -> Guardian {
        let mut command = Command::new("sh");
        command.args(["-c", WAITS, "snarvel-guardian", &restoring()]);
        command.stdin(Stdio::piped()).stdout(Stdio::null()).stderr(Stdio::null());
        Guardian { shell: command.spawn().ok() }
    }
}

impl Drop for Guardian {
    /// The terminal was put back: the shell has nothing to do.
    fn drop(&mut self) {
        let Some(mut shell) = self.shell.take() else { return };
        if let Some(mut pipe) = shell.stdin.take() {
            let _ = pipe.write_all(b"done\n");
        }
        let _ = shell.wait();
    }
}

/// The sequences that switch off what the program switches on.
fn restoring() -> String {
    let mut out = String::new();
    // Writing into a string does not fail.
    let _ = EndSynchronizedUpdate
        .write_ansi(&mut out)
        .and_then(|()| PopKeyboardEnhancementFlags.write_ansi(&mut out))
        .and_then(|()| DisableFocusChange.write_ansi(&mut out))
        .and_then(|()| DisableMouseCapture.write_ansi(&mut out))
        .and_then(|()| DisableBracketedPaste.write_ansi(&mut out))
        .and_then(|()| LeaveAlternateScreen.write_ansi(&mut out))
        .and_then(|()| cursor::Show.write_ansi(&mut out));
    out
}
