//! The keyboard as it is: what keys do, the layer, the count; and binding keys, here and in the keys file.

use super::bindings::{self, Binding, KeyAction};
use super::keymap::Keymap;
use super::layer::Layer;
use crate::own_file::changed;
use snarvel_workspace::command::Command;
use snarvel_workspace::project::Writing;
use snarvel_workspace::workspace::Workspace;
use std::path::PathBuf;

/// The keyboard: what keys do, and what was pressed of a command so far.
#[derive(Debug)]
pub struct Keyboarding {
    /// Which keys run which verbs.
    pub keymap: Keymap,
    /// The layer.
    pub layer: Layer,
    /// The repeat count typed so far.
    pub count: Option<u32>,
    /// What was run last from lookup.
    pub looked_up: Option<Command>,
    /// Where keys that are bound are kept; none where nothing is.
    pub file: Option<PathBuf>,
}

impl Keyboarding {
    /// Binds keys, here and in the keys file, which is written in the background; says so.
    pub fn bind(&mut self, bound: Vec<Binding>, workspace: &mut Workspace) {
        let mut own = self.keymap.own().to_vec();
        let told: Vec<String> = bound.iter().map(told).collect();
        let told = told.join(", ");
        for binding in bound {
            own.retain(|each| each.key != binding.key);
            own.push(binding);
        }
        self.keymap = self.keymap.with_own(&own);
        let said = [format!("{told} now"), format!("{told} until the end")];
        self.write(workspace, said, move |text| {
            own.iter().try_fold(text.to_owned(), |text, each| bindings::with(&text, each.key, Some(&each.action)))
        });
    }

    /// All keys as shipped, here and in the keys file; says so.
    pub fn reset(&mut self, workspace: &mut Workspace) {
        let own = self.keymap.own().to_vec();
        self.keymap = self.keymap.with_own(&[]);
        let said = ["all keys are as shipped", "all keys are as shipped until the end"].map(str::to_owned);
        self.write(workspace, said, move |text| {
            own.iter().try_fold(text.to_owned(), |text, each| bindings::with(&text, each.key, None))
        });
    }

    /// Changes the keys file in the background, where there is one to change; says the first where that is done, else the second.
    fn write(
        &self,
        workspace: &mut Workspace,
        [done, until_the_end]: [String; 2],
        change: impl FnOnce(&str) -> Result<String, String> + Send + 'static,
    ) {
        let writes = workspace.project.writing == Writing::Files;
        match self.file.clone().filter(|_| writes) {
            None => workspace.say(until_the_end),
            Some(file) => workspace.begin_operation(None, move || {
                changed(&file, change).map(|()| done).map_err(|why| format!("{until_the_end}: {why}"))
            }),
        }
    }
}

fn told(binding: &Binding) -> String {
    match &binding.action {
        KeyAction::Verb(verb, argument) if argument.is_empty() => format!("{} runs {}", binding.key, verb.name),
        KeyAction::Verb(verb, argument) => format!("{} runs {}({argument})", binding.key, verb.name),
        KeyAction::Text(text) => format!("{} types {text:?}", binding.key),
        KeyAction::Nothing => format!("{} runs nothing", binding.key),
    }
}
