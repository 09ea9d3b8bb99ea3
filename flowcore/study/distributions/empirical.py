"""Empirical: observed values, and what lies between them."""

from bisect import bisect_right
from itertools import pairwise
from typing import Annotated, Any, Literal

from pydantic import Field

from flowcore.study.distributions.shape import Around, CurvePoint, Quantity, Row, Shape, amounts

BINS = 16


class Empirical(Shape[Quantity]):
    """Observed values; what lies between two neighbours is interpolated."""

    words = "as observed"
    trade = "empirical"
    separate = True
    dist: Literal["empirical"]
    values: Annotated[list[Quantity], Field(min_length=1)]

    def average(self) -> float:
        """Return the mean where everything between two neighbours is equally likely."""
        values = self._in_order()
        inner = sum(values) - (values[0] + values[-1]) / 2
        return values[0] if len(values) == 1 else inner / (len(values) - 1)

    def variance(self) -> float:
        """Return the variance where everything between two neighbours is equally likely."""
        values = self._in_order()
        if len(values) == 1:
            return 0.0
        square = sum((a * a + a * b + b * b) / 3 for a, b in pairwise(values)) / (len(values) - 1)
        return square - self.average() ** 2

    def _in_order(self) -> list[float]:
        return sorted(amounts(self.values))

    def row(self) -> Row:
        """Return it by its values in order."""
        return Row("empirical", stages=len(self.values), numbers=tuple(self._in_order()))

    def quantile(self, share: float) -> float:
        """Return the value at a share (0 to 1) of the way through the observed ones, in order."""
        values = self._in_order()
        place = share * (len(values) - 1)
        below = min(int(place), max(0, len(values) - 2))
        above = min(below + 1, len(values) - 1)
        return values[below] + (place - below) * (values[above] - values[below])

    def points(self) -> list[CurvePoint]:
        """Return how large a share of what is drawn lies in each of some stretches, at their middles."""
        values = self._in_order()
        width = (values[-1] - values[0]) / BINS
        if width <= 0:
            return [CurvePoint(values[0], 1.0)]
        edges = [values[0] + number * width for number in range(BINS)] + [values[-1]]
        below = [0.0, *(self._share_below(values, edge) for edge in edges[1:-1]), 1.0]
        shares = [after - before for before, after in pairwise(below)]
        return [CurvePoint((a + b) / 2, share) for (a, b), share in zip(pairwise(edges), shares, strict=True)]

    @staticmethod
    def _share_below(values: list[float], edge: float) -> float:
        """Return the share of what is drawn that does not exceed an edge between the least and the most."""
        above = bisect_right(values, edge)
        low, high = values[above - 1], values[above]
        return (above - 1 + (edge - low) / (high - low)) / (len(values) - 1)

    @classmethod
    def around(cls, mean: Around) -> dict[str, Any]:
        """Return the mean alone."""
        return {"values": [mean.times(1)]}
