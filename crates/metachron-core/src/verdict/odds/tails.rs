//! Tails of distributions: how improbable it is that chance looks like this. All are natural logarithms, so that
//! they stay exact where the probability itself would be zero.

/// One in how many, as a power of ten: that of which this is the logarithm of the probability.
pub(crate) fn power(ln: f64) -> u32 {
    (-ln / std::f64::consts::LN_10).max(0.0) as u32
}

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
pub(crate) fn ln_at_most(successes: u64, trials: u64, share: f64) -> f64 {
    let mut terms = vec![(1.0 - share).ln() * trials as f64];
    for success in 1..=successes {
        let ways = (trials - success + 1) as f64 / success as f64;
        let last = terms.last().copied().unwrap_or_default();
        terms.push(last + ways.ln() + (share / (1.0 - share)).ln());
    }
    ln_sum(&terms).min(0.0)
}

/// The range in which a share lies with 95 % probability that was seen in so many (Wilson 1927).
pub(crate) fn share_range(share: f64, all: u64) -> (f64, f64) {
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
pub(super) fn ln_sum(terms: &[f64]) -> f64 {
    let largest = terms.iter().copied().fold(f64::NEG_INFINITY, f64::max);
    if largest == f64::NEG_INFINITY {
        return largest;
    }
    largest + terms.iter().map(|term| (term - largest).exp()).sum::<f64>().ln()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::verdict::odds::close;

    #[test]
    fn few_successes_by_chance() {
        // 0 or 1 heads in 3 throws: 4 of 8.
        close(ln_at_most(1, 3, 0.5), 0.5);
        close(ln_at_most(0, 10, 0.25), 0.75_f64.powi(10));
        close(ln_at_most(10, 10, 0.6), 1.0);
    }

    #[test]
    fn ranges_of_shares_hold_the_share() {
        let (low, high) = share_range(0.8, 10);
        // As tabulated for Wilson's interval.
        assert!((low - 0.4902).abs() < 1e-4 && (high - 0.9433).abs() < 1e-4, "{low} {high}");
        assert_eq!(share_range(0.0, 0), (0.0, 1.0));
    }
}
