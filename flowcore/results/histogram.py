"""A histogram that can be added to others exactly, whatever their ranges."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

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

    def at_ranks(self, ranks: NDArray[np.float64], zeros: int) -> NDArray[np.float64]:
        """Return the values at ranks counted from 0, wrong by less than a bin; `zeros` of all are exactly 0."""
        counts = np.array(self.counts, np.int64)
        counts[0] -= zeros
        up_to = np.cumsum(counts) + zeros
        bins = np.minimum(np.searchsorted(up_to, ranks, side="right"), len(counts) - 1)
        into = (ranks - (up_to[bins] - counts[bins]) + 0.5) / np.maximum(counts[bins], 1)
        return np.where(ranks < zeros, 0.0, (bins + np.clip(into, 0.0, 1.0)) * self.width)

    def percentiles(self, shares: NDArray[np.float64], zeros: int) -> NDArray[np.float64]:
        """Return the percentiles at these shares, defined as in `sample_statistics`, wrong by less than a bin."""
        position = (sum(self.counts) - 1) * np.clip(shares, 0.0, 1.0)
        below = np.floor(position)
        low, high = self.at_ranks(below, zeros), self.at_ranks(np.ceil(position), zeros)
        return low + (position - below) * (high - low)

    def number_within(self, limit: float, zeros: int) -> float:
        """Return how many values are at most a limit: exact at the end of a bin, else wrong by less than its count."""
        if limit < 0:
            return 0.0
        place = limit / self.width
        whole = min(int(place), len(self.counts))
        inside = (self.counts[whole] if whole < len(self.counts) else 0) - (zeros if whole == 0 else 0)
        return max(zeros if whole == 0 else 0, sum(self.counts[:whole])) + (place - whole) * inside
