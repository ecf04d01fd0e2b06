//! What an answer to a question says, in the words of the command line.

use std::fmt;

use metachron_core::layout::Layout;
use metachron_core::named::Named;
use metachron_core::order::Alternative;
use metachron_core::verdict::{Clue, Settle};
use toml_edit::{Array, Value};

use super::decisions::{Decisions, When};
use super::keys::{GROWING, meanings_said, texts};
use super::options::{COLUMN_KEYS, OF_FILE};
use super::syntax::{keys_of_set, parse_when, set_name, set_text, when_values};
use super::wrong::Wrong;
use crate::args::CommandLine;
use crate::message::{plain, shell_word};
use crate::words::order_name;

/// What is said of a column.
#[derive(Debug, Clone, Default)]
pub struct Said {
    /// Its name.
    column: String,
    /// What is said of all its rows, by the keys of a readings file.
    keys: Vec<(String, Value)>,
    /// What is said of some of them, as `--when` has it.
    rows: Vec<String>,
    /// What abbreviations of zones mean, in the whole file.
    abbreviations: Vec<String>,
}

impl Said {
    /// These keys of a column.
    pub fn keys<'k>(column: &str, keys: impl IntoIterator<Item = (&'k str, Value)>) -> Said {
        let keys = keys.into_iter().map(|(key, value)| (key.to_owned(), value)).collect();
        Said { column: column.to_owned(), keys, ..Said::default() }
    }

    /// That a column is left as it is.
    pub fn no_date(column: &str) -> Said {
        Said::keys(column, [("convert", false.into())])
    }

    /// How the rows beside these values of another column are written.
    pub fn beside(column: &str, other: &str, values: &[String], order: Alternative) -> Said {
        let rows = vec![where_rows(column, other, values, order)];
        Said { rows, ..Said::keys(column, []) }
    }

    /// Whether it is about this column.
    pub fn is_about(&self, column: &str) -> bool {
        self.column == column
    }

    /// What settles a column in this way; none where only other values would.
    pub fn by(way: &Settle, column: &str) -> Option<Said> {
        let keys = |keys: Vec<(&'static str, Value)>| Some(Said::keys(column, keys));
        let one = |key: &'static str, value: Value| keys(vec![(key, value)]);
        match way {
            Settle::Order(order, _) => one("order", order.name().into()),
            Settle::Layouts(_, list) | Settle::AsWritten(_, list) | Settle::Both(list) => {
                one("layouts", layouts(list))
            }
            Settle::Calendar(calendar) => one("calendar", calendar.name().into()),
            Settle::WrittenIn(locale) => one("written_in", locale.tag().into()),
            Settle::TwoDigitFrom(year) => one("two_digit_from", i64::from(*year).into()),
            Settle::Year(year) => one("year", i64::from(*year).into()),
            Settle::Answer(value, right) => one("known", format!("{value}={right}").into()),
            Settle::Epoch(epoch) => one("epoch", epoch.to_string().into()),
            Settle::Kind(kind) => one("kind", kind.name().into()),
            Settle::Unit(unit) => {
                keys(vec![("kind", "duration".into()), ("unit", unit.name().into())])
            }
            // The layouts beside it were said.
            Settle::Repair(repair, _) => one("repair", repair.name().into()),
            Settle::Abbreviation(name, place) => {
                let abbreviations = vec![format!("{name}={place}")];
                Some(Said { abbreviations, ..Said::keys(column, []) })
            }
            Settle::AllBut { column: other, value, order, usual } => {
                let values = std::slice::from_ref(value);
                let rows = vec![where_rows(column, other, values, (*order).into())];
                Some(Said { rows, ..Said::keys(column, [("order", usual.name().into())]) })
            }
            Settle::Split(found) => {
                let part = |(order, values): &(Alternative, Vec<String>)| match &found.by {
                    Clue::Column(other) => vec![where_rows(column, other, values, *order)],
                    Clue::Rows => {
                        let said = |rows: &String| {
                            format!(
                                "{} rows {rows}: order={}",
                                set_name(column),
                                order_name(*order)
                            )
                        };
                        values.iter().map(said).collect()
                    }
                    Clue::Clock => Vec::new(),
                };
                match &found.by {
                    Clue::Clock => one("layouts", layouts(&found.layouts)),
                    _ => {
                        let rows = found.sides.iter().flat_map(part).collect();
                        Some(Said { rows, ..Said::keys(column, []) })
                    }
                }
            }
            Settle::Value(_) => None,
        }
    }

    /// The same as decisions for its column.
    ///
    /// # Errors
    /// If it cannot be said.
    pub fn decisions(&self) -> Result<(String, Decisions), Wrong> {
        let mut decisions = Decisions::default();
        for (key, value) in &self.keys {
            decisions.set(key, value)?;
        }
        for text in &self.rows {
            if !parse_when(text)?.1.join(&mut decisions) {
                return Err(Wrong::general("the rows are told apart in two ways"));
            }
        }
        if let Some(meanings) = meanings_said(self.abbreviations.iter().map(String::as_str))? {
            decisions.set("abbreviations", &meanings)?;
        }
        // What is said of the column beside some of its rows is about the others.
        decisions.otherwise =
            (!self.rows.is_empty() && decisions.written.is_some()).then_some(true);
        Ok((self.column.clone(), decisions))
    }

    /// The command line with that said: what says the same otherwise gives way, all else stays.
    pub fn on(&self, line: CommandLine) -> CommandLine {
        Said::all_on(std::slice::from_ref(self), line)
    }

    /// The same with all of that said, each of another column.
    pub fn all_on(all: &[Said], mut line: CommandLine) -> CommandLine {
        let mut new = Vec::new();
        for said in all {
            let (given_way, own) = said.beside_what_was_typed(line);
            line = given_way;
            new.extend(own);
        }
        new.into_iter().fold(line, |line, (option, text)| line.with(option, text))
    }

    /// The command line without what gives way to it, and the options that say it.
    fn beside_what_was_typed(
        &self,
        line: CommandLine,
    ) -> (CommandLine, Vec<(&'static str, String)>) {
        let Said { column, keys, rows, abbreviations } = self;
        let mut line = self.without_rival_options(line);
        // What was said of the column by `--set` goes on there.
        let mut all: Vec<(String, Value)> = Vec::new();
        line = line.changing("set", |text| match keys_of_set(text) {
            Some((name, own)) if name == *column && !keys.is_empty() => {
                all.extend(own.into_iter().filter(|(key, _)| !self.rivals(key)));
                None
            }
            _ => Some(text.to_owned()),
        });
        for (key, value) in keys {
            match all.iter_mut().find(|(own, _)| own == key) {
                Some((_, earlier)) => *earlier = grown(key, earlier, value),
                None => all.push((key.clone(), value.clone())),
            }
        }
        let set = (!all.is_empty()).then(|| ("set", set_text(column, &all)));
        // Of the same rows only one thing can be said.
        let when = |text: &str| {
            let (name, rows) = parse_when(text).ok()?;
            rows.when.filter(|_| name == *column)
        };
        let own: Vec<When> = rows.iter().filter_map(|text| when(text)).collect();
        line = line.changing("when", |text| {
            let typed = when(text);
            let meets =
                |own: &When| typed.as_ref().is_some_and(|typed| own.parts.meets(&typed.parts));
            (!own.iter().any(meets)).then(|| text.to_owned())
        });
        let whens = rows.iter().map(|text| ("when", text.clone()));
        let others = abbreviations.iter().map(|text| ("abbreviation", text.clone()));
        (line, set.into_iter().chain(whens).chain(others).collect())
    }

    /// Whether it leaves the column as it is.
    fn leaves(&self) -> bool {
        self.says("convert").is_some_and(|value| value.as_bool() == Some(false))
    }

    fn says(&self, key: &str) -> Option<&Value> {
        self.keys.iter().find(|(own, _)| own == key).map(|(_, value)| value)
    }

    /// Whether what another key says of the column cannot stand beside it.
    fn rivals(&self, key: &str) -> bool {
        let is_no_length = self.says("kind").is_some_and(|kind| kind.as_str() != Some("duration"));
        match key {
            _ if self.leaves() => true,
            key if GROWING.contains(&key) => false,
            "order" | "layouts" => self.says("order").or(self.says("layouts")).is_some(),
            "unit" if is_no_length => true,
            key => self.says(key).is_some(),
        }
    }

    /// The command line without plain options about the column that cannot stand beside it.
    fn without_rival_options(&self, line: CommandLine) -> CommandLine {
        let chosen: Vec<String> = line.values("column").map(str::to_owned).collect();
        let is_about = chosen.is_empty() || chosen == [self.column.clone()];
        // What may be said of the whole file is about the other columns, too.
        let stays = |key: &str| self.leaves() && chosen.is_empty() && OF_FILE.contains(&key);
        let rivals =
            COLUMN_KEYS.iter().filter(|(key, _)| is_about && self.rivals(key) && !stays(key));
        let options = rivals.filter_map(|(_, option)| *option);
        let line = options.fold(line, |line, option| line.without(option));
        let answer = self.says("known").and_then(Value::as_str).filter(|_| is_about);
        let is_anew = |text: &str| answer.is_some_and(|own| are_of_one("known", own, text));
        let line = line.changing("known", |text| (!is_anew(text)).then(|| text.to_owned()));
        // Whoever names columns that are converted does not name one that is left, if there are others.
        match self.leaves() && chosen.len() > 1 {
            true => line.changing("column", |name| (name != self.column).then(|| name.to_owned())),
            false => line,
        }
    }
}

/// The texts of two lists of a key, each once; what is known of a value gives way to another answer.
fn grown(key: &str, earlier: &Value, later: &Value) -> Value {
    let of = |value: &Value| texts(key, value).unwrap_or_default();
    let later = of(later);
    let is_anew = |text: &String| later.iter().any(|own| are_of_one(key, own, text));
    let all = of(earlier).into_iter().filter(|text| !is_anew(text));
    one_or_all(all.chain(later.iter().cloned()).collect())
}

/// Whether two texts of a key are the same, or answers about the same value.
fn are_of_one(key: &str, one: &str, other: &str) -> bool {
    let about = |text: &str| match (key, text.rsplit_once('=')) {
        ("known", Some((value, _))) => value.to_owned(),
        _ => text.to_owned(),
    };
    about(one) == about(other)
}

/// The options alone, as a shell takes them.
impl fmt::Display for Said {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let set = (!self.keys.is_empty()).then(|| ("set", set_text(&self.column, &self.keys)));
        let rows = self.rows.iter().map(|text| ("when", text.clone()));
        let abbreviations = self.abbreviations.iter().map(|text| ("abbreviation", text.clone()));
        for (at, (option, text)) in set.into_iter().chain(rows).chain(abbreviations).enumerate() {
            let space = if at == 0 { "" } else { " " };
            write!(f, "{space}--{option} {}", plain(&shell_word(&text)))?;
        }
        Ok(())
    }
}

