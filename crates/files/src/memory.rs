//! How much memory there is: what cannot be had is refused before it is asked for, because a program that asks all the same is
//! ended.

use crate::reading;
use std::path::Path;

/// Bytes of memory that can be had without others losing theirs (`MemAvailable`, `proc_meminfo(5)`); none where the system does
/// not tell.
#[must_use]
pub fn free() -> Option<usize> {
    let told = reading::read(Path::new("/proc/meminfo"), 1 << 20).ok()?;
    available(std::str::from_utf8(&told).ok()?)
}

fn available(told: &str) -> Option<usize> {
    let line = told.lines().find_map(|line| line.strip_prefix("MemAvailable:"))?;
    let kilobytes: usize = line.trim().strip_suffix("kB")?.trim().parse().ok()?;
    kilobytes.checked_mul(1024)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_the_system_tells_is_read() {
        assert_eq!(available("MemTotal:  9 kB\nMemAvailable:   2 kB\n"), Some(2048));
        for odd in ["", "MemAvailable:", "MemAvailable: x kB", "MemAvailable: 2 MB"] {
            assert_eq!(available(odd), None, "{odd}");
        }
        assert!(free().is_none_or(|free| free > 1 << 20));
    }
}
