//! `metachron convert`: the table with typed columns beside the raw ones.

use std::io::Write;
use std::path::{Path, PathBuf};

use metachron_core::text::{counted, grouped};
use metachron_core::verdict::Drift;
use metachron_core::write::Instants;
use metachron_tables::deliver::CellRows;
use metachron_tables::place::Output;
use metachron_tables::table::Lines;

use crate::ambient::Ambient;
use crate::args;
use crate::choices::{Choices, Decisions, Wrong, clock, suggested_output};
use crate::conversion::{
    ConversionOptions, ConversionPlan, ConversionTally, ConvertRows, Looks, RejectRows, Rejects,
    RowMaker, RowsAlone, TableOutput, Unread, check_early, described_in, gather_facts,
};
use crate::exit::Exit;
use crate::interrupt;
use crate::message::{Failure, plain, say, shell_word, shown};
use crate::pass::{Passed, Rows};
use crate::paths::RunPaths;
use crate::report::Page;
use crate::report::questions::{drifts, questions, refuse_loss, stop_at_drift, warnings};
use crate::report::run::{Converted, RunReport};
use crate::report::source::doubts;
use crate::report::summary::summary;
use crate::survey::{SurveyedColumn, SurveyedTable, survey};
use crate::words::words;

/// Converts one file, or several into a folder.
pub fn run(
    convert: &args::Convert,
    line: &args::CommandLine,
    ambient: &Ambient,
) -> Result<Exit, Failure> {
    let choices = Choices::new(
        &convert.input,
        &convert.columns,
        &convert.shaping,
        Decisions { into: convert.into.clone(), ..Decisions::default() },
        line,
        ambient,
    )?;
    choices.refuse_wishes()?;
    if convert.into.is_some() && choices.chosen.len() > 1 {
        return Err(Failure::usage("--into names one column, but several are named by --column"));
    }
    if convert.compare && convert.input.quiet {
        return Err(Failure::usage("--compare shows what came out, and --quiet shows nothing"));
    }
    let to_zone = convert.to_zone.as_deref().map(|name| clock("to_zone", name, choices.zones));
    let to_zone = to_zone.transpose().map_err(Wrong::of_option)?;
    let instants = match (convert.instants, to_zone) {
        (Some(named), _) => named.into(),
        (None, Some(_)) => Instants::Offset,
        (None, None) => Instants::Utc,
    };
    let files = super::files(&convert.files)?;
    let outputs = outputs(convert, &files)?;
    let page = Page { width: ambient.error_width, color: convert.color.or(ambient.error_color) };
    let descriptions = outputs.iter().filter(|_| convert.describe).map(|own| described_in(own));
    let descriptions: Vec<PathBuf> = descriptions.collect();
    RunPaths::of(files.iter().map(PathBuf::as_path), &convert.input)
        .answered_by(&convert.answers)
        .writes("the output", outputs.iter().map(PathBuf::as_path))
        .writes("the description", descriptions.iter().map(PathBuf::as_path))
        .writes("--rejects", convert.rejects.as_deref())
        .writes("--run-report", convert.run_report.as_deref())
        .refuse_clashes()?;
    // Everything is looked at before anything is written.
    let tables = files.iter().map(|file| survey(file, 0, &choices));
    let tables: Vec<SurveyedTable> = tables.collect::<Result<_, _>>()?;
    // What was typed is checked before anything is asked.
    for table in tables.iter().filter(|table| table.columns.iter().any(SurveyedColumn::is_open)) {
        check_early(table, convert.stamp.as_deref(), &choices, ambient)?;
    }
    if let Some(text) = questions(&tables, &choices, page) {
        return Err(Failure::question(text));
    }
    let options = ConversionOptions {
        form: (instants, to_zone),
        precision: convert.precision.fixed(),
        has_notes: convert.note_column,
        fixes: convert.answers.said(),
        stamp: convert.stamp.as_deref(),
        is_basic: convert.iso_form == args::IsoForm::Basic,
        counts_reasons: false,
        includes_typed: false,
        looks: match (convert.compare, convert.input.quiet && convert.run_report.is_none()) {
            (true, _) => Some(Looks::Closely),
            (false, true) => None,
            (false, false) => Some(Looks::Briefly),
        },
    };
    let mut all = Vec::new();
    for table in &tables {
        stop_at_drift(table, &choices, page)?;
        let plan = ConversionPlan::of(table, &options, (&choices, ambient))?;
        // Whoever leaves all columns as they are has the table as it is.
        if plan.is_empty() && !table.columns.iter().any(SurveyedColumn::is_left) {
            let file = &table.intake.path;
            return Err(Failure::could_not(format!(
                "no column of {} is to be converted; metachron survey {} shows what it holds",
                shown(file),
                shell_word(&file.to_string_lossy())
            )));
        }
        if let Some(option) = about_moments(convert).filter(|_| !plan.holds_moments()) {
            return Err(Failure::usage(format!(
                "{option} has no effect: no column holds instants"
            )));
        }
        if convert.replace_raw && convert.rejects.is_none() {
            refuse_loss(table, &plan.columns)?;
        }
        all.push(plan);
    }
    if let Some(dir) = &convert.output_dir {
        std::fs::create_dir_all(dir).map_err(|error| Failure::writing(dir, &error))?;
    }
    let mut exit = Exit::Done;
    for ((table, output), mut plan) in tables.iter().zip(&outputs).zip(all) {
        gather_facts(&mut plan, &table.intake)?;
        // A report that cannot be written is known before an output is replaced.
        let path = convert.run_report.as_deref();
        let failed = |error| Failure::writing(path.unwrap_or(Path::new("-")), &error);
        let report_file = path.map(Output::create).transpose().map_err(failed)?;
        let converted = write(convert, output, table, &plan, &choices)?;
        if let Some(mut out) = report_file {
            let report = RunReport::new(table, &plan, &converted, (convert, output), &choices)?;
            out.write_all(super::json(&report)?.as_bytes()).map_err(failed)?;
            out.finish().map_err(failed)?;
        }
        if !convert.input.quiet {
            let text = summary(convert, output, table, &plan, &converted, page);
            say(text.trim_end());
            for column in plan.columns.iter().map(|own| own.source) {
                for (_, message) in warnings(column) {
                    say(&format!("metachron: {}: {}", plain(&column.plan.name), plain(&message)));
                }
            }
            // Of several files only one has what is new.
            let is_told =
                |drift: &Drift| tables.len() == 1 || !matches!(drift, Drift::NothingNew { .. });
            let drifts = drifts(table).into_iter();
            for (column, drift) in drifts.filter(|(_, drift)| is_told(drift)) {
                say(&format!(
                    "metachron: {}: {}",
                    plain(&column.plan.name),
                    plain(&words(&drift).to_string())
                ));
            }
        }
        for doubt in doubts(&table.intake.table, &converted.lines, &choices.wanted) {
            say(&format!("metachron: {}: {doubt}", shown(&table.intake.path)));
            exit = Exit::Left;
        }
        let unread = converted.tally.unread;
        if !convert.tolerate.allows(unread.rows, converted.lines.rows) {
            say(&format!("metachron: {}", left(unread, convert)));
            exit = Exit::Left;
        }
    }
    Ok(exit)
}

