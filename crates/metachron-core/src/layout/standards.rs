//! Written forms that a standard gives a name to.

use super::field::YearFrom;
use super::{Kind, LayoutError, LayoutForm, ShortYears, StandardRules, spelled};

/// A standard's forms under its name.
#[derive(Debug)]
pub struct Standard {
    /// The name that may be used in place of a layout.
    pub name: &'static str,
    /// Where it is laid down.
    pub source: &'static str,
    /// Its forms in our notation, with the rules that go with each; a value has one of them at most.
    forms: fn() -> Vec<(String, StandardRules)>,
}

/// The standard lays down nothing beside the form.
const PLAIN: StandardRules =
    StandardRules { short_years: ShortYears::Open, utc: false, english: false };
/// The names are those of English, whatever language the rest of a column is in.
const ENGLISH: StandardRules = StandardRules { english: true, ..PLAIN };

/// All standards, sorted by name.
pub static STANDARDS: [Standard; 9] = [
    Standard {
        name: "asn1-generalizedtime",
        source: "ITU-T X.680 (02/2021), clause 46, GeneralizedTime",
        forms: generalized_time,
    },
    Standard {
        name: "asn1-utctime",
        source: "ITU-T X.680 (02/2021), clause 47, UTCTime; years as RFC 5280, section 4.1.2.5.1, has them",
        forms: utc_time,
    },
    Standard {
        name: "common-log",
        source: "W3C httpd, Logging Control, Common Logfile Format, date",
        forms: common_log,
    },
    Standard {
        name: "http-date",
        source: "RFC 9110, section 5.6.7, HTTP-date: the preferred form and the two obsolete ones",
        forms: http_date,
    },
    Standard {
        name: "iso-8601",
        source: "ISO 8601-1:2019, clauses 5.2 to 5.4, dates, times of day and both together",
        forms: iso_8601,
    },
    Standard {
        name: "iso-8601-duration",
        source: "ISO 8601-1:2019, clause 5.5.2, durations with designators",
        forms: iso_duration,
    },
    Standard { name: "rfc-3339", source: "RFC 3339, section 5.6, date-time", forms: rfc_3339 },
    Standard {
        name: "rfc-5322",
        source: "RFC 5322, section 3.3, date-time, with the zones and years of section 4.3",
        forms: rfc_5322,
    },
    Standard { name: "rfc-9557", source: "RFC 9557, section 4.1, date-time-ext", forms: rfc_9557 },
];

impl Standard {
    /// Its forms, checked.
    pub(super) fn alternatives(&self) -> Result<Vec<LayoutForm>, LayoutError> {
        let mut all = Vec::new();
        for (text, rules) in (self.forms)() {
            let forms = spelled(&text, YearFrom::OfTheLayout)?;
            all.extend(forms.into_iter().map(|form| match form.kind {
                Kind::DateTime if rules.utc => LayoutForm { kind: Kind::Instant, rules, ..form },
                _ => LayoutForm { rules, ..form },
            }));
        }
        Ok(all)
    }
}

fn plain(layout: &str) -> Vec<(String, StandardRules)> {
    vec![(layout.to_owned(), PLAIN)]
}

fn common_log() -> Vec<(String, StandardRules)> {
    let form = "{day:02}/{month:short}/{year}:{hour:02}:{minute:02}:{second:02} {offset:basic}";
    vec![(form.to_owned(), ENGLISH)]
}

fn rfc_3339() -> Vec<(String, StandardRules)> {
    plain("{year}-{month:02}-{day:02}T{hour:02}:{minute:02}:{second:02}[.{fraction}]{offset:colon}")
}

fn rfc_9557() -> Vec<(String, StandardRules)> {
    plain(
        "{year}-{month:02}-{day:02}T{hour:02}:{minute:02}:{second:02}[.{fraction}]{offset:colon}[{zone:brackets}]",
    )
}

/// The weekday, the seconds and a comment may be missing; section 4.3 adds years of two digits.
fn rfc_5322() -> Vec<(String, StandardRules)> {
    let form = |year| {
        format!(
            "[{{weekday:short}}, ]{{day}} {{month:short}} {year} \
             {{hour:02}}:{{minute:02}}[:{{second:02}}] {{offset:mail}}[ ({{any}})]"
        )
    };
    let short_years = ShortYears::From(1950);
    vec![(form("{year}"), ENGLISH), (form("{year:2}"), StandardRules { short_years, ..ENGLISH })]
}

