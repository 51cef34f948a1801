//! The past of files over restarts: histories are kept when a file is saved, and found again when it is opened.
//!
//! Opening does not wait for it: it is read and tried against the text in the background, and put before what was done meanwhile.

use crate::differences;
use crate::editing::{EditCall, Effects};
use crate::event::Payload;
use crate::ids::{BufferId, TaskId};
use crate::past_news::PastNews;
use crate::project::Writing;
use crate::registry;
use crate::tasks::About;
use crate::workspace::{StructureWait, Workspace};
use snarvel_core::changes::{Bias, Change, ChangeBuilder};
use snarvel_core::history::StepId;
use snarvel_core::history::kept::Kept;
use snarvel_core::text::Text;
use snarvel_core::units::{Line, Span};
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_core::verbs::scene::{Outcome, Scene, counted};
use snarvel_files::past::{LARGEST_TEXT, MOST_OF_A_FILE, Past, Pasts, hash_of};
use snarvel_task::waits;
use std::collections::HashSet;
use std::path::Path;
use std::sync::{LazyLock, Mutex, PoisonError};
use std::time::{Instant, SystemTime, UNIX_EPOCH};

/// Now, in milliseconds since 1970.
#[must_use]
pub fn unix_ms() -> i64 {
    let since = SystemTime::now().duration_since(UNIX_EPOCH).unwrap_or_default();
    i64::try_from(since.as_millis()).unwrap_or(i64::MAX)
}

/// The lasting form of a verb's name.
fn verb_called(name: &str) -> &'static str {
    /// Longer names are none, and no more of them are remembered than there are verbs by far.
    const LONGEST: usize = 40;
    const MOST: usize = 1_000;
    static OTHERS: LazyLock<Mutex<HashSet<&'static str>>> = LazyLock::new(Mutex::default);
    if let Some(verb) = registry::by_name(name) {
        return verb.name;
    }
    let mut others = OTHERS.lock().unwrap_or_else(PoisonError::into_inner);
    if let Some(known) = others.get(name) {
        return known;
    }
    if name.len() > LONGEST || others.len() >= MOST || !name.chars().all(|c| c.is_ascii_alphanumeric() || c == '-') {
        return "edit";
    }
    let lasting: &'static str = String::leak(name.to_owned());
    others.insert(lasting);
    lasting
}

impl Workspace {
    /// The past of files is kept in `folder` from now on.
    pub fn keep_pasts(&mut self, folder: &Path) {
        self.past.files.store = Some(Pasts::in_folder(folder.to_owned()));
        let ids: Vec<BufferId> = self.buffers.iter().filter(|each| !each.is_partial()).map(|each| each.id).collect();
        ids.into_iter().for_each(|id| self.find_past(id));
    }

    /// Whether a rule of the settings names the file.
    fn is_past_ignored(&self, path: &Path) -> bool {
        let name = path.file_name().unwrap_or_default().to_string_lossy().into_owned();
        let whole = path.to_string_lossy().into_owned();
        self.project.saving.past.ignored.iter().any(|rule| fits(rule, if rule.contains('/') { &whole } else { &name }))
    }

    /// A text is all there: its past is looked for.
    pub(crate) fn find_past(&mut self, id: BufferId) {
        let Some(pasts) = self.past.files.store.clone() else { return };
        let now_ms = self.now_ms;
        let Some(buffer) = self.buffer(id) else { return };
        let Some(path) = buffer.path().map(Path::to_owned) else { return };
        if buffer.text().len() > LARGEST_TEXT || buffer.history().steps().len() > 0 {
            return;
        }
        let text = buffer.text().clone();
        let task = self.tasks.run(About::new("looking for the past").of(id), Payload::Past, move || {
            let found = match pasts.read(&path) {
                Ok(found) => found,
                Err(told) => return Box::new(PastNews::Told(told)),
            };
            let Some(Past { text: last, kept, is_wanted, .. }) = found.filter(|past| !past.kept.is_empty()) else {
                return Box::new(PastNews::Nothing);
            };
            let last = Text::from(last.as_str());
            let texts = (&last, &text, hash_of(&text));
            let found = kept.fitting(texts, differences::change, verb_called, (now_ms, unix_ms()));
            Box::new(match found {
                Ok(fitting) => PastNews::Found(id, text, Box::new(fitting), is_wanted),
                Err(_) => PastNews::Told(pasts.put_aside(&path)),
            })
        });
        self.past.files.tasks.push(task);
    }

