//! `metachron convert`: the table with typed columns beside the raw ones.

use std::fmt::Write as _;
use std::io::Write;
use std::path::{Path, PathBuf};

use jiff::Timestamp;
use metachron_core::apply::Outcome;
use metachron_core::moment::Moment;
use metachron_core::reading::Place;
use metachron_core::steps::{Item, Unmade};
use metachron_core::text::{counted, grouped};
use metachron_core::value::Value;
use metachron_core::write::{Instants, iso};
use metachron_tables::compress::{Compression, Compressor};
use metachron_tables::delimited::BOM;
use metachron_tables::dialect::Delimiter;
use metachron_tables::encoding::Charset;
use metachron_tables::place::{Output, same_file};
use metachron_tables::sink::{NewColumn, Sink, Target};
use metachron_tables::table::{Format, Lines, Row, Table};

use super::derive::{Derived, Filter, SoFar, derived_columns, filter, item, now};
use super::questions::{drifts, is_open, question, refuse_loss, stop_at_drift};
use super::rejects::{Reject, Rejects};
use super::study::{Studied, beside, study};
use super::summary::summary;
use super::typed::{Typed, typed_columns};
use crate::ambient::Ambient;
use crate::args;
use crate::config::{Config, charset, suggested_output};
use crate::exit::Exit;
use crate::intake::Intake;
use crate::message::{Failure, plain, quoted, say, shell_word, shown, shown_output};
use crate::progress::Progress;
use crate::report::Page;
use crate::zoning::clock;

