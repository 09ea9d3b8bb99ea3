"""A study from a BPMN file: what was found in it, what it does not say, and what of it cannot be kept."""

from collections.abc import Mapping
from typing import Any

from pydantic import BaseModel

from flowcore.exchange.bpmn.calendars import name_our_parts
from flowcore.exchange.bpmn.draft import short
from flowcore.exchange.bpmn.drawn import Drawn, what_is_drawn
from flowcore.exchange.bpmn.flow import make_flow
from flowcore.exchange.bpmn.messages import Messages
from flowcore.exchange.bpmn.names import EXPORTER, TASKS
from flowcore.exchange.bpmn.notes import Count, Missing, Notes, NotKept
from flowcore.exchange.bpmn.parameters import Assumed, scenarios_in
from flowcore.exchange.bpmn.parsing import read_xml
from flowcore.exchange.bpmn.properties import make_traits
from flowcore.exchange.bpmn.reading import Reading
from flowcore.exchange.bpmn.settings import currency_of, run_of, start_of
from flowcore.exchange.bpmn.teams import make_teams
from flowcore.exchange.bpmn.variants import scenarios_between
from flowcore.problems import StudyError, error_at
from flowcore.study import StudyDocument, read_study

MOST_LETTERS = 4000
MOST_NODES, MOST_SCENARIOS = 1000, 20
UNSAID = Assumed("", "", "")


class ProcessRead(BaseModel):
    """The study that a file becomes, with what is to be known before it is made."""

    study: StudyDocument
    found: list[Count]
    missing: list[Missing]
    not_kept: list[NotKept]


def read_process(content: bytes, file: str = "", answers: Mapping[str, Any] | None = None) -> ProcessRead:
    """Return what a BPMN file becomes, with answers (by their keys) to what it does not say.

    Raises StudyError where it is no BPMN, draws no process, or an answer does not fit.
    """
    root = read_xml(content)
    drawn = what_is_drawn(root, root.get("exporter") == EXPORTER)
    if not drawn.nodes:
        raise StudyError([error_at("file", "The file draws no process.", "Choose one that has tasks and events.")])
    if len(drawn.nodes) > MOST_NODES:
        what = f"The file draws {len(drawn.nodes):,} tasks, events and gateways."
        raise StudyError([error_at("file", what, f"Bring in at most {MOST_NODES:,} at once.")])
    scenarios = (scenarios_in(root) or [UNSAID])[:MOST_SCENARIOS]
    reading = _made(drawn, scenarios[0], Notes(answers or {}))
    document = _document(reading, file)
    quiet = Notes(answers or {})
    others = [(each, _document(_made(drawn, each, quiet), file)) for each in scenarios[1:]]
    document |= scenarios_between(document, others)
    _note_unknown(reading)
    study = read_study(document)
    found = [Count(what=what, count=count) for what, count in _counts(drawn, scenarios).items() if count]
    return ProcessRead(
        study=study, found=found, missing=list(reading.notes.missing.values()), not_kept=reading.notes.not_kept
    )


def _made(drawn: Drawn, scenario: Assumed, notes: Notes) -> Reading:
    reading = Reading(drawn, scenario, notes, Messages(drawn))
    reading.begin = start_of(reading)
    if drawn.is_ours:
        name_our_parts(reading)
    make_traits(reading)
    make_teams(reading)
    make_flow(reading)
    return reading


def _document(reading: Reading, file: str) -> dict[str, Any]:
    types = list(reading.case_types.values()) or [{"id": "cases", "name": "Cases"}]
    for stream in reading.draft.streams:
        stream.setdefault("mix", [{"type": types[0]["id"], "share": 1.0}])
    parts = {
        "calendars": list(reading.calendars.values()),
        "case_types": [kind | {"colour": number + 1} for number, kind in enumerate(types[:8])] + types[8:],
        "traits": list(reading.traits.values()),
        "streams": reading.draft.streams,
        "steps": reading.draft.steps(),
        "deadlines": reading.draft.deadlines,
        "spans": reading.draft.spans,
        "teams": list(reading.teams.values()),
        "skills": _skills(reading),
    }
    about = {"about": reading.drawn.about[:MOST_LETTERS]} if reading.drawn.about else {}
    head = about | {"name": _name(reading.drawn, file), "currency": currency_of(reading), "start": reading.begin}
    return head | {name: part for name, part in parts.items() if part} | {"run": run_of(reading)}


def _skills(reading: Reading) -> list[dict[str, str]]:
    skills = dict.fromkeys(skill for team in reading.teams.values() for skill in team.get("skills", []))
    return [{"id": skill, "name": skill.replace("-", " ").capitalize()} for skill in skills]


def _name(drawn: Drawn, file: str) -> str:
    named = (process.name for process in drawn.processes.values())
    plain = file.rsplit("/", 1)[-1].rsplit(".", 1)[0].replace("_", " ")
    return short(drawn.name or plain or next(filter(None, named), "") or "A process")


def _note_unknown(reading: Reading) -> None:
    for element, name, kind in reading.drawn.unknown:
        reading.notes.lose(element, name or element, f"A {kind} is none of the kinds that are read.", "It is left out.")


def _counts(drawn: Drawn, scenarios: list[Assumed]) -> dict[str, int]:
    nodes = drawn.nodes.values()
    return {
        "participants": len(drawn.processes),
        "lanes": len(drawn.lanes),
        "tasks": sum(node.tag in TASKS for node in nodes),
        "events": sum(node.tag.endswith("Event") for node in nodes),
        "gateways": sum(node.tag.endswith("Gateway") for node in nodes),
        "sub-processes": sum(node.tag.endswith(("Process", "transaction")) for node in nodes),
        "sequence flows": len(drawn.flows),
        "messages between participants": len(drawn.messages),
        "resources": len(drawn.resources),
        "scenarios with parameters": len([each for each in scenarios if each is not UNSAID]),
    }
