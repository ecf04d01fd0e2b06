//! What came out: how the new values lie in time, and some of them beside their raw ones.

use metachron_core::evidence::Shapes;
use metachron_core::reading::Fit;
use metachron_core::timeline::Timeline;

/// Written forms of which an example is kept.
const MOST_FORMS: usize = 24;
/// Examples that are drawn by chance.
const DRAWN: usize = 3;

/// Rows of a column whose values are shown beside the raw ones.
#[derive(Debug, Clone, Default)]
pub struct SampledRows {
    /// The first row of each written form, with the rank of the form: the most frequent is 0.
    forms: Vec<(u64, usize)>,
    /// Whether the last row is kept as well.
    keeps_last: bool,
}

/// A value that was read.
#[derive(Debug, Clone, PartialEq)]
pub struct Sample {
    /// Its row.
    pub row: u64,
    /// The raw value.
    pub raw: String,
    /// What it was read as.
    pub fit: Fit,
}

/// What the values of a column have come to.
#[derive(Debug, Clone, Default)]
pub struct CameOut {
    /// How they lie in time.
    pub timeline: Timeline,
    /// The first value.
    pub first: Option<Sample>,
    /// The last one.
    pub last: Option<Sample>,
    /// One of each written form, by the rank of the form.
    pub forms: Vec<(usize, Sample)>,
    /// Some that chance has drawn, the same ones in every run, by their hash.
    drawn: Vec<(u64, Sample)>,
}

impl SampledRows {
    /// One of each of these written forms, some that are drawn by chance, and the last one if that is asked for.
    pub fn of(shapes: &Shapes, keeps_last: bool) -> SampledRows {
        let shapes = shapes.by_frequency();
        let rows = shapes.iter().map(|(_, own)| own.lowest.row).take(MOST_FORMS);
        let mut forms: Vec<(u64, usize)> = rows.zip(0..).collect();
        forms.sort_unstable();
        SampledRows { forms, keeps_last }
    }

    /// Takes in a value that was read; its raw one is asked for where it is kept.
    pub fn observe(
        &self,
        came_out: &mut CameOut,
        (row, fit): (u64, &Fit),
        mut raw: impl FnMut() -> String,
    ) {
        let mut sample = || Sample { row, raw: raw(), fit: *fit };
        if came_out.first.is_none() {
            came_out.first = Some(sample());
        }
        if let Ok(at) = self.forms.binary_search_by_key(&row, |(row, _)| *row) {
            came_out.forms.push((self.forms[at].1, sample()));
        }
        if self.keeps_last {
            came_out.last = Some(sample());
        }
        let (hash, drawn) = (scattered(row), &mut came_out.drawn);
        if drawn.len() < DRAWN || drawn.last().is_some_and(|(highest, _)| hash < *highest) {
            drawn.push((hash, sample()));
            drawn.sort_by_key(|(hash, _)| *hash);
            drawn.truncate(DRAWN);
        }
    }
}

/// A number for a row that says nothing of its neighbours: the lowest ones are a fair draw, the same one in every run
/// (SplitMix64; Steele, Lea, Flood 2014).
fn scattered(row: u64) -> u64 {
    let mixed = row.wrapping_mul(0x9E37_79B9_7F4A_7C15);
    let mixed = (mixed ^ (mixed >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
    let mixed = (mixed ^ (mixed >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
    mixed ^ (mixed >> 31)
}

impl CameOut {
    /// What the values of these rows and the next ones have come to.
    pub fn join(&mut self, next: CameOut) {
        self.timeline = std::mem::take(&mut self.timeline).join(next.timeline);
        self.first = self.first.take().or(next.first);
        self.last = next.last.or(self.last.take());
        self.forms.extend(next.forms);
        self.drawn.extend(next.drawn);
        self.drawn.sort_by_key(|(hash, _)| *hash);
        self.drawn.truncate(DRAWN);
    }

    /// An example of each written form, the most frequent first.
    pub fn of_forms(&self) -> Vec<&Sample> {
        let mut forms: Vec<&(usize, Sample)> = self.forms.iter().collect();
        forms.sort_by_key(|(rank, _)| *rank);
        forms.into_iter().map(|(_, sample)| sample).collect()
    }

    /// So many examples: of different written forms as far as there are any, then such as differ.
    pub fn examples(&self, most: usize) -> Vec<&Sample> {
        let mut examples = self.of_forms();
        examples.truncate(most);
        for sample in self.first.iter().chain(self.drawn()) {
            if examples.len() < most && examples.iter().all(|own| own.raw != sample.raw) {
                examples.push(sample);
            }
        }
        examples
    }

    /// Those that chance has drawn, in the order of their rows.
    pub fn drawn(&self) -> Vec<&Sample> {
        let mut drawn: Vec<&Sample> = self.drawn.iter().map(|(_, sample)| sample).collect();
        drawn.sort_by_key(|sample| sample.row);
        drawn
    }
}
