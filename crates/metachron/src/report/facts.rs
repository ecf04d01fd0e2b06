//! The facts of a survey. The terminal view and `--json` both come from here.

use metachron_core::calendar::Calendar;
use metachron_core::candidates::kind_alone;
use metachron_core::evidence::{Cells, Witness};
use metachron_core::layout::{Field, Layout};
use metachron_core::lexicon::{Length, Lexicon};
use metachron_core::moment::{Kind, Moment};
use metachron_core::order::Order;
use metachron_core::reading::{Contested, Parts, Reading, Repair, Split, Terms};
use metachron_core::verdict::{Clue, Contender, Counts, FoundSplit, Origin, Settle, Verdict};
use metachron_tables::compress::Compression;
use metachron_tables::table::{Format, Met, Table};
use serde::Serialize;

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};

use crate::commands::{Studied, Study};
use crate::config::{Config, suggested_output, suggested_readings};
use crate::decisions::repair_name;
use crate::intake::says;
use crate::message::{plain, quoted, shell_word, shown};
use crate::said::{rows_text, set_name, when_values};

/// The version of the JSON that `survey` prints.
const VERSION: u32 = 1;

/// What is in a file.
#[derive(Debug, Serialize)]
pub struct SurveyReport {
    report: &'static str,
    version: u32,
    /// The file.
    pub source: SourceFacts,
    /// The columns that were looked at.
    pub columns: Vec<ColumnFacts>,
    metachron: &'static str,
}

/// What was found out about the file.
#[derive(Debug, Serialize)]
pub struct SourceFacts {
    /// Its path.
    pub file: String,
    /// `CSV`, `TSV`, `JSON Lines`, `JSON array`.
    pub format: &'static str,
    /// How the file is compressed.
    pub compression: Option<&'static str>,
    /// How delimited text is written: the delimiter, and what is unusual.
    pub dialect: Option<String>,
    /// The sheet of a workbook, or the table of a database.
    pub part: Option<PartFacts>,
    /// The encoding of text.
    pub encoding: Option<String>,
    /// The line where the names of the columns stand.
    pub header_line: Option<u64>,
    /// Lines above the table.
    pub preamble: Vec<LineFacts>,
    /// Lines below the table.
    pub footers: Vec<LineFacts>,
    /// How many columns there are.
    pub columns: usize,
    /// Rows of data.
    pub rows: u64,
    /// Only so many were looked at, and there are more.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub first_rows: Option<u64>,
    /// Anything else that is worth knowing.
    pub notes: Vec<String>,
}

/// A part of a file that holds several tables.
#[derive(Debug, Serialize)]
pub struct PartFacts {
    /// `sheet` or `table`.
    pub kind: &'static str,
    /// Its name.
    pub name: String,
    /// The names of the others.
    pub others: Vec<String>,
}

/// A line that is no row.
#[derive(Debug, Serialize)]
pub struct LineFacts {
    /// Its number.
    pub line: u64,
    /// The line without its end.
    pub text: String,
}

/// What was found out about a column.
#[derive(Debug, Serialize)]
pub struct ColumnFacts {
    /// Its name.
    pub name: String,
    /// What its values are when read.
    pub kind: Option<String>,
    /// The verdict.
    pub verdict: String,
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
    pub says: String,
}

/// Something that would settle a column.
#[derive(Debug, Serialize)]
pub struct SettleFacts {
    /// When it is right.
    pub says: String,
    /// The options that say it, if it can be said.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub options: Option<String>,
    /// The whole command line.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub command: Option<String>,
}

/// What is in several files, each and together.
#[derive(Debug, Serialize)]
pub struct TogetherReport {
    report: &'static str,
    version: u32,
    /// The files.
    pub files: Vec<SurveyReport>,
    /// The columns of all files, judged by all their values.
    pub together: Vec<ColumnFacts>,
    /// Where the files differ.
    pub differences: Vec<String>,
    metachron: &'static str,
}

