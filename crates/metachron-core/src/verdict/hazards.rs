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
mod repairs;
mod half_swapped;
mod late_days;
mod month_year;
mod imports;
mod missing_years;
mod mixed_sources;
mod given_layouts;
mod no_dates;
mod numbers;
mod other_shape;
mod other_values;
mod running_numbers;
mod soft_evidence;
mod twelve_hours;
mod untold_hands;
mod votes;
mod year_day_month;
mod zones;

use super::case::Case;
use super::found::Found;

pub(super) use soft_evidence::signals;

/// A rule: what it is called, and what it finds in a case.
pub(super) struct Hazard {
    /// Its name, for programs.
    #[expect(dead_code, reason = "told by what was ruled out")]
    pub name: &'static str,
    /// What it finds.
    pub look: fn(&Case<'_>) -> Vec<Found>,
}

const fn hazard(name: &'static str, look: fn(&Case<'_>) -> Vec<Found>) -> Hazard {
    Hazard { name, look }
}

/// Every rule. What is said of single forms stands together, where the first of these rules stands.
#[rustfmt::skip]
pub(super) const HAZARDS: [Hazard; 43] = [
    // Questions about the whole column.
    hazard("answers-leave", claims::answers_leave),
    hazard("missing-years", missing_years::open),
    hazard("unclear-amounts", lengths_of_time::unclear_amounts),
    hazard("thousands", amounts::thousands),
    hazard("fractions-of-hours", amounts::minutes),
    hazard("twelve-hours", twelve_hours::look),
    hazard("elapsed-clocks", lengths_of_time::elapsed),
    hazard("times-or-lengths", lengths_of_time::times_of_day),
    hazard("unclear-abbreviations", zones::unclear_abbreviations),
    hazard("unusual-years", calendars::unusual_years),
    hazard("short-years", calendars::short_years),
    hazard("other-calendar", calendars::other_calendar),
    hazard("languages-collide", languages::collide),
    hazard("another-language", languages::not_as_said),
    hazard("answers-elsewhere", claims::answers_elsewhere),
    hazard("no-such-part", claims::no_such_part),
    // What an import or a machine did.
    hazard("earlier-import", imports::look),
    hazard("serial-numbers", numbers::may_count),
    hazard("counted-numbers", numbers::counted),
    hazard("typed-cells", other_values::typed_cells),
    // What the forms say, each for itself.
    hazard("votes", votes::look),
    hazard("running-numbers", running_numbers::look),
    hazard("beyond-a-clock", lengths_of_time::beyond_a_clock),
    hazard("day-or-year", day_or_year::look),
    hazard("other-shape", other_shape::look),
    hazard("hours-elsewhere", lengths_of_time::hours_elsewhere),
    hazard("soft-evidence", soft_evidence::look),
    hazard("mixed-sources", mixed_sources::look),
    hazard("untold-hands", untold_hands::look),
    hazard("year-day-month", year_day_month::look),
    hazard("given-layouts", given_layouts::look),
    hazard("measures", amounts::measures),
    hazard("no-dates", no_dates::look),
    // What is worth a sentence beside all that.
    hazard("language", languages::of_names),
    hazard("centuries", centuries::look),
    hazard("other-kinds", other_values::other_kinds),
    hazard("year-of-first-row", missing_years::told),
    hazard("another-order", other_values::of_another_order),
    hazard("numbers-beside-dates", numbers::beside_dates),
    hazard("stand-ins", other_values::stand_ins),
    hazard("many-shapes", other_values::many_shapes),
    hazard("zones", zones::shown),
    hazard("unreadable-amounts", lengths_of_time::unreadable_amounts),
];
