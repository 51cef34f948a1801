//! What the workspace keeps of work under way. The files beside this folder say what becomes of it; here is only what it is.

pub mod convoy;
pub mod echo;
pub mod faults;
pub mod files;
pub mod filtering;
pub mod groups;
pub mod keeping;
pub mod ledger;
pub mod meaning;
pub mod offering;
pub mod operation;
pub mod pasts;
pub mod places;
pub mod recipes;
pub mod searches;
pub mod shells;
pub mod side_by_side;
pub mod signs;
