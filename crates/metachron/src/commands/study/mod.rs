//! Looks at a whole table once and comes to a conclusion about every column.

mod again;

use std::path::Path;

use metachron_core::epoch::Epoch;
use metachron_core::evidence::{Evidence, Neighbours, ObserveOptions, Observer};
use metachron_core::infer::{Inference, conclude};
use metachron_core::reading::{Parts, Place};
use metachron_core::text::Missing;
use metachron_core::value::Value;
use metachron_core::verdict::{
    Asserted, Drift, TableColumn, TableStyle, Verdict, signals_beside, speaks_of_dates,
    speaks_of_lengths,
};
use metachron_tables::dialect::Delimiter;
use metachron_tables::table::{Format, Lines};

use again::{look_closer, settle_origins, tell_repeated_hours};

use crate::config::Config;
use crate::decisions::{Decisions, When};
use crate::intake::Intake;
use crate::message::{Failure, plain, quoted, shell_word, shown};
use crate::progress::Progress;
use crate::said::set_name;

/// A table that has been looked at.
pub struct Study {
    /// The table.
    pub intake: Intake,
    /// What was met on the way.
    pub lines: Lines,
    /// The columns that were looked at, from left to right.
    pub columns: Vec<Studied>,
    /// Columns without a name and without a single value.
    pub blank: Vec<usize>,
    /// Whether there are more rows than were looked at.
    pub is_part: bool,
}

/// A column that has been looked at.
#[derive(Clone)]
pub struct Studied {
    /// Where it stands.
    pub index: usize,
    /// Its name.
    pub name: String,
    /// What was said of it.
    pub decisions: Decisions,
    /// The column that tells its rows apart, if one does.
    pub beside: Option<usize>,
    /// The column that tells the zones of its rows, if one does.
    pub zone_at: Option<usize>,
    /// Whether a saved reading was passed over because nobody has accepted it.
    pub waits: bool,
    lens: ObserveOptions,
    known: Asserted,
    /// What was seen.
    pub evidence: Evidence,
    /// What was seen before the language of the names was known, where that has changed the lens:
    /// only what was seen through the same lens adds up.
    first_look: Option<(Box<Evidence>, ObserveOptions)>,
    /// Only so many rows were looked at, and there are more.
    pub of_first_rows: Option<u64>,
    /// The conclusion.
    pub inference: Inference,
}

impl Studied {
    /// The same column of another file as well: evidence adds up, and is judged anew.
    pub fn and(self, other: &Studied) -> Result<Studied, Failure> {
        let (own, lens) = self.first();
        let evidence = own.clone().merge(other.first().0.clone()).map_err(Failure::could_not)?;
        let inference = conclude(&evidence, lens, &self.known);
        Ok(Studied { evidence, inference, lens: lens.clone(), first_look: None, ..self })
    }

    /// A column whose evidence was gathered earlier; none if it was seen through another lens.
    pub fn of_evidence(name: &str, evidence: Evidence, config: &Config) -> Option<Studied> {
        let decisions = config.decisions(name, config.chosen.iter().any(|chosen| chosen == name));
        let lens = lens(&decisions, config);
        if !evidence.was_seen_through(&lens) {
            return None;
        }
        let known = known(&decisions, name, None, config);
        let inference = conclude(&evidence, &lens, &known);
        Some(Studied {
            index: 0,
            name: name.to_owned(),
            decisions,
            beside: None,
            zone_at: None,
            waits: false,
            lens,
            known,
            evidence,
            first_look: None,
            of_first_rows: None,
            inference,
        })
    }

    /// What was seen first: only that adds up with what is seen elsewhere.
    pub fn first_evidence(&self) -> &Evidence {
        self.first().0
    }

    /// What was seen first, and through which lens.
    fn first(&self) -> (&Evidence, &ObserveOptions) {
        match &self.first_look {
            Some((evidence, lens)) => (evidence, lens),
            None => (&self.evidence, &self.lens),
        }
    }

    /// How the column differs from what its reading was saved for.
    pub fn drift(&self, as_of: &str) -> Vec<Drift> {
        let seen = self.decisions.seen.as_ref().filter(|_| !self.waits);
        seen.map_or(Vec::new(), |seen| seen.drift(&self.evidence, &self.inference.judgement, as_of))
    }

    /// Whether every value is typed by the file itself.
    pub fn is_typed(&self) -> bool {
        let cells = self.evidence.cells;
        cells.typed > 0 && cells.text + cells.number == 0
    }

    /// The verdict.
    pub fn verdict(&self) -> Verdict {
        self.inference.judgement.verdict
    }
}

