//! The ledger as a sheet: the verbs as bars, keys for each changed line over the weeks, the ways, habits, what was learned.

use crate::Paper;
use crate::chart::Canvas;
use crate::drawing::{Drawing, Face, Ink, Item, Mm};
use crate::font::{fitting, width};
use plotters::prelude::*;

/// What is drawn.
#[derive(Clone, Debug, Default)]
pub struct LedgerSheet {
    /// What it is of, in a sentence.
    pub title: String,
    /// Verbs and how often they were used, the most used first.
    pub verbs: Vec<(String, u64)>,
    /// Weeks, each by its Monday, with keys for each changed line; none where no line was changed.
    pub weeks: Vec<(String, Option<f64>)>,
    /// Ways and their keys.
    pub ways: Vec<(String, u64)>,
    /// Habits in words, the costliest first.
    pub habits: Vec<String>,
    /// What was learned, in words.
    pub learned: Vec<String>,
    /// What it is printed on.
    pub paper: Paper,
}

const MARGIN: Mm = Mm(14.0);
const BLACK: Ink = Ink::grey(0);
const QUIET: Ink = Ink::grey(110);
const BAR: Ink = Ink([0x13, 0x77, 0x6B]);

/// Bars at most.
const MOST_BARS: usize = 14;

impl LedgerSheet {
    /// The sheet.
    #[must_use]
    pub fn drawing(&self) -> Drawing {
        let [paper, height] = self.paper.size();
        let mut items = Vec::new();
        items.push(Item::text([MARGIN, MARGIN + Mm(5.0)], "Snarvel: the ledger", (17.0, Face::Bold), BLACK));
        items.push(Item::text([MARGIN, MARGIN + Mm(11.5)], &self.title, (9.5, Face::Regular), BLACK));
        let half = (paper - MARGIN * 2.0 - Mm(12.0)) * 0.5;
        let right = MARGIN + half + Mm(12.0);
        let top = MARGIN + Mm(21.0);
        let middle = height * 0.56;
        self.bars([MARGIN, top], [half, middle - top], &mut items);
        self.weeks([right, top], [half, middle - top - Mm(22.0)], &mut items);
        self.ways([right, middle - Mm(14.0)], half, &mut items);
        let below = middle + Mm(10.0);
        let lists = [(MARGIN, "costliest habits, and what helps", &self.habits), (right, "learned", &self.learned)];
        for (x, name, lines) in lists {
            list([x, below], (name, lines), [half, height - MARGIN - below], &mut items);
        }
        Drawing { title: "Snarvel: the ledger".to_owned(), size: [paper, height], items }
    }

    fn bars(&self, [x, y]: [Mm; 2], [room, height]: [Mm; 2], items: &mut Vec<Item>) {
        items.push(Item::text([x, y], "verbs, how often", (9.5, Face::Bold), BLACK));
        let most = self.verbs.iter().map(|(_, times)| *times).max().unwrap_or(0);
        if most == 0 {
            items.push(Item::text([x, y + Mm(7.0)], "no verb was used yet", (9.0, Face::Regular), QUIET));
            return;
        }
        let top = y + Mm(4.0);
        let pitch = Mm(((height - Mm(6.0)).0 / MOST_BARS as f32).min(6.2));
        let names = room * 0.38;
        for (index, (verb, times)) in self.verbs.iter().take(MOST_BARS).enumerate() {
            let y = top + pitch * index as f32;
            let size = Mm::points(8.5);
            let name = fitting(verb, names - Mm(2.0), size, Face::Regular).into_iter().next().unwrap_or_default();
            items.push(Item::text([x, y + pitch * 0.72], &name, (8.5, Face::Regular), BLACK));
            let wide = (room - names - Mm(14.0)) * (*times as f32 / most as f32);
            let size = [Mm(wide.0.max(0.4)), pitch * 0.68];
            items.push(Item::Box { at: [x + names, y + pitch * 0.14], size, fill: BAR, edge: (BLACK, Mm(0.1)) });
            let at = [x + names + size[0] + Mm(1.5), y + pitch * 0.72];
            items.push(Item::text(at, times.to_string(), (8.5, Face::Regular), BLACK));
        }
    }

    fn weeks(&self, [x, y]: [Mm; 2], size: [Mm; 2], items: &mut Vec<Item>) {
        items.push(Item::text([x, y], "keys for each changed line, week by week", (9.5, Face::Bold), BLACK));
        let known: Vec<(usize, f64)> =
            self.weeks.iter().enumerate().filter_map(|(index, (_, keys))| Some((index, (*keys)?))).collect();
        if known.len() < 2 {
            let said = match known.first() {
                Some((_, keys)) => format!("one week so far: {keys:.1}"),
                None => "no line was changed yet".to_owned(),
            };
            items.push(Item::text([x, y + Mm(7.0)], &said, (9.0, Face::Regular), QUIET));
            return;
        }
        let canvas = Canvas { at: [x, y + Mm(3.0)], size, items };
        // Drawing into memory does not fail.
        let _ = self.chart(canvas, &known);
    }

