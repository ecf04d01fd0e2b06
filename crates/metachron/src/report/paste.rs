//! What would settle a column, as command lines to paste.

use std::path::Path;

use metachron_core::calendar::Calendar;
use metachron_core::named::Named;
use metachron_core::order::Alternative;
use metachron_core::reading::Repair;
use metachron_core::typed::{Kind, TypedValue};
use metachron_core::verdict::{AsWritten, Clue, PlainKind, Settle, Telling, Verdict};
use serde::Serialize;

use crate::args::CommandLine;
use crate::choices::{Choices, Said, Shaping, by_columns, suggested_output, suggested_readings};
use crate::message::{quoted, shell_word};
use crate::survey::SurveyedColumn;
use crate::words::{list, phrase};

/// Something that would settle a column.
#[derive(Debug, Serialize)]
pub struct SettleFacts {
    /// When it is right.
    pub message: String,
    /// The options that say it, if it can be said.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub options: Option<String>,
    /// The whole command line.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub command: Option<String>,
    /// Whether it says at length what the way before it says.
    #[serde(skip)]
    pub is_second: bool,
}

impl SettleFacts {
    /// When a whole command line is right.
    pub fn line(message: String, command: String) -> SettleFacts {
        SettleFacts { message, options: None, command: Some(command), is_second: false }
    }
}

/// When a first year of two-digit years is right.
pub fn two_digit_from(year: i16) -> String {
    format!("If two-digit years run from {year} to {}", year + 99)
}

/// Command lines that say what was typed about these inputs, and more.
#[derive(Debug)]
pub struct Paste {
    convert: CommandLine,
    survey: CommandLine,
    /// The readings file that belongs to them: the one that was typed, if one was.
    readings: String,
    /// What is made of the table, which needs its columns.
    shaping: Shaping,
    /// Whether a column may be left as it is.
    leaves: bool,
}

/// Options of survey that belong to one run.
const OF_ONE_RUN: [&str; 8] =
    ["json", "save", "accept", "ask", "evidence", "merge", "first-rows", "color"];

impl Paste {
    /// For these inputs.
    pub fn of(paths: &[&Path], choices: &Choices) -> Paste {
        Paste { shaping: choices.shaping.clone(), ..Paste::new(paths, choices.line()) }
    }

    /// For these inputs and what was typed, whatever is made of them.
    pub fn new(paths: &[&Path], typed: &CommandLine) -> Paste {
        let typed = typed.about(paths.iter().map(|path| path.to_string_lossy().into_owned()));
        let (output, usual) = match paths {
            [path] => (("output", suggested_output(path)), suggested_readings(path)),
            _ => (("output-dir", "converted".to_owned()), "readings.toml".to_owned()),
        };
        let is_counted = [COUNT, CHART].contains(&typed.command());
        // A report is no table.
        let typed = if typed.command() == REPORT { typed.without("output") } else { typed };
        let convert = match typed.command() {
            CONVERT => typed.clone(),
            // Which columns were looked at says nothing of which are converted.
            _ if is_counted => typed.clone(),
            _ => by_columns(typed.for_command(CONVERT).without("color")),
        };
        let survey = typed.for_command(SURVEY);
        let readings = typed.values("save").chain(typed.values("readings")).next();
        Paste {
            convert: match is_counted || convert.has("output") || convert.has("output-dir") {
                true => convert,
                false => convert.with(output.0, output.1),
            },
            survey: OF_ONE_RUN.iter().fold(survey, |line, option| line.without(option)),
            readings: readings.map_or(usual, str::to_owned),
            shaping: Shaping::default(),
            // What is counted is what was asked for.
            leaves: !is_counted,
        }
    }

    /// Whether a column may be left as it is: nothing is made of it.
    fn can_leave(&self, column: &str) -> bool {
        self.leaves && !self.shaping.speaks_of(column)
    }

    /// The conversion of them, or whatever else was asked for that reads their dates, all else as it was typed.
    pub fn convert(&self) -> CommandLine {
        self.convert.clone()
    }

    /// The conversion with that said.
    pub fn saying(&self, said: &Said) -> CommandLine {
        said.on(self.convert())
    }

    /// The survey of them, all else as it was typed.
    pub fn survey(&self) -> CommandLine {
        self.survey.clone()
    }

    /// The survey that saves all columns in their readings file.
    pub fn saving(&self) -> CommandLine {
        by_columns(self.survey()).with("save", &self.readings)
    }
}

const CONVERT: &str = "convert";
const SURVEY: &str = "survey";
const COUNT: &str = "count";
const CHART: &str = "chart";
const REPORT: &str = "report";

