//! The terminal that a program draws on, in memory.
//!
//! Questions of the program are answered here, as a plain terminal does: its state (DSR 5), the place of the cursor (DSR 6), its kind
//! (DA1, DA2; ECMA-48 8.3.35 and 8.3.24). What is about another terminal's title, clipboard or size goes nowhere.

use crate::picture::{Colour, Look, Modes, MouseForm, Picture, Run};
use std::num::NonZeroU16;
use vt100::{Callbacks, Cell, MouseProtocolEncoding, MouseProtocolMode, Parser, Screen};

/// Rows that are kept of what was scrolled out of view.
pub const KEPT_ROWS: usize = 10_000;

/// The longest title that is kept, in characters.
const LONGEST_TITLE: usize = 120;

/// What the program asked and told beside drawing.
#[derive(Debug, Default)]
struct Beside {
    answers: Vec<u8>,
    title: String,
}

impl Callbacks for Beside {
    fn set_window_title(&mut self, _: &mut Screen, title: &[u8]) {
        let title = String::from_utf8_lossy(title);
        self.title = title.chars().filter(|c| !c.is_control()).take(LONGEST_TITLE).collect();
    }

    fn unhandled_csi(&mut self, screen: &mut Screen, mark: Option<u8>, _: Option<u8>, params: &[&[u16]], last: char) {
        let first = params.first().and_then(|param| param.first()).copied().unwrap_or(0);
        let answer = match (mark, last, first) {
            (None, 'n', 5) => "\x1b[0n".to_owned(),
            (None, 'n', 6) => {
                let (row, col) = screen.cursor_position();
                format!("\x1b[{};{}R", row + 1, col + 1)
            }
            // A terminal of level 2 with colours.
            (None, 'c', 0) => "\x1b[?62;22c".to_owned(),
            (Some(b'>'), 'c', 0) => "\x1b[>0;0;0c".to_owned(),
            _ => return,
        };
        // A program that asks without end and reads nothing does not fill the memory.
        if self.answers.len() < MOST_ANSWERED {
            self.answers.extend(answer.bytes());
        }
    }
}

/// Answers of one piece of output, in bytes.
const MOST_ANSWERED: usize = 4_096;

/// A terminal in memory.
pub struct Emulator {
    parser: Parser<Beside>,
}

impl std::fmt::Debug for Emulator {
    fn fmt(&self, out: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(out, "Emulator({:?})", self.parser.screen().size())
    }
}

/// Rows and columns, at least one of each.
fn size_of([rows, cols]: [u16; 2]) -> (NonZeroU16, NonZeroU16) {
    (NonZeroU16::new(rows).unwrap_or(NonZeroU16::MIN), NonZeroU16::new(cols).unwrap_or(NonZeroU16::MIN))
}

impl Emulator {
    /// With so many rows and columns.
    #[must_use]
    pub fn new(size: [u16; 2]) -> Emulator {
        let (rows, cols) = size_of(size);
        Emulator { parser: Parser::new_with_callbacks(rows, cols, KEPT_ROWS, Beside::default()) }
    }

    /// Draws what a program has written; gives what it wants to be answered. Cost: linear in the bytes.
    pub fn take(&mut self, bytes: &[u8]) -> Vec<u8> {
        self.parser.process(bytes);
        std::mem::take(&mut self.parser.callbacks_mut().answers)
    }

    /// Another size, in rows and columns.
    pub fn resize(&mut self, size: [u16; 2]) {
        let (rows, cols) = size_of(size);
        self.parser.set_size(rows, cols);
    }

    /// Looks so many rows further back; fewer than none: on.
    pub fn scroll(&mut self, by: i64) {
        let screen = self.parser.screen_mut();
        let now = i64::try_from(screen.scrollback()).unwrap_or(0);
        screen.set_scrollback(usize::try_from(now.saturating_add(by)).unwrap_or(0));
    }

