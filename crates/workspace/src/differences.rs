//! Differences between two texts: as rows to look at, and as the change that makes one of the other.

use similar::{ChangeTag, DiffTag, TextDiff};
use snarvel_core::changes::{Change, ChangeBuilder};
use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Line, Span};
use snarvel_task::waits;

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
    let [one, other] = [first, second].map(|text| part_to_compare(text, first, second));
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

/// What of `text` is compared: all of it, or, where the texts are large, the lines around what differs.
fn part_to_compare(text: &Text, first: &Text, second: &Text) -> String {
    if first.len().max(second.len()) <= LARGEST {
        return text.to_string();
    }
    let [start, end] = alike(first, second);
    let from = text.line_start(text.line_of(Byte(start)));
    let to = text.line_span(text.line_of(Byte((text.len() - end).max(start)))).end;
    let whole = Span::new(from, to.min(from + LARGEST));
    text.slice(Span::new(whole.start, text.snap_back(whole.end))).into_owned()
}

/// How many bytes at the start, and at the end, are the same in both.
fn alike(first: &Text, second: &Text) -> [usize; 2] {
    let most = first.len().min(second.len());
    let mut start = 0;
    'chunks: for chunk in first.chunks_from(Byte(0)) {
        let (bytes, mut done) = (chunk.text.as_bytes(), 0);
        while done < bytes.len() && start < most {
            let other = second.chunk_at(Byte(start));
            let there = &other.text.as_bytes()[start - other.start.0..];
            let len = there.len().min(bytes.len() - done);
            let same =
                bytes[done..done + len].iter().zip(&there[..len]).take_while(|(one, other)| one == other).count();
            start += same;
            done += same;
            if same < len {
                break 'chunks;
            }
        }
    }
    let mut end = 0;
    while end < most - start {
        let [one, other] = [first, second].map(|text| text.byte(Byte(text.len() - end - 1)));
        if one != other {
            break;
        }
        end += 1;
    }
    while !first.is_char_edge(Byte(start)) {
        start -= 1;
    }
    while end > 0 && !(first.is_char_edge(Byte(first.len() - end)) && second.is_char_edge(Byte(second.len() - end))) {
        end -= 1;
    }
    [start, end]
}

/// The change that makes `second` of `first`: line by line, so that cursors stay with their lines.
pub fn change(first: &Text, second: &Text) -> Change {
    let mut builder = ChangeBuilder::new(first);
    let [start, end] = alike(first, second);
    let gone = Span::new(Byte(start), Byte(first.len() - end));
    let come = Span::new(Byte(start), Byte(second.len() - end));
    if gone.len().max(come.len()) > LARGEST {
        builder.replace(gone, &second.slice(come));
        return builder.finish();
    }
    let from = first.line_start(first.line_of(gone.start));
    let [one, other] = [(first, gone.end), (second, come.end)].map(|(text, end)| {
        let to = text.line_span(text.line_of(end)).end;
        text.slice(Span::new(from, to)).into_owned()
    });
    let diff = TextDiff::configure().timeout(waits::COMPARISON).diff_lines(one.as_str(), other.as_str());
    let old = |line: usize| from + line_start(&one, diff.old_slices(), line);
    // Between two stretches that are the same, what goes and what comes is one edit, in whatever order it is told.
    let (mut old_at, mut new_at) = (0, 0);
    let all = diff.ops().iter().filter(|op| op.tag() == DiffTag::Equal).map(|op| (op.old_range(), op.new_range()));
    let (old_len, new_len) = (diff.old_slices().len(), diff.new_slices().len());
    for (same, same_new) in all.chain([(old_len..old_len, new_len..new_len)]) {
        let with: String = diff.new_slices()[new_at..same_new.start].concat();
        builder.replace(Span::new(old(old_at), old(same.start)), &with);
        (old_at, new_at) = (same.end, same_new.end);
    }
    builder.finish()
}

/// Where the line of that number begins among `lines`, which are stretches of `whole`.
fn line_start(whole: &str, lines: &[&str], line: usize) -> usize {
    lines.get(line).map_or(whole.len(), |slice| slice.as_ptr() as usize - whole.as_ptr() as usize)
}

/// The first line on which `second` differs from `first`, in `second`.
pub fn first_line(first: &Text, second: &Text) -> Line {
    let [start, _] = alike(first, second);
    second.line_of(Byte(start.min(second.len())))
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
        assert_eq!(first_line(&first, &second), Line(5));
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
