"""How much of a run's beginning to leave out, and what makes its figures doubtful."""

import numpy as np
import pytest

from flowcore.results.steady_state import cycle_of, doubts, mser5, proposed_warm_up
from flowcore.simulate import simulate
from flowcore.study import StudyDocument, read_study
from tests.flowcore.builders import document, exit_step, exponential, serve, single_line, study

STEADY = [1.0, 2.0, 3.0, 2.0, 1.0, 2.0, 3.0, 2.0, 2.0, 2.0] * 10


@pytest.mark.parametrize(
    ("values", "cut"),
    [
        (STEADY, 0),
        ([100.0] * 10 + STEADY, 10),
        ([100.0] * 7 + STEADY, 10),
        (list(range(100)), None),
        ([0.0] * 60 + [50.0] * 40, None),
        (STEADY[:49], None),
    ],
    ids=["steady", "high at first", "cut at a batch's end", "growing", "late change", "too short"],
)
def test_mser5_by_hand(values: list[float], cut: int | None) -> None:
    assert mser5(np.array(values, float)) == cut


def constant_filling(**run: object) -> StudyDocument:
    """One case a minute, each inside for 600: the cases inside rise for 10 hours, then stay."""
    return study([serve("desk", "600 min", None, {"out": 1}), exit_step()], {}, "1 min", **run)


def test_proposal_is_the_end_of_the_rise() -> None:
    of = constant_filling(length="100 h", warm_up="0 min", replications=2)
    assert proposed_warm_up(of, simulate(of)) == 600


def test_no_proposal_where_it_never_settles() -> None:
    of = constant_filling(length="12 h", warm_up="0 min", replications=2)
    assert proposed_warm_up(of, simulate(of)) is None


def test_a_timetable_is_averaged_over_its_turn() -> None:
    """Doors open 8 to 18: the ups and downs of the days are no warm-up."""
    of = single_line(exponential(2.4), 3, 1.0, length="8 wk", warm_up="0 min", replications=3).model_dump(mode="json")
    daily = {"days": ["mon", "tue", "wed", "thu", "fri", "sat", "sun"], "from": "08:00", "to": "18:00"}
    of["calendars"] = [{"id": "doors", "name": "Doors", "weekly": [daily]}]
    of["streams"][0]["open"] = "doors"
    timed = read_study(of)
    assert cycle_of(timed) == 7 * 1440
    proposed = proposed_warm_up(timed, simulate(timed))
    assert proposed is not None
    assert proposed <= 2 * 7 * 1440


def said(of: StudyDocument) -> list[str]:
    return [problem.where for problem in doubts(of, simulate(of))]


def test_nothing_is_doubtful_in_a_settled_run() -> None:
    assert said(single_line(exponential(2.4), 3, 1.0, length="60 d", warm_up="2 d", replications=5)) == []


def test_overload_growth_and_those_left_inside_are_said() -> None:
    of = single_line(exponential(4.0), 3, 1.0, length="10 d", warm_up="0 min", replications=5)
    found = doubts(of, simulate(of))
    assert [problem.where for problem in found] == ["teams/clerks", "run", "run/length"]
    assert "has not settled" in found[1].what


def test_one_replication_is_said() -> None:
    of = single_line(exponential(2.4), 3, 1.0, length="60 d", warm_up="2 d", replications=1)
    assert said(of) == ["run/replications"]


def test_growth_is_not_read_into_the_first_filling_of_a_warm_up() -> None:
    of = read_study(
        document(
            [serve("desk", "600 min", None, {"out": 1}), exit_step()],
            {},
            "1 min",
            length="100 h",
            warm_up="12 h",
            replications=3,
        )
    )
    assert "run" not in said(of)
