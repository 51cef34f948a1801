//! What `snarvel play` tells as JSON: the state, and how long the keys took.

use super::Play;
use serde_json::{Value, json};
use snarvel_core::echo::Change;
use snarvel_core::offers::Candidate;
use snarvel_core::text::raw;
use snarvel_core::units::{Byte, Span};
use snarvel_files::load::Encoding;
use snarvel_ui::keys::layer::Layer;
use snarvel_ui::screen::status_line::out_of_view;
use snarvel_workspace::buffer::Buffer;
use snarvel_workspace::ids::BufferId;
use snarvel_workspace::meaning::faults::{FaultRow, Reach};
use snarvel_workspace::state::meaning::ServerTold;
use snarvel_workspace::view::View;
use std::path::PathBuf;
use std::time::Duration;

impl Play {
    pub(super) fn state(&self) -> Value {
        let (buffer, view) = (self.buffer(), self.app.context.workspace.view());
        let selections = selections(buffer, view);
        let pins: Vec<Value> = view.pins(buffer).iter().map(|pin| span(buffer, pin.start, pin.end)).collect();
        let (text, is_lossy) = text_told(buffer);
        let (buffer_shown, view_shown) = self.app.context.workspace.shown_here();
        let rows = self.app.frame().focused(&self.app.context).seen_rows;
        let [above, below] = out_of_view((buffer_shown, view_shown), usize::from(rows));
        let mut state = json!({
            "text": text,
            "selections": selections,
            "primary": view.cursors().primary_index(),
            "cursors_above": above,
            "cursors_below": below,
            "pins": pins,
            "layer": if self.app.context.keyboard.layer == Layer::Write { "write" } else { "shape" },
            "modified": buffer.is_modified(),
            "message": self.app.message().unwrap_or_default(),
            "undo_depth": buffer.history().depth(),
            "recording": self.recording(),
            "stops": view.stops().left(view.id, buffer),
        });
        state["diagnostics"] = self.diagnostics();
        state["servers"] = self.servers();
        let (offers, offered) = self.offers();
        state["offers"] = offers;
        state["offered"] = offered;
        state["echo"] = self.echo();
        let rehearsed = self.app.context.workspace.rehearsed();
        state["coach"] = json!(self.app.context.learning.speaking.hint());
        state["rehearsal"] = rehearsed.map_or(Value::Null, |text| json!(text.to_string()));
        if is_lossy {
            state["lossy"] = json!(true);
        }
        if self.files.len() > 1 {
            state["files"] = self.files.iter().filter_map(|file| self.file(file)).collect();
        }
        state
    }

    /// What is wrong in the files, as far as it is known.
    fn diagnostics(&self) -> Value {
        let workspace = &self.app.context.workspace;
        let told = |row: FaultRow| {
            let given = self.files.iter().find(|(_, id)| Some(*id) == row.buffer).map(|(name, _)| name.clone());
            let column = row
                .buffer
                .and_then(|id| workspace.buffer(id))
                .map_or(0, |buffer| place(buffer, row.span.start)["col"].as_u64().unwrap_or(0));
            json!({
                "file": given.unwrap_or(row.path).to_string_lossy(),
                "line": row.line + 1,
                "col": column,
                "kind": row.fault.kind.name(),
                "message": row.fault.message,
                "source": row.fault.source,
            })
        };
        workspace.all_faults(Reach::Project).into_iter().map(told).collect()
    }

    /// The language servers that were started.
    fn servers(&self) -> Value {
        let told = |server: ServerTold| json!({"name": server.name, "state": server.state.name(), "language": server.language});
        self.app.context.workspace.servers().into_iter().map(told).collect()
    }

    /// What is told of a file that was given: its name as it was given, its text, its selections.
    fn file(&self, (name, id): &(PathBuf, BufferId)) -> Option<Value> {
        let workspace = &self.app.context.workspace;
        let buffer = workspace.buffer(*id)?;
        let view = workspace.views.iter().find(|view| view.buffer == *id)?;
        Some(json!({
            "name": name.to_string_lossy(),
            "text": text_told(buffer).0,
            "modified": buffer.is_modified(),
            "selections": selections(buffer, view),
        }))
    }

    /// What is offered, in the order in which it is shown, and which row is chosen.
    fn offers(&self) -> (Value, Value) {
        let Some(shown) = self.app.context.workspace.offers() else { return (Value::Null, Value::Null) };
        let offer = |each: &Candidate| json!({ "text": each.text, "source": each.source.name(), "kind": each.kind });
        let list: Vec<Value> = shown.list.iter().take(MOST_OFFERS).map(offer).collect();
        (json!(list), json!(shown.chosen))
    }

