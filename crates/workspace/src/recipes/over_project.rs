//! A recipe over all files of the project: computed in the background, shown file by file, then carried out as one step.

use super::Program;
use super::applying::{Applied, apply};
use super::news::{FileChange, ProjectNews, Work};
use super::unified::{replaced, unified};
use crate::event::Payload;
use crate::open_texts::OpenText;
use crate::state::groups::Deed;
use crate::tasks::{About, TaskHandle};
use crate::transaction::{Part, Refusal};
use crate::workspace::Workspace;
use snarvel_files::gather::{How, gather, is_binary};
use snarvel_files::load::Loaded;
use snarvel_files::loading::Opened;
use snarvel_files::replacing::Replaced;
use snarvel_task::waits;
use std::path::Path;

impl Workspace {
    /// Begins to compute what `program` makes of each file of the project. Those that are open are taken as they are under edit.
    pub fn apply_to_project(&mut self, program: Program) -> TaskHandle {
        let folder = self.project.folder.clone();
        let open = self.open_texts();
        let about = About::new("a recipe over the project").awaited(waits::FOLDER);
        self.tasks.start(about, Payload::Applied, move |sink| {
            snarvel_task::spawn(sink, move |context| {
                let files = gather(std::slice::from_ref(&folder), &mut |_, _| {});
                let mut seen = 0;
                for file in files {
                    if context.is_cancelled() {
                        return;
                    }
                    seen += 1;
                    if seen % 256 == 0 {
                        context.send(ProjectNews::Seen(seen));
                    }
                    debug_assert_eq!(file.how, How::Found, "only the folder is named");
                    match change_of(
                        &program,
                        &folder,
                        &file.path,
                        open.get(&file.path).filter(|open| !open.is_read_only),
                    ) {
                        Ok(Some(change)) => context.send(ProjectNews::Changes(Box::new(change))),
                        Ok(None) => {}
                        Err(why) => context.send(ProjectNews::Refused(file.path, why)),
                    }
                }
                context.send(ProjectNews::Seen(seen));
            })
        })
    }

    /// Carries out what was computed for these files, as one step.
    ///
    /// # Errors
    /// Files are still being written.
    pub fn carry_out_changes(&mut self, changes: Vec<FileChange>) -> Result<(), Refusal> {
        let (mut parts, mut disk) = (Vec::new(), Vec::new());
        // Those of files on the disk are counted as they are written.
        let mut places = 0;
        for FileChange { work, places: own, .. } in changes {
            match work {
                Work::Open(buffer, revision, change) => {
                    places += own;
                    parts.push(Part { buffer, revision, change });
                }
                Work::Disk(replaced) => disk.push(*replaced),
            }
        }
        self.change_files("recipe", parts, disk)?;
        if let Some(work) = &mut self.files.replacing {
            (work.tally.deed, work.tally.hits) = (Deed::Changed, places);
        }
        Ok(())
    }
}

/// What `program` makes of the file at `path`; nothing where it stays as it is, or is none to be worked on.
fn change_of(
    program: &Program,
    folder: &Path,
    path: &Path,
    open: Option<&OpenText>,
) -> Result<Option<FileChange>, String> {
    let opened = match open {
        Some(open) => Opened {
            loaded: Some(Loaded { text: open.text.clone(), encoding: open.encoding, read_only: false }),
            stamp: None,
            layout: snarvel_files::layout::layout_of(path),
        },
        None if is_binary(path).unwrap_or(true) => return Ok(None),
        None => Opened::read(path).map_err(|error| error.to_string())?,
    };
    if opened.loaded.is_none() {
        return Ok(None);
    }
    let stamp = opened.stamp;
    let applied = apply(program, path, opened, None).map_err(|ended| ended.to_string())?;
    if !applied.has_changed() {
        return Ok(None);
    }
    let runs = replaced(&applied);
    let name = path.strip_prefix(folder).unwrap_or(path).to_owned();
    let diff = String::from_utf8_lossy(&unified(&applied, &name.to_string_lossy(), &runs)).into_owned();
    let places = runs.len().max(1);
    let work = match open {
        Some(open) => Work::Open(open.buffer, open.revision, applied.as_change()),
        None => Work::Disk(Box::new(on_disk(path, places, &applied, stamp))),
    };
    Ok(Some(FileChange { name, places, diff, work }))
}

fn on_disk(path: &Path, places: usize, applied: &Applied, stamp: Option<snarvel_files::stamp::Stamp>) -> Replaced {
    let texts = [applied.before().clone(), applied.now().text().clone()];
    Replaced::planned((path.to_owned(), places), texts, applied.now().saved.encoding, stamp)
}