/// What a suggested command line says of its inputs and outputs.
#[derive(Debug)]
pub struct Paste {
    /// The inputs, as a shell takes them.
    pub inputs: String,
    /// The option for the output.
    pub output: String,
    /// The readings file that belongs to them.
    pub readings: String,
}

impl Paste {
    /// For these inputs.
    pub fn of(paths: &[&Path]) -> Paste {
        let words: Vec<String> = paths.iter().map(|p| shell_word(&p.to_string_lossy())).collect();
        let output = match paths {
            [path] => format!("-o {}", shell_word(&suggested_output(path))),
            _ => "--output-dir converted".to_owned(),
        };
        let readings = match paths {
            [path] => suggested_readings(path),
            _ => "readings.toml".to_owned(),
        };
        Paste { inputs: words.join(" "), output, readings: shell_word(&readings) }
    }
}

impl SurveyReport {
    /// Collects the facts.
    pub fn new(study: &Study, config: &Config) -> SurveyReport {
        let paste = Paste::of(&[&study.intake.path]);
        SurveyReport {
            report: "survey",
            version: VERSION,
            source: SourceFacts::new(study),
            columns: study.columns.iter().map(|column| facts(column, &paste, config)).collect(),
            metachron: env!("CARGO_PKG_VERSION"),
        }
    }
}

impl SurveyReport {
    /// Collects the facts of what was seen elsewhere.
    pub fn of_evidence(
        files: &[PathBuf],
        parts: &[(String, u64)],
        columns: &[Studied],
        config: &Config,
    ) -> SurveyReport {
        let paths: Vec<&Path> = parts.iter().map(|(file, _)| Path::new(file.as_str())).collect();
        let paste = Paste::of(&paths);
        let named = |(file, rows): &(String, u64)| {
            let rows = metachron_core::text::counted(*rows, "row");
            format!("seen in {}, {rows}", shown(Path::new(file.as_str())))
        };
        let files: Vec<String> = files.iter().map(|file| shown(file)).collect();
        SurveyReport {
            report: "survey",
            version: VERSION,
            source: SourceFacts {
                file: files.join(", "),
                format: "evidence",
                compression: None,
                dialect: None,
                part: None,
                encoding: None,
                header_line: None,
                preamble: Vec::new(),
                footers: Vec::new(),
                columns: columns.len(),
                rows: parts.iter().map(|(_, rows)| rows).sum(),
                first_rows: None,
                notes: parts.iter().map(named).collect(),
            },
            columns: columns.iter().map(|column| facts(column, &paste, config)).collect(),
            metachron: env!("CARGO_PKG_VERSION"),
        }
    }
}

impl TogetherReport {
    /// Collects the facts of several files, whose columns are `together` by name.
    pub fn new(studies: &[Study], together: &[Studied], config: &Config) -> TogetherReport {
        let paths: Vec<&Path> = studies.iter().map(|study| study.intake.path.as_path()).collect();
        let paste = Paste::of(&paths);
        let files: Vec<SurveyReport> =
            studies.iter().map(|study| SurveyReport::new(study, config)).collect();
        let together: Vec<ColumnFacts> =
            together.iter().map(|column| facts(column, &paste, config)).collect();
        let differences = together.iter().flat_map(|column| differences(column, &files)).collect();
        let (report, version, metachron) = ("survey", VERSION, env!("CARGO_PKG_VERSION"));
        TogetherReport { report, version, files, together, differences, metachron }
    }
}

