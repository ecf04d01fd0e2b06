//! A layout compiled into a program over bytes.
//!
//! Fields of fixed and variable width that touch are settled before the first value is read: the
//! one variable field of a run of digits takes what the others leave. So only `{any}` ever has to
//! try again, and reading a value allocates nothing.

use super::kernel::Kernel;
use super::ops::{FieldOp, FieldRun, Member, Point, compile};
use crate::layout::{Field, Layout, LayoutForm, LayoutPart, StandardRules};
use crate::reading::{
    DecimalYear, FIRST_OF_ERA, Fields, Fit, Sign, Terms, Unfit, WrittenOffset, inside_a_run,
    length, ordinal_ending, resolve, same_letter,
};
use crate::typed::Kind;

/// One layout, compiled.
#[derive(Debug, Clone)]
pub struct LayoutProgram {
    forms: Vec<ProgramForm>,
}

/// One alternative of a layout, compiled.
#[derive(Debug, Clone)]
struct ProgramForm {
    kind: Kind,
    rules: StandardRules,
    ops: Vec<FieldOp>,
    /// The parts of a form that tells a length of time, which has no operations.
    length: Option<Vec<LayoutPart>>,
    /// What reads most values in less time, if there is such.
    kernel: Option<Kernel>,
    /// Marks that each of its values has.
    marks: Vec<u8>,
}

impl LayoutProgram {
    /// Compiles a layout.
    pub fn new(layout: &Layout) -> LayoutProgram {
        let forms = layout.alternatives().iter();
        let compiled = forms.map(|LayoutForm { kind, rules, parts }| {
            let ops = if *kind == Kind::Duration { Vec::new() } else { compile(parts) };
            let length = (*kind == Kind::Duration).then(|| parts.clone());
            let kernel = Kernel::of(*kind, &ops).filter(|_| !rules.utc);
            let marks = marks(&ops);
            ProgramForm { kind: *kind, rules: *rules, ops, length, kernel, marks }
        });
        let mut forms: Vec<ProgramForm> = compiled.collect();
        // What tells forms apart is looked for first.
        let all: Vec<Vec<u8>> = forms.iter().map(|form| form.marks.clone()).collect();
        let is_of_all = |mark: &u8| all.iter().all(|own| own.contains(mark));
        forms.iter_mut().for_each(|form| form.marks.sort_by_key(is_of_all));
        LayoutProgram { forms }
    }

    /// Reads a normalised value.
    ///
    /// ```
    /// use metachron_core::apply::LayoutProgram;
    /// use metachron_core::layout::Layout;
    /// use metachron_core::reading::Terms;
    /// let program = LayoutProgram::new(&Layout::parse("{day}.{month}.{year}").unwrap());
    /// assert_eq!(program.read("3.4.2024", Terms::default()).unwrap().moment.to_string(), "2024-04-03");
    /// ```
    ///
    /// # Errors
    /// Why the value does not fit.
    #[inline]
    pub fn read(&self, value: &str, terms: Terms) -> Result<Fit, Unfit> {
        self.forms.iter().find_map(|form| form.read(value, terms)).unwrap_or(Err(Unfit::Form))
    }
}

impl ProgramForm {
    /// Reads a value that has this form; nothing of others.
    #[inline]
    fn read(&self, value: &str, terms: Terms) -> Option<Result<Fit, Unfit>> {
        let kernel = self.kernel.as_ref();
        match kernel.and_then(|own| own.read(value, &terms, self.rules.english)) {
            Some(fit) => Some(Ok(fit)),
            None => self.run(value, terms),
        }
    }

    /// The same without a kernel.
    fn run(&self, value: &str, terms: Terms) -> Option<Result<Fit, Unfit>> {
        let ProgramForm { kind, rules, ops, length: parts, marks, .. } = self;
        if !marks.iter().all(|mark| value.as_bytes().contains(mark)) {
            return None;
        }
        let terms = terms.under(*rules);
        if let Some(parts) = parts {
            return length(parts, value, terms);
        }
        let fields = run(ops, value, 0, Fields::under(*rules), terms)?;
        Some(resolve(&fields, *kind, terms))
    }
}

/// The marks that stand in the text of operations: a value that lacks one has another form.
fn marks(ops: &[FieldOp]) -> Vec<u8> {
    let texts = ops.iter().filter_map(|op| match op {
        FieldOp::Text(text) => Some(text),
        _ => None,
    });
    let mut marks: Vec<u8> =
        texts.flat_map(|text| text.bytes()).filter(u8::is_ascii_punctuation).collect();
    marks.sort_unstable();
    marks.dedup();
    marks
}

