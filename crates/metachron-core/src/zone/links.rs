//! Names that stand for others: old and short ones, and zones whose clocks before 1970 are left to those of another.

use std::collections::BTreeMap;
use std::sync::LazyLock;

/// The current name of every old one, as `links.zi` has them.
pub(super) static LINKS: LazyLock<BTreeMap<&str, &str>> =
    LazyLock::new(|| links(include_str!("links.zi")));

/// The zone whose clocks stand for those of another before 1970, as `merged.zi` has them.
pub(super) static MERGED: LazyLock<BTreeMap<&str, &str>> =
    LazyLock::new(|| links(include_str!("merged.zi")));

/// The first name of every line, by the second.
fn links(text: &'static str) -> BTreeMap<&'static str, &'static str> {
    let links = text.lines().filter_map(|line| line.strip_prefix("L "));
    links.filter_map(|link| link.split_once(' ')).map(|(current, old)| (old, current)).collect()
}
