"""The quick simulation: as many weeks as there is time for, and the same figures every time."""

from collections.abc import Iterator

import pytest

from flowcore.problems import StudyError
from flowcore.reports.pulse import WEEKS, Weeks, by_simulation
from flowcore.study import StudyDocument
from tests.flowcore.builders import document, exit_step, exponential, serve, single_line


class Clock:
    """A clock that goes on by so much whenever it is looked at."""

    def __init__(self, step: float) -> None:
        self.times = self._times(step)

    @staticmethod
    def _times(step: float) -> Iterator[float]:
        time = 0.0
        while True:
            yield time
            time += step

    def __call__(self) -> float:
        return next(self.times)


def one_line() -> StudyDocument:
    return single_line(exponential(4), 1, 5, length="1 wk", warm_up="0 min")


def test_with_time_enough_it_is_all_weeks_and_the_same_every_time() -> None:
    first, second = (by_simulation(one_line(), seconds=600) for _ in range(2))
    assert len(first.weeks) == first.of == WEEKS == 8
    assert first == second
    loads = [week.loads["clerks"] for week in first.weeks]
    assert sum(load or 0 for load in loads) / WEEKS == pytest.approx(0.8, abs=0.05)
    assert len(set(loads)) == WEEKS, "each week has luck of its own"


def test_less_time_gives_the_first_of_the_same_weeks_and_the_rest_can_be_asked_for() -> None:
    whole = by_simulation(one_line(), seconds=600).weeks
    found = [by_simulation(one_line(), 0, 1.0, Clock(1 / looks)).weeks for looks in range(6, 80, 3)]
    assert len({len(weeks) for weeks in found}) > 3
    assert all(weeks == whole[: len(weeks)] for weeks in found)
    rest = by_simulation(one_line(), 3, 600)
    assert (rest.first, rest.weeks) == (3, whole[3:])
    assert by_simulation(one_line(), WEEKS, 600) == Weeks(first=WEEKS, weeks=[], of=WEEKS)


def test_without_time_for_one_week_it_says_so() -> None:
    found = by_simulation(one_line(), 0, 1.0, Clock(0.9))
    assert found.weeks == []
    assert found.reasons == ["A week of it takes too long to simulate in passing. Run it."]


def test_a_study_with_errors_is_refused() -> None:
    nowhere = document([serve("desk", "1 min", "clerks", {"gone": 1}), exit_step()], {"clerks": 1}, exponential(5))
    with pytest.raises(StudyError, match="gone"):
        by_simulation(StudyDocument.model_validate(nowhere))
