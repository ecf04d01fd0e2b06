//! What was seen of a table, kept for later: it adds up, so that parts that cannot be brought together can be judged
//! together.
//!
//! A file of it begins with a line that says what it is, and its version. Behind that stand the CRC-32 (ITU-T V.42) of
//! the rest, and, each with its length before it, which parts it is of and what was seen of them, both as Postcard 1
//! writes them (Postcard Wire Format).

use std::collections::HashMap;
use std::fs::File;
use std::io::{Read, Write};
use std::path::Path;

use metachron_core::evidence::{Evidence, Thinning, ValuesBeside};
use metachron_core::verdict::{Harmed, is_harmed, most_harmed};
use metachron_tables::error::TableError;
use metachron_tables::place::Output;
use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};

use super::column::SurveyedColumn;
use crate::message::{Failure, shown};
use crate::paths;

/// The version that is written; evidence of other versions cannot be added.
const VERSION: u32 = 8;
/// What stands at the beginning, before the version.
const MARK: &str = "metachron evidence ";
/// Bytes of a file for each part at most: more is kept thinner.
const MOST_BYTES: usize = 1_000_000;
/// Bytes of what tells parts apart.
const KEY: usize = 16;

/// A part of a table that was looked at: one of its files.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct SeenPart {
    /// The name of the file.
    pub name: String,
    /// Its rows.
    pub rows: u64,
    /// The beginning of the SHA-256 (FIPS 180-4) of what was seen of it.
    key: [u8; KEY],
    /// Columns of which an import has exchanged day and month in it, each with whether that is certain.
    harmed: Vec<(String, bool)>,
}

/// What was seen of some parts of a table.
#[derive(Debug, Default)]
pub struct Seen {
    /// The parts, in their order.
    pub parts: Vec<SeenPart>,
    /// The columns by name, in the order in which they were met.
    pub columns: Vec<(String, Evidence)>,
}

/// What was seen, as it is saved: what columns share is saved once.
#[derive(Serialize, Deserialize)]
struct Body {
    beside: Vec<ValuesBeside>,
    /// The columns by name, each with the place of what it shares.
    columns: Vec<(String, u32, Evidence)>,
}

/// Two sums with a column that was looked at in different ways: its name.
pub struct LookedAtOtherwise(pub String);

impl SeenPart {
    /// The part that was looked at alone.
    pub fn of(name: String, rows: u64, columns: &[SurveyedColumn]) -> Result<SeenPart, Failure> {
        let first = columns
            .iter()
            .map(|own| (own.plan.name.as_str(), own.first_evidence().clone().of_first_part()));
        let bytes = postcard::to_stdvec(&first.collect::<Vec<_>>()).map_err(Failure::could_not)?;
        let mut key = [0; KEY];
        key.copy_from_slice(&Sha256::digest(&bytes)[..KEY]);
        let harmed = columns
            .iter()
            .filter_map(|own| Some((own.plan.name.clone(), is_harmed(&own.inference.judgement)?)));
        Ok(SeenPart { name, rows, key, harmed: harmed.collect() })
    }

    /// What tells it from others: its name, and what was seen of it.
    pub fn key(&self) -> (String, [u8; KEY]) {
        (self.name.clone(), self.key)
    }
}

impl Seen {
    /// What was seen of these parts together.
    pub fn of(parts: Vec<SeenPart>, columns: &[SurveyedColumn]) -> Seen {
        let columns = columns.iter();
        let columns = columns.map(|own| (own.plan.name.clone(), own.first_evidence().clone()));
        Seen { parts, columns: columns.collect() }
    }

