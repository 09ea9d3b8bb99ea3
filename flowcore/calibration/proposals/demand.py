"""What a log says of when cases come, and of which types."""

from collections import Counter
from collections.abc import Iterator
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic import TypeAdapter

from flowcore.calibration.arrivals import FINEST, HALVES, Coming, Profile, counted_interval
from flowcore.calibration.dates import Dates
from flowcore.calibration.found import LogFound
from flowcore.calibration.proposals.bookings import bookings_of
from flowcore.calibration.proposals.matching import Matching
from flowcore.calibration.proposals.proposal import PlaceSet, Proposal, Proposed
from flowcore.calibration.shares import share_of, whole_shares
from flowcore.study import StudyDocument
from flowcore.study.base import Id
from flowcore.study.calendars import DAYS
from flowcore.study.distributions import mean_of
from flowcore.study.durations import HOUR, minutes
from flowcore.study.graph import link_ways, reach, types_of
from flowcore.study.streams import AppointmentStream, DateStream, ProfileStream, RandomStream, Stream
from flowcore.theory.weekly import arrivals_in_week

DIGITS = 4
LOST = 0.01
EMPTY = [0.0] * HALVES
Read = TypeAdapter[Stream](Stream)


class Claims:
    """Which of those that come in a log each stream of a study brings; what two could bring is nobody's."""

    def __init__(self, study: StudyDocument, found: LogFound, names: Matching) -> None:
        self._study, self._names = study, names
        self._tells_bookings = bool(found.booked)
        told = {id_ for id_ in names.steps.values() if id_ is not None}
        self._begins = {stream.id: _first_told(study, stream, told) for stream in study.streams}
        self.of_stream: dict[Id, list[Coming]] = {stream.id: [] for stream in study.streams}
        self.nobodys: list[Coming] = []
        for each in found.coming:
            able = [stream for stream in study.streams if self._could_bring(stream, each)]
            (self.of_stream[able[0].id] if len(able) == 1 else self.nobodys).append(each)

    def _could_bring(self, stream: Stream, coming: Coming) -> bool:
        type_ = self._names.types.get(coming.type or "")
        begins_there = self._names.steps.get(coming.step) in self._begins[stream.id]
        is_alike = coming.booked == (stream.kind == "appointments" and self._tells_bookings)
        return is_alike and begins_there and (type_ is None or type_ in types_of(self._study, stream))


def _first_told(study: StudyDocument, stream: Stream, told: set[Id]) -> set[Id]:
    """Return the steps at which the log can hear first of a case that a stream brings."""
    ways = {step: [] if step in told else targets for step, targets in link_ways(study).items()}
    return reach([stream.to], ways) & told


def demand_of(study: StudyDocument, found: LogFound, names: Matching) -> Iterator[Proposal]:
    """Yield what a log says of when cases come by each stream, and of their types."""
    claims = Claims(study, found, names)
    for stream in study.streams:
        if brought := claims.of_stream[stream.id]:
            if isinstance(stream, ProfileStream | RandomStream):
                yield _arrivals(study, stream, brought, found.arrivals)
            if not isinstance(stream, DateStream):
                yield from _mix(stream, brought, names)
            elif found.dates:
                yield _as_they_were(study, stream, brought, found.dates, names)
        if isinstance(stream, AppointmentStream):
            yield from bookings_of(study, stream, found, names)


