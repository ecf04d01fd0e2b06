//! A column that holds no dates, and why.

use crate::evidence::{Evidence, Fits};
use crate::verdict::case::{Case, Subject, may_be_chance};
use crate::verdict::finding::{Finding, NumberFinding};
use crate::verdict::found::Found;
use crate::verdict::plain_numbers::{fraction_of_nothing, run_on_as_years};

/// Why it holds none.
pub(super) fn look(case: &Case<'_>) -> Vec<Found> {
    let Subject::None = case.subject else { return Vec::new() };
    let (fit, values) = (case.fit(), case.values());
    let finding = match (case.evidence.rows, values) {
        _ if !case.options.layouts.is_empty() => Finding::NotDates { fit: 0, values },
        (0, _) => Finding::NoRows,
        (_, 0) => Finding::AllMissing,
        _ => match by_chance(case.evidence) {
            Some((rows, dates)) if rows * 2 >= values => Finding::ByChance { rows, dates },
            other => Finding::NotDates { fit: fit + other.map_or(0, |(rows, _)| rows), values },
        },
    };
    let years = case.options.layouts.is_empty().then(|| years(case)).flatten();
    vec![Found::note(years.unwrap_or(finding))]
}

/// Whole numbers that run on as years do.
fn years(case: &Case<'_>) -> Option<Finding> {
    let numbers = &case.evidence.numbers;
    let (first, last) = run_on_as_years(numbers).filter(|_| numbers.rows == case.values())?;
    let nothing = fraction_of_nothing(case.evidence);
    Some(NumberFinding::Years { rows: numbers.rows, first, last, nothing }.into())
}

/// Numbers that are dates, but may be so by chance, and how many are different.
fn by_chance(evidence: &Evidence) -> Option<(u64, u64)> {
    let chance = evidence.groups.iter().filter(|(form, group)| may_be_chance(form, group));
    let (mut rows, mut dates) = (0, 0);
    for (_, group) in chance {
        rows += group.rows(Fits::fits_any);
        dates += group.dates.count(Fits::fits_any);
    }
    (rows > 0).then_some((rows, dates))
}
