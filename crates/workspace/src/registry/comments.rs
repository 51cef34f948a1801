//! Comments.

use super::enabled;
use super::verb::{Count, Does, Group, Keys, Sample, StructureNeed, Verb};
use snarvel_core::verbs::comments::block::{self, BlockMarking};
use snarvel_core::verbs::comments::{self, LineMarking, reflow};

/// The verbs of the group.
pub const VERBS: &[Verb] = &[
    Verb {
        name: "comment-toggle",
        label: "comment",
        sentence: "Switches the touched lines off as comments, or on again.",
        words: &["comment out", "switch off code", "uncomment"],
        group: Group::Comments,
        count: Count::Lines,
        keys: Keys { deck: &["c"], both: &["ctrl+7", "ctrl+/"], ..Keys::NONE },
        example: Some(Sample { text: "    fl|ow();", argument: "" }),
        enabled: enabled::has_comment_marks,
        structure: StructureNeed::BetweenTags,
        does: Does::Edit(|scene, _| comments::lines(scene, LineMarking::Toggle)),
        ..Verb::PLAIN
    },
    Verb {
        name: "comment-on",
        label: "comment on",
        sentence: "Makes comments of the touched lines that are none.",
        words: &["comment lines", "switch off", "disable code"],
        group: Group::Comments,
        count: Count::Lines,
        example: Some(Sample { text: "    fl|ow();", argument: "" }),
        structure: StructureNeed::BetweenTags,
        does: Does::Edit(|scene, _| comments::lines(scene, LineMarking::On)),
        ..Verb::PLAIN
    },
    Verb {
        name: "comment-off",
        label: "comment off",
        sentence: "Takes the comment marks off the touched lines that have them.",
        words: &["uncomment lines", "switch on", "enable code"],
        group: Group::Comments,
        count: Count::Lines,
        example: Some(Sample { text: "    // fl|ow();", argument: "" }),
        structure: StructureNeed::BetweenTags,
        does: Does::Edit(|scene, _| comments::lines(scene, LineMarking::Off)),
        ..Verb::PLAIN
    },
    Verb {
        name: "comment-flip",
        label: "flip",
        sentence: "Turns each touched line over by itself: comments to code, code to comments.",
        words: &["swap variants", "invert comments", "other alternative"],
        group: Group::Comments,
        count: Count::Lines,
        keys: Keys { deck: &["#"], ..Keys::NONE },
        example: Some(Sample { text: "[ebb();⏎// flow();|]", argument: "" }),
        structure: StructureNeed::BetweenTags,
        does: Does::Edit(|scene, _| comments::lines(scene, LineMarking::Flip)),
        ..Verb::PLAIN
    },
    Verb {
        name: "block-comment-toggle",
        label: "comment /*",
        sentence: "Wraps the selection or the line in a block comment, or takes the comment around off.",
        words: &["comment part of a line", "switch off a part", "unwrap comment"],
        group: Group::Comments,
        count: Count::Lines,
        keys: Keys { deck: &["C"], ..Keys::NONE },
        example: Some(Sample { text: "read([ebb, |]flow)", argument: "" }),
        structure: StructureNeed::BetweenTags,
        does: Does::Edit(|scene, _| block::blocks(scene, BlockMarking::Toggle)),
        ..Verb::PLAIN
    },
    Verb {
        name: "block-comment-on",
        label: "block on",
        sentence: "Wraps the selection or the line in a block comment, one more if it is one.",
        words: &["nest comment", "wrap in comment", "comment deeper"],
        group: Group::Comments,
        count: Count::Lines,
        example: Some(Sample { text: "read([ebb, |]flow)", argument: "" }),
        structure: StructureNeed::BetweenTags,
        does: Does::Edit(|scene, _| block::blocks(scene, BlockMarking::On)),
        ..Verb::PLAIN
    },
    Verb {
        name: "block-comment-off",
        label: "block off",
        sentence: "Takes the block comment around off.",
        words: &["unwrap comment", "remove block comment", "uncomment block"],
        group: Group::Comments,
        count: Count::Lines,
        example: Some(Sample { text: "read(/* eb|b, */ flow)", argument: "" }),
        structure: StructureNeed::BetweenTags,
        does: Does::Edit(|scene, _| block::blocks(scene, BlockMarking::Off)),
        ..Verb::PLAIN
    },
    Verb {
        name: "reflow",
        label: "reflow",
        sentence: "Lays the words of a comment, or of prose, out anew in the text's width.",
        words: &["wrap comment", "fill paragraph", "line length"],
        group: Group::Comments,
        example: Some(Sample { text: "// the duty|⏎// pilot reads", argument: "" }),
        does: Does::Edit(|scene, _| reflow::reflow(scene)),
        ..Verb::PLAIN
    },
];
