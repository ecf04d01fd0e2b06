//! The marks of an earlier import that took days for months.
//!
//! It turned those values into dates that its order allowed, with day and month exchanged wherever both
//! were possible, and left the others as the text that they were. So hardly a date that it made has a
//! day above 12, and hardly a text that it left has none.

use std::collections::{BTreeMap, BTreeSet};

use jiff::civil::Date;

use super::chance::ln_at_most;
use super::families::Family;
use super::{Known, Reason, Verdict};
use crate::candidates::Style;
use crate::evidence::{Evidence, Fits};
use crate::moment::Kind;
use crate::order::Order;
use crate::reading::Repair;

/// An honest column that looks misread is as improbable as one in ten to the power of that.
const MISREAD: u32 = 6;
/// The share of days above 12, and that of days and months of which both could be a month.
const LATE: f64 = 1.0 - 12.0 * 12.0 / 365.25;
pub(super) const OPEN: f64 = 12.0 * 12.0 / 365.25;

/// Dates and texts of a column by whether they could have been taken otherwise; different ones.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
struct Marks {
    /// Dates that a program has written: cells that are typed, and ISO text.
    dates: u64,
    /// Of these, those with a day above 12.
    late: u64,
    /// Texts in the order of a region.
    texts: u64,
    /// Of these, those without a part above 12.
    open: u64,
    /// Rows that have such a date and a day that could be a month.
    rows: u64,
}

