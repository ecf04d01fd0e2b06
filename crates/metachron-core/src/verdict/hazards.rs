//! The table of hazards: every known way in which a column can be wrong, and everything else that is worth a
//! sentence.
//!
//! A hazard is one file. Its rules look at the [`Case`] and give findings; none reads another's finding, or the
//! verdict so far. The order of the table is the order of the sentences, and nothing else.

mod amounts;
mod calendars;
mod centuries;
mod claims;
mod customs;
mod dates_by_order;
mod day_or_year;
mod languages;
mod lengths_of_time;
mod hands;
mod marks;
mod misfits;
mod repairs;
mod half_swapped;
mod late_days;
mod running_numbers;
mod month_year;
mod imports;
mod missing_years;
mod mixed_sources;
mod given_layouts;
mod no_dates;
mod numbers;
mod other_end;
mod other_shape;
mod out_of_step;
mod out_of_time;
mod other_values;
mod periods;
mod soft_evidence;
mod twelve_digits;
mod twelve_hours;
mod uneven_marks;
mod untold_hands;
mod votes;
mod year_day_month;
mod zones;

use super::case::Case;
use super::found::Found;
use super::ruled_out::RuledOut;

pub(super) use soft_evidence::signals;

/// A rule: what it finds in a case.
pub(super) type Hazard = fn(&Case<'_>) -> Vec<Found>;

/// Every rule. What is said of single forms stands together, where the first of these rules stands.
#[rustfmt::skip]
pub(super) const HAZARDS: [Hazard; 54] = [
    // Questions about the whole column.
    claims::answers_leave,
    missing_years::open,
    lengths_of_time::unclear_amounts,
    lengths_of_time::marks,
    amounts::thousands,
    amounts::minutes,
    amounts::decades,
    twelve_hours::look,
    twelve_digits::look,
    periods::look,
    lengths_of_time::elapsed,
    lengths_of_time::times_of_day,
    zones::unclear_abbreviations,
    calendars::unusual_years,
    calendars::short_years,
    calendars::other_calendar,
    languages::collide,
    languages::not_as_said,
    claims::answers_elsewhere,
    claims::no_such_part,
    // What an import or a machine did.
    imports::look,
    numbers::may_count,
    numbers::digits_or_counts,
    numbers::digits_or_periods,
    numbers::counted,
    other_values::typed_cells,
    // What the forms say, each for itself.
    votes::look,
    running_numbers::look,
    lengths_of_time::beyond_a_clock,
    day_or_year::look,
    uneven_marks::look,
    other_shape::look,
    lengths_of_time::hours_elsewhere,
    soft_evidence::look,
    mixed_sources::look,
    untold_hands::look,
    out_of_step::look,
    out_of_time::look,
    other_end::look,
    year_day_month::look,
    given_layouts::look,
    amounts::measures,
    no_dates::look,
    // What is worth a sentence beside all that.
    languages::of_names,
    centuries::look,
    other_values::other_kinds,
    missing_years::told,
    other_values::of_another_order,
    numbers::beside_dates,
    other_values::stand_ins,
    other_values::lost_centuries,
    other_values::many_shapes,
    zones::shown,
    lengths_of_time::unreadable_amounts,
];

/// What a column of forms was held against, and what shows that it is not so.
pub(super) fn ruled_out(case: &Case<'_>) -> Vec<RuledOut> {
    let mut all = votes::ruled_out(case);
    all.extend(imports::ruled_out(case));
    all.extend(untold_hands::ruled_out(case));
    all.extend(running_numbers::ruled_out(case));
    all.extend(twelve_hours::ruled_out(case));
    all
}