/// The command line without `--column`: what was said of the columns that it names is said by `--set`.
pub fn by_columns(line: CommandLine) -> CommandLine {
    let columns: Vec<String> = line.values("column").map(str::to_owned).collect();
    if columns.is_empty() {
        return line;
    }
    let (mut line, mut keys) = (line.without("column"), Vec::new());
    for (key, option) in COLUMN_KEYS {
        if let Some(option) = option.filter(|option| line.has(option)) {
            keys.push((key, value_of_option(&line, key, option)));
            line = line.without(option);
        }
    }
    let said = columns.iter().map(|column| Said::keys(column, keys.iter().cloned()));
    Said::all_on(&said.collect::<Vec<_>>(), line)
}

/// What an option says, as the value of its key.
fn value_of_option(line: &CommandLine, key: &str, option: &str) -> Value {
    let texts: Vec<&str> = line.values(option).collect();
    let meanings = || meanings_said(texts.iter().copied()).ok().flatten();
    match (key, &texts[..]) {
        (_, []) => true.into(),
        ("abbreviations", _) if let Some(meanings) = meanings() => meanings,
        (_, [one]) => match one.parse::<i64>() {
            Ok(number) if matches!(key, "year" | "two_digit_from") => number.into(),
            _ => Value::from(*one),
        },
        (_, all) => all.iter().copied().collect::<Array>().into(),
    }
}

fn layouts(list: &[Layout]) -> Value {
    one_or_all(list.iter().map(Layout::to_string).collect())
}

/// The texts of a key that takes one or several.
fn one_or_all(texts: Vec<String>) -> Value {
    match <[String; 1]>::try_from(texts) {
        Ok([one]) => one.into(),
        Err(all) => all.into_iter().collect::<Array>().into(),
    }
}

/// The rows beside these values of another column, as `--when` says it.
fn where_rows(column: &str, other: &str, values: &[String], order: Alternative) -> String {
    let (column, other) = (set_name(column), set_name(other));
    format!("{column} where {other}={}: order={}", when_values(values), order_name(order))
}
