//! `metachron explain`: every way to read single values.

use jiff::civil::Date;
use metachron_core::apply::{Compiled, Outcome};
use metachron_core::calendar::Calendar;
use metachron_core::epoch::{Epoch, Number};
use metachron_core::evidence::ObserveOptions;
use metachron_core::explain::{Explanation, Way, counts, explain, rivals};
use metachron_core::infer::infer;
use metachron_core::layout::{Amounts, Field};
use metachron_core::lexicon::{Length, Lexicon};
use metachron_core::named::Named;
use metachron_core::order::Order;
use metachron_core::reading::{Contested, Reading, Repair, Terms};
use metachron_core::text::Missing;
use metachron_core::text::counted;
use metachron_core::typed::{Kind, TypedValue};
use metachron_core::verdict::{Asserted, Verdict};
use metachron_core::zone::Zones;
use serde::Serialize;
use toml_edit::Value;

use super::{json, print};
use crate::ambient::Ambient;
use crate::args;
use crate::choices::{Decisions, Wrong, keys};
use crate::exit::Exit;
use crate::message::{Failure, plain, quoted};
use crate::report::{Grid, length_in_words, paragraph};
use crate::words::words;

/// The report, as `--json` has it.
#[derive(Debug, Serialize)]
struct Report {
    report: &'static str,
    version: u32,
    values: Vec<ExplainedFacts>,
    /// What the values amount to as a column, if there are several.
    #[serde(skip_serializing_if = "Option::is_none")]
    together: Option<TogetherFacts>,
    metachron: &'static str,
}

#[derive(Debug, Serialize)]
struct ExplainedFacts {
    value: String,
    /// `missing`, `placeholder`, `no-date` or `readings`.
    is: &'static str,
    /// The written form, where no date is written so.
    #[serde(skip_serializing_if = "Option::is_none")]
    shape: Option<String>,
    readings: Vec<WayFacts>,
    /// What would settle it, where readings differ.
    #[serde(skip_serializing_if = "Option::is_none")]
    settle: Option<String>,
}

#[derive(Debug, Serialize)]
struct WayFacts {
    layout: String,
    /// From where it counts, if it is a number that counts.
    #[serde(skip_serializing_if = "Option::is_none")]
    epoch: Option<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    written_in: Option<&'static str>,
    /// The same in words.
    #[serde(skip)]
    language: Option<String>,
    /// What it gives in ISO 8601; none where it does not fit.
    gives: Option<String>,
    #[serde(skip_serializing_if = "Option::is_none")]
    weekday: Option<&'static str>,
    /// The calendar, if it is another than that of ISO 8601.
    #[serde(skip_serializing_if = "Option::is_none")]
    calendar: Option<&'static str>,
    /// How far it is from today, in words.
    #[serde(skip_serializing_if = "Option::is_none")]
    distance: Option<String>,
    /// Why it does not fit.
    #[serde(skip_serializing_if = "Option::is_none")]
    fails: Option<String>,
}

#[derive(Debug, Serialize)]
struct TogetherFacts {
    verdict: &'static str,
    kind: Option<&'static str>,
    layouts: Vec<String>,
    reasons: Vec<String>,
}

/// Explains the values.
pub fn run(explain: &args::Explain, ambient: &Ambient) -> Result<Exit, Failure> {
    let today = explain.as_of.map_or(ambient.today, |as_of| as_of.today);
    let report = report(explain, today)?;
    refuse_without_effect(explain, &report, today)?;
    let text = match explain.json {
        true => json(&report)?,
        false => view(&report, ambient.width),
    };
    print(&text, explain.json)?;
    Ok(Exit::Done)
}

fn report(explain: &args::Explain, today: Date) -> Result<Report, Failure> {
    let (options, known) = question(explain, today)?;
    let facts = |value: &String| value_facts(value, (&options, &known), today);
    Ok(Report {
        report: "explain",
        version: 1,
        values: explain.values.iter().map(facts).collect(),
        together: (explain.values.len() > 1 || !explain.known.is_empty())
            .then(|| together(&explain.values, &options, &known)),
        metachron: env!("CARGO_PKG_VERSION"),
    })
}

