"""A whole replication at a glance: how long each line was when, and the moments worth going to."""

from collections.abc import Iterable, Iterator
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
from flowcore.study.durations import DAY
from flowcore.study.steps import Exit
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


class Outline(BaseModel):
    """A replication up to where it `ends` (minutes since the `start`), be it that it `stands_still` then.

    A `piece` of so many minutes has some thousand changes. `members` are how many each team has, in the order of the
    teams; behind them are the places of those that take so many at once.
    `waiting` are the most who waited at each step, `inside` the most who were inside, in each `interval` (minutes).
    `longest_wait` is told when it ended, a `typical` case, whose waits are in the middle of all, when it came.
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
    marks: list[Mark]
    longest_wait: Mark | None
    typical: Mark | None


def outline_of(study: StudyDocument, pieces: Iterable[Piece]) -> Outline:
    """Return the outline of all pieces of a replay, in their order."""
    played = list(pieces)
    gave_up: dict[int, Mark] = {}
    gone = [piece.notes[piece.notes.kind == k.Note.DEPARTED] for piece in played]
    for piece in played:
        for note in piece.notes[piece.notes.kind == k.Note.GAVE_UP]:
            gave_up.setdefault(int(note.at // DAY), _gave_up(study, note.at, note.case, note.step))
    stays = Stays(played)
    steps = [number for number, step in enumerate(study.steps) if (stays.waiting & (stays.step == number)).any()]
    interval = max(FINEST, piece.ends * (len(steps) + 1) / MOST_CELLS)
    longest = _longest(study, stays, 1)
    edges = np.arange(0.0, max(piece.ends, interval), interval)
    marks = sorted([*gave_up.values(), *_by_the_clock(study, piece.ends)], key=lambda each: each.at)
    return Outline(
        start=study.start,
        ends=piece.ends,
        stands_still=piece.stands_still,
        piece=_length_of_pieces(sum(len(each.changes) for each in played), piece.ends),
        members=[team.members for team in study.teams],
        interval=interval,
        left=_by_midnight(study, gone, piece.ends, False),
        gave_up=_by_midnight(study, gone, piece.ends, True),
        waiting={study.steps[n].id: stays.most(stays.waiting & (stays.step == n), edges) for n in steps},
        inside=stays.most(stays.inside, edges),
        marks=marks[:MOST_MARKS],
        longest_wait=longest[0] if longest else None,
        typical=_typical(stays),
    )


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


def _gave_up(study: StudyDocument, at: float, case: int, step: int) -> Mark:
    return Mark(at=float(at), words="first to give up", case=int(case), step=study.steps[int(step)].id)


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


def _typical(stays: Stays) -> Mark | None:
    found = stays.middle
    return None if found is None else Mark(at=found[1], words="a typical one", case=found[0])


class LongWaits(BaseModel):
    """Waits longer than asked for, the longest first, each when it ended; and how `many` there were in all."""

    many: int
    waits: list[Mark]


def long_waits(study: StudyDocument, pieces: Iterable[Piece], over: float, step: str | None) -> LongWaits:
    """Return who waited for more than so many minutes: at a step, or at any one step."""
    stays = Stays(list(pieces))
    place = None if step is None else next((n for n, each in enumerate(study.steps) if each.id == step), -1)
    waits = stays.waits
    meant = (waits.minutes > over) & ((waits.step == place) if place is not None else True)
    return LongWaits(many=int(meant.sum()), waits=_longest(study, stays, MOST_TOLD, meant))


def _longest(study: StudyDocument, stays: Stays, many: int, meant: NDArray[np.bool_] | None = None) -> list[Mark]:
    """Return the longest waits, each at its end."""
    waits = stays.waits
    places = np.flatnonzero(waits.minutes > 0 if meant is None else meant)
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
