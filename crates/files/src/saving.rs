//! Saving in the background: a disk may take its time, and no key waits for it.

use crate::FileError;
use crate::layout::{FileLayout, layout_of};
use crate::load::{self, Encoding, Loaded, load};
use crate::past::hash_of;
use crate::save::{FileLayer, Layer, Rights, Written, save_by};
use crate::stamp::Stamp;
use snarvel_core::text::Text;
use snarvel_task::{Report, Task};
use std::path::PathBuf;

/// What is to be written, where.
#[derive(Clone, Debug)]
pub struct SaveRequest {
    /// The file.
    pub path: PathBuf,
    /// What it is to hold.
    pub text: Text,
    /// In which bytes.
    pub encoding: Encoding,
    /// What may be written over.
    pub over: Overwrite,
    /// Whether the rights of the file are minded.
    pub rights: Rights,
    /// Whether it is another file than the text had: then it is of interest how that is to be laid out.
    pub is_elsewhere: bool,
}

/// A file that is written.
#[derive(Debug)]
pub struct SaveDone {
    /// How it was written.
    pub how: Written,
    /// How it looks now.
    pub stamp: Option<Stamp>,
    /// How it is to be laid out, and what is wrong in the files that say so: where it is another one.
    pub layout: Option<(FileLayout, Option<String>)>,
    /// The hash of the text ([`hash_of`]).
    pub hash: u128,
}

/// What a save may write over.
#[derive(Clone, Debug)]
pub enum Overwrite {
    /// Whatever is there.
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
    Written(Box<SaveDone>),
    /// Nothing is written: something else is there, which this is, in a file that looks like this.
    Other(Box<Loaded>, Stamp),
    /// Nothing is written.
    Failed(FileError),
}

impl SaveRequest {
    /// Writes it, if nothing is there that is not to be written over, and waits until that is done.
    #[must_use]
    pub fn carry_out(&self, layer: &dyn FileLayer) -> Saved {
        match self.other() {
            Some((other, stamp)) => Saved::Other(Box::new(other), stamp),
            None => match self.write(layer) {
                Ok(done) => Saved::Written(Box::new(done)),
                Err(error) => Saved::Failed(error),
            },
        }
    }

    /// Writes it, whatever is there; says how the file looks then. Time linear in the bytes.
    ///
    /// # Errors
    /// A character that the encoding cannot write, and what [`crate::save::save`] refuses; then nothing is written.
    pub fn write(&self, layer: &dyn FileLayer) -> Result<SaveDone, FileError> {
        if let Some((character, line)) = load::unwritable(&self.text, self.encoding) {
            let encoding = self.encoding.unusual_name().unwrap_or_default();
            return Err(FileError::Unwritable { path: self.path.clone(), character, line: line.0 + 1, encoding });
        }
        let how = save_by(layer, &self.path, &load::encode(&self.text, self.encoding), self.rights)?;
        let layout = self.is_elsewhere.then(|| layout_of(&self.path));
        Ok(SaveDone { how, stamp: Stamp::of(&self.path), layout, hash: hash_of(&self.text) })
    }

    /// What is there that is not to be written over. A file that cannot be read is left to the save, which says why.
    fn other(&self) -> Option<(Loaded, Stamp)> {
        let now = Stamp::of(&self.path)?;
        let known = match &self.over {
            Overwrite::Anything => return None,
            Overwrite::Known(stamp, _) if *stamp == Some(now) => return None,
            Overwrite::Known(_, text) => Some(text),
            Overwrite::Nothing => None,
        };
        let there = load(&self.path).ok().flatten()?;
        (known.is_none_or(|known| there.text != *known && there.text != self.text)).then_some((there, now))
    }
}

/// Begins to carry out `request`, and reports what it has come to. It goes on to its end whatever becomes of the handle: a file
/// is written whole or not at all.
pub fn save_in_background(request: SaveRequest, layer: Layer, sink: impl Fn(Report<Saved>) + Send + 'static) -> Task {
    snarvel_task::spawn(sink, move |context| context.send(request.carry_out(&*layer))).detached()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::save::Disk;
    use std::sync::Arc;
    use std::sync::mpsc::channel;
    use std::time::Duration;

    fn request(path: PathBuf, over: Overwrite) -> SaveRequest {
        let text = Text::from("ours\n");
        SaveRequest { path, text, encoding: Encoding::Utf8, over, rights: Rights::Minded, is_elsewhere: false }
    }

    #[test]
    fn what_somebody_else_wrote_is_not_written_over() {
        let folder = tempfile::tempdir().unwrap();
        let path = folder.path().join("tides.py");
        let is_written = |over: Overwrite| match request(path.clone(), over).carry_out(&Disk::default()) {
            Saved::Written(done) => {
                assert!(done.how == Written::Renamed && done.layout.is_none());
                assert_eq!((std::fs::read(&path).unwrap(), Stamp::of(&path)), (b"ours\n".to_vec(), done.stamp));
                true
            }
            Saved::Other(there, stamp) => {
                assert_eq!(Some(stamp), Stamp::of(&path));
                assert_eq!(there.text, Text::from(std::fs::read_to_string(&path).unwrap().as_str()));
                false
            }
            failed @ Saved::Failed(_) => panic!("{failed:?}"),
        };
        let theirs = |content: &str| std::fs::write(&path, content).unwrap();
        // There is no file yet.
        assert!(is_written(Overwrite::Nothing));
        assert!(!is_written(Overwrite::Nothing), "not even over the same");
        let stamp = Stamp::of(&path);
        assert!(is_written(Overwrite::Known(stamp, Text::default())));
        theirs("theirs");
        assert!(!is_written(Overwrite::Known(stamp, Text::from("known"))));
        assert!(is_written(Overwrite::Known(stamp, Text::from("theirs"))), "another time, the same text");
        theirs("ours\n");
        assert!(is_written(Overwrite::Known(stamp, Text::from("known"))), "what is to be written stands there");
        theirs("theirs");
        assert!(is_written(Overwrite::Anything));
        std::fs::remove_file(&path).unwrap();
        assert!(is_written(Overwrite::Known(stamp, Text::from("known"))), "a file that is gone is written again");
    }

    #[test]
    fn a_save_in_the_background_reports_what_it_has_come_to_once() {
        let folder = tempfile::tempdir().unwrap();
        let (sender, told) = channel();
        let request = request(folder.path().join("new"), Overwrite::Nothing);
        // The handle is dropped at once: the save goes on.
        drop(save_in_background(request, Arc::new(Disk::default()), move |report| drop(sender.send(report))));
        assert!(matches!(told.recv_timeout(Duration::from_secs(20)), Ok(Report::News(Saved::Written(..)))));
        assert!(matches!(told.recv_timeout(Duration::from_secs(20)), Ok(Report::Done)));
    }
}