/// Where files differ about a column: that they lack it, or how they write it.
fn differences(column: &ColumnFacts, files: &[SurveyReport]) -> Vec<String> {
    let own = |file: &'_ SurveyReport| file.columns.iter().position(|c| c.name == column.name);
    let name = plain(&column.name);
    let lacking: Vec<&str> =
        files.iter().filter(|f| own(f).is_none()).map(|f| f.source.file.as_str()).collect();
    let mut said = Vec::new();
    if !lacking.is_empty() {
        said.push(format!("{name} is not in {}", lacking.join(", ")));
    }
    let mut ways: Vec<(String, Vec<&str>)> = Vec::new();
    for (file, index) in files.iter().filter_map(|file| Some((file, own(file)?))) {
        let own = &file.columns[index];
        // A file whose values of this column are all missing says nothing.
        if own.cells.is_empty() {
            continue;
        }
        let way = match own.reading.as_ref().filter(|_| !own.is_open()) {
            Some(reading) => format!("{} by {}", own.verdict, reading.layouts.join(" and ")),
            None => own.verdict.clone(),
        };
        match ways.iter_mut().find(|(other, _)| *other == way) {
            Some((_, files)) => files.push(&file.source.file),
            None => ways.push((way, vec![&file.source.file])),
        }
    }
    if ways.len() > 1 {
        let ways: Vec<String> =
            ways.iter().map(|(way, files)| format!("{way} in {}", files.join(", "))).collect();
        said.push(format!("{name} is {}", ways.join("; ")));
    }
    said
}

impl SourceFacts {
    /// Collects what was found out.
    pub fn new(study: &Study) -> SourceFacts {
        let intake = &study.intake;
        let mut notes = Vec::new();
        let mut met = |met: Met, one: &str, many: &str| notes.extend(says(met, one, many));
        let lines = &study.lines;
        met(lines.blank, "empty line that is no row", "empty lines that are no rows");
        met(
            lines.short,
            "row with fewer cells than the header; convert completes it with empty ones",
            "rows with fewer cells than the header; convert completes them with empty ones",
        );
        met(
            lines.long,
            "row with more cells than the header; the last ones belong to no column",
            "rows with more cells than the header; the last ones belong to no column",
        );
        notes.extend(renamed(&intake.table, &study.blank));
        let source = intake.table.source();
        let (dialect, header_line, preamble) = match &intake.table.format {
            Format::Delimited { dialect, header, preamble, decimal_comma } => (
                Some(format!("{dialect}{}", if *decimal_comma { ", decimal comma" } else { "" })),
                header.as_ref().map(|header| header.record().line()),
                &preamble[..],
            ),
            _ => (None, intake.table.sheet().and_then(|sheet| sheet.header_row), &[][..]),
        };
        let sheet = intake.table.sheet();
        let part = intake.table.part();
        if let Some(sheet) = sheet {
            notes.extend(match sheet.merged.as_slice() {
                [] => None,
                [one] => Some(format!("1 merged range ({one}); only its first cell holds a value")),
                [first, ..] => Some(format!(
                    "{} merged ranges (first {first}); only the first cell of each holds a value",
                    metachron_core::text::grouped(sheet.merged.len() as u64)
                )),
            });
            if !sheet.tells_parts && matches!(intake.table.format, Format::Workbook(_)) {
                notes.push(
                    "hidden rows and merged ranges could not be looked for in this workbook"
                        .to_owned(),
                );
            }
            if sheet.hidden > 0 {
                let hidden = metachron_core::text::counted(sheet.hidden, "hidden row");
                notes.push(format!("{hidden} in the table, read like the others"));
            }
        }
        notes.extend(no_names(&intake.table));
        if let Some(said) = named_otherwise(&intake.path, &intake.table) {
            notes.push(said);
        }
        let line = |line: u64, text: &str| LineFacts {
            line,
            text: text.trim_end_matches(['\r', '\n']).to_owned(),
        };
        SourceFacts {
            file: shown(&intake.path),
            format: intake.table.format_name(),
            compression: source.compression.map(Compression::ending),
            dialect,
            encoding: intake.table.is_text().then(|| source.charset.to_string()),
            header_line,
            preamble: match sheet {
                Some(sheet) => sheet.above.iter().map(|(row, text)| line(*row, text)).collect(),
                None => (1..).zip(preamble).map(|(number, text)| line(number, text)).collect(),
            },
            part: part.map(|(kind, name, others)| PartFacts {
                kind,
                name: name.to_owned(),
                others: others.to_vec(),
            }),
            footers: lines.footers.iter().map(|(number, text)| line(*number, text)).collect(),
            columns: intake.names().len(),
            rows: lines.rows,
            first_rows: study.is_part.then_some(lines.rows),
            notes,
        }
    }
}

