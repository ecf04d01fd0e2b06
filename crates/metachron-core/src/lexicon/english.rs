//! English: the names of CLDR's `en`, and written variants that are common and unmistakable.

use super::{Half, Length, Meaning};
use Length::{Either, Full, Short};
use Meaning::{Month, Ordinal, Weekday};

/// Full and short names (CLDR 48, `en`, Gregorian, format wide and abbreviated).
pub(super) static MONTHS: [(&str, &str); 12] = [
    ("January", "Jan"),
    ("February", "Feb"),
    ("March", "Mar"),
    ("April", "Apr"),
    ("May", "May"),
    ("June", "Jun"),
    ("July", "Jul"),
    ("August", "Aug"),
    ("September", "Sep"),
    ("October", "Oct"),
    ("November", "Nov"),
    ("December", "Dec"),
];

/// Full and short names (CLDR 48, `en`, format wide and abbreviated), from Monday.
pub(super) static WEEKDAYS: [(&str, &str); 7] = [
    ("Monday", "Mon"),
    ("Tuesday", "Tue"),
    ("Wednesday", "Wed"),
    ("Thursday", "Thu"),
    ("Friday", "Fri"),
    ("Saturday", "Sat"),
    ("Sunday", "Sun"),
];

/// All words, lower-case and sorted. `sept`, `tues`, `thur` and `thurs` are not in CLDR but usual.
pub(super) static WORDS: [(&str, Meaning); 47] = [
    ("am", Meaning::Half(Half::Am)),
    ("apr", Month(4, Short)),
    ("april", Month(4, Full)),
    ("aug", Month(8, Short)),
    ("august", Month(8, Full)),
    ("dec", Month(12, Short)),
    ("december", Month(12, Full)),
    ("feb", Month(2, Short)),
    ("february", Month(2, Full)),
    ("fri", Weekday(5, Short)),
    ("friday", Weekday(5, Full)),
    ("jan", Month(1, Short)),
    ("january", Month(1, Full)),
    ("jul", Month(7, Short)),
    ("july", Month(7, Full)),
    ("jun", Month(6, Short)),
    ("june", Month(6, Full)),
    ("mar", Month(3, Short)),
    ("march", Month(3, Full)),
    ("may", Month(5, Either)),
    ("mon", Weekday(1, Short)),
    ("monday", Weekday(1, Full)),
    ("nd", Ordinal),
    ("nov", Month(11, Short)),
    ("november", Month(11, Full)),
    ("oct", Month(10, Short)),
    ("october", Month(10, Full)),
    ("pm", Meaning::Half(Half::Pm)),
    ("rd", Ordinal),
    ("sat", Weekday(6, Short)),
    ("saturday", Weekday(6, Full)),
    ("sep", Month(9, Short)),
    ("sept", Month(9, Short)),
    ("september", Month(9, Full)),
    ("st", Ordinal),
    ("sun", Weekday(7, Short)),
    ("sunday", Weekday(7, Full)),
    ("th", Ordinal),
    ("thu", Weekday(4, Short)),
    ("thur", Weekday(4, Short)),
    ("thurs", Weekday(4, Short)),
    ("thursday", Weekday(4, Full)),
    ("tue", Weekday(2, Short)),
    ("tues", Weekday(2, Short)),
    ("tuesday", Weekday(2, Full)),
    ("wed", Weekday(3, Short)),
    ("wednesday", Weekday(3, Full)),
];