/// Looks at the table, which is this part of all that are looked at. Only the named columns are looked at, if any are named.
pub fn study(path: &Path, part: u32, config: &Config) -> Result<Study, Failure> {
    let intake = Intake::open(path, &config.wanted)?;
    for name in config.names() {
        intake.position(name)?;
    }
    if let Some(readings) = &config.readings
        && let Some(gone) =
            readings.columns().find(|name| intake.table.header.position(name).is_none())
    {
        return Err(Failure::could_not(format!(
            "{} reads a column {} that {} does not have",
            shown(&readings.path),
            quoted(gone),
            shown(path)
        )));
    }
    let wanted = |name: &str| config.chosen.is_empty() || config.chosen.iter().any(|c| c == name);
    let names = intake.names().iter().enumerate().filter(|(_, name)| wanted(name));
    let plans = names
        .map(|(index, name)| Plan::new(&intake, index, name, false, config))
        .collect::<Result<Vec<Plan>, Failure>>()?;
    let Observed { lines, mut columns, blank, is_part } = observe(&intake, part, plans, config)?;
    look_closer(&intake, part, &mut columns, config)?;
    if config.needs_target() {
        let target = the_only_column(&intake, &columns, config)?;
        let Studied { index, name, .. } = &columns[target];
        let plan = Plan::new(&intake, *index, name, true, config)?;
        let mut again = observe(&intake, part, vec![plan], config)?;
        columns[target] = again.columns.remove(0);
        look_closer(&intake, part, &mut columns, config)?;
    }
    // What was not asked for may still speak of what is open.
    let asked = columns.len();
    if !config.chosen.is_empty() && columns.iter().any(|column| column.verdict().is_open()) {
        let mut plans: Vec<Plan> = columns.iter().map(Plan::again).collect();
        for (index, name) in intake.names().iter().enumerate().filter(|(_, name)| !wanted(name)) {
            plans.push(Plan::new(&intake, index, name, false, config)?);
        }
        let mut all = observe(&intake, part, plans, config)?.columns;
        let others = all.split_off(asked);
        for (own, again) in columns.iter_mut().zip(all) {
            own.evidence = again.evidence;
        }
        columns.extend(others);
    }
    weigh_together(&mut columns, habits(&intake));
    settle_origins(&intake, part, &mut columns, config)?;
    columns.truncate(asked);
    tell_repeated_hours(&intake, &mut columns, config)?;
    Ok(Study { intake, lines, columns, blank, is_part })
}

/// How the values of a column are looked at.
fn lens(decisions: &Decisions, config: &Config) -> ObserveOptions {
    let own = decisions.missing.iter().flatten();
    let missing = Missing::usual().and(config.missing.iter().chain(own));
    decisions.lens(
        missing.keeping_placeholders(config.keeps_placeholders),
        config.today,
        config.zones,
    )
}

/// What is known of a column of this name.
fn known(decisions: &Decisions, name: &str, own_epoch: Option<Epoch>, config: &Config) -> Asserted {
    let (speaks_of_dates, speaks_of_lengths) = (speaks_of_dates(name), speaks_of_lengths(name));
    Asserted {
        speaks_of_dates,
        speaks_of_lengths,
        own_epoch,
        ..decisions.known(config.today, config.zones)
    }
}

/// The origin of the numbers of a workbook, which has one.
fn own_epoch(intake: &Intake) -> Option<Epoch> {
    let is_1904 = intake.table.sheet()?.is_1904?;
    if is_1904 { "sheet-1904" } else { "sheet-1900" }.parse().ok()
}

/// What the table is like.
fn habits(intake: &Intake) -> TableStyle {
    let decimal_comma = matches!(
        &intake.table.format,
        Format::Delimited { dialect, decimal_comma: true, .. } if dialect.delimiter == Delimiter::Semicolon
    );
    TableStyle { decimal_comma }
}

/// Columns as others see them.
pub fn siblings(columns: &[Studied]) -> Vec<TableColumn<'_>> {
    let columns = columns.iter();
    columns
        .map(|Studied { name, evidence, inference, .. }| TableColumn {
            name,
            evidence,
            judgement: &inference.judgement,
        })
        .collect()
}

/// Judges open columns again in the light of the rest of the table.
pub fn weigh_together(columns: &mut [Studied], habits: TableStyle) {
    let siblings = siblings(columns);
    let all: Vec<_> = (0..columns.len())
        .map(|at| match columns[at].verdict().is_open() {
            true => signals_beside(&siblings, at, habits),
            false => Vec::new(),
        })
        .collect();
    for (column, signals) in columns.iter_mut().zip(all).filter(|(_, all)| !all.is_empty()) {
        column.known.signals = signals;
        column.inference = conclude(&column.evidence, &column.lens, &column.known);
    }
}

/// Where the only temporal column stands among those looked at.
fn the_only_column(
    intake: &Intake,
    columns: &[Studied],
    config: &Config,
) -> Result<usize, Failure> {
    let temporal: Vec<usize> = (0..columns.len())
        .filter(|index| columns[*index].verdict() != Verdict::NotADate || columns.len() == 1)
        .collect();
    if let [only] = temporal[..] {
        return Ok(only);
    }
    let (option, set) = config.untargeted();
    let file = shown(&intake.path);
    if temporal.is_empty() {
        return Err(Failure::usage(format!(
            "{option} is about one column, and no column of {file} is sure to hold dates; \
             name it with --column"
        )));
    }
    let forms: Vec<String> = temporal
        .iter()
        .map(|index| {
            let said = format!("{}: {set}", set_name(&columns[*index].name));
            format!("\n  --set {}", shell_word(&plain(&said)))
        })
        .collect();
    Err(Failure::usage(format!(
        "{option} is about one column, but {} of {file} hold dates; name it with --column, or say{}",
        temporal.len(),
        forms.join("")
    )))
}