/// The option that says how instants are shown, if one was given.
fn about_moments(convert: &args::Convert) -> Option<&'static str> {
    let to_zone = convert.to_zone.as_ref().map(|_| "--to-zone");
    to_zone.or(convert.instants.map(|_| "--instants"))
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
    for (option, given) in
        [("--rejects", convert.rejects.is_some()), ("--run-report", convert.run_report.is_some())]
    {
        if given && files.len() > 1 {
            let says = format!("{option} is for a single file; convert the files one by one");
            return Err(Failure::usage(says));
        }
    }
    let mut outputs: Vec<PathBuf> = Vec::new();
    for file in files {
        // A workbook is written as text.
        let suggested = suggested_output(file);
        let name = match (file.file_name(), suggested.ends_with(".out.csv")) {
            (Some(name), false) => PathBuf::from(name),
            (Some(name), true) => Path::new(name).with_extension("csv"),
            (None, _) => PathBuf::from("table.csv"),
        };
        let output = dir.join(convert.output_format.map_or(name.clone(), |own| own.named(&name)));
        outputs.push(output);
    }
    Ok(outputs)
}

/// What is said of rows that have a cell that was not read.
fn left(unread: Unread, convert: &args::Convert) -> String {
    let (has, first, them) = match unread.rows {
        1 => ("has", "", "it"),
        _ => ("have", "first ", "them"),
    };
    let list = match &convert.rejects {
        Some(path) => format!("{} lists {them}", shown(path)),
        None => format!("--rejects FILE lists {them}"),
    };
    format!(
        "{} {has} an unreadable or contested cell ({first}row {}); {list}, --tolerate {} lets {them} stay",
        counted(unread.rows, "row"),
        grouped(unread.first),
        unread.rows
    )
}

