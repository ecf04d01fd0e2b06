//! What was seen of a table, kept for later: evidence adds up, so that files that cannot be brought
//! together can be judged together.
//!
//! The file is CBOR (RFC 8949), with its version first.

use std::borrow::Cow;
use std::io::Write;
use std::path::Path;

use metachron_core::evidence::Evidence;
use metachron_tables::place::Output;
use serde::{Deserialize, Serialize};

use super::column::SurveyedColumn;
use crate::message::{Failure, shown};
use crate::paths;

/// The version that is written; evidence of other versions cannot be added.
const VERSION: u32 = 7;
/// What stands at the beginning.
const MARK: &str = "metachron evidence";

/// What was seen.
#[derive(Debug, Serialize, Deserialize)]
pub struct EvidenceFile<'e> {
    mark: String,
    version: u32,
    /// The files that were looked at, with their rows; each is a part of the table.
    pub parts: Vec<(String, u64)>,
    /// The columns by name.
    pub columns: Vec<(String, Cow<'e, Evidence>)>,
}

/// What tells whether the rest can be read.
#[derive(Deserialize)]
struct Head {
    mark: String,
    version: u32,
}

impl<'e> EvidenceFile<'e> {
    /// What was seen of these columns.
    pub fn new(parts: Vec<(String, u64)>, columns: &'e [SurveyedColumn]) -> EvidenceFile<'e> {
        let columns = columns
            .iter()
            .map(|column| (column.plan.name.clone(), Cow::Borrowed(column.first_evidence())))
            .collect();
        EvidenceFile { mark: MARK.to_owned(), version: VERSION, parts, columns }
    }

    /// Reads what was written.
    pub fn read(path: &Path) -> Result<EvidenceFile<'static>, Failure> {
        let bytes = paths::content(path)?;
        let head: Result<Head, _> = ciborium::from_reader(bytes.as_slice());
        let Some(head) = head.ok().filter(|head| head.mark == MARK) else {
            return Err(Failure::could_not(format!(
                "{} holds no evidence; metachron survey FILE --evidence writes it",
                shown(path)
            )));
        };
        if head.version != VERSION {
            return Err(Failure::could_not(format!(
                "{} is of version {}, this program writes {VERSION}; gather it anew with metachron survey",
                shown(path),
                head.version
            )));
        }
        ciborium::from_reader(bytes.as_slice())
            .map_err(|error| Failure::could_not(format!("{} is damaged: {error}", shown(path))))
    }

    /// Writes it whole or not at all.
    pub fn write(&self, path: &Path) -> Result<(), Failure> {
        let failed = |error| Failure::writing(path, &error);
        let mut bytes = Vec::new();
        ciborium::into_writer(self, &mut bytes).map_err(Failure::could_not)?;
        let mut out = Output::create(path).map_err(failed)?;
        out.write_all(&bytes).and_then(|()| out.finish()).map_err(failed)
    }
}
