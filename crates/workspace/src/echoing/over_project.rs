//! The same over the files of the project: found in the background, carried out as one step.

use super::news::{Base, EchoFile};
use crate::event::Payload;
use crate::open_texts::OpenText;
use crate::state::groups::Deed;
use crate::tasks::{About, TaskHandle};
use crate::transaction::{Part, Refusal};
use crate::workspace::Workspace;
use snarvel_core::changes::ChangeBuilder;
use snarvel_core::echo::{Change, Scope, look_by};
use snarvel_core::text::Text;
use snarvel_core::units::Line;
use snarvel_files::gather::{gather, is_binary};
use snarvel_files::loading::Opened;
use snarvel_files::replacing::Replaced;
use snarvel_files::search::language_of;
use snarvel_task::waits;
use std::path::Path;

/// Larger files are passed over, in bytes.
const LARGEST_FILE: u64 = 8 << 20;

impl Workspace {
    /// Begins to look for places of the rule that is offered, at its level, in the other files of the project; none where nothing is
    /// offered, or where it counts numbers on, which go from place to place of one text.
    pub fn echo_over_project(&mut self) -> Option<TaskHandle> {
        let offer = self.echo().filter(|offer| !offer.echo.rule.counts())?;
        let (rule, level) = (offer.echo.rule.clone(), *offer.echo.levels.get(offer.at)?);
        let (own, language) = (self.active().path().map(Path::to_owned), self.active().language().clone());
        let folder = self.project.folder.clone();
        let open = self.open_texts();
        let about = About::new("looking for the same in the project").awaited(waits::FOLDER);
        Some(self.tasks.start(about, Payload::EchoedFile, move |sink| {
            snarvel_task::spawn(sink, move |context| {
                let files = gather(std::slice::from_ref(&folder), &mut |_, _| {});
                for file in files.into_iter().filter(|file| Some(&file.path) != own.as_ref()) {
                    if context.is_cancelled() {
                        return;
                    }
                    let Some((text, base)) = text_of(&file.path, open.get(&file.path)) else { continue };
                    if language_of(&file.path, &text).name != language.name {
                        continue;
                    }
                    let scope = Scope { text: &text, language: &language, edited: &[] };
                    let cancel = context.cancel().clone();
                    let found = look_by(rule.clone(), scope, (Line(0), &|| cancel.is_cancelled()));
                    let changes = found.map_or_else(Vec::new, |echo| echo.at(level));
                    if !changes.is_empty() {
                        let name = file.path.strip_prefix(&folder).unwrap_or(&file.path).to_owned();
                        context.send(Box::new(EchoFile { name, changes, text, base }));
                    }
                }
            })
        }))
    }

    /// Does the same in the active text and in these files as one step; `chosen` says whether a place of a file counts.
    ///
    /// # Errors
    /// Files are still being written.
    pub fn do_echo_in(&mut self, files: &[EchoFile], chosen: &dyn Fn(&Path, usize) -> bool) -> Result<(), Refusal> {
        let (mut parts, mut disk, mut places) = (Vec::new(), Vec::new(), 0);
        if let Some(offer) = self.echo() {
            let own: Vec<&Change> = offer.chosen().collect();
            places += own.len();
            let change = change_of(self.active().text(), &own);
            parts.push(Part { buffer: offer.buffer, revision: offer.revision, change });
        }
        for file in files {
            let of_file = file.changes.iter().enumerate().filter(|(index, _)| chosen(&file.name, *index));
            let of_file: Vec<&Change> = of_file.map(|(_, change)| change).collect();
            if of_file.is_empty() {
                continue;
            }
            let change = change_of(&file.text, &of_file);
            match &file.base {
                Base::Open(buffer, revision) => {
                    places += of_file.len();
                    parts.push(Part { buffer: *buffer, revision: *revision, change });
                }
                Base::Disk(path, encoding, stamp) => {
                    let mut after = file.text.clone();
                    after.apply(&change);
                    let texts = [file.text.clone(), after];
                    disk.push(Replaced::planned((path.clone(), of_file.len()), texts, *encoding, *stamp));
                }
            }
        }
        self.change_files("echo", parts, disk)?;
        if let Some(work) = &mut self.files.replacing {
            (work.tally.deed, work.tally.hits) = (Deed::Changed, places);
        }
        self.rest_echo();
        Ok(())
    }
}

/// The change that does all of these, which are in the order of the text.
pub(super) fn change_of(text: &Text, changes: &[&Change]) -> snarvel_core::changes::Change {
    let mut builder = ChangeBuilder::new(text);
    changes.iter().for_each(|change| builder.replace(change.span, &change.comes));
    builder.finish()
}

/// The text of a file: as it is under edit, where it is open; none where it is no text, too large or read-only.
fn text_of(path: &Path, open: Option<&OpenText>) -> Option<(Text, Base)> {
    if let Some(open) = open {
        return (!open.is_read_only).then(|| (open.text.clone(), Base::Open(open.buffer, open.revision)));
    }
    let is_small = std::fs::metadata(path).is_ok_and(|about| about.len() <= LARGEST_FILE);
    if !is_small || is_binary(path).unwrap_or(true) {
        return None;
    }
    let opened = Opened::read(path).ok()?;
    let loaded = opened.loaded.filter(|loaded| !loaded.read_only)?;
    Some((loaded.text, Base::Disk(path.to_owned(), loaded.encoding, opened.stamp)))
}
