"""Calendars and rosters as stretches of time: minutes since the run's start."""

from collections.abc import Iterable, Iterator, Sequence
from datetime import date, datetime, timedelta

import numpy as np
from numpy.typing import NDArray

from flowcore.study.calendars import DAYS, Calendar, minute_of_day
from flowcore.study.rosters import RosterRow

Period = tuple[float, float]
MINUTES_PER_DAY = 1440


def minutes_since(start: datetime, moment: str) -> float:
    """Return a moment of the document in minutes since the run's start."""
    return (datetime.fromisoformat(moment) - start).total_seconds() / 60


def minutes_of_all(start: datetime, moments: Sequence[str]) -> NDArray[np.float64]:
    """Return many moments of the document in minutes since the run's start."""
    return (np.array(moments, "datetime64[s]") - np.datetime64(start, "s")) / np.timedelta64(1, "m")


def days_of_run(start: datetime, length: float) -> Iterator[tuple[date, float]]:
    """Yield every date that may matter to a run, from the day before it, with its midnight in minutes."""
    first = start.date() - timedelta(days=1)
    midnight = -float(start.hour * 60 + start.minute) - start.second / 60 - MINUTES_PER_DAY
    number = 0
    while midnight < length:
        yield first + timedelta(days=number), midnight
        midnight += MINUTES_PER_DAY
        number += 1


def hours_to_period(midnight: float, begins: str, ends: str) -> Period:
    """Return hours of a day as a period; they pass midnight where the end is not after the beginning."""
    first, last = minute_of_day(begins), minute_of_day(ends)
    return midnight + first, midnight + (last if last > first else last + MINUTES_PER_DAY)


def open_periods(calendar: Calendar, start: datetime, length: float) -> list[Period]:
    """Return when a calendar is open from 0 on, in order, touching periods made one: all that begin by `length`."""
    closed = set(calendar.closed)
    dated = {each.date for each in calendar.open}
    periods: list[Period] = []
    for day, midnight in days_of_run(start, length):
        name, weekday = day.isoformat(), DAYS[day.weekday()]
        if name in dated:
            periods += [hours_to_period(midnight, each.from_, each.to) for each in calendar.open if each.date == name]
        elif name not in closed:
            periods += [
                hours_to_period(midnight, each.from_, each.to) for each in calendar.weekly if weekday in each.days
            ]
    return joined((max(0.0, begin), end) for begin, end in periods if begin <= length)


def cut(periods: Iterable[Period], length: float) -> list[Period]:
    """Return what of periods lies before a length."""
    return [(begin, min(length, end)) for begin, end in periods if begin < length]


def joined(periods: Iterable[Period]) -> list[Period]:
    """Return periods in order, without empty ones, overlapping and touching ones made one."""
    result: list[Period] = []
    for begin, end in sorted(periods):
        if begin >= end:
            continue
        if result and begin <= result[-1][1]:
            result[-1] = (result[-1][0], max(end, result[-1][1]))
        else:
            result.append((begin, end))
    return result


def shifts_of(row: RosterRow, closed: Iterable[str], start: datetime, length: float) -> list[Period]:
    """Return the shifts of a roster row that touch the run, in order; the first may have begun before.

    On the closed dates of its team a row has a shift only if it is for that date alone.
    """
    free = set(closed)
    shifts = []
    for day, midnight in days_of_run(start, length):
        name = day.isoformat()
        if DAYS[day.weekday()] not in row.days:
            continue
        if (row.from_date or name) > name or (row.to_date or name) < name:
            continue
        if name in free and not (row.from_date == row.to_date == name):
            continue
        begin, end = hours_to_period(midnight, row.from_, row.to)
        if end > 0:
            shifts.append((begin, end))
    return shifts
