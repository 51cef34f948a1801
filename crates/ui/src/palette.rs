//! The two palettes, night and day, and what they become with fewer colours or none.
//!
//! A role is asked for, a [`Style`] comes back. Nothing is told by colour alone: where there is none, each role
//! that matters has an attribute of its own.

use ratatui::style::{Color, Modifier, Style};

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

/// Which of the two.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum ThemeVariant {
    /// Dark background.
    #[default]
    Night,
    /// Light background.
    Day,
}

/// A palette: every role's style, worked out once.
#[derive(Clone, Copy, Debug)]
pub struct Palette {
    theme: ThemeVariant,
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

/// The colours of one variant, as 0xRRGGBB.
struct Colors {
    background: u32,
    raised: u32,
    text: u32,
    quiet: u32,
    edge: u32,
    primary: u32,
    other: u32,
    selection: u32,
    hit: u32,
    hit_background: u32,
    added: u32,
    changed: u32,
    removed: u32,
    chip: u32,
    keyword: u32,
    kind: u32,
    function: u32,
    string: u32,
    number: u32,
    comment: u32,
}

const NIGHT: Colors = Colors {
    background: 0x0F_1C22,
    raised: 0x16_272F,
    text: 0xD5_DFD8,
    quiet: 0x7C_9294,
    edge: 0x36_4D56,
    primary: 0xF2_B544,
    other: 0x5F_C9B8,
    selection: 0x27_474B,
    hit: 0xA3_95E4,
    hit_background: 0x37_345F,
    added: 0x7C_B66B,
    changed: 0xCF_A94E,
    removed: 0xE0_705F,
    chip: 0xD7_7FA1,
    keyword: 0xE5_9B6A,
    kind: 0x7F_C4E8,
    function: 0xE8_D9A8,
    string: 0xC9_D68A,
    number: 0xB6_A6E8,
    comment: 0x8A_A08F,
};

const DAY: Colors = Colors {
    background: 0xF3_F1E7,
    raised: 0xE6_E4D6,
    text: 0x20_302F,
    quiet: 0x5C_6863,
    edge: 0xBF_C3B7,
    primary: 0xB4_600A,
    other: 0x13_776B,
    selection: 0xCF_E0D6,
    hit: 0x5B_49A8,
    hit_background: 0xDD_D6F2,
    added: 0x3E_7A2E,
    changed: 0x8A_6A12,
    removed: 0xB2_3A2A,
    chip: 0xA6_3A66,
    keyword: 0xA3_471B,
    kind: 0x1D_6A96,
    function: 0x6B_5A12,
    string: 0x4C_6B12,
    number: 0x5E_46A6,
    comment: 0x56_6A5B,
};

impl Palette {
    /// The palette of a variant in so many colours.
    pub fn new(theme: ThemeVariant, depth: Depth) -> Palette {
        let bare = Palette { theme, depth, styles: [Style::new(); ROLES] };
        Palette { styles: ALL_ROLES.map(|role| bare.worked_out(role)), ..bare }
    }

    /// The same in the colours of another variant.
    #[must_use]
    pub fn of_theme(&self, theme: ThemeVariant) -> Palette {
        Palette::new(theme, self.depth)
    }

    /// Which variant it is.
    pub fn theme(&self) -> ThemeVariant {
        self.theme
    }

    /// Whether there are colours at all.
    pub fn has_colour(&self) -> bool {
        self.depth != Depth::None
    }

    fn colors(self) -> &'static Colors {
        match self.theme {
            ThemeVariant::Night => &NIGHT,
            ThemeVariant::Day => &DAY,
        }
    }

    /// The style of `role`.
    pub fn style(&self, role: Role) -> Style {
        self.styles[role as usize]
    }

    fn worked_out(self, role: Role) -> Style {
        let (fore, back) = self.colors_of(role);
        let style = Style::new().add_modifier(modifiers(role));
        match self.depth {
            Depth::None => Style::new().add_modifier(modifiers(role) | plain_modifiers(role)),
            depth => {
                let fore = fore.or((depth == Depth::Named && matches!(role, Role::Selection | Role::Hit)).then_some(0));
                let fore = fore.map(|tone| colour(tone, depth, self.theme, role));
                let back = back.map(|tone| background(tone, depth, self.theme, role));
                Style { fg: fore, bg: back, ..style }
            }
        }
    }

