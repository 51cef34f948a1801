//! The real program in a terminal of fixed size: start it, press keys, wait until the screen says something.
//!
//! Nothing here sleeps: a condition is asked for again and again until it holds or a deadline has passed.

#![allow(dead_code, reason = "each test file uses its part")]

use ratatui::buffer::Buffer as Grid;
use ratatui::layout::Rect;
use snarvel_files::load::{Loaded, decode};
use snarvel_ui::app::{App, Event};
use snarvel_ui::keys::Key;
use snarvel_ui::palette::Palette;
use snarvel_ui::size::Size;
use snarvel_workspace::buffer::Origin;
use snarvel_workspace::project::{Project, Writing};
use snarvel_workspace::workspace::Workspace;
use std::path::{Path, PathBuf};
use std::process::{Command, Output};
use std::rc::Rc;
use std::time::{Duration, Instant};
use tempfile::TempDir;

/// An application with the file `name` of `folder`, which holds `bytes`; nothing is written.
pub fn app_with(folder: &Path, (name, bytes): (&str, &[u8]), palette: &Palette, size: Size) -> App {
    let (text, encoding) = decode(bytes);
    let mut workspace = Workspace::new(Project { writing: Writing::Nothing, ..Project::in_folder(folder) });
    let origin = Origin::File(workspace.project.folder.join(name));
    let buffer = workspace.make_buffer(Loaded { text, encoding, read_only: false }, origin);
    workspace.show_buffer(buffer);
    App::new(workspace, *palette, size)
}

/// The screen of an application.
pub fn drawn(app: &App) -> Grid {
    let size = app.context.look.size;
    let mut grid = Grid::empty(Rect::new(0, 0, size.cols, size.rows));
    app.draw(&mut grid);
    grid
}

/// Presses keys by their names.
pub fn press(app: &mut App, keys: &[&str]) {
    for key in keys {
        app.settle_background();
        app.handle(Event::Key(Key::parse(key).unwrap()), 0);
    }
}

/// How long a condition may take: far more than any machine needs.
const DEADLINE: Duration = Duration::from_secs(20);

/// A terminal in which a shell runs the program.
pub struct Terminal {
    folder: Rc<TempDir>,
    /// The person's own files: configuration, state, trash.
    own: Rc<TempDir>,
    socket: String,
}

/// The program.
pub fn snarvel() -> &'static str {
    env!("CARGO_BIN_EXE_snarvel")
}

/// The scripted language server, which `cargo test --workspace` builds as an example of the room of servers.
pub fn scripted() -> PathBuf {
    let path = PathBuf::from(snarvel()).with_file_name("examples").join("scripted_server");
    assert!(path.exists(), "{} is built by cargo test --workspace", path.display());
    path
}

impl Terminal {
    /// A folder with `files`, not started yet.
    pub fn with(files: &[(&str, &str)]) -> Terminal {
        let folder = tempfile::tempdir().unwrap();
        for (name, content) in files {
            std::fs::write(folder.path().join(name), content).unwrap();
        }
        Terminal { folder: Rc::new(folder), own: Rc::new(tempfile::tempdir().unwrap()), socket: "tmux".to_owned() }
    }

    /// Another terminal in the same folder, after the program has ended in this one.
    pub fn again(&self) -> Terminal {
        Terminal { folder: self.folder.clone(), own: self.own.clone(), socket: format!("{}-again", self.socket) }
    }

    pub fn path(&self, name: &str) -> PathBuf {
        self.folder.path().join(name)
    }

    /// A file of the person's own.
    pub fn own(&self, name: &str) -> PathBuf {
        self.own.path().join(name)
    }

    /// What a file of the folder holds.
    pub fn file(&self, name: &str) -> String {
        String::from_utf8_lossy(&std::fs::read(self.path(name)).unwrap()).into_owned()
    }

