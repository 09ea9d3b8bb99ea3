"""Choosing the cheapest staffing that holds, with a known error, by luck with which none of them was found.

Two questions are asked of each candidate as replications come in, all with the same luck: does every target hold, and
is another that holds cheaper? The first is decided when the sum of its margins leaves a triangle that closes as they
come in (Batur and Kim, Finding feasible systems in the presence of constraints on multiple performance measures, ACM
TOMACS 20, 2010), the second by the differences of costs (Kim and Nelson, A fully sequential procedure for
indifference-zone selection in simulation, ACM TOMACS 11, 2001). Both together as in Andradóttir and Kim, Fully
sequential procedures for comparing constrained systems via simulation, Naval Research Logistics 57 (2010): half of the
error is for each.
"""

import math
from collections.abc import Generator, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from scipy.special import stdtrit

from flowcore.results.aims import Aims
from flowcore.results.week_grid import Floats
from flowcore.sizing.aiming.judging import margins_of
from flowcore.sizing.aiming.trials import Outcome, Staffing, Trial

FIRST = 20
"""Replications after which decisions begin."""
MORE = 20
MOST = 200
"""Replications after which what is still open is decided as an interval says."""
NEARLY = 0.005
"""A target that is kept by less than this, a share or a part of the limit, may be taken for missed; one that is missed
may not be taken for kept."""
NEARLY_IN_AN_INTERVAL = 0.04
A_LITTLE_CHEAPER = 0.001
"""A difference of so small a share of the cost does not matter."""


class Standing(StrEnum):
    """What is known of a candidate's targets."""

    HOLDS = "holds"
    MISSES = "misses"
    OPEN = "open"


@dataclass(frozen=True)
class Judged:
    """A candidate, what its replications say, how its targets stand, and whether another is cheaper."""

    staffing: Staffing
    outcome: Outcome
    standing: Standing
    beaten: bool


@dataclass(frozen=True)
class Choice:
    """All candidates, and which of them is the cheapest that holds; None where none is known to."""

    candidates: list[Judged]
    chosen: int | None
    is_sure: bool


def choose(aims: Aims, staffings: Sequence[Staffing]) -> Generator[list[Trial], list[Outcome], Choice]:
    """Choose among staffings: ask for trials until the cheapest that holds is known, or enough were asked for."""
    outcomes: list[Outcome] = yield [Trial(each, tuple(range(FIRST)), fresh=True) for each in staffings]
    errors = _Errors(aims, len(staffings))
    deciders = [_Feasibility(aims, outcome, errors) for outcome in outcomes]
    standings = [each.decide(outcome) for each, outcome in zip(deciders, outcomes, strict=True)]
    beaten = _beaten(outcomes, standings, errors)
    count = FIRST
    while count < MOST and (ahead := _in_the_running(standings, beaten, outcomes)):
        numbers = tuple(range(count, count + MORE))
        added = yield [Trial(staffings[n], numbers, fresh=True) for n in ahead]
        for n, more in zip(ahead, added, strict=True):
            outcomes[n] = outcomes[n].with_more(more)
            if standings[n] is Standing.OPEN:
                standings[n] = deciders[n].decide(outcomes[n])
        count += MORE
        beaten = _beaten(outcomes, standings, errors)
    is_sure = not _in_the_running(standings, beaten, outcomes)
    standings = [
        _by_interval(aims, outcome) if standing is Standing.OPEN else standing
        for outcome, standing in zip(outcomes, standings, strict=True)
    ]
    judged = [Judged(*each) for each in zip(staffings, outcomes, standings, beaten, strict=True)]
    holding = [n for n, each in enumerate(judged) if each.standing is Standing.HOLDS]
    chosen = min(holding, key=lambda n: float(judged[n].outcome.costs.mean()), default=None)
    return Choice(judged, chosen, is_sure)


class _Errors:
    """How much error each decision may have, so that all together have no more than is wanted."""

    def __init__(self, aims: Aims, candidates: int) -> None:
        error = 1 - min((aim.target.sure for aim in aims.aims), default=0.95)
        decisions = candidates * max(1, sum(aim.cells for aim in aims.aims))
        self.of_target = error / 2 / decisions
        self.of_cost = error / 2 / max(1, candidates - 1)