/// Writes every row with its new cells.
fn write(
    convert: &args::Convert,
    output: &Path,
    table: &SurveyedTable,
    plan: &ConversionPlan<'_>,
    choices: &Choices,
) -> Result<Converted, Failure> {
    let intake = &table.intake;
    interrupt::heed();
    let mut out = TableOutput::open(convert, output, (table, &choices.secrets), plan)?;
    let mut rejects = match &convert.rejects {
        Some(path) => Some(Rejects::create(path, intake.names())?),
        None => None,
    };
    let rows = Rows::all(intake).showing(output, choices.shows_progress);
    // A series goes on from row to row.
    let goes_in_runs = intake.table.is_cut() && plan.series.is_empty();
    let (tally, lines) = match out.rows_alone().filter(|_| goes_in_runs) {
        Some(RowsAlone::Text(maker, mut out)) => {
            let write = |text: Vec<u8>| out.write(&text);
            in_runs(rows, (plan, maker), write, &mut rejects, choices.threads)?
        }
        Some(RowsAlone::Cells(maker, mut out)) => {
            let write = |rows: CellRows| out.write(&rows);
            in_runs(rows, (plan, maker), write, &mut rejects, choices.threads)?
        }
        None => row_by_row(rows, plan, &mut out, &mut rejects)?,
    };
    if let Some(rejects) = rejects {
        rejects.finish()?;
    }
    let notes = out.finish(&lines)?;
    Ok(Converted { tally, lines, notes })
}

/// Makes rows in runs on so many threads, and writes them in their order.
fn in_runs<M: RowMaker>(
    rows: Rows<'_>,
    (plan, maker): (&ConversionPlan<'_>, M),
    mut write: impl FnMut(M::Rows) -> Result<(), Failure>,
    rejects: &mut Option<Rejects>,
    threads: usize,
) -> Result<(ConversionTally, Lines), Failure> {
    let columns = rows.width();
    let pass = ConvertRows { plan, maker, columns, lists_rejects: rejects.is_some() };
    let mut all = plan.tally();
    let Passed { lines, .. } = rows.drive_in_runs(&pass, threads, |run| {
        write(run.made)?;
        if let (Some(rejects), Some(mut rows)) = (rejects.as_mut(), run.rejects) {
            rejects.write(&mut rows)?;
        }
        all.join(run.tally);
        Ok(())
    })?;
    Ok((all, lines))
}

/// Makes and writes one row after the other.
fn row_by_row(
    rows: Rows<'_>,
    plan: &ConversionPlan<'_>,
    out: &mut TableOutput<'_>,
    rejects: &mut Option<Rejects>,
) -> Result<(ConversionTally, Lines), Failure> {
    let mut rejected = rejects.as_ref().map(|_| RejectRows::of(rows.width()));
    let Passed { tally, lines, .. } =
        rows.drive_into(plan, plan.tally(), |number, row, converted, tally| {
            if !converted.is_written {
                return Ok(());
            }
            out.row(converted, row)?;
            if converted.reject(number, row, rejected.as_mut()) {
                tally.unread.note(number);
            }
            match (rejects.as_mut(), &mut rejected) {
                (Some(rejects), Some(rows)) => rejects.write(rows),
                _ => Ok(()),
            }
        })?;
    Ok((tally, lines))
}
