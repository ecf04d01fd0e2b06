//! `metachron convert`: the table with typed columns beside the raw ones.

use std::collections::BTreeMap;
use std::fmt::Write as _;
use std::io::Write;
use std::path::{Path, PathBuf};

use metachron_core::apply::{Compiled, Memory, Outcome};
use metachron_core::calendar::Calendar;
use metachron_core::reading::{Order, Place, Repair, Written};
use metachron_core::text::{counted, grouped};
use metachron_core::value::Value;
use metachron_core::verdict::{Counts, Drift, Verdict};
use metachron_core::write::iso;
use metachron_tables::compress::{Compression, Compressor};
use metachron_tables::delimited::BOM;
use metachron_tables::dialect::Delimiter;
use metachron_tables::encoding::Charset;
use metachron_tables::header::free_name;
use metachron_tables::place::{Output, same_file};
use metachron_tables::sink::{NewColumn, Sink, Target};
use metachron_tables::table::{Format, Lines, Table};

use super::rejects::{Reject, Rejects};
use super::study::{Studied, Study, beside, study};
use crate::ambient::Ambient;
use crate::args;
use crate::config::{Config, charset, suggested_output};
use crate::decisions;
use crate::exit::Exit;
use crate::intake::{Intake, says};
use crate::message::{Failure, plain, say, shell_word, shown, shown_output};
use crate::progress::Progress;
use crate::report::column::ColumnFacts;
use crate::report::facts::SurveyReport;
use crate::report::source::no_names;
use crate::report::{Align, Block, Grid, Page, block, indent_of, indent_of_names, paragraph};
use crate::said::set_name;

/// Converts one file, or several into a folder.
pub fn run(convert: &args::Convert, ambient: &Ambient) -> Result<Exit, Failure> {
    let config = Config::new(&convert.input, &convert.columns, convert.into.as_deref(), ambient)?;
    if convert.into.is_some() && config.chosen.len() > 1 {
        return Err(Failure::usage("--into names one column, but several are named by --column"));
    }
    let files = super::files(&convert.files)?;
    let outputs = outputs(convert, &files)?;
    let page = Page { width: ambient.error_width, color: convert.color.or(ambient.error_color) };
    // Everything is looked at before anything is written.
    let mut studies = Vec::new();
    for (file, output) in files.iter().zip(&outputs) {
        check_paths(convert, file, output)?;
        studies.push(study(file, 0, &config)?);
    }
    for study in &studies {
        let open: Vec<&Studied> = study.columns.iter().filter(|c| is_open(c, &config)).collect();
        if !open.is_empty() {
            return Err(Failure::question(question(&open, study, &config, page)));
        }
        stop_at_drift(study, &config, page)?;
        let columns = typed_columns(study);
        if columns.is_empty() {
            let file = &study.intake.path;
            return Err(Failure::could_not(format!(
                "no column of {} is to be converted; metachron survey {} shows what it holds",
                shown(file),
                shell_word(&file.to_string_lossy())
            )));
        }
        if convert.replace_raw && convert.rejects.is_none() {
            refuse_loss(study, &columns)?;
        }
    }
    let mut exit = Exit::Done;
    for (study, output) in studies.iter().zip(&outputs) {
        let mut columns = typed_columns(study);
        let dropped = if convert.drop_blank_columns { study.blank.clone() } else { Vec::new() };
        let shows = config.shows_progress;
        let (lines, left) = write(convert, output, &study.intake, &mut columns, &dropped, shows)?;
        if !convert.input.quiet {
            say(summary(convert, output, study, &columns, &lines, page).trim_end());
            for (column, drift) in drifts(study, &config) {
                say(&format!("metachron: {}: {}", plain(&column.name), plain(&drift.to_string())));
            }
        }
        if !convert.tolerate.allows(left.rows, lines.rows) {
            say(&format!("metachron: {}", left.says(convert)));
            exit = Exit::Left;
        }
    }
    Ok(exit)
}

/// How the columns that are converted differ from what their readings were saved for.
fn drifts<'s>(study: &'s Study, config: &Config) -> Vec<(&'s Studied, Drift)> {
    let today = config.today.to_string();
    let columns = study.columns.iter().filter(|c| c.decisions.convert != Some(false));
    columns.flat_map(|column| column.drift(&today).into_iter().map(move |d| (column, d))).collect()
}

