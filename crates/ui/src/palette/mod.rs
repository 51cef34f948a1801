//! The palette: the colours of a theme, and what they become with fewer colours or none.
//!
//! A role is asked for, a [`Style`] comes back. Nothing is told by colour alone: where there is none, each role
//! that matters has an attribute of its own.

pub(crate) mod colour;
pub mod theme;

use colour::parts;
use ratatui::style::{Color, Modifier, Style};
use theme::{Ground, Theme, Tone};

/// What a colour is for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Role {
    /// Ordinary text.
    Text,
    /// Furniture: line numbers, rules, hints.
    Quiet,
    /// Rules and edges.
    Edge,
    /// Text on the raised background of tab bar, status line and deck.
    Raised,
    /// Furniture on raised background.
    RaisedQuiet,
    /// The primary caret.
    Primary,
    /// The other carets.
    Other,
    /// A sign in the primary cursor's colour.
    PrimarySign,
    /// A sign in the other cursors' colour.
    OtherSign,
    /// What is selected, laid over the text's own colour.
    Selection,
    /// A pinned stretch.
    Pin,
    /// A sign in the pins' colour.
    PinSign,
    /// A hit.
    Hit,
    /// The hit that is chosen.
    HitHere,
    /// A sign in the hits' colour.
    HitSign,
    /// The sign of a bookmark.
    MarkSign,
    /// Text that a replacement would take away.
    Gone,
    /// Text that a replacement would bring.
    Come,
    /// What is otherwise in the text that this one is compared with.
    Differs,
    /// Text that would come if it were taken.
    Ghost,
    /// A bracket and the one that answers it.
    Bracket,
    /// A line that was added.
    Added,
    /// A line that was changed.
    Changed,
    /// Lines that were removed.
    Removed,
    /// A stand-in for what cannot be shown.
    Chip,
    /// Reserved words.
    Keyword,
    /// Types.
    Type,
    /// Functions.
    Function,
    /// Strings.
    String,
    /// Numbers.
    Number,
    /// Comments.
    Comment,
    /// The badge of Write.
    WriteBadge,
    /// The badge of Shape.
    ShapeBadge,
    /// A key on the deck or in a hint.
    KeyCap,
    /// Text that is wrong.
    ErrorText,
    /// Text that may be wrong.
    WarningText,
    /// Text that there is something to say about.
    NoteText,
}

/// How many colours the terminal has.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Depth {
    /// 24 bits.
    True,
    /// The 256 of the extended palette.
    Indexed,
    /// The 16 named ones.
    Named,
    /// None.
    None,
}

impl Depth {
    /// What the environment says: `NO_COLOR`, `COLORTERM`, `TERM`.
    pub fn of_environment(variable: impl Fn(&str) -> Option<String>) -> Depth {
        let term = variable("TERM").unwrap_or_default();
        if variable("NO_COLOR").is_some_and(|value| !value.is_empty()) || term == "dumb" || term.ends_with("-m") {
            return Depth::None;
        }
        let colours = variable("COLORTERM").unwrap_or_default();
        if colours == "truecolor" || colours == "24bit" || term.ends_with("-direct") {
            Depth::True
        } else if term.contains("256color") {
            Depth::Indexed
        } else {
            Depth::Named
        }
    }
}

/// A palette: every role's style, worked out once.
#[derive(Clone, Copy, Debug)]
pub struct Palette {
    ground: Ground,
    depth: Depth,
    styles: [Style; ROLES],
}

/// How many roles there are.
const ROLES: usize = Role::NoteText as usize + 1;

/// All roles, in their order.
const ALL_ROLES: [Role; ROLES] = [
    Role::Text,
    Role::Quiet,
    Role::Edge,
    Role::Raised,
    Role::RaisedQuiet,
    Role::Primary,
    Role::Other,
    Role::PrimarySign,
    Role::OtherSign,
    Role::Selection,
    Role::Pin,
    Role::PinSign,
    Role::Hit,
    Role::HitHere,
    Role::HitSign,
    Role::MarkSign,
    Role::Gone,
    Role::Come,
    Role::Differs,
    Role::Ghost,
    Role::Bracket,
    Role::Added,
    Role::Changed,
    Role::Removed,
    Role::Chip,
    Role::Keyword,
    Role::Type,
    Role::Function,
    Role::String,
    Role::Number,
    Role::Comment,
    Role::WriteBadge,
    Role::ShapeBadge,
    Role::KeyCap,
    Role::ErrorText,
    Role::WarningText,
    Role::NoteText,
];

