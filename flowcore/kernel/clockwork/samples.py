"""Values from distributions, each a pure function of the draw's key.

All but three invert their distribution function. Erlang sums its stages, Poisson counts arrivals in
pieces of the mean, and gamma (and with it beta and PERT) accepts and rejects: Marsaglia and Tsang,
A simple method for generating gamma variables, ACM Transactions on Mathematical Software 26 (2000).
"""

import math

import numpy as np

from flowcore.kernel.clockwork.draws import chain, standard_normal_quantile, uniform
from flowcore.kernel.compiling.compiled import part, rare
from flowcore.kernel.records.choices import Shape
from flowcore.kernel.records.plan import Distribution

_PIECE = 200.0


@part
def sample(numbers: np.ndarray, d: Distribution, key: np.uint64) -> float:
    """Return one value of a DISTRIBUTION: minutes, or a plain number.

    Records and arrays are passed, not the world: a call that hands over all of the world's arrays
    costs more than the draw.
    """
    if d.kind == Shape.CONSTANT:
        return d.a
    if d.kind == Shape.ERLANG:
        return erlang(key, d.stages) * d.a
    u = uniform(key, 0)
    if d.kind == Shape.EXPONENTIAL:
        return -math.log(u) * d.a
    if d.kind == Shape.UNIFORM:
        return d.a + u * (d.b - d.a)
    if d.kind == Shape.TRIANGULAR:
        return triangular(d, u)
    if d.kind == Shape.NORMAL:
        return max(0.0, d.a + d.b * standard_normal_quantile(d.c + u * (1.0 - d.c)))
    if d.kind == Shape.LOGNORMAL:
        return math.exp(d.a + d.b * standard_normal_quantile(u))
    if d.kind == Shape.NORMAL_OFFSET:
        return d.a + d.b * standard_normal_quantile(u)
    if d.kind == Shape.WEIBULL:
        return d.a * (-math.log(u)) ** (1.0 / d.b)
    if d.kind == Shape.GAMMA:
        return gamma(key, d.a) * d.b
    if d.kind == Shape.BETA:
        return beta(numbers, d, key)
    if d.kind == Shape.DISCRETE:
        return discrete(numbers, d, u)
    if d.kind == Shape.EMPIRICAL:
        return empirical(numbers, d, u)
    if d.kind == Shape.POISSON:
        return poisson(key, d.a)
    return math.nan


@part
def triangular(d: Distribution, u: float) -> float:
    """Return the quantile of a triangular distribution with low, mode and high."""
    width = d.c - d.a
    if width <= 0.0:
        return d.a
    if u * width < d.b - d.a:
        return d.a + math.sqrt(u * width * (d.b - d.a))
    return d.c - math.sqrt((1.0 - u) * width * (d.c - d.b))


@rare
def erlang(key: np.uint64, stages: int) -> float:
    """Return the sum of exponential stages with mean one."""
    total = 0.0
    for stage in range(stages):
        total -= math.log(uniform(key, stage))
    return total


@rare
def gamma(key: np.uint64, shape: float) -> float:
    """Return a gamma value with scale one; a shape below one is raised by one and scaled back."""
    boosted = shape + 1.0 if shape < 1.0 else shape
    d = boosted - 1.0 / 3.0
    c = 1.0 / math.sqrt(9.0 * d)
    draw = 0
    while True:
        x = standard_normal_quantile(uniform(key, draw))
        u = uniform(key, draw + 1)
        draw += 2
        root = 1.0 + c * x
        v = root * root * root
        if v > 0.0 and math.log(u) < 0.5 * x * x + d - d * v + d * math.log(v):
            break
    value = d * v
    if shape < 1.0:
        value *= uniform(key, draw) ** (1.0 / shape)
    return value


@rare
def beta(numbers: np.ndarray, d: Distribution, key: np.uint64) -> float:
    """Return a value between two bounds: the share of one gamma value in the sum of two."""
    one = gamma(chain(key, np.uint64(1)), d.a)
    other = gamma(chain(key, np.uint64(2)), d.b)
    low = numbers[d.first]
    return low + (numbers[d.first + 1] - low) * one / (one + other)


@rare
def discrete(numbers: np.ndarray, d: Distribution, u: float) -> float:
    """Return the value whose cumulative weight a draw falls under."""
    below, above = 0, d.stages - 1
    while below < above:
        middle = (below + above) // 2
        if u < numbers[d.first + d.stages + middle]:
            above = middle
        else:
            below = middle + 1
    return numbers[d.first + below]


@rare
def empirical(numbers: np.ndarray, d: Distribution, u: float) -> float:
    """Return a quantile of ordered observations, linear between neighbours."""
    position = u * (d.stages - 1)
    below = int(position)
    if below >= d.stages - 1:
        return numbers[d.first + d.stages - 1]
    low = numbers[d.first + below]
    return low + (position - below) * (numbers[d.first + below + 1] - low)


@rare
def poisson(key: np.uint64, mean: float) -> float:
    """Return a count; large means are counted in pieces, each by inversion."""
    total = 0.0
    piece = 0
    while mean > 0.0:
        part = min(mean, _PIECE)
        mean -= part
        u = uniform(key, piece)
        piece += 1
        chance = math.exp(-part)
        reached = chance
        count = 0
        while u > reached and count < 10_000:
            count += 1
            chance *= part / count
            reached += chance
        total += count
    return total
