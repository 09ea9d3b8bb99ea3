"""Who was active when, as shifts: from the first thing that each did on a day to the last."""

from collections import Counter

import numpy as np
from pydantic import BaseModel

from flowcore.calibration.candidates import Numbers
from flowcore.logs.moments import weekdays
from flowcore.logs.visits import Places, Visits
from flowcore.study.calendars import DAYS, Day
from flowcore.study.durations import DAY

ROUNDED = 30
"""Shifts begin and end on the half hour."""
HARDLY = 0.5
"""A person who is there on fewer of a weekday's dates does not belong to it."""


class Shift(BaseModel):
    """So many people who are active on some days, from one minute of the day to another, rounded outwards."""

    days: list[Day]
    begins: int
    ends: int
    people: int


def shifts_of(visits: Visits, steps: set[str]) -> list[Shift]:
    """Return the shifts of those who work at some steps, by name, as far as what they did tells.

    Each person has one shift a weekday, by the median of its dates.
    """
    places = [place for place, name in enumerate(visits.steps) if name in steps]
    known = np.isin(visits.step, places) & (visits.who >= 0) & ~np.isnan(visits.began)
    if not known.any():
        return []
    who, began = visits.who[known], visits.began[known]
    ended = np.fmax(visits.ended[known], began)
    first, last, keys = _spans(who, began, ended)
    many_days = Counter(weekdays(np.arange(keys[:, 1].min(), keys[:, 1].max() + 1)).tolist())
    of_weekday = weekdays(keys[:, 1])
    shifts: Counter[tuple[int, int, int]] = Counter()
    for person in np.unique(keys[:, 0]).tolist():
        for weekday in range(len(DAYS)):
            here = (keys[:, 0] == person) & (of_weekday == weekday)
            if here.sum() >= max(1, HARDLY * many_days[weekday]):
                begins = int(np.median(first[here]) // ROUNDED) * ROUNDED
                ends = int(-(-np.median(last[here]) // ROUNDED)) * ROUNDED
                shifts[weekday, begins, ends] += 1
    return _together(shifts)


def _spans(who: Places, began: Numbers, ended: Numbers) -> tuple[Numbers, Numbers, Numbers]:
    """Return from when until when each person is active on each day, in minutes of it, and who and which day it is."""
    day = (began // DAY).astype(int)
    keys, places = np.unique(np.stack([who, day], axis=1), axis=0, return_inverse=True)
    first, last = np.full(len(keys), np.inf), np.full(len(keys), -np.inf)
    np.minimum.at(first, places.ravel(), began - day * DAY)
    np.maximum.at(last, places.ravel(), np.minimum(ended - day * DAY, DAY))
    return first, last, keys


def _together(shifts: Counter[tuple[int, int, int]]) -> list[Shift]:
    """Return shifts, those of several days with the same hours and people as one."""
    found: dict[tuple[int, int, int], list[Day]] = {}
    for (weekday, begins, ends), people in sorted(shifts.items()):
        found.setdefault((begins, ends, people), []).append(DAYS[weekday])
    return [
        Shift(days=days, begins=begins, ends=ends, people=people)
        for (begins, ends, people), days in sorted(found.items())
    ]
