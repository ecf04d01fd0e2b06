//! Where the rows of a converted table go: text that keeps its format, or typed cells for another one.

use std::io::{self, Write};
use std::path::{Path, PathBuf};

use metachron_core::lexicon::{Locale, LocaleFormat};
use metachron_core::write::Instants;
use metachron_tables::address::{Secrets, is_address};
use metachron_tables::chunks::CHUNK;
use metachron_tables::compress::{Compression, Compressor};
use metachron_tables::delimited::BOM;
use metachron_tables::deliver::{
    CellRows, Delivery, Existing, Moments, OutputField, Undelivered, Wish, Writer, describe, writer,
};
use metachron_tables::dialect::Delimiter;
use metachron_tables::encoding::{Charset, Encode};
use metachron_tables::place::Output;
use metachron_tables::sink::{JsonForm, OutputCells, Sink, Target, plan as arrange};
use metachron_tables::sort::{BUDGET, Sorter};
use metachron_tables::table::{Lines, Row, Table, TableFormat};

use super::inferred::{Inferred, inferred, stored};
use super::plan::ConversionPlan;
use super::row::ConvertedRow;
use super::sorting::Sorting;
use crate::args::{self, OutputFormat};
use crate::choices::delimiter_named;
use crate::choices::keys::locale;
use crate::choices::{Wrong, charset};
use crate::interrupt::interrupted;
use crate::message::{Failure, shown_output};
use crate::survey::SurveyedTable;

/// An output that is being written.
pub struct TableOutput<'t> {
    path: &'t Path,
    to: To<'t>,
    sorting: Option<&'t Sorting>,
    sorter: Option<Sorter>,
    /// What is said of the columns in a file beside the output.
    description: Option<(PathBuf, String)>,
}

enum To<'t> {
    Text { sink: Box<Sink<'t>>, out: Box<Encode<Compressor<Output>>> },
    Typed { writer: Box<dyn Writer>, places: Vec<OutputCells>, raw: Vec<Inferred> },
}

/// What the output is to be.
enum OutputWay {
    Text(Target),
    Typed(Delivery),
}

/// Refuses what is about outputs of another kind.
fn refuse_of_others(convert: &args::Convert, path: &Path, way: &OutputWay) -> Result<(), Failure> {
    let is_text = matches!(way, OutputWay::Text(_));
    let is_database =
        matches!(way, OutputWay::Typed(Delivery::Sqlite | Delivery::Sql | Delivery::Postgres));
    let is_workbook = matches!(way, OutputWay::Typed(Delivery::Workbook));
    let is_sqlite = matches!(way, OutputWay::Typed(Delivery::Sqlite));
    let stops = convert.existing_table == args::ExistingTable::Stop;
    let is_iso = convert.sqlite_time == args::SqliteTime::Iso;
    let all = [
        (
            "--into-table",
            convert.into_table.is_some() && !(is_database || is_workbook),
            "databases, SQL and workbooks",
        ),
        ("--existing-table", !stops && !is_database, "databases"),
        ("--sqlite-time", !is_iso && !is_sqlite, "SQLite databases"),
        ("--output-encoding", convert.output_encoding.is_some() && !is_text, "text"),
        (
            "--output-delimiter",
            convert.output_delimiter.is_some()
                && !matches!(way, OutputWay::Text(Target::Delimited(_))),
            "delimited text",
        ),
        ("--keep-preamble", convert.keep_preamble && !is_text, "delimited text"),
        (
            "--infer-types",
            convert.infer_types && is_text && !convert.describe,
            "outputs with types, or --describe",
        ),
    ];
    match all.into_iter().find(|(_, is_idle, _)| *is_idle) {
        Some((option, _, what)) => Err(Failure::usage(format!(
            "{option} has no effect on {}: it is about {what}",
            shown_output(path)
        ))),
        None => Ok(()),
    }
}

