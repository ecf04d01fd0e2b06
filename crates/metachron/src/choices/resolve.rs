//! What the command line means: decisions for every column, and from whom they come.

use jiff::Timestamp;
use jiff::civil::Date;
use metachron_core::epoch::Epoch;
use metachron_core::order::Alternative;
use metachron_core::reading::{Order, Terms};
use metachron_core::text::Missing;
use metachron_core::zone::Zones;
use metachron_tables::address::Secrets;
use metachron_tables::dialect::{Delimiter, Quote};
use metachron_tables::encoding::Charset;
use metachron_tables::frame::WantedHeader;
use metachron_tables::wanted::{Selected, Wanted};
use toml_edit::Value;

use super::decisions::Decisions;
use super::keys;
use super::options::{OF_FILE, option_of};
use super::readings_file::ReadingsFile;
use super::said::Said;
use super::shaping::Shaping;
use super::syntax::{check_rows, parse_set, parse_when, refuse_twice, set_value};
use super::wrong::Wrong;
use super::zones::zone_data;
use crate::ambient::Ambient;
use crate::args::{self, AsOf, CommandLine};
use crate::message::{Failure, quoted, shown};
use crate::words::phrase;

/// What is to be done with a table, as far as it can be said before looking at it.
#[derive(Debug)]
pub struct Choices {
    /// The day that counts as today.
    pub today: Date,
    /// The zones that there are.
    pub zones: Zones,
    /// What is said of the file.
    pub wanted: Wanted,
    /// What of it was said here and now.
    pub typed: Wanted,
    /// The readings file, if there is one.
    pub readings: Option<ReadingsFile>,
    /// What was said to be today, and now.
    pub as_of: Option<AsOf>,
    /// What is made of the table.
    pub shaping: Shaping,
    /// The columns that are named.
    pub chosen: Vec<String>,
    /// Decisions for the named columns.
    plain: Decisions,
    /// Decisions for columns by name.
    set: Vec<(String, Decisions)>,
    /// Texts that stand for nothing anywhere in the table.
    pub missing: Vec<String>,
    /// Whether dates only in form are read like any other value.
    pub keeps_placeholders: bool,
    /// Only so many rows are looked at.
    pub first_rows: Option<u64>,
    /// Bytes that what is seen of the columns of a table may take.
    pub evidence_room: usize,
    /// On how many threads rows are gone through.
    pub threads: usize,
    /// Passwords of database servers.
    pub secrets: Secrets,
    /// Whether long work is shown on a terminal.
    pub shows_progress: bool,
    /// What was typed, which a suggested command line says again.
    line: CommandLine,
}

impl Choices {
    /// Makes sense of the options, and of what options say of a column that one command alone has.
    pub fn new(
        input: &args::Input,
        columns: &args::ColumnOptions,
        shaping: &args::Shaping,
        of_command: Decisions,
        line: &CommandLine,
        ambient: &Ambient,
    ) -> Result<Choices, Failure> {
        let readings = input.readings.as_deref().map(ReadingsFile::read).transpose()?;
        let typed = wanted(&input.written, None, ambient)?;
        let wanted = wanted(&input.written, readings.as_ref(), ambient)?;
        let mut set =
            columns.set.iter().map(|text| parse_set(text)).collect::<Result<Vec<_>, _>>()?;
        refuse_twice(&columns.set)?;
        set.extend(whens(&columns.when)?);
        let mut missing = columns.missing.clone();
        missing.extend(readings.iter().flat_map(|readings| readings.missing.clone()));
        let saved_shaping = readings.as_ref().map(|own| own.shaping.clone()).unwrap_or_default();
        let saved_placeholders = readings.as_ref().is_some_and(|own| own.keeps_placeholders);
        let mut plain = plain(columns)?;
        let Decisions { into, require, .. } = of_command;
        plain = Decisions { into, require, ..plain };
        Ok(Choices {
            today: input.as_of.map_or(ambient.today, |as_of| as_of.today),
            zones: zone_data(columns.zone_data.as_deref())?,
            as_of: input.as_of,
            shaping: Shaping::of_options(shaping)?.over(saved_shaping),
            wanted,
            typed,
            readings,
            chosen: columns.column.clone(),
            plain,
            set,
            missing,
            keeps_placeholders: columns.keep_placeholders || saved_placeholders,
            first_rows: None,
            evidence_room: evidence_room(&input.written),
            threads: input.threads.unwrap_or(ambient.processors),
            secrets: ambient.secrets.clone(),
            shows_progress: ambient.stderr_is_terminal && !input.quiet,
            line: line.clone(),
        })
    }

