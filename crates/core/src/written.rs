//! Files in TOML that a person writes: what is wrong in one, by its place, so that the rest stays in force.

use toml::Spanned;
use toml::de::DeTable;

/// What is wrong in a file.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Mistake {
    /// Where, in bytes of the file.
    pub at: usize,
    /// What, and what is allowed.
    pub what: String,
}

/// The entries of a file as far as it is TOML, and where it is not. Cost: linear in the text.
#[must_use]
pub fn entries(text: &str) -> (Spanned<DeTable<'_>>, Vec<Mistake>) {
    let (table, errors) = DeTable::parse_recoverable(text);
    let mistake = |error: &toml::de::Error| Mistake {
        at: error.span().map_or(0, |span| span.start),
        what: error.message().lines().next().unwrap_or_default().to_owned(),
    };
    let mistakes = errors.iter().map(mistake).collect();
    (table, mistakes)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_no_toml_is_told_by_its_place_and_the_rest_is_there() {
        let (table, mistakes) = entries("fog = 1\nhorn = = 2\nwind = 3\n");
        assert!(table.get_ref().contains_key("fog") && table.get_ref().contains_key("wind"));
        assert!(!mistakes.is_empty() && mistakes.iter().all(|mistake| (8..19).contains(&mistake.at)), "{mistakes:?}");
        assert!(mistakes.iter().all(|mistake| !mistake.what.is_empty() && !mistake.what.contains('\n')));
    }
}
