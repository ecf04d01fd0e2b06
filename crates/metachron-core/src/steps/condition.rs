//! Conditions on rows: steps with a comparison, joined by `and`, `or`, `not` and parentheses.

use std::cmp::Ordering;
use std::ops::Range;

use jiff::Timestamp;
use jiff::civil::{Date, DateTime, Time};

use super::compile::Program;
use super::item::{Item, Type, Unmade};
use super::setting::Setting;
use super::{Chain, Notes, StepError};
use crate::epoch::Number;
use crate::reading::length_in_words;
use crate::typed::{Kind, TypedValue};

/// A condition, ready to be asked of rows.
///
/// ```
/// use metachron_core::typed::{Kind, TypedValue};
/// use metachron_core::steps::{Condition, Item, Setting, Type};
/// let setting = Setting::new(jiff::civil::date(2024, 6, 1));
/// let columns = [("seen", Type::Of(Kind::Date))];
/// let text = "seen >= 2024-03-01 and not (seen | weekday) between 6 and 7";
/// let condition = Condition::compile(text, &columns, &setting).unwrap();
/// let mut tuesday = |_| Item::Typed(TypedValue::Date(jiff::civil::date(2024, 3, 5)));
/// assert!(condition.holds(&mut tuesday).unwrap());
/// ```
#[derive(Debug, Clone)]
pub enum Condition {
    /// All of them hold.
    And(Vec<Condition>),
    /// One of them holds.
    Or(Vec<Condition>),
    /// It does not hold.
    Not(Box<Condition>),
    /// What steps give, compared.
    Is(Box<Program>, Test),
}

/// What is asked of a value; of a missing one nothing holds but that it is missing.
#[derive(Debug, Clone)]
pub enum Test {
    /// It is missing.
    Missing,
    /// It is this.
    Equal(Item),
    /// It is something else.
    Other(Item),
    /// It lies from the one to the other; an end may be open, and may itself belong or not.
    Within(Option<(Item, bool)>, Option<(Item, bool)>),
}

struct ConditionToken {
    span: Range<usize>,
    quoted: bool,
}

struct ConditionParser<'p> {
    text: &'p str,
    tokens: Vec<ConditionToken>,
    at: usize,
    columns: &'p [(&'p str, Type)],
    setting: &'p Setting,
}

const OPERATORS: [&str; 8] = ["=", "!=", "<", "<=", ">", ">=", "between", "is"];

impl Condition {
    /// Checks a condition against these columns and makes it ready.
    ///
    /// # Errors
    /// What does not fit, with its place.
    pub fn compile(
        text: &str,
        columns: &[(&str, Type)],
        setting: &Setting,
    ) -> Result<Condition, StepError> {
        let tokens = tokens(text)?;
        let mut parser = ConditionParser { text, tokens, at: 0, columns, setting };
        let condition = parser.any()?;
        match parser.tokens.get(parser.at) {
            None => Ok(condition),
            Some(token) => {
                let says = "this does not belong to the condition; and, or join several";
                Err(StepError::new(text, token.span.clone(), says))
            }
        }
    }

    /// Whether it holds of a row, whose columns are asked for by their places.
    ///
    /// ```
    /// use metachron_core::steps::{Condition, Item, Setting, Type};
    /// use metachron_core::typed::{Kind, TypedValue};
    /// let day = |month| Item::Typed(TypedValue::Date(jiff::civil::date(2024, month, 1)));
    /// let setting = Setting::new(jiff::civil::date(2024, 6, 1));
    /// let columns = [("seen", Type::Of(Kind::Date))];
    /// let condition = Condition::compile("seen >= 2024-03-01", &columns, &setting).unwrap();
    /// assert_eq!(condition.holds(&mut |_| day(4)), Ok(true));
    /// assert_eq!(condition.holds(&mut |_| day(2)), Ok(false));
    /// ```
    ///
    /// # Errors
    /// If a value that it asks about cannot be made.
    pub fn holds(&self, column: &mut dyn FnMut(usize) -> Item) -> Result<bool, Unmade> {
        Ok(match self {
            Condition::And(all) => {
                for condition in all {
                    if !condition.holds(column)? {
                        return Ok(false);
                    }
                }
                true
            }
            Condition::Or(all) => {
                for condition in all {
                    if condition.holds(column)? {
                        return Ok(true);
                    }
                }
                false
            }
            Condition::Not(condition) => !condition.holds(column)?,
            Condition::Is(program, test) => {
                let inputs: Vec<Item> = program.inputs().iter().map(|at| column(*at)).collect();
                let item = program.run(&inputs, &[], &mut Notes::default())?;
                test.holds(&item, program.gives())
            }
        })
    }
}