    /// The moment that counts as now: what was said, or else when the program was started.
    pub fn now(&self, ambient: &Ambient) -> Timestamp {
        self.as_of.map_or(ambient.now, |as_of| as_of.now)
    }

    /// What was typed.
    pub fn line(&self) -> &CommandLine {
        &self.line
    }

    /// How what is said of the whole file is understood.
    pub fn terms(&self) -> Terms {
        self.decisions("", false).observe_options(Missing::usual(), self.today, self.zones).terms
    }

    /// Whether it is said of the whole file in which hundred years two-digit years lie.
    pub fn says_century(&self) -> bool {
        self.decisions("", false).two_digit_from.is_some()
    }

    /// Whether there are options that mean one column but do not say which.
    pub fn needs_target(&self) -> bool {
        self.chosen.is_empty() && self.of_one_column().next().is_some()
    }

    /// The option that means one column but does not say which, and how `--set` would say it.
    pub fn untargeted(&self) -> (String, String) {
        let said = self.of_one_column().next();
        let (key, value) =
            said.map_or(("column", String::new()), |(key, value)| (key, set_value(&value)));
        (option_of(key), format!("{key}={value}"))
    }

    /// What plain options say that means one column.
    fn of_one_column(&self) -> impl Iterator<Item = (&'static str, Value)> {
        self.plain.said().into_iter().filter(|(key, _)| !OF_FILE.contains(key))
    }

    /// What is required of values, or allowed, is said to who checks them.
    ///
    /// # Errors
    /// It is said here, where it has no effect.
    pub fn refuse_wishes(&self) -> Result<(), Failure> {
        let is_wish =
            |(_, own): &&(String, Decisions)| own.require.is_some() || own.allow.is_some();
        match self.set.iter().find(is_wish) {
            Some((column, own)) => {
                let key = if own.require.is_some() { "require" } else { "allow" };
                Err(Failure::usage(format!(
                    "{key} of {} is for check, and has no effect here; survey --save keeps it for later",
                    quoted(column)
                )))
            }
            None => Ok(()),
        }
    }

    /// Says more.
    ///
    /// # Errors
    /// If it cannot be said.
    pub fn say(&mut self, said: &Said) -> Result<(), Failure> {
        self.set.push(said.decisions()?);
        self.line = said.on(std::mem::take(&mut self.line));
        Ok(())
    }

    /// Whether something was said of this column by name here and now, and not in the readings file.
    pub fn speaks_of(&self, column: &str) -> bool {
        self.said(column, false) != Decisions::default()
    }

    /// Names that the decisions speak of, with where they stand.
    pub fn names(&self) -> impl Iterator<Item = &str> {
        self.chosen.iter().map(String::as_str).chain(self.set.iter().map(|(name, _)| name.as_str()))
    }

    /// What was said of no column by its name is about this one.
    pub fn aim_at(&mut self, target: &str) {
        let said = std::mem::take(&mut self.plain);
        self.set.insert(0, (target.to_owned(), said));
    }

    /// Whether it is said where the clocks of a column stood that no option names.
    pub fn says_where(&self) -> bool {
        self.plain.clocks.says_where()
    }

    /// The decisions for a column; the plain options are about it if it is the `target`.
    pub fn decisions(&self, name: &str, target: bool) -> Decisions {
        // Language and century are said of the whole file unless columns are named.
        let of_file = match self.chosen.is_empty() && !target {
            true => {
                let Decisions { two_digit_from, written_in, .. } = self.plain;
                let clocks = self.plain.clocks.clone().of_file();
                Decisions { two_digit_from, written_in, clocks, ..Decisions::default() }
            }
            false => Decisions::default(),
        };
        let saved = self.readings.as_ref().and_then(|readings| readings.column(name));
        self.said(name, target).beside(of_file).over(saved.cloned().unwrap_or_default())
    }

    /// What was said of a column here and now, by its name or as the `target`.
    pub fn said(&self, name: &str, target: bool) -> Decisions {
        let own = self.set.iter().filter(|(column, _)| column == name);
        let all = own.fold(Decisions::default(), |all, (_, said)| said.clone().beside(all));
        let is_meant = target || self.chosen.iter().any(|chosen| chosen == name);
        all.beside(if is_meant { self.plain.clone() } else { Decisions::default() })
    }

