//! The text of a readings file, written anew or into one that is there: its comments and its order stay.

use toml_edit::{Array, ArrayOfTables, DocumentMut, Item, Table, Value};

use super::decisions::Decisions;
use super::readings_file::{SOURCE_KEYS, VERSION};
use super::shaping::{MadeColumn, MadeSeries, Shaping};
use super::wrong::Wrong;

/// Keys and their values as TOML, in the order in which they are written.
pub type Keys = Vec<(&'static str, Value)>;

/// What is to be saved.
#[derive(Debug, Default)]
pub struct Saved {
    /// What it was saved from, when, by which program, and how to use it: the first lines.
    pub head: Vec<String>,
    /// What is said of the file.
    pub source: Keys,
    /// What is made of the table.
    pub shaping: Shaping,
    /// The columns.
    pub columns: Vec<SavedColumn>,
}

/// What is to be saved of one column.
#[derive(Debug)]
pub struct SavedColumn {
    /// Its name.
    pub from: String,
    /// Its keys.
    pub keys: Keys,
    /// Lines of explanation.
    pub comments: Vec<String>,
    /// How some rows are written, each with its keys.
    pub when: Vec<Keys>,
    /// Whether it was said here and now, so that what a person accepted earlier gives way.
    pub is_said: bool,
}

/// How the lines begin that are written for people, and written anew each time.
const OWN_COMMENTS: [&str; 8] = [
    "# Decisions for ",
    "# Use them: ",
    "# Each [[column]] ",
    "# why: ",
    "# Add ",
    "# If this is right, ",
    "# If what tells ",
    "# By the first ",
];

/// The text of a readings file that says this.
///
/// An `existing` file keeps its comments, its order and whatever a person has accepted; the names of columns that were
/// left as they are come back too.
///
/// # Errors
/// The existing text is no readings file.
pub fn render(existing: Option<&str>, saved: &Saved) -> Result<(String, Vec<String>), Wrong> {
    let wrong = |error: toml_edit::TomlError| Wrong::general(error.message());
    let mut document = match existing {
        Some(text) => text.parse::<DocumentMut>().map_err(wrong)?,
        None => format!("metachron = {VERSION}\n\n[source]\n").parse().map_err(wrong)?,
    };
    let mut kept = Vec::new();
    let root = document.as_table_mut();
    heading(root, &saved.head);
    if let Some(source) = table_of(root, "source") {
        // What is not said any more, such as a table where a query is made, does not stay.
        let is_said = |key: &str| saved.source.iter().any(|(own, _)| *own == key);
        source.retain(|key, _| !SOURCE_KEYS.contains(&key) || is_said(key));
        put(source, &saved.source);
    }
    rows_of_table(root, &saved.shaping);
    for column in &saved.columns {
        let tables = tables_of(root, "column").ok_or_else(no_tables)?;
        match by_name(tables, "from", &column.from) {
            Some(old) if is_accepted(old) && !column.is_said => kept.push(column.from.clone()),
            Some(old) => write_column(old, column),
            None => {
                let mut new = Table::new();
                new.insert("from", Item::from(Value::from(&column.from)));
                write_column(&mut new, column);
                new.decor_mut().set_prefix("\n");
                tables.push(new);
            }
        }
    }
    let Shaping { made, series, .. } = &saved.shaping;
    for MadeSeries { name, steps, by } in series {
        let by = by.iter().map(|by| ("by", Value::from(by)));
        let keys = [("name", name.into()), ("steps", steps.into())].into_iter().chain(by).collect();
        made_table(root, "series", name, &keys)?;
    }
    for MadeColumn { name, steps } in made {
        made_table(root, "make", name, &vec![("name", name.into()), ("steps", steps.into())])?;
    }
    in_order(root);
    Ok((document.to_string(), kept))
}

fn no_tables() -> Wrong {
    Wrong::general("a column is written [[column]]")
}

fn is_accepted(column: &Table) -> bool {
    column.get("accepted").and_then(Item::as_bool) == Some(true)
}

/// The first lines, in place of those that were written so before.
fn heading(root: &mut Table, lines: &[String]) {
    let Some(mut key) = root.key_mut("metachron") else { return };
    let old = key.leaf_decor().prefix().and_then(|own| own.as_str()).unwrap_or("").to_owned();
    let own: String = lines.iter().map(|line| format!("# {line}\n")).collect();
    key.leaf_decor_mut().set_prefix(own + &others(&old));
}

/// The lines of a comment that a person has written.
fn others(comment: &str) -> String {
    let is_own = |line: &&str| OWN_COMMENTS.iter().any(|own| line.trim_start().starts_with(own));
    comment.split_inclusive('\n').filter(|line| !is_own(line)).collect()
}

fn table_of<'t>(root: &'t mut Table, key: &str) -> Option<&'t mut Table> {
    root.entry(key).or_insert_with(toml_edit::table).as_table_mut()
}

