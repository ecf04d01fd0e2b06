//! Charts as pictures: PNG with letters of a font that is built in, or SVG with those of whoever shows it.

use std::io;

use ab_glyph::{Font, FontRef};
use plotters::coord::Shift;
use plotters::element::{Circle, PathElement, Polygon, Rectangle, Text};
use plotters::prelude::{
    BitMapBackend, DrawingArea, DrawingBackend, IntoDrawingArea, RGBColor, SVGBackend, WHITE,
};
use plotters::style::text_anchor::{HPos, Pos, VPos};
use plotters::style::{Color, FontStyle, IntoFont, TextStyle, register_font};

use crate::charting::{ChartPanel, PIXELS, SeriesMarks};
use crate::report::chart::TitledChart;

/// The size of a picture.
const SIZE: (u32, u32) = (1_280, 800);
/// Room around the plots.
const LEFT: i32 = 110;
const TOP: i32 = 84;
const BOTTOM: i32 = 76;
/// Room above a panel for its title.
const ABOVE: i32 = 34;

/// DejaVu Sans: Latin, Greek, Cyrillic, Arabic, Hebrew and more; see `fonts/LICENSE`.
static LETTERS: &[u8] = include_bytes!("../fonts/DejaVuSans.ttf");
const FAMILY: &str = "sans-serif";

const INK: RGBColor = RGBColor(0x22, 0x22, 0x22);
const FAINT: RGBColor = RGBColor(0xDD, 0xDD, 0xDD);
const MIDDLE: RGBColor = RGBColor(0x77, 0x77, 0x77);

/// Colours that are told apart by colour-blind readers (Okabe and Ito 2008), and by their lightness in grey; the last one
/// is that of the others together.
const COLORS: [RGBColor; 8] = [
    RGBColor(0x00, 0x72, 0xB2),
    RGBColor(0xE6, 0x9F, 0x00),
    RGBColor(0x00, 0x00, 0x00),
    RGBColor(0x56, 0xB4, 0xE9),
    RGBColor(0xD5, 0x5E, 0x00),
    RGBColor(0x00, 0x9E, 0x73),
    RGBColor(0xCC, 0x79, 0xA7),
    RGBColor(0x99, 0x99, 0x99),
];

/// The letters of a text for which a PNG has none.
pub fn missing_letters(text: &str) -> String {
    let Ok(font) = FontRef::try_from_slice(LETTERS) else { return String::new() };
    let is_missing = |c: &char| !c.is_whitespace() && font.glyph_id(*c).0 == 0;
    text.chars().filter(is_missing).collect()
}

/// The text with a question mark for each letter that a PNG lacks.
fn with_letters(text: &str, missing: &str) -> String {
    text.chars().map(|c| if missing.contains(c) { '?' } else { c }).collect()
}

/// The chart as a PNG (RFC 2083).
///
/// # Errors
/// It cannot be encoded.
pub fn png(titled: &TitledChart) -> io::Result<Vec<u8>> {
    // Whoever registers it twice changes nothing.
    let _ = register_font(FAMILY, FontStyle::Normal, LETTERS);
    let (width, height) = SIZE;
    let scale = FINER as u32;
    let mut fine = vec![0; (width * height * scale * scale * 3) as usize];
    let backend = BitMapBackend::with_buffer(&mut fine, (width * scale, height * scale));
    draw(&backend.into_drawing_area(), titled, true).map_err(io::Error::other)?;
    let pixels = averaged(&fine, width as usize * FINER);
    let mut bytes = Vec::new();
    let mut encoder = png::Encoder::new(&mut bytes, width, height);
    encoder.set_color(png::ColorType::Rgb);
    encoder.set_depth(png::BitDepth::Eight);
    let mut writer = encoder.write_header().map_err(io::Error::other)?;
    writer.write_image_data(&pixels).map_err(io::Error::other)?;
    writer.finish().map_err(io::Error::other)?;
    Ok(bytes)
}

/// A PNG is drawn so many times as wide and as high, and then made smaller: letters stand where they belong.
const FINER: usize = 2;

