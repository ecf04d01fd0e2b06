//! Numbers that count from some origin, or may.

use jiff::civil::Date;

use crate::candidates::Style;
use crate::epoch::Number;
use crate::evidence::Fits;
use crate::order::Order;
use crate::typed::Kind;
use crate::verdict::as_written::PlainKind;
use crate::verdict::case::{Case, Subject};
use crate::verdict::finding::NumberFinding;
use crate::verdict::form::{JudgedForm, State};
use crate::verdict::found::Found;
use crate::verdict::model::{Settle, Verdict};
use crate::verdict::origins::{CountingNumbers, all_usual, counting_numbers, sheet_epoch};
use crate::verdict::plain_numbers::{PlainNumbers, are_among_years};

/// A column of numbers that may count days or seconds from some origin: which, only a person knows.
pub(super) fn may_count(case: &Case<'_>) -> Vec<Found> {
    let Subject::Numbers(counting) = &case.subject else { return Vec::new() };
    let CountingNumbers { plain, origins, clocks, is_own, .. } = counting;
    let (rows, zeros) = counting.rows(&case.evidence.numbers);
    let epochs = origins.iter().map(|origin| Settle::Epoch(origin.epoch));
    // What they may be as they stand is a rival of every origin, and what lies where years do may be a year.
    if plain.is_some() || are_among_years(&case.evidence.numbers) {
        let what = plain.map(|own| own.what);
        let finding = NumberFinding::MayBe { rows, what, may_count: !origins.is_empty() };
        let way = plain.and_then(PlainNumbers::way);
        let verdict = match plain {
            Some(own) if own.is_likely => Verdict::Leaning,
            _ => Verdict::Undecided,
        };
        return vec![Found::ask(verdict, finding, way.into_iter().chain(epochs))];
    }
    let finding = NumberFinding::MayCount {
        rows,
        zeros,
        clocks: *clocks,
        by_name: case.asserted.speaks_of_dates,
        own: *is_own,
    };
    let verdict = if origins.len() == 1 { Verdict::Leaning } else { Verdict::Undecided };
    vec![Found::ask(verdict, finding, epochs)]
}

/// Numbers of five digits that are dates in digits, `22003`, and may as well count days, where the name of the column
/// speaks of dates, or where years of two digits are still to come: the last digits of numbers that count are any.
pub(super) fn digits_or_counts(case: &Case<'_>) -> Vec<Found> {
    let numbers = &case.evidence.numbers;
    let (least, most) = (Number::from(10_000), Number::from(99_999));
    let have_five =
        numbers.span.is_some_and(|(first, last)| !first.is_below(least) && !most.is_below(last));
    let are_digits = !case.forms.is_empty()
        && case.forms.iter().all(|form| form.style() == Style::DigitsShortYear);
    let is_said = case.options.serials.is_some() || case.asserted.kind.is_some();
    if !case.order_is_inferred() || is_said || !have_five || !are_digits {
        return Vec::new();
    }
    let speaks = case.asserted.speaks_of_dates
        || case.forms.iter().any(|form| reaches_to_come(form, case.asserted.as_of));
    let counting = counting_numbers(case.evidence, case.asserted, case.values(), speaks);
    let Some(CountingNumbers { origins, .. }) = counting else { return Vec::new() };
    let orders = case.forms.iter().filter_map(|form| match form.state {
        State::Decided(own) => Some(Settle::Order(Order::try_from(own).ok()?, 0)),
        _ => None,
    });
    let ways = orders.chain(origins.iter().map(|origin| Settle::Epoch(origin.epoch)));
    let finding = NumberFinding::DigitsOrCounts { rows: numbers.rows };
    vec![Found::ask(Verdict::Undecided, finding, ways)]
}

/// Of days without one after the twelfth, once in a thousand times are so many all honest.
const EARLY_DAYS: u64 = 8;

