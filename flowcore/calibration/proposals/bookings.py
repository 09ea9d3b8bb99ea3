"""What a log says of cases that are booked."""

from collections import Counter
from collections.abc import Iterable, Iterator
from typing import Any

from flowcore.calibration.appointments import Booked
from flowcore.calibration.found import LogFound
from flowcore.calibration.proposals.matching import Matching
from flowcore.calibration.proposals.proposal import PlaceSet, Proposal, Proposed
from flowcore.calibration.shares import Share
from flowcore.study import StudyDocument
from flowcore.study.distributions import mean_of, sd_of
from flowcore.study.graph import types_of
from flowcore.study.streams import AppointmentStream, Slots
from flowcore.study.timetable import slot_times

DIGITS = 4
NEAR = 2.0
"""So many standard errors a mean, or a standard deviation, may be off by chance."""


def bookings_of(
    study: StudyDocument, stream: AppointmentStream, found: LogFound, names: Matching
) -> Iterator[Proposal]:
    """Yield the slots, how many are filled, who does not come, and how punctual the others are."""
    booked = _brought(study, stream, found, names)
    if booked is None:
        return
    agrees = _slots(stream.sessions) == _slots(Slots.model_validate(each) for each in booked.sessions)
    told = f"{booked.filled.many:,} bookings into {booked.offered:,} slots."
    yield _proposal(stream, "sessions", "which slots there are", booked.sessions, agrees, told)
    for key, what, share in (
        ("filled", "the share of slots that is booked", booked.filled),
        ("no_show", "the share of those booked who do not come", booked.no_show),
    ):
        agrees = share.low <= getattr(stream, key) <= share.high
        yield _proposal(stream, key, what, float(f"{share.share:.{DIGITS}g}"), agrees, _told(share))
    if booked.punctuality is not None:
        told = f"{booked.came:,} came, {booked.mean:+.1f} min on average, standard deviation {booked.sd:.1f} min."
        what = "how early or late they come"
        yield _proposal(stream, "punctuality", what, booked.punctuality, _is_as_punctual(stream, booked), told)


def _slots(sessions: Iterable[Slots]) -> Counter[tuple[str, float]]:
    """Return how many places each slot of a week has."""
    found = Counter[tuple[str, float]]()
    for each in sessions:
        for minute in slot_times(each).tolist():
            found.update({(day, minute): each.places for day in each.days})
    return found


def _brought(study: StudyDocument, stream: AppointmentStream, found: LogFound, names: Matching) -> Booked | None:
    """Return how those are booked whom a stream brings: all, where it brings all types that are booked, or one type."""
    types = {names.types.get(each.type) for each in found.booked if each.type is not None}
    brings = types_of(study, stream)
    if types <= brings:
        return next((each for each in found.booked if each.type is None), None)
    mine = [each for each in found.booked if each.type is not None and names.types.get(each.type) in brings]
    return mine[0] if len(mine) == 1 else None


def _is_as_punctual(stream: AppointmentStream, booked: Booked) -> bool:
    mean, sd = (0.0, 0.0) if stream.punctuality is None else (mean_of(stream.punctuality), sd_of(stream.punctuality))
    error = NEAR * booked.sd / float(booked.came) ** 0.5
    return bool(abs(mean - booked.mean) <= error and abs(sd - booked.sd) <= error / 2**0.5)


def _proposal(stream: AppointmentStream, key: str, what: str, new: Any, agrees: bool, evidence: str) -> Proposal:
    at = f"/streams/{stream.id}/{key}"
    return Proposal(
        kind=Proposed.BOOKING,
        at=at,
        name=stream.name,
        what=what,
        old=stream.model_dump(mode="json")[key],
        new=new,
        set=[PlaceSet(at=at, value=new)],
        agrees=agrees,
        method="planned beside real times",
        evidence=evidence,
    )


def _told(found: Share) -> str:
    percents = (100 * each for each in (found.share, found.low, found.high))
    return "{:,} of {:,}: {:.1f} % ({:.1f} to {:.1f}).".format(found.many, found.out_of, *percents)
