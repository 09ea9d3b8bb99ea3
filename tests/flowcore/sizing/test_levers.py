"""The search among the values of levers, and to which of them replications go."""

import numpy as np
import pytest

from flowcore.findings.words import as_text
from flowcore.problems import StudyError
from flowcore.sizing.aiming.allocation import allocation
from flowcore.sizing.aiming.trials import run_trial
from flowcore.sizing.levers import LeverSearch
from flowcore.sizing.size import size
from flowcore.study import StudyDocument, read_study
from tests.flowcore.sizing.studies import busy_noon

PEOPLE = {"id": "people", "name": "Clerks", "sets": ["/teams/clerks/roster/0/people"], "low": 2, "high": 9, "step": 1}
WORK = {"id": "work", "name": "Work", "sets": ["/steps/desk/work"], "scales": True, "values": [1, 0.8]}


def with_levers(*levers: str, **more: object) -> StudyDocument:
    document = busy_noon().model_dump(mode="json")
    document["levers"] = [PEOPLE, WORK]
    document["sizing"] = [{"id": "a", "name": "A", "levers": list(levers)}]
    return read_study(document | more)


def test_the_smallest_number_that_holds_is_found() -> None:
    found = size(with_levers("people"), threads=2)
    [_, cheapest, *_] = found.proposals
    people = cheapest.levers["people"]
    assert cheapest.holds
    assert cheapest.people == people
    figure = cheapest.figures["step/desk/wait/within:5min"]
    assert figure.mean is not None
    assert figure.half_width is not None
    assert figure.mean - figure.half_width >= 0.79
    shares = [point.figure for point in found.frontier if not point.today]
    assert shares == sorted(shares)
    assert found.tried > 8
    said = as_text(found.says[0])
    assert said.startswith(f"Clerks {people} keep at least 80 % of the waits at Desk within 5 min for EUR ")
    assert said.endswith("a week, as much as today.")


def test_every_combination_of_two_levers_is_tried() -> None:
    study = with_levers("people", "work")
    search = LeverSearch(study, study.sizing[0])
    asking = search.run()
    trials = asking.send([run_trial(study, search.aims, trial) for trial in next(asking)])
    assert len(trials) == 16
    assert len({trial.staffing.key for trial in trials}) == 16


def test_too_many_combinations_are_an_error_that_says_how_many() -> None:
    study = with_levers("people", "work", levers=[PEOPLE | {"high": 201}, WORK])
    with pytest.raises(StudyError, match="400 combinations"):
        LeverSearch(study, study.sizing[0])


def test_replications_go_to_whom_it_is_hard_to_tell_from_the_best() -> None:
    costs, spread = np.array([100.0, 101.0, 110.0, 90.0]), np.full(4, 5.0)
    margins, of_margin = np.array([0.05, 0.05, 0.05, -0.01]), np.array([0.02, 0.02, 0.02, 0.02])
    best, near, far, missing = allocation(costs, spread, margins, of_margin, 1000).tolist()
    assert near > missing > far
    assert best == pytest.approx(near, rel=0.1)
    assert 1000 <= best + near + far + missing <= 1004


def test_where_nothing_holds_replications_go_to_those_that_miss_by_little() -> None:
    margins = np.array([-0.2, -0.01, -0.012])
    counts = allocation(np.array([1.0, 2.0, 3.0]), np.ones(3), margins, np.full(3, 0.05), 300)
    assert counts[0] < counts[1]
    assert counts[0] < counts[2]
