"""The command line: check a study, run it, compare its scenarios, right-size it, follow its cases, print the schema."""

import argparse
import json
import sys
from collections.abc import Callable, Sequence
from itertools import product
from pathlib import Path
from typing import Any

from pydantic import ValidationError
from pydantic_core import PydanticCustomError

from flowcore.checks import check_study
from flowcore.exchange.bpmn.read import read_process
from flowcore.exchange.bpmn.results import written_results
from flowcore.exchange.bpmn.write import write_process
from flowcore.exchange.notes import NotKept
from flowcore.exchange.tables import Rows, written_csv, written_xlsx
from flowcore.findings.run import sentences
from flowcore.findings.trust import what_it_rests_on
from flowcore.findings.words import as_text
from flowcore.problems import Severity, StudyError, error_at
from flowcore.replay.logbook import written_lines
from flowcore.reports.event_log import event_log, journey, write_csv, write_xes
from flowcore.reports.run import comparison_report, run_report, run_tables
from flowcore.results.catalogue import MEASURES
from flowcore.results.catalogue_page import page
from flowcore.results.steady_state import doubts
from flowcore.simulate import simulate
from flowcore.sizing.size import size
from flowcore.study import RunSettings, StudyDocument, minutes, read_json, read_study, written
from flowcore.study.scenarios import BASELINE, apply_scenario
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
    _add_settings(run)
    run.add_argument("--scenario", metavar="ID", help="run the study as this scenario has it")
    bring = _command(commands, "import", _import, "make a study of a process drawn as BPMN, with BPSim if it has that")
    bring.add_argument("process", type=Path, metavar="FILE.bpmn")
    bring.add_argument("--out", type=Path, metavar="STUDY.json")
    export = _command(commands, "export", _export, "write a study as BPMN with BPSim and a diagram")
    export.add_argument("study", type=Path, metavar="STUDY.json")
    export.add_argument("--out", type=Path, required=True, metavar="FILE.bpmn")
    findings = _command(commands, "findings", _findings, "run a study and say what that found, in a few sentences")
    _add_settings(findings, with_file=False)
    findings.add_argument("--scenario", metavar="ID", help="run the study as this scenario has it")
    scenarios = _command(commands, "compare", _compare, "compare scenarios with the study as it is, on the same luck")
    _add_settings(scenarios)
    scenarios.add_argument("--scenario", action="append", metavar="ID", help="one of several; default: all")
    scenarios.add_argument("--figure", action="append", metavar="ADDRESS", help="one of several")
    sizing = _command(commands, "size", _size, "look for the cheapest staffing that keeps the targets")
    sizing.add_argument("study", type=Path, metavar="STUDY.json")
    sizing.add_argument("--sizing", metavar="ID", help="one of the study's searches; default: the first")
    sizing.add_argument("--seed", type=int, metavar="S")
    sizing.add_argument("--threads", type=int, default=1, metavar="N")
    sizing.add_argument("--out", type=Path, metavar="FILE")
    log = _command(commands, "log", _log, "write the event log of one replication or of several")
    log.add_argument("study", type=Path, metavar="STUDY.json")
    log.add_argument("--replication", type=int, default=0, metavar="N", help="which one, or the first of several")
    log.add_argument("--replications", type=int, default=1, metavar="N", help="so many, from that one on")
    log.add_argument("--scenario", metavar="ID", help="of the study as this scenario has it")
    log.add_argument("--from", dest="begin", metavar="DURATION", default="0 min", help="such as 2h after the start")
    log.add_argument("--to", dest="end", metavar="DURATION")
    log.add_argument("--out", type=Path, required=True, metavar="FILE.csv|.xes")
    book = _command(commands, "logbook", _logbook, "say in words what happened in one replication")
    book.add_argument("study", type=Path, metavar="STUDY.json")
    book.add_argument("--replication", type=int, default=0, metavar="N")
    book.add_argument("--from", dest="begin", metavar="DURATION", default="0 min", help="such as 2h after the start")
    book.add_argument("--to", dest="end", metavar="DURATION")
    book.add_argument("--case", type=int, metavar="N", help="of one case only")
    way = _command(commands, "journey", _journey, "write one case's own history")
    way.add_argument("study", type=Path, metavar="STUDY.json")
    way.add_argument("--replication", type=int, default=0, metavar="N")
    way.add_argument("--case", type=int, required=True, metavar="N")
    _command(commands, "schema", _schema, "print the JSON Schema of the study document")
    _command(commands, "figures", _figures, "print the catalogue of figures and their addresses")
    return parser