/// A header in which a date stands where a name belongs: it may be the first row.
pub fn no_names(table: &Table) -> Option<String> {
    let Format::Delimited { header: Some(header), .. } = &table.format else { return None };
    let line = header.record().line();
    let is_date = |name: &&String| kind_alone(name, Terms::default()).is_some();
    let name = table.header.names.iter().find(is_date)?;
    let name = quoted(name);
    Some(format!("a column is called {name}; if line {line} is a row, add --no-header"))
}

/// Where the file's name says something else than its content.
fn named_otherwise(path: &Path, table: &Table) -> Option<String> {
    let ending = path.extension()?.to_str()?.to_lowercase();
    let binary =
        ["xlsx", "xlsm", "xlsb", "xls", "ods", "parquet", "sqlite"].contains(&ending.as_str());
    (binary && table.is_text())
        .then(|| format!("named .{ending}, but read as what it is: {}", table.format_name()))
}

/// The facts of one column.
fn facts(column: &Studied, paste: &Paste, config: &Config) -> ColumnFacts {
    let judgement = &column.inference.judgement;
    let mut reasons: Vec<String> = Vec::new();
    if let Some(rows) = column.of_first_rows {
        let rows = metachron_core::text::counted(rows, "row");
        reasons.push(format!("By the first {rows} only."));
    }
    if column.waits {
        reasons.push(
            "The readings file has a reading for it that nobody has accepted yet.".to_owned(),
        );
    }
    reasons.extend(judgement.reasons.iter().map(ToString::to_string));
    let by_frequency = column.evidence.shapes.by_frequency();
    let Cells { text, number, typed, fault } = column.evidence.cells;
    ColumnFacts {
        name: column.name.clone(),
        kind: judgement.kind.map(|kind| kind.name().to_owned()),
        verdict: judgement.verdict.name().to_owned(),
        reading: judgement.reading.as_ref().map(reading),
        rows: RowFacts::of(&judgement.counts),
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
                favours: signal.favours.to_string(),
                says: signal.to_string(),
            })
            .collect(),
        settle: judgement
            .settle
            .iter()
            .flat_map(|way| settle(way, column, paste, config))
            .collect(),
    }
}

fn texts(layouts: &[Layout]) -> Vec<String> {
    layouts.iter().map(Layout::to_string).collect()
}

/// Which layouts are those of which rows.
fn when(split: &Split<Vec<Layout>>) -> Vec<WhenFacts> {
    match &split.parts {
        Parts::Column(name, parts) => parts
            .iter()
            .map(|(values, layouts)| WhenFacts {
                place: Some(BTreeMap::from([(name.clone(), values.clone())])),
                rows: None,
                layouts: texts(layouts),
            })
            .collect(),
        Parts::Rows(parts) => parts
            .iter()
            .map(|(rows, layouts)| WhenFacts {
                place: None,
                rows: Some(rows_text(rows)),
                layouts: texts(layouts),
            })
            .collect(),
    }
}

