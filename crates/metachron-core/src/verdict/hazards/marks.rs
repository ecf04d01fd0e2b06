//! What an import leaves that took days for months: dates that it has written beside texts that it could not take for
//! dates. A statistic for several hazards.
//!
//! The column falls into two sides by any difference that can be seen: the written form, the clock behind the date,
//! zeros before numbers below ten, cells that are typed, numbers that count days.

use std::collections::{BTreeMap, BTreeSet};

use crate::candidates::{Form, Style};
use crate::evidence::{Beside, DistinctDates, Fits, Padding, RowsByDay, Zero};
use crate::order::Alternative;
use crate::reading::Century;
use crate::typed::{Kind, TypedValue};
use crate::verdict::case::Case;
use crate::verdict::form::{JudgedForm, State};
use crate::verdict::odds::{
    DaysOfMonth, LN_CERTAIN, LN_LEAN, LN_SIDE, ln_in_time, ln_ranks_above, places,
};

/// What ranks must make up for: one side in so many looks so.
const LN_RANKS: f64 = std::f64::consts::LN_10; // 10 to 1
/// Months that are needed before rows by day of the month tell something.
const MONTHS: usize = 4;

/// Dates and texts of a column by whether they could have been taken otherwise; different ones.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub(super) struct Marks {
    /// Dates that an import may have written.
    pub dates: DaysOfMonth,
    /// Texts that it may have left.
    pub texts: DaysOfMonth,
    /// Rows of such dates.
    pub rows: u64,
    /// Whether the dates are written as the texts are, in the order of a region.
    pub are_alike: bool,
    /// The logarithm of how much likelier the dates are if day and month were exchanged.
    ln_dates: f64,
    /// The same of the texts, if they are what was left.
    ln_texts: f64,
}

/// Values that look alike: a part of one side.
#[derive(Debug, Clone, Default)]
struct Look {
    /// The different dates as they are shown: year, month, day.
    dates: Vec<[i16; 3]>,
    days: DaysOfMonth,
    rows: u64,
    /// Rows by day of the month, where they are known.
    by_day: Option<RowsByDay>,
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
        self.days.ln_exchanged().max(self.ranks(|early, late| (early, late)))
    }

    /// As texts that it has left.
    fn as_texts(&self) -> f64 {
        match self.is_regional {
            true => self.days.ln_left().max(self.ranks(|early, late| (late, early))),
            false => f64::NEG_INFINITY,
        }
    }

    /// Where every date occurs on both sides, the rows still show which of them has more of the early days.
    fn ranks(&self, above: impl Fn(Vec<u64>, Vec<u64>) -> (Vec<u64>, Vec<u64>)) -> f64 {
        let months: BTreeSet<[i16; 2]> =
            self.dates.iter().map(|[year, month, _]| [*year, *month]).collect();
        match &self.by_day {
            // Days of a single month stand together, whoever wrote them.
            Some(rows) if months.len() >= MONTHS => {
                let (early, late) = (&rows.by_day()[..12], &rows.by_day()[12..28]);
                let (first, second) = above(early.to_vec(), late.to_vec());
                -ln_ranks_above(&first, &second) - LN_RANKS
            }
            _ => f64::NEG_INFINITY,
        }
    }

    fn best(&self) -> f64 {
        self.as_dates().max(self.as_texts()).max(0.0)
    }

    /// The months of its dates; with day and month exchanged where that is possible, or as they are shown.
    fn months(&self, exchanged: bool) -> impl Iterator<Item = i32> {
        self.dates.iter().map(move |[year, month, day]| {
            let month = if exchanged && *day <= 12 { day } else { month };
            i32::from(*year) * 12 + i32::from(*month)
        })
    }
}

