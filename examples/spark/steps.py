"""The four steps, each a call of metachron: look at a part, add up what was seen, judge once, convert a part."""

import json
import os
import pathlib
import shutil
import subprocess
import tomllib

# What "today" is, so that the same data always come to the same verdicts.
AS_OF = "2026-01-01"
# What the analyst has accepted: where a column beside tells in which order days were written, that holds.
ACCEPTED = ["--accept", "split"]


class OpenQuestion(Exception):
    """A column needs an answer before anything can be converted: what was asked."""


# With these statuses metachron ends where a column is open, and where rows were not read that nobody lets stay.
ASKS = (3, 4)


def metachron(*arguments):
    """Runs metachron and gives what it says."""
    program = os.environ.get("METACHRON") or shutil.which("metachron")
    if not program:
        raise FileNotFoundError("metachron is not in the PATH, and METACHRON does not say where it is")
    line = [program, *map(str, arguments), "--as-of", AS_OF]
    done = subprocess.run(line, capture_output=True, text=True, check=False)
    if done.returncode in ASKS:
        said = [line for line in done.stderr.splitlines() if line.startswith("metachron: ")]
        raise OpenQuestion("\n".join(said))
    if done.returncode != 0:
        raise RuntimeError(f"{' '.join(line)}\nended with status {done.returncode}:\n{done.stderr}")
    return done.stdout


def look(part, evidence):
    """Looks at a part where it lies; what was seen is kept in a file of a megabyte at most, written whole or not at all."""
    evidence = pathlib.Path(evidence)
    evidence.parent.mkdir(parents=True, exist_ok=True)
    metachron("survey", part, "--evidence", evidence, "--threads", 1)
    return str(evidence)


def add_up(evidence, sum):
    """Adds up what was seen of parts that follow each other, in their order."""
    metachron("survey", "--merge", *evidence, "--evidence", sum)
    return str(sum)


def judge(evidence, readings):
    """Judges what was seen of all parts together, once, and saves how each column is read.

    Raises OpenQuestion if a column is open: the question is the same, however the parts were spread.
    """
    report = metachron("survey", "--merge", *evidence, "--json", "--save", readings, *ACCEPTED)
    refuse_open(json.loads(report)["columns"], readings)


def judge_here(parts, readings):
    """The same of parts that all lie on this machine."""
    report = metachron("survey", *parts, "--json", "--save", readings, *ACCEPTED)
    refuse_open(json.loads(report)["together"], readings)


def refuse_open(columns, readings):
    """Raises OpenQuestion with what was found of the columns that nobody has decided."""
    saved = tomllib.loads(pathlib.Path(readings).read_text(encoding="utf-8"))["column"]
    decided = {own["from"] for own in saved if own["verdict"] == "decided" or own.get("accepted")}
    asked = [own for own in columns if own["verdict"] not in ("not-a-date", "decided") and own["name"] not in decided]
    if asked:
        texts = [f"{own['name']}: {json.dumps(own['reasons'], sort_keys=True)}" for own in asked]
        raise OpenQuestion("\n".join(texts))


def convert(part, readings, output):
    """Converts a part with the saved readings into typed Parquet, written whole or not at all."""
    output = pathlib.Path(output)
    output.parent.mkdir(parents=True, exist_ok=True)
    try:
        metachron("convert", part, "--readings", readings, "-o", output, "--threads", 1)
    except OpenQuestion as question:
        raise OpenQuestion(f"{pathlib.Path(part).name}: {question}") from None
    return str(output)
