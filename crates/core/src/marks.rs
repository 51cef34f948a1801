//! Marks: places that somebody outside remembers, which move with edits.
//!
//! Cost of a change: linear in its edits and in the marks.

use crate::changes::{Bias, Change, Mapper};
use crate::units::Byte;

/// A remembered place.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct MarkId(u64);

/// The remembered places of one text, in its order.
#[derive(Clone, Debug, Default)]
pub struct Marks {
    list: Vec<(Byte, MarkId)>,
    next: u64,
}

impl Marks {
    /// Remembers `at`.
    pub fn set(&mut self, at: Byte) -> MarkId {
        let id = MarkId(self.next);
        self.next += 1;
        let place = self.list.partition_point(|(other, _)| *other <= at);
        self.list.insert(place, (at, id));
        id
    }

    /// Where it is now.
    #[must_use]
    pub fn get(&self, id: MarkId) -> Option<Byte> {
        self.list.iter().find(|(_, other)| *other == id).map(|(at, _)| *at)
    }

    /// Forgets it.
    pub fn forget(&mut self, id: MarkId) {
        self.list.retain(|(_, other)| *other != id);
    }

    /// Moves all of them with `change`: what is put in right at a mark goes before it.
    pub fn follow(&mut self, change: &Change) {
        let mut mapper = Mapper::new(change);
        for (at, _) in &mut self.list {
            *at = mapper.map(*at, Bias::After);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::changes::ChangeBuilder;
    use crate::text::Text;
    use crate::units::Span;

    #[test]
    fn marks_move_with_edits_whatever_their_order() {
        let text = Text::from("abcdef");
        let mut marks = Marks::default();
        let [late, early] = [marks.set(Byte(5)), marks.set(Byte(1))];
        let mut builder = ChangeBuilder::new(&text);
        builder.insert(Byte(1), "XX");
        builder.remove(Span::new(Byte(3), Byte(4)));
        marks.follow(&builder.finish());
        assert_eq!([marks.get(late), marks.get(early)], [Some(Byte(6)), Some(Byte(3))]);
        marks.forget(late);
        assert_eq!(marks.get(late), None);
    }
}
