"""What an ordinary week asks of each team and what its roster gives, hour by hour."""

import numpy as np
from numpy.typing import NDArray

from flowcore.study import StudyDocument, minutes
from flowcore.study.calendars import DAYS
from flowcore.study.distributions import mean_of
from flowcore.study.durations import DAY, HOUR, WEEK
from flowcore.study.streams import AppointmentStream, DateStream, ProfileStream, RandomStream, Stream
from flowcore.study.teams import Team
from flowcore.study.timetable import (
    Period,
    minutes_of_all,
    ordinary_hours,
    ordinary_monday,
    ordinary_shifts,
    slot_times,
)
from flowcore.theory.network import arrival_rate, entering, visits_of, work_of

HOURS = 168
Hourly = NDArray[np.float64]


def arrivals_by_hour(study: StudyDocument, stream: Stream) -> Hourly:
    """Return the cases that a stream brings in each hour of an ordinary week, from Monday's midnight, shape (168,)."""
    group = 1.0 if stream.group is None else mean_of(stream.group)
    if isinstance(stream, RandomStream):
        rate = arrival_rate(study, stream.model_copy(update={"open": None}))
        return rate * _minutes_in_hours(ordinary_hours(study, stream.open))
    if isinstance(stream, ProfileStream):
        return group * _profile(stream)
    if isinstance(stream, AppointmentStream):
        return group * _slots(stream) * stream.filled * (1 - stream.no_show)
    return group * _dates(study, stream)


def work_by_hour(study: StudyDocument) -> dict[str, Hourly]:
    """Return the members of each team that the cases arriving in an hour keep busy, as if served at once."""
    work = {team.id: np.zeros(HOURS) for team in study.teams}
    for stream in study.streams:
        arrivals = arrivals_by_hour(study, stream)
        for team, of_one_case in work_of(study, visits_of(study, entering(study, stream))).items():
            work[team] += arrivals * of_one_case / HOUR
    return work


def members_by_hour(study: StudyDocument, team: Team) -> Hourly:
    """Return how many members of a team are there on average in each hour of an ordinary week."""
    if not team.roster:
        return np.full(HOURS, float(team.members))
    members = np.zeros(HOURS)
    for row in team.roster:
        members += row.people * _minutes_in_hours(ordinary_shifts(study, row)) / HOUR
    return members


def _minutes_in_hours(periods: list[Period]) -> Hourly:
    """Return how many minutes of each hour of the week lie in periods."""
    edges = np.arange(HOURS + 1) * HOUR
    covered = np.zeros(HOURS)
    for begin, end in periods:
        covered += np.diff(np.clip(edges, max(begin, 0.0), max(end, 0.0)))
    return covered


def _profile(stream: ProfileStream) -> Hourly:
    counts = np.zeros(HOURS)
    for day, values in stream.week.items():
        hours = (np.arange(len(values)) * minutes(stream.interval) // HOUR).astype(np.int64)
        counts += np.bincount(24 * DAYS.index(day) + hours, values, HOURS)
    return counts


def _slots(stream: AppointmentStream) -> Hourly:
    slots = np.zeros(HOURS)
    for session in stream.sessions:
        times = slot_times(session)
        for day in session.days:
            hours = ((DAYS.index(day) * DAY + times) // HOUR).astype(np.int64) % HOURS
            slots += np.bincount(hours, minlength=HOURS) * session.places
    return slots


def _dates(study: StudyDocument, stream: DateStream) -> Hourly:
    monday = ordinary_monday(study)
    times = minutes_of_all(monday, [arrival.at for arrival in stream.arrivals])
    hours = (times // HOUR).astype(np.int64) % HOURS
    return np.bincount(hours, minlength=HOURS) / max(1.0, minutes(study.run.length) / WEEK)
