//! The templates that there are for a language: the person's own before those that come with the program.

use crate::workspace::Workspace;
use snarvel_core::languages::Language;
use snarvel_core::templates::{Template, file, shipped};
use snarvel_files::reading;
use std::collections::HashMap;
use std::path::{Path, PathBuf};
use std::sync::Arc;

/// What is wrong in a file of templates.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Told {
    /// The file.
    pub file: PathBuf,
    /// The line, from 1; none where the file could not be read.
    pub line: Option<usize>,
    /// What is wrong, and what is allowed.
    pub what: String,
}

/// What the names of files with templates end in.
const ENDING: &str = "toml";

/// A file may have this many bytes, and the folder this many files.
const LONGEST: u64 = 1 << 20;
const MOST: usize = 500;

impl Workspace {
    /// Reads the templates of the person in `folder`, a file for each language; gives what is wrong in them. What is right is in force.
    pub fn read_templates(&mut self, folder: &Path) -> Vec<Told> {
        let (own, told) = read(folder);
        self.past.offering.own = own;
        self.past.offering.templates.clear();
        told
    }

    /// The templates of `language`. Of two with one name the person's counts.
    pub(super) fn templates_of(&mut self, language: &Language) -> Arc<[Arc<Template>]> {
        let offering = &mut self.past.offering;
        if let Some(known) = offering.templates.get(&language.name) {
            return known.clone();
        }
        let mut templates: Vec<Arc<Template>> = Vec::new();
        let own = offering.own.get(&language.name).map(Vec::as_slice).unwrap_or_default();
        let shipped = shipped(&language.name);
        for template in own.iter().rev().chain(shipped.iter()) {
            if !templates.iter().any(|other| other.name == template.name) {
                templates.push(Arc::new(template.clone()));
            }
        }
        let templates: Arc<[Arc<Template>]> = templates.into();
        offering.templates.insert(language.name.clone(), templates.clone());
        templates
    }
}

fn read(folder: &Path) -> (HashMap<String, Vec<Template>>, Vec<Told>) {
    let (mut own, mut told) = (HashMap::new(), Vec::new());
    let entries = std::fs::read_dir(folder).into_iter().flatten().filter_map(Result::ok).take(MOST);
    let mut files: Vec<PathBuf> = entries.map(|entry| entry.path()).collect();
    files.retain(|file| file.extension().is_some_and(|ending| ending == ENDING));
    files.sort();
    for file in files {
        let Some(name) = file.file_stem().and_then(|name| name.to_str()).map(str::to_owned) else { continue };
        let wrong = |line, what| Told { file: file.clone(), line, what };
        let bytes = match reading::read(&file, LONGEST) {
            Ok(bytes) => bytes,
            Err(error) => {
                told.push(wrong(None, format!("cannot be read: {error}")));
                continue;
            }
        };
        if snarvel_core::languages::by_name(&name).is_none() {
            told.push(wrong(None, format!("no language is called {name:?}: snarvel languages lists them")));
            continue;
        }
        let text = String::from_utf8_lossy(&bytes);
        let (templates, mistakes) = file::read(&text);
        let line = |at: usize| text.get(..at).unwrap_or_default().matches('\n').count() + 1;
        told.extend(mistakes.into_iter().map(|mistake| wrong(Some(line(mistake.at)), mistake.what)));
        own.insert(name, templates);
    }
    (own, told)
}
