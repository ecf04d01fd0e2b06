//! Goes through the pieces of a value and tells what part of a date each could be.

use crate::layout::{OffsetForm, escape};
use crate::lexicon::{Half, Length, Piece, PieceKind, Senses};
use crate::reading::WrittenOffset;
use crate::zone::Zones;

use super::month_field;
use super::shape::zone_at;

/// A part of a date as it is written.
#[derive(Debug)]
pub(super) enum WrittenPart {
    /// So many digits; whether an ordinal ending follows.
    Digits(usize, bool),
    /// The field that reads a month's name.
    Month(&'static str),
    /// A year with its era, as layout.
    EraYear(String),
}

impl WrittenPart {
    pub(super) fn is_month(&self) -> bool {
        matches!(self, WrittenPart::Month(_))
    }

    pub(super) fn digits(&self) -> usize {
        match self {
            WrittenPart::Digits(digits, _) => *digits,
            WrittenPart::Month(_) => 0,
            // It can be nothing but a year.
            WrittenPart::EraYear(_) => 4,
        }
    }
}

/// What a clock time stands beside.
#[derive(Clone, Copy, PartialEq, Eq)]
enum BesideDate {
    Date,
    Nothing,
}

/// What a date ends with.
#[derive(Clone, Copy, PartialEq, Eq)]
pub(super) enum Ends {
    /// A year of four digits.
    LongYear,
    /// Anything else.
    Short,
}

impl Ends {
    /// A date whose last part is this one.
    pub(super) fn with(last: &WrittenPart) -> Ends {
        if last.digits() == 4 { Ends::LongYear } else { Ends::Short }
    }
}

/// What is left of a value's pieces.
#[derive(Clone, Copy)]
pub(super) struct Cursor<'p, 'a> {
    pub(super) pieces: &'p [Piece<'a>],
    pub(super) zones: Zones,
}