/// Dates in digits with years of two digits, `201105`, that may be a year and its month or week: `200101` to `201212` are
/// all days of 2020 as well.
pub(super) fn digits_or_periods(case: &Case<'_>) -> Vec<Found> {
    let is_said = case.asserted.kind.is_some() || !case.asserted.answers.is_empty();
    let [form] = &case.forms[..] else { return Vec::new() };
    if !case.order_is_inferred() || is_said || form.style() != Style::DigitsShortYear {
        return Vec::new();
    }
    let dates = form.group.dates.count(Fits::fits_any);
    let plain = PlainNumbers::of(case.evidence, case.asserted)
        .filter(|own| matches!(own.what, PlainKind::CompactMonths | PlainKind::CompactWeeks))
        .filter(|own| own.is_likely || form.state.is_open() || dates >= EARLY_DAYS);
    let Some(plain) = plain else { return Vec::new() };
    let rows = case.evidence.numbers.rows;
    let finding = NumberFinding::MayBe { rows, what: Some(plain.what), may_count: false };
    let verdict = if plain.is_likely { Verdict::Leaning } else { Verdict::Undecided };
    let as_dates = match form.state {
        State::Decided(own) => Order::try_from(own).ok().map(|order| Settle::Order(order, 0)),
        _ => None,
    };
    vec![Found::ask(verdict, finding, plain.way().into_iter().chain(as_dates))]
}

/// Whether a date of a form with years of two digits lies in a year that is still to come in this century.
fn reaches_to_come(form: &JudgedForm<'_>, as_of: Date) -> bool {
    form.alternatives.iter().any(|order| {
        let [.., year] = order.places();
        form.group.dates.iter().any(|(written, fits)| {
            fits.fits(*order) && written[year] > as_of.year().rem_euclid(100)
        })
    })
}

/// Numbers that are counted as somebody said, or as a column beside them shows; and those that cannot be.
pub(super) fn counted(case: &Case<'_>) -> Vec<Found> {
    let Some(serials) = case.options.serials.filter(|_| case.is_of_forms()) else {
        return Vec::new();
    };
    let (epoch, given) = (serials.epoch, &case.evidence.given);
    let rows = given.read.values().sum();
    let beside = case.asserted.counted_beside.clone();
    let mut found = vec![Found::note(match beside {
        Some(beside) => NumberFinding::CountedBeside { epoch, rows, beside },
        None => NumberFinding::Counted { epoch, rows },
    })];
    let numbers = &case.evidence.numbers;
    let is_below_one = numbers.span.is_some_and(|(_, largest)| largest.is_below(Number::ONE));
    if is_below_one && epoch.is_of_sheets() && case.asserted.kind.is_none() {
        let finding = NumberFinding::BelowOne { rows: numbers.rows, epoch };
        found.push(Found::ask(Verdict::Undecided, finding, [Settle::Kind(Kind::Time)]));
    }
    if given.unfit.rows > 0 {
        let rows = given.unfit.clone();
        found.push(Found::note(NumberFinding::NotCounted { epoch, rows }));
    }
    found
}

/// Numbers among the values of a column that holds dates otherwise, and what a spreadsheet would take
/// them for: an import may have left them.
pub(super) fn beside_dates(case: &Case<'_>) -> Vec<Found> {
    // Digits alone that are dates in digits count nothing.
    let are_digits = case.forms.iter().any(|form| {
        matches!(form.style(), Style::Digits | Style::DigitsShortYear | Style::DigitsClock)
    });
    if !case.is_of_forms() || case.options.serials.is_some() || are_digits {
        return Vec::new();
    }
    left_by_a_sheet(case).map(Found::note).into_iter().collect()
}

fn left_by_a_sheet(case: &Case<'_>) -> Option<NumberFinding> {
    let epoch = sheet_epoch(case.asserted.own_epoch)?;
    let numbers = &case.evidence.numbers;
    let read = all_usual(numbers, epoch, case.asserted.as_of)?;
    let (earliest, latest) = (*read.iter().min()?, *read.iter().max()?);
    Some(NumberFinding::NumbersBeside { rows: numbers.rows, epoch, earliest, latest })
}