    fn chart(
        &self,
        canvas: Canvas,
        known: &[(usize, f64)],
    ) -> Result<(), DrawingAreaErrorKind<std::convert::Infallible>> {
        let highest = known.iter().fold(1.0_f64, |highest, (_, keys)| highest.max(*keys)) * 1.15;
        let last = self.weeks.len().max(2) - 1;
        let area = canvas.into_drawing_area();
        let mut chart = ChartBuilder::on(&area)
            .margin(10)
            .margin_right(30)
            .x_label_area_size(50)
            .y_label_area_size(90)
            .build_cartesian_2d(0..last, 0.0..highest)?;
        let style = TextStyle::from(("sans-serif", 28).into_font());
        let monday = |index: &usize| self.weeks.get(*index).map_or(String::new(), |(monday, _)| monday[5..].to_owned());
        chart
            .configure_mesh()
            .disable_x_mesh()
            .set_all_tick_mark_size(12)
            .light_line_style(TRANSPARENT)
            .bold_line_style(RGBColor(215, 215, 215))
            .label_style(style)
            .x_labels(self.weeks.len().min(8))
            .x_label_formatter(&monday)
            .y_labels(5)
            .y_label_formatter(&|keys| format!("{keys:.1}"))
            .draw()?;
        let line = ShapeStyle { color: BLACK_LINE.into(), filled: true, stroke_width: 5 };
        chart.draw_series(LineSeries::new(known.iter().copied(), line))?;
        chart.draw_series(
            known
                .iter()
                .map(|point| EmptyElement::at(*point) + Rectangle::new([(-8, -8), (8, 8)], BLACK_LINE.filled())),
        )?;
        Ok(())
    }

    fn ways(&self, [x, y]: [Mm; 2], room: Mm, items: &mut Vec<Item>) {
        /// Each way by its own grey, and its name on it or below.
        const GREYS: [u8; 4] = [225, 190, 90, 140];
        let all: u64 = self.ways.iter().map(|(_, keys)| keys).sum();
        items.push(Item::text([x, y], "keys by the way they were used in", (9.5, Face::Bold), BLACK));
        if all == 0 {
            return;
        }
        let (mut at, mut key) = (x, x);
        for ((name, keys), level) in self.ways.iter().zip(GREYS).filter(|((_, keys), _)| *keys > 0) {
            let share = *keys as f32 / all as f32;
            let wide = room * share;
            let fill = Ink::grey(level);
            items.push(Item::Box { at: [at, y + Mm(2.5)], size: [wide, Mm(6.0)], fill, edge: (BLACK, Mm(0.15)) });
            let told = format!("{name} {:.0} %", share * 100.0);
            let letters = if level < 128 { Ink::grey(255) } else { BLACK };
            let told_width = width(&told, Mm::points(7.5), Face::Regular);
            if told_width.0 + 1.5 < wide.0 {
                items.push(Item::text([at + Mm(0.8), y + Mm(6.5)], &told, (7.5, Face::Regular), letters));
            } else {
                // What is too narrow for its name is told below.
                let below = y + Mm(10.5);
                items.push(Item::Box { at: [key, below], size: [Mm(2.5), Mm(2.5)], fill, edge: (BLACK, Mm(0.15)) });
                items.push(Item::text([key + Mm(3.5), below + Mm(2.2)], &told, (7.5, Face::Regular), BLACK));
                key = key + told_width + Mm(7.0);
            }
            at = at + wide;
        }
    }
}

const BLACK_LINE: RGBColor = RGBColor(20, 20, 20);

/// Lines below a heading, as many as there is room for.
fn list([x, y]: [Mm; 2], (name, lines): (&str, &[String]), [room, height]: [Mm; 2], items: &mut Vec<Item>) {
    items.push(Item::text([x, y], name, (9.5, Face::Bold), BLACK));
    if lines.is_empty() {
        items.push(Item::text([x, y + Mm(6.0)], "none yet", (9.0, Face::Regular), QUIET));
    }
    let pitch = Mm(5.2);
    let most = ((height.0 - 6.0) / pitch.0).max(0.0) as usize;
    for (index, line) in lines.iter().take(most).enumerate() {
        let size = Mm::points(8.5);
        let mut shown = line.clone();
        while width(&shown, size, Face::Regular).0 > room.0 && shown.chars().count() > 1 {
            shown = shown.chars().take(shown.chars().count() - 2).chain(['…']).collect();
        }
        items.push(Item::text([x, y + pitch * (index as f32 + 1.1)], &shown, (8.5, Face::Regular), BLACK));
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{outside, pdf, svg};

    fn sheet(weeks: usize) -> LedgerSheet {
        LedgerSheet {
            title: "30 days since 2026-10-30".to_owned(),
            verbs: (0..20).map(|index| (format!("verb-number-{index}"), 100 - index)).collect(),
            weeks: (0..weeks).map(|week| (format!("2026-09-{:02}", week + 1), Some(9.0 - week as f64))).collect(),
            ways: ["typing", "hand", "key", "lookup"].map(|way| (way.to_owned(), 50)).to_vec(),
            habits: vec![
                "word by backspace: 12 times, 60 keys; extend-word-back helps, which has a long name here"
                    .repeat(3);
                30
            ],
            learned: vec!["carry-down since 2026-10-30".to_owned()],
            ..LedgerSheet::default()
        }
    }

    #[test]
    fn everything_is_inside_the_paper() {
        for (weeks, paper) in [(0, Paper::A4), (1, Paper::Letter), (6, Paper::A4), (6, Paper::Letter)] {
            assert_eq!(outside(&LedgerSheet { paper, ..sheet(weeks) }.drawing()), None);
        }
    }

    #[test]
    fn the_same_ledger_gives_the_same_bytes() {
        assert_eq!(svg(&sheet(6).drawing()), svg(&sheet(6).drawing()));
        assert_eq!(pdf(&sheet(6).drawing()).unwrap(), pdf(&sheet(6).drawing()).unwrap());
        assert!(svg(&sheet(6).drawing()).contains("09-03"));
    }
}
