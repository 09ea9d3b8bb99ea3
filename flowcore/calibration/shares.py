"""Where cases go next, in shares with their intervals, of all or of each type."""

from collections import Counter

import numpy as np
from pydantic import BaseModel
from scipy import stats

from flowcore.logs.visits import Outcome, Visits

DIFFERENT = 0.001
"""So unlikely by chance must differences between types be that each has shares of its own."""
DIGITS = 4


class Share(BaseModel):
    """How many of `out_of` cases went on to a step, None where they left; `share` lies between `low` and `high`.

    The interval is Wilson's (1927).
    """

    to: str | None
    many: int
    out_of: int
    share: float
    low: float
    high: float


def share_of(to: str | None, many: int, out_of: int, confidence: float = 0.95) -> Share:
    """Return a share with its interval."""
    interval = stats.binomtest(many, out_of).proportion_ci(confidence, method="wilson")
    low, high = float(interval.low), float(interval.high)
    return Share(to=to, many=many, out_of=out_of, share=many / out_of, low=low, high=high)


def shares_after(visits: Visits, step: str, type_: str | None = None, confidence: float = 0.95) -> list[Share]:
    """Return where cases, of a type or of any, went on to from a step, the most first.

    Who gave up there, or was turned away, has not gone on from it.
    """
    here = (visits.step == visits.steps.index(step)) & (visits.outcome == Outcome.SERVED)
    if type_ is not None:
        here &= visits.type[visits.case] == visits.types.index(type_)
    follows = np.append(visits.case[1:] == visits.case[:-1], False)[: len(visits)]
    onward = np.where(follows, np.append(visits.step[1:], -1)[: len(visits)], -1)[here]
    counted = Counter(onward.tolist()).most_common()
    return [share_of(visits.steps[to] if to >= 0 else None, many, int(here.sum()), confidence) for to, many in counted]


def differ(counts: list[list[int]]) -> bool:
    """Say whether rows of counts differ in their shares by more than chance brings: a chi-square test."""
    table = np.array([row for row in counts if sum(row)])
    if len(table) < 2:
        return False
    table = table[:, table.sum(axis=0) > 0]
    return table.shape[1] > 1 and bool(stats.chi2_contingency(table).pvalue < DIFFERENT)


def whole_shares(counts: list[int]) -> list[float]:
    """Return shares of counts that add up to one, as the document has them."""
    shares = [round(each / sum(counts), DIGITS) for each in counts]
    return [round(1 - sum(shares[1:]), DIGITS), *shares[1:]]
