"""Sums of numbers that stand in one row, and ratios of these, for many subjects at once."""

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from flowcore.results.arrays import Values

Places = NDArray[np.int64]


class Ratio(NamedTuple):
    """Parts of their wholes, or all of one whole: not-a-number where there is no whole."""

    part: "Sums"
    whole: "Sums"


@dataclass(frozen=True)
class Sums:
    """Sums of counted numbers, each so many `times` what is at its place: both of shape (subjects, terms)."""

    places: Places
    times: Values

    @classmethod
    def at(cls, places: Places) -> "Sums":
        """Return the sums of what is at places of shape (subjects, …), each once."""
        rows = places.reshape(len(places), math.prod(places.shape[1:]))
        return cls(rows, np.ones(rows.shape))

    def __len__(self) -> int:
        return len(self.places)

    def __getitem__(self, subjects: Sequence[int] | slice) -> "Sums":
        return Sums(self.places[subjects], self.times[subjects])

    def of_groups(self, subjects: NDArray[np.integer]) -> "Sums":
        """Return the sums over groups of subjects, which are of shape (groups, subjects of each)."""
        places, times = self.places[subjects], self.times[subjects]
        return Sums(places.reshape(len(subjects), -1), times.reshape(len(subjects), -1))

    def __add__(self, other: "Sums") -> "Sums":
        return side_by_side([self, other])

    def __sub__(self, other: "Sums") -> "Sums":
        return self + other * -1.0

    def __mul__(self, times: float | Values) -> "Sums":
        """Return so many times each sum; `times` is one number, or one of each subject."""
        of_each = times[:, None] if isinstance(times, np.ndarray) else times
        return Sums(self.places, self.times * of_each)

    def __truediv__(self, whole: "Sums") -> Ratio:
        return Ratio(self, whole)

    def of_each(self, subjects: int) -> "Sums":
        """Return one sum for each of so many subjects, of which there may be one for all."""
        if len(self) == subjects:
            return self
        return Sums(np.repeat(self.places, subjects, axis=0), np.repeat(self.times, subjects, axis=0))

    def whole(self) -> "Sums":
        """Return the sum over all subjects."""
        return Sums(self.places.reshape(1, -1), self.times.reshape(1, -1))


def side_by_side(sums: Sequence[Sums]) -> Sums:
    """Return the sum of some sums of each subject."""
    places = np.concatenate([each.places for each in sums], axis=1)
    return Sums(places, np.concatenate([each.times for each in sums], axis=1))


class Terms(NamedTuple):
    """The terms of many sums, one sum after the other, and where those of each end: see `sum_of_terms`."""

    places: Places
    times: Values
    ends: Places

    @classmethod
    def of(cls, groups: Iterable[Sequence[Sums]]) -> "Terms":
        """Return the terms of groups of sums of the same subjects each: all sums of a subject, then the next one."""
        wholes, lengths = [], []
        for group in groups:
            wholes.append(side_by_side(group).whole())
            lengths.append(np.tile([sums.places.shape[1] for sums in group], len(group[0])))
        whole = side_by_side(wholes) if wholes else Sums.at(np.zeros((1, 0), np.int64))
        return cls(whole.places[0], whole.times[0], np.cumsum(np.concatenate(lengths or [np.zeros(0, np.int64)])))
