//! Numbers as they are written in decimal, taken for what they say and nothing else.

use std::fmt;

use serde::{Deserialize, Serialize};

/// A number as it is written in decimal.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct Number {
    pub(super) negative: bool,
    /// All its digits, without the mark.
    pub(super) digits: i128,
    /// How many of them are behind the mark.
    pub(super) scale: u32,
}

/// Digits that a number has at most.
const MOST_DIGITS: usize = 36;

impl Number {
    /// One.
    pub(crate) const ONE: Number = Number { negative: false, digits: 1, scale: 0 };

    /// Takes a text for a number: a sign, digits, and a fraction behind a point or a comma; also with
    /// an exponent. None if it is no number.
    ///
    /// ```
    /// use metachron_core::epoch::Number;
    /// assert_eq!(Number::parse("45000,25").unwrap().to_string(), "45000.25");
    /// assert!(Number::parse("45 000 m").is_none());
    /// ```
    pub fn parse(text: &str) -> Option<Number> {
        let (mantissa, exponent) = match text.split_once(['e', 'E']) {
            Some((mantissa, exponent)) => (mantissa, exponent.parse::<i32>().ok()?),
            None => (text, 0),
        };
        let (negative, plain) = match mantissa.strip_prefix('-') {
            Some(plain) => (true, plain),
            None => (false, mantissa.strip_prefix('+').unwrap_or(mantissa)),
        };
        let (whole, fraction) = plain.split_once(['.', ',']).unwrap_or((plain, ""));
        let are_digits = |text: &str| text.bytes().all(|byte| byte.is_ascii_digit());
        if !are_digits(whole) || !are_digits(fraction) || whole.len() + fraction.len() == 0 {
            return None;
        }
        let fraction = fraction.trim_end_matches('0');
        if whole.len() + fraction.len() > MOST_DIGITS {
            return None;
        }
        let mut digits: i128 = 0;
        for byte in whole.bytes().chain(fraction.bytes()) {
            digits = digits.checked_mul(10)?.checked_add(i128::from(byte - b'0'))?;
        }
        let scale = fraction.len() as i32 - exponent;
        if scale >= 0 {
            return (scale as usize <= MOST_DIGITS).then_some(Number {
                negative,
                digits,
                scale: scale as u32,
            });
        }
        let digits = digits.checked_mul(10_i128.checked_pow(scale.unsigned_abs())?)?;
        Some(Number { negative, digits, scale: 0 })
    }

    /// A ratio, to nine digits behind the point, the last one rounded half away from zero.
    ///
    /// ```
    /// use metachron_core::epoch::Number;
    /// assert_eq!(Number::ratio(1, 3).to_string(), "0.333333333");
    /// assert_eq!(Number::ratio(-308, 6).to_string(), "-51.333333333");
    /// assert_eq!(Number::ratio(90, 60).to_string(), "1.5");
    /// ```
    pub fn ratio(of: i128, by: i128) -> Number {
        const SCALE: u32 = 9;
        let negative = (of < 0) != (by < 0);
        let (of, by) = (of.unsigned_abs(), by.unsigned_abs().max(1));
        // Numbers of 64 bits are divided many times faster.
        let (whole, rest) = match (u64::try_from(of), u64::try_from(by)) {
            (Ok(of), Ok(by)) => (u128::from(of / by), u128::from(of % by)),
            _ => (of / by, of % by),
        };
        if rest == 0 {
            return Number { negative: negative && whole != 0, digits: whole as i128, scale: 0 };
        }
        // Nanoseconds of 20,000 years have 21 digits, and so has a fraction of them.
        let ten = 10_u64.pow(SCALE);
        let mut fraction = match (u64::try_from(rest), u64::try_from(by)) {
            // Seconds and what is longer are so many nanoseconds.
            (Ok(rest), Ok(by)) if by.is_multiple_of(ten) => {
                let by = by / ten;
                (rest + by / 2) / by
            }
            _ => ((rest * u128::from(ten) + by / 2) / by) as u64,
        };
        let mut scale = SCALE;
        while scale > 0 && fraction.is_multiple_of(10) {
            fraction /= 10;
            scale -= 1;
        }
        let digits = whole as i128 * 10_i128.pow(scale) + i128::from(fraction);
        Number { negative: negative && digits != 0, digits, scale }
    }

    /// The sum of two; none where it has more digits than can be held.
    ///
    /// ```
    /// use metachron_core::epoch::Number;
    /// let number = |text| Number::parse(text).unwrap();
    /// assert_eq!(number("0.75").plus(number("-1.5")).unwrap().to_string(), "-0.75");
    /// ```
    pub fn plus(self, other: Number) -> Option<Number> {
        let scale = self.scale.max(other.scale);
        let scaled = |number: Number| {
            number.signed().checked_mul(10_i128.checked_pow(scale - number.scale)?)
        };
        let sum = scaled(self)?.checked_add(scaled(other)?)?;
        let (mut digits, mut scale) = (sum.checked_abs()?, scale);
        while scale > 0 && digits % 10 == 0 {
            (digits, scale) = (digits / 10, scale - 1);
        }
        Some(Number { negative: sum < 0, digits, scale })
    }

