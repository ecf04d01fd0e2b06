//! What was done, for the analyst to read.

use std::fmt::Write as _;
use std::path::Path;

use metachron_core::calendar::Calendar;
use metachron_core::named::Named;
use metachron_core::order::Alternative;
use metachron_core::reading::{Repair, RepeatedClock, SkippedClock, Zoning};
use metachron_core::steps::Type;
use metachron_core::text::{counted, grouped};
use metachron_core::typed::Kind;
use metachron_core::verdict::Counts;
use metachron_core::write::Instants;
use metachron_core::zone::{Clock, MergedRows};
use metachron_tables::table::{Lines, TableFormat};

use super::came_out::came_out;
use super::run::Converted;
use super::source::{MORE_MEMORY, no_names, thinned};
use super::{Grid, Page};
use crate::args;
use crate::conversion::{
    ColumnTally, ConversionPlan, MadeProgram, MadeTally, TypedColumn, replaced_name,
};
use crate::intake::says;
use crate::message::{plain, shown, shown_output};
use crate::survey::SurveyedTable;
use crate::words::{encoding, phrase};

/// What was done, for the analyst to read.
pub fn summary(
    convert: &args::Convert,
    output: &Path,
    table: &SurveyedTable,
    plan: &ConversionPlan<'_>,
    Converted { tally: all, lines, notes: delivered, .. }: &Converted,
    page: Page,
) -> String {
    let ConversionPlan { columns, series, made, sorting, .. } = plan;
    let tally = all;
    let mut text = String::new();
    let target = shown_output(output);
    let not_kept = tally.left_out + tally.unclear;
    let _ = write!(text, "{target}   {}", counted(lines.rows - not_kept, "row"));
    if not_kept > 0 {
        let _ =
            write!(text, " of {}, {} left out by --where", grouped(lines.rows), grouped(not_kept));
    }
    if tally.unclear > 0 {
        let _ = write!(text, " ({} since what it asks cannot be made)", grouped(tally.unclear));
    }
    text.push('\n');
    let mut grid = Grid::plain(4);
    for source in &table.columns {
        let mut all = columns.iter().zip(&tally.columns);
        let column = all.find(|(column, _)| column.source.plan.index == source.plan.index);
        let name = plain(&source.plan.name);
        if let Some((column, tally)) = column {
            let place = if convert.replace_raw { replaced_name(column) } else { &column.name };
            let arrow = format!("→ {}", plain(place));
            let kind = column.compiled.reading().kind.name().to_owned();
            grid.push(vec![name, arrow, kind, counts(convert, column, tally)]);
        } else if source.is_left() {
            let alone = "left alone (convert = false)".to_owned();
            grid.push(vec![name, String::new(), String::new(), alone]);
        } else if table.intake.table.types_columns() && source.is_typed() {
            let typed = "typed already".to_owned();
            grid.push(vec![name, String::new(), String::new(), typed]);
        }
    }
    for (own, tally) in series.iter().zip(&tally.series) {
        let groups = match own.has_groups() {
            true => {
                let groups = counted(tally.next.len() as u64, "group");
                format!(", beginning anew in each of {groups}")
            }
            false => String::new(),
        };
        let made = format!("{} made{groups}", grouped(tally.made));
        grid.push(vec![
            String::new(),
            format!("→ {}", plain(&own.name)),
            own.gives().to_string(),
            made,
        ]);
    }
    for (own, tally) in made.iter().zip(&tally.made) {
        let kind = own.program.gives().to_string();
        let came_of = came_of(convert, own, tally);
        grid.push(vec![String::new(), format!("→ {}", plain(&own.name)), kind, came_of]);
    }
    grid.write_wrapped(&mut text, 2, page.width);
    for note in delivered {
        let _ = writeln!(text, "  {}", plain(note));
    }
    if let Some(sorting) = sorting {
        let names: Vec<String> = sorting.names.iter().map(|name| plain(name)).collect();
        let _ = writeln!(text, "  sorted by {}", names.join(", then "));
    }
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
    let charset = table.intake.table.source().charset;
    if charset.is_guess {
        let _ = writeln!(text, "  read as {}", encoding(charset));
    }
    if let Some(said) = thinned(&table.columns, MORE_MEMORY) {
        let _ = writeln!(text, "  {said}");
    }
    if let Some(said) = no_names(&table.intake.table) {
        let _ = writeln!(text, "  {said}");
    }
    if let Some(said) = left_out(convert, table, lines) {
        let _ = writeln!(text, "  {said}");
    }
    text.push_str(&came_out(plan, all, (convert.replace_raw, convert.compare), page));
    text
}

/// Titles and footers, which are no rows.
fn left_out(convert: &args::Convert, table: &SurveyedTable, lines: &Lines) -> Option<String> {
    let above = match &table.intake.table.format {
        TableFormat::Delimited { preamble, .. } => preamble.len() as u64,
        _ => table.intake.table.sheet().map_or(0, |sheet| sheet.above.len() as u64),
    };
    let below = lines.footers.len() as u64;
    let place = |count: u64, place: &str| format!("{} {place} the table", counted(count, "line"));
    let said = match (above, below) {
        (0, 0) => return None,
        (above, 0) => place(above, "above"),
        (0, below) => place(below, "below"),
        (above, below) => format!("{} and {}", place(above, "above"), place(below, "below")),
    };
    let delimited = matches!(table.intake.table.format, TableFormat::Delimited { .. });
    Some(if convert.keep_preamble && delimited {
        format!("{said} kept")
    } else if delimited {
        format!("{said} left out (--keep-preamble keeps what stands around it)")
    } else {
        format!("{said} left out")
    })
}

