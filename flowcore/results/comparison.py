"""Scenarios beside a baseline: paired differences, their intervals, and verdicts adjusted for being many."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from flowcore.results.catalogue import preferred_sign
from flowcore.results.statistics import Estimate, cautious_estimate, cautious_p_value, estimates_of

Values = NDArray[np.float64]
MOST_MORE = 10_000
"""Where more replications than these would be needed to tell a difference, nothing is said of how many."""


class Verdict(StrEnum):
    """What a difference amounts to."""

    BETTER = "better"
    WORSE = "worse"
    HIGHER = "higher"
    LOWER = "lower"
    SAME = "same"
    UNCLEAR = "no clear difference"


@dataclass(frozen=True)
class Difference:
    """One figure in a scenario and in the baseline: what it is in each and by how much it differs (other − first).

    `exact` is a difference that is one and the same in every replication. `p` is adjusted. `more` is about how many
    more replications would tell where there is no clear difference yet; None where nobody can say.
    """

    address: str
    first: Estimate
    other: Estimate
    difference: Estimate
    p: float | None
    verdict: Verdict
    exact: bool
    more: int | None


def compare(
    address: str, pairs: Sequence[tuple[Values, Values]], confidence: float, wish: int | None = None
) -> list[Difference]:
    """Compare one figure of several scenarios with the baseline's, whose replications share their luck, pair by pair.

    `pairs` has for each scenario the baseline's values and its own, one a replication in the same order; what one has
    more of is left out. `wish` is 1 where more is better, -1 where less is, by default what the catalogue says. The
    verdicts keep to the confidence over all of them together, and each interval is of the level at which its difference
    was judged: it holds zero just where there is no clear difference. Source: Holm, A simple sequentially rejective
    multiple test procedure, Scandinavian Journal of Statistics 6 (1979).
    """
    apart = [other[: len(first)] - first[: len(other)] for first, other in pairs]
    levels = _levels([cautious_p_value(each) for each in apart], 1 - confidence)
    sign = preferred_sign(address) if wish is None else wish
    firsts = estimates_of([first for first, _ in pairs], confidence)
    others = estimates_of([other for _, other in pairs], confidence)
    return [
        _difference(address, (first, other), each, level, confidence, sign)
        for first, other, each, level in zip(firsts, others, apart, levels, strict=True)
    ]


@dataclass(frozen=True)
class _Level:
    """The adjusted p-value of one test, and the share of error that it was allowed."""

    p: float | None
    error: float


def _levels(values: list[float | None], error: float) -> list[_Level]:
    """Return the adjusted p-values of several tests and the levels of their intervals; see `compare`."""
    known = sorted((p, number) for number, p in enumerate(values) if p is not None)
    levels = [_Level(None, error)] * len(values)
    highest, level, goes_on = 0.0, error, True
    for rank, (p, number) in enumerate(known):
        highest = max(highest, min(1.0, p * (len(known) - rank)))
        level = error / (len(known) - rank) if goes_on else level
        goes_on = goes_on and highest <= error
        levels[number] = _Level(highest, level)
    return levels


def _difference(
    address: str, both: tuple[Estimate, Estimate], apart: Values, level: _Level, confidence: float, wish: int
) -> Difference:
    difference = cautious_estimate(apart, 1 - level.error)
    verdict = _verdict(difference, level.p is not None and level.p <= 1 - confidence, wish)
    return Difference(
        address=address,
        first=both[0],
        other=both[1],
        difference=difference,
        p=level.p,
        verdict=verdict,
        exact=difference.sd == 0,
        more=_more_to_tell(difference) if verdict is Verdict.UNCLEAR else None,
    )


def _verdict(difference: Estimate, is_clear: bool, wish: int) -> Verdict:
    if difference.mean is None or difference.sd is None:
        return Verdict.UNCLEAR
    if difference.mean == 0 and difference.sd == 0:
        return Verdict.SAME
    if not is_clear:
        return Verdict.UNCLEAR
    if wish == 0:
        return Verdict.HIGHER if difference.mean > 0 else Verdict.LOWER
    return Verdict.BETTER if difference.mean * wish > 0 else Verdict.WORSE


def _more_to_tell(difference: Estimate) -> int | None:
    """Return about how many more replications would make a difference of this size and spread a clear one.

    Half-widths shrink with the root of their number; rounded up to tens.
    """
    if not difference.mean or difference.half_width is None:
        return None
    lacking = difference.n * (difference.half_width / abs(difference.mean)) ** 2 - difference.n
    if lacking > MOST_MORE:
        return None
    return max(10, math.ceil(lacking / 10) * 10)


def efficient(points: Sequence[tuple[float, float]], wishes: tuple[int, int]) -> list[int]:
    """Return which points no other beats in both coordinates, in the order of the first coordinate.

    `wishes` say for each coordinate whether more (1) or less (-1) is better. One that another equals in one and beats
    in the other is left out, of equals all are kept.
    """
    turned = [(-x * wishes[0], -y * wishes[1]) for x, y in points]
    kept = [n for n, point in enumerate(turned) if not any(_beats(other, point) for other in turned)]
    return sorted(kept, key=lambda n: points[n])


def _beats(one: tuple[float, float], other: tuple[float, float]) -> bool:
    return one[0] <= other[0] and one[1] <= other[1] and one != other