/// A saved reading that cannot be right for all rows is a question.
fn stop_at_drift(study: &Study, config: &Config, page: Page) -> Result<(), Failure> {
    let all = drifts(study, config);
    let Some((first, _)) = all.iter().find(|(_, drift)| drift.is_contradiction()) else {
        return Ok(());
    };
    let file = &study.intake.path;
    let saved = config.readings.as_ref().map_or(String::new(), |r| shown(&r.path));
    let mut text =
        format!("{} is not what {saved} was saved for; nothing was written\n\n", shown(file));
    let indent = indent_of_names(all.iter().map(|(column, _)| column.name.as_str()));
    let mut last = "";
    for (column, drift) in &all {
        let name = if column.name == last { String::new() } else { plain(&column.name) };
        last = &column.name;
        let lead = page.lead_within(&name, indent, &mut text);
        paragraph(&mut text, &lead, indent, &format!("{}.", plain(&drift.to_string())), page.width);
    }
    let file = shell_word(&file.to_string_lossy());
    let name = shell_word(&first.name);
    let _ = write!(text, "\n  To look at it anew:\n    metachron survey {file} --column {name}\n");
    let reading = first.inference.compiled.as_ref().map(Compiled::reading);
    if let Some(reading) = reading.filter(|reading| reading.split.is_none()) {
        let layouts: Vec<String> =
            reading.layouts.iter().map(|layout| format!("\"{layout}\"")).collect();
        let said = format!("{}: layouts=[{}]", set_name(&first.name), layouts.join(", "));
        let readings = config.repeated(None);
        let output = suggested_output(&study.intake.path);
        let _ = write!(
            text,
            "  If the saved reading is right, and what it does not fit is to be left empty:\n    \
             metachron convert {file}{readings} --set {} -o {}\n",
            shell_word(&said),
            shell_word(&output)
        );
    }
    Err(Failure::question(text.trim_end()))
}

/// Where each input goes.
fn outputs(convert: &args::Convert, files: &[PathBuf]) -> Result<Vec<PathBuf>, Failure> {
    let Some(dir) = &convert.output_dir else {
        let [_] = files else {
            return Err(Failure::usage(
                "several files need --output-dir, which holds one output for each",
            ));
        };
        return Ok(vec![convert.output.clone().unwrap_or_else(|| PathBuf::from("-"))]);
    };
    if convert.rejects.is_some() && files.len() > 1 {
        return Err(Failure::usage("--rejects is for a single file; convert the files one by one"));
    }
    std::fs::create_dir_all(dir).map_err(|error| Failure::writing(dir, &error))?;
    let mut outputs: Vec<PathBuf> = Vec::new();
    for file in files {
        // A workbook is written as text.
        let suggested = suggested_output(file);
        let name = match (file.file_name(), suggested.ends_with(".out.csv")) {
            (Some(name), false) => PathBuf::from(name),
            (Some(name), true) => Path::new(name).with_extension("csv"),
            (None, _) => PathBuf::from("table.csv"),
        };
        let output = dir.join(name);
        if outputs.contains(&output) {
            return Err(Failure::usage(format!(
                "two inputs would be written as {}; convert them one by one",
                shown(&output)
            )));
        }
        outputs.push(output);
    }
    Ok(outputs)
}

/// A column that gets a typed one.
struct Typed<'s> {
    studied: &'s Studied,
    compiled: &'s Compiled,
    name: String,
    fraction_digits: u8,
    memory: Memory,
    counts: Counts,
    /// Rows that are read, by the order of their part where rows differ.
    by_order: BTreeMap<Order, u64>,
    leap_seconds: u64,
    /// Dates before the Gregorian calendar began.
    long_ago: u64,
}

/// Rows that have a cell that was not read.
#[derive(Default)]
struct Left {
    rows: u64,
    first: u64,
}

impl Left {
    fn says(&self, convert: &args::Convert) -> String {
        let has = if self.rows == 1 { "has" } else { "have" };
        let first = if self.rows == 1 { "" } else { "first " };
        let list = match &convert.rejects {
            Some(path) => format!("{} lists them", shown(path)),
            None => "--rejects FILE lists them".to_owned(),
        };
        format!(
            "{} {has} an unreadable or contested cell ({first}row {}); {list}, --tolerate {} accepts them",
            counted(self.rows, "row"),
            grouped(self.first),
            self.rows
        )
    }
}

