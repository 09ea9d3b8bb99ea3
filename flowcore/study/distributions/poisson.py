"""Poisson: counts of what happens independently."""

import math
from typing import Annotated, Any, Literal

from pydantic import Field

from flowcore.study.distributions.shape import Around, CurvePoint, Quantity, Row, Shape, frozen


class Poisson(Shape[Quantity]):
    """Counts of what happens independently, known by their mean."""

    words = "mean, as chance has it"
    trade = "Poisson"
    separate = True
    dist: Literal["poisson"]
    mean: Annotated[float, Field(gt=0, le=10_000)]

    def average(self) -> float:
        """Return the mean."""
        return self.mean

    def variance(self) -> float:
        """Return the mean, which is also the variance."""
        return self.mean

    def row(self) -> Row:
        """Return it by its mean."""
        return Row("poisson", self.mean)

    def law(self) -> Any:
        """Return scipy's Poisson distribution."""
        return frozen("poisson", self.mean)

    def points(self) -> list[CurvePoint]:
        """Return each count within four standard deviations and one of the mean, with its share."""
        far = 4 * math.sqrt(self.mean) + 1
        counts = range(max(0, math.floor(self.mean - far)), math.ceil(self.mean + far) + 1)
        return [CurvePoint(count, float(weight)) for count, weight in zip(counts, self.law().pmf(counts), strict=True)]

    @classmethod
    def around(cls, mean: Around) -> dict[str, Any]:
        """Return one with this mean."""
        return {"mean": mean.times(1)}