impl Marks {
    /// What a column shows; the kinds are those without an offset, since an offset is not typed by
    /// hand.
    fn of(evidence: &Evidence, families: &[Family<'_>]) -> Marks {
        let mut marks = Marks::default();
        for (_, tally) in evidence.typed.iter().filter(|(kind, _)| is_local(**kind)) {
            let (mut late, mut all) = (0, 0);
            for ([_, _, day], _) in tally.dates.iter() {
                late += u64::from(day > 12);
                all += 1;
            }
            marks.dates += all;
            marks.late += late;
            marks.rows += tally.rows;
        }
        for family in families.iter().filter(|family| family.style == Style::Parted) {
            let group = family.group;
            let local = group.tallies.keys().all(|(_, kind)| is_local(*kind));
            if group.all_digits && family.orders == [Order::Ymd] && local {
                for ([_, _, day], fits) in group.dates.iter() {
                    if fits.fits(Order::Ymd) {
                        marks.dates += 1;
                        marks.late += u64::from(day > 12);
                    }
                }
                marks.rows += group.rows(|fits| fits.fits(Order::Ymd));
            }
            if group.all_digits && family.orders.contains(&Order::Dmy) {
                let open = |fits: Fits| fits.fits(Order::Dmy) && fits.fits(Order::Mdy);
                marks.open += group.dates.count(open);
                marks.texts += group.dates.count(Fits::fits_any);
            }
        }
        marks
    }

    /// Whether there are dates and texts at all.
    fn has_both(self) -> bool {
        self.dates > 0 && self.texts > 0
    }

    /// Whether the column looks as such an import leaves it. Cells that were corrected by hand add
    /// late days to the dates; where the rest is clear enough, they hide nothing.
    fn are_there(self) -> bool {
        let hardly = |part: u64, all: u64| part * 10 <= all;
        let corrected = || self.late * 2 <= self.dates && self.power() >= 2;
        self.has_both()
            && hardly(self.open, self.texts)
            && (hardly(self.late, self.dates) || corrected())
    }

    /// How improbable it is that an honest column looks like this: one in ten to the power of this.
    fn power(self) -> u32 {
        let ln = ln_at_most(self.late, self.dates, LATE) + ln_at_most(self.open, self.texts, OPEN);
        (-ln / std::f64::consts::LN_10).max(0.0) as u32
    }
}

/// What an earlier import has done to the column, or may have done.
pub(super) fn misread(
    evidence: &Evidence,
    families: &[Family<'_>],
    known: &Known,
) -> Option<(Verdict, Reason)> {
    let marks = Marks::of(evidence, families);
    let Marks { dates, late, texts, open, rows } = marks;
    match known.repair {
        Some(Repair::None) => None,
        Some(Repair::HalfSwapped) if marks.has_both() => {
            Some((Verdict::Decided, Reason::Exchanged { rows }))
        }
        Some(Repair::HalfSwapped) => Some((Verdict::Undecided, Reason::NothingToRepair)),
        Some(Repair::MonthYear) if dates > 0 => {
            Some((Verdict::Decided, Reason::YearsFromDays { rows }))
        }
        Some(Repair::MonthYear) => Some((Verdict::Undecided, Reason::NothingToRepair)),
        // Until it is known what the import did, neither half can be trusted.
        None if marks.are_there() => {
            let power = marks.power();
            let verdict = if power >= MISREAD { Verdict::Misread } else { Verdict::Leaning };
            Some((verdict, Reason::HalfSwapped { dates, late, texts, open, power }))
        }
        None => month_year(evidence, families, known.as_of).map(|found| (Verdict::Misread, found)),
    }
}

/// Different texts that are needed, where they show what an import could not take for days.
const TEXTS: usize = 6;

/// Months and years (`Apr-22`) that an import took for days of its own year: all dates lie in one year,
/// and their days are a run of numbers that two-digit years have, each of them in months all over the
/// year. Days of an honest column begin with 1 somewhere, or are not each in so many months.
///
/// Or it left months as text, and just those whose year is no day of theirs.
fn month_year(evidence: &Evidence, families: &[Family<'_>], as_of: Date) -> Option<Reason> {
    let typed = evidence.typed.iter().filter(|(kind, _)| **kind == Kind::Date);
    let written = families.iter().filter(|family| {
        let dates = family.group.tallies.keys().all(|(_, kind)| *kind == Kind::Date);
        family.style == Style::Parted && family.orders == [Order::Ymd] && dates
    });
    let all = typed
        .flat_map(|(_, tally)| tally.dates.iter())
        .chain(written.flat_map(|family| family.group.dates.iter()));
    let mut years: BTreeSet<i16> = BTreeSet::new();
    let mut months: BTreeMap<i16, BTreeSet<i16>> = BTreeMap::new();
    for ([year, month, day], _) in all {
        years.insert(year);
        months.entry(day).or_default().insert(month);
    }
    let (first, last) = (*months.keys().next()?, *months.keys().next_back()?);
    let year = *years.first().filter(|_| years.len() == 1)?;
    let is_run = months.keys().copied().eq(first..=last) && first > 1 && last > first;
    let are_years = last <= as_of.year().rem_euclid(100) + 1;
    let everywhere = months.values().all(|months| months.len() >= 6);
    let texts = left_as_text(families, year);
    let marks = (is_run && are_years && everywhere) || texts.is_some();
    marks.then_some(Reason::MonthYear { year, first, last, texts: texts.unwrap_or(0) })
}

/// Different months with a two-digit year that were left as text, if none of them could be a day of
/// this year.
fn left_as_text(families: &[Family<'_>], year: i16) -> Option<usize> {
    let open = families.iter().filter(|family| family.style == Style::CoarseOpen);
    let texts: BTreeSet<(i16, i16)> = open
        .flat_map(|family| family.group.dates.iter())
        .map(|([_, month, short], _)| (month, short))
        .collect();
    let is_day = |(month, short): &(i16, i16)| {
        let (month, day) = (i8::try_from(*month), i8::try_from(*short));
        month.is_ok_and(|month| day.is_ok_and(|day| Date::new(year, month, day).is_ok()))
    };
    (texts.len() >= TEXTS && !texts.iter().any(is_day)).then_some(texts.len())
}

fn is_local(kind: Kind) -> bool {
    matches!(kind, Kind::Date | Kind::DateTime)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_few_corrected_cells_hide_nothing() {
        let marks = Marks { dates: 5_000, late: 3, texts: 4_000, open: 0, rows: 9_000 };
        assert!(marks.are_there() && marks.power() > 1_000, "{}", marks.power());
    }
}
