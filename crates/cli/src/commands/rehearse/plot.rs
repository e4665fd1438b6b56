//! How long exchanges took, over time: a picture in SVG.

use std::time::Duration;

use charter_exchange::rehearsal::{Figures, Slice};
use plotters::coord::Shift;
use plotters::coord::types::RangedCoordf64;
use plotters::prelude::*;

/// Its size.
const SIZE: (u32, u32) = (1040, 380);
/// How much of it shows how many there were.
const BELOW: u32 = 120;

/// The lines, with their names: they have to be told apart in light and in dark.
const MEDIAN: RGBColor = RGBColor(38, 121, 176);
const MOST: RGBColor = RGBColor(196, 106, 16);
const COUNT: RGBColor = RGBColor(106, 128, 141);
const SOFT: RGBColor = RGBColor(120, 137, 148);

/// The picture; nothing if there is nothing to be seen in it.
pub fn latency(figures: &Figures) -> Option<String> {
    if figures.slices.iter().filter(|slice| slice.exchanges > 0).count() < 2 {
        return None;
    }
    let mut picture = String::new();
    drawn(&figures.slices, &mut picture).ok()?;
    Some(picture)
}

type Area<'p> = DrawingArea<SVGBackend<'p>, Shift>;
type Chart<'a, 'p> = ChartContext<'a, SVGBackend<'p>, Cartesian2d<RangedCoordf64, RangedCoordf64>>;
type Drawn<T = ()> = Result<T, Box<dyn std::error::Error>>;

fn drawn(slices: &[Slice], picture: &mut String) -> Drawn {
    let area = SVGBackend::with_string(picture, SIZE).into_drawing_area();
    let (above, below) = area.split_vertically(SIZE.1 - BELOW);
    let width = slices.get(1).map_or(0.1, |slice| slice.at.as_secs_f64());
    let end = slices.last().map_or(0.0, |slice| slice.at.as_secs_f64()) + width;
    // The last slice is hardly ever a whole one.
    let whole = &slices[..slices.len().saturating_sub(1).max(1)];
    let over = Over { slices: whole, width, end };
    times(&over, &above)?;
    counts(&over, &below)?;
    area.present()?;
    Ok(())
}

/// What is drawn, over time.
struct Over<'s> {
    slices: &'s [Slice],
    /// How long a slice is, in seconds.
    width: f64,
    /// When the last of them ends.
    end: f64,
}

/// What one of the two drawings has at its edges.
struct Edges<'f> {
    /// How much room there is below.
    below: u32,
    /// How many times are written there.
    times: usize,
    /// How many values are written at the left.
    values: usize,
    /// A value as it is written.
    value: &'f dyn Fn(&f64) -> String,
}

impl Over<'_> {
    /// Where a slice stands: its middle.
    fn at(&self, slice: &Slice) -> f64 {
        slice.at.as_secs_f64() + self.width / 2.0
    }

    /// An empty drawing of values up to `top`.
    fn chart<'p>(&self, area: &Area<'p>, top: f64, edges: &Edges<'_>) -> Drawn<Chart<'_, 'p>> {
        let mut chart = ChartBuilder::on(area)
            .margin(8)
            .margin_right(96)
            .x_label_area_size(edges.below)
            .y_label_area_size(64)
            .build_cartesian_2d(0.0..self.end, 0.0..top)?;
        chart
            .configure_mesh()
            .disable_x_mesh()
            .light_line_style(TRANSPARENT)
            .bold_line_style(SOFT.mix(0.25))
            .axis_style(SOFT.mix(0.5))
            .label_style(("sans-serif", 13).into_font().color(&SOFT))
            .x_labels(edges.times)
            .y_labels(edges.values)
            .x_label_formatter(&|value| format!("{} s", shortest(*value)))
            .y_label_formatter(&edges.value)
            .draw()?;
        Ok(chart)
    }
}

/// How long exchanges took.
fn times(over: &Over<'_>, area: &Area<'_>) -> Drawn {
    let millis = |time: Duration| time.as_secs_f64() * 1e3;
    let top = over.slices.iter().map(|slice| millis(slice.most)).fold(0.0, f64::max).max(0.1) * 1.1;
    let value = |value: &f64| format!("{} ms", shortest(*value));
    let mut chart = over.chart(area, top, &Edges { below: 4, times: 0, values: 6, value: &value })?;
    let there = || over.slices.iter().filter(|slice| slice.exchanges > 0);
    for (name, color, of) in [
        ("99 % within", MOST, (|slice: &Slice| slice.most) as fn(&Slice) -> Duration),
        ("half within", MEDIAN, |slice: &Slice| slice.median),
    ] {
        let points: Vec<(f64, f64)> = there().map(|slice| (over.at(slice), millis(of(slice)))).collect();
        let Some(last) = points.last().copied() else { continue };
        chart.draw_series(LineSeries::new(points, color.stroke_width(2)))?;
        named(area, name, &color, chart.backend_coord(&last).1 - 6)?;
    }
    Ok(())
}

/// How many there were.
fn counts(over: &Over<'_>, area: &Area<'_>) -> Drawn {
    let rate = |slice: &Slice| slice.exchanges as f64 / over.width;
    let top = over.slices.iter().map(rate).fold(0.0, f64::max).max(1.0) * 1.15;
    let value = |value: &f64| super::text::grouped(value.round() as u64);
    let mut chart = over.chart(area, top, &Edges { below: 24, times: 10, values: 3, value: &value })?;
    let counts: Vec<(f64, f64)> = over.slices.iter().map(|slice| (over.at(slice), rate(slice))).collect();
    chart.draw_series(AreaSeries::new(counts, 0.0, COUNT.mix(0.25)).border_style(COUNT.stroke_width(1)))?;
    named(area, "a second", &SOFT, 12)
}

/// The name of a line, at the right of it.
fn named(area: &Area<'_>, name: &str, color: &RGBColor, height: i32) -> Drawn {
    let label = ("sans-serif", 13).into_font().color(color);
    area.draw(&Text::new(name, (SIZE.0 as i32 - 92, height), label))?;
    Ok(())
}

/// A number without more digits than it needs.
fn shortest(value: f64) -> String {
    let text = format!("{value:.2}");
    text.trim_end_matches('0').trim_end_matches('.').to_owned()
}
