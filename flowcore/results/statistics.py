"""Figures of a sample, and the mean of few independent values with its interval."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.special import stdtr, stdtrit

PERCENTILES = (5, 10, 25, 50, 75, 90, 95, 99)
PERCENTILE_NAMES = tuple(f"p{percentile}" for percentile in PERCENTILES)
STATISTICS = ("mean", "sd", "min", "max", *PERCENTILE_NAMES, "none")


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
    """Return the mean of independent values with its interval, adjusted for skewness; undefined values are left out.

    Student's interval, which the mean of few skewed values leaves too often on the side of the long tail, with its
    two ends moved by the cubic transformation that makes the mean's distribution symmetric; without skewness it is
    Student's own. `half_width` is half its length. Sources: Hall, On the removal of skewness by transformation, Journal
    of the Royal Statistical Society B 54 (1992); Willink, A confidence interval and test for the mean of an asymmetric
    distribution, Communications in Statistics: Theory and Methods 34 (2005).
    """
    known = values[~np.isnan(values)]
    count = len(known)
    if count == 0:
        return Estimate(None, None, None, None, None, 0)
    mean = float(known.mean())
    if count == 1:
        return Estimate(mean, None, None, None, None, 1)
    sd = float(known.std(ddof=1))
    t = float(stdtrit(count - 1, (1 + confidence) / 2))
    lean = _lean(known)
    low = mean - _untransformed(t, lean) * sd / count**0.5
    high = mean - _untransformed(-t, lean) * sd / count**0.5
    return Estimate(mean, (high - low) / 2, low, high, sd, count)


def _lean(values: NDArray[np.float64]) -> float:
    """Return the skewness of values over 6 √n, by the unbiased third moment; 0 where it cannot be told."""
    count = len(values)
    apart = values - values.mean()
    variance = float((apart**2).mean())
    if count < 3 or variance <= 1e-24 * float((values**2).mean()):
        return 0.0
    skewness: float = (apart**3).mean() / variance**1.5 * (count * (count - 1)) ** 0.5 / (count - 2)
    return float(skewness / (6 * count**0.5))


def _untransformed(t: float, lean: float) -> float:
    """Return the standardised mean whose cubic transform is t."""
    if abs(lean) < 1e-9:
        return t
    return (float(np.cbrt(1 + 6 * lean * (t - lean))) - 1) / (2 * lean)


def p_value(values: NDArray[np.float64]) -> float | None:
    """Return the two-sided p-value of a mean paired difference being zero, by the same transformation as `estimate`."""
    known = values[~np.isnan(values)]
    if len(known) < 2:
        return None
    mean, sd = float(known.mean()), float(known.std(ddof=1))
    if sd == 0:
        return 1.0 if mean == 0 else 0.0
    lean = _lean(known)
    standardised = mean / (sd / len(known) ** 0.5)
    t = standardised + lean * (1 + 2 * standardised**2) + 4 / 3 * lean**2 * standardised**3
    return float(2 * stdtr(len(known) - 1, -abs(t)))
