"""Weibull: times to a failure."""

from math import gamma
from typing import Annotated, Any, Literal, Self

from pydantic import Field, model_validator

from flowcore.problems import trouble
from flowcore.study.distributions.shape import Around, Quantity, Row, Shape, amount, frozen


class Weibull(Shape[Quantity]):
    """Times to a failure: shape below 1 for early ones, above 1 for wear."""

    words = "until it fails"
    trade = "Weibull"
    dist: Literal["weibull"]
    scale: Quantity
    shape: Annotated[float, Field(gt=0, le=100)]

    @model_validator(mode="after")
    def _positive(self) -> Self:
        if amount(self.scale) <= 0:
            raise trouble("The scale is zero.", "Give a scale above zero.")
        return self

    def average(self) -> float:
        """Return the mean by scale and shape."""
        return amount(self.scale) * gamma(1 + 1 / self.shape)

    def variance(self) -> float:
        """Return the variance by scale and shape."""
        return amount(self.scale) ** 2 * gamma(1 + 2 / self.shape) - self.average() ** 2

    def row(self) -> Row:
        """Return it by scale and shape."""
        return Row("weibull", amount(self.scale), self.shape)

    def law(self) -> Any:
        """Return scipy's Weibull distribution."""
        return frozen("weibull_min", self.shape, 0, amount(self.scale))

    @classmethod
    def around(cls, mean: Around) -> dict[str, Any]:
        """Return one of shape 1.5 with about this mean."""
        return {"scale": mean.times(1 / gamma(1 + 1 / 1.5)), "shape": 1.5}
