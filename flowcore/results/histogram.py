"""A histogram that can be added to others exactly, whatever their ranges."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Counts = NDArray[np.int64]
MOST_BINS = 256
FINEST = -6


@dataclass(frozen=True)
class Histogram:
    """Counts in bins of 2**exponent minutes from zero; widths are powers of two so that bins merge.

    What is on the edge of two bins is in the lower, so that whole bins hold all up to their end.
    """

    exponent: int
    counts: tuple[int, ...]

    @property
    def width(self) -> float:
        """The width of a bin in minutes."""
        return 2.0**self.exponent

    @classmethod
    def of(cls, values: NDArray[np.float64]) -> "Histogram":
        """Return the histogram of non-negative values with the finest width that needs few bins."""
        highest = float(values.max()) if len(values) else 0.0
        exponent = FINEST
        while highest > MOST_BINS * 2.0**exponent:
            exponent += 1
        bins = np.maximum(np.ceil(values / 2.0**exponent).astype(np.int64) - 1, 0)
        return cls(exponent, tuple(np.bincount(bins).tolist()))

    def coarser(self, exponent: int) -> "Histogram":
        """Return the same counts in wider bins."""
        counts = np.array(self.counts, np.int64)
        for _ in range(exponent - self.exponent):
            counts = np.append(counts, 0) if len(counts) % 2 else counts
            counts = counts.reshape(-1, 2).sum(axis=1)
        return Histogram(exponent, tuple(counts.tolist()))

    def __add__(self, other: "Histogram") -> "Histogram":
        exponent = max(self.exponent, other.exponent)
        mine, theirs = self.coarser(exponent).counts, other.coarser(exponent).counts
        length = max(len(mine), len(theirs))
        total = np.pad(mine, (0, length - len(mine))) + np.pad(theirs, (0, length - len(theirs)))
        return Histogram(exponent, tuple(int(count) for count in total))

    def percentiles(self, shares: Floats, zeros: int) -> Floats:
        """Return the percentiles at these shares; see `Table`."""
        of_one: Floats = Table.of([self], [zeros]).percentiles(shares)[0]
        return of_one


@dataclass(frozen=True)
class Table:
    """Histograms with bins of the same width, a row each, of shape (rows, bins); `zeros` of each are exactly 0."""

    width: float
    counts: Counts
    zeros: Counts

    @classmethod
    def of(cls, histograms: Sequence[Histogram], zeros: Sequence[int]) -> "Table":
        """Return a table of histograms that have the same exponent."""
        bins = max(1, *(len(each.counts) for each in histograms))
        counts = np.zeros((len(histograms), bins), np.int64)
        for row, each in enumerate(histograms):
            counts[row, : len(each.counts)] = each.counts
        return cls(histograms[0].width, counts, np.array(zeros, np.int64))

    def at_ranks(self, ranks: Floats) -> Floats:
        """Return the values at ranks counted from 0, both of shape (rows, ranks), wrong by less than a bin."""
        counts = self.counts.copy()
        counts[:, 0] -= self.zeros
        up_to = np.cumsum(counts, axis=1) + self.zeros[:, None]
        bins = (up_to[:, :, None] <= ranks[:, None, :]).sum(axis=1)
        bins = np.minimum(bins, counts.shape[1] - 1)
        here = np.take_along_axis(counts, bins, axis=1)
        into = (ranks - (np.take_along_axis(up_to, bins, axis=1) - here) + 0.5) / np.maximum(here, 1)
        return np.where(ranks < self.zeros[:, None], 0.0, (bins + np.clip(into, 0.0, 1.0)) * self.width)

    def percentiles(self, shares: Floats) -> Floats:
        """Return the percentiles at these shares, of shape (rows, shares), defined as in `sample_statistics`.

        They are wrong by less than a bin.
        """
        position = (self.counts.sum(axis=1)[:, None] - 1) * np.clip(shares, 0.0, 1.0)
        below = np.floor(position)
        low, high = self.at_ranks(below), self.at_ranks(np.ceil(position))
        found: Floats = low + (position - below) * (high - low)
        return found

    def number_within(self, limit: float) -> Floats:
        """Return how many values of each are at most a limit, exact at the end of a bin, else wrong by less than it."""
        if limit < 0:
            return np.zeros(len(self.counts))
        place = limit / self.width
        whole = min(int(place), self.counts.shape[1])
        zeros = self.zeros if whole == 0 else np.zeros_like(self.zeros)
        inside = self.counts[:, whole] - zeros if whole < self.counts.shape[1] else zeros
        found: Floats = np.maximum(zeros, self.counts[:, :whole].sum(axis=1)) + (place - whole) * inside
        return found
