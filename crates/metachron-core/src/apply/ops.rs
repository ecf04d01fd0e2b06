//! The operations that a layout is compiled to.

use crate::layout::{Field, LayoutPart, OffsetForm, YearPart};

#[derive(Debug, Clone)]
pub(super) enum FieldOp {
    /// A whole run of digits.
    Run(FieldRun),
    /// Any white space, or none.
    Skip,
    Space,
    Text(String),
    Word(Field, Point),
    Ordinal,
    Offset(OffsetForm),
    Zone(Field),
    DecimalYear(YearPart),
    Any,
}

/// Whether an abbreviation point after a word belongs to the word.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Point {
    OfWord,
    OfLayout,
}

#[derive(Debug, Clone, Default)]
pub(super) struct FieldRun {
    pub members: Vec<Member>,
    /// The digits that the members of fixed width take together.
    pub fixed: usize,
}

#[derive(Debug, Clone)]
pub(super) enum Member {
    Field(Field, usize, usize),
    Digits(String),
}

/// What reads the parts of a form, one after the other.
pub(super) fn compile(parts: &[LayoutPart]) -> Vec<FieldOp> {
    let mut ops = Vec::new();
    let mut open_run = false;
    for (index, part) in parts.iter().enumerate() {
        match part {
            LayoutPart::Space => ops.push(FieldOp::Space),
            LayoutPart::Field(Field::Any) => ops.push(FieldOp::Any),
            LayoutPart::Field(Field::Offset(form)) => ops.push(FieldOp::Offset(*form)),
            LayoutPart::Field(field @ (Field::Zone | Field::ZoneBrackets)) => {
                ops.push(FieldOp::Zone(*field))
            }
            LayoutPart::Field(Field::DecimalYear(part)) => ops.push(FieldOp::DecimalYear(*part)),
            LayoutPart::Field(field) if field.is_word() => {
                let point_next = parts.get(index + 1).is_some_and(LayoutPart::begins_with_point);
                ops.push(FieldOp::Word(
                    *field,
                    if point_next { Point::OfLayout } else { Point::OfWord },
                ));
            }
            LayoutPart::Field(field) => {
                let (least, most) = field.width().unwrap_or((1, 1));
                if *field == Field::DaySpaced {
                    open_run = false;
                    ops.push(FieldOp::Skip);
                }
                let fixed = if least == most { least } else { 0 };
                push_member(&mut ops, open_run, Member::Field(*field, least, most), fixed);
                open_run = *field != Field::DayOrdinal;
                if *field == Field::DayOrdinal {
                    ops.push(FieldOp::Ordinal);
                }
                continue;
            }
            LayoutPart::Text(text) => {
                for piece in text.split_inclusive_runs() {
                    if piece.starts_with(|c: char| c.is_ascii_digit()) {
                        push_member(
                            &mut ops,
                            open_run,
                            Member::Digits(piece.to_owned()),
                            piece.len(),
                        );
                        open_run = true;
                    } else {
                        ops.push(FieldOp::Text(piece.to_owned()));
                        open_run = false;
                    }
                }
                continue;
            }
        }
        open_run = false;
    }
    ops
}

fn push_member(ops: &mut Vec<FieldOp>, open_run: bool, member: Member, fixed: usize) {
    match ops.last_mut() {
        Some(FieldOp::Run(run)) if open_run => {
            run.members.push(member);
            run.fixed += fixed;
        }
        _ => ops.push(FieldOp::Run(FieldRun { members: vec![member], fixed })),
    }
}

trait Pieces {
    fn split_inclusive_runs(&self) -> impl Iterator<Item = &str>;
}

impl Pieces for String {
    /// The text cut where digits begin and end.
    fn split_inclusive_runs(&self) -> impl Iterator<Item = &str> {
        let mut rest = self.as_str();
        std::iter::from_fn(move || {
            let digits = rest.chars().next()?.is_ascii_digit();
            let end = rest.find(|c: char| c.is_ascii_digit() != digits).unwrap_or(rest.len());
            let (piece, after) = rest.split_at(end);
            rest = after;
            Some(piece)
        })
    }
}
