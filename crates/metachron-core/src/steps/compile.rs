//! Types are checked and names are looked up before the first row is read.

use super::chain::{Chain, ChainSource};
use super::item::{Item, Type};
use super::parts::{self, ColumnRole};
use super::period::{CalendarPart, Period};
use super::setting::Setting;
use super::word::Word;
use super::{StepError, Unknown};
use crate::duration::Unit;
use crate::epoch::Epoch;
use crate::error::nearest;
use crate::layout::Layout;
use crate::lexicon::Lexicon;
use crate::named::Named;
use crate::typed::{Kind, TypedValue};
use crate::zone::Clock;

/// Every step with its arguments, what it takes and what it gives.
pub const STEPS: [(&str, &str, &str); 18] = [
    ("date", "", "a datetime → its date, rounded down"),
    ("time", "", "a datetime → its time of day, exact"),
    (
        "year quarter month week weekyear day weekday yearday hour minute second fraction",
        "",
        "a date or time → that part of it, as a number; Monday is weekday 1",
    ),
    ("start", "PERIOD", "a date → the first day of its month, quarter, week or year"),
    ("end", "PERIOD", "a date → the last day of its month, quarter, week or year"),
    ("round", "AMOUNT UNIT", "a time → the nearest one, half up: round 15 minutes"),
    ("floor", "AMOUNT UNIT", "a time → the one before: floor 15 minutes"),
    (
        "move",
        "±AMOUNT UNIT …",
        "moved; a day that the month lacks becomes its last: move +18 months",
    ),
    ("since", "COLUMN|VALUE|earliest|first-row", "the duration from there to here"),
    ("until", "COLUMN|VALUE|now", "the duration from here to there"),
    ("as", "UNIT [whole]", "a duration → a number of that unit; whole cuts off"),
    ("as", "iso", "a duration → an ISO 8601 duration"),
    ("in", "ZONE", "an instant → the clock there, with its offset"),
    ("at", "ZONE", "a datetime → an instant, read as a clock there"),
    ("serial", "EPOCH", "a number counted from that origin: serial sheet-1900"),
    ("period", "PERIOD", "a date → its month, quarter, week or year"),
    ("leap", "", "a date → whether its year is a leap year"),
    ("show", "\"LAYOUT\" [in LOCALE]", "text in that form; it is a date no longer"),
];

/// One step, ready to run.
#[derive(Debug, Clone)]
pub(super) enum StepOp {
    Date,
    Time,
    Part(CalendarPart),
    Start(Period),
    End(Period),
    Round(i64),
    Floor(i64),
    Move {
        months: i64,
        days: i64,
        nanos: i64,
    },
    Since(Other),
    Until(Other),
    As(Unit, bool),
    In(Clock),
    At(Clock),
    Serial(Epoch),
    Period(Period),
    Leap,
    Iso,
    Show {
        layout: Box<Layout>,
        lexicon: Lexicon,
        /// The ten digits that numbers are written with, if they are others than usual.
        digits: Option<&'static str>,
    },
}

/// The other end of a duration.
#[derive(Debug, Clone, Copy)]
pub(super) enum Other {
    /// What stands in this input.
    Input(usize),
    /// A moment that is written.
    Fixed(TypedValue),
    /// What the whole table shows: the fact of this number.
    Fact(usize),
}

/// Something that only the whole table shows: of the values that the first so many steps give.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Fact {
    /// The earliest of them.
    Earliest(usize),
    /// That of the first row that has one.
    FirstRow(usize),
}

/// Steps ready to run.
#[derive(Debug, Clone)]
pub struct Program {
    /// The columns that it takes, by their places among those that there are.
    inputs: Vec<usize>,
    pub(super) roles: Option<Vec<(ColumnRole, usize)>>,
    pub(super) ops: Vec<StepOp>,
    facts: Vec<Fact>,
    gives: Type,
    pub(super) setting: Setting,
}

impl Program {
    /// The columns that it takes, by their places among those that it was compiled with.
    pub fn inputs(&self) -> &[usize] {
        &self.inputs
    }

    /// What the whole table must show before it can run.
    pub fn facts(&self) -> &[Fact] {
        &self.facts
    }

    /// What it gives.
    pub fn gives(&self) -> Type {
        self.gives
    }

