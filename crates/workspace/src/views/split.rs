//! How the views share the screen: one, or two parts beside or below each other, each again one or two.

use crate::ids::ViewId;

/// Where a new view goes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Side {
    /// At the right.
    Beside,
    /// Below.
    Below,
}

/// How views share the screen.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Split {
    /// One view has it all.
    One(ViewId),
    /// Two parts.
    Two {
        /// Where the second part is.
        side: Side,
        /// The left or the upper part.
        first: Box<Split>,
        /// The right or the lower part.
        second: Box<Split>,
    },
}

impl Split {
    /// The views, from the left and from the top.
    #[must_use]
    pub fn views(&self) -> Vec<ViewId> {
        match self {
            Split::One(view) => vec![*view],
            Split::Two { first, second, .. } => [first.views(), second.views()].concat(),
        }
    }

    /// How many views are beside each other at most.
    #[must_use]
    pub fn columns(&self) -> u16 {
        match self {
            Split::One(_) => 1,
            Split::Two { side: Side::Beside, first, second } => first.columns() + second.columns(),
            Split::Two { side: Side::Below, first, second } => first.columns().max(second.columns()),
        }
    }

    /// Puts `new` beside or below `old`.
    pub fn divide(&mut self, old: ViewId, new: ViewId, side: Side) {
        match self {
            Split::One(view) if *view == old => {
                let [first, second] = [old, new].map(|view| Box::new(Split::One(view)));
                *self = Split::Two { side, first, second };
            }
            Split::One(_) => {}
            Split::Two { first, second, .. } => {
                first.divide(old, new, side);
                second.divide(old, new, side);
            }
        }
    }

    /// Takes `view` away; its neighbour gets the room. The last one stays.
    pub fn remove(&mut self, view: ViewId) {
        let Split::Two { first, second, .. } = self else { return };
        let rest = match (&**first, &**second) {
            (Split::One(one), _) if *one == view => Some(second.clone()),
            (_, Split::One(one)) if *one == view => Some(first.clone()),
            _ => None,
        };
        match rest {
            Some(rest) => *self = *rest,
            None => {
                first.remove(view);
                second.remove(view);
            }
        }
    }

    /// Lets `by` say which view is in the place of each.
    pub fn replace(&mut self, by: &dyn Fn(ViewId) -> ViewId) {
        match self {
            Split::One(view) => *view = by(*view),
            Split::Two { first, second, .. } => {
                first.replace(by);
                second.replace(by);
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn views_come_and_go() {
        let [a, b, c] = [(); 3].map(|()| ViewId::fresh());
        let mut split = Split::One(a);
        split.divide(a, b, Side::Beside);
        split.divide(b, c, Side::Below);
        assert_eq!((split.views(), split.columns()), (vec![a, b, c], 2));
        split.replace(&|view| {
            if view == a {
                c
            } else if view == c {
                a
            } else {
                view
            }
        });
        assert_eq!(split.views(), [c, b, a]);
        split.remove(b);
        assert_eq!(split.views(), [c, a]);
        split.remove(c);
        split.remove(a);
        assert_eq!(split, Split::One(a));
    }
}
