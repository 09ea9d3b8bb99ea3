"""Where the plan's lists of any length lie: whole numbers in one array, real ones in another."""

from collections.abc import Iterable

import numpy as np

from flowcore.kernel import kinds as k
from flowcore.kernel import plan as p
from flowcore.study.distributions import AnyDistribution, mean_of, row_of
from flowcore.study.distributions.shape import Row

_FAMILIES = {
    "constant": k.CONSTANT,
    "exponential": k.EXPONENTIAL,
    "uniform": k.UNIFORM,
    "triangular": k.TRIANGULAR,
    "normal": k.NORMAL,
    "normal_offset": k.NORMAL_OFFSET,
    "lognormal": k.LOGNORMAL,
    "gamma": k.GAMMA,
    "erlang": k.ERLANG,
    "weibull": k.WEIBULL,
    "beta": k.BETA,
    "discrete": k.DISCRETE,
    "empirical": k.EMPIRICAL,
    "poisson": k.POISSON,
}


def records(rows: Iterable[tuple[object, ...]], dtype: np.dtype[np.void]) -> np.recarray:
    """Return rows as an array of records."""
    return np.array(list(rows), dtype).view(np.recarray)


class Store:
    """The lists, numbers and distributions that a plan's records point to."""

    def __init__(self) -> None:
        self.lists: list[int] = []
        self.numbers: list[float] = []
        self._distributions: dict[Row, int] = {}
        self._rows: list[tuple[object, ...]] = []

    def put(self, values: Iterable[int]) -> int:
        """Keep whole numbers and return where they begin."""
        first = len(self.lists)
        self.lists.extend(int(value) for value in values)
        return first

    def put_numbers(self, values: Iterable[float]) -> int:
        """Keep real numbers and return where they begin."""
        first = len(self.numbers)
        self.numbers.extend(float(value) for value in values)
        return first

    def number_of(self, value: AnyDistribution) -> int:
        """Return the number of a distribution, entering it where it is new."""
        row = row_of(value)
        if row not in self._distributions:
            self._distributions[row] = len(self._rows)
            parameters = (row.a, row.b, row.c, _FAMILIES[row.family], row.stages, mean_of(value))
            self._rows.append((*parameters, self.put_numbers(row.numbers)))
        return self._distributions[row]

    def distributions(self) -> np.recarray:
        """Return the table of distributions as the kernel reads it."""
        return records(self._rows, p.DISTRIBUTION)