/// A way to settle a column, with the command line that says it.
pub fn settle(way: &Settle, column: &SurveyedColumn, paste: &Paste) -> Vec<SettleFacts> {
    let name = &column.plan.name;
    if let Settle::Split(_) = way {
        let save = paste.saving().with("accept", "split");
        let said = Said::by(way, name);
        let keep = "If that is so, to keep it for this and later files".to_owned();
        return vec![
            SettleFacts {
                options: Some(format!("--save {} --accept split", shell_word(&paste.readings))),
                command: Some(save.to_string()),
                message: keep,
                is_second: false,
            },
            SettleFacts {
                is_second: true,
                ..settled("To convert this file so".to_owned(), said.as_ref(), paste)
            },
        ];
    }
    vec![settled(when_right(way, column), Said::by(way, name).as_ref(), paste)]
}

/// What a column is called that holds nothing of what it seems to hold.
pub fn no_date_phrase(column: &SurveyedColumn) -> &'static str {
    match column.inference.judgement.kind {
        Some(Kind::Duration) => "no length of time",
        Some(Kind::Time) => "no time",
        _ => "no date",
    }
}

/// That a column is left as it is; none where something is made of it.
pub fn no_date(column: &SurveyedColumn, paste: &Paste) -> Option<SettleFacts> {
    if !paste.can_leave(&column.plan.name) {
        return None;
    }
    let what = no_date_phrase(column);
    let said = Said::no_date(&column.plan.name);
    let message = format!("If it is {what}, or to leave it as it is for now");
    Some(settled(message, Some(&said), paste))
}

/// Columns of which the same is asked.
#[derive(Debug, Serialize)]
pub struct AlikeFacts {
    /// Their names.
    pub columns: Vec<String>,
    /// Answers for all of them at once.
    pub settle: Vec<SettleFacts>,
}

/// Fewer columns are asked about one by one.
const ALIKE: usize = 3;

/// Open columns of which the same is asked, each group with answers for all of its columns at once.
pub fn alike(columns: &[SurveyedColumn], paste: &Paste) -> Vec<AlikeFacts> {
    // An answer for one value is of one column.
    fn is_common(way: &&Settle) -> bool {
        !matches!(
            way,
            Settle::Answer(..) | Settle::Value(_) | Settle::Split(_) | Settle::AllBut { .. }
        )
    }
    let ways = |own: &SurveyedColumn| -> Vec<String> {
        let all = own.inference.judgement.settle.iter().filter(is_common);
        all.map(|way| when_right(way, own)).collect()
    };
    let mut groups: Vec<(Vec<String>, Vec<&SurveyedColumn>)> = Vec::new();
    for own in columns.iter().filter(|own| own.is_open()) {
        let ways = ways(own);
        match groups.iter_mut().find(|(other, _)| *other == ways) {
            Some((_, group)) => group.push(own),
            None => groups.push((ways, vec![own])),
        }
    }
    groups.retain(|(ways, group)| !ways.is_empty() && group.len() >= ALIKE);
    let answers = groups.iter().map(|(ways, group)| {
        let line = |at: usize| {
            let said = group.iter().filter_map(|own| {
                let way = own.inference.judgement.settle.iter().filter(is_common).nth(at)?;
                Said::by(way, &own.plan.name)
            });
            Said::all_on(&said.collect::<Vec<_>>(), paste.convert()).to_string()
        };
        let all = format!("all {} of them", group.len());
        let answers = ways.iter().enumerate();
        let mut settle: Vec<SettleFacts> = answers
            .map(|(at, when)| SettleFacts::line(format!("{when} in {all}"), line(at)))
            .collect();
        if group.iter().all(|own| paste.can_leave(&own.plan.name)) {
            let left = leaving(group, paste.convert()).to_string();
            let what = group.first().map_or("no date", |own| no_date_phrase(own));
            settle.push(SettleFacts::line(
                format!("If they are {what}, or to leave them for now"),
                left,
            ));
        }
        AlikeFacts { columns: group.iter().map(|own| own.plan.name.clone()).collect(), settle }
    });
    answers.collect()
}

