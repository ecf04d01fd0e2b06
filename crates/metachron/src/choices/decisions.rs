//! What is said of how a column is read, by the analyst or by a readings file.

use jiff::civil::Date;
use metachron_core::calendar::Calendar;
use metachron_core::duration::Unit;
use metachron_core::epoch::Epoch;
use metachron_core::evidence::ObserveOptions;
use metachron_core::layout::Layout;
use metachron_core::lexicon::{Lexicon, Locale};
use metachron_core::named::Named;
use metachron_core::reading::{
    Century, Clocks, Contested, Repair, RowParts, Serials, Split, Terms, Written,
};
use metachron_core::text::Missing;
use metachron_core::timeline::{Requirement, SignKind};
use metachron_core::typed::{Anchor, Kind};
use metachron_core::verdict::{Answer, Asserted, Baseline, Verdict};
use metachron_core::zone::Zones;
use toml_edit::Value;

use super::keys::{
    answers, choice, epoch, layouts, locale, reform, requirements, signs, text, texts, truth,
    two_digit_from, unit, wrong, year,
};
use super::options::COLUMN_KEYS;
use super::wrong::Wrong;
use super::zones::ZoneChoices;
use crate::message::Failure;

/// Rows that are written otherwise than others.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct When {
    /// Which rows are written how.
    pub parts: RowParts<Written>,
    /// The SHA-256 of the content in which the rows were counted, where rows are meant.
    pub digest: Option<String>,
}

/// The items of both lists, those that are said twice once.
fn grown<T: PartialEq>(own: Option<Vec<T>>, weaker: Option<Vec<T>>) -> Option<Vec<T>> {
    let Some(mut all) = weaker else { return own };
    for item in own.into_iter().flatten() {
        if !all.contains(&item) {
            all.push(item);
        }
    }
    Some(all)
}

impl When {
    /// These rows, and of the weaker ones those of which these say nothing.
    fn over(self, weaker: When) -> When {
        let digest = self.digest.or(weaker.digest);
        When { parts: self.parts.over(weaker.parts), digest }
    }

    /// The rows of both; none if different things tell them apart.
    pub fn and(self, other: When) -> Option<When> {
        let digest = self.digest.or(other.digest);
        let parts = self.parts.and(other.parts)?;
        Some(When { parts, digest })
    }
}

/// Decisions for one column; what is none is left to a weaker voice, in the end to the evidence.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Decisions {
    /// What the values become.
    pub kind: Option<Kind>,
    /// What numbers of lengths of time count that have no unit.
    pub unit: Option<Unit>,
    /// How they are written.
    pub written: Option<Written>,
    /// The language and region in which they were written.
    pub written_in: Option<Locale>,
    /// Values whose right answer is known.
    pub known: Option<Vec<Answer>>,
    /// Where two-digit years lie.
    pub two_digit_from: Option<i16>,
    /// The calendar of years, months and days.
    pub calendar: Option<Calendar>,
    /// The first day of the Gregorian calendar, where days before it are Julian.
    pub reform: Option<Date>,
    /// The year of the first row, where values have none.
    pub year: Option<i16>,
    /// Which of its days a period becomes.
    pub anchor: Option<Anchor>,
    /// What an earlier import did.
    pub repair: Option<Repair>,
    /// What numbers count.
    pub epoch: Option<Epoch>,
    /// Where the clocks stood.
    pub clocks: ZoneChoices,
    /// Rows that are written otherwise.
    pub when: Option<When>,
    /// Whether rows that those do not list are written as is said of the column; else only values
    /// that can be read in one way are read.
    pub otherwise: Option<bool>,
    /// What becomes of contested rows.
    pub contested: Option<Contested>,
    /// The name of the new column.
    pub into: Option<String>,
    /// Further texts that stand for nothing.
    pub missing: Option<Vec<String>>,
    /// What check requires of the values.
    pub require: Option<Vec<Requirement>>,
    /// Signs of something wrong that are right as they are.
    pub allow: Option<Vec<SignKind>>,
    /// Whether the column is converted at all.
    pub convert: Option<bool>,
    /// What survey found when the decisions were saved.
    pub verdict: Option<Verdict>,
    /// Whether a person has said that they are right.
    pub accepted: Option<bool>,
    /// What the column looked like when the decisions were saved.
    pub seen: Option<Baseline>,
}

