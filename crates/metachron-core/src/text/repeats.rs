//! Whether texts repeat, so that it is worth remembering them.

/// Counts how often what was remembered is met again.
///
/// ```
/// use metachron_core::text::Repeats;
/// let mut repeats = Repeats::default();
/// repeats.forget(100); // a hundred were remembered in vain
/// assert!(!repeats.are_likely());
/// ```
#[derive(Debug, Clone, Copy, Default)]
pub struct Repeats {
    found: usize,
    /// For so many more, nothing is remembered.
    in_vain: usize,
}

impl Repeats {
    /// Whether the next text is worth being looked for and remembered.
    pub fn are_likely(&mut self) -> bool {
        let is_likely = self.in_vain == 0;
        self.in_vain = self.in_vain.saturating_sub(1);
        is_likely
    }

    /// One was found again.
    pub fn note(&mut self) {
        self.found += 1;
    }

    /// So many were remembered and are forgotten now. Where hardly one was found again, it is tried again later.
    pub fn forget(&mut self, remembered: usize) {
        const OFTEN: usize = 4;
        const LATER: usize = 8;
        if self.found < remembered / OFTEN {
            self.in_vain = LATER * remembered;
        }
        self.found = 0;
    }
}
