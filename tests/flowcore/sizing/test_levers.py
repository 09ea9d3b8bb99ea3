"""The search among the values of levers, and to which of them replications go."""

import numpy as np
import pytest

from flowcore.findings.words import as_text
from flowcore.sizing import levers
from flowcore.sizing.aiming.allocation import allocation
from flowcore.sizing.aiming.trials import AS_IT_IS, Outcome, run_trial
from flowcore.sizing.guiding import Guide
from flowcore.sizing.levers import LeverSearch
from flowcore.sizing.search import Tried
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


def test_of_too_many_combinations_the_promising_are_tried_and_the_best_is_found(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    """Of 38 by 21 combinations, 90 are tried; the cheapest that holds is that of all the cheap ones."""
    monkeypatch.setattr(levers, "MOST_TRIED", 90)
    rate = {"id": "rate", "name": "Rate", "sets": ["/teams/clerks/rate"], "low": 20, "high": 40, "step": 1}
    document = {"levers": [PEOPLE | {"high": 40}, rate]}
    found = size(with_levers("people", "rate", **document), threads=2)
    alone = size(with_levers("people"), threads=2)
    assert 90 <= len(found.candidates) < 105
    [_, cheapest, *_] = found.proposals
    assert cheapest.levers == {"people": alone.proposals[1].levers["people"], "rate": 20}


def test_a_guide_proposes_the_same_to_whoever_tells_it_the_same() -> None:
    """It is told that more costs more and less than 12 does not hold, and comes to propose about 12."""
    told = [proposals_of_a_guide(), proposals_of_a_guide()]
    assert told[0] == told[1]
    late = told[0][-20:]
    assert sum(9 <= each <= 15 for each in late) >= 8, "by chance it would be 3"


def proposals_of_a_guide() -> list[int]:
    guide = Guide({"people": 50}, seed=5)
    found: list[int] = []
    for _ in range(8):
        places = [each["people"] for each in guide.propose(10)]
        tried = [Tried(None, AS_IT_IS, Outcome(np.array([float(each)]), np.zeros((1, 2, 0)))) for each in places]
        guide.learn(tried, [each - 12.0 for each in places])
        found += places
    return found


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
