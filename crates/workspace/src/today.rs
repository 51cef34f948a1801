//! The date.

/// The date of today, as ISO 8601 writes it.
#[must_use]
pub fn today() -> String {
    chrono::Local::now().format("%Y-%m-%d").to_string()
}
