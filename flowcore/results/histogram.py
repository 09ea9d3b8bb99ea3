"""A histogram that can be added to others exactly, whatever their ranges."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

MOST_BINS = 256
FINEST = -6


@dataclass(frozen=True)
class Histogram:
    """Counts in bins of 2**exponent minutes from zero; widths are powers of two so that bins merge."""

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
        while highest >= MOST_BINS * 2.0**exponent:
            exponent += 1
        return cls(exponent, tuple(np.bincount((values / 2.0**exponent).astype(np.int64)).tolist()))

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
