"""Discrete: a few values, each with its weight."""

from itertools import accumulate
from typing import Annotated, Any, Literal, Self

from pydantic import Field, model_validator

from flowcore.problems import trouble
from flowcore.study.distributions.shape import Around, CurvePoint, Quantity, Row, Shape, amounts


class Discrete(Shape[Quantity]):
    """A few values, each with its weight."""

    words = "one of a few"
    trade = "discrete"
    separate = True
    dist: Literal["discrete"]
    values: Annotated[list[Quantity], Field(min_length=1)]
    weights: Annotated[list[Annotated[float, Field(ge=0)]], Field(min_length=1)]

    @model_validator(mode="after")
    def _paired(self) -> Self:
        if len(self.values) != len(self.weights):
            raise trouble(
                f"There are {len(self.values)} values and {len(self.weights)} weights.", "Give each value one weight."
            )
        if sum(self.weights) <= 0:
            raise trouble("All weights are zero.", "Give some value a weight above zero.")
        return self

    def average(self) -> float:
        """Return the weighted mean."""
        weighed = zip(amounts(self.values), self.weights, strict=True)
        return sum(value * weight for value, weight in weighed) / sum(self.weights)

    def variance(self) -> float:
        """Return the weighted variance."""
        weighed = zip(amounts(self.values), self.weights, strict=True)
        return sum(value**2 * weight for value, weight in weighed) / sum(self.weights) - self.average() ** 2

    def row(self) -> Row:
        """Return it by its values and the shares up to each of them."""
        total = sum(self.weights)
        shares = accumulate(weight / total for weight in self.weights)
        return Row("discrete", stages=len(self.values), numbers=(*amounts(self.values), *shares))

    def points(self) -> list[CurvePoint]:
        """Return each value with its share, in order."""
        total = sum(self.weights)
        weighed = sorted(zip(amounts(self.values), self.weights, strict=True))
        return [CurvePoint(value, weight / total) for value, weight in weighed]

    def quantile(self, share: float) -> float:
        """Return the first value up to which a share (0 to 1) of what is drawn lies."""
        below = 0.0
        for point in self.points():
            below += point.weight
            if below >= share - 1e-12:
                return point.at
        return self.points()[-1].at

    @classmethod
    def around(cls, mean: Around) -> dict[str, Any]:
        """Return the mean alone."""
        return {"values": [mean.times(1)], "weights": [1]}