fn http_date() -> Vec<(String, StandardRules)> {
    let clock = "{hour:02}:{minute:02}:{second:02}";
    let near = StandardRules { short_years: ShortYears::NearToday, ..ENGLISH };
    vec![
        (format!("{{weekday:short}}, {{day:02}} {{month:short}} {{year}} {clock} GMT"), ENGLISH),
        (format!("{{weekday}}, {{day:02}}-{{month:short}}-{{year:2}} {clock} GMT"), near),
        (format!("{{weekday:short}} {{month:short}} {{day: 2}} {clock} {{year}}"), ENGLISH),
    ]
    .into_iter()
    .map(|(form, rules)| (form, StandardRules { utc: true, ..rules }))
    .collect()
}

fn utc_time() -> Vec<(String, StandardRules)> {
    let form = "{year:2}{month:02}{day:02}{hour:02}{minute:02}[{second:02}]{offset:basic}";
    vec![(form.to_owned(), StandardRules { short_years: ShortYears::From(1950), ..PLAIN })]
}

fn generalized_time() -> Vec<(String, StandardRules)> {
    let mut forms = Vec::new();
    for clock in ["{hour:02}", "{hour:02}{minute:02}", "{hour:02}{minute:02}{second:02}"] {
        for fraction in FRACTIONS {
            for offset in ["", "{offset:basic}", "{offset:hours}"] {
                forms.push(format!("{{year}}{{month:02}}{{day:02}}{clock}{fraction}{offset}"));
            }
        }
    }
    forms.into_iter().map(|form| (form, PLAIN)).collect()
}

/// None, behind a comma, behind a point; of whatever stands before it.
const FRACTIONS: [&str; 3] = ["", ",{fraction}", ".{fraction}"];

fn iso_duration() -> Vec<(String, StandardRules)> {
    plain("{amounts:iso}")
}

fn iso_8601() -> Vec<(String, StandardRules)> {
    let extended = StandardFormat {
        dates: &[
            "{year}-{month:02}-{day:02}",
            "{year}-{yearday:03}",
            "{weekyear}-W{week:02}-{weekday:number}",
        ],
        clocks: &["{hour:02}", "{hour:02}:{minute:02}", "{hour:02}:{minute:02}:{second:02}"],
        offset: "{offset:colon}",
    };
    let basic = StandardFormat {
        dates: &[
            "{year}{month:02}{day:02}",
            "{year}{yearday:03}",
            "{weekyear}W{week:02}{weekday:number}",
        ],
        clocks: &["{hour:02}", "{hour:02}{minute:02}", "{hour:02}{minute:02}{second:02}"],
        offset: "{offset:basic}",
    };
    let mut forms = [extended.forms(), basic.forms()].concat();
    // Reduced precision (5.2.2.2, 5.2.4.3); a century has no kind here.
    forms.extend(
        ["{year}-{month:02}", "{year}", "{weekyear}-W{week:02}", "{weekyear}W{week:02}"]
            .map(str::to_owned),
    );
    // In the extended format a time of day may stand without its letter (5.3.5).
    for fraction in FRACTIONS {
        forms.push(format!("{{hour:02}}:{{minute:02}}{fraction}"));
        forms.push(format!("{{hour:02}}:{{minute:02}}:{{second:02}}{fraction}"));
    }
    let mut different: Vec<String> = Vec::new();
    for form in forms {
        if !different.contains(&form) {
            different.push(form);
        }
    }
    different.into_iter().map(|form| (form, PLAIN)).collect()
}

/// The basic or the extended format of ISO 8601-1.
struct StandardFormat {
    dates: &'static [&'static str],
    clocks: &'static [&'static str],
    offset: &'static str,
}

impl StandardFormat {
    /// Its dates, its times of day, and both together; the lowest of the clock's parts may have a
    /// fraction (5.3.1.4).
    fn forms(&self) -> Vec<String> {
        let mut forms: Vec<String> = self.dates.iter().map(|date| (*date).to_owned()).collect();
        for fraction in FRACTIONS {
            for clock in self.clocks {
                forms.push(format!("T{clock}{fraction}"));
                for date in self.dates {
                    for offset in ["", self.offset, "{offset:hours}"] {
                        forms.push(format!("{date}T{clock}{fraction}{offset}"));
                    }
                }
            }
        }
        forms
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::layout::Layout;

    #[test]
    fn standards_are_sorted_and_usable() {
        assert!(STANDARDS.is_sorted_by(|a, b| a.name < b.name));
        for standard in &STANDARDS {
            let named = Layout::parse(standard.name).unwrap();
            assert_eq!(named.to_string(), standard.name);
            assert!(!named.alternatives().is_empty());
            let one_kind = !["iso-8601", "asn1-generalizedtime"].contains(&standard.name);
            assert_eq!(named.kind().is_some(), one_kind, "{}", standard.name);
        }
    }
}