impl Test {
    fn holds(&self, item: &Item, of: Type) -> bool {
        // An empty cell stands for nothing.
        let missing = match item {
            Item::Missing => true,
            Item::Text(text) => text.trim().is_empty(),
            _ => false,
        };
        let order = |other: &Item| compare(item, other, of);
        match self {
            Test::Missing => missing,
            _ if missing => false,
            Test::Equal(other) => order(other) == Some(Ordering::Equal),
            Test::Other(other) => order(other).is_some_and(Ordering::is_ne),
            Test::Within(from, to) => {
                let after = from.as_ref().is_none_or(|(from, itself)| match order(from) {
                    Some(Ordering::Equal) => *itself,
                    order => order == Some(Ordering::Greater),
                });
                let before = to.as_ref().is_none_or(|(to, itself)| match order(to) {
                    Some(Ordering::Equal) => *itself,
                    order => order == Some(Ordering::Less),
                });
                after && before
            }
        }
    }
}

fn compare(a: &Item, b: &Item, of: Type) -> Option<Ordering> {
    let moment = |item: &Item| match item {
        Item::Typed(moment) => Some(*moment),
        Item::Zoned(moment, _) => Some(TypedValue::Instant(*moment)),
        _ => None,
    };
    match (a, b) {
        (Item::Number(a), Item::Number(b)) => Some(match (a.is_below(*b), b.is_below(*a)) {
            (true, _) => Ordering::Less,
            (_, true) => Ordering::Greater,
            _ => Ordering::Equal,
        }),
        (Item::Truth(a), Item::Truth(b)) => Some(a.cmp(b)),
        (Item::Text(a), Item::Text(b)) if of == Type::Raw => Some(a.trim().cmp(b)),
        (Item::Text(a), Item::Text(b)) => Some(a.cmp(b)),
        (a, b) => Some(moment(a)?.cmp(&moment(b)?)),
    }
}

