//! What came out of a conversion, at a glance: where each new column begins and ends, how its rows lie in time, and some
//! values beside the raw ones.

use metachron_core::named::Named;
use metachron_core::reading::{Fit, Repair};
use metachron_core::text::{counted, grouped};
use metachron_core::timeline::{Apart, Remote, Seen, Strip, Timeline};
use metachron_core::typed::Kind;
use metachron_core::value::Value;
use serde::Serialize;
use unicode_width::UnicodeWidthStr;

use super::blocks::indent_of_names;
use super::column::ValueFacts;
use super::grid::{EIGHTHS, Grid, paragraph};
use super::{Page, column::in_words};
use crate::conversion::{
    CameOut, ColumnTally, ConversionPlan, ConversionTally, Sample, TypedColumn,
};
use crate::message::{plain, quoted};
use crate::survey::OtherReading;
use crate::words::many;

/// More new columns than these are told in a line each.
const FEW: usize = 8;
/// Examples of a column.
const EXAMPLES: usize = 3;
/// The most periods whose rows are shown: two months of days, five years of months.
const PERIODS: u64 = 62;
/// The fewest that show anything.
const FEWEST: usize = 12;
/// The least likely values that are told.
const UNLIKELY: usize = 2;

/// What came out, for programs.
#[derive(Debug, Serialize)]
pub struct CameOutFacts {
    /// The earliest value, or the least.
    earliest: Option<ValueFacts>,
    /// The latest value, or the greatest.
    latest: Option<ValueFacts>,
    /// How many different values there are; none where they are more than are told apart.
    different: Option<u64>,
    /// Rows over time.
    #[serde(skip_serializing_if = "Option::is_none")]
    over_time: Option<StripFacts>,
    /// The days that lie furthest from any other.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    least_likely: Vec<RemoteFacts>,
    /// A raw value of each written form, and what it was read as.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    examples: Vec<ExampleFacts>,
}

#[derive(Debug, Serialize)]
struct StripFacts {
    /// A day, a month, a year or an hour of the day.
    per: &'static str,
    /// How many of these each count is of.
    step: u32,
    first: String,
    last: String,
    counts: Vec<u64>,
}

#[derive(Debug, Serialize)]
struct RemoteFacts {
    day: String,
    rows: u64,
    first_row: u64,
    /// Days to the nearest other day that has rows.
    distance: u64,
}

#[derive(Debug, Serialize)]
struct ExampleFacts {
    row: u64,
    raw: String,
    typed: String,
    /// What another reading makes of it.
    #[serde(skip_serializing_if = "Option::is_none")]
    otherwise: Option<String>,
}

impl CameOutFacts {
    /// What came out of a column that was converted.
    pub fn of_column(column: &TypedColumn<'_>, came_out: &CameOut) -> CameOutFacts {
        let rivals = column.source.rivals();
        let of_forms = came_out.of_forms();
        let example = |sample: &&Sample| ExampleFacts {
            row: sample.row,
            raw: sample.raw.clone(),
            typed: column.text(&sample.fit),
            otherwise: otherwise(&rivals, column, sample).map(|(value, _)| value),
        };
        let examples = of_forms.iter().map(example).collect();
        CameOutFacts {
            examples,
            ..CameOutFacts::of(&came_out.timeline, &|seen| text(column, seen))
        }
    }

    /// What came out of a column that was made.
    pub fn of_made(timeline: &Timeline) -> CameOutFacts {
        CameOutFacts::of(timeline, &|seen| seen.value.to_string())
    }

    fn of(timeline: &Timeline, text: &dyn Fn(Seen) -> String) -> CameOutFacts {
        let ends = timeline.ends();
        let end =
            |at: usize| ends.map(|ends| ValueFacts { row: ends[at].row, value: text(ends[at]) });
        let remote = timeline.days.remote(UNLIKELY).into_iter();
        CameOutFacts {
            earliest: end(0),
            latest: end(1),
            different: timeline.different(),
            over_time: timeline.strip(PERIODS).map(|own| StripFacts {
                per: own.per.name(),
                step: own.step,
                first: own.ends[0].to_string(),
                last: own.ends[1].to_string(),
                counts: own.counts,
            }),
            least_likely: remote
                .map(|Remote { date, rows, first, distance }| RemoteFacts {
                    day: date.to_string(),
                    rows,
                    first_row: first,
                    distance,
                })
                .collect(),
            examples: Vec::new(),
        }
    }
}