/// The mean of each square of pixels, three bytes each, of lines of so many.
fn averaged(fine: &[u8], width: usize) -> Vec<u8> {
    let line = width * 3;
    let mut pixels = Vec::with_capacity(fine.len() / (FINER * FINER));
    for lines in fine.chunks_exact(line * FINER) {
        for left in (0..line).step_by(3 * FINER) {
            for color in 0..3 {
                let square = (0..FINER)
                    .flat_map(|y| (0..FINER).map(move |x| y * line + left + 3 * x + color));
                let sum: usize = square.map(|at| usize::from(lines[at])).sum();
                pixels.push((sum / (FINER * FINER)) as u8);
            }
        }
    }
    pixels
}

/// The chart as an SVG (W3C, SVG 1.1).
///
/// # Errors
/// It cannot be drawn.
pub fn svg(titled: &TitledChart) -> io::Result<Vec<u8>> {
    let _ = register_font(FAMILY, FontStyle::Normal, LETTERS);
    let mut text = String::new();
    let backend = SVGBackend::with_string(&mut text, SIZE);
    draw(&backend.into_drawing_area(), titled, false).map_err(io::Error::other)?;
    Ok(text.into_bytes())
}

type Area<B> = DrawingArea<B, Shift>;

/// Where a panel is drawn, in pixels.
#[derive(Clone, Copy)]
struct Frame {
    left: i32,
    top: i32,
    right: i32,
    bottom: i32,
}

impl Frame {
    fn x(self, share: f64) -> i32 {
        self.left + (share * f64::from(self.right - self.left)).round() as i32
    }

    fn y(self, share: f64) -> i32 {
        self.bottom - (share * f64::from(self.bottom - self.top)).round() as i32
    }
}

fn draw<B: DrawingBackend>(area: &Area<B>, titled: &TitledChart, is_png: bool) -> Result<(), String>
where
    B::ErrorType: 'static,
{
    let failed = |error: plotters::drawing::DrawingAreaErrorKind<B::ErrorType>| error.to_string();
    area.fill(&WHITE).map_err(failed)?;
    let pen = Pen { area, is_png, scale: if is_png { FINER as i32 } else { 1 } };
    let (width, height) = (SIZE.0 as i32, SIZE.1 as i32);
    pen.text(&titled.title, (24, 18), 21, INK, (HPos::Left, VPos::Top))?;
    legend(&pen, titled)?;
    let count = titled.chart.panels.len().max(1) as i32;
    let room = (height - TOP - BOTTOM) / count;
    for (at, panel) in (0..).zip(&titled.chart.panels) {
        let above = if panel.title.is_some() { ABOVE } else { 0 };
        let frame = Frame {
            left: LEFT,
            top: TOP + at * room + above,
            right: LEFT + PIXELS as i32,
            bottom: TOP + (at + 1) * room - if at + 1 < count { 18 } else { 0 },
        };
        draw_panel(&pen, titled, panel, frame, at + 1 == count)?;
    }
    if let Some(note) = titled.notes.first() {
        pen.text(&format!("{note}."), (24, height - 12), 14, MIDDLE, (HPos::Left, VPos::Bottom))?;
    }
    let ours = (width - 24, height - 12);
    pen.text("metachron", ours, 12, MIDDLE, (HPos::Right, VPos::Bottom))?;
    area.present().map_err(failed)
}

/// What is drawn on.
struct Pen<'a, B: DrawingBackend> {
    area: &'a Area<B>,
    is_png: bool,
    /// Pixels that are drawn for one of the picture.
    scale: i32,
}

