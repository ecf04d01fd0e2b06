"""The whole work on one machine: looks at all parts, judges once, converts, and writes typed Parquet by month.

    python3 one_machine.py PARTS OUTPUT        # PARTS: a folder of CSV or Parquet files
"""

import argparse
import pathlib
import sys
import tempfile

import pyarrow
import pyarrow.compute
import pyarrow.dataset

import steps


def run(parts, output):
    """Converts all parts in this folder."""
    with tempfile.TemporaryDirectory() as work:
        files = sorted(path for folder in parts for path in pathlib.Path(folder).iterdir())
        readings = pathlib.Path(work, "readings.toml")
        steps.judge_here(files, readings)
        converted = [steps.convert(file, readings, pathlib.Path(work, "typed", file.stem + ".parquet")) for file in files]
        table = pyarrow.dataset.dataset(converted).to_table()
        month = pyarrow.compute.strftime(table["captured_typed"], format="%Y-%m")
        pyarrow.dataset.write_dataset(
            table.append_column("month", month),
            output,
            format="parquet",
            partitioning=["month"],
            partitioning_flavor="hive",
        )


if __name__ == "__main__":
    arguments = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    arguments.add_argument("parts", nargs="+")
    arguments.add_argument("output")
    asked = arguments.parse_args()
    try:
        run(asked.parts, asked.output)
    except steps.OpenQuestion as question:
        print(question, file=sys.stderr)
        sys.exit(3)
