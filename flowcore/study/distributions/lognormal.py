"""Log-normal: a skewed bell with a long tail."""

import math
from typing import Any, Literal

from flowcore.study.distributions.normal import WithSpread
from flowcore.study.distributions.shape import Quantity, Row, amount, frozen


class Lognormal(WithSpread[Quantity]):
    """A skewed bell by its own mean and standard deviation."""

    words = "mean, long tail"
    trade = "log-normal"
    dist: Literal["lognormal"]

    def row(self) -> Row:
        """Return it by mean and standard deviation of the logarithm; a constant where it does not vary."""
        mean, sd = amount(self.mean), amount(self.sd)
        if sd == 0:
            return Row("constant", mean)
        variance = math.log1p((sd / mean) ** 2)
        return Row("lognormal", math.log(mean) - variance / 2, math.sqrt(variance))

    def law(self) -> Any:
        """Return scipy's log-normal distribution."""
        row = self.row()
        return frozen("lognorm", row.b, 0, math.exp(row.a))
