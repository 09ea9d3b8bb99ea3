"""A whole replication at a glance: how long each line was when, and the moments worth going to."""

from collections.abc import Iterable, Iterator, Sequence
from datetime import datetime

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from flowcore.kernel.records import kinds as k
from flowcore.kernel.records.ledger import NoteRow
from flowcore.kernel.records.record import Table
from flowcore.replay.recorder import Piece
from flowcore.replay.stays import Stays
from flowcore.study import StudyDocument
from flowcore.study.case_types import CaseType
from flowcore.study.durations import DAY
from flowcore.study.steps import Exit, Serve, Step
from flowcore.study.timetable import breaks_of, days_of_run, hours_to_period, members_with, open_periods, shifts_of

FINEST = 5.0
"""Lines are told by intervals of so many minutes, or by longer ones where there would be too many."""
MOST_CELLS = 300_000
MOST_MARKS = 1_000
MOST_TOLD = 30
CHANGES_OF_A_PIECE = 4_000
LENGTHS = (5.0, 15.0, 30.0, 60.0, 120.0, 240.0, 480.0, 1440.0, 10080.0)


class Mark(BaseModel):
    """A moment that matters, in minutes since the start, in words; with a case by its number, and a step."""

    at: float
    words: str
    case: int | None = None
    step: str | None = None


class ToFollow(BaseModel):
    """Cases of a type that are worth following.

    The `longest_wait` is told when it ended, a `typical` case, whose waits are in the middle of all, when it came, and
    the first who `gave_up` when that was.
    """

    longest_wait: Mark | None
    typical: Mark | None
    gave_up: Mark | None


ALL = "all"
"""Stands for the cases of all types, as in the addresses of figures."""


class Outline(BaseModel):
    """A replication up to where it `ends` (minutes since the `start`), be it that it `stands_still` then.

    A `piece` of so many minutes has some thousand changes. `members` are how many each team has, in the order of the
    teams; behind them are the places of those that take so many at once.
    `waiting` are the most who waited at each step, `inside` the most who were inside, in each `interval` (minutes).
    The `longest_line` is where most waited at once for work to begin; for something else only where nobody did so.
    `to_follow` are cases worth following, of all types and by each type's id.
    `left` and `gave_up` are how many had left by each midnight, from the one
    before the start on.
    """

    start: str
    ends: float
    stands_still: bool
    piece: float
    members: list[int]
    interval: float
    left: list[int]
    gave_up: list[int]
    waiting: dict[str, list[int]]
    inside: list[int]
    longest_line: Mark | None
    marks: list[Mark]
    to_follow: dict[str, ToFollow]


