"""The command line: check a study, run it, print the document's schema."""

import argparse
import json
import math
import sys
from collections.abc import Callable, Sequence
from dataclasses import asdict
from pathlib import Path
from typing import Any

from pydantic import ValidationError
from pydantic_core import PydanticCustomError

from flowcore import __version__
from flowcore.checks import check_study
from flowcore.log import event_log, journey, write_csv, write_xes
from flowcore.problems import Level, StudyError, error_at
from flowcore.results.run import Results
from flowcore.simulate import simulate
from flowcore.study import RunSettings, Study, minutes, read_study
from flowcore.study.wording import problem_of

FAILED = 1


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command and return its exit code: 0 when all is well, 1 with a problem said."""
    options = _parser().parse_args(arguments)
    try:
        code: int = options.command(options)
    except StudyError as error:
        for problem in error.problems:
            print(problem, file=sys.stderr)
        return FAILED
    return code


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="python -m flowcore", description="Check and run studies of services.")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    check = _command(commands, "check", _check, "print the health checks of a study")
    check.add_argument("study", type=Path, metavar="STUDY.json")
    run = _command(commands, "run", _run, "run a study and write its figures")
    run.add_argument("study", type=Path, metavar="STUDY.json")
    run.add_argument("--replications", type=int, metavar="N")
    run.add_argument("--seed", type=int, metavar="S")
    run.add_argument("--length", metavar="DURATION", help="such as 4wk")
    run.add_argument("--warm-up", metavar="DURATION", help="such as 1d")
    run.add_argument("--threads", type=int, default=1, metavar="N")
    run.add_argument("--out", type=Path, metavar="FILE")
    log = _command(commands, "log", _log, "write the event log of one replication")
    log.add_argument("study", type=Path, metavar="STUDY.json")
    log.add_argument("--replication", type=int, default=0, metavar="N")
    log.add_argument("--from", dest="begin", metavar="DURATION", default="0 min", help="such as 2h after the start")
    log.add_argument("--to", dest="end", metavar="DURATION")
    log.add_argument("--out", type=Path, required=True, metavar="FILE.csv|.xes")
    way = _command(commands, "journey", _journey, "write one case's own history")
    way.add_argument("study", type=Path, metavar="STUDY.json")
    way.add_argument("--replication", type=int, default=0, metavar="N")
    way.add_argument("--case", type=int, required=True, metavar="N")
    _command(commands, "schema", _schema, "print the JSON Schema of the study document")
    return parser


def _command(
    commands: Any, name: str, command: Callable[[argparse.Namespace], int], about: str
) -> argparse.ArgumentParser:
    parser: argparse.ArgumentParser = commands.add_parser(name, help=about, description=about)
    parser.set_defaults(command=command)
    return parser


def _load(path: Path) -> Study:
    try:
        return read_study(json.loads(path.read_text(encoding="utf-8")))
    except OSError as error:
        what, mend = f"It cannot be read: {error.strerror}.", "Check the path."
    except UnicodeDecodeError:
        what, mend = "It is not a text file in UTF-8.", "Save it as UTF-8."
    except json.JSONDecodeError as error:
        what = f"Line {error.lineno}, column {error.colno} is not JSON: {error.msg}."
        mend = "Correct it there."
    raise StudyError([error_at(where=str(path), what=what, mend=mend)])


def _check(options: argparse.Namespace) -> int:
    problems = check_study(_load(options.study))
    for problem in problems:
        print(problem)
    if not problems:
        print("Nothing is wrong or doubtful.")
    return FAILED if any(problem.level is Level.ERROR for problem in problems) else 0


def _run(options: argparse.Namespace) -> int:
    study = _with_settings(_load(options.study), options)
    if options.threads < 1:
        raise StudyError([error_at(where="--threads", what="No thread, no run.", mend="Give 1 or more.")])
    results = simulate(study, threads=options.threads)
    text = json.dumps(report(study, results), indent=1, allow_nan=False)
    if options.out is None:
        print(text)
        return 0
    try:
        options.out.write_text(text + "\n", encoding="utf-8")
    except OSError as error:
        problem = error_at(where="--out", what=f"It cannot be written: {error.strerror}.", mend="Check the path.")
        raise StudyError([problem]) from None
    return 0


def _with_settings(study: Study, options: argparse.Namespace) -> Study:
    """Return the study with the run settings that the command line overrides."""
    names = ("replications", "seed", "length", "warm_up")
    given = {name: getattr(options, name) for name in names if getattr(options, name) is not None}
    document = study.run.model_dump() | given
    try:
        return study.model_copy(update={"run": RunSettings.model_validate(document)})
    except ValidationError as error:
        found = [problem_of(entry, document) for entry in error.errors()]
        named = [each.model_copy(update={"where": f"--{each.where.replace('_', '-')}"}) for each in found]
        raise StudyError(named) from None


def report(study: Study, results: Results) -> dict[str, Any]:
    """Return a run as it is written to a file, with one value per replication."""
    figures = {
        address: asdict(found) | {"values": [None if math.isnan(v) else v for v in results.values[address].tolist()]}
        for address, found in results.figures().items()
    }
    run = study.run.model_dump() | {"engine": __version__}
    return {"study": study.name, "run": run, "figures": figures}


def _log(options: argparse.Namespace) -> int:
    if options.out.suffix not in (".csv", ".xes"):
        raise StudyError([error_at(where="--out", what="It is neither .csv nor .xes.", mend="Name such a file.")])
    study = _load(options.study)
    end = float("inf") if options.end is None else _time(options.end, "--to")
    entries = event_log(study, options.replication, begin=_time(options.begin, "--from"), end=end)
    try:
        if options.out.suffix == ".csv":
            write_csv(entries, options.out)
        else:
            write_xes(study, entries, options.out)
    except OSError as error:
        problem = error_at(where="--out", what=f"It cannot be written: {error.strerror}.", mend="Check the path.")
        raise StudyError([problem]) from None
    return 0


def _time(text: str, where: str) -> float:
    try:
        return minutes(text)
    except PydanticCustomError as error:
        context = error.context or {}
        raise StudyError([error_at(where=where, what=context["what"], mend=context["mend"])]) from None


def _journey(options: argparse.Namespace) -> int:
    entries = journey(_load(options.study), options.replication, options.case)
    if not entries:
        problem = error_at(where="--case", what="There is no such case.", mend="Cases are counted from 1.")
        raise StudyError([problem])
    for each in entries:
        time = each.time.isoformat(sep=" ", timespec="seconds")
        print(f"{time}  {each.event:<16} {each.step:<24} {each.member}".rstrip())
    return 0


def _schema(_options: argparse.Namespace) -> int:
    print(json.dumps(Study.model_json_schema(), indent=2))
    return 0
