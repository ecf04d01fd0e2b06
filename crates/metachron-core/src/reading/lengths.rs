//! Lengths of time as they are written: clock forms, numbers of a unit, amounts with their units.
//!
//! They are rarer than dates and hardly two alike, so they have one engine, which both the interpreter and
//! the compiled programs use.

use std::borrow::Cow;

use super::letters::{inside_a_run, same_letter};
use super::quantities::{JOINS, NumberMarks, Quantity, half_behind, number, quantity};
use super::{Fit, Terms, Unfit};
use crate::bounds;
use crate::duration::{Duration, Unit, amount};
use crate::layout::{Amounts, Field, LayoutPart};
use crate::lexicon::{UnitWord, unit_word};
use crate::typed::TypedValue;

/// Reads a normalised value by the parts of a layout; none if it is not written so.
pub(crate) fn length(
    parts: &[LayoutPart],
    value: &str,
    terms: Terms,
) -> Option<Result<Fit, Unfit>> {
    let found = find(parts, value, "", FoundAmounts::default(), terms)?;
    Some(found.duration().map(|duration| {
        let moment = TypedValue::Duration(duration);
        Fit::whole(moment, moment.fraction_digits())
    }))
}

/// A length of time as somebody types it: in ISO 8601, or in amounts with their units.
///
/// ```
/// use metachron_core::reading::{Terms, length_in_words};
/// let typed = length_in_words("1 hour 30 min", Terms::default()).unwrap();
/// assert_eq!(typed, "PT1H30M".parse().unwrap());
/// ```
pub fn length_in_words(text: &str, terms: Terms) -> Option<Duration> {
    text.parse::<Duration>().ok().or_else(|| {
        let told = told(text).filter(|told| told.is_all_of(text))?;
        let sum = told.sum(Amounts::Words, terms).ok()?;
        Some(if told.negative { sum.negated() } else { sum })
    })
}

/// What the fields of a layout found.
#[derive(Clone, Default)]
struct FoundAmounts<'v> {
    negative: bool,
    counts: Vec<(Unit, &'v str)>,
    /// The digits behind the mark of the last count.
    fraction: &'v str,
    /// What a field found that is whole by itself.
    whole: Option<Result<Duration, Unfit>>,
}

impl FoundAmounts<'_> {
    fn duration(&self) -> Result<Duration, Unfit> {
        let sum = match self.whole {
            Some(whole) => whole?,
            None => self.counted()?,
        };
        Ok(if self.negative { sum.negated() } else { sum })
    }

    /// The sum of the counts. Behind a larger unit the next is less than one of that.
    fn counted(&self) -> Result<Duration, Unfit> {
        let mut sum = Duration::ZERO;
        let mut before: Option<Unit> = None;
        for (at, (unit, digits)) in self.counts.iter().enumerate() {
            let bound = match (before, *unit) {
                (Some(Unit::DAYS), Unit::HOURS) => Some(&bounds::HOUR_OF_DAY),
                (Some(Unit::HOURS), Unit::MINUTES) => Some(&bounds::MINUTE),
                (Some(Unit::MINUTES), Unit::SECONDS) => Some(&bounds::SECOND_OF_MINUTE),
                _ => None,
            };
            if let Some(bound) = bound {
                bound.check(digits.parse().map_err(|_| Unfit::NoLength)?)?;
            }
            let last = at + 1 == self.counts.len() && !self.fraction.is_empty();
            let part = match last {
                true => amount(&format!("{digits}.{}", self.fraction), *unit),
                false => amount(digits, *unit),
            };
            sum = part.and_then(|part| sum.plus(part)).ok_or(Unfit::NoLength)?;
            before = Some(*unit);
        }
        Ok(sum)
    }
}