impl Palette {
    /// The palette of a theme in so many colours.
    #[must_use]
    pub fn new(theme: &Theme, depth: Depth) -> Palette {
        Palette { ground: theme.ground, depth, styles: ALL_ROLES.map(|role| style_of(theme, depth, role)) }
    }

    /// The same in the colours of another theme.
    #[must_use]
    pub fn of_theme(&self, theme: &Theme) -> Palette {
        Palette::new(theme, self.depth)
    }

    /// Whether it is dark or light.
    #[must_use]
    pub fn ground(&self) -> Ground {
        self.ground
    }

    /// Whether there are colours at all.
    #[must_use]
    pub fn has_colour(&self) -> bool {
        self.depth != Depth::None
    }

    /// One of the 256 colours of the extended palette, as far as the terminal has them: what another program draws with.
    #[must_use]
    pub fn indexed(&self, index: u8) -> Option<Color> {
        match self.depth {
            Depth::None => None,
            Depth::Named if index > 15 => None,
            _ => Some(Color::Indexed(index)),
        }
    }

    /// Any colour, as near as the terminal has one.
    #[must_use]
    pub fn rgb(&self, [red, green, blue]: [u8; 3]) -> Option<Color> {
        match self.depth {
            Depth::True => Some(Color::Rgb(red, green, blue)),
            Depth::Indexed => Some(Color::Indexed(colour::nearest(colour::rgb([red, green, blue])))),
            Depth::Named | Depth::None => None,
        }
    }

    /// The style of `role`.
    #[must_use]
    pub fn style(&self, role: Role) -> Style {
        self.styles[role as usize]
    }
}

fn style_of(theme: &Theme, depth: Depth, role: Role) -> Style {
    if depth == Depth::None {
        return Style::new().add_modifier(modifiers(role) | plain_modifiers(role));
    }
    let (fore, back) = tones_of(role);
    let back = back.map(|tone| background(theme, depth, tone));
    let fore = match (depth, fore) {
        // Named colours are not what they were in the text: what is upon them is black or white.
        (Depth::Named, Some(Tone::Background)) => Some(upon(back.unwrap_or(Color::Reset))),
        (Depth::Named, None) => back.map(upon),
        _ => fore.map(|tone| foreground(theme, depth, tone)),
    };
    Style { fg: fore, bg: back, ..Style::new().add_modifier(modifiers(role)) }
}

/// Foreground and background of a role; none where what is below shows.
fn tones_of(role: Role) -> (Option<Tone>, Option<Tone>) {
    match role {
        Role::Text => (Some(Tone::Text), Some(Tone::Background)),
        Role::Quiet | Role::Ghost => (Some(Tone::Quiet), Some(Tone::Background)),
        Role::Edge => (Some(Tone::Edge), None),
        Role::Raised => (Some(Tone::Text), Some(Tone::Raised)),
        Role::RaisedQuiet => (Some(Tone::Quiet), Some(Tone::Raised)),
        Role::Primary | Role::ShapeBadge => (Some(Tone::Background), Some(Tone::Primary)),
        Role::WriteBadge => (Some(Tone::Background), Some(Tone::Other)),
        Role::Other | Role::OtherSign => (Some(Tone::Other), None),
        Role::PrimarySign | Role::KeyCap | Role::Bracket => (Some(Tone::Primary), None),
        Role::Selection => (None, Some(Tone::Selection)),
        Role::Hit => (None, Some(Tone::HitBackground)),
        Role::HitHere => (Some(Tone::Background), Some(Tone::Hit)),
        Role::HitSign => (Some(Tone::Hit), None),
        Role::Added | Role::Come => (Some(Tone::Added), None),
        Role::Changed | Role::Differs | Role::WarningText => (Some(Tone::Changed), None),
        Role::Removed | Role::Gone | Role::ErrorText => (Some(Tone::Removed), None),
        Role::Chip | Role::Pin | Role::PinSign => (Some(Tone::Pin), None),
        Role::Keyword => (Some(Tone::Keyword), None),
        Role::Type => (Some(Tone::Type), None),
        Role::Function | Role::MarkSign => (Some(Tone::Function), None),
        Role::String => (Some(Tone::String), None),
        Role::Number => (Some(Tone::Number), None),
        Role::Comment => (Some(Tone::Comment), None),
        Role::NoteText => (None, None),
    }
}