impl Decisions {
    /// What options say, by the keys that mean the same.
    ///
    /// # Errors
    /// The option whose value is wrong, and why.
    pub fn of_options(
        said: impl IntoIterator<Item = (&'static str, Option<Value>)>,
    ) -> Result<Decisions, Failure> {
        let mut decisions = Decisions::default();
        for (key, value) in said {
            let set = value.map_or(Ok(()), |value| decisions.set(key, &value));
            set.map_err(Wrong::of_option)?;
        }
        Ok(decisions)
    }

    /// Every key of a column in a readings file, `from` apart.
    pub fn keys() -> impl Iterator<Item = &'static str> {
        COLUMN_KEYS.iter().map(|(key, _)| *key)
    }

    /// These decisions, and where they say nothing, the weaker ones.
    ///
    /// Each replaces its own and nothing else; lists of texts, zones and rows that were told apart grow. Who says anew how
    /// the values are written voids that a person accepted the weaker ones, and there is nothing left to compare with.
    pub fn over(self, weaker: Decisions) -> Decisions {
        let is_of_new_rows = match (&self.when, &weaker.when) {
            (Some(own), Some(saved)) => !own.parts.meets(&saved.parts),
            _ => false,
        };
        let is_written = self.written.is_some() || self.when.is_some() && !is_of_new_rows;
        let is_anew = is_written || self.known.is_some();
        let verdict = self.verdict.or(weaker.verdict.filter(|_| !is_written));
        let accepted = self.accepted.or(weaker.accepted.filter(|_| !is_anew));
        // A year and an origin that are said now are not those that were saved.
        let (year, epoch) = (self.year, self.epoch);
        let seen = self.seen.or(weaker.seen.filter(|_| !is_anew)).map(|seen| Baseline {
            days: seen.days.filter(|_| year.is_none()),
            epoch: seen.epoch.filter(|_| epoch.is_none()),
            ..seen
        });
        let (when, otherwise, written) = match (self.when, weaker.when) {
            (None, None) => {
                (None, self.otherwise.or(weaker.otherwise), self.written.or(weaker.written))
            }
            // What is said of some rows voids that all have the layouts of a weaker voice.
            (Some(own), None) => (Some(own), self.otherwise, self.written),
            (own, Some(saved)) => {
                let when = match own {
                    Some(own) => own.over(saved),
                    None => saved,
                };
                // One order beside rows that were told apart speaks of the others.
                match self.written {
                    Some(written) => (Some(when), Some(true), Some(written)),
                    None => (Some(when), self.otherwise.or(weaker.otherwise), weaker.written),
                }
            }
        };
        Decisions {
            kind: self.kind.or(weaker.kind),
            unit: self.unit.or(weaker.unit),
            written,
            when,
            otherwise,
            written_in: self.written_in.or(weaker.written_in),
            known: grown(self.known, weaker.known),
            two_digit_from: self.two_digit_from.or(weaker.two_digit_from),
            calendar: self.calendar.or(weaker.calendar),
            reform: self.reform.or(weaker.reform),
            year: self.year.or(weaker.year),
            anchor: self.anchor.or(weaker.anchor),
            repair: self.repair.or(weaker.repair),
            epoch: self.epoch.or(weaker.epoch),
            clocks: self.clocks.over(weaker.clocks),
            contested: self.contested.or(weaker.contested),
            into: self.into.or(weaker.into),
            missing: grown(self.missing, weaker.missing),
            require: grown(self.require, weaker.require),
            allow: grown(self.allow, weaker.allow),
            convert: self.convert.or(weaker.convert),
            verdict,
            accepted,
            seen,
        }
    }

    /// What one voice says in two places, the later one here: what it says of some rows and what it says
    /// of the column stand side by side, the column then being the other rows.
    pub fn beside(self, earlier: Decisions) -> Decisions {
        let when = match (self.when.clone(), earlier.when.clone()) {
            (Some(own), Some(earlier)) => Some(own.over(earlier)),
            (own, earlier) => own.or(earlier),
        };
        let written = self.written.clone().or_else(|| earlier.written.clone());
        let clocks = self.clocks.clone().beside(earlier.clocks.clone());
        let both = self.over(earlier);
        let otherwise = match when {
            Some(_) => written.is_some().then_some(true),
            None => both.otherwise,
        };
        Decisions { when, written, otherwise, clocks, ..both }
    }

