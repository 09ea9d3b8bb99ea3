"""Two scenarios over each other: how a figure spreads in both, and by which hours of the week they differ."""

from collections.abc import Sequence
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from flowcore.reports.comparison import Column
from flowcore.results.catalogue import HOURS_A_WEEK, preferred_sign
from flowcore.results.comparison import Verdict, compare
from flowcore.results.histogram import Histogram, width_of_bars
from flowcore.results.run import Results
from flowcore.results.series import INSIDE, by_week
from flowcore.results.statistics import Estimate
from flowcore.study import StudyDocument, minutes

Values = NDArray[np.float64]
MOST_BINS = 40
SHOWN = 0.99
"""So large a share of the cases of both is shown; the others are beyond."""


class Spread(StrEnum):
    """What is spread: the cases of all replications, or the replications."""

    CASES = "cases"
    REPLICATIONS = "replications"


class Shares(BaseModel):
    """Which share is in each bin, and beyond the last."""

    bins: list[float]
    beyond: float


class Distributions(BaseModel):
    """A quantity of two columns in the same bins.

    Bins are `width` wide, the first begins at `start`; both are in the unit of the figure, of cases in minutes.
    """

    of: Spread
    start: float
    width: float
    first: Shares
    other: Shares


class HourDifference(BaseModel):
    """By how much the cases inside differ in an hour of the week, counted from Monday's midnight."""

    hour: int
    difference: Estimate
    verdict: Verdict


class ScenarioPair(BaseModel):
    """Two columns over each other; without distributions where a column lacks the figure."""

    distributions: Distributions | None
    week: list[HourDifference]


def pair_of(first: Column, other: Column, address: str) -> ScenarioPair:
    """Return two columns over each other in one figure, and the cases inside by the hour of the week."""
    return ScenarioPair(
        distributions=distributions(first.results, other.results, address),
        week=week_of_differences(first, other),
    )


def distributions(first: Results, other: Results, address: str) -> Distributions | None:
    """Return how the cases spread where the figure is one of cases, else how its replications do."""
    quantity, _, _ = address.rpartition("/")
    cases = [each.histogram(quantity) for each in (first, other)]
    if cases[0] is not None and cases[1] is not None and all(each.total for each in cases if each is not None):
        return _of_cases(cases[0], cases[1])
    if not (first.has(address) and other.has(address)):
        return None
    values = [each.contributions(address) for each in (first, other)]
    return _of_replications(*(each[~np.isnan(each)] for each in values))


def _of_cases(first: Histogram, other: Histogram) -> Distributions:
    end = max(each.end_of(SHOWN) for each in (first, other))
    width = width_of_bars(end, MOST_BINS)
    many = int(np.ceil(end / width))
    shares = [each.in_bars(width, many) / each.total for each in (first, other)]
    return _spread(Spread.CASES, 0.0, width, shares)


def _of_replications(first: Values, other: Values) -> Distributions | None:
    if not (len(first) and len(other)):
        return None
    both = np.concatenate([first, other])
    edges = np.histogram_bin_edges(both, "sturges") if np.ptp(both) > 0 else np.array([both[0] - 0.5, both[0] + 0.5])
    shares = [np.histogram(each, edges)[0] / len(each) for each in (first, other)]
    return _spread(Spread.REPLICATIONS, float(edges[0]), float(edges[1] - edges[0]), shares)


def _spread(of: Spread, start: float, width: float, shares: Sequence[Values]) -> Distributions:
    first, other = (Shares(bins=each.tolist(), beyond=max(0.0, 1.0 - float(each.sum()))) for each in shares)
    return Distributions(of=of, start=start, width=width, first=first, other=other)


def week_of_differences(first: Column, other: Column) -> list[HourDifference]:
    """Return by how much the cases inside differ, hour by hour of the week, pair by pair; the verdicts are adjusted.

    The warm-up is left out. Hours that a replication did not reach have none.
    """
    mine, theirs = _by_hour(first), _by_hour(other)
    numbers = sorted(set(mine) & set(theirs))
    if not numbers:
        return []
    courses = [np.array([each[number] for number in numbers]) for each in (mine, theirs)]
    known = np.flatnonzero(~np.isnan(courses[0] + courses[1]).any(axis=0))
    pairs = [(courses[0][:, hour], courses[1][:, hour]) for hour in known]
    wish = preferred_sign(f"{INSIDE}/mean")
    found = compare(INSIDE, pairs, first.results.confidence, wish)
    return [
        HourDifference(hour=int(hour), difference=each.difference, verdict=each.verdict)
        for hour, each in zip(known, found, strict=True)
    ]


def _by_hour(column: Column) -> dict[int, Values]:
    """Return the mean number of cases inside by hour of the week, of each replication by its number."""
    return {
        each.number: _hours_of(column.study, each.series[INSIDE])
        for each in column.results.replications
        if len(each.series[INSIDE])
    }


def _hours_of(study: StudyDocument, course: Values) -> Values:
    interval = minutes(study.run.interval)
    course = course.copy()
    if len(course) * interval >= minutes(study.run.length):
        course[: int(np.ceil(minutes(study.run.warm_up) / interval))] = np.nan
    hours = by_week(study, course).reshape(HOURS_A_WEEK, -1)
    means: Values = hours.mean(axis=1)
    return means
