//! Whether rows follow each other.

/// How each row lies to the one before it that has a value.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct RowOrder<T> {
    /// The values of the first row and of the last, with the rows.
    ends: Option<[(u64, T); 2]>,
    /// Rows that lie behind the one before them.
    pub rises: Turn<T>,
    /// Rows that lie before the one before them.
    pub falls: Turn<T>,
}

/// Rows that lie on one side of the one before them.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Turn<T> {
    /// How many.
    pub count: u64,
    /// The first of them: the row before it and its value, and its own.
    pub first: Option<[(u64, T); 2]>,
}

impl<T> Default for Turn<T> {
    fn default() -> Turn<T> {
        Turn { count: 0, first: None }
    }
}

impl<T> Default for RowOrder<T> {
    fn default() -> RowOrder<T> {
        RowOrder { ends: None, rises: Turn::default(), falls: Turn::default() }
    }
}

impl<T: Ord + Clone> RowOrder<T> {
    /// The next row.
    pub fn observe(&mut self, row: u64, value: &T) {
        match &self.ends {
            None => self.ends = Some([(row, value.clone()), (row, value.clone())]),
            Some(_) => {
                self.step(row, value);
                if let Some([_, (last_row, last)]) = &mut self.ends {
                    *last_row = row;
                    last.clone_from(value);
                }
            }
        }
    }

    /// Compares a row with the last one.
    fn step(&mut self, row: u64, value: &T) {
        let Some([_, (last_row, last)]) = &self.ends else { return };
        let turn = match value.cmp(last) {
            std::cmp::Ordering::Equal => return,
            std::cmp::Ordering::Greater => &mut self.rises,
            std::cmp::Ordering::Less => &mut self.falls,
        };
        turn.count += 1;
        if turn.first.is_none() {
            turn.first = Some([(*last_row, last.clone()), (row, value.clone())]);
        }
    }

    /// The same with the rows that come after these.
    pub fn join(&mut self, next: RowOrder<T>) {
        let Some([(row, first), last]) = next.ends else { return };
        self.step(row, &first);
        self.ends = match self.ends.take() {
            Some([own, _]) => Some([own, last]),
            None => Some([(row, first), last]),
        };
        for (own, next) in [(&mut self.rises, next.rises), (&mut self.falls, next.falls)] {
            own.count += next.count;
            own.first = own.first.take().or(next.first);
        }
    }

    /// Whether no row lies before the one before it.
    pub fn is_sorted(&self) -> bool {
        self.falls.count == 0
    }
}
