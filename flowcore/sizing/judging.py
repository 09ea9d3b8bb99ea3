"""Whether a staffing keeps its targets, by the replications so far, and by how much."""

from dataclasses import dataclass

import numpy as np

from flowcore.sizing.aims import SOME_CASES, Aim, Aims
from flowcore.sizing.grid import Floats, Whole
from flowcore.sizing.trials import Outcome

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
    def least(self) -> float:
        """The cautious margin of the worst cell."""
        return float((self.mean - CAUTION * self.error).min(initial=np.inf))


def margins_of(aims: Aims, outcome: Outcome) -> list[Margins]:
    """Return how far each aim is kept: ratios of sums over the replications, with the error of these.

    Source of the error: Cochran, Sampling Techniques (1977), section 2.11, the ratio estimator.
    """
    found = []
    for aim, cells in aims.split(outcome.cells):
        part, whole = cells[:, 0], cells[:, 1]
        mean_whole = whole.mean(axis=0)
        enough = mean_whole >= SOME_CASES if aim.cells > 1 else mean_whole > 0
        places = np.flatnonzero(enough)
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


def holds_in(aims: Aims, outcome: Outcome) -> int:
    """Return in how many replications, each by itself, all figures of the whole run keep their limits."""
    kept = np.ones(outcome.count, bool)
    for aim, cells in aims.split(outcome.cells):
        if aim.cells == 1:
            kept &= aim.margins(cells[:, 0, 0], cells[:, 1, 0]) >= 0
    return int(kept.sum())
