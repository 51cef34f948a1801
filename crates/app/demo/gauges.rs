// Skerry Sound pilot station: the tide gauges.
//
// Eight short tasks. Alt with a key runs the verb that the deck below shows, Ctrl+G goes to a line.
//   1. `station` (line 20) belongs before `level_mm`: Alt+W carries a line up, Alt+S down.
//   2. `Missing` (30) comes first: Alt+Shift+W carries it up within its list; do it twice.
//   3. `print_raw` (107) goes: Alt+, takes the line, then the next ones; Alt+C switches them off.
//   4. Every gauge (44) was checked: Alt+F four times, End, type ` // checked`, then Esc.
//   5. Line 42 holds two sentences: Alt+Z at the second one (42:51) splits it.
//   6. `offset_mm` (37:9) is called `correction_mm`: F2 takes every use, type the name, Esc.
//   7. Line 13 belongs below line 14: Ctrl+X cuts a line, Ctrl+V puts it above another.
//   8. Ctrl+Z takes it all back; Ctrl+T shows every step, and goes to any. Ctrl+Q leaves.

use std::collections::BTreeMap;
use std::fmt;

/// One reading of one gauge.
#[derive(Clone, Debug, PartialEq)]
pub struct Reading {
    pub level_mm: i32,
    pub station: String,
    pub minute: u32,
    pub quality: Quality,
}

/// How far a reading can be trusted.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Quality {
    Good,
    Doubtful,
    Missing,
}

/// A gauge on a quay or a skerry, and what must be taken off its readings.
#[derive(Clone, Debug)]
pub struct Gauge {
    pub name: &'static str,
    pub offset_mm: i32,
    pub lowest_mm: i32,
    pub highest_mm: i32,
}

// The outer gauges first, the harbour ones last. Number 4 is out for repair.
pub const GAUGES: [Gauge; 5] = [
    Gauge { name: "north skerry", offset_mm: -120, lowest_mm: -900, highest_mm: 1400 },
    Gauge { name: "south skerry", offset_mm: -85, lowest_mm: -900, highest_mm: 1400 },
    Gauge { name: "fairway buoy", offset_mm: 0, lowest_mm: -950, highest_mm: 1500 },
    Gauge { name: "pilot quay", offset_mm: 40, lowest_mm: -700, highest_mm: 1250 },
    Gauge { name: "fuel quay", offset_mm: 45, lowest_mm: -700, highest_mm: 1250 },
];

impl Gauge {
    /// The level above chart datum, or nothing where the gauge cannot have seen it.
    pub fn corrected(&self, raw_mm: i32) -> Option<i32> {
        let level = raw_mm + self.offset_mm;
        if level < self.lowest_mm || level > self.highest_mm {
            return None;
        }
        Some(level)
    }

    pub fn quality(&self, raw_mm: i32) -> Quality {
        match self.corrected(raw_mm) {
            None => Quality::Missing,
            Some(level) if level > self.highest_mm - 50 => Quality::Doubtful,
            Some(_) => Quality::Good,
        }
    }
}

impl fmt::Display for Reading {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{:>14}  {:>5} mm  {:02}:{:02}", self.station, self.level_mm, self.minute / 60, self.minute % 60)
    }
}

/// Reads lines like `pilot quay;615;830`: station, minute of the day, raw level in mm.
pub fn read_lines(lines: &str) -> (Vec<Reading>, Vec<String>) {
    let mut readings = Vec::new();
    let mut refused = Vec::new();
    for line in lines.lines() {
        let mut parts = line.split(';');
        let gauge = parts.next().and_then(|name| GAUGES.iter().find(|gauge| gauge.name == name));
        let minute = parts.next().and_then(|text| text.trim().parse::<u32>().ok());
        let raw = parts.next().and_then(|text| text.trim().parse::<i32>().ok());
        match (gauge, minute, raw) {
            (Some(gauge), Some(minute), Some(raw)) => {
                let level_mm = gauge.corrected(raw).unwrap_or(gauge.lowest_mm);
                let quality = gauge.quality(raw);
                readings.push(Reading { level_mm, station: gauge.name.to_string(), minute, quality });
            }
            _ => refused.push(line.to_string()),
        }
    }
    (readings, refused)
}

/// The highest level that each station has seen.
pub fn highest(readings: &[Reading]) -> BTreeMap<&str, i32> {
    let mut highest = BTreeMap::new();
    for reading in readings {
        let level = highest.entry(reading.station.as_str()).or_insert(i32::MIN);
        *level = (*level).max(reading.level_mm);
    }
    highest
}

fn print_raw(lines: &str) {
    for line in lines.lines() {
        println!("raw    {line}");
    }
}

fn main() {
    let log = "pilot quay;615;830\nnorth skerry;615;1020\nfuel quay;620;2900\nlighthouse;620;12";
    print_raw(log);
    let (readings, refused) = read_lines(log);
    for reading in &readings {
        println!("{reading}  {:?}", reading.quality);
    }
    for line in &refused {
        println!("no such gauge, or no number: {line}");
    }
    for (station, level) in highest(&readings) {
        println!("highest at {station}: {level} mm");
    }
}
