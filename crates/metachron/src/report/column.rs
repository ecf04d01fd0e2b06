//! What was found out about a column.

use std::collections::BTreeMap;

use metachron_core::duration::{Duration, Unit};
use metachron_core::evidence::{CellTypes, Witness};
use metachron_core::layout::{Field, Layout};
use metachron_core::lexicon::{Length, Lexicon};
use metachron_core::named::Named;
use metachron_core::order::Alternative;
use metachron_core::reading::{Contested, Reading, Repair, RowParts, Split, Zoning};
use metachron_core::text::counted;
use metachron_core::typed::TypedValue;
use metachron_core::verdict::{Contender, Counts, Origin, RuledOut, Verdict};
use serde::Serialize;

use super::paste::{Paste, SettleFacts, no_date, settle};
use crate::choices::rows_text;
use crate::survey::SurveyedColumn;
use crate::words::{order_name, phrase, words};

/// What was found out about a column.
#[derive(Debug, Serialize)]
pub struct ColumnFacts {
    /// Its name.
    pub name: String,
    /// What its values are when read.
    pub kind: Option<String>,
    /// The verdict.
    pub verdict: String,
    /// Whether it was said to be left as it is.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub left: bool,
    /// The reading that is decided or favoured.
    pub reading: Option<ReadingFacts>,
    /// What becomes of the rows.
    pub rows: RowFacts,
    /// Only so many rows were looked at, and there are more.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub first_rows: Option<u64>,
    /// What the cells are, apart from those that stand for nothing.
    pub cells: CellFacts,
    /// The written forms.
    pub shapes: Vec<ShapeFacts>,
    /// The orders side by side.
    pub candidates: Vec<CandidateFacts>,
    /// A row that the candidates in play take for different moments.
    pub example: Option<ValueFacts>,
    /// Why.
    pub reasons: Vec<String>,
    /// What speaks for one of the orders in play and decides nothing.
    pub signals: Vec<SignalFacts>,
    /// Ways of being wrong that it does not have.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub ruled_out: Vec<RuledOutFacts>,
    /// What would settle it.
    pub settle: Vec<SettleFacts>,
}

/// A reading, by the keys of a readings file.
#[derive(Debug, Serialize)]
pub struct ReadingFacts {
    /// The kind.
    pub kind: String,
    /// The language and region that the values were written in, where it matters.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub written_in: Option<&'static str>,
    /// The layouts.
    pub layouts: Vec<String>,
    /// The zone in which the clocks stood.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub zone: Option<String>,
    /// The column that says it row by row.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub zone_from: Option<String>,
    /// What numbers count.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub epoch: Option<String>,
    /// Where two-digit years lie, if there are any.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub two_digit_from: Option<i16>,
    /// What becomes of contested rows, if it is not usual.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub contested: Option<&'static str>,
    /// What an earlier import did that is undone.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub repair: Option<&'static str>,
    /// Which layouts are those of which rows, where rows differ.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub when: Vec<WhenFacts>,
    /// How rows are written that no `when` lists; none if only what can be read in one way is.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub otherwise: Option<Vec<String>>,
}

/// How some rows are written, by the keys of a readings file.
#[derive(Debug, Serialize)]
pub struct WhenFacts {
    /// The column that tells them apart, with the values of these rows.
    #[serde(rename = "where", skip_serializing_if = "Option::is_none")]
    pub place: Option<BTreeMap<String, Vec<String>>>,
    /// The rows.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub rows: Option<String>,
    /// Their layouts.
    pub layouts: Vec<String>,
}

/// How many rows become what; each counts once.
#[derive(Debug, Serialize)]
pub struct RowFacts {
    /// Read.
    pub read: u64,
    /// Stand for nothing.
    pub missing: u64,
    /// Dates only in form.
    pub placeholder: u64,
    /// Fit no reading.
    pub unreadable: u64,
    /// Readings in play differ.
    pub contested: u64,
    /// Wait for an answer, as the whole column does.
    pub open: u64,
}

