//! Charts, by the plotting package `plotters`: it draws into a [`Drawing`](crate::Drawing) as it does into an image.

use crate::drawing::{Align, Face, Ink, Item, Mm};
use crate::font::width;
use plotters_backend::{
    BackendColor, BackendCoord, BackendStyle, BackendTextStyle, DrawingBackend, DrawingErrorKind, FontStyle,
    text_anchor,
};
use std::convert::Infallible;

/// A part of a drawing that `plotters` draws into: tenths of a millimetre are its pixels.
pub struct Canvas<'a> {
    /// Where its upper left corner is.
    pub at: [Mm; 2],
    /// Its width and height.
    pub size: [Mm; 2],
    /// What is drawn.
    pub items: &'a mut Vec<Item>,
}

/// Pixels of a millimetre.
const PIXELS: f32 = 10.0;

impl Canvas<'_> {
    fn place(&self, (x, y): BackendCoord) -> [Mm; 2] {
        [self.at[0] + Mm(x as f32 / PIXELS), self.at[1] + Mm(y as f32 / PIXELS)]
    }
}

fn ink(colour: BackendColor) -> Ink {
    let (red, green, blue) = colour.rgb;
    // Papers have no transparency: a colour is laid over white.
    Ink([red, green, blue].map(|part| (255.0 - (255.0 - f64::from(part)) * colour.alpha) as u8))
}

fn length(pixels: u32) -> Mm {
    Mm(pixels as f32 / PIXELS)
}

impl DrawingBackend for Canvas<'_> {
    type ErrorType = Infallible;

    fn get_size(&self) -> (u32, u32) {
        let [width, height] = self.size.map(|length| (length.0 * PIXELS) as u32);
        (width, height)
    }

    fn ensure_prepared(&mut self) -> Result<(), DrawingErrorKind<Infallible>> {
        Ok(())
    }

    fn present(&mut self) -> Result<(), DrawingErrorKind<Infallible>> {
        Ok(())
    }

    fn draw_pixel(&mut self, at: BackendCoord, colour: BackendColor) -> Result<(), DrawingErrorKind<Infallible>> {
        let fill = ink(colour);
        self.items.push(Item::Box { at: self.place(at), size: [length(1); 2], fill, edge: (fill, Mm(0.0)) });
        Ok(())
    }

    fn draw_line<S: BackendStyle>(
        &mut self,
        from: BackendCoord,
        to: BackendCoord,
        style: &S,
    ) -> Result<(), DrawingErrorKind<Infallible>> {
        let colour = style.color();
        if colour.alpha > 0.0 {
            let stroke = (ink(colour), length(style.stroke_width()));
            self.items.push(Item::Line { from: self.place(from), to: self.place(to), stroke });
        }
        Ok(())
    }

    fn draw_rect<S: BackendStyle>(
        &mut self,
        upper_left: BackendCoord,
        bottom_right: BackendCoord,
        style: &S,
        fill: bool,
    ) -> Result<(), DrawingErrorKind<Infallible>> {
        let colour = style.color();
        if colour.alpha == 0.0 {
            return Ok(());
        }
        let ([left, top], [right, bottom]) = (self.place(upper_left), self.place(bottom_right));
        let (edge, width) = (ink(colour), length(style.stroke_width()));
        if fill {
            let size = [right - left, bottom - top];
            self.items.push(Item::Box { at: [left, top], size, fill: edge, edge: (edge, Mm(0.0)) });
            return Ok(());
        }
        let corners = [[left, top], [right, top], [right, bottom], [left, bottom]];
        for (index, from) in corners.iter().enumerate() {
            let to = corners[(index + 1) % corners.len()];
            self.items.push(Item::Line { from: *from, to, stroke: (edge, width) });
        }
        Ok(())
    }

    fn fill_polygon<S: BackendStyle, I: IntoIterator<Item = BackendCoord>>(
        &mut self,
        corners: I,
        style: &S,
    ) -> Result<(), DrawingErrorKind<Infallible>> {
        let corners = corners.into_iter().map(|corner| self.place(corner)).collect();
        self.items.push(Item::Shape { corners, fill: ink(style.color()) });
        Ok(())
    }

    fn draw_text<T: BackendTextStyle>(
        &mut self,
        text: &str,
        style: &T,
        at: BackendCoord,
    ) -> Result<(), DrawingErrorKind<Infallible>> {
        let [x, y] = self.place(at);
        let size = Mm(style.size() as f32 / PIXELS);
        let face = if matches!(style.style(), FontStyle::Bold) { Face::Bold } else { Face::Regular };
        let shift = match style.anchor().h_pos {
            text_anchor::HPos::Left => Mm(0.0),
            text_anchor::HPos::Center => width(text, size, face) * 0.5,
            text_anchor::HPos::Right => width(text, size, face),
        };
        let drop = match style.anchor().v_pos {
            text_anchor::VPos::Top => size * 0.8,
            text_anchor::VPos::Center => size * 0.35,
            text_anchor::VPos::Bottom => Mm(0.0),
        };
        let (at, ink) = ([x - shift, y + drop], ink(style.color()));
        self.items.push(Item::Text { at, text: text.to_owned(), size, face, ink, align: Align::Start });
        Ok(())
    }

    fn estimate_text_size<T: BackendTextStyle>(
        &self,
        text: &str,
        style: &T,
    ) -> Result<(u32, u32), DrawingErrorKind<Infallible>> {
        let size = Mm(style.size() as f32 / PIXELS);
        Ok(((width(text, size, Face::Regular).0 * PIXELS) as u32, style.size() as u32))
    }
}
