//! Differences between two texts: as rows to look at, and as the change that makes one of the other.

use similar::{Algorithm, ChangeTag, DiffTag, TextDiff, capture_diff_slices_deadline};
use snarvel_core::changes::{Change, ChangeBuilder};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Span};
use snarvel_task::waits;
use std::hash::{BuildHasher, Hasher, RandomState};
use std::time::Instant;

/// A row of what differs.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Row {
    /// A line that is in both, around what differs.
    Same(String),
    /// A line of the first text only.
    Gone(String),
    /// A line of the second text only.
    Come(String),
    /// So many lines that are the same are left out.
    LeftOut(usize),
}

/// Lines shown around what differs.
const AROUND: usize = 2;

/// Larger texts are not compared line by line.
const LARGEST: usize = 8 << 20;

/// What differs from `first` to `second`, the same lines around it, and how many rows are of one of them only.
pub fn rows(first: &Text, second: &Text) -> Vec<Row> {
    let [one, other] = parts_to_compare(first, second);
    let diff = TextDiff::configure().timeout(waits::COMPARISON).diff_lines(one.as_str(), other.as_str());
    let mut rows = Vec::new();
    let mut last_end = 0;
    for group in diff.grouped_ops(AROUND) {
        let start = group.first().map_or(0, |op| op.old_range().start);
        if start > last_end {
            rows.push(Row::LeftOut(start - last_end));
        }
        for op in &group {
            rows.extend(diff.iter_changes(op).map(|change| {
                let line = change.value().trim_end_matches(['\n', '\r']).to_owned();
                match change.tag() {
                    ChangeTag::Equal => Row::Same(line),
                    ChangeTag::Delete => Row::Gone(line),
                    ChangeTag::Insert => Row::Come(line),
                }
            }));
        }
        last_end = group.last().map_or(0, |op| op.old_range().end);
    }
    rows
}

/// What of two texts is compared: all of it, or, where they are large, the lines around what differs.
fn parts_to_compare(first: &Text, second: &Text) -> [String; 2] {
    if first.len().max(second.len()) <= LARGEST {
        return [first.to_string(), second.to_string()];
    }
    let [start, end] = alike(first, second);
    [first, second].map(|text| {
        let from = text.line_start(text.line_of(Byte(start)));
        let to = text.line_span(text.line_of(Byte((text.len() - end).max(start)))).end;
        let whole = Span::new(from, to.min(from + LARGEST));
        text.slice(Span::new(whole.start, text.snap_back(whole.end))).into_owned()
    })
}

/// How many bytes at the start, and at the end, are the same in both: whole characters. Time linear in the bytes, at the speed of
/// memory.
fn alike(first: &Text, second: &Text) -> [usize; 2] {
    let most = first.len().min(second.len());
    let mut start = 0;
    while start < most {
        let [one, other] = [first, second].map(|text| {
            let chunk = text.chunk_at(Byte(start));
            &chunk.text.as_bytes()[start - chunk.start.0..]
        });
        let len = one.len().min(other.len());
        let same = same_at_start(&one[..len], &other[..len]);
        start += same;
        if same < len {
            break;
        }
    }
    while !first.is_char_edge(Byte(start)) || !second.is_char_edge(Byte(start)) {
        start -= 1;
    }
    let mut end = 0;
    while end < most - start {
        let [one, other] = [first, second].map(|text| {
            let until = text.len() - end;
            let chunk = text.chunk_at(Byte(until - 1));
            &chunk.text.as_bytes()[..until - chunk.start.0]
        });
        let len = one.len().min(other.len()).min(most - start - end);
        let same = same_at_end(&one[one.len() - len..], &other[other.len() - len..]);
        end += same;
        if same < len {
            break;
        }
    }
    while end > 0 && !(first.is_char_edge(Byte(first.len() - end)) && second.is_char_edge(Byte(second.len() - end))) {
        end -= 1;
    }
    [start, end]
}

/// So many bytes are compared in one step.
const BLOCK: usize = 64;

/// How many bytes at the start of two stretches of one length are the same.
fn same_at_start(one: &[u8], other: &[u8]) -> usize {
    let blocks = one.chunks_exact(BLOCK).zip(other.chunks_exact(BLOCK));
    let whole = BLOCK * blocks.take_while(|(one, other)| one == other).count();
    whole + one[whole..].iter().zip(&other[whole..]).take_while(|(one, other)| one == other).count()
}

/// How many bytes at the end of two stretches of one length are the same.
fn same_at_end(one: &[u8], other: &[u8]) -> usize {
    let blocks = one.rchunks_exact(BLOCK).zip(other.rchunks_exact(BLOCK));
    let whole = BLOCK * blocks.take_while(|(one, other)| one == other).count();
    let left = one.len() - whole;
    whole + one[..left].iter().rev().zip(other[..left].iter().rev()).take_while(|(one, other)| one == other).count()
}