impl<'t> TableOutput<'t> {
    /// Begins the output of a table that was looked at.
    pub fn open(
        convert: &args::Convert,
        path: &'t Path,
        (table, secrets): (&'t SurveyedTable, &Secrets),
        plan: &'t ConversionPlan<'_>,
    ) -> Result<TableOutput<'t>, Failure> {
        let SurveyedTable { intake, blank, .. } = table;
        let dropped = if convert.drop_blank_columns { blank.as_slice() } else { &[] };
        let width = intake.names().len();
        let way = way(convert, path, &intake.table)?;
        let is_text = matches!(
            way,
            OutputWay::Text(_) | OutputWay::Typed(Delivery::JsonLines | Delivery::JsonArray)
        );
        if plan.is_basic() && (!is_text || convert.describe) {
            return Err(Failure::usage(format!(
                "--iso-form basic is about text, and {} has types, or patterns that know no basic format",
                shown_output(path)
            )));
        }
        if convert.show_in.is_some() && !matches!(way, OutputWay::Typed(Delivery::Workbook)) {
            return Err(Failure::usage(format!(
                "--show-in is about how workbooks show dates, and {} is none; the step show writes text: show \"…\" \
                 in LOCALE",
                shown_output(path)
            )));
        }
        refuse_of_others(convert, path, &way)?;
        let described = described(convert, path, &way)?;
        let mut description = None;
        let to = match way {
            OutputWay::Text(target) => {
                let new = plan.new_columns(target, width, convert.replace_raw);
                let charset = match &convert.output_encoding {
                    Some(name) => charset("--output-encoding", name)?,
                    None => Charset::UTF_8,
                };
                if let Some((beside, delimiter)) = described {
                    let places = arrange(width, &new, dropped);
                    let raw = inferred(table, convert.infer_types)?;
                    let own = plan.fields(convert.replace_raw);
                    let fields = fields(&places, &raw, intake.names(), &own);
                    let name =
                        path.file_name().map_or(String::new(), |n| n.to_string_lossy().into());
                    let moments = match plan.form.0 {
                        Instants::Utc | Instants::Offset => Moments::Offset,
                        Instants::Zone | Instants::Local => Moments::Other,
                    };
                    let encoding = charset.name().to_lowercase();
                    let text = describe(&name, delimiter, &encoding, &fields, moments);
                    description = Some((beside, text));
                }
                let failed = |error: io::Error| Failure::writing(path, &error);
                let place = Output::create(path).map_err(failed)?;
                let mut out = charset.encode(match Compression::of(path) {
                    Some(compression) => compression.writer(place).map_err(failed)?,
                    None => Compressor::Plain(place),
                });
                let mut sink = Sink::new(&intake.table, target, new, dropped)
                    .keep_preamble(convert.keep_preamble);
                if begins_with_bom(&intake.table, charset) {
                    out.write_all(BOM).map_err(failed)?;
                }
                sink.begin(&mut out).map_err(failed)?;
                To::Text { sink: Box::new(sink), out: Box::new(out) }
            }
            OutputWay::Typed(delivery) => {
                let target = Target::Delimited(Delimiter::Comma);
                let new = plan.new_columns(target, width, convert.replace_raw);
                let own = plan.fields(convert.replace_raw);
                let places = arrange(width, &new, dropped);
                let raw = match delivery {
                    Delivery::Parquet => stored(table, convert.infer_types)?,
                    _ => inferred(table, convert.infer_types)?,
                };
                let fields = fields(&places, &raw, intake.names(), &own);
                let wish = wish(convert, table, delivery, secrets)?;
                let writer =
                    writer(path, fields, &wish).map_err(|error| undelivered(path, error))?;
                To::Typed { writer, places, raw }
            }
        };
        let sorter = match plan.sorting {
            Some(_) => Some(Sorter::new(BUDGET).map_err(Failure::sorting)?),
            None => None,
        };
        let sorting = plan.sorting.as_ref();
        Ok(TableOutput { path, to, sorting, sorter, description })
    }

    /// Writes a row.
    pub fn row(&mut self, converted: &mut ConvertedRow<'_>, row: &Row<'_>) -> Result<(), Failure> {
        refuse_interruption(self.path)?;
        let key = self.sorting.map(|sorting| converted.key(sorting, row).to_vec());
        let path = self.path;
        match (&mut self.to, &mut self.sorter, key) {
            (To::Text { sink, .. }, Some(sorter), Some(key)) => {
                converted.spell();
                let parts = sink.parts(row, |at| converted.text(at));
                let [before, own, after] = parts.map_err(|e| Failure::writing(path, &e))?;
                sorter.push(key, before, own, after).map_err(Failure::sorting)
            }
            (To::Text { sink, out }, ..) => {
                converted.spell();
                let written = sink.row(out, row, |at| converted.text(at));
                written.map_err(|error| Failure::writing(path, &error))
            }
            (To::Typed { writer, places, raw }, sorter, key) => {
                let mut cells = CellRows::default();
                CellMaker { places, raw }.push(&mut cells, row, converted);
                match (sorter, key) {
                    (Some(sorter), Some(key)) => {
                        let text = serde_json::to_string(&cells).map_err(io::Error::other);
                        let text = text.map_err(Failure::sorting)?;
                        sorter.push(key, "", &text, "").map_err(Failure::sorting)
                    }
                    _ => {
                        let written = cells.each(|cells| writer.row(cells));
                        written.map_err(|error| undelivered(path, error))
                    }
                }
            }
        }
    }

