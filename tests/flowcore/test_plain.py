"""Plain steps: the short way through them is the long way, with the same bits."""

import random
from typing import Any

import numpy as np
import pytest

from flowcore.checks.registry import errors_of
from flowcore.plan.compile import compile_study
from flowcore.problems import StudyError
from flowcore.results.replication import Replication
from flowcore.simulate import Replicator
from flowcore.study import StudyDocument, read_study
from tests.flowcore.builders import document, exit_step, exponential, serve
from tests.oracle.studies import study as random_study

Part = dict[str, Any]
OF_A_STEP = ("place", "places", "changeover", "changeover_cost")


def simpler(document: Part, seed: int) -> Part:
    """Return a study at random most of whose steps with work are made plain."""
    luck = random.Random(seed)
    teams = [team["id"] for team in document["teams"]]
    for step in document["steps"]:
        step.pop("reserve", None)
        step.pop("preempts", None)
        if step["kind"] == "serve" and luck.random() < 0.8:
            line = step.get("line", {}).get("discipline", "first-come")
            step |= {"needs": [{"team": luck.choice(teams)}], "line": {"discipline": line}}
            for key in OF_A_STEP:
                step.pop(key, None)
    return document


def told(document: StudyDocument, *, long_way: bool) -> Replication | str:
    """Return what a replication says, by the long way everywhere if that is asked for; or why it cannot go on."""
    replicate = Replicator(document)
    if long_way:
        replicate._plan.steps.is_plain[:] = 0
    try:
        return replicate(1)
    except StudyError as error:
        return str(error)


def are_same(one: Replication | str, other: Replication | str) -> bool:
    if isinstance(one, str) or isinstance(other, str):
        return one == other
    same = list(one.figures) == list(other.figures) and one.histograms == other.histograms
    tables = [(one.series, other.series), (one.week, other.week), (one.levels, other.levels)]
    numbers = [(list(one.figures.values()), list(other.figures.values()))]
    numbers += [(first[key], second[key]) for first, second in tables for key in first]
    return same and all(np.array_equal(first, second, equal_nan=True) for first, second in numbers)


@pytest.mark.parametrize("ten", range(12))
def test_the_short_way_is_the_long_way(ten: int) -> None:
    plain = 0
    for seed in range(10 * ten, 10 * ten + 10):
        document = read_study(simpler(random_study(seed), seed))
        if errors_of(document):
            continue
        plain += int(Replicator(document)._plan.steps.is_plain.sum())
        assert are_same(told(document, long_way=False), told(document, long_way=True)), seed
    assert plain > 5


def test_who_is_blocked_at_a_plain_step_waits_for_what_the_next_asks() -> None:
    document = read_study(simpler(random_study(462), 462))
    assert are_same(told(document, long_way=False), told(document, long_way=True))


NOT_PLAIN: dict[str, Part] = {
    "two of a team": {"needs": [{"team": "clerks", "count": 2}]},
    "two teams": {"needs": [{"team": "clerks"}, {"team": "desks"}]},
    "nobody": {"needs": []},
    "one who is kept": {"needs": [{"team": "clerks", "keep_until": "second"}]},
    "a line with an end": {"line": {"max": 3}},
    "patience": {"line": {"patience": exponential(9), "gives_up_to": "out"}},
    "a time in the line": {"line": {"min_wait": "1 min"}},
    "last come": {"line": {"discipline": "last-come"}},
    "those who hold back": {"reserve": True},
    "those who displace others": {"preempts": True},
    "a changeover": {"changeover": "1 min"},
    "only in overtime": {"overtime": "only"},
}


def with_first(**more: Any) -> StudyDocument:
    steps = [serve("first", exponential(2), "clerks", {"second": 1}, **more)]
    steps += [serve("second", "1 min", None, {"out": 1}), exit_step()]
    return read_study(document(steps, {"clerks": 3, "desks": 3}, exponential(1), length="8 h"))


@pytest.mark.parametrize("more", NOT_PLAIN.values(), ids=NOT_PLAIN.keys())
def test_a_step_with_more_to_it_goes_the_long_way(more: Part) -> None:
    plan = compile_study(with_first(**more))
    assert not plan.steps.is_plain.any()


@pytest.mark.parametrize("discipline", ["first-come", "priority", "due", "shortest-work", "random"])
def test_one_of_one_team_is_plain_however_the_line_is_ordered(discipline: str) -> None:
    plan = compile_study(with_first(line={"discipline": discipline}))
    assert plan.steps.is_plain.tolist()[:2] == [1, 0]
