"""Where the plan's lists of any length lie: whole numbers in one array, real ones in another."""

from collections.abc import Iterable

from flowcore.kernel.records import choices as c
from flowcore.kernel.records import plan as p
from flowcore.kernel.records.record import Table, row, table
from flowcore.study.distributions import AnyDistribution, mean_of, row_of
from flowcore.study.distributions.shape import Row

_FAMILIES = {
    "constant": c.Shape.CONSTANT,
    "exponential": c.Shape.EXPONENTIAL,
    "uniform": c.Shape.UNIFORM,
    "triangular": c.Shape.TRIANGULAR,
    "normal": c.Shape.NORMAL,
    "normal_offset": c.Shape.NORMAL_OFFSET,
    "lognormal": c.Shape.LOGNORMAL,
    "gamma": c.Shape.GAMMA,
    "erlang": c.Shape.ERLANG,
    "weibull": c.Shape.WEIBULL,
    "beta": c.Shape.BETA,
    "discrete": c.Shape.DISCRETE,
    "empirical": c.Shape.EMPIRICAL,
    "poisson": c.Shape.POISSON,
}


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
        shape = row_of(value)
        if shape not in self._distributions:
            self._distributions[shape] = len(self._rows)
            self._rows.append(
                row(
                    p.Distribution,
                    a=shape.a,
                    b=shape.b,
                    c=shape.c,
                    kind=_FAMILIES[shape.family],
                    stages=shape.stages,
                    expected=mean_of(value),
                    first=self.put_numbers(shape.numbers),
                )
            )
        return self._distributions[shape]

    def distributions(self) -> Table[p.Distribution]:
        """Return the table of distributions as the kernel reads it."""
        return table(p.Distribution, self._rows)
