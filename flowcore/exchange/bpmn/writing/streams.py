"""How far apart a stream's cases come, as far as one gap can say it."""

from typing import Any

from flowcore.study.calendars import minute_of_day
from flowcore.study.distributions.described import Measure, read_distribution
from flowcore.study.durations import DAY, WEEK, in_unit, minutes
from flowcore.study.streams import AppointmentStream, DateStream, ProfileStream, RandomStream, Slots, Stream


def gap_of(stream: Stream) -> Any:
    """Return the time between a stream's cases, the mean of what cannot be said; None for a single date."""
    if isinstance(stream, RandomStream):
        return stream.gap if stream.gap is not None else _apart(_by_chance(stream))
    if isinstance(stream, ProfileStream):
        a_week = sum(sum(counts) for counts in stream.week.values())
        return _apart(WEEK / a_week if a_week > 0 else WEEK)
    if isinstance(stream, AppointmentStream):
        booked = sum(_slots(each) for each in stream.sessions) * stream.filled * (1 - stream.no_show)
        return _apart(WEEK / booked if booked > 0 else WEEK)
    return None if len(stream.arrivals) == 1 else _apart(DAY)


def is_said(stream: Stream) -> bool:
    """Say whether a gap or a date says all about when a stream's cases come."""
    if isinstance(stream, DateStream):
        return len(stream.arrivals) == 1
    return isinstance(stream, RandomStream) and stream.gap is not None


def _by_chance(stream: RandomStream) -> float:
    return minutes(stream.chance.every) / stream.chance.probability if stream.chance else DAY


def _slots(session: Slots) -> float:
    """Return how many cases can be booked a week."""
    length = (minute_of_day(session.to) - minute_of_day(session.from_)) % DAY or DAY
    return length / minutes(session.every) * session.places * len(session.days)


def _apart(mean: float) -> Any:
    return read_distribution({"dist": "exponential", "mean": in_unit(mean, "min", 6)}, Measure.TIME)
