//! The date.

use chrono::{Days, Local};

/// The date of today, as ISO 8601 writes it.
#[must_use]
pub fn today() -> String {
    days_ago(0)
}

/// The date so many days before today, as ISO 8601 writes it.
#[must_use]
pub fn days_ago(days: u32) -> String {
    let today = Local::now().date_naive();
    today.checked_sub_days(Days::new(days.into())).unwrap_or(today).format("%Y-%m-%d").to_string()
}
