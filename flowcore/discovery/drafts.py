"""A study drafted from a log: the flow that was discovered, with all values that the log gives."""

from collections import Counter
from itertools import combinations, takewhile
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from flowcore.calibration.found import LogFound
from flowcore.calibration.proposals import proposals_for, take
from flowcore.calibration.proposals.matching import Matching
from flowcore.discovery.flow import Discovered, discovered, short_name, type_ids
from flowcore.logs.looks import waits_of
from flowcore.logs.visits import Visits
from flowcore.study import read_study
from flowcore.study.document import written
from flowcore.study.ids import id_for

SELDOM = 0.02
"""Who does less than this share of a step's work only helps out there."""
SAME_PEOPLE = 0.5
OVERNIGHT = 300.0
HARDLY = 0.001
COLOURS = 8
MOST_TYPES = 100
PARTS = ("case_types", "streams", "steps", "teams")


class Draft(BaseModel):
    """Parts of a study, as its document has them, that a log gives.

    `covers` is the share of cases that go the ways of the flow and no others; `alone` are the steps at which the log
    names nobody.
    """

    case_types: list[Any]
    streams: list[Any]
    steps: list[Any]
    teams: list[Any]
    sources: dict[str, Any]
    covers: float
    alone: list[str]


def drafted(visits: Visits, found: LogFound, wanted: float, file: str, rows: int, date: str) -> Draft:
    """Return the simplest flow that covers a share of cases, with types, arrivals, teams and durations of the log.

    Raises ValueError where no case has gone all of its way, or where there are too many steps or types.
    """
    if len(visits.types) > MOST_TYPES:
        raise ValueError(f"there are {len(visits.types):,} types, of which a study has {MOST_TYPES} at most")
    flow = discovered(visits, wanted)
    types = [
        {"id": id_, "name": short_name(name), "colour": 1 + n % COLOURS} for n, (id_, name) in enumerate(_types(visits))
    ]
    document = {"name": file, "case_types": types, "streams": _streams(flow, visits, found), "steps": flow.steps}
    document["teams"] = [team | _closing(visits) for team in _staffed(flow, visits)]
    names = Matching(
        steps={name: id_ for id_, name in flow.names.items()}, types={name: id_ for id_, name in _types(visits)}
    )
    study = read_study(document)
    whole = study.model_dump(mode="json")
    take(whole, proposals_for(study, found, names).proposals, file, rows, date)
    filled = written(read_study(whole))
    parts = {part: filled.get(part, []) for part in PARTS} | {"sources": filled.get("sources", {})}
    alone = [step["name"] for step in flow.steps if step["kind"] == "serve" and "needs" not in step]
    return Draft(**parts, covers=flow.covers, alone=alone)


def _types(visits: Visits) -> list[tuple[str, str]]:
    return list(zip(type_ids(visits), visits.types, strict=True))


def _streams(flow: Discovered, visits: Visits, found: LogFound) -> list[dict[str, Any]]:
    """Return the streams of a drafted study, of those who are booked and of others; when they come is taken over."""
    booked = next((each for each in found.booked if each.type is None and each.sessions), None)
    has_plan = ~np.isnan(visits.planned) if booked is not None else np.zeros(len(visits.planned), np.bool_)
    streams: list[dict[str, Any]] = []
    if not has_plan.all():
        bare = {"id": "arrivals", "name": "Arrivals", "kind": "profile", "interval": "30 min", "week": {}}
        streams.append({**bare, "to": flow.first, "mix": _mix(visits, ~has_plan)})
    if booked is not None:
        slots = {"id": "booked", "name": "Booked", "kind": "appointments", "sessions": booked.sessions}
        streams.append({**slots, "to": flow.first, "mix": _mix(visits, has_plan)})
    return streams


def _mix(visits: Visits, which: NDArray[np.bool_]) -> list[dict[str, Any]]:
    """Return the share of each type among some cases, of all types alike where none of them says which it is."""
    known = visits.type[which & (visits.type >= 0)]
    counts = np.bincount(known, minlength=len(visits.types)) if len(known) else np.ones(len(visits.types))
    shares = zip(type_ids(visits), counts.tolist(), strict=True)
    return [{"type": id_, "share": many / counts.sum()} for id_, many in shares if many]


def _staffed(flow: Discovered, visits: Visits) -> list[dict[str, Any]]:
    """Return teams of those who work at the same steps, and let the steps ask for them."""
    people = {step["id"]: _people_at(visits, flow.names[step["id"]]) for step in flow.steps if step["id"] in flow.names}
    teams, taken = [], set[str]()
    for group in _groups({id_: who for id_, who in people.items() if who}):
        members = Counter[str]()
        for id_ in group:
            members.update(people[id_])
        name = _team_name([*members], next(step["name"] for step in flow.steps if step["id"] == group[0]))
        team = id_for(name, taken, "team")
        teams.append({"id": team, "name": short_name(name), "size": len(members)})
        for step in flow.steps:
            if step["id"] in group:
                step["needs"] = [{"team": team}]
    return teams


def _closing(visits: Visits) -> dict[str, Any]:
    """Return what members do when their shift is over: they stay until all are served where nobody waits overnight."""
    waits = waits_of(visits)
    overnight = (waits[waits >= 0] > OVERNIGHT).mean() if (waits >= 0).any() else 1.0
    return {"closing": {"stay": "empty", "at_most": "2 h"}} if overnight < HARDLY else {}


def _people_at(visits: Visits, step: str) -> Counter[str]:
    """Return who works at a step, and how often, but for those who only help out."""
    here = visits.who[(visits.step == visits.steps.index(step)) & (visits.who >= 0)]
    counts = np.bincount(here, minlength=len(visits.people)).tolist()
    least = SELDOM * len(here)
    return Counter({visits.people[n]: many for n, many in enumerate(counts) if many > least})


def _groups(people: dict[str, Counter[str]]) -> list[list[str]]:
    """Return the steps in groups that have mostly the same people, those with the most work first."""
    group = {step: step for step in people}
    for one, other in combinations(people, 2):
        both = len(people[one].keys() & people[other].keys())
        if both >= SAME_PEOPLE * max(len(people[one]), len(people[other])) and group[one] != group[other]:
            old, new = group[other], group[one]
            group = {step: new if name == old else name for step, name in group.items()}
    found: dict[str, list[str]] = {}
    for step in sorted(people, key=lambda each: -people[each].total()):
        found.setdefault(group[step], []).append(step)
    return list(found.values())


def _team_name(people: list[str], step: str) -> str:
    """Return what the names of all have in common, else where they work most."""
    alike = "".join(letters[0] for letters in takewhile(lambda each: len(set(each)) == 1, zip(*people, strict=False)))
    common = alike.rstrip("0123456789 -_#.")
    return common if len(people) > 1 and len(common) > 2 else f"{step} team"
