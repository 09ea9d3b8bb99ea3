"""Figures of a sample, and the mean of few independent values with its interval."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.special import stdtr, stdtrit

PERCENTILES = (5, 10, 25, 50, 75, 90, 95, 99)
STATISTICS = ("mean", "sd", "min", "max", *(f"p{p}" for p in PERCENTILES), "none")


def sample_statistics(values: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return the STATISTICS of a sample, in their order; not-a-number where it is empty.

    Percentiles are exact: linear between the ordered values, definition 7 of Hyndman and Fan,
    Sample quantiles in statistical packages, The American Statistician 50 (1996). `none` is the
    share of values that are zero.
    """
    if len(values) == 0:
        return np.full(len(STATISTICS), np.nan)
    if not values.any():
        return np.array([0.0, 0.0 if len(values) > 1 else np.nan, *[0.0] * (2 + len(PERCENTILES)), 1.0])
    ordered = np.sort(values)
    position = (len(ordered) - 1) * np.array(PERCENTILES) / 100
    below = position.astype(np.int64)
    above = np.minimum(below + 1, len(ordered) - 1)
    percentiles = ordered[below] + (position - below) * (ordered[above] - ordered[below])
    mean = ordered.mean(keepdims=True)
    sd = ordered.std(ddof=1, mean=mean) if len(ordered) > 1 else np.nan
    none = np.searchsorted(ordered, 0.0, side="right") / len(ordered)
    return np.array([mean[0], sd, ordered[0], ordered[-1], *percentiles, none])


@dataclass(frozen=True)
class Estimate:
    """A mean over replications with its confidence interval; None where it cannot be had."""

    mean: float | None
    half_width: float | None
    low: float | None
    high: float | None
    sd: float | None
    n: int


def estimate(values: NDArray[np.float64], confidence: float) -> Estimate:
    """Return the mean of independent values with its Student interval; undefined values are left out."""
    known = values[~np.isnan(values)]
    if len(known) == 0:
        return Estimate(None, None, None, None, None, 0)
    mean = float(known.mean())
    if len(known) == 1:
        return Estimate(mean, None, None, None, None, 1)
    sd = float(known.std(ddof=1))
    half_width = float(stdtrit(len(known) - 1, (1 + confidence) / 2)) * sd / len(known) ** 0.5
    return Estimate(mean, half_width, mean - half_width, mean + half_width, sd, len(known))


def p_value(difference: Estimate) -> float | None:
    """Return the two-sided p-value of a mean paired difference being zero (Student's t)."""
    if difference.mean is None or difference.sd is None:
        return None
    if difference.sd == 0:
        return 1.0 if difference.mean == 0 else 0.0
    t = abs(difference.mean) / (difference.sd / difference.n**0.5)
    return float(2 * stdtr(difference.n - 1, -t))
