//! Languages: names in any of them, the claim that values were written in one, `explain`, `list`.

use crate::harness::Bench;

#[test]
fn a_column_shows_its_language_by_all_its_names() {
    let bench = Bench::with(
        "a.csv",
        "ring,seen\nLF1,3 listopada 2024\nLF2,14 maja 2024\nLF3,\"wtorek, 5 marca 2024\"\nLF4,5 Lipca 2024\n",
    );
    bench
        .run("convert a.csv --quiet")
        .stdout(
            "ring,seen,seen_typed\nLF1,3 listopada 2024,2024-11-03\nLF2,14 maja 2024,2024-05-14\n\
             LF3,\"wtorek, 5 marca 2024\",2024-03-05\nLF4,5 Lipca 2024,2024-07-05\n",
        )
        .check();
    bench
        .run("survey a.csv --save a.toml")
        .stdout_has(&["The names are Polish (pl)."])
        .stderr(
            "metachron: decisions saved in a.toml; review them, then\n\
             \x20 metachron convert a.csv --readings a.toml -o a.out.csv\n",
        )
        .check();
    assert!(bench.read("a.toml").contains("written_in = \"pl\"\n"));
    bench
        .run("convert a.csv --readings a.toml --quiet")
        .stdout(
            "ring,seen,seen_typed\n\
         LF1,3 listopada 2024,2024-11-03\n\
         LF2,14 maja 2024,2024-05-14\n\
         LF3,\"wtorek, 5 marca 2024\",2024-03-05\n\
         LF4,5 Lipca 2024,2024-07-05\n",
        )
        .check();
}

#[test]
fn names_that_leave_the_month_open_are_a_question() {
    let bench = Bench::with("a.csv", "ring,seen\nLF1,3 listopad 2024\nLF2,14 listopad 2024\n");
    bench
        .run("convert a.csv")
        .status(3)
        .stderr_has(&[
            "\"listopad\" is October in Croatian; November in Czech and Polish, and nothing tells which.\n",
            "             If the names are Croatian:\n               metachron convert a.csv --set 'seen: written_in=hr' -o a.out.csv\n",
        ])
        .check();
    for (locale, month) in [("hr", "10"), ("cs", "11"), ("pl", "11")] {
        bench
            .run(&format!("convert a.csv --column seen --written-in {locale} --quiet"))
            .stdout(format!(
                "ring,seen,seen_typed\nLF1,3 listopad 2024,2024-{month}-03\nLF2,14 listopad 2024,2024-{month}-14\n"
            ))
            .check();
    }
}

#[test]
fn where_values_were_written_sets_their_order_unless_they_contradict_it() {
    let bench = Bench::with("a.csv", "ring,seen\nLF1,03/04/2024\nLF2,05/06/2024\n");
    for (locale, first) in [("en-GB", "2024-04-03"), ("en-US", "2024-03-04")] {
        bench
            .run(&format!("convert a.csv --written-in {locale} --quiet"))
            .stdout_has(&[&format!("LF1,03/04/2024,{first}")])
            .check();
    }
    // Canadian French writes the year first: that form is another, so nothing is settled.
    bench
        .run("convert a.csv --written-in fr-CA --quiet")
        .status(3)
        .stderr_has(&["fit both day first and month first"])
        .check();
    bench.write("a.csv", "ring,seen\nLF1,03/04/2024\nLF2,12/31/2024\nLF3,01/15/2024\n");
    bench
        .run("convert a.csv --written-in en-GB")
        .status(3)
        .stderr_has(&["You said en-GB, English (United Kingdom), which is day first, but 2 values"])
        .check();
    bench.write("a.csv", "ring,seen\nLF1,3 de abril de 2024\nLF2,5 de maio de 2024\n");
    bench
        .run("convert a.csv --written-in en-GB")
        .status(3)
        .stderr_has(&[
            "You said en-GB, English (United Kingdom), but 2 values are dates in another language",
        ])
        .check();
}

