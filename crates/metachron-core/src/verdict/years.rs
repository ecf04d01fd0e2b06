//! Years that are missing, of another century, or of another calendar.

use jiff::civil::Date;

use super::families::{Family, State};
use super::{Known, Reason};
use crate::apply::repaired;
use crate::calendar::Calendar;
use crate::evidence::{Evidence, Lens};
use crate::moment::{Anchor, Moment};
use crate::reading::{Order, Repair, Years};

/// What is said of values without a year.
pub(super) struct Yearless {
    pub reason: Reason,
    /// The year that the first row may have, where none was said.
    pub suggested: Option<i16>,
}

pub(super) fn yearless(evidence: &Evidence, lens: &Lens, known: &Known) -> Option<Yearless> {
    let rows = evidence.sequences.values().map(|sequence| sequence.rows).sum::<u64>();
    let (_, sequence) = evidence.sequences.first_key_value().filter(|_| rows > 0)?;
    let years = match (&lens.years, known.year) {
        (Some(years), _) => Some(years.clone()),
        (None, year) => year.map(|year| sequence.years(year)),
    };
    if let Some(Years { first, turns, .. }) = years {
        let reason = Reason::YearOfFirst { year: first, turns, open: evidence.open_years };
        return Some(Yearless { reason, suggested: None });
    }
    // The last row lies before today.
    let turned = i16::try_from(sequence.years(0).turns.len()).unwrap_or(0);
    let this_year = known.as_of.year() - turned;
    let later = sequence.ends_after(known.as_of);
    let suggested = Some(if later { this_year - 1 } else { this_year });
    Some(Yearless { reason: Reason::NoYear { rows }, suggested })
}

/// The calendars by which these years lie in the last two hundred, or in the next few.
pub(super) fn calendars_of(first: i16, last: i16, as_of: Date) -> impl Iterator<Item = Calendar> {
    let candidates =
        [Calendar::Buddhist, Calendar::Persian, Calendar::IslamicUmalqura, Calendar::IslamicCivil];
    let usual = as_of.year() - 200..=as_of.year() + 5;
    let lies = move |calendar: &Calendar, year: i16| {
        calendar.to_iso(year.into(), 1, 1).is_some_and(|day| usual.contains(&day.year()))
    };
    candidates.into_iter().filter(move |calendar| lies(calendar, first) && lies(calendar, last))
}

/// Two-digit years that lie after today.
pub(super) fn reaches_past_today(
    evidence: &Evidence,
    families: &[Family<'_>],
    lens: &Lens,
    known: &Known,
) -> Option<Reason> {
    // Days that become years have two digits, too.
    let undone = known.repair == Some(Repair::MonthYear);
    let typed = evidence.typed.values().filter(|_| undone).flat_map(|tally| tally.dates.iter());
    let written = families.iter().filter(|family| undone && family.orders == [Order::Ymd]);
    let made = typed.chain(written.flat_map(|family| family.group.dates.iter())).filter_map(
        |([year, month, day], _)| {
            let date = Date::new(year, i8::try_from(month).ok()?, i8::try_from(day).ok()?).ok()?;
            Some(repaired(Moment::Date(date), Repair::MonthYear, lens.terms.century))
        },
    );
    families
        .iter()
        .filter(|family| family.has_short_years())
        .filter_map(|family| match family.state {
            State::Decided(order) => Some((family, order)),
            _ => None,
        })
        .flat_map(|(family, order)| {
            let tallies = family.group.tallies.values();
            tallies.filter_map(move |tally| tally.spans.get(&order).map(|span| span.1))
        })
        .chain(made)
        .filter(|latest| first_day(*latest).is_some_and(|date| date > known.as_of))
        .max()
        .map(|latest| Reason::Century { latest, as_of: known.as_of })
}

/// The first day of a value that has one.
fn first_day(moment: Moment) -> Option<Date> {
    moment.anchored(Anchor::Start).date()
}