/// Refuses an option that is about none of the values. What only confirms a reading is no such option.
fn refuse_without_effect(
    explain: &args::Explain,
    report: &Report,
    today: Date,
) -> Result<(), Failure> {
    let without = |clear: fn(&mut args::Explain)| {
        let mut other = explain.clone();
        clear(&mut other);
        other
    };
    // Without one of these no value could come out the same that it is about.
    let changing = [
        ("--zone", explain.zone.is_some(), without(|own| own.zone = None)),
        (
            "--abbreviation",
            !explain.abbreviation.is_empty(),
            without(|own| own.abbreviation.clear()),
        ),
        ("--year", explain.year.is_some(), without(|own| own.year = None)),
        ("--unit", explain.unit.is_some(), without(|own| own.unit = None)),
    ];
    let idle = |option: &str| {
        Err(Failure::usage(format!("{option} has no effect: it is about none of the values")))
    };
    let said = json(report)?;
    for (option, _, other) in changing.into_iter().filter(|(_, is_said, _)| *is_said) {
        // What cannot be asked without it has its effect.
        let facts = self::report(&other, today).and_then(|report| json(&report));
        if facts.is_ok_and(|facts| facts == said) {
            return idle(option);
        }
    }
    let are_numbers = explain.values.iter().any(|own| Number::parse(own.trim()).is_some());
    if explain.epoch.is_some() && !are_numbers { idle("--epoch") } else { Ok(()) }
}

fn question(explain: &args::Explain, today: Date) -> Result<(ObserveOptions, Asserted), Failure> {
    let abbreviations = explain.abbreviation.iter().map(String::as_str);
    let said = Decisions::of_options([
        ("written_in", keys::said(&explain.written_in)),
        ("layouts", keys::all_said(&explain.layout)),
        ("known", keys::all_said(&explain.known)),
        ("calendar", keys::said(&explain.calendar)),
        ("year", explain.year.map(Value::from)),
        ("two_digit_from", explain.two_digit_from.map(Value::from)),
        ("order", keys::said(&explain.order)),
        ("kind", keys::said(&explain.kind)),
        ("unit", keys::said(&explain.unit)),
        ("epoch", keys::said(&explain.epoch)),
        ("zone", keys::said(&explain.zone)),
        ("abbreviations", keys::meanings_said(abbreviations).map_err(Wrong::of_option)?),
    ])?;
    said.check_years()?;
    let zones = Zones::bundled();
    said.check_zones(zones).map_err(Wrong::of_option)?;
    Ok((said.observe_options(Missing::usual(), today, zones), said.asserted(today, zones)))
}

fn value_facts(
    value: &str,
    (options, known): (&ObserveOptions, &Asserted),
    today: Date,
) -> ExplainedFacts {
    let facts = |is| ExplainedFacts {
        value: value.to_owned(),
        is,
        shape: None,
        readings: Vec::new(),
        settle: None,
    };
    // Layouts that were given are the only ways that are asked for.
    let epochs: Vec<(Epoch, TypedValue)> = match (&options.serials, Number::parse(value.trim())) {
        (Some(said), Some(number)) => {
            said.epoch.read(number).ok().map(|moment| (said.epoch, moment)).into_iter().collect()
        }
        _ => counts(value, today),
    };
    // Layouts, an order or a kind that were given are the only ways that are asked for.
    let is_asked = options.layouts.is_empty() && options.asked.is_none() && known.kind.is_none();
    let counted: Vec<WayFacts> = match is_asked || options.serials.is_some() {
        true => epochs.into_iter().map(|way| counted_facts(way, today)).collect(),
        false => Vec::new(),
    };
    let settles = match options.serials {
        Some(_) => None,
        None => Some("Numbers are read as dates only by --epoch, or by one known pair.".to_owned()),
    };
    let explained = match explain(value, options) {
        _ if options.serials.is_some() && !counted.is_empty() => Explanation::NoDate(String::new()),
        Explanation::Ways(ways) => Explanation::Ways(as_said(ways, value, (options, known))),
        other => other,
    };
    match explained {
        Explanation::Ways(ways) if ways.is_empty() => ExplainedFacts {
            settle: Some("It cannot be read as was said, only otherwise.".to_owned()),
            ..facts("readings")
        },
        Explanation::NoDate(_) if !counted.is_empty() => {
            ExplainedFacts { readings: counted, settle: settles, ..facts("readings") }
        }
        Explanation::Ways(ways) if !counted.is_empty() => ExplainedFacts {
            readings: {
                let mut readings: Vec<WayFacts> =
                    ways.iter().map(|way| way_facts(way, today)).collect();
                // Dates in digits have a layout already.
                let is_new = |way: &WayFacts| readings.iter().all(|own| own.gives != way.gives);
                let new: Vec<WayFacts> = counted.into_iter().filter(is_new).collect();
                readings.extend(new);
                readings
            },
            settle: what_would_settle(&ways).or(settles),
            ..facts("readings")
        },
        Explanation::Missing => facts("missing"),
        Explanation::Placeholder => facts("placeholder"),
        Explanation::NoDate(shape) => ExplainedFacts { shape: Some(shape), ..facts("no-date") },
        Explanation::Ways(ways) => ExplainedFacts {
            readings: ways.iter().map(|way| way_facts(way, today)).collect(),
            settle: what_would_settle(&ways),
            ..facts("readings")
        },
    }
}