#[test]
fn locales_that_do_not_exist_are_refused() {
    let bench = Bench::with("a.csv", "ring,seen\nLF1,03/04/2024\n");
    for (locale, said) in [
        ("pt-JP", "\"pt-JP\" is no locale that CLDR 48.2 has; did you mean pt"),
        ("brasil", "\"brasil\" is no locale that CLDR 48.2 has"),
    ] {
        bench
            .run(&format!("survey a.csv --written-in {locale}"))
            .status(2)
            .stderr(format!(
                "metachron: --written-in {said}; metachron list locales --like TEXT finds them\n"
            ))
            .check();
    }
    bench
        .run("survey a.csv --set 'seen: written_in=xx'")
        .status(2)
        .stderr(
            "metachron: --set \"seen: written_in=xx\": written_in \"xx\" is no locale that CLDR \
             48.2 has; did you mean xh; metachron list locales --like TEXT finds them\n",
        )
        .check();
}

#[test]
fn single_values_are_explained() {
    let bench = Bench::new();
    bench
        .run("explain 03/04/05 --as-of 2026-11-23")
        .stdout(
            "\"03/04/05\" can be read as\n\
             \u{20} {day}/{month}/{year:2}  2005-04-03  Sunday    21 years ago\n\
             \u{20} {month}/{day}/{year:2}  2005-03-04  Friday    21 years ago\n\
             \u{20} {year:2}/{month}/{day}  2003-04-05  Saturday  23 years ago\n\
             \u{20} Values of the same column with a part above 12 or above 31 would settle it.\n",
        )
        .check();
    bench
        .run("explain '3 listopad 2024' 31/02/2024 SK-0417 n/a 00/00/0000 --as-of 2026-11-23")
        .stdout_has(&[
            "  {day} {month:name} {year}  Croatian (hr)  2024-10-03  Thursday  2 years ago\n",
            "  {day} {month:name} {year}  Czech (cs)     2024-11-03  Sunday    2 years ago\n",
            "\"31/02/2024\" cannot be read\n  {day}/{month}/{year}  31 February 2024 does not exist\n",
            "\"SK-0417\" is not written in a form that dates have (‹word›-0000)\n",
            "\"n/a\" stands for nothing: it is left empty\n",
            "\"00/00/0000\" is a date only in form: it is left empty\n",
            "together: ",
        ])
        .check();
    bench
        .run("explain '5 Januar 2024' --written-in de --as-of 2024-03-06")
        .stdout("\"5 Januar 2024\" can be read in one way\n  {day} {month:name} {year}  German (de)  2024-01-05  Friday  2 months ago\n")
        .check();
    bench
        .run("explain 13/04/2024 --layout '{mnth}/{day}/{year}'")
        .status(2)
        .stderr("metachron: {mnth} in \"{mnth}/{day}/{year}\" is no field; did you mean {month}?\n  {mnth}/{day}/{year}\n  ^^^^^^\n")
        .check();
    let json = bench.run("explain 03/04/2024 --json --as-of 2026-11-23").stdout_has(&[]).check();
    let report: serde_json::Value = serde_json::from_str(&json).unwrap();
    assert_eq!(report["values"][0]["readings"][1]["gives"], "2024-03-04");
}

#[test]
fn locales_and_fields_are_listed() {
    let bench = Bench::new();
    bench
        .run("list locales --like brazil")
        .stdout(
            "locale  language             order  short       long                clock  calendar   \
             digits\n\
             es-BR   Spanish (Brazil)     dmy    5/3/24      5 de marzo de 2024  19:07  gregorian  \
             0-9\n\
             kgp     Kaingang (Brazil)    dmy    05/03/2024  5 ne 3-Kysã, 2024   19:07  gregorian  \
             0-9\n\
             pt      Portuguese (Brazil)  dmy    05/03/2024  5 de março de 2024  19:07  gregorian  \
             0-9\n\
             yrl     Nheengatu (Brazil)   dmy    05/03/2024  5 musapíri 2024     19:07  gregorian  \
             0-9\n",
        )
        .check();
    let json = bench.run("list locales --json").stdout_has(&[]).check();
    let all: Vec<serde_json::Value> = serde_json::from_str(&json).unwrap();
    assert_eq!(all.len(), 766);
    let order = |tag: &str| {
        let found = all.iter().find(|locale| locale["locale"] == tag).unwrap();
        found["order"].as_str().unwrap().to_owned()
    };
    // Checked by hand against the regions' own writing.
    for (tag, expected) in [
        ("en", "mdy"),
        ("en-GB", "dmy"),
        ("ja", "ymd"),
        ("eu", "ymd"),
        ("pt", "dmy"),
        ("fa", "ymd"),
    ] {
        assert_eq!(order(tag), expected, "{tag}");
    }
    bench
        .run("list fields")
        .stdout_has(&[
            "{month:short}               Mar              the month's name, full or short\n",
        ])
        .check();
    bench
        .run("list locales --like zzz")
        .status(1)
        .stderr("metachron: nothing has \"zzz\" in its name\n")
        .check();
}

