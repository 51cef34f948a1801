//! Drawings as SVG 1.1: boxes are `rect`, texts are `text`. Several pages are drawn one below the other.

use crate::drawing::{Align, Drawing, Face, Ink, Item, Mm};
use crate::font::{families, width};
use svg::Document;
use svg::node::element::{Group, Line, Polygon, Rectangle, Text, Title};

/// What is between two pages.
const BETWEEN: Mm = Mm(6.0);

/// `drawing` as an SVG document.
#[must_use]
pub fn svg(drawing: &Drawing) -> String {
    svg_pages(std::slice::from_ref(drawing))
}

/// `pages` as one SVG document, one below the other.
#[must_use]
pub fn svg_pages(pages: &[Drawing]) -> String {
    let widest = pages.iter().fold(0.0_f32, |widest, page| widest.max(page.size[0].0));
    let between = BETWEEN.0 * pages.len().saturating_sub(1) as f32;
    let height = pages.iter().map(|page| page.size[1].0).sum::<f32>() + between;
    let mut document = Document::new()
        .set("width", format!("{}mm", number(Mm(widest))))
        .set("height", format!("{}mm", number(Mm(height))))
        .set("viewBox", format!("0 0 {} {}", number(Mm(widest)), number(Mm(height))))
        .set("font-family", families(Face::Regular));
    if let Some(first) = pages.first() {
        document = document.add(Title::new(first.title.clone()));
    }
    let mut y = Mm(0.0);
    for page in pages {
        let [width, height] = page.size;
        let paper = Rectangle::new().set("width", number(width)).set("height", number(height)).set("fill", "#ffffff");
        let mut group = Group::new().add(paper);
        if y.0 > 0.0 {
            group = group.set("transform", format!("translate(0 {})", number(y)));
        }
        document = document.add(page.items.iter().fold(group, drawn));
        y = y + height + BETWEEN;
    }
    format!("{document}\n")
}

fn drawn(group: Group, item: &Item) -> Group {
    match item {
        Item::Box { at: [x, y], size: [width, height], fill, edge: (edge, stroke) } => {
            let mut rect = Rectangle::new()
                .set("x", number(*x))
                .set("y", number(*y))
                .set("width", number(*width))
                .set("height", number(*height))
                .set("fill", colour(*fill));
            if stroke.0 > 0.0 {
                rect = rect.set("stroke", colour(*edge)).set("stroke-width", number(*stroke));
            }
            group.add(rect)
        }
        Item::Line { from: [x1, y1], to: [x2, y2], stroke: (ink, width) } => group.add(
            Line::new()
                .set("x1", number(*x1))
                .set("y1", number(*y1))
                .set("x2", number(*x2))
                .set("y2", number(*y2))
                .set("stroke", colour(*ink))
                .set("stroke-width", number(*width)),
        ),
        Item::Shape { corners, fill } => {
            let points: Vec<String> = corners.iter().map(|[x, y]| format!("{},{}", number(*x), number(*y))).collect();
            group.add(Polygon::new().set("points", points.join(" ")).set("fill", colour(*fill)))
        }
        Item::Text { at: [x, y], text, size, face, ink, align } => {
            let mut node = Text::new(text.clone())
                .set("x", number(*x))
                .set("y", number(*y))
                .set("font-size", number(*size))
                .set("fill", colour(*ink));
            if matches!(face, Face::Bold | Face::MonoBold) {
                node = node.set("font-weight", "bold");
            }
            if matches!(face, Face::Mono | Face::MonoBold) {
                // Every blank counts, and every cell is as wide in another font.
                node = node
                    .set("font-family", families(*face))
                    .set("xml:space", "preserve")
                    .set("textLength", number(width(text, *size, *face)))
                    .set("lengthAdjust", "spacingAndGlyphs");
            }
            if *align == Align::End {
                node = node.set("text-anchor", "end");
            }
            group.add(node)
        }
    }
}

/// A length with as many places as a print shows.
fn number(length: Mm) -> String {
    let text = format!("{:.2}", length.0);
    text.trim_end_matches('0').trim_end_matches('.').to_owned()
}

fn colour(Ink([red, green, blue]): Ink) -> String {
    format!("#{red:02x}{green:02x}{blue:02x}")
}
