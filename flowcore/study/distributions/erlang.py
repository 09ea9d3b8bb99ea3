"""Erlang: the sum of equal exponential stages."""

from typing import Annotated, Any, Literal

from pydantic import Field

from flowcore.study.distributions.shape import Around, Quantity, Row, WithMean, amount, frozen


class Erlang(WithMean[Quantity]):
    """The sum of k equal exponential stages, known by its whole mean."""

    words = "mean, in stages"
    trade = "Erlang"
    dist: Literal["erlang"]
    k: Annotated[int, Field(ge=1, le=1000)]

    def variance(self) -> float:
        """Return the mean squared over the number of stages."""
        return amount(self.mean) ** 2 / self.k

    def row(self) -> Row:
        """Return it by the mean of a stage and the number of stages."""
        return Row("erlang", amount(self.mean) / self.k, stages=self.k)

    def law(self) -> Any:
        """Return scipy's gamma distribution with a whole shape."""
        return frozen("gamma", self.k, 0, amount(self.mean) / self.k)

    @classmethod
    def around(cls, mean: Around) -> dict[str, Any]:
        """Return one with this mean in two stages."""
        return {"mean": mean.times(1), "k": 2}
