"""Figures of the cases of all replications together: percentiles, and shares within any time, from histograms."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy.special import stdtrit

from flowcore.kernel.summary.percentiles import PERCENTILES
from flowcore.results.histogram import Counts, Floats, Histogram, Table

SHARES = np.array(PERCENTILES) / 100


@dataclass(frozen=True)
class Pool:
    """One quantity of the cases of all replications.

    Of each replication: a histogram, how many cases are exactly zero, and its own exact percentiles, of shape
    (PERCENTILES, replications).
    """

    histograms: Sequence[Histogram]
    zeros: Sequence[int]
    exact: Floats
    confidence: float

    @cached_property
    def counts(self) -> Counts:
        """How many cases each replication has."""
        return np.array([each.total for each in self.histograms], np.int64)

    @cached_property
    def whole(self) -> Histogram:
        """The cases of all replications together."""
        return Histogram(self._table.counts.sum(axis=0))

    @cached_property
    def percentiles(self) -> Floats:
        """What each replication contributes to the percentiles of all cases, of shape (PERCENTILES, replications).

        The mean of the contributions is the percentile of all cases together, and their spread is that of the
        percentile: a replication with more cases above it than its part pulls it up, by as much as the percentile moves
        with the share below it over the interval of that share. Not-a-number where a replication has no cases. Source:
        Woodruff, Confidence intervals for medians and other position measures, Journal of the American Statistical
        Association 47 (1952).
        """
        known = np.flatnonzero(self.counts)
        if len(known) < 2:
            return self.exact
        whole, zeros, every = self.whole, sum(self.zeros), self.counts.sum()
        at = whole.percentiles(SHARES, zeros)
        beyond, own = self._of_each(at)
        beyond = beyond[:, known] - beyond[:, known].mean(axis=1, keepdims=True)
        error = len(known) ** 0.5 * beyond.std(axis=1, ddof=1) / every
        reach = float(stdtrit(len(known) - 1, (1 + self.confidence) / 2)) * error
        span = whole.percentiles(SHARES + reach, zeros) - whole.percentiles(SHARES - reach, zeros)
        slope = np.divide(span, 2 * reach, out=np.zeros_like(span), where=reach > 0)
        misled_by_bins = (self.exact - own)[:, known].mean(axis=1)
        result = np.full_like(self.exact, np.nan)
        result[:, known] = (at + misled_by_bins)[:, None] - beyond * slope[:, None] * len(known) / every
        return result

    def _of_each(self, limits: Floats) -> tuple[Floats, Floats]:
        """Return how many more cases of each replication are within limits than the SHARES, and its own percentiles.

        Both are by its histogram, of shape (PERCENTILES, replications).
        """
        within = np.array([self._table.number_within(limit) for limit in limits])
        return within - self.counts * SHARES[:, None], self._table.percentiles(SHARES).T

    @cached_property
    def _table(self) -> Table:
        return Table.of(self.histograms, self.zeros)

    def within(self, limit: float) -> Floats:
        """Return each replication's share of cases within a limit; not-a-number where it has no cases."""
        found, counts = self._table.number_within(limit), self.counts
        shares: Floats = np.divide(found, counts, out=np.full(len(counts), np.nan), where=counts > 0)
        return shares
