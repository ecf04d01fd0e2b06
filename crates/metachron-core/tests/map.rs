//! The map at the top of the crate is true: a module uses only those declared above it.
#![allow(clippy::unwrap_used, clippy::disallowed_methods)]

use std::fs;
use std::path::{Path, PathBuf};

fn files(dir: &Path, found: &mut Vec<PathBuf>) {
    for entry in fs::read_dir(dir).unwrap() {
        let path = entry.unwrap().path();
        if path.is_dir() { files(&path, found) } else { found.push(path) }
    }
}

#[test]
fn modules_use_only_those_above_them() {
    let src = Path::new(env!("CARGO_MANIFEST_DIR")).join("src");
    let root = fs::read_to_string(src.join("lib.rs")).unwrap();
    let order: Vec<&str> =
        root.lines().filter_map(|line| line.strip_prefix("pub mod ")?.strip_suffix(';')).collect();
    let rank = |module: &str| order.iter().position(|other| *other == module);
    let mut all = Vec::new();
    files(&src, &mut all);
    let mut checked = 0;
    for path in all {
        if path.extension().is_none_or(|extension| extension != "rs") {
            continue;
        }
        let inside = path.strip_prefix(&src).unwrap();
        let module = inside.iter().next().unwrap().to_str().unwrap().trim_end_matches(".rs");
        if matches!(module, "lib" | "infer" | "error") {
            continue;
        }
        let own = rank(module).unwrap_or_else(|| panic!("{module} is not declared in lib.rs"));
        let text = fs::read_to_string(&path).unwrap();
        let code = text.split("#[cfg(test)]").next().unwrap();
        let code = code.lines().filter(|line| !line.trim_start().starts_with("//"));
        for used in code.flat_map(|line| line.split("crate::").skip(1)) {
            let used = used.split(|c: char| !c.is_alphanumeric() && c != '_').next().unwrap();
            let Some(other) = rank(used).filter(|_| used != "error") else { continue };
            assert!(other <= own, "{} uses {used}, which is declared below it", path.display());
            checked += 1;
        }
    }
    assert!(checked > 30, "found only {checked} uses: is the search still right?");
}
