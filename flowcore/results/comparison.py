"""Two runs side by side: paired differences, their intervals, and a verdict."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from flowcore.results.catalogue import preferred_sign
from flowcore.results.statistics import Estimate, estimate, p_value


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
    """One figure in two runs: what it is in each and by how much it differs (other − first)."""

    address: str
    first: Estimate
    other: Estimate
    difference: Estimate
    p: float | None
    verdict: Verdict
    confidence: float


def compare(address: str, first: NDArray[np.float64], other: NDArray[np.float64], confidence: float) -> Difference:
    """Compare one figure of two runs whose replications share their luck, pair by pair.

    `first` and `other` have one value per replication, in the same order. Where only one pair
    is there, or the interval of the mean difference holds zero, no difference is claimed.
    """
    pairs = min(len(first), len(other))
    differences = other[:pairs] - first[:pairs]
    difference = estimate(differences, confidence)
    return Difference(
        address=address,
        first=estimate(first, confidence),
        other=estimate(other, confidence),
        difference=difference,
        p=p_value(differences),
        verdict=_verdict(difference, preferred_sign(address)),
        confidence=confidence,
    )


def _verdict(difference: Estimate, wish: int) -> Verdict:
    if difference.mean is None or difference.low is None or difference.high is None:
        return Verdict.UNCLEAR
    if difference.mean == 0 and difference.sd == 0:
        return Verdict.SAME
    if difference.low <= 0 <= difference.high:
        return Verdict.UNCLEAR
    if wish == 0:
        return Verdict.HIGHER if difference.mean > 0 else Verdict.LOWER
    return Verdict.BETTER if difference.mean * wish > 0 else Verdict.WORSE


def adjusted(differences: Sequence[Difference]) -> list[Difference]:
    """Return the comparisons of several scenarios with one baseline, their p-values adjusted for being many.

    A verdict that the adjusted p-value does not bear out becomes no clear difference.
    Source: Holm, A simple sequentially rejective multiple test procedure, Scandinavian Journal of
    Statistics 6 (1979).
    """
    known = sorted((each.p, number) for number, each in enumerate(differences) if each.p is not None)
    result = list(differences)
    highest = 0.0
    for rank, (p, number) in enumerate(known):
        highest = max(highest, min(1.0, p * (len(known) - rank)))
        each = differences[number]
        verdict = each.verdict if highest <= 1 - each.confidence or each.verdict is Verdict.SAME else Verdict.UNCLEAR
        result[number] = replace(each, p=highest, verdict=verdict)
    return result