fn check_paths(convert: &args::Convert, input: &Path, output: &Path) -> Result<(), Failure> {
    if input != Path::new("-") && same_file(input, output) {
        return Err(Failure::usage(format!(
            "the output {} is the input; metachron never overwrites what it reads",
            shown(output)
        )));
    }
    if let Some(rejects) = &convert.rejects {
        if rejects == output || same_file(rejects, output) {
            return Err(Failure::usage("--rejects and -o name the same file"));
        }
        if same_file(rejects, input) {
            return Err(Failure::usage("--rejects names the input, which is never overwritten"));
        }
    }
    Ok(())
}

/// Whether a person has to say something of this column before the table can be written.
fn is_open(column: &Studied, config: &Config) -> bool {
    match column.verdict() {
        _ if column.decisions.convert == Some(false) => false,
        Verdict::NotADate => config.names_column(&column.name),
        verdict => verdict.is_open(),
    }
}

fn typed_columns(study: &Study) -> Vec<Typed<'_>> {
    let mut names = study.intake.names().to_vec();
    let mut columns = Vec::new();
    let types_columns = study.intake.table.types_columns();
    for studied in study.columns.iter().filter(|c| c.decisions.convert != Some(false)) {
        if types_columns && studied.is_typed() {
            continue;
        }
        let Some(compiled) = &studied.inference.compiled else { continue };
        let wanted = match &studied.decisions.into {
            Some(into) => into.clone(),
            None => format!("{}_typed", studied.name),
        };
        let name = free_name(&wanted, |name| names.iter().any(|other| other == name));
        names.push(name.clone());
        columns.push(Typed {
            studied,
            compiled,
            name,
            fraction_digits: studied.inference.judgement.fraction_digits,
            memory: Memory::default(),
            counts: Counts::default(),
            by_order: BTreeMap::new(),
            leap_seconds: 0,
            long_ago: 0,
        });
    }
    columns
}

