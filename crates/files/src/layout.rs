//! What `.editorconfig` files say of a file: layout values only, read by the specification's own rules
//! (`EditorConfig` 0.15). A file that is wrong is passed over, and says why.

use ec4rs::property::{EndOfLine, FinalNewline, IndentSize, IndentStyle, MaxLineLen, TabWidth, TrimTrailingWs};
use snarvel_core::text::LineEnd;
use snarvel_core::text::indent::IndentUnit;
use std::path::Path;

/// What is asked for; nothing where no file says it.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct FileLayout {
    /// One step of indentation; a number of spaces of 0 leaves it to the text.
    pub unit: Option<IndentUnit>,
    /// The distance between tab stops, in cells.
    pub tabs: Option<u32>,
    /// The kind of new line ends.
    pub line_end: Option<LineEnd>,
    /// Whether a save ends the last line.
    pub ends_last_line: Option<bool>,
    /// Whether a save takes white space off line ends.
    pub trims: Option<bool>,
    /// The width of text, in cells.
    pub text_width: Option<u32>,
}

/// Sides over this are slips: no line is a thousand cells deep by intent.
const MOST_CELLS: usize = 64;

/// What holds for the file at `path`; with it, why a file could not be read.
pub fn layout_of(path: &Path) -> (FileLayout, Option<String>) {
    let absolute = std::path::absolute(path).unwrap_or_else(|_| path.to_owned());
    let mut properties = match ec4rs::properties_of(&absolute) {
        Ok(properties) => properties,
        Err(error) => return (FileLayout::default(), Some(format!(".editorconfig: {error}"))),
    };
    properties.use_fallbacks();
    let tabs = match properties.get::<TabWidth>() {
        Ok(TabWidth::Value(width)) if (1..=MOST_CELLS).contains(&width) => Some(width as u32),
        _ => None,
    };
    let size = match properties.get::<IndentSize>() {
        Ok(IndentSize::Value(size)) if (1..=MOST_CELLS).contains(&size) => Some(size as u32),
        Ok(IndentSize::UseTabWidth) => tabs,
        _ => None,
    };
    let unit = match (properties.get::<IndentStyle>(), size) {
        (Ok(IndentStyle::Tabs), _) => Some(IndentUnit::Tab),
        (Ok(IndentStyle::Spaces), size) => Some(IndentUnit::Spaces(size.unwrap_or(0))),
        (Err(_), Some(size)) => Some(IndentUnit::Spaces(size)),
        (Err(_), None) => None,
    };
    let line_end = match properties.get::<EndOfLine>() {
        Ok(EndOfLine::Lf) => Some(LineEnd::Lf),
        Ok(EndOfLine::CrLf) => Some(LineEnd::CrLf),
        _ => None,
    };
    let layout = FileLayout {
        unit,
        tabs,
        line_end,
        ends_last_line: match properties.get::<FinalNewline>() {
            Ok(FinalNewline::Value(wanted)) => Some(wanted),
            _ => None,
        },
        trims: match properties.get::<TrimTrailingWs>() {
            Ok(TrimTrailingWs::Value(wanted)) => Some(wanted),
            _ => None,
        },
        text_width: match properties.get::<MaxLineLen>() {
            Ok(MaxLineLen::Value(width)) => u32::try_from(width).ok(),
            _ => None,
        },
    };
    (layout, None)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn of(config: &str, file: &str) -> (FileLayout, Option<String>) {
        let folder = tempfile::tempdir().unwrap();
        std::fs::write(folder.path().join(".editorconfig"), format!("root = true\n{config}")).unwrap();
        layout_of(&folder.path().join(file))
    }

    #[test]
    fn what_files_say() {
        let (layout, _) =
            of("[*]\nindent_style = space\nindent_size = 2\nend_of_line = crlf\n[*.go]\nindent_style = tab\n", "a.rs");
        assert_eq!((layout.unit, layout.line_end), (Some(IndentUnit::Spaces(2)), Some(LineEnd::CrLf)));
        let (layout, _) = of("[*.go]\nindent_style = tab\ntab_width = 8\n", "a.go");
        assert_eq!((layout.unit, layout.tabs), (Some(IndentUnit::Tab), Some(8)));
        let (layout, _) =
            of("[*]\ninsert_final_newline = true\ntrim_trailing_whitespace = true\nmax_line_length = 100\n", "a");
        assert_eq!((layout.ends_last_line, layout.trims), (Some(true), Some(true)));
        assert_eq!(layout.text_width, Some(100));
        assert_eq!(of("", "a").0, FileLayout::default());
        assert_eq!(of("[*]\nindent_size = 0\ntab_width = 9999999\n", "a").0, FileLayout::default());
    }

    #[test]
    fn a_wrong_file_says_why() {
        let folder = tempfile::tempdir().unwrap();
        std::fs::write(folder.path().join(".editorconfig"), b"root = true\n[*]\n\xFF\xFE = 1\n").unwrap();
        let (layout, why) = layout_of(&folder.path().join("a"));
        assert_eq!(layout, FileLayout::default());
        assert!(why.is_some_and(|why| why.contains(".editorconfig")));
    }
}