    /// Adds what was seen of the parts behind these.
    ///
    /// # Errors
    /// A column was looked at in another way.
    pub fn add(&mut self, next: Seen) -> Result<(), LookedAtOtherwise> {
        if self.parts.is_empty() && self.columns.is_empty() {
            *self = next;
            return Ok(());
        }
        let by = u32::try_from(self.parts.len()).unwrap_or(u32::MAX);
        // What all columns share adds up once for all of them.
        let shared = self.shared_with(&next);
        self.parts.extend(next.parts);
        let names = self.columns.iter().map(|(name, _)| name.clone());
        let mut places: HashMap<String, usize> = names.zip(0..).collect();
        for (name, evidence) in next.columns {
            let mut evidence = evidence.of_later_parts(by);
            let at = *places.entry(name.clone()).or_insert(self.columns.len());
            let Some((_, own)) = self.columns.get_mut(at) else {
                self.columns.push((name, evidence));
                continue;
            };
            if let Some(values) = &shared {
                own.share(values.clone());
                evidence.share(values.clone());
            }
            own.add(evidence).map_err(|_| LookedAtOtherwise(name))?;
        }
        Ok(())
    }

    /// What all columns here and there share, added up; none where they are other columns.
    fn shared_with(&self, next: &Seen) -> Option<ValuesBeside> {
        let names =
            |own: &'_ Seen| own.columns.iter().map(|(name, _)| name.clone()).collect::<Vec<_>>();
        let (mut own, other) = (self.shared()?, next.shared()?);
        (names(self) == names(next)).then(|| {
            own.add(&other);
            own
        })
    }

    /// What all of these columns share, if it is the same.
    fn shared(&self) -> Option<ValuesBeside> {
        let mut all = self.columns.iter().map(|(_, own)| own.values_beside());
        let first = all.next()?;
        all.all(|own| own == first).then(|| first.clone())
    }

    /// The part in which an import has exchanged day and month of a column beyond doubt, or else seems to have.
    pub fn harmed(&self, column: &str) -> Option<Harmed> {
        most_harmed(self.parts.iter().filter_map(|part| {
            let (_, is_certain) = part.harmed.iter().find(|(name, _)| name == column)?;
            Some(Harmed { name: shown(Path::new(&part.name)), is_certain: *is_certain })
        }))
    }

    /// Writes it whole or not at all.
    ///
    /// # Errors
    /// It cannot be written.
    pub fn write(mut self, path: &Path) -> Result<(), Failure> {
        let failed = |error| Failure::writing(path, &error);
        let body = loop {
            let body = postcard::to_stdvec(&Body::of(&self.columns)).map_err(Failure::could_not)?;
            if body.len() <= MOST_BYTES * self.parts.len().max(1) || !self.thin() {
                break body;
            }
        };
        let parts = postcard::to_stdvec(&self.parts).map_err(Failure::could_not)?;
        let mut rest = Vec::new();
        for bytes in [&parts, &body] {
            rest.extend_from_slice(&(bytes.len() as u64).to_le_bytes());
            rest.extend_from_slice(bytes);
        }
        let mut out = Output::create(path).map_err(failed)?;
        let check = crc32fast::hash(&rest).to_le_bytes();
        let written = writeln!(out, "{MARK}{VERSION}").and_then(|()| out.write_all(&check));
        written.and_then(|()| out.write_all(&rest)).and_then(|()| out.finish()).map_err(failed)
    }

    /// Keeps half as much, if that is possible.
    fn thin(&mut self) -> bool {
        let now = self.columns.iter().map(|(_, own)| own.thinned).max();
        let Some(thinner) = now.and_then(Thinning::more) else { return false };
        self.columns.iter_mut().for_each(|(_, own)| own.thin(thinner));
        true
    }

    /// Reads what was written.
    ///
    /// # Errors
    /// It is something else, of another version, or damaged.
    pub fn read(path: &Path) -> Result<Seen, Failure> {
        let bytes = paths::content(path)?;
        let (check, mut rest) = behind_mark(path, &bytes)?;
        let damaged = || is_damaged(path);
        if check != crc32fast::hash(rest) {
            return Err(damaged());
        }
        let parts = take(&mut rest).and_then(from_bytes).ok_or_else(damaged)?;
        let body = take(&mut rest).filter(|_| rest.is_empty()).and_then(from_bytes);
        let Body { beside, columns } = body.ok_or_else(damaged)?;
        let columns = columns.into_iter().map(|(name, at, mut evidence)| {
            evidence.share(beside.get(at as usize)?.clone());
            Some((name, evidence))
        });
        let columns = columns.collect::<Option<Vec<_>>>().ok_or_else(damaged)?;
        Ok(Seen { parts, columns })
    }

