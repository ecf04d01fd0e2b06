//! Old and short names of zones, and the names that stand for them now.

use std::collections::BTreeMap;
use std::sync::LazyLock;

/// The current name of every old one, as `links.zi` has them.
pub(super) static LINKS: LazyLock<BTreeMap<&str, &str>> = LazyLock::new(|| {
    let links = include_str!("links.zi").lines().filter_map(|line| line.strip_prefix("L "));
    links.filter_map(|link| link.split_once(' ')).map(|(current, old)| (old, current)).collect()
});
