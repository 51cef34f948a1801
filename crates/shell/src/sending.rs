//! A selection made ready for the shell of its language.

use crate::picture::Modes;
use crate::press::bytes_of_paste;
use crate::runners::Runner;

/// What is sent for lines of a text: without the indentation that they share, so that a shell takes them as they are at the top.
///
/// Where the shell marks what is pasted, the lines are sent in one piece. In a language whose grammar is its indentation a shell that
/// reads line by line ends a block at a blank line: those inside of blocks are left out, and one comes after each block.
#[must_use]
pub fn bytes_of_lines(text: &str, runner: &Runner, modes: Modes) -> Vec<u8> {
    let lines = dedented(text);
    if modes.bracketed_paste && !runner.off_side {
        let mut bytes = bytes_of_paste(&lines.join("\n"), modes);
        bytes.extend(b"\r");
        return bytes;
    }
    let lines = if runner.off_side { by_blocks(&lines) } else { lines };
    let mut sent = String::new();
    for line in lines {
        sent.push_str(&line);
        sent.push_str(&runner.line_end);
    }
    sent.into_bytes()
}

/// The lines without the white space that all of them begin with; blank ones at the start and the end left out.
fn dedented(text: &str) -> Vec<String> {
    let lines: Vec<&str> = text.lines().map(|line| line.trim_end_matches('\r')).collect();
    let is_blank = |line: &&str| line.trim().is_empty();
    let Some(first) = lines.iter().position(|line| !is_blank(line)) else { return Vec::new() };
    let last = lines.iter().rposition(|line| !is_blank(line)).unwrap_or(first);
    let lines = &lines[first..=last];
    let indent_of = |line: &str| line.len() - line.trim_start_matches([' ', '\t']).len();
    let mut shared: &str = &lines[0][..indent_of(lines[0])];
    for line in lines.iter().filter(|line| !is_blank(line)) {
        let own = &line[..indent_of(line)];
        let same = shared.bytes().zip(own.bytes()).take_while(|(one, other)| one == other).count();
        shared = &shared[..same];
    }
    lines.iter().map(|line| line.strip_prefix(shared).unwrap_or("").to_owned()).collect()
}

/// Lines of a language whose grammar is its indentation, for a shell that reads line by line.
fn by_blocks(lines: &[String]) -> Vec<String> {
    let mut sent: Vec<String> = Vec::with_capacity(lines.len() + 1);
    let (mut is_in_block, mut depth, mut quote) = (false, 0_usize, None);
    let mut is_decorated = false;
    for line in lines {
        let goes_on = depth > 0 || quote.is_some();
        if line.trim().is_empty() && !goes_on {
            continue;
        }
        let is_top = !line.starts_with([' ', '\t']);
        if !goes_on && is_top && is_in_block && !is_decorated && !is_continued(line) {
            sent.push(String::new());
        }
        if !goes_on {
            is_in_block = !is_top || (is_in_block && is_continued(line));
        }
        sent.push(line.clone());
        count_open(line, &mut depth, &mut quote);
        is_in_block |= !goes_on && is_top && ends_in_colon(line);
        is_decorated = !goes_on && line.starts_with('@');
    }
    if is_in_block {
        sent.push(String::new());
    }
    sent
}

/// Whether a line at the top goes on with the statement before it (the Python Language Reference 3.13, 8 "Compound statements").
fn is_continued(line: &str) -> bool {
    let word: String = line.chars().take_while(|c| c.is_alphanumeric() || *c == '_').collect();
    matches!(word.as_str(), "else" | "elif" | "except" | "finally") || line.starts_with([')', ']', '}'])
}

fn ends_in_colon(line: &str) -> bool {
    let code = line.split('#').next().unwrap_or_default();
    code.trim_end().ends_with(':') || line.starts_with('@')
}

/// Follows brackets and long strings over a line: lines inside of them are sent as they are.
fn count_open(line: &str, depth: &mut usize, quote: &mut Option<&'static str>) {
    let mut rest = line;
    while !rest.is_empty() {
        if let Some(mark) = *quote {
            match rest.find(mark) {
                Some(at) => {
                    rest = &rest[at + mark.len()..];
                    *quote = None;
                }
                None => return,
            }
            continue;
        }
        let first = rest.chars().next().unwrap_or_default();
        match first {
            '#' => return,
            '(' | '[' | '{' => *depth += 1,
            ')' | ']' | '}' => *depth = depth.saturating_sub(1),
            '"' | '\'' => {
                if let Some(mark) = ["\"\"\"", "'''"].into_iter().find(|mark| rest.starts_with(mark)) {
                    *quote = Some(mark);
                    rest = &rest[mark.len()..];
                } else {
                    rest = after_string(rest, first);
                }
                continue;
            }
            _ => {}
        }
        rest = &rest[first.len_utf8()..];
    }
}

/// What comes after the string that `text` begins with.
fn after_string(text: &str, mark: char) -> &str {
    let mut is_escaped = false;
    for (at, c) in text.char_indices().skip(1) {
        match c {
            _ if is_escaped => is_escaped = false,
            '\\' => is_escaped = true,
            c if c == mark => return &text[at + c.len_utf8()..],
            _ => {}
        }
    }
    ""
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::runners::Table;
    use std::path::Path;

    fn sent(language: &str, text: &str, modes: Modes) -> String {
        let table = Table::default().with_shipped();
        let (runner, _) = table.repl_of(language, Path::new("/")).unwrap();
        String::from_utf8(bytes_of_lines(text, runner, modes)).unwrap()
    }

    #[test]
    fn python_is_made_ready_for_a_shell_that_reads_line_by_line() {
        for (text, expected) in [
            ("x = 1", "x = 1\n"),
            ("    x = 1\n    y = 2\n", "x = 1\ny = 2\n"),
            ("def ebb():\n    a = 1\n\n    return a\n\nebb()\n", "def ebb():\n    a = 1\n    return a\n\nebb()\n"),
            ("def ebb():\n    return 1\n", "def ebb():\n    return 1\n\n"),
            ("if x:\n    y\nelse:\n    z\nw", "if x:\n    y\nelse:\n    z\n\nw\n"),
            ("try:\n  a\n\nexcept E:\n  b\n\nfinally:\n  c", "try:\n  a\nexcept E:\n  b\nfinally:\n  c\n\n"),
            ("x = [\n    1,\n\n    2,\n]\ny", "x = [\n    1,\n\n    2,\n]\ny\n"),
            ("s = '''a\n\nb'''\nt", "s = '''a\n\nb'''\nt\n"),
            ("@cache\ndef f():\n    pass", "@cache\ndef f():\n    pass\n\n"),
            ("for x in y: print(x)\nz", "for x in y: print(x)\nz\n"),
            ("\n\n", ""),
        ] {
            assert_eq!(sent("python", text, Modes::default()), expected, "{text:?}");
        }
    }

    #[test]
    fn other_languages_are_sent_as_they_are() {
        let marked = Modes { bracketed_paste: true, ..Modes::default() };
        assert_eq!(sent("lua", "  a = 1\n\n  b = 2\n", Modes::default()), "a = 1\n\nb = 2\n");
        assert_eq!(sent("shell", "a\nb\n", marked), "\x1b[200~a\rb\x1b[201~\r");
        assert_eq!(sent("python", "a\r\nb\r\n", marked), "a\nb\n");
    }
}
