//! Which local a name means at a place, by where locals are known: the innermost function or block that has one of that name, and in
//! it the last one before the place. Cost: linear in the names of the text.

use snarvel_core::text::Text;
use snarvel_core::units::{Byte, Span};
use snarvel_syntax::names::{NameKind, Named};

/// The local called like `word`, which is at the place that is asked about; none where no local of that name is known there.
#[must_use]
pub fn local_at<'n>(names: &'n [Named], text: &Text, word: Span) -> Option<&'n Named> {
    let name = text.slice(word);
    let holds = |scope: Span| scope.start <= word.start && word.end <= scope.end;
    let same = |named: &&Named| named.kind == NameKind::Local && text.slice(named.name) == name;
    let known: Vec<&Named> = names.iter().filter(same).filter(|named| named.scope.is_none_or(holds)).collect();
    let size = |named: &&Named| named.scope.map_or(usize::MAX, Span::len);
    let innermost = known.iter().map(size).min()?;
    let within = || known.iter().filter(|named| size(named) == innermost);
    let is_before = |named: &&&Named| named.name.start <= word.start && is_bound_before(named, word.start);
    let before = within().rfind(is_before);
    before.or_else(|| within().next()).copied()
}

/// Whether a local counts at `at`: what gives it its value is read before it, `let level = level + 1`.
fn is_bound_before(named: &Named, at: Byte) -> bool {
    let is_itself = named.name.start <= at && at <= named.name.end;
    let is_parameter_or_loop = named.scope.is_some_and(|scope| scope.start == named.whole.start);
    is_itself || is_parameter_or_loop || named.whole.end <= at || named.name.end + LONG < named.whole.end
}

/// A definition that goes on for so long holds more than the value of the name: what is in its body sees the name.
const LONG: usize = 400;

/// The import of `name` in a text.
#[must_use]
pub fn import_of<'n>(names: &'n [Named], text: &Text, name: &str) -> Option<&'n Named> {
    names.iter().find(|named| named.kind == NameKind::Import && text.slice(named.name) == name)
}

#[cfg(test)]
mod tests {
    use super::*;
    use snarvel_core::languages::by_name;
    use snarvel_syntax::names::Namer;
    use std::time::Duration;

    /// The line on which the local is bound that the name at `‸` means, from 1.
    fn bound(language: &str, marked: &str) -> Option<usize> {
        let at = marked.find('‸').unwrap();
        let text = Text::from(marked.replace('‸', "").as_str());
        let language = by_name(language).unwrap();
        let names = Namer::default().names(&language, &text, Duration::from_secs(20)).unwrap();
        let word = text.word_at(Byte(at), language.word_rule()).unwrap();
        local_at(&names, &text, word).map(|named| text.line_of(named.name.start).0 + 1)
    }

    #[test]
    fn a_local_is_the_last_one_before_in_the_innermost_function() {
        for (name, language, text, line) in [
            ("parameter", "rust", "fn a(level: u8) {\n    read(lev‸el);\n}", Some(1)),
            (
                "last_one_before",
                "rust",
                "fn a() {\n    let x = 1;\n    let x = 2;\n    ‸x;\n    let x = 3;\n}",
                Some(3),
            ),
            ("value_reads_the_one_before", "rust", "fn a(x: u8) {\n    let x = ‸x + 1;\n}", Some(1)),
            ("itself", "rust", "fn a(x: u8) {\n    let ‸x = x + 1;\n}", Some(2)),
            ("closure", "rust", "fn a(x: u8) {\n    let f = |x| {\n        ‸x\n    };\n}", Some(2)),
            ("other_function", "rust", "fn a(level: u8) {}\nfn b() {\n    ‸level;\n}", None),
            ("loop", "python", "def a():\n    for i in b:\n        print(‸i)\n", Some(2)),
            ("parameter_of_a_function_inside", "python", "def a(x):\n    def b(x):\n        return ‸x\n", Some(2)),
            ("from_the_function_around", "python", "def a(x):\n    def b(y):\n        return ‸x\n", Some(1)),
            ("c", "c", "int f(int n) {\n    int a = n;\n    return ‸a;\n}", Some(2)),
            ("arrow", "typescript", "const f = (ship: string) => {\n  return sh‸ip;\n};", Some(1)),
        ] {
            assert_eq!(bound(language, text), line, "{name}");
        }
    }
}
