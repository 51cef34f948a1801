//! The terminal's own background: asked for at the start where the theme depends on it.
//!
//! The question is OSC 11 (xterm control sequences, "Operating System Commands"), with that for the terminal's kind (DA1, ECMA-48 8.3.24)
//! after it: every terminal answers the second, so that one that does not know the first is not waited for.

use crate::palette::colour::{luminance, rgb};
use crate::palette::theme::Ground;
use crossterm::event::{Event, KeyCode, KeyModifiers};
use rustix::event::{PollFd, PollFlags, poll};
use snarvel_task::waits;
use std::fs::File;
use std::io::{Read, Write};
use std::time::Instant;

const QUESTION: &[u8] = b"\x1b]11;?\x1b\\\x1b[c";

/// What came of the question.
#[derive(Debug, Default, PartialEq, Eq)]
pub struct Heard {
    /// Whether the background is dark or light; none where the terminal has not told.
    pub ground: Option<Ground>,
    /// What was typed meanwhile.
    pub typed: String,
    /// Whether an answer may still come.
    pub is_late: bool,
}

/// Asks the terminal, which is in raw mode and which nothing else reads from. Waits [`waits::BACKGROUND`] at most.
#[must_use]
pub fn ask() -> Heard {
    let Ok(mut terminal) = File::options().read(true).write(true).open("/dev/tty") else { return Heard::default() };
    if terminal.write_all(QUESTION).is_err() {
        return Heard::default();
    }
    let until = Instant::now() + waits::BACKGROUND;
    let mut bytes = Vec::new();
    while !is_answered(&bytes) {
        let left = until.saturating_duration_since(Instant::now());
        let Ok(left) = rustix::time::Timespec::try_from(left) else { break };
        let mut asked = [PollFd::new(&terminal, PollFlags::IN)];
        if !poll(&mut asked, Some(&left)).is_ok_and(|ready| ready > 0) {
            break;
        }
        let mut part = [0; 256];
        match terminal.read(&mut part) {
            Ok(length) if length > 0 => bytes.extend_from_slice(&part[..length]),
            _ => break,
        }
    }
    heard(&bytes)
}

/// The sequences that the terminal has sent, each from its escape to its end, and what is between them.
fn pieces(bytes: &[u8]) -> (Vec<String>, String) {
    let text = String::from_utf8_lossy(bytes);
    let (mut sequences, mut typed) = (Vec::new(), String::new());
    let mut rest: &str = &text;
    while let Some(at) = rest.find('\x1b') {
        typed.push_str(&rest[..at]);
        rest = &rest[at..];
        let end = match rest.as_bytes().get(1) {
            Some(b']') => end_of_string(rest),
            Some(b'[') => rest[2..].find(|c: char| ('\x40'..='\x7e').contains(&c)).map(|at| at + 3),
            _ => Some(rest.len().min(2)),
        };
        let end = end.unwrap_or(rest.len());
        sequences.push(rest[..end].to_owned());
        rest = &rest[end..];
    }
    typed.push_str(rest);
    typed.retain(|c| !c.is_control());
    (sequences, typed)
}

/// Where a string of the terminal ends: with BEL or ST.
fn end_of_string(text: &str) -> Option<usize> {
    let bell = text.find('\x07').map(|at| at + 1);
    let st = text[1..].find("\x1b\\").map(|at| at + 3);
    [bell, st].into_iter().flatten().min()
}

fn is_answered(bytes: &[u8]) -> bool {
    pieces(bytes).0.iter().any(|sequence| sequence.starts_with("\x1b[?") && sequence.ends_with('c'))
}

fn heard(bytes: &[u8]) -> Heard {
    let (sequences, typed) = pieces(bytes);
    let ground = sequences.iter().find_map(|sequence| ground_of(sequence));
    Heard { ground, typed, is_late: !is_answered(bytes) }
}

