"""How far distributions spread around their means, as the queueing formulas ask for it."""

from itertools import pairwise
from math import gamma, sqrt

from flowcore.study.distributions import (
    AnyDistribution,
    Discrete,
    Empirical,
    Erlang,
    Exponential,
    Pert,
    Poisson,
    Triangular,
    Uniform,
    Weibull,
    amount,
    mean_of,
)


def sd_of(value: AnyDistribution) -> float:
    """Return the standard deviation of a distribution, in minutes or plain, before any cut at zero."""
    return sqrt(max(0.0, _variance(value)))


def _variance(value: AnyDistribution) -> float:
    if isinstance(value, str | int | float):
        return 0.0
    if isinstance(value, Exponential):
        return amount(value.mean) ** 2
    if isinstance(value, Erlang):
        return amount(value.mean) ** 2 / value.k
    if isinstance(value, Poisson):
        return value.mean
    if isinstance(value, Uniform):
        return (amount(value.high) - amount(value.low)) ** 2 / 12
    if isinstance(value, Triangular):
        low, mode, high = amount(value.low), amount(value.mode), amount(value.high)
        return (low**2 + mode**2 + high**2 - low * mode - low * high - mode * high) / 18
    if isinstance(value, Pert):
        mean = mean_of(value)
        return (mean - amount(value.low)) * (amount(value.high) - mean) / 7
    if isinstance(value, Weibull):
        return amount(value.scale) ** 2 * gamma(1 + 2 / value.shape) - mean_of(value) ** 2
    if isinstance(value, Discrete):
        amounts = [amount(each) for each in value.values]
        squares = sum(each**2 * weight for each, weight in zip(amounts, value.weights, strict=True))
        return squares / sum(value.weights) - mean_of(value) ** 2
    if isinstance(value, Empirical):
        return _of_pieces(sorted(amount(each) for each in value.values)) - mean_of(value) ** 2
    return amount(value.sd) ** 2


def _of_pieces(values: list[float]) -> float:
    """Return the mean square where everything between two neighbours is equally likely."""
    if len(values) == 1:
        return values[0] ** 2
    return sum((a * a + a * b + b * b) / 3 for a, b in pairwise(values)) / (len(values) - 1)
