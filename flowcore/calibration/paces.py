"""Who works how fast: the times of each person at a step beside those of all."""

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel
from scipy import stats

from flowcore.calibration.candidates import Numbers
from flowcore.logs.visits import Outcome, Visits

FEWEST = 20
MOST_TOLD = 30
DIFFERENT = 0.001


class PersonPace(BaseModel):
    """How long a person takes at a step on average, with its interval: minutes, of so many times.

    It `differs` where it is not that of the others, by Welch's test (1947) at a thousandth.
    """

    name: str
    many: int
    mean: float
    low: float
    high: float
    differs: bool


def paces_at(visits: Visits, here: NDArray[np.bool_], confidence: float = 0.95) -> list[PersonPace]:
    """Return how fast each person works at a step that the visits `here` are of, the slowest first."""
    known = here & (visits.outcome == Outcome.SERVED) & (visits.who >= 0) & (visits.work >= 0)
    who, work = visits.who[known], visits.work[known]
    counts = np.bincount(who, minlength=len(visits.people))
    people = np.flatnonzero(counts >= FEWEST)
    if len(people) < 2:
        return []
    busiest = people[np.argsort(-counts[people], kind="stable")[:MOST_TOLD]].tolist()
    found = [_pace(visits.people[person], work[who == person], work[who != person], confidence) for person in busiest]
    return sorted(found, key=lambda each: -each.mean)


def _pace(name: str, mine: Numbers, others: Numbers, confidence: float) -> PersonPace:
    half = stats.t.ppf((1 + confidence) / 2, len(mine) - 1) * mine.std(ddof=1) / np.sqrt(len(mine))
    is_same = mine.std() == others.std() == 0 and mine[0] == others[0]
    chance = 1.0 if is_same else float(stats.ttest_ind(mine, others, equal_var=False).pvalue)
    mean = float(mine.mean())
    low, high = max(0.0, mean - float(half)), mean + float(half)
    return PersonPace(name=name, many=len(mine), mean=mean, low=low, high=high, differs=chance < DIFFERENT)