/// How many cells are of which type.
#[derive(Debug, Serialize)]
pub struct CellFacts {
    /// Text.
    pub text: u64,
    /// Numbers.
    pub number: u64,
    /// Dates and times that the file has typed.
    pub typed: u64,
    /// Errors in place of a value.
    pub fault: u64,
}

/// A written form.
#[derive(Debug, Serialize)]
pub struct ShapeFacts {
    /// The form with its content blanked out.
    pub shape: String,
    /// How many rows have it.
    pub rows: u64,
    /// The first of them.
    pub example: ValueFacts,
}

/// A value and where it stands.
#[derive(Debug, Serialize)]
pub struct ValueFacts {
    /// The row of data; the first is 1.
    pub row: u64,
    /// The raw value.
    pub value: String,
}

/// One order with what it makes of the column.
#[derive(Debug, Serialize)]
pub struct CandidateFacts {
    /// The reading.
    pub reading: CandidateReading,
    /// What it is called in a sentence.
    #[serde(skip)]
    pub phrase: String,
    /// Whether it is still in play.
    pub in_play: bool,
    /// Rows that it fits.
    pub fits: u64,
    /// Rows of such a form that it does not fit.
    pub contradictions: u64,
    /// The first of these.
    pub contradiction: Option<ValueFacts>,
    /// The earliest value.
    pub earliest: Option<String>,
    /// The latest value.
    pub latest: Option<String>,
    /// What it makes of the column's example.
    pub example: Option<String>,
    /// The same in words.
    #[serde(skip)]
    pub example_in_words: Option<String>,
}

/// The reading of a candidate.
#[derive(Debug, Serialize)]
pub struct CandidateReading {
    /// The order; none where the form leaves none open.
    pub order: Option<String>,
    /// What numbers count.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub epoch: Option<String>,
    /// The layouts.
    pub layouts: Vec<String>,
}

/// Soft evidence.
#[derive(Debug, Serialize)]
pub struct SignalFacts {
    /// The order that it speaks for.
    pub favours: String,
    /// What it says, with its figure.
    pub message: String,
}

/// A way of being wrong that a column does not have.
#[derive(Debug, Serialize)]
pub struct RuledOutFacts {
    /// What it is called.
    pub hazard: &'static str,
    /// What it is, and what shows that it is not so.
    pub message: String,
    /// Values, months or dates that show it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub shown_by: Option<u64>,
    /// It would look so once in ten to the power of this.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub power: Option<u32>,
}

impl RuledOutFacts {
    fn of(own: &RuledOut) -> RuledOutFacts {
        let (shown_by, power) = match own {
            RuledOut::Exchange { power } | RuledOut::MonthYear { power } => (None, Some(*power)),
            RuledOut::Order { rows: count, .. }
            | RuledOut::TwelveHours { rows: count }
            | RuledOut::LostDays { dates: count }
            | RuledOut::OtherHand { values: count, .. }
            | RuledOut::RunningNumbers { months: count } => (Some(*count), None),
        };
        RuledOutFacts { hazard: own.hazard(), message: words(own).to_string(), shown_by, power }
    }
}

