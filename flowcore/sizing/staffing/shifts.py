"""What limits allow: shifts with their breaks, and tours, the shifts of one member in a week."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import combinations, product

import numpy as np

from flowcore.problems import StudyError, error_at
from flowcore.results.week_grid import Floats, Grid, clock
from flowcore.study.calendars import DAYS, minute_of_day
from flowcore.study.durations import DAY, minutes, short_number
from flowcore.study.rosters import Break, RosterRow
from flowcore.study.sizing import BreakWindow, PartTime, ShiftLimits, TeamLimits
from flowcore.study.timetable import breaks_of, hours_to_period

MOST_TOURS = 20_000
"""More ways of working a week than these make the choice among them too slow."""
REGULAR = ""
"""The kind of those who are not part-time."""


@dataclass(frozen=True)
class Shift:
    """Hours of a day, in minutes after midnight, with the breaks in them: each its start after the shift's, and it.

    So many minutes at its end are planned overtime.
    """

    begin: float
    length: float
    breaks: tuple[tuple[float, "Pause"], ...] = ()
    overtime: float = 0.0

    @property
    def end(self) -> float:
        """When it is over, beyond the day's last minute where it passes midnight."""
        return self.begin + self.length

    @property
    def paid(self) -> float:
        """The minutes that are paid."""
        return self.length - sum(pause.length for _, pause in self.breaks if not pause.paid)

    def presence(self, grid: Grid, day: int) -> Floats:
        """Return which share of each interval of the week its member is there, shape (intervals,)."""
        at = day * DAY + self.begin
        there = grid.covered(at, at + self.length)
        for after, pause in self.breaks:
            there -= grid.covered(at + after, at + after + pause.length)
        return there

    def row(self, days: Sequence[int], people: int) -> RosterRow:
        """Return it as a row of a roster."""
        return RosterRow.model_validate(
            {
                "days": [DAYS[day] for day in days],
                "from": clock(self.begin),
                "to": "24:00" if self.end == DAY else clock(self.end),
                "people": people,
                "breaks": [pause.written(after) for after, pause in self.breaks],
                "overtime": _time(self.overtime) if self.overtime else None,
            }
        )


@dataclass(frozen=True)
class Pause:
    """A break as it can be in many shifts."""

    name: str | None
    length: float
    paid: bool

    def written(self, after: float) -> Break:
        """Return it as it stands in a roster, so many minutes after the shift's start."""
        parts = {"name": self.name, "after": _time(after), "length": _time(self.length), "paid": self.paid}
        return Break.model_validate({key: part for key, part in parts.items() if part is not None})


def _time(amount: float) -> str:
    return f"{short_number(amount, 6)} min"


@dataclass(frozen=True)
class Window:
    """A break that begins between two times after the start of its shift, in minutes."""

    pause: Pause
    first: float
    last: float

    def places(self, grid: Grid) -> list[float]:
        """Return when it may begin, in minutes after the shift's start: at the steps of a grid."""
        many = int((self.last - self.first) / grid.interval + 1e-9) + 1
        return [self.first + n * grid.interval for n in range(many)]


@dataclass(frozen=True)
class Hours:
    """A shift whose breaks are still to be placed in their windows; `overtime` as of a Shift."""

    begin: float
    length: float
    windows: tuple[Window, ...] = ()
    overtime: float = 0.0

    @property
    def end(self) -> float:
        """When it is over."""
        return self.begin + self.length

    @property
    def paid(self) -> float:
        """The minutes that are paid, wherever the breaks are."""
        return self.length - sum(each.pause.length for each in self.windows if not each.pause.paid)

    def shift(self, breaks: Sequence[float]) -> Shift:
        """Return it with its breaks so many minutes after its start."""
        pauses = (each.pause for each in self.windows)
        return Shift(self.begin, self.length, tuple(zip(breaks, pauses, strict=True)), self.overtime)

    def with_breaks_where_least(self, day: int, weights: Floats, grid: Grid) -> Shift:
        """Return it on a day with each break where the weights of the intervals that it takes are least."""
        upto = np.concatenate([[0.0], np.cumsum(np.tile(weights, 2))])
        edges = np.arange(len(upto)) * grid.interval
        breaks = []
        for window in self.windows:
            after = np.array(window.places(grid))
            begins = day * DAY + self.begin + after
            taken = np.interp(begins + window.pause.length, edges, upto) - np.interp(begins, edges, upto)
            breaks.append(float(after[np.argmin(taken)]))
        return self.shift(breaks)


@dataclass(frozen=True)
class Tour:
    """The hours of one member on the days of a week, and which kind of member that is."""

    days: tuple[int, ...]
    hours: tuple[Hours, ...]
    kind: str = REGULAR

    @cached_property
    def paid(self) -> float:
        """The minutes of a week that are paid."""
        return sum(each.paid for each in self.hours)

    @cached_property
    def overtime(self) -> float:
        """The minutes of a week that are planned overtime."""
        return sum(each.overtime for each in self.hours)

    def with_overtime(self, beyond: float) -> "Tour":
        """Return it with so many paid minutes of overtime, at the ends of its last days."""
        left, hours = beyond, []
        for each in reversed(self.hours):
            all_of_it = left > each.paid - 1e-9
            hours.append(replace(each, overtime=each.length if all_of_it else left))
            left = max(0.0, left - each.paid)
        return replace(self, hours=tuple(reversed(hours)))


