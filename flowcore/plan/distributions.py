"""Distributions as records: parameters in minutes, ready to be inverted."""

import math

import numpy as np

from flowcore.kernel import records as r
from flowcore.study import minutes
from flowcore.study.distributions import (
    Distribution,
    Erlang,
    Exponential,
    Lognormal,
    Normal,
    Triangular,
    Uniform,
)

Row = tuple[float, float, float, int, int]


class DistributionTable:
    """Every distribution of a study once, by its number."""

    def __init__(self) -> None:
        self._numbers: dict[Row, int] = {}

    def number_of(self, value: Distribution) -> int:
        """Return the number of a distribution, entering it where it is new."""
        return self._numbers.setdefault(_row(value), len(self._numbers))

    def records(self) -> np.recarray:
        """Return the table as the kernel reads it."""
        return np.array(list(self._numbers), r.DISTRIBUTION).view(np.recarray)


def _row(value: Distribution) -> Row:
    if isinstance(value, str):
        return minutes(value), 0.0, 0.0, r.CONSTANT, 0
    if isinstance(value, Exponential):
        return minutes(value.mean), 0.0, 0.0, r.EXPONENTIAL, 0
    if isinstance(value, Uniform):
        return minutes(value.low), minutes(value.high), 0.0, r.UNIFORM, 0
    if isinstance(value, Triangular):
        return minutes(value.low), minutes(value.mode), minutes(value.high), r.TRIANGULAR, 0
    if isinstance(value, Erlang):
        return minutes(value.mean) / value.k, 0.0, 0.0, r.ERLANG, value.k
    mean, sd = minutes(value.mean), minutes(value.sd)
    if sd == 0:
        return mean, 0.0, 0.0, r.CONSTANT, 0
    if isinstance(value, Normal):
        return mean, sd, 0.5 * math.erfc(mean / sd / math.sqrt(2)), r.NORMAL, 0
    assert isinstance(value, Lognormal)
    variance = math.log1p((sd / mean) ** 2)
    return math.log(mean) - variance / 2, math.sqrt(variance), 0.0, r.LOGNORMAL, 0