fn tables_of<'t>(root: &'t mut Table, key: &str) -> Option<&'t mut ArrayOfTables> {
    root.entry(key).or_insert_with(toml_edit::array).as_array_of_tables_mut()
}

fn by_name<'t>(tables: &'t mut ArrayOfTables, key: &str, name: &str) -> Option<&'t mut Table> {
    tables.iter_mut().find(|own| own.get(key).and_then(Item::as_str) == Some(name))
}

/// Says these keys in a table; what stands behind a value stays there.
fn put(table: &mut Table, keys: &Keys) {
    for (key, value) in keys {
        let mut value = value.clone();
        match table.get_mut(key).and_then(Item::as_value_mut) {
            Some(old) => {
                *value.decor_mut() = old.decor().clone();
                *old = value;
            }
            None => {
                table.insert(key, Item::from(value));
            }
        }
    }
}

/// Which rows are written, and in which order: these stand before all tables.
fn rows_of_table(root: &mut Table, Shaping { conditions, sort_by, .. }: &Shaping) {
    for (key, texts) in [("where", conditions), ("sort_by", sort_by)] {
        if !texts.is_empty() {
            root.insert(key, Item::from(Value::from(texts.iter().collect::<Array>())));
        }
    }
}

/// What is made of the table, in place of what had this name.
fn made_table(root: &mut Table, list: &str, name: &str, keys: &Keys) -> Result<(), Wrong> {
    let tables = tables_of(root, list)
        .ok_or_else(|| Wrong::general(format!("a made column is written [[{list}]]")))?;
    match by_name(tables, "name", name) {
        Some(old) => put(old, keys),
        None => {
            let mut new = Table::new();
            put(&mut new, keys);
            new.decor_mut().set_prefix("\n");
            tables.push(new);
        }
    }
    Ok(())
}

/// Says anew what is saved of a column. What only a person says stays as it is where nothing else is said.
fn write_column(table: &mut Table, column: &SavedColumn) {
    let by_hand = ["into", "convert", "known", "missing", "require", "allow"];
    for key in Decisions::keys().filter(|key| !by_hand.contains(key)) {
        if !column.keys.iter().any(|(own, _)| *own == key) {
            table.remove(key);
        }
    }
    table.remove("seen");
    table.remove("when");
    put(table, &column.keys);
    if !column.when.is_empty() {
        let mut parts = ArrayOfTables::new();
        for keys in &column.when {
            let mut part = Table::new();
            put(&mut part, keys);
            part.decor_mut().set_prefix("\n  ");
            for (mut key, _) in part.iter_mut() {
                key.leaf_decor_mut().set_prefix("  ");
            }
            parts.push(part);
        }
        table.insert("when", Item::ArrayOfTables(parts));
    }
    if let Some(mut key) = table.key_mut("from") {
        let old = key.leaf_decor().prefix().and_then(|own| own.as_str()).unwrap_or("").to_owned();
        let own: String = column.comments.iter().map(|line| format!("# {line}\n")).collect();
        key.leaf_decor_mut().set_prefix(own + &others(&old));
    }
}

/// Gives every table its place: in the order of the document, and what belongs to a column behind it.
fn in_order(root: &mut Table) {
    let mut next = 0;
    let mut place = |table: &mut Table| {
        next += 1;
        table.set_position(Some(next));
    };
    for (_, item) in root.iter_mut() {
        match item {
            Item::Table(table) => place(table),
            Item::ArrayOfTables(tables) => {
                for table in tables.iter_mut() {
                    place(table);
                    for (_, item) in table.iter_mut() {
                        match item {
                            Item::Table(table) => place(table),
                            Item::ArrayOfTables(parts) => parts.iter_mut().for_each(&mut place),
                            _ => {}
                        }
                    }
                }
            }
            _ => {}
        }
    }
}
