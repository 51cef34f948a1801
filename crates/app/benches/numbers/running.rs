//! Running and views: a shell that prints much, wrapped lines, files with a past.

use super::{Row, app_with, best, folder, frame, key, keys_to_frames, millis, source};
use snarvel_core::history::History;
use snarvel_core::text::Text;
use snarvel_core::units::Byte;
use snarvel_files::past::{Past, Pasts, hash_of};
use snarvel_shell::emulator::Emulator;
use snarvel_shell::picture::Picture;
use snarvel_shell::session::{News, Session, Start};
use std::path::PathBuf;
use std::sync::mpsc::channel;
use std::time::{Duration, Instant};

/// Bytes that the shell prints.
const PRINTED: usize = 100 << 20;

/// A shell that prints 100 MB beside the terminal crate alone, and keys meanwhile.
pub fn shell(rows: &mut Vec<Row>) {
    let file = folder().join("printed.txt");
    let content = source(PRINTED);
    std::fs::write(&file, &content).expect("what is printed");
    let bytes: Vec<u8> = content.replace('\n', "\r\n").into_bytes();
    let alone = |(): &mut ()| {
        let mut parser = vt100::Parser::new(
            std::num::NonZeroU16::new(20).expect("rows"),
            std::num::NonZeroU16::new(142).expect("columns"),
            snarvel_shell::emulator::KEPT_ROWS,
        );
        bytes.chunks(32 << 10).for_each(|piece| parser.process(piece));
        parser.screen().contents().len()
    };
    let printed = |(): &mut ()| {
        let (send, news) = channel();
        let arguments = vec!["-c".to_owned(), format!("cat {}", file.display())];
        let start = Start { program: "/bin/sh".to_owned(), arguments, folder: folder(), size: [20, 142] };
        let session = Session::start(&start, move |news| drop(send.send(news))).expect("a shell");
        loop {
            match news.recv().expect("it ends") {
                News::Ended(_) => return session.picture().rows.len(),
                News::Drawn => drop(session.picture()),
                News::Places(_) | News::Text(_) => {}
            }
        }
    };
    let [floor, ours] = best(2, || (), alone, printed);
    rows.push(Row::times(
        "a shell prints 100 MB, until its last row is drawn",
        "the terminal crate alone",
        floor,
        ours,
        1.5,
    ));
    let text = Text::from(source(5_000 * 60).as_str());
    let mut app = app_with(text, "gauges.rs");
    app.context.workspace.project.trust = snarvel_workspace::project::Trust::Everything;
    app.context.workspace.start_shell().expect("a shell");
    app.context.workspace.give_shell(format!("cat {0} {0} {0} {0}\r", file.display()).into_bytes());
    let mut times = keys_to_frames(&mut app, 400);
    times.sort_unstable();
    let is_at_work = app.context.workspace.shells()[0].session.picture().kept > 0;
    assert!(is_at_work, "it prints meanwhile");
    app.context.workspace.end_shells();
    rows.push(Row {
        what: "key to frame while a shell prints, 99th percentile".into(),
        floor: ("–".into(), 0.0),
        ours: millis(times[times.len() * 99 / 100]),
        bar: "16 ms".into(),
        unit: "ms",
    });
    let mut emulator = Emulator::new([50, 200]);
    emulator.take(&bytes[..1 << 20]);
    let start = Instant::now();
    let picture: Picture = emulator.picture();
    assert!(!picture.rows.is_empty() && start.elapsed() < Duration::from_millis(100));
}

/// Keys and frames in wrapped lines: beside unwrapped ones, and in a line of 100 MB.
pub fn wrapped(rows: &mut Vec<Row>) {
    let text = Text::from(source(5_000 * 60).repeat(2).replace('\n', " ").replace("; ", ";\n").as_str());
    let keys = |wraps: bool| {
        let mut app = app_with(text.clone(), "gauges.rs");
        let (_, view) = app.context.workspace.active_pair_mut();
        view.layout.wraps = Some(wraps);
        let mut times = keys_to_frames(&mut app, 400);
        times.sort_unstable();
        times[times.len() / 2]
    };
    let (floor, ours) = (keys(false), keys(true));
    rows.push(Row::times("key to frame with wrapped lines", "unwrapped", floor, ours, 1.5));
    let long = "level_mm = gauge + 1; ".repeat((100 << 20) / 22);
    let mut app = app_with(Text::from(long.as_str()), "long.txt");
    let (buffer, view) = app.context.workspace.active_pair_mut();
    view.layout.wraps = Some(true);
    view.set_cursors(buffer, snarvel_core::cursors::CursorSet::caret(Byte(50 << 20)));
    key(&mut app, "right");
    frame(&app);
    let mut times: Vec<Duration> = ["down", "up", "x", "left", "backspace", "pgdn", "pgup"]
        .iter()
        .cycle()
        .take(420)
        .map(|name| {
            let start = Instant::now();
            key(&mut app, name);
            app.pump();
            frame(&app);
            start.elapsed()
        })
        .collect();
    times.sort_unstable();
    rows.push(Row {
        what: "key to frame in a wrapped line of 100 MB, 99th percentile".into(),
        floor: ("–".into(), 0.0),
        ours: millis(times[times.len() * 99 / 100]),
        bar: "8 ms".into(),
        unit: "ms",
    });
}

/// Opening a file among a thousand remembered pasts, its own of a thousand steps: until it can be edited.
pub fn pasts(rows: &mut Vec<Row>) {
    let place = folder().join("pasts");
    let _ = std::fs::remove_dir_all(&place);
    let pasts = Pasts::in_folder(place.clone());
    let text = source(5_000 * 60);
    let mut history = History::default();
    history.note_save(hash_of(&Text::from(text.as_str())), 0);
    let kept = history.kept((0, 0)).expect("it was saved");
    for index in 0..1_000 {
        let path = PathBuf::from(format!("/sound/gauge{index}.rs"));
        let past = Past { path, text: text.chars().take(2_000).collect(), kept: kept.clone(), is_wanted: true };
        pasts.write(&past, 1 << 30).expect("a past");
    }
    let open = |is_kept: bool| {
        let mut times: Vec<Duration> = (0..20)
            .map(|_| {
                let mut app = app_with(Text::from(text.as_str()), "gauge7.rs");
                let start = Instant::now();
                if is_kept {
                    app.context.workspace.keep_pasts(&place);
                }
                frame(&app);
                start.elapsed()
            })
            .collect();
        times.sort_unstable();
        times[10]
    };
    let (floor, ours) = (open(false), open(true));
    rows.push(Row {
        what: "start with 1,000 remembered pasts, until the first frame".into(),
        floor: ("without".into(), millis(floor)),
        ours: millis(ours),
        bar: "5 ms more".into(),
        unit: "ms",
    });
}
