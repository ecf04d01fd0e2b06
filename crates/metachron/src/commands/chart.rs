//! `metachron chart`: how rows or numbers lie over time, as a picture.

use std::path::Path;

use metachron_core::charting::Labels;
use metachron_core::counting::Per;
use metachron_core::named::Named;
use metachron_core::text::grouped;
use metachron_core::timeline::Step;

use super::one_column::survey_for;
use super::{json, print};
use crate::ambient::Ambient;
use crate::args;
use crate::charting::{ChartPlan, chart};
use crate::choices::keys::locale;
use crate::choices::{Choices, Decisions, Wrong, clock};
use crate::exit::Exit;
use crate::message::{Failure, quoted, say, shown_output};
use crate::paths::RunPaths;
use crate::report::Page;
use crate::report::chart::{TitledChart, on_screen};
use crate::report::questions::{questions, stop_at_drift};
use crate::survey::SurveyedColumn;

/// Draws a file.
pub fn run(
    asked: &args::Chart,
    line: &args::CommandLine,
    ambient: &Ambient,
) -> Result<Exit, Failure> {
    let shaping = args::Shaping { derived: asked.derived.clone(), ..args::Shaping::default() };
    let mut choices =
        Choices::new(&asked.input, &asked.columns, &shaping, Decisions::default(), line, ambient)?;
    choices.refuse_wishes()?;
    let mut plan = plan(asked, &choices)?;
    let path: &Path = &asked.file;
    let picture = asked.output.as_deref().map(picture).transpose()?;
    RunPaths::of([path], &asked.input)
        .writes("the output", asked.output.as_deref())
        .refuse_clashes()?;
    let table = survey_for(plan.column, plan.value.as_slice(), path, &mut choices)?;
    // What has several readings is drawn in each of them, and not asked about.
    let is_drawn = |own: &SurveyedColumn| {
        own.is_open() && own.plan.name == plan.column && own.readings_in_play().len() > 1
    };
    let (drawn, asked_about): (Vec<&SurveyedColumn>, Vec<_>) =
        table.columns.iter().filter(|own| own.is_open()).partition(|own| is_drawn(own));
    let has_question = drawn.is_empty() || !asked_about.is_empty();
    let page = Page { width: ambient.error_width, color: asked.view.color.or(ambient.error_color) };
    let tables = [table];
    if has_question && let Some(text) = questions(&tables, &choices, page) {
        return Err(Failure::question(text));
    }
    let [table] = &tables;
    stop_at_drift(table, &choices, page)?;
    // The clock in which a column was read is that by which it is drawn.
    let own = table.columns.iter().find(|column| column.plan.name == plan.column);
    let own = own.and_then(|column| column.plan.decisions.clocks.zone.clone());
    if let (None, Some(zone)) = (plan.clock, own) {
        plan.clock = Some(clock("zone", &zone, choices.zones).map_err(Wrong::of_option)?);
    }
    let is_png = matches!(picture, Some(Picture::Png));
    let mut notes = Vec::new();
    if let Some(labels) = plan.labels.filter(|_| is_png)
        && !missing(&labels.names().collect::<String>()).is_empty()
    {
        plan.labels = Some(Labels::english());
        notes.push(
            "days and months are in English: a PNG has no letters for their names; an SVG has"
                .to_owned(),
        );
    }
    let drawn = chart(table, &plan, &mut choices, ambient)?;
    let titled = TitledChart::new(table, &plan, drawn);
    let page = Page { width: ambient.width, color: asked.view.color.or(ambient.color) };
    if asked.view.json {
        print(&json(&titled.facts())?, true)?;
    } else if asked.on_screen {
        print(&on_screen(&titled, page), false)?;
    }
    let (Some(picture), Some(output)) = (picture, &asked.output) else { return Ok(Exit::Done) };
    let texts = titled.chart.panels.iter().flat_map(|panel| &panel.series);
    let texts: String = texts.filter_map(|own| own.name.clone()).collect();
    let letters = missing(&format!("{texts}{}", titled.title));
    if is_png && !letters.is_empty() {
        let first: String = letters.chars().take(3).collect();
        notes.push(format!(
            "{} letters such as {} are drawn as question marks: a PNG has none for them; an SVG has",
            grouped(letters.chars().count() as u64),
            quoted(&first)
        ));
    }
    write(&titled, picture, output)?;
    if !asked.input.quiet {
        say(&titled.summary(&shown_output(output)));
        notes.iter().for_each(|note| say(&format!("  {note}")));
    }
    Ok(Exit::Done)
}

