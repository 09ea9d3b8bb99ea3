"""The choice of the cheapest that holds: right as often as it claims, with figures of known means."""

import numpy as np
import pytest

from flowcore.results.aims import Aims
from flowcore.results.week_grid import interval_of
from flowcore.sizing.aiming.choosing import MOST, Choice, Standing, choose
from flowcore.sizing.aiming.trials import Outcome, Staffing, Trial
from tests.flowcore.sizing.studies import busy_noon

STUDY = busy_noon()
AIMS = Aims(STUDY, STUDY.targets, interval_of(STUDY))
REPETITIONS = 200
SPREAD = 0.02


def chosen(shares: list[float], costs: list[float], seed: int, apart: float = 1.0) -> Choice:
    """Choose among staffings whose share within the target's time, and cost, are random with these means."""
    random = np.random.default_rng(seed)
    common = random.normal(size=(MOST, 2))
    own = random.normal(size=(MOST, 2, len(shares)))
    staffings = [Staffing({}, {"clerks": n}, {}) for n in range(len(shares))]

    def outcome(trial: Trial) -> Outcome:
        n, rows = trial.staffing.sizes["clerks"], list(trial.numbers)
        parts = shares[n] + SPREAD * (0.8 * common[rows, 0] + 0.6 * own[rows, 0, n])
        cost = costs[n] + 2 * common[rows, 1] + apart * own[rows, 1, n]
        return Outcome(cost, np.stack([parts, np.ones(len(rows))], axis=1)[:, :, None])

    asking = choose(AIMS, staffings)
    trials = next(asking)
    while True:
        try:
            trials = asking.send([outcome(trial) for trial in trials])
        except StopIteration as end:
            found: Choice = end.value
            return found


def test_the_right_one_is_chosen_as_often_as_is_claimed() -> None:
    shares, costs = [0.78, 0.795, 0.81, 0.82, 0.83], [100.0, 101.0, 102.0, 103.0, 104.0]
    right = sum(chosen(shares, costs, seed).chosen == 2 for seed in range(REPETITIONS))
    assert right >= 0.95 * REPETITIONS


def test_what_misses_by_little_is_hardly_ever_taken_for_what_holds() -> None:
    wrong = sum(chosen([0.7995, 0.82], [100.0, 105.0], seed).chosen == 0 for seed in range(REPETITIONS))
    assert wrong <= 0.05 * REPETITIONS


def test_of_what_costs_the_same_one_that_holds_is_chosen() -> None:
    right = sum(chosen([0.79, 0.81, 0.81], [100.0, 100.0, 100.0], seed).chosen in (1, 2) for seed in range(50))
    assert right >= 47


def test_where_nothing_holds_nothing_is_chosen() -> None:
    found = chosen([0.7, 0.75], [100.0, 101.0], 1)
    assert found.chosen is None
    assert {each.standing for each in found.candidates} == {Standing.MISSES}


@pytest.mark.parametrize("seed", range(5))
def test_what_is_far_from_its_limit_takes_few_replications(seed: int) -> None:
    found = chosen([0.9], [100.0], seed)
    assert found.chosen == 0
    assert found.candidates[0].outcome.count <= 40


def test_what_costs_the_same_is_told_apart_no_longer_than_matters() -> None:
    found = chosen([0.85, 0.85], [100.0, 100.0], 3, apart=0.2)
    assert found.is_sure
    assert [each.beaten for each in found.candidates].count(True) == 1
    assert max(each.outcome.count for each in found.candidates) < MOST
