"""Pieces of a replay: what is seen at a time, and every change from then on."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from flowcore.kernel.records.ledger import NoteRow, Seen
from flowcore.kernel.records.record import Table, blank
from flowcore.kernel.records.world import World
from flowcore.kernel.run.worlds import watched
from flowcore.simulate import Replicator, never, require_sound
from flowcore.study import StudyDocument, minutes


@dataclass(frozen=True)
class Piece:
    """A stretch of a replay, in minutes since the start; the last one may end because all `stands_still`.

    `cases` and `members` are what is seen of each record of a case and of each member as it begins, `changes` what of
    them is seen otherwise from when on, in order; `notes` are what happened. `left` are how many cases have left before
    by an exit at which nobody gives up, `gave_up` how many by others.
    """

    begins: float
    ends: float
    is_last: bool
    stands_still: bool
    left: int
    gave_up: int
    cases: Table[Seen]
    members: Table[Seen]
    changes: Table[Seen]
    notes: Table[NoteRow]

    def at(self, moment: float) -> tuple[Table[Seen], Table[Seen]]:
        """Return what is seen of the records of cases and of the members at a moment, when all of it has happened."""
        upto = self.changes[: int(np.searchsorted(self.changes.at, moment, "right"))]
        records = max(len(self.cases), int(upto.who.max(initial=-1)) + 1)
        cases, members = blank(Seen, records), blank(Seen, len(self.members))
        cases[: len(self.cases)], members[:] = self.cases, self.members
        for change in upto:
            if change.who >= 0:
                cases[change.who] = change
            else:
                members[-1 - change.who] = change
        return cases, members


class Recorder:
    """Makes pieces of one replication's replay: fastest where each begins where the one before ended."""

    def __init__(self, study: StudyDocument, number: int, should_stop: Callable[[], bool] = never) -> None:
        require_sound(study)
        self._replicator = Replicator(study, should_stop)
        self._number = number
        self._length = minutes(study.run.length)
        self._world: World | None = None

    def pieces(self, length: float) -> Iterator[Piece]:
        """Yield all pieces from the start on, of so many minutes each; see `piece`."""
        piece = self.piece(0.0, length)
        yield piece
        while not piece.is_last:
            piece = self.piece(piece.ends, piece.ends + length)
            yield piece

    def piece(self, begins: float, ends: float) -> Piece:
        """Return what is seen between two times, in minutes since the start.

        The last piece ends with the run, or where cases are inside that wait only for each other; one that would begin
        later begins there too. Raises StudyError where so much happens at one instant that the clock never goes on, and
        Stopped.
        """
        world = self.watched_from(begins)
        clock = world.clock[0]
        begins = float(clock.now)
        tally = world.type_tally
        left, gave_up = int(tally.completed.sum() + tally.turned_away.sum()), int(tally.abandoned.sum())
        cases, members = world.seen_cases[: int(clock.records_seen)].copy(), world.seen_members.copy()
        clock.changes = clock.notes = 0
        cases.at[:] = members.at[:] = begins
        cases.who[:] = np.arange(len(cases))
        world, still = self._replicator.go_as_far(world, min(ends, self._length))
        self._world, clock = world, world.clock[0]
        now = float(clock.now)
        changes, notes = world.changes[: int(clock.changes)].copy(), world.notes[: int(clock.notes)].copy()
        is_last = still or now >= self._length or now < ends
        return Piece(begins, now, is_last, still, left, gave_up, cases, members, changes, notes)

    def watched_from(self, begins: float) -> World:
        """Return the world at a time, all of whose cases and members have been seen."""
        world = self._world
        if world is None or world.clock[0].now > begins:
            world = self._replicator.first_of(self._number)
        clock = world.clock[0]
        if clock.now < begins:
            clock.watching = clock.tracing = 0
            world, _ = self._replicator.go_as_far(world, min(begins, self._length))
        if not world.clock[0].watching:
            world.clock[0].tracing = 1
            world, _ = self._replicator.go_as_far(watched(world), float(world.clock[0].now))
        return world
