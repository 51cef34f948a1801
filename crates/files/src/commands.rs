//! Commands of the system: text goes to their standard input, what they write comes back.
//!
//! A command runs in a shell, in a process group of its own, so that what it has started ends with it. Several texts are given to as
//! many runs of the command, a few at a time.

use rustix::process::{Pid, Signal, kill_process_group};
use std::io::{Read, Write};
use std::os::unix::process::CommandExt;
use std::path::Path;
use std::process::{Child, Command, ExitStatus, Stdio};
use std::sync::Mutex;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::sync::mpsc::{Receiver, RecvTimeoutError, Sender, channel};
use std::time::{Duration, Instant};

/// How long commands may run, and what ends them before.
pub struct Limits<'l> {
    /// All of them together.
    pub longest: Duration,
    /// What one may write, in bytes.
    pub most_bytes: u64,
    /// Whether they are to end at once.
    pub is_stopped: &'l (dyn Fn() -> bool + Sync),
}

/// Why a command gave nothing.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum Failure {
    /// There is no shell, or no more processes.
    #[error("it cannot be started: {0}")]
    Start(String),
    /// It was stopped.
    #[error("it was ended")]
    Stopped,
    /// It took too long.
    #[error("it took longer than {} s, and was ended", .0.as_secs_f64())]
    TooLong(Duration),
    /// It wrote too much.
    #[error("it wrote more than {0} bytes, and was ended")]
    TooMuch(u64),
    /// It ended with something else than 0; what it wrote to standard error.
    #[error("it ended with {how}{}", if said.is_empty() { String::new() } else { format!(": {said}") })]
    Ended {
        /// Its exit code, or the signal that ended it.
        how: String,
        /// What it said, without white space at its end.
        said: String,
    },
}

/// Runs this many at a time.
const AT_ONCE: usize = 8;

/// What is read of what a command says on standard error, in bytes.
const MOST_SAID: u64 = 64 << 10;

/// How often it is looked whether it is to end.
const LOOK: Duration = Duration::from_millis(20);

/// Gives each of `inputs` to a run of `command` in `folder`; what they write, in the same order. Where one of them fails, the
/// others are ended.
///
/// # Errors
/// Why the first one that failed did.
pub fn run_all(command: &str, folder: &Path, inputs: &[Vec<u8>], limits: &Limits) -> Result<Vec<Vec<u8>>, Failure> {
    let until = Instant::now() + limits.longest;
    let (next, is_over) = (AtomicUsize::new(0), AtomicBool::new(false));
    let results: Mutex<Vec<Option<Vec<u8>>>> = Mutex::new(vec![None; inputs.len()]);
    let failed: Mutex<Option<(usize, Failure)>> = Mutex::new(None);
    let work = || {
        while let Some((index, input)) = {
            let index = next.fetch_add(1, Ordering::Relaxed);
            inputs.get(index).map(|input| (index, input)).filter(|_| !is_over.load(Ordering::Relaxed))
        } {
            let is_stopped = || is_over.load(Ordering::Relaxed) || (limits.is_stopped)();
            match run(command, folder, input, (until, limits, &is_stopped)) {
                Ok(output) => locked(&results)[index] = Some(output),
                Err(failure) => {
                    let mut failed = locked(&failed);
                    // One that was only ended because another had failed says nothing.
                    let is_first = !is_over.swap(true, Ordering::Relaxed);
                    if is_first {
                        *failed = Some((index, failure));
                    }
                }
            }
        }
    };
    std::thread::scope(|threads| (0..AT_ONCE.min(inputs.len())).for_each(|_| drop(threads.spawn(work))));
    match failed.into_inner().unwrap_or_else(std::sync::PoisonError::into_inner) {
        Some((_, failure)) => Err(failure),
        None => Ok(results
            .into_inner()
            .unwrap_or_else(std::sync::PoisonError::into_inner)
            .into_iter()
            .map(Option::unwrap_or_default)
            .collect()),
    }
}

fn locked<T>(mutex: &Mutex<T>) -> std::sync::MutexGuard<'_, T> {
    mutex.lock().unwrap_or_else(std::sync::PoisonError::into_inner)
}

/// What is told of a command that runs.
enum News {
    Written(Vec<u8>),
    Said(Vec<u8>),
    Ended(std::io::Result<ExitStatus>),
}

type Watch<'w> = (Instant, &'w Limits<'w>, &'w (dyn Fn() -> bool + Sync));

fn run(command: &str, folder: &Path, input: &[u8], watch: Watch) -> Result<Vec<u8>, Failure> {
    let mut child = Command::new("sh")
        .arg("-c")
        .arg(command)
        .current_dir(folder)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .process_group(0)
        .spawn()
        .map_err(|error| Failure::Start(error.to_string()))?;
    let group = i32::try_from(child.id()).ok().and_then(Pid::from_raw);
    let (sender, news) = channel();
    // These threads end with the pipes: one that is held open by a process that has left the group is not waited for.
    feed(&mut child, input);
    read(child.stdout.take(), watch.1.most_bytes + 1, sender.clone(), News::Written);
    read(child.stderr.take(), MOST_SAID, sender.clone(), News::Said);
    std::thread::spawn(move || sender.send(News::Ended(child.wait())));
    let result = awaited(&news, watch);
    if result.is_err() {
        // A group that is gone already is ended.
        if let Some(group) = group {
            let _ = kill_process_group(group, Signal::KILL);
        }
    }
    result
}