    /// Whether the numbers that it gives are whole.
    pub fn gives_whole_numbers(&self) -> bool {
        match self.ops.last() {
            Some(StepOp::Part(part)) => *part != CalendarPart::Fraction,
            Some(StepOp::As(_, whole)) => *whole,
            _ => false,
        }
    }
}

impl Chain {
    /// Checks the steps against these columns and makes them ready to run.
    ///
    /// # Errors
    /// What does not fit, with its place and what would fit.
    pub fn compile(
        &self,
        columns: &[(&str, Type)],
        setting: &Setting,
    ) -> Result<Program, StepError> {
        let mut compiler = Compiler {
            chain: self,
            columns,
            setting,
            inputs: Vec::new(),
            facts: Vec::new(),
            steps: 0,
        };
        let (roles, mut current) = match &self.source {
            ChainSource::Column(word) => (None, compiler.column(word)?.1),
            ChainSource::Parts(list) => {
                let mut roles = Vec::new();
                let mut types = Vec::new();
                for (role, word) in list {
                    let (input, of) = compiler.column(word)?;
                    roles.push((*role, input));
                    types.push((*role, of));
                }
                let span = list.first().map_or(0..0, |(_, first)| first.span.start..first.span.end);
                let wrong = |says| StepError::new(&self.text, span.clone(), says);
                let gives = parts::gives(&types, wrong)?;
                (Some(roles), gives)
            }
        };
        let mut ops = Vec::new();
        if matches!(current, Type::Raw) && !self.steps.is_empty() {
            let ChainSource::Column(word) = &self.source else {
                return Err(compiler.wrong(0..0, ""));
            };
            let name = &word.text;
            return Err(compiler.wrong(
                word.span.clone(),
                format!(
                    "nothing has read {name:?} yet, so no step can take it; is it a date column?"
                ),
            ));
        }
        for words in &self.steps {
            let (op, gives) = compiler.step(words, current)?;
            ops.push(op);
            current = gives;
            compiler.steps += 1;
        }
        if let Type::Span(_) = current {
            let end = self.text.trim_end().len();
            let says = "a duration between two values is not written by itself; say in which unit: | as days, or | as iso";
            return Err(compiler.wrong(end.saturating_sub(1)..end, says));
        }
        let Compiler { inputs, facts, .. } = compiler;
        Ok(Program { inputs, roles, ops, facts, gives: current, setting: setting.clone() })
    }
}

pub(super) struct Compiler<'c> {
    pub(super) chain: &'c Chain,
    pub(super) columns: &'c [(&'c str, Type)],
    pub(super) setting: &'c Setting,
    pub(super) inputs: Vec<usize>,
    pub(super) facts: Vec<Fact>,
    /// Steps before this one.
    pub(super) steps: usize,
}