    /// It by so many, to nine digits behind the point.
    pub(crate) fn over(self, count: u64) -> Option<Number> {
        let by = 10_i128.checked_pow(self.scale)?.checked_mul(i128::from(count))?;
        (by != 0).then(|| Number::ratio(self.signed(), by))
    }

    /// A ratio without its fraction.
    pub(crate) fn whole_ratio(of: i128, by: i128) -> Number {
        let whole = of / if by == 0 { 1 } else { by };
        Number { negative: whole < 0, digits: whole.abs(), scale: 0 }
    }

    /// Whether it is nothing.
    pub fn is_zero(self) -> bool {
        self.digits == 0
    }

    /// Whether it is less than another one.
    pub fn is_below(self, other: Number) -> bool {
        let scale = self.scale.max(other.scale);
        let scaled = |number: Number| {
            let ten = 10_i128.checked_pow(scale - number.scale)?;
            number.signed().checked_mul(ten)
        };
        match (scaled(self), scaled(other)) {
            (Some(own), Some(other)) => own < other,
            // Too many digits to be compared one by one.
            _ => self.whole() < other.whole(),
        }
    }

    /// Whether its fraction is a whole number of seconds of a day, as far as its digits can say; none
    /// where they say too little.
    ///
    /// ```
    /// use metachron_core::epoch::Number;
    /// let is_clock = |text| Number::parse(text).unwrap().is_clock();
    /// assert_eq!(is_clock("45000.416666666667"), Some(true)); // 10:00:00
    /// assert_eq!(is_clock("45000.123456789"), Some(false));
    /// assert_eq!(is_clock("45000.1"), None); // too few digits to tell
    /// ```
    pub fn is_clock(self) -> Option<bool> {
        const SAYS: u32 = 6;
        const SECONDS: i128 = 86_400;
        let ten = 10_i128.checked_pow(self.scale).filter(|_| self.scale >= SAYS)?;
        let seconds = self.digits.rem_euclid(ten).checked_mul(SECONDS)?;
        let beside = seconds.rem_euclid(ten);
        // The last digit may be rounded or cut off, and a binary number loses a little.
        let slack = SECONDS + 1 + ten / 1_000_000;
        Some(beside <= slack || ten - beside <= slack)
    }

    /// Whether it has no fraction.
    ///
    /// ```
    /// use metachron_core::epoch::Number;
    /// assert!(Number::parse("45000.0").unwrap().is_whole());
    /// assert!(!Number::parse("45000.5").unwrap().is_whole());
    /// ```
    pub fn is_whole(self) -> bool {
        self.scale == 0
    }

    /// Bytes that compare as numbers do.
    pub(crate) fn sort_key(self, key: &mut Vec<u8>) {
        // The whole number below, then the digits above it.
        let whole = self.whole().unwrap_or(0);
        key.extend((whole ^ i128::MIN).to_be_bytes());
        let ten = 10_i128.checked_pow(self.scale).unwrap_or(1);
        let fraction = self.signed().rem_euclid(ten);
        let width = self.scale as usize;
        if width > 0 {
            key.extend(format!("{fraction:0>width$}").trim_end_matches('0').bytes());
        }
        // Ends before any digit.
        key.push(0);
    }

    pub(super) fn signed(self) -> i128 {
        if self.negative { -self.digits } else { self.digits }
    }

    /// The same without its fraction.
    ///
    /// ```
    /// use metachron_core::epoch::Number;
    /// assert_eq!(Number::parse("45000.75").unwrap().cut().to_string(), "45000");
    /// ```
    #[must_use]
    pub fn cut(self) -> Number {
        let digits = 10_i128.checked_pow(self.scale).map_or(0, |ten| self.digits / ten);
        Number { negative: self.negative && digits != 0, digits, scale: 0 }
    }

    /// The whole number, what its fraction is as a number, and how many digits that has; none of a negative number.
    pub(crate) fn parts(self) -> Option<(i128, u128, u32)> {
        let ten = 10_i128.checked_pow(self.scale).filter(|_| !self.negative)?;
        Some((self.digits / ten, (self.digits % ten).unsigned_abs(), self.scale))
    }

    /// The whole number below.
    pub(crate) fn whole(self) -> Option<i128> {
        Some(self.signed().div_euclid(10_i128.checked_pow(self.scale)?))
    }
}

impl From<i64> for Number {
    fn from(number: i64) -> Number {
        Number { negative: number < 0, digits: i128::from(number).abs(), scale: 0 }
    }
}

impl fmt::Display for Number {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        if self.negative {
            f.write_str("-")?;
        }
        if self.scale == 0 {
            return write!(f, "{}", self.digits);
        }
        let width = self.scale as usize;
        let (whole, fraction) = match (u64::try_from(self.digits), 10_u64.checked_pow(self.scale)) {
            (Ok(digits), Some(ten)) => (i128::from(digits / ten), i128::from(digits % ten)),
            _ => match 10_i128.checked_pow(self.scale) {
                Some(ten) => (self.digits / ten, self.digits % ten),
                None => (0, self.digits),
            },
        };
        write!(f, "{whole}.{fraction:0>width$}")
    }
}
