"""One study from one drawing and one scenario: its parts, put together as a document."""

from typing import Any

from flowcore.exchange.bpmn.draft.draft import short
from flowcore.exchange.bpmn.draft.messages import Messages
from flowcore.exchange.bpmn.draft.reading import Reading
from flowcore.exchange.bpmn.file.drawn import Drawn
from flowcore.exchange.bpmn.file.parameters import Assumed
from flowcore.exchange.bpmn.flow.flow import make_flow
from flowcore.exchange.bpmn.parts.calendars import name_our_parts
from flowcore.exchange.bpmn.parts.properties import make_traits
from flowcore.exchange.bpmn.parts.settings import currency_of, run_of, start_of
from flowcore.exchange.bpmn.parts.teams import make_teams
from flowcore.exchange.notes import Notes

MOST_LETTERS = 4000


def made(drawn: Drawn, scenario: Assumed, notes: Notes) -> Reading:
    """Return what is made of a drawing by one scenario."""
    reading = Reading(drawn, scenario, notes, Messages(drawn))
    reading.begin = start_of(reading)
    if drawn.is_ours:
        name_our_parts(reading)
    make_traits(reading)
    make_teams(reading)
    make_flow(reading)
    return reading


def document_of(reading: Reading, file: str) -> dict[str, Any]:
    """Return the study that was made of a drawing, as a document, called by its file where it has no name."""
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