/// What became of a made column.
fn came_of(convert: &args::Convert, own: &MadeProgram, tally: &MadeTally) -> String {
    let mut text = format!("{} made", grouped(tally.made));
    for (count, what) in [(tally.missing, "missing"), (tally.unmade, "not to be made")] {
        if count > 0 {
            let _ = write!(text, ", {} {what}", grouped(count));
        }
    }
    if let Some(path) = convert.rejects.as_ref().filter(|_| tally.unmade > 0) {
        let _ = write!(text, " → {}", shown(path));
    }
    if tally.notes.clamped > 0 {
        let days = counted(tally.notes.clamped, "day");
        let _ = write!(text, "; {days} that a month lacks became its last");
    }
    for note in merged_zones(&tally.notes.merged) {
        let _ = write!(text, "; {note}");
    }
    if own.program.gives() == Type::Text {
        text.push_str("; text for readers, a date no longer");
    }
    text
}

fn counts(convert: &args::Convert, column: &TypedColumn<'_>, tally: &ColumnTally) -> String {
    let Counts { read, missing, placeholder, unreadable, contested, .. } = tally.counts;
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
    if tally.fixed > 0 {
        let _ = write!(text, "; {} as --fixes says", grouped(tally.fixed));
    }
    if tally.leap_seconds > 0 {
        let _ = write!(
            text,
            "; {} read as the next minute",
            counted(tally.leap_seconds, "leap second")
        );
    }
    for note in notes(column, tally) {
        let _ = write!(text, "; {note}");
    }
    text
}

/// What was done to values beside reading them.
fn notes(column: &TypedColumn<'_>, tally: &ColumnTally) -> Vec<String> {
    let reading = column.compiled.reading();
    let mut notes = Vec::new();
    if tally.long_ago > 0 {
        let dates = counted(tally.long_ago, "date");
        notes.push(match (reading.terms.reform, reading.terms.lexicon.calendar()) {
            (None, Calendar::Gregorian) => format!(
                "{dates} before 15 October 1582, counted as if the Gregorian calendar had begun before \
                 (--calendar julian or --reform DATE reads Julian ones)"
            ),
            _ => format!("{dates} before 15 October 1582, written by the Gregorian calendar"),
        });
    }
    notes.extend(clock_notes(column, tally));
    if tally.give_or_take >= 500_000_000 {
        let seconds = (tally.give_or_take + 500_000_000) / 1_000_000_000;
        notes.push(format!("fractions of a day, give or take {seconds} s by their last digit"));
    }
    if tally.cut > 0 {
        notes.push(format!("{} cut off to what was asked for", counted(tally.cut, "value")));
    }
    if let Some(anchor) = reading.anchor.filter(|_| tally.counts.read > 0) {
        let which = anchor.name();
        notes.push(format!("periods are their {which}"));
    }
    if let Some(split) = &reading.split {
        let by = split.column().map_or("rows".to_owned(), plain);
        let orders = tally.by_order.iter();
        let orders: Vec<String> = orders
            .map(|(order, rows)| {
                format!("{} {}", grouped(*rows), phrase(Alternative::from(*order)))
            })
            .collect();
        notes.push(format!("{} by {by}", orders.join(", ")));
    }
    match reading.repair {
        Repair::Swapped => notes.push("day and month exchanged back in every date".to_owned()),
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

/// Where clocks stood, what was decided about the hours that they skipped or repeated, and by which
/// clock the moments are shown.
fn clock_notes(column: &TypedColumn<'_>, tally: &ColumnTally) -> Vec<String> {
    let reading = column.compiled.reading();
    let mut notes = Vec::new();
    match &reading.zoning {
        Some(Zoning::All(clock)) => notes.push(format!("clocks read in {}", current(*clock))),
        Some(Zoning::Parts(split)) => {
            let by = split.column().map_or("rows".to_owned(), plain);
            notes.push(format!("clocks read in the zones said, by {by}"));
        }
        Some(Zoning::Column { name, .. }) => {
            notes.push(format!("zone taken from column {}", plain(name)));
        }
        // A saved zone, of a column that has no clocks this time.
        None if column.source.plan.decisions.clocks.says_where() => {
            notes.push(format!("a {} has no clock, so no zone was needed", reading.kind));
        }
        None => {}
    }
    let changes = reading.terms.changes;
    if tally.skipped > 0 {
        let side = match changes.skipped {
            SkippedClock::After => "after",
            _ => "before",
        };
        let times = counted(tally.skipped, "skipped clock time");
        notes.push(format!("{times} read with the offset {side} the change"));
    }
    if tally.repeated > 0 {
        let times = counted(tally.repeated, "repeated clock time");
        notes.push(match changes.repeated {
            RepeatedClock::First => format!("{times} read as the first of the two"),
            RepeatedClock::Second => format!("{times} read as the second of the two"),
            _ => format!("{times} told apart by the rows around"),
        });
    }
    if reading.kind == Kind::Instant {
        match column.shown {
            (Instants::Utc, _) | (_, None) => {}
            (_, Some(clock)) => notes.push(format!("the same moments shown in {}", current(clock))),
        }
    }
    notes.extend(merged_zones(&tally.merged));
    notes
}

/// The zones for which this zone data has the clocks of another before 1970, one sentence each.
fn merged_zones(merged: &MergedRows) -> impl Iterator<Item = String> {
    merged.iter().map(|(zone, other, rows)| {
        format!(
            "{} before 1970, where this zone data has the clocks of {other} for {zone} (--zone-data system or a \
             folder may have its own)",
            counted(rows, "moment")
        )
    })
}

/// The name of a clock's zone; an old one with that which stands for it now.
fn current(clock: Clock) -> String {
    match clock {
        Clock::Zone(zone) if zone.is_old_name() => {
            format!("{} (now called {})", zone.name(), zone.current_name())
        }
        clock => clock.to_string(),
    }
}