    /// What makes rows, and where they go, if each can be made by itself: none where they are sorted, or what stands
    /// between them counts.
    pub fn rows_alone(&mut self) -> Option<RowsAlone<'_>> {
        if self.sorter.is_some() {
            return None;
        }
        let path = self.path;
        match &mut self.to {
            To::Text { sink, out } if sink.keeps_records() => {
                Some(RowsAlone::Text(TextMaker(sink), TextOutput { path, out }))
            }
            To::Text { .. } => None,
            To::Typed { writer, places, raw } => Some(RowsAlone::Cells(
                CellMaker { places, raw },
                CellOutput { path, writer: writer.as_mut() },
            )),
        }
    }

    /// Completes the output; gives what is worth a word.
    pub fn finish(self, lines: &Lines) -> Result<Vec<String>, Failure> {
        let path = self.path;
        let failed = |error: io::Error| Failure::writing(path, &error);
        match self.to {
            To::Text { sink, mut out } => {
                if let Some(sorter) = self.sorter {
                    let each = |before: &str, row: &str, after: &str| {
                        [before, row, after].iter().try_for_each(|t| out.write_all(t.as_bytes()))
                    };
                    sorter.finish(each).map_err(failed)?;
                }
                sink.end(&mut out, lines).map_err(failed)?;
                out.into_inner().finish().and_then(Output::finish).map_err(failed)?;
                let Some((beside, text)) = self.description else { return Ok(Vec::new()) };
                let failed = |error: io::Error| Failure::writing(&beside, &error);
                let mut out = Output::create(&beside).map_err(failed)?;
                out.write_all(text.as_bytes()).map_err(failed)?;
                out.finish().map_err(failed)?;
                Ok(vec![format!("described in {}", shown_output(&beside))])
            }
            To::Typed { mut writer, .. } => {
                if let Some(sorter) = self.sorter {
                    let mut refused = None;
                    let each = |_: &str, row: &str, _: &str| {
                        let cells: CellRows = serde_json::from_str(row)?;
                        cells.each(|cells| writer.row(cells)).map_err(|error| {
                            let text = error.to_string();
                            refused = Some(error);
                            io::Error::other(text)
                        })
                    };
                    let sorted = sorter.finish(each);
                    if let Some(error) = refused {
                        return Err(undelivered(path, error));
                    }
                    sorted.map_err(failed)?;
                }
                writer.finish().map_err(|error| undelivered(path, error))
            }
        }
    }
}

/// What makes the rows of an output each by itself, and where they go.
pub enum RowsAlone<'o> {
    /// Text that keeps its format.
    Text(TextMaker<'o>, TextOutput<'o>),
    /// Typed cells.
    Cells(CellMaker<'o>, CellOutput<'o>),
}

/// What makes rows, so that several workers can.
pub trait RowMaker: Sync {
    /// Rows that are made.
    type Rows: Default + Send;

    /// Makes the next row.
    fn push(&self, made: &mut Self::Rows, row: &Row<'_>, converted: &mut ConvertedRow<'_>);

    /// About how many bytes of a table are gone through at once.
    fn bytes_of_run(&self) -> usize {
        CHUNK
    }
}

/// Makes the text of rows.
pub struct TextMaker<'o>(&'o Sink<'o>);

impl RowMaker for TextMaker<'_> {
    type Rows = Vec<u8>;

    fn push(&self, made: &mut Vec<u8>, row: &Row<'_>, converted: &mut ConvertedRow<'_>) {
        converted.spell();
        self.0.push(made, row, |at| converted.text(at));
    }
}

/// Makes the cells of rows.
#[derive(Clone, Copy)]
pub struct CellMaker<'o> {
    places: &'o [OutputCells],
    raw: &'o [Inferred],
}

impl RowMaker for CellMaker<'_> {
    type Rows = CellRows;

    fn push(&self, made: &mut CellRows, row: &Row<'_>, converted: &mut ConvertedRow<'_>) {
        let new = converted.values();
        let mut buffer = String::new();
        for place in self.places {
            match place {
                OutputCells::New(at) => made.push(new.get(*at)),
                OutputCells::Raw(own) => {
                    own.clone().for_each(|at| self.raw[at].push(row.cell(at, &mut buffer), made));
                }
            }
        }
        made.end_row();
    }

    /// Cells take many times as much room as their text.
    fn bytes_of_run(&self) -> usize {
        CHUNK / 8
    }
}

/// An output that takes the text of rows.
pub struct TextOutput<'o> {
    path: &'o Path,
    out: &'o mut Encode<Compressor<Output>>,
}