impl ConditionParser<'_> {
    fn word(&self, ahead: usize) -> Option<&str> {
        let token = self.tokens.get(self.at + ahead).filter(|token| !token.quoted)?;
        self.text.get(token.span.clone())
    }

    fn take(&mut self, word: &str) -> bool {
        let found = self.word(0) == Some(word);
        self.at += usize::from(found);
        found
    }

    fn wrong<T>(&self, says: impl Into<String>) -> Result<T, StepError> {
        let end = self.text.trim_end().len();
        let span = match self.tokens.get(self.at) {
            Some(token) => token.span.clone(),
            None => end.saturating_sub(1)..end,
        };
        Err(StepError::new(self.text, span, says))
    }

    fn any(&mut self) -> Result<Condition, StepError> {
        let mut all = vec![self.all()?];
        while self.take("or") {
            all.push(self.all()?);
        }
        Ok(if all.len() == 1 { all.remove(0) } else { Condition::Or(all) })
    }

    fn all(&mut self) -> Result<Condition, StepError> {
        let mut all = vec![self.one()?];
        while self.take("and") {
            all.push(self.one()?);
        }
        Ok(if all.len() == 1 { all.remove(0) } else { Condition::And(all) })
    }

    fn one(&mut self) -> Result<Condition, StepError> {
        if self.take("not") {
            return Ok(Condition::Not(Box::new(self.one()?)));
        }
        // Parentheses stand around conditions, or around the steps before a comparison.
        let begin = self.at;
        if self.take("(") {
            if let Ok(inside) = self.any()
                && self.take(")")
            {
                return Ok(inside);
            }
            self.at = begin;
        }
        self.comparison()
    }

    fn comparison(&mut self) -> Result<Condition, StepError> {
        let begin = self.at;
        while self.tokens.get(self.at).is_some()
            && !self.word(0).is_some_and(|word| OPERATORS.contains(&word))
        {
            self.at += 1;
        }
        let Some(operator) = self.word(0).map(str::to_owned) else {
            let says = "a comparison is missing: =, !=, <, <=, >, >=, between A and B, is missing";
            return self.wrong(says);
        };
        let mut own = &self.tokens[begin..self.at];
        let is = |token: Option<&ConditionToken>, word: &str| {
            token.and_then(|token| self.text.get(token.span.clone())) == Some(word)
        };
        if is(own.first(), "(") && is(own.last(), ")") {
            own = &own[1..own.len() - 1];
        }
        let (Some(first), Some(last)) = (own.first(), own.last()) else {
            return self.wrong("a column is missing before the comparison");
        };
        let steps = first.span.start..last.span.end;
        let shifted = |error: StepError| {
            let span = steps.start + error.span.start..steps.start + error.span.end;
            StepError { text: self.text.to_owned(), span, ..error }
        };
        let chain = Chain::parse(&self.text[steps.clone()]).map_err(shifted)?;
        let program = chain.compile(self.columns, self.setting).map_err(shifted)?;
        if !program.facts().is_empty() {
            let says = "earliest and first-row are for derived columns; derive one and compare it";
            return Err(StepError::new(self.text, steps, says));
        }
        let of = program.gives();
        self.at += 1;
        let test = match operator.as_str() {
            "is" => match self.take("missing") {
                true => Test::Missing,
                false => return self.wrong("is asks one thing: is missing"),
            },
            "between" => {
                let from = self.value(of)?;
                if !self.take("and") {
                    return self.wrong("between has two ends: between 5 and 8");
                }
                Test::Within(Some((from, true)), Some((self.value(of)?, true)))
            }
            operator => {
                let value = self.value(of)?;
                match operator {
                    "=" => Test::Equal(value),
                    "!=" => Test::Other(value),
                    "<" => Test::Within(None, Some((value, false))),
                    "<=" => Test::Within(None, Some((value, true))),
                    ">" => Test::Within(Some((value, false)), None),
                    _ => Test::Within(Some((value, true)), None),
                }
            }
        };
        let ordered = matches!(test, Test::Within(..));
        if ordered && matches!(of, Type::Raw | Type::Text | Type::Truth) {
            self.at = begin;
            let says = format!("{of} has no order; compare it by = or !=");
            return self.wrong(says);
        }
        Ok(Condition::Is(Box::new(program), test))
    }

    /// A value of the type that the steps give.
    fn value(&mut self, of: Type) -> Result<Item, StepError> {
        let Some(token) = self.tokens.get(self.at) else {
            return self.wrong("a value is missing after the comparison");
        };
        let written = &self.text[token.span.clone()];
        let text = if token.quoted { written.trim_matches('"') } else { written };
        let date = || text.parse::<Date>().ok();
        let clock = || text.parse::<DateTime>().ok().or(date().map(|day| day.at(0, 0, 0, 0)));
        let item = match of {
            Type::Number => Number::parse(text).map(Item::Number),
            Type::Truth => text.parse::<bool>().ok().map(Item::Truth),
            Type::Raw | Type::Text => Some(Item::Text(text.to_owned())),
            Type::Of(Kind::Date) => date().map(|day| TypedValue::Date(day).into()),
            Type::Of(Kind::Time) => {
                text.parse::<Time>().ok().map(|time| TypedValue::Time(time).into())
            }
            Type::Of(Kind::DateTime) => clock().map(|clock| TypedValue::DateTime(clock).into()),
            Type::Of(Kind::Instant) | Type::Zoned => {
                text.parse::<Timestamp>().ok().map(|moment| TypedValue::Instant(moment).into())
            }
            Type::Of(Kind::Month) => {
                format!("{text}-01").parse::<Date>().ok().map(|day| TypedValue::Month(day).into())
            }
            Type::Of(Kind::Year) => {
                format!("{text}-01-01").parse::<Date>().ok().map(|day| TypedValue::Year(day).into())
            }
            Type::Of(Kind::Duration) => length_in_words(text, self.setting.terms)
                .map(|own| TypedValue::Duration(own).into()),
            Type::Of(_) | Type::Span(_) => None,
        };
        let Some(item) = item else {
            let wants = match of {
                Type::Number => "a number",
                Type::Truth => "true or false",
                Type::Of(Kind::Date) => "a date such as 2024-01-31",
                Type::Of(Kind::Time) => "a time such as 14:30",
                Type::Of(Kind::DateTime) => "a clock time such as 2024-01-31T14:30",
                Type::Of(Kind::Instant) | Type::Zoned => "a moment such as 2024-01-31T14:30Z",
                Type::Of(Kind::Month) => "a month such as 2024-01",
                Type::Of(Kind::Year) => "a year such as 2024",
                Type::Of(Kind::Duration) => "a duration such as PT1H30M or \"1 hour 30 min\"",
                _ => "something that can be compared: take a part of it first",
            };
            return self.wrong(format!("{text:?} is not {wants}"));
        };
        self.at += 1;
        Ok(item)
    }
}

