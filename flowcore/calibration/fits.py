"""One shape brought as near to durations that were seen as it comes, and how near that is."""

from collections.abc import Callable
from itertools import combinations
from typing import Any

import numpy as np
from pydantic import BaseModel
from scipy import stats

from flowcore.calibration.candidates import Candidate, Numbers, Parameters, Seen, log_likelihood
from flowcore.calibration.lasting import Lasting
from flowcore.problems import StudyError
from flowcore.study.distributions.described import Measure, read_distribution
from flowcore.study.distributions.shape import Shape
from flowcore.study.durations import in_unit

DIGITS = 4
PAIRS = 40
MOST_CELLS = 40
STEP = 1e-3
"""How far from a logarithm of a parameter the likelihood is tried."""
NUMBERS = ("k", "shape")
"""Parameters that are no times."""


class ShapeFit(BaseModel):
    """A shape brought as near to what was seen as it comes.

    `value` is how the document writes it; `criterion` is Akaike's for few data (Hurvich and Tsai 1989): the less, the
    nearer; `off` is the largest difference between the shares that last up to a time; `by_chance` is how likely chance
    alone brings what was seen (chi-square with cells of equal shares; Moore 1986), None where some times are only known
    to be longer. `intervals` are of parameters in minutes or plain, `pairs` of times (by the shape, as seen) at equal
    shares.
    """

    dist: str
    value: Any
    parameters: int
    criterion: float
    off: float
    by_chance: float | None
    intervals: dict[str, tuple[float, float]]
    pairs: list[tuple[float, float]]


def fit_of(
    seen: Seen, dist: str, candidate: Candidate, lasting: Lasting, unit: str, confidence: float
) -> ShapeFit | None:
    """Return a shape brought near to what was seen, None where the document has none of this shape that comes near."""
    parameters = _brought_near(candidate, seen)
    shape = parameters and _shape(dist, parameters)
    if not shape or not parameters:
        return None
    law = shape.law()
    likely = log_likelihood(seen, law)
    many = len(seen.ended) + len(seen.longer)
    if not np.isfinite(likely):
        return None
    free = candidate.parameters
    shares = (np.arange(PAIRS) + 0.5) / PAIRS
    there = lasting.at_share(shares)
    pairs = [(float(x), float(y)) for x, y in zip(law.ppf(shares), there, strict=True) if np.isfinite(y)]
    return ShapeFit(
        dist=dist,
        value={"dist": dist} | {name: _written(name, number, unit) for name, number in parameters.items()},
        parameters=free,
        criterion=2 * free - 2 * likely + 2 * free * (free + 1) / max(1, many - free - 1),
        off=_off(law, lasting),
        by_chance=None if len(seen.longer) else _by_chance(seen.ended, law, free),
        intervals=_intervals(seen, dist, parameters, candidate.free, confidence),
        pairs=pairs,
    )


def _brought_near(candidate: Candidate, seen: Seen) -> Parameters | None:
    """Return the likeliest parameters, None where there are none."""
    try:
        with np.errstate(all="ignore"):
            return candidate.fit(seen)
    except (ValueError, ArithmeticError, stats.FitError):
        return None


def _shape(dist: str, parameters: Parameters) -> Shape[Any] | None:
    try:
        shape = read_distribution({"dist": dist, **parameters}, Measure.NUMBER)
    except StudyError:
        return None
    return shape if isinstance(shape, Shape) and shape.variance() > 0 else None


def _written(name: str, number: float, unit: str) -> float | str:
    return float(f"{number:.{DIGITS}g}") if name in NUMBERS else in_unit(number, unit, DIGITS)


def _off(law: Any, lasting: Lasting) -> float:
    """Return the largest difference of shares, before and after each time (Kolmogorov)."""
    by_law = law.cdf(lasting.times)
    before = np.append(0.0, lasting.shares[:-1])
    return float(np.maximum(np.abs(by_law - lasting.shares), np.abs(by_law - before)).max())


def _by_chance(times: Numbers, law: Any, parameters: int) -> float | None:
    """Return how likely chance alone brings such times: a chi-square test with cells of equal shares.

    So many cells: Mann and Wald (1942), halved, as Moore (1986) has it.
    """
    cells = min(MOST_CELLS, int(2 * len(times) ** 0.4))
    left = cells - 1 - parameters
    if left < 1:
        return None
    counts = np.bincount(np.minimum((law.cdf(times) * cells).astype(int), cells - 1), minlength=cells)
    expected = len(times) / cells
    return float(stats.chi2.sf(((counts - expected) ** 2).sum() / expected, left))


def _intervals(
    seen: Seen, dist: str, parameters: Parameters, free: tuple[str, ...], confidence: float
) -> dict[str, tuple[float, float]]:
    """Return intervals of parameters from how fast the likelihood falls off around them, on the scale of logarithms."""
    if not free:
        return {}
    at = np.log([parameters[name] for name in free])

    def likely(logs: Numbers) -> float:
        moved = parameters | dict(zip(free, np.exp(logs).tolist(), strict=True))
        shape = _shape(dist, moved)
        return log_likelihood(seen, shape.law()) if shape else -np.inf

    bend = _bend(likely, at)
    try:
        variances = np.diag(np.linalg.inv(-bend))
    except np.linalg.LinAlgError:
        return {}
    if not (np.isfinite(variances) & (variances > 0)).all():
        return {}
    far = stats.norm.ppf((1 + confidence) / 2) * np.sqrt(variances)
    return {
        name: (float(np.exp(middle - half)), float(np.exp(middle + half)))
        for name, middle, half in zip(free, at, far, strict=True)
    }


def _bend(function: Callable[[Numbers], float], at: Numbers) -> Numbers:
    """Return the second derivatives of a function at a point, by differences."""
    many = len(at)
    steps = np.eye(many) * STEP
    middle = function(at)
    ahead, behind = [function(at + step) for step in steps], [function(at - step) for step in steps]
    found = np.diag([one + other - 2 * middle for one, other in zip(ahead, behind, strict=True)])
    for a, b in combinations(range(many), 2):
        across = function(at + steps[a] + steps[b]) + function(at - steps[a] - steps[b])
        found[a, b] = found[b, a] = (across + 2 * middle - ahead[a] - behind[a] - ahead[b] - behind[b]) / 2
    return found / STEP**2
