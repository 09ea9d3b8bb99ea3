"""Normal: a bell, cut off at zero for times, whole for offsets."""

import math
from typing import Any, Literal, Self

from pydantic import model_validator

from flowcore.study.distributions.shape import (
    Around,
    Quantity,
    Row,
    Shape,
    WithMean,
    amount,
    frozen,
    require_not_negative,
)


class WithSpread(WithMean[Quantity]):
    """A shape known by its mean and standard deviation."""

    sd: Quantity

    @model_validator(mode="after")
    def _not_negative(self) -> Self:
        require_not_negative(self.sd)
        return self

    def variance(self) -> float:
        """Return the standard deviation squared."""
        return amount(self.sd) ** 2

    @classmethod
    def around(cls, mean: Around) -> dict[str, Any]:
        """Return one that varies by half its mean."""
        return {"mean": mean.times(1), "sd": mean.wide(0.5)}


class Normal(WithSpread[Quantity]):
    """A bell by mean and standard deviation before what lies below zero is cut off.

    Source of the moments: Johnson, Kotz and Balakrishnan, Continuous Univariate Distributions 1 (1994), 13.10.1.
    """

    words = "mean, both ways"
    trade = "normal"
    dist: Literal["normal"]

    def average(self) -> float:
        """Return the mean of what is left after the cut at zero."""
        mean, sd = amount(self.mean), amount(self.sd)
        return mean + sd * self._hazard()

    def variance(self) -> float:
        """Return the variance of what is left after the cut at zero."""
        mean, sd = amount(self.mean), amount(self.sd)
        hazard = self._hazard()
        return sd**2 - sd * hazard * (mean + sd * hazard)

    def _hazard(self) -> float:
        """Return the density at the cut over the share above it, in standard deviations."""
        mean, sd = amount(self.mean), amount(self.sd)
        if sd == 0:
            return 0.0
        cut = mean / sd
        return math.exp(-(cut**2) / 2) / math.sqrt(2 * math.pi) / (1 - self._share_cut())

    def _share_cut(self) -> float:
        return 0.5 * math.erfc(amount(self.mean) / amount(self.sd) / math.sqrt(2))

    def row(self) -> Row:
        """Return it by mean, standard deviation and the share that is cut off."""
        mean, sd = amount(self.mean), amount(self.sd)
        return Row("constant", mean) if sd == 0 else Row("normal", mean, sd, self._share_cut())

    def law(self) -> Any:
        """Return scipy's truncated normal distribution."""
        mean, sd = amount(self.mean), amount(self.sd)
        return frozen("truncnorm", -mean / sd, math.inf, mean, sd)

    @classmethod
    def around(cls, mean: Around) -> dict[str, Any]:
        """Return one that varies by a quarter of its mean."""
        return {"mean": mean.times(1), "sd": mean.wide(0.25)}


class NormalOffset(Shape[Quantity]):
    """A bell by mean and standard deviation, early as well as late."""

    words = "mean, both ways"
    trade = "normal"
    dist: Literal["normal"]
    mean: Quantity
    sd: Quantity

    @model_validator(mode="after")
    def _not_negative(self) -> Self:
        require_not_negative(self.sd)
        return self

    def average(self) -> float:
        """Return the mean."""
        return amount(self.mean)

    def variance(self) -> float:
        """Return the standard deviation squared."""
        return amount(self.sd) ** 2

    def row(self) -> Row:
        """Return it by mean and standard deviation."""
        mean, sd = amount(self.mean), amount(self.sd)
        return Row("constant", mean) if sd == 0 else Row("normal_offset", mean, sd)

    def law(self) -> Any:
        """Return scipy's normal distribution."""
        mean, sd = amount(self.mean), amount(self.sd)
        return frozen("norm", mean, sd)

    def reach(self) -> tuple[float, float]:
        """Return four standard deviations to both sides, and zero."""
        mean, sd = amount(self.mean), amount(self.sd)
        return min(0.0, mean - 4 * sd), max(0.0, mean + 4 * sd)

    @classmethod
    def around(cls, mean: Around) -> dict[str, Any]:
        """Return one that varies by a quarter of its mean."""
        return {"mean": mean.times(1), "sd": mean.wide(0.25)}