    fn tmux(&self, arguments: &[&str]) -> Output {
        let socket = self.own.path().join("tmux").with_extension(&self.socket);
        let mut command = Command::new("tmux");
        command.arg("-S").arg(socket).args(["-f", "/dev/null"]).args(arguments);
        command.env("TERM", "xterm-256color").env_remove("TMUX");
        // Nobody's own settings, state or clipboard.
        command.env("XDG_CONFIG_HOME", self.own("config")).env("XDG_STATE_HOME", self.own("state"));
        command.env("XDG_DATA_HOME", self.own("data")).env("HOME", self.own("home"));
        command.env_remove("DISPLAY").env_remove("WAYLAND_DISPLAY");
        command.output().expect("tmux is installed by scripts/test")
    }

    /// Starts the program with `arguments` in a shell that says when it has ended, and waits for its screen.
    pub fn start(&self, arguments: &str) -> &Terminal {
        self.start_command(&format!("{} {arguments}", snarvel()));
        self.until("the status line", |screen| screen.contains("WRITE"))
    }

    /// Starts the program by way of `before`, as a shell reads it.
    pub fn start_command_of_program(&self, before: &str, arguments: &str) -> &Terminal {
        self.start_command(&format!("{before} {} {arguments}", snarvel()));
        self.until("the status line", |screen| screen.contains("WRITE"))
    }

    /// Starts the program as a job of a shell that knows jobs.
    pub fn start_in_shell(&self, arguments: &str) -> &Terminal {
        self.start_command("PS1='$ ' bash --norc --noprofile -i");
        self.shows("$").type_text(&format!("{} {arguments}", snarvel())).keys(&["Enter"]).shows("WRITE")
    }

    /// Sends a signal to the program that a shell in the terminal runs as its job.
    pub fn signal_below(&self, name: &str) -> &Terminal {
        let own = self.flag("#{pane_pid}");
        let below = |parent: &str| {
            let out = Command::new("pgrep").args(["-P", parent]).output().unwrap();
            String::from_utf8_lossy(&out.stdout).trim().to_owned()
        };
        let program = below(&below(&own));
        assert!(!program.is_empty(), "nothing runs below the shell");
        assert!(Command::new("kill").args([&format!("-{name}"), &program]).status().unwrap().success());
        self
    }

    /// Presses Enter until the shell shows its prompt. The first one may have gone to the screen of a program that was killed, which is
    /// put away a moment later.
    pub fn prompts(&self) -> &Terminal {
        self.until("a prompt", |screen| {
            let is_there = screen.trim_end().ends_with('$');
            if !is_there {
                self.keys(&["Enter"]);
            }
            is_there
        })
    }

    /// Starts a shell command in a window of the reference size.
    pub fn start_command(&self, command: &str) {
        // Which language servers there are on a machine is not what these tests are about.
        let settings = self.own("config/snarvel/settings.toml");
        if !settings.exists() {
            std::fs::create_dir_all(settings.parent().unwrap()).unwrap();
            std::fs::write(&settings, "servers = \"off\"\n").unwrap();
        }
        let folder = self.folder.path().display().to_string();
        let shell = format!("cd {folder}; {command}; echo ended-$?; stty -a; exec cat");
        let out = self.tmux(&["new-session", "-d", "-x", "142", "-y", "42", "sh", "-c", &shell]);
        assert!(out.status.success(), "{}", String::from_utf8_lossy(&out.stderr));
    }

    /// Presses keys, by tmux's names for them.
    pub fn keys(&self, keys: &[&str]) -> &Terminal {
        let arguments: Vec<&str> = ["send-keys"].iter().chain(keys).copied().collect();
        assert!(self.tmux(&arguments).status.success());
        self
    }

    /// Sends Esc and waits until that shows: together with a key after it, it would be another key.
    pub fn escape(&self) -> &Terminal {
        let before = self.screen();
        self.keys(&["Escape"]).until("Esc to show", |screen| *screen != before)
    }

