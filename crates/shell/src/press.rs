//! Keys and the mouse, as a program in a terminal reads them (xterm control sequences: "PC-Style Function Keys", "Mouse Tracking").

use crate::picture::{Modes, MouseForm};

/// What is held beside a key.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Held {
    /// Shift.
    pub shift: bool,
    /// Alt.
    pub alt: bool,
    /// Control.
    pub ctrl: bool,
}

impl Held {
    /// The number by which a sequence tells what is held, from 1.
    fn number(self) -> u8 {
        1 + u8::from(self.shift) + 2 * u8::from(self.alt) + 4 * u8::from(self.ctrl)
    }
}

/// A key.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Press {
    /// A character.
    Character(char),
    /// Enter.
    Enter,
    /// Tab.
    Tab,
    /// Shift and Tab.
    BackTab,
    /// Backspace.
    Backspace,
    /// Esc.
    Escape,
    /// One that ends in a letter of its own: arrows, Home, End.
    Letter(u8),
    /// One that is told by a number: Insert, Delete, Page Up and Down.
    Number(u8),
    /// F1 to F12.
    Function(u8),
}

/// The numbers of the function keys from F5 on.
const FUNCTIONS: [u8; 8] = [15, 17, 18, 19, 20, 21, 23, 24];

/// What a program reads for a key.
#[must_use]
pub fn bytes_of(press: Press, held: Held, modes: Modes) -> Vec<u8> {
    let plain = |bytes: &[u8]| match held.alt {
        true => [b"\x1b", bytes].concat(),
        false => bytes.to_vec(),
    };
    let number = held.number();
    match press {
        Press::Character(c) if held.ctrl => match control(c) {
            Some(byte) => plain(&[byte]),
            None => plain(c.to_string().as_bytes()),
        },
        Press::Character(c) => plain(c.to_string().as_bytes()),
        Press::Enter => plain(b"\r"),
        Press::Tab => plain(b"\t"),
        Press::BackTab => b"\x1b[Z".to_vec(),
        Press::Backspace if held.ctrl => plain(b"\x08"),
        Press::Backspace => plain(b"\x7f"),
        Press::Escape => plain(b"\x1b"),
        Press::Letter(letter) if number > 1 => format!("\x1b[1;{number}{}", letter as char).into_bytes(),
        Press::Letter(letter) if modes.application_arrows => vec![0x1b, b'O', letter],
        Press::Letter(letter) => vec![0x1b, b'[', letter],
        Press::Number(which) if number > 1 => format!("\x1b[{which};{number}~").into_bytes(),
        Press::Number(which) => format!("\x1b[{which}~").into_bytes(),
        Press::Function(which @ 1..=4) if number > 1 => {
            format!("\x1b[1;{number}{}", (b'O' + which) as char).into_bytes()
        }
        Press::Function(which @ 1..=4) => vec![0x1b, b'O', b'O' + which],
        Press::Function(which) => match FUNCTIONS.get(usize::from(which).wrapping_sub(5)) {
            Some(code) if number > 1 => format!("\x1b[{code};{number}~").into_bytes(),
            Some(code) => format!("\x1b[{code}~").into_bytes(),
            None => Vec::new(),
        },
    }
}

/// The control character that a terminal sends for Ctrl and a character.
fn control(c: char) -> Option<u8> {
    Some(match c.to_ascii_lowercase() {
        c @ 'a'..='z' => c as u8 - b'a' + 1,
        ' ' | '2' | '@' => 0,
        '[' | '3' => 0x1b,
        '\\' | '4' => 0x1c,
        ']' | '5' => 0x1d,
        '^' | '6' => 0x1e,
        '_' | '7' | '/' => 0x1f,
        '8' | '?' => 0x7f,
        _ => return None,
    })
}

/// What a program reads for pasted text: marked as such where it has asked for that. What could end the mark is left out of it.
#[must_use]
pub fn bytes_of_paste(text: &str, modes: Modes) -> Vec<u8> {
    let text = text.replace("\r\n", "\r").replace('\n', "\r");
    match modes.bracketed_paste {
        true => format!("\x1b[200~{}\x1b[201~", text.replace('\x1b', "")).into_bytes(),
        false => text.into_bytes(),
    }
}