    /// Foreground and background of a role; none where what is below shows.
    fn colors_of(self, role: Role) -> (Option<u32>, Option<u32>) {
        let t = self.colors();
        let (fore, back) = match role {
            Role::Text => (Some(t.text), Some(t.background)),
            Role::Quiet | Role::Ghost => (Some(t.quiet), Some(t.background)),
            Role::Edge => (Some(t.edge), None),
            Role::Raised => (Some(t.text), Some(t.raised)),
            Role::RaisedQuiet => (Some(t.quiet), Some(t.raised)),
            Role::Primary | Role::ShapeBadge => (Some(t.background), Some(t.primary)),
            Role::WriteBadge => (Some(t.background), Some(t.other)),
            Role::Other | Role::OtherSign => (Some(t.other), None),
            Role::PrimarySign | Role::KeyCap | Role::Bracket => (Some(t.primary), None),
            Role::Selection => (None, Some(t.selection)),
            Role::Hit => (None, Some(t.hit_background)),
            Role::HitHere => (Some(t.background), Some(t.hit)),
            Role::HitSign => (Some(t.hit), None),
            Role::Added | Role::Come => (Some(t.added), None),
            Role::Changed | Role::WarningText => (Some(t.changed), None),
            Role::Removed | Role::Gone | Role::ErrorText => (Some(t.removed), None),
            Role::Chip | Role::Pin | Role::PinSign => (Some(t.chip), None),
            Role::Keyword => (Some(t.keyword), None),
            Role::Type => (Some(t.kind), None),
            Role::Function | Role::MarkSign => (Some(t.function), None),
            Role::String => (Some(t.string), None),
            Role::Number => (Some(t.number), None),
            Role::Comment => (Some(t.comment), None),
            Role::NoteText => (None, None),
        };
        (fore, back)
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
        Role::Come => Modifier::BOLD.union(Modifier::UNDERLINED),
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

fn parts(tone: u32) -> [u8; 3] {
    [(tone >> 16) as u8, (tone >> 8) as u8, tone as u8]
}

fn colour(tone: u32, depth: Depth, theme: ThemeVariant, role: Role) -> Color {
    let [red, green, blue] = parts(tone);
    match depth {
        Depth::True => Color::Rgb(red, green, blue),
        Depth::Indexed => Color::Indexed(nearest(tone)),
        Depth::Named | Depth::None => named(role, theme),
    }
}

/// The background of a 16-colour terminal is its own: only what must be out gets another.
fn background(tone: u32, depth: Depth, theme: ThemeVariant, role: Role) -> Color {
    match (depth, role) {
        (Depth::Named, Role::Selection) => Color::Blue,
        (Depth::Named, Role::Hit | Role::HitHere) => Color::Magenta,
        (Depth::Named, Role::Primary | Role::ShapeBadge) => Color::Yellow,
        (Depth::Named, Role::WriteBadge) => Color::Cyan,
        (Depth::Named, _) => Color::Reset,
        _ => colour(tone, depth, theme, role),
    }
}

/// Yellow and cyan are for dark grounds, magenta and blue for light ones.
fn named(role: Role, theme: ThemeVariant) -> Color {
    let (warm, cold) = match theme {
        ThemeVariant::Night => (Color::Yellow, Color::Cyan),
        ThemeVariant::Day => (Color::Magenta, Color::Blue),
    };
    match role {
        Role::Text | Role::Raised | Role::NoteText => Color::Reset,
        Role::Selection | Role::Hit => Color::White,
        Role::Edge | Role::Quiet | Role::RaisedQuiet | Role::Comment | Role::Ghost => Color::DarkGray,
        Role::Primary | Role::ShapeBadge | Role::WriteBadge | Role::HitHere => Color::Black,
        Role::PrimarySign
        | Role::KeyCap
        | Role::Bracket
        | Role::Changed
        | Role::Function
        | Role::MarkSign
        | Role::WarningText => warm,
        Role::Other | Role::OtherSign | Role::Type => cold,
        Role::Added | Role::Come | Role::String => Color::Green,
        Role::Removed | Role::Gone | Role::Keyword | Role::ErrorText => Color::Red,
        Role::Pin | Role::PinSign | Role::HitSign | Role::Chip | Role::Number => Color::Magenta,
    }
}

/// The nearest of the colours 16 to 255 of the extended palette: a cube of six steps and a row of greys.
fn nearest(tone: u32) -> u8 {
    const STEPS: [i32; 6] = [0, 95, 135, 175, 215, 255];
    let wanted = parts(tone).map(i32::from);
    let distance = |found: [i32; 3]| -> i32 { found.iter().zip(wanted).map(|(a, b)| (a - b) * (a - b)).sum() };
    let step = |part: i32| (0..6).min_by_key(|&index| (STEPS[index] - part).abs()).unwrap_or(0);
    let cube = wanted.map(step);
    let grey = ((wanted.iter().sum::<i32>() / 3 - 3) / 10).clamp(0, 23);
    let grey_distance = distance([8 + 10 * grey; 3]);
    if grey_distance < distance(cube.map(|index| STEPS[index])) {
        return 232 + grey as u8;
    }
    (16 + 36 * cube[0] + 6 * cube[1] + cube[2]) as u8
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Contrast by WCAG 2.1, relative luminance.
    fn contrast(one: u32, other: u32) -> f64 {
        let luminance = |tone: u32| {
            let linear = parts(tone).map(|part| {
                let part = f64::from(part) / 255.0;
                if part <= 0.040_45 { part / 12.92 } else { ((part + 0.055) / 1.055).powf(2.4) }
            });
            0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]
        };
        let (a, b) = (luminance(one), luminance(other));
        (a.max(b) + 0.05) / (a.min(b) + 0.05)
    }

    #[test]
    fn text_and_quiet_text_are_readable_on_every_ground() {
        for colors in [NIGHT, DAY] {
            for background in [colors.background, colors.raised, colors.selection, colors.hit_background] {
                assert!(contrast(colors.text, background) >= 7.0, "text {background:06X}");
            }
            for background in [colors.background, colors.raised] {
                assert!(contrast(colors.quiet, background) >= 4.5, "quiet {:.2}", contrast(colors.quiet, background));
            }
            for tone in [colors.keyword, colors.kind, colors.function, colors.string, colors.number, colors.comment] {
                assert!(
                    contrast(tone, colors.background) >= 4.5,
                    "{tone:06X} {:.2}",
                    contrast(tone, colors.background)
                );
            }
        }
    }

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
        let plain = Palette::new(ThemeVariant::Night, Depth::None);
        let roles = [Role::Text, Role::Primary, Role::Other, Role::Selection, Role::Quiet];
        let styles: Vec<Style> = roles.iter().map(|role| plain.style(*role)).collect();
        for (index, style) in styles.iter().enumerate() {
            assert!(styles[index + 1..].iter().all(|other| other != style), "{:?}", roles[index]);
            assert!(style.fg.is_none() && style.bg.is_none());
        }
    }
}