/// Runs the program on the value from byte `at`.
fn run(
    ops: &[FieldOp],
    value: &str,
    mut at: usize,
    mut fields: Fields,
    terms: Terms,
) -> Option<Fields> {
    for (index, op) in ops.iter().enumerate() {
        let rest = &value[at..];
        at += match op {
            FieldOp::Run(run) => {
                let behind_digit = value[..at].ends_with(|c: char| c.is_ascii_digit());
                run.read(rest, behind_digit, &mut fields)?
            }
            FieldOp::Skip => leading_space(rest),
            FieldOp::Space => Some(leading_space(rest)).filter(|length| *length > 0)?,
            FieldOp::Text(text) => text_length(text, rest)?,
            FieldOp::Word(field, point) => {
                fields.read_word(*field, rest, *point == Point::OfLayout, terms.lexicon)?
            }
            FieldOp::Ordinal => ordinal_ending(rest, terms.lexicon)?,
            FieldOp::Offset(form) => {
                let (offset, length) = WrittenOffset::read(rest.as_bytes(), *form)?;
                fields.offset = Some(offset);
                length
            }
            FieldOp::DecimalYear(part) => {
                let behind_digit = value[..at].ends_with(|c: char| c.is_ascii_digit());
                let (year, length) = DecimalYear::read(rest, *part, behind_digit)?;
                fields.decimal_year = Some(year);
                length
            }
            FieldOp::Zone(field) => fields.read_zone(*field, rest, terms.zones)?,
            FieldOp::Any => {
                let before = &value[..at];
                return rest.char_indices().map(|(end, _)| at + end).chain([value.len()]).find_map(
                    |end| {
                        let (taken, after) = (&value[at..end], &value[end..]);
                        let apart = if taken.is_empty() {
                            !inside_a_run(before, after)
                        } else {
                            !inside_a_run(before, taken) && !inside_a_run(taken, after)
                        };
                        apart.then(|| run(&ops[index + 1..], value, end, fields, terms))?
                    },
                );
            }
        };
    }
    (at == value.len()).then_some(fields)
}

impl FieldRun {
    fn read(&self, rest: &str, behind_digit: bool, fields: &mut Fields) -> Option<usize> {
        let Sign { length: sign, mut more } = match self.members.first() {
            Some(Member::Field(field, ..)) => Sign::before(*field, rest, behind_digit),
            _ => Sign { length: 0, more: 0 },
        };
        // The first year of an era has a character of its own, before the digits of the others.
        let is_era = matches!(self.members.first(), Some(Member::Field(Field::YearOfEra, ..)));
        let (begun, members) = match is_era && !behind_digit && rest.starts_with(FIRST_OF_ERA) {
            true => (FIRST_OF_ERA.len_utf8(), &self.members[1..]),
            false => (sign, &self.members[..]),
        };
        if members.len() < self.members.len() {
            fields.set(Field::YearOfEra, &rest[..begun]);
        }
        let length = begun + rest[begun..].bytes().take_while(u8::is_ascii_digit).count();
        let spare = length.checked_sub(begun + more + self.fixed)?;
        // A sign stands before the digits and belongs to them.
        let mut begin = begun - sign;
        let mut at = begun;
        for member in members {
            match member {
                Member::Digits(digits) => {
                    at += rest[at..].starts_with(digits.as_str()).then_some(digits.len())?;
                }
                Member::Field(field, least, most) => {
                    let width = if least == most { *least } else { spare };
                    if width < *least || width > *most {
                        return None;
                    }
                    // The sign, if there is one, belongs to the first.
                    let end = at + width + std::mem::take(&mut more);
                    fields.set(*field, rest.get(begin..end)?);
                    at = end;
                }
            }
            begin = at;
        }
        (at == length).then_some(length)
    }
}

fn leading_space(text: &str) -> usize {
    text.find(|c: char| !c.is_whitespace()).unwrap_or(text.len())
}

/// How many bytes of `rest` the layout's text takes.
fn text_length(text: &str, rest: &str) -> Option<usize> {
    match rest.as_bytes().get(..text.len()) {
        Some(begin) if begin.is_ascii() && text.is_ascii() => {
            begin.eq_ignore_ascii_case(text.as_bytes()).then_some(text.len())
        }
        _ => {
            let mut found = rest.char_indices();
            for expected in text.chars() {
                let (_, character) = found.next()?;
                same_letter(expected, character).then_some(())?;
            }
            Some(found.next().map_or(rest.len(), |(at, _)| at))
        }
    }
}
