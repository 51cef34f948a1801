//! Imports put in order: by the server, else sorted as whole statements, those that are there twice dropped.

use crate::editing::{EditCall, Effects};
use crate::ids::{BufferId, ServerId};
use crate::state::meaning::{Errand, OfferedFix};
use crate::workspace::{StructureWait, Workspace};
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_core::verbs::lines::imports::sort_imports;
use snarvel_servers::ask::Ask;
use snarvel_servers::news::Answer;
use std::path::Path;

impl Workspace {
    /// Puts the imports of the active text in order.
    pub fn organize_imports(&mut self) -> Effects {
        let buffer = self.active();
        let (id, revision) = (buffer.id, buffer.revision());
        if let Some(path) = buffer.path().map(Path::to_owned) {
            let errand = |server| Errand::Imports { buffer: id, revision, server };
            if self.send_errand(id, Ask::Imports(path), errand) {
                return Effects::default();
            }
        }
        self.sort_imports()
    }

    fn sort_imports(&mut self) -> Effects {
        let (clip, now_ms) = (Clip::default(), self.now_ms);
        let call = EditCall::once("organize-imports", &sort_imports, (&clip, now_ms));
        self.run_edit(&call, StructureWait::Short)
    }

    /// A server has told what puts imports in order.
    pub(crate) fn take_imports(&mut self, of: (BufferId, u64), server: ServerId, answer: Answer) {
        if !self.is_still(of) {
            self.say("nothing was changed: the text was changed meanwhile");
            return;
        }
        let fix = match answer {
            Answer::Fixes(fixes) => fixes.into_iter().find(|fix| fix.kind.starts_with("source.organizeImports")),
            _ => None,
        };
        let effects = match fix {
            Some(fix) => self.put_fix(&OfferedFix { server, fix }),
            None if self.active().id == of.0 => self.sort_imports(),
            None => Effects::default(),
        };
        effects.message.into_iter().for_each(|message| self.say(message));
    }
}
