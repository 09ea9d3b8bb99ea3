"""A log at a glance, on one worked out by hand."""

from pathlib import Path

import numpy as np
import pytest

from flowcore.calibration.arrivals import profile
from flowcore.calibration.shares import shares_after
from flowcore.logs.looks import look_at, waits_of
from flowcore.logs.reading import read_log
from flowcore.logs.recognising import recognised
from flowcore.logs.visits import Visits
from tests.flowcore.logs.files import KIOSK, a_file

MONDAY = 20878 * 1440.0
"""The first of March 2027."""


@pytest.fixture
def kiosk(tmp_path: Path) -> Visits:
    path = a_file(tmp_path, KIOSK)
    return read_log(path, recognised(path).reading)[0]


def test_a_log_at_a_glance(kiosk: Visits) -> None:
    look = look_at(kiosk)
    assert (look.visits, look.cases, look.first, look.last) == (4, 3, "2027-03-01T08:00", "2027-03-01T08:20")
    counter, cashier = look.steps
    assert (counter.name, counter.visits, counter.cases, counter.people, counter.gave_up) == ("Counter", 3, 3, 1, 1)
    assert counter.work == (7.5, 7.5)
    assert cashier.wait == (1, 1)
    assert look.types == {"Passport": 1, "Residence": 2}
    assert [(variant.steps, variant.cases) for variant in look.variants] == [([0], 2), ([0, 1], 1)]
    assert {(each.name, each.visits) for each in look.people} == {("Desk 1", 2), ("Till", 1)}
    assert look.by_hour[8] == 3
    assert sum(look.by_hour) == 3
    assert look.quiet == []


def test_waits_by_hand(kiosk: Visits) -> None:
    """The passport waits 2.5 min, then 1; the one who left waited 19, the last one 7."""
    assert waits_of(kiosk).tolist() == [2.5, 1, 19, 7]


def test_shares_of_ways(kiosk: Visits) -> None:
    shares = shares_after(kiosk, "Counter")
    assert [(each.to, each.many, each.out_of) for each in shares] == [("Cashier", 1, 2), (None, 1, 2)], (
        "who gave up has not gone on"
    )
    assert all(each.low < each.share < each.high for each in shares)
    assert [each.to for each in shares_after(kiosk, "Counter", "Passport")] == ["Cashier"]


def test_a_profile_by_hand() -> None:
    """Two weeks: on Mondays 3 and 5 come from 9 to 10, on Tuesdays nobody, on the second Wednesday one."""
    arrived = MONDAY + np.array(
        [545.0, 550, 555, *(10080 + np.array([541.0, 542, 543, 544, 599])), 10080 + 2 * 1440 + 610]
    )
    found = profile(arrived, 60)
    assert found.week["mon"][9] == 4
    assert found.days["mon"] == found.days["tue"] == 2
    assert sum(found.week["tue"]) == 0
    assert found.week["wed"][10] == 0.5
    assert found.low["mon"][9] < 4 < found.high["mon"][9]
    assert not found.is_uneven


def test_a_profile_covers_the_truth_as_often_as_it_says() -> None:
    random = np.random.default_rng(11)
    inside = cells = 0
    for _ in range(40):
        days = np.arange(28)
        counts = random.poisson(6.0, (28, 3))
        arrived = np.concatenate(
            [
                MONDAY + day * 1440 + (9 + hour) * 60 + random.uniform(0, 60, counts[day, hour])
                for day in days
                for hour in range(3)
            ]
        )
        found = profile(arrived)
        for day, low in found.low.items():
            for hour in (9, 10, 11):
                cells += 1
                inside += low[hour] <= 6.0 <= found.high[day][hour]
        assert found.spread == pytest.approx(1, abs=0.9)
    assert 0.94 <= inside / cells <= 0.99, "an exact interval covers a little more often than it says"


def test_days_that_differ_more_than_by_chance() -> None:
    random = np.random.default_rng(4)
    many = random.gamma(2.0, 20.0, 60)
    arrived = np.concatenate(
        [MONDAY + day * 1440 + random.uniform(480, 900, int(count)) for day, count in enumerate(many)]
    )
    found = profile(arrived)
    assert found.is_uneven
    assert found.spread > 5
