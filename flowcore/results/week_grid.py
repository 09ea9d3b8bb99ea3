"""The week in intervals, from Monday's midnight: what needs and covers are written in."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from flowcore.study import StudyDocument, minutes
from flowcore.study.calendars import DAYS
from flowcore.study.durations import DAY, WEEK

Floats = NDArray[np.float64]
Whole = NDArray[np.int64]


@dataclass(frozen=True)
class Grid:
    """Intervals of so many minutes, which divide the day."""

    interval: float

    @cached_property
    def count(self) -> int:
        """How many intervals a week has."""
        return round(WEEK / self.interval)

    @cached_property
    def a_day(self) -> int:
        """How many intervals a day has."""
        return round(DAY / self.interval)

    def covered(self, begin: float, end: float) -> Floats:
        """Return which share of each interval lies between two minutes of the week, which may reach into the next."""
        edges = np.arange(self.count + 1) * self.interval
        shares = np.diff(np.clip(edges, begin, end))
        if end > WEEK:
            shares += np.diff(np.clip(edges, begin - WEEK, end - WEEK))
        found: Floats = shares / self.interval
        return found

    def place(self, moments: Floats) -> Whole:
        """Return in which interval of the week each moment lies, in minutes from some Monday's midnight."""
        found: Whole = np.floor(moments / self.interval + 1e-9).astype(np.int64) % self.count
        return found

    def words(self, place: int) -> str:
        """Return an interval as people say it: "thu 10:30"."""
        day, minute = divmod(place * self.interval, DAY)
        return f"{DAYS[int(day)]} {clock(minute)}"


def clock(minute: float) -> str:
    """Return a minute of the day as a time of day, that of the next day where it is beyond midnight."""
    hours, rest = divmod(round(minute) % round(DAY), 60)
    return f"{hours:02}:{rest:02}"


def days_with_work(load: Floats, grid: Grid) -> list[int]:
    """Return the days of the week, from 0 for Monday, on which something is to be done; all where nothing is."""
    by_day = load.reshape(7, grid.a_day).sum(axis=1)
    return [day for day in range(7) if by_day[day] > 0.01 * by_day.max()] or list(range(7))


def interval_of(study: StudyDocument) -> Grid:
    """Return the grid of a study: the intervals in which it is told."""
    return Grid(minutes(study.run.interval))
