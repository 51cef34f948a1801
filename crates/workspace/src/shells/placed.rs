//! Where places are in files that were read for that.

use crate::ids::ShellId;
use snarvel_servers::news::FileFaults;

/// Places in files that are not open.
#[derive(Debug)]
pub struct Placed {
    pub(super) shell: ShellId,
    pub(super) files: Vec<FileFaults>,
}