def _arrivals(
    study: StudyDocument, stream: ProfileStream | RandomStream, brought: list[Coming], profile: Profile
) -> Proposal:
    """Return the weekly profile of those whom a stream brings, beside what it expects now."""
    members = 1.0 if stream.group is None else mean_of(stream.group)
    interval = _interval(stream)
    halves = _in_halves(brought)
    rows = halves.reshape(len(DAYS), -1, interval // FINEST).sum(axis=2)
    week = {day: _row(row / members) for day, row in zip(DAYS, rows, strict=True) if row.any()}
    written = stream.model_dump(mode="json", exclude_defaults=True)
    common = {key: value for key, value in written.items() if key not in ("gap", "chance", "spread", "week")}
    new = common | {"kind": "profile", "interval": f"{interval} min", "week": week}
    expected, seen = arrivals_in_week(study, stream), halves.reshape(-1, 2).sum(axis=1)
    dates = np.array([max(1, profile.days.get(day, 0)) for day in DAYS])
    of_hours = np.repeat(dates.astype(np.float64), len(seen) // len(DAYS))
    low, high = counted_interval(seen * of_hours, of_hours)
    at = f"/streams/{stream.id}/week"
    return Proposal(
        kind=Proposed.ARRIVALS,
        at=at,
        name=stream.name,
        what="how many come when",
        old=expected.tolist(),
        new=seen.tolist(),
        low=low.tolist(),
        high=high.tolist(),
        set=_put(stream, new, at),
        agrees=_agrees(expected.reshape(len(DAYS), -1), seen.reshape(len(DAYS), -1), dates),
        method=f"mean of every {interval} minutes of the week",
        evidence=_evidence(sum(each.many for each in brought), float(seen.sum()), profile),
        doubt=_doubt(study, Read.validate_python(new), profile),
    )


def _interval(stream: ProfileStream | RandomStream) -> int:
    """Return the minutes of an interval: an hour where that is what the stream has, or where no calendar cuts it."""
    by_hour = minutes(stream.interval) == HOUR if isinstance(stream, ProfileStream) else stream.open is None
    return int(HOUR) if by_hour else FINEST


def _evidence(many: int, a_week: float, profile: Profile) -> str:
    low, high = counted_interval(np.array([float(many)]), 1)
    ends = f"{a_week * low[0] / many:,.0f} to {a_week * high[0] / many:,.0f}"
    closed = f" {profile.closed} days without anybody count as closed." if profile.closed else ""
    return f"{many:,} arrivals on {sum(profile.days.values()):,} days: {a_week:,.0f} a week ({ends}).{closed}"


def _as_they_were(
    study: StudyDocument, stream: DateStream, brought: list[Coming], dates: Dates, names: Matching
) -> Proposal:
    """Return the arrivals of a stream one by one, on the dates of the log."""
    mine = {(each.step, each.type) for each in brought}
    came = [
        {"at": at} | ({"type": id_} if (id_ := names.types.get(type_ or "")) else {})
        for at, type_, step in zip(dates.at, dates.type, dates.step, strict=True)
        if (step, type_) in mine
    ]
    at = f"/streams/{stream.id}/arrivals"
    first, last = came[0]["at"], came[-1]["at"]
    return Proposal(
        kind=Proposed.ARRIVALS,
        at=at,
        name=stream.name,
        what="when each comes",
        old=arrivals_in_week(study, stream).tolist(),
        new=_in_halves(brought).reshape(-1, 2).sum(axis=1).tolist(),
        set=[PlaceSet(at=at, value=came)],
        agrees=[each.at for each in stream.arrivals] == [each["at"] for each in came],
        method="as they came",
        evidence=f"{len(came):,} arrivals, from {first[:10]} to {last[:10]}.",
        doubt="They came before the study begins." if last < study.start else "",
    )


def _in_halves(brought: list[Coming]) -> NDArray[np.float64]:
    """Return how many come in each half hour of the week, shape (days, halves)."""
    return np.array([sum((np.array(each.week.get(day, EMPTY)) for each in brought), np.zeros(HALVES)) for day in DAYS])


def _put(stream: Stream, new: dict[str, Any], at: str) -> list[PlaceSet]:
    """Return what is set: the profile alone where the stream has one already."""
    if isinstance(stream, RandomStream):
        return [PlaceSet(at=f"/streams/{stream.id}", value=new)]
    return [PlaceSet(at=f"/streams/{stream.id}/interval", value=new["interval"]), PlaceSet(at=at, value=new["week"])]


def _row(counts: Any) -> list[float]:
    """Return the expected arrivals of a day's hours, without the empty ones at its end."""
    return [float(f"{each:.{DIGITS}g}") for each in np.trim_zeros(counts, "b")]


def _agrees(expected: Any, seen: Any, dates: Any) -> bool:
    """Say whether the study expects on each weekday what was counted on these, and as many in all: 99 of 100 times."""
    low, high = counted_interval((seen.sum(axis=1) * dates), 1, 0.99)
    of_days = expected.sum(axis=1) * dates
    least, most = counted_interval(np.array([(seen.sum(axis=1) * dates).sum()]), 1)
    return bool(((of_days >= low) & (of_days <= high)).all() and least[0] <= of_days.sum() <= most[0])


def _doubt(study: StudyDocument, stream: Stream, profile: Profile) -> str:
    lost = 0.0 if stream.open is None else 1 - _while_open(study, stream) / arrivals_in_week(study, stream).sum()
    if lost > LOST:
        return f"{100 * lost:.0f} % come while the calendar of the stream is closed, and would be lost."
    if profile.is_uneven:
        return f"Days differ by more than chance: their variance is {profile.spread:.1f} times their mean."
    return ""


def _while_open(study: StudyDocument, stream: Stream) -> float:
    """Return how many a week come while the calendar of a stream is open."""
    steady = {"id": "steady", "name": "Steady", "kind": "random", "gap": "60 min", "to": stream.to, "open": stream.open}
    is_open = arrivals_in_week(study, RandomStream.model_validate(steady), FINEST) * HOUR / FINEST
    return float((arrivals_in_week(study, stream, FINEST) * is_open).sum())


def _mix(stream: Stream, brought: list[Coming], names: Matching) -> Iterator[Proposal]:
    """Yield the shares of types among those whom a stream brings, where it brings several."""
    counted: Counter[Id] = Counter()
    for each in brought:
        type_ = names.types.get(each.type or "")
        if type_ is not None:
            counted[type_] += each.many
    if len(counted) < 2:
        return
    at = f"/streams/{stream.id}/mix"
    old = {part.type: part.share for part in stream.mix}
    order = [*(type_ for type_ in old if counted[type_]), *(type_ for type_ in counted if type_ not in old)]
    many = counted.total()
    shares = {type_: share_of(type_, counted[type_], many) for type_ in order}
    new = [
        {"type": type_, "share": share}
        for type_, share in zip(order, whole_shares([counted[each] for each in order]), strict=True)
    ]
    told = ", ".join(f"{100 * each.low:.1f} to {100 * each.high:.1f} %" for each in shares.values())
    yield Proposal(
        kind=Proposed.MIX,
        at=at,
        name=stream.name,
        what="which types come",
        old=[part.model_dump(mode="json") for part in stream.mix],
        new=new,
        set=[PlaceSet(at=at, value=new)],
        agrees=all(each.low <= old.get(type_, 0.0) <= each.high for type_, each in shares.items())
        and all(counted[type_] or share == 0 for type_, share in old.items()),
        method="counted",
        evidence=f"{many:,} cases; their shares lie in {told}.",
        doubt="The stream has other shares at some hours, which stay." if stream.mix_by_hour else "",
    )