/// Command lines that leave no column open: with what survey leans to or has found, and with every open column left as
/// it is, where there are decided ones; none where only one column is open, which has its own.
pub fn all_at_once(columns: &[SurveyedColumn], paste: &Paste) -> Vec<SettleFacts> {
    let open: Vec<&SurveyedColumn> = columns.iter().filter(|own| own.is_open()).collect();
    let has_decided = columns.iter().any(|own| own.verdict() == Verdict::Decided && !own.is_left());
    let (taking, left): (Vec<&SurveyedColumn>, Vec<_>) =
        open.iter().partition(|column| favoured(column).is_some());
    // What something is made of cannot be left.
    if left.iter().any(|own| !paste.can_leave(&own.plan.name)) {
        return Vec::new();
    }
    let can_be_left = open.iter().all(|own| paste.can_leave(&own.plan.name));
    let all_are_left = taking.is_empty();
    let mut all = Vec::new();
    let mut way = |message: String, command: CommandLine| {
        all.push(SettleFacts::line(message, command.to_string()));
    };
    if !taking.is_empty() && open.len() > 1 {
        let told = taking.iter().filter_map(|column| {
            Some(format!("{}: {}", column.plan.name, taken(favoured(column)?, column)))
        });
        let told = told.collect::<Vec<_>>().join("; ");
        let rest = match left.is_empty() {
            true => String::new(),
            false => format!(", and leave {}", as_they_are(&left)),
        };
        let is_split =
            |column: &&SurveyedColumn| matches!(favoured(column), Some(Settle::Split(_)));
        let (split, leaning): (Vec<&SurveyedColumn>, Vec<_>) =
            taking.into_iter().partition(is_split);
        let (what, line) = if split.is_empty() {
            let said = leaning.iter().filter_map(|own| Said::by(favoured(own)?, &own.plan.name));
            let line = Said::all_on(&said.collect::<Vec<_>>(), paste.convert());
            ("take what survey leans to", line)
        } else {
            // What tells rows apart may be long: it is kept in a file.
            let line = paste.saving().with("accept", "split");
            let line = if leaning.is_empty() { line } else { line.with("accept", "leaning") };
            ("keep what survey has found", line)
        };
        way(format!("To {what} ({told}){rest}"), leaving(&left, line));
    }
    if open.len() > 1 && can_be_left && (has_decided || all_are_left) {
        let what = match has_decided {
            true => "To convert the decided ones now, and leave",
            false => "To leave",
        };
        way(format!("{what} {}", as_they_are(&open)), leaving(&open, paste.convert()));
    }
    all
}

/// What survey leans to or has found to tell the rows apart.
pub fn favoured(column: &SurveyedColumn) -> Option<&Settle> {
    let judgement = &column.inference.judgement;
    let split = judgement.settle.iter().find(|way| matches!(way, Settle::Split(_)));
    split.or(judgement.leans_to.as_ref())
}

/// The command line that leaves these columns as they are.
fn leaving(columns: &[&SurveyedColumn], line: CommandLine) -> CommandLine {
    let said: Vec<Said> = columns.iter().map(|own| Said::no_date(&own.plan.name)).collect();
    Said::all_on(&said, line)
}

fn as_they_are(columns: &[&SurveyedColumn]) -> String {
    let names: Vec<&str> = columns.iter().map(|column| column.plan.name.as_str()).collect();
    let it = if names.len() == 1 { "as it is" } else { "as they are" };
    format!("{} {it}", list(names.iter().copied(), "and", "more"))
}

/// What a way to settle a column takes it for.
pub fn taken(way: &Settle, column: &SurveyedColumn) -> String {
    let when = when_right(way, column);
    when.strip_prefix("If ").unwrap_or(&when).to_owned()
}

fn settled(message: String, said: Option<&Said>, paste: &Paste) -> SettleFacts {
    let command = said.map(|said| paste.saying(said).to_string());
    SettleFacts { message, options: said.map(Said::to_string), command, is_second: false }
}