#[test]
fn months_quarters_and_weeks_stay_what_they_are() {
    let bench = Bench::with(
        "a.csv",
        "m,q,w\nabril de 2024,Q3 2024,2024-W05\nmaio de 2024,Q4 2024,2024-W06\n",
    );
    bench
        .run("convert a.csv --quiet")
        .stdout(
            "m,m_typed,q,q_typed,w,w_typed\nabril de 2024,2024-04,Q3 2024,2024-Q3,2024-W05,2024-W05\n\
             maio de 2024,2024-05,Q4 2024,2024-Q4,2024-W06,2024-W06\n",
        )
        .check();
}

#[test]
fn a_known_answer_narrows() {
    let bench = Bench::with("a.csv", "net,day\n1,5082023\n2,6092023\n3,7102023\n");
    for (answer, first) in [("2023-08-05", "2023-08-05"), ("2023-05-08", "2023-05-08")] {
        bench
            .run(&format!("convert a.csv --column day --known 5082023={answer} --quiet"))
            .stdout_has(&[&format!("1,5082023,{first}\n")])
            .check();
    }
    bench
        .run("convert a.csv --column day --known 5082023=2023-05-09")
        .status(3)
        .stderr_has(&[
            "You said that \"5082023\" is 2023-05-09, but no reading gives that: day first gives 2023-08-05,\n\
             \u{20}            month first gives 2023-05-08, year first does not fit it.",
        ])
        .check();
    bench
        .run("convert a.csv --column day --known 13/04/2024=2024-04-13")
        .status(3)
        .stderr_has(&["You said that \"13/04/2024\" is 2024-04-13, but no value of the column is written like that."])
        .check();
    bench
        .run("convert a.csv --column day --known 5082023=5.8.2023")
        .status(2)
        .stderr("metachron: --known \"5082023=5.8.2023\" is not a value and its right answer in ISO 8601, such as 03/04/2024=2024-04-03\n")
        .check();
    bench
        .run("convert a.csv --column day --known 5082023=2023-08-05 --order mdy")
        .status(2)
        .stderr(
            "metachron: --known and --order exclude each other\n\
             \x20 what it takes: metachron convert --help\n",
        )
        .check();
    // It settles the language too, and can be saved.
    bench.write("b.csv", "ring,seen\nLF1,3 listopad 2024\nLF2,14 listopad 2024\n");
    bench
        .run("survey b.csv --known '3 listopad 2024=2024-10-03' --save b.toml")
        .stdout_has(&["The names are Croatian (hr)."])
        .stderr(
            "metachron: decisions saved in b.toml; review them, then\n\
             \x20 metachron convert b.csv --readings b.toml -o b.out.csv\n",
        )
        .check();
    bench
        .run("convert b.csv --readings b.toml --quiet")
        .stdout(
            "ring,seen,seen_typed\n\
             LF1,3 listopad 2024,2024-10-03\n\
             LF2,14 listopad 2024,2024-10-14\n",
        )
        .check();
    // Values that only the other order fits stay a question.
    bench.write("c.csv", "ring,seen\nLF1,03/04/2024\nLF2,04/13/2024\n");
    bench
        .run("convert c.csv --column seen --known 03/04/2024=2024-04-03")
        .status(3)
        .stderr_has(&["You said that \"03/04/2024\" is 2024-04-03, but 1 value cannot be read so (first in row 2:"])
        .check();
}

#[test]
fn an_answer_that_several_readings_give_says_on_how_many_rows_they_differ() {
    let bench = Bench::with("a.csv", "seen\n03/04/2024\n05/06/2024\n07/07/2024\n2/3/2024\n");
    bench
        .run("convert a.csv --known 07/07/2024=2024-07-07")
        .status(3)
        .stderr_has(&[
            "What you know is right read day first as well as month first; these differ on 3 rows.",
        ])
        .check();
}

