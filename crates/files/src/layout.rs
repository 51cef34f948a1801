//! What `.editorconfig` files say of a file: layout values only, read by the specification's own rules
//! (`EditorConfig` 0.15). A file that is wrong is passed over, and says why.

use crate::reading;
use ec4rs::property::{EndOfLine, FinalNewline, IndentSize, IndentStyle, MaxLineLen, TabWidth, TrimTrailingWs};
use ec4rs::{ConfigParser, Properties, PropertiesSource};
use snarvel_core::text::LineEnd;
use snarvel_core::text::indent::IndentUnit;
use std::io::{Cursor, ErrorKind};
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
    let mut properties = match properties_of(&absolute) {
        Ok(properties) => properties,
        Err(why) => return (FileLayout::default(), Some(why)),
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

/// Sections of a file: more than anybody writes.
const MOST_SECTIONS: usize = 1_000;

/// What the `.editorconfig` files in the folders around the file at `path` say, those nearest to it last (`EditorConfig` 0.15, File
/// Processing). The first one that cannot be taken is told.
fn properties_of(path: &Path) -> Result<Properties, String> {
    let mut found = Vec::new();
    for folder in path.ancestors().skip(1) {
        let file = folder.join(".editorconfig");
        let bytes = match reading::read(&file, reading::LAYOUT) {
            Ok(bytes) => bytes,
            Err(error) if matches!(error.kind(), ErrorKind::NotFound | ErrorKind::NotADirectory) => continue,
            Err(error) => return Err(format!("{}: {error}", file.display())),
        };
        let parser = ConfigParser::new_with_path(Cursor::new(bytes), Some(file.as_path()));
        let parser = parser.map_err(|error| format!("{}: {error}", file.display()))?;
        let is_root = parser.is_root;
        found.push((folder, file, parser));
        if is_root {
            break;
        }
    }
    let mut properties = Properties::new();
    for (folder, file, mut parser) in found.into_iter().rev() {
        let below = path.strip_prefix(folder).unwrap_or(path);
        for section in parser.by_ref().take(MOST_SECTIONS) {
            let applied = section.map(|section| section.apply_to(&mut properties, below));
            if let Err(error) = applied {
                return Err(format!("{}, line {}: {error}", file.display(), parser.line_no()));
            }
        }
    }
    Ok(properties)
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
    fn files_around_are_read_the_nearest_last_and_none_that_never_ends() {
        let folder = tempfile::tempdir().unwrap();
        let at = |name: &str| folder.path().join(name);
        std::fs::create_dir(at("inner")).unwrap();
        std::fs::write(at(".editorconfig"), "root = true\n[*.rs]\ntab_width = 3\nmax_line_length = 90\n").unwrap();
        std::fs::write(at("inner/.editorconfig"), "[*.rs]\ntab_width = 5\n").unwrap();
        let (layout, why) = layout_of(&at("inner/a.rs"));
        assert_eq!((layout.tabs, layout.text_width, why), (Some(5), Some(90), None));
        std::fs::remove_file(at("inner/.editorconfig")).unwrap();
        std::os::unix::fs::symlink("/dev/zero", at("inner/.editorconfig")).unwrap();
        let (_, why) = layout_of(&at("inner/a.rs"));
        assert!(why.is_some_and(|why| why.contains("no ordinary file")));
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
