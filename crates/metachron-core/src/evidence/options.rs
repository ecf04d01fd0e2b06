//! What shapes the evidence of a column, beyond its values.

use std::fmt::Write;

use crate::layout::Layout;
use crate::named::Named;
use crate::order::Order;
use crate::reading::{Changes, Clocks, RowParts, Serials, Split, Terms, Years};
use crate::text::{Missing, normalise};

/// What shapes the evidence of a column, beyond its values.
#[derive(Debug, Clone)]
pub struct ObserveOptions {
    /// What the values leave open, as far as it is said.
    pub terms: Terms,
    /// The texts that stand for nothing.
    pub missing: Missing,
    /// An order that is asked for, though no region writes it.
    pub asked: Option<Order>,
    /// Layouts that the analyst gave; they are tried beside the candidates.
    pub layouts: Vec<Layout>,
    /// Which of them are those of which rows, where rows differ.
    pub split: Option<Split<Vec<Layout>>>,
    /// What numbers count, if that is said.
    pub serials: Option<Serials>,
    /// The years of values that have none, once they are known.
    pub years: Option<Years>,
    /// Values whose first row is to be noted.
    pub marked: Vec<String>,
}

impl Default for ObserveOptions {
    fn default() -> ObserveOptions {
        ObserveOptions {
            terms: Terms::default(),
            missing: Missing::usual(),
            asked: None,
            layouts: Vec::new(),
            split: None,
            serials: None,
            years: None,
            marked: Vec::new(),
        }
    }
}

impl ObserveOptions {
    /// The same, and the first rows of these values are noted.
    #[must_use]
    pub fn marking<'v>(self, values: impl IntoIterator<Item = &'v str>) -> ObserveOptions {
        let mut buffer = String::new();
        let plain = values.into_iter().map(|value| normalise(value, &mut buffer).to_owned());
        ObserveOptions { marked: plain.collect(), ..self }
    }

    /// The options as text, by stable names: the same for the same options, in every version of the program that
    /// gathers evidence in the same way.
    pub(super) fn digest(&self) -> String {
        let ObserveOptions { terms, missing, asked, layouts, split, serials, years, marked } = self;
        let Terms { lexicon, century, today, year, reform, zones, changes, clocks, unit } = terms;
        let mut text = String::new();
        let mut say = |key: &str, value: &dyn ToString| {
            // Writing to a string cannot fail.
            let _ = writeln!(text, "{key} = {:?}", value.to_string());
        };
        say("written_in", &lexicon.locale().map_or("every", |locale| locale.tag()));
        say("calendar", &lexicon.calendar());
        for text in missing.texts() {
            say("missing", &text);
        }
        say("keep_placeholders", &missing.keeps_placeholders());
        say("two_digit_from", &century.from);
        // A standard counts two-digit years from the year of today.
        if let Some(today) = today {
            say("this_year", &today.year());
        }
        if let Some(year) = year {
            say("year", year);
        }
        if let Some(reform) = reform {
            say("reform", reform);
        }
        if let Some(order) = asked {
            say("order", order);
        }
        for layout in layouts {
            say("layout", layout);
        }
        if let Some(split) = split {
            say("when", &when(split));
        }
        if let Some(Serials { epoch, are_times }) = serials {
            say("epoch", epoch);
            say("times", are_times);
        }
        if let Some(Years { first, turns, open_from }) = years {
            say("first_year", first);
            for turn in turns.iter().chain(open_from) {
                say("turn", turn);
            }
        }
        for value in marked {
            say("known", value);
        }
        say("zone_data", &zones.version().unwrap_or("of no stated release"));
        for (name, clock) in zones.said() {
            say("abbreviation", &format!("{name}={clock}"));
        }
        let Changes { skipped, repeated, offset_wins } = changes;
        say("skipped_clock", &skipped.name());
        say("repeated_clock", &repeated.name());
        say("offset_wins", offset_wins);
        say("elapsed", &(*clocks == Clocks::Elapsed));
        if let Some(unit) = unit {
            say("unit", &unit.name());
        }
        text
    }
}

/// Which rows are written how.
fn when(split: &Split<Vec<Layout>>) -> String {
    let layouts = |layouts: &Vec<Layout>| {
        layouts.iter().map(Layout::to_string).collect::<Vec<_>>().join(" and ")
    };
    let parts: Vec<String> = match &split.parts {
        RowParts::Column(name, parts) => {
            let part = |(values, own): &(Vec<String>, Vec<Layout>)| {
                format!("{name} {values:?}: {}", layouts(own))
            };
            parts.iter().map(part).collect()
        }
        RowParts::Rows(parts) => {
            let part = |(rows, own): &(std::ops::RangeInclusive<u64>, Vec<Layout>)| {
                format!("{}..{}: {}", rows.start(), rows.end(), layouts(own))
            };
            parts.iter().map(part).collect()
        }
    };
    let otherwise = split.otherwise.as_ref().map_or(String::new(), layouts);
    format!("{}; {otherwise}", parts.join("; "))
}