impl TextOutput<'_> {
    /// Writes rows.
    pub fn write(&mut self, rows: &[u8]) -> Result<(), Failure> {
        refuse_interruption(self.path)?;
        self.out.write_all(rows).map_err(|error| Failure::writing(self.path, &error))
    }
}

/// An output that takes the cells of rows.
pub struct CellOutput<'o> {
    path: &'o Path,
    writer: &'o mut dyn Writer,
}

impl CellOutput<'_> {
    /// Writes rows.
    pub fn write(&mut self, rows: &CellRows) -> Result<(), Failure> {
        refuse_interruption(self.path)?;
        let written = rows.each(|cells| self.writer.row(cells));
        written.map_err(|error| undelivered(self.path, error))
    }
}

/// Whoever stops the work keeps what was there before.
fn refuse_interruption(path: &Path) -> Result<(), Failure> {
    match interrupted() {
        true => Err(Failure::could_not(format!(
            "interrupted; {} is as it was before",
            shown_output(path)
        ))),
        false => Ok(()),
    }
}

/// What the columns of the output hold, from left to right.
fn fields(
    places: &[OutputCells],
    raw: &[Inferred],
    names: &[String],
    new: &[OutputField],
) -> Vec<OutputField> {
    let mut fields = Vec::new();
    for place in places {
        match place {
            OutputCells::Raw(cells) => {
                fields.extend(cells.clone().map(|at| raw[at].field(&names[at])))
            }
            OutputCells::New(at) => fields.push(new[*at].clone()),
        }
    }
    fields
}

/// Where the description goes, if there is to be one, and what stands between the fields.
fn described(
    convert: &args::Convert,
    path: &Path,
    way: &OutputWay,
) -> Result<Option<(PathBuf, Delimiter)>, Failure> {
    let delimiter = match way {
        _ if !convert.describe => return Ok(None),
        OutputWay::Text(Target::Delimited(delimiter)) if path != Path::new("-") => *delimiter,
        _ => {
            return Err(Failure::usage(format!(
                "--describe is about delimited text in a file; {} has its types already, or no place beside it",
                shown_output(path)
            )));
        }
    };
    Ok(Some((described_in(path), delimiter)))
}

/// The file beside an output in which it is described (CSV on the Web, Model for Tabular Data, 5.3).
pub fn described_in(output: &Path) -> PathBuf {
    let mut beside = output.as_os_str().to_owned();
    beside.push("-metadata.json");
    PathBuf::from(beside)
}

/// Why a table could not be written.
pub fn undelivered(path: &Path, error: Undelivered) -> Failure {
    match error {
        Undelivered::Io(error) => Failure::writing(path, &error),
        refused => {
            let why = crate::words::undelivered(&refused);
            Failure::could_not(format!("{} cannot be written: {why}", shown_output(path)))
        }
    }
}

/// How a typed output is to be written.
fn wish(
    convert: &args::Convert,
    table: &SurveyedTable,
    delivery: Delivery,
    secrets: &Secrets,
) -> Result<Wish, Failure> {
    let input = &table.intake.path;
    let stem = input.file_name().map_or("table".into(), |name| name.to_string_lossy());
    let stem = stem.split('.').find(|part| !part.is_empty()).unwrap_or("table");
    let stem = if stem == "-" { "table" } else { stem };
    let locale = convert.show_in.as_deref().map(|tag| locale("show_in", &tag.into()));
    let locale = locale.transpose().map_err(Wrong::of_option)?;
    Ok(Wish {
        delivery,
        table: convert.into_table.clone().unwrap_or_else(|| stem.to_owned()),
        existing: match convert.existing_table {
            args::ExistingTable::Stop => Existing::Stop,
            args::ExistingTable::Append => Existing::Append,
            args::ExistingTable::Replace => Existing::Replace,
        },
        unix_times: convert.sqlite_time == args::SqliteTime::Unix,
        date_code: locale.and_then(date_code),
        secrets: secrets.clone(),
    })
}

/// How a locale writes dates in digits, as a number format of a workbook.
fn date_code(locale: Locale) -> Option<String> {
    let short = locale.format(LocaleFormat::DateShort)?;
    // Years of two digits have misled enough people.
    let code = short
        .replace("{year:2}", "yyyy")
        .replace("{year}", "yyyy")
        .replace("{month:02}", "mm")
        .replace("{month}", "m")
        .replace("{day:02}", "dd")
        .replace("{day}", "d");
    (!code.contains('{')).then_some(code)
}

