"""No key of the document is without meaning: each is read on the way from a study to its figures.

Studies that have every key between them are compiled, and some run; what is asked of their parts meanwhile is noted.
"""

import inspect
import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from flowcore.checks import check_study
from flowcore.reports.observed import held_against
from flowcore.reports.run import run_report
from flowcore.simulate import Replicator, simulate
from flowcore.sizing.rosters import RosterSearch
from flowcore.study import read_study
from flowcore.study.base import Part
from flowcore.study.scenarios import apply_scenario
from tests.browser.everything import everything
from tests.oracle.studies import study

STUDIES = 60
FOR_READERS = {"name", "about", "colour", "currency", "format", "dist"}
"""Said to people, or to whoever reads the document, and no part of what is simulated."""
READ_ELSEWHERE = {
    "Target": "held against a run's figures where they are shown",
    "board": "which figures the analyst sees first, where they are shown",
    "PatchStep": "applied as it stands, as a JSON Patch",
    "Source": "where a value was taken from, shown beside it",
    "drawing": "the drawing from elsewhere, in which the study goes out again",
    "Drawing": "the drawing from elsewhere, in which the study goes out again",
    "Lever": "what a lever may be set to is offered and checked where scenarios are made",
}
RARE = {
    "name": "Rare keys",
    "start": "2027-03-01T08:00",
    "calendars": [
        {"id": "feast", "name": "Feast", "open": [{"date": "2027-03-01", "from": "09:00", "to": "12:00"}]}
    ],
    "streams": [{"id": "in", "name": "In", "kind": "random", "gap": "5 min", "open": "feast", "to": "desk"}],
    "steps": [
        {"id": "desk", "name": "Desk", "kind": "serve", "work": "2 min", "place": "a", "next": [{"to": "yard"}]},
        {
            "id": "yard", "name": "Yard", "kind": "delay", "time": "2 min", "place": "b",
            "next": [{"to": "out", "travel": "walk"}],
        },
        {"id": "out", "name": "Out", "kind": "exit"},
    ],
    "site": {
        "places": [{"id": "a", "name": "A", "x": 0, "y": 0}, {"id": "b", "name": "B", "x": 9, "y": 0}],
        "pairs": [{"from": "a", "to": "b", "metres": 20}],
    },
    "run": {
        "length": "1 d", "precision": {"figure": "type/all/total/mean", "within": 0.5, "at_most": 4}, "replications": 2,
    },
}  # fmt: skip


SHIFTS = {
    "lengths": ["4 h"], "from": "08:00", "to": "10:00", "every": "60 min", "days": ["mon"],
    "breaks": [{"name": "Tea", "length": "15 min", "from": "2 h", "to": "3 h", "paid": False}],
}  # fmt: skip
SIZED = {
    "name": "To be sized",
    "streams": [{"id": "in", "name": "In", "kind": "random", "gap": "5 min", "to": "desk"}],
    "steps": [
        {
            "id": "desk", "name": "Desk", "kind": "serve", "work": "2 min",
            "needs": [{"team": "clerks"}, {"team": "rooms"}], "next": [{"to": "out"}],
        },
        {"id": "out", "name": "Out", "kind": "exit"},
    ],
    "teams": [{"id": "clerks", "name": "Clerks"}, {"id": "rooms", "name": "Rooms", "kind": "places", "size": 2}],
    "sizing": [
        {
            "id": "all", "name": "All", "seed": 3, "targets": [{"figure": "step/desk/wait/mean", "at_most": "5 min"}],
            "teams": [
                {
                    "team": "clerks", "people": {"low": 1, "high": 4}, "days": 2, "in_a_row": 2, "off_together": True,
                    "hours": "40 h", "rest": "11 h",
                    "shifts": [SHIFTS, {"lengths": ["2 h"], "starts": ["12:00"]}],
                    "kinds": [{"name": "Mornings", "people": 1, "days": 1, "hours": "10 h", "shifts": [SHIFTS]}],
                    "fixed": [{"days": ["mon"], "from": "08:00", "to": "12:00", "people": 1}],
                },
                {"team": "rooms", "people": {"high": 3}, "cost": 20},
            ],
        },
        {"id": "levers", "name": "Levers", "levers": []},
    ],
}  # fmt: skip


def subclasses(kind: type[Part]) -> Iterator[type[Part]]:
    for each in kind.__subclasses__():
        yield each
        yield from subclasses(each)


def plain_name(kind: type[Part]) -> str:
    """Return the name of a part without what it is of: a shape of times is the same shape as one of numbers."""
    return kind.__name__.partition("[")[0]


def all_keys() -> set[tuple[str, str]]:
    """Return every key of every part that a document can have."""
    kinds = [each for each in subclasses(Part) if not (each.__name__.startswith("_") or inspect.isabstract(each))]
    return {(plain_name(each), name) for each in kinds for name in each.model_fields}


@pytest.fixture
def read(monkeypatch: pytest.MonkeyPatch) -> set[tuple[str, str]]:
    """Return the keys that are read from now on, with the part that each is read of."""
    keys: set[tuple[str, str]] = set()
    ask = Part.__getattribute__

    def note(part: Part, name: str) -> Any:
        if name in type(part).model_fields:
            keys.add((plain_name(type(part)), name))
        return ask(part, name)

    monkeypatch.setattr(Part, "__getattribute__", note)
    return keys


def test_every_key_is_read(read: set[tuple[str, str]]) -> None:
    demos = [json.loads(path.read_text()) for path in (Path(__file__).parents[2] / "demo").glob("*.json")]
    for document in [everything(), *demos, *(study(seed) for seed in range(STUDIES))]:
        Replicator(read_study(document))
    whole = read_study({**everything(), "run": {"length": "1 d", "warm_up": "1 h", "replications": 2}})
    run_report(whole, simulate(whole))
    simulate(read_study(RARE))
    sized = read_study(SIZED)
    check_study(sized)
    search = RosterSearch(sized, sized.sizing[0])
    search.covering.solve({("clerks",): search.pools[0].load, ("rooms",): search.pools[1].load})
    for document in demos:
        found = read_study(document)
        held_against(found, {})
        for scenario in found.scenarios:
            apply_scenario(found, scenario.id)
    unread = {
        f"{part}.{name}" for part, name in all_keys() - read if not {part, name} & {*FOR_READERS, *READ_ELSEWHERE}
    }
    assert unread == set()
