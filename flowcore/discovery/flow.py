"""A flow discovered from a log, as steps of a document: with forks and joins, and shares of where cases go next."""

from collections import Counter, defaultdict
from typing import Any

import numpy as np
from pydantic import BaseModel

from flowcore.calibration.shares import DIGITS, differ, whole_shares
from flowcore.discovery.graph import Trace
from flowcore.discovery.tree import tree_of
from flowcore.discovery.walk import END, FIRST_FORK, START, Walked
from flowcore.logs.visits import Outcome, Visits
from flowcore.study.ids import id_for

NOISES = (0.5, 0.4, 0.3, 0.2, 0.15, 0.1, 0.05, 0.02, 0.01, 0.0)
"""What is so much rarer than what else goes on is left out: the simplest flow is tried first."""
MOST_STEPS = 200
END_ID = "leaves"
LONGEST_NAME = 120
Named = dict[int, str]


class Discovered(BaseModel):
    """A flow as `steps` of a document, all served by nobody within a minute until that is known.

    Cases begin at the step with the id `first`. `covers` is the share of cases that go its ways and no others, `noise`
    how much rarer than what else goes on from a step something is that was left out. `names` are those of the log by
    the ids of steps.
    """

    steps: list[dict[str, Any]]
    first: str
    covers: float
    noise: float
    names: dict[str, str]


def discovered(visits: Visits, wanted: float = 0.9) -> Discovered:
    """Return the simplest flow that covers so large a share of cases, or the one that covers most.

    Cases that gave up or were turned away have not gone all of their way and do not count. Raises ValueError where no
    case is left, or where there are too many steps.
    """
    ways = ways_by_type(visits)
    if not ways:
        raise ValueError("no case has gone all of its way")
    if len(visits.steps) > MOST_STEPS:
        raise ValueError(f"there are {len(visits.steps):,} steps, of which {MOST_STEPS} at most make a map")
    best: tuple[float, Walked, float] | None = None
    for noise in NOISES:
        walked = _walked(ways, noise)
        covers = walked.fitting / walked.cases
        if best is None or covers > best[0]:
            best = (covers, walked, noise)
        if covers >= wanted:
            break
    assert best is not None
    return _written(best[1], visits, best[0], best[2])


def short_name(name: str) -> str:
    """Return a name of a log as a document can have it."""
    return name[:LONGEST_NAME].strip() or "Unnamed"


def type_ids(visits: Visits) -> list[str]:
    """Return the ids that the types of a log have in a document made of it."""
    taken: set[str] = set()
    return [id_for(name, taken, "type") for name in visits.types]


def ways_by_type(visits: Visits) -> Counter[tuple[Trace, int]]:
    """Return how many cases of each type (-1 without one) have gone each way to its end."""
    broke_off = np.zeros(len(visits.cases), np.bool_)
    broke_off[visits.case[visits.outcome != Outcome.SERVED]] = True
    kept = visits.only(~broke_off[visits.case])
    begins = [*np.flatnonzero(kept.is_first_of_case).tolist(), len(kept)]
    steps, types, cases = kept.step.tolist(), visits.type.tolist(), kept.case
    found: Counter[tuple[Trace, int]] = Counter()
    for n in range(len(begins) - 1):
        begin, end = begins[n], begins[n + 1]
        found[tuple(steps[begin:end]), types[cases[begin]]] += 1
    return found


def _walked(ways: Counter[tuple[Trace, int]], noise: float) -> Walked:
    traces: Counter[Trace] = Counter()
    for (trace, _), many in ways.items():
        traces[trace] += many
    walked = Walked(tree_of(traces, noise))
    for (trace, type_), many in ways.items():
        walked.walk(trace, type_, many)
    return walked


def _written(walked: Walked, visits: Visits, covers: float, noise: float) -> Discovered:
    places = {place for edge in walked.edges for place in edge} - {START, END}
    ids = _ids(walked, visits, places)
    writer = _Writer(walked, ids, visits)
    first = writer.way_to(START, "Which way?")
    steps = [step for place in sorted(places, key=lambda each: (each < 0, abs(each))) for step in writer.step(place)]
    steps = [*writer.choices, *steps, {"id": ids[END], "name": "Leaves", "kind": "exit"}]
    names = {ids[place]: visits.steps[place] for place in places if place >= 0}
    return Discovered(steps=steps, first=first, covers=covers, noise=noise, names=names)