def tours_of(limits: TeamLimits, days: Sequence[int]) -> list[Tour]:
    """Return every way in which a member of a team may work a week.

    A member has the same hours on all days on which the same shifts are allowed.

    Parameters
    ----------
    limits
        What is allowed.
    days
        The days of the week, from 0 for Monday, on which there is work at all.

    Raises
    ------
    StudyError
        Where no shift keeps the limits, where there are too many ways, or overtime but no hours beyond which it is.
    """
    if limits.overtime is not None and limits.hours is None:
        what = "There may be overtime, but there are no hours a week beyond which it is."
        raise StudyError(
            [error_at(f"sizing/{limits.team}/overtime", what, "Say how many hours a week, or take it away.")]
        )
    overtime = minutes(limits.overtime or "0 min")
    tours = list(_tours(limits, REGULAR, limits.shifts, limits.days, limits.hours, days, overtime))
    for kind in limits.kinds:
        tours += _tours_of_kind(limits, kind, days)
    where = f"sizing/{limits.team}/shifts"
    if not tours and limits.people.high > _fixed_people(limits):
        what = (
            "No way of working a week keeps the days, the hours a week with the overtime, and the rest between shifts."
        )
        raise StudyError([error_at(where, what, "Allow shorter shifts, fewer days, or more hours a week.")])
    if len(tours) > MOST_TOURS:
        what = f"There are {len(tours):,} ways of working a week, more than can be looked through ({MOST_TOURS:,})."
        raise StudyError([error_at(where, what, "Let shifts start at fewer times, or have fewer lengths.")])
    return tours


def _fixed_people(limits: TeamLimits) -> int:
    return sum(row.people for row in limits.fixed)


def _tours_of_kind(limits: TeamLimits, kind: PartTime, days: Sequence[int]) -> Iterator[Tour]:
    shifts = kind.shifts or limits.shifts
    a_week = limits.days if kind.days is None else kind.days
    return _tours(limits, kind.name, shifts, a_week, kind.hours or limits.hours, days)


def _tours(
    limits: TeamLimits,
    kind: str,
    shifts: Sequence[ShiftLimits],
    a_week: int,
    hours: str | None,
    days: Sequence[int],
    overtime: float = 0.0,
) -> Iterator[Tour]:
    most = np.inf if hours is None else minutes(hours)
    allowed = {
        day: tuple(n for n, each in enumerate(shifts) if not each.days or DAYS[day] in each.days) for day in days
    }
    known = {ways: hours_allowed([shifts[n] for n in ways]) for ways in set(allowed.values())}
    open_days = [day for day in days if known[allowed[day]]]
    for chosen in combinations(open_days, min(a_week, len(open_days))):
        if not chosen or not _are_allowed(chosen, limits):
            continue
        groups = sorted({allowed[day] for day in chosen})
        for each in product(*(known[group] for group in groups)):
            of_day = dict(zip(groups, each, strict=True))
            tour = Tour(chosen, tuple(of_day[allowed[day]] for day in chosen), kind)
            if tour.paid <= most + overtime + 1e-9 and _rests(tour, minutes(limits.rest)):
                yield tour if tour.paid <= most + 1e-9 else tour.with_overtime(tour.paid - most)


def hours_allowed(shifts: Sequence[ShiftLimits]) -> list[Hours]:
    """Return all hours that shifts may have, in order, each once."""
    found: dict[tuple[float, float], Hours] = {}
    for each in shifts:
        for begin, length in product(_starts(each), sorted({minutes(length) for length in each.lengths})):
            found.setdefault((begin, length), Hours(begin, length, _windows(each.breaks, length)))
    return [found[key] for key in sorted(found)]


def _starts(shifts: ShiftLimits) -> list[float]:
    if shifts.from_ is None or shifts.to is None:
        return sorted({float(minute_of_day(each)) for each in shifts.starts})
    first, last = hours_to_period(0.0, shifts.from_, shifts.to)
    last = first if shifts.from_ == shifts.to else last
    every = minutes(shifts.every)
    return [(first + n * every) % DAY for n in range(int((last - first) / every + 1e-9) + 1)]


def _windows(breaks: Sequence[BreakWindow], length: float) -> tuple[Window, ...]:
    """Return the windows of those breaks that fit into a shift of a length, in order."""
    found = []
    for each in breaks:
        pause = Pause(each.name, minutes(each.length), each.paid)
        first, last = minutes(each.from_), min(minutes(each.to), length - pause.length)
        if first <= last:
            found.append(Window(pause, first, last))
    return tuple(sorted(found, key=lambda each: each.first))


def _are_allowed(days: Sequence[int], limits: TeamLimits) -> bool:
    stretch = _longest_stretch(days)
    return stretch <= limits.in_a_row and (stretch == len(days) or not limits.off_together)


def _longest_stretch(days: Sequence[int]) -> int:
    """Return how many days follow one another at most, from week to week."""
    if len(days) == 7:
        return 7
    works = [day in days for day in range(7)] * 2
    longest = here = 0
    for each in works:
        here = here + 1 if each else 0
        longest = max(longest, here)
    return longest


def _rests(tour: Tour, rest: float) -> bool:
    """Say whether there is so much time between the shifts of a tour, from week to week."""
    worked = dict(zip(tour.days, tour.hours, strict=True))
    for day, hours in worked.items():
        following = worked.get((day + 1) % 7)
        if following is not None and following.begin + DAY - hours.end < rest:
            return False
    return True


def presence_of_rows(rows: Sequence[RosterRow], grid: Grid) -> Floats:
    """Return how many members of roster rows are there in each interval of an ordinary week, without breaks."""
    there = np.zeros(grid.count)
    for row in rows:
        shift = hours_to_period(0.0, row.from_, row.to)
        for day in (DAYS.index(each) for each in row.days):
            there += row.people * grid.covered(day * DAY + shift[0], day * DAY + shift[1])
            for each in breaks_of(row, shift):
                there -= grid.covered(day * DAY + each.begins, day * DAY + each.ends)
    return there