/// The change that makes `second` of `first`: line by line, so that cursors stay with their lines. Time linear in the bytes, and
/// [`waits::COMPARISON`] at most for finding out which lines answer each other.
pub fn change(first: &Text, second: &Text) -> Change {
    let mut builder = ChangeBuilder::new(first);
    let [start, end] = alike(first, second);
    let from = first.line_start(first.line_of(Byte(start)));
    let hashes = RandomState::new();
    let [one, other] = [first, second].map(|text| {
        let to = text.line_span(text.line_of(Byte(text.len() - end))).end;
        Lines::of(text, Span::new(from, to), &hashes)
    });
    let until = Instant::now() + waits::COMPARISON;
    let ops = capture_diff_slices_deadline(Algorithm::Myers, &one.hashes, &other.hashes, Some(until));
    // Between two stretches that are the same, what goes and what comes is one edit, in whatever order it is told.
    let (mut old_at, mut new_at) = (0, 0);
    let all = ops.iter().filter(|op| op.tag() == DiffTag::Equal).map(|op| (op.old_range(), op.new_range()));
    let (old_len, new_len) = (one.hashes.len(), other.hashes.len());
    for (same, same_new) in all.chain([(old_len..old_len, new_len..new_len)]) {
        let gone = Span::new(one.starts[old_at], one.starts[same.start]);
        let come = Span::new(other.starts[new_at], other.starts[same_new.start]);
        builder.replace(gone, &second.slice(come));
        (old_at, new_at) = (same.end, same_new.end);
    }
    builder.finish()
}

/// Lines of a text, each with its end.
struct Lines {
    /// A number for what each holds: others cannot foresee which lines have the same.
    hashes: Vec<u64>,
    /// Where each begins, and where the last one ends.
    starts: Vec<Byte>,
}

impl Lines {
    fn of(text: &Text, span: Span, hashes: &RandomState) -> Lines {
        let mut lines = Lines { hashes: Vec::new(), starts: vec![span.start] };
        let mut hasher = hashes.build_hasher();
        let mut at = span.start;
        for chunk in text.chunks_from(span.start) {
            let end = (chunk.start + chunk.text.len()).min(span.end);
            let Some(mut left) = chunk.text.as_bytes().get(at - chunk.start..end - chunk.start) else { break };
            while !left.is_empty() {
                let len = left.iter().position(|byte| *byte == b'\n').map_or(left.len(), |end| end + 1);
                let (piece, rest) = left.split_at(len);
                hasher.write(piece);
                (at, left) = (at + len, rest);
                if piece.ends_with(b"\n") {
                    let done = std::mem::replace(&mut hasher, hashes.build_hasher());
                    lines.hashes.push(done.finish());
                    lines.starts.push(at);
                }
            }
            if at >= span.end {
                break;
            }
        }
        if lines.starts.last() != Some(&at) {
            lines.hashes.push(hasher.finish());
            lines.starts.push(at);
        }
        lines
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn rows_show_what_differs_with_what_stands_around() {
        let first = Text::from("1\n2\n3\n4\n5\n6\n7\n8\n");
        let second = Text::from("1\n2\n3\n4\n5\nsix\n7\n8\n");
        let texts = ["4", "5"].map(|line| Row::Same(line.to_owned()));
        let mut expected = vec![Row::LeftOut(3)];
        expected.extend(texts);
        expected.extend([Row::Gone("6".to_owned()), Row::Come("six".to_owned())]);
        expected.extend(["7", "8"].map(|line| Row::Same(line.to_owned())));
        assert_eq!(rows(&first, &second), expected);
        assert_eq!(rows(&first, &first), []);
    }

    #[test]
    fn what_is_alike_ends_at_whole_characters_and_is_found_across_pieces() {
        let long = "the tide stands at é in the sound\n".repeat(400);
        for at in [0, 1, 63, 64, 65, 1_000, 5_000, long.len() - 1] {
            let at = (0..=at).rev().find(|at| long.is_char_boundary(*at)).unwrap();
            let (first, second) =
                (Text::from(long.as_str()), Text::from((long[..at].to_owned() + "è" + &long[at..]).as_str()));
            assert_eq!(alike(&first, &second), [at, long.len() - at], "{at}");
            assert_eq!(alike(&second, &first), [at, long.len() - at], "{at}");
        }
        // é and è begin with the same byte.
        assert_eq!(alike(&Text::from("aé"), &Text::from("aè")), [1, 0]);
        assert_eq!(alike(&Text::from("aaa"), &Text::from("aa")), [2, 0]);
    }

    proptest! {
        #[test]
        fn a_change_makes_one_text_of_the_other(first in "[ab\\né]{0,30}", second in "[ab\\né]{0,30}") {
            let (mut text, second) = (Text::from(first.as_str()), Text::from(second.as_str()));
            let change = change(&text, &second);
            text.apply(&change);
            prop_assert!(text == second);
        }
    }
}
