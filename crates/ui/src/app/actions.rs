//! What commands ask of the application: panels, views, the look of the screen.

use super::App;
use crate::keys::layer::Layer;
use crate::panels::argument::{ArgumentPanel, AskedBy};
use crate::panels::bookmarks::BookmarksPanel;
use crate::panels::drills::DrillsPanel;
use crate::panels::echo::EchoPanel;
use crate::panels::faults::FaultsPanel;
use crate::panels::files::FilesPanel;
use crate::panels::ledger::LedgerPanel;
use crate::panels::line::InputLine;
use crate::panels::lookup::LookupPanel;
use crate::panels::meaning::MeaningPanel;
use crate::panels::news::News;
use crate::panels::open::OpenPanel;
use crate::panels::outline::{Offer, OutlinePanel};
use crate::panels::recipes::RecipesPanel;
use crate::panels::rehearsal::RehearsalPanel;
use crate::panels::rename::RenamePanel;
use crate::panels::roster::RosterPanel;
use crate::panels::settings::SettingsPanel;
use crate::panels::sheet::SheetPanel;
use crate::panels::shelf::ShelfPanel;
use crate::panels::shell::{ShellPanel, turn};
use crate::panels::sift::SiftPanel;
use crate::panels::signs::SignsPanel;
use crate::panels::tasks::TasksPanel;
use crate::panels::themes::ThemesPanel;
use crate::panels::trail::TrailPanel;
use crate::renaming::RenameKeys;
use crate::screen::faces::faces;
use crate::size::DeckSize;
use snarvel_core::units::Direction;
use snarvel_workspace::ask::{Ask, PendingExit};
use snarvel_workspace::command::Command;
use snarvel_workspace::meaning::asking::NO_NAME;
use snarvel_workspace::registry::action::Action;
use snarvel_workspace::shells::running::NO_TASKS;
use snarvel_workspace::views::split::Side;

/// The verb that goes on to the whole project once it has taken all of the file.
const RENAMES_HERE: &str = "rename-here";

impl App {
    /// The one door: runs a command, whoever gave it.
    pub(super) fn perform(&mut self, command: &Command) {
        self.mouse.forget();
        if command.verb.asks && command.values.is_empty() {
            self.open(ArgumentPanel {
                verb: command.verb,
                count: command.count,
                line: InputLine::default(),
                asked_by: AskedBy::Key,
            });
            return;
        }
        let learning = &mut self.context.learning;
        learning.performed.get_or_insert_with(|| command.clone());
        if command.verb.reads_clipboard() {
            self.context.look_at_clipboard();
        }
        if command.verb.name == RENAMES_HERE && self.context.workspace.is_renamed_everywhere_here() {
            self.act_on(Action::Rename, 1);
            return;
        }
        if let Some((action, times)) = self.context.run(command) {
            self.act_on(action, times);
        }
        let has_uses = || !self.context.workspace.view().cursors().primary().is_caret();
        if command.verb.name == RENAMES_HERE && has_uses() && self.context.workspace.convoy().is_none() {
            self.next_keys = Some(Box::new(RenameKeys::begin(&self.context)));
        }
    }

