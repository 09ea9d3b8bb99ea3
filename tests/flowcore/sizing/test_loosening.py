"""Which limit stands in the way of covering a need, in cases of hand size."""

from typing import Any

import numpy as np
import pytest

from flowcore.results.week_grid import Grid
from flowcore.sizing.staffing.loosening import SHIFTS, in_the_way
from flowcore.study.sizing import TeamLimits
from tests.flowcore.sizing.studies import busy_noon

GRID = Grid(60.0)
LATE_AND_EARLY = [
    {"lengths": ["8 h"], "starts": ["14:00"], "days": ["mon"]},
    {"lengths": ["8 h"], "starts": ["06:00"], "days": ["tue"]},
]
ALL_AT_NOON = [
    {"lengths": ["8 h"], "starts": ["08:00"], "breaks": [{"length": "60 min", "from": "4 h", "to": "4 h"}]},
]


def needed(people: float, *hours: tuple[int, int]) -> np.ndarray:
    """Return so many on the days, from 0 for Monday, at the hours."""
    need = np.zeros(GRID.count)
    for day, hour in hours:
        need[24 * day + hour] = people
    return need


@pytest.mark.parametrize(
    ("limits", "need", "words"),
    [
        ({"people": {"high": 2}, "days": 1}, needed(3, (0, 10)), "how many people there may be"),
        (
            {"days": 2},
            needed(2, (0, 10), (1, 10), (2, 10)),
            "how many people there may be or how many days and hours one works a week",
        ),
        (
            {"days": 1, "shifts": LATE_AND_EARLY, "rest": "8 h"},
            needed(2, (0, 15), (1, 7)),
            "how many people there may be or how many days and hours one works a week",
        ),
        ({"days": 1, "shifts": LATE_AND_EARLY}, needed(2, (0, 15), (1, 7)), "how many people there may be"),
        (
            {"shifts": ALL_AT_NOON, "people": {"low": 1, "high": 1}},
            needed(1, (0, 12)),
            "the breaks",
        ),
        ({"shifts": ALL_AT_NOON}, needed(1, (0, 12)), "the breaks"),
        ({}, needed(1, (0, 20)), SHIFTS),
    ],
)
def test_the_limits_without_which_it_could_be_covered(limits: dict[str, Any], need: np.ndarray, words: str) -> None:
    shifts = [{"lengths": ["8 h"], "starts": ["08:00"]}]
    given = {"team": "clerks", "people": {"low": 0, "high": 2}, "shifts": shifts} | limits
    found = in_the_way(busy_noon(), [TeamLimits.model_validate(given)], range(3), GRID, {("clerks",): need})
    assert found == words
