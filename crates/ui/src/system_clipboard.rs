//! The clipboard of the display, where there is one: on a thread of its own, since its owner may be slow to answer.

use snarvel_task::waits;
use std::fmt;
use std::sync::mpsc::{self, Receiver, Sender};
use std::thread::{self, JoinHandle};

/// Where other programs leave what they copied.
pub trait Clipboard: fmt::Debug {
    /// What is there, if it is text. It is asked for at every paste, so it must not take long.
    fn read(&mut self) -> Option<String>;
}

/// Something that holds one text for all programs.
pub trait Holder {
    /// What it holds, if it is text.
    fn get(&mut self) -> Option<String>;

    /// Makes it hold `text`.
    fn set(&mut self, text: String);
}

impl Holder for arboard::Clipboard {
    fn get(&mut self) -> Option<String> {
        self.get_text().ok()
    }

    fn set(&mut self, text: String) {
        // A display that refuses leaves the text on the shelf, and with the terminal.
        let _ = self.set_text(text);
    }
}

enum Wish {
    Get(Sender<Option<String>>),
    Set(String),
    End,
}

/// The clipboard of the display.
#[derive(Debug)]
pub struct Display {
    wishes: Sender<Wish>,
    thread: Option<JoinHandle<()>>,
}

impl Display {
    /// The one that the environment names; none without a display.
    pub fn of_environment() -> Option<Display> {
        let is_set = |name| std::env::var_os(name).is_some_and(|value| !value.is_empty());
        let has_display = is_set("WAYLAND_DISPLAY") || is_set("DISPLAY");
        has_display.then(|| Display::served_by(|| arboard::Clipboard::new().ok()))
    }

    /// One whose texts are held by what `open` gives; that is called on the thread that serves it.
    pub fn served_by<H: Holder>(open: impl FnOnce() -> Option<H> + Send + 'static) -> Display {
        let (wishes, waiting) = mpsc::channel();
        let thread = thread::spawn(move || {
            if let Some(mut holder) = open() {
                serve(&mut holder, &waiting);
            }
        });
        Display { wishes, thread: Some(thread) }
    }

    /// Gives `text` to all programs.
    pub fn write(&self, text: String) {
        let _ = self.wishes.send(Wish::Set(text));
    }

    /// What is there, as far as it answers in time.
    fn get(&self) -> Option<String> {
        let (send, answer) = mpsc::channel();
        self.wishes.send(Wish::Get(send)).ok()?;
        answer.recv_timeout(waits::CLIPBOARD).unwrap_or_default()
    }

    /// A reader for the application.
    pub fn reader(&self) -> Reader {
        Reader(Display { wishes: self.wishes.clone(), thread: None })
    }
}

fn serve(holder: &mut impl Holder, waiting: &Receiver<Wish>) {
    for wish in waiting {
        match wish {
            Wish::Set(text) => holder.set(text),
            Wish::Get(answer) => drop(answer.send(holder.get())),
            Wish::End => return,
        }
    }
}

impl Drop for Display {
    fn drop(&mut self) {
        // What was copied outlives the program where the display has a clipboard manager: the holder hands it over
        // when it goes.
        if let Some(thread) = self.thread.take() {
            let _ = self.wishes.send(Wish::End);
            let _ = thread.join();
        }
    }
}

/// Reads the clipboard of a display.
#[derive(Debug)]
pub struct Reader(Display);

impl Clipboard for Reader {
    fn read(&mut self) -> Option<String> {
        self.0.get()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    struct Board(Option<String>);

    impl Holder for Board {
        fn get(&mut self) -> Option<String> {
            self.0.clone()
        }

        fn set(&mut self, text: String) {
            self.0 = Some(text);
        }
    }

    /// Answers only when it is told to end.
    struct Silent(Receiver<()>);
    impl Holder for Silent {
        fn get(&mut self) -> Option<String> {
            self.0.recv().ok().map(|()| String::new())
        }

        fn set(&mut self, _: String) {}
    }

    #[test]
    fn what_was_written_is_read_in_order() {
        let display = Display::served_by(|| Some(Board(None)));
        let mut reader = display.reader();
        assert_eq!(reader.read(), None);
        display.write("fog".to_owned());
        display.write("horn".to_owned());
        assert_eq!(reader.read().as_deref(), Some("horn"));
        drop(display);
        assert_eq!(reader.read(), None, "nobody serves it any more");
    }

    #[test]
    fn a_display_that_is_none_or_never_answers_holds_nobody_up() {
        let mut none = Display::served_by(|| None::<Board>).reader();
        assert_eq!(none.read(), None);
        let (end, never) = mpsc::channel();
        let display = Display::served_by(move || Some(Silent(never)));
        let mut reader = display.reader();
        assert_eq!(reader.read(), None, "given up after a while");
        drop((end, reader));
        drop(display);
    }
}
