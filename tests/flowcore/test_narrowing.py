"""How a figure narrows as replications come in: each look is what a run of so many would have said."""

import pytest

from flowcore.reports.narrowing import LOOKS, narrowing
from flowcore.results.run import Results
from flowcore.simulate import simulate
from tests.flowcore.builders import exit_step, exponential, serve, study

WAIT = "type/all/wait/mean"


def waiting(replications: int) -> Results:
    steps = [serve("desk", exponential(7), "clerks", {"out": 1}), exit_step()]
    return simulate(
        study(steps, {"clerks": 1}, exponential(10), length="2 d", warm_up="0 min", replications=replications)
    )


@pytest.mark.parametrize(("replications", "looks"), [(1, 1), (7, 7), (45, LOOKS)])
def test_each_look_is_what_so_many_replications_say(replications: int, looks: int) -> None:
    found = narrowing(waiting(replications), WAIT)
    assert len(found) == looks
    assert found[-1] == waiting(replications).figure(WAIT)
    middle = found[looks // 2]
    assert middle == waiting(middle.n).figure(WAIT)
    assert [each.n for each in found] == sorted({each.n for each in found})


def test_the_interval_narrows_as_the_root_of_the_replications() -> None:
    found = {each.n: each for each in narrowing(waiting(160), WAIT)}
    early, late = found[40].half_width, found[160].half_width
    assert early is not None
    assert late is not None
    assert 0.35 < late / early < 0.7


def test_without_replications_there_is_nothing_to_look_at() -> None:
    assert narrowing(Results([], 0.95), WAIT) == []
