//! What a buffer has of its own as a file: its layout and its language, and where those come from.

use super::Buffer;
use super::defaults::EditorDefaults;
use super::layout::{FileSetting, Layout};
use snarvel_core::languages::Language;
use snarvel_core::text::LineEnd;
use snarvel_core::text::cells::TabWidth;
use snarvel_core::text::indent::{IndentUnit, unit_of};
use snarvel_core::verbs::scene::TextSettings;
use snarvel_files::layout::FileLayout;
use snarvel_syntax::background::Sink;
use std::sync::Arc;

impl Buffer {
    /// Takes over what `.editorconfig` files say of its file.
    pub(crate) fn take_layout(&mut self, (layout, why): (FileLayout, Option<String>)) {
        let Layout { settings, defaults, file, .. } = &mut self.layout;
        *file = layout;
        layout.tabs.into_iter().for_each(|tabs| settings.tabs = TabWidth(tabs.max(1)));
        let shown = unit_of(&self.text, settings.tabs);
        settings.unit = match layout.unit {
            // Spaces, as many as the text shows.
            Some(IndentUnit::Spaces(0)) => {
                let spaces = |unit: &IndentUnit| *unit != IndentUnit::Tab;
                shown.filter(spaces).or(Some(defaults.unit).filter(spaces)).unwrap_or(EditorDefaults::default().unit)
            }
            Some(unit) => unit,
            None => shown.unwrap_or(settings.unit),
        };
        settings.line_end = layout.line_end.unwrap_or(settings.line_end);
        layout.text_width.into_iter().for_each(|width| settings.text_width = width.max(1));
        self.warning = why;
    }

    /// Takes over what holds where the text and `.editorconfig` say nothing. What was set by hand stays.
    pub fn take_defaults(&mut self, defaults: EditorDefaults) {
        let fresh = defaults.settings_for(&self.text, self.language());
        let Layout { settings, defaults: known, by_hand, .. } = &mut self.layout;
        let before = *settings;
        *known = defaults;
        *settings = TextSettings { line_end: before.line_end, view_lines: before.view_lines, ..fresh };
        let by_hand = *by_hand;
        self.take_layout((self.layout.file, self.warning.clone()));
        let settings = &mut self.layout.settings;
        settings.line_end = before.line_end;
        if by_hand[FileSetting::TabWidth as usize] {
            settings.tabs = before.tabs;
        }
        if by_hand[FileSetting::Indentation as usize] {
            settings.unit = before.unit;
        }
    }

    /// Where a setting of this text comes from.
    #[must_use]
    pub fn origin_of(&self, setting: FileSetting) -> &'static str {
        let Layout { file, by_hand, defaults, settings } = &self.layout;
        let is_in_config = match setting {
            FileSetting::TabWidth => file.tabs.is_some(),
            FileSetting::Indentation => file.unit.is_some(),
            FileSetting::LineEnds => file.line_end.is_some(),
            FileSetting::Language => false,
        };
        let shows_unit = || unit_of(&self.text, settings.tabs).is_some() || settings.unit != defaults.unit;
        match setting {
            _ if by_hand[setting as usize] => "set here",
            _ if is_in_config => ".editorconfig",
            FileSetting::TabWidth => "settings",
            FileSetting::Indentation if !shows_unit() => "settings",
            FileSetting::Language => "its name",
            FileSetting::Indentation | FileSetting::LineEnds => "the text",
        }
    }

    fn note_by_hand(&mut self, setting: FileSetting) {
        self.layout.by_hand[setting as usize] = true;
    }

    /// Tab stops are so far apart from now on.
    pub fn set_tabs(&mut self, tabs: TabWidth) {
        self.note_by_hand(FileSetting::TabWidth);
        self.layout.settings.tabs = tabs;
    }

    /// Takes it as a text in `language` whatever its name says; its parser reports to `sink`.
    pub fn set_language_by_hand(&mut self, language: &Arc<Language>, sink: Option<Sink>) {
        self.note_by_hand(FileSetting::Language);
        self.set_language(language, sink);
    }

    /// One step of indentation is this from now on.
    pub fn set_unit(&mut self, unit: IndentUnit) {
        self.note_by_hand(FileSetting::Indentation);
        self.layout.settings.unit = unit;
    }

    /// New line ends are of this kind from now on.
    pub fn set_line_end(&mut self, line_end: LineEnd) {
        self.note_by_hand(FileSetting::LineEnds);
        self.layout.settings.line_end = line_end;
    }
}
