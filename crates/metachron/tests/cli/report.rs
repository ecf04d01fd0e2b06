//! The page of a report: what it says, that it needs nothing beside it, and how a browser lays it out.

use std::path::PathBuf;
use std::process::Command;

use serde_json::Value;

use crate::harness::{Bench, table};

/// A table with a decided column, an open one, a cell that cannot be read, and names that try to be HTML.
fn bench() -> Bench {
    let rows = (1..=60).map(|row| {
        let (day, month) = (row % 12 + 1, row % 5 + 1);
        let logged = if row == 7 {
            "soon <b>".to_owned()
        } else {
            format!("2024-0{month}-{:02}", row % 28 + 1)
        };
        format!("\"<script>alert(1)</script>\",{day:02}/{month:02}/2024,{logged},{row}")
    });
    let bench =
        Bench::with("a.csv", table("\"<img src=x onerror=alert(2)>\",\"cau&ght\",logged,n", rows));
    bench
        .run("report a.csv -o a.html")
        .stderr("a.html   2 date columns, 1 open, 2 findings\n")
        .check();
    bench
}

#[test]
fn the_page_says_what_was_found_and_needs_nothing_beside_it() {
    let bench = bench();
    let page = bench.read("a.html");
    for says in [
        "<title>Dates of a.csv</title>",
        "CSV, comma, UTF-8, header in line 1, 60 rows, 4 columns",
        "cau&amp;ght",
        "No dates: &lt;img src=x onerror=alert(2)&gt;, n.",
        "If it is day first",
        "If it is month first",
        "<q>soon &lt;b&gt;</q>",
        "metachron convert a.csv --set &#39;",
        "<h2>Cells not read (1)</h2>",
        "Ruled out",
    ] {
        assert!(page.contains(says), "no {says} in {page}");
    }
    for never in ["<script", "<img", "http:", "https:", "<link", "url(", "onerror=alert(2)>"] {
        assert!(!page.contains(never), "{never} in {page}");
    }
    // The same again, byte by byte.
    bench.run("report a.csv -o a.html").output();
    assert!(bench.read("a.html") == page);
    bench
        .run("report a.csv -o a.pdf")
        .status(2)
        .stderr("metachron: a report is a page of HTML; give it a name such as a.html\n")
        .check();
}

/// The first of these that is installed.
fn browser() -> Option<PathBuf> {
    let path = std::env::var_os("PATH")?;
    let names = ["chromium", "chromium-browser", "google-chrome"];
    let all = std::env::split_paths(&path).flat_map(|dir| names.map(|name| dir.join(name)));
    all.into_iter().find(|own| own.is_file())
}

/// Looks at the page in a frame of a width: what is wider than it, and texts whose contrast is too low (WCAG 2.2, 1.4.3).
const LOOK: &str = r#"<!DOCTYPE html><html><body><iframe id="f" src="a.html" style="border:0;width:WIDTHpx;height:800px"></iframe>
<pre id="found"></pre><script>
const channel = c => (c /= 255) <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4;
const light = ([r, g, b]) => 0.2126 * channel(r) + 0.7152 * channel(g) + 0.0722 * channel(b);
const numbers = text => text.match(/[\d.]+/g).map(Number);
document.getElementById("f").onload = () => {
  const page = document.getElementById("f").contentDocument, view = page.defaultView;
  const wide = page.documentElement.scrollWidth, low = [], beyond = [];
  const paper = element => {
    for (let e = element; e; e = e.parentElement) {
      const c = numbers(view.getComputedStyle(e).backgroundColor);
      if (c.length < 4 || c[3] > 0) return c;
    }
    return [255, 255, 255];
  };
  page.querySelectorAll("details").forEach(own => own.open = true);
  for (const element of page.body.querySelectorAll("*")) {
    const box = element.getBoundingClientRect();
    const scrolls = element.closest(".wide, pre, svg");
    if (!scrolls && !element.classList.contains("skip") && box.right > WIDTH + 1) beyond.push(element.outerHTML.slice(0, 80));
    const texts = [...element.childNodes].some(n => n.nodeType === 3 && n.textContent.trim());
    if (!texts || element.closest("svg, style, title")) continue;
    const [a, b] = [view.getComputedStyle(element).color, 0].map((own, at) => light(at ? paper(element) : numbers(own)));
    const ratio = (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05);
    if (ratio < 4.5) low.push(element.outerHTML.slice(0, 80) + " " + ratio.toFixed(2));
  }
  const focus = page.querySelectorAll("a[href], summary, [tabindex='0']").length;
  const names = [...page.querySelectorAll("svg")].every(own => own.getAttribute("aria-label"));
  const background = view.getComputedStyle(page.body).backgroundColor;
  document.getElementById("found").textContent = JSON.stringify({wide, beyond, low, focus, names, background});
};
</script></body></html>"#;

fn look(bench: &Bench, browser: &PathBuf, width: u32, is_dark: bool) -> Value {
    bench.write("look.html", LOOK.replace("WIDTH", &width.to_string()));
    let scheme = if is_dark { 0 } else { 1 };
    let output = Command::new(browser)
        .args(["--headless", "--no-sandbox", "--disable-gpu", "--allow-file-access-from-files"])
        .args(["--virtual-time-budget=5000", "--dump-dom"])
        .arg(format!("--blink-settings=preferredColorScheme={scheme}"))
        .arg(format!(
            "--user-data-dir={}",
            bench.path().join(format!("profile-{width}-{scheme}")).display()
        ))
        .arg(format!("--window-size={},900", width + 40))
        .arg(format!("file://{}", bench.path().join("look.html").display()))
        .output()
        .unwrap();
    let dom = String::from_utf8_lossy(&output.stdout);
    let found = dom.split("<pre id=\"found\">").nth(1).and_then(|rest| rest.split("</pre>").next());
    let found = found.unwrap().replace("&lt;", "<").replace("&gt;", ">").replace("&amp;", "&");
    serde_json::from_str(&found).unwrap_or_else(|error| panic!("{error}: {dom}"))
}

#[test]
fn a_browser_shows_all_of_it_on_any_screen_light_and_dark() {
    let Some(browser) = browser() else {
        assert!(std::env::var_os("CI").is_none(), "CI must have a Chromium");
        return;
    };
    let bench = bench();
    let mut backgrounds = Vec::new();
    for (width, is_dark) in [(1_280, false), (400, false), (400, true), (1_280, true)] {
        let found = look(&bench, &browser, width, is_dark);
        assert!(found["wide"].as_u64().unwrap() <= u64::from(width), "{width}: {found}");
        assert_eq!(found["beyond"], Value::Array(Vec::new()), "{width}");
        assert_eq!(found["low"], Value::Array(Vec::new()), "{width}, dark: {is_dark}");
        assert!(found["focus"].as_u64().unwrap() > 10 && found["names"] == true, "{found}");
        backgrounds.push(found["background"].as_str().unwrap().to_owned());
    }
    assert_eq!(backgrounds[0], "rgb(255, 255, 255)");
    assert_eq!(backgrounds[1], backgrounds[0]);
    assert_eq!(backgrounds[2], "rgb(23, 24, 26)");
    assert_eq!(backgrounds[3], backgrounds[2]);
}