/// The ways that are of the kind that was said, where the clock stood in the zone that was said.
fn as_said(
    ways: Vec<Way>,
    value: &str,
    (options, known): (&ObserveOptions, &Asserted),
) -> Vec<Way> {
    let placed = |way: Way| match (&known.zoning, way.layout.kind()) {
        (Some(zoning), Some(Kind::DateTime)) => {
            let reading = Reading {
                kind: Kind::Instant,
                layouts: vec![way.layout.clone()],
                split: None,
                serials: None,
                terms: Terms {
                    lexicon: way.written_in.map_or(options.terms.lexicon, Lexicon::of),
                    ..options.terms
                },
                years: None,
                anchor: None,
                repair: Repair::None,
                zoning: Some(zoning.clone()),
                contested: Contested::default(),
            };
            let result = match Compiled::new(&reading, Missing::usual()).apply(1, value) {
                Outcome::Read(fit) => Ok(fit),
                Outcome::Unreadable(unfit) => Err(unfit),
                _ => way.result,
            };
            Way { result, ..way }
        }
        _ => way,
    };
    let is_asked = |way: &Way| {
        let gives = way.result.ok().map(|fit| fit.moment.kind()).or(way.layout.kind());
        let is_order = match (known.order, way.layout.order()) {
            (Some(said), Some(own)) => said == own,
            _ => true,
        };
        is_order && (known.kind.is_none() || gives == known.kind)
    };
    ways.into_iter().map(placed).filter(is_asked).collect()
}

fn weekday(date: Date) -> &'static str {
    Lexicon::english().weekday(date.weekday().to_monday_one_offset() as u8, Length::Full)
}

/// What a number counts from one origin.
fn counted_facts((epoch, moment): (Epoch, TypedValue), today: Date) -> WayFacts {
    let day = moment.date();
    WayFacts {
        layout: format!("--epoch {epoch}"),
        epoch: Some(epoch.to_string()),
        written_in: None,
        calendar: None,
        language: None,
        gives: Some(moment.to_string()),
        weekday: day.map(weekday),
        distance: day.map(|day| distance(day, today)),
        fails: None,
    }
}

fn way_facts(way: &Way, today: Date) -> WayFacts {
    let fit = way.result.ok();
    let date = fit.and_then(|fit| fit.written);
    let length = fit.and_then(|fit| match fit.moment {
        TypedValue::Duration(own) => Some(length_in_words(own)),
        _ => None,
    });
    let is_day = fit.is_some_and(|fit| {
        matches!(fit.moment.kind(), Kind::Date | Kind::DateTime | Kind::Instant)
    });
    WayFacts {
        epoch: None,
        layout: way.layout.to_string(),
        written_in: way.written_in.map(|locale| locale.tag()),
        calendar: (way.calendar != Calendar::Gregorian).then(|| way.calendar.name()),
        language: way.written_in.map(|locale| match way.calendar {
            Calendar::Gregorian => format!("{} ({locale})", locale.language_name()),
            other => format!("{} ({locale}), {other}", locale.language_name()),
        }),
        gives: way.result.ok().map(|fit| fit.moment.to_string()),
        weekday: date.filter(|_| is_day).map(weekday),
        distance: date.map(|date| distance(date, today)).or(length),
        fails: way.result.err().map(|unfit| words(&unfit).to_string()),
    }
}

/// How far a day is from today, in the largest unit of which there are two.
fn distance(date: Date, today: Date) -> String {
    let days = i64::from((date - today).get_days());
    let months = (i64::from(date.year()) - i64::from(today.year())) * 12
        + i64::from(date.month() - today.month());
    let (number, unit) = match days.abs() {
        0 => return "today".to_owned(),
        1..=60 => (days.abs(), "day"),
        61..=730 => (months.abs(), "month"),
        _ => (months.abs() / 12, "year"),
    };
    let amount = counted(number as u64, unit);
    if days > 0 { format!("in {amount}") } else { format!("{amount} ago") }
}

/// What would tell readings as lengths of time from each other and from times of day.
fn what_settles_lengths(ways: &[&Way]) -> String {
    let is = |kind: Kind| ways.iter().any(|way| way.layout.kind() == Some(kind));
    let by_months = ways.iter().any(|way| way.layout.has(Field::Amounts(Amounts::Months)));
    match (is(Kind::Time), by_months) {
        (_, true) => {
            "Hours or seconds beside m in other values of the same column would settle it, or \
                      --layout."
        }
        (true, _) => {
            "Values of the same column that go beyond 24 hours would settle that it is a length of \
                      time; --kind says so too, and --layout what its numbers are."
        }
        (false, _) => "--layout says what its numbers are.",
    }
    .to_owned()
}

