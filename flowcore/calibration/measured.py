"""What a log measures of a service as a whole, to hold a model against: waits, times in system, how many get done."""

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel
from scipy import stats

from flowcore.calibration.arrivals import counted_interval
from flowcore.calibration.candidates import Numbers
from flowcore.logs.looks import waits_of
from flowcore.logs.moments import weekdays
from flowcore.logs.visits import Outcome, Visits
from flowcore.study.calendars import DAYS
from flowcore.study.durations import DAY

GROUPS = 10
HOURS = 168
FEWEST = 20
MOSTLY = 0.9
"""From this share of cases on it is known when they came that have a time in system."""
Hourly = list[float | None]


class Measured(BaseModel):
    """A figure of so many cases, with its interval: in minutes, or how many a week."""

    value: float
    low: float
    high: float
    many: int


class PartMeasured(BaseModel):
    """What is measured of a step, of a case type, or of all: by quantity and statistic, such as `wait/p90`."""

    name: str
    figures: dict[str, Measured]


class LogMeasured(BaseModel):
    """What a log measures of each step and type, and of all cases, by the hour of the week too.

    `by_hour` are quantities from Monday's midnight, shape (168,): how many `arrived` and `completed` in an hour, and
    the mean `wait/<step>` of those who came to a step then and were served; None where nobody was. What stands still
    meanwhile waits.
    """

    steps: list[PartMeasured]
    types: list[PartMeasured]
    all: dict[str, Measured]
    by_hour: dict[str, Hourly]


def measured(visits: Visits) -> LogMeasured:
    """Return what a log measures, each with an interval that takes days for what varies by chance."""
    came, left, is_done = visits.arrived, _left(visits), _is_done(visits)
    days = np.arange(int(np.nanmin(came) // DAY), int(np.nanmax(came) // DAY) + 1)
    dates = np.bincount(weekdays(days), minlength=len(DAYS))
    waits = np.where(visits.outcome == Outcome.SERVED, waits_of(visits) + visits.paused, np.nan)
    totals = left - came if _is_told_when_they_came(visits) else np.full(len(came), np.nan)
    steps = [_step(visits, place, waits, dates) for place in range(len(visits.steps))]
    types = [
        PartMeasured(name=name, figures=_times("total", totals, came, visits.type == place))
        for place, name in enumerate(visits.types)
    ]
    by_hour: dict[str, Hourly] = {"arrived": [*_per_hour(came, dates)], "completed": [*_per_hour(left[is_done], dates)]}
    for place, name in enumerate(visits.steps):
        here = (visits.step == place) & (waits >= 0)
        if here.sum() >= FEWEST:
            by_hour[f"wait/{name}"] = _mean_by_hour(waits[here], visits.first[here])
    of_all = _times("total", totals, came, ~np.isnan(came)) | {"completed": _a_week(left[is_done], dates)}
    return LogMeasured(
        steps=[each for each in steps if each.figures],
        types=[each for each in types if each.figures],
        all=of_all,
        by_hour=by_hour,
    )


def _left(visits: Visits) -> Numbers:
    """Return when each case was last heard of; shape (cases,)."""
    found = np.full(len(visits.cases), np.nan)
    np.fmax.at(found, visits.case, visits.last)
    return found


def _is_done(visits: Visits) -> NDArray[np.bool_]:
    """Say of each case whether it got something done: it was served after the last time that it gave up, if it did."""
    found = np.zeros(len(visits.cases), np.bool_)
    found[visits.case] = True
    place = np.arange(len(visits))
    broke_off, worked = np.full(len(found), -1), np.full(len(found), -1)
    np.maximum.at(broke_off, visits.case, np.where(visits.outcome != Outcome.SERVED, place, -1))
    np.maximum.at(worked, visits.case, np.where(visits.work > 0, place, -1))
    return found & ((broke_off < 0) | (worked > broke_off))


def _is_told_when_they_came(visits: Visits) -> bool:
    return bool((~np.isnan(visits.came[visits.is_first_of_case])).mean() >= MOSTLY)


def _step(visits: Visits, place: int, waits: Numbers, dates: NDArray[np.int_]) -> PartMeasured:
    here = visits.step == place
    figures = _times("wait", waits, visits.first, here)
    for what, outcome in (("served", Outcome.SERVED), ("abandoned", Outcome.GAVE_UP)):
        when = visits.last[here & (visits.outcome == outcome)]
        if figures and len(when):
            figures[what] = _a_week(when, dates)
    return PartMeasured(name=visits.steps[place], figures=figures)


def _times(name: str, times: Numbers, since: Numbers, which: NDArray[np.bool_]) -> dict[str, Measured]:
    kept = which & (times >= 0)
    if kept.sum() < FEWEST:
        return {}
    group = (since[kept] // DAY).astype(int) % GROUPS
    return {
        f"{name}/mean": _with_interval(times[kept], group, lambda each: float(each.mean())),
        f"{name}/p90": _with_interval(times[kept], group, lambda each: float(np.quantile(each, 0.9))),
    }


def _with_interval(times: Numbers, group: NDArray[np.int_], told: Callable[[Numbers], float]) -> Measured:
    """Return a statistic with its interval from leaving out every tenth day in turn: the delete-a-group jackknife.

    Source: Efron and Tibshirani, An Introduction to the Bootstrap (1993), 11.
    """
    value = told(times)
    without = np.array([told(times[group != each]) for each in np.unique(group) if (group != each).any()])
    many = len(without)
    if many < 2:
        return Measured(value=value, low=value, high=value, many=len(times))
    half = float(stats.t.ppf(0.975, many - 1) * np.sqrt((many - 1) / many * ((without - without.mean()) ** 2).sum()))
    return Measured(value=value, low=max(0.0, value - half), high=value + half, many=len(times))


def _a_week(when: Numbers, dates: NDArray[np.int_]) -> Measured:
    """Return how many an ordinary week of the log has, days without anybody among them."""
    low, high = (float(each[0]) for each in counted_interval(np.array([float(len(when))]), 1))
    week = float(np.sum(_per_hour(when, dates)))
    each = week / len(when) if len(when) else 0.0
    return Measured(value=week, low=each * low, high=each * high, many=len(when))


def _per_hour(times: Numbers, dates: NDArray[np.int_]) -> list[float]:
    counts = np.bincount(_hours(times[~np.isnan(times)]), minlength=HOURS)
    return [float(each) for each in counts / np.maximum(1, np.repeat(dates, 24))]


def _mean_by_hour(times: Numbers, since: Numbers) -> Hourly:
    hours = _hours(since)
    many = np.bincount(hours, minlength=HOURS)
    total = np.bincount(hours, times, minlength=HOURS)
    return [total / count if count else None for total, count in zip(total.tolist(), many.tolist(), strict=True)]


def _hours(times: Numbers) -> NDArray[np.int_]:
    found: NDArray[np.int_] = weekdays((times // DAY).astype(int)) * 24 + (times % DAY // 60).astype(int)
    return found
