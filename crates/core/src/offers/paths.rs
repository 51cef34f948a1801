//! Paths in a string that begins like one: which folder is looked in, and which letters the name begins with.

/// A path that is being typed.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct TypedPath {
    /// Its folder as it is written, with its last slash.
    pub folder: String,
    /// What was typed of the name.
    pub name: String,
}

/// The path that `before`, what is in a string before the caret, ends with; none where it does not begin like one: with `/`, `./`,
/// `../`, `~/`, or with names and a slash.
#[must_use]
pub fn typed_path(before: &str) -> Option<TypedPath> {
    let start = before
        .rfind(|c: char| c.is_whitespace() || matches!(c, '"' | '\'' | '`' | '(' | '='))
        .map_or(0, |at| at + before[at..].chars().next().map_or(1, char::len_utf8));
    let path = &before[start..];
    let slash = path.rfind('/')?;
    let (folder, name) = path.split_at(slash + 1);
    let is_address = folder.contains("://") || folder.starts_with("//");
    (!is_address).then(|| TypedPath { folder: folder.to_owned(), name: name.to_owned() })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn strings_that_begin_like_a_path() {
        let table: &[(&str, Option<(&str, &str)>)] = &[
            ("./ga", Some(("./", "ga"))),
            ("../src/", Some(("../src/", ""))),
            ("/usr/li", Some(("/usr/", "li"))),
            ("~/note", Some(("~/", "note"))),
            ("src/gau", Some(("src/", "gau"))),
            ("gau", None),
            ("", None),
            ("https://exa", None),
            ("//host/x", None),
            ("see ./a", Some(("./", "a"))),
            ("é/ö", Some(("é/", "ö"))),
        ];
        for (before, wanted) in table {
            let found = typed_path(before);
            assert_eq!(found.as_ref().map(|path| (&*path.folder, &*path.name)), *wanted, "{before}");
        }
    }
}
