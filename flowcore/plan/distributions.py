"""Distributions as records: parameters in minutes, ready to be drawn from."""

import math
from itertools import accumulate

from flowcore.kernel import kinds as k
from flowcore.study.distributions import (
    AnyDistribution,
    Beta,
    Discrete,
    Empirical,
    Erlang,
    Exponential,
    Gamma,
    Lognormal,
    Normal,
    NormalOffset,
    Pert,
    Poisson,
    Triangular,
    Uniform,
    Weibull,
    amount,
)

Row = tuple[float, float, float, int, int]


def row_of(value: AnyDistribution) -> tuple[Row, tuple[float, ...]]:
    """Return a distribution's record (without where its numbers begin) and its numbers."""
    if isinstance(value, str | int | float):
        return (amount(value), 0.0, 0.0, k.CONSTANT, 0), ()
    if isinstance(value, Discrete):
        total = sum(value.weights)
        shares = accumulate(weight / total for weight in value.weights)
        values = tuple(amount(each) for each in value.values)
        return (0.0, 0.0, 0.0, k.DISCRETE, len(values)), (*values, *shares)
    if isinstance(value, Empirical):
        values = tuple(sorted(amount(each) for each in value.values))
        return (0.0, 0.0, 0.0, k.EMPIRICAL, len(values)), values
    if isinstance(value, Pert):
        return _pert(*(amount(each) for each in (value.low, value.mode, value.high)))
    if isinstance(value, Beta):
        return _beta(*(amount(each) for each in (value.low, value.high, value.mean, value.sd)))
    return _simple_row(value), ()


def _simple_row(value: AnyDistribution) -> Row:
    if isinstance(value, Exponential):
        return amount(value.mean), 0.0, 0.0, k.EXPONENTIAL, 0
    if isinstance(value, Uniform):
        return amount(value.low), amount(value.high), 0.0, k.UNIFORM, 0
    if isinstance(value, Triangular):
        return amount(value.low), amount(value.mode), amount(value.high), k.TRIANGULAR, 0
    if isinstance(value, Erlang):
        return amount(value.mean) / value.k, 0.0, 0.0, k.ERLANG, value.k
    if isinstance(value, Weibull):
        return amount(value.scale), value.shape, 0.0, k.WEIBULL, 0
    if isinstance(value, Poisson):
        return value.mean, 0.0, 0.0, k.POISSON, 0
    assert isinstance(value, Normal | NormalOffset | Lognormal | Gamma)
    mean, sd = amount(value.mean), amount(value.sd)
    if sd == 0:
        return mean, 0.0, 0.0, k.CONSTANT, 0
    if isinstance(value, Gamma):
        return (mean / sd) ** 2, sd**2 / mean, 0.0, k.GAMMA, 0
    if isinstance(value, NormalOffset):
        return mean, sd, 0.0, k.NORMAL_OFFSET, 0
    if isinstance(value, Normal):
        return mean, sd, 0.5 * math.erfc(mean / sd / math.sqrt(2)), k.NORMAL, 0
    variance = math.log1p((sd / mean) ** 2)
    return math.log(mean) - variance / 2, math.sqrt(variance), 0.0, k.LOGNORMAL, 0


def _pert(low: float, mode: float, high: float) -> tuple[Row, tuple[float, ...]]:
    """Return PERT as the beta distribution with weight 4 on the mode.

    Source: Malcolm, Roseboom, Clark and Fazar, Application of a technique for research and
    development program evaluation, Operations Research 7 (1959).
    """
    if high <= low:
        return (low, 0.0, 0.0, k.CONSTANT, 0), ()
    width = high - low
    return (1 + 4 * (mode - low) / width, 1 + 4 * (high - mode) / width, 0.0, k.BETA, 0), (low, high)


def _beta(low: float, high: float, mean: float, sd: float) -> tuple[Row, tuple[float, ...]]:
    centre = (mean - low) / (high - low)
    spread = (sd / (high - low)) ** 2
    weight = centre * (1 - centre) / spread - 1
    return (centre * weight, (1 - centre) * weight, 0.0, k.BETA, 0), (low, high)