/// What the output is: what is said, or its ending, or else the input's format.
fn way(convert: &args::Convert, path: &Path, table: &Table) -> Result<OutputWay, Failure> {
    if is_address(path) {
        return Ok(OutputWay::Typed(Delivery::Postgres));
    }
    let said = convert.output_format;
    let asked = convert.output_delimiter.as_deref();
    let asked = asked.map(|text| delimiter_named("--output-delimiter", text)).transpose()?;
    let delimited =
        |usual: Delimiter| Ok(OutputWay::Text(Target::Delimited(asked.unwrap_or(usual))));
    let format = match said {
        None => by_ending(path)?,
        said => said,
    };
    let own = &table.format;
    let is_json = matches!(own, TableFormat::JsonLines | TableFormat::JsonArray);
    let json = |form| OutputWay::Text(Target::Json(form));
    match format {
        Some(OutputFormat::Csv) if said.is_some() => delimited(Delimiter::Comma),
        Some(OutputFormat::Tsv) => delimited(Delimiter::Tab),
        // The same format keeps every byte, and objects stay what they are.
        Some(OutputFormat::Json) if is_json => Ok(json(match own {
            TableFormat::JsonArray => JsonForm::AsInput,
            _ => JsonForm::Array,
        })),
        Some(OutputFormat::Jsonl) if is_json => Ok(json(match own {
            TableFormat::JsonLines => JsonForm::AsInput,
            _ => JsonForm::Lines,
        })),
        Some(OutputFormat::Csv) | None => match own {
            TableFormat::JsonLines | TableFormat::JsonArray if path == Path::new("-") => {
                Ok(json(JsonForm::AsInput))
            }
            TableFormat::Delimited { dialect, .. } => delimited(dialect.delimiter),
            _ => delimited(Delimiter::Comma),
        },
        Some(format) => typed(format, path).map(OutputWay::Typed),
    }
}

/// How a table goes to a path that has no format of its input to keep: by the ending of the name, else as CSV.
///
/// # Errors
/// Nothing is written so, or not compressed.
pub fn delivery_to(path: &Path) -> Result<Delivery, Failure> {
    match is_address(path) {
        true => Ok(Delivery::Postgres),
        false => typed(by_ending(path)?.unwrap_or(OutputFormat::Csv), path),
    }
}

/// How typed cells are written in a format.
fn typed(format: OutputFormat, path: &Path) -> Result<Delivery, Failure> {
    if let Some(compression) = Compression::of(path) {
        return Err(Failure::could_not(format!(
            "only text that keeps its format is compressed, not {}; leave out .{}",
            shown_output(path),
            compression.ending()
        )));
    }
    Ok(match format {
        OutputFormat::Csv => Delivery::Delimited(Delimiter::Comma),
        OutputFormat::Tsv => Delivery::Delimited(Delimiter::Tab),
        OutputFormat::Json => Delivery::JsonArray,
        OutputFormat::Jsonl => Delivery::JsonLines,
        OutputFormat::Parquet => Delivery::Parquet,
        OutputFormat::Arrow => Delivery::Arrow,
        OutputFormat::Xlsx => Delivery::Workbook,
        OutputFormat::Sqlite => Delivery::Sqlite,
        OutputFormat::Sql => Delivery::Sql,
    })
}

/// The format that the ending of a name says, if it says one.
///
/// # Errors
/// It is one that can be read only.
fn by_ending(path: &Path) -> Result<Option<OutputFormat>, Failure> {
    let name = path.to_string_lossy().to_lowercase();
    let compression = Compression::of(path).map(|own| format!(".{}", own.ending()));
    let stem = compression.and_then(|ending| name.strip_suffix(&ending)).unwrap_or(&name);
    if let Some(ending) = UNWRITTEN.iter().find(|ending| stem.ends_with(*ending)) {
        return Err(Failure::could_not(format!(
            "workbooks are written as .xlsx, not as {ending}; give the output a name such as {}",
            shown_output(&path.with_extension("xlsx"))
        )));
    }
    Ok(OutputFormat::ENDINGS
        .iter()
        .find(|(ending, _)| stem.ends_with(ending))
        .map(|(_, format)| *format))
}

/// Workbooks that can be read only.
const UNWRITTEN: [&str; 4] = [".xlsm", ".xlsb", ".xls", ".ods"];

/// UTF-8 keeps the mark that the input had; UTF-16 cannot be told apart without one.
fn begins_with_bom(table: &Table, charset: Charset) -> bool {
    let own = table.source().charset;
    let delimited = matches!(table.format, TableFormat::Delimited { .. });
    match charset.is_utf_8() {
        true => own.is_utf_8() && own.has_bom && delimited,
        false => charset.name().starts_with("UTF-16"),
    }
}