impl Compiler<'_> {
    pub(super) fn wrong(&self, span: std::ops::Range<usize>, says: impl Into<String>) -> StepError {
        StepError::new(&self.chain.text, span, says)
    }

    pub(super) fn at(&self, word: &Word, says: impl Into<String>) -> StepError {
        self.wrong(word.span.clone(), says)
    }

    /// Which input a column is, and what it holds.
    pub(super) fn column(&mut self, word: &Word) -> Result<(usize, Type), StepError> {
        let found = self.columns.iter().position(|(name, _)| *name == word.text);
        let Some(place) = found else {
            let near = nearest(&word.text, self.columns.iter().map(|(name, _)| *name));
            let near = near.map_or(String::new(), |near| format!("; did you mean {near:?}?"));
            let error = self.at(word, format!("there is no column {:?}{near}", word.text));
            return Err(StepError { unknown: Some(Unknown::Column), ..error });
        };
        Ok((self.input(place), self.columns[place].1))
    }

    pub(super) fn input(&mut self, place: usize) -> usize {
        self.inputs.iter().position(|own| *own == place).unwrap_or_else(|| {
            self.inputs.push(place);
            self.inputs.len() - 1
        })
    }

    fn step(&mut self, words: &[Word], takes: Type) -> Result<(StepOp, Type), StepError> {
        let Some((name, arguments)) = words.split_first() else {
            return Err(self.wrong(0..0, "a step is missing"));
        };
        if let Ok(part) = CalendarPart::named(&name.text) {
            self.none(arguments)?;
            self.part(name, part, takes)?;
            return Ok((StepOp::Part(part), Type::Number));
        }
        let dated = matches!(takes, Type::Of(Kind::Date | Kind::DateTime) | Type::Zoned);
        match name.text.as_str() {
            "date" => {
                self.none(arguments)?;
                let fits = matches!(takes, Type::Of(Kind::DateTime | Kind::Date) | Type::Zoned);
                self.takes(fits, name, takes, "a datetime")?;
                Ok((StepOp::Date, Type::Of(Kind::Date)))
            }
            "time" => {
                self.none(arguments)?;
                let fits = matches!(takes, Type::Of(Kind::DateTime | Kind::Time) | Type::Zoned);
                self.takes(fits, name, takes, "a datetime")?;
                Ok((StepOp::Time, Type::Of(Kind::Time)))
            }
            "start" | "end" => {
                let period = self.period(name, arguments)?;
                let periods = matches!(
                    takes,
                    Type::Of(Kind::Month | Kind::Quarter | Kind::Week | Kind::Year)
                );
                self.takes(dated || periods, name, takes, "a date")?;
                let op =
                    if name.text == "start" { StepOp::Start(period) } else { StepOp::End(period) };
                Ok((op, Type::Of(Kind::Date)))
            }
            "period" => {
                let period = self.period(name, arguments)?;
                self.takes(dated, name, takes, "a date")?;
                let kind = match period {
                    Period::Year => Kind::Year,
                    Period::Quarter => Kind::Quarter,
                    Period::Month => Kind::Month,
                    Period::Week => Kind::Week,
                };
                Ok((StepOp::Period(period), Type::Of(kind)))
            }
            "round" | "floor" => {
                let timed = Type::Of(Kind::DateTime) == takes || Type::Of(Kind::Time) == takes;
                let fits = timed || matches!(takes, Type::Of(Kind::Duration) | Type::Zoned);
                self.takes(fits, name, takes, "a datetime, a time or a duration")?;
                let nanos = self.step_of(name, arguments, takes)?;
                Ok((
                    if name.text == "round" { StepOp::Round(nanos) } else { StepOp::Floor(nanos) },
                    takes,
                ))
            }
            "move" => Ok((self.move_by(name, arguments, takes)?, takes)),
            "since" | "until" => {
                let kind = match takes {
                    Type::Of(kind @ (Kind::Date | Kind::DateTime | Kind::Instant | Kind::Time)) => {
                        kind
                    }
                    Type::Zoned => Kind::Instant,
                    _ => return Err(self.misfit(name, takes, "a date, a time or a moment")),
                };
                let other = self.other(name, arguments, kind)?;
                let op =
                    if name.text == "since" { StepOp::Since(other) } else { StepOp::Until(other) };
                Ok((op, Type::Span(kind)))
            }
            "as" if matches!(arguments, [iso] if iso.text == "iso") => {
                let fits = matches!(takes, Type::Of(Kind::Duration) | Type::Span(_));
                self.takes(fits, name, takes, "a duration")?;
                Ok((StepOp::Iso, Type::Of(Kind::Duration)))
            }
            "as" => {
                let (unit, whole) = self.unit_and_whole(name, arguments, takes)?;
                Ok((StepOp::As(unit, whole), Type::Number))
            }
            "in" => {
                let clock = self.clock(name, arguments)?;
                let fits = matches!(takes, Type::Of(Kind::Instant) | Type::Zoned);
                if takes == Type::Of(Kind::DateTime) {
                    let says = "a datetime is a clock time in no stated zone; at ZONE says where it was read, then in ZONE shows it elsewhere";
                    return Err(self.at(name, says));
                }
                self.takes(fits, name, takes, "an instant")?;
                Ok((StepOp::In(clock), Type::Zoned))
            }
            "at" => {
                let clock = self.clock(name, arguments)?;
                if matches!(takes, Type::Of(Kind::Instant) | Type::Zoned) {
                    let says = "an instant is a moment already; in ZONE shows it there";
                    return Err(self.at(name, says));
                }
                self.takes(takes == Type::Of(Kind::DateTime), name, takes, "a datetime")?;
                Ok((StepOp::At(clock), Type::Of(Kind::Instant)))
            }
            "serial" => {
                let [epoch] = arguments else {
                    return Err(self.at(name, "serial names its origin: serial sheet-1900"));
                };
                let fits = dated || takes == Type::Of(Kind::Instant);
                self.takes(fits, name, takes, "a date, a datetime or an instant")?;
                let found = epoch.text.parse::<Epoch>().map_err(|unknown| {
                    let error = self.at(epoch, format!("{:?} is no origin of numbers", epoch.text));
                    error.or_near(unknown.near, Unknown::Epoch)
                })?;
                match (found.kind(false), takes) {
                    (Kind::Instant, Type::Of(Kind::Instant)) => {}
                    (Kind::Instant, _) => {
                        let says = "it counts moments, and nothing says where this clock stood: put | at ZONE before it";
                        return Err(self.at(epoch, says));
                    }
                    (_, Type::Of(Kind::Instant)) => {
                        let says = "it counts what a clock shows, and a moment is shown otherwise in every zone: put | in ZONE before it";
                        return Err(self.at(epoch, says));
                    }
                    _ => {}
                }
                Ok((StepOp::Serial(found), Type::Number))
            }
            "leap" => {
                self.none(arguments)?;
                let fits =
                    dated || matches!(takes, Type::Of(Kind::Year | Kind::Month | Kind::Quarter));
                self.takes(fits, name, takes, "a date or a year")?;
                Ok((StepOp::Leap, Type::Truth))
            }
            "show" => Ok((self.show(name, arguments, takes)?, Type::Text)),
            other => {
                let single = STEPS.iter().flat_map(|(names, ..)| names.split(' '));
                let error = self.at(name, format!("{other:?} is no step"));
                Err(error.or_near(nearest(other, single), Unknown::Step))
            }
        }
    }

    /// What a step cannot take, and what would help.
    pub(super) fn misfit(&self, name: &Word, takes: Type, wants: &str) -> StepError {
        let step = &name.text;
        let hint = match takes {
            Type::Of(Kind::Instant) => {
                "; an instant shows another clock in every zone: put | in ZONE before it".to_owned()
            }
            Type::Span(_) => "; | as days makes a number of it".to_owned(),
            Type::Of(Kind::Duration) => "; | as hours makes a number of a duration".to_owned(),
            Type::Text => "; text is a date no longer: put show last".to_owned(),
            _ => String::new(),
        };
        self.at(name, format!("{step} takes {wants}, but gets {}{hint}", one(takes)))
    }

    pub(super) fn takes(
        &self,
        fits: bool,
        name: &Word,
        takes: Type,
        wants: &str,
    ) -> Result<(), StepError> {
        if fits { Ok(()) } else { Err(self.misfit(name, takes, wants)) }
    }

    fn none(&self, arguments: &[Word]) -> Result<(), StepError> {
        match arguments.first() {
            None => Ok(()),
            Some(word) => {
                Err(self.at(word, format!("{:?} is too much: this step stands alone", word.text)))
            }
        }
    }

    fn part(&self, name: &Word, part: CalendarPart, takes: Type) -> Result<(), StepError> {
        let fits = match takes {
            Type::Of(Kind::DateTime) | Type::Zoned => true,
            Type::Of(Kind::Date) => !part.is_of_clock(),
            Type::Of(Kind::Time) => part.is_of_clock(),
            Type::Of(Kind::Month) => {
                matches!(part, CalendarPart::Year | CalendarPart::Quarter | CalendarPart::Month)
            }
            Type::Of(Kind::Quarter) => matches!(part, CalendarPart::Year | CalendarPart::Quarter),
            Type::Of(Kind::Year) => part == CalendarPart::Year,
            Type::Of(Kind::Week) => matches!(part, CalendarPart::WeekYear | CalendarPart::Week),
            _ => false,
        };
        let wants = if part.is_of_clock() { "a datetime or a time" } else { "a date" };
        self.takes(fits, name, takes, wants)
    }
}

/// The type with its article.
pub(super) fn one(of: Type) -> String {
    let text = of.to_string();
    match text.starts_with(['a', 'e', 'i', 'o']) {
        true => format!("an {text}"),
        false => format!("a {text}"),
    }
}

/// What is written of a value by itself, without steps.
impl From<TypedValue> for Item {
    fn from(moment: TypedValue) -> Item {
        Item::Typed(moment)
    }
}
