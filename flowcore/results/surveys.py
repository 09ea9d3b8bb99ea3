"""Rows of the ledger, read once: how many there are of each kind, and their waits by when they came."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.records.ledger import Departure, SpanRow, Visit, VisitExtra
from flowcore.kernel.records.record import Table, blank
from flowcore.kernel.records.world import World
from flowcore.kernel.summary.columns import Field, copied, grouped, last_by_day, survey
from flowcore.results.arrays import Values, plain
from flowcore.results.catalogue import HOURS_A_WEEK
from flowcore.study import StudyDocument, minutes
from flowcore.study.clocks import clocks_of
from flowcore.study.durations import DAY, HOUR

Rows = Table[Visit] | Table[Departure] | Table[SpanRow]
Counts = NDArray[np.int64]
Grid = tuple[float, float, int]
"""What is added to a moment, the width of a place in minutes, and how many places there are."""

_WORD = 8
_NO_EXTRAS = blank(VisitExtra, 0)


@dataclass(frozen=True)
class Waits:
    """Sums of waits, and how many they are, by subject and place: both of shape (subjects + 1, places), all at last."""

    sums: Values
    found: Counts


@dataclass(frozen=True)
class _Part:
    """Some of the fields of rows as words, shape (rows, words), and the bits that any row has in each word."""

    words: Values
    kind: np.dtype[np.void]
    used: Counts

    def uses(self, quantity: str) -> bool:
        """Say whether a quantity is a field of these in which not all rows have 0."""
        return self._has(quantity) and bool(self.used[_place_of(self.kind, quantity)])

    def wanted(self, quantities: Sequence[str]) -> tuple[Counts, Counts]:
        """Return which words are quantities that are wanted, and where among these each is."""
        mine = [place for place, quantity in enumerate(quantities) if self._has(quantity)]
        words = [_place_of(self.kind, quantities[place]) for place in mine]
        return np.array(words, np.int64), np.array(mine, np.int64)

    def _has(self, quantity: str) -> bool:
        return quantity in (self.kind.names or ())


class Survey:
    """Rows of the ledger of one kind, counted by whole numbers in some of their fields.

    `groups` says for each field below which number its numbers are. `waits` are, for each of the grids, those of the
    rows by the first field and by when they came. `extras` are further fields of the same rows, or none: all 0.
    """

    def __init__(
        self, rows: Rows, groups: Mapping[str, int], grids: Sequence[Grid] = (), extras: Table[VisitExtra] = _NO_EXTRAS
    ) -> None:
        self.words = _words_of(rows)
        self._kind = rows.dtype
        self._groups = groups
        self._fields = np.array([_whole_in(rows.dtype, name) for name in groups], np.int64).reshape(-1, 3)
        came = ("joined_at", "") if "joined_at" in (rows.dtype.names or ()) else ("left_at", "total")
        places = np.array([places for _, _, places in grids], np.int64)
        self._counts, sums, found, used = survey(
            self.words,
            self._fields,
            np.maximum(1, np.array([*groups.values()], np.int64)),
            (_place_of(rows.dtype, came[0]), _place_of(rows.dtype, came[1]) if came[1] else -1) if grids else (0, -1),
            _place_of(rows.dtype, "wait"),
            np.array([grid[:2] for grid in grids], np.float64).reshape(-1, 2),
            places,
        )
        self._parts = [_Part(self.words, rows.dtype, used)]
        if len(extras):
            words = _words_of(extras)
            self._parts.append(_Part(words, extras.dtype, np.bitwise_or.reduce(words.view(np.int64))))
        ends = np.cumsum(places)
        self.waits = [
            Waits(_of_grid(sums, end - many, end), _of_grid(found, end - many, end))
            for end, many in zip(ends.tolist(), places.tolist(), strict=True)
        ]

    def edges(self, name: str) -> Counts:
        """Return where, in the order of a field, the rows with each of its numbers begin, and where the last end."""
        counts = self._counts[self._number_of(name), : max(1, self._groups[name])]
        edges: Counts = np.concatenate([[0], np.cumsum(counts)])
        return edges

    def used(self, quantities: Iterable[str]) -> tuple[str, ...]:
        """Return those of some quantities of which not all rows have 0."""
        return tuple(each for each in quantities if any(part.uses(each) for part in self._parts))

    def put_in_order(self, quantities: Sequence[str], name: str, columns: Values) -> Counts:
        """Write quantities of the rows in the order of a field into columns, and return the `edges`."""
        edges = self.edges(name)
        field = _whole_in(self._kind, name)
        for part in self._parts:
            wanted, goals = part.wanted(quantities)
            if len(wanted):
                grouped(self.words, field, part.words, wanted, goals, edges, columns)
        return edges

    def last_by_day(self, minute: float) -> Values:
        """Return when the last of those who came on each day left; the run starts at a minute of its first day."""
        moments = _place_of(self._kind, "left_at"), _place_of(self._kind, "total")
        found: Values = last_by_day(self.words, moments, minute, DAY)
        return found

    def put_as_they_are(self, quantities: Sequence[str], columns: Values) -> None:
        """Write quantities of the rows into columns."""
        for part in self._parts:
            copied(part.words, *part.wanted(quantities), columns)

    def _number_of(self, name: str) -> int:
        return list(self._groups).index(name)


def _of_grid(table: Any, begin: int, end: int) -> Any:
    return table[:, begin:end]


def visits_of(
    study: StudyDocument, rows: Table[Visit], extras: Table[VisitExtra], grids: Sequence[Grid] = ()
) -> Survey:
    """Return visits by step."""
    return Survey(rows, {"step": len(study.steps)}, grids, extras)


def extras_of(world: World) -> Table[VisitExtra]:
    """Return what the visits of a replication have besides, one row each; none where all of it is 0."""
    clock = world.clock[0]
    return world.visit_extras[: clock.visits if clock.extras else 0]


def departures_of(study: StudyDocument, rows: Table[Departure], grids: Sequence[Grid] = ()) -> Survey:
    """Return departures by type, stream and outcome."""
    groups = {"type": len(study.case_types), "stream": len(study.streams), "step": len(study.steps)}
    return Survey(rows, groups, grids)


def spans_of(study: StudyDocument, rows: Table[SpanRow]) -> Survey:
    """Return spans by the clock that they are of."""
    return Survey(rows, {"span": len(clocks_of(study))})


def hours_of_week(study: StudyDocument) -> Grid:
    """Return the grid of the hours of the week, from Monday's midnight."""
    return minute_of_week(study), HOUR, HOURS_A_WEEK