/// What the mouse does.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Mouse {
    /// The left button goes down.
    Down,
    /// It goes up.
    Up,
    /// It is moved while it is down.
    Drag,
    /// The wheel goes up.
    WheelUp,
    /// The wheel goes down.
    WheelDown,
}

/// What a program reads of the mouse at a cell (column and row, from 0); nothing where it has not asked for it.
#[must_use]
pub fn bytes_of_mouse(mouse: Mouse, [col, row]: [u16; 2], modes: Modes) -> Vec<u8> {
    let button = match mouse {
        Mouse::Down | Mouse::Up => 0,
        Mouse::Drag => 32,
        Mouse::WheelUp => 64,
        Mouse::WheelDown => 65,
    };
    match modes.mouse {
        None => Vec::new(),
        Some(MouseForm::Numbers) => {
            let last = if mouse == Mouse::Up { 'm' } else { 'M' };
            format!("\x1b[<{button};{};{}{last}", col + 1, row + 1).into_bytes()
        }
        Some(MouseForm::Bytes) => {
            let button = if mouse == Mouse::Up { 3 } else { button };
            let cell = |at: u16| u8::try_from(at.saturating_add(33)).unwrap_or(u8::MAX);
            vec![0x1b, b'[', b'M', 32 + button, cell(col), cell(row)]
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn told(press: Press, held: Held, modes: Modes) -> String {
        String::from_utf8(bytes_of(press, held, modes)).unwrap()
    }

    #[test]
    fn keys_are_told_as_terminals_tell_them() {
        let plain = Held::default();
        let [shift, alt, ctrl] =
            [Held { shift: true, ..plain }, Held { alt: true, ..plain }, Held { ctrl: true, ..plain }];
        let full = Modes { application_arrows: true, ..Modes::default() };
        for (press, held, expected) in [
            (Press::Character('ø'), plain, "ø"),
            (Press::Character('c'), ctrl, "\x03"),
            (Press::Character('C'), ctrl, "\x03"),
            (Press::Character(' '), ctrl, "\0"),
            (Press::Character('x'), alt, "\x1bx"),
            (Press::Enter, plain, "\r"),
            (Press::Backspace, plain, "\x7f"),
            (Press::Letter(b'A'), plain, "\x1b[A"),
            (Press::Letter(b'C'), ctrl, "\x1b[1;5C"),
            (Press::Letter(b'H'), shift, "\x1b[1;2H"),
            (Press::Number(5), plain, "\x1b[5~"),
            (Press::Number(3), ctrl, "\x1b[3;5~"),
            (Press::Function(1), plain, "\x1bOP"),
            (Press::Function(4), shift, "\x1b[1;2S"),
            (Press::Function(5), plain, "\x1b[15~"),
            (Press::Function(12), alt, "\x1b[24;3~"),
            (Press::Function(13), plain, ""),
            (Press::BackTab, shift, "\x1b[Z"),
        ] {
            assert_eq!(told(press, held, Modes::default()), expected, "{press:?}");
        }
        assert_eq!(told(Press::Letter(b'A'), plain, full), "\x1bOA");
    }

    #[test]
    fn pasted_text_cannot_end_its_own_mark() {
        let marked = Modes { bracketed_paste: true, ..Modes::default() };
        assert_eq!(bytes_of_paste("a\r\nb\nc", Modes::default()), b"a\rb\rc");
        assert_eq!(bytes_of_paste("a\x1b[201~b", marked), b"\x1b[200~a[201~b\x1b[201~");
    }

    #[test]
    fn the_mouse_is_told_where_it_is_asked_for() {
        let of = |form| Modes { mouse: form, ..Modes::default() };
        assert_eq!(bytes_of_mouse(Mouse::Down, [2, 3], of(None)), b"");
        assert_eq!(bytes_of_mouse(Mouse::Down, [2, 3], of(Some(MouseForm::Numbers))), b"\x1b[<0;3;4M");
        assert_eq!(bytes_of_mouse(Mouse::Up, [2, 3], of(Some(MouseForm::Numbers))), b"\x1b[<0;3;4m");
        assert_eq!(bytes_of_mouse(Mouse::WheelUp, [0, 0], of(Some(MouseForm::Bytes))), b"\x1b[M`!!");
        assert_eq!(bytes_of_mouse(Mouse::Drag, [999, 0], of(Some(MouseForm::Bytes))), [0x1b, b'[', b'M', 64, 255, 33]);
    }
}