    /// What is there now. Cost: linear in the cells of the screen.
    #[must_use]
    pub fn picture(&self) -> Picture {
        let screen = self.parser.screen();
        let (rows, cols) = screen.size();
        let scrolled = screen.scrollback();
        let (row, col) = screen.cursor_position();
        let row = usize::from(row) + scrolled;
        let is_seen = !screen.hide_cursor() && row < usize::from(rows.get());
        Picture {
            rows: (0..rows.get()).map(|row| row_of(screen, row, cols.get())).collect(),
            cursor: is_seen.then(|| [u16::try_from(row).unwrap_or(u16::MAX), col.min(cols.get() - 1)]),
            modes: modes_of(screen),
            title: self.parser.callbacks().title.clone(),
            scrolled,
            kept: screen.scrollback_len(),
        }
    }

    /// All that there is as text, what was scrolled out of view first. Rows that went on in the next are joined. Cost: linear in it.
    pub fn whole_text(&mut self) -> String {
        let screen = self.parser.screen_mut();
        let before = screen.scrollback();
        let (kept, rows) = (screen.scrollback_len(), usize::from(screen.size().0.get()));
        let cols = screen.size().1.get();
        let mut text = String::new();
        let all = kept + rows;
        for first in (0..all).step_by(rows) {
            screen.set_scrollback(all.saturating_sub(rows + first));
            // The last page is seen together with the end of the one before.
            let seen = (first + rows).saturating_sub(all);
            for row in seen..rows {
                let at = u16::try_from(row).unwrap_or(u16::MAX);
                let content = screen.contents_between(at, 0, at, cols);
                text.push_str(content.trim_end_matches('\n'));
                if !screen.row_wrapped(at) {
                    let end = text.trim_end_matches(' ').len();
                    text.truncate(end);
                    text.push('\n');
                }
            }
        }
        screen.set_scrollback(before);
        let end = text.trim_end().len();
        text.truncate(end);
        text
    }
}

fn modes_of(screen: &Screen) -> Modes {
    let form = match screen.mouse_protocol_encoding() {
        MouseProtocolEncoding::Sgr => MouseForm::Numbers,
        MouseProtocolEncoding::Default | MouseProtocolEncoding::Utf8 => MouseForm::Bytes,
    };
    Modes {
        application_arrows: screen.application_cursor(),
        bracketed_paste: screen.bracketed_paste(),
        alternate: screen.alternate_screen(),
        mouse: (screen.mouse_protocol_mode() != MouseProtocolMode::None).then_some(form),
    }
}

fn row_of(screen: &Screen, row: u16, cols: u16) -> Vec<Run> {
    let mut runs: Vec<Run> = Vec::new();
    for col in 0..cols {
        let Some(cell) = screen.cell(row, col) else { continue };
        if cell.is_wide_continuation() {
            runs.last_mut().into_iter().for_each(|run| run.cells += 1);
            continue;
        }
        let look = look_of(cell);
        let text = if cell.has_contents() { cell.contents() } else { " " };
        // A cell whose character is no printable one takes its room all the same.
        let text = if text.chars().any(char::is_control) { "\u{fffd}" } else { text };
        match runs.last_mut().filter(|run| run.look == look) {
            Some(run) => {
                run.text.push_str(text);
                run.cells += 1;
            }
            None => runs.push(Run { text: text.to_owned(), cells: 1, look }),
        }
    }
    runs
}

