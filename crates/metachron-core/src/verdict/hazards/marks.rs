//! What an import leaves that took days for months: dates that it has written beside texts that it could not take for
//! dates. A statistic for several hazards.
//!
//! The column falls into two sides by any difference that can be seen: the written form, the clock behind the date,
//! zeros before numbers below ten, cells that are typed, numbers that count days.

use std::collections::BTreeSet;

use super::hands::{Hand, by_clock, by_zero};
use crate::candidates::Style;
use crate::evidence::{DaysOfMonth, Fits};
use crate::order::Alternative;
use crate::typed::{Kind, TypedValue};
use crate::verdict::case::Case;
use crate::verdict::form::{JudgedForm, State};
use crate::verdict::odds::{
    BESIDE, CERTAIN, LEAN, SIDE, ln_exchanged, ln_in_time, ln_left, ln_ranks_above, power,
};
use crate::verdict::origins::{all_usual, sheet_epoch};

/// How much likelier harm is beforehand where cells stand beside text: hardly anything else leaves a column so.
const CELLS: f64 = 10.0;
/// What rows, which repeat, must make up for: one side in so many looks so.
const ROWS: f64 = 10.0;
/// How much better dates lie in the time of the texts by chance.
const TIME: f64 = 20.0;
/// Months that are needed before rows by day of the month tell something.
const MONTHS: usize = 4;

/// Dates and texts of a column by whether they could have been taken otherwise; different ones.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub(super) struct Marks {
    /// Dates that an import may have written.
    pub dates: DaysOfMonth,
    /// Texts that it may have left.
    pub texts: DaysOfMonth,
    /// Whether the dates are written as the texts are, in the order of a region.
    pub are_alike: bool,
    /// How much likelier harm is beforehand.
    beforehand: f64,
    /// The logarithm of how likely dates as programs write them are if day and month were exchanged, where they are
    /// honest; none where there are none.
    ln_against: Option<f64>,
    /// The logarithm of how much likelier the dates are if day and month were exchanged.
    ln_dates: f64,
    /// The same of the texts, if they are what was left.
    ln_texts: f64,
    /// How much better the dates lie in the time of the texts once day and month are exchanged.
    ln_time: f64,
}

/// Values that look alike: a part of one side.
#[derive(Debug, Clone, Default)]
struct Look {
    /// The different dates as they are shown: year, month, day.
    dates: Vec<[i16; 3]>,
    days: DaysOfMonth,
    rows: u64,
    /// Rows by day of the month, where they are known.
    by_day: Option<DaysOfMonth>,
    /// Whether they are written in the order of a region, so that an import may have left them.
    is_regional: bool,
}

impl Look {
    fn new(dates: Vec<[i16; 3]>, rows: u64) -> Look {
        let days = dates.iter().map(|[.., day]| *day).collect();
        Look { dates, days, rows, ..Look::default() }
    }

    /// How much better it fits a side than honest dates: as dates that an import has written.
    fn as_dates(&self) -> f64 {
        self.fits(ln_exchanged, ln_ranks_above)
    }

    /// As texts that it has left.
    fn as_texts(&self) -> f64 {
        match self.is_regional {
            true => self.fits(ln_left, |early, late| ln_ranks_above(late, early)),
            false => f64::NEG_INFINITY,
        }
    }

    /// By its different dates; where dates repeat so often that all of them occur on either side, also by its rows: as
    /// many as there are different dates, and whether early days of the month or late ones have more of them.
    fn fits(
        &self,
        ln: impl Fn(&DaysOfMonth) -> f64,
        ln_ranks: impl Fn(&[u64], &[u64]) -> f64,
    ) -> f64 {
        let different = ln(&self.days);
        let Some(rows) = self.by_day.as_ref().filter(|_| self.is_dense()) else {
            return different;
        };
        let by_rows = ln(&rows.shared_out(self.dates.len() as u64));
        let months: BTreeSet<[i16; 2]> =
            self.dates.iter().map(|[year, month, _]| [*year, *month]).collect();
        // Days of a single month stand together, whoever wrote them.
        let ranks = match months.len() {
            MONTHS.. => -ln_ranks(&rows.by_day()[..12], &rows.by_day()[12..28]),
            _ => f64::NEG_INFINITY,
        };
        different.max(by_rows.max(ranks) - ROWS.ln())
    }

