"""The quick simulation: as many weeks as there is time for, doubled, and the same figures every time."""

from collections.abc import Iterator

import pytest

from flowcore.problems import StudyError
from flowcore.pulse import MOST_WEEKS, by_simulation
from flowcore.study import Study
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


def one_line() -> Study:
    return single_line(exponential(4), 1, 5, length="1 wk", warm_up="0 min")


def test_with_time_enough_it_is_eight_weeks_and_the_same_every_time() -> None:
    first, second = (by_simulation(one_line(), seconds=60) for _ in range(2))
    assert first.weeks == MOST_WEEKS == 8
    assert first == second
    assert first.loads["clerks"] == pytest.approx(0.8, abs=0.05)


def test_less_time_gives_fewer_weeks_but_always_a_doubled_number() -> None:
    found = [by_simulation(one_line(), 1.0, Clock(1 / looks)).weeks for looks in range(6, 80, 3)]
    assert set(found) == {1, 2, 4, 8}
    assert found == sorted(found)


def test_without_time_for_one_week_it_says_so() -> None:
    found = by_simulation(one_line(), 1.0, Clock(0.9))
    assert found.weeks == 0
    assert found.reasons == ["A week of it takes too long to simulate in passing. Run it."]


def test_a_study_with_errors_is_refused() -> None:
    nowhere = document([serve("desk", "1 min", "clerks", {"gone": 1}), exit_step()], {"clerks": 1}, exponential(5))
    with pytest.raises(StudyError, match="gone"):
        by_simulation(Study.model_validate(nowhere))
