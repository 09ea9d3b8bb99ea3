"""What a run says: every figure of every replication, and the intervals over them."""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from flowcore.results.catalogue import EACH
from flowcore.results.histogram import Histogram
from flowcore.results.pooled import Pool
from flowcore.results.replication import Replication, Row
from flowcore.results.statistics import PERCENTILE_NAMES, Estimate, estimate, estimates
from flowcore.study import minutes


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
        rows = [each.figures for each in self.replications]
        if all(isinstance(row, Row) for row in rows):
            table = np.array([row.numbers for row in rows if isinstance(row, Row)])
            return dict(zip(rows[0], table.T, strict=True)) if rows else {}
        return {address: np.array([row[address] for row in rows]) for address in rows[0]}

    def replications_needed(self, addresses: Iterable[str], within: float, at_most: int) -> int:
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
        return estimate(self.contributions(address), self.confidence)

    def figures(self) -> dict[str, Estimate]:
        """Return every figure with its interval."""
        of_each = [f"{subject}/{name}{EACH}" for subject in self._pools for name in PERCENTILE_NAMES]
        addresses = [*self.values, *of_each]
        if not addresses:
            return {}
        found = estimates(np.array([self.contributions(address) for address in addresses]), self.confidence)
        return dict(zip(addresses, found, strict=True))

    def contributions(self, address: str) -> NDArray[np.float64]:
        """Return one number a replication, of which the figure is the mean.

        KeyError names an address that is not there, ValueError says what is wrong with a time. Percentiles of waits and
        of times in all are those of the cases of all replications together, with `:each` those of each replication.
        Shares `within:` any time are at hand for the same quantities.
        """
        subject, _, statistic = address.rpartition("/")
        pool = self._pools.get(subject)
        if pool is not None and statistic in PERCENTILE_NAMES:
            of_all: NDArray[np.float64] = pool.percentiles[PERCENTILE_NAMES.index(statistic)]
            return of_all
        if pool is not None and address not in self.values and statistic.startswith("within:"):
            return pool.within(minutes(statistic.removeprefix("within:")))
        return self.values[address.removesuffix(EACH)]

    def has(self, address: str) -> bool:
        """Say whether a figure is at hand."""
        try:
            self.contributions(address)
        except (KeyError, ValueError):
            return False
        return True

    def histogram(self, quantity: str) -> Histogram | None:
        """Return how all cases spread in a quantity, such as `type/all/wait`, where that is kept."""
        pool = self._pools.get(quantity)
        return None if pool is None else pool.whole

    def bin_of(self, address: str) -> float | None:
        """Return how wide the bins are, in minutes, where a share `within:` a time cuts one; None where it does not."""
        subject, _, statistic = address.rpartition("/")
        if address in self.values or not statistic.startswith("within:") or subject not in self._pools:
            return None
        width = self._pools[subject].width
        return width if minutes(statistic.removeprefix("within:")) % width else None

    @cached_property
    def _pools(self) -> dict[str, Pool]:
        """The cases of all replications together, by each subject and quantity of which there are histograms."""
        addresses = self.replications[0].histograms if self.replications else {}
        return {address: self._pool(address) for address in addresses}

    def _pool(self, address: str) -> Pool:
        histograms = [each.histograms[address] for each in self.replications]
        none = np.nan_to_num(self.values[f"{address}/none"])
        zeros = [round(share * sum(each.counts)) for share, each in zip(none, histograms, strict=True)]
        exact = np.array([self.values[f"{address}/{name}"] for name in PERCENTILE_NAMES])
        return Pool(histograms, zeros, exact, self.confidence)

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
        return {
            address.removesuffix("/wait"): pool.whole
            for address, pool in self._pools.items()
            if address.endswith("/wait")
        }


def _mean_course(rows: list[NDArray[np.float64]]) -> NDArray[np.float64]:
    """Return the mean of rows of equal length, place by place, over those that have a value."""
    table = np.array(rows)
    known = ~np.isnan(table)
    many = known.sum(axis=0)
    sums = np.where(known, table, 0.0).sum(axis=0)
    means: NDArray[np.float64] = np.divide(sums, many, out=np.full(table.shape[1], np.nan), where=many > 0)
    return means
