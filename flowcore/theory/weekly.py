"""What an ordinary week asks of each team and what its roster gives, hour by hour or in other intervals."""

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from flowcore.study import StudyDocument, minutes
from flowcore.study.calendars import DAYS
from flowcore.study.distributions import mean_of
from flowcore.study.durations import DAY, HOUR, WEEK
from flowcore.study.rosters import RosterRow
from flowcore.study.streams import AppointmentStream, DateStream, ProfileStream, RandomStream, Stream
from flowcore.study.teams import Team
from flowcore.study.timetable import (
    Period,
    minutes_of_all,
    ordinary_hours,
    ordinary_monday,
    ordinary_shifts,
    overtime_minutes,
    paid_minutes,
    slot_times,
)
from flowcore.theory.network import arrival_rate, entering, visits_of, work_of

HOURS = 168
Series = NDArray[np.float64]
"""A number for each interval of an ordinary week from Monday's midnight; intervals divide the hour."""


def arrivals_in_week(study: StudyDocument, stream: Stream, every: float = HOUR) -> Series:
    """Return the cases that a stream brings in each interval of so many minutes, shape (intervals,).

    A profile's own intervals are taken as even where they are longer.
    """
    group = 1.0 if stream.group is None else mean_of(stream.group)
    if isinstance(stream, RandomStream):
        rate = arrival_rate(study, stream.model_copy(update={"open": None}))
        return rate * _minutes_in(ordinary_hours(study, stream.open), every)
    if isinstance(stream, ProfileStream):
        return group * _profile(stream, every)
    if isinstance(stream, AppointmentStream):
        return group * _slots(stream, every) * stream.filled * (1 - stream.no_show)
    return group * _dates(study, stream, every)


def work_in_week(study: StudyDocument, every: float = HOUR) -> dict[str, Series]:
    """Return the members of each team that the cases arriving in an interval keep busy, as if served at once."""
    work = {team.id: np.zeros(_count(every)) for team in study.teams}
    for stream in study.streams:
        arrivals = arrivals_in_week(study, stream, every)
        for team, of_one_case in work_of(study, visits_of(study, entering(study, stream))).items():
            work[team] += arrivals * of_one_case / every
    return work


def members_in_week(study: StudyDocument, team: Team, every: float = HOUR) -> Series:
    """Return how many members of a team are on duty on average in each interval, those on a break among them.

    Of a roster's members so many are counted as come on average.
    """
    if not team.roster:
        return np.full(_count(every), float(team.members))
    members = np.zeros(_count(every))
    for row in team.roster:
        members += team.comes * row.people * _minutes_in(ordinary_shifts(study, row), every) / every
    return members


def paid_hours_in_week(study: StudyDocument, team: Team) -> float:
    """Return the hours for which a team's members are paid in an ordinary week, where they are paid for being there."""
    return team.members * WEEK / HOUR if not team.roster else _hours_of_shifts(study, team, paid_minutes)


def wages_in_week(study: StudyDocument, team: Team) -> float:
    """Return the wages of a team in an ordinary week, planned overtime too, where they are paid for being there."""
    beyond = (team.overtime - 1.0) * _hours_of_shifts(study, team, overtime_minutes)
    return team.rate * (paid_hours_in_week(study, team) + beyond)


def _hours_of_shifts(study: StudyDocument, team: Team, minutes_of: Callable[[RosterRow], float]) -> float:
    """Return the hours of an ordinary week by the minutes of each roster row, of those who are paid for them."""
    share = 1.0 if team.absence_paid else team.comes
    shifts = [(row, sum(begin >= 0 for begin, _ in ordinary_shifts(study, row))) for row in team.roster]
    return share * sum(days * minutes_of(row) / len(row.days) for row, days in shifts) / HOUR


def _count(every: float) -> int:
    return round(WEEK / every)


def _edges(every: float) -> Series:
    return np.arange(_count(every) + 1, dtype=np.float64) * every


def _minutes_in(periods: list[Period], every: float) -> Series:
    """Return how many minutes of each interval of the week lie in periods."""
    edges = _edges(every)
    covered = np.zeros(_count(every))
    for begin, end in periods:
        covered += np.diff(np.clip(edges, max(begin, 0.0), max(end, 0.0)))
    return covered


def _profile(stream: ProfileStream, every: float) -> Series:
    """Return a profile's counts in other intervals: added up, or shared out evenly."""
    own = minutes(stream.interval)
    edges = _edges(every)
    counts = np.zeros(_count(every))
    for day, values in stream.week.items():
        begins = DAY * DAYS.index(day) + own * np.arange(len(values) + 1)
        counts += np.diff(np.interp(edges, begins, np.concatenate([[0.0], np.cumsum(values)])))
    return counts


def _slots(stream: AppointmentStream, every: float) -> Series:
    count = _count(every)
    slots = np.zeros(count)
    for session in stream.sessions:
        times = slot_times(session)
        for day in session.days:
            intervals = ((DAYS.index(day) * DAY + times) // every).astype(np.int64) % count
            slots += np.bincount(intervals, minlength=count) * session.places
    return slots


def _dates(study: StudyDocument, stream: DateStream, every: float) -> Series:
    count = _count(every)
    monday = ordinary_monday(study)
    times = minutes_of_all(monday, [arrival.at for arrival in stream.arrivals])
    intervals = (times // every).astype(np.int64) % count
    return np.bincount(intervals, minlength=count) / max(1.0, minutes(study.run.length) / WEEK)
