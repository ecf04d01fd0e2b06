//! Calendars and eras in which dates are written, and the date of ISO 8601 that each day is.

use icu_calendar::types::Month;
use icu_calendar::{AnyCalendar, AnyCalendarKind, Iso};
use jiff::civil::Date;
use strum::{Display, IntoStaticStr, VariantArray};

use crate::named::Named;

/// The calendar that years, months and days are counted by.
///
/// The names are those of CLDR (Unicode Technical Standard 35, Part 1, calendar types) where a
/// shorter one would not say less.
///
/// ```
/// use metachron_core::calendar::Calendar;
/// use metachron_core::named::Named;
/// let persian = Calendar::named("persian").unwrap();
/// assert_eq!(persian.to_iso(1403, 1, 15), Some(jiff::civil::date(2024, 4, 3)));
/// assert_eq!(Calendar::Buddhist.to_iso(2567, 4, 3), Some(jiff::civil::date(2024, 4, 3)));
/// assert_eq!(persian.to_iso(1402, 12, 30), None); // Esfand had 29 days that year
/// ```
#[derive(
    Debug,
    Clone,
    Copy,
    PartialEq,
    Eq,
    PartialOrd,
    Ord,
    Hash,
    Default,
    VariantArray,
    IntoStaticStr,
    Display,
)]
#[strum(serialize_all = "kebab-case")]
pub enum Calendar {
    /// That of ISO 8601.
    #[default]
    Gregorian,
    /// As in the Roman empire and in Christian countries before they took the Gregorian one.
    Julian,
    /// 543 years ahead.
    Buddhist,
    /// By the eras of the emperors.
    Japanese,
    /// From 1912, the Republic of China.
    Roc,
    /// Solar Hijri, as in Iran and Afghanistan.
    Persian,
    /// Lunar Hijri by rule, from Friday 16 July 622.
    IslamicCivil,
    /// Lunar Hijri by rule, from Thursday 15 July 622.
    IslamicTabular,
    /// Lunar Hijri as Saudi Arabia has it.
    IslamicUmalqura,
    /// From the creation of the world.
    Hebrew,
    /// Saka, the national calendar of India.
    Indian,
    /// From the year 284.
    Coptic,
    /// From the year 8, Amete Mihret.
    Ethiopic,
    /// From 5493 BC, Amete Alem.
    EthiopicAmeteAlem,
}

