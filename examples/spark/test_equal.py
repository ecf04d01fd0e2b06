"""The engine's result is the one machine's, row for row, or stops with the same question.

    python3 test_equal.py [--parts 64]
"""

import argparse
import pathlib
import tempfile

import pyarrow
import pyarrow.dataset

import distributed
import make_data
import one_machine
import steps


def rows(folder):
    """All rows of a table that is partitioned by month, in the order of their rings."""
    table = pyarrow.dataset.dataset(folder, partitioning="hive").to_table()
    columns = sorted(table.column_names)
    # The engine keeps microseconds, one machine the milliseconds that suffice.
    timestamps = [pyarrow.types.is_timestamp(table.schema.field(name).type) for name in columns]
    kinds = {name: pyarrow.timestamp("us") for name, is_one in zip(columns, timestamps) if is_one}
    fields = [pyarrow.field(name, kinds.get(name, table.schema.field(name).type)) for name in columns]
    return table.select(columns).cast(pyarrow.schema(fields)).sort_by("ring")


def come_out(work, *arguments):
    """What a program comes to: its rows, or the question that it stops with."""
    try:
        work(*arguments)
    except steps.OpenQuestion as question:
        return str(question)
    return rows(arguments[-1])


def compare(name, here, there):
    """Fails unless both are the same."""
    if isinstance(here, str) or isinstance(there, str):
        assert here == there, f"{name}: one machine came to\n{here}\nand the engine to\n{there}"
        print(f"{name}: both stop with the same question")
        return here
    assert here.schema.equals(there.schema), f"{name}: the columns differ:\n{here.schema}\n{there.schema}"
    for at, (own, other) in enumerate(zip(here.to_pylist(), there.to_pylist())):
        assert own == other, f"{name}: row {at} differs:\n{own}\n{other}"
    assert here.num_rows == there.num_rows, f"{name}: {here.num_rows} rows here, {there.num_rows} there"
    print(f"{name}: {here.num_rows:,} rows are equal")
    return here


def main(parts, workers):
    spark = distributed.session(workers)
    with tempfile.TemporaryDirectory() as folder:
        folder = pathlib.Path(folder)
        make_data.make(folder, parts)
        expected = sum(len(make_data.part(at, parts)) for at in range(parts))
        results = {}
        for format in ("csv", "parquet"):
            captures = folder / "captures" / format
            here = come_out(one_machine.run, [captures], folder / f"here-{format}")

            def engine(parts_of, output):
                kinds = distributed.run(spark, parts_of, output, twice={1, parts - 1}, failing={0, parts // 2})
                assert distributed.TYPES.items() <= kinds.items(), kinds

            there = come_out(engine, [captures], folder / f"there-{format}")
            results[format] = compare(f"{parts} parts of {format}", here, there)
            assert results[format].num_rows == expected, "rows are missing"
        # What is empty differs between the formats, what was read as a date does not.
        typed = ["ring", *distributed.TYPES]
        assert results["csv"].select(typed).equals(results["parquet"].select(typed))
        for name in ("never-tells", "new-shape"):
            both = [folder / "captures" / "csv", folder / name / "csv"]
            here = come_out(one_machine.run, both, folder / f"here-{name}")
            there = come_out(lambda parts_of, output: distributed.run(spark, parts_of, output), both, folder / f"there-{name}")
            asked = compare(name, here, there)
            assert isinstance(asked, str), f"{name}: nothing was asked"
            print("  " + asked.strip().replace("\n", "\n  "))
    spark.stop()


if __name__ == "__main__":
    arguments = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    arguments.add_argument("--parts", type=int, default=64)
    arguments.add_argument("--workers", type=int, default=2)
    asked = arguments.parse_args()
    main(asked.parts, asked.workers)
