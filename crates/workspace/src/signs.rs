//! Signs that were put in lately.

use crate::editing::Effects;
use crate::workspace::Workspace;

/// So many are remembered.
const MOST_RECENT: usize = 50;

impl Workspace {
    /// The signs that were put in lately, the latest first.
    #[must_use]
    pub fn recent_signs(&self) -> &[String] {
        &self.past.signs.recent
    }

    /// Puts `sign` in at every cursor, and remembers it.
    pub fn put_sign(&mut self, sign: &str) -> Effects {
        self.past.signs.changes += 1;
        let recent = &mut self.past.signs.recent;
        recent.retain(|each| each != sign);
        recent.insert(0, sign.to_owned());
        recent.truncate(MOST_RECENT);
        self.paste_text(sign)
    }
}
