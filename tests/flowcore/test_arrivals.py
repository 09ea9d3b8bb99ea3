"""When cases come and of which type: chances, hours, limits, punctuality; and how members are picked at random."""

from typing import Any

import numpy as np
import pytest
from scipy import stats

from flowcore.reports.event_log import event_log
from flowcore.simulate import simulate
from flowcore.study import StudyDocument
from tests.flowcore.days import EVERY_DAY, at, clock, day, desk, team

STREAM = {"id": "cases", "name": "Cases", "to": "desk"}


def alone(stream: dict[str, Any], length: str = "4 h", **more: Any) -> StudyDocument:
    """A stream into a step that needs nobody."""
    return day([STREAM | stream], [desk("1 min", needs=[])], [], length=length, **more)


def arrivals(of: StudyDocument, kind: str | None = None) -> list[float]:
    log = event_log(of, 0)
    return [entry.minute for entry in log if entry.event == "arrived" and kind in (None, entry.type)]


def test_a_certain_chance_comes_at_every_intervals_end() -> None:
    assert arrivals(alone({"kind": "random", "chance": {"every": "50 min", "probability": 1}})) == [50, 100, 150, 200]


def test_a_chance_of_three_in_ten() -> None:
    of = alone({"kind": "random", "chance": {"every": "10 min", "probability": 0.3}}, length="60 d")
    times = np.array(arrivals(of))
    assert np.all(times % 10 == pytest.approx(0, abs=1e-6))
    low, high = stats.binom.interval(0.999, 6 * 24 * 60, 0.3)
    assert low <= len(times) <= high


def test_first_last_and_limit() -> None:
    random = {"kind": "random", "gap": "10 min"}
    assert arrivals(alone(random | {"first": at(35), "last": at(66)})) == [45, 55, 65]
    assert arrivals(alone(random | {"limit": 2})) == [10, 20]


def test_types_by_the_hour() -> None:
    kinds = [{"id": "calm", "name": "Calm"}, {"id": "urgent", "name": "Urgent"}]
    hours = [{"from": clock(60), "to": clock(120), "mix": [{"type": "urgent", "share": 1}]}]
    mixed = {"kind": "random", "gap": "25 min", "mix": [{"type": "calm", "share": 1}], "mix_by_hour": hours}
    of = alone(mixed, case_types=kinds)
    assert arrivals(of, "Urgent") == [75, 100]
    assert arrivals(of, "Calm") == [25, 50, 125, 150, 175, 200, 225]


SLOTS = {"days": EVERY_DAY, "from": clock(30), "to": clock(90), "every": "20 min"}


def test_those_who_come_early() -> None:
    """Slots at 30, 50 and 70, everyone five minutes early."""
    booked = {"kind": "appointments", "sessions": [SLOTS], "punctuality": "-5 min"}
    assert arrivals(alone(booked)) == [25, 45, 65]


def test_punctuality_is_drawn_from_its_distribution() -> None:
    spread = {"dist": "normal", "mean": "-3 min", "sd": "4 min"}
    of = alone({"kind": "appointments", "sessions": [SLOTS], "punctuality": spread}, length="500 d")
    times = np.array(arrivals(of)) % 1440
    late = times - np.array([30, 50, 70])[np.abs(times[:, None] - [[30, 50, 70]]).argmin(axis=1)]
    assert len(late) == pytest.approx(1500, abs=3)
    near = np.abs(late) < 9.99
    inside = stats.truncnorm((-9.99 + 3) / 4, (9.99 + 3) / 4, loc=-3, scale=4)
    assert stats.kstest(late[near], inside.cdf).pvalue > 0.001


def test_shares_booked_and_not_shown() -> None:
    of = alone({"kind": "appointments", "sessions": [SLOTS], "filled": 0.8, "no_show": 0.25}, length="1000 d")
    low, high = stats.binom.interval(0.999, 3000, 0.6)
    assert low <= len(arrivals(of)) <= high


def test_members_picked_at_random_share_the_work() -> None:
    of = day(
        [STREAM | {"kind": "random", "gap": "7 min"}],
        [desk("1 min")],
        [team(4, picks="random")],
        length="30 d",
    )
    [replication] = simulate(of).replications
    works = [replication.figures[f"member/clerks:{number}/working"] * 30 * 1440 for number in (1, 2, 3, 4)]
    assert stats.chisquare(works).pvalue > 0.001
