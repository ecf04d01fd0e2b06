//! What a sheet of an `.xlsx` workbook says beside its cells: merged ranges and hidden rows
//! (ECMA-376, Part 1, 18.3.1.55 mergeCell and 18.3.1.73 row).

use std::io::{BufRead, BufReader, Read, Seek};

use quick_xml::Reader;
use quick_xml::events::{BytesStart, Event};
use zip::ZipArchive;

/// Merged ranges and hidden rows of one sheet.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Parts {
    /// The ranges, such as `A1:C1`. Only the first cell of each holds a value.
    pub merged: Vec<String>,
    /// The numbers of the rows that are hidden.
    pub hidden: Vec<u64>,
}

impl Parts {
    /// Reads them for the sheet of this name; nothing if the workbook is of another format.
    pub fn of<R: Read + Seek>(workbook: R, sheet: &str) -> Option<Parts> {
        let mut archive = ZipArchive::new(workbook).ok()?;
        let relation =
            attribute_where(&mut archive, "xl/workbook.xml", "sheet", "name", sheet, "r:id")?;
        let target = attribute_where(
            &mut archive,
            "xl/_rels/workbook.xml.rels",
            "Relationship",
            "Id",
            &relation,
            "Target",
        )?;
        let path = match target.strip_prefix('/') {
            Some(absolute) => absolute.to_owned(),
            None => format!("xl/{target}"),
        };
        let mut parts = Parts::default();
        each_element(&mut archive, &path, |element| match element.local_name().as_ref() {
            "row" if is_true(attribute(element, "hidden")) => {
                parts
                    .hidden
                    .extend(attribute(element, "r").and_then(|row| row.parse::<u64>().ok()));
            }
            "mergeCell" => parts.merged.extend(attribute(element, "ref")),
            _ => {}
        })?;
        Some(parts)
    }
}

fn is_true(value: Option<String>) -> bool {
    matches!(value.as_deref(), Some("1" | "true"))
}

/// The attribute `wanted` of the element whose attribute `key` has this value.
fn attribute_where<R: Read + Seek>(
    archive: &mut ZipArchive<R>,
    path: &str,
    name: &str,
    key: &str,
    value: &str,
    wanted: &str,
) -> Option<String> {
    let mut found = None;
    each_element(archive, path, |element| {
        if found.is_none()
            && element.local_name().as_ref() == name
            && attribute(element, key).as_deref() == Some(value)
        {
            found = attribute(element, wanted);
        }
    })?;
    found
}

fn attribute(element: &BytesStart<'_>, key: &str) -> Option<String> {
    let attribute = element.try_get_attribute(key).ok()??;
    Some(quick_xml::escape::unescape(&attribute.value).ok()?.into_owned())
}

/// Shows every element of a part of the archive; none if it cannot be read to the end.
fn each_element<R: Read + Seek>(
    archive: &mut ZipArchive<R>,
    path: &str,
    mut show: impl FnMut(&BytesStart<'_>),
) -> Option<()> {
    let part: Box<dyn BufRead> = Box::new(BufReader::new(archive.by_name(path).ok()?));
    let mut xml = Reader::from_reader(part);
    let mut buffer = Vec::new();
    loop {
        match xml.read_event_into(&mut buffer).ok()? {
            Event::Start(element) | Event::Empty(element) => show(&element),
            Event::Eof => return Some(()),
            _ => {}
        }
        buffer.clear();
    }
}
