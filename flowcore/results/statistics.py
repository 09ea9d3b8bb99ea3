"""Figures of a sample, and the mean of few independent values with its interval."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.special import stdtr, stdtrit

from flowcore.kernel.summary.percentiles import PERCENTILES
from flowcore.kernel.summary.statistics import statistics

PERCENTILE_NAMES = tuple(f"p{percentile}" for percentile in PERCENTILES)
ROUNDING = 1e-12
"""Values whose spread is so small a share of them are one value, summed up in different ways."""

STATISTICS = ("mean", "sd", "min", "max", *PERCENTILE_NAMES, "none")


def sample_statistics(values: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return the STATISTICS of a sample, in their order; not-a-number where it is empty. See `kernel.columns`.

    `none` is the share of values that are zero.
    """
    many, first, no_histogram = len(values), np.zeros(1, np.int64), np.zeros(1, np.bool_)
    room, bins = np.empty(many), np.empty(many, np.int32)
    figures, _, _ = statistics(values[None, :], first, no_histogram, np.array([0, many]), room, bins)
    of_one: NDArray[np.float64] = figures[0, 0]
    return of_one


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
    """Return the mean of independent values with its interval; see `estimates`."""
    return estimates(values[None, :], confidence)[0]


def estimates(table: NDArray[np.float64], confidence: float) -> list[Estimate]:
    """Return the means of rows of independent values with their intervals, adjusted for skewness.

    Undefined values are left out. Student's interval, which the mean of few skewed values leaves too often on the side
    of the long tail, has its two ends moved by the cubic transformation that makes the mean's distribution symmetric;
    without skewness it is Student's own. `half_width` is half its length. Sources: Hall, On the removal of skewness by
    transformation, Journal of the Royal Statistical Society B 54 (1992); Willink, A confidence interval and test for
    the mean of an asymmetric distribution, Communications in Statistics: Theory and Methods 34 (2005).
    """
    moments = _moments(table)
    low, high = _ends(moments, confidence)
    columns = (moments.mean, (high - low) / 2, low, high, moments.sd, moments.count)
    return [_estimate_of(*row) for row in zip(*(column.tolist() for column in columns), strict=True)]


def means_and_half_widths(
    table: NDArray[np.float64], confidence: float
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return the means of rows and half their intervals, as `estimates` has them; not-a-number where there is none."""
    moments = _moments(table)
    low, high = _ends(moments, confidence)
    return np.where(moments.count > 0, moments.mean, np.nan), np.where(moments.count > 1, (high - low) / 2, np.nan)


def _ends(moments: "_Moments", confidence: float) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    error = moments.sd / np.sqrt(np.maximum(moments.count, 1))
    t: NDArray[np.float64] = stdtrit(np.maximum(moments.count - 1, 1), (1 + confidence) / 2).astype(np.float64)
    low: NDArray[np.float64] = moments.mean - _untransformed(t, moments.lean) * error
    high: NDArray[np.float64] = moments.mean - _untransformed(-t, moments.lean) * error
    return low, high


def mean_of_known(values: NDArray[np.float64], axis: int) -> NDArray[np.float64]:
    """Return the mean along an axis over what is known; not-a-number where nothing is."""
    known = ~np.isnan(values)
    many = known.sum(axis=axis)
    sums = np.where(known, values, 0.0).sum(axis=axis)
    means: NDArray[np.float64] = np.divide(sums, many, out=np.full(sums.shape, np.nan), where=many > 0)
    return means


def estimates_of(rows: Sequence[NDArray[np.float64]], confidence: float) -> list[Estimate]:
    """Return the means of rows that may be of different lengths; see `estimates`."""
    table = np.full((len(rows), max((len(row) for row in rows), default=0)), np.nan)
    for place, row in enumerate(rows):
        table[place, : len(row)] = row
    return estimates(table, confidence)


def _estimate_of(mean: float, half_width: float, low: float, high: float, sd: float, count: int) -> Estimate:
    if count == 0:
        return Estimate(None, None, None, None, None, 0)
    return Estimate(mean, half_width, low, high, sd, count) if count > 1 else Estimate(mean, None, None, None, None, 1)


@dataclass(frozen=True)
class _Moments:
    """Of rows of values: how many are known, their mean and standard deviation, and their skewness over 6 √n."""

    count: NDArray[np.int64]
    mean: NDArray[np.float64]
    sd: NDArray[np.float64]
    lean: NDArray[np.float64]


def _moments(table: NDArray[np.float64]) -> _Moments:
    """Return the moments of rows; the skewness is by the unbiased third moment, 0 where it cannot be told."""
    known = ~np.isnan(table)
    count = known.sum(axis=1)
    some = np.maximum(count, 1)
    filled = np.where(known, table, 0.0)
    mean = filled.sum(axis=1) / some
    apart = np.where(known, filled - mean[:, None], 0.0)
    squared = apart**2
    squares = squared.sum(axis=1)
    squares[squares <= ROUNDING**2 * (filled**2).sum(axis=1)] = 0.0
    variance = squares / some
    is_skewed = (count > 2) & (variance > 0.0)
    third = (squared * apart).sum(axis=1) / some
    skewness = np.divide(third, variance**1.5, out=np.zeros_like(mean), where=is_skewed)
    lean = skewness * np.sqrt(count * np.maximum(count - 1, 0)) / np.maximum(count - 2, 1) / (6 * np.sqrt(some))
    return _Moments(count, mean, np.sqrt(squares / np.maximum(count - 1, 1)), lean)


def _untransformed(t: NDArray[np.float64], lean: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return the standardised means whose cubic transforms are t."""
    leans = np.abs(lean) > 1e-9
    moved: NDArray[np.float64] = np.divide(
        np.cbrt(1 + 6 * lean * (t - lean)) - 1, 2 * lean, out=np.array(t, np.float64), where=leans
    )
    return moved


def cautious_estimate(values: NDArray[np.float64], confidence: float) -> Estimate:
    """Return the mean of independent values with an interval that holds both Student's and the one of `estimates`.

    Differences of like systems are now symmetric and now skewed: the one interval is too narrow here, the other there.
    """
    found = estimate(values, confidence)
    if found.mean is None or found.sd is None or found.low is None or found.high is None:
        return found
    reach = float(stdtrit(found.n - 1, (1 + confidence) / 2)) * found.sd / found.n**0.5
    low, high = min(found.low, found.mean - reach), max(found.high, found.mean + reach)
    return Estimate(found.mean, (high - low) / 2, low, high, found.sd, found.n)


def cautious_p_value(values: NDArray[np.float64]) -> float | None:
    """Return the two-sided p-value of a mean paired difference being zero, Student's or that of `estimates`.

    It is the larger of the two: below a level just where zero is outside the `cautious_estimate` of that level.
    """
    moments = _moments(values[None, :])
    count, mean, sd, lean = (float(each[0]) for each in (moments.count, moments.mean, moments.sd, moments.lean))
    if count < 2:
        return None
    if sd == 0:
        return 1.0 if mean == 0 else 0.0
    standardised = mean / (sd / count**0.5)
    t = standardised + lean * (1 + 2 * standardised**2) + 4 / 3 * lean**2 * standardised**3
    return float(2 * stdtr(count - 1, -min(abs(t), abs(standardised))))
