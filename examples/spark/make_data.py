"""Makes the partitioned tables of the Longshore Flyway: one folder of CSV, one of Parquet, and some partitions that are hard.

    python3 make_data.py FOLDER [--parts 64]

Nothing here is real. The same number of parts always gives the same bytes.
"""

import argparse
import csv
import datetime
import io
import pathlib
import random

import pyarrow
import pyarrow.parquet

# In which order each station writes the day of capture; Hoshizaki stands in a hard partition alone.
STATIONS = {"Skarholm": "dmy", "Port Meridian": "mdy", "Cabo Sereno": "dmy", "Dar Wadi": "dmy"}
SPECIES = ["Sylvia borin", "Phylloscopus trochilus", "Hirundo rustica", "Erithacus rubecula"]
MONTHS = [
    "January", "February", "March", "April", "May", "June",
    "July", "August", "September", "October", "November", "December",
]  # fmt: skip
COLUMNS = ["ring", "station", "captured", "logged", "checked", "species", "wing", "mass", "net", "remark"]
FIRST = datetime.date(2021, 1, 1)
DAYS = 4 * 365
# The days on which rings are checked: dates in both orders, all of them.
PLANNED = [datetime.date(2021, 4, 3), datetime.date(2022, 9, 7), datetime.date(2023, 6, 5), datetime.date(2024, 3, 2)]

# Partitions of the table with something of their own, by their place among all, from 0 to 1.
EMPTY, AMBIGUOUS, DECIDING, STRAY_QUOTE = 0.25, 0.375, 0.5, 0.625


def written(day, order):
    """A day in digits, as a station writes it."""
    parts = {"d": f"{day.day:02}", "m": f"{day.month:02}", "y": str(day.year)}
    return "/".join(parts[part] for part in order)


def row(random, number, station, day, checked, remark=""):
    """A row of the table: a bird that was caught, and whose ring was checked later."""
    hour, minute = random.randrange(24), random.randrange(60)
    half, shown = ("AM", "PM")[hour // 12], (hour + 11) % 12 + 1
    return [
        f"LF{number:07}",
        station,
        written(day, STATIONS.get(station, "dmy")),
        f"{day.day} {MONTHS[day.month - 1]} {day.year} {shown}:{minute:02} {half}",
        written(checked, "dmy") if checked else "",
        random.choice(SPECIES),
        str(random.randrange(60, 90)),
        f"{random.randrange(10, 30)}.{random.randrange(10)}",
        f"net {random.randrange(1, 13)}",
        remark,
    ]


def early(random):
    """A day that is a date in both orders."""
    return datetime.date(2021 + random.randrange(4), 1 + random.randrange(12), 1 + random.randrange(12))


def any_day(random):
    return FIRST + datetime.timedelta(days=random.randrange(DAYS))


def planned(random):
    """When a ring was checked, of one bird in ten: on one of the few days that all stations have agreed on."""
    return random.choice(PLANNED) if random.random() < 0.1 else None


def part(at, parts):
    """The rows of the partition at this place among so many."""
    own = random.Random(at * 7919 + 1)
    is_at = lambda share: at == int(share * parts)
    if is_at(EMPTY):
        return []
    # A few partitions hold most of the rows.
    size = 8 if is_at(AMBIGUOUS) else 20 + int(1800 * own.random() ** 3)
    size = max(size, 200) if is_at(DECIDING) else size
    day = early if is_at(AMBIGUOUS) else any_day
    checked = any_day if is_at(DECIDING) else planned
    number = at * 10_000
    rows = [
        row(own, number + n, own.choice(list(STATIONS)), day(own), checked(own)) for n in range(size)
    ]
    if is_at(STRAY_QUOTE):
        rows[size // 2][-1] = '5" net torn'
    return rows


def hard(parts):
    """Partitions that come to the table later, by their names: each is hard in its own way."""
    own = random.Random(11)
    number = parts * 10_000
    never_tells = [row(own, number + n, "Hoshizaki", early(own), planned(own)) for n in range(300)]
    new_shape = [
        row(own, number + 1_000 + n, own.choice(list(STATIONS)), any_day(own), planned(own)) for n in range(300)
    ]
    for n, cells in enumerate(new_shape):
        if n % 3 == 0:
            cells[3] = f"week {1 + n % 50} of 2024"
    return {"never-tells": never_tells, "new-shape": new_shape}


def as_csv(rows):
    """Rows as CSV; a stray quote stands as somebody has typed it."""
    text = io.StringIO()
    out = csv.writer(text, lineterminator="\n", quoting=csv.QUOTE_NONE, quotechar=None, escapechar=None)
    out.writerow(COLUMNS)
    out.writerows(rows)
    return text.getvalue()


def write(folder, name, rows):
    """Writes a partition in both formats."""
    for format in ("csv", "parquet"):
        (folder / format).mkdir(parents=True, exist_ok=True)
    (folder / "csv" / f"{name}.csv").write_text(as_csv(rows), encoding="utf-8")
    columns = list(zip(*rows)) or [[] for _ in COLUMNS]
    table = pyarrow.table(
        {name: pyarrow.array(list(cells), pyarrow.string()) for name, cells in zip(COLUMNS, columns)}
    )
    pyarrow.parquet.write_table(table, folder / "parquet" / f"{name}.parquet")


def make(folder, parts=64):
    """Makes the table in `folder`/captures, and each hard partition in a folder of its own."""
    folder = pathlib.Path(folder)
    for at in range(parts):
        write(folder / "captures", f"part-{at:05}", part(at, parts))
    for name, rows in hard(parts).items():
        write(folder / name, f"part-{parts:05}", rows)


if __name__ == "__main__":
    arguments = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    arguments.add_argument("folder")
    arguments.add_argument("--parts", type=int, default=64)
    asked = arguments.parse_args()
    make(asked.folder, asked.parts)
