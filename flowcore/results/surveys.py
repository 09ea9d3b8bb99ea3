"""Rows of the ledger, read once: how many there are of each kind, and their waits by when they came."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import cache
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from flowcore.kernel.records.ledger import Departure, SpanRow, Visit, VisitExtra
from flowcore.kernel.records.record import blank, layout
from flowcore.kernel.records.world import Plan, World
from flowcore.kernel.run.worlds import rows_of_series
from flowcore.kernel.summary.columns import Field, copied, grouped, last_by_day, survey
from flowcore.results.arrays import Values, plain
from flowcore.results.catalogue import HOURS_A_WEEK
from flowcore.study import StudyDocument, minutes
from flowcore.study.clocks import clocks_of
from flowcore.study.durations import DAY, HOUR

Rows = NDArray[Any]
"""Rows of the ledger of one kind: visits with their extras, departures or spans."""
Counts = NDArray[np.int64]
Grid = tuple[float, float, int]
"""What is added to a moment, the width of a place in minutes, and how many places there are."""

_WORD = 8
_NO_EXTRAS = plain(blank(VisitExtra, 0))


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


class Surveyor:
    """Reads rows of the ledger of one kind.

    `groups` says for each field by whose whole numbers rows are counted below which number these are. The waits of the
    rows are told for each of the grids, by the first field and by when they came.
    """

    def __init__(self, kind: type, groups: Mapping[str, int], grids: Sequence[Grid] = ()) -> None:
        self.kind, self.groups = layout(kind), groups
        self._fields = np.array([whole_in(self.kind, name) for name in groups], np.int64).reshape(-1, 3)
        self._numbers = np.maximum(1, np.array([*groups.values()], np.int64))
        self._moment = _moment_of(self.kind) if grids else (0, -1)
        self._grids = np.array([grid[:2] for grid in grids], np.float64).reshape(-1, 2)
        self._places = np.array([places for _, _, places in grids], np.int64)
        ends = np.cumsum(self._places).tolist()
        self.stretches = [(end - many, end) for end, many in zip(ends, self._places.tolist(), strict=True)]

    def __call__(self, rows: Rows, extras: Rows = _NO_EXTRAS) -> "Survey":
        """Read rows; `extras` are further fields of the same rows, or none: all 0."""
        words, wait = _words_of(rows), _place_of(self.kind, "wait")
        found = survey(words, self._fields, self._numbers, self._moment, wait, self._grids, self._places)
        return Survey(self, words, found, extras)


class Survey:
    """Rows of the ledger of one kind, read once: how many there are of each number, and their `waits` by each grid."""

    def __init__(self, by: Surveyor, words: Values, found: tuple[Counts, Values, Counts, Counts], extras: Rows) -> None:
        self.words = words
        self._by = by
        self._counts, sums, many, used = found
        self._parts = [_Part(words, by.kind, used)]
        if len(extras):
            more = _words_of(extras)
            self._parts.append(_Part(more, extras.dtype, np.bitwise_or.reduce(more.view(np.int64))))
        self.waits = [Waits(sums[:, begin:end], many[:, begin:end]) for begin, end in by.stretches]

    def counts(self, name: str) -> Counts:
        """Return how many rows there are with each of a field's numbers."""
        groups = self._by.groups
        return self._counts[list(groups).index(name), : max(1, groups[name])]

    def used(self, quantities: Iterable[str]) -> tuple[str, ...]:
        """Return those of some quantities of which not all rows have 0."""
        return tuple(each for each in quantities if any(part.uses(each) for part in self._parts))

    def put_in_order(self, quantities: Sequence[str], name: str, columns: Values) -> Counts:
        """Write quantities of the rows in the order of a field into columns.

        Return where the rows with each of its numbers begin, and where the last end.
        """
        edges = np.concatenate([[0], self.counts(name).cumsum()])
        field = whole_in(self._by.kind, name)
        for part in self._parts:
            wanted, goals = part.wanted(quantities)
            if len(wanted):
                grouped(self.words, field, part.words, wanted, goals, edges, columns)
        return edges

    def last_by_day(self, minute: float) -> Values:
        """Return when the last of those who came on each day left; the run starts at a minute of its first day."""
        moments = _place_of(self._by.kind, "left_at"), _place_of(self._by.kind, "total")
        found: Values = last_by_day(self.words, moments, minute, DAY)
        return found

    def put_as_they_are(self, quantities: Sequence[str], columns: Values) -> None:
        """Write quantities of the rows into columns."""
        for part in self._parts:
            copied(part.words, *part.wanted(quantities), columns)


