//! Whether one set of figures lies above another beyond chance.

use super::tails::ln_choose;

/// The natural logarithm of the probability that the first of two sets of figures ranks so high by chance, were all
/// of them drawn alike: the exact permutation distribution of the sum of its ranks, equal figures sharing theirs
/// (Wilcoxon 1945).
pub(crate) fn ln_ranks_above(first: &[u64], second: &[u64]) -> f64 {
    let all: Vec<u64> = first.iter().chain(second).copied().collect();
    // Twice the rank, so that shared ranks are whole numbers.
    let rank = |figure: u64| {
        let below = all.iter().filter(|other| **other < figure).count();
        let equal = all.iter().filter(|other| **other == figure).count();
        2 * below + equal + 1
    };
    let mut ranks: Vec<usize> = all.iter().map(|figure| rank(*figure)).collect();
    // The lowest first, so that few sums are reached for long.
    ranks.sort_unstable();
    let sum: usize = first.iter().map(|figure| rank(*figure)).sum();
    let most: usize = ranks.iter().sum();
    // The ways to choose so many of the ranks with each sum.
    let mut ways = vec![vec![0.0_f64; most + 1]; first.len() + 1];
    ways[0][0] = 1.0;
    let mut highest = 0;
    for rank in ranks {
        highest += rank;
        for chosen in (1..=first.len()).rev() {
            let (fewer, more) = ways.split_at_mut(chosen);
            let sums = more[0][rank..=highest].iter_mut();
            sums.zip(&fewer[chosen - 1]).for_each(|(sum, without)| *sum += without);
        }
    }
    let as_high: f64 = ways[first.len()][sum..].iter().sum();
    (as_high.ln() - ln_choose(all.len() as u64, first.len() as u64)).min(0.0)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::verdict::odds::close;

    #[test]
    fn ranks_by_chance() {
        // One of the six ways to choose two of four.
        close(ln_ranks_above(&[3, 4], &[1, 2]), 1.0 / 6.0);
        close(ln_ranks_above(&[1, 2], &[3, 4]), 1.0);
        // All are alike: any choice ranks as high.
        close(ln_ranks_above(&[5, 5], &[5, 5, 5]), 1.0);
        // 3 and either of the two 2: two of six ways.
        close(ln_ranks_above(&[2, 3], &[1, 2]), 2.0 / 6.0);
    }
}
