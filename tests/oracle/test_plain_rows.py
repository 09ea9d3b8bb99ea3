"""Both engines agree on busy rows of steps that ask for one of one team each, as most real ones do.

The kernel has a short way through such steps, and of those that come at once one may begin at the instant at which
others still have to look whom they serve; the studies of `tests.oracle.studies` have hardly any.
"""

import random
from collections.abc import Iterator
from typing import Any

import pytest

from flowcore.checks import errors_of
from flowcore.study import read_study
from tests.oracle.compare import difference
from tests.oracle.studies import DAYS

TEAMS = ("one", "two", "three")
DISCIPLINES = ("first-come", "first-come", "first-come", "priority", "due", "shortest-work", "last-come")
STUDIES = 240
AT_ONCE = 40


class Row:
    """Makes one study by its seed: of every second one all times are whole minutes, so that much happens at once."""

    def __init__(self, seed: int) -> None:
        self.rng = random.Random(seed)
        self.seed = seed
        self.by_minute = seed % 2 == 0

    def minutes(self, low: float, high: float) -> str:
        amount = self.rng.uniform(low, high)
        return f"{max(1, round(amount))} min" if self.by_minute else f"{amount:.3f} min"

    def time(self, low: float, high: float) -> Any:
        """Return a time: so many minutes, or one that meets no other."""
        if self.by_minute:
            return self.minutes(low, high)
        return {"dist": "uniform", "low": self.minutes(0.1, low), "high": self.minutes(high, 2 * high)}

    def steps(self, count: int) -> Iterator[dict[str, Any]]:
        """Yield a row of steps; from some the way on is to the shorter of two lines."""
        for number in range(count):
            to = f"s{number + 1}" if number < count - 1 else "out"
            if 0 < number < count - 1 and self.rng.random() < 0.5:
                ways = [{"to": to}, {"to": f"s{self.rng.randint(number + 1, count - 1)}"}]
                ways = ways if ways[0] != ways[1] else [{"to": to}, {"to": "out"}]
                to = f"c{number}"
                yield {"id": to, "name": to, "kind": "choose", "pick": "shortest-line", "next": ways}
            yield self.serve(number, to)

    def serve(self, number: int, to: str) -> dict[str, Any]:
        ways: list[dict[str, Any]] = [{"to": to}]
        if number > 0 and self.rng.random() < 0.3:
            ways = [{"to": to, "share": 0.8}, {"to": f"s{self.rng.randint(0, number)}", "share": 0.2}]
        line: dict[str, Any] = {"discipline": self.rng.choice(DISCIPLINES)}
        if number > 0 and self.rng.random() < 0.3:
            line["max"] = self.rng.randint(0, 2)
        needs = [{"team": team} for team in self.rng.sample(TEAMS, 2 if self.rng.random() < 0.1 else 1)]
        step = {"id": f"s{number}", "name": f"S {number}", "kind": "serve", "work": self.time(0.5, 3)}
        return step | {"needs": needs, "line": line, "next": ways}

    def team(self, name: str) -> dict[str, Any]:
        team: dict[str, Any] = {"id": name, "name": name, "picks": self.rng.choice(["longest-idle", "least-used"])}
        people = self.rng.randint(1, 3)
        if self.rng.random() < 0.6:
            return team | {"size": people}
        rest = {"after": self.minutes(20, 60), "length": self.minutes(3, 15), "taken": "in-turn"}
        row = {"days": DAYS, "from": "08:00", "to": "12:00", "people": people, "breaks": [rest]}
        call = {"name": "Call", "after": {"cases": 4}, "length": self.time(1, 4), "strikes": "each", "work": "pause"}
        more = {"interruptions": [call]} if self.rng.random() < 0.5 else {}
        return team | {"roster": [row], "rate": 30, "at_break": self.rng.choice(["finish", "pause"])} | more

    def study(self) -> dict[str, Any]:
        count = self.rng.randint(2, 6)
        stream = {"id": "in", "name": "In", "kind": "random", "gap": self.time(1, 2), "to": "s0", "limit": 60}
        stream["mix"] = [{"type": "usual", "share": 0.7}, {"type": "urgent", "share": 0.3}]
        if self.rng.random() < 0.3:
            stream["group"] = 2
        return {
            "name": f"Row {self.seed}",
            "start": "2027-03-01T08:00",
            "case_types": [
                {"id": "usual", "name": "Usual"},
                {"id": "urgent", "name": "Urgent", "priority": self.rng.choice([0, 2]), "due": "20 min"},
            ],
            "streams": [stream],
            "teams": [self.team(name) for name in TEAMS],
            "steps": [*self.steps(count), {"id": "out", "name": "Out", "kind": "exit"}],
            "run": {"length": "5 h", "replications": 1, "seed": self.seed},
        }


@pytest.mark.parametrize("first", range(0, STUDIES, AT_ONCE))
def test_both_engines_agree_on_busy_rows(first: int) -> None:
    found = {}
    for seed in range(first, first + AT_ONCE):
        study = read_study(Row(seed).study())
        assert not errors_of(study), errors_of(study)[0]
        if (where := difference(study)) is not None:
            found[seed] = where
    assert found == {}
