"""Uniform: everything between two bounds."""

from typing import Any, Literal, Self

from pydantic import model_validator

from flowcore.study.distributions.shape import Around, Quantity, Row, Shape, amount, frozen, require_order


class Uniform(Shape[Quantity]):
    """Everything between two bounds equally likely."""

    words = "anything between"
    trade = "uniform"
    dist: Literal["uniform"]
    low: Quantity
    high: Quantity

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        require_order(("least", self.low), ("most", self.high))
        return self

    def average(self) -> float:
        """Return the middle."""
        return (amount(self.low) + amount(self.high)) / 2

    def variance(self) -> float:
        """Return a twelfth of the width squared."""
        return (amount(self.high) - amount(self.low)) ** 2 / 12

    def row(self) -> Row:
        """Return it by its bounds."""
        return Row("uniform", amount(self.low), amount(self.high))

    def law(self) -> Any:
        """Return scipy's uniform distribution."""
        return frozen("uniform", amount(self.low), amount(self.high) - amount(self.low))

    def reach(self) -> tuple[float, float]:
        """Return from zero, or the least below it, to the most."""
        return min(0.0, amount(self.low)), amount(self.high)

    @classmethod
    def around(cls, mean: Around) -> dict[str, Any]:
        """Return one from half the mean to half as much again."""
        return {"low": mean.beside(-0.5), "high": mean.beside(0.5)}
