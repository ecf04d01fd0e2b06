//! How improbable something is that looks like evidence.

/// The natural logarithm of the number of ways to choose some of many.
pub(super) fn ln_choose(all: u64, some: u64) -> f64 {
    if some > all {
        return f64::NEG_INFINITY;
    }
    let few = some.min(all - some);
    (0..few).map(|index| ((all - index) as f64 / (few - index) as f64).ln()).sum()
}

/// The logarithm of the probability of so few successes at most in so many trials (binomial
/// distribution). The last term is the largest, so the others are taken relative to it.
pub(super) fn ln_at_most(successes: u64, trials: u64, share: f64) -> f64 {
    let mut terms = vec![(1.0 - share).ln() * trials as f64];
    for success in 1..=successes {
        let ways = (trials - success + 1) as f64 / success as f64;
        let last = terms.last().copied().unwrap_or_default();
        terms.push(last + ways.ln() + (share / (1.0 - share)).ln());
    }
    ln_sum(&terms).min(0.0)
}

/// The logarithm of the probability that votes which fall on groups of these sizes by chance leave
/// every group of one mind, where so many of all votes are for one side: the ways to fill groups
/// with them, of all ways to choose them (permutation test).
pub(super) fn ln_clean_groups(sizes: &[u64], of_one_side: u64) -> f64 {
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
pub(super) fn ln_few_runs(one: u64, other: u64, runs: u64) -> f64 {
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

/// The range in which a share lies with 95 % probability that was seen in so many (Wilson 1927).
pub(super) fn share_range(share: f64, all: u64) -> (f64, f64) {
    if all == 0 {
        return (0.0, 1.0);
    }
    const Z: f64 = 1.959_963_984_540_054;
    let n = all as f64;
    let middle = share + Z * Z / (2.0 * n);
    let half = Z * (share * (1.0 - share) / n + Z * Z / (4.0 * n * n)).sqrt();
    let scale = 1.0 + Z * Z / n;
    (((middle - half) / scale).max(0.0), ((middle + half) / scale).min(1.0))
}

/// The logarithm of a sum of which the logarithms of the terms are known.
fn ln_sum(terms: &[f64]) -> f64 {
    let largest = terms.iter().copied().fold(f64::NEG_INFINITY, f64::max);
    if largest == f64::NEG_INFINITY {
        return largest;
    }
    largest + terms.iter().map(|term| (term - largest).exp()).sum::<f64>().ln()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn close(ln: f64, expected: f64) {
        assert!((ln.exp() - expected).abs() < 1e-12, "{} is not {expected}", ln.exp());
    }

    #[test]
    fn few_successes_by_chance() {
        // 0 or 1 heads in 3 throws: 4 of 8.
        close(ln_at_most(1, 3, 0.5), 0.5);
        close(ln_at_most(0, 10, 0.25), 0.75_f64.powi(10));
        close(ln_at_most(10, 10, 0.6), 1.0);
    }

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

    #[test]
    fn ranges_of_shares_hold_the_share() {
        let (low, high) = share_range(0.8, 10);
        // As tabulated for Wilson's interval.
        assert!((low - 0.4902).abs() < 1e-4 && (high - 0.9433).abs() < 1e-4, "{low} {high}");
        assert_eq!(share_range(0.0, 0), (0.0, 1.0));
    }
}