impl Marks {
    /// What a column shows; the kinds are those without an offset, since an offset is not typed by
    /// hand.
    pub(super) fn of(case: &Case<'_>) -> Marks {
        let mut looks: Vec<Look> = typed(case).chain(counted(case)).collect();
        for form in &case.forms {
            looks.extend(looks_of(case, form));
        }
        let mut marks = Marks::default();
        let mut alike = DaysOfMonth::default();
        let (mut dates, mut texts) = (Vec::new(), Vec::new());
        for look in &looks {
            let (as_dates, as_texts) = (look.as_dates(), look.as_texts());
            // Without any lead, what regions write is text, and what programs write is dates.
            let are_dates =
                if look.is_regional { as_dates > as_texts.max(0.0) } else { as_dates > 0.0 };
            if are_dates {
                marks.ln_dates += as_dates;
                marks.dates = marks.dates.and(&look.days);
                marks.rows += look.rows;
                dates.push(look);
                if look.is_regional {
                    alike = alike.and(&look.days);
                }
            } else if as_texts > 0.0 {
                marks.ln_texts += as_texts;
                marks.texts = marks.texts.and(&look.days);
                texts.push(look);
            }
        }
        marks.ln_dates += in_time(&dates, &texts);
        Marks { are_alike: alike.all() * 2 > marks.dates.all(), ..marks }
    }

    /// Whether the column looks as such an import leaves it.
    pub(super) fn are_there(&self) -> bool {
        self.ln_dates > 0.0 && self.ln_texts > 0.0 && self.ln_dates + self.ln_texts >= LN_LEAN
    }

    /// Whether it is beyond doubt that one did.
    pub(super) fn are_certain(&self) -> bool {
        let (dates, texts) = (self.ln_dates, self.ln_texts);
        dates >= LN_SIDE && texts >= LN_SIDE && dates + texts >= LN_CERTAIN
    }

    /// How much likelier the column is so if an import did it: ten to the power of this.
    pub(super) fn power(&self) -> u32 {
        ((self.ln_dates + self.ln_texts) / std::f64::consts::LN_10).max(0.0) as u32
    }
}

/// The different dates of a column that nothing else leaves open: year, month, day.
pub(super) fn dates_shown(case: &Case<'_>) -> Vec<[i16; 3]> {
    // Whoever has said the order of a region has looked at its dates.
    let is_open = |form: &&JudgedForm<'_>| {
        !matches!(form.state, State::Decided(_)) || (case.asked && is_regional(form))
    };
    let forms = case.forms.iter().filter(|form| !is_open(form));
    let forms = forms.flat_map(|form| looks_of(case, form));
    typed(case).chain(forms).flat_map(|look| look.dates).collect()
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
    ln_in_time(&exchanged, &texts, within) - ln_in_time(&shown, &texts, within)
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

/// Numbers that a spreadsheet would show as dates of our time.
fn counted(case: &Case<'_>) -> Option<Look> {
    let numbers = &case.evidence.numbers;
    let said = case.options.serials.map(|serials| serials.epoch);
    let epoch = said.or(case.asserted.own_epoch).or_else(|| "sheet-1900".parse().ok())?;
    let read = |number| match epoch.read(number) {
        Ok(own @ TypedValue::Date(day)) if epoch.is_usual(own, case.asserted.as_of) => {
            Some([day.year(), day.month().into(), day.day().into()])
        }
        _ => None,
    };
    let whole = numbers.fractions == 0;
    let dates = whole.then(|| numbers.sample().map(read).collect::<Option<Vec<_>>>())??;
    Some(Look::new(dates, numbers.rows))
}

/// Whether a form is written as regions write, day and month in either order.
fn is_regional(form: &JudgedForm<'_>) -> bool {
    let has = |order| form.alternatives.contains(&order);
    form.group.all_digits && has(Alternative::Dmy) && has(Alternative::Mdy)
        // Digits alone, the year first, are what programs write.
        && !(form.style() == Style::Digits && form.state == State::Decided(Alternative::Ymd))
}