/// Matches the parts against all of `rest`; `read` is what stands before it.
fn find<'v>(
    parts: &[LayoutPart],
    rest: &'v str,
    read: &str,
    found: FoundAmounts<'v>,
    terms: Terms,
) -> Option<FoundAmounts<'v>> {
    let Some((part, later)) = parts.split_first() else {
        return rest.is_empty().then_some(found);
    };
    let go_on = |length: usize, found: FoundAmounts<'v>| {
        let read = if length == 0 { read } else { &rest[..length] };
        find(later, &rest[length..], read, found, terms)
    };
    match part {
        LayoutPart::Space => {
            let length = rest.len() - rest.trim_start().len();
            if length == 0 { None } else { go_on(length, found) }
        }
        LayoutPart::Text(text) => {
            let mut characters = rest.char_indices();
            let mut expected = text.chars();
            let same = expected
                .all(|own| characters.next().is_some_and(|(_, other)| same_letter(own, other)));
            let length = characters.next().map_or(rest.len(), |(at, _)| at);
            if same { go_on(length, found) } else { None }
        }
        LayoutPart::Field(Field::Any) => {
            let mut ends = rest.char_indices().map(|(at, _)| at).chain([rest.len()]);
            ends.find_map(|end| {
                let (taken, after) = rest.split_at(end);
                let cuts = inside_a_run(read, if taken.is_empty() { after } else { taken })
                    || inside_a_run(if taken.is_empty() { read } else { taken }, after);
                if cuts { None } else { go_on(end, found.clone()) }
            })
        }
        LayoutPart::Field(Field::Count(unit)) => {
            // The sign of the whole stands before its first number.
            let sign = usize::from(found.counts.is_empty() && rest.starts_with(['-', '+']));
            let digits = digits(&rest[sign..]);
            let behind_digit = read.ends_with(|c: char| c.is_ascii_digit());
            if digits.is_empty() || digits.len() > 9 || behind_digit {
                return None;
            }
            // Minutes and seconds behind others have two digits at most.
            if !found.counts.is_empty() && digits.len() > 2 {
                return None;
            }
            let mut found = found;
            found.negative |= rest.starts_with('-') && sign > 0;
            found.counts.push((*unit, digits));
            go_on(sign + digits.len(), found)
        }
        LayoutPart::Field(Field::Fraction(width)) => {
            let fraction = digits(rest);
            let fits = width.is_none_or(|width| usize::from(width) == fraction.len());
            (fits && !fraction.is_empty()).then_some(())?;
            go_on(fraction.len(), FoundAmounts { fraction, ..found })
        }
        LayoutPart::Field(Field::Decimal(unit)) => {
            let negative = rest.starts_with('-');
            let sign = usize::from(rest.starts_with(['-', '+']));
            let number = number(&rest[sign..])?;
            let whole = Some(amount_of(number, *unit, terms));
            go_on(sign + number.len(), FoundAmounts { negative, whole, ..found })
        }
        LayoutPart::Field(Field::Amounts(Amounts::Iso)) => {
            let end = rest.find(char::is_whitespace).unwrap_or(rest.len());
            let whole = Some(Ok(rest[..end].parse::<Duration>().ok()?));
            go_on(end, FoundAmounts { whole, ..found })
        }
        LayoutPart::Field(Field::Amounts(amounts)) => {
            let told = told(rest)?;
            let whole = Some(told.sum(*amounts, terms));
            go_on(told.length, FoundAmounts { negative: told.negative, whole, ..found })
        }
        LayoutPart::Field(_) => None,
    }
}

fn digits(text: &str) -> &str {
    let end = text.find(|c: char| !c.is_ascii_digit()).unwrap_or(text.len());
    &text[..end]
}

/// A number of a unit.
fn amount_of(number: &str, unit: Unit, terms: Terms) -> Result<Duration, Unfit> {
    let decimal = terms.written_in().map(|own| if own.has_decimal_comma() { ',' } else { '.' });
    let plain = match (NumberMarks::of(number), decimal) {
        (NumberMarks::None | NumberMarks::Decimal(_), _) => Cow::Borrowed(number),
        (NumberMarks::Thousands(mark), _) => Cow::Owned(number.replace(mark, "")),
        (NumberMarks::Unclear(','), None) => return Err(Unfit::UnclearComma),
        (NumberMarks::Unclear(mark), Some(decimal)) if decimal != mark => {
            Cow::Owned(number.replace(mark, ""))
        }
        (NumberMarks::Unclear(_), _) => Cow::Borrowed(number),
        (NumberMarks::Wrong, _) => return Err(Unfit::NoLength),
    };
    amount(&plain, unit).ok_or(Unfit::NoLength)
}

/// A number and the word for its unit.
#[derive(Debug)]
pub(crate) struct ToldAmount<'v> {
    pub number: Cow<'v, str>,
    /// The marks that it is written with.
    pub marks: NumberMarks,
    /// What stands behind the number: the word, and what is before that.
    pub behind: &'v str,
    pub word: &'static UnitWord,
}