fn look_of(cell: &Cell) -> Look {
    let colour = |colour: vt100::Color| match colour {
        vt100::Color::Default => Colour::Default,
        vt100::Color::Idx(index) => Colour::Indexed(index),
        vt100::Color::Rgb(red, green, blue) => Colour::Rgb(red, green, blue),
    };
    Look {
        fore: colour(cell.fgcolor()),
        back: colour(cell.bgcolor()),
        bold: cell.bold(),
        dim: cell.dim(),
        italic: cell.italic(),
        underlined: cell.underline(),
        inverse: cell.inverse(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn drawn(bytes: &[u8]) -> (Emulator, Vec<u8>) {
        let mut emulator = Emulator::new([4, 20]);
        let answers = emulator.take(bytes);
        (emulator, answers)
    }

    #[test]
    fn text_colours_and_wide_characters_are_drawn() {
        let (emulator, _) = drawn("a\x1b[1;31mred\x1b[0m 潮\r\nb".as_bytes());
        let picture = emulator.picture();
        assert_eq!(picture.text(), "ared 潮\nb");
        let red = &picture.rows[0][1];
        assert_eq!((red.text.as_str(), red.look.fore, red.look.bold), ("red", Colour::Indexed(1), true));
        assert_eq!(picture.rows[0].iter().map(|run| run.cells).sum::<u16>(), 20);
        assert_eq!(picture.cursor, Some([1, 1]));
    }

    #[test]
    fn questions_are_answered_here_and_nothing_else_is() {
        for (asked, answered) in [
            ("\x1b[5n", "\x1b[0n"),
            ("ab\x1b[6n", "\x1b[1;3R"),
            ("\x1b[c", "\x1b[?62;22c"),
            ("\x1b[>c", "\x1b[>0;0;0c"),
            // Clipboard, colours, size, a report of the title.
            ("\x1b]52;c;?\x07", ""),
            ("\x1b]52;c;aGVsbG8=\x07", ""),
            ("\x1b]11;?\x07", ""),
            ("\x1b[18t\x1b[21t", ""),
            ("\x1bP$qm\x1b\\", ""),
        ] {
            let (_, answers) = drawn(asked.as_bytes());
            assert_eq!(String::from_utf8(answers).unwrap(), answered, "{asked:?}");
        }
        let (_, answers) = drawn("\x1b[6n".repeat(100_000).as_bytes());
        assert!(answers.len() <= MOST_ANSWERED + 16);
        let (emulator, _) = drawn(b"\x1b]2;tide\x1b]0;\x01gauges\x07");
        assert!(!emulator.picture().title.chars().any(char::is_control));
    }

    #[test]
    fn what_was_scrolled_out_of_view_can_be_looked_at() {
        let lines: Vec<String> = (0..50).map(|number| format!("line {number}")).collect();
        let (mut emulator, _) = drawn((lines.join("\r\n") + "\r\n").as_bytes());
        emulator.scroll(10);
        let picture = emulator.picture();
        assert_eq!((picture.scrolled, picture.text().lines().next().unwrap()), (10, "line 37"));
        assert_eq!(picture.cursor, None);
        emulator.scroll(-99);
        assert_eq!(emulator.picture().scrolled, 0);
        emulator.scroll(i64::MAX);
        assert_eq!(emulator.picture().text().lines().next().unwrap(), "line 0");
        emulator.scroll(i64::MIN);
        let whole = emulator.whole_text();
        assert_eq!(whole, lines.join("\n"));
        // A row that went on in the next is one line.
        let (mut emulator, _) = drawn(format!("{}\r\nb", "a".repeat(45)).as_bytes());
        assert_eq!(emulator.whole_text(), format!("{}\nb", "a".repeat(45)));
    }

    #[test]
    fn any_bytes_and_any_size_are_taken() {
        let mut state = 7_u64;
        let mut next = || {
            state = state.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
            (state >> 33) as u8
        };
        let mut emulator = Emulator::new([0, 0]);
        for size in [[0, 0], [1, 1], [3, 2], [24, 80], [2, 300]] {
            emulator.resize(size);
            let bytes: Vec<u8> = (0..20_000).map(|_| if next() < 40 { 0x1b } else { next() }).collect();
            emulator.take(&bytes);
            emulator.scroll(5);
            let picture = emulator.picture();
            assert_eq!(picture.rows.len(), usize::from(size[0].max(1)));
            assert!(picture.rows.iter().flatten().all(|run| !run.text.chars().any(char::is_control)));
        }
    }

    #[test]
    fn modes_are_told() {
        let (emulator, _) = drawn(b"\x1b[?1h\x1b[?2004h\x1b[?1049h\x1b[?1000h\x1b[?1006h\x1b[?25l");
        let picture = emulator.picture();
        let modes = picture.modes;
        assert!(modes.application_arrows && modes.bracketed_paste && modes.alternate);
        assert_eq!((modes.mouse, picture.cursor), (Some(MouseForm::Numbers), None));
    }
}
