//! The shell: keys go to the program in it as they are, but for those that put it away and look back.

use super::painter::Painter;
use super::panel::{Panel, PanelAction};
use crate::context::Context;
use crate::keys::Key;
use crate::mouse::{Gesture, Mouse};
use crate::screen::layout::shell_rows;
use crate::screen::shell_view;
use crossterm::event::{KeyCode, KeyModifiers};
use ratatui::buffer::Buffer as Grid;
use snarvel_core::units::Direction;
use snarvel_shell::press::{Held, Mouse as Told, Press, bytes_of, bytes_of_mouse, bytes_of_paste};
use snarvel_workspace::notice::Notice;
use snarvel_workspace::state::shells::Shell;

/// The shell that is shown, with the keys.
#[derive(Debug, Default)]
pub struct ShellPanel;

/// Rows that one turn of the wheel scrolls.
const WHEEL_ROWS: i64 = 3;

impl ShellPanel {
    /// What is scrolled by a page: the rows of the terminal but one.
    fn page(shell: &Shell) -> i64 {
        i64::from(shell.size[0].saturating_sub(1).max(1))
    }
}

/// The key, as a program reads it; none of those that no terminal tells.
fn press_of(key: Key) -> Option<Press> {
    Some(match key.code {
        KeyCode::Char(c) => Press::Character(c),
        KeyCode::Enter => Press::Enter,
        KeyCode::Tab if key.mods.contains(KeyModifiers::SHIFT) => Press::BackTab,
        KeyCode::BackTab => Press::BackTab,
        KeyCode::Tab => Press::Tab,
        KeyCode::Backspace => Press::Backspace,
        KeyCode::Esc => Press::Escape,
        KeyCode::Up => Press::Letter(b'A'),
        KeyCode::Down => Press::Letter(b'B'),
        KeyCode::Right => Press::Letter(b'C'),
        KeyCode::Left => Press::Letter(b'D'),
        KeyCode::End => Press::Letter(b'F'),
        KeyCode::Home => Press::Letter(b'H'),
        KeyCode::Insert => Press::Number(2),
        KeyCode::Delete => Press::Number(3),
        KeyCode::PageUp => Press::Number(5),
        KeyCode::PageDown => Press::Number(6),
        KeyCode::F(number) => Press::Function(number),
        _ => return None,
    })
}

impl Panel for ShellPanel {
    fn rows(&self, context: &Context) -> u16 {
        shell_rows(context.look.size)
    }

    fn press(&mut self, key: Key, context: &mut Context) -> PanelAction {
        let is_ctrl = key.mods == KeyModifiers::CONTROL;
        let Some(shell) = context.workspace.shell_shown() else { return PanelAction::Close };
        let page = ShellPanel::page(shell);
        match key.code {
            // Terminals send the same for both.
            KeyCode::Char('\\' | '4') if is_ctrl => {
                context.workspace.put_shell_away();
                return PanelAction::Close;
            }
            KeyCode::PageUp if is_ctrl => shell.session.scroll(page),
            KeyCode::PageDown if is_ctrl => shell.session.scroll(-page),
            _ => {
                let held = Held {
                    shift: key.mods.contains(KeyModifiers::SHIFT),
                    alt: key.mods.contains(KeyModifiers::ALT),
                    ctrl: key.mods.contains(KeyModifiers::CONTROL),
                };
                if !shell.is_running() {
                    return PanelAction::Stay;
                }
                let picture = shell.session.picture();
                let bytes = press_of(key).map(|press| bytes_of(press, held, picture.modes)).unwrap_or_default();
                // What is typed is seen.
                shell.session.scroll(-i64::MAX);
                context.workspace.give_shell(bytes);
            }
        }
        PanelAction::Stay
    }

    fn takes_lines(&self) -> bool {
        true
    }

    fn paste(&mut self, typed: &str, context: &mut Context) -> PanelAction {
        if let Some(shell) = context.workspace.shell_shown() {
            let modes = shell.session.picture().modes;
            context.workspace.give_shell(bytes_of_paste(typed, modes));
        }
        PanelAction::Stay
    }

    fn point(&mut self, mouse: Mouse, [col, row]: [u16; 2], context: &mut Context) -> PanelAction {
        let Some(shell) = context.workspace.shell_shown() else { return PanelAction::Close };
        let picture = shell.session.picture();
        // The first row is the name.
        let Some(row) = row.checked_sub(1) else { return PanelAction::Stay };
        let row = row + shell_view::first_row(&picture, shell.size[0]);
        let told = match mouse.gesture {
            Gesture::Press(_) => Told::Down,
            Gesture::Drag => Told::Drag,
            Gesture::Wheel(turns) if turns < 0 => Told::WheelUp,
            Gesture::Wheel(_) => Told::WheelDown,
        };
        let bytes = bytes_of_mouse(told, [col, row], picture.modes);
        match told {
            _ if !bytes.is_empty() => {
                shell.session.give(bytes);
                // Terminals are not asked for the button going up: a press is told as a whole.
                if told == Told::Down {
                    shell.session.give(bytes_of_mouse(Told::Up, [col, row], picture.modes));
                }
            }
            Told::WheelUp => shell.session.scroll(WHEEL_ROWS),
            Told::WheelDown => shell.session.scroll(-WHEEL_ROWS),
            Told::Down => {
                let line: String = picture
                    .rows
                    .get(usize::from(row))
                    .map(|row| row.iter().map(|run| run.text.as_str()).collect())
                    .unwrap_or_default();
                if context.workspace.go_to_printed_in(&line) {
                    return PanelAction::Close;
                }
            }
            Told::Up | Told::Drag => {}
        }
        PanelAction::Stay
    }

    fn notice(&mut self, notice: Notice, context: &mut Context) -> (Option<Notice>, PanelAction) {
        match notice {
            Notice::Shell(_) if context.workspace.shell_shown().is_none() => (None, PanelAction::Close),
            Notice::Shell(_) => (None, PanelAction::Stay),
            notice => (Some(notice), PanelAction::Stay),
        }
    }

    fn draw(&self, painter: &Painter, grid: &mut Grid) {
        if let Some(shell) = painter.context.workspace.shell_shown() {
            shell_view::draw(painter.context, shell, (painter.area, true), grid);
        }
    }
}

/// Another shell is shown; what is said where there is none.
pub(crate) fn turn(context: &mut Context) {
    if !context.workspace.turn_shells(Direction::Forward) {
        context.say("no shell is open: Ctrl+\\ opens one");
    }
}