    /// Whether dates repeat so often that hardly one of them is missing.
    fn is_dense(&self) -> bool {
        self.rows >= 2 * self.dates.len() as u64
    }

    /// The months of its dates; with day and month exchanged where that is possible, or as they are shown.
    fn months(&self, exchanged: bool) -> impl Iterator<Item = i32> {
        self.dates.iter().map(move |[year, month, day]| {
            let month = if exchanged && *day <= 12 { day } else { month };
            i32::from(*year) * 12 + i32::from(*month)
        })
    }
}

/// A look, and how much better it fits either side than honest dates.
struct Weighed {
    look: Look,
    as_dates: f64,
    as_texts: f64,
}

impl From<Look> for Weighed {
    fn from(look: Look) -> Weighed {
        Weighed { as_dates: look.as_dates(), as_texts: look.as_texts(), look }
    }
}

impl Weighed {
    fn best(&self) -> f64 {
        self.as_dates.max(self.as_texts).max(0.0)
    }
}

/// How much likelier harm is beforehand by what the import did to the rest of the table.
fn beforehand(case: &Case<'_>) -> f64 {
    match &case.asserted.harmed_beside {
        Some(beside) if beside.is_certain => BESIDE,
        Some(_) => SIDE,
        None => 1.0,
    }
}

/// What is less improbable is not told as ruled out: a power of ten.
pub(super) const TOLD: u32 = 2;

impl Marks {
    /// What a column shows; the kinds are those without an offset, since an offset is not typed by
    /// hand.
    pub(super) fn of(case: &Case<'_>) -> Marks {
        let mut looks: Vec<Weighed> = typed(case).chain(counted(case)).map(Weighed::from).collect();
        for form in &case.forms {
            looks.extend(looks_of(case, form));
        }
        let mut marks = Marks::default();
        let (mut dates, mut texts) = (Vec::new(), Vec::new());
        for Weighed { look, as_dates, as_texts } in &looks {
            let (as_dates, as_texts) = (*as_dates, *as_texts);
            // Without any lead, what regions write is text, and what programs write is dates.
            let are_dates =
                if look.is_regional { as_dates > as_texts.max(0.0) } else { as_dates > 0.0 };
            if are_dates {
                marks.ln_dates += as_dates;
                dates.push(look);
            } else if as_texts > 0.0 {
                marks.ln_texts += as_texts;
                texts.push(look);
            }
        }
        let days = |looks: &[&Look]| looks.iter().map(|look| look.days).sum::<DaysOfMonth>();
        let alike: u64 =
            dates.iter().filter(|look| look.is_regional).map(|look| look.days.all()).sum();
        marks.dates = days(&dates);
        marks.texts = days(&texts);
        marks.are_alike = alike * 2 > marks.dates.all();
        let are_cells = typed(case).any(|look| look.days.all() > 0);
        marks.beforehand = if are_cells { CELLS } else { 1.0 } * beforehand(case);
        let by_programs = |own: &&Weighed| !own.look.is_regional && own.look.days.all() > 0;
        let by_programs = looks.iter().filter(by_programs);
        marks.ln_against = by_programs.map(|own| own.as_dates).reduce(|a, b| a + b);
        marks.ln_time = in_time(&dates, &texts);
        marks
    }

    /// Whether the column looks as such an import leaves it.
    pub(super) fn are_there(&self) -> bool {
        self.ln_dates > 0.0 && self.ln_texts > 0.0 && self.ln() >= (LEAN / self.beforehand).ln()
    }

    /// Whether it is beyond doubt that one did.
    pub(super) fn are_certain(&self) -> bool {
        let dates = self.ln_dates + self.ln_time.max(0.0);
        dates >= SIDE.ln() && self.ln_texts >= SIDE.ln() && self.ln() >= CERTAIN.ln()
    }

    /// An honest column looks so once in how many, as a power of ten.
    pub(super) fn power(&self) -> u32 {
        power(-self.ln())
    }

    /// An import that exchanged day and month leaves such dates once in how many, as a power of ten; none where that is
    /// not improbable.
    pub(super) fn power_against(&self) -> Option<u32> {
        self.ln_against.map(power).filter(|power| *power >= TOLD)
    }

    fn ln(&self) -> f64 {
        self.ln_dates + self.ln_texts + self.ln_time
    }
}