/// Replacing the raw column must not lose a value that was not read.
fn refuse_loss(study: &Study, columns: &[Typed<'_>]) -> Result<(), Failure> {
    for column in columns {
        let Counts { unreadable, contested, placeholder, .. } =
            column.studied.inference.judgement.counts;
        let lost = unreadable + contested + placeholder;
        if lost > 0 {
            return Err(Failure::question(format!(
                "--replace-raw would lose {} of {} in {} that cannot be read; \
                 add --rejects FILE to keep them, or leave the raw column in place",
                counted(lost, "value"),
                plain(&column.studied.name),
                shown(&study.intake.path)
            )));
        }
    }
    Ok(())
}

/// The second pass: every row with its typed cells.
fn write(
    convert: &args::Convert,
    output: &Path,
    intake: &Intake,
    columns: &mut [Typed<'_>],
    dropped: &[usize],
    shows_progress: bool,
) -> Result<(Lines, Left), Failure> {
    let failed = |error: std::io::Error| Failure::writing(output, &error);
    let target = target(output, &intake.table)?;
    let charset = match &convert.output_encoding {
        Some(name) => charset("--output-encoding", name)?,
        None => Charset::UTF_8,
    };
    let place = Output::create(output).map_err(failed)?;
    let mut out = charset.encode(match Compression::of(output) {
        Some(compression) => compression.writer(place).map_err(failed)?,
        None => Compressor::Plain(place),
    });
    let names = intake.names();
    let mut rejects = match &convert.rejects {
        Some(path) => Some(Rejects::create(path, names)?),
        None => None,
    };
    let new = columns
        .iter()
        .map(|column| NewColumn {
            beside: column.studied.index,
            name: match convert.replace_raw {
                true => replaced_name(column).to_owned(),
                false => column.name.clone(),
            },
            replaces: convert.replace_raw,
        })
        .collect();
    let mut sink =
        Sink::new(&intake.table, target, new, dropped).keep_preamble(convert.keep_preamble);
    if begins_with_bom(&intake.table, charset) {
        out.write_all(BOM).map_err(failed)?;
    }
    sink.begin(&mut out).map_err(failed)?;
    let mut left = Left::default();
    let mut typed = vec![String::new(); columns.len()];
    let (mut buffer, mut other) = (String::new(), String::new());
    let mut progress = Progress::new(output, shows_progress);
    let lines = intake.each_row(|number, row| {
        progress.row(number);
        let mut unread = false;
        for (column, typed) in columns.iter_mut().zip(&mut typed) {
            typed.clear();
            let value = row.cell(column.studied.index, &mut buffer);
            let beside = column.studied.beside.map_or("", |at| beside(row.cell(at, &mut other)));
            let outcome = column.apply(Place { row: number, beside }, value, typed);
            if !matches!(outcome, Outcome::Read(_) | Outcome::Missing) {
                unread |= outcome != Outcome::Placeholder;
                if let Some(rejects) = &mut rejects {
                    let kind = column.compiled.reading().kind;
                    let column = &column.studied.name;
                    let (raw, row) = (row, number);
                    rejects.push(&Reject { row, raw, column, value, kind, outcome })?;
                }
            }
        }
        if unread {
            left.rows += 1;
            if left.first == 0 {
                left.first = number;
            }
        }
        sink.row(&mut out, row, &typed).map_err(failed)
    })?;
    sink.end(&mut out, &lines).map_err(failed)?;
    if let Some(rejects) = rejects {
        rejects.finish()?;
    }
    out.into_inner().finish().and_then(Output::finish).map_err(failed)?;
    Ok((lines, left))
}

/// The format of the output: what its ending says, or the input's.
fn target(output: &Path, table: &Table) -> Result<Target, Failure> {
    let name = output.to_string_lossy().to_lowercase();
    let stem = match Compression::of(output) {
        Some(compression) => {
            name.strip_suffix(&format!(".{}", compression.ending())).unwrap_or(&name)
        }
        None => &name,
    };
    let wants_json = [".json", ".jsonl", ".ndjson"].iter().any(|ending| stem.ends_with(ending));
    let on_stdout = output == Path::new("-");
    match &table.format {
        Format::JsonLines | Format::JsonArray if wants_json || on_stdout => Ok(Target::Json),
        _ if wants_json => Err(cannot_write(output, "as JSON", "table.csv")),
        _ if WORKBOOKS.iter().any(|ending| stem.ends_with(ending)) => {
            Err(cannot_write(output, "as a workbook", "table.csv"))
        }
        Format::Delimited { dialect, .. } => Ok(Target::Delimited(dialect.delimiter)),
        _ if stem.ends_with(".tsv") => Ok(Target::Delimited(Delimiter::Tab)),
        _ => Ok(Target::Delimited(Delimiter::Comma)),
    }
}

const WORKBOOKS: [&str; 5] = [".xlsx", ".xlsm", ".xlsb", ".xls", ".ods"];

fn cannot_write(output: &Path, what: &str, instead: &str) -> Failure {
    Failure::could_not(format!(
        "this table cannot be written {what} ({}); give the output a name such as {}",
        shown_output(output),
        suggested_output(Path::new(instead))
    ))
}

/// UTF-8 keeps the mark that the input had; UTF-16 cannot be told apart without one.
fn begins_with_bom(table: &Table, charset: Charset) -> bool {
    let own = table.source().charset;
    let delimited = matches!(table.format, Format::Delimited { .. });
    match charset.is_utf_8() {
        true => own.is_utf_8() && own.has_bom && delimited,
        false => charset.name().starts_with("UTF-16"),
    }
}

/// The name of a column whose typed values stand in the raw one's place.
fn replaced_name<'c>(column: &'c Typed<'_>) -> &'c str {
    column.studied.decisions.into.as_deref().unwrap_or(&column.studied.name)
}

impl Typed<'_> {
    /// Whether the analyst has given several layouts.
    fn gives_layouts(&self) -> bool {
        let written = &self.studied.decisions.written;
        matches!(written, Some(Written::Layouts(layouts)) if layouts.len() > 1)
    }

    /// Reads a value, counts it, and writes what it is.
    fn apply<'v>(&mut self, place: Place<'v>, value: Value<'v>, typed: &mut String) -> Outcome {
        let outcome = self.compiled.apply(place, value, &mut self.memory);
        let counts = &mut self.counts;
        counts.rows += 1;
        match outcome {
            Outcome::Missing => counts.missing += 1,
            Outcome::Placeholder => counts.placeholder += 1,
            Outcome::Unreadable(_) => counts.unreadable += 1,
            Outcome::Contested(..) | Outcome::OfOtherRows(_) => counts.contested += 1,
            Outcome::Read(fit) => {
                counts.read += 1;
                if let Some(split) = &self.compiled.reading().split
                    && let Some(order) =
                        split.of(place).and_then(|layouts| layouts.first()?.order())
                {
                    *self.by_order.entry(order).or_default() += 1;
                }
                self.leap_seconds += u64::from(fit.leap_second);
                let first = jiff::civil::date(1582, 10, 15);
                self.long_ago += u64::from(fit.moment.date().is_some_and(|day| day < first));
                // Writing to a string cannot fail.
                let _ = iso(typed, fit.moment, self.fraction_digits);
            }
        }
        outcome
    }
}

