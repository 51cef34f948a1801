//! The feed of changes of one text: numbered by revision, read by each subscriber at its own pace.
//!
//! A subscriber remembers the revision that it has seen and asks for what came after it. Nothing is taken out by reading. What
//! is too old or too large is forgotten: a subscriber that is further after is told so and takes the text as it is.

use super::Change;
use std::collections::VecDeque;
use std::sync::Arc;

/// A change and the revision of the text that it made.
#[derive(Clone, Debug)]
pub struct FeedEntry {
    /// The revision.
    pub revision: u64,
    /// The change.
    pub change: Arc<Change>,
}

/// What a subscriber finds.
#[derive(Debug)]
pub enum Since<'a> {
    /// All changes since, in order; none where there is nothing new.
    Changes(Vec<&'a FeedEntry>),
    /// Some of them are not known any more.
    Lost,
}

/// Entries that are kept once everybody had the time to read them.
const MOST_ENTRIES: usize = 4_096;

/// Bytes of changes that are kept once everybody had the time to read them.
const MOST_BYTES: usize = 1 << 20;

/// Bytes of changes that are kept in any case: one command may make many changes before anybody reads.
const MOST_BYTES_UNREAD: usize = 256 << 20;

/// The changes of one text.
#[derive(Clone, Debug, Default)]
pub struct ChangeFeed {
    entries: VecDeque<FeedEntry>,
    revision: u64,
    /// The newest revision whose change is not known any more.
    forgotten: u64,
    held: usize,
}

impl ChangeFeed {
    /// The revision of the text: every change raises it by 1.
    #[must_use]
    pub fn revision(&self) -> u64 {
        self.revision
    }

    /// Adds a change that has just been carried out.
    pub fn push(&mut self, change: Arc<Change>) {
        self.revision += 1;
        self.held += change.heap_bytes();
        self.entries.push_back(FeedEntry { revision: self.revision, change });
        self.forget_until(usize::MAX, MOST_BYTES_UNREAD);
    }

    /// The text became another one, by no change that can be told: every subscriber is lost.
    pub fn skip(&mut self) {
        self.revision += 1;
        self.forgotten = self.revision;
        self.entries.clear();
        self.held = 0;
    }

    /// What came after `revision`.
    #[must_use]
    pub fn since(&self, revision: u64) -> Since<'_> {
        if revision < self.forgotten {
            return Since::Lost;
        }
        let first = self.entries.partition_point(|entry| entry.revision <= revision);
        Since::Changes(self.entries.range(first..).collect())
    }

    /// Forgets what is old or large. To be called when all subscribers had the time to read.
    pub fn trim(&mut self) {
        self.forget_until(MOST_ENTRIES, MOST_BYTES);
    }

    fn forget_until(&mut self, entries: usize, bytes: usize) {
        while self.entries.len() > entries || self.held > bytes {
            let Some(oldest) = self.entries.pop_front() else { return };
            self.held -= oldest.change.heap_bytes();
            self.forgotten = oldest.revision;
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::changes::ChangeBuilder;
    use crate::text::Text;
    use crate::units::Byte;

    fn change(with: &str) -> Arc<Change> {
        let text = Text::default();
        let mut builder = ChangeBuilder::new(&text);
        builder.insert(Byte(0), with);
        Arc::new(builder.finish())
    }

    fn read(feed: &ChangeFeed, since: u64) -> Option<Vec<u64>> {
        match feed.since(since) {
            Since::Changes(entries) => Some(entries.iter().map(|entry| entry.revision).collect()),
            Since::Lost => None,
        }
    }

    #[test]
    fn each_subscriber_reads_at_its_own_pace() {
        let mut feed = ChangeFeed::default();
        assert_eq!(read(&feed, 0), Some(vec![]));
        (0..3).for_each(|_| feed.push(change("x")));
        assert_eq!(
            [read(&feed, 0), read(&feed, 2), read(&feed, 3)],
            [Some(vec![1, 2, 3]), Some(vec![3]), Some(vec![])]
        );
        feed.skip();
        assert_eq!([read(&feed, 3), read(&feed, 4)], [None, Some(vec![])]);
    }

    #[test]
    fn what_is_large_is_forgotten_when_it_was_read() {
        let mut feed = ChangeFeed::default();
        feed.push(change("x"));
        feed.push(change(&"x".repeat(MOST_BYTES + 1)));
        assert_eq!(read(&feed, 0), Some(vec![1, 2]));
        feed.trim();
        assert_eq!([read(&feed, 0), read(&feed, 1), read(&feed, 2)], [None, None, Some(vec![])]);
        (0..=MOST_ENTRIES).for_each(|_| feed.push(change("")));
        feed.trim();
        assert_eq!([read(&feed, 2).is_none(), read(&feed, 3).is_some()], [true, true]);
    }
}
