"""Triangular and PERT: least, most likely and most."""

from typing import Any, Literal, Self

from pydantic import model_validator

from flowcore.study.distributions.shape import Around, Quantity, Row, Shape, amount, frozen, require_order


class ThreePoints(Shape[Quantity]):
    """A shape by its least, its most likely and its most."""

    low: Quantity
    mode: Quantity
    high: Quantity

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        require_order(("least", self.low), ("most likely", self.mode), ("most", self.high))
        return self

    def three(self) -> tuple[float, float, float]:
        """Return the least, the most likely and the most, in minutes or plain."""
        return amount(self.low), amount(self.mode), amount(self.high)

    def reach(self) -> tuple[float, float]:
        """Return from zero, or the least below it, to the most."""
        return min(0.0, amount(self.low)), amount(self.high)


class Triangular(ThreePoints[Quantity]):
    """Least, most likely and most; the middle value is the mode, not the mean."""

    words = "least, likely, most"
    trade = "triangular"
    dist: Literal["triangular"]

    def average(self) -> float:
        """Return the mean of the three."""
        low, mode, high = self.three()
        return (low + mode + high) / 3

    def variance(self) -> float:
        """Return the variance of a triangular density."""
        low, mode, high = self.three()
        return (low**2 + mode**2 + high**2 - low * mode - low * high - mode * high) / 18

    def row(self) -> Row:
        """Return it by its three points."""
        return Row("triangular", *self.three())

    @classmethod
    def around(cls, mean: Around) -> dict[str, Any]:
        """Return one with its most likely value a little below the mean."""
        return {"low": mean.beside(-0.5), "mode": mean.beside(-0.1), "high": mean.beside(0.6)}

    def law(self) -> Any:
        """Return scipy's triangular distribution."""
        low, mode, high = self.three()
        return frozen("triang", (mode - low) / (high - low), low, high - low)


class Pert(ThreePoints[Quantity]):
    """Least, most likely and most, with most of the weight near the most likely.

    It is the beta distribution with weight 4 on the mode. Source: Malcolm, Roseboom, Clark and Fazar,
    Application of a technique for research and development program evaluation, Operations Research 7 (1959).
    """

    words = "least, likely, most, rounded"
    trade = "PERT"
    dist: Literal["pert"]

    def average(self) -> float:
        """Return the mean with weight 4 on the most likely."""
        low, mode, high = self.three()
        return (low + 4 * mode + high) / 6

    def variance(self) -> float:
        """Return the variance of its beta distribution."""
        low, _, high = self.three()
        return (self.average() - low) * (high - self.average()) / 7

    def row(self) -> Row:
        """Return its beta distribution; a constant where it has no width."""
        low, mode, high = self.three()
        if high <= low:
            return Row("constant", low)
        width = high - low
        return Row("beta", 1 + 4 * (mode - low) / width, 1 + 4 * (high - mode) / width, numbers=(low, high))

    @classmethod
    def around(cls, mean: Around) -> dict[str, Any]:
        """Return one with its most likely value a little below the mean."""
        return {"low": mean.beside(-0.5), "mode": mean.beside(-0.1), "high": mean.beside(0.9)}

    def law(self) -> Any:
        """Return scipy's beta distribution."""
        low, mode, high = self.three()
        width = high - low
        return frozen("beta", 1 + 4 * (mode - low) / width, 1 + 4 * (high - mode) / width, low, width)