/// What values of the same column would tell the readings apart.
fn what_would_settle(ways: &[Way]) -> Option<String> {
    let fitting: Vec<&Way> = ways.iter().filter(|way| way.result.is_ok()).collect();
    let (first, rest) = fitting.split_first()?;
    if rest.iter().all(|way| way.result.map(|f| f.moment) == first.result.map(|f| f.moment)) {
        return None;
    }
    if fitting.iter().any(|way| way.calendar != first.calendar) {
        return Some(
            "Most other years of the same column would settle the calendar, or --calendar NAME."
                .to_owned(),
        );
    }
    if fitting.iter().any(|way| way.written_in != first.written_in) {
        return Some(
            "Other names of the same column would settle the language, or --written-in LOCALE."
                .to_owned(),
        );
    }
    if fitting.iter().any(|way| way.layout.kind() == Some(Kind::Duration)) {
        return Some(what_settles_lengths(&fitting));
    }
    let orders = rivals(ways);
    let day_or_month = orders.contains(&Order::Dmy) && orders.contains(&Order::Mdy);
    let year_first = orders.contains(&Order::Ymd) && orders.len() > 1;
    let part = match (day_or_month, year_first) {
        (true, true) => "a part above 12 or above 31",
        (true, false) => "a part above 12",
        (false, true) => "a part above 31",
        (false, false) => return None,
    };
    Some(format!("Values of the same column with {part} would settle it."))
}

fn together(values: &[String], options: &ObserveOptions, known: &Asserted) -> TogetherFacts {
    let judgement = infer(values.iter().map(String::as_str), options, known).judgement;
    let reading = judgement.reading.filter(|_| judgement.verdict == Verdict::Decided);
    TogetherFacts {
        verdict: judgement.verdict.name(),
        kind: judgement.kind.map(|kind| kind.name()),
        layouts: reading
            .map(|reading| reading.layouts.iter().map(ToString::to_string).collect())
            .unwrap_or_default(),
        reasons: judgement.findings.iter().map(|own| words(own).to_string()).collect(),
    }
}

fn view(report: &Report, width: usize) -> String {
    let mut out = String::new();
    for (index, facts) in report.values.iter().enumerate() {
        if index > 0 {
            out.push('\n');
        }
        let value = quoted(&facts.value);
        match (facts.is, &facts.shape) {
            ("missing", _) => {
                out.push_str(&format!("{value} stands for nothing: it is left empty\n"))
            }
            ("placeholder", _) => {
                out.push_str(&format!("{value} is a date only in form: it is left empty\n"));
            }
            (_, Some(shape)) => out.push_str(&format!(
                "{value} is not written in a form that dates have ({})\n",
                plain(shape)
            )),
            _ => ways(&mut out, &value, &facts.readings, width),
        }
        if let Some(settle) = &facts.settle {
            paragraph(&mut out, "  ", 2, settle, width);
        }
    }
    if let Some(together) = &report.together {
        let kind = together.kind.map_or(String::new(), |kind| format!("{kind}, "));
        let layouts = match together.layouts.is_empty() {
            true => String::new(),
            false => format!(", read by {}", plain(&together.layouts.join(" and "))),
        };
        out.push_str(&format!("\ntogether: {kind}{}{layouts}\n", together.verdict));
        paragraph(&mut out, "  ", 2, &plain(&together.reasons.join(" ")), width);
    }
    out
}

fn ways(out: &mut String, value: &str, readings: &[WayFacts], width: usize) {
    let fits = readings.iter().filter(|way| way.gives.is_some()).count();
    out.push_str(&match fits {
        0 => format!("{value} cannot be read\n"),
        1 => format!("{value} can be read in one way\n"),
        _ => format!("{value} can be read as\n"),
    });
    let mut grid = Grid::plain(5);
    for way in readings {
        let (layout, language) = (plain(&way.layout), way.language.clone().unwrap_or_default());
        match (&way.gives, &way.fails) {
            (Some(gives), _) => grid.push(vec![
                layout,
                language,
                gives.clone(),
                way.weekday.unwrap_or_default().to_owned(),
                way.distance.clone().unwrap_or_default(),
            ]),
            (None, fails) => {
                // The reason is a sentence: it stands where the date would, and takes what it needs.
                grid.push(vec![layout, language, String::new()]);
                grid.paint(2, plain(fails.as_deref().unwrap_or_default()));
            }
        }
    }
    grid.write(out, 2, width, None);
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn distances_in_words() {
        let today = jiff::civil::date(2026, 11, 23);
        for (date, expected) in [
            ((2026, 11, 23), "today"),
            ((2026, 11, 24), "in 1 day"),
            ((2026, 10, 1), "53 days ago"),
            ((2026, 3, 5), "8 months ago"),
            ((2005, 4, 3), "21 years ago"),
            ((2031, 1, 1), "in 4 years"),
        ] {
            let (year, month, day) = date;
            assert_eq!(distance(jiff::civil::date(year, month, day), today), expected);
        }
    }
}
