//! Two changes as one: the second is of the text that the first makes.
//!
//! Cost: linear in the edits of both and in what they put in.

use super::{Bias, Change, ChangeBuilder, Mapper};
use crate::text::Text;
use crate::units::{Byte, Span};

/// A piece of the text between the two changes.
#[derive(Clone, Copy)]
enum Piece<'a> {
    /// Kept from the text before both.
    Kept(Span),
    /// Put in by the first change, in place of this.
    New(&'a str, Span),
}

impl Piece<'_> {
    fn len(&self) -> usize {
        match self {
            Piece::Kept(span) => span.len(),
            Piece::New(text, _) => text.len(),
        }
    }
}

/// What is gathered of an edit of the whole.
struct Pending {
    removed: Span,
    inserted: String,
}

impl Change {
    /// The change of `text` that does what this one does and then `second`. Pieces that this one moves stay moved.
    #[must_use]
    pub fn then(&self, text: &Text, second: &Change) -> Change {
        if second.is_empty() {
            return self.clone();
        }
        let mut pieces: Vec<Piece> = Vec::with_capacity(self.edits.len() * 2 + 1);
        let mut reach = Byte(0);
        for edit in &self.edits {
            pieces.push(Piece::Kept(Span::new(reach, edit.start())));
            pieces.push(Piece::New(self.inserted(edit), edit.span()));
            reach = edit.end();
        }
        pieces.push(Piece::Kept(Span::new(reach, text.end())));
        let mut builder = ChangeBuilder::new(text);
        let mut pending = Pending { removed: Span::at(Byte(0)), inserted: String::new() };
        let mut edits = second.edits.iter().enumerate().peekable();
        // The edit whose characters were put in last: one that goes over several pieces puts them in once.
        let mut put_in: Option<usize> = None;
        // Where the piece begins in the text between the two.
        let mut at = Byte(0);
        for piece in pieces {
            if let Piece::New(_, removed) = piece {
                pending.goes_on_at(&mut builder, removed.start);
                pending.removed.end = removed.end;
            }
            let end = at + piece.len();
            let mut from = at;
            while let Some((index, edit)) = edits.peek().copied().filter(|(_, edit)| edit.start() <= end) {
                if edit.start() == end
                    && edit.removed_len() > 0
                    && !matches!(piece, Piece::Kept(span) if span.end == text.end())
                {
                    break;
                }
                let start = edit.start().max(from);
                pending.keep(&mut builder, piece, (at, Span::new(from, start)));
                if put_in != Some(index) {
                    pending.inserted.push_str(second.inserted(edit));
                    put_in = Some(index);
                }
                let stop = edit.end().min(end);
                pending.drop(piece, (at, Span::new(start, stop.max(start))));
                from = stop.max(start);
                if edit.end() > end {
                    break;
                }
                edits.next();
            }
            pending.keep(&mut builder, piece, (at, Span::new(from.min(end), end)));
            at = end;
        }
        pending.flush(&mut builder);
        let mut mapper = Mapper::new(second);
        let mut moves = self.moves.clone();
        moves.sort_unstable_by_key(|each| each.to);
        for each in moves {
            builder.note_move(Span::new(each.from, each.from + each.len), mapper.map(each.to, Bias::Before));
        }
        builder.finish()
    }
}

impl Pending {
    /// Ends the edit before `start`, unless it goes on there.
    fn goes_on_at(&mut self, builder: &mut ChangeBuilder, start: Byte) {
        if self.removed.end != start {
            self.flush(builder);
            self.removed = Span::at(start);
        }
    }

    /// Takes over the part of `piece`, which begins at `at`, that is in `part`.
    fn keep(&mut self, builder: &mut ChangeBuilder, piece: Piece, (at, part): (Byte, Span)) {
        if part.is_empty() {
            return;
        }
        match piece {
            Piece::New(text, _) => self.inserted.push_str(&text[part.start - at..part.end - at]),
            Piece::Kept(span) => {
                self.goes_on_at(builder, span.start + (part.start - at));
                self.flush(builder);
                self.removed = Span::at(span.start + (part.end - at));
            }
        }
    }

    /// Leaves out the part of `piece` that is in `part`.
    fn drop(&mut self, piece: Piece, (at, part): (Byte, Span)) {
        if let Piece::Kept(span) = piece
            && !part.is_empty()
        {
            self.removed.end = span.start + (part.end - at);
        }
    }

    fn flush(&mut self, builder: &mut ChangeBuilder) {
        builder.replace(self.removed, &self.inserted);
        self.removed = Span::at(self.removed.end);
        self.inserted.clear();
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn change_of(text: &Text, cuts: &[(usize, usize, String)]) -> Change {
        let mut builder = ChangeBuilder::new(text);
        let mut reach = 0;
        for (start, len, with) in cuts {
            let start = (reach + start).min(text.len());
            let end = (start + len).min(text.len());
            builder.replace(Span::new(Byte(start), Byte(end)), with);
            reach = end;
        }
        builder.finish()
    }

    proptest! {
        #[test]
        fn both_at_once_give_what_one_after_the_other_gives(
            plain in "[a-e]{0,12}",
            first in proptest::collection::vec((0usize..4, 0usize..3, "[X-Z]{0,3}"), 0..5),
            second in proptest::collection::vec((0usize..4, 0usize..3, "[0-9]{0,2}"), 0..6),
        ) {
            let text = Text::from(plain.as_str());
            let one = change_of(&text, &first);
            let mut between = text.clone();
            between.apply(&one);
            let other = change_of(&between, &second);
            let mut expected = between.clone();
            expected.apply(&other);
            let both = one.then(&text, &other);
            let mut found = text.clone();
            found.apply(&both);
            prop_assert_eq!(found.to_string(), expected.to_string());
            found.apply(&both.inverted());
            prop_assert_eq!(found.to_string(), plain);
        }
    }
}
