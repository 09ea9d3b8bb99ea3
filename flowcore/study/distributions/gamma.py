"""Gamma: skewed, between exponential and bell."""

from typing import Any, Literal, Self

from pydantic import model_validator

from flowcore.problems import trouble
from flowcore.study.distributions.normal import WithSpread
from flowcore.study.distributions.shape import Quantity, Row, amount, frozen


class Gamma(WithSpread[Quantity]):
    """A skewed shape by its mean and standard deviation."""

    words = "mean, skewed"
    trade = "gamma"
    dist: Literal["gamma"]

    @model_validator(mode="after")
    def _varies(self) -> Self:
        if amount(self.sd) <= 0:
            raise trouble("The standard deviation is zero.", "Give one above zero, or a constant.")
        return self

    def row(self) -> Row:
        """Return it by shape and scale."""
        mean, sd = amount(self.mean), amount(self.sd)
        return Row("gamma", (mean / sd) ** 2, sd**2 / mean)

    def law(self) -> Any:
        """Return scipy's gamma distribution."""
        row = self.row()
        return frozen("gamma", row.a, 0, row.b)