    pub(super) fn act_on(&mut self, action: Action, times: u32) {
        if self.refuses_in_drill(action) {
            return;
        }
        let workspace = &mut self.context.workspace;
        let active = workspace.active().id;
        match action {
            Action::Save => workspace.save(active, None),
            Action::RepeatLookup => match self.context.keyboard.looked_up.clone() {
                Some(command) => self.perform(&Command { count: Some(times).filter(|times| *times > 1), ..command }),
                None => self.context.say("nothing was run from lookup yet: Ctrl+L finds a verb"),
            },
            Action::SaveAll => workspace.save_all(),
            Action::SaveAs => self.ask(Ask::Name(active, None)),
            Action::New => drop(workspace.new_text()),
            Action::Close => workspace.go_on(PendingExit::Close(active)),
            Action::Quit => workspace.go_on(PendingExit::Quit),
            Action::ToUtf8 => workspace.make_utf8(),
            Action::Turn(by) => workspace.turn(by),
            Action::NextBookmark(direction) => {
                let effects = workspace.go_bookmarks(direction, times);
                self.context.follow(effects);
            }
            Action::Place(direction) => workspace.go_places(direction, times),
            Action::ViewBeside | Action::ViewBelow | Action::NextView | Action::SwapViews | Action::CloseView => {
                self.act_on_views(action);
            }
            Action::StepBack => self.step_back(),
            Action::Scroll(lines) => self.scroll(i64::from(lines) * i64::from(times)),
            Action::Offers => self.call_offers(),
            Action::Meaning(face) => match MeaningPanel::of(&self.context, face) {
                Some(panel) => self.open(panel),
                None => self.context.say(NO_NAME),
            },
            Action::Rename => match RenamePanel::of(&self.context) {
                Some(panel) => self.open(panel),
                None => self.context.say(NO_NAME),
            },
            Action::Echo => match EchoPanel::of(&self.context.workspace) {
                Some(panel) => self.open(panel),
                None => self.context.say(snarvel_workspace::echoing::doing::NOTHING),
            },
            Action::Rehearse => self.open(RehearsalPanel::of(Some(times).filter(|times| *times > 1))),
            Action::ServerLog => self.show_server_log(),
            Action::Shell | Action::ShellNew | Action::ShellNext | Action::ShellClose => self.act_on_shell(action),
            Action::Deck | Action::TogglePalette | Action::ToggleNumbers | Action::ChangeLayer | Action::FullView => {
                self.change_look(action);
            }
            _ => self.open_for(action, times),
        }
    }

    fn act_on_learning(&mut self, action: Action, times: u32) {
        let workspace = &self.context.workspace;
        match action {
            Action::DrillLeave => self.context.say("no drill is being done"),
            Action::CoachQuiet => self.quiet_coach(),
            Action::ShowKeys => self.toggle_keys(),
            Action::Spotlight => self.toggle_spotlight(),
            Action::EditSheet if workspace.active().history().steps().len() == 0 => {
                self.context.say("nothing was changed yet");
            }
            Action::EditSheet => self.open(SheetPanel::of_steps(&self.context, times)),
            Action::Ledger if !workspace.keeps_ledger() => {
                self.context.say("no ledger is kept: the setting ledger turns it on");
            }
            Action::Ledger => self.open(LedgerPanel::default()),
            Action::Drill => self.open(DrillsPanel::default()),
            Action::Listing => self.open(SheetPanel::of_text(&self.context)),
            _ => {}
        }
    }

    fn act_on_views(&mut self, action: Action) {
        let workspace = &mut self.context.workspace;
        match action {
            Action::ViewBeside => workspace.split_view(Side::Beside),
            Action::ViewBelow => workspace.split_view(Side::Below),
            Action::NextView => workspace.next_view(),
            Action::SwapViews => workspace.swap_views(),
            _ => workspace.close_view(),
        }
    }

    fn act_on_shell(&mut self, action: Action) {
        let workspace = &mut self.context.workspace;
        let is_there = match action {
            Action::ShellNew => workspace.start_shell(),
            Action::ShellNext => return turn(&mut self.context),
            Action::ShellClose => return workspace.close_shell(),
            _ => workspace.show_shell(),
        };
        match is_there {
            Ok(()) => self.open(ShellPanel),
            Err(why) => self.context.say(why),
        }
    }

    fn change_look(&mut self, action: Action) {
        match action {
            Action::Deck => self.turn_deck(),
            Action::TogglePalette => self.context.toggle_palette(),
            Action::ToggleNumbers => self.context.toggle_numbers(),
            Action::ChangeLayer => self.context.change_layer(),
            Action::FullView => self.context.look.is_full_view = !self.context.look.is_full_view,
            _ => {}
        }
    }

    /// The next face of the full deck; after the last one the next size.
    fn turn_deck(&mut self) {
        let layer = self.context.keyboard.layer.index();
        let count = faces(&self.context, self.context.look.size.cols).len();
        let look = &mut self.context.look;
        if look.decks[layer] == DeckSize::Full && look.faces[layer] + 1 < count {
            look.faces[layer] += 1;
        } else {
            (look.decks[layer], look.faces[layer]) = (look.decks[layer].next(), 0);
        }
    }