impl Calendar {
    /// What it is called in a sentence.
    ///
    /// ```
    /// use metachron_core::calendar::Calendar;
    /// assert_eq!(Calendar::Buddhist.phrase(), "the Buddhist calendar");
    /// ```
    pub fn phrase(self) -> &'static str {
        match self {
            Calendar::Gregorian => "the Gregorian calendar",
            Calendar::Julian => "the Julian calendar",
            Calendar::Buddhist => "the Buddhist calendar",
            Calendar::Japanese => "the Japanese calendar",
            Calendar::Roc => "the calendar of the Republic of China",
            Calendar::Persian => "the Persian calendar",
            Calendar::IslamicCivil => "the Islamic calendar (civil)",
            Calendar::IslamicTabular => "the Islamic calendar (tabular)",
            Calendar::IslamicUmalqura => "the Islamic calendar (Umm al-Qura)",
            Calendar::Hebrew => "the Hebrew calendar",
            Calendar::Indian => "the Indian national calendar",
            Calendar::Coptic => "the Coptic calendar",
            Calendar::Ethiopic => "the Ethiopic calendar",
            Calendar::EthiopicAmeteAlem => "the Ethiopic calendar (Amete Alem)",
        }
    }

    /// The calendar by its name in CLDR, where that leaves nothing open.
    ///
    /// ```
    /// use metachron_core::calendar::Calendar;
    /// assert_eq!(Calendar::of_cldr("islamic-tbla"), Some(Calendar::IslamicTabular));
    /// ```
    pub fn of_cldr(name: &str) -> Option<Calendar> {
        match name {
            "gregorian" => Some(Calendar::Gregorian),
            "islamic-civil" => Some(Calendar::IslamicCivil),
            "islamic-tbla" => Some(Calendar::IslamicTabular),
            "islamic-umalqura" => Some(Calendar::IslamicUmalqura),
            _ => Calendar::named(name).ok(),
        }
    }

    /// What has to be added to a year to have that of the Gregorian calendar, where months and days
    /// are the same.
    fn ahead(self) -> Option<i32> {
        match self {
            Calendar::Gregorian | Calendar::Japanese => Some(0),
            Calendar::Buddhist => Some(-543),
            Calendar::Roc => Some(1911),
            _ => None,
        }
    }

    /// Whether its months and days are those of the Gregorian calendar.
    pub fn shares_months(self) -> bool {
        self.ahead().is_some()
    }

    /// Whether its months have names of their own.
    pub fn has_own_months(self) -> bool {
        !self.shares_months() && self != Calendar::Julian
    }

    /// Whether its years have fewer than four digits.
    pub fn has_small_years(self) -> bool {
        matches!(self, Calendar::Japanese | Calendar::Roc)
    }

    /// How many months the longest year has.
    ///
    /// ```
    /// use metachron_core::calendar::Calendar;
    /// assert_eq!((Calendar::Gregorian.months(), Calendar::Coptic.months()), (12, 13));
    /// ```
    pub fn months(self) -> u8 {
        match self {
            Calendar::Hebrew
            | Calendar::Coptic
            | Calendar::Ethiopic
            | Calendar::EthiopicAmeteAlem => 13,
            _ => 12,
        }
    }

    /// Whether nobody can tell from its number which month is meant: in the Hebrew calendar they are
    /// counted from Tishri as well as from Nisan.
    pub fn months_need_names(self) -> bool {
        self == Calendar::Hebrew
    }

    /// The year of a day.
    ///
    /// ```
    /// use metachron_core::calendar::Calendar;
    /// assert_eq!(Calendar::Buddhist.year_of(jiff::civil::date(2024, 4, 3)), 2567);
    /// ```
    pub fn year_of(self, date: Date) -> i16 {
        if let Some(ahead) = self.ahead() {
            return (i32::from(date.year()) - ahead) as i16;
        }
        let (month, day) = (date.month() as u8, date.day() as u8);
        let iso = icu_calendar::Date::try_new_iso(i32::from(date.year()), month, day);
        let year = iso.map(|iso| iso.to_calendar(self.engine()).year().extended_year());
        year.ok().and_then(|year| i16::try_from(year).ok()).unwrap_or(date.year())
    }

    /// The day; none if the calendar has none such. Months go by the numbers that CLDR gives to
    /// their names: in the Hebrew calendar 6 is Adar I, 7 Adar, 8 Nisan, 14 Adar II.
    ///
    /// ```
    /// use metachron_core::calendar::Calendar;
    /// assert_eq!(Calendar::Julian.to_iso(1700, 2, 29), Some(jiff::civil::date(1700, 3, 11)));
    /// assert_eq!(Calendar::Gregorian.to_iso(1700, 2, 29), None);
    /// ```
    pub fn to_iso(self, year: i32, month: u8, day: u8) -> Option<Date> {
        if let Some(ahead) = self.ahead() {
            let year = i16::try_from(year + ahead).ok()?;
            return Date::new(year, i8::try_from(month).ok()?, i8::try_from(day).ok()?).ok();
        }
        let month = match (self, month) {
            (Calendar::Hebrew, 6) => Month::leap(5),
            (Calendar::Hebrew, 14) => Month::new(6),
            (Calendar::Hebrew, 7..) => Month::new(month - 1),
            _ => Month::new(month),
        };
        let date = icu_calendar::Date::try_new(year.into(), month, day, self.engine()).ok()?;
        let iso = date.to_calendar(Iso);
        let year = i16::try_from(iso.year().extended_year()).ok()?;
        Date::new(year, iso.month().ordinal as i8, iso.day_of_month().0 as i8).ok()
    }

    fn engine(self) -> AnyCalendar {
        AnyCalendar::new(match self {
            Calendar::Gregorian | Calendar::Japanese => AnyCalendarKind::Gregorian,
            Calendar::Julian => AnyCalendarKind::Julian,
            Calendar::Buddhist => AnyCalendarKind::Buddhist,
            Calendar::Roc => AnyCalendarKind::Roc,
            Calendar::Persian => AnyCalendarKind::Persian,
            Calendar::IslamicCivil => AnyCalendarKind::HijriTabularTypeIIFriday,
            Calendar::IslamicTabular => AnyCalendarKind::HijriTabularTypeIIThursday,
            Calendar::IslamicUmalqura => AnyCalendarKind::HijriUmmAlQura,
            Calendar::Hebrew => AnyCalendarKind::Hebrew,
            Calendar::Indian => AnyCalendarKind::Indian,
            Calendar::Coptic => AnyCalendarKind::Coptic,
            Calendar::Ethiopic => AnyCalendarKind::Ethiopian,
            Calendar::EthiopicAmeteAlem => AnyCalendarKind::EthiopianAmeteAlem,
        })
    }
}

/// An era that counts years of its own, though its months and days are Gregorian.
///
/// ```
/// use metachron_core::calendar::Era;
/// assert_eq!(Era::Reiwa.year(6), 2024);
/// assert_eq!(Era::Before.year(44), -43);
/// ```
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Era {
    /// Backwards, from the year before year 1.
    Before,
    /// Forwards from year 1.
    Since,
    /// 明治
    Meiji,
    /// 大正
    Taisho,
    /// 昭和
    Showa,
    /// 平成
    Heisei,
    /// 令和
    Reiwa,
    /// 民國, the Republic of China.
    Minguo,
    /// พุทธศักราช
    Buddhist,
    /// The one that another calendar counts by: its years are as they are.
    OfCalendar,
}

