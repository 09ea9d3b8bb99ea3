"""Calendars and rosters as stretches of time: minutes since the run's start.

An *ordinary week* is one in which exceptions by date are left aside; it begins on a Monday's midnight.
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from math import ceil

import numpy as np
from numpy.typing import NDArray

from flowcore.study.calendars import DAYS, Calendar, minute_of_day
from flowcore.study.document import StudyDocument
from flowcore.study.durations import DAY, WEEK, minutes
from flowcore.study.rosters import Break, RosterRow
from flowcore.study.streams import Slots
from flowcore.study.teams import Team

Period = tuple[float, float]


def minutes_since(start: datetime, moment: str) -> float:
    """Return a moment of the document in minutes since the run's start."""
    return (datetime.fromisoformat(moment) - start).total_seconds() / 60


def minutes_of_all(start: datetime, moments: Sequence[str]) -> NDArray[np.float64]:
    """Return many moments of the document in minutes since the run's start."""
    return (np.array(moments, "datetime64[s]") - np.datetime64(start, "s")) / np.timedelta64(1, "m")


def days_of_run(start: datetime, length: float) -> Iterator[tuple[date, float]]:
    """Yield every date that may matter to a run, from the day before it, with its midnight in minutes."""
    first = start.date() - timedelta(days=1)
    midnight = -float(start.hour * 60 + start.minute) - start.second / 60 - DAY
    number = 0
    while midnight < length:
        yield first + timedelta(days=number), midnight
        midnight += DAY
        number += 1


def hours_to_period(midnight: float, begins: str, ends: str) -> Period:
    """Return hours of a day as a period; they pass midnight where the end is not after the beginning."""
    first, last = minute_of_day(begins), minute_of_day(ends)
    return midnight + first, midnight + (last if last > first else last + DAY)


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


@dataclass(frozen=True)
class PlannedBreak:
    """A break of one member of a roster row, by its number in the row, as it falls where no case is in hand."""

    member: int
    begins: float
    ends: float
    paid: bool


def breaks_of(row: RosterRow, shift: Period) -> list[PlannedBreak]:
    """Return the breaks of a row's members in a shift, in minutes since the same midnight as the shift.

    Together, each when the one before is back, or spread evenly over a window; none begins after the shift's end, and
    none lasts beyond it.
    """
    found = []
    for each in row.breaks:
        first, apart = _first_and_apart(row, each, shift[0])
        for member in range(members_with(row, each, shift)):
            begins = first + member * apart
            found.append(PlannedBreak(member, begins, min(begins + minutes(each.length), shift[1]), each.paid))
    return found


def members_with(row: RosterRow, each: Break, shift: Period) -> int:
    """Return how many of a row's members have a break before their shift ends."""
    first, apart = _first_and_apart(row, each, shift[0])
    if first >= shift[1]:
        return 0
    return row.people if apart <= 0 else min(row.people, ceil((shift[1] - first) / apart - 1e-9))


def _first_and_apart(row: RosterRow, each: Break, begin: float) -> tuple[float, float]:
    """Return when the first member has a break in a shift that begins then, and how much later the next one has it."""
    length = minutes(each.length)
    first = begin + (minutes(each.after) if each.after else (minute_of_day(each.at or "00:00") - begin) % DAY)
    if each.taken == "in-turn":
        return first, length
    if each.taken == "spread":
        return first, max(0.0, minutes(each.within or each.length) - length) / max(1, row.people - 1)
    return first, 0.0


def paid_minutes(row: RosterRow) -> float:
    """Return the minutes of a row's shifts in an ordinary week that are paid: without breaks that are not."""
    shift = hours_to_period(0.0, row.from_, row.to)
    unpaid = sum(each.ends - each.begins for each in breaks_of(row, shift) if not each.paid)
    return len(row.days) * (row.people * (shift[1] - shift[0]) - unpaid)


def overtime_minutes(row: RosterRow) -> float:
    """Return the minutes of a row's shifts in an ordinary week that are overtime and paid."""
    if row.overtime is None:
        return 0.0
    shift = hours_to_period(0.0, row.from_, row.to)
    begins = shift[1] - minutes(row.overtime)
    unpaid = (max(0.0, each.ends - max(each.begins, begins)) for each in breaks_of(row, shift) if not each.paid)
    return len(row.days) * (row.people * minutes(row.overtime) - sum(unpaid))


def most_at_once(shifts: list[tuple[Period, int]]) -> int:
    """Return the most members whom shifts bring together at any time."""
    changes = sorted(change for (begin, end), people in shifts for change in ((begin, 1, people), (end, 0, -people)))
    present = most = 0
    for _, _, change in changes:
        present += change
        most = max(most, present)
    return most


def most_members(team: Team) -> int:
    """Return how many members a team has there at most in an ordinary week."""
    if not team.roster:
        return team.members
    rows = [(row, DAYS.index(day)) for row in team.roster for day in row.days]
    return most_at_once([(hours_to_period(DAY * day, row.from_, row.to), row.people) for row, day in rows])


def ordinary_monday(study: StudyDocument) -> datetime:
    """Return the first Monday's midnight at or after a study's first day."""
    first = datetime.fromisoformat(study.start).replace(hour=0, minute=0, second=0)
    return first + timedelta(days=-first.weekday() % 7)


def ordinary_hours(study: StudyDocument, calendar_id: str | None) -> list[Period]:
    """Return when a calendar is open in an ordinary week; all of it where there is no such calendar."""
    calendar = next((each for each in study.calendars if each.id == calendar_id), None)
    if calendar is None:
        return [(0.0, WEEK)]
    plain = calendar.model_copy(update={"closed": [], "open": []})
    return cut(open_periods(plain, ordinary_monday(study), WEEK), WEEK)


def ordinary_shifts(study: StudyDocument, row: RosterRow) -> list[Period]:
    """Return the shifts of a roster row that touch an ordinary week."""
    return shifts_of(row, (), ordinary_monday(study), WEEK)


def opening_days(study: StudyDocument) -> NDArray[np.float64]:
    """Return the days of a run on which it is open, each by the middle of its opening, in minutes since the start.

    A day is open from the beginning of its first shift until the end of its last; where nobody works in shifts, by the
    calendars; where there is none either, all day.
    """
    start, length = datetime.fromisoformat(study.start), minutes(study.run.length)
    shifts = [
        shift for team in study.teams for row in team.roster for shift in shifts_of(row, team.closed, start, length)
    ]
    openings = shifts or [period for each in study.calendars for period in open_periods(each, start, length)]
    midnights = np.array([midnight for _, midnight in days_of_run(start, length)])
    periods = np.array(openings or [(midnight, midnight + DAY) for midnight in midnights.tolist()])
    days = np.floor((periods[:, 0] - midnights[0]) / DAY).astype(np.int64)
    begins, ends = np.full(len(midnights) + 1, np.inf), np.full(len(midnights) + 1, -np.inf)
    np.minimum.at(begins, days, periods[:, 0])
    np.maximum.at(ends, days, periods[:, 1])
    some = ends > begins
    middles: NDArray[np.float64] = (begins[some] + ends[some]) / 2
    return middles


def slot_times(session: Slots) -> NDArray[np.float64]:
    """Return when the slots of a session begin, in minutes after its day's midnight, shape (slots,)."""
    begin, end = hours_to_period(0.0, session.from_, session.to)
    every = minutes(session.every)
    turns = np.arange(int(np.ceil((end - begin) / every - 1e-9)), dtype=np.float64)
    return begin + every * turns
