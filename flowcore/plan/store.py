"""Where the plan's lists of any length lie: whole numbers in one array, real ones in another."""

from collections.abc import Iterable

import numpy as np

from flowcore.kernel import plan as p
from flowcore.plan.distributions import Row, row_of
from flowcore.study.distributions import AnyDistribution, mean_of


def records(rows: Iterable[tuple[object, ...]], dtype: np.dtype[np.void]) -> np.recarray:
    """Return rows as an array of records."""
    return np.array(list(rows), dtype).view(np.recarray)


class Store:
    """The lists, numbers and distributions that a plan's records point to."""

    def __init__(self) -> None:
        self.lists: list[int] = []
        self.numbers: list[float] = []
        self._distributions: dict[tuple[Row, tuple[float, ...]], int] = {}
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
        row, values = row_of(value)
        if (row, values) not in self._distributions:
            self._distributions[row, values] = len(self._rows)
            self._rows.append((*row, mean_of(value), self.put_numbers(values)))
        return self._distributions[row, values]

    def distributions(self) -> np.recarray:
        """Return the table of distributions as the kernel reads it."""
        return records(self._rows, p.DISTRIBUTION)
