"""What happened in one replication, made on demand by running it again: event log, journey, logbook."""

import csv
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta
from io import StringIO
from pathlib import Path
from typing import Literal
from xml.etree import ElementTree

from flowcore.kernel.records import kinds as k
from flowcore.kernel.records.world import World
from flowcore.simulate import Replicator
from flowcore.study import StudyDocument
from flowcore.study.teams import Team

EVENTS: dict[int, str] = {
    k.Note.ARRIVED: "arrived",
    k.Note.CAME: "came",
    k.Note.JOINED_LINE: "joined the line",
    k.Note.BEGAN: "work began",
    k.Note.PAUSED_WORK: "work paused",
    k.Note.RESUMED: "work resumed",
    k.Note.HANDED_BACK: "handed back",
    k.Note.ENDED_WORK: "went on",
    k.Note.WAS_BLOCKED: "blocked",
    k.Note.GAVE_UP: "gave up",
    k.Note.BALKED: "balked",
    k.Note.TURNED_AWAY: "turned away",
    k.Note.SET_OUT: "set out",
    k.Note.WAS_HELD: "held",
    k.Note.GATHERED: "gathered",
    k.Note.DIVERTED: "diverted",
    k.Note.SENT: "errand sent",
    k.Note.DEPARTED: "left",
    k.Note.SHIFT_BEGAN: "shift began",
    k.Note.SHIFT_ENDED: "shift ended",
    k.Note.BREAK_BEGAN: "break began",
    k.Note.CAME_BACK: "came back",
    k.Note.WAS_INTERRUPTED: "interrupted",
    k.Note.MISSED_SHIFT: "absent",
}
_TRANSITIONS: dict[int, str] = {
    k.Note.JOINED_LINE: "schedule",
    k.Note.BEGAN: "start",
    k.Note.PAUSED_WORK: "suspend",
    k.Note.RESUMED: "resume",
    k.Note.ENDED_WORK: "complete",
    k.Note.GAVE_UP: "ate_abort",
    k.Note.TURNED_AWAY: "ate_abort",
    k.Note.DEPARTED: "complete",
}
COLUMNS = ("time", "minute", "case", "type", "step", "event", "member", "scenario", "replication")


@dataclass(frozen=True)
class Entry:
    """One line of a log: who (a case by its number, or a member), where and what; empty where there is none."""

    time: datetime
    minute: float
    case: int
    type: str
    step: str
    event: str
    member: str
    kind: int


Replications = Iterable[tuple[int, list[Entry]]]
"""What happened in some replications, each by its number from 0; one after the other, so that not all are in memory."""


def event_log(
    study: StudyDocument, number: int, *, case: int | None = None, begin: float = 0.0, end: float = float("inf")
) -> list[Entry]:
    """Return what happened in a replication: to all or to one case, between two times in minutes.

    Raises StudyError where a health check finds an error.
    """
    world = Replicator(study).trace(number, case=case or 0, begin=begin, end=end)
    return list(_entries(study, world))


def journey(study: StudyDocument, number: int, case: int) -> list[Entry]:
    """Return one case's own history; empty where the replication has no such case."""
    return event_log(study, number, case=case)


def _entries(study: StudyDocument, world: World) -> Iterator[Entry]:
    start = datetime.fromisoformat(study.start)
    notes = world.notes[: world.clock[0].notes]
    at, case, type_, step, kind, member = (
        notes[name].tolist() for name in ("at", "case", "type", "step", "kind", "member")
    )
    names = {number: member_name(study, world, number) for number in set(member)}
    for n, minute in enumerate(at):
        yield Entry(
            time=start + timedelta(minutes=minute),
            minute=minute,
            case=case[n],
            type=study.case_types[type_[n]].name if type_[n] >= 0 and study.case_types else "",
            step=study.steps[step[n]].name if step[n] >= 0 else "",
            event=EVENTS[kind[n]],
            member=names[member[n]],
            kind=kind[n],
        )


def member_name(study: StudyDocument, world: World, member: int) -> str:
    """Return what a member is called: its team, and its number in it; nothing of a place."""
    if member < 0:
        return ""
    team = int(world.members[member].team)
    if team >= len(study.teams):
        return ""
    return member_named(study.teams[team], member - int(world.plan.teams[team].first_member) + 1)


def member_named(team: Team, number: int) -> str:
    """Return what a member is called by its team and its number in it, from 1."""
    return f"{team.name} {number}"


