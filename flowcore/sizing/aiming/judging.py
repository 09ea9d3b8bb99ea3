"""Whether a staffing keeps its targets, by the replications so far, and by how much."""

import math
from dataclasses import dataclass

import numpy as np
from scipy.special import stdtrit

from flowcore.sizing.aiming.aims import SOME_CASES, Aim, Aims
from flowcore.sizing.aiming.trials import Outcome
from flowcore.sizing.grid import Floats, Whole

TINY = 1e-9
UNKNOWN = 10.0
"""By so much a target is missed, in parts of its limit, of which nothing is known."""
MOST_NEEDED = 1e6
CAUTION = 1.0
"""So many standard errors a figure must be on the right side while rosters are looked for: they are chosen by the same
luck by which they are judged, and so look better than they are."""


@dataclass(frozen=True)
class Margins:
    """How far an aim is kept in each cell that can be judged: the mean, its standard error, and of which cells."""

    aim: Aim
    mean: Floats
    error: Floats
    cells: Whole

    @property
    def cautious(self) -> Floats:
        """The margin of each cell less some of its error."""
        less: Floats = self.mean - CAUTION * self.error
        return less

    @property
    def least(self) -> float:
        """The cautious margin of the worst cell."""
        return float(self.cautious.min(initial=np.inf))


def margins_of(aims: Aims, outcome: Outcome) -> list[Margins]:
    """Return how far each aim is kept: ratios of sums over the replications, with the error of these.

    A figure of the run that no replication has is not kept, nor is anything where the service stands still.

    Source of the error: Cochran, Sampling Techniques (1977), section 2.11, the ratio estimator.
    """
    found = []
    for aim, cells in aims.split(outcome.cells):
        part, whole = cells[:, 0], cells[:, 1]
        mean_whole = whole.mean(axis=0)
        enough = mean_whole >= SOME_CASES if aim.cells > 1 else mean_whole > 0
        places = np.flatnonzero(enough)
        if outcome.stands_still or (aim.cells == 1 and not len(places)):
            found.append(Margins(aim, np.array([-UNKNOWN]), np.array([0.0]), np.array([0])))
            continue
        margins = aim.margins(part[:, places], whole[:, places]) / mean_whole[places]
        error = margins.std(axis=0, ddof=1) / np.sqrt(len(margins)) if len(margins) > 1 else np.zeros(len(places))
        found.append(Margins(aim, margins.mean(axis=0), error, places))
    return found


def least_margin(aims: Aims, outcome: Outcome) -> float:
    """Return the cautious margin of the worst cell of all aims: not below zero where all are kept."""
    return min((each.least for each in margins_of(aims, outcome)), default=np.inf)


def spread_of_worst(aims: Aims, outcome: Outcome) -> tuple[float, float]:
    """Return the mean margin of the worst cell of all aims, and the standard deviation of one replication's."""
    worst, spread = np.inf, 0.0
    for each in margins_of(aims, outcome):
        if len(each.mean) and each.mean.min() < worst:
            place = int(np.argmin(each.mean))
            worst, spread = float(each.mean[place]), float(each.error[place]) * outcome.count**0.5
    return worst, spread


def figure_of_first(aims: Aims, outcome: Outcome) -> tuple[float, float]:
    """Return the figure of the first aim, and its standard error: of the run, or of the worst day or interval."""
    aim, cells = next(aims.split(outcome.cells))
    parts, wholes = cells[:, 0], cells[:, 1]
    known = np.flatnonzero(wholes.sum(axis=0) > 0)
    if not len(known):
        return float("nan"), float("nan")
    ratios = parts[:, known].sum(axis=0) / wholes[:, known].sum(axis=0)
    worst = int(np.argmin(aim.sign * ratios))
    apart = parts[:, known[worst]] - ratios[worst] * wholes[:, known[worst]]
    error = apart.std(ddof=1) / wholes[:, known[worst]].mean() / outcome.count**0.5 if outcome.count > 1 else 0.0
    return float(ratios[worst]), float(error)


def replications_needed(aims: Aims, outcome: Outcome) -> int:
    """Return about how many replications would tell whether all targets are kept, by their margins and spread so far.

    Rounded up to tens; Law, Simulation Modeling and Analysis (2015), section 9.4.1.
    """
    needed = float(outcome.count)
    for each in margins_of(aims, outcome):
        reach = float(stdtrit(max(1, outcome.count - 1), each.aim.target.sure))
        ratio = reach * each.error / np.maximum(np.abs(each.mean), TINY)
        needed = max(needed, outcome.count * float((ratio**2).max(initial=0.0)))
    return math.ceil(min(needed, MOST_NEEDED) / 10) * 10


def holds_in(aims: Aims, outcome: Outcome) -> int:
    """Return in how many replications, each by itself, all figures of the whole run keep their limits."""
    kept = np.ones(outcome.count, bool)
    for aim, cells in aims.split(outcome.cells):
        if aim.cells == 1:
            kept &= aim.margins(cells[:, 0, 0], cells[:, 1, 0]) >= 0
    return int(kept.sum())
