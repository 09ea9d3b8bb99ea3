"""Exponential: times without memory."""

from typing import Any, Literal

from flowcore.study.distributions.shape import Around, Quantity, Row, WithMean, amount, frozen


class Exponential(WithMean[Quantity]):
    """Times without memory, known by their mean."""

    words = "mean, very uneven"
    trade = "exponential"
    dist: Literal["exponential"]

    def variance(self) -> float:
        """Return the mean squared."""
        return amount(self.mean) ** 2

    def row(self) -> Row:
        """Return it by its mean."""
        return Row("exponential", amount(self.mean))

    def law(self) -> Any:
        """Return scipy's exponential distribution."""
        return frozen("expon", scale=amount(self.mean))

    @classmethod
    def around(cls, mean: Around) -> dict[str, Any]:
        """Return one with this mean."""
        return {"mean": mean.times(1)}