def _add_settings(command: argparse.ArgumentParser, with_file: bool = True) -> None:
    command.add_argument("study", type=Path, metavar="STUDY.json")
    command.add_argument("--replications", type=int, metavar="N")
    command.add_argument("--seed", type=int, metavar="S")
    command.add_argument("--length", metavar="DURATION", help="such as 4wk")
    command.add_argument("--warm-up", metavar="DURATION", help="such as 1d")
    command.add_argument("--threads", type=int, default=1, metavar="N")
    if with_file:
        command.add_argument("--out", type=Path, metavar="FILE", help="of a run also .csv, .xlsx and .bpsim")


def _command(
    commands: Any, name: str, command: Callable[[argparse.Namespace], int], about: str
) -> argparse.ArgumentParser:
    parser: argparse.ArgumentParser = commands.add_parser(name, help=about, description=about)
    parser.set_defaults(command=command)
    return parser


def _load(path: Path) -> StudyDocument:
    return read_study(read_json(_read(path)))


def _read(path: Path) -> bytes:
    try:
        return path.read_bytes()
    except OSError as error:
        problem = error_at(where=str(path), what=f"It cannot be read: {error.strerror}.", mend="Check the path.")
        raise StudyError([problem]) from None


def _check(options: argparse.Namespace) -> int:
    problems = check_study(_load(options.study))
    for problem in problems:
        print(problem)
    if not problems:
        print("Nothing is wrong or doubtful.")
    return FAILED if any(problem.level is Severity.ERROR for problem in problems) else 0


def _findings(options: argparse.Namespace) -> int:
    study = _as_asked(options)
    results = simulate(study, threads=options.threads)
    for told in sentences(study, results):
        print(told)
    print(what_it_rests_on(study, results))
    return 0


def _as_asked(options: argparse.Namespace) -> StudyDocument:
    """Return the study with the settings and in the scenario that the command line asks for."""
    study = _with_settings(_load(options.study), options)
    return study if options.scenario is None else apply_scenario(study, options.scenario)


def _run(options: argparse.Namespace) -> int:
    study = _as_asked(options)
    results = simulate(study, threads=options.threads)
    for doubt in doubts(study, results):
        print(doubt, file=sys.stderr)
    if options.out is not None and options.out.suffix in (".csv", ".xlsx"):
        return _write_tables(run_tables(study, results), options.out)
    if options.out is not None and options.out.suffix == ".bpsim":
        _save(options.out, written_results(study, results))
        return 0
    return _write(run_report(study, results), options.out)


def _import(options: argparse.Namespace) -> int:
    read = read_process(_read(options.process), options.process.name)
    for missing in read.missing:
        print(
            f"missing: {missing.element}: {missing.name}: {missing.asks} {missing.assumed} is taken.", file=sys.stderr
        )
    _tell_not_kept(read.not_kept)
    return _write(written(read.study), options.out)


def _export(options: argparse.Namespace) -> int:
    process = write_process(_load(options.study))
    _tell_not_kept(process.not_kept)
    _save(options.out, process.content)
    return 0


def _tell_not_kept(notes: Sequence[NotKept]) -> None:
    for note in notes:
        print(f"not kept: {note.element}: {note.name}: {note.what} {note.instead}", file=sys.stderr)


def _write_tables(tables: Sequence[tuple[str, Sequence[str], Rows]], out: Path) -> int:
    """Write all tables to a workbook, or the first as CSV."""
    _, head, rows = tables[0]
    _save(out, written_xlsx(tables) if out.suffix == ".xlsx" else written_csv(head, rows).encode("utf-8-sig"))
    return 0


def _save(out: Path, content: bytes) -> None:
    try:
        out.write_bytes(content)
    except OSError as error:
        problem = error_at(where="--out", what=f"It cannot be written: {error.strerror}.", mend="Check the path.")
        raise StudyError([problem]) from None


