//! A drawing as SVG 1.1: boxes are `rect`, texts are `text`.

use crate::drawing::{Align, Drawing, Grey, Item, Mm, Weight};
use crate::font::FAMILY;
use svg::Document;
use svg::node::element::{Line, Rectangle, Text, Title};

/// `drawing` as an SVG document.
#[must_use]
pub fn svg(drawing: &Drawing) -> String {
    let [width, height] = drawing.size;
    let mut document = Document::new()
        .set("width", format!("{}mm", number(width)))
        .set("height", format!("{}mm", number(height)))
        .set("viewBox", format!("0 0 {} {}", number(width), number(height)))
        .set("font-family", format!("'{FAMILY}', 'Verdana', sans-serif"))
        .add(Title::new(drawing.title.clone()))
        .add(Rectangle::new().set("width", "100%").set("height", "100%").set("fill", "#ffffff"));
    for item in &drawing.items {
        document = match item {
            Item::Box { at: [x, y], size: [width, height], fill, edge: (edge, stroke) } => document.add(
                Rectangle::new()
                    .set("x", number(*x))
                    .set("y", number(*y))
                    .set("width", number(*width))
                    .set("height", number(*height))
                    .set("fill", colour(*fill))
                    .set("stroke", colour(*edge))
                    .set("stroke-width", number(*stroke)),
            ),
            Item::Line { from: [x1, y1], to: [x2, y2], stroke: (grey, width) } => document.add(
                Line::new()
                    .set("x1", number(*x1))
                    .set("y1", number(*y1))
                    .set("x2", number(*x2))
                    .set("y2", number(*y2))
                    .set("stroke", colour(*grey))
                    .set("stroke-width", number(*width)),
            ),
            Item::Text { at: [x, y], text, size, weight, grey, align } => {
                let mut node = Text::new(text.clone())
                    .set("x", number(*x))
                    .set("y", number(*y))
                    .set("font-size", number(*size))
                    .set("fill", colour(*grey));
                if *weight == Weight::Bold {
                    node = node.set("font-weight", "bold");
                }
                if *align == Align::End {
                    node = node.set("text-anchor", "end");
                }
                document.add(node)
            }
        };
    }
    format!("{document}\n")
}

/// A length with as many places as a print shows.
fn number(length: Mm) -> String {
    let text = format!("{:.2}", length.0);
    text.trim_end_matches('0').trim_end_matches('.').to_owned()
}

fn colour(Grey(grey): Grey) -> String {
    format!("#{grey:02x}{grey:02x}{grey:02x}")
}