/// The different dates (year, month, day) of a column that nothing else leaves open.
pub(super) fn dates_shown(case: &Case<'_>) -> BTreeSet<[i16; 3]> {
    dates_of(case, |form| matches!(form.state, State::Decided(_)))
}

/// The different dates of a column as it is read: also those that only given layouts tell.
pub(super) fn dates_read(case: &Case<'_>) -> BTreeSet<[i16; 3]> {
    dates_of(case, |form| case.order_of(form).is_some())
}

/// The different dates of typed cells, and of these forms.
fn dates_of(case: &Case<'_>, is_read: impl Fn(&JudgedForm<'_>) -> bool) -> BTreeSet<[i16; 3]> {
    // Whoever has said the order of a region has looked at its dates.
    let is_said = |form: &JudgedForm<'_>| case.asserted.order.is_some() && is_regional(form);
    let forms = case.forms.iter().filter(|form| is_read(form) && !is_said(form));
    let forms = forms.filter(|form| has_days(form)).map(|form| whole(case, form));
    typed(case).chain(forms).flat_map(|look| look.dates).collect()
}

/// The different dates (year, month, day) of each part of the column that programs have written: typed cells by their
/// kind, and forms that no region writes.
pub(super) fn dates_by_programs(case: &Case<'_>) -> Vec<Vec<[i16; 3]>> {
    let forms = case.forms.iter().filter(|form| has_days(form) && !is_regional(form));
    let forms = forms.filter(|form| matches!(form.state, State::Decided(_)));
    let looks = typed(case).chain(forms.map(|form| whole(case, form)));
    looks.map(|look| look.dates).filter(|dates| !dates.is_empty()).collect()
}

/// How much better the dates lie in the time of the texts once day and month are exchanged.
fn in_time(dates: &[&Look], texts: &[&Look]) -> f64 {
    let months = |looks: &[&Look], exchanged: bool| -> Vec<i32> {
        looks.iter().flat_map(|look| look.months(exchanged)).collect()
    };
    let (shown, exchanged) = (months(dates, false), months(dates, true));
    let texts = months(texts, false);
    let all = || shown.iter().chain(&exchanged).chain(&texts);
    let (Some(first), Some(last)) = (all().min(), all().max()) else { return 0.0 };
    let within = f64::from(last - first + 1);
    let ln = ln_in_time(&exchanged, &texts, within) - ln_in_time(&shown, &texts, within);
    // A little better or worse says nothing where dates are few.
    ln.signum() * (ln.abs() - TIME.ln()).max(0.0)
}

fn is_local(kind: &Kind) -> bool {
    matches!(kind, Kind::Date | Kind::DateTime)
}

/// Rows of dates as programs write them, whatever was done to them, and rows of texts as regions do.
pub(super) fn by_programs_and_regions(case: &Case<'_>) -> (u64, u64) {
    let typed = case.evidence.typed.iter().filter(|(kind, _)| is_local(kind));
    let typed: u64 = typed.map(|(_, tally)| tally.rows).sum();
    let forms = case.forms.iter().filter(|form| has_days(form));
    let (texts, dates): (Vec<_>, Vec<_>) = forms.partition(|form| is_regional(form));
    let rows = |forms: Vec<&JudgedForm<'_>>| forms.into_iter().map(JudgedForm::rows).sum::<u64>();
    (typed + rows(dates), rows(texts))
}

fn typed<'c>(case: &'c Case<'_>) -> impl Iterator<Item = Look> + 'c {
    let typed = case.evidence.typed.iter().filter(|(kind, _)| is_local(kind));
    typed.map(|(_, tally)| Look {
        by_day: Some(tally.days),
        ..Look::new(tally.dates.iter().map(|(date, _)| date).collect(), tally.rows)
    })
}

/// Numbers that count days, as somebody said or as a spreadsheet would.
fn counted(case: &Case<'_>) -> Option<Look> {
    let numbers = &case.evidence.numbers;
    let said = case.options.serials.map(|serials| serials.epoch);
    let epoch = said.or_else(|| sheet_epoch(case.asserted.own_epoch))?;
    let date = |own: TypedValue| match own {
        TypedValue::Date(day) => Some([day.year(), day.month().into(), day.day().into()]),
        _ => None,
    };
    let read = all_usual(numbers, epoch, case.asserted.as_of)?;
    let dates = read.into_iter().map(date).collect::<Option<Vec<_>>>();
    dates.filter(|_| numbers.fractions == 0).map(|dates| Look::new(dates, numbers.rows))
}