/// The facts of one column.
pub fn facts(column: &SurveyedColumn, paste: &Paste) -> ColumnFacts {
    let judgement = &column.inference.judgement;
    let mut reasons: Vec<String> = Vec::new();
    if let Some(rows) = column.of_first_rows {
        let rows = metachron_core::text::counted(rows, "row");
        reasons.push(format!("By the first {rows} only."));
    }
    if column.is_left() {
        reasons.push("It is left as it is, as was said.".to_owned());
    }
    if column.plan.waits {
        reasons.push(
            "The readings file has a reading for it that nobody has accepted yet.".to_owned(),
        );
    }
    reasons.extend(judgement.findings.iter().map(|finding| words(finding).to_string()));
    let by_frequency = column.evidence.shapes.by_frequency();
    let CellTypes { text, number, typed, fault } = column.evidence.cells;
    ColumnFacts {
        name: column.plan.name.clone(),
        kind: judgement.kind.map(|kind| kind.name().to_owned()),
        verdict: judgement.verdict.name().to_owned(),
        left: column.is_left(),
        reading: judgement.reading.as_ref().map(reading),
        rows: RowFacts::of(&judgement.counts, column.verdict().is_open()),
        first_rows: column.of_first_rows,
        cells: CellFacts { text, number, typed, fault },
        shapes: by_frequency
            .into_iter()
            .map(|(shape, tally)| ShapeFacts {
                shape: shape.to_owned(),
                rows: tally.rows,
                example: value(&tally.lowest),
            })
            .collect(),
        candidates: {
            let numbers = column.evidence.numbers.rows;
            let origins = judgement.origins.iter().map(|own| origin(own, numbers));
            judgement.contenders.iter().map(candidate).chain(origins).collect()
        },
        example: judgement.example.as_ref().map(value),
        reasons,
        signals: judgement
            .signals
            .iter()
            .map(|signal| SignalFacts {
                favours: order_name(signal.favours),
                message: words(signal).to_string(),
            })
            .collect(),
        ruled_out: judgement.ruled_out.iter().map(RuledOutFacts::of).collect(),
        settle: {
            let ways = judgement.settle.iter().flat_map(|way| settle(way, column, paste));
            let left = column.is_open().then(|| no_date(column, paste)).flatten();
            ways.filter(|_| !column.is_left()).chain(left).collect()
        },
    }
}

fn texts(layouts: &[Layout]) -> Vec<String> {
    layouts.iter().map(Layout::to_string).collect()
}

/// Which layouts are those of which rows.
fn when(split: &Split<Vec<Layout>>) -> Vec<WhenFacts> {
    match &split.parts {
        RowParts::Column(name, parts) => parts
            .iter()
            .map(|(values, layouts)| WhenFacts {
                place: Some(BTreeMap::from([(name.clone(), values.clone())])),
                rows: None,
                layouts: texts(layouts),
            })
            .collect(),
        RowParts::Rows(parts) => parts
            .iter()
            .map(|(rows, layouts)| WhenFacts {
                place: None,
                rows: Some(rows_text(rows)),
                layouts: texts(layouts),
            })
            .collect(),
    }
}

pub fn reading(reading: &Reading) -> ReadingFacts {
    let short = reading.layouts.iter().any(|layout| layout.has(Field::YearTwo));
    ReadingFacts {
        kind: reading.kind.name().to_owned(),
        written_in: reading.terms.written_in().map(|locale| locale.tag()),
        layouts: texts(&reading.layouts),
        zone: match &reading.zoning {
            Some(Zoning::All(clock)) => Some(clock.to_string()),
            _ => None,
        },
        zone_from: reading.zoning.as_ref().and_then(|zoning| zoning.column().map(str::to_owned)),
        epoch: reading.serials.map(|serials| serials.epoch.to_string()),
        two_digit_from: short.then_some(reading.terms.century.from),
        contested: (reading.contested == Contested::Prefer).then_some("prefer"),
        repair: (reading.repair != Repair::None).then(|| reading.repair.name()),
        when: reading.split.as_ref().map_or(Vec::new(), when),
        otherwise: reading.split.as_ref().and_then(|split| split.otherwise.as_deref().map(texts)),
    }
}

fn value(witness: &Witness) -> ValueFacts {
    ValueFacts { row: witness.row, value: witness.value.clone() }
}

