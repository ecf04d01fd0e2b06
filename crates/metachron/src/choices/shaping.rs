//! What is made of the table: further columns, and which rows are written in which order.

use std::collections::BTreeSet;

use super::keys::names_between_commas;
use super::syntax::named;
use super::wrong::Wrong;
use crate::args;
use crate::message::{Failure, quoted};

/// A column that is made from others.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct MadeColumn {
    /// Its name.
    pub name: String,
    /// Its source and steps.
    pub steps: String,
}

/// A column of regular dates.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct MadeSeries {
    /// Its name.
    pub name: String,
    /// `START / AMOUNT UNIT`.
    pub steps: String,
    /// The column whose values each have a series of their own.
    pub by: Option<String>,
}

/// What is made of the table.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Shaping {
    /// Columns that are made from others, in their order.
    pub made: Vec<MadeColumn>,
    /// Columns of regular dates, in their order.
    pub series: Vec<MadeSeries>,
    /// What holds of the rows that are written.
    pub conditions: Vec<String>,
    /// The columns by which rows are sorted, the first of them first.
    pub sort_by: Vec<String>,
}

impl Shaping {
    /// What options say.
    ///
    /// # Errors
    /// What is not written as it should be.
    pub fn of_options(said: &args::Shaping) -> Result<Shaping, Failure> {
        let made = said.derived.make.iter().map(|text| {
            let example = "write --make 'age = released | since captured | as days'";
            let (name, steps) = named("--make", text, example)?;
            Ok(MadeColumn { name, steps })
        });
        let series = said.series.iter().map(|text| {
            let (name, steps) =
                named("--series", text, "write --series 'day = 2024-01-01 / 1 day'")?;
            Ok(MadeSeries { name, steps, by: said.by.clone() })
        });
        let made: Vec<MadeColumn> = made.collect::<Result<_, Wrong>>()?;
        let series: Vec<MadeSeries> = series.collect::<Result<_, Wrong>>()?;
        for (option, names) in [
            ("--make", made.iter().map(|own| &own.name).collect::<Vec<_>>()),
            ("--series", series.iter().map(|own| &own.name).collect()),
        ] {
            let mut said = BTreeSet::new();
            if let Some(name) = names.into_iter().find(|name| !said.insert(name.as_str())) {
                let name = quoted(name);
                return Err(Failure::usage(format!(
                    "{option} makes {name} twice; call one otherwise"
                )));
            }
        }
        let shaping = Shaping {
            made,
            series,
            conditions: said.derived.conditions.clone(),
            sort_by: said.sort_by.iter().flat_map(|text| names_between_commas(text)).collect(),
        };
        if said.by.is_some() && shaping.series.is_empty() {
            let says = "--by says of which rows --series has one each; there is none";
            return Err(Failure::usage(says));
        }
        Ok(shaping)
    }

    /// The same, and what a weaker voice says beside it: columns of other names, and the rows where this says nothing.
    #[must_use]
    pub fn over(self, weaker: Shaping) -> Shaping {
        fn by_name<T>(own: Vec<T>, mut weaker: Vec<T>, is_same: fn(&T, &T) -> bool) -> Vec<T> {
            for one in own {
                match weaker.iter_mut().find(|other| is_same(other, &one)) {
                    Some(other) => *other = one,
                    None => weaker.push(one),
                }
            }
            weaker
        }
        fn or<T>(own: Vec<T>, weaker: Vec<T>) -> Vec<T> {
            if own.is_empty() { weaker } else { own }
        }
        Shaping {
            made: by_name(self.made, weaker.made, |one, other| one.name == other.name),
            series: by_name(self.series, weaker.series, |one, other| one.name == other.name),
            conditions: or(self.conditions, weaker.conditions),
            sort_by: or(self.sort_by, weaker.sort_by),
        }
    }

    /// Whether a column of this name may be needed for it.
    pub fn speaks_of(&self, column: &str) -> bool {
        let steps = self.made.iter().map(|own| own.steps.as_str());
        let by = self.series.iter().filter_map(|own| own.by.as_deref());
        let rows = self.conditions.iter().chain(&self.sort_by).map(String::as_str);
        steps.chain(by).chain(rows).any(|text| text.contains(column))
    }

    /// The option that says the first of it, where it is not empty.
    pub fn first_option(&self) -> Option<&'static str> {
        let all = [
            ("--make", self.made.is_empty()),
            ("--series", self.series.is_empty()),
            ("--where", self.conditions.is_empty()),
            ("--sort-by", self.sort_by.is_empty()),
        ];
        all.into_iter().find(|(_, is_empty)| !is_empty).map(|(option, _)| option)
    }
}