    /// What was said of how clocks are read wherever they stand, if something was.
    pub fn clocks_of_file(&self) -> Option<&'static str> {
        let clocks = &self.plain.clocks;
        let said = [
            ("skipped_clock", clocks.skipped.is_some()),
            ("repeated_clock", clocks.repeated.is_some()),
            ("offset_wins", clocks.offset_wins.is_some()),
            ("sequence_by", clocks.sequence_by.is_some()),
        ];
        let said = said.into_iter().find(|(_, is_said)| *is_said);
        said.filter(|_| self.chosen.is_empty()).map(|(key, _)| key)
    }

    /// Rows of a column that are told apart here otherwise than in the readings file.
    ///
    /// # Errors
    /// Of which column.
    pub fn check_split(&self, column: &str, said: &Decisions) -> Result<(), Failure> {
        let Some(readings) = &self.readings else { return Ok(()) };
        let saved = readings.column(column).and_then(|saved| saved.when.clone());
        let (Some(own), Some(saved)) = (said.when.clone(), saved) else { return Ok(()) };
        match own.and(saved) {
            Some(_) => Ok(()),
            None => Err(Failure::usage(format!(
                "--when tells the rows of {} apart otherwise than {} does; take its [[column.when]] out there, or \
                 leave out --readings",
                quoted(column),
                shown(&readings.path)
            ))),
        }
    }

    /// The origin of a column's numbers that the readings file says, where nothing else is said here and now.
    pub fn saved_epoch(&self, column: &str) -> Option<Epoch> {
        let is_said = self.set.iter().any(|(name, own)| name == column && own.epoch.is_some());
        let saved = self.readings.as_ref().and_then(|readings| readings.column(column)?.epoch);
        saved.filter(|_| !is_said && self.plain.epoch.is_none())
    }

    /// Whether somebody spoke of this column by name.
    pub fn names_column(&self, name: &str) -> bool {
        self.names().any(|other| other == name)
            || self.readings.as_ref().is_some_and(|readings| readings.column(name).is_some())
    }
}

/// What is said of some rows, by column.
fn whens(texts: &[String]) -> Result<Vec<(String, Decisions)>, Failure> {
    let mut all: Vec<(String, Decisions)> = Vec::new();
    for text in texts {
        let (column, when) = parse_when(text)?;
        let at = all.iter().position(|(other, _)| *other == column).unwrap_or_else(|| {
            all.push((column.clone(), Decisions::default()));
            all.len() - 1
        });
        if !when.join(&mut all[at].1) {
            return Err(Failure::usage(format!(
                "every --when of {} must tell its rows apart by the same column, or by rows",
                quoted(&column)
            )));
        }
    }
    for (column, decisions) in &all {
        check_rows(column, decisions)
            .map_err(|wrong| Failure::usage(format!("--when: {wrong}")))?;
    }
    Ok(all)
}

/// What the plain options say of how a column is read.
fn plain(columns: &args::ColumnOptions) -> Result<Decisions, Failure> {
    let args::ColumnOptions { order, layout, known, .. } = columns;
    if let (Some(order), Some(text)) = (order, layout.first()) {
        return Err(order_against_layout(order, text)?);
    }
    let abbreviations = columns.abbreviation.iter().map(String::as_str);
    let said = [
        ("abbreviations", keys::meanings_said(abbreviations).map_err(Wrong::of_option)?),
        ("order", keys::said(order)),
        ("layouts", keys::all_said(layout)),
        ("contested", keys::said(&columns.contested)),
        ("written_in", keys::said(&columns.written_in)),
        ("known", keys::all_said(known)),
        ("kind", keys::said(&columns.kind)),
        ("unit", keys::said(&columns.unit)),
        ("calendar", keys::said(&columns.calendar)),
        ("reform", keys::said(&columns.reform)),
        ("year", columns.year.map(Value::from)),
        ("anchor", keys::said(&columns.anchor)),
        ("repair", keys::said(&columns.repair)),
        ("epoch", keys::said(&columns.epoch)),
        ("zone", keys::said(&columns.zone)),
        ("zone_from", keys::said(&columns.zone_from)),
        ("skipped_clock", keys::said(&columns.skipped_clock)),
        ("repeated_clock", keys::said(&columns.repeated_clock)),
        ("sequence_by", keys::said(&columns.sequence_by)),
        ("offset_wins", columns.offset_wins.then(|| Value::from(true))),
        ("two_digit_from", columns.two_digit_from.map(Value::from)),
    ];
    Decisions::of_options(said)
}