/// A column that is to be looked at.
struct Plan {
    index: usize,
    name: String,
    decisions: Decisions,
    beside: Option<usize>,
    zone_at: Option<usize>,
    waits: bool,
    lens: ObserveOptions,
}

impl Plan {
    /// To look at a column once more.
    fn again(column: &Studied) -> Plan {
        let Studied { index, name, decisions, beside, zone_at, waits, lens, .. } = column.clone();
        Plan { index, name, decisions, beside, zone_at, waits, lens }
    }

    fn new(
        intake: &Intake,
        index: usize,
        name: &str,
        target: bool,
        config: &Config,
    ) -> Result<Plan, Failure> {
        let mut decisions = config.decisions(name, target);
        decisions.check_years().map_err(Failure::usage)?;
        decisions.check_zones(config.zones).map_err(Failure::usage)?;
        let says = decisions.written.is_some() || decisions.when.is_some();
        let waits = says && decisions.waits_for_acceptance();
        if waits {
            (decisions.written, decisions.when) = (None, None);
        }
        let beside = match &decisions.when {
            Some(When { parts: Parts::Column(other, _), .. }) => Some(intake.position(other)?),
            Some(When { digest: Some(digest), .. }) => {
                same_content(intake, digest)?;
                None
            }
            _ => None,
        };
        let zone_at = match decisions.clocks.zoning(config.zones) {
            Ok(Some(zoning)) => zoning.column().map(|other| intake.position(other)).transpose()?,
            _ => None,
        };
        let lens = lens(&decisions, config);
        Ok(Plan { index, name: name.to_owned(), decisions, beside, zone_at, waits, lens })
    }
}

/// Rows are the same rows only in the same content.
fn same_content(intake: &Intake, digest: &str) -> Result<(), Failure> {
    let own = intake.digest()?;
    if own == digest {
        return Ok(());
    }
    Err(Failure::question(format!(
        "{} is not the file whose rows were told apart: its content has changed; \
         look at it anew with metachron survey",
        shown(&intake.path)
    )))
}

/// What one pass through the table shows.
struct Observed {
    lines: Lines,
    columns: Vec<Studied>,
    blank: Vec<usize>,
    is_part: bool,
}

/// One pass through the table.
fn observe(
    intake: &Intake,
    part: u32,
    plans: Vec<Plan>,
    config: &Config,
) -> Result<Observed, Failure> {
    let mut observers: Vec<Observer> =
        plans.iter().map(|plan| Observer::new(plan.lens.clone(), part)).collect();
    let (mut buffer, mut other) = (String::new(), String::new());
    let mut neighbours = Neighbours::of(intake.names().iter().map(String::as_str));
    let mut blank = intake.table.header.unnamed();
    let mut progress = Progress::new(&intake.path, config.shows_progress);
    let (lines, is_part) = intake.each_first_row(config.first_rows, |number, row| {
        progress.row(number);
        blank.retain(|column| match row.cell(*column, &mut buffer) {
            Value::Missing => true,
            Value::Text(text) => text.trim().is_empty(),
            Value::Number(_) | Value::Typed(_) | Value::Fault(_) => false,
        });
        neighbours.next_row();
        for at in 0..neighbours.len() {
            if neighbours.wants(at) {
                neighbours.see(at, beside(row.cell(at, &mut buffer)));
            }
        }
        for (plan, observer) in plans.iter().zip(&mut observers) {
            let beside = plan.beside.map_or("", |index| beside(row.cell(index, &mut other)));
            let place = Place { row: number, beside, zone: "" };
            let value = row.cell(plan.index, &mut buffer);
            let day = observer.observe_among(place, value, &neighbours);
            neighbours.note(plan.index, day);
        }
        Ok(())
    })?;
    let own_epoch = own_epoch(intake);
    let columns = plans
        .into_iter()
        .zip(observers)
        .map(|(plan, observer)| {
            let evidence = observer.finish_among(&plan.name, &neighbours);
            let Plan { index, name, decisions, beside, zone_at, waits, lens } = plan;
            let known = known(&decisions, &name, own_epoch, config);
            let inference = conclude(&evidence, &lens, &known);
            Studied {
                index,
                name,
                decisions,
                beside,
                zone_at,
                waits,
                lens,
                known,
                evidence,
                first_look: None,
                of_first_rows: config.first_rows.filter(|_| is_part),
                inference,
            }
        })
        .collect();
    Ok(Observed { lines, columns, blank, is_part })
}

/// What a cell says that stands beside a value.
pub fn beside(value: Value<'_>) -> &str {
    match value {
        Value::Text(text) | Value::Number(text) => text.trim(),
        Value::Missing | Value::Typed(_) | Value::Fault(_) => "",
    }
}
