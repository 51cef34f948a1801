//! A text that is edited for a very long time: what it holds stays bounded, and what can still be undone is right.

use crate::support::editor::{Call, Editor};
use snarvel_core::languages::plain;
use snarvel_core::text::Text;
use snarvel_core::verbs::clipboard::clip::Clip;
use snarvel_workspace::buffer::defaults::EditorDefaults;
use snarvel_workspace::registry::by_name;

fn press(editor: &mut Editor, verb: &str, argument: &str, now_ms: u64) {
    let clip = Clip::default();
    editor.run(Call { verb: by_name(verb).unwrap(), argument, times: 1, clip: &clip, now_ms });
}

#[test]
fn the_oldest_steps_make_room_and_the_others_lead_back_and_on() {
    let manner = EditorDefaults { history_bytes: 256 << 10, ..EditorDefaults::default() };
    let mut editor = Editor::with_defaults(Text::from("start\n"), plain(), manner);
    let mut texts = vec![editor.text().to_string()];
    for step in 0..2_000_u64 {
        press(&mut editor, "type-text", &format!("word{step} "), step * 10_000);
        if step % 7 == 3 {
            // A branch that is no longer followed.
            press(&mut editor, "undo", "", step * 10_000);
            texts.push(editor.text().to_string());
            press(&mut editor, "duplicate-down", "", step * 10_000 + 1);
            if editor.text().line_count() > 6 {
                press(&mut editor, "delete-lines", "", step * 10_000 + 2);
            }
        }
        texts.push(editor.text().to_string());
        editor.assert_invariants();
    }
    let history = editor.history();
    assert!(history.forgotten() > 500, "{}", history.forgotten());
    assert!(history.steps().len() < 1_000, "{}", history.steps().len());
    let newest = editor.text().to_string();
    let depth = editor.history().depth();
    assert!(depth > 20);
    for _ in 0..depth {
        press(&mut editor, "undo", "", 0);
        assert!(texts.contains(&editor.text().to_string()) || editor.text().line_count() > 6);
    }
    assert!(!editor.history().can_undo() && editor.is_modified());
    for _ in 0..depth {
        press(&mut editor, "redo", "", 0);
    }
    assert_eq!(editor.text().to_string(), newest);
}

#[test]
fn a_step_that_is_larger_than_the_limit_can_still_be_undone() {
    let manner = EditorDefaults { history_bytes: 1 << 10, ..EditorDefaults::default() };
    let mut editor = Editor::with_defaults(Text::from("a\n"), plain(), manner);
    for step in 0..4 {
        press(&mut editor, "type-text", &"fog".repeat(10_000), step * 10_000);
    }
    press(&mut editor, "undo", "", 0);
    assert_eq!(editor.text().len(), 3 * 30_000 + 2);
}