class Ledgers:
    """Reads the ledgers of a study's worlds: visits by step, departures by type, stream and outcome, spans by clock."""

    def __init__(self, study: StudyDocument, by_step: Sequence[Grid] = (), by_case: Sequence[Grid] = ()) -> None:
        groups = {"type": len(study.case_types), "stream": len(study.streams), "step": len(study.steps)}
        self.visits = Surveyor(Visit, {"step": len(study.steps)}, by_step)
        self.departures = Surveyor(Departure, groups, by_case)
        self.clocks = [each.subject for each in clocks_of(study)]
        self.spans = Surveyor(SpanRow, {"span": len(self.clocks)})

    def __call__(self, world: World) -> "Read":
        """Return what a world at its end has in its ledger."""
        clock = world.clock[0]
        visits, departures, spans = (plain(each) for each in (world.visits, world.departures, world.spans))
        return self.read(
            visits[: clock.visits], extras_of(world), departures[: clock.departures], spans[: clock.span_rows]
        )

    def read(self, visits: Rows, extras: Rows, departures: Rows, spans: Rows) -> "Read":
        """Return what some rows of a ledger say."""
        of_spans = self.spans(spans) if self.clocks else None
        return Read(self.visits(visits, extras), self.departures(departures), of_spans)


class Read(NamedTuple):
    """The rows of one replication, read; no spans where nothing is timed."""

    visits: Survey
    departures: Survey
    spans: Survey | None


def extras_of(world: World) -> Rows:
    """Return what the visits of a replication have besides, one row each; none where all of it is 0."""
    clock = world.clock[0]
    return plain(world.visit_extras)[: clock.visits if clock.extras else 0]


def hours_of_week(study: StudyDocument) -> Grid:
    """Return the grid of the hours of the week, from Monday's midnight."""
    return minute_of_week(study), HOUR, HOURS_A_WEEK


def intervals_of_run(study: StudyDocument, plan: Plan) -> Grid:
    """Return the grid of the intervals of the run, or of the week where the run is too long for that."""
    interval = minutes(study.run.interval)
    return first_offset(study, interval), interval, rows_of_series(plan)


def minute_of_week(study: StudyDocument) -> float:
    """Return how many minutes of the week are over when the run starts."""
    start = datetime.fromisoformat(study.start)
    return start.weekday() * DAY + start.hour * HOUR + start.minute + start.second / 60


def first_offset(study: StudyDocument, interval: float) -> float:
    """Return how many minutes of the first interval lie before the run's start."""
    start = datetime.fromisoformat(study.start)
    return (start.hour * 60 + start.minute + start.second / 60) % interval


def _words_of(rows: Rows) -> Values:
    """Return rows of the ledger as words, shape (rows, words)."""
    words: Values = np.ascontiguousarray(rows).view(np.float64)
    return words.reshape(len(rows), rows.dtype.itemsize // _WORD)


def _moment_of(kind: np.dtype[np.void]) -> tuple[int, int]:
    """Return of which word of a row which other one is taken, or nothing (-1), for when its case came."""
    if "joined_at" in (kind.names or ()):
        return _place_of(kind, "joined_at"), -1
    return _place_of(kind, "left_at"), _place_of(kind, "total")


@cache
def _place_of(kind: np.dtype[np.void], name: str) -> int:
    """Return which word of a row a field of real numbers is."""
    return _field(kind, name)[1] // _WORD


@cache
def whole_in(kind: np.dtype[np.void], name: str) -> Field:
    """Return where in a row a field of whole numbers lies."""
    width, place = _field(kind, name)
    return place // _WORD, 8 * (place % _WORD), 8 * width.itemsize


def _field(kind: np.dtype[np.void], name: str) -> tuple[np.dtype[Any], int]:
    fields: dict[str, Any] = dict(kind.fields or {})
    width, place, *_ = fields[name]
    return width, int(place)
