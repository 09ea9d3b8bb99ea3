"""When the last of a day's cases has left, and the share of days that are done by a time, in days worked by hand."""

from typing import Any

import pytest

from flowcore.findings.targets import promise
from flowcore.findings.words import as_text
from flowcore.results.catalogue import titled
from flowcore.results.figure_search import search_figures
from flowcore.simulate import Replicator, simulate
from flowcore.study import StudyDocument, read_study
from flowcore.study.runs import Target
from tests.flowcore.builders import exit_step, serve

BY_SIX = "day/all/gone/within:18h"
COME = ["2027-03-01T09:00", "2027-03-01T17:30", "2027-03-02T17:45", "2027-03-04T23:50", "2027-03-04T23:50"]
"""With one clerk and work of twenty minutes: gone at 17:50, at 18:05, on no Wednesday, and at half past midnight."""


def days(**more: Any) -> StudyDocument:
    arrivals = [{"at": at} for at in COME]
    document = {
        "name": "Days",
        "start": "2027-03-01T08:00",
        "streams": [{"id": "in", "name": "In", "kind": "dates", "arrivals": arrivals, "to": "desk"}],
        "steps": [serve("desk", "20 min", "clerks", {"out": 1}), exit_step()],
        "teams": [{"id": "clerks", "name": "Clerks", "size": 1}],
        "run": {"length": "1 wk", "replications": 2},
    }
    return read_study(document | more)


def test_a_day_is_done_when_the_last_of_those_who_came_on_it_has_left() -> None:
    found = simulate(days(targets=[{"figure": BY_SIX, "at_least": 0.95}]))
    gone = [17 * 60 + 50, 18 * 60 + 5, 24 * 60 + 30]
    assert found.figure("day/all/gone/mean").mean == pytest.approx(sum(gone) / 3)
    assert found.figure("day/all/gone/max").mean == pytest.approx(gone[-1])
    assert found.figure(BY_SIX).mean == pytest.approx(1 / 3)
    assert found.figure("day/all/gone/within:25h").mean == pytest.approx(1.0)


def test_a_day_of_which_nobody_has_left_is_none() -> None:
    found = simulate(days(run={"length": "1 h", "replications": 1}))
    assert found.figure("day/all/gone/mean").mean is None


def test_days_before_the_warm_up_are_left_out() -> None:
    found = simulate(days(run={"length": "1 wk", "warm_up": "1 d", "replications": 1}))
    assert found.figure("day/all/gone/mean").mean == pytest.approx((18 * 60 + 5 + 24 * 60 + 30) / 2)


def test_it_is_told_alone_as_among_all() -> None:
    study = days()
    replicator = Replicator(study)
    world = replicator.world_of(0)
    asked = [BY_SIX, "day/all/gone/mean", "type/all/wait/mean"]
    told = replicator.telling(asked)(world, *replicator.counted(world))
    assert told.tolist() == [
        simulate(days(targets=[{"figure": BY_SIX, "at_least": 1}])).figure(each).mean for each in asked
    ]


def test_it_is_found_and_told_in_words() -> None:
    study = days()
    [found] = search_figures(study, "done by 18:00")
    assert found.address == "day/all/gone/within:1080min"
    assert (found.title.name, found.title.of) == ("Days on which all are gone", "by 18:00, % of days")
    title = titled("day/all/gone/p90", study)
    assert title is not None
    assert title.of == "9 in 10 within, min after midnight"
    assert as_text(promise(study, Target(figure=BY_SIX, at_least=0.95))) == "at least 95 % of the days done by 18:00"
