//! The demo, and what the documents say.

use std::fs;
use std::path::Path;

use crate::harness::Bench;

#[test]
fn the_demo_runs_and_shows_every_kind_of_column() {
    let bench = Bench::new();
    let text =
        bench.run("demo --dir flyway").stdout_has(&["metachron survey captures.csv"]).check();
    for line in [
        "  captured  date     decided     2,471        9           0      0  {day}/{month}/{year}",
        "  released  date     leaning",
        "  seen      date     mixed",
        "  logged    instant  decided     2,466       12           2      0  rfc-3339",
        "  entered   date     decided     2,480        0           0      0  {month:name} {day}, {year}",
        "2 of 5 date columns are open; nothing was written",
    ] {
        assert!(text.contains(line), "no {line:?} in\n{text}");
    }
    assert_eq!(bench.files(), ["flyway"], "everything the demo writes is in its folder");
    let out = bench.read("flyway/captures.out.csv");
    assert_eq!(out.lines().count(), 2_481);
    bench
        .run("demo --dir flyway")
        .status(1)
        .stderr("metachron: flyway is not empty; name a new folder with --dir\n")
        .check();
}

fn root() -> &'static Path {
    Path::new(concat!(env!("CARGO_MANIFEST_DIR"), "/../.."))
}

#[test]
fn every_picture_and_page_that_the_readme_links_exists() {
    for (page, folder) in
        [("README.md", ""), ("docs/questions.md", "docs"), ("docs/options.md", "docs")]
    {
        let text = fs::read_to_string(root().join(page)).unwrap();
        let links: Vec<&str> = text
            .split("](")
            .skip(1)
            .filter_map(|rest| rest.split(')').next())
            .filter(|link| !link.starts_with("http") && !link.starts_with('#'))
            .collect();
        assert!(links.len() >= 5, "{links:?}");
        for link in links {
            assert!(root().join(folder).join(link).exists(), "{page} links {link}");
        }
    }
}

#[test]
fn the_layouts_page_names_every_field() {
    let page = fs::read_to_string(root().join("docs/layouts.md")).unwrap();
    for (name, _) in metachron_core::layout::FIELDS {
        let general =
            name.trim_end_matches(|c: char| c.is_ascii_digit() && name.starts_with("fraction"));
        let named = page.contains(&format!("`{{{name}}}`")) || general.starts_with("fraction:");
        assert!(named, "docs/layouts.md does not name {{{name}}}");
    }
    for standard in &metachron_core::layout::STANDARDS {
        assert!(page.contains(standard.name) && page.contains(standard.source));
    }
}

/// What the command lines of the README, and of the page that answers questions, print stands whole in `readme.txt`. After a change that is meant, `WRITE_README=1`
/// writes it anew; read the difference.
#[test]
fn command_lines_of_the_readme_say_what_they_said() {
    let pages = ["README.md", "docs/questions.md"]
        .map(|page| fs::read_to_string(root().join(page)).unwrap());
    let readme = pages.concat();
    let bench = Bench::new();
    bench.run("demo --dir .").stdout_has(&[]).check();
    let mut said = String::new();
    for line in readme.lines().filter_map(|line| line.strip_prefix("$ metachron ")) {
        let (line, status) = match line.split_once("   # exit status ") {
            Some((line, status)) => (line, status.parse().unwrap()),
            None => (line, 0),
        };
        // What comes of the clock: how long ago a day was, and which year was the last.
        let by_the_clock = ["explain ", "survey winter.csv"];
        let on_a_day = match by_the_clock.iter().any(|begin| line.starts_with(begin)) {
            true => format!("{line} --as-of 2026-11-28"),
            false => line.to_owned(),
        };
        let output = bench.command(&on_a_day).output().unwrap();
        assert_eq!(output.status.code(), Some(status), "{line}");
        said.push_str(&format!("$ metachron {line}\n"));
        // These tell of this very moment, and have tests of their own.
        if line.starts_with("list epochs") || line.starts_with("list zones") {
            continue;
        }
        said.push_str(&String::from_utf8(output.stdout).unwrap());
        said.push_str(&String::from_utf8(output.stderr).unwrap());
        said.push('\n');
    }
    let kept = root().join("crates/metachron/tests/cli/readme.txt");
    if std::env::var_os("WRITE_README").is_some() {
        fs::write(&kept, &said).unwrap();
    }
    let kept = fs::read_to_string(kept).unwrap();
    let mut command = "";
    for (at, (kept, said)) in (1..).zip(kept.lines().zip(said.lines())) {
        command = if said.starts_with("$ ") { said } else { command };
        assert_eq!(kept, said, "line {at} of readme.txt, in what {command} prints");
    }
    assert_eq!(kept.lines().count(), said.lines().count());
    assert!(said.matches("$ metachron ").count() >= 25);
}
