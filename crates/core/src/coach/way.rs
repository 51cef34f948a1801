//! A way that may be shorter: steps with numbers and texts that are known only once a stretch is found.
//!
//! A way is written as steps with `; ` between them. A step is a verb, with `N` before it where how often it runs is to be found out
//! (from 1 on), `COUNT` where it runs as often as the stretch has strokes, and followed by `LINE` where it is given the line that the
//! caret is on after the stretch. `TYPED` types what was typed.

/// How often a step runs.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Times {
    /// Once.
    Once,
    /// As often as is tried.
    Tried,
    /// As often as the stretch has strokes.
    Strokes,
}

/// A step of a way as it is written.
#[derive(Clone, Debug, PartialEq, Eq)]
enum Written {
    Typed,
    Verb { times: Times, name: String, argument: String },
}

/// A way that may be shorter.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Way {
    steps: Vec<Written>,
}

/// A step to try.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Step {
    /// What was typed in the stretch.
    Typed,
    /// A verb, by its name, so many times, with what it is given.
    Verb {
        /// Its name.
        name: String,
        /// How many times.
        times: u32,
        /// What it is given; empty where nothing is.
        argument: String,
    },
}

/// What is known of a stretch.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Values {
    /// How many strokes it has.
    pub strokes: u32,
    /// The line of the caret after the stretch, from 1.
    pub line: usize,
}

/// A step is tried so many times at most: two keys are typed before it then.
const MOST_TRIED: u32 = 24;

impl Way {
    pub(super) fn read(way: &str) -> Way {
        let step = |step: &str| {
            if step == "TYPED" {
                return Written::Typed;
            }
            let (times, step) = match step.split_once(' ') {
                Some(("N", step)) => (Times::Tried, step),
                Some(("COUNT", step)) => (Times::Strokes, step),
                _ => (Times::Once, step),
            };
            let (name, argument) = step.split_once(' ').unwrap_or((step, ""));
            Written::Verb { times, name: name.to_owned(), argument: argument.to_owned() }
        };
        Way { steps: way.split("; ").map(step).collect() }
    }

    /// The names of the verbs in it.
    pub fn verbs(&self) -> impl Iterator<Item = &str> {
        self.steps.iter().filter_map(|step| match step {
            Written::Verb { name, .. } => Some(name.as_str()),
            Written::Typed => None,
        })
    }

    /// What is to be tried, the fewest times first.
    pub fn to_try(&self, values: Values) -> impl Iterator<Item = Vec<Step>> {
        let is_tried = |step: &Written| matches!(step, Written::Verb { times: Times::Tried, .. });
        let most = if self.steps.iter().any(is_tried) { MOST_TRIED.min(values.strokes) } else { 1 };
        (1..=most).map(move |tried| self.steps.iter().map(|step| step.of(values, tried)).collect())
    }
}

impl Written {
    fn of(&self, values: Values, tried: u32) -> Step {
        match self {
            Written::Typed => Step::Typed,
            Written::Verb { times, name, argument } => Step::Verb {
                name: name.clone(),
                times: match times {
                    Times::Once => 1,
                    Times::Tried => tried,
                    Times::Strokes => values.strokes,
                },
                argument: argument.replace("LINE", &values.line.to_string()),
            },
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_way_is_tried_from_once_on_with_what_is_known() {
        let verb = |name: &str, times: u32, argument: &str| Step::Verb {
            name: name.to_owned(),
            times,
            argument: argument.to_owned(),
        };
        let values = Values { strokes: 3, line: 42 };
        let all = |way: &str| Way::read(way).to_try(values).collect::<Vec<_>>();
        assert_eq!(all("go-to-line LINE"), [vec![verb("go-to-line", 1, "42")]]);
        assert_eq!(all("COUNT undo"), [vec![verb("undo", 3, "")]]);
        let tried = all("select-word; N take-next; TYPED");
        assert_eq!(tried.len(), 3);
        assert_eq!(tried[1], [verb("select-word", 1, ""), verb("take-next", 2, ""), Step::Typed]);
        assert_eq!(Way::read("N word-forward; TYPED").verbs().collect::<Vec<_>>(), ["word-forward"]);
    }
}
