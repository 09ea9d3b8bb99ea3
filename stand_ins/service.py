"""A made-up service: what visitors and staff of a study do in one replication, as a device would see it."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import datetime

from flowcore.kernel.records.kinds import Note
from flowcore.reports.event_log import Entry, event_log
from flowcore.study import StudyDocument


@dataclass(frozen=True)
class Visit:
    """A case at a step: when it came, was called and had finished, None where that never was; with whom."""

    case: int
    type: str
    step: str
    came: datetime
    called: datetime | None = None
    finished: datetime | None = None
    member: str = ""
    gave_up: bool = False


_CAME = (Note.CAME, Note.JOINED_LINE)
_FINISHED = (Note.ENDED_WORK, Note.WAS_BLOCKED)


def visits_of(study: StudyDocument, replication: int = 0) -> Iterator[Visit]:
    """Yield all visits at steps where somebody works, in the order in which they end; see `event_log` for errors."""
    manned = {step.name for step in study.steps if getattr(step, "needs", None)}
    here: dict[tuple[int, str], Visit] = {}
    for entry in event_log(study, replication):
        if entry.step not in manned or not entry.case:
            continue
        place = (entry.case, entry.step)
        if entry.kind in _CAME:
            here.setdefault(place, Visit(entry.case, entry.type, entry.step, entry.time))
        elif place in here:
            here[place] = seen = _next(here[place], entry)
            if seen.gave_up or seen.finished:
                yield here.pop(place)
    yield from here.values()


def _next(visit: Visit, entry: Entry) -> Visit:
    """Return a visit after one more thing has happened."""
    if entry.kind == Note.BEGAN and visit.called is None:
        return replace(visit, called=entry.time, member=entry.member)
    if entry.kind in _FINISHED and visit.called is not None:
        return replace(visit, finished=entry.time)
    if entry.kind == Note.GAVE_UP:
        return replace(visit, finished=entry.time, gave_up=True)
    return visit