impl Era {
    /// Every era of Gregorian years, in the order of the lexicon's codes.
    pub const ALL: [Era; 9] = [
        Era::Before,
        Era::Since,
        Era::Meiji,
        Era::Taisho,
        Era::Showa,
        Era::Heisei,
        Era::Reiwa,
        Era::Minguo,
        Era::Buddhist,
    ];

    /// The year of the Gregorian calendar. There is no year 0 between the first two; the calendar
    /// inside counts on (ISO 8601-1:2019, 4.3.2).
    pub fn year(self, year: i32) -> i32 {
        match self {
            Era::Before => 1 - year,
            Era::Since | Era::OfCalendar => year,
            Era::Meiji => 1867 + year,
            Era::Taisho => 1911 + year,
            Era::Showa => 1925 + year,
            Era::Heisei => 1988 + year,
            Era::Reiwa => 2018 + year,
            Era::Minguo => 1911 + year,
            Era::Buddhist => year - 543,
        }
    }

    /// Its first day, if it has one in that calendar: before 1873 Japan counted days otherwise.
    /// Documents of an era may count on beyond its end. Source: CLDR 48.2, calendarData.
    ///
    /// ```
    /// use metachron_core::calendar::Era;
    /// assert_eq!(Era::Reiwa.begins(), Some(jiff::civil::date(2019, 5, 1)));
    /// ```
    pub fn begins(self) -> Option<Date> {
        let day = jiff::civil::date;
        match self {
            Era::Meiji => Some(day(1873, 1, 1)),
            Era::Taisho => Some(day(1912, 7, 30)),
            Era::Showa => Some(day(1926, 12, 25)),
            Era::Heisei => Some(day(1989, 1, 8)),
            Era::Reiwa => Some(day(2019, 5, 1)),
            Era::Minguo => Some(day(1912, 1, 1)),
            Era::Before | Era::Since | Era::Buddhist | Era::OfCalendar => None,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use jiff::civil::date;

    #[test]
    fn new_years_and_known_days() {
        // Nowruz 1403, Muharram 1446, Rosh Hashanah 5785, Thout 1741, Meskerem 2017, Chaitra 1946.
        for (calendar, year, month, day, iso) in [
            (Calendar::Persian, 1403, 1, 1, date(2024, 3, 20)),
            (Calendar::Persian, 1403, 12, 30, date(2025, 3, 20)),
            (Calendar::IslamicUmalqura, 1446, 1, 1, date(2024, 7, 7)),
            (Calendar::IslamicCivil, 1446, 1, 1, date(2024, 7, 8)),
            (Calendar::IslamicTabular, 1446, 1, 1, date(2024, 7, 7)),
            (Calendar::Hebrew, 5785, 1, 1, date(2024, 10, 3)),
            (Calendar::Hebrew, 5784, 14, 14, date(2024, 3, 24)),
            (Calendar::Hebrew, 5784, 6, 14, date(2024, 2, 23)),
            (Calendar::Hebrew, 5785, 8, 15, date(2025, 4, 13)),
            (Calendar::Coptic, 1741, 1, 1, date(2024, 9, 11)),
            (Calendar::Ethiopic, 2017, 1, 1, date(2024, 9, 11)),
            (Calendar::EthiopicAmeteAlem, 7517, 1, 1, date(2024, 9, 11)),
            (Calendar::Indian, 1946, 1, 1, date(2024, 3, 21)),
            (Calendar::Roc, 113, 3, 5, date(2024, 3, 5)),
        ] {
            assert_eq!(calendar.to_iso(year, month, day), Some(iso), "{calendar} {year}");
            assert_eq!(i32::from(calendar.year_of(iso)), year, "{calendar} {iso}");
        }
    }

    #[test]
    fn days_that_do_not_exist() {
        for (calendar, year, month, day) in [
            (Calendar::Persian, 1402, 12, 30),
            (Calendar::IslamicCivil, 1445, 1, 31),
            (Calendar::Hebrew, 5785, 6, 1), // no leap year
            (Calendar::Coptic, 1740, 13, 6),
            (Calendar::Buddhist, 2566, 2, 29),
            (Calendar::Roc, 112, 2, 29),
        ] {
            assert_eq!(calendar.to_iso(year, month, day), None, "{calendar} {year}-{month}-{day}");
        }
    }

    #[test]
    fn an_era_begins_in_its_first_year() {
        for era in Era::ALL {
            if let Some(first) = era.begins().filter(|_| era != Era::Meiji) {
                assert_eq!(era.year(1), i32::from(first.year()), "{era:?}");
            }
        }
    }
}