fn feed(child: &mut Child, input: &[u8]) {
    if let Some(mut stdin) = child.stdin.take() {
        let input = input.to_vec();
        // A command that does not read all of it closes the pipe: that is no mistake.
        std::thread::spawn(move || stdin.write_all(&input));
    }
}

fn read(pipe: Option<impl Read + Send + 'static>, most: u64, sender: Sender<News>, news: fn(Vec<u8>) -> News) {
    std::thread::spawn(move || {
        let mut bytes = Vec::new();
        if let Some(mut pipe) = pipe {
            // What came before a pipe breaks is what there is.
            let _ = pipe.by_ref().take(most).read_to_end(&mut bytes);
            let _ = sender.send(news(bytes));
            // What is beyond that is read, so that the command can end.
            let _ = std::io::copy(&mut pipe, &mut std::io::sink());
        }
    });
}

/// Waits for what the command wrote, said and ended with.
fn awaited(news: &Receiver<News>, (until, limits, is_stopped): Watch) -> Result<Vec<u8>, Failure> {
    let (mut written, mut said, mut status) = (None, None, None);
    while written.is_none() || said.is_none() || status.is_none() {
        match news.recv_timeout(LOOK) {
            Ok(News::Written(bytes)) if bytes.len() as u64 > limits.most_bytes => {
                return Err(Failure::TooMuch(limits.most_bytes));
            }
            Ok(News::Written(bytes)) => written = Some(bytes),
            Ok(News::Said(bytes)) => said = Some(bytes),
            Ok(News::Ended(ended)) => status = Some(ended.map_err(|error| Failure::Start(error.to_string()))?),
            Err(RecvTimeoutError::Timeout) => {}
            Err(RecvTimeoutError::Disconnected) => return Err(Failure::Start("its pipes broke".to_owned())),
        }
        if is_stopped() {
            return Err(Failure::Stopped);
        }
        if Instant::now() >= until {
            return Err(Failure::TooLong(limits.longest));
        }
    }
    match status {
        Some(status) if !status.success() => {
            let said = String::from_utf8_lossy(&said.unwrap_or_default()).trim_end().to_owned();
            Err(Failure::Ended { how: how(status), said })
        }
        _ => Ok(written.unwrap_or_default()),
    }
}

fn how(status: ExitStatus) -> String {
    use std::os::unix::process::ExitStatusExt;
    match (status.code(), status.signal()) {
        (Some(code), _) => format!("code {code}"),
        (None, Some(signal)) => format!("signal {signal}"),
        (None, None) => "no code".to_owned(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const LONG: Limits = Limits { longest: Duration::from_mins(1), most_bytes: 1 << 20, is_stopped: &|| false };

    fn ran(command: &str, inputs: &[&str], limits: &Limits) -> Result<Vec<String>, Failure> {
        let inputs: Vec<Vec<u8>> = inputs.iter().map(|input| input.as_bytes().to_vec()).collect();
        let outputs = run_all(command, Path::new("/"), &inputs, limits)?;
        Ok(outputs.into_iter().map(|output| String::from_utf8(output).unwrap()).collect())
    }

    #[test]
    fn each_input_gets_its_own_output_in_order() {
        let inputs: Vec<String> = (0..40).map(|number| format!("tide {number}")).collect();
        let inputs: Vec<&str> = inputs.iter().map(String::as_str).collect();
        let expected: Vec<String> = inputs.iter().map(|input| input.to_uppercase()).collect();
        assert_eq!(ran("tr a-z A-Z", &inputs, &LONG), Ok(expected));
        assert_eq!(ran("cat", &[], &LONG), Ok(Vec::new()));
        // One that reads nothing, and one that writes before it has read all.
        let large = "fog ".repeat(100_000);
        assert_eq!(ran("echo high", &[&large], &LONG), Ok(vec!["high\n".to_owned()]));
        assert_eq!(ran("cat", &[&large], &LONG), Ok(vec![large]));
    }

    #[test]
    fn one_that_fails_says_why_and_ends_the_others() {
        let failed = |how: &str, said: &str| Err(Failure::Ended { how: how.to_owned(), said: said.to_owned() });
        assert_eq!(ran("echo fog >&2; exit 3", &["a"], &LONG), failed("code 3", "fog"));
        assert_eq!(ran("kill -9 $$", &["a"], &LONG), failed("signal 9", ""));
        // The other one would sleep for longer than the test may take.
        let one_fails = "read line; case $line in low) exit 4;; esac; sleep 1000";
        assert_eq!(ran(one_fails, &["high\n", "low\n"], &LONG), failed("code 4", ""));
        assert_eq!(ran("yes", &["a"], &Limits { most_bytes: 1000, ..LONG }), Err(Failure::TooMuch(1000)));
    }

    #[test]
    fn one_that_takes_too_long_or_is_stopped_is_ended_with_all_that_it_started() {
        let soon = Duration::from_millis(50);
        assert_eq!(ran("sleep 1000", &["a"], &Limits { longest: soon, ..LONG }), Err(Failure::TooLong(soon)));
        assert_eq!(ran("sleep 1000 | cat", &["a"], &Limits { is_stopped: &|| true, ..LONG }), Err(Failure::Stopped));
        // The shell ends at once, what it started keeps the pipe.
        assert_eq!(ran("sleep 1000 &", &["a"], &Limits { longest: soon, ..LONG }), Err(Failure::TooLong(soon)));
    }
}
