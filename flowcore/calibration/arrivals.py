"""When cases come: a weekly profile with its uncertainty, and whether they come more unevenly than by chance."""

import numpy as np
from pydantic import BaseModel
from scipy import stats

from flowcore.calibration.candidates import Numbers
from flowcore.logs.moments import weekdays
from flowcore.study.calendars import DAYS, Day
from flowcore.study.durations import DAY

UNEVEN = 0.001
"""So unlikely by chance must the differences between days be that they are called uneven."""


class Profile(BaseModel):
    """A weekly profile of arrivals in intervals of so many minutes, from Monday on.

    `week` are the means in each interval of a day, `low` and `high` their interval at a confidence (Garwood 1936: exact
    for arrivals by chance); `days` are how many of each weekday were counted. `spread` is how much days differ: their
    variance over their mean, 1 by chance; `is_uneven` where chance alone does not bring that.
    """

    interval: int
    week: dict[Day, list[float]]
    low: dict[Day, list[float]]
    high: dict[Day, list[float]]
    days: dict[Day, int]
    spread: float
    is_uneven: bool


def profile(arrived: Numbers, interval: int = 60, confidence: float = 0.95) -> Profile:
    """Return the weekly profile of arrivals, in minutes on the wall since 1970.

    All days from the first arrival to the last count, the quiet ones too. Raises ValueError where nobody arrived.
    """
    if not len(arrived):
        raise ValueError("nobody arrived")
    day = (arrived // DAY).astype(int)
    spanned = np.arange(day.min(), day.max() + 1)
    per_day = int(DAY) // interval
    counts = np.zeros((len(spanned), per_day))
    np.add.at(counts, (day - spanned[0], ((arrived % DAY) // interval).astype(int)), 1)
    weekday = weekdays(spanned)
    of_weekday = [counts[weekday == number] for number in range(len(DAYS))]
    totals = [each.sum(axis=0) for each in of_weekday]
    many = [max(1, len(each)) for each in of_weekday]
    tail = (1 - confidence) / 2
    low = [stats.chi2.ppf(tail, 2 * total) / 2 / days for total, days in zip(totals, many, strict=True)]
    high = [stats.chi2.ppf(1 - tail, 2 * total + 2) / 2 / days for total, days in zip(totals, many, strict=True)]
    spread, is_uneven = _spread(of_weekday)
    return Profile(
        interval=interval,
        week=_by_day([total / days for total, days in zip(totals, many, strict=True)], of_weekday),
        low=_by_day([np.nan_to_num(each) for each in low], of_weekday),
        high=_by_day(high, of_weekday),
        days={name: len(each) for name, each in zip(DAYS, of_weekday, strict=True)},
        spread=spread,
        is_uneven=is_uneven,
    )


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