    /// Opens the panel that `action` asks for. A new panel is one line here.
    fn open_for(&mut self, action: Action, times: u32) {
        let workspace = &self.context.workspace;
        match action {
            Action::Open => self.open(OpenPanel::of(workspace)),
            Action::Folder => self.open(FilesPanel::of(workspace)),
            Action::Roster => self.open(RosterPanel::of(workspace)),
            Action::Go => self.open(OutlinePanel::of(workspace, Offer::Everything)),
            Action::Sift => self.open(SiftPanel::of(workspace)),
            Action::Lookup => {
                // A count that was typed before lookup is for what is run from it.
                self.context.keyboard.count = Some(times).filter(|times| *times > 1);
                self.open(LookupPanel::of(&self.context));
            }
            Action::KeySheet => self.open(SheetPanel::of_keys()),
            Action::Settings => self.open(SettingsPanel::of(&self.context)),
            Action::Themes => self.open(ThemesPanel::of(&self.context)),
            Action::Check => match TasksPanel::of(workspace) {
                Some(panel) => self.open(panel),
                None => self.context.say(NO_TASKS),
            },
            Action::ShellPlaces if workspace.printed().is_empty() => self.context.say("no place was printed"),
            Action::ShellPlaces => self.open(FaultsPanel::printed(workspace)),
            Action::Recipes => self.open(RecipesPanel::of(&self.context)),
            Action::Signs => self.open(SignsPanel::default()),
            Action::Bookmarks if workspace.all_bookmarks().is_empty() => self.context.say("no line has a bookmark yet"),
            Action::Bookmarks => self.open(BookmarksPanel::of(workspace)),
            Action::Faults => self.open(FaultsPanel::of(workspace)),
            Action::Outline => {
                let panel = OutlinePanel::of(workspace, Offer::Outline);
                match panel.rows.is_empty() {
                    true => self.context.say("nothing here has a name: no function, no type, no section"),
                    false => self.open(panel),
                }
            }
            Action::Trail if workspace.active().history().steps().len() == 0 => {
                self.context.say("nothing was changed yet");
            }
            Action::Trail => self.open(TrailPanel::of(workspace)),
            Action::Shelf => {
                self.context.look_at_clipboard();
                let workspace = &self.context.workspace;
                match workspace.shelf.newest().is_empty() {
                    true => self.context.say("nothing was copied yet"),
                    false => self.open(ShelfPanel::of(&workspace.shelf, workspace.active().language().clone())),
                }
            }
            _ => self.act_on_learning(action, times),
        }
    }

    /// How the language servers are, and the ends of their logs.
    fn show_server_log(&mut self) {
        /// So many lines of each log are shown.
        const LINES: usize = 12;
        let workspace = &self.context.workspace;
        let logs = workspace.server_logs();
        let mut lines = Vec::new();
        for (server, (_, log)) in workspace.servers().iter().zip(&logs) {
            lines.push(format!("{} for {}: {}", server.name, server.language, server.state.told()));
            let all: Vec<&str> = log.lines().collect();
            lines.extend(all[all.len().saturating_sub(LINES)..].iter().map(|line| format!("  {line}")));
        }
        match lines.is_empty() {
            true => self.context.say("no language server runs: snarvel doctor lists those that are found"),
            false => self.open(News { title: "language servers".to_owned(), lines }),
        }
    }

    /// One thing back: the pending count, many cursors, the selection, the pins, Shape.
    fn step_back(&mut self) {
        if self.context.workspace.echo_offered().is_some() {
            self.context.workspace.drop_echo();
            self.context.say("echo: the offer is let go");
            return;
        }
        if self.context.keyboard.count.take().is_some() || self.context.workspace.end_filter() {
            return;
        }
        if self.context.workspace.end_convoy() {
            return;
        }
        let (buffer, view) = self.context.workspace.active_pair_mut();
        let (all, primary) = (view.cursors().len(), view.cursors().primary());
        if all > 1 {
            self.context.run(&Command::named("keep-first"));
        } else if !primary.is_caret() {
            self.context.run(&Command::named("unselect"));
        } else if !view.pins(buffer).is_empty() {
            self.context.run(&Command::named("pins-clear"));
        } else if self.context.workspace.is_shell_seen() {
            self.context.workspace.put_shell_away();
        } else {
            self.context.keyboard.layer = Layer::Write;
        }
    }

    /// Scrolls by so many lines, up where negative.
    pub(super) fn scroll(&mut self, lines: i64) {
        let (buffer, view) = self.context.workspace.active_pair_mut();
        let direction = if lines < 0 { Direction::Back } else { Direction::Forward };
        view.scroll_by(buffer, direction, lines.unsigned_abs() as usize);
    }
}
