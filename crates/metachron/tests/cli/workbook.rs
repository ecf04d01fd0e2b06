//! Workbooks: cells keep their type, and the table is found among titles.

use std::io::Read;

use rust_xlsxwriter::{ExcelDateTime, Format, Formula, Workbook};

use crate::harness::Bench;
use crate::records::{self, archive, binary_workbook};

/// A date cell.
enum Cell {
    Text(&'static str),
    Date(u16, u8, u8),
    Serial(f64),
    Number(f64),
    Fault,
}

use Cell::{Date, Fault, Number, Serial, Text};

fn book(name: &str, rows: &[&[Cell]]) -> Vec<u8> {
    book_of(name, rows, "yyyy-mm-dd hh:mm")
}

fn book_of(name: &str, rows: &[&[Cell]], format: &str) -> Vec<u8> {
    let format = Format::new().set_num_format(format);
    let mut book = Workbook::new();
    book.add_worksheet().set_name("Cover").unwrap();
    let sheet = book.add_worksheet().set_name(name).unwrap();
    for (row, cells) in (0..).zip(rows) {
        for (column, cell) in (0..).zip(*cells) {
            match cell {
                Text(text) => sheet.write(row, column, *text).unwrap(),
                Number(number) => sheet.write(row, column, *number).unwrap(),
                Serial(serial) => sheet.write_with_format(row, column, *serial, &format).unwrap(),
                Date(y, m, d) => {
                    let date = ExcelDateTime::from_ymd(*y, *m, *d).unwrap();
                    sheet.write_with_format(row, column, &date, &format).unwrap()
                }
                Fault => {
                    let formula = Formula::new("=1/0").set_result("#DIV/0!");
                    sheet.write_formula(row, column, formula).unwrap()
                }
            };
        }
    }
    book.save_to_buffer().unwrap()
}

#[test]
fn date_cells_numbers_text_and_errors_keep_their_type() {
    let bench = Bench::with(
        "station.xlsx",
        book(
            "Nets",
            &[
                &[Text("Net hours of Cabo Sereno")],
                &[],
                &[Text("net"), Text("opened"), Text("hours")],
                &[Number(1.0), Date(2024, 4, 13), Number(1.5)],
                &[Number(2.0), Text("14 April 2024"), Number(2.0)],
                &[Number(3.0), Text("n/a"), Number(2.25)],
                &[Number(4.0), Date(2024, 5, 2), Number(3.0)],
                &[Number(5.0), Fault, Number(3.0)],
                &[Text("Total"), Text(""), Number(11.75)],
            ],
        ),
    );
    bench
        .run("survey station.xlsx")
        .stdout_has(&[
            "station.xlsx   workbook, sheet \"Nets\", header in row 3, 1 row above it skipped, 5 rows\n",
            "  other sheets (--sheet NAME): \"Cover\"\n",
            "  above the table, row 1: \"Net hours of Cabo Sereno\"\n",
            "  below the table, row 9: \"Total 11.75\"\n",
            "  opened  date  decided        3        1           1  text 1, date cells 2, errors 1  date cells and {day}\n",
        ])
        .check();
    bench
        .run("convert station.xlsx --tolerate 1 --rejects r.csv -o out.csv")
        .stderr(
            "out.csv   5 rows\n\
             \x20 opened  → opened_typed  date  3 read, 1 missing, 1 unreadable → r.csv\n\
             \x20 1 line above the table and 1 line below the table left out\n",
        )
        .check();
    assert_eq!(
        bench.read("out.csv"),
        "net,opened,opened_typed,hours\n1,2024-04-13,2024-04-13,1.5\n2,14 April 2024,2024-04-14,2\n\
         3,n/a,,2.25\n4,2024-05-02,2024-05-02,3\n5,#DIV/0!,,3\n"
    );
    assert!(bench.read("r.csv").contains(
        "5,8,opened,#DIV/0!,error-cell,the file holds the error #DIV/0! in place of a value,"
    ));
    bench
        .run("convert station.xlsx -o out.ods")
        .status(1)
        .stderr("metachron: workbooks are written as .xlsx, not as .ods; give the output a name such as out.xlsx\n")
        .check();
}

#[test]
fn serials_are_exact_at_the_edges_of_the_1900_system() {
    let bench = Bench::with(
        "a.xlsx",
        book(
            "Days",
            &[
                &[Text("n"), Text("seen")],
                &[Number(1.0), Serial(1.0)],
                &[Number(2.0), Serial(59.0)],
                &[Number(3.0), Serial(60.0)],
                &[Number(4.0), Serial(61.0)],
                &[Number(5.0), Serial(45_395.0)],
                &[Number(6.0), Serial(2_958_465.0)],
                &[Number(7.0), Serial(0.0)],
            ],
        ),
    );
    bench
        .run("convert a.xlsx --tolerate 1 --quiet")
        .stdout(
            "n,seen,seen_typed\n1,1900-01-01,1900-01-01\n2,1900-02-28,1900-02-28\n3,60,\n\
             4,1900-03-01,1900-03-01\n5,2024-04-13,2024-04-13\n6,9999-12-31,9999-12-31\n7,1900-01-00,\n",
        )
        .check();
}

#[test]
fn a_date_cell_among_date_times_is_midnight() {
    let rows: &[&[Cell]] = &[
        &[Text("n"), Text("at")],
        &[Number(1.0), Serial(45_395.812_5)],
        &[Number(2.0), Serial(45_396.0)],
    ];
    Bench::with("a.xlsx", book("Log", rows))
        .run("convert a.xlsx --quiet")
        .stdout("n,at,at_typed\n1,2024-04-13T19:30:00,2024-04-13T19:30:00\n2,2024-04-14T00:00:00,2024-04-14T00:00:00\n")
        .check();
}

#[test]
fn durations_and_times_are_told_by_their_format() {
    let rows: &[&[Cell]] =
        &[&[Text("n"), Text("open")], &[Number(1.0), Serial(1.5)], &[Number(2.0), Serial(0.25)]];
    Bench::with("a.xlsx", book_of("Log", rows, "[h]:mm:ss"))
        .run("convert a.xlsx --make 'hours = open | as hours' --quiet")
        .stdout("n,open,open_typed,hours\n1,PT36H,PT36H,36\n2,PT6H,PT6H,6\n")
        .check();
    let rows: &[&[Cell]] =
        &[&[Text("n"), Text("open")], &[Number(1.0), Serial(0.5)], &[Number(2.0), Serial(0.25)]];
    Bench::with("a.xlsx", book_of("Log", rows, "hh:mm"))
        .run("convert a.xlsx --quiet")
        .stdout("n,open,open_typed\n1,12:00:00,12:00:00\n2,06:00:00,06:00:00\n")
        .check();
}

#[test]
fn half_of_a_swapped_column_is_a_question() {
    let rows: &[&[Cell]] = &[
        &[Text("n"), Text("seen")],
        &[Number(1.0), Date(2024, 3, 4)],
        &[Number(2.0), Text("28/04/2024")],
        &[Number(3.0), Date(2024, 7, 5)],
        &[Number(4.0), Text("13/05/2024")],
        &[Number(5.0), Text("19/05/2024")],
    ];
    let bench = Bench::with("a.xlsx", book("Days", rows));
    bench
        .run("convert a.xlsx")
        .status(3)
        .stderr_has(&[
            "An earlier import seems to have exchanged day and month: none of 2 dates have a day above 12, and\n             all 3 dates in another form do. A swap leaves that pattern (which also happens by chance).",
            "metachron convert a.xlsx --set 'seen: repair=half-swapped' -o a.out.csv",
            "metachron convert a.xlsx --set 'seen: repair=none' -o a.out.csv",
        ])
        .check();
    for (repair, first) in [("half-swapped", "2024-04-03"), ("none", "2024-03-04")] {
        bench
            .run(&format!("convert a.xlsx --repair {repair} --quiet"))
            .stdout_has(&[&format!("1,2024-03-04,{first}\n"), "2,28/04/2024,2024-04-28\n"])
            .check();
    }
}

#[test]
fn the_origin_of_a_workbook_is_respected() {
    let rows: &[&[Cell]] = &[
        &[Text("n"), Text("seen")],
        &[Number(1.0), Serial(45_395.0)],
        &[Number(2.0), Serial(1.0)],
    ];
    let bench = Bench::with("a.xlsx", counted_from_1904(&book("Days", rows)));
    bench
        .run("convert a.xlsx --quiet")
        .stdout("n,seen,seen_typed\n1,2028-04-14,2028-04-14\n2,1904-01-02,1904-01-02\n")
        .check();
}

#[test]
fn the_origin_of_a_workbook_is_held_against_the_saved_one() {
    let mut rows: Vec<Vec<Cell>> = vec![vec![Text("n"), Text("seen")]];
    for at in 0..20 {
        rows.push(vec![Number(f64::from(at)), Number(f64::from(45_000 + at * 7))]);
    }
    let rows: Vec<&[Cell]> = rows.iter().map(Vec::as_slice).collect();
    let book = book("Days", &rows);
    let bench = Bench::with("a.xlsx", book.clone());
    bench.write("b.xlsx", counted_from_1904(&book));
    let saved = bench.run("survey a.xlsx --column seen --epoch sheet-1900 --save a.toml");
    saved.stdout_has(&["decided"]).stderr_has(&["decisions saved in a.toml"]).check();
    bench
        .run("convert a.xlsx --readings a.toml --quiet")
        .stdout_has(&["0,45000,2023-03-15\n"])
        .check();
    let by_workbook = "--set 'seen: epoch=sheet-1904'";
    let by_readings = "--set 'seen: epoch=sheet-1900'";
    bench
        .run("convert b.xlsx --readings a.toml")
        .status(3)
        .stderr_has(&[
            "The numbers of this workbook count by sheet-1904, and sheet-1900 was saved.",
            &format!("metachron convert b.xlsx --readings a.toml {by_workbook} -o b.out.csv"),
            &format!("metachron convert b.xlsx --readings a.toml {by_readings} -o b.out.csv"),
        ])
        .check();
    for (said, first) in [(by_workbook, "2027-03-16"), (by_readings, "2023-03-15")] {
        bench
            .run(&format!("convert b.xlsx --readings a.toml {said} --quiet"))
            .stdout_has(&[&format!("0,45000,{first}\n")])
            .check();
    }
    // A person wrote the file, without figures.
    bench.write("c.toml", "metachron = 1\n\n[[column]]\nfrom = \"seen\"\nepoch = \"sheet-1900\"\n");
    bench
        .run("convert b.xlsx --readings c.toml")
        .status(3)
        .stderr_has(&[
            "The numbers of this workbook count by sheet-1904, and sheet-1900 was saved.",
        ])
        .check();
}

/// The same workbook with another text in one of its parts.
fn with_part(book: &[u8], part: &str, change: impl Fn(String) -> String) -> Vec<u8> {
    let mut original = zip::ZipArchive::new(std::io::Cursor::new(book)).unwrap();
    let names: Vec<String> = original.file_names().map(|name| name.unwrap().into_owned()).collect();
    let parts: Vec<(&str, Vec<u8>)> = names
        .iter()
        .map(|name| {
            let mut bytes = Vec::new();
            original.by_name(name).unwrap().read_to_end(&mut bytes).unwrap();
            if name == part {
                bytes = change(String::from_utf8(bytes).unwrap()).into_bytes();
            }
            (name.as_str(), bytes)
        })
        .collect();
    archive(&parts)
}

/// The same workbook, whose numbers count from 1904.
fn counted_from_1904(book: &[u8]) -> Vec<u8> {
    with_part(book, "xl/workbook.xml", |text| {
        assert!(text.contains("<workbookPr "));
        text.replace("<workbookPr ", "<workbookPr date1904=\"1\" ")
    })
}

#[test]
fn open_document_sheets_are_workbooks_too() {
    let content = r#"<?xml version="1.0" encoding="UTF-8"?>
<office:document-content xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0" office:version="1.3">
<office:body><office:spreadsheet><table:table table:name="Nets">
<table:table-row><table:table-cell office:value-type="string"><text:p>net</text:p></table:table-cell><table:table-cell office:value-type="string"><text:p>opened</text:p></table:table-cell></table:table-row>
<table:table-row><table:table-cell office:value-type="float" office:value="1"><text:p>1</text:p></table:table-cell><table:table-cell office:value-type="date" office:date-value="2024-04-13"><text:p>13/04/24</text:p></table:table-cell></table:table-row>
<table:table-row><table:table-cell office:value-type="float" office:value="2"><text:p>2</text:p></table:table-cell><table:table-cell office:value-type="date" office:date-value="2024-04-14T07:20:00"><text:p>14/04/24</text:p></table:table-cell></table:table-row>
</table:table></office:spreadsheet></office:body></office:document-content>"#;
    let manifest = r#"<?xml version="1.0" encoding="UTF-8"?>
<manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0"><manifest:file-entry manifest:full-path="/" manifest:media-type="application/vnd.oasis.opendocument.spreadsheet"/><manifest:file-entry manifest:full-path="content.xml" manifest:media-type="text/xml"/></manifest:manifest>"#;
    let parts = [
        ("mimetype", b"application/vnd.oasis.opendocument.spreadsheet".to_vec()),
        ("META-INF/manifest.xml", manifest.as_bytes().to_vec()),
        ("content.xml", content.as_bytes().to_vec()),
    ];
    Bench::with("a.ods", archive(&parts))
        .run("convert a.ods --quiet")
        .stdout("net,opened,opened_typed\n1,2024-04-13T00:00:00,2024-04-13T00:00:00\n2,2024-04-14T07:20:00,2024-04-14T07:20:00\n")
        .check();
}

#[test]
fn old_binary_workbooks_are_read_too() {
    // Net hours of Cabo Sereno as another spreadsheet program saved them.
    let bench = Bench::with("station.xls", include_bytes!("fixtures/station.xls"));
    bench
        .run("survey station.xls")
        .stdout_has(&[
            "station.xls   workbook, sheet \"Net hours\", header in row 3, 1 row above it skipped, 60 rows\n",
            "60  text 6, date cells 54  date cells and {day} {month:name} {year}\n",
        ])
        .check();
    bench.run("convert station.xls -o out.csv --quiet").check();
    assert!(bench.read("out.csv").starts_with(
        "net,opened,opened_typed,hours,remark\n1,2024-01-01,2024-01-01,5.5,\n2,2024-01-07,2024-01-07,2.1,\n\
         3,2024-01-13,2024-01-13,3.6,\n4,2024-01-19,2024-01-19,0.7,\n5,25 January 2024,2024-01-25,2.7,\n"
    ));
}

#[test]
fn binary_workbooks_are_read_too() {
    use records::Cell::{Date, Number, Text};
    let rows = vec![
        vec![Text("Net hours of Skarholm")],
        vec![],
        vec![Text("net"), Text("opened"), Text("hours")],
        vec![Number(1.0), Date(45_395.0), Number(1.5)],
        vec![Number(2.0), Text("14 April 2024"), Number(2.0)],
        vec![Number(3.0), Date(45_397.0), Number(2.25)],
    ];
    let bench = Bench::with("a.xlsb", binary_workbook(&rows, &[1, 4], &[[0, 0, 0, 2]]));
    bench
        .run("survey a.xlsb")
        .stdout_has(&[
            "a.xlsb   workbook, sheet \"Återfynd\", header in row 3, 1 row above it skipped, 3 rows\n",
            "  1 merged range (A1:C1); only its first cell holds a value\n",
            "  1 hidden row in the table, read like the others\n",
            "text 1, date cells 2",
        ])
        .check();
    bench
        .run("convert a.xlsb --quiet")
        .stdout("net,opened,opened_typed,hours\n1,2024-04-13,2024-04-13,1.5\n2,14 April 2024,2024-04-14,2\n3,2024-04-15,2024-04-15,2.25\n")
        .check();
}

#[test]
fn dates_beside_numbers_show_their_origin_in_a_workbook_too() {
    let date = Format::new().set_num_format("yyyy-mm-dd");
    let mut book = Workbook::new();
    let sheet = book.add_worksheet();
    for (column, name) in ["caught", "released"].into_iter().enumerate() {
        sheet.write(0, column as u16, name).unwrap();
    }
    for row in 1..=40_u32 {
        let caught = f64::from(44_000 + 31 * row);
        sheet.write_with_format(row, 0, caught, &date).unwrap();
        // Copied from a workbook that counts from 1904.
        sheet.write(row, 1, caught - 1_462.0).unwrap();
    }
    let bench = Bench::with("a.xlsx", book.save_to_buffer().unwrap());
    bench
        .run("survey a.xlsx")
        .stdout_has(&["released   40 numbers are counted by sheet-1904: so they are the day of \"caught\" in 40 of 40"])
        .check();
    bench.run("convert a.xlsx -o b.csv").output();
    assert!(bench.read("b.csv").contains("2020-07-19,2020-07-19,42569,2020-07-19\n"));
    let against = "released: 40 numbers are counted by sheet-1900, as you said; but by sheet-1904 they are the day of \
                   \"caught\" in 40 of 40 rows that have both, and not by sheet-1900\n";
    for options in ["--column released --epoch sheet-1900", "--set 'released: epoch=sheet-1900'"] {
        bench.run(&format!("convert a.xlsx {options} -o b.csv")).stderr_has(&[against]).check();
    }
}

/// `Jun-22` became 22 June of the year of the import, and `Jun-99`, which is no day, June 1999 in a cell of its own
/// format.
#[test]
fn cells_that_are_shown_as_months_are_months_already() {
    let day = Format::new().set_num_format("d-mmm");
    let month = Format::new().set_num_format("mmm\\-yy");
    let serial = |year: i16, month: i8, day: i8| -> f64 {
        let days = jiff::civil::date(year, month, day) - jiff::civil::date(1899, 12, 30);
        f64::from(days.get_days())
    };
    let mut book = Workbook::new();
    let sheet = book.add_worksheet();
    sheet.write(0, 0, "opened").unwrap();
    for row in 1..=48_u32 {
        let of_year = 1 + (row % 12) as i8;
        match row % 4 {
            0 => sheet.write_with_format(row, 0, serial(1999, of_year, 1), &month).unwrap(),
            _ => sheet
                .write_with_format(row, 0, serial(2024, of_year, 18 + (row / 7) as i8), &day)
                .unwrap(),
        };
    }
    let bench = Bench::with("a.xlsx", book.save_to_buffer().unwrap());
    bench
        .run("survey a.xlsx")
        .stdout_has(&[
            "  opened  date  misread",
            "12 values are each a month without a day",
            "metachron convert a.xlsx --set 'opened: repair=month-year' -o a.out.csv",
        ])
        .check();
    bench.run("convert a.xlsx --column opened --repair month-year -o b.csv").output();
    let written = bench.read("b.csv");
    assert!(written.starts_with("opened,opened_typed\n2024-02-18,2018-02\n2024-03-18,2018-03\n"));
    assert_eq!(written.matches("1999-05,1999-05\n").count(), 4, "{written}");
    // Where all cells are months, each stands for its first day.
    let mut book = Workbook::new();
    let sheet = book.add_worksheet();
    sheet.write(0, 0, "opened").unwrap();
    sheet.write_with_format(1, 0, serial(2022, 3, 1), &month).unwrap();
    let bench = Bench::with("a.xlsx", book.save_to_buffer().unwrap());
    bench
        .run("convert a.xlsx --quiet")
        .stdout("opened,opened_typed\n2022-03-01,2022-03-01\n")
        .check();
}

#[test]
fn a_cell_far_away_fills_neither_memory_nor_the_report() {
    let mut book = Workbook::new();
    let sheet = book.add_worksheet();
    for (row, (ring, seen)) in
        (0..).zip([("ring", "seen"), ("LF1", "13/04/2024"), ("LF2", "14/04/2024")])
    {
        sheet.write(row, 0, ring).unwrap();
        sheet.write(row, 1, seen).unwrap();
    }
    sheet.write(1_048_575, 16_383, 1).unwrap();
    Bench::with("a.xlsx", book.save_to_buffer().unwrap())
        .run("survey a.xlsx --column seen")
        .stdout_has(&[
            "header in row 1, 3 rows\n",
            "  1,048,572 empty lines that are no rows (first in line 4)\n",
            "  16,374 more columns without a name or with another's name, called likewise\n",
        ])
        .check();
}

#[test]
fn every_workbook_tells_its_merged_ranges_and_hidden_rows() {
    for (name, book) in [
        ("a.xls", &include_bytes!("fixtures/captures.xls")[..]),
        ("a.ods", &include_bytes!("fixtures/captures.ods")[..]),
    ] {
        Bench::with(name, book)
            .run(&format!("survey {name} --sheet Återfynd"))
            .stdout_has(&[
                "  1 merged range (A1:C1); only its first cell holds a value\n",
                "  2 hidden rows in the table, read like the others\n",
                "  above the table, row 1: \"Captures of Skarholm\"\n",
            ])
            .check();
    }
}

#[test]
fn merged_cells_and_hidden_rows_are_reported() {
    let mut book = Workbook::new();
    let sheet = book.add_worksheet();
    sheet.merge_range(0, 0, 0, 1, "Net hours", &Format::new()).unwrap();
    for (row, (ring, seen)) in
        (2..).zip([("ring", "seen"), ("LF1", "13/04/2024"), ("LF2", "14/04/2024")])
    {
        sheet.write(row, 0, ring).unwrap();
        sheet.write(row, 1, seen).unwrap();
    }
    sheet.set_row_hidden(3).unwrap();
    Bench::with("a.xlsx", book.save_to_buffer().unwrap())
        .run("survey a.xlsx")
        .stdout_has(&[
            "  1 merged range (A1:B1); only its first cell holds a value\n",
            "  1 hidden row in the table, read like the others\n",
            "seen    date  decided     {day}/{month}/{year}     2 ",
        ])
        .check();
}

#[test]
fn sheets_are_chosen_by_name_or_number() {
    let bench = Bench::with(
        "a.xlsx",
        book("Days", &[&[Text("n"), Text("seen")], &[Number(1.0), Date(2024, 4, 13)]]),
    );
    for sheet in ["Days", "2"] {
        bench
            .run(&format!("survey a.xlsx --sheet {sheet}"))
            .stdout_has(&["sheet \"Days\"", "decided"])
            .check();
    }
    bench
        .run("survey a.xlsx --sheet Day")
        .status(1)
        .stderr("metachron: a.xlsx: the workbook cannot be read: it has no sheet \"Day\"; did you mean \"Days\"?\n")
        .check();
    bench
        .run("survey a.xlsx --sheet Cover")
        .status(1)
        .stderr("metachron: a.xlsx: the workbook cannot be read: sheet \"Cover\" holds no table\n")
        .check();
}

#[test]
fn what_is_no_workbook_is_said_or_read_for_what_it_is() {
    let bench = Bench::with("a.xlsx", "ring,seen\nLF1,13/04/2024\nLF2,14/04/2024\n");
    bench
        .run("survey a.xlsx")
        .stdout_has(&[
            "a.xlsx   CSV, comma",
            "  named .xlsx, but read as what it is: CSV\n",
            "decided",
        ])
        .check();
    bench.write("a.xls", "<html><body><table><tr><th>ring<th>seen<tr><td>LF1<td>13/04/2024<tr><td>LF&amp;2<td>14/04/2024</table>");
    bench
        .run("convert a.xls --quiet")
        .stdout("ring,seen,seen_typed\nLF1,13/04/2024,2024-04-13\nLF&2,14/04/2024,2024-04-14\n")
        .check();
    bench
        .run("survey a.xls")
        .stdout_has(&["a.xls   HTML table, UTF-8, header in row 1, 2 rows\n  named .xls, but read as what it is: HTML table\n"])
        .check();
    bench.write("a.xls", "<!DOCTYPE html><p>13/04/2024</p>");
    bench
        .run("survey a.xls")
        .status(1)
        .stderr("metachron: a.xls: is an HTML page without a table\n")
        .check();
    let whole = book("Days", &[&[Text("n")], &[Number(1.0)]]);
    bench.write("a.xlsx", &whole[..whole.len() / 2]);
    bench
        .run("survey a.xlsx")
        .status(1)
        .stderr("metachron: a.xlsx: is damaged or cut off (Cannot detect file format)\n")
        .check();
    bench.write("a.xlsx", [&b"PK\x03\x04"[..], &[0; 64]].concat());
    bench
        .run("survey a.xlsx")
        .status(1)
        .stderr("metachron: a.xlsx: is damaged or cut off (Cannot detect file format)\n")
        .check();
    bench.write("a.bin", (0..=255).cycle().take(5_000).collect::<Vec<u8>>());
    bench
        .run("survey a.bin")
        .status(1)
        .stderr("metachron: a.bin: is neither text nor a workbook\n")
        .check();
}

#[test]
fn date_cells_that_no_date_can_be_stay_the_numbers_that_they_are() {
    let bench = Bench::with(
        "a.xlsx",
        book(
            "Days",
            &[
                &[Text("n"), Text("seen")],
                &[Number(1.0), Serial(45_395.0)],
                &[Number(2.0), Serial(20_240_115.0)],
                &[Number(3.0), Serial(-3.0)],
                &[Number(4.0), Serial(2_958_466.0)],
                &[Number(5.0), Serial(1e300)],
                &[Number(6.0), Serial(2_958_465.5)],
                &[Number(7.0), Serial(45_396.0)],
                &[Number(8.0), Serial(45_397.0)],
                &[Number(9.0), Serial(45_398.0)],
            ],
        ),
    );
    bench
        .run("convert a.xlsx --rejects r.csv --quiet")
        .status(4)
        .stderr_has(&["4 rows have an unreadable or contested cell (first row 2)"])
        .stdout(
            "n,seen,seen_typed\n1,2024-04-13T00:00:00,2024-04-13T00:00:00\n2,20240115,\n3,-3,\n4,2958466,\n\
             5,1e300,\n6,9999-12-31T12:00:00,9999-12-31T12:00:00\n7,2024-04-14T00:00:00,2024-04-14T00:00:00\n\
             8,2024-04-15T00:00:00,2024-04-15T00:00:00\n9,2024-04-16T00:00:00,2024-04-16T00:00:00\n",
        )
        .check();
    let rejects = bench.read("r.csv");
    let why = "out-of-range,\"the file has 20240115 as a date or time, but none has that number; \
               its digits are those of 2024-01-15\"";
    assert!(rejects.contains(why), "{rejects}");
    assert_eq!(rejects.matches("out-of-range").count(), 4, "{rejects}");

    // 1,462 days later, the numbers of the last days are smaller.
    let late = [Serial(2_957_003.0), Serial(2_957_004.0), Serial(-1.0), Serial(0.0)];
    let rows: Vec<[Cell; 2]> = late.into_iter().map(|serial| [Number(1.0), serial]).collect();
    let head = [Text("n"), Text("seen")];
    let rows: Vec<&[Cell]> =
        std::iter::once(&head[..]).chain(rows.iter().map(|row| &row[..])).collect();
    bench.write("b.xlsx", counted_from_1904(&book("Days", &rows)));
    bench
        .run("convert b.xlsx --tolerate 2 --quiet")
        .stdout(
            "n,seen,seen_typed\n1,9999-12-31,9999-12-31\n1,2957004,\n1,-1,\n1,1904-01-01,1904-01-01\n",
        )
        .check();
}

/// The sheet of the rows in a workbook of [`book`].
const SHEET: &str = "xl/worksheets/sheet2.xml";

#[test]
fn a_formula_without_a_result_is_not_missing() {
    let whole = book(
        "Days",
        &[
            &[Text("n"), Text("seen")],
            &[Number(1.0), Serial(45_395.0)],
            &[Number(2.0), Serial(45_396.0)],
            &[Number(3.0), Text("")],
        ],
    );
    let uncalculated = with_part(&whole, SHEET, |sheet| {
        let cell = "<v>45396</v>";
        assert!(sheet.contains(cell), "{sheet}");
        sheet.replace(cell, "<f>TODAY()</f>")
    });
    let bench = Bench::with("a.xlsx", uncalculated);
    bench
        .run("convert a.xlsx --rejects r.csv --tolerate 1 -o out.csv")
        .stderr_has(&["1 read, 1 missing, 1 unreadable"])
        .check();
    assert_eq!(bench.read("out.csv"), "n,seen,seen_typed\n1,2024-04-13,2024-04-13\n2,,\n3,,\n");
    assert!(
        bench
            .read("r.csv")
            .contains("2,3,seen,,not-calculated,a formula stands here whose result is not stored,")
    );

    // Cells need not say where they stand.
    let unnamed = with_part(&whole, SHEET, |sheet| {
        let mut bare = sheet.replace("<v>45396</v>", "<f>TODAY()</f>");
        for place in ["A1", "B1", "A2", "B2", "A3", "B3", "A4", "B4"] {
            bare = bare.replace(&format!(" r=\"{place}\""), "");
        }
        (1..5).fold(bare, |bare, row| bare.replace(&format!("<row r=\"{row}\""), "<row"))
    });
    bench.write("c.xlsx", unnamed);
    bench
        .run("convert c.xlsx --rejects c.csv --tolerate 1 -o c.out.csv")
        .stderr_has(&["1 read, 1 missing, 1 unreadable"])
        .check();
    assert_eq!(bench.read("c.out.csv"), bench.read("out.csv"));
    // A text that the table of texts does not have.
    let texts = with_part(&whole, SHEET, |sheet| {
        let text = "t=\"s\"><v>1</v>";
        assert!(sheet.contains(text), "{sheet}");
        sheet.replace(text, "t=\"s\"><v>999</v>")
    });
    bench.write("b.xlsx", texts);
    bench
        .run("survey b.xlsx")
        .status(1)
        .stderr_has(&["damaged or cut off", "shared string"])
        .check();
}

#[test]
fn what_is_finer_than_a_sheet_shows_is_cut_and_told() {
    let rows = "at,took\n9998-12-31T23:59:59.999999,PT0.0000019S\n2024-02-28T23:59:59.9999999,PT1.5S\n\
                2024-02-29T10:15:00.25,PT2S\n";
    let bench = Bench::with("a.csv", rows);
    bench
        .run("convert a.csv -o b.xlsx")
        .stderr_has(&["3 values are finer than the milliseconds that sheets show, and are cut"])
        .check();
    let back = bench.run("convert b.xlsx --column at -o - --quiet").output();
    let typed: Vec<&str> =
        back.lines().skip(1).map(|line| line.split(',').nth(2).unwrap()).collect();
    assert_eq!(
        typed,
        ["9998-12-31T23:59:59.999", "2024-02-28T23:59:59.999", "2024-02-29T10:15:00.25"],
        "{back}"
    );
}
