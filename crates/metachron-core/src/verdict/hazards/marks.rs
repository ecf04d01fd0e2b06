//! What an import leaves that took days for months: dates that a program has written beside texts that it could
//! not take for dates. A statistic for several hazards.

use crate::candidates::Style;
use crate::evidence::Fits;
use crate::order::Alternative;
use crate::typed::Kind;
use crate::verdict::case::Case;
use crate::verdict::odds::{OPEN, ln_at_most};

/// The share of days above 12.
const LATE: f64 = 1.0 - OPEN;

/// Dates and texts of a column by whether they could have been taken otherwise; different ones.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub(super) struct Marks {
    /// Dates that a program has written: cells that are typed, and ISO text.
    pub dates: u64,
    /// Of these, those with a day above 12.
    pub late: u64,
    /// Texts in the order of a region.
    pub texts: u64,
    /// Of these, those without a part above 12.
    pub open: u64,
    /// Rows that have such a date.
    pub rows: u64,
}

impl Marks {
    /// What a column shows; the kinds are those without an offset, since an offset is not typed by
    /// hand.
    pub(super) fn of(case: &Case<'_>) -> Marks {
        let mut marks = Marks::default();
        let is_local = |kind: &Kind| matches!(kind, Kind::Date | Kind::DateTime);
        for (_, tally) in case.evidence.typed.iter().filter(|(kind, _)| is_local(kind)) {
            marks.dates += tally.dates.iter().count() as u64;
            marks.late += tally.dates.iter().filter(|([_, _, day], _)| *day > 12).count() as u64;
            marks.rows += tally.rows;
        }
        for form in case.forms.iter().filter(|form| form.style() == Style::Parted) {
            let group = form.group;
            let local = group.tallies.keys().all(|(_, kind)| is_local(kind));
            if group.all_digits && form.alternatives == [Alternative::Ymd] && local {
                let iso = |fits: Fits| fits.fits(Alternative::Ymd);
                let dates = group.dates.iter().filter(|(_, fits)| iso(*fits));
                for ([_, _, day], _) in dates {
                    marks.dates += 1;
                    marks.late += u64::from(day > 12);
                }
                marks.rows += group.rows(iso);
            }
            if group.all_digits && form.alternatives.contains(&Alternative::Dmy) {
                let open = |fits: Fits| fits.fits(Alternative::Dmy) && fits.fits(Alternative::Mdy);
                marks.open += group.dates.count(open);
                marks.texts += group.dates.count(Fits::fits_any);
            }
        }
        marks
    }

    /// Whether there are dates and texts at all.
    pub(super) fn has_both(self) -> bool {
        self.dates > 0 && self.texts > 0
    }

    /// Whether the column looks as such an import leaves it. Cells that were corrected by hand add
    /// late days to the dates; where the rest is clear enough, they hide nothing.
    pub(super) fn are_there(self) -> bool {
        let hardly = |part: u64, all: u64| part * 10 <= all;
        let corrected = || self.late * 2 <= self.dates && self.power() >= 2;
        self.has_both()
            && hardly(self.open, self.texts)
            && (hardly(self.late, self.dates) || corrected())
    }

    /// How improbable it is that an honest column looks like this: one in ten to the power of this.
    pub(super) fn power(self) -> u32 {
        let ln = ln_at_most(self.late, self.dates, LATE) + ln_at_most(self.open, self.texts, OPEN);
        (-ln / std::f64::consts::LN_10).max(0.0) as u32
    }
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