/// When a way to settle a column is right.
fn when_right(way: &Settle, column: &SurveyedColumn) -> String {
    match way {
        Settle::Order(order, 0) => format!("If {}", if_order((*order).into())),
        Settle::Order(order, lost) => {
            format!("If {} and {}", if_order((*order).into()), typing_errors(*lost))
        }
        Settle::Calendar(Calendar::Gregorian) => {
            "If these years are of the usual calendar".to_owned()
        }
        Settle::Calendar(calendar) => format!("If it is {}", calendar.phrase()),
        Settle::Abbreviation(name, place) => format!("If {name} is that of {place}"),
        Settle::Epoch(epoch) => match epoch.described().unwrap_or(("", "numbers")) {
            ("", _) => format!("If they are dates in digits ({epoch})"),
            (zero, unit) => format!("If they count {unit} from {zero}"),
        },
        Settle::Kind(Kind::Duration) => "If they are lengths of time".to_owned(),
        Settle::Kind(Kind::Time) => "If they were read off a clock".to_owned(),
        Settle::Kind(kind) => format!("If each of them is {}", kind.phrase()),
        Settle::Unit(unit) => format!("If numbers alone are {}", unit.name()),
        Settle::Layouts(Alternative::Only, list) => {
            let kind = list.first().and_then(|layout| layout.kind()).map_or("", Kind::name);
            format!("If each of them is a {kind}, or a typing error")
        }
        Settle::Layouts(order, _) => format!("If {}", if_order(*order)),
        Settle::AsWritten(what, _) => match what {
            AsWritten::DecimalFractions => "If their fractions are decimal",
            AsWritten::HoursOfDay => "If they are hours of a day of 24",
            AsWritten::Weeks => "If they are weeks of a year (ISO 8601)",
            AsWritten::Quarters => "If they are quarters of a year",
            AsWritten::Months => "If they are months",
            AsWritten::Numbers(PlainKind::Years) => "If they are years",
            AsWritten::Numbers(PlainKind::DecimalYears(part)) => {
                return format!("If each is a {} of a year", part.name());
            }
            AsWritten::Numbers(PlainKind::YearMonths | PlainKind::CompactMonths) => {
                "If they are a year and its month"
            }
            AsWritten::Numbers(PlainKind::CompactWeeks) => {
                "If they are a year and its week (ISO 8601)"
            }
            AsWritten::Numbers(PlainKind::Clocks) => "If they are hours and minutes of a clock",
            AsWritten::FullYears => "If their years have four digits",
            AsWritten::ShortYears => "If their years have two digits",
        }
        .to_owned(),
        Settle::Both(_) => {
            "If both orders occur, to read what has one meaning and leave the rest empty".to_owned()
        }
        Settle::Answer(_, TypedValue::Duration(_)) => {
            "If you know how long one of them is, say it, for example".to_owned()
        }
        Settle::Answer(..) => {
            "If you know the right date of one value, say it, for example".to_owned()
        }
        Settle::Repair(repair, _) => if_repaired(*repair).to_owned(),
        // Of several files each begins anew.
        Settle::Year(year) if column.evidence.sequences.len() > 1 => {
            format!("If the first row of each file is of {year}")
        }
        Settle::Year(year) => format!("If the first row is of {year}"),
        Settle::WrittenIn(locale) => {
            let language = locale.language_name();
            match column.inference.judgement.kind {
                Some(Kind::Duration) => format!("If they are written in {language}"),
                _ => format!("If the names are {language}"),
            }
        }
        Settle::TwoDigitFrom(year) => two_digit_from(*year),
        Settle::Split(found) => match &found.by {
            Clue::Column(other) => format!("If {} tells its rows apart", quoted(other)),
            Clue::Rows => "If where they stand tells its rows apart".to_owned(),
            Clue::Clock => "If the clock tells its rows apart".to_owned(),
        },
        Settle::AllBut { value, order, .. } => {
            let phrased = phrase(Alternative::from(*order));
            format!("If {} is {phrased} and the others are not", quoted(value))
        }
        Settle::Value(telling) => would_decide(*telling).to_owned(),
    }
}

fn if_repaired(repair: Repair) -> &'static str {
    match repair {
        Repair::HalfSwapped => "If that is so, to exchange them back",
        Repair::Swapped => "If that is so, and it exchanged all of them, to exchange them back",
        Repair::MonthYear => "If that is so, to make months of them again",
        Repair::None => "If every date is right as it stands",
    }
}

fn if_order(order: Alternative) -> &'static str {
    match order {
        Alternative::Dmy => "the day comes first",
        Alternative::Mdy => "the month comes first",
        Alternative::Ymd => "the year comes first",
        Alternative::Ydm => "the order is year, day, month",
        Alternative::Ordinal => "they are a year and the day of that year",
        Alternative::Only => "that is what they are",
        Alternative::HoursMinutes => "they are hours and minutes",
        Alternative::MinutesSeconds => "they are minutes and seconds",
        Alternative::Minutes => "\"m\" is minutes",
        Alternative::Months => "\"m\" is months",
    }
}

/// A kind of value that would decide.
fn would_decide(telling: Telling) -> &'static str {
    match telling {
        Telling::LateDays => "A few more values with a day above 12 would decide it.",
        Telling::WholeMonths => "Values that run through all days of the month would decide it.",
        Telling::HoursBesideM => "Values that have hours or seconds beside \"m\" would decide it.",
        Telling::Fractions => {
            "A few values with a fraction, such as 1:30.5, would decide it: that ends with seconds."
        }
        Telling::NamesThemselves => {
            "Without --written-in for this column its names show the language."
        }
    }
}

fn typing_errors(rows: u64) -> String {
    match rows {
        1 => "the 1 value that does not fit is a typing error, to be left empty".to_owned(),
        _ => {
            let rows = metachron_core::text::grouped(rows);
            format!("the {rows} values that do not fit are typing errors, to be left empty")
        }
    }
}
