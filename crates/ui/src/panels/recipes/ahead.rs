//! What the chosen recipe would do to the text above: shown there, and said in one line.

use crate::context::Context;
use snarvel_core::units::{Line, Span};
use snarvel_core::verbs::scene::counted;
use snarvel_workspace::ids::TaskId;
use snarvel_workspace::recipes::news::{Ended, WouldDo};
use snarvel_workspace::recipes::runs_commands;
use snarvel_workspace::tasks::TaskHandle;
use snarvel_workspace::view::{Preview, View};

/// What is said of it.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub enum Said {
    /// Nothing yet.
    #[default]
    Nothing,
    /// This.
    Plain(String),
    /// This is wrong in it.
    Wrong(String),
}

/// What a recipe would do.
#[derive(Debug, Default)]
pub struct Ahead {
    /// What is said of it.
    pub said: Said,
    looking: Option<TaskHandle>,
}

impl Ahead {
    /// Begins to look what the recipe that holds `source` would do. What is shown stays until that is known, so that nothing
    /// flickers while letters are typed.
    pub fn look(&mut self, source: Option<&str>, context: &mut Context) {
        self.looking = None;
        match source.map(|source| context.workspace.read_recipe(source)) {
            None => self.end(Said::Nothing, context),
            Some(Ok(_)) if context.workspace.active().is_partial() => {
                self.end(Said::Plain("the file is still being read".to_owned()), context);
            }
            Some(Ok(program)) if runs_commands(&program.body) => {
                self.end(Said::Plain("runs a command: not shown before".to_owned()), context);
            }
            Some(Ok(program)) => {
                // It is looked at from the text as it is, not from what the last recipe would make of it.
                let shown = context.workspace.active_pair_mut().1.preview.take();
                self.looking = Some(context.workspace.look_ahead(program));
                context.workspace.active_pair_mut().1.preview = shown;
            }
            Some(Err(mistakes)) => {
                let first = mistakes.first().map(ToString::to_string).unwrap_or_default();
                let more = match mistakes.len() {
                    0 | 1 => String::new(),
                    all => format!(" (and {} more)", all - 1),
                };
                self.end(Said::Wrong(format!("line {first}{more}")), context);
            }
        }
    }

    fn end(&mut self, said: Said, context: &mut Context) {
        self.said = said;
        context.workspace.active_pair_mut().1.preview = None;
    }

    /// Takes in what was found.
    pub fn take(&mut self, task: TaskId, found: Result<Box<WouldDo>, Ended>, context: &mut Context) {
        if self.looking.take_if(|looking| looking.id == task).is_none() {
            return;
        }
        match found {
            Ok(would) => {
                let WouldDo { mut preview, places, not_done } = *would;
                let view = context.workspace.active_pair_mut().1;
                bring_into_view(&mut preview, view);
                view.preview = (places > 0).then(|| Box::new(preview));
                self.said = Said::Plain(told(places, not_done));
            }
            Err(Ended::Stopped) => {
                self.end(Said::Plain("takes too long to be shown before".to_owned()), context);
            }
            Err(ended) => self.end(Said::Wrong(ended.to_string()), context),
        }
    }
}

/// Looks at `preview` where `view` does, or at the first change where none is in view there.
fn bring_into_view(preview: &mut Preview, view: &View) {
    let text = preview.buffer.text();
    preview.view.scroll = view.scroll;
    let top = view.scroll.top.min(text.last_line());
    let below = text.line_start(Line(top.0 + view.layout.rows).min(text.last_line()));
    let seen = Span::new(text.line_start(top), below);
    let come = &preview.overlay.come;
    if let Some(first) = come.first().filter(|_| !come.iter().any(|span| span.overlaps(seen))) {
        let line = text.line_of(first.start.min(text.end()));
        preview.view.scroll.top = Line(line.0.saturating_sub(view.layout.rows / 4));
    }
}

fn told(places: usize, not_done: usize) -> String {
    let what = match places {
        0 => "would change nothing here".to_owned(),
        _ => format!("would change {}", counted(places, "place")),
    };
    match not_done {
        0 => what,
        _ => format!("{what}; {} cannot be done", counted(not_done, "step")),
    }
}
