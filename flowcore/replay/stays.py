"""Where cases were seen to be over a replay, and for how long."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.records import kinds as k
from flowcore.replay.recorder import Piece

Numbers = NDArray[np.float64]
Places = NDArray[np.int64]


@dataclass(frozen=True)
class Waits:
    """Waits at one step: when each ended, how long it was, of which case and its type, where, shape (waits,) each."""

    ends: Numbers
    minutes: Numbers
    case: Places
    type: Places
    step: Places


class Stays:
    """Stretches in which records of cases were seen to be somewhere: one for each line, until the record's next."""

    def __init__(self, pieces: Sequence[Piece]) -> None:
        rows = np.concatenate([np.asarray(each) for each in (pieces[0].cases, *(piece.changes for piece in pieces))])
        ends = pieces[-1].ends
        rows = rows[rows["who"] >= 0]
        rows = rows[np.argsort(rows["who"], kind="stable")]
        self.begins: Numbers = np.asarray(rows["at"], np.float64)
        self.step: Places = np.asarray(rows["step"], np.int64)
        self.number: Places = np.asarray(rows["number"], np.int64)
        self.type: Places = np.asarray(rows["type"], np.int64)
        who = np.asarray(rows["who"])
        self._follows = np.append(who[1:] == who[:-1], False)[: len(who)]
        self.ends: Numbers = np.where(self._follows, np.append(self.begins[1:], ends)[: len(who)], ends)
        doing = np.asarray(rows["doing"])
        self.waiting = doing == k.Doing.WAITING
        self.inside = (doing != k.Doing.NOTHING) & (np.asarray(rows["token"]) == k.TokenKind.CASE)

    def most(self, which: NDArray[np.bool_], edges: Numbers) -> list[int]:
        """Return how many stretches there were at once at most in each interval that begins at an edge."""
        times = np.concatenate([self.begins[which], self.ends[which]])
        changes = np.repeat([1, -1], int(which.sum()))
        order = np.argsort(times, kind="stable")
        times, levels = times[order], np.cumsum(changes[order])
        settled = np.append(times[1:] != times[:-1], True)[: len(times)]
        times, levels = times[settled], levels[settled]
        most = np.append(0, levels)[np.searchsorted(times, edges, "right")]
        np.maximum.at(most, np.searchsorted(edges, times, "right") - 1, levels)
        found: list[int] = most.tolist()
        return found

    def middle(self, which: NDArray[np.bool_]) -> tuple[int, float] | None:
        """Return which of the cases of some stretches waits as long as most do, by the median, and when it came."""
        there = which & (self.number > 0)
        numbers, places = np.unique(self.number[there], return_inverse=True)
        if not len(numbers):
            return None
        waits = np.bincount(places, np.where(self.waiting, self.ends - self.begins, 0.0)[there])
        place = int(np.argsort(waits, kind="stable")[len(waits) // 2])
        return int(numbers[place]), float(self.begins[there][places == place].min())

    @cached_property
    def waits(self) -> Waits:
        """All waits, in the order of the records: stretches of one case at one step that follow each other are one."""
        goes_on = np.append(False, self.waiting[1:] & self.waiting[:-1] & self._follows[:-1])[: len(self.step)]
        goes_on[1:] &= (self.number[1:] == self.number[:-1]) & (self.step[1:] == self.step[:-1])
        begins = np.flatnonzero(self.waiting & ~goes_on)
        groups = np.cumsum(~goes_on) - 1
        lasts = np.append(np.flatnonzero(~goes_on)[1:] - 1, len(goes_on) - 1)[groups[begins]]
        ends = self.ends[lasts]
        return Waits(ends, ends - self.begins[begins], self.number[begins], self.type[begins], self.step[begins])