    /// A text was saved: its history is kept, where the rules allow it.
    pub(crate) fn keep_past(&mut self, id: BufferId, hash: u128) {
        let now = (self.now_ms, unix_ms());
        let Some(buffer) = self.buffer_mut(id) else { return };
        buffer.history_mut().note_save(hash, now.1);
        self.write_past(id);
    }

    fn write_past(&mut self, id: BufferId) {
        let now = (self.now_ms, unix_ms());
        let Some(pasts) = self.past.files.store.clone().filter(|_| self.project.writing == Writing::Files) else {
            return;
        };
        let Some(buffer) = self.buffer(id) else { return };
        let Some(path) = buffer.path().map(Path::to_owned) else { return };
        let is_wanted = buffer.saved.keeps_past;
        let most = u64::from(self.project.saving.past.most_mb) << 20;
        let text = buffer.saved.on_disk.clone();
        let may = is_wanted || (most > 0 && !self.is_past_ignored(&path));
        if !may || text.len() > LARGEST_TEXT {
            return;
        }
        let history = buffer.history().clone();
        let task = self.tasks.run(About::new("keeping the past").of(id), Payload::Past, move || {
            let Some(kept) = history.kept(now).map(|kept: Kept| kept.within(MOST_OF_A_FILE)) else {
                return Box::new(PastNews::Nothing);
            };
            let past = Past { path, text: text.to_string(), kept, is_wanted };
            Box::new(match pasts.write(&past, most) {
                Ok(_) => PastNews::Nothing,
                Err(error) => PastNews::Told(format!("the past of {} is not kept: {error}", past.path.display())),
            })
        });
        self.past.files.tasks.push(task);
    }

    /// Takes in what became of reading or keeping a past.
    pub(crate) fn take_past(&mut self, news: PastNews) {
        match news {
            PastNews::Told(told) => {
                // What cannot be kept is said once, not at each save.
                if self.past.files.told.as_ref() != Some(&told) {
                    self.past.files.told = Some(told.clone());
                    self.say(told);
                }
            }
            PastNews::Nothing => {}
            PastNews::Found(id, opened, fitting, is_wanted) => {
                let Some(buffer) = self.buffer_mut(id) else { return };
                // Where the text was read again meanwhile, what was found is for another one.
                let is_whole = buffer.history().forgotten() == 0;
                if is_whole && *buffer.at_step(StepId::START).0.text() == opened {
                    buffer.saved.keeps_past = is_wanted;
                    buffer.history_mut().precede(*fitting);
                }
            }
        }
    }

    /// Keeps the past of the active file from now on, whatever the rules are.
    pub(crate) fn keep_this_past(&mut self) -> Effects {
        let buffer = self.active_mut();
        let id = buffer.id;
        if buffer.path().is_none() {
            return Effects {
                is_refused: true,
                ..Effects::saying("this text has no file yet: its past is kept once it is saved")
            };
        }
        buffer.saved.keeps_past = true;
        let name = buffer.name();
        self.write_past(id);
        Effects::saying(format!("the past of {name} is kept from now on"))
    }

    /// Forgets what is kept of the past of the active file.
    pub(crate) fn forget_this_past(&mut self) -> Effects {
        let Some(pasts) = self.past.files.store.clone() else { return Effects::saying("no past is kept here") };
        let buffer = self.active_mut();
        buffer.saved.keeps_past = false;
        let name = buffer.name();
        let Some(path) = buffer.path().map(Path::to_owned) else { return Effects::saying("this text has no file") };
        let task = self.tasks.run(About::new("forgetting the past"), Payload::Past, move || {
            Box::new(PastNews::Told(match pasts.forget(&path) {
                Ok(true) => {
                    format!("what was kept of the past of {name} is gone; its steps of today are on the trail still")
                }
                Ok(false) => format!("nothing was kept of the past of {name}"),
                Err(error) => format!("the past of {name} cannot be forgotten: {error}"),
            }))
        });
        self.past.files.told = None;
        self.past.files.tasks.push(task);
        Effects::default()
    }

