"""What the stand-ins have in common: their options, and where the rows go, to a file or to whoever listens."""

import argparse
import csv
import io
import socket
import sys
import time
from collections.abc import Callable, Iterable, Iterator, Sequence
from datetime import datetime
from itertools import pairwise
from pathlib import Path

from flowcore.problems import StudyError
from flowcore.study import RunSettings, StudyDocument, read_json, read_study
from stand_ins.quirks import Quirks, with_quirks
from stand_ins.service import Visit, visits_of

Line = tuple[datetime, Sequence[str]]
Lines = Callable[[Iterable[Visit]], Iterator[Line]]
"""Makes a device's rows of visits, each with when it was written."""


def run(name: str, heading: Sequence[str], separator: str, lines: Lines, arguments: Sequence[str] | None) -> int:
    """Write what a device writes; return 0, or 1 with a problem said."""
    options = _parser(name).parse_args(arguments)
    try:
        study = _study(options)
        quirks = Quirks(options.twice, options.missing, options.late, seed=options.seed)
        rows = sorted(lines(with_quirks(visits_of(study, options.replication), quirks)), key=lambda line: line[0])
    except StudyError as error:
        for problem in error.problems:
            print(problem, file=sys.stderr)
        return 1
    if options.out:
        options.out.write_text("".join(_written(row, separator) for row in [heading, *(row for _, row in rows)]))
    if options.port is not None:
        _feed(options.port, options.pace, heading, rows, separator)
    return 0


def _parser(name: str) -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog=f"python -m stand_ins.{name}", description=f"Stands in for a {name}.")
    parser.add_argument("--study", type=Path, required=True, metavar="STUDY.json", help="what really goes on")
    parser.add_argument("--out", type=Path, metavar="LOG.csv", help="write the log to this file")
    parser.add_argument("--port", type=int, metavar="PORT", help="send the log, as it comes, to one who connects here")
    parser.add_argument("--pace", type=float, default=60.0, metavar="X", help="so many times as fast as it goes on")
    parser.add_argument("--length", metavar="DURATION", help='how long, such as "4 wk"; default: as the study')
    parser.add_argument("--replication", type=int, default=0, metavar="N", help="which replication goes on")
    parser.add_argument("--twice", type=float, default=0.0, metavar="SHARE", help="so many rows are written twice")
    parser.add_argument("--missing", type=float, default=0.0, metavar="SHARE", help="so many ends are missing")
    parser.add_argument("--late", type=float, default=0.0, metavar="MIN", help="every fourth place's clock is late")
    parser.add_argument("--seed", type=int, default=1, metavar="N", help="which rows the quirks are in")
    return parser


def _study(options: argparse.Namespace) -> StudyDocument:
    study = read_study(read_json(options.study.read_bytes()))
    if not options.length:
        return study
    run = RunSettings.model_validate(study.run.model_dump(exclude_unset=True) | {"length": options.length})
    return study.model_copy(update={"run": run})


def _written(row: Sequence[str], separator: str) -> str:
    text = io.StringIO()
    csv.writer(text, delimiter=separator, lineterminator="\n").writerow(row)
    return text.getvalue()


def _feed(port: int, pace: float, heading: Sequence[str], rows: Sequence[Line], separator: str) -> None:
    """Send the heading and then every row when its time has come, to the first who connects."""
    with socket.create_server(("127.0.0.1", port)) as server:
        print(f"Listening on port {server.getsockname()[1]}", flush=True)
        there, _ = server.accept()
        with there:
            there.sendall(_written(heading, separator).encode())
            for before, now in pairwise([rows[0], *rows]) if rows else ():
                time.sleep((now[0] - before[0]).total_seconds() / pace)
                there.sendall(_written(now[1], separator).encode())