def _with_settings(study: StudyDocument, options: argparse.Namespace) -> StudyDocument:
    """Return the study with the run settings that the command line overrides."""
    if options.threads < 1:
        raise StudyError([error_at(where="--threads", what="No thread, no run.", mend="Give 1 or more.")])
    names = ("replications", "seed", "length", "warm_up")
    given = {name: getattr(options, name) for name in names if getattr(options, name) is not None}
    document = study.run.model_dump() | given
    try:
        return study.model_copy(update={"run": RunSettings.model_validate(document)})
    except ValidationError as error:
        found = [problem_of(entry, document) for entry in error.errors()]
        named = [each.model_copy(update={"where": f"--{each.where.replace('_', '-')}"}) for each in found]
        raise StudyError(named) from None


def _compare(options: argparse.Namespace) -> int:
    study = _with_settings(_load(options.study), options)
    chosen = options.scenario or [each.id for each in study.scenarios]
    if not chosen:
        raise StudyError([error_at("scenarios", "There is none to compare with.", "Add a scenario to the study.")])
    changed = {scenario: apply_scenario(study, scenario) for scenario in chosen}
    baseline = simulate(study, threads=options.threads)
    addresses = options.figure or [*MEASURES, *(target.figure for target in study.targets)]
    unknown = [address for address in addresses if address not in baseline.values]
    if unknown:
        raise StudyError([error_at("--figure", f"There is no figure {unknown[0]}.", "“run” writes all there are.")])
    runs = {scenario: simulate(each, threads=options.threads) for scenario, each in changed.items()}
    for scenario, address in product(runs, addresses):
        if address not in runs[scenario].values:
            raise StudyError([error_at("--figure", f"{scenario} has no {address}.", "Leave the figure out.")])
    report = comparison_report(study, baseline, runs, dict.fromkeys(addresses))
    return _write(report, options.out)


def _size(options: argparse.Namespace) -> int:
    if options.threads < 1:
        raise StudyError([error_at(where="--threads", what="No thread, no run.", mend="Give 1 or more.")])
    study = _load(options.study)
    if options.seed is not None:
        searches = [each.model_copy(update={"seed": options.seed}) for each in study.sizing]
        study = study.model_copy(update={"sizing": searches})
    found = size(study, options.sizing, options.threads, told=lambda progress: print(progress, file=sys.stderr))
    for sentence in found.says:
        print(as_text(sentence), file=sys.stderr)
    return _write(found.model_dump(mode="json"), options.out)


def _write(report: dict[str, Any], out: Path | None) -> int:
    text = json.dumps(report, indent=1, allow_nan=False)
    if out is None:
        print(text)
        return 0
    _save(out, f"{text}\n".encode())
    return 0


def _log(options: argparse.Namespace) -> int:
    if options.out.suffix not in (".csv", ".xes"):
        raise StudyError([error_at(where="--out", what="It is neither .csv nor .xes.", mend="Name such a file.")])
    if options.replications < 1:
        raise StudyError([error_at(where="--replications", what="It is below 1.", mend="Ask for one or more.")])
    study = apply_scenario(_load(options.study), options.scenario or BASELINE)
    begin, end = _between(options)
    numbers = range(options.replication, options.replication + options.replications)
    logs = ((number, event_log(study, number, begin=begin, end=end)) for number in numbers)
    try:
        if options.out.suffix == ".csv":
            write_csv(study, logs, options.out, options.scenario or "")
        else:
            write_xes(study, logs, options.out, options.scenario or "")
    except OSError as error:
        problem = error_at(where="--out", what=f"It cannot be written: {error.strerror}.", mend="Check the path.")
        raise StudyError([problem]) from None
    return 0


def _between(options: argparse.Namespace) -> tuple[float, float]:
    end = float("inf") if options.end is None else _time(options.end, "--to")
    return _time(options.begin, "--from"), end


def _time(text: str, where: str) -> float:
    try:
        return minutes(text)
    except PydanticCustomError as error:
        context = error.context or {}
        raise StudyError([error_at(where=where, what=context["what"], mend=context["mend"])]) from None


def _logbook(options: argparse.Namespace) -> int:
    study = _load(options.study)
    begin, end = _between(options)
    for line in written_lines(study, options.replication, begin, end, options.case):
        print(line)
    return 0


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
    print(json.dumps(StudyDocument.model_json_schema(), indent=2))
    return 0


def _figures(_options: argparse.Namespace) -> int:
    print(page(), end="")
    return 0
