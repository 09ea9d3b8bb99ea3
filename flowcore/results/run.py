"""What a run says: every figure of every replication, and the intervals over them."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from flowcore.results.aims import Aims
from flowcore.results.catalogue import EACH, HOURS_A_WEEK, hour_of
from flowcore.results.histogram import Histogram, bin_cut_by
from flowcore.results.pooled import Pool
from flowcore.results.replication import Replication
from flowcore.results.rows import Means, Row, Rows
from flowcore.results.statistics import (
    PERCENTILE_NAMES,
    Estimate,
    estimate,
    estimates,
    means_and_half_widths,
)
from flowcore.study import minutes


@dataclass(frozen=True)
class Results:
    """The replications of one study, in the order of their numbers, and the means of their series and levels."""

    replications: list[Replication]
    confidence: float
    _series: Means = field(default_factory=Means, repr=False, compare=False)
    _levels: Means = field(default_factory=Means, repr=False, compare=False)

    @classmethod
    def of(cls, replications: Iterable[Replication], confidence: float) -> "Results":
        """Gather replications that may come in any order; only the means of their series and levels are kept."""
        kept, series, levels = [], Means(), Means()
        for each in replications:
            series.add(each.series)
            levels.add(each.levels)
            kept.append(each.to_keep())
        return cls(sorted(kept, key=lambda each: each.number), confidence, series, levels)

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
        Shares `within:` any time are at hand for the same quantities, `hour:` any hour of the week for those of `week`.
        """
        subject, _, statistic = address.rpartition("/")
        pool = self._pools.get(subject)
        if (hour := hour_of(statistic)) is not None:
            of_hour: NDArray[np.float64] = self.by_hour(subject)[:, hour]
            return of_hour
        if pool is not None and statistic in PERCENTILE_NAMES:
            of_all: NDArray[np.float64] = pool.percentiles[PERCENTILE_NAMES.index(statistic)]
            return of_all
        if pool is not None and address not in self.values and statistic.startswith("within:"):
            return pool.within(minutes(statistic.removeprefix("within:")))
        return self.values[address.removesuffix(EACH)]

    def by_hour(self, quantity: str) -> NDArray[np.float64]:
        """Return a quantity by the hour of the week, such as `step/counter/wait`, of shape (replications, 168).

        KeyError names a quantity that is not there.
        """
        return np.array([each.week[quantity] for each in self.replications])

    def cells(self, aims: Aims) -> NDArray[np.float64] | None:
        """Return what aims of days or intervals are judged by, shape (replications, 2, cells); None if not told."""
        keys = [aim.key for aim in aims.aims]
        if not self.replications or not keys or any(key not in self.replications[0].cells for key in keys):
            return None
        return np.array([np.concatenate([each.cells[key] for key in keys], axis=1) for each in self.replications])

    def weeks(self, quantities: Sequence[str]) -> NDArray[np.float64]:
        """Return the means of quantities by the hour of the week, and half their intervals; see `by_hour`.

        The shape is (2, quantities, 168).
        """
        if not quantities:
            return np.zeros((2, 0, HOURS_A_WEEK))
        table = np.concatenate([self.by_hour(quantity).T for quantity in quantities])
        found = np.stack(means_and_half_widths(table, self.confidence))
        return found.reshape(2, len(quantities), HOURS_A_WEEK)

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

    def zeros(self, quantity: str) -> int:
        """Return how many of all cases have exactly nothing of a quantity of which there is a histogram."""
        return int(sum(self._pools[quantity].zeros))

    def histograms(self) -> dict[str, Histogram]:
        """Return how all cases spread in each quantity of which that is kept."""
        return {quantity: pool.whole for quantity, pool in self._pools.items()}

    def bin_of(self, address: str) -> float | None:
        """Return how wide the bin is, in minutes, that a share `within:` a time cuts; None where it cuts none."""
        subject, _, statistic = address.rpartition("/")
        if address in self.values or not statistic.startswith("within:") or subject not in self._pools:
            return None
        return bin_cut_by(minutes(statistic.removeprefix("within:")))

    @cached_property
    def _pools(self) -> dict[str, Pool]:
        """The cases of all replications together, by each subject and quantity of which there are histograms."""
        addresses = self.replications[0].histograms if self.replications else {}
        return {address: self._pool(address) for address in addresses}

    def _pool(self, address: str) -> Pool:
        histograms = [each.histograms[address] for each in self.replications]
        none = np.nan_to_num(self.values[f"{address}/none"])
        zeros = [round(share * each.total) for share, each in zip(none, histograms, strict=True)]
        exact = np.array([self.values[f"{address}/{name}"] for name in PERCENTILE_NAMES])
        return Pool(histograms, zeros, exact, self.confidence)

    def series(self) -> Rows:
        """Return the mean over the replications of each series by interval; NaN where none has a value."""
        return self._series.rows()

    def levels(self) -> Rows:
        """Return for how large a share of the time each level was how high, over the replications."""
        return self._levels.rows()
