"""Figures of the cases of all replications together: percentiles, and shares within any time, from histograms."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, reduce
from operator import add

import numpy as np
from numpy.typing import NDArray
from scipy.special import stdtrit

from flowcore.results.histogram import Histogram
from flowcore.results.statistics import PERCENTILES

SHARES = np.array(PERCENTILES) / 100
Floats = NDArray[np.float64]


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
    def counts(self) -> NDArray[np.int64]:
        """How many cases each replication has."""
        return np.array([sum(each.counts) for each in self.histograms], np.int64)

    @cached_property
    def percentiles(self) -> Floats:
        """What each replication contributes to the percentiles of all cases, of shape (PERCENTILES, replications).

        The mean of the contributions is the percentile of all cases together, and their spread is that of the
        percentile: a replication with more cases above it than its part pulls it up, by as much as the percentile moves
        with the share below it over the interval of that share. Not-a-number where a replication has no cases. Source:
        Woodruff, Confidence intervals for medians and other position measures, Journal of the American Statistical
        Association 47 (1952).
        """
        known = np.flatnonzero(self.counts).tolist()
        if len(known) < 2:
            return self.exact
        whole, zeros, every = reduce(add, self.histograms), sum(self.zeros), self.counts.sum()
        at = whole.percentiles(SHARES, zeros)
        beyond = np.array([self._number_beyond(number, at) for number in known]).T
        beyond -= beyond.mean(axis=1, keepdims=True)
        error = len(known) ** 0.5 * beyond.std(axis=1, ddof=1) / every
        reach = float(stdtrit(len(known) - 1, (1 + self.confidence) / 2)) * error
        span = whole.percentiles(SHARES + reach, zeros) - whole.percentiles(SHARES - reach, zeros)
        slope = np.divide(span, 2 * reach, out=np.zeros_like(span), where=reach > 0)
        result = np.full_like(self.exact, np.nan)
        result[:, known] = (at + self._misled_by_bins(known))[:, None] - beyond * slope[:, None] * len(known) / every
        return result

    def _number_beyond(self, number: int, limits: Floats) -> Floats:
        """Return how many more cases of a replication are within limits than the SHARES of them."""
        here, zeros = self.histograms[number], self.zeros[number]
        found: Floats = np.array([here.number_within(limit, zeros) for limit in limits]) - self.counts[number] * SHARES
        return found

    def _misled_by_bins(self, known: list[int]) -> Floats:
        """Return by how much the replications' exact percentiles are above those of their histograms, on average."""
        found = np.array([self.histograms[number].percentiles(SHARES, self.zeros[number]) for number in known])
        misled: Floats = (self.exact[:, known] - found.T).mean(axis=1)
        return misled

    @property
    def width(self) -> float:
        """How wide the widest bin is, in minutes."""
        return max((each.width for each in self.histograms), default=0.0)

    def within(self, limit: float) -> Floats:
        """Return each replication's share of cases within a limit; not-a-number where it has no cases."""
        found = [each.number_within(limit, zeros) for each, zeros in zip(self.histograms, self.zeros, strict=True)]
        counts = self.counts
        shares: Floats = np.divide(found, counts, out=np.full(len(counts), np.nan), where=counts > 0)
        return shares