class _Feasibility:
    """Decides whether a candidate holds, once for each cell of each aim, by the spread of its FIRST replications."""

    def __init__(self, aims: Aims, first: Outcome, errors: _Errors) -> None:
        self._aims = aims
        eta = _eta(errors.of_target)
        self._spread = [2 * eta * (FIRST - 1) * (each.error**2 * first.count) for each in margins_of(aims, first)]
        self._cells = [each.cells for each in margins_of(aims, first)]
        self._decided = [np.zeros(len(each), np.int64) for each in self._cells]

    def decide(self, outcome: Outcome) -> Standing:
        """Return how the targets stand: held when all cells are, missed when one is."""
        count = outcome.count
        for number, (aim, cells) in enumerate(self._aims.split(outcome.cells)):
            part, whole = cells[:, 0, self._cells[number]], cells[:, 1, self._cells[number]]
            zone = NEARLY if aim.cells == 1 else NEARLY_IN_AN_INTERVAL
            margins = aim.margins(part, whole) / whole.mean(axis=0)
            sums = (margins - zone / 2).sum(axis=0)
            width = np.maximum(0.0, self._spread[number] / zone - zone * count / 4)
            is_open = self._decided[number] == 0
            self._decided[number] = np.where(
                is_open & (np.abs(sums) >= width), np.where(sums >= 0, 1, -1), self._decided[number]
            )
        if any(bool((each < 0).any()) for each in self._decided):
            return Standing.MISSES
        return Standing.HOLDS if all((each > 0).all() for each in self._decided) else Standing.OPEN


def _eta(error: float) -> float:
    """Return the η of Kim and Nelson for a chance of error, with the spread of the FIRST replications."""
    return (math.pow(2 * error, -2 / (FIRST - 1)) - 1) / 2


def _by_interval(aims: Aims, outcome: Outcome) -> Standing:
    """Return how the targets stand by an interval of the mean on one side."""
    for each in margins_of(aims, outcome):
        reach = float(stdtrit(outcome.count - 1, each.aim.target.sure))
        if (each.mean - reach * each.error < 0).any():
            return Standing.MISSES
    return Standing.HOLDS


def _beaten(outcomes: Sequence[Outcome], standings: Sequence[Standing], errors: _Errors) -> list[bool]:
    """Return which candidates cost more than one that holds; of two that cost the same the later one does."""
    holding = [n for n, standing in enumerate(standings) if standing is Standing.HOLDS]
    return [
        any(
            _costs_more(outcome.costs, outcomes[other].costs, errors.of_cost, is_later=n > other)
            for other in holding
            if other != n
        )
        for n, outcome in enumerate(outcomes)
    ]


def _costs_more(one: Floats, other: Floats, error: float, is_later: bool) -> bool:
    """Say whether one costs more than the other, by the replications that both have; see Kim and Nelson.

    Once a difference that matters would have shown, the one that seems to cost more does, or the later one.
    """
    both = min(len(one), len(other))
    differences = one[:both] - other[:both]
    matters = A_LITTLE_CHEAPER * max(float(abs(other[:both].mean())), 1e-9)
    spread: float = differences[:FIRST].var(ddof=1)
    width = max(0.0, _eta(error) * (FIRST - 1) * spread / matters - matters * both / 2)
    total = float(differences.sum())
    return total > width or (width == 0 and total == 0 and is_later)


def _in_the_running(standings: Sequence[Standing], beaten: Sequence[bool], outcomes: Sequence[Outcome]) -> list[int]:
    """Return the candidates of which more must be known; none when one is left that holds, or none can."""
    left = [n for n, standing in enumerate(standings) if standing is not Standing.MISSES and not beaten[n]]
    holding = [n for n in left if standings[n] is Standing.HOLDS]
    if len(left) == len(holding) and len(left) <= 1:
        return []
    costs = [float(each.costs.mean()) for each in outcomes]
    cheapest = min((costs[n] for n in holding), default=np.inf)
    open_ones = [n for n in left if standings[n] is Standing.OPEN and costs[n] < cheapest]
    return [*open_ones, *(holding if open_ones or len(holding) > 1 else [])]