def outline_of(study: StudyDocument, pieces: Iterable[Piece]) -> Outline:
    """Return the outline of all pieces of a replay, in their order."""
    played = list(pieces)
    gone = [piece.notes[piece.notes.kind == k.Note.DEPARTED] for piece in played]
    given_up = np.concatenate([np.asarray(piece.notes[piece.notes.kind == k.Note.GAVE_UP]) for piece in played])
    first_of_day = given_up[np.unique(given_up["at"] // DAY, return_index=True)[1]]
    stays, last = Stays(played), played[-1]
    steps = [number for number, step in enumerate(study.steps) if (stays.waiting & (stays.step == number)).any()]
    interval = max(FINEST, last.ends * (len(steps) + 1) / MOST_CELLS)
    edges = np.arange(0.0, max(last.ends, interval), interval)
    gave_up = [_gave_up(study, note) for note in first_of_day]
    waiting = {n: stays.most(stays.waiting & (stays.step == n), edges) for n in steps}
    marks = sorted([*gave_up, *_by_the_clock(study, last.ends)], key=lambda each: each.at)
    return Outline(
        start=study.start,
        ends=last.ends,
        stands_still=last.stands_still,
        piece=_length_of_pieces(sum(len(each.changes) for each in played), last.ends),
        members=[team.members for team in study.teams],
        interval=interval,
        left=_by_midnight(study, gone, last.ends, False),
        gave_up=_by_midnight(study, gone, last.ends, True),
        waiting={study.steps[n].id: line for n, line in waiting.items()},
        inside=stays.most(stays.inside, edges),
        longest_line=_longest_line(study, waiting, interval),
        marks=marks[:MOST_MARKS],
        to_follow={ALL: _to_follow(study, stays, given_up)}
        | {each.id: _to_follow(study, stays, given_up, kind) for kind, each in enumerate(study.case_types)},
    )


def _to_follow(study: StudyDocument, stays: Stays, given_up: np.ndarray, kind: int | None = None) -> ToFollow:
    """Return which cases are worth following, of a type by its number, or of all."""
    waits = stays.waits
    longest = _longest(study, stays, 1, (waits.minutes > 0) & (True if kind is None else waits.type == kind))
    middle = stays.middle(np.ones_like(stays.waiting) if kind is None else stays.type == kind)
    left = given_up if kind is None else given_up[given_up["type"] == kind]
    return ToFollow(
        longest_wait=longest[0] if longest else None,
        typical=None if middle is None else Mark(at=middle[1], words="a typical one", case=middle[0]),
        gave_up=_gave_up(study, left[0]) if len(left) else None,
    )


def _longest_line(study: StudyDocument, waiting: dict[int, list[int]], interval: float) -> Mark | None:
    for_work = [n for n in waiting if isinstance(study.steps[n], Serve)] or list(waiting)
    if not for_work:
        return None
    step = max(for_work, key=lambda n: max(waiting[n]))
    many = max(waiting[step])
    return Mark(at=waiting[step].index(many) * interval, words=f"{many} in line", step=study.steps[step].id)


def _length_of_pieces(changes: int, ends: float) -> float:
    wished = ends * CHANGES_OF_A_PIECE / max(1, changes)
    return max((each for each in LENGTHS if each <= wished), default=LENGTHS[0])


def _by_midnight(study: StudyDocument, gone: list[Table[NoteRow]], ends: float, abandoned: bool) -> list[int]:
    """Return how many had left by each midnight, by exits at which cases give up, or by the others."""
    exits = [n for n, step in enumerate(study.steps) if isinstance(step, Exit) and step.abandoned == abandoned]
    times = np.concatenate([np.asarray(each.at)[np.isin(each.step, exits)] for each in gone])
    midnights = np.array([midnight for _, midnight in days_of_run(datetime.fromisoformat(study.start), ends)][1:])
    found: list[int] = np.searchsorted(times, midnights, "right").tolist()
    return found


def _gave_up(study: StudyDocument, note: np.void) -> Mark:
    step = study.steps[int(note["step"])].id
    return Mark(at=float(note["at"]), words="first to give up", case=int(note["case"]), step=step)


def _by_the_clock(study: StudyDocument, ends: float) -> Iterator[Mark]:
    """Yield when the doors close, and when breaks begin, each once."""
    start = datetime.fromisoformat(study.start)
    doors = next((each for each in study.calendars if each.id == study.run.doors), None)
    for _, closes in open_periods(doors, start, ends) if doors else ():
        if closes < ends:
            yield Mark(at=closes, words="doors close")
    begins: dict[float, str] = {}
    for team in study.teams:
        for row in team.roster:
            of_day = hours_to_period(0.0, row.from_, row.to)
            after_begin = [each.begins - of_day[0] for each in breaks_of(row, of_day) if each.member == 0]
            names = [each.name or "break" for each in row.breaks if members_with(row, each, of_day)]
            for shift in shifts_of(row, team.closed, start, ends) if names else ():
                first = [shift[0] + after for after in after_begin]
                begins |= {at: name.lower() for at, name in zip(first, names, strict=True) if 0 <= at < ends}
    yield from (Mark(at=at, words=name) for at, name in begins.items())


class LongWaits(BaseModel):
    """Waits longer than asked for, the longest first, each when it ended; and how `many` there were in all."""

    many: int
    waits: list[Mark]


def long_waits(
    study: StudyDocument, pieces: Iterable[Piece], over: float, step: str | None = None, kind: str | None = None
) -> LongWaits:
    """Return who waited for more than so many minutes: at a step, or at any one step; of a type, or of all."""
    stays = Stays(list(pieces))
    waits = stays.waits
    meant = waits.minutes > over
    if step is not None:
        meant &= waits.step == _place_of(step, study.steps)
    if kind is not None:
        meant &= waits.type == _place_of(kind, study.case_types)
    return LongWaits(many=int(meant.sum()), waits=_longest(study, stays, MOST_TOLD, meant))


def _place_of(wanted: str, things: Sequence[Step | CaseType]) -> int:
    return next((place for place, each in enumerate(things) if each.id == wanted), -1)


def _longest(study: StudyDocument, stays: Stays, many: int, meant: NDArray[np.bool_]) -> list[Mark]:
    """Return the longest of those waits that are meant, each at its end."""
    waits = stays.waits
    places = np.flatnonzero(meant)
    order = np.lexsort((waits.case[places], waits.ends[places], -waits.minutes[places]))
    places = places[order][:many]
    return [
        Mark(
            at=float(waits.ends[place]),
            words=f"{waits.minutes[place]:.0f} min",
            case=int(waits.case[place]),
            step=study.steps[int(waits.step[place])].id,
        )
        for place in places
    ]
