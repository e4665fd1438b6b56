//! How long exchanges took, over time: a picture in SVG.

use charter_exchange::rehearsal::{Figures, Slice};
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

fn drawn(slices: &[Slice], picture: &mut String) -> Result<(), Box<dyn std::error::Error>> {
    let area = SVGBackend::with_string(picture, SIZE).into_drawing_area();
    let (above, below) = area.split_vertically(SIZE.1 - BELOW);
    let width = slices.get(1).map_or(0.1, |slice| slice.at.as_secs_f64());
    let end = slices.last().map_or(0.0, |slice| slice.at.as_secs_f64()) + width;
    // The last slice is hardly ever a whole one.
    let whole = &slices[..slices.len().saturating_sub(1).max(1)];
    let millis = |time: std::time::Duration| time.as_secs_f64() * 1e3;
    let top = whole.iter().map(|slice| millis(slice.most)).fold(0.0, f64::max).max(0.1) * 1.1;
    let style = ("sans-serif", 13).into_font().color(&SOFT);
    let mut chart = ChartBuilder::on(&above)
        .margin(8)
        .margin_right(96)
        .x_label_area_size(4)
        .y_label_area_size(64)
        .build_cartesian_2d(0.0..end, 0.0..top)?;
    chart
        .configure_mesh()
        .disable_x_mesh()
        .light_line_style(TRANSPARENT)
        .bold_line_style(SOFT.mix(0.25))
        .axis_style(SOFT.mix(0.5))
        .label_style(style.clone())
        .x_labels(0)
        .y_labels(6)
        .y_label_formatter(&|value| format!("{} ms", shortest(*value)))
        .draw()?;
    let at = |slice: &Slice| slice.at.as_secs_f64() + width / 2.0;
    let there = || whole.iter().filter(|slice| slice.exchanges > 0);
    for (name, color, of) in [
        ("99 % within", MOST, (|slice: &Slice| slice.most) as fn(&Slice) -> std::time::Duration),
        ("half within", MEDIAN, |slice: &Slice| slice.median),
    ] {
        let points: Vec<(f64, f64)> = there().map(|slice| (at(slice), millis(of(slice)))).collect();
        let Some(last) = points.last().copied() else { continue };
        chart.draw_series(LineSeries::new(points, color.stroke_width(2)))?;
        let label = ("sans-serif", 13).into_font().color(&color);
        let place = chart.backend_coord(&last);
        above.draw(&Text::new(name, (SIZE.0 as i32 - 92, place.1 - 6), label))?;
    }
    let rate = |slice: &Slice| slice.exchanges as f64 / width;
    let most = whole.iter().map(rate).fold(0.0, f64::max).max(1.0) * 1.15;
    let mut chart = ChartBuilder::on(&below)
        .margin(8)
        .margin_right(96)
        .x_label_area_size(24)
        .y_label_area_size(64)
        .build_cartesian_2d(0.0..end, 0.0..most)?;
    chart
        .configure_mesh()
        .disable_x_mesh()
        .light_line_style(TRANSPARENT)
        .bold_line_style(SOFT.mix(0.25))
        .axis_style(SOFT.mix(0.5))
        .label_style(style)
        .x_labels(10)
        .y_labels(3)
        .x_label_formatter(&|value| format!("{} s", shortest(*value)))
        .y_label_formatter(&|value| super::text::grouped(value.round() as u64))
        .draw()?;
    let counts: Vec<(f64, f64)> = whole.iter().map(|slice| (at(slice), rate(slice))).collect();
    chart.draw_series(AreaSeries::new(counts, 0.0, COUNT.mix(0.25)).border_style(COUNT.stroke_width(1)))?;
    let label = ("sans-serif", 13).into_font().color(&SOFT);
    below.draw(&Text::new("a second", (SIZE.0 as i32 - 92, 12), label))?;
    area.present()?;
    Ok(())
}

/// A number without more digits than it needs.
fn shortest(value: f64) -> String {
    let text = format!("{value:.2}");
    text.trim_end_matches('0').trim_end_matches('.').to_owned()
}