/// Amounts with their units, as they stand in a value.
pub(crate) struct Told<'v> {
    /// Whether a minus stands before it all.
    negative: bool,
    amounts: Vec<ToldAmount<'v>>,
    /// Minutes behind hours that have no unit, as in `1h30`.
    minutes: Option<&'v str>,
    /// Whether its last number has no unit.
    lacks_unit: bool,
    /// The bytes that it takes.
    length: usize,
}

/// The amounts at the beginning of a text: a number and the word for its unit, and so on.
pub(crate) fn told(text: &str) -> Option<Told<'_>> {
    let negative = text.starts_with('-');
    let mut at = usize::from(text.starts_with(['-', '+']));
    let mut told =
        Told { negative, amounts: Vec::new(), minutes: None, lacks_unit: false, length: 0 };
    loop {
        let behind_space = skip(text, at, |c| c == ' ');
        let Some(quantity) = quantity(&text[behind_space..]) else { break };
        let behind_number = behind_space + quantity.length;
        // `une demi-heure`
        let joins = |c: char| c == ' ' || (c == '-' && quantity.is_in_words());
        let begin = skip(text, behind_number, joins);
        let is_end = |c: char| c.is_ascii_digit() || c == ' ' || c == ',' || c == ';' || c == '+';
        let end = skip(text, begin, |c| !is_end(c));
        let Some((unit, word, number)) = counted(&quantity, &text[begin..end]) else {
            let is_last = behind_number == text.len() && !quantity.is_in_words();
            if !is_last {
                return None;
            }
            let of_hours = told.amounts.last().is_some_and(|own| own.word.is_hours());
            let number = &text[behind_space..behind_number];
            let two = number.len() == 2 && number < "60" && number.bytes().all(|b| b != b'.');
            match of_hours && two {
                true => told.minutes = Some(number),
                false => told.lacks_unit = true,
            }
            told.length = behind_number;
            return Some(told);
        };
        let end = begin + unit;
        // `an hour and a half`
        let (more, number) = match with_a_half(&text[end..], &number) {
            Some((length, number)) => (length, Cow::Owned(number)),
            None => (0, number),
        };
        let (marks, behind) = (quantity.marks, &text[behind_number..end]);
        told.amounts.push(ToldAmount { number, marks, behind, word });
        let end = end + more;
        told.length = end;
        // What stands between this amount and the next, if there is one.
        at = skip(text, end, |c| matches!(c, ' ' | ',' | ';'));
        let word = &text[at..skip(text, at, |c| c != ' ')];
        if JOINS.contains(&word) {
            at += word.len();
        }
    }
    told.names_units().then_some(told)
}

/// The bytes of the unit's word, what it stands for, and the number before it.
fn counted<'v>(
    quantity: &Quantity<'v>,
    word: &str,
) -> Option<(usize, &'static UnitWord, Cow<'v, str>)> {
    if let Some(unit) = unit_word(word) {
        return Some((word.len(), unit, quantity.before(unit)?));
    }
    // `1時間半`
    let own = word.strip_suffix('半')?;
    let unit = unit_word(own)?;
    Some((own.len(), unit, quantity.before(unit)?))
}

/// A half of the same unit behind an amount that ends a text, or goes on with a mark: its bytes, and the number with it.
fn with_a_half(behind: &str, number: &str) -> Option<(usize, String)> {
    let length = match behind.strip_prefix('半') {
        Some(_) => '半'.len_utf8(),
        None => half_behind(behind)?.0,
    };
    let ends = behind[length..].is_empty() || behind[length..].starts_with([',', ';']);
    let is_whole = number.bytes().all(|byte| byte.is_ascii_digit());
    (ends && is_whole).then(|| (length, format!("{number}.5")))
}

fn skip(text: &str, from: usize, over: impl Fn(char) -> bool) -> usize {
    text[from..].find(|c| !over(c)).map_or(text.len(), |length| from + length)
}