/// A typed column, and what its rows add up to.
type Typed<'p> = (&'p TypedColumn<'p>, &'p ColumnTally);

/// A value as its cell has it.
fn text(column: &TypedColumn<'_>, seen: Seen) -> String {
    column.text(&Fit::whole(seen.value, 9))
}

/// What another reading makes of a value, and what that is called; none where it makes the same, or nothing. Cells that
/// an import wrote were exchanged back.
fn otherwise(
    rivals: &[OtherReading],
    column: &TypedColumn<'_>,
    sample: &Sample,
) -> Option<(String, String)> {
    let own = sample.fit.moment;
    let repair = column.compiled.reading().repair;
    if matches!(repair, Repair::HalfSwapped | Repair::Swapped) && own.exchanged() != own {
        return Some((own.exchanged().to_string(), "as imported".to_owned()));
    }
    rivals.iter().find_map(|rival| {
        let read = rival.read(sample.row, Value::Text(&sample.raw))?;
        (read != own).then(|| (read.to_string(), rival.called.clone()))
    })
}

/// What came out, for the analyst to read. Where new columns stand in the place of the raw ones, they have their names;
/// a close look shows more examples, and what another reading makes of them.
pub fn came_out(
    plan: &ConversionPlan<'_>,
    tally: &ConversionTally,
    (replaces, is_close): (bool, bool),
    page: Page,
) -> String {
    let mut out = String::new();
    let name_of = |column: &TypedColumn<'_>| column.names(replaces).swap_remove(0);
    let typed = plan.columns.iter().zip(&tally.columns);
    let typed: Vec<_> = typed.filter(|(_, own)| own.came_out.timeline.ends().is_some()).collect();
    let made = plan.made.iter().zip(&tally.made);
    let made: Vec<_> = made.filter(|(_, own)| own.timeline.ends().is_some()).collect();
    if typed.is_empty() && made.is_empty() {
        return out;
    }
    let titles = ["came out", "from", "to", "different"];
    let mut grid = Grid::new(&titles).numbers(&["different"]);
    let mut timelines: Vec<(String, &Timeline)> = Vec::new();
    for (column, own) in &typed {
        let timeline = &own.came_out.timeline;
        grid.push(line(&name_of(column), timeline, &|seen| text(column, seen)));
        timelines.push((name_of(column), timeline));
    }
    for (column, own) in &made {
        grid.push(line(&column.name, &own.timeline, &|seen| seen.value.to_string()));
        timelines.push((column.name.clone(), &own.timeline));
    }
    // The names of the first and the last period stand beside it: days, at most.
    let room =
        page.width.saturating_sub(2 + grid.needs(titles.len()) + "2024-03-05  2024-03-05".len());
    if room >= FEWEST {
        let strips = timelines.iter().map(|(_, own)| own.strip((room as u64).min(PERIODS)));
        let strips = strips.map(|own| own.map_or(String::new(), |own| drawn(&own)));
        grid.push_column("rows over time", strips);
    }
    out.push('\n');
    grid.write(&mut out, 2, page.width, None);
    if typed.len() + made.len() > FEW && !is_close {
        return out;
    }
    for (name, timeline) in timelines {
        for (apart, is_behind) in timeline.days.apart().into_iter().zip([false, true]) {
            if let Some(apart) = apart {
                let says = format!("{}: {}", plain(&name), apart_in_words(&apart, is_behind));
                paragraph(&mut out, "  ", 2, &says, page.width);
            }
        }
    }
    if typed.is_empty() {
        return out;
    }
    out.push('\n');
    match is_close {
        true => closely(&mut out, &typed, replaces, page),
        false => examples(&mut out, &typed, page),
    }
    out
}

fn line(name: &str, timeline: &Timeline, text: &dyn Fn(Seen) -> String) -> Vec<String> {
    let [from, to] = timeline.ends().map_or([String::new(), String::new()], |own| own.map(text));
    let different = match timeline.different() {
        Some(count) => grouped(count),
        None => format!("> {}", grouped(Timeline::MOST_DIFFERENT as u64)),
    };
    vec![plain(name), from, to, different]
}

