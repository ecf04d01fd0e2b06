//! Clocks of twelve hours of which nothing says whether they are before or after noon: all hours lie between 1 and 12,
//! and the rows do not go on in time: those around noon are among them, or all steps back are made there.

use crate::layout::Layout;
use crate::typed::Kind;
use crate::verdict::as_written::AsWritten;
use crate::verdict::case::Case;
use crate::verdict::finding::Finding;
use crate::verdict::form::State;
use crate::verdict::found::Found;
use crate::verdict::model::{Settle, Verdict};
use crate::verdict::ruled_out::RuledOut;

/// Any hours of a day all lie there once in two to the power of this many.
const ROWS: u64 = 10;
/// Different hours: whoever always comes at the same few does so before noon or after it.
const HOURS: usize = 5;

/// See the module.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    let is_clock = matches!(case.kind(), Some(Kind::DateTime | Kind::Time));
    let clock = &case.evidence.clock_hours;
    let rows = clock.rows.iter().fold(0_u64, |all, rows| all.saturating_add(*rows));
    let is_twelve = clock.rows[0] == 0 && clock.rows[13..].iter().all(|rows| *rows == 0);
    // Whoever works through the night has midnight too, and whoever works by day has hours before noon alone.
    let around_noon = clock.rows[12] > 0 && clock.rows[1..5].iter().any(|rows| *rows > 0);
    // Of steps back anywhere hardly half would be made at noon.
    let turns_at_noon = clock.back >= ROWS && clock.noon == clock.back;
    let different = clock.rows.iter().filter(|rows| **rows > 0).count();
    let goes_on = clock.steps >= ROWS && clock.back == 0;
    let shows = around_noon || turns_at_noon;
    let tells = is_twelve && shows && rows >= ROWS && different >= HOURS && !goes_on;
    if !is_clock || !case.is_of_layouts() || !tells {
        return Vec::new();
    }
    let layouts: Option<Vec<Layout>> = case.forms.iter().try_fold(Vec::new(), |mut all, form| {
        let State::Decided(own) = form.state else { return None };
        all.extend(form.layouts_of(own).cloned());
        Some(all)
    });
    let ways = layouts.map(|layouts| Settle::AsWritten(AsWritten::HoursOfDay, layouts));
    let finding = Finding::TwelveHours { rows, back: clock.back };
    vec![Found::ask(Verdict::Leaning, finding, ways).or_told(case)]
}

/// Hours that no clock of twelve shows.
pub(super) fn ruled_out(case: &Case<'_>) -> Option<RuledOut> {
    let clock = &case.evidence.clock_hours;
    let rows = clock.rows[0] + clock.rows[13..].iter().sum::<u64>();
    let has_clock = matches!(case.kind(), Some(Kind::DateTime | Kind::Time));
    // Midnight alone is no clock.
    (has_clock && rows > clock.rows[0]).then_some(RuledOut::TwelveHours { rows })
}