impl Told<'_> {
    /// Whether some number has a unit.
    pub(crate) fn names_units(&self) -> bool {
        !self.amounts.is_empty()
    }

    /// Whether it takes all of a value.
    pub(crate) fn is_all_of(&self, value: &str) -> bool {
        self.length == value.len()
    }

    /// The amounts, from left to right.
    pub(crate) fn amounts(&self) -> &[ToldAmount<'_>] {
        &self.amounts
    }

    /// Whether a word may stand for minutes as well as for months.
    pub(crate) fn has_open_m(&self, terms: Terms) -> bool {
        let language = terms.written_in().map(|locale| locale.language());
        self.amounts.iter().any(|own| own.word.is_minutes_or_months(language))
    }

    fn sum(&self, amounts: Amounts, terms: Terms) -> Result<Duration, Unfit> {
        if self.lacks_unit {
            return Err(if self.names_units() { Unfit::NoLastUnit } else { Unfit::NoUnit });
        }
        let units = self.units(amounts, terms)?;
        let mut sum = Duration::ZERO;
        for (own, unit) in self.amounts.iter().zip(units) {
            sum = sum.plus(amount_of(&own.number, unit, terms)?).ok_or(Unfit::NoLength)?;
        }
        if let Some(minutes) = self.minutes {
            let minutes = amount(minutes, Unit::MINUTES).ok_or(Unfit::NoLength)?;
            sum = sum.plus(minutes).ok_or(Unfit::NoLength)?;
        }
        Ok(sum)
    }

    /// The unit of each amount.
    fn units(&self, amounts: Amounts, terms: Terms) -> Result<Vec<Unit>, Unfit> {
        let language = terms.written_in().map(|locale| locale.language());
        let words = || self.amounts.iter().map(|own| own.word);
        let open_m = |word: &UnitWord| word.is_minutes_or_months(language);
        let alone: Vec<Option<Unit>> = words().map(|word| word.unit_in(language)).collect();
        // Words that are not all of English are of another language, in which `s` may be hours.
        let foreign = language.is_none() && !words().all(|word| word.is_in("en"));
        let company = if foreign { self.in_company() } else { None };
        let unclear = words().zip(&alone).find(|(word, unit)| unit.is_none() && !open_m(word));
        let units = match (company, unclear) {
            (Some(units), _) => units,
            (None, None) => alone,
            (None, Some((word, _))) => {
                let mut meanings = word.meanings().into_iter();
                let one = meanings.next().unwrap_or((Unit::HOURS, "en"));
                let other = meanings.next().unwrap_or(one);
                return Err(Unfit::UnclearUnit { one, other });
            }
        };
        // `m` is minutes beside hours and seconds and behind days, unless there are years.
        let has_years = units.contains(&Some(Unit::YEARS));
        let is_clock = |unit: &Option<Unit>| matches!(unit, Some(Unit::Nanos(_)));
        let has_clock = units.iter().any(is_clock) || self.minutes.is_some();
        let mut behind_days = false;
        let mut settled = Vec::with_capacity(units.len());
        for unit in &units {
            let surely_minutes = !has_years && (has_clock || behind_days);
            settled.push(match (unit, amounts) {
                (Some(unit), _) => *unit,
                (None, Amounts::Months) if surely_minutes => return Err(Unfit::MinutesOrMonths),
                (None, Amounts::Months) => Unit::MONTHS,
                (None, Amounts::Minutes) => Unit::MINUTES,
                (None, _) if surely_minutes => Unit::MINUTES,
                (None, _) => return Err(Unfit::MinutesOrMonths),
            });
            behind_days |= *unit == Some(Unit::DAYS);
        }
        Ok(settled)
    }

    /// The units in the languages that have all of the words, if these agree.
    fn in_company(&self) -> Option<Vec<Option<Unit>>> {
        let mut words = self.amounts.iter().map(|own| own.word).filter(|own| !own.is_mark());
        let first = words.next()?.languages();
        let common = words.fold(first, |common, word| {
            let own = word.languages();
            common.into_iter().filter(|language| own.contains(language)).collect()
        });
        let in_language = |language: &str| -> Option<Vec<Option<Unit>>> {
            let units = self.amounts.iter().map(|own| match own.word.unit_in(Some(language)) {
                None if !own.word.is_minutes_or_months(Some(language)) => None,
                unit => Some(unit),
            });
            units.collect()
        };
        // One word alone does not show its language: it takes two that agree.
        let mut all = common.iter().filter(|_| self.amounts.len() > 1).map(|own| in_language(own));
        let first = all.next()??;
        all.all(|other| other.as_ref() == Some(&first)).then_some(first)
    }
}
