"""What a run says: every figure of every replication, and the intervals over them."""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property, reduce
from operator import add

import numpy as np
from numpy.typing import NDArray

from flowcore.results.histogram import Histogram
from flowcore.results.replication import Replication
from flowcore.results.statistics import Estimate, estimate


@dataclass(frozen=True)
class Results:
    """The replications of one study, in the order of their numbers."""

    replications: list[Replication]
    confidence: float

    @classmethod
    def of(cls, replications: Iterable[Replication], confidence: float) -> "Results":
        """Gather replications that may come in any order."""
        return cls(sorted(replications, key=lambda each: each.number), confidence)

    @cached_property
    def values(self) -> dict[str, NDArray[np.float64]]:
        """Each figure's values, one number a replication."""
        addresses = self.replications[0].figures if self.replications else {}
        return {address: np.array([each.figures[address] for each in self.replications]) for address in addresses}

    def lacking(self, addresses: Iterable[str], within: float, at_most: int) -> int:
        """Return how many more replications are needed until half-widths are within a share of their means.

        By the spread so far, at least one where it is not enough, and never beyond `at_most` in all.
        Source: Law, Simulation Modeling and Analysis (2015), section 9.4.1, a sequential procedure.
        """
        known = len(self.replications)
        needed = known
        for address in addresses:
            found = self.figure(address)
            if found.half_width is None or found.mean is None:
                needed = max(needed, known + 1)
            elif found.half_width > within * abs(found.mean):
                ratio = found.half_width / max(within * abs(found.mean), 1e-300)
                needed = max(needed, known + 1, int(min(known * ratio**2, 2.0 * known)))
        return max(0, min(needed, at_most) - known)

    def figure(self, address: str) -> Estimate:
        """Return one figure with its interval; KeyError names an address that is not there."""
        return estimate(self.values[address], self.confidence)

    def figures(self) -> dict[str, Estimate]:
        """Return every figure with its interval."""
        return {address: estimate(values, self.confidence) for address, values in self.values.items()}

    def series(self) -> dict[str, NDArray[np.float64]]:
        """Return the mean over the replications of each series by interval; NaN where none has a value."""
        rows = self.replications[0].series if self.replications else {}
        return {address: _mean_course([each.series[address] for each in self.replications]) for address in rows}

    def levels(self) -> dict[str, NDArray[np.float64]]:
        """Return for how large a share of the time each level was how high, over the replications."""
        rows = self.replications[0].levels if self.replications else {}
        return {address: _mean_course([each.levels[address] for each in self.replications]) for address in rows}

    def waits(self) -> dict[str, Histogram]:
        """Return the waits of all replications together, by subject."""
        subjects = self.replications[0].waits if self.replications else {}
        return {subject: reduce(add, (each.waits[subject] for each in self.replications)) for subject in subjects}


def _mean_course(rows: list[NDArray[np.float64]]) -> NDArray[np.float64]:
    """Return the mean of rows of equal length, place by place, over those that have a value."""
    table = np.array(rows)
    known = ~np.isnan(table)
    many = known.sum(axis=0)
    sums = np.where(known, table, 0.0).sum(axis=0)
    means: NDArray[np.float64] = np.divide(sums, many, out=np.full(table.shape[1], np.nan), where=many > 0)
    return means
