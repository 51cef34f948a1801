//! Saving behind one's back: a disk may take its time, and no key waits for it.

use crate::FileError;
use crate::errand::Errand;
use crate::layout::{FileLayout, layout_of};
use crate::load::{self, Encoding, load};
use crate::save::{FileLayer, Layer, Rights, Written, save_by};
use crate::stamp::Stamp;
use snarvel_core::text::Text;
use std::io;
use std::path::PathBuf;
use std::time::Duration;

/// What is to be written, where.
#[derive(Clone, Debug)]
pub struct Order {
    /// The file.
    pub path: PathBuf,
    /// What it is to hold.
    pub text: Text,
    /// In which bytes.
    pub encoding: Encoding,
    /// What may be written over.
    pub over: Over,
    /// Whether the rights of the file are minded.
    pub rights: Rights,
    /// Whether it is another file than the text had: then it is of interest how that is to be laid out.
    pub is_elsewhere: bool,
}

/// A file that is written.
#[derive(Debug)]
pub struct Done {
    /// How it was written.
    pub how: Written,
    /// How it looks now.
    pub stamp: Option<Stamp>,
    /// How it is to be laid out, and what is wrong in the files that say so: where it is another one.
    pub layout: Option<(FileLayout, Option<String>)>,
}

/// What a save may write over.
#[derive(Clone, Debug)]
pub enum Over {
    /// Whatever stands there.
    Anything,
    /// A file that looks like this, or one that holds this text, however it looks.
    Known(Option<Stamp>, Text),
    /// No file.
    Nothing,
}

/// What a save has come to.
#[derive(Debug)]
pub enum Saved {
    /// It is written.
    Written(Box<Done>),
    /// Nothing is written: something else stands there, which this is, in a file that looks like this.
    Other(Text, Stamp),
    /// Nothing is written.
    Failed(FileError),
}

impl Order {
    /// Writes it, if nothing stands there that is not to be written over, and waits until that is done.
    #[must_use]
    pub fn carry_out(&self, layer: &dyn FileLayer) -> Saved {
        match self.other() {
            Some((other, stamp)) => Saved::Other(other, stamp),
            None => match self.write(layer) {
                Ok(done) => Saved::Written(Box::new(done)),
                Err(error) => Saved::Failed(error),
            },
        }
    }

    /// Writes it, whatever stands there; says how the file looks then. Time linear in the bytes.
    ///
    /// # Errors
    /// A character that the encoding cannot write, and what [`crate::save::save`] refuses; then nothing is written.
    pub fn write(&self, layer: &dyn FileLayer) -> Result<Done, FileError> {
        if let Some((character, line)) = load::unwritable(&self.text, self.encoding) {
            let encoding = self.encoding.unusual_name().unwrap_or_default();
            return Err(FileError::Unwritable { path: self.path.clone(), character, line: line.0 + 1, encoding });
        }
        let how = save_by(layer, &self.path, &load::encode(&self.text, self.encoding), self.rights)?;
        let layout = self.is_elsewhere.then(|| layout_of(&self.path));
        Ok(Done { how, stamp: Stamp::of(&self.path), layout })
    }

    /// What stands there that is not to be written over. A file that cannot be read is left to the save, which says why.
    fn other(&self) -> Option<(Text, Stamp)> {
        let now = Stamp::of(&self.path)?;
        let known = match &self.over {
            Over::Anything => return None,
            Over::Known(stamp, _) if *stamp == Some(now) => return None,
            Over::Known(_, text) => Some(text),
            Over::Nothing => None,
        };
        let there = load(&self.path).ok().flatten()?.text;
        (known.is_none_or(|known| there != *known && there != self.text)).then_some((there, now))
    }
}

/// A save under way. Dropping it does not stop it: a file is written whole or not at all.
#[derive(Debug)]
pub struct Saving {
    path: PathBuf,
    saved: Errand<Saved>,
}

impl Saving {
    /// Begins to carry out `order`; `wake` is called when that is done.
    #[must_use]
    pub fn start(order: Order, layer: Layer, wake: impl Fn() + Send + 'static) -> Saving {
        let path = order.path.clone();
        Saving { path, saved: Errand::once(move || order.carry_out(&*layer), wake) }
    }

    /// What it has come to, once; waits for that for `longest` at most.
    #[must_use]
    pub fn gather(&self, longest: Duration) -> Option<Saved> {
        let (mut saved, is_over) = self.saved.gather(longest);
        saved.pop().or_else(|| {
            let source = io::Error::other("it was not finished");
            is_over.then(|| Saved::Failed(FileError::Write { path: self.path.clone(), source }))
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::save::Disk;
    use std::sync::Arc;
    use std::sync::mpsc::channel;

    fn order(path: PathBuf, over: Over) -> Order {
        let text = Text::from("ours\n");
        Order { path, text, encoding: Encoding::Utf8, over, rights: Rights::Minded, is_elsewhere: false }
    }

    #[test]
    fn what_somebody_else_wrote_is_not_written_over() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("tides.py");
        let is_written = |over: Over| match order(path.clone(), over).carry_out(&Disk) {
            Saved::Written(done) => {
                assert!(done.how == Written::Renamed && done.layout.is_none());
                assert_eq!((std::fs::read(&path).unwrap(), Stamp::of(&path)), (b"ours\n".to_vec(), done.stamp));
                true
            }
            Saved::Other(text, stamp) => {
                assert_eq!(Some(stamp), Stamp::of(&path));
                assert_eq!(text, Text::from(std::fs::read_to_string(&path).unwrap().as_str()));
                false
            }
            failed @ Saved::Failed(_) => panic!("{failed:?}"),
        };
        let theirs = |content: &str| std::fs::write(&path, content).unwrap();
        // There is no file yet.
        assert!(is_written(Over::Nothing));
        assert!(!is_written(Over::Nothing), "not even over the same");
        let stamp = Stamp::of(&path);
        assert!(is_written(Over::Known(stamp, Text::default())));
        theirs("theirs");
        assert!(!is_written(Over::Known(stamp, Text::from("known"))));
        assert!(is_written(Over::Known(stamp, Text::from("theirs"))), "another time, the same text");
        theirs("ours\n");
        assert!(is_written(Over::Known(stamp, Text::from("known"))), "what is to be written stands there");
        theirs("theirs");
        assert!(is_written(Over::Anything));
        std::fs::remove_file(&path).unwrap();
        assert!(is_written(Over::Known(stamp, Text::from("known"))), "a file that is gone is written again");
    }

    #[test]
    fn a_save_behind_is_told_of_and_given_once() {
        let folder = tempfile::tempdir().unwrap();
        let (wake, woken) = channel();
        let order = order(folder.path().join("new"), Over::Nothing);
        let saving = Saving::start(order, Arc::new(Disk), move || wake.send(()).unwrap_or(()));
        woken.recv_timeout(Duration::from_secs(20)).unwrap();
        assert!(matches!(saving.gather(Duration::ZERO), Some(Saved::Written(..))));
    }
}
