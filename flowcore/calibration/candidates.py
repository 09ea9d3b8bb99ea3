"""The shapes that a duration may have, each brought as near to what was seen as it comes: by maximum likelihood."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy import optimize, special, stats

Numbers = NDArray[np.float64]
Parameters = dict[str, float]

MOST_SEARCHED = 500
"""From so many times, evenly spread over all in order, shapes without a formula are searched."""
NEAREST = 3.0
"""The logarithm that keeps a bound off the outermost time, so that this has a density."""


@dataclass(frozen=True)
class Seen:
    """Durations in minutes, above zero: those that `ended`, and those of which only is known that they are `longer`.

    Shapes (ended,) and (longer,).
    """

    ended: Numbers
    longer: Numbers

    @property
    def data(self) -> Any:
        """As scipy.stats fits it."""
        return stats.CensoredData(self.ended, right=self.longer) if len(self.longer) else self.ended


@dataclass(frozen=True)
class Candidate:
    """A shape: how it is fitted, by how many parameters; those that are `free` have an interval of their own.

    Some are fitted only where all times have ended.
    """

    fit: Callable[[Seen], Parameters | None]
    parameters: int
    free: tuple[str, ...] = ()
    needs_ends: bool = False


def _exponential(seen: Seen) -> Parameters:
    """All time over the number of ends, which is exact where some are longer too."""
    return {"mean": float(seen.ended.sum() + seen.longer.sum()) / len(seen.ended)}


def _lognormal(seen: Seen) -> Parameters:
    sd, _, scale = stats.lognorm.fit(seen.data, floc=0)
    mean = scale * np.exp(sd**2 / 2)
    return {"mean": float(mean), "sd": float(mean * np.sqrt(np.expm1(sd**2)))}


def _gamma(seen: Seen) -> Parameters:
    shape, _, scale = stats.gamma.fit(seen.data, floc=0)
    return {"mean": float(shape * scale), "sd": float(np.sqrt(shape) * scale)}


def _erlang(seen: Seen) -> Parameters | None:
    """The whole number of stages, beside what a gamma distribution would have, that is the likelier one."""
    gamma = _gamma(seen)
    stages = (gamma["mean"] / gamma["sd"]) ** 2
    tried = [(k, stats.gamma.fit(seen.data, f0=k, floc=0)[2]) for k in {int(stages), int(stages) + 1} if 1 < k <= 1000]
    if not tried:
        return None
    k, scale = max(tried, key=lambda each: log_likelihood(seen, stats.gamma(each[0], 0, each[1])))
    return {"mean": float(k * scale), "k": k}


def _weibull(seen: Seen) -> Parameters:
    shape, _, scale = stats.weibull_min.fit(seen.data, floc=0)
    return {"scale": float(scale), "shape": float(shape)}


def _normal(seen: Seen) -> Parameters | None:
    """A bell that is cut off at zero, by its mean and standard deviation before the cut."""
    start = np.array([seen.ended.mean(), np.log(seen.ended.std())])

    def unlikely(at: Numbers) -> float:
        mean, sd = at[0], np.exp(at[1])
        there = stats.norm.logpdf(seen.ended, mean, sd).sum() + stats.norm.logsf(seen.longer, mean, sd).sum()
        return float((len(seen.ended) + len(seen.longer)) * stats.norm.logsf(0, mean, sd) - there)

    mean, log_sd = optimize.minimize(unlikely, start, method="Nelder-Mead").x
    return {"mean": float(mean), "sd": float(np.exp(log_sd))} if mean > 0 else None


def _uniform(seen: Seen) -> Parameters:
    return {"low": float(seen.ended.min()), "high": float(seen.ended.max())}


def _triangular(seen: Seen) -> Parameters:
    """The likeliest bounds, each with the likeliest middle, which is one of the times.

    Source: Kotz and van Dorp, Beyond Beta (2004), 1.4.
    """
    times = _thinned(seen.ended)

    def at(low: float, high: float) -> tuple[float, float]:
        rising, falling = np.cumsum(np.log(times - low)), np.cumsum(np.log(high - times)[::-1])[::-1]
        places = np.arange(1, len(times) + 1)
        terms = rising + falling - places * np.log(times - low) - (len(times) - places + 1) * np.log(high - times)
        best = int(np.argmax(terms))
        return float(times[best]), float(terms[best] - len(times) * np.log(high - low))

    low, high = _bounds(times, lambda low, high: at(low, high)[1])
    return {"low": low, "mode": at(low, high)[0], "high": high}


def _pert(seen: Seen) -> Parameters:
    """The likeliest bounds, each with the likeliest middle; it is the beta distribution with weight 4 on that."""
    times = _thinned(seen.ended)

    def at(low: float, high: float) -> tuple[float, float]:
        """Return the middle that is likeliest between two bounds, as a share of the way, and how likely it is."""
        rising = float(np.log((times - low) / (high - low)).mean())
        falling = float(np.log((high - times) / (high - low)).mean())

        def unlikely(middle: float) -> float:
            weights = 4 * middle * rising + 4 * (1 - middle) * falling
            return float(special.betaln(1 + 4 * middle, 5 - 4 * middle)) - weights

        found = optimize.minimize_scalar(unlikely, bounds=(0.0, 1.0), method="bounded")
        return float(found.x), -len(times) * (float(found.fun) + np.log(high - low))

    low, high = _bounds(times, lambda low, high: at(low, high)[1])
    return {"low": low, "mode": low + at(low, high)[0] * (high - low), "high": high}


def _beta(seen: Seen) -> Parameters:
    """Between bounds as far outside of what was seen as one time is from the next on average."""
    low, high = float(seen.ended.min()), float(seen.ended.max())
    beyond = (high - low) / len(seen.ended)
    low, high = max(0.0, low - beyond), high + beyond
    a, b, _, _ = stats.beta.fit(_thinned(seen.ended), floc=low, fscale=high - low)
    law = stats.beta(a, b, low, high - low)
    return {"low": low, "high": high, "mean": float(law.mean()), "sd": float(law.std())}


def _bounds(times: Numbers, likely: Callable[[float, float], float]) -> tuple[float, float]:
    """Return the likeliest bounds outside of all times, the lower one not below zero."""
    least, most = float(times[0]), float(times[-1])
    width = most - least

    def bounds(at: Numbers) -> tuple[float, float]:
        return least * -np.expm1(-np.exp(min(at[0], NEAREST))), most + width * np.exp(max(at[1], -6 * NEAREST))

    start = np.log([0.1 * width / max(least, 1e-9), 0.1])

    def unlikely(at: Numbers) -> float:
        return -likely(*bounds(at))

    found = optimize.minimize(unlikely, start, method="Nelder-Mead")
    low, high = bounds(found.x)
    return float(low), float(high)


def _thinned(times: Numbers) -> Numbers:
    """Return the times in order, of very many only some that are evenly spread over them."""
    ordered: Numbers = np.sort(times)
    if len(ordered) <= MOST_SEARCHED:
        return ordered
    kept: Numbers = ordered[np.linspace(0, len(ordered) - 1, MOST_SEARCHED).round().astype(int)]
    return kept


CANDIDATES: dict[str, Candidate] = {
    "exponential": Candidate(_exponential, 1, ("mean",)),
    "erlang": Candidate(_erlang, 2, ("mean",)),
    "gamma": Candidate(_gamma, 2, ("mean", "sd")),
    "lognormal": Candidate(_lognormal, 2, ("mean", "sd")),
    "weibull": Candidate(_weibull, 2, ("scale", "shape")),
    "normal": Candidate(_normal, 2, ("mean", "sd")),
    "uniform": Candidate(_uniform, 2, needs_ends=True),
    "triangular": Candidate(_triangular, 3, needs_ends=True),
    "pert": Candidate(_pert, 3, needs_ends=True),
    "beta": Candidate(_beta, 4, needs_ends=True),
}
"""By the name of the shape in the document; of shapes that are as near, the earlier one is taken."""


def log_likelihood(seen: Seen, law: Any) -> float:
    """Return how likely, as a logarithm, a law of scipy.stats brings what was seen."""
    with np.errstate(divide="ignore"):
        return float(law.logpdf(seen.ended).sum() + law.logsf(seen.longer).sum())
