//! Trust: no server is started in a folder before the person has said so, once for each server and folder.

use crate::event::Payload;
use crate::kept::Consent;
use crate::meaning::candidate::Candidate;
use crate::notice::Notice;
use crate::tasks::About;
use crate::today::today;
use crate::workspace::Workspace;

/// What a person says of a server.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Say {
    /// It may be started this time.
    Once,
    /// It may be started in this folder from now on.
    Always,
    /// It is not started in this folder, and not asked about any more.
    Never,
    /// It is asked about again at the next start.
    Later,
}

impl Workspace {
    /// No server is asked about by itself: only when the servers are asked for.
    pub fn ask_about_no_server(&mut self) {
        self.past.meaning.consents.is_quiet = true;
    }

    /// Asks whether a server may be started, once in a run.
    pub(crate) fn ask_about(&mut self, candidate: &Candidate) {
        let name = &candidate.launch.profile.name;
        if !self.past.meaning.consents.is_quiet && !self.past.meaning.consents.asked.contains(name) {
            self.past.meaning.consents.asked.push(name.clone());
            self.told.notices.push(Notice::MayServe(Box::new(candidate.clone())));
        }
    }

    /// The person has said what becomes of a server.
    pub fn consent(&mut self, candidate: &Candidate, say: Say) {
        let name = candidate.launch.profile.name.clone();
        let may = match say {
            Say::Later => return,
            Say::Once | Say::Always => true,
            Say::Never => false,
        };
        let said = &mut self.past.meaning.consents.said;
        said.retain(|(other, _)| *other != name);
        said.push((name.clone(), may));
        if let (true, Some(store)) = (say != Say::Once, self.keeping.store.clone()) {
            let consent = Consent { folder: self.project.folder.clone(), server: name, may_start: may, since: today() };
            let about = About::new("keeping what was said of a server");
            // Where it cannot be kept it is asked about again at the next start.
            self.past.meaning.consents.keeping = Some(self.tasks.run(
                about,
                |()| Payload::Ended,
                move || {
                    let _ = store.consent(consent);
                },
            ));
        }
        if may {
            self.start_server(candidate);
            self.say(format!("{} is being started", candidate.launch.profile.name));
        } else {
            self.say(format!("{} is not started here: snarvel trust forgets that", candidate.launch.profile.name));
        }
    }
}
