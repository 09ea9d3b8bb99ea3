"""Who was active when, as shifts: from the first thing that each did to the last before a long pause."""

from collections import Counter

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from flowcore.calibration.breaks import Breaks, breaks_of
from flowcore.calibration.candidates import Numbers
from flowcore.logs.moments import weekdays
from flowcore.logs.visits import Visits
from flowcore.study.calendars import DAYS, Day
from flowcore.study.durations import DAY

Span = tuple[int, int, int, Breaks]
"""A weekday by its number, the minutes of it from and until when, and the breaks."""
MOST_PEOPLE = 300
ROUNDED = 30
"""Shifts begin and end on the half hour."""
APART = 300.0
LONGEST_WORK = 720.0
ALIKE = 60.0
EARLY = 0.2
"""A shift begins when on this share of dates something was done, and ends when nothing more is on as many."""
HARDLY = 0.5
"""A person who is there on fewer of a weekday's dates does not belong to it."""


class BreakFound(BaseModel):
    """From which minute of the day on somebody does nothing, and for how many minutes."""

    at: int
    length: int


class Shift(BaseModel):
    """So many people who are active on some days, from one minute of the day to another, or of the day after."""

    days: list[Day]
    begins: int
    ends: int
    people: int
    breaks: list[BreakFound]


class PersonFound(BaseModel):
    """Who works, at which steps how often, and in which shifts: one a weekday, by the median of its dates."""

    name: str
    visits: dict[str, int]
    shifts: list[Shift]


def people_of(visits: Visits) -> list[PersonFound]:
    """Return who works in a log and when, as far as what they did tells; those who did most first."""
    known = (visits.who >= 0) & ~np.isnan(visits.began)
    if not known.any():
        return []
    who, step = visits.who[known], visits.step[known]
    begins, ends = visits.began[known], np.fmax(visits.ended[known], visits.began[known])
    days = np.arange(int(begins.min() // DAY), int(begins.max() // DAY) + 1)
    dates = np.bincount(weekdays(days), minlength=len(DAYS))
    found = []
    for person in np.argsort(-np.bincount(who), kind="stable")[:MOST_PEOPLE].tolist():
        mine = who == person
        if mine.any():
            done = {visits.steps[place]: many for place, many in Counter(step[mine].tolist()).items()}
            shifts = _as_shifts(_shifts(begins[mine], ends[mine], dates))
            found.append(PersonFound(name=visits.people[person], visits=done, shifts=shifts))
    return found


def _stints(begins: Numbers, ends: Numbers) -> tuple[Numbers, Numbers]:
    """Return from when until when somebody is at work: what is far apart is of another day, or another shift.

    Work that lasts for longer than a shift stands still in between; only its two ends count. Who is there for more than
    a day on end has no shifts.
    """
    long = ends - begins > LONGEST_WORK
    begins = np.append(begins, ends[long])
    ends = np.append(np.where(long, begins[: len(ends)], ends), ends[long])
    order = np.argsort(begins)
    begins, until = begins[order], np.maximum.accumulate(ends[order])
    starts = np.append(0, np.flatnonzero(begins[1:] - until[:-1] > APART) + 1)
    first, last = begins[starts], until[np.append(starts[1:] - 1, len(until) - 1)]
    is_shift = last - first <= DAY
    return first[is_shift], last[is_shift]


def _shifts(begins: Numbers, ends: Numbers, dates: NDArray[np.int_]) -> Counter[Span]:
    """Return somebody's shift on each weekday; weekdays on which it is about the same have the same."""
    first, last = _stints(begins, ends)
    weekday = weekdays((first // DAY).astype(int))
    from_, length = first % DAY, last - first
    alike: list[list[int]] = []
    middles: list[Numbers] = []
    for day in range(len(DAYS)):
        here = weekday == day
        if here.sum() < max(1, HARDLY * dates[day]):
            continue
        middle = np.array([np.median(from_[here]), np.median((from_ + length)[here])])
        place = next((n for n, each in enumerate(middles) if np.abs(each - middle).max() <= ALIKE), None)
        if place is None:
            alike.append([day])
            middles.append(middle)
        else:
            alike[place].append(day)
    shifts: Counter[Span] = Counter()
    for days in alike:
        here = np.isin(weekday, days)
        span = (_half_hour(np.quantile(from_[here], EARLY)), _half_hour(np.quantile((from_ + length)[here], 1 - EARLY)))
        if span[1] > span[0]:
            breaks = breaks_of(begins, ends, first[here] // DAY * DAY, span)
            shifts.update((day, *span, breaks) for day in days)
    return shifts


def _half_hour(minute: float) -> int:
    return round(minute / ROUNDED) * ROUNDED


def together(people: list[PersonFound]) -> list[Shift]:
    """Return the shifts of several people, those of the same hours and breaks as one."""
    counted: Counter[Span] = Counter()
    for person in people:
        for shift in person.shifts:
            breaks = tuple((each.at, each.length) for each in shift.breaks)
            counted.update({(DAYS.index(day), shift.begins, shift.ends, breaks): shift.people for day in shift.days})
    return _as_shifts(counted)


def _as_shifts(shifts: Counter[Span]) -> list[Shift]:
    """Return shifts, those of several days with the same hours, breaks and people as one."""
    found: dict[tuple[int, int, Breaks, int], list[Day]] = {}
    for (weekday, begins, ends, breaks), people in sorted(shifts.items()):
        found.setdefault((begins, ends, breaks, people), []).append(DAYS[weekday])
    return [
        Shift(
            days=days,
            begins=begins,
            ends=ends,
            people=people,
            breaks=[BreakFound(at=at, length=length) for at, length in breaks],
        )
        for (begins, ends, breaks, people), days in sorted(found.items())
    ]