    /// Types text, or sends raw bytes.
    pub fn type_text(&self, text: &str) -> &Terminal {
        assert!(self.tmux(&["send-keys", "-l", text]).status.success());
        self
    }

    /// Pastes text in one piece, as a terminal does.
    pub fn paste(&self, text: &str) -> &Terminal {
        assert!(self.tmux(&["set-buffer", text]).status.success());
        assert!(self.tmux(&["paste-buffer", "-p"]).status.success());
        self
    }

    pub fn resize(&self, cols: u16, rows: u16) -> &Terminal {
        let (cols, rows) = (cols.to_string(), rows.to_string());
        assert!(self.tmux(&["resize-window", "-x", &cols, "-y", &rows]).status.success());
        self
    }

    /// What the terminal shows.
    pub fn screen(&self) -> String {
        String::from_utf8_lossy(&self.tmux(&["capture-pane", "-p"]).stdout).into_owned()
    }

    /// What the terminal says of itself, by a format of tmux.
    pub fn flag(&self, format: &str) -> String {
        let out = self.tmux(&["display-message", "-p", format]);
        String::from_utf8_lossy(&out.stdout).trim().to_owned()
    }

    /// Waits until the screen meets a condition.
    pub fn until(&self, what: &str, condition: impl Fn(&str) -> bool) -> &Terminal {
        let start = Instant::now();
        loop {
            let screen = self.screen();
            if condition(&screen) {
                return self;
            }
            assert!(start.elapsed() < DEADLINE, "waited for {what}; the screen shows\n{screen}");
        }
    }

    /// Waits until the screen shows `text`.
    pub fn shows(&self, text: &str) -> &Terminal {
        self.until(text, |screen| screen.contains(text))
    }

    /// Waits until the program has ended, and checks that the terminal is as it was.
    pub fn ended(&self, code: u8) -> &Terminal {
        self.shows(&format!("ended-{code}"));
        self.until("the terminal's settings", |screen| screen.contains("iexten"));
        let settings = self.screen();
        for setting in ["icanon", "echo", "isig"] {
            assert!(settings.split_whitespace().any(|word| word == setting), "{setting} is off\n{settings}");
        }
        let flags = self.flag("#{alternate_on} #{cursor_flag} #{mouse_any_flag}");
        assert_eq!(flags, "0 1 0", "alternate screen, cursor, mouse");
        self
    }

    /// Takes the terminal away, and waits until the program in it has ended.
    pub fn vanishes(&self) {
        let shell = self.flag("#{pane_pid}");
        let children = Command::new("pgrep").args(["-P", &shell]).output().unwrap();
        let program = String::from_utf8_lossy(&children.stdout).trim().to_owned();
        self.tmux(&["kill-server"]);
        let start = Instant::now();
        while Path::new("/proc").join(&program).exists() && !program.is_empty() {
            assert!(start.elapsed() < DEADLINE, "the program lives on without a terminal");
        }
    }

    /// Waits until the program has ended, however: what the shell said of that may be gone with the program's screen.
    pub fn ended_somehow(&self) -> &Terminal {
        self.until("the shell's last command", |_| self.flag("#{pane_current_command}") == "cat")
    }

    /// Waits until a file of the folder holds `content`.
    pub fn until_file(&self, name: &str, content: &str) -> &Terminal {
        let start = Instant::now();
        while std::fs::read_to_string(self.path(name)).unwrap_or_default() != content {
            assert!(start.elapsed() < DEADLINE, "{name} holds {:?}", self.file(name));
        }
        self
    }

    /// Waits until the file `name` of what the program keeps holds `words`.
    pub fn until_kept(&self, name: &str, words: &str) -> &Terminal {
        let (start, path) = (Instant::now(), self.own("state/snarvel").join(name));
        while !std::fs::read_to_string(&path).unwrap_or_default().contains(words) {
            assert!(start.elapsed() < DEADLINE, "{} does not hold {words:?}", path.display());
        }
        self
    }