    /// Where the same would be done as by hand.
    fn echo(&self) -> Value {
        let workspace = &self.app.context.workspace;
        let Some(offer) = workspace.echo_offered() else { return Value::Null };
        let buffer = workspace.active();
        let given = self.files.iter().find(|(_, id)| *id == buffer.id).map(|(name, _)| name.display().to_string());
        let name = given.unwrap_or_else(|| buffer.name());
        let told = |change: &Change| {
            let col = place(buffer, change.span.start)["col"].clone();
            json!({"file": name, "line": change.line.0 + 1, "col": col, "before": change.before, "after": change.after})
        };
        json!({"places": offer.chosen().map(told).collect::<Vec<_>>()})
    }

    /// The steps of the recording so far, as lines of a recipe.
    fn recording(&self) -> Value {
        let recording = self.app.context.workspace.recipes().recording.as_ref();
        recording.map_or(Value::Null, |recording| json!(recording.recipe().lines().collect::<Vec<_>>()))
    }

    pub(super) fn timing(&self) -> Value {
        let total: Vec<Duration> = self.updates.iter().zip(&self.draws).map(|(update, draw)| *update + *draw).collect();
        json!({
            "keys": self.updates.len(),
            "update": spread(&self.updates),
            "draw": spread(&self.draws),
            "total": spread(&total),
            "open_ms": millis(self.opened),
            "first_frame_ms": millis(self.first_frame),
            "peak_rss_bytes": peak_rss_bytes(),
        })
    }
}

/// So many offers are told.
const MOST_OFFERS: usize = 50;

/// The text of `buffer` as JSON can hold it, and whether bytes of it are told by a stand-in.
fn text_told(buffer: &Buffer) -> (String, bool) {
    let text = buffer.text().to_string();
    let encoding = buffer.saved.encoding;
    let is_lossy = encoding != Encoding::Utf16Little && encoding != Encoding::Utf16Big && raw::has_stand_in(&text);
    let mark = if encoding == Encoding::Utf8Marked { "\u{FEFF}" } else { "" };
    let shown: String = match is_lossy {
        true => text.chars().map(|c| if raw::byte_of(c).is_some() { '\u{FFFD}' } else { c }).collect(),
        false => text,
    };
    (format!("{mark}{shown}"), is_lossy)
}

fn selections(buffer: &Buffer, view: &View) -> Vec<Value> {
    view.cursors().iter().map(|each| span(buffer, each.anchor, each.head)).collect()
}

fn span(buffer: &Buffer, anchor: Byte, head: Byte) -> Value {
    json!({ "anchor": place(buffer, anchor), "head": place(buffer, head) })
}

fn place(buffer: &Buffer, at: Byte) -> Value {
    let text = buffer.text();
    let line = text.line_of(at);
    let mut place = text.line_start(line);
    let mut col = 1;
    let is_ascii = text.slice(Span::new(place, at)).is_ascii();
    if is_ascii {
        col += at - place;
        place = at;
    }
    while place < at {
        place = text.next_boundary(place);
        col += 1;
    }
    json!({ "line": line.0 + 1, "col": col, "byte": at.0 })
}

fn millis(time: Duration) -> f64 {
    micros(time) / 1000.0
}

fn micros(time: Duration) -> f64 {
    (time.as_nanos() as f64 / 10.0).round() / 100.0
}

fn spread(times: &[Duration]) -> Value {
    let mut sorted = times.to_vec();
    sorted.sort_unstable();
    let at = |share: f64| {
        let index = (sorted.len() as f64 * share).ceil() as usize;
        sorted.get(index.saturating_sub(1).min(sorted.len().saturating_sub(1))).map_or(0.0, |time| micros(*time))
    };
    json!({ "p50": at(0.5), "p90": at(0.9), "p99": at(0.99), "max": at(1.0) })
}

/// The most memory that the process has held, by what the kernel says; 0 where it does not say.
fn peak_rss_bytes() -> u64 {
    let status = std::fs::read_to_string("/proc/self/status").unwrap_or_default();
    let line = status.lines().find_map(|line| line.strip_prefix("VmHWM:"));
    let kilobytes = line.and_then(|line| line.trim().trim_end_matches(" kB").parse::<u64>().ok());
    kilobytes.unwrap_or(0) * 1024
}