/// Why an order and a layout are not given together.
fn order_against_layout(order: &str, text: &str) -> Result<Failure, Failure> {
    let order = keys::choice::<Order>("order", &order.into()).map_err(Wrong::of_option)?;
    let layouts = keys::layouts("layouts", &text.into()).map_err(Wrong::of_option)?;
    let own = layouts.first().and_then(|layout| layout.order());
    Ok(Failure::usage(match own {
        Some(own) if own != order => format!(
            "--order {order} says {}, but --layout {} is {}; give one of them",
            phrase(Alternative::from(order)),
            quoted(text),
            phrase(Alternative::from(own))
        ),
        _ => format!("a layout has its order; --order {order} beside --layout says nothing more"),
    }))
}

/// What is said of the file, on the command line or else in the readings file.
fn wanted(
    written: &args::HowWritten,
    readings: Option<&ReadingsFile>,
    ambient: &Ambient,
) -> Result<Wanted, Failure> {
    let saved = readings.map(|readings| readings.wanted.clone()).unwrap_or_default();
    let delimiter = match &written.delimiter {
        None => saved.delimiter,
        Some(text) => Some(delimiter_named("--delimiter", text)?),
    };
    let quote = match &written.quote {
        None => saved.quote,
        Some(text) => Some(Quote::named(text).ok_or_else(|| {
            Failure::usage(format!("--quote {} is none of double, single", quoted(text)))
        })?),
    };
    let charset = match &written.encoding {
        None => saved.charset,
        Some(name) => Some(charset("--encoding", name)?),
    };
    let header = match (written.header_line, written.skip_lines, written.no_header) {
        (Some(line), _, _) => WantedHeader::Line(line),
        (None, skip, true) => WantedHeader::None(skip.unwrap_or(0)),
        (None, Some(skip), false) => WantedHeader::Behind(skip),
        (None, None, false) => saved.header,
    };
    let sheet = written.sheet.clone().or(saved.sheet);
    let longest_record = written.max_record.map(|megabytes| megabytes.saturating_mul(1_000_000));
    let selected = match (&written.table, &written.query) {
        (Some(table), _) => Some(Selected::Table(table.clone())),
        (None, Some(query)) => Some(Selected::Query(query.clone())),
        (None, None) => saved.selected,
    };
    let secrets = ambient.secrets.clone();
    Ok(Wanted { delimiter, quote, charset, header, sheet, selected, longest_record, secrets })
}

/// Bytes that what is seen of the columns of a table may take.
fn evidence_room(written: &args::HowWritten) -> usize {
    const MEGABYTES: u64 = 512;
    let megabytes = written.max_evidence.unwrap_or(MEGABYTES);
    usize::try_from(megabytes.saturating_mul(1_000_000)).unwrap_or(usize::MAX)
}

/// The delimiter of this name, or that is this character.
///
/// # Errors
/// If there is none.
pub fn delimiter_named(option: &str, text: &str) -> Result<Delimiter, Failure> {
    Delimiter::named(text).ok_or_else(|| {
        let text = quoted(text);
        Failure::usage(format!("{option} {text} is none of comma, tab, semicolon, pipe"))
    })
}

/// The encoding of this name.
pub fn charset(option: &str, name: &str) -> Result<Charset, Failure> {
    Charset::named(name).ok_or_else(|| {
        let near = metachron_core::error::nearest(name, COMMON_ENCODINGS);
        let near = near.map_or("try utf-8, windows-1252, utf-16le".to_owned(), |near| {
            format!("did you mean {near}?")
        });
        Failure::usage(format!("{option} {} is no encoding; {near}", quoted(name)))
    })
}

/// Names for which a near miss is recognised.
const COMMON_ENCODINGS: [&str; 22] = [
    "utf-8",
    "utf-16le",
    "utf-16be",
    "windows-1250",
    "windows-1251",
    "windows-1252",
    "windows-1253",
    "windows-1254",
    "windows-1255",
    "windows-1256",
    "windows-1257",
    "windows-1258",
    "iso-8859-1",
    "iso-8859-2",
    "iso-8859-15",
    "macintosh",
    "koi8-r",
    "shift_jis",
    "euc-jp",
    "gb18030",
    "big5",
    "euc-kr",
];