impl<B: DrawingBackend> Pen<'_, B>
where
    B::ErrorType: 'static,
{
    fn text(
        &self,
        text: &str,
        at: (i32, i32),
        size: i32,
        color: RGBColor,
        (across, up): (HPos, VPos),
    ) -> Result<(), String> {
        let text =
            if self.is_png { with_letters(text, &missing_letters(text)) } else { text.to_owned() };
        // In an SVG the size is that of the letters without the room between lines.
        let size = if self.is_png { size * self.scale } else { size * 5 / 4 };
        let font = (FAMILY, size).into_font();
        let style = TextStyle::from(font).color(&color).pos(Pos::new(across, up));
        self.area.draw(&Text::new(text, self.at(at), style)).map_err(|error| error.to_string())
    }

    /// Where a point of the picture is drawn.
    fn at(&self, (x, y): (i32, i32)) -> (i32, i32) {
        (x * self.scale, y * self.scale)
    }

    fn line(&self, points: Vec<(i32, i32)>, color: RGBColor, width: i32) -> Result<(), String> {
        let points: Vec<(i32, i32)> = points.into_iter().map(|own| self.at(own)).collect();
        let style = color.stroke_width((width * self.scale).unsigned_abs());
        self.area.draw(&PathElement::new(points, style)).map_err(|error| error.to_string())
    }

    /// From the upper left corner to the lower right one, which is outside.
    fn rectangle(&self, corners: [(i32, i32); 2], color: RGBColor) -> Result<(), String> {
        let [first, (right, bottom)] = corners.map(|own| self.at(own));
        // A PNG has pixels, and its last one is inside.
        let inside = i32::from(self.is_png);
        let corners = [first, (right - inside, bottom - inside)];
        self.area.draw(&Rectangle::new(corners, color.filled())).map_err(|error| error.to_string())
    }

    /// A mark of a group: each has a shape of its own.
    fn mark(&self, center: (i32, i32), group: usize, radius: i32) -> Result<(), String> {
        let color = COLORS[group % COLORS.len()];
        let ((x, y), r) = (self.at(center), radius * self.scale);
        let polygon = |points: Vec<(i32, i32)>| {
            self.area.draw(&Polygon::new(points, color.filled())).map_err(|error| error.to_string())
        };
        let stroke = |points: Vec<(i32, i32)>| {
            let style = color.stroke_width((2 * self.scale).unsigned_abs());
            self.area.draw(&PathElement::new(points, style)).map_err(|error| error.to_string())
        };
        match group % 6 {
            0 => {
                let circle = Circle::new((x, y), r, color.filled());
                self.area.draw(&circle).map_err(|error| error.to_string())
            }
            1 => polygon(vec![(x - r, y - r), (x + r, y - r), (x + r, y + r), (x - r, y + r)]),
            2 => polygon(vec![(x, y - r - 1), (x + r + 1, y + r), (x - r - 1, y + r)]),
            3 => polygon(vec![(x, y - r - 1), (x + r + 1, y), (x, y + r + 1), (x - r - 1, y)]),
            4 => polygon(vec![(x, y + r + 1), (x + r + 1, y - r), (x - r - 1, y - r)]),
            _ => {
                stroke(vec![(x - r, y - r), (x + r, y + r)])?;
                stroke(vec![(x - r, y + r), (x + r, y - r)])
            }
        }
    }
}

