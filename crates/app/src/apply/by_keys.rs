//! A key script over one file, as `snarvel play` runs it.

use snarvel_core::languages::Language;
use snarvel_files::loading::Opened;
use snarvel_ui::app::App;
use snarvel_ui::keys::script::ScriptStep;
use snarvel_ui::palette::theme::Theme;
use snarvel_ui::palette::{Depth, Palette};
use snarvel_ui::size::Size;
use snarvel_workspace::project::{Project, Writing};
use snarvel_workspace::recipes::applying::Applied;
use snarvel_workspace::workspace::Workspace;
use std::path::Path;
use std::sync::Arc;

/// The size of a played screen, in cells.
const SIZE: Size = Size { cols: 142, rows: 42 };

/// Plays `steps` on the file that was read from `path`.
pub fn apply(steps: &[ScriptStep], path: &Path, opened: Opened, language: Option<&Arc<Language>>) -> Applied {
    let folder = path.parent().unwrap_or(Path::new(""));
    let project = Project { writing: Writing::Nothing, ..Project::in_folder(folder) };
    let mut workspace = Workspace::new(project);
    let whole = std::path::absolute(path).unwrap_or_else(|_| path.to_owned());
    workspace.take_buffer(&whole, opened);
    let id = workspace.active().id;
    if let Some(language) = language {
        let sink = workspace.parse_sink(id);
        workspace.active_mut().set_language(language, Some(sink));
    }
    let mut app = App::new(workspace, Palette::new(&Theme::night(), Depth::True), SIZE);
    app.pump();
    app.context.look.is_drawn = false;
    for step in steps {
        app.prepare(step);
        app.act(step);
        app.take_orders();
        if app.is_done() {
            break;
        }
    }
    app.settle_background();
    Applied::of_buffer(app.context.workspace.buffer(id).unwrap_or(app.context.workspace.active()))
}
