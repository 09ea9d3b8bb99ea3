"""Beta: between two bounds."""

from typing import Any, Literal, Self

from pydantic import model_validator

from flowcore.problems import trouble
from flowcore.study.distributions.shape import Around, Quantity, Row, Shape, amount, frozen, require_order


class Beta(Shape[Quantity]):
    """A shape between two bounds, by its mean and standard deviation."""

    words = "between two bounds"
    trade = "beta"
    dist: Literal["beta"]
    low: Quantity
    high: Quantity
    mean: Quantity
    sd: Quantity

    @model_validator(mode="after")
    def _possible(self) -> Self:
        require_order(("least", self.low), ("mean", self.mean), ("most", self.high))
        low, high, mean, sd = (amount(each) for each in (self.low, self.high, self.mean, self.sd))
        if not 0 < sd**2 < (mean - low) * (high - mean):
            most = max(0.0, (mean - low) * (high - mean)) ** 0.5
            raise trouble(
                "No beta distribution has this standard deviation.", f"Give one above zero and below {most:g}."
            )
        return self

    def average(self) -> float:
        """Return the mean."""
        return amount(self.mean)

    def variance(self) -> float:
        """Return the standard deviation squared."""
        return amount(self.sd) ** 2

    def row(self) -> Row:
        """Return it by its two shapes and its bounds."""
        low, high, mean, sd = (amount(each) for each in (self.low, self.high, self.mean, self.sd))
        centre = (mean - low) / (high - low)
        spread = (sd / (high - low)) ** 2
        weight = centre * (1 - centre) / spread - 1
        return Row("beta", centre * weight, (1 - centre) * weight, numbers=(low, high))

    def law(self) -> Any:
        """Return scipy's beta distribution."""
        row = self.row()
        low, high = row.numbers
        return frozen("beta", row.a, row.b, low, high - low)

    def reach(self) -> tuple[float, float]:
        """Return from zero, or the least below it, to the most."""
        return min(0.0, amount(self.low)), amount(self.high)

    @classmethod
    def around(cls, mean: Around) -> dict[str, Any]:
        """Return one from half the mean to twice as much."""
        return {"low": mean.beside(-0.5), "high": mean.beside(1), "mean": mean.times(1), "sd": mean.wide(0.25)}
