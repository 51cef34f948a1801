//! Drawings as PDF: text as text, with the letters that are used embedded.

use crate::DrawError;
use crate::drawing::{Align, Drawing, Face, Ink, Item, Mm};
use crate::font::{Letter, bytes, letters, width};
use krilla::color::{luma, rgb};
use krilla::geom::{PathBuilder, Point, Rect};
use krilla::metadata::Metadata;
use krilla::page::PageSettings;
use krilla::paint::{Fill, Paint, Stroke};
use krilla::surface::Surface;
use krilla::text::{Font, GlyphId, KrillaGlyph, TextDirection};

/// `drawing` as a PDF of one page.
///
/// # Errors
/// The PDF could not be made; nothing in a drawing of ours leads to that.
pub fn pdf(drawing: &Drawing) -> Result<Vec<u8>, DrawError> {
    pdf_pages(std::slice::from_ref(drawing))
}

/// `pages` as one PDF, a page each.
///
/// # Errors
/// The PDF could not be made; nothing in a drawing of ours leads to that.
pub fn pdf_pages(pages: &[Drawing]) -> Result<Vec<u8>, DrawError> {
    let failed = |why: &str| DrawError::Pdf(why.to_owned());
    let fonts: Option<Vec<Font>> = Face::ALL.iter().map(|face| Font::new(bytes(*face).to_vec().into(), 0)).collect();
    let fonts = fonts.ok_or_else(|| failed("a font"))?;
    let mut document = krilla::Document::new();
    let title = pages.first().map(|page| page.title.clone()).unwrap_or_default();
    document.set_metadata(Metadata::new().title(title).language("en".to_owned()));
    for drawing in pages {
        let [paper_width, height] = drawing.size.map(Mm::in_points);
        let settings = PageSettings::from_wh(paper_width, height).ok_or_else(|| failed("a sheet without a size"))?;
        let mut page = document.start_page_with(settings);
        let mut surface = page.surface();
        for item in &drawing.items {
            draw(item, &fonts, &mut surface);
        }
        surface.finish();
        page.finish();
    }
    document.finish().map_err(|error| DrawError::Pdf(format!("{error:?}")))
}

fn draw(item: &Item, fonts: &[Font], surface: &mut Surface) {
    match item {
        Item::Box { at, size, fill, edge: (edge, stroke) } => {
            let [x, y] = at.map(Mm::in_points);
            let [width, height] = size.map(Mm::in_points);
            let Some(rect) = Rect::from_xywh(x, y, width, height) else { return };
            let mut path = PathBuilder::new();
            path.push_rect(rect);
            surface.set_fill(Some(filled(*fill)));
            surface.set_stroke((stroke.0 > 0.0).then(|| stroked(*edge, *stroke)));
            path.finish().iter().for_each(|path| surface.draw_path(path));
        }
        Item::Line { from, to, stroke: (ink, width) } => {
            let [[x1, y1], [x2, y2]] = [from, to].map(|point| point.map(Mm::in_points));
            let mut path = PathBuilder::new();
            path.move_to(x1, y1);
            path.line_to(x2, y2);
            surface.set_fill(None);
            surface.set_stroke(Some(stroked(*ink, *width)));
            path.finish().iter().for_each(|path| surface.draw_path(path));
        }
        Item::Shape { corners, fill } => {
            let mut path = PathBuilder::new();
            for (index, [x, y]) in corners.iter().map(|corner| corner.map(Mm::in_points)).enumerate() {
                if index == 0 { path.move_to(x, y) } else { path.line_to(x, y) }
            }
            path.close();
            surface.set_fill(Some(filled(*fill)));
            surface.set_stroke(None);
            path.finish().iter().for_each(|path| surface.draw_path(path));
        }
        Item::Text { at: [x, y], text, size, face, ink, align } => {
            let shift = if *align == Align::End { width(text, *size, *face) } else { Mm(0.0) };
            let start = Point::from_xy((*x - shift).in_points(), y.in_points());
            surface.set_fill(Some(filled(*ink)));
            surface.set_stroke(None);
            let font = fonts[*face as usize].clone();
            match letters(text, *face) {
                // Shaping costs a hundred times as much.
                Some(letters) => {
                    let glyph = |(at, letter): (usize, &Letter)| {
                        let number = GlyphId::new(letter.glyph.into());
                        KrillaGlyph::new(number, letter.advance, 0.0, 0.0, 0.0, at..at + 1, None)
                    };
                    let glyphs: Vec<KrillaGlyph> = letters.iter().enumerate().map(glyph).collect();
                    surface.draw_glyphs(start, &glyphs, font, text, size.in_points(), false);
                }
                None => surface.draw_text(start, font, size.in_points(), text, false, TextDirection::Auto),
            }
        }
    }
}

fn paint(Ink([red, green, blue]): Ink) -> Paint {
    if red == green && green == blue { luma::Color::new(red).into() } else { rgb::Color::new(red, green, blue).into() }
}

fn filled(ink: Ink) -> Fill {
    Fill { paint: paint(ink), ..Fill::default() }
}

fn stroked(ink: Ink, width: Mm) -> Stroke {
    Stroke { paint: paint(ink), width: width.in_points(), ..Stroke::default() }
}