def intervals_of_run(study: StudyDocument, world: World) -> Grid:
    """Return the grid of the intervals of the run, or of the week where the run is too long for that."""
    interval = minutes(study.run.interval)
    return first_offset(study, interval), interval, max(1, len(world.series))


def minute_of_week(study: StudyDocument) -> float:
    """Return how many minutes of the week are over when the run starts."""
    start = datetime.fromisoformat(study.start)
    return start.weekday() * DAY + start.hour * HOUR + start.minute + start.second / 60


def first_offset(study: StudyDocument, interval: float) -> float:
    """Return how many minutes of the first interval lie before the run's start."""
    start = datetime.fromisoformat(study.start)
    return (start.hour * 60 + start.minute + start.second / 60) % interval


def _words_of(rows: Rows | Table[VisitExtra]) -> Values:
    """Return rows of the ledger as words, shape (rows, words)."""
    words: Values = np.ascontiguousarray(plain(rows)).view(np.float64)
    return words.reshape(len(rows), rows.dtype.itemsize // _WORD)


@cache
def _place_of(kind: np.dtype[np.void], name: str) -> int:
    """Return which word of a row a field of real numbers is."""
    return _field(kind, name)[1] // _WORD


@cache
def _whole_in(kind: np.dtype[np.void], name: str) -> Field:
    """Return where in a row a field of whole numbers lies."""
    width, place = _field(kind, name)
    return place // _WORD, 8 * (place % _WORD), 8 * width.itemsize


def _field(kind: np.dtype[np.void], name: str) -> tuple[np.dtype[Any], int]:
    fields: dict[str, Any] = dict(kind.fields or {})
    width, place, *_ = fields[name]
    return width, int(place)