class LogWriter:
    """Writes the logs of replications one after the other: a head, a piece for each, and an end."""

    def __init__(self, study: StudyDocument, kind: Literal["csv", "xes"]) -> None:
        self._study, self._kind = study, kind

    @property
    def head(self) -> str:
        """What stands before all replications."""
        return f"{','.join(COLUMNS)}\r\n" if self._kind == "csv" else _xes_head(self._study)

    @property
    def end(self) -> str:
        """What stands after all replications."""
        return "" if self._kind == "csv" else "</log>\n"

    def piece(self, number: int, entries: list[Entry], scenario: str = "") -> str:
        """Return what happened in a replication, by its number from 0: a line an event, or a trace a case."""
        if self._kind == "csv":
            return _csv_lines(number, entries, scenario)
        traces = list(_traces(entries, number, scenario))
        for trace in traces:
            ElementTree.indent(trace)
        return "".join(ElementTree.tostring(trace, encoding="unicode") + "\n" for trace in traces)


def write_csv(study: StudyDocument, replications: Replications, path: Path, scenario: str = "") -> None:
    """Write the logs of replications, each by its number from 0, as CSV: a line an event."""
    _write(LogWriter(study, "csv"), replications, path, scenario)


def write_xes(study: StudyDocument, replications: Replications, path: Path, scenario: str = "") -> None:
    """Write the logs of replications, each by its number from 0, as XES (IEEE 1849-2016).

    A trace is a case of a replication, an event every change of a step's work.
    """
    _write(LogWriter(study, "xes"), replications, path, scenario)


def _write(writer: LogWriter, replications: Replications, path: Path, scenario: str) -> None:
    with path.open("w", newline="", encoding="utf-8") as file:
        file.write(writer.head)
        for number, entries in replications:
            file.write(writer.piece(number, entries, scenario))
        file.write(writer.end)


def _csv_lines(number: int, entries: list[Entry], scenario: str) -> str:
    text = StringIO()
    writer = csv.writer(text)
    for each in entries:
        names = map(_no_formula, (each.type, each.step, each.event, each.member, scenario))
        writer.writerow([each.time.isoformat(), f"{each.minute:.6f}", each.case or "", *names, number + 1])
    return text.getvalue()


def _no_formula(name: str) -> str:
    """Return a name so that no spreadsheet takes it for a formula."""
    return f"'{name}" if name.startswith(("=", "+", "-", "@", "\t", "\r")) else name


def _xes_head(study: StudyDocument) -> str:
    log = ElementTree.Element("log", {"xes.version": "1849.2016", "xes.features": ""})
    for name, prefix in (
        ("Concept", "concept"),
        ("Lifecycle", "lifecycle"),
        ("Time", "time"),
        ("Organizational", "org"),
    ):
        uri = f"http://www.xes-standard.org/{prefix}.xesext"
        ElementTree.SubElement(log, "extension", {"name": name, "prefix": prefix, "uri": uri})
    _attribute(log, "string", "concept:name", study.name)
    head = ElementTree.tostring(log, encoding="unicode").removesuffix("</log>")
    return f"<?xml version='1.0' encoding='utf-8'?>\n{head}\n"


def _traces(entries: list[Entry], number: int, scenario: str) -> Iterable[ElementTree.Element]:
    """Return the cases of a replication as traces."""
    traces: dict[int, ElementTree.Element] = {}
    for each in entries:
        if each.kind not in _TRANSITIONS or not each.case:
            continue
        if each.case not in traces:
            traces[each.case] = ElementTree.Element("trace")
            _attribute(traces[each.case], "string", "concept:name", str(each.case))
            if each.type:
                _attribute(traces[each.case], "string", "type", each.type)
            if scenario:
                _attribute(traces[each.case], "string", "scenario", scenario)
            _attribute(traces[each.case], "int", "replication", str(number + 1))
        event = ElementTree.SubElement(traces[each.case], "event")
        _attribute(event, "string", "concept:name", each.step)
        _attribute(event, "string", "lifecycle:transition", _TRANSITIONS[each.kind])
        _attribute(event, "date", "time:timestamp", each.time.isoformat(timespec="milliseconds"))
        if each.member:
            _attribute(event, "string", "org:resource", each.member)
    return traces.values()


def _attribute(parent: ElementTree.Element, kind: str, key: str, value: str) -> None:
    ElementTree.SubElement(parent, kind, {"key": key, "value": value})