    /// Which parts a file is of.
    ///
    /// # Errors
    /// As those of [`Seen::read`], as far as the beginning shows them.
    pub fn parts_in(path: &Path) -> Result<Vec<SeenPart>, Failure> {
        /// The parts of most files end within so many bytes.
        const FIRST: u64 = 4_096;
        let cannot = |error| Failure::reading(path, &TableError::Io(error));
        let mut file = File::open(path).map_err(cannot)?;
        let mut bytes = Vec::new();
        (&mut file).take(FIRST).read_to_end(&mut bytes).map_err(cannot)?;
        let (_, rest) = behind_mark(path, &bytes)?;
        let length = rest.first_chunk::<8>().map(|own| u64::from_le_bytes(*own));
        let length = length.ok_or_else(|| is_damaged(path))?;
        file.take(length).read_to_end(&mut bytes).map_err(cannot)?;
        let (_, mut rest) = behind_mark(path, &bytes)?;
        take(&mut rest).and_then(from_bytes).ok_or_else(|| is_damaged(path))
    }
}

impl Body {
    fn of(columns: &[(String, Evidence)]) -> Body {
        let mut body = Body { beside: Vec::new(), columns: Vec::new() };
        for (name, evidence) in columns {
            let values = evidence.values_beside();
            let at = body.beside.iter().position(|own| own == values).unwrap_or_else(|| {
                body.beside.push(values.clone());
                body.beside.len() - 1
            });
            let mut own = evidence.clone();
            own.share(ValuesBeside::default());
            body.columns.push((name.clone(), at as u32, own));
        }
        body
    }
}

/// The checksum that stands behind the line that says what a file is, and the rest.
fn behind_mark<'b>(path: &Path, bytes: &'b [u8]) -> Result<(u32, &'b [u8]), Failure> {
    /// The line is shorter, and of old files the mark stands within so many bytes.
    const NEAR: usize = 64;
    let near = &bytes[..bytes.len().min(NEAR)];
    let line = near.iter().position(|byte| *byte == b'\n').map(|end| bytes.split_at(end + 1));
    let said = line.and_then(|(line, rest)| {
        let version = str::from_utf8(line).ok()?.strip_prefix(MARK)?.trim_end().parse().ok()?;
        Some((version, rest))
    });
    let mark = MARK.trim_end().as_bytes();
    let version: u32 = match said {
        Some((VERSION, rest)) => {
            let parted = rest.split_first_chunk().ok_or_else(|| is_damaged(path));
            return parted.map(|(check, rest)| (u32::from_le_bytes(*check), rest));
        }
        Some((version, _)) => version,
        // Before version 8 the mark stood further inside.
        None if near.windows(mark.len()).any(|own| own == mark) => VERSION - 1,
        None => {
            return Err(Failure::could_not(format!(
                "{} holds no evidence; metachron survey FILE --evidence writes it",
                shown(path)
            )));
        }
    };
    Err(Failure::could_not(format!(
        "{} is of version {version}, this program writes {VERSION}; gather it anew with metachron survey",
        shown(path)
    )))
}

/// The next bytes, which have their length before them.
fn take<'b>(rest: &mut &'b [u8]) -> Option<&'b [u8]> {
    let (length, behind) = rest.split_first_chunk::<8>()?;
    let length = usize::try_from(u64::from_le_bytes(*length)).ok()?;
    let (own, behind) = behind.split_at_checked(length)?;
    *rest = behind;
    Some(own)
}

fn from_bytes<T: DeserializeOwned>(bytes: &[u8]) -> Option<T> {
    postcard::from_bytes(bytes).ok()
}

fn is_damaged(path: &Path) -> Failure {
    Failure::could_not(format!(
        "{} is damaged: it is not what was written; gather it anew with metachron survey",
        shown(path)
    ))
}
