//! A drawing as PDF: text as text, with the letters that are used embedded.

use crate::DrawError;
use crate::drawing::{Align, Drawing, Grey, Item, Mm, Weight};
use crate::font::{bytes, width};
use krilla::color::luma;
use krilla::geom::{PathBuilder, Point, Rect};
use krilla::metadata::Metadata;
use krilla::page::PageSettings;
use krilla::paint::{Fill, Stroke};
use krilla::surface::Surface;
use krilla::text::{Font, TextDirection};

/// `drawing` as a PDF of one page.
///
/// # Errors
/// The PDF could not be made; nothing in a drawing of ours leads to that.
pub fn pdf(drawing: &Drawing) -> Result<Vec<u8>, DrawError> {
    let failed = |why: &str| DrawError::Pdf(why.to_owned());
    let [regular, bold] = [Weight::Regular, Weight::Bold].map(|weight| Font::new(bytes(weight).to_vec().into(), 0));
    let fonts = [regular.ok_or_else(|| failed("the font"))?, bold.ok_or_else(|| failed("the bold font"))?];
    let mut document = krilla::Document::new();
    document.set_metadata(Metadata::new().title(drawing.title.clone()).language("en".to_owned()));
    let [paper_width, height] = drawing.size.map(Mm::in_points);
    let settings = PageSettings::from_wh(paper_width, height).ok_or_else(|| failed("a sheet without a size"))?;
    let mut page = document.start_page_with(settings);
    let mut surface = page.surface();
    for item in &drawing.items {
        draw(item, &fonts, &mut surface);
    }
    surface.finish();
    page.finish();
    document.finish().map_err(|error| DrawError::Pdf(format!("{error:?}")))
}

fn draw(item: &Item, fonts: &[Font; 2], surface: &mut Surface) {
    match item {
        Item::Box { at, size, fill, edge: (edge, stroke) } => {
            let [x, y] = at.map(Mm::in_points);
            let [width, height] = size.map(Mm::in_points);
            let Some(rect) = Rect::from_xywh(x, y, width, height) else { return };
            let mut path = PathBuilder::new();
            path.push_rect(rect);
            surface.set_fill(Some(filled(*fill)));
            surface.set_stroke(Some(stroked(*edge, *stroke)));
            path.finish().iter().for_each(|path| surface.draw_path(path));
        }
        Item::Line { from, to, stroke: (grey, width) } => {
            let [[x1, y1], [x2, y2]] = [from, to].map(|point| point.map(Mm::in_points));
            let mut path = PathBuilder::new();
            path.move_to(x1, y1);
            path.line_to(x2, y2);
            surface.set_fill(None);
            surface.set_stroke(Some(stroked(*grey, *width)));
            path.finish().iter().for_each(|path| surface.draw_path(path));
        }
        Item::Text { at: [x, y], text, size, weight, grey, align } => {
            let shift = if *align == Align::End { width(text, *size, *weight) } else { Mm(0.0) };
            let start = Point::from_xy((*x - shift).in_points(), y.in_points());
            let font = &fonts[usize::from(*weight == Weight::Bold)];
            surface.set_fill(Some(filled(*grey)));
            surface.set_stroke(None);
            surface.draw_text(start, font.clone(), size.in_points(), text, false, TextDirection::Auto);
        }
    }
}

fn filled(Grey(grey): Grey) -> Fill {
    Fill { paint: luma::Color::new(grey).into(), ..Fill::default() }
}

fn stroked(Grey(grey): Grey, width: Mm) -> Stroke {
    Stroke { paint: luma::Color::new(grey).into(), width: width.in_points(), ..Stroke::default() }
}