/// Whether a form is written as regions write, day and month in either order.
fn is_regional(form: &JudgedForm<'_>) -> bool {
    let has = |order| form.alternatives.contains(&order);
    // Digits alone, the year first, are what programs write.
    let by_programs = matches!(form.style(), Style::Digits | Style::DigitsClock)
        && form.state == State::Decided(Alternative::Ymd);
    form.group.all_digits && has(Alternative::Dmy) && has(Alternative::Mdy) && !by_programs
}

/// Whether the values of a form are days without an offset, and not by chance.
fn has_days(form: &JudgedForm<'_>) -> bool {
    matches!(form.style(), Style::Parted | Style::Digits | Style::DigitsClock | Style::Machine)
        && form.group.tallies.keys().all(|(_, kind)| is_local(kind))
}

/// The values of a form, by what best tells two hands apart in it.
fn looks_of(case: &Case<'_>, form: &JudgedForm<'_>) -> Vec<Weighed> {
    if !has_days(form) {
        return Vec::new();
    }
    let whole = whole(case, form);
    if !whole.is_regional {
        return vec![whole.into()];
    }
    let order = order_shown(case, form);
    let of_hand = |hand: &Hand<'_>| {
        let look = Look::new(shown_by(case, form, hand.dates()), hand.count(Fits::fits_any));
        let is_own = |own, padding| own == order && hand.paddings.contains(&padding);
        let by_day = (!hand.paddings.is_empty()).then(|| form.group.days(is_own));
        // Of each way to pad equally many dates are kept, however many it has.
        let days = match by_day {
            Some(rows) if !hand.is_exact() => rows.shared_out(look.dates.len() as u64),
            _ => look.days,
        };
        Weighed::from(Look { days, by_day, is_regional: true, ..look })
    };
    let looks = |hands: Vec<Hand<'_>>| hands.iter().map(of_hand).collect::<Vec<Weighed>>();
    // What a program writes looks like it: neither another column nor another file does that. Zeros before the month
    // are the same for all of its days.
    let [_, month, _] = order.places();
    let by_look = [by_clock(case, form.form), by_zero(case, form.form, month)].map(looks);
    let divisions = std::iter::once(vec![whole.into()]).chain(by_look);
    let sum = |looks: &Vec<Weighed>| looks.iter().map(Weighed::best).sum::<f64>();
    divisions.max_by(|a, b| sum(a).total_cmp(&sum(b))).unwrap_or_default()
}

/// All values of a form.
fn whole(case: &Case<'_>, form: &JudgedForm<'_>) -> Look {
    let order = order_shown(case, form);
    Look {
        by_day: Some(form.group.days(|own, _| own == order)),
        is_regional: is_regional(form),
        ..Look::new(shown_by(case, form, form.group.dates.iter()), form.rows())
    }
}

/// The order by which the values of a form are shown.
fn order_shown(case: &Case<'_>, form: &JudgedForm<'_>) -> Alternative {
    case.order_of(form).unwrap_or_else(|| match form.state {
        State::Leaning(order) => order,
        _ => form.in_play.first().copied().unwrap_or(Alternative::Only),
    })
}

/// Different dates as the order of their form takes them: year, month, day; those that it does not fit, as one that
/// does.
fn shown_by(
    case: &Case<'_>,
    form: &JudgedForm<'_>,
    dates: impl Iterator<Item = ([i16; 3], Fits)>,
) -> Vec<[i16; 3]> {
    let order = order_shown(case, form);
    let century = Some(case.options.terms.century).filter(|_| form.has_short_years());
    let shown = |(written, fits): ([i16; 3], Fits)| {
        let mut orders = [order, Alternative::Dmy, Alternative::Mdy].into_iter();
        let [day, month, year] = orders.find(|own| fits.fits(*own))?.places().map(|at| written[at]);
        Some([century.map_or(year, |century| century.place(year)), month, day])
    };
    dates.filter_map(shown).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_few_corrected_cells_hide_nothing() {
        let dates: DaysOfMonth =
            (0..5_000).map(|at| if at < 3 { 20 } else { at % 12 + 1 }).collect();
        let texts: DaysOfMonth = (0..4_000).map(|at| at % 18 + 13).collect();
        assert!(ln_exchanged(&dates) > CERTAIN.ln() && ln_left(&texts) > CERTAIN.ln());
    }
}