/// What is asked of the analyst, and what can be done meanwhile.
fn question(open: &[&Studied], study: &Study, config: &Config, page: Page) -> String {
    let report = SurveyReport::new(study, config);
    let facts: Vec<&ColumnFacts> =
        report.columns.iter().filter(|facts| open.iter().any(|o| o.name == facts.name)).collect();
    let decided: Vec<&Studied> =
        study.columns.iter().filter(|column| column.verdict() == Verdict::Decided).collect();
    let all = study
        .columns
        .iter()
        .filter(|c| c.verdict() != Verdict::NotADate || is_open(c, config))
        .count();
    let mut text = match (open.len(), all) {
        (1, 1) => "the date column is open; nothing was written\n".to_owned(),
        (1, all) => format!("1 of {all} date columns is open; nothing was written\n"),
        (open, all) => format!("{open} of {all} date columns are open; nothing was written\n"),
    };
    let indent = indent_of(facts.iter().copied());
    for column in facts {
        text.push('\n');
        block(&mut text, &column.name, column, Block::Question, indent, page);
        if !column.is_temporal() {
            let file = shell_word(&study.intake.path.to_string_lossy());
            let name = shell_word(&column.name);
            let _ = writeln!(
                text,
                "{}If it does hold dates, say how they are written, for example:\n\
                 {}metachron convert {file}{} --column {name} --layout '{{year}}{{month:02}}{{day:02}}' -o {}",
                " ".repeat(indent),
                " ".repeat(indent + 2),
                config.repeated(None),
                shell_word(&suggested_output(&study.intake.path)),
            );
        }
    }
    if !decided.is_empty() {
        let names: String = decided
            .iter()
            .map(|column| format!(" --column {}", shell_word(&column.name)))
            .collect();
        let _ = write!(
            text,
            "\n  To convert the decided {} now:\n    metachron convert {}{}{} -o {}",
            if decided.len() == 1 { "one" } else { "ones" },
            shell_word(&study.intake.path.to_string_lossy()),
            config.repeated(None),
            names,
            shell_word(&suggested_output(&study.intake.path)),
        );
    }
    text.trim_end().to_owned()
}

