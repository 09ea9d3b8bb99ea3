"""When cases come: a weekly profile with its uncertainty, and whether they come more unevenly than by chance."""

from collections import Counter

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel
from scipy import stats

from flowcore.calibration.candidates import Numbers
from flowcore.logs.moments import weekdays
from flowcore.logs.visits import Visits
from flowcore.study.calendars import DAYS, Day
from flowcore.study.durations import DAY

UNEVEN = 0.001
"""So unlikely by chance must the differences between days be that they are called uneven."""
FINEST = 30
HALVES = 48
CLOSED = 0.001
"""A day on which nobody comes is taken as closed where chance would bring that so seldom."""
MOST_COMING = 200


class Profile(BaseModel):
    """A weekly profile of arrivals in intervals of so many minutes, from Monday on.

    `week` are the means in each interval of a day, `low` and `high` their interval at a confidence (Garwood 1936: exact
    for arrivals by chance); `days` are how many of each weekday were counted, `closed` how many were not.
    `spread` is how much days differ: their variance over their mean, 1 by chance; `is_uneven` where chance alone does
    not bring that.
    """

    interval: int
    week: dict[Day, list[float]]
    low: dict[Day, list[float]]
    high: dict[Day, list[float]]
    days: dict[Day, int]
    closed: int
    spread: float
    is_uneven: bool


class Coming(BaseModel):
    """How many cases of a type (None without one) begin at a step, on average in each half hour of a week.

    Those who are `booked` are told apart from those who come as they like.
    """

    step: str
    type: str | None
    booked: bool
    many: int
    week: dict[Day, list[float]]


def coming(visits: Visits) -> list[Coming]:
    """Return how many cases of each type begin at each step, the most first, over the days that `profile` counts."""
    first = visits.is_first_of_case
    case, step = visits.case[first], visits.step[first]
    arrived, type_, booked = visits.arrived[case], visits.type[case], ~np.isnan(visits.planned[case])
    known = ~np.isnan(arrived)
    step, arrived, type_, booked = step[known], arrived[known], type_[known], booked[known]
    day = (arrived // DAY).astype(int)
    place_in_week = weekdays(day) * HALVES + (arrived % DAY // FINEST).astype(int)
    dates = np.bincount(weekdays(counted_days(day)), minlength=len(DAYS))
    found = []
    groups = Counter(zip(step.tolist(), type_.tolist(), booked.tolist(), strict=True))
    for (place, kind, is_booked), many in groups.most_common(MOST_COMING):
        here = (step == place) & (type_ == kind) & (booked == is_booked)
        counts = np.bincount(place_in_week[here], minlength=len(DAYS) * HALVES)
        rows = counts.reshape(len(DAYS), HALVES) / np.maximum(1, dates)[:, None]
        week = {name: row.tolist() for name, row in zip(DAYS, rows, strict=True) if row.any()}
        found.append(
            Coming(
                step=visits.steps[place],
                type=visits.types[kind] if kind >= 0 else None,
                booked=is_booked,
                many=many,
                week=week,
            )
        )
    return found


def counted_days(day: NDArray[np.int_]) -> NDArray[np.int_]:
    """Return the days that count: from the first on which somebody came to the last, but for closed ones.

    Days are numbers since 1970, one for each who came.
    """
    spanned = np.arange(day.min(), day.max() + 1)
    counts = np.bincount(day - spanned[0])
    weekday = weekdays(spanned)
    came = np.bincount(weekday, counts, len(DAYS))
    busy = np.bincount(weekday, counts > 0, len(DAYS))
    usual = came / np.maximum(1, busy)
    kept: NDArray[np.int_] = spanned[(counts > 0) | (usual[weekday] < -np.log(CLOSED)) | (busy[weekday] == 0)]
    return kept


def profile(arrived: Numbers, interval: int = 60, confidence: float = 0.95) -> Profile:
    """Return the weekly profile of arrivals, in minutes on the wall since 1970.

    Quiet days count, closed ones do not: see `counted_days`. Raises ValueError where nobody arrived.
    """
    if not len(arrived):
        raise ValueError("nobody arrived")
    day = (arrived // DAY).astype(int)
    days_counted = counted_days(day)
    counts = np.zeros((len(days_counted), int(DAY) // interval))
    np.add.at(counts, (np.searchsorted(days_counted, day), ((arrived % DAY) // interval).astype(int)), 1)
    weekday = weekdays(days_counted)
    of_weekday = [counts[weekday == number] for number in range(len(DAYS))]
    totals = [each.sum(axis=0) for each in of_weekday]
    many = [max(1, len(each)) for each in of_weekday]
    ends = [counted_interval(total, days, confidence) for total, days in zip(totals, many, strict=True)]
    spread, is_uneven = _spread(of_weekday)
    return Profile(
        interval=interval,
        week=_by_day([total / days for total, days in zip(totals, many, strict=True)], of_weekday),
        low=_by_day([low for low, _ in ends], of_weekday),
        high=_by_day([high for _, high in ends], of_weekday),
        days={name: len(each) for name, each in zip(DAYS, of_weekday, strict=True)},
        closed=int(day.max() - day.min()) + 1 - len(days_counted),
        spread=spread,
        is_uneven=is_uneven,
    )


def counted_interval(total: Numbers, days: int | Numbers, confidence: float = 0.95) -> tuple[Numbers, Numbers]:
    """Return between which ends the expected number a day lies where so many were counted in some days (Garwood)."""
    tail = (1 - confidence) / 2
    low = np.nan_to_num(np.asarray(stats.chi2.ppf(tail, 2 * total))) / 2 / days
    high = np.asarray(stats.chi2.ppf(1 - tail, 2 * total + 2)) / 2 / days
    return low, high


def _by_day(rows: list[Numbers], of_weekday: list[Numbers]) -> dict[Day, list[float]]:
    return {name: row.tolist() for name, row, seen in zip(DAYS, rows, of_weekday, strict=True) if len(seen)}


def _spread(of_weekday: list[Numbers]) -> tuple[float, bool]:
    """Return the variance of whole days over their mean, and whether chance alone would not bring it.

    Source: Fisher's test of the index of dispersion (1950), summed over weekdays.
    """
    squares, free = 0.0, 0
    for counts in of_weekday:
        whole = counts.sum(axis=1)
        if len(whole) > 1 and whole.mean() > 0:
            squares += float(((whole - whole.mean()) ** 2).sum() / whole.mean())
            free += len(whole) - 1
    if not free:
        return 1.0, False
    return squares / free, bool(stats.chi2.sf(squares, free) < UNEVEN)