fn candidate(contender: &Contender) -> CandidateFacts {
    CandidateFacts {
        reading: CandidateReading {
            order: match contender.alternative {
                Alternative::Ordinal | Alternative::Only => None,
                other => Some(order_name(other)),
            },
            epoch: None,
            layouts: contender.layouts.iter().map(Layout::to_string).collect(),
        },
        phrase: phrase(contender.alternative).to_owned(),
        in_play: contender.survives,
        fits: contender.fits,
        contradictions: contender.contradictions,
        contradiction: contender.contradiction.as_ref().map(value),
        earliest: contender.earliest.map(|moment| moment.to_string()),
        latest: contender.latest.map(|moment| moment.to_string()),
        example: contender.example.map(|moment| moment.to_string()),
        example_in_words: contender.example.and_then(in_words),
    }
}

/// An origin from which numbers may count, as a candidate.
fn origin(origin: &Origin, rows: u64) -> CandidateFacts {
    let epoch = origin.epoch.to_string();
    CandidateFacts {
        reading: CandidateReading { order: None, epoch: Some(epoch.clone()), layouts: Vec::new() },
        phrase: epoch,
        in_play: true,
        fits: rows,
        contradictions: 0,
        contradiction: None,
        earliest: Some(origin.earliest.to_string()),
        latest: Some(origin.latest.to_string()),
        example: None,
        example_in_words: None,
    }
}

/// A moment's day as one says it: `3 April 2024`.
pub fn in_words(moment: TypedValue) -> Option<String> {
    if let TypedValue::Duration(own) = moment {
        return Some(length_in_words(own));
    }
    let date = moment.date()?;
    let month = Lexicon::english().month(date.month() as u8, Length::Full, false);
    Some(format!("{} {month} {}", date.day(), date.year()))
}

/// A length of time in words: `1 hour 30 minutes`.
pub fn length_in_words(own: Duration) -> String {
    let units = ["years", "months", "hours", "minutes", "seconds"];
    let units: Vec<Unit> = units.into_iter().filter_map(|name| Unit::named(name).ok()).collect();
    let (numbers, rest) = own.parts(&units);
    let fraction = format!("{rest:09}");
    let fraction = fraction.trim_end_matches('0');
    let words: Vec<String> = numbers
        .iter()
        .zip(&units)
        .filter_map(|(number, unit)| match (unit.name(), rest) {
            ("seconds", 1..) => Some(format!("{number}.{fraction} seconds")),
            _ if *number == 0 => None,
            (name, _) => Some(counted(*number, name.trim_end_matches('s'))),
        })
        .collect();
    let minus = if own.is_negative() { "minus " } else { "" };
    match words.is_empty() {
        true => "no time".to_owned(),
        false => format!("{minus}{}", words.join(" ")),
    }
}

impl RowFacts {
    /// What becomes of the rows.
    pub fn of(counts: &Counts, is_open: bool) -> RowFacts {
        let Counts { read, missing, placeholder, unreadable, contested, .. } = *counts;
        let facts = RowFacts { read, missing, placeholder, unreadable, contested, open: 0 };
        match is_open {
            // Nothing would be converted now.
            true => RowFacts { read: 0, contested: 0, open: read + contested, ..facts },
            false => facts,
        }
    }
}

impl CellFacts {
    /// Whether every cell stands for nothing.
    pub fn is_empty(&self) -> bool {
        self.text + self.number + self.typed + self.fault == 0
    }
}

impl ColumnFacts {
    /// Whether a person has to answer.
    pub fn is_open(&self) -> bool {
        !self.left && Verdict::named(&self.verdict).is_ok_and(Verdict::is_open)
    }

    /// What the cells are, where they are not all text.
    pub fn cell_types(&self) -> Option<String> {
        let CellFacts { text, number, typed, fault } = self.cells;
        if number + typed + fault == 0 {
            return None;
        }
        let named = [(text, "text"), (number, "numbers"), (typed, "date cells"), (fault, "errors")];
        let said = named.iter().filter(|(count, _)| *count > 0);
        let said: Vec<String> = said
            .map(|(count, name)| format!("{name} {}", metachron_core::text::grouped(*count)))
            .collect();
        Some(said.join(", "))
    }

    /// Whether the column holds dates.
    pub fn is_temporal(&self) -> bool {
        self.kind.is_some()
    }
}
