"""Studies too large for a machine are told before a run, or when a run outgrows its room; Stop is obeyed in any."""

import itertools
import time

import numpy as np
import pytest

from flowcore import pauses
from flowcore.checks import check_study
from flowcore.kernel.run import growth
from flowcore.problems import Severity, StudyError
from flowcore.simulate import Stopped, simulate
from flowcore.study import StudyDocument, read_study
from tests.flowcore.builders import Part, document, exit_step, exponential, serve, single_line
from tests.flowcore.days import day, desk, shift, team


def one_desk(**changes: Part) -> Part:
    return document([serve("desk", "1 s", "clerks", {"out": 1}), exit_step()], {"clerks": 1}, "1 min") | changes


def errors(found: Part) -> list[tuple[str, str]]:
    return [(each.where, each.what) for each in check_study(read_study(found)) if each.level is Severity.ERROR]


def test_more_cases_than_there_is_room_for() -> None:
    crowd = one_desk()
    crowd["streams"][0]["gap"] = "0.001 s"
    crowd["run"]["length"] = "1 wk"
    [(where, what)] = errors(crowd)
    assert where == "streams/cases"
    assert "604,800,000 cases in 1 wk" in what
    crowd["streams"][0]["limit"] = 1000
    assert errors(crowd) == []


def test_more_bookings_than_there_is_room_for() -> None:
    slots = {"days": ["mon", "tue"], "from": "08:00", "to": "18:00", "every": "1 s", "places": 100}
    booked = {"id": "booked", "name": "Booked", "kind": "appointments", "sessions": [slots], "to": "desk"}
    [(where, what)] = errors(one_desk(streams=[booked]))
    assert where == "streams/booked"
    assert "cases in 60 d" in what


def test_more_members_than_there_is_room_for() -> None:
    teams = [team(100_000, id=f"team-{n}") for n in range(2)]
    found = one_desk(teams=[*one_desk()["teams"], *teams])
    assert [(where, "200,001 members" in what) for where, what in errors(found)] == [("teams", True)]
    calls = {"name": "Call", "after": {"clock": "1 h"}, "length": "1 min", "strikes": "each"}
    often = one_desk(teams=[*one_desk()["teams"], team(100_000, id="more", interruptions=[calls] * 4)])
    assert [(where, "400,000 interruptions" in what) for where, what in errors(often)] == [("teams", True)]


def test_more_shifts_than_there_is_room_for() -> None:
    rows = [shift(0, 60)] * 50
    found = one_desk(teams=[team(roster=rows)])
    found["run"]["length"] = "3600 wk"
    assert ("run/length", True) in [(where, "shifts" in what) for where, what in errors(found)]


def test_a_run_that_outgrows_its_room_ends_in_words(monkeypatch: pytest.MonkeyPatch) -> None:
    """Cases come twice as fast as they are served, and ten thousand would be inside at the end."""
    monkeypatch.setattr(growth, "MOST_BYTES", 2_000_000)
    with pytest.raises(StudyError) as error:
        simulate(single_line("2 min", 1, 1, length="14 d", replications=1))
    [problem] = error.value.problems
    assert problem.where == "run/length"
    assert "the memory is full" in problem.what


def test_pausing_changes_no_bit(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(pauses, "SECONDS_BETWEEN_PAUSES", 0.001)
    of = single_line(exponential(0.9), 1, 1.0, length="200 d", replications=2)
    looks = itertools.count()
    paused = simulate(of, should_stop=lambda: next(looks) < 0).values
    straight = simulate(of).values
    assert next(looks) > 10
    for address, values in straight.items():
        assert np.array_equal(values, paused[address], equal_nan=True), address


def heavy() -> StudyDocument:
    calls = {"name": "Call", "after": {"clock": exponential(60)}, "length": "2 min", "strikes": "each"}
    crowd = team(100_000, interruptions=[calls], picks="least-used")
    gap = {"id": "in", "name": "In", "kind": "random", "gap": "1 min", "to": "desk"}
    return day([gap], [desk()], [crowd], length="52 wk")


def test_stop_is_obeyed_where_one_event_costs_much() -> None:
    """With a team of 100,000 who are called away, a year is billions of steps; it ends soon after it is told to."""
    began = time.monotonic()
    with pytest.raises(Stopped):
        simulate(heavy(), should_stop=lambda: time.monotonic() > began + 1)
    assert time.monotonic() < began + 60, "how soon is measured in bench"
