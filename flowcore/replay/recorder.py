"""Pieces of a replay: what is seen at a time, and every change from then on."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from flowcore.kernel.records.ledger import NoteRow, Seen
from flowcore.kernel.records.record import Table
from flowcore.kernel.records.world import World
from flowcore.simulate import Replicator, StandsStill, never
from flowcore.study import StudyDocument, minutes

MOST_CHANGES = 40_000
"""A piece with more changes than these ends early: the next one goes on from there."""
LOOKS = 24
"""So often it is looked whether a piece has become too long."""


@dataclass(frozen=True)
class Piece:
    """A stretch of a replay, in minutes since the start.

    `cases` and `members` are what is seen of each record of a case and of each member as it begins, `changes` what of
    them is seen otherwise from when on, in order; `notes` are what happened.
    """

    begins: float
    ends: float
    is_last: bool
    cases: Table[Seen]
    members: Table[Seen]
    changes: Table[Seen]
    notes: Table[NoteRow]

    def at(self, moment: float) -> tuple[Table[Seen], Table[Seen]]:
        """Return what is seen of the records of cases and of the members at a moment, when all of it has happened."""
        upto = self.changes[: int(np.searchsorted(self.changes.at, moment, "right"))]
        records = max(len(self.cases), int(upto.who.max(initial=-1)) + 1)
        cases = np.zeros(records, self.cases.dtype).view(np.recarray)
        cases[: len(self.cases)] = self.cases
        members = self.members.copy()
        for change in upto:
            if change.who >= 0:
                cases[change.who] = change
            else:
                members[-1 - change.who] = change
        return cases, members


class Recorder:
    """Makes the pieces of one replication's replay, one after another, from any time on."""

    def __init__(self, study: StudyDocument, number: int, should_stop: Callable[[], bool] = never) -> None:
        self._replicator = Replicator(study, should_stop)
        self._number = number
        self._length = minutes(study.run.length)

    def pieces(self, begin: float, length: float) -> Iterator[Piece]:
        """Yield the pieces from a time on, of so many minutes or shorter.

        The last ends where nothing happens any more, though cases may be inside that wait only for each other. Raises
        StudyError where the replication cannot come to the time asked for, and Stopped.
        """
        world = self._replicator.watched_from(self._number, begin)
        is_last = False
        while not is_last:
            piece, world = self._piece(world, length)
            is_last = piece.is_last
            yield piece

    def _piece(self, world: World, length: float) -> tuple[Piece, World]:
        clock = world.clock[0]
        begins = float(clock.now)
        cases, members = world.seen_cases[: int(clock.records_seen)].copy(), world.seen_members.copy()
        clock.changes = clock.notes = 0
        ends = min(begins + length, self._length)
        is_over = False
        for look in range(LOOKS):
            until = begins + (ends - begins) * (look + 1) / LOOKS
            world, is_over = self._go(world, until)
            if is_over or world.clock[0].changes > MOST_CHANGES:
                break
        clock = world.clock[0]
        changes, notes = world.changes[: int(clock.changes)].copy(), world.notes[: int(clock.notes)].copy()
        return Piece(begins, float(clock.now), is_over, cases, members, changes, notes), world

    def _go(self, world: World, until: float) -> tuple[World, bool]:
        """Go on up to a time; say whether that is all there is: the end, or a moment from which it stands still."""
        try:
            world = self._replicator.go(world, until)
        except StandsStill as still:
            return still.world, True
        return world, until >= self._length or world.clock[0].now < until