/// The names of the groups, each with its mark.
fn legend<B: DrawingBackend>(pen: &Pen<'_, B>, titled: &TitledChart) -> Result<(), String>
where
    B::ErrorType: 'static,
{
    let series = titled.chart.panels.first().map_or(&[][..], |panel| &panel.series);
    let names: Vec<&str> = series.iter().filter_map(|own| own.name.as_deref()).collect();
    let mut x = LEFT;
    for (group, name) in names.iter().enumerate() {
        let shown = if name.is_empty() { "-" } else { name };
        let style = TextStyle::from((FAMILY, 15 * pen.scale).into_font());
        let (width, _) = pen.area.estimate_text_size(shown, &style).unwrap_or((160, 15));
        let width = width as i32 / pen.scale;
        pen.mark((x + 6, 58), group, 5)?;
        pen.text(shown, (x + 18, 58), 15, INK, (HPos::Left, VPos::Center))?;
        x += 18 + width + 28;
    }
    Ok(())
}

fn draw_panel<B: DrawingBackend>(
    pen: &Pen<'_, B>,
    titled: &TitledChart,
    panel: &ChartPanel,
    frame: Frame,
    is_last: bool,
) -> Result<(), String>
where
    B::ErrorType: 'static,
{
    let chart = &titled.chart;
    if let Some(title) = &panel.title {
        let span = panel
            .ends
            .as_ref()
            .map_or(String::new(), |[first, last]| format!(": {first} to {last}"));
        let at = (frame.left, frame.top - 8);
        pen.text(&format!("{title}{span}"), at, 16, INK, (HPos::Left, VPos::Bottom))?;
    }
    for (number, label) in &chart.y.ticks {
        let y = frame.y(chart.y.share(*number));
        pen.line(vec![(frame.left, y), (frame.right, y)], FAINT, 1)?;
        pen.text(label, (frame.left - 10, y), 14, INK, (HPos::Right, VPos::Center))?;
    }
    if panel.title.is_none() {
        pen.text(
            &titled.y_title,
            (frame.left, frame.top - 6),
            14,
            MIDDLE,
            (HPos::Left, VPos::Bottom),
        )?;
    } else {
        pen.text(
            &titled.y_title,
            (frame.right, frame.top - 8),
            14,
            MIDDLE,
            (HPos::Right, VPos::Bottom),
        )?;
    }
    for (group, series) in panel.series.iter().enumerate() {
        draw_series(pen, titled, &series.marks, frame, group)?;
    }
    pen.line(vec![(frame.left, frame.bottom), (frame.right, frame.bottom)], INK, 1)?;
    for tick in &chart.x.ticks {
        let x = frame.x(chart.x.share(tick.at));
        pen.line(vec![(x, frame.bottom), (x, frame.bottom + 6)], INK, 1)?;
        if !is_last {
            continue;
        }
        pen.text(&tick.label, (x, frame.bottom + 10), 14, INK, (HPos::Center, VPos::Top))?;
        if let Some(part_of) = &tick.part_of {
            pen.text(part_of, (x, frame.bottom + 29), 14, MIDDLE, (HPos::Center, VPos::Top))?;
        }
    }
    Ok(())
}

/// Points that are joined by a line have marks of their own while they are so few.
const MARKED: usize = 300;

fn draw_series<B: DrawingBackend>(
    pen: &Pen<'_, B>,
    titled: &TitledChart,
    marks: &SeriesMarks,
    frame: Frame,
    group: usize,
) -> Result<(), String>
where
    B::ErrorType: 'static,
{
    let chart = &titled.chart;
    let color = COLORS[group % COLORS.len()];
    let at =
        |(at, number): &(i128, f64)| (frame.x(chart.x.share(*at)), frame.y(chart.y.share(*number)));
    match marks {
        SeriesMarks::Bars(bars) => {
            for (from, to, rows) in bars {
                let (left, top) = at(&(*from, *rows));
                let right = frame.x(chart.x.share(*to));
                // Bars of more than a few pixels have a gap between them.
                let right = if right - left > 4 { right - 1 } else { right.max(left + 1) };
                let top = top.min(frame.bottom - 1);
                pen.rectangle([(left, top), (right, frame.bottom)], color)?;
            }
        }
        SeriesMarks::Runs(runs) => {
            let count: usize = runs.iter().map(Vec::len).sum();
            for run in runs {
                let points: Vec<(i32, i32)> = run.iter().map(at).collect();
                if let [_, _, ..] = &points[..] {
                    pen.line(points.clone(), color, 2)?;
                }
                if count <= MARKED || points.len() == 1 {
                    for point in points {
                        pen.mark(point, group, 3)?;
                    }
                }
            }
        }
        SeriesMarks::Columns(columns) => {
            for (column, least, most) in columns {
                let x = frame.left + *column as i32;
                let (low, high) = (frame.y(chart.y.share(*least)), frame.y(chart.y.share(*most)));
                pen.rectangle([(x, high.min(low - 1)), (x + 1, low)], color)?;
            }
        }
    }
    Ok(())
}
