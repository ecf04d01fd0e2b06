//! Permutation tests: votes laid at random on groups and on runs of rows.

use super::tails::{ln_choose, ln_sum};

/// The logarithm of the probability that votes which fall on groups of these sizes by chance leave
/// every group of one mind, where so many of all votes are for one side: the ways to fill groups
/// with them, of all ways to choose them (permutation test).
pub(crate) fn ln_clean_groups(sizes: &[u64], of_one_side: u64) -> f64 {
    let all: u64 = sizes.iter().sum();
    let target = of_one_side as usize;
    // The ways to reach each sum with some of the groups.
    let mut ways = vec![0.0_f64; target + 1];
    ways[0] = 1.0;
    for size in sizes.iter().map(|size| *size as usize).filter(|size| *size > 0) {
        for sum in (size..=target).rev() {
            ways[sum] += ways[sum - size];
        }
    }
    (ways[target].ln() - ln_choose(all, of_one_side)).min(0.0)
}

/// The logarithm of the probability of so few runs at most in a random sequence of so many votes
/// of two sides (Wald and Wolfowitz 1940).
pub(crate) fn ln_few_runs(one: u64, other: u64, runs: u64) -> f64 {
    let ways = |runs: u64| {
        let half = runs / 2;
        let choose = |all: u64, some: u64| ln_choose(all - 1, some);
        if runs.is_multiple_of(2) {
            std::f64::consts::LN_2 + choose(one, half - 1) + choose(other, half - 1)
        } else {
            ln_sum(&[
                choose(one, half) + choose(other, half - 1),
                choose(one, half - 1) + choose(other, half),
            ])
        }
    };
    if one == 0 || other == 0 {
        return 0.0;
    }
    let terms: Vec<f64> = (2..=runs).map(ways).collect();
    (ln_sum(&terms) - ln_choose(one + other, one)).min(0.0)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::verdict::odds::close;

    #[test]
    fn clean_groups_by_chance() {
        // Two groups of two, two votes of each side: of the six ways to lay them two are clean.
        close(ln_clean_groups(&[2, 2], 2), 2.0 / 6.0);
        // Single votes are always of one mind.
        close(ln_clean_groups(&[1, 1, 1, 1, 1], 2), 1.0);
        close(ln_clean_groups(&[3, 2], 3), 1.0 / 10.0);
        // Three ways to fill two of four groups of one side, by hand: {5}, {3, 2}, {3', 2}.
        close(ln_clean_groups(&[5, 3, 3, 2], 5), 3.0 / 1_287.0);
    }

    #[test]
    fn few_runs_by_chance() {
        // aab, aba, baa: two have two runs.
        close(ln_few_runs(2, 1, 2), 2.0 / 3.0);
        close(ln_few_runs(2, 1, 3), 1.0);
        close(ln_few_runs(20, 20, 2), 2.0 / 137_846_528_820.0);
        close(ln_few_runs(3, 4, 7), 1.0);
    }
}
