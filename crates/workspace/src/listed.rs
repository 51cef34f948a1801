//! A list whose things are found by what they are known by, without looking at each: a thousand files may be open, and a verb over
//! all of them asks for each of them several times.

use crate::buffer::Buffer;
use crate::ids::{BufferId, ViewId};
use crate::view::View;
use std::ops::{Deref, DerefMut};

/// Something that is known by a number.
pub(crate) trait Known {
    /// What it is known by.
    type Id: Copy + Eq + std::fmt::Debug;

    /// What it is known by.
    fn id(&self) -> Self::Id;
}

impl Known for Buffer {
    type Id = BufferId;

    fn id(&self) -> BufferId {
        self.id
    }
}

impl Known for View {
    type Id = ViewId;

    fn id(&self) -> ViewId {
        self.id
    }
}

/// A list of things that are known by numbers. Cost of finding one: linear in the numbers, which are next to each other in memory.
#[derive(Debug)]
pub(crate) struct Listed<T: Known> {
    things: Vec<T>,
    ids: Vec<T::Id>,
}

impl<T: Known> Listed<T> {
    /// One thing.
    pub fn of(thing: T) -> Listed<T> {
        Listed { ids: vec![thing.id()], things: vec![thing] }
    }

    /// Where the one known by `id` is.
    pub fn position(&self, id: T::Id) -> Option<usize> {
        self.ids.iter().position(|each| *each == id)
    }

    /// The one known by `id`.
    pub fn known(&self, id: T::Id) -> Option<&T> {
        self.position(id).map(|at| &self.things[at])
    }

    /// The one known by `id`.
    pub fn known_mut(&mut self, id: T::Id) -> Option<&mut T> {
        self.position(id).map(|at| &mut self.things[at])
    }

    /// Puts a thing at a place.
    pub fn insert(&mut self, at: usize, thing: T) {
        self.ids.insert(at, thing.id());
        self.things.insert(at, thing);
    }

    /// Puts a thing at the end.
    pub fn push(&mut self, thing: T) {
        self.ids.push(thing.id());
        self.things.push(thing);
    }

    /// Takes the thing at a place away.
    pub fn remove(&mut self, at: usize) -> T {
        self.ids.remove(at);
        self.things.remove(at)
    }

    /// Keeps the things that `stays` says.
    pub fn retain(&mut self, stays: impl FnMut(&T) -> bool) {
        self.things.retain(stays);
        self.ids = self.things.iter().map(Known::id).collect();
    }
}

impl<T: Known> Deref for Listed<T> {
    type Target = [T];

    fn deref(&self) -> &[T] {
        &self.things
    }
}

impl<T: Known> DerefMut for Listed<T> {
    fn deref_mut(&mut self) -> &mut [T] {
        &mut self.things
    }
}
