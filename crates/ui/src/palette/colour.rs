//! Colours as numbers: their parts, how bright they are, which of a terminal's colours is nearest.

/// The parts of 0xRRGGBB.
pub(crate) fn parts(rgb: u32) -> [u8; 3] {
    [(rgb >> 16) as u8, (rgb >> 8) as u8, rgb as u8]
}

/// Red, green and blue as 0xRRGGBB.
pub(crate) fn rgb([red, green, blue]: [u8; 3]) -> u32 {
    u32::from(red) << 16 | u32::from(green) << 8 | u32::from(blue)
}

/// Contrast by WCAG 2.1, relative luminance.
pub(super) fn contrast(one: u32, other: u32) -> f64 {
    let (a, b) = (luminance(one), luminance(other));
    (a.max(b) + 0.05) / (a.min(b) + 0.05)
}

/// The relative luminance of a colour, from 0 to 1 (WCAG 2.1).
pub(crate) fn luminance(rgb: u32) -> f64 {
    let linear = parts(rgb).map(|part| {
        let part = f64::from(part) / 255.0;
        if part <= 0.040_45 { part / 12.92 } else { ((part + 0.055) / 1.055).powf(2.4) }
    });
    0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]
}

/// The nearest of the colours 16 to 255 of the extended palette: a cube of six steps and a row of greys.
pub(super) fn nearest(rgb: u32) -> u8 {
    const STEPS: [i32; 6] = [0, 95, 135, 175, 215, 255];
    let wanted = parts(rgb).map(i32::from);
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
