"""How far targets are kept, with which error: in the run, or in each day or interval of the week."""

from dataclasses import dataclass

import numpy as np

from flowcore.results.aims import Aim, Aims
from flowcore.results.week_grid import Floats, Whole

UNKNOWN = 10.0
"""By so much a target is missed, in parts of its limit, of which nothing is known."""
SOME_CASES = 0.5
"""An interval of the week to which fewer cases come, on average, has nothing that could be judged."""
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


def margins_in(aims: Aims, cells: Floats) -> list[Margins]:
    """Return how far each aim is kept: ratios of sums over the replications, with the error of these.

    `cells` are part and whole of every cell, shape (replications, 2, cells). A figure of the run that no replication
    has is not kept.

    Source of the error: Cochran, Sampling Techniques (1977), section 2.11, the ratio estimator.
    """
    found = []
    for aim, own in aims.split(cells):
        part, whole = own[:, 0], own[:, 1]
        mean_whole = whole.mean(axis=0)
        places = np.flatnonzero(mean_whole >= SOME_CASES if aim.cells > 1 else mean_whole > 0)
        if aim.cells == 1 and not len(places):
            found.append(unknown(aim))
            continue
        margins = aim.margins(part[:, places], whole[:, places]) / mean_whole[places]
        error = margins.std(axis=0, ddof=1) / np.sqrt(len(margins)) if len(margins) > 1 else np.zeros(len(places))
        found.append(Margins(aim, margins.mean(axis=0), error, places))
    return found


def unknown(aim: Aim) -> Margins:
    """Return that an aim is missed because nothing is known of it."""
    return Margins(aim, np.array([-UNKNOWN]), np.array([0.0]), np.array([0]))