fn tokens(text: &str) -> Result<Vec<ConditionToken>, StepError> {
    let mut tokens: Vec<ConditionToken> = Vec::new();
    let mut at = 0;
    let sign = |c: char| matches!(c, '=' | '!' | '<' | '>');
    while let Some(first) = text[at..].chars().next() {
        let rest = &text[at..];
        let length = match first {
            c if c.is_whitespace() => {
                at += c.len_utf8();
                continue;
            }
            '"' => match rest[1..].find('"') {
                Some(end) => end + 2,
                None => {
                    return Err(StepError::new(
                        text,
                        at..text.len(),
                        "a double quote is not closed",
                    ));
                }
            },
            '(' | ')' | '|' => 1,
            c if sign(c) => rest.find(|c| !sign(c)).unwrap_or(rest.len()),
            _ => rest
                .find(|c: char| c.is_whitespace() || "()|\"".contains(c) || sign(c))
                .unwrap_or(rest.len()),
        };
        tokens.push(ConditionToken { span: at..at + length, quoted: first == '"' });
        at += length;
    }
    Ok(tokens)
}

#[cfg(test)]
mod tests {
    use super::*;

    const COLUMNS: [(&str, Type); 4] = [
        ("seen", Type::Of(Kind::Date)),
        ("logged", Type::Of(Kind::Instant)),
        ("station", Type::Raw),
        ("net hours", Type::Number),
    ];

    fn holds(text: &str) -> bool {
        let setting = Setting::new(jiff::civil::date(2024, 6, 1));
        let condition = Condition::compile(text, &COLUMNS, &setting)
            .unwrap_or_else(|error| panic!("{error}\n{}", error.marked()));
        let mut row = |at| match at {
            0 => Item::Typed(TypedValue::Date(jiff::civil::date(2024, 3, 5))),
            1 => Item::Missing,
            2 => Item::Text("Port Meridian".to_owned()),
            _ => Item::Number(Number::parse("7.5").unwrap()),
        };
        condition.holds(&mut row).unwrap()
    }

    #[test]
    fn conditions_hold_or_not() {
        for (text, expected) in [
            ("seen = 2024-03-05", true),
            ("seen >= 2024-03-05 and seen < 2024-03-06", true),
            ("seen>2024-03-05", false),
            ("seen | month between 3 and 5", true),
            ("(seen | weekday) = 3 or station = \"Port Meridian\"", true),
            ("not (seen | leap = true)", false),
            ("station != Skarholm and not station is missing", true),
            ("logged is missing", true),
            ("logged < 2024-01-01T00:00Z", false),
            ("not logged < 2024-01-01T00:00Z", true),
            ("\"net hours\" > 7.25", true),
            ("(seen = 2024-01-01 or seen = 2024-03-05) and station = \"Port Meridian\"", true),
            ("seen | period month = 2024-03", true),
        ] {
            assert_eq!(holds(text), expected, "{text}");
        }
    }

    #[test]
    fn what_is_wrong_is_shown_with_its_place() {
        let setting = Setting::new(jiff::civil::date(2024, 6, 1));
        for (text, says, marked) in [
            ("seen", "a comparison is missing", "n"),
            ("= 5", "a column is missing", "="),
            ("seen > 5", "not a date such as", "5"),
            ("seen = 2024-03-05 seen", "does not belong", "seen"),
            ("sene = 2024-03-05", "did you mean \"seen\"?", "sene"),
            ("seen | yer = 3", "did you mean year?", "yer"),
            ("station > Skarholm", "has no order", "station"),
            ("seen is blank", "is missing", "blank"),
            ("seen between 2024-01-01", "two ends", "1"),
            ("logged | hour = 5", "put | in ZONE before it", "hour"),
            ("station = \"Port", "not closed", "\"Port"),
        ] {
            let error = Condition::compile(text, &COLUMNS, &setting).unwrap_err();
            assert!(error.to_string().contains(says), "{text}: {error}");
            assert_eq!(&text[error.span.clone()], marked, "{text}: {error}");
        }
    }
}