impl<'a> Cursor<'_, 'a> {
    fn peek(&self) -> Option<Piece<'a>> {
        self.pieces.first().copied()
    }

    fn next(&mut self) {
        self.pieces = self.pieces.get(1..).unwrap_or_default();
    }

    fn take(&mut self, kind: PieceKind) -> Option<&'a str> {
        let piece = self.peek().filter(|piece| piece.kind == kind)?;
        self.next();
        Some(piece.text)
    }

    fn take_mark(&mut self, mark: &str) -> Option<&'a str> {
        self.peek().filter(|piece| piece.text == mark)?;
        self.take(PieceKind::Mark)
    }

    fn digits(&mut self, widths: std::ops::RangeInclusive<usize>) -> Option<&'a str> {
        self.take(PieceKind::Digits).filter(|digits| widths.contains(&digits.len()))
    }

    fn senses(&self) -> Option<Senses> {
        match self.peek()?.kind {
            PieceKind::Name(senses) => Some(senses),
            _ => None,
        }
    }

    /// A weekday and what follows it, as layout; nothing if there is none.
    pub(super) fn weekday(&mut self) -> Option<String> {
        let Some(field) = self.weekday_field() else { return Some(String::new()) };
        let after = self.separator();
        let after = after.strip_prefix('.').unwrap_or(&after);
        (!after.is_empty()).then(|| format!("{field}{}", escape(after)))
    }

    /// The field of a weekday's name, unless the name is a month's and no other month follows.
    fn weekday_field(&mut self) -> Option<&'static str> {
        let senses = self.senses()?;
        senses.is_weekday().then_some(())?;
        let length = senses.weekday.map_or(Length::Short, |(_, length)| length);
        let is_month =
            |piece: &Piece<'_>| matches!(piece.kind, PieceKind::Name(senses) if senses.is_month());
        if senses.is_month() && !self.pieces.iter().skip(1).any(is_month) {
            return None;
        }
        self.next();
        Some(if length == Length::Full { "{weekday}" } else { "{weekday:short}" })
    }

    /// Digits, an ordinal number or a month's name.
    pub(super) fn date_part(&mut self, name_length: Option<Length>) -> Option<WrittenPart> {
        if let Some(field) = self.senses().and_then(|senses| month_field(senses, name_length)) {
            self.next();
            return Some(WrittenPart::Month(field));
        }
        if let Some(year) = self.year_of_era() {
            return Some(WrittenPart::EraYear(year));
        }
        let digits = self.digits(1..=4)?;
        let ordinal = self.senses().is_some_and(|senses| senses.ordinal);
        if ordinal {
            self.next();
        }
        Some(WrittenPart::Digits(digits.len(), ordinal))
    }

    /// A year behind or before its era: `令和6`, `44 BC`.
    fn year_of_era(&mut self) -> Option<String> {
        let start = *self;
        let is_era = |cursor: &Cursor<'_, '_>| cursor.senses().is_some_and(|s| s.era.is_some());
        let space = |cursor: &mut Cursor<'_, '_>| match cursor.take(PieceKind::Space) {
            Some(_) => " ",
            None => "",
        };
        if is_era(self) {
            self.next();
            self.take_mark(".");
            let between = space(self);
            if self.digits(1..=4).is_some() {
                return Some(format!("{{era}}{between}{{year:era}}"));
            }
        } else if self.digits(1..=4).is_some() {
            let between = space(self);
            if is_era(self) {
                self.next();
                self.take_mark(".");
                return Some(format!("{{year:era}}{between}{{era}}"));
            }
        }
        *self = start;
        None
    }

    /// Spaces, punctuation and connecting words between two parts of a date, one space for a run.
    pub(super) fn separator(&mut self) -> String {
        let mut text = String::new();
        while let Some(piece) = self.peek() {
            match piece.kind {
                PieceKind::Space => text.push(' '),
                PieceKind::Mark
                    if matches!(
                        piece.text,
                        "/" | "-" | "." | "," | ":" | "'" | "،" | "、" | "⹁"
                    ) =>
                {
                    text.push_str(piece.text);
                }
                PieceKind::Connector => text.push_str(piece.text),
                _ => break,
            }
            self.next();
        }
        text
    }

    /// The same behind a part; the point of an abbreviated month belongs to the month: `Mar. 5`.
    pub(super) fn separator_behind(&mut self, part: &WrittenPart) -> String {
        let text = self.separator();
        match text.strip_prefix('.') {
            Some(rest) if part.is_month() && rest.starts_with([' ', ',']) => rest.to_owned(),
            _ => text,
        }
    }

    /// Any spaces and punctuation, one space for a run.
    pub(super) fn marks(&mut self) -> String {
        let mut text = String::new();
        let is_mark = |mark: &str| ",;./-:_|\\'،、".contains(mark);
        while let Some(piece) = self.peek() {
            match piece.kind {
                PieceKind::Space => text.push(' '),
                PieceKind::Mark if is_mark(piece.text) => text.push_str(piece.text),
                _ => break,
            }
            self.next();
        }
        text
    }

    /// Everything after the date, as layout: what closes it (`日`, ` г.`), a weekday, a clock.
    pub(super) fn behind_date(&mut self, ends_with: Ends) -> Option<String> {
        let start = *self;
        let plain = self.clock(ends_with);
        if plain.is_some() {
            return plain;
        }
        *self = start;
        let mut closing = self.closing();
        if let Some(weekday) = self.weekday_behind() {
            closing.push_str(&weekday);
        }
        if closing.is_empty() {
            return None;
        }
        Some(format!("{closing}{}", self.clock(ends_with)?))
    }

    /// Words and points that belong to the date before them.
    fn closing(&mut self) -> String {
        let start = *self;
        let mut text = String::new();
        if self.take(PieceKind::Space).is_some() {
            text.push(' ');
        }
        let mut closes = false;
        if let Some(word) = self.take(PieceKind::Connector) {
            text.push_str(word);
            closes = true;
        }
        if let Some(point) = self.take_mark(".") {
            text.push_str(point);
            closes = true;
        }
        if closes {
            return escape(&text);
        }
        *self = start;
        String::new()
    }

    /// `, Tuesday`, ` (Tue)`, `火曜日`.
    fn weekday_behind(&mut self) -> Option<String> {
        let start = *self;
        let mut text = String::new();
        while let Some(piece) = self.peek() {
            match (piece.kind, piece.text) {
                (PieceKind::Space, _) => text.push(' '),
                (PieceKind::Mark, "," | "(" | "（") => text.push_str(piece.text),
                _ => break,
            }
            self.next();
        }
        let Some(field) = self.weekday_field() else {
            *self = start;
            return None;
        };
        let mut layout = format!("{}{field}", escape(&text));
        if text.contains(['(', '（'])
            && let Some(closing) = self.take_mark(")").or_else(|| self.take_mark("）"))
        {
            layout.push_str(closing);
        }
        Some(layout)
    }

    /// A clock with what joins and follows it, as layout, to the end of the value.
    fn clock(&mut self, ends_with: Ends) -> Option<String> {
        if self.pieces.is_empty() {
            return Some(String::new());
        }
        let mut layout = self.joint(ends_with)?;
        layout.push_str(&self.hours(BesideDate::Date)?);
        Some(layout)
    }

    /// A clock time that takes all the rest, as layout.
    pub(super) fn time_alone(&mut self) -> Option<String> {
        self.hours(BesideDate::Nothing)
    }

    /// Hours and what follows them to the end of the value.
    fn hours(&mut self, beside: BesideDate) -> Option<String> {
        let mut layout = String::new();
        if let Some(Half::Noon | Half::Midnight) = self.senses().and_then(|senses| senses.half)
            && self.pieces.len() == 1
        {
            self.next();
            return Some("{noon}".to_owned());
        }
        let before = self.half_before();
        let hour_at = layout.len();
        self.digits(1..=2)?;
        let mut rest = String::new();
        if let Some(mark) = self.clock_mark(&["時", "时", "시", "h", "H"]) {
            rest.push_str(&mark);
            let closed = self.pieces.is_empty() && !mark.starts_with([':', '.']);
            if !closed {
                self.digits(2..=2)
                    .or_else(|| self.digits(1..=1).filter(|_| !mark.starts_with([':', '.'])))?;
                rest.push_str("{minute}");
                if let Some(mark) = self.clock_mark(&["分", "분"]) {
                    rest.push_str(&mark);
                    let closed = self.pieces.is_empty() && !mark.starts_with([':', '.']);
                    if !closed {
                        self.digits(1..=2)?;
                        rest.push_str("{second}");
                        if let Some(mark) = self.take_mark(".").or_else(|| self.take_mark(",")) {
                            self.take(PieceKind::Digits)?;
                            rest.push_str(mark);
                            rest.push_str("{fraction}");
                        }
                        if let Some(word) = self.take(PieceKind::Connector) {
                            rest.push_str(&escape(word));
                        }
                    }
                }
            }
        }
        let whole_hour = rest.is_empty();
        // A word such as "o'clock" behind the clock: `07:20 uur`.
        if let [space, word] = self.pieces
            && (space.kind, word.kind) == (PieceKind::Space, PieceKind::Connector)
            && !whole_hour
        {
            rest.push_str(&format!(" {}", escape(word.text)));
            self.pieces = &[];
        }
        let behind = if before.is_none() { self.half() } else { None };
        let twelve = before.is_some() || behind.is_some();
        layout.insert_str(hour_at, if twelve { "{hour:12}" } else { "{hour}" });
        layout.push_str(&rest);
        if let Some(before) = before {
            layout.insert_str(hour_at, before);
        }
        // Alone, `12.30` is a number rather than a time.
        if beside == BesideDate::Nothing && rest.starts_with('.') && !twelve {
            return None;
        }
        match behind {
            Some(half) => {
                layout.push_str(half);
                if beside == BesideDate::Date {
                    layout.push_str(&self.offset()?);
                }
            }
            None if whole_hour && before.is_none() => return None,
            None if beside == BesideDate::Nothing => {}
            None if before.is_none() => layout.push_str(&self.offset()?),
            None => {}
        }
        self.pieces.is_empty().then_some(layout)
    }

    /// What stands behind an hour or a minute: `:`, `.`, or one of these letters and a space.
    fn clock_mark(&mut self, letters: &[&str]) -> Option<String> {
        if let Some(mark) = self.take_mark(":").or_else(|| self.take_mark(".")) {
            return Some(mark.to_owned());
        }
        let piece = self.peek().filter(|piece| letters.contains(&piece.text))?;
        self.next();
        let space = if self.take(PieceKind::Space).is_some() { " " } else { "" };
        Some(format!("{}{space}", escape(piece.text)))
    }

    /// What joins a date and a clock.
    fn joint(&mut self, ends_with: Ends) -> Option<String> {
        if let Some(letter) = self.peek().filter(|piece| piece.text.eq_ignore_ascii_case("t")) {
            self.next();
            return Some(letter.text.to_owned());
        }
        // As logs and instruments join them: `05/Mar/2024:10:11:12`.
        if let Some(colon) = self.take_mark(":") {
            // Two digits before a colon are an hour rather than a year.
            return (ends_with == Ends::LongYear).then(|| colon.to_owned());
        }
        let mut text = String::new();
        if let Some(comma) = self.take_mark(",") {
            text.push_str(comma);
        }
        self.take(PieceKind::Space)?;
        text.push(' ');
        let start = *self;
        let word = self.peek().filter(|piece| {
            piece.text == "at" || piece.kind == PieceKind::Connector || piece.text == "-"
        });
        if let Some(word) = word {
            self.next();
            text.push_str(&escape(word.text));
            if self.take_mark(",").is_some() {
                text.push(',');
            }
            match self.take(PieceKind::Space) {
                Some(_) => text.push(' '),
                None => {
                    *self = start;
                    return None;
                }
            }
        }
        Some(text)
    }

    /// A marker before the hour: `上午`, `오후 `.
    fn half_before(&mut self) -> Option<&'static str> {
        self.senses()?.half?;
        self.next();
        Some(if self.take(PieceKind::Space).is_some() { "{ampm} " } else { "{ampm}" })
    }

    /// `pm`, ` p.m.`, as layout.
    fn half(&mut self) -> Option<&'static str> {
        let start = *self;
        let space = self.take(PieceKind::Space).is_some();
        if self.senses().is_none_or(|senses| senses.half.is_none()) {
            *self = start;
            return None;
        }
        self.next();
        self.take_mark(".");
        Some(if space { " {ampm}" } else { "{ampm}" })
    }

    /// Nothing, or an offset that takes all the rest.
    fn offset(&mut self) -> Option<String> {
        if self.pieces.is_empty() {
            return Some(String::new());
        }
        let space = if self.take(PieceKind::Space).is_some() { " " } else { "" };
        let rest: String = self.pieces.iter().map(|piece| piece.text).collect();
        self.pieces = &[];
        let (offset, behind) = match WrittenOffset::read(rest.as_bytes(), OffsetForm::Any) {
            Some((_, length)) => ("{offset}", &rest[length..]),
            None => ("", rest.as_str()),
        };
        if behind.is_empty() {
            return Some(format!("{space}{offset}"));
        }
        // ` (CEST)` comments on an offset, or stands alone.
        let trimmed = behind.trim_start();
        let between = if trimmed.len() < behind.len() { " " } else { "" };
        let inside = trimmed.strip_prefix('(').and_then(|inside| inside.strip_suffix(')'));
        let zone = match (inside, offset) {
            (Some(_), _) => "({zone})",
            (None, "") => "{zone}",
            (None, _) => return None,
        };
        (zone_at(inside.unwrap_or(trimmed), self.zones) == Some(inside.unwrap_or(trimmed).len()))
            .then(|| format!("{space}{offset}{between}{zone}"))
    }
}