/// Converts one file, or several into a folder.
pub fn run(convert: &args::Convert, ambient: &Ambient) -> Result<Exit, Failure> {
    let mut config =
        Config::new(&convert.input, &convert.columns, convert.into.as_deref(), ambient)?;
    config.derive(&convert.derive)?;
    if convert.into.is_some() && config.chosen.len() > 1 {
        return Err(Failure::usage("--into names one column, but several are named by --column"));
    }
    let to_zone = convert.to_zone.as_deref().map(|name| clock(name, config.zones));
    let to_zone = to_zone.transpose().map_err(|error| Failure::usage(format!("--to-{error}")))?;
    let instants = match (convert.instants, to_zone) {
        (Some(named), _) => named.into(),
        (None, Some(_)) => Instants::Offset,
        (None, None) => Instants::Utc,
    };
    let form = (instants, to_zone);
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
        let columns = typed_columns(study, form, convert.precision.fixed());
        let derived = derived_columns(study, &columns, &config, ambient)?;
        filter(&convert.keep, study, &columns, &derived, (&config, ambient))?;
        if columns.is_empty() && config.derive.is_empty() && convert.stamp.is_none() {
            let file = &study.intake.path;
            return Err(Failure::could_not(format!(
                "no column of {} is to be converted; metachron survey {} shows what it holds",
                shown(file),
                shell_word(&file.to_string_lossy())
            )));
        }
        if let Some(name) = &convert.stamp
            && (study.intake.names().contains(name)
                || columns.iter().any(|column| column.names(false).contains(name))
                || derived.iter().any(|own| own.name == *name))
        {
            return Err(Failure::usage(format!(
                "--stamp {}: there is a column of that name",
                quoted(name)
            )));
        }
        if convert.replace_raw && convert.rejects.is_none() {
            refuse_loss(study, &columns)?;
        }
    }
    let mut exit = Exit::Done;
    for (study, output) in studies.iter().zip(&outputs) {
        let mut columns = typed_columns(study, form, convert.precision.fixed());
        let dropped = if convert.drop_blank_columns { study.blank.clone() } else { Vec::new() };
        let shows = config.shows_progress;
        let mut derived = derived_columns(study, &columns, &config, ambient)?;
        gather_facts(&study.intake, &mut columns, &mut derived)?;
        let mut filter = filter(&convert.keep, study, &columns, &derived, (&config, ambient))?;
        let stamp = convert.stamp.clone().map(|name| (name, stamp(now(&config, ambient))));
        let mut new =
            New { columns: &mut columns, derived: &mut derived, filter: &mut filter, stamp };
        let (lines, left) = write(convert, output, &study.intake, &mut new, &dropped, shows)?;
        if !convert.input.quiet {
            let said = summary(convert, output, study, (&columns, &derived, &filter), &lines, page);
            say(said.trim_end());
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

/// Rows that have a cell that was not read.
#[derive(Default)]
struct Left {
    rows: u64,
    first: u64,
}

impl Left {
    fn says(&self, convert: &args::Convert) -> String {
        let (has, first, them) = match self.rows {
            1 => ("has", "", "it"),
            _ => ("have", "first ", "them"),
        };
        let list = match &convert.rejects {
            Some(path) => format!("{} lists {them}", shown(path)),
            None => format!("--rejects FILE lists {them}"),
        };
        format!(
            "{} {has} an unreadable or contested cell ({first}row {}); {list}, --tolerate {} accepts {them}",
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

/// The columns that are added to a table.
struct New<'n, 's> {
    columns: &'n mut [Typed<'s>],
    derived: &'n mut [Derived],
    filter: &'n mut Filter,
    /// A column with the moment of this run.
    stamp: Option<(String, String)>,
}

/// A moment to the second.
fn stamp(now: Timestamp) -> String {
    let mut text = String::new();
    // Writing to a string cannot fail.
    let _ = iso(&mut text, Moment::Instant(now), 0);
    text
}

/// A pass for what only the whole table shows.
fn gather_facts(
    intake: &Intake,
    columns: &mut [Typed<'_>],
    derived: &mut [Derived],
) -> Result<(), Failure> {
    if !derived.iter().any(Derived::needs_facts) {
        return Ok(());
    }
    // A fact may be about what was derived with the help of another one: those come first.
    for at in 0..derived.len() {
        if !derived[at].needs_facts() {
            continue;
        }
        let (before, rest) = derived.split_at_mut(at);
        let mut buffers = Buffers::default();
        let mut items = Items::default();
        intake.each_row(|number, row| {
            items.read(columns, number, row, &mut buffers);
            items.derived.clear();
            for own in before.iter_mut() {
                let made = own.make(row, &items.so_far(), &mut buffers.cell);
                items.derived.push(made.unwrap_or_default());
            }
            if let Some(own) = rest.first_mut() {
                own.observe(row, &items.so_far(), &mut buffers.cell);
            }
            Ok(())
        })?;
        before.iter_mut().for_each(Derived::forget);
    }
    Ok(())
}

/// What the columns of a row are.
#[derive(Default)]
struct Items {
    typed: Vec<Item>,
    derived: Vec<Item>,
}

impl Items {
    fn so_far(&self) -> SoFar<'_> {
        SoFar { typed: &self.typed, derived: &self.derived }
    }

    fn read(
        &mut self,
        columns: &mut [Typed<'_>],
        number: u64,
        row: &Row<'_>,
        buffers: &mut Buffers,
    ) {
        self.typed.clear();
        for column in columns.iter_mut() {
            let (place, value) = buffers.cell(column, number, row);
            let outcome = column.compiled.apply(place, value, &mut column.memory);
            self.typed.push(item(outcome));
        }
    }
}

/// Texts of cells.
#[derive(Default)]
struct Buffers {
    cell: String,
    beside: String,
    zone: String,
}

impl Buffers {
    /// The cell of a column, and what its row says of how it is read.
    fn cell<'b>(
        &'b mut self,
        column: &Typed<'_>,
        row_number: u64,
        row: &'b Row<'_>,
    ) -> (Place<'b>, Value<'b>) {
        let Studied { index, beside: told_at, zone_at, .. } = column.studied;
        let told = told_at.map_or("", |at| beside(row.cell(at, &mut self.beside)));
        let zone = zone_at.map_or("", |at| beside(row.cell(at, &mut self.zone)));
        let place = Place { row: row_number, beside: told, zone };
        (place, row.cell(*index, &mut self.cell))
    }
}

/// The second pass: every row with its typed cells.
fn write(
    convert: &args::Convert,
    output: &Path,
    intake: &Intake,
    new: &mut New<'_, '_>,
    dropped: &[usize],
    shows_progress: bool,
) -> Result<(Lines, Left), Failure> {
    let New { columns, derived, filter, stamp } = new;
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
    let mut new = Vec::new();
    for column in columns.iter() {
        for (at, name) in column.names(convert.replace_raw).into_iter().enumerate() {
            let (beside, replaces) = (column.studied.index, convert.replace_raw && at == 0);
            new.push(NewColumn { beside, name, replaces, is_bare: false });
        }
    }
    let width = names.len();
    for own in derived.iter() {
        // Objects have no end that would be the same in every row.
        let beside = if target == Target::Json { own.beside } else { width.saturating_sub(1) };
        let (name, is_bare) = (own.name.clone(), own.is_bare());
        new.push(NewColumn { beside, name, replaces: false, is_bare });
    }
    if let Some((name, _)) = stamp {
        let (beside, name) = (width.saturating_sub(1), name.clone());
        new.push(NewColumn { beside, name, replaces: false, is_bare: false });
    }
    let mut typed = vec![String::new(); new.len()];
    let mut sink =
        Sink::new(&intake.table, target, new, dropped).keep_preamble(convert.keep_preamble);
    if begins_with_bom(&intake.table, charset) {
        out.write_all(BOM).map_err(failed)?;
    }
    sink.begin(&mut out).map_err(failed)?;
    let mut left = Left::default();
    let mut buffers = Buffers::default();
    let mut items = Items::default();
    let mut outcomes: Vec<Outcome> = Vec::new();
    let mut unmade: Vec<(String, String, Unmade)> = Vec::new();
    let mut progress = Progress::new(output, shows_progress);
    let lines = intake.each_row(|number, row| {
        progress.row(number);
        typed.iter_mut().for_each(String::clear);
        outcomes.clear();
        unmade.clear();
        items.typed.clear();
        items.derived.clear();
        let mut cells = typed.as_mut_slice();
        for column in columns.iter_mut() {
            let own = 1 + usize::from(column.zone_name.is_some());
            let (own, others) = std::mem::take(&mut cells).split_at_mut(own);
            cells = others;
            let (place, value) = buffers.cell(column, number, row);
            let outcome = column.apply(place, value, own);
            items.typed.push(item(outcome));
            outcomes.push(outcome);
        }
        for (own, cell) in derived.iter_mut().zip(&mut *cells) {
            let made = own.make(row, &items.so_far(), &mut buffers.cell);
            match &made {
                // Writing to a string cannot fail.
                Ok(item) => drop(write!(cell, "{item}")),
                Err(why) => unmade.push((own.name.clone(), own.inputs_text(), why.clone())),
            }
            items.derived.push(made.unwrap_or_default());
        }
        if let (Some((_, moment)), Some(cell)) = (&*stamp, cells.last_mut()) {
            cell.push_str(moment);
        }
        if !filter.keeps(row, &items.so_far(), &mut buffers.cell) {
            return Ok(());
        }
        let mut unread = !unmade.is_empty();
        for (column, outcome) in columns.iter().zip(&outcomes) {
            if matches!(outcome, Outcome::Read(_) | Outcome::Missing) {
                continue;
            }
            unread |= *outcome != Outcome::Placeholder;
            if let Some(rejects) = &mut rejects {
                let (_, value) = buffers.cell(column, number, row);
                let kind = column.compiled.reading().kind;
                let (column, outcome) = (&column.studied.name, *outcome);
                let (raw, row) = (row, number);
                rejects.push(&Reject { row, raw, column, value, kind, outcome })?;
            }
        }
        if let Some(rejects) = &mut rejects {
            for (name, inputs, why) in &unmade {
                rejects.push_unmade(number, row, name, inputs, why)?;
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
