//! Written variants that CLDR lacks, each with the reason why it may be read so.

use crate::code::Code;

/// Language, meaning, variant.
pub const VARIANTS: &[(&str, Code, &str)] = &[
    // English: usual four-letter abbreviations beside CLDR's `Sep`, `Tue`, `Thu`.
    ("en", Code::MonthShort(9), "Sept"),
    ("en", Code::WeekdayShort(2), "Tues"),
    ("en", Code::WeekdayShort(4), "Thur"),
    ("en", Code::WeekdayShort(4), "Thurs"),
    ("en", Code::Am, "a.m"),
    ("en", Code::Pm, "p.m"),
    ("en", Code::Ordinal, "st"),
    ("en", Code::Ordinal, "nd"),
    ("en", Code::Ordinal, "rd"),
    ("en", Code::Ordinal, "th"),
    ("en", Code::Bce, "BC"),
    ("en", Code::Ce, "AD"),
    ("en", Code::Bce, "BCE"),
    ("en", Code::Ce, "CE"),
    // French: the first of a month.
    ("fr", Code::Ordinal, "er"),
    // German: month names of three letters, as instruments and old exports cut them.
    ("de", Code::MonthShort(3), "Mrz"),
    ("de", Code::MonthShort(6), "Jun"),
    ("de", Code::MonthShort(7), "Jul"),
    ("de", Code::MonthShort(9), "Sep"),
    // Austrian and Bavarian for January and February.
    ("de", Code::MonthFull(1), "Jänner"),
    ("de", Code::MonthFull(2), "Feber"),
    // Spanish: `setiembre` is as right as `septiembre` (both in the academy's dictionary).
    ("es", Code::MonthFull(9), "setiembre"),
    ("es", Code::MonthShort(9), "set"),
    ("es", Code::MonthShort(9), "sep"),
    ("es", Code::MonthShort(9), "sept"),
    // Italian, Portuguese: abbreviations of three letters.
    ("pt", Code::MonthShort(9), "set"),
    ("it", Code::MonthShort(9), "sett"),
    // Dutch, Danish, Norwegian, Swedish: cut to three letters, or written out to four.
    ("nl", Code::MonthShort(3), "mar"),
    ("da", Code::MonthShort(9), "sept"),
    ("nb", Code::MonthShort(9), "sept"),
    ("sv", Code::MonthShort(9), "sep"),
    // Polish: abbreviations of the short months' genitives.
    ("pl", Code::MonthShort(5), "maj"),
    // The eras of Japan and the Republic of China, which CLDR has with their own calendars only
    // (cldr-cal-japanese 39, cldr-cal-roc 28), as Japan, Taiwan and Korea write them, and in English.
    ("ja", Code::Era(2), "明治"),
    ("ja", Code::Era(3), "大正"),
    ("ja", Code::Era(4), "昭和"),
    ("ja", Code::Era(5), "平成"),
    ("ja", Code::Era(6), "令和"),
    ("ja", Code::EraLetter(2), "M"),
    ("ja", Code::EraLetter(3), "T"),
    ("ja", Code::EraLetter(4), "S"),
    ("ja", Code::EraLetter(5), "H"),
    ("ja", Code::EraLetter(6), "R"),
    ("en", Code::Era(2), "Meiji"),
    ("en", Code::Era(3), "Taisho"),
    ("en", Code::Era(3), "Taishō"),
    ("en", Code::Era(4), "Showa"),
    ("en", Code::Era(4), "Shōwa"),
    ("en", Code::Era(5), "Heisei"),
    ("en", Code::Era(6), "Reiwa"),
    ("en", Code::Era(7), "Minguo"),
    ("zh", Code::Era(7), "民國"),
    ("zh", Code::Era(7), "民国"),
    ("zh", Code::Era(7), "中華民國"),
    // The Buddhist era, as Thailand writes it.
    ("th", Code::Era(8), "พ.ศ."),
    ("th", Code::Era(8), "พุทธศักราช"),
];

/// Words beside the fields of dates that the patterns of CLDR lack: `5 of March`, `ngày 5 tháng 3 năm
/// 2024` as Vietnamese letters have it, `07:20 uur` and the like behind a clock.
pub const CONNECTORS: &[&str] =
    &["of", "ngày", "năm", "uur", "uhr", "hrs", "hours", "heures", "horas", "ore", "óra", "hod"];