    /// What they mean for how values are looked at.
    ///
    /// Zones that are none have been refused by [`Decisions::check_zones`].
    pub fn observe_options(&self, missing: Missing, today: Date, zones: Zones) -> ObserveOptions {
        let lexicon = self.written_in.map_or(Lexicon::every(), Lexicon::of);
        let terms = Terms {
            lexicon: lexicon.in_calendar(self.calendar.unwrap_or_default()),
            century: self.two_digit_from.map_or(Century::default(), |from| Century { from }),
            today: Some(today),
            year: self.year,
            reform: self.reform,
            zones: self.clocks.known_to(zones).unwrap_or(zones),
            changes: self.clocks.changes(),
            clocks: if self.are_lengths() { Clocks::Elapsed } else { Clocks::OfDay },
            unit: self.unit,
        };
        let split = self.split();
        let (asked, layouts) = match &self.written {
            Some(Written::Order(order)) if split.is_none() => (Some(*order), Vec::new()),
            Some(Written::Layouts(layouts)) => (None, layouts.clone()),
            _ => (None, Vec::new()),
        };
        // Where rows are said to have an order, their layouts are those that the values show.
        let of_layouts = |written: &Written| match written {
            Written::Layouts(layouts) => Some(layouts.clone()),
            Written::Order(_) => None,
        };
        let (layouts, split) = match split.map(|split| split.map(of_layouts)) {
            None => (layouts, None),
            Some(None) => (Vec::new(), None),
            Some(Some(split)) => {
                let mut all = split.layouts();
                all.extend(layouts.into_iter().filter(|layout| !split.layouts().contains(layout)));
                (all, Some(split))
            }
        };
        let answers = self.known.iter().flatten().map(|answer| answer.value.as_str());
        let are_times = self.kind == Some(Kind::Time);
        let serials = self.epoch.map(|epoch| Serials { epoch, are_times });
        let own = ObserveOptions {
            terms,
            missing,
            asked,
            layouts,
            split,
            serials,
            ..ObserveOptions::default()
        };
        own.marking(answers)
    }

    /// Whether the values are said to be lengths of time, or known answers or their unit say so.
    fn are_lengths(&self) -> bool {
        self.kind.or(self.unit.map(|_| Kind::Duration)) == Some(Kind::Duration)
            || (self.kind.is_none() && self.known.iter().flatten().any(Answer::is_length))
    }

    /// Which rows are written how, where not all are written alike.
    pub fn split(&self) -> Option<Split<Written>> {
        let When { parts, .. } = self.when.clone()?;
        let otherwise = self.written.clone().filter(|_| self.otherwise == Some(true));
        Some(Split { parts, otherwise })
    }

    /// What they mean for the verdict.
    pub fn asserted(&self, today: Date, zones: Zones) -> Asserted {
        Asserted {
            kind: self.kind.or(self.are_lengths().then_some(Kind::Duration)),
            order: match self.written {
                Some(Written::Order(order)) if self.when.is_none() => Some(order),
                _ => None,
            },
            written_in: self.written_in,
            answers: self.known.clone().unwrap_or_default(),
            calendar: self.calendar,
            year: self.year,
            anchor: self.anchor,
            repair: self.repair,
            split: self.split(),
            century: self.two_digit_from.is_some(),
            zoning: self.clocks.zoning(zones).unwrap_or(None),
            contested: self.contested.unwrap_or_default(),
            ..Asserted::nothing(today)
        }
    }

    /// Zones that the database does not have.
    ///
    /// # Errors
    /// Which, and what comes near.
    pub fn check_zones(&self, zones: Zones) -> Result<(), Wrong> {
        self.clocks.zoning(self.clocks.known_to(zones)?).map(|_| ())
    }

    /// A layout without a year, where nothing else says it.
    ///
    /// # Errors
    /// What is missing, with its place.
    pub fn check_years(&self) -> Result<(), Wrong> {
        let Some(Written::Layouts(layouts)) = &self.written else { return Ok(()) };
        let lacking = layouts.iter().find(|layout| layout.lacks_year());
        match lacking.map(|layout| Layout::parse(&layout.to_string())) {
            Some(Err(error)) if self.year.is_none() => Err(error.into()),
            _ => Ok(()),
        }
    }

    /// What is said of a column, by its keys in their order; what is said of some of its rows apart.
    pub fn said(&self) -> Vec<(&'static str, Value)> {
        COLUMN_KEYS.iter().filter_map(|(key, _)| Some((*key, self.get(key)?))).collect()
    }