fn reading(reading: &Reading) -> ReadingFacts {
    let short = reading.layouts.iter().any(|layout| layout.has(Field::YearTwo));
    ReadingFacts {
        kind: reading.kind.name().to_owned(),
        written_in: reading.terms.written_in().map(|locale| locale.tag()),
        layouts: texts(&reading.layouts),
        epoch: reading.serials.map(|serials| serials.epoch.to_string()),
        two_digit_from: short.then_some(reading.terms.century.from),
        contested: (reading.contested == Contested::Prefer).then_some("prefer"),
        repair: (reading.repair != Repair::None).then(|| repair_name(reading.repair)),
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
            order: (!matches!(contender.order, Order::Ordinal | Order::None))
                .then(|| contender.order.to_string()),
            epoch: None,
            layouts: contender.layouts.iter().map(Layout::to_string).collect(),
        },
        phrase: contender.order.phrase().to_owned(),
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
pub fn in_words(moment: Moment) -> Option<String> {
    let date = moment.date()?;
    let month = Lexicon::english().month(date.month() as u8, Length::Full, false);
    Some(format!("{} {month} {}", date.day(), date.year()))
}

/// A way to settle a column, with the command line that says it.
fn settle(way: &Settle, column: &Studied, paste: &Paste, config: &Config) -> Vec<SettleFacts> {
    if let Settle::Split(found) = way {
        return settle_split(found, column, paste, config);
    }
    let layouts = |layouts: &[Layout]| {
        let option = |layout: &Layout| format!("--layout {}", shell_word(&layout.to_string()));
        layouts.iter().map(option).collect::<Vec<_>>().join(" ")
    };
    let (says, options) = match way {
        Settle::Order(order, 0) => {
            (format!("If {}", if_order(*order)), Some(format!("--order {order}")))
        }
        Settle::Order(order, lost) => (
            format!("If {} and {}", if_order(*order), typing_errors(*lost)),
            Some(format!("--order {order}")),
        ),
        Settle::Calendar(Calendar::Gregorian) => (
            "If these years are of the usual calendar".to_owned(),
            Some("--calendar gregorian".to_owned()),
        ),
        Settle::Calendar(calendar) => {
            (format!("If it is {}", calendar.phrase()), Some(format!("--calendar {calendar}")))
        }
        Settle::Epoch(epoch) => {
            let (zero, unit) = epoch.described().unwrap_or(("", "numbers"));
            let says = match zero {
                "" => format!("If they are dates in digits ({epoch})"),
                zero => format!("If they count {unit} from {zero}"),
            };
            (says, Some(format!("--epoch {epoch}")))
        }
        Settle::Layouts(Order::None, list) => {
            let kind = list.first().and_then(|layout| layout.kind()).map_or("", Kind::name);
            (format!("If each of them is a {kind}, or a typing error"), Some(layouts(list)))
        }
        Settle::Layouts(order, list) => (format!("If {}", if_order(*order)), Some(layouts(list))),
        Settle::Both(list) => (
            "If both orders occur, to read what has one meaning and leave the rest empty"
                .to_owned(),
            Some(layouts(list)),
        ),
        Settle::Answer(value, moment) => (
            "If you know the right date of one value, say it, for example".to_owned(),
            Some(format!("--known {}", shell_word(&format!("{value}={moment}")))),
        ),
        Settle::Repair(repair, list) => {
            let options = format!("{} --repair {}", layouts(list), repair_name(*repair));
            (if_repaired(*repair).to_owned(), Some(options.trim_start().to_owned()))
        }
        Settle::Year(year) => {
            (format!("If the first row is of {year}"), Some(format!("--year {year}")))
        }
        Settle::WrittenIn(locale) => (
            format!("If the names are {}", locale.language_name()),
            Some(format!("--written-in {locale}")),
        ),
        Settle::TwoDigitFrom(year) => (
            format!("If two-digit years run from {year} to {}", year + 99),
            Some(format!("--two-digit-from {year}")),
        ),
        Settle::Split(_) => return Vec::new(),
        Settle::Value(says) => ((*says).to_owned(), None),
    };
    vec![settled(says, options, way, column, paste, config)]
}

/// The whole command line for these options.
fn settled(
    says: String,
    options: Option<String>,
    way: &Settle,
    column: &Studied,
    paste: &Paste,
    config: &Config,
) -> SettleFacts {
    let command = options.as_ref().map(|options| {
        let Paste { inputs, output, .. } = paste;
        let mut repeated = config.repeated(Some(way));
        repeated.push_str(&config.repeated_about(&column.name, way));
        let name = shell_word(&column.name);
        format!("metachron convert {inputs}{repeated} --column {name} {options} {output}")
    });
    SettleFacts { says, options, command }
}

/// How to keep what tells rows apart, and how to use it at once.
fn settle_split(
    found: &FoundSplit,
    column: &Studied,
    paste: &Paste,
    config: &Config,
) -> Vec<SettleFacts> {
    let Paste { inputs, readings, .. } = paste;
    let repeated = config.repeated(None);
    let name = shell_word(&column.name);
    let options = format!("--save {readings} --accept split");
    let save = format!("metachron survey {inputs}{repeated} --column {name} {options}");
    let mut ways = vec![SettleFacts {
        says: "If that is so, to keep it for this and later files".to_owned(),
        options: Some(options),
        command: Some(save),
    }];
    let part = |(order, values): &(Order, Vec<String>)| match &found.by {
        Clue::Column(other) => vec![format!(
            "{} where {}={}: order={order}",
            set_name(&column.name),
            set_name(other),
            when_values(values)
        )],
        Clue::Rows => {
            let rows = values.iter();
            rows.map(|rows| format!("{} rows {rows}: order={order}", set_name(&column.name)))
                .collect()
        }
        Clue::Clock => Vec::new(),
    };
    let options: Vec<String> = match &found.by {
        Clue::Clock => found
            .layouts
            .iter()
            .map(|layout| format!("--layout {}", shell_word(&layout.to_string())))
            .collect(),
        _ => found
            .sides
            .iter()
            .flat_map(part)
            .map(|said| format!("--when {}", shell_word(&said)))
            .collect(),
    };
    let says = "To convert this file so".to_owned();
    let way = Settle::Split(found.clone());
    ways.push(settled(says, Some(options.join(" ")), &way, column, paste, config));
    ways
}

fn if_repaired(repair: Repair) -> &'static str {
    match repair {
        Repair::HalfSwapped => "If that is so, to exchange them back",
        Repair::MonthYear => "If that is so, to make months of them again",
        Repair::None => "If every date is right as it stands",
    }
}

