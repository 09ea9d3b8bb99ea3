"""A histogram that can be added to others exactly: all have the same bins, fine near zero and ever wider."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.summary.histograms import FINEST, PER_OCTAVE, histogram

Floats = NDArray[np.float64]
Counts = NDArray[np.int64]


@cache
def edges(bins: int) -> Floats:
    """Return the edges of so many bins, from zero, in minutes: one more than bins."""
    numbers = np.arange(bins)
    octave = np.maximum(0, numbers // PER_OCTAVE - 1)
    ends = (numbers - PER_OCTAVE * octave + 1) * 2.0 ** (FINEST + octave)
    return np.concatenate([[0.0], ends])


def bin_cut_by(limit: float) -> float | None:
    """Return how wide the bin is that a limit cuts, in minutes; None where it cuts none."""
    place = len(histogram(np.array([limit]))) - 1
    begin, end = edges(place + 1)[-2:].tolist()
    return float(end - begin) if begin < limit < end else None


@dataclass(frozen=True, eq=False)
class Histogram:
    """Counts in bins from zero, shape (bins,), as far as there are any."""

    counts: Counts

    @classmethod
    def of(cls, values: Floats) -> "Histogram":
        """Return the histogram of non-negative values."""
        return cls(histogram(np.ascontiguousarray(values, np.float64)))

    @property
    def total(self) -> int:
        """How many values there are."""
        return int(self.counts.sum())

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Histogram) and np.array_equal(self.counts, other.counts)

    __hash__ = None  # type: ignore[assignment]  # equal by what is in an array

    @classmethod
    def sum(cls, parts: Iterable["Histogram"]) -> "Histogram":
        """Return the histogram of the values of all parts together."""
        known = [each.counts for each in parts]
        counts = np.zeros(max((len(each) for each in known), default=0), np.int64)
        for each in known:
            counts[: len(each)] += each
        return cls(counts)

    def __add__(self, other: "Histogram") -> "Histogram":
        return Histogram.sum([self, other])

    def percentiles(self, shares: Floats, zeros: int) -> Floats:
        """Return the percentiles at these shares; see `Table`."""
        of_one: Floats = Table.of([self], [zeros]).percentiles(shares)[0]
        return of_one

    def end_of(self, share: float) -> float:
        """Return the end of the bin up to which so large a share of the values is."""
        up_to = np.cumsum(self.counts)
        return float(edges(len(self.counts))[1 + int(np.searchsorted(up_to, share * up_to[-1]))])

    def in_bars(self, width: float, many: int) -> Counts:
        """Return the counts of the first so many bars of a width, a power of two no finer than the bins there."""
        ends = edges(len(self.counts))[1:]
        bars = np.ceil(ends / width).astype(np.int64) - 1
        shown = bars < many
        return np.bincount(bars[shown], self.counts[shown], many).astype(np.int64)


def width_of_bars(end: float, most: int) -> float:
    """Return how wide at most so many bars are that reach to an end, a power of two."""
    return float(2.0 ** max(FINEST, math.ceil(math.log2(max(end, 1e-9) / most))))


@dataclass(frozen=True)
class Table:
    """Histograms as rows, of shape (rows, bins); `zeros` of each are exactly 0."""

    counts: Counts
    zeros: Counts

    @classmethod
    def of(cls, histograms: Sequence[Histogram], zeros: Sequence[int]) -> "Table":
        """Return a table of histograms."""
        bins = max(1, *(len(each.counts) for each in histograms))
        counts = np.zeros((len(histograms), bins), np.int64)
        for row, each in enumerate(histograms):
            counts[row, : len(each.counts)] = each.counts
        return cls(counts, np.array(zeros, np.int64))

    @property
    def _edges(self) -> Floats:
        return edges(self.counts.shape[1])

    def at_ranks(self, ranks: Floats) -> Floats:
        """Return the values at ranks counted from 0, both of shape (rows, ranks), wrong by less than a bin."""
        counts = self.counts.copy()
        counts[:, 0] -= self.zeros
        up_to = np.cumsum(counts, axis=1) + self.zeros[:, None]
        rows, width = counts.shape
        # Each row lies above the one before, so that one search finds the ranks of all.
        apart = np.arange(rows)[:, None] * (up_to[:, -1].max(initial=0) + 1.0)
        bins = np.searchsorted((up_to + apart).ravel(), ranks + apart, side="right") - width * np.arange(rows)[:, None]
        bins = np.clip(bins, 0, width - 1)
        here = np.take_along_axis(counts, bins, axis=1)
        into = (ranks - (np.take_along_axis(up_to, bins, axis=1) - here) + 0.5) / np.maximum(here, 1)
        begin, end = self._edges[bins], self._edges[bins + 1]
        found: Floats = np.where(ranks < self.zeros[:, None], 0.0, begin + np.clip(into, 0.0, 1.0) * (end - begin))
        return found

    def percentiles(self, shares: Floats) -> Floats:
        """Return the percentiles at these shares, of shape (rows, shares), defined as in `sample_statistics`.

        They are wrong by less than a bin.
        """
        position = (self.counts.sum(axis=1)[:, None] - 1) * np.clip(shares, 0.0, 1.0)
        below = np.floor(position)
        low, high = np.split(self.at_ranks(np.hstack([below, np.ceil(position)])), 2, axis=1)
        found: Floats = low + (position - below) * (high - low)
        return found

    def number_within(self, limit: float) -> Floats:
        """Return how many values of each are at most a limit, exact at the end of a bin, else wrong by less than it."""
        if limit < 0:
            return np.zeros(len(self.counts))
        whole = int(np.searchsorted(self._edges[1:], limit, side="right"))
        if whole >= self.counts.shape[1]:
            everything: Floats = self.counts.sum(axis=1).astype(np.float64)
            return everything
        begin, end = self._edges[whole : whole + 2]
        zeros = self.zeros if whole == 0 else np.zeros_like(self.zeros)
        inside = self.counts[:, whole] - zeros
        found: Floats = zeros + self.counts[:, :whole].sum(axis=1) + (limit - begin) / (end - begin) * inside
        return found
