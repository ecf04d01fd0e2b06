//! Workbooks: cells keep their type, and the table is found among titles.

use rust_xlsxwriter::{ExcelDateTime, Format, Formula, Workbook};

use crate::harness::Bench;

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
            "  opened  date  decided     date cells and {day} {…     3        1           1  text 1, date cells 2, errors 1\n",
        ])
        .check();
    bench
        .run("convert station.xlsx --tolerate 1 --rejects r.csv -o out.csv")
        .stderr_has(&["out.csv   5 rows\n  opened  → opened_typed  date  3 read, 1 missing, 1 unreadable → r.csv\n"])
        .check();
    assert_eq!(
        bench.read("out.csv"),
        "net,opened,opened_typed,hours\n1,2024-04-13,2024-04-13,1.5\n2,14 April 2024,2024-04-14,2\n\
         3,n/a,,2.25\n4,2024-05-02,2024-05-02,3\n5,#DIV/0!,,3\n"
    );
    assert!(
        bench
            .read("r.csv")
            .contains("5,8,opened,#DIV/0!,fault,the file holds an error in place of a value,")
    );
    bench
        .run("convert station.xlsx -o out.xlsx")
        .status(1)
        .stderr("metachron: this table cannot be written as a workbook (out.xlsx); give the output a name such as table.out.csv\n")
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
            "n,seen,seen_typed\n1,1900-01-01,1900-01-01\n2,1900-02-28,1900-02-28\n3,60 (no such day),\n\
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
        .run("survey a.xlsx")
        .stdout_has(&["open    -     not-a-date"])
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
    Bench::with("a.xlsx", book("Days", rows))
        .run("convert a.xlsx")
        .status(3)
        .stderr_has(&["An earlier import seems to have exchanged day and month"])
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
    bench.run("survey a.xlsx").stdout_has(&["a.xlsx   CSV, comma", "decided"]).check();
    bench.write("a.xlsx", "<!DOCTYPE html><table><tr><td>13/04/2024</td></tr></table>");
    bench
        .run("survey a.xlsx")
        .status(1)
        .stderr_has(&["a.xlsx: is an HTML page, whatever its name says"])
        .check();
    let whole = book("Days", &[&[Text("n")], &[Number(1.0)]]);
    bench.write("a.xlsx", &whole[..whole.len() / 2]);
    bench
        .run("survey a.xlsx")
        .status(1)
        .stderr_has(&["metachron: a.xlsx: is damaged or cut off ("])
        .check();
    bench.write("a.xlsx", [&b"PK\x03\x04"[..], &[0; 64]].concat());
    bench
        .run("survey a.xlsx")
        .status(1)
        .stderr_has(&["metachron: a.xlsx: is damaged or cut off ("])
        .check();
    bench.write("a.bin", (0..=255).cycle().take(5_000).collect::<Vec<u8>>());
    bench
        .run("survey a.bin")
        .status(1)
        .stderr("metachron: a.bin: is neither text nor a workbook\n")
        .check();
}