/// Whether the values of a form are days without an offset, and not by chance.
fn has_days(form: &JudgedForm<'_>) -> bool {
    matches!(form.style(), Style::Parted | Style::Digits | Style::DigitsClock | Style::Machine)
        && form.group.tallies.keys().all(|(_, kind)| is_local(kind))
}

/// The values of a form, by what best tells two hands apart in it.
fn looks_of(case: &Case<'_>, form: &JudgedForm<'_>) -> Vec<Look> {
    if !has_days(form) {
        return Vec::new();
    }
    let order = match form.state {
        State::Decided(order) | State::Leaning(order) => order,
        _ => form.in_play.first().copied().unwrap_or(Alternative::Only),
    };
    let century = Some(case.options.terms.century).filter(|_| form.has_short_years());
    let dates = |dates: &DistinctDates| shown(dates, order, century);
    let by_day = form.group.days.get(&order).copied();
    let is_regional = is_regional(form);
    let whole = Look::new(dates(&form.group.dates), form.rows());
    let whole = vec![Look { by_day, is_regional, ..whole }];
    if !is_regional {
        return whole;
    }
    let of_hand = |hand: Vec<&Beside>| {
        let rows = hand.iter().map(|own| own.count(Fits::fits_any)).sum();
        let dates = hand.iter().flat_map(|own| dates(&own.dates)).collect();
        Look { is_regional, ..Look::new(dates, rows) }
    };
    let clues = &case.evidence.clues;
    let clocks = clues.clocks.values().filter_map(|forms| Some(vec![forms.get(form.form)?]));
    let hands = hands(&clues.paddings, form.form).into_iter();
    let divisions: [Vec<Look>; 3] =
        [whole, clocks.map(of_hand).collect(), hands.map(of_hand).collect()];
    let sum = |looks: &Vec<Look>| looks.iter().map(Look::best).sum::<f64>();
    divisions.into_iter().max_by(|a, b| sum(a).total_cmp(&sum(b))).unwrap_or_default()
}

/// Different dates as an order takes them: year, month, day; those that it does not fit, as one that does.
fn shown(dates: &DistinctDates, order: Alternative, century: Option<Century>) -> Vec<[i16; 3]> {
    let shown = |(written, fits): ([i16; 3], Fits)| {
        let mut orders = [order, Alternative::Dmy, Alternative::Mdy].into_iter();
        let [day, month, year] = places(orders.find(|own| fits.fits(*own))?).map(|at| written[at]);
        Some([century.map_or(year, |century| century.place(year)), month, day])
    };
    dates.iter().filter_map(shown).collect()
}

/// The hands that differ in whether they put a zero before the same number. Whoever always writes `03/4/2024` is
/// one hand.
fn hands<'b>(
    paddings: &'b BTreeMap<Padding, BTreeMap<Form, Beside>>,
    form: &Form,
) -> Vec<Vec<&'b Beside>> {
    let own = || paddings.iter().filter_map(|(padding, forms)| Some((padding, forms.get(form)?)));
    let both = |at: usize| {
        let has = |zero: Zero| own().any(|(Padding(zeros), _)| zeros[at] == zero);
        has(Zero::There) && has(Zero::Absent)
    };
    let differ: Vec<usize> = [0, 1].into_iter().filter(|at| both(*at)).collect();
    let mut hands: BTreeMap<Zero, Vec<&Beside>> = BTreeMap::new();
    for (Padding(zeros), beside) in own() {
        let zero = differ.iter().map(|at| zeros[*at]).min().unwrap_or(Zero::NotNeeded);
        hands.entry(zero).or_default().push(beside);
    }
    hands.into_values().collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_few_corrected_cells_hide_nothing() {
        let dates: DaysOfMonth =
            (0..5_000).map(|at| if at < 3 { 20 } else { at % 12 + 1 }).collect();
        let texts: DaysOfMonth = (0..4_000).map(|at| at % 18 + 13).collect();
        assert!(dates.ln_exchanged() > LN_CERTAIN && texts.ln_left() > LN_CERTAIN);
    }
}