    /// Whether pasts are being read or kept: scripts wait for it.
    #[must_use]
    pub fn awaits_pasts(&self) -> bool {
        !self.past.files.tasks.is_empty()
    }

    /// A task of the past has come to its end.
    pub(crate) fn take_past_end(&mut self, task: TaskId) {
        self.past.files.tasks.retain(|each| each.id != task);
    }

    /// Waits until pasts that are being kept are on the disk, for a moment at most: before the whole program ends.
    pub fn end_pasts(&mut self) {
        let until = Instant::now() + waits::LAST_PASTS;
        while self.awaits_pasts() {
            let left = until.saturating_duration_since(Instant::now());
            let Some(event) = self.tasks.receive(left) else { return };
            self.take(event);
        }
    }

    /// The selected lines of the active text become what they were at a step of its history, as one step; the rest stays.
    pub fn take_lines_of(&mut self, id: StepId) -> Effects {
        let (then, _) = self.active().at_step(id);
        let (clip, now_ms) = (Clip::default(), self.now_ms);
        let take = |scene: &Scene| lines_of(scene, then.text());
        let call = EditCall::once("take-lines", &take, (&clip, now_ms));
        self.run_edit(&call, StructureWait::None)
    }
}

/// The lines that the cursors touch, as they are in `then`.
fn lines_of(scene: &Scene, then: &Text) -> Outcome {
    let way: Change = differences::change(scene.text, then);
    let text = scene.text;
    let mut builder = ChangeBuilder::new(text);
    let (mut reach, mut count) = (0, 0);
    for each in scene.cursors.iter() {
        let first = text.line_of(each.start());
        let mut last = text.line_of(each.end());
        // A selection that ends at the start of a line does not touch it.
        if last > first && text.line_start(last) == each.end() {
            last = Line(last.0 - 1);
        }
        let next = Line(last.0 + 1);
        let end = if next.0 < text.line_count() { text.line_start(next) } else { text.end() };
        let span = Span::new(text.line_start(first), end);
        if span.start.0 < reach {
            continue;
        }
        reach = span.end.0;
        count += last.0 - first.0 + 1;
        let start = way.map(span.start, Bias::Before);
        let end = way.map(span.end, Bias::Before).max(start);
        let [start, end] = [start, end].map(|at| then.snap_back(at.min(then.end())));
        let old = then.slice(Span::new(start, end.max(start)));
        if text.slice(span) != old {
            builder.replace(span, &old);
        }
    }
    let change = builder.finish();
    if change.is_empty() {
        return Outcome::already("these lines are as they were then");
    }
    let cursors = scene.cursors.mapped(&change, Bias::Before);
    Outcome::edit(change, cursors).saying(format!("{} taken from then", counted(count, "line")))
}

/// Whether a name fits a rule, in which `*` is any characters and `?` is one.
fn fits(rule: &str, name: &str) -> bool {
    let (rule, name): (Vec<char>, Vec<char>) = (rule.chars().collect(), name.chars().collect());
    let (mut at, mut here, mut star) = (0, 0, None);
    while here < name.len() {
        if at < rule.len() && rule[at] == '*' {
            star = Some((at, here));
            at += 1;
        } else if at < rule.len() && (rule[at] == '?' || rule[at] == name[here]) {
            at += 1;
            here += 1;
        } else if let Some((before, from)) = star {
            star = Some((before, from + 1));
            at = before + 1;
            here = from + 1;
        } else {
            return false;
        }
    }
    rule[at..].iter().all(|c| *c == '*')
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn rules_name_files() {
        for (rule, name, expected) in [
            ("*.env", "a.env", true),
            ("*.env", "a.env.txt", false),
            ("secret?.txt", "secret1.txt", true),
            ("*", "", true),
            ("a*b*c", "aXbYbc", true),
            ("", "a", false),
        ] {
            assert_eq!(fits(rule, name), expected, "{rule} {name}");
        }
        assert_eq!(verb_called("carry-down"), "carry-down");
        assert_eq!(verb_called("server-edit"), "server-edit");
        assert_eq!(verb_called("no verb: \x1b[2J"), "edit");
    }
}
