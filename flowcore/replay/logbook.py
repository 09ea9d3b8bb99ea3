"""The logbook: what happened in a replication between two times, in words."""

from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum

from pydantic import BaseModel

from flowcore.kernel.records import kinds as k
from flowcore.reports.event_log import Entry, event_log
from flowcore.study import StudyDocument

MOST_LINES = 500

WORDS: dict[int, str] = {
    k.Note.ARRIVED: "{case} arrives{type}",
    k.Note.CAME: "{case} comes to {step}",
    k.Note.JOINED_LINE: "{case} waits at {step}",
    k.Note.BEGAN: "{case} begins at {step}{member}",
    k.Note.PAUSED_WORK: "{case} is left alone at {step}",
    k.Note.RESUMED: "{case} goes on at {step}{member}",
    k.Note.HANDED_BACK: "{case} is handed back to the head of the line at {step}",
    k.Note.ENDED_WORK: "{case} is done at {step}{member}",
    k.Note.WAS_BLOCKED: "{case} is blocked at {step}",
    k.Note.GAVE_UP: "{case} gives up at {step}",
    k.Note.BALKED: "{case} turns round before {step}",
    k.Note.TURNED_AWAY: "{case} is turned away at {step}",
    k.Note.SET_OUT: "{case} sets out for {step}",
    k.Note.WAS_HELD: "{case} waits for the signal at {step}",
    k.Note.GATHERED: "{case} goes on together with others from {step}",
    k.Note.DIVERTED: "{case} is diverted from {step}",
    k.Note.SENT: "{case} has somebody sent from {step}",
    k.Note.DEPARTED: "{case} leaves by {step}",
    k.Note.SHIFT_BEGAN: "{who} begins the shift",
    k.Note.SHIFT_ENDED: "{who} goes home",
    k.Note.BREAK_BEGAN: "{who} takes a break",
    k.Note.CAME_BACK: "{who} is back",
    k.Note.WAS_INTERRUPTED: "{who} is called away",
    k.Note.MISSED_SHIFT: "{who} misses the shift",
}


class LogKind(StrEnum):
    """What kind of event is asked for."""

    COMING = "coming"
    WAITING = "waiting"
    WORK = "work"
    GIVING_UP = "giving_up"
    MEMBERS = "members"


KIND_WORDS = {
    LogKind.COMING: "coming and leaving",
    LogKind.WAITING: "waiting",
    LogKind.WORK: "work",
    LogKind.GIVING_UP: "giving up and turning away",
    LogKind.MEMBERS: "shifts, breaks and calls",
}
NOTES_OF = {
    LogKind.COMING: (k.Note.ARRIVED, k.Note.CAME, k.Note.SET_OUT, k.Note.SENT, k.Note.DEPARTED),
    LogKind.WAITING: (k.Note.JOINED_LINE, k.Note.WAS_BLOCKED, k.Note.WAS_HELD, k.Note.GATHERED),
    LogKind.WORK: (k.Note.BEGAN, k.Note.PAUSED_WORK, k.Note.RESUMED, k.Note.HANDED_BACK, k.Note.ENDED_WORK),
    LogKind.GIVING_UP: (k.Note.GAVE_UP, k.Note.BALKED, k.Note.TURNED_AWAY, k.Note.DIVERTED),
    LogKind.MEMBERS: (
        k.Note.SHIFT_BEGAN,
        k.Note.SHIFT_ENDED,
        k.Note.BREAK_BEGAN,
        k.Note.CAME_BACK,
        k.Note.WAS_INTERRUPTED,
        k.Note.MISSED_SHIFT,
    ),
}


class LogLine(BaseModel):
    """Something that happened: when (minutes since the start), in words, with which case by its number, and whom."""

    at: float
    words: str
    case: int | None
    step: str
    member: str


class Logbook(BaseModel):
    """What happened, in order; `more` says whether there was more than is told."""

    lines: list[LogLine]
    more: bool


@dataclass(frozen=True)
class Asked:
    """What of the logbook is asked for: of one case, at one step by its name, of one member by name, of one kind."""

    case: int | None = None
    step: str | None = None
    member: str | None = None
    kind: LogKind | None = None

    def has(self, entry: Entry) -> bool:
        """Say whether an entry of that case, or of any, is asked for."""
        return (
            self.step in (None, entry.step)
            and self.member in (None, entry.member)
            and (self.kind is None or entry.kind in NOTES_OF[self.kind])
        )


def logbook(study: StudyDocument, number: int, begin: float, end: float, asked: Asked = Asked()) -> Logbook:
    """Return what happened in a replication between two times in minutes, all or some of it.

    Raises StudyError where the replication cannot come to its end.
    """
    lines: list[LogLine] = []
    for entry in event_log(study, number, case=asked.case, begin=begin, end=end):
        if not asked.has(entry):
            continue
        if len(lines) == MOST_LINES:
            return Logbook(lines=lines, more=True)
        lines.append(_line(entry))
    return Logbook(lines=lines, more=False)


def _line(entry: Entry) -> LogLine:
    words = WORDS[entry.kind].format(
        case=f"Case {entry.case:,}",
        type=f", {entry.type}" if entry.type else "",
        step=entry.step or "the start",
        member=f" with {entry.member}" if entry.member else "",
        who=entry.member or "A place",
    )
    return LogLine(at=entry.minute, words=words, case=entry.case or None, step=entry.step, member=entry.member)


def written_lines(study: StudyDocument, number: int, begin: float, end: float, case: int | None) -> Iterator[str]:
    """Yield the lines of a logbook as text, all of them, each with its time: "2027-03-01 11:42:10  Case 3 arrives"."""
    for entry in event_log(study, number, case=case, begin=begin, end=end):
        yield f"{entry.time.isoformat(sep=' ', timespec='seconds')}  {_line(entry).words}"