def _ids(walked: Walked, visits: Visits, places: set[int]) -> Named:
    ids: Named = {}
    taken = {END_ID}
    for place in sorted(places, reverse=True):
        number = f" {(FIRST_FORK - place) // 2 + 1}" if place < 0 else ""
        name = visits.steps[place] if place >= 0 else ("join" if place % 2 else "fork") + number
        ids[place] = id_for(name, taken, "step")
    return ids | {END: END_ID}


class _Writer:
    """Writes the steps of a flow that has been walked."""

    def __init__(self, walked: Walked, ids: Named, visits: Visits) -> None:
        self._walked, self._ids, self._visits = walked, ids, visits
        self._types = type_ids(visits)
        self._taken = set(ids.values())
        self.choices: list[dict[str, Any]] = []
        self._out: dict[int, dict[int, Counter[int]]] = defaultdict(lambda: defaultdict(Counter))
        for (one, other, type_), many in walked.gone.items():
            self._out[one][other][type_] += many

    def step(self, place: int) -> list[dict[str, Any]]:
        """Return the step at a place, and a choice that it needs."""
        if place >= 0:
            name, work = short_name(self._visits.steps[place]), {"work": "1 min"}
            return [{"id": self._ids[place], "name": name, "kind": "serve", **work, "next": self._next(place)}]
        name = self._ids[place].replace("-", " ").capitalize()
        if place % 2:
            return [{"id": self._ids[place], "name": name, "kind": "join", "next": self._next(place)}]
        return [
            {
                "id": self._ids[place],
                "name": name,
                "kind": "fork",
                "join": self._ids[place - 1],
                "next": self._branches(place),
            }
        ]

    def way_to(self, place: int, name: str) -> str:
        """Return the id of the one step that follows a place, which is a choice where there are several."""
        onward = self._out[place]
        if len(onward) == 1:
            return self._ids[next(iter(onward))]
        return self._choice(name, onward)

    def _choice(self, name: str, onward: dict[int, Counter[int]]) -> str:
        id_ = id_for(f"choice {len(self.choices) + 1}", self._taken, "choice")
        self.choices.append({"id": id_, "name": name, "kind": "choose", "next": self._shares(onward)})
        return id_

    def _branches(self, place: int) -> list[dict[str, Any]]:
        """Return where each branch of a fork begins, with the chance that it is gone where that is not always."""
        node = self._walked.forks[(FIRST_FORK - place) // 2]
        found = []
        for part in node.cut.parts if node.cut else ():
            onward = {to: counts for to, counts in self._out[place].items() if to in part or self._is_within(to, part)}
            if not onward:
                continue
            many = sum(counts.total() for counts in onward.values())
            chance = round(many / self._walked.passed[place], DIGITS)
            to = self._ids[next(iter(onward))] if len(onward) == 1 else self._choice("Which of these?", onward)
            found.append({"to": to} | ({"chance": chance} if chance < 1 else {}))
        return found

    def _is_within(self, place: int, part: frozenset[int]) -> bool:
        """Say whether a fork within a branch is meant."""
        if place >= 0:
            return False
        cut = self._walked.forks[(FIRST_FORK - place) // 2].cut
        return cut is not None and all(inner <= part for inner in cut.parts)

    def _next(self, place: int) -> list[dict[str, Any]]:
        onward = self._out[place]
        return self._shares(onward) if onward else [{"to": self._ids[END]}]

    def _shares(self, onward: dict[int, Counter[int]]) -> list[dict[str, Any]]:
        if len(onward) == 1:
            return [{"to": self._ids[next(iter(onward))]}]
        places = sorted(onward, key=lambda to: -onward[to].total())
        counts = [onward[to] for to in places]
        if not self._differ(counts):
            shares = whole_shares([each.total() for each in counts])
            return [{"to": self._ids[to], "share": share} for to, share in zip(places, shares, strict=True)]
        of_type = {id_: self._shares_of(counts, number) for number, id_ in enumerate(self._types)}
        return [
            {"to": self._ids[to], "share_by_type": {id_: shares[n] for id_, shares in of_type.items()}}
            for n, to in enumerate(places)
        ]

    def _shares_of(self, counts: list[Counter[int]], type_: int) -> list[float]:
        """Return the shares of a type; one that never came here goes as all do."""
        own = [each[type_] for each in counts]
        return whole_shares(own if sum(own) else [each.total() for each in counts])

    def _differ(self, counts: list[Counter[int]]) -> bool:
        """Say whether types go different ways more than by chance."""
        types = sorted({type_ for each in counts for type_ in each})
        return -1 not in types and differ([[each[type_] for each in counts] for type_ in types])