#[test]
fn eras_say_by_themselves_what_they_count() {
    let bench = Bench::with("a.csv", "seen\n令和6年3月5日\n平成31年4月30日\n令和元年5月1日\n");
    bench
        .run("convert a.csv --quiet")
        .stdout(
            "seen,seen_typed\n\
             令和6年3月5日,2024-03-05\n\
             平成31年4月30日,2019-04-30\n\
             令和元年5月1日,2019-05-01\n",
        )
        .check();
    bench.write("b.csv", "seen\nR6.3.5\nS62.4.29\nH31.4.30\n");
    // A letter is an era only where Japanese is said to be written.
    bench
        .run("convert b.csv --column seen")
        .status(3)
        .stderr(
            "metachron: the date column is open; nothing was written\n\
             \n\
             \x20 seen       No dates.\n\
             \x20            If it does hold dates, say how they are written by --set; how a value can be read is shown by:\n\
             \x20              metachron explain H31.4.30\n\
             \x20            If it is no date, or to leave it as it is for now:\n\
             \x20              metachron convert b.csv --column seen --set 'seen: convert=false' -o b.out.csv\n",
        )
        .check();
    bench
        .run("convert b.csv --written-in ja --quiet")
        .stdout(
            "seen,seen_typed\n\
             R6.3.5,2024-03-05\n\
             S62.4.29,1987-04-29\n\
             H31.4.30,2019-04-30\n",
        )
        .check();
    bench
        .run("explain 平成元年1月7日")
        .stdout(
            "\"平成元年1月7日\" cannot be read\n\
             \x20 {era}{year:era}年{month}月{day}日  lies before its era, which began on 1989-01-08\n",
        )
        .check();
}

#[test]
fn other_calendars_are_asked_about_said_or_usual() {
    let bench = Bench::with("a.csv", "hatched\n2567-03-05\n2567-03-15\n2566-12-31\n");
    bench
        .run("convert a.csv")
        .status(3)
        .stderr_has(&[
            "The years run from 2566 to 2567: they may be counted by another calendar.",
            "If it is the Buddhist calendar:\n               metachron convert a.csv --set 'hatched: calendar=buddhist' -o a.out.csv",
            "If these years are of the usual calendar:\n               metachron convert a.csv --set 'hatched: calendar=gregorian'",
        ])
        .check();
    bench
        .run("convert a.csv --calendar buddhist --quiet")
        .stdout(
            "hatched,hatched_typed\n\
             2567-03-05,2024-03-05\n\
             2567-03-15,2024-03-15\n\
             2566-12-31,2023-12-31\n",
        )
        .check();
    bench
        .run("convert a.csv --calendar gregorian --quiet")
        .stdout(
            "hatched,hatched_typed\n\
             2567-03-05,2567-03-05\n\
             2567-03-15,2567-03-15\n\
             2566-12-31,2566-12-31\n",
        )
        .check();
    bench
        .run("convert a.csv --written-in th --quiet")
        .stdout(
            "hatched,hatched_typed\n\
             2567-03-05,2024-03-05\n\
             2567-03-15,2024-03-15\n\
             2566-12-31,2023-12-31\n",
        )
        .check();
    bench
        .run("survey a.csv --written-in th --save a.toml")
        .stdout_has(&["those of the Buddhist calendar, as is usual where Thai"])
        .stderr(
            "metachron: decisions saved in a.toml; review them, then\n\
             \x20 metachron convert a.csv --readings a.toml -o a.out.csv\n",
        )
        .check();
    assert!(bench.read("a.toml").contains("calendar = \"buddhist\"\n"));
    bench
        .run("convert a.csv --readings a.toml --quiet")
        .stdout(
            "hatched,hatched_typed\n\
             2567-03-05,2024-03-05\n\
             2567-03-15,2024-03-15\n\
             2566-12-31,2023-12-31\n",
        )
        .check();
    bench
        .run("convert a.csv --calendar budhist")
        .status(2)
        .stderr(
            "metachron: --calendar \"budhist\" is none of gregorian, julian, buddhist, japanese, \
             roc, persian, islamic-civil, islamic-tabular, islamic-umalqura, hebrew, indian, \
             coptic, ethiopic, ethiopic-amete-alem; did you mean buddhist?\n",
        )
        .check();
    bench.write("roc.csv", "d\n113/03/05\n112/12/31\n0990102\n");
    bench
        .run("convert roc.csv --calendar roc --order ymd --quiet")
        .stdout(
            "d,d_typed\n\
             113/03/05,2024-03-05\n\
             112/12/31,2023-12-31\n\
             0990102,2010-01-02\n",
        )
        .check();
}
