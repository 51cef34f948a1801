//! What is done to files by themselves: created, renamed, put into the trash; and drawings written. In the background, one at a
//! time.

use crate::event::Payload;
use crate::ids::{BufferId, TaskId};
use crate::notice::Notice;
use crate::project::Writing;
pub use crate::state::operation::FileOperation;
use crate::state::operation::Operation;
use crate::tasks::About;
use crate::workspace::Workspace;
use snarvel_task::waits;
use std::path::{Path, PathBuf};

impl Workspace {
    /// Does something to a file. What came of it is told by a notice.
    pub fn operate(&mut self, operation: FileOperation) {
        if self.saves_under_way() > 0 {
            // A file that is written and renamed at the same time would be there twice.
            self.tell_operation(None, "a file is still being written: once more when that is done");
        } else if self.project.writing == Writing::Files {
            let work = operation.clone();
            self.begin_operation(Some(operation), move || work.carry_out());
        } else {
            self.tell_operation(None, "not done: only played");
        }
    }

    /// Does `work` in the background, unless something is being done already.
    pub fn begin_operation(
        &mut self,
        operation: Option<FileOperation>,
        work: impl FnOnce() -> Result<String, String> + Send + 'static,
    ) {
        if self.files.operation.is_some() {
            self.tell_operation(None, "what was asked for before is still being done");
            return;
        }
        let about = About::new("working on a file").awaited(waits::FILE_OPERATION);
        let task = self.tasks.run(about, Payload::Operated, work);
        self.files.operation = Some(Operation { what: operation, task, result: None, then_quit: false });
        self.tell_operation(None, "being done …");
    }

    fn tell_operation(&mut self, path: Option<PathBuf>, said: &str) {
        self.told.notices.push(Notice::Operated(path, said.to_owned()));
    }

    /// Takes in what came of it.
    pub(crate) fn take_operated(&mut self, result: Result<String, String>) {
        if let Some(operation) = &mut self.files.operation {
            operation.result = Some(result);
        }
    }

    /// Whatever was being done is over.
    pub(crate) fn take_operation_end(&mut self, task: TaskId) {
        let Some(done) = self.files.operation.take_if(|operation| operation.task.id == task) else { return };
        let result = done.result.unwrap_or_else(|| Err("it broke off".to_owned()));
        if let (Ok(_), Some(FileOperation::Rename(from, to))) = (&result, &done.what) {
            self.follow_rename(from, to);
        }
        let path = done.what.as_ref().map(|operation| operation.path().to_owned());
        match (result, done.what) {
            (Ok(_), Some(FileOperation::CreateFile(path))) => self.told.notices.push(Notice::Created(path)),
            (result, _) => self.tell_operation(path, &result.unwrap_or_else(|why| why)),
        }
        self.quit_after_the_last(done.then_quit);
    }

    /// What is open of a file or folder that has another name is of that now, and so is its journal.
    fn follow_rename(&mut self, from: &Path, to: &Path) {
        let moved: Vec<(BufferId, PathBuf)> = self
            .buffers()
            .iter()
            .filter_map(|buffer| {
                let rest = buffer.path()?.strip_prefix(from).ok()?;
                Some((buffer.id, if rest.as_os_str().is_empty() { to.to_owned() } else { to.join(rest) }))
            })
            .collect();
        moved.into_iter().for_each(|(id, path)| self.move_to(id, path));
    }
}