/// Rows that lie far from the others: `2 rows lie 98 years before all others, the first in row 88 (1924-03-05)`.
pub fn apart_in_words(apart: &Apart, is_behind: bool) -> String {
    let rows = many(apart.rows, "row", "lies", "lie");
    let distance = match apart.distance {
        days @ ..=730 => counted(days, "day"),
        days => counted((days as f64 / 365.2425).round() as u64, "year"),
    };
    let side = if is_behind { "behind" } else { "before" };
    let days = match apart.outermost == apart.nearest {
        true => apart.outermost.to_string(),
        false => {
            let mut ends = [apart.outermost, apart.nearest];
            ends.sort();
            format!("{} to {}", ends[0], ends[1])
        }
    };
    let first = match apart.rows {
        1 => format!("row {}", grouped(apart.first)),
        _ => format!("first in row {}", grouped(apart.first)),
    };
    format!("{rows} {distance} {side} all others: {days} ({first}).")
}

/// A strip of counts between its first and its last period.
fn drawn(strip: &Strip) -> String {
    let most = strip.counts.iter().copied().max().unwrap_or(0).max(1);
    let level = |count: &u64| match count {
        0 => '·',
        // From one row on there is something to be seen.
        count => EIGHTHS[((count * 8).div_ceil(most) as usize - 1).min(7)],
    };
    let line: String = strip.counts.iter().map(level).collect();
    let [first, last] = strip.ends.map(|own| own.to_string());
    match first == last {
        true => format!("{first} {line}"),
        false => format!("{first} {line} {last}"),
    }
}

/// Some examples of each column, as many in a line as fit.
fn examples(out: &mut String, typed: &[Typed<'_>], page: Page) {
    const BETWEEN: &str = "   ";
    let names = typed.iter().map(|(column, _)| column.source.plan.name.as_str());
    let indent = indent_of_names(names) - 1;
    for (column, own) in typed {
        let mut line = page.lead_within(&plain(&column.source.plan.name), indent, out);
        let mut filled = indent;
        for sample in own.came_out.examples(EXAMPLES) {
            let pair = format!("{} → {}", quoted(&sample.raw), column.text(&sample.fit));
            if filled > indent && filled + BETWEEN.len() + pair.width() > page.width {
                out.push_str(&line);
                out.push('\n');
                line = " ".repeat(indent);
                filled = indent;
            }
            if filled > indent {
                line.push_str(BETWEEN);
                filled += BETWEEN.len();
            }
            filled += pair.width();
            line.push_str(&pair);
        }
        out.push_str(&line);
        out.push('\n');
    }
}

/// Examples of every kind, with what another reading makes of each.
fn closely(out: &mut String, typed: &[Typed<'_>], replaces: bool, page: Page) {
    for (at, (column, own)) in typed.iter().enumerate() {
        if at > 0 {
            out.push('\n');
        }
        let came_out = &own.came_out;
        let rivals = column.source.rivals();
        let raw = plain(&column.source.plan.name);
        let mut grid = Grid::new(&[
            "",
            "row",
            &raw,
            &plain(&column.names(replaces)[0]),
            "in words",
            "otherwise",
        ])
        .numbers(&["row"]);
        // A period is no day.
        let kind = column.compiled.reading().kind;
        let is_of_days = matches!(kind, Kind::Date | Kind::DateTime | Kind::Instant);
        let mut told: Vec<u64> = Vec::new();
        let ends = came_out.first.iter().map(|own| ("first", own));
        let ends = ends.chain(came_out.last.iter().map(|own| ("last", own)));
        let forms = came_out.of_forms().into_iter().map(|own| ("written so", own));
        let drawn = came_out.drawn().into_iter().map(|own| ("by chance", own));
        for (why, sample) in ends.chain(forms).chain(drawn) {
            if told.contains(&sample.row) {
                continue;
            }
            told.push(sample.row);
            let words =
                in_words(sample.fit.moment).filter(|_| is_of_days || kind == Kind::Duration);
            let otherwise = otherwise(&rivals, column, sample);
            grid.push(vec![
                why.to_owned(),
                grouped(sample.row),
                quoted(&sample.raw),
                column.text(&sample.fit),
                words.unwrap_or_default(),
                otherwise.map_or(String::new(), |(value, name)| format!("{value} ({name})")),
            ]);
        }
        for Remote { date, rows, first, distance } in came_out.timeline.days.remote(UNLIKELY) {
            // A day beside another one is not unlikely.
            if distance > 1 && is_of_days {
                let far = format!("{} from any other", counted(distance, "day"));
                let rows = counted(rows, "row");
                let cells = ["least likely", &grouped(first), "", &date.to_string(), &rows, &far];
                grid.push(cells.map(str::to_owned).to_vec());
            }
        }
        grid.write(out, 2, page.width, Some(2));
    }
}