/// Reads `ESC ] 11 ; rgb:RRRR/GGGG/BBBB ST`: one to four hexadecimal digits each (X11, `XParseColor`).
fn ground_of(sequence: &str) -> Option<Ground> {
    let told = sequence.strip_prefix("\x1b]11;rgb:")?.trim_end_matches(['\x07', '\x1b', '\\']);
    let part = |digits: &str| {
        let most = 16_u32.checked_pow(u32::try_from(digits.len()).ok()?)?.checked_sub(1).filter(|most| *most > 0)?;
        let value = u32::from_str_radix(digits, 16).ok().filter(|_| digits.len() <= 4)?;
        Some((value * 255 / most) as u8)
    };
    let parts: Vec<u8> = told.split('/').map(part).collect::<Option<_>>()?;
    let [red, green, blue] = parts[..] else { return None };
    // The middle between black and white, as bright as the eye sees it.
    Some(if luminance(rgb([red, green, blue])) < 0.18 { Ground::Dark } else { Ground::Light })
}

/// Keeps an answer that comes late from being taken for typed keys.
#[derive(Debug, Default)]
pub struct LateAnswer {
    until: Option<Instant>,
    is_inside: bool,
}

impl LateAnswer {
    /// One may come for [`waits::LATE_BACKGROUND`].
    #[must_use]
    pub fn expected() -> LateAnswer {
        LateAnswer { until: Some(Instant::now() + waits::LATE_BACKGROUND), is_inside: false }
    }

    /// Whether an event is a part of such an answer: it begins as Alt+] and ends as Alt+\ or Ctrl+G.
    pub fn holds(&mut self, event: &Event) -> bool {
        let Some(until) = self.until else { return false };
        let Event::Key(key) = event else { return false };
        if Instant::now() > until {
            self.until = None;
            return false;
        }
        let is_alt = key.modifiers.contains(KeyModifiers::ALT);
        let is_end = (is_alt && key.code == KeyCode::Char('\\'))
            || (key.modifiers.contains(KeyModifiers::CONTROL) && key.code == KeyCode::Char('g'));
        if self.is_inside {
            self.is_inside = !is_end;
            if is_end {
                self.until = None;
            }
            return true;
        }
        self.is_inside = is_alt && key.code == KeyCode::Char(']');
        self.is_inside
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crossterm::event::KeyEvent;

    #[test]
    fn answers_are_told_from_what_is_typed() {
        let all = heard(b"ab\x1b]11;rgb:0f0f/1c1c/2222\x1b\\c\x1b[?62;22c");
        assert_eq!(all, Heard { ground: Some(Ground::Dark), typed: "abc".to_owned(), is_late: false });
        assert_eq!(heard(b"\x1b]11;rgb:ff/ff/e0\x07\x1b[?6c").ground, Some(Ground::Light));
        // A terminal that does not know the question, one that is slow, one that says something else.
        assert_eq!(heard(b"\x1b[?1;2c"), Heard { ground: None, typed: String::new(), is_late: false });
        assert!(heard(b"").is_late && heard(b"\x1b]11;rgb:ff").is_late);
        for wrong in ["\x1b]11;rgb:zz/00/00\x07", "\x1b]11;rgb:00/00\x07", "\x1b]11;rgb://\x07", "\x1b]11;#000000\x07"]
        {
            assert_eq!(heard(wrong.as_bytes()).ground, None, "{wrong:?}");
        }
    }

    #[test]
    fn a_late_answer_is_no_typing() {
        let key = |c: char, modifiers: KeyModifiers| Event::Key(KeyEvent::new(KeyCode::Char(c), modifiers));
        let mut late = LateAnswer::expected();
        assert!(!late.holds(&key('x', KeyModifiers::NONE)));
        assert!(late.holds(&key(']', KeyModifiers::ALT)));
        assert!("11;rgb:0/0/0".chars().all(|c| late.holds(&key(c, KeyModifiers::NONE))));
        assert!(late.holds(&key('\\', KeyModifiers::ALT)));
        assert!(!late.holds(&key('1', KeyModifiers::NONE)) && !late.holds(&key(']', KeyModifiers::ALT)));
        assert!(!LateAnswer::default().holds(&key(']', KeyModifiers::ALT)));
    }
}