fn if_order(order: Order) -> &'static str {
    match order {
        Order::Dmy => "the day comes first",
        Order::Mdy => "the month comes first",
        Order::Ymd => "the year comes first",
        Order::Ydm => "the order is year, day, month",
        Order::Ordinal => "they are a year and the day of that year",
        Order::None => "that is what they are",
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

impl RowFacts {
    /// What becomes of the rows.
    pub fn of(counts: &Counts) -> RowFacts {
        let Counts { read, missing, placeholder, unreadable, contested, .. } = *counts;
        RowFacts { read, missing, placeholder, unreadable, contested }
    }
}

impl CellFacts {
    fn is_empty(&self) -> bool {
        self.text + self.number + self.typed + self.fault == 0
    }
}

impl ColumnFacts {
    /// Whether a person has to answer.
    pub fn is_open(&self) -> bool {
        Verdict::ALL.iter().any(|(verdict, name)| verdict.is_open() && *name == self.verdict)
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

/// What is said of columns that the file gives no name of their own.
fn renamed(table: &Table, blank: &[usize]) -> Vec<String> {
    const LISTED: usize = 8;
    let header = &table.header;
    let mut notes: Vec<String> = Vec::new();
    let mut more = 0;
    for (written, name) in &header.renamed {
        if notes.len() == LISTED {
            more += 1;
            continue;
        }
        let blank = header.position(name).is_some_and(|index| blank.contains(&index));
        let name = plain(name);
        notes.push(match (written.as_str(), blank) {
            ("", true) => format!("a column without a name or a single value is called {name}"),
            ("", false) => format!("a column without a name is called {name}"),
            (written, _) => format!("another column named {} is called {name}", plain(written)),
        });
    }
    if more > 0 {
        let columns = metachron_core::text::counted(more, "more column");
        notes.push(format!("{columns} without a name or with another's name, called likewise"));
    }
    notes
}
