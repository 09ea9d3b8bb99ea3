"""Whether a staffing keeps its targets, by the replications so far, and by how much."""

import math

import numpy as np
from scipy.special import stdtrit

from flowcore.results.aims import Aims
from flowcore.results.margins import Margins, margins_in, unknown
from flowcore.sizing.aiming.trials import Outcome

TINY = 1e-9
MOST_NEEDED = 1e6


def margins_of(aims: Aims, outcome: Outcome) -> list[Margins]:
    """Return how far each aim is kept; none is where the service stands still."""
    if outcome.stands_still:
        return [unknown(aim) for aim in aims.aims]
    return margins_in(aims, outcome.cells)


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
