"""All that the limits of one team allow, laid out for an integer programme: hours, breaks and who is there."""

from collections.abc import Iterator, Sequence
from functools import cached_property

import numpy as np

from flowcore.results.week_grid import Floats, Grid, Whole
from flowcore.sizing.staffing.shifts import Hours, Shift, Tour, Window, presence_of_rows, tours_of
from flowcore.study.durations import DAY, HOUR
from flowcore.study.rosters import RosterRow
from flowcore.study.sizing import TeamLimits
from flowcore.study.teams import Team

A_LITTLE = 1e-3
"""What an hour costs besides its rate, so that of two rosters that cost the same the shorter is found."""
ALMOST = 1e-6


class Allowed:
    """All that the limits of one team allow."""

    def __init__(self, team: Team, limits: TeamLimits, days: Sequence[int], grid: Grid, stays: Floats) -> None:
        self.team, self.limits, self.grid, self.stays = team, limits, grid, stays
        self.has_shifts = bool(limits.shifts)
        self.tours = tours_of(limits, days) if self.has_shifts else []
        self.fixed: Sequence[RosterRow] = limits.fixed
        self.fixed_presence = presence_of_rows(limits.fixed, grid)

    @cached_property
    def worked(self) -> list[tuple[int, Hours]]:
        """All hours that may be worked on each day, in order."""
        found = {(day, each) for tour in self.tours for day, each in zip(tour.days, tour.hours, strict=True)}
        return sorted(found, key=lambda each: (each[0], each[1].begin, each[1].length, each[1].overtime))

    @cached_property
    def rests(self) -> "list[Rest]":
        """The breaks of all shifts of a length together, day by day."""
        groups: dict[tuple[int, float, tuple[Window, ...]], list[int]] = {}
        for number, (day, hours) in enumerate(self.worked):
            groups.setdefault((day, hours.length, hours.windows), []).append(number)
        return [
            Rest(day, which, window, tuple(numbers), [self.worked[n][1].begin for n in numbers], self.grid)
            for (day, _, windows), numbers in groups.items()
            for which, window in enumerate(windows)
        ]

    @cached_property
    def presences(self) -> Floats:
        """Who is there in the hours worked, and who is not in the breaks, shape (worked and breaks, intervals).

        An interval of which half or more is covered counts as a whole one: with parts the programme takes far longer.
        """
        there = [
            Shift(hours.begin, hours.length).presence(self.grid, day) + self.staying(day, hours.end)
            for day, hours in self.worked
        ]
        away = [-each.away(begin) for each in self.rests for begin in each.begins]
        shares = np.array([*there, *away]).reshape(-1, self.grid.count)
        whole: Floats = np.sign(shares) * np.floor(np.abs(shares) + 0.5)
        return whole

    def staying(self, day: int, end: float) -> Floats:
        """Return who is still there after a shift that ends then, in each interval of the week: a share of one."""
        place = int((day * DAY + end) // self.grid.interval) % self.grid.count
        there: Floats = self.stays[place]
        return there

    def cost_of(self, tour: Tour) -> float:
        """Return what a member with a tour costs a week, with planned overtime and that of staying after the shift."""
        rate = self.team.rate if self.team.paid == "present" else 0.0
        worked = zip(tour.days, tour.hours, strict=True)
        stays = sum(float(self.staying(day, hours.end).sum()) for day, hours in worked) * self.grid.interval
        planned = tour.overtime * rate * (self.team.overtime - 1.0)
        return ((rate + A_LITTLE) * tour.paid + planned + stays * rate * self.team.overtime) / HOUR

    @property
    def people(self) -> tuple[int, int]:
        """From how many on, and up to how many, members there may be besides those of fixed rows."""
        fixed = sum(row.people for row in self.fixed)
        return max(0, self.limits.people.low - fixed), max(0, self.limits.people.high - fixed)


class Rest:
    """One break of all shifts of a length on a day: when it may begin, and the `worked` hours whose break it is."""

    def __init__(
        self, day: int, which: int, window: Window, worked: tuple[int, ...], starts: Sequence[float], grid: Grid
    ) -> None:
        self.day, self.which, self.window, self.worked, self.starts = day, which, window, worked, starts
        self._grid = grid
        self.begins = sorted({start + after for start in starts for after in window.places(grid)})

    def away(self, begin: float) -> Floats:
        """Return which share of each interval of the week is lost by a break that begins then."""
        at = self.day * DAY + begin
        return self._grid.covered(at, at + self.window.pause.length)

    def bounds(self) -> Iterator[tuple[Whole, list[int], bool]]:
        """Yield which breaks must be at least as many as the members of which hours, and if exactly so many.

        Each are the places of the breaks among `begins`, and the hours by their number.
        """
        begins = np.array(self.begins)
        yield np.arange(len(begins)), list(self.worked), True
        for number, start in enumerate(self.starts):
            closed = np.flatnonzero(begins <= start + self.window.last + ALMOST)
            yield closed, list(self.worked[: number + 1]), False
            opened = np.flatnonzero(begins >= start + self.window.first - ALMOST)
            yield opened, list(self.worked[number:]), False