/// How a chart is written.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Picture {
    Png,
    Svg,
}

/// What the ending of an output says.
fn picture(path: &Path) -> Result<Picture, Failure> {
    let ending = path.extension().map(|own| own.to_string_lossy().to_lowercase());
    match ending.as_deref() {
        Some("png") => Ok(Picture::Png),
        Some("svg") => Ok(Picture::Svg),
        _ => Err(Failure::usage(format!(
            "a chart is written as .png or .svg, which {} does not end in",
            shown_output(path)
        ))),
    }
}

/// What is to be drawn.
fn plan<'a>(asked: &'a args::Chart, choices: &Choices) -> Result<ChartPlan<'a>, Failure> {
    let [column] = &asked.columns.column[..] else {
        return Err(Failure::usage(match asked.columns.column.len() {
            0 => "--column names the column whose dates are the axis of time",
            _ => "--column names one column; --value and --by take others",
        }));
    };
    if asked.output.is_none() && !asked.on_screen && !asked.view.json {
        return Err(Failure::usage(
            "say where the chart goes: -o FILE.png, -o FILE.svg, or --on-screen",
        ));
    }
    let per = asked.per.as_deref().map(|text| {
        Per::named(text).map_err(|_| {
            let all = Per::all().filter(|per| per.follows()).map(Named::name).collect::<Vec<_>>();
            Failure::usage(format!("--per {} is none of {}", quoted(text), all.join(", ")))
        })
    });
    let step = asked.axis_step.as_deref().map(|text| {
        Step::parse(text).ok_or_else(|| {
            let says = "has no amount of a unit, such as '1 week' or '2 minutes'";
            Failure::usage(format!("--axis-step {} {says}", quoted(text)))
        })
    });
    let labels = asked.show_in.as_deref().map(|tag| locale("show_in", &tag.into()));
    let labels = labels.transpose().map_err(Wrong::of_option)?.map(Labels::of);
    let zone = asked.to_zone.as_deref().map(|zone| clock("to_zone", zone, choices.zones));
    let per = per.transpose()?;
    if let (Some(per), true) = (per, asked.value.is_some()) {
        return Err(Failure::usage(format!(
            "--per {} counts rows, and --value draws numbers; leave one out",
            per.name()
        )));
    }
    Ok(ChartPlan {
        column,
        value: asked.value.as_deref(),
        by: asked.by.as_deref(),
        per,
        // Lines of several groups are told apart where they are not too fine.
        most_bars: match (asked.on_screen, asked.by.is_some()) {
            (_, true) => 60,
            (true, false) => 90,
            (false, false) => 400,
        },
        step: step.transpose()?,
        clock: zone.transpose().map_err(Wrong::of_option)?,
        is_shown: asked.to_zone.is_some(),
        labels,
    })
}

#[cfg(feature = "chart")]
fn missing(text: &str) -> String {
    crate::drawing::missing_letters(text)
}

#[cfg(not(feature = "chart"))]
fn missing(_: &str) -> String {
    String::new()
}

/// Writes a picture.
#[cfg(feature = "chart")]
fn write(titled: &TitledChart, picture: Picture, path: &Path) -> Result<(), Failure> {
    use std::io::Write;

    use metachron_tables::place::Output;

    let failed = |error: std::io::Error| Failure::writing(path, &error);
    let bytes = match picture {
        Picture::Png => crate::drawing::png(titled),
        Picture::Svg => crate::drawing::svg(titled),
    };
    let mut out = Output::create(path).map_err(failed)?;
    out.write_all(&bytes.map_err(failed)?).map_err(failed)?;
    out.finish().map_err(failed)
}

#[cfg(not(feature = "chart"))]
fn write(_: &TitledChart, _: Picture, path: &Path) -> Result<(), Failure> {
    Err(Failure::could_not(format!(
        "{} cannot be drawn: this program was built without charts; --on-screen draws them in letters",
        shown_output(path)
    )))
}
