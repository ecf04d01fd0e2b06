"""The same work on Apache Spark: each part is looked at and converted where it lies, and judged once for all.

    python3 distributed.py PARTS OUTPUT [--workers 2]

The workers share a folder for evidence, readings and converted parts, as they would share an object store.
"""

import argparse
import os
import pathlib
import sys
import tempfile

import pyspark.sql
import pyspark.sql.functions as functions
import pyspark.sql.types as types

import steps

# So many sums are added up by one task: with 10,000 parts that makes four levels.
FAN = 8


def session(workers):
    """A local cluster: a master and so many worker processes of one core each, on this machine."""
    os.environ.setdefault("PYSPARK_PYTHON", sys.executable)
    os.environ.setdefault("SPARK_LOCAL_IP", "127.0.0.1")
    builder = pyspark.sql.SparkSession.builder.master(f"local-cluster[{workers},1,1024]")
    settings = {
        "spark.ui.enabled": "false",
        "spark.ui.showConsoleProgress": "false",
        "spark.driver.host": "127.0.0.1",
        "spark.driver.bindAddress": "127.0.0.1",
        "spark.task.maxFailures": "2",
        "spark.executorEnv.PYTHONPATH": str(pathlib.Path(__file__).parent),
        "spark.executorEnv.METACHRON": os.environ.get("METACHRON", ""),
        "spark.sql.session.timeZone": "UTC",
        # Month directories keep what they are called.
        "spark.sql.sources.partitionColumnTypeInference.enabled": "false",
    }
    for key, value in settings.items():
        builder = builder.config(key, value)
    spark = builder.appName("Longshore Flyway").getOrCreate()
    spark.sparkContext.setLogLevel("ERROR")
    return spark


def run(spark, parts, output, *, twice=(), failing=()):
    """Converts all parts in these folders.

    Parts whose places are in `twice` are looked at twice, as an engine may do that has lost sight of a worker; the first
    task for one in `failing` dies on the way.
    """
    context = spark.sparkContext
    files = sorted(path for folder in parts for path in pathlib.Path(folder).iterdir())
    with tempfile.TemporaryDirectory() as work:
        work = pathlib.Path(work)

        def each(function, tasks):
            """Does the same for every task, wherever there is a worker free, and gives what came out in their order."""
            return context.parallelize(list(tasks), max(len(tasks), 1)).map(function).collect()

        def look(task):
            place, file, evidence = task
            is_first = pyspark.TaskContext.get().attemptNumber() == 0
            seen = steps.look(file, evidence)
            if place in failing and is_first:
                raise RuntimeError(f"the worker that looked at {file} is gone")
            return seen

        tasks = [(place, str(file), str(work / "seen" / f"{file.stem}.seen")) for place, file in enumerate(files)]
        tasks += [task for task in tasks if task[0] in twice]
        # The evidence of a part has the name of the part: looked at again, it is written again.
        evidence = list(dict.fromkeys(each(look, tasks)))
        level = 0
        while len(evidence) > FAN:
            groups = [evidence[at : at + FAN] for at in range(0, len(evidence), FAN)]
            tasks = [(group, str(work / f"level-{level}-{at:05}.seen")) for at, group in enumerate(groups)]
            evidence = each(lambda task: steps.add_up(*task), tasks)
            level += 1

        readings = work / "readings.toml"
        steps.judge(evidence, readings)

        tasks = [(str(file), str(work / "typed" / f"{file.stem}.parquet")) for file in files]

        def convert(task):
            # A question is no failure of a worker: to ask it again would be of no use.
            try:
                return steps.convert(task[0], str(readings), task[1]), None
            except steps.OpenQuestion as question:
                return None, str(question)

        converted, asked = zip(*each(convert, tasks))
        for question in filter(None, asked):
            raise steps.OpenQuestion(question)
        table = spark.read.parquet(*converted)
        month = functions.date_format("captured_typed", "yyyy-MM")
        table.withColumn("month", month).repartition("month").write.partitionBy("month").parquet(str(output))
        return {field.name: field.dataType for field in table.schema}


# What the engine takes the typed columns for.
TYPES = {
    "captured_typed": types.DateType(),
    "logged_typed": types.TimestampNTZType(),
    "checked_typed": types.DateType(),
}


if __name__ == "__main__":
    arguments = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    arguments.add_argument("parts", nargs="+")
    arguments.add_argument("output")
    arguments.add_argument("--workers", type=int, default=2)
    asked = arguments.parse_args()
    cluster = session(asked.workers)
    try:
        run(cluster, asked.parts, asked.output)
    except steps.OpenQuestion as question:
        print(question, file=sys.stderr)
        sys.exit(3)
    finally:
        cluster.stop()