    /// Sends a signal to the program.
    pub fn signal(&self, name: &str) -> &Terminal {
        let marker = self.folder.path().display().to_string();
        let shell = self.flag("#{pane_pid}");
        let children = Command::new("pgrep").args(["-P", &shell]).output().unwrap();
        let child = String::from_utf8_lossy(&children.stdout).trim().to_owned();
        assert!(!child.is_empty(), "no program runs in {marker}");
        assert!(Command::new("kill").args([&format!("-{name}"), &child]).status().unwrap().success());
        self
    }
}

impl Drop for Terminal {
    fn drop(&mut self) {
        self.tmux(&["kill-server"]);
    }
}

/// Runs the program to its end: exit code, standard output, standard error.
pub fn run(arguments: &[&str], input: &[u8]) -> (i32, Vec<u8>, String) {
    use std::io::Write;
    use std::process::Stdio;
    let mut child = Command::new(snarvel())
        .args(arguments)
        .env("XDG_CONFIG_HOME", "/nowhere")
        .env("XDG_STATE_HOME", "/nowhere")
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    // A program that does not read its input closes it: that is no failure.
    let _ = child.stdin.take().unwrap().write_all(input);
    let out = child.wait_with_output().unwrap();
    (out.status.code().unwrap_or(-1), out.stdout, String::from_utf8_lossy(&out.stderr).into_owned())
}

/// Plays `keys` on a file of that name with that content; gives what is printed.
pub fn play(name: &str, content: &[u8], keys: &str, more: &[&str]) -> Vec<u8> {
    let folder = tempfile::tempdir().unwrap();
    let path = folder.path().join(name);
    std::fs::write(&path, content).unwrap();
    let path = path.to_str().unwrap();
    let arguments: Vec<&str> = ["play", path, "--keys", keys].iter().chain(more).copied().collect();
    let (code, out, error) = run(&arguments, b"");
    assert_eq!(code, 0, "{keys}: {error}");
    assert_eq!(std::fs::read(Path::new(path)).unwrap(), content, "play wrote the file");
    out
}

/// The screen after `keys` on a file, as text.
pub fn frame(name: &str, content: &str, keys: &str, size: &str) -> String {
    let printed = play(name, content.as_bytes(), keys, &["--emit", "frame", "--size", size]);
    // The tab bar names the folder of the file, which is another at every run.
    let text = String::from_utf8(printed).unwrap();
    let tab_bar = text.lines().next().unwrap_or("").split("   ").next().unwrap_or("").to_owned();
    let rest: Vec<&str> = text.lines().skip(1).collect();
    format!("{tab_bar}\n{}\n", rest.join("\n"))
}

/// A file of the demo.
pub fn demo(name: &str) -> &'static str {
    snarvel::demo::FILES.iter().find(|(file, _)| *file == name).map(|(_, content)| *content).unwrap()
}

/// Plays on files of a folder of its own: exit code, output, errors, and the folder. `CONFIG` among the arguments is a folder in it.
pub fn play_in(files: &[(&str, &str)], names: &[&str], arguments: &[&str]) -> (i32, String, String, tempfile::TempDir) {
    let folder = tempfile::tempdir().unwrap();
    for (name, content) in files {
        let path = folder.path().join(name);
        std::fs::create_dir_all(path.parent().unwrap()).unwrap();
        std::fs::write(path, content).unwrap();
    }
    let paths: Vec<String> = names.iter().map(|name| folder.path().join(name).display().to_string()).collect();
    let config = folder.path().join("config").display().to_string();
    let own: Vec<&str> = arguments.iter().map(|each| if *each == "CONFIG" { config.as_str() } else { each }).collect();
    let all: Vec<&str> = std::iter::once("play").chain(paths.iter().map(String::as_str)).chain(own).collect();
    let (code, out, error) = run(&all, b"");
    (code, String::from_utf8(out).unwrap(), error, folder)
}