/// What was done, for the analyst to read.
fn summary(
    convert: &args::Convert,
    output: &Path,
    study: &Study,
    columns: &[Typed<'_>],
    lines: &Lines,
    page: Page,
) -> String {
    let mut text = String::new();
    let target = shown_output(output);
    let _ = writeln!(text, "{target}   {}", counted(lines.rows, "row"));
    let mut grid = Grid::plain(&[Align::Left; 4]);
    for studied in &study.columns {
        let column = columns.iter().find(|column| column.studied.index == studied.index);
        let name = plain(&studied.name);
        if let Some(column) = column {
            let place = if convert.replace_raw { replaced_name(column) } else { &column.name };
            let arrow = format!("→ {}", plain(place));
            let kind = column.compiled.reading().kind.name().to_owned();
            grid.push(vec![name, arrow, kind, counts(convert, column)]);
        } else if studied.decisions.convert == Some(false) {
            let alone = "left alone (convert = false)".to_owned();
            grid.push(vec![name, String::new(), String::new(), alone]);
        } else if study.intake.table.types_columns() && studied.is_typed() {
            let typed = "typed already".to_owned();
            grid.push(vec![name, String::new(), String::new(), typed]);
        }
    }
    grid.write(&mut text, 2, page.width, None);
    for (met, one, many) in [
        (
            lines.blank,
            "empty line was no row and is left out",
            "empty lines were no rows and are left out",
        ),
        (
            lines.short,
            "row had fewer cells than the header and was completed with empty ones",
            "rows had fewer cells than the header and were completed with empty ones",
        ),
        (
            lines.long,
            "row has more cells than the header; all were kept",
            "rows have more cells than the header; all were kept",
        ),
    ] {
        if let Some(said) = says(met, one, many) {
            let _ = writeln!(text, "  {said}");
        }
    }
    if let Some(said) = no_names(&study.intake.table) {
        let _ = writeln!(text, "  {said}");
    }
    if let Some(said) = left_out(convert, study, lines) {
        let _ = writeln!(text, "  {said}");
    }
    text
}

/// Titles and footers, which are no rows.
fn left_out(convert: &args::Convert, study: &Study, lines: &Lines) -> Option<String> {
    let above = match &study.intake.table.format {
        Format::Delimited { preamble, .. } => preamble.len() as u64,
        _ => study.intake.table.sheet().map_or(0, |sheet| sheet.above.len() as u64),
    };
    let below = lines.footers.len() as u64;
    let place = |count: u64, place: &str| format!("{} {place} the table", counted(count, "line"));
    let said = match (above, below) {
        (0, 0) => return None,
        (above, 0) => place(above, "above"),
        (0, below) => place(below, "below"),
        (above, below) => format!("{} and {}", place(above, "above"), place(below, "below")),
    };
    let delimited = matches!(study.intake.table.format, Format::Delimited { .. });
    Some(if convert.keep_preamble && delimited {
        format!("{said} kept")
    } else if delimited {
        format!("{said} left out (--keep-preamble keeps what stands around it)")
    } else {
        format!("{said} left out")
    })
}

fn counts(convert: &args::Convert, column: &Typed<'_>) -> String {
    let Counts { read, missing, placeholder, unreadable, contested, .. } = column.counts;
    let mut parts = vec![format!("{} read", grouped(read))];
    for (count, what) in [
        (missing, "missing"),
        (placeholder, "placeholder"),
        (unreadable, "unreadable"),
        (contested, "contested"),
    ] {
        // Who gives several layouts has to know how often they disagree.
        let asked = what == "contested" && column.gives_layouts();
        if count > 0 || asked {
            parts.push(format!("{} {what}", grouped(count)));
        }
    }
    let mut text = parts.join(", ");
    if let Some(path) =
        convert.rejects.as_ref().filter(|_| placeholder + unreadable + contested > 0)
    {
        let _ = write!(text, " → {}", shown(path));
    }
    if column.leap_seconds > 0 {
        let _ = write!(
            text,
            "; {} read as the next minute",
            counted(column.leap_seconds, "leap second")
        );
    }
    for note in notes(column) {
        let _ = write!(text, "; {note}");
    }
    text
}

/// What was done to values beside reading them.
fn notes(column: &Typed<'_>) -> Vec<String> {
    let reading = column.compiled.reading();
    let mut notes = Vec::new();
    if column.long_ago > 0 {
        let dates = counted(column.long_ago, "date");
        notes.push(match (reading.terms.reform, reading.terms.lexicon.calendar()) {
            (None, Calendar::Gregorian) => format!(
                "{dates} before 15 October 1582, counted as if the Gregorian calendar had begun before \
                 (--calendar julian or --reform DATE reads Julian ones)"
            ),
            _ => format!("{dates} before 15 October 1582, written by the Gregorian calendar"),
        });
    }
    if let Some(anchor) = reading.anchor.filter(|_| column.counts.read > 0) {
        let which = decisions::anchor_name(anchor);
        notes.push(format!("periods are their {which}"));
    }
    if let Some(split) = &reading.split {
        let by = split.column().map_or("rows".to_owned(), plain);
        let orders = column.by_order.iter();
        let orders: Vec<String> =
            orders.map(|(order, rows)| format!("{} {}", grouped(*rows), order.phrase())).collect();
        notes.push(format!("{} by {by}", orders.join(", ")));
    }
    match reading.repair {
        Repair::HalfSwapped => {
            notes.push("day and month exchanged back in what an import wrote".to_owned());
        }
        Repair::MonthYear => {
            notes.push("days made years again in what an import wrote".to_owned());
        }
        Repair::None => {}
    }
    if let Some(years) = &reading.years {
        notes.push(match years.turns.as_slice() {
            [] if years.open_from.is_some() => format!("the first row in {}", years.first),
            [] => format!("all in the year {}", years.first),
            [turn] => format!("from {} on, the year turns at row {}", years.first, grouped(*turn)),
            [first, .., last] => format!(
                "from {} on, the year turns {} times, from row {} to row {}",
                years.first,
                years.turns.len(),
                grouped(*first),
                grouped(*last)
            ),
        });
    }
    notes
}