    /// What a key says.
    fn get(&self, key: &str) -> Option<Value> {
        let list = |texts: Vec<String>| Value::from(texts.iter().collect::<toml_edit::Array>());
        let text = |text: &dyn ToString| Value::from(text.to_string());
        let year = |year: i16| Value::from(i64::from(year));
        fn word(own: impl Named) -> Value {
            own.name().into()
        }
        match key {
            "into" => self.into.as_ref().map(|into| text(into)),
            "kind" => self.kind.map(word),
            "unit" => self.unit.map(|unit| text(&unit.name())),
            "verdict" => self.verdict.map(word),
            "accepted" => self.accepted.map(Value::from),
            "convert" => self.convert.map(Value::from),
            "written_in" => self.written_in.map(|locale| text(&locale.tag())),
            "order" => match &self.written {
                Some(Written::Order(order)) => Some(text(order)),
                _ => None,
            },
            "layouts" => match &self.written {
                Some(Written::Layouts(all)) => {
                    Some(list(all.iter().map(Layout::to_string).collect()))
                }
                _ => None,
            },
            "known" => self.known.as_ref().map(|all| {
                list(all.iter().map(|own| format!("{}={}", own.value, own.iso)).collect())
            }),
            "two_digit_from" => self.two_digit_from.map(year),
            "calendar" => self.calendar.map(word),
            "reform" => self.reform.map(|day| text(&day)),
            "year" => self.year.map(year),
            "anchor" => self.anchor.map(word),
            "repair" => self.repair.map(word),
            "epoch" => self.epoch.map(|epoch| text(&epoch)),
            "otherwise" => self.otherwise.filter(|own| *own).map(|_| "layouts".into()),
            "contested" => self.contested.map(word),
            "missing" => self.missing.clone().map(list),
            "allow" => self
                .allow
                .as_ref()
                .map(|all| list(all.iter().map(|own| own.name().to_owned()).collect())),
            "require" => self
                .require
                .as_ref()
                .map(|all| list(all.iter().map(Requirement::to_string).collect())),
            key => self.clocks.get(key),
        }
    }

    /// Whether a reading is saved that nobody has accepted yet although it was not decided.
    pub fn waits_for_acceptance(&self) -> bool {
        self.accepted != Some(true)
            && self.verdict.is_some_and(|verdict| verdict != Verdict::Decided)
    }

    /// Takes one key as a readings file or `--set` has it.
    ///
    /// # Errors
    /// What is wrong with the key or its value.
    pub fn set(&mut self, key: &str, value: &Value) -> Result<(), Wrong> {
        match key {
            "into" => self.into = Some(text(key, value)?),
            "convert" => self.convert = Some(truth(key, value)?),
            "accepted" => self.accepted = Some(truth(key, value)?),
            "kind" => self.kind = Some(choice(key, value)?),
            "unit" => self.unit = Some(unit(key, value)?),
            "verdict" => self.verdict = Some(choice(key, value)?),
            "order" => self.write(Written::Order(choice(key, value)?))?,
            "layouts" => self.write(Written::Layouts(layouts(key, value)?))?,
            "written_in" => self.written_in = Some(locale(key, value)?),
            "known" => self.known = Some(answers(key, value)?),
            "otherwise" => match text(key, value)?.as_str() {
                "layouts" | "order" => self.otherwise = Some(true),
                _ => return Err(wrong(key, value)),
            },
            "contested" => self.contested = Some(choice(key, value)?),
            "missing" => self.missing = Some(texts(key, value)?),
            "allow" => self.allow = Some(signs(key, value)?),
            "require" => self.require = Some(requirements(key, value)?),
            "two_digit_from" => self.two_digit_from = Some(two_digit_from(key, value)?),
            "calendar" => self.calendar = Some(choice(key, value)?),
            "reform" => self.reform = Some(reform(key, value)?),
            "year" => self.year = Some(year(key, value)?),
            "epoch" => self.epoch = Some(epoch(key, value)?),
            "repair" => self.repair = Some(choice(key, value)?),
            "anchor" => self.anchor = Some(choice(key, value)?),
            key => self.clocks.set(key, value)?,
        }
        Ok(())
    }

    fn write(&mut self, written: Written) -> Result<(), Wrong> {
        match self.written.replace(written) {
            None => Ok(()),
            Some(_) => {
                Err(Wrong::general("order and layouts exclude each other: a layout has an order"))
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use metachron_core::reading::Order;

    use super::*;

    #[test]
    fn who_says_anew_how_values_are_written_voids_what_was_accepted() {
        let saved = Decisions {
            written: Some(Written::Order(Order::Dmy)),
            verdict: Some(Verdict::Undecided),
            accepted: Some(true),
            ..Decisions::default()
        };
        assert!(!Decisions::default().over(saved.clone()).waits_for_acceptance());
        let missing = Decisions { missing: Some(vec!["x".into()]), ..Decisions::default() };
        assert!(!missing.over(saved.clone()).waits_for_acceptance(), "that is of other values");
        let known = Decisions { known: Some(Vec::new()), ..Decisions::default() };
        assert!(known.over(saved.clone()).waits_for_acceptance());
        let order = Decisions { written: Some(Written::Order(Order::Mdy)), ..Decisions::default() };
        assert!(!order.over(saved).waits_for_acceptance(), "who gives the order has decided");
    }
}
