//! The locales that write numbers with a decimal comma, from CLDR's symbols for numbers.

use std::path::Path;

use serde_json::Value;

/// Their tags, one a line.
pub fn make(folder: &Path) -> Result<String, String> {
    let main = folder.join("cldr-numbers-full/main");
    let shown = |error: std::io::Error| format!("{}: {error}", main.display());
    let mut tags: Vec<String> = Vec::new();
    for locale in std::fs::read_dir(&main).map_err(shown)? {
        let locale = locale.map_err(shown)?;
        let tag = locale.file_name().to_string_lossy().into_owned();
        let text = std::fs::read_to_string(locale.path().join("numbers.json")).map_err(shown)?;
        let all: Value = serde_json::from_str(&text).map_err(|error| format!("{tag}: {error}"))?;
        let symbols = &all["main"][&tag]["numbers"]["symbols-numberSystem-latn"];
        if symbols["decimal"] == "," {
            tags.push(tag);
        }
    }
    tags.sort();
    Ok(tags.join("\n") + "\n")
}