/// Attributes that a role has in any number of colours.
fn modifiers(role: Role) -> Modifier {
    match role {
        Role::Primary
        | Role::ShapeBadge
        | Role::WriteBadge
        | Role::KeyCap
        | Role::PrimarySign
        | Role::MarkSign
        | Role::HitHere => Modifier::BOLD,
        Role::Other | Role::Bracket => Modifier::UNDERLINED.union(Modifier::BOLD),
        Role::Pin | Role::ErrorText | Role::WarningText | Role::NoteText => Modifier::UNDERLINED,
        Role::Gone => Modifier::CROSSED_OUT,
        Role::Come | Role::Differs => Modifier::BOLD.union(Modifier::UNDERLINED),
        Role::Comment | Role::Ghost => Modifier::ITALIC,
        _ => Modifier::empty(),
    }
}

/// Attributes that take the place of colours where there are none.
fn plain_modifiers(role: Role) -> Modifier {
    match role {
        Role::Primary => Modifier::UNDERLINED.union(Modifier::SLOW_BLINK),
        Role::ShapeBadge | Role::WriteBadge | Role::Selection => Modifier::REVERSED,
        Role::Edge | Role::Quiet | Role::RaisedQuiet | Role::Gone | Role::Ghost => Modifier::DIM,
        Role::Chip | Role::Hit => Modifier::UNDERLINED,
        Role::HitHere => Modifier::REVERSED.union(Modifier::UNDERLINED),
        Role::Keyword => Modifier::BOLD,
        _ => Modifier::empty(),
    }
}

fn foreground(theme: &Theme, depth: Depth, tone: Tone) -> Color {
    let [red, green, blue] = parts(theme.rgb(tone));
    match depth {
        Depth::True => Color::Rgb(red, green, blue),
        Depth::Indexed => Color::Indexed(theme.of_256(tone)),
        Depth::Named | Depth::None => theme.of_16(tone),
    }
}

/// The background of a 16-colour terminal is its own: only what must be out gets another.
fn background(theme: &Theme, depth: Depth, tone: Tone) -> Color {
    match (depth, tone) {
        (Depth::Named, Tone::Background | Tone::Raised) => Color::Reset,
        _ => foreground(theme, depth, tone),
    }
}

/// What can be read upon a named colour.
fn upon(ground: Color) -> Color {
    match ground {
        Color::Blue | Color::Magenta | Color::Red | Color::DarkGray | Color::Black => Color::White,
        Color::Reset => Color::Reset,
        _ => Color::Black,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_role_is_at_its_place() {
        assert!(ALL_ROLES.iter().enumerate().all(|(index, role)| *role as usize == index));
    }

    #[test]
    fn the_environment_decides_the_depth() {
        let depth = |pairs: &[(&str, &str)]| {
            Depth::of_environment(|name| pairs.iter().find(|(key, _)| *key == name).map(|(_, value)| (*value).into()))
        };
        assert_eq!(depth(&[("TERM", "xterm"), ("COLORTERM", "truecolor")]), Depth::True);
        assert_eq!(depth(&[("TERM", "xterm-256color")]), Depth::Indexed);
        assert_eq!(depth(&[("TERM", "linux")]), Depth::Named);
        assert_eq!(depth(&[("TERM", "xterm-256color"), ("NO_COLOR", "1")]), Depth::None);
    }

    #[test]
    fn without_colours_the_signs_still_differ() {
        let plain = Palette::new(&Theme::night(), Depth::None);
        let roles = [Role::Text, Role::Primary, Role::Other, Role::Selection, Role::Quiet];
        let styles: Vec<Style> = roles.iter().map(|role| plain.style(*role)).collect();
        for (index, style) in styles.iter().enumerate() {
            assert!(styles[index + 1..].iter().all(|other| other != style), "{:?}", roles[index]);
            assert!(style.fg.is_none() && style.bg.is_none());
        }
    }
}
